package procedure

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// regressionSimple predicts one number from another by a straight line.
var regressionSimple = &Procedure{
	Description: Description{
		ID:         "regression-simple",
		Title:      "A straight line",
		Asks:       "How does one number go with another, and what does it predict?",
		AlsoCalled: []string{"simple linear regression", "least squares line", "test of the slope", "prediction interval"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that is predicted", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "predictor", Label: "Predictor", Says: "the variable that it is predicted from", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
		},
		Options: []Option{
			{ID: "slope", Label: "Slope under H₀", Type: NumberOption, Default: 0.0, Says: "The slope that H₀ states: 0 where the predictor has nothing to do with the response."},
			{ID: "predict_at", Label: "Predict at", Type: NumbersOption, Says: "Values of the predictor at which the response is predicted."},
			scaleOption,
		},
		Tails:    true,
		Compared: "the slope",
	},
	Work: workRegressionSimple,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return fmt.Sprintf("%s and %s are numbers: the first is predicted from the second by a straight line.", assigned["response"][0].Title(), inSentence(assigned["predictor"][0].Title())), true
	},
}

// straightLine is the problem while it is worked.
type straightLine struct {
	location
	response, predictor data.Heading // the response on the scale on which it is fitted
	log                 logResponse
	measured            []float64 // y as it was measured
	roles               problem.Roles
	x, y                []float64
	cases               []int // their rows, from 1
	given               int
	line                stats.Line
	predictAt           []float64
	xDecimals           int
	yDecimals           int
	least, most         float64 // of the predictor
}

func workRegressionSimple(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	response, predictor := p.Data.Variables.Find(p.Roles["response"][0]), p.Data.Variables.Find(p.Roles["predictor"][0])
	s := &straightLine{response: data.Heading{Label: response.Title(), Unit: response.Unit}, predictor: data.Heading{Label: predictor.Title(), Unit: predictor.Unit}, given: response.Len(), roles: p.Roles}
	rows := data.Complete(p.LeftOutCases(), response, predictor)
	for _, i := range rows {
		s.x, s.measured, s.cases = append(s.x, predictor.Numbers[i]), append(s.measured, response.Numbers[i]), append(s.cases, i+1)
	}
	if len(s.x) < 3 {
		return nil, problem.Errors{{Pointer: "/roles/response", Says: fmt.Sprintf("there %s with both values, and a line needs three", map[bool]string{true: "is 1 case", false: fmt.Sprintf("are %d cases", len(s.x))}[len(s.x) == 1]), Instead: "give more cases"}}
	}
	var err error
	if s.log, s.y, s.response, err = newLogResponse(options, s.response, s.measured, rows); err != nil {
		return nil, err
	}
	s.line = stats.FitLine(s.x, s.y)
	l := s.line
	switch {
	case l.SXX == 0:
		return nil, problem.Errors{{Pointer: "/roles/predictor", Says: fmt.Sprintf("all values of “%s” are equal, so nothing can be predicted from them", problem.Shorten(s.predictor.Label)), Instead: "choose another predictor"}}
	case !ordinary(l.SXX) || l.SYY != 0 && !ordinary(l.SYY) || math.IsNaN(l.Slope) || math.IsInf(l.Intercept, 0):
		return nil, tooFarApart()
	}
	s.predictAt, _ = options["predict_at"].([]float64)
	s.xDecimals, s.yDecimals = working.DecimalsOf(s.x, maxDecimals), working.DecimalsOf(s.y, maxDecimals)
	if s.log.on {
		s.yDecimals = logDecimals
	}
	s.least, s.most = slices.Min(s.x), slices.Max(s.x)
	null := options["slope"].(float64)
	s.location = location{p: p, unit: per(s.response.Unit, s.predictor.Unit), family: tFamily, estimate: "slope", parameter: "slope", seID: "se_slope", subject: "the slope", named: "the slope", option: "slope", null: null, value: l.Slope, se: l.SESlope}
	s.leans(l.Slope - null)
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: len(s.x), LeftOut: s.given - len(s.x)})
	size := l.SESlope
	if l.Perfect {
		size = math.Abs(l.Slope) / 100
	}
	s.SetScale(size)
	s.controls()
	s.DefineAlpha()
	s.question()
	s.data()
	s.look()
	s.fit()
	s.hypotheses()
	if l.Perfect {
		s.perfect()
		return s.Working, nil
	}
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// ordinary reports whether a sum of squares is neither so large nor so small that digits are
// lost.
func ordinary(squares float64) bool { return squares > 1e-280 && squares < 1e280 }

// per writes the unit of a slope: "L/min".
func per(over, under string) string {
	switch {
	case under == "":
		return over
	case over == "":
		return "per " + under
	}
	return over + "/" + under
}

// The names of the two variables as they stand in a sentence.
func (s *straightLine) yName() string { return inSentence(s.response.Label) }
func (s *straightLine) xName() string { return inSentence(s.predictor.Label) }

// withUnitOf writes a number with a unit.
func withUnitOf(text, unit string) string {
	if unit == "" {
		return text
	}
	return text + "\u00a0" + unit
}

