package working

import (
	"math"
	"slices"

	"grund/internal/formula"
)

// An Again gives formulas some quantities with other values than those of the solution. What is made from them is
// calculated anew; everything else stays as it is.
type Again struct {
	w     *Working
	other map[Ref]float64
	known map[string]float64
	rests map[string]bool // whether a quantity is made from another value
}

// With returns the solution's quantities where some have other values.
func (w *Working) With(other map[Ref]float64) *Again {
	return &Again{w, other, map[string]float64{}, map[string]bool{}}
}

// Value returns the quantity's value, made from the other ones.
func (a *Again) Value(id string) float64 {
	if x, ok := a.other[Ref(id)]; ok {
		return x
	}
	if x, ok := a.known[id]; ok {
		return x
	}
	x := evalEnv{a.w}.Value(id)
	if expr := a.w.exprs[Ref(id)]; expr != nil && a.touches(id) {
		x = expr.Eval(a)
	}
	a.known[id] = x
	return x
}

// touches reports whether anything that the quantity is made from has another value.
func (a *Again) touches(id string) bool {
	if rests, known := a.rests[id]; known {
		return rests
	}
	rests := false
	if q := a.w.byID[Ref(id)]; q != nil && q.Formula != nil {
		rests = slices.ContainsFunc(q.Formula.Inputs, func(input string) bool {
			_, ok := a.other[Ref(input)]
			return ok || a.touches(input)
		})
	}
	a.rests[id] = rests
	return rests
}

// Made returns what the quantity's formula gives from the other values, and whether any of them is in it. The value
// that the quantity itself was given is not taken.
func (a *Again) Made(id Ref) (value float64, ok bool) {
	expr := a.w.exprs[id]
	if expr == nil || !a.touches(string(id)) {
		return math.NaN(), false
	}
	return expr.Eval(a), true
}

// Column returns a column's cells.
func (a *Again) Column(ref string) []float64 { return a.w.columns[ref] }

// Expr returns the quantity's formula, nil where it has none.
func (w *Working) Expr(id Ref) formula.Expr { return w.exprs[id] }

// MadeFromShown returns what the quantity's formula gives with the numbers as they are shown, NaN without a formula.
func (w *Working) MadeFromShown(id Ref) float64 {
	if expr := w.exprs[id]; expr != nil {
		return expr.Eval(shownEnv{w})
	}
	return math.NaN()
}
