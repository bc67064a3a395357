package procedure

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/working"
)

// scaleOption sets the scale on which a fit takes its response.
var scaleOption = Option{ID: "response_scale", Label: "Response", Type: ChoiceOption, Default: "linear", Live: true, Key: "l",
	Says: "The scale on which the response is fitted: as it was measured, or its natural logarithm, on which equal steps are equal ratios.",
	Choices: []Choice{
		{Value: "linear", Label: "as measured"},
		{Value: "log", Label: "logarithm", Says: "For a response that grows by a factor, or whose spread grows with it; what is found is read back in its own unit."}}}

// logResponse is a response that is fitted on the scale of its natural logarithm, where it is.
type logResponse struct {
	on  bool
	own data.Heading // as it was measured
}

// logDecimals is to how many places logarithms are shown.
const logDecimals = 4

// newLogResponse returns the response on the scale that the option asks for, with its heading
// there. Rows are those of the cases, from 0.
func newLogResponse(options Options, own data.Heading, values []float64, rows []int) (logResponse, []float64, data.Heading, error) {
	l := logResponse{on: options[scaleOption.ID] == "log", own: own}
	if !l.on {
		return l, values, own, nil
	}
	logs := make([]float64, len(values))
	for i, y := range values {
		if y <= 0 {
			return l, nil, own, problem.Errors{{Pointer: "/options/" + scaleOption.ID,
				Says:    fmt.Sprintf("only numbers above 0 have a logarithm, and “%s” of case %d is %s", problem.Shorten(own.Label), rows[i]+1, working.FormatShortest(y)),
				Instead: "take the response as measured (linear), or leave the case out"}}
		}
		logs[i] = math.Log(y)
	}
	return l, logs, data.Heading{Label: "Log " + inSentence(own.Label)}, nil
}

// series returns the response as it stands in formulas: as it was entered, or its logarithm,
// which is calculated.
func (l logResponse) series(s *location, decimals int) formula.Column {
	if l.on {
		return s.Calculated("cases/*/observed", "y_{i}", decimals)
	}
	return s.Series("cases/*/observed", "y_{i}", decimals)
}

// cell returns a value of the response as a cell.
func (l logResponse) cell(s *location, y float64, decimals int) working.Cell {
	if l.on {
		return s.number(y, decimals)
	}
	return entered(y, decimals)
}

// control offers the other scale, where the response, as measured, has one.
func (l logResponse) control(s *location, measured []float64) {
	if slices.Min(measured) > 0 {
		value := "linear"
		if l.on {
			value = "log"
		}
		s.Control(scaleOption.control(value))
	}
}

// ways offers a fit of the logarithm beside the present one, where there is one.
func (l logResponse) ways(measured []float64) []working.Action {
	if l.on || slices.Min(measured) <= 0 {
		return nil
	}
	return []working.Action{{ID: "log-response", Label: "Fit the logarithm of " + inSentence(l.own.Label), Compare: true,
		Says: "On this scale a growing spread often becomes even, and growth by a factor a straight line.",
		Set:  []problem.Set{{Pointer: "/options/" + scaleOption.ID, Value: "log"}}}}
}

// says tells in the step on the data what the scale means; nothing where the response is as
// measured.
func (l logResponse) says() []working.Block {
	if !l.on {
		return nil
	}
	name := inSentence(l.own.Label)
	return []working.Block{working.Say("The response is the natural logarithm of *%s*: equal steps of log %s are equal ratios of %s. What is found is read back in %s at the end.", name, name, name, l.unitWords())}
}

// unitWords names what the response was measured in.
func (l logResponse) unitWords() string {
	if l.own.Unit == "" {
		return "its own unit"
	}
	return l.own.Unit
}

// factor defines e to a slope, with the ends of its interval: what the response is multiplied
// by for one more of the predictor.
func (l logResponse) factor(s *location, slope working.Ref, step string) {
	define := func(id, of working.Ref, symbol, label, says string) {
		if x := s.Value(of); !math.IsNaN(x) {
			s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: says}, working.Ratio, math.Exp(x), formula.Exp{X: formula.Ref(of)})
		}
	}
	define("factor", slope, `\text{factor}`, "Factor for one "+step, fmt.Sprintf("What %s is multiplied by for one %s more.", inSentence(l.own.Label), step))
	if s.p.Tail != problem.Left {
		define("factor_low", "ci_low", `\text{lower factor}`, "Lower end of the factor", "Of the interval of the slope, as a factor.")
	}
	if s.p.Tail != problem.Right {
		define("factor_high", "ci_high", `\text{upper factor}`, "Upper end of the factor", "Of the interval of the slope, as a factor.")
	}
}

