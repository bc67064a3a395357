package lines

import (
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

type multipleOptions struct {
	references map[string]string
	predictAt  [][]string
	compare    [][]string
	scale      string
	slope      string
}

// RegressionMultiple predicts one number from several variables.
var RegressionMultiple = describe.New(describe.Description{
	ID:     "regression-multiple",
	Family: describe.AboutLines,
	Title:  "Several predictors",
	Asks:   "What do several variables together say of a number?",
	AlsoCalled: []string{"multiple linear regression", "multiple regression", "partial F test", "t-test of a coefficient",
		"variance inflation"},
	Takes: []describe.Takes{describe.TakesVariables},
	Roles: []describe.Role{responseRole, {
		ID: "predictors", Label: "Predictors", Says: "the variables that it is predicted from",
		Kinds: []data.Kind{data.Number, data.Category}, Min: 1,
	}},
	Tails:      true,
	DirectedBy: "slope",
	Compared:   "the slope that is tested",
}, func(o *multipleOptions) []describe.Option {
	return []describe.Option{
		describe.References(&o.references, describe.Option{
			ID: "references", Label: "References", Says: "Of a category, the level that its other levels are set against.",
		}),
		describe.Places(&o.predictAt, describe.Option{
			ID: "predict_at", Label: "Predict at",
			Says: "Lists of a value for each predictor, in their order, at which the response is predicted.",
		}),
		describe.Lists(&o.compare, describe.Option{
			ID: "compare", Label: "Fits to compare", Says: "Lists of predictors whose fits are set beside this one.",
		}),
		describe.Term(&o.slope, describe.Option{
			ID: "slope", Label: "Slope to test", Says: "A predictor, or a level of one, whose coefficient is tested in full, given the others. " +
				"Without it the test is of all predictors together.",
		}),
		scaleOption(&o.scale),
	}
}, readMultiple, func(assigned describe.Assigned) (why string, ok bool) {
	if len(assigned["predictors"]) < 2 {
		return "", false
	}
	var names []string
	for _, v := range assigned["predictors"] {
		names = append(names, words.InSentence(v.Title()))
	}
	return fmt.Sprintf("%s is a number, and is predicted from %s together.", assigned["response"][0].Title(), strings.Join(names, ", ")), true
})

// Work writes the solution.
func (s *severalPredictors) Work(ctx context.Context) (*working.Working, error) {
	if s.fit == nil {
		if err := s.solve(ctx); err != nil {
			return nil, err
		}
	}
	test := "F test of multiple linear regression"
	if s.testsSlope() {
		test = "test of one slope in multiple linear regression"
	}
	s.Start(s.d, test, s.response.variable.Len(), s.fit.N)
	s.SetScale(s.fit.ResidualSD / math.Sqrt(float64(s.fit.N)))
	s.Control(working.AlphaControl(s.P.Alpha))
	if s.testsSlope() {
		s.SetScale(s.fit.SE[s.slope+1])
		s.TailControl()
	}
	s.response.control(&s.Sheet, s.d)
	s.referenceControls()
	s.slopeControl()
	s.Brief(s.brief())
	s.QuestionStep(s.asks())
	s.count()
	s.look()
	s.variation()
	s.tables()
	if s.fit.Perfect {
		s.hypotheses()
		s.perfect()
		return s.Working, nil
	}
	if s.testsSlope() {
		t, err := s.newSlopeTest(ctx)
		if err != nil {
			return nil, err
		}
		t.work(func() { s.conditions(ctx) })
		s.followUp(t.followUp()...)
		t.plan()
		return s.Working, ctx.Err()
	}
	s.hypotheses()
	s.test()
	s.conditions(ctx)
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	s.statistic()
	s.PValueStep()
	s.Decide()
	s.conclude()
	s.followUp()
	s.plan()
	return s.Working, nil
}

// brief says in a sentence what is done.
func (s *severalPredictors) brief() working.Text {
	if s.testsSlope() {
		return working.Textf("Test the slope of **%s** on **%s**, given the other predictors", s.yName(),
			words.InSentence(s.terms[s.slope].shown))
	}
	return working.Textf("Predict **%s** from **%s**", s.yName(), s.predictorWords())
}

// asks says what the question is.
func (s *severalPredictors) asks() working.Block {
	if s.testsSlope() {
		return working.Say("The question is what *%s* says of *%s* that the other predictors do not say: about one coefficient of the fit "+
			"by *%s*.",
			words.InSentence(s.terms[s.slope].shown), s.yName(), s.predictorWords())
	}
	say := "together say"
	if len(s.predictors) == 1 {
		say = "says"
	}
	return working.Say("The question is what *%s* %s of *%s*. First one test of all predictors at once, then each by itself, "+
		"given the others.",
		s.predictorWords(), say, s.yName())
}

func (s *severalPredictors) yName() string { return s.response.name() }

// predictorNames returns what the predictors are called inside a sentence, and predictorWords
// lists them: "minutes, wind and vehicles".
func (s *severalPredictors) predictorNames() []string {
	names := make([]string, len(s.predictors))
	for i, v := range s.predictors {
		names[i] = words.InSentence(v.Title())
	}
	return names
}
func (s *severalPredictors) predictorWords() string { return words.Listed(s.predictorNames()) }

func (s *severalPredictors) count() {
	squares := make([]float64, len(s.each))
	for i, c := range s.each {
		squares[i] = c.Residual * c.Residual
	}
	s.Column("cases/*/observed", s.response.y)
	s.Column("cases/*/residual_squared", squares)
	ys := s.response.series(&s.Sheet)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "With every value that is used."},
		working.Whole, float64(s.fit.N), formula.Count{Column: ys})
	s.Define(working.Quantity{
		ID: "terms", Symbol: "m", Label: "Coefficients beside the intercept",
		Says: "One for each number, and one for each level of a category but its reference.",
	}, working.Whole, float64(s.fit.P), nil)
	mean := 0.0
	for _, y := range s.response.y {
		mean += y / float64(len(s.response.y))
	}
	s.Define(working.Quantity{
		ID: "mean_response", Symbol: `\bar{y}`, Label: "Mean of " + s.yName(), Unit: s.Unit, Says: "Of all cases.",
	}, working.Ratio, mean, formula.Quotient{Over: formula.Total{Column: ys}, Under: formula.Ref("n")})
	blocks := []working.Block{s.Counted(write.Counted{
		Given: s.response.variable.Len(), Used: s.fit.N, UsedRef: "n", Others: "with a missing value",
	})}
	for _, v := range s.predictors {
		if v.Kind == data.Category {
			c := s.categories[v]
			blocks = append(blocks, working.Say("*%s* is a category: %s is its reference, and each of its other %s has a coefficient that says "+
				"how much higher or lower the response is there.", v.Title(), v.Levels[c.reference].Name, words.Count(len(c.levels)-1, "level")))
		}
	}
	s.Step(working.Data, working.Textf("n = @{n}"), append(blocks, s.response.says()...)...)
}

