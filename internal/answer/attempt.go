package answer

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"grund/internal/formula"
	"grund/internal/mask"
	"grund/internal/problem"
	"grund/internal/working"
)

// The kinds of event.
const (
	Answered = "answer"
	Helped   = "help" // takes the next help for an ask
	Undone   = "undo" // takes the last answer back
)

// An Event is one thing that a person did in an attempt.
type Event struct {
	Kind    string
	Ask     string
	Text    string // what was answered
	Verdict string // on it, at the time
	Slip    string
}

// MaxEvents is how many events an attempt may have.
const MaxEvents = 3000

// A Sheet is where a person stands who works a problem: what was asked so far, what was answered, and as much of the
// solution as was earned.
type Sheet struct {
	Items    []Item            `json:"items"`
	Open     working.StepID    `json:"open,omitzero"` // the step that is worked; none at the end
	Answered int               `json:"answered"`
	Of       int               `json:"of"` // asks in all
	CanUndo  bool              `json:"can_undo"`
	Solution *working.Solution `json:"solution"`
	Summary  *Summary          `json:"summary"` // nil before the end
}

// An Item is an ask with what the person did about it.
type Item struct {
	Ask
	Text    string   `json:"text,omitzero"` // the answer, where there is one
	Verdict *Verdict `json:"verdict,omitzero"`
	Tries   int      `json:"tries"` // that could be read
	Help    []Help   `json:"help"`  // that was taken
	Helps   int      `json:"helps"` // that there are
	Shown   bool     `json:"shown"` // given up: the last help says the answer
	// Left is how often it may still be answered, where that is bounded.
	Left *int `json:"left,omitzero"`
}

// A Help is a step of help: words, a formula in TeX, or, at the end, the answer.
type Help struct {
	Words string `json:"words,omitzero"`
	TeX   string `json:"tex,omitzero"`
}

// A Summary says at the end how it went.
type Summary struct {
	FirstGo int        `json:"first_go"` // asks that were right at first go, without help
	Right   int        `json:"right"`    // in the end
	Shown   int        `json:"shown"`
	Helped  []string   `json:"helped"` // the labels of asks for which help was taken
	Slips   []SlipMade `json:"slips"`
}

// A SlipMade is a slip that was made, in words, and where.
type SlipMade struct {
	Slip  string   `json:"slip"`
	Says  string   `json:"says"`
	Asked []string `json:"asked"` // labels
}

// Item returns the item of an ask, nil where it is not asked yet.
func (s *Sheet) Item(ask string) *Item {
	for i := range s.Items {
		if s.Items[i].ID == ask {
			return &s.Items[i]
		}
	}
	return nil
}

// Credited reports whether a verdict counts as right.
func Credited(verdict string) bool {
	return slices.Contains([]string{Right, Coarse, Accepted, Follows, ReadThrough}, verdict)
}

// earns reports whether with a verdict the number itself is known. What only follows is right for other numbers.
func earns(verdict string) bool { return verdict != Follows && Credited(verdict) }

// history is what the events come to for an ask.
type history struct {
	texts []string // answers that were not taken back
	tries int      // that could be read
	help  int
	first string // the verdict on the first of them
}

// An Attempt is a person's work on a problem, which was worked for it. It may be kept for the next answer, one at a time; after
// an error it is of no more use, as what was worked with a context that has ended is half known.
type Attempt struct{ judge *judge }

// Asks returns everything that the problem asks, in the order of the work.
func (a *Attempt) Asks() []Ask { return a.judge.asks() }

// NewAttempt works the problem.
func NewAttempt(ctx context.Context, p *problem.Problem) (*Attempt, error) {
	j, err := newJudge(ctx, p)
	return &Attempt{j}, err
}

