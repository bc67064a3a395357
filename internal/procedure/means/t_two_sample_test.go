package means_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/t_two_sample.py.
func TestTTwoSampleAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "t_two_sample.json", "critical_low", "critical_high", "pooled_sd")
}

const berths = `{"grund":1,"procedure":"t-two-sample","roles":{"response":"minutes","group":"berth"},%s"data":{"variables":[
	{"name":"berth","label":"Berth","kind":"category","values":[2,1,"2",1,null,2,1,3,3]%s},
	{"name":"minutes","label":"Loading time","unit":"min","kind":"number","values":[13.4,12.1,12.9,11.8,12.2,null,12.6,15,16]}]}}`

func TestGroups(t *testing.T) {
	names := `,"level_names":{"1":"Mole","2":"Quarry","3":"Lantern"}`
	for name, c := range map[string]struct {
		settings, variable string
		first, second      string
		n1, n2, leftOut    int
	}{
		"first appearance":     {`"options":{"groups":[2,1]},`, "", "2", "1", 2, 3, 4},
		"by name, other order": {`"options":{"groups":["Mole","Quarry"]},`, names, "Mole", "Quarry", 3, 2, 4},
		"code as text":         {`"options":{"groups":["3","1"]},`, names, "Lantern", "Mole", 2, 3, 4},
		"listed levels":        {`"leave_out":[{"case":8},{"case":9}],`, `,"levels":[1,2,3]`, "1", "2", 3, 2, 4},
		"a case left out by hand": {`"options":{"groups":[1,2]},"leave_out":[{"case":2,"reason":"clock stopped"}],`, names, "Mole", "Quarry",
			2, 2, 5},
		"the third level left out": {`"leave_out":[{"case":8},{"case":9}],`, names, "Quarry", "Mole", 2, 3, 4},
	} {
		t.Run(name, func(t *testing.T) {
			s := proctest.Work(t, fmt.Sprintf(berths, c.settings, c.variable))
			rows := s.Table("groups").Rows()
			assert.Equal(t, []any{c.first, c.second}, []any{rows[0][0].Value, rows[1][0].Value})
			got := proctest.Quantities(s)
			assert.Equal(t, []float64{float64(c.n1), float64(c.n2)}, []float64{got["n_1"], got["n_2"]})
			assert.Equal(t, working.Cases{Given: 9, Used: 9 - c.leftOut, LeftOut: c.leftOut}, s.Cases)
		})
	}
}

