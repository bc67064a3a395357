package answer

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
)

// A right answer is judged right, and a likely one is recognised as what it is, in every problem of the demo.
func TestLikelyAnswers(t *testing.T) {
	slipped := map[string]int{}
	for name, p := range proctest.DemoProblems(t) {
		a, err := NewAttempt(t.Context(), p)
		require.NoError(t, err)
		for i, ask := range a.Asks() {
			if i%7 != 0 { // some of them; each is worked several times over
				continue
			}
			right := a.Right(ask.ID)
			require.NotEmpty(t, right, "%s: %s", name, ask.ID)
			verdicts, err := Check(t.Context(), p, []Answer{{ask.ID, right}})
			require.NoError(t, err)
			assert.True(t, Credited(verdicts.Verdicts[0].Verdict), "%s: %s = %s is %s", name, ask.ID, right, verdicts.Verdicts[0].Verdict)
			likely := a.Likely(ask.ID)
			for _, typed := range likely[:min(2, len(likely))] {
				verdicts, err := Check(t.Context(), p, []Answer{{ask.ID, typed}})
				require.NoError(t, err)
				v := verdicts.Verdicts[0]
				assert.False(t, v.Verdict == Right || v.Verdict == Unreadable, "%s: %s = %s is %s", name, ask.ID, typed, v.Verdict)
				slipped[v.Slip]++
			}
		}
	}
	delete(slipped, "")
	assert.Greater(t, len(slipped), 8, slipped)
}
