package server

import (
	"context"
	"io"
	"net/http"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/mask"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
	"grund/internal/turns"
	"grund/internal/working"
)

// WorkRequest asks for the solution with some settings changed, as far as its first Steps steps
// where that is not 0, or, with Table, for a further page of that table's rows, those that pass
// Where if it is given, in the order of a column where Sort names one; with Ref for the page that
// begins with the row of that cell. Where the versions are given, the answer is of them or 409.
type WorkRequest struct {
	Version     int64           `json:"version,omitzero"`
	DataVersion int64           `json:"data_version,omitzero"`
	Set         []problem.Set   `json:"set"`
	Steps       int             `json:"steps,omitzero"`
	Table       string          `json:"table,omitzero"`
	From        int             `json:"from,omitzero"`
	Ref         working.Ref     `json:"ref,omitzero"`
	Sort        string          `json:"sort,omitzero"`
	Descending  bool            `json:"descending,omitzero"`
	Signed      bool            `json:"signed,omitzero"` // numbers that are drawn as bars by their sign, not by their size
	Where       *working.Filter `json:"where,omitzero"`
}

// Worked is a solution and the versions that it was worked from.
type Worked struct {
	Version     int64            `json:"version"`
	DataVersion int64            `json:"data_version"`
	Solution    working.Solution `json:"solution"`
}

// SettingsRequest keeps settings that live controls changed, and asks for the solution as far as
// its first Steps steps, all where that is 0.
type SettingsRequest struct {
	Version int64         `json:"version"`
	Set     []problem.Set `json:"set"`
	Steps   int           `json:"steps,omitzero"`
}

// Settled answers a write of settings: the problem that it wrote, and the solution of it or why
// there is none.
type Settled struct {
	Problem  Problem           `json:"problem"`
	Solution *working.Solution `json:"solution"`
	Failure  *exchange.Failure `json:"failure"`
}

// SimulationRequest asks for a simulation with some settings changed.
type SimulationRequest struct {
	Version     int64         `json:"version,omitzero"`
	DataVersion int64         `json:"data_version,omitzero"`
	Set         []problem.Set `json:"set"`
}

// PowerRequest asks for the power of the test with some settings changed.
type PowerRequest struct {
	Version     int64                 `json:"version,omitzero"`
	DataVersion int64                 `json:"data_version,omitzero"`
	Set         []problem.Set         `json:"set"`
	Question    working.PowerQuestion `json:"question"`
}

// changed returns the problem of a state with some settings changed, as it will be once they are
// kept: cases that the draft leaves out by a condition stay left out.
func (st *state) changed(changes []problem.Set) (*problem.Problem, error) {
	p, err := st.problem.Draft.Problem(st.given)
	if err != nil || len(changes) == 0 {
		return p, err
	}
	if p, err = applied(p, changes); err != nil {
		return nil, err
	}
	draft := *st.problem.Draft
	draft.Take(p, st.given)
	return draft.Problem(st.given)
}

// applied returns a problem with the changes made. Another procedure takes over what it knows of
// the problem; what is set before it is set for the one before.
func applied(p *problem.Problem, changes []problem.Set) (*problem.Problem, error) {
	for {
		at := slices.IndexFunc(changes, func(c problem.Set) bool { return c.Pointer == "/procedure" })
		if at < 0 {
			return problem.Apply(p, changes)
		}
		var err error
		if p, err = problem.Apply(p, changes[:at]); err != nil {
			return nil, err
		}
		id, _ := changes[at].Value.(string)
		if p, err = procedure.Carry(p, id); err != nil {
			return nil, problem.Errors{{Pointer: "/procedure", Says: err.Error()}}
		}
		changes = changes[at+1:]
	}
}

