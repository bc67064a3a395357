package stats

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
