package server

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"
	"unicode"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/demo"
	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
)

// Listing is a problem as it stands in the list.
type Listing struct {
	ID             string    `json:"id"`
	Title          string    `json:"title"`
	Question       string    `json:"question"`
	ProcedureTitle string    `json:"procedure_title"`
	Demo           bool      `json:"demo"`
	UpdatedAt      time.Time `json:"updated_at"`
}

// Problem is a kept problem with what still has to be mended in it.
type Problem struct {
	ID        string         `json:"id"`
	Version   int64          `json:"version"`
	Demo      bool           `json:"demo"`
	UpdatedAt time.Time      `json:"updated_at"`
	Draft     *problem.Draft `json:"draft"`
	Kinds     []data.Kind    `json:"kinds"` // of the draft's columns, guessed where not said
	Mistakes  problem.Errors `json:"mistakes"`
}

// Saved answers a write.
type Saved struct {
	Version  int64          `json:"version"`
	Kinds    []data.Kind    `json:"kinds"`
	Mistakes problem.Errors `json:"mistakes"`
}

// PutRequest replaces the draft of a problem that is still at Version.
type PutRequest struct {
	Version int64          `json:"version"`
	Draft   *problem.Draft `json:"draft"`
}

// SettingsRequest keeps settings that live controls changed.
type SettingsRequest struct {
	Version int64         `json:"version"`
	Set     []problem.Set `json:"set"`
}

// WorkRequest asks for the solution with some settings changed, or, with Table,
// for a further page of that table's rows.
type WorkRequest struct {
	Set   []problem.Set `json:"set"`
	Table string        `json:"table,omitzero"`
	From  int           `json:"from,omitzero"`
}

// withID hands the problem's id in the path to a handler.
func withID(handle func(c *echo.Context, id uuid.UUID) error) echo.HandlerFunc {
	return func(c *echo.Context) error {
		id, err := uuid.Parse(c.Param("id"))
		if err != nil {
			return store.ErrNotFound
		}
		return handle(c, id)
	}
}

// mistakes returns what has to be mended in the draft before it can be worked.
func mistakes(d *problem.Draft) (problem.Errors, error) {
	p, err := d.Problem()
	if err == nil {
		_, err = procedure.Work(p)
	}
	if errs, ok := err.(problem.Errors); ok {
		return d.Locate(errs), nil
	}
	return problem.Errors{}, err
}

func answer(c *echo.Context, status int, p *store.Problem) error {
	wrong, err := mistakes(p.Draft)
	if err != nil {
		return err
	}
	return writeJSON(c, status, Problem{p.ID.String(), p.Version, p.Demo != "", p.UpdatedAt, p.Draft, p.Draft.Kinds(), wrong})
}

func (s *server) listProblems(c *echo.Context) error {
	list, err := s.store.Problems(c.Request().Context(), store.Local)
	if err != nil {
		return err
	}
	out := make([]Listing, len(list))
	for i, l := range list {
		out[i] = Listing{l.ID.String(), l.Title, l.Question, l.Procedure, l.Demo != "", l.UpdatedAt}
		if p := procedure.Find(l.Procedure); p != nil {
			out[i].ProcedureTitle = p.Title
		}
	}
	return writeJSON(c, http.StatusOK, out)
}

func (s *server) createProblem(c *echo.Context) error {
	p, err := s.store.CreateProblem(c.Request().Context(), store.Local, problem.NewDraft(), "")
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, p)
}

// importProblem keeps the problem that a problem file holds.
func (s *server) importProblem(c *echo.Context) error {
	file, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	draft, err := draftOfFile(file)
	if err != nil {
		return err
	}
	p, err := s.store.CreateProblem(c.Request().Context(), store.Local, draft, "")
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, p)
}

func draftOfFile(file []byte) (*problem.Draft, error) {
	p, err := problem.Parse(file)
	if err != nil {
		return nil, err
	}
	return problem.DraftOf(p)
}

func (s *server) getProblem(c *echo.Context, id uuid.UUID) error {
	p, err := s.store.Problem(c.Request().Context(), store.Local, id)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, p)
}

func (s *server) putProblem(c *echo.Context, id uuid.UUID) error {
	var request PutRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	if request.Draft == nil {
		return problem.Errors{{Pointer: "/draft", Says: "the draft is missing", Instead: "send all of it"}}
	}
	version, err := s.store.UpdateProblem(c.Request().Context(), store.Local, id, request.Version, request.Draft)
	if err != nil {
		return err
	}
	wrong, err := mistakes(request.Draft)
	if err != nil {
		return err
	}
	return writeJSON(c, http.StatusOK, Saved{version, request.Draft.Kinds(), wrong})
}

