package server

import (
	"crypto/rand"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/classroom"
	"grund/internal/people"
	"grund/internal/store"
)

// roles returns a browser of each role, and one in which nobody is signed in. Their user names begin with a prefix.
func roles(t *testing.T, st *store.Store, s *httptest.Server, prefix string) map[string]*browser {
	t.Helper()
	all := map[string]*browser{"signed out": newBrowser(t, s)}
	for _, role := range []access.Role{access.Guest, access.Member, access.Instructor, access.Administrator} {
		b := newBrowser(t, s)
		all[string(role)] = b
		var me people.Me
		b.needs("POST", "/api/guests", "", &me)
		if role == access.Guest {
			continue
		}
		b.needs("POST", "/api/account/keep", fmt.Sprintf(`{"user_name":%q,"name":"","password":%q}`, prefix+string(role), good), nil)
		require.NoError(t, st.SetRole(t.Context(), access.Person{ID: uuid.New(), Role: access.Administrator}, uuid.MustParse(me.Person.ID), role))
	}
	return all
}

// Every route is in the table: what it does with one's own thing, and that it knows no other's, whatever the role. A route that
// is missing fails the test.
func TestEveryRouteKnowsWhoAsks(t *testing.T) {
	st := openStore(t)
	s := startWithPeople(t, st, people.Rules{Guests: true})
	own, strangers := newBrowser(t, s), roles(t, st, s, "a-")
	own.needs("POST", "/api/guests", "", nil)
	nobody, stranger := strangers["signed out"], strangers["member"]
	delete(strangers, "signed out")
	thing := func(b *browser) map[string]string {
		var p Problem
		b.needs("POST", "/api/problems/import", berths, &p)
		var r readReport
		b.needs("POST", "/api/reports", `{"title":"R","parts":[]}`, &r)
		return map[string]string{"problems": p.ID, "data-sets": p.DataSet, "reports": r.ID, "people": p.ID}
	}
	mine := thing(own)
	sc := newSchoolAt(t, st, roles(t, st, s, "own-"))
	mine["classes"], mine["sets"], mine["set-problems"] = sc.class.ID, sc.set.ID, sc.set.Problems[0].ID
	mine["attempts"], mine["polls"] = sc.begun(), sc.asked().ID
	about := fmt.Sprintf(`{"data_set":%q}`, mine["data-sets"])
	// What others' things named inside a body come to, where the route is open to all who are signed in.
	for _, body := range []string{about, fmt.Sprintf(`{"version":1,"draft":{},"data_set":%q}`, mine["data-sets"])} {
		path, method := "/api/problems", "POST"
		if strings.Contains(body, "draft") {
			path, method = "/api/problems/"+thing(stranger)["problems"], "PUT"
		}
		status, text := stranger.ask(method, path, body, nil)
		assert.Equal(t, http.StatusNotFound, status, text)
	}
	var p Problem
	own.needs("GET", "/api/problems/"+mine["problems"], "", &p)
	draft, err := json.Marshal(p.Draft)
	require.NoError(t, err)
	// The bodies with which the owner's requests go well. Routes that end something come last.
	bodies := map[string]string{
		"PUT /api/problems/:id": fmt.Sprintf(`{"version":1,"draft":%s}`, draft), "PATCH /api/problems/:id/settings": `{"version":2,"set":[]}`,
		"POST /api/problems/:id/work": `{"set":[]}`, "POST /api/problems/:id/power": `{"set":[],"question":{}}`,
		"POST /api/problems/:id/try": `{"after":0,"kind":"help","ask":"se"}`, "POST /api/problems/:id/try/rows": `{"set":[],"table":"cases"}`,
		"POST /api/problems/:id/vary": `{"seed":7}`, "POST /api/problems/:id/simulation": `{"set":[]}`,
		"POST /api/problems/:id/reset": `{"version":1}`, "POST /api/problems/:id/keep": `{"at":"number/t"}`,
		"PUT /api/reports/:id": `{"version":1,"title":"R","parts":[]}`, "POST /api/data-sets/:id/copy": `{"name":"twin"}`,
		"PUT /api/people/:id/role": `{"role":"member"}`,
	}
	for route, may := range inClass {
		bodies[route] = may.body
	}
	for _, route := range routesOf(t, st) {
		name := route.Method + " " + route.Path
		parts := strings.Split(route.Path, "/")
		if strings.HasPrefix(route.Path, "/api/shared/") {
			assert.NotEmpty(t, byLink[name], "%s is in no table: say what it does with what a link leads to", name)
			continue
		}
		path := strings.NewReplacer(":id", mine[parts[2]], ":person", mine["people"], ":token", "nothing", ":name", "nobody", ":table",
			"t").Replace(route.Path)
		if !needsNobody[route.Path] {
			status, _ := nobody.ask(route.Method, path, bodies[name], nil)
			assert.Equal(t, http.StatusUnauthorized, status, name)
		}
		if strings.Contains(route.Path, ":id") {
			for role, b := range strangers {
				status, text := b.ask(route.Method, path, bodies[name], nil)
				assert.Contains(t, []int{http.StatusNotFound, http.StatusUnprocessableEntity}, status, "%s, %s: %s", role, name, text)
				assert.NotContains(t, text, "minutes", name)
				if status == http.StatusUnprocessableEntity { // the body was refused before the thing was looked for
					assert.NotContains(t, text, mine[parts[2]], name)
				}
			}
			continue
		}
		assert.True(t, needsNobody[route.Path] || withoutThing[name], "%s is in no table: say what it does with another's things", name)
	}
	own.needs("GET", "/api/problems/"+mine["problems"], "", &p)
	assert.Equal(t, int64(1), p.Version, "nobody has changed it")
	// Taken back links lead nowhere, and strangers have made none.
	for _, kind := range []string{"problems", "data-sets"} {
		var link ShareLink
		own.needs("GET", "/api/"+kind+"/"+mine[kind]+"/share", "", &link)
		assert.Empty(t, link.Path)
	}
}

