package lines

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// aboutLine are the cases of a fit as its conditions are judged by them.
type aboutLine struct {
	*write.Sheet
	response  *response
	rows      []int // of the cases, from 1
	each      []stats.Fitted
	along     []float64 // the predictor, where there is one only
	terms     int       // coefficients, the intercept too
	curvature float64   // p-value of a bend; NaN where it was not looked for
}

// residuals returns the residuals as one sample.
func (a *aboutLine) residuals() cases.Spread {
	values := make([]float64, len(a.each))
	for i, c := range a.each {
		values[i] = c.Residual
	}
	return cases.NewSpread("", values, a.rows)
}

// fit returns what the cases lie about, and squared the term that bend adds.
func (a *aboutLine) fit() string {
	if a.terms == 2 {
		return "the line"
	}
	return "the fit"
}

func (a *aboutLine) squared() string {
	if a.terms == 2 {
		return "a squared term"
	}
	return "the square of what the fit gives"
}

// bend returns the p-value of a squared term beside the columns of a fit, the square of what runs
// along it: the predictor, or the fitted values of several (J. B. Ramsey, J. Roy. Statist. Soc. B
// 31, 1969, with the second power alone). It is NaN where a square leaves nothing to be tested.
func bend(ctx context.Context, columns [][]float64, along, y []float64) float64 {
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
	curve, dependent, err := stats.FitLeastSquares(ctx, append(slices.Clone(columns), squares), y)
	if err != nil || dependent >= 0 || curve.Perfect {
		return math.NaN()
	}
	_, _, p := curve.Partial(len(columns))
	return p
}

// judge judges what a fit takes for granted and writes the step, with pictures of the residuals;
// more are further conditions.
func (a *aboutLine) judge(more ...string) {
	r := a.residuals()
	a.straightness()
	a.evenSpread()
	a.Instead = a.response.ways()
	a.shape(r)
	a.influence()
	a.recordedOrder()
	a.residualFigures(r.Values)
	a.leverageFigure()
	blocks := []working.Block{working.FigureBlock{Figure: "residuals"}, working.FigureBlock{Figure: "order"},
		working.FigureBlock{Figure: "leverage"}}
	blocks = append(blocks, a.ScoresBlocks(data.Heading{Label: "Residuals", Unit: a.response.heading.Unit}, []cases.Spread{r})...)
	blocks = append(blocks, working.Note("Residuals against fitted values show a bend or an uneven spread; in the recorded order, "+
		"whether one case tells of the next. Leverage, to the right, says how much a case could draw %s to itself, and influence, upward, "+
		"how much it does.", a.fit()))
	a.ConditionsStep(append([]string{"straightness", "equal-spread", "normality", "leverage", "independence"}, more...), blocks...)
}

func (a *aboutLine) straightness() {
	switch {
	case math.IsNaN(a.curvature):
		a.Condition("straightness", working.Met, working.Textf("Taken as met: these cases leave no squared term to test. "+
			"In the picture the residuals should lie about 0 all along, without a bend."))
	case a.curvature <= 0.05:
		a.Condition("straightness", working.Doubtful, working.Textf("The cases bend: with a curve (%s) the fit would be "+
			"significantly better, %s. %s misses that; a transformed variable may follow one.",
			a.squared(), a.PWords(a.curvature), words.UpperFirst(a.fit())),
			a.response.ways()...)
	default:
		a.Condition("straightness", working.Met, working.Textf("No bend shows: with a curve (%s) the fit would not be significantly better, %s.",
			a.squared(), a.PWords(a.curvature)))
	}
}

