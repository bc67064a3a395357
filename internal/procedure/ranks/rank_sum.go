package ranks

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

type rankSumOptions struct {
	groups     []string
	continuity bool
}

// RankSum compares two independent groups by the ranks of their values.
var RankSum = describe.New(describe.Description{
	ID:         "rank-sum",
	Family:     describe.AboutRanks,
	Title:      "Two groups by ranks",
	Asks:       "Does one group tend to larger values than another?",
	AlsoCalled: []string{"Mann–Whitney U test", "Wilcoxon rank-sum test", "Wilcoxon–Mann–Whitney test"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles:      []describe.Role{cases.ResponseRole, cases.TwoGroupsRole},
	Tails:      true,
	Compared:   "the values of the first group, beside those of the second",
}, func(o *rankSumOptions) []describe.Option {
	return []describe.Option{
		cases.GroupsOption(&o.groups, "Which two groups are compared, and which comes first."), write.ContinuityOption(&o.continuity),
	}
}, readRankSum, cases.FitsGroups("two of them are compared by ranks, whatever their shape"))

// rankSum is a problem about two groups by ranks.
type rankSum struct {
	ranked
	d             *describe.Description
	data          *cases.Groups
	first, second *cases.Group
	stats         stats.RankSum
	decimals      int
}

func readRankSum(p *problem.Problem, d *describe.Description, o *rankSumOptions) (describe.Task, error) {
	g, err := cases.ReadGroups(p, o.groups)
	if err != nil {
		return nil, err
	}
	if err := g.Two(); err != nil {
		return nil, err
	}
	for _, one := range g.Each {
		if one.Moments.N == 0 {
			return nil, problem.Errors{{
				Pointer: "/options/groups", Says: fmt.Sprintf("“%s” has no usable case", words.Shorten(one.Name)),
				Instead: "pick a group that has cases",
			}}
		}
	}
	s := &rankSum{d: d, data: g, first: &g.Each[0], second: &g.Each[1], decimals: g.Decimals()}
	s.first.Letter, s.second.Letter = cases.Letters(s.first.Name, s.second.Name)
	s.P, s.Unit, s.Parameter, s.subject = p, g.Response.Unit, "shift", "the shift "+s.first.Name+" − "+s.second.Name
	s.Direction = s.direction()
	s.continuity = s.Direction.Continuity(o.continuity)
	s.stats = stats.CompareRanks(s.first.Values, s.second.Values, s.continuity)
	if !(s.stats.SD > 0) {
		return nil, problem.Errors{{
			Pointer: "/roles/response", Says: "all values are equal, so no case ranks before another", Instead: "check the data",
		}}
	}
	s.statistic, s.symbol, s.observed, s.mean, s.sd, s.z = "u", "U", s.stats.U, s.stats.Mean, s.stats.SD, s.stats.Z
	s.outcome, s.foundBy, s.Side = "deal of the ranks", "for the two sample sizes", write.SideOf(s.observed-s.mean)
	return s, nil
}

// response names the response inside a sentence.
func (s *rankSum) response() string { return words.InSentence(s.data.Response.Label) }

// direction returns what the hypotheses say.
func (s *rankSum) direction() write.Direction {
	first, second := s.first.Letter, s.second.Letter
	between := write.Compared{Left: first, Right: second}
	return write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.first.Name, s.second.Name}, By: "u"},
		Null: write.Fill(problem.Sides[string]{
			Both: "%s is distributed alike for %s and %s", Less: "%s does not tend to be lower for %s than for %s",
			Greater: "%s does not tend to be higher for %s than for %s",
		}, s.response(), s.first.Name, s.second.Name),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "%s tends to be higher for one of %s and %s", Less: "%s tends to be lower for %s than for %s",
			Greater: "%s tends to be higher for %s than for %s",
		}, s.response(), s.first.Name, s.second.Name),
		Extreme: problem.Sides[string]{
			Both: "a U at least this far from its mean, to either side,", Less: "a U as small as this one or smaller",
			Greater: "a U as large as this one or larger",
		},
		TeX:   write.Compared{Left: fmt.Sprintf("P(%s > %s)", first, second), Right: fmt.Sprintf("P(%s < %s)", first, second)},
		Plain: between,
	}
}

