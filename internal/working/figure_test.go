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

func TestCurvePoints(t *testing.T) {
	x, y := curvePoints(dist.Exponential{Rate: 2}, 0, 3, 61)
	assert.Len(t, x, 61)
	assert.Zero(t, float64(x[0]))
	assert.InDelta(t, 3, float64(x[60]), 1e-12)
	for i := range x {
		assert.InEpsilon(t, 2*math.Exp(-2*float64(x[i])), float64(y[i]), 1e-4) // to five digits
	}
	// Separate values are bars: the outline goes up and down at each.
	x, y = curvePoints(dist.NewRankSum([]float64{1, 2, 3, 4, 5}, 2), -100, 100, 61)
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

func TestDecimalsOf(t *testing.T) {
	for _, c := range []struct {
		values []float64
		limit  int
		want   int
	}{
		{[]float64{1, 2.5, 3.25}, 4, 2}, {[]float64{0.123456789}, 4, 4}, {[]float64{math.NaN(), 12}, 4, 0}, {nil, 4, 0}, {[]float64{0.30000000000000004}, 20, 17}, {[]float64{1e9 + 0.5}, 4, 1},
	} {
		assert.Equal(t, c.want, DecimalsOf(c.values, c.limit), "%v", c.values)
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
