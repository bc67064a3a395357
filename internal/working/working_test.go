package working

import (
	"math"
	"math/big"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/formula"
	"grund/internal/problem"
)

func TestFormatNumber(t *testing.T) {
	for _, c := range []struct {
		x        float64
		decimals int
		want     string
	}{
		{12.3456, 3, "12.346"}, {-2.0640769, 3, "−2.064"}, {18, 0, "18"}, {1.5, 3, "1.500"}, {-0.0001, 3, "0.000"},
		{1234.5, 1, "1234.5"}, {12345.678, 2, "12\u202f345.68"}, {-1234567, 0, "−1\u202f234\u202f567"}, {1e15, 3, "1.000 × 10¹⁵"},
		{math.NaN(), 3, "–"}, {math.Inf(1), 3, "∞"}, {math.Inf(-1), 3, "−∞"},
	} {
		assert.Equal(t, c.want, FormatNumber(c.x, c.decimals))
	}
}

func TestFormatSmall(t *testing.T) {
	for x, want := range map[float64]string{0: "0.000", 0.5: "0.500", 0.01234: "0.012", 0.00041: "0.00041", -0.00041: "−0.00041",
		3e-12: "3.00 × 10⁻¹²"} {
		assert.Equal(t, want, FormatSmall(x, 3, 2))
	}
}

func TestFormatShortest(t *testing.T) {
	for x, want := range map[float64]string{0.05: "0.05", 12: "12", -2.5: "−2.5", 0: "0", 12.25: "12.25", 100000: "100\u202f000"} {
		assert.Equal(t, want, FormatShortest(x))
	}
}

// p is never shown as zero, and never rounds onto alpha from either side.
func TestFormatP(t *testing.T) {
	for _, c := range []struct {
		p, alpha float64
		want     string
	}{
		{0.055277, 0.05, "0.0553"}, {0.3, 0.05, "0.3000"}, {0.00012, 0.05, "0.0001"}, {0.00009, 0.05, "<\u202f0.0001"},
		{1e-300, 0.05, "<\u202f0.0001"}, {0, 0.05, "<\u202f0.0001"},
		{0.04999, 0.05, "0.04999"}, {0.0500001, 0.05, "0.0500001"}, {0.049999999, 0.05, "0.049999999"}, {0.05, 0.05, "0.0500"},
		{0.00009, 0.00001, "9.00 × 10⁻⁵"}, {1e-300, 1e-5, "1.00 × 10⁻³⁰⁰"}, {0, 1e-5, "<\u202f10⁻³⁰⁰"}, {1.0001e-9, 1e-9, "1.0001 × 10⁻⁹"},
		{1, 0.05, "1.0000"},
	} {
		assert.Equal(t, c.want, FormatP(c.p, c.alpha, DefaultPDecimals), "p = %v, alpha = %v", c.p, c.alpha)
	}
	// A course may ask for fewer decimals, or more; what decides, and that p is not 0, is seen all the same.
	for _, c := range []struct {
		p, alpha float64
		decimals int
		want     string
	}{
		{0.2371, 0.05, 2, "0.24"}, {0.0553, 0.05, 2, "0.06"}, {0.0524, 0.05, 2, "0.052"}, {0.0496, 0.05, 2, "0.0496"},
		{0.004, 0.05, 2, "0.004"}, {0.0004, 0.05, 2, "0.0004"}, {0.00004, 0.05, 2, "<\u202f0.0001"}, {0.00004, 0.05, 5, "0.00004"},
		{0.4, 0.05, 0, "0.4"}, {0.7, 0.05, 0, "1"}, {0.000001, 0.05, 5, "<\u202f0.00001"},
	} {
		assert.Equal(t, c.want, FormatP(c.p, c.alpha, c.decimals), "p = %v with %d decimals", c.p, c.decimals)
	}
}

func TestFormatApart(t *testing.T) {
	a, b := FormatApart(2.1161, 2.1164, 3)
	assert.Equal(t, []string{"2.1161", "2.1164"}, []string{a, b})
	a, b = FormatApart(2, 2, 3)
	assert.Equal(t, a, b)
}

func TestSmallestDecimals(t *testing.T) {
	for size, want := range map[float64]int{0.573: 3, 5.7: 3, 0.0573: 4, 0.000012: 7, 4321: 1, 250_000: 0, 0: 3, 1e-30: 12} {
		assert.Equal(t, want, SmallestDecimals(size), size)
	}
}

