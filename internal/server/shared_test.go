package server

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/exchange"
	"grund/internal/people"
)

// What is copied from a link is all of it, and one's own: the same file, with its notes and derived variables. The link shows
// the owner's thing as it is now, and the copy stays as it was.
func TestACopyOfWhatIsShared(t *testing.T) {
	s := startWithPeople(t, openStore(t), people.Rules{Guests: true})
	own, other := newBrowser(t, s), newBrowser(t, s)
	for _, b := range []*browser{own, other} {
		b.needs("POST", "/api/guests", "", nil)
	}
	file := strings.Replace(berths, `"procedure"`, `"title":"Berths","notes":[{"at":"number/t","text":"See $t$."}],"procedure"`, 1)
	var p, seen Problem
	own.needs("POST", "/api/problems/import", file, &p)
	var set KeptSet
	own.needs("GET", "/api/data-sets/"+p.DataSet, "", &set)
	own.needs("PATCH", "/api/data-sets/"+p.DataSet, `{"version":1,"rows":8,"blocks":[],"set":{"name":"Waits","about":"","form":"cases",`+
		`"response":{},"group":{},"columns":[{"key":1,"name":"berth"},{"key":2,"name":"minutes"},{"key":3,"name":"twice",`+
		`"formula":"2 * minutes"}]}}`, nil)
	var link ShareLink
	own.needs("POST", "/api/problems/"+p.ID+"/share", "", &link)
	at := "/api" + link.Path
	var thing SharedThing
	own.needs("GET", at, "", &thing)
	assert.Equal(t, SharedThing{"problem", p.ID}, thing)
	thing = SharedThing{}
	other.needs("GET", at, "", &thing)
	assert.Equal(t, SharedThing{Kind: "problem"}, thing)
	other.needs("GET", at+"/problem", "", &seen)
	assert.True(t, seen.Shared)
	assert.Equal(t, strings.TrimPrefix(link.Path, "/shared/"), seen.ID)

	var copied CopiedThing
	other.needs("POST", at+"/copy", "", &copied)
	_, first := own.ask("GET", "/api/problems/"+p.ID+"/file", "", nil)
	_, shared := other.ask("GET", at+"/file", "", nil)
	_, twin := other.ask("GET", "/api/problems/"+copied.ID+"/file", "", nil)
	assert.Equal(t, first, shared)
	assert.Equal(t, first, twin)
	assert.Contains(t, twin, `"See $t$."`)
	var worked readAlpha
	other.needs("POST", at+"/work", `{"set":[]}`, &worked)
	assert.Equal(t, 0.05, worked.Solution.Alpha)
	own.needs("PATCH", "/api/problems/"+p.ID+"/settings", `{"version":1,"set":[{"pointer":"/alpha","value":0.01}]}`, nil)
	status, _ := other.ask("POST", at+"/work", `{"version":1,"set":[]}`, nil)
	assert.Equal(t, http.StatusConflict, status, "the owner has changed it")
	other.needs("POST", at+"/work", `{"set":[]}`, &worked)
	assert.Equal(t, 0.01, worked.Solution.Alpha)
	// Whoever reads changes alpha for themselves.
	other.needs("POST", at+"/work", `{"set":[{"pointer":"/alpha","value":0.1}]}`, &worked)
	assert.Equal(t, 0.1, worked.Solution.Alpha)
	own.needs("POST", "/api/problems/"+p.ID+"/work", `{"set":[]}`, &worked)
	assert.Equal(t, 0.01, worked.Solution.Alpha)
	_, after := other.ask("GET", "/api/problems/"+copied.ID+"/file", "", nil)
	assert.Equal(t, twin, after)

	// A data set by itself, with what is derived in it.
	own.needs("POST", "/api/data-sets/"+p.DataSet+"/share", "", &link)
	at = "/api" + link.Path
	other.needs("GET", at+"/data-set", "", &set)
	assert.Equal(t, "Waits", set.Set.Name)
	assert.Equal(t, "24.2", set.Set.Columns[2].Cells[0])
	other.needs("POST", at+"/copy", "", &copied)
	var kept KeptSet
	other.needs("GET", "/api/data-sets/"+copied.ID, "", &kept)
	assert.Equal(t, set.Set, kept.Set)
	other.needs("POST", at+"/look", `{"variables":["twice"]}`, nil)
}

// readAlpha is what the tests look at of a solution.
type readAlpha struct {
	Solution struct {
		Alpha float64 `json:"alpha"`
	} `json:"solution"`
}

// A shared problem goes on paper as the owner's does.
func TestWhatIsSharedOnPaper(t *testing.T) {
	h := newServer(t)
	p := imported(t, h, berths)
	var link ShareLink
	require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+p.ID+"/share", "", &link).Code)
	r := call(t, h, "GET", "/api"+link.Path+"/paper", "", nil)
	require.Equal(t, http.StatusOK, r.Code)
	assert.Equal(t, exchange.PaperPolicy, r.Header().Get("Content-Security-Policy"))
	assert.Equal(t, call(t, h, "GET", "/api/problems/"+p.ID+"/paper", "", nil).Body.String(), r.Body.String())
}
