package procedure

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// signedRank compares pairs, or one sample with a median, by signed ranks.
var signedRank = &Procedure{
	Description: Description{
		ID:         "signed-rank",
		Title:      "Pairs by ranks",
		Asks:       "Do differences tend to one side, whatever their shape?",
		AlsoCalled: []string{"Wilcoxon signed-rank test", "Wilcoxon matched-pairs test"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "first", Label: "First measurement", Says: "the one that the other is taken from", Kinds: []data.Kind{data.Number}, Max: 1},
			{ID: "second", Label: "Second measurement", Says: "of the same cases, in the same unit", Kinds: []data.Kind{data.Number}, Max: 1},
			{ID: "response", Label: "Response", Says: "in place of a pair: the variable whose median is tested", Kinds: []data.Kind{data.Number}, Max: 1},
		},
		Options: []Option{
			{ID: "median", Label: "Median under H₀", Type: NumberOption, Default: 0.0, Says: "What the median of the response is said to be; with pairs the differences are compared with 0."},
			continuityOption,
		},
		Tails:    true,
		Compared: "the middle of first − second, or of the response",
	},
	Work: workSignedRank,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		first, second := assigned["first"], assigned["second"]
		if len(first) == 0 || len(second) == 0 || first[0].Unit != second[0].Unit {
			return "", false
		}
		return fmt.Sprintf("If %s and %s were measured on the same cases, their differences are ranked, whatever their shape.", inSentence(first[0].Title()), inSentence(second[0].Title())), true
	},
}

// signed is the problem while it is worked.
type signed struct {
	ranked
	sample
	median      float64   // under H₀
	differences []float64 // from it, without those that are 0
	places      []int     // theirs among the values of the sample
	zeros       int
	stats       stats.SignedRank
	decimals    int
}

func workSignedRank(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &signed{median: options["median"].(float64)}
	if err := s.read(p); err != nil {
		return nil, err
	}
	s.p = p
	s.continuity = s.corrected(options["continuity"].(bool))
	s.stats = stats.CompareSigned(s.differences, s.continuity)
	s.location = location{p: p, unit: s.response.Unit, parameter: "shift", subject: "the location"}
	if s.pair != nil {
		s.subject = "the shift " + s.minus()
	}
	s.outcome = "choice of signs"
	s.foundBy = "for the number of differences that are not 0"
	s.statistic, s.symbol, s.observed, s.mean, s.sd, s.z = "w_plus", "W", s.stats.WPlus, s.stats.Mean, s.stats.SD, s.stats.Z
	s.leans(s.observed - s.mean)
	s.exact = dist.NewSignedRank(s.stats.Ranks)
	located := make([]float64, len(s.differences))
	for i, x := range s.differences {
		located[i] = x
		if s.pair == nil {
			located[i] = s.values[s.places[i]]
		}
	}
	s.pairs = stats.NewPairAverages(located)
	s.value = stats.MedianOfPairs(s.pairs)
	s.decimals = working.DecimalsOf(s.differences, maxDecimals)
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: len(s.values), LeftOut: s.given - len(s.values)})
	s.SetDecimals(s.decimals + 2)
	s.controls(d)
	s.DefineAlpha()
	s.question()
	s.rank()
	s.look()
	s.hypotheses()
	s.work()
	return s.Working, nil
}

func (s *signed) read(p *problem.Problem) (err error) {
	pairs := len(p.Roles["first"]) > 0 || len(p.Roles["second"]) > 0
	switch single := len(p.Roles["response"]) > 0; {
	case pairs && single:
		return problem.Errors{{Pointer: "/roles/response", Says: "both a pair and a response are given", Instead: "give “first” and “second”, or “response” alone"}}
	case single:
		s.sample, err = readSample(p, false)
	case len(p.Roles["first"]) == 0 || len(p.Roles["second"]) == 0:
		at := "/roles/first"
		if len(p.Roles["first"]) > 0 {
			at = "/roles/second"
		}
		return problem.Errors{{Pointer: at, Says: "signed ranks need a pair of measurements, or a response", Instead: "give “first” and “second”, or “response” alone"}}
	default:
		if s.median != 0 {
			return problem.Errors{{Pointer: "/options/median", Says: "with pairs the differences are compared with 0", Instead: "remove the option, or give the differences as the response"}}
		}
		s.sample, err = readPairs(p)
	}
	if err != nil {
		return err
	}
	for i, value := range s.values {
		difference := stats.DecimalDifference(value, s.median)
		if s.pair != nil {
			difference = stats.DecimalDifference(s.pair.firsts[i], s.pair.seconds[i])
		}
		if math.Abs(difference) > math.MaxFloat64/4 { // sums of two of them are taken
			return tooFarApart()
		}
		if difference == 0 {
			s.zeros++
			continue
		}
		s.differences, s.places = append(s.differences, difference), append(s.places, i)
	}
	if len(s.differences) == 0 {
		at := "/roles/response"
		if s.pair != nil {
			at = "/roles/first"
		}
		return problem.Errors{{Pointer: at, Says: "all differences are 0, so there is nothing to rank", Instead: "check the data"}}
	}
	return nil
}

