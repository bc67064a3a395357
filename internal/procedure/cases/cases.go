// Package cases reads out of a problem the cases that a procedure works with: one sample or the
// differences of pairs, a response in groups, or the levels of a category. What is left out is
// not among them. Errors are of type problem.Errors and name the place in the problem.
package cases

import (
	"fmt"
	"strings"
	"sync"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/words"
)

// A Spread is a set of values as the conditions of a test are judged by them.
type Spread struct {
	Name   string            // of the group, "" where there is one only
	Values []float64         // nil where only a summary is given
	Rows   []int             // of the cases, from 1
	Five   stats.FiveNumbers // of the values

	normality func() stats.Normality
}

// NewSpread returns the spread of values.
func NewSpread(name string, values []float64, rows []int) Spread {
	s := Spread{Name: name, Values: values, Rows: rows}
	if len(values) > 0 {
		sorted := stats.Sorted(values)
		s.Five = stats.NewFiveNumbers(sorted)
		s.normality = sync.OnceValue(func() stats.Normality { return stats.NewNormality(sorted) })
	}
	return s
}

// HasShape reports whether W of Shapiro and Wilk exists for the values.
func (s *Spread) HasShape() bool {
	n := len(s.Values)
	return n >= stats.MinNormality && n <= stats.MaxNormality && s.Five.Min != s.Five.Max
}

// Normality returns what W says of the values, which HasShape says that it exists for. It is
// calculated once.
func (s *Spread) Normality() stats.Normality { return s.normality() }

// Used returns how many levels of a category occur.
func Used(v *data.Variable) int {
	seen := map[int]bool{}
	for _, code := range v.Codes {
		if code >= 0 {
			seen[code] = true
		}
	}
	return len(seen)
}

// LevelNames returns the names of a category's levels.
func LevelNames(v *data.Variable) []string {
	names := make([]string, len(v.Levels))
	for i, level := range v.Levels {
		names[i] = level.Name
	}
	return names
}

// mostReasons is how many reasons for leaving cases out are told one by one.
const mostReasons = 12

// LeftOut says why cases are not used: those that a person left out by their reasons, then the
// others of the total, with theirs.
func LeftOut(leftOut []problem.LeftOut, total int, others string) string {
	var reasons []string
	numbers := map[string][]int{}
	for _, left := range leftOut {
		if numbers[left.Reason] == nil {
			reasons = append(reasons, left.Reason)
		}
		numbers[left.Reason] = append(numbers[left.Reason], left.Case)
	}
	var parts []string
	told := 0
	for _, reason := range reasons[:min(len(reasons), mostReasons)] {
		told += len(numbers[reason])
		part := fmt.Sprintf("case %d", numbers[reason][0])
		if n := len(numbers[reason]); n > 1 {
			part = words.Count(n, "case")
		}
		if reason != "" {
			part += " (" + reason + ")"
		}
		parts = append(parts, part)
	}
	if n := len(leftOut) - told; n > 0 {
		parts = append(parts, words.Count(n, "case")+" for "+words.Count(len(reasons)-mostReasons, "other reason"))
	}
	if n := total - len(leftOut); n > 0 {
		parts = append(parts, words.Count(n, "case")+" "+others)
	}
	return strings.Join(parts, "; ")
}

// TooFarApart refuses numbers whose differences or squares no double holds.
func TooFarApart() error {
	return problem.Errors{{Pointer: "/data", Says: "the numbers are too far apart in size to calculate with",
		Instead: "write them in another unit"}}
}
