package classroom

import (
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/account"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/store"
)

// ClassView is a class as a member of it sees it.
type ClassView struct {
	ID         string          `json:"id"`
	Name       string          `json:"name"`
	In         access.Standing `json:"in"` // what one is in it
	Archived   bool            `json:"archived"`
	Students   int             `json:"students"`
	Code       string          `json:"code,omitzero"` // to join by; for its instructors
	Guests     bool            `json:"guests"`        // whether somebody without a name may join
	FirstNames bool            `json:"first_names"`   // whether students see each other's first names
	Version    int64           `json:"version"`
	// Names are the first names of its students, where they are shown.
	Names []string `json:"names,omitempty"`
}

func viewOf(c *store.Class) ClassView {
	v := ClassView{
		ID: c.ID.String(), Name: c.Name, In: c.In, Archived: c.Archived, Students: c.Students, Guests: c.Guests, FirstNames: c.FirstNames,
		Version: c.Version,
	}
	if c.In == access.Teacher {
		v.Code = c.Code
	}
	return v
}

// ClassList are the classes that one is in.
type ClassList struct {
	Classes []ClassView `json:"classes"`
	MayMake bool        `json:"may_make"` // whether one may make another one
}

func (r *Classroom) listClasses(c *echo.Context) error {
	who := people.Who(c)
	list, err := r.store.Classes(c.Request().Context(), who)
	if err != nil {
		return err
	}
	out := ClassList{Classes: make([]ClassView, len(list)), MayMake: access.May(who, access.Make, access.Thing{Kind: access.Class})}
	for i := range list {
		out.Classes[i] = viewOf(&list[i])
	}
	return exchange.Write(c, http.StatusOK, out)
}

// NewClassRequest makes a class.
type NewClassRequest struct {
	Name string `json:"name"`
}

// checkName says what is wrong with the name of a class or a person.
func checkName(at, name string) error {
	if strings.TrimSpace(name) == "" {
		return problem.Errors{{Pointer: at, Says: "the name is missing", Instead: "type one"}}
	}
	return account.CheckName(at, name)
}

func (r *Classroom) createClass(c *echo.Context) error {
	var request NewClassRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if err := checkName("/name", request.Name); err != nil {
		return err
	}
	class, err := r.store.CreateClass(c.Request().Context(), people.Who(c), request.Name, people.NameOf(c))
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusCreated, viewOf(class))
}

func (r *Classroom) getClass(c *echo.Context, id uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	class, err := r.store.Class(ctx, who, id)
	if err != nil {
		return err
	}
	view := viewOf(class)
	if view.Names, err = r.store.FirstNames(ctx, who, id); err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, view)
}

// ClassRequest changes a class that is still at Version.
type ClassRequest struct {
	Version    int64  `json:"version"`
	Name       string `json:"name"`
	Guests     bool   `json:"guests"`
	FirstNames bool   `json:"first_names"`
	Archived   bool   `json:"archived"`
	NewCode    bool   `json:"new_code,omitzero"` // the code before is good no more
}

func (r *Classroom) patchClass(c *echo.Context, id uuid.UUID) error {
	var request ClassRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if err := checkName("/name", request.Name); err != nil {
		return err
	}
	class, err := r.store.UpdateClass(c.Request().Context(), people.Who(c), id, request.Version, store.ClassChange{
		Name: request.Name, Guests: request.Guests, FirstNames: request.FirstNames, Archived: request.Archived, NewCode: request.NewCode,
	})
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, viewOf(class))
}

// JoinRequest makes one a student of the class that has a code.
type JoinRequest struct {
	Code string `json:"code"`
	Name string `json:"name,omitzero"` // as it is to stand on the roster; one's own where it is ""
}

func (r *Classroom) joinClass(c *echo.Context) error {
	var request JoinRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if request.Name == "" {
		request.Name = people.NameOf(c)
	}
	if err := checkName("/name", request.Name); err != nil {
		return err
	}
	var class *store.Class
	err := r.desk.Guessing(c, "a class", func() (err error) {
		class, err = r.store.JoinClass(c.Request().Context(), people.Who(c), strings.TrimSpace(request.Code), request.Name)
		return err
	})
	if errors.Is(err, store.ErrNotFound) {
		return problem.Errors{{Pointer: "/code", Says: "there is no class of this code",
			Instead: "look at it again: it has 8 letters and digits"}}
	}
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, viewOf(class))
}

func (r *Classroom) leaveClass(c *echo.Context, id uuid.UUID) error {
	return done(c, r.store.LeaveClass(c.Request().Context(), people.Who(c), id))
}

