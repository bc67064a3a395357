package answer

import (
	"fmt"
	"strings"

	"grund/internal/problem"
	"grund/internal/working"
)

// The values that hypotheses are chosen by, beside the tails.
const (
	undirected = "h0"         // of a test without a direction
	swapped    = "swapped"    // H₀ and H₁ exchanged
	statistics = "statistics" // about the sample's values in place of the parameters
)

// hypotheses returns the problem's hypotheses, nil where it has none.
func (j *judge) hypotheses() *working.HypothesesBlock {
	for _, step := range j.solution.Steps {
		for _, block := range step.Blocks {
			if h, is := block.(working.HypothesesBlock); is {
				return &h
			}
		}
	}
	return nil
}

// hypothesesChoices are the pairs of H₀ and H₁ to choose from.
func (j *judge) hypothesesChoices() (choices []Choice, right string) {
	h := j.hypotheses()
	pair := func(value string, h0, h1 working.Hypothesis) {
		choices = append(choices, Choice{
			Value: value, Symbols: symbolsOf("0", h0) + `,\quad ` + symbolsOf("1", h1), Words: fmt.Sprintf("H₀: %s. H₁: %s.", h0.Words, h1.Words),
		})
	}
	right = undirected
	if len(h.Directions) == 0 {
		pair(undirected, h.Null, h.Alternative)
	} else {
		right = string(j.solution.Tail)
		for _, tail := range []problem.Tail{problem.Both, problem.Left, problem.Right} {
			pair(string(tail), h.Directions[tail].Null, h.Directions[tail].Alternative)
		}
	}
	pair(swapped, h.Alternative, h.Null)
	pair(statistics, ofSample(h.Null), ofSample(h.Alternative))
	if last := len(choices) - 1; choices[last].Symbols == choices[0].Symbols { // no parameter stands in them: words tell them apart
		for i := range choices {
			choices[i].Symbols = ""
		}
	}
	return choices, right
}

// symbolsOf writes a hypothesis under the number 0 or 1, whichever it has.
func symbolsOf(number string, h working.Hypothesis) string {
	_, states, found := strings.Cut(h.Symbols, `:\; `)
	if !found {
		states = h.Symbols
	}
	return `H_{` + number + `}:\; ` + states
}

// ofSample puts the sample's values in place of the parameters.
func ofSample(h working.Hypothesis) working.Hypothesis {
	latin := strings.NewReplacer(`\mu`, `\bar{x}`, `\pi`, `\hat{p}`, `\sigma`, `s`, `\rho`, `r`, `\beta`, `b`, `\theta`, `\tilde{x}`)
	return working.Hypothesis{Symbols: latin.Replace(h.Symbols), Words: "in this sample, " + h.Words}
}

// conclusionChoices are what might be concluded, all in the same form, so that none stands out.
func (j *judge) conclusionChoices() []Choice {
	h := j.hypotheses()
	level := fmt.Sprintf("at the level α = %s", working.FormatShortest(j.problem.Alpha))
	evidence := fmt.Sprintf("There is evidence, %s, that %s.", level, h.Alternative.Words)
	none := fmt.Sprintf("There is not enough evidence, %s, that %s.", level, h.Alternative.Words)
	chance := Choice{Value: "chance", Words: fmt.Sprintf("The probability that %s is p.", h.Null.Words)}
	if j.solution.Decision.Reject {
		return []Choice{
			{Value: "right", Words: evidence}, {Value: "reversed", Words: none},
			{Value: "proves", Words: fmt.Sprintf("It is proved that %s.", h.Alternative.Words)}, chance,
			{Value: "importance", Words: "The result is significant, so what was found is large and matters."},
		}
	}
	return []Choice{
		{Value: "right", Words: none}, {Value: "reversed", Words: evidence},
		{Value: "accepts", Words: fmt.Sprintf("It is shown that H₀ is true: %s.", h.Null.Words)}, chance,
		{Value: "importance", Words: "The result is not significant, so whatever there is is small and does not matter."},
	}
}