func (s *straightLine) controls() {
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.TailControl(s.p.Tail, "β", working.FormatShortest(s.null), s.alternativeWords))
	s.log.control(&s.location, s.measured)
	response, predictor := s.roles["response"][0], s.roles["predictor"][0]
	if s.log.on && s.least <= 0 {
		s.Brief(working.Textf("Predict **%s** from **%s**", s.yName(), s.xName()))
		return // turned round, the response would have no logarithm
	}
	roles := func(response, predictor string) map[string]any {
		return map[string]any{"response": []string{response}, "predictor": []string{predictor}}
	}
	s.Control(working.Control{ID: "roles", Label: "Direction", Key: "g", Pointer: "/roles", Beside: working.BesideBrief, Value: roles(response, predictor), Choices: []working.Choice{
		{Value: roles(response, predictor), Label: "predict " + s.yName() + " from " + s.xName()},
		{Value: roles(predictor, response), Label: "predict " + s.xName() + " from " + inSentence(s.log.own.Label), Says: "Another line: it makes the distances of the other variable small. r stays the same."},
	}})
	s.Brief(working.Textf("Predict **%s** from **%s**", s.yName(), s.xName()))
}

func (s *straightLine) alternativeWords(tail problem.Tail) string {
	if s.null != 0 {
		is := map[problem.Tail]string{problem.Both: "is not", problem.Left: "is less than", problem.Right: "is greater than"}[tail]
		return fmt.Sprintf("the slope of %s on %s %s %s", s.yName(), s.xName(), is, s.hypothesised())
	}
	switch tail {
	case problem.Left:
		return fmt.Sprintf("mean %s falls with growing %s", s.yName(), s.xName())
	case problem.Right:
		return fmt.Sprintf("mean %s rises with growing %s", s.yName(), s.xName())
	}
	return fmt.Sprintf("mean %s rises or falls with %s", s.yName(), s.xName())
}

func (s *straightLine) nullWords() string {
	if s.null != 0 {
		is := map[problem.Tail]string{problem.Both: "is", problem.Left: "is at least", problem.Right: "is at most"}[s.p.Tail]
		return fmt.Sprintf("the slope of %s on %s %s %s", s.yName(), s.xName(), is, s.hypothesised())
	}
	switch s.p.Tail {
	case problem.Left:
		return fmt.Sprintf("mean %s does not fall with growing %s", s.yName(), s.xName())
	case problem.Right:
		return fmt.Sprintf("mean %s does not rise with growing %s", s.yName(), s.xName())
	}
	return fmt.Sprintf("mean %s is the same whatever %s is", s.yName(), s.xName())
}

func (s *straightLine) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is about a line: how mean *%s* goes with *%s*, and what the one lets one expect of the other. *%s* is the response, *%s* the predictor.", s.yName(), s.xName(), upperFirst(s.yName()), s.xName()))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// series are the two columns of the cases as they stand in formulas.
func (s *straightLine) xs() formula.Column {
	return s.Series("cases/*/predictor", "x_{i}", s.xDecimals)
}
func (s *straightLine) ys() formula.Column { return s.log.series(&s.location, s.yDecimals) }

