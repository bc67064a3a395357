package lines

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// tables lists the coefficients, the cases, what is predicted, and the fits side by side.
func (s *severalPredictors) tables() {
	s.coefficientsTable()
	s.standardizedTable()
	s.casesTable()
	s.response.predictionsTable(&s.Sheet, s.predictions())
	s.fitsTable()
}

// coefficientsTable lists the coefficients with their tests against 0, and reads them back as
// factors where the fit is of logarithms.
func (s *severalPredictors) coefficientsTable() {
	f := s.fit
	columns := coefficientColumns(
		working.Column{ID: "standardized_coefficient", Label: "standardized", Numeric: true, Hidden: true},
		working.Column{ID: "vif", Label: "inflation", Numeric: true, Hidden: true})
	columns[1].Formula = `\left[(X^{\top}X)^{-1}X^{\top}y\right]`
	if !f.Perfect {
		columns[2].Formula = `@{residual_sd}\sqrt{\left[(X^{\top}X)^{-1}\right]_{jj}}`
	}
	t := &working.Table{ID: "coefficients", Title: "Coefficients", Key: []string{"predictor"}, Columns: columns}
	newOne := func(term working.Cell, i int) coefficient {
		return newCoefficient(term, f.Coefficients[i], f.SE[i], f.DF, s.Area(), f.Perfect)
	}
	intercept := newOne(working.NameCell("intercept"), 0)
	rows := []working.Row{append(intercept.row(&s.Sheet), working.NoCell(), working.NoCell())}
	coefficients := make([]coefficient, len(s.terms))
	for j, one := range s.terms {
		coefficients[j] = newOne(one.cell(), j+1)
		rows = append(rows, append(coefficients[j].row(&s.Sheet), s.EstimateCellOrNone(f.Standardized[j], 3), s.StatisticCell(f.Inflation[j], 2)))
	}
	t.SetRows(rows)
	s.Table(t)
	if s.response.log {
		s.response.factorsTable(&s.Sheet, coefficients)
	}
}

// varianceTable sums up how the variation splits; p is that of F, "" where there is none.
func (s *severalPredictors) varianceTable(p working.Ref) {
	fit := write.Source{
		ID: "regression", Name: "predictors", SS: s.QuantityCell("ss_regression"), DF: s.QuantityCell("df_1"),
		MS: s.QuantityCell("ms_regression"),
	}
	if p != "" {
		fit.F, fit.P = s.QuantityCell("f"), s.QuantityCell(p)
	}
	s.VarianceTable(fit,
		write.Source{
			ID: "residual", Name: "residuals", SS: s.QuantityCell("ss_residual"), DF: s.QuantityCell("df_2"), MS: s.QuantityCell("ms_residual"),
		},
		write.Source{ID: "in all", Name: "in all", SS: s.QuantityCell("ss_total"), DF: working.WholeCell(s.fit.N - 1)})
}

// equationBlocks write the fit with the variables' own names, and what each coefficient says.
func (s *severalPredictors) equationBlocks() []working.Block {
	blocks := []working.Block{
		working.Say("The coefficients make the squared distances of the cases from what the fit gives as small as they can be:"),
		working.Say("**%s**", s.equation()),
	}
	if len(s.terms) <= mostSpelled {
		for j := range s.terms {
			blocks = append(blocks, s.meaning(j))
		}
	}
	return blocks
}

// mostSpelled is up to how many coefficients it is said of each what it means.
const mostSpelled = 6

// equation writes the fit with the variables' own names.
func (s *severalPredictors) equation() string {
	var b strings.Builder
	fmt.Fprintf(&b, "predicted %s = %s", s.yName(), s.coefficientWords(0, s.fit.Coefficients[0]))
	for j, t := range s.terms {
		sign, value := "+", s.fit.Coefficients[j+1]
		if value < 0 {
			sign, value = "−", -value
		}
		what := words.InSentence(t.shown)
		if t.level != "" {
			what = "(" + what + ")"
		}
		fmt.Fprintf(&b, " %s %s · %s", sign, s.coefficientWords(j+1, value), what)
	}
	return b.String()
}

