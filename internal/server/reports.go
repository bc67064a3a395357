package server

import (
	"cmp"
	"context"
	"errors"
	"io"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/labreport"
	"grund/internal/paper"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/store"
)

// ReportListing is a report as it stands in the list.
type ReportListing struct {
	ID        string    `json:"id"`
	Version   int64     `json:"version"`
	Title     string    `json:"title"`
	Parts     int       `json:"parts"`       // how many it has
	Of        string    `json:"of,omitzero"` // the problem that it is the report of, "" of several
	UpdatedAt time.Time `json:"updated_at"`
}

// LabReport is a kept report, and how it reads now.
type LabReport struct {
	ID        string            `json:"id"`
	Version   int64             `json:"version"`
	UpdatedAt time.Time         `json:"updated_at"`
	Title     string            `json:"title"`
	Parts     []labreport.Part  `json:"parts"`
	Pieces    []labreport.Piece `json:"pieces"` // one of each part
	Problems  []ReportProblem   `json:"problems"`
	Of        string            `json:"of,omitzero"` // the problem that it is the report of, "" of several
}

// ReportProblem is a problem of a report: that of the parts that name it.
type ReportProblem struct {
	ID          string `json:"id"`
	Title       string `json:"title"`
	Version     int64  `json:"version"`
	DataVersion int64  `json:"data_version"`
	Worked      bool   `json:"worked"` // whether it can be worked now
}

// ReportRequest begins a report, or replaces one that is still at Version.
type ReportRequest struct {
	Version int64            `json:"version,omitzero"`
	Title   string           `json:"title"`
	Parts   []labreport.Part `json:"parts"`
}

// KeepRequest keeps something of a problem for a report, or takes it away again: for the problem's own report where none
// is named, which begins with the first that is kept.
type KeepRequest struct {
	Report *uuid.UUID `json:"report,omitzero"`
	At     string     `json:"at"`
	Away   bool       `json:"away,omitzero"`
}

// KeptForReport says what is kept of a problem for a report.
type KeptForReport struct {
	Report string   `json:"report,omitzero"` // "" where there is none yet
	Title  string   `json:"title,omitzero"`
	At     []string `json:"at"`
}

func keptOf(r *store.Report, id uuid.UUID) KeptForReport {
	return KeptForReport{Report: r.ID.String(), Title: r.Title, At: r.Kept(id.String())}
}

// idOrNone writes an id, "" where there is none.
func idOrNone(id uuid.UUID) string {
	if id == uuid.Nil {
		return ""
	}
	return id.String()
}

