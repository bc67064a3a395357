package lines

import (
	"context"
	"fmt"
	"math"
	"slices"

	"grund/internal/data"
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

type simpleOptions struct {
	slope     float64
	predictAt []float64
	scale     string
}

// RegressionSimple predicts one number from another by a straight line.
var RegressionSimple = describe.New(describe.Description{
	ID:         "regression-simple",
	Family:     describe.AboutLines,
	Title:      "A straight line",
	Asks:       "How does one number go with another, and what does it predict?",
	AlsoCalled: []string{"simple linear regression", "least squares line", "test of the slope", "prediction interval"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles: []describe.Role{responseRole, {
		ID: "predictor", Label: "Predictor", Says: "the variable that it is predicted from", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1,
	}},
	Tails:    true,
	Compared: "the slope",
}, func(o *simpleOptions) []describe.Option {
	return []describe.Option{
		describe.Number(&o.slope, 0, describe.Option{
			ID: "slope", Label: "Slope under H₀", Says: "The slope that H₀ states: 0 where the predictor has nothing to do with the response.",
		}),
		describe.Numbers(&o.predictAt, describe.Option{
			ID: "predict_at", Label: "Predict at", Says: "Values of the predictor at which the response is predicted.",
		}),
		scaleOption(&o.scale),
	}
}, readSimple, func(assigned describe.Assigned) (why string, ok bool) {
	return fmt.Sprintf("%s and %s are numbers: the first is predicted from the second by a straight line.",
		assigned["response"][0].Title(), words.InSentence(assigned["predictor"][0].Title())), true
})

// responseRole is the number that is predicted.
var responseRole = describe.Role{
	ID: "response", Label: "Response", Says: "the variable that is predicted", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1,
}

// straightLine is a problem about a line.
type straightLine struct {
	write.Estimate
	d           *describe.Description
	response    *response
	predictor   *data.Variable
	x           []float64
	rows        []int // of the cases, from 1
	given       int
	line        stats.Line
	predictAt   []float64
	xDecimals   int
	least, most float64 // of the predictor
}

func readSimple(p *problem.Problem, d *describe.Description, o *simpleOptions) (describe.Task, error) {
	response, predictor := p.Data.Variables.Find(p.Roles["response"][0]), p.Data.Variables.Find(p.Roles["predictor"][0])
	s := &straightLine{d: d, predictor: predictor, given: response.Len(), predictAt: o.predictAt}
	rows := data.Complete(p.LeftOutCases(), response, predictor)
	for _, i := range rows {
		s.x, s.rows = append(s.x, predictor.Numbers[i]), append(s.rows, i+1)
	}
	if n := len(rows); n < 3 {
		are := fmt.Sprintf("are %d cases", n)
		if n == 1 {
			are = "is 1 case"
		}
		return nil, problem.Errors{{
			Pointer: "/roles/response", Says: fmt.Sprintf("there %s with both values, and a line needs three", are), Instead: "give more cases",
		}}
	}
	var err error
	if s.response, err = newResponse(response, rows, o.scale); err != nil {
		return nil, err
	}
	s.line = stats.FitLine(s.x, s.response.y)
	switch l := s.line; {
	case l.SXX == 0:
		return nil, problem.Errors{{
			Pointer: "/roles/predictor", Instead: "choose another predictor",
			Says: fmt.Sprintf("all values of “%s” are equal, so nothing can be predicted from them", words.Shorten(predictor.Title())),
		}}
	case !ordinary(l.SXX) || l.SYY != 0 && !ordinary(l.SYY) || math.IsNaN(l.Slope) || math.IsInf(l.Intercept, 0):
		return nil, cases.TooFarApart()
	}
	s.P, s.Unit, s.Family, s.Parameter = p, per(s.response.heading.Unit, predictor.Unit), write.T, "slope"
	s.ID, s.SEID, s.Subject, s.Named, s.Option = "slope", "se_slope", "the slope", "the slope", "slope"
	s.Null, s.Observed, s.SE, s.Side = o.slope, s.line.Slope, s.line.SESlope, write.SideOf(s.line.Slope-o.slope)
	s.xDecimals, s.least, s.most = data.MostDecimals(s.x), slices.Min(s.x), slices.Max(s.x)
	s.Direction = s.direction()
	return s, nil
}

// The names of the two variables inside a sentence.
func (s *straightLine) yName() string { return s.response.name() }
func (s *straightLine) xName() string { return words.InSentence(s.predictor.Title()) }

// direction returns what the hypotheses say.
func (s *straightLine) direction() write.Direction {
	d := write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.yName(), s.xName()}, By: "slope"},
		Null: write.Fill(problem.Sides[string]{
			Both: "mean %s is the same whatever %s is", Less: "mean %s does not fall with growing %s",
			Greater: "mean %s does not rise with growing %s",
		}, s.yName(), s.xName()),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "mean %s rises or falls with %s", Less: "mean %s falls with growing %s", Greater: "mean %s rises with growing %s",
		}, s.yName(), s.xName()),
		Extreme: problem.Sides[string]{
			Both:    "a slope at least this many standard errors from " + s.Hypothesised() + ", in either direction,",
			Less:    "a slope as low as this one or lower, in standard errors,",
			Greater: "a slope as high as this one or higher, in standard errors,",
		},
	}
	d.TeX, d.Plain = write.Beside(`\beta`, "β", s.Null)
	if s.Null != 0 {
		said := []any{s.yName(), s.xName(), s.Hypothesised()}
		d.Null = write.Fill(problem.Sides[string]{
			Both: "the slope of %s on %s is %s", Less: "the slope of %s on %s is at least %s", Greater: "the slope of %s on %s is at most %s",
		}, said...)
		d.Alternative = write.Fill(problem.Sides[string]{
			Both: "the slope of %s on %s is not %s", Less: "the slope of %s on %s is less than %s",
			Greater: "the slope of %s on %s is greater than %s",
		}, said...)
	}
	return d
}

