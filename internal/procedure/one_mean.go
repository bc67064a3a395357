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

// oneMean is a problem about one mean while it is worked: of a response, by z or t,
// or of the differences within pairs.
type oneMean struct {
	location
	sample
	known    bool // whether the population's standard deviation is
	stats    stats.OneMean
	decimals int // with which the values were entered
}

// sample is what is known of the values whose mean is tested.
type sample struct {
	response data.Heading
	pair     *pair // nil where single values are tested
	given    int
	summary  bool
	moments  stats.Moments
	values   []float64 // nil where only a summary is given
	cases    []int     // their rows, from 1
	five     stats.FiveNumbers
}

// pair are the two measurements of each case, first minus second.
type pair struct {
	first, second data.Heading
	firsts        []float64
	seconds       []float64
}

// readSample returns the sample of a problem with the role “response”, or with a
// summary of one group. sd says whether a summary must give its spread.
func readSample(p *problem.Problem, sd bool) (sample, error) {
	if p.Data.Summary != nil {
		return readSummarySample(p.Data.Summary, sd)
	}
	response := p.Data.Variables.Find(p.Roles["response"][0])
	s := sample{response: data.Heading{Label: response.Title(), Unit: response.Unit}, given: response.Len()}
	for _, i := range data.Complete(p.LeftOutCases(), response) {
		s.add(i+1, response.Numbers[i])
	}
	return s.measured("/roles/response")
}

func readSummarySample(summary *problem.Summary, sd bool) (sample, error) {
	s := sample{summary: true, response: data.Heading{Label: "response"}}
	if n := len(summary.Groups); n != 1 {
		return s, problem.Errors{{Pointer: "/data/summary/groups", Says: fmt.Sprintf("%s are given, and one mean is tested", count(n, "group")), Instead: "give one"}}
	}
	if r := summary.Response; r != nil {
		s.response.Unit = r.Unit
		if r.Label != "" {
			s.response.Label = r.Label
		}
	}
	g := summary.Groups[0]
	at := func(field string) string { return problem.Pointer("data", "summary", "groups", 0, field) }
	spread := math.NaN()
	switch {
	case g.Mean == nil:
		return s, problem.Errors{{Pointer: at("mean"), Says: "the mean is missing", Instead: "give it"}}
	case g.SD != nil:
		spread = *g.SD
	case sd:
		return s, problem.Errors{{Pointer: at("sd"), Says: "the standard deviation is missing", Instead: "give it"}}
	}
	s.given = int(g.N)
	s.moments = stats.SummaryMoments(s.given, *g.Mean, spread)
	return s, nil
}

// readPairs returns the differences, first − second, of the cases that have both.
func readPairs(p *problem.Problem) (sample, error) {
	first, second := p.Data.Variables.Find(p.Roles["first"][0]), p.Data.Variables.Find(p.Roles["second"][0])
	if first.Unit != second.Unit {
		return sample{}, problem.Errors{{Pointer: "/roles/second", Says: fmt.Sprintf("“%s” is in %s and “%s” in %s, and their difference is taken", problem.Shorten(first.Title()), unitOr(first.Unit), problem.Shorten(second.Title()), unitOr(second.Unit)), Instead: "give both in one unit"}}
	}
	s := sample{given: first.Len(), pair: &pair{
		first:  data.Heading{Label: first.Title(), Unit: first.Unit},
		second: data.Heading{Label: second.Title(), Unit: second.Unit},
	}}
	s.response = data.Heading{Label: first.Title() + " − " + inSentence(second.Title()), Unit: first.Unit}
	for _, i := range data.Complete(p.LeftOutCases(), first, second) {
		x, y := first.Numbers[i], second.Numbers[i]
		s.pair.firsts, s.pair.seconds = append(s.pair.firsts, x), append(s.pair.seconds, y)
		s.add(i+1, x-y)
	}
	return s.measured("/roles/first")
}

func unitOr(unit string) string {
	if unit == "" {
		return "no unit"
	}
	return unit
}

func (s *sample) add(row int, value float64) {
	s.values = append(s.values, value)
	s.cases = append(s.cases, row)
}

