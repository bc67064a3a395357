package procedure

import (
	"cmp"
	"fmt"
	"math"
	"strconv"

	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// region returns the ends of the rejection region of a symmetric reference distribution;
// with one tail the other end is infinite.
func (l *location) region(reference dist.Distribution) (low, high float64) {
	switch l.p.Tail {
	case problem.Left:
		return reference.LowerQuantile(l.p.Alpha), math.Inf(1)
	case problem.Right:
		return math.Inf(-1), reference.UpperQuantile(l.p.Alpha)
	}
	high = reference.UpperQuantile(l.p.Alpha / 2)
	return -high, high
}

// stated is what is taken to be true at first: half a standard deviation, a
// medium effect, on the side of H₁.
func (l *location) stated(sd float64) float64 {
	distance := rounded(0.5*sd, 1)
	if l.p.Tail == problem.Left {
		distance = -distance
	}
	// As a decimal: 41 + 0.3 is 41.3.
	return stats.DecimalDifference(l.null, -distance)
}

// sideOf returns the sign of x.
func sideOf(x float64) int { return cmp.Compare(x, 0) }

// inUnit writes a number with the unit of the response.
func (l *location) inUnit(x float64) string {
	text := working.FormatShortest(x)
	if l.unit != "" {
		text += "\u00a0" + l.unit
	}
	return text
}

// spreadInput asks for a standard deviation, rounded to three digits to begin with.
func (l *location) spreadInput(id, label string, sd float64) working.PowerInput {
	return working.PowerInput{ID: id, Label: label, Unit: l.unit, Value: rounded(sd, 3), Above: new(0.0)}
}

// rounded returns x with that many significant digits.
func rounded(x float64, digits int) float64 {
	short, err := strconv.ParseFloat(strconv.FormatFloat(x, 'g', digits, 64), 64)
	if err != nil {
		return x // the largest of numbers rounds to none
	}
	return short
}

// plan offers the power of the test of one mean.
func (s *oneMean) plan() {
	spread, label := s.moments.SD, "Standard deviation"
	if s.known {
		spread, label = s.Value("sigma"), "Standard deviation, σ"
	}
	if s.pair != nil {
		label = "Standard deviation of the differences"
	}
	plan := working.Planning{
		Inputs: []working.PowerInput{{ID: "truth", Label: "True " + s.parameter, Unit: s.unit, Value: s.stated(spread)}, s.spreadInput("sd", label, spread)},
		N:      s.moments.N, Least: 2,
		Truth: func(truth []float64) string { return fmt.Sprintf("a true %s of %s", s.parameter, s.inUnit(truth[0])) },
		Side:  func(truth []float64) int { return sideOf(truth[0] - s.null) },
		Basis: "Calculated by the noncentral t distribution, for normal cases with the standard deviation that is stated; at first that of the sample.",
		Power: func(truth []float64, n int) float64 {
			df := float64(n - 1)
			low, high := s.region(dist.T{DF: df})
			return stats.PowerOfT(df, (truth[0]-s.null)/truth[1]*math.Sqrt(float64(n)), low, high)
		},
	}
	if s.known {
		plan.Least = 1
		plan.Basis = "Calculated by the normal distribution, with the standard deviation that is known."
		plan.Power = func(truth []float64, n int) float64 {
			low, high := s.region(dist.Normal{})
			return stats.PowerOfZ((truth[0]-s.null)/truth[1]*math.Sqrt(float64(n)), low, high)
		}
	}
	s.PlanBy(plan)
}

// plan offers the power of the test of the slope. The predictor spreads as in the sample.
func (s *straightLine) plan() {
	along := math.Sqrt(s.line.SXX / float64(s.line.N-1))
	residual := s.spreadInput("sd", "Spread about the line", s.line.ResidualSD)
	residual.Unit = s.response.Unit
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{{ID: "truth", Label: "True slope", Unit: s.unit, Value: s.stated(s.line.ResidualSD / along)}, residual},
		N:      s.line.N, Least: 3,
		Truth: func(truth []float64) string { return "a true slope of " + s.inUnit(truth[0]) },
		Side:  func(truth []float64) int { return sideOf(truth[0] - s.null) },
		Basis: "Calculated by the noncentral t distribution, for cases that lie normally about a line with the spread that is stated, at first that of the sample. The predictor spreads as it does in the sample.",
		Power: func(truth []float64, n int) float64 {
			df := float64(n - 2)
			low, high := s.region(dist.T{DF: df})
			return stats.PowerOfT(df, (truth[0]-s.null)/truth[1]*along*math.Sqrt(float64(n-1)), low, high)
		},
	})
}

// plan offers the power of the test of all predictors together.
func (s *severalPredictors) plan() {
	df1 := float64(s.fit.P)
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{{ID: "truth", Label: "True share explained, R²", Value: 0.13, Above: new(0.0), Below: new(1.0)}}, // a medium effect (Cohen, 9.2)
		N:      s.fit.N, Least: s.fit.P + 2,
		Truth: func(truth []float64) string {
			return "predictors that in truth explain " + working.FormatPercent(truth[0]) + "\u00a0% of the variation"
		},
		Side:  func([]float64) int { return 1 },
		Basis: "Calculated by the noncentral F distribution, for cases that lie normally about the fit with one spread, and the present predictors (Cohen, Statistical Power Analysis, 2nd ed., 9.3).",
		Power: func(truth []float64, n int) float64 {
			df2 := float64(n) - df1 - 1
			return stats.PowerOfF(df1, df2, float64(n)*truth[0]/(1-truth[0]), dist.F{DF1: df1, DF2: df2}.UpperQuantile(s.p.Alpha))
		},
	})
}

