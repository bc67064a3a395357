package cases

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/words"
)

// A Sample is what is known of the values whose mean, or middle, is tested: single values, or the
// differences within pairs.
type Sample struct {
	Response data.Heading
	Pair     *Pair // nil where single values are tested
	Given    int   // cases in the problem
	Summary  bool  // only size, mean and spread are given
	Moments  stats.Moments
	Spread
}

// A Pair is the two measurements of each case, first minus second.
type Pair struct {
	First, Second   data.Heading
	Firsts, Seconds []float64
}

// Minus names the difference: “outbound − homebound”.
func (p *Pair) Minus() string {
	return words.InSentence(p.First.Label) + " − " + words.InSentence(p.Second.Label)
}

// Used returns how many cases the sample holds.
func (s *Sample) Used() int { return s.Moments.N }

// ReadSample returns the sample of a problem with the role “response”, or with a summary of one
// group. sd says whether a summary must give its spread.
func ReadSample(p *problem.Problem, sd bool) (*Sample, error) {
	if p.Data.Summary != nil {
		return readSummarySample(p.Data.Summary, sd)
	}
	response := p.Data.Variables.Find(p.Roles["response"][0])
	s := &Sample{Response: data.Heading{Label: response.Title(), Unit: response.Unit}, Given: response.Len()}
	for _, i := range data.Complete(p.LeftOutCases(), response) {
		s.add(i+1, response.Numbers[i])
	}
	return s, s.measure("/roles/response")
}

func readSummarySample(summary *problem.Summary, sd bool) (*Sample, error) {
	s := &Sample{Summary: true, Response: data.Heading{Label: "response"}}
	if n := len(summary.Groups); n != 1 {
		return nil, problem.Errors{{
			Pointer: "/data/summary/groups",
			Says:    words.Count(n, "group") + " are given, and one mean is tested", Instead: "give one",
		}}
	}
	if r := summary.Response; r != nil {
		s.Response.Unit = r.Unit
		if r.Label != "" {
			s.Response.Label = r.Label
		}
	}
	g := summary.Groups[0]
	at := func(field string) string { return problem.Pointer("data", "summary", "groups", 0, field) }
	spread := math.NaN()
	switch {
	case g.Mean == nil:
		return nil, problem.Errors{{Pointer: at("mean"), Says: "the mean is missing", Instead: "give it"}}
	case g.SD != nil:
		spread = *g.SD
	case sd:
		return nil, problem.Errors{{Pointer: at("sd"), Says: "the standard deviation is missing", Instead: "give it"}}
	}
	s.Given = int(g.N)
	s.Moments = stats.SummaryMoments(s.Given, *g.Mean, spread)
	return s, nil
}

// ReadPairs returns the differences, first − second, of the cases that have both.
func ReadPairs(p *problem.Problem) (*Sample, error) {
	first, second := p.Data.Variables.Find(p.Roles["first"][0]), p.Data.Variables.Find(p.Roles["second"][0])
	if first.Unit != second.Unit {
		return nil, problem.Errors{{
			Pointer: "/roles/second",
			Says: fmt.Sprintf("“%s” is in %s and “%s” in %s, and their difference is taken", words.Shorten(first.Title()), unitOr(first.Unit),
				words.Shorten(second.Title()), unitOr(second.Unit)),
			Instead: "give both in one unit",
		}}
	}
	s := &Sample{Given: first.Len(), Pair: &Pair{
		First:  data.Heading{Label: first.Title(), Unit: first.Unit},
		Second: data.Heading{Label: second.Title(), Unit: second.Unit},
	}}
	s.Response = data.Heading{Label: first.Title() + " − " + words.InSentence(second.Title()), Unit: first.Unit}
	for _, i := range data.Complete(p.LeftOutCases(), first, second) {
		x, y := first.Numbers[i], second.Numbers[i]
		s.Pair.Firsts, s.Pair.Seconds = append(s.Pair.Firsts, x), append(s.Pair.Seconds, y)
		s.add(i+1, x-y)
	}
	return s, s.measure("/roles/first")
}

func unitOr(unit string) string {
	if unit == "" {
		return "no unit"
	}
	return unit
}

func (s *Sample) add(row int, value float64) {
	s.Values = append(s.Values, value)
	s.Rows = append(s.Rows, row)
}

// measure takes the moments of the values.
func (s *Sample) measure(at string) error {
	if len(s.Values) == 0 {
		return problem.Errors{{
			Pointer: at, Says: "no case has a value", Instead: "check which variables play which role, and the cases left out",
		}}
	}
	s.Moments = stats.NewMoments(s.Values)
	s.Spread = NewSpread("", s.Values, s.Rows)
	if math.IsInf(s.Moments.Mean, 0) || math.IsInf(s.Moments.SD, 0) {
		return problem.Errors{{Pointer: at, Says: "the numbers are too large to calculate with", Instead: "write them in a larger unit"}}
	}
	return nil
}

// NeedSpread refuses what has no spread to measure by.
func (s *Sample) NeedSpread() error {
	at := "/roles/response"
	switch {
	case s.Pair != nil:
		at = "/roles/first"
	case s.Summary:
		at = "/data/summary/groups/0/n"
	}
	switch {
	case s.Moments.N < 2:
		return problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("there is %s only, and a spread needs two", words.Count(s.Moments.N, "usable case")),
			Instead: "give more cases",
		}}
	case s.Pair != nil && s.Pair.constant():
		return problem.Errors{{
			Pointer: at, Says: "all pairs have the same difference, so there is nothing to measure it by", Instead: "check the data",
		}}
	case s.Moments.SD == 0:
		if s.Summary {
			at = "/data/summary/groups/0/sd"
		}
		return problem.Errors{{
			Pointer: at, Says: "all values are equal, so there is no spread to measure the mean by", Instead: "check the data",
		}}
	}
	return nil
}

// constant reports whether all differences are the same decimal, whatever the doubles that hold
// the two measurements make of it.
func (p *Pair) constant() bool {
	first := stats.DecimalDifference(p.Firsts[0], p.Seconds[0])
	for i := range p.Firsts {
		if stats.DecimalDifference(p.Firsts[i], p.Seconds[i]) != first {
			return false
		}
	}
	return true
}
