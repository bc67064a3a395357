package answer

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/printed"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/working"
)

// The kinds of verdict.
const (
	Right      = "right"
	Coarse     = "coarse"     // right as far as its digits go
	Accepted   = "accepted"   // by another rule of textbooks
	Follows    = "follows"    // from an earlier answer that is not right
	Slip       = "slip"       // one that is known
	Near       = "near"       // within 5 %, and nothing explains it
	Wrong      = "wrong"      // nothing explains it
	Unreadable = "unreadable" // no answer yet, and never counted as wrong
	// ReadThrough is of a sentence: it was read, and no mark is given.
	ReadThrough = "read"
)

// DefaultDigits is how many significant digits an answer has where the problem asks for no other number.
const DefaultDigits = 3

// A Verdict is what became of an answer.
type Verdict struct {
	Ask     string      `json:"ask"`
	Verdict string      `json:"verdict"`       // one of the kinds above
	Rule    string      `json:"rule,omitzero"` // by which it is accepted
	Slip    string      `json:"slip,omitzero"` // its id
	Says    string      `json:"says"`
	Opens   working.Ref `json:"opens,omitzero"` // the quantity to look at
	// Found is what would be underlined in a sentence.
	Found []Underlined `json:"found,omitempty"`
}

// Verdicts are the verdicts on an answer file.
type Verdicts struct {
	Grund    int       `json:"grund"`
	Verdicts []Verdict `json:"verdicts"`
	Right    int       `json:"right"` // right, right as far as they go, accepted, and those that follow
	Of       int       `json:"of"`    // without the unreadable, and sentences
}

// A judge judges the answers to a problem.
type judge struct {
	problem  *problem.Problem
	working  *working.Working
	solution *working.Solution
	digits   int // significant ones that an answer is to have
	// rework works an altered problem; nil where it cannot be worked.
	rework  func(*problem.Problem) *working.Working
	others  map[string]*working.Working // what was worked so, by what was altered
	own     map[working.Ref]float64     // the student's own numbers that are not the right ones
	rounded map[working.Ref]float64     // those that are, as they were typed
	chosen  map[string]string           // the student's own choices, by ask
	// typedCells are the student's own cells, right or not.
	typedCells map[working.Ref]float64
	// slipped is what slips make of quantities, by the name of the slip.
	slipped map[string]map[working.Ref]float64
}

// newJudge works the problem.
func newJudge(ctx context.Context, p *problem.Problem) (*judge, error) {
	w, err := procedure.WorkOut(ctx, p)
	if err != nil {
		return nil, err
	}
	solution, err := w.Finish()
	if err != nil {
		return nil, err
	}
	j := &judge{
		problem: p, working: w, solution: solution, digits: DefaultDigits, others: map[string]*working.Working{},
		slipped: map[string]map[working.Ref]float64{},
	}
	j.reworkIn(ctx)
	if p.Digits != nil {
		j.digits = *p.Digits
	}
	return j, nil
}

// reworkIn lets altered problems be worked within a context from now on.
func (j *judge) reworkIn(ctx context.Context) {
	j.rework = func(p *problem.Problem) *working.Working {
		w, err := procedure.WorkOut(ctx, p)
		if err != nil {
			return nil
		}
		return w
	}
}

// Check works the problem and judges the answers to it. An error of type problem.Errors names the answer that cannot
// be judged, or what is wrong with the problem.
func Check(ctx context.Context, p *problem.Problem, answers []Answer) (*Verdicts, error) {
	j, err := newJudge(ctx, p)
	if err != nil {
		return nil, err
	}
	found, err := j.check(ctx, answers)
	if err != nil {
		return nil, err
	}
	out := &Verdicts{Grund: problem.Format, Verdicts: []Verdict{}}
	for _, a := range answers {
		verdict := found[a.Ask]
		out.Verdicts = append(out.Verdicts, verdict)
		switch verdict.Verdict {
		case Unreadable, ReadThrough:
			continue
		case Right, Coarse, Accepted, Follows:
			out.Right++
		}
		out.Of++
	}
	return out, nil
}

