package tables

import (
	"context"
	"fmt"
	"math"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/stats/exact"
	"grund/internal/words"
	"grund/internal/working"
)

type independenceOptions struct {
	levelOptions
	continuity bool
	statistic  string
}

// The statistics that measure how far a table lies from independence.
const (
	pearson         = "pearson"
	likelihoodRatio = "likelihood_ratio"
)

// ChiSquareIndependence asks whether two categories are independent, by Pearson's chi-square
// statistic of their table, or by the likelihood ratio (A. Agresti, Categorical Data Analysis, 3rd ed., 3.2.1).
var ChiSquareIndependence = describe.New(describe.Description{
	ID:     "chi-square-independence",
	Family: describe.AboutCounts,
	Title:  "Two categories",
	Asks:   "Do two categories have to do with each other?",
	AlsoCalled: []string{
		"chi-square test of independence", "test of homogeneity", "Pearson's chi-square test", "contingency table", "likelihood ratio test",
		"G test",
	},
	Takes: []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles: []describe.Role{rowRole, columnRole},
}, func(o *independenceOptions) []describe.Option {
	statistic := describe.OneOf(&o.statistic, pearson, describe.Option{
		ID: "statistic", Label: "Statistic", Live: true, Key: "l",
		Says: "What measures how far the table lies from independence. Both follow the same curve where the counts are large.",
		Choices: []describe.Choice{
			{Value: pearson, Label: "χ²", Says: "squared differences, each by what is expected (Pearson)"},
			{Value: likelihoodRatio, Label: "G", Says: "twice the logarithm of the likelihood ratio"},
		},
	})
	return append(append([]describe.Option{statistic, write.ContinuityOption(&o.continuity)}, o.fields()...), withinOption(&o.within))
}, readIndependence, func(assigned describe.Assigned) (why string, ok bool) {
	return fmt.Sprintf("%s and %s are categories: whether they have to do with each other is looked at in their table.",
		assigned["row"][0].Title(), words.InSentence(assigned["column"][0].Title())), fits(assigned)
})

// independence is a problem about a statistic of a table that follows a chi-square curve.
type independence struct {
	association
	statistic string
}

func readIndependence(p *problem.Problem, d *describe.Description, o *independenceOptions) (describe.Task, error) {
	table, err := readCrossed(p, &o.levelOptions)
	if err != nil {
		return nil, err
	}
	if o.continuity && !table.twoByTwo() {
		return nil, problem.Errors{{
			Pointer: "/options/continuity", Instead: "remove the option",
			Says: fmt.Sprintf("the table has %d rows and %d columns, and the correction is for two of each", len(table.row.levels),
				len(table.column.levels)),
		}}
	}
	s := &independence{association: newAssociation(p, d, table, o.continuity), statistic: o.statistic}
	if s.byRatio() {
		s.Direction.Compared.By = "g"
	}
	return s, s.readWithin(o.within)
}

// byRatio reports whether the likelihood ratio decides.
func (s *independence) byRatio() bool { return s.statistic == likelihoodRatio }

// testName is what textbooks call the test.
func (s *independence) testName() string {
	switch {
	case s.byRatio():
		return "likelihood ratio test of independence"
	case s.continuity:
		return "chi-square test of independence, with continuity correction"
	}
	return "chi-square test of independence"
}

// Work writes the solution.
func (s *independence) Work(ctx context.Context) (*working.Working, error) {
	s.begin(s.testName())
	s.LiveOption(s.d, "statistic", s.statistic)
	if s.twoByTwo() {
		s.ContinuityControl(s.d, s.continuity)
	}
	s.question()
	s.count()
	s.look()
	s.hypotheses()
	s.worked()
	s.test()
	if err := s.alternatives(ctx); err != nil {
		return nil, err
	}
	if s.twoByTwo() {
		s.twoByTwoMeasures()
	}
	s.cramersV()
	s.conditions()
	s.statisticStep()
	s.PValueStep()
	s.otherPs()
	s.Decide()
	s.NoteExact("p_exact")
	s.conclude()
	return s.Working, s.followUp(ctx)
}

// less is n − 1 in a formula.
func less(n int) formula.Expr { return formula.Subtract(formula.Num(float64(n)), formula.Num(1)) }

