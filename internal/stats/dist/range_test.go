package dist

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestStudentizedRangeAgainstReferences(t *testing.T) {
	worst := 0.0
	for _, row := range readReferences(t, "studentized_range.tsv", 5) {
		d := StudentizedRange{Groups: int(row[0]), DF: row[1]}
		at := fmt.Sprintf("%+v at %v", d, row[2])
		assert.InEpsilon(t, row[3], d.Lower(row[2]), 1e-12, "%s: lower tail", at)
		assert.InEpsilon(t, row[4], d.Upper(row[2]), 1e-11, "%s: upper tail", at)
		worst = max(worst, math.Abs(d.Upper(row[2])/row[4]-1))
		if row[4] < 0.9 {
			assert.InEpsilon(t, row[2], d.UpperQuantile(row[4]), 1e-11, "%s: upper quantile", at)
		}
		if row[3] < 0.9 {
			assert.InEpsilon(t, row[2], d.LowerQuantile(row[3]), 1e-11, "%s: lower quantile", at)
		}
	}
	t.Logf("relative error of the upper tail: at most %.1e", worst)
}

// Critical values as they are printed: E. S. Pearson and H. O. Hartley, Biometrika Tables
// for Statisticians, vol. 1, table 29.
func TestStudentizedRangeAgainstPrintedTables(t *testing.T) {
	for _, c := range []struct {
		groups, df int
		area, want float64
	}{{3, 10, 0.05, 3.88}, {4, 20, 0.05, 3.96}, {5, 30, 0.01, 5.05}, {10, 60, 0.05, 4.65}, {3, 5, 0.01, 6.98}, {2, 1, 0.05, 17.97},
		{20, 120, 0.05, 5.13}} {
		assert.InDelta(t, c.want, StudentizedRange{Groups: c.groups, DF: float64(c.df)}.UpperQuantile(c.area), 0.006, "%+v", c)
	}
}

// Of two groups the range over s is √2 |t|.
func TestStudentizedRangeOfTwoIsT(t *testing.T) {
	for _, df := range []float64{0.1, 0.5, 1, 2, 7.3, 9.9, 10, 40, 1000, 50_000, 1e6} {
		for _, x := range []float64{1e-6, 0.01, 0.7, 2, 5, 12, 30, 1e3} {
			want := 2 * T{DF: df}.Upper(x)
			if want < 1e-300 {
				continue
			}
			d := StudentizedRange{Groups: 2, DF: df}
			assert.InEpsilon(t, want, d.Upper(x*math.Sqrt2), 1e-10, "%v degrees of freedom at %v", df, x)
			assert.InEpsilon(t, 2*T{DF: df}.centre(x), d.Lower(x*math.Sqrt2), 1e-10, "%v degrees of freedom at %v", df, x)
			assert.InEpsilon(t, math.Sqrt2*T{DF: df}.Density(x), d.Density(x*math.Sqrt2), 1e-10, "density, %v degrees of freedom at %v", df, x)
		}
	}
}

// The density is the slope of the lower tail.
func TestStudentizedRangeDensity(t *testing.T) {
	for _, d := range []StudentizedRange{{3, 4}, {12, 30}, {100, 60}, {5, math.Inf(1)}} {
		for _, q := range []float64{0.8, 3, 6} {
			const h = 1e-4
			slope := (d.Lower(q-2*h) - 8*d.Lower(q-h) + 8*d.Lower(q+h) - d.Lower(q+2*h)) / (12 * h)
			assert.InDelta(t, slope, d.Density(q), 1e-11, "%+v at %v", d, q)
		}
	}
}

// The quick way to an upper quantile leads where the tail says, for every number of groups.
func TestStudentizedRangeQuantiles(t *testing.T) {
	for _, groups := range []int{2, 3, 7, 20, 60, 100} {
		for _, df := range []float64{2, 3.7, 11, 45, 600, math.Inf(1)} {
			d := StudentizedRange{Groups: groups, DF: df}
			for _, p := range []float64{0.2, 0.1, 0.05, 0.01, 0.001} {
				q, ok := d.secant(p)
				assert.True(t, ok, "%+v at %v", d, p)
				assert.InEpsilon(t, p, d.Upper(q), 1e-11, "%+v at %v", d, p)
			}
		}
	}
}

func TestNoncentralFAgainstReferences(t *testing.T) {
	for _, row := range readReferences(t, "noncentral_f.tsv", 6) {
		d := NoncentralF{DF1: row[0], DF2: row[1], Noncentrality: row[2]}
		assert.InEpsilon(t, row[4], d.Lower(row[3]), 1e-11, "%+v: lower tail at %v", d, row[3])
		assert.InEpsilon(t, row[5], d.Upper(row[3]), 1e-11, "%+v: upper tail at %v", d, row[3])
	}
	assert.InEpsilon(t, F{3, 20}.Upper(2.5), NoncentralF{DF1: 3, DF2: 20}.Upper(2.5), 1e-13, "without a noncentrality it is F")
}

func TestNoncentralTAgainstReferences(t *testing.T) {
	for _, row := range readReferences(t, "noncentral_t.tsv", 5) {
		d := NoncentralT{DF: row[1], Noncentrality: row[2]}
		at := fmt.Sprintf("%+v at %v", d, row[0])
		assert.InEpsilon(t, row[3], d.Lower(row[0]), 1e-12, "%s: lower tail", at)
		assert.InEpsilon(t, row[4], d.Upper(row[0]), 1e-12, "%s: upper tail", at)
	}
}

// Without a noncentrality it is Student's t.
func TestNoncentralTWithoutNoncentralityIsT(t *testing.T) {
	for _, df := range []float64{0.5, 1, 3, 28.4, 1000, 1e6} {
		for _, x := range []float64{-4, -0.3, 0, 1, 2.1, 6} {
			assert.InEpsilon(t, T{DF: df}.Upper(x), NoncentralT{DF: df}.Upper(x), 1e-11, "%v at %v", df, x)
		}
	}
}
