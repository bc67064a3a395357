package procedure

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// What the tables printed in textbooks have for rows and columns: areas in one tail,
// and degrees of freedom, of which they skip some.
var (
	printedAreas   = []float64{0.10, 0.05, 0.025, 0.01, 0.005}
	printedDegrees = append(upTo(everyRow), 40, 60, 120, math.Inf(1))
	printedOver    = append(upTo(10), 12, 15, 20, 24, 30, 40, 60, 120, math.Inf(1))
)

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

// around adds the part of the table around a row and a column, with both marked, and
// returns its block; none where the table does not hold them.
func (l *location) around(t printedTable, row, column int) []working.Block {
	if row < 0 || column < 0 {
		return nil
	}
	const reach = 2
	window := func(at, n int) (from, to int) {
		from = max(0, min(at-reach, n-2*reach-1))
		return from, min(n, from+2*reach+1)
	}
	top, bottom := window(row, len(t.rows))
	left, right := 0, len(t.columns)
	if right > 10 {
		left, right = window(column, right)
	}
	table := &working.Table{ID: "printed", Title: t.title, Key: []string{"row"}, Columns: []working.Column{{ID: "row", Label: t.corner}}, Marked: []int{row - top, column - left + 1}}
	for j := left; j < right; j++ {
		table.Columns = append(table.Columns, working.Column{ID: "column_" + strconv.Itoa(j-left+1), Label: t.name(t.columns[j]), Numeric: true})
	}
	var rows []working.Row
	for i := top; i < bottom; i++ {
		shown := printedName(t.rows[i])
		cells := working.Row{{Value: shown, Shown: shown}}
		for j := left; j < right; j++ {
			x := t.cell(t.rows[i], t.columns[j])
			shown := "–"
			if !math.IsNaN(x) {
				shown = working.FormatNumber(x, t.decimals)
			}
			cells = append(cells, working.Cell{Value: working.Number(x), Shown: shown})
		}
		rows = append(rows, cells)
	}
	table.SetRows(rows)
	l.Table(table)
	return []working.Block{working.TableBlock{Table: "printed"}}
}

func printedName(x float64) string {
	if math.IsInf(x, 1) {
		return "∞"
	}
	return working.FormatShortest(x)
}

// tailArea returns the area in one tail of the rejection region.
func (l *location) tailArea() float64 {
	if l.p.Tail == problem.Both {
		return l.p.Alpha / 2
	}
	return l.p.Alpha
}

// printedColumn returns the place of the area, -1 where tables do not have it.
func printedColumn(area float64) int {
	for i, printed := range printedAreas {
		if math.Abs(area-printed) <= 1e-12 {
			return i
		}
	}
	return -1
}

// printedRow returns the place of the largest of the rows that is not above x, which
// errs on the careful side where x itself is skipped; -1 where there is none.
func printedRow(rows []float64, x float64) int {
	at := -1
	for i, row := range rows {
		if row <= x {
			at = i
		}
	}
	return at
}

// printed says where a printed table shows the critical value.
func (l *location) printed() []working.Block {
	area := l.tailArea()
	column := working.FormatShortest(area)
	if len(l.family.Degrees) == 0 {
		return append([]working.Block{working.Note("A printed table of the normal distribution shows it where the area beyond $z$ is nearest to %s, the first decimal of $z$ in its row and the second in its column; a t table shows it in its last row, ∞ degrees of freedom.", column)}, l.printedNormal()...)
	}
	df := l.Value("df")
	if working.IsWhole(df) {
		return append([]working.Block{working.Note("A printed t table shows it in the row of @{df} %s, in the column of area %s in one tail.%s", l.DegreesNoun("df"), column, skippedRow(df, "smaller one"))}, l.printedT(df)...)
	}
	row := math.Floor(df)
	if row < 1 {
		return nil
	}
	areaExpr := formula.Expr(formula.Ref("alpha"))
	if l.p.Tail == problem.Both {
		areaExpr = formula.Quotient{Over: areaExpr, Under: formula.Num(2)}
	}
	rounded := l.family
	rounded.Degrees = []formula.Ref{"df_printed"}
	l.Define(working.Quantity{ID: "df_printed", Symbol: `\nu_{\text{table}}`, Label: "Degrees of freedom, rounded down", Says: "Printed tables have whole rows; rounding down errs on the careful side."},
		working.Whole, row, formula.Floor{X: formula.Ref("df")})
	l.Define(working.Quantity{ID: "critical_printed", Symbol: `t_{\text{table}}`, Label: "Critical value in a printed table", Says: "A little farther out than the exact one, because the degrees of freedom were rounded down."},
		working.Ratio, dist.T{DF: row}.UpperQuantile(area), formula.Quantile{Of: rounded, Area: areaExpr})
	return append([]working.Block{working.Note("A printed t table has no row for @{df} degrees of freedom. Take the next smaller row, @{df_printed}, and the column of area %s in one tail: @{critical_printed} in size, a little farther out than the exact value.", column)}, l.printedT(row)...)
}

