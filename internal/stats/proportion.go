package stats

import (
	"math"
	"math/big"
	"sort"
	"strconv"

	"grund/internal/stats/dist"
)

// OneProportion is the comparison of a proportion with a value.
type OneProportion struct {
	Proportion float64 // successes/n
	SE         float64 // √(p₀(1 − p₀)/n)
	Z          float64
}

// CompareProportion compares the proportion of successes with p0, between 0 and 1, by
// the normal approximation, with half a case, 1/(2n), as the half step of the correction.
func CompareProportion(successes, n int, p0 float64, continuity Continuity) OneProportion {
	size := float64(n)
	c := OneProportion{Proportion: float64(successes) / size, SE: math.Sqrt(p0 * (1 - p0) / size)}
	distance := math.FMA(-size, p0, float64(successes)) / size
	c.Z = continuity.Correct(distance, 1/(2*size)) / c.SE
	return c
}

// Wilson returns the ends of the interval for a proportion that a normal quantile z
// reaches (E. B. Wilson, J. Amer. Statist. Assoc. 22, 1927): those proportions from
// which the observed one lies at most z standard errors.
func Wilson(successes, n int, z float64) (low, high float64) {
	x, size := float64(successes), float64(n)
	z2 := z * z
	centre := x + z2/2
	reach := z * math.Sqrt(x*(size-x)/size+z2/4)
	low, high = (centre-reach)/(size+z2), (centre+reach)/(size+z2)
	// Near 0 the difference loses digits: the two ends multiply to x²/(n(n + z²)).
	if centre > 0 {
		low = x * x / (size * (centre + reach))
	}
	if successes == n {
		high = 1
	}
	return low, high
}

// ClopperPearson returns the ends of the exact interval for a proportion that leaves
// area below and area above it (C. J. Clopper and E. S. Pearson, Biometrika 26, 1934):
// quantiles of beta distributions, here by those of F.
func ClopperPearson(successes, n int, area float64) (low, high float64) {
	x, rest := float64(successes), float64(n-successes)
	low, high = 0, 1
	if x > 0 {
		f := dist.F{DF1: 2 * x, DF2: 2 * (rest + 1)}.LowerQuantile(area)
		low = x * f / (x*f + rest + 1)
	}
	if rest > 0 {
		f := dist.F{DF1: 2 * (x + 1), DF2: 2 * rest}.UpperQuantile(area)
		high = (x + 1) * f / ((x+1)*f + rest)
	}
	return low, high
}

// Up to exactCases cases two probabilities are compared exactly, in whole numbers; with more
// they are taken as equal where they differ by less than a share of nearlyEqual.
const (
	exactCases  = 50_000
	nearlyEqual = 1e-12
)

// BinomialExact returns the exact two-sided p-value of so many successes: the sum of
// the probabilities that are not larger than that of what was observed. Whether two
// are equal is decided exactly, with p0 as the decimal that it is written with, for up to
// exactCases cases.
func BinomialExact(successes, n int, p0 float64) float64 {
	d := dist.Binomial{N: n, P: p0}
	observed := d.Mass(successes)
	// The probabilities rise to the mode and fall from there.
	mode := min(n, int(math.Floor(float64(n+1)*p0)))
	likelier := func(k int) bool {
		mass := d.Mass(k)
		switch {
		case n > exactCases:
			return mass > observed*(1+nearlyEqual)
		case math.Abs(mass-observed) > 1e-9*observed:
			return mass > observed
		}
		return compareMasses(k, successes, n, p0) > 0
	}
	if !likelier(mode) && !likelier(max(0, mode-1)) {
		return 1
	}
	if successes < mode {
		// The first number above the mode that is no likelier.
		low, high := mode+1, n+1
		for low < high {
			middle := (low + high) / 2
			if likelier(middle) {
				low = middle + 1
			} else {
				high = middle
			}
		}
		return math.Min(1, d.Lower(successes)+d.Upper(low))
	}
	// The last number below the mode that is no likelier.
	low, high := -1, mode-1
	for low < high {
		middle := (low + high + 1) / 2
		if likelier(middle) {
			high = middle - 1
		} else {
			low = middle
		}
	}
	return math.Min(1, d.Upper(successes)+d.Lower(low))
}

