package working

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
)

// Working collects a solution. Its methods are called in the order in which the
// solution is read; a quantity must be defined before another uses it. Mistakes
// of the procedure that writes it (a reference to nothing, an id used twice) are
// collected and returned by Finish.
type Working struct {
	solution *Solution
	problem  *problem.Problem
	measure  int // decimals of quantities in the unit of the response
	byID     map[Ref]*Quantity
	exprs    map[Ref]formula.Expr
	decimals map[Ref]int // decimals shown, for the arithmetic on shown numbers
	columns  map[string][]float64
	// cellDecimals are those of columns that were calculated, by reference.
	cellDecimals map[string]int
	test         *madeTest
	planning     *Planning // nil where no power is offered
	errs         []error
}

// New starts a solution. test is what textbooks call the test, "" where there is none.
func New(p *problem.Problem, title, test string, cases Cases) *Working {
	return &Working{
		solution: &Solution{
			Grund: problem.Format, Procedure: p.Procedure, Title: title, Test: test,
			Alpha: p.Alpha, Confidence: p.ConfidenceLevel(), Tail: p.Tail, Cases: cases,
			Quantities: []*Quantity{}, Tables: []*Table{}, Figures: []*Figure{}, Conditions: []*Condition{},
			Steps: []*Step{}, Controls: []Control{}, Notes: []string{},
		},
		problem: p, measure: DefaultDecimals,
		byID: map[Ref]*Quantity{}, exprs: map[Ref]formula.Expr{}, decimals: map[Ref]int{}, columns: map[string][]float64{},
		cellDecimals: map[string]int{},
	}
}

// SetScale chooses the decimals of quantities in the response's unit, so that one
// of the given size, a standard error as a rule, shows three digits.
func (w *Working) SetScale(size float64) { w.measure = SmallestDecimals(size) }

// SetDecimals chooses the decimals of quantities in the response's unit.
func (w *Working) SetDecimals(decimals int) { w.measure = decimals }

// Define adds a quantity. expr is nil for what the problem gives.
func (w *Working) Define(q Quantity, display Display, value float64, expr formula.Expr) {
	if w.byID[q.ID] != nil {
		w.fail("quantity %q is defined twice", q.ID)
	}
	q.Value = Number(value)
	q.Full = FormatNumberFull(value)
	kind := display.kind(q.Unit)
	decimals := w.decimalsFor(display, kind, value)
	switch display {
	case Given:
		q.Display = FormatShortest(value)
	case P:
		q.Display, q.bound = FormatP(value, w.problem.Alpha, decimals), isBound(value, w.problem.Alpha, decimals)
		decimals, _ = decimalsApart(value, w.problem.Alpha, pDecimals(value, decimals))
	case Ratio, Share, ExpectedCount, Parameter:
		digits := 2 // that are seen at least
		if display == Parameter {
			digits = w.digitsBorne()
		}
		if _, asked := w.problem.Decimals.Of(kind); asked {
			digits = 1 // as many decimals as are asked for, but what is not 0 is not shown as 0
		}
		q.Display = FormatSmall(value, decimals, digits)
		needed, _ := decimalsForDigits(value, digits)
		decimals = max(decimals, needed)
	default:
		q.Display = FormatNumber(value, decimals)
	}
	w.byID[q.ID] = &q
	w.decimals[q.ID] = decimals
	w.solution.Quantities = append(w.solution.Quantities, &q)
	if expr == nil {
		return
	}
	printed := formula.Print(expr)
	q.Formula = &Formula{Symbolic: printed.Symbolic, Inputs: printed.Inputs}
	if printed.Numeric != printed.Symbolic {
		q.Formula.Numeric = printed.Numeric
	}
	for _, input := range printed.Inputs {
		if w.byID[Ref(input)] == nil && w.columns[input] == nil {
			w.fail("quantity %q uses %q, which is not defined before it", q.ID, input)
			return
		}
	}
	w.exprs[q.ID] = expr
	q.Formula.Rounding = w.roundingNote(&q, display, expr)
}

