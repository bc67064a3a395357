// Package mask holds back of a worked solution what has not been reached yet: by step, or by what a person earned who
// works the problem.
package mask

import (
	"slices"
	"strings"

	"grund/internal/formula"
	"grund/internal/working"
)

// UpTo returns the solution as far as its first n steps, one at least, and nothing that only
// later steps show: no quantity from which none of theirs is made, no table, figure, condition or
// note of a later step, and of the curve no more than what has been found. Nothing that is left
// tells what comes; HeldBack counts the steps that do.
func UpTo(s *working.Solution, n int) *working.Solution {
	n = max(1, n)
	if n >= len(s.Steps) {
		return s
	}
	shown := *s
	shown.Steps, shown.HeldBack = s.Steps[:n], len(s.Steps)-n
	m := mask{solution: s, last: shown.Steps[n-1].ID, quantities: map[working.Ref]bool{"alpha": true}}
	m.see(shown.Steps)
	shown.Figures = m.figures()
	shown.Tables = m.tables()
	shown.Quantities = keep(s.Quantities, func(q *working.Quantity) bool { return m.quantities[q.ID] })
	shown.Conditions = keep(s.Conditions, func(c *working.Condition) bool { return slices.Contains(m.named.Conditions, c.ID) })
	shown.Notes, shown.NotesFrom = []string{}, nil
	for i, note := range s.Notes {
		if m.reached(s.NotesFrom[i]) {
			shown.Notes = append(shown.Notes, note)
		}
	}
	shown.OwnNotes = nil
	for _, note := range s.OwnNotes {
		if note.Step != "" && m.reached(note.Step) {
			shown.OwnNotes = append(shown.OwnNotes, note)
		}
	}
	if !m.reached(working.DecisionStep) {
		shown.Decision = nil
	}
	if !m.reached(working.Conclusion) {
		shown.Finding, shown.Claim, shown.Conclusion = nil, nil, ""
	}
	if !m.reached(working.Report) {
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
	solution   *working.Solution
	last       working.StepID
	named      working.Names
	quantities map[working.Ref]bool
	cells      []working.Ref // of tables, that formulas name
}

// reached reports whether a step is shown or lies before one that is. What belongs to no step is
// shown from the beginning.
func (m *mask) reached(id working.StepID) bool {
	return slices.Index(working.Steps, id) <= slices.Index(working.Steps, m.last)
}

// see collects what the steps refer to, and what that is made from.
func (m *mask) see(steps []*working.Step) {
	m.named.Text(m.solution.Brief)
	for _, step := range steps {
		m.named.Text(step.Result)
		for _, block := range step.Blocks {
			m.named.Block(block)
		}
	}
	for _, c := range m.solution.Conditions {
		if slices.Contains(m.named.Conditions, c.ID) {
			m.named.Text(c.Text)
		}
	}
	for _, ref := range m.named.Quantities {
		m.follow(ref)
	}
}

// follow notes a quantity and those that it is made from.
func (m *mask) follow(ref working.Ref) {
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
				m.follow(working.Ref(input))
			}
		}
	}
}

// figures returns those of the steps, and the curve with what of it is reached.
func (m *mask) figures() []*working.Figure {
	out := []*working.Figure{}
	for _, f := range m.solution.Figures {
		if !slices.Contains(m.named.Figures, f.ID) && (f.From == "" || !m.reached(f.From)) {
			continue
		}
		part := *f
		part.Marks = keep(f.Marks, func(mark working.Mark) bool { return m.reached(mark.From) })
		for _, mark := range part.Marks {
			for _, ref := range mark.Refs {
				m.follow(ref)
			}
		}
		if f.Parts != nil {
			part.Says = ""
			for _, saying := range f.Parts {
				if m.reached(saying.From) {
					part.Says = strings.TrimSpace(part.Says + " " + saying.Words)
				}
			}
		}
		out = append(out, &part)
	}
	return out
}

// tables returns those of the steps, without the columns that belong to later ones. Of others
// only those cells are left that a formula names.
func (m *mask) tables() []*working.Table {
	shown := slices.Clone(m.named.Tables)
	for _, t := range m.solution.Tables {
		if t.Crossed != nil && slices.Contains(shown, t.ID) {
			shown = append(shown, t.Crossed.Totals.Down, t.Crossed.Totals.Across)
		}
	}
	out := []*working.Table{}
	for _, t := range m.solution.Tables {
		if slices.Contains(shown, t.ID) {
			part := t.Only(func(c working.Column) bool { return m.reached(c.From) })
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
			out = append(out, t.Only(func(c working.Column) bool { return slices.Contains(columns, c.ID) || slices.Contains(t.Key, c.ID) }))
		}
	}
	return out
}

// followCells notes the quantities that the cells of a table are made from.
func (m *mask) followCells(t *working.Table) {
	for _, c := range t.Columns {
		formula.Resolve(c.Formula, func(id string) string {
			m.follow(working.Ref(id))
			return ""
		})
	}
	for i := range min(t.Total, working.PageRows) {
		for _, cell := range t.Row(i) {
			if cell.Ref != "" {
				m.follow(cell.Ref)
			}
		}
	}
}
