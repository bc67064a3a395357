package dist

import (
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
)

// checkDiscrete checks a distribution against exact masses of the numbers from
// first on, at each step-th of the first count numbers.
func checkDiscrete(t *testing.T, d Discrete, first int, masses []*big.Rat, count, step int) {
	t.Helper()
	value := func(r *big.Rat) float64 { f, _ := new(big.Float).SetPrec(200).SetRat(r).Float64(); return f }
	below, above := make([]float64, len(masses)), make([]float64, len(masses))
	for sum, i := new(big.Rat), 0; i < len(masses); i++ {
		below[i] = value(sum.Add(sum, masses[i]))
	}
	for sum, i := new(big.Rat), len(masses)-1; i >= 0; i-- {
		above[i] = value(sum.Add(sum, masses[i]))
	}
	for i := 0; i < count; i += step {
		k := first + i
		for name, pair := range map[string][2]float64{"mass": {value(masses[i]), d.Mass(k)}, "lower": {below[i], d.Lower(k)},
			"upper": {above[i], d.Upper(k)}} {
			if pair[0] > 1e-300 {
				assert.InEpsilon(t, pair[0], pair[1], 1e-12, "%s of %T %+v at %d", name, d, d, k)
			}
		}
	}
	for _, p := range []float64{1e-20, 0.01, 0.05, 0.5, 0.95, 0.999} {
		k := LowerQuantile(d, p)
		assert.True(t, d.Lower(k) >= p && d.Lower(k-1) < p, "%+v: lower quantile of %v is %d", d, p, k)
		k = UpperQuantile(d, p)
		assert.True(t, d.Upper(k) >= p && d.Upper(k+1) < p, "%+v: upper quantile of %v is %d", d, p, k)
	}
}

func choose(n, k int) *big.Rat {
	return new(big.Rat).SetInt(new(big.Int).Binomial(int64(n), int64(k)))
}

// power returns x to a whole power, exactly.
func power(x *big.Rat, n int) *big.Rat {
	e := big.NewInt(int64(n))
	return new(big.Rat).SetFrac(new(big.Int).Exp(x.Num(), e, nil), new(big.Int).Exp(x.Denom(), e, nil))
}

func TestBinomialAgainstExactSums(t *testing.T) {
	for _, n := range []int{1, 2, 13, 60, 200} {
		for _, p := range []float64{1e-9, 0.05, 0.3, 0.5, 0.875, 1 - 1e-9} {
			exact := new(big.Rat).SetFloat64(p)
			rest := new(big.Rat).Sub(big.NewRat(1, 1), exact)
			masses := make([]*big.Rat, n+1)
			for k := range masses {
				masses[k] = choose(n, k)
				masses[k].Mul(masses[k], power(exact, k)).Mul(masses[k], power(rest, n-k))
			}
			checkDiscrete(t, Binomial{n, p}, 0, masses, n+1, 1+n/20)
		}
	}
	for _, d := range []Binomial{{5, 0}, {5, 1}} {
		assert.Equal(t, 1.0, d.Lower(5))
		assert.Equal(t, 1.0, d.Upper(0))
		assert.Equal(t, d.P, d.Upper(5))
		assert.Equal(t, d.P, d.Mass(5))
		assert.Equal(t, 1-d.P, d.Lower(0))
	}
}

func TestHypergeometricAgainstExactSums(t *testing.T) {
	for _, d := range []Hypergeometric{{10, 4, 5}, {10, 10, 3}, {33, 15, 18}, {240, 37, 180}, {1000, 500, 300}} {
		least, greatest := d.Range()
		masses := make([]*big.Rat, greatest-least+1)
		for i := range masses {
			k := least + i
			masses[i] = choose(d.Successes, k)
			masses[i].Mul(masses[i], choose(d.Population-d.Successes, d.Draws-k))
			masses[i].Quo(masses[i], choose(d.Population, d.Draws))
		}
		if len(masses) == 1 {
			assert.Equal(t, []float64{1, 1, 1}, []float64{d.Mass(least), d.Lower(least), d.Upper(least)})
			continue
		}
		checkDiscrete(t, d, least, masses, len(masses), 1+len(masses)/40)
	}
}

func TestPoissonAgainstSums(t *testing.T) {
	for _, mean := range []float64{0.05, 1, 7.5, 120, 3000} {
		unit, _ := bigExp(num(-mean)).Rat(nil)
		term := new(big.Float).SetPrec(precision).SetInt64(1)
		var masses []*big.Rat
		count := int(mean + 40*math.Sqrt(mean) + 40)
		for k := 0; k < count+80; k++ { // what comes after weighs nothing
			if k > 0 {
				term = div(mul(term, num(mean)), num(float64(k)))
			}
			mass, _ := term.Rat(nil)
			masses = append(masses, mass.Mul(mass, unit))
		}
		checkDiscrete(t, Poisson{mean}, 0, masses, count, 1+count/60)
	}
}

// With a million trials the tails are those of the F distribution, which is checked
// against references of its own (DLMF 8.17.5).
func TestManyTrials(t *testing.T) {
	const n, p = 1_000_000, 0.3
	for _, k := range []int{285_000, 298_000, 300_001, 303_000, 316_000} {
		a, b := float64(k), float64(n-k+1)
		f := F{2 * a, 2 * b}
		at := b * p / (a * (1 - p))
		want := f.Lower(at)
		// One rounding of at moves the tail by so much.
		slack := math.Max(1e-12, 3e-16*at*f.Density(at)/want)
		assert.InEpsilon(t, want, Binomial{n, p}.Upper(k), slack, k)
		total := Binomial{n, p}.Upper(k) + Binomial{n, p}.Lower(k-1)
		assert.InDelta(t, 1, total, 1e-14)
	}
}

func TestExponentialAndUniform(t *testing.T) {
	e := Exponential{0.25}
	assert.InEpsilon(t, math.Exp(-2), e.Upper(8), 1e-15)
	assert.InEpsilon(t, 1e-20/4, e.Lower(1e-20), 1e-15, "no digit is lost near 0")
	assert.InEpsilon(t, 8, e.UpperQuantile(math.Exp(-2)), 1e-15)
	assert.InEpsilon(t, 4e-20, e.LowerQuantile(1e-20), 1e-15)
	u := Uniform{2, 6}
	assert.Equal(t, []float64{0, 0.25, 1, 1, 0.75, 0, 0.25, 0},
		[]float64{u.Lower(1), u.Lower(3), u.Lower(7), u.Upper(1), u.Upper(3), u.Upper(7), u.Density(3), u.Density(7)})
	assert.Equal(t, []float64{3, 5}, []float64{u.LowerQuantile(0.25), u.UpperQuantile(0.25)})
}
