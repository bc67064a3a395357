package procedure

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// rankKSample compares several independent groups by the ranks of their values.
var rankKSample = &Procedure{
	Description: Description{
		ID:         "rank-k-sample",
		Title:      "Several groups by ranks",
		Asks:       "Does one of several groups tend to larger values than others?",
		AlsoCalled: []string{"Kruskal–Wallis test", "H test", "one-way analysis of variance by ranks", "Dunn's comparisons"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "group", Label: "Group", Says: "the category that tells the groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1},
		},
	},
	Work: workRankKSample,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		return fmt.Sprintf("%s is a number, and %s parts the cases into %s: they are compared by ranks, whatever their shape.", response.Title(), inSentence(factor.Title()), count(used(factor), "group")), true
	},
}

// severalByRanks is the problem while it is worked.
type severalByRanks struct {
	location
	data     *grouped
	stats    stats.RankGroups
	decimals int
}

func workRankKSample(p *problem.Problem, d *Description, _ Options) (*working.Working, error) {
	g, err := readGroups(p, nil)
	if err != nil {
		return nil, err
	}
	if err := g.needSeveral(); err != nil {
		return nil, err
	}
	s := &severalByRanks{location: location{p: p, unit: g.response.Unit, family: chiSquareFamily}, data: g}
	var values [][]float64
	for _, one := range g.groups {
		values = append(values, one.values)
		s.decimals = max(s.decimals, working.DecimalsOf(one.values, maxDecimals))
	}
	s.stats = stats.CompareRankGroups(values)
	if !(s.stats.Corrects > 0) {
		return nil, problem.Errors{{Pointer: "/roles/response", Says: "all values are equal, so no case ranks before another", Instead: "check the data"}}
	}
	used := g.used()
	s.Working = working.New(p, d.Title, working.Cases{Given: g.given, Used: used, LeftOut: g.given - used})
	s.SetDecimals(s.decimals + 1)
	s.Control(working.AlphaControl(p.Alpha))
	s.Brief(working.Textf("Compare the ranks of **%s** between the **%d** groups of **%s**", inSentence(g.response.Label), len(g.groups), inSentence(g.factor)))
	s.DefineAlpha()
	s.question()
	s.rank()
	s.look()
	s.hypotheses()
	s.test()
	s.steps()
	return s.Working, nil
}

func (s *severalByRanks) nullWords() string {
	return inSentence(s.data.response.Label) + " is distributed alike in all groups"
}

func (s *severalByRanks) alternativeWords() string {
	return inSentence(s.data.response.Label) + " tends to be higher in some groups than in others"
}

