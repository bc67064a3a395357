package procedure

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// association is a test of whether two categories have to do with each other, while it is
// worked.
type association struct {
	location
	*crossed
	table      *stats.Table
	continuity bool
}

// begin starts the solution.
func (s *association) begin(p *problem.Problem, d *Description) {
	s.table = stats.NewTable(s.counts, s.continuity)
	s.location = location{p: p, family: chiSquareFamily}
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: s.used, LeftOut: s.given - s.used})
	for _, note := range s.notes {
		s.Note(note)
	}
	s.Control(working.AlphaControl(p.Alpha))
	s.Brief(working.Textf("Look whether **%s** has to do with **%s**", inSentence(s.row.title), inSentence(s.column.title)))
}

// between names the two variables: "reason and ticket".
func (s *association) between() string {
	return inSentence(s.row.title) + " and " + inSentence(s.column.title)
}

func (s *association) alternativeWords() string {
	return s.between() + " have to do with each other"
}

func (s *association) nullWords() string { return s.between() + " are independent of each other" }

func (s *association) question() {
	s.DefineAlpha()
	blocks := append(s.claimBlocks(), working.Say("The question is about two categories: whether *%s* and *%s* have to do with each other, or whether the shares of the one are the same whatever the other is.", inSentence(s.row.title), inSentence(s.column.title)))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// percentage returns 100 part/whole as a cell.
func (s *association) percentage(part, whole int) working.Cell {
	return s.number(100*float64(part)/float64(whole), 1)
}

// data writes the table of counts and its totals.
func (s *association) data() {
	t := s.table
	cells := &working.Table{ID: "cells", Title: fmt.Sprintf("%s by %s", s.row.title, inSentence(s.column.title)), Key: []string{"row", "column"},
		Crossed: &working.Crossed{Down: "row", Across: "column", Leaning: "adjusted_residual", Totals: working.Totals{Down: "row_totals", Across: "column_totals"},
			Join: problem.Pointer("options", "join"), Omit: problem.Pointer("options", "omit"), Order: problem.Pointer("options", "order")},
		Columns: []working.Column{
			{ID: "row", Label: s.row.title}, {ID: "column", Label: s.column.title},
			{ID: "observed", Label: "observed", Symbol: "O", Numeric: true},
			{ID: "row_total", Label: "row total", Symbol: "R", Numeric: true, Hidden: true}, {ID: "column_total", Label: "column total", Symbol: "C", Numeric: true, Hidden: true},
			{ID: "expected", Label: "expected", Symbol: "E", Numeric: true, Formula: `\frac{@{row_total}\cdot @{column_total}}{@{n}}`},
			{ID: "contribution", Label: "contribution", Symbol: `\frac{(O-E)^2}{E}`, Numeric: true, View: "contribution", Formula: `\frac{(@{observed}-@{expected})^{2}}{@{expected}}`},
			{ID: "residual", Label: "residual", Symbol: "r", Numeric: true, View: "residual", Formula: `\frac{@{observed}-@{expected}}{\sqrt{@{expected}}}`},
			{ID: "adjusted_residual", Label: "adjusted residual", Symbol: "a", Numeric: true, View: "adjusted residual", Formula: `\frac{@{residual}}{\sqrt{(1-@{row_total}/@{n})(1-@{column_total}/@{n})}}`},
			{ID: "row_percent", Label: "% of " + inSentence(s.row.title), Numeric: true, View: "% of " + inSentence(s.row.title), Formula: `100\cdot\frac{@{observed}}{@{row_total}}`},
			{ID: "column_percent", Label: "% of " + inSentence(s.column.title), Numeric: true, View: "% of " + inSentence(s.column.title), Formula: `100\cdot\frac{@{observed}}{@{column_total}}`},
			{ID: "total_percent", Label: "% of all", Numeric: true, View: "% of all", Formula: `100\cdot\frac{@{observed}}{@{n}}`},
		}}
	if s.continuity {
		cells.Columns[6].Formula = `\frac{\max(0,\,|@{observed}-@{expected}|-0.5)^{2}}{@{expected}}`
	}
	var rows []working.Row
	var observed, contributions, deviances []float64
	for i, name := range s.row.levels {
		for j, column := range s.column.levels {
			o := s.counts[i][j]
			rows = append(rows, working.Row{nameCell(name), nameCell(column), wholeCell(o), wholeCell(t.Rows[i]), wholeCell(t.Columns[j]),
				s.number(t.Expected[i][j], 1), s.number(t.Contribution[i][j], 3), s.number(t.Residual[i][j], 2), s.number(t.Adjusted[i][j], 2),
				s.percentage(o, t.Rows[i]), s.percentage(o, t.Columns[j]), s.percentage(o, t.N)})
			observed, contributions = append(observed, float64(o)), append(contributions, t.Contribution[i][j])
			deviances = append(deviances, 2*dist.Deviance(float64(o), t.Expected[i][j], t.Difference[i][j]))
		}
	}
	cells.SetRows(rows)
	s.Table(cells)
	s.Table(totals("row_totals", "row", s.row, t.Rows))
	s.Table(totals("column_totals", "column", s.column, t.Columns))
	s.Column("cells/*/observed", observed)
	s.Column("cells/*/contribution", contributions)
	s.Column("cells/*/deviance", deviances)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "All cells of the table added up."}, working.Whole, float64(t.N), formula.Total{Column: s.Series("cells/*/observed", "O", 0)})
	blocks := []working.Block{working.Say("%s.", upperFirst(count(s.given, "case")))}
	if left := s.given - s.used; left > 0 {
		others := "with a missing value or a level left out"
		if s.cases == nil {
			others = "of levels left out"
		}
		blocks[0] = working.Say("%s in all, of which @{n} used. Left out: %s.", upperFirst(count(s.given, "case")), leftOutWords(s.p.LeaveOut, left, others))
	}
	blocks = append(blocks, working.TableBlock{Table: "cells"}, s.joinedWords())
	if s.cases != nil {
		s.Table(s.casesTable())
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, "n = "+s.Show("n"), blocks...)
}

