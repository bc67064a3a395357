package write

import (
	"fmt"
	"strings"

	"grund/internal/data"
	"grund/internal/procedure/cases"
	"grund/internal/stats"
	"grund/internal/working"
)

// HistogramFigure draws how many cases lie in each of some classes of round width, which a rule
// chooses; nil where all values are equal.
func HistogramFigure(id string, of data.Heading, sample *cases.Spread) *working.Figure {
	if !(sample.Five.Max > sample.Five.Min) {
		return nil
	}
	classes := stats.ChooseClasses(sample.Five.Min, sample.Five.Max, len(sample.Values))
	f := &working.Figure{
		ID: id, Form: working.Histogram, Title: of.Label, Up: &working.Axis{Label: "cases", Min: 0},
		Axis: working.Axis{
			Label: of.Label, Unit: of.Unit, Min: working.Number(classes.Start), Max: working.Number(classes.Boundary(classes.Count)),
		},
	}
	most := 0
	var says []string
	for i, n := range classes.Counts(sample.Values) {
		low, high := classes.Boundary(i), classes.Boundary(i+1)
		most = max(most, n)
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Bar, Role: working.Observed, X: working.Positions(low, high), Y: working.Positions(float64(n)),
		})
		says = append(says, fmt.Sprintf("%s to %s: %d", working.FormatShortest(low), working.FormatShortest(high), n))
	}
	f.Up.Max = working.Number(1.05 * float64(most))
	f.Says = fmt.Sprintf("A histogram in classes of width %s. %s.", working.FormatShortest(classes.Width), strings.Join(says, "; "))
	return f
}