func TestSummaryGroupsPicked(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"t-two-sample","options":{"groups":["c","a"]},"data":{"summary":{"groups":[
		{"label":"a","n":5,"mean":2,"sd":1},{"label":"b","n":7,"mean":3,"sd":1},{"label":"c","n":9,"mean":4,"sd":1}]}}}`)
	assert.Equal(t, working.Cases{Given: 21, Used: 14, LeftOut: 7}, s.Cases)
	assert.Equal(t, 2.0, proctest.Quantities(s)["difference"])
}

func TestRefusals(t *testing.T) {
	two := `"options":{"groups":[1,2]},`
	summary := `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[%s]}}}`
	proctest.CheckRefusals(t, proctest.Refusals{
		"three levels": {fmt.Sprintf(berths, "", ""), "/roles/group", "3 levels"},
		"one level": {fmt.Sprintf(berths, `"leave_out":[{"case":2},{"case":4},{"case":7},{"case":8},{"case":9}],`, ""),
			"/roles/group", "one level only"},
		"one case in a group": {fmt.Sprintf(berths, two+`"leave_out":[{"case":1}],`, ""), "/roles/group", "1 usable case"},
		"no case at all": {fmt.Sprintf(berths, `"leave_out":[{"case":1},{"case":2},{"case":3},{"case":4},{"case":7},{"case":8},`+
			`{"case":9}],`, ""), "/roles/group", "no case"},
		"no spread": {`{"grund":1,"procedure":"t-two-sample","roles":{"response":"x","group":"g"},` +
			`"data":{"variables":[{"name":"g","kind":"category","values":["a","a","b","b"]},{"name":"x","kind":"number","values":[0.1,0.1,3,` +
			`3]}]}}`, "/roles/group", "neither group has any spread"},
		"an unknown group":        {fmt.Sprintf(berths, `"options":{"groups":["Mole",2]},`, ""), "/options/groups/0", "its levels are"},
		"a group twice":           {fmt.Sprintf(berths, `"options":{"groups":[1,"1"]},`, ""), "/options/groups/1", "named twice"},
		"three groups picked":     {fmt.Sprintf(berths, `"options":{"groups":[1,2,3]},`, ""), "/options/groups", "list of 2"},
		"groups that are no list": {fmt.Sprintf(berths, `"options":{"groups":"Mole"},`, ""), "/options/groups", "list of 2"},
		"an unknown option": {fmt.Sprintf(berths, `"options":{"variance":"equal"},`, ""), "/options/variance",
			"did you mean “variances”?"},
		"an unknown choice":         {fmt.Sprintf(berths, `"options":{"variances":"pooled"},`, ""), "/options/variances", "“unequal” or “equal”"},
		"a difference in words":     {fmt.Sprintf(berths, `"options":{"difference":"0"},`, ""), "/options/difference", "must be a number"},
		"a difference beyond bound": {fmt.Sprintf(berths, `"options":{"difference":1e999},`, ""), "/options/difference", "too large"},
		"roles the wrong way about": {strings.NewReplacer(`"response":"minutes"`, `"response":"berth"`, `"group":"berth"`,
			`"group":"minutes"`).Replace(fmt.Sprintf(berths, two, "")), "/roles/response", "needs a number"},
		"an unknown role": {strings.Replace(fmt.Sprintf(berths, two, ""), `"roles":{`, `"roles":{"block":"berth",`, 1), "/roles/block",
			"no role"},
		"no response": {strings.Replace(fmt.Sprintf(berths, two, ""), `"response":"minutes",`, ``, 1), "/roles/response",
			"no variable"},
		"two responses": {strings.Replace(fmt.Sprintf(berths, two, ""), `"response":"minutes"`, `"response":["minutes","berth"]`, 1),
			"/roles/response", "2 variables"},
		"an unknown variable": {strings.Replace(fmt.Sprintf(berths, two, ""), `"response":"minutes"`, `"response":"minute"`, 1),
			"/roles/response", "did you mean “minutes”?"},
		"an unknown procedure": {strings.Replace(fmt.Sprintf(berths, two, ""), `t-two-sample`, `t-two-samples`, 1), "/procedure",
			"did you mean “t-two-sample”?"},
		"counts": {`{"grund":1,"procedure":"t-two-sample","data":{"counts":{"categories":["a","b"],"observed":[1,2]}}}`,
			"/data/counts", "cannot be worked from counts"},
		"roles with a summary": {`{"grund":1,"procedure":"t-two-sample","roles":{"response":"x"},"data":{"summary":{"groups":[{"n":2,` +
			`"mean":1,"sd":1}]}}}`, "/roles", "remove the roles"},
		"one group in a summary": {fmt.Sprintf(summary, `{"label":"a","n":5,"mean":1,"sd":1}`), "/data/summary/groups", "one level only"},
		"n of 1 in a summary": {fmt.Sprintf(summary, `{"label":"a","n":5,"mean":1,"sd":1},{"label":"b","n":1,"mean":1,"sd":1}`),
			"/data/summary/groups/1/n", "1 usable case"},
		"no sd in a summary": {fmt.Sprintf(summary, `{"label":"a","n":5,"mean":1},{"label":"b","n":3,"mean":1,"sd":1}`),
			"/data/summary/groups/0/sd", "missing"},
		"no mean in a summary": {fmt.Sprintf(summary, `{"label":"a","n":5,"sd":1},{"label":"b","n":3,"mean":1,"sd":1}`),
			"/data/summary/groups/0/mean", "missing"},
		"sd of 0 twice": {fmt.Sprintf(summary, `{"label":"a","n":5,"mean":1,"sd":0},{"label":"b","n":3,"mean":1,"sd":0}`),
			"/data/summary/groups", "neither group has any spread"},
	})
}

func TestNumbersThatDoNotFit(t *testing.T) {
	p, err := problem.Parse([]byte(`{"grund":1,"procedure":"t-two-sample","roles":{"response":"x","group":"g"},"data":{"variables":[
		{"name":"g","kind":"category","values":["a","a","b","b"]},{"name":"x","kind":"number","values":[1.7e308,-1.7e308,1,2]}]}}`))
	require.NoError(t, err)
	_, err = procedure.Work(t.Context(), p)
	require.ErrorContains(t, err, "too large to calculate with")
}

func TestWords(t *testing.T) {
	picked := `"options":{"groups":["Mole","Quarry"]%s},%s`
	names := `,"level_names":{"1":"Mole","2":"Quarry"}`
	work := func(options, settings string) *working.Solution {
		return proctest.Work(t, fmt.Sprintf(berths, fmt.Sprintf(picked, options, settings), names))
	}
	s := work("", `"claim":{"text":"It makes no difference.","says":"equal"},`)
	assert.Contains(t, s.Conclusion, "do not show that mean loading time differs between Mole and Quarry. This is not evidence that it "+
		"is the same.")
	assert.Contains(t, s.Conclusion, "“It makes no difference” is not contradicted, and not confirmed.")
	assert.Contains(t, s.Report, "Two-sample t test, variances not assumed equal: ")
	assert.Contains(t, s.Report, "did not differ significantly, t(")
	assert.Contains(t, s.Report, "two-tailed; difference −0.983\u00a0min, 95\u00a0% CI [")

	s = work("", `"alpha":0.1,"claim":{"text":"Mole is quicker.","says":"smaller"},`)
	assert.Contains(t, s.Conclusion, "are evidence that mean loading time is lower for Mole than for Quarry")
	assert.Contains(t, s.Conclusion, "That supports the claim “Mole is quicker”")

	s = work("", `"tail":"right",`)
	assert.Contains(t, s.Conclusion, "do not show that mean loading time is higher for Mole than for Quarry")
	assert.Contains(t, s.Report, "one-tailed")
	assert.Contains(t, s.Report, "∞]")

	s = work(`,"difference":3`, `"tail":"left",`)
	assert.Contains(t, s.Conclusion, "the difference in mean loading time, Mole − Quarry, is less than 3\u00a0min")
	for _, solution := range []*working.Solution{s, work("", "")} {
		text := working.Markdown(solution, "")
		for _, wrong := range []string{"accept", "we proved", "null is true", "independent of", "%!", "NaN", "@{"} {
			assert.False(t, strings.Contains(text, wrong), wrong)
		}
	}
}

// A name may hold whatever a person types.
func TestAwkwardNames(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"t-two-sample","roles":{"response":"x%d","group":"@{t}"},"data":{"variables":[
		{"name":"@{t}","kind":"category","values":["a|b/*$%s","a|b/*$%s","}{","}{"]},{"name":"x%d","kind":"number","values":[1,2,3,4]}]}}`)
	assert.Contains(t, s.Conclusion, "mean x%d differs between a|b/*$%s and }{")
}