func (s *server) listReports(c *echo.Context) error {
	from, err := exchange.PageFrom(c)
	if err != nil {
		return err
	}
	list, more, err := s.store.Reports(c.Request().Context(), people.Who(c), from)
	if err != nil {
		return err
	}
	if more {
		exchange.LinkNext(c, from+len(list))
	}
	out := make([]ReportListing, len(list))
	for i, r := range list {
		out[i] = ReportListing{r.ID.String(), r.Version, r.Title, r.Parts, idOrNone(r.Of), r.UpdatedAt}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// workedFor works the problems of a report, each once, by id; one that is not there is left out.
func (s *server) workedFor(c *echo.Context, r *labreport.Report) (map[string]labreport.Worked, []ReportProblem, error) {
	worked, problems := map[string]labreport.Worked{}, []ReportProblem{}
	if err := r.Check(); err != nil { // before any is worked
		return nil, nil, err
	}
	for _, name := range r.Problems() {
		id, err := uuid.Parse(name)
		if err != nil {
			continue
		}
		one, of, err := s.workedOne(c, id)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, nil, err
		}
		worked[name] = *one
		problems = append(problems, *of)
	}
	return worked, problems, nil
}

func (s *server) workedOne(c *echo.Context, id uuid.UUID) (*labreport.Worked, *ReportProblem, error) {
	ctx := c.Request().Context()
	st, err := s.state(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	title := cmp.Or(st.problem.Draft.Title, "Untitled problem")
	of := &ReportProblem{ID: id.String(), Title: title, Version: st.problem.Version, DataVersion: st.data.Version}
	one := &labreport.Worked{Title: title}
	p, err := st.changed(nil)
	if err == nil {
		one.Solution, err = s.work(ctx, p)
	}
	if errors.Is(err, context.DeadlineExceeded) || ctx.Err() != nil {
		return nil, nil, err
	}
	if err != nil {
		one.Why = loggedFailure(c, st.problem.Draft.Located(st.given, err)).Detail
	}
	of.Worked = err == nil
	return one, of, nil
}

// answerReport sends a report with how it reads.
func (s *server) answerReport(c *echo.Context, status int, r *store.Report) error {
	worked, problems, err := s.workedFor(c, &r.Report)
	if err != nil {
		return err
	}
	return sendReport(c, status, r, worked, problems)
}

func sendReport(c *echo.Context, status int, r *store.Report, worked map[string]labreport.Worked, problems []ReportProblem) error {
	pieces := r.Pieces(worked)
	return exchange.Write(c, status, LabReport{
		r.ID.String(), r.Version, r.UpdatedAt, r.Title, r.Parts, pieces, problems, idOrNone(r.Of),
	})
}

func (s *server) createReport(c *echo.Context) error {
	var request ReportRequest
	if c.Request().ContentLength != 0 {
		if err := exchange.Read(c, &request); err != nil {
			return err
		}
	}
	r, err := s.store.CreateReport(c.Request().Context(), people.Who(c), labreport.Report{Title: request.Title, Parts: request.Parts})
	if err != nil {
		return err
	}
	return s.answerReport(c, http.StatusCreated, r)
}

func (s *server) getReport(c *echo.Context, id uuid.UUID) error {
	r, err := s.store.Report(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	return s.answerReport(c, http.StatusOK, r)
}

// putReport replaces a report. A part that does not say how it read reads from now on as it does.
func (s *server) putReport(c *echo.Context, id uuid.UUID) error {
	var request ReportRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	report := labreport.Report{Title: request.Title, Parts: request.Parts}
	worked, problems, err := s.workedFor(c, &report)
	if err != nil {
		return err
	}
	report.Seen(worked)
	r, err := s.store.UpdateReport(c.Request().Context(), people.Who(c), id, request.Version, report)
	if err != nil {
		return err
	}
	return sendReport(c, http.StatusOK, r, worked, problems)
}

func (s *server) deleteReport(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	if err := s.store.DeleteReport(c.Request().Context(), people.Who(c), id, version); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *server) restoreReport(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	if err := s.store.RestoreReport(c.Request().Context(), people.Who(c), id, version); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// getKept says what is kept of a problem: for the report that is named in the query, else for its own.
func (s *server) getKept(c *echo.Context, id uuid.UUID) error {
	into := uuid.Nil
	if named := c.QueryParam("report"); named != "" {
		var err error
		if into, err = uuid.Parse(named); err != nil {
			return store.ErrNotFound
		}
	}
	r, err := s.store.ReportFor(c.Request().Context(), people.Who(c), id, into)
	if err != nil {
		return err
	}
	if r == nil {
		return exchange.Write(c, http.StatusOK, KeptForReport{At: []string{}})
	}
	return exchange.Write(c, http.StatusOK, keptOf(r, id))
}

// keep keeps something of a problem for a report, or takes it away again.
func (s *server) keep(c *echo.Context, id uuid.UUID) error {
	var request KeepRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	one, of, err := s.workedOne(c, id)
	if err != nil {
		return err
	}
	part := labreport.Part{ID: uuid.NewString(), Problem: id.String(), At: request.At}
	if !request.Away {
		if one.Solution != nil {
			part.Was = labreport.NowOf(one.Solution, request.At)
		}
		if part.Was == "" {
			return problem.Errors{{Pointer: "/at", Says: "this is not in the working", Instead: "keep what is shown"}}
		}
	}
	into := uuid.Nil
	if request.Report != nil {
		into = *request.Report
	}
	r, err := s.store.ChangeReportOf(c.Request().Context(), people.Who(c), id, into, of.Title, func(r *labreport.Report) {
		if request.Away {
			r.Leave(part.Problem, part.At)
			return
		}
		r.Keep(part)
	})
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, keptOf(r, id))
}

// paperOfReport returns the report as a document: name, course, date and size say what is at its head; with save it is
// kept as a file. format is html, odt or md.
func (s *server) paperOfReport(c *echo.Context, id uuid.UUID) error {
	r, err := s.store.Report(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	worked, _, err := s.workedFor(c, &r.Report)
	if err != nil {
		return err
	}
	title := cmp.Or(r.Title, "Report")
	document := &paper.LabReport{Head: s.headOf(c, title), Pieces: r.Pieces(worked)}
	return exchange.SendPaper(c, title, map[string]func(io.Writer) error{
		"html": func(out io.Writer) error { return paper.ReportHTML(out, document) },
		"odt":  func(out io.Writer) error { return paper.ReportODT(out, document) },
		"md": func(out io.Writer) error {
			_, err := io.WriteString(out, labreport.Markdown(title, document.Pieces))
			return err
		},
	})
}
