package stats

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/stats/dist"
)

func TestMidranks(t *testing.T) {
	ranks, ties := Midranks([]float64{3, 1, 4, 1, 5, 1, 3})
	assert.Equal(t, []float64{4.5, 2, 6, 2, 7, 2, 4.5}, ranks)
	assert.Equal(t, 24.0+6, ties) // 3³−3 and 2³−2
}

// The k-th of all pairs is what sorting all of them gives.
func TestKthOfPairs(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 40 {
		xs, ys := make([]float64, 1+rng.IntN(9)), make([]float64, 1+rng.IntN(9))
		for _, values := range [][]float64{xs, ys} {
			for i := range values {
				values[i] = float64(rng.IntN(12)-4) / 4
			}
		}
		var differences, averages []float64
		for i, x := range xs {
			for _, y := range ys {
				differences = append(differences, x-y)
			}
			for _, other := range xs[i:] {
				averages = append(averages, (x+other)/2)
			}
		}
		for _, c := range []struct {
			pairs Pairs
			all   []float64
		}{{NewPairDifferences(xs, ys), differences}, {NewPairAverages(xs), averages}} {
			slices.Sort(c.all)
			assert.Equal(t, len(c.all), c.pairs.Count())
			for k, want := range c.all {
				assert.InDelta(t, want, c.pairs.Kth(k+1), 0)
			}
			assert.Equal(t, median(c.all), MedianOfPairs(c.pairs))
		}
	}
}

// Every way to deal the ranks out, one by one.
func TestExactRanksAgainstEnumeration(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 12 {
		n := 5 + rng.IntN(6)
		values := make([]float64, n)
		for i := range values {
			values[i] = float64(1 + rng.IntN(7))
		}
		ranks, _ := Midranks(values)
		n1 := 1 + rng.IntN(n-1)
		sums, signed := map[float64]float64{}, map[float64]float64{}
		draws := 0.0
		for set := range 1 << n {
			sum, size := 0.0, 0
			for i := range n {
				if set>>i&1 == 1 {
					sum += ranks[i]
					size++
				}
			}
			signed[sum]++
			if size == n1 {
				sums[sum-float64(n1*(n1+1))/2]++
				draws++
			}
		}
		for _, c := range []struct {
			exact *dist.Exact
			ways  map[float64]float64
			total float64
		}{{dist.NewRankSum(ranks, n1), sums, draws}, {dist.NewSignedRank(ranks), signed, math.Pow(2, float64(n))}} {
			for x := range c.ways {
				lower, upper := 0.0, 0.0
				for y, w := range c.ways {
					if y <= x {
						lower += w
					}
					if y >= x {
						upper += w
					}
				}
				assert.InEpsilon(t, lower/c.total, c.exact.Lower(x), 1e-13)
				assert.InEpsilon(t, upper/c.total, c.exact.Upper(x), 1e-13)
			}
			if low := c.exact.LowerQuantile(0.2); !math.IsNaN(low) {
				assert.LessOrEqual(t, c.exact.Lower(low), 0.2)
				assert.Greater(t, c.exact.Lower(low+0.5)+c.exact.Lower(low+1), 0.2)
			}
		}
	}
}

// The critical values of printed tables: Mann and Whitney's U for 8 and 10 at 0.05 and
// Wilcoxon's W for 12 at 0.01, two-sided (Siegel, Nonparametric Statistics, 1956,
// tables K and G).
func TestExactRanksAgainstPrintedTables(t *testing.T) {
	ranks := make([]float64, 18)
	for i := range ranks {
		ranks[i] = float64(i + 1)
	}
	assert.Equal(t, 17.0, dist.NewRankSum(ranks, 8).LowerQuantile(0.025))
	assert.Equal(t, 63.0, dist.NewRankSum(ranks, 8).UpperQuantile(0.025))
	assert.Equal(t, 7.0, dist.NewSignedRank(ranks[:12]).LowerQuantile(0.005))
	many := make([]float64, 3000)
	for i := range many {
		many[i] = float64(i + 1)
	}
	assert.Nil(t, dist.NewRankSum(many, 1500), "that would take too long")
	assert.Nil(t, dist.NewSignedRank(many))
}
