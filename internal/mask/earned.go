package mask

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json"

	"grund/internal/working"
)

// An Earning says how far a person has come who works a problem.
type Earning struct {
	// Open is the step at which the person is.
	Open working.StepID
	// Asked is what the problem asks for: numbers by quantity or cell, and what is chosen by the names below.
	Asked map[working.Ref]Asked
}

// Asked says which step asks for something, and whether it was earned.
type Asked struct {
	Step   working.StepID
	Earned bool
}

// The names of what is chosen, as far as something that is shown depends on it.
const (
	ChosenHypotheses = "hypotheses"
	ChosenRegion     = "region"
	ChosenCondition  = "condition:" // and its id
)

// Earned returns the solution as far as it has been earned: the steps in which nothing is missing up to the first in
// which something is, and of those after it, up to the open one, what was found in them. Nothing that is left tells a
// number that is missing, or a choice; what is changed at a screen is not offered.
func Earned(s *working.Solution, e Earning) *working.Solution {
	unearned := map[working.StepID]bool{}
	for _, asked := range e.Asked {
		unearned[asked.Step] = unearned[asked.Step] || !asked.Earned
	}
	at := func(found func(*working.Step) bool) int {
		if i := slices.IndexFunc(s.Steps, found); i >= 0 {
			return i
		}
		return len(s.Steps)
	}
	open := at(func(step *working.Step) bool { return step.ID == e.Open })
	whole := min(open, at(func(step *working.Step) bool { return unearned[step.ID] }))
	base := UpTo(s, max(1, whole))
	p := &part{
		Solution: s, asked: e.Asked, open: open, visible: map[working.Ref]bool{}, tables: map[string]bool{}, conditions: map[string]bool{},
	}
	p.see(base)
	p.hide()
	shown := *base
	shown.Steps = nil
	for _, step := range s.Steps[:whole] {
		shown.Steps = append(shown.Steps, p.whole(step))
	}
	for _, step := range s.Steps[whole:min(open+1, len(s.Steps))] {
		shown.Steps = append(shown.Steps, p.partial(step))
	}
	for _, step := range shown.Steps {
		if step.ID == working.Data {
			p.withCases(step)
		}
	}
	shown.HeldBack = len(s.Steps) - len(shown.Steps)
	shown.Quantities, shown.Tables, shown.Figures = p.quantitiesShown(), p.tablesShown(base.Tables), p.figuresShown(base)
	shown.Conditions = []*working.Condition{}
	for _, c := range s.Conditions {
		if p.conditions[c.ID] {
			judged := *c
			judged.Actions = []working.Action{}
			shown.Conditions = append(shown.Conditions, &judged)
		}
	}
	shown.Controls = []working.Control{}
	shown.OwnNotes = nil // they are about the working, and say what they like
	if !p.earned(ChosenHypotheses) {
		shown.Tail = ""
	}
	if whole <= slices.Index(working.Steps, working.Data) {
		shown.Cases = working.Cases{} // how many there are is asked for
	}
	shown.Notes = keep(base.Notes, func(note string) bool { return whole > 0 && !p.tells(note) })
	if p.tells(base.Conclusion) {
		shown.Conclusion = ""
	}
	if p.tells(base.Report) {
		shown.Report = ""
	}
	return &shown
}

// A part of a solution that is only partly earned.
type part struct {
	*working.Solution
	asked      map[working.Ref]Asked
	open       int                  // the place of the open step
	visible    map[working.Ref]bool // the quantities that are shown
	values     []float64            // the sizes of the numbers that are missing
	tables     map[string]bool
	conditions map[string]bool
	figures    []string // of partial steps
	casesAdded bool     // to the step on the data
}

// earned reports whether nothing is missing of that name: it is earned, or not asked for.
func (p *part) earned(ref working.Ref) bool {
	asked, is := p.asked[ref]
	return !is || asked.Earned
}

// see finds the quantities that are shown: what is asked for when it is earned, and of the rest what the whole steps
// hold, unless it is made from something that is missing, and what is made from earned numbers alone.
func (p *part) see(base *working.Solution) {
	for _, q := range p.Quantities {
		if asked, is := p.asked[q.ID]; is {
			p.visible[q.ID] = asked.Earned
			continue
		}
		known := base.Quantity(q.ID) != nil
		if q.Formula == nil {
			p.visible[q.ID] = known
			continue
		}
		fromAsked := len(q.Formula.Inputs) > 0 && !slices.ContainsFunc(refsOf(q.Formula.Inputs), func(ref working.Ref) bool {
			_, is := p.asked[ref]
			return !is
		})
		p.visible[q.ID] = (known || fromAsked) && p.sees(refsOf(q.Formula.Inputs))
	}
}

