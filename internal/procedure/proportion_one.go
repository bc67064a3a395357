package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// proportionOne compares one proportion with a value, by the normal approximation
// and exactly.
var proportionOne = &Procedure{
	Description: Description{
		ID:         "proportion-one",
		Title:      "One proportion",
		Asks:       "Is a proportion what it is said to be?",
		AlsoCalled: []string{"one-proportion z-test", "binomial test", "test for a proportion"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles:      []Role{categoryResponse},
		Options: []Option{
			successOption,
			{ID: "proportion", Label: "Proportion under H₀", Type: NumberOption, Default: 0.5, Says: "What the proportion of successes is said to be, between 0 and 1."},
			continuityOption,
		},
		Tails:    true,
		Compared: "the proportion, beside its value under H₀",
	},
	Work: workProportionOne,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return assigned["response"][0].Title() + " is a category: how often one of its levels occurs is compared with a share that is claimed.", true
	},
}

// What tests of proportions have in common.
var (
	categoryResponse = Role{ID: "response", Label: "Response", Says: "the category, one of whose levels is the success", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1}
	successOption    = Option{ID: "success", Label: "Success", Type: LevelOption, Of: "response", Says: "Which level is counted; all others are not."}
	continuityOption = Option{ID: "continuity", Label: "Continuity correction", Type: BooleanOption, Default: false, Live: true, Key: "c",
		Says: "Counts go in steps and the normal curve does not; half a step nearer to H₀ makes the approximation a little more careful."}
)

// share is how often the success occurs in a group.
type share struct {
	name         string // of the group, "" where there is one only
	letter       string
	n, successes int

	cases  []int     // rows, from 1; nil where only counts are given
	values []float64 // 1 for a success, else 0
	names  []string  // of their levels
}

// add counts a case.
func (s *share) add(row int, name string, success bool) {
	value := 0.0
	if success {
		s.successes++
		value = 1
	}
	s.n++
	s.cases, s.values, s.names = append(s.cases, row), append(s.values, value), append(s.names, name)
}

// successOf returns the code of the level that counts as the success.
func successOf(v *data.Variable, options Options) (code int, name string, err error) {
	wanted, given := options["success"].(string)
	if !given {
		return 0, "", problem.Errors{{Pointer: "/options/success", Says: "it is not said which level is the success", Instead: "name one of " + problem.List(levelNames(v), "or")}}
	}
	at := v.FindLevel(wanted)
	if at < 0 {
		return 0, "", problem.Errors{{Pointer: "/options/success", Says: fmt.Sprintf("no level of “%s” is “%s” alone", problem.Shorten(v.Title()), problem.Shorten(wanted)), Instead: "its levels are " + problem.List(levelNames(v), "and")}}
	}
	return at, v.Levels[at].Name, nil
}

// oneProportion is the problem while it is worked.
type oneProportion struct {
	location
	share
	response, success string // their names
	given             int
	continuity        stats.Continuity
	stats             stats.OneProportion
	pExact            float64
}

func workProportionOne(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &oneProportion{location: location{p: p}}
	s.continuity = s.corrected(options["continuity"].(bool))
	if err := s.read(p, options); err != nil {
		return nil, err
	}
	p0 := options["proportion"].(float64)
	if !(p0 > 0 && p0 < 1) {
		return nil, problem.Errors{{Pointer: "/options/proportion", Says: "proportion is " + data.FormatNumber(p0), Instead: "it must lie between 0 and 1, both excluded"}}
	}
	s.stats = stats.CompareProportion(s.successes, s.n, p0, s.continuity)
	s.location = location{p: p, estimate: "proportion", parameter: "proportion", subject: "the proportion of “" + s.success + "”", named: "the proportion of “" + s.success + "”",
		option: "proportion", null: p0, value: s.stats.Proportion, se: s.stats.SE, family: zFamily, apart: s.continuity != stats.NoCorrection, least: 0, greatest: 1}
	s.leans(s.value - s.null)
	s.pExact = s.exact()
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: s.n, LeftOut: s.given - s.n})
	s.controls(d)
	s.DefineAlpha()
	s.question()
	s.count()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

