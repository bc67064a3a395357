// Package fits holds the procedures that compare counts with what is expected of one variable:
// the counts of categories with proportions, and the counts of classes with a distribution.
package fits

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/exact"
	"grund/internal/words"
	"grund/internal/working"
)

type fitOptions struct{ proportions []float64 }

// ChiSquareFit compares the counts of categories with equal or given proportions.
var ChiSquareFit = describe.New(describe.Description{
	ID:         "chi-square-fit",
	Family:     describe.AboutCounts,
	Title:      "One category against proportions",
	Asks:       "Do categories occur as often as they are said to?",
	AlsoCalled: []string{"chi-square goodness of fit", "test of given proportions", "test of uniform frequencies"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles: []describe.Role{{
		ID: "response", Label: "Response", Says: "the category whose levels are counted", Kinds: []data.Kind{data.Category}, Min: 1,
		Max: 1,
	}},
}, func(o *fitOptions) []describe.Option {
	return []describe.Option{describe.Proportions(&o.proportions, describe.Option{
		ID: "proportions", Label: "Proportions under H₀",
		Says: "“equal”, or a number for each category in their order: proportions, percentages or ratios such as 2, 1, 1. " +
			"They are divided by their sum.",
	})}
}, readFit, func(assigned describe.Assigned) (why string, ok bool) {
	return assigned["response"][0].Title() + " is a category: how often its levels occur is compared with equal or given proportions.", true
})

// drawnCounts is what is drawn where counting all possible counts takes too long.
const drawnCounts = "sets of counts"

// fit is a problem about the counts of categories.
type fit struct {
	write.Sheet
	d        *describe.Description
	title    string
	names    []string
	observed []int
	weights  cases.Weights
	given    int
	rows     []int // of the cases, from 1; nil where only counts are given
	levels   []int // theirs
	stats    stats.Fit
	exact    write.ExactP
}

func readFit(p *problem.Problem, d *describe.Description, o *fitOptions) (describe.Task, error) {
	s := &fit{d: d}
	s.P, s.Family = p, write.ChiSquare
	if err := s.read(); err != nil {
		return nil, err
	}
	var err error
	if s.weights, err = cases.NewWeights(o.proportions, s.names, "category", "proportions"); err != nil {
		return nil, err
	}
	s.stats = stats.CompareFit(s.observed, s.weights.Each)
	s.Direction = write.Undirected(working.Compared{Of: []string{s.name(), s.states()}, By: "chi_square"},
		fmt.Sprintf("the shares of %s are %s", s.name(), s.states()),
		fmt.Sprintf("the shares of %s are not %s", s.name(), s.states()))
	return s, nil
}

// read counts the categories.
func (s *fit) read() error {
	at := "/roles/response"
	if c := s.P.Data.Counts; c != nil {
		at = "/data/counts/observed"
		if c.Categories == nil {
			return problem.Errors{{
				Pointer: "/data/counts", Says: "counts of categories are needed here", Instead: "give “categories” and “observed”",
			}}
		}
		s.title, s.names = "category", c.Categories
		if c.Variable != nil && c.Variable.Label != "" {
			s.title = c.Variable.Label
		}
		for _, o := range c.Observed {
			s.observed = append(s.observed, int(o))
			s.given += int(o)
		}
	} else {
		v := s.P.Data.Variables.Find(s.P.Roles["response"][0])
		s.title, s.given, s.rows = v.Title(), v.Len(), []int{}
		s.names, s.observed = cases.LevelNames(v), make([]int, len(v.Levels))
		for _, i := range data.Complete(s.P.LeftOutCases(), v) {
			s.observed[v.Codes[i]]++
			s.rows, s.levels = append(s.rows, i+1), append(s.levels, v.Codes[i])
		}
	}
	n := 0
	for _, o := range s.observed {
		n += o
	}
	if len(s.names) > problem.MaxLevels {
		return problem.TooMany(at, fmt.Sprintf("“%s” has %d levels", words.Shorten(s.title), len(s.names)), problem.MaxLevels,
			"choose another variable, or recode it into fewer levels")
	}
	switch {
	case len(s.names) < 2:
		return problem.Errors{{
			Pointer: at, Says: "there is " + words.Count(len(s.names), "category") + ", and two or more are compared",
			Instead: "give more, with a count of 0 where none was seen",
		}}
	case n == 0:
		return problem.Errors{{Pointer: at, Says: "nothing was counted", Instead: "give counts above 0"}}
	}
	return nil
}

// name names the variable inside a sentence.
func (s *fit) name() string { return words.InSentence(s.title) }

// states says what H₀ states of the shares: "all equal", "as 2 : 1 : 1".
func (s *fit) states() string { return s.weights.As("all equal") }

// find finds the exact p-value: of two categories from the binomial distribution, of more from
// the multinomial one.
func (s *fit) find(ctx context.Context) (err error) {
	shares := s.stats.Shares
	switch {
	case len(s.observed) == 2:
		s.exact.P = stats.BinomialExact(s.observed[0], s.stats.N, shares[0])
		return nil
	case s.stats.N > exact.MostCases:
		s.exact.P = math.NaN()
		return nil
	}
	s.exact, err = write.FindExactP(ctx, fmt.Sprint("counts", s.observed, shares),
		func(ctx context.Context) (float64, bool) { return exact.Multinomial(ctx, s.observed, shares) },
		func(ctx context.Context) stats.Drawn {
			likelihood := func(counts []int) float64 { return exact.LessLikelyCounts(counts, shares) }
			return stats.DrawP(ctx, stats.DrawCounts(s.stats.N, shares, likelihood), likelihood(s.observed), write.Draws(len(shares)),
				write.DrawSeed)
		})
	return err
}

// Work writes the solution.
func (s *fit) Work(ctx context.Context) (*working.Working, error) {
	if err := s.find(ctx); err != nil {
		return nil, err
	}
	s.Start(s.d, "chi-square test of goodness of fit", s.given, s.stats.N)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.Brief(working.Textf("Compare how often each **%s** occurs with **%s**", s.name(), s.weights.Words()))
	s.QuestionStep(working.Say("The question is about how often each *%s* occurs: whether the counts go with **%s**.", s.name(),
		s.weights.Words()))
	s.count()
	s.look()
	s.UndirectedHypotheses(s.states(), `\pi_{i} = \pi_{i,0}\text{ for all}`, `\pi_{i} \ne \pi_{i,0}\text{ for some}`,
		working.Say("H₁ leaves open which categories are more frequent and which less: the test has no direction."))
	s.test()
	s.TakenAsMet("each case is counted once and tells nothing about another. The numbers cannot show this.")
	s.ExpectedCells(s.stats.Expected, s.names, "Go by the simulation or the exact p-value, or join categories that belong together.")
	s.ConditionsStep([]string{"independence", "expected-counts"})
	s.statistic()
	s.pValue()
	s.Decide()
	if s.exact.Reached() || s.exact.IsDrawn() {
		s.NoteExact(s.exact.Ref())
	}
	s.conclude()
	return s.Working, nil
}

func (s *fit) count() {
	s.categoriesTable()
	var observed []float64
	for _, o := range s.observed {
		observed = append(observed, float64(o))
	}
	s.Column("categories/*/observed", observed)
	s.Column("categories/*/contribution", s.stats.Contribution)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "All counts added up."},
		working.Whole, float64(s.stats.N), formula.Total{Column: s.Series("categories/*/observed", "O", 0)})
	blocks := []working.Block{working.Say("%s in %s.", words.Count(s.stats.N, "case"), words.Count(len(s.names), "category"))}
	blocks = append(blocks, s.LeftOutBlocks(s.given, s.stats.N, "with a missing value")...)
	if !s.weights.Equal {
		blocks = append(blocks, working.Say("The proportions %s are divided by their sum, so that the shares add up to 1.", s.weights.Words()))
	}
	blocks = append(blocks, working.TableBlock{Table: "categories"},
		working.Note("The shares are those that H₀ states; what they make one expect, and how far each count lies from it, opens by a click."))
	if s.rows != nil {
		s.CasesTable(write.UsedTitle, s.rows, write.Named("category", s.title, func(i int) string { return s.names[s.levels[i]] }))
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("n = @{n}"), blocks...)
}

