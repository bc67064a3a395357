package exact

import (
	"context"
	"math"

	"grund/internal/stats/dist"
)

// mostCounts bounds the counts that an exact multinomial test looks at.
const mostCounts = 400_000

// Multinomial returns the exact p-value of counts with the given shares: the sum of
// the probabilities of all counts that are not more likely than these. ok is false where
// there are too many to look at, or the context is done.
func Multinomial(ctx context.Context, observed []int, shares []float64) (p float64, ok bool) {
	n := 0
	for _, o := range observed {
		n += o
	}
	ways := 1.0 // of parting n: (n+k−1 choose k−1)
	for i := 1; i < len(observed); i++ {
		ways *= float64(n+i) / float64(i)
	}
	if ways > mostCounts {
		return 0, false
	}
	lf := dist.LogFactorials(n)
	logs := make([]float64, len(shares))
	limit := lf[n]
	for i, share := range shares {
		logs[i] = math.Log(share)
		limit += float64(observed[i])*logs[i] - lf[observed[i]]
	}
	// Equal probabilities come out within a rounding of each other.
	limit += 1e-11 * math.Max(1, math.Abs(limit))
	var add func(i, left int, sum float64)
	add = func(i, left int, sum float64) {
		if i == len(shares)-1 {
			if sum += float64(left)*logs[i] - lf[left]; sum <= limit {
				p += math.Exp(sum)
			}
			return
		}
		for k := 0; k <= left && ctx.Err() == nil; k++ {
			add(i+1, left-k, sum+float64(k)*logs[i]-lf[k])
		}
	}
	add(0, n, lf[n])
	return math.Min(1, p), ctx.Err() == nil
}

// LessLikelyCounts orders counts that add up to the same by their probability under the
// given shares: it returns Σ ln x! − x ln share, which is the larger the less likely they
// are.
func LessLikelyCounts(counts []int, shares []float64) float64 {
	sum := 0.0
	for i, x := range counts {
		sum += dist.LogFactorial(x) - float64(x)*math.Log(shares[i])
	}
	return sum
}