// check judges answers, in the order of the work, and returns the verdicts by ask.
func (j *judge) check(ctx context.Context, answers []Answer) (map[string]Verdict, error) {
	j.begin()
	found := map[string]Verdict{}
	for _, a := range j.inOrder(answers) {
		if err := ctx.Err(); err != nil {
			return nil, fmt.Errorf("checking answers: %w", err)
		}
		verdict, err := j.judge(a)
		if err != nil {
			return nil, err
		}
		verdict.Ask = a.Ask
		found[a.Ask] = verdict
	}
	return found, nil
}

// begin forgets the student's own answers.
func (j *judge) begin() {
	j.own, j.rounded, j.chosen = map[working.Ref]float64{}, map[working.Ref]float64{}, map[string]string{}
	j.typedCells = map[working.Ref]float64{}
}

// inOrder returns the answers in the order of the work: how H₁ looks, numbers as the solution defines them, then the
// other choices, so that what follows from an earlier answer is judged after it.
func (j *judge) inOrder(answers []Answer) []Answer {
	place := map[string]int{}
	for i, q := range j.solution.Quantities {
		place[string(q.ID)] = i + 2
	}
	last := len(j.solution.Quantities) + 2
	at := func(a Answer) int {
		switch {
		case a.Ask == askHypotheses:
			return -2 // how many tails there are comes before what is looked up for them
		case a.Ask == askRegion:
			return -1
		case strings.HasSuffix(a.Ask, "/expected"):
			return 0 // the cells of a table, from which the rest is made
		case strings.Contains(a.Ask, "/"):
			return 1
		case place[a.Ask] > 0:
			return place[a.Ask]
		case a.Ask == askConclusion:
			return last + 1 // it follows from the decision
		}
		return last
	}
	ordered := slices.Clone(answers)
	slices.SortStableFunc(ordered, func(a, b Answer) int { return at(a) - at(b) })
	return ordered
}

func (j *judge) judge(a Answer) (Verdict, error) {
	if a.Ask == askOwn && j.solution.Decision != nil {
		return j.readThrough(a), nil
	}
	if choose := j.choice(a.Ask); choose != nil {
		return choose(a)
	}
	asked, ok := j.number(working.Ref(a.Ask))
	if !ok {
		return Verdict{}, problem.Errors{{
			Pointer: problem.Pointer("answers", a.Ask), Says: "the problem does not ask this", Instead: "take an id from “grund asks”",
		}}
	}
	typed, err := Read(a.Text, asked.reading())
	if err != nil {
		return Verdict{Verdict: Unreadable, Says: err.Error()}, nil
	}
	if typed.Bounds != nil {
		verdict := j.bounds(asked, *typed.Bounds)
		if verdict.Verdict == Wrong && !typed.Bounds.Inside(j.problem.Alpha) { // on which side of alpha p is for the student
			j.own[asked.id] = max(typed.Bounds.Low, 0)
			if typed.Bounds.High <= j.problem.Alpha {
				j.own[asked.id] = typed.Bounds.High
			}
		}
		return verdict, nil
	}
	verdict := j.typed(asked, typed)
	if asked.cell {
		j.typedCells[asked.id] = typed.Value
	} else {
		if verdict.Verdict == Right || verdict.Verdict == Accepted && verdict.Rule == "rounded" {
			j.rounded[asked.id] = typed.Value
		} else {
			j.own[asked.id] = typed.Value
		}
	}
	return verdict, nil
}

// An askedNumber is a number of the solution that is asked for.
type askedNumber struct {
	id    working.Ref
	label string
	unit  string
	value float64
	whole bool
	cell  bool
}

// number finds a quantity or a cell.
func (j *judge) number(id working.Ref) (askedNumber, bool) {
	for _, q := range j.solution.Quantities {
		if q.ID == id && !math.IsNaN(float64(q.Value)) {
			return askedNumber{
				id: id, label: q.Label, unit: q.Unit, value: float64(q.Value),
				whole: float64(q.Value) == math.Trunc(float64(q.Value)) && !strings.Contains(q.Display, "."),
			}, true
		}
	}
	if x, column, ok := j.solution.Cell(id); ok && !math.IsNaN(float64(x)) {
		return askedNumber{id: id, label: column.Label, unit: column.Unit, value: float64(x), cell: true}, true
	}
	return askedNumber{}, false
}

