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

// proportionTwo compares the proportions of two independent groups.
var proportionTwo = &Procedure{
	Description: Description{
		ID:         "proportion-two",
		Title:      "Two proportions",
		Asks:       "Do two groups have the same proportion?",
		AlsoCalled: []string{"two-proportion z-test", "test for the difference of two proportions"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles: []Role{categoryResponse,
			{ID: "group", Label: "Group", Says: "the category that tells the two groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2}},
		Options:  []Option{successOption, continuityOption},
		Tails:    true,
		Compared: "the proportion of the first group less that of the second",
	},
	Work: workProportionTwo,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		if used(factor) != 2 {
			return "", false
		}
		return fmt.Sprintf("%s is a category, and %s has two levels: how often one level of the first occurs is compared between them.", response.Title(), inSentence(factor.Title())), true
	},
}

// twoProportions is the problem while it is worked.
type twoProportions struct {
	location
	first, second     share
	response, success string
	factor            string
	given             int
	continuity        stats.Continuity
	stats             stats.TwoProportions
	pExact            float64
}

func workProportionTwo(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &twoProportions{location: location{p: p}}
	s.continuity = s.corrected(options["continuity"].(bool))
	if err := s.read(p, options); err != nil {
		return nil, err
	}
	s.stats = stats.CompareProportions(s.first.successes, s.first.n, s.second.successes, s.second.n, s.continuity)
	s.location = location{p: p, estimate: "difference", parameter: "difference", subject: s.minus(), named: "the difference " + s.minus(),
		value: s.stats.Difference, se: s.stats.SE, family: zFamily, apart: true}
	s.leans(s.value)
	s.pExact = s.exact()
	used := s.first.n + s.second.n
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: used, LeftOut: s.given - used})
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

func (s *twoProportions) read(p *problem.Problem, options Options) error {
	at := "/roles/group"
	if c := p.Data.Counts; c != nil {
		at = "/data/counts/cells"
		if len(c.Rows) != 2 || len(c.Columns) != 2 {
			return problem.Errors{{Pointer: "/data/counts", Says: "two proportions need a table of two rows and two columns", Instead: "give the groups as rows, the success as the first column"}}
		}
		if options["success"] != nil {
			return problem.Errors{{Pointer: "/options/success", Says: "with counts the first column is the success", Instead: "remove the option, or give the cases"}}
		}
		s.response, s.factor, s.success = "response", "group", c.Columns[0]
		if c.ColumnVariable != nil && c.ColumnVariable.Label != "" {
			s.response = c.ColumnVariable.Label
		}
		if c.RowVariable != nil && c.RowVariable.Label != "" {
			s.factor = c.RowVariable.Label
		}
		for i, to := range []*share{&s.first, &s.second} {
			*to = share{name: c.Rows[i], successes: int(c.Cells[i][0]), n: int(c.Cells[i][0]) + int(c.Cells[i][1])}
		}
		s.given = s.first.n + s.second.n
	} else {
		v, factor := p.Data.Variables.Find(p.Roles["response"][0]), p.Data.Variables.Find(p.Roles["group"][0])
		code, name, err := successOf(v, options)
		if err != nil {
			return err
		}
		s.response, s.factor, s.success, s.given = v.Title(), factor.Title(), name, v.Len()
		shares := make([]share, len(factor.Levels))
		for i, level := range factor.Levels {
			shares[i].name = level.Name
		}
		for _, i := range data.Complete(p.LeftOutCases(), v, factor) {
			shares[factor.Codes[i]].add(i+1, v.Levels[v.Codes[i]].Name, v.Codes[i] == code)
		}
		var there []share
		for _, one := range shares {
			if one.n > 0 {
				there = append(there, one)
			}
		}
		if len(there) != 2 {
			return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” has %s with usable cases, and two groups are compared", problem.Shorten(s.factor), count(len(there), "level")), Instead: "choose a group variable with two levels, or recode it"}}
		}
		s.first, s.second = there[0], there[1]
	}
	switch total := s.first.n + s.second.n; {
	case s.first.n == 0 || s.second.n == 0:
		return problem.Errors{{Pointer: at, Says: "one of the groups has no case", Instead: "give each some"}}
	case s.first.successes+s.second.successes == 0:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("no case is “%s”, so there is nothing to compare", problem.Shorten(s.success)), Instead: "choose another success, or check the data"}}
	case s.first.successes+s.second.successes == total:
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("all cases are “%s”, so there is nothing to compare", problem.Shorten(s.success)), Instead: "choose another success, or check the data"}}
	}
	letters := &grouped{groups: []group{{name: s.first.name}, {name: s.second.name}}}
	letters.letters()
	s.first.letter, s.second.letter = letters.groups[0].letter, letters.groups[1].letter
	return nil
}

