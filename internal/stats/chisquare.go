package stats

import (
	"math"

	"grund/internal/stats/dist"
)

// Fit is the comparison of the counts of categories with expected shares.
type Fit struct {
	N            int
	Shares       []float64 // expected, adding up to 1
	Expected     []float64
	Difference   []float64 // observed − expected
	Contribution []float64 // (O − E)²/E
	Residual     []float64 // (O − E)/√E
	ChiSquare    float64
	DF           float64 // categories − 1
}

// CompareFit compares counts with shares that stand in the ratio of the weights, all above
// 0 (K. Pearson, Phil. Mag. 50, 1900).
func CompareFit(observed []int, weights []float64) Fit {
	f := Fit{DF: float64(len(observed) - 1)}
	total := 0.0
	for i, o := range observed {
		f.N += o
		total += weights[i]
	}
	n := float64(f.N)
	for i, o := range observed {
		f.Shares = append(f.Shares, weights[i]/total)
		expected := n * weights[i] / total
		f.add(expected, difference(float64(o), total, n, weights[i])/total)
	}
	return f
}

// add counts a category with its expected count and the difference from it.
func (f *Fit) add(expected, difference float64) {
	f.Expected = append(f.Expected, expected)
	f.Difference = append(f.Difference, difference)
	residual := difference / math.Sqrt(expected)
	f.Residual = append(f.Residual, residual)
	f.Contribution = append(f.Contribution, residual*residual)
	f.ChiSquare += residual * residual
}

// CompareClasses compares the counts of classes with their probabilities under a
// distribution of which some parameters were estimated from the same cases.
func CompareClasses(observed []int, probabilities []float64, estimated int) Fit {
	f := Fit{DF: float64(len(observed) - 1 - estimated), Shares: probabilities}
	for _, o := range observed {
		f.N += o
	}
	n := float64(f.N)
	for i, o := range observed {
		f.add(n*probabilities[i], math.FMA(-n, probabilities[i], float64(o)))
	}
	return f
}

// difference returns ab − cd, rounded about once (W. Kahan).
func difference(a, b, c, d float64) float64 {
	cd := c * d
	lost := math.FMA(-c, d, cd)
	return math.FMA(a, b, -cd) + lost
}

// GoodmanInterval returns the ends of the simultaneous interval for the share of one of k
// categories, o of n cases, at a level whose complement is area (L. A. Goodman,
// Technometrics 7, 1965).
func GoodmanInterval(o, n, k int, area float64) (low, high float64) {
	a := dist.ChiSquare{DF: 1}.UpperQuantile(area / float64(k))
	x, size := float64(o), float64(n)
	root := math.Sqrt(a * (a + 4*x*(size-x)/size))
	high = math.Min(1, (a+2*x+root)/(2*(size+a)))
	// The other root by the product of both, x²/(n(n + a)): their difference would cancel.
	if x > 0 {
		low = x * x / (size * (size + a)) / high
	}
	return low, high
}

// Table is a two-way table of counts with what follows from it.
type Table struct {
	Observed     [][]int
	Rows         []int // totals
	Columns      []int
	N            int
	Expected     [][]float64
	Difference   [][]float64 // observed − expected
	Contribution [][]float64 // (O − E)²/E, with continuity (|O − E| − ½)²/E
	Residual     [][]float64 // (O − E)/√E
	Adjusted     [][]float64 // the residual over its own standard deviation
	ChiSquare    float64
	DF           float64 // (rows − 1)(columns − 1)
	G            float64 // likelihood ratio, 2 Σ O ln(O/E)
	CramersV     float64
	Phi          float64 // of a 2×2 table, with its sign; NaN otherwise
}

