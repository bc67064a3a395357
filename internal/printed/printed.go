// Package printed holds the tables that textbooks print: areas of the normal curve, and critical values of t, χ², F and of
// the statistics of ranks.
package printed

import (
	"fmt"
	"math"
	"slices"
	"sync"

	"grund/internal/stats/dist"
	"grund/internal/working"
)

// Areas are the areas in one tail that tables have.
var Areas = []float64{0.10, 0.05, 0.025, 0.01, 0.005}

// EveryRow is up to where tables skip no row of degrees of freedom.
const EveryRow = 30

// LargestSample is the largest sample size that tables of rank statistics have.
const LargestSample = 20

// Degrees of freedom that tables have: in the rows of t and F, in the rows of χ², above in F.
var (
	degrees          = append(upTo(EveryRow), 40, 60, 120, math.Inf(1))
	chiSquareDegrees = append(upTo(EveryRow), 40, 50, 60, 70, 80, 90, 100)
	above            = append(upTo(10), 12, 15, 20, 24, 30, 40, 60, 120, math.Inf(1))
)

// upTo returns the whole numbers from 1 to n.
func upTo(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = float64(i + 1)
	}
	return out
}

// A Table as it is printed. Its cells are worked out when they are asked for, each once.
type Table struct {
	Title         string
	Says          string // what a cell is
	Corner        string // what the rows are
	Over          string // what the columns are
	Rows, Columns []float64
	Decimals      int
	cell          func(row, column float64) float64
	name          func(column float64) string
}

// cells are those of tables that were needed so far. There are no more than all tables have.
var cells sync.Map

// Cell returns the number in a row and a column, both from 0.
func (t *Table) Cell(row, column int) float64 {
	type place struct {
		title       string
		row, column float64
	}
	at := place{t.Title, t.Rows[row], t.Columns[column]}
	if x, ok := cells.Load(at); ok {
		return x.(float64)
	}
	x := t.cell(at.row, at.column)
	cells.Store(at, x)
	return x
}

// RowName and ColumnName are what stands at the side and at the head.
func (t *Table) RowName(row int) string       { return nameOf(t.Rows[row]) }
func (t *Table) ColumnName(column int) string { return t.name(t.Columns[column]) }

func nameOf(x float64) string {
	if math.IsInf(x, 1) {
		return "∞"
	}
	return working.FormatShortest(x)
}

// AreaColumn returns the place of an area among Areas, −1 where tables do not have it.
func AreaColumn(area float64) int {
	return slices.IndexFunc(Areas, func(printed float64) bool { return math.Abs(area-printed) <= 1e-12 })
}

// NotAbove returns the place of the largest of the rows or columns that is not above x, which errs on the careful side where
// x itself is skipped; −1 where there is none.
func NotAbove(places []float64, x float64) int {
	at := -1
	for i, place := range places {
		if place <= x {
			at = i
		}
	}
	return at
}

// Normal is the table of areas beyond z: the first decimal of z in its row and the second in its column.
func Normal() *Table {
	t := &Table{
		Title: "A printed table of areas beyond z", Says: "The area of the normal curve beyond z", Corner: "z", Over: "second decimal of z",
		Decimals: 4,
		cell:     func(row, column float64) float64 { return dist.Normal{}.Upper(row + column) },
		name:     func(column float64) string { return working.FormatNumber(column, 2) },
	}
	for tenth := range 35 {
		t.Rows = append(t.Rows, float64(tenth)/10)
	}
	for hundredth := range 10 {
		t.Columns = append(t.Columns, float64(hundredth)/100)
	}
	return t
}

// T is the table of t: rows of degrees of freedom, columns of areas in one tail.
func T() *Table {
	return &Table{
		Title: "A printed table of t", Says: "The t beyond which the area lies", Corner: "degrees of freedom", Over: "area in one tail",
		Decimals: 3, Rows: degrees, Columns: Areas,
		cell: func(row, column float64) float64 {
			if math.IsInf(row, 1) {
				return dist.Normal{}.UpperQuantile(column)
			}
			return dist.T{DF: row}.UpperQuantile(column)
		},
		name: working.FormatShortest,
	}
}

// ChiSquare is the table of χ²: rows of degrees of freedom, columns of upper areas.
func ChiSquare() *Table {
	return &Table{
		Title: "A printed table of χ²", Says: "The χ² beyond which the area lies", Corner: "degrees of freedom", Over: "upper area",
		Decimals: 3, Rows: chiSquareDegrees, Columns: Areas,
		cell: func(row, column float64) float64 { return dist.ChiSquare{DF: row}.UpperQuantile(column) },
		name: working.FormatShortest,
	}
}

// F is the table of F for one upper area: columns of the degrees of freedom above, rows of those below.
func F(area float64) *Table {
	// A printed table has ∞ where F goes over into χ² over its degrees of freedom; with 1e6 of them no printed digit differs.
	finite := func(df float64) float64 { return math.Min(df, 1e6) }
	shown := working.FormatShortest(area)
	return &Table{
		Title: "A printed table of F, area " + shown, Says: "The F beyond which an area of " + shown + " lies", Corner: "below",
		Over: "degrees of freedom above", Decimals: 2, Rows: degrees, Columns: above,
		cell: func(row, column float64) float64 {
			return dist.F{DF1: finite(column), DF2: finite(row)}.UpperQuantile(area)
		},
		name: nameOf,
	}
}

// RankSum is the table of lower critical values of U for one area: the two sample sizes.
func RankSum(area float64) *Table {
	sizes := upTo(LargestSample)
	return &Table{
		Title:  fmt.Sprintf("A printed table of lower critical values of U, area %s", working.FormatShortest(area)),
		Corner: "first group", Rows: sizes, Columns: sizes,
		cell: func(row, column float64) float64 {
			return dist.NewRankSum(upTo(int(row+column)), int(row)).LowerQuantile(area)
		},
		name: nameOf,
	}
}

// SignedRank is the table of lower critical values of W: the number of differences, and the area.
func SignedRank() *Table {
	return &Table{
		Title: "A printed table of lower critical values of W", Corner: "n", Rows: upTo(LargestSample), Columns: Areas,
		cell: func(row, column float64) float64 {
			return dist.NewSignedRank(upTo(int(row))).LowerQuantile(column)
		},
		name: working.FormatShortest,
	}
}
