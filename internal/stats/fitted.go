package stats

import (
	"math"

	"grund/internal/stats/dist"
)

// ClassProbability returns the probability that a value lies from low, included, to high,
// excluded, under a continuous distribution or one on whole numbers; the ends may be
// infinite. The smaller of the two tails is taken.
func ClassProbability(d any, low, high float64) float64 {
	below, above := Tails(d, low)
	belowHigh, aboveHigh := Tails(d, high)
	if below <= above {
		return math.Max(0, belowHigh-below)
	}
	return math.Max(0, above-aboveHigh)
}

// Tails returns the probabilities of values below x, and of values of x or more.
func Tails(d any, x float64) (below, from float64) {
	switch {
	case math.IsInf(x, -1):
		return 0, 1
	case math.IsInf(x, 1):
		return 1, 0
	}
	switch d := d.(type) {
	case dist.Discrete:
		k := math.Ceil(x)
		if k > math.MaxInt32 {
			return 1, 0
		}
		return d.Lower(int(k) - 1), d.Upper(int(k))
	case dist.Distribution:
		return d.Lower(x), d.Upper(x)
	}
	return math.NaN(), math.NaN()
}

// A Bin is a class, or several that were merged.
type Bin struct {
	Low, High   float64
	Observed    int
	Probability float64
	Merged      int // how many classes it was made of
}

// MergeBins merges classes until each expects at least least of n cases: while one expects
// fewer, the one that expects the least joins the neighbour that expects less, the lower
// one where both expect the same.
func MergeBins(bins []Bin, n int, least float64) []Bin {
	out := append([]Bin(nil), bins...)
	for len(out) > 1 {
		at := 0
		for i := range out {
			if out[i].Probability < out[at].Probability {
				at = i
			}
		}
		if float64(n)*out[at].Probability >= least {
			break
		}
		with := at - 1
		if at == 0 || at < len(out)-1 && out[at+1].Probability < out[at-1].Probability {
			with = at + 1
		}
		low, high := min(at, with), max(at, with)
		out[low] = Bin{out[low].Low, out[high].High, out[low].Observed + out[high].Observed, out[low].Probability + out[high].Probability,
			out[low].Merged + out[high].Merged}
		out = append(out[:high], out[high+1:]...)
	}
	return out
}
