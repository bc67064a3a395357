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
	"grund/internal/words"
	"grund/internal/working"
)

type twoSampleOptions struct {
	variances  string
	difference float64
	groups     []string
}

// TTwoSample compares the means of two independent groups by Student's t with pooled variances,
// or by Welch's form of it with variances kept apart.
var TTwoSample = describe.New(describe.Description{
	ID:         "t-two-sample",
	Family:     describe.AboutMeans,
	Title:      "Two means, independent groups",
	Asks:       "Do two groups have the same mean?",
	AlsoCalled: []string{"independent-samples t-test", "two-sample t-test", "Student's t-test", "Welch's t-test", "unpaired t-test"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesSummary},
	Roles:      []describe.Role{cases.ResponseRole, cases.TwoGroupsRole},
	Tails:      true,
	Compared:   "the mean of the first group less that of the second",
}, func(o *twoSampleOptions) []describe.Option {
	return []describe.Option{
		describe.OneOf(&o.variances, "unequal", describe.Option{
			ID: "variances", Label: "Variances", Live: true, Key: "v",
			Says: "Whether the two groups are taken to spread alike. Kept apart is safe in either case; pooled gains a little when they do.",
			Choices: []describe.Choice{
				{Value: "unequal", Label: "kept apart", Says: "each group's variance stands for itself (Welch)"},
				{Value: "equal", Label: "pooled", Says: "both groups estimate one common variance (Student)"},
			},
		}),
		describe.Number(&o.difference, 0, describe.Option{
			ID: "difference", Label: "Difference under H₀", Says: "The difference of the means, first − second, that H₀ states.",
		}),
		cases.GroupsOption(&o.groups, "Which two groups are compared, the first minus the second."),
	}
}, readTwoSample, fitsTwoSample)

// fitsTwoSample says what is compared, and that two of several groups can be picked.
func fitsTwoSample(assigned describe.Assigned) (why string, ok bool) {
	response, factor := assigned["response"][0], assigned["group"][0]
	name := words.InSentence(factor.Title())
	if levels := cases.Used(factor); levels > 2 {
		return fmt.Sprintf("%s is a number, and %s has %d levels: two of them can be picked and their means compared.",
			response.Title(), name, levels), true
	}
	return fmt.Sprintf("%s is a number, and %s parts the cases into two independent groups: their means are compared.", response.Title(),
		name), true
}

// twoSample is a problem about two means.
type twoSample struct {
	twoGroups
	variances string
	pooled    bool
	stats     stats.TwoMeans
}

func readTwoSample(p *problem.Problem, d *describe.Description, o *twoSampleOptions) (describe.Task, error) {
	groups, err := readTwoGroups(p, d, o.groups)
	if err != nil {
		return nil, err
	}
	s := &twoSample{twoGroups: groups, variances: o.variances, pooled: o.variances == "equal"}
	s.stats = stats.CompareMeans(s.first.Moments, s.second.Moments, o.difference, s.pooled)
	if math.IsInf(s.stats.T, 0) || math.IsNaN(s.stats.T) || math.IsInf(s.stats.Difference, 0) {
		return nil, cases.TooFarApart()
	}
	s.ID, s.Parameter, s.Subject, s.Named = "difference", "difference", s.minus(), "the difference "+s.minus()
	s.Option, s.Null, s.Family = "difference", o.difference, write.T
	s.Observed, s.SE, s.SEID, s.Side = s.stats.Difference, s.stats.SE, "se", write.SideOf(s.stats.T)
	s.Direction = s.direction()
	return s, nil
}

// mean names the mean of the response in a sentence: "mean loading time".
func (s *twoSample) mean() string { return "mean " + s.response() }

