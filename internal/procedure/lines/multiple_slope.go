package lines

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// A slopeTest is the test of one coefficient, given the others, worked in full.
type slopeTest struct {
	write.Estimate
	of   *severalPredictors
	term *term
	at   int       // among the terms
	own  []float64 // what each case has of the predictor that the others do not have
}

// readSlope finds the coefficient that is tested, if the problem names one.
func (s *severalPredictors) readSlope() error {
	s.slope = -1
	if s.o.slope == "" {
		return nil
	}
	names := make([]string, len(s.terms))
	for j := range s.terms {
		if names[j] = s.terms[j].name; names[j] == s.o.slope {
			s.slope = j
			return nil
		}
	}
	return problem.Errors{problem.Unknown("/options/slope", "coefficient", s.o.slope, names)}
}

// slopeUnit is the unit of a coefficient.
func (s *severalPredictors) slopeUnit(t *term) string {
	unit := s.response.heading.Unit
	if t.level != "" {
		return unit
	}
	return per(unit, s.predictors[t.variable].Unit)
}

// given goes on after what is said of one predictor.
func (s *severalPredictors) given() string {
	if len(s.predictors) == 1 {
		return ""
	}
	return ", the other predictors as they are"
}

// slopeDirection returns what the hypotheses on the coefficient say.
func (s *severalPredictors) slopeDirection() write.Direction {
	t := &s.terms[s.slope]
	v := s.predictors[t.variable]
	symbol := strconv.Itoa(s.slope + 1)
	d := write.Direction{
		Tail: s.P.Tail, TeX: write.Compared{Left: `\beta_{` + symbol + `}`, Right: "0"},
		Plain: write.Compared{Left: "β" + subscript(symbol), Right: "0"},
		Extreme: problem.Sides[string]{
			Both:    "a coefficient at least this many standard errors from 0, in either direction,",
			Less:    "a coefficient as low as this one or lower, in standard errors,",
			Greater: "a coefficient as high as this one or higher, in standard errors,",
		},
	}
	if t.level == "" {
		said := []any{s.yName(), words.InSentence(v.Title()), s.given()}
		d.Compared = working.Compared{Of: []string{s.yName(), words.InSentence(v.Title())}, By: "slope"}
		d.Null = write.Fill(problem.Sides[string]{
			Both: "mean %s is the same whatever %s is%s", Less: "mean %s does not fall with growing %s%s",
			Greater: "mean %s does not rise with growing %s%s",
		}, said...)
		d.Alternative = write.Fill(problem.Sides[string]{
			Both: "mean %s rises or falls with %s%s", Less: "mean %s falls with growing %s%s", Greater: "mean %s rises with growing %s%s",
		}, said...)
		return d
	}
	level, reference := v.Levels[v.FindLevel(t.level)].Name, v.Levels[s.categories[v].reference].Name
	said := []any{s.yName(), level, reference, s.given()}
	d.Compared = working.Compared{Of: []string{level, reference}, By: "slope"}
	d.Null = write.Fill(problem.Sides[string]{
		Both: "mean %s is the same for %s as for %s%s", Less: "mean %s is not lower for %s than for %s%s",
		Greater: "mean %s is not higher for %s than for %s%s",
	}, said...)
	d.Alternative = write.Fill(problem.Sides[string]{
		Both: "mean %s differs between %s and %s%s", Less: "mean %s is lower for %s than for %s%s",
		Greater: "mean %s is higher for %s than for %s%s",
	}, said...)
	return d
}

// subscript writes a whole number below the line.
func subscript(digits string) string {
	out := []rune(digits)
	for i, r := range out {
		out[i] = '₀' + (r - '0')
	}
	return string(out)
}

// testsSlope reports whether one coefficient is tested.
func (s *severalPredictors) testsSlope() bool { return s.slope >= 0 }

// newSlopeTest returns the test, on the same sheet.
func (s *severalPredictors) newSlopeTest(ctx context.Context) (*slopeTest, error) {
	own, err := s.ownPart(ctx)
	if err != nil {
		return nil, err
	}
	t := &slopeTest{of: s, term: &s.terms[s.slope], at: s.slope, own: own}
	t.Sheet = s.Sheet
	t.Unit, t.Parameter, t.Family = s.slopeUnit(t.term), "slope", write.TOf("df_slope")
	t.ID, t.SEID, t.Subject = "slope", "se_slope", "the slope of "+words.InSentence(t.term.shown)
	t.Named = t.Subject
	t.Observed, t.SE = s.fit.Coefficients[t.at+1], s.fit.SE[t.at+1]
	t.Side = write.SideOf(t.Observed)
	return t, nil
}

// work writes the steps from the hypotheses to the report.
func (t *slopeTest) work(conditions func()) {
	s := t.of
	t.DefineNull(`\beta_{0}`, "Slope under H₀", "What H₀ states: 0, the predictor says nothing that the others do not say.")
	both := t.BothWays("whether the response should rise or fall")
	what := working.Say("β is the coefficient of *%s*, beside the others, in the fit that all cases of the population would give.",
		words.InSentence(t.term.shown))
	t.HypothesesStep(append([]working.Block{what}, t.TailReasons(both, "a slope")...)...)
	s.overall("p_f")
	t.test()
	conditions()
	t.statistic()
	t.PValueStep()
	t.Decide()
	t.Interval()
	t.conclude()
}

