package lines

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/stats"
)

// The p-values are of exact sums of squares, their areas taken at 40 digits.
func TestBend(t *testing.T) {
	x, w := []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10}, []float64{3, 1, 4, 1, 5, 9, 2, 6, 5, 3}
	fitted := func(columns [][]float64, y []float64) []float64 {
		f, _, _ := stats.FitLeastSquares(t.Context(), columns, y)
		var values []float64
		row := make([]float64, len(columns))
		for i := range y {
			for j, c := range columns {
				row[j] = c[i]
			}
			value, _ := f.At(row)
			values = append(values, value)
		}
		return values
	}
	for _, c := range []struct {
		y             []float64
		line, several float64
	}{
		{[]float64{4, 5, 9, 10, 14, 22, 23, 31, 36, 42}, 0.00257438056778788363701, 0.0000313085373005998393871},
		{[]float64{2, 3, 1, 4, 6, 5, 8, 7, 9, 12}, 0.1958448003263103273770605, 0.3071949637414292970507843},
	} {
		line, several := [][]float64{x}, [][]float64{x, w}
		assert.InEpsilon(t, c.line, bend(t.Context(), line, x, c.y), 1e-11)
		assert.InEpsilon(t, c.line, bend(t.Context(), line, fitted(line, c.y), c.y), 1e-11, "the fitted values are a line of x")
		assert.InEpsilon(t, c.several, bend(t.Context(), several, fitted(several, c.y), c.y), 1e-11)
	}
	assert.True(t, math.IsNaN(bend(t.Context(), [][]float64{x}, make([]float64, 10), x)), "nothing runs along")
	assert.True(t, math.IsNaN(bend(t.Context(), [][]float64{x[:4]}, x[:4], w[:4])), "no degree of freedom left")
	two := []float64{0, 1, 0, 1, 0, 1, 0, 1, 0, 1}
	assert.True(t, math.IsNaN(bend(t.Context(), [][]float64{two}, two, w)), "a square of two values is a line")
}
