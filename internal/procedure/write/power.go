package write

import (
	"fmt"
	"math"
	"strconv"

	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// Region returns the ends of the rejection region of a symmetric reference distribution; with one
// tail the other end is infinite.
func (s *Sheet) Region(reference dist.Distribution) (low, high float64) {
	switch {
	case !s.Direction.Directed():
		high = reference.UpperQuantile(s.P.Alpha / 2)
		return -high, high
	case s.Direction.Below():
		return reference.LowerQuantile(s.P.Alpha), math.Inf(1)
	}
	return math.Inf(-1), reference.UpperQuantile(s.P.Alpha)
}

// Stated is what is taken to be true at first: half a standard deviation, a medium effect, on the
// side of H₁.
func (e *Estimate) Stated(sd float64) float64 {
	distance := problem.Sides[float64]{Both: 1, Less: -1, Greater: 1}.Of(e.Direction.Tail) * rounded(0.5*sd, 1)
	// As a decimal: 41 + 0.3 is 41.3.
	return stats.DecimalDifference(e.Null, -distance)
}

// SpreadInput asks for a standard deviation, rounded to three digits to begin with.
func SpreadInput(id, label, unit string, sd float64) working.PowerInput {
	return working.PowerInput{ID: id, Label: label, Unit: unit, Value: rounded(sd, 3), Above: new(0.0)}
}

// rounded returns x with that many significant digits.
func rounded(x float64, digits int) float64 {
	short, err := strconv.ParseFloat(strconv.FormatFloat(x, 'g', digits, 64), 64)
	if err != nil {
		return x // the largest of numbers rounds to none
	}
	return short
}

// Shared shares n cases between two groups as the present ones are shared, with at least least
// for each.
func Shared(n, n1, n2, least int) (first, second int) {
	first = int(math.Round(float64(n) * float64(n1) / float64(n1+n2)))
	first = min(max(first, least), n-least)
	return first, n - first
}

// SharedWords names how cases are shared between two groups.
func SharedWords(n1, n2, least int) func(n int) string {
	return func(n int) string {
		first, second := Shared(n, n1, n2, least)
		return fmt.Sprintf("%d and %d", first, second)
	}
}
