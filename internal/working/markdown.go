package working

import (
	"fmt"
	"strings"

	"grund/internal/formula"
)

// Markdown returns the solution for reading: the steps in order, formulas in TeX
// between dollar signs, figures as their text alternative, a person's notes where they belong.
func Markdown(s *Solution, title string) string {
	m := &markdown{solution: s, quantities: map[Ref]*Quantity{}}
	for _, q := range s.Quantities {
		m.quantities[q.ID] = q
	}
	if title == "" {
		title = s.Title
	}
	m.line("# " + escape(title))
	for i, step := range s.Steps {
		m.line("")
		m.line(fmt.Sprintf("## %d. %s", i+1, step.Title))
		for _, block := range step.Blocks {
			m.line("")
			block.markdown(m)
		}
		m.notes(step.ID)
	}
	for _, note := range s.Notes {
		m.line("")
		m.line("Note: " + escape(note))
	}
	return m.String()
}

// notes writes those that stand with a step, as they were written.
func (m *markdown) notes(step StepID) {
	for _, note := range m.solution.OwnNotes {
		if note.Step != step {
			continue
		}
		head := "Note"
		if note.About != "" {
			head += " on " + escape(note.About)
		}
		m.line("")
		m.line("> **" + head + ".** " + strings.ReplaceAll(note.Text, "\n", "\n> "))
		if note.Changed != "" {
			m.line("> *" + escape(note.Changed) + "*")
		}
	}
}

type markdown struct {
	strings.Builder
	solution   *Solution
	quantities map[Ref]*Quantity
}

func (m *markdown) line(text string) { m.WriteString(text + "\n") }

func (b Prose) markdown(m *markdown)        { m.prose(b) }
func (b ReportLine) markdown(m *markdown)   { m.line("> " + m.text(b.Text)) }
func (b FormulaBlock) markdown(m *markdown) { m.formula(m.quantities[b.Quantity]) }
func (b TableBlock) markdown(m *markdown)   { m.table(m.solution.Table(b.Table)) }

func (b Values) markdown(m *markdown) {
	for _, ref := range b.Quantities {
		q := m.quantities[ref]
		m.line(fmt.Sprintf("- %s: $%s$ = %s", escape(q.Label), q.Symbol, withUnit(q)))
	}
}

func (b FigureBlock) markdown(m *markdown) {
	if b.Views == nil {
		m.figure(b.Figure)
	}
	for i, view := range b.Views {
		if i > 0 {
			m.line("")
		}
		m.figure(view.Figure)
		m.line("")
		m.line(escape(view.Says))
	}
}

func (b HypothesesBlock) markdown(m *markdown) {
	m.line(fmt.Sprintf("- $%s$: %s", b.Null.Symbols, escape(b.Null.Words)))
	m.line(fmt.Sprintf("- $%s$: %s", b.Alternative.Symbols, escape(b.Alternative.Words)))
}

func (b Check) markdown(m *markdown) {
	for _, c := range m.solution.Conditions {
		if c.ID == b.Condition {
			m.line(fmt.Sprintf("- **%s**: %s", strings.ReplaceAll(string(c.Status), "_", " "), escape(c.Reason)))
		}
	}
}

func (b Verdict) markdown(m *markdown) {
	name := "By the critical value"
	if b.Rule == ByPValue {
		name = "By the p-value"
	}
	decision := "do not reject H₀"
	if b.Reject {
		decision = "reject H₀"
	}
	m.line(fmt.Sprintf("- %s: %s, %s: **%s**", name, escape(b.Compare), escape(b.Says), decision))
}

func (ControlBlock) markdown(*markdown)    {}
func (ChoiceBlock) markdown(*markdown)     {}
func (DeriveBlock) markdown(*markdown)     {}
func (PlaceBlock) markdown(*markdown)      {}
func (ContrastBlock) markdown(*markdown)   {}
func (SimulationBlock) markdown(*markdown) {}
func (PowerBlock) markdown(*markdown)      {}

func (m *markdown) figure(id string) {
	for _, f := range m.solution.Figures {
		if f.ID == id {
			m.line("*Picture.* " + escape(f.Says))
		}
	}
}

func (m *markdown) prose(p Prose) {
	text := m.text(p.Text)
	switch p.Tone {
	case Answer:
		text = "**" + text + "**"
	case Caution:
		text = "> Careful: " + text
	}
	m.line(text)
}

func (m *markdown) text(text Text) string {
	var b strings.Builder
	for _, piece := range text {
		words := escape(piece.Words)
		switch {
		case piece.Ref != "" && words == "":
			b.WriteString(withUnit(m.quantities[piece.Ref]))
		case piece.Style == Strong:
			b.WriteString("**" + words + "**")
		case piece.Style == Emphasis, piece.Style == Symbol:
			b.WriteString("*" + words + "*")
		default:
			b.WriteString(words)
		}
	}
	return b.String()
}

func (m *markdown) formula(q *Quantity) {
	if q.Formula == nil {
		m.line(fmt.Sprintf("$$%s = %s$$", q.Symbol, formula.TeXNumber(q.Display)))
		return
	}
	symbolic := formula.Resolve(q.Formula.Symbolic, func(id string) string { return m.quantities[Ref(id)].Symbol })
	numeric := q.Formula.Numeric
	if numeric == "" {
		numeric = q.Formula.Symbolic
	}
	numeric = formula.Resolve(numeric, func(id string) string { return formula.TeXNumber(m.quantities[Ref(id)].Display) })
	relation := "= "
	if q.bound {
		relation = ""
	}
	symbol := q.Symbol + " = "
	if q.Symbol == symbolic {
		symbol = ""
	}
	m.line(fmt.Sprintf("$$%s%s = %s %s%s$$", symbol, symbolic, numeric, relation, formula.TeXNumber(q.Display)))
	if q.Formula.Rounding != "" {
		m.line("")
		m.line(escape(q.Formula.Rounding))
	}
}

func (m *markdown) table(t *Table) {
	var head, rule []string
	for _, c := range t.Columns {
		if c.Hidden {
			continue
		}
		label := escape(c.Label)
		if c.Unit != "" {
			label += " (" + escape(c.Unit) + ")"
		}
		head = append(head, label)
		if c.Numeric {
			rule = append(rule, "---:")
		} else {
			rule = append(rule, "---")
		}
	}
	m.line("| " + strings.Join(head, " | ") + " |")
	m.line("| " + strings.Join(rule, " | ") + " |")
	for _, row := range t.Rows() {
		var cells []string
		for j, cell := range row {
			if !t.Columns[j].Hidden {
				cells = append(cells, escape(cell.Shown))
			}
		}
		m.line("| " + strings.Join(cells, " | ") + " |")
	}
}

func withUnit(q *Quantity) string {
	if q.Unit == "" {
		return q.Display
	}
	return q.Display + "\u00a0" + escape(q.Unit)
}

// escape keeps what a person wrote from being read as markdown.
var escape = strings.NewReplacer(`\`, `\\`, "*", `\*`, "_", `\_`, "|", `\|`, "`", "\\`", "<", "&lt;", "\n", " ", "[", `\[`).Replace
