// Package people lets people in: as guests, under a name and a password, by a link or, in the demo, by a click; and it looks
// after their accounts.
package people

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/account"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
	"grund/internal/words"
)

// Rules say who may work on a server. Without it everybody is the person of the machine.
type Rules struct {
	// Guests lets whoever opens Grund work at once.
	Guests bool
	// Demo gives guests the demo of that person, and lets the demo's people sign in by a click.
	Demo *access.Person
	// Secure keeps cookies to connections that are encrypted: wherever the server is not on loopback alone.
	Secure bool
	// OnMachine reports whether a request comes from the machine itself.
	OnMachine func(r *http.Request) bool
	// Provider is the school's identity provider, nil where there is none.
	Provider *Provider
	// EveryoneTeaches lets every member make classes, and not only instructors.
	EveryoneTeaches bool
	// Version is that of the program, which administrators see.
	Version string
	// Proxy says that requests come through a proxy of ours, which names the address of who asks last in X-Forwarded-For.
	Proxy bool
}

// How long sessions last.
const (
	guestLasts         = 365 * 24 * time.Hour
	memberLasts        = 30 * 24 * time.Hour
	administratorLasts = 12 * time.Hour
)

// hashesAtOnce is how many passwords are hashed at a time: each takes 19 MiB and a processor.
const hashesAtOnce = 2

// A Desk lets people in, and looks after their accounts.
type Desk struct {
	store     *store.Store
	rules     *Rules // nil where everybody is the person of the machine
	open      map[string]bool
	sessions  *scs.SessionManager
	passwords *account.Passwords
	relation  relation // to the provider
}

// New returns the desk of a server; rules may be nil. open are the paths that need nobody, beside its own.
func New(st *store.Store, rules *Rules, open []string) (*Desk, error) {
	d := &Desk{store: st, rules: rules, open: map[string]bool{}}
	for _, path := range slices.Concat(own, open) {
		d.open[path] = true
	}
	if rules == nil {
		return d, nil
	}
	d.sessions = newSessions(st, rules)
	var err error
	d.passwords, err = account.NewPasswords(hashesAtOnce)
	return d, err
}

// Wrap gives requests their sessions.
func (s *Desk) Wrap(next http.Handler) http.Handler {
	if s.rules == nil {
		return next
	}
	return s.sessions.LoadAndSave(next)
}

// Routes adds the desk's routes.
func (s *Desk) Routes(route func(method, path string, handle echo.HandlerFunc)) {
	route("GET", "/me", s.getMe)
	for _, each := range []struct {
		method, path string
		handle       echo.HandlerFunc
	}{
		{"POST", "/guests", s.createGuest},
		{"POST", "/sign-in", s.signInWithPassword},
		{"POST", "/sign-out", s.signOut},
		{"GET", "/provider/start", s.toProvider},
		{"GET", "/provider/return", s.fromProvider},
		{"POST", "/demo-people/:name", s.signInAsDemo},
		{"POST", "/account/keep", s.keepAccount},
		{"GET", "/account", s.getAccount},
		{"PATCH", "/account", s.patchAccount},
		{"POST", "/account/sign-out-elsewhere", s.signOutElsewhere},
		{"DELETE", "/account", s.deleteAccount},
		{"GET", "/links/:token", s.getLink},
		{"POST", "/links/:token", s.useLink},
		{"GET", "/people", s.listPeople},
		{"PUT", "/people/:id/role", exchange.WithID(s.setRole)},
		{"POST", "/people/:id/link", exchange.WithID(s.makePasswordLink)},
		{"GET", "/machine", s.getMachine},
	} {
		route(each.method, each.path, s.onlyWithPeople(each.handle))
	}
}

