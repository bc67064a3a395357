package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/store"
)

// linkKey is under which the context of a request holds the token of the link that it came by.
type linkKey struct{}

// linkOf returns the token of the link that something is asked by, "" where there is none.
func linkOf(ctx context.Context) string {
	token, _ := ctx.Value(linkKey{}).(string)
	return token
}

// byLink hands what the link in the path leads to to a handler that reads: whoever has the link is shown it as the owner is.
func (s *server) byLink(handle func(c *echo.Context, id uuid.UUID) error) echo.HandlerFunc {
	return s.linked(func(c *echo.Context, shared store.Shared) error { return handle(c, shared.ID) })
}

// linked hands what the link in the path leads to to a handler. A link is 130 random bits, so nobody who guesses is counted.
func (s *server) linked(handle func(c *echo.Context, shared store.Shared) error) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		token := c.Param("token")
		var shared store.Shared
		err := s.store.ViewByLink(r.Context(), people.Who(c), token, func(_ *store.View, found store.Shared) error {
			shared = found
			return nil
		})
		if errors.Is(err, store.ErrNotFound) {
			return echo.NewHTTPError(http.StatusNotFound, "This link leads nowhere. It may have been taken back, or was not copied whole.")
		}
		if err != nil {
			return err
		}
		c.SetRequest(r.WithContext(context.WithValue(r.Context(), linkKey{}, token)))
		return handle(c, shared)
	}
}

// seen calls f with a view of what who asks may see: by the link that they came by, if they did.
func (s *server) seen(ctx context.Context, f func(v *store.View) error) error {
	if token := linkOf(ctx); token != "" {
		return s.store.ViewByLink(ctx, people.Of(ctx), token, func(v *store.View, _ store.Shared) error { return f(v) })
	}
	return s.store.View(ctx, people.Of(ctx), f)
}

// ShareLink is the link with which others may read and copy something of one's own.
type ShareLink struct {
	Path string `json:"path"` // "" where there is none
}

// sharing returns what answers with the link that something of a kind has after act.
func (s *server) sharing(
	kind access.Kind, act func(ctx context.Context, who access.Person, kind access.Kind, id uuid.UUID) (string, error),
) echo.HandlerFunc {
	return exchange.WithID(func(c *echo.Context, id uuid.UUID) error {
		token, err := act(c.Request().Context(), people.Who(c), kind, id)
		if err != nil {
			return err
		}
		link := ShareLink{}
		if token != "" {
			link.Path = "/shared/" + token
		}
		return exchange.Write(c, http.StatusOK, link)
	})
}

// endShare takes a link back.
func (s *server) endShare(ctx context.Context, who access.Person, kind access.Kind, id uuid.UUID) (string, error) {
	return "", s.store.EndShare(ctx, who, kind, id)
}

// SharedThing says what a link leads to.
type SharedThing struct {
	Kind access.Kind `json:"kind"` // “problem” or “data set”
	// Own is the id of the thing where it is one's own.
	Own string `json:"own,omitzero"`
}

func (s *server) getShared(c *echo.Context, shared store.Shared) error {
	thing := SharedThing{Kind: shared.Kind}
	if shared.Owner == people.Who(c).ID {
		thing.Own = shared.ID.String()
	}
	return exchange.Write(c, http.StatusOK, thing)
}

// CopiedThing is the copy of something that was shared.
type CopiedThing struct {
	Kind access.Kind `json:"kind"`
	ID   string      `json:"id"`
}

// copyShared keeps what was shared as one's own: a problem with the data that it is about.
func (s *server) copyShared(c *echo.Context, shared store.Shared) error {
	ctx, who := c.Request().Context(), people.Who(c)
	if !access.May(who, access.Copy, access.Thing{Kind: shared.Kind, Owner: shared.Owner, Linked: true}) {
		return store.ErrNotFound
	}
	copied := CopiedThing{Kind: shared.Kind}
	if shared.Kind == access.DataSet {
		_, given, err := s.dataSet(ctx, shared.ID)
		if err != nil {
			return err
		}
		d, err := s.store.CreateDataSet(ctx, who, given.Set, "")
		if err != nil {
			return err
		}
		copied.ID = d.ID.String()
		return exchange.Write(c, http.StatusCreated, copied)
	}
	st, err := s.state(ctx, shared.ID)
	if err != nil {
		return err
	}
	kept, err := s.store.Import(ctx, who, func(yield func(store.Imported, error) bool) {
		yield(store.Imported{Draft: st.problem.Draft, Set: st.given.Set}, nil)
	})
	if err != nil {
		return err
	}
	copied.ID = kept[0].ID.String()
	return exchange.Write(c, http.StatusCreated, copied)
}