// test defines both statistics and makes the test by the one that decides.
func (s *independence) test() {
	t := s.table
	chiSquare, g := "Test statistic", "Likelihood ratio"
	if s.byRatio() {
		chiSquare, g = "Pearson’s chi-square", "Test statistic"
	}
	s.Define(working.Quantity{
		ID: "chi_square", Symbol: `\chi^{2}`, Label: chiSquare, Says: "How far all cells together lie from what independence expects.",
	}, working.Ratio, t.ChiSquare, formula.Total{Column: s.Calculated("cells/*/contribution", `\frac{(O-E)^{2}}{E}`, 3)})
	s.Define(working.Quantity{
		ID: "g", Symbol: "G", Label: g,
		Says: "Another measure of the same distance: twice the logarithm of how much likelier the table is with its own shares than under " +
			"independence.",
	}, working.Ratio, t.G, formula.Total{Column: s.Calculated("cells/*/deviance", `2\left(O\ln\frac{O}{E}-O+E\right)`, 3)})
	s.Define(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "With the totals given, so many cells can be filled freely; the others " +
			"follow.",
	}, working.Degrees, t.DF, formula.Product{less(len(s.row.levels)), less(len(s.column.levels))})
	test := working.Test{
		Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: s.Family, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "a table at least this far from independence",
	}
	measured := func(table *stats.Table) float64 { return table.ChiSquare }
	if s.byRatio() {
		test.Statistic, test.Symbol = "g", "G"
		measured = func(table *stats.Table) float64 { return table.G }
	}
	s.Test(test)
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true it makes no difference which %s goes with which %s. So the %d cases are dealt anew, with "+
			"the same totals, and %s is calculated for the table that comes out.", s.row.name(), s.column.name(), t.N, test.Symbol),
		Assumes: fmt.Sprintf("Dealing needs no large counts, which the curve does need: where few are expected the two may part. A %s of "+
			"tables goes in steps.", test.Symbol),
		Sampler: func() stats.Sampler {
			return stats.DrawTable(t.Rows, t.Columns, func(table [][]int) float64 { return measured(stats.NewTable(table, s.continuity)) })
		},
	})
}

// alternatives defines the p-values by the other statistic and by counting all tables.
func (s *independence) alternatives(ctx context.Context) error {
	exact, err := write.CountExactP(ctx, fmt.Sprint("table", s.counts), func(ctx context.Context) (float64, bool) {
		return s.countedAll(ctx, exact.QuickSteps)
	})
	if err != nil {
		return err
	}
	pOf := func(id, symbol, label string, statistic working.Ref) {
		s.Define(working.Quantity{ID: working.Ref(id), Symbol: symbol, Label: label, Says: "From " + s.nameOf(statistic) +
			" and the same curve."},
			working.P, dist.ChiSquare{DF: s.table.DF}.Upper(s.Value(statistic)), formula.Tail{Of: s.Family, X: formula.Ref(string(statistic))})
	}
	pOf("p_g", "p_{G}", "p-value by the likelihood ratio", "g")
	if s.byRatio() {
		pOf("p_chi_square", `p_{\chi^{2}}`, "p-value by Pearson’s chi-square", "chi_square")
	}
	says := "From all tables with the same totals, without the chi-square curve."
	if !exact.Reached() {
		says = "Counting all tables takes long here: the exact test does it on its own."
	}
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: says}, working.P, exact.P, nil)
	return nil
}

// deciding is the statistic that the test is made by.
func (s *independence) deciding() working.Ref {
	if s.byRatio() {
		return "g"
	}
	return "chi_square"
}

// nameOf returns a statistic's symbol as it stands in words.
func (s *independence) nameOf(statistic working.Ref) string {
	if statistic == "g" {
		return "G"
	}
	return "χ²"
}