// After returns where the person stands after the events.
func (a *Attempt) After(ctx context.Context, events []Event) (*Sheet, error) {
	j := a.judge
	j.reworkIn(ctx)
	all := j.asks()
	known, order := historiesOf(all, events)
	verdicts, err := j.verdicts(ctx, all, known)
	if err != nil {
		return nil, err
	}
	// Where tries are counted an answer that is given is given.
	bounded := j.problem.Try != nil && j.problem.Try.Tries != nil
	sheet := &Sheet{Items: []Item{}, Of: len(all), CanUndo: len(order) > 0 && !bounded}
	earning := mask.Earning{Asked: map[working.Ref]mask.Asked{}}
	items := make([]Item, len(all))
	for i, a := range all {
		h := known[a.ID]
		helps, shows := j.allowed(j.helps(a))
		item := Item{
			Ask: a, Tries: h.tries, Helps: len(helps), Help: helps[:min(h.help, len(helps))], Shown: shows && h.help >= len(helps),
		}
		if verdict, is := verdicts[a.ID]; is {
			item.Text, item.Verdict = h.texts[len(h.texts)-1], &verdict
		}
		if bounded {
			left := max(0, *j.problem.Try.Tries-h.tries)
			item.Left = &left
		}
		items[i] = item
		earning.Asked[working.Ref(a.ID)] = mask.Asked{Step: a.Step, Earned: item.Shown || item.Verdict != nil && earns(item.Verdict.Verdict)}
	}
	gated := false
	for _, item := range items {
		settled := item.isSettled()
		if settled {
			sheet.Answered++
		} else if sheet.Open == "" {
			sheet.Open = item.Step
		}
		if !gated && (sheet.Open == "" || item.Step == sheet.Open) {
			sheet.Items = append(sheet.Items, item)
		}
		gated = gated || !settled && slices.Contains(gates, item.ID)
	}
	earning.Open = sheet.Open
	sheet.Solution = mask.Earned(j.solution, earning)
	if sheet.Open == "" {
		sheet.Summary = summaryOf(items, known, events)
	}
	for i := range sheet.Items {
		for k := range sheet.Items[i].Help {
			help := &sheet.Items[i].Help[k]
			help.TeX = j.resolve(help.TeX, earning)
		}
	}
	return sheet, nil
}

// verdicts judges the answers that stand.
func (j *judge) verdicts(ctx context.Context, all []Ask, known map[string]*history) (map[string]Verdict, error) {
	var answers []Answer
	for _, a := range all {
		if texts := known[a.ID].texts; len(texts) > 0 {
			answers = append(answers, Answer{a.ID, texts[len(texts)-1]})
		}
	}
	verdicts, err := j.check(ctx, answers)
	if err == nil {
		err = ctx.Err()
	}
	return verdicts, err
}

// JudgeAgain returns events that were judged by another version of the problem with the verdicts of this one: on each answer as
// it was given, with what stood beside it then. An answer to what is not asked any more has none.
func (a *Attempt) JudgeAgain(ctx context.Context, events []Event) ([]Event, error) {
	a.judge.reworkIn(ctx)
	all := a.judge.asks()
	events = slices.Clone(events)
	for i := range events {
		if events[i].Kind != Answered {
			continue
		}
		known, _ := historiesOf(all, events[:i+1])
		verdicts, err := a.judge.verdicts(ctx, all, known)
		if err != nil {
			return nil, err
		}
		of := verdicts[events[i].Ask]
		events[i].Verdict, events[i].Slip = of.Verdict, of.Slip
	}
	return events, nil
}

// Given returns the step of the data as somebody sees it who has worked nothing of it yet, and the solution that its tables are in:
// the cases, or the counts and the summaries that the problem gives, with room where something is asked for.
func (a *Attempt) Given() (*working.Solution, *working.Step) {
	earning := mask.Earning{Open: working.Data, Asked: map[working.Ref]mask.Asked{}}
	for _, each := range a.judge.asks() {
		earning.Asked[working.Ref(each.ID)] = mask.Asked{Step: each.Step, Earned: each.Step == working.Question}
	}
	given := mask.Earned(a.judge.solution, earning)
	return given, given.Step(working.Data)
}