// look shows how every two of the numbers go together, and each predictor with the response.
func (s *severalPredictors) look() {
	type number struct {
		cell    working.Cell
		heading data.Heading
		values  []float64
	}
	y := number{s.VariableCell(s.response.variable), s.response.heading, s.response.y}
	if s.response.log {
		y.cell = working.Cell{Value: "log " + s.response.variable.Name, Shown: s.response.heading.Label}
	}
	numbers := []number{y}
	for _, t := range s.terms {
		if t.level == "" {
			v := s.predictors[t.variable]
			numbers = append(numbers, number{t.cell(), data.Heading{Label: v.Title(), Unit: v.Unit}, t.values})
		}
	}
	const most = 10 // pictures
	var rows []working.Row
	var blocks []working.Block
	for i, up := range numbers {
		for j := i + 1; j < len(numbers); j++ {
			across := numbers[j]
			c := stats.Correlate(up.values, across.values)
			rows = append(rows, working.Row{up.cell, across.cell, s.EstimateCellOrNone(c.R, 3), s.PCellOrNone(c.P())})
			if len(blocks) < most {
				f := scatter(fmt.Sprintf("look_%d_%d", i+1, j+1), across.heading, up.heading, across.values, up.values, s.rows)
				f.Small = true
				s.Figure(f)
				blocks = append(blocks, working.FigureBlock{Figure: f.ID})
			}
		}
	}
	if rows != nil {
		t := &working.Table{ID: "correlations", Title: "Correlations", Key: []string{"first", "second"}, Columns: []working.Column{
			{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "r", Label: "r", Numeric: true},
			{ID: "p", Label: "p", Numeric: true},
		}}
		t.SetRows(rows)
		s.Table(t)
		blocks = append(blocks, working.Say("How every two of the numbers go together, each pair for itself:"),
			working.TableBlock{Table: "correlations"})
	}
	s.Step(working.Look, working.Textf("%s", words.Count(len(s.predictors), "predictor")), append(blocks,
		working.Note("What a predictor says by itself and what it says beside the others are two questions: here stands the first."))...)
}

