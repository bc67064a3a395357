package answer

import (
	"strings"

	"grund/internal/problem"
	"grund/internal/working"
)

// A Choice is one value of an ask that is chosen.
type Choice struct {
	Value string `json:"value"`
	Words string `json:"words"`
}

// The asks that are chosen, beside those for each condition.
const (
	askClaim      = "claim"
	askHypotheses = "hypotheses"
	askRegion     = "region"
	askDecision   = "decision"
	askConclusion = "conclusion"
	askCondition  = "condition:" // and its id
)

// choice returns how an ask that is chosen is judged, nil where the ask is none.
func (j *judge) choice(ask string) func(Answer) (Verdict, error) {
	choices, right, ok := j.choices(ask)
	if !ok {
		return nil
	}
	return func(a Answer) (Verdict, error) {
		chosen := strings.TrimSpace(a.Text)
		known := false
		var values []string
		for _, c := range choices {
			known = known || c.Value == chosen
			values = append(values, c.Value)
		}
		switch {
		case !known:
			return Verdict{}, problem.Errors{problem.Unknown(problem.Pointer("answers", ask), "choice", chosen, values)}
		case chosen == right:
			return Verdict{Verdict: Right, Says: "Right."}, nil
		case ask == askDecision && j.ownDecision() == chosen:
			return Verdict{Verdict: Follows, Says: "It follows from your own numbers; a slip is paid for once."}, nil
		}
		return Verdict{Verdict: Wrong, Says: wrongChoice(ask, chosen)}, nil
	}
}

// choices returns what can be chosen for an ask and what is right.
func (j *judge) choices(ask string) (choices []Choice, right string, ok bool) {
	s := j.solution
	switch {
	case ask == askClaim && j.problem.Claim != nil && j.problem.Claim.Says != problem.Open:
		right = "h1"
		if j.problem.Claim.Says.HoldsEquality() {
			right = "h0"
		}
		return []Choice{{"h0", "It is H₀."}, {"h1", "It is H₁."}}, right, true
	case ask == askHypotheses && s.Decision != nil:
		foils := []Choice{{"swapped", "H₀ and H₁ exchanged"}, {"statistics", "about the sample, not the population"}}
		if !j.directed() {
			return append([]Choice{{"h0", "H₁ only denies H₀"}}, foils...), "h0", true
		}
		return append([]Choice{{"both", "H₁: not equal"}, {"left", "H₁: less"}, {"right", "H₁: greater"}}, foils...), string(s.Tail), true
	case ask == askRegion && s.Decision != nil && s.Decision.ByCriticalValue != nil:
		return []Choice{{"both", "both tails"}, {"left", "the left tail"}, {"right", "the right tail"}}, j.region(), true
	case ask == askDecision && s.Decision != nil:
		return []Choice{{reject, "reject H₀"}, {doNotReject, "do not reject H₀"}}, decided(s.Decision.Reject), true
	case ask == askConclusion && s.Decision != nil:
		choices = []Choice{
			{"right", "what the data show, and at which level"}, {"reversed", "the opposite"}, {"chance", "p is the probability that H₀ is true"},
			{"importance", "what is significant is large"},
		}
		if s.Decision.Reject {
			return append(choices, Choice{"proves", "H₁ is proved"}), "right", true
		}
		return append(choices, Choice{"accepts", "H₀ is true"}), "right", true
	}
	if id, is := strings.CutPrefix(ask, askCondition); is {
		for _, c := range s.Conditions {
			if c.ID == id {
				return []Choice{
					{string(working.Met), "met"}, {string(working.Doubtful), "doubtful"}, {string(working.NotMet), "not met"},
					{string(working.NotNeeded), "not needed"},
				}, string(c.Status), true
			}
		}
	}
	return nil, "", false
}

const (
	reject      = "reject"
	doNotReject = "do_not_reject"
)

func decided(rejects bool) string {
	if rejects {
		return reject
	}
	return doNotReject
}

// directed reports whether H₁ takes a side or could take one.
func (j *judge) directed() bool {
	for _, c := range j.solution.Controls {
		if c.Pointer == problem.Pointer("tail") {
			return true
		}
	}
	return false
}

// region says where the critical values lie.
func (j *judge) region() string {
	low, high := j.working.Has("critical_low"), j.working.Has("critical_high")
	switch {
	case low && high:
		return "both"
	case low:
		return "left"
	}
	return "right"
}

// ownDecision is what follows from the student's own p, or own statistic and critical values; "" where none of them
// differs from the right one.
func (j *judge) ownDecision() string {
	if len(j.own) == 0 {
		return ""
	}
	again := j.working.With(j.all())
	if p, own := j.own[j.solution.Decision.P]; own {
		return decided(p <= j.problem.Alpha)
	}
	statistic := j.working.Statistic()
	if statistic == "" || !j.working.Has("critical_high") && !j.working.Has("critical_low") {
		return decided(again.Value(string(j.solution.Decision.P)) <= j.problem.Alpha)
	}
	x := again.Value(string(statistic))
	rejects := j.working.Has("critical_low") && x <= again.Value("critical_low") || j.working.Has("critical_high") &&
		x >= again.Value("critical_high")
	return decided(rejects)
}

// wrongChoice says what is wrong with a choice that is none of the right ones.
func wrongChoice(ask, chosen string) string {
	switch chosen {
	case "swapped":
		return "H₀ and H₁ are exchanged: the equality stands in H₀."
	case "statistics":
		return "Hypotheses are about the population; the sample is known."
	case "accepts":
		return "Not rejecting H₀ does not show that it is true."
	case "proves":
		return "A test proves nothing: it says that such data would be rare if H₀ were true."
	case "chance":
		return "p is calculated as if H₀ were true; it is not the probability that H₀ is."
	case "importance":
		return "Significant says that there is a difference, not that it is large."
	case "reversed":
		return "Look at the decision again: this says the opposite."
	}
	if ask == askRegion || ask == askHypotheses {
		return "Look at what the question asks: which side, or both."
	}
	return "Not it."
}
