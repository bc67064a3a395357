package procedure

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// tTwoSample compares the means of two independent groups by Student's t with
// pooled variances, or by Welch's form of it with variances kept apart.
var tTwoSample = &Procedure{
	Description: Description{
		ID:         "t-two-sample",
		Title:      "Two means, independent groups",
		Asks:       "Do two groups have the same mean?",
		AlsoCalled: []string{"independent-samples t-test", "two-sample t-test", "Student's t-test", "Welch's t-test", "unpaired t-test"},
		Takes:      []Takes{TakesVariables, TakesSummary},
		Roles:      twoGroupRoles,
		Options: []Option{
			{ID: "variances", Label: "Variances", Type: ChoiceOption, Default: "unequal", Live: true, Key: "v",
				Says: "Whether the two groups are taken to spread alike. Kept apart is safe in either case; pooled gains a little when they do.",
				Choices: []Choice{
					{Value: "unequal", Label: "kept apart", Says: "each group's variance stands for itself (Welch)"},
					{Value: "equal", Label: "pooled", Says: "both groups estimate one common variance (Student)"},
				}},
			{ID: "difference", Label: "Difference under H₀", Type: NumberOption, Default: 0.0,
				Says: "The difference of the means, first − second, that H₀ states."},
			{ID: "groups", Label: "Order of the groups", Type: LevelsOption, Length: 2,
				Says: "Which two groups are compared, the first minus the second."},
		},
		Tails:    true,
		Compared: "the mean of the first group less that of the second",
	},
	Work: workTTwoSample,
	Fits: fitsTwoSample,
}

// fitsTwoSample says what is compared, and that two of several groups can be picked.
func fitsTwoSample(assigned map[string][]*data.Variable) (why string, ok bool) {
	response, factor := assigned["response"][0], assigned["group"][0]
	levels := used(factor)
	if levels > 2 {
		return fmt.Sprintf("%s is a number, and %s has %d levels: two of them can be picked and their means compared.", response.Title(), inSentence(factor.Title()), levels), true
	}
	return fmt.Sprintf("%s is a number, and %s parts the cases into two independent groups: their means are compared.", response.Title(), inSentence(factor.Title())), true
}

// maxDecimals is the most with which single values are shown.
const maxDecimals = 6

// twoSample is the problem while it is worked.
type twoSample struct {
	twoGroups
	pooled bool
	stats  stats.TwoMeans
}

func workTTwoSample(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	groups, err := readTwoGroups(p, options)
	if err != nil {
		return nil, err
	}
	s := &twoSample{twoGroups: groups, pooled: options["variances"] == "equal"}
	s.estimate, s.parameter, s.subject, s.named = "difference", "difference", s.minus(), "the difference "+s.minus()
	s.option, s.null, s.family = "difference", options["difference"].(float64), tFamily
	s.stats = stats.CompareMeans(s.first.moments, s.second.moments, s.null, s.pooled)
	s.value, s.se = s.stats.Difference, s.stats.SE
	if math.IsInf(s.stats.T, 0) || math.IsNaN(s.stats.T) || math.IsInf(s.stats.Difference, 0) {
		return nil, tooFarApart()
	}
	s.leans(s.stats.T)
	s.begin(d, s.se)
	s.controls(d)
	s.DefineAlpha()
	s.question()
	s.cases()
	s.Define(working.Quantity{ID: "difference", Symbol: fmt.Sprintf(`\bar{x}_{%s}-\bar{x}_{%s}`, s.first.letter, s.second.letter),
		Label: "Difference of the means, " + s.minus(), Unit: s.unit, Says: "What the samples say about the difference of the two population means."},
		working.Measure, s.stats.Difference, formula.Subtract(formula.Ref("mean_1"), formula.Ref("mean_2")))
	s.look()
	s.hypotheses()
	s.statistic() // before the conditions are written, so that they may name its numbers
	return s.Working, nil
}

func (s *twoSample) controls(d *Description) {
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, s.first.letter, s.second.letter, s.alternativeWords))
	s.Control(direction(s.first, s.second, " − ", "Turns the direction of every difference round; one tail keeps its side."))
	s.Brief(working.Textf("Compare **%s** between **%s** and **%s**", inSentence(s.data.response.Label), s.first.name, s.second.name))
	value := "unequal"
	if s.pooled {
		value = "equal"
	}
	for i := range d.Options {
		if option := &d.Options[i]; option.Live {
			s.Control(option.control(value))
		}
	}
}

