package dist

import (
	"math"
	"sort"
)

// Exact is the exact null distribution of a statistic that is a sum of ranks, given
// the ties there are: every way to deal the ranks out is as likely as another. The ways
// are counted one rank at a time. Measured against counts in whole numbers of any size
// (internal/procedure/testdata/ranks.py): relative error below 1e-12.
type Exact struct {
	least, step        float64 // the statistic takes least, least + step, …
	mass, below, above []float64
}

var _ Distribution = (*Exact)(nil)

// maxSteps bounds the additions that an exact distribution may take, about a second.
const maxSteps = 4e8

// maxStates bounds the pairs of a rank and a number of draws, before the additions are
// as much as counted.
const maxStates = 5e6

// NewRankSum returns the distribution of the sum of n1 of the ranks, drawn without
// replacement (F. Wilcoxon, Biometrics 1, 1945; with ties their midranks), shifted by
// −n1(n1+1)/2 to Mann and Whitney's U. The counts are summed up rank by rank. It is
// nil where that would take too long.
func NewRankSum(ranks []float64, n1 int) *Exact {
	units, step := inUnits(ranks)
	sort.Ints(units)
	n := len(units)
	if n1*(n-n1) > maxStates {
		return nil
	}
	sums := make([]int, n+1) // of the first ranks
	for i, r := range units {
		sums[i+1] = sums[i] + r
	}
	// each calls do for every number of draws j that rank i can be the last of, with
	// the least and the greatest sum that there can be then.
	each := func(do func(i, j, least, greatest int)) {
		for i, r := range units {
			for j := min(i+1, n1); j >= max(1, n1-(n-1-i)); j-- {
				do(i, j, sums[j-1]+r, sums[i+1]-sums[i+1-j])
			}
		}
	}
	steps := 0
	each(func(_, _, least, greatest int) { steps += greatest - least + 1 })
	if steps > maxSteps {
		return nil
	}
	// ways[j][s]: how many ways there are to draw j ranks with sum s.
	ways := make([][]float64, n1+1)
	for j := range ways {
		ways[j] = make([]float64, sums[n]-sums[n-n1]+1)
	}
	ways[0][0] = 1
	each(func(i, j, least, greatest int) {
		r := units[i]
		from, to := ways[j-1], ways[j]
		for s := greatest; s >= least; s-- {
			to[s] += from[s-r]
		}
	})
	offset := float64(n1) * float64(n1+1) / 2
	return newExact(ways[n1], -offset, step)
}

// NewSignedRank returns the distribution of the sum of those ranks that get a plus
// sign, each with probability ½ (Wilcoxon 1945). It is nil where that would take too
// long.
func NewSignedRank(ranks []float64) *Exact {
	units, step := inUnits(ranks)
	top := 0
	for _, r := range units {
		top += r
	}
	if float64(len(units))*float64(top) > maxSteps || len(units) > 1000 {
		return nil
	}
	mass := make([]float64, top+1)
	mass[0] = 1
	reached := 0
	for _, r := range units {
		reached += r
		for s := reached; s >= 0; s-- {
			mass[s] /= 2
			if s >= r {
				mass[s] += mass[s-r] / 2
			}
		}
	}
	return newExact(mass, 0, step)
}

// inUnits writes ranks in halves where there are any, else in wholes.
func inUnits(ranks []float64) (units []int, step float64) {
	step = 1
	for _, r := range ranks {
		if r != math.Floor(r) {
			step = 0.5
		}
	}
	units = make([]int, len(ranks))
	for i, r := range ranks {
		units[i] = int(math.Round(r / step))
	}
	return units, step
}

func newExact(weights []float64, least, step float64) *Exact {
	first, last := 0, len(weights)-1
	for weights[first] == 0 {
		first++
	}
	for weights[last] == 0 {
		last--
	}
	weights = weights[first : last+1]
	total := 0.0
	for _, w := range weights {
		total += w
	}
	d := &Exact{least: least + float64(first)*step, step: step, mass: make([]float64, len(weights)), below: make([]float64, len(weights)),
		above: make([]float64, len(weights))}
	sum := 0.0
	for i, w := range weights {
		d.mass[i] = w / total
		sum += w
		d.below[i] = sum / total
	}
	sum = 0
	for i := len(weights) - 1; i >= 0; i-- {
		sum += weights[i]
		d.above[i] = sum / total
	}
	return d
}

// outlineBars is how many bars an outline has at most.
const outlineBars = 60

// bar returns how many steps of the statistic a bar of the outline holds.
func (d *Exact) bar() int { return (len(d.mass) + outlineBars - 1) / outlineBars }

// Density returns the height of the bar over x: the probability of its values over
// their width. A bar reaches half a step beyond its values.
func (d *Exact) Density(x float64) float64 {
	size := d.bar()
	i := int(math.Floor((x-d.least)/d.step + 0.5))
	if i < 0 || i >= len(d.mass) {
		return 0
	}
	i -= i % size
	bar := d.mass[i:min(i+size, len(d.mass))]
	sum := 0.0
	for _, p := range bar {
		sum += p
	}
	return sum / (float64(len(bar)) * d.step)
}

// Outline returns the corners of the bars between two places.
func (d *Exact) Outline(low, high float64) (x, y []float64) {
	width := d.Bar()
	edge := d.least - d.step/2
	for at := low; at < high; {
		next := math.Min(high, edge+width*(math.Floor((at-edge)/width+1e-9)+1))
		height := d.Density((at + next) / 2)
		x, y = append(x, at, next), append(y, height, height)
		at = next
	}
	return x, y
}

// Bar returns how wide a bar of the outline is.
func (d *Exact) Bar() float64 { return float64(d.bar()) * d.step }

// Step returns how far apart values are.
func (d *Exact) Step() float64 { return d.step }

// Lower returns P(X ≤ x).
func (d *Exact) Lower(x float64) float64 {
	i := int(math.Floor((x-d.least)/d.step + 1e-9))
	switch {
	case i < 0:
		return 0
	case i >= len(d.below):
		return 1
	}
	return d.below[i]
}

// Upper returns P(X ≥ x).
func (d *Exact) Upper(x float64) float64 {
	i := int(math.Ceil((x-d.least)/d.step - 1e-9))
	switch {
	case i <= 0:
		return 1
	case i >= len(d.above):
		return 0
	}
	return d.above[i]
}

// LowerQuantile returns the largest value x with P(X ≤ x) ≤ p, NaN where there is none.
func (d *Exact) LowerQuantile(p float64) float64 {
	i := sort.Search(len(d.below), func(i int) bool { return d.below[i] > p }) - 1
	for i > 0 && d.mass[i] == 0 { // between values, where ties leave gaps
		i--
	}
	if i < 0 {
		return math.NaN()
	}
	return d.least + float64(i)*d.step
}

// UpperQuantile returns the smallest value x with P(X ≥ x) ≤ p, NaN where there is none.
func (d *Exact) UpperQuantile(p float64) float64 {
	i := sort.Search(len(d.above), func(i int) bool { return d.above[i] <= p })
	for i < len(d.above)-1 && d.mass[i] == 0 {
		i++
	}
	if i == len(d.above) {
		return math.NaN()
	}
	return d.least + float64(i)*d.step
}

// Range returns the least and the greatest value.
func (d *Exact) Range() (least, greatest float64) {
	return d.least, d.least + float64(len(d.mass)-1)*d.step
}