// evenSpread tests whether the sizes of the residuals go with the fitted values (H. Glejser, J.
// Amer. Statist. Assoc. 64, 1969).
func (a *aboutLine) evenSpread() {
	sizes := make([]float64, len(a.each))
	for i, c := range a.each {
		sizes[i] = math.Abs(c.Residual)
	}
	line := stats.FitLine(fittedValues(a.each), sizes)
	p := 2 * dist.T{DF: line.DF}.Upper(math.Abs(line.Slope/line.SESlope))
	switch {
	case line.SXX == 0 || line.DF < 1 || math.IsNaN(p):
		a.Condition("equal-spread", working.Met, working.Textf("All fitted values are the same, so nothing shows an uneven spread."))
	case p <= 0.05:
		grows := "grows"
		if line.Slope < 0 {
			grows = "shrinks"
		}
		a.Condition("equal-spread", working.Doubtful, working.Textf("The spread about %s %s with the fitted value, %s. Intervals "+
			"are then too narrow on one side and too wide on the other; a logarithm of the response often helps.",
			a.fit(), grows, a.PWords(p)), a.response.ways()...)
	default:
		a.Condition("equal-spread", working.Met, working.Textf("The spread about %s does not go with the fitted value, %s.", a.fit(),
			a.PWords(p)))
	}
}

// shape judges whether what is fitted can be taken as normal.
func (a *aboutLine) shape(r cases.Spread) {
	skewness := stats.NewMoments(r.Values).Skewness(r.Values)
	judged := write.Shape{Samples: []cases.Spread{r}, Cases: "the residuals", Symbol: "t", Estimate: "the slope"}
	if a.along != nil {
		judged.Skewness = stats.SkewnessOfSlope(a.along, skewness)
	} else {
		judged.Estimate, judged.Symbol = "a fitted mean", "F"
		judged.Skewness = stats.SkewnessOfMeans(stats.WeighedMean{Weight: 1, N: len(r.Values), SD: 1, Skewness: skewness})
	}
	a.ShapeCondition(judged)
}

// muchInfluence is the Cook's distance from which a case is named.
const muchInfluence = 1

// muchLeverage returns the leverage from which a case is named: three times the mean (D. A.
// Belsley, E. Kuh and R. E. Welsch, Regression Diagnostics, 1980, use twice; three names fewer),
// and 0.2 at least (P. J. Huber, Robust Statistics, 1981, chapter 7).
func (a *aboutLine) muchLeverage() float64 {
	return math.Max(3*float64(a.terms)/float64(len(a.each)), 0.2)
}

// unusual says what is unusual in a case; nothing where nothing is.
func (a *aboutLine) unusual(c stats.Fitted) []string {
	var why []string
	if math.Abs(c.Standardized) >= 3 {
		why = append(why, fmt.Sprintf("%s standard deviations from %s", working.FormatNumber(c.Standardized, 1), a.fit()))
	}
	if c.Leverage >= a.muchLeverage() {
		why = append(why, "much leverage, "+working.FormatNumber(c.Leverage, 2))
	}
	if c.Cook >= muchInfluence {
		why = append(why, "influence "+working.FormatNumber(c.Cook, 1))
	}
	return why
}

// influence names the cases that lie far off, have much leverage or move the line much, with ways
// to see it without them.
func (a *aboutLine) influence() {
	const most = 5
	var names []string
	var ways []working.Action
	found, moved := 0, false
	for i, c := range a.each {
		why := a.unusual(c)
		if why == nil {
			continue
		}
		found++
		moved = moved || c.Cook >= muchInfluence
		if len(names) < most {
			names = append(names, fmt.Sprintf("case %d (%s)", a.rows[i], strings.Join(why, ", ")))
			ways = append(ways, write.Without(a.rows[i], fmt.Sprintf("leave-out-%d", a.rows[i]),
				"Fits without this case, beside this fit. The case is not deleted.", "unusual in the fit"))
		}
	}
	list := strings.Join(names, "; ")
	if found > len(names) {
		list += fmt.Sprintf("; and %d more", found-len(names))
	}
	switch {
	case found == 0:
		a.Condition("leverage", working.Met, working.Textf("No case lies far off or draws %s to itself.", a.fit()))
	case moved:
		a.Condition("leverage", working.NotMet, working.Textf("The line would move much without a single case: %s. "+
			"Look first whether it was typed rightly.", list), ways...)
	default:
		a.Condition("leverage", working.Doubtful, working.Textf("Unusual: %s. Look first whether it was typed rightly.", list), ways...)
	}
}

