package procedure

import (
	"fmt"

	"grund/internal/problem"
	"grund/internal/working"
)

// leans sets on which side of what H₀ states the estimate lies.
func (l *location) leans(distance float64) { l.side = sideOf(distance) }

// refuseDirection refuses a tail, or a claim that names a side, where the test has no
// direction. says is why.
func refuseDirection(p *problem.Problem, says string) error {
	var errs problem.Errors
	if p.Tail != problem.Both {
		errs.Add("/tail", says, "tail must be “both”")
	}
	if c := p.Claim; c != nil && c.Says.Directed() {
		errs.Add("/claim/says", says+", so that a claim about a side cannot be weighed", "say “equal”, “different” or “open”")
	}
	return errs.Err()
}

// claimBlocks says on the side of which hypothesis the claim stands, if there is one.
func (l *location) claimBlocks() []working.Block {
	c := l.p.Claim
	if c == nil {
		return nil
	}
	about := ""
	if c.Population != "" {
		about = " about " + c.Population
	}
	if c.Says == problem.Open {
		return []working.Block{working.Say("The claim%s, “%s”, states more than this test can weigh: it stays open, and what is found stands beside it.", about, c.Quoted())}
	}
	equality, is, meaning := "no equality", "H₁", "what the test looks for evidence for"
	if c.Says.HoldsEquality() {
		equality, is, meaning = "the equality", "H₀", "what is taken to be so until the data speak against it"
	}
	switch tail := c.Says.Tail(); {
	case tail == l.p.Tail:
		return []working.Block{working.Say("The claim%s, “%s”, holds %s, so it is **%s**: %s.", about, c.Quoted(), equality, is, meaning)}
	case tail != problem.Both && l.p.Tail != problem.Both:
		return []working.Block{working.Say("The claim%s, “%s”, holds %s and would be **%s**, if H₁ took the side that the claim is about. It takes the other one.", about, c.Quoted(), equality, is)}
	}
	return []working.Block{working.Say("The claim%s, “%s”, holds %s, so it stands on the side of **%s**.", about, c.Quoted(), equality, is)}
}

// claimDirection points out, before there is a result, that the direction of H₁ is not that of
// the claim; it is nil where it is.
func (l *location) claimDirection() []working.Block {
	c := l.p.Claim
	if c == nil || c.Says == problem.Open || c.Says.Tail() == l.p.Tail {
		return nil
	}
	const weighed = "The claim is weighed all the same, by the side on which the estimate lies."
	switch {
	case l.p.Tail == problem.Both:
		return []working.Block{working.Warn("The claim names a direction: H₁ should have been chosen by it before looking, with one tail, the %s. %s", c.Says.Tail(), weighed)}
	case c.Says.Directed():
		return []working.Block{working.Warn("The claim names a direction, and H₁ takes the other one: it should have been chosen by the claim before looking, with the %s tail. %s", c.Says.Tail(), weighed)}
	}
	return []working.Block{working.Warn("The claim names no direction, and H₁ takes one: what differs to the other side would not be seen. H₁ should have been chosen by the claim before looking, with two tails.")}
}

// verdict says what the test makes of what a claim states.
func (l *location) verdict(says problem.Statement) working.ClaimVerdict {
	supported := map[bool]working.ClaimVerdict{true: working.Supported, false: working.Contradicted}
	switch {
	case says == problem.Open || !l.Decided():
		return working.LeftOpen
	case !l.Rejected() && says.HoldsEquality():
		return working.NotContradicted
	case !l.Rejected():
		return working.NotSupported
	case says == problem.Larger:
		return supported[l.side > 0]
	case says == problem.Smaller:
		return supported[l.side < 0]
	case says == problem.AtMost:
		return supported[l.side <= 0]
	case says == problem.AtLeast:
		return supported[l.side >= 0]
	}
	return supported[says == problem.Different]
}

// answerClaim answers the claim in its own terms, nil where there is none.
func (l *location) answerClaim() working.Text {
	c := l.p.Claim
	if c == nil {
		return nil
	}
	verdict := l.verdict(c.Says)
	l.AnswerClaim(working.ClaimAnswer{Says: c.Says, Verdict: verdict})
	format := map[working.ClaimVerdict]string{
		working.Supported:       "That supports the claim “%s”.",
		working.Contradicted:    "That speaks against the claim “%s”.",
		working.NotContradicted: "The claim “%s” is not contradicted, and not confirmed.",
		working.NotSupported:    "The claim “%s” is not supported, and not refuted.",
		working.LeftOpen:        "The claim “%s” stays open: it states more than this test can weigh.",
	}[verdict]
	if !l.Decided() {
		format = "The claim “%s” stays open: there is no test that could answer it."
	}
	return working.Textf("%s", fmt.Sprintf(format, c.Quoted()))
}

// withClaim adds the answer to the claim to a conclusion.
func (l *location) withClaim(conclusion working.Text) working.Text {
	if answer := l.answerClaim(); answer != nil {
		return working.Join(conclusion, working.Text{{Words: " "}}, answer)
	}
	return conclusion
}

// hypothesesStep writes the step on the hypotheses, with what is to be said of the claim.
func (l *location) hypothesesStep(key string, blocks ...working.Block) {
	l.Step(working.Hypotheses, key, append(blocks, l.claimDirection()...)...)
}

// bothWays says why H₁ has two tails. what is open is not said of a problem whose claim names a
// side.
func (l *location) bothWays(format string, args ...any) working.Block {
	if c := l.p.Claim; c != nil && c.Says.Directed() {
		return working.Say("H₁ looks both ways: **two tails**.")
	}
	return working.Say("Nothing in the question says beforehand "+format+", so H₁ looks both ways: **two tails**.", args...)
}
