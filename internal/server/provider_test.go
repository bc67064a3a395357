package server

import (
	"crypto/rand"
	"crypto/rsa"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/go-jose/go-jose/v4/jwt"
	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/people"
)

// A standIn is an identity provider that signs everybody in as the person it is told (OpenID Connect Core 1.0).
type standIn struct {
	*httptest.Server
	t      *testing.T
	key    *rsa.PrivateKey
	mu     sync.Mutex
	claims map[string]any    // of who is signed in
	asked  map[string]string // the nonce of each code
	spoil  func(claims map[string]any)
}

func newStandIn(t *testing.T) *standIn {
	t.Helper()
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	require.NoError(t, err)
	s := &standIn{t: t, key: key, asked: map[string]string{}}
	mux := http.NewServeMux()
	send := func(w http.ResponseWriter, v any) {
		w.Header().Set("Content-Type", "application/json")
		assert.NoError(t, json.MarshalWrite(w, v))
	}
	mux.HandleFunc("/.well-known/openid-configuration", func(w http.ResponseWriter, _ *http.Request) {
		send(w, map[string]any{
			"issuer": s.URL, "authorization_endpoint": s.URL + "/authorize", "token_endpoint": s.URL + "/token", "jwks_uri": s.URL + "/keys",
			"id_token_signing_alg_values_supported": []string{"RS256"},
		})
	})
	mux.HandleFunc("/keys", func(w http.ResponseWriter, _ *http.Request) {
		send(w, jose.JSONWebKeySet{Keys: []jose.JSONWebKey{{Key: key.Public(), KeyID: "1", Algorithm: "RS256", Use: "sig"}}})
	})
	mux.HandleFunc("/authorize", func(w http.ResponseWriter, r *http.Request) {
		q := r.URL.Query()
		assert.Equal(t, "S256", q.Get("code_challenge_method"))
		code := rand.Text()
		s.mu.Lock()
		s.asked[code] = q.Get("nonce")
		s.mu.Unlock()
		http.Redirect(w, r, q.Get("redirect_uri")+"?"+url.Values{"code": {code}, "state": {q.Get("state")}}.Encode(), http.StatusSeeOther)
	})
	mux.HandleFunc("/token", func(w http.ResponseWriter, r *http.Request) {
		s.mu.Lock()
		nonce, known := s.asked[r.FormValue("code")]
		delete(s.asked, r.FormValue("code"))
		s.mu.Unlock()
		if !known || r.FormValue("code_verifier") == "" {
			http.Error(w, `{"error":"invalid_grant"}`, http.StatusBadRequest)
			return
		}
		send(w, map[string]any{"access_token": "x", "token_type": "Bearer", "id_token": s.token(nonce)})
	})
	s.Server = httptest.NewServer(mux)
	t.Cleanup(s.Close)
	return s
}

// token is signed for who is signed in.
func (s *standIn) token(nonce string) string {
	claims := map[string]any{
		"iss": s.URL, "aud": "grund", "nonce": nonce, "exp": time.Now().Add(time.Minute).Unix(), "iat": time.Now().Unix(),
	}
	for name, value := range s.claims {
		claims[name] = value
	}
	if s.spoil != nil {
		s.spoil(claims)
	}
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: jose.JSONWebKey{Key: s.key, KeyID: "1"}}, nil)
	assert.NoError(s.t, err)
	signed, err := jwt.Signed(signer).Claims(claims).Serialize()
	assert.NoError(s.t, err)
	return signed
}

// startWithProvider starts a server whose people sign in through a provider.
func startWithProvider(t *testing.T, issuer string) (*httptest.Server, *people.Provider) {
	t.Helper()
	provider := &people.Provider{Name: "the harbour school", Issuer: issuer, ClientID: "grund", ClientSecret: "secret"}
	s := startWithPeople(t, openStore(t), people.Rules{Guests: true, Provider: provider})
	provider.Home = s.URL
	return s, provider
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
	school := newStandIn(t)
	s, _ := startWithProvider(t, school.URL)
	school.claims = map[string]any{"sub": "77", "preferred_username": "maren holt@school", "name": "Maren Holt"}
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
	school.claims = map[string]any{"sub": "78", "preferred_username": "marenholt"}
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
	school := newStandIn(t)
	s, _ := startWithProvider(t, school.URL)
	school.claims = map[string]any{"sub": "77", "preferred_username": "maren"}
	const failed = "/sign-in?provider=failed"
	for name, spoil := range map[string]func(claims map[string]any){
		"another nonce":  func(claims map[string]any) { claims["nonce"] = "another" },
		"for another":    func(claims map[string]any) { claims["aud"] = "another" },
		"by another":     func(claims map[string]any) { claims["iss"] = "https://elsewhere.example" },
		"of long ago":    func(claims map[string]any) { claims["exp"] = time.Now().Add(-time.Hour).Unix() },
		"not JSON names": func(claims map[string]any) { claims["name"] = []int{1} },
	} {
		school.spoil = spoil
		b := newBrowser(t, s)
		assert.Equal(t, failed, b.through(), name)
		status, _ := b.ask("GET", "/api/account", "", nil)
		assert.Equal(t, http.StatusUnauthorized, status, name)
	}
	school.spoil = nil
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
	school.spoil = func(claims map[string]any) { claims["aud"] = "another" }
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
