package problem

import (
	"fmt"

	"grund/internal/data"
)

// Try says how a problem is worked by oneself.
type Try struct {
	// Asks are the asks that are asked: TryAll, TryMain, or those of these ids.
	Asks Names `json:"asks,omitempty"`
	// Help is how many steps of help there are, up to MostHelp, the last of which gives the answer up; all where nil.
	Help *int `json:"help,omitzero"`
	// Tries is how often an ask may be answered, up to MostTries; as often as one likes where nil.
	Tries *int `json:"tries,omitzero"`
}

// The lists of asks that have a name.
const (
	TryAll  = "all"
	TryMain = "main" // hypotheses, statistic, critical values, p, decision and conclusion
)

// MostHelp is how many steps of help there are: words, symbols, numbers, the answer.
const MostHelp = 4

// MostTries is the largest number of tries that can be set.
const MostTries = 20

// maxAsks is how many asks can be picked.
const maxAsks = 500

func (t *Try) check(errs *Errors) {
	if t == nil {
		return
	}
	if t.Help != nil && (*t.Help < 0 || *t.Help > MostHelp) {
		errs.Add("/try/help", fmt.Sprintf("help is %d", *t.Help), fmt.Sprintf("it must be a whole number from 0 to %d", MostHelp))
	}
	if t.Tries != nil && (*t.Tries < 1 || *t.Tries > MostTries) {
		errs.Add("/try/tries", fmt.Sprintf("tries is %d", *t.Tries), fmt.Sprintf("it must be a whole number from 1 to %d", MostTries))
	}
	if len(t.Asks) > maxAsks {
		*errs = append(*errs, TooMany("/try/asks", fmt.Sprintf("there are %d asks", len(t.Asks)), maxAsks, "pick fewer, or “all”")...)
	}
	for i, ask := range t.Asks {
		errs.CheckText(Pointer("try", "asks", i), ask, 3*data.MaxName) // a cell is named by a table and two levels
	}
}
