// Package docs holds the JSON Schemas of the problem file and the worked
// solution; its test holds them to what the program reads and writes.
package docs

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
)

func compile(t *testing.T, name string) *jsonschema.Schema {
	t.Helper()
	schema, err := jsonschema.NewCompiler().Compile(name)
	require.NoError(t, err)
	return schema
}

func validate(t *testing.T, schema *jsonschema.Schema, file []byte) error {
	t.Helper()
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(file))
	require.NoError(t, err)
	return schema.Validate(value)
}

// examples are all problem files of the project.
func examples(t *testing.T) map[string][]byte {
	t.Helper()
	out := map[string][]byte{}
	names, err := filepath.Glob("../demo/problems/*.json")
	require.NoError(t, err)
	for _, name := range names {
		file, err := os.ReadFile(name)
		require.NoError(t, err)
		out[name] = file
	}
	for _, each := range proctest.References(t) {
		out[each.Name] = each.Problem
	}
	require.NotEmpty(t, out)
	out["with pictures"] = []byte(illustrated)
	return out
}

// illustrated keeps a picture of every form.
const illustrated = `{"grund": 1, "procedure": "t-two-sample", "alpha": 0.05, "tail": "both",
	"roles": {"response": "minutes", "group": "pier"},
	"data": {"variables": [
		{"name": "minutes", "kind": "number", "values": [2, 3, 4, 30, 6, 7, 5, 8]},
		{"name": "pier", "kind": "category", "values": ["Mole", "Mole", "Mole", "Mole", "Quarry", "Quarry", "Quarry", "Quarry"]},
		{"name": "late", "kind": "category", "values": ["no", "no", "yes", "yes", "no", "yes", "yes", "yes"]}]},
	"pictures": [{"variables": "minutes", "form": "histogram", "width": 2, "start": 0, "normal": true},
		{"variables": ["minutes", "pier"], "form": "boxes"},
		{"variables": ["minutes", "pier"], "form": "intervals"},
		{"variables": ["pier", "late"], "share": "row", "stack": true}, {"variables": ["minutes", "minutes"]}]}`

func TestExamplesSatisfyTheSchemas(t *testing.T) {
	problems, solutions := compile(t, "problem.schema.json"), compile(t, "solution.schema.json")
	for name, file := range examples(t) {
		assert.NoError(t, validate(t, problems, file), name)
		p, err := problem.Parse(file)
		require.NoError(t, err, name)
		again, err := problem.Encode(p)
		require.NoError(t, err)
		assert.NoError(t, validate(t, problems, again), "%s, as it is written", name)
		solution, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		written, err := json.Marshal(solution)
		require.NoError(t, err)
		assert.NoError(t, validate(t, solutions, written), name)
	}
}

// What the schema refuses the parser refuses too.
func TestTheSchemaRefusesWhatTheParserRefuses(t *testing.T) {
	schema := compile(t, "problem.schema.json")
	const good = `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[{"label":"a","n":3,"mean":1,"sd":2},{"label":"b",` +
		`"n":4,"mean":1,"sd":2}]}}}`
	require.NoError(t, validate(t, schema, []byte(good)))
	for _, change := range [][2]string{
		{`"grund":1`, `"grund":2`}, {`"grund":1`, `"grund":1,"alpha":1`}, {`"grund":1`, `"grund":1,"alpha":null`},
		{`"grund":1`, `"grund":1,"tail":"up"`}, {`"grund":1`, `"grund":1,"claim":{"text":"x"}`}, {`"n":3`, `"n":3.5`},
		{`"sd":2},`, `"sd":-2},`}, {`"data":{`, `"data":{"counts":{},`}, {`"grund":1`, `"grund":1,"Alpha":0.1`},
		{`"grund":1`, `"grund":1,"decimals":1.5`},
	} {
		bad := []byte(strings.Replace(good, change[0], change[1], 1))
		assert.Error(t, validate(t, schema, bad), change[1])
		_, err := problem.Parse(bad)
		assert.Error(t, err, change[1])
	}
}
