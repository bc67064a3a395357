package stats

import (
	"math"
	"slices"
)

// Midranks returns the rank of each value, from 1; equal values share the mean of the
// ranks that they take. ties is Σ(t³ − t) over the groups of t equal values.
func Midranks(xs []float64) (ranks []float64, ties float64) {
	order := Ascending(xs)
	ranks = make([]float64, len(xs))
	for i := 0; i < len(order); {
		j := i
		for j < len(order) && xs[order[j]] == xs[order[i]] {
			j++
		}
		shared := float64(i+1+j) / 2
		for _, at := range order[i:j] {
			ranks[at] = shared
		}
		t := float64(j - i)
		ties += t*t*t - t
		i = j
	}
	return ranks, ties
}

// RankSum is the comparison of two independent samples by ranks.
type RankSum struct {
	U     float64 // of the first sample: the pairs in which it is the larger, half for ties
	Mean  float64 // of U under H₀
	SD    float64 // of U under H₀, given the ties
	Z     float64
	Ranks []float64 // of the first sample's values, then the second's
	Tied  bool      // whether values share a rank
}

// CompareRanks compares two samples by their ranks (H. B. Mann and D. R. Whitney, Ann.
// Math. Statist. 18, 1947).
func CompareRanks(first, second []float64, continuity Continuity) RankSum {
	n1, n2 := float64(len(first)), float64(len(second))
	n := n1 + n2
	ranks, ties := Midranks(slices.Concat(first, second))
	sum := 0.0
	for _, r := range ranks[:len(first)] {
		sum += r
	}
	c := RankSum{U: sum - n1*(n1+1)/2, Mean: n1 * n2 / 2, Ranks: ranks, Tied: ties > 0}
	c.SD = math.Sqrt(n1 * n2 / 12 * (n + 1 - ties/(n*(n-1))))
	c.Z = RankZ(c.U, c.Mean, c.SD, continuity)
	return c
}

// RankGroups is the comparison of several independent samples by ranks.
type RankGroups struct {
	H         float64 // corrected for ties
	DF        float64
	N         int
	Ties      float64   // Σ (t³ − t) over the groups of t equal values
	Corrects  float64   // 1 − Ties/(N³ − N), by which H was divided
	MeanRanks []float64 // of each sample
	Ranks     []float64 // of all values, sample by sample
}

// CompareRankGroups compares several samples by their ranks (W. H. Kruskal and W. A. Wallis,
// J. Amer. Statist. Assoc. 47, 1952). H does not exist where all values are equal.
func CompareRankGroups(groups [][]float64) RankGroups {
	ranks, ties := Midranks(slices.Concat(groups...))
	n := float64(len(ranks))
	r := RankGroups{DF: float64(len(groups) - 1), N: len(ranks), Ties: ties, Ranks: ranks, Corrects: 1 - ties/(n*n*n-n)}
	between, from := 0.0, 0
	for _, g := range groups {
		sum := 0.0
		for _, rank := range ranks[from : from+len(g)] {
			sum += rank
		}
		from += len(g)
		mean := sum / float64(len(g))
		r.MeanRanks = append(r.MeanRanks, mean)
		between += float64(len(g)) * (mean - (n+1)/2) * (mean - (n+1)/2)
	}
	r.H = 12 / (n * (n + 1)) * between / r.Corrects
	return r
}

// PairSE returns the standard error of the difference between two mean ranks, of samples of n1
// and n2 (O. J. Dunn, Technometrics 6, 1964).
func (r *RankGroups) PairSE(n1, n2 int) float64 {
	n := float64(r.N)
	return math.Sqrt(n * (n + 1) / 12 * r.Corrects * (1/float64(n1) + 1/float64(n2)))
}

// RankZ standardizes a rank statistic, with half a rank as the half step of the correction.
func RankZ(statistic, mean, sd float64, continuity Continuity) float64 {
	return continuity.Correct(statistic-mean, 0.5) / sd
}

// SignedRank is the comparison of differences with 0 by signed ranks.
type SignedRank struct {
	WPlus float64 // the sum of the ranks of positive differences
	Mean  float64 // of WPlus under H₀
	SD    float64 // of WPlus under H₀, given the ties
	Z     float64
	Ranks []float64 // of the differences without sign
	Tied  bool      // whether differences share a rank
}