// byLink says which routes of a link lead to a problem and which to a data set, with a body that goes well.
var byLink = map[string]struct{ kind, query, body string }{
	"GET /api/shared/:token":             {kind: "both"},
	"POST /api/shared/:token/copy":       {kind: "both"},
	"GET /api/shared/:token/problem":     {kind: "problems"},
	"POST /api/shared/:token/work":       {kind: "problems", body: `{"set":[]}`},
	"POST /api/shared/:token/power":      {kind: "problems", body: `{"set":[],"question":{"inputs":{"truth":-1.2,"sd_1":0.7,"sd_2":2}}}`},
	"POST /api/shared/:token/simulation": {kind: "problems", body: `{"set":[]}`},
	"POST /api/shared/:token/try":        {kind: "problems", body: `{"events":[]}`},
	"GET /api/shared/:token/paper":       {kind: "problems"},
	"GET /api/shared/:token/file":        {kind: "problems"},
	"GET /api/shared/:token/data-set":    {kind: "data-sets"},
	"GET /api/shared/:token/check":       {kind: "data-sets"},
	"GET /api/shared/:token/cells":       {kind: "data-sets"},
	"POST /api/shared/:token/look":       {kind: "data-sets", body: `{"variables":["minutes"]}`},
	"GET /api/shared/:token/data-file":   {kind: "data-sets", query: "?format=csv"},
}

