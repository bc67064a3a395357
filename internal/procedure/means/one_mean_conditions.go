package means

import (
	"fmt"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// conditions judges what the test takes for granted and writes the step.
func (s *oneMean) conditions() {
	ids := []string{"independence", "normality"}
	s.TakenAsMet(s.of.independence)
	if s.known {
		ids = append([]string{"known-sd"}, ids...)
		s.Condition("known-sd", working.Met,
			working.Textf("Taken as met: σ = @{sigma} is known beforehand. If it was estimated from these very cases, t belongs here."), s.useT()...)
	}
	s.Instead = s.byRanks()
	s.shape()
	var pictures []working.Block
	if !s.sample.Summary {
		ids = append(ids, "outliers")
		s.Outliers([]cases.Spread{s.sample.Spread}, s.decimals)
		pictures = s.ScoresBlocks(s.sample.Response, []cases.Spread{s.sample.Spread})
	}
	s.ConditionsStep(ids, pictures...)
}

// useT is the way from z to t, where the sample has a spread to estimate σ from.
func (s *oneMean) useT() []working.Action {
	if !(s.sample.Moments.SD > 0) {
		return nil
	}
	return []working.Action{{
		ID: "estimate-sd", Label: "Estimate it and compare", Procedure: "t-one-sample", Compare: true,
		Says: "Works the same problem with the standard deviation of the sample, beside this one.",
	}}
}

// byRanks is the way to signed ranks, which need no normal shape; pairs are compared with 0
// there.
func (s *oneMean) byRanks() []working.Action {
	const says = "Works the same problem with the ranks of the differences, beside this one. They need to lie evenly, not to be normal."
	pairs := s.sample.Pair != nil
	switch {
	case s.sample.Summary || s.sample.Five.Min == s.sample.Five.Max || pairs && s.Null != 0:
		return nil
	case pairs || s.Null == 0:
		return []working.Action{write.By("signed-rank", "Compare by ranks", says)}
	}
	return []working.Action{write.By("signed-rank", "Compare by ranks", says, problem.Set{Pointer: "/options/median", Value: s.Null})}
}

// shape judges whether the mean can be taken as normal.
func (s *oneMean) shape() {
	n := s.sample.Used()
	switch {
	case s.sample.Summary && n >= stats.FewCases:
		s.UnseenShape(working.Met, "With %d cases the mean is close to normal, unless they are strongly skewed, which a summary does not show.",
			n)
		return
	case s.sample.Summary:
		s.UnseenShape(working.Doubtful, "Cannot be seen from a summary. With %s the cases should themselves be close to normal, without "+
			"far outliers.",
			words.Count(n, "case"))
		return
	case n < stats.MinNormality:
		s.UnseenShape(working.Doubtful, "%s shows no shape: the population itself must be normal.", words.Count(n, "case"))
		return
	}
	skewness := s.sample.Moments.Skewness(s.sample.Values)
	var expr formula.Expr
	if s.sample.Moments.SD > 0 {
		expr = formula.Quotient{
			Over:  formula.Deviations{Column: s.series(), Centre: formula.Ref(s.ID), Power: 3},
			Under: formula.Product{formula.Ref("n"), formula.Power{Base: s.of.sdRef(), Exponent: 3}},
		}
	}
	s.Define(working.Quantity{
		ID: "skewness", Symbol: "g", Label: "Skewness", Says: "How lopsided the cases are: 0 when even, positive with a long tail to the right.",
	}, working.Ratio, skewness, expr)
	ofMean := stats.SkewnessOfMeans(stats.WeighedMean{Weight: 1, N: n, SD: s.sample.Moments.SD, Skewness: skewness})
	s.Define(working.Quantity{
		ID: "mean_skewness", Symbol: `g_{\bar{x}}`, Label: "Skewness of the mean",
		Says: "How lopsided means of such samples are: the more cases, the less.",
	}, working.Ratio, ofMean, formula.Quotient{Over: formula.Ref("skewness"), Under: formula.Root{X: formula.Ref("n")}})
	s.ShapeCondition(write.Shape{
		Samples: []cases.Spread{s.sample.Spread}, Cases: s.of.cases, Estimate: "their mean", Symbol: s.Family.Symbol,
		Skewness: ofMean, Ref: "mean_skewness",
	})
}

// resample offers a simulation of z or t: signs are flipped or, where σ is known or only a
// summary is given, samples are drawn from a normal population.
func (s *oneMean) resample() {
	n := s.sample.Used()
	if s.known || s.sample.Summary {
		ref, sigma, sd := s.of.sd, notKnown, s.sample.Moments.SD
		if s.known {
			ref, sigma, sd = "sigma", s.sigma, s.sigma
		}
		s.ResampleBy(working.Resampling{
			How: fmt.Sprintf("A sample of %d cases is drawn from a normal population that agrees with H₀, with the standard deviation %s, "+
				"and %s is calculated for it.", n, s.WithUnit(ref), s.Family.Symbol),
			Assumes: "The curve takes the same for granted: a normal population.",
			Sampler: func() stats.Sampler {
				return stats.DrawNormal([]int{n}, []float64{sd}, func(groups [][]float64) float64 {
					return stats.CompareMean(stats.NewMoments(groups[0]), 0, sigma).Statistic
				})
			},
		})
		return
	}
	distances := make([]float64, n)
	for i, x := range s.sample.Values {
		distances[i] = x - s.Null
	}
	s.ResampleBy(working.Resampling{
		How:     s.howFlipped(n),
		Assumes: "Flipping signs needs no normal shape, only an even one: as much to one side as to the other.",
		Sampler: func() stats.Sampler {
			return stats.FlipSigns(distances, func(distances []float64) float64 {
				return stats.CompareMean(stats.NewMoments(distances), 0, notKnown).Statistic
			})
		},
	})
}

// howFlipped says what a repetition does that flips signs.
func (s *oneMean) howFlipped(n int) string {
	switch {
	case s.sample.Pair == nil:
		return fmt.Sprintf("If H₀ is true a case may as well lie as far on the other side of %s. "+
			"So a coin is tossed for each of the %d cases, and with heads it changes sides; t is calculated anew.", s.Hypothesised(), n)
	case s.Null == 0:
		return fmt.Sprintf("If H₀ is true it makes no difference which measurement of a pair is the first. "+
			"So a coin is tossed for each of the %d pairs, and with heads the two change places; t is calculated anew.", n)
	}
	return fmt.Sprintf("If H₀ is true a difference may as well lie as far on the other side of %s. "+
		"So a coin is tossed for each of the %d pairs, and with heads its difference changes sides; t is calculated anew.", s.Hypothesised(), n)
}