// hide notes the numbers that are missing. A whole number stands for much else too.
func (p *part) hide() {
	for ref := range p.asked {
		if p.earned(ref) {
			continue
		}
		x, _, _ := p.Cell(ref)
		if q := p.Quantity(ref); q != nil {
			x = q.Value
		}
		if size := math.Abs(float64(x)); size != math.Trunc(size) { // and none that is no number
			p.values = append(p.values, size)
		}
	}
}

// fraction is a number with decimals as it stands in a text.
var fraction = regexp.MustCompile(`\d+\.\d+`)

// telling is how many significant digits of a number tell it.
const telling = 3

// tells reports whether the words of a part of the solution hold a number that is missing, rounded in any way that
// leaves so many digits that it is told.
func (p *part) tells(of any) bool {
	text, err := json.Marshal(of)
	if err != nil {
		return true
	}
	for _, digits := range fraction.FindAllString(strings.ReplaceAll(string(text), "\u202f", ""), -1) {
		x, err := strconv.ParseFloat(digits, 64)
		_, decimals, _ := strings.Cut(digits, ".")
		if significant := len(strings.TrimLeft(strings.Replace(digits, ".", "", 1), "0")); err != nil || significant < telling {
			continue
		}
		half := math.Pow10(-len(decimals)) / 2 * (1 + 1e-9)
		if slices.ContainsFunc(p.values, func(value float64) bool { return math.Abs(value-x) <= half }) {
			return true
		}
	}
	return false
}

func refsOf(ids []string) []working.Ref {
	refs := make([]working.Ref, len(ids))
	for i, id := range ids {
		refs[i] = working.Ref(id)
	}
	return refs
}

// sees reports whether all of the quantities are shown; cells and columns are none.
func (p *part) sees(refs []working.Ref) bool {
	return !slices.ContainsFunc(refs, func(ref working.Ref) bool { return !strings.Contains(string(ref), "/") && !p.visible[ref] })
}

// text reports whether all numbers in a text are shown.
func (p *part) text(text working.Text) bool {
	var n working.Names
	n.Text(text)
	return p.sees(n.Quantities)
}

// condition reports whether a condition is shown, and notes it.
func (p *part) condition(id string) bool {
	i := slices.IndexFunc(p.Conditions, func(c *working.Condition) bool { return c.ID == id })
	if i < 0 || !p.earned(ChosenCondition+working.Ref(id)) || !p.text(p.Conditions[i].Text) || p.tells(p.Conditions[i]) {
		return false
	}
	p.conditions[id] = true
	return true
}

// whole returns a step in which nothing is missing, without what tells something that a later step asks for.
func (p *part) whole(step *working.Step) *working.Step {
	out := *step
	out.Blocks = keep(step.Blocks, func(block working.Block) bool {
		switch b := block.(type) {
		case working.Check:
			return p.condition(b.Condition)
		case working.ControlBlock, working.ContrastBlock, working.ChoiceBlock, working.PlaceBlock, working.DeriveBlock,
			working.SimulationBlock, working.PowerBlock:
			return false // what is changed or tried at a screen
		}
		var n working.Names
		n.Block(block)
		for _, id := range n.Tables {
			p.tables[id] = true
		}
		return p.sees(n.Quantities) && !p.tells(block)
	})
	for i, block := range out.Blocks {
		if figure, is := block.(working.FigureBlock); is {
			figure.Actions = nil
			out.Blocks[i] = figure
		}
	}
	if !p.text(step.Result) || p.tells(step.Key) || step.Opens != "" && !p.visible[step.Opens] {
		out.Result, out.Key, out.Opens = nil, "", ""
	}
	return &out
}

// withCases shows the cases with the data, where only a later step lists them: a person works from them.
func (p *part) withCases(step *working.Step) {
	const cases = "cases"
	if p.Table(cases) == nil || slices.Contains(step.Blocks, working.Block(working.TableBlock{Table: cases})) {
		return
	}
	step.Blocks = append(step.Blocks, working.TableBlock{Table: cases})
	p.tables[cases], p.casesAdded = true, true
}

