package classroom

import (
	"context"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/procedure"
	"grund/internal/store"
	"grund/internal/working"
)

// WorkView is a set as a student works it.
type WorkView struct {
	ID          string     `json:"id"`
	Title       string     `json:"title"`
	About       string     `json:"about"`
	ClassName   string     `json:"class_name"`
	Opens       *time.Time `json:"opens"`
	Due         *time.Time `json:"due"`
	Late        bool       `json:"late"` // whether it is due by now
	HandedIn    *time.Time `json:"handed_in"`
	MayTakeBack bool       `json:"may_take_back"`
	Solution    bool       `json:"solution"`         // whether it may be read
	Preview     bool       `json:"preview,omitzero"` // whether an instructor looks at it
	Problems    []WorkItem `json:"problems"`
}

// WorkItem is a problem of a set, and how far one has come with it.
type WorkItem struct {
	ID       string  `json:"id"`
	Title    string  `json:"title"`
	Answered int     `json:"answered"`
	Of       int     `json:"of"`      // 0 before one begins
	Remarks  int     `json:"remarks"` // words of the instructor
	Points   float64 `json:"points"`  // that it brought, once the solution may be read
	PointsOf float64 `json:"points_of"`
}

// getWork returns a set as the student works it.
func (r *Classroom) getWork(c *echo.Context, id uuid.UUID) error {
	ctx, who, now := c.Request().Context(), people.Who(c), time.Now()
	set, err := r.store.Set(ctx, who, id)
	if err != nil {
		return err
	}
	progress, handedIn, err := r.store.MyProgress(ctx, who, id)
	if err != nil {
		return err
	}
	s := &set.Settings
	view := WorkView{
		ID: set.ID.String(), Title: s.Title, About: s.About, ClassName: set.ClassName, Opens: s.Opens, Due: s.Due, Late: s.IsLate(now),
		HandedIn: handedIn, MayTakeBack: handedIn != nil && !s.IsLate(now), Solution: s.ShowsSolution(now, set.Released),
		Preview: set.In == access.Teacher, Problems: []WorkItem{},
	}
	for _, p := range set.Problems {
		item := WorkItem{ID: p.ID.String(), Title: p.Title}
		for _, done := range progress {
			if done.SetProblem != p.ID || done.Standing == nil {
				continue
			}
			item.Answered, item.Of, item.Remarks = done.Standing.Answered, done.Standing.Of, done.Remarks
		}
		view.Problems = append(view.Problems, item)
	}
	if view.Solution && !view.Preview {
		if err := r.addPoints(ctx, who, set, progress, view.Problems); err != nil {
			return err
		}
	}
	return exchange.Write(c, http.StatusOK, view)
}

// addPoints adds to the problems of a set what the student's work at them brought.
func (r *Classroom) addPoints(ctx context.Context, who access.Person, set *store.ProblemSet, progress []store.Progress,
	to []WorkItem,
) error {
	remarks, err := r.store.Remarks(ctx, who, set.ID)
	if err != nil {
		return err
	}
	byHand := byHandOf(remarks)
	for i, p := range set.Problems {
		asks, err := r.asksOfProblem(ctx, set, p)
		if err != nil {
			return err
		}
		var standing *problemset.Standing
		var hand map[string]float64
		for _, done := range progress {
			if done.SetProblem == p.ID {
				standing, hand = done.Standing, byHand[done.ID]
			}
		}
		to[i].Points, to[i].PointsOf = problemset.Sum(set.Settings.Marks(asks, p.Points, standing, hand))
	}
	return nil
}

func (r *Classroom) handIn(c *echo.Context, id uuid.UUID) error {
	return done(c, r.store.HandIn(c.Request().Context(), people.Who(c), id))
}

func (r *Classroom) takeBack(c *echo.Context, id uuid.UUID) error {
	return done(c, r.store.TakeBack(c.Request().Context(), people.Who(c), id))
}

// deskFor returns where somebody works a problem of a set: who asks, or, for an instructor, the person that the query names.
func (r *Classroom) deskFor(c *echo.Context, setProblem uuid.UUID) (*store.Desk, uuid.UUID, error) {
	person := people.Who(c).ID
	if text := c.QueryParam("person"); text != "" {
		var err error
		if person, err = uuid.Parse(text); err != nil {
			return nil, person, store.ErrNotFound
		}
	}
	d, err := r.store.Desk(c.Request().Context(), people.Who(c), setProblem, person)
	return d, person, err
}

