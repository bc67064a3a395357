package means

import (
	"fmt"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/write"
	"grund/internal/words"
	"grund/internal/working"
)

// A subject is the mean that is tested as it is spoken of and written: that of single values, or
// that of the differences within pairs.
type subject struct {
	mean, sd          working.Ref // the quantities
	parameter         string      // "mean", "mean difference"
	named             string      // "mean loading time"
	one, noun         string      // a case: "case", "pair", and how they are counted: "Cases"
	cases             string      // "these cases", "the differences"
	column            string      // of the table of cases
	value             string      // a value in TeX: x_{i}
	bar, spread, se   string      // mean, standard deviation and standard error in TeX
	mu, null, plain   string      // the population's mean and its value under H₀ in TeX, and in plain text
	saysMean, saysSD  string
	observed          string // “The sample mean is”
	independence      string
	brief             working.Text
	asks              working.Block
	spreadLabel       string // for what is planned
	alwaysTakesOff    bool   // whether the value under H₀ stands in the formulas where it is 0
	null0, alternates problem.Sides[string]
}

// ofValues is the mean of single values, compared with a value.
func ofValues(s *cases.Sample, hypothesised string) subject {
	response := words.InSentence(s.Response.Label)
	named := "mean " + response
	return subject{
		mean: "mean", sd: "sd", parameter: "mean", named: named, one: "case", noun: "Cases", cases: "these cases",
		column: "response", value: "x_{i}", bar: `\bar{x}`, spread: "s", se: `s_{\bar{x}}`, mu: `\mu`, null: `\mu_{0}`, plain: "μ",
		saysMean: "The centre of the sample.",
		saysSD: "How far the cases typically lie from their mean. The divisor is n − 1, because the mean was estimated from the same " +
			"cases.",
		observed: "The sample mean is",
		independence: "no case tells anything about another. The numbers cannot show this; it comes from how the cases were " +
			"chosen.",
		brief:          working.Textf("Compare **%s** with **%s**", named, hypothesised),
		asks:           working.Say("The question is about one mean: that of *%s*, which is compared with %s.", response, hypothesised),
		spreadLabel:    "Standard deviation",
		alwaysTakesOff: true,
		null0:          comparedNull(named, hypothesised),
		alternates:     comparedAlternative(named, hypothesised),
	}
}

// ofPairs is the mean of the differences within pairs.
func ofPairs(s *cases.Sample, null float64, hypothesised string) subject {
	first, second := words.InSentence(s.Pair.First.Label), words.InSentence(s.Pair.Second.Label)
	named := "mean difference " + s.Pair.Minus()
	of := subject{
		mean: "mean_difference", sd: "sd_difference", parameter: "mean difference", named: named, one: "pair", noun: "Pairs",
		cases: "the differences", column: "difference", value: "d_{i}", bar: `\bar{d}`, spread: "s_{d}", se: `s_{\bar{d}}`,
		mu: `\mu_{d}`, null: `\mu_{d,0}`, plain: "μ_d",
		saysMean: "The mean of the differences.",
		saysSD:   "How far the differences typically lie from their mean, with the divisor n − 1.",
		observed: "The mean difference is",
		independence: "no pair tells anything about another. Within a pair the two measurements belong together; that is why " +
			"their difference is taken.",
		brief: working.Textf("Compare **%s** with **%s** on the same cases", first, second),
		asks: working.Say("Each case was measured twice, so the question is about one mean: that of the *differences*, %s. "+
			"What the cases differ in among themselves falls out of a difference.", s.Pair.Minus()),
		spreadLabel: "Standard deviation of the differences",
		null0:       comparedNull(named, hypothesised),
		alternates:  comparedAlternative(named, hypothesised),
	}
	if null == 0 {
		of.null0 = write.Fill(problem.Sides[string]{
			Both: "%s is on average the same as %s", Less: "%s is on average not lower than %s", Greater: "%s is on average not higher than %s",
		}, first, second)
		of.alternates = write.Fill(problem.Sides[string]{
			Both: "%s and %s differ on average", Less: "%s is on average lower than %s", Greater: "%s is on average higher than %s",
		}, first, second)
	}
	return of
}

// comparedNull says what H₀ says of something beside a value.
func comparedNull(named, value string) problem.Sides[string] {
	return write.Fill(problem.Sides[string]{Both: "%s is %s", Less: "%s is at least %s", Greater: "%s is at most %s"}, named, value)
}

// comparedAlternative says what H₁ says of something beside a value.
func comparedAlternative(named, value string) problem.Sides[string] {
	return write.Fill(problem.Sides[string]{
		Both: "%s differs from %s", Less: "%s is lower than %s", Greater: "%s is higher than %s",
	}, named, value)
}

// direction returns what the hypotheses say.
func (of *subject) direction(tail problem.Tail, null float64, hypothesised string) write.Direction {
	d := write.Direction{
		Tail: tail, Compared: working.Compared{Of: []string{of.named, hypothesised}, By: of.mean},
		Null: of.null0, Alternative: of.alternates,
		Extreme: problem.Sides[string]{
			Both: fmt.Sprintf("a sample with a %s at least this many standard errors from %s, in either direction,",
				of.parameter, hypothesised),
			Less:    fmt.Sprintf("a sample with a %s as low as this one or lower, in standard errors,", of.parameter),
			Greater: fmt.Sprintf("a sample with a %s as high as this one or higher, in standard errors,", of.parameter),
		},
	}
	d.TeX, d.Plain = write.Beside(of.mu, of.plain, null)
	return d
}

// sdRef is the standard deviation in a formula.
func (of *subject) sdRef() formula.Ref { return formula.Ref(of.sd) }
