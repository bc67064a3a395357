package dist

import "math"

// T is Student's t distribution with DF > 0 degrees of freedom, not
// necessarily whole.
//
// With x = ν/(ν + t²) and y = 1 − x, the upper tail is I_x(ν/2, 1/2)/2 and the
// area between 0 and t is I_y(1/2, ν/2)/2 (Abramowitz and Stegun, 26.7.1);
// whichever converges fast is computed, the first by continued fraction, the
// second by series. Above 500 degrees of freedom the tail is integrated instead.
// Measured against references of 35 digits: relative error
// below 1e-13 for 0.1 ≤ ν ≤ 1e6 and tails down to 1e-300, below 1e-12 for
// quantiles.
type T struct {
	DF float64
}

var _ Distribution = T{}

// Density returns the density at t.
func (d T) Density(t float64) float64 {
	return gammaRatioHalf(d.DF/2) / math.Sqrt(d.DF*math.Pi) * math.Exp((d.DF+1)/2*d.logX(t))
}

// Lower returns P(T ≤ t).
func (d T) Lower(t float64) float64 { return d.Upper(-t) }

// Upper returns P(T ≥ t).
func (d T) Upper(t float64) float64 {
	switch {
	case math.IsNaN(t):
		return math.NaN()
	case t < 0:
		return 1 - d.Upper(-t) // at least 1/2: nothing is lost
	case math.IsInf(t, 1):
		return 0
	}
	x, y := d.xy(t)
	a := d.DF / 2
	if x >= (a+1)/(a+2.5) {
		return 0.5 - d.centre(t)
	}
	if d.DF > 500 {
		return d.Density(t) * d.tailOverDensity(t)
	}
	// I_x(a, ½) = xᵃ √y / (a B(a, ½)) × fraction, with B(a, ½) = √π Γ(a)/Γ(a+½).
	front := math.Exp(a*d.logX(t)) * math.Sqrt(y) * gammaRatioHalf(a) / (a * math.Sqrt(math.Pi))
	return front * betaFraction(a, 0.5, x) / 2
}

// LowerQuantile returns the t with P(T ≤ t) = p.
func (d T) LowerQuantile(p float64) float64 { return -d.UpperQuantile(p) }

// UpperQuantile returns the t with P(T ≥ t) = p.
func (d T) UpperQuantile(p float64) float64 {
	return upperQuantile(p, func(p float64) float64 {
		return symmetricQuantile(p, d.guess(p), d.Density, d.Upper, d.centre)
	})
}

// guess returns a first guess at the upper quantile where each evaluation of the
// tail is dear: the first terms of its expansion about the normal quantile
// (Abramowitz and Stegun, 26.7.5).
func (d T) guess(p float64) float64 {
	if d.DF <= 500 {
		return 0
	}
	z := Normal{}.UpperQuantile(p)
	z2 := z * z
	return z * (1 + (z2+1)/(4*d.DF) + ((5*z2+16)*z2+3)/(96*d.DF*d.DF))
}

// centre returns P(0 ≤ T ≤ t) for t ≥ 0.
func (d T) centre(t float64) float64 {
	x, y := d.xy(t)
	a := d.DF / 2
	if x < (a+1)/(a+2.5) {
		return 0.5 - d.Upper(t)
	}
	// I_y(½, a) = √y xᵃ / (½ B(½, a)) × series.
	front := 2 * math.Sqrt(y) * math.Exp(a*d.logX(t)) * gammaRatioHalf(a) / math.Sqrt(math.Pi)
	return front * betaSeries(0.5, a, y) / 2
}

// tailOverDensity returns P(T ≥ t)/f(t) for t > 1. With x close to 1 the continued
// fraction cancels digits away; here every term is positive. The integral of
// f(t + s)/f(t) over s > 0 is taken by the double-exponential rule (Takahasi and
// Mori 1974) on the scale 1/t on which it falls.
func (d T) tailOverDensity(t float64) float64 {
	const step = 1.0 / 16
	sum := 0.0
	for x := -3.625; x <= 1.875; x += step {
		s := math.Exp(math.Pi/2*math.Sinh(x)) / t
		slope := math.Pi / 2 * math.Cosh(x) * s
		sum += slope * math.Exp(-(d.DF+1)/2*math.Log1p(s*(2*t+s)/(d.DF+t*t)))
	}
	return sum * step
}

// xy returns ν/(ν + t²) and t²/(ν + t²), neither as the complement of the other.
func (d T) xy(t float64) (x, y float64) {
	root := math.Sqrt(d.DF)
	h := math.Hypot(root, t)
	return (root / h) * (root / h), (t / h) * (t / h)
}

// logX returns log(ν/(ν + t²)) without loss for small t and without overflow
// for large t.
func (d T) logX(t float64) float64 {
	if t := math.Abs(t); t > 1e100 {
		return math.Log(d.DF) - 2*math.Log(t)
	}
	return -math.Log1p(t * t / d.DF)
}
