package stats

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// binomial returns the probabilities of a binomial distribution, by Pascal's rule.
func binomial(n int, p float64) []float64 {
	masses := []float64{1}
	for range n {
		next := make([]float64, len(masses)+1)
		for k, m := range masses {
			next[k] += m * (1 - p)
			next[k+1] += m * p
		}
		masses = next
	}
	return masses
}

// The skewness of weighed means of two samples of yes and no, against their distribution
// written out.
func TestSkewnessOfMeans(t *testing.T) {
	for _, c := range []struct {
		n1, n2 int
		p1, p2 float64
		w1, w2 float64
	}{{3, 5, 0.25, 0.1, 1, -1}, {4, 4, 0.2, 0.2, 1, -1}, {2, 7, 0.9, 0.3, 1, 1}, {6, 1, 0.05, 0.5, 2, -0.5}, {9, 3, 0.3, 0.8, 1, 0}} {
		part := func(w float64, n int, p float64) WeighedMean {
			return WeighedMean{Weight: w, N: n, SD: math.Sqrt(p * (1 - p)), Skewness: (1 - 2*p) / math.Sqrt(p*(1-p))}
		}
		mean := c.w1*c.p1 + c.w2*c.p2
		second, third := 0.0, 0.0
		for k1, m1 := range binomial(c.n1, c.p1) {
			for k2, m2 := range binomial(c.n2, c.p2) {
				d := c.w1*float64(k1)/float64(c.n1) + c.w2*float64(k2)/float64(c.n2) - mean
				second += m1 * m2 * d * d
				third += m1 * m2 * d * d * d
			}
		}
		got := SkewnessOfMeans(part(c.w1, c.n1, c.p1), part(c.w2, c.n2, c.p2))
		assert.InDelta(t, third/math.Pow(second, 1.5), got, 1e-12, "%+v", c)
	}
	assert.Equal(t, 0.5, SkewnessOfMeans(WeighedMean{Weight: 1, N: 16, SD: 3, Skewness: 2}), "of one mean g/√n")
	assert.Zero(t, SkewnessOfMeans(WeighedMean{Weight: 1, N: 4}), "without spread")
	assert.InDelta(t, 0.5, SkewnessOfMeans(WeighedMean{Weight: 1, N: 16, SD: 1e300, Skewness: 2}), 1e-15)
}

// The slope is Σ d y/Σ d², so that its third cumulant is Σ d³ times that of a residual.
func TestSkewnessOfSlope(t *testing.T) {
	x := []float64{1, 2, 3, 10}
	second, third := 0.0, 0.0
	for _, each := range x {
		d := each - 4
		second += d * d
		third += d * d * d
	}
	assert.InDelta(t, 1.5*third/math.Pow(second, 1.5), SkewnessOfSlope(x, 1.5), 1e-14)
	assert.InDelta(t, 0, SkewnessOfSlope([]float64{1, 2, 3, 4}, 1.5), 1e-15, "an even predictor makes an even slope")
	assert.Zero(t, SkewnessOfSlope([]float64{2, 2, 2}, 1.5))
}

func TestJudgeShape(t *testing.T) {
	for name, c := range map[string]struct {
		shape Shape
		want  ShapeVerdict
	}{
		"hardly skewed":            {Shape{Skewness: -0.1}, ShapeServes},
		"at the limit":             {Shape{Skewness: 0.25}, ShapeServes},
		"beyond it":                {Shape{Skewness: -0.26}, ShapeDoubtful},
		"at twice the limit":       {Shape{Skewness: 0.5}, ShapeDoubtful},
		"far beyond":               {Shape{Skewness: 0.51}, ShapeFails},
		"one tail":                 {Shape{Skewness: 0.22, OneTail: true}, ShapeDoubtful},
		"one tail, far":            {Shape{Skewness: 0.42, OneTail: true}, ShapeFails},
		"not normal, and many":     {Shape{Skewness: 0.1, Rejected: true}, ShapeServes},
		"not normal, and few":      {Shape{Skewness: 0.1, Rejected: true, Few: true}, ShapeDoubtful},
		"not normal, few and far":  {Shape{Skewness: 0.9, Rejected: true, Few: true}, ShapeFails},
		"not normal, many and far": {Shape{Skewness: 0.9, Rejected: true}, ShapeFails},
	} {
		assert.Equal(t, c.want, c.shape.Judge(), name)
	}
}
