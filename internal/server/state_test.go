package server

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
)

// imported keeps the problem of a file.
func imported(t *testing.T, h http.Handler, file string) (p Problem) {
	t.Helper()
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", file, &p).Code)
	return p
}

// A write returns the version that it wrote, never that of another writer: of many at once each
// version is returned once.
func TestAWriteReturnsItsOwnVersion(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, demoFile(t))
	var mu sync.Mutex
	written := map[int64]int{}
	var wait sync.WaitGroup
	for writer := range 4 {
		wait.Go(func() {
			for range 12 {
				var now Problem
				call(t, h, "GET", "/api/problems/"+p.ID, nil, &now)
				now.Draft.Title = fmt.Sprint("by ", writer)
				var saved Saved
				response := call(t, h, "PUT", "/api/problems/"+p.ID, PutRequest{now.Version, now.Draft, nil}, nil)
				if response.Code == http.StatusConflict {
					continue
				}
				require.Equal(t, http.StatusOK, response.Code)
				decode(t, response, &saved)
				assert.Equal(t, now.Version+1, saved.Version)
				mu.Lock()
				written[saved.Version]++
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	for version, times := range written {
		assert.Equal(t, 1, times, version)
	}
	assert.Greater(t, len(written), 3)
}

// Each solution is of the versions that come with it: the data say which version they are.
func TestASolutionIsOfItsVersions(t *testing.T) {
	h := newServer(t)
	at := func(n int64) []string { return []string{fmt.Sprint(n), fmt.Sprint(n + 1), fmt.Sprint(n + 2)} }
	p := imported(t, h, `{"grund":1,"procedure":"t-one-sample","roles":{"response":"x"},"data":{"variables":[{"name":"x","kind":"number",`+
		`"values":[1,2,3]}]}}`)
	done := make(chan struct{})
	go func() {
		defer close(done)
		for n := int64(1); n < 60; n++ {
			patch := DataPatch{Version: n, Rows: 3, Blocks: []store.Block{{Column: 1, Cells: at(n + 1)}},
				Set: &data.Set{Form: data.FormCases, Columns: []*data.Column{{Key: 1, Name: "x"}}}}
			assert.Equal(t, http.StatusOK, call(t, h, "PATCH", "/api/data-sets/"+p.DataSet, patch, nil).Code)
		}
	}()
	for ended := false; !ended; {
		select {
		case <-done:
			ended = true
		default:
		}
		var w worked
		require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+p.ID+"/work", WorkRequest{}, &w).Code)
		assert.InDelta(t, float64(w.DataVersion)+1, w.Solution.value("mean"), 1e-12)
		assert.Equal(t, p.Version, w.Version)
	}
}

// What is asked of versions that are no longer the ones is refused, not answered of others.
func TestAnswersAboutOlderVersions(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, demoFile(t))
	paths := []string{"work", "power", "simulation"}
	ask := func(path, versions string) int {
		body := `{"set":[],` + versions + `}`
		if path == "power" {
			body = `{"set":[],"question":{"inputs":{}},` + versions + `}`
		}
		return call(t, h, "POST", "/api/problems/"+p.ID+"/"+path, body, nil).Code
	}
	for _, path := range paths {
		assert.Equal(t, http.StatusOK, ask(path, `"version":1,"data_version":1`), path)
		assert.Equal(t, http.StatusConflict, ask(path, `"version":2,"data_version":1`), path)
		assert.Equal(t, http.StatusConflict, ask(path, `"version":1,"data_version":7`), path)
	}
	var f exchange.Failure
	settings := `{"version":1,"set":[{"pointer":"/alpha","value":0.1}]}`
	assert.Equal(t, http.StatusOK, call(t, h, "PATCH", "/api/problems/"+p.ID+"/settings", settings, nil).Code)
	assert.Equal(t, http.StatusConflict, call(t, h, "PATCH", "/api/problems/"+p.ID+"/settings", settings, &f).Code)
	assert.Equal(t, int64(2), f.Version)
}

// Settings that cannot be worked are not kept, and it is said why.
func TestSettingsThatCannotBeWorked(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, demoFile(t))
	var f exchange.Failure
	response := call(t, h, "PATCH", "/api/problems/"+p.ID+"/settings",
		`{"version":1,"set":[{"pointer":"/options/groups","value":["Mole","Mole"]}]}`,
		&f)
	assert.Equal(t, http.StatusUnprocessableEntity, response.Code)
	assert.Equal(t, "/options/groups/1", f.Errors[0].Pointer)
	var again Problem
	call(t, h, "GET", "/api/problems/"+p.ID, nil, &again)
	assert.Equal(t, p, again)
}

// Up to a step the answer holds neither p nor what comes after.
func TestASolutionUpToAStep(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, demoFile(t))
	response := call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[],"steps":6}`, nil)
	for _, hidden := range []string{"0.0553", `"id":"p"`, `"conclusion":"At`, "cohen_d", `"critical_high"`} {
		assert.NotContains(t, response.Body.String(), hidden)
	}
	assert.Contains(t, response.Body.String(), `"held_back":6`)
	assert.Contains(t, response.Body.String(), `−2.064`)
	response = call(t, h, "POST", "/api/problems/"+p.ID+"/work", `{"set":[],"steps":3,"table":"printed"}`, nil)
	assert.Equal(t, http.StatusNotFound, response.Code, "a page of a table that is not shown yet")
	response = call(t, h, "PATCH", "/api/problems/"+p.ID+"/settings", `{"version":1,"set":[{"pointer":"/tail","value":"left"}],"steps":3}`,
		nil)
	assert.NotContains(t, response.Body.String(), `−2.064`)
}