// newSessions returns what keeps who is signed in where.
func newSessions(st *store.Store, people *Rules) *scs.SessionManager {
	m := scs.New()
	m.Store = store.Sessions{Store: st}
	m.Codec = store.SessionCodec{}
	m.HashTokenInStore = true
	m.Lifetime = guestLasts // each has its own deadline
	m.Cookie.Name = "grund"
	m.Cookie.SameSite = http.SameSiteLaxMode
	if people.Secure {
		m.Cookie.Name, m.Cookie.Secure = "__Host-grund", true
	}
	m.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, _ error) {
		w.Header().Set("Retry-After", "2")
		exchange.Refuse(w, http.StatusServiceUnavailable, "One moment: the database does not answer yet. Nothing that was saved is lost.")
	}
	return m
}

// Identified finds who asks. Where people sign in, nobody else gets beyond what is for all.
func (s *Desk) Identified(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		if s.rules == nil {
			c.SetRequest(r.WithContext(With(r.Context(), access.Local)))
			return next(c)
		}
		id, err := uuid.Parse(s.sessions.GetString(r.Context(), store.SessionPerson))
		if err == nil {
			a, err := s.store.Seen(r.Context(), id)
			if err != nil && !errors.Is(err, store.ErrNotFound) {
				return err
			}
			if err == nil && isAnother(r, a) && !s.open[c.Path()] {
				return echo.NewHTTPError(http.StatusUnauthorized, "Somebody else is signed in in this browser now. What you typed is kept here.")
			}
			if err == nil {
				acting := a.Person
				if s.rules.EveryoneTeaches && acting.Role == access.Member {
					acting.Role = access.Instructor
				}
				c.SetRequest(r.WithContext(With(r.Context(), acting)))
				c.Set(accountKey, a)
				return next(c)
			}
		}
		if !s.open[c.Path()] {
			return echo.NewHTTPError(http.StatusUnauthorized, "Sign in first. What you typed is kept here.")
		}
		return next(c)
	}
}

// asHeader names who a page believes to be: in another tab somebody else may have signed in.
const asHeader = "Grund-As"

func isAnother(r *http.Request, a *store.Account) bool {
	as := r.Header.Get(asHeader)
	return as != "" && as != a.ID.String()
}

// accountKey is under which a request holds the account of who asks.
const accountKey = "account"

// accountOf returns the account of who asks, nil where nobody is signed in.
func accountOf(c *echo.Context) *store.Account {
	a, _ := c.Get(accountKey).(*store.Account)
	return a
}

// NameOf is what others know who asks by, "" where they have no name.
func NameOf(c *echo.Context) string {
	if a := accountOf(c); a != nil {
		return cmp.Or(a.Name, a.UserName)
	}
	return ""
}

// own are the desk's paths that need nobody.
var own = []string{"/api/me", "/api/guests", "/api/sign-in", "/api/sign-out", "/api/demo-people/:name", "/api/links/:token",
	"/api/provider/start", "/api/provider/return"}

// Me says who is signed in, and how one can be.
type Me struct {
	Person *MePerson `json:"person,omitzero"`
	Alone  bool      `json:"alone"`  // whether everybody is the person of the machine
	Guests bool      `json:"guests"` // whether one may work without a name
	// Demo are the demo's people, who sign in by a click.
	Demo []DemoPerson `json:"demo,omitempty"`
	// Provider is a school's own way to sign in.
	Provider *ProviderView `json:"provider,omitzero"`
}

// MePerson is who is signed in.
type MePerson struct {
	ID       string      `json:"id"`
	Name     string      `json:"name"`
	UserName string      `json:"user_name,omitzero"` // "" of a guest
	Role     access.Role `json:"role"`
}

// cut bounds what a browser calls itself.
func cut(agent string) string {
	const most = 300
	if len(agent) > most {
		agent = agent[:most]
	}
	return strings.ToValidUTF8(strings.ReplaceAll(agent, "\x00", ""), "")
}

func mePerson(a *store.Account) *MePerson {
	return &MePerson{a.ID.String(), a.Name, a.UserName, a.Role}
}

