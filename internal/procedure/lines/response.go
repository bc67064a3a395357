package lines

import (
	"fmt"
	"math"
	"slices"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

const (
	linear = "linear"
	log    = "log"
)

// scaleOption binds the scale on which a fit takes its response.
func scaleOption(to *string) describe.Option {
	return describe.OneOf(to, linear, describe.Option{
		ID: "response_scale", Label: "Response", Live: true, Key: "l",
		Says: "The scale on which the response is fitted: as it was measured, or its natural logarithm, on which equal steps are equal ratios.",
		Choices: []describe.Choice{
			{Value: linear, Label: "as measured"},
			{
				Value: log, Label: "logarithm",
				Says: "For a response that grows by a factor, or whose spread grows with it; what is found is read back in its own unit.",
			},
		},
	})
}

// A response is what is predicted, on the scale on which it is fitted.
type response struct {
	variable *data.Variable
	log      bool         // whether that is the natural logarithm
	own      data.Heading // as it was measured
	heading  data.Heading // on the scale of the fit
	measured []float64
	y        []float64 // on the scale of the fit
	decimals int       // with which it was entered, or logarithms are shown
}

// logDecimals is to how many places logarithms are shown.
const logDecimals = 4

// newResponse returns the response of the cases of the rows, from 0, on a scale.
func newResponse(v *data.Variable, rows []int, scale string) (*response, error) {
	own := data.Heading{Label: v.Title(), Unit: v.Unit}
	r := &response{variable: v, own: own, heading: own, measured: make([]float64, len(rows))}
	for k, i := range rows {
		r.measured[k] = v.Numbers[i]
	}
	r.y, r.decimals = r.measured, data.MostDecimals(r.measured)
	if scale != log {
		return r, nil
	}
	r.log, r.heading, r.decimals = true, data.Heading{Label: "Log " + words.InSentence(own.Label)}, logDecimals
	r.y = make([]float64, len(rows))
	for k, y := range r.measured {
		if y <= 0 {
			return nil, problem.Errors{{
				Pointer: "/options/response_scale", Instead: "take the response as measured (linear), or leave the case out",
				Says: fmt.Sprintf("only numbers above 0 have a logarithm, and “%s” of case %d is %s", words.Shorten(own.Label), rows[k]+1,
					working.FormatShortest(y)),
			}}
		}
		r.y[k] = math.Log(y)
	}
	return r, nil
}

// name names the response inside a sentence, and ownName as it was measured.
func (r *response) name() string    { return words.InSentence(r.heading.Label) }
func (r *response) ownName() string { return words.InSentence(r.own.Label) }

// series returns the response as it stands in formulas: as it was entered, or its logarithm,
// which is calculated.
func (r *response) series(s *write.Sheet) formula.Column {
	if r.log {
		return s.Calculated("cases/*/observed", "y_{i}", r.decimals)
	}
	return s.Series("cases/*/observed", "y_{i}", r.decimals)
}

// column is the column of the response in the table of cases.
func (r *response) column(s *write.Sheet) write.CaseColumn {
	return write.CaseColumn{
		Column: working.Column{ID: "observed", Label: "observed", Symbol: "y", Unit: r.heading.Unit, Numeric: true},
		Cell: func(i int) working.Cell {
			if r.log {
				return s.EstimateCell(r.y[i], r.decimals)
			}
			return working.EnteredCell(r.y[i], r.decimals)
		},
	}
}

// control offers the other scale, where the response, as measured, has one.
func (r *response) control(s *write.Sheet, d *describe.Description) {
	if slices.Min(r.measured) <= 0 {
		return
	}
	scale := linear
	if r.log {
		scale = log
	}
	s.LiveOption(d, "response_scale", scale)
}

// ways offers a fit of the logarithm beside the present one, where there is one.
func (r *response) ways() []working.Action {
	if r.log || slices.Min(r.measured) <= 0 {
		return nil
	}
	return []working.Action{write.Setting("response_scale", log, "log-response", "Fit the logarithm of "+r.ownName(),
		"On this scale a growing spread often becomes even, and growth by a factor a straight line.")}
}

// says tells in the step on the data what the scale means; nothing where the response is as
// measured.
func (r *response) says() []working.Block {
	if !r.log {
		return nil
	}
	name := r.ownName()
	return []working.Block{working.Say("The response is the natural logarithm of *%s*: equal steps of log %s are equal ratios of %s. "+
		"What is found is read back in %s at the end.", name, name, name, r.unitWords())}
}

// unitWords names what the response was measured in.
func (r *response) unitWords() string {
	if r.own.Unit == "" {
		return "its own unit"
	}
	return r.own.Unit
}

// percentOfFactor says a factor as a change: “2.3 % more”.
func percentOfFactor(factor float64) string {
	if factor < 1 {
		return working.FormatNumber(100*(1-factor), 1) + "\u00a0% less"
	}
	return working.FormatNumber(100*(factor-1), 1) + "\u00a0% more"
}

// medianWarning says what a prediction that is read back is.
func (r *response) medianWarning() working.Block {
	return working.Warn("e to a mean of logarithms is the median of %s, not its mean: half of such cases lie above it, and half below.",
		r.ownName())
}

// derived offers to keep fitted values and residuals as variables; terms are what is multiplied
// by the coefficients after the intercept, as formulas. Fitted values are in the unit of the
// response, residuals on the scale of the fit.
func (r *response) derived(coefficients []float64, terms []string) working.DeriveBlock {
	fitted := write.Exactly(coefficients[0])
	for i, term := range terms {
		fitted += fmt.Sprintf(" + (%s) * %s", write.Exactly(coefficients[i+1]), term)
	}
	name, unit := r.variable.Name, r.variable.Unit
	columns := []working.Derived{
		{Name: "fitted " + name, Unit: unit, Formula: fitted}, {Name: "residual " + name, Unit: unit, Formula: name + " - (" + fitted + ")"},
	}
	if r.log {
		columns = []working.Derived{
			{Name: "fitted " + name, Unit: unit, Formula: "exp(" + fitted + ")"},
			{Name: "residual log " + name, Formula: "log(" + name + ") - (" + fitted + ")"},
		}
	}
	return working.DeriveBlock{Label: "Keep fitted values and residuals as variables", Columns: columns}
}

// ordinary reports whether a sum of squares is neither so large nor so small that digits are
// lost.
func ordinary(squares float64) bool { return squares > 1e-280 && squares < 1e280 }

// fittedValues returns what a fit gives each case.
func fittedValues(each []stats.Fitted) []float64 {
	fitted := make([]float64, len(each))
	for i, c := range each {
		fitted[i] = c.Value
	}
	return fitted
}
