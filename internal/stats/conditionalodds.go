package stats

import (
	"math"

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
	c := &ConditionalOdds{observed: observed, least: least}
	for k := least; k <= greatest; k++ {
		c.weights = append(c.weights, math.Log(d.Mass(k)))
	}
	return c
}

// sums returns, for the logarithm of a ratio, the probabilities of counts up to and from
// the observed one, and the mean count.
func (c *ConditionalOdds) sums(logRatio float64) (lower, upper, mean float64) {
	largest := math.Inf(-1)
	for i, w := range c.weights {
		largest = math.Max(largest, w+float64(i)*logRatio)
	}
	total := 0.0
	for i, w := range c.weights {
		mass := math.Exp(w + float64(i)*logRatio - largest)
		k := c.least + i
		total += mass
		mean += float64(k) * mass
		if k <= c.observed {
			lower += mass
		}
		if k >= c.observed {
			upper += mass
		}
	}
	return lower / total, upper / total, mean / total
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
