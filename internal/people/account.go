package people

import (
	"errors"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/account"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
)

// KeepAccountRequest gives a guest a name to sign in under.
type KeepAccountRequest struct {
	UserName string `json:"user_name"`
	Name     string `json:"name"` // by which others know the person; the user name where it is ""
	Password string `json:"password"`
}

// keepAccount keeps a guest's work under a name.
func (s *Desk) keepAccount(c *echo.Context) error {
	var request KeepAccountRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if a := accountOf(c); a.Role != access.Guest {
		return problem.Errors{{Pointer: "/user_name", Says: "you are signed in under a name", Instead: "sign out first"}}
	}
	if request.Name == "" {
		request.Name = request.UserName
	}
	hash, err := s.checked(c, request.UserName, request.Name, request.Password)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	if err := s.store.KeepAccount(ctx, Who(c), request.UserName, request.Name, hash); err != nil {
		return taken(err)
	}
	a, err := s.store.Account(ctx, Who(c), Who(c).ID)
	if err != nil {
		return err
	}
	// A cookie that somebody took from the guest is good no more.
	if err := s.store.SignOutElsewhere(ctx, a.Person, ""); err != nil {
		return err
	}
	return s.signIn(c, a)
}

// checked returns the hash of a password, where it and the names may be taken.
func (s *Desk) checked(c *echo.Context, userName, name, password string) (string, error) {
	if err := account.CheckUserName("/user_name", userName); err != nil {
		return "", err
	}
	if err := account.CheckName("/name", name); err != nil {
		return "", err
	}
	if err := account.CheckPassword("/password", password, userName, name); err != nil {
		return "", err
	}
	return s.passwords.Hash(c.Request().Context(), password)
}

// taken says so of a user name.
func taken(err error) error {
	if errors.Is(err, store.ErrTaken) {
		return problem.Errors{{Pointer: "/user_name", Says: "somebody else has this user name", Instead: "take another one"}}
	}
	return err
}

// AccountView is one's own account.
type AccountView struct {
	MePerson
	CreatedAt time.Time     `json:"created_at"`
	Sessions  []SessionView `json:"sessions"`
}

// SessionView is where one is signed in.
type SessionView struct {
	Agent     string    `json:"agent"` // what the browser calls itself
	CreatedAt time.Time `json:"created_at"`
	SeenAt    time.Time `json:"seen_at"` // to the hour
}

func (s *Desk) getAccount(c *echo.Context) error {
	a := accountOf(c)
	sessions, err := s.store.SignedInAt(c.Request().Context(), a.Person)
	if err != nil {
		return err
	}
	view := AccountView{MePerson: *mePerson(a), CreatedAt: a.CreatedAt, Sessions: make([]SessionView, len(sessions))}
	for i, each := range sessions {
		view.Sessions[i] = SessionView{each.Agent, each.CreatedAt, each.SeenAt}
	}
	return exchange.Write(c, http.StatusOK, view)
}

// AccountRequest changes one's own account: the name by which others know one, or, with the present one, the password.
type AccountRequest struct {
	Name        *string `json:"name,omitzero"`
	Password    string  `json:"password,omitzero"` // the present one
	NewPassword string  `json:"new_password,omitzero"`
}

func (s *Desk) patchAccount(c *echo.Context) error {
	var request AccountRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx, a := c.Request().Context(), accountOf(c)
	if request.Name != nil {
		if err := account.CheckName("/name", *request.Name); err != nil {
			return err
		}
		if err := s.store.SetName(ctx, a.Person, *request.Name); err != nil {
			return err
		}
	}
	if request.NewPassword != "" {
		if err := s.again(c, a, request.Password); err != nil {
			return err
		}
		if err := account.CheckPassword("/new_password", request.NewPassword, a.UserName, a.Name); err != nil {
			return err
		}
		hash, err := s.passwords.Hash(ctx, request.NewPassword)
		if err != nil {
			return err
		}
		if err := s.store.SetPassword(ctx, a.Person, hash, ""); err != nil {
			return err
		}
	}
	a, err := s.store.Account(ctx, a.Person, a.ID)
	if err != nil {
		return err
	}
	if request.NewPassword != "" { // all sessions have ended; this one goes on under another token
		return s.signIn(c, a)
	}
	return exchange.Write(c, http.StatusOK, s.me(a))
}

// again asks for the password of who is signed in already: the browser may be another one's for a moment.
func (s *Desk) again(c *echo.Context, a *store.Account, password string) error {
	ctx := c.Request().Context()
	wait, err := s.store.MayTry(ctx, a.UserName, s.address(c))
	if err != nil {
		return err
	}
	if wait > 0 {
		return tooMany(c, wait)
	}
	hash, err := s.store.Password(ctx, a.Person)
	if err != nil || hash == "" { // whoever signs in through a provider has none here
		return err
	}
	matches, err := s.passwords.Matches(ctx, password, hash)
	if err != nil {
		return err
	}
	if !matches {
		if err := s.store.NoteFailure(ctx, a.UserName, s.address(c)); err != nil {
			return err
		}
		return problem.Errors{{Pointer: "/password", Says: "this is not your password", Instead: "type the present one"}}
	}
	return nil
}

func (s *Desk) signOutElsewhere(c *echo.Context) error {
	if err := s.store.SignOutElsewhere(c.Request().Context(), Who(c), ""); err != nil {
		return err
	}
	return s.signIn(c, accountOf(c)) // this one goes on
}

// DeleteAccountRequest removes one's own account with all that is in it.
type DeleteAccountRequest struct {
	Password string `json:"password,omitzero"` // of who has one
}

func (s *Desk) deleteAccount(c *echo.Context) error {
	var request DeleteAccountRequest
	if c.Request().ContentLength != 0 {
		if err := exchange.Read(c, &request); err != nil {
			return err
		}
	}
	a := accountOf(c)
	if a.Demo {
		return echo.NewHTTPError(http.StatusForbidden, "The people of the demo are there for all.")
	}
	if a.UserName != "" {
		if err := s.again(c, a, request.Password); err != nil {
			return err
		}
	}
	ctx := c.Request().Context()
	if err := s.store.DeleteAccount(ctx, a.Person); err != nil {
		return err
	}
	return s.signOut(c)
}