func (s *oneProportion) read(p *problem.Problem, options Options) error {
	if c := p.Data.Counts; c != nil {
		if len(c.Categories) != 2 {
			return problem.Errors{{Pointer: "/data/counts/categories", Says: fmt.Sprintf("%d categories are counted, and one proportion is tested", len(c.Categories)), Instead: "give two, the success first"}}
		}
		if options["success"] != nil {
			return problem.Errors{{Pointer: "/options/success", Says: "with counts the first category is the success", Instead: "remove the option, or give the cases"}}
		}
		s.response, s.success = "response", c.Categories[0]
		if c.Variable != nil && c.Variable.Label != "" {
			s.response = c.Variable.Label
		}
		s.successes = int(c.Observed[0])
		s.n = s.successes + int(c.Observed[1])
		s.given = s.n
		if s.n == 0 {
			return problem.Errors{{Pointer: "/data/counts/observed", Says: "nothing was counted", Instead: "give counts above 0"}}
		}
		return nil
	}
	v := p.Data.Variables.Find(p.Roles["response"][0])
	code, name, err := successOf(v, options)
	if err != nil {
		return err
	}
	s.response, s.success, s.given = v.Title(), name, v.Len()
	for _, i := range data.Complete(p.LeftOutCases(), v) {
		s.add(i+1, v.Levels[v.Codes[i]].Name, v.Codes[i] == code)
	}
	if s.n == 0 {
		return problem.Errors{{Pointer: "/roles/response", Says: "no case has a value", Instead: "check the role, and the cases left out"}}
	}
	return nil
}

// exact returns the exact p-value.
func (s *oneProportion) exact() float64 {
	d := dist.Binomial{N: s.n, P: s.null}
	switch s.p.Tail {
	case problem.Left:
		return d.Lower(s.successes)
	case problem.Right:
		return d.Upper(s.successes)
	}
	return stats.BinomialExact(s.successes, s.n, s.null)
}

func (s *oneProportion) controls(d *Description) {
	null := working.FormatShortest(s.null)
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, "π", null, s.alternativeWords))
	s.continuityControl(d, s.continuity != stats.NoCorrection)
	s.Brief(working.Textf("Compare the share of **%s** among **%s** with **%s**", s.success, inSentence(s.response), null))
}

// continuityControl offers the continuity correction under the curve.
func (l *location) continuityControl(d *Description, on bool) {
	for i := range d.Options {
		if option := &d.Options[i]; option.ID == "continuity" {
			control := option.control("")
			control.Value = on
			control.Choices = []working.Choice{{Value: false, Label: "off", Says: "as the formula stands"}, {Value: true, Label: "on", Says: "half a case nearer to H₀ (Yates)"}}
			l.Control(control)
		}
	}
}

func (s *oneProportion) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is about one proportion: how often *%s* is **%s**, compared with %s.", inSentence(s.response), s.success, working.FormatShortest(s.null)))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *oneProportion) count() {
	var nExpr, successesExpr formula.Expr
	if s.cases != nil {
		s.Table(s.casesTable())
		s.Column("cases/*/success", s.values)
		series := s.Series("cases/*/success", "x_{i}", 0)
		nExpr, successesExpr = formula.Count{Column: series}, formula.Total{Column: series}
	}
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many there are."}, working.Whole, float64(s.n), nExpr)
	s.Define(working.Quantity{ID: "successes", Symbol: "x", Label: "Successes: " + s.success, Says: "How many of them are a success: each counts 1, all others 0."}, working.Whole, float64(s.successes), successesExpr)
	s.Define(working.Quantity{ID: "proportion", Symbol: `\hat{p}`, Label: "Proportion", Says: "The share of successes in the sample."},
		working.Ratio, s.stats.Proportion, formula.Quotient{Over: formula.Ref("successes"), Under: formula.Ref("n")})
	says := working.Say("@{successes} of @{n} cases are **%s**.", s.success)
	blocks := []working.Block{says}
	if left := s.given - s.n; left > 0 {
		blocks = append(blocks, working.Say("%s in all. Left out: %s.", upperFirst(count(s.given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value")))
	}
	blocks = append(blocks, working.FormulaBlock{Quantity: "proportion"})
	if s.cases != nil {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, fmt.Sprintf("%s of %s", s.Show("successes"), s.Show("n")), blocks...)
}

func (s *oneProportion) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: s.n, Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "response", Label: s.response}, {ID: "success", Label: "success", Numeric: true}}}
	t.Row = func(i int) working.Row {
		return working.Row{{Value: s.cases[i], Shown: fmt.Sprint(s.cases[i])}, {Value: s.names[i], Shown: s.names[i]},
			{Value: working.Number(s.values[i]), Shown: fmt.Sprint(s.values[i])}}
	}
	return t
}

