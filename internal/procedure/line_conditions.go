package procedure

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// aboutLine are the cases of a fit as its conditions are judged by them.
type aboutLine struct {
	rows      []int // of the cases, from 1
	each      []stats.Fitted
	along     []float64 // the predictor, where there is one only
	terms     int       // coefficients, the intercept too
	residual  data.Heading
	fittedOf  data.Heading
	decimals  int
	curvature float64          // p-value of a bend; NaN where it was not looked for
	ways      []working.Action // what often mends a bend or an uneven spread
}

// residuals returns the residuals as one sample.
func (a *aboutLine) residuals() spread {
	r := spread{cases: a.rows}
	for _, c := range a.each {
		r.values = append(r.values, c.Residual)
	}
	r.five = stats.NewFiveNumbers(stats.Sorted(r.values))
	return r
}

// fittedValues returns what a fit gives each case.
func fittedValues(each []stats.Fitted) []float64 {
	fitted := make([]float64, len(each))
	for i, c := range each {
		fitted[i] = c.Value
	}
	return fitted
}

// fit returns what the cases lie about.
func (a *aboutLine) fit() string {
	if a.terms == 2 {
		return "the line"
	}
	return "the fit"
}

// squared returns the term that bend adds.
func (a *aboutLine) squared() string {
	if a.terms == 2 {
		return "a squared term"
	}
	return "the square of what the fit gives"
}

// bend returns the p-value of a squared term beside the columns of a fit, the square of what runs
// along it: the predictor, or the fitted values of several (J. B. Ramsey, J. Roy. Statist. Soc. B
// 31, 1969, with the second power alone). It is NaN where a square leaves nothing to be tested.
func bend(columns [][]float64, along, y []float64) float64 {
	if len(y) < len(columns)+4 {
		return math.NaN()
	}
	m := stats.NewMoments(along)
	if !(m.SD > 0) {
		return math.NaN()
	}
	squares := make([]float64, len(along))
	for i, x := range along {
		z := m.Deviation(x) / m.SD
		squares[i] = z * z
	}
	curve, dependent := stats.FitLeastSquares(append(slices.Clone(columns), squares), y)
	if dependent >= 0 || curve.Perfect {
		return math.NaN()
	}
	_, _, p := curve.Partial(len(columns))
	return p
}

// lineConditions judges what a fit takes for granted and writes the step, with pictures of
// the residuals; more are further conditions.
func (l *location) lineConditions(a *aboutLine, more ...string) {
	r := a.residuals()
	l.straight(a)
	l.evenSpread(a)
	l.instead = a.ways
	l.residualShape(a, r)
	l.influential(a)
	l.recordedOrder(a)
	l.residualFigures(a)
	l.leverageFigure(a)
	var blocks []working.Block
	for _, id := range append([]string{"straightness", "equal-spread", "normality", "leverage", "independence"}, more...) {
		blocks = append(blocks, working.Check{Condition: id})
	}
	blocks = append(blocks, working.FigureBlock{Figure: "residuals"}, working.FigureBlock{Figure: "order"}, working.FigureBlock{Figure: "leverage"})
	blocks = append(blocks, l.scoresBlocks(data.Heading{Label: "Residuals", Unit: a.residual.Unit}, []spread{r})...)
	blocks = append(blocks, working.Note("Residuals against fitted values show a bend or an uneven spread; in the recorded order, whether one case tells of the next. Leverage, to the right, says how much a case could draw %s to itself, and influence, upward, how much it does.", a.fit()))
	l.Step(working.Conditions, l.conditionKey(), blocks...)
}

func (l *location) straight(a *aboutLine) {
	switch {
	case math.IsNaN(a.curvature):
		l.Condition("straightness", working.Met, working.Textf("Taken as met: these cases leave no squared term to test. In the picture the residuals should lie about 0 all along, without a bend."))
	case a.curvature <= 0.05:
		l.Condition("straightness", working.Doubtful, working.Textf("The cases bend: with a curve (%s) the fit would be significantly better, %s. %s misses that; a transformed variable may follow one.", a.squared(), l.pWords(a.curvature), upperFirst(a.fit())), a.ways...)
	default:
		l.Condition("straightness", working.Met, working.Textf("No bend shows: with a curve (%s) the fit would not be significantly better, %s.", a.squared(), l.pWords(a.curvature)))
	}
}