// joinedWords says what the marks in the cells mean, and which levels were joined.
func (s *association) joinedWords() working.Block {
	text := "▲ marks a cell with clearly more than would be expected if the two had nothing to do with each other, ▼ one with clearly fewer."
	for _, m := range []margin{s.row, s.column} {
		for _, parts := range m.parts {
			if len(parts) > 1 {
				text += fmt.Sprintf(" Of %s, %s are taken as one.", inSentence(m.title), listed(parts))
			}
		}
	}
	return working.Note("%s", text)
}

// totals returns a table of the totals of a margin.
func totals(id, column string, m margin, counts []int) *working.Table {
	t := &working.Table{ID: id, Title: "Totals of " + inSentence(m.title), Key: []string{column},
		Columns: []working.Column{{ID: column, Label: m.title}, {ID: "total", Label: "total", Numeric: true}}}
	var rows []working.Row
	for i, name := range m.levels {
		rows = append(rows, working.Row{nameCell(name), wholeCell(counts[i])})
	}
	t.SetRows(rows)
	return t
}

func (s *association) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: len(s.cases), Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "row", Label: s.row.title}, {ID: "column", Label: s.column.title}}}
	t.Row = func(i int) working.Row {
		one := s.cases[i]
		return working.Row{{Value: one.row, Shown: strconv.Itoa(one.row)}, nameCell(s.row.levels[one.down]), nameCell(s.column.levels[one.across])}
	}
	return t
}

// look draws the shares of the columns within each row.
func (s *association) look() {
	f := &working.Figure{ID: "look", Form: working.Bars, Title: fmt.Sprintf("%s within each %s", s.column.title, inSentence(s.row.title)), Series: s.column.levels,
		Axis: working.Axis{Label: "share", Unit: "%", Min: 0, Max: 100}}
	var says []string
	for i, name := range s.row.levels {
		from := 0.0
		var parts []string
		for j, column := range s.column.levels {
			share := 100 * float64(s.counts[i][j]) / float64(s.table.Rows[i])
			f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Row: i, Part: j, Label: name, X: working.Positions(from, from+share)})
			from += share
			parts = append(parts, fmt.Sprintf("%s %s\u00a0%%", column, working.FormatNumber(share, 1)))
		}
		says = append(says, name+": "+strings.Join(parts, ", "))
	}
	f.Says = strings.Join(says, "; ") + "."
	s.Figure(f)
	s.Step(working.Look, fmt.Sprintf("%d × %d", len(s.row.levels), len(s.column.levels)), working.FigureBlock{Figure: "look"},
		working.Say("Each bar is a level of *%s*, parted by *%s*; percentages are of the row. If the two had nothing to do with each other, all bars would be parted alike but for chance.", inSentence(s.row.title), inSentence(s.column.title)))
}

