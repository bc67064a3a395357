package stats

import (
	"context"
	"slices"
)

// A reduction is the matrix of cases, an intercept before the predictors and the response after them,
// reduced to a triangle by Householder's reflections (G. H. Golub, Numer. Math. 7, 1965), block by block
// of cases.
//
// The levels of one category come first, if there are many: a case is of one of them at most, so that
// their part of the triangle is a diagonal, and to reduce them is to take each other column less its mean
// in the level. What is left has the other columns alone.
type reduction struct {
	order []int    // the columns as they were reduced: 0 the intercept, then the predictors; the response is last
	head  []wide   // the diagonal of the levels
	side  [][]wide // what the row of each level has in the columns after the levels
	rest  [][]wide // the triangle over those
}

// blockRows is how many cases are reduced at a time.
const blockRows = 128

// manyLevels is from how many levels on those of a category are reduced as such.
const manyLevels = 12

// A span is some columns side by side, to not included.
type span struct{ from, to int }

// longestCategory returns the longest run of columns that are the levels of one category, but for its
// reference: nothing but 0 and 1, and in no case more than one 1. It is empty where there are few.
func longestCategory(columns [][]float64) (longest span) {
	for from := 0; from < len(columns); {
		taken := make([]bool, len(columns[0]))
		to := from
		for to < len(columns) && joins(columns[to], taken) {
			to++
		}
		if to-from > longest.to-longest.from {
			longest = span{from, to}
		}
		from = max(to, from+1)
	}
	if longest.to-longest.from < manyLevels {
		return span{}
	}
	return longest
}

// joins reports whether a column is of 0 and 1 and has a 1 only where none is taken, and takes them.
func joins(column []float64, taken []bool) bool {
	any := false
	for i, x := range column {
		if x != 0 && (x != 1 || taken[i]) {
			return false
		}
		any = any || x == 1
	}
	for i, x := range column {
		taken[i] = taken[i] || x == 1
	}
	return any
}

// reduceCases reduces the columns, the response the last of them, each less its shift. That of the levels
// must be 0.
func reduceCases(ctx context.Context, columns [][]float64, shift []float64, levels span) (*reduction, error) {
	r := &reduction{}
	for j := levels.from; j < levels.to; j++ {
		r.order = append(r.order, j+1)
	}
	head := len(r.order)
	for j := range columns {
		if j == 0 {
			r.order = append(r.order, 0)
		}
		if j < levels.from || j >= levels.to {
			r.order = append(r.order, j+1)
		}
	}
	b := newBlocks(ctx, columns, shift, r.order[head:])
	n := len(columns[0])
	if head == 0 && n >= manyCases {
		if r.rest = triangleFromCrossproducts(ctx, b); r.rest != nil {
			return r, nil
		}
	}
	of := make([]int, n) // the level of each case; the reference is head
	for i := range of {
		of[i] = head
	}
	cases := make([][]int, head+1)
	for l, j := range r.order[:head] {
		for i, x := range columns[j-1] {
			if x == 1 {
				of[i] = l
			}
		}
	}
	for i, l := range of {
		cases[l] = append(cases[l], i)
	}
	for _, in := range cases[:head] {
		mean := b.mean(in)
		root := widen(float64(len(in))).sqrt()
		side := make([]wide, len(mean))
		for k, x := range mean {
			side[k] = root.mul(x)
		}
		r.head, r.side = append(r.head, root), append(r.side, side)
		b.add(in, mean)
	}
	b.add(cases[head], make([]wide, b.size))
	b.reduce()
	r.rest = b.rows[:b.size]
	return r, ctx.Err()
}

// blocks reduce rows, so many at a time.
type blocks struct {
	ctx     context.Context
	columns [][]float64
	shift   []float64
	order   []int
	size    int
	rows    [][]wide // the triangle, and below it the rows that wait
	waiting int
}

func newBlocks(ctx context.Context, columns [][]float64, shift []float64, order []int) *blocks {
	b := &blocks{ctx: ctx, columns: columns, shift: shift, order: order, size: len(order)}
	b.rows = make([][]wide, b.size+blockRows)
	for i := range b.rows {
		b.rows[i] = make([]wide, b.size)
	}
	return b
}

// value returns what case i has in the k-th of the columns.
func (b *blocks) value(i, k int) wide {
	j := b.order[k]
	if j == 0 {
		return widen(1)
	}
	return apart(b.columns[j-1][i], b.shift[j-1])
}

func (b *blocks) mean(cases []int) []wide {
	mean := make([]wide, b.size)
	for k := range mean {
		for _, i := range cases {
			mean[k] = mean[k].add(b.value(i, k))
		}
		mean[k] = mean[k].div(widen(float64(len(cases))))
	}
	return mean
}

// add adds cases, each less the means.
func (b *blocks) add(cases []int, mean []wide) {
	for _, i := range cases {
		if b.waiting == 0 && b.ctx.Err() != nil {
			return
		}
		row := b.rows[b.size+b.waiting]
		for k := range row {
			row[k] = b.value(i, k).sub(mean[k])
		}
		if b.waiting++; b.waiting == blockRows {
			b.reduce()
		}
	}
}

func (b *blocks) reduce() {
	reduce(b.rows[:b.size+b.waiting], b.size)
	b.waiting = 0
}

