package server

import (
	"archive/zip"
	"context"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/labreport"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/store"
)

// An archive is a person's work as one file: a ZIP of problem files with their data in them, data sets, reports, and
// attempts.
type archive struct {
	*server
	zip  *zip.Writer
	used map[string]bool // names of files
}

// takeAlong sends everything that is the person's.
func (s *server) takeAlong(c *echo.Context) error {
	header := c.Response().Header()
	header.Set(echo.HeaderContentDisposition, exchange.Attachment("Grund "+time.Now().Format(time.DateOnly), "zip"))
	header.Set(echo.HeaderContentType, "application/zip")
	a := &archive{s, zip.NewWriter(c.Response()), map[string]bool{}}
	ctx := c.Request().Context()
	for _, add := range []func(context.Context) error{a.problems, a.dataSets, a.reports} {
		if err := add(ctx); err != nil {
			return err
		}
	}
	return a.zip.Close()
}

// create begins a file of that folder, called by a title.
func (a *archive) create(folder, title, extension string) (io.Writer, error) {
	name := folder + "/" + exchange.FileName(title, 80)
	unique := name
	for i := 2; a.used[strings.ToLower(unique)]; i++ {
		unique = fmt.Sprintf("%s (%d)", name, i)
	}
	a.used[strings.ToLower(unique)] = true
	return a.zip.CreateHeader(&zip.FileHeader{Name: unique + "." + extension, Method: zip.Deflate, Modified: time.Now()})
}

func (a *archive) problems(ctx context.Context) error {
	who := people.Of(ctx)
	for from, more := 0, true; more; {
		var list []store.Listing
		var err error
		if list, more, err = a.store.Problems(ctx, who, from); err != nil {
			return err
		}
		for _, l := range list {
			if err := a.problem(ctx, l.ID, l.Title); err != nil {
				return err
			}
		}
		from += len(list)
	}
	return nil
}

// problem adds a problem, as a file where it can be one and as what is in the form where not, and the attempt at it.
func (a *archive) problem(ctx context.Context, id uuid.UUID, title string) error {
	st, err := a.state(ctx, id)
	if err != nil {
		return err
	}
	var file []byte
	folder := "problems"
	if p, wrong := st.problem.Draft.Problem(st.given); wrong == nil {
		file, err = problem.Encode(p)
	} else {
		folder = "unfinished problems"
		file, err = json.Marshal(st.problem.Draft, json.Deterministic(true))
	}
	if err == nil {
		err = a.write(folder, title, file)
	}
	if err != nil {
		return err
	}
	attempt, err := a.store.Attempt(ctx, people.Of(ctx), id, store.Versions{Problem: st.problem.Version, Data: st.data.Version})
	if err != nil || attempt == nil {
		return err
	}
	type event struct {
		At      time.Time `json:"at"`
		Kind    string    `json:"kind"`
		Ask     string    `json:"ask"`
		Text    string    `json:"text,omitzero"`
		Verdict string    `json:"verdict,omitzero"`
		Slip    string    `json:"slip,omitzero"`
	}
	events := make([]event, len(attempt.Events))
	for i, e := range attempt.Events {
		events[i] = event{e.At, e.Kind, e.Ask, e.Text, e.Verdict, e.Slip}
	}
	if file, err = json.Marshal(events, json.Deterministic(true)); err != nil {
		return fmt.Errorf("encoding an attempt: %w", err)
	}
	return a.write("attempts", title, file)
}

func (a *archive) dataSets(ctx context.Context) error {
	who := people.Of(ctx)
	for from, more := 0, true; more; {
		var list []store.DataListing
		var err error
		if list, more, err = a.store.DataSets(ctx, who, from); err != nil {
			return err
		}
		for _, l := range list {
			_, given, err := a.dataSet(ctx, l.ID)
			if err != nil {
				return err
			}
			title := l.Name
			if title == "" {
				title = "data of " + l.Title
			}
			out, err := a.create("data sets", title, "json")
			if err != nil {
				return err
			}
			if err := problem.WriteSet(out, given); err != nil {
				return err
			}
		}
		from += len(list)
	}
	return nil
}

func (a *archive) reports(ctx context.Context) error {
	who := people.Of(ctx)
	for from, more := 0, true; more; {
		var list []store.ReportListing
		var err error
		if list, more, err = a.store.Reports(ctx, who, from); err != nil {
			return err
		}
		for _, l := range list {
			r, err := a.store.Report(ctx, who, l.ID)
			if err != nil {
				return err
			}
			file, err := json.Marshal(labreport.Report{Title: r.Title, Parts: r.Parts}, json.Deterministic(true))
			if err != nil {
				return fmt.Errorf("encoding a report: %w", err)
			}
			if err := a.write("reports", r.Title, file); err != nil {
				return err
			}
		}
		from += len(list)
	}
	return nil
}

// write adds a file of JSON.
func (a *archive) write(folder, title string, file []byte) error {
	out, err := a.create(folder, title, "json")
	if err != nil {
		return err
	}
	_, err = out.Write(file)
	return err
}
