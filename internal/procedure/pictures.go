package procedure

import (
	"errors"
	"fmt"

	"grund/internal/look"
	"grund/internal/problem"
	"grund/internal/working"
)

// readPictures draws the pictures that are kept with the problem. They show the cases that are
// not left out.
func readPictures(p *problem.Problem) ([]*look.Look, error) {
	if len(p.Pictures) == 0 {
		return nil, nil
	}
	if p.Data.Variables == nil {
		return nil, problem.Errors{{
			Pointer: "/pictures", Says: "there are no cases to draw pictures of", Instead: "give “variables”, or leave the pictures out",
		}}
	}
	var pictures []*look.Look
	var wrong problem.Errors
	leftOut := p.LeftOutCases()
	for i, picture := range p.Pictures {
		at := problem.Pointer("pictures", i)
		l, err := look.New(p.Data.Variables, leftOut, picture)
		var errs problem.Errors
		switch {
		case errors.As(err, &errs):
			for _, e := range errs {
				wrong.Add(at+e.Pointer, fmt.Sprintf("picture %d: %s", i+1, e.Says), e.Instead)
			}
		case err != nil:
			return nil, err
		case l.Figure == nil:
			wrong.Add(at, fmt.Sprintf("picture %d has no case to show", i+1), "leave it out")
		}
		pictures = append(pictures, l)
	}
	return pictures, wrong.Err()
}

// addPictures adds pictures to the step in which the data are looked at.
func addPictures(w *working.Working, pictures []*look.Look) {
	for i, l := range pictures {
		l.Figure.ID = fmt.Sprintf("picture_%d", i+1)
		w.Figure(l.Figure)
		w.AddTo(working.Look, working.Say("**%s.** %s", l.Title, l.Says), working.FigureBlock{Figure: l.Figure.ID, Actions: []working.Action{{
			ID: "remove-" + l.Figure.ID, Label: "Remove the picture", Says: "Takes it out of this problem; the data stay as they are.",
			Set: []problem.Set{{Pointer: problem.Pointer("pictures", i)}},
		}}})
	}
}