// direction returns what the hypotheses say.
func (s *twoSample) direction() write.Direction {
	first, second := s.first.Letter, s.second.Letter
	d := write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.first.Name, s.second.Name}, By: "difference"},
		Null: write.Fill(problem.Sides[string]{
			Both: "%s is the same for %s and %s", Less: "%s is not lower for %s than for %s", Greater: "%s is not higher for %s than for %s",
		}, s.mean(), s.first.Name, s.second.Name),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "%s differs between %s and %s", Less: "%s is lower for %s than for %s", Greater: "%s is higher for %s than for %s",
		}, s.mean(), s.first.Name, s.second.Name),
		Extreme: problem.Sides[string]{
			Both:    "a difference between the sample means at least this many standard errors from " + s.Hypothesised() + ", in either direction,",
			Less:    "a difference between the sample means as low as this one or lower, in standard errors,",
			Greater: "a difference between the sample means as high as this one or higher, in standard errors,",
		},
		Plain: write.Compared{Left: "μ_" + first, Right: "μ_" + second}, Control: write.Compared{Left: first, Right: second},
	}
	var plain write.Compared
	d.TeX, plain = write.Beside(fmt.Sprintf(`\mu_{%s}-\mu_{%s}`, first, second), fmt.Sprintf("μ_%s − μ_%s", first, second), s.Null)
	if s.Null != 0 {
		d.Plain = plain
		said := []any{s.mean(), s.minus(), s.Hypothesised()}
		d.Null = write.Fill(problem.Sides[string]{
			Both: "the difference in %s, %s, is %s", Less: "the difference in %s, %s, is at least %s",
			Greater: "the difference in %s, %s, is at most %s",
		}, said...)
		d.Alternative = write.Fill(problem.Sides[string]{
			Both: "the difference in %s, %s, is not %s", Less: "the difference in %s, %s, is less than %s",
			Greater: "the difference in %s, %s, is greater than %s",
		}, said...)
	}
	return d
}

// nullPredicate says what H₀ says, after "it".
func (s *twoSample) nullPredicate() string {
	if s.Null != 0 {
		return problem.Sides[string]{Both: "is ", Less: "is at least ", Greater: "is at most "}.Of(s.P.Tail) + s.Hypothesised()
	}
	return problem.Sides[string]{Both: "is the same", Less: "is not lower", Greater: "is not higher"}.Of(s.P.Tail)
}

// Work writes the solution.
func (s *twoSample) Work(context.Context) (*working.Working, error) {
	test := "two-sample t test, variances not assumed equal"
	if s.variances == "equal" {
		test = "two-sample t test, variances assumed equal"
	}
	s.begin(test, s.SE, " − ", "Turns the direction of every difference round; one tail keeps its side.")
	s.Brief(working.Textf("Compare **%s** between **%s** and **%s**", s.response(), s.first.Name, s.second.Name))
	s.LiveOption(s.d, "variances", s.variances)
	s.QuestionStep(working.Say("The question is about two means of *%s*: that of **%s** and that of **%s**. Throughout, a difference is %s.",
		s.response(), s.first.Name, s.second.Name, s.minus()))
	s.measure()
	s.Define(working.Quantity{
		ID: "difference", Symbol: fmt.Sprintf(`\bar{x}_{%s}-\bar{x}_{%s}`, s.first.Letter, s.second.Letter),
		Label: "Difference of the means, " + s.minus(), Unit: s.Unit,
		Says: "What the samples say about the difference of the two population means.",
	}, working.Measure, s.stats.Difference, formula.Subtract(formula.Ref("mean_1"), formula.Ref("mean_2")))
	s.look()
	s.hypotheses()
	steps := s.standardError() // before the conditions are written, so that they may name its numbers
	s.test()
	s.conditions()
	s.statistic(steps)
	s.CriticalValueStep(s.degrees()...)
	s.PValueStep()
	s.Decide()
	s.conclude()
	s.followUp()
	return s.Working, nil
}

func (s *twoSample) look() {
	reading := working.Note("%s", s.GroupsFigure(s.data, s.decimals))
	s.Step(working.Look, working.Textf("@{mean_1}, @{mean_2}%s", words.WithUnit("", s.Unit)),
		working.FigureBlock{Figure: "look"},
		working.Say("The sample means are @{mean_1} (%s) and @{mean_2} (%s). Whether that is more than chance would bring is what the test "+
			"is for.",
			s.first.Name, s.second.Name),
		reading)
}

func (s *twoSample) hypotheses() {
	s.DefineNull(fmt.Sprintf(`(\mu_{%s}-\mu_{%s})_0`, s.first.Letter, s.second.Letter), "Difference under H₀",
		"The difference of the population means that H₀ states.")
	s.HypothesesStep(s.TailReasons(s.BothWays("which mean should be the larger"), "a difference "+s.minus())...)
}

