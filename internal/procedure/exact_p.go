package procedure

import (
	"fmt"
	"math"

	lru "github.com/hashicorp/golang-lru/v2"

	"grund/internal/formula"
	"grund/internal/stats"
	"grund/internal/working"
)

// drawSeed makes what is drawn for the same counts the same each time.
const drawSeed = 20260311

// draws is how many samples stand in for an exact p-value that is out of reach: fewer the
// more cells each has, so that they take a third of a second.
func draws(cells int) int { return max(1000, min(600_000/cells, 20_000)) }

// exactP is an exact p-value, or what stands in for it where counting takes too long.
type exactP struct {
	p     float64 // NaN where it is out of reach
	drawn stats.Drawn
}

// exactPs are those found last: alpha and words change while a problem is looked at, and
// its counts stay.
var exactPs, _ = lru.New[string, exactP](256)

// findExactP returns the exact p-value of the counts that key names; where count does not
// reach it, draw draws in its stead.
func findExactP(key string, count func() (p float64, ok bool), draw func() stats.Drawn) exactP {
	if known, ok := exactPs.Get(key); ok {
		return known
	}
	p, ok := count()
	found := exactP{p: p}
	if !ok {
		found = exactP{p: math.NaN(), drawn: draw()}
	}
	exactPs.Add(key, found)
	return found
}

// reached reports whether the exact p-value could be counted.
func (e exactP) reached() bool { return !math.IsNaN(e.p) }

// isDrawn reports whether another p-value stands in for it.
func (e exactP) isDrawn() bool { return e.drawn.Repetitions > 0 }

// ref names the p-value that there is.
func (e exactP) ref() working.Ref {
	if e.reached() {
		return "p_exact"
	}
	return "p_simulated"
}

// defineDrawn defines the p-value that was drawn and its standard error. what names a
// sample: "tables with these totals".
func (l *location) defineDrawn(e exactP, what string) {
	d := e.drawn
	l.Define(working.Quantity{ID: "draws", Symbol: "R", Label: "Samples drawn", Says: "As if H₀ were true, always the same for the same counts."}, working.Whole, float64(d.Repetitions), nil)
	l.Define(working.Quantity{ID: "as_extreme", Symbol: "r", Label: "Samples that are not likelier", Says: fmt.Sprintf("Of the %s drawn, those that are not likelier than the one observed.", what)}, working.Whole, float64(d.AsExtreme), nil)
	plusOne := func(ref formula.Ref) formula.Expr { return formula.Sum{ref, formula.Num(1)} }
	p := formula.Ref("p_simulated")
	l.Define(working.Quantity{ID: "p_simulated", Symbol: `\hat p`, Label: "p-value from simulation", Says: "The share of samples that are not likelier than the observed one, which is counted with them."},
		working.P, d.P, formula.Quotient{Over: plusOne("as_extreme"), Under: plusOne("draws")})
	l.Define(working.Quantity{ID: "se_simulated", Symbol: `SE_{\hat p}`, Label: "Standard error of the simulation", Says: "How far another simulation of the same size typically comes out from the exact p-value."},
		working.P, d.SE, formula.Root{X: formula.Quotient{Over: formula.Product{p, formula.Subtract(formula.Num(1), p)}, Under: formula.Ref("draws")}})
}

// drawnWords says what was drawn and how sure its p-value is.
func (l *location) drawnWords(what string) working.Block {
	return working.Say("Counting every one takes too long here, so @{draws} %s were drawn as if H₀ were true. @{as_extreme} of them were not likelier than the one observed: p ≈ @{p_simulated}, with a standard error of @{se_simulated}.",
		what)
}

// noteDrawn warns where alpha lies so near a simulated p-value that another simulation may
// come out on its other side.
func (l *location) noteDrawn(e exactP) {
	if !e.reached() && math.Abs(e.drawn.P-l.p.Alpha) <= 3*e.drawn.SE {
		l.AddTo(working.DecisionStep, working.Warn("$α$ lies within three standard errors of the simulated p-value: chance in the simulation may have settled this."))
		l.Note("The simulated p-value lies so near alpha that another simulation might decide otherwise.")
	}
}
