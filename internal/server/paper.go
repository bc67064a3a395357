package server

import (
	"bytes"
	"cmp"
	"net/http"
	"strings"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/paper"
	"grund/internal/problem"
	"grund/internal/working"
)

// paperPolicy lets a document use what is in it and nothing else. The page of the problem may frame it to print it.
const paperPolicy = "default-src 'none'; style-src 'unsafe-inline'; font-src data:; base-uri 'none'; form-action 'none'; " +
	"frame-ancestors 'self'"

// paperOfProblem returns the problem's working as a document to be printed or handed in: what, steps, size, name,
// course and date say what goes into it; with save it is kept as a file. format is html or odt.
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
		Size: paper.Size(c.QueryParam("size")), Fonts: s.fonts,
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
	header := c.Response().Header()
	header.Set("Content-Security-Policy", paperPolicy)
	switch format := cmp.Or(c.QueryParam("format"), "html"); format {
	case "html":
		if err := paper.HTML(&out, sheet); err != nil {
			return err
		}
		if c.QueryParam("save") != "" {
			header.Set(echo.HeaderContentDisposition, attachment(p.Title, "html"))
		}
		return c.Blob(http.StatusOK, "text/html; charset=utf-8", out.Bytes())
	case "odt":
		if err := paper.ODT(&out, sheet); err != nil {
			return err
		}
		header.Set(echo.HeaderContentDisposition, attachment(p.Title, "odt"))
		return c.Blob(http.StatusOK, "application/vnd.oasis.opendocument.text", out.Bytes())
	default:
		return problem.Errors{problem.Unknown("/format", "format", format, []string{"html", "odt"})}
	}
}
