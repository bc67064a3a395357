package lines

import (
	"fmt"
	"math"

	"grund/internal/formula"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// fit defines the line and how the variation splits, and lists the cases, the coefficients and
// what is predicted.
func (s *straightLine) fit() {
	s.sums()
	s.shares()
	s.errors()
	s.casesTable()
	s.coefficientsTable()
	s.response.predictionsTable(&s.Sheet, s.predictions())
}

// sum defines a quantity without a unit.
func (s *straightLine) sum(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
	s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Ratio, value, expr)
}

// share defines an estimate without a unit.
func (s *straightLine) share(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
	s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Share, value, expr)
}

// sums defines the sums of squares, and slope and intercept that come of them.
func (s *straightLine) sums() {
	l := s.line
	products := make([]float64, len(s.x))
	for i := range products {
		products[i] = (s.x[i] - l.MeanX) * (s.response.y[i] - l.MeanY)
	}
	s.Column("cases/*/products", products)
	slope, xy := formula.Ref("slope"), formula.Ref("ss_xy")
	s.sum("ss_x", `S_{xx}`, "Sum of squares of "+s.xName(), "How far the cases spread along the predictor.", l.SXX,
		formula.Deviations{Column: s.xs(), Centre: "mean_predictor", Power: 2})
	s.sum("ss_total", `SS_{T}`, "Sum of squares of "+s.yName(), "How far the responses lie from their mean: squared and added up.", l.SYY,
		formula.Deviations{Column: s.response.series(&s.Sheet), Centre: "mean_response", Power: 2})
	s.sum("ss_xy", `S_{xy}`, "Sum of products", "Positive where cases that lie high on the one tend to lie high on the other.", l.SXY,
		formula.Total{Column: s.Calculated("cases/*/products", `(x_{i}-\bar{x})(y_{i}-\bar{y})`, 3)})
	s.Define(working.Quantity{
		ID: "slope", Symbol: "b", Label: "Slope", Unit: s.Unit,
		Says: fmt.Sprintf("How much the line rises for one more %s of %s.", stepOf(s.predictor.Unit), s.xName()),
	}, working.Measure, l.Slope, formula.Quotient{Over: xy, Under: formula.Ref("ss_x")})
	s.Define(working.Quantity{
		ID: "intercept", Symbol: "a", Label: "Intercept", Unit: s.response.heading.Unit,
		Says: fmt.Sprintf("The height of the line where %s is 0.", s.xName()),
	}, working.Ratio, l.Intercept, formula.Subtract(formula.Ref("mean_response"), formula.Product{slope, formula.Ref("mean_predictor")}))
	s.sum("ss_regression", `SS_{R}`, "Sum of squares of the line", "What the line explains: how far its heights lie from the mean response.",
		l.Regression,
		formula.Product{slope, xy})
	s.sum("ss_residual", `SS_{E}`, "Sum of squares of the residuals",
		"What the line leaves: how far the cases lie from it, upward and downward.", l.Residual,
		formula.Subtract(formula.Ref("ss_total"), formula.Ref("ss_regression")))
	s.Define(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Every case gives one, and slope and intercept take two away.",
	}, working.Degrees, l.DF, formula.Subtract(formula.Ref("n"), formula.Num(2)))
	s.Define(working.Quantity{ID: "df_1", Symbol: `\nu_{1}`, Label: "Degrees of freedom of the line", Says: "One, for the slope."},
		working.Degrees, 1, formula.Num(1))
	s.sum("ms_regression", `MS_{R}`, "Mean square of the line", "Its sum of squares for its one degree of freedom.", l.Regression,
		formula.Quotient{Over: formula.Ref("ss_regression"), Under: formula.Ref("df_1")})
	s.sum("ms_residual", `MS_{E}`, "Mean square of the residuals", "Their sum of squares for each degree of freedom: s squared.",
		l.Residual/l.DF, formula.Quotient{Over: formula.Ref("ss_residual"), Under: formula.Ref("df")})
}

// shares defines the correlation and the share explained; where all responses are equal there is
// neither.
func (s *straightLine) shares() {
	if s.line.SYY == 0 {
		s.sum("r", "r", "Correlation", "There is none where all responses are equal.", math.NaN(), nil)
		s.sum("r_squared", "r^{2}", "Share explained", "There is nothing to explain where all responses are equal.", math.NaN(), nil)
		return
	}
	s.share("r", "r", "Correlation", "From −1, all on a falling line, to 1, all on a rising one.", s.line.R, formula.Quotient{
		Over: formula.Ref("ss_xy"), Under: formula.Root{X: formula.Product{formula.Ref("ss_x"), formula.Ref("ss_total")}},
	})
	s.share("r_squared", "r^{2}", "Share explained", "Which share of the variation of the response the line explains.",
		s.line.Regression/s.line.SYY,
		formula.Quotient{Over: formula.Ref("ss_regression"), Under: formula.Ref("ss_total")})
}