// categoriesTable lists the categories with what is expected of each, and the intervals for
// their shares.
func (s *fit) categoriesTable() {
	f := s.stats
	t := &working.Table{ID: "categories", Title: "Counts of " + s.name(), Key: []string{"category"}, Columns: []working.Column{
		{ID: "category", Label: s.title}, {ID: "observed", Label: "observed", Symbol: "O", Numeric: true},
		{ID: "share", Label: "share", Symbol: `\pi`, Numeric: true},
		{ID: "expected", Label: "expected", Symbol: "E", Numeric: true, Formula: `@{n}\cdot @{share}`, From: working.Conditions},
		{
			ID: "difference", Label: "difference", Symbol: "O-E", Numeric: true, Hidden: true, Formula: `@{observed}-@{expected}`,
			From: working.Statistic,
		},
		{
			ID: "contribution", Label: "contribution", Symbol: `\frac{(O-E)^2}{E}`, Numeric: true, From: working.Statistic,
			Formula: `\frac{(@{observed}-@{expected})^{2}}{@{expected}}`,
		},
		{
			ID: "residual", Label: "residual", Symbol: "r", Numeric: true, Formula: `\frac{@{observed}-@{expected}}{\sqrt{@{expected}}}`,
			From: working.Statistic,
		},
		{ID: "ci_low", Label: "share from", Numeric: true, Hidden: true, From: working.FollowUp},
		{ID: "ci_high", Label: "to", Numeric: true, Hidden: true, From: working.FollowUp},
	}}
	shares := &working.Table{ID: "shares", Title: "Intervals for the shares", Key: []string{"category"}, Columns: []working.Column{
		{ID: "category", Label: s.title}, {ID: "share", Label: "share", Numeric: true}, {ID: "low", Label: "from", Numeric: true},
		{ID: "high", Label: "to", Numeric: true}, {ID: "null", Label: "under H₀", Numeric: true},
	}}
	var rows, intervals []working.Row
	for i, name := range s.names {
		low, high := stats.GoodmanInterval(s.observed[i], f.N, len(s.names), s.Area())
		rows = append(rows, working.Row{
			working.NameCell(name), working.WholeCell(s.observed[i]), s.EstimateCell(f.Shares[i], 3), s.ExpectedCell(f.Expected[i], 1),
			s.ExpectedCell(f.Difference[i], 1), s.StatisticCell(f.Contribution[i], 3), s.StatisticCell(f.Residual[i], 2), s.EstimateCell(low, 3),
			s.EstimateCell(high, 3),
		})
		intervals = append(intervals, working.Row{
			working.NameCell(name), s.EstimateCell(float64(s.observed[i])/float64(f.N), 3), s.EstimateCell(low, 3), s.EstimateCell(high, 3),
			s.EstimateCell(f.Shares[i], 3),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	shares.SetRows(intervals)
	s.Table(shares)
}

func (s *fit) look() {
	f := &working.Figure{ID: "look", Form: working.Bars, Title: "Counts of " + s.name(), Axis: working.Axis{Label: "cases", Min: 0}}
	most := 0.0
	var says []string
	for i, name := range s.names {
		o, e := float64(s.observed[i]), s.stats.Expected[i]
		most = math.Max(most, math.Max(o, e))
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Bar, Role: working.Observed, Row: i, Label: name, X: working.Positions(0, o)},
			working.Mark{Shape: working.Bar, Role: working.Expected, Row: i, Label: name, X: working.Positions(0, e)})
		says = append(says, fmt.Sprintf("%s: %d, expected %s", name, s.observed[i], working.FormatNumber(e, 1)))
	}
	f.Axis.Max = working.Number(most)
	f.Says = strings.Join(says, "; ") + "."
	s.Figure(f)
	s.Step(working.Look, working.Textf("%d to %d", slices.Min(s.observed), slices.Max(s.observed)), working.FigureBlock{Figure: "look"},
		working.Note("Solid is what was counted, the outline what H₀ expects."))
}

func (s *fit) test() {
	f := s.stats
	s.Define(working.Quantity{
		ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic", Says: "How far all counts together lie from what is expected.",
	}, working.Ratio, f.ChiSquare, formula.Total{Column: s.Calculated("categories/*/contribution", `\frac{(O-E)^{2}}{E}`, 3)})
	s.Define(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "With n given, all counts but one are free; the last follows.",
	}, working.Degrees, f.DF, formula.Subtract(formula.Count{Column: s.Series("categories/*/observed", "O", 0)}, formula.Num(1)))
	s.Test(working.Test{
		Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: s.Family, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "counts at least this far from the expected ones",
	})
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true each case falls into the categories with the shares that H₀ states. So %s are drawn that way, "+
			"and χ² is calculated for their counts.", words.Count(f.N, "case")),
		Assumes: "Drawing needs no large counts, which the curve does need.",
		Sampler: func() stats.Sampler {
			return stats.DrawCounts(f.N, f.Shares, func(counts []int) float64 { return stats.CompareFit(counts, s.weights.Each).ChiSquare })
		},
	})
	says := "From the probabilities of all counts that are not more likely than these."
	switch {
	case s.exact.IsDrawn():
		says = "With so many cases and categories it takes too long to count."
		s.DefineDrawn(s.exact, drawnCounts)
	case !s.exact.Reached():
		says = "With so many cases the chi-square curve is as good."
	}
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: says}, working.P, s.exact.P, nil)
}