// test defines the coefficient, its standard error, the statistic and what follows from it.
func (t *slopeTest) test() {
	name := words.InSentence(t.term.shown)
	squares, products := make([]float64, len(t.own)), make([]float64, len(t.own))
	for i, x := range t.own {
		squares[i], products[i] = x*x, x*t.of.response.y[i]
	}
	t.Column("cases/*/own_squared", squares)
	t.Column("cases/*/own_product", products)
	t.Define(working.Quantity{
		ID: "ss_own", Symbol: `\tilde{S}_{xx}`, Label: "Sum of squares of what is own to " + name,
		Says: "How far the cases spread along what the predictor has that the others have not.",
	}, working.Ratio, sumOf(squares), formula.Total{Column: t.Calculated("cases/*/own_squared", `\tilde{x}_{i}^{2}`, 3)})
	t.Define(working.Quantity{
		ID: "sp_own", Symbol: `\tilde{S}_{xy}`, Label: "Sum of products with what is own to " + name,
		Says: "Positive where cases that have more of it than the others let expect tend to have a high response.",
	}, working.Ratio, sumOf(products), formula.Total{Column: t.Calculated("cases/*/own_product", `\tilde{x}_{i}\,y_{i}`, 3)})
	t.Define(working.Quantity{
		ID: "slope", Symbol: "b", Label: "Coefficient of " + name, Unit: t.Unit,
		Says: "How much the mean response changes with one unit more, the others as they are.",
	}, working.Measure, t.Observed, formula.Quotient{Over: formula.Ref("sp_own"), Under: formula.Ref("ss_own")})
	t.Define(working.Quantity{
		ID: "se_slope", Symbol: "s_{b}", Label: "Standard error of the coefficient", Unit: t.Unit,
		Says: "How far the coefficient of such a sample typically lies from the true one: the farther, the more its predictor goes with the " +
			"others.",
	}, working.Measure, t.SE, formula.Quotient{Over: formula.Ref("residual_sd"), Under: formula.Root{X: formula.Ref("ss_own")}})
	t.Define(working.Quantity{
		ID: "df_slope", Symbol: `\nu`, Label: "Degrees of freedom",
		Says: "Those of the residuals: every case gives one, and every coefficient takes one.",
	}, working.Degrees, t.of.fit.DF, formula.Ref("df_2"))
	t.Define(working.Quantity{
		ID: "t_slope", Symbol: "t", Label: "Test statistic", Says: "How many standard errors the coefficient lies from 0.",
	}, working.Ratio, t.Observed/t.SE, formula.Quotient{Over: formula.Ref("slope"), Under: formula.Ref("se_slope")})
	t.Test(working.Test{
		Statistic: "t_slope", Symbol: "t", Degrees: []working.Ref{"df_slope"}, Family: t.Family, Name: "t, " + t.DegreesWords("df_slope"),
		Extreme: t.Direction.Extreme.Of(t.P.Tail),
	})
	same := func(id, of working.Ref, symbol, label string) {
		if t.Has(of) {
			display := working.Ratio
			if of == "p" {
				display = working.P
			}
			t.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: "That of this test."}, display, t.Value(of), formula.Ref(of))
		}
	}
	same("p_slope", "p", "p", "p-value of the slope")
	same("slope_critical_low", "critical_low", `t_{\text{low}}`, "Lower critical value of the slope")
	same("slope_critical_high", "critical_high", `t_{\text{high}}`, "Upper critical value of the slope")
}

func (t *slopeTest) statistic() {
	s := t.of
	s.Figure(s.fittedFigure())
	t.Step(working.Statistic, working.Textf("t = @{t_slope}"), append(s.equationBlocks(),
		working.Say("What the test is about is what *%s* has that the other predictors do not have: x̃, what is left of it when it is itself "+
			"fitted by them. Along that the response has the slope b:", words.InSentence(t.term.shown)),
		working.FormulaBlock{Quantity: "ss_own"}, working.FormulaBlock{Quantity: "sp_own"}, working.FormulaBlock{Quantity: "slope"},
		working.Say("How far the cases lie from what the fit gives, and how far they spread along x̃, says how sure that is:"),
		working.FormulaBlock{Quantity: "ss_residual"}, working.FormulaBlock{Quantity: "residual_sd"}, working.FormulaBlock{Quantity: "se_slope"},
		working.FormulaBlock{Quantity: "t_slope"}, t.Distance("t_slope", stats.NoCorrection))...)
	t.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df_2"},
		working.Say("Degrees of freedom: all @{n} cases, less one for every coefficient and the intercept."),
	}, t.Printed()...)...)
}