// Add returns where the person stands after the events, the last of which is new and gets its verdict; before is where they
// stood without it. An event that has no place in the attempt is an error of type problem.Errors.
func (a *Attempt) Add(ctx context.Context, before *Sheet, events []Event) (*Sheet, error) {
	last := &events[len(events)-1]
	if err := before.takes(last, len(events)-1); err != nil {
		return nil, err
	}
	sheet, err := a.After(ctx, events)
	if err != nil {
		return nil, err
	}
	item := sheet.Item(last.Ask)
	if last.Kind != Answered || item == nil || item.Verdict == nil {
		return sheet, nil
	}
	last.Verdict, last.Slip = item.Verdict.Verdict, item.Verdict.Slip
	if sheet.Summary != nil || last.Verdict == Unreadable { // which tell of the verdict on the last answer
		return a.After(ctx, events)
	}
	return sheet, nil
}

// takes refuses an event that has no place after so many.
func (s *Sheet) takes(e *Event, events int) error {
	if events >= MaxEvents {
		return problem.TooMany("/kind", "there are more events", MaxEvents, "begin anew")
	}
	item := s.Item(e.Ask)
	switch {
	case e.Kind == Undone && !s.CanUndo:
		return problem.Errors{{Pointer: "/kind", Says: "there is no answer to take back", Instead: "answer first"}}
	case e.Kind == Undone:
		return nil
	case e.Kind != Answered && e.Kind != Helped:
		return problem.Errors{problem.Unknown("/kind", "kind", e.Kind, []string{Answered, Helped, Undone})}
	case item == nil:
		return problem.Errors{{Pointer: "/ask", Says: "this is not asked yet", Instead: "answer what comes before it"}}
	case e.Kind == Answered && item.closed():
		return problem.Errors{{Pointer: "/text", Says: "it was answered as often as it may be", Instead: "go on with what is asked next"}}
	case e.Kind == Helped && len(item.Help) == item.Helps:
		return problem.Errors{{Pointer: "/kind", Says: "there is no more help", Instead: "go on"}}
	case len(e.Text) > MaxAnswer:
		return problem.Errors{{
			Pointer: "/text", Says: fmt.Sprintf("it has %d bytes", len(e.Text)), Instead: fmt.Sprintf("an answer has %d at most", MaxAnswer),
		}}
	}
	return nil
}

// historiesOf returns what the events come to for each ask, and the asks of the answers that stand, in the order of these.
func historiesOf(all []Ask, events []Event) (known map[string]*history, order []string) {
	known = map[string]*history{}
	for _, a := range all {
		known[a.ID] = &history{}
	}
	for _, e := range events {
		h := known[e.Ask]
		switch {
		case e.Kind == Undone && len(order) > 0:
			last := known[order[len(order)-1]]
			last.texts = last.texts[:len(last.texts)-1]
			order = order[:len(order)-1]
		case h == nil: // of an ask that there is no longer
		case e.Kind == Answered:
			h.texts = append(h.texts, e.Text)
			order = append(order, e.Ask)
			if e.Verdict == Unreadable { // which is never counted as wrong
				break
			}
			if h.tries == 0 {
				h.first = e.Verdict
			}
			h.tries++
		case e.Kind == Helped:
			h.help++
		}
	}
	return known, order
}

// gates are the choices before which the rest of a step is not asked, as it would tell them.
var gates = []string{askClaim, askHypotheses, askRegion, askConclusion}

// isSettled reports whether a person may go on from an ask: it was answered, rightly or not, or given up, or may be answered no
// more.
func (i *Item) isSettled() bool {
	return i.Shown || i.Verdict != nil && i.Verdict.Verdict != Unreadable || i.closed()
}

// closed reports whether an ask may be answered no more.
func (i *Item) closed() bool { return i.Left != nil && *i.Left == 0 }

// Credited reports whether the answer counts as right.
func (i *Item) Credited() bool { return !i.Shown && i.Verdict != nil && Credited(i.Verdict.Verdict) }