// Texts that cannot be kept, and null where something is meant, are refused with their field.
func TestWhatCannotBeKept(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, demoFile(t))
	set := `"set":{"name":"","about":"","form":"cases","response":{},"group":{},"columns":[{"key":1,"name":"a%s","label":"","unit":"",` +
		`"kind":"",` +
		`"cells":[]}]}`
	for _, c := range []struct{ method, path, body, pointer string }{
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":-5,` + fmt.Sprintf(set, "") + `,"blocks":[]}`, "/rows"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":0,` + fmt.Sprintf(set, `\u0000`) + `,"blocks":[]}`, "/set/columns/0/name"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":0,"set":null,"blocks":[]}`, "/set"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":0,"set":{"form":"cases","columns":[null]},"blocks":[]}`, "/set/columns/0"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":0,"set":{"form":"cases","columns":null},"blocks":[]}`, "/set/columns"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":1,` + fmt.Sprintf(set, "") + `,"blocks":[null]}`, "/blocks/0/column"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `{"version":1,"rows":1,` + fmt.Sprintf(set, "") +
			`,"blocks":[{"column":1,"block":0,"cells":null}]}`,
			"/blocks/0/cells"},
		{"PATCH", "/api/data-sets/" + p.DataSet, `null`, "/set"},
		{"POST", "/api/data-sets", `{"columns":[null]}`, "/columns/0"},
		{"POST", "/api/data-sets", `{"name":"\u0000"}`, "/name"},
		{"PUT", "/api/problems/" + p.ID, `{"version":1,"draft":null}`, "/draft"},
		{"PUT", "/api/problems/" + p.ID, `null`, "/draft"},
		{"PUT", "/api/problems/" + p.ID, `{"version":1,"draft":{"title":"\u0000"}}`, "/draft/title"},
		{"PATCH", "/api/problems/" + p.ID + "/settings", `{"version":1,"set":[{"pointer":"/alpha","value":"\u0000"}]}`, "/set/0/value"},
		{"POST", "/api/problems/import", strings.Replace(demoFile(t), `"title": "`, `"title": "\u0000`, 1), "/title"},
	} {
		var f exchange.Failure
		response := call(t, h, c.method, c.path, c.body, nil)
		require.Equal(t, http.StatusUnprocessableEntity, response.Code, "%s: %s", c.body, response.Body)
		decode(t, response, &f)
		assert.Equal(t, c.pointer, f.Errors[0].Pointer, c.body)
	}
	var again Problem
	call(t, h, "GET", "/api/problems/"+p.ID, nil, &again)
	assert.Equal(t, p, again)
}

// A draft whose lists are null is kept with empty ones.
func TestADraftOfNulls(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, demoFile(t))
	body := `{"version":1,"draft":{"procedure":"t-two-sample","alpha":"0.05","tail":"both","entry":"data","roles":null,"options":null,` +
		`"leave_out":null,"summary":null}}`
	require.Equal(t, http.StatusOK, call(t, h, "PUT", "/api/problems/"+p.ID, body, nil).Code)
	var again Problem
	call(t, h, "GET", "/api/problems/"+p.ID, nil, &again)
	assert.NotNil(t, again.Draft.Roles)
	assert.NotNil(t, again.Draft.Options)
	assert.NotNil(t, again.Draft.LeaveOut)
	assert.NotNil(t, again.Draft.Summary)
}

// A data set that many requests share is not changed by any: all demo problems are worked at the
// same time, twice, and give the same.
func TestRequestsShareADataSet(t *testing.T) {
	st := openStore(t)
	h := newHandler(t, st)
	problems, sets := demoProblems(t, st, func(*problem.Draft) {})
	var mu sync.Mutex
	answers := map[string][]string{}
	var wait sync.WaitGroup
	for range 2 {
		for name, id := range problems {
			wait.Go(func() {
				body := call(t, h, "POST", "/api/problems/"+id.String()+"/work", WorkRequest{}, nil).Body.String()
				look := call(t, h, "GET", "/api/data-sets/"+sets[name].String()+"/check", nil, nil).Body.String()
				mu.Lock()
				answers[name] = append(answers[name], body+look)
				mu.Unlock()
			})
		}
	}
	wait.Wait()
	for name, same := range answers {
		assert.Len(t, same, 2, name)
		assert.True(t, same[0] == same[1], name)
	}
}

// The sets that are kept in memory are bounded by their cells, those read last stay.
func TestPreparedSetsAreBounded(t *testing.T) {
	kept := newPreparedSets()
	large := func() *data.Prepared {
		return data.Prepare(&data.Set{Form: data.FormCases, Columns: []*data.Column{{Key: 1, Name: "x", Cells: make([]string, mostCells/3)}}})
	}
	var names []version
	for i := range 5 {
		names = append(names, version{uuid.New(), int64(i)})
		kept.add(names[i], large())
		assert.LessOrEqual(t, kept.cells, mostCells)
	}
	assert.Nil(t, kept.get(names[0]))
	assert.NotNil(t, kept.get(names[4]))
	assert.Nil(t, kept.get(version{names[4].id, 9}), "another version is another state")
	kept.add(version{uuid.New(), 1}, data.Prepare(&data.Set{Columns: []*data.Column{{Cells: make([]string, mostCells+1)}}}))
	assert.NotNil(t, kept.get(names[4]), "one that is too large takes nobody's place")
}
