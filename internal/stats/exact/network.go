package exact

import (
	"cmp"
	"math"
	"slices"
)

// network is the problem of an exact test while it is counted.
type network struct {
	lf      []float64 // ln k!
	columns []int     // totals, in the order in which they are taken
	size    int       // rows
	bits    int       // that a row total takes
	whole   float64
	least   float64 // Σ ln x! of tables that count
	p       float64 // of the tables that were decided so far
	steps   int
	allowed int
	ahead   map[place]ahead
	tails   map[place]*weighed // what can still come after a node
}

// rowsLeft are row totals in ascending order, packed into one number.
type rowsLeft uint64

// place is a node of the network.
type place struct {
	rows  rowsLeft
	stage int
}

// path stands for count ways, all with the same Σ ln x!.
type path struct{ sum, count float64 }

// paths are ways to a node, no two with the same sum: a table of open slots, as a great many are
// added and looked up.
type paths struct {
	slots []slot // a power of two of them, at most half of them taken
	taken int
}

// slot holds a path; unit is its sum in units, from 1, and 0 where the slot is free.
type slot struct {
	unit int64
	path
}

// pathUnit is how near sums are taken as one.
const pathUnit = 1e-11

// newPath is how many steps a path costs that was not there before.
const newPath = 8

// add adds ways to a node and returns how many steps that took.
func (ps *paths) add(sum, count float64) (steps int) {
	if 2*ps.taken >= len(ps.slots) {
		ps.grow()
	}
	unit := int64(math.Round(sum/pathUnit)) + 1
	at := ps.find(unit)
	if at.unit != 0 {
		at.count += count
		return 1
	}
	ps.taken++
	*at = slot{unit, path{sum, count}}
	return newPath
}

// find returns the slot of a unit, or the free one where it belongs.
func (ps *paths) find(unit int64) *slot {
	last := uint64(len(ps.slots) - 1)
	for i := (uint64(unit) * 0x9e3779b97f4a7c15 >> 20) & last; ; i = (i + 1) & last { // Fibonacci hashing
		if at := &ps.slots[i]; at.unit == unit || at.unit == 0 {
			return at
		}
	}
}

func (ps *paths) grow() {
	old := ps.slots
	ps.slots = make([]slot, max(8, 2*len(old)))
	for _, one := range old {
		if one.unit != 0 {
			*ps.find(one.unit) = one
		}
	}
}

// list returns the paths.
func (ps *paths) list() []path {
	out := make([]path, 0, ps.taken)
	for _, one := range ps.slots {
		if one.unit != 0 {
			out = append(out, one.path)
		}
	}
	return out
}

// weighed are paths by ascending sum, with their weights relative to that of the first.
type weighed struct {
	sums    []float64
	counts  []float64
	weights []float64 // count·exp(−sum), times exp of the least sum
	above   []float64 // what the weights from each on add up to, and 0 after the last
}

func newWeighed(list []path) *weighed {
	slices.SortFunc(list, func(a, b path) int { return cmp.Compare(a.sum, b.sum) })
	n := len(list)
	w := &weighed{sums: make([]float64, n), counts: make([]float64, n), weights: make([]float64, n), above: make([]float64, n+1)}
	for i := n - 1; i >= 0; i-- { // the small ones first
		w.sums[i], w.counts[i] = list[i].sum, list[i].count
		w.weights[i] = list[i].count * math.Exp(list[0].sum-list[i].sum)
		w.above[i] = w.above[i+1] + w.weights[i]
	}
	return w
}

func (t *network) pack(ascending []int) rowsLeft {
	var packed rowsLeft
	for _, r := range ascending {
		packed = packed<<t.bits | rowsLeft(r)
	}
	return packed
}

func (t *network) unpack(packed rowsLeft) []int {
	rows := make([]int, t.size)
	for i := t.size - 1; i >= 0; i-- {
		rows[i] = int(packed & (1<<t.bits - 1))
		packed >>= t.bits
	}
	return rows
}

// ahead is what is known of the ways to go on from a node without following them: bounds of their
// Σ ln x!, and the logarithm of what the exp(−Σ ln x!) of all of them add up to.
type ahead struct{ shortest, longest, mass float64 }

func (t *network) lookAhead(at place) ahead {
	if known, ok := t.ahead[at]; ok {
		return known
	}
	rows, rest := t.unpack(at.rows), t.columns[at.stage:]
	var a ahead
	a.shortest, a.longest = t.bounds(rows, rest)
	left := 0
	for _, r := range rows {
		a.mass -= t.lf[r]
	}
	for _, c := range rest {
		a.mass -= t.lf[c]
		left += c
	}
	a.mass += t.lf[left]
	t.steps += len(rows) * len(rest)
	t.ahead[at] = a
	return a
}

// decide adds to p what the paths to a node weigh whose tables all count, and returns
// those that are still open.
func (t *network) decide(at place, reached []path) (open []path) {
	rest := t.lookAhead(at)
	for _, one := range reached {
		switch {
		case one.sum+rest.shortest >= t.least:
			t.p += one.count * math.Exp(t.whole-one.sum+rest.mass)
		case one.sum+rest.longest >= t.least:
			open = append(open, one)
		}
	}
	return open
}

// way is a way to fill a column, which leads to other row totals.
type way struct {
	to rowsLeft
	path
}

