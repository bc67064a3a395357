package working

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/stats/dist"
)

func TestRoundTo(t *testing.T) {
	for _, c := range []struct {
		x      float64
		digits int
		want   float64
	}{
		{0, 5, 0}, {1234567, 5, 1234600}, {-0.000123456, 3, -0.000123}, {9.9996, 4, 10}, {1e-300, 5, 1e-300}, {4e-324, 5, 0},
	} {
		assert.InDelta(t, c.want, roundTo(c.x, c.digits), 1e-12*math.Abs(c.want), "%v to %d digits", c.x, c.digits)
	}
	assert.True(t, math.IsInf(roundTo(math.Inf(-1), 3), -1))
	assert.True(t, math.IsNaN(roundTo(math.NaN(), 3)))
}

func TestPadded(t *testing.T) {
	for _, c := range []struct {
		share     float64
		values    []float64
		low, high float64
	}{
		{0.1, []float64{0, 10}, -1, 11},
		{0.05, []float64{3, math.NaN(), 1, math.Inf(1)}, 0.9, 3.1},
		{0.1, []float64{7}, 6, 8},
		{0.1, []float64{-200, -200}, -220, -180},
		{0.1, nil, 0, 1},
		{0.1, []float64{math.NaN()}, 0, 1},
	} {
		low, high := Padded(c.share, c.values...)
		assert.InDelta(t, c.low, low, 1e-12, "%v", c.values)
		assert.InDelta(t, c.high, high, 1e-12, "%v", c.values)
	}
}

// Straight lines between the points stay within a three-hundredth of the curve's height, near 0
// too, where F and χ² rise steeply.
func TestCurvePoints(t *testing.T) {
	for name, c := range map[string]struct {
		curve    dist.Distribution
		low, top float64
	}{
		"exponential": {dist.Exponential{Rate: 2}, 0, 3}, "normal": {dist.Normal{}, -4, 4}, "t": {dist.T{DF: 2}, -9, 9},
		"F 4, 20": {dist.F{DF1: 4, DF2: 20}, 0, 12}, "F 3, 42": {dist.F{DF1: 3, DF2: 42}, 0, 60}, "F 1, 9": {dist.F{DF1: 1, DF2: 9}, 0.02, 20},
		"χ² 3": {dist.ChiSquare{DF: 3}, 0, 80}, "χ² 30": {dist.ChiSquare{DF: 30}, 0, 120}, "F 200, 300": {dist.F{DF1: 200, DF2: 300}, 0, 3},
	} {
		most := 1.5 * c.curve.Density(c.curve.LowerQuantile(0.5))
		if name != "F 1, 9" {
			most = math.Inf(1)
		}
		x, y := curvePoints(c.curve, c.low, c.top, most)
		assert.Less(t, len(x), 400, name)
		assert.Equal(t, []Number{Number(c.low), Number(c.top)}, []Number{x[0], x[len(x)-1]}, name)
		height := 0.0
		for i := range 5001 {
			height = math.Max(height, math.Min(most, c.curve.Density(c.low+(c.top-c.low)*float64(i)/5000)))
		}
		k := 1
		for i := range 5001 {
			at := c.low + (c.top-c.low)*float64(i)/5000
			for k < len(x)-1 && float64(x[k]) < at {
				k++
			}
			share := (at - float64(x[k-1])) / float64(x[k]-x[k-1])
			drawn := float64(y[k-1]) + share*float64(y[k]-y[k-1])
			assert.InDelta(t, math.Min(most, c.curve.Density(at)), drawn, height/300, "%s at %v", name, at)
		}
	}
	// Separate values are bars: the outline goes up and down at each.
	x, y := curvePoints(dist.NewRankSum([]float64{1, 2, 3, 4, 5}, 2), -100, 100, math.Inf(1))
	area := 0.0
	for i := 1; i < len(x); i++ {
		area += float64(x[i]-x[i-1]) * float64(y[i])
	}
	assert.InDelta(t, 1, area, 1e-4, "the bars hold all of it")
}

func TestFormatPercent(t *testing.T) {
	for share, want := range map[float64]string{0.95: "95", 0.1: "10", 0.29: "29", 0.999: "99.9", 1 - 0.05/3: "98.3333333333", 0: "0"} {
		assert.Equal(t, want, FormatPercent(share))
	}
}

func TestSeries(t *testing.T) {
	w := newWorking()
	for _, c := range []struct {
		cells []float64
		first []string
		last  string
	}{
		{[]float64{1, 2}, []string{"1.0", "2.0"}, ""},
		{[]float64{1, 2, 3, 4}, []string{"1.0", "2.0", "3.0", "4.0"}, ""},
		{[]float64{1, 2, 3, 4, -5}, []string{"1.0", "2.0", "3.0"}, "−5.0"},
	} {
		w.Column("cases/x", c.cells)
		s := w.Series("cases/x", "x", 1)
		assert.Equal(t, c.first, s.First)
		assert.Equal(t, c.last, s.Last)
	}
}
