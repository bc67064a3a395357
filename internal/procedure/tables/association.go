// Package tables holds the procedures about tables of two categories: independence by the
// chi-square statistic, and by counting all tables with the same totals.
package tables

import (
	"context"
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/stats/exact"
	"grund/internal/words"
	"grund/internal/working"
)

// association is a problem about whether two categories have to do with each other.
type association struct {
	write.Sheet
	*crossed
	d          *describe.Description
	table      *stats.Table
	continuity bool
	within     cases.Weights // what each row is compared with for itself
}

// newAssociation returns the problem of a table.
func newAssociation(p *problem.Problem, d *describe.Description, table *crossed, continuity bool) association {
	s := association{crossed: table, d: d, table: stats.NewTable(table.counts, continuity), continuity: continuity}
	s.P, s.Family = p, write.ChiSquare
	between := s.row.name() + " and " + s.column.name()
	s.Direction = write.Undirected(working.Compared{Of: []string{s.row.name(), s.column.name()}, By: "chi_square"},
		between+" are independent of each other", between+" have to do with each other")
	return s
}

// begin starts the solution; test is what textbooks call the test.
func (s *association) begin(test string) {
	s.Start(s.d, test, s.given, s.used)
	for _, note := range s.notes {
		s.Note(working.Data, note)
	}
	s.Control(working.AlphaControl(s.P.Alpha))
	s.Brief(working.Textf("Look whether **%s** has to do with **%s**", s.row.name(), s.column.name()))
}

func (s *association) question() {
	s.QuestionStep(working.Say("The question is about two categories: whether *%s* and *%s* have to do with each other, "+
		"or whether the shares of the one are the same whatever the other is.", s.row.name(), s.column.name()))
}

// percentage returns 100 part/whole as a cell.
func (s *association) percentage(part, whole int) working.Cell {
	return s.PercentCell(100*float64(part)/float64(whole), 1)
}

// count writes the table of counts and its totals, and the step on the data.
func (s *association) count() {
	s.cellsTable()
	s.totalsTable("row_totals", "row", &s.row, s.table.Rows)
	s.totalsTable("column_totals", "column", &s.column, s.table.Columns)
	var observed, contributions, deviances []float64
	for i := range s.counts {
		for j, o := range s.counts[i] {
			observed, contributions = append(observed, float64(o)), append(contributions, s.table.Contribution[i][j])
			deviances = append(deviances, s.deviance(i, j))
		}
	}
	s.Column("cells/*/observed", observed)
	s.Column("cells/*/contribution", contributions)
	s.Column("cells/*/deviance", deviances)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "All cells of the table added up."},
		working.Whole, float64(s.table.N), formula.Total{Column: s.Series("cells/*/observed", "O", 0)})
	counted := write.Counted{Given: s.given, Used: s.used, UsedRef: "n", Others: "with a missing value or a level left out"}
	if s.cases == nil {
		counted.Others = "of levels left out"
	}
	blocks := []working.Block{s.Counted(counted), working.TableBlock{Table: "cells"}, s.joinedWords()}
	if s.cases != nil {
		s.casesTable()
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("n = @{n}"), blocks...)
}

// deviance is what a cell adds to the likelihood ratio, 2 (O ln(O/E) − O + E).
func (s *association) deviance(i, j int) float64 {
	return 2 * dist.Deviance(float64(s.counts[i][j]), s.table.Expected[i][j], s.table.Difference[i][j])
}