// twoByTwoMeasures defines what compares the two rows of a 2×2 table.
func (s *independence) twoByTwoMeasures() {
	for i, cell := range []int{s.counts[0][0], s.counts[0][1], s.counts[1][0], s.counts[1][1]} {
		letter := string(rune('a' + i))
		s.Define(working.Quantity{
			ID: working.Ref(letter), Symbol: letter, Label: "Cell " + letter, Says: fmt.Sprintf("%s, %s.", s.row.levels[i/2], s.column.levels[i%2]),
		}, working.Whole, float64(cell), nil)
	}
	a, b, c, d := formula.Ref("a"), formula.Ref("b"), formula.Ref("c"), formula.Ref("d")
	s.Define(working.Quantity{
		ID: "phi", Symbol: `\varphi`, Label: "Phi",
		Says: "The strength of the association, with its sign: positive where the first row goes with the first column.",
	}, working.Share, s.table.Phi, formula.Quotient{
		Over: formula.Subtract(formula.Product{a, d}, formula.Product{b, c}),
		Under: formula.Root{X: formula.Product{
			formula.Sum{a, b}, formula.Sum{c, d}, formula.Sum{a, c}, formula.Sum{b, d},
		}},
	})
	_, area := s.Level("In the long run this share of such intervals holds the true value.")
	z := dist.Normal{}.UpperQuantile(area)
	odds, risk := s.table.OddsRatio(z), s.table.RelativeRisk(z)
	exists := func(r stats.Ratio, e formula.Expr) formula.Expr {
		if math.IsInf(r.Value, 0) || math.IsNaN(r.Value) {
			return nil
		}
		return e
	}
	first, second, what := s.row.levels[0], s.row.levels[1], s.column.levels[0]
	s.Define(working.Quantity{
		ID: "odds_ratio", Symbol: "OR", Label: "Odds ratio",
		Says: fmt.Sprintf("How many times as high the odds of “%s” are for “%s” as for “%s”.", what, first, second),
	}, working.Share, odds.Value, exists(odds, formula.Quotient{Over: formula.Product{a, d}, Under: formula.Product{b, c}}))
	s.Define(working.Quantity{
		ID: "ratio", Symbol: "RR", Label: "Ratio of the shares",
		Says: fmt.Sprintf("How many times as frequent “%s” is for “%s” as for “%s”.", what, first, second),
	}, working.Share, risk.Value, exists(risk, formula.Quotient{
		Over: formula.Quotient{Over: a, Under: formula.Sum{a, b}}, Under: formula.Quotient{Over: c, Under: formula.Sum{c, d}},
	}))
	s.measuresTable(odds, risk, z)
}

// measuresTable lists what compares the two rows of a 2×2 table, with intervals.
func (s *independence) measuresTable(odds, risk stats.Ratio, z float64) {
	a, b, c, d := s.counts[0][0], s.counts[0][1], s.counts[1][0], s.counts[1][1]
	two := stats.CompareProportions(a, a+b, c, c+d, stats.NoCorrection)
	t := &working.Table{ID: "measures", Title: "Measures of the difference between the rows", Key: []string{"measure"},
		Columns: []working.Column{
			{ID: "measure", Label: "measure"}, {ID: "value", Label: "value", Numeric: true}, {ID: "low", Label: "from", Numeric: true},
			{ID: "high", Label: "to", Numeric: true},
		}}
	row := func(name string, ref working.Ref, value, low, high float64) working.Row {
		cells := working.Row{working.NameCell(name), s.EstimateCell(value, 3), s.EstimateCell(low, 3), s.EstimateCell(high, 3)}
		cells[1].Ref = ref
		return cells
	}
	t.SetRows([]working.Row{
		row("odds ratio", "odds_ratio", odds.Value, odds.Low, odds.High), row("ratio of the shares", "ratio", risk.Value, risk.Low, risk.High),
		row("difference of the shares", "", two.Difference, two.Difference-z*two.Unpooled, two.Difference+z*two.Unpooled),
	})
	s.Table(t)
}

// cramersV defines how strong the association is.
func (s *independence) cramersV() {
	smaller := min(len(s.row.levels), len(s.column.levels))
	v := formula.Expr(formula.Root{X: formula.Quotient{
		Over: formula.Ref("chi_square"), Under: formula.Product{formula.Ref("n"), less(smaller)},
	}})
	if s.continuity {
		v = formula.Abs{X: formula.Ref("phi")}
	}
	s.Define(working.Quantity{
		ID: "cramers_v", Symbol: "V", Label: "Strength of the association (Cramér’s V)",
		Says: "From 0, none, to 1: each row then has one column of its own, or each column one row.",
	}, working.Share, s.table.CramersV, v)
}

