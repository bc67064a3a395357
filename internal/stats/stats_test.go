package stats

import (
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

// exact is the mean and the sum of squared deviations in rational arithmetic.
func exact(xs []float64) (mean, squares *big.Rat) {
	mean, squares = new(big.Rat), new(big.Rat)
	for _, x := range xs {
		mean.Add(mean, new(big.Rat).SetFloat64(x))
	}
	mean.Quo(mean, big.NewRat(int64(len(xs)), 1))
	for _, x := range xs {
		d := new(big.Rat).Sub(new(big.Rat).SetFloat64(x), mean)
		squares.Add(squares, d.Mul(d, d))
	}
	return mean, squares
}

func ratio(a *big.Rat, n int) *big.Rat { return new(big.Rat).Quo(a, big.NewRat(int64(n), 1)) }

// root returns √x rounded to a double from 200 bits.
func root(x *big.Rat) float64 {
	f, _ := new(big.Float).Sqrt(new(big.Float).SetPrec(200).SetRat(x)).Float64()
	return f
}

func value(x *big.Rat) float64 {
	f, _ := x.Float64()
	return f
}

// exactTwoMeans recomputes CompareMeans in rational arithmetic, by the textbook's
// formulas as they stand.
func exactTwoMeans(first, second []float64, difference0 float64, pooled bool) TwoMeans {
	m1, ss1 := exact(first)
	m2, ss2 := exact(second)
	n1, n2 := len(first), len(second)
	difference := new(big.Rat).Sub(m1, m2)
	over := new(big.Rat).Sub(difference, new(big.Rat).SetFloat64(difference0))
	v1, v2 := ratio(ss1, n1-1), ratio(ss2, n2-1)
	var se2, d2, df *big.Rat
	out := TwoMeans{PooledSD: math.NaN()}
	if pooled {
		sp2 := ratio(new(big.Rat).Add(ss1, ss2), n1+n2-2)
		out.PooledSD = root(sp2)
		se2 = new(big.Rat).Mul(sp2, new(big.Rat).Add(big.NewRat(1, int64(n1)), big.NewRat(1, int64(n2))))
		d2, df = sp2, big.NewRat(int64(n1+n2-2), 1)
	} else {
		a, b := ratio(v1, n1), ratio(v2, n2)
		se2 = new(big.Rat).Add(a, b)
		d2 = ratio(new(big.Rat).Add(v1, v2), 2)
		below := new(big.Rat).Add(ratio(new(big.Rat).Mul(a, a), n1-1), ratio(new(big.Rat).Mul(b, b), n2-1))
		df = new(big.Rat).Quo(new(big.Rat).Mul(se2, se2), below)
	}
	over2 := new(big.Rat).Mul(over, over)
	out.Difference, out.SE, out.DF = value(difference), root(se2), value(df)
	out.T = float64(over.Sign()) * root(over2.Quo(over2, se2))
	out.CohenD = float64(difference.Sign()) * root(new(big.Rat).Quo(new(big.Rat).Mul(difference, difference), d2))
	return out
}

func TestCompareMeansAgainstRationals(t *testing.T) {
	rng := rand.New(rand.NewPCG(8420, 1))
	sample := func(n int, offset, spread float64) []float64 {
		xs := make([]float64, n)
		for i := range xs {
			xs[i] = offset + spread*rng.NormFloat64()
		}
		return xs
	}
	cases := map[string][2][]float64{
		"small numbers":       {{12.1, 11.8, 12.2}, {13.4, 12.9}},
		"two and two":         {{1, 2}, {3, 5}},
		"one constant group":  {{7, 7, 7}, {1, 2, 4, 8}},
		"large offset":        {sample(40, 1e9, 1e-3), sample(25, 1e9, 2e-3)},
		"larger offset":       {{1e15, 1e15 + 1, 1e15 + 2}, {1e15 + 2, 1e15 + 4, 1e15 + 5}},
		"mixed sizes":         {sample(1000, 5, 2), sample(7, -3, 40)},
		"tiny":                {sample(9, 0, 1e-160), sample(8, 1e-160, 3e-160)},
		"huge":                {sample(9, 1e300, 1e299), sample(8, 2e300, 1e300)},
		"near the largest":    {{1.7e308, 1.6e308, 1.5e308}, {-1.7e308, -1.6e308}},
		"difference cancels":  {{0.1, 0.2, 0.3}, {0.2, 0.15, 0.25000001}},
		"signs on both sides": {{-3, -1, 4, 1}, {5, -9, 2, 6, -5}},
	}
	for name, groups := range cases {
		for _, difference0 := range []float64{0, 0.25} {
			for _, pooled := range []bool{false, true} {
				t.Run(fmt.Sprintf("%s/%v/%v", name, difference0, pooled), func(t *testing.T) {
					got := CompareMeans(NewMoments(groups[0]), NewMoments(groups[1]), difference0, pooled)
					want := exactTwoMeans(groups[0], groups[1], difference0, pooled)
					near := func(label string, want, got float64) {
						if math.IsNaN(want) || math.IsInf(want, 0) {
							assert.Equal(t, fmt.Sprint(want), fmt.Sprint(got), label)
							return
						}
						assert.InEpsilon(t, want, got, 1e-13, label)
					}
					near("difference", want.Difference, got.Difference)
					near("se", want.SE, got.SE)
					near("t", want.T, got.T)
					near("df", want.DF, got.DF)
					near("pooled sd", want.PooledSD, got.PooledSD)
					near("d", want.CohenD, got.CohenD)
				})
			}
		}
	}
}

func TestMomentsOfFewCases(t *testing.T) {
	assert.True(t, math.IsNaN(NewMoments(nil).Mean))
	one := NewMoments([]float64{4.5})
	assert.Equal(t, 4.5, one.Mean)
	assert.True(t, math.IsNaN(one.SD))
	assert.Zero(t, NewMoments([]float64{0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1}).SD, "a constant sample has no spread at all")
}

func TestFiveNumbers(t *testing.T) {
	for _, c := range []struct {
		sorted []float64
		want   FiveNumbers
	}{
		{[]float64{3}, FiveNumbers{3, 3, 3, 3, 3}},
		{[]float64{1, 4}, FiveNumbers{1, 1, 2.5, 4, 4}},
		{[]float64{1, 2, 10}, FiveNumbers{1, 1, 2, 10, 10}},
		{[]float64{1, 2, 3, 4}, FiveNumbers{1, 1.5, 2.5, 3.5, 4}},
		{[]float64{1, 2, 3, 4, 5, 6, 7}, FiveNumbers{1, 2, 4, 6, 7}},
		{[]float64{1, 2, 3, 4, 5, 6, 7, 8, 9}, FiveNumbers{1, 2.5, 5, 7.5, 9}},
	} {
		assert.Equal(t, c.want, NewFiveNumbers(c.sorted))
	}
	low, high := FiveNumbers{0, 10, 15, 20, 30}.Fences(1.5)
	assert.Equal(t, []float64{-5, 35}, []float64{low, high})
}

func skewness(xs ...float64) float64 { return NewMoments(xs).Skewness(xs) }

func TestSkewness(t *testing.T) {
	assert.InDelta(t, 0, skewness(1, 2, 3, 4, 5), 1e-15)
	assert.Zero(t, skewness(2, 2, 2))
	// x = 0, 0, 3: mean 1, deviations −1, −1, 2; Σd³ = 6, s² = 6/2 = 3.
	assert.InEpsilon(t, 6/(3*math.Pow(3, 1.5)), skewness(0, 0, 3), 1e-14)
}

func BenchmarkNewMoments(b *testing.B) {
	xs := make([]float64, 1_000_000)
	rng := rand.New(rand.NewPCG(1, 2))
	for i := range xs {
		xs[i] = rng.NormFloat64()
	}
	b.SetBytes(8 * int64(len(xs)))
	for b.Loop() {
		NewMoments(xs)
	}
}

func TestMomentsOfAnInfiniteValue(t *testing.T) {
	for _, x := range []float64{math.Inf(1), math.Inf(-1)} {
		m := NewMoments([]float64{1, x, 3})
		assert.Equal(t, 3, m.N)
		assert.True(t, math.IsNaN(m.Mean) && math.IsNaN(m.SD))
	}
}

// Many numbers are sorted by their digits, as a few are by comparing.
func TestSorted(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	for _, n := range []int{0, 1, 100, manyToSort - 1, manyToSort, 50_001} {
		xs := make([]float64, n)
		for i := range xs {
			switch i % 5 {
			case 0:
				xs[i] = rng.NormFloat64() * math.Pow(10, float64(rng.IntN(600)-300))
			case 1:
				xs[i] = float64(rng.IntN(7) - 3)
			case 2:
				xs[i] = []float64{math.Inf(1), math.Inf(-1), math.MaxFloat64, -math.MaxFloat64, math.SmallestNonzeroFloat64, -5e-324, 0}[rng.IntN(7)]
			default:
				xs[i] = 12 + rng.Float64()
			}
		}
		before, want := slices.Clone(xs), slices.Clone(xs)
		slices.Sort(want)
		assert.Equal(t, want, append([]float64{}, Sorted(xs)...), n)
		assert.Equal(t, before, xs, "the numbers stay as they are")
	}
}
