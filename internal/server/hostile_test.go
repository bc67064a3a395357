package server

import (
	"bytes"
	"fmt"
	"log/slog"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/exchange"
)

// hostileBodies is how many bodies are sent.
const hostileBodies = 5000

// A hostile sends bodies that were valid until something in them was changed.
type hostile struct {
	t    *testing.T
	h    http.Handler
	log  *lockedBuffer
	rng  *rand.Rand
	file map[string]any // a problem file
	p    Problem
	d    KeptSet
	link string // to the problem
}

// lockedBuffer is a log that many write.
type lockedBuffer struct {
	mu sync.Mutex
	bytes.Buffer
}

func (b *lockedBuffer) Write(p []byte) (int, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.Buffer.Write(p)
}

// TestNoBodyBreaksTheServer changes valid bodies of every route, always the same way, and sends them:
// none brings an error of ours, a panic or a wait, and what was stored can be read.
func TestNoBodyBreaksTheServer(t *testing.T) {
	var log lockedBuffer
	h, err := New(Config{Store: openStore(t), Dist: dist, Log: slog.New(slog.NewTextHandler(&log, nil)), Hosts: []string{"example.com"}})
	require.NoError(t, err)
	problems, err := demo.Problems()
	require.NoError(t, err)
	const workers = 4
	var wait sync.WaitGroup
	for w := range workers {
		wait.Go(func() {
			s := &hostile{t: t, h: h, log: &log, rng: rand.New(rand.NewPCG(20261129, uint64(w)))}
			for i := range hostileBodies / workers {
				if i%25 == 0 { // what was changed too often is no longer valid at all
					s.begin(problems[s.rng.IntN(len(problems))].File)
				}
				s.once()
				if t.Failed() {
					return
				}
			}
		})
	}
	wait.Wait()
	assert.NotContains(t, log.String(), "ERROR")
}

// begin keeps a problem and its data, to be changed.
func (s *hostile) begin(file []byte) {
	s.file = map[string]any{}
	require.NoError(s.t, json.Unmarshal(file, &s.file))
	s.p, s.d = Problem{}, KeptSet{}
	require.Equal(s.t, http.StatusCreated, s.send("POST", "/api/problems/import", file, &s.p))
	require.Equal(s.t, http.StatusOK, s.send("GET", "/api/data-sets/"+s.p.DataSet, nil, &s.d))
	var link ShareLink
	require.Equal(s.t, http.StatusOK, s.send("POST", "/api/problems/"+s.p.ID+"/share", nil, &link))
	s.link = "/api" + link.Path
}

// send sends a body and returns the status of its answer.
func (s *hostile) send(method, path string, body []byte, out any) int {
	recorder := httptest.NewRecorder()
	began := time.Now()
	s.h.ServeHTTP(recorder, httptest.NewRequest(method, path, bytes.NewReader(body)))
	sent := func() string {
		return fmt.Sprintf("%s %s %.2000s → %.500s", method, path, body, recorder.Body.String())
	}
	if took := time.Since(began); took > 20*time.Second {
		assert.Fail(s.t, "a wait", "%v %s", took, sent())
	}
	if recorder.Code >= 500 {
		assert.Fail(s.t, "an error of ours", sent())
	}
	if recorder.Body.Len() > exchange.MaxAnswer {
		assert.Fail(s.t, "a long answer", "%d bytes %s", recorder.Body.Len(), sent())
	}
	if recorder.Code == http.StatusUnprocessableEntity {
		var f exchange.Failure
		if json.Unmarshal(recorder.Body.Bytes(), &f) != nil || f.Detail == "" {
			assert.Fail(s.t, "no sentence", sent())
		}
	}
	if out != nil && recorder.Code < 300 {
		require.NoError(s.t, json.Unmarshal(recorder.Body.Bytes(), out))
	}
	return recorder.Code
}

