package procedure_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

const illustrated = `{"grund": 1, "procedure": "t-two-sample", "roles": {"response": "minutes", "group": "pier"},
	"leave_out": [{"case": 6, "reason": "clock stopped"}],
	"data": {"variables": [
		{"name": "minutes", "kind": "number", "values": [2, 3, 4, 6, 7, 90, 8]},
		{"name": "pier", "kind": "category", "values": ["Mole", "Mole", "Mole", "Quarry", "Quarry", "Quarry", "Quarry"]},
		{"name": "late", "kind": "category", "values": ["no", "no", "yes", "yes", "no", "yes", "yes"]},
		{"name": "cars", "kind": "number", "values": [1, 2, 3, 4, 5, 6, 7]}]},
	"pictures": %s}`

func TestPicturesStandInTheLookStep(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(illustrated, `[
		{"variables": "minutes", "width": 2, "start": 0, "normal": true}, {"variables": ["minutes", "pier"], "form": "boxes"},
		{"variables": ["pier", "late"], "share": "row", "stack": true},
		{"variables": ["cars", "minutes"]}, {"variables": ["minutes", "pier"], "form": "intervals"}]`))
	var forms []working.Form
	for _, step := range s.Steps {
		for _, block := range step.Blocks {
			if b, ok := block.(working.FigureBlock); ok && step.ID == working.Look && b.Figure != "look" {
				forms = append(forms, proctest.Figure(t, s, b.Figure).Form)
				assert.Equal(t, fmt.Sprintf("/pictures/%d", len(forms)-1), b.Actions[0].Set[0].Pointer)
			}
		}
	}
	assert.Equal(t, []working.Form{working.Histogram, working.Boxes, working.Bars, working.Scatter, working.Intervals}, forms)
	bars := proctest.Marks(proctest.Figure(t, s, "picture_1"), working.Bar, working.Observed)
	require.Len(t, bars, 5, "the case that is left out is not drawn")
	for i, height := range []working.Number{0, 2, 1, 2, 1} {
		assert.Equal(t, working.Numbers{height}, bars[i].Y)
	}
	points := proctest.Marks(proctest.Figure(t, s, "picture_4"), working.Points, working.Observed)
	assert.Equal(t, working.CaseNumbers{1, 2, 3, 4, 5, 7}, points[0].Case)
}

func TestAPictureIsRemovedByItsAction(t *testing.T) {
	p, err := problem.Parse([]byte(fmt.Sprintf(illustrated, `[{"variables": "minutes"}, {"variables": "cars"}]`)))
	require.NoError(t, err)
	changed, err := procedure.Act(p, working.Action{Set: []problem.Set{{Pointer: "/pictures/0"}}})
	require.NoError(t, err)
	assert.Equal(t, []problem.Picture{{Variables: problem.Names{"cars"}}}, changed.Pictures)
}

func TestPicturesThatCannotBeDrawn(t *testing.T) {
	for pictures, pointer := range map[string]string{
		`[{"variables": "minuets"}]`:                                  "/pictures/0/variables/0",
		`[{"variables": []}]`:                                         "/pictures/0/variables",
		`[{"variables": ["cars", "pier", "late"]}]`:                   "/pictures/0/variables",
		`[{"variables": "cars"}, {"variables": "late", "form": "x"}]`: "/pictures/1/form",
		`[{"variables": "cars", "width": -1}]`:                        "/pictures/0/width",
		`[{"variables": "late", "share": "half"}]`:                    "/pictures/0/share",
		`[{"variables": "cars", "colour": "red"}]`:                    "/pictures/0/colour",
	} {
		p, err := problem.Parse([]byte(fmt.Sprintf(illustrated, pictures)))
		if err == nil {
			_, err = procedure.Work(t.Context(), p)
		}
		var errs problem.Errors
		require.ErrorAs(t, err, &errs, pictures)
		assert.Equal(t, pointer, errs[0].Pointer, pictures)
	}
	p, err := problem.Parse([]byte(fmt.Sprintf(two[:len(two)-1], "", 4.0) + `,"pictures":[{"variables":"a"}]}`))
	require.NoError(t, err)
	_, err = procedure.Work(t.Context(), p)
	assert.ErrorContains(t, err, "no cases to draw pictures of")
}
