package server

import (
	"net/http"
	"strconv"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/demo"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
	"grund/internal/words"
)

// Listing is a problem as it stands in the list.
type Listing struct {
	ID             string    `json:"id"`
	Version        int64     `json:"version"`
	Title          string    `json:"title"`
	Question       string    `json:"question"`
	ProcedureTitle string    `json:"procedure_title"`
	Demo           bool      `json:"demo"`
	DataSet        string    `json:"data_set"` // id of the data set that it is about
	UpdatedAt      time.Time `json:"updated_at"`
	Shared         bool      `json:"shared,omitzero"` // by a link
}

// Problem is a kept problem with what still has to be mended in it.
type Problem struct {
	ID string `json:"id"`
	// Shared says that it is another's, seen by a link: the id is that of the link.
	Shared    bool           `json:"shared,omitzero"`
	Version   int64          `json:"version"`
	Demo      bool           `json:"demo"`
	UpdatedAt time.Time      `json:"updated_at"`
	Draft     *problem.Draft `json:"draft"`
	DataSet   string         `json:"data_set"` // id of the data set that it is about
	// DataVersion changes with the data set.
	DataVersion int64          `json:"data_version"`
	DataName    string         `json:"data_name"`
	Mistakes    problem.Errors `json:"mistakes"`
}

// Saved answers a write of a problem, or a look at it: what has to be mended in the state with these
// versions.
type Saved struct {
	Version     int64          `json:"version"`
	DataVersion int64          `json:"data_version"`
	Mistakes    problem.Errors `json:"mistakes"`
}

// CreateRequest begins a problem: about a data set, by a procedure, with roles, as
// far as these are given.
type CreateRequest struct {
	DataSet   *uuid.UUID    `json:"data_set,omitzero"`
	Procedure string        `json:"procedure,omitzero"`
	Roles     problem.Roles `json:"roles,omitempty"`
	// Decimals are those that the person's problems begin with.
	Decimals *problem.Decimals `json:"decimals,omitzero"`
}

// PutRequest replaces the draft of a problem that is still at Version, and, where
// it is given, the data set that it is about.
type PutRequest struct {
	Version int64          `json:"version"`
	Draft   *problem.Draft `json:"draft"`
	DataSet *uuid.UUID     `json:"data_set,omitzero"`
}

// VersionRequest names the version that a write is based on.
type VersionRequest struct {
	Version int64 `json:"version"`
}

// versionGiven returns the version that a write without other contents names, in the query or in the
// body; 0 where there is none.
func versionGiven(c *echo.Context) (int64, error) {
	if text := c.QueryParam("version"); text != "" {
		version, err := strconv.ParseInt(text, 10, 64)
		if err != nil || version < 1 {
			return 0, problem.Errors{{Pointer: "/version", Says: "the version is “" + words.Shorten(text) + "”",
				Instead: "give the whole number that came with what was read"}}
		}
		return version, nil
	}
	var request VersionRequest
	if c.Request().ContentLength == 0 {
		return 0, nil
	}
	err := exchange.Read(c, &request)
	return request.Version, err
}

// versionNeeded is versionGiven for a write that would put something else in the place of what a
// person made.
func versionNeeded(c *echo.Context) (int64, error) {
	version, err := versionGiven(c)
	if err == nil && version == 0 {
		err = problem.Errors{{Pointer: "/version", Says: "the version is missing", Instead: "give the one that is to be replaced"}}
	}
	return version, err
}

// describe returns the problem as it is sent.
func (st *state) describe() (*Problem, error) {
	wrong, err := st.mistakes()
	if err != nil {
		return nil, err
	}
	return st.described(wrong), nil
}

// described returns the problem as it is sent, with what is wrong in it.
func (st *state) described(wrong problem.Errors) *Problem {
	p, d := st.problem, st.data
	described := &Problem{
		ID: p.ID.String(), Version: p.Version, Demo: p.Demo != "", UpdatedAt: p.UpdatedAt, Draft: p.Draft,
		DataSet: d.ID.String(), DataVersion: d.Version, DataName: st.given.Set.Name, Mistakes: wrong,
	}
	if st.link != "" {
		described.ID, described.Shared, described.Demo, described.DataSet = st.link, true, false, ""
	}
	return described
}

// answer sends a problem as it is in the state.
func (st *state) answer(c *echo.Context, status int) error {
	described, err := st.describe()
	if err != nil {
		return err
	}
	return exchange.Write(c, status, described)
}

// answerWritten sends a problem that was just written, with its data as they are now.
func (s *server) answerWritten(c *echo.Context, status int, p *store.Problem) error {
	st, err := s.around(c.Request().Context(), p)
	if err != nil {
		return err
	}
	return st.answer(c, status)
}

