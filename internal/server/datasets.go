package server

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/demo"
	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/look"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/store"
)

// DataListing is a data set as it stands in the list.
type DataListing struct {
	ID        string    `json:"id"`
	Version   int64     `json:"version"`
	Name      string    `json:"name"`
	About     string    `json:"about"`
	Rows      int       `json:"rows"`
	Columns   []string  `json:"columns"`  // names of the first ones
	Width     int       `json:"width"`    // how many there are
	Problems  int       `json:"problems"` // that use it
	Title     string    `json:"title"`    // of one of them
	Demo      bool      `json:"demo"`
	UpdatedAt time.Time `json:"updated_at"`
	Shared    bool      `json:"shared,omitzero"` // by a link
}

// KeptSet is a kept data set with its cells, as far as they make a part; the others follow from the
// place in Next on. The id of one that is seen by a link is that of the link.
type KeptSet struct {
	ID        string     `json:"id"`
	Version   int64      `json:"version"`
	Demo      bool       `json:"demo"`
	UpdatedAt time.Time  `json:"updated_at"`
	Set       *data.Set  `json:"set"`
	Next      *CellPlace `json:"next"`
}

// DataPatch changes a data set that is still at Version. Set has no cells: those
// that changed stand in Blocks.
type DataPatch struct {
	Version int64         `json:"version"`
	Set     *data.Set     `json:"set"`
	Rows    int           `json:"rows"`
	Blocks  []store.Block `json:"blocks"`
}

// DataSaved answers a write of a data set.
type DataSaved struct {
	Version int64 `json:"version"`
	// Problems are the versions, by id, of the problems about it that follow columns named anew.
	Problems map[string]int64 `json:"problems"`
}

// DataCheck is what the columns of a data set hold, what is odd or wrong in them,
// and the cells of those that are derived.
type DataCheck struct {
	Version  int64          `json:"version"`
	Keys     []int          `json:"keys"` // of the columns, in order
	Profiles []data.Profile `json:"profiles"`
	Mistakes problem.Errors `json:"mistakes"`
	Derived  []ColumnCells  `json:"derived"` // as far as they make a part
	Next     *CellPlace     `json:"next"`    // where the next part of them begins
}

// unprocessable makes an error of reading or changing data one that a person can mend.
func unprocessable(err error) error {
	var errs problem.Errors
	if err == nil || errors.As(err, &errs) || errors.Is(err, store.ErrNotFound) || errors.Is(err, context.Canceled) ||
		errors.Is(err, context.DeadlineExceeded) {
		return err
	}
	return problem.Errors{{Says: err.Error()}}
}

func (s *server) listDataSets(c *echo.Context) error {
	from, err := exchange.PageFrom(c)
	if err != nil {
		return err
	}
	list, more, err := s.store.DataSets(c.Request().Context(), people.Who(c), from)
	if err != nil {
		return err
	}
	if more {
		exchange.LinkNext(c, from+len(list))
	}
	out := make([]DataListing, len(list))
	for i, l := range list {
		out[i] = DataListing{l.ID.String(), l.Version, l.Name, l.About, l.Rows, l.Columns, l.Width, l.Problems, l.Title, l.Demo != "",
			l.UpdatedAt, l.Shared}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// answerDataSet sends a data set whose derived columns have their cells.
func answerDataSet(c *echo.Context, status int, d *store.DataSet) error {
	set, next := firstPart(d.Set)
	kept := KeptSet{ID: d.ID.String(), Version: d.Version, Demo: d.Demo != "", UpdatedAt: d.UpdatedAt, Set: set, Next: next}
	if link := linkOf(c.Request().Context()); link != "" {
		kept.ID, kept.Demo = link, false
	}
	return exchange.Write(c, status, kept)
}

// createDataSet keeps the data set in the body, or an empty one where there is none.
func (s *server) createDataSet(c *echo.Context) error {
	set := problem.NewSet()
	if c.Request().ContentLength != 0 {
		set = &data.Set{Form: data.FormCases}
		if err := exchange.Read(c, set); err != nil {
			return err
		}
		if at := slices.Index(set.Columns, nil); at >= 0 {
			return problem.Errors{{Pointer: problem.Pointer("columns", at), Says: "the column is null", Instead: "describe it, or leave it out"}}
		}
		set.AssignKeys()
	}
	d, err := s.store.CreateDataSet(c.Request().Context(), people.Who(c), set, "")
	if err != nil {
		return err
	}
	d.Set.Derive() // what cannot be derived is said by the check
	return answerDataSet(c, http.StatusCreated, d)
}

// nameOfFile returns the name of a file as that of a data set: what no text holds is left out, and what is
// too long cut.
func nameOfFile(given string) string {
	name := strings.Map(func(r rune) rune {
		if r == 0 || r == utf8.RuneError {
			return -1
		}
		return r
	}, given)
	if runes := []rune(name); len(runes) > data.MaxName {
		name = string(runes[:data.MaxName])
	}
	return name
}

// importDataSet keeps the data set that a file holds. The file is read as it comes,
// so that its length does not matter, and a request that is broken off leaves nothing.
func (s *server) importDataSet(c *echo.Context) error {
	name := nameOfFile(c.QueryParam("name"))
	ctx := c.Request().Context()
	body := bufio.NewReader(c.Request().Body)
	start, _ := body.Peek(1000)
	if err := s.room.takeForFile(ctx, start, c.Request().ContentLength); err != nil {
		return err
	}
	if problem.IsObject(start) {
		return s.importSetFile(c, name, body)
	}
	stream, err := data.NewStream(ctx, name, body, store.BlockRows)
	if err != nil {
		return unprocessable(err)
	}
	d, err := s.store.ImportDataSet(ctx, people.Who(c), stream)
	var wrong *store.SourceError
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case errors.As(err, &wrong):
		return unprocessable(wrong.Err)
	case err != nil:
		return err
	}
	return exchange.Write(c, http.StatusCreated, DataListing{ID: d.ID.String(), Name: name, Rows: stream.Rows()})
}

// importSetFile keeps the data set that a JSON document holds.
func (s *server) importSetFile(c *echo.Context, name string, body io.Reader) error {
	file, err := io.ReadAll(body)
	if err != nil {
		return err
	}
	if err := problem.RefuseNUL(file); err != nil {
		return err
	}
	set, _, err := problem.ReadSet(c.Request().Context(), file, data.Options{})
	if err != nil {
		return unprocessable(err)
	}
	set.Name = name
	d, err := s.store.CreateDataSet(c.Request().Context(), people.Who(c), set, "")
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusCreated, DataListing{ID: d.ID.String(), Name: name, Rows: set.Rows()})
}

