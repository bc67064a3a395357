package ranks

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

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

// RankKSample compares several independent groups by the ranks of their values.
var RankKSample = describe.New(describe.Description{
	ID:         "rank-k-sample",
	Family:     describe.AboutRanks,
	Title:      "Several groups by ranks",
	Asks:       "Does one of several groups tend to larger values than others?",
	AlsoCalled: []string{"Kruskal–Wallis test", "H test", "one-way analysis of variance by ranks", "Dunn's comparisons"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles:      []describe.Role{cases.ResponseRole, cases.GroupRole},
}, describe.None, readRankKSample, cases.FitsSeveralGroups("they are compared by ranks, whatever their shape"))

// rankKSample is a problem about several groups by ranks.
type rankKSample struct {
	write.Sheet
	d        *describe.Description
	data     *cases.Groups
	stats    stats.RankGroups
	decimals int
}

func readRankKSample(p *problem.Problem, d *describe.Description, _ *describe.NoOptions) (describe.Task, error) {
	g, err := cases.ReadGroups(p, nil)
	if err != nil {
		return nil, err
	}
	if err := g.NeedSeveral("ranks"); err != nil {
		return nil, err
	}
	s := &rankKSample{d: d, data: g, decimals: g.Decimals(), stats: stats.CompareRankGroups(g.Values())}
	s.P, s.Unit, s.Family = p, g.Response.Unit, write.ChiSquare
	if !(s.stats.Corrects > 0) {
		return nil, problem.Errors{{
			Pointer: "/roles/response", Says: "all values are equal, so no case ranks before another", Instead: "check the data",
		}}
	}
	s.Direction = write.Undirected(working.Compared{Of: g.Names(), By: "h"},
		s.response()+" is distributed alike in all groups", s.response()+
			" tends to be higher in some groups than in others")
	return s, nil
}

// response names the response inside a sentence.
func (s *rankKSample) response() string { return words.InSentence(s.data.Response.Label) }

// Work writes the solution.
func (s *rankKSample) Work(context.Context) (*working.Working, error) {
	factor := words.InSentence(s.data.Factor)
	s.Start(s.d, "Kruskal–Wallis test", s.data.Given, s.data.Used())
	s.SetDecimals(s.decimals + 1)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.Brief(working.Textf("Compare the ranks of **%s** between the **%d** groups of **%s**", s.response(), len(s.data.Each), factor))
	s.QuestionStep(working.Say("The question is whether *%s* tends to be larger in some of the **%s** of *%s* than in others. "+
		"Only the order of the values counts: each is replaced by its rank among all.", s.response(), words.Count(len(s.data.Each), "group"),
		factor))
	s.rank()
	s.look()
	s.UndirectedHypotheses("alike", `F_{1} = \dots = F_{`+strconv.Itoa(len(s.data.Each))+`}`, `\text{some } F_{i} \text{ shifted}`,
		working.Say("H₁ names no group and no direction: it is enough that one group tends to other values than another."))
	s.test()
	s.conditions()
	s.statistic()
	s.PValueStep()
	s.Decide()
	s.conclude()
	s.followUp()
	return s.Working, nil
}

// rank lists the cases with their ranks, and the groups with the sums of theirs.
func (s *rankKSample) rank() {
	s.rankedList()
	ns, parts := s.groupTable()
	s.Column("groups/*/n", ns)
	s.Column("groups/*/part", parts)
	sizes := s.Series("groups/*/n", "n_{i}", 0)
	s.Define(working.Quantity{ID: "groups", Symbol: "k", Label: "Groups", Says: "How many are compared."},
		working.Whole, float64(len(s.data.Each)), formula.Count{Column: sizes})
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "In all groups together."},
		working.Whole, float64(s.stats.N), formula.Total{Column: sizes})
	s.Define(working.Quantity{ID: "middle_rank", Symbol: `\bar{R}`, Label: "Mean of all ranks", Says: "The middle of the ranks from 1 to n."},
		working.Given, s.middle(), formula.Quotient{Over: formula.Sum{formula.Ref("n"), formula.Num(1)}, Under: formula.Num(2)})
	in := words.Count(len(s.data.Each), "group")
	blocks := []working.Block{s.Counted(write.Counted{
		Given: s.data.Given, Used: s.stats.N, UsedRef: "n", Others: "with a missing value", All: working.Textf(" in %s", in),
		Some: working.Textf(", in %s", in),
	})}
	if s.stats.Ties > 0 {
		blocks = append(blocks, working.Say("Equal values share the mean of the ranks that they take."))
	}
	s.Step(working.Data, working.Textf("n = @{n}"), append(blocks, working.TableBlock{Table: "groups"}, working.TableBlock{Table: "ranks"})...)
}

