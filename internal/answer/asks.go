package answer

import (
	"context"
	"hash/fnv"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"grund/internal/problem"
	"grund/internal/working"
)

// The kinds of ask.
const (
	askNumber = "number"
	askChoice = "choice"
	// Sentence is the kind of what is written in one's own words.
	Sentence = "sentence"
)

// An Ask is what a step asks of the person who works the problem.
type Ask struct {
	ID      string         `json:"id"`
	Step    working.StepID `json:"step"`
	Kind    string         `json:"kind"`
	Label   string         `json:"label"`
	Symbol  string         `json:"symbol,omitzero"` // TeX
	Unit    string         `json:"unit,omitzero"`
	Choices []Choice       `json:"choices,omitempty"`
}

// AskList are the asks of a problem, in the order of the work.
type AskList struct {
	Grund int   `json:"grund"`
	Asks  []Ask `json:"asks"`
}

// Asks works the problem and returns what it asks: what is chosen in a step, and the numbers that are worked out in it.
func Asks(ctx context.Context, p *problem.Problem) (*AskList, error) {
	j, err := newJudge(ctx, p)
	if err != nil {
		return nil, err
	}
	return &AskList{Grund: problem.Format, Asks: j.asks()}, nil
}

// asks returns what the problem asks, in the order of the work.
func (j *judge) asks() []Ask {
	asks := []Ask{}
	finds := j.solution.Finds()
	for _, step := range j.solution.Steps {
		chosen, numbers := j.chosenIn(step.ID), j.numbersIn(step.ID, finds[step.ID])
		if step.ID == working.Conditions { // expected counts, by which one of them is judged
			chosen, numbers = numbers, chosen
		}
		asks = append(append(asks, chosen...), numbers...)
	}
	return slices.DeleteFunc(asks, func(a Ask) bool { return !j.wants(a.ID) })
}

// wants reports whether an ask is one of those that the problem is to ask.
func (j *judge) wants(ask string) bool {
	if j.problem.Try == nil || len(j.problem.Try.Asks) == 0 {
		return true
	}
	isMain := slices.Contains([]string{askHypotheses, askRegion, askDecision, askConclusion}, ask) || strings.HasPrefix(ask, "critical_") ||
		ask == string(j.working.Statistic()) || j.solution.Decision != nil && ask == string(j.solution.Decision.P)
	return slices.ContainsFunc(j.problem.Try.Asks, func(picked string) bool {
		return picked == ask || picked == problem.TryAll || picked == problem.TryMain && isMain
	})
}

// chosenIn returns what is chosen in a step.
func (j *judge) chosenIn(step working.StepID) []Ask {
	var asks []Ask
	add := func(id, label string) {
		if choices, _, ok := j.choices(id); ok {
			asks = append(asks, Ask{ID: id, Step: step, Kind: askChoice, Label: label, Choices: j.inOrderOf(id, choices)})
		}
	}
	switch step {
	case working.Question:
		add(askClaim, "Which hypothesis is the claim?")
	case working.Hypotheses:
		add(askHypotheses, "Hypotheses")
	case working.Conditions:
		for _, c := range j.solution.Conditions {
			add(askCondition+c.ID, "Condition: "+strings.ReplaceAll(c.ID, "-", " "))
		}
	case working.CriticalValue:
		add(askRegion, "Where is the rejection region?")
	case working.DecisionStep:
		add(askDecision, "Decision")
	case working.Conclusion:
		add(askConclusion, "What may be said?")
		if j.solution.Decision != nil {
			asks = append(asks, Ask{ID: askOwn, Step: step, Kind: Sentence, Label: "In your own words"})
		}
	}
	return asks
}

// numbersIn returns the numbers that are worked out in a step: of the data what describes them, then what has a formula,
// and by what the test decides in any case. Expected counts are those of a table's cells.
func (j *judge) numbersIn(step working.StepID, found []working.Ref) []Ask {
	var asks []Ask
	for _, q := range j.solution.Quantities {
		for _, id := range found {
			if q.ID != id || q.Aside || math.IsNaN(float64(q.Value)) {
				continue
			}
			decides := j.solution.Decision != nil && q.ID == j.solution.Decision.P || q.ID == j.working.Statistic()
			if step != working.Data && q.Formula == nil && !decides {
				continue
			}
			asks = append(asks, Ask{ID: string(id), Step: step, Kind: askNumber, Label: q.Label, Symbol: q.Symbol, Unit: q.Unit})
		}
	}
	if step != working.Conditions {
		return asks
	}
	for _, t := range j.solution.Tables {
		if t.Total > mostCells {
			continue
		}
		for at, column := range t.Columns {
			if column.ID != "expected" || column.Formula == "" {
				continue
			}
			for _, row := range t.Rows() {
				asks = append(asks, Ask{
					ID: string(t.Ref(row, at)), Step: step, Kind: askNumber, Label: column.Label + ", " + t.NameOf(row), Symbol: column.Symbol,
				})
			}
		}
	}
	return asks
}

// mostCells is how many expected counts are asked for at most.
const mostCells = 60

// inOrderOf puts choices in an order that gives nothing away: statements in one that is drawn for the problem, what is
// the same in every problem as it is.
func (j *judge) inOrderOf(ask string, choices []Choice) []Choice {
	if ask == askHypotheses || ask == askConclusion {
		return inNoOrder(j.problem, ask, choices)
	}
	return choices
}

// inNoOrder puts choices in an order that stays the same for a problem.
func inNoOrder(p *problem.Problem, ask string, choices []Choice) []Choice {
	h := fnv.New64a()
	for _, part := range []string{p.Title, p.Question, p.Procedure, ask} {
		h.Write([]byte(part + "\x00"))
	}
	shuffled := slices.Clone(choices)
	rand.New(rand.NewPCG(h.Sum64(), 0)).Shuffle(len(shuffled), func(i, k int) { shuffled[i], shuffled[k] = shuffled[k], shuffled[i] })
	return shuffled
}