// partial returns a step with what was found in it: formulas of numbers, hypotheses and conditions that are earned, and
// tables of the data, in which what is missing is empty.
func (p *part) partial(step *working.Step) *working.Step {
	blocks := keep(step.Blocks, func(block working.Block) bool {
		switch b := block.(type) {
		case working.FormulaBlock:
			_, asked := p.asked[b.Quantity]
			return asked && p.visible[b.Quantity]
		case working.HypothesesBlock:
			return p.earned(ChosenHypotheses)
		case working.Check:
			return p.condition(b.Condition)
		case working.TableBlock:
			t := p.Table(b.Table)
			if t == nil || step.ID != working.Data && !p.asks(t) { // what is worked out tells how, and a printed table where to look
				return false
			}
			p.tables[b.Table] = true
			return len(p.columns(t, false)) > len(t.Key)
		case working.FigureBlock:
			if step.ID != working.Look && step.ID != working.Conditions { // pictures of the data, which are looked at to judge
				return false
			}
			var n working.Names
			n.Block(b)
			p.figures = append(p.figures, n.Figures...)
			return true
		}
		return false
	})
	return &working.Step{ID: step.ID, Title: step.Title, Blocks: blocks}
}

// quantitiesShown are those that are shown, with their formula where all that is in it is.
func (p *part) quantitiesShown() []*working.Quantity {
	out := []*working.Quantity{}
	for _, q := range p.Quantities {
		if !p.visible[q.ID] {
			continue
		}
		if q.Formula != nil && !p.sees(refsOf(q.Formula.Inputs)) {
			bare := *q
			bare.Formula = nil
			q = &bare
		}
		out = append(out, q)
	}
	return out
}

// tablesShown are the tables of the steps. Of one that is not in the base, only columns that are given or asked for; a cell
// that is asked for is empty until it is earned.
func (p *part) tablesShown(base []*working.Table) []*working.Table {
	out := []*working.Table{}
	for _, t := range base {
		columns := p.columns(t, true)
		out = append(out, p.emptied(t.Only(func(c working.Column) bool { return slices.Contains(columns, c.ID) })))
	}
	for _, t := range p.Solution.Tables {
		known := slices.ContainsFunc(base, func(b *working.Table) bool { return b.ID == t.ID })
		added := t.ID == "cases" && p.casesAdded
		if !p.tables[t.ID] || known && !p.asks(t) && !added {
			continue
		}
		columns := p.columns(t, false)
		part := p.emptied(t.Only(func(c working.Column) bool { return slices.Contains(columns, c.ID) }))
		if i := slices.IndexFunc(out, func(b *working.Table) bool { return b.ID == t.ID }); i >= 0 {
			out[i] = part
			continue
		}
		out = append(out, part)
		if t.Crossed != nil {
			for _, totals := range []string{t.Crossed.Totals.Down, t.Crossed.Totals.Across} {
				if !slices.ContainsFunc(out, func(b *working.Table) bool { return b.ID == totals }) {
					out = append(out, p.Table(totals))
				}
			}
		}
	}
	return out
}

// asks reports whether a cell of a table is asked for.
func (p *part) asks(t *working.Table) bool {
	for ref := range p.asked {
		if strings.HasPrefix(string(ref), t.ID+"/") {
			return true
		}
	}
	return false
}

// columns are those of a table that are given or asked for, and, where its step is whole, those calculated ones that
// hold nothing that is missing.
func (p *part) columns(t *working.Table, whole bool) []string {
	var ids []string
	for j, c := range t.Columns {
		isGiven := c.Formula == "" && c.From == ""
		asks, yet := p.asksColumn(t, c)
		if slices.Contains(t.Key, c.ID) || asks && yet || !asks && (whole || isGiven) && !p.tellsMissing(t, j) {
			ids = append(ids, c.ID)
		}
	}
	return ids
}

// asksColumn reports whether the cells of a column are asked for, and whether the person has come so far.
func (p *part) asksColumn(t *working.Table, c working.Column) (asks, yet bool) {
	for ref, asked := range p.asked {
		if strings.HasPrefix(string(ref), t.ID+"/") && strings.HasSuffix(string(ref), "/"+c.ID) {
			step := slices.IndexFunc(p.Steps, func(step *working.Step) bool { return step.ID == asked.Step })
			return true, step <= p.open
		}
	}
	return false, false
}