// mosaic draws the table with areas as shares of all cases, filled where a cell leans. Lines
// across show where the strips would be parted if the two were independent.
func (s *association) mosaic() []working.Block {
	f := &working.Figure{ID: "mosaic", Form: working.Mosaic, Title: "Mosaic of the table", Series: s.column.levels, Axis: working.Axis{Label: "share", Unit: "%", Min: 0, Max: 100}}
	n := float64(s.table.N)
	top := 0.0
	var says []string
	for i, name := range s.row.levels {
		bottom := top + 100*float64(s.table.Rows[i])/n
		from := 0.0
		for j, column := range s.column.levels {
			to := from + 100*float64(s.counts[i][j])/float64(s.table.Rows[i])
			lean := s.table.Adjusted[i][j]
			f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Row: i, Part: j, Label: name, X: working.Positions(from, to), Y: working.Positions(top, bottom), Lean: working.Number(lean)})
			switch {
			case lean >= 2:
				says = append(says, fmt.Sprintf("more “%s” among “%s” than expected", column, name))
			case lean <= -2:
				says = append(says, fmt.Sprintf("fewer “%s” among “%s” than expected", column, name))
			}
			from = to
		}
		top = bottom
	}
	from := 0.0
	for j := range s.column.levels[1:] {
		from += 100 * float64(s.table.Columns[j]) / n
		f.Marks = append(f.Marks, working.Mark{Shape: working.RuleMark, Role: working.Expected, X: working.Positions(from)})
	}
	f.Says = "A strip for each " + inSentence(s.row.title) + ", parted by " + inSentence(s.column.title) + "."
	if says != nil {
		f.Says += " There are " + strings.Join(says, "; ") + "."
	}
	s.Figure(f)
	return []working.Block{working.FigureBlock{Figure: "mosaic"},
		working.Note("Each strip is as thick as its share of all cases, and parted by its own shares. The lines show where every strip would be parted if the two had nothing to do with each other.")}
}

func (s *association) hypotheses() {
	s.hypothesesStep("independent", working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \pi_{ij} = \pi_{i\cdot}\,\pi_{\cdot j}\text{ for all cells}`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \pi_{ij} \ne \pi_{i\cdot}\,\pi_{\cdot j}\text{ for some}`, Words: s.alternativeWords()},
	}, working.Say("H₀ says that the probability of a cell is that of its row times that of its column. H₁ leaves open how the two hang together: the test has no direction."))
}

// exactP returns the exact p-value with two tails, NaN and false where counting takes more
// steps than are allowed.
func (s *association) exactP(allowed int) (p float64, ok bool) {
	if s.twoByTwo() {
		return stats.FisherExact(s.firstCell(), s.counts[0][0]), true
	}
	return stats.FreemanHalton(s.counts, allowed)
}

// firstCell is the distribution of the first cell of a 2×2 table given its totals.
func (s *association) firstCell() dist.Hypergeometric {
	return dist.Hypergeometric{Population: s.table.N, Successes: s.table.Columns[0], Draws: s.table.Rows[0]}
}

// leaning lists the cells that differ clearly from what is expected, in words.
func (s *association) leaning() []working.Block {
	t := s.table
	var ps []float64
	for i := range s.row.levels {
		for j := range s.column.levels {
			ps = append(ps, 2*dist.Normal{}.Upper(math.Abs(t.Adjusted[i][j])))
		}
	}
	corrected := stats.Holm(ps)
	table := &working.Table{ID: "leaning", Title: "Which cells make the difference", Key: []string{"row", "column"}, Columns: []working.Column{
		{ID: "row", Label: s.row.title}, {ID: "column", Label: s.column.title}, {ID: "observed", Label: "observed", Numeric: true}, {ID: "expected", Label: "expected", Numeric: true},
		{ID: "adjusted_residual", Label: "adjusted residual", Numeric: true}, {ID: "p", Label: "p (Holm)", Numeric: true}}}
	order := stats.Ascending(ps)
	var rows []working.Row
	var sentences []string
	for _, at := range order {
		i, j := at/len(s.column.levels), at%len(s.column.levels)
		rows = append(rows, working.Row{nameCell(s.row.levels[i]), nameCell(s.column.levels[j]), wholeCell(s.counts[i][j]), s.number(t.Expected[i][j], 1),
			s.number(t.Adjusted[i][j], 2), s.pCell(corrected[at])})
		if corrected[at] <= s.p.Alpha && len(sentences) < 6 {
			more := "more"
			if t.Difference[i][j] < 0 {
				more = "fewer"
			}
			sentences = append(sentences, fmt.Sprintf("%s “%s” among “%s” than expected: %d against %s", more, s.column.levels[j], s.row.levels[i], s.counts[i][j], working.FormatNumber(t.Expected[i][j], 1)))
		}
	}
	table.SetRows(rows)
	s.Table(table)
	said := working.Say("**Which cells make the difference?** None by itself, at α = @{alpha} corrected for their number.")
	if sentences != nil {
		said = working.Say("**Which cells make the difference?** There are %s.", strings.Join(sentences, "; "))
	}
	return []working.Block{said, working.TableBlock{Table: "leaning"},
		working.Note("An adjusted residual is a cell’s distance from the expected count in standard deviations; if H₀ is true it is about a z. The p-values are corrected for looking at all cells (Holm).")}
}

