package stats

import (
	"math"

	"grund/internal/stats/dist"
)

// Correlation is how closely two variables go together along a line.
type Correlation struct {
	N       int
	R       float64 // NaN where one of them is constant
	T       float64 // R√((n − 2)/(1 − R²)); infinite of a perfect one
	DF      float64 // n − 2
	Perfect bool    // whether all cases lie on a line
}

// Correlate correlates two columns of at least three values (K. Pearson, 1896; the test by
// Student, Biometrika 6, 1908).
func Correlate(x, y []float64) Correlation {
	l := FitLine(x, y)
	c := Correlation{N: l.N, R: math.Max(-1, math.Min(1, l.R)), DF: l.DF, Perfect: l.Perfect && l.SYY > 0}
	if l.SXX == 0 || l.SYY == 0 {
		c.R, c.T = math.NaN(), math.NaN()
		return c
	}
	if c.Perfect {
		c.R, c.T = math.Copysign(1, l.Slope), math.Copysign(math.Inf(1), l.Slope)
		return c
	}
	c.T = l.Slope / l.SESlope
	return c
}

// CorrelateRanks correlates the midranks of two columns (C. Spearman, Amer. J. Psychol. 15,
// 1904).
func CorrelateRanks(x, y []float64) Correlation {
	first, _ := Midranks(x)
	second, _ := Midranks(y)
	return Correlate(first, second)
}

// P returns the two-sided p-value; there is none of a perfect correlation.
func (c Correlation) P() float64 {
	if math.IsInf(c.T, 0) {
		return math.NaN()
	}
	return 2 * dist.T{DF: c.DF}.Upper(math.Abs(c.T))
}

// Interval returns the interval of the correlation with the area outside each end, by
// Fisher's transformation (R. A. Fisher, Metron 1, 1921). It needs four cases, and does not
// exist of a perfect correlation.
func (c Correlation) Interval(area float64) (low, high float64) {
	if c.N < 4 || c.Perfect || math.IsNaN(c.R) {
		return math.NaN(), math.NaN()
	}
	reach := dist.Normal{}.UpperQuantile(area) / math.Sqrt(float64(c.N-3))
	z := math.Atanh(c.R)
	return math.Tanh(z - reach), math.Tanh(z + reach)
}
