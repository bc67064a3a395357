package lines

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/procedure/write"
	"grund/internal/words"
	"grund/internal/working"
)

// points are the cases as dots.
func (s *straightLine) points() working.Mark {
	return working.Mark{
		Shape: working.Points, Role: working.Observed, X: working.Positions(s.x...), Y: working.Positions(s.response.y...), Case: s.rows,
	}
}

// over draws marks over both axes, with room for all of them.
func (s *straightLine) over(id string, up data.Heading, marks ...working.Mark) *working.Figure {
	var xs, ys []float64
	for _, m := range marks {
		for i := range m.X {
			xs = append(xs, float64(m.X[i]))
		}
		for i := range m.Y {
			ys = append(ys, float64(m.Y[i]))
		}
	}
	f := &working.Figure{
		ID: id, Form: working.Scatter, Marks: marks, Axis: working.Axis{Label: s.predictor.Title(), Unit: s.predictor.Unit},
		Up: &working.Axis{Label: up.Label, Unit: up.Unit},
	}
	f.Axis.Min, f.Axis.Max = write.Axis(xs...)
	f.Up.Min, f.Up.Max = write.Axis(ys...)
	return f
}

// lineFigure draws the cases with the line, both bands and what is predicted.
func (s *straightLine) lineFigure() *working.Figure {
	f := s.fitFigure("line", s.response.heading, s.points(), func(y float64) float64 { return y })
	f.Title = fmt.Sprintf("%s on %s", s.response.heading.Label, s.xName())
	f.Reads = s.equation()
	f.Says = fmt.Sprintf("The cases with the line %s, and bands for the mean and for a new case.", s.equation())
	return f
}

// measuredFigure draws the same, read back in the unit of the response: the line is a curve.
func (s *straightLine) measuredFigure() *working.Figure {
	points := s.points()
	points.Y = working.Positions(s.response.measured...)
	f := s.fitFigure("measured", s.response.own, points, math.Exp)
	f.Title = fmt.Sprintf("%s on %s, as measured", s.response.own.Label, s.xName())
	f.Says = fmt.Sprintf("The cases as measured, with the curve of the median and bands for it and for a new case, in %s.",
		s.response.unitWords())
	return f
}

// fitFigure draws points with the line and its bands, read on a scale of the response.
func (s *straightLine) fitFigure(id string, up data.Heading, points working.Mark, read func(float64) float64) *working.Figure {
	low, high := s.least, s.most
	for _, x := range s.predictAt {
		low, high = math.Min(low, x), math.Max(high, x)
	}
	line, mean, one := s.bands(low, high, read)
	f := s.over(id, up, one, mean, line, points)
	f.Seen = working.Positions(s.least, s.most)
	unit := math.Pow10(int(math.Floor(math.Log10(high-low))) - 2)
	at := working.Positions(math.Round(s.line.MeanX/unit) * unit)
	if len(s.predictAt) > 0 {
		at = working.Positions(s.predictAt...)
		p := s.predict(s.predictAt[0])
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Interval, Role: working.Observed, Label: "prediction", X: at[:1],
			Y: working.Positions(read(p.newLow), read(p.fitted), read(p.newHigh)),
		})
	}
	f.Handles = []working.Handle{{
		ID: "predict", Label: "Predict at", Pointer: "/options/predict_at", At: at[0], Min: f.Axis.Min, Max: f.Axis.Max,
		Step: working.Number(unit), Among: at,
	}}
	return f
}

// bands draws the line from low to high, with the bands of the mean and of a new case around it.
func (s *straightLine) bands(low, high float64, read func(float64) float64) (line, mean, one working.Mark) {
	const steps = 40
	line = working.Mark{Shape: working.Line, Role: working.StatisticMark, Label: "line"}
	mean = working.Mark{Shape: working.Area, Role: working.Expected, Label: "mean"}
	one = working.Mark{Shape: working.Area, Role: working.Expected, Label: "new case"}
	each := make([]predicted, steps+1)
	for i := range each {
		x := low + (high-low)*float64(i)/steps
		each[i] = s.predict(x)
		line.X, line.Y = append(line.X, working.Number(x)), append(line.Y, working.Number(read(each[i].fitted)))
		mean.Y, one.Y = append(mean.Y, working.Number(read(each[i].meanLow))), append(one.Y, working.Number(read(each[i].newLow)))
	}
	edge := append(working.Numbers{}, line.X...)
	for i := steps; i >= 0; i-- { // and back along the upper edge
		edge = append(edge, line.X[i])
		mean.Y, one.Y = append(mean.Y, working.Number(read(each[i].meanHigh))), append(one.Y, working.Number(read(each[i].newHigh)))
	}
	mean.X, one.X = edge, edge
	return line, mean, one
}

