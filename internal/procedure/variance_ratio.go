package procedure

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// varianceRatio compares the variances of two independent groups by the F
// distribution of their ratio.
var varianceRatio = &Procedure{
	Description: Description{
		ID:         "variance-ratio",
		Title:      "Two variances",
		Asks:       "Do two groups spread alike?",
		AlsoCalled: []string{"F-test for two variances", "Fisher's F-test", "variance ratio test"},
		Takes:      []Takes{TakesVariables, TakesSummary},
		Roles:      twoGroupRoles,
		Options:    []Option{groupsOption},
		Tails:      true,
		Compared:   "the variance of the first group over that of the second",
	},
	Work: workVarianceRatio,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		return fmt.Sprintf("%s is a number, and %s parts the cases into groups: how far two of them spread is compared.", response.Title(), inSentence(factor.Title())), true
	},
}

var fFamily = formula.Family{Symbol: "F", Degrees: []formula.Ref{"df_1", "df_2"}, New: func(d []float64) dist.Distribution { return dist.F{DF1: d[0], DF2: d[1]} }}

// spreads is the problem while it is worked.
type spreads struct {
	twoGroups
	stats stats.VarianceRatio
}

func workVarianceRatio(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	groups, err := readTwoGroups(p, options)
	if err != nil {
		return nil, err
	}
	s := &spreads{twoGroups: groups}
	for _, g := range []*group{s.first, s.second} {
		if g.moments.SD == 0 {
			return nil, problem.Errors{{Pointer: s.data.at(g), Says: fmt.Sprintf("“%s” has no spread: all its values are equal, and a ratio needs both variances above 0", problem.Shorten(g.name)), Instead: "check the data"}}
		}
	}
	s.stats = stats.CompareVariances(s.first.moments, s.second.moments)
	if math.IsInf(s.stats.F, 0) || s.stats.F == 0 {
		return nil, problem.Errors{{Pointer: "/data", Says: "the spreads are too far apart in size to calculate with", Instead: "check the data"}}
	}
	s.unit = ""
	s.leans(s.stats.F - 1)
	s.estimate, s.parameter, s.null, s.value, s.family = "f", "ratio", 1, s.stats.F, fFamily
	s.subject = fmt.Sprintf("variance %s / variance %s", s.first.name, s.second.name)
	s.begin(d, math.Min(s.first.moments.SD, s.second.moments.SD)/10)
	s.controls()
	s.DefineAlpha()
	s.question()
	s.cases()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// twoGroupRoles and groupsOption belong to every test of two groups.
var (
	twoGroupRoles = []Role{
		{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
		{ID: "group", Label: "Group", Says: "the category that tells the two groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2},
	}
	groupsOption = Option{ID: "groups", Label: "Order of the groups", Type: LevelsOption, Length: 2,
		Says: "Which two groups are compared, and which comes first."}
)

func (s *spreads) controls() {
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, s.first.letter, s.second.letter, s.alternativeWords))
	s.Control(direction(s.first, s.second, " / ", "Turns the ratio over; one tail keeps its side."))
	s.Brief(working.Textf("Compare the spread of **%s** between **%s** and **%s**", inSentence(s.data.response.Label), s.first.name, s.second.name))
}

// alternativeWords says what H₁ says with the given tail.
func (s *spreads) alternativeWords(tail problem.Tail) string {
	response := inSentence(s.data.response.Label)
	switch tail {
	case problem.Left:
		return fmt.Sprintf("%s varies less for %s than for %s", response, s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s varies more for %s than for %s", response, s.first.name, s.second.name)
	}
	return fmt.Sprintf("the variance of %s differs between %s and %s", response, s.first.name, s.second.name)
}

// nullWords says what H₀ says.
func (s *spreads) nullWords() string {
	response := inSentence(s.data.response.Label)
	switch s.p.Tail {
	case problem.Left:
		return fmt.Sprintf("%s does not vary less for %s than for %s", response, s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s does not vary more for %s than for %s", response, s.first.name, s.second.name)
	}
	return fmt.Sprintf("the variance of %s is the same for %s and %s", response, s.first.name, s.second.name)
}

func (s *spreads) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is about two variances of *%s*: how far the cases of **%s** and those of **%s** spread. They are compared as a ratio, the first over the second.", inSentence(s.data.response.Label), s.first.name, s.second.name))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *spreads) look() {
	reading := working.Note("%s", s.groupsFigure(s.data, s.decimals))
	s.Step(working.Look, fmt.Sprintf("s: %s, %s", s.Show("sd_1"), s.withUnit("sd_2")),
		working.FigureBlock{Figure: "look"},
		working.Say("The standard deviations are @{sd_1} (%s) and @{sd_2} (%s). Whether they differ by more than chance would bring is what the test is for.", s.first.name, s.second.name),
		reading)
}

func (s *spreads) hypotheses() {
	s.Define(working.Quantity{ID: "f_0", Symbol: `(\sigma^2_1/\sigma^2_2)_0`, Label: "Ratio under H₀", Says: "Equal variances have the ratio 1."}, working.Given, 1, nil)
	equal, other := s.signs()
	symbols := func(sign string) string {
		return fmt.Sprintf(`\sigma^{2}_{%s}/\sigma^{2}_{%s} %s 1`, s.first.letter, s.second.letter, teXSign(sign))
	}
	both := s.bothWays("which group should spread more")
	blocks := []working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(equal), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(other), Words: s.alternativeWords(s.p.Tail)},
	}}
	blocks = append(blocks, s.tailReasons(both, "a ratio")...)
	s.hypothesesStep(fmt.Sprintf("σ²_%s %s σ²_%s", s.first.letter, equal, s.second.letter), blocks...)
}