// exact returns the exact p-value, given the margins of the table.
func (s *twoProportions) exact() float64 {
	d := dist.Hypergeometric{Population: s.first.n + s.second.n, Successes: s.first.successes + s.second.successes, Draws: s.first.n}
	switch s.p.Tail {
	case problem.Left:
		return d.Lower(s.first.successes)
	case problem.Right:
		return d.Upper(s.first.successes)
	}
	return stats.FisherExact(d, s.first.successes)
}

func (s *twoProportions) minus() string { return s.first.name + " − " + s.second.name }

func (s *twoProportions) controls(d *Description) {
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, s.first.letter, s.second.letter, s.alternativeWords))
	s.continuityControl(d, s.continuity != stats.NoCorrection)
	s.Brief(working.Textf("Compare the share of **%s** between **%s** and **%s**", s.success, s.first.name, s.second.name))
}

func (s *twoProportions) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is about two proportions: how often *%s* is **%s** for **%s** and for **%s**. Throughout, a difference is %s.", inSentence(s.response), s.success, s.first.name, s.second.name, s.minus()))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *twoProportions) count() {
	if s.first.cases != nil {
		s.Table(s.casesTable())
	}
	for i, one := range []share{s.first, s.second} {
		var nExpr, successesExpr formula.Expr
		if one.cases != nil {
			ref := "cases/" + working.EscapeRef(one.name) + "|*/success"
			s.Column(ref, one.values)
			series := s.Series(ref, "x_{i}", 0)
			nExpr, successesExpr = formula.Count{Column: series}, formula.Total{Column: series}
		}
		sub := func(id string) working.Ref { return working.Ref(indexed(id, i+1)) }
		s.Define(working.Quantity{ID: sub("n"), Symbol: "n_{" + one.letter + "}", Label: "Cases, " + one.name, Says: "How many the group has."}, working.Whole, float64(one.n), nExpr)
		s.Define(working.Quantity{ID: sub("successes"), Symbol: "x_{" + one.letter + "}", Label: "Successes, " + one.name, Says: "How many of them are a success: each counts 1, all others 0."}, working.Whole, float64(one.successes), successesExpr)
		s.Define(working.Quantity{ID: sub("proportion"), Symbol: `\hat{p}_{` + one.letter + "}", Label: "Proportion, " + one.name, Says: "The share of successes in the group."},
			working.Ratio, float64(one.successes)/float64(one.n), formula.Quotient{Over: indexed("successes", i+1), Under: indexed("n", i+1)})
	}
	t := &working.Table{ID: "groups", Title: fmt.Sprintf("%s by %s", s.response, inSentence(s.factor)), Key: []string{"group"},
		Columns: []working.Column{{ID: "group", Label: s.factor}, {ID: "n", Label: "cases", Numeric: true}, {ID: "successes", Label: s.success, Numeric: true}, {ID: "proportion", Label: "proportion", Numeric: true}}}
	var rows []working.Row
	for i, one := range []share{s.first, s.second} {
		row := working.Row{{Value: one.name, Shown: one.name}}
		for _, id := range []string{"n", "successes", "proportion"} {
			ref := working.Ref(indexed(id, i+1))
			row = append(row, working.Cell{Value: working.Number(s.Value(ref)), Shown: s.Show(ref), Ref: ref})
		}
		rows = append(rows, row)
	}
	t.SetRows(rows)
	s.Table(t)
	blocks := []working.Block{working.Say("@{successes_1} of @{n_1} for **%s** and @{successes_2} of @{n_2} for **%s** are **%s**.", s.first.name, s.second.name, s.success)}
	if left := s.given - s.first.n - s.second.n; left > 0 {
		blocks = append(blocks, working.Say("%s in all. Left out: %s.", upperFirst(count(s.given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value")))
	}
	blocks = append(blocks, working.TableBlock{Table: "groups"})
	if s.first.cases != nil {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, fmt.Sprintf("n = %s, %s", s.Show("n_1"), s.Show("n_2")), blocks...)
}

func (s *twoProportions) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"group", "case"}, Total: s.first.n + s.second.n, Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "group", Label: s.factor}, {ID: "response", Label: s.response}, {ID: "success", Label: "success", Numeric: true}}}
	t.Row = func(i int) working.Row {
		in := &s.first
		if i >= in.n {
			i -= in.n
			in = &s.second
		}
		return working.Row{{Value: in.cases[i], Shown: fmt.Sprint(in.cases[i])}, {Value: in.name, Shown: in.name}, {Value: in.names[i], Shown: in.names[i]},
			{Value: working.Number(in.values[i]), Shown: fmt.Sprint(in.values[i])}}
	}
	return t
}

