package write

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/procedure/cases"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// ScoresFigure draws cases against their normal scores, with the line that a normal sample
// follows.
func ScoresFigure(id, title, unit string, sample cases.Spread) *working.Figure {
	test, order := sample.Normality(), stats.Ascending(sample.Values)
	points := working.Mark{
		Shape: working.Points, Role: working.Observed,
		X: make(working.Numbers, len(order)), Y: make(working.Numbers, len(order)), Case: make(working.CaseNumbers, len(order)),
	}
	for rank, at := range order {
		points.X[rank] = working.Number(math.Round(1e4*test.Scores[rank]) / 1e4) // nobody sees a fifth decimal of a score
		points.Y[rank] = working.Number(sample.Values[at])
		points.Case[rank] = sample.Rows[at]
	}
	moments := stats.NewMoments(sample.Values)
	first, last := test.Scores[0], test.Scores[len(test.Scores)-1]
	on := func(score float64) float64 { return moments.Mean + score*moments.SD }
	left, right := working.Padded(0.06, first, last)
	bottom, top := working.Padded(0.06, sample.Values[order[0]], sample.Values[order[len(order)-1]], on(first), on(last))
	return &working.Figure{
		ID: id, Form: working.Scatter, Title: title + ": cases against normal scores",
		Says: fmt.Sprintf("%s against their normal scores, with the line that a normal sample follows. W is %s: 1 would be on the line.",
			words.UpperFirst(words.Count(len(sample.Values), "case")), working.FormatNumber(test.W, 4)),
		Axis: working.Axis{Label: "normal score", Min: working.Number(left), Max: working.Number(right)},
		Up:   &working.Axis{Label: title, Unit: unit, Min: working.Number(bottom), Max: working.Number(top)},
		Marks: []working.Mark{
			{Shape: working.Line, Role: working.Expected, X: working.Positions(first, last), Y: working.Positions(on(first), on(last))},
			points,
		},
	}
}

// ScoresBlocks draws the shape of each sample that a condition judges; none where W does not
// exist.
func (s *Sheet) ScoresBlocks(response data.Heading, samples []cases.Spread) []working.Block {
	var blocks []working.Block
	for i, sample := range samples {
		if !sample.HasShape() {
			continue
		}
		id := fmt.Sprintf("scores_%d", i+1)
		title := response.Label
		if sample.Name != "" {
			title += ", " + sample.Name
		}
		f := ScoresFigure(id, title, response.Unit, sample)
		f.Small = true
		s.Figure(f)
		blocks = append(blocks, working.FigureBlock{Figure: id})
	}
	if blocks == nil {
		return nil
	}
	return append(blocks, working.Note("Each dot is a case: upward its value, to the right where a case of its rank would lie in a "+
		"normal sample. A normal sample follows the line, but for chance; a bend is a lopsided shape."))
}