func (s *straightLine) data() {
	s.Column("cases/*/predictor", s.x)
	s.Column("cases/*/observed", s.y)
	l := s.line
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many cases have both values."}, working.Whole, float64(l.N), formula.Count{Column: s.xs()})
	mean := func(id working.Ref, symbol, label, unit string, decimals int, value float64, column formula.Column) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: unit, Says: "Of all cases."}, working.Ratio, value, formula.Quotient{Over: formula.Total{Column: column}, Under: formula.Ref("n")})
	}
	mean("mean_predictor", `\bar{x}`, "Mean of "+s.xName(), s.predictor.Unit, s.xDecimals, l.MeanX, s.xs())
	mean("mean_response", `\bar{y}`, "Mean of "+s.yName(), s.response.Unit, s.yDecimals, l.MeanY, s.ys())
	blocks := []working.Block{working.Say("%s.", upperFirst(count(l.N, "case")))}
	if left := s.given - l.N; left > 0 {
		blocks[0] = working.Say("%s in all, of which @{n} used. Left out: %s.", upperFirst(count(s.given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value"))
	}
	blocks = append(blocks, s.log.says()...)
	s.Step(working.Data, "n = "+s.Show("n"), append(blocks, working.Values{Quantities: []working.Ref{"n", "mean_predictor", "mean_response"}})...)
}

// points are the cases as dots.
func (s *straightLine) points() working.Mark {
	return working.Mark{Shape: working.Points, Role: working.Observed, X: working.Positions(s.x...), Y: working.Positions(s.y...), Case: s.cases}
}

func (s *straightLine) look() {
	f := s.scatter("look", s.response, s.points())
	f.Title = fmt.Sprintf("%s against %s", s.response.Label, s.xName())
	f.Says = fmt.Sprintf("%s: %s from %s to %s, %s from %s to %s.", upperFirst(count(s.line.N, "case")), s.xName(), working.FormatShortest(s.least), withUnitOf(working.FormatShortest(s.most), s.predictor.Unit),
		s.yName(), working.FormatShortest(slices.Min(s.y)), withUnitOf(working.FormatShortest(slices.Max(s.y)), s.response.Unit))
	s.Figure(f)
	s.Step(working.Look, fmt.Sprintf("%s to %s", working.FormatShortest(s.least), withUnitOf(working.FormatShortest(s.most), s.predictor.Unit)), working.FigureBlock{Figure: "look"},
		working.Say("Each dot is a case. Do the dots follow a straight band, of the same width everywhere? Does one lie far from the others? The line comes later; look first."))
}

// scatter draws marks over both axes, with room for all of them.
func (s *straightLine) scatter(id string, up data.Heading, marks ...working.Mark) *working.Figure {
	var xs, ys []float64
	for _, m := range marks {
		for i := range m.X {
			xs = append(xs, float64(m.X[i]))
		}
		for i := range m.Y {
			ys = append(ys, float64(m.Y[i]))
		}
	}
	f := &working.Figure{ID: id, Form: working.Scatter, Marks: marks, Axis: working.Axis{Label: s.predictor.Label, Unit: s.predictor.Unit}, Up: &working.Axis{Label: up.Label, Unit: up.Unit}}
	f.Axis.Min, f.Axis.Max = axis(xs...)
	f.Up.Min, f.Up.Max = axis(ys...)
	return f
}

// fit defines the line and how the variation splits.
func (s *straightLine) fit() {
	l := s.line
	ref := func(id string) formula.Ref { return formula.Ref(id) }
	s.Column("cases/*/products", s.products())
	sum := func(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Ratio, value, expr)
	}
	sum("ss_x", `S_{xx}`, "Sum of squares of "+s.xName(), "How far the cases spread along the predictor.", l.SXX, formula.Deviations{Column: s.xs(), Centre: "mean_predictor", Power: 2})
	sum("ss_total", `SS_{T}`, "Sum of squares of "+s.yName(), "How far the responses lie from their mean: squared and added up.", l.SYY, formula.Deviations{Column: s.ys(), Centre: "mean_response", Power: 2})
	sum("ss_xy", `S_{xy}`, "Sum of products", "Positive where cases that lie high on the one tend to lie high on the other.", l.SXY, formula.Total{Column: s.Calculated("cases/*/products", `(x_{i}-\bar{x})(y_{i}-\bar{y})`, 3)})
	s.Define(working.Quantity{ID: "slope", Symbol: "b", Label: "Slope", Unit: s.unit, Says: fmt.Sprintf("How much the line rises for one more %s of %s.", stepOf(s.predictor.Unit), s.xName())}, working.Measure, l.Slope, formula.Quotient{Over: ref("ss_xy"), Under: ref("ss_x")})
	s.Define(working.Quantity{ID: "intercept", Symbol: "a", Label: "Intercept", Unit: s.response.Unit, Says: fmt.Sprintf("The height of the line where %s is 0.", s.xName())}, working.Ratio, l.Intercept, formula.Subtract(ref("mean_response"), formula.Product{ref("slope"), ref("mean_predictor")}))
	sum("ss_regression", `SS_{R}`, "Sum of squares of the line", "What the line explains: how far its heights lie from the mean response.", l.Regression, formula.Product{ref("slope"), ref("ss_xy")})
	sum("ss_residual", `SS_{E}`, "Sum of squares of the residuals", "What the line leaves: how far the cases lie from it, upward and downward.", l.Residual, formula.Subtract(ref("ss_total"), ref("ss_regression")))
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Every case gives one, and slope and intercept take two away."}, working.Degrees, l.DF, formula.Subtract(ref("n"), formula.Num(2)))
	if l.SYY > 0 {
		s.Define(working.Quantity{ID: "r", Symbol: "r", Label: "Correlation", Says: "From −1, all on a falling line, to 1, all on a rising one."}, working.Ratio, l.R, formula.Quotient{Over: ref("ss_xy"), Under: formula.Root{X: formula.Product{ref("ss_x"), ref("ss_total")}}})
		s.Define(working.Quantity{ID: "r_squared", Symbol: "r^{2}", Label: "Share explained", Says: "Which share of the variation of the response the line explains."}, working.Ratio, l.Regression/l.SYY, formula.Quotient{Over: ref("ss_regression"), Under: ref("ss_total")})
	} else {
		s.Define(working.Quantity{ID: "r", Symbol: "r", Label: "Correlation", Says: "There is none where all responses are equal."}, working.Ratio, math.NaN(), nil)
		s.Define(working.Quantity{ID: "r_squared", Symbol: "r^{2}", Label: "Share explained", Says: "There is nothing to explain where all responses are equal."}, working.Ratio, math.NaN(), nil)
	}
	s.Define(working.Quantity{ID: "residual_sd", Symbol: "s", Label: "Spread about the line", Unit: s.response.Unit, Says: "How far cases typically lie above or below it."}, working.Ratio, l.ResidualSD, formula.Root{X: formula.Quotient{Over: ref("ss_residual"), Under: ref("df")}})
	s.Define(working.Quantity{ID: "se_slope", Symbol: "s_{b}", Label: "Standard error of the slope", Unit: s.unit, Says: "How far the slope of such a sample typically lies from the true one."}, working.Measure, l.SESlope, formula.Quotient{Over: ref("residual_sd"), Under: formula.Root{X: ref("ss_x")}})
	s.Define(working.Quantity{ID: "se_intercept", Symbol: "s_{a}", Label: "Standard error of the intercept", Unit: s.response.Unit, Says: "The farther 0 lies from the mean of the predictor, the larger."}, working.Ratio, l.SEIntercept,
		formula.Product{ref("residual_sd"), formula.Root{X: formula.Sum{formula.Quotient{Over: formula.Num(1), Under: ref("n")}, formula.Quotient{Over: formula.Square(ref("mean_predictor")), Under: ref("ss_x")}}}})
	s.casesTable()
	s.coefficients()
	s.predictions()
}

// stepOf names one step of a variable: its unit, or “unit” where it has none.
func stepOf(unit string) string {
	if unit == "" {
		return "unit"
	}
	return unit
}

func (s *straightLine) products() []float64 {
	out := make([]float64, len(s.x))
	for i := range out {
		out[i] = (s.x[i] - s.line.MeanX) * (s.y[i] - s.line.MeanY)
	}
	return out
}

// equation writes the line with the variables' own names.
func (s *straightLine) equation() string {
	sign, slope := "+", s.line.Slope
	if slope < 0 {
		sign = "−"
	}
	return fmt.Sprintf("%s = %s %s %s · %s", s.yName(), s.withUnit("intercept"), sign, withUnitOf(s.ShowMeasure(math.Abs(slope)), s.unit), s.xName())
}

func (s *straightLine) casesTable() {
	t := &working.Table{ID: "cases", Title: "The cases about the line", Key: []string{"case"}, Total: len(s.x), Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true},
		{ID: "predictor", Label: s.predictor.Label, Symbol: "x", Unit: s.predictor.Unit, Numeric: true},
		{ID: "observed", Label: "observed", Symbol: "y", Unit: s.response.Unit, Numeric: true},
		{ID: "fitted", Label: "fitted", Symbol: `\hat{y}`, Unit: s.response.Unit, Numeric: true, Formula: `@{intercept}+@{slope}\cdot @{predictor}`},
		{ID: "residual", Label: "residual", Symbol: "e", Unit: s.response.Unit, Numeric: true, Bar: true, Formula: `@{observed}-@{fitted}`},
		{ID: "standardized", Label: "standardized", Symbol: "e^{*}", Numeric: true, Formula: `\frac{@{residual}}{@{residual_sd}\sqrt{1-@{leverage}}}`},
		{ID: "leverage", Label: "leverage", Symbol: "h", Numeric: true, Formula: `\frac{1}{@{n}}+\frac{(@{predictor}-@{mean_predictor})^{2}}{@{ss_x}}`},
		{ID: "cooks_distance", Label: "influence", Symbol: "D", Numeric: true, Formula: `\frac{@{standardized}^{2}}{2}\cdot\frac{@{leverage}}{1-@{leverage}}`},
	}}
	t.Row = func(i int) working.Row {
		c := s.line.Case(s.x[i], s.y[i])
		return working.Row{{Value: s.cases[i], Shown: strconv.Itoa(s.cases[i])}, entered(s.x[i], s.xDecimals), s.log.cell(&s.location, s.y[i], s.yDecimals), s.number(c.Value, s.yDecimals+2), s.number(c.Residual, s.yDecimals+2),
			s.numberOrNone(c.Standardized, 2), s.number(c.Leverage, 3), s.numberOrNone(c.Cook, 3)}
	}
	s.Table(t)
}