func (s *twoProportions) look() {
	s.Figure(shareBars(s.response, s.success, []share{s.first, s.second}))
	s.Define(working.Quantity{ID: "difference", Symbol: fmt.Sprintf(`\hat{p}_{%s}-\hat{p}_{%s}`, s.first.letter, s.second.letter), Label: "Difference of the proportions, " + s.minus(), Says: "What the samples say about the difference of the two true proportions."},
		working.Ratio, s.stats.Difference, formula.Subtract(formula.Ref("proportion_1"), formula.Ref("proportion_2")))
	s.Step(working.Look, fmt.Sprintf("%s, %s", s.Show("proportion_1"), s.Show("proportion_2")),
		working.FigureBlock{Figure: "look"},
		working.Say("The proportions in the samples are @{proportion_1} (%s) and @{proportion_2} (%s). Whether they differ by more than chance would bring is what the test is for.", s.first.name, s.second.name))
}

// rarerWords says that something is rarer or more frequent in one group than in another, as
// the one tail asks.
func rarerWords(tail problem.Tail, what, first, second string) string {
	than := map[problem.Tail]string{problem.Left: "rarer", problem.Right: "more frequent"}[tail]
	return fmt.Sprintf("“%s” is %s for %s than for %s", what, than, first, second)
}

// notRarerWords says the opposite of rarerWords.
func notRarerWords(tail problem.Tail, what, first, second string) string {
	than := map[problem.Tail]string{problem.Left: "rarer", problem.Right: "more frequent"}[tail]
	return fmt.Sprintf("“%s” is not %s for %s than for %s", what, than, first, second)
}

// alternativeWords says what H₁ says with the given tail.
func (s *twoProportions) alternativeWords(tail problem.Tail) string {
	if tail == problem.Both {
		return fmt.Sprintf("the proportion of “%s” differs between %s and %s", s.success, s.first.name, s.second.name)
	}
	return rarerWords(tail, s.success, s.first.name, s.second.name)
}

// nullWords says what H₀ says.
func (s *twoProportions) nullWords() string {
	if s.p.Tail == problem.Both {
		return fmt.Sprintf("the proportion of “%s” is the same for %s and %s", s.success, s.first.name, s.second.name)
	}
	return notRarerWords(s.p.Tail, s.success, s.first.name, s.second.name)
}

func (s *twoProportions) hypotheses() {
	s.Define(working.Quantity{ID: "difference_0", Symbol: fmt.Sprintf(`(\pi_{%s}-\pi_{%s})_0`, s.first.letter, s.second.letter), Label: "Difference under H₀", Says: "H₀ states that there is none."}, working.Given, 0, nil)
	equal, other := s.signs()
	symbols := func(sign string) string {
		return fmt.Sprintf(`\pi_{%s}-\pi_{%s} %s 0`, s.first.letter, s.second.letter, teXSign(sign))
	}
	both := s.bothWays("which proportion should be the larger")
	blocks := []working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(equal), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(other), Words: s.alternativeWords(s.p.Tail)},
	}}
	blocks = append(blocks, s.tailReasons(both, "a difference "+s.minus())...)
	s.hypothesesStep(fmt.Sprintf("π_%s %s π_%s", s.first.letter, equal, s.second.letter), blocks...)
}

