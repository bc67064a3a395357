package procedure

import (
	"fmt"

	"grund/internal/data"
	"grund/internal/stats"
	"grund/internal/working"
)

// scores draws cases against their normal scores, with the line that a normal sample
// follows.
func scores(id, title, unit string, values []float64, cases []int, test stats.Normality) *working.Figure {
	points := working.Mark{Shape: working.Points, Role: working.Observed}
	order := stats.Ascending(values)
	for rank, at := range order {
		points.X, points.Y = append(points.X, working.Number(test.Scores[rank])), append(points.Y, working.Number(values[at]))
		points.Case = append(points.Case, cases[at])
	}
	moments := stats.NewMoments(values)
	first, last := test.Scores[0], test.Scores[len(test.Scores)-1]
	on := func(score float64) float64 { return moments.Mean + score*moments.SD }
	left, right := working.Padded(0.06, first, last)
	bottom, top := working.Padded(0.06, values[order[0]], values[order[len(order)-1]], on(first), on(last))
	return &working.Figure{ID: id, Form: working.Scatter, Title: title + ": cases against normal scores",
		Says: fmt.Sprintf("%s against their normal scores, with the line that a normal sample follows. W is %s: 1 would be on the line.", upperFirst(count(len(values), "case")), working.FormatNumber(test.W, 4)),
		Axis: working.Axis{Label: "normal score", Min: working.Number(left), Max: working.Number(right)},
		Up:   &working.Axis{Label: title, Unit: unit, Min: working.Number(bottom), Max: working.Number(top)},
		Marks: []working.Mark{
			{Shape: working.Line, Role: working.Expected, X: working.Positions(first, last), Y: working.Positions(on(first), on(last))},
			points,
		}}
}

// scoresBlocks draws the shape of each sample that a condition judges; none where W does
// not exist.
func (l *location) scoresBlocks(response data.Heading, samples []spread) []working.Block {
	var blocks []working.Block
	for i, sample := range samples {
		if !hasShape(sample) {
			continue
		}
		id := fmt.Sprintf("scores_%d", i+1)
		title := response.Label
		if sample.name != "" {
			title += ", " + sample.name
		}
		f := scores(id, title, response.Unit, sample.values, sample.cases, stats.NewNormality(stats.Sorted(sample.values)))
		f.Small = true
		l.Figure(f)
		blocks = append(blocks, working.FigureBlock{Figure: id})
	}
	if blocks == nil {
		return nil
	}
	return append(blocks, working.Note("Each dot is a case: upward its value, to the right where a case of its rank would lie in a normal sample. A normal sample follows the line, but for chance; a bend is a lopsided shape."))
}

// hasShape reports whether W of Shapiro and Wilk exists for a sample.
func hasShape(sample spread) bool {
	n := len(sample.values)
	return n >= stats.MinNormality && n <= stats.MaxNormality && sample.five.Min != sample.five.Max
}