// rowsAgainstRest compares each row with all others together, with p-values corrected for
// their number.
func (s *association) rowsAgainstRest() []working.Block {
	if len(s.row.levels) < 3 {
		return nil
	}
	var each []*stats.Table
	var ps []float64
	for i := range s.row.levels {
		rest := make([]int, len(s.column.levels))
		for k, row := range s.counts {
			for j, o := range row {
				if k != i {
					rest[j] += o
				}
			}
		}
		t := stats.NewTable([][]int{s.counts[i], rest}, false)
		each, ps = append(each, t), append(ps, dist.ChiSquare{DF: t.DF}.Upper(t.ChiSquare))
	}
	corrected := stats.Holm(ps)
	table := &working.Table{ID: "rows", Title: "Each row against the rest", Key: []string{"row"}, Columns: []working.Column{
		{ID: "row", Label: s.row.title}, {ID: "chi_square", Label: "χ²", Numeric: true}, {ID: "df", Label: "df", Numeric: true}, {ID: "p", Label: "p", Numeric: true}, {ID: "p_holm", Label: "p (Holm)", Numeric: true}}}
	var rows []working.Row
	var differ []string
	for i, name := range s.row.levels {
		rows = append(rows, working.Row{nameCell(name), s.number(each[i].ChiSquare, 3), wholeCell(int(each[i].DF)), s.pCell(ps[i]), s.pCell(corrected[i])})
		if corrected[i] <= s.p.Alpha {
			differ = append(differ, name)
		}
	}
	table.SetRows(rows)
	s.Table(table)
	says := "no row by itself differs from all others"
	if differ != nil {
		says = problem.List(differ, "and") + " differ" + map[bool]string{true: "s", false: ""}[len(differ) == 1] + " from all others together"
	}
	return []working.Block{working.Say("**Each row against the rest**: at α = @{alpha}, corrected for their number, %s.", says), working.TableBlock{Table: "rows"}}
}

// withinRows compares the counts of each row with the same proportions, with p-values
// corrected for the number of rows.
func (s *association) withinRows(weights []float64, states string) []working.Block {
	var each []stats.Fit
	var ps []float64
	for _, row := range s.counts {
		f := stats.CompareFit(row, weights)
		each, ps = append(each, f), append(ps, dist.ChiSquare{DF: f.DF}.Upper(f.ChiSquare))
	}
	corrected := stats.Holm(ps)
	table := &working.Table{ID: "within", Title: "Within each row", Key: []string{"row"}, Columns: []working.Column{
		{ID: "row", Label: s.row.title}, {ID: "least_expected", Label: "least expected", Numeric: true}, {ID: "chi_square", Label: "χ²", Numeric: true}, {ID: "df", Label: "df", Numeric: true}, {ID: "p", Label: "p", Numeric: true}, {ID: "p_holm", Label: "p (Holm)", Numeric: true}}}
	var rows []working.Row
	var differ, small []string
	for i, name := range s.row.levels {
		least := slices.Min(each[i].Expected)
		rows = append(rows, working.Row{nameCell(name), s.number(least, 1), s.number(each[i].ChiSquare, 3), wholeCell(int(each[i].DF)), s.pCell(ps[i]), s.pCell(corrected[i])})
		if corrected[i] <= s.p.Alpha {
			differ = append(differ, name)
		}
		if least < 5 {
			small = append(small, name)
		}
	}
	table.SetRows(rows)
	s.Table(table)
	says := "no row by itself departs from that"
	if differ != nil {
		says = problem.List(differ, "and") + " depart" + map[bool]string{true: "s", false: ""}[len(differ) == 1] + " from that"
	}
	blocks := []working.Block{working.Say("**Within each row**: are the levels of *%s* %s? At α = @{alpha}, corrected for the number of rows, %s.", inSentence(s.column.title), states, says), working.TableBlock{Table: "within"}}
	if small != nil {
		blocks = append(blocks, working.Note("Fewer than 5 are expected in a cell of %s: there p is rough.", problem.List(small, "and")))
	}
	return blocks
}

// associationSize reads Cramér's V (J. Cohen, Statistical Power Analysis, 2nd ed., 7.2: w =
// V√(k − 1) of 0.1, 0.3 and 0.5, with k the smaller number of levels).
func (s *association) associationSize() string {
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
