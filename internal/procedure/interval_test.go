package procedure_test

import (
	"testing"

	"grund/internal/procedure/proctest"

	"github.com/stretchr/testify/assert"
)

// An interval that is open to one side goes, in a report, to the end of what the parameter can be;
// among the quantities it stays open.
func TestOpenEndsInReports(t *testing.T) {
	const counts = `"data":{"counts":{"rows":["Mole","Quarry"],"columns":["yes","no"],"cells":[[20,10],[10,30]]}}}`
	x, y := proctest.Column("x", "number", []float64{1, 2, 3, 4, 5, 6}), proctest.Column("y", "number", []float64{2, 1, 4, 3, 6, 5})
	for name, c := range map[string]struct{ file, want string }{
		"a proportion below": {`{"grund":1,"procedure":"proportion-one","tail":"left","data":{"counts":{"categories":["yes","no"],` +
			`"observed":[20,80]}}}`, "CI [0, 0.273]"},
		"a proportion above": {`{"grund":1,"procedure":"proportion-one","tail":"right","data":{"counts":{"categories":["yes","no"],` +
			`"observed":[20,80]}}}`, "CI [0.143, 1]"},
		"a difference above":  {`{"grund":1,"procedure":"proportion-two","tail":"right",` + counts, "CI [0.236, 1]"},
		"a difference below":  {`{"grund":1,"procedure":"proportion-two","tail":"left",` + counts, "CI [−1, 0.598]"},
		"odds below":          {`{"grund":1,"procedure":"exact-independence","tail":"left",` + counts, "CI [0, "},
		"odds above":          {`{"grund":1,"procedure":"exact-independence","tail":"right",` + counts, ", ∞]"},
		"a correlation below": {proctest.Problem("correlation", `{"variables":["x","y"]}`, `,"tail":"left"`, x, y), "CI [−1, "},
		"a slope above":       {proctest.Problem("regression-simple", `{"response":"y","predictor":"x"}`, `,"tail":"right"`, x, y), ", ∞]"},
		"a slope in between":  {proctest.Problem("regression-simple", `{"response":"y","predictor":"x"}`, "", x, y), "CI [0.051, 1.606]"},
	} {
		assert.Contains(t, proctest.Work(t, c.file).Report, c.want, name)
	}
}