// mean names the mean of the response in a sentence: "mean loading time".
func (s *twoSample) mean() string { return "mean " + inSentence(s.data.response.Label) }

func (s *twoSample) question() {
	blocks := s.claimBlocks()
	blocks = append(blocks, working.Say("The question is about two means of *%s*: that of **%s** and that of **%s**. Throughout, a difference is %s.", inSentence(s.data.response.Label), s.first.name, s.second.name, s.minus()))
	blocks = append(blocks, alphaBlocks()...)
	s.Step(working.Question, "α = "+s.Show("alpha"), blocks...).Opens = "alpha"
}

func (s *twoSample) look() {
	reading := working.Note("%s", s.groupsFigure(s.data, s.decimals))
	s.Step(working.Look, fmt.Sprintf("%s, %s", s.Show("mean_1"), s.withUnit("mean_2")),
		working.FigureBlock{Figure: "look"},
		working.Say("The sample means are @{mean_1} (%s) and @{mean_2} (%s). Whether that is more than chance would bring is what the test is for.", s.first.name, s.second.name),
		reading)
}

// alternativeWords says what H₁ says with the given tail.
func (s *twoSample) alternativeWords(tail problem.Tail) string {
	if s.null != 0 {
		is := map[problem.Tail]string{problem.Both: "is not", problem.Left: "is less than", problem.Right: "is greater than"}[tail]
		return fmt.Sprintf("the difference in %s, %s, %s %s", s.mean(), s.minus(), is, s.hypothesised())
	}
	switch tail {
	case problem.Left:
		return fmt.Sprintf("%s is lower for %s than for %s", s.mean(), s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s is higher for %s than for %s", s.mean(), s.first.name, s.second.name)
	}
	return fmt.Sprintf("%s differs between %s and %s", s.mean(), s.first.name, s.second.name)
}

// nullWords says what H₀ says.
func (s *twoSample) nullWords() string {
	if s.null != 0 {
		is := map[problem.Tail]string{problem.Both: "is", problem.Left: "is at least", problem.Right: "is at most"}[s.p.Tail]
		return fmt.Sprintf("the difference in %s, %s, %s %s", s.mean(), s.minus(), is, s.hypothesised())
	}
	switch s.p.Tail {
	case problem.Left:
		return fmt.Sprintf("%s is not lower for %s than for %s", s.mean(), s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s is not higher for %s than for %s", s.mean(), s.first.name, s.second.name)
	}
	return fmt.Sprintf("%s is the same for %s and %s", s.mean(), s.first.name, s.second.name)
}

// nullPredicate says what H₀ says, after "it".
func (s *twoSample) nullPredicate() string {
	if s.null != 0 {
		return map[problem.Tail]string{problem.Both: "is ", problem.Left: "is at least ", problem.Right: "is at most "}[s.p.Tail] + s.hypothesised()
	}
	return map[problem.Tail]string{problem.Both: "is the same", problem.Left: "is not lower", problem.Right: "is not higher"}[s.p.Tail]
}

func (s *twoSample) hypotheses() {
	s.Define(working.Quantity{ID: "difference_0", Symbol: fmt.Sprintf(`(\mu_{%s}-\mu_{%s})_0`, s.first.letter, s.second.letter),
		Label: "Difference under H₀", Unit: s.data.response.Unit, Says: "The difference of the population means that H₀ states."}, working.Given, s.null, nil)
	equal, other := s.signs()
	symbols := func(sign string) string {
		return fmt.Sprintf(`\mu_{%s}-\mu_{%s} %s %s`, s.first.letter, s.second.letter, teXSign(sign), formula.TeXNumber(working.FormatShortest(s.null)))
	}
	key := fmt.Sprintf("μ_%s %s μ_%s", s.first.letter, equal, s.second.letter)
	if s.null != 0 {
		key = fmt.Sprintf("μ_%s − μ_%s %s %s", s.first.letter, s.second.letter, equal, working.FormatShortest(s.null))
	}
	both := s.bothWays("which mean should be the larger")
	blocks := []working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(equal), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(other), Words: s.alternativeWords(s.p.Tail)},
	}}
	blocks = append(blocks, s.tailReasons(both, "a difference "+s.minus())...)
	s.hypothesesStep(key, blocks...)
}

