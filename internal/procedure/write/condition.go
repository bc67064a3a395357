package write

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/procedure/cases"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// ConditionsStep writes the step on the conditions that were judged; more follow them.
func (s *Sheet) ConditionsStep(ids []string, more ...working.Block) {
	var blocks []working.Block
	for _, id := range ids {
		blocks = append(blocks, working.Check{Condition: id})
	}
	s.Step(working.Conditions, s.conditionResult(), append(blocks, more...)...)
}

// conditionResult sums the conditions up: "1 doubtful".
func (s *Sheet) conditionResult() working.Text {
	counts := s.StatusCounts()
	switch {
	case counts[working.NotMet] > 0:
		return working.Textf("%d not met", counts[working.NotMet])
	case counts[working.Doubtful] > 0:
		return working.Textf("%d doubtful", counts[working.Doubtful])
	}
	return working.Textf("met")
}

// TakenAsMet says that the cases are taken to be independent, and why the numbers cannot show
// it.
func (s *Sheet) TakenAsMet(says string) {
	s.Condition("independence", working.Met, working.Textf("%s", "Taken as met: "+says))
}

// What is taken for granted of cases in most tests.
const (
	Alone   = "no case tells anything about another. The numbers cannot show this."
	InGroup = "each case belongs to one group and tells nothing about another. The numbers cannot show this."
)

// muchMoved is how many of its standard errors a mean may move without a single case.
const muchMoved = 0.5

// shiftOf returns how far, in its standard errors, the mean of cases lies from that of the others
// without one of them.
func shiftOf(m stats.Moments, without float64) float64 {
	n := float64(m.N)
	if !(m.SD > 0) || n < 2 {
		return 0
	}
	return math.Abs(m.Deviation(without)) / (n - 1) / (m.SD / math.Sqrt(n))
}

// An outlier is a case that stands out from its group's box.
type outlier struct {
	group *cases.Spread
	row   int
	value float64
	far   bool // beyond three box lengths
}

// findOutliers returns the cases beyond one and a half box lengths, group by group.
func findOutliers(groups []cases.Spread) []outlier {
	var found []outlier
	for k := range groups {
		g := &groups[k]
		low, high := g.Five.Fences(1.5)
		farLow, farHigh := g.Five.Fences(3)
		for i, x := range g.Values {
			if x < low || x > high {
				found = append(found, outlier{g, g.Rows[i], x, x < farLow || x > farHigh})
			}
		}
	}
	return found
}

// Outliers names the cases that stand out (beyond 1.5 box lengths) or far out (beyond 3), with a
// way to see the solution without each.
func (s *Sheet) Outliers(groups []cases.Spread, decimals int) {
	found := findOutliers(groups)
	box, reason := "the box", "stands out"
	if len(groups) > 1 {
		box, reason = "their group's box", "stands out from its group"
	}
	if len(found) == 0 {
		s.Condition("outliers", working.Met, working.Textf("No case stands out: all lie within one and a half box lengths of %s.", box))
		return
	}
	const most = 5
	var names []string
	var ways []working.Action
	for _, o := range found[:min(most, len(found))] {
		what := working.FormatNumber(o.value, decimals)
		if o.group.Name != "" {
			what += ", " + o.group.Name
		}
		names = append(names, fmt.Sprintf("case %d (%s)", o.row, what))
		ways = append(ways, Without(o.row, fmt.Sprintf("leave-out-%d", o.row),
			"Works the problem without this case, beside this one. The case is not deleted.", reason))
	}
	list := strings.Join(names, ", ")
	if more := len(found) - most; more > 0 {
		list += fmt.Sprintf(" and %d more", more)
	}
	status, says := judgeOutliers(found, list)
	if status != working.Met {
		ways = append(ways, s.Instead...)
	}
	s.Condition("outliers", status, working.Textf("%s", says), ways...)
}