// shared shares n cases between two groups as the present ones are shared, with at least
// least for each.
func shared(n, n1, n2, least int) (first, second int) {
	first = int(math.Round(float64(n) * float64(n1) / float64(n1+n2)))
	first = min(max(first, least), n-least)
	return first, n - first
}

// sharedWords names how cases are shared between two groups.
func sharedWords(n1, n2, least int) func(n int) string {
	return func(n int) string {
		first, second := shared(n, n1, n2, least)
		return fmt.Sprintf("%d and %d", first, second)
	}
}

// plan offers the power of the test of two means.
func (s *twoSample) plan() {
	n1, n2 := s.first.moments.N, s.second.moments.N
	typical := math.Hypot(s.first.moments.SD, s.second.moments.SD) / math.Sqrt2
	inputs := []working.PowerInput{{ID: "truth", Label: "True difference, " + s.minus(), Unit: s.unit, Value: s.stated(typical)}}
	basis := "Calculated by the noncentral t distribution, for normal cases with the standard deviations that are stated, at first those of the samples. With variances kept apart it is an approximation, as the test itself is. The groups keep their shares of the cases."
	if s.pooled {
		inputs = append(inputs, s.spreadInput("sd", "Standard deviation in both groups", s.stats.PooledSD))
		basis = "Calculated by the noncentral t distribution, for normal cases with one standard deviation, at first the pooled one. The groups keep their shares of the cases."
	} else {
		for i, g := range []*group{s.first, s.second} {
			sd := g.moments.SD
			if sd == 0 {
				sd = typical
			}
			inputs = append(inputs, s.spreadInput(fmt.Sprintf("sd_%d", i+1), "Standard deviation, "+g.name, sd))
		}
	}
	s.PlanBy(working.Planning{
		Inputs: inputs, N: n1 + n2, Least: 4, Basis: basis, Sizes: sharedWords(n1, n2, 2),
		Truth: func(truth []float64) string { return "a true difference of " + s.inUnit(truth[0]) },
		Side:  func(truth []float64) int { return sideOf(truth[0] - s.null) },
		Power: func(truth []float64, n int) float64 {
			first, second := shared(n, n1, n2, 2)
			// Samples that show just what is true have the standard error of the test.
			at := stats.CompareMeans(stats.SummaryMoments(first, truth[0], truth[1]), stats.SummaryMoments(second, 0, truth[len(truth)-1]), s.null, s.pooled)
			low, high := s.region(dist.T{DF: at.DF})
			return stats.PowerOfT(at.DF, at.T, low, high)
		},
	})
}

// beside returns a proportion that differs from p by a tenth, on the side of H₁ where
// there is room.
func (l *location) beside(p float64) float64 {
	step := 0.1
	if l.p.Tail == problem.Left || l.p.Tail == problem.Both && p > 0.85 {
		step = -step
	}
	for p+step <= min(0.005, p/2) || p+step >= max(0.995, (1+p)/2) {
		step /= 2
	}
	return stats.DecimalDifference(p, -step)
}

// proportionInput asks for a proportion.
func proportionInput(id, label string, p float64) working.PowerInput {
	return working.PowerInput{ID: id, Label: label, Value: p, Above: new(0.0), Below: new(1.0)}
}

// plan offers the power of the test of one proportion.
func (s *oneProportion) plan() {
	low, high := s.region(dist.Normal{})
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{proportionInput("truth", "True proportion", s.beside(s.null))},
		N:      s.n, Least: 1, Stepped: true,
		Truth: func(truth []float64) string { return "a true proportion of " + working.FormatShortest(truth[0]) },
		Side:  func(truth []float64) int { return sideOf(truth[0] - s.null) },
		Basis: "Calculated exactly, from the binomial probabilities of all counts whose z lies in the rejection region. Counts go in steps, and so the curve is a saw; the number of cases named is that from which it stays above.",
		Power: func(truth []float64, n int) float64 {
			return stats.PowerOfProportion(n, s.null, truth[0], s.continuity, low, high)
		},
	})
}

// plan offers the power of the test of two proportions.
func (s *twoProportions) plan() {
	low, high := s.region(dist.Normal{})
	second := math.Min(0.95, math.Max(0.05, math.Round(100*s.stats.Second)/100))
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{
			proportionInput("truth_1", "True proportion, "+s.first.name, s.beside(second)),
			proportionInput("truth_2", "True proportion, "+s.second.name, second),
		},
		N: s.first.n + s.second.n, Least: 2, Stepped: true, Sizes: sharedWords(s.first.n, s.second.n, 1),
		Truth: func(truth []float64) string {
			return fmt.Sprintf("true proportions of %s and %s", working.FormatShortest(truth[0]), working.FormatShortest(truth[1]))
		},
		Side:  func(truth []float64) int { return sideOf(truth[0] - truth[1]) },
		Basis: "Calculated exactly, from the binomial probabilities of all pairs of counts whose z lies in the rejection region. Counts go in steps, and so the curve is a saw; the number of cases named is that from which it stays above. The groups keep their shares of the cases.",
		Power: func(truth []float64, n int) float64 {
			first, second := shared(n, s.first.n, s.second.n, 1)
			return stats.PowerOfProportions(first, second, truth[0], truth[1], s.continuity, low, high)
		},
	})
}