func (s *signed) minus() string {
	return inSentence(s.pair.first.Label) + " − " + inSentence(s.pair.second.Label)
}

// zero is what the differences are taken from, as it stands in sentences.
func (s *signed) zero() string {
	text := working.FormatShortest(s.median)
	if s.unit != "" {
		text += "\u00a0" + s.unit
	}
	return text
}

func (s *signed) controls(d *Description) {
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, "θ", working.FormatShortest(s.median), s.alternativeWords))
	s.continuityControl(d, s.continuity != stats.NoCorrection)
	if s.pair != nil {
		s.Brief(working.Textf("Compare **%s** with **%s** on the same cases, by ranks", inSentence(s.pair.first.Label), inSentence(s.pair.second.Label)))
		return
	}
	s.Brief(working.Textf("Compare the location of **%s** with **%s**, by ranks", inSentence(s.response.Label), s.zero()))
}

// alternativeWords says what H₁ says with the given tail.
func (s *signed) alternativeWords(tail problem.Tail) string {
	if s.pair != nil {
		first, second := inSentence(s.pair.first.Label), inSentence(s.pair.second.Label)
		switch tail {
		case problem.Left:
			return fmt.Sprintf("%s tends to be lower than %s", first, second)
		case problem.Right:
			return fmt.Sprintf("%s tends to be higher than %s", first, second)
		}
		return fmt.Sprintf("%s tends to be higher or lower than %s", first, second)
	}
	is := map[problem.Tail]string{problem.Both: "lies elsewhere than at", problem.Left: "lies below", problem.Right: "lies above"}[tail]
	return fmt.Sprintf("the middle of %s %s %s", inSentence(s.response.Label), is, s.zero())
}

// nullWords says what H₀ says.
func (s *signed) nullWords() string {
	if s.pair != nil {
		first, second := inSentence(s.pair.first.Label), inSentence(s.pair.second.Label)
		switch s.p.Tail {
		case problem.Left:
			return fmt.Sprintf("%s does not tend to be lower than %s", first, second)
		case problem.Right:
			return fmt.Sprintf("%s does not tend to be higher than %s", first, second)
		}
		return fmt.Sprintf("the differences between %s and %s lie evenly about 0", first, second)
	}
	is := map[problem.Tail]string{problem.Both: "lies at", problem.Left: "does not lie below", problem.Right: "does not lie above"}[s.p.Tail]
	return fmt.Sprintf("the middle of %s %s %s", inSentence(s.response.Label), is, s.zero())
}

func (s *signed) question() {
	says := working.Say("The question is whether *%s* lies on both sides of %s alike. Each case is turned into its difference from it; the sizes are ranked, and the ranks of those above are added up.", inSentence(s.response.Label), s.zero())
	if s.pair != nil {
		says = working.Say("Each case was measured twice. The question is whether the differences, %s, tend to one side: their sizes are ranked, and the ranks of the positive ones are added up.", s.minus())
	}
	s.Step(working.Question, "α = "+s.Show("alpha"), append(append(s.claimBlocks(), says), alphaBlocks()...)...).Opens = "alpha"
}

