package stats

import (
	"cmp"
	"math"
	"slices"
)

// FiveNumbers are the extremes, quartiles and median of a sample.
type FiveNumbers struct {
	Min, Q1, Median, Q3, Max float64
}

// NewFiveNumbers returns the five numbers of a sorted, non-empty sample. The
// quartiles are the medians of the lower and the upper half; with an odd number
// of cases the middle one belongs to neither half (Moore and McCabe,
// Introduction to the Practice of Statistics, 1.2). A single case is its own
// quartiles.
func NewFiveNumbers(sorted []float64) FiveNumbers {
	n := len(sorted)
	half := n / 2
	low, high := sorted[:half], sorted[n-half:]
	if half == 0 {
		low, high = sorted, sorted
	}
	return FiveNumbers{sorted[0], median(low), median(sorted), median(high), sorted[n-1]}
}

func median(sorted []float64) float64 {
	n := len(sorted)
	if n%2 == 1 {
		return sorted[n/2]
	}
	return sorted[n/2-1] + (sorted[n/2]-sorted[n/2-1])/2
}

// Fences returns Q1 − k·IQR and Q3 + k·IQR, beyond which a case stands out
// (k = 1.5) or far out (k = 3) (Tukey, Exploratory Data Analysis, 2D).
func (f FiveNumbers) Fences(k float64) (low, high float64) {
	return f.Q1 - k*(f.Q3-f.Q1), f.Q3 + k*(f.Q3-f.Q1)
}

// Whiskers returns the last of the values within the fences of 1.5 times the
// distance of the quartiles; they are the ends of a box plot's lines.
func (f FiveNumbers) Whiskers(values []float64) (low, high float64) {
	lowFence, highFence := f.Fences(1.5)
	low, high = f.Q1, f.Q3
	for _, x := range values {
		if x >= lowFence {
			low = math.Min(low, x)
		}
		if x <= highFence {
			high = math.Max(high, x)
		}
	}
	return low, high
}

// Sorted returns a sorted copy of numbers.
func Sorted(xs []float64) []float64 {
	if len(xs) < manyToSort {
		out := slices.Clone(xs)
		slices.Sort(out)
		return out
	}
	return sortedByDigits(xs)
}

// manyToSort is from how many numbers on it is quicker to sort by digits than by comparing.
const manyToSort = 2000

// sortedByDigits sorts by the bits of the numbers, eleven at a time from the last on (D. E. Knuth, The Art of
// Computer Programming, 5.2.5, algorithm R).
func sortedByDigits(xs []float64) []float64 {
	const digit, passes = 11, 6
	keys, other := make([]uint64, len(xs)), make([]uint64, len(xs))
	var counts [passes][1 << digit]int
	for i, x := range xs {
		// As whole numbers these keys are in the order of the numbers.
		key := math.Float64bits(x)
		if key>>63 == 1 {
			key = ^key
		} else {
			key |= 1 << 63
		}
		keys[i] = key
		for p := range passes {
			counts[p][key>>(digit*p)&(1<<digit-1)]++
		}
	}
	for p := range passes {
		at, first := 0, keys[0]>>(digit*p)&(1<<digit-1)
		if counts[p][first] == len(keys) {
			continue // all have the same digit
		}
		for d, n := range counts[p] {
			counts[p][d], at = at, at+n
		}
		for _, key := range keys {
			d := key >> (digit * p) & (1<<digit - 1)
			other[counts[p][d]] = key
			counts[p][d]++
		}
		keys, other = other, keys
	}
	out := make([]float64, len(xs))
	for i, key := range keys {
		if key>>63 == 1 {
			key &^= 1 << 63
		} else {
			key = ^key
		}
		out[i] = math.Float64frombits(key)
	}
	return out
}

// Ascending returns the places of xs in ascending order; equal values keep theirs.
func Ascending(xs []float64) []int {
	type placed struct {
		x  float64
		at int
	}
	all := make([]placed, len(xs))
	for i, x := range xs {
		all[i] = placed{x, i}
	}
	slices.SortFunc(all, func(a, b placed) int {
		switch {
		case a.x < b.x:
			return -1
		case a.x > b.x:
			return 1
		}
		return cmp.Or(cmp.Compare(a.x, b.x), a.at-b.at) // NaN comes first
	})
	order := make([]int, len(xs))
	for i, one := range all {
		order[i] = one.at
	}
	return order
}