func (s *severalPredictors) hypotheses() {
	symbols := `\beta_{1} = 0`
	if s.fit.P > 1 {
		symbols = `\beta_{1} = \dots = \beta_{` + strconv.Itoa(s.fit.P) + `} = 0`
	}
	s.UndirectedHypotheses("all β = 0", symbols, `\text{some } \beta_{j} \ne 0`,
		working.Say("One test asks about all coefficients at once. Only where it rejects is there reason to look for the predictor that "+
			"matters."))
}

// define defines a quantity without a unit.
func (s *severalPredictors) define(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
	s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Ratio, value, expr)
}

// variation defines how the variation of the response splits.
func (s *severalPredictors) variation() {
	f := s.fit
	total, residual, df := formula.Ref("ss_total"), formula.Ref("ss_residual"), formula.Ref("df_2")
	define := s.define
	estimate := func(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Share, value, expr)
	}
	define("ss_total", `SS_{T}`, "Sum of squares in all", "How far the responses lie from their mean: squared and added up.", f.Total,
		formula.Deviations{Column: s.response.series(&s.Sheet), Centre: "mean_response", Power: 2})
	define("ss_residual", `SS_{E}`, "Sum of squares of the residuals", "What the fit leaves: how far the cases lie from what it gives.",
		f.Residual,
		formula.Total{Column: s.Calculated("cases/*/residual_squared", "e_{i}^{2}", 3)})
	define("ss_regression", `SS_{R}`, "Sum of squares of the fit", "What the predictors explain together.", f.Regression,
		formula.Subtract(total, residual))
	s.Define(working.Quantity{
		ID: "df_1", Symbol: `\nu_{1}`, Label: "Degrees of freedom of the fit", Says: "One for each coefficient beside the intercept.",
	}, working.Degrees, float64(f.P), formula.Ref("terms"))
	s.Define(working.Quantity{
		ID: "df_2", Symbol: `\nu_{2}`, Label: "Degrees of freedom of the residuals",
		Says: "Every case gives one, and every coefficient takes one away.",
	}, working.Degrees, f.DF, formula.Sum{formula.Ref("n"), formula.Minus{X: formula.Ref("terms")}, formula.Minus{X: formula.Num(1)}})
	define("ms_regression", `MS_{R}`, "Mean square of the fit", "Its sum of squares for each of its degrees of freedom.",
		f.Regression/float64(f.P), formula.Quotient{Over: formula.Ref("ss_regression"), Under: formula.Ref("df_1")})
	define("ms_residual", `MS_{E}`, "Mean square of the residuals", "Their sum of squares for each of their degrees of freedom.",
		f.Residual/f.DF, formula.Quotient{Over: formula.Ref("ss_residual"), Under: formula.Ref("df_2")})
	share, adjusted := f.R2, f.AdjustedR2
	shareExpr := formula.Expr(formula.Quotient{Over: formula.Ref("ss_regression"), Under: total})
	adjustedExpr := formula.Expr(formula.Subtract(formula.Num(1), formula.Quotient{
		Over:  formula.Quotient{Over: residual, Under: df},
		Under: formula.Quotient{Over: total, Under: formula.Subtract(formula.Ref("n"), formula.Num(1))},
	}))
	if f.Total == 0 {
		share, adjusted, shareExpr, adjustedExpr = math.NaN(), math.NaN(), nil, nil
	}
	estimate("r_squared", "R^{2}", "Share explained",
		"Which share of the variation of the response the predictors explain together. It never falls with another predictor.", share, shareExpr)
	estimate("adjusted_r_squared", `R^{2}_{\text{adj}}`, "Adjusted share",
		"The same, freed of what any predictor explains by chance: it may fall with another predictor.", adjusted, adjustedExpr)
	s.Define(working.Quantity{
		ID: "residual_sd", Symbol: "s", Label: "Spread about the fit", Unit: s.Unit,
		Says: "How far cases typically lie above or below what the fit gives.",
	}, working.Ratio, f.ResidualSD, formula.Root{X: formula.Quotient{Over: residual, Under: df}})
	if !f.Perfect {
		define("aic", "AIC", "Akaike’s criterion", "Of fits to the same cases, a smaller one is better: it weighs what is left "+
			"against the number of coefficients. The number itself says nothing.", f.AIC, nil)
	}
}