// Work writes the solution.
func (s *straightLine) Work(ctx context.Context) (*working.Working, error) {
	s.Start(s.d, "test of the slope in simple linear regression", s.given, len(s.x))
	size := s.SE
	if s.line.Perfect {
		size = math.Abs(s.line.Slope) / 100
	}
	s.SetScale(size)
	s.controls()
	s.Brief(working.Textf("Predict **%s** from **%s**", s.yName(), s.xName()))
	s.QuestionStep(working.Say("The question is about a line: how mean *%s* goes with *%s*, and what the one lets one expect of the other. "+
		"*%s* is the response, *%s* the predictor.", s.yName(), s.xName(), words.UpperFirst(s.yName()), s.xName()))
	s.count()
	s.look()
	s.fit()
	s.hypotheses()
	if s.line.Perfect {
		s.perfect()
		return s.Working, nil
	}
	s.test()
	s.conditions(ctx)
	s.statistic()
	s.PValueStep()
	s.Decide()
	s.Interval()
	s.conclude()
	s.followUp()
	s.plan()
	return s.Working, nil
}

func (s *straightLine) controls() {
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.response.control(&s.Sheet, s.d)
	if s.response.log && s.least <= 0 {
		return // turned round, the response would have no logarithm
	}
	response, predictor := s.P.Roles["response"][0], s.P.Roles["predictor"][0]
	roles := func(response, predictor string) map[string]any {
		return map[string]any{"response": []string{response}, "predictor": []string{predictor}}
	}
	s.Control(working.Control{
		ID: "roles", Label: "Direction", Key: "g", Pointer: "/roles", Beside: working.BesideBrief, Value: roles(response, predictor),
		Choices: []working.Choice{
			{Value: roles(response, predictor), Label: "predict " + s.yName() + " from " + s.xName()},
			{
				Value: roles(predictor, response), Label: "predict " + s.xName() + " from " + s.response.ownName(),
				Says: "Another line: it makes the distances of the other variable small. r stays the same.",
			},
		},
	})
}

// xs is the predictor as it stands in formulas.
func (s *straightLine) xs() formula.Column {
	return s.Series("cases/*/predictor", "x_{i}", s.xDecimals)
}