// coefficients lists intercept and slope with their tests against 0 and two-sided intervals.
func (s *straightLine) coefficients() {
	l := s.line
	t := &working.Table{ID: "coefficients", Title: "Intercept and slope", Key: []string{"predictor"}, Columns: coefficientColumns()}
	d := dist.T{DF: l.DF}
	times := d.UpperQuantile(s.area() / 2)
	row := func(term working.Cell, b, se float64) working.Row {
		return s.coefficientRow(term, b, se, b/se, d, times, l.Perfect)
	}
	t.SetRows([]working.Row{row(nameCell("intercept"), l.Intercept, l.SEIntercept), row(s.variableCell(s.p.Data.Variables.Find(s.roles["predictor"][0])), l.Slope, l.SESlope)})
	s.Table(t)
}

func coefficientColumns(more ...working.Column) []working.Column {
	return append([]working.Column{
		{ID: "predictor", Label: "term"}, {ID: "coefficient", Label: "coefficient", Symbol: "b", Numeric: true}, {ID: "se", Label: "se", Symbol: "s_{b}", Numeric: true},
		{ID: "t", Label: "t", Symbol: "t", Numeric: true, Formula: `\frac{@{coefficient}}{@{se}}`}, {ID: "p", Label: "p", Numeric: true},
		{ID: "ci_low", Label: "from", Numeric: true}, {ID: "ci_high", Label: "to", Numeric: true}}, more...)
}

// coefficientRow is a coefficient with its test against 0; of a perfect fit there is none.
func (l *location) coefficientRow(term working.Cell, b, se, t float64, d dist.T, times float64, perfect bool) working.Row {
	decimals := working.SmallestDecimals(se)
	if perfect {
		decimals = working.SmallestDecimals(math.Max(math.Abs(b)/100, 1e-12))
		none := working.Cell{Value: working.Number(math.NaN()), Shown: "–"}
		return working.Row{term, l.number(b, decimals), l.number(0, decimals), none, none, none, none}
	}
	return working.Row{term, l.number(b, decimals), l.number(se, decimals), l.number(t, working.DefaultDecimals), l.pCell(2 * d.Upper(math.Abs(t))), l.number(b-times*se, decimals), l.number(b+times*se, decimals)}
}

