package server

import (
	"bytes"
	"context"
	"io"
	"mime"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/demo"
	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
	"grund/internal/working"
)

// Listing is a problem as it stands in the list.
type Listing struct {
	ID             string    `json:"id"`
	Title          string    `json:"title"`
	Question       string    `json:"question"`
	ProcedureTitle string    `json:"procedure_title"`
	Demo           bool      `json:"demo"`
	DataSet        string    `json:"data_set"` // id of the data set that it is about
	UpdatedAt      time.Time `json:"updated_at"`
}

// Problem is a kept problem with what still has to be mended in it.
type Problem struct {
	ID        string         `json:"id"`
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

// Saved answers a write.
type Saved struct {
	Version  int64          `json:"version"`
	Mistakes problem.Errors `json:"mistakes"`
}

// CreateRequest begins a problem: about a data set, by a procedure, with roles, as
// far as these are given.
type CreateRequest struct {
	DataSet   *uuid.UUID    `json:"data_set,omitzero"`
	Procedure string        `json:"procedure,omitzero"`
	Roles     problem.Roles `json:"roles,omitempty"`
}

// PutRequest replaces the draft of a problem that is still at Version, and, where
// it is given, the data set that it is about.
type PutRequest struct {
	Version int64          `json:"version"`
	Draft   *problem.Draft `json:"draft"`
	DataSet *uuid.UUID     `json:"data_set,omitzero"`
}

// SettingsRequest keeps settings that live controls changed.
type SettingsRequest struct {
	Version int64         `json:"version"`
	Set     []problem.Set `json:"set"`
}

// WorkRequest asks for the solution with some settings changed, or, with Table,
// for a further page of that table's rows, those that pass Where if it is given, in the
// order of a column where Sort names one; with Ref for the page that begins with the row of
// that cell.
type WorkRequest struct {
	Set        []problem.Set   `json:"set"`
	Table      string          `json:"table,omitzero"`
	From       int             `json:"from,omitzero"`
	Ref        working.Ref     `json:"ref,omitzero"`
	Sort       string          `json:"sort,omitzero"`
	Descending bool            `json:"descending,omitzero"`
	Where      *working.Filter `json:"where,omitzero"`
}

// SimulationRequest asks for a simulation with some settings changed.
type SimulationRequest struct {
	Set []problem.Set `json:"set"`
}

// PowerRequest asks for the power of the test with some settings changed.
type PowerRequest struct {
	Set      []problem.Set         `json:"set"`
	Question working.PowerQuestion `json:"question"`
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

// mistakes returns what has to be mended in the draft and the data set before the
// problem can be worked.
func mistakes(d *problem.Draft, set *data.Set) (problem.Errors, error) {
	p, err := d.Problem(set)
	if err == nil {
		err = procedure.Check(p)
	}
	if errs, ok := err.(problem.Errors); ok {
		return d.Locate(set, errs), nil
	}
	return problem.Errors{}, err
}

func (s *server) answer(c *echo.Context, status int, p *store.Problem) error {
	d, err := s.store.DataSet(c.Request().Context(), store.Local, p.DataSet)
	if err != nil {
		return err
	}
	wrong, err := mistakes(p.Draft, d.Set)
	if err != nil {
		return err
	}
	return writeJSON(c, status, Problem{p.ID.String(), p.Version, p.Demo != "", p.UpdatedAt, p.Draft, d.ID.String(), d.Version, d.Set.Name,
		wrong})
}

// withData returns a problem and its data set.
func (s *server) withData(ctx context.Context, id uuid.UUID) (*store.Problem, *data.Set, error) {
	p, err := s.store.Problem(ctx, store.Local, id)
	if err != nil {
		return nil, nil, err
	}
	d, err := s.store.DataSet(ctx, store.Local, p.DataSet)
	if err != nil {
		return nil, nil, err
	}
	return p, d.Set, nil
}

func (s *server) listProblems(c *echo.Context) error {
	list, err := s.store.Problems(c.Request().Context(), store.Local)
	if err != nil {
		return err
	}
	out := make([]Listing, len(list))
	for i, l := range list {
		out[i] = Listing{l.ID.String(), l.Title, l.Question, l.Procedure, l.Demo != "", l.DataSet.String(), l.UpdatedAt}
		if p := procedure.Find(l.Procedure); p != nil {
			out[i].ProcedureTitle = p.Title
		}
	}
	return writeJSON(c, http.StatusOK, out)
}

func (s *server) createProblem(c *echo.Context) error {
	var request CreateRequest
	if c.Request().ContentLength != 0 {
		if err := readJSON(c, &request); err != nil {
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
	ctx := c.Request().Context()
	if request.DataSet == nil {
		d, err := s.store.CreateDataSet(ctx, store.Local, problem.NewSet(), "")
		if err != nil {
			return err
		}
		request.DataSet = &d.ID
	}
	p, err := s.store.CreateProblem(ctx, store.Local, draft, *request.DataSet, "")
	if err != nil {
		return err
	}
	return s.answer(c, http.StatusCreated, p)
}

// importProblem keeps the problem that a problem file holds, and its data set.
func (s *server) importProblem(c *echo.Context) error {
	file, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	draft, set, err := draftOfFile(file)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	d, err := s.store.CreateDataSet(ctx, store.Local, set, "")
	if err != nil {
		return err
	}
	p, err := s.store.CreateProblem(ctx, store.Local, draft, d.ID, "")
	if err != nil {
		return err
	}
	return s.answer(c, http.StatusCreated, p)
}

func draftOfFile(file []byte) (*problem.Draft, *data.Set, error) {
	p, err := problem.Parse(file)
	if err != nil {
		return nil, nil, err
	}
	return problem.DraftOf(p)
}

func (s *server) getProblem(c *echo.Context, id uuid.UUID) error {
	p, err := s.store.Problem(c.Request().Context(), store.Local, id)
	if err != nil {
		return err
	}
	return s.answer(c, http.StatusOK, p)
}

func (s *server) putProblem(c *echo.Context, id uuid.UUID) error {
	var request PutRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	if request.Draft == nil {
		return problem.Errors{{Pointer: "/draft", Says: "the draft is missing", Instead: "send all of it"}}
	}
	ctx := c.Request().Context()
	if _, err := s.store.UpdateProblem(ctx, store.Local, id, request.Version, request.Draft, request.DataSet); err != nil {
		return err
	}
	return s.checkProblem(c, id)
}

// checkProblem says what still has to be mended.
func (s *server) checkProblem(c *echo.Context, id uuid.UUID) error {
	p, set, err := s.withData(c.Request().Context(), id)
	if err != nil {
		return err
	}
	wrong, err := mistakes(p.Draft, set)
	if err != nil {
		return err
	}
	return writeJSON(c, http.StatusOK, Saved{p.Version, wrong})
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

// duplicateProblem keeps a second problem about the same data set.
func (s *server) duplicateProblem(c *echo.Context, id uuid.UUID) error {
	p, err := s.store.Problem(c.Request().Context(), store.Local, id)
	if err != nil {
		return err
	}
	if p.Draft.Title != "" {
		p.Draft.Title += " (copy)"
	}
	twin, err := s.store.CreateProblem(c.Request().Context(), store.Local, p.Draft, p.DataSet, "")
	if err != nil {
		return err
	}
	return s.answer(c, http.StatusCreated, twin)
}

// resetProblem brings a demo problem, and the demo data set that it is about, back
// to what they were at first.
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
	if p.Draft, _, err = draftOfFile(file); err != nil {
		return err
	}
	set, err := demo.DataSet(demo.SetOf(p.Demo))
	if err != nil {
		return err
	}
	if p.DataSet, err = s.store.DemoDataSet(ctx, store.Local, demo.SetOf(p.Demo)); err != nil {
		return err
	}
	if err := s.store.ReplaceDataSet(ctx, store.Local, p.DataSet, set); err != nil {
		return err
	}
	if p.Version, err = s.store.UpdateProblem(ctx, store.Local, id, p.Version, p.Draft, &p.DataSet); err != nil {
		return err
	}
	return s.answer(c, http.StatusOK, p)
}

// patchSettings keeps what the live controls set.
func (s *server) patchSettings(c *echo.Context, id uuid.UUID) error {
	var request SettingsRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	ctx := c.Request().Context()
	kept, set, err := s.withData(ctx, id)
	if err != nil {
		return err
	}
	changed, err := changedProblem(kept.Draft, set, request.Set)
	if err != nil {
		return err
	}
	kept.Draft.Take(changed, set)
	version, err := s.store.UpdateProblem(ctx, store.Local, id, request.Version, kept.Draft, nil)
	if err != nil {
		return err
	}
	return writeJSON(c, http.StatusOK, Saved{version, problem.Errors{}})
}

func changedProblem(d *problem.Draft, set *data.Set, changes []problem.Set) (*problem.Problem, error) {
	p, err := d.Problem(set)
	if err != nil {
		return nil, err
	}
	// Another procedure takes over what it knows of the problem; what is set before it
	// is set for the one before.
	for len(changes) > 0 {
		at := slices.IndexFunc(changes, func(c problem.Set) bool { return c.Pointer == "/procedure" })
		if at < 0 {
			return problem.Apply(p, changes)
		}
		if p, err = problem.Apply(p, changes[:at]); err != nil {
			return nil, err
		}
		id, _ := changes[at].Value.(string)
		if p, err = procedure.Carry(p, id); err != nil {
			return nil, problem.Errors{{Pointer: "/procedure", Says: err.Error()}}
		}
		changes = changes[at+1:]
	}
	return p, nil
}

// changed returns a kept problem with some settings changed, and what it was made of.
func (s *server) changed(ctx context.Context, id uuid.UUID, changes []problem.Set) (*problem.Problem, *store.Problem, *data.Set, error) {
	kept, set, err := s.withData(ctx, id)
	if err != nil {
		return nil, nil, nil, err
	}
	p, err := changedProblem(kept.Draft, set, changes)
	return p, kept, set, err
}

func (s *server) workProblem(c *echo.Context, id uuid.UUID) error {
	var request WorkRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	p, kept, set, err := s.changed(c.Request().Context(), id, request.Set)
	if err != nil {
		return err
	}
	solution, err := procedure.Work(c.Request().Context(), p)
	if err != nil {
		return kept.Draft.Located(set, err)
	}
	if request.Table == "" {
		return writeJSON(c, http.StatusOK, solution.FirstPage())
	}
	table := solution.Table(request.Table)
	if table == nil {
		return echo.NewHTTPError(http.StatusNotFound, "The solution has no such table.")
	}
	if request.Where != nil {
		table = table.Where(*request.Where)
	}
	if table != nil && request.Sort != "" {
		table = table.Sorted(request.Sort, request.Descending)
	}
	if table == nil {
		return echo.NewHTTPError(http.StatusNotFound, "The table has no such column.")
	}
	from := request.From
	if request.Ref != "" {
		if from = table.Place(request.Ref); from < 0 {
			return echo.NewHTTPError(http.StatusNotFound, "The table has no such row.")
		}
	}
	return writeJSON(c, http.StatusOK, table.Page(from))
}

// jsonLines is the media type of lines of JSON. A Failure as the last line says why there are no
// more.
const jsonLines = "application/x-ndjson"

// simulateProblem draws samples under H₀ and sends a line of JSON each time it tells how
// far it is. It stops when nobody listens any more.
func (s *server) simulateProblem(c *echo.Context, id uuid.UUID) error {
	var request SimulationRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, kept, set, err := s.changed(ctx, id, request.Set)
	if err != nil {
		return err
	}
	begun := false
	controller := http.NewResponseController(c.Response())
	err = procedure.Simulate(ctx, p, func(s *working.Simulation) error {
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
	return kept.Draft.Located(set, err)
}

// powerOfProblem says how the problem's test does where something stated is true.
func (s *server) powerOfProblem(c *echo.Context, id uuid.UUID) error {
	var request PowerRequest
	if err := readJSON(c, &request); err != nil {
		return err
	}
	p, _, _, err := s.changed(c.Request().Context(), id, request.Set)
	if err != nil {
		return err
	}
	power, err := procedure.Power(c.Request().Context(), p, request.Question)
	if err != nil {
		return err
	}
	return writeJSON(c, http.StatusOK, power)
}

// exportProblem sends the problem file, with its data in it.
func (s *server) exportProblem(c *echo.Context, id uuid.UUID) error {
	kept, set, err := s.withData(c.Request().Context(), id)
	if err != nil {
		return err
	}
	p, err := kept.Draft.Problem(set)
	if err != nil {
		return err
	}
	file, err := problem.Encode(p)
	if err != nil {
		return err
	}
	c.Response().Header().Set(echo.HeaderContentDisposition, attachment(p.Title, "json"))
	return c.Stream(http.StatusOK, "application/json", bytes.NewReader(file))
}

// attachment is the header that makes an answer a file, called by a title.
func attachment(title, extension string) string {
	name := strings.TrimSpace(strings.NewReplacer("/", "-", "\\", "-").Replace(title))
	if name == "" {
		name = "untitled"
	}
	return mime.FormatMediaType("attachment", map[string]string{"filename": name + "." + extension})
}
