// Package exact counts p-values out: it sums the probabilities of all outcomes under H₀ that are not
// more likely than the one observed.
package exact

import (
	"context"
	"maps"
	"math"
	"math/bits"
	"slices"

	"grund/internal/stats"
	"grund/internal/stats/dist"
)

// How many steps an exact test of a table may take.
const (
	QuickSteps = 3_000_000  // less than a tenth of a second
	MostSteps  = 26_000_000 // a second, or a little more
)

// MostCases is of how many cases every outcome may be counted, or some be drawn in their
// stead. With more of them the chi-square curve is as good.
const MostCases = 1_000_000

// FreemanHalton returns the exact p-value of a two-way table given its margins: the sum of
// the probabilities of all tables that are not more likely than the one observed (G. H.
// Freeman and J. H. Halton, Biometrika 38, 1951). ok is false where that takes more
// steps than are allowed, or the context is done.
//
// Tables are built column by column, as paths through a network whose nodes are the row
// totals that are left, without their order (C. R. Mehta and N. R. Patel, J. Amer.
// Statist. Assoc. 78, 1983). Paths from the beginning and paths from the end meet in the
// middle. A path that can only end in tables that count, or only in ones that do not, is
// not followed: what all its tables weigh is known in closed form.
func FreemanHalton(ctx context.Context, observed [][]int, allowed int) (p float64, ok bool) {
	if len(observed) > len(observed[0]) {
		observed = transposed(observed)
	}
	rows, columns, n := make([]int, len(observed)), make([]int, len(observed[0])), 0
	for i, row := range observed {
		for j, o := range row {
			rows[i] += o
			columns[j] += o
			n += o
		}
	}
	if n > MostCases {
		return math.NaN(), false
	}
	slices.Sort(rows)
	slices.Sort(columns)
	slices.Reverse(columns) // long columns first: what is left is soon decided
	t := &network{lf: dist.LogFactorials(n), columns: columns, size: len(rows), bits: bits.Len(uint(rows[len(rows)-1])), allowed: allowed,
		ahead: map[place]ahead{}, tails: map[place]*weighed{}}
	if t.size*t.bits > 64 {
		return math.NaN(), false // so many large rows are out of reach anyway
	}
	// A table's probability is exp(whole − Σ ln x!).
	t.whole = -t.lf[n]
	for _, total := range slices.Concat(rows, columns) {
		t.whole += t.lf[total]
	}
	sum := LessLikely(observed)
	// Equal probabilities come out within a rounding of each other; different ones do not
	// come that near.
	t.least = sum - 1e-11*math.Max(1, sum)
	first := &paths{}
	first.add(0, 1)
	nodes := map[rowsLeft]*paths{t.pack(rows): first}
	middle := len(columns)/2 - 1
	for stage := range middle {
		next := map[rowsLeft]*paths{}
		for _, at := range slices.Sorted(maps.Keys(nodes)) { // in order, so that p is always the same
			open := t.decide(place{at, stage}, nodes[at].list())
			if len(open) == 0 {
				continue
			}
			for _, w := range t.ways(at, columns[stage]) {
				to := next[w.to]
				if to == nil {
					to = &paths{}
					next[w.to] = to
				}
				for _, one := range open {
					t.steps += to.add(one.sum+w.sum, one.count*w.count)
				}
				if t.steps > t.allowed {
					break
				}
			}
			if t.steps > t.allowed || ctx.Err() != nil {
				return math.NaN(), false
			}
		}
		nodes = next
	}
	for _, at := range slices.Sorted(maps.Keys(nodes)) {
		open := t.decide(place{at, middle}, nodes[at].list())
		if len(open) == 0 {
			continue
		}
		begun := newWeighed(open)
		for _, w := range t.ways(at, columns[middle]) {
			t.meet(begun, w, place{w.to, middle + 1})
			if t.steps > t.allowed || ctx.Err() != nil {
				return math.NaN(), false
			}
		}
		if t.steps > t.allowed {
			return math.NaN(), false
		}
	}
	return math.Min(1, t.p), true
}

// LessLikely orders tables with the same margins by their probability: it returns Σ ln x!
// of all cells, which is the larger the less likely the table is.
func LessLikely(table [][]int) float64 {
	sum := 0.0
	for _, row := range table {
		for _, o := range row {
			sum += dist.LogFactorial(o)
		}
	}
	return sum
}

// TableProbability returns the probability of a table given its margins, if rows and
// columns are independent: the factorials of all totals over those of n and of all cells.
func TableProbability(t *stats.Table) float64 {
	sum := -dist.LogFactorial(t.N)
	for _, total := range slices.Concat(t.Rows, t.Columns) {
		sum += dist.LogFactorial(total)
	}
	return math.Exp(sum - LessLikely(t.Observed))
}

func transposed(table [][]int) [][]int {
	out := make([][]int, len(table[0]))
	for j := range out {
		for i := range table {
			out[j] = append(out[j], table[i][j])
		}
	}
	return out
}
