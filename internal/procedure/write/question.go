package write

import (
	"grund/internal/problem"
	"grund/internal/working"
)

// QuestionStep writes the step on the question: the claim, what the procedure says of the
// question, and alpha.
func (s *Sheet) QuestionStep(says ...working.Block) {
	s.DefineAlpha()
	blocks := append(s.claimBlocks(), says...)
	if s.test != "" {
		blocks = append(blocks, working.Say("The test is the **%s**.", s.test))
	}
	blocks = append(blocks,
		working.Say("$α$ = @{alpha} is chosen now, before the data have been looked at."),
		working.Warn("$α$ is not a level of confidence and says nothing about this one result: it is how often the test rejects a "+
			"true H₀ in the long run."))
	s.Step(working.Question, working.Textf("α = @{alpha}"), blocks...)
}

// claimBlocks says on the side of which hypothesis the claim stands, if there is one.
func (s *Sheet) claimBlocks() []working.Block {
	c := s.P.Claim
	if c == nil {
		return nil
	}
	about := ""
	if c.Population != "" {
		about = " about " + c.Population
	}
	if c.Says == problem.Open {
		return []working.Block{working.Say("The claim%s, “%s”, states more than this test can weigh: "+
			"it stays open, and what is found stands beside it.", about, c.Quoted())}
	}
	equality, is, meaning := "no equality", "H₁", "what the test looks for evidence for"
	if c.Says.HoldsEquality() {
		equality, is, meaning = "the equality", "H₀", "what is taken to be so until the data speak against it"
	}
	switch tail := c.Says.Tail(); {
	case tail == s.Direction.Tail:
		return []working.Block{working.Say("The claim%s, “%s”, holds %s, so it is **%s**: %s.", about, c.Quoted(), equality, is, meaning)}
	case tail != problem.Both && s.Direction.Directed():
		return []working.Block{working.Say("The claim%s, “%s”, holds %s and would be **%s**, if H₁ took the side that the claim is about. "+
			"It takes the other one.", about, c.Quoted(), equality, is)}
	}
	return []working.Block{working.Say("The claim%s, “%s”, holds %s, so it stands on the side of **%s**.", about, c.Quoted(), equality, is)}
}
