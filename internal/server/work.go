package server

import (
	"errors"
	"io"
	"net/http"

	"github.com/go-json-experiment/json"
	"github.com/labstack/echo/v5"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure"
)

// writeJSON sends v.
func writeJSON(c *echo.Context, status int, v any) error {
	c.Response().Header().Set(echo.HeaderContentType, "application/json")
	c.Response().WriteHeader(status)
	return json.MarshalWrite(c.Response(), v)
}

// readJSON decodes the body into v. What is wrong with it is a person's to mend.
func readJSON(c *echo.Context, v any) error {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	return problem.Decode(body, v)
}

func listProcedures(c *echo.Context) error {
	return writeJSON(c, http.StatusOK, procedure.Descriptions())
}

// workFile takes a problem file and gives its worked solution; nothing is kept.
func workFile(c *echo.Context) error {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	p, err := problem.Parse(body)
	if err != nil {
		return err
	}
	solution, err := procedure.Work(p)
	if err != nil {
		return err
	}
	return writeJSON(c, http.StatusOK, solution.FirstPage())
}

// Sheet is a block of cells as it was read from text.
type Sheet struct {
	Names   []string   `json:"names"`
	Header  bool       `json:"header"`
	Columns [][]string `json:"columns"`
}

// readText takes delimited text, or a file of any kind that is known, and gives its cells.
func readText(c *echo.Context) error {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	sheet, err := data.Read(body, "")
	if errors.Is(err, data.ErrEmpty) {
		return writeJSON(c, http.StatusOK, Sheet{Names: []string{}, Columns: [][]string{}})
	}
	if err != nil {
		return problem.Errors{{Says: err.Error()}}
	}
	return writeJSON(c, http.StatusOK, Sheet(*sheet))
}