func (s *straightLine) count() {
	s.Column("cases/*/predictor", s.x)
	s.Column("cases/*/observed", s.response.y)
	n := formula.Ref("n")
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many cases have both values."},
		working.Whole, float64(s.line.N), formula.Count{Column: s.xs()})
	mean := func(id working.Ref, symbol, name, unit string, value float64, column formula.Column) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: "Mean of " + name, Unit: unit, Says: "Of all cases."},
			working.Ratio, value, formula.Quotient{Over: formula.Total{Column: column}, Under: n})
	}
	mean("mean_predictor", `\bar{x}`, s.xName(), s.predictor.Unit, s.line.MeanX, s.xs())
	mean("mean_response", `\bar{y}`, s.yName(), s.response.heading.Unit, s.line.MeanY, s.response.series(&s.Sheet))
	blocks := append([]working.Block{s.Counted(write.Counted{
		Given: s.given, Used: s.line.N, UsedRef: "n", Others: "with a missing value",
	})}, s.response.says()...)
	s.Step(working.Data, working.Textf("n = @{n}"), append(blocks,
		working.Values{Quantities: []working.Ref{"n", "mean_predictor", "mean_response"}})...)
}

func (s *straightLine) look() {
	from, to := observed(s.least, ""), observed(s.most, s.predictor.Unit)
	f := s.over("look", s.response.heading, s.points())
	f.Title = fmt.Sprintf("%s against %s", s.response.heading.Label, s.xName())
	f.Says = fmt.Sprintf("%s: %s from %s to %s, %s from %s to %s.", words.Count(s.line.N, "case"), s.xName(), from, to, s.yName(),
		observed(slices.Min(s.response.y), ""), observed(slices.Max(s.response.y), s.response.heading.Unit))
	s.Figure(f)
	s.Step(working.Look, working.Textf("%s to %s", from, to), working.FigureBlock{Figure: "look"},
		working.Say("Each dot is a case. Do the dots follow a straight band, of the same width everywhere? Does one lie far from the others? "+
			"The line comes later; look first."))
}

func (s *straightLine) hypotheses() {
	s.DefineNull(`\beta_{0}`, "Slope under H₀", "The slope that H₀ states.")
	s.HypothesesStep(append([]working.Block{working.Say("β is the slope of the line that all cases of the population would give.")},
		s.TailReasons(s.BothWays("whether the line should rise or fall"), "a slope")...)...)
}

func (s *straightLine) test() {
	l := s.line
	s.Define(working.Quantity{
		ID: "t", Symbol: "t", Label: "Test statistic", Says: "How many standard errors the slope lies from the one that H₀ states.",
	}, working.Ratio, (l.Slope-s.Null)/l.SESlope, formula.Quotient{Over: s.FromNull(false), Under: formula.Ref("se_slope")})
	s.sum("f", "F", "F of the line", "The mean square of the line over that of the residuals; with H₀ β = 0 it is t squared.", l.F,
		formula.Quotient{Over: formula.Ref("ms_regression"), Under: formula.Ref("ms_residual")})
	ofF := write.F("df_1", "df")
	s.Define(working.Quantity{
		ID: "p_f", Symbol: "p_{F}", Label: "p of F", Says: "Of the test that the slope is 0, whatever H₀ states here.",
	}, working.P, ofF.New([]float64{1, l.DF}).Upper(l.F), formula.Tail{Of: ofF, X: formula.Ref("f")})
	s.Test(working.Test{
		Statistic: "t", Symbol: "t", Degrees: []working.Ref{"df"}, Family: s.Family, Name: "t, " + s.DegreesWords("df"),
		Extreme: s.Direction.Extreme.Of(s.P.Tail),
	})
	s.resample()
	s.varianceTable()
}

// resample offers a simulation of t: the responses, or what they have beyond the line of H₀, are
// shuffled.
func (s *straightLine) resample() {
	rest := make([]float64, s.line.N)
	for i := range rest {
		rest[i] = s.response.y[i] - s.Null*s.x[i]
	}
	how := fmt.Sprintf("If H₀ is true, any %s may as well go with any %s. So the values of %s are shuffled among the %d cases, and t is "+
		"calculated anew.",
		s.yName(), s.xName(), s.yName(), s.line.N)
	if s.Null != 0 {
		how = fmt.Sprintf("If H₀ is true, what %s has beyond %s times %s has nothing to do with %s. "+
			"So these rests are shuffled among the %d cases, and t is calculated anew.",
			s.yName(), working.FormatShortest(s.Null), s.xName(), s.xName(), s.line.N)
	}
	s.ResampleBy(working.Resampling{
		How:     how,
		Assumes: "Shuffling needs no normal shape, but takes for granted that without a slope the cases would be alike all along the line.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(rest, []int{s.line.N}, func(groups [][]float64) float64 {
				line := stats.FitLine(s.x, groups[0])
				return line.Slope / line.SESlope
			})
		},
	})
}