// Work writes the solution.
func (s *rankSum) Work(context.Context) (*working.Working, error) {
	s.exact = dist.NewRankSum(s.stats.Ranks, len(s.first.Values))
	s.pairs = stats.NewPairDifferences(s.first.Values, s.second.Values)
	s.shift = stats.MedianOfPairs(s.pairs)
	s.Start(s.d, "Wilcoxon–Mann–Whitney rank-sum test", s.data.Given, s.data.Used())
	s.SetDecimals(s.decimals + 1)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.Control(write.OrderControl(s.first, s.second, " − ", "Turns the direction round; one tail keeps its side."))
	s.ContinuityControl(s.d, s.continuity != stats.NoCorrection)
	s.Brief(working.Textf("Compare the ranks of **%s** between **%s** and **%s**", s.response(), s.first.Name, s.second.Name))
	s.QuestionStep(working.Say("The question is whether *%s* tends to be larger for **%s** or for **%s**. Only the order of the "+
		"values counts: each is replaced by its rank among all.", s.response(), s.first.Name, s.second.Name))
	s.rank()
	s.look()
	s.hypotheses()
	s.compare()
	s.conditions()
	s.Step(working.Statistic, working.Textf("U = @{u}"), working.FormulaBlock{Quantity: "u"},
		working.Say("Of %d pairs of a case of %s and one of %s, the first is the larger in @{u}; if H₀ is true that is @{mean_rank} on average.",
			len(s.first.Values)*len(s.second.Values), s.first.Name, s.second.Name),
		working.FormulaBlock{Quantity: "z"})
	s.steps(s.PrintedU(s.first.Moments.N, s.second.Moments.N))
	s.interval("The median of all differences between a case of the first group and one of the second (Hodges and Lehmann).")
	s.conclude()
	s.followUp()
	return s.Working, nil
}

// rank writes the ranked list and its sums.
func (s *rankSum) rank() {
	s.rankedList()
	ranks := [][]float64{s.stats.Ranks[:len(s.first.Values)], s.stats.Ranks[len(s.first.Values):]}
	for i, g := range s.data.Each {
		ref := "cases/" + working.EscapeRef(g.Name) + "|*/rank"
		s.Column(ref, ranks[i])
		series := s.Series(ref, "r_{i}", 1)
		letter := s.data.Each[i].Letter
		s.Define(working.Quantity{
			ID: write.Indexed("n", i+1), Symbol: "n_{" + letter + "}", Label: "Cases, " + g.Name, Says: "How many the group has.",
		}, working.Whole, float64(g.Moments.N), formula.Count{Column: series})
		s.Define(working.Quantity{
			ID: write.Indexed("rank_sum", i+1), Symbol: "R_{" + letter + "}", Label: "Rank sum, " + g.Name,
			Says: "The ranks of the group, added up.",
		}, working.Given, sum(ranks[i]), formula.Total{Column: series})
	}
	n1 := formula.Ref("n_1")
	s.Define(working.Quantity{
		ID: "u", Symbol: "u", Label: "Test statistic",
		Says: "In how many pairs of a case of each group the first group's is the larger; ties count half.",
	}, working.Given, s.stats.U, formula.Subtract(formula.Ref("rank_sum_1"),
		formula.Quotient{Over: formula.Product{n1, formula.Sum{n1, formula.Num(1)}}, Under: formula.Num(2)}))
	shares := fmt.Sprintf(": @{n_1} of **%s** and @{n_2} of **%s**", "%s", "%s")
	s.Step(working.Data, working.Textf("R: @{rank_sum_1}, @{rank_sum_2}"), s.Counted(write.Counted{
		Given: s.data.Given, Used: s.data.Used(), Others: "with a missing value or in another group",
		All:  working.Textf(shares+". All are ranked together; equal values share the mean of their ranks", s.first.Name, s.second.Name),
		Some: working.Textf(shares+", ranked together; equal values share the mean of their ranks", s.first.Name, s.second.Name),
	}), working.TableBlock{Table: "cases"}, working.Values{Quantities: []working.Ref{"rank_sum_1", "rank_sum_2"}})
}

// rankedList lists the cases in the order of their ranks.
func (s *rankSum) rankedList() {
	order := stats.Ascending(s.stats.Ranks)
	at := func(i int) (*cases.Group, int) { return s.data.At(order[i]) }
	rows := make([]int, len(order))
	for i := range order {
		g, place := at(i)
		rows[i] = g.Rows[place]
	}
	s.GroupCasesTable("The cases by rank", rows,
		write.Named("group", s.data.Factor, func(i int) string {
			g, _ := at(i)
			return g.Name
		}),
		write.CaseColumn{
			Column: working.Column{ID: "response", Label: s.data.Response.Label, Unit: s.Unit, Numeric: true},
			Cell: func(i int) working.Cell {
				g, place := at(i)
				return working.EnteredCell(g.Values[place], s.decimals)
			},
		},
		rankColumn("rank", "rank", func(i int) float64 { return s.stats.Ranks[order[i]] }))
}

// rankColumn is a column of ranks.
func rankColumn(id, label string, rank func(i int) float64) write.CaseColumn {
	return write.CaseColumn{
		Column: working.Column{ID: id, Label: label, Numeric: true}, Cell: func(i int) working.Cell { return working.ShortestCell(rank(i)) },
	}
}