func (s *severalByRanks) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is whether *%s* tends to be larger in some of the **%s** of *%s* than in others. Only the order of the values counts: each is replaced by its rank among all.", inSentence(s.data.response.Label), count(len(s.data.groups), "group"), inSentence(s.data.factor)))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// rank lists the cases with their ranks, and the groups with the sums of theirs.
func (s *severalByRanks) rank() {
	type entry struct {
		group, row  int
		value, rank float64
	}
	var entries []entry
	for g, one := range s.data.groups {
		for i, x := range one.values {
			entries = append(entries, entry{g, one.cases[i], x, s.stats.Ranks[len(entries)]})
		}
	}
	t := &working.Table{ID: "ranks", Title: "The cases in order", Key: []string{"case"}, Total: len(entries), Columns: []working.Column{
		{ID: "rank", Label: "rank", Numeric: true}, {ID: "case", Label: "case", Numeric: true}, {ID: "group", Label: s.data.factor}, {ID: "response", Label: s.data.response.Label, Unit: s.unit, Numeric: true}}}
	order := stats.Ascending(s.stats.Ranks)
	t.Row = func(i int) working.Row {
		one := entries[order[i]]
		return working.Row{{Value: working.Number(one.rank), Shown: working.FormatShortest(one.rank)}, {Value: one.row, Shown: strconv.Itoa(one.row)}, nameCell(s.data.groups[one.group].name), entered(one.value, s.decimals)}
	}
	s.Table(t)
	n := float64(s.stats.N)
	middle := (n + 1) / 2
	groups := &working.Table{ID: "groups", Title: fmt.Sprintf("Ranks of %s by %s", inSentence(s.data.response.Label), inSentence(s.data.factor)), Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Symbol: "n_{i}", Numeric: true}, {ID: "median", Label: "median", Unit: s.unit, Numeric: true},
		{ID: "rank_sum", Label: "sum of ranks", Symbol: "R_{i}", Numeric: true}, {ID: "mean_rank", Label: "mean rank", Symbol: `\bar{R}_{i}`, Numeric: true, Formula: `\frac{@{rank_sum}}{@{n}}`},
		{ID: "part", Label: "n · squared distance", Numeric: true, Formula: `@{n}\cdot(@{mean_rank}-@{middle_rank})^{2}`}}}
	var rows []working.Row
	var ns, parts []float64
	for i, g := range s.data.groups {
		mean := s.stats.MeanRanks[i]
		part := float64(g.moments.N) * (mean - middle) * (mean - middle)
		ns, parts = append(ns, float64(g.moments.N)), append(parts, part)
		rows = append(rows, working.Row{nameCell(g.name), wholeCell(g.moments.N), s.number(g.five.Median, s.decimals+1), s.number(mean*float64(g.moments.N), 1), s.number(mean, 2), s.number(part, 2)})
	}
	groups.SetRows(rows)
	s.Table(groups)
	s.Column("groups/*/n", ns)
	s.Column("groups/*/part", parts)
	sizes := s.Series("groups/*/n", "n_{i}", 0)
	s.Define(working.Quantity{ID: "groups", Symbol: "k", Label: "Groups", Says: "How many are compared."}, working.Whole, float64(len(s.data.groups)), formula.Count{Column: sizes})
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "In all groups together."}, working.Whole, n, formula.Total{Column: sizes})
	s.Define(working.Quantity{ID: "middle_rank", Symbol: `\bar{R}`, Label: "Mean of all ranks", Says: "The middle of the ranks from 1 to n."}, working.Given, middle, formula.Quotient{Over: formula.Sum{formula.Ref("n"), formula.Num(1)}, Under: formula.Num(2)})
	blocks := []working.Block{working.Say("%s in %s.", upperFirst(count(s.stats.N, "case")), count(len(s.data.groups), "group"))}
	if left := s.data.given - s.stats.N; left > 0 {
		blocks = []working.Block{working.Say("%s in all, of which @{n} used, in %s. Left out: %s.", upperFirst(count(s.data.given, "case")), count(len(s.data.groups), "group"), leftOutWords(s.p.LeaveOut, left, "with a missing value"))}
	}
	if s.stats.Ties > 0 {
		blocks = append(blocks, working.Say("Equal values share the mean of the ranks that they take."))
	}
	s.Step(working.Data, "n = "+s.Show("n"), append(blocks, working.TableBlock{Table: "groups"}, working.TableBlock{Table: "ranks"})...)
}

func (s *severalByRanks) look() {
	reading := working.Note("%s", s.groupsFigure(s.data, s.decimals))
	least, most := slices.Min(s.stats.MeanRanks), slices.Max(s.stats.MeanRanks)
	s.Step(working.Look, fmt.Sprintf("ranks %s to %s", working.FormatNumber(least, 1), working.FormatNumber(most, 1)), working.FigureBlock{Figure: "look"},
		working.Say("The mean ranks go from %s (%s) to %s (%s); @{middle_rank} is the mean of all. Whether that is more than chance would bring is what the test is for.",
			working.FormatNumber(least, 1), s.data.groups[slices.Index(s.stats.MeanRanks, least)].name, working.FormatNumber(most, 1), s.data.groups[slices.Index(s.stats.MeanRanks, most)].name), reading)
}

func (s *severalByRanks) hypotheses() {
	s.hypothesesStep("alike", working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; F_{1} = \dots = F_{` + strconv.Itoa(len(s.data.groups)) + `}`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \text{some } F_{i} \text{ shifted}`, Words: s.alternativeWords()},
	}, working.Say("H₁ names no group and no direction: it is enough that one group tends to other values than another."))
}