// DemoPerson is one of the demo's people.
type DemoPerson struct {
	Name     string      `json:"name"`
	UserName string      `json:"user_name"`
	Role     access.Role `json:"role"`
}

func (s *Desk) me(a *store.Account) Me {
	if s.rules == nil {
		return Me{Alone: true, Person: &MePerson{ID: access.Local.ID.String(), Role: access.Local.Role}}
	}
	me := Me{Guests: s.rules.Guests}
	if s.rules.Demo != nil {
		for _, p := range demoPeople {
			me.Demo = append(me.Demo, DemoPerson(p))
		}
	}
	if s.rules.Provider != nil {
		me.Provider = &ProviderView{s.rules.Provider.Name, "/api/provider/start"}
	}
	if a != nil {
		me.Person = mePerson(a)
	}
	return me
}

func (s *Desk) getMe(c *echo.Context) error {
	return exchange.Write(c, http.StatusOK, s.me(accountOf(c)))
}

// signIn begins a session of a person, and answers who they are.
func (s *Desk) signIn(c *echo.Context, a *store.Account) error {
	if err := s.begin(c, a); err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, s.me(a))
}

// begin begins a session of a person, under a token of its own (OWASP ASVS 4.0, 3.2.1).
func (s *Desk) begin(c *echo.Context, a *store.Account) error {
	ctx := c.Request().Context()
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	// What a guest made is not lost where it did not come along: they are there again after signing out.
	if guest := accountOf(c); guest != nil && guest.Role == access.Guest && guest.ID != a.ID {
		s.sessions.Put(ctx, store.SessionGuest, guest.ID.String())
	}
	lasts := map[access.Role]time.Duration{access.Guest: guestLasts, access.Administrator: administratorLasts}[a.Role]
	if lasts == 0 {
		lasts = memberLasts
	}
	s.sessions.SetDeadline(ctx, time.Now().Add(lasts))
	s.sessions.Put(ctx, store.SessionPerson, a.ID.String())
	s.sessions.Put(ctx, store.SessionAgent, cut(c.Request().UserAgent()))
	return nil
}

// onlyWithPeople refuses where everybody is the person of the machine.
func (s *Desk) onlyWithPeople(handle echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if s.rules == nil {
			return store.ErrNotFound
		}
		return handle(c)
	}
}

// createGuest lets who is not signed in work at once.
func (s *Desk) createGuest(c *echo.Context) error {
	if a := accountOf(c); a != nil { // in another tab, meanwhile
		return exchange.Write(c, http.StatusOK, s.me(a))
	}
	if !s.rules.Guests {
		return echo.NewHTTPError(http.StatusForbidden, "Here one works under a name. Sign in.")
	}
	ctx := c.Request().Context()
	wait, err := s.store.MayBegin(ctx, s.address(c))
	if err != nil {
		return err
	}
	if wait > 0 {
		return tooMany(c, wait)
	}
	if s.rules.OnMachine != nil && s.rules.OnMachine(c.Request()) {
		unclaimed, err := s.store.Unclaimed(ctx)
		if err != nil {
			return err
		}
		if unclaimed {
			a, err := s.store.Account(ctx, access.Local, access.Local.ID)
			if err != nil {
				return err
			}
			return s.signIn(c, a)
		}
	}
	a, err := s.store.CreatePerson(ctx, access.Guest)
	if err != nil {
		return err
	}
	if s.rules.Demo != nil {
		if err := s.store.CopyDemo(ctx, *s.rules.Demo, a.Person); err != nil {
			return err
		}
	}
	return s.signIn(c, a)
}

// address is from where somebody asks.
func (s *Desk) address(c *echo.Context) string {
	r := c.Request()
	if s.rules.Proxy {
		forwarded := strings.Split(r.Header.Get("X-Forwarded-For"), ",")
		if last := strings.TrimSpace(forwarded[len(forwarded)-1]); last != "" {
			return words.Shorten(last)
		}
	}
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr
	}
	return host
}