// SharedTryRequest asks where somebody stands who works a shared problem. What they did is kept by their browser, and nowhere
// else.
type SharedTryRequest struct {
	Version     int64         `json:"version,omitzero"`
	DataVersion int64         `json:"data_version,omitzero"`
	Events      []SharedEvent `json:"events"`
	// Rows asks for a page of a table, as far as it was earned.
	Rows *WorkRequest `json:"rows,omitzero"`
}

// SharedEvent is one thing that was done in an attempt at a shared problem, with the verdict that it had; the last one may have
// none yet.
type SharedEvent struct {
	Kind    string `json:"kind"`
	Ask     string `json:"ask,omitzero"`
	Text    string `json:"text,omitzero"`
	Verdict string `json:"verdict,omitzero"`
	Slip    string `json:"slip,omitzero"`
}

// events returns what was done, as far as it is of a size that can have been done.
func (r *SharedTryRequest) events() ([]answer.Event, error) {
	if len(r.Events) > answer.MaxEvents {
		return nil, problem.TooMany("/events", "there are more events", answer.MaxEvents, "begin anew")
	}
	events := make([]answer.Event, len(r.Events))
	for i, e := range r.Events {
		for _, field := range [][2]string{{"kind", e.Kind}, {"ask", e.Ask}, {"text", e.Text}, {"verdict", e.Verdict}, {"slip", e.Slip}} {
			if n := len(field[1]); n > answer.MaxAnswer {
				return nil, problem.TooMany(problem.Pointer("events", i, field[0]), fmt.Sprintf("it has %d bytes", n), answer.MaxAnswer,
					"shorten it")
			}
		}
		events[i] = answer.Event(e)
	}
	return events, nil
}

// tryShared judges an attempt at a shared problem. The last event may be new; those before it stood in an earlier request.
func (s *server) tryShared(c *echo.Context, id uuid.UUID) error {
	var request SharedTryRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	events, err := request.events()
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	t := &trial{}
	if t.state, err = s.state(ctx, id); err != nil {
		return err
	}
	if err := t.need(request.Version, request.DataVersion); err != nil {
		return err
	}
	end, err := s.lay(ctx, t, events[:max(0, len(events)-1)])
	if err != nil {
		return err
	}
	defer end()
	sheet := t.now
	if len(events) > 0 {
		if sheet, err = t.attempt.Add(t.turned, t.now, events); err != nil {
			return err
		}
	}
	if request.Rows == nil {
		answered := t.sheet(sheet)
		answered.Events = len(events)
		return exchange.Write(c, http.StatusOK, answered)
	}
	page, err := request.Rows.page(sheet.Solution)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, page)
}

// sharedRoutes adds what whoever has a link may ask.
func (s *server) sharedRoutes(route func(method, path string, handle echo.HandlerFunc)) {
	route("GET", "/shared/:token", s.linked(s.getShared))
	route("POST", "/shared/:token/copy", s.linked(s.copyShared))
	for _, each := range []struct {
		method, path string
		handle       func(c *echo.Context, id uuid.UUID) error
	}{
		{"GET", "/problem", s.getProblem},
		{"POST", "/work", s.workProblem},
		{"POST", "/power", s.powerOfProblem},
		{"POST", "/try", s.tryShared},
		{"GET", "/paper", s.paperOfProblem},
		{"GET", "/file", s.exportProblem},
		{"GET", "/data-set", s.getDataSet},
		{"GET", "/check", s.checkDataSet},
		{"GET", "/cells", s.getCells},
		{"POST", "/look", s.lookAtDataSet},
		{"GET", "/data-file", s.exportDataSet},
	} {
		route(each.method, "/shared/:token"+each.path, s.byLink(each.handle))
	}
}

// openByLink are the paths that need nobody who has a link.
var openByLink = []string{
	"/api/shared/:token", "/api/shared/:token/problem", "/api/shared/:token/work", "/api/shared/:token/power", "/api/shared/:token/try",
	"/api/shared/:token/paper", "/api/shared/:token/file", "/api/shared/:token/simulation", "/api/shared/:token/data-set",
	"/api/shared/:token/check", "/api/shared/:token/cells", "/api/shared/:token/look", "/api/shared/:token/data-file",
}
