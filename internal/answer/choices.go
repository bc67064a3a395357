package answer

import (
	"slices"
	"strings"

	"grund/internal/problem"
	"grund/internal/working"
)

// A Choice is one value of an ask that is chosen.
type Choice struct {
	Value   string `json:"value"`
	Symbols string `json:"symbols,omitzero"` // TeX
	Words   string `json:"words"`
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
		known := slices.Contains(fitNowhere[ask], chosen)
		var values []string
		for _, c := range choices {
			known = known || c.Value == chosen
			values = append(values, c.Value)
		}
		if !known {
			return Verdict{}, problem.Errors{problem.Unknown(problem.Pointer("answers", ask), "choice", chosen, values)}
		}
		j.chosen[ask] = chosen
		switch {
		case chosen == right:
			return Verdict{Verdict: Right, Says: "Right."}, nil
		case j.choiceFollows(ask, chosen):
			return Verdict{Verdict: Follows, Says: followsSays}, nil
		}
		return Verdict{Verdict: Wrong, Says: wrongChoice(ask, chosen)}, nil
	}
}

// fitNowhere are choices that are known, and offered only where they fit; elsewhere they are wrong.
var fitNowhere = map[string][]string{
	askHypotheses: {string(problem.Both), string(problem.Left), string(problem.Right), undirected},
	askConclusion: {"accepts", "proves"},
}

// choiceFollows reports whether a choice that is not right follows from the student's own earlier answers.
func (j *judge) choiceFollows(ask, chosen string) bool {
	switch ask {
	case askRegion:
		return j.chosen[askHypotheses] == chosen && j.directed()
	case askDecision:
		return j.ownDecision() == chosen
	case askConclusion: // of the other decision the opposite conclusion
		own := j.chosen[askDecision]
		return chosen == "reversed" && own != "" && own != decided(j.solution.Decision.Reject)
	}
	return false
}

// ownTail returns the tail that the student's own hypotheses or region take, "" where it is not another one.
func (j *judge) ownTail() problem.Tail {
	if !j.directed() {
		return ""
	}
	for _, ask := range []string{askHypotheses, askRegion} {
		tail := problem.Tail(j.chosen[ask])
		if tail != j.problem.Tail && (tail == problem.Both || tail == problem.Left || tail == problem.Right) {
			return tail
		}
	}
	return ""
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
		return []Choice{{Value: "h0", Words: "It is H₀."}, {Value: "h1", Words: "It is H₁."}}, right, true
	case ask == askHypotheses && j.hypotheses() != nil:
		choices, right = j.hypothesesChoices()
		return choices, right, true
	case ask == askRegion && s.Decision != nil && s.Decision.ByCriticalValue != nil:
		return []Choice{
			{Value: "both", Words: "both tails"}, {Value: "left", Words: "the left tail"}, {Value: "right", Words: "the right tail"},
		}, j.region(), true
	case ask == askDecision && s.Decision != nil:
		return []Choice{{Value: reject, Words: "reject H₀"}, {Value: doNotReject, Words: "do not reject H₀"}}, decided(s.Decision.Reject), true
	case ask == askConclusion && s.Decision != nil && j.hypotheses() != nil:
		return j.conclusionChoices(), "right", true
	}
	if id, is := strings.CutPrefix(ask, askCondition); is {
		for _, c := range s.Conditions {
			if c.ID == id {
				return []Choice{
					{Value: string(working.Met), Words: "met"}, {Value: string(working.Doubtful), Words: "doubtful"},
					{Value: string(working.NotMet), Words: "not met"}, {Value: string(working.NotNeeded), Words: "not needed"},
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
	if j.ownTail() != "" {
		return j.decisionOfOwnTail()
	}
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

// decisionOfOwnTail is what follows from the student's own numbers with the tail that the student took.
func (j *judge) decisionOfOwnTail() string {
	p := j.solution.Decision.P
	if own, given := j.own[p]; given {
		return decided(own <= j.problem.Alpha)
	}
	for _, value := range j.worked(p, string(j.ownTail()), withTail(j.ownTail())) {
		return decided(value <= j.problem.Alpha)
	}
	return ""
}

// wrongChoice says what is wrong with a choice that is none of the right ones.
func wrongChoice(ask, chosen string) string {
	switch chosen {
	case swapped:
		return "H₀ and H₁ are exchanged: the equality stands in H₀."
	case statistics:
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