// tooMany says how long to wait before the next try.
func tooMany(c *echo.Context, wait time.Duration) error {
	c.Response().Header().Set("Retry-After", fmt.Sprint(int(math.Ceil(wait.Seconds()))))
	return echo.NewHTTPError(http.StatusTooManyRequests,
		fmt.Sprintf("That was tried too often. Wait %d min, and try again.", int(math.Ceil(wait.Minutes()))))
}

// SignInRequest signs somebody in.
type SignInRequest struct {
	UserName string `json:"user_name"`
	Password string `json:"password"`
	Bring    bool   `json:"bring,omitzero"` // what the guest of this browser made
}

// errWrong says that nobody signs in so; not whether the name is known.
var errWrong = problem.Errors{{Pointer: "/password", Says: "the user name and the password do not belong together",
	Instead: "look at both again; an administrator can make a link that sets another password"}}

// signInWithPassword signs in who knows the password.
func (s *Desk) signInWithPassword(c *echo.Context) error {
	var request SignInRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx, address := c.Request().Context(), s.address(c)
	wait, err := s.store.MayTry(ctx, request.UserName, address)
	if err != nil {
		return err
	}
	if wait > 0 {
		return tooMany(c, wait)
	}
	a, hash, err := s.store.ByUserName(ctx, request.UserName)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	matches, err := s.passwords.Matches(ctx, request.Password, hash)
	if err != nil {
		return err
	}
	if !matches {
		if err := s.store.NoteFailure(ctx, request.UserName, address); err != nil {
			return err
		}
		return errWrong
	}
	if err := s.store.ForgetFailures(ctx, request.UserName); err != nil {
		return err
	}
	return s.enter(c, a, request.Bring)
}

// enter signs somebody in, with what the guest of the browser made where that is to be brought along.
func (s *Desk) enter(c *echo.Context, a *store.Account, bring bool) error {
	if err := s.bring(c, a, bring); err != nil {
		return err
	}
	return s.signIn(c, a)
}

// bring moves what the guest of the browser made along to who signs in, where that is wanted.
func (s *Desk) bring(c *echo.Context, a *store.Account, bring bool) error {
	if guest := accountOf(c); bring && guest != nil && guest.Role == access.Guest && guest.ID != a.ID {
		if err := s.store.MoveAlong(c.Request().Context(), guest.Person, a.Person); err != nil {
			return err
		}
	}
	return nil
}

// signInAsDemo signs in one of the demo's people.
func (s *Desk) signInAsDemo(c *echo.Context) error {
	known := slices.ContainsFunc(demoPeople, func(p DemoAccount) bool { return p.UserName == c.Param("name") })
	if s.rules.Demo == nil || !known {
		return store.ErrNotFound
	}
	a, _, err := s.store.ByUserName(c.Request().Context(), c.Param("name"))
	if err != nil {
		return err
	}
	if !a.Demo {
		return store.ErrNotFound
	}
	return s.signIn(c, a)
}

// signOut ends the session, and answers who is there then: the guest of the browser, if one was there before.
func (s *Desk) signOut(c *echo.Context) error {
	ctx := c.Request().Context()
	before, none := uuid.Parse(s.sessions.GetString(ctx, store.SessionGuest))
	if err := s.sessions.Destroy(ctx); err != nil {
		return err
	}
	if none != nil {
		return exchange.Write(c, http.StatusOK, s.me(nil))
	}
	guest, err := s.store.Seen(ctx, before)
	if errors.Is(err, store.ErrNotFound) || err == nil && guest.Role != access.Guest { // whose work has come along
		return exchange.Write(c, http.StatusOK, s.me(nil))
	}
	if err != nil {
		return err
	}
	c.Set(accountKey, (*store.Account)(nil)) // who has signed out is no guest
	return s.signIn(c, guest)
}