// statistic writes the steps on the statistic and on its critical value.
func (s *fit) statistic() {
	s.Step(working.Statistic, working.Textf("χ² = @{chi_square}"),
		working.Say("The expected count of a category is n times its share under H₀. Each difference is squared and measured by "+
			"what was expected; any of them opens in the table. The contributions add up to the statistic:"),
		working.FormulaBlock{Quantity: "chi_square"})
	s.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: one less than there are categories. They do not come from the number of cases."),
	}, s.PrintedChiSquare()...)...)
}

func (s *fit) pValue() {
	s.PValueStep()
	switch {
	case s.exact.Reached():
		s.AddTo(working.PValue, working.Say("Exactly, from all possible counts: p %s@{p_exact}.", s.Relation("p_exact")))
	case s.exact.IsDrawn():
		s.AddTo(working.PValue, s.DrawnWords(drawnCounts))
	}
}

func (s *fit) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.stats.N, More: working.Textf("%s", s.leaning()), NotEvidence: "that they are: other proportions would go with the data too",
	})
	s.ReportStep(working.Textf("%s against %s, *χ*²(@{df}, *N* = @{n}) = @{chi_square}, *p* %s@{p}.",
		words.UpperFirst(s.name()), s.weights.Words(), s.Relation("p")),
		"The degrees of freedom and the number of cases in brackets, then the statistic and p.")
	s.residuals()
	s.Step(working.FollowUp, nil,
		working.Say("**Which categories make the difference?** Those with the largest residuals: beyond ±2 a category stands out.%s",
			s.leaning()),
		working.FigureBlock{Figure: "residuals"}, working.TableBlock{Table: "shares"},
		working.Note("All the intervals together hold the true shares with a confidence of %s\u00a0%% (Goodman).", s.LevelWords()))
}

