package dist

import "math"

// F is the F distribution with DF1, DF2 > 0 degrees of freedom.
//
// Its tails are incomplete beta functions (Abramowitz and Stegun, 26.6.2), by continued
// fraction or series, whichever converges, behind a front factor in Loader's form.
// Measured against references of 35 digits, for 0.1 to 1e6 degrees of freedom and tails
// down to 1e-300: relative error below 4e-13 for tails, and below 9e-13 for quantiles
// where the tail determines them.
type F struct {
	DF1, DF2 float64
}

var _ Distribution = F{}

// beta returns the incomplete beta function that the distribution is: P(F ≤ f) is
// I_x(a, b), with a and b half the degrees of freedom and x = DF1 f/(DF1 f + DF2).
func (d F) beta(f float64) beta {
	// Divided by f where f is large, so that nothing overflows. The difference of a
	// from (a+b)x is taken from 1 − f, which is exact where it matters.
	p, q, away := d.DF1*f, d.DF2, 1-f
	if f > 1 {
		p, q, away = d.DF1, d.DF2/f, 1/f-1
		if f < 2 {
			away = (1 - f) / f
		}
	}
	sum := p + q
	return newBeta(d.DF1/2, d.DF2/2, p/sum, q/sum, d.DF1*(d.DF2*away)/(2*sum))
}

// Density returns the density at f; it is infinite at 0 for less than two degrees
// of freedom above the line.
func (d F) Density(f float64) float64 {
	switch {
	case f < 0 || math.IsInf(f, 1):
		return 0
	case f == 0 && d.DF1 < 2:
		return math.Inf(1)
	case f == 0 && d.DF1 == 2:
		return 1
	case f == 0:
		return 0
	}
	return d.beta(f).power / f
}

// Lower returns P(X ≤ f).
func (d F) Lower(f float64) float64 {
	switch {
	case f <= 0:
		return 0
	case math.IsInf(f, 1):
		return 1
	}
	return d.beta(f).lower()
}

// Upper returns P(X ≥ f).
func (d F) Upper(f float64) float64 {
	switch {
	case f <= 0:
		return 1
	case math.IsInf(f, 1):
		return 0
	}
	return d.beta(f).upper()
}

// LowerQuantile returns the f with P(X ≤ f) = p.
func (d F) LowerQuantile(p float64) float64 { return positiveQuantile(d, p, 1-p, 1) }

// UpperQuantile returns the f with P(X ≥ f) = p.
func (d F) UpperQuantile(p float64) float64 { return positiveQuantile(d, 1-p, p, 1) }
