package server

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/problem"
)

// Whoever writes names the version that the write is based on, and an older one changes nothing.
func TestEveryWriteOfAnOldVersionIsRefused(t *testing.T) {
	st := openStore(t)
	h := newHandler(t, st)
	problems, sets := demoProblems(t, st, func(*problem.Draft) {})
	p, d := "/api/problems/"+problems["two-berths"].String(), "/api/data-sets/"+sets["two-berths"].String()
	var now Problem
	var held KeptSet
	call(t, h, "GET", d, nil, &held)
	for _, column := range held.Set.Columns {
		if column.Cells = nil; column.Name == "minutes" {
			column.Name = "loading time"
		}
	}
	change := DataPatch{Version: 1, Set: held.Set, Rows: 36}
	require.Equal(t, http.StatusOK, call(t, h, "PATCH", d, change, nil).Code)
	call(t, h, "GET", p, nil, &now)
	require.Equal(t, int64(2), now.Version, "a column named anew is a change of the problems that name it")

	for route, body := range map[string]any{
		"PUT " + p:                   PutRequest{Version: 1, Draft: problem.NewDraft()},
		"PATCH " + p + "/settings":   SettingsRequest{Version: 1, Set: []problem.Set{{Pointer: "/alpha", Value: 0.1}}},
		"POST " + p + "/reset":       VersionRequest{1},
		"DELETE " + p + "?version=1": nil,
		"DELETE " + p:                VersionRequest{1},
		"PATCH " + d:                 change,
		"POST " + d + "/reset":       VersionRequest{1},
		"DELETE " + d + "?version=1": nil,
		"POST " + p + "/work":        WorkRequest{Version: 1},
		"POST " + p + "/simulation":  SimulationRequest{Version: 1},
		"POST " + p + "/work?":       WorkRequest{DataVersion: 1},
	} {
		method, path, _ := strings.Cut(route, " ")
		answer := call(t, h, method, path, body, nil)
		assert.Equal(t, http.StatusConflict, answer.Code, route+" "+answer.Body.String())
	}
	for _, path := range []string{p, d} {
		require.Equal(t, http.StatusUnprocessableEntity, call(t, h, "POST", path+"/reset", nil, nil).Code, "no version at all")
		require.Equal(t, http.StatusUnprocessableEntity, call(t, h, "DELETE", path+"?version=two", nil, nil).Code)
		require.Equal(t, http.StatusNoContent, call(t, h, "DELETE", path+"?version=2", nil, nil).Code)
		require.Equal(t, http.StatusConflict, call(t, h, "POST", path+"/restore?version=1", nil, nil).Code)
		require.Equal(t, http.StatusNoContent, call(t, h, "POST", path+"/restore?version=2", nil, nil).Code)
	}
	call(t, h, "GET", p, nil, &now)
	assert.Equal(t, []any{int64(2), "t-two-sample"}, []any{now.Version, now.Draft.Procedure}, "nothing was written")
}

// What is deleted is not there to be read, changed, copied or used, until it is restored.
func TestADeletedDataSetIsGone(t *testing.T) {
	h := newServer(t)
	var d KeptSet
	post(t, h, "/api/data-sets", data.Set{Form: data.FormCases, Columns: []*data.Column{{Name: "y", Cells: []string{"1", "2"}}}}, &d)
	at := "/api/data-sets/" + d.ID
	require.Equal(t, http.StatusNoContent, call(t, h, "DELETE", at, nil, nil).Code)
	for route, body := range map[string]any{
		"GET " + at: nil, "GET " + at + "/check": nil, "GET " + at + "/file?format=csv": nil, "DELETE " + at: nil,
		"PATCH " + at:          DataPatch{Version: 1, Set: &data.Set{Form: data.FormCases, Columns: []*data.Column{}}},
		"POST " + at + "/copy": CopyRequest{"twin"}, "POST " + at + "/reset": VersionRequest{1},
		"POST " + at + "/look": problem.Picture{Variables: []string{"y"}}, "POST " + at + "/guide": GuideRequest{[]string{"y"}},
		"POST " + at + "/preview": PreviewRequest{&data.Column{Formula: "y"}},
		"POST " + at + "/reshape": ReshapeRequest{How: "take", N: 1}, "POST /api/problems": `{"data_set":"` + d.ID + `"}`,
	} {
		method, path, _ := strings.Cut(route, " ")
		assert.Equal(t, http.StatusNotFound, call(t, h, method, path, body, nil).Code, route)
	}
	require.Equal(t, http.StatusNoContent, call(t, h, "POST", at+"/restore", nil, nil).Code)
	assert.Equal(t, http.StatusOK, call(t, h, "GET", at, nil, nil).Code)
}
