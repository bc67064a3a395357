package several

import (
	"fmt"
	"math"
	"slices"

	"grund/internal/data"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// conditions judges what the test takes for granted and writes the step.
func (s *severalMeans) conditions() {
	s.TakenAsMet(write.InGroup)
	s.spreads()
	ids := []string{"independence", "equal-variances", "normality"}
	if s.data.Summary {
		s.SummaryShape(s.data.Smallest(), words.Count(s.data.Smallest(), "case")+" in the smallest group")
		s.ConditionsStep(ids)
		return
	}
	s.Instead = []working.Action{write.By("rank-k-sample", "Compare by ranks",
		"Works the same problem with the ranks of the cases, which need no shape, beside this one.")}
	residuals := s.residuals()
	s.shape(residuals)
	s.Outliers(s.data.Spreads(), s.decimals)
	var fitted []float64
	for i := range s.data.Each {
		fitted = append(fitted, slices.Repeat([]float64{s.moments[i].Mean}, len(s.data.Each[i].Values))...)
	}
	s.ResidualFigure(write.Residuals{
		ID: "residuals", Title: "Distances from the group means", Axis: working.Axis{Label: "group mean", Unit: s.Unit}, Unit: s.Unit,
		Says: "What is left of each case against the mean of its group; the dashed line is 0.",
		X:    fitted, Y: residuals.Values, Rows: residuals.Rows,
	})
	blocks := append([]working.Block{working.FigureBlock{Figure: "residuals"}},
		s.ScoresBlocks(data.Heading{Label: "Distances from the group means", Unit: s.Unit}, []cases.Spread{residuals})...)
	s.ConditionsStep(append(ids, "outliers"), append(blocks, working.Note("Distances against group means: each column of dots is a group. "+
		"Columns should be about equally long, and longer to no side."))...)
}

// spreads compares the spreads of the groups: up to twice the smallest sd is the usual rule for
// pooling (Moore and McCabe, Introduction to the Practice of Statistics, 12.1).
func (s *severalMeans) spreads() {
	small, large := -1, -1
	for i, m := range s.moments {
		if m.N < 2 {
			continue
		}
		if small < 0 || m.SD < s.moments[small].SD {
			small = i
		}
		if large < 0 || m.SD > s.moments[large].SD {
			large = i
		}
	}
	ratio := s.moments[large].SD / s.moments[small].SD
	sd := func(i int) string { return fmt.Sprintf("%s (%s)", s.ShowMeasure(s.moments[i].SD), s.data.Each[i].Name) }
	spread := fmt.Sprintf("the largest sd, %s, is %s times the smallest, %s", sd(large), working.FormatNumber(ratio, 1), sd(small))
	if math.IsInf(ratio, 0) {
		spread = fmt.Sprintf("the largest sd is %s, and %s has none", sd(large), s.data.Each[small].Name)
	}
	more := s.ByDeviations(s.data.Values())
	if !s.equal {
		s.Condition("equal-variances", working.NotNeeded, working.Textf("Not needed: each group keeps its own variance (%s).%s", spread, more),
			write.Setting("variances", "equal", "pool-variances", "Pool them and compare",
				"Works the same problem with one common variance, beside this one."))
		return
	}
	status, before, after := working.Met, "Alike enough to pool: ", "; up to twice is usual."
	if ratio > 2 {
		status, before = working.NotMet, "The spreads differ too much to pool: "
		after = ", and up to twice is usual. With groups of different sizes the test then errs one way or the other."
	}
	ways := []working.Action{write.Setting("variances", "unequal", "keep-variances-apart", "Keep them apart and compare",
		"Works the same problem with a variance for each group (Welch), beside this one.")}
	if !(s.moments[small].SD > 0) || slices.ContainsFunc(s.moments, func(m stats.Moments) bool { return m.N < 2 }) {
		ways = nil // kept apart, a group needs a spread of its own
	}
	s.Condition("equal-variances", status, working.Textf("%s%s%s%s", before, spread, after, more), ways...)
}

// shape judges whether the means can be taken as normal, by W of the distances of all cases from
// their group means and by the difference of two means that is the most lopsided.
func (s *severalMeans) shape(residuals cases.Spread) {
	skewness := s.mostLopsided(stats.NewMoments(residuals.Values).Skewness(residuals.Values))
	s.ShapeCondition(write.Shape{
		Samples: []cases.Spread{residuals}, Cases: "the distances of the cases from their group means",
		Estimate: "the most lopsided difference of two means", Symbol: "F", Skewness: skewness,
	})
}

// ownSkewness is from how many cases on a group's own skewness says more of it than that of all
// cases about their means.
const ownSkewness = 10

// mostLopsided returns the largest skewness that a difference of two of the means has, without
// its sign. common is the skewness of all cases about their means.
func (s *severalMeans) mostLopsided(common float64) float64 {
	means := make([]stats.WeighedMean, len(s.moments))
	for i, m := range s.moments {
		means[i] = stats.WeighedMean{Weight: 1, N: m.N, Skewness: common}
		if m.N > 1 {
			means[i].SD = m.SD
		}
		if m.N >= ownSkewness {
			means[i].Skewness = m.Skewness(s.data.Each[i].Values)
		}
	}
	most := 0.0
	for i, first := range means {
		for _, second := range means[i+1:] {
			second.Weight = -1
			most = math.Max(most, math.Abs(stats.SkewnessOfMeans(first, second)))
		}
	}
	return most
}

// sampleF returns F of groups, with room of its own to count in.
func (s *severalMeans) sampleF() func(groups [][]float64) float64 {
	moments := make([]stats.Moments, len(s.moments))
	return func(groups [][]float64) float64 {
		for i, g := range groups {
			moments[i] = stats.NewMoments(g)
		}
		if s.equal {
			return stats.NewOneWay(moments).F
		}
		return stats.NewWelch(moments).F
	}
}

// resample offers a simulation of F: the labels are shuffled or, where only a summary is given,
// samples are drawn from normal populations.
func (s *severalMeans) resample() {
	sizes := s.data.Sizes()
	if s.data.Summary {
		sds, with := make([]float64, len(sizes)), "with the standard deviations that were given"
		for i, m := range s.moments {
			sds[i] = m.SD
			if s.equal {
				sds[i], with = math.Sqrt(s.stats.MSWithin), "with the pooled standard deviation"
			}
		}
		s.ResampleBy(working.Resampling{
			How: fmt.Sprintf("%s are drawn from normal populations with the same mean, %s, and F is calculated for them.",
				words.Count(len(sizes), "sample"), with),
			Assumes: "The curve takes the same for granted: normal populations.",
			Sampler: func() stats.Sampler { return stats.DrawNormal(sizes, sds, s.sampleF()) },
		})
		return
	}
	values := slices.Concat(s.data.Values()...)
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels of the %d groups are shuffled "+
			"among the %d cases, and F is calculated anew.", len(sizes), len(values)),
		Assumes: "Shuffling needs no normal shape, but takes for granted that without a difference in means the groups would be alike, in " +
			"spread too.",
		Sampler: func() stats.Sampler { return stats.ShuffleLabels(values, sizes, s.sampleF()) },
	})
}