// changed returns a kept problem with some settings changed, and the state that it is of: that of
// the versions, where they are given.
func (s *server) changed(
	ctx context.Context, id uuid.UUID, version, dataVersion int64, changes []problem.Set,
) (*problem.Problem, *state, error) {
	st, err := s.state(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	if err := st.need(version, dataVersion); err != nil {
		return nil, nil, err
	}
	p, err := st.changed(changes)
	return p, st, err
}

// upTo returns the solution as it goes to the browser, as far as its first steps; all where that
// is 0.
func upTo(s *working.Solution, steps int) *working.Solution {
	if steps > 0 {
		s = mask.UpTo(s, steps)
	}
	return s.FirstPage()
}

// patchSettings keeps what the live controls set, and works the problem.
func (s *server) patchSettings(c *echo.Context, id uuid.UUID) error {
	var request SettingsRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx := c.Request().Context()
	st, err := s.state(ctx, id)
	if err != nil {
		return err
	}
	if request.Version != st.problem.Version {
		return &store.StaleError{What: "problem", Current: st.problem.Version, UpdatedAt: st.problem.UpdatedAt}
	}
	p, err := st.changed(request.Set)
	if err != nil {
		return st.problem.Draft.Located(st.given, err)
	}
	ready, err := procedure.Read(p)
	if err != nil {
		return st.problem.Draft.Located(st.given, err)
	}
	st.problem.Draft.Take(p, st.given)
	written, err := s.store.UpdateProblem(ctx, people.Who(c), id, request.Version, st.problem.Draft, nil)
	if err != nil {
		return err
	}
	st.problem.Version, st.problem.UpdatedAt = written.Version, written.UpdatedAt
	settled := Settled{Problem: *st.described(problem.Errors{})} // it was checked just now
	// The settings are kept whatever comes of the work.
	turned, end := s.turns.Context(ctx, turns.Free)
	defer end()
	switch solution, err := ready.Work(turned); {
	case err != nil:
		failure := loggedFailure(c, st.problem.Draft.Located(st.given, err))
		settled.Failure = &failure
	default:
		settled.Solution = upTo(solution, request.Steps)
	}
	return exchange.Write(c, http.StatusOK, settled)
}

func (s *server) workProblem(c *echo.Context, id uuid.UUID) error {
	var request WorkRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	p, st, err := s.changed(c.Request().Context(), id, request.Version, request.DataVersion, request.Set)
	if err != nil {
		return err
	}
	solution, err := s.work(c.Request().Context(), p)
	if err != nil {
		return st.problem.Draft.Located(st.given, err)
	}
	if request.Table == "" {
		return exchange.Write(c, http.StatusOK, Worked{st.problem.Version, st.data.Version, *upTo(solution, request.Steps)})
	}
	page, err := request.page(solution)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, page)
}

// page returns the page of a table that is asked for.
func (r *WorkRequest) page(solution *working.Solution) (*working.Table, error) {
	if r.Steps > 0 {
		solution = mask.UpTo(solution, r.Steps)
	}
	table := solution.Table(r.Table)
	if table == nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, "The solution has no such table.")
	}
	if r.Where != nil {
		table = table.Where(*r.Where)
	}
	if table != nil && r.Sort != "" {
		table = table.Sorted(r.Sort, r.Descending, r.Signed)
	}
	if table == nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, "The table has no such column.")
	}
	from := r.From
	if r.Ref != "" {
		if from = table.Place(r.Ref); from < 0 {
			return nil, echo.NewHTTPError(http.StatusNotFound, "The table has no such row.")
		}
	}
	return table.Page(from), nil
}

// jsonLines is the media type of lines of JSON. An exchange.Failure as the last line says why there are no
// more.
const jsonLines = "application/x-ndjson"

// simulateProblem draws samples under H₀ and sends a line of JSON each time it tells how
// far it is. It stops when nobody listens any more.
func (s *server) simulateProblem(c *echo.Context, id uuid.UUID) error {
	var request SimulationRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, st, err := s.changed(ctx, id, request.Version, request.DataVersion, request.Set)
	if err != nil {
		return err
	}
	turned, end := s.turns.Context(ctx, 0)
	defer end()
	begun := false
	controller := http.NewResponseController(c.Response())
	err = procedure.Simulate(turned, p, func(s *working.Simulation) error {
		if !begun {
			c.Response().Header().Set(echo.HeaderContentType, jsonLines)
			c.Response().WriteHeader(http.StatusOK)
			begun = true
		}
		if err := json.MarshalWrite(c.Response(), s); err != nil {
			return err
		}
		if _, err := io.WriteString(c.Response(), "\n"); err != nil {
			return err
		}
		return controller.Flush()
	})
	return st.problem.Draft.Located(st.given, err)
}

// powerOfProblem says how the problem's test does where something stated is true.
func (s *server) powerOfProblem(c *echo.Context, id uuid.UUID) error {
	var request PowerRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	p, _, err := s.changed(c.Request().Context(), id, request.Version, request.DataVersion, request.Set)
	if err != nil {
		return err
	}
	turned, end := s.turns.Context(c.Request().Context(), turns.Free)
	defer end()
	power, err := procedure.Power(turned, p, request.Question)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, power)
}