// residuals draws each category's residual as a bar from the line “as expected”.
func (s *fit) residuals() {
	f := &working.Figure{ID: "residuals", Form: working.Bars, Title: "Residuals", Axis: working.Axis{Label: "residual"}}
	var says []string
	low, high := -2.0, 2.0
	for i, r := range s.stats.Residual {
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Bar, Role: working.Observed, Row: i, Label: s.names[i], X: working.Positions(math.Min(0, r), math.Max(0, r)),
		})
		low, high = math.Min(low, r), math.Max(high, r)
		says = append(says, fmt.Sprintf("%s %s", s.names[i], working.FormatNumber(r, 2)))
	}
	f.Axis.Min, f.Axis.Max = working.Number(low*1.1), working.Number(high*1.1)
	f.Says = "Residuals, 0 being as expected: " + strings.Join(says, "; ") + "."
	s.Figure(f)
}

// leaning names the categories that stand out.
func (s *fit) leaning() string {
	var parts []string
	for i, r := range s.stats.Residual {
		if math.Abs(r) < 2 {
			continue
		}
		more := "more"
		if r < 0 {
			more = "fewer"
		}
		parts = append(parts, fmt.Sprintf("%s “%s” than expected, %d against %s", more, s.names[i], s.observed[i],
			working.FormatNumber(s.stats.Expected[i], 1)))
	}
	if parts == nil {
		return " No single one stands out."
	}
	return " There are " + strings.Join(parts, "; ") + "."
}