// middle is the mean of all ranks.
func (s *rankKSample) middle() float64 { return float64(s.stats.N+1) / 2 }

func (s *rankKSample) rankedList() {
	order := stats.Ascending(s.stats.Ranks)
	t := &working.Table{ID: "ranks", Title: "The cases in order", Key: []string{"case"}, Total: len(order), Columns: []working.Column{
		{ID: "rank", Label: "rank", Numeric: true}, {ID: "case", Label: "case", Numeric: true}, {ID: "group", Label: s.data.Factor},
		{ID: "response", Label: s.data.Response.Label, Unit: s.Unit, Numeric: true},
	}}
	t.Row = func(i int) working.Row {
		g, at := s.data.At(order[i])
		return working.Row{
			working.ShortestCell(s.stats.Ranks[order[i]]), working.CaseCell(g.Rows[at]), working.NameCell(g.Name),
			working.EnteredCell(g.Values[at], s.decimals),
		}
	}
	s.Table(t)
}

// groupTable lists the groups, and returns their sizes and what each gives to H.
func (s *rankKSample) groupTable() (ns, parts []float64) {
	t := &working.Table{ID: "groups", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Symbol: "n_{i}", Numeric: true},
		{ID: "median", Label: "median", Unit: s.Unit, Numeric: true}, {ID: "rank_sum", Label: "sum of ranks", Symbol: "R_{i}", Numeric: true},
		{ID: "mean_rank", Label: "mean rank", Symbol: `\bar{R}_{i}`, Numeric: true, Formula: `\frac{@{rank_sum}}{@{n}}`},
		{ID: "part", Label: "n · squared distance", Numeric: true, Formula: `@{n}\cdot(@{mean_rank}-@{middle_rank})^{2}`},
	}}
	t.Title = fmt.Sprintf("Ranks of %s by %s", s.response(), words.InSentence(s.data.Factor))
	var rows []working.Row
	for i, g := range s.data.Each {
		n, mean := float64(g.Moments.N), s.stats.MeanRanks[i]
		part := n * (mean - s.middle()) * (mean - s.middle())
		ns, parts = append(ns, n), append(parts, part)
		rows = append(rows, working.Row{
			working.NameCell(g.Name), working.WholeCell(g.Moments.N), s.EstimateCell(g.Five.Median, s.decimals+1), s.StatisticCell(mean*n, 1),
			s.StatisticCell(mean, 2), s.StatisticCell(part, 2),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	return ns, parts
}

func (s *rankKSample) look() {
	reading := working.Note("%s", s.GroupsFigure(s.data, s.decimals))
	extreme := func(of func([]float64) float64) (mean, name string) {
		rank := of(s.stats.MeanRanks)
		return working.FormatNumber(rank, 1), s.data.Each[slices.Index(s.stats.MeanRanks, rank)].Name
	}
	least, leastName := extreme(slices.Min[[]float64])
	most, mostName := extreme(slices.Max[[]float64])
	s.Step(working.Look, working.Textf("ranks %s to %s", least, most), working.FigureBlock{Figure: "look"},
		working.Say("The mean ranks go from %s (%s) to %s (%s); @{middle_rank} is the mean of all. "+
			"Whether that is more than chance would bring is what the test is for.", least, leastName, most, mostName), reading)
}

func (s *rankKSample) test() {
	n, one := formula.Ref("n"), formula.Num(1)
	uncorrected := formula.Product{
		formula.Quotient{Over: formula.Num(12), Under: formula.Product{n, formula.Sum{n, one}}},
		formula.Total{Column: s.Calculated("groups/*/part", `n_{i}(\bar{R}_{i}-\bar{R})^{2}`, 2)},
	}
	h := formula.Expr(uncorrected)
	if s.stats.Ties > 0 {
		s.Define(working.Quantity{ID: "ties", Symbol: "T", Label: "Ties", Says: "For every set of t equal values t³ − t, added up."},
			working.Whole, s.stats.Ties, nil)
		s.Define(working.Quantity{
			ID: "tie_correction", Symbol: "C", Label: "Correction for ties",
			Says: "Equal values make H smaller than it should be; it is divided by this.",
		}, working.Ratio, s.stats.Corrects, formula.Subtract(one,
			formula.Quotient{Over: formula.Ref("ties"), Under: formula.Subtract(formula.Power{Base: n, Exponent: 3}, n)}))
		h = formula.Quotient{Over: uncorrected, Under: formula.Ref("tie_correction")}
	}
	s.Define(working.Quantity{
		ID: "h", Symbol: "H", Label: "Test statistic",
		Says: "How far the mean ranks of the groups lie from the mean of all, measured by what chance would do.",
	}, working.Ratio, s.stats.H, h)
	s.Define(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "The mean ranks are free but for one: together they give the mean of all.",
	}, working.Degrees, s.stats.DF, formula.Subtract(formula.Ref("groups"), one))
	s.Test(working.Test{
		Statistic: "h", Symbol: "H", Degrees: []working.Ref{"df"}, Family: s.Family, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "mean ranks that differ at least as much",
	})
	s.resample()
}

// resample offers a simulation of H: the labels are shuffled among the ranks.
func (s *rankKSample) resample() {
	sizes := s.data.Sizes()
	factor := 12 / (float64(s.stats.N) * float64(s.stats.N+1)) / s.stats.Corrects
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels of the %d groups are shuffled "+
			"among the %d ranks, and H is calculated anew.", len(sizes), s.stats.N),
		Assumes: "Shuffling is exact but for chance; the chi-square curve is an approximation, rough where groups have fewer than five cases.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(s.stats.Ranks, sizes, func(groups [][]float64) float64 {
				between := 0.0
				for _, ranks := range groups {
					d := sum(ranks)/float64(len(ranks)) - s.middle()
					between += float64(len(ranks)) * d * d
				}
				return factor * between
			})
		},
	})
}

