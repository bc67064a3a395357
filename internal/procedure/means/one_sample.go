package means

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/words"
)

// notKnown is the standard deviation of a population that is not known.
var notKnown = math.NaN()

type oneSampleOptions struct{ mean float64 }

// TOneSample compares one mean with a value by Student's t.
var TOneSample = describe.New(describe.Description{
	ID:         "t-one-sample",
	Family:     describe.AboutMeans,
	Title:      "One mean",
	Asks:       "Is a mean what it is said to be?",
	AlsoCalled: []string{"one-sample t-test", "Student's t-test", "t-test for a mean"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesSummary},
	Roles:      []describe.Role{cases.ResponseRole},
	Tails:      true,
	Compared:   "the mean, beside its value under H₀",
}, func(o *oneSampleOptions) []describe.Option {
	return []describe.Option{meanUnderH0(&o.mean)}
}, func(p *problem.Problem, d *describe.Description, o *oneSampleOptions) (describe.Task, error) {
	sample, err := cases.ReadSample(p, true)
	if err != nil {
		return nil, err
	}
	if err := sample.NeedSpread(); err != nil {
		return nil, err
	}
	return newOneMean(p, d, sample, o.mean, notKnown, "mean")
}, func(assigned describe.Assigned) (why string, ok bool) {
	return assigned["response"][0].Title() + " is a number: its mean is compared with a value that is claimed or promised.", true
})

type zOptions struct{ mean, sigma float64 }

// ZOneSample compares one mean with a value, where the standard deviation of the population is
// known.
var ZOneSample = describe.New(describe.Description{
	ID:         "z-one-sample",
	Family:     describe.AboutMeans,
	Title:      "One mean, standard deviation known",
	Asks:       "Is a mean what it is said to be, with σ known?",
	AlsoCalled: []string{"one-sample z-test", "z-test for a mean", "Gauss test"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesSummary},
	Roles:      []describe.Role{cases.ResponseRole},
	Tails:      true,
	Compared:   "the mean, beside its value under H₀",
}, func(o *zOptions) []describe.Option {
	return []describe.Option{meanUnderH0(&o.mean), describe.RequiredNumber(&o.sigma, describe.Option{
		ID: "sigma", Label: "Standard deviation of the population, σ",
		Says: "Known beforehand, not estimated from these cases. Where it is not known, t belongs here.",
	})}
}, func(p *problem.Problem, d *describe.Description, o *zOptions) (describe.Task, error) {
	if !(o.sigma > 0) {
		return nil, problem.Errors{{
			Pointer: "/options/sigma", Says: "sigma is " + data.FormatNumber(o.sigma), Instead: "a standard deviation must be above 0",
		}}
	}
	sample, err := cases.ReadSample(p, false)
	if err != nil {
		return nil, err
	}
	return newOneMean(p, d, sample, o.mean, o.sigma, "mean")
}, func(assigned describe.Assigned) (why string, ok bool) {
	return assigned["response"][0].Title() + " is a number: its mean is compared with a value, " +
		"if the standard deviation of the population is known.", true
})

type pairedOptions struct{ difference float64 }

// TPaired compares two measurements of the same cases by Student's t of their differences.
var TPaired = describe.New(describe.Description{
	ID:         "t-paired",
	Family:     describe.AboutMeans,
	Title:      "Two means, pairs",
	Asks:       "Do two measurements of the same cases differ?",
	AlsoCalled: []string{"paired t-test", "dependent-samples t-test", "matched pairs t-test", "Student's t-test for pairs"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles:      []describe.Role{cases.FirstRole, cases.SecondRole},
	Tails:      true,
	Compared:   "the mean of first − second",
}, func(o *pairedOptions) []describe.Option {
	return []describe.Option{describe.Number(&o.difference, 0, describe.Option{
		ID: "difference", Label: "Mean difference under H₀", Says: "The mean of first − second that H₀ states.",
	})}
}, func(p *problem.Problem, d *describe.Description, o *pairedOptions) (describe.Task, error) {
	sample, err := cases.ReadPairs(p)
	if err != nil {
		return nil, err
	}
	if err := sample.NeedSpread(); err != nil {
		return nil, err
	}
	return newOneMean(p, d, sample, o.difference, notKnown, "difference")
}, func(assigned describe.Assigned) (why string, ok bool) {
	first, second := assigned["first"][0], assigned["second"][0]
	if first.Unit != second.Unit {
		return "", false
	}
	return fmt.Sprintf("If %s and %s were measured on the same cases, the mean of their differences is tested.",
		words.InSentence(first.Title()), words.InSentence(second.Title())), true
})
