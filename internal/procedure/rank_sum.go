package procedure

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// rankSum compares two independent groups by the ranks of their values.
var rankSum = &Procedure{
	Description: Description{
		ID:         "rank-sum",
		Title:      "Two groups by ranks",
		Asks:       "Does one group tend to larger values than another?",
		AlsoCalled: []string{"Mann–Whitney U test", "Wilcoxon rank-sum test", "Wilcoxon–Mann–Whitney test"},
		Takes:      []Takes{TakesVariables},
		Roles:      twoGroupRoles,
		Options:    []Option{groupsOption, continuityOption},
		Tails:      true,
		Compared:   "the values of the first group, beside those of the second",
	},
	Work: workRankSum,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		return fmt.Sprintf("%s is a number, and %s parts the cases into groups: two of them are compared by ranks, whatever their shape.", response.Title(), inSentence(factor.Title())), true
	},
}

// twoByRanks is the problem while it is worked.
type twoByRanks struct {
	ranked
	data          *grouped
	first, second *group
	stats         stats.RankSum
	decimals      int
}

func workRankSum(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	picked, _ := options["groups"].([]string)
	g, err := readGroups(p, picked)
	if err != nil {
		return nil, err
	}
	if err := g.twoGroups(); err != nil {
		return nil, err
	}
	for _, one := range g.groups {
		if one.moments.N == 0 {
			return nil, problem.Errors{{Pointer: "/options/groups", Says: fmt.Sprintf("“%s” has no usable case", problem.Shorten(one.name)), Instead: "pick a group that has cases"}}
		}
	}
	g.letters()
	s := &twoByRanks{data: g, first: &g.groups[0], second: &g.groups[1]}
	s.p = p
	s.continuity = s.corrected(options["continuity"].(bool))
	s.stats = stats.CompareRanks(s.first.values, s.second.values, s.continuity)
	if !(s.stats.SD > 0) {
		return nil, problem.Errors{{Pointer: "/roles/response", Says: "all values are equal, so no case ranks before another", Instead: "check the data"}}
	}
	s.location = location{p: p, unit: g.response.Unit, parameter: "shift", subject: "the shift " + s.first.name + " − " + s.second.name}
	s.outcome = "deal of the ranks"
	s.foundBy = "for the two sample sizes"
	s.statistic, s.symbol, s.observed, s.mean, s.sd, s.z = "u", "U", s.stats.U, s.stats.Mean, s.stats.SD, s.stats.Z
	s.leans(s.observed - s.mean)
	s.exact = dist.NewRankSum(s.stats.Ranks, len(s.first.values))
	s.pairs = stats.NewPairDifferences(s.first.values, s.second.values)
	s.value = stats.MedianOfPairs(s.pairs)
	s.decimals = max(working.DecimalsOf(s.first.values, maxDecimals), working.DecimalsOf(s.second.values, maxDecimals))
	used := g.used()
	s.Working = working.New(p, d.Title, working.Cases{Given: g.given, Used: used, LeftOut: g.given - used})
	s.SetDecimals(s.decimals + 1)
	s.controls(d)
	s.DefineAlpha()
	s.question()
	s.rank()
	s.look()
	s.hypotheses()
	s.work()
	return s.Working, nil
}

func (s *twoByRanks) controls(d *Description) {
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, s.first.letter, s.second.letter, s.alternativeWords))
	s.Control(direction(s.first, s.second, " − ", "Turns the direction round; one tail keeps its side."))
	s.continuityControl(d, s.continuity != stats.NoCorrection)
	s.Brief(working.Textf("Compare the ranks of **%s** between **%s** and **%s**", inSentence(s.data.response.Label), s.first.name, s.second.name))
}