// overall defines F of all predictors together and its p, and sums up how the variation splits.
func (s *severalPredictors) overall(p working.Ref) {
	f := s.fit
	of := write.F("df_1", "df_2")
	s.define("f", "F", "F of all predictors", "How many times as much the predictors explain, for each coefficient, as chance would.", f.F,
		formula.Quotient{Over: formula.Ref("ms_regression"), Under: formula.Ref("ms_residual")})
	s.Define(working.Quantity{
		ID: p, Symbol: "p_{F}", Label: "p of F", Says: "Of the test that all coefficients are 0.",
	}, working.P, of.New([]float64{float64(f.P), f.DF}).Upper(f.F), formula.Tail{Of: of, X: formula.Ref("f")})
	s.varianceTable(p)
}

// overallRejected reports whether the test of all predictors together rejects.
func (s *severalPredictors) overallRejected() bool {
	return dist.F{DF1: float64(s.fit.P), DF2: s.fit.DF}.Upper(s.fit.F) <= s.P.Alpha
}

func (s *severalPredictors) test() {
	f := s.fit
	s.define("f", "F", "Test statistic", "How many times as much the predictors explain, for each coefficient, as chance would.", f.F,
		formula.Quotient{Over: formula.Ref("ms_regression"), Under: formula.Ref("ms_residual")})
	s.Test(working.Test{
		Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_1", "df_2"}, Family: s.Family, UpperOnly: true,
		Name: "F, " + s.DegreesWords("df_1", "df_2"), Extreme: "predictors that explain at least as much",
	})
	s.varianceTable("p")
	columns := columnsOf(s.terms)
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true, any %s may as well go with any values of the predictors. So the values of %s are shuffled "+
			"among the %d cases, and F is calculated anew.", s.yName(), s.yName(), f.N),
		Assumes: "Shuffling needs no normal shape, but takes for granted that without an effect all cases would be alike.",
		Sampler: func() stats.Sampler {
			fOf := stats.FOfResponses(columns, f.N)
			return stats.ShuffleLabels(s.response.y, []int{f.N}, func(groups [][]float64) float64 { return fOf(groups[0]) })
		},
	})
}

