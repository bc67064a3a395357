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

// muchMoved is how many of its standard errors a mean may move without a single case.
const muchMoved = 0.5

// shiftOf returns how far, in its standard errors, the mean of values lies from that of the
// others without one of them.
func shiftOf(values []float64, without float64) float64 {
	m := stats.NewMoments(values)
	n := float64(m.N)
	if !(m.SD > 0) || n < 2 {
		return 0
	}
	return math.Abs(m.Deviation(without)) / (n - 1) / (m.SD / math.Sqrt(n))
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
	farthest, moves := 0.0, "" // what leaving one out would do to the mean of its group
	for _, g := range groups {
		low, high := g.five.Fences(1.5)
		farLow, farHigh := g.five.Fences(3)
		for i, x := range g.values {
			if x < low || x > high {
				what := working.FormatNumber(x, decimals)
				if g.name != "" {
					what += ", " + g.name
				}
				found = append(found, outlier{fmt.Sprintf("case %d (%s)", g.cases[i], what), g.cases[i], x < farLow || x > farHigh})
				if shift := shiftOf(g.values, x); shift > farthest {
					farthest = shift
					moves = fmt.Sprintf("Without case %d the mean of %s cases would lie %s of its standard errors away", g.cases[i], working.FormatNumber(float64(len(g.values)), 0), working.FormatNumber(shift, 1))
				}
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
	says := "Stands out a little: %s. " + moves + ": that does little harm, but look whether it was typed rightly."
	switch {
	case far > 0:
		status, says = working.NotMet, "Stands far out: %s. "+moves+"; look first whether it was typed rightly."
	case farthest >= muchMoved:
		status, says = working.Doubtful, "Stands out: %s. "+moves+", which matters; look first whether it was typed rightly."
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
