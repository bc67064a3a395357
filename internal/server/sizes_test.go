package server

import (
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/exchange"
)

// aProblem is a problem file whose data are variables.
func aProblem(procedure string, roles map[string]any, variables ...map[string]any) map[string]any {
	return map[string]any{"grund": 1, "procedure": procedure, "roles": roles, "data": map[string]any{"variables": variables}}
}

// numbers are n numbers that are spread out, and levels n cells of k levels in turn.
func numbers(name string, n int) map[string]any {
	values := make([]float64, n)
	for i := range values {
		values[i] = float64(i*7919%1000)/10 + float64(i%13)
	}
	return map[string]any{"name": name, "kind": "number", "values": values}
}

func levels(name string, n, k int) map[string]any {
	values := make([]string, n)
	for i := range values {
		values[i] = fmt.Sprintf("%s %d", name, i%k)
	}
	return map[string]any{"name": name, "kind": "category", "values": values}
}

func with(file map[string]any, field string, value any) map[string]any {
	file[field] = value
	return file
}

// countsOf are counts of n categories.
func countsOf(n int) map[string]any {
	names, observed := make([]string, n), make([]int, n)
	for i := range names {
		names[i], observed[i] = fmt.Sprint("day ", i), 5+i%3
	}
	return map[string]any{"categories": names, "observed": observed}
}

func manyGroups(n int) []map[string]any {
	groups := make([]map[string]any, n)
	for i := range groups {
		groups[i] = map[string]any{"label": fmt.Sprint("pier ", i), "n": 5, "mean": i, "sd": 1.5}
	}
	return groups
}

