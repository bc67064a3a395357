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
		out[i] = math.Abs(centre.Deviation(x))
	}
	return out
}
