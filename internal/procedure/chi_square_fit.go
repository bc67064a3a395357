package procedure

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// chiSquareFit compares the counts of categories with equal or given proportions.
var chiSquareFit = &Procedure{
	Description: Description{
		ID:         "chi-square-fit",
		Title:      "One category against proportions",
		Asks:       "Do categories occur as often as they are said to?",
		AlsoCalled: []string{"chi-square goodness of fit", "test of given proportions", "test of uniform frequencies"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles:      []Role{categoryResponse},
		Options: []Option{{ID: "proportions", Label: "Proportions under H₀", Type: ProportionsOption, Default: "equal",
			Says: "“equal”, or a number for each category in their order: proportions, percentages or ratios such as 2, 1, 1. They are divided by their sum."}},
	},
	Work: workChiSquareFit,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return assigned["response"][0].Title() + " is a category: how often its levels occur is compared with equal or given proportions.", true
	},
}

// drawnCounts is what is drawn where counting all possible counts takes too long.
const drawnCounts = "sets of counts"

// fit is the problem while it is worked.
type fit struct {
	location
	title    string
	names    []string
	observed []int
	weights  []float64
	equal    bool
	given    int
	cases    []int // rows, from 1; nil where only counts are given
	levels   []int // theirs
	stats    stats.Fit
	exact    exactP
}

func workChiSquareFit(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &fit{location: location{p: p, family: chiSquareFamily}}
	if err := s.read(p); err != nil {
		return nil, err
	}
	var err error
	if s.weights, s.equal, err = proportionsFor(s.names, "category", "proportions", options); err != nil {
		return nil, err
	}
	s.stats = stats.CompareFit(s.observed, s.weights)
	s.exact = s.exactP()
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: s.stats.N, LeftOut: s.given - s.stats.N})
	s.Control(working.AlphaControl(p.Alpha))
	s.Brief(working.Textf("Compare how often each **%s** occurs with **%s**", inSentence(s.title), s.proportionWords()))
	s.question()
	s.count()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// proportionsFor returns the proportions that an option gives, one for each name; all are 1
// where they are equal.
func proportionsFor(names []string, noun, option string, options Options) (weights []float64, equal bool, err error) {
	weights, given := options[option].([]float64)
	switch {
	case !given:
		return slices.Repeat([]float64{1}, len(names)), true, nil
	case len(weights) != len(names):
		return nil, false, problem.Errors{{Pointer: problem.Pointer("options", option), Says: fmt.Sprintf("%d proportions are given for %s", len(weights), count(len(names), noun)), Instead: "give one for each of " + problem.List(names, "and")}}
	}
	return weights, false, nil
}

