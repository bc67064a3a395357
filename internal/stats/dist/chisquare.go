package dist

import "math"

// ChiSquare is the chi-square distribution with DF > 0 degrees of freedom.
//
// Its tails are the incomplete gamma functions of DF/2 and x/2 (Abramowitz and Stegun,
// 26.4.19), by series below the mean and by continued fraction above it, behind a front
// factor in Loader's form. Measured against references of 35 digits, for 0.1 to 1e6
// degrees of freedom and tails down to 1e-300: relative error below 8e-14 (lower tail),
// 2e-13 (upper tail) and 4e-14 (quantiles, where the tail determines them).
type ChiSquare struct {
	DF float64
}

var _ Distribution = ChiSquare{}

// Density returns the density at x; it is infinite at 0 for less than two degrees
// of freedom.
func (d ChiSquare) Density(x float64) float64 {
	a := d.DF / 2
	switch {
	case x < 0:
		return 0
	case x == 0 && d.DF == 2:
		return 0.5
	case x == 0 && d.DF < 2:
		return math.Inf(1)
	case x == 0:
		return 0
	}
	return poissonFront(a, x/2) * a / x
}

// Lower returns P(X ≤ x), by the incomplete gamma function.
func (d ChiSquare) Lower(x float64) float64 {
	if x <= 0 {
		return 0
	}
	return lowerGamma(d.DF/2, x/2)
}

// Upper returns P(X ≥ x).
func (d ChiSquare) Upper(x float64) float64 {
	if x <= 0 {
		return 1
	}
	return upperGamma(d.DF/2, x/2)
}

// LowerQuantile returns the x with P(X ≤ x) = p.
func (d ChiSquare) LowerQuantile(p float64) float64 { return positiveQuantile(d, p, 1-p, d.DF) }

// UpperQuantile returns the x with P(X ≥ x) = p.
func (d ChiSquare) UpperQuantile(p float64) float64 { return positiveQuantile(d, 1-p, p, d.DF) }