// judgeOutliers judges outliers by whether one lies far out, and by how far the mean of a group
// would move without one.
func judgeOutliers(found []outlier, list string) (working.Status, string) {
	most, moves, far := 0.0, "", false
	moments := map[*cases.Spread]stats.Moments{}
	for _, o := range found {
		far = far || o.far
		m, known := moments[o.group]
		if !known {
			m = stats.NewMoments(o.group.Values)
			moments[o.group] = m
		}
		if shift := shiftOf(m, o.value); shift > most {
			most = shift
			moves = fmt.Sprintf("Without case %d the mean of %s cases would lie %s of its standard errors away", o.row,
				working.FormatNumber(float64(len(o.group.Values)), 0), working.FormatNumber(shift, 1))
		}
	}
	const typed = "look first whether it was typed rightly."
	switch {
	case far:
		return working.NotMet, "Stands far out: " + list + ". " + moves + "; " + typed
	case most >= muchMoved:
		return working.Doubtful, "Stands out: " + list + ". " + moves + ", which matters; " + typed
	}
	return working.Met, "Stands out a little: " + list + ". " + moves + ": that does little harm, but look whether it was typed rightly."
}

// ExpectedCells judges counts that are expected for the chi-square curve: all 5 or more, or at
// least none below 1 and at most a fifth below 5 (W. G. Cochran, Biometrics 10, 1954). instead
// says what to do where they are too few.
func (s *Sheet) ExpectedCells(expected []float64, names []string, instead string, ways ...working.Action) {
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
	status, says := working.Met, fmt.Sprintf("Enough for the chi-square curve: 5 or more are expected everywhere, the least %s (%s).", shown,
		names[least])
	few := fmt.Sprintf("%d of %d expect fewer than 5, the least %s (%s)", small, len(expected), shown, names[least])
	switch {
	case small == 0:
	case expected[least] >= 1 && 5*small <= len(expected):
		status, says = working.Doubtful, few+". By the usual rule that is few; by Cochran’s it still does, "+
			"as none expects fewer than 1 and at most a fifth fewer than 5."
	default:
		status, says = working.NotMet, few+": too few for the chi-square curve. "+instead
	}
	s.Condition("expected-counts", status, working.Textf("%s", says), ways...)
}

// ByDeviations compares spreads by the distances from the medians: " By the distances from the
// medians: F = 17.005, p = 0.0003."; "" where there is no such comparison.
func (s *Sheet) ByDeviations(samples [][]float64) string {
	var moments []stats.Moments
	for _, values := range samples {
		if values == nil {
			return ""
		}
		moments = append(moments, stats.NewMoments(stats.MedianDeviations(values)))
	}
	a := stats.NewOneWay(moments)
	if !(a.Within > 0) || math.IsInf(a.F, 0) || math.IsNaN(a.F) {
		return ""
	}
	p := dist.F{DF1: a.DFBetween, DF2: a.DFWithin}.Upper(a.F)
	return fmt.Sprintf(" By the distances from the medians: F = %s, %s.", working.FormatNumber(a.F, 3), s.PWords(p))
}

// UnseenShape says that a summary, or too few cases, show no shape.
func (s *Sheet) UnseenShape(status working.Status, says string, args ...any) {
	s.Condition("normality", status, working.Textf(says, args...), s.Instead...)
}

// SummaryShape judges the shape of groups of which only a summary is given, by the size of the
// smallest. In words that is the smaller or the smallest group, of how many cases.
func (s *Sheet) SummaryShape(smallest int, inWords string) {
	if smallest >= stats.FewCases {
		s.UnseenShape(working.Met, "With at least %d cases in each group the means are close to normal, "+
			"unless the cases are strongly skewed, which a summary does not show.", smallest)
		return
	}
	s.UnseenShape(working.Doubtful, "Cannot be seen from a summary. With %s the cases themselves should be close to normal, "+
		"without far outliers.", inWords)
}
