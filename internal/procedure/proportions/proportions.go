// Package proportions holds the procedures about how often something occurs: one proportion, two
// of independent groups, and two of the same cases.
package proportions

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// successOption binds which level is counted.
func successOption(to **string) describe.Option {
	return describe.Level(to, describe.Option{
		ID: "success", Label: "Success", Of: "response", Says: "Which level is counted; all others are not.",
	})
}

// A share is how often the success occurs in a group.
type share struct {
	name         string // of the group, "" where there is one only
	letter       string
	n, successes int

	rows   []int     // of the cases, from 1; nil where only counts are given
	values []float64 // 1 for a success, else 0
	names  []string  // of their levels
}

// add counts a case.
func (s *share) add(row int, name string, success bool) {
	value := 0.0
	if success {
		s.successes++
		value = 1
	}
	s.n++
	s.rows, s.values, s.names = append(s.rows, row), append(s.values, value), append(s.names, name)
}

// proportion returns the share of successes.
func (s *share) proportion() float64 { return float64(s.successes) / float64(s.n) }

// successOf returns the code of the level that counts as the success.
func successOf(v *data.Variable, wanted *string) (code int, name string, err error) {
	if wanted == nil {
		return 0, "", problem.Errors{{
			Pointer: "/options/success", Says: "it is not said which level is the success", Instead: "name one of " +
				words.Quoted(cases.LevelNames(v), "or"),
		}}
	}
	at := v.FindLevel(*wanted)
	if at < 0 {
		return 0, "", problem.Errors{{
			Pointer: "/options/success", Says: fmt.Sprintf("no level of “%s” is “%s” alone", words.Shorten(v.Title()), words.Shorten(*wanted)),
			Instead: "its levels are " + words.Quoted(cases.LevelNames(v), "and"),
		}}
	}
	return at, v.Levels[at].Name, nil
}

// successColumns are the columns of the table of cases that show each level, and whether it is
// the success.
func successColumns(response string, names []string, values []float64) []write.CaseColumn {
	return []write.CaseColumn{
		write.Named("response", response, func(i int) string { return names[i] }),
		write.Entered("success", data.Heading{Label: "success"}, values, 0),
	}
}

// shareBars draws how often the success occurs in each group.
func shareBars(title, success string, shares []share) *working.Figure {
	f := &working.Figure{
		ID: "look", Form: working.Bars, Title: title, Axis: working.Axis{Label: "cases", Unit: "%", Min: 0, Max: 100},
	}
	var says []string
	for row, one := range shares {
		percent := 100 * float64(one.successes) / float64(one.n)
		label := one.name
		if label == "" {
			label = success
		}
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Bar, Role: working.Observed, Row: row, Label: label, X: working.Positions(0, percent),
		})
		says = append(says, fmt.Sprintf("%s: %s (%d of %d)", label, percentWords(percent), one.successes, one.n))
	}
	f.Says = strings.Join(says, "; ") + "."
	return f
}

// percentWords writes a percentage.
func percentWords(percent float64) string { return working.FormatNumber(percent, 1) + "\u00a0%" }

// expectedCounts judges whether there are enough successes and failures for the normal
// approximation: the usual rule is 10 of each.
func expectedCounts(s *write.Sheet, counts ...float64) {
	least := slices.Min(counts)
	shown := working.FormatNumber(least, 1)
	switch {
	case least >= 10:
		s.Condition("sample-size", working.Met, working.Textf("Enough for the normal curve: at least %s successes and failures are expected, "+
			"and 10 are usual.", shown))
	case least >= 5:
		s.Condition("sample-size", working.Doubtful, working.Textf("Few for the normal curve: only %s are expected of the rarer outcome, "+
			"and 10 are usual. The exact p-value, @{p_exact}, stands beside.", shown))
	default:
		s.Condition("sample-size", working.NotMet, working.Textf("Too few for the normal curve: only %s are expected of the rarer outcome, "+
			"and 10 are usual. Go by the exact p-value, @{p_exact}.", shown))
	}
}

// beside returns a proportion that differs from p by a tenth, on the side of H₁ where there is
// room.
func beside(tail problem.Tail, p float64) float64 {
	step := 0.1
	if tail == problem.Left || tail == problem.Both && p > 0.85 {
		step = -step
	}
	for p+step <= min(0.005, p/2) || p+step >= max(0.995, (1+p)/2) {
		step /= 2
	}
	return stats.DecimalDifference(p, -step)
}

// proportionInput asks for a proportion.
func proportionInput(id, label string, p float64) working.PowerInput {
	return working.PowerInput{ID: id, Label: label, Value: p, Above: new(0.0), Below: new(1.0)}
}

// timesWords puts a ratio of frequencies into words: “almost twice as frequent”.
func timesWords(ratio float64) string {
	near := func(name, less string, of float64) string {
		switch r := ratio / of; {
		case math.Abs(r-1) < 0.02:
			return name
		case r < 1:
			return less + name
		}
		return "a little more than " + name
	}
	switch {
	case math.Abs(ratio-1) < 0.005:
		return "just as frequent"
	case ratio > 0.45 && ratio < 0.55:
		return near("half as frequent", "not quite ", 0.5)
	case ratio > 1.8 && ratio < 2.2:
		return near("twice as frequent", "almost ", 2)
	case ratio > 2.7 && ratio < 3.3:
		return near("three times as frequent", "almost ", 3)
	}
	return working.FormatNumber(ratio, 2) + " times as frequent"
}

// withCorrection names a test that may carry the continuity correction.
func withCorrection(test string, corrected bool) string {
	if corrected {
		return test + " with continuity correction"
	}
	return test
}
