package working

import (
	"fmt"
	"regexp"
	"strings"
)

// Markdown returns the solution for reading: the steps in order, formulas in TeX
// between dollar signs, figures as their text alternative, a person's notes where they belong.
func Markdown(s *Solution, title string) string {
	m := &markdown{solution: s}
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

// Markdown returns blocks of a solution for reading, of long tables the rows that are put on paper.
func (s *Solution) Markdown(blocks []Block) string {
	m := &markdown{solution: s, rows: PaperRows}
	for i, block := range blocks {
		if i > 0 {
			m.line("")
		}
		block.markdown(m)
	}
	return m.String()
}

// notes writes those that stand with a step, as they were written.
func (m *markdown) notes(step StepID) {
	for _, note := range m.solution.NotesAt(step) {
		head := "Note"
		if note.About != "" {
			head += " on " + escape(note.About)
		}
		m.line("")
		m.line("> **" + head + ".** " + strings.ReplaceAll(note.Text, "\n", "\n> "))
		if note.Drawing != nil {
			m.line("> *" + note.Drawing.Says() + "*")
		}
		if note.Changed != "" {
			m.line("> *" + escape(note.Changed) + "*")
		}
	}
}

type markdown struct {
	strings.Builder
	solution *Solution
	rows     int // at most, of a table; all where it is 0
}

func (m *markdown) line(text string) { m.WriteString(text + "\n") }

func (b Prose) markdown(m *markdown)        { m.prose(b) }
func (b ReportLine) markdown(m *markdown)   { m.line("> " + m.text(b.Text)) }
func (b FormulaBlock) markdown(m *markdown) { m.formula(m.solution.Quantity(b.Quantity)) }
func (b TableBlock) markdown(m *markdown)   { m.table(m.solution.Table(b.Table)) }

func (b Values) markdown(m *markdown) {
	for _, ref := range b.Quantities {
		q := m.solution.Quantity(ref)
		m.line(fmt.Sprintf("- %s: $%s$ = %s", escape(q.Label), q.Symbol, escape(q.WithUnit())))
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
	c := m.solution.Condition(b.Condition)
	m.line(fmt.Sprintf("- **%s**: %s", strings.ReplaceAll(string(c.Status), "_", " "), escape(c.Reason)))
}

func (b Verdict) markdown(m *markdown) {
	decision := "do not reject H₀"
	if b.Reject {
		decision = "reject H₀"
	}
	m.line(fmt.Sprintf("- %s: %s, %s: **%s**", b.Rule.Words(), escape(b.Compare), escape(b.Says), decision))
}

func (ControlBlock) markdown(*markdown)    {}
func (ChoiceBlock) markdown(*markdown)     {}
func (DeriveBlock) markdown(*markdown)     {}
func (PlaceBlock) markdown(*markdown)      {}
func (ContrastBlock) markdown(*markdown)   {}
func (SimulationBlock) markdown(*markdown) {}
func (PowerBlock) markdown(*markdown)      {}

func (m *markdown) figure(id string) {
	m.line("*Picture.* " + escape(m.solution.Figure(id).Says))
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
		words := escape(m.solution.Shown(piece))
		switch {
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
	defined, numeric := m.solution.TeX(q)
	m.line("$$" + strings.TrimSpace(defined+" "+numeric) + "$$")
	if q.Formula != nil && q.Formula.Rounding != "" {
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
		head = append(head, escape(c.Heading()))
		if c.Numeric {
			rule = append(rule, "---:")
		} else {
			rule = append(rule, "---")
		}
	}
	m.line("| " + strings.Join(head, " | ") + " |")
	m.line("| " + strings.Join(rule, " | ") + " |")
	rows := t.Total
	if m.rows > 0 {
		rows = min(rows, m.rows)
	}
	for i := range rows {
		row := t.Row(i)
		var cells []string
		for j, cell := range row {
			if !t.Columns[j].Hidden {
				cells = append(cells, escape(cell.Shown))
			}
		}
		m.line("| " + strings.Join(cells, " | ") + " |")
	}
	if says := t.Unshown(rows); says != "" {
		m.line("")
		m.line("*" + says + "*")
	}
}

// escape keeps what a person wrote from being read as markdown; a sign that is less than something stays one.
func escape(text string) string { return tags.ReplaceAllString(signs.Replace(text), "&lt;$1") }

var (
	signs = strings.NewReplacer(`\`, `\\`, "*", `\*`, "_", `\_`, "|", `\|`, "`", "\\`", "\n", " ", "[", `\[`)
	// tags begin what markdown takes for HTML (CommonMark 0.31, 6.6).
	tags = regexp.MustCompile(`<([A-Za-z/!?])`)
)
