package server

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/people"
	"grund/internal/standin"
)

// newStandIn starts a provider that signs everybody in as the person it is told.
func newStandIn(t *testing.T, people ...standin.Person) *standin.Provider {
	t.Helper()
	p, err := standin.New(standin.Options{Name: "the harbour school", Client: "grund", People: people})
	require.NoError(t, err)
	s := httptest.NewServer(p)
	t.Cleanup(s.Close)
	p.Issuer = s.URL
	return p
}

// startWithProvider starts a server whose people sign in through a provider.
func startWithProvider(t *testing.T, issuer string) (*httptest.Server, *people.Provider) {
	t.Helper()
	provider := &people.Provider{Name: "the harbour school", Issuer: issuer, ClientID: "grund", ClientSecret: "secret"}
	return startWithPeople(t, openStore(t), people.Rules{Guests: true, Provider: provider}), provider
}

// through goes to the provider and back, and returns where that leads.
func (b *browser) through() string {
	b.t.Helper()
	answer, err := b.Get(b.url + "/api/provider/start")
	require.NoError(b.t, err)
	answer.Body.Close()
	return answer.Request.URL.RequestURI()
}

// The first sign-in through a provider makes a member, with what the guest of the browser made; the next is the same one.
func TestSigningInThroughAProvider(t *testing.T) {
	school := newStandIn(t, standin.Person{Subject: "77", UserName: "maren holt@school", Name: "Maren Holt"})
	s, _ := startWithProvider(t, school.Issuer)
	b := newBrowser(t, s)
	var me people.Me
	b.needs("GET", "/api/me", "", &me)
	assert.Equal(t, "the harbour school", me.Provider.Name)
	b.needs("POST", "/api/guests", "", nil)
	var p Problem
	b.needs("POST", "/api/problems/import", berths, &p)
	before := b.token()
	assert.Equal(t, "/", b.through())
	assert.NotEqual(t, before, b.token())
	b.needs("GET", "/api/me", "", &me)
	assert.Equal(t, "marenholt", me.Person.UserName)
	assert.Equal(t, "Maren Holt", me.Person.Name)
	assert.Equal(t, access.Member, me.Person.Role)
	b.needs("GET", "/api/problems/"+p.ID, "", nil)
	again := newBrowser(t, s)
	assert.Equal(t, "/", again.through())
	again.needs("GET", "/api/problems/"+p.ID, "", nil)

	// Another one of that name is another one; nobody signs in with a password that is none.
	school.People = []standin.Person{{Subject: "78", UserName: "marenholt"}}
	other := newBrowser(t, s)
	assert.Equal(t, "/", other.through())
	other.needs("GET", "/api/me", "", &me)
	assert.Equal(t, "marenholt2", me.Person.UserName)
	status, _ := newBrowser(t, s).ask("POST", "/api/sign-in", `{"user_name":"marenholt2","password":""}`, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	other.needs("DELETE", "/api/account", "{}", nil)
}

// A provider that is down, or sends back what cannot be believed, lets nobody in, and leaves the other ways open.
func TestAProviderThatCannotBeBelieved(t *testing.T) {
	school := newStandIn(t, standin.Person{Subject: "77", UserName: "maren"})
	s, _ := startWithProvider(t, school.Issuer)
	const failed = "/sign-in?provider=failed"
	for name, spoil := range map[string]func(claims map[string]any){
		"another nonce":  func(claims map[string]any) { claims["nonce"] = "another" },
		"for another":    func(claims map[string]any) { claims["aud"] = "another" },
		"by another":     func(claims map[string]any) { claims["iss"] = "https://elsewhere.example" },
		"of long ago":    func(claims map[string]any) { claims["exp"] = time.Now().Add(-time.Hour).Unix() },
		"not JSON names": func(claims map[string]any) { claims["name"] = []int{1} },
	} {
		school.Spoil = spoil
		b := newBrowser(t, s)
		assert.Equal(t, failed, b.through(), name)
		status, _ := b.ask("GET", "/api/account", "", nil)
		assert.Equal(t, http.StatusUnauthorized, status, name)
	}
	school.Spoil = nil
	for _, back := range []string{"?code=x&state=y", "?error=access_denied", ""} { // that nobody was sent for
		b := newBrowser(t, s)
		answer, err := b.Get(s.URL + "/api/provider/return" + back)
		require.NoError(t, err)
		answer.Body.Close()
		assert.Equal(t, failed, answer.Request.URL.RequestURI())
	}
	// A guest who fails to get through stays the guest.
	b := newBrowser(t, s)
	b.needs("POST", "/api/guests", "", nil)
	school.Spoil = func(claims map[string]any) { claims["aud"] = "another" }
	assert.Equal(t, failed, b.through())
	b.needs("GET", "/api/account", "", nil)

	down, _ := startWithProvider(t, "http://127.0.0.1:1")
	c := newBrowser(t, down)
	assert.Equal(t, failed, c.through())
	c.needs("POST", "/api/guests", "", nil)
	var me people.Me
	c.needs("GET", "/api/me", "", &me)
	assert.True(t, strings.HasPrefix(me.Provider.Path, "/api/"))
}
