package dist

import "math"

// Normal is the standard normal distribution.
//
// Tails come from the complementary error function, P(Z ≥ z) = erfc(z/√2)/2.
// Measured against references of 35 digits: relative error below 3e-13 for
// tails down to 1e-300, and below 2e-15 for quantiles.
type Normal struct{}

var _ Distribution = Normal{}

// Density returns exp(−z²/2)/√(2π).
func (Normal) Density(z float64) float64 {
	return math.Exp(-z*z/2) / math.Sqrt(2*math.Pi)
}

// Lower returns P(Z ≤ z).
func (Normal) Lower(z float64) float64 { return math.Erfc(-z/math.Sqrt2) / 2 }

// Upper returns P(Z ≥ z).
func (Normal) Upper(z float64) float64 { return math.Erfc(z/math.Sqrt2) / 2 }

// LowerQuantile returns the z with P(Z ≤ z) = p.
func (n Normal) LowerQuantile(p float64) float64 { return -n.UpperQuantile(p) }

// UpperQuantile returns the z with P(Z ≥ z) = p, by the rational functions of M. J. Wichura
// (Algorithm AS 241, Appl. Statist. 37, 1988).
func (n Normal) UpperQuantile(p float64) float64 {
	return upperQuantile(p, func(p float64) float64 {
		if half := 0.5 - p; half <= 0.425 { // p is at most one half here
			r := 0.180625 - half*half
			return half * ratio(&centreOver, &centreUnder, r)
		}
		r := math.Sqrt(-math.Log(p))
		if r <= 5 {
			return ratio(&tailOver, &tailUnder, r-1.6)
		}
		return ratio(&farOver, &farUnder, r-5)
	})
}

// ratio returns the quotient of two polynomials, their constants first.
func ratio(over, under *[8]float64, x float64) float64 {
	a, b := over[7], under[7]
	for i := 6; i >= 0; i-- {
		a, b = a*x+over[i], b*x+under[i]
	}
	return a / b
}

// The polynomials of PPND16 in AS 241: about the centre, in the tails and far out in them.
var (
	centreOver = [8]float64{
		3.3871328727963666080, 1.3314166789178437745e+2, 1.9715909503065514427e+3, 1.3731693765509461125e+4,
		4.5921953931549871457e+4, 6.7265770927008700853e+4, 3.3430575583588128105e+4, 2.5090809287301226727e+3,
	}
	centreUnder = [8]float64{
		1, 4.2313330701600911252e+1, 6.8718700749205790830e+2, 5.3941960214247511077e+3,
		2.1213794301586595867e+4, 3.9307895800092710610e+4, 2.8729085735721942674e+4, 5.2264952788528545610e+3,
	}
	tailOver = [8]float64{
		1.42343711074968357734, 4.63033784615654529590, 5.76949722146069140550, 3.64784832476320460504,
		1.27045825245236838258, 2.41780725177450611770e-1, 2.27238449892691845833e-2, 7.74545014278341407640e-4,
	}
	tailUnder = [8]float64{
		1, 2.05319162663775882187, 1.67638483018380384940, 6.89767334985100004550e-1,
		1.48103976427480074590e-1, 1.51986665636164571966e-2, 5.47593808499534494600e-4, 1.05075007164441684324e-9,
	}
	farOver = [8]float64{
		6.65790464350110377720, 5.46378491116411436990, 1.78482653991729133580, 2.96560571828504891230e-1,
		2.65321895265761230930e-2, 1.24266094738807843860e-3, 2.71155556874348757815e-5, 2.01033439929228813265e-7,
	}
	farUnder = [8]float64{
		1, 5.99832206555887937690e-1, 1.36929880922735805310e-1, 1.48753612908506148525e-2,
		7.86869131145613259100e-4, 1.84631831751005468180e-5, 1.42151175831644588870e-7, 2.04426310338993978564e-15,
	}
)
