package look

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// variables are six loadings; the numbers that describe them are worked by hand.
func variables() problem.Variables {
	minutes := &data.Variable{Name: "minutes", Label: "Loading time", Unit: "min", Kind: data.Number,
		Numbers: []float64{2, 4, 4, 4, 5, 5, 7, 9, math.NaN()}}
	vehicles := &data.Variable{Name: "vehicles", Kind: data.Number, Numbers: []float64{1, 2, 3, 4, 5, 6, 7, 8, 9}}
	pier, _ := data.NewVariable("pier", data.Category,
		[]string{"Mole", "Mole", "Quarry", "Mole", "Quarry", "Mole", "Quarry", "Mole", "Quarry"})
	late, _ := data.NewVariable("late", data.Category, []string{"no", "no", "no", "yes", "yes", "no", "yes", "", "yes"})
	id, _ := data.NewVariable("id", data.Identifier, []string{"a", "b", "c", "d", "e", "f", "g", "h", "i"})
	return problem.Variables{minutes, vehicles, pier, late, id}
}

func at(t *testing.T, r problem.Picture) *Look {
	t.Helper()
	l, err := New(variables(), nil, r)
	require.NoError(t, err)
	return l
}

// shown returns a table's cells as shown, by the first cell of each row.
func shown(t *working.Table) map[string][]string {
	out := map[string][]string{}
	for _, row := range t.Rows() {
		for _, cell := range row[1:] {
			out[row[0].Shown] = append(out[row[0].Shown], cell.Shown)
		}
	}
	return out
}

func TestSummary(t *testing.T) {
	l := at(t, problem.Picture{Variables: []string{"minutes"}})
	assert.Equal(t, "8 cases; 1 more without a value.", l.Says)
	got := shown(l.Tables[0])
	// Mean 40/8 = 5, sum of squares 32, variance 32/7, halves 2 4 4 4 and 5 5 7 9,
	// Σd³ = −27 − 3·1 + 2·0 + 8 + 64 = 42.
	sd := math.Sqrt(32.0 / 7)
	for name, want := range map[string]string{
		"n": "8", "missing": "1", "mean": "5.00", "median": "4.5", "standard deviation": working.FormatNumber(sd, 2), "variance": "4.571",
		"minimum": "2", "lower quartile": "4.0", "upper quartile": "6.0", "maximum": "9", "range": "7", "sum": "40",
		"standard error": working.FormatNumber(sd/math.Sqrt(8), 3), "skewness": working.FormatNumber(42/(8*sd*sd*sd), 2),
	} {
		assert.Equal(t, []string{want}, got[name], name)
	}
}

func TestSummaryByGroup(t *testing.T) {
	for _, order := range [][]string{{"minutes", "pier"}, {"pier", "minutes"}} {
		l := at(t, problem.Picture{Variables: order})
		got := shown(l.Tables[0])
		assert.Equal(t, []string{"5", "3"}, got["n"])
		assert.Equal(t, []string{"0", "1"}, got["missing"])
		assert.Equal(t, []string{"4.80", "5.33"}, got["mean"]) // (2+4+4+5+9)/5 and (4+5+7)/3
		assert.Equal(t, "Loading time by pier", l.Title)
		assert.Equal(t, []working.Form{working.Boxes, working.Intervals, working.Histogram}, l.Forms)
	}
}

func TestHistogramClasses(t *testing.T) {
	l := at(t, problem.Picture{Variables: []string{"minutes"}})
	heights := func() (out []float64) {
		for _, m := range l.Figure.Marks {
			if m.Shape == working.Bar {
				out = append(out, float64(m.Y[0]))
			}
		}
		return out
	}
	assert.Equal(t, &Classes{2, 2}, l.Classes)
	assert.Equal(t, []float64{1, 5, 1, 1}, heights())
	width, start := 3.0, 0.0
	l = at(t, problem.Picture{Variables: []string{"minutes"}, Width: &width, Start: &start, Normal: true})
	assert.Equal(t, []float64{1, 5, 1, 1}, heights())
	curve := l.Figure.Marks[len(l.Figure.Marks)-1]
	require.Equal(t, working.Line, curve.Shape)
	area := 0.0
	for i := 1; i < len(curve.X); i++ {
		area += float64(curve.X[i]-curve.X[i-1]) * float64(curve.Y[i]+curve.Y[i-1]) / 2
	}
	assert.InDelta(t, 8*3, area, 1.5, "the curve has the area of the bars, but for its tails")

	for pointer, r := range map[string]problem.Picture{
		"/width": {Variables: []string{"minutes"}, Width: new(0.0)}, "/start": {Variables: []string{"minutes"}, Start: new(3.0)},
	} {
		_, err := New(variables(), nil, r)
		var errs problem.Errors
		require.ErrorAs(t, err, &errs)
		assert.Equal(t, pointer, errs[0].Pointer)
	}
	_, err := New(variables(), nil, problem.Picture{Variables: []string{"minutes"}, Width: new(1e-6)})
	assert.ErrorContains(t, err, "wider")
}

