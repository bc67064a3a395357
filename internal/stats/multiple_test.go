package stats

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Reaches that are interpolated are those that are calculated one by one.
func TestTukeyReachesOfManyPairs(t *testing.T) {
	for _, c := range []struct {
		k         int
		area      float64
		low, high float64
	}{{15, 0.05, 3, 40}, {100, 0.01, 6.5, 14}, {300, 0.1, 1.5, 1e6}, {40, 0.001, 2, 30}, {20, 0.2, 9, 9}} {
		dfs := make([]float64, 500)
		for i := range dfs {
			dfs[i] = 1 / (1/c.high + (1/c.low-1/c.high)*float64(i)/float64(len(dfs)-1))
		}
		reach, err := tukeyReaches(t.Context(), dfs, c.k, c.area)
		require.NoError(t, err)
		for i := 0; i < len(dfs); i += 31 {
			assert.InEpsilon(t, TukeyReach(dfs[i], c.k, c.area), reach(dfs[i]), 1e-12, "%v, df %v", c, dfs[i])
		}
	}
	done, cancel := context.WithCancel(t.Context())
	cancel()
	_, err := tukeyReaches(done, slices.Repeat([]float64{1}, 100), 5, 0.05)
	assert.ErrorIs(t, err, context.Canceled)
}

func TestTukeyPsOfManyPairs(t *testing.T) {
	for _, c := range []struct {
		k        int
		df, most float64
	}{{15, 20, 5}, {100, 300, 8}, {300, 900, 30}, {40, 4, 6}, {60, 1e6, 12}} {
		pairs := make([]MeanPair, 1500)
		for i := range pairs {
			pairs[i] = MeanPair{T: c.most * float64(i-700) / 1500, DF: c.df}
		}
		tail, err := tukeyPs(t.Context(), pairs, c.k)
		require.NoError(t, err)
		for i := 0; i < len(pairs); i += 83 {
			assert.InEpsilon(t, TukeyP(pairs[i], c.k), tail(pairs[i].T), 1e-12, "%v, t %v", c, pairs[i].T)
		}
	}
}