// summaryOf says how an attempt went that has come to its end.
func summaryOf(items []Item, known map[string]*history, events []Event) *Summary {
	s := &Summary{Helped: []string{}, Slips: []SlipMade{}}
	labels := map[string]string{}
	for _, item := range items {
		labels[item.ID] = item.Label
		h := known[item.ID]
		switch {
		case item.Shown:
			s.Shown++
		case item.Credited():
			s.Right++
			if Credited(h.first) && h.help == 0 {
				s.FirstGo++
			}
		}
		if h.help > 0 {
			s.Helped = append(s.Helped, item.Label)
		}
	}
	for _, e := range events {
		if e.Kind != Answered || e.Slip == "" {
			continue
		}
		at := slices.IndexFunc(s.Slips, func(made SlipMade) bool { return made.Slip == e.Slip })
		if at < 0 {
			s.Slips = append(s.Slips, SlipMade{Slip: e.Slip, Says: SlipSays(e.Slip)})
			at = len(s.Slips) - 1
		}
		if made := &s.Slips[at]; !slices.Contains(made.Asked, labels[e.Ask]) {
			made.Asked = append(made.Asked, labels[e.Ask])
		}
	}
	return s
}

// allowed returns the steps of help that the problem allows, and whether the last of them gives the answer up.
func (j *judge) allowed(helps []Help) (allowed []Help, shows bool) {
	if t := j.problem.Try; t != nil && t.Help != nil && *t.Help < problem.MostHelp {
		return helps[:min(*t.Help, len(helps)-1)], false
	}
	return helps, true
}

// helps are the steps of help for an ask: what it is in words, its formula in symbols, with this problem's numbers, and
// what it is.
func (j *judge) helps(a Ask) []Help {
	if a.Kind != askNumber {
		return j.helpsToChoose(a)
	}
	if q := j.solution.Quantity(working.Ref(a.ID)); q != nil {
		helps := []Help{{Words: q.Says}}
		if q.Says == "" {
			helps = nil
		}
		if q.Formula != nil {
			helps = append(helps, Help{TeX: q.Symbol + " = " + j.inSymbols(q.Formula.Symbolic)},
				Help{TeX: q.Symbol + " = " + cmp.Or(q.Formula.Numeric, q.Formula.Symbolic)})
		}
		return append(helps, Help{Words: strings.TrimSpace(q.Display + " " + q.Unit)})
	}
	ref := working.Ref(a.ID)
	symbolic, numeric := j.solution.CellFormula(ref)
	return []Help{
		{Words: "How many cases would be there if H₀ were true."}, {TeX: a.Symbol + " = " + j.inSymbols(symbolic)},
		{TeX: a.Symbol + " = " + numeric},
		{Words: j.solution.ShownCell(ref)},
	}
}

// helpsToChoose are the helps for what is chosen or written.
func (j *judge) helpsToChoose(a Ask) []Help {
	hints := map[string]string{
		askClaim:      "H₀ holds the equality: is there one in the claim, “is”, “at most” or “at least”?",
		askHypotheses: "H₀ holds the equality, and both are about the population. H₁ is what the question looks for: one side, or both.",
		askRegion:     "The region lies where H₁ points.",
		askDecision:   "H₀ is rejected when the statistic lies in the rejection region, which is when p is at most α.",
		askConclusion: "Say what the decision says: that there is evidence for H₁, or that there is not. No more.",
		askOwn:        "Say what was measured and where, whether the data are evidence for it, and at which level.",
	}
	hint, known := hints[a.ID]
	if !known {
		hint = "Look at how the cases came about, at how many there are, and at the picture of the data."
	}
	if a.ID == askOwn {
		return []Help{{Words: hint}, {Words: j.solution.Conclusion}}
	}
	_, right, _ := j.choices(a.ID)
	for _, c := range a.Choices {
		if c.Value == right {
			return []Help{{Words: hint}, {Words: c.Words}}
		}
	}
	return []Help{{Words: hint}}
}

// inSymbols puts symbols into a formula.
func (j *judge) inSymbols(teX string) string {
	return formula.Resolve(teX, func(id string) string {
		if q := j.solution.Quantity(working.Ref(id)); q != nil {
			return q.Symbol
		}
		return ""
	})
}

// resolve puts numbers into a formula: those that are earned, and of others the symbol.
func (j *judge) resolve(teX string, earning mask.Earning) string {
	return formula.Resolve(teX, func(id string) string {
		q := j.solution.Quantity(working.Ref(id))
		if q == nil {
			return ""
		}
		if asked, is := earning.Asked[q.ID]; is && !asked.Earned {
			return q.Symbol
		}
		return formula.TeXNumber(q.Display)
	})
}