func (s *server) listProblems(c *echo.Context) error {
	from, err := exchange.PageFrom(c)
	if err != nil {
		return err
	}
	list, more, err := s.store.Problems(c.Request().Context(), people.Who(c), from)
	if err != nil {
		return err
	}
	if more {
		exchange.LinkNext(c, from+len(list))
	}
	out := make([]Listing, len(list))
	for i, l := range list {
		question := problem.QuestionWith(l.Question, func(string) (string, bool) { return "…", true }) // it is not worked here
		out[i] = Listing{
			ID: l.ID.String(), Version: l.Version, Title: l.Title, Question: question, ProcedureTitle: l.Procedure, Demo: l.Demo != "",
			DataSet: l.DataSet.String(), UpdatedAt: l.UpdatedAt, Shared: l.Shared,
		}
		if p := procedure.Find(l.Procedure); p != nil {
			out[i].ProcedureTitle = p.Title
		}
	}
	return exchange.Write(c, http.StatusOK, out)
}

func (s *server) createProblem(c *echo.Context) error {
	var request CreateRequest
	if c.Request().ContentLength != 0 {
		if err := exchange.Read(c, &request); err != nil {
			return err
		}
	}
	draft := problem.NewDraft()
	if request.Procedure != "" {
		draft.Procedure = request.Procedure
	}
	if request.Roles != nil {
		draft.Roles = request.Roles
	}
	if err := request.Decimals.Check(); err != nil {
		return err
	}
	draft.Decimals = request.Decimals
	ctx := c.Request().Context()
	if request.DataSet == nil {
		d, err := s.store.CreateDataSet(ctx, people.Who(c), problem.NewSet(), "")
		if err != nil {
			return err
		}
		request.DataSet = &d.ID
	}
	p, err := s.store.CreateProblem(ctx, people.Who(c), draft, *request.DataSet, "")
	if err != nil {
		return err
	}
	return s.answerWritten(c, http.StatusCreated, p)
}

func (s *server) getProblem(c *echo.Context, id uuid.UUID) error {
	st, err := s.state(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return st.answer(c, http.StatusOK)
}

func (s *server) putProblem(c *echo.Context, id uuid.UUID) error {
	var request PutRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if request.Draft == nil {
		return problem.Errors{{Pointer: "/draft", Says: "the draft is missing", Instead: "send all of it"}}
	}
	ctx := c.Request().Context()
	written, err := s.store.UpdateProblem(ctx, people.Who(c), id, request.Version, request.Draft, request.DataSet)
	if err != nil {
		return err
	}
	st, err := s.state(ctx, id)
	if err != nil {
		return err
	}
	// Another write may have come meanwhile: what is said here is said of this one.
	st.problem.Version, st.problem.UpdatedAt, st.problem.Draft = written.Version, written.UpdatedAt, request.Draft
	return st.answerMistakes(c)
}

// checkProblem says what still has to be mended.
func (s *server) checkProblem(c *echo.Context, id uuid.UUID) error {
	st, err := s.state(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return st.answerMistakes(c)
}

func (st *state) answerMistakes(c *echo.Context) error {
	wrong, err := st.mistakes()
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, Saved{st.problem.Version, st.data.Version, wrong})
}

func (s *server) deleteProblem(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	if err := s.store.DeleteProblem(c.Request().Context(), people.Who(c), id, version); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *server) restoreProblem(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	if err := s.store.RestoreProblem(c.Request().Context(), people.Who(c), id, version); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// duplicateProblem keeps a second problem about the same data set.
func (s *server) duplicateProblem(c *echo.Context, id uuid.UUID) error {
	p, err := s.store.Problem(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	if p.Draft.Title != "" {
		p.Draft.Title += " (copy)"
	}
	twin, err := s.store.CreateProblem(c.Request().Context(), people.Who(c), p.Draft, p.DataSet, "")
	if err != nil {
		return err
	}
	return s.answerWritten(c, http.StatusCreated, twin)
}

// resetProblem brings a demo problem, and the demo data set that it is about, back
// to what they were at first.
func (s *server) resetProblem(c *echo.Context, id uuid.UUID) error {
	version, err := versionNeeded(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, err := s.store.Problem(ctx, people.Who(c), id)
	if err != nil {
		return err
	}
	file := demo.File(p.Demo)
	if file == nil {
		return echo.NewHTTPError(http.StatusBadRequest, "Only a demo problem can be reset.")
	}
	first, err := incoming(file)
	if err != nil {
		return err
	}
	p.Draft = first.Draft
	set, err := demo.DataSet(demo.SetOf(p.Demo))
	if err != nil {
		return err
	}
	if p.DataSet, err = s.store.DemoDataSet(ctx, people.Who(c), demo.SetOf(p.Demo)); err != nil {
		return err
	}
	written, err := s.store.ResetProblem(ctx, people.Who(c), id, version, p.Draft, p.DataSet, set)
	if err != nil {
		return err
	}
	p.Version, p.UpdatedAt = written.Version, written.UpdatedAt
	return s.answerWritten(c, http.StatusOK, p)
}
