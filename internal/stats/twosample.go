package stats

import "math"

// TwoMeans is the comparison of the means of two independent samples.
type TwoMeans struct {
	Difference float64 // mean of the first − mean of the second
	SE         float64 // standard error of the difference
	T          float64 // (difference − hypothesised difference)/SE
	DF         float64 // degrees of freedom of T
	PooledSD   float64 // NaN when the variances are kept apart
	CohenD     float64 // standardized difference
}

// CompareMeans compares the means of two samples of at least two cases each,
// whose spreads are not both zero; otherwise the result holds NaN or
// infinities.
//
// With pooled variances (Student 1908) the standard error is
// s_p √(1/n₁ + 1/n₂), the degrees of freedom are n₁ + n₂ − 2 and Cohen's d is
// the difference over s_p (Cohen, Statistical Power Analysis, 2nd ed., 2.5).
// Otherwise (Welch, Biometrika 34, 1947) the standard error is
// √(s₁²/n₁ + s₂²/n₂), the degrees of freedom are
//
//	(s₁²/n₁ + s₂²/n₂)² / ((s₁²/n₁)²/(n₁−1) + (s₂²/n₂)²/(n₂−1))
//
// and d is the difference over √((s₁² + s₂²)/2).
func CompareMeans(first, second Moments, difference0 float64, pooled bool) TwoMeans {
	n1, n2 := float64(first.N), float64(second.N)
	quarter := quarterDifference(first, second, 0)
	c := TwoMeans{Difference: 4 * quarter, PooledSD: math.NaN()}
	var standardizer float64
	if pooled {
		c.DF = n1 + n2 - 2
		c.PooledSD = math.Hypot(first.SD*math.Sqrt((n1-1)/c.DF), second.SD*math.Sqrt((n2-1)/c.DF))
		c.SE = c.PooledSD * math.Sqrt(1/n1+1/n2)
		standardizer = c.PooledSD
	} else {
		e1, e2 := first.SD/math.Sqrt(n1), second.SD/math.Sqrt(n2)
		c.SE = math.Hypot(e1, e2)
		// The shares of the squared standard error keep the powers from overflow.
		w1, w2 := (e1/c.SE)*(e1/c.SE), (e2/c.SE)*(e2/c.SE)
		c.DF = 1 / (w1*w1/(n1-1) + w2*w2/(n2-1))
		standardizer = math.Hypot(first.SD, second.SD) / math.Sqrt2
	}
	c.T = quarterDifference(first, second, difference0) / (c.SE / 4)
	c.CohenD = quarter / (standardizer / 4)
	return c
}
