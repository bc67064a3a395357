// Package dist holds the reference distributions of the tests: their
// densities, both tails and both quantiles.
//
// Each tail is computed directly. Upper(x) is never 1 − Lower(x) and
// UpperQuantile(p) is never LowerQuantile(1 − p), so a p-value of 1e-300 has as
// many correct digits as one of 0.3.
package dist

import "math"

// A Distribution is a continuous distribution on the real line.
type Distribution interface {
	// Density returns the probability density at x.
	Density(x float64) float64
	// Lower returns P(X ≤ x).
	Lower(x float64) float64
	// Upper returns P(X ≥ x), computed from the upper tail.
	Upper(x float64) float64
	// LowerQuantile returns the x with P(X ≤ x) = p. It is NaN unless 0 ≤ p ≤ 1.
	LowerQuantile(p float64) float64
	// UpperQuantile returns the x with P(X ≥ x) = p. It is NaN unless 0 ≤ p ≤ 1.
	UpperQuantile(p float64) float64
}

// upperQuantile returns the quantile of the upper tail of a distribution that is
// symmetric about 0, from one that holds for 0 < p < 1/2.
func upperQuantile(p float64, positive func(p float64) float64) float64 {
	switch {
	case !(p >= 0 && p <= 1):
		return math.NaN()
	case p == 0:
		return math.Inf(1)
	case p == 1:
		return math.Inf(-1)
	case p == 0.5:
		return 0
	case p > 0.5:
		return -positive(1 - p)
	}
	return positive(p)
}

// symmetricQuantile returns the x > 0 with upper(x) = p for a distribution that
// is symmetric about 0 and unimodal, 0 < p < 1/2. Near the middle it solves
// centre(x) = P(0 ≤ X ≤ x) = 1/2 − p, which Sterbenz's lemma makes exact; in
// the tail it solves log upper(exp u) = log p, which is close to a straight
// line or a parabola in u, so that Newton's steps converge in a few rounds at
// any depth. start is a guess at x, or 0 for none; a good one saves rounds. The
// result is +Inf where it would not fit in a double.
func symmetricQuantile(p, start float64, density, upper, centre func(float64) float64) float64 {
	if p > 0.25 {
		want := 0.5 - p
		x := want / density(0) // never too large: the density falls from 0 on
		for range 60 {
			step := (want - centre(x)) / density(x)
			x += step
			if math.Abs(step) <= 1e-16*x {
				break
			}
		}
		return x
	}
	logP := math.Log(p)
	if start > 0.5 {
		if x, ok := polish(start, logP, density, upper); ok {
			return x
		}
	}
	low, high := 0.5, 1.0 // upper(0.5) ≥ 0.3 for every t and for the normal
	for factor := 2.0; upper(high) > p; factor *= factor {
		low = high
		high *= factor
		if math.IsInf(high, 1) || high > 1e300 {
			high = math.MaxFloat64
			if upper(high) > p {
				return math.Inf(1)
			}
			break
		}
	}
	lowU, highU := math.Log(low), math.Log(high)
	u := (lowU + highU) / 2
	for range 200 {
		x := math.Exp(u)
		q := upper(x)
		miss := math.Log(q) - logP
		if miss > 0 {
			lowU = u
		} else {
			highU = u
		}
		next := u + miss*q/(x*density(x))
		if !(next >= lowU && next <= highU) {
			next = (lowU + highU) / 2
		}
		if math.Abs(next-u) <= 2e-16*math.Max(1, math.Abs(u)) {
			return math.Exp(next)
		}
		u = next
	}
	return math.Exp(u)
}

// polish refines a good guess at the root of log upper(x) = logP by Newton's
// steps in log x; ok is false where three do not settle it.
func polish(x, logP float64, density, upper func(float64) float64) (root float64, ok bool) {
	for range 3 {
		q := upper(x)
		step := (math.Log(q) - logP) * q / (x * density(x))
		x *= math.Exp(step)
		// The error left is of the order of the step's square.
		if math.Abs(step) < 1e-9 {
			return x, true
		}
	}
	return 0, false
}