func (s *rankKSample) conditions() {
	s.TakenAsMet(write.InGroup)
	smallest := words.Count(s.data.Smallest(), "case")
	means := write.By("anova-one-way", "Compare the means", "Works the same problem by one-way analysis of variance, beside this one.")
	if s.data.Smallest() >= 5 {
		s.Condition("sample-size", working.Met, working.Textf("The smallest group has %s, enough for the chi-square curve.", smallest), means)
	} else {
		s.Condition("sample-size", working.Doubtful, working.Textf("The smallest group has %s, and the chi-square curve wants five. "+
			"The simulation of the p-value needs no number.", smallest), means)
	}
	s.Condition("shape", working.NotNeeded, working.Textf("Not needed: the groups may have any shape. "+
		"To read a difference as one of medians, they should have the same."))
	s.ConditionsStep([]string{"independence", "sample-size", "shape"})
}

// statistic writes the steps on H and its critical value.
func (s *rankKSample) statistic() {
	blocks := []working.Block{working.Say("If H₀ were true, the mean rank of every group would lie near @{middle_rank}. " +
		"How far they lie from it is squared, and each group counts by its cases:")}
	if s.stats.Ties > 0 {
		blocks = append(blocks, working.FormulaBlock{Quantity: "tie_correction"})
	}
	s.Step(working.Statistic, working.Textf("H = @{h}"), append(blocks, working.FormulaBlock{Quantity: "h"})...)
	s.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df"}, working.Say("Degrees of freedom: one less than there are groups."),
	}, s.PrintedChiSquare()...)...)
}