// predictions lists what the line predicts, with the interval of the mean and of a new case.
func (s *straightLine) predictions() {
	if len(s.predictAt) == 0 {
		return
	}
	t := &working.Table{ID: "predictions", Title: "Predictions", Key: []string{"at"}, Columns: []working.Column{
		{ID: "at", Label: s.predictor.Label, Symbol: "x", Unit: s.predictor.Unit, Numeric: true}, {ID: "fitted", Label: "fitted", Symbol: `\hat{y}`, Unit: s.response.Unit, Numeric: true, Formula: `@{intercept}+@{slope}\cdot @{at}`},
		{ID: "mean_low", Label: "mean from", Unit: s.response.Unit, Numeric: true}, {ID: "mean_high", Label: "to", Unit: s.response.Unit, Numeric: true},
		{ID: "new_low", Label: "a new case from", Unit: s.response.Unit, Numeric: true}, {ID: "new_high", Label: "to", Unit: s.response.Unit, Numeric: true},
		{ID: "leverage", Label: "leverage", Symbol: "h", Numeric: true, Hidden: true}}}
	if !s.line.Perfect {
		for i, reach := range []string{`-@{t_prediction}\,@{residual_sd}\sqrt{@{leverage}}`, `+@{t_prediction}\,@{residual_sd}\sqrt{@{leverage}}`, `-@{t_prediction}\,@{residual_sd}\sqrt{1+@{leverage}}`, `+@{t_prediction}\,@{residual_sd}\sqrt{1+@{leverage}}`} {
			t.Columns[i+2].Formula = "@{fitted}" + reach
		}
	}
	var rows []working.Row
	for _, x := range s.predictAt {
		p := s.predict(x)
		_, h := s.line.At(x)
		shown := func(y float64) working.Cell { return s.number(y, s.yDecimals+2) }
		rows = append(rows, working.Row{{Value: working.Number(x), Shown: working.FormatShortest(x)}, shown(p.fitted), shown(p.meanLow), shown(p.meanHigh), shown(p.newLow), shown(p.newHigh), s.number(h, 4)})
	}
	t.SetRows(rows)
	s.Table(t)
	if s.log.on {
		s.log.predictions(&s.location, t, working.DecimalsOf(s.measured, maxDecimals))
	}
}

// predicted is the fitted value at a place, with both its intervals.
type predicted struct{ fitted, meanLow, meanHigh, newLow, newHigh float64 }

func (s *straightLine) predict(x float64) predicted {
	fitted, h := s.line.At(x)
	return predictedFrom(fitted, h, s.line.ResidualSD, s.line.DF, s.area(), s.line.Perfect)
}

// predictedFrom makes the intervals of a fitted value with leverage h.
func predictedFrom(fitted, h, sd, df, area float64, perfect bool) predicted {
	if perfect {
		return predicted{fitted, fitted, fitted, fitted, fitted}
	}
	times := dist.T{DF: df}.UpperQuantile(area/2) * sd
	mean, one := times*math.Sqrt(h), times*math.Sqrt(1+h)
	return predicted{fitted, fitted - mean, fitted + mean, fitted - one, fitted + one}
}

func (s *straightLine) hypotheses() {
	s.Define(working.Quantity{ID: "slope_0", Symbol: `\beta_{0}`, Label: "Slope under H₀", Unit: s.unit, Says: "The slope that H₀ states."}, working.Given, s.null, nil)
	equal, other := s.signs()
	symbols := func(sign string) string {
		return `\beta ` + teXSign(sign) + ` ` + formula.TeXNumber(working.FormatShortest(s.null))
	}
	both := s.bothWays("whether the line should rise or fall")
	s.hypothesesStep(fmt.Sprintf("β %s %s", equal, working.FormatShortest(s.null)), append([]working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(equal), Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(other), Words: s.alternativeWords(s.p.Tail)},
	}, working.Say("β is the slope of the line that all cases of the population would give.")}, s.tailReasons(both, "a slope")...)...)
}