func (s *fit) read(p *problem.Problem) error {
	at := "/roles/response"
	if c := p.Data.Counts; c != nil {
		at = "/data/counts/observed"
		if c.Categories == nil {
			return problem.Errors{{Pointer: "/data/counts", Says: "counts of categories are needed here", Instead: "give “categories” and “observed”"}}
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
		v := p.Data.Variables.Find(p.Roles["response"][0])
		s.title, s.given, s.cases = v.Title(), v.Len(), []int{}
		s.observed = make([]int, len(v.Levels))
		for _, level := range v.Levels {
			s.names = append(s.names, level.Name)
		}
		for _, i := range data.Complete(p.LeftOutCases(), v) {
			s.observed[v.Codes[i]]++
			s.cases, s.levels = append(s.cases, i+1), append(s.levels, v.Codes[i])
		}
	}
	n := 0
	for _, o := range s.observed {
		n += o
	}
	switch {
	case len(s.names) < 2:
		return problem.Errors{{Pointer: at, Says: "there is " + count(len(s.names), "category") + ", and two or more are compared", Instead: "give more, with a count of 0 where none was seen"}}
	case n == 0:
		return problem.Errors{{Pointer: at, Says: "nothing was counted", Instead: "give counts above 0"}}
	}
	return nil
}

// proportionWords names what H₀ states: "equal proportions", "2 : 1 : 1".
func (s *fit) proportionWords() string {
	if s.equal {
		return "equal proportions"
	}
	return ratioWords(s.weights)
}

// ratioWords writes proportions as they were given: "2 : 1 : 1".
func ratioWords(weights []float64) string {
	parts := make([]string, len(weights))
	for i, w := range weights {
		parts[i] = working.FormatShortest(w)
	}
	return strings.Join(parts, " : ")
}

func (s *fit) alternativeWords() string {
	return fmt.Sprintf("the shares of %s are not %s", inSentence(s.title), s.states())
}

func (s *fit) nullWords() string {
	return fmt.Sprintf("the shares of %s are %s", inSentence(s.title), s.states())
}

// states says what H₀ states of the shares: "equal", "as 2 : 1 : 1".
func (s *fit) states() string {
	if s.equal {
		return "all equal"
	}
	return "as " + s.proportionWords()
}

// exactP returns the exact p-value: of two categories from the binomial distribution, of
// more from the multinomial one.
func (s *fit) exactP() exactP {
	if len(s.observed) == 2 {
		return exactP{p: stats.BinomialExact(s.observed[0], s.stats.N, s.stats.Shares[0])}
	}
	if s.stats.N > stats.MostExactCases {
		return exactP{p: math.NaN()}
	}
	shares := s.stats.Shares
	return findExactP(fmt.Sprint("counts", s.observed, shares),
		func() (float64, bool) { return stats.MultinomialExact(s.observed, shares) },
		func() stats.Drawn {
			likelihood := func(counts []int) float64 { return stats.LessLikelyCounts(counts, shares) }
			return stats.DrawP(stats.DrawCounts(s.stats.N, shares, likelihood), likelihood(s.observed), draws(len(shares)), drawSeed)
		})
}

func (s *fit) question() {
	s.DefineAlpha()
	blocks := append(s.claimBlocks(), working.Say("The question is about how often each *%s* occurs: whether the counts go with **%s**.", inSentence(s.title), s.proportionWords()))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *fit) count() {
	f := s.stats
	area := 1 - s.p.ConfidenceLevel()
	if s.p.Confidence == nil {
		area = s.p.Alpha
	}
	t := &working.Table{ID: "categories", Title: "Counts of " + inSentence(s.title), Key: []string{"category"}, Columns: []working.Column{
		{ID: "category", Label: s.title}, {ID: "observed", Label: "observed", Symbol: "O", Numeric: true}, {ID: "share", Label: "share", Symbol: `\pi`, Numeric: true},
		{ID: "expected", Label: "expected", Symbol: "E", Numeric: true, Formula: `@{n}\cdot @{share}`},
		{ID: "difference", Label: "difference", Symbol: "O-E", Numeric: true, Hidden: true, Formula: `@{observed}-@{expected}`},
		{ID: "contribution", Label: "contribution", Symbol: `\frac{(O-E)^2}{E}`, Numeric: true, Formula: `\frac{(@{observed}-@{expected})^{2}}{@{expected}}`},
		{ID: "residual", Label: "residual", Symbol: "r", Numeric: true, Formula: `\frac{@{observed}-@{expected}}{\sqrt{@{expected}}}`},
		{ID: "ci_low", Label: "share from", Numeric: true, Hidden: true}, {ID: "ci_high", Label: "to", Numeric: true, Hidden: true}}}
	shares := &working.Table{ID: "shares", Title: "Intervals for the shares", Key: []string{"category"}, Columns: []working.Column{
		{ID: "category", Label: s.title}, {ID: "share", Label: "share", Numeric: true}, {ID: "low", Label: "from", Numeric: true}, {ID: "high", Label: "to", Numeric: true}, {ID: "null", Label: "under H₀", Numeric: true}}}
	var intervals []working.Row
	var rows []working.Row
	var observed []float64
	for i, name := range s.names {
		low, high := stats.GoodmanInterval(s.observed[i], f.N, len(s.names), area)
		rows = append(rows, working.Row{nameCell(name), wholeCell(s.observed[i]), s.number(f.Shares[i], 3), s.number(f.Expected[i], 1), s.number(f.Difference[i], 1),
			s.number(f.Contribution[i], 3), s.number(f.Residual[i], 2), s.number(low, 3), s.number(high, 3)})
		intervals = append(intervals, working.Row{nameCell(name), s.number(float64(s.observed[i])/float64(f.N), 3), s.number(low, 3), s.number(high, 3), s.number(f.Shares[i], 3)})
		observed = append(observed, float64(s.observed[i]))
	}
	t.SetRows(rows)
	s.Table(t)
	shares.SetRows(intervals)
	s.Table(shares)
	s.Column("categories/*/observed", observed)
	s.Column("categories/*/contribution", f.Contribution)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "All counts added up."}, working.Whole, float64(f.N), formula.Total{Column: s.Series("categories/*/observed", "O", 0)})
	blocks := []working.Block{working.Say("%s in %s.", upperFirst(count(f.N, "case")), count(len(s.names), "category"))}
	if left := s.given - f.N; left > 0 {
		blocks = append(blocks, working.Say("%s in all. Left out: %s.", upperFirst(count(s.given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value")))
	}
	if !s.equal {
		blocks = append(blocks, working.Say("The proportions %s are divided by their sum, so that the shares add up to 1.", s.proportionWords()))
	}
	blocks = append(blocks, working.TableBlock{Table: "categories"}, working.Note("The shares are those that H₀ states; what they make one expect, and how far each count lies from it, opens by a click."))
	if s.cases != nil {
		cases := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: len(s.cases), Columns: []working.Column{{ID: "case", Label: "case", Numeric: true}, {ID: "category", Label: s.title}}}
		cases.Row = func(i int) working.Row { return working.Row{wholeCell(s.cases[i]), nameCell(s.names[s.levels[i]])} }
		s.Table(cases)
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, "n = "+s.Show("n"), blocks...)
}

func (s *fit) look() {
	f := &working.Figure{ID: "look", Form: working.Bars, Title: "Counts of " + inSentence(s.title), Axis: working.Axis{Label: "cases", Min: 0}}
	most := 0.0
	var says []string
	for i, name := range s.names {
		o, e := float64(s.observed[i]), s.stats.Expected[i]
		most = math.Max(most, math.Max(o, e))
		f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Row: i, Label: name, X: working.Positions(0, o)},
			working.Mark{Shape: working.Bar, Role: working.Expected, Row: i, Label: name, X: working.Positions(0, e)})
		says = append(says, fmt.Sprintf("%s: %d, expected %s", name, s.observed[i], working.FormatNumber(e, 1)))
	}
	f.Axis.Max = working.Number(most)
	f.Says = strings.Join(says, "; ") + "."
	s.Figure(f)
	s.Step(working.Look, fmt.Sprintf("%d to %d", slices.Min(s.observed), slices.Max(s.observed)), working.FigureBlock{Figure: "look"}, working.Note("Solid is what was counted, the outline what H₀ expects."))
}