// cellsTable adds the table of counts, with what is expected and all that follows from it.
func (s *association) cellsTable() {
	contribution := `\frac{(@{observed}-@{expected})^{2}}{@{expected}}`
	if s.continuity {
		contribution = `\frac{\max(0,\,|@{observed}-@{expected}|-0.5)^{2}}{@{expected}}`
	}
	percent := func(id, of, under string) working.Column {
		return working.Column{ID: id, Label: "% of " + of, Numeric: true, View: "% of " + of, Formula: `100\cdot\frac{@{observed}}{@{` + under +
			`}}`}
	}
	cells := &working.Table{
		ID: "cells", Title: fmt.Sprintf("%s by %s", s.row.title, s.column.name()), Key: []string{"row", "column"},
		Crossed: &working.Crossed{
			Down: "row", Across: "column", Leaning: "adjusted_residual", Totals: working.Totals{Down: "row_totals", Across: "column_totals"},
			Join: problem.Pointer("options", "join"), Omit: problem.Pointer("options", "omit"), Order: problem.Pointer("options", "order"),
		},
		Columns: []working.Column{
			{ID: "row", Label: s.row.title}, {ID: "column", Label: s.column.title},
			{ID: "observed", Label: "observed", Symbol: "O", Numeric: true},
			{ID: "row_total", Label: "row total", Symbol: "R", Numeric: true, Hidden: true},
			{ID: "column_total", Label: "column total", Symbol: "C", Numeric: true, Hidden: true},
			{
				ID: "expected", Label: "expected", Symbol: "E", Numeric: true, Formula: `\frac{@{row_total}\cdot @{column_total}}{@{n}}`,
				From: working.Conditions,
			},
			{
				ID: "contribution", Label: "contribution", Symbol: `\frac{(O-E)^2}{E}`, Numeric: true, View: "contribution", Formula: contribution,
				From: working.Statistic,
			},
			{
				ID: "residual", Label: "residual", Symbol: "r", Numeric: true, View: "residual", From: working.Statistic,
				Formula: `\frac{@{observed}-@{expected}}{\sqrt{@{expected}}}`,
			},
			{
				ID: "adjusted_residual", Label: "adjusted residual", Symbol: "a", Numeric: true, View: "adjusted residual",
				From:    working.Statistic,
				Formula: `\frac{@{residual}}{\sqrt{(1-@{row_total}/@{n})(1-@{column_total}/@{n})}}`,
			},
			percent("row_percent", s.row.name(), "row_total"), percent("column_percent", s.column.name(), "column_total"),
			percent("total_percent", "all", "n"),
		},
	}
	var rows []working.Row
	t := s.table
	for i, name := range s.row.levels {
		for j, column := range s.column.levels {
			o := s.counts[i][j]
			rows = append(rows, working.Row{
				working.NameCell(name), working.NameCell(column), working.WholeCell(o), working.WholeCell(t.Rows[i]), working.WholeCell(t.Columns[j]),
				s.ExpectedCell(t.Expected[i][j], 1), s.StatisticCell(t.Contribution[i][j], 3), s.StatisticCell(t.Residual[i][j], 2),
				s.StatisticCell(t.Adjusted[i][j], 2),
				s.percentage(o, t.Rows[i]), s.percentage(o, t.Columns[j]), s.percentage(o, t.N),
			})
		}
	}
	cells.SetRows(rows)
	s.Table(cells)
}

// joinedWords says what the marks in the cells mean, and which levels were joined.
func (s *association) joinedWords() working.Block {
	text := "▲ marks a cell with clearly more than would be expected if the two had nothing to do with each other, ▼ one with clearly fewer."
	for _, m := range []*margin{&s.row, &s.column} {
		for _, parts := range m.parts {
			if len(parts) > 1 {
				text += fmt.Sprintf(" Of %s, %s are taken as one.", m.name(), words.Listed(parts))
			}
		}
	}
	return working.Note("%s", text)
}

// totalsTable adds a table of the totals of a margin.
func (s *association) totalsTable(id, column string, m *margin, counts []int) {
	t := &working.Table{
		ID: id, Title: "Totals of " + m.name(), Key: []string{column},
		Columns: []working.Column{{ID: column, Label: m.title}, {ID: "total", Label: "total", Numeric: true}},
	}
	var rows []working.Row
	for i, name := range m.levels {
		rows = append(rows, working.Row{working.NameCell(name), working.WholeCell(counts[i])})
	}
	t.SetRows(rows)
	s.Table(t)
}