// recordedOrder looks at how each residual goes with the one before it. Without dependence that
// correlation lies within about 2/√n of 0 (G. E. P. Box and G. M. Jenkins, Time Series Analysis,
// 1970, 2.1.6).
func (a *aboutLine) recordedOrder() {
	products, squares := 0.0, 0.0
	for i, c := range a.each {
		squares += c.Residual * c.Residual
		if i > 0 {
			products += c.Residual * a.each[i-1].Residual
		}
	}
	r, limit := products/squares, 2/math.Sqrt(float64(len(a.each)))
	shown, within := working.FormatNumber(r, 2), working.FormatNumber(limit, 2)
	if math.Abs(r) > limit {
		a.Condition("independence", working.Doubtful, working.Textf("In the recorded order each residual goes with the one before it: "+
			"their correlation is %s, beyond ±%s. If the order is that of time, the cases tell something about each other, "+
			"and standard errors are too small.", shown, within))
		return
	}
	a.Condition("independence", working.Met, working.Textf("In the recorded order no residual goes with the one before it: "+
		"their correlation is %s, within ±%s. That cases tell nothing about each other is otherwise taken as met.", shown, within))
}

// residualFigures draws the residuals against the fitted values and in the recorded order.
func (a *aboutLine) residualFigures(residuals []float64) {
	order := make([]float64, len(residuals))
	for i := range order {
		order[i] = float64(i + 1)
	}
	unit := a.response.heading.Unit
	a.ResidualFigure(write.Residuals{
		ID: "residuals", Title: "Residuals against fitted values", Axis: working.Axis{Label: "fitted", Unit: unit}, Unit: unit,
		Says: "What is left of each case against what " + a.fit() + " gives; the dashed line is 0.",
		X:    fittedValues(a.each), Y: residuals, Rows: a.rows,
	})
	a.ResidualFigure(write.Residuals{
		ID: "order", Title: "Residuals in the recorded order", Axis: working.Axis{Label: "order"}, Unit: unit,
		Says: "What is left of each case, in the order in which the cases stand; the dashed line is 0.",
		X:    order, Y: residuals, Rows: a.rows,
	})
}

// leverageFigure draws how much each case could draw the line to itself, to the right, and how
// much it does, upward.
func (a *aboutLine) leverageFigure() {
	points := working.Mark{Shape: working.Points, Role: working.Observed}
	most, greatest := 0.0, 0.0
	for i, c := range a.each {
		if math.IsNaN(c.Cook) || math.IsInf(c.Cook, 0) {
			continue // a line must go through it
		}
		points.X, points.Y = append(points.X, working.Number(c.Leverage)), append(points.Y, working.Number(c.Cook))
		points.Case = append(points.Case, a.rows[i])
		most, greatest = math.Max(most, c.Leverage), math.Max(greatest, c.Cook)
	}
	f := &working.Figure{
		ID: "leverage", Form: working.Scatter, Title: "Leverage and influence", Small: true,
		Says: fmt.Sprintf("To the right how much each case could draw %s to itself, upward how much it does. Leverage reaches %s, influence %s.",
			a.fit(), working.FormatNumber(most, 2), working.FormatNumber(greatest, 2)),
		Axis: working.Axis{Label: "leverage", Min: 0, Max: working.Number(most * 1.1)},
		Up:   &working.Axis{Label: "influence", Min: 0, Max: working.Number(math.Max(greatest, 0.02) * 1.15)},
	}
	if limit := a.muchLeverage(); float64(f.Axis.Max) > limit {
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Line, Role: working.Expected, Label: "much leverage", X: working.Positions(limit, limit), Y: working.Numbers{0, f.Up.Max},
		})
	}
	if float64(f.Up.Max) > muchInfluence {
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Line, Role: working.Expected, Label: "much influence", X: working.Numbers{0, f.Axis.Max},
			Y: working.Positions(muchInfluence, muchInfluence),
		})
	}
	f.Marks = append(f.Marks, points)
	a.Figure(f)
}
