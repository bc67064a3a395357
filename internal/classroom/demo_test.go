package classroom

import (
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/answer"
	"grund/internal/problem"
	"grund/internal/problemset"
)

// What the demo's class did was judged as it would be judged now: every verdict and every standing.
func TestTheDemosClassIsJudgedAsItSays(t *testing.T) {
	class, err := demo.TheClass()
	require.NoError(t, err)
	var settings problemset.Settings
	require.NoError(t, json.Unmarshal(class.Settings, &settings))
	assert.Len(t, class.Students, 24)
	slips := 0
	for _, a := range class.Attempts {
		own, err := problem.Parse(demo.File(class.Problems[a.Problem]))
		require.NoError(t, err)
		p, err := settings.Variant(t.Context(), own, a.Seed)
		require.NoError(t, err)
		attempt, err := answer.NewAttempt(t.Context(), p)
		require.NoError(t, err)
		var events []answer.Event
		for _, e := range a.Events {
			events = append(events, answer.Event{Kind: e.Kind, Ask: e.Ask, Text: e.Text})
		}
		events, err = attempt.JudgeAgain(t.Context(), events)
		require.NoError(t, err)
		for i, e := range a.Events {
			assert.Equal(t, e.Verdict, events[i].Verdict, "%s at %s", class.Students[a.Student], e.Ask)
			assert.Equal(t, e.Slip, events[i].Slip, "%s at %s", class.Students[a.Student], e.Ask)
			if e.Slip != "" {
				slips++
			}
		}
		sheet, err := attempt.After(t.Context(), events)
		require.NoError(t, err)
		standing, err := json.Marshal(problemset.StandingOf(sheet, events))
		require.NoError(t, err)
		assert.JSONEq(t, string(a.Standing), string(standing))
	}
	assert.Greater(t, slips, 20, "slips to look at")
}
