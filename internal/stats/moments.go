// Package stats turns numbers into statistics. It knows nothing of problems,
// names or screens: slices and summaries go in, numbers come out.
package stats

import "math"

// Moments are the size, mean and standard deviation of a sample. The mean is
// held as an unevaluated sum of two doubles, so that the difference of two
// means of large offset loses no digit that the data had.
type Moments struct {
	N       int
	Mean    float64
	meanLow float64 // Mean + meanLow is the mean to about 32 digits
	SD      float64 // divisor n − 1; NaN for fewer than two values
}

// NewMoments returns the moments of xs. Sums carry their rounding errors along
// (Sum2 of Ogita, Rump and Oishi, SIAM J. Sci. Comput. 26, 2005), which gives them
// as if summed in twice the precision, and the squares are taken of deviations
// from a mean so found. Where squares could overflow or vanish, the values are
// first scaled by a power of two, which is exact. The empty sample, and one with an
// infinite value, has NaN for mean and SD.
func NewMoments(xs []float64) Moments {
	n := len(xs)
	if n == 0 {
		return Moments{Mean: math.NaN(), SD: math.NaN()}
	}
	largest := 0.0
	for _, x := range xs {
		if a := math.Abs(x); a > largest {
			largest = a
		}
	}
	if math.IsInf(largest, 1) {
		return Moments{N: n, Mean: math.NaN(), SD: math.NaN()}
	}
	const tooLarge, tooSmall = 1e140, 1e-100
	if largest > tooLarge || largest < tooSmall && largest > 0 {
		_, exponent := math.Frexp(largest)
		scaled := make([]float64, n)
		for i, x := range xs {
			scaled[i] = math.Ldexp(x, -exponent)
		}
		m := NewMoments(scaled)
		return Moments{N: n, Mean: math.Ldexp(m.Mean, exponent), meanLow: math.Ldexp(m.meanLow, exponent), SD: math.Ldexp(m.SD, exponent)}
	}

	high, low := 0.0, 0.0
	for _, x := range xs {
		sum, rest := twoSum(high, x)
		high, low = sum, low+rest
	}
	high, low = twoSum(high, low)
	m := Moments{N: n, SD: math.NaN()}
	m.Mean, m.meanLow = divide(high, low, float64(n))
	if n == 1 {
		return m
	}

	spread := 0.0
	squares, squaresLow := 0.0, 0.0
	for _, x := range xs {
		d := m.Deviation(x)
		if a := math.Abs(d); a > spread {
			spread = a
		}
		sum, rest := twoSum(squares, d*d)
		squares, squaresLow = sum, squaresLow+rest
	}
	if spread < tooSmall && spread > 0 {
		_, exponent := math.Frexp(spread)
		squares, squaresLow = 0, 0
		for _, x := range xs {
			d := math.Ldexp(m.Deviation(x), -exponent)
			squares += d * d
		}
		m.SD = math.Ldexp(math.Sqrt(squares/float64(n-1)), exponent)
		return m
	}
	m.SD = math.Sqrt((squares + squaresLow) / float64(n-1))
	return m
}

// Deviation returns x less the mean.
func (m Moments) Deviation(x float64) float64 { return x - m.Mean - m.meanLow }

// SummaryMoments returns the moments of a sample known only by its summary.
func SummaryMoments(n int, mean, sd float64) Moments {
	return Moments{N: n, Mean: mean, SD: sd}
}

// Skewness returns Σ(x − x̄)³/(n s³) of the values that m are the moments of, with
// s on divisor n − 1; 0 for a sample without spread (b₁ of Joanes and Gill, The
// Statistician 47, 1998).
func (m Moments) Skewness(xs []float64) float64 {
	if !(m.SD > 0) {
		return 0
	}
	sum := 0.0
	for _, x := range xs {
		d := m.Deviation(x) / m.SD
		sum += d * d * d
	}
	return sum / float64(len(xs))
}

// quarterDifference returns a quarter of (mean of a − mean of b − d), rounded
// once. The quarter keeps means near the largest double from overflow.
func quarterDifference(a, b Moments, d float64) float64 {
	high, low := twoSum(a.Mean/4, -b.Mean/4)
	high, rest := twoSum(high, -d/4)
	return high + (rest + low + (a.meanLow/4 - b.meanLow/4))
}

// twoSum returns a + b as the rounded sum and its exact error.
func twoSum(a, b float64) (sum, low float64) {
	sum = a + b
	t := sum - a
	return sum, (a - (sum - t)) + (b - t)
}

// divide divides the double-double (high, low) by d.
func divide(high, low, d float64) (float64, float64) {
	q := high / d
	rest := math.FMA(-q, d, high) + low
	return twoSum(q, rest/d)
}