// alternativeWords says what H₁ says with the given tail.
func (s *twoByRanks) alternativeWords(tail problem.Tail) string {
	response := inSentence(s.data.response.Label)
	switch tail {
	case problem.Left:
		return fmt.Sprintf("%s tends to be lower for %s than for %s", response, s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s tends to be higher for %s than for %s", response, s.first.name, s.second.name)
	}
	return fmt.Sprintf("%s tends to be higher for one of %s and %s", response, s.first.name, s.second.name)
}

// nullWords says what H₀ says.
func (s *twoByRanks) nullWords() string {
	response := inSentence(s.data.response.Label)
	switch s.p.Tail {
	case problem.Left:
		return fmt.Sprintf("%s does not tend to be lower for %s than for %s", response, s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s does not tend to be higher for %s than for %s", response, s.first.name, s.second.name)
	}
	return fmt.Sprintf("%s is distributed alike for %s and %s", response, s.first.name, s.second.name)
}

func (s *twoByRanks) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is whether *%s* tends to be larger for **%s** or for **%s**. Only the order of the values counts: each is replaced by its rank among all.", inSentence(s.data.response.Label), s.first.name, s.second.name))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// rank writes the ranked list and its sums.
func (s *twoByRanks) rank() {
	type entry struct {
		group *group
		row   int
		value float64
		rank  float64
	}
	var list []entry
	for i, r := range s.stats.Ranks {
		g, at := s.first, i
		if i >= len(g.values) {
			g, at = s.second, i-len(g.values)
		}
		list = append(list, entry{g, g.cases[at], g.values[at], r})
	}
	slices.SortStableFunc(list, func(a, b entry) int { return cmp.Compare(a.rank, b.rank) })
	t := &working.Table{ID: "cases", Title: "The cases by rank", Key: []string{"group", "case"}, Total: len(list), Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "group", Label: s.data.factor}, {ID: "response", Label: s.data.response.Label, Unit: s.unit, Numeric: true}, {ID: "rank", Label: "rank", Numeric: true}}}
	t.Row = func(i int) working.Row {
		e := list[i]
		return working.Row{{Value: e.row, Shown: strconv.Itoa(e.row)}, {Value: e.group.name, Shown: e.group.name},
			entered(e.value, s.decimals), {Value: working.Number(e.rank), Shown: working.FormatShortest(e.rank)}}
	}
	s.Table(t)
	ranks := map[*group][]float64{s.first: s.stats.Ranks[:len(s.first.values)], s.second: s.stats.Ranks[len(s.first.values):]}
	for i, g := range []*group{s.first, s.second} {
		ref := "cases/" + working.EscapeRef(g.name) + "|*/rank"
		s.Column(ref, ranks[g])
		series := s.Series(ref, "r_{i}", 1)
		s.Define(working.Quantity{ID: working.Ref(indexed("n", i+1)), Symbol: "n_{" + g.letter + "}", Label: "Cases, " + g.name, Says: "How many the group has."}, working.Whole, float64(g.moments.N), formula.Count{Column: series})
		sum := 0.0
		for _, r := range ranks[g] {
			sum += r
		}
		s.Define(working.Quantity{ID: working.Ref(indexed("rank_sum", i+1)), Symbol: "R_{" + g.letter + "}", Label: "Rank sum, " + g.name, Says: "The ranks of the group, added up."}, working.Given, sum, formula.Total{Column: series})
	}
	n1 := formula.Ref("n_1")
	s.Define(working.Quantity{ID: "u", Symbol: "u", Label: "Test statistic", Says: "In how many pairs of a case of each group the first group's is the larger; ties count half."}, working.Given, s.stats.U,
		formula.Subtract(formula.Ref("rank_sum_1"), formula.Quotient{Over: formula.Product{n1, formula.Sum{n1, formula.Num(1)}}, Under: formula.Num(2)}))
	used := s.data.used()
	says := working.Say("%s: @{n_1} of **%s** and @{n_2} of **%s**. All are ranked together; equal values share the mean of their ranks.", upperFirst(count(s.data.given, "case")), s.first.name, s.second.name)
	if left := s.data.given - used; left > 0 {
		says = working.Say("%s in all, of which %d used: @{n_1} of **%s** and @{n_2} of **%s**, ranked together; equal values share the mean of their ranks. Left out: %s.",
			upperFirst(count(s.data.given, "case")), used, s.first.name, s.second.name, leftOutWords(s.p.LeaveOut, left, "with a missing value or in another group"))
	}
	s.Step(working.Data, fmt.Sprintf("R: %s, %s", s.Show("rank_sum_1"), s.Show("rank_sum_2")), says, working.TableBlock{Table: "cases"},
		working.Values{Quantities: []working.Ref{"rank_sum_1", "rank_sum_2"}})
}

func (s *twoByRanks) look() {
	reading := working.Note("%s", s.groupsFigure(s.data, s.decimals))
	s.Step(working.Look, fmt.Sprintf("medians %s, %s", working.FormatNumber(s.first.five.Median, s.decimals), working.FormatNumber(s.second.five.Median, s.decimals)),
		working.FigureBlock{Figure: "look"},
		working.Say("The medians are %s (%s) and %s (%s). Whether one group tends to larger values than chance would bring is what the test is for.",
			working.FormatNumber(s.first.five.Median, s.decimals+1), s.first.name, working.FormatNumber(s.second.five.Median, s.decimals+1), s.second.name),
		reading)
}

