package fits

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// A family is a sort of distribution that H₀ can state.
type family struct {
	id, title, article, says string
	parameters               []string // in their order
	whole                    bool     // whether its values are whole numbers
	// below is the probability of values below @{x}, in TeX, with the parameters as @{rate}.
	below string
	// make returns the distribution with its parameters, or which of them is wrong and what
	// would be right.
	make func(p map[string]float64) (support, wrongParameter)
}

// support is a distribution and the ends of what it can give.
type support struct {
	distribution any // dist.Distribution or dist.Discrete
	low, high    float64
}

// wrongParameter names a parameter and what would be right; its name is "" where all are.
type wrongParameter struct{ name, instead string }

var families = []family{
	{
		id: "exponential", title: "exponential", article: "an exponential", says: "waiting times between events that come at random",
		parameters: []string{"rate"}, below: `1-e^{-@{rate}\cdot @{x}}`,
		make: func(p map[string]float64) (support, wrongParameter) {
			if !(p["rate"] > 0) || math.IsInf(p["rate"], 0) {
				return support{}, wrongParameter{"rate", "a rate must be above 0"}
			}
			return support{dist.Exponential{Rate: p["rate"]}, 0, math.Inf(1)}, wrongParameter{}
		},
	},
	{
		id: "normal", title: "normal", article: "a normal", says: "measurements about a mean", parameters: []string{"mean", "sd"},
		below: `\Phi\left(\frac{@{x}-@{mean}}{@{sd}}\right)`,
		make: func(p map[string]float64) (support, wrongParameter) {
			if !(p["sd"] > 0) {
				return support{}, wrongParameter{"sd", "a standard deviation must be above 0"}
			}
			return support{shifted{dist.Normal{}, p["mean"], p["sd"]}, math.Inf(-1), math.Inf(1)}, wrongParameter{}
		},
	},
	{
		id: "uniform", title: "uniform", article: "a uniform", says: "any value between two ends as likely as another",
		parameters: []string{"min", "max"}, below: `\frac{@{x}-@{min}}{@{max}-@{min}}`,
		make: func(p map[string]float64) (support, wrongParameter) {
			if !(p["max"] > p["min"]) {
				return support{}, wrongParameter{"max", "the largest value must be above the smallest"}
			}
			return support{dist.Uniform{Min: p["min"], Max: p["max"]}, p["min"], p["max"]}, wrongParameter{}
		},
	},
	{
		id: "poisson", title: "Poisson", article: "a Poisson", says: "numbers of events in a time or place", parameters: []string{"mean"},
		whole: true, below: `\sum_{k<@{x}}e^{-@{mean}}\frac{@{mean}^{k}}{k!}`,
		make: func(p map[string]float64) (support, wrongParameter) {
			if !(p["mean"] > 0) {
				return support{}, wrongParameter{"mean", "the mean of a Poisson distribution must be above 0"}
			}
			return support{dist.Poisson{Mean: p["mean"]}, 0, math.Inf(1)}, wrongParameter{}
		},
	},
	{
		id: "binomial", title: "binomial", article: "a binomial", says: "numbers of successes among trials",
		parameters: []string{"trials", "probability"}, whole: true,
		below: `\sum_{k<@{x}}\binom{@{trials}}{k}\,@{probability}^{k}(1-@{probability})^{@{trials}-k}`,
		make: func(p map[string]float64) (support, wrongParameter) {
			switch trials := p["trials"]; {
			case !(trials >= 1) || trials != math.Floor(trials) || trials > 1e9:
				return support{}, wrongParameter{"trials", "it must be a whole number of 1 or more"}
			case !(p["probability"] > 0 && p["probability"] < 1):
				return support{}, wrongParameter{"probability", "it must lie between 0 and 1, both excluded"}
			default:
				return support{dist.Binomial{N: int(trials), P: p["probability"]}, 0, trials}, wrongParameter{}
			}
		},
	},
}

// belowColumn writes below for a column of a table that holds x.
func (f *family) belowColumn(column string) string {
	return strings.ReplaceAll(f.below, "@{x}", "@{"+column+"}")
}

// symbolic writes below with the symbols of the parameters. For a curve that is the distribution function;
// of whole numbers below x it is said what it is.
func (f *family) symbolic() string {
	out := strings.ReplaceAll(strings.ReplaceAll(f.below, `\cdot @{x}`, `\,x`), "@{x}", "x")
	for _, name := range f.parameters {
		out = strings.ReplaceAll(out, "@{"+name+"}", parameters[name].symbol)
	}
	if f.whole {
		return `P(X<x) = ` + out
	}
	return `F(x) = ` + out
}