func (s *spreads) test() {
	unit := s.data.response.Unit
	if unit != "" {
		unit += "²"
	}
	s.pair("variance", "s^{2}", "Variance", "The square of the standard deviation.", unit, working.Measure,
		func(g *group) float64 { return g.moments.SD * g.moments.SD },
		func(i int, g *group) formula.Expr { return formula.Square(indexed("sd", i)) })
	s.pair("df", `\nu`, "Degrees of freedom", "One for each case, less one for the mean of the group.", "", working.Degrees,
		func(g *group) float64 { return float64(g.moments.N - 1) },
		func(i int, g *group) formula.Expr { return formula.Subtract(indexed("n", i), formula.Num(1)) })
	s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times the second variance goes into the first."},
		working.Ratio, s.stats.F, formula.Quotient{Over: formula.Ref("variance_1"), Under: formula.Ref("variance_2")})
	extreme := "a ratio at least this far from 1, to either side,"
	switch s.p.Tail {
	case problem.Left:
		extreme = "a ratio as small as this one or smaller"
	case problem.Right:
		extreme = "a ratio as large as this one or larger"
	}
	s.Test(working.Test{
		Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_1", "df_2"}, Family: fFamily, Positive: true,
		Name:    "F, " + s.DegreesWords("df_1", "df_2"),
		Extreme: extreme,
	})
	s.resample()
}

// conditions judges what the test takes for granted and writes the step.
func (s *spreads) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this."))
	ids := []string{"independence", "normality"}
	if !s.data.summary {
		s.instead = []working.Action{by("variance-spread", "Compare by deviations", "Works the same problem with the distances from the medians, which stand other shapes better, beside this one. That test has no direction.")}
	}
	s.shape()
	if !s.data.summary {
		ids = append(ids, "outliers")
		s.outliers(s.samples(), s.decimals)
	}
	var blocks []working.Block
	for _, id := range ids {
		blocks = append(blocks, working.Check{Condition: id})
	}
	if !s.data.summary {
		blocks = append(blocks, s.scoresBlocks(s.data.response, s.samples())...)
	}
	blocks = append(blocks, working.Warn("This test depends on the normal shape far more than a test of means does, and more cases do not help: a long tail looks like a large variance."))
	s.Step(working.Conditions, s.conditionKey(), blocks...)
}

// shape judges whether each group may be normal, which the ratio of two variances takes for
// granted whatever the number of cases.
func (s *spreads) shape() {
	if s.data.summary {
		s.unseenShape(working.Doubtful, "Cannot be seen from a summary. The cases of both groups must themselves be normal, however many there are.")
		return
	}
	s.skewness()
	found := lookAtShape(s.samples())
	switch {
	case found.without != nil:
		s.unseenShape(working.Doubtful, "%s: too few cases of %s show a shape, and both groups must themselves be normal.", found.says("these cases"), found.without[0].name)
	case found.shape.Rejected:
		s.unseenShape(working.NotMet, "%s. A ratio of variances needs normal cases, however many there are.", found.says("these cases"))
	default:
		few := ""
		if found.few {
			few = " So few cases show gross departures only."
		}
		s.Condition("normality", working.Met, working.Textf("%s.%s", found.says("these cases"), few))
	}
}