func TestTextf(t *testing.T) {
	text := Textf("The *two* means of %s differ by @{d}, **%d** times $s$: @{t|%s} (100%%).", "*x* @{t} %s", 3, "2.06")
	assert.Equal(t, Text{
		{Words: "The "}, {Words: "two", Style: Emphasis}, {Words: " means of *x* @{t} %s differ by "}, {Ref: "d"}, {Words: ", "},
		{Words: "3", Style: Strong}, {Words: " times "}, {Words: "s", Style: Symbol}, {Words: ": "}, {Ref: "t", Words: "2.06"},
		{Words: " (100%)."},
	}, text)
}

func TestNumberInJSON(t *testing.T) {
	text, err := json.Marshal([]Number{1.5, Number(math.NaN()), Number(math.Inf(1)), 1e-300})
	require.NoError(t, err)
	assert.Equal(t, `[1.5,null,null,1e-300]`, string(text))
}

func newWorking() *Working {
	return New(&problem.Problem{Procedure: "p", Alpha: 0.05, Tail: problem.Both}, "A procedure", "", Cases{})
}

func TestRoundingNote(t *testing.T) {
	w := newWorking()
	w.Define(Quantity{ID: "a"}, Measure, 2.0/3, nil)
	w.Define(Quantity{ID: "b"}, Measure, 3*w.Value("a"), formula.Product{formula.Num(3), formula.Ref("a")})
	w.Define(Quantity{ID: "c"}, Measure, w.Value("a")+1, formula.Sum{formula.Ref("a"), formula.Num(1)})
	s, err := w.Finish()
	require.NoError(t, err)
	assert.Contains(t, s.Quantities[1].Formula.Rounding, "gives 2.001; Grund keeps all digits until the end, which gives 2.000")
	assert.Empty(t, s.Quantities[2].Formula.Rounding)
}

// A procedure that writes nonsense is found out.
func TestFinishFindsFaults(t *testing.T) {
	for name, write := range map[string]func(w *Working){
		"an unknown input": func(w *Working) { w.Define(Quantity{ID: "a"}, Ratio, 1, formula.Ref("b")) },
		"defined twice": func(w *Working) {
			w.Define(Quantity{ID: "a"}, Ratio, 1, nil)
			w.Define(Quantity{ID: "a"}, Ratio, 1, nil)
		},
		"an unknown number":    func(w *Working) { w.Step(Look, nil, Say("It is @{x}.")) },
		"an unknown formula":   func(w *Working) { w.Step(Look, nil, FormulaBlock{Quantity: "x"}) },
		"an unknown table":     func(w *Working) { w.Step(Look, nil, TableBlock{Table: "x"}) },
		"an unknown figure":    func(w *Working) { w.Step(Look, nil, FigureBlock{Figure: "x"}) },
		"an unknown condition": func(w *Working) { w.Step(Look, nil, Check{Condition: "x"}) },
		"a step twice":         func(w *Working) { w.Step(Look, nil); w.Step(Look, nil) },
		"an unknown cell":      func(w *Working) { w.Table(&Table{ID: "t", Columns: []Column{{ID: "a", Formula: "@{b}"}}}) },
		"no totals":            func(w *Working) { w.Table(&Table{ID: "t", Crossed: &Crossed{Totals: Totals{"r", "c"}}}) },
		"an unknown mark":      func(w *Working) { w.Figure(&Figure{ID: "f", Marks: []Mark{{Refs: []Ref{"x"}}}}) },
	} {
		w := newWorking()
		write(w)
		_, err := w.Finish()
		assert.ErrorContains(t, err, "faulty solution", name)
	}
}

func TestTablePages(t *testing.T) {
	table := &Table{ID: "cases", Columns: []Column{{ID: "n"}}}
	table.Total = 250
	table.Row = func(i int) Row { return Row{{Value: i, Shown: FormatNumber(float64(i), 0)}} }
	for from, want := range map[int][2]int{0: {0, 50}, 220: {220, 30}, 250: {250, 0}, 900: {250, 0}, -5: {0, 50}} {
		page := table.Page(from)
		assert.Equal(t, want, [2]int{page.From, len(page.Rows())})
		text, err := json.Marshal(page)
		require.NoError(t, err)
		assert.Contains(t, string(text), `"total":250`)
	}
	s := Solution{Tables: []*Table{table}}
	text, err := json.Marshal(s.FirstPage())
	require.NoError(t, err)
	assert.Equal(t, 50, strings.Count(string(text), `{"n":`))
	assert.Len(t, table.Rows(), 250, "the solution itself keeps all rows")
}

