package server

import (
	"cmp"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/paper"
	"grund/internal/working"
)

// headOf returns the head of a document that is asked for: name, course, date and size are in the query.
func (s *server) headOf(c *echo.Context, title string) paper.Head {
	return paper.Head{
		Title: title, Name: c.QueryParam("name"), Course: c.QueryParam("course"), Date: c.QueryParam("date"),
		Size: paper.Size(c.QueryParam("size")), Fonts: s.fonts,
	}
}

// listed returns what a field of the query lists, parted by commas.
func listed(c *echo.Context, field string) []string {
	return slices.DeleteFunc(strings.Split(c.QueryParam(field), ","), func(each string) bool { return each == "" })
}

// paperOfProblem returns the problem's working as a document to be printed or handed in: what, steps, without, rows, size,
// name, course and date say what goes into it; with save it is kept as a file. format is html or odt.
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
		Head: s.headOf(c, p.Title), Question: cmp.Or(solution.Question, p.Question), Solution: solution,
		What: paper.What(cmp.Or(c.QueryParam("what"), string(paper.Full))), Without: listed(c, "without"), AllRows: c.QueryParam("rows") == "all",
	}
	// The choice is remembered for all problems, and another one may have had what this one has not.
	sheet.Without = slices.DeleteFunc(sheet.Without, func(name string) bool { return !sheet.Has(name) })
	if p.Claim != nil {
		sheet.Claim = p.Claim.Text
	}
	for _, step := range listed(c, "steps") {
		sheet.Steps = append(sheet.Steps, working.StepID(step))
	}
	return exchange.SendPaper(c, p.Title, map[string]func(io.Writer) error{
		"html": func(out io.Writer) error { return paper.HTML(out, sheet) },
		"odt":  func(out io.Writer) error { return paper.ODT(out, sheet) },
	})
}