func (s *spreads) steps() {
	s.Step(working.Statistic, "F = "+s.Show("f"),
		working.FormulaBlock{Quantity: "variance_1"}, working.FormulaBlock{Quantity: "variance_2"}, working.FormulaBlock{Quantity: "f"},
		working.Say("The variance of %s is @{f} times that of %s. If the populations spread alike, the ratio lies near 1.", s.first.name, s.second.name)).Opens = "f"
	above, below := s.stats.DF1, s.stats.DF2
	if s.p.Tail == problem.Left {
		above, below = below, above
	}
	s.CriticalValueStep(append([]working.Block{
		working.Say("Degrees of freedom: @{df_1} above the line and @{df_2} below it, a case less than each group has."),
		working.Note("A printed F table has the degrees of freedom above the line in its columns and those below it in its rows. Tables show upper critical values only: the lower one is 1 over the upper one with the degrees of freedom exchanged.")}, s.printedF(s.tailArea(), above, below)...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.interval()
	s.conclude()
	s.followUp()
}

// interval defines the interval for the ratio of the variances: F over the upper and
// over the lower quantile.
func (s *spreads) interval() {
	outside, area := s.level(s.levelSays())
	f := dist.F{DF1: s.stats.DF1, DF2: s.stats.DF2}
	end := func(lower bool) formula.Expr {
		return formula.Quotient{Over: formula.Ref("f"), Under: formula.Quantile{Of: fFamily, Area: outside, Lower: lower}}
	}
	s.ends(working.Ratio, s.stats.F/f.UpperQuantile(area), s.stats.F/f.LowerQuantile(area), end(false), end(true))
}

func (s *spreads) conclude() {
	used := count(s.data.used(), "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated ratio of the variances, %s over %s, is @{f} (%s\u00a0%% interval: %s).",
			used, s.alternativeWords(s.found()), s.first.name, s.second.name, s.levelWords(), s.intervalWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(s.p.Tail), s.nullWords()))
	}
	not := " not"
	if s.Rejected() {
		not = ""
	}
	than := map[problem.Tail]string{problem.Both: "different from", problem.Left: "lower than", problem.Right: "higher than"}[s.p.Tail]
	report := working.Textf("The variance of %s for %s (*SD* = @{sd_1}, *n* = @{n_1}) was%s significantly %s that for %s (*SD* = @{sd_2}, *n* = @{n_2}), *F*(@{df_1}, @{df_2}) = @{f}, *p* %s@{p}, %s; %s\u00a0%% CI of the ratio [%s].",
		inSentence(s.data.response.Label), s.first.name, not, than, s.second.name, s.relation("p"), s.tails(), s.levelWords(), s.reported(0, math.Inf(1)))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("Both standard deviations first, then F with its degrees of freedom, p and the interval for the ratio."))
	s.Conclude(s.conclusion, report)
}

func (s *spreads) followUp() {
	low, high := s.Value("ci_low"), s.Value("ci_high")
	axisLow, axisHigh := working.Padded(0.12, low, high, s.stats.F, 1)
	s.Figure(&working.Figure{ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for the ratio %s", s.levelWords(), s.subject), Reads: s.intervalWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for the ratio %s: %s; the observed ratio is %s, H₀ states 1.", s.levelWords(), s.subject, s.intervalWords(), s.Show("f")),
		Axis: working.Axis{Label: s.subject, Min: working.Number(axisLow), Max: working.Number(axisHigh)},
		Marks: []working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, s.stats.F, high), Refs: []working.Ref{"ci_low", "f", "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(1), Refs: []working.Ref{"f_0"}},
		}})
	blocks := append(s.intervalBlocks(), working.Say("A ratio of 1 means equal variances. A ratio of 4 means that the first group's standard deviation is twice the second's: standard deviations are compared by the square root."))
	s.Step(working.FollowUp, "", blocks...)
}