// tellsMissing reports whether a column holds a number that is missing. Cases are as they were given.
func (p *part) tellsMissing(t *working.Table, column int) bool {
	if t.ID == "cases" && t.Columns[column].Formula == "" {
		return false
	}
	for _, row := range t.Rows()[:min(t.Total, working.PageRows)] {
		x, _ := row[column].Number()
		if ref := row[column].Ref; ref != "" && !p.visible[ref] || slices.Contains(p.values, math.Abs(x)) {
			return true
		}
	}
	return false
}

// emptied leaves the cells empty that are asked for and missing.
func (p *part) emptied(t *working.Table) *working.Table {
	part := *t
	if t.Crossed != nil {
		crossed := *t.Crossed
		crossed.Join, crossed.Omit, crossed.Order = "", "", ""
		part.Crossed = &crossed
	}
	if !p.asks(t) {
		return &part
	}
	part.Row = func(i int) working.Row {
		row := slices.Clone(t.Row(i))
		for j := range row {
			if !p.earned(t.Ref(row, j)) {
				row[j] = working.BlankCell()
			}
		}
		return row
	}
	return &part
}

// figuresShown are the figures of the whole steps without marks of what is missing, and of the curve what is earned. What
// can be moved tells where it stands, and is not offered.
func (p *part) figuresShown(base *working.Solution) []*working.Figure {
	out := []*working.Figure{}
	for _, f := range base.Figures {
		if f.Curve == nil {
			out = append(out, p.figure(f, f.Marks, f.Says))
		}
	}
	for _, f := range p.Solution.Figures {
		known := slices.ContainsFunc(out, func(shown *working.Figure) bool { return shown.ID == f.ID })
		if slices.Contains(p.figures, f.ID) && !known {
			out = append(out, p.figure(f, keep(f.Marks, func(m working.Mark) bool { return m.From == "" }), f.Says))
		}
	}
	for _, f := range p.Solution.Figures {
		if f.Curve == nil || !p.earned(ChosenHypotheses) || !p.sees(f.Curve.Degrees) {
			continue
		}
		says := []string{f.Parts[0].Words}
		for _, saying := range f.Parts[1:] {
			if p.sees(saying.Refs) && p.earned(ChosenRegion) {
				says = append(says, saying.Words)
			}
		}
		found := p.visible[f.Curve.Statistic] // which both the area that is p and the ends of the axis tell
		curve := p.figure(f, keep(f.Marks, func(m working.Mark) bool {
			return (m.Role != working.Region || p.earned(ChosenRegion)) && (m.Role != working.PArea || found)
		}), strings.Join(says, " "))
		if !found {
			cutOff(curve, f.Curve.Bare)
		}
		out = append(out, curve)
	}
	return out
}

// figure is a figure with those of its marks whose numbers are shown, and no words that tell another.
func (p *part) figure(f *working.Figure, marks []working.Mark, says string) *working.Figure {
	part := *f
	part.Says, part.Handles = says, []working.Handle{}
	part.Marks = keep(marks, func(m working.Mark) bool {
		tells := !m.IsCases() && slices.ContainsFunc(append(slices.Clone(m.X), m.Y...), func(x working.Number) bool {
			return slices.Contains(p.values, math.Abs(float64(x)))
		})
		return p.sees(m.Refs) && !tells
	})
	for i, m := range part.Marks {
		if p.tells(m.Label) {
			part.Marks[i].Label = ""
		}
	}
	if p.tells(says) {
		part.Says = ""
	}
	if p.tells(part.Reads) {
		part.Reads = ""
	}
	return &part
}

// cutOff cuts a figure off at the ends of an axis.
func cutOff(f *working.Figure, axis working.Axis) {
	f.Axis = axis
	for i, m := range f.Marks {
		if m.Shape != working.Line && m.Shape != working.Area {
			continue
		}
		cut := m
		cut.X, cut.Y = nil, nil
		for k, x := range m.X {
			if axis.Min <= x && x <= axis.Max {
				cut.X, cut.Y = append(cut.X, x), append(cut.Y, m.Y[k])
			}
		}
		f.Marks[i] = cut
	}
}