func (s *straightLine) test() {
	l := s.line
	over := formula.Expr(formula.Ref("slope"))
	if s.null != 0 {
		over = formula.Subtract(formula.Ref("slope"), formula.Ref("slope_0"))
	}
	s.Define(working.Quantity{ID: "t", Symbol: "t", Label: "Test statistic", Says: "How many standard errors the slope lies from the one that H₀ states."}, working.Ratio, (l.Slope-s.null)/l.SESlope, formula.Quotient{Over: over, Under: formula.Ref("se_slope")})
	s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "F of the line", Says: "The mean square of the line over that of the residuals; with H₀ β = 0 it is t squared."}, working.Ratio, l.F,
		formula.Quotient{Over: formula.Ref("ss_regression"), Under: formula.Quotient{Over: formula.Ref("ss_residual"), Under: formula.Ref("df")}})
	extreme := fmt.Sprintf("a slope at least this many standard errors from %s, in either direction,", s.hypothesised())
	switch s.p.Tail {
	case problem.Left:
		extreme = "a slope as low as this one or lower, in standard errors,"
	case problem.Right:
		extreme = "a slope as high as this one or higher, in standard errors,"
	}
	s.Test(working.Test{Statistic: "t", Symbol: "t", Degrees: []working.Ref{"df"}, Family: s.family, Name: "t, " + s.DegreesWords("df"), Extreme: extreme})
	rest := make([]float64, l.N)
	for i := range rest {
		rest[i] = s.y[i] - s.null*s.x[i]
	}
	how := fmt.Sprintf("If H₀ is true, any %s may as well go with any %s. So the values of %s are shuffled among the %d cases, and t is calculated anew.", s.yName(), s.xName(), s.yName(), l.N)
	if s.null != 0 {
		how = fmt.Sprintf("If H₀ is true, what %s has beyond %s times %s has nothing to do with %s. So these rests are shuffled among the %d cases, and t is calculated anew.", s.yName(), working.FormatShortest(s.null), s.xName(), s.xName(), l.N)
	}
	s.ResampleBy(working.Resampling{How: how, Assumes: "Shuffling needs no normal shape, but takes for granted that without a slope the cases would be alike all along the line.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(rest, []int{l.N}, func(groups [][]float64) float64 {
				line := stats.FitLine(s.x, groups[0])
				return line.Slope / line.SESlope
			})
		}})
	variance := &working.Table{ID: "variance", Title: "Variance table", Key: []string{"source"}, Columns: []working.Column{
		{ID: "source", Label: "source"}, {ID: "ss", Label: "sum of squares", Numeric: true}, {ID: "df", Label: "df", Numeric: true}, {ID: "ms", Label: "mean square", Numeric: true}, {ID: "f", Label: "F", Numeric: true}}}
	cell := func(ref working.Ref) working.Cell {
		return working.Cell{Value: working.Number(s.Value(ref)), Shown: s.Show(ref), Ref: ref}
	}
	none := working.Cell{Value: working.Number(math.NaN())}
	variance.SetRows([]working.Row{
		{nameCell("line"), cell("ss_regression"), wholeCell(1), cell("ss_regression"), cell("f")},
		{nameCell("residuals"), cell("ss_residual"), cell("df"), s.number(l.Residual/l.DF, working.SmallestDecimals(l.Residual/l.DF)), none},
		{nameCell("in all"), cell("ss_total"), wholeCell(l.N - 1), none, none}})
	s.Table(variance)
}

func (s *straightLine) steps() {
	l := s.line
	blocks := []working.Block{
		working.Say("The line goes through the point of both means, and its slope makes the squared distances of the cases from it, upward and downward, as small as they can be:"),
		working.FormulaBlock{Quantity: "ss_x"}, working.FormulaBlock{Quantity: "ss_xy"}, working.FormulaBlock{Quantity: "slope"}, working.FormulaBlock{Quantity: "intercept"},
		working.Say("**%s**", s.equation()), s.slopeMeaning(), s.interceptMeaning()}
	s.Figure(s.lineFigure())
	blocks = append(blocks, working.FigureBlock{Figure: "line"},
		working.Note("The solid line is the one fitted. The inner band holds the mean at each place with a confidence of %s\u00a0%%, the outer one a new case.", s.levelWords()),
		working.Say("How far the cases lie from the line says how sure its slope is:"),
		working.FormulaBlock{Quantity: "ss_residual"}, working.FormulaBlock{Quantity: "residual_sd"}, working.FormulaBlock{Quantity: "se_slope"}, working.FormulaBlock{Quantity: "t"}, s.distance("t", stats.NoCorrection))
	s.Step(working.Statistic, "t = "+s.Show("t"), blocks...).Opens = "t"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"}, working.Say("Degrees of freedom: all @{n} cases, less one for the slope and one for the intercept.")}, s.printed()...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.interval()
	used, read := count(l.N, "case"), ""
	if s.log.on {
		s.log.factor(&s.location, "slope", stepOf(s.predictor.Unit))
		read = fmt.Sprintf(" For one %s more, %s is %s.", stepOf(s.predictor.Unit), inSentence(s.log.own.Label), percentOfFactor(s.Value("factor")))
	}
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated slope is @{slope} (%s\u00a0%% interval: %s).%s", used, s.foundWords(), s.levelWords(), s.intervalWords(), read),
			working.Warn("That the two go together does not say that one brings the other about."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(s.p.Tail), s.nullWords()))
	}
	report := working.Textf("%s on %s: *b* = @{slope}, *SE* = @{se_slope}, *t*(@{df}) = @{t}, *p* %s@{p}, %s, %s\u00a0%% CI [%s]; intercept @{intercept}, *r*² = @{r_squared}, *N* = @{n}.",
		upperFirst(s.yName()), s.xName(), s.relation("p"), s.tails(), s.levelWords(), s.reported(math.Inf(-1), math.Inf(1)))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The slope with its standard error, t with its degrees of freedom, p and the interval; then the intercept and the share explained."))
	s.Conclude(s.conclusion, report)
	s.followUp()
	s.plan()
}

func (s *straightLine) foundWords() string {
	if s.null != 0 {
		return s.alternativeWords(s.p.Tail)
	}
	return s.alternativeWords(s.found())
}

