package classroom

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/store"
	"grund/internal/working"
)

// Standings are where a class stands with a set: all of it, or what went on since a time.
type Standings struct {
	At       time.Time       `json:"at"` // since which the next ones are asked for
	Set      SetView         `json:"set"`
	Problems []AsksOfProblem `json:"problems"` // none where only what went on is asked for
	Students []StudentView   `json:"students"`
	Attempts []AttemptView   `json:"attempts"`
	// Slips are the words of the slips that were made, by their ids.
	Slips map[string]string `json:"slips"`
}

// AsksOfProblem is what a problem of a set asks.
type AsksOfProblem struct {
	ID    string    `json:"id"`
	Title string    `json:"title"`
	Asks  []AskView `json:"asks"`
}

// AskView is an ask as the page of the class names it.
type AskView struct {
	ID    string `json:"id"`
	Step  string `json:"step"`
	Label string `json:"label"`
}

// StudentView is a student as the page of the class names them.
type StudentView struct {
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	HandedIn *time.Time `json:"handed_in"`
}

// AttemptView is where a student stands with a problem.
type AttemptView struct {
	ID        string              `json:"id"`
	Student   string              `json:"student"`
	Problem   string              `json:"problem"`
	Standing  problemset.Standing `json:"standing"`
	UpdatedAt time.Time           `json:"updated_at"`
	// Marks say how each step is going.
	Marks map[working.StepID]problemset.Mark `json:"marks"`
	// Needs says why the student needs somebody: “same_slip” or “no_step”; "" where they do not.
	Needs string `json:"needs,omitzero"`
}

func (r *Classroom) getStandings(c *echo.Context, id uuid.UUID) error {
	var since time.Time
	if text := c.QueryParam("since"); text != "" {
		var err error
		if since, err = time.Parse(time.RFC3339Nano, text); err != nil {
			return problem.Errors{{Pointer: "/since", Says: "this is no time", Instead: "give the one that came with what was read"}}
		}
	}
	ctx, who, now := c.Request().Context(), people.Who(c), time.Now()
	set, err := r.store.TaughtSet(ctx, who, id)
	if err != nil {
		return err
	}
	roster, err := r.store.Roster(ctx, who, set.Class)
	if err != nil {
		return err
	}
	attempts, err := r.store.ClassAttempts(ctx, who, id, since)
	if err != nil {
		return err
	}
	handedIn, err := r.store.HandedIn(ctx, who, id)
	if err != nil {
		return err
	}
	out := Standings{At: since, Set: setView(set), Problems: []AsksOfProblem{}, Students: studentsOf(roster, handedIn),
		Attempts: []AttemptView{}, Slips: map[string]string{}}
	asks, err := r.asksOf(ctx, set)
	if err != nil {
		return err
	}
	for _, a := range attempts {
		needs, _ := a.Standing.NeedsSomebody(now, a.UpdatedAt)
		out.Attempts = append(out.Attempts, AttemptView{
			ID: a.ID.String(), Student: a.Person.String(), Problem: a.SetProblem.String(), Standing: a.Standing, UpdatedAt: a.UpdatedAt,
			Marks: marksOf(asks, &a), Needs: needs,
		})
		if a.UpdatedAt.After(out.At) {
			out.At = a.UpdatedAt
		}
		for _, slip := range a.Standing.Slips {
			out.Slips[slip.Slip] = answer.SlipSays(slip.Slip)
		}
	}
	if since.IsZero() {
		out.Problems = asks
	}
	return exchange.Write(c, http.StatusOK, out)
}

// asksOf returns what the problems of a set ask.
func (r *Classroom) asksOf(ctx context.Context, set *store.ProblemSet) ([]AsksOfProblem, error) {
	out := []AsksOfProblem{}
	for _, p := range set.Problems {
		asks, err := r.asksOfProblem(ctx, set, p)
		if err != nil {
			return nil, err
		}
		of := AsksOfProblem{ID: p.ID.String(), Title: p.Title, Asks: []AskView{}}
		for _, ask := range asks {
			of.Asks = append(of.Asks, AskView{ask.ID, string(ask.Step), ask.Label})
		}
		out = append(out, of)
	}
	return out, nil
}

