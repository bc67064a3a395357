package people

import (
	"context"
	"crypto/subtle"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"
	"unicode"

	"github.com/coreos/go-oidc/v3/oidc"
	"github.com/labstack/echo/v5"
	"golang.org/x/oauth2"

	"grund/internal/account"
	"grund/internal/store"
)

// Provider is a school's own identity provider, which speaks OpenID Connect.
type Provider struct {
	Name         string // as the button calls it
	Issuer       string
	ClientID     string
	ClientSecret string
	// Home is the address of this server, as the provider sends people back to it: https://grund.school.example. It is that at
	// which the server was asked where it is "".
	Home string
}

// providerPatience is how long the provider may take to answer.
const providerPatience = 6 * time.Second

// onTheWay is how long somebody may take at the provider.
const onTheWay = 15 * time.Minute

// What a session holds while somebody is at the provider.
const (
	sessionState    = "oidc_state"
	sessionNonce    = "oidc_nonce"
	sessionVerifier = "oidc_verifier"
)

// A relation is what is known of the provider, once it has answered.
type relation struct {
	mu       sync.Mutex
	config   *oauth2.Config
	verifier *oidc.IDTokenVerifier
}

// known asks the provider about itself, until it has answered once.
func (r *relation) known(ctx context.Context, p *Provider) (*oauth2.Config, *oidc.IDTokenVerifier, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.config != nil {
		return r.config, r.verifier, nil
	}
	// What the provider says of itself is fetched in the background of later requests too.
	asked, cancel := context.WithTimeout(ctx, providerPatience)
	defer cancel()
	found, err := oidc.NewProvider(oidc.ClientContext(asked, &http.Client{Timeout: providerPatience}), p.Issuer)
	if err != nil {
		return nil, nil, fmt.Errorf("asking the identity provider about itself: %w", err)
	}
	r.config = &oauth2.Config{
		ClientID: p.ClientID, ClientSecret: p.ClientSecret, Endpoint: found.Endpoint(), Scopes: []string{oidc.ScopeOpenID, "profile"},
	}
	r.verifier = found.Verifier(&oidc.Config{ClientID: p.ClientID})
	return r.config, r.verifier, nil
}

// toProvider sends somebody to the provider. It is written down in the session what must come back with them.
func (s *Desk) toProvider(c *echo.Context) error {
	if s.rules.Provider == nil {
		return store.ErrNotFound
	}
	ctx := c.Request().Context()
	known, _, err := s.relation.known(ctx, s.rules.Provider)
	if err != nil {
		return s.notThrough(c, err)
	}
	config := s.sendingBack(c, known)
	if accountOf(c) == nil { // the session of somebody who is on the way
		s.sessions.SetDeadline(ctx, time.Now().Add(onTheWay))
	}
	state, nonce, verifier := oauth2.GenerateVerifier(), oauth2.GenerateVerifier(), oauth2.GenerateVerifier()
	s.sessions.Put(ctx, sessionState, state)
	s.sessions.Put(ctx, sessionNonce, nonce)
	s.sessions.Put(ctx, sessionVerifier, verifier)
	return c.Redirect(http.StatusSeeOther, config.AuthCodeURL(state, oidc.Nonce(nonce), oauth2.S256ChallengeOption(verifier)))
}

// sendingBack returns the configuration with which the provider sends people back to where they came from.
func (s *Desk) sendingBack(c *echo.Context, config *oauth2.Config) *oauth2.Config {
	home := strings.TrimSuffix(s.rules.Provider.Home, "/")
	if home == "" { // the host is one of those that the server answers to
		scheme := "http"
		if s.rules.Secure {
			scheme = "https"
		}
		home = scheme + "://" + c.Request().Host
	}
	here := *config
	here.RedirectURL = home + "/api/provider/return"
	return &here
}

// errProvider says that a provider sent back what cannot be believed.
var errProvider = errors.New("the identity provider answered wrongly")

