package dist

import "math"

// integrate returns ∫ f from a to b by the double-exponential rule of Takahasi and Mori
// (Publ. RIMS Kyoto 9, 1974), halving its step until two results agree to about 14
// digits. f may grow without bound at a, if it can be integrated.
func integrate(f func(x float64) float64, a, b float64) float64 {
	if !(b > a) {
		return 0
	}
	at := func(t float64) float64 {
		// share is how far x lies from the nearer end, as a share of the whole.
		share := 1 / (1 + math.Exp(math.Pi*math.Sinh(math.Abs(t))))
		x := a + (b-a)*share
		if t > 0 {
			x = b - (b-a)*share
		}
		y := f(x) * share * (1 - share) * math.Pi * math.Cosh(t) * (b - a)
		if math.IsNaN(y) || math.IsInf(y, 0) {
			return 0
		}
		return y
	}
	const reach = 6
	sum := at(0)
	for i := 1.0; i <= reach; i++ {
		sum += at(i) + at(-i)
	}
	before := math.Inf(1)
	for step := 0.5; step > 1e-3; step /= 2 {
		for t := step; t <= reach; t += 2 * step {
			sum += at(t) + at(-t)
		}
		now := sum * step
		if math.Abs(now-before) <= 1e-14*math.Abs(now) {
			return now
		}
		before = now
	}
	return before
}

// trapezoid returns ∫ f over the whole line for an f with one peak that falls off fast
// to both sides, by equal steps from start outwards. For such functions the error falls
// faster than any power of the step.
func trapezoid(f func(x float64) float64, start, step float64) float64 {
	return step * sumOutward(func(i int) float64 { return f(start + float64(i)*step) }, 0)
}

// sumOutward returns the sum of f over all whole numbers, for an f with one peak that falls off fast to
// both sides, from start outwards.
func sumOutward(f func(i int) float64, start int) float64 {
	sum := f(start)
	for _, direction := range []int{-1, 1} {
		last := sum
		for i := 1; i < 100_000; i++ {
			y := f(start + i*direction)
			sum += y
			if y <= last && y <= 1e-18*sum {
				break
			}
			last = y
		}
	}
	return sum
}
