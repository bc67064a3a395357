package docs

import (
	"archive/zip"
	"bytes"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/problem"
	"grund/internal/problemset"
)

// What is written of a set satisfies its schema, and what the schema refuses is refused.
func TestSetsSatisfyTheirSchema(t *testing.T) {
	schema := compile(t, "set.schema.json")
	opens := time.Date(2026, 11, 30, 8, 0, 0, 0, time.UTC)
	due, two := opens.AddDate(0, 0, 7), 2
	all := problemset.New("Week 3")
	all.About, all.Opens, all.Due, all.OtherNumbers, all.Asks = "Read *first*.", &opens, &due, true, problem.Names{"t", "p"}
	all.Help, all.Tries, all.Digits, all.TryCosts, all.HelpCosts = &two, &two, &two, 0.25, 0.5
	for _, settings := range []problemset.Settings{problemset.New("Week 1"), all} {
		bundle := problemset.Bundle{Settings: settings, Problems: []problemset.Bundled{
			{File: demo.File("overhaul"), Points: problemset.Points{"t": 2.5}}, {File: demo.File("two-berths")},
		}}
		file, err := bundle.Encode()
		require.NoError(t, err)
		written := setOf(t, file)
		assert.NoError(t, validate(t, schema, written), "%s", written)
	}
	for name, wrong := range map[string]string{
		"an unknown field": `{"grund":1,"title":"T","solution":"at_once","problems":[],"opend":1}`,
		"no such time":     `{"grund":1,"title":"T","solution":"never","problems":[]}`,
		"a large share":    `{"grund":1,"title":"T","solution":"at_once","try_costs":2,"problems":[]}`,
		"no tries":         `{"grund":1,"title":"T","solution":"at_once","tries":0,"problems":[]}`,
		"points below 0":   `{"grund":1,"title":"T","solution":"at_once","problems":[{"file":"1.json","points":{"t":-1}}]}`,
		"another form":     `{"grund":2,"title":"T","solution":"at_once","problems":[]}`,
		"a long title":     `{"grund":1,"title":"` + strings.Repeat("T", 201) + `","solution":"at_once","problems":[]}`,
	} {
		assert.Error(t, validate(t, schema, []byte(wrong)), name)
		var packed bytes.Buffer
		z := zip.NewWriter(&packed)
		w, err := z.Create("set.json")
		require.NoError(t, err)
		_, err = io.WriteString(w, wrong)
		require.NoError(t, err)
		require.NoError(t, z.Close())
		_, err = problemset.ReadBundle(packed.Bytes())
		var mistakes problem.Errors
		assert.ErrorAs(t, err, &mistakes, name)
	}
}

// setOf is the set.json of a ZIP.
func setOf(t *testing.T, file []byte) []byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	r, err := z.Open("set.json")
	require.NoError(t, err)
	defer r.Close()
	text, err := io.ReadAll(r)
	require.NoError(t, err)
	return text
}
