package ranks_test

import (
	"testing"

	"grund/internal/procedure/proctest"

	"github.com/stretchr/testify/assert"
)

// The expected numbers were made by testdata/ranks.py.
func TestRanksAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "ranks.json", "critical_low", "critical_high")
}

func TestRanksRefuse(t *testing.T) {
	const data = `"data":{"variables":[{"name":"x","kind":"number","values":[1,2,3,4]},{"name":"y","kind":"number","values":[1,2,3,4]},
		{"name":"c","kind":"number","values":[5,5,5,5]},{"name":"g","kind":"category","values":["a","a","b","b"]},
		{"name":"h","kind":"category","values":["a","a","b","c"]}]}}`
	of := func(rest string) string { return `{"grund":1,"procedure":` + rest + data }
	proctest.CheckRefusals(t, proctest.Refusals{
		"three groups":            {of(`"rank-sum","roles":{"response":"x","group":"h"},`), "/roles/group", "3 levels"},
		"all values equal":        {of(`"rank-sum","roles":{"response":"c","group":"g"},`), "/roles/response", "no case ranks before another"},
		"a response that is text": {of(`"rank-sum","roles":{"response":"g","group":"h"},`), "/roles/response", "needs a number"},
		"no role at all":          {of(`"signed-rank",`), "/roles/first", "a pair of measurements, or a response"},
		"half a pair":             {of(`"signed-rank","roles":{"first":"x"},`), "/roles/second", "a pair of measurements, or a response"},
		"a pair and a response": {of(`"signed-rank","roles":{"first":"x","second":"c","response":"y"},`), "/roles/response",
			"both a pair and a response"},
		"a median for pairs": {of(`"signed-rank","roles":{"first":"x","second":"c"},"options":{"median":1},`), "/options/median",
			"compared with 0"},
		"no difference":         {of(`"signed-rank","roles":{"first":"x","second":"y"},`), "/roles/first", "nothing to rank"},
		"all at the median":     {of(`"signed-rank","roles":{"response":"c"},"options":{"median":5},`), "/roles/response", "nothing to rank"},
		"a median that is text": {of(`"signed-rank","roles":{"response":"x"},"options":{"median":"2"},`), "/options/median", "a number"},
	})
}

// With so few cases that no outcome is rare enough there is no region, and the
// solution says so.
func TestTooFewForARegion(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"rank-sum","roles":{"response":"x","group":"g"},"data":{"variables":[
		{"name":"x","kind":"number","values":[1,2,3]},{"name":"g","kind":"category","values":["a","b","b"]}]}}`)
	assert.False(t, s.Decision.Reject)
	assert.Contains(t, proctest.Figure(t, s, "curve").Says, "no outcome is rare enough")
	assert.Contains(t, s.Conclusion, "do not show")
}