func (s *severalByRanks) test() {
	n, one := formula.Ref("n"), formula.Num(1)
	uncorrected := formula.Product{formula.Quotient{Over: formula.Num(12), Under: formula.Product{n, formula.Sum{n, one}}}, formula.Total{Column: s.Calculated("groups/*/part", `n_{i}(\bar{R}_{i}-\bar{R})^{2}`, 2)}}
	h := formula.Expr(uncorrected)
	if s.stats.Ties > 0 {
		s.Define(working.Quantity{ID: "ties", Symbol: "T", Label: "Ties", Says: "For every set of t equal values t³ − t, added up."}, working.Whole, s.stats.Ties, nil)
		s.Define(working.Quantity{ID: "tie_correction", Symbol: "C", Label: "Correction for ties", Says: "Equal values make H smaller than it should be; it is divided by this."}, working.Ratio, s.stats.Corrects,
			formula.Subtract(one, formula.Quotient{Over: formula.Ref("ties"), Under: formula.Subtract(formula.Power{Base: n, Exponent: 3}, n)}))
		h = formula.Quotient{Over: uncorrected, Under: formula.Ref("tie_correction")}
	}
	s.Define(working.Quantity{ID: "h", Symbol: "H", Label: "Test statistic", Says: "How far the mean ranks of the groups lie from the mean of all, measured by what chance would do."}, working.Ratio, s.stats.H, h)
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "The mean ranks are free but for one: together they give the mean of all."}, working.Degrees, s.stats.DF, formula.Subtract(formula.Ref("groups"), one))
	s.Test(working.Test{Statistic: "h", Symbol: "H", Degrees: []working.Ref{"df"}, Family: chiSquareFamily, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "mean ranks that differ at least as much"})
	sizes := make([]int, len(s.data.groups))
	for i, g := range s.data.groups {
		sizes[i] = g.moments.N
	}
	factor := 12 / (float64(s.stats.N) * float64(s.stats.N+1)) / s.stats.Corrects
	middle := float64(s.stats.N+1) / 2
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels of the %d groups are shuffled among the %d ranks, and H is calculated anew.", len(sizes), s.stats.N),
		Assumes: "Shuffling is exact but for chance; the chi-square curve is an approximation, rough where groups have fewer than five cases.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(s.stats.Ranks, sizes, func(groups [][]float64) float64 {
				between := 0.0
				for _, ranks := range groups {
					d := sum(ranks)/float64(len(ranks)) - middle
					between += float64(len(ranks)) * d * d
				}
				return factor * between
			})
		},
	})
}

func (s *severalByRanks) steps() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this."))
	smallest := math.MaxInt
	for _, g := range s.data.groups {
		smallest = min(smallest, g.moments.N)
	}
	means := by("anova-one-way", "Compare the means", "Works the same problem by one-way analysis of variance, beside this one.")
	if smallest >= 5 {
		s.Condition("sample-size", working.Met, working.Textf("The smallest group has %s, enough for the chi-square curve.", count(smallest, "case")), means)
	} else {
		s.Condition("sample-size", working.Doubtful, working.Textf("The smallest group has %s, and the chi-square curve wants five. The simulation of the p-value needs no number.", count(smallest, "case")), means)
	}
	s.Condition("shape", working.NotNeeded, working.Textf("Not needed: the groups may have any shape. To read a difference as one of medians, they should have the same."))
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "sample-size"}, working.Check{Condition: "shape"})
	blocks := []working.Block{working.Say("If H₀ were true, the mean rank of every group would lie near @{middle_rank}. How far they lie from it is squared, and each group counts by its cases:")}
	if s.stats.Ties > 0 {
		blocks = append(blocks, working.FormulaBlock{Quantity: "tie_correction"})
	}
	s.Step(working.Statistic, "H = "+s.Show("h"), append(blocks, working.FormulaBlock{Quantity: "h"})...).Opens = "h"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"}, working.Say("Degrees of freedom: one less than there are groups.")}, s.printedChiSquare()...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(), s.nullWords())
	used := count(s.stats.N, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s.", used, s.alternativeWords()), working.Warn("It says that some group differs. Which, is for the comparisons."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(), s.nullWords()))
	}
	report := working.Textf("%s by %s, compared by ranks, *H*(@{df}, *N* = @{n}) = @{h}, *p* %s@{p}.", upperFirst(inSentence(s.data.response.Label)), inSentence(s.data.factor), s.relation("p"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("H with its degrees of freedom and the number of cases, then p; medians go into a table."))
	s.Conclude(s.conclusion, report)
	s.followUp()
}

