package dist

import (
	"bufio"
	"fmt"
	"math"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// readReferences returns the rows of a table in testdata as doubles.
func readReferences(t *testing.T, name string, columns int) [][]float64 {
	t.Helper()
	file, err := os.Open("testdata/" + name)
	require.NoError(t, err)
	defer file.Close()
	var rows [][]float64
	for lines := bufio.NewScanner(file); lines.Scan(); {
		if strings.HasPrefix(lines.Text(), "#") {
			continue
		}
		fields := strings.Fields(lines.Text())
		require.Len(t, fields, columns)
		row := make([]float64, columns)
		for i, field := range fields {
			_, err := fmt.Sscan(field, &row[i])
			require.NoError(t, err)
		}
		rows = append(rows, row)
	}
	require.NotEmpty(t, rows)
	return rows
}

// checkTail checks both tails and both quantiles of d at x.
func checkTail(t *testing.T, d Distribution, x, upper float64) {
	t.Helper()
	at := fmt.Sprintf("%T %+v at %v", d, d, x)
	assert.InEpsilon(t, upper, d.Upper(x), 1e-12, "%s: upper tail", at)
	assert.InEpsilon(t, upper, d.Lower(-x), 1e-12, "%s: lower tail of −x", at)
	assert.InEpsilon(t, 1-upper, d.Lower(x), 1e-13, "%s: lower tail", at)
	if x >= 0.1 { // nearer to the middle the double p no longer determines x
		assert.InEpsilon(t, x, d.UpperQuantile(upper), 1e-12, "%s: upper quantile", at)
		assert.InEpsilon(t, -x, d.LowerQuantile(upper), 1e-12, "%s: lower quantile", at)
	}
}

func TestTAgainstReferences(t *testing.T) {
	for _, row := range readReferences(t, "t.tsv", 3) {
		checkTail(t, T{DF: row[0]}, row[1], row[2])
	}
}

func TestNormalAgainstReferences(t *testing.T) {
	for _, row := range readReferences(t, "normal.tsv", 2) {
		checkTail(t, Normal{}, row[0], row[1])
	}
}

// positive checks both tails of a distribution of positive numbers, and both
// quantiles, at a row of references.
func checkPositive(t *testing.T, d Distribution, x, lower, upper float64) {
	t.Helper()
	at := fmt.Sprintf("%T %+v at %v", d, d, x)
	assert.InEpsilon(t, lower, d.Lower(x), 1e-12, "%s: lower tail", at)
	assert.InEpsilon(t, upper, d.Upper(x), 1e-12, "%s: upper tail", at)
	// x is a double and so are its neighbours: where the tail changes much from one to
	// the next, it cannot be hit, and where it hardly changes, it does not determine x.
	slack := func(tail float64) float64 { return math.Max(1e-12, 4e-16*x*d.Density(x)/tail) }
	assert.InEpsilon(t, lower, d.Lower(d.LowerQuantile(lower)), slack(lower), "%s: lower quantile", at)
	assert.InEpsilon(t, upper, d.Upper(d.UpperQuantile(upper)), slack(upper), "%s: upper quantile", at)
	if lower <= upper {
		assert.InEpsilon(t, x, d.LowerQuantile(lower), math.Max(1e-12, 1e-12*lower/(x*d.Density(x))), "%s: lower quantile", at)
	} else {
		assert.InEpsilon(t, x, d.UpperQuantile(upper), math.Max(1e-12, 1e-12*upper/(x*d.Density(x))), "%s: upper quantile", at)
	}
}

func TestChiSquareAgainstReferences(t *testing.T) {
	for _, row := range readReferences(t, "chi_square.tsv", 4) {
		checkPositive(t, ChiSquare{row[0]}, row[1], row[2], row[3])
	}
}

func TestFAgainstReferences(t *testing.T) {
	for _, row := range readReferences(t, "f.tsv", 5) {
		checkPositive(t, F{row[0], row[1]}, row[2], row[3], row[4])
	}
}

// With one degree of freedom t is Cauchy's distribution and with two its tail
// is algebraic: both are known in closed form.
func TestTInClosedForm(t *testing.T) {
	for _, x := range []float64{1e-12, 0.3, 0.7, 0.9, 1, 2, 12.7062047361747, 1e8, 1e150, 1e299} {
		assert.InEpsilon(t, math.Atan2(1, x)/math.Pi, T{DF: 1}.Upper(x), 1e-13)
		if x < 1e100 { // beyond, the density and the tail with two degrees underflow
			root := math.Hypot(math.Sqrt2, x)
			assert.InEpsilon(t, 1/(root*(root+x)), T{DF: 2}.Upper(x), 1e-13)
			assert.InEpsilon(t, 1/(math.Pi*(1+x*x)), T{DF: 1}.Density(x), 1e-13)
		}
	}
}

func TestTheEdges(t *testing.T) {
	for _, d := range []Distribution{Normal{}, T{DF: 3.5}} {
		assert.True(t, math.IsInf(d.UpperQuantile(0), 1))
		assert.True(t, math.IsInf(d.UpperQuantile(1), -1))
		assert.True(t, math.IsInf(d.LowerQuantile(0), -1))
		assert.Zero(t, d.UpperQuantile(0.5))
		assert.InEpsilon(t, -d.UpperQuantile(0.25), d.UpperQuantile(0.75), 1e-15)
		assert.True(t, math.IsNaN(d.UpperQuantile(-0.1)))
		assert.True(t, math.IsNaN(d.LowerQuantile(1.1)))
		assert.True(t, math.IsNaN(d.UpperQuantile(math.NaN())))
		assert.True(t, math.IsNaN(d.Upper(math.NaN())))
		assert.Zero(t, d.Upper(math.Inf(1)))
		assert.Equal(t, 1.0, d.Upper(math.Inf(-1)))
		assert.InEpsilon(t, 0.5, d.Upper(0), 1e-16)
	}
	assert.True(t, math.IsInf(T{DF: 0.1}.UpperQuantile(1e-300), 1), "a quantile of 1e2999 fits in no double")
}

// What is not a number has no tail, and finding that out takes no time.
func TestNotANumber(t *testing.T) {
	nan := math.NaN()
	for _, d := range []Distribution{T{DF: 5}, F{DF1: 2, DF2: 9}, ChiSquare{DF: 4}, Normal{}, StudentizedRange{Groups: 3, DF: 10}} {
		assert.True(t, math.IsNaN(d.Upper(nan)), "%+v", d)
		assert.True(t, math.IsNaN(d.Lower(nan)), "%+v", d)
	}
	assert.True(t, math.IsNaN(F{DF1: 2, DF2: nan}.Upper(3)))
}

// With a large noncentrality not every term is added; those that are add up to the same.
func TestNoncentralFByStrides(t *testing.T) {
	for _, c := range []struct{ df1, df2, noncentrality, f float64 }{
		{3, 40, 6400, 2200}, {3, 40, 2e5, 70_000}, {2, 5, 2e5, 100_000}, {10, 1e6, 1e6, 100_500}, {1, 2, 1e6, 3e5}, {4, 1e9, 1e6, 250_100},
	} {
		d := NoncentralF{c.df1, c.df2, c.noncentrality}
		mean := c.noncentrality / 2
		reach := 9*math.Sqrt(mean) + 12
		upper, lower := 0.0, 0.0
		x, y := c.df1/(c.df1+c.df2/c.f), c.df2/c.f/(c.df1+c.df2/c.f)
		for j := int(mean - reach); j <= int(mean+reach); j++ {
			a, b := c.df1/2+float64(j), c.df2/2
			beta := newBeta(a, b, x, y, a-(a+b)*x)
			weight := (Poisson{Mean: mean}).Mass(j)
			upper, lower = upper+weight*beta.upper(), lower+weight*beta.lower()
		}
		assert.InDelta(t, upper, d.Upper(c.f), 1e-13, c)
		assert.InDelta(t, lower, d.Lower(c.f), 1e-13, c)
		assert.InDelta(t, 1, upper+lower, 1e-12)
		assert.True(t, upper > 0.001 && upper < 0.999, "%v: %v", c, upper)
	}
	for _, noncentrality := range []float64{1e12, 1e15, 1e100, 1e300} {
		assert.InDelta(t, 1, NoncentralF{3, 40, noncentrality}.Upper(3), 1e-15)
		assert.InDelta(t, 0, NoncentralF{3, 40, noncentrality}.Lower(3), 1e-15)
	}
}
