package procedure

import (
	"fmt"
	"strings"

	"grund/internal/working"
)

// groupsFigure draws groups beside each other, as the figure "look", and says how that is
// read. decimals are those of the values.
func (l *location) groupsFigure(g *grouped, decimals int) (reading string) {
	f := &working.Figure{ID: "look", Title: fmt.Sprintf("%s by %s", g.response.Label, inSentence(g.factor)),
		Axis: working.Axis{Label: g.response.Label, Unit: g.response.Unit}}
	var ends []float64
	var says []string
	for row := range g.groups {
		one := &g.groups[row]
		var opens []working.Ref
		if ref := working.Ref(fmt.Sprintf("mean_%d", row+1)); l.Has(ref) {
			opens = []working.Ref{ref}
		}
		if g.summary {
			f.Form = working.Intervals
			low, high := one.moments.Mean-one.moments.SD, one.moments.Mean+one.moments.SD
			if one.moments.N == 1 {
				low, high = one.moments.Mean, one.moments.Mean
			}
			f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: one.name, Row: row,
				X: working.Positions(low, one.moments.Mean, high), Refs: opens})
			ends = append(ends, low, high)
			says = append(says, fmt.Sprintf("%s: mean %s, one standard deviation %s to either side", one.name, working.FormatShortest(one.moments.Mean), working.FormatShortest(one.moments.SD)))
			continue
		}
		f.Form = working.Boxes
		five := one.five
		low, high := five.Whiskers(one.values)
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Box, Role: working.Observed, Label: one.name, Row: row, X: working.Positions(low, five.Q1, five.Median, five.Q3, high)},
			working.Mark{Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(one.values...), Case: one.cases},
			working.Mark{Shape: working.Points, Role: working.MeanMark, Row: row, X: working.Positions(one.moments.Mean), Refs: opens})
		ends = append(ends, five.Min, five.Max)
		says = append(says, fmt.Sprintf("%s: from %s to %s, middle half %s to %s, median %s", one.name,
			working.FormatNumber(five.Min, decimals), working.FormatNumber(five.Max, decimals),
			working.FormatNumber(five.Q1, decimals+1), working.FormatNumber(five.Q3, decimals+1), working.FormatNumber(five.Median, decimals+1)))
	}
	low, high := working.Padded(0.05, ends...)
	f.Axis.Min, f.Axis.Max = working.Number(low), working.Number(high)
	f.Says = strings.Join(says, ". ") + "."
	l.Figure(f)

	if g.summary {
		return "The dot is the mean of a group, the bar reaches one standard deviation to either side."
	}
	return "Each dot is a case. The box holds the middle half of a group, the thick line is its median, the ring its mean; the whiskers end at the last case within one and a half box lengths. A quartile is the median of its half."
}