// asksOfProblem returns what a problem of a set asks with its own numbers. It is worked once for each version.
func (r *Classroom) asksOfProblem(ctx context.Context, set *store.ProblemSet, p store.SetProblem) ([]answer.Ask, error) {
	key := layKey{problem: p.ID, version: p.Version}
	if asks := r.asked.get(key); asks != nil {
		return asks, nil
	}
	file, _, _, err := r.store.HandedOut(ctx, people.Of(ctx), p.ID)
	if err != nil {
		return nil, err
	}
	own, err := problem.Parse(file)
	if err != nil {
		return nil, err
	}
	list, err := answer.Asks(ctx, set.Settings.Asked(own))
	if err != nil {
		return nil, err
	}
	r.asked.add(key, list.Asks)
	return list.Asks, nil
}

// marksOf says how the steps of an attempt are going, of those that ask for something.
func marksOf(problems []AsksOfProblem, a *store.ClassAttempt) map[working.StepID]problemset.Mark {
	marks := map[working.StepID]problemset.Mark{}
	of := map[working.StepID]int{}
	for _, p := range problems {
		if p.ID == a.SetProblem.String() {
			for _, ask := range p.Asks {
				of[working.StepID(ask.Step)]++
			}
		}
	}
	for step, n := range of {
		marks[step] = a.Standing.StepMark(step, n)
	}
	return marks
}

func studentsOf(roster []store.Member, handedIn []store.HandedIn) []StudentView {
	out := []StudentView{}
	at := map[uuid.UUID]time.Time{}
	for _, h := range handedIn {
		at[h.Person] = h.At
	}
	for _, m := range roster {
		if m.In != access.Student {
			continue
		}
		s := StudentView{ID: m.Person.String(), Name: m.Name}
		if t, is := at[m.Person]; is {
			s.HandedIn = &t
		}
		out = append(out, s)
	}
	return out
}

// RemarkRequest says something at an ask of an attempt: words for the student, and points set by hand.
type RemarkRequest struct {
	Ask    string   `json:"ask"`
	Words  string   `json:"words,omitzero"`
	Points *float64 `json:"points,omitzero"`
}

// maxWords is how many bytes an instructor's words at an ask may have.
const maxWords = 2000

func (r *Classroom) putRemark(c *echo.Context, id uuid.UUID) error {
	var request RemarkRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	var errs problem.Errors
	errs.CheckText("/ask", request.Ask, problemset.MaxTitle)
	errs.CheckText("/words", request.Words, maxWords)
	if p := request.Points; p != nil && !(*p >= 0 && *p <= 1000) {
		errs.Add("/points", fmt.Sprintf("they are %v", *p), "give a number from 0 to 1000")
	}
	if len(errs) > 0 {
		return errs
	}
	return done(c, r.store.SetRemark(c.Request().Context(), people.Who(c), id, request.Ask, request.Words, request.Points))
}

// listeners are those who are told when a set's attempts go on.
type listeners struct {
	mu    sync.Mutex
	bySet map[uuid.UUID]map[chan struct{}]bool
}

// mostListeners bounds those of one server.
const mostListeners = 2000

func newListeners() *listeners { return &listeners{bySet: map[uuid.UUID]map[chan struct{}]bool{}} }

// listen returns what is told, and what ends it; nil where there are too many.
func (l *listeners) listen(set uuid.UUID) (told chan struct{}, end func()) {
	l.mu.Lock()
	defer l.mu.Unlock()
	n := 0
	for _, of := range l.bySet {
		n += len(of)
	}
	if n >= mostListeners {
		return nil, nil
	}
	told = make(chan struct{}, 1)
	if l.bySet[set] == nil {
		l.bySet[set] = map[chan struct{}]bool{}
	}
	l.bySet[set][told] = true
	return told, func() {
		l.mu.Lock()
		defer l.mu.Unlock()
		delete(l.bySet[set], told)
		if len(l.bySet[set]) == 0 {
			delete(l.bySet, set)
		}
	}
}