// factors reads the coefficients of a fit back as factors, each with its interval.
func (l logResponse) factors(s *location, coefficients *working.Table) {
	t := &working.Table{ID: "factors", Title: "What " + inSentence(l.own.Label) + " is multiplied by for one more", Key: []string{"predictor"}, Columns: []working.Column{
		{ID: "predictor", Label: "term"}, {ID: "factor", Label: "factor", Numeric: true, Formula: "e^{@{coefficient}}"}, {ID: "factor_low", Label: "from", Numeric: true, Formula: "e^{@{ci_low}}"}, {ID: "factor_high", Label: "to", Numeric: true, Formula: "e^{@{ci_high}}"},
		{ID: "change", Label: "which is"},
		{ID: "coefficient", Label: "coefficient", Symbol: "b", Numeric: true, Hidden: true}, {ID: "ci_low", Label: "from", Symbol: `\text{lower}`, Numeric: true, Hidden: true}, {ID: "ci_high", Label: "to", Symbol: `\text{upper}`, Numeric: true, Hidden: true}}}
	at := func(row working.Row, id string) working.Cell {
		return row[slices.IndexFunc(coefficients.Columns, func(c working.Column) bool { return c.ID == id })]
	}
	rows := make([]working.Row, coefficients.Total-1) // the intercept is no factor
	for i := range rows {
		from := coefficients.Row(i + 1)
		row := working.Row{from[0]}
		logs := []working.Cell{at(from, "coefficient"), at(from, "ci_low"), at(from, "ci_high")}
		for _, cell := range logs {
			row = append(row, s.numberOrNone(math.Exp(float64(cell.Value.(working.Number))), logDecimals))
		}
		row = append(row, nameCell(percentOfFactor(float64(row[1].Value.(working.Number)))))
		rows[i] = append(row, logs...)
	}
	t.SetRows(rows)
	s.Table(t)
}

// percentOfFactor says a factor as a change: “2.3 % more”.
func percentOfFactor(factor float64) string {
	if factor < 1 {
		return working.FormatNumber(100*(1-factor), 1) + "\u00a0% less"
	}
	return working.FormatNumber(100*(factor-1), 1) + "\u00a0% more"
}

// predictions reads a table of predictions back in the unit of the response. Each cell opens
// with the logarithm of which it is the antilogarithm.
func (l logResponse) predictions(s *location, logs *working.Table, decimals int) {
	back := &working.Table{ID: "predictions_measured", Title: "Predictions in " + l.unitWords(), Key: logs.Key, Columns: logs.Columns[:1:1]}
	var hidden []working.Column
	for _, c := range logs.Columns[1:6] {
		label := strings.Replace(c.Label, "mean", "median", 1)
		if c.ID == "fitted" {
			label = "median"
		}
		back.Columns = append(back.Columns, working.Column{ID: c.ID, Label: label, Unit: l.own.Unit, Numeric: true, Formula: "e^{@{log_" + c.ID + "}}"})
		hidden = append(hidden, working.Column{ID: "log_" + c.ID, Label: c.Label, Symbol: c.Symbol, Numeric: true, Hidden: true})
	}
	back.Columns = append(back.Columns, hidden...)
	rows := make([]working.Row, logs.Total)
	for i := range rows {
		row := logs.Row(i)[:6]
		rows[i] = working.Row{row[0]}
		for _, cell := range row[1:] {
			rows[i] = append(rows[i], s.number(math.Exp(float64(cell.Value.(working.Number))), decimals+1))
		}
		rows[i] = append(rows[i], row[1:]...)
	}
	back.SetRows(rows)
	s.Table(back)
}

// medianWarning says what a prediction that is read back is.
func (l logResponse) medianWarning() working.Block {
	return working.Warn("e to a mean of logarithms is the median of %s, not its mean: half of such cases lie above it, and half below.", inSentence(l.own.Label))
}

// derived offers to keep fitted values and residuals as variables; terms are what is
// multiplied by the coefficients after the intercept, as formulas. Fitted values are in the
// unit of the response, residuals on the scale of the fit.
func (l logResponse) derived(response *data.Variable, coefficients []float64, terms []string) working.DeriveBlock {
	write := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	fitted := write(coefficients[0])
	for i, term := range terms {
		fitted += fmt.Sprintf(" + (%s) * %s", write(coefficients[i+1]), term)
	}
	columns := []working.Derived{
		{Name: "fitted " + response.Name, Unit: response.Unit, Formula: fitted},
		{Name: "residual " + response.Name, Unit: response.Unit, Formula: response.Name + " - (" + fitted + ")"}}
	if l.on {
		columns = []working.Derived{
			{Name: "fitted " + response.Name, Unit: response.Unit, Formula: "exp(" + fitted + ")"},
			{Name: "residual log " + response.Name, Formula: "log(" + response.Name + ") - (" + fitted + ")"}}
	}
	return working.DeriveBlock{Label: "Keep fitted values and residuals as variables", Columns: columns}
}