// errors defines the spread about the line and the standard errors.
func (s *straightLine) errors() {
	sd, x := formula.Ref("residual_sd"), formula.Ref("ss_x")
	s.Define(working.Quantity{
		ID: "residual_sd", Symbol: "s", Label: "Spread about the line", Unit: s.response.heading.Unit,
		Says: "How far cases typically lie above or below it.",
	}, working.Ratio, s.line.ResidualSD, formula.Root{X: formula.Quotient{Over: formula.Ref("ss_residual"), Under: formula.Ref("df")}})
	s.Define(working.Quantity{
		ID: "se_slope", Symbol: "s_{b}", Label: "Standard error of the slope", Unit: s.Unit,
		Says: "How far the slope of such a sample typically lies from the true one.",
	}, working.Measure, s.SE, formula.Quotient{Over: sd, Under: formula.Root{X: x}})
	s.Define(working.Quantity{
		ID: "se_intercept", Symbol: "s_{a}", Label: "Standard error of the intercept", Unit: s.response.heading.Unit,
		Says: "The farther 0 lies from the mean of the predictor, the larger.",
	}, working.Ratio, s.line.SEIntercept, formula.Product{sd, formula.Root{X: formula.Sum{
		formula.Quotient{Over: formula.Num(1), Under: formula.Ref("n")},
		formula.Quotient{Over: formula.Square(formula.Ref("mean_predictor")), Under: x},
	}}})
}

// calculated is a column of the table of cases that follows from the fit.
func calculated(column working.Column, cell func(i int) working.Cell) write.CaseColumn {
	column.Numeric = true
	return write.CaseColumn{Column: column, Cell: cell}
}

func (s *straightLine) casesTable() {
	unit := s.response.heading.Unit
	predictor := write.CaseColumn{
		Column: working.Column{ID: "predictor", Label: s.predictor.Title(), Symbol: "x", Unit: s.predictor.Unit, Numeric: true},
		Cell:   func(i int) working.Cell { return working.EnteredCell(s.x[i], s.xDecimals) },
	}
	at := func(i int) stats.Fitted { return s.line.Case(s.x[i], s.response.y[i]) }
	s.CasesTable("The cases about the line", s.rows, predictor, s.response.column(&s.Sheet),
		calculated(working.Column{
			ID: "fitted", Label: "fitted", Symbol: `\hat{y}`, Unit: unit, Formula: `@{intercept}+@{slope}\cdot @{predictor}`,
		}, func(i int) working.Cell {
			return s.EstimateCell(at(i).Value, s.response.decimals+2)
		}),
		calculated(working.Column{
			ID: "residual", Label: "residual", Symbol: "e", Unit: unit, Bar: true, Formula: `@{observed}-@{fitted}`,
		}, func(i int) working.Cell {
			return s.EstimateCell(at(i).Residual, s.response.decimals+2)
		}),
		calculated(working.Column{
			ID: "standardized", Label: "standardized", Symbol: "e^{*}", Formula: `\frac{@{residual}}{@{residual_sd}\sqrt{1-@{leverage}}}`,
		}, func(i int) working.Cell { return s.StatisticCellOrNone(at(i).Standardized, 2) }),
		calculated(working.Column{
			ID: "leverage", Label: "leverage", Symbol: "h", Formula: `\frac{1}{@{n}}+\frac{(@{predictor}-@{mean_predictor})^{2}}{@{ss_x}}`,
		}, func(i int) working.Cell { return s.StatisticCell(at(i).Leverage, 3) }),
		calculated(working.Column{
			ID: "cooks_distance", Label: "influence", Symbol: "D", Formula: `\frac{@{standardized}^{2}}{2}\cdot\frac{@{leverage}}{1-@{leverage}}`,
		}, func(i int) working.Cell { return s.StatisticCellOrNone(at(i).Cook, 3) }))
}

// coefficientsTable lists intercept and slope with their tests against 0 and two-sided intervals.
func (s *straightLine) coefficientsTable() {
	l := s.line
	t := &working.Table{ID: "coefficients", Title: "Intercept and slope", Key: []string{"predictor"}, Columns: coefficientColumns()}
	intercept := newCoefficient(working.NameCell("intercept"), l.Intercept, l.SEIntercept, l.DF, s.Area(), l.Perfect)
	slope := newCoefficient(s.VariableCell(s.predictor), l.Slope, l.SESlope, l.DF, s.Area(), l.Perfect)
	rows := []working.Row{intercept.row(&s.Sheet), slope.row(&s.Sheet)}
	for i, opens := range [][2]working.Ref{{"intercept", "se_intercept"}, {"slope", "se_slope"}} {
		rows[i][1].Ref, rows[i][2].Ref = opens[0], opens[1]
	}
	t.SetRows(rows)
	s.Table(t)
}

// varianceTable sums up how the variation splits; of a line that leaves nothing there is no F.
func (s *straightLine) varianceTable() {
	line := write.Source{
		ID: "regression", Name: "line", SS: s.QuantityCell("ss_regression"), DF: s.QuantityCell("df_1"), MS: s.QuantityCell("ms_regression"),
	}
	if !s.line.Perfect {
		line.F, line.P = s.QuantityCell("f"), s.QuantityCell("p_f")
	}
	s.VarianceTable(line,
		write.Source{
			ID: "residual", Name: "residuals", SS: s.QuantityCell("ss_residual"), DF: s.QuantityCell("df"), MS: s.QuantityCell("ms_residual"),
		},
		write.Source{ID: "in all", Name: "in all", SS: s.QuantityCell("ss_total"), DF: working.WholeCell(s.line.N - 1)})
}