// share is what a group brings to the squared standard error where variances are kept apart.
func share(i int) formula.Expr {
	return formula.Quotient{Over: formula.Square(indexed("sd", i)), Under: indexed("n", i)}
}

// standardError defines the standard error and the degrees of freedom, and returns what the step
// on the statistic says of them.
func (s *twoSample) standardError() []working.Block {
	n1, n2 := formula.Ref("n_1"), formula.Ref("n_2")
	oneLess := func(i int) formula.Expr { return formula.Subtract(indexed("n", i), formula.Num(1)) }
	se := working.Quantity{
		ID: "se", Symbol: fmt.Sprintf(`s_{\bar{x}_{%s}-\bar{x}_{%s}}`, s.first.Letter, s.second.Letter),
		Label: "Standard error of the difference", Unit: s.Unit,
		Says: "How far the difference of two such sample means typically lies from the difference of the population means.",
	}
	df := working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom"}
	if !s.pooled {
		s.Define(se, working.Measure, s.SE, formula.Root{X: formula.Sum{share(1), share(2)}})
		df.Says = "An approximation (Welch): a number, whole or not, between the smaller group's n − 1 and n₁ + n₂ − 2. " +
			"The more one group dominates the standard error, the closer it comes to that group's n − 1."
		squared := func(i int) formula.Expr { return formula.Quotient{Over: formula.Square(share(i)), Under: oneLess(i)} }
		s.Define(df, working.Degrees, s.stats.DF, formula.Quotient{
			Over: formula.Square(formula.Sum{share(1), share(2)}), Under: formula.Sum{squared(1), squared(2)},
		})
		return []working.Block{
			working.Say("The variances are **kept apart**: each mean brings its own uncertainty, $s$²/$n$, and the two add up."),
		}
	}
	s.Define(working.Quantity{
		ID: "pooled_sd", Symbol: "s_p", Label: "Pooled standard deviation", Unit: s.Unit,
		Says: "One common standard deviation, estimated from both groups; each group counts by its n − 1.",
	}, working.Measure, s.stats.PooledSD, formula.Root{X: formula.Quotient{
		Over: formula.Sum{
			formula.Product{oneLess(1), formula.Square(formula.Ref("sd_1"))}, formula.Product{oneLess(2), formula.Square(formula.Ref("sd_2"))},
		},
		Under: formula.Sum{n1, n2, formula.Minus{X: formula.Num(2)}},
	}})
	inverse := func(n formula.Ref) formula.Expr { return formula.Quotient{Over: formula.Num(1), Under: n} }
	s.Define(se, working.Measure, s.SE, formula.Product{formula.Ref("pooled_sd"), formula.Root{X: formula.Sum{inverse(n1), inverse(n2)}}})
	df.Says = "Every case gives one degree of freedom, and each of the two means that were estimated takes one away."
	s.Define(df, working.Degrees, s.stats.DF, formula.Sum{n1, n2, formula.Minus{X: formula.Num(2)}})
	return []working.Block{
		working.Say("The variances are **pooled**: both groups together estimate one common standard deviation."),
		working.FormulaBlock{Quantity: "pooled_sd"},
	}
}

func (s *twoSample) test() {
	over := formula.Sum(formula.Subtract(formula.Ref("mean_1"), formula.Ref("mean_2")))
	if s.Null != 0 {
		over = formula.Subtract(formula.Ref("mean_1"), formula.Ref("mean_2"), formula.Ref("difference_0"))
	}
	s.Define(working.Quantity{
		ID: "t", Symbol: "t", Label: "Test statistic", Says: "How many standard errors the observed difference lies from the difference " +
			"that H₀ states.",
	}, working.Ratio, s.stats.T, formula.Quotient{Over: over, Under: formula.Ref("se")})
	s.Test(working.Test{
		Statistic: "t", Symbol: "t", Degrees: []working.Ref{"df"}, Family: s.Family,
		Name: "t, " + s.DegreesWords("df"), Extreme: s.Direction.Extreme.Of(s.P.Tail),
	})
	s.resample()
}

