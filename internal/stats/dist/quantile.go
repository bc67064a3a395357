package dist

import "math"

// positiveQuantile returns the x > 0 with lower tail p and upper tail q = 1 − p; of
// the two the smaller is the exact one. start is where the search begins.
//
// ln(tail) is solved for ln x by Newton's method, kept inside a bracket: on the far
// side of the tail it is nearly a straight line.
func positiveQuantile(d Distribution, p, q, start float64) float64 {
	switch {
	case !(p >= 0 && p <= 1 && q >= 0 && q <= 1):
		return math.NaN()
	case p == 0:
		return 0
	case q == 0:
		return math.Inf(1)
	}
	// What is missed grows with ln x, whichever tail is solved for; slope is how fast.
	lower := p <= q
	at := func(x float64) (miss, slope float64) {
		density := x * d.Density(x)
		if lower {
			tail := d.Lower(x)
			return math.Log(tail) - math.Log(p), density / tail
		}
		tail := d.Upper(x)
		return math.Log(q) - math.Log(tail), density / tail
	}
	miss := func(u float64) (miss, slope float64) { return at(math.Exp(u)) }
	u := math.Log(start)
	if math.IsNaN(u) {
		return math.NaN()
	}
	low, high := math.Inf(-1), math.Inf(1)
	const end = 709 // e^709 is the largest power that a double holds
	for step := 0.5; math.IsInf(low, -1) || math.IsInf(high, 1); step *= 2 {
		m, _ := miss(u)
		switch {
		case m == 0:
			return math.Exp(u)
		case m > 0 || math.IsNaN(m):
			high = u
			if u < -end-40 {
				return 0
			}
			if math.IsInf(low, -1) {
				u = math.Max(u-step, -end-41)
			}
		default:
			low = u
			if u >= end {
				return math.Inf(1)
			}
			if math.IsInf(high, 1) {
				u = math.Min(u+step, end)
			}
		}
	}
	u = (low + high) / 2
	for range 200 {
		m, slope := miss(u)
		if m > 0 {
			high = u
		} else {
			low = u
		}
		next := u - m/slope
		if !(next > low && next < high) {
			next = (low + high) / 2
		}
		done := math.Abs(next-u) <= 1e-10*math.Max(1, math.Abs(u))
		u = next
		if done {
			break
		}
	}
	// The last digits of x are lost in ln x: they come from a step in x itself.
	x := math.Exp(u)
	m, slope := at(x)
	if step := x * m / slope; math.Abs(step) < 1e-6*x {
		x -= step
	}
	return x
}
