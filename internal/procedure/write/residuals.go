package write

import (
	"fmt"
	"slices"
	"strconv"

	"grund/internal/procedure/cases"
	"grund/internal/working"
)

// Residuals are what is left of cases, against something.
type Residuals struct {
	ID, Title, Says string
	Axis            working.Axis // of what they lie against
	Unit            string       // of the residuals
	X, Y            []float64
	Rows            []int // of the cases, from 1
}

// ResidualFigure draws residuals as dots about a dashed line at 0.
func (s *Sheet) ResidualFigure(r Residuals) {
	f := &working.Figure{
		ID: r.ID, Form: working.Scatter, Title: r.Title, Says: r.Says, Axis: r.Axis, Up: &working.Axis{Label: "residual", Unit: r.Unit},
		Small: true,
	}
	left, right := working.Padded(0.05, r.X...)
	bottom, top := working.Padded(0.05, append(slices.Clone(r.Y), 0)...)
	f.Axis.Min, f.Axis.Max, f.Up.Min, f.Up.Max = working.Number(left), working.Number(right), working.Number(bottom), working.Number(top)
	f.Marks = []working.Mark{
		{Shape: working.Line, Role: working.Expected, X: working.Positions(left, right), Y: working.Positions(0, 0)},
		{Shape: working.Points, Role: working.Observed, X: working.Positions(r.X...), Y: working.Positions(r.Y...), Case: r.Rows},
	}
	s.Figure(f)
}

// mostDerived is up to how many groups their means are written into one formula.
const mostDerived = 20

// KeepResiduals offers to keep the mean of each case's group, and its distance from it, as variables; nil
// where there are no cases, or too many groups to write down.
func (s *Sheet) KeepResiduals(g *cases.Groups) []working.Block {
	if g.Summary || len(g.Each) > mostDerived {
		return nil
	}
	response, factor := s.P.Data.Variables.Find(s.P.Roles["response"][0]), s.P.Data.Variables.Find(s.P.Roles["group"][0])
	fitted := ""
	for i := range g.Each {
		if i == len(g.Each)-1 && cases.Used(factor) == len(g.Each) {
			fitted += Exactly(g.Each[i].Moments.Mean)
			break
		}
		fitted += fmt.Sprintf("%s == %q ? %s : ", factor.Name, g.Each[i].Code, Exactly(g.Each[i].Moments.Mean))
	}
	if cases.Used(factor) != len(g.Each) {
		fitted += "0 / 0" // a group that is not compared has none
	}
	name := response.Name
	return []working.Block{working.DeriveBlock{Label: "Keep group means and distances from them as variables", Columns: []working.Derived{
		{Name: "group mean of " + name, Unit: response.Unit, Formula: fitted},
		{Name: "residual " + name, Unit: response.Unit, Formula: name + " - (" + fitted + ")"},
	}}}
}

// Exactly writes a number with all its digits, as a formula takes it.
func Exactly(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