func (t *slopeTest) conclude() {
	s := t.of
	c := write.Conclusion{
		Used: s.fit.N, Shows: t.FoundWords(),
		More: working.Textf(" The estimated slope is @{slope} (%s\u00a0%% interval: %s).", t.LevelWords(), t.IntervalWords()),
		Warnings: []working.Block{
			working.Warn("That a predictor goes with the response does not say that it brings it about."),
		},
	}
	if !s.overallRejected() {
		c.Warnings = append(c.Warnings, working.Warn("The test of all predictors together does not reject (F = @{f}, p %s@{p_f}). "+
			"A single slope that comes up all the same is a hint for a new study, unless it alone was asked about beforehand.", t.Relation("p_f")))
	}
	t.ConclusionStep(c)
	t.ReportStep(working.Textf("%s on %s, slope of %s: *b* = @{slope}, *SE* = @{se_slope}, *t*(@{df_slope}) = @{t_slope}, *p* %s@{p}, %s, "+
		"%s\u00a0%% CI [%s]; all together *F*(@{df_1}, @{df_2}) = @{f}, *p* %s@{p_f}, *R*² = @{r_squared}, *N* = @{n}.",
		words.UpperFirst(s.yName()), s.predictorWords(), words.InSentence(t.term.shown), t.Relation("p"), t.Direction.Tails(), t.LevelWords(),
		t.Reported(math.Inf(-1), math.Inf(1)), t.Relation("p_f")),
		"The slope with its standard error, t with its degrees of freedom, p and the interval; then the fit as a whole.")
}

// followUp shows the interval of the coefficient.
func (t *slopeTest) followUp() []working.Block {
	t.IntervalFigure(nil)
	return t.IntervalBlocks()
}

// plan offers the power of the test of the coefficient. The predictors spread, and go with each other, as in
// the sample.
func (t *slopeTest) plan() {
	fit := t.of.fit
	along := fit.ResidualSD / t.SE / math.Sqrt(float64(fit.N-1)) // the spread along the predictor that the others leave
	t.PlanBy(working.Planning{
		Inputs: []working.PowerInput{
			{ID: "truth", Label: "True slope", Unit: t.Unit, Value: t.Stated(fit.ResidualSD / along)},
			write.SpreadInput("sd", "Spread about the fit", t.of.response.heading.Unit, fit.ResidualSD),
		},
		N: fit.N, Least: fit.P + 2,
		Truth: func(truth []float64) string { return "a true slope of " + t.InUnit(truth[0]) },
		Side:  func(truth []float64) int { return write.SideOf(truth[0]) },
		Basis: "Calculated by the noncentral t distribution, for cases that lie normally about the fit with the spread that is stated, " +
			"at first that of the sample. The predictors spread and go with each other as in the sample.",
		Power: func(truth []float64, n int) float64 {
			df := float64(n - fit.P - 1)
			low, high := t.Region(dist.T{DF: df})
			return stats.PowerOfT(df, truth[0]/truth[1]*along*math.Sqrt(float64(n-1)), low, high)
		},
	})
}

// slopeSettings are the places in the problem that the test of a coefficient has to itself.
func (s *severalPredictors) slopeSettings() []string {
	if !s.testsSlope() {
		return nil
	}
	return []string{"/options/slope", "/tail"}
}

// mostSlopes is up to how many coefficients each is offered for a test of its own.
const mostSlopes = 30

// slopeControl offers the test of each coefficient, and of all together where H₁ has no side.
func (s *severalPredictors) slopeControl() {
	if len(s.terms) > mostSlopes {
		return
	}
	c := working.Control{ID: "slope", Label: "Test", Pointer: "/options/slope", Beside: working.InStep}
	if !s.testsSlope() || !s.Direction.Directed() {
		c.Choices = append(c.Choices, working.Choice{Value: nil, Label: "all together"})
	}
	for _, t := range s.terms {
		c.Choices = append(c.Choices, working.Choice{
			Value: t.name, Label: words.InSentence(t.shown), Says: fmt.Sprintf("Works the test of the slope of %s, given the others, in full.",
				words.InSentence(t.shown)),
		})
	}
	if s.testsSlope() {
		c.Value = s.terms[s.slope].name
	}
	s.Control(c)
}

// ownPart returns what each case has of a predictor that the others do not have: the residuals of the
// predictor fitted by them. The coefficient is the slope of the response on these (R. Frisch and F. V.
// Waugh, Econometrica 1, 1933).
func (s *severalPredictors) ownPart(ctx context.Context) ([]float64, error) {
	x := s.terms[s.slope].values
	own := make([]float64, len(x))
	others := slices.Delete(columnsOf(s.terms), s.slope, s.slope+1)
	if len(others) == 0 {
		m := stats.NewMoments(x)
		for i := range x {
			own[i] = m.Deviation(x[i])
		}
		return own, nil
	}
	fit, _, err := stats.FitLeastSquares(ctx, others, x)
	if err != nil {
		return nil, err
	}
	row := make([]float64, len(others))
	for i := range x {
		for j := range others {
			row[j] = others[j][i]
		}
		own[i] = fit.Case(row, x[i]).Residual
	}
	return own, nil
}

func sumOf(xs []float64) float64 {
	sum := 0.0
	for _, x := range xs {
		sum += x
	}
	return sum
}
