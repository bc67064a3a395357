// Package vary draws a problem's data anew, in the same shape, so that the same question has other numbers.
package vary

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/working"
)

// Keep says what of a problem stays with other numbers.
type Keep string

const (
	KeepDecision Keep = "decision" // what the test decides
	KeepNothing  Keep = "nothing"
)

// mostDraws is how many samples are drawn at most, until one is fit to be handed out.
const mostDraws = 200

// A worked problem, as far as other numbers are compared with it.
type worked struct {
	*working.Working
	*working.Solution
}

// Problem returns the problem with other numbers: data drawn anew from what its own data are like. The same seed draws
// the same. Whatever is kept, p lies farther from alpha than a tenth of it, and no condition is worse than it was. An
// error of type problem.Errors says why there is no such problem.
func Problem(ctx context.Context, p *problem.Problem, seed uint64, keep Keep) (*problem.Problem, error) {
	if keep != KeepDecision && keep != KeepNothing {
		return nil, problem.Errors{problem.Unknown("/keep", "choice", string(keep), []string{string(KeepDecision), string(KeepNothing)})}
	}
	before, err := work(ctx, p)
	if err != nil {
		return nil, err
	}
	for draw := range uint64(mostDraws) {
		if err := ctx.Err(); err != nil {
			return nil, fmt.Errorf("drawing other numbers: %w", err)
		}
		d := &drawing{p: p, of: before, rng: rand.New(rand.NewPCG(seed, draw))}
		next, err := d.problem()
		if err != nil {
			return nil, err
		}
		after, err := work(ctx, next)
		if err == nil && fits(before, after, p.Alpha, keep) {
			return next, nil
		}
	}
	return nil, problem.Errors{{
		Pointer: "/data", Says: fmt.Sprintf("of %d samples none keeps the decision, lies clear of alpha and meets the conditions", mostDraws),
		Instead: "take another seed, keep nothing, or make the data clearer",
	}}
}

func work(ctx context.Context, p *problem.Problem) (*worked, error) {
	w, err := procedure.WorkOut(ctx, p)
	if err != nil {
		return nil, err
	}
	s, err := w.Finish()
	return &worked{w, s}, err
}

// fits reports whether other numbers are fit to be handed out.
func fits(before, after *worked, alpha float64, keep Keep) bool {
	if before.Decision == nil {
		return true
	}
	if after.Decision == nil || keep == KeepDecision && before.Decision.Reject != after.Decision.Reject {
		return false
	}
	if p := after.Value(after.Decision.P); math.Abs(p-alpha) <= alpha/10 {
		return false
	}
	for _, c := range after.Conditions {
		at := slices.IndexFunc(before.Conditions, func(was *working.Condition) bool { return was.ID == c.ID })
		if at < 0 || worse(c.Status) > worse(before.Conditions[at].Status) {
			return false
		}
	}
	return true
}

// worse ranks what may be said of a condition.
func worse(s working.Status) int {
	switch s {
	case working.Met, working.NotNeeded:
		return 0
	case working.Doubtful:
		return 1
	}
	return 2
}
