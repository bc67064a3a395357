package dist

import "math"

// NoncentralT is the distribution of (Z + Noncentrality)/√(V/DF), where Z is standard
// normal and V chi-square with DF > 0 degrees of freedom: of Student's t where H₀ is
// not true (N. L. Johnson and B. L. Welch, Biometrika 31, 1940).
//
// Both tails are integrals of a normal tail over the distribution of √(V/DF), taken by
// the double-exponential rule. Measured against references of 30 digits: absolute error
// below 2e-14, relative error below 1e-12 for tails down to 1e-12.
type NoncentralT struct {
	DF, Noncentrality float64
}

// Lower returns P(T ≤ t).
func (d NoncentralT) Lower(t float64) float64 { return d.over(t, Normal{}.Lower) }

// Upper returns P(T ≥ t).
func (d NoncentralT) Upper(t float64) float64 { return d.over(t, Normal{}.Upper) }

// over returns the mean of tail(tu − δ) over the distribution of u = √(V/ν).
func (d NoncentralT) over(t float64, tail func(z float64) float64) float64 {
	nu := d.DF
	f := func(u float64) float64 {
		return poissonFront(nu/2, nu*u*u/2) * nu / u * tail(t*u-d.Noncentrality)
	}
	// Beyond these ends lies less than e⁻⁶⁰ of V (B. Laurent and P. Massart, Ann. Statist.
	// 28, 2000, Lemma 1).
	const depth = 60
	low := math.Sqrt(math.Max(0, 1-2*math.Sqrt(depth/nu)))
	high := math.Sqrt(1 + 2*math.Sqrt(depth/nu) + 2*depth/nu)
	// The normal tail turns where its argument is 0: the rule is finest at the ends.
	if turn := d.Noncentrality / t; turn > low && turn < high {
		return integrate(f, low, turn) + integrate(f, turn, high)
	}
	return integrate(f, low, high)
}