// SetProblem is a problem of a set as somebody gets it: what it is about, without its data and what solves it.
type SetProblem struct {
	ID       string         `json:"id"`
	Set      string         `json:"set"`
	SetTitle string         `json:"set_title"`
	Person   string         `json:"person"`
	Draft    *problem.Draft `json:"draft"`
	Solution bool           `json:"solution"` // whether it may be read
	HandedIn bool           `json:"handed_in"`
	Remarks  []RemarkView   `json:"remarks"`
}

// RemarkView is what an instructor said at an ask.
type RemarkView struct {
	Ask    string    `json:"ask"`
	Words  string    `json:"words"`
	Points *float64  `json:"points"` // set by hand
	At     time.Time `json:"at"`
}

func (r *Classroom) getSetProblem(c *echo.Context, id uuid.UUID) error {
	d, person, err := r.deskFor(c, id)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	p, err := problem.Parse(d.File)
	if err != nil {
		return err
	}
	out := SetProblem{
		ID: id.String(), Set: d.Set.ID.String(), SetTitle: d.Set.Settings.Title, Person: person.String(), Solution: r.mayRead(d),
		HandedIn: d.Attempt != nil && d.Attempt.HandedIn != nil, Remarks: []RemarkView{},
		Draft: &problem.Draft{Title: p.Title, Question: p.Question, Procedure: p.Procedure},
	}
	if p.Claim != nil {
		out.Draft.Claim = *p.Claim
	}
	if d.Attempt != nil {
		remarks, err := r.store.Remarks(ctx, people.Who(c), d.Set.ID)
		if err != nil {
			return err
		}
		for _, remark := range remarks {
			if remark.Attempt == d.Attempt.ID {
				out.Remarks = append(out.Remarks, RemarkView{remark.Ask, remark.Words, remark.Points, remark.At})
			}
		}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// mayRead reports whether who sits at a desk may read the solution: its instructors always may.
func (r *Classroom) mayRead(d *store.Desk) bool {
	return d.Set.In == access.Teacher || d.Set.Settings.ShowsSolution(time.Now(), d.Set.Released)
}

// getAsks returns everything that a problem of a set asks, for its instructors.
func (r *Classroom) getAsks(c *echo.Context, id uuid.UUID) error {
	d, _, err := r.deskFor(c, id)
	if err != nil {
		return err
	}
	if d.Set.In != access.Teacher {
		return store.ErrNotFound
	}
	return r.at(c.Request().Context(), id, d, func(_ context.Context, l *lay) error {
		return exchange.Write(c, http.StatusOK, answer.AskList{Grund: problem.Format, Asks: l.attempt.Asks()})
	})
}

// SetSheet is where a person stands in an attempt at a problem of a set.
type SetSheet struct {
	*answer.Sheet
	Version     int64      `json:"version"`      // of the file that is worked
	DataVersion int64      `json:"data_version"` // 1: with its numbers
	Events      int        `json:"events"`
	BegunAt     *time.Time `json:"begun_at,omitzero"`
	// Done is what was done, in its order, for its instructors.
	Done []DoneView `json:"done,omitempty"`
}

// DoneView is one thing that was done in an attempt.
type DoneView struct {
	Kind    string    `json:"kind"`
	Ask     string    `json:"ask,omitzero"`
	Text    string    `json:"text,omitzero"`
	Verdict string    `json:"verdict,omitzero"`
	Slip    string    `json:"slip,omitzero"`
	At      time.Time `json:"at"`
}

func eventsOf(a *store.SetAttempt) []answer.Event {
	if a == nil {
		return nil
	}
	events := make([]answer.Event, len(a.Events))
	for i, e := range a.Events {
		events[i] = answer.Event{Kind: e.Kind, Ask: e.Ask, Text: e.Text, Verdict: e.Verdict, Slip: e.Slip}
	}
	return events
}

func sheetOf(d *store.Desk, a *store.SetAttempt, of *answer.Sheet) SetSheet {
	sent := *of
	sent.Solution = of.Solution.FirstPage()
	sheet := SetSheet{Sheet: &sent, Version: int64(d.Version), DataVersion: 1}
	if a != nil {
		sheet.Events, sheet.BegunAt = len(a.Events), &a.BegunAt
		if d.Set.In == access.Teacher {
			for _, e := range a.Events {
				sheet.Done = append(sheet.Done, DoneView{e.Kind, e.Ask, e.Text, e.Verdict, e.Slip, e.At})
			}
		}
	}
	return sheet
}

func (r *Classroom) getTry(c *echo.Context, id uuid.UUID) error {
	d, _, err := r.deskFor(c, id)
	if err != nil {
		return err
	}
	return r.at(c.Request().Context(), id, d, func(ctx context.Context, l *lay) error {
		sheet, err := l.attempt.After(ctx, eventsOf(d.Attempt))
		if err != nil {
			return err
		}
		return exchange.Write(c, http.StatusOK, sheetOf(d, d.Attempt, sheet))
	})
}

// SetTryRequest adds an event to an attempt at a problem of a set.
type SetTryRequest struct {
	Version     int64  `json:"version"`
	DataVersion int64  `json:"data_version"`
	After       int    `json:"after"` // how many events the person had seen
	Kind        string `json:"kind"`
	Ask         string `json:"ask,omitzero"`
	Text        string `json:"text,omitzero"`
}

func (r *Classroom) addToTry(c *echo.Context, id uuid.UUID) error {
	var request SetTryRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	who := people.Who(c)
	d, err := r.store.Desk(c.Request().Context(), who, id, who.ID)
	if err != nil {
		return err
	}
	if d.Set.In != access.Student {
		return problem.Errors{{Says: "you look at this set as its students see it", Instead: "answers are theirs to give"}}
	}
	events := eventsOf(d.Attempt)
	if int64(d.Version) != request.Version || len(events) != request.After {
		return &store.StaleError{What: "attempt", Current: int64(len(events)), UpdatedAt: time.Now()}
	}
	var sheet *answer.Sheet
	events = append(events, answer.Event{Kind: request.Kind, Ask: request.Ask, Text: request.Text})
	err = r.at(c.Request().Context(), id, d, func(ctx context.Context, l *lay) error {
		before, err := l.attempt.After(ctx, events[:len(events)-1])
		if err == nil {
			sheet, err = l.attempt.Add(ctx, before, events)
		}
		return err
	})
	if err != nil {
		return err
	}
	event := events[len(events)-1]
	attempt, err := r.store.AddToSet(c.Request().Context(), who, id, d.Version, d.Seed, request.After, store.Event{
		Kind: event.Kind, Ask: event.Ask, Text: event.Text, Verdict: event.Verdict, Slip: event.Slip,
	}, problemset.StandingOf(sheet, events))
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, sheetOf(d, attempt, sheet))
}

// RowsRequest asks for a page of a table.
type RowsRequest struct {
	Table string `json:"table"`
	From  int    `json:"from,omitzero"`
}

func (r *Classroom) rowsOfTry(c *echo.Context, id uuid.UUID) error {
	var request RowsRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	d, _, err := r.deskFor(c, id)
	if err != nil {
		return err
	}
	return r.at(c.Request().Context(), id, d, func(ctx context.Context, l *lay) error {
		sheet, err := l.attempt.After(ctx, eventsOf(d.Attempt))
		if err != nil {
			return err
		}
		return writePage(c, sheet.Solution, request)
	})
}

func writePage(c *echo.Context, s *working.Solution, request RowsRequest) error {
	table := s.Table(request.Table)
	if table == nil {
		return echo.NewHTTPError(http.StatusNotFound, "The solution has no such table.")
	}
	return exchange.Write(c, http.StatusOK, table.Page(request.From))
}

// SolutionRequest asks for the worked solution, or a page of one of its tables.
type SolutionRequest struct {
	RowsRequest `json:",inline"`
	// What a page of the solution names beside, which has no meaning here.
	Version     int64         `json:"version,omitzero"`
	DataVersion int64         `json:"data_version,omitzero"`
	Set         []problem.Set `json:"set,omitempty"`
	Steps       int           `json:"steps,omitzero"`
}

// workSetProblem returns the worked solution as somebody gets it, once it may be read.
func (r *Classroom) workSetProblem(c *echo.Context, id uuid.UUID) error {
	var request SolutionRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	d, _, err := r.deskFor(c, id)
	if err != nil {
		return err
	}
	if !r.mayRead(d) {
		return echo.NewHTTPError(http.StatusForbidden, "The solution of this set cannot be read yet.")
	}
	ctx := c.Request().Context()
	p, err := r.variant(ctx, &d.Asked, d.File, d.Seed)
	if err != nil {
		return err
	}
	solution, err := procedure.Work(ctx, p)
	if err != nil {
		return err
	}
	if request.Table != "" {
		return writePage(c, solution, request.RowsRequest)
	}
	return exchange.Write(c, http.StatusOK, SetSolution{int64(d.Version), 1, solution.FirstPage()})
}

// SetSolution is the worked solution of a problem of a set.
type SetSolution struct {
	Version     int64             `json:"version"`
	DataVersion int64             `json:"data_version"`
	Solution    *working.Solution `json:"solution"`
}
