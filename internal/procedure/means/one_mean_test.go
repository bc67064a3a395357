package means_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/one_mean.py.
func TestOneMeanAgainstReferences(t *testing.T) {
	proctest.CheckReferences(t, "one_mean.json", "critical_low", "critical_high", "z", "t", "df")
}

const oneSample = `{"grund":1,"procedure":"%s","roles":{"response":"fuel"},"options":%s,"data":{"variables":[{"name":"fuel",` +
	`"label":"Fuel","unit":"L","kind":"number","values":%s}]}}`
const twoMeasured = `{"grund":1,"procedure":"t-paired","roles":{"first":"out","second":"back"},"data":{"variables":[
	{"name":"out","label":"Fuel outbound","unit":"L","kind":"number","values":%s},
	{"name":"back","label":"Fuel homebound","unit":"%s","kind":"number","values":%s}]}}`

func TestOneMeanRefuses(t *testing.T) {
	one := func(procedure, options, values string) string {
		return fmt.Sprintf(oneSample, procedure, options, values)
	}
	summary := `{"grund":1,"procedure":"t-one-sample","data":{"summary":{"groups":%s}}}`
	proctest.CheckRefusals(t, proctest.Refusals{
		"sigma missing": {one("z-one-sample", `{"mean":41}`, "[1,2]"), "/options/sigma",
			"“Standard deviation of the population, σ” is missing"},
		"sigma of 0":        {one("z-one-sample", `{"sigma":0}`, "[1,2]"), "/options/sigma", "sigma is 0"},
		"sigma below 0":     {one("z-one-sample", `{"sigma":-1}`, "[1,2]"), "/options/sigma", "sigma is -1"},
		"sigma no number":   {one("z-one-sample", `{"sigma":"2"}`, "[1,2]"), "/options/sigma", "must be a number"},
		"sigma for t":       {one("t-one-sample", `{"sigma":2}`, "[1,2]"), "/options/sigma", "no option"},
		"no case":           {one("t-one-sample", `{}`, "[null,null]"), "/roles/response", "no case has a value"},
		"one case":          {one("t-one-sample", `{}`, "[1,null]"), "/roles/response", "1 usable case"},
		"no spread":         {one("t-one-sample", `{}`, "[2,2,2]"), "/roles/response", "all values are equal"},
		"two groups":        {fmt.Sprintf(summary, `[{"n":3,"mean":1,"sd":1},{"n":3,"mean":1,"sd":1}]`), "/data/summary/groups", "2 groups"},
		"no mean":           {fmt.Sprintf(summary, `[{"n":3,"sd":1}]`), "/data/summary/groups/0/mean", "the mean is missing"},
		"no sd":             {fmt.Sprintf(summary, `[{"n":3,"mean":1}]`), "/data/summary/groups/0/sd", "standard deviation is missing"},
		"n of 1":            {fmt.Sprintf(summary, `[{"n":1,"mean":1,"sd":1}]`), "/data/summary/groups/0/n", "a spread needs two"},
		"sd of 0":           {fmt.Sprintf(summary, `[{"n":9,"mean":1,"sd":0}]`), "/data/summary/groups/0/sd", "all values are equal"},
		"equal differences": {fmt.Sprintf(twoMeasured, "[5.3,2.3,7.7]", "L", "[5.1,2.1,7.5]"), "/roles/first", "the same difference"},
		"different units":   {fmt.Sprintf(twoMeasured, "[5.3,2.3]", "kg", "[5.1,2.2]"), "/roles/second", "in L and “Fuel homebound” in kg"},
		"no complete pair":  {fmt.Sprintf(twoMeasured, "[1,null]", "L", "[null,2]"), "/roles/first", "no case has a value"},
		"one variable twice": {`{"grund":1,"procedure":"t-paired","roles":{"first":"a","second":"a"},"data":{"variables":[{"name":"a",` +
			`"kind":"number","values":[1,2]}]}}`, "/roles/second", "is given for “First measurement” already"},
		"a summary for pairs": {`{"grund":1,"procedure":"t-paired","data":{"summary":{"groups":[{"n":3,"mean":1,"sd":1}]}}}`, "/data/summary",
			"cannot be worked from a summary"},
		"the second not given": {`{"grund":1,"procedure":"t-paired","roles":{"first":"a"},"data":{"variables":[{"name":"a","kind":"number",` +
			`"values":[1,2]}]}}`, "/roles/second", "no variable is given"},
	})
}

