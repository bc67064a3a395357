// Package standin is an identity provider for the demo and for tests: it signs in whoever one says one is (OpenID Connect Core
// 1.0, the authorization code flow, with RFC 7636). It proves nothing, and is for made-up people only.
package standin

import (
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"encoding/base64"
	"html/template"
	"net/http"
	"net/url"
	"sync"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/go-jose/go-jose/v4/jwt"
	"github.com/go-json-experiment/json"
)

// A Person is somebody whom the provider knows.
type Person struct {
	Subject, UserName, Name string
}

// Options of a provider.
type Options struct {
	Issuer string // its address, under which it is asked
	Name   string // as its page calls it
	Client string // the only one that it knows
	// People can be chosen; where there is one, nobody is asked.
	People []Person
	// Spoil changes the claims of a token before it is signed, in tests; it may be nil.
	Spoil func(claims map[string]any)
}

// mostCodes bounds the codes that are on their way.
const mostCodes = 1000

// codeLasts is how long a code is good.
const codeLasts = time.Minute

// code is what somebody is on their way back with.
type code struct {
	of               Person
	nonce, challenge string
	until            time.Time
}

// Provider serves an identity provider.
type Provider struct {
	Options
	key   *rsa.PrivateKey
	mux   *http.ServeMux
	mu    sync.Mutex
	codes map[string]code
}

// New returns a provider with a key of its own.
func New(options Options) (*Provider, error) {
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	if err != nil {
		return nil, err
	}
	p := &Provider{Options: options, key: key, mux: http.NewServeMux(), codes: map[string]code{}}
	p.mux.HandleFunc("GET /.well-known/openid-configuration", p.configuration)
	p.mux.HandleFunc("GET /keys", p.keys)
	p.mux.HandleFunc("GET /authorize", p.authorize)
	p.mux.HandleFunc("POST /token", p.token)
	return p, nil
}

func (p *Provider) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-store")
	p.mux.ServeHTTP(w, r)
}

func send(w http.ResponseWriter, status int, v any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.MarshalWrite(w, v)
}

// configuration says where everything is (OpenID Connect Discovery 1.0, 4).
func (p *Provider) configuration(w http.ResponseWriter, _ *http.Request) {
	send(w, http.StatusOK, map[string]any{
		"issuer": p.Issuer, "authorization_endpoint": p.Issuer + "/authorize", "token_endpoint": p.Issuer + "/token",
		"jwks_uri": p.Issuer + "/keys", "response_types_supported": []string{"code"}, "subject_types_supported": []string{"public"},
		"id_token_signing_alg_values_supported": []string{"RS256"}, "code_challenge_methods_supported": []string{"S256"},
	})
}

func (p *Provider) keys(w http.ResponseWriter, _ *http.Request) {
	send(w, http.StatusOK, jose.JSONWebKeySet{Keys: []jose.JSONWebKey{{Key: p.key.Public(), KeyID: "1", Algorithm: "RS256", Use: "sig"}}})
}

// page asks who somebody is.
var page = template.Must(template.New("").Parse(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{{.Name}}</title><meta name="viewport" content="width=device-width">
<style>body { font: 1.1rem/1.5 sans-serif; max-width: 26rem; margin: 12vh auto; padding: 0 1rem; color: #1c2733 }
a { display: block; padding: 0.6rem 0; color: #1d5a4a; border-top: 1px solid #ddd } h1 { font-size: 1.5rem }</style></head>
<body><main><h1>{{.Name}}</h1><p>This stands in for a school’s own sign-in. Who are you?</p>
{{range .Ways}}<a href="{{.To}}">{{.Name}}</a>{{end}}</main></body></html>`))

// authorize sends somebody back with a code, once it is known who they are.
func (p *Provider) authorize(w http.ResponseWriter, r *http.Request) {
	q := r.URL.Query()
	back, err := url.Parse(q.Get("redirect_uri"))
	if err != nil || q.Get("client_id") != p.Client || q.Get("response_type") != "code" || back.Path != "/api/provider/return" ||
		q.Get("code_challenge_method") != "S256" {
		http.Error(w, "Whoever sent you here asked for nothing that this provider does.", http.StatusBadRequest)
		return
	}
	as := q.Get("as")
	if len(p.People) == 1 {
		as = p.People[0].Subject
	}
	for _, person := range p.People {
		if person.Subject == as {
			back.RawQuery = url.Values{"code": {p.newCode(person, q.Get("nonce"), q.Get("code_challenge"))}, "state": {q.Get("state")}}.Encode()
			http.Redirect(w, r, back.String(), http.StatusSeeOther)
			return
		}
	}
	type way struct{ Name, To string }
	var ways []way
	for _, person := range p.People {
		q.Set("as", person.Subject)
		ways = append(ways, way{person.Name, "?" + q.Encode()})
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'")
	_ = page.Execute(w, map[string]any{"Name": p.Name, "Ways": ways})
}

func (p *Provider) newCode(of Person, nonce, challenge string) string {
	p.mu.Lock()
	defer p.mu.Unlock()
	for name, c := range p.codes {
		if time.Now().After(c.until) || len(p.codes) >= mostCodes {
			delete(p.codes, name)
		}
	}
	name := rand.Text()
	p.codes[name] = code{of, nonce, challenge, time.Now().Add(codeLasts)}
	return name
}

// token exchanges a code, which is good once.
func (p *Provider) token(w http.ResponseWriter, r *http.Request) {
	r.Body = http.MaxBytesReader(w, r.Body, 10_000)
	name := r.PostFormValue("code")
	p.mu.Lock()
	c, known := p.codes[name]
	delete(p.codes, name)
	p.mu.Unlock()
	sum := sha256.Sum256([]byte(r.PostFormValue("code_verifier")))
	if !known || time.Now().After(c.until) || base64.RawURLEncoding.EncodeToString(sum[:]) != c.challenge {
		send(w, http.StatusBadRequest, map[string]string{"error": "invalid_grant"})
		return
	}
	token, err := p.sign(c)
	if err != nil {
		send(w, http.StatusInternalServerError, map[string]string{"error": "server_error"})
		return
	}
	send(w, http.StatusOK, map[string]any{"access_token": rand.Text(), "token_type": "Bearer", "id_token": token})
}

// sign returns a token that says who somebody is.
func (p *Provider) sign(c code) (string, error) {
	now := time.Now()
	claims := map[string]any{
		"iss": p.Issuer, "aud": p.Client, "sub": c.of.Subject, "nonce": c.nonce, "iat": now.Unix(), "exp": now.Add(time.Minute).Unix(),
		"preferred_username": c.of.UserName, "name": c.of.Name,
	}
	if p.Spoil != nil {
		p.Spoil(claims)
	}
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: jose.JSONWebKey{Key: p.key, KeyID: "1"}}, nil)
	if err != nil {
		return "", err
	}
	return jwt.Signed(signer).Claims(claims).Serialize()
}
