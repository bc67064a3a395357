package main

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/problemset"
)

// grund runs the command line and returns what it printed and its exit status.
func grund(args ...string) (stdout, stderr string, status int) {
	var out, err bytes.Buffer
	status = run(args, &out, &err)
	return out.String(), err.String(), status
}

// file writes a file and returns its name.
func file(t *testing.T, content string) string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "problem.json")
	require.NoError(t, os.WriteFile(name, []byte(content), 0o644))
	return name
}

const berths = "../../demo/problems/two-berths.json"

func TestWork(t *testing.T) {
	out, _, status := grund("work", berths)
	require.Zero(t, status)
	var solution struct {
		Grund    int `json:"grund"`
		Decision struct {
			Reject bool `json:"reject"`
		} `json:"decision"`
		Tables []struct {
			ID   string           `json:"id"`
			Rows []map[string]any `json:"rows"`
		} `json:"tables"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &solution))
	assert.Equal(t, 1, solution.Grund)
	assert.False(t, solution.Decision.Reject)
	assert.Len(t, solution.Tables[0].Rows, 33)

	out, _, status = grund("work", "--format", "markdown", berths)
	require.Zero(t, status)
	assert.True(t, strings.HasPrefix(out, "# Do the two berths load at the same speed?\n"))
	assert.Contains(t, out, "## 12. Follow-up")
}

func TestSimulate(t *testing.T) {
	out, _, status := grund("simulate", berths)
	require.Zero(t, status)
	var simulation struct {
		Drawn     int     `json:"drawn"`
		AsExtreme int     `json:"as_extreme"`
		Share     float64 `json:"share"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &simulation))
	assert.Equal(t, 5000, simulation.Drawn)
	assert.InDelta(t, float64(simulation.AsExtreme)/5000, simulation.Share, 1e-12)

	_, stderr, status := grund("simulate", "../../demo/problems/gaps.json")
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "no simulation")
}

func TestPower(t *testing.T) {
	out, _, status := grund("power", "--true", "truth=-1.2;sd_1=0.7;sd_2=2", "--target", "0.8", berths)
	require.Zero(t, status)
	assert.Contains(t, out, `"shown": "0.550"`)
	assert.Contains(t, out, "For a power of 0.8 it takes 57 cases (31 and 26).")

	_, stderr, status := grund("power", "--target", "1", berths)
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "/target: the power is 1; it must lie between 0 and 1")
}

func TestRead(t *testing.T) {
	out, _, status := grund("read", "../../demo/data/two-berths.csv")
	require.Zero(t, status)
	assert.Contains(t, out, `"name": "minutes"`)
	assert.Contains(t, out, `"kind": "number"`)
}

func TestProcedures(t *testing.T) {
	out, _, status := grund("procedures")
	require.Zero(t, status)
	var list []map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	var ids []any
	for _, procedure := range list {
		ids = append(ids, procedure["id"])
	}
	assert.Equal(t, []any{"z-one-sample", "t-one-sample", "t-two-sample", "t-paired", "variance-ratio", "variance-spread", "normality",
		"proportion-one", "proportion-two", "rank-sum", "signed-rank", "rank-k-sample", "chi-square-fit", "chi-square-distribution",
		"chi-square-independence", "exact-independence", "paired-proportions", "anova-one-way", "regression-simple", "regression-multiple",
		"correlation"}, ids)
}

