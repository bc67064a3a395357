package working

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestThinned(t *testing.T) {
	few := &Figure{Marks: []Mark{{Shape: Points, Role: Observed, X: make(Numbers, MostDots)}}}
	assert.Same(t, few, few.Thinned())

	// A case that stands out has a dot and a ring, and is one case.
	boxes := &Figure{Marks: []Mark{{Shape: Points, Role: Observed}, {Shape: Points, Role: Outlier, X: Numbers{1, 2}, Case: []int{7, 9}}}}
	for i := range 3000 {
		boxes.Marks[0].X, boxes.Marks[0].Case = append(boxes.Marks[0].X, Number(i)), append(boxes.Marks[0].Case, i+1)
	}
	assert.Contains(t, boxes.Thinned().Thin, "of 3000 cases are drawn")

	rng := rand.New(rand.NewPCG(3, 3))
	mark := func(n, row int) Mark {
		m := Mark{Shape: Points, Role: Observed, Row: row}
		for i := range n {
			m.X, m.Y = append(m.X, Number(rng.NormFloat64())), append(m.Y, Number(rng.NormFloat64()))
			m.Case = append(m.Case, 1_000_000*row+i+1)
		}
		return m
	}
	figure := &Figure{Says: "Dots.", Marks: []Mark{
		mark(90_000, 0), {Shape: Points, Role: MeanMark, X: make(Numbers, 3000)}, mark(10_000, 1), mark(1, 2),
		{Shape: Line, X: make(Numbers, 5000)},
	}}
	thin := figure.Thinned()
	assert.Equal(t, thin, figure.Thinned(), "the same each time")
	drawn := 0
	for i, m := range thin.Marks {
		whole := figure.Marks[i]
		if m.Role != Observed {
			assert.Equal(t, whole, m)
			continue
		}
		drawn += len(m.X)
		assert.Equal(t, []int{len(m.X), len(m.X)}, []int{len(m.Y), len(m.Case)})
		assert.Equal(t, []Number{slices.Min(whole.X), slices.Max(whole.X), slices.Min(whole.Y), slices.Max(whole.Y)},
			[]Number{slices.Min(m.X), slices.Max(m.X), slices.Min(m.Y), slices.Max(m.Y)})
		for j, number := range m.Case {
			at := number - 1_000_000*m.Row - 1
			assert.Equal(t, [2]Number{whole.X[at], whole.Y[at]}, [2]Number{m.X[j], m.Y[j]}, "each stays with its case")
		}
		assert.True(t, slices.IsSorted(m.Case))
	}
	assert.InDelta(t, MostDots, drawn, 20)
	assert.InDelta(t, 9, float64(len(thin.Marks[0].X))/float64(len(thin.Marks[2].X)), 0.5, "each mark in its share")
	assert.Contains(t, thin.Thin, "100\u202f001 cases")
	assert.Equal(t, "Dots. "+thin.Thin, thin.Says)
	assert.Len(t, figure.Marks[0].X, 90_000, "the whole is as it was")

	// A part that is chosen evenly has the mean of the whole, within what chance leaves.
	sum := 0.0
	for _, x := range thin.Marks[0].X {
		sum += float64(x)
	}
	n := float64(len(thin.Marks[0].X))
	assert.Less(t, math.Abs(sum/n), 4/math.Sqrt(n))
}
