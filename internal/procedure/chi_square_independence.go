package procedure

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// chiSquareIndependence asks whether two categories are independent, by the chi-square
// statistic of their table.
var chiSquareIndependence = &Procedure{
	Description: Description{
		ID:         "chi-square-independence",
		Title:      "Two categories",
		Asks:       "Do two categories have to do with each other?",
		AlsoCalled: []string{"chi-square test of independence", "test of homogeneity", "Pearson's chi-square test", "contingency table"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles:      []Role{rowRole, columnRole},
		Options: []Option{continuityOption, joinOption, omitOption, orderOption, {ID: "within", Label: "Proportions within a row", Type: ProportionsOption, Default: "equal",
			Says: "What each row is compared with for itself, after the test: equal, or one number for each column; they are divided by their sum."}},
	},
	Work: workChiSquareIndependence,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return fmt.Sprintf("%s and %s are categories: whether they have to do with each other is looked at in their table.", assigned["row"][0].Title(), inSentence(assigned["column"][0].Title())), fitsCrossed(assigned)
	},
}

var chiSquareFamily = formula.Family{Symbol: `\chi^{2}`, Degrees: []formula.Ref{"df"}, New: func(d []float64) dist.Distribution { return dist.ChiSquare{DF: d[0]} }}

func workChiSquareIndependence(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	table, err := readCrossed(p, options)
	if err != nil {
		return nil, err
	}
	s := &independence{association: association{crossed: table, continuity: options["continuity"].(bool)}}
	if s.within, s.equal, err = proportionsFor(table.column.levels, "column", "within", options); err != nil {
		return nil, err
	}
	if s.continuity && !table.twoByTwo() {
		return nil, problem.Errors{{Pointer: "/options/continuity", Says: fmt.Sprintf("the table has %d rows and %d columns, and the correction is for two of each", len(table.row.levels), len(table.column.levels)), Instead: "remove the option"}}
	}
	s.begin(p, d)
	if table.twoByTwo() {
		s.continuityControl(d, s.continuity)
	}
	s.question()
	s.data()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// independence is the problem while it is worked.
type independence struct {
	association
	within []float64 // proportions that each row is compared with for itself
	equal  bool      // whether they are equal
}

func (s *independence) test() {
	t := s.table
	r, c := len(s.row.levels), len(s.column.levels)
	s.worked()
	s.Define(working.Quantity{ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic", Says: "How far all cells together lie from what independence expects."},
		working.Ratio, t.ChiSquare, formula.Total{Column: s.Calculated("cells/*/contribution", `\frac{(O-E)^{2}}{E}`, 3)})
	less := func(n int) formula.Expr { return formula.Subtract(formula.Num(float64(n)), formula.Num(1)) }
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "With the totals given, so many cells can be filled freely; the others follow."},
		working.Degrees, t.DF, formula.Product{less(r), less(c)})
	s.Test(working.Test{
		Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: chiSquareFamily, UpperOnly: true,
		Name:    "χ², " + s.DegreesWords("df"),
		Extreme: "a table at least this far from independence",
	})
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true it makes no difference which %s goes with which %s. So the %d cases are dealt anew, with the same totals, and χ² is calculated for the table that comes out.", inSentence(s.row.title), inSentence(s.column.title), t.N),
		Assumes: "Dealing needs no large counts, which the curve does need: where few are expected the two may part. A χ² of tables goes in steps.",
		Sampler: func() stats.Sampler {
			return stats.DrawTable(t.Rows, t.Columns, func(table [][]int) float64 { return stats.NewTable(table, s.continuity).ChiSquare })
		},
	})
	s.Define(working.Quantity{ID: "g", Symbol: "G", Label: "Likelihood ratio", Says: "Another measure of the same distance: twice the logarithm of how much likelier the table is with its own shares than under independence."},
		working.Ratio, t.G, formula.Total{Column: s.Calculated("cells/*/deviance", `2\left(O\ln\frac{O}{E}-O+E\right)`, 3)})
	s.Define(working.Quantity{ID: "p_g", Symbol: "p_{G}", Label: "p-value by the likelihood ratio", Says: "From G and the same curve."},
		working.P, dist.ChiSquare{DF: t.DF}.Upper(t.G), formula.Tail{Of: chiSquareFamily, X: formula.Ref("g")})
	says := "From all tables with the same totals, without the chi-square curve."
	exact, ok := s.exactP(stats.QuickSteps)
	if !ok {
		says = "Counting all tables takes long here: the exact test does it on its own."
	}
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: says}, working.P, exact, nil)
	if s.twoByTwo() {
		for i, cell := range []int{s.counts[0][0], s.counts[0][1], s.counts[1][0], s.counts[1][1]} {
			letter := string(rune('a' + i))
			s.Define(working.Quantity{ID: working.Ref(letter), Symbol: letter, Label: "Cell " + letter, Says: fmt.Sprintf("%s, %s.", s.row.levels[i/2], s.column.levels[i%2])}, working.Whole, float64(cell), nil)
		}
		a, b, c, d := formula.Ref("a"), formula.Ref("b"), formula.Ref("c"), formula.Ref("d")
		s.Define(working.Quantity{ID: "phi", Symbol: `\varphi`, Label: "Phi", Says: "The strength of the association, with its sign: positive where the first row goes with the first column."}, working.Ratio, t.Phi,
			formula.Quotient{Over: formula.Subtract(formula.Product{a, d}, formula.Product{b, c}), Under: formula.Root{X: formula.Product{formula.Sum{a, b}, formula.Sum{c, d}, formula.Sum{a, c}, formula.Sum{b, d}}}})
		_, area := s.level("In the long run this share of such intervals holds the true value.")
		if s.p.Tail != problem.Both {
			area /= 2
		}
		z := dist.Normal{}.UpperQuantile(area)
		odds, risk := t.OddsRatio(z), t.RelativeRisk(z)
		exists := func(r stats.Ratio, e formula.Expr) formula.Expr {
			if math.IsInf(r.Value, 0) || math.IsNaN(r.Value) {
				return nil
			}
			return e
		}
		s.Define(working.Quantity{ID: "odds_ratio", Symbol: "OR", Label: "Odds ratio", Says: fmt.Sprintf("How many times as high the odds of “%s” are for “%s” as for “%s”.", s.column.levels[0], s.row.levels[0], s.row.levels[1])}, working.Ratio, odds.Value,
			exists(odds, formula.Quotient{Over: formula.Product{a, d}, Under: formula.Product{b, c}}))
		s.Define(working.Quantity{ID: "ratio", Symbol: "RR", Label: "Ratio of the shares", Says: fmt.Sprintf("How many times as frequent “%s” is for “%s” as for “%s”.", s.column.levels[0], s.row.levels[0], s.row.levels[1])}, working.Ratio, risk.Value,
			exists(risk, formula.Quotient{Over: formula.Quotient{Over: a, Under: formula.Sum{a, b}}, Under: formula.Quotient{Over: c, Under: formula.Sum{c, d}}}))
		s.measures(odds, risk, z)
	}
	v := formula.Expr(formula.Root{X: formula.Quotient{Over: formula.Ref("chi_square"), Under: formula.Product{formula.Ref("n"), less(min(r, c))}}})
	if s.continuity {
		v = formula.Abs{X: formula.Ref("phi")}
	}
	s.Define(working.Quantity{ID: "cramers_v", Symbol: "V", Label: "Strength of the association (Cramér’s V)", Says: "From 0, none, to 1: each row then has one column of its own, or each column one row."}, working.Ratio, t.CramersV, v)
}

