package stats

import (
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/stats/dist"
)

// J. Cohen, Statistical Power Analysis for the Behavioral Sciences, 2nd ed., tables 2.3:
// power of the t test of two means, n cases a group, in hundredths.
func TestPowerOfTAgainstPrintedTables(t *testing.T) {
	for _, c := range []struct {
		n        int
		d, alpha float64
		two      bool
		want     float64
	}{
		{20, 0.5, 0.05, true, 0.33}, {30, 0.5, 0.05, true, 0.47}, {64, 0.5, 0.05, true, 0.80}, {26, 0.8, 0.05, true, 0.80},
		{20, 0.5, 0.05, false, 0.46}, {50, 0.5, 0.05, false, 0.80}, {40, 0.5, 0.01, true, 0.35},
	} {
		df := float64(2*c.n - 2)
		low, high := math.Inf(-1), dist.T{DF: df}.UpperQuantile(c.alpha)
		if c.two {
			high = dist.T{DF: df}.UpperQuantile(c.alpha / 2)
			low = -high
		}
		assert.InDelta(t, c.want, PowerOfT(df, c.d*math.Sqrt(float64(c.n)/2), low, high), 0.0151, "%+v", c)
	}
}

func TestPowerUnderH0IsAlpha(t *testing.T) {
	for _, alpha := range []float64{0.001, 0.05, 0.3} {
		z, student := dist.Normal{}.UpperQuantile(alpha/2), dist.T{DF: 7}.UpperQuantile(alpha/2)
		assert.InEpsilon(t, alpha, PowerOfZ(0, -z, z), 1e-12)
		assert.InEpsilon(t, alpha, PowerOfT(7, 0, -student, student), 1e-12)
		one := dist.T{DF: 7}.UpperQuantile(alpha)
		assert.InEpsilon(t, alpha, PowerOfT(7, 0, math.Inf(-1), one), 1e-12)
		assert.InEpsilon(t, alpha, PowerOfT(7, 0, -one, math.Inf(1)), 1e-12)
	}
	// Φ(−1.96 + 2.5) and what little lies beyond the other side.
	assert.InDelta(t, 0.70540, PowerOfZ(2.5, -1.96, 1.96), 1e-5)
}

// exactPower adds up the probabilities of the counts that reject, as fractions.
func exactPower(n int, num, den int64, rejects func(k int) bool) float64 {
	sum := new(big.Rat)
	p, q := big.NewRat(num, den), big.NewRat(den-num, den)
	for k := 0; k <= n; k++ {
		if !rejects(k) {
			continue
		}
		term := new(big.Rat).SetInt(new(big.Int).Binomial(int64(n), int64(k)))
		for range k {
			term.Mul(term, p)
		}
		for range n - k {
			term.Mul(term, q)
		}
		sum.Add(sum, term)
	}
	out, _ := sum.Float64()
	return out
}

func TestPowerOfProportion(t *testing.T) {
	const critical = 1.959963984540054
	for _, n := range []int{1, 5, 20, 57} {
		for _, continuity := range []Continuity{NoCorrection, TwoTails, LeftTail, RightTail} {
			z := func(k int) float64 {
				distance := float64(k) - float64(n)*0.4
				switch continuity {
				case TwoTails:
					distance = math.Copysign(math.Max(0, math.Abs(distance)-0.5), distance)
				case LeftTail:
					distance += 0.5
				case RightTail:
					distance -= 0.5
				}
				return distance / math.Sqrt(float64(n)*0.4*0.6)
			}
			both := exactPower(n, 7, 10, func(k int) bool { return math.Abs(z(k)) >= critical })
			right := exactPower(n, 7, 10, func(k int) bool { return z(k) >= 1.6 })
			left := exactPower(n, 7, 10, func(k int) bool { return z(k) <= -1.6 })
			assert.InDelta(t, both, PowerOfProportion(n, 0.4, 0.7, continuity, -critical, critical), 1e-13)
			assert.InDelta(t, right, PowerOfProportion(n, 0.4, 0.7, continuity, math.Inf(-1), 1.6), 1e-13)
			assert.InDelta(t, left, PowerOfProportion(n, 0.4, 0.7, continuity, -1.6, math.Inf(1)), 1e-13)
		}
	}
}

func TestPowerOfProportions(t *testing.T) {
	binomial := func(n, k int, p float64) float64 {
		return float64(new(big.Int).Binomial(int64(n), int64(k)).Int64()) * math.Pow(p, float64(k)) * math.Pow(1-p, float64(n-k))
	}
	for _, c := range []struct {
		n1, n2    int
		low, high float64
	}{{1, 1, -1.96, 1.96}, {3, 8, -1.96, 1.96}, {12, 12, math.Inf(-1), 1.645}, {20, 9, -1.2, math.Inf(1)}, {25, 31, -2.576, 2.576}} {
		for _, continuity := range []Continuity{NoCorrection, TwoTails} {
			want := 0.0
			for k1 := 0; k1 <= c.n1; k1++ {
				for k2 := 0; k2 <= c.n2; k2++ {
					a, b := float64(c.n1), float64(c.n2)
					pooled := float64(k1+k2) / (a + b)
					if pooled == 0 || pooled == 1 {
						continue
					}
					difference := float64(k1)/a - float64(k2)/b
					if continuity == TwoTails {
						difference = math.Copysign(math.Max(0, math.Abs(difference)-(1/a+1/b)/2), difference)
					}
					if z := difference / math.Sqrt(pooled*(1-pooled)*(1/a+1/b)); z <= c.low || z >= c.high {
						want += binomial(c.n1, k1, 0.55) * binomial(c.n2, k2, 0.3)
					}
				}
			}
			assert.InDelta(t, want, PowerOfProportions(c.n1, c.n2, 0.55, 0.3, continuity, c.low, c.high), 1e-12, "%+v %v", c, continuity)
		}
	}
}

func TestNeededSize(t *testing.T) {
	smooth := func(n int) float64 { return 1 - 1/math.Sqrt(float64(n)) }
	for target, want := range map[float64]int{0.5: 4, 0.8: 25, 0.9: 100, 0.99: 10_000} {
		n, ok := NeededSize(t.Context(), smooth, target-1e-12, 2, 1_000_000, false)
		assert.True(t, ok)
		assert.Equal(t, want, n)
	}
	_, ok := NeededSize(t.Context(), smooth, 0.99, 2, 9_999, false)
	assert.False(t, ok, "beyond the largest")
	n, ok := NeededSize(t.Context(), smooth, 0.1, 7, 9, false)
	assert.True(t, ok)
	assert.Equal(t, 7, n, "the smallest is enough")

	// Up to 40, down again to 43, up for good from 44 on.
	saw := func(n int) float64 {
		if n < 40 || n > 40 && n < 44 {
			return 0.79
		}
		return 0.81
	}
	n, ok = NeededSize(t.Context(), saw, 0.8, 1, 1000, true)
	assert.True(t, ok)
	assert.Equal(t, 44, n)
}
