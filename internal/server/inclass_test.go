package server

import (
	"fmt"
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
	"GET /api/sets/:id/marks/paper":             {},
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

// A class is asked one thing: answers pile up without names, by what they are; nothing is told to students before it is revealed.
func TestAskTheClass(t *testing.T) {
	sc := newSchool(t)
	teacher, student, fellow := sc.browsers["instructor"], sc.browsers["member"], sc.browsers["guest"]
	poll := sc.asked()
	assert.Equal(t, "t", poll.Ask.ID)
	assert.NotEmpty(t, poll.Right)
	var last classroom.LastPoll
	student.needs("GET", "/api/classes/"+sc.class.ID+"/poll", "", &last)
	require.NotNil(t, last.Poll)
	assert.Equal(t, poll.ID, last.Poll.ID)
	assert.Empty(t, last.Poll.Right)
	at := "/api/polls/" + poll.ID
	status, text := student.ask("POST", at+"/answer", `{"text":"about two"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "no number that can be read")
	student.needs("POST", at+"/answer", `{"text":"5"}`, nil)
	_, text = student.ask("POST", at+"/answer", `{"text":"1.901"}`, nil) // and changes it
	for _, telling := range []string{"slip", "sign", "right\"", "verdict"} {
		assert.NotContains(t, text, telling)
	}
	fellow.needs("POST", at+"/answer", `{"text":"-1.901"}`, nil)
	var seen classroom.PollView
	teacher.needs("GET", at, "", &seen)
	assert.Equal(t, 2, seen.Answers)
	require.Len(t, seen.Groups, 2)
	kinds := map[string]string{}
	for _, g := range seen.Groups {
		kinds[g.Verdict+" "+g.Slip] = strings.Join(g.Texts, " ")
	}
	assert.Equal(t, map[string]string{"slip sign": "1.901", "right ": "-1.901"}, kinds)
	teacher.needs("PATCH", at, `{"closed":true,"revealed":false}`, nil)
	status, text = student.ask("POST", at+"/answer", `{"text":"-1.901"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "nobody answers this any more")
	teacher.needs("PATCH", at, `{"closed":true,"revealed":true}`, nil)
	student.needs("GET", at, "", &seen)
	assert.Equal(t, "slip", seen.Verdict)
	assert.Len(t, seen.Groups, 2)
	assert.NotContains(t, fmt.Sprint(seen), "a-member")
	// What is asked next closes what was asked before.
	next := sc.asked()
	student.needs("GET", "/api/classes/"+sc.class.ID+"/poll", "", &last)
	assert.Equal(t, next.ID, last.Poll.ID)
	var list []classroom.PollListing
	teacher.needs("GET", "/api/classes/"+sc.class.ID+"/polls", "", &list)
	assert.Len(t, list, 2)
	assert.Equal(t, 2, list[1].Answers)
}

// The roster: read from a table with what is wrong in it by row, joined by the code, left; an account that was there before is not
// the class's to open.
func TestTheRoster(t *testing.T) {
	sc := newSchool(t)
	teacher, student := sc.browsers["instructor"], sc.browsers["member"]
	at := "/api/classes/" + sc.class.ID
	var preview classroom.RosterPreview
	teacher.needs("POST", at+"/roster/preview", "Full name;User name\nMaren Holt;maren.holt\n;x\nEdda Quill;\nMaren Two;MAREN.HOLT\n",
		&preview)
	require.Len(t, preview.People, 4)
	assert.Equal(t, "edda.quill", preview.People[2].UserName)
	var where []string
	for _, m := range preview.Mistakes {
		where = append(where, m.Pointer)
	}
	assert.ElementsMatch(t, []string{"/people/1/name", "/people/1/user_name", "/people/3/user_name"}, where)
	status, _ := teacher.ask("POST", at+"/roster", `{"people":[{"name":"","user_name":"x"}]}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	var welcomes []classroom.WelcomeView
	teacher.needs("POST", at+"/roster",
		`{"people":[{"name":"Maren Holt","user_name":"maren.holt"},{"name":"Boss","user_name":"a-administrator"}]}`, &welcomes)
	assert.NotEmpty(t, welcomes[0].Path)
	assert.Empty(t, welcomes[1].Path)
	maren := sc.newBrowser()
	maren.needs("POST", "/api"+strings.Replace(welcomes[0].Path, "/link/", "/links/", 1), `{"password":"`+good+`"}`, nil)
	var sets []classroom.SetListing
	maren.needs("GET", "/api/sets", "", &sets)
	assert.Len(t, sets, 1)
	var roster []classroom.MemberView
	teacher.needs("GET", at+"/roster", "", &roster)
	links := map[string]int{}
	for _, m := range roster {
		links[m.Name], _ = teacher.ask("POST", at+"/roster/"+m.ID+"/link", "", nil)
		assert.Equal(t, m.Link, links[m.Name] == http.StatusCreated, m.Name)
	}
	assert.Equal(t, map[string]int{"a-instructor": 404, "a-member": 201, "Fellow Two": 404, "Maren Holt": 201, "Boss": 404}, links)

	status, text := student.ask("POST", "/api/classes/join", `{"code":"ABCDEFGH"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "there is no class of this code")
	status, text = teacher.ask("POST", at+"/leave", "", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "one instructor at least")
	student.needs("GET", at, "", nil)
	student.needs("POST", at+"/leave", "", nil)
	status, _ = student.ask("GET", at, "", nil)
	assert.Equal(t, http.StatusNotFound, status)
	var class classroom.ClassView
	teacher.needs("PATCH", at,
		fmt.Sprintf(`{"version":%d,"name":"Harbour","guests":false,"first_names":true,"archived":false,"new_code":true}`,
			sc.class.Version), &class)
	assert.NotEqual(t, sc.class.Code, class.Code)
	status, text = sc.browsers["guest"].ask("POST", "/api/classes/join", fmt.Sprintf(`{"code":%q,"name":"Again"}`, class.Code), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "who have a name")
	var seen classroom.ClassView
	sc.browsers["guest"].needs("GET", at, "", &seen)
	assert.Empty(t, seen.Code, "which only its instructors see")
	assert.Contains(t, seen.Names, "Maren")
}