// IsWhole reports whether degrees of freedom are whole but for the rounding of
// the formula that gave them.
func IsWhole(x float64) bool { return math.Abs(x-math.Round(x)) <= 1e-12*math.Abs(x) }

// roundingNote says what the formula gives with the numbers as shown, where that
// is not the number shown. Inside, all digits are used.
func (w *Working) roundingNote(q *Quantity, display Display, expr formula.Expr) string {
	got := expr.Eval(shownEnv{w})
	text := FormatNumber(got, w.decimals[q.ID])
	if display == P {
		text = FormatP(got, w.problem.Alpha, w.decimals[q.ID])
	}
	if text == q.Display || math.IsNaN(got) || math.IsInf(got, 0) {
		return ""
	}
	return fmt.Sprintf("With the numbers rounded as shown the arithmetic gives %s; Grund keeps all digits until the end, which gives %s.",
		text, q.Display)
}

// Column makes the cells behind a column reference known to formulas.
func (w *Working) Column(ref string, cells []float64) { w.columns[ref] = cells }

// firstCells is how many cells of a column a formula writes out before the dots.
const firstCells = 3

// Series returns a column of the data as it stands in a formula, with the decimals with which
// it was entered.
func (w *Working) Series(ref, symbol string, decimals int) formula.Column {
	return w.series(ref, symbol, func(x float64) string { return FormatNumber(x, decimals) })
}

// Calculated returns a column that was calculated as it stands in a formula, with the decimals
// that the problem asks for or else the given ones. What is not 0 is not shown as 0.
func (w *Working) Calculated(ref, symbol string, decimals int) formula.Column {
	decimals = w.askedOr(problem.StatisticNumber, decimals)
	w.cellDecimals[ref] = decimals
	return w.series(ref, symbol, func(x float64) string { return FormatSmall(x, decimals, 1) })
}

func (w *Working) series(ref, symbol string, show func(float64) string) formula.Column {
	cells := w.columns[ref]
	column := formula.Column{Ref: ref, Symbol: symbol}
	for i, x := range cells {
		if i == firstCells && len(cells) > firstCells+1 {
			column.Last = show(cells[len(cells)-1])
			break
		}
		column.First = append(column.First, show(x))
	}
	return column
}

// Table adds a table.
func (w *Working) Table(t *Table) { w.solution.Tables = append(w.solution.Tables, t) }

// Dim says that a table is not to be relied on, for a reason that stands before it.
func (w *Working) Dim(table string) {
	if t := w.solution.Table(table); t != nil {
		t.Dimmed = true
		return
	}
	w.fail("there is no table %q to dim", table)
}

// Figure adds a figure.
func (w *Working) Figure(f *Figure) {
	if f.Marks == nil {
		f.Marks = []Mark{}
	}
	if f.Handles == nil {
		f.Handles = []Handle{}
	}
	w.solution.Figures = append(w.solution.Figures, f)
}

// Condition adds a condition.
func (w *Working) Condition(id string, status Status, reason Text, ways ...Action) {
	if ways == nil {
		ways = []Action{}
	}
	w.solution.Conditions = append(w.solution.Conditions,
		&Condition{ID: id, Status: status, Reason: w.Plain(reason), Text: reason, Actions: ways})
}

// StatusCounts returns how many conditions have each status.
func (w *Working) StatusCounts() map[Status]int {
	counts := map[Status]int{}
	for _, c := range w.solution.Conditions {
		counts[c.Status]++
	}
	return counts
}

// Brief says in a sentence what is done.
func (w *Working) Brief(text Text) { w.solution.Brief = text }

// Control adds a live control.
func (w *Working) Control(c Control) { w.solution.Controls = append(w.solution.Controls, c) }

