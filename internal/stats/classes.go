package stats

import "math"

// Classes are ranges of equal width that follow on each other. A value on a
// boundary belongs to the class above it.
type Classes struct {
	Start float64 // the lower end of the first class
	Width float64
	Count int
}

// ChooseClasses returns classes that hold n values from low to high: 1 + log₂ n of
// them, rounded up (Sturges, Journal of the American Statistical Association 21,
// 1926), their width rounded up to 1, 2, 2.5 or 5 times a power of ten, starting at
// a multiple of it.
func ChooseClasses(low, high float64, n int) Classes {
	if !(high > low) {
		width := math.Max(1, math.Abs(low)/10)
		return Classes{Start: low - width/2, Width: width, Count: 1}
	}
	wanted := math.Ceil(1 + math.Log2(float64(max(n, 1))))
	width := roundedUp((high - low) / wanted)
	return SetClasses(math.Floor(low/width)*width, width, high)
}

// SetClasses returns classes of a given start and width that reach past high.
func SetClasses(start, width, high float64) Classes {
	count := int(math.Floor((high-start)/width)) + 1
	return Classes{Start: start, Width: width, Count: max(count, 1)}
}

// roundedUp returns the least of 1, 2, 2.5 and 5 times a power of ten that is not
// below x.
func roundedUp(x float64) float64 {
	power := math.Pow10(int(math.Floor(math.Log10(x))))
	for _, factor := range []float64{1, 2, 2.5, 5, 10} {
		if width := factor * power; width >= x*(1-1e-12) {
			return width
		}
	}
	return 10 * power
}

// Boundary returns the lower end of class i, from 0; that of class Count is the
// upper end of the last.
func (c Classes) Boundary(i int) float64 { return c.Start + float64(i)*c.Width }

// Counts returns how many of the values each class holds. Values outside are left
// out.
func (c Classes) Counts(values []float64) []int {
	counts := make([]int, c.Count)
	for _, x := range values {
		i := int(math.Floor((x - c.Start) / c.Width))
		// The quotient may be rounded across a boundary that the value is on.
		if i+1 <= c.Count && x >= c.Boundary(i+1) {
			i++
		} else if i >= 0 && i < c.Count && x < c.Boundary(i) {
			i--
		}
		if i >= 0 && i < c.Count {
			counts[i]++
		}
	}
	return counts
}
