package problem

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"reflect"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/words"
)

// Parse reads a problem file and checks all that can be checked without knowing
// the procedure. Every error is of type Errors.
func Parse(file []byte) (*Problem, error) {
	p := &Problem{Alpha: DefaultAlpha, Tail: Both}
	if err := Decode(file, p); err != nil {
		return nil, err
	}
	if errs := p.check(); len(errs) > 0 {
		return nil, errs
	}
	return p, nil
}

// ParseVariables reads the variables of a problem file, or of a data set written as
// {"grund": 1, "variables": […]}.
func ParseVariables(file []byte) (Variables, error) {
	var set SetFile
	err := Decode(file, &set)
	if err == nil && set.Grund == Format && set.Variables != nil {
		return set.Variables, nil
	}
	p, problemErr := Parse(file)
	switch {
	case problemErr == nil && p.Data.Variables != nil:
		return p.Data.Variables, nil
	case problemErr == nil:
		return nil, Errors{{"/data", "the problem has a summary or counts and no variables", ""}}
	}
	var mistakes Errors
	if errors.As(err, &mistakes) && strings.HasPrefix(mistakes[0].Pointer, "/variables") {
		return nil, err
	}
	return nil, problemErr
}

// IsObject reports whether a file is JSON that begins with an object.
func IsObject(file []byte) bool {
	return bytes.HasPrefix(bytes.TrimSpace(bytes.TrimPrefix(file[:min(len(file), 1000)], []byte("\ufeff"))), []byte("{"))
}

// Decode reads JSON into v as strictly as a problem file is read. Every error is
// of type Errors.
func Decode(file []byte, v any) error {
	file = bytes.TrimPrefix(file, []byte("\ufeff")) // a byte order mark, as some editors write
	if err := json.Unmarshal(file, v, decoding); err != nil {
		return Errors{explain(file, err)}
	}
	return nil
}

// RefuseNUL refuses JSON with a NUL character in a text, which cannot be kept. What is no JSON is
// left to Decode.
func RefuseNUL(file []byte) error {
	if !bytes.Contains(file, []byte(`\u0000`)) {
		return nil
	}
	d := jsontext.NewDecoder(bytes.NewReader(file))
	for {
		token, err := d.ReadToken()
		if err != nil {
			return nil
		}
		if token.Kind() == '"' && strings.ContainsRune(token.String(), 0) {
			return Errors{{Pointer: string(d.StackPointer()), Says: "the text holds a NUL character", Instead: "remove it"}}
		}
	}
}

// Encode returns the problem file of p.
func Encode(p *Problem) ([]byte, error) {
	out, err := json.Marshal(p, json.Deterministic(true), jsontext.WithIndent("  "))
	if err != nil {
		return nil, fmt.Errorf("encoding the problem file: %w", err)
	}
	return append(out, '\n'), nil
}

// decoding refuses fields that do not exist, and null where a value belongs:
// the package would take it for zero.
var decoding = json.JoinOptions(
	json.RejectUnknownMembers(true),
	json.WithUnmarshalers(json.JoinUnmarshalers(
		json.UnmarshalFromFunc(func(d *jsontext.Decoder, _ *float64) error { return refuseNull(d) }),
		json.UnmarshalFromFunc(func(d *jsontext.Decoder, _ *int) error { return refuseNull(d) }),
		json.UnmarshalFromFunc(func(d *jsontext.Decoder, _ *string) error { return refuseNull(d) }),
	)),
)

func refuseNull(d *jsontext.Decoder) error {
	if d.PeekKind() == 'n' {
		return errNull
	}
	return errors.ErrUnsupported // goes on to the usual decoding
}

var errNull = errors.New("null stands where a value belongs")

// UnmarshalJSONFrom takes a name or a list of names.
func (n *Names) UnmarshalJSONFrom(d *jsontext.Decoder) error {
	if d.PeekKind() == '"' {
		token, err := d.ReadToken()
		if err != nil {
			return err
		}
		*n = Names{token.String()}
		return nil
	}
	var list []string
	if err := json.UnmarshalDecode(d, &list); err != nil {
		return err
	}
	*n = list
	return nil
}

// MarshalJSONTo writes one name as itself.
func (n Names) MarshalJSONTo(e *jsontext.Encoder) error {
	if len(n) == 1 {
		return e.WriteToken(jsontext.String(n[0]))
	}
	return json.MarshalEncode(e, []string(n))
}

