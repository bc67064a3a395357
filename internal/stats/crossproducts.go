package stats

import (
	"context"
	"math"
	"runtime"
	"sync"
)

// manyCases is from how many cases on a triangle is first tried from crossproducts.
const manyCases = 2000

// triangleFromCrossproducts returns the triangle of the columns of blocks by Cholesky's method from their
// crossproducts, which takes a fifth of the time that reflections take; nil where a column has so little of
// its own beside those before it that too few of the 32 digits would be left, or where the context is
// done. On what it returns at least 20 digits hold.
func triangleFromCrossproducts(ctx context.Context, b *blocks) [][]wide {
	n := len(b.columns[0])
	workers := runtime.GOMAXPROCS(0)
	sums := make([][][]wide, workers)
	var wait sync.WaitGroup
	for w := range workers {
		wait.Go(func() { sums[w] = b.crossproducts(ctx, n*w/workers, n*(w+1)/workers) })
	}
	wait.Wait()
	if ctx.Err() != nil {
		return nil
	}
	for _, part := range sums[1:] {
		for j, row := range part {
			for k := range row[:j+1] {
				sums[0][k][j] = sums[0][k][j].add(part[k][j])
			}
		}
	}
	return cholesky(sums[0])
}

// crossproducts returns the sums of products of every two columns over some cases, in the upper triangle.
func (b *blocks) crossproducts(ctx context.Context, from, to int) [][]wide {
	sums, block := make([][]wide, b.size), make([][]wide, b.size)
	for k := range sums {
		sums[k], block[k] = make([]wide, b.size), make([]wide, blockRows)
	}
	for ; from < to && ctx.Err() == nil; from += blockRows {
		rows := min(blockRows, to-from)
		for k := range block {
			for i := range rows {
				block[k][i] = b.value(from+i, k)
			}
		}
		for j := range block {
			for k := j; k < len(block); k++ {
				sums[j][k] = sums[j][k].add(dot(block[j][:rows], block[k][:rows]))
			}
		}
	}
	return sums
}

// dot returns the sum of the products of two columns.
func dot(a, b []wide) wide {
	high, low := 0.0, 0.0
	for i, x := range a {
		y := b[i]
		product := x.high * y.high
		rest := math.FMA(x.high, y.high, -product) + (x.high*y.low + x.low*y.high)
		sum, lost := twoSum(high, product)
		high, low = sum, low+(lost+rest)
	}
	return quick(high, low)
}

// cholesky turns crossproducts into the triangle whose crossproducts they are (G. H. Golub and C. F. Van
// Loan, Matrix Computations, 4th ed., 4.2); nil where a pivot is so small that digits were lost.
func cholesky(sums [][]wide) [][]wide {
	const leastPivot = 1e-11 // of what the column was: eleven of 32 digits
	for k, row := range sums {
		whole := row[k].high
		for i := range k {
			row[k] = row[k].sub(sums[i][k].mul(sums[i][k]))
		}
		if !(row[k].high > leastPivot*whole) || math.IsInf(whole, 0) {
			return nil
		}
		row[k] = row[k].sqrt()
		for j := k + 1; j < len(sums); j++ {
			for i := range k {
				row[j] = row[j].sub(sums[i][k].mul(sums[i][j]))
			}
			row[j] = row[j].div(row[k])
		}
		for j := range k {
			row[j] = wide{}
		}
	}
	return sums
}
