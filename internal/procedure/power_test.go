package procedure_test

import (
	"os"
	"strconv"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/power.py.
func TestPowerAgainstReferences(t *testing.T) {
	file, err := os.ReadFile("testdata/power.json")
	require.NoError(t, err)
	var cases []struct {
		Problem jsontext.Value     `json:"problem"`
		Inputs  map[string]float64 `json:"inputs"`
		Target  float64            `json:"target"`
		Power   string             `json:"power"`
		Needed  int                `json:"needed"`
	}
	require.NoError(t, json.Unmarshal(file, &cases))
	require.NotEmpty(t, cases)
	for _, c := range cases {
		want, err := strconv.ParseFloat(c.Power, 64)
		require.NoError(t, err)
		got := proctest.Power(t, string(c.Problem), working.PowerQuestion{Inputs: c.Inputs, Target: &c.Target})
		assert.InEpsilon(t, want, float64(got.Present.Power), 1e-10, "%s", c.Problem)
		require.NotNil(t, got.Needed, "%s", c.Problem)
		assert.Equal(t, c.Needed, got.Needed.N, "%s", c.Problem)
		assert.GreaterOrEqual(t, float64(got.Needed.Power), c.Target)
	}
}

func promiseWith(tail string) string {
	return `{"grund":1,"procedure":"t-one-sample","tail":"` + tail +
		`","options":{"mean":41},"data":{"summary":{"response":{"unit":"L"},"groups":[{"n":16,"mean":42.1,"sd":1.93}]}}}`
}

func TestPowerWords(t *testing.T) {
	begin := proctest.Power(t, promiseWith("right"), working.PowerQuestion{})
	assert.Equal(t, 42.0, begin.Inputs[0].Value, "half a standard deviation from H₀, rounded")
	assert.Contains(t, begin.Says, "With the 16 cases of this problem the test finds a true mean of 42\u00a0L with probability 0.6")
	assert.Equal(t, "For a power of 0.8 it takes 25 cases.", begin.Needs)
	assert.Equal(t, 40.0, proctest.Power(t, promiseWith("left"), working.PowerQuestion{}).Inputs[0].Value, "on the side of H₁")

	wrong := proctest.Power(t, promiseWith("left"), working.PowerQuestion{Inputs: map[string]float64{"truth": 42}})
	assert.Nil(t, wrong.Needed)
	assert.Contains(t, wrong.Needs, "on which H₁ does not look")
	null := proctest.Power(t, promiseWith("both"), working.PowerQuestion{Inputs: map[string]float64{"truth": 41}})
	assert.Nil(t, null.Needed)
	assert.Contains(t, null.Says, "probability 0.050, near α = 0.05, and each time that is a Type I error")
	far := proctest.Power(t, promiseWith("both"), working.PowerQuestion{Inputs: map[string]float64{"truth": 41.0001}})
	assert.Nil(t, far.Needed)
	assert.Contains(t, far.Needs, "more than 200\u202f000 cases would be needed")
}

func TestPowerRefuses(t *testing.T) {
	for name, c := range map[string]struct {
		file    string
		q       working.PowerQuestion
		pointer string
	}{
		"a spread of 0":    {promiseWith("both"), working.PowerQuestion{Inputs: map[string]float64{"sd": 0}}, "/inputs/sd"},
		"an unknown input": {promiseWith("both"), working.PowerQuestion{Inputs: map[string]float64{"mean": 3}}, "/inputs/mean"},
		"a power of 1":     {promiseWith("both"), working.PowerQuestion{Target: new(1.0)}, "/target"},
		"a proportion above 1": {`{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["yes","no"],"observed":[31,14]}}}`,
			working.PowerQuestion{Inputs: map[string]float64{"truth": 1.5}}, "/inputs/truth"},
		"a test without power": {berthsFile("rank-sum", ""), working.PowerQuestion{}, "/procedure"},
	} {
		p, err := problem.Parse([]byte(c.file))
		require.NoError(t, err, name)
		_, err = procedure.Power(t.Context(), p, c.q)
		var mistakes problem.Errors
		require.ErrorAs(t, err, &mistakes, name)
		assert.Equal(t, c.pointer, mistakes[0].Pointer, name)
		assert.NotEmpty(t, mistakes[0].Instead, name)
	}
}

// The power of every demo problem can be had, whatever was chosen under its curve.
func TestPowerOfDemoProblems(t *testing.T) {
	asked := 0
	for name, p := range proctest.DemoProblems(t) {
		out, err := procedure.Power(t.Context(), p, working.PowerQuestion{})
		if err != nil {
			continue
		}
		asked++
		require.NotNil(t, out.Needed, name)
		assert.InDelta(t, 0.8, float64(out.Needed.Power), 0.1, name)
		line := out.Figure.Marks[0]
		assert.Len(t, line.Y, len(line.X), name)
		assert.Greater(t, len(line.X), 10, name)
	}
	assert.Greater(t, asked, 20)
}
