package stats

import "math"

// lanes is how many sums of a group are kept side by side: a case need not wait for the sum
// of the one before it.
const lanes = 4

// partial is what a lane knows of a group, of values less the group's shift.
type partial struct {
	n            int
	sum, squares float64
}

// total is the sum of what all lanes knew, each as an unevaluated sum of two doubles.
type total struct {
	n                   int
	sum, sumLow         float64
	squares, squaresLow float64
}

// GroupMoments returns the moments of k groups; group holds the number of each value's
// group, from 0. It goes through the values once: each is taken less its group's first
// value, which for a large offset is exact, and sums of some hundred are added up in twice
// the precision. Where a group lies far from its first value, measured by its spread, and
// where squares overflow or vanish, they are taken again from its mean. A group without
// values has NaN for mean and SD.
func GroupMoments(values []float64, group []int, k int) []Moments {
	shift := firstOfEach(values, group, k)
	totals := sumGroups(values, group, shift)
	out := make([]Moments, k)
	again := false
	for g := range out {
		t := &totals[g]
		out[g] = t.moments(shift[g])
		if m := out[g].Mean; t.far() && !math.IsInf(m, 0) && !math.IsNaN(m) {
			shift[g], again = m, true
		}
	}
	if again {
		totals = sumGroups(values, group, shift)
		for g := range out {
			out[g] = totals[g].moments(shift[g])
		}
	}
	for g := range out {
		if !totals[g].sound() {
			var own []float64
			for i, x := range values {
				if group[i] == g {
					own = append(own, x)
				}
			}
			out[g] = NewMoments(own)
		}
	}
	return out
}

// firstOfEach returns the first value of each group.
func firstOfEach(values []float64, group []int, k int) []float64 {
	first, seen, found := make([]float64, k), make([]bool, k), 0
	for i, g := range group {
		if !seen[g] {
			seen[g], first[g] = true, values[i]
			if found++; found == k {
				break
			}
		}
	}
	return first
}

// sumGroups adds up the values of each group less its shift, and their squares.
func sumGroups(values []float64, group []int, shift []float64) []total {
	k := len(shift)
	totals := make([]total, k)
	space := make([]partial, lanes*k)
	lane := [lanes][]partial{}
	for j := range lane {
		lane[j] = space[j*k : (j+1)*k]
	}
	chunk := lanes * max(256, 4*k) // so that adding up the lanes costs little
	add := func(to []partial, x float64, g int) {
		d := x - shift[g]
		p := &to[g]
		p.n++
		p.sum += d
		p.squares += d * d
	}
	for len(values) > 0 {
		size := min(chunk, len(values))
		v, of := values[:size], group[:size]
		for len(v) >= lanes && len(of) >= lanes {
			add(lane[0], v[0], of[0])
			add(lane[1], v[1], of[1])
			add(lane[2], v[2], of[2])
			add(lane[3], v[3], of[3])
			v, of = v[lanes:], of[lanes:]
		}
		for i, x := range v {
			add(lane[0], x, of[i])
		}
		for i, p := range space {
			totals[i%k].take(p)
		}
		clear(space)
		values, group = values[size:], group[size:]
	}
	return totals
}

func (t *total) take(p partial) {
	t.n += p.n
	sum, low := twoSum(t.sum, p.sum)
	t.sum, t.sumLow = sum, t.sumLow+low
	sum, low = twoSum(t.squares, p.squares)
	t.squares, t.squaresLow = sum, t.squaresLow+low
}

// moments returns those of the values, which were taken less shift.
func (t *total) moments(shift float64) Moments {
	m := Moments{N: t.n, Mean: math.NaN(), SD: math.NaN()}
	if t.n == 0 {
		return m
	}
	high, low := divide(t.sum, t.sumLow, float64(t.n))
	mean, rest := twoSum(shift, high)
	m.Mean, m.meanLow = twoSum(mean, rest+low)
	if t.n > 1 {
		m.SD = math.Sqrt(math.Max(0, t.about()) / float64(t.n-1))
	}
	return m
}

// about returns the sum of squares about the mean.
func (t *total) about() float64 {
	return t.squares + (t.squaresLow - t.sum/float64(t.n)*t.sum)
}

// far reports whether the mean lies so far from the shift that the squares about it have
// lost digits.
func (t *total) far() bool { return t.n > 1 && t.squares > 0 && t.about() < 0.01*t.squares }

// sound reports whether no square overflowed or vanished. Squares that are all 0 may be those
// of tiny numbers.
func (t *total) sound() bool {
	const least, most = 1e-200, 1e280
	return t.n == 0 || t.squares >= least && t.squares <= most || t.squares == 0 && t.sum == 0 && t.n == 1
}