// Step adds a step that comes to the result: numbers that are defined, without their units, and
// words.
func (w *Working) Step(id StepID, result Text, blocks ...Block) {
	step := &Step{ID: id, Result: result, Title: stepTitles[id], Blocks: blocks}
	numbers := 0
	for _, piece := range result {
		if piece.Ref == "" {
			step.Key += piece.Words
			continue
		}
		step.Key += w.Show(piece.Ref)
		step.Opens = piece.Ref
		numbers++
	}
	if numbers > 1 {
		step.Opens = "" // there would be one way in for several numbers
	}
	w.solution.Steps = append(w.solution.Steps, step)
}

// AddTo adds blocks to a step that is there already.
func (w *Working) AddTo(id StepID, blocks ...Block) {
	for _, step := range w.solution.Steps {
		if step.ID == id {
			step.Blocks = append(step.Blocks, blocks...)
			return
		}
	}
	w.fail("there is no step %q to add to", id)
}

// Conclude sets the sentence that answers the problem and the line for a paper.
func (w *Working) Conclude(conclusion, report Text) {
	w.solution.Conclusion = w.Plain(conclusion)
	w.solution.Report = w.Plain(report)
}

// AnswerClaim says how the problem's claim is answered.
func (w *Working) AnswerClaim(claim ClaimAnswer) { w.solution.Claim = &claim }

// Note adds a remark about the whole solution that tells no more than the steps up to one.
func (w *Working) Note(from StepID, note string) {
	w.solution.Notes = append(w.solution.Notes, note)
	w.solution.NotesFrom = append(w.solution.NotesFrom, from)
}

// Has reports whether the quantity is defined.
func (w *Working) Has(id Ref) bool { return w.byID[id] != nil }

// Show returns the quantity's number as displayed.
func (w *Working) Show(id Ref) string {
	if q := w.byID[id]; q != nil {
		return q.Display
	}
	w.fail("%q is shown and not defined", id)
	return "?"
}

// ShowSize returns the quantity's number as displayed, without its sign.
func (w *Working) ShowSize(id Ref) string { return strings.TrimPrefix(w.Show(id), minus) }

// Relation is what stands between a p and its number: nothing where that is a bound.
func (w *Working) Relation(p Ref) string {
	if q := w.byID[p]; q != nil && q.bound {
		return ""
	}
	return "= "
}

// ShowMeasure returns a number in the response's unit as a quantity of it would be shown,
// without the unit.
func (w *Working) ShowMeasure(x float64) string {
	return FormatNumber(x, w.askedOr(problem.EstimateNumber, w.measure))
}

// Value returns the quantity's value.
func (w *Working) Value(id Ref) float64 { return evalEnv{w}.Value(string(id)) }

// Plain returns a text without styles, its numbers as displayed with their units.
func (w *Working) Plain(text Text) string { return plain(text, w.byID, w.fail) }

func plain(text Text, quantities map[Ref]*Quantity, fail func(string, ...any)) string {
	var b strings.Builder
	for _, piece := range text {
		if piece.Ref == "" {
			b.WriteString(piece.Words)
			continue
		}
		q := quantities[piece.Ref]
		if q == nil {
			fail("%q is named in a text and not defined", piece.Ref)
			continue
		}
		if piece.Words != "" {
			b.WriteString(piece.Words)
			continue
		}
		b.WriteString(q.Display)
		if q.Unit != "" {
			b.WriteString("\u00a0" + q.Unit)
		}
	}
	return b.String()
}

