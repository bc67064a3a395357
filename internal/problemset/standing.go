package problemset

import (
	"cmp"
	"slices"
	"time"

	"grund/internal/answer"
	"grund/internal/working"
)

func compare(a, b string) int { return cmp.Compare(a, b) }

// A Standing is where a person stands in an attempt, ask by ask, without a word of what they typed.
type Standing struct {
	Asks     []AskStanding  `json:"asks"` // that were begun, in their order
	Slips    []SlipMade     `json:"slips"`
	Open     working.StepID `json:"open,omitzero"` // the step that is worked; none at the end
	Answered int            `json:"answered"`
	Of       int            `json:"of"`
}

// An AskStanding is what became of an ask so far.
type AskStanding struct {
	Ask     string         `json:"ask"`
	Step    working.StepID `json:"step"`
	Verdict string         `json:"verdict,omitzero"` // on the last answer
	Slip    string         `json:"slip,omitzero"`
	Tries   int            `json:"tries,omitzero"`
	Help    int            `json:"help,omitzero"` // steps that were taken
	Shown   bool           `json:"shown,omitzero"`
}

// A SlipMade is a slip that was made at an ask, mended or not, and how often.
type SlipMade struct {
	Ask   string `json:"ask"`
	Slip  string `json:"slip"`
	Times int    `json:"times"`
}

// StandingOf returns where a person stands whose events led to a sheet.
func StandingOf(sheet *answer.Sheet, events []answer.Event) Standing {
	s := Standing{Asks: []AskStanding{}, Slips: []SlipMade{}, Open: sheet.Open, Answered: sheet.Answered, Of: sheet.Of}
	for _, item := range sheet.Items {
		if item.Verdict == nil && len(item.Help) == 0 {
			continue
		}
		a := AskStanding{Ask: item.ID, Step: item.Step, Tries: item.Tries, Help: len(item.Help), Shown: item.Shown}
		if item.Verdict != nil {
			a.Verdict, a.Slip = item.Verdict.Verdict, item.Verdict.Slip
		}
		s.Asks = append(s.Asks, a)
	}
	for _, e := range events {
		if e.Kind != answer.Answered || e.Slip == "" {
			continue
		}
		at := slices.IndexFunc(s.Slips, func(made SlipMade) bool { return made.Ask == e.Ask && made.Slip == e.Slip })
		if at < 0 {
			s.Slips = append(s.Slips, SlipMade{Ask: e.Ask, Slip: e.Slip})
			at = len(s.Slips) - 1
		}
		s.Slips[at].Times++
	}
	return s
}

// IsFinished reports whether every ask was answered or given up.
func (s *Standing) IsFinished() bool { return s.Of > 0 && s.Open == "" }

// A Mark says how a step is going.
type Mark string

const (
	NotBegun  Mark = "not_begun"
	AtWork    Mark = "at_work"
	Right     Mark = "right"
	OtherRule Mark = "other_rule" // right by another rule, from an earlier slip, or as far as it goes
	Wrong     Mark = "wrong"      // a slip, or a wrong answer, that is not mended
	Helped    Mark = "helped"     // right in the end, with help
	ShownMark Mark = "shown"      // given up
)

// StepMark says how a step is going that asks for so many things.
func (s *Standing) StepMark(step working.StepID, of int) Mark {
	done, begun := 0, false
	mark := Right
	worse := func(m Mark) {
		order := []Mark{Right, OtherRule, Helped, ShownMark, Wrong}
		if slices.Index(order, m) > slices.Index(order, mark) {
			mark = m
		}
	}
	for _, a := range s.Asks {
		if a.Step != step {
			continue
		}
		begun = true
		switch {
		case a.Shown:
			done++
			worse(ShownMark)
		case a.Verdict == "":
		case !answer.Credited(a.Verdict):
			if a.Verdict != answer.Unreadable {
				done++
				worse(Wrong)
			}
		default:
			done++
			if a.Verdict != answer.Right {
				worse(OtherRule)
			}
			if a.Help > 0 {
				worse(Helped)
			}
		}
	}
	switch {
	case mark == Wrong:
		return Wrong
	case done >= of && of > 0:
		return mark
	case begun || s.Open == step:
		return AtWork
	}
	return NotBegun
}

// Waits say who needs somebody: who has come no step further for so long while at work, or made the same slip so often.
const (
	stuckAfter = 10 * time.Minute
	goneAfter  = 2 * time.Hour
	sameSlip   = 3
)

// NeedsSomebody says why a person needs somebody at a time, "" where they do not; last is when they did something last.
func (s *Standing) NeedsSomebody(now, last time.Time) (why string, of *SlipMade) {
	if s.IsFinished() {
		return "", nil
	}
	for i, slip := range s.Slips {
		if mended := slices.ContainsFunc(s.Asks, func(a AskStanding) bool {
			return a.Ask == slip.Ask && (a.Shown || answer.Credited(a.Verdict))
		}); slip.Times >= sameSlip && !mended {
			return "same_slip", &s.Slips[i]
		}
	}
	if since := now.Sub(last); since >= stuckAfter && since < goneAfter {
		return "no_step", nil
	}
	return "", nil
}