// tell tells those who listen to a set; who has not heard yet of what was before hears once.
func (l *listeners) tell(set uuid.UUID) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for told := range l.bySet[set] {
		select {
		case told <- struct{}{}:
		default:
		}
	}
}

// tellAll tells everybody: what went on may have been missed.
func (l *listeners) tellAll() {
	l.mu.Lock()
	sets := make([]uuid.UUID, 0, len(l.bySet))
	for set := range l.bySet {
		sets = append(sets, set)
	}
	l.mu.Unlock()
	for _, set := range sets {
		l.tell(set)
	}
}

// Watch tells those who listen of what any server on the database takes, until the context is done.
func (r *Classroom) Watch(ctx context.Context) {
	for pause := time.Second; ctx.Err() == nil; {
		err := r.store.Listen(ctx, r.told.tellAll, r.told.tell)
		if ctx.Err() != nil {
			return
		}
		slog.Warn("the database does not tell of answers any more; it is asked again", "error", err)
		select {
		case <-ctx.Done():
		case <-time.After(pause):
		}
	}
}

// between is the least time from one word to the next, and calm how often somebody is told that the line still stands.
const (
	between = 500 * time.Millisecond
	calm    = 20 * time.Second
)

// live returns what tells of something in lines of server-sent events, for as long as somebody listens: twice a second at most.
// may is asked at first and from time to time whether they may hear of it.
func (r *Classroom) live(may func(ctx context.Context, who access.Person, id uuid.UUID) error) echo.HandlerFunc {
	return exchange.WithID(func(c *echo.Context, id uuid.UUID) error {
		if err := may(c.Request().Context(), people.Who(c), id); err != nil {
			return err
		}
		return r.tellOn(c, id, may)
	})
}

// LiveRoutes adds what stays open for as long as somebody listens: a set's attempts for its instructors, what a class is asked for
// all who are in it, and the answers to that for its instructors.
func (r *Classroom) LiveRoutes(route func(path string, handle echo.HandlerFunc)) {
	route("/sets/:id/live", r.live(func(ctx context.Context, who access.Person, id uuid.UUID) error {
		_, err := r.store.TaughtSet(ctx, who, id)
		return err
	}))
	route("/classes/:id/live", r.live(func(ctx context.Context, who access.Person, id uuid.UUID) error {
		_, err := r.store.Class(ctx, who, id)
		return err
	}))
	route("/polls/:id/live", r.live(func(ctx context.Context, who access.Person, id uuid.UUID) error {
		p, err := r.store.Poll(ctx, who, id)
		if err == nil && p.In != access.Teacher {
			return store.ErrNotFound
		}
		return err
	}))
}

// tellOn tells of something until nobody listens any more.
func (r *Classroom) tellOn(c *echo.Context, id uuid.UUID, may func(ctx context.Context, who access.Person, id uuid.UUID) error) error {
	ctx := c.Request().Context()
	told, end := r.told.listen(id)
	if told == nil {
		return echo.NewHTTPError(http.StatusServiceUnavailable, "More people watch than this server can tell.")
	}
	defer end()
	response := c.Response()
	response.Header().Set("Content-Type", "text/event-stream")
	response.Header().Set("Cache-Control", "no-store")
	response.WriteHeader(http.StatusOK)
	controller := http.NewResponseController(response)
	_ = controller.SetReadDeadline(time.Time{})
	say := func(line string) error {
		if _, err := fmt.Fprint(response, line); err != nil {
			return err
		}
		return controller.Flush()
	}
	if err := say(": listening\n\n"); err != nil {
		return nil
	}
	for {
		select {
		case <-ctx.Done():
			return nil
		case <-told:
			if say("data: on\n\n") != nil {
				return nil
			}
			select { // not faster than it can be looked at
			case <-ctx.Done():
				return nil
			case <-time.After(between):
			}
		case <-time.After(calm):
			// Who was taken off the class hears no more.
			if err := may(ctx, people.Who(c), id); err != nil {
				return nil
			}
			if say(": calm\n\n") != nil {
				return nil
			}
		}
	}
}
