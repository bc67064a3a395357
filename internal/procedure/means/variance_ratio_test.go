package means_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// The expected numbers were made by testdata/variance_ratio.py.
func TestVarianceRatioAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "variance_ratio.json", "critical_low", "critical_high")
}

const twoSpreads = `{"grund":1,"procedure":"variance-ratio","roles":{"response":"x","group":"g"},"data":{"variables":[
	{"name":"x","kind":"number","values":%s},{"name":"g","kind":"category","values":%s}]}}`

func TestVarianceRatioRefuses(t *testing.T) {
	proctest.CheckRefusals(t, proctest.Refusals{
		"a constant group":    {fmt.Sprintf(twoSpreads, "[1,2,3,3]", `["a","a","b","b"]`), "/roles/group", "“b” has no spread"},
		"the first constant":  {fmt.Sprintf(twoSpreads, "[3,3,1,2]", `["a","a","b","b"]`), "/roles/group", "“a” has no spread"},
		"one case in a group": {fmt.Sprintf(twoSpreads, "[1,2,3]", `["a","a","b"]`), "/roles/group", "1 usable case"},
		"three groups":        {fmt.Sprintf(twoSpreads, "[1,2,3,4,5,6]", `["a","a","b","b","c","c"]`), "/roles/group", "has 3 levels"},
		"sd of 0": {`{"grund":1,"procedure":"variance-ratio","data":{"summary":{"groups":[{"label":"a","n":3,"mean":1,"sd":1},` +
			`{"label":"b","n":3,"mean":1,"sd":0}]}}}`, "/data/summary/groups/1/sd", "no spread"},
		"another option": {`{"grund":1,"procedure":"variance-ratio","options":{"difference":1},"data":{"summary":{"groups":[{"n":3,` +
			`"mean":1,"sd":1},{"n":3,"mean":1,"sd":2}]}}}`, "/options/difference", "no option"},
	})
}

// The curve begins at 0, with a region at either end, and p is the area up to F on its
// side and as much on the other.
func TestCurveOfAVarianceRatio(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(twoSpreads, "[1,2,3,4,1,7,3,12,9]", `["a","a","a","a","b","b","b","b","b"]`))
	f := proctest.Figure(t, s, "curve")
	assert.Zero(t, f.Axis.Min)
	assert.Len(t, proctest.Marks(f, working.Area, working.Region), 2)
	areas := proctest.Marks(f, working.Area, working.PArea)
	require.Len(t, areas, 2)
	q := proctest.Quantities(s)
	reference := dist.F{DF1: q["df_1"], DF2: q["df_2"]}
	left, right := areas[0].X, areas[1].X
	assert.InEpsilon(t, q["p"]/2, reference.Lower(float64(left[len(left)-1])), 1e-3)
	assert.InEpsilon(t, q["p"]/2, reference.Upper(float64(right[0])), 1e-3)
}