func (s *rankKSample) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.stats.N, Warnings: []working.Block{working.Warn("It says that some group differs. Which, is for the comparisons.")},
	})
	s.ReportStep(working.Textf("%s by %s, compared by ranks, *H*(@{df}, *N* = @{n}) = @{h}, *p* %s@{p}.",
		words.UpperFirst(s.response()), words.InSentence(s.data.Factor), s.Relation("p")),
		"H with its degrees of freedom and the number of cases, then p; medians go into a table.")
}

// followUp says how large the effect is, and compares every two groups by their mean ranks with
// p-values corrected by Holm.
func (s *rankKSample) followUp() {
	s.Define(working.Quantity{
		ID: "epsilon_squared", Symbol: `\varepsilon^{2}`, Label: "Share between the groups",
		Says: "Which share of the variation of the ranks lies between the groups, from 0 to 1.",
	}, working.Share, s.stats.H/float64(s.stats.N-1),
		formula.Quotient{Over: formula.Ref("h"), Under: formula.Subtract(formula.Ref("n"), formula.Num(1))})
	pairs, differ := s.comparisons()
	says := "no two groups can be told apart"
	if differ != nil {
		says = fmt.Sprintf("%d of %d pairs differ: %s", len(differ), pairs, strings.Join(differ, "; "))
	}
	blocks := []working.Block{
		working.Say("**How large is it?** @{epsilon_squared} of the variation of the ranks lies between the groups."),
		working.FormulaBlock{Quantity: "epsilon_squared"},
	}
	if !s.Rejected() {
		blocks = append(blocks, working.Warn("The test of all groups together has not rejected. A pair that comes up below is a "+
			"hint for a new study, not a finding of this one."))
	}
	blocks = append(blocks, working.Say("**Which groups differ?** At $α$ = @{alpha} for all comparisons together, %s.", says),
		working.TableBlock{Table: "comparisons"},
		working.Note("The differences of the mean ranks are set against the spread of all ranks (Dunn), and their p-values corrected for "+
			"their number (Holm)."))
	s.Step(working.FollowUp, working.Textf("ε² = @{epsilon_squared}"), blocks...)
}

// compared is a pair of groups with the difference of their mean ranks.
type compared struct {
	first, second     string
	difference, se, p float64
}

// pairs compares every two groups, the largest differences first.
func (s *rankKSample) pairs() []compared {
	var pairs []compared
	var ps []float64
	for i, first := range s.data.Each {
		for j := i + 1; j < len(s.data.Each); j++ {
			second := s.data.Each[j]
			one := compared{
				first: first.Name, second: second.Name, difference: s.stats.MeanRanks[i] - s.stats.MeanRanks[j],
				se: s.stats.PairSE(first.Moments.N, second.Moments.N),
			}
			ps = append(ps, 2*dist.Normal{}.Upper(math.Abs(one.difference)/one.se))
			pairs = append(pairs, one)
		}
	}
	for i, p := range stats.Holm(ps) {
		pairs[i].p = p
	}
	slices.SortStableFunc(pairs, func(a, b compared) int {
		return cmp.Compare(math.Abs(b.difference/b.se), math.Abs(a.difference/a.se))
	})
	return pairs
}

// comparisons lists every two groups, and returns how many pairs there are and which differ.
func (s *rankKSample) comparisons() (pairs int, differ []string) {
	t := &working.Table{ID: "comparisons", Title: "Every two groups", Key: []string{"first", "second"}, Columns: []working.Column{
		{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "difference", Label: "mean ranks, first − second", Numeric: true},
		{ID: "se", Label: "se", Numeric: true}, {ID: "z", Label: "z", Symbol: "z", Numeric: true, Formula: `\frac{@{difference}}{@{se}}`},
		{ID: "p", Label: "p (Holm)", Numeric: true},
	}}
	var rows []working.Row
	for _, one := range s.pairs() {
		rows = append(rows, working.Row{
			working.NameCell(one.first), working.NameCell(one.second), s.StatisticCell(one.difference, 2), s.StatisticCell(one.se, 2),
			s.StatisticCell(one.difference/one.se, 3), s.PCell(one.p),
		})
		if one.p <= s.P.Alpha {
			differ = append(differ, one.first+" and "+one.second)
		}
	}
	t.SetRows(rows)
	s.Table(t)
	return len(rows), differ
}