// slopeMeaning says what the slope means in this problem.
func (s *straightLine) slopeMeaning() working.Block {
	if s.log.on {
		return working.Say("For each %s of %s more, %s is multiplied by e to the slope, %s: %s.", stepOf(s.predictor.Unit), s.xName(), inSentence(s.log.own.Label), working.FormatNumber(math.Exp(s.line.Slope), 4), percentOfFactor(math.Exp(s.line.Slope)))
	}
	goes := "more"
	if s.line.Slope < 0 {
		goes = "less"
	}
	return working.Say("For each %s of %s more, mean %s is %s %s.", stepOf(s.predictor.Unit), s.xName(), s.yName(), withUnitOf(s.ShowMeasure(math.Abs(s.line.Slope)), s.response.Unit), goes)
}

// interceptMeaning says what the intercept means, or why it means nothing.
func (s *straightLine) interceptMeaning() working.Block {
	if s.least <= 0 && 0 <= s.most {
		return working.Say("Where %s is 0, mean %s is @{intercept}: that is the intercept.", s.xName(), s.yName())
	}
	return working.Say("The intercept is where the line would stand at a %s of 0. The data go from %s to %s, so it only fixes the line and has no meaning of its own.", s.xName(), working.FormatShortest(s.least), withUnitOf(working.FormatShortest(s.most), s.predictor.Unit))
}

// lineFigure draws the cases with the line, both bands and what is predicted.
func (s *straightLine) lineFigure() *working.Figure {
	f := s.fitFigure("line", s.response, s.points(), func(y float64) float64 { return y })
	f.Title = fmt.Sprintf("%s on %s", s.response.Label, s.xName())
	f.Reads = s.equation()
	f.Says = fmt.Sprintf("The cases with the line %s, and bands for the mean and for a new case.", s.equation())
	return f
}

// measuredFigure draws the same, read back in the unit of the response: the line is a curve.
func (s *straightLine) measuredFigure() *working.Figure {
	points := s.points()
	points.Y = working.Positions(s.measured...)
	f := s.fitFigure("measured", s.log.own, points, math.Exp)
	f.Title = fmt.Sprintf("%s on %s, as measured", s.log.own.Label, s.xName())
	f.Says = fmt.Sprintf("The cases as measured, with the curve of the median and bands for it and for a new case, in %s.", s.log.unitWords())
	return f
}

// fitFigure draws points with the line and its bands, read on a scale of the response.
func (s *straightLine) fitFigure(id string, up data.Heading, points working.Mark, read func(float64) float64) *working.Figure {
	low, high := s.least, s.most
	for _, x := range s.predictAt {
		low, high = math.Min(low, x), math.Max(high, x)
	}
	const steps = 40
	line := working.Mark{Shape: working.Line, Role: working.StatisticMark, Label: "line"}
	mean := working.Mark{Shape: working.Area, Role: working.Expected, Label: "mean"}
	one := working.Mark{Shape: working.Area, Role: working.Expected, Label: "new case"}
	var upper [2][]float64
	for i := range steps + 1 {
		x := low + (high-low)*float64(i)/steps
		p := s.predict(x)
		at := working.Number(x)
		line.X, line.Y = append(line.X, at), append(line.Y, working.Number(read(p.fitted)))
		mean.X, mean.Y = append(mean.X, at), append(mean.Y, working.Number(read(p.meanLow)))
		one.X, one.Y = append(one.X, at), append(one.Y, working.Number(read(p.newLow)))
		upper[0], upper[1] = append(upper[0], read(p.meanHigh)), append(upper[1], read(p.newHigh))
	}
	for i := steps; i >= 0; i-- { // and back along the upper edge
		mean.X, mean.Y = append(mean.X, line.X[i]), append(mean.Y, working.Number(upper[0][i]))
		one.X, one.Y = append(one.X, line.X[i]), append(one.Y, working.Number(upper[1][i]))
	}
	f := s.scatter(id, up, one, mean, line, points)
	f.Seen = working.Positions(s.least, s.most)
	at := s.line.MeanX
	if len(s.predictAt) > 0 {
		at = s.predictAt[0]
		p := s.predict(at)
		f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: "prediction", X: working.Positions(at), Y: working.Positions(read(p.newLow), read(p.fitted), read(p.newHigh))})
	}
	unit := math.Pow10(int(math.Floor(math.Log10(high-low))) - 2)
	list := working.Positions(s.predictAt...)
	if len(list) == 0 {
		list = working.Positions(math.Round(at/unit) * unit)
	}
	f.Handles = []working.Handle{{ID: "predict", Label: "Predict at", Pointer: "/options/predict_at", At: list[0], Min: f.Axis.Min, Max: f.Axis.Max, Step: working.Number(unit), Among: list}}
	return f
}

