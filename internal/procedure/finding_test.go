package procedure_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// hypothesesOf returns the block with both hypotheses.
func hypothesesOf(t *testing.T, s *working.Solution) working.HypothesesBlock {
	t.Helper()
	for _, step := range s.Steps {
		for _, block := range step.Blocks {
			if h, ok := block.(working.HypothesesBlock); ok {
				return h
			}
		}
	}
	t.Fatal("there are no hypotheses")
	return working.HypothesesBlock{}
}

// The hypotheses say as data what they say in words, and what was found is on the side on which
// the estimate lies: typed from what each tail and outcome means.
func TestFindings(t *testing.T) {
	states := map[string][2]problem.Statement{
		"both": {problem.Equal, problem.Different}, "left": {problem.AtLeast, problem.Smaller}, "right": {problem.AtMost, problem.Larger},
	}
	for id, data := range claimData {
		for tail, said := range states {
			for side, found := range map[float64]problem.Statement{-1: problem.Smaller, 0: said[1], 1: problem.Larger} {
				name := fmt.Sprintf("%s, %s, %v", id, tail, side)
				s := proctest.Work(t, claimFile(id, tail, `"says":"open"`, data(side)))
				h := hypothesesOf(t, s)
				assert.Equal(t, said, [2]problem.Statement{h.Null.Says, h.Alternative.Says}, name)
				assert.Len(t, h.Compared.Of, 2, name)
				require.NotNil(t, s.Finding, name)
				assert.Equal(t, h.Compared, s.Finding.Compared, name)
				assert.Equal(t, s.Decision.Reject, s.Finding.Shown, name)
				if !s.Decision.Reject {
					found = said[1]
				}
				assert.Equal(t, found, s.Finding.Says, name)
			}
		}
	}
	for id, data := range undirectedData {
		for _, side := range []float64{0, 1} {
			s := proctest.Work(t, claimFile(id, "both", `"says":"open"`, data(side)))
			h := hypothesesOf(t, s)
			assert.Equal(t, [2]problem.Statement{problem.Equal, problem.Different}, [2]problem.Statement{h.Null.Says, h.Alternative.Says}, id)
			assert.Equal(t, &working.Finding{Compared: h.Compared, Shown: side == 1, Says: problem.Different}, s.Finding, id)
		}
	}
}

// A verdict is the comparison of two numbers of the solution, and what is read is made from it.
func TestVerdictsCompare(t *testing.T) {
	seen := 0
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		values := proctest.Quantities(s)
		for _, step := range s.Steps {
			for _, block := range step.Blocks {
				v, ok := block.(working.Verdict)
				if !ok {
					continue
				}
				seen++
				value, against := values[string(v.Opens)], values[string(v.Against)]
				if v.Rule == working.ByCriticalValue && values["critical_low"] == -against {
					value = max(value, -value) // both sides alike
				}
				assert.Equal(t, map[string]bool{"<": value < against, "=": value == against, ">": value > against}[v.Sign], true, name)
				assert.Contains(t, v.Compare, v.Sign, name)
				switch {
				case v.Rule == working.ByPValue:
					assert.Equal(t, v.Sign != ">", v.Reject, name)
				case v.Against == "critical_low":
					assert.Equal(t, v.Sign != ">", v.Reject, name)
				default:
					assert.Equal(t, v.Sign != "<", v.Reject, name)
				}
			}
		}
	}
	assert.Greater(t, seen, 100)
}
