package stats

import (
	"context"
	"math"
	"sort"

	"grund/internal/stats/dist"
)

// The power of a test is the probability that it rejects H₀. The functions here take the
// rejection region as its two ends: the test rejects where the statistic is at most low or
// at least high. With one tail the other end is infinite.

// PowerOfZ returns the power of a test whose statistic is normal with standard deviation 1
// and mean shift.
func PowerOfZ(shift, low, high float64) float64 {
	return dist.Normal{}.Lower(low-shift) + dist.Normal{}.Upper(high-shift)
}

// PowerOfT returns the power of a test by Student's t with df degrees of freedom, where
// the estimate lies shift standard errors from H₀ on average (J. Cohen, Statistical Power
// Analysis for the Behavioral Sciences, 2nd ed., 12.2).
func PowerOfT(df, shift, low, high float64) float64 {
	d, power := dist.NoncentralT{DF: df, Noncentrality: shift}, 0.0
	if !math.IsInf(low, -1) {
		power += d.Lower(low)
	}
	if !math.IsInf(high, 1) {
		power += d.Upper(high)
	}
	return power
}

// PowerOfF returns the power of a test by F that rejects from high on. The noncentrality is
// Σ nᵢ(μᵢ − μ)²/σ² in a one-way analysis of variance, and nR²/(1 − R²) for the predictors of a
// fit that in truth explain a share R² (Cohen, 8.2 and 9.3).
func PowerOfF(df1, df2, noncentrality, high float64) float64 {
	return dist.NoncentralF{DF1: df1, DF2: df2, Noncentrality: noncentrality}.Upper(high)
}

// PowerOfProportion returns the exact power of the comparison of the proportion of n cases
// with p0, where the true proportion is p: the probability of all counts whose z lies in
// the rejection region.
func PowerOfProportion(n int, p0, p float64, continuity Continuity, low, high float64) float64 {
	z := func(k int) float64 { return CompareProportion(k, n, p0, continuity).Z }
	d := dist.Binomial{N: n, P: p}
	above := sort.Search(n+1, func(k int) bool { return z(k) >= high })
	below := sort.Search(n+1, func(k int) bool { return z(k) > low })
	power := 0.0
	if below > 0 {
		power += d.Lower(below - 1)
	}
	if above <= n {
		power += d.Upper(above)
	}
	return math.Min(1, power)
}

// PowerOfProportions returns the exact power of the comparison of two proportions, of n1
// and n2 cases, where the true ones are p1 and p2: the probability of all pairs of counts
// whose z lies in the rejection region. Pairs of no success or of successes only have no z
// and do not reject.
//
// With one more success in the first sample z does not fall, and with one more in the
// second it does not rise, so that the region has one edge for each count of the first.
func PowerOfProportions(n1, n2 int, p1, p2 float64, continuity Continuity, low, high float64) float64 {
	from1, mass1 := massesOf(n1, p1)
	from2, mass2 := massesOf(n2, p2)
	// upTo[i] is the probability of fewer than from2+i successes in the second sample, and
	// from the other side of at least as many.
	upTo, from := make([]float64, len(mass2)+1), make([]float64, len(mass2)+1)
	for i, m := range mass2 {
		upTo[i+1] = upTo[i] + m
	}
	for i := len(mass2) - 1; i >= 0; i-- {
		from[i] = from[i+1] + mass2[i]
	}
	z := func(k1, k2 int) float64 {
		if k1+k2 == 0 || k1+k2 == n1+n2 {
			return 0
		}
		return CompareProportions(k1, n1, k2, n2, continuity).Z
	}
	power := 0.0
	above, below := 0, 0 // the first of k2 with z below high, and with z at most low
	for i, m := range mass1 {
		k1 := from1 + i
		for above < len(mass2) && z(k1, from2+above) >= high {
			above++
		}
		for below < len(mass2) && z(k1, from2+below) > low {
			below++
		}
		power += m * (upTo[above] + from[below])
	}
	return math.Min(1, power)
}

// massesOf returns the probabilities of the counts of successes that are not too rare to
// matter, from the count from on.
func massesOf(n int, p float64) (from int, masses []float64) {
	d := dist.Binomial{N: n, P: p}
	reach := 9*math.Sqrt(float64(n)*p*(1-p)) + 12 // beyond lies less than 1e-17
	from = max(0, int(float64(n)*p-reach))
	to := min(n, int(float64(n)*p+reach)+1)
	for k := from; k <= to; k++ {
		masses = append(masses, d.Mass(k))
	}
	return from, masses
}

// NeededSize returns the smallest n, from smallest to largest, from which on the power is
// at least target; ok is false where there is none.
//
// Where counts go in steps so does the power, up and down: stepped says so, and then the n
// that follow are looked at too, as far as a fall is to be expected. What it returns when the
// context is done says nothing.
func NeededSize(ctx context.Context, power func(n int) float64, target float64, smallest, largest int, stepped bool) (n int, ok bool) {
	high, step := smallest, 1
	for power(high) < target {
		if high == largest || ctx.Err() != nil {
			return 0, false
		}
		high = min(largest, high+step)
		step *= 2
	}
	n = max(smallest, high-step/2)
	n += sort.Search(high-n, func(i int) bool { return ctx.Err() != nil || power(n+i) >= target })
	if !stepped {
		return n, true
	}
	for at := n; at <= n+50+2*int(math.Sqrt(float64(n))) && ctx.Err() == nil; at++ {
		if power(at) < target {
			n = at + 1
		}
	}
	return n, n <= largest
}
