package server

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/labreport"
)

// readReport is what a test reads of a report.
type readReport struct {
	ID      string           `json:"id"`
	Version int64            `json:"version"`
	Parts   []labreport.Part `json:"parts"`
	Pieces  []struct {
		Now     string `json:"now"`
		Changed string `json:"changed"`
		Gone    string `json:"gone"`
	} `json:"pieces"`
	Problems []ReportProblem `json:"problems"`
}

// What is kept of two problems makes a report, which follows them, says what changed, and goes out in every form.
func TestLabReport(t *testing.T) {
	h := newServer(t)
	a, b := imported(t, h, berths), imported(t, h, demoFile(t))
	var kept KeptForReport
	require.Equal(t, http.StatusOK, call(t, h, "GET", "/api/problems/"+a.ID+"/kept", "", &kept).Code)
	assert.Equal(t, KeptForReport{At: []string{}}, kept)
	keep := func(of, body string) *KeptForReport {
		t.Helper()
		var kept KeptForReport
		r := call(t, h, "POST", "/api/problems/"+of+"/keep", body, &kept)
		require.Equal(t, http.StatusOK, r.Code, r.Body.String())
		return &kept
	}
	own := keep(a.ID, `{"at":"number/critical_high"}`)
	assert.Equal(t, []string{"number/critical_high"}, own.At)
	require.NotEmpty(t, own.Report)
	into := fmt.Sprintf(`{"report":%q,"at":`, own.Report)
	assert.Equal(t, []string{"sentence/conclusion"}, keep(b.ID, into+`"sentence/conclusion"}`).At)
	keep(b.ID, into+`"figure/curve"}`)
	assert.Equal(t, []string{"sentence/conclusion"}, keep(b.ID, into+`"figure/curve","away":true}`).At)
	call(t, h, "GET", "/api/problems/"+b.ID+"/kept?report="+own.Report, "", &kept)
	assert.Equal(t, []string{"sentence/conclusion"}, kept.At)
	var none KeptForReport
	call(t, h, "GET", "/api/problems/"+b.ID+"/kept", "", &none)
	assert.Empty(t, none.Report, "it has no report of its own")

	at := "/api/reports/" + own.Report
	read := func() (report readReport) {
		t.Helper()
		require.Equal(t, http.StatusOK, call(t, h, "GET", at, "", &report).Code)
		return report
	}
	report := read()
	require.Len(t, report.Pieces, 2)
	require.Len(t, report.Problems, 2)
	first := report.Pieces[0].Now
	assert.NotEmpty(t, first)
	assert.Empty(t, report.Pieces[0].Changed)

	// Alpha is another one: the number follows and says so, until the person has seen it.
	call(t, h, "PATCH", "/api/problems/"+a.ID+"/settings", `{"version":1,"set":[{"pointer":"/alpha","value":0.01}]}`, nil)
	report = read()
	assert.NotEqual(t, first, report.Pieces[0].Now)
	assert.Equal(t, "It was "+first+" when it was kept.", report.Pieces[0].Changed)
	put := fmt.Sprintf(`{"version":%d,"title":"Both <b>","parts":[{"id":"n","problem":%q,"at":"number/critical_high"},`+
		`{"id":"p","problem":%q,"text":"# Found\n\n<script> $\\alpha$ bounds it at @{critical_high}."}]}`, report.Version, a.ID, a.ID)
	report = readReport{}
	require.Equal(t, http.StatusOK, call(t, h, "PUT", at, put, &report).Code)
	assert.Empty(t, report.Pieces[0].Changed)
	assert.Contains(t, report.Parts[1].Was, "bounds it at "+report.Pieces[0].Now)
	assert.Equal(t, http.StatusConflict, call(t, h, "PUT", at, put, nil).Code)

	for format, has := range map[string]string{"html": "<h2>Found</h2>", "odt": "PK", "md": "# Both"} {
		r := call(t, h, "GET", at+"/paper?save=1&format="+format+"&name=Ona", "", nil)
		require.Equal(t, http.StatusOK, r.Code, r.Body.String())
		assert.Contains(t, r.Body.String(), has)
		assert.Contains(t, r.Header().Get("Content-Security-Policy"), "default-src 'none'")
		assert.Contains(t, r.Header().Get("Content-Disposition"), "."+format)
		if format == "html" {
			assert.NotContains(t, r.Body.String(), "<script>")
			assert.Contains(t, r.Body.String(), "Ona")
		}
	}
	var list []ReportListing
	call(t, h, "GET", "/api/reports", "", &list)
	require.Len(t, list, 1)
	assert.Equal(t, "Both <b>", list[0].Title)

	// A problem that is deleted, or that cannot be worked, says so in its place.
	call(t, h, "DELETE", "/api/problems/"+a.ID, "", nil)
	report = read()
	assert.Contains(t, report.Pieces[0].Gone, "not there any more")
	assert.Equal(t, http.StatusNoContent, call(t, h, "DELETE", at, "", nil).Code)
	assert.Equal(t, http.StatusNotFound, call(t, h, "GET", at, "", nil).Code)
	assert.Equal(t, http.StatusNoContent, call(t, h, "POST", at+"/restore", "", nil).Code)
	assert.Equal(t, http.StatusOK, call(t, h, "GET", at, "", nil).Code)
}

