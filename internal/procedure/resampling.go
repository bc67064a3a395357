package procedure

import (
	"fmt"
	"math"
	"slices"

	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// resample offers a simulation of t: the labels are shuffled or, where only a summary is
// given, samples are drawn from normal populations.
func (s *twoSample) resample() {
	sizes := []int{s.first.moments.N, s.second.moments.N}
	statistic := func(groups [][]float64) float64 {
		return stats.CompareMeans(stats.NewMoments(groups[0]), stats.NewMoments(groups[1]), 0, s.pooled).T
	}
	if s.data.summary {
		sds := []float64{s.first.moments.SD, s.second.moments.SD}
		with := "with the standard deviations that were given"
		if s.pooled {
			sds = []float64{s.stats.PooledSD, s.stats.PooledSD}
			with = "with the pooled standard deviation"
		}
		s.ResampleBy(working.Resampling{
			How:     fmt.Sprintf("Two samples of %d and %d cases are drawn from normal populations that agree with H₀, %s, and t is calculated for them.", sizes[0], sizes[1], with),
			Assumes: "The curve takes the same for granted: normal populations.",
			Sampler: func() stats.Sampler { return stats.DrawNormal(sizes, sds, statistic) },
		})
		return
	}
	moved := slices.Clone(s.first.values)
	how := fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels “%s” and “%s” are shuffled among the %d cases, and t is calculated anew.", s.first.name, s.second.name, sizes[0]+sizes[1])
	if s.null != 0 {
		for i := range moved {
			moved[i] -= s.null
		}
		how = fmt.Sprintf("If H₀ is true the two groups differ by %s and by nothing else. So that is taken from every case of “%s”, the labels are shuffled among the %d cases, and t is calculated anew.", s.hypothesised(), s.first.name, sizes[0]+sizes[1])
	}
	s.ResampleBy(working.Resampling{
		How:     how,
		Assumes: "Shuffling needs no normal shape, but takes for granted that without a difference in means the groups would be alike, in spread too.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(slices.Concat(moved, s.second.values), sizes, statistic)
		},
	})
}

// resample offers a simulation of z or t: signs are flipped or, where σ is known or only
// a summary is given, samples are drawn from a normal population.
func (s *oneMean) resample() {
	id := s.family.Symbol
	n := s.moments.N
	if s.known || s.summary {
		ref, sigma := working.Ref("sd"), notKnown
		if s.known {
			ref, sigma = "sigma", s.Value("sigma")
		}
		spread := s.Value(ref)
		s.ResampleBy(working.Resampling{
			How:     fmt.Sprintf("A sample of %d cases is drawn from a normal population that agrees with H₀, with the standard deviation %s, and %s is calculated for it.", n, s.withUnit(ref), id),
			Assumes: "The curve takes the same for granted: a normal population.",
			Sampler: func() stats.Sampler {
				return stats.DrawNormal([]int{n}, []float64{spread}, func(groups [][]float64) float64 {
					return stats.CompareMean(stats.NewMoments(groups[0]), 0, sigma).Statistic
				})
			},
		})
		return
	}
	how := fmt.Sprintf("If H₀ is true a case may as well lie as far on the other side of %s. So a coin is tossed for each of the %d cases, and with heads it changes sides; t is calculated anew.", s.hypothesised(), n)
	if s.pair != nil {
		how = fmt.Sprintf("If H₀ is true it makes no difference which measurement of a pair is the first. So a coin is tossed for each of the %d pairs, and with heads the two change places; t is calculated anew.", n)
		if s.null != 0 {
			how = fmt.Sprintf("If H₀ is true a difference may as well lie as far on the other side of %s. So a coin is tossed for each of the %d pairs, and with heads its difference changes sides; t is calculated anew.", s.hypothesised(), n)
		}
	}
	distances := make([]float64, n)
	for i, x := range s.values {
		distances[i] = x - s.null
	}
	s.ResampleBy(working.Resampling{
		How:     how,
		Assumes: "Flipping signs needs no normal shape, only an even one: as much to one side as to the other.",
		Sampler: func() stats.Sampler {
			return stats.FlipSigns(distances, func(distances []float64) float64 {
				return stats.CompareMean(stats.NewMoments(distances), 0, notKnown).Statistic
			})
		},
	})
}

// resample offers a simulation of F: the deviations from the centre of each group are
// shuffled or, where only a summary is given, samples are drawn.
func (s *spreads) resample() {
	sizes := []int{s.first.moments.N, s.second.moments.N}
	statistic := func(groups [][]float64) float64 {
		return stats.CompareVariances(stats.NewMoments(groups[0]), stats.NewMoments(groups[1])).F
	}
	if s.data.summary {
		s.ResampleBy(working.Resampling{
			How:     fmt.Sprintf("Two samples of %d and %d cases are drawn from normal populations of one standard deviation, and F is calculated for them.", sizes[0], sizes[1]),
			Assumes: "The curve takes the same for granted: normal populations.",
			Sampler: func() stats.Sampler { return stats.DrawNormal(sizes, []float64{1, 1}, statistic) },
		})
		return
	}
	var distances []float64
	for _, g := range []*group{s.first, s.second} {
		for _, x := range g.values {
			distances = append(distances, x-g.moments.Mean)
		}
	}
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true it makes no difference which case bears which label, once each is measured from its group’s mean. So the labels “%s” and “%s” are shuffled among these %d distances, and F is calculated anew.", s.first.name, s.second.name, len(distances)),
		Assumes: "Shuffling needs no normal shape, which the curve does need: where the groups are not normal the two may part.",
		Sampler: func() stats.Sampler { return stats.ShuffleLabels(distances, sizes, statistic) },
	})
}