func (s *association) casesTable() {
	rows := make([]int, len(s.cases))
	for i, one := range s.cases {
		rows[i] = one.row
	}
	s.CasesTable(write.UsedTitle, rows,
		write.Named("row", s.row.title, func(i int) string { return s.row.levels[s.cases[i].down] }),
		write.Named("column", s.column.title, func(i int) string { return s.column.levels[s.cases[i].across] }))
}

// look draws the shares of the columns within each row.
func (s *association) look() {
	f := &working.Figure{
		ID: "look", Form: working.Bars, Title: fmt.Sprintf("%s within each %s", s.column.title, s.row.name()), Series: s.column.levels,
		Axis: working.Axis{Label: "share", Unit: "%", Min: 0, Max: 100},
	}
	var says []string
	for i, name := range s.row.levels {
		from := 0.0
		var parts []string
		for j, column := range s.column.levels {
			share := 100 * float64(s.counts[i][j]) / float64(s.table.Rows[i])
			f.Marks = append(f.Marks, working.Mark{
				Shape: working.Bar, Role: working.Observed, Row: i, Part: j, Label: name, X: working.Positions(from, from+share),
			})
			from += share
			parts = append(parts, fmt.Sprintf("%s %s\u00a0%%", column, working.FormatNumber(share, 1)))
		}
		says = append(says, name+": "+strings.Join(parts, ", "))
	}
	f.Says = strings.Join(says, "; ") + "."
	s.Figure(f)
	s.Step(working.Look, working.Textf("%d × %d", len(s.row.levels), len(s.column.levels)), working.FigureBlock{Figure: "look"},
		working.Say("Each bar is a level of *%s*, parted by *%s*; percentages are of the row. If the two had nothing to do with each other, "+
			"all bars would be parted alike but for chance.", s.row.name(), s.column.name()))
}

func (s *association) hypotheses() {
	s.UndirectedHypotheses("independent", `\pi_{ij} = \pi_{i\cdot}\,\pi_{\cdot j}\text{ for all cells}`,
		`\pi_{ij} \ne \pi_{i\cdot}\,\pi_{\cdot j}\text{ for some}`,
		working.Say("H₀ says that the probability of a cell is that of its row times that of its column. "+
			"H₁ leaves open how the two hang together: the test has no direction."))
}

// countedAll returns the exact p-value with two tails, NaN and false where counting takes more
// steps than are allowed.
func (s *association) countedAll(ctx context.Context, allowed int) (p float64, ok bool) {
	if s.twoByTwo() {
		return stats.FisherExact(s.firstCell(), s.counts[0][0]), true
	}
	return exact.FreemanHalton(ctx, s.counts, allowed)
}

// firstCell is the distribution of the first cell of a 2×2 table given its totals.
func (s *association) firstCell() dist.Hypergeometric {
	return dist.Hypergeometric{Population: s.table.N, Successes: s.table.Columns[0], Draws: s.table.Rows[0]}
}

// size reads Cramér's V (J. Cohen, Statistical Power Analysis, 2nd ed., 7.2: w = V√(k − 1) of
// 0.1, 0.3 and 0.5, with k the smaller number of levels).
func (s *association) size() string {
	switch w := s.table.CramersV * math.Sqrt(float64(min(len(s.row.levels), len(s.column.levels))-1)); {
	case w < 0.1:
		return "less than weak"
	case w < 0.3:
		return "weak"
	case w < 0.5:
		return "medium"
	}
	return "strong"
}

// causes warns of a reading that a rejection invites.
func causes() working.Block {
	return working.Warn("That the two have to do with each other does not say that one brings the other about.")
}

// strength says how strong the association is.
func (s *association) strength() working.Block {
	return working.Say("**How strong is it?** Cramér’s V is @{cramers_v}: %s, by the usual rule of thumb for a table of this size.", s.size())
}