// A handle on one of a list sets the list with the one moved.
func TestHandleSets(t *testing.T) {
	alone := Handle{Pointer: "/options/mean", At: 3}
	assert.Equal(t, problem.Set{Pointer: "/options/mean", Value: 4.5}, alone.Set(4.5))
	among := Handle{Pointer: "/options/boundaries", At: 10, Among: Positions(0, 10, 20), Index: 1}
	assert.Equal(t, problem.Set{Pointer: "/options/boundaries", Value: []any{0.0, 12.0, 20.0}}, among.Set(12))
}

// Cells of a column with a formula open under the key of their row.
func TestCellsThatOpen(t *testing.T) {
	table := &Table{ID: "cells", Key: []string{"row", "column"},
		Columns: []Column{{ID: "row"}, {ID: "column"}, {ID: "expected", Formula: "@{row}"}}}
	table.SetRows([]Row{{{Value: "a/b", Shown: "a/b"}, {Value: "c|d", Shown: "c|d"}, {Value: Number(2), Shown: "2"}}})
	text, err := json.Marshal(table)
	require.NoError(t, err)
	assert.Contains(t, string(text), `"refs":[["","","cells/a~1b|c~2d/expected"]]`)
	assert.Equal(t, 0, table.Place("cells/a~1b|c~2d/expected"))
	assert.Equal(t, -1, table.Place("cells/a~1b|c/expected"))
	assert.Equal(t, -1, table.Place("cells"))
}

// A table that is drawn crossed goes to the browser whole, with its totals.
func TestFirstPage(t *testing.T) {
	long := func(id string) *Table {
		return &Table{ID: id, Total: 64, Row: func(i int) Row { return Row{{Value: i}} }, Columns: []Column{{ID: "row"}}}
	}
	cells := long("cells")
	cells.Crossed = &Crossed{Totals: Totals{Down: "down", Across: "across"}}
	s := &Solution{Tables: []*Table{cells, long("down"), long("across"), long("cases")}}
	var rows []int
	for _, table := range s.FirstPage().Tables {
		rows = append(rows, len(table.Rows()))
	}
	assert.Equal(t, []int{64, 64, 64, PageRows}, rows)
}

func TestSortedTable(t *testing.T) {
	table := &Table{Columns: []Column{{ID: "case"}, {ID: "name"}, {ID: "residual", Bar: true}, {ID: "x"}}}
	row := func(number int, name string, residual, x float64) Row {
		return Row{{Value: number}, {Value: name}, {Value: Number(residual)}, {Value: Number(x)}}
	}
	table.SetRows([]Row{row(1, "b", -3, 2), row(2, "a", 1, math.NaN()), row(3, "b", 2, -5)})
	sorted := func(column string, descending, signed bool) []int {
		var out []int
		for _, r := range table.Sorted(column, descending, signed).Rows() {
			out = append(out, r[0].Value.(int))
		}
		return out
	}
	order := func(column string, descending bool) []int { return sorted(column, descending, false) }
	assert.Equal(t, []int{3, 2, 1}, order("case", true))
	assert.Equal(t, []int{2, 1, 3}, order("name", false), "equal ones stay as they were")
	assert.Equal(t, []int{1, 3, 2}, order("residual", true), "bars by their size")
	assert.Equal(t, []int{3, 2, 1}, sorted("residual", true, true), "or by their sign")
	assert.Equal(t, []int{1, 2, 3}, sorted("residual", false, true))
	assert.Equal(t, []int{3, 1, 2}, order("x", false))
	assert.Equal(t, []int{1, 3, 2}, order("x", true), "what has no number comes last")
	assert.Nil(t, table.Sorted("nothing", false, false))
	assert.Len(t, table.Sorted("case", true, false).Page(2).Rows(), 1)
}

