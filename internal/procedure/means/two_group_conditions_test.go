package means_test

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

func TestConditions(t *testing.T) {
	even := []float64{1, 2, 3, 4, 5, 6, 7}
	wide := []float64{-20, -10, 0, 10, 20, 30, 40}
	// One value of 30 among seven small ones: skewed, and far outside the box.
	far := []float64{1, 2, 3, 4, 5, 6, 30}
	lean := []float64{1, 1, 1, 1, 1, 2, 2, 2, 3, 3, 4, 9}
	summary := `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[{"label":"a","n":%d,"mean":1,"sd":1},{"label":"b",` +
		`"n":%d,"mean":2,"sd":1}]}}}`
	pooled := `"options":{"variances":"equal"},`
	for name, c := range map[string]struct {
		file, id string
		status   working.Status
		says     string
	}{
		"variances kept apart": {proctest.TwoGroups("", even, wide), "equal-variances", working.NotNeeded, "the variances are kept apart"},
		"pooled and alike": {proctest.TwoGroups(pooled, even, proctest.Repeat(8, even...)), "equal-variances", working.Met,
			"Alike enough to pool"},
		"pooled and far apart": {proctest.TwoGroups(pooled, even, wide), "equal-variances", working.NotMet, "differ too much to pool"},
		"pooled, sizes apart": {proctest.TwoGroups(pooled, even, proctest.Repeat(28, 0, 3, 6, 9, 12)), "equal-variances", working.Doubtful,
			"differ much in size"},
		"an even shape":            {proctest.TwoGroups("", even, even), "normality", working.Met, "W finds nothing against a normal shape"},
		"few cases show little":    {proctest.TwoGroups("", even, even), "normality", working.Met, "So few cases show gross departures only."},
		"a skewed small group":     {proctest.TwoGroups("", even, far), "normality", working.NotMet, "W finds that Quarry is not normal"},
		"what a skewed group does": {proctest.TwoGroups("", even, far), "normality", working.NotMet, "t cannot be relied on here"},
		"two groups that lean alike": {proctest.TwoGroups("", proctest.Repeat(60, lean...), proctest.Repeat(60, lean...)), "normality",
			working.Met,
			"so t may be used"},
		"two groups that lean apart": {proctest.TwoGroups("", proctest.Repeat(60, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 2, 9),
			proctest.Repeat(60, 9, 9, 9, 9, 9, 9, 9, 9, 9, 9, 8, 1)), "normality", working.Doubtful,
			"their skewness leaves the difference of the means lopsided"},
		"not normal, and few": {proctest.TwoGroups("", proctest.Repeat(24, lean...), proctest.Repeat(24, lean...)), "normality", working.Doubtful,
			"so few cases show their skewness badly"},
		"one tail is more sensitive": {proctest.TwoGroups(`"tail":"left",`, proctest.Repeat(60, even...), proctest.Repeat(60, far...)),
			"normality", working.Doubtful,
			"up to 0.2 does little harm"},
		"two tails are less so": {proctest.TwoGroups("", proctest.Repeat(60, even...), proctest.Repeat(60, far...)), "normality", working.Met,
			"up to 0.25 does little harm"},
		"a group of two": {proctest.TwoGroups("", even, []float64{1, 2}), "normality", working.Met, "too few cases of Quarry show any"},
		"a summary of few": {fmt.Sprintf(summary, 12, 50), "normality", working.Doubtful,
			"Cannot be seen from a summary. With 12 cases"},
		"a summary of many": {fmt.Sprintf(summary, 40, 50), "normality", working.Met, "unless the cases are strongly skewed"},
		"no outlier":        {proctest.TwoGroups("", even, even), "outliers", working.Met, "No case stands out"},
		"a far outlier":     {proctest.TwoGroups("", even, far), "outliers", working.NotMet, "Stands far out: case 14 (30, Quarry)"},
		"an outlier in a small group": {proctest.TwoGroups("", even, []float64{1, 4, 5, 5, 6, 9.5, 5}), "outliers", working.Doubtful,
			"Stands out: case 13 (9.5, Quarry). Without case 13 the mean of 7 cases would lie 0.8"},
		"an outlier among some": {proctest.TwoGroups("", even, append(proctest.Repeat(30, 4, 5, 6), 9.5)), "outliers", working.Doubtful,
			"Without case 38 the mean of 31 cases would lie 0.7"},
		"an outlier where all are many": {proctest.TwoGroups("", proctest.Repeat(20, even...), append(proctest.Repeat(200, 4, 5, 6), 9.5)),
			"outliers", working.Met,
			"Stands out a little: case 221 (9.5, Quarry). Without case 221 the mean of 201 cases would lie 0.4"},
		"cases that belong to one group": {proctest.TwoGroups("", even, even), "independence", working.Met, "the test for pairs belongs here"},
	} {
		t.Run(name, func(t *testing.T) {
			condition := proctest.Condition(t, proctest.Work(t, c.file), c.id)
			assert.Equal(t, c.status, condition.Status, condition.Reason)
			assert.Contains(t, condition.Reason, c.says)
		})
	}
}