// rank writes the ranked list and its sum.
func (s *signed) rank() {
	t := &working.Table{ID: "cases", Title: "The differences and their ranks", Key: []string{"case"}, Total: len(s.differences), Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "difference", Label: "difference", Unit: s.unit, Numeric: true},
		{ID: "rank", Label: "rank of its size", Numeric: true}, {ID: "plus", Label: "rank if positive", Numeric: true}}}
	plus := make([]float64, len(s.differences))
	for i, x := range s.differences {
		if x > 0 {
			plus[i] = s.stats.Ranks[i]
		}
	}
	t.Row = func(i int) working.Row {
		row := s.cases[s.places[i]]
		return working.Row{{Value: row, Shown: strconv.Itoa(row)}, entered(s.differences[i], s.decimals),
			{Value: working.Number(s.stats.Ranks[i]), Shown: working.FormatShortest(s.stats.Ranks[i])}, {Value: working.Number(plus[i]), Shown: working.FormatShortest(plus[i])}}
	}
	s.Table(t)
	s.Column("cases/*/plus", plus)
	series := s.Series("cases/*/plus", "r_{i}^{+}", 1)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Differences that are not 0", Says: "A difference of 0 speaks for neither side and is dropped."}, working.Whole, float64(len(s.differences)), formula.Count{Column: series})
	s.Define(working.Quantity{ID: "zeros", Symbol: "n_{0}", Label: "Differences of 0", Says: "Dropped before the ranks are given."}, working.Whole, float64(s.zeros), nil)
	s.Define(working.Quantity{ID: "w_plus", Symbol: "w", Label: "Test statistic", Says: "The sum of the ranks of the positive differences."}, working.Given, s.stats.WPlus, formula.Total{Column: series})
	one := "case"
	if s.pair != nil {
		one = "pair"
	}
	says := []working.Block{working.Say("%s.", upperFirst(count(s.given, one)))}
	if left := s.given - len(s.values); left > 0 {
		says = []working.Block{working.Say("%s in all, of which %d used. Left out: %s.", upperFirst(count(s.given, one)), len(s.values), leftOutWords(s.p.LeaveOut, left, "with a missing value"))}
	}
	if s.zeros > 0 {
		says = append(says, working.Say("%s of 0 are dropped before ranking.", upperFirst(count(s.zeros, "difference"))))
	}
	s.Step(working.Data, "n = "+s.Show("n"), append(says, working.TableBlock{Table: "cases"})...)
}

func (s *signed) look() {
	f := &working.Figure{ID: "look", Form: working.Boxes, Title: s.response.Label, Axis: working.Axis{Label: s.response.Label, Unit: s.unit}}
	low, high := s.five.Whiskers(s.values)
	f.Marks = []working.Mark{
		{Shape: working.Box, Role: working.Observed, X: working.Positions(low, s.five.Q1, s.five.Median, s.five.Q3, high)},
		{Shape: working.Points, Role: working.Observed, X: working.Positions(s.values...), Case: s.cases},
		{Shape: working.Points, Role: working.MeanMark, X: working.Positions(s.moments.Mean)},
		{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(s.median)},
	}
	f.Axis.Min, f.Axis.Max = axis(s.five.Min, s.five.Max, s.median)
	above, below := 0, 0
	for _, x := range s.differences {
		if x > 0 {
			above++
		} else {
			below++
		}
	}
	f.Says = fmt.Sprintf("%d above %s, %d below.", above, s.zero(), below)
	s.Figure(f)
	s.Step(working.Look, fmt.Sprintf("%d +, %d −", above, below), working.FigureBlock{Figure: "look"},
		working.Say("%d lie above %s and %d below. Whether those on one side are more, and larger, than chance would bring is what the test is for.", above, s.zero(), below))
}

func (s *signed) hypotheses() {
	equal, other := s.signs()
	null := working.FormatShortest(s.median)
	both := s.bothWays("to which side they should tend")
	switch s.p.Tail {
	case problem.Left:
		both = working.Say("H₁ says “lower”: only a small sum of positive ranks speaks for it, so the test has **one tail, the left**.")
	case problem.Right:
		both = working.Say("H₁ says “higher”: only a large sum of positive ranks speaks for it, so the test has **one tail, the right**.")
	}
	s.hypothesesStep(fmt.Sprintf("θ %s %s", equal, null), working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \theta ` + teXSign(equal) + " " + formula.TeXNumber(null), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \theta ` + teXSign(other) + " " + formula.TeXNumber(null), Words: s.alternativeWords(s.p.Tail)},
	}, both, working.Note("%s is the middle about which they lie evenly: their median, and where they are even also their mean.", "θ"))
}