func TestTableWhere(t *testing.T) {
	table := &Table{Columns: []Column{{ID: "case"}, {ID: "name"}, {ID: "residual"}}}
	table.SetRows([]Row{{{Value: 1}, {Value: "b"}, {Value: Number(-3)}}, {{Value: 2}, {Value: "a"}, {Value: Number(math.NaN())}},
		{{Value: 3}, {Value: "b"}, {Value: Number(2)}}})
	for _, c := range []struct {
		filter Filter
		want   []int
	}{
		{Filter{"residual", AtLeast, "-3"}, []int{1, 3}},
		{Filter{"residual", AtMost, "1.9"}, []int{1}},
		{Filter{"residual", Beyond, "-2.5"}, []int{1}},
		{Filter{"case", AtLeast, "2"}, []int{2, 3}},
		{Filter{"name", Same, "b"}, []int{1, 3}},
		{Filter{"case", Same, "3"}, []int{3}},
		{Filter{"name", AtLeast, "0"}, nil},
		{Filter{"residual", AtLeast, "many"}, nil},
		{Filter{"residual", "near", "2"}, nil},
	} {
		var got []int
		for _, r := range table.Where(c.filter).Rows() {
			got = append(got, r[0].Value.(int))
		}
		assert.Equal(t, c.want, got, "%v", c.filter)
	}
	assert.Nil(t, table.Where(Filter{"nothing", Same, "b"}))
	assert.Equal(t, 1, table.Where(Filter{"name", Same, "a"}).Sorted("case", true, false).Total)
}

// A tie is rounded away from zero, on the decimal that a number is written with. The expected
// texts are rounded by hand.
func TestTiesAreRoundedAwayFromZero(t *testing.T) {
	for _, c := range []struct {
		x        float64
		decimals int
		want     string
	}{
		{9.625, 2, "9.63"}, {-9.625, 2, "−9.63"}, {2.675, 2, "2.68"}, {1.005, 2, "1.01"}, {0.5, 0, "1"}, {1.5, 0, "2"}, {2.5, 0, "3"},
		{-0.5, 0, "−1"},
		{0.05, 1, "0.1"}, {0.049, 1, "0.0"}, {0.0005, 3, "0.001"}, {0.00049, 3, "0.000"}, {-0.0004, 3, "0.000"}, {9.995, 2, "10.00"},
		{99.95, 1, "100.0"},
		{0.095, 2, "0.10"}, {0.995, 2, "1.00"}, {12345.5, 0, "12\u202f346"}, {0, 2, "0.00"}, {3, 0, "3"}, {1e-9, 3, "0.000"}, {0.15, 1, "0.2"},
		{0.25, 1, "0.3"},
		{9.6249999999999, 2, "9.62"}, {1.25e15, 1, "1.25 × 10¹⁵"}, {9.9951e15, 2, "1.00 × 10¹⁶"}, {1.125e16, 2, "1.13 × 10¹⁶"},
	} {
		assert.Equal(t, c.want, FormatNumber(c.x, c.decimals), "%v with %d decimals", c.x, c.decimals)
	}
	assert.Equal(t, 9.63, Rounded(9.625, 2))
	assert.Equal(t, -2.68, Rounded(-2.675, 2))
	assert.Equal(t, "1.13 × 10⁻⁷", FormatP(1.125e-7, 1e-9, 4))
}

// Rounding by decimal digits agrees with exact rational arithmetic on the shortest decimal.
func TestRoundingAgreesWithExactArithmetic(t *testing.T) {
	rng := rand.New(rand.NewPCG(13, 1))
	for range 20000 {
		x := math.Round(rng.NormFloat64()*1e6) / math.Pow10(rng.IntN(8))
		if rng.IntN(4) == 0 {
			x = rng.NormFloat64() * math.Pow10(rng.IntN(12)-6)
		}
		decimals := rng.IntN(7)
		exact, ok := new(big.Rat).SetString(strconv.FormatFloat(math.Abs(x), 'g', -1, 64))
		require.True(t, ok)
		exact.Mul(exact, new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(decimals)), nil)))
		exact.Add(exact, big.NewRat(1, 2))
		whole := new(big.Int).Quo(exact.Num(), exact.Denom()) // half up, of what is not negative
		got, ok := new(big.Int).SetString(strings.Replace(round(x, decimals), ".", "", 1), 10)
		require.True(t, ok)
		assert.Zero(t, whole.Cmp(got), "%v with %d decimals: %v", x, decimals, got)
	}
}
