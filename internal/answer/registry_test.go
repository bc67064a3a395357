package answer

import (
	"context"
	"errors"
	"math"
	"math/big"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// A reference is a problem with numbers of its solution that were worked out apart from this program.
type reference struct {
	name     string
	problem  *problem.Problem
	expected map[string]string
}

// references returns the reference problems of all procedures, with the numbers of each that are expected.
func references(t *testing.T) []reference {
	t.Helper()
	var all []reference
	for _, each := range proctest.References(t) {
		p, err := problem.Parse(each.Problem)
		require.NoError(t, err, each.Name)
		r := reference{each.Name, p, map[string]string{}}
		for id, value := range each.Expected {
			if text, is := value.(string); is {
				r.expected[id] = text
			}
		}
		all = append(all, r)
	}
	return all
}

// solutionOf works a reference problem; nothing where it cannot be.
func solutionOf(ctx context.Context, t *testing.T, r reference) (*working.Working, *working.Solution) {
	t.Helper()
	w, err := procedure.WorkOut(ctx, r.problem)
	var mistakes problem.Errors
	if errors.As(err, &mistakes) {
		return nil, nil
	}
	require.NoError(t, err, r.name)
	s, err := w.Finish()
	require.NoError(t, err, r.name)
	return w, s
}

// Every procedure asks for its hypotheses, its statistic and what that is made of, degrees of freedom, critical values,
// p, decision and conclusion, each once and in the order of the steps.
func TestEveryProcedureAsks(t *testing.T) {
	asked := map[string]bool{}
	for _, r := range references(t) {
		w, s := solutionOf(t.Context(), t, r)
		if s == nil {
			continue
		}
		asks, err := Asks(t.Context(), r.problem)
		require.NoError(t, err, r.name)
		ids := map[string]bool{}
		step := 0
		for _, a := range asks.Asks {
			assert.False(t, ids[a.ID], "%s: %s twice", r.name, a.ID)
			ids[a.ID] = true
			at := slices.Index(working.Steps, a.Step)
			assert.GreaterOrEqual(t, at, step, "%s: %s", r.name, a.ID)
			step = at
		}
		if s.Decision == nil {
			continue
		}
		asked[r.problem.Procedure] = true
		wanted := []string{askHypotheses, askDecision, askConclusion, askOwn, string(s.Decision.P)}
		if s.Decision.ByCriticalValue != nil {
			wanted = append(wanted, askRegion)
		}
		if w.Statistic() != "" {
			wanted = append(wanted, string(w.Statistic()))
			if q := s.Quantity(w.Statistic()); q.Formula != nil {
				for _, input := range q.Formula.Inputs {
					if made := s.Quantity(working.Ref(input)); made != nil && made.Formula != nil && !made.Aside {
						wanted = append(wanted, input)
					}
				}
			}
		}
		for _, q := range s.Quantities {
			if (isDegrees(q.ID) || strings.HasPrefix(string(q.ID), "critical_")) && !q.Aside && q.Formula != nil && !math.IsNaN(float64(q.Value)) &&
				q.ID != "critical_printed" && q.ID != "df_printed" {
				wanted = append(wanted, string(q.ID))
			}
		}
		shown := map[string]bool{} // what no step shows, such as a correction within a formula, is not asked for apart
		for _, refs := range s.Finds() {
			for _, ref := range refs {
				shown[string(ref)] = true
			}
		}
		for _, id := range wanted {
			if q := s.Quantity(working.Ref(id)); q != nil && !shown[id] {
				mirrors := id == "critical_low" && ids["critical_high"] // of the same size
				assert.True(t, mirrors || slices.Contains([]string{"correction", "difference", "mean"}, id), "%s: no step shows %s", r.name, id)
				continue
			}
			assert.True(t, ids[id], "%s (%s) does not ask for %s", r.name, r.problem.Procedure, id)
		}
	}
	for _, d := range procedure.Descriptions() {
		assert.True(t, asked[d.ID], d.ID)
	}
}

// No right answer is ever called wrong: what was worked out apart is right when it is typed with four or six digits, and
// right as far as it goes with two.
func TestReferenceNumbersAreRight(t *testing.T) {
	checked := 0
	for _, r := range references(t) {
		_, s := solutionOf(t.Context(), t, r)
		if s == nil {
			continue
		}
		for _, digits := range []int{2, 4, 6} {
			var answers []Answer
			for id, text := range r.expected {
				q := s.Quantity(working.Ref(id))
				x, _, err := big.ParseFloat(text, 10, 200, big.ToNearestEven)
				if err != nil || q == nil || math.IsNaN(float64(q.Value)) {
					continue
				}
				if float64(q.Value) == math.Trunc(float64(q.Value)) { // counts
					answers = append(answers, Answer{id, x.Text('f', 0)})
				} else {
					answers = append(answers, Answer{id, x.Text('e', digits-1)})
				}
			}
			verdicts, err := Check(t.Context(), r.problem, answers)
			require.NoError(t, err, r.name)
			for i, v := range verdicts.Verdicts {
				checked++
				assert.Contains(t, []string{Right, Coarse, Accepted}, v.Verdict, "%s: %s = %s", r.name, v.Ask, answers[i].Text)
				if digits > 2 {
					assert.Equal(t, Right, v.Verdict, "%s: %s = %s", r.name, v.Ask, answers[i].Text)
				}
			}
		}
	}
	assert.Greater(t, checked, 5000)
}

// The sentence of a verdict never holds the right number: all are provoked, in every reference problem.
func TestSentencesGiveNothingAway(t *testing.T) {
	slipped := map[string]bool{}
	for _, r := range references(t) {
		j, err := newJudge(t.Context(), r.problem)
		var mistakes problem.Errors
		if errors.As(err, &mistakes) {
			continue
		}
		require.NoError(t, err, r.name)
		for _, q := range j.solution.Quantities {
			n, ok := j.number(q.ID)
			if !ok {
				continue
			}
			for _, s := range slips {
				for _, x := range s.gives(j, n) {
					if math.IsNaN(x) || math.IsInf(x, 0) {
						continue
					}
					slipped[s.id] = true
					verdict := j.typed(n, Typed{Value: x, Decimals: 9, Digits: 6})
					for _, word := range strings.Fields(verdict.Says) {
						word = strings.Trim(word, ".,:;")
						assert.False(t, verdict.Verdict == Slip && word == q.Display && len(word) > 1, "%s: %s, %s: %s", r.name, q.ID, s.id, verdict.Says)
					}
				}
			}
		}
	}
	for _, s := range slips {
		ofCells := []string{"intercept_forgotten", "mean_for_new", "all_cells_alike"}
		assert.True(t, slipped[s.id] || slices.Contains(ofCells, s.id), "%s is never worked", s.id)
	}
}