// measures lists what compares the two rows of a 2×2 table, with intervals.
func (s *independence) measures(odds, risk stats.Ratio, z float64) {
	a, b, c, d := s.counts[0][0], s.counts[0][1], s.counts[1][0], s.counts[1][1]
	two := stats.CompareProportions(a, a+b, c, c+d, stats.NoCorrection)
	t := &working.Table{ID: "measures", Title: "Measures of the difference between the rows", Key: []string{"measure"}, Columns: []working.Column{
		{ID: "measure", Label: "measure"}, {ID: "value", Label: "value", Numeric: true}, {ID: "low", Label: "from", Numeric: true}, {ID: "high", Label: "to", Numeric: true}}}
	row := func(name string, ref working.Ref, value, low, high float64) working.Row {
		cells := working.Row{nameCell(name), s.number(value, 3), s.number(low, 3), s.number(high, 3)}
		cells[1].Ref = ref
		return cells
	}
	t.SetRows([]working.Row{
		row("odds ratio", "odds_ratio", odds.Value, odds.Low, odds.High), row("ratio of the shares", "ratio", risk.Value, risk.Low, risk.High),
		row("difference of the shares", "", two.Difference, two.Difference-z*two.Unpooled, two.Difference+z*two.Unpooled)})
	s.Table(t)
}

// worked defines the expected count and the contribution of the cell that gives most, as
// the pattern for all.
func (s *independence) worked() {
	t := s.table
	i, j := 0, 0
	for k := range s.row.levels {
		for l := range s.column.levels {
			if t.Contribution[k][l] > t.Contribution[i][j] {
				i, j = k, l
			}
		}
	}
	where := fmt.Sprintf("%s, %s", s.row.levels[i], s.column.levels[j])
	s.Define(working.Quantity{ID: "row_total_1", Symbol: "R", Label: "Row total, " + s.row.levels[i], Says: "All cases of the row."}, working.Whole, float64(t.Rows[i]), nil)
	s.Define(working.Quantity{ID: "column_total_1", Symbol: "C", Label: "Column total, " + s.column.levels[j], Says: "All cases of the column."}, working.Whole, float64(t.Columns[j]), nil)
	s.Define(working.Quantity{ID: "observed_1", Symbol: "O", Label: "Observed, " + where, Says: "The cases in the cell."}, working.Whole, float64(s.counts[i][j]), nil)
	s.Define(working.Quantity{ID: "expected_1", Symbol: "E", Label: "Expected, " + where, Says: "If the two have nothing to do with each other, the row’s share of all cases falls to each column alike."},
		working.Ratio, t.Expected[i][j], formula.Quotient{Over: formula.Product{formula.Ref("row_total_1"), formula.Ref("column_total_1")}, Under: formula.Ref("n")})
	distance := formula.Expr(formula.Subtract(formula.Ref("observed_1"), formula.Ref("expected_1")))
	if s.continuity {
		d := t.Difference[i][j]
		expr := formula.Expr(formula.Num(0.5))
		if math.Abs(d) < 0.5 {
			expr = formula.Abs{X: distance}
		}
		s.Define(working.Quantity{ID: "correction", Symbol: "c", Label: "Continuity correction", Says: "Half a case, but never more than the difference itself."}, working.Ratio, math.Min(0.5, math.Abs(d)), expr)
		distance = formula.Subtract(formula.Abs{X: distance}, formula.Ref("correction"))
	}
	s.Define(working.Quantity{ID: "contribution_1", Symbol: "k", Label: "Contribution, " + where, Says: "The squared difference, measured by what was expected: a difference of 5 is much where 4 are expected, and little where 400 are."},
		working.Ratio, t.Contribution[i][j], formula.Quotient{Over: formula.Square(distance), Under: formula.Ref("expected_1")})
}