func (s *server) deleteProblem(c *echo.Context, id uuid.UUID) error {
	if err := s.store.DeleteProblem(c.Request().Context(), store.Local, id); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *server) restoreProblem(c *echo.Context, id uuid.UUID) error {
	if err := s.store.RestoreProblem(c.Request().Context(), store.Local, id); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *server) duplicateProblem(c *echo.Context, id uuid.UUID) error {
	p, err := s.store.Problem(c.Request().Context(), store.Local, id)
	if err != nil {
		return err
	}
	if p.Draft.Title != "" {
		p.Draft.Title += " (copy)"
	}
	twin, err := s.store.CreateProblem(c.Request().Context(), store.Local, p.Draft, "")
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, twin)
}

// resetProblem brings a demo problem back to what it was at first.
func (s *server) resetProblem(c *echo.Context, id uuid.UUID) error {
	ctx := c.Request().Context()
	p, err := s.store.Problem(ctx, store.Local, id)
	if err != nil {
		return err
	}
	file := demo.File(p.Demo)
	if file == nil {
		return echo.NewHTTPError(http.StatusBadRequest, "Only a demo problem can be reset.")
	}
	if p.Draft, err = draftOfFile(file); err != nil {
		return err
	}
	if p.Version, err = s.store.UpdateProblem(ctx, store.Local, id, p.Version, p.Draft); err != nil {
		return err
	}
	return answer(c, http.StatusOK, p)
}

// patchSettings keeps what the live controls set.
func (s *server) patchSettings(c *echo.Context, id uuid.UUID) error {
	var request SettingsRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	ctx := c.Request().Context()
	kept, err := s.store.Problem(ctx, store.Local, id)
	if err != nil {
		return err
	}
	changed, err := changedProblem(kept.Draft, request.Set)
	if err != nil {
		return err
	}
	roles := kept.Draft.Roles
	kept.Draft.Take(changed)
	if kept.Draft.Entry != problem.EnterCases {
		kept.Draft.Roles = roles // they name variables that only the worked problem has
	}
	version, err := s.store.UpdateSettings(ctx, store.Local, id, request.Version, kept.Draft)
	if err != nil {
		return err
	}
	return writeJSON(c, http.StatusOK, Saved{version, kept.Draft.Kinds(), problem.Errors{}})
}

func changedProblem(d *problem.Draft, set []problem.Set) (*problem.Problem, error) {
	p, err := d.Problem()
	if err != nil {
		return nil, err
	}
	return problem.Apply(p, set)
}

func (s *server) workProblem(c *echo.Context, id uuid.UUID) error {
	var request WorkRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	kept, err := s.store.Problem(c.Request().Context(), store.Local, id)
	if err != nil {
		return err
	}
	p, err := changedProblem(kept.Draft, request.Set)
	if err != nil {
		return err
	}
	solution, err := procedure.Work(p)
	if err != nil {
		if errs, ok := err.(problem.Errors); ok {
			return kept.Draft.Locate(errs)
		}
		return err
	}
	if request.Table == "" {
		return writeJSON(c, http.StatusOK, solution.FirstPage())
	}
	table := solution.Table(request.Table)
	if table == nil {
		return echo.NewHTTPError(http.StatusNotFound, "The solution has no such table.")
	}
	return writeJSON(c, http.StatusOK, table.Page(request.From))
}

// exportProblem sends the problem file.
func (s *server) exportProblem(c *echo.Context, id uuid.UUID) error {
	kept, err := s.store.Problem(c.Request().Context(), store.Local, id)
	if err != nil {
		return err
	}
	p, err := kept.Draft.Problem()
	if err != nil {
		return err
	}
	file, err := problem.Encode(p)
	if err != nil {
		return err
	}
	c.Response().Header().Set(echo.HeaderContentDisposition, fmt.Sprintf("attachment; filename=%q", fileName(p.Title)))
	return c.Stream(http.StatusOK, "application/json", bytes.NewReader(file))
}

// fileName makes a file's name of a title.
func fileName(title string) string {
	name := strings.Map(func(r rune) rune {
		switch {
		case r < 128 && (unicode.IsLetter(r) || unicode.IsDigit(r)):
			return unicode.ToLower(r)
		case unicode.IsSpace(r), r == '-':
			return '-'
		}
		return -1
	}, title)
	if name = strings.Trim(name, "-"); name == "" {
		name = "problem"
	}
	return name + ".json"
}