func (s *signed) work() {
	n := formula.Ref("n")
	oneMore := formula.Sum{n, formula.Num(1)}
	var sdExpr formula.Expr
	if !s.stats.Tied {
		sdExpr = formula.Root{X: formula.Quotient{Over: formula.Product{n, oneMore, formula.Sum{formula.Product{formula.Num(2), n}, formula.Num(1)}}, Under: formula.Num(24)}}
	}
	extreme := "a sum of positive ranks at least this far from its mean, to either side,"
	switch s.p.Tail {
	case problem.Left:
		extreme = "a sum of positive ranks as small as this one or smaller"
	case problem.Right:
		extreme = "a sum of positive ranks as large as this one or larger"
	}
	s.test(formula.Quotient{Over: formula.Product{n, oneMore}, Under: formula.Num(4)}, sdExpr, extreme)
	s.resample()
	s.Condition("independence", working.Met, working.Textf("Taken as met: no case tells anything about another. The numbers cannot show this."))
	s.evenness()
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "symmetry"})
	s.Step(working.Statistic, "W = "+s.Show("w_plus"), working.FormulaBlock{Quantity: "w_plus"},
		working.Say("If H₀ is true every rank is as likely to be positive as negative, and the sum is @{mean_rank} on average."),
		working.FormulaBlock{Quantity: "z"}).Opens = "w_plus"
	s.table = s.printedW(len(s.differences))
	s.steps(s.alternativeWords(s.p.Tail), s.nullWords())
	s.interval("The median of the averages of all pairs of values, each with itself too (Hodges and Lehmann).")
	tail := s.found()
	one := "case"
	if s.pair != nil {
		one = "pair"
	}
	used := count(len(s.values), one)
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimate of %s is @{shift} (%s\u00a0%% interval: %s).", used, s.alternativeWords(tail), s.subject, s.levelWords(), s.shiftWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(tail), s.nullWords()))
	}
	exact := "normal approximation"
	if s.exact != nil {
		exact = "exact"
	}
	report := working.Textf("%s was compared with %s by signed ranks (*n* = @{n}), *W* = @{w_plus}, *p* %s@{%s}, %s, %s; estimate @{shift}, %s\u00a0%% CI [%s].",
		s.response.Label, s.zero(), s.relation(s.deciding()), s.deciding(), exact, s.tails(), s.levelWords(), s.reported(math.Inf(-1), math.Inf(1)))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The number of differences first, then W, p and how it was found, and the estimate with its interval."))
	s.Conclude(s.conclusion, report)
	s.shiftFigure(s.median)
	s.Step(working.FollowUp, strings.TrimSpace("θ̂ = "+s.Show("shift")), working.FigureBlock{Figure: "interval"},
		working.Say("**The location**: the median of the averages of all %d pairs is @{shift}; the %s\u00a0%% interval, found among the same averages in their order, is %s.", s.pairs.Count(), s.levelWords(), s.shiftWords())).Opens = "shift"
}

// evenness judges whether the differences lie evenly about their middle, which the ranks take
// for granted however many there are: a skewness of 0.5 at least, and more than twice its
// standard error in normal samples, is taken as uneven (R. A. Fisher, Statistical Methods for
// Research Workers, 4th ed., appendix to chapter III).
func (s *signed) evenness() {
	n := float64(len(s.differences))
	skewness := stats.NewMoments(s.differences).Skewness(s.differences)
	shown := working.FormatNumber(skewness, 2)
	ways := s.byMeans()
	if n < stats.MinNormality {
		s.Condition("symmetry", working.Doubtful, working.Textf("%s cannot show whether they would lie evenly about their middle, as signed ranks take for granted.", upperFirst(count(len(s.differences), "difference"))), ways...)
		return
	}
	chance := 2 * math.Sqrt(6*n*(n-1)/((n-2)*(n+1)*(n+3)))
	if math.Abs(skewness) >= 0.5 && math.Abs(skewness) > chance {
		s.Condition("symmetry", working.Doubtful, working.Textf("The differences are skewed (%s; chance alone seldom brings more than ±%s): signed ranks take for granted that they lie evenly about their middle.", shown, working.FormatNumber(chance, 2)), ways...)
		return
	}
	s.Condition("symmetry", working.Met, working.Textf("The differences lie evenly enough about their middle (skewness %s). They need not be normal.", shown), ways...)
}

// byMeans is the way back to the mean, where it can be tested.
func (s *signed) byMeans() []working.Action {
	const says = "Works the same problem with the mean, beside this one."
	switch {
	case len(s.values) < 2 || s.five.Min == s.five.Max:
		return nil
	case s.pair != nil:
		return []working.Action{by("t-paired", "Compare the means", says)}
	case s.median == 0:
		return []working.Action{by("t-one-sample", "Test the mean", says)}
	}
	return []working.Action{by("t-one-sample", "Test the mean", says, problem.Set{Pointer: "/options/mean", Value: s.median})}
}