// everyRow is up to where printed tables skip no row.
const everyRow = 30

// skippedRow says which row to take where a table skips that of df.
func skippedRow(df float64, other string) string {
	if df <= everyRow {
		return ""
	}
	return " If the table skips that row, take the next " + other + "."
}

// printedNormal is the part of a table of areas beyond z: the area nearest to that of
// the tail leads to z, whose second decimal is the column.
func (l *location) printedNormal() []working.Block {
	const last = 3.49
	hundredths := math.Round(100 * dist.Normal{}.UpperQuantile(l.tailArea()))
	if hundredths < 0 || hundredths > 100*last {
		return nil
	}
	t := printedTable{title: "A printed table of areas beyond z", corner: "z", decimals: 4,
		cell: func(row, column float64) float64 { return dist.Normal{}.Upper(row + column) },
		name: func(column float64) string { return working.FormatNumber(column, 2) }}
	for tenth := range 35 {
		t.rows = append(t.rows, float64(tenth)/10)
	}
	for hundredth := range 10 {
		t.columns = append(t.columns, float64(hundredth)/100)
	}
	return l.around(t, int(hundredths)/10, int(hundredths)%10)
}

// printedT is the part of a t table: rows of degrees of freedom, columns of areas.
func (l *location) printedT(df float64) []working.Block {
	return l.around(printedTable{title: "A printed table of t", corner: "degrees of freedom", decimals: 3, rows: printedDegrees, columns: printedAreas,
		cell: func(row, column float64) float64 {
			if math.IsInf(row, 1) {
				return dist.Normal{}.UpperQuantile(column)
			}
			return dist.T{DF: row}.UpperQuantile(column)
		},
		name: working.FormatShortest}, printedRow(printedDegrees, df), printedColumn(l.tailArea()))
}

// printedChiSquare is the part of a chi-square table: rows of degrees of freedom, columns
// of upper areas.
func (l *location) printedChiSquare() []working.Block {
	rows := append(upTo(everyRow), 40, 50, 60, 70, 80, 90, 100)
	df := l.Value("df")
	return append([]working.Block{working.Note("A printed chi-square table shows it in the row of @{df} %s, in the column of upper area %s.%s", l.DegreesNoun("df"), working.FormatShortest(l.p.Alpha), skippedRow(df, "larger one, which errs on the careful side"))},
		l.around(printedTable{title: "A printed table of χ²", corner: "degrees of freedom", decimals: 3, rows: rows, columns: printedAreas,
			cell: func(row, column float64) float64 { return dist.ChiSquare{DF: row}.UpperQuantile(column) },
			name: working.FormatShortest}, slices.IndexFunc(rows, func(row float64) bool { return row >= df }), printedColumn(l.p.Alpha))...)
}

// printedF is the part of an F table for one area: columns of the degrees of freedom
// above, rows of those below.
func (l *location) printedF(area, above, below float64) []working.Block {
	if printedColumn(area) < 0 {
		return nil
	}
	// A printed table has ∞ where F goes over into chi-square over its degrees of
	// freedom; with 1e6 of them no printed digit differs.
	finite := func(df float64) float64 { return math.Min(df, 1e6) }
	return l.around(printedTable{title: fmt.Sprintf("A printed table of F, area %s", working.FormatShortest(area)), corner: "below", decimals: 2, rows: printedDegrees, columns: printedOver,
		cell: func(row, column float64) float64 {
			return dist.F{DF1: finite(column), DF2: finite(row)}.UpperQuantile(area)
		},
		name: printedName}, printedRow(printedDegrees, below), printedRow(printedOver, above))
}

// largestPrinted is the largest sample size that tables of rank statistics have.
const largestPrinted = 20

// printedU is the part of a table of lower critical values of U: the two sample sizes.
func (l *location) printedU(n1, n2 int) []working.Block {
	area := l.tailArea()
	if n1 > largestPrinted || n2 > largestPrinted || printedColumn(area) < 0 {
		return nil
	}
	sizes := upTo(largestPrinted)
	return l.around(printedTable{title: fmt.Sprintf("A printed table of lower critical values of U, area %s", working.FormatShortest(area)), corner: "first group", rows: sizes, columns: sizes,
		cell: func(row, column float64) float64 {
			return dist.NewRankSum(upTo(int(row+column)), int(row)).LowerQuantile(area)
		},
		name: printedName}, n1-1, n2-1)
}

// printedW is the part of a table of lower critical values of W: the number of
// differences, and the area.
func (l *location) printedW(n int) []working.Block {
	if n > largestPrinted {
		return nil
	}
	return l.around(printedTable{title: "A printed table of lower critical values of W", corner: "n", rows: upTo(largestPrinted), columns: printedAreas,
		cell: func(row, column float64) float64 {
			return dist.NewSignedRank(upTo(int(row))).LowerQuantile(column)
		},
		name: working.FormatShortest}, n-1, printedColumn(l.tailArea()))
}