func (s *twoProportions) test() {
	one := formula.Num(1)
	n1, n2, pooled := formula.Ref("n_1"), formula.Ref("n_2"), formula.Ref("pooled_proportion")
	inverse := func(n formula.Ref) formula.Expr { return formula.Quotient{Over: one, Under: n} }
	s.Define(working.Quantity{ID: "pooled_proportion", Symbol: `\hat{p}`, Label: "Pooled proportion", Says: "If H₀ is true both groups have one common proportion, and all cases together estimate it best."},
		working.Ratio, s.stats.Pooled, formula.Quotient{Over: formula.Sum{formula.Ref("successes_1"), formula.Ref("successes_2")}, Under: formula.Sum{n1, n2}})
	s.Define(working.Quantity{ID: "se", Symbol: `s_{0}`, Label: "Standard error under H₀", Says: "How far the difference of two such proportions typically lies from 0, if H₀ is true."},
		working.Ratio, s.se, formula.Root{X: formula.Product{pooled, formula.Subtract(one, pooled), formula.Sum{inverse(n1), inverse(n2)}}})
	over := formula.Expr(formula.Ref("difference"))
	square := formula.Expr(formula.Square(formula.Ref("z")))
	if s.continuity != stats.NoCorrection {
		half := formula.Quotient{Over: formula.Sum{inverse(n1), inverse(n2)}, Under: formula.Num(2)}
		over = s.correct(s.continuity, s.value, s.stats.Correction, over, half, "Half a case in each group, as a proportion")
		square = formula.Square(formula.Quotient{
			Over: formula.NotBelow{X: formula.Subtract(formula.Abs{X: formula.Ref("difference")}, half)}, Under: formula.Ref("se")})
	}
	s.Define(working.Quantity{ID: "z", Symbol: "z", Label: "Test statistic", Says: "How many standard errors the observed difference lies from 0."}, working.Ratio, s.stats.Z, formula.Quotient{Over: over, Under: formula.Ref("se")})
	s.Define(working.Quantity{ID: "chi_square", Symbol: `\chi^{2}`, Label: "Chi-square", Says: "The statistic of the test of independence for the same table."}, working.Ratio, s.stats.ChiSquare, square)
	ratio := formula.Expr(formula.Quotient{Over: formula.Ref("proportion_1"), Under: formula.Ref("proportion_2")})
	if s.second.successes == 0 {
		ratio = nil
	}
	s.Define(working.Quantity{ID: "ratio", Symbol: fmt.Sprintf(`\hat{p}_{%s}/\hat{p}_{%s}`, s.first.letter, s.second.letter), Label: "Ratio of the proportions", Says: "How many times as frequent the success is in the first group."}, working.Ratio, s.stats.Ratio, ratio)
	extreme := "a difference of proportions at least this far from 0, in either direction,"
	switch s.p.Tail {
	case problem.Left:
		extreme = "a difference of proportions as low as this one or lower"
	case problem.Right:
		extreme = "a difference of proportions as high as this one or higher"
	}
	s.Test(working.Test{Statistic: "z", Symbol: "z", Family: zFamily, Name: "z, the standard normal curve", Extreme: extreme})
	s.resample()
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: "Fisher’s: from all tables with the same margins, without the normal approximation."}, working.P, s.pExact, nil)
}

func (s *twoProportions) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this; if the same things were asked twice, a test for pairs belongs here."))
	yes := s.stats.Pooled
	s.expectedCounts(yes*float64(s.first.n), (1-yes)*float64(s.first.n), yes*float64(s.second.n), (1-yes)*float64(s.second.n))
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "sample-size"})
}

func (s *twoProportions) steps() {
	blocks := []working.Block{
		working.Say("If H₀ is true there is one common proportion, so the cases of both groups are **pooled** to estimate it."),
		working.FormulaBlock{Quantity: "pooled_proportion"}, working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "z"},
	}
	same := working.Note("Squared, $z$ is the chi-square statistic of the same table: @{chi_square}.")
	if s.continuity != stats.NoCorrection {
		blocks = append(blocks, correctionSays(s.continuity, "half a case in each group"))
		if s.continuity != stats.TwoTails {
			same = working.Note("The chi-square statistic of the same table is @{chi_square}; it has no direction, and its correction always goes toward independence.")
		}
	}
	blocks = append(blocks, s.distance("z", s.continuity), same)
	s.Step(working.Statistic, "z = "+s.Show("z"), blocks...).Opens = "z"
	s.CriticalValueStep(s.printed()...)
	s.PValueStep()
	s.AddTo(working.PValue, working.Say("Exactly, by all tables with the same margins (Fisher): p %s@{p_exact}.", s.relation("p_exact")))
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.noteExact("p_exact")
	s.interval()
	s.conclude()
	s.followUp()
}

