package means

import (
	"context"
	"fmt"
	"math"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

type ratioOptions struct{ groups []string }

// VarianceRatio compares the variances of two independent groups by the F distribution of their
// ratio.
var VarianceRatio = describe.New(describe.Description{
	ID:         "variance-ratio",
	Family:     describe.AboutSpread,
	Title:      "Two variances",
	Asks:       "Do two groups spread alike?",
	AlsoCalled: []string{"F-test for two variances", "Fisher's F-test", "variance ratio test"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesSummary},
	Roles:      []describe.Role{cases.ResponseRole, cases.TwoGroupsRole},
	Tails:      true,
	Compared:   "the variance of the first group over that of the second",
}, func(o *ratioOptions) []describe.Option {
	return []describe.Option{cases.GroupsOption(&o.groups, "Which two groups are compared, and which comes first.")}
}, readVarianceRatio, cases.FitsGroups("how far two of them spread is compared"))

// varianceRatio is a problem about the variances of two groups.
type varianceRatio struct {
	twoGroups
	stats stats.VarianceRatio
}

func readVarianceRatio(p *problem.Problem, d *describe.Description, o *ratioOptions) (describe.Task, error) {
	groups, err := readTwoGroups(p, d, o.groups)
	if err != nil {
		return nil, err
	}
	s := &varianceRatio{twoGroups: groups}
	for _, g := range []*cases.Group{s.first, s.second} {
		if g.Moments.SD == 0 {
			return nil, problem.Errors{{
				Pointer: s.data.Pointer(g), Instead: "check the data",
				Says: fmt.Sprintf("“%s” has no spread: all its values are equal, and a ratio needs both variances above 0", words.Shorten(g.Name)),
			}}
		}
	}
	s.stats = stats.CompareVariances(s.first.Moments, s.second.Moments)
	if math.IsInf(s.stats.F, 0) || s.stats.F == 0 {
		return nil, problem.Errors{{Pointer: "/data", Says: "the spreads are too far apart in size to calculate with", Instead: "check the data"}}
	}
	s.ID, s.Parameter, s.Null, s.Observed, s.Unit = "f", "ratio", 1, s.stats.F, ""
	s.Family, s.Side = write.F("df_1", "df_2"), write.SideOf(s.stats.F-1)
	s.Subject = fmt.Sprintf("variance %s / variance %s", s.first.Name, s.second.Name)
	s.Direction = s.direction()
	return s, nil
}

// direction returns what the hypotheses say.
func (s *varianceRatio) direction() write.Direction {
	first, second := s.first.Letter, s.second.Letter
	return write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.first.Name, s.second.Name}, By: "f"},
		Null: write.Fill(problem.Sides[string]{
			Both: "the variance of %s is the same for %s and %s", Less: "%s does not vary less for %s than for %s",
			Greater: "%s does not vary more for %s than for %s",
		}, s.response(), s.first.Name, s.second.Name),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "the variance of %s differs between %s and %s", Less: "%s varies less for %s than for %s",
			Greater: "%s varies more for %s than for %s",
		}, s.response(), s.first.Name, s.second.Name),
		Extreme: problem.Sides[string]{
			Both: "a ratio at least this far from 1, to either side,", Less: "a ratio as small as this one or smaller",
			Greater: "a ratio as large as this one or larger",
		},
		TeX:     write.Compared{Left: fmt.Sprintf(`\sigma^{2}_{%s}/\sigma^{2}_{%s}`, first, second), Right: "1"},
		Plain:   write.Compared{Left: "σ²_" + first, Right: "σ²_" + second},
		Control: write.Compared{Left: first, Right: second},
	}
}

// Work writes the solution.
func (s *varianceRatio) Work(context.Context) (*working.Working, error) {
	s.begin("F test of two variances", math.Min(s.first.Moments.SD, s.second.Moments.SD)/10, " / ",
		"Turns the ratio over; one tail keeps its side.")
	s.Brief(working.Textf("Compare the spread of **%s** between **%s** and **%s**", s.response(), s.first.Name, s.second.Name))
	s.QuestionStep(working.Say("The question is about two variances of *%s*: how far the cases of **%s** and those of **%s** spread. "+
		"They are compared as a ratio, the first over the second.", s.response(), s.first.Name, s.second.Name))
	s.ofVariances = true
	s.measure()
	s.look()
	s.DefineNull(`(\sigma^2_1/\sigma^2_2)_0`, "Ratio under H₀", "Equal variances have the ratio 1.")
	s.HypothesesStep(s.TailReasons(s.BothWays("which group should spread more"), "a ratio")...)
	s.test()
	s.conditions()
	s.statistic()
	s.PValueStep()
	s.Decide()
	s.interval()
	s.conclude()
	s.followUp()
	return s.Working, nil
}