func (s *twoSample) statistic(steps []working.Block) {
	steps = append(steps,
		working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "t"}, s.Distance("t", stats.NoCorrection),
		working.Note("It is $t$ and not $z$, because the standard deviations were estimated from the samples; $z$ belongs where the "+
			"population's are known."))
	s.Step(working.Statistic, working.Textf("t = @{t}"), steps...)
}

// degrees explains the degrees of freedom and where a printed table shows the critical value.
func (s *twoSample) degrees() []working.Block {
	says := working.Say("Degrees of freedom: with variances kept apart they are estimated too, and need not be whole.")
	if s.pooled {
		says = working.Say("Degrees of freedom: all @{n_1} + @{n_2} cases, less one for each of the two means estimated.")
	}
	return append([]working.Block{working.FormulaBlock{Quantity: "df"}, says}, s.Printed()...)
}

func (s *twoSample) conclude() {
	s.Interval()
	standardizer := formula.Expr(formula.Ref("pooled_sd"))
	if !s.pooled {
		standardizer = formula.Root{X: formula.Quotient{
			Over:  formula.Sum{formula.Square(formula.Ref("sd_1")), formula.Square(formula.Ref("sd_2"))},
			Under: formula.Num(2),
		}}
	}
	s.Define(working.Quantity{
		ID: "cohen_d", Symbol: "d", Label: "Standardized difference (Cohen’s d)",
		Says: "The difference in standard deviations: a size that does not depend on the unit or on the number of cases.",
	}, working.Share, s.stats.CohenD, formula.Quotient{Over: formula.Ref("difference"), Under: standardizer})
	s.ConclusionStep(write.Conclusion{
		Used: s.data.Used(), Shows: s.FoundWords(), NotEvidence: "that it " + s.nullPredicate(),
		More: working.Textf(" The estimated difference, %s, is @{difference} (%s\u00a0%% interval: %s).",
			s.minus(), s.LevelWords(), s.IntervalWords()),
		Warnings: []working.Block{s.Important("a difference", s.data.Response.Label)},
	})
	s.ReportStep(s.report(), "Means and standard deviations first, then the statistic with its degrees of freedom, p, the interval and "+
		"the size of the effect.")
}

func (s *twoSample) report() working.Text {
	return working.Textf("%s for %s (*M* = @{mean_1}, *SD* = @{sd_1}, *n* = @{n_1}) and %s (*M* = @{mean_2}, *SD* = @{sd_2}, *n* = "+
		"@{n_2}) %s, *t*(@{df}) = @{t}, *p* %s@{p}, %s; difference @{difference}, %s\u00a0%% CI [%s], *d* = @{cohen_d}.",
		words.UpperFirst(s.mean()), s.first.Name, s.second.Name, s.significant(), s.Relation("p"), s.Direction.Tails(), s.LevelWords(),
		s.Reported(math.Inf(-1), math.Inf(1)))
}

// significant says in a report what became of the difference.
func (s *twoSample) significant() string {
	than := s.Direction.Than()
	switch {
	case s.Null != 0 && s.Rejected():
		return fmt.Sprintf("had a difference significantly %s %s", than, s.Hypothesised())
	case s.Null != 0:
		return fmt.Sprintf("did not have a difference significantly %s %s", than, s.Hypothesised())
	case s.Rejected() && !s.Direction.Directed():
		return "differed significantly"
	case !s.Direction.Directed():
		return "did not differ significantly"
	case s.Rejected():
		return fmt.Sprintf("differed, the first being significantly %s the second", than)
	}
	return fmt.Sprintf("were compared, the first not being significantly %s the second", than)
}

func (s *twoSample) followUp() {
	s.IntervalFigure(nil)
	blocks := append(s.IntervalBlocks(),
		working.Say("**How large is it?** The difference is @{cohen_d} standard deviations: %s by the usual rule of thumb (0.2 "+
			"small, 0.5 medium, 0.8 large).", write.SizeWords(s.stats.CohenD)),
		working.FormulaBlock{Quantity: "cohen_d"},
		working.Note("Two intervals, one for each mean, may overlap although the means differ significantly. "+
			"Compare the difference with its own interval, as here."))
	s.Step(working.FollowUp, working.Textf("d = @{cohen_d}"), append(blocks, s.KeepResiduals(s.data)...)...)
	s.plan()
}
