package data

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestDecimals(t *testing.T) {
	for x, want := range map[float64]int{12: 0, 2.5: 1, -3.25: 2, 0.30000000000000004: 17, 1e9 + 0.5: 1, 0: 0} {
		assert.Equal(t, want, Decimals(x), "%v", x)
	}
}

func TestMostDecimals(t *testing.T) {
	for _, c := range []struct {
		values []float64
		want   int
	}{
		{[]float64{1, 2.5, 3.25}, 2}, {[]float64{0.123456789}, 6}, {[]float64{math.NaN(), 12}, 0}, {nil, 0}, {[]float64{1e9 + 0.5}, 1},
	} {
		assert.Equal(t, c.want, MostDecimals(c.values), "%v", c.values)
	}
}