// A small body must not ask for much: what is too large is refused with a sentence that says what to do, at
// once, and what is as large as it may be is answered in time, with less than 20 MB.
func TestWhatIsTooLargeIsRefused(t *testing.T) {
	tooMany := make([]string, 101)
	columns := []map[string]any{numbers("y", 300)}
	for i := range tooMany {
		tooMany[i] = fmt.Sprint("x", i)
		columns = append(columns, numbers(tooMany[i], 300))
	}
	wide := make([]map[string]any, 2001)
	for i := range wide {
		wide[i] = numbers(fmt.Sprint("x", i), 2)
	}
	boundaries := make([]int, 5001)
	for i := range boundaries {
		boundaries[i] = i
	}
	oneMean := func() map[string]any {
		return with(aProblem("t-one-sample", map[string]any{"response": "y"}, numbers("y", 20)), "options", map[string]any{"mean": 3})
	}
	table := map[string]any{"row": "a", "column": "b"}
	grouped := map[string]any{"response": "y", "group": "g"}
	long := strings.Repeat("fog ", 6000)
	for name, c := range map[string]struct {
		file map[string]any
		says string // "" where it is answered
	}{
		"a million cells": {aProblem("chi-square-independence", table, levels("a", 1000, 1000), levels("b", 1000, 999)),
			"999000 cells; keep to 2500: join levels"},
		"exactly":         {aProblem("exact-independence", table, levels("a", 3000, 60), levels("b", 3000, 59)), "keep to 2500"},
		"2,450 cells":     {aProblem("chi-square-independence", table, levels("a", 7350, 50), levels("b", 7350, 49)), ""},
		"too many levels": {aProblem("chi-square-independence", table, levels("a", 20_000, 20_000), levels("b", 20_000, 2)), "keep to 10000"},
		"1,000 groups": {aProblem("anova-one-way", grouped, numbers("y", 4000), levels("g", 4000, 1000)),
			"“g” has 1000 levels; keep to 200"},
		"1,000 by ranks": {aProblem("rank-k-sample", grouped, numbers("y", 4000), levels("g", 4000, 1000)), "keep to 200"},
		"100 groups":     {aProblem("anova-one-way", grouped, numbers("y", 800), levels("g", 800, 100)), ""},
		"a summary": {map[string]any{"grund": 1, "procedure": "anova-one-way",
			"data": map[string]any{"summary": map[string]any{"groups": manyGroups(5000)}}}, "there are 5000 groups; keep to 200"},
		"900 levels": {aProblem("regression-multiple", map[string]any{"response": "y", "predictors": []string{"g"}}, numbers("y", 3600),
			levels("g", 3600, 900)), ""},
		"2,000 levels": {aProblem("regression-multiple", map[string]any{"response": "y", "predictors": []string{"g"}}, numbers("y", 6000),
			levels("g", 6000, 2000)), "each would be a coefficient; keep to 1000"},
		"101 predictors": {aProblem("regression-multiple", map[string]any{"response": "y", "predictors": tooMany}, columns...),
			"101 variables are given; keep to 100"},
		"101 correlated": {aProblem("correlation", map[string]any{"variables": tooMany}, columns...), "keep to 100"},
		"5,000 levels":   {aProblem("chi-square-fit", map[string]any{"response": "g"}, levels("g", 5000, 5000)), "keep to 1000"},
		"5,000 counts": {map[string]any{"grund": 1, "procedure": "chi-square-fit", "data": map[string]any{"counts": countsOf(5000)}},
			"keep to 1000"},
		"5,000 classes": {with(aProblem("chi-square-distribution", map[string]any{"response": "y"}, numbers("y", 200)), "options",
			map[string]any{"distribution": "normal", "boundaries": boundaries}), "5001 boundaries make 5000 classes; keep to 500"},
		"2,001 variables":   {aProblem("t-one-sample", map[string]any{"response": "x1"}, wide...), "there are 2001 variables; keep to 2000"},
		"a long title":      {with(oneMean(), "title", long), "/title: the text has 24000 characters"},
		"a long question":   {with(oneMean(), "question", long), "/question: the text has 24000 characters; keep to 20000"},
		"an endless option": {with(oneMean(), "options", map[string]any{"mean": strings.Repeat("1", 200_000)}), "the option takes 200002 bytes"},
		"long levels":       {aProblem("anova-one-way", grouped, numbers("y", 8), levels(long, 8, 2)), "characters; keep"},
		"many pictures":     {with(oneMean(), "pictures", make([]map[string]any, 1000)), "keep at most 12"},
	} {
		t.Run(name, func(t *testing.T) {
			h := newHandler(t, nil)
			body, err := json.Marshal(c.file)
			require.NoError(t, err)
			began := time.Now()
			answer := call(t, h, "POST", "/api/work", string(body), nil)
			took := time.Since(began)
			assert.Less(t, answer.Body.Len(), exchange.MaxAnswer)
			switch c.says {
			case "":
				assert.Equal(t, http.StatusOK, answer.Code, answer.Body.String()[:min(300, answer.Body.Len())])
			default:
				require.Equal(t, http.StatusUnprocessableEntity, answer.Code)
				assert.Contains(t, answer.Body.String(), c.says)
			}
			assert.Less(t, took, 15*time.Second)
		})
	}
}

// A server whose database is away is alive and not ready.
func TestAliveAndReady(t *testing.T) {
	st := openStore(t)
	h, err := New(Config{Store: st, Dist: dist, Log: slog.New(slog.DiscardHandler), Hosts: []string{"example.com"}})
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, call(t, h, "GET", "/healthz", nil, nil).Code)
	st.Close()
	answer := call(t, h, "GET", "/healthz", nil, nil)
	assert.Equal(t, http.StatusServiceUnavailable, answer.Code)
	assert.NotEmpty(t, answer.Header().Get("Retry-After"))
	assert.Equal(t, http.StatusOK, call(t, h, "GET", "/healthz?alive", nil, nil).Code)
	answer = call(t, h, "GET", "/api/problems", nil, nil)
	assert.Equal(t, http.StatusServiceUnavailable, answer.Code)
	assert.NotEmpty(t, answer.Header().Get("Retry-After"))
}
