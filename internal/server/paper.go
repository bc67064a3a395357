package server

import (
	"bytes"
	"cmp"
	"net/http"
	"strings"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/paper"
	"grund/internal/working"
)

// paperPolicy lets a document use what is in it and nothing else. The page of the problem may frame it to print it.
const paperPolicy = "default-src 'none'; style-src 'unsafe-inline'; font-src data:; base-uri 'none'; form-action 'none'; " +
	"frame-ancestors 'self'"

// paperOfProblem returns the problem's working as a document to be printed or handed in: what, steps, name, course and
// date say what goes into it; with save it is kept as a file.
func (s *server) paperOfProblem(c *echo.Context, id uuid.UUID) error {
	ctx := c.Request().Context()
	p, st, err := s.changed(ctx, id, 0, 0, nil)
	if err != nil {
		return err
	}
	solution, err := s.work(ctx, p)
	if err != nil {
		return st.problem.Draft.Located(st.given, err)
	}
	sheet := &paper.Sheet{
		Title: p.Title, Question: cmp.Or(solution.Question, p.Question), Solution: solution, Name: c.QueryParam("name"),
		Course: c.QueryParam("course"), Date: c.QueryParam("date"), What: paper.What(cmp.Or(c.QueryParam("what"), string(paper.Full))),
		Fonts: s.fonts,
	}
	if p.Claim != nil {
		sheet.Claim = p.Claim.Text
	}
	for step := range strings.SplitSeq(c.QueryParam("steps"), ",") {
		if step != "" {
			sheet.Steps = append(sheet.Steps, working.StepID(step))
		}
	}
	var out bytes.Buffer
	if err := paper.HTML(&out, sheet); err != nil {
		return err
	}
	header := c.Response().Header()
	header.Set("Content-Security-Policy", paperPolicy)
	if c.QueryParam("save") != "" {
		header.Set(echo.HeaderContentDisposition, attachment(p.Title, "html"))
	}
	return c.Blob(http.StatusOK, "text/html; charset=utf-8", out.Bytes())
}
