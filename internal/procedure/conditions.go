package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// conditionKey sums the conditions up: "1 doubtful".
func (l *location) conditionKey() string {
	counts := l.StatusCounts()
	switch {
	case counts[working.NotMet] > 0:
		return fmt.Sprintf("%d not met", counts[working.NotMet])
	case counts[working.Doubtful] > 0:
		return fmt.Sprintf("%d doubtful", counts[working.Doubtful])
	}
	return "met"
}

// spread is the values of a group, "" where there is one only.
type spread struct {
	name   string
	values []float64
	cases  []int // their rows, from 1
	five   stats.FiveNumbers
}

// skewnessLimit is how lopsided a sample of n cases may be before a test of its
// mean becomes doubtful: small samples need a shape that is close to normal, from 15
// cases on only strong skewness matters, and from 40 on hardly anything does (Moore
// and McCabe, Introduction to the Practice of Statistics, 7.1).
func skewnessLimit(n int) float64 {
	switch {
	case n >= 40:
		return 2.5
	case n >= 15:
		return 1.5
	}
	return 1
}

// byShape adds the test of W to what is said of the shape of a sample: ", W = 0.897 with
// p = 0.0514"; "" where W does not exist.
func (l *location) byShape(sample spread) string {
	if !hasShape(sample) {
		return ""
	}
	w := stats.NewNormality(stats.Sorted(sample.values))
	return fmt.Sprintf("; W = %s, %s", working.FormatNumber(w.W, 3), l.pWords(w.P))
}

// pWords writes a p-value that is no quantity of the solution: "p = 0.0514".
func (l *location) pWords(p float64) string {
	shown := working.FormatP(p, l.p.Alpha, 4)
	if strings.HasPrefix(shown, "<") {
		return "p " + shown
	}
	return "p = " + shown
}

// by is the way to another procedure, shown beside this one.
func by(procedure, label, says string, set ...problem.Set) working.Action {
	return working.Action{ID: procedure, Label: label, Procedure: procedure, Compare: true, Says: says, Set: set}
}

// outliers names the cases that stand out (beyond 1.5 box lengths) or far out
// (beyond 3), with a way to see the solution without the farthest.
func (l *location) outliers(groups []spread, decimals int) {
	type outlier struct {
		text string
		row  int
		far  bool
	}
	var found []outlier
	smallest := math.MaxInt
	for _, g := range groups {
		smallest = min(smallest, len(g.values))
		low, high := g.five.Fences(1.5)
		farLow, farHigh := g.five.Fences(3)
		for i, x := range g.values {
			if x < low || x > high {
				what := working.FormatNumber(x, decimals)
				if g.name != "" {
					what += ", " + g.name
				}
				found = append(found, outlier{fmt.Sprintf("case %d (%s)", g.cases[i], what), g.cases[i], x < farLow || x > farHigh})
			}
		}
	}
	if len(found) == 0 {
		box := "the box"
		if len(groups) > 1 {
			box = "their group's box"
		}
		l.Condition("outliers", working.Met, working.Textf("No case stands out: all lie within one and a half box lengths of %s.", box))
		return
	}
	status, far := working.Met, 0
	reason := "stands out"
	if len(groups) > 1 {
		reason = "stands out from its group"
	}
	var names []string
	var ways []working.Action
	const most = 5
	for _, o := range found {
		if o.far {
			far++
		}
		if len(names) < most {
			names = append(names, o.text)
			ways = append(ways, working.Action{
				ID: fmt.Sprintf("leave-out-%d", o.row), Label: fmt.Sprintf("Leave case %d out and compare", o.row), Compare: true,
				Says: "Works the problem without this case, beside this one. The case is not deleted.",
				Set:  []problem.Set{{Pointer: "/leave_out/-", Value: map[string]any{"case": o.row, "reason": reason}}},
			})
		}
	}
	list := strings.Join(names, ", ")
	if len(found) > most {
		list += fmt.Sprintf(" and %d more", len(found)-most)
	}
	says := "Stands out a little: %s. With so many cases that does no harm, but look whether it was typed rightly."
	switch {
	case far > 0:
		status, says = working.NotMet, "Stands far out: %s. One such case can move a mean and swell its spread; look first whether it was typed rightly."
	case smallest < 15:
		status, says = working.Doubtful, "Stands out: %s. With so few cases that can matter; look first whether it was typed rightly."
	}
	if status != working.Met {
		ways = append(ways, l.instead...)
	}
	l.Condition("outliers", status, working.Textf("%s", fmt.Sprintf(says, list)), ways...)
}

// expectedCells judges counts that are expected for the chi-square curve: all 5 or more, or
// at least none below 1 and at most a fifth below 5 (W. G. Cochran, Biometrics 10, 1954).
// instead says what to do where they are too few.
func (l *location) expectedCells(expected []float64, names []string, instead string, ways ...working.Action) {
	small, least := 0, 0
	for i, e := range expected {
		if e < 5 {
			small++
		}
		if e < expected[least] {
			least = i
		}
	}
	shown := working.FormatNumber(expected[least], 1)
	switch {
	case small == 0:
		l.Condition("expected-counts", working.Met, working.Textf("Enough for the chi-square curve: 5 or more are expected everywhere, the least %s (%s).", shown, names[least]), ways...)
	case expected[least] >= 1 && 5*small <= len(expected):
		l.Condition("expected-counts", working.Doubtful, working.Textf("%d of %d expect fewer than 5, the least %s (%s). By the usual rule that is few; by Cochran’s it still does, as none expects fewer than 1 and at most a fifth fewer than 5.", small, len(expected), shown, names[least]), ways...)
	default:
		l.Condition("expected-counts", working.NotMet, working.Textf("%d of %d expect fewer than 5, the least %s (%s): too few for the chi-square curve. %s", small, len(expected), shown, names[least], instead), ways...)
	}
}