func TestBoxesNameTheCasesBeyond(t *testing.T) {
	l := at(t, problem.Picture{Variables: []string{"minutes"}, Form: "boxes"})
	// Quartiles 4 and 6, fences 1 and 9: nothing lies beyond.
	for _, m := range l.Figure.Marks {
		assert.NotEqual(t, working.Outlier, m.Role)
	}
	vs := variables()
	vs[0].Numbers[7] = 30
	l, err := New(vs, nil, problem.Picture{Variables: []string{"minutes"}, Form: "boxes"})
	require.NoError(t, err)
	last := l.Figure.Marks[len(l.Figure.Marks)-1]
	assert.Equal(t, working.CaseNumbers{8}, last.Case)
	assert.Equal(t, working.Numbers{30}, last.X)
}

// The interval of five loadings 2 4 4 5 9: mean 4.8, sd √6.7, t of 4 degrees of
// freedom at 0.975 is 2.776 (any printed table).
func TestMeansWithIntervals(t *testing.T) {
	l := at(t, problem.Picture{Variables: []string{"minutes", "pier"}, Form: "intervals"})
	x := l.Figure.Marks[0].X
	half := 2.7764451 * math.Sqrt(6.7/5)
	assert.InDelta(t, 4.8-half, float64(x[0]), 1e-6)
	assert.InDelta(t, 4.8, float64(x[1]), 1e-12)
	assert.InDelta(t, 4.8+half, float64(x[2]), 1e-6)
}

func TestFrequencies(t *testing.T) {
	l := at(t, problem.Picture{Variables: []string{"late"}})
	assert.Equal(t, map[string][]string{"no": {"4", "50.0"}, "yes": {"4", "50.0"}, "all": {"8", "100.0"}}, shown(l.Tables[0]))
}

func TestCrossed(t *testing.T) {
	counts := map[string][]string{"Mole": {"3", "1", "4"}, "Quarry": {"1", "3", "4"}, "all": {"4", "4", "8"}}
	for by, want := range map[problem.Share]map[string][]string{
		problem.NoShare: counts,
		problem.OfTotal: {"Mole": {"37.5", "12.5", "50.0"}, "Quarry": {"12.5", "37.5", "50.0"}, "all": {"50.0", "50.0", "100.0"}},
		problem.OfRow:   {"Mole": {"75.0", "25.0", "100.0"}, "Quarry": {"25.0", "75.0", "100.0"}, "all": {"50.0", "50.0", "100.0"}},
		problem.OfCol:   {"Mole": {"75.0", "25.0", "50.0"}, "Quarry": {"25.0", "75.0", "50.0"}, "all": {"100.0", "100.0", "100.0"}},
	} {
		l := at(t, problem.Picture{Variables: []string{"pier", "late"}, Share: by})
		assert.Equal(t, want, shown(l.Tables[0]), by)
	}
	stacked := at(t, problem.Picture{Variables: []string{"pier", "late"}, Stack: true})
	assert.Equal(t, working.Numbers{3, 4}, stacked.Figure.Marks[1].X, "the second bar begins where the first ends")
	assert.Equal(t, []string{"no", "yes"}, stacked.Figure.Series)
}

func TestScatter(t *testing.T) {
	l := at(t, problem.Picture{Variables: []string{"vehicles", "minutes"}})
	points := l.Figure.Marks[0]
	assert.Len(t, points.X, 8)
	assert.Equal(t, working.Number(9), points.Y[7])
	assert.Len(t, l.Tables, 2)
	assert.Equal(t, "Loading time against vehicles", l.Title)
}

func TestWhatCannotBeShown(t *testing.T) {
	for want, r := range map[string]problem.Picture{
		"0 variables":     {},
		"no variable":     {Variables: []string{"minute"}},
		"identifier":      {Variables: []string{"id"}},
		"does not show":   {Variables: []string{"minutes"}, Form: "scatter"},
		"3 variables are": {Variables: []string{"minutes", "pier", "late"}},
	} {
		_, err := New(variables(), nil, r)
		assert.ErrorContains(t, err, want)
	}
	vs := variables()
	vs[0].Numbers = make([]float64, 9)
	for i := range vs[0].Numbers {
		vs[0].Numbers[i] = math.NaN()
	}
	l, err := New(vs, nil, problem.Picture{Variables: []string{"minutes"}})
	require.NoError(t, err)
	assert.Nil(t, l.Figure)
	assert.Equal(t, "0 cases; 9 more without a value.", l.Says)
}