// Wrong input is exit status 2 with one line that says where, and nothing on
// standard output.
func TestWrongInput(t *testing.T) {
	wide := strings.Builder{}
	for i := range 200_000 {
		fmt.Fprintf(&wide, `{"name":"v%d","kind":"number","values":[1]},`, i)
	}
	for name, c := range map[string]struct {
		args []string
		says string
	}{
		"no such file":     {[]string{"work", "/nowhere/at/all.json"}, "cannot be read"},
		"a folder":         {[]string{"work", t.TempDir()}, "cannot be read"},
		"not JSON":         {[]string{"work", file(t, "berth,minutes\n")}, "not JSON"},
		"an unknown field": {[]string{"work", file(t, `{"grund":1,"alhpa":1}`)}, "/alhpa: there is no field"},
		"broken UTF-8":     {[]string{"work", file(t, "{\"grund\":1,\"title\":\"\xff\"}")}, "UTF-8"},
		"deep nesting":     {[]string{"work", file(t, `{"grund":1,"options":{"x":`+strings.Repeat("[", 100_000))}, "nested too deeply"},
		"very many columns": {[]string{"work", file(t, `{"grund":1,"procedure":"t-two-sample","data":{"variables":[`+
			strings.TrimSuffix(wide.String(), ",")+`]}}`)}, "/data/variables: there are 200000 variables; keep to 2000"},
		"an unknown command": {[]string{"wrok", berths}, "unexpected argument"},
		"an unknown format":  {[]string{"work", "--format", "xml", berths}, "must be one of"},
		"an empty CSV":       {[]string{"read", file(t, " \n")}, "nothing in it"},
		"a slip in a CSV":    {[]string{"read", file(t, "a,b\n1,2\n3,4o\n5,6\n7,8\n")}, "row 3, column “b”: “4o” is not a number"},
	} {
		t.Run(name, func(t *testing.T) {
			out, err, status := grund(c.args...)
			assert.Equal(t, 2, status)
			assert.Empty(t, out)
			assert.Contains(t, err, c.says)
			assert.Equal(t, 1, strings.Count(err, "\n"), err)
		})
	}
}

func TestHelp(t *testing.T) {
	out, _, status := grund("--help")
	assert.Zero(t, status)
	assert.Contains(t, out, "work")
}

func TestVersion(t *testing.T) {
	out, _, status := grund("--version")
	assert.Zero(t, status)
	assert.Equal(t, version+"\n", out)
}

func TestAsksAndCheck(t *testing.T) {
	out, _, status := grund("asks", berths)
	require.Zero(t, status)
	assert.Contains(t, out, `"id": "critical_high"`)

	out, _, status = grund("check", berths, file(t, `{"grund":1,"answers":{"t":"-2.06","critical_high":"1.96"}}`))
	require.Zero(t, status)
	assert.Contains(t, out, `"slip": "z_for_t"`)
	assert.Contains(t, out, `"right": 1`)

	for content, says := range map[string]string{
		`{"grund":1,"answers":{"tee":"1"}}`: "/answers/tee", `{"grund":1,"answers":{"t":null}}`: "/answers/t", `no`: "problem.json",
	} {
		_, stderr, status := grund("check", berths, file(t, content))
		assert.Equal(t, 2, status)
		assert.Contains(t, stderr, says)
	}
	_, stderr, status := grund("check", "-", "-")
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "both")
}

func TestSetCheck(t *testing.T) {
	set := problemset.New("Week 3")
	set.OtherNumbers = true
	bundle := problemset.Bundle{Settings: set, Problems: []problemset.Bundled{
		{File: demo.File("overhaul"), Points: problemset.Points{"t": 3}}, {File: demo.File("two-berths")},
	}}
	packed := func() string {
		zip, err := bundle.Encode()
		require.NoError(t, err)
		return file(t, string(zip))
	}
	out, stderr, status := grund("set", "check", packed())
	require.Zero(t, status, stderr)
	assert.Contains(t, out, "Week 3\n1. Does the overhauled engine keep its maker’s promise? (t-one-sample): 19 asks, 21 points\n2. ")
	assert.Contains(t, out, "The set can be handed out.\n")

	bundle.Problems[0].Points = problemset.Points{"tee": 3}
	_, stderr, status = grund("set", "check", packed())
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "/problems/0/points/tee: “tee” is not asked")
	bundle.Problems[1].File = []byte(`{"grund":1,"procedure":"t-two-sample"}`)
	bundle.Problems[0].Points = nil
	_, stderr, status = grund("set", "check", packed())
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "/problems/1/file/")
	_, stderr, status = grund("set", "check", berths)
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "no ZIP")
	_, stderr, status = grund("set", "marks", "--as", "ines.maro", "week 3")
	assert.Equal(t, 2, status)
	assert.Contains(t, stderr, "take it from the set's address")
}
