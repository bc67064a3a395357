package procedure

import (
	"fmt"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// tPaired compares two measurements of the same cases by Student's t of their
// differences.
var tPaired = &Procedure{
	Description: Description{
		ID:         "t-paired",
		Title:      "Two means, pairs",
		Asks:       "Do two measurements of the same cases differ?",
		AlsoCalled: []string{"paired t-test", "dependent-samples t-test", "matched pairs t-test", "Student's t-test for pairs"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "first", Label: "First measurement", Says: "the one that the other is taken from", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "second", Label: "Second measurement", Says: "of the same cases, in the same unit", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
		},
		Options: []Option{{ID: "difference", Label: "Mean difference under H₀", Type: NumberOption, Default: 0.0,
			Says: "The mean of first − second that H₀ states."}},
		Tails:    true,
		Compared: "the mean of first − second",
	},
	Work: func(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
		sample, err := readPairs(p)
		if err != nil {
			return nil, err
		}
		if err := sample.needSpread(); err != nil {
			return nil, err
		}
		s := &oneMean{location: location{p: p}, sample: sample}
		return s.work(d, options["difference"].(float64), notKnown, "difference")
	},
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		first, second := assigned["first"][0], assigned["second"][0]
		if first.Unit != second.Unit {
			return "", false
		}
		return fmt.Sprintf("If %s and %s were measured on the same cases, the mean of their differences is tested.", inSentence(first.Title()), inSentence(second.Title())), true
	},
}
