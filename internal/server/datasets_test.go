package server

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/exchange"
)

func post(t *testing.T, h http.Handler, path string, body any, out any) {
	t.Helper()
	response := call(t, h, "POST", path, body, out)
	require.Less(t, response.Code, 300, response.Body.String())
}

func TestADataSetFromBeginningToEnd(t *testing.T) {
	h := newServer(t)
	var listing DataListing
	post(t, h, "/api/data-sets/import?name=loading", "pier,minutes\nMole,12\nQuarry,9\nMole,14\nQuarry,\n", &listing)
	at := "/api/data-sets/" + listing.ID
	var d KeptSet
	call(t, h, "GET", at, nil, &d)
	assert.Equal(t, []string{"12", "9", "14", ""}, d.Set.Columns[1].Cells)

	var preview Preview
	post(t, h, at+"/preview", PreviewRequest{&data.Column{Formula: `minutes > 12 ? "late" : "on time"`}}, &preview)
	assert.Equal(t, []string{"on time", "on time", "late", ""}, preview.Cells)
	assert.Equal(t, data.Category, preview.Profile.Kind)
	post(t, h, at+"/preview", PreviewRequest{&data.Column{Formula: "hours + 1"}}, &preview)
	assert.Equal(t, 0, preview.At)
	assert.Contains(t, preview.Says, "no column “hours”")

	d.Set.Columns = append(d.Set.Columns, &data.Column{Key: 3, Name: "late", Formula: "minutes > 12"})
	for _, c := range d.Set.Columns {
		c.Cells = nil
	}
	var saved DataSaved
	require.Equal(t, http.StatusOK, call(t, h, "PATCH", at, DataPatch{Version: d.Version, Set: d.Set, Rows: 4}, &saved).Code)
	var check DataCheck
	call(t, h, "GET", at+"/check", nil, &check)
	assert.Equal(t, saved.Version, check.Version)
	assert.Equal(t, []ColumnCells{{3, []string{"no", "no", "yes", ""}}}, check.Derived)
	assert.Equal(t, 1, check.Profiles[1].Missing)
	assert.Empty(t, check.Mistakes)

	var wide KeptSet
	post(t, h, at+"/reshape", ReshapeRequest{How: "unstack", Name: "by pier", Response: "minutes", Group: "pier"}, &wide)
	assert.Equal(t, data.FormGroups, wide.Set.Form)
	no := false
	var shown KeptSet
	post(t, h, at+"/reshape", ReshapeRequest{How: "count", Row: "pier", Column: "late", Keep: &no}, &shown)
	assert.Equal(t, "", shown.ID, "it is only shown")
	assert.Equal(t, []string{"1", "1"}, shown.Set.Columns[1].Cells)
	seed := uint64(3)
	var some KeptSet
	post(t, h, at+"/reshape", ReshapeRequest{How: "take", N: 2, Seed: &seed, Name: "two"}, &some)
	assert.Len(t, some.Set.Columns[0].Cells, 2)

	var p Problem
	post(t, h, "/api/problems", fmt.Sprintf(`{"data_set":%q,"procedure":"t-two-sample","roles":{"response":"minutes","group":"pier"}}`,
		listing.ID), &p)
	assert.Equal(t, listing.ID, p.DataSet)
	require.Len(t, p.Mistakes, 1, "one case in a group is too few")

	var twin KeptSet
	post(t, h, at+"/copy", CopyRequest{"twin"}, &twin)
	assert.Equal(t, "twin", twin.Set.Name)
	require.Equal(t, http.StatusNoContent, call(t, h, "DELETE", "/api/data-sets/"+twin.ID, nil, nil).Code)
	require.Equal(t, http.StatusNoContent, call(t, h, "POST", "/api/data-sets/"+twin.ID+"/restore", nil, nil).Code)
	var list []DataListing
	call(t, h, "GET", "/api/data-sets", nil, &list)
	assert.Len(t, list, 4)
	assert.Equal(t, http.StatusBadRequest, call(t, h, "POST", at+"/reset?version=2", nil, nil).Code)
}

func TestExportAndImportAgain(t *testing.T) {
	h := newServer(t)
	var d KeptSet
	post(t, h, "/api/data-sets", data.Set{Name: "Loading, spring", Form: data.FormCases, Columns: []*data.Column{
		{Name: "pier", Label: "Pier", Kind: data.Category, Levels: []string{"2", "1"}, LevelNames: map[string]string{"1": "Mole"},
			Cells: []string{"1", "2"}},
		{Name: "minutes", Unit: "min", Kind: data.Number, Cells: []string{"12.5", ""}},
	}}, &d)
	for format, labels := range map[string]bool{"csv": false, "tsv": false, "xlsx": true, "ods": true, "json": true} {
		file := call(t, h, "GET", "/api/data-sets/"+d.ID+"/file?format="+format, nil, nil)
		require.Equal(t, http.StatusOK, file.Code, format)
		assert.Contains(t, file.Header().Get("Content-Disposition"), "Loading, spring."+format)
		var again DataListing
		post(t, h, "/api/data-sets/import?name=again", file.Body.String(), &again)
		var got KeptSet
		call(t, h, "GET", "/api/data-sets/"+again.ID, nil, &got)
		assert.Equal(t, []string{"12.5", ""}, got.Set.Columns[1].Cells, format)
		if labels {
			assert.Equal(t, d.Set.Columns[0], got.Set.Columns[0], format)
			assert.Equal(t, "min", got.Set.Columns[1].Unit, format)
		}
	}
	var f exchange.Failure
	call(t, h, "GET", "/api/data-sets/"+d.ID+"/file?format=pdf", nil, &f)
	assert.Equal(t, "/format", f.Errors[0].Pointer)
}

