package stats

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What holds of every table.
func TestTableProperties(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 1))
	for range 200 {
		r, c := 2+rng.IntN(5), 2+rng.IntN(6)
		observed, other := make([][]int, r), make([][]int, c) // and the same turned
		for j := range c {
			other[j] = make([]int, r)
		}
		for i := range r {
			observed[i] = make([]int, c)
			for j := range c {
				observed[i][j] = rng.IntN(20)
				if i == 0 || j == 0 { // no row or column is empty
					observed[i][j]++
				}
				other[j][i] = observed[i][j]
			}
		}
		table := NewTable(observed, false)
		sum, g := 0.0, 0.0
		columns := make([]float64, c)
		for i := range r {
			row := 0.0
			for j := range c {
				row += table.Expected[i][j]
				columns[j] += table.Expected[i][j]
				sum += table.Contribution[i][j]
				assert.InDelta(t, table.Difference[i][j], float64(observed[i][j])-table.Expected[i][j], 1e-9)
				if o := float64(observed[i][j]); o > 0 {
					g += 2 * o * math.Log(o/table.Expected[i][j])
				}
			}
			assert.InEpsilon(t, float64(table.Rows[i]), row, 1e-12)
		}
		for j := range c {
			assert.InEpsilon(t, float64(table.Columns[j]), columns[j], 1e-12)
		}
		assert.InDelta(t, table.ChiSquare, sum, 1e-9)
		assert.InDelta(t, g, table.G, 1e-9)
		turned := NewTable(other, false)
		assert.InDelta(t, table.ChiSquare, turned.ChiSquare, 1e-9)
		assert.InDelta(t, table.CramersV, turned.CramersV, 1e-12)
		if r == 2 && c == 2 {
			assert.InDelta(t, table.CramersV, math.Abs(table.Phi), 1e-12)
		}
	}
}

// By hand: 20 and 10 against 15 and 25. n = 70, ad − bc = 350, χ² = 70·350²/(30·40·35·35).
func TestTwoByTwoByHand(t *testing.T) {
	table := NewTable([][]int{{20, 10}, {15, 25}}, false)
	assert.InEpsilon(t, 35.0/6, table.ChiSquare, 1e-14)
	assert.InEpsilon(t, math.Sqrt(35.0/6/70), table.Phi, 1e-14)
	assert.InEpsilon(t, 15, table.Expected[0][0], 1e-15)
	corrected := NewTable([][]int{{20, 10}, {15, 25}}, true)
	assert.InEpsilon(t, 4.5*4.5*(1/15.0+1/15.0+1/20.0+1/20.0), corrected.ChiSquare, 1e-14)
	assert.Equal(t, table.Phi, corrected.Phi, "phi carries no correction")
	odds := table.OddsRatio(1.959963984540054)
	assert.InEpsilon(t, 10.0/3, odds.Value, 1e-15)
	half := 1.959963984540054 * math.Sqrt(1/20.0+1/10.0+1/15.0+1/25.0)
	assert.InEpsilon(t, 10.0/3*math.Exp(-half), odds.Low, 1e-14)
	risk := table.RelativeRisk(1.959963984540054)
	assert.InEpsilon(t, 20.0/30/(15.0/40), risk.Value, 1e-15)
	assert.Equal(t, 0.0, NewTable([][]int{{0, 10}, {15, 25}}, false).OddsRatio(2).Value)
	assert.True(t, math.IsInf(NewTable([][]int{{5, 0}, {15, 25}}, false).OddsRatio(2).Value, 1))
}

func TestFitByHand(t *testing.T) {
	f := CompareFit([]int{30, 14, 16}, []float64{2, 1, 1})
	assert.Equal(t, []float64{30, 15, 15}, f.Expected)
	assert.InEpsilon(t, 2.0/15, f.ChiSquare, 1e-15)
	assert.Equal(t, 2.0, f.DF)
	assert.InDelta(t, 0, f.Difference[0], 0)
	// A share that is exactly met gives no contribution, whatever the doubles make of 1/3.
	assert.Equal(t, 0.0, CompareFit([]int{7, 7, 7}, []float64{1, 1, 1}).ChiSquare)
	assert.InDelta(t, 0, CompareFit([]int{3, 7}, []float64{0.3, 0.7}).Contribution[0], 1e-30)
}

// Goodman's interval solves |p̂ − p| = √(A p(1 − p)/n).
func TestGoodmanInterval(t *testing.T) {
	for _, o := range []int{0, 3, 20, 50} {
		low, high := GoodmanInterval(o, 50, 4, 0.05)
		const a = 6.238534 // χ² with 1 degree of freedom, upper area 0.0125
		for _, p := range []float64{low, high} {
			if p == 0 || p == 1 {
				continue
			}
			d := float64(o)/50 - p
			assert.InDelta(t, a*p*(1-p)/50, d*d, 2e-8, "%d at %v", o, p)
		}
		assert.Equal(t, o == 0, low == 0)
		assert.LessOrEqual(t, high, 1.0)
	}
}

// S. Holm's example of ordering: the smallest times their number, none below one before.
func TestHolm(t *testing.T) {
	assert.InDeltaSlice(t, []float64{0.03, 0.06, 0.06, 0.02}, Holm([]float64{0.01, 0.04, 0.03, 0.005}), 1e-15)
	assert.Equal(t, []float64{1, 1}, Holm([]float64{0.7, 0.9}))
}

func TestDiscordantPairs(t *testing.T) {
	assert.InEpsilon(t, 25.0/35, CompareDiscordant(20, 15, false).ChiSquare, 1e-15)
	assert.InEpsilon(t, 16.0/35, CompareDiscordant(20, 15, true).ChiSquare, 1e-15)
	assert.Equal(t, 0.0, CompareDiscordant(7, 7, true).ChiSquare)
	// 2 (1 + 5 + 10·0 …): five pairs, all one way.
	assert.InEpsilon(t, 2.0/32, CompareDiscordant(5, 0, false).Exact, 1e-15)
}