// coefficientWords writes a coefficient, or its size, with as many decimals as it has in the table.
func (s *severalPredictors) coefficientWords(i int, value float64) string {
	c := coefficient{value: s.fit.Coefficients[i], se: s.fit.SE[i], perfect: s.fit.Perfect}
	return s.EstimateCell(value, c.decimals()).Shown
}

// meaning says what a coefficient means in this problem.
func (s *severalPredictors) meaning(j int) working.Block {
	t, b := &s.terms[j], s.fit.Coefficients[j+1]
	v := s.predictors[t.variable]
	goes := "more"
	if b < 0 {
		goes = "less"
	}
	given := s.given()
	if t.level != "" {
		of := s.categories[v]
		if s.response.log {
			return working.Say("For %s %s is %s than for %s%s.", v.Levels[v.FindLevel(t.level)].Name, s.response.ownName(),
				percentOfFactor(math.Exp(b)), v.Levels[of.reference].Name, given)
		}
		return working.Say("For %s mean %s is %s %s than for %s%s.", v.Levels[v.FindLevel(t.level)].Name, s.yName(),
			s.changeWords(j, b), goes, v.Levels[of.reference].Name, given)
	}
	if s.response.log {
		return working.Say("For each %s of %s more, %s is %s%s.", stepOf(v.Unit), words.InSentence(v.Title()), s.response.ownName(),
			percentOfFactor(math.Exp(b)), given)
	}
	return working.Say("For each %s of %s more, mean %s is %s %s%s.", stepOf(v.Unit), words.InSentence(v.Title()), s.yName(),
		s.changeWords(j, b), goes, given)
}

// changeWords writes by how much the response changes, in the unit that people use.
func (s *severalPredictors) changeWords(j int, b float64) string {
	return inPlainUnit(words.WithUnit(s.coefficientWords(j+1, math.Abs(b)), s.response.heading.Unit), math.Abs(b), s.fit.SE[j+1],
		s.response.heading.Unit)
}

// standardizedTable sets the predictors beside each other: their coefficients in standard
// deviations, and how much they go with one another.
func (s *severalPredictors) standardizedTable() {
	t := &working.Table{ID: "standardized", Title: "Standardized coefficients", Key: []string{"predictor"}, Columns: []working.Column{
		{ID: "predictor", Label: "term"}, {ID: "standardized_coefficient", Label: "standardized coefficient", Numeric: true, Bar: true},
		{ID: "vif", Label: "inflation of variance", Numeric: true},
	}}
	rows := make([]working.Row, len(s.terms))
	for j, one := range s.terms {
		rows[j] = working.Row{one.cell(), s.EstimateCellOrNone(s.fit.Standardized[j], 3), s.StatisticCell(s.fit.Inflation[j], 2)}
	}
	t.SetRows(rows)
	s.Table(t)
}

func (s *severalPredictors) casesTable() {
	decimals := s.response.decimals + 2
	columns := []write.CaseColumn{s.response.column(&s.Sheet),
		calculated(working.Column{ID: "fitted", Label: "fitted", Symbol: `\hat{y}`, Unit: s.Unit, Formula: s.fittedFormula()},
			func(i int) working.Cell { return s.EstimateCell(s.each[i].Value, decimals) }),
		calculated(working.Column{ID: "residual", Label: "residual", Symbol: "e", Unit: s.Unit, Bar: true, Formula: `@{observed}-@{fitted}`},
			func(i int) working.Cell { return s.EstimateCell(s.each[i].Residual, decimals) }),
		calculated(working.Column{
			ID: "standardized", Label: "standardized", Symbol: "e^{*}", Formula: `\frac{@{residual}}{@{residual_sd}\sqrt{1-@{leverage}}}`,
		}, func(i int) working.Cell {
			return s.StatisticCellOrNone(s.each[i].Standardized, 2)
		}),
		calculated(working.Column{ID: "leverage", Label: "leverage", Symbol: "h"},
			func(i int) working.Cell { return s.StatisticCell(s.each[i].Leverage, 3) }),
		calculated(working.Column{
			ID: "cooks_distance", Label: "influence", Symbol: "D",
			Formula: `\frac{@{standardized}^{2}}{@{terms}+1}\cdot\frac{@{leverage}}{1-@{leverage}}`,
		}, func(i int) working.Cell { return s.StatisticCellOrNone(s.each[i].Cook, 3) })}
	if len(s.terms) <= mostTerms {
		for j := range s.terms {
			t := &s.terms[j]
			entered := data.MostDecimals(t.values)
			columns = append(columns, write.CaseColumn{
				Column: working.Column{ID: termID(j), Label: t.shown, Symbol: fmt.Sprintf("x_{%d}", j+1), Numeric: true, Hidden: true},
				Cell:   func(i int) working.Cell { return working.EnteredCell(t.values[i], entered) },
			})
		}
	}
	s.CasesTable("The cases about the fit", s.rows, columns...)
}