// predict returns what the line gives at a place.
func (s *straightLine) predict(x float64) predicted {
	fitted, h := s.line.At(x)
	return newPredicted(fitted, h, s.line.ResidualSD, s.line.DF, s.Area(), s.line.Perfect)
}

// predictions returns what the line gives where the problem asks.
func (s *straightLine) predictions() *predictions {
	p := &predictions{
		at:     working.Column{ID: "at", Label: s.predictor.Title(), Symbol: "x", Unit: s.predictor.Unit, Numeric: true},
		symbol: `\hat{y}`, formulas: []string{`@{intercept}+@{slope}\cdot @{at}`},
	}
	if !s.line.Perfect {
		const mean, one = `@{t_prediction}\,@{residual_sd}\sqrt{@{leverage}}`, `@{t_prediction}\,@{residual_sd}\sqrt{1+@{leverage}}`
		for _, reach := range []string{"-" + mean, "+" + mean, "-" + one, "+" + one} {
			p.formulas = append(p.formulas, "@{fitted}"+reach)
		}
	}
	for _, x := range s.predictAt {
		p.places, p.each = append(p.places, working.ShortestCell(x)), append(p.each, s.predict(x))
	}
	return p
}

// equation writes the line with the variables' own names.
func (s *straightLine) equation() string {
	sign := "+"
	if s.line.Slope < 0 {
		sign = "−"
	}
	return fmt.Sprintf("predicted %s = %s %s %s · %s", s.yName(), s.WithUnit("intercept"), sign,
		words.WithUnit(s.ShowMeasure(math.Abs(s.line.Slope)), s.Unit), s.xName())
}

// slopeMeaning says what the slope means in this problem.
func (s *straightLine) slopeMeaning() working.Block {
	step, slope := stepOf(s.predictor.Unit), s.line.Slope
	if s.response.log {
		return working.Say("For each %s of %s more, %s is multiplied by e to the slope, %s: %s.", step, s.xName(), s.response.ownName(),
			working.FormatNumber(math.Exp(slope), 4), percentOfFactor(math.Exp(slope)))
	}
	goes := "more"
	if slope < 0 {
		goes = "less"
	}
	return working.Say("For each %s of %s more, mean %s is %s %s.", step, s.xName(), s.yName(),
		inPlainUnit(words.WithUnit(s.ShowMeasure(math.Abs(slope)), s.response.heading.Unit), math.Abs(slope), s.SE, s.response.heading.Unit),
		goes)
}

// interceptMeaning says what the intercept means, or why it means nothing.
func (s *straightLine) interceptMeaning() working.Block {
	if s.least <= 0 && 0 <= s.most {
		return working.Say("Where %s is 0, mean %s is @{intercept}: that is the intercept.", s.xName(), s.yName())
	}
	return working.Say("The intercept is where the line would stand at a %s of 0. The data go from %s to %s, so it only fixes the line "+
		"and has no meaning of its own.", s.xName(), observed(s.least, ""), observed(s.most, s.predictor.Unit))
}

// factor defines e to the slope, with the ends of its interval: what the response is multiplied
// by for one more of the predictor.
func (s *straightLine) factor() {
	define := func(id, of working.Ref, symbol, label, says string) {
		if x := s.Value(of); !math.IsNaN(x) {
			s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Share, math.Exp(x), formula.Exp{X: formula.Ref(of)})
		}
	}
	step := stepOf(s.predictor.Unit)
	define("factor", "slope", `\text{factor}`, "Factor for one "+step,
		fmt.Sprintf("What %s is multiplied by for one %s more.", s.response.ownName(), step))
	if s.Direction.Above() {
		define("factor_low", "ci_low", `\text{lower factor}`, "Lower end of the factor", "Of the interval of the slope, as a factor.")
	}
	if s.Direction.Below() {
		define("factor_high", "ci_high", `\text{upper factor}`, "Upper end of the factor", "Of the interval of the slope, as a factor.")
	}
}

// factorWords writes the interval of the factor.
func (s *straightLine) factorWords() string {
	switch {
	case !s.Direction.Above():
		return "at most " + s.Show("factor_high")
	case !s.Direction.Below():
		return "at least " + s.Show("factor_low")
	}
	return s.Show("factor_low") + " to " + s.Show("factor_high")
}

// multiplierOfPredictions defines how many standard errors the intervals of predictions reach.
func (s *straightLine) multiplierOfPredictions() {
	outside, area := s.Outside()
	s.Define(working.Quantity{
		ID: "t_prediction", Symbol: "t^{*}", Label: "Multiplier of both intervals",
		Says: "How many standard errors the intervals of predictions reach, to both sides.",
	}, working.Ratio, dist.T{DF: s.line.DF}.UpperQuantile(area/2),
		formula.Quantile{Of: s.Family, Area: formula.Quotient{Over: outside, Under: formula.Num(2)}})
}