// measured takes the moments of the values.
func (s sample) measured(at string) (sample, error) {
	if len(s.values) == 0 {
		return s, problem.Errors{{Pointer: at, Says: "no case has a value", Instead: "check which variables play which role, and the cases left out"}}
	}
	s.moments = stats.NewMoments(s.values)
	s.five = stats.NewFiveNumbers(stats.Sorted(s.values))
	if math.IsInf(s.moments.Mean, 0) || math.IsInf(s.moments.SD, 0) {
		return s, problem.Errors{{Pointer: at, Says: "the numbers are too large to calculate with", Instead: "write them in a larger unit"}}
	}
	return s, nil
}

// needSpread refuses what has no spread to measure by.
func (s *sample) needSpread() error {
	at := "/roles/response"
	switch {
	case s.pair != nil:
		at = "/roles/first"
	case s.summary:
		at = "/data/summary/groups/0/n"
	}
	switch {
	case s.moments.N < 2:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("there is %s only, and a spread needs two", count(s.moments.N, "usable case")), Instead: "give more cases"}}
	case s.pair != nil && s.pair.constant():
		return problem.Errors{{Pointer: at, Says: "all pairs have the same difference, so there is nothing to measure it by", Instead: "check the data"}}
	case s.moments.SD == 0:
		if s.summary {
			at = "/data/summary/groups/0/sd"
		}
		return problem.Errors{{Pointer: at, Says: "all values are equal, so there is no spread to measure the mean by", Instead: "check the data"}}
	}
	return nil
}

// constant reports whether all differences are the same decimal, whatever the
// doubles that hold the two measurements make of it.
func (p *pair) constant() bool {
	first := stats.DecimalDifference(p.firsts[0], p.seconds[0])
	for i := range p.firsts {
		if stats.DecimalDifference(p.firsts[i], p.seconds[i]) != first {
			return false
		}
	}
	return true
}

// work writes the solution. mean0 is what H₀ states; sigma the population's
// standard deviation, NaN where it is not known.
func (s *oneMean) work(d *Description, mean0, sigma float64, option string) (*working.Working, error) {
	s.known = !math.IsNaN(sigma)
	s.stats = stats.CompareMean(s.moments, mean0, sigma)
	s.unit, s.null, s.value, s.se, s.option = s.response.Unit, mean0, s.moments.Mean, s.stats.SE, option
	s.estimate, s.parameter, s.subject = "mean", "mean", "mean "+inSentence(s.response.Label)
	if s.pair != nil {
		s.estimate, s.parameter = "mean_difference", "mean difference"
		s.subject = "mean difference " + s.minus()
	}
	s.named = s.subject
	s.leans(s.stats.Statistic)
	s.family = tFamily
	if s.known {
		s.family = zFamily
	}
	if t := s.stats.Statistic; math.IsInf(t, 0) || math.IsNaN(t) {
		return nil, tooFarApart()
	}
	s.Working = working.New(s.p, d.Title, working.Cases{Given: s.given, Used: s.moments.N, LeftOut: s.given - s.moments.N})
	s.SetScale(s.se)
	s.decimals = working.DecimalsOf(s.values, maxDecimals)
	if s.pair != nil {
		s.decimals = max(working.DecimalsOf(s.pair.firsts, maxDecimals), working.DecimalsOf(s.pair.seconds, maxDecimals))
	}
	s.controls(d)
	s.DefineAlpha()
	s.question()
	s.measure(sigma)
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.statisticStep()
	s.CriticalValueStep(s.degrees()...)
	s.PValueStep()
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.conclude()
	s.followUp()
	return s.Working, nil
}

// minus names the difference of a pair: “outbound − homebound”.
func (s *oneMean) minus() string {
	return inSentence(s.pair.first.Label) + " − " + inSentence(s.pair.second.Label)
}

// mu is the symbol of the mean that is tested.
func (s *oneMean) mu() string {
	if s.pair != nil {
		return `\mu_{d}`
	}
	return `\mu`
}

// statisticID is z or t.
func (s *oneMean) statisticID() working.Ref { return working.Ref(s.family.Symbol) }

func (s *oneMean) controls(d *Description) {
	s.Control(working.AlphaControl(s.p.Alpha))
	null, mu := working.FormatShortest(s.null), "μ"
	if s.pair != nil {
		mu = "μ_d"
	}
	s.Control(working.TailControl(s.p.Tail, mu, null, s.alternativeWords))
	if s.pair != nil {
		s.Brief(working.Textf("Compare **%s** with **%s** on the same cases", inSentence(s.pair.first.Label), inSentence(s.pair.second.Label)))
		return
	}
	s.Brief(working.Textf("Compare **%s** with **%s**", s.subject, s.hypothesised()))
}