// explain turns an error of the decoder into one that a person can act on.
func explain(file []byte, err error) Error {
	var mistake Error
	if errors.As(err, &mistake) {
		return mistake
	}
	var syntactic *jsontext.SyntacticError
	if errors.As(err, &syntactic) {
		return explainSyntax(file, syntactic)
	}
	var semantic *json.SemanticError
	if errors.As(err, &semantic) {
		return explainMeaning(semantic)
	}
	return Error{"", "the file cannot be read: " + err.Error(), ""}
}

func explainSyntax(file []byte, err *jsontext.SyntacticError) Error {
	pointer := string(err.JSONPointer)
	before := file[:min(max(0, err.ByteOffset), int64(len(file)))]
	line := 1 + bytes.Count(before, []byte("\n"))
	column := len(before) - bytes.LastIndexByte(before, '\n')
	place := fmt.Sprintf("line %d, column %d", line, column)
	switch {
	case errors.Is(err, jsontext.ErrDuplicateName):
		return Error{pointer, "this field is given twice (" + place + ")", "keep one of the two"}
	case len(bytes.TrimSpace(file)) == 0:
		return Error{"", "the file is empty", `a problem file starts with {"grund": 1, …}`}
	case strings.Contains(err.Error(), "UTF-8"):
		return Error{pointer, "the text is not valid UTF-8 (" + place + ")", "save the file as UTF-8"}
	case strings.Contains(err.Error(), "depth"):
		return Error{"", "lists and objects are nested too deeply (" + place + ")", "a problem file needs no more than six levels"}
	case int(err.ByteOffset) >= len(bytes.TrimRight(file, " \t\r\n")):
		return Error{"", "the file ends in the middle of something", "check that every { and [ is closed"}
	}
	reason := "this is not JSON"
	if err.Err != nil {
		reason += " (" + strings.TrimPrefix(err.Err.Error(), "jsontext: ") + ")"
	}
	return Error{pointer, reason + " at " + place, "check commas, quotation marks and brackets just before it"}
}

func explainMeaning(err *json.SemanticError) Error {
	pointer := string(err.JSONPointer)
	name := err.JSONPointer.LastToken()
	switch {
	case errors.Is(err, json.ErrUnknownName):
		return unknownField(pointer, name, err.GoType)
	case errors.Is(err, errNull):
		return Error{pointer, "null stands where a value belongs", "leave the field out to get its default"}
	case errors.Is(err, strconv.ErrRange) || errors.Is(err, strconv.ErrSyntax):
		if err.GoType != nil && err.GoType.Kind() == reflect.Int {
			return Error{pointer, "this must be a whole number, not " + words.Shorten(string(err.JSONValue)), ""}
		}
		return Error{pointer, "the number " + words.Shorten(string(err.JSONValue)) + " is too large to calculate with",
			"the largest is about 1.8e308"}
	}
	if pointer == "" {
		return Error{"", "a problem file is one JSON object, not " + kindName(err.JSONKind), `it starts with {"grund": 1, …}`}
	}
	return Error{pointer, fmt.Sprintf("this must be %s, not %s", wanted(err.GoType), kindName(err.JSONKind)), ""}
}

func unknownField(pointer, name string, parent reflect.Type) Error {
	var known []string
	for parent != nil && parent.Kind() == reflect.Pointer {
		parent = parent.Elem()
	}
	if parent != nil && parent.Kind() == reflect.Struct {
		for i := range parent.NumField() {
			tag, _, _ := strings.Cut(parent.Field(i).Tag.Get("json"), ",")
			known = append(known, tag)
		}
	}
	return Unknown(pointer, "field", name, known)
}

// Unknown says that there is no such thing and what there is.
func Unknown(pointer, thing, name string, known []string) Error {
	instead := "known here: " + words.Quoted(known, "and")
	if nearest := Nearest(name, known); nearest != "" {
		instead = "did you mean “" + nearest + "”?"
	}
	return Error{pointer, "there is no " + thing + " “" + words.Shorten(name) + "”", instead}
}

func wanted(t reflect.Type) string {
	if t == nil {
		return "something else"
	}
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	switch t.Kind() {
	case reflect.Float64:
		return "a number"
	case reflect.Int:
		return "a whole number"
	case reflect.String:
		return "text in quotation marks"
	case reflect.Slice:
		return "a list in [ ]"
	default:
		return "an object in { }"
	}
}

func kindName(kind jsontext.Kind) string {
	switch kind {
	case 'n':
		return "null"
	case 't', 'f':
		return "true or false"
	case '"':
		return "text"
	case '0':
		return "a number"
	case '[':
		return "a list"
	case '{':
		return "an object"
	}
	return "something else"
}

