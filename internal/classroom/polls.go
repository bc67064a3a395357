package classroom

import (
	"cmp"
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/store"
)

// PollView is one ask of a problem that a class is asked while it is on the screen.
type PollView struct {
	ID       string     `json:"id"`
	Class    string     `json:"class"`
	Title    string     `json:"title"` // of the problem
	Ask      answer.Ask `json:"ask"`
	OpenedAt time.Time  `json:"opened_at"`
	Closed   bool       `json:"closed"`
	Revealed bool       `json:"revealed"`
	Answers  int        `json:"answers"` // how many there are
	// Mine is one's own answer, and, once it is revealed, what became of it.
	Mine    string `json:"mine,omitzero"`
	Verdict string `json:"verdict,omitzero"`
	Says    string `json:"says,omitzero"`
	// Groups are the answers by what they are: for instructors, and for all once it is revealed.
	Groups []PollGroup `json:"groups"`
	// Right is an answer that is right, where the groups are told.
	Right string `json:"right,omitzero"`
}

// PollGroup are answers of one kind, without names.
type PollGroup struct {
	Verdict string   `json:"verdict"`
	Slip    string   `json:"slip,omitzero"`
	Says    string   `json:"says,omitzero"` // of the slip
	Count   int      `json:"count"`
	Texts   []string `json:"texts"` // as they were typed or chosen, the commonest first
}

// mostTexts is how many different answers of a kind are told.
const mostTexts = 5

// pollView returns a poll as who asks may see it.
func (r *Classroom) pollView(ctx context.Context, who access.Person, p *store.Poll) (*PollView, error) {
	view := &PollView{
		ID: p.ID.String(), Class: p.Class.String(), Title: p.Title, OpenedAt: p.OpenedAt, Closed: p.Closed, Revealed: p.Revealed,
		Answers: p.Answers, Mine: p.Mine, Groups: []PollGroup{},
	}
	if err := json.Unmarshal(p.Ask, &view.Ask); err != nil {
		return nil, err
	}
	told := p.In == access.Teacher || p.Revealed
	if !told {
		return view, nil
	}
	view.Verdict, view.Says = p.Verdict, answer.SlipSays(p.Slip)
	answers, err := r.store.PollAnswers(ctx, who, p.ID)
	if err != nil {
		return nil, err
	}
	view.Groups = groupsOf(answers)
	own, err := problem.Parse(p.File)
	if err != nil {
		return nil, err
	}
	a, err := answer.NewAttempt(ctx, own)
	if err != nil {
		return nil, err
	}
	view.Right = a.Right(view.Ask.ID)
	return view, nil
}

// groupsOf puts answers of one kind together, the largest group first.
func groupsOf(answers []store.PollAnswer) []PollGroup {
	groups := []PollGroup{}
	for _, a := range answers {
		at := slices.IndexFunc(groups, func(g PollGroup) bool { return g.Verdict == a.Verdict && g.Slip == a.Slip })
		if at < 0 {
			groups = append(groups, PollGroup{Verdict: a.Verdict, Slip: a.Slip, Says: answer.SlipSays(a.Slip), Texts: []string{}})
			at = len(groups) - 1
		}
		g := &groups[at]
		g.Count += a.Count
		if len(g.Texts) < mostTexts {
			g.Texts = append(g.Texts, a.Text)
		}
	}
	slices.SortStableFunc(groups, func(a, b PollGroup) int { return cmp.Compare(b.Count, a.Count) })
	return groups
}

func (r *Classroom) answerPollView(c *echo.Context, status int, p *store.Poll) error {
	view, err := r.pollView(c.Request().Context(), people.Who(c), p)
	if err != nil {
		return err
	}
	return exchange.Write(c, status, view)
}

// OpenPollRequest asks a class one ask of one's own problem.
type OpenPollRequest struct {
	Problem uuid.UUID `json:"problem"`
	Ask     string    `json:"ask"`
}