// Whoever has a link reads what it leads to, whatever the role and signed in or not; whoever is somebody copies it. Nothing else
// is to be had by a link, and nothing by one that is guessed, taken back or of something deleted.
func TestWhatALinkOpens(t *testing.T) {
	st := openStore(t)
	s := startWithPeople(t, st, people.Rules{Guests: true})
	own, readers := newBrowser(t, s), roles(t, st, s, "a-")
	own.needs("POST", "/api/guests", "", nil)
	readers["owner"] = own
	var p Problem
	own.needs("POST", "/api/problems/import", berths, &p)
	at := map[string]string{"problems": "/api/problems/" + p.ID, "data-sets": "/api/data-sets/" + p.DataSet}
	links := map[string]string{}
	for kind, path := range at {
		var link, again ShareLink
		own.needs("POST", path+"/share", "", &link)
		own.needs("POST", path+"/share", "", &again)
		assert.Equal(t, link, again, "there is one link to a thing")
		own.needs("GET", path+"/share", "", &again)
		assert.Equal(t, link, again)
		links[kind] = strings.TrimPrefix(link.Path, "/shared/")
		assert.Len(t, links[kind], 26) // 130 bits in base 32
	}
	asked := 0
	ask := func(kind, token string, open bool) {
		for name, route := range byLink {
			method, path, _ := strings.Cut(name, " ")
			for role, b := range readers {
				status, text := b.ask(method, strings.Replace(path, ":token", token, 1)+route.query, route.body, nil)
				leads := open && (route.kind == kind || route.kind == "both")
				switch {
				case role == "signed out" && strings.HasSuffix(path, "/copy"):
					assert.Equal(t, http.StatusUnauthorized, status, "%s, signed out: %s", name, text)
				case leads:
					assert.Contains(t, []int{http.StatusOK, http.StatusCreated}, status, "%s, %s, %s: %s", name, role, kind, text)
				default:
					assert.Equal(t, http.StatusNotFound, status, "%s, %s, %s: %s", name, role, kind, text)
					assert.NotContains(t, text, "minutes")
				}
				assert.True(t, role == "owner" || !strings.Contains(text, p.ID) && !strings.Contains(text, p.DataSet),
					"%s tells an id of the owner's: %s", name, text)
				asked++
			}
		}
	}
	for kind, token := range links {
		ask(kind, token, true)
	}
	ask("problems", rand.Text(), false)
	ask("problems", strings.ToLower(links["problems"]), false)
	ask("problems", links["problems"][:25], false)
	own.needs("DELETE", at["problems"]+"/share", "", nil)
	ask("problems", links["problems"], false)
	own.needs("DELETE", at["problems"], "", nil)
	own.needs("DELETE", at["data-sets"], "", nil)
	ask("data-sets", links["data-sets"], false)
	assert.Greater(t, asked, 300)
	own.needs("POST", at["data-sets"]+"/restore", "", nil)
	ask("data-sets", links["data-sets"], true)
	// A link that is made anew is another one.
	own.needs("POST", at["problems"]+"/restore", "", nil)
	var link ShareLink
	own.needs("POST", at["problems"]+"/share", "", &link)
	assert.NotEqual(t, links["problems"], strings.TrimPrefix(link.Path, "/shared/"))
}

// needsNobody are the routes that are open to all: they read and change nothing that is kept of somebody.
var needsNobody = map[string]bool{
	"/api/me": true, "/api/guests": true, "/api/sign-in": true, "/api/sign-out": true, "/api/demo-people/:name": true,
	"/api/provider/start": true, "/api/provider/return": true, "/api/links/:token": true,
	"/api/procedures": true, "/api/printed/:table": true, "/api/work": true, "/api/check": true, "/api/read": true,
}

// withoutThing are the routes that name no thing in their path: they are about what is one's own.
var withoutThing = map[string]bool{
	"GET /api/problems": true, "POST /api/problems": true, "POST /api/problems/import": true, "POST /api/problems/preview": true,
	"POST /api/problems/bring": true, "GET /api/space": true, "GET /api/data-sets": true, "POST /api/data-sets": true,
	"POST /api/data-sets/import": true, "GET /api/reports": true, "POST /api/reports": true, "POST /api/account/keep": true,
	"GET /api/account": true, "PATCH /api/account": true, "DELETE /api/account": true, "POST /api/account/sign-out-elsewhere": true,
	"GET /api/account/archive": true, "GET /api/people": true, "GET /api/machine": true, "GET /api/classes": true, "POST /api/classes": true,
	"POST /api/classes/join": true, "GET /api/sets": true,
}

// routesOf returns all routes that there are.
func routesOf(t *testing.T, st *store.Store) echo.Routes {
	t.Helper()
	desk, err := people.New(st, &people.Rules{}, open)
	require.NoError(t, err)
	s := &server{store: st, desk: desk, class: classroom.New(st, desk, nil, nil)}
	e, is := s.routes(slog.New(slog.DiscardHandler)).(*echo.Echo)
	require.True(t, is)
	routes := e.Router().Routes()
	require.Greater(t, len(routes), 50)
	return routes
}
