package working

import (
	"context"
	"fmt"

	"grund/internal/problem"
	"grund/internal/stats"
)

const (
	// TargetPower is the power that is asked for when nothing else is said.
	TargetPower = 0.8
	// largestSize is how many cases are looked at most.
	largestSize = 200_000
	// powerPoints is about how many points the curve of power has.
	powerPoints = 120
)

// A Planning says how the power of the test that was made depends on what is true and on
// the number of cases.
type Planning struct {
	Inputs []PowerInput // what may be true, with values to begin with
	N      int          // cases of the present sample
	Least  int          // the fewest cases that can be tested
	// Stepped says that power goes up and down with the number of cases.
	Stepped bool
	// Power returns the power with n cases, where the inputs are true.
	Power func(truth []float64, n int) float64
	// Truth names what is true: "a true difference of 1.2 min".
	Truth func(truth []float64) string
	// Side is the sign of what is true against H₀, 0 where H₀ itself is true.
	Side func(truth []float64) int
	// Sizes says how n cases are shared among the groups: "18 and 15"; nil for one sample.
	Sizes func(n int) string
	Basis string // how it is calculated
}

// A PowerInput is a number that may be true.
type PowerInput struct {
	ID    string  `json:"id"`
	Label string  `json:"label"`
	Unit  string  `json:"unit,omitzero"`
	Value float64 `json:"value"`
	// Above and Below are what it must lie between; nil where it may be any number.
	Above *float64 `json:"above"`
	Below *float64 `json:"below"`
}

// PlanBy offers to find the power of the test, and the sample that a power needs, in the
// step on what follows.
func (w *Working) PlanBy(p Planning) {
	w.planning = &p
	w.AddTo(FollowUp, PowerBlock{Inputs: p.Inputs, Target: TargetPower})
}

// PowerQuestion asks for the power where the inputs of these ids are true, and for the
// sample that the target needs. What is not given stays as the procedure has it.
type PowerQuestion struct {
	Inputs map[string]float64 `json:"inputs"`
	Target *float64           `json:"target,omitzero"`
}

// Power is how the test does where something stated is true.
type Power struct {
	Inputs  []PowerInput `json:"inputs"`
	Target  float64      `json:"target"`
	Present PowerAt      `json:"present"`
	Needed  *PowerAt     `json:"needed"` // nil where no sample reaches the target
	Says    string       `json:"says"`   // of the present sample
	Needs   string       `json:"needs"`  // of the needed one
	Basis   string       `json:"basis"`
	Figure  *Figure      `json:"figure"`
}

// PowerAt is the power with a number of cases.
type PowerAt struct {
	N     int    `json:"n"`
	Power Number `json:"power"`
	Shown string `json:"shown"`
	Sizes string `json:"sizes,omitzero"` // by group
}

// Power answers how the test does where something stated is true. A number that cannot be
// true is an error that names it; the context's error is returned when that is done.
func (w *Working) Power(ctx context.Context, q PowerQuestion) (*Power, error) {
	p := w.planning
	if p == nil {
		return nil, problem.Errors{{Pointer: "/procedure", Says: "the power of this test is not calculated",
			Instead: "take a test of means or proportions"}}
	}
	out := &Power{Inputs: append([]PowerInput(nil), p.Inputs...), Target: TargetPower, Basis: p.Basis}
	truth, err := q.fill(out)
	if err != nil {
		return nil, err
	}
	power := func(n int) float64 { return p.Power(truth, n) }
	at := func(n int) PowerAt {
		x := power(n)
		one := PowerAt{N: n, Power: Number(x), Shown: FormatProbability(x)}
		if p.Sizes != nil {
			one.Sizes = p.Sizes(n)
		}
		return one
	}
	out.Present = at(p.N)
	out.Says = fmt.Sprintf("With the %s of this problem the test finds %s with probability %s: of 100 such samples about %s reject H₀, "+
		"and in the others a Type II error is made.",
		out.Present.cases(), p.Truth(truth), out.Present.Shown, FormatNumber(100*float64(out.Present.Power), 0))
	side := p.Side(truth)
	against := side < 0 && w.problem.Tail == problem.Right || side > 0 && w.problem.Tail == problem.Left
	switch n, ok := 0, false; {
	case side == 0:
		out.Says = fmt.Sprintf("That is what H₀ states. The test then rejects with probability %s, near α = %s, and each time that is a "+
			"Type I error.", out.Present.Shown, FormatShortest(w.problem.Alpha))
		out.Needs = "No sample makes that more frequent: state something that differs from H₀."
	case against:
		out.Needs = "No sample reaches it: what is stated lies on the side on which H₁ does not look."
	default:
		if n, ok = stats.NeededSize(ctx, power, out.Target, p.Least, largestSize, p.Stepped); !ok {
			out.Needs = fmt.Sprintf("For a power of %s more than %s would be needed.", FormatShortest(out.Target), cases(largestSize))
			break
		}
		needed := at(n)
		out.Needed = &needed
		out.Needs = fmt.Sprintf("For a power of %s it takes %s.", FormatShortest(out.Target), needed.cases())
	}
	out.Figure = w.powerFigure(ctx, out, power)
	return out, ctx.Err()
}