// conditions judges what the test takes for granted and writes the step.
func (s *independence) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case is counted once and tells nothing about another. The numbers cannot show this; if the same cases were asked twice, the test of discordant pairs belongs here."))
	var expected []float64
	var cells []string
	for i, row := range s.table.Expected {
		for j, e := range row {
			expected, cells = append(expected, e), append(cells, s.row.levels[i]+", "+s.column.levels[j])
		}
	}
	s.expectedCells(expected, cells, "Count all tables, or join levels that belong together.",
		by("exact-independence", "Count all tables", "Works the same problem by the exact test, which needs no large counts, beside this one."))
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "expected-counts"})
}

func (s *independence) steps() {
	blocks := []working.Block{working.Say("For one cell in full, the one that gives most:"),
		working.FormulaBlock{Quantity: "expected_1"}, working.FormulaBlock{Quantity: "contribution_1"},
		working.Say("All other cells follow the same pattern; any of them opens in the table. The contributions add up to the statistic:"),
		working.FormulaBlock{Quantity: "chi_square"}}
	if s.continuity {
		blocks = append(blocks, working.Note("The continuity correction takes each observed count nearer to the expected one by half a case."))
	}
	s.Step(working.Statistic, "χ² = "+s.Show("chi_square"), blocks...).Opens = "chi_square"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: with all totals given, %d × %d cells can be filled freely and the others follow. They come from the size of the table, not from the number of cases.", len(s.row.levels)-1, len(s.column.levels)-1)}, s.printedChiSquare()...)...)
	s.PValueStep()
	if exact := s.Value("p_exact"); math.IsNaN(exact) {
		s.AddTo(working.PValue, working.Say("By the likelihood ratio, G = @{g}, it would be p %s@{p_g}. Counting all tables with these totals takes long here; the exact test does it on its own.", s.relation("p_g")))
	} else {
		s.AddTo(working.PValue, working.Say("By the likelihood ratio, G = @{g}, it would be p %s@{p_g}; exactly, from all tables with these totals, p %s@{p_exact}.", s.relation("p_g"), s.relation("p_exact")))
	}
	s.decide(s.alternativeWords(), s.nullWords())
	s.noteExact("p_exact")
	used := count(s.used, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The association is %s (Cramér’s V = @{cramers_v}).", used, s.alternativeWords(), s.associationSize()),
			working.Warn("That the two have to do with each other does not say that one brings the other about."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that they are independent.", used, s.alternativeWords()))
	}
	report := working.Textf("%s and %s, *χ*²(@{df}, *N* = @{n}) = @{chi_square}, *p* %s@{p}, Cramér’s *V* = @{cramers_v}.", upperFirst(inSentence(s.row.title)), inSentence(s.column.title), s.relation("p"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The degrees of freedom and the number of cases in brackets, then the statistic, p and the strength of the association."))
	s.Conclude(s.conclusion, report)
	s.followUp()
}

func (s *independence) followUp() {
	blocks := []working.Block{working.Say("**How strong is it?** Cramér’s V is @{cramers_v}: %s, by the usual rule of thumb for a table of this size.", s.associationSize()), working.FormulaBlock{Quantity: "cramers_v"}}
	if s.twoByTwo() {
		blocks = append(blocks, working.FormulaBlock{Quantity: "odds_ratio"}, working.TableBlock{Table: "measures"},
			working.Note("The intervals are at %s\u00a0%%: of the two ratios on the scale of logarithms, of the difference with each share’s own standard error.", s.levelWords()))
	}
	blocks = append(blocks, s.mosaic()...)
	if s.Rejected() {
		blocks = append(blocks, s.leaning()...)
		blocks = append(blocks, s.rowsAgainstRest()...)
	}
	if s.Rejected() || !s.equal {
		states := "equally frequent"
		if !s.equal {
			states = "as " + ratioWords(s.within)
		}
		blocks = append(blocks, s.withinRows(s.within, states)...)
	}
	s.Step(working.FollowUp, "V = "+s.Show("cramers_v"), blocks...).Opens = "cramers_v"
}