// check returns every mistake that does not depend on the procedure.
func (p *Problem) check() Errors {
	var errs Errors
	if p.Grund != Format {
		errs.Add("/grund", "the version of the file is missing or unknown", `write "grund": 1`)
	}
	if p.Procedure == "" {
		errs.Add("/procedure", "the procedure is missing", `write for example "procedure": "t-two-sample"`)
	}
	if !(p.Alpha > 0 && p.Alpha < 1) {
		errs.Add("/alpha", fmt.Sprintf("alpha is %v", p.Alpha), "it must lie between 0 and 1, both excluded, as 0.05 does")
	}
	if c := p.Confidence; c != nil && !(*c > 0 && *c < 1) {
		errs.Add("/confidence", fmt.Sprintf("confidence is %v", *c), "it must lie between 0 and 1, both excluded, as 0.95 does")
	}
	if p.Tail != Both && p.Tail != Left && p.Tail != Right {
		errs.Add("/tail", "tail is “"+words.Shorten(string(p.Tail))+"”", "it must be “both”, “left” or “right”")
	}
	p.Decimals.check(&errs)
	if p.Digits != nil && (*p.Digits < 1 || *p.Digits > MostDigits) {
		errs.Add("/digits", fmt.Sprintf("digits is %d", *p.Digits), fmt.Sprintf("it must be a whole number from 1 to %d", MostDigits))
	}
	p.Try.check(&errs)
	p.checkNotes(&errs)
	if p.Claim != nil {
		p.Claim.check(p.Tail, &errs)
	}
	before := len(errs)
	if p.checkSizes(&errs); len(errs) > before {
		return errs.few() // what is too large is not looked at further
	}
	p.Data.check(&errs)
	p.checkLeaveOut(&errs)
	p.checkPictures(&errs)
	return errs.few()
}

func (d *Data) check(errs *Errors) {
	var given []string
	if d.Variables != nil {
		given = append(given, "variables")
		d.Variables.check(errs)
	}
	if d.Summary != nil {
		given = append(given, "summary")
		d.Summary.check(errs)
	}
	if d.Counts != nil {
		given = append(given, "counts")
		d.Counts.check(errs)
	}
	switch len(given) {
	case 0:
		errs.Add("/data", "there are no data", "give “variables”, “summary” or “counts”")
	case 1:
	default:
		errs.Add("/data", words.Quoted(given, "and")+" are given at once", "keep one of them")
	}
}

func (vs Variables) check(errs *Errors) {
	if len(vs) == 0 {
		errs.Add("/data/variables", "there are no variables", "give at least one")
	}
	seen := make(map[string]int, len(vs))
	for i, v := range vs {
		at := Pointer("data", "variables", i, "name")
		if before, twice := seen[v.Name]; twice {
			errs.Add(at, fmt.Sprintf("“%s” is the name of variable %d too", words.Shorten(v.Name), before+1), "give each variable a name of its own")
		}
		seen[v.Name] = i
		if v.Len() != vs[0].Len() {
			errs.Add(Pointer("data", "variables", i, "values"),
				fmt.Sprintf("“%s” has %d cells and “%s” has %d", words.Shorten(v.Name), v.Len(), words.Shorten(vs[0].Name), vs[0].Len()),
				"give every variable a cell for every case, null where it is missing")
		}
		if len(*errs) > 20 {
			return
		}
	}
}

func (s *Summary) check(errs *Errors) {
	if len(s.Groups) == 0 {
		errs.Add("/data/summary/groups", "there are no groups", `give for example [{"label": "Mole", "n": 18, "mean": 12.38, "sd": 0.67}]`)
	}
	seen := map[string]int{}
	for i, g := range s.Groups {
		at := func(field string) string { return Pointer("data", "summary", "groups", i, field) }
		if before, twice := seen[g.Label]; twice && g.Label != "" {
			errs.Add(at("label"), fmt.Sprintf("“%s” is the label of group %d too", words.Shorten(g.Label), before+1),
				"give each group a label of its own")
		}
		seen[g.Label] = i
		if !(g.N >= 1 && g.N <= 1e15 && g.N == math.Trunc(g.N)) {
			errs.Add(at("n"), fmt.Sprintf("n is %v", g.N), "it must be a whole number of cases, 1 or more")
		}
		if g.SD != nil && *g.SD < 0 {
			errs.Add(at("sd"), fmt.Sprintf("the standard deviation is %v", *g.SD), "it cannot be negative")
		}
		if len(*errs) > 20 {
			return
		}
	}
}