// interval defines the interval for the difference, with each proportion's own
// standard error.
func (s *twoProportions) interval() {
	outside, area := s.level(s.levelSays())
	zRef, z := s.multiplier("z_{*}", outside, area)
	own := func(i int) formula.Expr {
		p := indexed("proportion", i)
		return formula.Quotient{Over: formula.Product{p, formula.Subtract(formula.Num(1), p)}, Under: indexed("n", i)}
	}
	s.Define(working.Quantity{ID: "se_interval", Symbol: "s", Label: "Standard error of the interval", Says: "Not pooled: an interval does not take H₀ for granted, so each proportion brings its own uncertainty."},
		working.Ratio, s.stats.Unpooled, formula.Root{X: formula.Sum{own(1), own(2)}})
	reach := z*s.stats.Unpooled + s.stats.Correction
	reachExpr := formula.Expr(formula.Product{zRef, formula.Ref("se_interval")})
	if s.continuity != stats.NoCorrection {
		inverse := func(i int) formula.Expr { return formula.Quotient{Over: formula.Num(1), Under: indexed("n", i)} }
		reachExpr = formula.Sum{reachExpr, formula.Quotient{Over: formula.Sum{inverse(1), inverse(2)}, Under: formula.Num(2)}}
	}
	s.ends(working.Ratio, s.value-reach, s.value+reach, formula.Sum{formula.Ref("difference"), formula.Minus{X: reachExpr}}, formula.Sum{formula.Ref("difference"), reachExpr})
}

func (s *twoProportions) conclude() {
	tail := s.found()
	total := count(s.first.n+s.second.n, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated difference, %s, is @{difference} (%s\u00a0%% interval: %s).",
			total, s.alternativeWords(tail), s.minus(), s.levelWords(), s.intervalWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", total, s.alternativeWords(tail), s.nullWords()))
	}
	percent := func(x float64) string { return working.FormatNumber(100*x, 1) + "\u00a0%" }
	report := working.Textf("%s was found in %d of %d for %s (%s) and in %d of %d for %s (%s), *z* = @{z}, *p* %s@{p}, %s (exact *p* %s@{p_exact}); difference @{difference}, %s\u00a0%% CI [%s].",
		upperFirst(s.success), s.first.successes, s.first.n, s.first.name, percent(s.stats.First), s.second.successes, s.second.n, s.second.name, percent(s.stats.Second),
		s.relation("p"), s.tails(), s.relation("p_exact"), s.levelWords(), s.reported(-1, 1))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The counts first, then the statistic, both p-values, the difference and its interval."))
	s.Conclude(s.conclusion, report)
}

func (s *twoProportions) followUp() {
	s.intervalFigure(nil)
	blocks := append(s.intervalBlocks(), working.FormulaBlock{Quantity: "se_interval"})
	if s.second.successes > 0 && s.first.successes > 0 {
		blocks = append(blocks, working.Say("**As a ratio**: “%s” is %s for %s as for %s.", s.success, timesWords(s.stats.Ratio), s.first.name, s.second.name), working.FormulaBlock{Quantity: "ratio"})
	}
	s.Step(working.FollowUp, "", blocks...)
	s.plan()
}

// timesWords puts a ratio of frequencies into words: “almost twice as frequent”.
func timesWords(ratio float64) string {
	near := func(name string, of float64) string {
		switch r := ratio / of; {
		case math.Abs(r-1) < 0.02:
			return name
		case r < 1:
			return "almost " + name
		}
		return "a little more than " + name
	}
	switch {
	case math.Abs(ratio-1) < 0.005:
		return "just as frequent"
	case ratio > 0.45 && ratio < 0.55:
		return strings.Replace(near("half as frequent", 0.5), "almost half", "not quite half", 1)
	case ratio > 1.8 && ratio < 2.2:
		return near("twice as frequent", 2)
	case ratio > 2.7 && ratio < 3.3:
		return near("three times as frequent", 3)
	}
	return working.FormatNumber(ratio, 2) + " times as frequent"
}
