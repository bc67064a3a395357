// Command typegen writes the TypeScript types of everything that the HTTP
// interface sends and takes, from the Go types, by reflection:
//
//	go run ./cmd/typegen > web/src/api/types.ts
//
// A struct becomes an interface, a string type with constants a union of their
// values, working.Block a union of its kinds, working.Number number | null.
package main

import (
	"bufio"
	"encoding"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"log"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/answer"
	"grund/internal/classroom"
	"grund/internal/exchange"
	"grund/internal/look"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/describe"
	"grund/internal/server"
	"grund/internal/working"
)

// roots are the types that cross the wire; all others are found from them.
var roots = []any{
	working.Solution{}, describe.Description{},
	server.Listing{}, server.Coming{}, server.Brought{}, server.Problem{}, server.PutRequest{}, server.Saved{}, server.SettingsRequest{},
	server.WorkRequest{}, server.Worked{}, server.Settled{}, exchange.Failure{}, server.CreateRequest{},
	server.DataListing{}, server.KeptSet{}, server.DataPatch{}, server.DataSaved{}, server.DataCheck{}, server.CellsPart{}, server.Space{},
	server.PreviewRequest{}, server.Preview{}, server.ReshapeRequest{}, server.Reading{},
	server.SimulationRequest{}, working.Simulation{}, server.PowerRequest{}, working.Power{}, server.GuideRequest{}, procedure.Suggestion{},
	problem.Picture{}, look.Look{}, server.TrySheet{}, server.TryRequest{}, server.VaryRequest{}, server.PrintedTable{}, answer.AskList{},
	server.ReportListing{}, server.LabReport{}, server.ReportRequest{}, server.KeepRequest{}, server.KeptForReport{},
	people.Me{}, people.SignInRequest{}, people.KeepAccountRequest{}, people.AccountView{}, people.AccountRequest{},
	people.DeleteAccountRequest{}, people.PersonListing{}, people.RoleRequest{}, people.OneTimeLink{}, people.LinkView{},
	people.LinkRequest{}, people.MachineView{},
	classroom.ClassList{}, classroom.NewClassRequest{}, classroom.ClassRequest{}, classroom.JoinRequest{}, classroom.MemberView{},
	classroom.RosterRequest{}, classroom.RosterPreview{}, classroom.WelcomeView{}, classroom.DeedView{}, classroom.SetListing{},
	classroom.NewSetRequest{}, classroom.SetView{}, classroom.SetRequest{}, classroom.CopySetRequest{}, classroom.VariantsView{},
	classroom.JudgedAgain{}, classroom.KeysView{},
	classroom.DrawRequest{}, classroom.Standings{}, classroom.MarksView{}, classroom.WorkView{}, classroom.SetProblem{}, classroom.SetSheet{},
	classroom.SetTryRequest{}, classroom.SetSolution{}, classroom.RemarkRequest{}, classroom.PollView{}, classroom.OpenPollRequest{},
	classroom.LastPoll{}, classroom.PollListing{}, classroom.PollRequest{}, classroom.PollAnswerRequest{},
	server.ShareLink{}, server.SharedThing{}, server.CopiedThing{}, server.SharedTryRequest{},
}

func main() {
	log.SetFlags(0)
	out := bufio.NewWriter(os.Stdout)
	if err := generate(out, "."); err != nil {
		log.Fatal("typegen: ", err)
	}
	if err := out.Flush(); err != nil {
		log.Fatal("typegen: ", err)
	}
}

// generate writes the types; root is the module's folder, whose source holds the
// constants.
func generate(out io.Writer, root string) error {
	g := &generator{names: map[reflect.Type]string{}, written: map[string]string{}}
	var err error
	if g.constants, err = stringConstants(filepath.Join(root, "internal")); err != nil {
		return err
	}
	for _, r := range roots {
		g.typeOf(reflect.TypeOf(r))
	}
	fmt.Fprintln(out, "// Written by cmd/typegen from the Go types. Do not edit.")
	for _, name := range slices.Sorted(mapKeys(g.written)) {
		fmt.Fprintf(out, "\n%s", g.written[name])
	}
	return nil
}

func mapKeys(m map[string]string) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

type generator struct {
	names     map[reflect.Type]string
	written   map[string]string   // declaration by name
	constants map[string][]string // values by "package.Type"
}

var (
	blockType   = reflect.TypeFor[working.Block]()
	numberType  = reflect.TypeFor[working.Number]()
	rawType     = reflect.TypeFor[jsontext.Value]()
	timeType    = reflect.TypeFor[time.Time]()
	namesType   = reflect.TypeFor[problem.Names]()
	decimals    = reflect.TypeFor[problem.Decimals]()
	tableType   = reflect.TypeFor[working.Table]()
	textMarshal = reflect.TypeFor[encoding.TextMarshaler]()
)

