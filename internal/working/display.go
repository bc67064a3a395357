package working

import (
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
)

// Display says how a quantity is written.
type Display int

const (
	Measure       Display = iota // in the response's unit
	Ratio                        // a statistic, or another number that has no scale of its own
	Share                        // an estimate without a unit: a proportion, a correlation, a ratio
	ExpectedCount                // an expected count
	Parameter                    // of a distribution, estimated: as many digits as the cases bear
	Whole                        // a count
	Degrees                      // degrees of freedom
	Given                        // as a person wrote it
	P                            // a p-value
)

// kind returns which of the problem's decimals a quantity takes.
func (d Display) kind(unit string) problem.NumberKind {
	switch {
	case d == P:
		return problem.PNumber
	case d == ExpectedCount:
		return problem.ExpectedNumber
	case d == Measure, d == Share, d == Parameter, d == Ratio && unit != "" && !strings.HasSuffix(unit, "²"):
		return problem.EstimateNumber
	}
	return problem.StatisticNumber
}

func (w *Working) decimalsFor(display Display, kind problem.NumberKind, value float64) int {
	switch {
	case display == Whole, display == Degrees && IsWhole(value):
		return 0
	case display == Given:
		return data.Decimals(value)
	case display == P:
		return w.askedOr(kind, DefaultPDecimals)
	case display == Measure:
		return w.askedOr(kind, w.measure)
	case display == Degrees:
		return w.askedOr(kind, 2)
	}
	return w.askedOr(kind, significantDecimals(value))
}

// digitsBorne returns how many digits an estimate has whose relative standard error is about 1/√n, as that
// of a rate has: one of them in doubt.
func (w *Working) digitsBorne() int {
	n := float64(max(1, w.solution.Cases.Used))
	return 2 + int(math.Ceil(math.Log10(n)/2))
}

// significantDecimals returns the usual decimals, and fewer where a number before the point has
// so many digits that they say nothing.
func significantDecimals(x float64) int {
	decimals := DefaultDecimals
	for size := math.Abs(x); decimals > 0 && size >= 1e5; size /= 10 {
		decimals--
	}
	return decimals
}
