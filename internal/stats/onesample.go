package stats

import (
	"math"
	"math/big"
	"strconv"
)

// OneMean is the comparison of the mean of a sample with a value.
type OneMean struct {
	SE        float64 // standard error of the mean
	Statistic float64 // (mean − value)/SE
	DF        float64 // n − 1
	CohenD    float64 // (mean − value)/sd, the sample's sd in either case
}

// CompareMean compares the mean of a sample with mean0. The standard error is
// sigma/√n where the population's standard deviation is known, and the statistic
// is then z; where sigma is NaN it is the sample's sd/√n, and the statistic is
// Student's t (Biometrika 6, 1908).
func CompareMean(m Moments, mean0, sigma float64) OneMean {
	n := float64(m.N)
	if math.IsNaN(sigma) {
		sigma = m.SD
	}
	c := OneMean{SE: sigma / math.Sqrt(n), DF: n - 1}
	quarter := quarterDifference(m, Moments{Mean: mean0}, 0)
	c.Statistic, c.CohenD = quarter/(c.SE/4), quarter/(m.SD/4)
	return c
}

// DecimalDifference returns x − y as the difference of the shortest decimals that the
// two doubles are written with, so that 5.3 − 5.1 and 2.3 − 2.1 are the same.
func DecimalDifference(x, y float64) float64 {
	a, okA := new(big.Rat).SetString(strconv.FormatFloat(x, 'g', -1, 64))
	b, okB := new(big.Rat).SetString(strconv.FormatFloat(y, 'g', -1, 64))
	if !okA || !okB {
		return x - y
	}
	difference, _ := a.Sub(a, b).Float64()
	return difference
}
