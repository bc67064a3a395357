package proctest

import (
	"os"
	"path/filepath"
	"runtime"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/require"
)

// A Reference is a problem with numbers of its solution that were worked out apart from the program, by the Python that
// lies beside it.
type Reference struct {
	Name     string // with that of its file
	Problem  jsontext.Value
	Expected map[string]any // numbers by id, as text
}

// References returns the reference problems of all procedures.
func References(t *testing.T) []Reference {
	t.Helper()
	_, here, _, ok := runtime.Caller(0)
	require.True(t, ok)
	procedures := filepath.Join(filepath.Dir(here), "..")
	names, err := filepath.Glob(filepath.Join(procedures, "*/testdata/*.json"))
	require.NoError(t, err)
	var all []Reference
	for _, name := range append(names, filepath.Join(procedures, "testdata/counts.json")) {
		file, err := os.ReadFile(name)
		require.NoError(t, err)
		var cases []struct {
			Name     string         `json:"name"`
			Problem  jsontext.Value `json:"problem"`
			Expected map[string]any `json:"expected"`
		}
		require.NoError(t, json.Unmarshal(file, &cases), name)
		shown, err := filepath.Rel(procedures, name)
		require.NoError(t, err)
		for _, c := range cases {
			all = append(all, Reference{shown + ": " + c.Name, c.Problem, c.Expected})
		}
	}
	require.Greater(t, len(all), 250)
	return all
}