func (s *oneMean) question() {
	blocks := s.claimBlocks()
	if s.pair != nil {
		blocks = append(blocks, working.Say("Each case was measured twice, so the question is about one mean: that of the *differences*, %s. What the cases differ in among themselves falls out of a difference.", s.minus()))
	} else {
		blocks = append(blocks, working.Say("The question is about one mean: that of *%s*, which is compared with %s.", inSentence(s.response.Label), s.hypothesised()))
	}
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// column is the column of the table of cases whose mean is tested.
func (s *oneMean) column() (id, symbol string) {
	if s.pair != nil {
		return "difference", "d_{i}"
	}
	return "response", "x_{i}"
}

// measure defines the size, mean and spread of the sample, and writes the step on
// the data.
func (s *oneMean) measure(sigma float64) {
	id, symbol := s.column()
	ref := "cases/*/" + id
	var nExpr, meanExpr, sdExpr formula.Expr
	letter, suffix := "x", ""
	if s.pair != nil {
		letter, suffix = "d", "_difference"
	}
	if !s.summary {
		s.Table(s.casesTable())
		s.Column(ref, s.values)
		series := s.Series(ref, symbol, s.decimals)
		nExpr = formula.Count{Column: series}
		meanExpr = formula.Quotient{Over: formula.Total{Column: series}, Under: formula.Ref("n")}
		sdExpr = formula.Root{X: formula.Quotient{
			Over:  formula.Deviations{Column: series, Centre: formula.Ref(s.estimate), Power: 2},
			Under: formula.Subtract(formula.Ref("n"), formula.Num(1)),
		}}
	}
	measured, saysMean, saysSD := working.Measure, "The centre of the sample.", "How far the cases typically lie from their mean. The divisor is n − 1, because the mean was estimated from the same cases."
	if s.pair != nil {
		saysMean, saysSD = "The mean of the differences.", "How far the differences typically lie from their mean, with the divisor n − 1."
	}
	if s.summary && s.p.Decimals == nil {
		measured, saysMean, saysSD = working.Given, "Given in the problem.", "Given in the problem."
	}
	noun := "Cases"
	if s.pair != nil {
		noun = "Pairs"
	}
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: noun, Says: "How many there are."}, working.Whole, float64(s.moments.N), nExpr)
	s.Define(working.Quantity{ID: s.estimate, Symbol: `\bar{` + letter + `}`, Label: upperFirst(s.parameter), Unit: s.unit, Says: saysMean}, measured, s.moments.Mean, meanExpr)
	if !math.IsNaN(s.moments.SD) {
		sdSymbol := "s"
		if s.pair != nil {
			sdSymbol = "s_{d}"
		}
		s.Define(working.Quantity{ID: working.Ref("sd" + suffix), Symbol: sdSymbol, Label: "Standard deviation", Unit: s.unit, Says: saysSD}, measured, s.moments.SD, sdExpr)
	}
	if s.known {
		s.Define(working.Quantity{ID: "sigma", Symbol: `\sigma`, Label: "Standard deviation of the population", Unit: s.unit, Says: "Given in the problem: it is known, not estimated from the sample."}, working.Given, sigma, nil)
	}

	leftOut := s.given - s.moments.N
	one := "case"
	if s.pair != nil {
		one = "pair"
	}
	says := working.Say("%s.", upperFirst(count(s.given, one)))
	if leftOut > 0 {
		says = working.Say("%s in all, of which @{n} used. Left out: %s.", count(s.given, one), leftOutWords(s.p.LeaveOut, leftOut, "with a missing value"))
	}
	blocks := []working.Block{says}
	var shown []working.Ref
	for _, id := range []working.Ref{"n", s.estimate, working.Ref("sd" + suffix), "sigma"} {
		if s.Has(id) {
			shown = append(shown, id)
		}
	}
	blocks = append(blocks, working.Values{Quantities: shown})
	if s.summary {
		blocks = append(blocks, working.Note("Only the summary is given, so nothing can be said about single cases or about their shape."))
	} else {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, "n = "+s.Show("n"), blocks...)
}

