package write

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"sync"

	"grund/internal/formula"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// What the tables printed in textbooks have for rows and columns: areas in one tail, and degrees
// of freedom, of which they skip some.
var (
	printedAreas   = []float64{0.10, 0.05, 0.025, 0.01, 0.005}
	printedDegrees = append(upTo(everyRow), 40, 60, 120, math.Inf(1))
	printedOver    = append(upTo(10), 12, 15, 20, 24, 30, 40, 60, 120, math.Inf(1))
)

// everyRow is up to where printed tables skip no row.
const everyRow = 30

// upTo returns the whole numbers from 1 to n.
func upTo(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = float64(i + 1)
	}
	return out
}

// A printedTable is a table of critical values as textbooks print them.
type printedTable struct {
	title         string
	corner        string // what the rows are
	rows, columns []float64
	decimals      int
	cell          func(row, column float64) float64
	name          func(column float64) string
}

// printedCells are the cells of printed tables that were needed so far. There are no more than all printed
// tables have.
var printedCells sync.Map

// known returns a cell of the table, which is the same for every problem.
func (t *printedTable) known(row, column float64) float64 {
	type place struct {
		title       string
		row, column float64
	}
	at := place{t.title, row, column}
	if x, ok := printedCells.Load(at); ok {
		return x.(float64)
	}
	x := t.cell(row, column)
	printedCells.Store(at, x)
	return x
}

// around adds the part of the table around a row and a column, with both marked, and returns its
// block; none where the table does not hold them.
func (s *Sheet) around(t printedTable, row, column int) []working.Block {
	if row < 0 || column < 0 {
		return nil
	}
	const reach, most = 2, 10 // columns that are shown all
	window := func(at, n int) (from, to int) {
		from = max(0, min(at-reach, n-2*reach-1))
		return from, min(n, from+2*reach+1)
	}
	top, bottom := window(row, len(t.rows))
	left, right := 0, len(t.columns)
	if right > most {
		left, right = window(column, right)
	}
	table := &working.Table{
		ID: "printed", Title: t.title, Key: []string{"row"}, Columns: []working.Column{{ID: "row", Label: t.corner}},
		Marked: []int{row - top, column - left + 1},
	}
	for j := left; j < right; j++ {
		table.Columns = append(table.Columns, working.Column{ID: "column_" + strconv.Itoa(j-left+1), Label: t.name(t.columns[j]), Numeric: true})
	}
	var rows []working.Row
	for i := top; i < bottom; i++ {
		cells := working.Row{working.NameCell(printedName(t.rows[i]))}
		for j := left; j < right; j++ {
			cells = append(cells, working.EnteredCell(t.known(t.rows[i], t.columns[j]), t.decimals))
		}
		rows = append(rows, cells)
	}
	table.SetRows(rows)
	s.Table(table)
	return []working.Block{working.TableBlock{Table: "printed"}}
}

func printedName(x float64) string {
	if math.IsInf(x, 1) {
		return "∞"
	}
	return working.FormatShortest(x)
}

// tailArea returns the area in one tail of the rejection region.
func (s *Sheet) tailArea() float64 { return s.Direction.TailArea(s.P.Alpha) }

// printedColumn returns the place of the area, −1 where tables do not have it.
func printedColumn(area float64) int {
	return slices.IndexFunc(printedAreas, func(printed float64) bool { return math.Abs(area-printed) <= 1e-12 })
}

// printedRow returns the place of the largest of the rows that is not above x, which errs on the
// careful side where x itself is skipped; −1 where there is none.
func printedRow(rows []float64, x float64) int {
	at := -1
	for i, row := range rows {
		if row <= x {
			at = i
		}
	}
	return at
}

