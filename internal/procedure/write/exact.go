package write

import (
	"context"
	"fmt"
	"math"

	lru "github.com/hashicorp/golang-lru/v2"

	"grund/internal/formula"
	"grund/internal/stats"
	"grund/internal/working"
)

// DrawSeed makes what is drawn for the same counts the same each time.
const DrawSeed = 20260311

// Draws is how many samples stand in for an exact p-value that is out of reach: fewer the more
// cells each has, so that they take a third of a second.
func Draws(cells int) int { return max(1000, min(600_000/cells, 20_000)) }

// ExactP is an exact p-value, or what stands in for it where counting takes too long.
type ExactP struct {
	P     float64 // NaN where it is out of reach
	Drawn stats.Drawn
}

// exactPs are those found last: alpha and words change while a problem is looked at, and its
// counts stay.
var exactPs, _ = lru.New[string, ExactP](256)

// FindExactP returns the exact p-value of the counts that key names; where count does not reach
// it, draw draws in its stead. It ends with the context's error when that is done.
func FindExactP(
	ctx context.Context, key string,
	count func(ctx context.Context) (p float64, ok bool), draw func(ctx context.Context) stats.Drawn,
) (ExactP, error) {
	if known, ok := exactPs.Get(key); ok {
		return known, nil
	}
	p, ok := count(ctx)
	found := ExactP{P: p}
	if !ok && ctx.Err() == nil {
		found = ExactP{P: math.NaN(), Drawn: draw(ctx)}
	}
	if err := ctx.Err(); err != nil {
		return ExactP{}, fmt.Errorf("counting for an exact p-value: %w", err)
	}
	exactPs.Add(key, found)
	return found, nil
}

// CountExactP is FindExactP where nothing is drawn: the p-value is NaN where count does not reach it.
func CountExactP(ctx context.Context, key string, count func(ctx context.Context) (p float64, ok bool)) (ExactP, error) {
	return FindExactP(ctx, "counted "+key, count, func(context.Context) stats.Drawn { return stats.Drawn{} })
}

// Reached reports whether the exact p-value could be counted.
func (e ExactP) Reached() bool { return !math.IsNaN(e.P) }

// IsDrawn reports whether another p-value stands in for it.
func (e ExactP) IsDrawn() bool { return e.Drawn.Repetitions > 0 }

// Ref names the p-value that there is.
func (e ExactP) Ref() working.Ref {
	if e.Reached() {
		return "p_exact"
	}
	return "p_simulated"
}

// DefineDrawn defines the p-value that was drawn and its standard error. what names a sample:
// "tables with these totals".
func (s *Sheet) DefineDrawn(e ExactP, what string) {
	d := e.Drawn
	s.Define(working.Quantity{
		ID: "draws", Symbol: "R", Label: "Samples drawn", Says: "As if H₀ were true, always the same for the same counts.",
	}, working.Whole, float64(d.Repetitions), nil)
	s.Define(working.Quantity{
		ID: "as_extreme", Symbol: "r", Label: "Samples that are not likelier",
		Says: fmt.Sprintf("Of the %s drawn, those that are not likelier than the one observed.", what),
	}, working.Whole, float64(d.AsExtreme), nil)
	plusOne := func(ref formula.Ref) formula.Expr { return formula.Sum{ref, formula.Num(1)} }
	p := formula.Ref("p_simulated")
	s.Define(working.Quantity{
		Aside: true, ID: "p_simulated", Symbol: `\hat p`, Label: "p-value from simulation",
		Says: "The share of samples that are not likelier than the observed one, which is counted with them.",
	}, working.P, d.P, formula.Quotient{Over: plusOne("as_extreme"), Under: plusOne("draws")})
	s.Define(working.Quantity{
		Aside: true, ID: "se_simulated", Symbol: `SE_{\hat p}`, Label: "Standard error of the simulation",
		Says: "How far another simulation of the same size typically comes out from the exact p-value.",
	}, working.P, d.SE, formula.Root{X: formula.Quotient{Over: formula.Product{p, formula.Subtract(formula.Num(1), p)},
		Under: formula.Ref("draws")}})
}

// DrawnWords says what was drawn and how sure its p-value is.
func (s *Sheet) DrawnWords(what string) working.Block {
	return working.Say("Counting every one takes too long here, so @{draws} %s were drawn as if H₀ were true. "+
		"@{as_extreme} of them were not likelier than the one observed: p ≈ @{p_simulated}, with a standard error of @{se_simulated}.", what)
}

// NoteDrawn warns where alpha lies so near a simulated p-value that another simulation may come
// out on its other side.
func (s *Sheet) NoteDrawn(e ExactP) {
	if !e.Reached() && math.Abs(e.Drawn.P-s.P.Alpha) <= 3*e.Drawn.SE {
		s.AddTo(working.DecisionStep, working.Warn("$α$ lies within three standard errors of the simulated p-value: "+
			"chance in the simulation may have settled this."))
		s.Note(working.PValue, "The simulated p-value lies so near alpha that another simulation might decide otherwise.")
	}
}
