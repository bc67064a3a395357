// Package formula holds the formulas of worked solutions as expressions. One
// expression prints itself in symbols, prints itself with a problem's numbers,
// lists its inputs and evaluates, so that the four cannot disagree.
//
// Printed forms are TeX in which each input stands as @{id}, or as @({id}) where
// a negative number would need brackets. Resolve fills them in.
package formula

import (
	"math"

	"grund/internal/stats/dist"
)

// An Expr is a formula. The package's own types are the only ones.
type Expr interface {
	// Eval computes the formula from its inputs.
	Eval(Env) float64
	print(p *printer)
	// binding is how tightly the printed form holds together.
	binding() int
}

// Env supplies the values of a formula's inputs.
type Env interface {
	Value(id string) float64
	// Column returns the cells of a table's column, by the reference of the column.
	Column(ref string) []float64
}

const (
	sumBinding = iota
	productBinding
	powerBinding
	atomBinding
)

type (
	// Ref is another quantity of the solution, by id.
	Ref string
	// Num is a constant of the formula itself, such as the 1 in n − 1.
	Num float64
	// Sum is the sum of its terms; a Minus term is subtracted.
	Sum []Expr
	// Minus is the negative of X.
	Minus struct{ X Expr }
	// Product is the product of its factors.
	Product []Expr
	// Quotient is Over divided by Under.
	Quotient struct{ Over, Under Expr }
	// Power is Base raised to a whole exponent.
	Power struct {
		Base     Expr
		Exponent int
	}
	// Root is the square root of X.
	Root struct{ X Expr }
	// Abs is the absolute value of X.
	Abs struct{ X Expr }
	// Floor is X rounded down to a whole number.
	Floor struct{ X Expr }
	// Exp is e to the power of X.
	Exp struct{ X Expr }
	// Log is the natural logarithm of X.
	Log struct{ X Expr }
	// Tanh is the hyperbolic tangent of X, Artanh what it is the tangent of.
	Tanh   struct{ X Expr }
	Artanh struct{ X Expr }
	// NotBelow is X, but at least Least.
	NotBelow struct {
		X     Expr
		Least float64
	}
	// Total is the sum over a column's cells.
	Total struct{ Column Column }
	// Deviations is the sum over a column's cells of a power of their distance
	// from Centre.
	Deviations struct {
		Column Column
		Centre Ref
		Power  int
	}
	// Count is the number of a column's cells.
	Count struct{ Column Column }
	// Tail is the area of Of at or beyond X: P(X ≥ x), or P(X ≤ x) when Lower.
	Tail struct {
		Of    Family
		X     Expr
		Lower bool
	}
	// Quantile is the value of Of that has the area Area above it, or below it
	// when Lower.
	Quantile struct {
		Of    Family
		Area  Expr
		Lower bool
	}
)

// A Column is the column of a table that a formula sums over.
type Column struct {
	Ref    string   // "cases/1|*/value"
	Symbol string   // of one cell, in TeX: x_i
	First  []string // the first few cells as they are displayed, for the form with numbers
	Last   string   // the last cell, when First does not hold them all
}

// A Family is a distribution whose degrees of freedom are quantities.
type Family struct {
	Symbol  string // the random variable and the quantile's letter, in TeX: T, t
	Degrees []Ref
	New     func(degrees []float64) dist.Distribution
}

// leastDegrees and mostDegrees are how many degrees of freedom there can be: farther than any data go, and not too far to
// calculate with.
const (
	leastDegrees = 0.01
	mostDegrees  = 1e9
)

// at returns the distribution; none where its degrees of freedom are not such a number, as a person's own may be.
func (f Family) at(env Env) (d dist.Distribution, ok bool) {
	degrees := make([]float64, len(f.Degrees))
	for i, ref := range f.Degrees {
		degrees[i] = env.Value(string(ref))
		if !(degrees[i] >= leastDegrees && degrees[i] <= mostDegrees) {
			return nil, false
		}
	}
	return f.New(degrees), true
}

