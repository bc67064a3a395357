package proportions_test

import (
	"testing"

	"grund/internal/procedure/proctest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The expected numbers were made by testdata/proportions.py.
func TestProportionsAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "proportions.json", "critical_low", "critical_high")
}

func TestProportionsRefuse(t *testing.T) {
	const variables = `"data":{"variables":[{"name":"r","kind":"category","values":["yes","no","no","yes"]},{"name":"g",` +
		`"kind":"category","values":["a","a","b","c"]},{"name":"x","kind":"number","values":[1,2,3,4]}]}}`
	proctest.CheckRefusals(t, proctest.Refusals{
		"no success named": {`{"grund":1,"procedure":"proportion-one","roles":{"response":"r"},` + variables, "/options/success",
			"which level is the success"},
		"no such level": {`{"grund":1,"procedure":"proportion-one","roles":{"response":"r"},"options":{"success":"maybe"},` +
			variables, "/options/success", "is “maybe” alone"},
		"success a list": {`{"grund":1,"procedure":"proportion-one","roles":{"response":"r"},"options":{"success":["yes"]},` +
			variables, "/options/success", "a level"},
		"a proportion of 1": {`{"grund":1,"procedure":"proportion-one","roles":{"response":"r"},"options":{"success":"yes",` +
			`"proportion":1},` + variables, "/options/proportion", "between 0 and 1"},
		"continuity a text": {`{"grund":1,"procedure":"proportion-one","roles":{"response":"r"},"options":{"success":"yes",` +
			`"continuity":"true"},` + variables, "/options/continuity", "“Continuity correction” is"},
		"a number": {`{"grund":1,"procedure":"proportion-one","roles":{"response":"x"},"options":{"success":"1"},` + variables,
			"/roles/response", "needs a category"},
		"three categories": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["a","b","c"],"observed":[1,2,3]}}}`,
			"/data/counts/categories", "3 categories"},
		"nothing counted": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["a","b"],"observed":[0,0]}}}`,
			"/data/counts/observed", "nothing was counted"},
		"a broken count": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["a","b"],"observed":[1.5,2]}}}`,
			"/data/counts/observed/0", "whole number"},
		"a count too few": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["a","b"],"observed":[1]}}}`,
			"/data/counts/observed", "1 counts and 2 categories"},
		"a label twice": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["a","a"],"observed":[1,2]}}}`,
			"/data/counts/categories/1", "listed twice"},
		"a table for one": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"rows":["a","b"],"columns":["x","y"],` +
			`"cells":[[1,2],[3,4]]}}}`, "/data/counts/categories", "one proportion"},
		"three groups": {`{"grund":1,"procedure":"proportion-two","roles":{"response":"r","group":"g"},"options":{"success":"yes"},` +
			variables, "/roles/group", "3 levels"},
		"a table of three rows": {`{"grund":1,"procedure":"proportion-two","data":{"counts":{"rows":["a","b","c"],"columns":["x","y"],` +
			`"cells":[[1,2],[3,4],[1,1]]}}}`, "/data/counts", "two rows and two columns"},
		"no success at all": {`{"grund":1,"procedure":"proportion-two","data":{"counts":{"rows":["a","b"],"columns":["x","y"],` +
			`"cells":[[0,2],[0,4]]}}}`, "/data/counts/cells", "no case is “x”"},
		"an empty group": {`{"grund":1,"procedure":"proportion-two","data":{"counts":{"rows":["a","b"],"columns":["x","y"],` +
			`"cells":[[0,0],[3,4]]}}}`, "/data/counts/cells", "has no case"},
		"success beside a table": {`{"grund":1,"procedure":"proportion-two","options":{"success":"y"},"data":{"counts":{"rows":["a","b"],` +
			`"columns":["x","y"],"cells":[[1,2],[3,4]]}}}`, "/options/success", "first column"},
		"mixed counts": {`{"grund":1,"procedure":"proportion-two","data":{"counts":{"rows":["a","b"],"columns":["x","y"],"cells":[[1,2],[3,` +
			`4]],"observed":[1,2]}}}`, "/data/counts", "mixed"},
	})
}

// Where the exact p-value decides otherwise, the solution says so.
func TestTheExactPMayDecideOtherwise(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"proportion-one","tail":"right","data":{"counts":{"categories":["yes","no"],"observed":[7,`+
		`3]}},"options":{"proportion":0.43}}`)
	q := proctest.Quantities(s)
	require.NotEqual(t, q["p"] <= 0.05, q["p_exact"] <= 0.05)
	require.Len(t, s.Notes, 1)
	assert.Contains(t, s.Notes[0], "exact p-value")
	assert.EqualValues(t, "p", s.Decision.P)
}