// mostTerms is up to how many terms a fitted value is written out.
const mostTerms = 8

// termID is the hidden column of the values of a term.
func termID(j int) string { return fmt.Sprintf("term_%d", j+1) }

// fittedFormula writes a fitted value term by term, "" where there are too many.
func (s *severalPredictors) fittedFormula() string {
	if len(s.terms) > mostTerms {
		return ""
	}
	number := func(i int, value float64) string { return formula.TeXNumber(s.coefficientWords(i, value)) }
	text := number(0, s.fit.Coefficients[0])
	for j := range s.terms {
		sign, value := "+", s.fit.Coefficients[j+1]
		if value < 0 {
			sign, value = "-", -value
		}
		text += fmt.Sprintf(`%s%s\cdot @{%s}`, sign, number(j+1, value), termID(j))
	}
	return text
}

// predictions returns what the fit gives where the problem asks.
func (s *severalPredictors) predictions() *predictions {
	p := &predictions{at: working.Column{ID: "at", Label: words.UpperFirst(strings.Join(s.predictorNames(), ", "))}}
	for i, row := range s.places {
		fitted, h := s.fit.At(row)
		p.places = append(p.places, working.NameCell(strings.Join(s.o.predictAt[i], ", ")))
		p.each = append(p.each, newPredicted(fitted, h, s.fit.ResidualSD, s.fit.DF, s.Area(), s.fit.Perfect))
	}
	return p
}

// fitsTable sets the fit beside others on the same cases, with the partial F test where one is
// inside the other.
func (s *severalPredictors) fitsTable() {
	if len(s.compared) == 0 {
		return
	}
	t := &working.Table{ID: "fits", Title: "Fits side by side", Key: []string{"predictors"}, Columns: []working.Column{
		{ID: "predictors", Label: "predictors"}, {ID: "r_squared", Label: "R²", Numeric: true},
		{ID: "adjusted_r_squared", Label: "adjusted R²", Numeric: true},
		{ID: "residual_sd", Label: "spread about the fit", Unit: s.Unit, Numeric: true}, {ID: "aic", Label: "AIC", Numeric: true},
		{ID: "f_change", Label: "F of the difference", Numeric: true}, {ID: "p_change", Label: "p", Numeric: true},
	}}
	rows := []working.Row{s.fitRow(s.predictors, s.fit, math.NaN(), math.NaN())}
	for _, one := range s.compared {
		if one.fit != nil {
			rows = append(rows, s.fitRow(one.variables, one.fit, one.f, one.p))
		}
	}
	t.SetRows(rows)
	s.Table(t)
}

func (s *severalPredictors) fitRow(variables []*data.Variable, fit *stats.LeastSquares, f, p float64) working.Row {
	var names, shown []string
	for _, v := range variables {
		names, shown = append(names, v.Name), append(shown, words.InSentence(s.Called(v)))
	}
	return working.Row{
		{Value: strings.Join(names, ", "), Shown: words.UpperFirst(strings.Join(shown, ", "))},
		s.EstimateCellOrNone(fit.R2, 4), s.EstimateCellOrNone(fit.AdjustedR2, 4), s.EstimateCell(fit.ResidualSD, s.response.decimals+2),
		s.StatisticCellOrNone(fit.AIC, 2), s.StatisticCellOrNone(f, 3), s.PCellOrNone(p),
	}
}