// conditions judges what the line takes for granted.
func (s *straightLine) conditions(ctx context.Context) {
	a := &aboutLine{Sheet: &s.Sheet, response: s.response, rows: s.rows, along: s.x, terms: 2, each: make([]stats.Fitted, len(s.x))}
	for i := range s.x {
		a.each[i] = s.line.Case(s.x[i], s.response.y[i])
	}
	a.curvature = bend(ctx, [][]float64{s.x}, s.x, s.response.y)
	a.judge()
}

// statistic writes the steps on the statistic and on its critical value.
func (s *straightLine) statistic() {
	blocks := []working.Block{
		working.Say("The line goes through the point of both means, and its slope makes the squared distances of the cases from it, " +
			"upward and downward, as small as they can be:"),
		working.FormulaBlock{Quantity: "ss_x"}, working.FormulaBlock{Quantity: "ss_xy"}, working.FormulaBlock{Quantity: "slope"},
		working.FormulaBlock{Quantity: "intercept"},
		working.Say("**%s**", s.equation()), s.slopeMeaning(), s.interceptMeaning(),
	}
	s.Figure(s.lineFigure())
	blocks = append(blocks, working.FigureBlock{Figure: "line"},
		working.Note("The solid line is the one fitted. The inner band holds the mean at each place with a confidence of %s\u00a0%%, "+
			"the outer one a new case.", s.LevelWords()),
		working.Say("How far the cases lie from the line says how sure its slope is:"),
		working.FormulaBlock{Quantity: "ss_residual"}, working.FormulaBlock{Quantity: "residual_sd"}, working.FormulaBlock{Quantity: "se_slope"},
		working.FormulaBlock{Quantity: "t"}, s.Distance("t", stats.NoCorrection))
	s.Step(working.Statistic, working.Textf("t = @{t}"), blocks...)
	s.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df"}, working.Say("Degrees of freedom: all @{n} cases, less one for the slope and one for the " +
			"intercept."),
	}, s.Printed()...)...)
}

func (s *straightLine) conclude() {
	read := ""
	if s.response.log {
		s.factor()
		read = fmt.Sprintf(" For one %s more, %s is %s.", stepOf(s.predictor.Unit), s.response.ownName(), percentOfFactor(math.Exp(s.line.Slope)))
	}
	s.ConclusionStep(write.Conclusion{
		Used: s.line.N, Shows: s.FoundWords(),
		More:     working.Textf(" The estimated slope is @{slope} (%s\u00a0%% interval: %s).%s", s.LevelWords(), s.IntervalWords(), read),
		Warnings: []working.Block{working.Warn("That the two go together does not say that one brings the other about.")},
	})
	s.ReportStep(working.Textf("%s on %s: *b* = @{slope}, *SE* = @{se_slope}, *t*(@{df}) = @{t}, *p* %s@{p}, %s, %s\u00a0%% CI [%s]; "+
		"intercept @{intercept}, *r*² = @{r_squared}, *N* = @{n}.", words.UpperFirst(s.yName()), s.xName(), s.Relation("p"), s.Direction.Tails(),
		s.LevelWords(), s.Reported(math.Inf(-1), math.Inf(1))),
		"The slope with its standard error, t with its degrees of freedom, p and the interval; then the intercept and the share explained.")
}

// plan offers the power of the test of the slope. The predictor spreads as in the sample.
func (s *straightLine) plan() {
	along := math.Sqrt(s.line.SXX / float64(s.line.N-1))
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{
			{ID: "truth", Label: "True slope", Unit: s.Unit, Value: s.Stated(s.line.ResidualSD / along)},
			write.SpreadInput("sd", "Spread about the line", s.response.heading.Unit, s.line.ResidualSD),
		},
		N: s.line.N, Least: 3,
		Truth: func(truth []float64) string { return "a true slope of " + s.InUnit(truth[0]) },
		Side:  func(truth []float64) int { return write.SideOf(truth[0] - s.Null) },
		Basis: "Calculated by the noncentral t distribution, for cases that lie normally about a line with the spread that is stated, " +
			"at first that of the sample. The predictor spreads as it does in the sample.",
		Power: func(truth []float64, n int) float64 {
			df := float64(n - 2)
			low, high := s.Region(dist.T{DF: df})
			return stats.PowerOfT(df, (truth[0]-s.Null)/truth[1]*along*math.Sqrt(float64(n-1)), low, high)
		},
	})
}
