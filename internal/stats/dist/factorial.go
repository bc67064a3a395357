package dist

import (
	"math"
	"sync"
)

// LogFactorials returns ln k! for k from 0 to n.
func LogFactorials(n int) []float64 {
	lf := make([]float64, n+1)
	for k := 2; k <= n; k++ {
		lf[k] = LogFactorial(k)
	}
	return lf
}

// firstFactorials are the first of what LogFactorial returns: most counts are small, and drawing
// tables asks for them millions of times.
var firstFactorials = sync.OnceValue(func() []float64 {
	first := make([]float64, 2000)
	for k := range first {
		first[k], _ = math.Lgamma(float64(k) + 1)
	}
	return first
})

// LogFactorial returns ln k!.
func LogFactorial(k int) float64 {
	if first := firstFactorials(); k < len(first) {
		return first[k]
	}
	x, _ := math.Lgamma(float64(k) + 1)
	return x
}