// once changes a body of a route and sends it.
func (s *hostile) once() {
	at, set := "/api/problems/"+s.p.ID, "/api/data-sets/"+s.p.DataSet
	draft, description := s.tree(s.p.Draft), s.tree(s.d.Set)
	version := map[string]any{"version": s.p.Version, "data_version": s.d.Version}
	with := func(more map[string]any) map[string]any {
		out := maps.Clone(version)
		maps.Copy(out, more)
		return out
	}
	pointers := []string{"/alpha", "/tail", "/procedure", "/decimals", "/confidence", "/leave_out", "/roles/response", "/options/mean",
		"/options",
		"/claim/says", "/pictures", "/data", "/title", "/options/join", "/options/boundaries", "/options/predict_at", "/options/equal_variances"}
	sets := []any{map[string]any{"pointer": "/alpha", "value": 0.1},
		map[string]any{"pointer": pointers[s.rng.IntN(len(pointers))], "value": s.odd()}}
	first := s.d.Set.Columns[0]
	bare := s.tree(s.d.Set).(map[string]any)
	for _, column := range bare["columns"].([]any) {
		column.(map[string]any)["cells"] = []any{}
	}
	rows := len(first.Cells)
	routes := []struct {
		method, path string
		body         any
	}{
		{"POST", "/api/work", s.file},
		{"POST", "/api/work", s.file},
		{"POST", "/api/problems/import", s.file},
		{"POST", "/api/problems", map[string]any{"data_set": s.p.DataSet, "procedure": "t-two-sample", "roles": map[string]any{"response": "y"}}},
		{"PUT", at, map[string]any{"version": s.p.Version, "draft": draft, "data_set": s.p.DataSet}},
		{"PUT", at, map[string]any{"version": s.p.Version, "draft": draft}},
		{"PATCH", at + "/settings", map[string]any{"version": s.p.Version, "set": sets, "steps": 3}},
		{"POST", at + "/work", with(map[string]any{"set": sets, "steps": 2, "table": "cases", "from": 10, "sort": "case", "descending": true,
			"where": map[string]any{"column": "case", "is": "at-most", "value": "7"}, "ref": "cases/1/response"})},
		{"POST", at + "/work", with(map[string]any{"set": sets})},
		{"POST", at + "/power", with(map[string]any{"set": []any{},
			"question": map[string]any{"inputs": map[string]any{"truth": 1.5}, "target": 0.8}})},
		{"POST", at + "/reset", map[string]any{"version": s.p.Version}},
		{"POST", at + "/duplicate", nil},
		{"POST", "/api/data-sets", description},
		{"PATCH", set, map[string]any{"version": s.d.Version, "set": bare, "rows": rows, "blocks": []any{
			map[string]any{"column": first.Key, "block": 0, "cells": s.tree(first.Cells)}}}},
		{"PATCH", set, map[string]any{"version": s.d.Version, "set": bare, "rows": rows, "blocks": []any{}}},
		{"POST", set + "/look", map[string]any{"variables": []any{first.Name}, "form": "histogram", "width": 2.5, "start": 1.0, "normal": true}},
		{"POST", set + "/guide", map[string]any{"variables": []any{first.Name}}},
		{"POST", set + "/preview", map[string]any{"column": map[string]any{"key": 77, "name": "new", "formula": first.Name + " + 1",
			"recode": map[string]any{"from": first.Name,
				"classes": []any{map[string]any{"below": 3.0, "name": "a"}, map[string]any{"name": "b"}}}}}},
		{"POST", set + "/reshape", map[string]any{"how": []string{"stack", "unstack", "count", "open-out", "take"}[s.rng.IntN(5)], "name": "new",
			"columns": []any{0.0, 1.0}, "response": first.Name, "group": first.Name, "row": first.Name, "column": first.Name, "n": 3.0, "seed": 4.0,
			"keep": s.rng.IntN(2) == 0}},
		{"POST", set + "/copy", map[string]any{"name": "twin"}},
		{"POST", s.link + "/work", map[string]any{"set": sets}},
		{"POST", s.link + "/try", map[string]any{"events": []any{
			map[string]any{"kind": "answer", "ask": "n_1", "text": "12", "verdict": "right"}, map[string]any{"kind": "help", "ask": "n_1"}}}},
		{"POST", set + "/reset", map[string]any{"version": s.d.Version}},
	}
	r := routes[s.rng.IntN(len(routes))]
	body := s.changed(r.body)
	status := s.send(r.method, r.path, body, nil)
	if status >= 300 || r.path == "/api/work" {
		return
	}
	s.readBack()
}