// ways returns the ways to fill a column from the rows that are left. Of rows that are tied only
// those ways are gone through in which no row takes more than the next: the others, which lead to
// the same, are counted.
func (t *network) ways(at rowsLeft, column int) []way {
	rows := t.unpack(at)
	below := make([]int, len(rows)+1) // what the rows before can take
	for i, r := range rows {
		below[i+1] = below[i] + r
	}
	var out []way
	x, after := make([]int, len(rows)), make([]int, len(rows))
	// Of a run of tied rows placed have been filled, the last same of them alike.
	var fill func(i, left, placed, same, count int, sum float64)
	fill = func(i, left, placed, same, count int, sum float64) {
		t.steps++
		if t.steps > t.allowed {
			return
		}
		if i < 0 {
			for k, r := range rows {
				// The rows that are left go in order by insertion.
				at := k
				for ; at > 0 && after[at-1] > r-x[k]; at-- {
					after[at] = after[at-1]
				}
				after[at] = r - x[k]
			}
			t.steps += len(rows) / 2
			out = append(out, way{t.pack(after), path{sum, float64(count)}})
			return
		}
		tied := i+1 < len(rows) && rows[i] == rows[i+1]
		most := min(left, rows[i])
		if tied {
			most = min(most, x[i+1])
		}
		for k := max(0, left-below[i]); k <= most; k++ {
			x[i] = k
			switch {
			case !tied:
				fill(i-1, left-k, 1, 1, count, sum+t.lf[k])
			case k == x[i+1]:
				fill(i-1, left-k, placed+1, same+1, count*(placed+1)/(same+1), sum+t.lf[k])
			default:
				fill(i-1, left-k, placed+1, 1, count*(placed+1), sum+t.lf[k])
			}
		}
	}
	fill(len(rows)-1, column, 0, 0, 1, 0)
	return out
}

// tail returns what can come after a node; nil where counting it takes too long.
func (t *network) tail(at place) *weighed {
	if known := t.tails[at]; known != nil {
		return known
	}
	ps := &paths{}
	if at.stage == len(t.columns)-1 { // the rows that are left are the last column
		sum := 0.0
		for _, r := range t.unpack(at.rows) {
			sum += t.lf[r]
		}
		ps.add(sum, 1)
	} else {
		for _, w := range t.ways(at.rows, t.columns[at.stage]) {
			rest := t.tail(place{w.to, at.stage + 1})
			if rest == nil {
				return nil
			}
			for i, sum := range rest.sums {
				t.steps += ps.add(sum+w.sum, rest.counts[i]*w.count)
			}
			if t.steps > t.allowed {
				return nil
			}
		}
		if t.steps > t.allowed {
			return nil
		}
	}
	found := newWeighed(ps.list())
	t.tails[at] = found
	return found
}

// from returns from where on the sums are not below one.
func (w *weighed) from(sum float64) int {
	at, _ := slices.BinarySearch(w.sums, sum)
	return at
}

// meet adds to p what the paths weigh that lead by a way from those that have begun to a node, and
// whose tables count. The ways to go on from there are followed only where that must be.
func (t *network) meet(begun *weighed, by way, at place) {
	least, weight := t.least-by.sum, t.whole-begun.sums[0]-by.sum
	bounds := t.lookAhead(at)
	some, all := begun.from(least-bounds.longest), begun.from(least-bounds.shortest) // before some none count, and from all on every one
	t.steps++
	if found := begun.above[all]; found > 0 {
		t.p += by.count * found * math.Exp(weight+bounds.mass)
	}
	if some == all {
		return
	}
	rest := t.tail(at)
	if rest == nil {
		return // with too many steps taken
	}
	// As one sum rises the least that the other must have falls: both are gone through once, or
	// where the one is short the place in the other is sought.
	found, j := 0.0, len(rest.sums)
	if short := 16 * (all - some); short < j {
		for i := some; i < all; i++ {
			found += begun.weights[i] * rest.above[rest.from(least-begun.sums[i])]
		}
		t.steps += short / joinsPerStep
	} else {
		for i := some; i < all; i++ {
			for need := least - begun.sums[i]; j > 0 && rest.sums[j-1] >= need; {
				j--
			}
			found += begun.weights[i] * rest.above[j]
		}
		t.steps += (all - some + len(rest.sums) - j) / joinsPerStep
	}
	if found > 0 {
		t.p += by.count * found * math.Exp(weight-rest.sums[0])
	}
}

// joinsPerStep is how many paths are gone through in a step.
const joinsPerStep = 8

// bounds returns a lower and an upper bound of Σ ln x! over the tables with these margins.
func (t *network) bounds(rows, columns []int) (shortest, longest float64) {
	left := 0
	for _, c := range columns {
		left += c
	}
	if left == 0 {
		return 0, 0
	}
	// From below by Lagrange's multipliers: with λ = rᵢcⱼ/n each cell is bounded for itself,
	// by the x at which ln x! − x ln λ is least.
	root := math.Sqrt(float64(left))
	for _, r := range rows {
		if r == 0 {
			continue
		}
		shortest += float64(r) * math.Log(float64(r)/root)
		for _, c := range columns {
			if c > 0 {
				lambda := float64(r) * float64(c) / float64(left)
				x := int(lambda)
				shortest += t.lf[x] - float64(x)*math.Log(lambda)
			}
		}
	}
	for _, c := range columns {
		if c > 0 {
			shortest += float64(c) * math.Log(float64(c)/root)
		}
	}
	// From above by each column, or each row, as uneven as its own total and the others
	// allow.
	return math.Max(0, shortest-1e-9), math.Min(t.uneven(columns, rows), t.uneven(rows, columns)) + 1e-9
}

// uneven returns Σ ln x! where each total is heaped on the largest of the others.
func (t *network) uneven(totals, over []int) float64 {
	order := slices.Clone(over)
	slices.Sort(order)
	slices.Reverse(order)
	sum := 0.0
	for _, total := range totals {
		for _, most := range order {
			x := min(total, most)
			sum += t.lf[x]
			total -= x
			if total == 0 {
				break
			}
		}
	}
	return sum
}