// reading is how what is typed for the number is read.
func (n askedNumber) reading() Asked {
	percent := n.unit == "%" || strings.HasSuffix(string(n.id), "_percent")
	return Asked{
		Unit: n.unit, Percent: percent, Share: n.unit == "" && !percent && !n.whole, Bounds: n.id == "p" || strings.HasPrefix(string(n.id), "p_"),
	}
}

// bounds judges bounds for a p-value.
func (j *judge) bounds(n askedNumber, b Bounds) Verdict {
	follows := slices.ContainsFunc(j.fromOwn(n), b.Hold)
	switch {
	case !b.Hold(n.value) && follows && !b.Inside(j.problem.Alpha):
		return Verdict{Verdict: Follows, Says: followsSays, Opens: n.id}
	case !b.Hold(n.value):
		return Verdict{Verdict: Wrong, Says: "p does not lie there.", Opens: n.id}
	case b.Inside(j.problem.Alpha):
		return Verdict{Verdict: Wrong, Says: "p lies there, but so does α: these bounds do not tell on which side of α it is.", Opens: n.id}
	}
	return Verdict{Verdict: Right, Says: "Right: p lies there."}
}

// typed judges a number, in the order of the verdicts.
func (j *judge) typed(n askedNumber, t Typed) Verdict {
	if n.whole {
		if t.Value == n.value {
			return Verdict{Verdict: Right, Says: "Right."}
		}
	} else if t.Agrees(n.value) {
		if verdict, ok := j.accepted(n, t); ok && t.Digits < j.digits { // the table's row is not a coarse number
			return verdict
		}
		exactly := math.Abs(t.Value-n.value) <= binary*math.Abs(n.value)
		if t.Exact || exactly || t.Digits >= j.digits {
			return Verdict{Verdict: Right, Says: "Right."}
		}
		return Verdict{Verdict: Coarse, Says: fmt.Sprintf("Right as far as it goes. Write it with %d significant digits.", j.digits)}
	}
	if verdict, ok := j.accepted(n, t); ok {
		return verdict
	}
	if verdict, ok := j.follows(n, t); ok {
		return verdict
	}
	if verdict, ok := j.slip(n, t); ok {
		return verdict
	}
	if verdict, ok := j.fromRounded(n, t); ok {
		return verdict
	}
	if math.Abs(t.Value-n.value) <= 0.05*math.Abs(n.value) {
		return Verdict{Verdict: Near, Says: "Near, but not it: look at the arithmetic and at where it was rounded.", Opens: n.id}
	}
	return Verdict{Verdict: Wrong, Says: "Not it.", Opens: n.id}
}

// agrees reports whether the answer is a value that is not the right one at the answer's digits.
func (n askedNumber) agrees(t Typed, other float64) bool {
	return !math.IsNaN(other) && !math.IsInf(other, 0) && t.Agrees(other) && !t.Agrees(n.value)
}

// follows reports whether the number's formula gives the answer from the student's own earlier answers.
func (j *judge) follows(n askedNumber, t Typed) (Verdict, bool) {
	for _, value := range j.fromOwn(n) {
		if n.agrees(t, value) {
			return Verdict{Verdict: Follows, Says: followsSays, Opens: n.id}, true
		}
	}
	return Verdict{}, false
}

const followsSays = "It follows from your own earlier answers; a slip is paid for once."

