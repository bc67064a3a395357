package stats

import (
	"cmp"
	"context"
	"math"
	"slices"

	"grund/internal/stats/dist"
)

// Comparisons says how every two of several means are compared, so that all comparisons together
// keep to alpha.
type Comparisons string

const (
	ByTukey      Comparisons = "tukey" // with variances kept apart in the form of Games and Howell
	ByHolm       Comparisons = "holm"  // step by step, without intervals
	ByBonferroni Comparisons = "bonferroni"
)

// ComparedMeans is a pair of means with its corrected p-value and the ends of its interval.
type ComparedMeans struct {
	MeanPair
	P, Low, High float64
}

// Compare compares every two of the groups, the largest differences first. area is what lies
// outside all intervals together. It ends with the context's error when that is done.
func (a *OneWay) Compare(ctx context.Context, groups []Moments, by Comparisons, pooled bool, area float64) ([]ComparedMeans, error) {
	k := len(groups)
	pairs := a.MeanPairs(groups, pooled)
	m := float64(len(pairs))
	common := math.NaN() // how far every interval reaches
	var reach, tail func(float64) float64
	switch {
	case by == ByTukey && pooled:
		common = TukeyReach(a.DFWithin, k, area)
		var err error
		if tail, err = tukeyPs(ctx, pairs, k); err != nil {
			return nil, err
		}
	case by == ByTukey:
		dfs := make([]float64, len(pairs))
		for i, pair := range pairs {
			dfs[i] = pair.DF
		}
		var err error
		if reach, err = tukeyReaches(ctx, dfs, k, area); err != nil {
			return nil, err
		}
	}
	compared, ps := make([]ComparedMeans, len(pairs)), make([]float64, len(pairs))
	err := inParallel(ctx, len(pairs), func(i int) {
		pair, times := pairs[i], common
		t := dist.T{DF: pair.DF}
		switch by {
		case ByTukey:
			if pooled {
				ps[i] = tail(pair.T)
			} else {
				ps[i], times = TukeyP(pair, k), reach(pair.DF)
			}
		case ByBonferroni:
			ps[i] = math.Min(1, 2*m*t.Upper(math.Abs(pair.T)))
			times = t.UpperQuantile(area / m / 2)
		default:
			ps[i] = 2 * t.Upper(math.Abs(pair.T))
		}
		compared[i] = ComparedMeans{MeanPair: pair, Low: pair.Difference - times*pair.SE, High: pair.Difference + times*pair.SE}
	})
	if err != nil {
		return nil, err
	}
	if by == ByHolm {
		ps = Holm(ps)
	}
	for i := range compared {
		compared[i].P = ps[i]
	}
	slices.SortStableFunc(compared, func(a, b ComparedMeans) int {
		return cmp.Compare(math.Abs(b.Difference), math.Abs(a.Difference))
	})
	return compared, nil
}

// MeanInterval is where the mean of a group may lie.
type MeanInterval struct {
	Times     float64 // how many standard errors it reaches
	Low, High float64
}

// MeanIntervals returns an interval for the mean of each group, with the area outside it: by the
// mean square within all groups, or with pooled false by the group's own variance.
func (a *OneWay) MeanIntervals(groups []Moments, pooled bool, area float64) []MeanInterval {
	out := make([]MeanInterval, len(groups))
	for i, m := range groups {
		root := math.Sqrt(float64(m.N))
		df, se := a.DFWithin, math.Sqrt(a.MSWithin)/root
		if !pooled {
			df, se = float64(m.N-1), m.SD/root
		}
		times := dist.T{DF: df}.UpperQuantile(area / 2)
		out[i] = MeanInterval{times, m.Mean - times*se, m.Mean + times*se}
	}
	return out
}
