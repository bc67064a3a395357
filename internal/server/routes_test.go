package server

import (
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/labstack/echo/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/people"
	"grund/internal/store"
)

// Every route is in the table: what it does with one's own thing, and that it knows no other's. A route that is missing
// fails the test.
func TestEveryRouteKnowsWhoAsks(t *testing.T) {
	st := openStore(t)
	s := startWithPeople(t, st, people.Rules{Guests: true})
	own, stranger, nobody := newBrowser(t, s), newBrowser(t, s), newBrowser(t, s)
	for _, b := range []*browser{own, stranger} {
		b.needs("POST", "/api/guests", "", nil)
	}
	thing := func(b *browser) map[string]string {
		var p Problem
		b.needs("POST", "/api/problems/import", berths, &p)
		var r readReport
		b.needs("POST", "/api/reports", `{"title":"R","parts":[]}`, &r)
		return map[string]string{"problems": p.ID, "data-sets": p.DataSet, "reports": r.ID, "people": p.ID}
	}
	mine := thing(own)
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
	for _, route := range routesOf(t, st) {
		name := route.Method + " " + route.Path
		parts := strings.Split(route.Path, "/")
		path := strings.NewReplacer(":id", mine[parts[2]], ":token", "nothing", ":name", "nobody", ":table", "t").Replace(route.Path)
		if !needsNobody[route.Path] {
			status, _ := nobody.ask(route.Method, path, bodies[name], nil)
			assert.Equal(t, http.StatusUnauthorized, status, name)
		}
		if strings.Contains(route.Path, ":id") {
			status, text := stranger.ask(route.Method, path, bodies[name], nil)
			assert.Contains(t, []int{http.StatusNotFound, http.StatusUnprocessableEntity}, status, "%s: %s", name, text)
			assert.NotContains(t, text, "minutes", name)
			if status == http.StatusUnprocessableEntity { // the body was refused before the thing was looked for
				assert.NotContains(t, text, mine[parts[2]], name)
			}
			continue
		}
		assert.True(t, needsNobody[route.Path] || withoutThing[name], "%s is in no table: say what it does with another's things", name)
	}
	own.needs("GET", "/api/problems/"+mine["problems"], "", &p)
	assert.Equal(t, int64(1), p.Version, "nobody has changed it")
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
	"GET /api/account/archive": true, "GET /api/people": true, "GET /api/machine": true,
}

// routesOf returns all routes that there are.
func routesOf(t *testing.T, st *store.Store) echo.Routes {
	t.Helper()
	desk, err := people.New(st, &people.Rules{}, open)
	require.NoError(t, err)
	s := &server{store: st, desk: desk}
	e, is := s.routes(slog.New(slog.DiscardHandler)).(*echo.Echo)
	require.True(t, is)
	routes := e.Router().Routes()
	require.Greater(t, len(routes), 50)
	return routes
}