func (s *varianceRatio) look() {
	reading := working.Note("%s", s.GroupsFigure(s.data, s.decimals))
	s.Step(working.Look, working.Textf("s: @{sd_1}, @{sd_2}%s", words.WithUnit("", s.data.Response.Unit)),
		working.FigureBlock{Figure: "look"},
		working.Say("The standard deviations are @{sd_1} (%s) and @{sd_2} (%s). Whether they differ by more than chance would "+
			"bring is what the test is for.", s.first.Name, s.second.Name),
		reading)
}

func (s *varianceRatio) test() {
	s.each(working.Quantity{
		ID: "variance", Symbol: "s^{2}", Label: "Variance", Unit: write.Squared(s.data.Response.Unit),
		Says: "The square of the standard deviation.",
	}, working.Measure, func(g *cases.Group) float64 { return g.Moments.SD * g.Moments.SD },
		func(i int, _ *cases.Group) formula.Expr { return formula.Square(indexed("sd", i)) })
	s.each(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "One for each case, less one for the mean of the group.",
	}, working.Degrees, func(g *cases.Group) float64 { return float64(g.Moments.N - 1) },
		func(i int, _ *cases.Group) formula.Expr { return formula.Subtract(indexed("n", i), formula.Num(1)) })
	s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times the second variance goes into the first."},
		working.Ratio, s.stats.F, formula.Quotient{Over: formula.Ref("variance_1"), Under: formula.Ref("variance_2")})
	s.Test(working.Test{
		Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_1", "df_2"}, Family: s.Family, Positive: true,
		Name: "F, " + s.DegreesWords("df_1", "df_2"), Extreme: s.Direction.Extreme.Of(s.P.Tail),
	})
	s.resample()
}

// resample offers a simulation of F: the deviations from the centre of each group are shuffled
// or, where only a summary is given, samples are drawn.
func (s *varianceRatio) resample() {
	sizes := s.data.Sizes()
	statistic := func(groups [][]float64) float64 {
		return stats.CompareVariances(stats.NewMoments(groups[0]), stats.NewMoments(groups[1])).F
	}
	if s.data.Summary {
		s.ResampleBy(working.Resampling{
			How: fmt.Sprintf("Two samples of %d and %d cases are drawn from normal populations of one standard deviation, and F is calculated "+
				"for them.",
				sizes[0], sizes[1]),
			Assumes: "The curve takes the same for granted: normal populations.",
			Sampler: func() stats.Sampler { return stats.DrawNormal(sizes, []float64{1, 1}, statistic) },
		})
		return
	}
	var distances []float64
	for _, g := range s.data.Each {
		for _, x := range g.Values {
			distances = append(distances, x-g.Moments.Mean)
		}
	}
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true it makes no difference which case bears which label, once each is measured from its group’s mean. "+
			"So the labels “%s” and “%s” are shuffled among these %d distances, and F is calculated anew.", s.first.Name, s.second.Name,
			len(distances)),
		Assumes: "Shuffling needs no normal shape, which the curve does need: where the groups are not normal the two may part.",
		Sampler: func() stats.Sampler { return stats.ShuffleLabels(distances, sizes, statistic) },
	})
}

// conditions judges what the test takes for granted and writes the step.
func (s *varianceRatio) conditions() {
	s.TakenAsMet(write.InGroup)
	if !s.data.Summary {
		s.Instead = []working.Action{write.By("variance-spread", "Compare by deviations",
			"Works the same problem with the distances from the medians, which stand other shapes better, beside this one. That test has no "+
				"direction.")}
	}
	s.shape()
	s.conditionsOf([]string{"independence", "normality"},
		working.Warn("This test depends on the normal shape far more than a test of means does, and more cases do not help: "+
			"a long tail looks like a large variance."))
}

