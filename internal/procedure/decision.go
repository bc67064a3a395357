package procedure

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
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
func (l *location) found() problem.Tail {
	switch {
	case l.p.Tail != problem.Both || !l.Rejected():
		return l.p.Tail
	case l.side > 0:
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

// relation is what stands between a p and its number.
func (l *location) relation(p working.Ref) string {
	if strings.HasPrefix(l.Show(p), "<") {
		return ""
	}
	return "= "
}

// concludeWith writes the step with the conclusion and what it says of the claim.
func (l *location) concludeWith(conclusion working.Text, more ...working.Block) {
	conclusion = l.withClaim(conclusion)
	key := "not shown"
	if l.Rejected() {
		key = "shown"
	}
	l.Step(working.Conclusion, key, append([]working.Block{working.Prose{Tone: working.Answer, Text: conclusion}}, more...)...)
	l.conclusion = conclusion
}

// corrected returns the correction for continuity that the tail takes, where one is asked for.
func (l *location) corrected(on bool) stats.Continuity {
	switch {
	case !on:
		return stats.NoCorrection
	case l.p.Tail == problem.Left:
		return stats.LeftTail
	case l.p.Tail == problem.Right:
		return stats.RightTail
	}
	return stats.TwoTails
}

// correct defines the correction for continuity and returns the distance from H₀ with it taken
// off. half is half a step of the statistic; says is what it is, for two tails.
func (l *location) correct(continuity stats.Continuity, distance, half float64, distanceExpr, halfExpr formula.Expr, says string) formula.Expr {
	size, expr := half, halfExpr
	switch {
	case continuity == stats.TwoTails && half > math.Abs(distance):
		size, expr = math.Abs(distance), formula.Abs{X: distanceExpr}
		says += "; never more than the distance itself"
	case continuity == stats.TwoTails:
		says += "; never more than the distance itself"
	}
	l.Define(working.Quantity{ID: "correction", Symbol: "c", Label: "Continuity correction", Says: says + "."}, working.Ratio, size, expr)
	terms, ok := distanceExpr.(formula.Sum)
	if !ok {
		terms = formula.Sum{distanceExpr}
	}
	c := formula.Expr(formula.Ref("correction"))
	if continuity == stats.RightTail || continuity == stats.TwoTails && distance >= 0 {
		c = formula.Minus{X: c}
	}
	return append(slices.Clone(terms), c)
}

// correctionSays says where the correction goes. count names the statistic as it was counted,
// what half a step is.
func correctionSays(continuity stats.Continuity, half string) working.Block {
	switch continuity {
	case stats.LeftTail:
		return working.Note("The continuity correction adds %s, @{correction}: “so many or fewer” ends half a step above the last of them, wherever it lies.", half)
	case stats.RightTail:
		return working.Note("The continuity correction takes %s off, @{correction}: “so many or more” begins half a step below the first of them, wherever it lies.", half)
	}
	return working.Note("The continuity correction takes the distance nearer to 0 by %s: @{correction}.", half)
}