// evenSpread tests whether the sizes of the residuals go with the fitted values (H. Glejser, J.
// Amer. Statist. Assoc. 64, 1969).
func (l *location) evenSpread(a *aboutLine) {
	var sizes []float64
	for _, c := range a.each {
		sizes = append(sizes, math.Abs(c.Residual))
	}
	line := stats.FitLine(fittedValues(a.each), sizes)
	p := 2 * dist.T{DF: line.DF}.Upper(math.Abs(line.Slope/line.SESlope))
	switch {
	case line.SXX == 0 || line.DF < 1 || math.IsNaN(p):
		l.Condition("equal-spread", working.Met, working.Textf("All fitted values are the same, so nothing shows an uneven spread."))
	case p <= 0.05:
		grows := "grows"
		if line.Slope < 0 {
			grows = "shrinks"
		}
		l.Condition("equal-spread", working.Doubtful, working.Textf("The spread about %s %s with the fitted value, %s. Intervals are then too narrow on one side and too wide on the other; a logarithm of the response often helps.", a.fit(), grows, l.pWords(p)), a.ways...)
	default:
		l.Condition("equal-spread", working.Met, working.Textf("The spread about %s does not go with the fitted value, %s.", a.fit(), l.pWords(p)))
	}
}

// residualShape judges whether what is fitted can be taken as normal.
func (l *location) residualShape(a *aboutLine, r spread) {
	skewness := stats.NewMoments(r.values).Skewness(r.values)
	judged := shapeJudged{samples: []spread{r}, cases: "the residuals", symbol: "t", oneTail: l.p.Tail != problem.Both}
	if a.along != nil {
		judged.estimate, judged.skewness = "the slope", stats.SkewnessOfSlope(a.along, skewness)
	} else {
		judged.estimate, judged.symbol = "a fitted mean", "F"
		judged.skewness = stats.SkewnessOfMeans(stats.WeighedMean{Weight: 1, N: len(r.values), SD: 1, Skewness: skewness})
	}
	l.shapeCondition(judged)
}

// influential names the cases that lie far off, have much leverage or move the line much, with
// ways to see it without them.
func (l *location) influential(a *aboutLine) {
	limit := a.muchLeverage()
	var names []string
	var ways []working.Action
	status := working.Met
	found := 0
	for i, c := range a.each {
		var why []string
		switch size := math.Abs(c.Standardized); {
		case size >= 3:
			why = append(why, fmt.Sprintf("%s standard deviations from %s", working.FormatNumber(c.Standardized, 1), a.fit()))
		}
		if c.Leverage >= limit {
			why = append(why, "much leverage, "+working.FormatNumber(c.Leverage, 2))
		}
		if c.Cook >= muchInfluence {
			why = append(why, "influence "+working.FormatNumber(c.Cook, 1))
		}
		if why == nil {
			continue
		}
		found++
		if c.Cook >= muchInfluence {
			status = working.NotMet
		} else if status == working.Met {
			status = working.Doubtful
		}
		if len(names) < 5 {
			names = append(names, fmt.Sprintf("case %d (%s)", a.rows[i], strings.Join(why, ", ")))
			ways = append(ways, working.Action{ID: fmt.Sprintf("leave-out-%d", a.rows[i]), Label: fmt.Sprintf("Leave case %d out and compare", a.rows[i]), Compare: true,
				Says: "Fits without this case, beside this fit. The case is not deleted.",
				Set:  []problem.Set{{Pointer: "/leave_out/-", Value: map[string]any{"case": a.rows[i], "reason": "unusual in the fit"}}}})
		}
	}
	list := strings.Join(names, "; ")
	if found > len(names) {
		list += fmt.Sprintf("; and %d more", found-len(names))
	}
	switch status {
	case working.Met:
		l.Condition("leverage", status, working.Textf("No case lies far off or draws %s to itself.", a.fit()))
	case working.Doubtful:
		l.Condition("leverage", status, working.Textf("Unusual: %s. Look first whether it was typed rightly.", list), ways...)
	default:
		l.Condition("leverage", status, working.Textf("The line would move much without a single case: %s. Look first whether it was typed rightly.", list), ways...)
	}
}

// recordedOrder looks at how each residual goes with the one before it. Without dependence
// that correlation lies within about 2/√n of 0 (G. E. P. Box and G. M. Jenkins, Time Series
// Analysis, 1970, 2.1.6).
func (l *location) recordedOrder(a *aboutLine) {
	n := len(a.each)
	products, squares := 0.0, 0.0
	for i, c := range a.each {
		squares += c.Residual * c.Residual
		if i > 0 {
			products += c.Residual * a.each[i-1].Residual
		}
	}
	r := products / squares
	limit := 2 / math.Sqrt(float64(n))
	if math.Abs(r) > limit {
		l.Condition("independence", working.Doubtful, working.Textf("In the recorded order each residual goes with the one before it: their correlation is %s, beyond ±%s. If the order is that of time, the cases tell something about each other, and standard errors are too small.", working.FormatNumber(r, 2), working.FormatNumber(limit, 2)))
		return
	}
	l.Condition("independence", working.Met, working.Textf("In the recorded order no residual goes with the one before it: their correlation is %s, within ±%s. That cases tell nothing about each other is otherwise taken as met.", working.FormatNumber(r, 2), working.FormatNumber(limit, 2)))
}