func (s *server) getDataSet(c *echo.Context, id uuid.UUID) error {
	d, _, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return answerDataSet(c, http.StatusOK, d)
}

func (s *server) patchDataSet(c *echo.Context, id uuid.UUID) error {
	var request DataPatch
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if request.Set == nil {
		return problem.Errors{{Pointer: "/set", Says: "the description of the data set is missing", Instead: "send it without cells"}}
	}
	written, err := s.store.UpdateDataSet(c.Request().Context(), people.Who(c), id, request.Version,
		store.DataChange{Set: request.Set, Rows: request.Rows, Blocks: request.Blocks})
	if err != nil {
		return err
	}
	saved := DataSaved{written.Version, map[string]int64{}}
	for problem, version := range written.Problems {
		saved.Problems[problem.String()] = version
	}
	return exchange.Write(c, http.StatusOK, saved)
}

func (s *server) checkDataSet(c *echo.Context, id uuid.UUID) error {
	d, given, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	check := DataCheck{Version: d.Version, Mistakes: problem.MistakesOf(given), Keys: []int{}, Derived: []ColumnCells{}}
	check.Profiles = d.Set.Profiles()
	var derived []*data.Column
	for _, column := range d.Set.Columns {
		check.Keys = append(check.Keys, column.Key)
		if column.Derived() {
			derived = append(derived, column)
		}
	}
	if derived != nil {
		check.Derived, check.Next = partFrom(derived, CellPlace{0, derived[0].Key})
	}
	return exchange.Write(c, http.StatusOK, check)
}

// PreviewRequest asks what a derived column would hold.
type PreviewRequest struct {
	Column *data.Column `json:"column"`
}

// Preview is what a derived column would hold, or why it cannot be had.
type Preview struct {
	Profile *data.Profile `json:"profile,omitzero"`
	Cells   []string      `json:"cells"` // of the first rows
	Says    string        `json:"says,omitzero"`
	At      int           `json:"at"` // the place in the formula, in characters from 0
}

func (s *server) previewColumn(c *echo.Context, id uuid.UUID) error {
	var request PreviewRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if request.Column == nil {
		return problem.Errors{{Pointer: "/column", Says: "the column is missing", Instead: "send how it is derived"}}
	}
	d, _, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	column := *request.Column
	column.Cells = nil
	cells, err := d.Set.Preview(&column)
	var wrong *data.FormulaError
	switch {
	case errors.As(err, &wrong):
		return exchange.Write(c, http.StatusOK, Preview{Cells: []string{}, Says: wrong.Says, At: wrong.At})
	case err != nil:
		return exchange.Write(c, http.StatusOK, Preview{Cells: []string{}, Says: err.Error()})
	}
	column.Cells = cells
	profile := column.Profile(len(cells))
	return exchange.Write(c, http.StatusOK, Preview{Profile: &profile, Cells: cells[:min(len(cells), 200)]})
}

// ReshapeRequest asks for a new data set made of one.
type ReshapeRequest struct {
	How      string  `json:"how"` // stack, unstack, count, open-out, take
	Name     string  `json:"name"`
	Columns  []int   `json:"columns,omitempty"` // places, to stack
	Response string  `json:"response,omitzero"` // name, to stack or unstack
	Group    string  `json:"group,omitzero"`    // name, to stack or unstack
	Row      string  `json:"row,omitzero"`      // name, to count
	Column   string  `json:"column,omitzero"`   // name, to count two crossed
	N        int     `json:"n,omitzero"`        // how many to take
	Seed     *uint64 `json:"seed,omitzero"`     // to take at random; the first otherwise
	Keep     *bool   `json:"keep,omitzero"`     // whether to keep it, or only show it; true when missing
}

