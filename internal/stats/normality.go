package stats

import (
	"math"

	"grund/internal/stats/dist"
)

// MinNormality and MaxNormality are how many cases W can be had for.
const (
	MinNormality = 3
	MaxNormality = 5000
)

// Normality is the test of W: how closely a sample in its order follows the scores
// that a normal sample would have.
type Normality struct {
	W    float64
	Rest float64 // 1 − W, with its own digits
	Z    float64 // the normal score of W; NaN for three cases, whose p is exact
	P    float64
	// Scores are the expected normal scores of the sample in ascending order (G. Blom,
	// Statistical Estimates and Transformed Beta-Variables, 1958).
	Scores  []float64
	Weights []float64 // of the sample in ascending order, of length 1
}

// NewNormality returns W of a sorted sample of 3 to 5,000 values that are not all
// equal (S. S. Shapiro and M. B. Wilk, Biometrika 52, 1965), with weights and p by
// P. Royston (Applied Statistics 44, 1995, algorithm AS R94, complete samples).
func NewNormality(sorted []float64) Normality {
	n := len(sorted)
	t := Normality{Scores: make([]float64, n), Z: math.NaN()}
	for i := range n / 2 { // the middle one of an odd number is 0
		t.Scores[i] = dist.Normal{}.LowerQuantile((float64(i+1) - 0.375) / (float64(n) + 0.25))
		t.Scores[n-1-i] = -t.Scores[i]
	}
	t.Weights = weights(t.Scores)
	t.Rest = distanceFrom(sorted, t.Weights)
	t.W = 1 - t.Rest
	if n == 3 {
		t.P = exactOfThree(sorted)
		return t
	}
	y := math.Log(t.Rest)
	size := float64(n)
	var mean, sd float64
	if n <= 11 {
		y = -math.Log(polynomial(size, -2.273, 0.459) - y)
		mean = polynomial(size, 0.544, -0.39978, 0.025054, -6.714e-4)
		sd = math.Exp(polynomial(size, 1.3822, -0.77857, 0.062767, -0.0020322))
	} else {
		log := math.Log(size)
		mean = polynomial(log, -1.5861, -0.31082, -0.083751, 0.0038915)
		sd = math.Exp(polynomial(log, -0.4803, -0.082676, 0.0030302))
	}
	t.Z = (y - mean) / sd
	t.P = dist.Normal{}.Upper(t.Z)
	return t
}

// weights returns Royston's weights, of length 1, for scores in ascending order.
func weights(scores []float64) []float64 {
	n := len(scores)
	a := make([]float64, n)
	put := func(i int, x float64) { a[i], a[n-1-i] = -x, x }
	if n == 3 {
		put(0, math.Sqrt2/2)
		return a
	}
	sum := 0.0
	for _, m := range scores {
		sum += m * m
	}
	root := 1 / math.Sqrt(float64(n))
	outer := polynomial(root, -scores[0]/math.Sqrt(sum), 0.221157, -0.147981, -2.07119, 4.434685, -2.706056)
	put(0, outer)
	inner, taken, left := 1, 2*outer*outer, sum-2*scores[0]*scores[0]
	if n > 5 {
		next := polynomial(root, -scores[1]/math.Sqrt(sum), 0.042981, -0.293762, -1.752461, 5.682633, -3.582633)
		put(1, next)
		inner, taken, left = 2, taken+2*next*next, left-2*scores[1]*scores[1]
	}
	scale := math.Sqrt(left / (1 - taken))
	for i := inner; i < n/2; i++ {
		put(i, -scores[i]/scale)
	}
	return a
}

// distanceFrom returns 1 − W. With u the deviations from the mean and a the weights,
// both of length 1, W is (u·a)² and u·a is 1 − |u − a|²/2, which loses no digits
// where W is close to 1.
func distanceFrom(sorted, a []float64) float64 {
	m := NewMoments(sorted)
	length := m.SD * math.Sqrt(float64(m.N-1))
	half := 0.0
	for i, x := range sorted {
		d := (x-m.Mean)/length - a[i]
		half += d * d / 2
	}
	return half * (2 - half)
}

// exactOfThree returns p of three cases, 6/π·(arcsin √W − π/3) (Shapiro and Wilk
// 1965), from the two gaps between them, so that no digits cancel.
func exactOfThree(sorted []float64) float64 {
	first, second := sorted[1]-sorted[0], sorted[2]-sorted[1]
	scale := math.Max(first, second)
	first, second = first/scale, second/scale
	q := first*first + first*second + second*second
	w, rest := 0.75*(first+second)*(first+second)/q, (first-second)*(first-second)/(4*q)
	above := 0.75 * first * second / q // W − 3/4
	return 6 / math.Pi * math.Asin(above/(math.Sqrt(w)/2+math.Sqrt(0.75*rest)))
}

// polynomial returns c₀ + c₁x + c₂x² + ….
func polynomial(x float64, c ...float64) float64 {
	sum := 0.0
	for i := len(c) - 1; i >= 0; i-- {
		sum = sum*x + c[i]
	}
	return sum
}