// fromProvider signs in who comes back from the provider: a first time makes a member, and a guest's work moves along.
func (s *Desk) fromProvider(c *echo.Context) error {
	if s.rules.Provider == nil {
		return store.ErrNotFound
	}
	ctx := c.Request().Context()
	state, nonce := s.sessions.PopString(ctx, sessionState), s.sessions.PopString(ctx, sessionNonce)
	verifier := s.sessions.PopString(ctx, sessionVerifier)
	if state == "" || subtle.ConstantTimeCompare([]byte(state), []byte(c.QueryParam("state"))) != 1 {
		return s.notThrough(c, errProvider)
	}
	if c.QueryParam("error") != "" { // the person turned back, perhaps
		return s.notThrough(c, fmt.Errorf("%w: %s", errProvider, c.QueryParam("error")))
	}
	subject, err := s.subject(c, nonce, verifier)
	if err != nil {
		return s.notThrough(c, err)
	}
	a, first, err := s.store.BySubject(ctx, *subject)
	if err != nil {
		return err
	}
	if first && s.rules.Demo != nil {
		if err := s.store.CopyDemo(ctx, *s.rules.Demo, a.Person); err != nil {
			return err
		}
	}
	if err := s.bring(c, a, true); err != nil {
		return err
	}
	if err := s.begin(c, a); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, "/")
}

// subject returns who the code is of with which somebody comes back.
func (s *Desk) subject(c *echo.Context, nonce, verifier string) (*store.Subject, error) {
	ctx := c.Request().Context()
	config, tokens, err := s.relation.known(ctx, s.rules.Provider)
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(oidc.ClientContext(ctx, &http.Client{Timeout: providerPatience}), providerPatience)
	defer cancel()
	exchanged, err := s.sendingBack(c, config).Exchange(ctx, c.QueryParam("code"), oauth2.VerifierOption(verifier))
	if err != nil {
		return nil, fmt.Errorf("exchanging a code: %w", err)
	}
	raw, is := exchanged.Extra("id_token").(string)
	if !is {
		return nil, fmt.Errorf("%w: it sent no token", errProvider)
	}
	token, err := tokens.Verify(ctx, raw)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", errProvider, err)
	}
	if nonce == "" || subtle.ConstantTimeCompare([]byte(nonce), []byte(token.Nonce)) != 1 {
		return nil, fmt.Errorf("%w: the token is of another sign-in", errProvider)
	}
	var claims struct {
		UserName string `json:"preferred_username"`
		Name     string `json:"name"`
	}
	if err := token.Claims(&claims); err != nil {
		return nil, fmt.Errorf("%w: %w", errProvider, err)
	}
	return &store.Subject{Issuer: token.Issuer, Subject: token.Subject, UserName: asUserName(claims.UserName), Name: asName(claims.Name)}, nil
}

// asUserName makes what a provider calls somebody a user name.
func asUserName(text string) string {
	text, _, _ = strings.Cut(text, "@")
	name := []rune(strings.Map(func(r rune) rune {
		if account.CheckUserName("", "xx"+string(r)) != nil {
			return -1
		}
		return r
	}, text))
	if len(name) > 30 {
		name = name[:30]
	}
	if len(name) < 2 {
		return "member"
	}
	return string(name)
}

// asName makes what a provider calls somebody a name that is shown to others.
func asName(text string) string {
	name := []rune(strings.Map(func(r rune) rune {
		if unicode.IsControl(r) {
			return -1
		}
		return r
	}, text))
	return string(name[:min(len(name), account.MaxName)])
}

// notThrough sends somebody who did not get through the provider back to the other ways in, and logs why.
func (s *Desk) notThrough(c *echo.Context, err error) error {
	c.Logger().Warn("signing in through the identity provider failed", "error", err)
	return c.Redirect(http.StatusSeeOther, "/sign-in?"+url.Values{"provider": {"failed"}}.Encode())
}

// ProviderView is the provider as the sign-in page offers it.
type ProviderView struct {
	Name string `json:"name"`
	Path string `json:"path"`
}