// shape judges whether each group may be normal, which the ratio of two variances takes for
// granted whatever the number of cases.
func (s *varianceRatio) shape() {
	if s.data.Summary {
		s.UnseenShape(working.Doubtful, "Cannot be seen from a summary. The cases of both groups must themselves be normal, however many "+
			"there are.")
		return
	}
	s.skewness()
	found := write.LookAtShape(s.data.Spreads())
	w := found.Says("these cases")
	switch {
	case found.Without != nil:
		s.UnseenShape(working.Doubtful, "%s: too few cases of %s show a shape, and both groups must themselves be normal.", w,
			found.Without[0].Name)
	case found.Shape.Rejected:
		s.UnseenShape(working.NotMet, "%s. A ratio of variances needs normal cases, however many there are.", w)
	default:
		s.Condition("normality", working.Met, working.Textf("%s.%s", w, found.FewWords()))
	}
}

// statistic writes the steps on the statistic and on its critical value.
func (s *varianceRatio) statistic() {
	s.Step(working.Statistic, working.Textf("F = @{f}"),
		working.FormulaBlock{Quantity: "variance_1"}, working.FormulaBlock{Quantity: "variance_2"}, working.FormulaBlock{Quantity: "f"},
		working.Say("The variance of %s is @{f} times that of %s. If the populations spread alike, the ratio lies near 1.",
			s.first.Name, s.second.Name))
	above, below := s.stats.DF1, s.stats.DF2
	if !s.Direction.Above() {
		above, below = below, above
	}
	s.CriticalValueStep(append([]working.Block{
		working.Say("Degrees of freedom: @{df_1} above the line and @{df_2} below it, a case less than each group has."),
		working.Note("A printed F table has the degrees of freedom above the line in its columns and those below it in its rows. " +
			"Tables show upper critical values only: the lower one is 1 over the upper one with the degrees of freedom exchanged."),
	}, s.PrintedF(s.Direction.TailArea(s.P.Alpha), above, below)...)...)
}

// interval defines the interval for the ratio of the variances: F over the upper and over the
// lower quantile.
func (s *varianceRatio) interval() {
	outside, area := s.Level(s.LevelSays())
	f := dist.F{DF1: s.stats.DF1, DF2: s.stats.DF2}
	end := func(lower bool) formula.Expr {
		return formula.Quotient{Over: formula.Ref("f"), Under: formula.Quantile{Of: s.Family, Area: outside, Lower: lower}}
	}
	s.Ends(working.Share, write.Interval{
		Low: s.stats.F / f.UpperQuantile(area), High: s.stats.F / f.LowerQuantile(area), LowExpr: end(false), HighExpr: end(true),
	})
}

func (s *varianceRatio) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.data.Used(),
		More: working.Textf(" The estimated ratio of the variances, %s over %s, is @{f} (%s\u00a0%% interval: %s).",
			s.first.Name, s.second.Name, s.LevelWords(), s.IntervalWords()),
	})
	was := "was not"
	if s.Rejected() {
		was = "was"
	}
	s.ReportStep(working.Textf("The variance of %s for %s (*SD* = @{sd_1}, *n* = @{n_1}) %s significantly %s that for %s (*SD* = "+
		"@{sd_2}, *n* = @{n_2}), *F*(@{df_1}, @{df_2}) = @{f}, *p* %s@{p}, %s; %s\u00a0%% CI of the ratio [%s].",
		s.response(), s.first.Name, was, s.Direction.Than(), s.second.Name, s.Relation("p"), s.Direction.Tails(), s.LevelWords(),
		s.Reported(0, math.Inf(1))),
		"Both standard deviations first, then F with its degrees of freedom, p and the interval for the ratio.")
}

func (s *varianceRatio) followUp() {
	s.ratioFigure()
	s.Step(working.FollowUp, nil, append(s.IntervalBlocks(), working.Say("A ratio of 1 means equal variances. "+
		"A ratio of 4 means that the first group's standard deviation is twice the second's: standard deviations are compared by the "+
		"square root."))...)
}

func (s *varianceRatio) ratioFigure() {
	low, high := s.Value("ci_low"), s.Value("ci_high")
	f := &working.Figure{
		ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for the ratio %s", s.LevelWords(), s.Subject), Reads: s.IntervalWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for the ratio %s: %s; the observed ratio is %s, H₀ states 1.",
			s.LevelWords(), s.Subject, s.IntervalWords(), s.Show("f")),
		Axis: working.Axis{Label: s.Subject},
		Marks: []working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, s.stats.F, high),
				Refs: []working.Ref{"ci_low", "f", "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(1), Refs: []working.Ref{"f_0"}},
		},
	}
	axisLow, axisHigh := working.Padded(0.12, low, high, s.stats.F, 1)
	f.Axis.Min, f.Axis.Max = working.Number(axisLow), working.Number(axisHigh)
	s.Figure(f)
}