// worked defines the expected count and the part in the statistic of the cell that gives most, as
// the pattern for all.
func (s *independence) worked() {
	t := s.table
	gives := func(i, j int) float64 { return t.Contribution[i][j] }
	if s.byRatio() {
		gives = s.deviance
	}
	i, j := 0, 0
	for k := range s.counts {
		for l := range s.counts[k] {
			if gives(k, l) > gives(i, j) {
				i, j = k, l
			}
		}
	}
	where := fmt.Sprintf("%s, %s", s.row.levels[i], s.column.levels[j])
	count := func(id working.Ref, symbol, label, says string, value int) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Whole, float64(value), nil)
	}
	count("row_total_1", "R", "Row total, "+s.row.levels[i], "All cases of the row.", t.Rows[i])
	count("column_total_1", "C", "Column total, "+s.column.levels[j], "All cases of the column.", t.Columns[j])
	count("observed_1", "O", "Observed, "+where, "The cases in the cell.", s.counts[i][j])
	s.Define(working.Quantity{
		Aside: true, ID: "expected_1", Symbol: "E", Label: "Expected, " + where,
		Says: "If the two have nothing to do with each other, the row’s share of all cases falls to each column alike.",
	}, working.ExpectedCount, t.Expected[i][j], formula.Quotient{
		Over: formula.Product{formula.Ref("row_total_1"), formula.Ref("column_total_1")}, Under: formula.Ref("n"),
	})
	if s.byRatio() {
		s.workedDeviance(where, s.counts[i][j], s.deviance(i, j))
		return
	}
	distance := formula.Expr(formula.Subtract(formula.Ref("observed_1"), formula.Ref("expected_1")))
	if s.continuity {
		d := math.Abs(t.Difference[i][j])
		expr := formula.Expr(formula.Num(0.5))
		if d < 0.5 {
			expr = formula.Abs{X: distance}
		}
		s.Define(working.Quantity{
			ID: "correction", Symbol: "c", Label: "Continuity correction", Says: "Half a case, but never more than the difference itself.",
		}, working.Ratio, math.Min(0.5, d), expr)
		distance = formula.Subtract(formula.Abs{X: distance}, formula.Ref("correction"))
	}
	s.Define(working.Quantity{
		Aside: true, ID: "contribution_1", Symbol: "k", Label: "Contribution, " + where,
		Says: "The squared difference, measured by what was expected: a difference of 5 is much where 4 are expected, and little where 400 are.",
	}, working.Ratio, t.Contribution[i][j], formula.Quotient{Over: formula.Square(distance), Under: formula.Ref("expected_1")})
}

// workedDeviance defines what a cell adds to the likelihood ratio.
func (s *independence) workedDeviance(where string, observed int, deviance float64) {
	o, e := formula.Ref("observed_1"), formula.Ref("expected_1")
	inner := formula.Sum{formula.Product{o, formula.Log{X: formula.Quotient{Over: o, Under: e}}}, formula.Minus{X: o}, e}
	says := "What the cell adds to G. Over all cells −O + E adds up to 0; with it no cell is below 0."
	if observed == 0 {
		inner, says = formula.Sum{e}, "What the cell adds to G: twice what is expected, where nothing was observed."
	}
	s.Define(working.Quantity{Aside: true, ID: "deviance_1", Symbol: "k", Label: "Part in G, " + where, Says: says},
		working.Ratio, deviance, formula.Product{formula.Num(2), inner})
}

// conditions judges what the test takes for granted and writes the step.
func (s *independence) conditions() {
	s.TakenAsMet("each case is counted once and tells nothing about another. The numbers cannot show this; " +
		"if the same cases were asked twice, the test of discordant pairs belongs here.")
	var expected []float64
	var cells []string
	for i, row := range s.table.Expected {
		for j, e := range row {
			expected, cells = append(expected, e), append(cells, s.row.levels[i]+", "+s.column.levels[j])
		}
	}
	s.ExpectedCells(expected, cells, "Count all tables, or join levels that belong together.",
		write.By("exact-independence", "Count all tables", "Works the same problem by the exact test, which needs no large counts, beside "+
			"this one."))
	s.ConditionsStep([]string{"independence", "expected-counts"})
}

// statisticStep writes the steps on the statistic and on its critical value.
func (s *independence) statisticStep() {
	part, parts := working.Ref("contribution_1"), "All other cells follow the same pattern; any of them opens in the table. The contributions"
	if s.byRatio() {
		part, parts = "deviance_1", "All other cells follow the same pattern. The parts"
	}
	statistic := s.deciding()
	blocks := []working.Block{
		working.Say("For one cell in full, the one that gives most:"),
		working.FormulaBlock{Quantity: "expected_1"}, working.FormulaBlock{Quantity: part},
		working.Say("%s add up to the statistic:", parts),
		working.FormulaBlock{Quantity: statistic},
	}
	switch {
	case s.continuity && s.byRatio():
		blocks = append(blocks, working.Note("The continuity correction belongs to χ² and changes nothing in G."))
	case s.continuity:
		blocks = append(blocks, working.Note("The continuity correction takes each observed count nearer to the expected one by half a case."))
	}
	s.Step(working.Statistic, working.Textf("%s = @{%s}", s.nameOf(statistic), statistic), blocks...)
	s.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: with all totals given, %d × %d cells can be filled freely and the others follow. "+
			"They come from the size of the table, not from the number of cases.", len(s.row.levels)-1, len(s.column.levels)-1),
	}, s.PrintedChiSquare()...)...)
}

