package server

import (
	"fmt"
	"math"
	"net/http"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/working"
)

func TestFurtherRowsOfATable(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", problemOf(t, 1000), &p).Code)
	var table struct {
		From  int              `json:"from"`
		Total int              `json:"total"`
		Rows  []map[string]any `json:"rows"`
	}
	call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[],"table":"cases","from":950}`, &table)
	assert.Equal(t, []int{950, 1000, 50}, []int{table.From, table.Total, len(table.Rows)})
}

// Rows are sorted, filtered and found by a reference before a page is cut from them.
func TestRowsInOrderAndFiltered(t *testing.T) {
	h := newServer(t)
	file := `{"grund":1,"procedure":"regression-simple","roles":{"response":"y","predictor":"x"},"data":{"variables":[{"name":"x",` +
		`"kind":"number","values":[`
	y := ""
	for i := range 120 {
		file += fmt.Sprintf("%d,", i)
		y += fmt.Sprintf("%d,", 2*i+(i*37)%11)
	}
	file = strings.TrimSuffix(file, ",") + `]},{"name":"y","kind":"number","values":[` + strings.TrimSuffix(y, ",") + `]}]}}`
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", file, &p).Code)
	type page struct {
		From  int              `json:"from"`
		Total int              `json:"total"`
		Rows  []map[string]any `json:"rows"`
	}
	rows := func(more string) (got page) {
		require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[],"table":"cases",`+more+`}`, &got).Code)
		return got
	}
	number := func(row map[string]any, id string) float64 { return row[id].(float64) }

	sorted := rows(`"sort":"observed","descending":true,"from":0`)
	require.Len(t, sorted.Rows, 50)
	for i := 1; i < 50; i++ {
		assert.GreaterOrEqual(t, number(sorted.Rows[i-1], "observed"), number(sorted.Rows[i], "observed"))
	}
	kept := rows(`"where":{"column":"case","is":"at-most","value":"70"},"sort":"case","descending":true,"from":50`)
	assert.Equal(t, []int{50, 70, 20}, []int{kept.From, kept.Total, len(kept.Rows)})
	assert.InDelta(t, 20, number(kept.Rows[0], "case"), 0)
	far := rows(`"where":{"column":"residual","is":"beyond","value":"-4"},"from":0`)
	assert.NotZero(t, far.Total)
	assert.Less(t, far.Total, 120)
	for _, row := range far.Rows {
		assert.GreaterOrEqual(t, math.Abs(number(row, "residual")), 4.0)
	}
	found := rows(`"ref":"cases/101/residual"`)
	assert.InDelta(t, 101, number(found.Rows[0], "case"), 0)

	for more, says := range map[string]string{
		`"sort":"colour"`: "no such column",
		`"where":{"column":"colour","is":"same","value":"1"}`: "no such column",
		`"ref":"cases/121/residual"`:                          "no such row",
	} {
		answer := call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[],"table":"cases",`+more+`}`, nil)
		assert.Equal(t, http.StatusNotFound, answer.Code, more)
		assert.Contains(t, answer.Body.String(), says)
	}
	assert.Equal(t, http.StatusNotFound, call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[],"table":"chairs"}`, nil).Code)
}

func TestSimulation(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", demoFile(t), &p).Code)
	response := call(t, h, "POST", "/api/problems/"+p.ID+"/simulation",
		SimulationRequest{Set: []problem.Set{{Pointer: "/tail", Value: "left"}}}, nil)
	require.Equal(t, http.StatusOK, response.Code)
	assert.Equal(t, "application/x-ndjson", response.Header().Get("Content-Type"))
	lines := strings.Split(strings.TrimSpace(response.Body.String()), "\n")
	assert.Len(t, lines, 50)
	var last working.Simulation
	for i, line := range lines {
		last = working.Simulation{}
		require.NoError(t, json.Unmarshal([]byte(line), &last))
		assert.Equal(t, (i+1)*100, last.Drawn)
		assert.Equal(t, i == 49, last.Says != "", "the last line says what came out")
	}
	assert.InDelta(t, 0.0217, float64(last.Share), 0.0083, "of the left tail alone")

	var f exchange.Failure
	response = call(t, h, "POST", "/api/problems/"+p.ID+"/simulation",
		SimulationRequest{Set: []problem.Set{{Pointer: "/procedure", Value: "normality"}}}, &f)
	assert.Equal(t, http.StatusUnprocessableEntity, response.Code)
	assert.Contains(t, f.Detail, "no simulation")
}

func TestPower(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", demoFile(t), &p).Code)
	var power working.Power
	path := "/api/problems/" + p.ID + "/power"
	require.Equal(t, http.StatusOK, call(t, h, "POST", path, `{"set":[],"question":{"inputs":{"truth":-1.2,"sd_1":0.7,"sd_2":2}}}`,
		&power).Code)
	assert.Equal(t, "0.550", power.Present.Shown)
	assert.Equal(t, 57, power.Needed.N)
	var f exchange.Failure
	require.Equal(t, http.StatusUnprocessableEntity,
		call(t, h, "POST", path, `{"set":[],"question":{"inputs":{"sd_1":-1},"target":2}}`, &f).Code)
	assert.Equal(t, []string{"/inputs/sd_1", "/target"}, []string{f.Errors[0].Pointer, f.Errors[1].Pointer})
}

// Settings that name cases left out by hand leave those that a condition leaves out where they are,
// in the answer as in what is kept.
func TestConditionsStayBesideCasesLeftOutByHand(t *testing.T) {
	h := newServer(t)
	var p Problem
	file := `{"grund":1,"procedure":"t-one-sample","roles":{"response":"y"},"options":{"mean":3},` +
		`"data":{"variables":[{"name":"y","kind":"number","values":[1,2,3,4,5,100]}]}}`
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", file, &p).Code)
	p.Draft.LeaveOutWhere = []problem.LeftOutWhere{{Where: "y > 50", Reason: "mistyped"}}
	put, err := json.Marshal(map[string]any{"version": p.Version, "draft": p.Draft, "data_set": p.DataSet})
	require.NoError(t, err)
	var saved Saved
	require.Equal(t, http.StatusOK, call(t, h, "PUT", "/api/problems/"+p.ID, string(put), &saved).Code)

	set := `"set":[{"pointer":"/leave_out","value":[{"case":1,"reason":"early"}]}]`
	var answer struct {
		Solution struct {
			Cases working.Cases `json:"cases"`
		} `json:"solution"`
	}
	require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{`+set+`}`, &answer).Code)
	assert.Equal(t, 2, answer.Solution.Cases.LeftOut)
	patch := fmt.Sprintf(`{"version":%d,%s}`, saved.Version, set)
	require.Equal(t, http.StatusOK, call(t, h, "PATCH", "/api/problems/"+p.ID+"/settings", patch, &answer).Code)
	assert.Equal(t, 2, answer.Solution.Cases.LeftOut)
	require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[]}`, &answer).Code)
	assert.Equal(t, 2, answer.Solution.Cases.LeftOut)
}
