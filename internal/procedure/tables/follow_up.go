package tables

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// mosaic draws the table with areas as shares of all cases, filled where a cell leans. Lines
// across show where the strips would be parted if the two were independent.
func (s *association) mosaic() []working.Block {
	f := &working.Figure{
		ID: "mosaic", Form: working.Mosaic, Title: "Mosaic of the table", Series: s.column.levels,
		Axis: working.Axis{Label: "share", Unit: "%", Min: 0, Max: 100},
		Says: "A strip for each " + s.row.name() + ", parted by " + s.column.name() + ".",
	}
	n := float64(s.table.N)
	top := 0.0
	var says []string
	for i, name := range s.row.levels {
		bottom := top + 100*float64(s.table.Rows[i])/n
		from := 0.0
		for j, column := range s.column.levels {
			to := from + 100*float64(s.counts[i][j])/float64(s.table.Rows[i])
			lean := s.table.Adjusted[i][j]
			f.Marks = append(f.Marks, working.Mark{
				Shape: working.Bar, Role: working.Observed, Row: i, Part: j, Label: name,
				X: working.Positions(from, to), Y: working.Positions(top, bottom), Lean: working.Number(lean),
			})
			if math.Abs(lean) >= 2 {
				says = append(says, fmt.Sprintf("%s “%s” among “%s” than expected", moreOrFewer(lean), column, name))
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
	if says != nil {
		f.Says += " There are " + strings.Join(says, "; ") + "."
	}
	s.Figure(f)
	return []working.Block{
		working.FigureBlock{Figure: "mosaic"},
		working.Note("Each strip is as thick as its share of all cases, and parted by its own shares. " +
			"The lines show where every strip would be parted if the two had nothing to do with each other."),
	}
}

// moreOrFewer says to which side of what is expected a count lies.
func moreOrFewer(difference float64) string {
	if difference < 0 {
		return "fewer"
	}
	return "more"
}

// leaning lists the cells that differ clearly from what is expected, in words.
func (s *association) leaning() []working.Block {
	t := s.table
	var ps []float64
	for i := range t.Adjusted {
		for _, adjusted := range t.Adjusted[i] {
			ps = append(ps, 2*dist.Normal{}.Upper(math.Abs(adjusted)))
		}
	}
	corrected := stats.Holm(ps)
	table := &working.Table{ID: "leaning", Title: "Which cells make the difference", Key: []string{"row", "column"}, Columns: []working.Column{
		{ID: "row", Label: s.row.title}, {ID: "column", Label: s.column.title}, {ID: "observed", Label: "observed", Numeric: true},
		{ID: "expected", Label: "expected", Numeric: true}, {ID: "adjusted_residual", Label: "adjusted residual", Numeric: true},
		{ID: "p", Label: "p (Holm)", Numeric: true},
	}}
	var rows []working.Row
	var sentences []string
	for _, at := range stats.Ascending(ps) {
		i, j := at/len(s.column.levels), at%len(s.column.levels)
		rows = append(rows, working.Row{
			working.NameCell(s.row.levels[i]), working.NameCell(s.column.levels[j]), working.WholeCell(s.counts[i][j]),
			s.ExpectedCell(t.Expected[i][j], 1),
			s.StatisticCell(t.Adjusted[i][j], 2), s.PCell(corrected[at]),
		})
		if corrected[at] <= s.P.Alpha && len(sentences) < 6 {
			sentences = append(sentences, fmt.Sprintf("%s “%s” among “%s” than expected: %d against %s", moreOrFewer(t.Difference[i][j]),
				s.column.levels[j], s.row.levels[i], s.counts[i][j], working.FormatNumber(t.Expected[i][j], 1)))
		}
	}
	table.SetRows(rows)
	s.Table(table)
	said := working.Say("**Which cells make the difference?** None by itself, at α = @{alpha} corrected for their number.")
	if sentences != nil {
		said = working.Say("**Which cells make the difference?** There are %s.", strings.Join(sentences, "; "))
	}
	return []working.Block{
		said, working.TableBlock{Table: "leaning"},
		working.Note("An adjusted residual is a cell’s distance from the expected count in standard deviations; if H₀ is true it is about a z. " +
			"The p-values are corrected for looking at all cells (Holm)."),
	}
}

// aTest is a chi-square test of a single row.
type aTest struct{ chiSquare, df, p, corrected float64 }

// corrected returns tests with p-values corrected for their number.
func corrected(tests []aTest) []aTest {
	ps := make([]float64, len(tests))
	for i := range tests {
		tests[i].p = dist.ChiSquare{DF: tests[i].df}.Upper(tests[i].chiSquare)
		ps[i] = tests[i].p
	}
	for i, p := range stats.Holm(ps) {
		tests[i].corrected = p
	}
	return tests
}

// testsTable adds a table of a test for each row, and returns the rows that differ. between are
// cells that stand after the row's name.
func (s *association) testsTable(id, title string, tests []aTest, columns []working.Column, between func(i int) []working.Cell) (
	differ []string) {
	t := &working.Table{ID: id, Title: title, Key: []string{"row"}, Columns: slices.Concat(
		[]working.Column{{ID: "row", Label: s.row.title}}, columns,
		[]working.Column{
			{ID: "chi_square", Label: "χ²", Numeric: true}, {ID: "df", Label: "df", Numeric: true}, {ID: "p", Label: "p", Numeric: true},
			{ID: "p_holm", Label: "p (Holm)", Numeric: true},
		})}
	var rows []working.Row
	for i, name := range s.row.levels {
		one := tests[i]
		row := append(working.Row{working.NameCell(name)}, between(i)...)
		rows = append(rows, append(row, s.StatisticCell(one.chiSquare, 3), working.WholeCell(int(one.df)), s.PCell(one.p),
			s.PCell(one.corrected)))
		if one.corrected <= s.P.Alpha {
			differ = append(differ, name)
		}
	}
	t.SetRows(rows)
	s.Table(t)
	return differ
}

// verb writes a verb for one or several that do it.
func verb(doing string, many []string) string {
	if len(many) == 1 {
		return doing + "s"
	}
	return doing
}

// rowsAgainstRest compares each row with all others together, with p-values corrected for their
// number.
func (s *association) rowsAgainstRest() []working.Block {
	if len(s.row.levels) < 3 {
		return nil
	}
	tests := make([]aTest, len(s.row.levels))
	for i := range tests {
		rest := make([]int, len(s.column.levels))
		for k, row := range s.counts {
			for j, o := range row {
				if k != i {
					rest[j] += o
				}
			}
		}
		t := stats.NewTable([][]int{s.counts[i], rest}, false)
		tests[i] = aTest{chiSquare: t.ChiSquare, df: t.DF}
	}
	differ := s.testsTable("rows", "Each row against the rest", corrected(tests), nil, func(int) []working.Cell { return nil })
	says := "no row by itself differs from all others"
	if differ != nil {
		says = words.Quoted(differ, "and") + " " + verb("differ", differ) + " from all others together"
	}
	return []working.Block{
		working.Say("**Each row against the rest**: at α = @{alpha}, corrected for their number, %s.", says), working.TableBlock{Table: "rows"},
	}
}
