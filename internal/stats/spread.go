package stats

import "math"

// VarianceRatio is the comparison of the variances of two independent samples.
type VarianceRatio struct {
	F        float64 // variance of the first over that of the second
	DF1, DF2 float64
}

// CompareVariances compares the variances of two samples of at least two cases each
// (Snedecor, Statistical Methods, 1934). It is F distributed if both populations are
// normal and their variances equal.
func CompareVariances(first, second Moments) VarianceRatio {
	ratio := first.SD / second.SD
	return VarianceRatio{F: ratio * ratio, DF1: float64(first.N - 1), DF2: float64(second.N - 1)}
}

// MeanDeviations and MedianDeviations return how far each value lies from the mean or
// the median of all, without sign. Both centres are held to about 32 digits, so that a
// large offset takes nothing from the deviations.
func MeanDeviations(xs []float64) []float64 { return deviations(xs, NewMoments(xs)) }

func MedianDeviations(xs []float64) []float64 {
	sorted := Sorted(xs)
	n := len(sorted)
	high, low := twoSum(sorted[(n-1)/2]/2, sorted[n/2]/2)
	return deviations(xs, Moments{Mean: high, meanLow: low})
}

func deviations(xs []float64, centre Moments) []float64 {
	out := make([]float64, len(xs))
	for i, x := range xs {
		out[i] = math.Abs(centre.deviation(x))
	}
	return out
}

// OneWay is a one-way analysis of variance.
type OneWay struct {
	Between, Within     float64 // sums of squares
	DFBetween, DFWithin float64
	F                   float64
}

// NewOneWay compares the means of groups that have cases, by the sums of squares
// between and within them (R. A. Fisher, Statistical Methods for Research Workers,
// 1925, VII). Means are held to about 32 digits, and differences of them taken
// without loss.
func NewOneWay(groups []Moments) OneWay {
	total, all := 0.0, Moments{}
	for _, g := range groups {
		n := float64(g.N)
		total += n
		high, low := twoSum(all.Mean, n*g.Mean)
		all.Mean, all.meanLow = high, all.meanLow+low+math.FMA(n, g.Mean, -(n*g.Mean))+n*g.meanLow
	}
	all.Mean, all.meanLow = divide(all.Mean, all.meanLow, total)
	a := OneWay{DFBetween: float64(len(groups) - 1), DFWithin: total - float64(len(groups))}
	for _, g := range groups {
		d := 4 * quarterDifference(g, all, 0)
		a.Between += float64(g.N) * d * d
		if g.N > 1 {
			a.Within += float64(g.N-1) * g.SD * g.SD
		}
	}
	a.F = a.Between / a.DFBetween / (a.Within / a.DFWithin)
	return a
}
