package procedure

import (
	"fmt"
	"math"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// conditions judges what the test takes for granted and writes the step.
func (s *twoSample) conditions() {
	s.Condition("independence", working.Met, working.Textf(
		"Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this; if the same things were measured twice, the test for pairs belongs here."))
	s.equalVariances()
	if !s.data.summary && s.null == 0 {
		s.instead = []working.Action{by("rank-sum", "Compare by ranks", "Works the same problem with the ranks of the cases, which need no shape, beside this one.")}
	}
	s.shape()
	if !s.data.summary {
		s.outliers(s.samples(), s.decimals)
	}

	conditions := []string{"independence", "equal-variances", "normality"}
	if !s.data.summary {
		conditions = append(conditions, "outliers")
	}
	var blocks []working.Block
	for _, id := range conditions {
		blocks = append(blocks, working.Check{Condition: id})
	}
	if !s.data.summary {
		blocks = append(blocks, s.scoresBlocks(s.data.response, s.samples())...)
	}
	s.Step(working.Conditions, s.conditionKey(), blocks...)
}

// equalVariances compares the spreads. That the larger sd is at most twice the
// smaller is the usual rule for pooling (Moore and McCabe, Introduction to the
// Practice of Statistics, 12.1).
func (s *twoSample) equalVariances() {
	large, small := "sd_1", "sd_2"
	if s.second.moments.SD > s.first.moments.SD {
		large, small = small, large
	}
	ratio := s.Value(working.Ref(large)) / s.Value(working.Ref(small))
	spread := working.Textf("one group's sd is @{%s}, the other's @{%s}", large, small)
	if !math.IsInf(ratio, 0) {
		s.Define(working.Quantity{ID: "sd_ratio", Symbol: `s_{\text{large}}/s_{\text{small}}`, Label: "Ratio of the standard deviations", Says: "The larger standard deviation over the smaller one."},
			working.Ratio, ratio, formula.Quotient{Over: formula.Ref(large), Under: formula.Ref(small)})
		spread = working.Textf("sd @{%s} is @{sd_ratio|%s} times @{%s}", large, working.FormatNumber(ratio, 1), small)
	}
	if !s.pooled {
		reason := working.Join(working.Textf("Not needed: the variances are kept apart, so the spreads need not be alike ("), spread, working.Textf(").%s", s.byDeviations()))
		s.Condition("equal-variances", working.NotNeeded, reason, working.Action{
			ID: "pool-variances", Label: "Pool them and compare", Compare: true,
			Says: "Works the same problem with one common variance, beside this one.",
			Set:  []problem.Set{{Pointer: "/options/variances", Value: "equal"}},
		})
		return
	}
	status, before, after := working.Met, "Alike enough to pool: ", "; up to twice is usual."
	n1, n2 := float64(s.first.moments.N), float64(s.second.moments.N)
	switch {
	case ratio > 2:
		status, before = working.NotMet, "The spreads differ too much to pool: "
		after = ", and up to twice is usual. The pooled standard error is then wrong, most of all when the groups differ in size."
	case ratio > 1.5 && math.Max(n1, n2) > 1.5*math.Min(n1, n2):
		status, before = working.Doubtful, "Pooling may mislead: "
		after = ", and the groups differ much in size."
	}
	s.Condition("equal-variances", status, working.Join(working.Textf("%s", before), spread, working.Textf("%s%s", after, s.byDeviations())), working.Action{
		ID: "keep-variances-apart", Label: "Keep them apart and compare", Compare: true,
		Says: "Works the same problem with a variance for each group, beside this one.",
		Set:  []problem.Set{{Pointer: "/options/variances", Value: "unequal"}},
	})
}

// byDeviations adds the comparison of the spreads by the distances from the medians.
func (s *twoSample) byDeviations() string {
	return s.spreadsByDeviations([][]float64{s.first.values, s.second.values})
}

// spreadsByDeviations compares spreads by the distances from the medians: " By the distances
// from the medians: F = 17.005, p = 0.0003."; "" where there is no such comparison.
func (l *location) spreadsByDeviations(samples [][]float64) string {
	var moments []stats.Moments
	for _, values := range samples {
		if values == nil {
			return ""
		}
		moments = append(moments, stats.NewMoments(stats.MedianDeviations(values)))
	}
	a := stats.NewOneWay(moments)
	if !(a.Within > 0) || math.IsInf(a.F, 0) || math.IsNaN(a.F) {
		return ""
	}
	return fmt.Sprintf(" By the distances from the medians: F = %s, %s.", working.FormatNumber(a.F, 3), l.pWords(dist.F{DF1: a.DFBetween, DF2: a.DFWithin}.Upper(a.F)))
}

// shape judges whether the difference of the means can be taken as normal.
func (s *twoSample) shape() {
	smallest := min(s.first.moments.N, s.second.moments.N)
	if s.data.summary {
		if smallest >= stats.FewCases {
			s.unseenShape(working.Met, "With at least %d cases in each group the means are close to normal, unless the cases are strongly skewed, which a summary does not show.", smallest)
		} else {
			s.unseenShape(working.Doubtful, "Cannot be seen from a summary. With %d cases in the smaller group the cases themselves should be close to normal, without far outliers.", smallest)
		}
		return
	}
	s.skewness()
	var means []stats.WeighedMean
	for i, g := range []*group{s.first, s.second} {
		means = append(means, stats.WeighedMean{Weight: float64(1 - 2*i), N: g.moments.N, SD: g.moments.SD, Skewness: g.moments.Skewness(g.values)})
	}
	third := func(i int) formula.Expr {
		return formula.Quotient{Over: formula.Product{indexed("skewness", i), formula.Power{Base: indexed("sd", i), Exponent: 3}}, Under: formula.Square(indexed("n", i))}
	}
	second := func(i int) formula.Expr {
		return formula.Quotient{Over: formula.Square(indexed("sd", i)), Under: indexed("n", i)}
	}
	of := stats.SkewnessOfMeans(means...)
	s.Define(working.Quantity{ID: "mean_skewness", Symbol: `g_{d}`, Label: "Skewness of the difference of the means", Says: "How lopsided differences of such means are: the more cases, the less, and groups that lean the same way take from each other."},
		working.Ratio, of, formula.Quotient{Over: formula.Subtract(third(1), third(2)), Under: formula.Power{Base: formula.Root{X: formula.Sum{second(1), second(2)}}, Exponent: 3}})
	s.shapeCondition(shapeJudged{samples: s.samples(), estimate: "the difference of the means", symbol: "t", skewness: of, ref: "mean_skewness", oneTail: s.p.Tail != problem.Both})
}

// skewness defines how lopsided each group is.
func (s *twoGroups) skewness() {
	s.pair("skewness", `g`, "Skewness", "How lopsided the group is: 0 when even, positive with a long tail to the right.", "", working.Ratio,
		func(g *group) float64 { return g.moments.Skewness(g.values) },
		func(i int, g *group) formula.Expr {
			if !(g.moments.SD > 0) {
				return nil
			}
			return formula.Quotient{
				Over:  formula.Deviations{Column: s.series(g), Centre: indexed("mean", i), Power: 3},
				Under: formula.Product{indexed("n", i), formula.Power{Base: indexed("sd", i), Exponent: 3}},
			}
		})
}
