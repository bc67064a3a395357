package problemset

import (
	"context"
	"fmt"

	"grund/internal/answer"
	"grund/internal/problem"
)

// Contents say of a problem of a bundle what is handed out with it.
type Contents struct {
	Title     string
	Procedure string
	Asks      int
	Points    float64
}

// Contents works the problems of a bundle as their set asks them, with other numbers where it gives some. An error of type
// problem.Errors says at its place in set.json, or in the file of a problem, what cannot be handed out.
func (b *Bundle) Contents(ctx context.Context) ([]Contents, error) {
	var out []Contents
	for i, each := range b.Problems {
		p, err := problem.Parse(each.File)
		if err != nil {
			return nil, problem.Under(err, "problems", i, "file")
		}
		if p, err = b.Variant(ctx, p, 1); err != nil {
			return nil, problem.Under(err, "problems", i, "file")
		}
		asks, err := answer.Asks(ctx, p)
		if err != nil {
			return nil, problem.Under(err, "problems", i, "file")
		}
		of := Contents{Title: p.Title, Procedure: p.Procedure, Asks: len(asks.Asks)}
		known := map[string]bool{}
		for _, ask := range asks.Asks {
			known[ask.ID] = true
			of.Points += each.Points.Of(ask.ID)
		}
		for ask := range each.Points {
			if !known[ask] {
				return nil, problem.Errors{{Pointer: problem.Pointer("problems", i, "points", ask),
					Says:    fmt.Sprintf("“%s” is not asked", ask),
					Instead: "give points for what the problem asks: grund asks prints it"}}
			}
		}
		out = append(out, of)
	}
	return out, nil
}
