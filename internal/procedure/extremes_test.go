package procedure_test

import (
	"errors"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"syscall"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
)

// extremes are numbers at the ends of what a problem file can hold.
var extremes = []float64{0, 1, -1, 1e308, -1e308, 1e-308, 5e-324, 1e15, 999_999_999_999_999, 1e16, 1 << 53, 1e-15, 0.1, 1e100, -1e100, 3}

// numbersIn returns the places of numbers in a problem: each sets one.
func numbersIn(x any) (places []func(float64)) {
	visit := func(value any, set func(float64)) {
		if _, ok := value.(float64); ok {
			places = append(places, set)
			return
		}
		places = append(places, numbersIn(value)...)
	}
	switch x := x.(type) {
	case map[string]any:
		for _, key := range slices.Sorted(maps.Keys(x)) {
			if key != "grund" {
				visit(x[key], func(to float64) { x[key] = to })
			}
		}
	case []any:
		for i := range x {
			visit(x[i], func(to float64) { x[i] = to })
		}
	}
	return places
}

// Whatever numbers stand in a problem, it is worked or refused with a sentence, soon; a solution
// can be written, and its two rules say the same.
func TestExtremes(t *testing.T) {
	own, err := filepath.Glob("testdata/*.json")
	require.NoError(t, err)
	families, err := filepath.Glob("*/testdata/*.json")
	require.NoError(t, err)
	var problems []string
	for _, name := range append(own, families...) {
		file, err := os.ReadFile(name)
		require.NoError(t, err)
		var cases []struct {
			Problem map[string]any `json:"problem"`
		}
		if json.Unmarshal(file, &cases) != nil {
			continue // references of another kind
		}
		for _, c := range cases {
			if c.Problem != nil {
				text, err := json.Marshal(c.Problem)
				require.NoError(t, err)
				problems = append(problems, string(text))
			}
		}
	}
	require.Greater(t, len(problems), 300)
	rng := rand.New(rand.NewPCG(8, 8))
	worked, refused := 0, 0
	for range 3000 {
		var file map[string]any
		require.NoError(t, json.Unmarshal([]byte(problems[rng.IntN(len(problems))]), &file))
		places := numbersIn(file)
		if len(places) == 0 {
			continue
		}
		for range []int{1, 1, 2, 4, len(places)}[rng.IntN(5)] {
			places[rng.IntN(len(places))](extremes[rng.IntN(len(extremes))])
		}
		text, err := json.Marshal(file, json.Deterministic(true))
		require.NoError(t, err)
		begun := processorTime(t)
		var mistakes problem.Errors
		p, err := problem.Parse(text)
		if err == nil {
			s, workErr := procedure.Work(t.Context(), p)
			if err = workErr; err == nil {
				worked++
				_, writeErr := json.Marshal(s)
				assert.NoError(t, writeErr, "%s", text)
				if d := s.Decision; d != nil && d.ByCriticalValue != nil {
					assert.Equal(t, d.ByPValue, *d.ByCriticalValue, "%s", text)
				}
			}
		}
		if err != nil {
			refused++
			assert.True(t, errors.As(err, &mistakes), "%v: %s", err, text)
		}
		assert.Less(t, processorTime(t)-begun, 10*time.Second, "%s", text)
	}
	assert.Greater(t, worked, 1000)
	assert.Greater(t, refused, 700)
}

// processorTime returns how long the processor has worked for this process, which does not depend on
// what else the machine does.
func processorTime(t *testing.T) time.Duration {
	t.Helper()
	var used syscall.Rusage
	require.NoError(t, syscall.Getrusage(syscall.RUSAGE_SELF, &used))
	return time.Duration(used.Utime.Nano() + used.Stime.Nano())
}