func (s *fit) hypotheses() {
	s.hypothesesStep(s.states(), working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \pi_{i} = \pi_{i,0}\text{ for all}`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \pi_{i} \ne \pi_{i,0}\text{ for some}`, Words: s.alternativeWords()},
	}, working.Say("H₁ leaves open which categories are more frequent and which less: the test has no direction."))
}

func (s *fit) test() {
	f := s.stats
	s.Define(working.Quantity{ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic", Says: "How far all counts together lie from what is expected."},
		working.Ratio, f.ChiSquare, formula.Total{Column: s.Calculated("categories/*/contribution", `\frac{(O-E)^{2}}{E}`, 3)})
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "With n given, all counts but one are free; the last follows."}, working.Degrees, f.DF,
		formula.Subtract(formula.Count{Column: s.Series("categories/*/observed", "O", 0)}, formula.Num(1)))
	s.Test(working.Test{Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: chiSquareFamily, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "counts at least this far from the expected ones"})
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true each case falls into the categories with the shares that H₀ states. So %s are drawn that way, and χ² is calculated for their counts.", count(f.N, "case")),
		Assumes: "Drawing needs no large counts, which the curve does need.",
		Sampler: func() stats.Sampler {
			return stats.DrawCounts(f.N, f.Shares, func(counts []int) float64 { return stats.CompareFit(counts, s.weights).ChiSquare })
		},
	})
	says := "From the probabilities of all counts that are not more likely than these."
	switch {
	case s.exact.isDrawn():
		says = "With so many cases and categories it takes too long to count."
		s.defineDrawn(s.exact, drawnCounts)
	case !s.exact.reached():
		says = "With so many cases the chi-square curve is as good."
	}
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: says}, working.P, s.exact.p, nil)
}