func (s *oneMean) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: len(s.values),
		Columns: []working.Column{{ID: "case", Label: "case", Numeric: true}}}
	add := func(id string, h data.Heading) {
		t.Columns = append(t.Columns, working.Column{ID: id, Label: h.Label, Unit: h.Unit, Numeric: true})
	}
	if s.pair == nil {
		add("response", s.response)
	} else {
		add("first", s.pair.first)
		add("second", s.pair.second)
		add("difference", data.Heading{Label: "difference", Unit: s.unit})
	}
	t.Row = func(i int) working.Row {
		row := working.Row{{Value: s.cases[i], Shown: fmt.Sprint(s.cases[i])}}
		if s.pair != nil {
			row = append(row, entered(s.pair.firsts[i], s.decimals), entered(s.pair.seconds[i], s.decimals))
		}
		return append(row, entered(s.values[i], s.decimals))
	}
	return t
}

func (s *oneMean) look() {
	f := &working.Figure{ID: "look", Title: s.response.Label, Axis: working.Axis{Label: s.response.Label, Unit: s.unit}}
	var reading working.Block
	switch {
	case s.summary:
		sd := s.moments.SD
		if math.IsNaN(sd) {
			sd = s.Value("sigma")
		}
		low, high := s.moments.Mean-sd, s.moments.Mean+sd
		f.Form = working.Intervals
		f.Marks = []working.Mark{{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, s.moments.Mean, high), Refs: []working.Ref{s.estimate}}}
		f.Axis.Min, f.Axis.Max = axis(low, high)
		f.Says = fmt.Sprintf("Mean %s, one standard deviation to either side.", s.withUnit(s.estimate))
		reading = working.Note("The dot is the mean, the bar reaches one standard deviation to either side.")
	default:
		f.Form = working.Boxes
		low, high := s.five.Whiskers(s.values)
		f.Marks = []working.Mark{
			{Shape: working.Box, Role: working.Observed, X: working.Positions(low, s.five.Q1, s.five.Median, s.five.Q3, high)},
			{Shape: working.Points, Role: working.Observed, X: working.Positions(s.values...), Case: s.cases},
			{Shape: working.Points, Role: working.MeanMark, X: working.Positions(s.moments.Mean), Refs: []working.Ref{s.estimate}},
		}
		f.Axis.Min, f.Axis.Max = axis(s.five.Min, s.five.Max)
		number := func(x float64) string { return working.FormatNumber(x, s.decimals+1) }
		f.Says = fmt.Sprintf("From %s to %s, middle half %s to %s, median %s.", number(s.five.Min), number(s.five.Max), number(s.five.Q1), number(s.five.Q3), number(s.five.Median))
		reading = working.Note("Each dot is a case. The box holds the middle half, the thick line is the median, the ring the mean; the whiskers end at the last case within one and a half box lengths. A quartile is the median of its half.")
	}
	s.Figure(f)
	says := working.Say("The sample mean is @{%s}. Whether it lies farther from %s than chance would bring is what the test is for.", s.estimate, s.hypothesised())
	if s.pair != nil {
		says = working.Say("The mean difference is @{mean_difference}. Whether it lies farther from %s than chance would bring is what the test is for.", s.hypothesised())
	}
	s.Step(working.Look, s.withUnit(s.estimate), working.FigureBlock{Figure: "look"}, says, reading).Opens = s.estimate
}

// axis returns the ends of an axis that holds the values.
func axis(values ...float64) (low, high working.Number) {
	from, to := working.Padded(0.05, values...)
	return working.Number(from), working.Number(to)
}

// alternativeWords says what H₁ says with the given tail.
func (s *oneMean) alternativeWords(tail problem.Tail) string {
	if s.pair != nil && s.null == 0 {
		first, second := inSentence(s.pair.first.Label), inSentence(s.pair.second.Label)
		switch tail {
		case problem.Left:
			return fmt.Sprintf("%s is on average lower than %s", first, second)
		case problem.Right:
			return fmt.Sprintf("%s is on average higher than %s", first, second)
		}
		return fmt.Sprintf("%s and %s differ on average", first, second)
	}
	is := map[problem.Tail]string{problem.Both: "differs from", problem.Left: "is lower than", problem.Right: "is higher than"}[tail]
	return fmt.Sprintf("%s %s %s", s.subject, is, s.hypothesised())
}