func (s *server) reshapeDataSet(c *echo.Context, id uuid.UUID) error {
	var r ReshapeRequest
	if err := exchange.Read(c, &r); err != nil {
		return err
	}
	ctx := c.Request().Context()
	d, _, err := s.dataSet(ctx, id)
	if err != nil {
		return err
	}
	var made *data.Set
	switch r.How {
	case "stack":
		made, err = d.Set.Stack(r.Columns, r.Response, r.Group)
	case "unstack":
		made, err = d.Set.Unstack(r.Response, r.Group)
	case "count":
		made, err = d.Set.Count(r.Row, r.Column)
	case "open-out":
		made, err = d.Set.OpenOut()
	case "take":
		made, err = d.Set.Take(r.N, r.Seed)
	default:
		err = fmt.Errorf("there is no reshaping “%s”", r.How)
	}
	if err != nil {
		return unprocessable(err)
	}
	made.Name, made.About = r.Name, ""
	if r.Keep != nil && !*r.Keep {
		shown, _ := firstPart(made)
		return exchange.Write(c, http.StatusOK, KeptSet{Set: shown})
	}
	kept, err := s.store.CreateDataSet(ctx, people.Who(c), made, "")
	if err != nil {
		return err
	}
	kept.Set.Derive()
	return answerDataSet(c, http.StatusCreated, kept)
}

// variablesOf returns the variables of a kept data set as a person chooses them: one
// column a group gives its response by group, a table of counts the cases that were
// counted.
func variablesOf(given *data.Prepared) (problem.Variables, error) {
	var variables problem.Variables
	var mistakes []data.Mistake
	switch given.Set.Form {
	case data.FormGroups:
		var group, response *data.Variable
		group, response, mistakes = given.Grouped()
		variables = problem.Variables{response, group}
	case data.FormCounts:
		opened, err := given.Set.OpenOut()
		if err != nil {
			return nil, unprocessable(err)
		}
		variables, _, mistakes = opened.Variables()
	default:
		variables, _, mistakes = given.Variables()
	}
	// Cells that do not fit are missing here; the check names them.
	if len(variables) == 0 || variables[0] == nil {
		return nil, problem.Errors{{Says: mistakes[0].Says, Instead: mistakes[0].Instead}}
	}
	return variables, nil
}

// lookAtDataSet describes one or two variables.
func (s *server) lookAtDataSet(c *echo.Context, id uuid.UUID) error {
	var request problem.Picture
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	_, given, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	variables, err := variablesOf(given)
	if err != nil {
		return err
	}
	l, err := look.New(variables, nil, request)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, l)
}

// GuideRequest asks which procedures fit variables.
type GuideRequest struct {
	Variables []string `json:"variables"`
}

func (s *server) guide(c *echo.Context, id uuid.UUID) error {
	var request GuideRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	_, given, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	variables, err := variablesOf(given)
	if err != nil {
		return err
	}
	chosen := make([]*data.Variable, len(request.Variables))
	for i, name := range request.Variables {
		if chosen[i] = variables.Find(name); chosen[i] == nil {
			return problem.Errors{problem.Unknown(problem.Pointer("variables", i), "variable", name, variables.Names())}
		}
	}
	return exchange.Write(c, http.StatusOK, procedure.Guide(chosen))
}

// CopyRequest names a copy.
type CopyRequest struct {
	Name string `json:"name"`
}

func (s *server) copyDataSet(c *echo.Context, id uuid.UUID) error {
	var request CopyRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	twin, err := s.store.CopyDataSet(c.Request().Context(), people.Who(c), id, request.Name)
	if err != nil {
		return err
	}
	return s.getDataSet(c, twin)
}

// resetDataSet brings a demo data set back to what it was at first.
func (s *server) resetDataSet(c *echo.Context, id uuid.UUID) error {
	version, err := versionNeeded(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	d, _, err := s.dataSet(ctx, id)
	if err != nil {
		return err
	}
	set, err := demo.DataSet(d.Demo)
	if err != nil {
		return err
	}
	if set == nil {
		return echo.NewHTTPError(http.StatusBadRequest, "Only a demo data set can be reset.")
	}
	written, err := s.store.ReplaceDataSet(ctx, people.Who(c), id, version, set)
	if err != nil {
		return err
	}
	d.Set, d.Version, d.UpdatedAt = set, written.Version, written.UpdatedAt
	d.Set.Derive()
	return answerDataSet(c, http.StatusOK, d)
}

func (s *server) deleteDataSet(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	if err := s.store.DeleteDataSet(c.Request().Context(), people.Who(c), id, version); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *server) restoreDataSet(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	if err := s.store.RestoreDataSet(c.Request().Context(), people.Who(c), id, version); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
