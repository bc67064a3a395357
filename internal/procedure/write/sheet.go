// Package write holds what procedures share when they write a solution, step by step: how the
// question is put, how many cases there are and why others are left out, the hypotheses and the
// words that go with their direction, the conditions, the printed table, the decision, the
// interval, the sentence that answers the problem, and what is said of a claim.
//
// A procedure writes on a Sheet; one that estimates something with a standard error writes on
// an Estimate, which is a Sheet too. Its methods write a step each, in the order in which the
// solution is read, or define the quantities that a step shows.
package write

import (
	"cmp"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// A Sheet is the solution of a problem while it is written.
type Sheet struct {
	*working.Working
	P         *problem.Problem
	Direction Direction      // what the hypotheses say, and how H₁ looks
	Side      int            // of H₀ on which the sample lies: −1, 1, or 0 where there is none
	Unit      string         // of what is tested
	Parameter string         // what is tested: "mean", "difference"
	Family    formula.Family // of the statistic's distribution under H₀
	Instead   []working.Action

	test       string       // its name
	conclusion working.Text // once it is written
}

// Start begins the solution. test is what textbooks call the test, "" where there is none. So many
// cases were given, and so many of them are used.
func (s *Sheet) Start(d *describe.Description, test string, given, used int) {
	s.Working = working.New(s.P, d.Title, test, working.Cases{Given: given, Used: used, LeftOut: given - used})
	s.test = test
}

// SideOf returns on which side of 0 a distance lies: its sign.
func SideOf(distance float64) int { return cmp.Compare(distance, 0) }

// The families of the statistics' distributions.
var (
	T         = TOf("df")
	Z         = formula.Family{Symbol: "z", New: func([]float64) dist.Distribution { return dist.Normal{} }}
	ChiSquare = formula.Family{
		Symbol: `\chi^{2}`, Degrees: []formula.Ref{"df"}, New: func(d []float64) dist.Distribution { return dist.ChiSquare{DF: d[0]} },
	}
)

// TOf is the family of t with this quantity as its degrees of freedom.
func TOf(df formula.Ref) formula.Family {
	return formula.Family{Symbol: "t", Degrees: []formula.Ref{df}, New: func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
}

// F is the family of F with these quantities as its degrees of freedom.
func F(above, below formula.Ref) formula.Family {
	return formula.Family{
		Symbol: "F", Degrees: []formula.Ref{above, below}, New: func(d []float64) dist.Distribution { return dist.F{DF1: d[0], DF2: d[1]} },
	}
}

// reference returns the distribution of the statistic under H₀.
func (s *Sheet) reference() dist.Distribution {
	degrees := make([]float64, len(s.Family.Degrees))
	for i, ref := range s.Family.Degrees {
		degrees[i] = s.Value(working.Ref(ref))
	}
	return s.Family.New(degrees)
}

// AsksDecimals reports whether the problem says with how many decimals estimates are shown.
func (s *Sheet) AsksDecimals() bool {
	_, asked := s.P.Decimals.Of(problem.EstimateNumber)
	return asked
}

// WithUnit returns a quantity as shown, with its unit.
func (s *Sheet) WithUnit(id working.Ref) string { return s.Plain(working.Text{{Ref: id}}) }

// InUnit returns a number as it was given, with the unit of what is tested.
func (s *Sheet) InUnit(x float64) string { return words.WithUnit(working.FormatShortest(x), s.Unit) }

// InMeasure writes a number that was calculated in the unit of what is tested, with the unit.
func (s *Sheet) InMeasure(x float64) string { return words.WithUnit(s.ShowMeasure(x), s.Unit) }

// PWords writes a p-value that is no quantity of the solution: "p = 0.0514".
func (s *Sheet) PWords(p float64) string { return working.PWords(p, s.P.Alpha) }

// LiveOption offers an option of the procedure under the curve, with its present value.
func (s *Sheet) LiveOption(d *describe.Description, id, value string) {
	s.Control(OptionControl(d.Option(id), value))
}

// OptionControl returns an option as a live control with its present value.
func OptionControl(o *describe.Option, value string) working.Control {
	c := working.Control{
		ID: o.ID, Label: o.Label, Key: o.Key, Pointer: problem.Pointer("options", o.ID), Beside: working.BesideCurve, Value: value,
	}
	for _, choice := range o.Choices {
		c.Choices = append(c.Choices, working.Choice{Value: choice.Value, Label: choice.Label, Says: choice.Says})
	}
	return c
}

// Called returns the title of a variable, or its name where others in the data have that title
// too.
func (s *Sheet) Called(v *data.Variable) string {
	for _, other := range s.P.Data.Variables {
		if other != v && other.Title() == v.Title() {
			return v.Name
		}
	}
	return v.Title()
}

// VariableCell returns a variable as a cell, by its name and shown by its title.
func (s *Sheet) VariableCell(v *data.Variable) working.Cell {
	return working.Cell{Value: v.Name, Shown: s.Called(v)}
}

// Axis returns the ends of an axis that holds the values.
func Axis(values ...float64) (low, high working.Number) {
	from, to := working.Padded(0.05, values...)
	return working.Number(from), working.Number(to)
}

// By is the way to another procedure, shown beside this one.
func By(procedure, label, says string, set ...problem.Set) working.Action {
	return working.Action{ID: procedure, Label: label, Procedure: procedure, Compare: true, Says: says, Set: set}
}

// Without is the way to the solution without a case.
func Without(row int, id, says, reason string) working.Action {
	return working.Action{
		ID: id, Label: "Leave case " + working.CaseCell(row).Shown + " out and compare", Compare: true, Says: says,
		Set: []problem.Set{{Pointer: "/leave_out/-", Value: map[string]any{"case": row, "reason": reason}}},
	}
}

// Setting is the way to the same problem with another value of an option, shown beside this one.
func Setting(option, value, id, label, says string) working.Action {
	return working.Action{
		ID: id, Label: label, Compare: true, Says: says, Set: []problem.Set{{Pointer: problem.Pointer("options", option), Value: value}},
	}
}

// Squared returns the square of a unit, "" where there is none.
func Squared(unit string) string {
	if unit == "" {
		return ""
	}
	return unit + "²"
}