// statistic defines the numbers of the test and writes the steps from the
// conditions on.
func (s *twoSample) statistic() {
	unit := s.data.response.Unit
	ref := func(id string) formula.Expr { return formula.Ref(id) }
	share := func(i int) formula.Expr {
		return formula.Quotient{Over: formula.Square(indexed("sd", i)), Under: indexed("n", i)}
	}
	oneLess := func(i int) formula.Expr { return formula.Subtract(indexed("n", i), formula.Num(1)) }
	inverse := func(i int) formula.Expr {
		return formula.Quotient{Over: formula.Num(1), Under: indexed("n", i)}
	}
	seSymbol := fmt.Sprintf(`s_{\bar{x}_{%s}-\bar{x}_{%s}}`, s.first.letter, s.second.letter)
	se := working.Quantity{ID: "se", Symbol: seSymbol, Label: "Standard error of the difference", Unit: unit,
		Says: "How far the difference of two such sample means typically lies from the difference of the population means."}
	df := working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom"}
	var steps []working.Block
	if s.pooled {
		s.Define(working.Quantity{ID: "pooled_sd", Symbol: "s_p", Label: "Pooled standard deviation", Unit: unit,
			Says: "One common standard deviation, estimated from both groups; each group counts by its n − 1."},
			working.Measure, s.stats.PooledSD, formula.Root{X: formula.Quotient{
				Over:  formula.Sum{formula.Product{oneLess(1), formula.Square(ref("sd_1"))}, formula.Product{oneLess(2), formula.Square(ref("sd_2"))}},
				Under: formula.Sum{ref("n_1"), ref("n_2"), formula.Minus{X: formula.Num(2)}},
			}})
		s.Define(se, working.Measure, s.stats.SE, formula.Product{ref("pooled_sd"), formula.Root{X: formula.Sum{inverse(1), inverse(2)}}})
		df.Says = "Every case gives one degree of freedom, and each of the two means that were estimated takes one away."
		s.Define(df, working.Degrees, s.stats.DF, formula.Sum{ref("n_1"), ref("n_2"), formula.Minus{X: formula.Num(2)}})
		steps = append(steps, working.Say("The variances are **pooled**: both groups together estimate one common standard deviation."), working.FormulaBlock{Quantity: "pooled_sd"})
	} else {
		s.Define(se, working.Measure, s.stats.SE, formula.Root{X: formula.Sum{share(1), share(2)}})
		df.Says = "An approximation (Welch): a number, whole or not, between the smaller group's n − 1 and n₁ + n₂ − 2. The more one group dominates the standard error, the closer it comes to that group's n − 1."
		squared := func(i int) formula.Expr {
			return formula.Quotient{Over: formula.Square(share(i)), Under: oneLess(i)}
		}
		s.Define(df, working.Degrees, s.stats.DF, formula.Quotient{
			Over:  formula.Square(formula.Sum{share(1), share(2)}),
			Under: formula.Sum{squared(1), squared(2)},
		})
		steps = append(steps, working.Say("The variances are **kept apart**: each mean brings its own uncertainty, $s$²/$n$, and the two add up."))
	}
	over := formula.Subtract(ref("mean_1"), ref("mean_2"))
	if s.null != 0 {
		over = formula.Subtract(ref("mean_1"), ref("mean_2"), ref("difference_0"))
	}
	s.Define(working.Quantity{ID: "t", Symbol: "t", Label: "Test statistic", Says: "How many standard errors the observed difference lies from the difference that H₀ states."},
		working.Ratio, s.stats.T, formula.Quotient{Over: over, Under: ref("se")})
	steps = append(steps,
		working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "t"},
		s.distance("t", stats.NoCorrection),
		working.Note("It is $t$ and not $z$, because the standard deviations were estimated from the samples; $z$ belongs where the population's are known."))

	extreme := fmt.Sprintf("a difference between the sample means at least this many standard errors from %s, in either direction,", s.hypothesised())
	switch s.p.Tail {
	case problem.Left:
		extreme = "a difference between the sample means as low as this one or lower, in standard errors,"
	case problem.Right:
		extreme = "a difference between the sample means as high as this one or higher, in standard errors,"
	}
	s.Test(working.Test{
		Statistic: "t", Symbol: "t", Degrees: []working.Ref{"df"}, Family: s.family,
		Name:    "t, " + s.DegreesWords("df"),
		Extreme: extreme,
	})
	s.resample()

	s.conditions()
	s.Step(working.Statistic, "t = "+s.Show("t"), steps...).Opens = "t"
	s.CriticalValueStep(s.degrees()...)
	s.PValueStep()
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.conclude()
	s.followUp()
}

