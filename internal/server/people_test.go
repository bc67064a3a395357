package server

import (
	"archive/zip"
	"crypto/rand"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/people"
	"grund/internal/store"
)

// A browser keeps its cookies.
type browser struct {
	t *testing.T
	*http.Client
	url string
}

// withPeople starts a server on which people sign in.
func startWithPeople(t *testing.T, st *store.Store, rules people.Rules) *httptest.Server {
	t.Helper()
	h, err := New(Config{Store: st, Dist: dist, Log: slog.New(slog.DiscardHandler), People: &rules})
	require.NoError(t, err)
	s := httptest.NewServer(h)
	t.Cleanup(s.Close)
	return s
}

func newBrowser(t *testing.T, s *httptest.Server) *browser {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &browser{t, &http.Client{Jar: jar}, s.URL}
}

// ask sends a request and decodes the answer into out, if that is not nil.
func (b *browser) ask(method, path, body string, out any) (status int, text string) {
	b.t.Helper()
	r, err := http.NewRequest(method, b.url+path, strings.NewReader(body))
	require.NoError(b.t, err)
	answer, err := b.Do(r)
	require.NoError(b.t, err)
	defer answer.Body.Close()
	read, err := io.ReadAll(answer.Body)
	require.NoError(b.t, err)
	if out != nil {
		require.NoError(b.t, json.Unmarshal(read, out), string(read))
	}
	return answer.StatusCode, string(read)
}

// needs sends a request that has to go well.
func (b *browser) needs(method, path, body string, out any) {
	b.t.Helper()
	status, text := b.ask(method, path, body, out)
	require.Less(b.t, status, 300, "%s %s: %s", method, path, text)
}

// token is the session's.
func (b *browser) token() string {
	b.t.Helper()
	r, err := http.NewRequest("GET", b.url, nil)
	require.NoError(b.t, err)
	for _, cookie := range b.Jar.Cookies(r.URL) {
		return cookie.Value
	}
	return ""
}

const good = "four piers in the harbour fog"