func (s *severalPredictors) conditions(ctx context.Context) {
	a := &aboutLine{Sheet: &s.Sheet, response: s.response, rows: s.rows, each: s.each, terms: s.fit.P + 1}
	a.curvature = bend(ctx, columnsOf(s.terms), fittedValues(s.each), s.response.y)
	var inflated []string
	for j, t := range s.terms {
		if s.fit.Inflation[j] >= 10 {
			inflated = append(inflated, fmt.Sprintf("%s (%s)", words.InSentence(t.shown), working.FormatNumber(s.fit.Inflation[j], 1)))
		}
	}
	if inflated != nil {
		s.Condition("collinearity", working.Doubtful, working.Textf("Nearly dependent on the other predictors: %s. The inflation "+
			"says how many times larger the variance of its coefficient is for that; from 10 on single coefficients can hardly be "+
			"read.", strings.Join(inflated, ", ")))
	} else {
		s.Condition("collinearity", working.Met, working.Textf("No predictor nearly follows from the others: every inflation of variance "+
			"lies below 10."))
	}
	counted, coefficients := words.Count(s.fit.N, "case"), words.Count(s.fit.P, "coefficient")
	if per := float64(s.fit.N) / float64(s.fit.P); per < 10 {
		s.Condition("sample-size", working.Doubtful, working.Textf("%s for %s, %s for each: with fewer than ten a fit follows chance.",
			counted, coefficients, working.FormatNumber(per, 1)))
	} else {
		s.Condition("sample-size", working.Met, working.Textf("%s for %s: enough, by the usual rule of ten for each.", counted, coefficients))
	}
	a.judge("collinearity", "sample-size")
}

// statistic writes the steps on the statistic and on its critical value.
func (s *severalPredictors) statistic() {
	s.Figure(s.fittedFigure())
	s.Step(working.Statistic, working.Textf("F = @{f}"), append(s.equationBlocks(),
		working.Say("What is left of the variation is set against what the predictors explain:"),
		working.FormulaBlock{Quantity: "ss_total"}, working.FormulaBlock{Quantity: "ss_residual"},
		working.FormulaBlock{Quantity: "ss_regression"}, working.FormulaBlock{Quantity: "ms_regression"},
		working.FormulaBlock{Quantity: "ms_residual"},
		working.FormulaBlock{Quantity: "f"}, working.TableBlock{Table: "variance"})...)
	s.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df_2"},
		working.Say("Degrees of freedom: @{df_1}, one for each coefficient, and @{df_2}, all cases less one for every coefficient and the " +
			"intercept."),
	}, s.PrintedF(s.P.Alpha, s.Value("df_1"), s.Value("df_2"))...)...)
}

func (s *severalPredictors) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.fit.N, More: working.Textf(" Together they explain %s of its variation.", working.FormatNumber(100*s.fit.R2, 1)+"\u00a0%"),
		Warnings: []working.Block{working.Warn("That a predictor goes with the response does not say that it brings it about.")},
	})
	s.ReportStep(working.Textf("%s on %s: *F*(@{df_1}, @{df_2}) = @{f}, *p* %s@{p}, *R*² = @{r_squared}, adjusted *R*² = "+
		"@{adjusted_r_squared}, *N* = @{n}.", words.UpperFirst(s.yName()), s.predictorWords(), s.Relation("p")),
		"F with its degrees of freedom, p and the shares explained; the coefficients go into a table.")
}

// plan offers the power of the test of all predictors together.
func (s *severalPredictors) plan() {
	df1 := float64(s.fit.P)
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{
			{ID: "truth", Label: "True share explained, R²", Value: 0.13, Above: new(0.0), Below: new(1.0)}, // a medium effect (Cohen, 9.2)
		},
		N: s.fit.N, Least: s.fit.P + 2,
		Truth: func(truth []float64) string {
			return "predictors that in truth explain " + working.FormatPercent(truth[0]) + "\u00a0% of the variation"
		},
		Side: func([]float64) int { return 1 },
		Basis: "Calculated by the noncentral F distribution, for cases that lie normally about the fit with one spread, and the " +
			"present predictors (Cohen, Statistical Power Analysis, 2nd ed., 9.3).",
		Power: func(truth []float64, n int) float64 {
			df2 := float64(n) - df1 - 1
			return stats.PowerOfF(df1, df2, float64(n)*truth[0]/(1-truth[0]), dist.F{DF1: df1, DF2: df2}.UpperQuantile(s.P.Alpha))
		},
	})
}
