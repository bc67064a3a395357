package write

import (
	"grund/internal/problem"
	"grund/internal/working"
)

// HypothesesStep writes the step on the hypotheses of a test that has a direction; more says
// what they mean and why H₁ looks as it does.
func (s *Sheet) HypothesesStep(more ...working.Block) {
	block := s.Direction.inSymbols()
	block.Directions = map[problem.Tail]working.HypothesesBlock{}
	for _, tail := range []problem.Tail{problem.Left, problem.Both, problem.Right} {
		other := s.Direction
		other.Tail = tail
		block.Directions[tail] = other.inSymbols()
	}
	s.hypothesesStep(s.Direction.Plain.with(s.Direction.nullSign()), block, more)
}

// UndirectedHypotheses writes the step on the hypotheses of a test without a direction. null and
// alternative are in TeX.
func (s *Sheet) UndirectedHypotheses(result, null, alternative string, more ...working.Block) {
	s.hypothesesStep(result, s.Direction.hypotheses(null, alternative), more)
}

func (s *Sheet) hypothesesStep(result string, hypotheses working.HypothesesBlock, more []working.Block) {
	blocks := append([]working.Block{hypotheses}, more...)
	s.Step(working.Hypotheses, working.Textf("%s", result), append(blocks, s.claimDirection()...)...)
}

// BothWays says why H₁ has two tails. What is open is not said of a problem whose claim names a
// side.
func (s *Sheet) BothWays(format string, args ...any) working.Block {
	if c := s.P.Claim; c != nil && c.Says.Directed() {
		return working.Say("H₁ looks both ways: **two tails**.")
	}
	return working.Say("Nothing in the question says beforehand "+format+", so H₁ looks both ways: **two tails**.", args...)
}

// TailReasonsAbout says why H₁ takes the tail that it takes: what lies below or above a value
// under H₀ speaks for it. both says it of two tails.
func (s *Sheet) TailReasonsAbout(both working.Block, towards, null string) []working.Block {
	if !s.Direction.Directed() {
		return []working.Block{both}
	}
	one := working.Say("H₁ says “greater”: only %s well *above* %s speaks for it, so the test has **one tail, the right**.", towards, null)
	if s.Direction.Below() {
		one = working.Say("H₁ says “less”: only %s well *below* %s speaks for it, so the test has **one tail, the left**.", towards, null)
	}
	return []working.Block{
		one,
		working.Note("The calculation uses the boundary of H₀, a %s of exactly %s: whatever speaks against the boundary speaks even more "+
			"against the rest of H₀.",
			s.Parameter, null),
		working.Warn("The direction has to come from the question. Choosing it after a look at the data doubles the true chance of a Type " +
			"I error."),
	}
}
