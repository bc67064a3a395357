package dist

import "math"

// Densities of the gamma and beta families are written by Loader's saddle-point
// expansion (C. Loader, Fast and Accurate Computation of Binomial Probabilities,
// 2000): a product of factors none of which overflows, and an exponent that is the
// sum of a small Stirling error and of deviances that are computed without
// cancellation.

// stirlingError returns ln Γ(a+1) − ½ ln(2πa) − a ln a + a, for a > 0.
func stirlingError(a float64) float64 {
	if a <= 16 {
		lg, _ := math.Lgamma(a + 1)
		return lg - 0.5*math.Log(2*math.Pi*a) - a*math.Log(a) + a
	}
	// Abramowitz and Stegun 6.1.41; the first term left out is below 1e-17.
	r := 1 / (a * a)
	return (1.0/12 - r*(1.0/360-r*(1.0/1260-r*(1.0/1680-r*(1.0/1188-r*691.0/360360))))) / a
}

// Deviance returns x ln(x/mean) + mean − x. difference is x − mean, which the
// caller may know better than its two parts tell.
func Deviance(x, mean, difference float64) float64 {
	if x == 0 {
		return mean
	}
	if math.Abs(difference) >= 0.4*(x+mean) {
		return x*math.Log(x/mean) - difference
	}
	v := difference / (x + mean)
	sum, term := difference*v, 2*x*v
	for j := 3.0; ; j += 2 {
		term *= v * v
		next := sum + term/j
		if next == sum || math.IsNaN(next) {
			return next
		}
		sum = next
	}
}

// poissonFront returns xᵃ e⁻ˣ / Γ(a+1), for a > 0.
func poissonFront(a, x float64) float64 {
	if x == 0 {
		return 0
	}
	return math.Exp(-stirlingError(a)-Deviance(a, x, a-x)) / math.Sqrt(2*math.Pi*a)
}

// binomialFront returns xᵃ yᵇ Γ(a+b+1)/(Γ(a+1)Γ(b+1)), for a, b > 0, x + y = 1;
// difference is a − (a+b)x.
func binomialFront(a, b, x, y, difference float64) float64 {
	if x == 0 || y == 0 {
		return 0
	}
	n := a + b
	return math.Sqrt(n/(2*math.Pi*a*b)) * math.Exp(stirlingError(n)-stirlingError(a)-stirlingError(b)-
		Deviance(a, n*x, difference)-Deviance(b, n*y, -difference))
}
