package procedure

import (
	"math"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// zOneSample compares one mean with a value, where the standard deviation of the
// population is known.
var zOneSample = &Procedure{
	Description: Description{
		ID:         "z-one-sample",
		Title:      "One mean, standard deviation known",
		Asks:       "Is a mean what it is said to be, with σ known?",
		AlsoCalled: []string{"one-sample z-test", "z-test for a mean", "Gauss test"},
		Takes:      []Takes{TakesVariables, TakesSummary},
		Roles:      []Role{oneResponse},
		Options: []Option{
			meanUnderH0,
			{ID: "sigma", Label: "Standard deviation of the population, σ", Type: NumberOption, Required: true,
				Says: "Known beforehand, not estimated from these cases. Where it is not known, t belongs here."},
		},
		Tails:    true,
		Compared: "the mean, beside its value under H₀",
	},
	Work: func(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
		sigma := options["sigma"].(float64)
		if !(sigma > 0) {
			return nil, problem.Errors{{Pointer: "/options/sigma", Says: "sigma is " + data.FormatNumber(sigma), Instead: "a standard deviation must be above 0"}}
		}
		sample, err := readSample(p, false)
		if err != nil {
			return nil, err
		}
		s := &oneMean{location: location{p: p}, sample: sample}
		return s.work(d, options["mean"].(float64), sigma, "mean")
	},
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return assigned["response"][0].Title() + " is a number: its mean is compared with a value, if the standard deviation of the population is known.", true
	},
}

// oneResponse and meanUnderH0 belong to every test of one mean.
var (
	oneResponse = Role{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1}
	meanUnderH0 = Option{ID: "mean", Label: "Mean under H₀", Type: NumberOption, Default: 0.0, Says: "What the mean is said to be."}
)

// notKnown is the standard deviation of a population that is not known.
var notKnown = math.NaN()
