package vary

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
)

// Every problem of the demo has other numbers in the same shape: as many cases, missing cells where they were, numbers
// with the same decimals; the decision is kept, p lies clear of alpha, and no condition is worse. The same seed draws the
// same.
func TestOtherNumbers(t *testing.T) {
	for name, original := range proctest.DemoProblems(t) {
		was, err := procedure.Work(t.Context(), original)
		require.NoError(t, err, name)
		seen := map[string]bool{}
		for seed := range uint64(3) {
			next, err := Problem(t.Context(), original, seed, KeepDecision)
			require.NoError(t, err, name)
			again, err := Problem(t.Context(), original, seed, KeepDecision)
			require.NoError(t, err, name)
			one, err := json.Marshal(next, json.Deterministic(true))
			require.NoError(t, err)
			two, err := json.Marshal(again, json.Deterministic(true))
			require.NoError(t, err)
			assert.Equal(t, string(one), string(two), name)
			seen[string(one)] = true
			parsed, err := problem.Parse(one)
			require.NoError(t, err, name)
			is, err := procedure.Work(t.Context(), parsed)
			require.NoError(t, err, name)
			assert.Equal(t, was.Decision.Reject, is.Decision.Reject, name)
			p := float64(is.Quantity(is.Decision.P).Value)
			assert.Greater(t, math.Abs(p-is.Alpha), is.Alpha/10, name)
			assert.Equal(t, was.Cases.Given, is.Cases.Given, name)
			sameShape(t, name, original, next)
		}
		assert.Len(t, seen, 3, "%s: other seeds draw others", name)
	}
}

func sameShape(t *testing.T, name string, was, is *problem.Problem) {
	t.Helper()
	for i, v := range was.Data.Variables {
		w := is.Data.Variables[i]
		assert.Equal(t, v.Name, w.Name)
		assert.Equal(t, v.Levels, w.Levels, name)
		require.Equal(t, v.Len(), w.Len())
		if v.Kind == data.Number {
			assert.LessOrEqual(t, data.MostDecimals(w.Numbers), data.MostDecimals(v.Numbers), "%s: %s", name, v.Name)
			for k := range v.Numbers {
				assert.Equal(t, math.IsNaN(v.Numbers[k]), math.IsNaN(w.Numbers[k]), "%s: %s", name, v.Name)
				assert.False(t, w.Numbers[k] < 0 && least(v.Numbers) >= 0, "%s: %s is below 0", name, v.Name)
			}
			continue
		}
		for k := range v.Codes {
			assert.Equal(t, v.Codes[k] < 0, w.Codes[k] < 0, "%s: %s", name, v.Name)
		}
	}
	if was.Data.Counts != nil {
		assert.Equal(t, sum(was.Data.Counts), sum(is.Data.Counts), name)
	}
}

func least(xs []float64) float64 {
	low := math.Inf(1)
	for _, x := range xs {
		if x < low {
			low = x
		}
	}
	return low
}

func sum(c *problem.Counts) (sum float64) {
	for _, x := range c.Observed {
		sum += x
	}
	for _, row := range c.Cells {
		for _, x := range row {
			sum += x
		}
	}
	return sum
}

// What is drawn has the shares, the mean and the spread of what it is drawn from: over 400 samples no farther away than
// chance goes, five standard errors.
func TestWhatIsDrawn(t *testing.T) {
	counts, err := problem.Parse([]byte(`{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"categories":["a","b","c"],` +
		`"observed":[10,30,60]}}}`))
	require.NoError(t, err)
	group, err := problem.Parse([]byte(`{"grund":1,"procedure":"t-one-sample","options":{"mean":10},"data":{"summary":{"groups":[` +
		`{"n":25,"mean":12.00,"sd":2.00}]}}}`))
	require.NoError(t, err)
	const draws = 400
	var first, mean, sd float64
	for seed := range uint64(draws) {
		next, err := Problem(t.Context(), counts, seed, KeepNothing)
		require.NoError(t, err)
		assert.Equal(t, 100.0, sum(next.Data.Counts))
		first += next.Data.Counts.Observed[0] / draws
		next, err = Problem(t.Context(), group, seed, KeepNothing)
		require.NoError(t, err)
		mean += *next.Data.Summary.Groups[0].Mean / draws
		sd += *next.Data.Summary.Groups[0].SD / draws
	}
	assert.InDelta(t, 10, first, 5*math.Sqrt(100*0.1*0.9/draws))
	assert.InDelta(t, 12, mean, 5*2/math.Sqrt(25*draws))
	assert.InDelta(t, 2, sd, 0.1)
}

// Large numbers of cases are drawn by the normal curve, at once.
func TestManyCases(t *testing.T) {
	p, err := problem.Parse([]byte(`{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["a","b"],"columns":["x","y"],` +
		`"cells":[[400000000,300000000],[200000000,500000000]]}}}`))
	require.NoError(t, err)
	next, err := Problem(t.Context(), p, 1, KeepDecision)
	require.NoError(t, err)
	assert.Equal(t, 1.4e9, sum(next.Data.Counts))
	assert.InEpsilon(t, 4e8, next.Data.Counts.Cells[0][0], 0.001)
}

func TestNoOtherNumbers(t *testing.T) {
	// With p just above alpha hardly a sample lies clear of it on the same side and keeps to it.
	file := `{"grund":1,"procedure":"t-one-sample","options":{"mean":%s},"data":{"summary":{"groups":[{"n":4000000,"mean":12,"sd":2}]}}}`
	p, err := problem.Parse([]byte(fmt.Sprintf(file, "12")))
	require.NoError(t, err)
	_, err = Problem(t.Context(), p, 1, "all")
	assert.ErrorContains(t, err, "/keep")
	constant, err := problem.Parse([]byte(`{"grund":1,"procedure":"t-one-sample","options":{"mean":3},"roles":{"response":"x"},"data":{` +
		`"variables":[{"name":"x","kind":"number","values":[` + strings.TrimSuffix(strings.Repeat("5,", 6), ",") + `]}]}}`))
	require.NoError(t, err)
	_, err = Problem(t.Context(), constant, 1, KeepDecision)
	var mistakes problem.Errors
	if err != nil {
		assert.ErrorAs(t, err, &mistakes)
	}
}