// A case that stands out can be left out in one step, and is named as left out.
func TestLeaveAnOutlierOut(t *testing.T) {
	p, err := problem.Parse([]byte(proctest.TwoGroups("", []float64{1, 2, 3, 4, 5, 6, 7}, []float64{1, 2, 3, 4, 5, 6, 30})))
	require.NoError(t, err)
	s, err := procedure.Work(t.Context(), p)
	require.NoError(t, err)
	action := proctest.Condition(t, s, "outliers").Actions[0]
	assert.True(t, action.Compare, "beside the present solution, not in its place")
	without, err := procedure.Act(p, action)
	require.NoError(t, err)
	s, err = procedure.Work(t.Context(), without)
	require.NoError(t, err)
	assert.Equal(t, working.Cases{Given: 14, Used: 13, LeftOut: 1}, s.Cases)
	assert.Contains(t, working.Markdown(s, ""), "case 14 (stands out from its group)")
	assert.Equal(t, 3.5, proctest.Quantities(s)["mean_2"])
}

func TestConditionKey(t *testing.T) {
	key := func(file string) string {
		for _, step := range proctest.Work(t, file).Steps {
			if step.ID == working.Conditions {
				return step.Key
			}
		}
		return ""
	}
	even := []float64{1, 2, 3, 4, 5, 6, 7}
	assert.Equal(t, "met", key(proctest.TwoGroups("", even, even)))
	assert.Equal(t, "2 not met", key(proctest.TwoGroups("", even, []float64{1, 2, 3, 4, 5, 6, 30})))
	assert.Equal(t, "1 doubtful", key(proctest.TwoGroups("", even, []float64{1, 4, 5, 5, 6, 9.5, 5})))
}

// Where the shape is doubtful the condition leads to a test by ranks, with roles,
// alpha and tail carried over, and that one back.
func TestFromMeansToRanksAndBack(t *testing.T) {
	const data = `"data":{"variables":[{"name":"x","kind":"number","values":[1,2,1.5,2.2,1.8,40,3,2.5,2.4,1]},
		{"name":"y","kind":"number","values":[1.1,2.3,1.2,2.1,1.9,4,3.2,2,2.1,1.4]},
		{"name":"g","kind":"category","values":["a","b","a","b","a","b","a","b","a","b"]}]}}`
	for name, c := range map[string]struct{ file, condition, there, back string }{
		"two groups": {`{"grund":1,"procedure":"t-two-sample","alpha":0.01,"tail":"left","roles":{"response":"x","group":"g"},`, "normality",
			"rank-sum", "t-two-sample"},
		"outliers": {`{"grund":1,"procedure":"t-paired","alpha":0.01,"tail":"left","roles":{"first":"x","second":"y"},`, "outliers",
			"signed-rank", "t-paired"},
		"pairs": {`{"grund":1,"procedure":"t-paired","alpha":0.01,"tail":"left","roles":{"first":"x","second":"y"},`, "normality",
			"signed-rank", "t-paired"},
		"one mean": {`{"grund":1,"procedure":"t-one-sample","alpha":0.01,"tail":"left","roles":{"response":"x"},"options":{"mean":3},`,
			"normality", "signed-rank", "t-one-sample"},
		"spreads": {`{"grund":1,"procedure":"variance-ratio","alpha":0.01,"tail":"left","roles":{"response":"x","group":"g"},`, "normality",
			"variance-spread", ""},
	} {
		t.Run(name, func(t *testing.T) {
			first, err := problem.Parse([]byte(c.file + data))
			require.NoError(t, err)
			follow := func(p *problem.Problem, condition, id string) *problem.Problem {
				s, err := procedure.Work(t.Context(), p)
				require.NoError(t, err)
				for _, action := range proctest.Condition(t, s, condition).Actions {
					if action.ID == id {
						next, err := procedure.Act(p, action)
						require.NoError(t, err)
						assert.True(t, action.Compare)
						assert.Equal(t, 0.01, next.Alpha)
						assert.Equal(t, p.Roles, next.Roles)
						return next
					}
				}
				t.Fatalf("%s does not lead to %s", condition, id)
				return nil
			}
			there := follow(first, c.condition, c.there)
			if c.back == "" {
				assert.Equal(t, problem.Both, there.Tail, "spreads by deviations have no direction")
				_, err := procedure.Work(t.Context(), there)
				require.NoError(t, err)
				return
			}
			assert.Equal(t, problem.Left, there.Tail)
			condition := map[string]string{"rank-sum": "shape", "signed-rank": "symmetry"}[c.there]
			back := follow(there, condition, c.back)
			assert.Equal(t, first.Options, back.Options)
			assert.Equal(t, problem.Left, back.Tail)
		})
	}
}