// shareBars draws how often the success occurs in each group.
func shareBars(title, success string, shares []share) *working.Figure {
	f := &working.Figure{ID: "look", Form: working.Bars, Title: title, Axis: working.Axis{Label: "cases", Unit: "%", Min: 0, Max: 100}}
	var says []string
	for row, one := range shares {
		percent := 100 * float64(one.successes) / float64(one.n)
		label := one.name
		if label == "" {
			label = success
		}
		f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Row: row, Label: label, X: working.Positions(0, percent)})
		says = append(says, fmt.Sprintf("%s: %s\u00a0%% (%d of %d)", label, working.FormatNumber(percent, 1), one.successes, one.n))
	}
	f.Says = strings.Join(says, "; ") + "."
	return f
}

func (s *oneProportion) look() {
	other := share{name: "all others", n: s.n, successes: s.n - s.successes}
	first := s.share
	first.name = s.success
	s.Figure(shareBars(s.response, s.success, []share{first, other}))
	s.Step(working.Look, "p̂ = "+s.Show("proportion"),
		working.FigureBlock{Figure: "look"},
		working.Say("The proportion in the sample is @{proportion}. Whether it lies farther from %s than chance would bring is what the test is for.", working.FormatShortest(s.null))).Opens = "proportion"
}

// alternativeWords says what H₁ says with the given tail.
func (s *oneProportion) alternativeWords(tail problem.Tail) string {
	is := map[problem.Tail]string{problem.Both: "differs from", problem.Left: "is lower than", problem.Right: "is higher than"}[tail]
	return fmt.Sprintf("%s %s %s", s.subject, is, working.FormatShortest(s.null))
}

// nullWords says what H₀ says.
func (s *oneProportion) nullWords() string {
	is := map[problem.Tail]string{problem.Both: "is", problem.Left: "is at least", problem.Right: "is at most"}[s.p.Tail]
	return fmt.Sprintf("%s %s %s", s.subject, is, working.FormatShortest(s.null))
}

func (s *oneProportion) hypotheses() {
	s.Define(working.Quantity{ID: "proportion_0", Symbol: `\pi_{0}`, Label: "Proportion under H₀", Says: "What H₀ states."}, working.Given, s.null, nil)
	equal, other := s.signs()
	null := working.FormatShortest(s.null)
	both := s.bothWays("on which side of %s the proportion should lie", null)
	blocks := []working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \pi ` + teXSign(equal) + " " + formula.TeXNumber(null), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \pi ` + teXSign(other) + " " + formula.TeXNumber(null), Words: s.alternativeWords(s.p.Tail)},
	}}
	blocks = append(blocks, s.tailReasons(both, "a proportion")...)
	s.hypothesesStep(fmt.Sprintf("π %s %s", equal, null), blocks...)
}

func (s *oneProportion) test() {
	one, null := formula.Num(1), formula.Ref("proportion_0")
	s.Define(working.Quantity{ID: "se", Symbol: `\sigma_{\hat{p}}`, Label: "Standard error under H₀", Says: "How far the proportion of such a sample typically lies from the true one, if H₀ is true. It comes from the proportion that H₀ states, not from the observed one."},
		working.Ratio, s.se, formula.Root{X: formula.Quotient{Over: formula.Product{null, formula.Subtract(one, null)}, Under: formula.Ref("n")}})
	over := formula.Expr(formula.Subtract(formula.Ref("proportion"), null))
	if s.continuity != stats.NoCorrection {
		over = s.correct(s.continuity, s.value-s.null, 1/(2*float64(s.n)), over,
			formula.Quotient{Over: one, Under: formula.Product{formula.Num(2), formula.Ref("n")}}, "Half a case, as a proportion")
	}
	s.Define(working.Quantity{ID: "z", Symbol: "z", Label: "Test statistic", Says: "How many standard errors the observed proportion lies from the one that H₀ states."},
		working.Ratio, s.stats.Z, formula.Quotient{Over: over, Under: formula.Ref("se")})
	extreme := "a proportion at least this far from the one of H₀, in either direction,"
	switch s.p.Tail {
	case problem.Left:
		extreme = "a proportion as low as this one or lower"
	case problem.Right:
		extreme = "a proportion as high as this one or higher"
	}
	s.Test(working.Test{Statistic: "z", Symbol: "z", Family: zFamily, Name: "z, the standard normal curve", Extreme: extreme})
	s.resample()
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: "From the binomial distribution itself, without the normal approximation."}, working.P, s.pExact, nil)
}

// conditions judges whether the normal approximation holds, by the usual rule of 10
// expected successes and failures.
func (s *oneProportion) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: no case tells anything about another. The numbers cannot show this."))
	expected := float64(s.n) * s.null
	s.expectedCounts(expected, float64(s.n)-expected)
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "sample-size"})
}

