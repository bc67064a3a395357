package working

import "grund/internal/problem"

// Compared is what a test compares, and by what.
type Compared struct {
	// Of names it: the first and the second where there are two, all groups where there are more,
	// and what is measured beside its value under H₀ where there is one.
	Of []string `json:"of"`
	// By is the quantity that says how they stand to each other.
	By Ref `json:"by"`
}

// A Hypothesis is what H₀ or H₁ states of what is compared: as data, in symbols and in words.
type Hypothesis struct {
	Says    problem.Statement `json:"says"`
	Symbols string            `json:"symbols"` // TeX
	Words   string            `json:"words"`
}

// A Finding is what the data are evidence of, or what they give none of. The conclusion is the
// sentence that is made from it.
type Finding struct {
	Compared Compared          `json:"compared"`
	Shown    bool              `json:"shown"` // whether there is evidence
	Says     problem.Statement `json:"says"`
}

// Find says what was found.
func (w *Working) Find(f Finding) { w.solution.Finding = &f }
