package data

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/expr-lang/expr"
	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/conf"
	"github.com/expr-lang/expr/parser"
	"github.com/expr-lang/expr/vm"
)

// A Formula computes a value for each case from the columns of a data set:
// outbound - homebound, minutes > 12 ? "late" : "on time", log(fuel),
// (fuel - mean(fuel)) / sd(fuel), rank(minutes). Columns stand in it by their
// names, spaces included; a category's value is the name of its level. A case with
// a missing value in any column that the formula names has none.
type Formula struct {
	program *vm.Program
	inputs  []formulaInput
	rows    int
	nodes   int  // how many numbers, names, signs and functions it has
	exact   bool // only sums, differences and products: decimals in, decimals out
}

// formulaInput is a column, or a function of a whole column, as the program knows it.
type formulaInput struct {
	name    string
	numbers []float64 // NaN where missing
	texts   []string  // of a category; "" where missing
}

// A FormulaError says what is wrong with a formula, and where.
type FormulaError struct {
	At   int // the place in the formula, in characters from 0
	Says string
}

func (e *FormulaError) Error() string { return e.Says }

// caseFunctions work on a single number.
var caseFunctions = map[string]func(float64) float64{
	"log": math.Log, "log10": math.Log10, "exp": math.Exp, "sqrt": math.Sqrt, "abs": math.Abs, "round": math.Round,
}

// columnFunctions work on all numbers of a column. The numbers that are not
// missing go in, and a value for each comes out.
var columnFunctions = map[string]func([]float64) []float64{
	"rank": ranks, "standardise": standardised,
	"mean": same(mean), "sd": same(sd), "median": same(medianOf), "lowest": same(slices.Min[[]float64]),
	"highest": same(slices.Max[[]float64]),
}

