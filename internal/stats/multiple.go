package stats

import (
	"context"
	"math"
	"runtime"
	"slices"
	"sync"

	"grund/internal/stats/dist"
)

// TukeyP returns the p-value of a pair of means among k groups that are all compared: the
// probability that the largest of all differences is as large, in standard errors (J. W.
// Tukey, The Problem of Multiple Comparisons, 1953; for unequal sizes C. Y. Kramer,
// Biometrics 12, 1956; with the variances of the pair alone P. A. Games and J. F. Howell, J.
// Educ. Statist. 1, 1976).
func TukeyP(pair MeanPair, k int) float64 {
	return dist.StudentizedRange{Groups: k, DF: pair.DF}.Upper(math.Sqrt2 * math.Abs(pair.T))
}

// TukeyReach returns how many standard errors the simultaneous interval of a difference among
// k means reaches, with the area outside it.
func TukeyReach(df float64, k int, area float64) float64 {
	return dist.StudentizedRange{Groups: k, DF: df}.UpperQuantile(area) / math.Sqrt2
}

// inParallel calls f for each index below n, on all processors. It stops early when the context
// is done, and returns its error.
func inParallel(ctx context.Context, n int, f func(i int)) error {
	workers := min(runtime.GOMAXPROCS(0), n)
	var wait sync.WaitGroup
	for w := range workers {
		wait.Go(func() {
			for i := w; i < n && ctx.Err() == nil; i += workers {
				f(i)
			}
		})
	}
	wait.Wait()
	return ctx.Err()
}

// Letters marks groups that cannot be told apart: two groups share a letter exactly where
// differ is false of them. The sets of groups are found by insertion and absorption (H.-P.
// Piepho, J. Comput. Graph. Statist. 13, 2004); they come in the order of their first group,
// each as the places of its groups.
func Letters(k int, differ func(i, j int) bool) [][]int {
	all := make([]int, k)
	for i := range all {
		all[i] = i
	}
	sets := [][]int{all}
	for i := range k {
		for j := i + 1; j < k; j++ {
			if !differ(i, j) {
				continue
			}
			var next [][]int
			for _, set := range sets {
				if slices.Contains(set, i) && slices.Contains(set, j) {
					next = append(next, without(set, i), without(set, j))
				} else {
					next = append(next, set)
				}
			}
			sets = absorbed(next)
		}
	}
	slices.SortFunc(sets, slices.Compare)
	return sets
}

func without(set []int, x int) []int {
	out := make([]int, 0, len(set)-1)
	for _, y := range set {
		if y != x {
			out = append(out, y)
		}
	}
	return out
}

// absorbed drops sets that are empty or within another.
func absorbed(sets [][]int) [][]int {
	var out [][]int
	for i, set := range sets {
		within := len(set) == 0
		for j, other := range sets {
			if i != j && subset(set, other) && (len(set) < len(other) || i > j) {
				within = true
				break
			}
		}
		if !within {
			out = append(out, set)
		}
	}
	return out
}

// subset reports whether all of a are in b; both ascend.
func subset(a, b []int) bool {
	i := 0
	for _, y := range b {
		if i < len(a) && a[i] == y {
			i++
		}
	}
	return i == len(a)
}
