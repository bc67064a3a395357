package cases

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/problem"
	"grund/internal/words"
	"grund/internal/working"
)

// Weights are the proportions that counts are compared with, as they were given.
type Weights struct {
	Each  []float64
	Equal bool // whether they were not given but all are 1
}

// NewWeights returns the proportions that an option gives, one for each name; all are 1 where it
// gives none. noun is what the names are of.
func NewWeights(given []float64, names []string, noun, option string) (Weights, error) {
	switch {
	case given == nil:
		return Weights{slices.Repeat([]float64{1}, len(names)), true}, nil
	case len(given) != len(names):
		return Weights{}, problem.Errors{{
			Pointer: problem.Pointer("options", option), Instead: "give one for each of " + words.Quoted(names, "and"),
			Says: fmt.Sprintf("%d proportions are given for %s", len(given), words.Count(len(names), noun)),
		}}
	}
	return Weights{given, false}, nil
}

// Words names the proportions: "equal proportions", "2 : 1 : 1".
func (w *Weights) Words() string {
	if w.Equal {
		return "equal proportions"
	}
	return w.ratio()
}

// As says how shares in these proportions are: equal, in the words given, or "as 2 : 1 : 1".
func (w *Weights) As(equal string) string {
	if w.Equal {
		return equal
	}
	return "as " + w.ratio()
}

// ratio writes the proportions as they were given.
func (w *Weights) ratio() string {
	parts := make([]string, len(w.Each))
	for i, x := range w.Each {
		parts[i] = working.FormatShortest(x)
	}
	return strings.Join(parts, " : ")
}
