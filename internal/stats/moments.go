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

// NewMoments returns the moments of xs. The sum runs in double-double
// arithmetic (Dekker 1971; Knuth, TAOCP 2, 4.2.2, theorem B), and the squares are
// taken of deviations from the double-double mean, after an exact scaling by a
// power of two that keeps them from overflow and underflow. The empty sample has
// NaN for mean and SD.
func NewMoments(xs []float64) Moments {
	n := len(xs)
	if n == 0 {
		return Moments{Mean: math.NaN(), SD: math.NaN()}
	}
	largest := 0.0
	for _, x := range xs {
		largest = math.Max(largest, math.Abs(x))
	}
	_, exponent := math.Frexp(largest)
	// Halved once more for every doubling of n, so that the sum stays finite.
	shift := exponent + int(math.Ceil(math.Log2(float64(n))))
	high, low := 0.0, 0.0
	for _, x := range xs {
		high, low = addTo(high, low, scale(x, -shift))
	}
	high, low = divide(high, low, float64(n))

	spread := 0.0
	for _, x := range xs {
		spread = math.Max(spread, math.Abs(scale(x, -shift)-high-low))
	}
	_, spreadExponent := math.Frexp(spread)
	squares, squaresLow := 0.0, 0.0
	for _, x := range xs {
		d := math.Ldexp(scale(x, -shift)-high-low, -spreadExponent)
		squares, squaresLow = addTo(squares, squaresLow, d*d)
	}
	sd := math.NaN()
	if n > 1 {
		sd = math.Ldexp(math.Sqrt((squares+squaresLow)/float64(n-1)), spreadExponent+shift)
	}
	return Moments{N: n, Mean: math.Ldexp(high, shift), meanLow: math.Ldexp(low, shift), SD: sd}
}

// SummaryMoments returns the moments of a sample known only by its summary.
func SummaryMoments(n int, mean, sd float64) Moments {
	return Moments{N: n, Mean: mean, SD: sd}
}

// Variance returns the square of the standard deviation; it may overflow.
func (m Moments) Variance() float64 { return m.SD * m.SD }

// quarterDifference returns a quarter of (mean of a − mean of b − d), rounded
// once. The quarter keeps means near the largest double from overflow.
func quarterDifference(a, b Moments, d float64) float64 {
	high, low := twoSum(a.Mean/4, -b.Mean/4)
	high, rest := twoSum(high, -d/4)
	return high + (rest + low + (a.meanLow/4 - b.meanLow/4))
}

// scale returns x·2ⁿ. It spares math.Ldexp the common case.
func scale(x float64, n int) float64 {
	if n > -1000 && n < 1000 {
		return x * math.Float64frombits(uint64(1023+n)<<52)
	}
	return math.Ldexp(x, n)
}

// twoSum returns a + b as the rounded sum and its exact error.
func twoSum(a, b float64) (sum, low float64) {
	sum = a + b
	t := sum - a
	return sum, (a - (sum - t)) + (b - t)
}

// addTo adds x to the double-double (high, low).
func addTo(high, low, x float64) (float64, float64) {
	s, e := twoSum(high, x)
	return twoSum(s, e+low)
}

// divide divides the double-double (high, low) by d.
func divide(high, low, d float64) (float64, float64) {
	q := high / d
	rest := math.FMA(-q, d, high) + low
	return twoSum(q, rest/d)
}
