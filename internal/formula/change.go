package formula

// Changed returns the forms of x in which one part of it is another: for each part, x itself included, for which
// change returns a part to take in its place, and not nil.
func Changed(x Expr, change func(part Expr) Expr) []Expr {
	var out []Expr
	if other := change(x); other != nil {
		out = append(out, other)
	}
	within := func(part Expr, around func(other Expr) Expr) {
		for _, other := range Changed(part, change) {
			out = append(out, around(other))
		}
	}
	list := func(parts []Expr, around func(parts []Expr) Expr) {
		for i, part := range parts {
			within(part, func(other Expr) Expr {
				parts := append([]Expr(nil), parts...)
				parts[i] = other
				return around(parts)
			})
		}
	}
	switch x := x.(type) {
	case Sum:
		list(x, func(parts []Expr) Expr { return Sum(parts) })
	case Product:
		list(x, func(parts []Expr) Expr { return Product(parts) })
	case Minus:
		within(x.X, func(other Expr) Expr { return Minus{other} })
	case Quotient:
		within(x.Over, func(other Expr) Expr { return Quotient{other, x.Under} })
		within(x.Under, func(other Expr) Expr { return Quotient{x.Over, other} })
	case Power:
		within(x.Base, func(other Expr) Expr { return Power{other, x.Exponent} })
	case Root:
		within(x.X, func(other Expr) Expr { return Root{other} })
	case Abs:
		within(x.X, func(other Expr) Expr { return Abs{other} })
	case Floor:
		within(x.X, func(other Expr) Expr { return Floor{other} })
	case Exp:
		within(x.X, func(other Expr) Expr { return Exp{other} })
	case Log:
		within(x.X, func(other Expr) Expr { return Log{other} })
	case Tail:
		within(x.X, func(other Expr) Expr { return Tail{x.Of, other, x.Lower} })
	case Quantile:
		within(x.Area, func(other Expr) Expr { return Quantile{x.Of, other, x.Lower} })
	}
	return out
}
