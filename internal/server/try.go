package server

import (
	"context"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/store"
	"grund/internal/turns"
	"grund/internal/vary"
)

// TrySheet is where the person stands in an attempt.
type TrySheet struct {
	*answer.Sheet
	Version     int64      `json:"version"` // of the problem that is worked
	DataVersion int64      `json:"data_version"`
	Events      int        `json:"events"` // that led there
	BegunAt     *time.Time `json:"begun_at,omitzero"`
	// Renewed says that an attempt ended because the problem or its data are others now.
	Renewed bool `json:"renewed,omitzero"`
}

// TryRequest adds an event to an attempt: an answer, a help that is taken, or the last answer taken back.
type TryRequest struct {
	Version     int64  `json:"version"`
	DataVersion int64  `json:"data_version"`
	After       int    `json:"after"` // how many events the person had seen
	Kind        string `json:"kind"`
	Ask         string `json:"ask,omitzero"`
	Text        string `json:"text,omitzero"`
}

// A trial is a state of a problem with the person's attempt at it.
type trial struct {
	*state
	attempt *answer.Attempt
	turned  context.Context // of the calculation
	kept    *store.Attempt  // nil where there is none that goes on
	now     *answer.Sheet   // where the person stands
	renewed bool
}

// trial works the problem for the person's attempt, where it and its data still have the versions; 0 is any. end must be
// called when no more is calculated.
func (s *server) trial(ctx context.Context, id uuid.UUID, version, dataVersion int64) (t *trial, end func(), err error) {
	t = &trial{}
	if t.state, err = s.state(ctx, id); err != nil {
		return nil, nil, err
	}
	if err := t.need(version, dataVersion); err != nil {
		return nil, nil, err
	}
	if t.kept, err = s.store.Attempt(ctx, people.Of(ctx), id, t.versions()); err != nil {
		return nil, nil, err
	}
	if t.kept != nil && t.kept.Outdated {
		t.kept, t.renewed = nil, true
	}
	end, err = s.lay(ctx, t, t.events())
	return t, end, err
}

// lay works the problem of a state for an attempt with these events. end must be called when no more is calculated.
func (s *server) lay(ctx context.Context, t *trial, events []answer.Event) (end func(), err error) {
	p, err := t.problem.Draft.Problem(t.given)
	if err != nil {
		return nil, t.problem.Draft.Located(t.given, err)
	}
	t.turned, end = s.turns.Context(ctx, turns.Free)
	if t.attempt, err = answer.NewAttempt(t.turned, p); err != nil {
		end()
		return nil, t.problem.Draft.Located(t.given, err)
	}
	if t.now, err = t.after(events); err != nil {
		end()
		return nil, err
	}
	return end, nil
}

// after returns where the person stands after the events.
func (t *trial) after(events []answer.Event) (*answer.Sheet, error) {
	return t.attempt.After(t.turned, events)
}

func (t *trial) versions() store.Versions {
	return store.Versions{Problem: t.problem.Version, Data: t.data.Version}
}

// events returns what the person did.
func (t *trial) events() []answer.Event {
	if t.kept == nil {
		return nil
	}
	events := make([]answer.Event, len(t.kept.Events))
	for i, e := range t.kept.Events {
		events[i] = answer.Event{Kind: e.Kind, Ask: e.Ask, Text: e.Text, Verdict: e.Verdict, Slip: e.Slip}
	}
	return events
}

// sheet returns the sheet as it is sent.
func (t *trial) sheet(of *answer.Sheet) *TrySheet {
	sent := *of
	sent.Solution = of.Solution.FirstPage()
	sheet := &TrySheet{Sheet: &sent, Version: t.problem.Version, DataVersion: t.data.Version, Renewed: t.renewed}
	if t.kept != nil {
		sheet.Events, sheet.BegunAt = len(t.kept.Events), &t.kept.BegunAt
	}
	return sheet
}

// getAsks returns everything that a problem could ask, whatever it asks now.
func (s *server) getAsks(c *echo.Context, id uuid.UUID) error {
	ctx := c.Request().Context()
	p, st, err := s.changed(ctx, id, 0, 0, nil)
	if err != nil {
		return err
	}
	p.Try = nil
	turned, end := s.turns.Context(ctx, turns.Free)
	defer end()
	asks, err := answer.Asks(turned, p)
	if err != nil {
		return st.problem.Draft.Located(st.given, err)
	}
	return exchange.Write(c, http.StatusOK, asks)
}

// getTry returns where the person stands.
func (s *server) getTry(c *echo.Context, id uuid.UUID) error {
	t, end, err := s.trial(c.Request().Context(), id, 0, 0)
	if err != nil {
		return err
	}
	defer end()
	return exchange.Write(c, http.StatusOK, t.sheet(t.now))
}

// addToTry adds an event and returns where the person stands then.
func (s *server) addToTry(c *echo.Context, id uuid.UUID) error {
	var request TryRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	t, end, err := s.trial(c.Request().Context(), id, request.Version, request.DataVersion)
	if err != nil {
		return err
	}
	defer end()
	events := append(t.events(), answer.Event{Kind: request.Kind, Ask: request.Ask, Text: request.Text})
	sheet, err := t.attempt.Add(t.turned, t.now, events)
	if err != nil {
		return err
	}
	event := events[len(events)-1]
	end()
	t.kept, err = s.store.AddEvent(c.Request().Context(), people.Who(c), id, t.versions(), request.After, store.Event{
		Kind: event.Kind, Ask: event.Ask, Text: event.Text, Verdict: event.Verdict, Slip: event.Slip,
	})
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, t.sheet(sheet))
}

// endTry ends the attempt; the next answer begins another one.
func (s *server) endTry(c *echo.Context, id uuid.UUID) error {
	if err := s.store.EndAttempt(c.Request().Context(), people.Who(c), id); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// rowsOfTry returns a page of a table as far as it was earned.
func (s *server) rowsOfTry(c *echo.Context, id uuid.UUID) error {
	var request WorkRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	t, end, err := s.trial(c.Request().Context(), id, request.Version, request.DataVersion)
	if err != nil {
		return err
	}
	defer end()
	request.Steps = 0
	page, err := request.page(t.now.Solution)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, page)
}

// VaryRequest asks for a problem with other numbers.
type VaryRequest struct {
	Seed uint64 `json:"seed"`
}

// varyProblem keeps the problem with other numbers beside it, and returns that one.
func (s *server) varyProblem(c *echo.Context, id uuid.UUID) error {
	var request VaryRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, st, err := s.changed(ctx, id, 0, 0, nil)
	if err != nil {
		return err
	}
	turned, end := s.turns.Context(ctx, turns.Free)
	defer end()
	varied, err := vary.Problem(turned, p, request.Seed, vary.KeepDecision)
	if err != nil {
		return st.problem.Draft.Located(st.given, err)
	}
	end()
	if varied.Title != "" {
		varied.Title += " (other numbers)"
	}
	in, err := withSet(varied)
	if err != nil {
		return err
	}
	return s.answerImported(c, in)
}
