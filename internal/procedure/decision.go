package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/problem"
	"grund/internal/working"
)

// decide writes the step on the decision; alternative and null are H₁ and H₀ in words.
func (l *location) decide(alternative, null string) {
	l.DecisionStep(working.Words{
		TypeI:    fmt.Sprintf("concluding that %s, when in truth %s", alternative, null),
		TypeII:   fmt.Sprintf("not rejecting, although in truth %s", alternative),
		NotEqual: "that " + null,
	})
}

// noteExact says where the exact p-value, or the simulated one in its place, would decide
// otherwise. It does nothing where ref has no value.
func (l *location) noteExact(ref working.Ref) {
	p := l.Value(ref)
	if math.IsNaN(p) || (p <= l.p.Alpha) == l.Rejected() {
		return
	}
	would, kind := "would not reject", "exact"
	if p <= l.p.Alpha {
		would = "would reject"
	}
	if ref != "p_exact" {
		kind = "simulated"
	}
	l.AddTo(working.DecisionStep, working.Warn("The %s p-value, @{%s}, %s at $α$ = @{alpha}. With so few cases it is the better one.", kind, ref, would))
	l.Note("The " + kind + " p-value " + would + " where the approximation decides otherwise.")
}

// found returns the tail in whose words a conclusion speaks: with two tails and a
// rejection the side on which the sample lies.
func (l *location) found(above bool) problem.Tail {
	switch {
	case l.p.Tail != problem.Both || !l.Rejected():
		return l.p.Tail
	case above:
		return problem.Right
	}
	return problem.Left
}

// tails says in a report how many tails the test has.
func (l *location) tails() string {
	if l.p.Tail == problem.Both {
		return "two-tailed"
	}
	return "one-tailed"
}

// claimAnswer answers the claim in its own terms, nil where there is none.
func (l *location) claimAnswer() working.Text {
	c := l.p.Claim
	if c == nil {
		return nil
	}
	switch {
	case c.Is == problem.H0 && l.Rejected():
		return working.Textf("That speaks against the claim “%s”.", c.Quoted())
	case c.Is == problem.H0:
		return working.Textf("The claim “%s” is not contradicted, and not confirmed.", c.Quoted())
	case l.Rejected():
		return working.Textf("That supports the claim “%s”.", c.Quoted())
	}
	return working.Textf("The claim “%s” is not supported, and not refuted.", c.Quoted())
}

// relation is what stands between a p and its number.
func (l *location) relation(p working.Ref) string {
	if strings.HasPrefix(l.Show(p), "<") {
		return ""
	}
	return "= "
}

// concludeWith writes the step with the conclusion and what it says of the claim.
func (l *location) concludeWith(conclusion working.Text, more ...working.Block) {
	if answer := l.claimAnswer(); answer != nil {
		conclusion = working.Join(conclusion, working.Text{{Words: " "}}, answer)
	}
	key := "not shown"
	if l.Rejected() {
		key = "shown"
	}
	l.Step(working.Conclusion, key, append([]working.Block{working.Prose{Tone: working.Answer, Text: conclusion}}, more...)...)
	l.conclusion = conclusion
}
