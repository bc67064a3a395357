package dist

import "math"

// Exponential is the waiting time for events that come at Rate > 0. Both tails and both
// quantiles are closed forms, exact but for the rounding of the last digit.
type Exponential struct {
	Rate float64
}

var _ Distribution = Exponential{}

// Density returns the density at x.
func (d Exponential) Density(x float64) float64 {
	if x < 0 {
		return 0
	}
	return d.Rate * math.Exp(-d.Rate*x)
}

// Lower returns P(X ≤ x).
func (d Exponential) Lower(x float64) float64 { return -math.Expm1(-d.Rate * math.Max(x, 0)) }

// Upper returns P(X ≥ x).
func (d Exponential) Upper(x float64) float64 { return math.Exp(-d.Rate * math.Max(x, 0)) }

// LowerQuantile returns the x with P(X ≤ x) = p.
func (d Exponential) LowerQuantile(p float64) float64 { return -math.Log1p(-p) / d.Rate }

// UpperQuantile returns the x with P(X ≥ x) = p.
func (d Exponential) UpperQuantile(p float64) float64 { return -math.Log(p) / d.Rate }

// Uniform is a number between Min and Max, any as likely as another. Everything is exact
// but for the rounding of the last digit.
type Uniform struct {
	Min, Max float64
}

var _ Distribution = Uniform{}

// Density returns the density at x.
func (d Uniform) Density(x float64) float64 {
	if x < d.Min || x > d.Max {
		return 0
	}
	return 1 / (d.Max - d.Min)
}

// Lower returns P(X ≤ x).
func (d Uniform) Lower(x float64) float64 {
	return math.Max(0, math.Min(1, (x-d.Min)/(d.Max-d.Min)))
}

// Upper returns P(X ≥ x).
func (d Uniform) Upper(x float64) float64 {
	return math.Max(0, math.Min(1, (d.Max-x)/(d.Max-d.Min)))
}

// LowerQuantile returns the x with P(X ≤ x) = p. It is NaN unless 0 ≤ p ≤ 1.
func (d Uniform) LowerQuantile(p float64) float64 {
	if !(p >= 0 && p <= 1) {
		return math.NaN()
	}
	return d.Min + p*(d.Max-d.Min)
}

// UpperQuantile returns the x with P(X ≥ x) = p. It is NaN unless 0 ≤ p ≤ 1.
func (d Uniform) UpperQuantile(p float64) float64 {
	if !(p >= 0 && p <= 1) {
		return math.NaN()
	}
	return d.Max - p*(d.Max-d.Min)
}
