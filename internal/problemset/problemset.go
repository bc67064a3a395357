// Package problemset is an ordered list of problems that are handed out to a class: what it asks, when it opens and is due, what
// it costs to need help, and who gets which numbers. It knows no database and no network.
package problemset

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"grund/internal/problem"
)

// When the solution of a set may be read.
const (
	AtOnce       = "at_once"
	AfterDue     = "after_due"
	WhenReleased = "when_released"
)

var solutionWhen = []string{AtOnce, AfterDue, WhenReleased}

// Sizes of a set.
const (
	MaxProblems = 50
	MaxTitle    = 200
	maxAbout    = 5000
	maxPoints   = 1000
)

// Settings say how the problems of a set are handed out.
type Settings struct {
	Title string `json:"title"`
	About string `json:"about,omitzero"` // Markdown, for the student
	// Opens and Due are when it can be worked; at any time where nil. Who hands in later is late.
	Opens *time.Time `json:"opens,omitzero"`
	Due   *time.Time `json:"due,omitzero"`
	// Solution is when the worked solution may be read.
	Solution string `json:"solution"`
	// OtherNumbers gives everyone data of their own.
	OtherNumbers bool `json:"other_numbers,omitzero"`
	// Keep is what of a problem stays with other numbers: “decision” or “nothing”.
	Keep string `json:"keep,omitzero"`
	// Asks, Help, Tries and Digits stand in place of those of its problems; theirs count where nil.
	Asks   problem.Names `json:"asks,omitempty"`
	Help   *int          `json:"help,omitzero"`
	Tries  *int          `json:"tries,omitzero"`
	Digits *int          `json:"digits,omitzero"`
	// TryCosts and HelpCosts are what each further try and each step of help takes off an ask, as a share of its points.
	TryCosts  float64 `json:"try_costs,omitzero"`
	HelpCosts float64 `json:"help_costs,omitzero"`
}

// New returns the settings with which a set begins.
func New(title string) Settings { return Settings{Title: title, Solution: AfterDue, Keep: "decision"} }

// Check says what is wrong with the settings; nil where nothing is.
func (s *Settings) Check() error {
	var errs problem.Errors
	errs.CheckText("/title", s.Title, MaxTitle)
	errs.CheckText("/about", s.About, maxAbout)
	if !slices.Contains(solutionWhen, s.Solution) {
		errs = append(errs, problem.Unknown("/solution", "time for the solution", s.Solution, solutionWhen))
	}
	if s.Solution == AfterDue && s.Due == nil && s.Opens != nil {
		errs.Add("/due", "the solution can be read after the set is due, and it never is",
			"set when it is due, or let the solution be read at another time")
	}
	if s.Opens != nil && s.Due != nil && !s.Due.After(*s.Opens) {
		errs.Add("/due", "it is due before it opens", "set a later time")
	}
	if keeps := []string{"", "decision", "nothing"}; !slices.Contains(keeps, s.Keep) {
		errs = append(errs, problem.Unknown("/keep", "choice", s.Keep, keeps[1:]))
	}
	for _, whole := range []struct {
		at         string
		value      *int
		least, top int
	}{{"/help", s.Help, 0, problem.MostHelp}, {"/tries", s.Tries, 1, problem.MostTries}, {"/digits", s.Digits, 1, 10}} {
		if whole.value != nil && (*whole.value < whole.least || *whole.value > whole.top) {
			errs.Add(whole.at, fmt.Sprintf("it is %d", *whole.value), fmt.Sprintf("it must be a whole number from %d to %d", whole.least, whole.top))
		}
	}
	for _, share := range []struct {
		at    string
		value float64
	}{{"/try_costs", s.TryCosts}, {"/help_costs", s.HelpCosts}} {
		if !(share.value >= 0 && share.value <= 1) {
			errs.Add(share.at, fmt.Sprintf("it is %v", share.value), "it must be a share from 0 to 1")
		}
	}
	if len(errs) == 0 {
		return nil
	}
	return errs
}

// AskAlike reports whether two settings ask a problem in the same way: the same of it, with the same help and tries, and with the
// same numbers.
func (s *Settings) AskAlike(other *Settings) bool {
	same := func(a, b *int) bool { return a == b || a != nil && b != nil && *a == *b }
	return slices.Equal(s.Asks, other.Asks) && same(s.Help, other.Help) && same(s.Tries, other.Tries) && same(s.Digits, other.Digits) &&
		s.OtherNumbers == other.OtherNumbers && cmp.Or(s.Keep, "decision") == cmp.Or(other.Keep, "decision")
}

// IsOpen reports whether the set can be worked at a time.
func (s *Settings) IsOpen(now time.Time) bool { return s.Opens == nil || !now.Before(*s.Opens) }

// IsLate reports whether what is done at a time is late.
func (s *Settings) IsLate(now time.Time) bool { return s.Due != nil && now.After(*s.Due) }

// ShowsSolution reports whether the worked solution may be read at a time; released is the instructor's word.
func (s *Settings) ShowsSolution(now time.Time, released bool) bool {
	switch {
	case released:
		return true
	case s.Solution == AtOnce:
		return s.IsOpen(now)
	case s.Solution == AfterDue:
		return s.IsLate(now)
	}
	return false
}

// Points are what the asks of a problem are worth, by their ids; 1 where an ask is not named.
type Points map[string]float64

// Check says what is wrong with the points of a problem.
func (p Points) Check(at string) error {
	var errs problem.Errors
	if len(p) > 500 {
		return problem.TooMany(at, fmt.Sprintf("there are points for %d asks", len(p)), 500, "give them for those that are asked")
	}
	for ask, points := range p {
		errs.CheckText(at, ask, MaxTitle)
		if !(points >= 0 && points <= maxPoints) {
			errs.Add(at+problem.Pointer(ask), fmt.Sprintf("“%s” is worth %v", ask, points), fmt.Sprintf("it must be a number from 0 to %d",
				maxPoints))
		}
	}
	if len(errs) == 0 {
		return nil
	}
	slices.SortFunc(errs, func(a, b problem.Error) int { return compare(a.Pointer, b.Pointer) })
	return errs
}

// Of returns what an ask is worth.
func (p Points) Of(ask string) float64 {
	if points, is := p[ask]; is {
		return points
	}
	return 1
}

// Asked returns a problem as the set asks it: with the set's asks, help, tries and digits where it has any.
func (s *Settings) Asked(p *problem.Problem) *problem.Problem {
	asked := *p
	try := problem.Try{}
	if p.Try != nil {
		try = *p.Try
	}
	if s.Asks != nil {
		try.Asks = s.Asks
	}
	if s.Help != nil {
		try.Help = s.Help
	}
	if s.Tries != nil {
		try.Tries = s.Tries
	}
	asked.Try = &try
	if s.Digits != nil {
		asked.Digits = s.Digits
	}
	return &asked
}