// FormulaFunctions returns the names of the functions that a formula may use.
func FormulaFunctions() []string {
	var names []string
	for name := range caseFunctions {
		names = append(names, name)
	}
	for name := range columnFunctions {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// How long a formula may be.
const (
	MaxFormula = 2_000 // characters
	mostNodes  = 500   // numbers, names, signs and functions
)

// Compile makes a formula ready for the columns of the data set. Derived columns
// must have their cells already. The error is a *FormulaError.
func (s *Set) Compile(text string) (*Formula, error) {
	if strings.TrimSpace(text) == "" {
		return nil, &FormulaError{0, "the formula is empty"}
	}
	if n := utf8.RuneCountInString(text); n > MaxFormula {
		return nil, &FormulaError{MaxFormula, fmt.Sprintf("the formula has %d characters; keep to %d, and derive a column on the way", n,
			MaxFormula)}
	}
	r := rewrite(text, s.names(nil))
	fail := func(err error) error { return r.explain(err, s.names(nil)) }
	if strings.Contains(strings.ReplaceAll(r.signs, "||", ""), "|") { // hands a value to a function, elsewhere
		return nil, &FormulaError{0, "“|” has no meaning in a formula"}
	}
	reading := conf.CreateNew()
	reading.DisableIfOperator, reading.MaxNodes = true, 0
	tree, err := parser.ParseWithConfig(r.text, reading)
	if err != nil {
		return nil, fail(err)
	}
	language := &plainLanguage{rewritten: r}
	language.check(tree.Node)
	if language.err != nil {
		return nil, language.err
	}
	f := &Formula{rows: s.Rows(), nodes: language.nodes}
	for at, name := range r.used {
		c := s.Find(name)
		v, _ := c.variable(f.rows)
		f.add(fmt.Sprintf("column_%d", at), v)
	}
	lifter := &columnLifter{formula: f, rewritten: r}
	root := tree.Node
	ast.Walk(&root, lifter)
	if lifter.err != nil {
		return nil, lifter.err
	}
	f.exact = f.isExact(root)
	f.program, err = f.compile(root.String())
	if err != nil {
		// The tree's own text has other places; the formula as written tells them.
		if _, again := f.compile(r.text); again != nil {
			err = again
		}
		return nil, fail(err)
	}
	return f, nil
}

func (f *Formula) add(alias string, v *Variable) {
	input := formulaInput{name: alias, numbers: v.Numbers}
	if v.Kind != Number {
		input.texts = make([]string, v.Len())
		for i, code := range v.Codes {
			if code >= 0 {
				input.texts[i] = v.Levels[code].Name
			}
		}
	}
	f.inputs = append(f.inputs, input)
}

func (f *Formula) compile(text string) (*vm.Program, error) {
	env := map[string]any{}
	for _, input := range f.inputs {
		if input.texts != nil {
			env[input.name] = ""
		} else {
			env[input.name] = 0.0
		}
	}
	options := []expr.Option{expr.Env(env), expr.DisableAllBuiltins()}
	for name, function := range caseFunctions {
		options = append(options,
			expr.Function(name, func(x ...any) (any, error) { return function(toFloat(x[0])), nil }, new(func(float64) float64),
				new(func(int) float64)))
	}
	return expr.Compile(text, options...)
}

func toFloat(x any) float64 {
	switch x := x.(type) {
	case float64:
		return x
	case int:
		return float64(x)
	}
	return math.NaN()
}

// values runs the program for each case. A value is nil where something is missing.
func (f *Formula) values() ([]any, error) {
	out := make([]any, f.rows)
	env := make(map[string]any, len(f.inputs))
	for i := range out {
		missing := false
		for _, input := range f.inputs {
			if input.texts != nil {
				missing = missing || input.texts[i] == ""
				env[input.name] = input.texts[i]
			} else {
				missing = missing || math.IsNaN(input.numbers[i])
				env[input.name] = input.numbers[i]
			}
		}
		if missing {
			continue
		}
		value, err := expr.Run(f.program, env)
		if err != nil {
			return nil, &FormulaError{0, fmt.Sprintf("the formula fails in row %d", i+1)}
		}
		if f.exact {
			value = f.asDecimals(toFloat(value), i)
		}
		out[i] = value
	}
	return out, nil
}

// mostText is how many bytes of text the cells of a derived column may hold.
const mostText = 50_000_000

// Cells returns the formula's value for each case as a cell: a number, a text, yes
// or no; blank where something is missing or a number does not exist, as the
// logarithm of zero.
func (f *Formula) Cells() ([]string, error) {
	values, err := f.values()
	if err != nil {
		return nil, err
	}
	cells := make([]string, len(values))
	numbers, others, texts := 0, 0, 0
	for i, value := range values {
		switch value := value.(type) {
		case nil:
			continue
		case string:
			if utf8.RuneCountInString(value) > MaxCell {
				return nil, &FormulaError{0, fmt.Sprintf("row %d would hold a text of %d characters, more than the %d that a cell may have", i+1,
					utf8.RuneCountInString(value), MaxCell)}
			}
			if texts += len(value); texts > mostText {
				return nil, &FormulaError{0, fmt.Sprintf("the formula makes more than %d MB of text", mostText/1_000_000)}
			}
			cells[i] = value
			others++
		case bool:
			cells[i] = "no"
			if value {
				cells[i] = "yes"
			}
			others++
		default:
			x := toFloat(value)
			numbers++
			if math.IsNaN(x) || math.IsInf(x, 0) {
				continue
			}
			cells[i] = FormatNumber(x)
		}
	}
	if numbers > 0 && others > 0 {
		return nil, &FormulaError{0, "the formula gives a number for some cases and a word for others"}
	}
	return cells, nil
}

// asDecimals rounds a sum, difference or product of decimals to the decimals that
// it would have on paper: 5.3 − 5.1 is 0.2, as 2.3 − 2.1 is.
func (f *Formula) asDecimals(x float64, row int) float64 {
	largest := math.Abs(x)
	for _, input := range f.inputs {
		largest = math.Max(largest, math.Abs(input.numbers[row]))
	}
	if largest == 0 || math.IsInf(largest, 0) {
		return x
	}
	places := 13 - int(math.Floor(math.Log10(largest)))
	if places < 0 || places > 15 {
		return x
	}
	unit := math.Pow10(places)
	return math.Round(x*unit) / unit
}

// True returns the cases, from 0, for which a formula that is a condition holds.
func (f *Formula) True() ([]int, error) {
	values, err := f.values()
	if err != nil {
		return nil, err
	}
	var cases []int
	for i, value := range values {
		switch value := value.(type) {
		case nil:
		case bool:
			if value {
				cases = append(cases, i)
			}
		default:
			return nil, &FormulaError{0, "this is no condition; compare something, as in minutes > 12"}
		}
	}
	return cases, nil
}

// plainLanguage refuses what is not part of formulas, though the package that reads them knows it:
// numbers, texts, columns, + − * / % ^, comparisons, and, or, not, ? : and functions are.
type plainLanguage struct {
	rewritten rewritten
	nodes     int
	err       error
}

// operators are those that stand between two values.
var operators = []string{"+", "-", "*", "/", "%", "^", "**", "==", "!=", "<", "<=", ">", ">=", "and", "&&", "or", "||"}

func (l *plainLanguage) check(node ast.Node) {
	if l.nodes++; l.err != nil {
		return
	}
	at := l.rewritten.place(node.Location().From)
	if l.nodes > mostNodes {
		l.err = &FormulaError{at, fmt.Sprintf("the formula has more than %d numbers, names and signs; derive a column on the way", mostNodes)}
		return
	}
	var inside []ast.Node
	switch n := node.(type) {
	case *ast.IntegerNode, *ast.FloatNode, *ast.StringNode, *ast.BoolNode:
	case *ast.IdentifierNode:
		if strings.HasPrefix(n.Value, "$") {
			l.err = &FormulaError{at, "this has no meaning in a formula"}
		}
	case *ast.UnaryNode:
		inside = []ast.Node{n.Node}
	case *ast.BinaryNode:
		if !slices.Contains(operators, n.Operator) {
			l.err = &FormulaError{at, fmt.Sprintf("“%s” has no meaning in a formula", n.Operator)}
			return
		}
		inside = []ast.Node{n.Left, n.Right}
	case *ast.ConditionalNode:
		inside = []ast.Node{n.Cond, n.Exp1, n.Exp2}
	case *ast.BuiltinNode:
		if columnFunctions[n.Name] != nil || caseFunctions[n.Name] != nil { // the lifter refuses the others
			inside = n.Arguments
		}
	case *ast.CallNode:
		if _, named := n.Callee.(*ast.IdentifierNode); !named {
			l.err = &FormulaError{at, "this has no meaning in a formula"}
			return
		}
		inside = n.Arguments
	default:
		l.err = &FormulaError{at, "this has no meaning in a formula: there are columns, numbers, words in quotation marks, signs and functions"}
	}
	for _, node := range inside {
		l.check(node)
	}
}

// isExact reports whether nothing but columns of numbers and their sums, differences
// and products stand in the formula.
func (f *Formula) isExact(root ast.Node) bool {
	w := &plainWalker{formula: f}
	ast.Walk(&root, w)
	return !w.other
}

// plainWalker notes whether a formula holds anything but sums and products.
type plainWalker struct {
	formula *Formula
	other   bool
}

// Visit is called for each node.
func (w *plainWalker) Visit(node *ast.Node) {
	switch n := (*node).(type) {
	case *ast.BinaryNode:
		w.other = w.other || !slices.Contains([]string{"+", "-", "*"}, n.Operator)
	case *ast.UnaryNode:
		w.other = w.other || n.Operator != "-"
	case *ast.IntegerNode, *ast.FloatNode:
	case *ast.IdentifierNode:
		w.other = w.other || strings.HasPrefix(n.Value, "lifted_") ||
			slices.ContainsFunc(w.formula.inputs, func(in formulaInput) bool { return in.name == n.Value && in.texts != nil })
	default:
		w.other = true
	}
}

// columnLifter replaces each function of a whole column by an input that holds
// its values.
type columnLifter struct {
	formula   *Formula
	rewritten rewritten
	err       error
}

// Visit is called for each node after those below it.
func (l *columnLifter) Visit(node *ast.Node) {
	if l.err != nil {
		return
	}
	switch n := (*node).(type) {
	case *ast.BuiltinNode:
		l.lift(node, n.Name, n.Arguments)
	case *ast.CallNode:
		if callee, ok := n.Callee.(*ast.IdentifierNode); ok {
			l.lift(node, callee.Value, n.Arguments)
		}
	}
}

func (l *columnLifter) lift(node *ast.Node, name string, arguments []ast.Node) {
	at := l.rewritten.place((*node).Location().From)
	function := columnFunctions[name]
	if function == nil {
		if caseFunctions[name] != nil {
			// A builtin of the language by the same name is ours here.
			ast.Patch(node, &ast.CallNode{Callee: &ast.IdentifierNode{Value: name}, Arguments: arguments})
			return
		}
		l.err = &FormulaError{at, fmt.Sprintf("there is no function “%s”; the functions are %s", name, strings.Join(FormulaFunctions(), ", "))}
		return
	}
	if len(arguments) != 1 {
		l.err = &FormulaError{at, fmt.Sprintf("“%s” takes one column", name)}
		return
	}
	inner := &Formula{rows: l.formula.rows, inputs: l.formula.inputs}
	inner.exact = inner.isExact(arguments[0])
	var err error
	if inner.program, err = inner.compile(arguments[0].String()); err != nil {
		l.err = l.rewritten.explain(err, nil)
		return
	}
	values, err := inner.values()
	if err != nil {
		l.err = err
		return
	}
	var present []float64
	for _, value := range values {
		if x := toFloat(value); value != nil && !math.IsNaN(x) {
			present = append(present, x)
		} else if _, text := value.(string); text {
			l.err = &FormulaError{at, fmt.Sprintf("“%s” needs a column of numbers", name)}
			return
		}
	}
	input := formulaInput{name: fmt.Sprintf("lifted_%d", len(l.formula.inputs)), numbers: make([]float64, len(values))}
	var results []float64
	if len(present) > 0 {
		results = function(present)
	}
	next := 0
	for i, value := range values {
		input.numbers[i] = math.NaN()
		if value != nil && !math.IsNaN(toFloat(value)) {
			input.numbers[i] = results[next]
			next++
		}
	}
	l.formula.inputs = append(l.formula.inputs, input)
	ast.Patch(node, &ast.IdentifierNode{Value: input.name})
}
