package stats

import "math"

// A WeighedMean is a sample mean that takes part in an estimate Σ wᵢ x̄ᵢ.
type WeighedMean struct {
	Weight   float64
	N        int
	SD       float64
	Skewness float64 // of the cases
}

// SkewnessOfMeans returns the skewness of Σ wᵢ x̄ᵢ, of independent means:
//
//	Σ wᵢ³ gᵢ sᵢ³/nᵢ² / (Σ wᵢ² sᵢ²/nᵢ)^{3/2},
//
// as third cumulants add up as variances do (M. G. Kendall and A. Stuart, The Advanced Theory of
// Statistics, volume 1, 3.12). Of one mean it is g/√n. It is 0 where there is no spread.
func SkewnessOfMeans(means ...WeighedMean) float64 {
	// Taken relative to the largest term, so that nothing overflows or vanishes.
	largest := 0.0
	for _, m := range means {
		largest = math.Max(largest, math.Abs(m.Weight)*m.SD/math.Sqrt(float64(m.N)))
	}
	if !(largest > 0) {
		return 0
	}
	third, second := 0.0, 0.0
	for _, m := range means {
		se := m.Weight * m.SD / math.Sqrt(float64(m.N)) / largest
		second += se * se
		third += se * se * se * m.Skewness / math.Sqrt(float64(m.N))
	}
	return third / (second * math.Sqrt(second))
}

// SkewnessOfSlope returns the skewness of a least squares slope whose residuals have skewness
// g: it is a sum of the residuals weighed by their distance d along the predictor, and has
// g Σd³/(Σd²)^{3/2}.
func SkewnessOfSlope(predictor []float64, g float64) float64 {
	m := NewMoments(predictor)
	if !(m.SD > 0) {
		return 0
	}
	return g * m.Skewness(predictor) * float64(m.N) / math.Pow(float64(m.N-1), 1.5)
}

// Shape is what the cases show of the shape that a test of means takes for granted. What
// matters is not whether the cases are normal, but whether what is estimated nearly is.
type Shape struct {
	Skewness float64 // of what is tested: SkewnessOfMeans, or SkewnessOfSlope
	OneTail  bool
	// Rejected says that W finds the cases of some group not normal, at ShapeLevel, and Few that
	// this is so of a group of fewer than FewCases.
	Rejected, Few bool
}

// ShapeLevel is the level at which W speaks of a shape, whatever the problem's own is.
const ShapeLevel = 0.05

// FewCases is up to where W has the word beside the skewness: so few cases show their skewness
// badly, and a sample of a lopsided population often looks even.
const FewCases = 40

// ShapeVerdict says how far the error of a test of means lies from the one that is stated.
type ShapeVerdict int

const (
	// ShapeServes: a test at 0.05 errs in at most about 6 % of samples with two tails, in 3 to
	// 7.5 % with one.
	ShapeServes ShapeVerdict = iota
	// ShapeDoubtful: up to about 9 % with two tails, 11 % with one.
	ShapeDoubtful
	// ShapeFails: more.
	ShapeFails
)

// Limit returns how skewed what is tested may be. One tail is the more sensitive: what skewness
// adds to the error of one side it takes from the other, and with two tails the two nearly
// balance.
func (s Shape) Limit() float64 {
	if s.OneTail {
		return 0.2
	}
	return 0.25
}

// Judge judges the shape. The limits come from simulated samples of skewed populations; the
// true errors stand in docs/shape.md, which cmd/shapes writes.
func (s Shape) Judge() ShapeVerdict {
	switch size := math.Abs(s.Skewness); {
	case size > 2*s.Limit():
		return ShapeFails
	case size > s.Limit() || s.Rejected && s.Few:
		return ShapeDoubtful
	}
	return ShapeServes
}
