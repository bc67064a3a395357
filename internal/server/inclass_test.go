package server

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/classroom"
	"grund/internal/people"
)

const anySet = `{"version":1,"settings":{"title":"","solution":"at_once"},"released":false,"problems":[]}`

// inClass says which routes of a class its students may ask, with a body that goes well; its instructors may ask all of them.
var inClass = map[string]struct {
	students bool
	body     string
}{
	"GET /api/classes/:id":                      {students: true},
	"PATCH /api/classes/:id":                    {body: `{"version":1,"name":"N","guests":true,"first_names":false,"archived":false}`},
	"POST /api/classes/:id/leave":               {students: true},
	"GET /api/classes/:id/roster":               {},
	"POST /api/classes/:id/roster":              {body: `{"people":[]}`},
	"POST /api/classes/:id/roster/preview":      {body: "Maren Holt,maren.holt"},
	"DELETE /api/classes/:id/roster/:person":    {},
	"POST /api/classes/:id/roster/:person/link": {},
	"GET /api/classes/:id/deeds":                {},
	"GET /api/classes/:id/sets":                 {students: true},
	"POST /api/classes/:id/sets":                {body: `{"title":"T"}`},
	"POST /api/classes/:id/sets/bring":          {body: "no ZIP"},
	"GET /api/sets/:id":                         {},
	"PUT /api/sets/:id":                         {body: anySet},
	"DELETE /api/sets/:id":                      {},
	"POST /api/sets/:id/restore":                {},
	"POST /api/sets/:id/copy":                   {body: `{"class":"00000000-0000-4000-8000-000000000009"}`},
	"GET /api/sets/:id/file":                    {},
	"GET /api/sets/:id/variants":                {},
	"POST /api/sets/:id/judge-again":            {},
	"GET /api/sets/:id/keys":                    {},
	"GET /api/sets/:id/paper":                   {},
	"POST /api/sets/:id/draw":                   {body: `{"student":"00000000-0000-4000-8000-000000000009","begun":true}`},
	"GET /api/sets/:id/class":                   {},
	"GET /api/sets/:id/live":                    {},
	"GET /api/sets/:id/marks":                   {},
	"GET /api/sets/:id/work":                    {students: true},
	"POST /api/sets/:id/hand-in":                {students: true},
	"DELETE /api/sets/:id/hand-in":              {students: true},
	"GET /api/set-problems/:id":                 {students: true},
	"GET /api/set-problems/:id/asks":            {},
	"GET /api/set-problems/:id/try":             {students: true},
	"POST /api/set-problems/:id/try":            {students: true, body: `{"version":1,"data_version":1,"after":0,"kind":"help","ask":"n_1"}`},
	"POST /api/set-problems/:id/try/rows":       {students: true, body: `{"table":"cases"}`},
	"POST /api/set-problems/:id/work":           {students: true, body: `{}`},
	"PUT /api/attempts/:id/remarks":             {body: `{"ask":"t","words":"w"}`},
	"GET /api/classes/:id/live":                 {students: true},
	"GET /api/classes/:id/poll":                 {students: true},
	"GET /api/classes/:id/polls":                {},
	"POST /api/classes/:id/polls":               {body: `{"problem":"00000000-0000-4000-8000-000000000009","ask":"t"}`},
	"GET /api/polls/:id":                        {students: true},
	"GET /api/polls/:id/live":                   {},
	"PATCH /api/polls/:id":                      {body: `{"closed":true,"revealed":true}`},
	"POST /api/polls/:id/answer":                {students: true, body: `{"text":"1"}`},
}

// Who is in a class may do there what is theirs: its students and their fellows read what is handed out and have their own work,
// its instructors all. What is not theirs is as if it were not there, and changes nothing. A route that is missing fails.
func TestWhoMayWhatInAClass(t *testing.T) {
	sc := newSchool(t)
	ids := map[string]string{"classes": sc.class.ID, "sets": sc.set.ID, "set-problems": sc.set.Problems[0].ID, "attempts": sc.begun(),
		"polls": sc.asked().ID}
	asked := 0
	for _, route := range routesOf(t, sc.st) {
		parts := strings.Split(route.Path, "/")
		id, ours := ids[parts[2]]
		if !ours || !strings.Contains(route.Path, ":id") {
			continue
		}
		name := route.Method + " " + route.Path
		may, known := inClass[name]
		require.True(t, known, "%s is in no table: say who may ask it", name)
		if may.students {
			continue
		}
		path := strings.NewReplacer(":id", id, ":person", ids["attempts"]).Replace(route.Path)
		for _, role := range []string{"member", "guest"} { // the student and a fellow
			status, text := sc.browsers[role].ask(route.Method, path, may.body, nil)
			assert.Equal(t, http.StatusNotFound, status, "%s, %s: %s", name, role, text)
			asked++
		}
	}
	assert.Greater(t, asked, 40)
	var set classroom.SetView
	sc.browsers["instructor"].needs("GET", "/api/sets/"+sc.set.ID, "", &set)
	assert.Equal(t, sc.set.Version, set.Version)
	// One student's desk is not another's, whatever the query says.
	var me people.Me
	sc.browsers["member"].needs("GET", "/api/me", "", &me)
	for _, path := range []string{"", "/try"} {
		at := "/api/set-problems/" + ids["set-problems"] + path + "?person=" + me.Person.ID
		sc.browsers["member"].needs("GET", at, "", nil)
		sc.browsers["instructor"].needs("GET", at, "", nil)
		status, _ := sc.browsers["guest"].ask("GET", at, "", nil)
		assert.Equal(t, http.StatusNotFound, status)
	}
}