// skippedRow says which row to take where a table skips that of df.
func skippedRow(df float64, other string) string {
	if df <= everyRow {
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
	t := printedTable{
		title: "A printed table of areas beyond z", corner: "z", decimals: 4,
		cell: func(row, column float64) float64 { return dist.Normal{}.Upper(row + column) },
		name: func(column float64) string { return working.FormatNumber(column, 2) },
	}
	for tenth := range 35 {
		t.rows = append(t.rows, float64(tenth)/10)
	}
	for hundredth := range 10 {
		t.columns = append(t.columns, float64(hundredth)/100)
	}
	return s.around(t, int(hundredths)/10, int(hundredths)%10)
}

// printedT is the part of a t table: rows of degrees of freedom, columns of areas.
func (s *Sheet) printedT(df float64) []working.Block {
	return s.around(printedTable{
		title: "A printed table of t", corner: "degrees of freedom", decimals: 3, rows: printedDegrees, columns: printedAreas,
		cell: func(row, column float64) float64 {
			if math.IsInf(row, 1) {
				return dist.Normal{}.UpperQuantile(column)
			}
			return dist.T{DF: row}.UpperQuantile(column)
		},
		name: working.FormatShortest,
	}, printedRow(printedDegrees, df), printedColumn(s.tailArea()))
}

// PrintedChiSquare is the part of a chi-square table: rows of degrees of freedom, columns of
// upper areas.
func (s *Sheet) PrintedChiSquare() []working.Block {
	rows := append(upTo(everyRow), 40, 50, 60, 70, 80, 90, 100)
	df := s.Value("df")
	note := working.Note("A printed chi-square table shows it in the row of @{df} %s, in the column of upper area %s.%s",
		s.DegreesNoun("df"), working.FormatShortest(s.P.Alpha), skippedRow(df, "larger one, which errs on the careful side"))
	return append([]working.Block{note}, s.around(printedTable{
		title: "A printed table of χ²", corner: "degrees of freedom", decimals: 3, rows: rows, columns: printedAreas,
		cell: func(row, column float64) float64 { return dist.ChiSquare{DF: row}.UpperQuantile(column) },
		name: working.FormatShortest,
	}, slices.IndexFunc(rows, func(row float64) bool { return row >= df }), printedColumn(s.P.Alpha))...)
}

// PrintedF is the part of an F table for one area: columns of the degrees of freedom above, rows
// of those below.
func (s *Sheet) PrintedF(area, above, below float64) []working.Block {
	if printedColumn(area) < 0 {
		return nil
	}
	// A printed table has ∞ where F goes over into chi-square over its degrees of freedom; with
	// 1e6 of them no printed digit differs.
	finite := func(df float64) float64 { return math.Min(df, 1e6) }
	return s.around(printedTable{
		title: fmt.Sprintf("A printed table of F, area %s", working.FormatShortest(area)), corner: "below", decimals: 2,
		rows: printedDegrees, columns: printedOver,
		cell: func(row, column float64) float64 {
			return dist.F{DF1: finite(column), DF2: finite(row)}.UpperQuantile(area)
		},
		name: printedName,
	}, printedRow(printedDegrees, below), printedRow(printedOver, above))
}

// largestPrinted is the largest sample size that tables of rank statistics have.
const largestPrinted = 20

// PrintedU is the part of a table of lower critical values of U: the two sample sizes.
func (s *Sheet) PrintedU(n1, n2 int) []working.Block {
	area := s.tailArea()
	if n1 > largestPrinted || n2 > largestPrinted || printedColumn(area) < 0 {
		return nil
	}
	sizes := upTo(largestPrinted)
	return s.around(printedTable{
		title:  fmt.Sprintf("A printed table of lower critical values of U, area %s", working.FormatShortest(area)),
		corner: "first group", rows: sizes, columns: sizes,
		cell: func(row, column float64) float64 {
			return dist.NewRankSum(upTo(int(row+column)), int(row)).LowerQuantile(area)
		},
		name: printedName,
	}, n1-1, n2-1)
}

// PrintedW is the part of a table of lower critical values of W: the number of differences, and
// the area.
func (s *Sheet) PrintedW(n int) []working.Block {
	if n > largestPrinted {
		return nil
	}
	return s.around(printedTable{
		title: "A printed table of lower critical values of W", corner: "n", rows: upTo(largestPrinted), columns: printedAreas,
		cell: func(row, column float64) float64 {
			return dist.NewSignedRank(upTo(int(row))).LowerQuantile(column)
		},
		name: working.FormatShortest,
	}, n-1, printedColumn(s.tailArea()))
}