// degrees explains the degrees of freedom and where a printed table shows the
// critical value.
func (s *twoSample) degrees() []working.Block {
	blocks := []working.Block{working.FormulaBlock{Quantity: "df"}}
	if s.pooled {
		blocks = append(blocks, working.Say("Degrees of freedom: all @{n_1} + @{n_2} cases, less one for each of the two means estimated."))
	} else {
		blocks = append(blocks, working.Say("Degrees of freedom: with variances kept apart they are estimated too, and need not be whole."))
	}
	return append(blocks, s.printed()...)
}

func (s *twoSample) conclude() {
	s.interval()
	d := s.stats
	standardizer := formula.Expr(formula.Ref("pooled_sd"))
	if !s.pooled {
		standardizer = formula.Root{X: formula.Quotient{
			Over:  formula.Sum{formula.Square(formula.Ref("sd_1")), formula.Square(formula.Ref("sd_2"))},
			Under: formula.Num(2),
		}}
	}
	s.Define(working.Quantity{ID: "cohen_d", Symbol: "d", Label: "Standardized difference (Cohen’s d)", Says: "The difference in standard deviations: a size that does not depend on the unit or on the number of cases."},
		working.Ratio, d.CohenD, formula.Quotient{Over: formula.Ref("difference"), Under: standardizer})

	var conclusion working.Text
	if s.Rejected() {
		conclusion = working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated difference, %s, is @{difference} (%s\u00a0%% interval: %s).",
			count(s.data.used(), "case"), s.foundWords(), s.minus(), s.levelWords(), s.intervalWords())
	} else {
		conclusion = working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that it %s.",
			count(s.data.used(), "case"), s.alternativeWords(s.p.Tail), s.nullPredicate())
	}
	var more []working.Block
	if s.Rejected() {
		more = append(more, working.Warn("Significant is not the same as important: whether a difference of @{difference} matters is a question about %s, not about statistics.", inSentence(s.data.response.Label)))
	}
	s.concludeWith(conclusion, more...)

	report := s.report()
	s.Step(working.Report, "",
		working.ReportLine{Text: report},
		working.Note("Means and standard deviations first, then the statistic with its degrees of freedom, p, the interval and the size of the effect."))
	s.Conclude(s.conclusion, report)
}

// foundWords says what a rejection finds: with two tails the direction that the
// samples show.
func (s *twoSample) foundWords() string {
	if s.null != 0 {
		return s.alternativeWords(s.p.Tail)
	}
	return s.alternativeWords(s.found())
}

func (s *twoSample) report() working.Text {
	than := map[problem.Tail]string{problem.Both: "different from", problem.Left: "lower than", problem.Right: "higher than"}[s.p.Tail]
	var significant string
	switch {
	case s.null != 0 && s.Rejected():
		significant = fmt.Sprintf("had a difference significantly %s %s", than, s.hypothesised())
	case s.null != 0:
		significant = fmt.Sprintf("did not have a difference significantly %s %s", than, s.hypothesised())
	case s.Rejected() && s.p.Tail == problem.Both:
		significant = "differed significantly"
	case s.p.Tail == problem.Both:
		significant = "did not differ significantly"
	case s.Rejected():
		significant = fmt.Sprintf("differed, the first being significantly %s the second", than)
	default:
		significant = fmt.Sprintf("were compared, the first not being significantly %s the second", than)
	}
	form := "variances not assumed equal"
	if s.pooled {
		form = "variances assumed equal"
	}
	return working.Textf("%s for %s (*M* = @{mean_1}, *SD* = @{sd_1}, *n* = @{n_1}) and %s (*M* = @{mean_2}, *SD* = @{sd_2}, *n* = @{n_2}) %s, *t*(@{df}) = @{t}, *p* %s@{p}, %s, %s; difference @{difference}, %s\u00a0%% CI [%s], *d* = @{cohen_d}.",
		upperFirst(s.mean()), s.first.name, s.second.name, significant, s.relation("p"), s.tails(), form, s.levelWords(), s.reported(math.Inf(-1), math.Inf(1)))
}

func (s *twoSample) followUp() {
	s.intervalFigure(nil)
	blocks := append(s.intervalBlocks(),
		working.Say("**How large is it?** The difference is @{cohen_d} standard deviations: %s by the usual rule of thumb (0.2 small, 0.5 medium, 0.8 large).", sizeWords(s.stats.CohenD)),
		working.FormulaBlock{Quantity: "cohen_d"},
		working.Note("Two intervals, one for each mean, may overlap although the means differ significantly. Compare the difference with its own interval, as here."))
	s.Step(working.FollowUp, "d = "+s.Show("cohen_d"), blocks...).Opens = "cohen_d"
	s.plan()
}
