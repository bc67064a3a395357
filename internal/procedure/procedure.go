// Package procedure knows all procedures: it finds the one that a problem names, checks the
// problem, works it, and leads from one procedure to another. The procedures themselves are in
// the packages below it, by families; each is one entry of the list in this file.
package procedure

import (
	"context"
	"fmt"
	"slices"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/look"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/fits"
	"grund/internal/procedure/lines"
	"grund/internal/procedure/means"
	"grund/internal/procedure/proportions"
	"grund/internal/procedure/ranks"
	"grund/internal/procedure/several"
	"grund/internal/procedure/tables"
	"grund/internal/working"
)

// all are the procedures in the order of the contract.
var all = []*describe.Procedure{
	means.ZOneSample,
	means.TOneSample,
	means.TTwoSample,
	means.TPaired,
	means.VarianceRatio,
	means.VarianceSpread,
	means.Normality,
	proportions.One,
	proportions.Two,
	ranks.RankSum,
	ranks.SignedRank,
	ranks.RankKSample,
	fits.ChiSquareFit,
	fits.ChiSquareDistribution,
	tables.ChiSquareIndependence,
	tables.ExactIndependence,
	proportions.Paired,
	several.AnovaOneWay,
	lines.RegressionSimple,
	lines.RegressionMultiple,
	lines.Correlation,
}

// Descriptions returns the description of every procedure.
func Descriptions() []describe.Description {
	out := make([]describe.Description, len(all))
	for i, p := range all {
		out[i] = p.Description
	}
	return out
}

// Find returns the procedure of that id, or nil.
func Find(id string) *describe.Procedure {
	i := slices.IndexFunc(all, func(p *describe.Procedure) bool { return p.ID == id })
	if i < 0 {
		return nil
	}
	return all[i]
}

// Check returns what is wrong with a problem, without working it; an error of type
// problem.Errors is one that a person can mend.
func Check(p *problem.Problem) error {
	_, err := Read(p)
	return err
}

// Ready is a problem that was checked and can be worked.
type Ready struct {
	problem  *problem.Problem
	task     describe.Task
	pictures []*look.Look
}

// Read checks a problem and makes it ready to be worked, once. An error of type problem.Errors is one that
// a person can mend.
func Read(p *problem.Problem) (*Ready, error) {
	task, err := read(p)
	if err != nil {
		return nil, err
	}
	pictures, err := readPictures(p)
	return &Ready{p, task, pictures}, err
}

// Work works the problem. The error is the context's when that is done.
func (r *Ready) Work(ctx context.Context) (*working.Solution, error) {
	w, err := r.work(ctx)
	if err != nil {
		return nil, err
	}
	return w.Finish()
}

// read checks a problem and returns what is to be worked.
func read(p *problem.Problem) (describe.Task, error) {
	procedure := Find(p.Procedure)
	if procedure == nil {
		var ids []string
		for _, known := range all {
			ids = append(ids, known.ID)
		}
		return nil, problem.Errors{problem.Unknown("/procedure", "procedure", p.Procedure, ids)}
	}
	return procedure.Read(p)
}

// Work checks the problem and works it. An error of type problem.Errors is one that a person can
// mend; when the context is done it is the context's.
func Work(ctx context.Context, p *problem.Problem) (*working.Solution, error) {
	ready, err := Read(p)
	if err != nil {
		return nil, err
	}
	return ready.Work(ctx)
}

// Simulate works the problem and draws samples as they could come up if H₀ were true. It reports
// from time to time how far it is, the last time when all are drawn.
func Simulate(ctx context.Context, p *problem.Problem, report func(*working.Simulation) error) error {
	w, err := WorkOut(ctx, p)
	if err != nil {
		return err
	}
	return w.Simulate(ctx, report)
}

// Power works the problem and says how its test does where something stated is true, and how
// large a sample it needs.
func Power(ctx context.Context, p *problem.Problem, question working.PowerQuestion) (*working.Power, error) {
	w, err := WorkOut(ctx, p)
	if err != nil {
		return nil, err
	}
	return w.Power(ctx, question)
}

// WorkOut works the problem and returns the working, whose formulas can be made again from other numbers. Finish
// gives its solution.
func WorkOut(ctx context.Context, p *problem.Problem) (*working.Working, error) {
	ready, err := Read(p)
	if err != nil {
		return nil, err
	}
	return ready.work(ctx)
}

func (r *Ready) work(ctx context.Context) (*working.Working, error) {
	w, err := r.task.Work(ctx)
	if err != nil {
		return nil, err
	}
	addPictures(w, r.pictures)
	if err := ctx.Err(); err != nil {
		return nil, fmt.Errorf("working a problem of %q: %w", r.problem.Procedure, err)
	}
	return w, nil
}

// Carry returns the problem for another procedure: what the target declares (roles, options,
// tail) and everything general (question, claim, alpha, data) is kept, the rest dropped.
func Carry(p *problem.Problem, to string) (*problem.Problem, error) {
	target := Find(to)
	if target == nil {
		return nil, fmt.Errorf("carrying the problem over: there is no procedure %q", to)
	}
	carried := *p
	carried.Procedure = to
	carried.Roles = problem.Roles{}
	for _, role := range target.Roles {
		if names, ok := p.Roles[role.ID]; ok {
			carried.Roles[role.ID] = names
		}
	}
	carried.Options = nil
	from := Find(p.Procedure)
	for _, option := range target.Options {
		if from != nil {
			if same := from.Option(option.ID); same == nil || same.Type != option.Type {
				continue
			}
		}
		if value, ok := p.Options[option.ID]; ok {
			if carried.Options == nil {
				carried.Options = map[string]jsontext.Value{}
			}
			carried.Options[option.ID] = value
		}
	}
	if !target.HasDirection(carried.Options) {
		carried.Tail = problem.Both
	}
	return &carried, nil
}

// Act returns the problem that an action leads to.
func Act(p *problem.Problem, action working.Action) (*problem.Problem, error) {
	if action.Procedure != "" {
		var err error
		if p, err = Carry(p, action.Procedure); err != nil {
			return nil, err
		}
	}
	return problem.Apply(p, action.Set)
}