// CompareSigned compares differences, none of which is 0, with 0 (Wilcoxon, Biometrics
// 1, 1945).
func CompareSigned(differences []float64, continuity Continuity) SignedRank {
	n := float64(len(differences))
	sizes := make([]float64, len(differences))
	for i, d := range differences {
		sizes[i] = math.Abs(d)
	}
	ranks, ties := Midranks(sizes)
	c := SignedRank{Mean: n * (n + 1) / 4, SD: math.Sqrt(n*(n+1)*(2*n+1)/24 - ties/48), Ranks: ranks, Tied: ties > 0}
	for i, d := range differences {
		if d > 0 {
			c.WPlus += ranks[i]
		}
	}
	c.Z = RankZ(c.WPlus, c.Mean, c.SD, continuity)
	return c
}

// PairDifferences are the differences x − y of all pairs of two samples, and
// PairAverages the averages of all pairs of one sample, each value with itself too.
// Neither list is written out: the k-th smallest is found by counting.
type (
	PairDifferences struct{ xs, ys []float64 } // sorted
	PairAverages    struct{ xs []float64 }     // sorted
)

// NewPairDifferences and NewPairAverages sort their samples.
func NewPairDifferences(xs, ys []float64) PairDifferences {
	return PairDifferences{Sorted(xs), Sorted(ys)}
}

func NewPairAverages(xs []float64) PairAverages { return PairAverages{Sorted(xs)} }

// Count returns how many pairs there are.
func (p PairDifferences) Count() int { return len(p.xs) * len(p.ys) }

func (p PairAverages) Count() int { return len(p.xs) * (len(p.xs) + 1) / 2 }

// upTo counts the pairs with a difference of at most d.
func (p PairDifferences) upTo(d float64) int {
	count, j := 0, 0
	for _, x := range p.xs { // the larger x, the more y are needed
		for j < len(p.ys) && x-p.ys[j] > d {
			j++
		}
		count += len(p.ys) - j
	}
	return count
}

// upTo counts the pairs with an average of at most d.
func (p PairAverages) upTo(d float64) int {
	count, j := 0, len(p.xs)-1
	for i, x := range p.xs { // the larger x, the fewer others
		for j >= i && x/2+p.xs[j]/2 > d {
			j--
		}
		if j < i {
			break
		}
		count += j - i + 1
	}
	return count
}

// Kth returns the k-th smallest, from 1.
func (p PairDifferences) Kth(k int) float64 {
	return kth(k, p.upTo, p.xs[0]-p.ys[len(p.ys)-1], p.xs[len(p.xs)-1]-p.ys[0])
}

func (p PairAverages) Kth(k int) float64 {
	return kth(k, p.upTo, p.xs[0], p.xs[len(p.xs)-1])
}

// kth returns the least double up to which there are k, between low and high.
func kth(k int, upTo func(float64) int, low, high float64) float64 {
	a, b := ordinal(low), ordinal(high)
	for a < b {
		middle := a + int64((uint64(b)-uint64(a))/2) // the distance may not fit an int64
		if upTo(fromOrdinal(middle)) >= k {
			b = middle
		} else {
			a = middle + 1
		}
	}
	return fromOrdinal(a)
}

// ordinal numbers the doubles in their order.
func ordinal(x float64) int64 {
	bits := int64(math.Float64bits(x))
	if bits < 0 {
		return math.MinInt64 - bits
	}
	return bits
}

func fromOrdinal(n int64) float64 {
	if n < 0 {
		return math.Float64frombits(uint64(math.MinInt64 - n))
	}
	return math.Float64frombits(uint64(n))
}

// Pairs are differences or averages of pairs.
type Pairs interface {
	Count() int
	Kth(k int) float64
}

// MedianOfPairs returns the median of the pairs: the shift estimate of J. L. Hodges and
// E. L. Lehmann (Ann. Math. Statist. 34, 1963).
func MedianOfPairs(p Pairs) float64 {
	n := p.Count()
	low := p.Kth((n + 1) / 2)
	if n%2 == 1 {
		return low
	}
	high := p.Kth(n/2 + 1)
	return low + (high-low)/2
}