func (s *fit) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case is counted once and tells nothing about another. The numbers cannot show this."))
	s.expectedCells(s.stats.Expected, s.names, "Go by the simulation or the exact p-value, or join categories that belong together.")
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "expected-counts"})
}

func (s *fit) steps() {
	s.Step(working.Statistic, "χ² = "+s.Show("chi_square"),
		working.Say("The expected count of a category is n times its share under H₀. Each difference is squared and measured by what was expected; any of them opens in the table. The contributions add up to the statistic:"),
		working.FormulaBlock{Quantity: "chi_square"}).Opens = "chi_square"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: one less than there are categories. They do not come from the number of cases.")}, s.printedChiSquare()...)...)
	s.PValueStep()
	switch {
	case s.exact.reached():
		s.AddTo(working.PValue, working.Say("Exactly, from all possible counts: p %s@{p_exact}.", s.relation("p_exact")))
	case s.exact.isDrawn():
		s.AddTo(working.PValue, s.drawnWords(drawnCounts))
	}
	s.decide(s.alternativeWords(), s.nullWords())
	if s.exact.reached() || s.exact.isDrawn() {
		s.noteExact(s.exact.ref())
	}
	used := count(s.stats.N, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s.%s", used, s.alternativeWords(), s.leaning()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that they are: other proportions would go with the data too.", used, s.alternativeWords()))
	}
	report := working.Textf("%s against %s, *χ*²(@{df}, *N* = @{n}) = @{chi_square}, *p* %s@{p}.", upperFirst(inSentence(s.title)), s.proportionWords(), s.relation("p"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The degrees of freedom and the number of cases in brackets, then the statistic and p."))
	s.Conclude(s.conclusion, report)
	s.residuals()
	s.Step(working.FollowUp, "", working.Say("**Which categories make the difference?** Those with the largest residuals: beyond ±2 a category stands out.%s", s.leaning()),
		working.FigureBlock{Figure: "residuals"}, working.TableBlock{Table: "shares"},
		working.Note("All the intervals together hold the true shares with a confidence of %s\u00a0%% (Goodman).", s.levelWords()))
}

// residuals draws each category's residual as a bar from the line “as expected”.
func (s *fit) residuals() {
	f := &working.Figure{ID: "residuals", Form: working.Bars, Title: "Residuals", Axis: working.Axis{Label: "residual"}}
	var says []string
	low, high := -2.0, 2.0
	for i, r := range s.stats.Residual {
		f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Row: i, Label: s.names[i], X: working.Positions(math.Min(0, r), math.Max(0, r))})
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
		if math.Abs(r) >= 2 {
			more := "more"
			if r < 0 {
				more = "fewer"
			}
			parts = append(parts, fmt.Sprintf("%s “%s” than expected, %d against %s", more, s.names[i], s.observed[i], working.FormatNumber(s.stats.Expected[i], 1)))
		}
	}
	if parts == nil {
		return " No single one stands out."
	}
	return " There are " + strings.Join(parts, "; ") + "."
}
