package means

import (
	"fmt"
	"math"
	"slices"

	"grund/internal/formula"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// conditions judges what the test takes for granted and writes the step.
func (s *twoSample) conditions() {
	s.TakenAsMet("each case belongs to one group and tells nothing about another. The numbers cannot show this; " +
		"if the same things were measured twice, the test for pairs belongs here.")
	s.equalVariances()
	if !s.data.Summary && s.Null == 0 {
		s.Instead = []working.Action{write.By("rank-sum", "Compare by ranks",
			"Works the same problem with the ranks of the cases, which need no shape, beside this one.")}
	}
	s.shape()
	s.conditionsOf([]string{"independence", "equal-variances", "normality"})
}

// equalVariances compares the spreads. That the larger sd is at most twice the smaller is the
// usual rule for pooling (Moore and McCabe, Introduction to the Practice of Statistics, 12.1).
func (s *twoSample) equalVariances() {
	large, small := working.Ref("sd_1"), working.Ref("sd_2")
	if s.second.Moments.SD > s.first.Moments.SD {
		large, small = small, large
	}
	ratio := s.Value(large) / s.Value(small)
	spread := working.Textf("one group's sd is @{%s}, the other's @{%s}", large, small)
	if !math.IsInf(ratio, 0) {
		s.Define(working.Quantity{
			ID: "sd_ratio", Symbol: `s_{\text{large}}/s_{\text{small}}`, Label: "Ratio of the standard deviations",
			Says: "The larger standard deviation over the smaller one.",
		}, working.Ratio, ratio, formula.Quotient{Over: formula.Ref(large), Under: formula.Ref(small)})
		spread = working.Textf("sd @{%s} is @{sd_ratio|%s} times @{%s}", large, working.FormatNumber(ratio, 1), small)
	}
	byDeviations := s.ByDeviations(s.data.Values())
	if !s.pooled {
		reason := working.Join(working.Textf("Not needed: the variances are kept apart, so the spreads need not be alike ("), spread,
			working.Textf(").%s", byDeviations))
		s.Condition("equal-variances", working.NotNeeded, reason, write.Setting("variances", "equal", "pool-variances", "Pool them and compare",
			"Works the same problem with one common variance, beside this one."))
		return
	}
	status, before, after := s.judgeSpreads(ratio)
	s.Condition("equal-variances", status, working.Join(working.Textf("%s", before), spread, working.Textf("%s%s", after, byDeviations)),
		write.Setting("variances", "unequal", "keep-variances-apart", "Keep them apart and compare",
			"Works the same problem with a variance for each group, beside this one."))
}

// judgeSpreads judges whether variances may be pooled, and what is said before and after the two
// spreads.
func (s *twoSample) judgeSpreads(ratio float64) (status working.Status, before, after string) {
	n1, n2 := float64(s.first.Moments.N), float64(s.second.Moments.N)
	switch {
	case ratio > 2:
		return working.NotMet, "The spreads differ too much to pool: ",
			", and up to twice is usual. The pooled standard error is then wrong, most of all when the groups differ in size."
	case ratio > 1.5 && math.Max(n1, n2) > 1.5*math.Min(n1, n2):
		return working.Doubtful, "Pooling may mislead: ", ", and the groups differ much in size."
	}
	return working.Met, "Alike enough to pool: ", "; up to twice is usual."
}

// shape judges whether the difference of the means can be taken as normal.
func (s *twoSample) shape() {
	if s.data.Summary {
		smallest := s.data.Smallest()
		s.SummaryShape(smallest, fmt.Sprintf("%d cases in the smaller group", smallest))
		return
	}
	s.skewness()
	var means []stats.WeighedMean
	for i, g := range s.data.Each {
		means = append(means, stats.WeighedMean{
			Weight: float64(1 - 2*i), N: g.Moments.N, SD: g.Moments.SD, Skewness: g.Moments.Skewness(g.Values),
		})
	}
	third := func(i int) formula.Expr {
		return formula.Quotient{
			Over:  formula.Product{indexed("skewness", i), formula.Power{Base: indexed("sd", i), Exponent: 3}},
			Under: formula.Square(indexed("n", i)),
		}
	}
	of := stats.SkewnessOfMeans(means...)
	s.Define(working.Quantity{
		ID: "mean_skewness", Symbol: `g_{d}`, Label: "Skewness of the difference of the means",
		Says: "How lopsided differences of such means are: the more cases, the less, and groups that lean the same way take from each other.",
	}, working.Ratio, of, formula.Quotient{
		Over:  formula.Subtract(third(1), third(2)),
		Under: formula.Power{Base: formula.Root{X: formula.Sum{share(1), share(2)}}, Exponent: 3},
	})
	s.ShapeCondition(write.Shape{
		Samples: s.data.Spreads(), Estimate: "the difference of the means", Symbol: "t", Skewness: of, Ref: "mean_skewness",
	})
}

// resample offers a simulation of t: the labels are shuffled or, where only a summary is given,
// samples are drawn from normal populations.
func (s *twoSample) resample() {
	sizes := s.data.Sizes()
	statistic := func(groups [][]float64) float64 {
		return stats.CompareMeans(stats.NewMoments(groups[0]), stats.NewMoments(groups[1]), 0, s.pooled).T
	}
	if s.data.Summary {
		sds, with := []float64{s.first.Moments.SD, s.second.Moments.SD}, "with the standard deviations that were given"
		if s.pooled {
			sds, with = []float64{s.stats.PooledSD, s.stats.PooledSD}, "with the pooled standard deviation"
		}
		s.ResampleBy(working.Resampling{
			How: fmt.Sprintf("Two samples of %d and %d cases are drawn from normal populations that agree with H₀, %s, and t is calculated "+
				"for them.",
				sizes[0], sizes[1], with),
			Assumes: "The curve takes the same for granted: normal populations.",
			Sampler: func() stats.Sampler { return stats.DrawNormal(sizes, sds, statistic) },
		})
		return
	}
	moved := slices.Clone(s.first.Values)
	how := fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels “%s” and “%s” are "+
		"shuffled among the %d cases, and t is calculated anew.", s.first.Name, s.second.Name, sizes[0]+sizes[1])
	if s.Null != 0 {
		for i := range moved {
			moved[i] -= s.Null
		}
		how = fmt.Sprintf("If H₀ is true the two groups differ by %s and by nothing else. So that is taken from every case of “%s”, "+
			"the labels are shuffled among the %d cases, and t is calculated anew.", s.Hypothesised(), s.first.Name, sizes[0]+sizes[1])
	}
	s.ResampleBy(working.Resampling{
		How: how,
		Assumes: "Shuffling needs no normal shape, but takes for granted that without a difference in means the groups would be alike, " +
			"in spread too.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(slices.Concat(moved, s.second.Values), sizes, statistic)
		},
	})
}

