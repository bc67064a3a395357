package procedure

import (
	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// tOneSample compares one mean with a value by Student's t.
var tOneSample = &Procedure{
	Description: Description{
		ID:         "t-one-sample",
		Title:      "One mean",
		Asks:       "Is a mean what it is said to be?",
		AlsoCalled: []string{"one-sample t-test", "Student's t-test", "t-test for a mean"},
		Takes:      []Takes{TakesVariables, TakesSummary},
		Roles:      []Role{oneResponse},
		Options:    []Option{meanUnderH0},
		Tails:      true,
		Compared:   "the mean, beside its value under H₀",
	},
	Work: func(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
		sample, err := readSample(p, true)
		if err != nil {
			return nil, err
		}
		if err := sample.needSpread(); err != nil {
			return nil, err
		}
		s := &oneMean{location: location{p: p}, sample: sample}
		return s.work(d, options["mean"].(float64), notKnown, "mean")
	},
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return assigned["response"][0].Title() + " is a number: its mean is compared with a value that is claimed or promised.", true
	},
}