func (s *twoByRanks) hypotheses() {
	equal, other := s.signs()
	symbols := func(sign string) string {
		return fmt.Sprintf(`P(%s > %s) %s P(%s < %s)`, s.first.letter, s.second.letter, teXSign(sign), s.first.letter, s.second.letter)
	}
	both := s.bothWays("which group should have the larger values")
	switch s.p.Tail {
	case problem.Left:
		both = working.Say("H₁ says “lower”: only a small U speaks for it, so the test has **one tail, the left**.")
	case problem.Right:
		both = working.Say("H₁ says “higher”: only a large U speaks for it, so the test has **one tail, the right**.")
	}
	s.hypothesesStep(fmt.Sprintf("%s %s %s", s.first.letter, equal, s.second.letter), working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(equal), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(other), Words: s.alternativeWords(s.p.Tail)},
	}, both)
}

func (s *twoByRanks) work() {
	n1, n2 := formula.Ref("n_1"), formula.Ref("n_2")
	extreme := "a U at least this far from its mean, to either side,"
	switch s.p.Tail {
	case problem.Left:
		extreme = "a U as small as this one or smaller"
	case problem.Right:
		extreme = "a U as large as this one or larger"
	}
	var sdExpr formula.Expr
	if !s.stats.Tied {
		sdExpr = formula.Root{X: formula.Quotient{Over: formula.Product{n1, n2, formula.Sum{n1, n2, formula.Num(1)}}, Under: formula.Num(12)}}
	}
	s.test(formula.Quotient{Over: formula.Product{n1, n2}, Under: formula.Num(2)}, sdExpr, extreme)
	s.resample()
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this; for pairs signed ranks belong here."))
	s.Condition("shape", working.Met, working.Textf("No shape is needed. If the two groups have the same shape, the test is about their shift; if not, about which tends to larger values."), s.byMeans()...)
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "shape"})
	s.Step(working.Statistic, "U = "+s.Show("u"), working.FormulaBlock{Quantity: "u"},
		working.Say("Of %d pairs of a case of %s and one of %s, the first is the larger in @{u}; if H₀ is true that is @{mean_rank} on average.", len(s.first.values)*len(s.second.values), s.first.name, s.second.name),
		working.FormulaBlock{Quantity: "z"}).Opens = "u"
	s.table = s.printedU(s.first.moments.N, s.second.moments.N)
	s.steps(s.alternativeWords(s.p.Tail), s.nullWords())
	s.interval("The median of all differences between a case of the first group and one of the second (Hodges and Lehmann).")
	tail := s.found()
	used := count(s.data.used(), "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated shift, %s − %s, is @{shift} (%s\u00a0%% interval: %s).", used, s.alternativeWords(tail), s.first.name, s.second.name, s.levelWords(), s.shiftWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(tail), s.nullWords()))
	}
	exact := "normal approximation"
	if s.exact != nil {
		exact = "exact"
	}
	report := working.Textf("%s for %s (median %s, *n* = @{n_1}) and %s (median %s, *n* = @{n_2}) were compared by ranks, *U* = @{u}, *p* %s@{%s}, %s, %s; shift @{shift}, %s\u00a0%% CI [%s].",
		s.data.response.Label, s.first.name, working.FormatNumber(s.first.five.Median, s.decimals), s.second.name, working.FormatNumber(s.second.five.Median, s.decimals),
		s.relation(s.deciding()), s.deciding(), exact, s.tails(), s.levelWords(), s.reported(math.Inf(-1), math.Inf(1)))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("Medians first, then U, p and how it was found, and the shift with its interval."))
	s.Conclude(s.conclusion, report)
	s.shiftFigure(0)
	s.Step(working.FollowUp, "shift "+s.Show("shift"), working.FigureBlock{Figure: "interval"},
		working.Say("**The shift**: the median of all %d differences between a case of %s and one of %s is @{shift}; the %s\u00a0%% interval, found among the same differences in their order, is %s.", s.pairs.Count(), s.first.name, s.second.name, s.levelWords(), s.shiftWords()),
		working.Warn("The shift is not the difference of the two medians, and not that of the two means, although all three are often close.")).Opens = "shift"
}

// byMeans is the way back to the means, where they can be compared.
func (s *twoByRanks) byMeans() []working.Action {
	if s.first.moments.N < 2 || s.second.moments.N < 2 || !(s.first.moments.SD > 0) && !(s.second.moments.SD > 0) {
		return nil
	}
	return []working.Action{by("t-two-sample", "Compare the means", "Works the same problem with the two means, beside this one.")}
}