// followUp says how large the effect is, and compares every two groups by their mean ranks
// with p-values corrected by Holm.
func (s *severalByRanks) followUp() {
	share := s.stats.H / float64(s.stats.N-1)
	s.Define(working.Quantity{ID: "epsilon_squared", Symbol: `\varepsilon^{2}`, Label: "Share between the groups", Says: "Which share of the variation of the ranks lies between the groups, from 0 to 1."}, working.Ratio, share,
		formula.Quotient{Over: formula.Ref("h"), Under: formula.Subtract(formula.Ref("n"), formula.Num(1))})
	type pair struct {
		first, second     int
		difference, se, p float64
	}
	var pairs []pair
	var ps []float64
	for i := range s.data.groups {
		for j := i + 1; j < len(s.data.groups); j++ {
			one := pair{first: i, second: j, difference: s.stats.MeanRanks[i] - s.stats.MeanRanks[j], se: s.stats.PairSE(s.data.groups[i].moments.N, s.data.groups[j].moments.N)}
			ps = append(ps, 2*dist.Normal{}.Upper(math.Abs(one.difference)/one.se))
			pairs = append(pairs, one)
		}
	}
	for i, p := range stats.Holm(ps) {
		pairs[i].p = p
	}
	slices.SortStableFunc(pairs, func(a, b pair) int {
		return cmp.Compare(math.Abs(b.difference/b.se), math.Abs(a.difference/a.se))
	})
	t := &working.Table{ID: "comparisons", Title: "Every two groups", Key: []string{"first", "second"}, Columns: []working.Column{
		{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "difference", Label: "mean ranks, first − second", Numeric: true}, {ID: "se", Label: "se", Numeric: true},
		{ID: "z", Label: "z", Symbol: "z", Numeric: true, Formula: `\frac{@{difference}}{@{se}}`}, {ID: "p", Label: "p (Holm)", Numeric: true}}}
	var rows []working.Row
	var differ []string
	for _, one := range pairs {
		first, second := s.data.groups[one.first].name, s.data.groups[one.second].name
		rows = append(rows, working.Row{nameCell(first), nameCell(second), s.number(one.difference, 2), s.number(one.se, 2), s.number(one.difference/one.se, 3), s.pCell(one.p)})
		if one.p <= s.p.Alpha {
			differ = append(differ, first+" and "+second)
		}
	}
	t.SetRows(rows)
	s.Table(t)
	says := "no two groups can be told apart"
	if differ != nil {
		says = fmt.Sprintf("%d of %d pairs differ: %s", len(differ), len(pairs), strings.Join(differ, "; "))
	}
	blocks := []working.Block{working.Say("**How large is it?** @{epsilon_squared} of the variation of the ranks lies between the groups."), working.FormulaBlock{Quantity: "epsilon_squared"}}
	if !s.Rejected() {
		blocks = append(blocks, working.Warn("The test of all groups together has not rejected. A pair that comes up below is a hint for a new study, not a finding of this one."))
	}
	blocks = append(blocks, working.Say("**Which groups differ?** At $α$ = @{alpha} for all comparisons together, %s.", says), working.TableBlock{Table: "comparisons"},
		working.Note("The differences of the mean ranks are set against the spread of all ranks (Dunn), and their p-values corrected for their number (Holm)."))
	s.Step(working.FollowUp, "ε² = "+s.Show("epsilon_squared"), blocks...).Opens = "epsilon_squared"
}