// From z to t: what t does not know is dropped, the rest is carried over.
func TestFromZToT(t *testing.T) {
	p, err := problem.Parse([]byte(fmt.Sprintf(oneSample, "z-one-sample", `{"mean":41,"sigma":1.5}`, "[40.1,39.2,41.3,38.8,40.9]")))
	require.NoError(t, err)
	p.Tail, p.Alpha = problem.Left, 0.1
	s, err := procedure.Work(t.Context(), p)
	require.NoError(t, err)
	var way *working.Action
	for _, c := range s.Conditions {
		if c.ID == "known-sd" {
			way = &c.Actions[0]
		}
	}
	require.NotNil(t, way)
	changed, err := procedure.Act(p, *way)
	require.NoError(t, err)
	other, err := procedure.Work(t.Context(), changed)
	require.NoError(t, err)
	q := proctest.Quantities(other)
	assert.Equal(t, []any{"t-one-sample", problem.Left, 0.1, 41.0}, []any{other.Procedure, other.Tail, other.Alpha, q["mean_0"]})
	assert.Contains(t, q, "t")
	assert.NotContains(t, q, "sigma")
}

// The picture of the interval holds the cases, the mean and the value under H₀.
func TestIntervalOfOneMean(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(oneSample, "t-one-sample", `{"mean":45}`, "[40,42,null,44]"))
	f := proctest.Figure(t, s, "interval")
	assert.Equal(t, working.CaseNumbers{1, 2, 4}, proctest.Marks(f, working.Points, working.Observed)[0].Case)
	assert.Equal(t, working.Numbers{45}, proctest.Marks(f, working.RuleMark, working.Expected)[0].X)
	assert.Equal(t, "/options/mean", f.Handles[0].Pointer)
	assert.LessOrEqual(t, float64(f.Axis.Min), 40.0)
	assert.GreaterOrEqual(t, float64(f.Axis.Max), 45.0)
	assert.Equal(t, working.Cases{Given: 4, Used: 3, LeftOut: 1}, s.Cases)
}

func TestWordsOfOneMean(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(oneSample, "t-one-sample", `{"mean":45}`, "[40,42,41,39,40]"))
	assert.Equal(t, "At α = 0.05 the data (5 cases) are evidence that mean fuel is lower than 45\u00a0L. The estimated mean fuel is "+
		"40.400\u00a0L (95\u00a0% interval: 38.984 to 41.816\u00a0L).", s.Conclusion)
	s = proctest.Work(t, fmt.Sprintf(twoMeasured, "[5.3,2.4,7.7]", "L", "[5.1,2.6,7.5]"))
	assert.Equal(t, "At α = 0.05 the data (3 pairs) do not show that fuel outbound and fuel homebound differ on average. This is not "+
		"evidence that fuel outbound is on average the same as fuel homebound.", s.Conclusion)
}

// Of pairs both measurements are summed up beside the difference; numbers by hand.
func TestMeasurementsOfPairs(t *testing.T) {
	s := proctest.Work(t, proctest.Problem("t-paired", `{"first":"a","second":"b"}`, "",
		proctest.Column("a", "number", []float64{2, 4, 9, 5}), proctest.Column("b", "number", []float64{1, 1, 4, 6})))
	cells := proctest.Cells(s)
	for at, want := range map[string]float64{
		"first/n": 4, "first/mean": 5, "first/median": 4.5, "first/sd": math.Sqrt(26.0 / 3),
		"second/mean": 3, "second/median": 2.5, "second/sd": math.Sqrt(6),
		"difference/n": 4, "difference/mean": 2, "difference/median": 2, "difference/sd": math.Sqrt(20.0 / 3),
	} {
		assert.InEpsilon(t, want, cells["measurements/"+at], 1e-14, at)
	}
	assert.Contains(t, s.Report, "A M = 5.000, SD = 2.944; b M = 3.000, SD = 2.449.")
	histogram := proctest.Figure(t, s, "histogram")
	cases := 0.0
	for _, bar := range proctest.Marks(histogram, working.Bar, working.Observed) {
		cases += float64(bar.Y[0])
	}
	assert.Equal(t, 4.0, cases, "each difference is in one class")
}