// Subtract returns a − b − … .
func Subtract(a Expr, others ...Expr) Sum {
	sum := Sum{a}
	for _, other := range others {
		sum = append(sum, Minus{other})
	}
	return sum
}

// Square returns x².
func Square(x Expr) Power { return Power{x, 2} }

func (r Ref) Eval(env Env) float64 { return env.Value(string(r)) }
func (n Num) Eval(Env) float64     { return float64(n) }

func (s Sum) Eval(env Env) float64 {
	sum := 0.0
	for _, term := range s {
		sum += term.Eval(env)
	}
	return sum
}

func (m Minus) Eval(env Env) float64 { return -m.X.Eval(env) }

func (p Product) Eval(env Env) float64 {
	product := 1.0
	for _, factor := range p {
		product *= factor.Eval(env)
	}
	return product
}

func (q Quotient) Eval(env Env) float64 { return q.Over.Eval(env) / q.Under.Eval(env) }
func (p Power) Eval(env Env) float64    { return math.Pow(p.Base.Eval(env), float64(p.Exponent)) }
func (r Root) Eval(env Env) float64     { return math.Sqrt(r.X.Eval(env)) }
func (a Abs) Eval(env Env) float64      { return math.Abs(a.X.Eval(env)) }

func (e Exp) Eval(env Env) float64    { return math.Exp(e.X.Eval(env)) }
func (l Log) Eval(env Env) float64    { return math.Log(l.X.Eval(env)) }
func (t Tanh) Eval(env Env) float64   { return math.Tanh(t.X.Eval(env)) }
func (a Artanh) Eval(env Env) float64 { return math.Atanh(a.X.Eval(env)) }

func (n NotBelow) Eval(env Env) float64 { return math.Max(n.Least, n.X.Eval(env)) }

func (f Floor) Eval(env Env) float64 { return math.Floor(f.X.Eval(env)) }

func (t Total) Eval(env Env) float64 {
	sum := 0.0
	for _, x := range env.Column(t.Column.Ref) {
		sum += x
	}
	return sum
}

func (s Deviations) Eval(env Env) float64 {
	centre, sum := s.Centre.Eval(env), 0.0
	for _, x := range env.Column(s.Column.Ref) {
		power := 1.0
		for range s.Power {
			power *= x - centre
		}
		sum += power
	}
	return sum
}

func (c Count) Eval(env Env) float64 { return float64(len(env.Column(c.Column.Ref))) }

func (t Tail) Eval(env Env) float64 {
	d, ok := t.Of.at(env)
	x := t.X.Eval(env)
	switch {
	case !ok || math.IsNaN(x):
		return math.NaN()
	case t.Lower:
		return d.Lower(x)
	}
	return d.Upper(x)
}

func (q Quantile) Eval(env Env) float64 {
	d, ok := q.Of.at(env)
	area := q.Area.Eval(env)
	switch {
	case !ok || !(area > 0 && area < 1):
		return math.NaN()
	case q.Lower:
		return d.LowerQuantile(area)
	}
	return d.UpperQuantile(area)
}

func (Ref) binding() int        { return atomBinding }
func (Num) binding() int        { return atomBinding }
func (Sum) binding() int        { return sumBinding }
func (Minus) binding() int      { return sumBinding }
func (Product) binding() int    { return productBinding }
func (Quotient) binding() int   { return productBinding }
func (Power) binding() int      { return powerBinding }
func (Root) binding() int       { return atomBinding }
func (Abs) binding() int        { return atomBinding }
func (Floor) binding() int      { return atomBinding }
func (NotBelow) binding() int   { return atomBinding }
func (Exp) binding() int        { return powerBinding }
func (Log) binding() int        { return atomBinding }
func (Tanh) binding() int       { return atomBinding }
func (Artanh) binding() int     { return atomBinding }
func (Total) binding() int      { return productBinding }
func (Deviations) binding() int { return productBinding }
func (Count) binding() int      { return atomBinding }
func (Tail) binding() int       { return atomBinding }
func (Quantile) binding() int   { return atomBinding }
