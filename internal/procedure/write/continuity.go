package write

import (
	"math"
	"slices"

	"grund/internal/formula"
	"grund/internal/procedure/describe"
	"grund/internal/stats"
	"grund/internal/working"
)

// ContinuityOption binds whether a correction for continuity is asked for.
func ContinuityOption(to *bool) describe.Option {
	return describe.Boolean(to, false, describe.Option{
		ID: "continuity", Label: "Continuity correction", Live: true, Key: "c",
		Says: "Counts go in steps and the normal curve does not; half a step nearer to H₀ makes the approximation a little more careful.",
	})
}

// ContinuityControl offers the correction under the curve.
func (s *Sheet) ContinuityControl(d *describe.Description, on bool) {
	control := OptionControl(d.Option("continuity"), "")
	control.Value = on
	control.Choices = []working.Choice{
		{Value: false, Label: "off", Says: "as the formula stands"}, {Value: true, Label: "on", Says: "half a case nearer to H₀ (Yates)"},
	}
	s.Control(control)
}

// Continuity returns the correction that the tail takes, where one is asked for.
func (d *Direction) Continuity(on bool) stats.Continuity {
	switch {
	case !on:
		return stats.NoCorrection
	case !d.Directed():
		return stats.TwoTails
	case d.Below():
		return stats.LeftTail
	}
	return stats.RightTail
}

// A Correction is what a correction for continuity takes off a distance from H₀.
type Correction struct {
	Continuity stats.Continuity
	Distance   float64
	Half       float64 // half a step of the statistic
	// Expr and HalfExpr are the two as formulas.
	Expr, HalfExpr formula.Expr
	Says           string // what it is, for two tails
}

// Correct defines the correction for continuity and returns the distance with it taken off.
func (s *Sheet) Correct(c Correction) formula.Expr {
	size, expr := c.Half, c.HalfExpr
	if c.Continuity == stats.TwoTails {
		c.Says += "; never more than the distance itself"
		if c.Half > math.Abs(c.Distance) {
			size, expr = math.Abs(c.Distance), formula.Abs{X: c.Expr}
		}
	}
	s.Define(working.Quantity{ID: "correction", Symbol: "c", Label: "Continuity correction", Says: c.Says + "."}, working.Ratio, size, expr)
	terms, ok := c.Expr.(formula.Sum)
	if !ok {
		terms = formula.Sum{c.Expr}
	}
	taken := formula.Expr(formula.Ref("correction"))
	if c.Continuity == stats.RightTail || c.Continuity == stats.TwoTails && c.Distance >= 0 {
		taken = formula.Minus{X: taken}
	}
	return append(slices.Clone(terms), taken)
}

// CorrectionSays says where the correction goes. half is what half a step is.
func CorrectionSays(continuity stats.Continuity, half string) working.Block {
	switch continuity {
	case stats.LeftTail:
		return working.Note("The continuity correction adds %s, @{correction}: “so many or fewer” ends half a step above the last of them, "+
			"wherever it lies.", half)
	case stats.RightTail:
		return working.Note("The continuity correction takes %s off, @{correction}: “so many or more” begins half a step below the "+
			"first of them, wherever it lies.", half)
	}
	return working.Note("The continuity correction takes the distance nearer to 0 by %s: @{correction}.", half)
}