func (c *Counts) check(errs *Errors) {
	oneWay := c.Categories != nil || c.Boundaries != nil || c.Observed != nil || c.Variable != nil
	twoWay := c.Rows != nil || c.Columns != nil || c.Cells != nil || c.RowVariable != nil || c.ColumnVariable != nil
	switch {
	case oneWay && twoWay:
		errs.Add("/data/counts", "counts of one variable and a table of two are mixed",
			"give “observed” with “categories” or “boundaries”, or “rows”, “columns” and “cells”")
	case twoWay:
		c.checkTable(errs)
	default:
		c.checkOneWay(errs)
	}
}

func (c *Counts) checkOneWay(errs *Errors) {
	at := "/data/counts/observed"
	switch {
	case c.Observed == nil:
		errs.Add(at, "the observed counts are missing", "give “observed”, or “rows”, “columns” and “cells” for a table")
	case c.Categories != nil && c.Boundaries != nil:
		errs.Add("/data/counts", "both categories and boundaries are given", "give one of the two")
	case c.Categories == nil && c.Boundaries == nil:
		errs.Add("/data/counts/categories", "it is not said what was counted", "give “categories”, or “boundaries” of classes")
	case c.Categories != nil && len(c.Categories) != len(c.Observed):
		errs.Add(at, fmt.Sprintf("there are %d counts and %d categories", len(c.Observed), len(c.Categories)), "give a count for each category")
	case c.Boundaries != nil && len(c.Boundaries) != len(c.Observed)+1:
		errs.Add(at, fmt.Sprintf("there are %d counts and %d boundaries", len(c.Observed), len(c.Boundaries)),
			"give one boundary more than there are counts")
	}
	checkLabels(c.Categories, "/data/counts/categories", errs)
	for i := 1; i < len(c.Boundaries); i++ {
		if !(c.Boundaries[i] > c.Boundaries[i-1]) {
			errs.Add(Pointer("data", "counts", "boundaries", i), "the boundaries do not increase", "give each above the one before")
		}
	}
	for i, count := range c.Observed {
		checkCount(count, Pointer("data", "counts", "observed", i), errs)
	}
}

func (c *Counts) checkTable(errs *Errors) {
	if len(c.Rows) == 0 || len(c.Columns) == 0 {
		errs.Add("/data/counts/cells", "the table has no rows or no columns", "give “rows”, “columns” and “cells”")
	}
	checkLabels(c.Rows, "/data/counts/rows", errs)
	checkLabels(c.Columns, "/data/counts/columns", errs)
	if len(c.Cells) != len(c.Rows) {
		errs.Add("/data/counts/cells", fmt.Sprintf("there are %d rows of cells and %d row labels", len(c.Cells), len(c.Rows)),
			"give a row of cells for each label")
	}
	for i, row := range c.Cells {
		if len(row) != len(c.Columns) {
			errs.Add(Pointer("data", "counts", "cells", i), fmt.Sprintf("there are %d cells and %d column labels", len(row), len(c.Columns)),
				"give a cell for each column label")
		}
		for j, count := range row {
			checkCount(count, Pointer("data", "counts", "cells", i, j), errs)
		}
	}
}

// checkLabels refuses a label that stands twice.
func checkLabels(labels []string, at string, errs *Errors) {
	seen := map[string]bool{}
	for i, label := range labels {
		if seen[label] {
			errs.Add(at+"/"+strconv.Itoa(i), "“"+words.Shorten(label)+"” is listed twice", "list it once")
		}
		seen[label] = true
	}
}

func checkCount(count float64, at string, errs *Errors) {
	switch {
	case !(count >= 0) || count != math.Trunc(count):
		errs.Add(at, "the count is "+data.FormatNumber(count), "a count is a whole number, at least 0")
	case count > 1e15:
		errs.Add(at, "the count is "+data.FormatNumber(count), "a count is at most 10 to the 15")
	}
}

func (p *Problem) checkLeaveOut(errs *Errors) {
	if len(p.LeaveOut) == 0 {
		return
	}
	if len(p.Data.Variables) == 0 {
		errs.Add("/leave_out", "there are no cases that could be left out of a summary or of counts", "remove it")
		return
	}
	cases := p.Data.Variables[0].Len()
	seen := map[int]bool{}
	for i, left := range p.LeaveOut {
		at := Pointer("leave_out", i, "case")
		if left.Case < 1 || left.Case > cases {
			errs.Add(at, fmt.Sprintf("there is no case %d", left.Case), fmt.Sprintf("the cases are numbered from 1 to %d", cases))
		}
		if seen[left.Case] {
			errs.Add(at, fmt.Sprintf("case %d is left out twice", left.Case), "name it once")
		}
		seen[left.Case] = true
		if len(*errs) > 20 {
			return
		}
	}
}