// nullWords says what H₀ says.
func (s *oneMean) nullWords() string {
	if s.pair != nil && s.null == 0 {
		first, second := inSentence(s.pair.first.Label), inSentence(s.pair.second.Label)
		is := map[problem.Tail]string{problem.Both: "the same as", problem.Left: "not lower than", problem.Right: "not higher than"}[s.p.Tail]
		return fmt.Sprintf("%s is on average %s %s", first, is, second)
	}
	is := map[problem.Tail]string{problem.Both: "is", problem.Left: "is at least", problem.Right: "is at most"}[s.p.Tail]
	return fmt.Sprintf("%s %s %s", s.subject, is, s.hypothesised())
}

func (s *oneMean) hypotheses() {
	null := string(s.estimate) + "_0"
	s.Define(working.Quantity{ID: working.Ref(null), Symbol: s.nullSymbol(), Label: upperFirst(s.parameter) + " under H₀", Unit: s.unit, Says: "What H₀ states."}, working.Given, s.null, nil)
	equal, other := s.signs()
	symbols := func(sign string) string {
		return s.mu() + " " + teXSign(sign) + " " + formula.TeXNumber(working.FormatShortest(s.null))
	}
	mu := "μ"
	if s.pair != nil {
		mu = "μ_d"
	}
	both := s.bothWays("on which side of %s the %s should lie", s.hypothesised(), s.parameter)
	blocks := []working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(equal), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(other), Words: s.alternativeWords(s.p.Tail)},
	}}
	blocks = append(blocks, s.tailReasons(both, "a "+s.parameter)...)
	s.hypothesesStep(fmt.Sprintf("%s %s %s", mu, equal, working.FormatShortest(s.null)), blocks...)
}

func (s *oneMean) nullSymbol() string {
	if s.pair != nil {
		return `\mu_{d,0}`
	}
	return `\mu_{0}`
}

// test defines the standard error, the statistic and everything that follows from it.
func (s *oneMean) test() {
	sd, symbol := formula.Ref("sd"), `s_{\bar{x}}`
	switch {
	case s.known:
		sd, symbol = "sigma", `\sigma_{\bar{x}}`
	case s.pair != nil:
		sd, symbol = "sd_difference", `s_{\bar{d}}`
	}
	s.Define(working.Quantity{ID: "se", Symbol: symbol, Label: "Standard error of the " + s.parameter, Unit: s.unit,
		Says: "How far the mean of such a sample typically lies from the mean of the population."},
		working.Measure, s.se, formula.Quotient{Over: sd, Under: formula.Root{X: formula.Ref("n")}})
	if !s.known {
		s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Every case gives one, and the mean that was estimated takes one away."},
			working.Degrees, s.stats.DF, formula.Subtract(formula.Ref("n"), formula.Num(1)))
	}
	over := formula.Expr(formula.Ref(s.estimate))
	if s.null != 0 || s.pair == nil {
		over = formula.Subtract(formula.Ref(s.estimate), formula.Ref(s.estimate+"_0"))
	}
	id := s.statisticID()
	s.Define(working.Quantity{ID: id, Symbol: string(id), Label: "Test statistic", Says: fmt.Sprintf("How many standard errors the observed %s lies from what H₀ states.", s.parameter)},
		working.Ratio, s.stats.Statistic, formula.Quotient{Over: over, Under: formula.Ref("se")})
	extreme := fmt.Sprintf("a sample with a %s at least this many standard errors from %s, in either direction,", s.parameter, s.hypothesised())
	switch s.p.Tail {
	case problem.Left:
		extreme = fmt.Sprintf("a sample with a %s as low as this one or lower, in standard errors,", s.parameter)
	case problem.Right:
		extreme = fmt.Sprintf("a sample with a %s as high as this one or higher, in standard errors,", s.parameter)
	}
	test := working.Test{Statistic: id, Symbol: string(id), Family: s.family, Name: "z, the standard normal curve", Extreme: extreme}
	if !s.known {
		test.Degrees, test.Name = []working.Ref{"df"}, "t, "+s.DegreesWords("df")
	}
	s.Test(test)
	s.resample()
}

func (s *oneMean) statisticStep() {
	id := s.statisticID()
	why := working.Note("It is $t$ and not $z$, because the standard deviation was estimated from the sample; $z$ belongs where the population's is known.")
	if s.known {
		why = working.Note("It is $z$ and not $t$, because the standard deviation of the population is known; $t$ belongs where it is estimated from the sample.")
	}
	s.Step(working.Statistic, string(id)+" = "+s.Show(id), working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: id}, s.distance(id, stats.NoCorrection), why).Opens = id
}

