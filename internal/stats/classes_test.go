package stats

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestChooseClasses(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		n         int
		want      Classes
	}{
		{3, 197, 80, Classes{0, 25, 8}},       // 1 + log₂ 80 = 7.3, 8 classes of 24.25
		{10.1, 16.8, 33, Classes{10, 1, 7}},   // 7 classes of 0.957
		{0, 6, 200, Classes{0, 1, 7}},         // 9 classes of 0.67
		{-0.5, 0.5, 2, Classes{-0.5, 0.5, 3}}, // 2 classes of 0.5; the highest begins a third
		{5, 5, 4, Classes{4.5, 1, 1}},
	} {
		assert.Equal(t, c.want, ChooseClasses(c.low, c.high, c.n))
	}
}

func TestAValueOnABoundaryBelongsAbove(t *testing.T) {
	c := SetClasses(0, 0.1, 0.75)
	var values []float64
	for i := range 8 {
		values = append(values, float64(i)*0.1) // 0.30000000000000004 among them
	}
	assert.Equal(t, []int{1, 1, 1, 1, 1, 1, 1, 1}, c.Counts(values))
	assert.Equal(t, []int{2, 1}, Classes{1, 1, 2}.Counts([]float64{0.9, 1, 1.5, 2, 3}))
}
