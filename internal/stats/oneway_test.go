package stats

import (
	"math"
	"math/big"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

// exactMoments returns the mean and the standard deviation of doubles as they are, from exact
// fractions.
func exactMoments(xs []float64) (mean, sd float64) {
	sum := new(big.Rat)
	for _, x := range xs {
		sum.Add(sum, new(big.Rat).SetFloat64(x))
	}
	centre := sum.Quo(sum, big.NewRat(int64(len(xs)), 1))
	squares := new(big.Rat)
	for _, x := range xs {
		d := new(big.Rat).Sub(new(big.Rat).SetFloat64(x), centre)
		squares.Add(squares, d.Mul(d, d))
	}
	mean, _ = centre.Float64()
	variance := new(big.Float).SetPrec(200).SetRat(squares.Quo(squares, big.NewRat(int64(len(xs)-1), 1)))
	sd, _ = variance.Sqrt(variance).Float64()
	return mean, sd
}

func TestGroupMoments(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 1))
	normal := func(offset, scale float64) func(i int) float64 {
		return func(int) float64 { return offset + scale*rng.NormFloat64() }
	}
	for name, value := range map[string]func(i int) float64{
		"plain":                     normal(10, 2),
		"a large offset":            normal(1e12, 0.1),
		"negative":                  normal(-1e7, 3),
		"the first case far out":    func(i int) float64 { return map[bool]float64{true: 1e9, false: 0}[i < 5] + rng.NormFloat64() },
		"a trend":                   func(i int) float64 { return float64(i) },
		"squares that overflow":     normal(1e200, 1e199),
		"squares that vanish":       normal(1e-190, 1e-190),
		"squares of which some do":  func(i int) float64 { return math.Ldexp(rng.NormFloat64(), -520+i%8) },
		"constant":                  func(int) float64 { return 0.1 },
		"constant, but for a group": func(i int) float64 { return map[bool]float64{true: rng.NormFloat64(), false: 7}[i%3 == 0] },
	} {
		t.Run(name, func(t *testing.T) {
			const k, n = 3, 5000
			values, group := make([]float64, n), make([]int, n)
			parts := make([][]float64, k)
			for i := range values {
				values[i], group[i] = value(i), i%k
				parts[i%k] = append(parts[i%k], values[i])
			}
			got := GroupMoments(values, group, k+1)
			for g, part := range parts {
				mean, sd := exactMoments(part)
				assert.Equal(t, len(part), got[g].N)
				assert.InEpsilon(t, mean, got[g].Mean, 1e-13)
				if sd == 0 {
					assert.Zero(t, got[g].SD)
					continue
				}
				assert.InEpsilon(t, sd, got[g].SD, 1e-12)
			}
			assert.Zero(t, got[k].N)
			assert.True(t, math.IsNaN(got[k].Mean))
		})
	}
	one := GroupMoments([]float64{3, 1, 2}, []int{1, 0, 1}, 2)
	assert.Equal(t, 1.0, one[0].Mean)
	assert.True(t, math.IsNaN(one[0].SD))
	assert.InEpsilon(t, math.Sqrt(0.5), one[1].SD, 1e-15)
}

// Two groups share a letter just where they do not differ, whatever the relation, and no
// letter is there for nothing.
func TestLetters(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 7))
	for range 300 {
		k := 2 + rng.IntN(7)
		apart := make([]bool, k*k)
		for i := range k {
			for j := range i {
				apart[i*k+j] = rng.IntN(3) == 0
				apart[j*k+i] = apart[i*k+j]
			}
		}
		sets := Letters(k, func(i, j int) bool { return apart[i*k+j] })
		for i := range k {
			for j := range k {
				shares := slices.ContainsFunc(sets, func(set []int) bool { return slices.Contains(set, i) && slices.Contains(set, j) })
				assert.Equal(t, !apart[i*k+j], shares)
			}
		}
		for i, set := range sets {
			for j, other := range sets {
				assert.False(t, i != j && subset(set, other), "a letter within another")
			}
		}
	}
}

// The noncentral F as a mean of central ones over draws of its numerator, by chance; and
// where nothing is true it is F itself.
func TestPowerOfF(t *testing.T) {
	assert.InDelta(t, 0.05, PowerOfF(3, 42, 0, 2.8270487), 1e-8)
	rng := rand.New(rand.NewPCG(2, 2))
	const draws = 200_000
	above := 0
	for range draws {
		top, bottom := 0.0, 0.0
		for i := range 3 {
			z := rng.NormFloat64()
			if i == 0 {
				z += math.Sqrt(11.25)
			}
			top += z * z / 3
		}
		for range 42 {
			z := rng.NormFloat64()
			bottom += z * z / 42
		}
		if top/bottom >= 2.8270487 {
			above++
		}
	}
	p := float64(above) / draws
	assert.InDelta(t, p, PowerOfF(3, 42, 11.25, 2.8270487), 4*math.Sqrt(p*(1-p)/draws))
}

// BenchmarkOneWay sets a one-way analysis of variance of a million cases, with their group
// numbers, beside one pass that sums them.
func BenchmarkOneWay(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 1))
	const n, k = 1_000_000, 5
	values, shuffled, sorted := make([]float64, n), make([]int, n), make([]int, n)
	for i := range values {
		values[i], shuffled[i], sorted[i] = 1e6+rng.NormFloat64(), rng.IntN(k), i*k/n
	}
	sink := 0.0
	b.Run("summing", func(b *testing.B) {
		for b.Loop() {
			sum := 0.0
			for _, x := range values {
				sum += x
			}
			sink += sum
		}
	})
	for name, group := range map[string][]int{"groups mixed": shuffled, "groups one after the other": sorted} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				a := NewOneWay(GroupMoments(values, group, k))
				sink += a.F
			}
		})
	}
	_ = sink
}