// plan offers the power of the test.
func (s *twoSample) plan() {
	n1, n2 := s.first.Moments.N, s.second.Moments.N
	typical := math.Hypot(s.first.Moments.SD, s.second.Moments.SD) / math.Sqrt2
	inputs := []working.PowerInput{{ID: "truth", Label: "True difference, " + s.minus(), Unit: s.Unit, Value: s.Stated(typical)}}
	basis := "Calculated by the noncentral t distribution, for normal cases with the standard deviations that are stated, " +
		"at first those of the samples. With variances kept apart it is an approximation, as the test itself is. " +
		"The groups keep their shares of the cases."
	if s.pooled {
		inputs = append(inputs, write.SpreadInput("sd", "Standard deviation in both groups", s.Unit, s.stats.PooledSD))
		basis = "Calculated by the noncentral t distribution, for normal cases with one standard deviation, at first the pooled one. " +
			"The groups keep their shares of the cases."
	} else {
		for i, g := range s.data.Each {
			sd := g.Moments.SD
			if sd == 0 {
				sd = typical
			}
			inputs = append(inputs, write.SpreadInput(string(write.Indexed("sd", i+1)), "Standard deviation, "+g.Name, s.Unit, sd))
		}
	}
	s.PlanBy(working.Planning{
		Inputs: inputs, N: n1 + n2, Least: 4, Basis: basis, Sizes: write.SharedWords(n1, n2, 2),
		Truth: func(truth []float64) string { return "a true difference of " + s.InUnit(truth[0]) },
		Side:  func(truth []float64) int { return write.SideOf(truth[0] - s.Null) },
		Power: func(truth []float64, n int) float64 {
			first, second := write.Shared(n, n1, n2, 2)
			// Samples that show just what is true have the standard error of the test.
			at := stats.CompareMeans(stats.SummaryMoments(first, truth[0], truth[1]), stats.SummaryMoments(second, 0, truth[len(truth)-1]),
				s.Null, s.pooled)
			low, high := s.Region(dist.T{DF: at.DF})
			return stats.PowerOfT(at.DF, at.T, low, high)
		},
	})
}