// fromOwn returns what comes of the student's own answers for a number, nothing where all of them are right.
func (j *judge) fromOwn(n askedNumber) []float64 {
	var values []float64
	counted, wrong := j.fromCells(n.id)
	if wrong {
		values = append(values, counted)
	}
	if n.cell {
		return values
	}
	var others []map[working.Ref]float64
	if len(j.own) > 0 {
		others = append(others, j.own, j.all())
	}
	if statistic, is := j.fromCells(chiSquare); is { // not as it was answered, but as it comes to
		other := j.all()
		other[chiSquare] = statistic
		others = append(others, other)
	}
	for _, earlier := range others {
		if made, ok := j.working.With(earlier).Made(n.id); ok {
			values = append(values, made)
		}
	}
	if tail := j.ownTail(); tail != "" && j.ofTails(n.id) {
		values = append(values, j.worked(n.id, string(tail), withTail(tail))...)
	}
	return values
}

// all are all the student's numbers.
func (j *judge) all() map[working.Ref]float64 {
	all := make(map[working.Ref]float64, len(j.own)+len(j.rounded))
	for _, numbers := range []map[working.Ref]float64{j.rounded, j.own} {
		for id, x := range numbers {
			all[id] = x
		}
	}
	return all
}

// fromRounded accepts what the arithmetic gives with rounded inputs: those that are shown, or the student's own.
func (j *judge) fromRounded(n askedNumber, t Typed) (Verdict, bool) {
	if math.Abs(t.Value-n.value) > 0.02*math.Abs(n.value) {
		return Verdict{}, false
	}
	fromOwn, ok := j.working.With(j.rounded).Made(n.id)
	fromCells, _ := j.fromCells(n.id)
	if ok && n.agrees(t, fromOwn) || n.agrees(t, fromCells) || n.agrees(t, j.working.MadeFromShown(n.id)) {
		return Verdict{Verdict: Accepted, Rule: "rounded", Says: "Right for the rounded numbers that it was made from. Keep more digits " +
			"until the end."}, true
	}
	return Verdict{}, false
}

// accepted judges by the other rules of textbooks: the row of a printed table that lies below, and the smaller group.
func (j *judge) accepted(n askedNumber, t Typed) (Verdict, bool) {
	for _, q := range j.solution.Quantities {
		if !isDegrees(q.ID) {
			continue
		}
		df := float64(q.Value)
		looked := n.id == q.ID || strings.HasPrefix(string(n.id), "critical_") // what stands in a printed table
		if row := rowBelow(df); looked && row != df && j.restsOn(n, t, q.ID, row) {
			return Verdict{Verdict: Accepted, Rule: "printed_table", Says: "Accepted: it stands in the row of a printed table below the " +
				"degrees of freedom."}, true
		}
	}
	if smaller, ok := j.smallerGroup(); ok && j.restsOn(n, t, "df", smaller) {
		return Verdict{Verdict: Accepted, Rule: "smaller_group", Says: "Accepted: some textbooks take the smaller group less one as " +
			"degrees of freedom."}, true
	}
	return Verdict{}, false
}

// restsOn reports whether the answer is what other degrees of freedom give: they themselves, or what is made from them.
func (j *judge) restsOn(n askedNumber, t Typed, df working.Ref, value float64) bool {
	if n.id == df {
		return t.Value == value
	}
	made, ok := j.working.With(map[working.Ref]float64{df: value}).Made(n.id)
	return ok && !n.cell && !n.whole && n.agrees(t, made)
}

// smallerGroup returns the degrees of freedom of the smaller of two groups whose variances are kept apart.
func (j *judge) smallerGroup() (df float64, ok bool) {
	if j.problem.Procedure != "t-two-sample" || !j.working.Has("df") || j.option("variances") == `"equal"` {
		return 0, false
	}
	return math.Min(j.working.Value("n_1"), j.working.Value("n_2")) - 1, true
}

// option returns an option of the problem file as it stands there, "" where it is not given.
func (j *judge) option(id string) string { return string(j.problem.Options[id]) }

// isDegrees reports whether a quantity is a number of degrees of freedom.
func isDegrees(id working.Ref) bool { return id == "df" || strings.HasPrefix(string(id), "df_") }

// rowBelow returns the degrees of freedom of the last row of a printed table that is not above df; df itself below all.
func rowBelow(df float64) float64 {
	rows := printed.T().Rows
	if at := printed.NotAbove(rows, df); at >= 0 {
		return rows[at]
	}
	return df
}