// expectedCounts judges whether there are enough successes and failures for the
// normal approximation.
func (l *location) expectedCounts(counts ...float64) {
	least := counts[0]
	for _, c := range counts {
		least = math.Min(least, c)
	}
	shown := working.FormatNumber(least, 1)
	switch {
	case least >= 10:
		l.Condition("sample-size", working.Met, working.Textf("Enough for the normal curve: at least %s successes and failures are expected, and 10 are usual.", shown))
	case least >= 5:
		l.Condition("sample-size", working.Doubtful, working.Textf("Few for the normal curve: only %s are expected of the rarer outcome, and 10 are usual. The exact p-value, @{p_exact}, stands beside.", shown))
	default:
		l.Condition("sample-size", working.NotMet, working.Textf("Too few for the normal curve: only %s are expected of the rarer outcome, and 10 are usual. Go by the exact p-value, @{p_exact}.", shown))
	}
}

func (s *oneProportion) steps() {
	blocks := []working.Block{working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "z"}}
	if s.continuity != stats.NoCorrection {
		blocks = append(blocks, correctionSays(s.continuity, "half a case"))
	}
	blocks = append(blocks, s.distance("z", s.continuity), working.Note("The statistic is $z$: the standard error follows from the proportion of H₀, and nothing has to be estimated."))
	s.Step(working.Statistic, "z = "+s.Show("z"), blocks...).Opens = "z"
	s.CriticalValueStep(s.printed()...)
	s.PValueStep()
	s.AddTo(working.PValue, working.Say("Exactly, by the binomial distribution of @{n} trials: p %s@{p_exact}.", s.relation("p_exact")))
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.noteExact("p_exact")
	s.interval()
	s.conclude()
	s.followUp()
}

// interval defines Wilson's interval and, beside it, the exact one.
func (s *oneProportion) interval() {
	outside, area := s.level(s.levelSays())
	zRef, z := s.multiplier("z_{*}", outside, area)
	low, high := stats.Wilson(s.successes, s.n, z)
	exactLow, exactHigh := stats.ClopperPearson(s.successes, s.n, area)
	n, x := formula.Ref("n"), formula.Ref("successes")
	z2 := formula.Square(zRef)
	centre := formula.Sum{x, formula.Quotient{Over: z2, Under: formula.Num(2)}}
	reach := formula.Product{zRef, formula.Root{X: formula.Sum{
		formula.Quotient{Over: formula.Product{x, formula.Subtract(n, x)}, Under: n}, formula.Quotient{Over: z2, Under: formula.Num(4)}}}}
	under := formula.Sum{n, z2}
	s.ends(working.Ratio, low, high, formula.Quotient{Over: formula.Sum{centre, formula.Minus{X: reach}}, Under: under}, formula.Quotient{Over: formula.Sum{centre, reach}, Under: under})
	s.end("exact_low", "Lower end of the exact interval", `\text{lower}_{\text{exact}}`, working.Ratio, exactLow, nil)
	s.end("exact_high", "Upper end of the exact interval", `\text{upper}_{\text{exact}}`, working.Ratio, exactHigh, nil)
}

func (s *oneProportion) conclude() {
	tail := s.found()
	var conclusion working.Text
	if s.Rejected() {
		conclusion = working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated proportion is @{proportion} (%s\u00a0%% interval: %s).",
			count(s.n, "case"), s.alternativeWords(tail), s.levelWords(), s.intervalWords())
	} else {
		conclusion = working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.",
			count(s.n, "case"), s.alternativeWords(tail), s.nullWords())
	}
	s.concludeWith(conclusion)
	report := working.Textf("%d of %d (%s\u00a0%%) were %s, *z* = @{z}, *p* %s@{p}, %s (exact *p* %s@{p_exact}); %s\u00a0%% CI [%s].",
		s.successes, s.n, working.FormatNumber(100*s.value, 1), s.success, s.relation("p"), s.tails(), s.relation("p_exact"), s.levelWords(), s.reported(0, 1))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The counts first, then the statistic, both p-values and the interval."))
	s.Conclude(s.conclusion, report)
}

func (s *oneProportion) followUp() {
	s.intervalFigure(nil)
	blocks := append(s.intervalBlocks(),
		working.Say("The interval is Wilson's: it holds those proportions from which the observed one lies at most @{z_interval} standard errors. The exact one (Clopper and Pearson), %s, is a little wider: it never holds the true proportion less often than it says.", s.exactWords()))
	s.Step(working.FollowUp, "", blocks...)
	s.plan()
}

func (s *oneProportion) exactWords() string {
	switch s.p.Tail {
	case problem.Left:
		return "at most " + s.Show("exact_high")
	case problem.Right:
		return "at least " + s.Show("exact_low")
	}
	return s.Show("exact_low") + " to " + s.Show("exact_high")
}