// NewTable compares the counts of a table, no row or column of which is empty, with what
// independence expects: row total × column total / n (K. Pearson, 1904). With continuity
// ½ is taken off each difference, but not beyond 0 (F. Yates, 1934). The adjusted
// residuals are those of S. J. Haberman (Biometrics 29, 1973); V is H. Cramér's
// (Mathematical Methods of Statistics, 1946, 21.9). Neither these nor phi carry the
// correction.
func NewTable(observed [][]int, continuity bool) *Table {
	r, c := len(observed), len(observed[0])
	t := &Table{Observed: observed, Rows: make([]int, r), Columns: make([]int, c), DF: float64((r - 1) * (c - 1)), Phi: math.NaN()}
	for i, row := range observed {
		for j, o := range row {
			t.Rows[i] += o
			t.Columns[j] += o
			t.N += o
		}
	}
	n := float64(t.N)
	uncorrected := 0.0
	for i, row := range observed {
		var expected, distance, contribution, residual, adjusted []float64
		for j, o := range row {
			a, b := float64(t.Rows[i]), float64(t.Columns[j])
			e := a * b / n
			d := difference(float64(o), n, a, b) / n
			res := d / math.Sqrt(e)
			part := res * res
			uncorrected += part
			t.G += 2 * dist.Deviance(float64(o), e, d)
			if continuity {
				nearer := nearer(d, 0.5)
				part = nearer * nearer / e
			}
			t.ChiSquare += part
			expected, distance, contribution = append(expected, e), append(distance, d), append(contribution, part)
			residual = append(residual, res)
			adjusted = append(adjusted, res/math.Sqrt((n-a)/n*((n-b)/n)))
		}
		t.Expected, t.Difference, t.Contribution = append(t.Expected, expected), append(t.Difference, distance),
			append(t.Contribution, contribution)
		t.Residual, t.Adjusted = append(t.Residual, residual), append(t.Adjusted, adjusted)
	}
	t.CramersV = math.Sqrt(uncorrected / (n * float64(min(r, c)-1)))
	if r == 2 && c == 2 {
		cells := difference(float64(observed[0][0]), float64(observed[1][1]), float64(observed[0][1]), float64(observed[1][0]))
		t.Phi = cells / math.Sqrt(float64(t.Rows[0])*float64(t.Rows[1])*float64(t.Columns[0])*float64(t.Columns[1]))
	}
	return t
}

// Ratio is a ratio of a 2×2 table with its interval: NaN or infinite where it does not
// exist.
type Ratio struct {
	Value, Low, High float64
}

// OddsRatio returns the odds of the first column in the first row over those in the
// second, with the interval that z standard errors of its logarithm give (B. Woolf, Ann.
// Hum. Genet. 19, 1955).
func (t *Table) OddsRatio(z float64) Ratio {
	a, b, c, d := t.cells()
	return logInterval(a*d/(b*c), math.Sqrt(1/a+1/b+1/c+1/d), z)
}

// RelativeRisk returns the share of the first column in the first row over that in the
// second, with the interval that z standard errors of its logarithm give (D. Katz et al.,
// Biometrics 34, 1978).
func (t *Table) RelativeRisk(z float64) Ratio {
	a, b, c, d := t.cells()
	return logInterval(a*(c+d)/(c*(a+b)), math.Sqrt(b/(a*(a+b))+d/(c*(c+d))), z)
}

func (t *Table) cells() (a, b, c, d float64) {
	return float64(t.Observed[0][0]), float64(t.Observed[0][1]), float64(t.Observed[1][0]), float64(t.Observed[1][1])
}

// logInterval returns the interval of a ratio whose logarithm has the standard error se.
func logInterval(ratio, se, z float64) Ratio {
	if !(ratio > 0) || math.IsInf(ratio, 0) {
		return Ratio{ratio, math.NaN(), math.NaN()}
	}
	return Ratio{ratio, ratio * math.Exp(-z*se), ratio * math.Exp(z*se)}
}

// DiscordantPairs is the comparison of two proportions of the same cases by the pairs in
// which they differ.
type DiscordantPairs struct {
	ChiSquare float64
	Exact     float64 // two-sided, from the binomial distribution with ½
}

// CompareDiscordant compares the numbers of pairs that changed one way and the other, not
// both 0 (Q. McNemar, Psychometrika 12, 1947); with continuity 1 is taken off their
// difference, but not beyond 0 (A. L. Edwards, Psychometrika 13, 1948).
func CompareDiscordant(b, c int, continuity bool) DiscordantPairs {
	n, d := float64(b+c), math.Abs(float64(b-c))
	if continuity {
		d = math.Max(0, d-1)
	}
	exact := 1.0
	if b != c { // the binomial distribution with ½ is symmetric
		exact = 2 * dist.Binomial{N: b + c, P: 0.5}.Lower(min(b, c))
	}
	return DiscordantPairs{ChiSquare: d * d / n, Exact: exact}
}

// Holm returns the p-values corrected for their number by S. Holm's method (Scand. J.
// Statist. 6, 1979).
func Holm(ps []float64) []float64 {
	out := make([]float64, len(ps))
	order := Ascending(ps)
	largest := 0.0
	for i, at := range order {
		largest = math.Max(largest, math.Min(1, float64(len(ps)-i)*ps[at]))
		out[at] = largest
	}
	return out
}