// fill puts the numbers of the question into the answer and returns what is true.
func (q *PowerQuestion) fill(out *Power) (truth []float64, err error) {
	var mistakes problem.Errors
	known := map[string]bool{}
	var ids []string
	for i := range out.Inputs {
		in := &out.Inputs[i]
		known[in.ID] = true
		ids = append(ids, in.ID)
		if x, given := q.Inputs[in.ID]; given {
			in.Value = x
		}
		says := in.Label + " is " + FormatShortest(in.Value)
		switch {
		case in.Above != nil && !(in.Value > *in.Above):
			mistakes = append(mistakes, problem.Error{Pointer: problem.Pointer("inputs", in.ID), Says: says, Instead: "it must be above " +
				FormatShortest(*in.Above)})
		case in.Below != nil && !(in.Value < *in.Below):
			mistakes = append(mistakes, problem.Error{Pointer: problem.Pointer("inputs", in.ID), Says: says, Instead: "it must be below " +
				FormatShortest(*in.Below)})
		}
		truth = append(truth, in.Value)
	}
	for id := range q.Inputs {
		if !known[id] {
			mistakes = append(mistakes, problem.Unknown(problem.Pointer("inputs", id), "input", id, ids))
		}
	}
	if q.Target != nil {
		out.Target = *q.Target
	}
	if !(out.Target > 0 && out.Target < 1) {
		mistakes = append(mistakes, problem.Error{Pointer: "/target", Says: "the power is " + FormatShortest(out.Target),
			Instead: "it must lie between 0 and 1, both excluded"})
	}
	if mistakes != nil {
		return nil, mistakes
	}
	return truth, nil
}

// cases names the number of cases, and how they are shared.
func (a PowerAt) cases() string {
	if a.Sizes != "" {
		return cases(a.N) + " (" + a.Sizes + ")"
	}
	return cases(a.N)
}

func cases(n int) string {
	if n == 1 {
		return "1 case"
	}
	return FormatNumber(float64(n), 0) + " cases"
}

// powerFigure draws power against the number of cases, from few to more than are needed.
func (w *Working) powerFigure(ctx context.Context, p *Power, power func(n int) float64) *Figure {
	last := 2 * p.Present.N
	if p.Needed != nil {
		last = max(p.Present.N, p.Needed.N) * 5 / 4
	}
	first := w.planning.Least
	last = max(last, first+10)
	f := &Figure{ID: "power", Form: PowerCurve, Title: "Power by the number of cases",
		Axis: Axis{Label: "cases", Min: 0, Max: Number(last)}, Up: &Axis{Label: "power", Min: 0, Max: 1}, Handles: []Handle{}}
	line := Mark{Shape: Line, Role: Expected, Label: "power"}
	step := max(1, (last-first+powerPoints-1)/powerPoints)
	for n := first; n <= last && ctx.Err() == nil; n += step {
		line.X, line.Y = append(line.X, Number(n)), append(line.Y, Number(roundTo(power(n), 5)))
	}
	f.Marks = []Mark{line, {Shape: RuleMark, Role: Region, Label: FormatShortest(p.Target), Y: Positions(p.Target)}}
	point := func(role Role, label string, at PowerAt) {
		f.Marks = append(f.Marks, Mark{Shape: Points, Role: role, Label: label, X: Positions(float64(at.N)), Y: Numbers{at.Power}})
	}
	point(Observed, "now "+FormatNumber(float64(p.Present.N), 0), p.Present)
	f.Says = fmt.Sprintf("Power rises with the number of cases; with %s it is %s.", cases(p.Present.N), p.Present.Shown)
	if p.Needed != nil {
		point(StatisticMark, "needed "+FormatNumber(float64(p.Needed.N), 0), *p.Needed)
		f.Says += fmt.Sprintf(" It reaches %s with %s.", FormatShortest(p.Target), cases(p.Needed.N))
	}
	return f
}

// FormatProbability writes a probability with three decimals, more where it is near 0 or
// 1, and never as one of these where it is not.
func FormatProbability(p float64) string {
	for decimals := 3; decimals < 6; decimals++ {
		rounded := Rounded(p, decimals)
		if p == 0 || p == 1 || rounded > 0 && rounded < 1 {
			return FormatNumber(p, decimals)
		}
	}
	if p < 0.5 {
		return "<" + thinSpace + "0.00001"
	}
	return ">" + thinSpace + "0.99999"
}
