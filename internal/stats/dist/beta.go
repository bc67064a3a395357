package dist

import "math"

// beta is an incomplete beta function, ready for either tail.
type beta struct {
	a, b, x, y float64 // y = 1 − x
	away       float64 // a − (a+b)x
	power      float64 // xᵃ yᵇ / B(a, b)
}

// newBeta takes y and away from a caller who knows them better than x tells.
func newBeta(a, b, x, y, away float64) beta {
	return beta{a, b, x, y, away, binomialFront(a, b, x, y, away) * a * b / (a + b)}
}

// lower and upper return I_x(a, b) and its complement. The one on whose side of the
// mean x lies is computed directly.
func (b beta) lower() float64 {
	switch {
	case math.IsNaN(b.away):
		return math.NaN()
	case b.away >= 0:
		return b.power * betaEvenFraction(b.a, b.b, b.x, b.y, b.away)
	}
	return 1 - b.upper()
}

func (b beta) upper() float64 {
	switch {
	case math.IsNaN(b.away):
		return math.NaN()
	case b.away < 0:
		return b.power * betaEvenFraction(b.b, b.a, b.y, b.x, -b.away)
	}
	return 1 - b.lower()
}

// betaFraction returns the continued fraction of the incomplete beta function,
// so that I_x(a, b) = xᵃ(1−x)ᵇ/(a B(a, b)) × betaFraction(a, b, x). It converges
// fast for x < (a+1)/(a+b+2). DLMF 8.17.22, evaluated by Lentz's method.
func betaFraction(a, b, x float64) float64 {
	const tiny = 1e-300
	c := 1.0
	d := 1 - (a+b)*x/(a+1)
	if d == 0 {
		d = tiny
	}
	d = 1 / d
	h := d
	for m := 1.0; m < 100_000; m++ {
		even := m * (b - m) * x / ((a + 2*m - 1) * (a + 2*m))
		d = 1 / nonzero(1+even*d, tiny)
		c = nonzero(1+even/c, tiny)
		h *= d * c
		odd := -(a + m) * (a + b + m) * x / ((a + 2*m) * (a + 2*m + 1))
		d = 1 / nonzero(1+odd*d, tiny)
		c = nonzero(1+odd/c, tiny)
		h *= d * c
		if math.Abs(d*c-1) < 1e-16 {
			break
		}
	}
	return h
}

func nonzero(x, tiny float64) float64 {
	if x == 0 {
		return tiny
	}
	return x
}

// betaSeries returns Σₙ (a+b)ₙ/(a+1)ₙ xⁿ, so that
// I_x(a, b) = xᵃ(1−x)ᵇ/(a B(a, b)) × betaSeries(a, b, x). All terms are
// positive. DLMF 8.17.8.
func betaSeries(a, b, x float64) float64 {
	sum, term := 1.0, 1.0
	for n := 0.0; n < 100_000; n++ {
		term *= (a + b + n) / (a + 1 + n) * x
		sum += term
		if term < 1e-17*sum {
			break
		}
	}
	return sum
}

// gammaRatioHalf returns Γ(a+½)/Γ(a) for a > 0. The difference of two
// log-gammas would lose digits for large a; this is the asymptotic series of
// that difference (DLMF 5.11.8 with Bernoulli polynomials at ½ and 0), which
// holds to 1e-16 from a = 20 on, and below that the recurrence from there.
func gammaRatioHalf(a float64) float64 {
	shift := 1.0
	for a < 20 {
		shift *= a / (a + 0.5)
		a++
	}
	r := 1 / (a * a)
	s := -1.0/8 + r*(1.0/192+r*(-1.0/640+r*(17.0/14336-r*31.0/18432)))
	return shift * math.Sqrt(a) * math.Exp(s/a)
}

// betaEvenFraction returns the even part of the continued fraction of the incomplete
// beta function, so that I_x(a, b) = xᵃ yᵇ / B(a, b) × betaEvenFraction. away is
// a − (a+b)x, at least 0: it is given, and all terms are positive while n < b, so
// that nothing cancels however large a and b are. A. R. DiDonato and A. H. Morris,
// Algorithm 708, ACM TOMS 18 (1992), function BFRAC.
func betaEvenFraction(a, b, x, y, away float64) float64 {
	c := 1 + away
	c0, c1 := b/a, 1+1/a
	p, s := 1.0, a+1
	an, bn := 0.0, 1.0
	an1, bn1 := 1.0, c/c1
	r := c1 / c
	for n := 1.0; n < 1e6; n++ {
		t := n / a
		w := n * (b - n) * x
		e := a / s
		alpha := p * (p + c0) * e * e * (w * x)
		e = (1 + t) / (c1 + t + t)
		beta := n + w/s + e*(c+n*(1+y))
		p = 1 + t
		s += 2
		an, an1 = an1, alpha*an+beta*an1
		bn, bn1 = bn1, alpha*bn+beta*bn1
		before := r
		r = an1 / bn1
		if math.Abs(r-before) <= 1e-16*r {
			break
		}
		an, bn = an/bn1, bn/bn1
		an1, bn1 = r, 1
	}
	return r
}