// resample offers a simulation of F: the deviations are shuffled.
func (s *deviations) resample() {
	sizes := make([]int, len(s.distances))
	for i := range sizes {
		sizes[i] = len(s.distances[i])
	}
	all := slices.Concat(s.distances...)
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true a deviation may as well come from any group. So the labels of the groups are shuffled among the %d deviations, and F is calculated anew.", len(all)),
		Assumes: "Shuffling needs no normal shape of the deviations, and they have none: the curve is an approximation.",
		Sampler: func() stats.Sampler {
			moments := make([]stats.Moments, len(sizes))
			return stats.ShuffleLabels(all, sizes, func(groups [][]float64) float64 {
				for i, group := range groups {
					moments[i] = stats.NewMoments(group)
				}
				return stats.NewOneWay(moments).F
			})
		},
	})
}

// resample offers a simulation of z: counts are drawn under H₀.
func (s *oneProportion) resample() {
	z := func(successes int) float64 {
		return stats.CompareProportion(successes, s.n, s.null, s.continuity).Z
	}
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true each of %d cases is a success with probability %s. So as many are drawn, the successes among them counted, and z is calculated for that count.", s.n, working.FormatShortest(s.null)),
		Assumes: "Drawing counts is exact but for chance; the normal curve is an approximation of it.",
		Sampler: func() stats.Sampler { return stats.DrawCount(dist.Binomial{N: s.n, P: s.null}, z) },
		At:      stats.CompareProportion(s.successes, s.n, s.null, stats.NoCorrection).Z,
		Step:    1 / (float64(s.n) * s.se),
	})
}

// resample offers a simulation of z: the labels are shuffled, which deals the successes
// anew to the two groups.
func (s *twoProportions) resample() {
	successes, n := s.first.successes+s.second.successes, s.first.n+s.second.n
	z := func(first int) float64 {
		return stats.CompareProportions(first, s.first.n, successes-first, s.second.n, s.continuity).Z
	}
	uncorrected := stats.CompareProportions(s.first.successes, s.first.n, s.second.successes, s.second.n, stats.NoCorrection)
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels “%s” and “%s” are shuffled among all %d cases, the %d successes fall to the groups as they will, and z is calculated anew.", s.first.name, s.second.name, n, successes),
		Assumes: "Shuffling keeps the number of successes as it is, as Fisher’s exact p-value does; the normal curve is an approximation.",
		Sampler: func() stats.Sampler {
			return stats.DrawCount(dist.Hypergeometric{Population: n, Successes: successes, Draws: s.first.n}, z)
		},
		At:   uncorrected.Z,
		Step: (1/float64(s.first.n) + 1/float64(s.second.n)) / uncorrected.SE,
	})
}

// resample offers a simulation of U, or of its z: the labels are shuffled among the ranks.
func (s *twoByRanks) resample() {
	n1 := len(s.first.values)
	least := float64(n1) * float64(n1+1) / 2
	s.resampleRanks(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels “%s” and “%s” are shuffled among the %d ranks, and U is calculated anew.", s.first.name, s.second.name, len(s.stats.Ranks)),
		Assumes: "The exact p-value counts every such shuffle; this draws some of them.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(s.stats.Ranks, []int{n1, len(s.second.values)}, func(groups [][]float64) float64 {
				return s.scaled(sum(groups[0]) - least)
			})
		},
	})
}

// resample offers a simulation of W, or of its z: the signs of the ranks are drawn.
func (s *signed) resample() {
	s.resampleRanks(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true each difference is as likely to lie on one side as on the other. So a coin is tossed for each of the %d ranks, and W is the sum of those that fall on heads.", len(s.stats.Ranks)),
		Assumes: "The exact p-value counts every such choice of signs; this draws some of them.",
		Sampler: func() stats.Sampler {
			return stats.FlipSigns(s.stats.Ranks, func(ranks []float64) float64 {
				w := 0.0
				for _, r := range ranks {
					w += math.Max(r, 0)
				}
				return s.scaled(w)
			})
		},
	})
}

// resampleRanks offers a simulation of a sum of ranks.
func (r *ranked) resampleRanks(resampling working.Resampling) {
	if r.exact == nil {
		resampling.Assumes = "Shuffling is exact but for chance; the normal curve is an approximation of it."
	}
	r.ResampleBy(resampling)
}

// scaled turns a rank statistic into the one that the test is made with.
func (r *ranked) scaled(statistic float64) float64 {
	if r.exact != nil {
		return statistic
	}
	return stats.RankZ(statistic, r.mean, r.sd, r.continuity)
}

func sum(xs []float64) float64 {
	total := 0.0
	for _, x := range xs {
		total += x
	}
	return total
}
