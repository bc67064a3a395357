package working

import (
	"slices"
	"strings"

	"grund/internal/formula"
)

// Steps lists all steps in the order of the work. A solution has those of them that its test has.
var Steps = []StepID{Question, Data, Look, Hypotheses, Conditions, Statistic, CriticalValue, PValue, DecisionStep, Conclusion, Report,
	FollowUp}

// UpTo returns the solution as far as its first n steps, one at least, and nothing that only
// later steps show: no quantity from which none of theirs is made, no table, figure, condition or
// note of a later step, and of the curve no more than what has been found. Nothing that is left
// tells what comes; HeldBack counts the steps that do.
func (s *Solution) UpTo(n int) *Solution {
	n = max(1, n)
	if n >= len(s.Steps) {
		return s
	}
	shown := *s
	shown.Steps, shown.HeldBack = s.Steps[:n], len(s.Steps)-n
	m := mask{solution: s, last: shown.Steps[n-1].ID, quantities: map[Ref]bool{"alpha": true}}
	m.see(shown.Steps)
	shown.Figures = m.figures()
	shown.Tables = m.tables()
	shown.Quantities = keep(s.Quantities, func(q *Quantity) bool { return m.quantities[q.ID] })
	shown.Conditions = keep(s.Conditions, func(c *Condition) bool { return slices.Contains(m.named.conditions, c.ID) })
	shown.Notes, shown.notesFrom = []string{}, nil
	for i, note := range s.Notes {
		if m.reached(s.notesFrom[i]) {
			shown.Notes = append(shown.Notes, note)
		}
	}
	if !m.reached(DecisionStep) {
		shown.Decision = nil
	}
	if !m.reached(Conclusion) {
		shown.Finding, shown.Claim, shown.Conclusion = nil, nil, ""
	}
	if !m.reached(Report) {
		shown.Report = ""
	}
	return &shown
}

// keep returns the items that pass, never nil.
func keep[T any](items []T, pass func(T) bool) []T {
	out := make([]T, 0, len(items))
	for _, item := range items {
		if pass(item) {
			out = append(out, item)
		}
	}
	return out
}

// A mask knows what the steps up to the last one refer to.
type mask struct {
	solution   *Solution
	last       StepID
	named      names
	quantities map[Ref]bool
	cells      []Ref // of tables, that formulas name
}

// reached reports whether a step is shown or lies before one that is. What belongs to no step is
// shown from the beginning.
func (m *mask) reached(id StepID) bool { return slices.Index(Steps, id) <= slices.Index(Steps, m.last) }

// see collects what the steps refer to, and what that is made from.
func (m *mask) see(steps []*Step) {
	m.named.text(m.solution.Brief)
	for _, step := range steps {
		m.named.text(step.Result)
		for _, block := range step.Blocks {
			block.names(&m.named)
		}
	}
	for _, c := range m.solution.Conditions {
		if slices.Contains(m.named.conditions, c.ID) {
			m.named.text(c.Text)
		}
	}
	for _, ref := range m.named.quantities {
		m.follow(ref)
	}
}

// follow notes a quantity and those that it is made from.
func (m *mask) follow(ref Ref) {
	if m.quantities[ref] {
		return
	}
	if strings.Contains(string(ref), "/") {
		m.cells = append(m.cells, ref)
		return
	}
	m.quantities[ref] = true
	for _, q := range m.solution.Quantities {
		if q.ID == ref && q.Formula != nil {
			for _, input := range q.Formula.Inputs {
				m.follow(Ref(input))
			}
		}
	}
}

// figures returns those of the steps, and the curve with what of it is reached.
func (m *mask) figures() []*Figure {
	out := []*Figure{}
	for _, f := range m.solution.Figures {
		if !slices.Contains(m.named.figures, f.ID) && (f.from == "" || !m.reached(f.from)) {
			continue
		}
		part := *f
		part.Marks = keep(f.Marks, func(mark Mark) bool { return m.reached(mark.from) })
		for _, mark := range part.Marks {
			for _, ref := range mark.Refs {
				m.follow(ref)
			}
		}
		if f.parts != nil {
			part.Says = ""
			for _, saying := range f.parts {
				if m.reached(saying.from) {
					part.Says = strings.TrimSpace(part.Says + " " + saying.words)
				}
			}
		}
		out = append(out, &part)
	}
	return out
}

// tables returns those of the steps, without the columns that belong to later ones. Of others
// only those cells are left that a formula names.
func (m *mask) tables() []*Table {
	shown := slices.Clone(m.named.tables)
	for _, t := range m.solution.Tables {
		if t.Crossed != nil && slices.Contains(shown, t.ID) {
			shown = append(shown, t.Crossed.Totals.Down, t.Crossed.Totals.Across)
		}
	}
	out := []*Table{}
	for _, t := range m.solution.Tables {
		if slices.Contains(shown, t.ID) {
			part := t.only(func(c Column) bool { return m.reached(c.From) })
			m.followCells(part)
			out = append(out, part)
		}
	}
	for _, t := range m.solution.Tables {
		var columns []string
		for _, ref := range m.cells {
			if parts := strings.Split(string(ref), "/"); len(parts) == 3 && parts[0] == t.ID {
				columns = append(columns, parts[2])
			}
		}
		if columns != nil && !slices.Contains(shown, t.ID) {
			out = append(out, t.only(func(c Column) bool { return slices.Contains(columns, c.ID) || slices.Contains(t.Key, c.ID) }))
		}
	}
	return out
}

// followCells notes the quantities that the cells of a table are made from.
func (m *mask) followCells(t *Table) {
	for _, c := range t.Columns {
		formula.Resolve(c.Formula, func(id string) string {
			m.follow(Ref(id))
			return ""
		})
	}
	for i := range min(t.Total, PageRows) {
		for _, cell := range t.Row(i) {
			if cell.Ref != "" {
				m.follow(cell.Ref)
			}
		}
	}
}

// Finds returns the quantities that each step shows and none before it does, in the order in which they are worked
// out, by the step: what a person who works the problem finds in it.
//
// What a step is named for is found in it, even where a table before it holds it too.
func (s *Solution) Finds() map[StepID][]Ref {
	finds := map[StepID][]Ref{}
	seen := map[Ref]bool{}
	home := map[Ref]StepID{"critical_low": CriticalValue, "critical_high": CriticalValue}
	if s.Decision != nil {
		home[s.Decision.P] = PValue
	}
	for _, step := range s.Steps {
		if step.ID == Report {
			continue // it only repeats
		}
		var named names
		named.text(step.Result)
		for _, block := range step.Blocks {
			block.names(&named)
		}
		shown := map[Ref]bool{}
		for _, ref := range named.quantities {
			shown[ref] = true
		}
		for _, id := range named.tables {
			if t := s.Table(id); t != nil && t.Total <= mostFound {
				for _, row := range t.Rows() {
					for _, cell := range row {
						shown[cell.Ref] = true
					}
				}
			}
		}
		for _, q := range s.Quantities {
			if at, is := home[q.ID]; is && at != step.ID && slices.ContainsFunc(s.Steps, func(other *Step) bool { return other.ID == at }) {
				continue
			}
			if shown[q.ID] && !seen[q.ID] {
				seen[q.ID] = true
				finds[step.ID] = append(finds[step.ID], q.ID)
			}
		}
	}
	return finds
}

// mostFound is how many rows a table has at most whose cells a person works out.
const mostFound = 50
