package lines

import (
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/procedure/write"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// A coefficient of a fit, with its test against 0 and its interval. Of a perfect fit there is
// neither.
type coefficient struct {
	term      working.Cell
	value, se float64
	p         float64
	low, high float64
	perfect   bool
}

// newCoefficient tests a coefficient by t; area is what lies outside its interval.
func newCoefficient(term working.Cell, value, se, df, area float64, perfect bool) coefficient {
	d := dist.T{DF: df}
	reach := d.UpperQuantile(area/2) * se
	return coefficient{term, value, se, 2 * d.Upper(math.Abs(value/se)), value - reach, value + reach, perfect}
}

// coefficientColumns are the columns of a table of coefficients; more follow them.
func coefficientColumns(more ...working.Column) []working.Column {
	return append([]working.Column{
		{ID: "predictor", Label: "term"}, {ID: "coefficient", Label: "coefficient", Symbol: "b", Numeric: true},
		{ID: "se", Label: "se", Symbol: "s_{b}", Numeric: true},
		{ID: "t", Label: "t", Symbol: "t", Numeric: true, Formula: `\frac{@{coefficient}}{@{se}}`}, {ID: "p", Label: "p", Numeric: true},
		{ID: "ci_low", Label: "from", Numeric: true}, {ID: "ci_high", Label: "to", Numeric: true},
	}, more...)
}

// decimals returns with how many decimals the coefficient is shown.
func (c *coefficient) decimals() int {
	if c.perfect {
		return working.SmallestDecimals(math.Max(math.Abs(c.value)/100, 1e-12))
	}
	return working.SmallestDecimals(c.se)
}

// ends returns the interval as cells.
func (c *coefficient) ends(s *write.Sheet) (low, high working.Cell) {
	if c.perfect {
		return working.NoCell(), working.NoCell()
	}
	return s.EstimateCell(c.low, c.decimals()), s.EstimateCell(c.high, c.decimals())
}

// row returns the coefficient as coefficientColumns have it.
func (c *coefficient) row(s *write.Sheet) working.Row {
	low, high := c.ends(s)
	value := s.EstimateCell(c.value, c.decimals())
	if c.perfect {
		return working.Row{c.term, value, s.EstimateCell(0, c.decimals()), working.NoCell(), working.NoCell(), low, high}
	}
	return working.Row{
		c.term, value, s.EstimateCell(c.se, c.decimals()), s.StatisticCell(c.value/c.se, working.DefaultDecimals), s.PCell(c.p), low, high,
	}
}

// factorsTable reads the coefficients of a fit of logarithms back as factors, each with its
// interval.
func (r *response) factorsTable(s *write.Sheet, coefficients []coefficient) {
	t := &working.Table{
		ID: "factors", Title: "What " + r.ownName() + " is multiplied by for one more", Key: []string{"predictor"}, Columns: []working.Column{
			{ID: "predictor", Label: "term"}, {ID: "factor", Label: "factor", Numeric: true, Formula: "e^{@{coefficient}}"},
			{ID: "factor_low", Label: "from", Numeric: true, Formula: "e^{@{ci_low}}"},
			{ID: "factor_high", Label: "to", Numeric: true, Formula: "e^{@{ci_high}}"}, {ID: "change", Label: "which is"},
			{ID: "coefficient", Label: "coefficient", Symbol: "b", Numeric: true, Hidden: true},
			{ID: "ci_low", Label: "from", Symbol: `\text{lower}`, Numeric: true, Hidden: true},
			{ID: "ci_high", Label: "to", Symbol: `\text{upper}`, Numeric: true, Hidden: true},
		},
	}
	rows := make([]working.Row, len(coefficients))
	for i, c := range coefficients {
		low, high := c.low, c.high
		if c.perfect {
			low, high = math.NaN(), math.NaN()
		}
		lowCell, highCell := c.ends(s)
		rows[i] = working.Row{
			c.term, s.EstimateCellOrNone(math.Exp(c.value), logDecimals), s.EstimateCellOrNone(math.Exp(low), logDecimals),
			s.EstimateCellOrNone(math.Exp(high), logDecimals), working.NameCell(percentOfFactor(math.Exp(c.value))),
			s.EstimateCell(c.value, c.decimals()), lowCell, highCell,
		}
	}
	t.SetRows(rows)
	s.Table(t)
}

// predicted is the fitted value at a place, with its leverage and both intervals: that of the
// mean and that of a new case.
type predicted struct{ fitted, meanLow, meanHigh, newLow, newHigh, leverage float64 }

// newPredicted makes the intervals of a fitted value with leverage h; area is what lies outside
// them.
func newPredicted(fitted, h, sd, df, area float64, perfect bool) predicted {
	if perfect {
		return predicted{fitted, fitted, fitted, fitted, fitted, h}
	}
	times := dist.T{DF: df}.UpperQuantile(area/2) * sd
	mean, one := times*math.Sqrt(h), times*math.Sqrt(1+h)
	return predicted{fitted, fitted - mean, fitted + mean, fitted - one, fitted + one, h}
}

// numbers are the fitted value and the ends of both intervals.
func (p *predicted) numbers() []float64 {
	return []float64{p.fitted, p.meanLow, p.meanHigh, p.newLow, p.newHigh}
}

// predictions are what a fit gives at places.
type predictions struct {
	at     working.Column // where
	places []working.Cell
	each   []predicted
	symbol string // of the fitted value
	// formulas are how the fitted value and the ends come about, with the leverage; nil where
	// nobody writes that out.
	formulas []string
}

// columns are the columns of the fitted value and the ends of both intervals.
func (p *predictions) columns(unit string) []working.Column {
	columns := []working.Column{
		{ID: "fitted", Label: "fitted", Symbol: p.symbol}, {ID: "mean_low", Label: "mean from"}, {ID: "mean_high", Label: "to"},
		{ID: "new_low", Label: "a new case from"}, {ID: "new_high", Label: "to"},
	}
	for i := range columns {
		columns[i].Unit, columns[i].Numeric = unit, true
		if i < len(p.formulas) {
			columns[i].Formula = p.formulas[i]
		}
	}
	return columns
}

// cells are the numbers of a prediction as cells.
func (r *response) cells(s *write.Sheet, numbers []float64) []working.Cell {
	cells := make([]working.Cell, len(numbers))
	for i, y := range numbers {
		cells[i] = s.EstimateCell(y, r.decimals+2)
	}
	return cells
}

// predictionsTable lists what a fit gives at places, and reads that back in the unit of the
// response where the fit is of logarithms.
func (r *response) predictionsTable(s *write.Sheet, p *predictions) {
	if len(p.each) == 0 {
		return
	}
	t := &working.Table{ID: "predictions", Title: "Predictions", Key: []string{"at"},
		Columns: append([]working.Column{p.at}, p.columns(r.heading.Unit)...)}
	if p.formulas != nil {
		t.Columns = append(t.Columns, working.Column{ID: "leverage", Label: "leverage", Symbol: "h", Numeric: true, Hidden: true})
	}
	var rows []working.Row
	for i, one := range p.each {
		row := append(working.Row{p.places[i]}, r.cells(s, one.numbers())...)
		if p.formulas != nil {
			row = append(row, s.StatisticCell(one.leverage, 4))
		}
		rows = append(rows, row)
	}
	t.SetRows(rows)
	s.Table(t)
	if r.log {
		r.measuredTable(s, p)
	}
}

// measuredTable reads predictions of logarithms back in the unit of the response. Each cell opens
// with the logarithm of which it is the antilogarithm.
func (r *response) measuredTable(s *write.Sheet, p *predictions) {
	t := &working.Table{ID: "predictions_measured", Title: "Predictions in " + r.unitWords(), Key: []string{"at"},
		Columns: []working.Column{p.at}}
	labels := []string{"median", "median from", "to", "a new case from", "to"}
	var hidden []working.Column
	for i, c := range p.columns("") {
		t.Columns = append(t.Columns, working.Column{
			ID: c.ID, Label: labels[i], Unit: r.own.Unit, Numeric: true, Formula: "e^{@{log_" + c.ID + "}}",
		})
		hidden = append(hidden, working.Column{ID: "log_" + c.ID, Label: c.Label, Symbol: c.Symbol, Numeric: true, Hidden: true})
	}
	t.Columns = append(t.Columns, hidden...)
	decimals := data.MostDecimals(r.measured) + 1
	rows := make([]working.Row, len(p.each))
	for i, one := range p.each {
		rows[i] = working.Row{p.places[i]}
		for _, y := range one.numbers() {
			rows[i] = append(rows[i], s.EstimateCell(math.Exp(y), decimals))
		}
		rows[i] = append(rows[i], r.cells(s, one.numbers())...)
	}
	t.SetRows(rows)
	s.Table(t)
}

// inPlainUnit adds to a number with its unit how much that is in the unit that it is a multiple of: “0.55
// hundreds of crowns” is 55 crowns. size is its standard error.
func inPlainUnit(said string, x, size float64, unit string) string {
	plain, scale := data.PlainUnit(unit)
	if scale == 1 {
		return said
	}
	factor := float64(scale)
	return said + " (" + words.WithUnit(working.FormatNumber(factor*x, leastDecimals(factor*size)), plain) + ")"
}

// leastDecimals returns the decimals that show a standard error of a size with two digits, and no more.
func leastDecimals(size float64) int {
	if !(size > 0) {
		return 0
	}
	return min(max(0, 1-int(math.Floor(math.Log10(size)))), working.DefaultDecimals)
}

// correlationWords reads a correlation (J. Cohen, Statistical Power Analysis, 2nd ed., 3.2).
func correlationWords(r float64) string {
	switch r = math.Abs(r); {
	case r < 0.1:
		return "less than small"
	case r < 0.3:
		return "small"
	case r < 0.5:
		return "medium"
	}
	return "large"
}

// stepOf names one step of a variable: its unit, or “unit” where it has none.
func stepOf(unit string) string {
	if unit == "" {
		return "unit"
	}
	return unit
}

// per writes the unit of a slope: "L/min", "L/(m/s)".
func per(over, under string) string {
	if strings.ContainsAny(under, "/·") {
		under = "(" + under + ")"
	}
	switch {
	case under == "":
		return over
	case over == "":
		return "per " + under
	}
	return over + "/" + under
}

// shortest writes a number as it was given, with a unit.
func shortest(x float64, unit string) string { return words.WithUnit(working.FormatShortest(x), unit) }

// observed writes the value of a case as it was given, with a unit, and with no more decimals than
// single values are shown with.
func observed(x float64, unit string) string {
	if math.Abs(x) >= 1e-4 && data.Decimals(x) > data.MaxDecimals {
		return words.WithUnit(working.FormatNumber(x, data.MaxDecimals), unit)
	}
	return shortest(x, unit)
}
