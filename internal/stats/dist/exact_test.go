package dist

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The bars of an outline hold all of the probability, and the bars up to a value that
// of the values up to it, whether a bar is one step or several.
func TestOutline(t *testing.T) {
	ranks := func(n int) []float64 {
		out := make([]float64, n)
		for i := range out {
			out[i] = float64(i + 1)
		}
		return out
	}
	area := func(x, y []float64) float64 {
		sum := 0.0
		for i := 0; i < len(x); i += 2 {
			assert.Equal(t, y[i], y[i+1])
			sum += (x[i+1] - x[i]) * y[i]
		}
		return sum
	}
	for name, d := range map[string]*Exact{
		"a bar a value":   NewRankSum(ranks(9), 4),
		"several":         NewRankSum(ranks(30), 14),
		"with ties":       NewSignedRank([]float64{1.5, 1.5, 3, 4.5, 4.5, 6}),
		"one value alone": NewRankSum([]float64{1, 2}, 2),
	} {
		least, greatest := d.Range()
		half := d.Step() / 2
		x, y := d.Outline(least-half, greatest+half)
		assert.LessOrEqual(t, len(x), 2*outlineBars, name)
		assert.InDelta(t, 1, area(x, y), 1e-12, name)
		edge := least + float64(d.bar()*2)*d.Step() - half // where the second bar ends
		x, y = d.Outline(least-half, min(edge, greatest+half))
		assert.InDelta(t, d.Lower(edge), area(x, y), 1e-12, name)
		assert.Zero(t, d.Density(least-d.Step()), name)
		assert.Zero(t, d.Density(greatest+d.Step()), name)
	}
}
