package means_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/normality.py.
func TestNormalityAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "normality.json", "critical_low", "critical_high", "ci_low")
}

const shapeOf = `{"grund":1,"procedure":"normality",%s"data":{"variables":[{"name":"x","kind":"number","values":%s},{"name":"g",` +
	`"kind":"category","values":["a","a","a","b","b","b"]}]}}`

func TestNormalityRefuses(t *testing.T) {
	proctest.CheckRefusals(t, proctest.Refusals{
		"two cases": {fmt.Sprintf(shapeOf, `"roles":{"response":"x"},`, "[1,2,null,null,null,null]"), "/roles/response",
			"2 cases can be used"},
		"no case": {fmt.Sprintf(shapeOf, `"roles":{"response":"x","group":"g"},`, "[null,null,null,null,null,null]"),
			"/roles/response", "no case can be used"},
		"too few in b": {fmt.Sprintf(shapeOf, `"roles":{"response":"x","group":"g"},`, "[1,2,4,5,6,null]"), "/roles/response",
			"of “b” can be used"},
		"constant in b": {fmt.Sprintf(shapeOf, `"roles":{"response":"x","group":"g"},`, "[1,2,4,5,5,5]"), "/roles/response",
			"all values of “b” are equal"},
		"a tail":           {fmt.Sprintf(shapeOf, `"tail":"left","roles":{"response":"x"},`, "[1,2,4,5,5,5]"), "/tail", "has no direction"},
		"a category":       {fmt.Sprintf(shapeOf, `"roles":{"response":"g"},`, "[1,2,4,5,5,5]"), "/roles/response", "needs a number"},
		"without response": {fmt.Sprintf(shapeOf, ``, "[1,2,4,5,5,5]"), "/roles/response", "no variable is given"},
	})
}

// W has no critical values: the decision is by p alone, and no step names a region.
func TestNormalityDecidesByPAlone(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(shapeOf, `"roles":{"response":"x","group":"g"},`, "[1,2,9,4,5,6.5]"))
	for _, step := range s.Steps {
		assert.NotEqual(t, working.CriticalValue, step.ID)
		for _, block := range step.Blocks {
			if v, ok := block.(working.Verdict); ok {
				assert.Equal(t, working.ByPValue, v.Rule)
			}
		}
	}
	f := proctest.Figure(t, s, "scores_2")
	assert.Equal(t, []int{4, 5, 6}, []int(proctest.Marks(f, working.Points, working.Observed)[0].Case))
	assert.Len(t, proctest.Marks(f, working.Line, working.Expected), 1)
}