func (s *straightLine) followUp() {
	s.IntervalFigure(nil)
	blocks := append(s.IntervalBlocks(),
		working.Say("**How close is it?** r² = @{r_squared}: the line explains %s of the variation of %s, and the rest lies about it. r is @{r}.",
			working.FormatNumber(100*s.Value("r_squared"), 1)+"\u00a0%", s.yName()),
		working.FormulaBlock{Quantity: "r_squared"}, working.FormulaBlock{Quantity: "r"},
		working.TableBlock{Table: "coefficients"}, working.TableBlock{Table: "variance"},
		working.Note("Of one predictor, F is the square of the t that tests a slope of 0: the same test said twice. So is the test of r."))
	if len(s.predictAt) > 0 {
		blocks = append(blocks, s.predictionBlocks()...)
	} else if !s.response.log {
		blocks = append(blocks, working.Say("**Predict.** Type a value under the picture of the line, or drag its mark: "+
			"what the line says there comes with two intervals."))
	}
	if s.response.log {
		blocks = append(blocks, s.readBack()...)
	}
	blocks = append(blocks, working.Say("**Case by case**: what was observed, what the line gives, and what is left."),
		working.TableBlock{Table: "cases"},
		s.response.derived([]float64{s.line.Intercept, s.line.Slope}, s.P.Roles["predictor"]),
		working.Note("A residual is standardized by its own standard error; beyond ±2 a case lies far from the line, beyond ±3 very far. "+
			"Leverage says how much a case could draw the line to itself, influence (Cook’s distance) how much it does: "+
			"from about 1 on the line would move much without it."))
	s.Step(working.FollowUp, working.Textf("r² = @{r_squared}"), blocks...)
}

// predictionBlocks shows what is predicted, and warns where nothing was observed.
func (s *straightLine) predictionBlocks() []working.Block {
	s.multiplierOfPredictions()
	blocks := []working.Block{
		working.Say("**Predictions.** The mean at a place is surer than a single new case, which also lies about the line."),
		working.TableBlock{Table: "predictions"},
	}
	for _, x := range s.predictAt {
		if x < s.least || x > s.most {
			return append(blocks, working.Warn("%s lies outside what was observed, %s to %s: nothing shows that the line goes on there.",
				shortest(x, s.predictor.Unit), observed(s.least, ""), observed(s.most, s.predictor.Unit)))
		}
	}
	return blocks
}

// readBack reads the fit of a logarithm in the unit of the response.
func (s *straightLine) readBack() []working.Block {
	s.Figure(s.measuredFigure())
	blocks := []working.Block{
		working.Say("**Read back in %s.** For one %s of %s more, %s is multiplied by @{factor} (%s\u00a0%% interval: %s): %s.",
			s.response.unitWords(),
			stepOf(s.predictor.Unit), s.xName(), s.response.ownName(), s.LevelWords(), s.factorWords(), percentOfFactor(s.Value("factor"))),
		working.FormulaBlock{Quantity: "factor"}, working.FigureBlock{Figure: "measured"},
	}
	if len(s.predictAt) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions_measured"})
	}
	return append(blocks, s.response.medianWarning())
}

// perfect writes what can be said where every case lies on the line: estimates, and no test.
func (s *straightLine) perfect() {
	for _, none := range []struct {
		id            working.Ref
		symbol, label string
	}{
		{"t", "t", "Test statistic"}, {"p", "p", "p-value"}, {"f", "F", "F of the line"},
		{"ci_low", `\text{lower}`, "Lower end of the interval"}, {"ci_high", `\text{upper}`, "Upper end of the interval"},
	} {
		s.sum(none.id, none.symbol, none.label, "There is none where every case lies on the line.", math.NaN(), nil)
	}
	s.Note(working.Statistic, "Every case lies on the line: there is nothing to measure the slope by, so there is no test.")
	s.Step(working.Statistic, working.Textf("b = @{slope}"), working.FormulaBlock{Quantity: "ss_x"}, working.FormulaBlock{Quantity: "ss_xy"},
		working.FormulaBlock{Quantity: "slope"}, working.FormulaBlock{Quantity: "intercept"}, working.Say("**%s**", s.equation()),
		s.slopeMeaning(),
		working.Warn("Every case lies on the line. That is seldom so with things that were measured: look whether one was calculated from "+
			"the other."))
	s.ConcludeOtherwise("no test", working.Textf("All %d cases lie on the line %s. Without any distance from it there is nothing to test.",
		s.line.N, s.equation()))
	s.ReportStep(working.Textf("%s on %s: all %d cases on the line, *b* = @{slope}, intercept @{intercept}.",
		words.UpperFirst(s.yName()), s.xName(), s.line.N), "")
	s.varianceTable()
	blocks := []working.Block{working.TableBlock{Table: "coefficients"}, working.TableBlock{Table: "variance"}}
	if len(s.predictAt) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions"})
	}
	s.Step(working.FollowUp, nil, append(blocks, working.TableBlock{Table: "cases"})...)
}