// MemberView is somebody on the roster.
type MemberView struct {
	ID       string          `json:"id"`
	Name     string          `json:"name"`
	UserName string          `json:"user_name,omitzero"` // "" of a guest
	In       access.Standing `json:"in"`
	// Link says whether the class may make a link with which they set a new password.
	Link   bool      `json:"link"`
	SeenAt time.Time `json:"seen_at"` // to the hour
}

func (r *Classroom) getRoster(c *echo.Context, id uuid.UUID) error {
	list, err := r.store.Roster(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	out := make([]MemberView, len(list))
	for i, m := range list {
		link := m.In == access.Student && m.UserName != "" && (m.Came == "code" || m.Came == "account") && !m.Demo
		out[i] = MemberView{m.Person.String(), m.Name, m.UserName, m.In, link, m.SeenAt}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// RosterRequest puts people on the roster.
type RosterRequest struct {
	People []NewcomerView `json:"people"`
}

// NewcomerView is somebody who is to come onto the roster.
type NewcomerView struct {
	Name     string `json:"name"`
	UserName string `json:"user_name"`
	Teaches  bool   `json:"teaches,omitzero"` // an instructor
}

// WelcomeView is somebody who came onto the roster, and where they set a password if an account was made for them.
type WelcomeView struct {
	Name     string `json:"name"`
	UserName string `json:"user_name"`
	Path     string `json:"path,omitzero"`
}

// mostAtOnce is how many can come onto a roster at once.
const mostAtOnce = 1000

// checked says what is wrong with those who are to come, by row.
func checked(list []NewcomerView) (wrong problem.Errors) {
	seen := map[string]bool{}
	for i, each := range list {
		for field, err := range map[string]error{"name": checkName("", each.Name), "user_name": account.CheckUserName("", each.UserName)} {
			for _, mistake := range asErrors(err) {
				wrong.Add(problem.Pointer("people", i, field), mistake.Says, mistake.Instead)
			}
		}
		key := strings.ToLower(each.UserName)
		if key != "" && seen[key] {
			wrong.Add(problem.Pointer("people", i, "user_name"), fmt.Sprintf("“%s” stands there twice", each.UserName),
				"give everyone a user name of their own")
		}
		seen[key] = true
	}
	return wrong
}

func asErrors(err error) problem.Errors {
	mistakes, _ := err.(problem.Errors)
	return mistakes
}

func (r *Classroom) addToRoster(c *echo.Context, id uuid.UUID) error {
	var request RosterRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if len(request.People) > mostAtOnce {
		return problem.TooMany("/people", fmt.Sprintf("there are %d people", len(request.People)), mostAtOnce, "bring them in parts")
	}
	if wrong := checked(request.People); len(wrong) > 0 {
		return wrong
	}
	newcomers := make([]store.Newcomer, len(request.People))
	for i, each := range request.People {
		newcomers[i] = store.Newcomer{Name: each.Name, UserName: each.UserName, Teaches: each.Teaches}
	}
	welcomes, err := r.store.AddToRoster(c.Request().Context(), people.Who(c), id, newcomers)
	if err != nil {
		return err
	}
	out := make([]WelcomeView, len(welcomes))
	for i, w := range welcomes {
		out[i] = WelcomeView{Name: w.Name, UserName: w.UserName}
		if w.Token != "" {
			out[i].Path = people.LinkPath(w.Token)
		}
	}
	return exchange.Write(c, http.StatusCreated, out)
}

func (r *Classroom) removeFromRoster(c *echo.Context, class, person uuid.UUID) error {
	return done(c, r.store.RemoveFromRoster(c.Request().Context(), people.Who(c), class, person))
}

func (r *Classroom) makeRosterLink(c *echo.Context, class, person uuid.UUID) error {
	token, err := r.store.RosterLink(c.Request().Context(), people.Who(c), class, person)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusCreated, people.OneTimeLink{Path: people.LinkPath(token)})
}

// DeedView is what somebody did in the class that concerns another's work.
type DeedView struct {
	By    string    `json:"by"`
	About string    `json:"about,omitzero"`
	What  string    `json:"what"`
	At    time.Time `json:"at"`
}

func (r *Classroom) listDeeds(c *echo.Context, id uuid.UUID) error {
	list, err := r.store.Deeds(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	out := make([]DeedView, len(list))
	for i, d := range list {
		out[i] = DeedView(d)
	}
	return exchange.Write(c, http.StatusOK, out)
}
