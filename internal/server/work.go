package server

import (
	"context"
	"errors"
	"io"
	"net/http"

	"github.com/labstack/echo/v5"

	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/turns"
	"grund/internal/working"
)

func listProcedures(c *echo.Context) error {
	return exchange.Write(c, http.StatusOK, procedure.Descriptions())
}

// work works a problem; one that takes long takes turns with others.
func (s *server) work(ctx context.Context, p *problem.Problem) (*working.Solution, error) {
	ctx, end := s.turns.Context(ctx, turns.Free)
	defer end()
	return procedure.Work(ctx, p)
}

// workFile takes a problem file and gives its worked solution; nothing is kept.
func (s *server) workFile(c *echo.Context) error {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	p, err := problem.Parse(body)
	if err != nil {
		return err
	}
	solution, err := s.work(c.Request().Context(), p)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, solution.FirstPage())
}

// Reading is a block of cells or a file as it was read, and how.
type Reading struct {
	Set       *data.Set   `json:"set"`
	Kinds     []data.Kind `json:"kinds"`
	Header    bool        `json:"header"`    // whether the first row was taken for names
	Separator string      `json:"separator"` // of delimited text
	Tables    []string    `json:"tables"`    // of a spreadsheet
	Table     string      `json:"table"`     // the one that was read
	Top       [][]string  `json:"top"`       // the first rows of that table, for choosing a part of it
	Counts    bool        `json:"counts"`    // whether it looks like a table of counts
	Totals    bool        `json:"totals"`    // whether a row or column of sums was left away
	Turned    bool        `json:"turned"`    // whether groups seem to stand in rows
	Odd       [][]int     `json:"odd"`       // for each column, which of its first cells do not fit its kind
}

// oddAmongFirst returns the places of the first cells that do not fit the kind.
func oddAmongFirst(column *data.Column, kind data.Kind) []int {
	const shown = 20
	_, mistakes := data.NewVariable(column.Name, kind, column.Cells[:min(len(column.Cells), shown)])
	odd := make([]int, len(mistakes))
	for i, m := range mistakes {
		odd[i] = m.Case
	}
	return odd
}

// readText takes delimited text, or a file of any kind that is known, and gives its
// cells. The query says how to read it where that should not be guessed.
func (s *server) readText(c *echo.Context) error {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	if err := s.room.takeForFile(ctx, body[:min(len(body), 1000)], int64(len(body))); err != nil {
		return err
	}
	options := data.Options{Table: c.QueryParam("table"), Range: c.QueryParam("range"), Turned: c.QueryParam("turned") == "yes"}
	if header := c.QueryParam("header"); header != "" {
		yes := header == "yes"
		options.Header = &yes
	}
	if separator := []rune(c.QueryParam("separator")); len(separator) == 1 {
		options.Separator = separator[0]
	}
	set, sheet, err := problem.ReadSet(ctx, body, options)
	if errors.Is(err, data.ErrNoCase) { // names may be all that is pasted
		names := true
		options.Header = &names
		set, sheet, err = problem.ReadSet(ctx, body, options)
	}
	if errors.Is(err, data.ErrEmpty) {
		return exchange.Write(c, http.StatusOK, Reading{Set: &data.Set{Form: data.FormCases, Columns: []*data.Column{}}})
	}
	if err != nil {
		return unprocessable(err)
	}
	r := Reading{Header: sheet.Header, Separator: sheet.Separator, Tables: sheet.Tables, Table: sheet.Table, Top: sheet.Top,
		Turned: sheet.LooksTurned()}
	if r.Counts = sheet.LooksLikeCounts(); r.Counts && c.QueryParam("counts") != "no" {
		if sheet, r.Totals = sheet.WithoutTotals(); r.Totals {
			set = sheet.SetOf("")
		}
		set.Form = data.FormCounts
	}
	r.Set, r.Kinds = set, set.Kinds()
	for i, column := range set.Columns {
		r.Odd = append(r.Odd, oddAmongFirst(column, r.Kinds[i]))
	}
	return exchange.Write(c, http.StatusOK, r)
}
