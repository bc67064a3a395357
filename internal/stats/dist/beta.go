package dist

import "math"

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