// residualFigures draws the residuals against the fitted values and in the recorded order.
func (l *location) residualFigures(a *aboutLine) {
	var residuals, order []float64
	for i, c := range a.each {
		residuals, order = append(residuals, c.Residual), append(order, float64(i+1))
	}
	draw := func(id, title, says string, axis working.Axis, x []float64) {
		f := &working.Figure{ID: id, Form: working.Scatter, Title: title, Says: says, Axis: axis, Up: &working.Axis{Label: "residual", Unit: a.residual.Unit}, Small: true}
		left, right := working.Padded(0.05, x...)
		bottom, top := working.Padded(0.05, append(residuals, 0)...)
		f.Axis.Min, f.Axis.Max, f.Up.Min, f.Up.Max = working.Number(left), working.Number(right), working.Number(bottom), working.Number(top)
		f.Marks = []working.Mark{
			{Shape: working.Line, Role: working.Expected, X: working.Positions(left, right), Y: working.Positions(0, 0)},
			{Shape: working.Points, Role: working.Observed, X: working.Positions(x...), Y: working.Positions(residuals...), Case: a.rows}}
		l.Figure(f)
	}
	draw("residuals", "Residuals against fitted values", "What is left of each case against what "+a.fit()+" gives; the dashed line is 0.", working.Axis{Label: "fitted", Unit: a.fittedOf.Unit}, fittedValues(a.each))
	draw("order", "Residuals in the recorded order", "What is left of each case, in the order in which the cases stand; the dashed line is 0.", working.Axis{Label: "order"}, order)
}

// muchInfluence is the Cook's distance from which a case is named.
const muchInfluence = 1

// muchLeverage returns the leverage from which a case is named: three times the mean (D. A.
// Belsley, E. Kuh and R. E. Welsch, Regression Diagnostics, 1980, use twice; three names fewer),
// and 0.2 at least (P. J. Huber, Robust Statistics, 1981, chapter 7).
func (a *aboutLine) muchLeverage() float64 {
	return math.Max(3*float64(a.terms)/float64(len(a.each)), 0.2)
}

// leverageFigure draws how much each case could draw the line to itself, to the right, and how
// much it does, upward.
func (l *location) leverageFigure(a *aboutLine) {
	points := working.Mark{Shape: working.Points, Role: working.Observed}
	limit := a.muchLeverage()
	most, greatest := 0.0, 0.0
	for i, c := range a.each {
		if math.IsNaN(c.Cook) || math.IsInf(c.Cook, 0) {
			continue // a line must go through it
		}
		points.X, points.Y, points.Case = append(points.X, working.Number(c.Leverage)), append(points.Y, working.Number(c.Cook)), append(points.Case, a.rows[i])
		most, greatest = math.Max(most, c.Leverage), math.Max(greatest, c.Cook)
	}
	f := &working.Figure{ID: "leverage", Form: working.Scatter, Title: "Leverage and influence", Small: true,
		Says: fmt.Sprintf("To the right how much each case could draw %s to itself, upward how much it does. Leverage reaches %s, influence %s.", a.fit(), working.FormatNumber(most, 2), working.FormatNumber(greatest, 2)),
		Axis: working.Axis{Label: "leverage", Min: 0, Max: working.Number(most * 1.1)},
		Up:   &working.Axis{Label: "influence", Min: 0, Max: working.Number(math.Max(greatest, 0.02) * 1.15)}}
	if float64(f.Axis.Max) > limit {
		f.Marks = append(f.Marks, working.Mark{Shape: working.Line, Role: working.Expected, Label: "much leverage", X: working.Positions(limit, limit), Y: working.Numbers{0, f.Up.Max}})
	}
	if float64(f.Up.Max) > muchInfluence {
		f.Marks = append(f.Marks, working.Mark{Shape: working.Line, Role: working.Expected, Label: "much influence", X: working.Numbers{0, f.Axis.Max}, Y: working.Positions(muchInfluence, muchInfluence)})
	}
	f.Marks = append(f.Marks, points)
	l.Figure(f)
}

// conditions judges what the line takes for granted.
func (s *straightLine) conditions() {
	a := &aboutLine{rows: s.cases, along: s.x, terms: 2, residual: s.response, fittedOf: s.response, decimals: s.yDecimals, ways: s.log.ways(s.measured)}
	for i := range s.x {
		a.each = append(a.each, s.line.Case(s.x[i], s.y[i]))
	}
	a.curvature = bend([][]float64{s.x}, s.x, s.y)
	s.lineConditions(a)
}