// A p-value that no double holds is not passed off as zero.
func TestAPValueBelowTheSmallestNumber(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[{"label":"a","n":5000,"mean":0,"sd":1},`+
		`{"label":"b","n":5000,"mean":10,"sd":1}]}}}`)
	for _, q := range s.Quantities {
		if q.ID == "p" {
			assert.Equal(t, []string{"<\u202f0.0001", "less than 5e-324"}, []string{q.Display, q.Full})
		}
	}
	require.Len(t, s.Notes, 1)
	assert.Contains(t, s.Notes[0], "It is not zero")
	assert.True(t, s.Decision.Reject)
}

func TestDisplays(t *testing.T) {
	display := func(file, id string) string {
		for _, q := range proctest.Work(t, file).Quantities {
			if string(q.ID) == id {
				return q.Display
			}
		}
		return ""
	}
	one := `{"grund":1,"procedure":"t-two-sample",%s"data":{"summary":{"groups":[{"label":"a","n":20,"mean":%v,"sd":%v},{"label":"b",` +
		`"n":20,"mean":0,"sd":%v}]}}}`
	assert.Equal(t, "<\u202f0.0001", display(fmt.Sprintf(one, "", 30, 1, 1), "p"))
	assert.Equal(t, "38", display(fmt.Sprintf(one, "", 1, 1, 1), "df"), "whole degrees of freedom have no decimals")
	assert.Equal(t, "20", display(fmt.Sprintf(one, `"decimals":2,`, 1, 1, 1), "n_1"))
	assert.Equal(t, "1.00", display(fmt.Sprintf(one, `"decimals":2,`, 1, 1, 1), "mean_1"))
	assert.Equal(t, "3.16", display(fmt.Sprintf(one, `"decimals":2,`, 1, 1, 1), "t"))
	assert.Equal(t, "0.000316", display(fmt.Sprintf(one, ``, 0.001, 0.001, 0.001), "se"), "small units get more decimals")
	// t is the critical value 2.024394163911970 but for its eighth decimal (both from
	// the relation of t and p at 38 degrees of freedom), so p is just above 0.05 and
	// with four decimals would look like it.
	near := fmt.Sprintf(one, "", 2.0243941, math.Sqrt(10), math.Sqrt(10))
	assert.Regexp(t, `^0\.0500000\d+$`, display(near, "p"))
	assert.False(t, proctest.Work(t, near).Decision.Reject)
}