// Finish returns the solution, or an error where the procedure has not written it
// well.
func (w *Working) Finish() (*Solution, error) {
	ids := map[string]bool{}
	once := func(kind, id string) {
		if ids[kind+id] {
			w.fail("%s %q is there twice", kind, id)
		}
		ids[kind+id] = true
	}
	for _, t := range w.solution.Tables {
		once("table", t.ID)
	}
	for _, t := range w.solution.Tables {
		w.checkTable(t, ids)
	}
	for _, f := range w.solution.Figures {
		once("figure", f.ID)
		for _, m := range f.Marks {
			w.need(m.Refs...)
		}
	}
	for _, c := range w.solution.Conditions {
		once("condition", c.ID)
	}
	for _, c := range w.solution.Controls {
		once("control", c.ID)
	}
	for _, s := range w.solution.Steps {
		once("step", string(s.ID))
		var n Names
		n.Text(s.Result)
		for _, block := range s.Blocks {
			block.names(&n)
		}
		w.check(&n, ids)
	}
	if f := w.solution.Finding; f != nil {
		w.need(f.Compared.By)
	}
	if question := w.solution.WithNumbers(w.problem.Question); question != w.problem.Question {
		w.solution.Question = question
	}
	w.solution.placeNotes(w.problem.Notes)
	if len(w.errs) > 0 {
		return nil, fmt.Errorf("the procedure %q wrote a faulty solution: %w", w.problem.Procedure, errors.Join(w.errs...))
	}
	return w.solution, nil
}

// checkTable checks what the formulas of a table's columns name, and its totals.
func (w *Working) checkTable(t *Table, ids map[string]bool) {
	for _, c := range t.Columns {
		formula.Resolve(c.Formula, func(id string) string {
			if w.byID[Ref(id)] == nil && !slices.ContainsFunc(t.Columns, func(other Column) bool { return other.ID == id }) {
				w.fail("the column %q of table %q uses %q, which is neither a column nor a quantity", c.ID, t.ID, id)
			}
			return ""
		})
	}
	if c := t.Crossed; c != nil && !(ids["table"+c.Totals.Down] && ids["table"+c.Totals.Across]) {
		w.fail("the totals of table %q are not there", t.ID)
	}
}

// check checks that everything is there that a part of the solution refers to.
func (w *Working) check(n *Names, ids map[string]bool) {
	w.need(n.Quantities...)
	exist := func(kind string, names []string) {
		for _, id := range names {
			if !ids[kind+id] {
				w.fail("there is no %s %q", kind, id)
			}
		}
	}
	exist("table", n.Tables)
	exist("figure", n.Figures)
	exist("condition", n.Conditions)
	exist("control", n.Controls)
}

func (w *Working) need(refs ...Ref) {
	for _, ref := range refs {
		if w.byID[ref] == nil {
			w.fail("%q is referred to and not defined", ref)
		}
	}
}

func (w *Working) fail(format string, args ...any) {
	w.errs = append(w.errs, fmt.Errorf(format, args...))
}

// evalEnv gives formulas the full values.
type evalEnv struct{ w *Working }

func (e evalEnv) Value(id string) float64 {
	if q := e.w.byID[Ref(id)]; q != nil {
		return float64(q.Value)
	}
	return math.NaN()
}

func (e evalEnv) Column(ref string) []float64 { return e.w.columns[ref] }

// shownEnv gives formulas the values as they are shown.
type shownEnv struct{ w *Working }

func (e shownEnv) Value(id string) float64 {
	return Rounded(evalEnv(e).Value(id), e.w.decimals[Ref(id)])
}

// mostAdded is how many cells anybody adds up as they are shown.
const mostAdded = 1000

func (e shownEnv) Column(ref string) []float64 {
	cells := e.w.columns[ref]
	decimals, calculated := e.w.cellDecimals[ref]
	if !calculated || len(cells) > mostAdded {
		return cells
	}
	shown := make([]float64, len(cells))
	for i, x := range cells {
		needed, _ := decimalsForDigits(x, 1)
		shown[i] = Rounded(x, max(decimals, needed))
	}
	return shown
}

// Recompute evaluates the formula of every quantity that has one from the values
// of its inputs, for tests of the graph.
func (w *Working) Recompute() map[Ref]float64 {
	out := make(map[Ref]float64, len(w.exprs))
	for id, expr := range w.exprs {
		out[id] = expr.Eval(evalEnv{w})
	}
	return out
}