// otherPs says what p would be in other ways.
func (s *independence) otherPs() {
	other := working.Textf("By the likelihood ratio, G = @{g}, it would be p %s@{p_g}", s.Relation("p_g"))
	if s.byRatio() {
		other = working.Textf("By Pearson’s chi-square, χ² = @{chi_square}, it would be p %s@{p_chi_square}", s.Relation("p_chi_square"))
	}
	exact := working.Textf("; exactly, from all tables with these totals, p %s@{p_exact}.", s.Relation("p_exact"))
	if math.IsNaN(s.Value("p_exact")) {
		exact = working.Textf(". Counting all tables with these totals takes long here; the exact test does it on its own.")
	}
	s.AddTo(working.PValue, working.Prose{Text: working.Join(other, exact)}, s.waysTable())
}

// waysTable sets the ways to a p-value beside each other.
func (s *independence) waysTable() working.Block {
	t := &working.Table{ID: "ways", Title: "The same question, in three ways", Key: []string{"way"}, Columns: []working.Column{
		{ID: "way", Label: "way"}, {ID: "statistic", Label: "statistic", Numeric: true}, {ID: "df", Label: "df", Numeric: true},
		{ID: "p", Label: "p", Numeric: true},
	}}
	counted := working.NoCell()
	if !math.IsNaN(s.Value("p_exact")) {
		counted = s.QuantityCell("p_exact")
	}
	byPearson := working.Ref("p")
	if s.byRatio() {
		byPearson = "p_chi_square"
	}
	t.SetRows([]working.Row{
		{working.NameCell("chi-square (Pearson)"), s.QuantityCell("chi_square"), s.QuantityCell("df"), s.QuantityCell(byPearson)},
		{working.NameCell("likelihood ratio"), s.QuantityCell("g"), s.QuantityCell("df"), s.QuantityCell("p_g")},
		{working.NameCell("exact, all tables counted"), working.BlankCell(), working.BlankCell(), counted},
	})
	s.Table(t)
	return working.TableBlock{Table: "ways"}
}

func (s *independence) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.used, NotEvidence: "that they are independent", Warnings: []working.Block{causes()},
		More: working.Textf(" The association is %s (Cramér’s V = @{cramers_v}).", s.size()),
	})
	statistic := working.Textf("*χ*²(@{df}, *N* = @{n}) = @{chi_square}")
	if s.byRatio() {
		statistic = working.Textf("*G*(@{df}, *N* = @{n}) = @{g}")
	}
	s.ReportStep(working.Join(working.Textf("%s and %s, ", words.UpperFirst(s.row.name()), s.column.name()), statistic,
		working.Textf(", *p* %s@{p}, Cramér’s *V* = @{cramers_v}.", s.Relation("p"))),
		"The degrees of freedom and the number of cases in brackets, then the statistic, p and the strength of the association.")
}

func (s *independence) followUp(ctx context.Context) error {
	blocks := []working.Block{s.strength(), working.FormulaBlock{Quantity: "cramers_v"}}
	if s.twoByTwo() {
		blocks = append(blocks, working.FormulaBlock{Quantity: "odds_ratio"}, working.TableBlock{Table: "measures"},
			working.Note("The intervals are at %s\u00a0%%: of the two ratios on the scale of logarithms, of the difference with each share’s "+
				"own standard error.",
				s.LevelWords()))
	}
	blocks = append(blocks, s.mosaic()...)
	if s.Rejected() {
		blocks = append(blocks, s.leaning()...)
		blocks = append(blocks, s.rowsAgainstRest()...)
	}
	within, err := s.withinBlocks(ctx)
	if err != nil {
		return err
	}
	s.Step(working.FollowUp, working.Textf("V = @{cramers_v}"), append(blocks, within...)...)
	return nil
}
