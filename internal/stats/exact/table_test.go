package exact

import (
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/stats"
)

// allTables calls visit for each table with the given margins.
func allTables(rows, columns []int, visit func([][]int)) {
	table := make([][]int, len(rows))
	for i := range table {
		table[i] = make([]int, len(columns))
	}
	left := append([]int(nil), columns...)
	var fill func(i, j, row int)
	fill = func(i, j, row int) {
		if i == len(rows) {
			visit(table)
			return
		}
		if j == len(columns)-1 {
			if row > left[j] {
				return
			}
			table[i][j] = row
			left[j] -= row
			next := 0
			if i+1 < len(rows) {
				next = rows[i+1]
			}
			if i+1 < len(rows) || sumOf(left) == 0 {
				fill(i+1, 0, next)
			}
			left[j] += row
			return
		}
		for x := 0; x <= min(row, left[j]); x++ {
			table[i][j] = x
			left[j] -= x
			fill(i, j+1, row-x)
			left[j] += x
		}
	}
	fill(0, 0, rows[0])
}

func sumOf(xs []int) int {
	total := 0
	for _, x := range xs {
		total += x
	}
	return total
}

// weight returns 1/Π x! of a table as a fraction with a common numerator: the table's
// probability but for a factor that all tables with its margins share.
func weight(table [][]int) *big.Rat {
	product := big.NewInt(1)
	for _, row := range table {
		for _, x := range row {
			product.Mul(product, new(big.Int).MulRange(1, int64(x)))
		}
	}
	return new(big.Rat).SetFrac(big.NewInt(1), product)
}

// randomTable returns a table with no empty row or column.
func randomTable(rng *rand.Rand, r, c, n int) [][]int {
	for {
		table := make([][]int, r)
		columns := make([]int, c)
		for i := range table {
			table[i] = make([]int, c)
		}
		for range n {
			i, j := rng.IntN(r), rng.IntN(c)
			table[i][j]++
			columns[j]++
		}
		full := true
		for _, row := range table {
			full = full && sumOf(row) > 0
		}
		for _, total := range columns {
			full = full && total > 0
		}
		if full {
			return table
		}
	}
}

// The exact test against every table written out, in exact fractions.
func TestFreemanHaltonAgainstEnumeration(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 8))
	for range 400 {
		r, c := 2+rng.IntN(2), 2+rng.IntN(3)
		observed := randomTable(rng, r, c, r*c+rng.IntN(8))
		rows, columns := make([]int, r), make([]int, c)
		for i, row := range observed {
			for j, x := range row {
				rows[i] += x
				columns[j] += x
			}
		}
		limit, hits, all := weight(observed), new(big.Rat), new(big.Rat)
		allTables(rows, columns, func(table [][]int) {
			w := weight(table)
			all.Add(all, w)
			if w.Cmp(limit) <= 0 {
				hits.Add(hits, w)
			}
		})
		want, _ := hits.Quo(hits, all).Float64()
		got, ok := FreemanHalton(t.Context(), observed, MostSteps)
		assert.True(t, ok)
		assert.InEpsilon(t, want, got, 1e-11, "%v", observed)
		turned, _ := FreemanHalton(t.Context(), transposed(observed), MostSteps)
		assert.InEpsilon(t, got, turned, 1e-12, "turning a table changes nothing")
	}
}

// Tables of five by six with 60 cases are all within reach; drawn tables count as often, within
// five standard errors.
func TestFreemanHaltonReaches(t *testing.T) {
	for seed := range uint64(8) {
		table := stats.NewTable(randomTable(rand.New(rand.NewPCG(seed, 1)), 5, 6, 60), false)
		p, ok := FreemanHalton(t.Context(), table.Observed, MostSteps)
		assert.True(t, ok, "table %d", seed)
		drawn := stats.DrawP(t.Context(), stats.DrawTable(table.Rows, table.Columns, LessLikely), LessLikely(table.Observed), 20_000, 1)
		assert.InDelta(t, p, drawn.P, 5*math.Sqrt(p*(1-p)/20_000)+1e-4, "table %d", seed)
	}
}

// Where it takes more steps than it may it says so, after so many.
func TestFreemanHaltonGivesUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	_, ok := FreemanHalton(t.Context(), randomTable(rng, 10, 12, 3000), MostSteps)
	assert.False(t, ok)
}

// BenchmarkFreemanHalton prints the cost of the exact test against the size of the table.
func BenchmarkFreemanHalton(b *testing.B) {
	for _, size := range [][3]int{{2, 2, 200}, {2, 5, 200}, {3, 3, 60}, {3, 4, 100}, {4, 4, 60}, {5, 6, 60}, {5, 6, 100}, {5, 6, 200}} {
		table := randomTable(rand.New(rand.NewPCG(1, 1)), size[0], size[1], size[2])
		b.Run(fmt.Sprintf("%dx%d of %d", size[0], size[1], size[2]), func(b *testing.B) {
			found := 0.0
			for b.Loop() {
				if _, ok := FreemanHalton(b.Context(), table, MostSteps); ok {
					found = 1
				}
			}
			b.ReportMetric(found, "found")
		})
	}
}