// compareMasses compares the binomial probabilities of j and k exactly.
func compareMasses(j, k, n int, p0 float64) int {
	p, ok := new(big.Rat).SetString(strconv.FormatFloat(p0, 'g', -1, 64))
	if !ok {
		return 0
	}
	yes, no := p.Num(), new(big.Int).Sub(p.Denom(), p.Num())
	weight := func(k, shared, sharedNot int) *big.Int {
		w := new(big.Int).Binomial(int64(n), int64(k))
		w.Mul(w, new(big.Int).Exp(yes, big.NewInt(int64(k-shared)), nil))
		return w.Mul(w, new(big.Int).Exp(no, big.NewInt(int64(n-k-sharedNot)), nil))
	}
	shared, sharedNot := min(j, k), n-max(j, k)
	return weight(j, shared, sharedNot).Cmp(weight(k, shared, sharedNot))
}

// TwoProportions is the comparison of the proportions of two independent samples.
type TwoProportions struct {
	First, Second float64
	Pooled        float64 // of both samples together
	Difference    float64
	Ratio         float64
	SE            float64 // of the difference, under H₀: from the pooled proportion
	Unpooled      float64 // of the difference, from each proportion for itself
	Correction    float64 // (1/n₁ + 1/n₂)/2 with continuity, else 0
	Z             float64
	// ChiSquare is the statistic of the test of independence for the same table: the square of Z,
	// or with one tail of the Z that two tails would have.
	ChiSquare float64
}

// CompareProportions compares the proportions of successes in two samples by the
// normal approximation, with the pooled proportion in the standard error. The half step of
// the correction is half a case in each sample, (1/n₁ + 1/n₂)/2.
func CompareProportions(successes1, n1, successes2, n2 int, continuity Continuity) TwoProportions {
	x1, x2, a, b := float64(successes1), float64(successes2), float64(n1), float64(n2)
	c := TwoProportions{First: x1 / a, Second: x2 / b, Pooled: (x1 + x2) / (a + b)}
	c.Difference = (x1*b - x2*a) / (a * b) // whole numbers: rounded once
	c.Ratio = x1 * b / (a * x2)
	c.SE = math.Sqrt((x1 + x2) * (a + b - x1 - x2) / ((a + b) * a * b))
	c.Unpooled = math.Sqrt(x1*(a-x1)/(a*a*a) + x2*(b-x2)/(b*b*b))
	if continuity != NoCorrection {
		c.Correction = (1/a + 1/b) / 2
	}
	c.Z = continuity.Correct(c.Difference, c.Correction) / c.SE
	root := nearer(c.Difference, c.Correction) / c.SE
	c.ChiSquare = root * root
	return c
}

// FisherExact returns the exact two-sided p-value of a 2×2 table with the given first
// row and margins: the sum of the probabilities that are not larger than that of what
// was observed (R. A. Fisher, Statistical Methods for Research Workers, 21.02). Whether
// two are equal is decided exactly, for up to exactCases cases.
func FisherExact(d dist.Hypergeometric, observed int) float64 {
	least, greatest := d.Range()
	mass := d.Mass(observed)
	no := func(k int) bool { // k is no likelier
		m := d.Mass(k)
		switch {
		case d.Population > exactCases:
			return m <= mass*(1+nearlyEqual)
		case math.Abs(m-mass) > 1e-9*mass:
			return m < mass
		}
		return compareTables(d, k, observed) <= 0
	}
	// The probabilities rise to the mode and fall from there.
	mode := int(math.Floor(float64(d.Draws+1) * float64(d.Successes+1) / float64(d.Population+2)))
	mode = max(least, min(greatest, mode))
	left := least - 1 + sort.Search(mode-least+1, func(i int) bool { return !no(least + i) })
	right := greatest + 1 - sort.Search(greatest-max(left, mode-1), func(i int) bool { return !no(greatest - i) })
	return math.Min(1, d.Lower(left)+d.Upper(right))
}

// compareTables compares the probabilities of j and k exactly.
func compareTables(d dist.Hypergeometric, j, k int) int {
	weight := func(k int) *big.Int {
		w := new(big.Int).Binomial(int64(d.Successes), int64(k))
		return w.Mul(w, new(big.Int).Binomial(int64(d.Population-d.Successes), int64(d.Draws-k)))
	}
	return weight(j).Cmp(weight(k))
}
