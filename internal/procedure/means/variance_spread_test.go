package means_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/variance_spread.py.
func TestVarianceSpreadAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "variance_spread.json", "critical_low", "critical_high", "ci_low", "ci_high")
}

const spreadsOf = `{"grund":1,"procedure":"variance-spread",%s"roles":{"response":"x","group":"g"},"data":{"variables":[
	{"name":"x","kind":"number","values":%s},{"name":"g","kind":"category","values":%s}]}}`

func TestVarianceSpreadRefuses(t *testing.T) {
	proctest.CheckRefusals(t, proctest.Refusals{
		"a tail":           {fmt.Sprintf(spreadsOf, `"tail":"left",`, "[1,2,3,4]", `["a","a","b","b"]`), "/tail", "has no direction"},
		"one group":        {fmt.Sprintf(spreadsOf, "", "[1,2,3,4]", `["a","a","a","a"]`), "/roles/group", "1 level"},
		"one case a group": {fmt.Sprintf(spreadsOf, "", "[1,2]", `["a","b"]`), "/roles/group", "one case only"},
		"constant groups":  {fmt.Sprintf(spreadsOf, "", "[1,1,2,2]", `["a","a","b","b"]`), "/roles/response", "nothing to compare"},
		"another centre": {fmt.Sprintf(spreadsOf, `"options":{"deviations_from":"mode"},`, "[1,2,3,5]", `["a","a","b","b"]`),
			"/options/deviations_from", "median"},
		"a summary": {`{"grund":1,"procedure":"variance-spread","data":{"summary":{"groups":[{"n":3,"mean":1,"sd":1},{"n":3,` +
			`"mean":1,"sd":2}]}}}`, "/data/summary", "cannot be worked from"},
		"groups to pick": {fmt.Sprintf(spreadsOf, `"options":{"groups":["a","b"]},`, "[1,2,3,5]", `["a","a","b","b"]`), "/options/groups",
			"no option"},
		"no case is usable": {fmt.Sprintf(spreadsOf, "", "[null,2]", `["a",null]`), "/roles/group", "0 levels"},
	})
}

// Only large values speak against H₀: one region, at the right.
func TestCurveOfSpreads(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(spreadsOf, "", "[1,2,3,4,1,7,3,12,9]", `["a","a","a","a","b","b","b","b","b"]`))
	f := proctest.Figure(t, s, "curve")
	assert.Zero(t, f.Axis.Min)
	assert.Len(t, proctest.Marks(f, working.Area, working.Region), 1)
	assert.Len(t, proctest.Marks(f, working.Area, working.PArea), 1)
	for _, c := range s.Controls {
		assert.NotEqual(t, "tail", c.ID, "there is no direction to choose")
	}
}
