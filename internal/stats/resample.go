package stats

import (
	"context"
	"math"
	"math/rand/v2"

	"grund/internal/stats/dist"
)

// A Sampler draws one sample as it could come up if H₀ were true, and returns its
// statistic. It keeps its own working space, so that one Sampler belongs to one
// goroutine.
type Sampler func(*rand.Rand) float64

// ShuffleLabels deals the values anew to groups of the given sizes, every deal as likely
// as another (E. J. G. Pitman, J. Roy. Statist. Soc. Suppl. 4, 1937), and takes the
// statistic of the groups.
func ShuffleLabels(values []float64, sizes []int, statistic func(groups [][]float64) float64) Sampler {
	pool := append([]float64(nil), values...)
	groups := make([][]float64, len(sizes))
	from := 0
	for i, size := range sizes {
		groups[i] = pool[from : from+size]
		from += size
	}
	return func(rng *rand.Rand) float64 {
		rng.Shuffle(len(pool), func(i, j int) { pool[i], pool[j] = pool[j], pool[i] })
		return statistic(groups)
	}
}

// FlipSigns gives each deviation from what H₀ states a sign by the toss of a coin (R. A.
// Fisher, The Design of Experiments, 1935, 21), and takes the statistic of the
// deviations.
func FlipSigns(deviations []float64, statistic func(deviations []float64) float64) Sampler {
	flipped := make([]float64, len(deviations))
	return func(rng *rand.Rand) float64 {
		var coins uint64
		for i, d := range deviations {
			if i%64 == 0 {
				coins = rng.Uint64()
			}
			flipped[i] = d
			if coins&1 == 1 {
				flipped[i] = -d
			}
			coins >>= 1
		}
		return statistic(flipped)
	}
}

// DrawNormal draws groups of the given sizes from normal populations of mean 0 with the
// given standard deviations, and takes the statistic of the groups.
func DrawNormal(sizes []int, sds []float64, statistic func(groups [][]float64) float64) Sampler {
	groups := make([][]float64, len(sizes))
	for i, size := range sizes {
		groups[i] = make([]float64, size)
	}
	return func(rng *rand.Rand) float64 {
		for i, group := range groups {
			for j := range group {
				group[j] = sds[i] * rng.NormFloat64()
			}
		}
		return statistic(groups)
	}
}

// DrawCount draws a count from its distribution under H₀, by the inverse of its lower
// tail, and takes the statistic of the count.
func DrawCount(d dist.Discrete, statistic func(count int) float64) Sampler {
	return func(rng *rand.Rand) float64 {
		return statistic(dist.LowerQuantile(d, rng.Float64()))
	}
}

// DrawTable draws a two-way table of counts with the given margins, every way to deal the
// columns to the cases of the rows as likely as another, and takes its statistic. Cell by
// cell the count is hypergeometric given those before (W. M. Patefield, Appl. Statist. 30,
// 1981).
func DrawTable(rows, columns []int, statistic func(table [][]int) float64) Sampler {
	table := make([][]int, len(rows))
	for i := range table {
		table[i] = make([]int, len(columns))
	}
	left := make([]int, len(columns))
	return func(rng *rand.Rand) float64 {
		total := 0
		for j, c := range columns {
			left[j] = c
			total += c
		}
		for i, row := range rows {
			population := total
			total -= row
			for j := range left {
				x := drawOutwards(rng, cell{dist.Hypergeometric{Population: population, Successes: left[j], Draws: row}},
					float64(row)*float64(left[j])/float64(population))
				population -= left[j]
				table[i][j] = x
				left[j] -= x
				row -= x
			}
		}
		return statistic(table)
	}
}

// DrawCounts draws n cases that fall into categories with the given shares, and takes the
// statistic of the counts.
func DrawCounts(n int, shares []float64, statistic func(counts []int) float64) Sampler {
	counts := make([]int, len(shares))
	return func(rng *rand.Rand) float64 {
		left, rest := n, 1.0
		for i, share := range shares {
			x := left
			if i < len(shares)-1 {
				of := math.Min(1, share/rest)
				x = drawOutwards(rng, dist.Binomial{N: left, P: of}, float64(left)*of)
			}
			counts[i] = x
			left -= x
			rest -= share
		}
		return statistic(counts)
	}
}

// chained is a distribution on whole numbers whose masses follow from each other.
type chained interface {
	dist.Discrete
	Ratio(k int) float64 // P(X = k+1) / P(X = k)
}

// cell is a cell of a table given those before it. Its mass is as exact as drawing needs.
type cell struct{ dist.Hypergeometric }

func (c cell) Mass(k int) float64 {
	successes, failures, drawn := c.Successes, c.Population-c.Successes, c.Draws
	return math.Exp(dist.LogFactorial(successes) - dist.LogFactorial(k) - dist.LogFactorial(successes-k) +
		dist.LogFactorial(failures) - dist.LogFactorial(drawn-k) - dist.LogFactorial(failures-drawn+k) -
		dist.LogFactorial(c.Population) + dist.LogFactorial(drawn) + dist.LogFactorial(c.Population-drawn))
}

// drawOutwards draws a number by going through those that can occur from near the mean
// outwards, to both sides in turn, until their masses reach a uniform random number.
func drawOutwards(rng *rand.Rand, d chained, mean float64) int {
	least, greatest := d.Range()
	if least == greatest {
		return least
	}
	start := max(least, min(int(mean), greatest))
	mass := d.Mass(start)
	left := rng.Float64() - mass
	if left < 0 {
		return start
	}
	low, high, below, above := start, start, mass, mass
	for low > least || high < greatest {
		if high < greatest {
			above *= d.Ratio(high)
			high++
			if left -= above; left < 0 {
				return high
			}
		}
		if low > least {
			low--
			below /= d.Ratio(low)
			if left -= below; left < 0 {
				return low
			}
		}
	}
	return start // the masses add up to a rounding less than 1
}

// Drawn is a p-value from samples drawn under H₀.
type Drawn struct {
	Repetitions int
	AsExtreme   int     // of them, those whose statistic is at least the observed one
	P           float64 // the observed sample counted with them, so that it is never 0
	SE          float64 // standard error of P
}

// DrawP draws samples and returns the share of those whose statistic is at least the
// observed one, (r + 1)/(R + 1) (A. C. Davison and D. V. Hinkley, Bootstrap Methods and
// their Application, 1997, 4.2). The same seed gives the same samples. What it returns when the
// context is done says nothing.
func DrawP(ctx context.Context, draw Sampler, observed float64, repetitions int, seed uint64) Drawn {
	d, rng := Drawn{Repetitions: repetitions}, rand.New(rand.NewPCG(seed, 0))
	// The same sample dealt in another order may differ in the last digits.
	least := observed - 1e-9*math.Max(1, math.Abs(observed))
	for range repetitions {
		if ctx.Err() != nil {
			break
		}
		if draw(rng) >= least {
			d.AsExtreme++
		}
	}
	d.P = float64(d.AsExtreme+1) / float64(repetitions+1)
	d.SE = math.Sqrt(d.P * (1 - d.P) / float64(repetitions))
	return d
}

// ShareInterval returns the ends between which a share is to be expected, in 95 of 100
// runs of n repetitions that come out as extreme with probability p, by the normal
// approximation.
func ShareInterval(p float64, n int) (low, high float64) {
	reach := 1.96 * math.Sqrt(p*(1-p)/float64(n))
	return math.Max(0, p-reach), math.Min(1, p+reach)
}
