package data

import "grund/internal/stats"

// same makes a function of a whole column give its one value for every case.
func same(f func([]float64) float64) func([]float64) []float64 {
	return func(xs []float64) []float64 {
		value := f(xs)
		out := make([]float64, len(xs))
		for i := range out {
			out[i] = value
		}
		return out
	}
}

func mean(xs []float64) float64 { return stats.NewMoments(xs).Mean }

func sd(xs []float64) float64 { return stats.NewMoments(xs).SD }

func medianOf(xs []float64) float64 { return stats.NewFiveNumbers(stats.Sorted(xs)).Median }

// standardised returns (x − mean)/sd for each x.
func standardised(xs []float64) []float64 {
	m := stats.NewMoments(xs)
	out := make([]float64, len(xs))
	for i, x := range xs {
		out[i] = (x - m.Mean) / m.SD
	}
	return out
}

// ranks returns the rank of each number, 1 for the smallest; ties share the mean
// of their ranks.
func ranks(xs []float64) []float64 {
	ranks, _ := stats.Midranks(xs)
	return ranks
}
