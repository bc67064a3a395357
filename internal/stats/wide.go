package stats

import "math"

// wide is a number of about 32 digits, the unevaluated sum of two doubles (T. J. Dekker,
// Numer. Math. 18, 1971; products by the fused multiply-add).
type wide struct{ high, low float64 }

func widen(x float64) wide { return wide{x, 0} }

// apart returns a − b without loss.
func apart(a, b float64) wide {
	high, low := twoSum(a, -b)
	return wide{high, low}
}

func (a wide) float() float64 { return a.high + a.low }

func (a wide) neg() wide { return wide{-a.high, -a.low} }

func (a wide) add(b wide) wide {
	high, low := twoSum(a.high, b.high)
	return quick(high, low+(a.low+b.low))
}

func (a wide) sub(b wide) wide { return a.add(b.neg()) }

func (a wide) mul(b wide) wide {
	high := a.high * b.high
	return quick(high, math.FMA(a.high, b.high, -high)+(a.high*b.low+a.low*b.high))
}

func (a wide) div(b wide) wide {
	q := a.high / b.high
	rest := a.sub(b.mul(widen(q)))
	return quick(q, rest.float()/b.high)
}

// sqrt returns the root of a ≥ 0, by one step of Newton's method.
func (a wide) sqrt() wide {
	if a.high <= 0 {
		return wide{}
	}
	root := math.Sqrt(a.high)
	rest := a.sub(widen(root).mul(widen(root)))
	return quick(root, rest.float()/(2*root))
}

// quick normalizes a sum whose first part is the larger.
func quick(high, low float64) wide {
	sum := high + low
	return wide{sum, low - (sum - high)}
}
