package dist

import (
	"fmt"
	"math"
	"testing"
)

// BenchmarkCost prints what a tail and a quantile of each distribution cost.
func BenchmarkCost(b *testing.B) {
	for _, d := range []Distribution{
		Normal{}, T{DF: 16.3}, T{DF: 5000}, ChiSquare{DF: 3}, ChiSquare{DF: 1000}, F{DF1: 3, DF2: 42}, F{DF1: 1000, DF2: 1e6},
		Exponential{Rate: 0.1}, Uniform{Min: 0, Max: 1},
		StudentizedRange{Groups: 3, DF: 30}, StudentizedRange{Groups: 100, DF: 400}, StudentizedRange{Groups: 4, DF: 2},
		StudentizedRange{Groups: 5, DF: math.Inf(1)},
	} {
		x := d.UpperQuantile(0.04)
		b.Run(fmt.Sprintf("%T%+v/upper", d, d), func(b *testing.B) {
			for b.Loop() {
				d.Upper(x)
			}
		})
		b.Run(fmt.Sprintf("%T%+v/quantile", d, d), func(b *testing.B) {
			for b.Loop() {
				d.UpperQuantile(0.05)
			}
		})
	}
	for _, d := range []Discrete{Binomial{N: 240, P: 0.8}, Poisson{Mean: 7.5}, Hypergeometric{Population: 240, Successes: 170, Draws: 110}} {
		k := UpperQuantile(d, 0.04)
		b.Run(fmt.Sprintf("%T%+v/upper", d, d), func(b *testing.B) {
			for b.Loop() {
				d.Upper(k)
			}
		})
		b.Run(fmt.Sprintf("%T%+v/quantile", d, d), func(b *testing.B) {
			for b.Loop() {
				UpperQuantile(d, 0.05)
			}
		})
	}
	ranks := make([]float64, 60)
	for i := range ranks {
		ranks[i] = float64(i + 1)
	}
	b.Run("Exact/rank sum of 30 and 30", func(b *testing.B) {
		for b.Loop() {
			NewRankSum(ranks, 30)
		}
	})
	b.Run("Exact/signed ranks of 60", func(b *testing.B) {
		for b.Loop() {
			NewSignedRank(ranks)
		}
	})
	b.Run("NoncentralT", func(b *testing.B) {
		for b.Loop() {
			NoncentralT{DF: 31, Noncentrality: 2}.Upper(2.04)
		}
	})
}
