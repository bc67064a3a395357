package people

import (
	"errors"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/account"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
)

// PersonListing is somebody who signs in, as an administrator sees them.
type PersonListing struct {
	ID        string      `json:"id"`
	Name      string      `json:"name"`
	UserName  string      `json:"user_name"`
	Role      access.Role `json:"role"`
	Demo      bool        `json:"demo,omitzero"`
	CreatedAt time.Time   `json:"created_at"`
	SeenAt    time.Time   `json:"seen_at"` // to the hour
}

func (s *Desk) listPeople(c *echo.Context) error {
	from, err := exchange.PageFrom(c)
	if err != nil {
		return err
	}
	list, more, err := s.store.People(c.Request().Context(), Who(c), from)
	if err != nil {
		return err
	}
	if more {
		exchange.LinkNext(c, from+len(list))
	}
	out := make([]PersonListing, len(list))
	for i, a := range list {
		out[i] = PersonListing{a.ID.String(), a.Name, a.UserName, a.Role, a.Demo, a.CreatedAt, a.SeenAt}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// RoleRequest makes somebody a member, an instructor or an administrator.
type RoleRequest struct {
	Role access.Role `json:"role"`
}

// signingIn are the roles that somebody can be given.
var signingIn = []string{string(access.Member), string(access.Instructor), string(access.Administrator)}

func (s *Desk) setRole(c *echo.Context, id uuid.UUID) error {
	var request RoleRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if !access.MaySignIn(request.Role) {
		return problem.Errors{problem.Unknown("/role", "role", string(request.Role), signingIn)}
	}
	err := s.store.SetRole(c.Request().Context(), Who(c), id, request.Role)
	if errors.Is(err, store.ErrLast) {
		return problem.Errors{{Pointer: "/role", Says: "this is the only administrator", Instead: "make another one first"}}
	}
	if err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// OneTimeLink is where somebody sets a password once.
type OneTimeLink struct {
	Path string `json:"path"`
}

func (s *Desk) makePasswordLink(c *echo.Context, id uuid.UUID) error {
	token, err := s.store.PasswordLink(c.Request().Context(), Who(c), id)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusCreated, OneTimeLink{LinkPath(token)})
}

// LinkPath is where a one-time link leads.
func LinkPath(token string) string { return "/link/" + token }

// LinkView says what a one-time link is for.
type LinkView struct {
	UserName string `json:"user_name,omitzero"` // whose password it sets; "" where it makes an administrator
}

// errUsed says that a link is good no more, or never was.
var errUsed = echo.NewHTTPError(http.StatusNotFound, "This link is good no more: it was used, or is older than three days. "+
	"Ask for another one.")

func (s *Desk) getLink(c *echo.Context) error {
	a, err := s.linkOf(c)
	if err != nil {
		return err
	}
	if a == nil {
		return exchange.Write(c, http.StatusOK, LinkView{})
	}
	return exchange.Write(c, http.StatusOK, LinkView{a.UserName})
}

// linkOf returns whose password the link of the path sets; who guesses waits as who guesses passwords.
func (s *Desk) linkOf(c *echo.Context) (*store.Account, error) {
	var a *store.Account
	err := s.Guessing(c, "a link", func() (err error) {
		a, err = s.store.LinkOf(c.Request().Context(), c.Param("token"))
		return err
	})
	if errors.Is(err, store.ErrNotFound) {
		return nil, errUsed
	}
	return a, err
}

// Guessing calls f, which looks for something by what only some know; what it does not find counts as a guess of the address, and
// who guesses often waits. what says what is guessed, with a space, as no user name has one.
func (s *Desk) Guessing(c *echo.Context, what string, f func() error) error {
	if s.rules == nil {
		return f()
	}
	ctx, address := c.Request().Context(), s.address(c)
	wait, err := s.store.MayTry(ctx, "", address)
	if err != nil {
		return err
	}
	if wait > 0 {
		return tooMany(c, wait)
	}
	if err = f(); errors.Is(err, store.ErrNotFound) {
		if err := s.store.NoteFailure(ctx, what, address); err != nil {
			return err
		}
	}
	return err
}

// LinkRequest sets the password that a one-time link is for.
type LinkRequest struct {
	UserName string `json:"user_name,omitzero"` // of the first administrator
	Password string `json:"password"`
}

func (s *Desk) useLink(c *echo.Context) error {
	var request LinkRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	of, err := s.linkOf(c)
	if err != nil {
		return err
	}
	userName, name := request.UserName, request.UserName
	if of != nil {
		userName, name = of.UserName, of.Name
	}
	if err := account.CheckUserName("/user_name", userName); err != nil {
		return err
	}
	if err := account.CheckPassword("/password", request.Password, userName, name); err != nil {
		return err
	}
	ctx := c.Request().Context()
	hash, err := s.passwords.Hash(ctx, request.Password)
	if err != nil {
		return err
	}
	a, err := s.store.UseLink(ctx, c.Param("token"), userName, hash)
	if errors.Is(err, store.ErrNotFound) {
		return errUsed
	}
	if err != nil {
		return taken(err)
	}
	return s.signIn(c, a)
}

// MachineView is what an administrator sees of the machine.
type MachineView struct {
	Version       string          `json:"version"` // of Grund
	DatabaseBytes int64           `json:"database_bytes"`
	People        int             `json:"people"` // who sign in
	Guests        int             `json:"guests"`
	Migrations    []MigrationView `json:"migrations"` // the last one first
}

// MigrationView is a step in which the tables became what they are.
type MigrationView struct {
	Number int64     `json:"number"`
	Name   string    `json:"name"`
	At     time.Time `json:"at"`
}

func (s *Desk) getMachine(c *echo.Context) error {
	m, err := s.store.Machine(c.Request().Context(), Who(c))
	if err != nil {
		return err
	}
	view := MachineView{s.rules.Version, m.Bytes, m.People, m.Guests, make([]MigrationView, len(m.Migrations))}
	for i, each := range m.Migrations {
		view.Migrations[i] = MigrationView(each)
	}
	return exchange.Write(c, http.StatusOK, view)
}