func (s *oneMean) degrees() []working.Block {
	if s.known {
		return s.printed()
	}
	one := "case"
	if s.pair != nil {
		one = "pair"
	}
	return append([]working.Block{working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: one for each of @{n} %ss, less one for the mean that was estimated.", one)}, s.printed()...)
}

func (s *oneMean) conclude() {
	s.interval()
	if !math.IsNaN(s.moments.SD) && s.moments.SD > 0 {
		sd := formula.Ref("sd")
		if s.pair != nil {
			sd = "sd_difference"
		}
		over := formula.Expr(formula.Ref(s.estimate))
		if s.null != 0 || s.pair == nil {
			over = formula.Subtract(formula.Ref(s.estimate), formula.Ref(s.estimate+"_0"))
		}
		s.Define(working.Quantity{ID: "cohen_d", Symbol: "d", Label: "Distance from H₀ in standard deviations (Cohen’s d)", Says: "A size that does not depend on the unit or on the number of cases."},
			working.Ratio, s.stats.CohenD, formula.Quotient{Over: over, Under: sd})
	}
	one := "case"
	if s.pair != nil {
		one = "pair"
	}
	var conclusion working.Text
	if s.Rejected() {
		conclusion = working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated %s is @{%s} (%s\u00a0%% interval: %s).",
			count(s.moments.N, one), s.alternativeWords(s.found()), s.subject, s.estimate, s.levelWords(), s.intervalWords())
	} else {
		conclusion = working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.",
			count(s.moments.N, one), s.alternativeWords(s.p.Tail), s.nullWords())
	}
	var more []working.Block
	if s.Rejected() {
		more = append(more, working.Warn("Significant is not the same as important: whether a %s of @{%s} matters is a question about %s, not about statistics.", s.parameter, s.estimate, inSentence(s.response.Label)))
	}
	s.concludeWith(conclusion, more...)
	report := s.report()
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("Mean and standard deviation first, then the statistic, p and the interval."))
	s.Conclude(s.conclusion, report)
}

func (s *oneMean) report() working.Text {
	not := " not"
	if s.Rejected() {
		not = ""
	}
	than := map[problem.Tail]string{problem.Both: "different from", problem.Left: "lower than", problem.Right: "higher than"}[s.p.Tail]
	spread := working.Text(nil)
	switch {
	case s.pair != nil:
		spread = working.Textf(", *SD* = @{sd_difference}")
	case s.Has("sd"):
		spread = working.Textf(", *SD* = @{sd}")
	}
	statistic := working.Textf("*z* = @{z}")
	if !s.known {
		statistic = working.Textf("*t*(@{df}) = @{t}")
	}
	return working.Join(
		working.Textf("%s (*M* = @{%s}", upperFirst(s.subject), s.estimate), spread,
		working.Textf(", *n* = @{n}) was%s significantly %s %s, ", not, than, s.hypothesised()), statistic,
		working.Textf(", *p* %s@{p}, %s; %s\u00a0%% CI [%s].", s.relation("p"), s.tails(), s.levelWords(), s.reported(math.Inf(-1), math.Inf(1))))
}

func (s *oneMean) followUp() {
	var more []working.Mark
	var ends []float64
	if !s.summary {
		more = []working.Mark{{Shape: working.Points, Role: working.Observed, X: working.Positions(s.values...), Case: s.cases}}
		ends = []float64{s.five.Min, s.five.Max}
	}
	s.intervalFigure(more, ends...)
	blocks := s.intervalBlocks()
	if !s.summary {
		blocks = append(blocks, working.Note("The dots are the cases. The interval is about their mean, not about where single cases lie: with more cases it shrinks, and they do not."))
	}
	key := ""
	if s.Has("cohen_d") {
		key = "d = " + s.Show("cohen_d")
		blocks = append(blocks, working.Say("**How large is it?** The %s lies @{cohen_d} standard deviations from what H₀ states: %s by the usual rule of thumb (0.2 small, 0.5 medium, 0.8 large).", s.parameter, sizeWords(s.stats.CohenD)),
			working.FormulaBlock{Quantity: "cohen_d"})
	}
	s.Step(working.FollowUp, key, blocks...)
	s.plan()
}