// typeOf returns the TypeScript type of t, and declares what it names.
func (g *generator) typeOf(t reflect.Type) string {
	switch t {
	case numberType:
		return "number | null"
	case rawType:
		return "unknown"
	case timeType:
		return "string"
	case namesType:
		return "string | string[]"
	case blockType:
		return g.blocks()
	case decimals: // one number stands for all kinds
		return "number | " + g.declare(t, func(name string) string { return g.structure(name, t) })
	}
	switch t.Kind() {
	case reflect.Pointer:
		return g.typeOf(t.Elem())
	case reflect.Bool:
		return "boolean"
	case reflect.Int, reflect.Int64, reflect.Uint64, reflect.Float64:
		return "number"
	case reflect.String:
		if values := g.constants[t.String()]; len(values) > 0 {
			return g.declare(t, func(name string) string {
				return fmt.Sprintf("export type %s = %s;\n", name, strings.Join(quoted(values), " | "))
			})
		}
		return "string"
	case reflect.Slice:
		element := g.typeOf(t.Elem())
		if strings.ContainsAny(element, "|") {
			element = "(" + element + ")"
		}
		return element + "[]"
	case reflect.Array: // an id
		if t.Implements(textMarshal) {
			return "string"
		}
	case reflect.Map:
		return "Record<string, " + g.typeOf(t.Elem()) + ">"
	case reflect.Interface:
		return "unknown"
	case reflect.Struct:
		if t.NumField() == 0 && t.Implements(textMarshal) {
			text, _ := reflect.Zero(t).Interface().(encoding.TextMarshaler).MarshalText()
			return fmt.Sprintf("%q", text)
		}
		return g.declare(t, func(name string) string { return g.structure(name, t) })
	}
	panic("typegen: no TypeScript for " + t.String())
}

func quoted(values []string) []string {
	out := make([]string, len(values))
	for i, v := range values {
		out[i] = fmt.Sprintf("%q", v)
	}
	return out
}

// globals are names that mean something else in TypeScript.
var globals = []string{"Error", "Set", "Map", "Date", "Number", "Text"}

// declare declares t once, under its name or, where that is taken or means
// something else in TypeScript, under the package's and its name.
func (g *generator) declare(t reflect.Type, declaration func(name string) string) string {
	if name, ok := g.names[t]; ok {
		return name
	}
	name := t.Name()
	if _, taken := g.written[name]; taken || slices.Contains(globals, name) {
		pkg := filepath.Base(t.PkgPath())
		name = strings.ToUpper(pkg[:1]) + pkg[1:] + name
	}
	g.names[t] = name
	g.written[name] = "" // taken from here on
	g.written[name] = declaration(name)
	return name
}

func (g *generator) structure(name string, t reflect.Type) string {
	var b strings.Builder
	fmt.Fprintf(&b, "export interface %s {\n", name)
	g.fields(&b, t)
	if t == tableType { // its way of writing itself adds these
		b.WriteString("  rows: Record<string, string | number | null>[];\n  shown: string[][];\n  refs?: string[][];\n")
	}
	b.WriteString("}\n")
	return b.String()
}

// fields writes the fields of a structure; those of an embedded one stand among them.
func (g *generator) fields(b *strings.Builder, t reflect.Type) {
	for i := range t.NumField() {
		if embedded := t.Field(i).Type; t.Field(i).Anonymous {
			if embedded.Kind() == reflect.Pointer {
				embedded = embedded.Elem()
			}
			g.fields(b, embedded)
			continue
		}
		tag := t.Field(i).Tag.Get("json")
		field, options, _ := strings.Cut(tag, ",")
		if field == "" || field == "-" {
			continue
		}
		optional := ""
		if strings.Contains(options, "omit") {
			optional = "?"
		}
		kind := g.typeOf(t.Field(i).Type)
		if t.Field(i).Type.Kind() == reflect.Pointer && optional == "" {
			kind += " | null"
		}
		fmt.Fprintf(b, "  %s%s: %s;\n", field, optional, kind)
	}
}

// blocks declares the union of all kinds of block.
func (g *generator) blocks() string {
	return g.declare(blockType, func(name string) string {
		var kinds []string
		for _, b := range working.Blocks {
			kinds = append(kinds, g.typeOf(reflect.TypeOf(b)))
		}
		return fmt.Sprintf("export type %s =\n  | %s;\n", name, strings.Join(kinds, "\n  | "))
	})
}

// stringConstants returns the values of the typed string constants below dir, by
// "package.Type", in the order of the source.
func stringConstants(dir string) (map[string][]string, error) {
	values := map[string][]string{}
	err := filepath.WalkDir(dir, func(path string, entry os.DirEntry, err error) error {
		if err != nil || entry.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.SkipObjectResolution)
		if err != nil {
			return err
		}
		for _, declaration := range file.Decls {
			group, ok := declaration.(*ast.GenDecl)
			if !ok || group.Tok != token.CONST {
				continue
			}
			for _, spec := range group.Specs {
				value := spec.(*ast.ValueSpec)
				kind, ok := value.Type.(*ast.Ident)
				if !ok || len(value.Values) != 1 {
					continue
				}
				if literal, ok := value.Values[0].(*ast.BasicLit); ok && literal.Kind == token.STRING {
					key := file.Name.Name + "." + kind.Name
					values[key] = append(values[key], strings.Trim(literal.Value, `"`))
				}
			}
		}
		return nil
	})
	return values, err
}
