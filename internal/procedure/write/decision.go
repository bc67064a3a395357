package write

import (
	"fmt"
	"math"

	"grund/internal/words"
	"grund/internal/working"
)

// Decide writes the step on the decision.
func (s *Sheet) Decide() {
	h0, h1 := s.Direction.H0(), s.Direction.H1()
	s.DecisionStep(working.Words{
		TypeI:    fmt.Sprintf("concluding that %s, when in truth %s", h1, h0),
		TypeII:   fmt.Sprintf("not rejecting, although in truth %s", h1),
		NotEqual: "that " + h0,
	})
}

// NoteExact says where the exact p-value, or the simulated one in its place, would decide
// otherwise. It does nothing where ref has no value.
func (s *Sheet) NoteExact(ref working.Ref) {
	p := s.Value(ref)
	if math.IsNaN(p) || (p <= s.P.Alpha) == s.Rejected() {
		return
	}
	would, kind := "would not reject", "exact"
	if p <= s.P.Alpha {
		would = "would reject"
	}
	if ref != "p_exact" {
		kind = "simulated"
	}
	s.AddTo(working.DecisionStep, working.Warn("The %s p-value, @{%s}, %s at $α$ = @{alpha}. With so few cases it is the better one.", kind,
		ref, would))
	s.Note(working.DecisionStep, "The "+kind+" p-value "+would+" where the approximation decides otherwise.")
}

// A Conclusion is what the data show, or do not show.
type Conclusion struct {
	Used  int    // cases
	One   string // what they are: "case" where empty
	Shows string // what the data are evidence of; H₁, on the side that was found, where empty
	// Detail goes on in the same sentence, where H₀ is rejected, and More after it.
	Detail, More working.Text
	// Misses is what the data do not show; H₁ where empty. NotEvidence is what that is no
	// evidence of; H₀ where empty.
	Misses, NotEvidence string
	Instead             string          // stands in place of what is said to be no evidence
	Warnings            []working.Block // where H₀ is rejected
}

// ConclusionStep writes the step with the sentence that answers the problem, and what it says of
// the claim.
func (s *Sheet) ConclusionStep(c Conclusion) {
	if s.Rejected() {
		s.ConcludeOtherwise("shown", c.text(s), c.Warnings...)
		return
	}
	s.ConcludeOtherwise("not shown", c.text(s))
}

// finding returns what the data show, or do not show: with two tails and a rejection it is the
// side on which the sample lies.
func (s *Sheet) finding() working.Finding {
	return working.Finding{Compared: s.Direction.Compared, Shown: s.Rejected(), Says: s.Found().Alternative()}
}

// text makes the sentence.
func (c *Conclusion) text(s *Sheet) working.Text {
	or := func(text, other string) string {
		if text == "" {
			return other
		}
		return text
	}
	used := words.Count(c.Used, or(c.One, "case"))
	if s.Rejected() {
		shows := or(c.Shows, s.Direction.Alternative.Of(s.finding().Says.Tail()))
		return working.Join(working.Textf("At α = @{alpha} the data (%s) are evidence that %s", used, shows), c.Detail, working.Textf("."),
			c.More)
	}
	notEvidence := "This is not evidence " + or(c.NotEvidence, "that "+s.Direction.H0()) + "."
	return working.Textf("At α = @{alpha} the data (%s) do not show that %s. %s", used, or(c.Misses, s.Direction.H1()),
		or(c.Instead, notEvidence))
}

// ConcludeOtherwise writes the step with a sentence of the procedure's own; result sums it up.
func (s *Sheet) ConcludeOtherwise(result string, conclusion working.Text, warnings ...working.Block) {
	if s.Decided() {
		s.Find(s.finding())
	}
	s.conclusion = s.withClaim(conclusion)
	s.Step(working.Conclusion, working.Textf("%s", result),
		append([]working.Block{working.Prose{Tone: working.Answer, Text: s.conclusion}}, warnings...)...)
}
