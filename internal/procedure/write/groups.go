package write

import (
	"fmt"
	"strings"

	"grund/internal/procedure/cases"
	"grund/internal/words"
	"grund/internal/working"
)

// GroupsTitle is the title of what shows a response by groups.
func GroupsTitle(g *cases.Groups) string {
	return g.Response.Label + " by " + words.InSentence(g.Factor)
}

// BoxMarks draws cases as a box with a dot for each of them and a ring for their mean, in a row
// of a figure. opens are the quantities that the ring opens.
func BoxMarks(row int, of cases.Spread, mean float64, opens ...working.Ref) []working.Mark {
	low, high := of.Five.Whiskers(of.Values)
	return []working.Mark{
		{
			Shape: working.Box, Role: working.Observed, Label: of.Name, Row: row,
			X: working.Positions(low, of.Five.Q1, of.Five.Median, of.Five.Q3, high),
		},
		{Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(of.Values...), Case: of.Rows},
		{Shape: working.Points, Role: working.MeanMark, Row: row, X: working.Positions(mean), Refs: opens},
	}
}

// SpreadMark draws a mean with one standard deviation to either side; of a single case there is
// none.
func SpreadMark(row int, g *cases.Group) (mark working.Mark, low, high float64) {
	low, high = g.Moments.Mean-g.Moments.SD, g.Moments.Mean+g.Moments.SD
	if g.Moments.N == 1 {
		low, high = g.Moments.Mean, g.Moments.Mean
	}
	return working.Mark{
		Shape: working.Interval, Role: working.Observed, Label: g.Name, Row: row, X: working.Positions(low, g.Moments.Mean, high),
	}, low, high
}

// GroupsFigure draws groups beside each other, as the figure "look", and says how that is read.
// decimals are those of the values.
func (s *Sheet) GroupsFigure(g *cases.Groups, decimals int) (reading string) {
	f := &working.Figure{
		ID: "look", Form: working.Boxes, Title: GroupsTitle(g), Axis: working.Axis{Label: g.Response.Label, Unit: g.Response.Unit},
	}
	reading = "Each dot is a case. The box holds the middle half of a group, the thick line is its median, the ring its mean; " +
		"the whiskers end at the last case within one and a half box lengths. A quartile is the median of its half."
	if g.Summary {
		f.Form = working.Intervals
		reading = "The dot is the mean of a group, the bar reaches one standard deviation to either side."
	}
	var ends []float64
	var says []string
	for row := range g.Each {
		one := &g.Each[row]
		var opens []working.Ref
		if ref := Indexed("mean", row+1); s.Has(ref) {
			opens = []working.Ref{ref}
		}
		if g.Summary {
			mark, low, high := SpreadMark(row, one)
			mark.Refs = opens
			f.Marks = append(f.Marks, mark)
			ends = append(ends, low, high)
			says = append(says, fmt.Sprintf("%s: mean %s, one standard deviation %s to either side", one.Name,
				working.FormatShortest(one.Moments.Mean), working.FormatShortest(one.Moments.SD)))
			continue
		}
		f.Marks = append(f.Marks, BoxMarks(row, one.Spread, one.Moments.Mean, opens...)...)
		ends = append(ends, one.Five.Min, one.Five.Max)
		says = append(says, one.Name+": "+boxWords(one, decimals))
	}
	f.Axis.Min, f.Axis.Max = Axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	s.Figure(f)
	return reading
}

// boxWords says what a box shows.
func boxWords(g *cases.Group, decimals int) string {
	five := g.Five
	return fmt.Sprintf("from %s to %s, middle half %s to %s, median %s",
		working.FormatNumber(five.Min, decimals), working.FormatNumber(five.Max, decimals),
		working.FormatNumber(five.Q1, decimals+1), working.FormatNumber(five.Q3, decimals+1), working.FormatNumber(five.Median, decimals+1))
}

// OrderControl is the choice of which of two groups comes first. between stands between them,
// and says is what exchanging them does.
func OrderControl(first, second *cases.Group, between, says string) working.Control {
	order, turned := []string{first.Code, second.Code}, []string{second.Code, first.Code}
	return working.Control{
		ID: "groups", Label: "Direction", Key: "g", Pointer: "/options/groups", Beside: working.BesideBrief, Value: order,
		Choices: []working.Choice{
			{Value: order, Label: first.Name + between + second.Name},
			{Value: turned, Label: second.Name + between + first.Name, Says: says},
		},
	}
}