// shifted is a distribution moved and stretched.
type shifted struct {
	dist.Distribution
	mean, sd float64
}

func (d shifted) Density(x float64) float64 { return d.Distribution.Density((x-d.mean)/d.sd) / d.sd }
func (d shifted) Lower(x float64) float64   { return d.Distribution.Lower((x - d.mean) / d.sd) }
func (d shifted) Upper(x float64) float64   { return d.Distribution.Upper((x - d.mean) / d.sd) }

// familyOption binds the id of the distribution.
func familyOption(to *string) describe.Option {
	var choices []describe.Choice
	for _, f := range families {
		choices = append(choices, describe.Choice{Value: f.id, Label: f.title, Says: f.says})
	}
	return describe.OneOf(to, "exponential", describe.Option{
		ID: "distribution", Label: "Distribution", Live: true, Key: "y", Says: "The distribution that H₀ states.", Choices: choices,
	})
}

// familyOf returns the family of that id.
func familyOf(id string) *family {
	return &families[slices.IndexFunc(families, func(f family) bool { return f.id == id })]
}

// A model is a distribution with its parameters.
type model struct {
	*family
	support
	values    map[string]float64 // of the parameters
	estimated []string           // those that come from the cases
}

// A sample is what a distribution is fitted to.
type sample struct {
	values  []float64 // nil where only counts in classes are given
	sorted  []float64 // the same in order
	rows    []int     // of the cases, from 1
	moments stats.Moments
}

// newModel gives a distribution its parameters, those that are not given from the cases, and
// refuses cases that cannot come from it.
func newModel(f *family, s *sample, given map[string]float64) (*model, error) {
	for _, name := range slices.Sorted(maps.Keys(given)) {
		if !slices.Contains(f.parameters, name) {
			return nil, problem.Errors{problem.Unknown(problem.Pointer("options", "parameters", name), "parameter", name, f.parameters)}
		}
	}
	m := &model{family: f, values: map[string]float64{}}
	for _, name := range f.parameters {
		if x, ok := given[name]; ok {
			m.values[name] = x
			continue
		}
		if err := m.estimate(name, s); err != nil {
			return nil, err
		}
	}
	var wrong wrongParameter
	if m.support, wrong = f.make(m.values); wrong.name != "" {
		at := problem.Pointer("options", "parameters", wrong.name)
		if slices.Contains(m.estimated, wrong.name) {
			at = "/roles/response"
		}
		return nil, problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("%s is %s", wrong.name, working.FormatShortest(m.values[wrong.name])), Instead: wrong.instead,
		}}
	}
	return m, m.fits(s)
}

// estimate takes a parameter from the cases.
func (m *model) estimate(name string, s *sample) error {
	at := problem.Pointer("options", "parameters", name)
	if s.values == nil {
		return problem.Errors{{Pointer: at, Says: "from counts in classes " + name + " cannot be estimated", Instead: "give it"}}
	}
	m.estimated = append(m.estimated, name)
	switch mean := s.moments.Mean; name {
	case "trials":
		return problem.Errors{{Pointer: at, Says: "the number of trials is not given", Instead: "say how many trials each case had"}}
	case "rate":
		m.values[name] = 1 / mean
	case "mean":
		m.values[name] = mean
	case "sd":
		m.values[name] = s.moments.SD
	case "min":
		m.values[name] = s.sorted[0]
	case "max":
		m.values[name] = s.sorted[len(s.sorted)-1]
	case "probability":
		m.values[name] = mean / m.values["trials"]
	}
	return nil
}

// fits refuses cases that cannot come from the distribution.
func (m *model) fits(s *sample) error {
	for i, x := range s.values {
		what := ""
		switch {
		case x < m.low:
			what = "it has no values below " + working.FormatShortest(m.low)
		case x > m.high:
			what = "it has no values above " + working.FormatShortest(m.high)
		case m.whole && x != math.Floor(x):
			what = "it has whole numbers only"
		default:
			continue
		}
		return problem.Errors{{
			Pointer: "/roles/response", Instead: "choose another distribution, or check the case",
			Says: fmt.Sprintf("case %d is %s, which cannot come from %s distribution: %s", s.rows[i], working.FormatShortest(x), m.article, what),
		}}
	}
	return nil
}
