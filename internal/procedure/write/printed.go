package write

import (
	"math"
	"slices"
	"strconv"

	"grund/internal/formula"
	"grund/internal/printed"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// around adds the part of the table around a row and a column, with both marked, and returns its
// block; none where the table does not hold them.
func (s *Sheet) around(t *printed.Table, row, column int) []working.Block {
	if row < 0 || column < 0 {
		return nil
	}
	const reach, most = 2, 10 // columns that are shown all
	window := func(at, n int) (from, to int) {
		from = max(0, min(at-reach, n-2*reach-1))
		return from, min(n, from+2*reach+1)
	}
	top, bottom := window(row, len(t.Rows))
	left, right := 0, len(t.Columns)
	if right > most {
		left, right = window(column, right)
	}
	table := &working.Table{
		ID: "printed", Title: t.Title, Key: []string{"row"}, Columns: []working.Column{{ID: "row", Label: t.Corner}},
		Marked: []int{row - top, column - left + 1},
	}
	for j := left; j < right; j++ {
		table.Columns = append(table.Columns, working.Column{ID: "column_" + strconv.Itoa(j-left+1), Label: t.ColumnName(j), Numeric: true})
	}
	var rows []working.Row
	for i := top; i < bottom; i++ {
		cells := working.Row{working.NameCell(t.RowName(i))}
		for j := left; j < right; j++ {
			cells = append(cells, working.EnteredCell(t.Cell(i, j), t.Decimals))
		}
		rows = append(rows, cells)
	}
	table.SetRows(rows)
	s.Table(table)
	return []working.Block{working.TableBlock{Table: "printed"}}
}

// tailArea returns the area in one tail of the rejection region.
func (s *Sheet) tailArea() float64 { return s.Direction.TailArea(s.P.Alpha) }

// skippedRow says which row to take where a table skips that of df.
func skippedRow(df float64, other string) string {
	if df <= printed.EveryRow {
		return ""
	}
	return " If the table skips that row, take the next " + other + "."
}

// Printed says where a printed table of z or t shows the critical value.
func (s *Sheet) Printed() []working.Block {
	column := working.FormatShortest(s.tailArea())
	if len(s.Family.Degrees) == 0 {
		return append([]working.Block{working.Note("A printed table of the normal distribution shows it where the area beyond $z$ "+
			"is nearest to %s, the first decimal of $z$ in its row and the second in its column; a t table shows it in its last "+
			"row, ∞ degrees of freedom.", column)},
			s.printedNormal()...)
	}
	of := working.Ref(s.Family.Degrees[0])
	df := s.Value(of)
	if working.IsWhole(df) {
		return append([]working.Block{working.Note("A printed t table shows it in the row of @{%s} %s, in the column of area %s in one tail.%s",
			of, s.DegreesNoun(of), column, skippedRow(df, "smaller one"))}, s.printedT(df)...)
	}
	return s.roundedT(math.Floor(df), column)
}

// roundedT says where a printed t table shows the critical value with degrees of freedom that are
// rounded down to a row.
func (s *Sheet) roundedT(row float64, column string) []working.Block {
	if row < 1 {
		return nil
	}
	area := formula.Expr(formula.Ref("alpha"))
	if !s.Direction.Directed() {
		area = formula.Quotient{Over: area, Under: formula.Num(2)}
	}
	rounded := s.Family
	rounded.Degrees = []formula.Ref{"df_printed"}
	s.Define(working.Quantity{
		Aside: true, ID: "df_printed", Symbol: `\nu_{\text{table}}`, Label: "Degrees of freedom, rounded down",
		Says: "Printed tables have whole rows; rounding down errs on the careful side.",
	}, working.Whole, row, formula.Floor{X: s.Family.Degrees[0]})
	s.Define(working.Quantity{
		Aside: true, ID: "critical_printed", Symbol: `t_{\text{table}}`, Label: "Critical value in a printed table",
		Says: "A little farther out than the exact one, because the degrees of freedom were rounded down.",
	}, working.Ratio, dist.T{DF: row}.UpperQuantile(s.tailArea()), formula.Quantile{Of: rounded, Area: area})
	return append([]working.Block{working.Note("A printed t table has no row for @{df} degrees of freedom. Take the next smaller "+
		"row, @{df_printed}, and the column of area %s in one tail: @{critical_printed} in size, a little farther out than the "+
		"exact value.", column)},
		s.printedT(row)...)
}

// printedNormal is the part of a table of areas beyond z: the area nearest to that of the tail
// leads to z, whose second decimal is the column.
func (s *Sheet) printedNormal() []working.Block {
	const last = 3.49
	hundredths := math.Round(100 * dist.Normal{}.UpperQuantile(s.tailArea()))
	if hundredths < 0 || hundredths > 100*last {
		return nil
	}
	return s.around(printed.Normal(), int(hundredths)/10, int(hundredths)%10)
}

// printedT is the part of a t table: rows of degrees of freedom, columns of areas.
func (s *Sheet) printedT(df float64) []working.Block {
	t := printed.T()
	return s.around(t, printed.NotAbove(t.Rows, df), printed.AreaColumn(s.tailArea()))
}

// PrintedChiSquare is the part of a chi-square table: rows of degrees of freedom, columns of
// upper areas.
func (s *Sheet) PrintedChiSquare() []working.Block {
	df := s.Value("df")
	note := working.Note("A printed chi-square table shows it in the row of @{df} %s, in the column of upper area %s.%s",
		s.DegreesNoun("df"), working.FormatShortest(s.P.Alpha), skippedRow(df, "larger one, which errs on the careful side"))
	t := printed.ChiSquare()
	row := slices.IndexFunc(t.Rows, func(row float64) bool { return row >= df })
	return append([]working.Block{note}, s.around(t, row, printed.AreaColumn(s.P.Alpha))...)
}

// PrintedF is the part of an F table for one area: columns of the degrees of freedom above, rows
// of those below.
func (s *Sheet) PrintedF(area, above, below float64) []working.Block {
	if printed.AreaColumn(area) < 0 {
		return nil
	}
	t := printed.F(area)
	return s.around(t, printed.NotAbove(t.Rows, below), printed.NotAbove(t.Columns, above))
}

// PrintedU is the part of a table of lower critical values of U: the two sample sizes.
func (s *Sheet) PrintedU(n1, n2 int) []working.Block {
	area := s.tailArea()
	if n1 > printed.LargestSample || n2 > printed.LargestSample || printed.AreaColumn(area) < 0 {
		return nil
	}
	return s.around(printed.RankSum(area), n1-1, n2-1)
}

// PrintedW is the part of a table of lower critical values of W: the number of differences, and
// the area.
func (s *Sheet) PrintedW(n int) []working.Block {
	if n > printed.LargestSample {
		return nil
	}
	return s.around(printed.SignedRank(), n-1, printed.AreaColumn(s.tailArea()))
}
