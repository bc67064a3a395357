package stats

import (
	"math"
	"sort"

	"grund/internal/stats/dist"
)

// ConditionalOdds is the odds ratio of a 2×2 table given its margins: the count of the
// first cell is then noncentral hypergeometric (R. A. Fisher, J. Roy. Statist. Soc. 98,
// 1935).
type ConditionalOdds struct {
	observed, least int
	weights         []float64 // ln of the masses under a ratio of 1, from least on
}

// NewConditionalOdds returns the odds ratio of a table whose first cell is observed and has
// the distribution d if the ratio is 1.
func NewConditionalOdds(d dist.Hypergeometric, observed int) *ConditionalOdds {
	least, greatest := d.Range()
	c := &ConditionalOdds{observed: observed, least: least, weights: make([]float64, greatest-least+1)}
	// From the observed count outwards: its own probability may be too small for a number.
	for k := observed; k < greatest; k++ {
		c.weights[k+1-least] = c.weights[k-least] + math.Log(d.Ratio(k))
	}
	for k := observed; k > least; k-- {
		c.weights[k-1-least] = c.weights[k-least] - math.Log(d.Ratio(k-1))
	}
	return c
}

// negligible is the logarithm of what a mass may be of the largest one to be left out.
const negligible = -80

// sums returns, for the logarithm of a ratio, the probabilities of counts up to and from
// the observed one, and the mean count.
func (c *ConditionalOdds) sums(logRatio float64) (lower, upper, mean float64) {
	// The masses rise to their largest and fall from it.
	last := len(c.weights) - 1
	largest := sort.Search(last, func(i int) bool { return c.weights[i+1]-c.weights[i]+logRatio < 0 })
	total := 0.0
	add := func(i int) bool {
		log := c.weights[i] - c.weights[largest] + float64(i-largest)*logRatio
		if log < negligible {
			return false
		}
		mass, k := math.Exp(log), c.least+i
		total += mass
		mean += float64(k-c.observed) * mass
		if k <= c.observed {
			lower += mass
		}
		if k >= c.observed {
			upper += mass
		}
		return true
	}
	for i := largest; i <= last && add(i); i++ {
	}
	for i := largest - 1; i >= 0 && add(i); i-- {
	}
	return lower / total, upper / total, float64(c.observed) + mean/total
}

// Estimate returns the ratio of maximum likelihood: the one under which the observed count
// is the mean; 0 or infinite at the edges.
func (c *ConditionalOdds) Estimate() float64 {
	switch c.observed {
	case c.least:
		return 0
	case c.least + len(c.weights) - 1:
		return math.Inf(1)
	}
	return math.Exp(rising(func(x float64) float64 {
		_, _, mean := c.sums(x)
		return mean - float64(c.observed)
	}))
}

// Low returns the ratio under which counts as large as the observed one or larger have the
// given probability; 0 at the edge.
func (c *ConditionalOdds) Low(area float64) float64 {
	if c.observed == c.least {
		return 0
	}
	return math.Exp(rising(func(x float64) float64 {
		_, upper, _ := c.sums(x)
		return math.Log(upper) - math.Log(area)
	}))
}

// High returns the ratio under which counts as small as the observed one or smaller have
// the given probability; infinite at the edge.
func (c *ConditionalOdds) High(area float64) float64 {
	if c.observed == c.least+len(c.weights)-1 {
		return math.Inf(1)
	}
	return math.Exp(rising(func(x float64) float64 {
		lower, _, _ := c.sums(x)
		return math.Log(area) - math.Log(lower)
	}))
}

// rising returns the root of a function that rises, by bisection to the last digit.
func rising(f func(x float64) float64) float64 {
	low, high := -1.0, 1.0
	for f(low) > 0 {
		low *= 2
	}
	for f(high) < 0 {
		high *= 2
	}
	for range 200 {
		middle := low + (high-low)/2
		if middle == low || middle == high {
			break
		}
		if f(middle) < 0 {
			low = middle
		} else {
			high = middle
		}
	}
	return low + (high-low)/2
}