// What cannot be kept is refused with its field.
func TestWhatNoReportTakes(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, berths)
	var report readReport
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/reports", `{"title":"Empty"}`, &report).Code)
	const nobody = "00000000-0000-4000-8000-000000000009"
	for _, c := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"POST", "/api/problems/" + p.ID + "/keep", `{"at":"number/nothing"}`, 422, "/at"},
		{"POST", "/api/problems/" + p.ID + "/keep", `{"at":"nothing"}`, 422, "/at"},
		{"POST", "/api/problems/" + p.ID + "/keep", `{"at":"number/t","report":"` + nobody + `"}`, 404, ""},
		{"POST", "/api/problems/" + nobody + "/keep", `{"at":"number/t"}`, 404, ""},
		{"GET", "/api/problems/" + p.ID + "/kept?report=x", "", 404, ""},
		{"GET", "/api/reports/" + nobody, "", 404, ""},
		{"GET", "/api/reports/" + report.ID + "/paper?format=doc", "", 422, "/format"},
		{"GET", "/api/reports/" + report.ID + "/paper?size=a5", "", 422, "/size"},
		{"POST", "/api/reports", `{"title":"` + strings.Repeat("x", 501) + `"}`, 422, "/title"},
		{"PUT", "/api/reports/" + report.ID, `{"version":1,"title":"","parts":[{"id":"1","text":"\u0000"}]}`, 422, "/parts/0/text"},
		{"PUT", "/api/reports/" + report.ID, `{"version":1,"title":"","parts":[null]}`, 422, "/parts/0"},
		{"PUT", "/api/reports/" + report.ID, `{"version":1,"title":"","parts":[{"id":"1","problem":"x","at":"kind/t"}]}`, 422, "/parts/0/at"},
		{"PUT", "/api/reports/" + report.ID, `{"version":7,"title":"","parts":[]}`, 409, ""},
	} {
		r := call(t, h, c.method, c.path, c.body, nil)
		assert.Equal(t, c.status, r.Code, "%s %s: %s", c.path, c.body, r.Body)
		assert.Contains(t, r.Body.String(), c.says, c.body)
	}
	// One with a problem that never was is kept: it may be brought in later.
	const of = `{"version":1,"title":"","parts":[{"id":"1","problem":"x","at":"number/t"}]}`
	r := call(t, h, "PUT", "/api/reports/"+report.ID, of, &report)
	require.Equal(t, http.StatusOK, r.Code)
	assert.NotEmpty(t, report.Pieces[0].Gone)
	assert.Empty(t, report.Problems)
}