// readBack reads what is kept: it may be wrong, and that is said, but it can be read.
func (s *hostile) readBack() {
	at := "/api/problems/" + s.p.ID
	var p Problem
	if !assert.Equal(s.t, http.StatusOK, s.send("GET", at, nil, &p)) {
		return
	}
	set := "/api/data-sets/" + p.DataSet
	var d KeptSet
	if !assert.Equal(s.t, http.StatusOK, s.send("GET", set, nil, &d)) {
		return
	}
	for _, path := range []string{at + "/check", set + "/check", set + "/cells", set + "/file?format=csv", set + "/file?format=ods", at +
		"/file"} {
		s.send("GET", path, nil, nil)
	}
	s.send("POST", at+"/work", []byte(`{"set":[]}`), nil)
	if p.Draft != nil && d.Set != nil && len(d.Set.Columns) > 0 {
		s.p, s.d = p, d
	}
}

// tree returns a value as JSON has it.
func (s *hostile) tree(v any) (out any) {
	text, err := json.Marshal(v)
	require.NoError(s.t, err)
	require.NoError(s.t, json.Unmarshal(text, &out))
	return out
}

// changed returns a body with some changes in it.
func (s *hostile) changed(body any) []byte {
	if body == nil {
		return []byte(strings.Repeat("{", s.rng.IntN(3)))
	}
	tree := s.tree(body)
	for range 1 + s.rng.IntN(2) {
		tree = s.mutate(tree)
	}
	text, err := json.Marshal(tree)
	require.NoError(s.t, err)
	switch s.rng.IntN(40) {
	case 0: // broken off
		return text[:s.rng.IntN(len(text)+1)]
	case 1: // another byte
		if len(text) > 0 {
			text = slices.Clone(text)
			text[s.rng.IntN(len(text))] = byte(s.rng.IntN(256))
		}
	case 2:
		return bytes.Replace(text, []byte(`:"`), []byte(`:"\u0000`), 1)
	}
	return text
}

// odd are values that nobody expects.
var odd = []any{
	nil, true, "", " ", "x", "\u202e", "=1+1", "0x", "NaN", "1e999", "–", -1.0, 0.0, 0.5, 1.0, 2.0, 3.0, 1e9, 2147483647.0, 2147483648.0,
	-2147483649.0,
	9007199254740993.0, 9223372036854775807.0, 1.8e19, 1e300, -1e300, 5e-324, 1e-12, []any{}, map[string]any{}, []any{nil}, []any{[]any{}},
	map[string]any{"": nil}, []any{1.0, "x", nil}, strings.Repeat("a", 600), strings.Repeat("é ", 20_000), "/../..",
	"'; drop table problem; --",
	"log", "numbers", "chi-square-fit", "regression-multiple", "cases", "groups", "counts", "number", "category", "identifier", "left", "both",
	"summary", "data", "exact", "poisson", "fuel + 1", "1/0", "sqrt(-1)", "rank(x)",
}

// odd returns one of them, which may be changed in its turn.
func (s *hostile) odd() any { return s.tree(odd[s.rng.IntN(len(odd))]) }

// mutate changes one place of a tree.
func (s *hostile) mutate(node any) any {
	if s.rng.IntN(14) == 0 {
		return s.odd()
	}
	switch node := node.(type) {
	case map[string]any:
		if len(node) == 0 {
			return map[string]any{"x": s.odd()}
		}
		keys := slices.Sorted(maps.Keys(node))
		key := keys[s.rng.IntN(len(keys))]
		switch s.rng.IntN(10) {
		case 0:
			delete(node, key)
		case 1:
			node[keys[s.rng.IntN(len(keys))]] = node[key]
		case 2:
			node[fmt.Sprint("extra", s.rng.IntN(3))] = node[key]
		default:
			node[key] = s.mutate(node[key])
		}
		return node
	case []any:
		if len(node) == 0 {
			return []any{s.odd()}
		}
		i := s.rng.IntN(len(node))
		switch s.rng.IntN(8) {
		case 0:
			return slices.Delete(node, i, i+1)
		case 1:
			return append(node, node[i])
		case 2:
			return slices.Repeat(node, 1+s.rng.IntN(40))
		case 3:
			return node[:i]
		}
		node[i] = s.mutate(node[i])
		return node
	case float64:
		return []any{-node, node * 1e6, node / 1e6, node + 0.5, 1 / node}[s.rng.IntN(4)]
	case string:
		return []any{node + node, node + "\t", strings.ToUpper(node), "“" + node + "”", strings.Repeat(node, 50)}[s.rng.IntN(5)]
	}
	return s.odd()
}