// reduce makes the rows, of which the first size are a triangle already, a triangle.
func reduce(rows [][]wide, size int) {
	for k := range size {
		// The reflection takes row k and all rows below the triangle.
		sum := rows[k][k].mul(rows[k][k])
		for _, row := range rows[size:] {
			sum = sum.add(row[k].mul(row[k]))
		}
		norm := sum.sqrt()
		if norm.high == 0 {
			continue
		}
		if rows[k][k].high > 0 {
			norm = norm.neg()
		}
		top := rows[k][k].sub(norm)
		// With v = (top, column below), H = I − v vᵀ/(−norm·top).
		scale := norm.mul(top).neg()
		for j := k + 1; j < size; j++ {
			dot := top.mul(rows[k][j])
			for _, row := range rows[size:] {
				dot = dot.add(row[k].mul(row[j]))
			}
			dot = dot.div(scale)
			rows[k][j] = rows[k][j].sub(dot.mul(top))
			for _, row := range rows[size:] {
				row[j] = row[j].sub(dot.mul(row[k]))
			}
		}
		rows[k][k] = norm
		for _, row := range rows[size:] {
			row[k] = wide{}
		}
	}
}

// inOrder returns the triangle over the columns in their own order.
func (r *reduction) inOrder() [][]wide {
	head := len(r.head)
	if head == 0 {
		return r.rest
	}
	whole := make([][]wide, len(r.order))
	for i := range whole {
		whole[i] = make([]wide, len(r.order))
		if i < head {
			whole[i][i] = r.head[i]
			copy(whole[i][head:], r.side[i])
		} else {
			copy(whole[i][head:], r.rest[i-head])
		}
	}
	order := slices.Clone(r.order)
	for to := range order {
		from := slices.Index(order, to)
		order = slices.Insert(slices.Delete(order, from, from+1), to, to)
		moveColumn(whole, from, to)
	}
	return whole
}

// moveColumn moves a column of a triangle to the left and makes it a triangle again by rotations of two
// rows each (G. H. Golub and C. F. Van Loan, Matrix Computations, 4th ed., 6.5.3).
func moveColumn(triangle [][]wide, from, to int) {
	if from == to {
		return
	}
	for _, row := range triangle {
		moved := row[from]
		copy(row[to+1:from+1], row[to:from])
		row[to] = moved
	}
	for i := from; i > to; i-- {
		upper, lower := triangle[i-1], triangle[i]
		if lower[to].high == 0 {
			continue
		}
		norm := upper[to].mul(upper[to]).add(lower[to].mul(lower[to])).sqrt()
		cos, sin := upper[to].div(norm), lower[to].div(norm)
		upper[to], lower[to] = norm, wide{}
		for j := i; j < len(upper); j++ {
			a, b := upper[j], lower[j]
			upper[j] = cos.mul(a).add(sin.mul(b))
			lower[j] = cos.mul(b).sub(sin.mul(a))
		}
	}
}

// inverseNorms returns the norm of each row of the inverse of the triangle, without the response: the
// standard error of each coefficient in residual standard deviations. intercept is that of the columns as
// they are, which is the one of the shifted columns less the shifts.
func (r *reduction) inverseNorms(shift []float64) (intercept float64, predictors []float64) {
	head, size := len(r.head), len(r.rest)-1
	inverse := invert(r.rest, size)
	predictors = make([]float64, head+size-1)
	own := make([]wide, size)
	for k, j := range r.order[head : head+size] {
		times := widen(1)
		if j > 0 {
			predictors[j-1] = norm(inverse[k])
			times = widen(-shift[j-1])
		}
		for i, x := range inverse[k] {
			own[i] = own[i].add(times.mul(x))
		}
	}
	for l, d := range r.head {
		row := make([]wide, size+1)
		row[size] = widen(1)
		for k := range size {
			for i := k; i < size; i++ {
				row[i] = row[i].sub(r.side[l][k].mul(inverse[k][i]))
			}
		}
		predictors[r.order[l]-1] = norm(row) / d.float()
	}
	return norm(own), predictors
}

func norm(row []wide) float64 {
	sum := wide{}
	for _, x := range row {
		sum = sum.add(x.mul(x))
	}
	return sum.sqrt().float()
}

// leverage returns the squared length of a row, an intercept before shifted predictors, once it is solved
// against the triangle.
func (r *reduction) leverage(row []wide) float64 {
	head, size := len(r.head), len(r.rest)-1
	solved, sum := make([]wide, size), wide{}
	for k, j := range r.order[head : head+size] {
		solved[k] = row[j]
	}
	for l, j := range r.order[:head] {
		if row[j].high == 0 {
			continue
		}
		x := row[j].div(r.head[l])
		sum = sum.add(x.mul(x))
		for k := range solved {
			solved[k] = solved[k].sub(x.mul(r.side[l][k]))
		}
	}
	for k, x := range solved {
		for i := range k {
			x = x.sub(solved[i].mul(r.rest[i][k]))
		}
		solved[k] = x.div(r.rest[k][k])
		sum = sum.add(solved[k].mul(solved[k]))
	}
	return sum.float()
}

// invert inverts the first size rows and columns of a triangle.
func invert(r [][]wide, size int) [][]wide {
	inverse := make([][]wide, size)
	for i := range inverse {
		inverse[i] = make([]wide, size)
	}
	for k := range size {
		inverse[k][k] = widen(1).div(r[k][k])
		for i := k - 1; i >= 0; i-- {
			sum := wide{}
			for j := i + 1; j <= k; j++ {
				sum = sum.add(r[i][j].mul(inverse[j][k]))
			}
			inverse[i][k] = sum.neg().div(r[i][i])
		}
	}
	return inverse
}
