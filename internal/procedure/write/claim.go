package write

import (
	"fmt"

	"grund/internal/problem"
	"grund/internal/working"
)

// claimDirection points out, before there is a result, that the direction of H₁ is not that of
// the claim; it is nil where it is.
func (s *Sheet) claimDirection() []working.Block {
	c := s.P.Claim
	if c == nil || c.Says == problem.Open || c.Says.Tail() == s.Direction.Tail {
		return nil
	}
	const weighed = "The claim is weighed all the same, by the side on which the estimate lies."
	switch {
	case !s.Direction.Directed():
		return []working.Block{working.Warn("The claim names a direction: H₁ should have been chosen by it before looking, with one tail, "+
			"the %s. %s",
			c.Says.Tail(), weighed)}
	case c.Says.Directed():
		return []working.Block{working.Warn("The claim names a direction, and H₁ takes the other one: "+
			"it should have been chosen by the claim before looking, with the %s tail. %s", c.Says.Tail(), weighed)}
	}
	return []working.Block{working.Warn("The claim names no direction, and H₁ takes one: what differs to the other side would not be seen. " +
		"H₁ should have been chosen by the claim before looking, with two tails.")}
}

// verdict says what the test makes of what a claim states.
func (s *Sheet) verdict(says problem.Statement) working.ClaimVerdict {
	supported := map[bool]working.ClaimVerdict{true: working.Supported, false: working.Contradicted}
	switch {
	case says == problem.Open || !s.Decided():
		return working.LeftOpen
	case !s.Rejected() && says.HoldsEquality():
		return working.NotContradicted
	case !s.Rejected():
		return working.NotSupported
	case says == problem.Larger:
		return supported[s.Side > 0]
	case says == problem.Smaller:
		return supported[s.Side < 0]
	case says == problem.AtMost:
		return supported[s.Side <= 0]
	case says == problem.AtLeast:
		return supported[s.Side >= 0]
	}
	return supported[says == problem.Different]
}

// answerClaim answers the claim in its own terms, nil where there is none.
func (s *Sheet) answerClaim() working.Text {
	c := s.P.Claim
	if c == nil {
		return nil
	}
	verdict := s.verdict(c.Says)
	s.AnswerClaim(working.ClaimAnswer{Says: c.Says, Verdict: verdict})
	format := map[working.ClaimVerdict]string{
		working.Supported:       "That supports the claim “%s”.",
		working.Contradicted:    "That speaks against the claim “%s”.",
		working.NotContradicted: "The claim “%s” is not contradicted, and not confirmed.",
		working.NotSupported:    "The claim “%s” is not supported, and not refuted.",
		working.LeftOpen:        "The claim “%s” stays open: it states more than this test can weigh.",
	}[verdict]
	if !s.Decided() {
		format = "The claim “%s” stays open: there is no test that could answer it."
	}
	return working.Textf("%s", fmt.Sprintf(format, c.Quoted()))
}

// withClaim adds the answer to the claim to a conclusion.
func (s *Sheet) withClaim(conclusion working.Text) working.Text {
	if answer := s.answerClaim(); answer != nil {
		return working.Join(conclusion, working.Text{{Words: " "}}, answer)
	}
	return conclusion
}