func TestGuestsAndMembers(t *testing.T) {
	s := startWithPeople(t, openStore(t), people.Rules{Guests: true})
	guest := newBrowser(t, s)
	var me people.Me
	guest.needs("GET", "/api/me", "", &me)
	assert.Nil(t, me.Person)
	assert.True(t, me.Guests)
	status, text := guest.ask("GET", "/api/problems", "", nil)
	assert.Equal(t, http.StatusUnauthorized, status, text)
	guest.needs("POST", "/api/guests", "", &me)
	assert.Equal(t, access.Guest, me.Person.Role)
	var p Problem
	guest.needs("POST", "/api/problems/import", berths, &p)
	status, _ = newBrowser(t, s).ask("GET", "/api/problems/"+p.ID, "", nil)
	assert.Equal(t, http.StatusUnauthorized, status)

	// What is wrong with a name or a password is said of its field.
	for body, says := range map[string]string{
		`{"user_name":"m","name":"","password":"` + good + `"}`:                                     "/user_name",
		`{"user_name":"ma ren","name":"","password":"` + good + `"}`:                                "/user_name",
		`{"user_name":"maren","name":"","password":"short"}`:                                        "/password",
		`{"user_name":"maren","name":"","password":"password12345"}`:                                "/password",
		`{"user_name":"maren","name":"","password":"marenmaren1"}`:                                  "/password",
		`{"user_name":"maren","name":"` + strings.Repeat("x", 101) + `","password":"` + good + `"}`: "/name",
	} {
		status, text := guest.ask("POST", "/api/account/keep", body, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, body)
		assert.Contains(t, text, says, body)
	}
	before := guest.token()
	guest.needs("POST", "/api/account/keep", `{"user_name":"maren","name":"Maren Holt","password":"`+good+`"}`, &me)
	assert.Equal(t, access.Member, me.Person.Role)
	assert.NotEqual(t, before, guest.token(), "the token is another one")
	stolen := newBrowser(t, s)
	r, err := http.NewRequest("GET", s.URL+"/api/problems", nil)
	require.NoError(t, err)
	r.AddCookie(&http.Cookie{Name: "grund", Value: before})
	answer, err := stolen.Do(r)
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusUnauthorized, answer.StatusCode, "the guest's cookie is good no more")
	guest.needs("GET", "/api/problems/"+p.ID, "", nil)

	// Another browser signs in, and finds it; what was made there as a guest comes along.
	other := newBrowser(t, s)
	other.needs("POST", "/api/guests", "", nil)
	var brought Problem
	other.needs("POST", "/api/problems/import", berths, &brought)
	status, text = other.ask("POST", "/api/sign-in", `{"user_name":"maren","password":"wrong wrong wrong"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	_, unknown := other.ask("POST", "/api/sign-in", `{"user_name":"nobody","password":"wrong wrong wrong"}`, nil)
	assert.Equal(t, text, unknown, "whether a name is known is not told")
	fixed := other.token()
	other.needs("POST", "/api/sign-in", `{"user_name":"MAREN","password":"`+good+`","bring":true}`, &me)
	assert.NotEqual(t, fixed, other.token())
	other.needs("GET", "/api/problems/"+p.ID, "", nil)
	other.needs("GET", "/api/problems/"+brought.ID, "", nil)

	var account struct {
		Sessions []people.SessionView `json:"sessions"`
	}
	other.needs("GET", "/api/account", "", &account)
	assert.Len(t, account.Sessions, 2)
	other.needs("POST", "/api/account/sign-out-elsewhere", "", nil)
	status, _ = guest.ask("GET", "/api/problems", "", nil)
	assert.Equal(t, http.StatusUnauthorized, status)
	status, _ = other.ask("PATCH", "/api/account", `{"password":"wrong","new_password":"seven gulls upon a rope"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	other.needs("PATCH", "/api/account", `{"name":"M. Holt","password":"`+good+`","new_password":"seven gulls upon a rope"}`, &me)
	assert.Equal(t, "M. Holt", me.Person.Name)
	status, _ = other.ask("DELETE", "/api/account", `{"password":"`+good+`"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "the password is another one now")
	other.needs("DELETE", "/api/account", `{"password":"seven gulls upon a rope"}`, nil)
	status, _ = other.ask("GET", "/api/account", "", nil)
	assert.Equal(t, http.StatusUnauthorized, status)
	status, _ = other.ask("POST", "/api/sign-in", `{"user_name":"maren","password":"seven gulls upon a rope"}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
}

// from sends what a browser does through a proxy of ours, which names an address.
type from string

func (address from) RoundTrip(r *http.Request) (*http.Response, error) {
	r.Header.Set("X-Forwarded-For", "1.2.3.4, "+string(address)) // what the browser says of itself stands before
	return http.DefaultTransport.RoundTrip(r)
}

// Of a thousand wrong passwords few are looked at, from one address as from many; who is signed in goes on, and who knows the
// password comes in from elsewhere, at once or after a minute.
func TestGuessing(t *testing.T) {
	st := openStore(t)
	s := startWithPeople(t, st, people.Rules{Guests: true, Proxy: true})
	at := func(address string) *browser {
		b := newBrowser(t, s)
		b.Transport = from(address)
		return b
	}
	in := `{"user_name":"maren","password":"` + good + `"}`
	maren := at("10.0.0.1")
	maren.needs("POST", "/api/guests", "", nil)
	maren.needs("POST", "/api/account/keep", `{"user_name":"maren","name":"","password":"`+good+`"}`, nil)
	for _, c := range []struct {
		addresses, most int
	}{{1, 6}, {250, 100}} {
		counts := map[int]int{}
		for i := range 1000 {
			guesser := at(fmt.Sprint("10.0.", 1+c.addresses/200, ".", i%c.addresses))
			status, _ := guesser.ask("POST", "/api/sign-in", fmt.Sprintf(`{"user_name":"maren","password":"guess number %d"}`, i), nil)
			counts[status]++
		}
		assert.LessOrEqual(t, counts[http.StatusUnprocessableEntity], c.most)
		assert.Equal(t, 1000, counts[http.StatusUnprocessableEntity]+counts[http.StatusTooManyRequests], counts)
		maren.needs("GET", "/api/account", "", nil)
		if c.addresses == 1 {
			at("10.0.0.2").needs("POST", "/api/sign-in", in, nil)
		}
	}
	r, err := http.NewRequest("POST", s.URL+"/api/sign-in", strings.NewReader(in))
	require.NoError(t, err)
	answer, err := at("10.0.0.3").Do(r)
	require.NoError(t, err)
	answer.Body.Close()
	assert.Equal(t, http.StatusTooManyRequests, answer.StatusCode)
	assert.Equal(t, "60", answer.Header.Get("Retry-After"), "nobody is locked out for good")

	// Links are guessed no better than passwords.
	counts := map[int]int{}
	for range 200 {
		status, _ := at("10.0.0.4").ask("GET", "/api/links/"+rand.Text(), "", nil)
		counts[status]++
	}
	assert.Equal(t, map[int]int{http.StatusNotFound: 60, http.StatusTooManyRequests: 140}, counts)
}

// The first link makes an administrator, who gives roles and makes links that set a password, and sees nobody's work.
func TestTheAdministrator(t *testing.T) {
	st := openStore(t)
	s := startWithPeople(t, st, people.Rules{Guests: true, Version: "of the tests"})
	token, err := st.FirstLink(t.Context())
	require.NoError(t, err)
	warden, maren := newBrowser(t, s), newBrowser(t, s)
	var me people.Me
	var link people.LinkView
	warden.needs("GET", "/api/links/"+token, "", &link)
	assert.Empty(t, link.UserName)
	warden.needs("POST", "/api/links/"+token, `{"user_name":"warden","password":"`+good+`"}`, &me)
	assert.Equal(t, access.Administrator, me.Person.Role)
	status, text := maren.ask("POST", "/api/links/"+token, `{"user_name":"again","password":"`+good+`"}`, nil)
	assert.Equal(t, http.StatusNotFound, status)
	assert.Contains(t, text, "good no more")

	maren.needs("POST", "/api/guests", "", nil)
	var p Problem
	maren.needs("POST", "/api/problems/import", berths, &p)
	maren.needs("POST", "/api/account/keep", `{"user_name":"maren","name":"","password":"`+good+`"}`, nil)
	status, _ = warden.ask("GET", "/api/problems/"+p.ID, "", nil)
	assert.Equal(t, http.StatusNotFound, status, "sees nobody's work")
	var list []people.PersonListing
	warden.needs("GET", "/api/people", "", &list)
	require.Len(t, list, 2)
	assert.Equal(t, "maren", list[0].UserName)
	at := "/api/people/" + list[0].ID
	warden.needs("PUT", at+"/role", `{"role":"instructor"}`, nil)
	maren.needs("GET", "/api/me", "", &me)
	assert.Equal(t, access.Instructor, me.Person.Role)
	for _, c := range []struct {
		who          *browser
		method, path string
		body         string
		status       int
	}{
		{warden, "PUT", at + "/role", `{"role":"king"}`, 422},
		{warden, "PUT", at + "/role", `{"role":"guest"}`, 422},
		{warden, "PUT", "/api/people/" + list[1].ID + "/role", `{"role":"member"}`, 422},
		{maren, "PUT", at + "/role", `{"role":"administrator"}`, 404},
		{maren, "GET", "/api/people", "", 404},
		{maren, "GET", "/api/machine", "", 404},
		{maren, "POST", at + "/link", "", 404},
	} {
		status, text := c.who.ask(c.method, c.path, c.body, nil)
		assert.Equal(t, c.status, status, "%s %s: %s", c.method, c.path, text)
	}
	var machine people.MachineView
	warden.needs("GET", "/api/machine", "", &machine)
	assert.Equal(t, 2, machine.People)
	assert.Positive(t, machine.DatabaseBytes)
	assert.Equal(t, "of the tests", machine.Version)
	var names []string
	for i, each := range machine.Migrations {
		names = append(names, each.Name)
		assert.Equal(t, int64(len(machine.Migrations)-i), each.Number)
		assert.WithinDuration(t, time.Now(), each.At, 24*time.Hour)
	}
	files, err := filepath.Glob("../store/migrations/*.sql")
	require.NoError(t, err)
	assert.Len(t, names, len(files))
	assert.Contains(t, names, "data sets")
	var path people.OneTimeLink
	warden.needs("POST", at+"/link", "", &path)
	reset := newBrowser(t, s)
	reset.needs("GET", "/api"+strings.Replace(path.Path, "/link/", "/links/", 1), "", &link)
	assert.Equal(t, "maren", link.UserName)
	reset.needs("POST", "/api"+strings.Replace(path.Path, "/link/", "/links/", 1), `{"password":"seven gulls upon a rope"}`, &me)
	assert.Equal(t, "maren", me.Person.UserName)
	status, _ = maren.ask("GET", "/api/account", "", nil)
	assert.Equal(t, http.StatusUnauthorized, status, "her sessions have ended")
}

// The demo's people sign in by a click where there is a demo, and nowhere else; each has the demo.
func TestTheDemosPeople(t *testing.T) {
	st := openStore(t)
	shelf, err := st.CreatePerson(t.Context(), access.Member)
	require.NoError(t, err)
	require.NoError(t, people.LoadDemo(t.Context(), st, shelf.Person))
	require.NoError(t, people.LoadDemo(t.Context(), st, shelf.Person), "and again")
	demo := startWithPeople(t, st, people.Rules{Guests: true, Demo: &shelf.Person})
	b := newBrowser(t, demo)
	var me people.Me
	b.needs("GET", "/api/me", "", &me)
	assert.Len(t, me.Demo, 5)
	b.needs("POST", "/api/demo-people/ines.maro", "", &me)
	assert.Equal(t, access.Instructor, me.Person.Role)
	status, _ := b.ask("DELETE", "/api/account", "", nil)
	assert.Equal(t, http.StatusForbidden, status)
	status, _ = b.ask("POST", "/api/sign-in", `{"user_name":"odo.lind","password":""}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "no password is none")
	plain := startWithPeople(t, st, people.Rules{})
	c := newBrowser(t, plain)
	c.needs("GET", "/api/me", "", &me)
	status, _ = c.ask("POST", "/api/demo-people/ines.maro", "", nil)
	assert.Equal(t, http.StatusNotFound, status)
	status, _ = c.ask("POST", "/api/guests", "", nil)
	assert.Equal(t, http.StatusForbidden, status)
}

// Alone, nobody signs in, and nothing asks for it.
func TestAlone(t *testing.T) {
	h := newServer(t)
	var me people.Me
	require.Equal(t, http.StatusOK, call(t, h, "GET", "/api/me", "", &me).Code)
	assert.True(t, me.Alone)
	for _, path := range []string{"/api/guests", "/api/sign-in", "/api/sign-out", "/api/account/keep"} {
		assert.Equal(t, http.StatusNotFound, call(t, h, "POST", path, "{}", nil).Code, path)
	}
}

// All that is one's own is taken along in one file, and comes in again; nothing of another's is in it.
func TestTakeAllAlong(t *testing.T) {
	s := startWithPeople(t, openStore(t), people.Rules{Guests: true})
	own, stranger := newBrowser(t, s), newBrowser(t, s)
	for _, b := range []*browser{own, stranger} {
		b.needs("POST", "/api/guests", "", nil)
	}
	titled := func(title string) string {
		return strings.Replace(berths, `"procedure"`, fmt.Sprintf(`"title":%q,"procedure"`, title), 1)
	}
	for _, title := range []string{"A/../b", "A/../B", "Fares?"} {
		own.needs("POST", "/api/problems/import", titled(title), nil)
	}
	own.needs("POST", "/api/reports", `{"title":"","parts":[{"id":"1","text":"So."}]}`, nil)
	own.needs("POST", "/api/problems", `{}`, nil) // unfinished
	stranger.needs("POST", "/api/problems/import", titled("Another's"), nil)
	status, file := own.ask("GET", "/api/account/archive", "", nil)
	require.Equal(t, http.StatusOK, status)
	z, err := zip.NewReader(strings.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	names := map[string]bool{}
	for _, f := range z.File {
		names[f.Name] = true
		assert.NotContains(t, f.Name, "../")
		assert.NotContains(t, f.Name, "Another")
	}
	for _, name := range []string{
		"problems/A-..-B.json", "problems/A-..-b (2).json", "problems/Fares.json", "reports/untitled.json", "unfinished problems/untitled.json",
	} {
		assert.True(t, names[name], "%s is not among %v", name, names)
	}
	var coming []Coming
	stranger.needs("POST", "/api/problems/preview", file, &coming)
	readable := 0
	for _, each := range coming {
		if each.Readable {
			readable++
		}
	}
	assert.GreaterOrEqual(t, readable, 3, "what was taken along comes in again")
}

// What a request does not name cannot be set by it: neither whose something is, nor its version, nor a role.
func TestNothingElseIsAssigned(t *testing.T) {
	s := startWithPeople(t, openStore(t), people.Rules{Guests: true})
	b := newBrowser(t, s)
	b.needs("POST", "/api/guests", "", nil)
	var p Problem
	b.needs("POST", "/api/problems/import", berths, &p)
	const other = `"00000000-0000-4000-8000-000000000001"`
	for _, c := range []struct{ method, path, body string }{
		{"POST", "/api/problems", `{"owner":` + other + `}`},
		{"PUT", "/api/problems/" + p.ID, `{"version":1,"draft":{},"owner":` + other + `}`},
		{"PUT", "/api/problems/" + p.ID, `{"version":1,"draft":{"demo":"two-berths"}}`},
		{"POST", "/api/reports", `{"title":"","parts":[],"of":` + other + `}`},
		{"POST", "/api/account/keep", `{"user_name":"maren","name":"","password":"` + good + `","role":"administrator"}`},
		{"PATCH", "/api/account", `{"role":"administrator"}`},
		{"POST", "/api/sign-in", `{"user_name":"maren","password":"x","role":"administrator"}`},
	} {
		status, text := b.ask(c.method, c.path, c.body, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s %s: %s", c.path, c.body, text)
	}
	var me people.Me
	b.needs("GET", "/api/me", "", &me)
	assert.Equal(t, access.Guest, me.Person.Role)
}

// A page of one person does nothing in the name of another who has signed in in the same browser.
func TestTwoPeopleInOneBrowser(t *testing.T) {
	s := startWithPeople(t, openStore(t), people.Rules{Guests: true})
	b := newBrowser(t, s)
	var me people.Me
	b.needs("POST", "/api/guests", "", &me)
	for as, want := range map[string]int{me.Person.ID: http.StatusOK, "": http.StatusOK, "another": http.StatusUnauthorized} {
		r, err := http.NewRequest("GET", s.URL+"/api/problems", nil)
		require.NoError(t, err)
		if as != "" {
			r.Header.Set("Grund-As", as)
		}
		answer, err := b.Do(r)
		require.NoError(t, err)
		answer.Body.Close()
		assert.Equal(t, want, answer.StatusCode, as)
	}
	// Another site's page can sign nobody in or out.
	for _, path := range []string{"/api/sign-in", "/api/sign-out", "/api/guests"} {
		r, err := http.NewRequest("POST", s.URL+path, strings.NewReader("{}"))
		require.NoError(t, err)
		r.Header.Set("Origin", "https://elsewhere.example")
		r.Header.Set("Sec-Fetch-Site", "cross-site")
		answer, err := b.Do(r)
		require.NoError(t, err)
		answer.Body.Close()
		assert.Equal(t, http.StatusForbidden, answer.StatusCode, path)
	}
	b.needs("GET", "/api/problems", "", nil)
}

// A guest who signs in without bringing the work along, or as one of the demo's people, is the guest again after signing
// out: nothing that was made is lost.
func TestTheGuestBeforeIsThereAgain(t *testing.T) {
	st := openStore(t)
	shelf, err := st.CreatePerson(t.Context(), access.Member)
	require.NoError(t, err)
	require.NoError(t, people.LoadDemo(t.Context(), st, shelf.Person))
	s := startWithPeople(t, st, people.Rules{Guests: true, Demo: &shelf.Person})
	b := newBrowser(t, s)
	var guest, me people.Me
	b.needs("POST", "/api/guests", "", &guest)
	var p Problem
	b.needs("POST", "/api/problems/import", berths, &p)
	for _, name := range []string{"odo.lind", "ines.maro"} { // one after the other, without signing out between
		b.needs("POST", "/api/demo-people/"+name, "", nil)
	}
	status, _ := b.ask("GET", "/api/problems/"+p.ID, "", nil)
	assert.Equal(t, http.StatusNotFound, status)
	b.needs("POST", "/api/sign-out", "", &me)
	require.NotNil(t, me.Person)
	assert.Equal(t, guest.Person.ID, me.Person.ID)
	b.needs("GET", "/api/problems/"+p.ID, "", nil)

	// Where the work came along, or nobody was there before, nobody is after.
	other := newBrowser(t, s)
	other.needs("POST", "/api/guests", "", nil)
	other.needs("POST", "/api/account/keep", `{"user_name":"maren","name":"","password":"`+good+`"}`, nil)
	me = people.Me{}
	other.needs("POST", "/api/sign-out", "", &me)
	assert.Nil(t, me.Person)
	b.needs("POST", "/api/sign-in", `{"user_name":"maren","password":"`+good+`","bring":true}`, nil)
	b.needs("GET", "/api/problems/"+p.ID, "", nil)
	me = people.Me{}
	b.needs("POST", "/api/sign-out", "", &me)
	assert.Nil(t, me.Person)
	status, _ = b.ask("GET", "/api/problems", "", nil)
	assert.Equal(t, http.StatusUnauthorized, status)
}
