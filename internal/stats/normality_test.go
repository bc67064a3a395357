package stats

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The weights of eleven men in pounds, the worked example of Shapiro and Wilk
// (Biometrika 52, 1965, p. 606), who find W = 0.79 and p just below 1 in 100.
func TestNormalityOfEleven(t *testing.T) {
	w := NewNormality([]float64{148, 154, 158, 160, 161, 162, 166, 170, 182, 195, 236})
	assert.InDelta(t, 0.79, w.W, 0.005)
	assert.Less(t, w.P, 0.01)
	assert.Greater(t, w.P, 0.005)
}

// Three cases have W between 3/4, where two are equal, and 1, in even steps.
func TestNormalityOfThree(t *testing.T) {
	assert.Equal(t, 1.0, NewNormality([]float64{1, 2, 3}).P)
	two := NewNormality([]float64{1, 1, 3})
	assert.InDelta(t, 0.75, two.W, 1e-15)
	assert.Zero(t, two.P)
	assert.True(t, math.IsNaN(two.Z))
}

// The weights have length 1 and turn their sign about the middle.
func TestWeightsOfNormality(t *testing.T) {
	for _, n := range []int{3, 4, 5, 6, 11, 50, 5000} {
		sorted := make([]float64, n)
		for i := range sorted {
			sorted[i] = float64(i)
		}
		a := weights(NewNormality(sorted).Scores)
		length := 0.0
		for i := range a {
			length += a[i] * a[i]
			assert.Equal(t, -a[i], a[n-1-i], n)
		}
		assert.InDelta(t, 1, length, 1e-13, n)
	}
}