func (s *rankSum) look() {
	reading := working.Note("%s", s.GroupsFigure(s.data, s.decimals))
	median := func(g *cases.Group, decimals int) string { return working.FormatNumber(g.Five.Median, decimals) }
	s.Step(working.Look, working.Textf("medians %s, %s", median(s.first, s.decimals), median(s.second, s.decimals)),
		working.FigureBlock{Figure: "look"},
		working.Say("The medians are %s (%s) and %s (%s). Whether one group tends to larger values than chance would bring is what the "+
			"test is for.",
			median(s.first, s.decimals+1), s.first.Name, median(s.second, s.decimals+1), s.second.Name),
		reading)
}

func (s *rankSum) hypotheses() {
	s.HypothesesStep(problem.Sides[working.Block]{
		Both:    s.BothWays("which group should have the larger values"),
		Less:    working.Say("H₁ says “lower”: only a small U speaks for it, so the test has **one tail, the left**."),
		Greater: working.Say("H₁ says “higher”: only a large U speaks for it, so the test has **one tail, the right**."),
	}.Of(s.P.Tail))
}

// compare makes the test.
func (s *rankSum) compare() {
	n1, n2 := formula.Ref("n_1"), formula.Ref("n_2")
	var sdExpr formula.Expr
	if !s.stats.Tied {
		sdExpr = formula.Root{X: formula.Quotient{Over: formula.Product{n1, n2, formula.Sum{n1, n2, formula.Num(1)}}, Under: formula.Num(12)}}
	}
	s.approximation(formula.Quotient{Over: formula.Product{n1, n2}, Under: formula.Num(2)}, sdExpr)
	s.test()
	size := len(s.first.Values)
	least := float64(size) * float64(size+1) / 2
	s.resample(working.Resampling{
		How: fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels “%s” and “%s” are "+
			"shuffled among the %d ranks, and U is calculated anew.", s.first.Name, s.second.Name, len(s.stats.Ranks)),
		Assumes: "The exact p-value counts every such shuffle; this draws some of them.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(s.stats.Ranks, []int{size, len(s.second.Values)}, func(groups [][]float64) float64 {
				return s.scaled(sum(groups[0]) - least)
			})
		},
	})
}

func (s *rankSum) conditions() {
	s.TakenAsMet("each case belongs to one group and tells nothing about another. The numbers cannot show this; for pairs signed ranks " +
		"belong here.")
	s.Condition("shape", working.Met, working.Textf("No shape is needed. If the two groups have the same shape, the test is about "+
		"their shift; if not, about which tends to larger values."), s.byMeans()...)
	s.ConditionsStep([]string{"independence", "shape"})
}

// byMeans is the way back to the means, where they can be compared.
func (s *rankSum) byMeans() []working.Action {
	if s.first.Moments.N < 2 || s.second.Moments.N < 2 || !(s.first.Moments.SD > 0) && !(s.second.Moments.SD > 0) {
		return nil
	}
	return []working.Action{write.By("t-two-sample", "Compare the means", "Works the same problem with the two means, beside this one.")}
}

func (s *rankSum) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.data.Used(),
		More: working.Textf(" The estimated shift, %s − %s, is @{shift} (%s\u00a0%% interval: %s).",
			s.first.Name, s.second.Name, s.LevelWords(), s.IntervalWords()),
	})
	p, how := s.deciding()
	s.ReportStep(working.Textf("%s for %s (median %s, *n* = @{n_1}) and %s (median %s, *n* = @{n_2}) were compared by ranks, "+
		"*U* = @{u}, *p* %s@{%s}, %s, %s; shift @{shift}, %s\u00a0%% CI [%s].",
		s.data.Response.Label, s.first.Name, working.FormatNumber(s.first.Five.Median, s.decimals), s.second.Name,
		working.FormatNumber(s.second.Five.Median, s.decimals), s.Relation(p), p, how, s.Direction.Tails(), s.LevelWords(),
		s.Reported(math.Inf(-1), math.Inf(1))),
		"Medians first, then U, p and how it was found, and the shift with its interval.")
}

func (s *rankSum) followUp() {
	s.shiftFigure(0)
	s.Step(working.FollowUp, working.Textf("shift @{shift}"), working.FigureBlock{Figure: "interval"},
		working.Say("**The shift**: the median of all %d differences between a case of %s and one of %s is @{shift}; the %s\u00a0%% interval, "+
			"found among the same differences in their order, is %s.", s.pairs.Count(), s.first.Name, s.second.Name, s.LevelWords(),
			s.IntervalWords()),
		working.Warn("The shift is not the difference of the two medians, and not that of the two means, although all three are often close."))
}
