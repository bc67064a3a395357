package procedure

import (
	"errors"
	"fmt"

	"grund/internal/look"
	"grund/internal/problem"
	"grund/internal/working"
)

// addPictures adds the pictures that are kept with the problem to the step in which
// the data are looked at. They show the cases that are not left out.
func addPictures(w *working.Working, p *problem.Problem) error {
	if len(p.Pictures) == 0 {
		return nil
	}
	if p.Data.Variables == nil {
		return problem.Errors{{Pointer: "/pictures", Says: "there are no cases to draw pictures of", Instead: "give “variables”, or leave the pictures out"}}
	}
	leftOut := map[int]bool{}
	for _, left := range p.LeaveOut {
		leftOut[left.Case-1] = true
	}
	var wrong problem.Errors
	for i, picture := range p.Pictures {
		at := problem.Pointer("pictures", i)
		l, err := look.New(p.Data.Variables, leftOut, picture)
		var errs problem.Errors
		switch {
		case errors.As(err, &errs):
			for _, e := range errs {
				wrong.Add(at+e.Pointer, fmt.Sprintf("picture %d: %s", i+1, e.Says), e.Instead)
			}
			continue
		case err != nil:
			return err
		case l.Figure == nil:
			wrong.Add(at, fmt.Sprintf("picture %d has no case to show", i+1), "leave it out")
			continue
		}
		l.Figure.ID = fmt.Sprintf("picture_%d", i+1)
		w.Figure(l.Figure)
		w.AddTo(working.Look, working.Say("**%s.** %s", l.Title, l.Says), working.FigureBlock{Figure: l.Figure.ID, Actions: []working.Action{{
			ID: "remove-" + l.Figure.ID, Label: "Remove the picture", Says: "Takes it out of this problem; the data stay as they are.",
			Set: []problem.Set{{Pointer: at}},
		}}})
	}
	return wrong.Err()
}