// conditions judges what the test takes for granted and writes the step.
func (s *oneMean) conditions() {
	ids := []string{"independence", "normality"}
	independence := "Taken as met: no case tells anything about another. The numbers cannot show this; it comes from how the cases were chosen."
	if s.pair != nil {
		independence = "Taken as met: no pair tells anything about another. Within a pair the two measurements belong together; that is why their difference is taken."
	}
	s.Condition("independence", working.Met, working.Textf("%s", independence))
	if s.known {
		ids = append([]string{"known-sd"}, ids...)
		s.Condition("known-sd", working.Met, working.Textf("Taken as met: σ = @{sigma} is known beforehand. If it was estimated from these very cases, t belongs here."), s.useT()...)
	}
	s.instead = s.byRanks()
	s.shape()
	if !s.summary {
		ids = append(ids, "outliers")
		s.outliers([]spread{s.spread()}, s.decimals)
	}
	var blocks []working.Block
	for _, id := range ids {
		blocks = append(blocks, working.Check{Condition: id})
	}
	if !s.summary {
		blocks = append(blocks, s.scoresBlocks(s.response, []spread{s.spread()})...)
	}
	s.Step(working.Conditions, s.conditionKey(), blocks...)
}

// spread returns the values as what conditions are judged by.
func (s *sample) spread() spread { return spread{"", s.values, s.cases, s.five} }

// useT is the way from z to t, where the sample has a spread to estimate σ from.
func (s *oneMean) useT() []working.Action {
	if !(s.moments.SD > 0) {
		return nil
	}
	return []working.Action{{
		ID: "estimate-sd", Label: "Estimate it and compare", Procedure: "t-one-sample", Compare: true,
		Says: "Works the same problem with the standard deviation of the sample, beside this one.",
	}}
}

// byRanks is the way to signed ranks, which need no normal shape; pairs are compared
// with 0 there.
func (s *oneMean) byRanks() []working.Action {
	const says = "Works the same problem with the ranks of the differences, beside this one. They need to lie evenly, not to be normal."
	switch {
	case s.summary || s.five.Min == s.five.Max || s.pair != nil && s.null != 0:
		return nil
	case s.pair != nil || s.null == 0:
		return []working.Action{by("signed-rank", "Compare by ranks", says)}
	}
	return []working.Action{by("signed-rank", "Compare by ranks", says, problem.Set{Pointer: "/options/median", Value: s.null})}
}

// shape judges whether the mean can be taken as normal.
func (s *oneMean) shape() {
	n := s.moments.N
	switch {
	case s.summary && n >= stats.FewCases:
		s.unseenShape(working.Met, "With %d cases the mean is close to normal, unless they are strongly skewed, which a summary does not show.", n)
		return
	case s.summary:
		s.unseenShape(working.Doubtful, "Cannot be seen from a summary. With %s the cases should themselves be close to normal, without far outliers.", count(n, "case"))
		return
	case n < stats.MinNormality:
		s.unseenShape(working.Doubtful, "%s shows no shape: the population itself must be normal.", upperFirst(count(n, "case")))
		return
	}
	skewness := s.moments.Skewness(s.values)
	var expr formula.Expr
	if s.moments.SD > 0 {
		id, symbol := s.column()
		sd := formula.Ref("sd")
		if s.pair != nil {
			sd = "sd_difference"
		}
		expr = formula.Quotient{
			Over:  formula.Deviations{Column: s.Series("cases/*/"+id, symbol, s.decimals), Centre: formula.Ref(s.estimate), Power: 3},
			Under: formula.Product{formula.Ref("n"), formula.Power{Base: sd, Exponent: 3}},
		}
	}
	s.Define(working.Quantity{ID: "skewness", Symbol: "g", Label: "Skewness", Says: "How lopsided the cases are: 0 when even, positive with a long tail to the right."}, working.Ratio, skewness, expr)
	ofMean := stats.SkewnessOfMeans(stats.WeighedMean{Weight: 1, N: n, SD: s.moments.SD, Skewness: skewness})
	s.Define(working.Quantity{ID: "mean_skewness", Symbol: `g_{\bar{x}}`, Label: "Skewness of the mean", Says: "How lopsided means of such samples are: the more cases, the less."},
		working.Ratio, ofMean, formula.Quotient{Over: formula.Ref("skewness"), Under: formula.Root{X: formula.Ref("n")}})
	cases := "these cases"
	if s.pair != nil {
		cases = "the differences"
	}
	s.shapeCondition(shapeJudged{samples: []spread{s.spread()}, cases: cases, estimate: "their mean", symbol: s.family.Symbol, skewness: ofMean, ref: "mean_skewness", oneTail: s.p.Tail != problem.Both})
}