func TestImportSaysWhatIsWrong(t *testing.T) {
	h := newServer(t)
	for text, says := range map[string]string{"a,b\n\"1,2": "row 2", "": "nothing in it",
		`{"grund":1,"variables":[{"name":"x"}]}`: "/variables/0", "\x89PNG..": "picture"} {
		var f exchange.Failure
		assert.Equal(t, http.StatusUnprocessableEntity, call(t, h, "POST", "/api/data-sets/import?name=x", text, &f).Code)
		assert.Contains(t, f.Detail, says)
	}
	var list []DataListing
	call(t, h, "GET", "/api/data-sets", nil, &list)
	assert.Empty(t, list)
}

func TestReading(t *testing.T) {
	h := newServer(t)
	for name, c := range map[string]struct {
		query, text string
		want        func(r Reading)
	}{
		"a table of counts": {"", "reason\tsingle\treturn\tall\nwork\t1\t2\t3\nschool\t3\t4\t7\n", func(r Reading) {
			assert.True(t, r.Counts && r.Totals)
			assert.Equal(t, data.FormCounts, r.Set.Form)
			assert.Len(t, r.Set.Columns, 3)
		}},
		"kept as cases": {"?counts=no", "reason\tsingle\treturn\nwork\t1\t2\nschool\t3\t4\n", func(r Reading) {
			assert.True(t, r.Counts)
			assert.Equal(t, data.FormCases, r.Set.Form)
		}},
		"what does not fit": {"", "berth;minutes\nMole;12,5\nQuarry;n/a\nMole;13o\nMole;11,5\nQuarry;12\n", func(r Reading) {
			assert.Equal(t, [][]int{{}, {2}}, r.Odd, "a mark for a missing value fits")
		}},
		"turned": {"?turned=yes", "Mole\t1.5\t2\t3\nQuarry\t4\t5\t6\n",
			func(r Reading) { assert.Equal(t, []string{"4", "5", "6"}, r.Set.Columns[1].Cells) }},
		"groups as rows":    {"", "Mole\t1.5\t2\t3\nQuarry\t4\t5\t6\n", func(r Reading) { assert.True(t, r.Turned) }},
		"no header":         {"?header=no", "a,b\n1,2\n", func(r Reading) { assert.Equal(t, []string{"a", "1"}, r.Set.Columns[0].Cells) }},
		"another separator": {"?separator=" + "%3B", "a;b,c\n1;2\n", func(r Reading) { assert.Equal(t, "b,c", r.Set.Columns[1].Name) }},
		"nothing":           {"", " ", func(r Reading) { assert.Empty(t, r.Set.Columns) }},
		"a set's file": {"", `{"grund":1,"variables":[{"name":"x","kind":"number","unit":"m","values":[1,null]}]}`, func(r Reading) {
			assert.Equal(t, "m", r.Set.Columns[0].Unit)
			assert.Equal(t, []string{"1", ""}, r.Set.Columns[0].Cells)
		}},
	} {
		t.Run(name, func(t *testing.T) {
			var r Reading
			post(t, h, "/api/read"+c.query, c.text, &r)
			c.want(r)
		})
	}
}

func TestAProblemTakesItsDataAlong(t *testing.T) {
	h := newServer(t)
	var d KeptSet
	post(t, h, "/api/data-sets", data.Set{Form: data.FormGroups, Response: data.Heading{Label: "Loading time", Unit: "min"},
		Columns: []*data.Column{
			{Name: "Mole", Cells: []string{"12", "13", "14"}}, {Name: "Quarry", Cells: []string{"15", "17"}},
		}}, &d)
	var p Problem
	post(t, h, "/api/problems", CreateRequest{Procedure: "t-two-sample"}, &p)
	var saved Saved
	set := uuid.MustParse(d.ID)
	require.Equal(t, http.StatusOK, call(t, h, "PUT", "/api/problems/"+p.ID, PutRequest{1, p.Draft, &set}, &saved).Code)
	assert.Empty(t, saved.Mistakes)
	file := call(t, h, "GET", "/api/problems/"+p.ID+"/file", nil, nil)
	assert.Contains(t, file.Body.String(), `"Loading time"`)
	assert.Equal(t, 1, strings.Count(file.Body.String(), `"variables"`))
}