func (r *Classroom) openPoll(c *echo.Context, class uuid.UUID) error {
	var request OpenPollRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	ctx, who := c.Request().Context(), people.Who(c)
	of, err := r.store.Class(ctx, who, class)
	if err != nil {
		return err
	}
	if of.In != access.Teacher {
		return store.ErrNotFound
	}
	file, err := r.fileOf(ctx, who, "/problem", request.Problem)
	if err != nil {
		return err
	}
	own, err := problem.Parse(file.File)
	if err != nil {
		return err
	}
	own.Try = nil // whatever it asks by itself
	asks, err := answer.Asks(ctx, own)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(asks.Asks, func(a answer.Ask) bool { return a.ID == request.Ask })
	if at < 0 {
		return problem.Errors{{Pointer: "/ask", Says: "the problem asks no such thing", Instead: "take one of what it asks"}}
	}
	if file.File, err = problem.Encode(own); err != nil {
		return err
	}
	ask, err := json.Marshal(asks.Asks[at])
	if err != nil {
		return err
	}
	p, err := r.store.OpenPoll(ctx, who, class, file.Title, file.File, ask)
	if err != nil {
		return err
	}
	return r.answerPollView(c, http.StatusCreated, p)
}

// LastPoll is what a class is asked now or was last.
type LastPoll struct {
	Poll *PollView `json:"poll"`
}

func (r *Classroom) getLastPoll(c *echo.Context, class uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	p, err := r.store.LastPoll(ctx, who, class)
	if err != nil {
		return err
	}
	var last LastPoll
	if p != nil {
		if last.Poll, err = r.pollView(ctx, who, p); err != nil {
			return err
		}
	}
	return exchange.Write(c, http.StatusOK, last)
}

// PollListing is what a class was asked, in a list.
type PollListing struct {
	ID       string    `json:"id"`
	Title    string    `json:"title"`
	Label    string    `json:"label"`
	OpenedAt time.Time `json:"opened_at"`
	Answers  int       `json:"answers"`
}

func (r *Classroom) listPolls(c *echo.Context, class uuid.UUID) error {
	list, err := r.store.Polls(c.Request().Context(), people.Who(c), class)
	if err != nil {
		return err
	}
	out := make([]PollListing, len(list))
	for i, p := range list {
		var ask answer.Ask
		if err := json.Unmarshal(p.Ask, &ask); err != nil {
			return err
		}
		out[i] = PollListing{p.ID.String(), p.Title, ask.Label, p.OpenedAt, p.Answers}
	}
	return exchange.Write(c, http.StatusOK, out)
}

func (r *Classroom) getPoll(c *echo.Context, id uuid.UUID) error {
	p, err := r.store.Poll(c.Request().Context(), people.Who(c), id)
	if err != nil {
		return err
	}
	return r.answerPollView(c, http.StatusOK, p)
}

// PollRequest closes a poll, and tells what is right.
type PollRequest struct {
	Closed   bool `json:"closed"`
	Revealed bool `json:"revealed"`
}

func (r *Classroom) patchPoll(c *echo.Context, id uuid.UUID) error {
	var request PollRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	p, err := r.store.ClosePoll(c.Request().Context(), people.Who(c), id, request.Closed, request.Revealed)
	if err != nil {
		return err
	}
	return r.answerPollView(c, http.StatusOK, p)
}

// PollAnswerRequest answers what a class is asked.
type PollAnswerRequest struct {
	Text string `json:"text"`
}

func (r *Classroom) answerPoll(c *echo.Context, id uuid.UUID) error {
	var request PollAnswerRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	if n := len(request.Text); n > answer.MaxAnswer {
		return problem.TooMany("/text", "it is longer", answer.MaxAnswer, "shorten it")
	}
	ctx, who := c.Request().Context(), people.Who(c)
	p, err := r.store.Poll(ctx, who, id)
	if err != nil {
		return err
	}
	var ask answer.Ask
	if err := json.Unmarshal(p.Ask, &ask); err != nil {
		return err
	}
	own, err := problem.Parse(p.File)
	if err != nil {
		return err
	}
	verdicts, err := answer.Check(ctx, own, []answer.Answer{{Ask: ask.ID, Text: request.Text}})
	if err != nil {
		return problem.Under(err, "text")
	}
	verdict := verdicts.Verdicts[0]
	if verdict.Verdict == answer.Unreadable {
		return problem.Errors{{Pointer: "/text", Says: verdict.Says}}
	}
	if err := r.store.AnswerPoll(ctx, who, id, request.Text, verdict.Verdict, verdict.Slip); err != nil {
		return err
	}
	if p, err = r.store.Poll(ctx, who, id); err != nil {
		return err
	}
	return r.answerPollView(c, http.StatusOK, p)
}
