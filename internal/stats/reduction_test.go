package stats

import (
	"context"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// withCategory returns n cases of some numbers, with the levels of a category, but for the first, after
// the first numbers.
func withCategory(n, before, levels, after int) (predictors [][]float64, response []float64) {
	rng := rand.New(rand.NewPCG(uint64(n), uint64(levels)))
	number := func() []float64 {
		out := make([]float64, n)
		for i := range out {
			out[i] = 1000 + 10*rng.NormFloat64()
		}
		return out
	}
	for range before {
		predictors = append(predictors, number())
	}
	of := make([]int, n)
	for i := range of {
		of[i] = i % levels
	}
	for l := 1; l < levels; l++ {
		column := make([]float64, n)
		for i := range column {
			if of[i] == l {
				column[i] = 1
			}
		}
		predictors = append(predictors, column)
	}
	for range after {
		predictors = append(predictors, number())
	}
	response = number()
	for i := range response {
		response[i] += 3 * float64(of[i])
	}
	return predictors, response
}

// A category whose levels are reduced as such gives the same fit as columns like any others.
func TestLevelsAreReducedToTheSameFit(t *testing.T) {
	for _, c := range []struct{ before, levels, after int }{{0, 40, 0}, {0, 15, 2}, {2, 30, 0}, {3, 13, 2}} {
		predictors, response := withCategory(400, c.before, c.levels, c.after)
		found := longestCategory(predictors)
		require.Equal(t, span{c.before, c.before + c.levels - 1}, found)
		got, dependent, err := fitLeastSquares(t.Context(), predictors, response, found)
		require.Equal(t, -1, dependent)
		require.NoError(t, err)
		want, _, _ := fitLeastSquares(t.Context(), predictors, response, span{})
		near := func(want, got []float64, what string) {
			t.Helper()
			for i := range want {
				assert.InEpsilon(t, want[i], got[i], 1e-14, "%v %s %d", c, what, i)
			}
		}
		near(want.Coefficients, got.Coefficients, "coefficient")
		near(want.SE, got.SE, "standard error")
		near(want.Inflation, got.Inflation, "inflation")
		near(want.Standardized, got.Standardized, "standardized")
		near([]float64{want.Residual, want.Regression, want.F, want.R2, want.AIC},
			[]float64{got.Residual, got.Regression, got.F, got.R2, got.AIC}, "")
		row := make([]float64, len(predictors))
		for i := 0; i < len(response); i += 17 {
			for j, column := range predictors {
				row[j] = column[i]
			}
			a, b := want.Case(row, response[i]), got.Case(row, response[i])
			near([]float64{a.Value, a.Residual, a.Leverage, a.Standardized, a.Cook},
				[]float64{b.Value, b.Residual, b.Leverage, b.Standardized, b.Cook}, "case")
		}
		for first := range predictors {
			f, _, p := want.Partial(first)
			g, _, q := got.Partial(first)
			near([]float64{f, p}, []float64{g, q}, "partial")
		}
	}
}

func TestADependentLevelIsNamed(t *testing.T) {
	predictors, response := withCategory(200, 1, 20, 0)
	all := make([]float64, 200)
	for i := range all {
		all[i] = 1
		for _, column := range predictors[1:] {
			all[i] -= column[i]
		}
	}
	_, dependent, _ := FitLeastSquares(t.Context(), append(predictors, all), response)
	assert.Equal(t, len(predictors), dependent, "the last level follows from the others")
	_, dependent, _ = FitLeastSquares(t.Context(), append(predictors, predictors[0]), response)
	assert.Equal(t, len(predictors), dependent)
}

func TestWhatIsACategory(t *testing.T) {
	predictors, _ := withCategory(300, 0, manyLevels, 0)
	assert.Equal(t, span{}, longestCategory(predictors), "few levels")
	predictors, _ = withCategory(300, 0, 30, 0)
	predictors[11][11] = 1 // of the level before too: in no case two
	assert.Equal(t, span{11, 29}, longestCategory(predictors))
	predictors[20][0] = 2
	assert.Equal(t, span{}, longestCategory(predictors[:21]))
}

func BenchmarkManyLevels(b *testing.B) {
	predictors, response := withCategory(3600, 0, 900, 0)
	for b.Loop() {
		if _, _, err := FitLeastSquares(b.Context(), predictors, response); err != nil {
			b.Fatal(err)
		}
	}
}

// From crossproducts comes the triangle that reflections give, and where digits would be lost nothing.
func TestTheTriangleFromCrossproducts(t *testing.T) {
	predictors, response := withCategory(3001, 3, 4, 2)
	columns := append(predictors, response)
	shift, order := make([]float64, len(columns)), make([]int, len(columns)+1)
	for j, column := range columns {
		shift[j], order[j+1] = column[0], j+1
	}
	b := newBlocks(t.Context(), columns, shift, order)
	got := triangleFromCrossproducts(t.Context(), b)
	all := make([]int, len(response))
	for i := range all {
		all[i] = i
	}
	b.add(all, make([]wide, b.size))
	b.reduce()
	for i, row := range b.rows[:b.size] {
		for j := i; j < b.size; j++ {
			want := row[j]
			if row[i].high < 0 { // a triangle is settled but for the signs of its rows
				want = want.neg()
			}
			assert.InDelta(t, 0, want.sub(got[i][j]).float(), 1e-24*(1+b.rows[j][j].high*b.rows[j][j].high), "%d, %d", i, j)
		}
	}

	near := make([]float64, len(response))
	for i, x := range predictors[0] {
		near[i] = x + 1e-6*predictors[1][i]
	}
	b = newBlocks(t.Context(), append(columns, near), append(shift, near[0]), append(order, len(order)))
	assert.Nil(t, triangleFromCrossproducts(t.Context(), b))
	done, cancel := context.WithCancel(t.Context())
	cancel()
	assert.Nil(t, triangleFromCrossproducts(done, b))
}