func (s *straightLine) followUp() {
	s.intervalFigure(nil)
	blocks := append(s.intervalBlocks(),
		working.Say("**How close is it?** r² = @{r_squared}: the line explains %s of the variation of %s, and the rest lies about it. r is @{r}.", working.FormatNumber(100*s.Value("r_squared"), 1)+"\u00a0%", s.yName()),
		working.FormulaBlock{Quantity: "r_squared"}, working.FormulaBlock{Quantity: "r"},
		working.TableBlock{Table: "coefficients"}, working.TableBlock{Table: "variance"},
		working.Note("Of one predictor, F is the square of the t that tests a slope of 0: the same test said twice. So is the test of r."))
	if len(s.predictAt) > 0 {
		outside := formula.Expr(formula.Ref("alpha"))
		if s.p.Confidence != nil {
			outside = formula.Subtract(formula.Num(1), formula.Ref("confidence"))
		}
		s.Define(working.Quantity{ID: "t_prediction", Symbol: "t^{*}", Label: "Multiplier of both intervals", Says: "How many standard errors the intervals of predictions reach, to both sides."}, working.Ratio, dist.T{DF: s.line.DF}.UpperQuantile(s.area()/2),
			formula.Quantile{Of: s.family, Area: formula.Quotient{Over: outside, Under: formula.Num(2)}})
		blocks = append(blocks, working.Say("**Predictions.** The mean at a place is surer than a single new case, which also lies about the line."), working.TableBlock{Table: "predictions"})
		for _, x := range s.predictAt {
			if x < s.least || x > s.most {
				blocks = append(blocks, working.Warn("%s lies outside what was observed, %s to %s: nothing shows that the line goes on there.", withUnitOf(working.FormatShortest(x), s.predictor.Unit), working.FormatShortest(s.least), withUnitOf(working.FormatShortest(s.most), s.predictor.Unit)))
				break
			}
		}
	} else if !s.log.on {
		blocks = append(blocks, working.Say("**Predict.** Type a value under the picture of the line, or drag its mark: what the line says there comes with two intervals."))
	}
	if s.log.on {
		blocks = append(blocks, s.readBack()...)
	}
	blocks = append(blocks, working.Say("**Case by case**: what was observed, what the line gives, and what is left."), working.TableBlock{Table: "cases"},
		s.log.derived(s.p.Data.Variables.Find(s.roles["response"][0]), []float64{s.line.Intercept, s.line.Slope}, s.roles["predictor"]),
		working.Note("A residual is standardized by its own standard error; beyond ±2 a case lies far from the line, beyond ±3 very far. Leverage says how much a case could draw the line to itself, influence (Cook’s distance) how much it does: from about 1 on the line would move much without it."))
	s.Step(working.FollowUp, "r² = "+s.Show("r_squared"), blocks...).Opens = "r_squared"
}

// readBack reads the fit of a logarithm in the unit of the response.
func (s *straightLine) readBack() []working.Block {
	name := inSentence(s.log.own.Label)
	s.Figure(s.measuredFigure())
	var interval string
	switch s.p.Tail {
	case problem.Left:
		interval = "at most " + s.Show("factor_high")
	case problem.Right:
		interval = "at least " + s.Show("factor_low")
	default:
		interval = s.Show("factor_low") + " to " + s.Show("factor_high")
	}
	blocks := []working.Block{working.Say("**Read back in %s.** For one %s of %s more, %s is multiplied by @{factor} (%s\u00a0%% interval: %s): %s.", s.log.unitWords(), stepOf(s.predictor.Unit), s.xName(), name, s.levelWords(), interval, percentOfFactor(s.Value("factor"))),
		working.FormulaBlock{Quantity: "factor"}, working.FigureBlock{Figure: "measured"}}
	if len(s.predictAt) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions_measured"})
	}
	return append(blocks, s.log.medianWarning())
}

// perfect writes what can be said where every case lies on the line: estimates, and no test.
func (s *straightLine) perfect() {
	none := func(id working.Ref, symbol, label string) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: "There is none where every case lies on the line."}, working.Ratio, math.NaN(), nil)
	}
	none("t", "t", "Test statistic")
	none("p", "p", "p-value")
	none("f", "F", "F of the line")
	none("ci_low", `\text{lower}`, "Lower end of the interval")
	none("ci_high", `\text{upper}`, "Upper end of the interval")
	s.Note("Every case lies on the line: there is nothing to measure the slope by, so there is no test.")
	s.Step(working.Statistic, "b = "+s.Show("slope"), working.FormulaBlock{Quantity: "ss_x"}, working.FormulaBlock{Quantity: "ss_xy"}, working.FormulaBlock{Quantity: "slope"}, working.FormulaBlock{Quantity: "intercept"},
		working.Say("**%s**", s.equation()), s.slopeMeaning(), working.Warn("Every case lies on the line. That is seldom so with things that were measured: look whether one was calculated from the other.")).Opens = "slope"
	conclusion := working.Textf("All %d cases lie on the line %s. Without any distance from it there is nothing to test.", s.line.N, s.equation())
	conclusion = s.withClaim(conclusion)
	s.Step(working.Conclusion, "no test", working.Prose{Tone: working.Answer, Text: conclusion})
	report := working.Textf("%s on %s: all %d cases on the line, *b* = @{slope}, intercept @{intercept}.", upperFirst(s.yName()), s.xName(), s.line.N)
	s.Step(working.Report, "", working.ReportLine{Text: report})
	s.Conclude(conclusion, report)
	blocks := []working.Block{working.TableBlock{Table: "coefficients"}}
	if len(s.predictAt) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions"})
	}
	s.Step(working.FollowUp, "", append(blocks, working.TableBlock{Table: "cases"})...)
}
