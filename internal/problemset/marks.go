package problemset

import (
	"slices"

	"grund/internal/answer"
)

// An AskMark is what an ask brought.
type AskMark struct {
	Ask    string  `json:"ask"`
	Points float64 `json:"points"`
	Of     float64 `json:"of"`
	ByHand bool    `json:"by_hand,omitzero"` // set by the instructor
}

// Marks returns what each ask of a problem brought: all its points for an answer that counts as right, also one that follows
// from an earlier slip, which is paid for once; less what further tries and help cost; nothing for one that was given up. What
// was set by hand counts as it was set.
func (s *Settings) Marks(asks []answer.Ask, points Points, of *Standing, byHand map[string]float64) []AskMark {
	marks := make([]AskMark, len(asks))
	for i, ask := range asks {
		mark := AskMark{Ask: ask.ID, Of: points.Of(ask.ID)}
		if of != nil {
			at := slices.IndexFunc(of.Asks, func(a AskStanding) bool { return a.Ask == ask.ID })
			if at >= 0 {
				mark.Points = mark.Of * s.share(of.Asks[at])
			}
		}
		if set, is := byHand[ask.ID]; is {
			mark.Points, mark.ByHand = set, true
		}
		marks[i] = mark
	}
	return marks
}

// share is how much of its points an ask brought.
func (s *Settings) share(a AskStanding) float64 {
	if a.Shown || !answer.Credited(a.Verdict) {
		return 0
	}
	return max(0, 1-s.TryCosts*float64(max(0, a.Tries-1))-s.HelpCosts*float64(a.Help))
}

// Sum adds marks up.
func Sum(marks []AskMark) (points, of float64) {
	for _, m := range marks {
		points += m.Points
		of += m.Of
	}
	return points, of
}
