package dist

import "math"

// lowerGamma and upperGamma return the regularized incomplete gamma functions
// P(a, x) and Q(a, x), for a > 0, x ≥ 0. The one that is the smaller is computed
// directly: P by its series (DLMF 8.11.4) up to x = a + 1, Q by its continued
// fraction (DLMF 8.9.2) from there on.
func lowerGamma(a, x float64) float64 {
	switch {
	case x == 0:
		return 0
	case x < a+1:
		return poissonFront(a, x) * gammaSeries(a, x)
	}
	return 1 - upperGamma(a, x)
}

func upperGamma(a, x float64) float64 {
	switch {
	case math.IsNaN(x):
		return math.NaN()
	case math.IsInf(x, 1):
		return 0
	case x < a+1:
		return 1 - lowerGamma(a, x)
	}
	return poissonFront(a, x) * a * gammaFraction(a, x)
}

// gammaSeries returns the sum of xⁿ/((a+1)…(a+n)).
func gammaSeries(a, x float64) float64 {
	sum, term := 1.0, 1.0
	for n := 1.0; n < 1e7; n++ {
		term *= x / (a + n)
		sum += term
		if term < 1e-17*sum {
			break
		}
	}
	return sum
}

// gammaFraction returns the continued fraction 1/(x+1−a− 1(1−a)/(x+3−a− …)), by
// Lentz's method.
func gammaFraction(a, x float64) float64 {
	const tiny = 1e-300
	b := x + 1 - a
	c := 1 / tiny
	d := 1 / b
	h := d
	for n := 1.0; n < 1e7; n++ {
		term := -n * (n - a)
		b += 2
		d = 1 / nonzero(term*d+b, tiny)
		c = nonzero(b+term/c, tiny)
		h *= d * c
		if math.Abs(d*c-1) < 1e-16 {
			break
		}
	}
	return h
}
