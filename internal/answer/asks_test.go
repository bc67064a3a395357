package answer

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
)

// demoProblems returns the problems of the demo by file.
func demoProblems(t *testing.T) map[string]*problem.Problem {
	t.Helper()
	files, err := filepath.Glob("../../demo/problems/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	problems := map[string]*problem.Problem{}
	for _, name := range files {
		file, err := os.ReadFile(name)
		require.NoError(t, err)
		p, err := problem.Parse(file)
		require.NoError(t, err, name)
		problems[filepath.Base(name)] = p
	}
	return problems
}

// Every problem asks for its hypotheses, statistic, critical value, p, decision and conclusion, each once; what is
// asked can be answered.
func TestAsks(t *testing.T) {
	for name, p := range demoProblems(t) {
		asks, err := Asks(t.Context(), p)
		require.NoError(t, err, name)
		w, err := procedure.WorkOut(t.Context(), p)
		require.NoError(t, err, name)
		solution, err := w.Finish()
		require.NoError(t, err, name)
		byID := map[string]Ask{}
		for _, a := range asks.Asks {
			assert.NotContains(t, byID, a.ID, name)
			assert.NotEmpty(t, a.Label, "%s: %s", name, a.ID)
			assert.Equal(t, a.Kind == askChoice, len(a.Choices) > 0, "%s: %s", name, a.ID)
			byID[a.ID] = a
		}
		wanted := []string{askHypotheses, askDecision, askConclusion, string(solution.Decision.P)}
		if w.Statistic() != "" {
			wanted = append(wanted, string(w.Statistic()))
		}
		if solution.Decision.ByCriticalValue != nil {
			wanted = append(wanted, askRegion)
		}
		for _, id := range wanted {
			assert.Contains(t, byID, id, name)
		}
	}
}

// The right answer is right in every problem, with all its digits and as it is shown; choices too.
func TestTheRightAnswerIsRight(t *testing.T) {
	for name, p := range demoProblems(t) {
		asks, err := Asks(t.Context(), p)
		require.NoError(t, err, name)
		solution, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		var full, shown []Answer
		for _, q := range solution.Quantities {
			for _, a := range asks.Asks {
				if a.ID == string(q.ID) {
					full = append(full, Answer{a.ID, q.Full})
					shown = append(shown, Answer{a.ID, q.Display})
				}
			}
		}
		require.NotEmpty(t, full, name)
		if solution.Decision.Reject {
			full = append(full, Answer{askDecision, reject})
		} else {
			full = append(full, Answer{askDecision, doNotReject})
		}
		for _, c := range solution.Conditions {
			full = append(full, Answer{askCondition + c.ID, string(c.Status)})
		}
		verdicts, err := Check(t.Context(), p, full)
		require.NoError(t, err, name)
		assert.Equal(t, len(full), verdicts.Right, name)
		for _, v := range verdicts.Verdicts {
			assert.Equal(t, Right, v.Verdict, "%s: %s", name, v.Ask)
		}
		verdicts, err = Check(t.Context(), p, shown)
		require.NoError(t, err, name)
		for i, v := range verdicts.Verdicts {
			assert.Contains(t, []string{Right, Coarse}, v.Verdict, "%s: %s = %s", name, v.Ask, shown[i].Text)
		}
	}
}

// No sentence of a slip holds a digit: it says what was done and gives no number away.
func TestSlipsGiveNothingAway(t *testing.T) {
	seen := map[string]bool{}
	for _, s := range slips {
		assert.False(t, seen[s.id], s.id)
		seen[s.id] = true
		assert.NotRegexp(t, `[2-9]|[0-9]{2}`, strings.NewReplacer("n − 2", "").Replace(s.says), s.id)
	}
}

// Choices stand in the same order each time, and the right one is not always the first.
func TestChoicesGiveNothingAway(t *testing.T) {
	first := 0
	for name, p := range demoProblems(t) {
		one, err := Asks(t.Context(), p)
		require.NoError(t, err, name)
		two, err := Asks(t.Context(), p)
		require.NoError(t, err, name)
		assert.Equal(t, one, two, name)
		for _, a := range one.Asks {
			if a.ID == askConclusion && a.Choices[0].Value == "right" {
				first++
			}
		}
	}
	assert.Less(t, first, 10)
}

// The problem says which asks are asked, and how far help goes.
func TestWhichAsks(t *testing.T) {
	file := func(try string) *problem.Problem {
		p, err := problem.Parse([]byte(summary("t-one-sample", `{"n":16,"mean":41.6,"sd":2.4}`, `,"options":{"mean":40},"try":`+try)))
		require.NoError(t, err)
		return p
	}
	for try, want := range map[string]string{
		`{"asks":"main"}`:            "hypotheses t region critical_high p decision conclusion",
		`{"asks":["se","decision"]}`: "se decision",
		`{"asks":["main","se"]}`:     "hypotheses se t region critical_high p decision conclusion",
	} {
		asks, err := Asks(t.Context(), file(try))
		require.NoError(t, err)
		var ids []string
		for _, a := range asks.Asks {
			ids = append(ids, a.ID)
		}
		assert.Equal(t, want, strings.Join(ids, " "), try)
	}
	for help, want := range map[string]struct {
		helps int
		shown bool
	}{
		`{"asks":"se","help":0}`: {0, false}, `{"asks":"se","help":2}`: {2, false}, `{"asks":"se","help":4}`: {4, true},
		`{"asks":"se"}`: {4, true},
	} {
		attempt, err := NewAttempt(t.Context(), file(help))
		require.NoError(t, err)
		var events []Event
		for range 4 {
			events = append(events, Event{Kind: Helped, Ask: "se"})
		}
		sheet, err := attempt.After(t.Context(), events)
		require.NoError(t, err)
		assert.Equal(t, want.helps, sheet.Items[0].Helps, help)
		assert.Equal(t, want.shown, sheet.Items[0].Shown, help)
	}
	for try, says := range map[string]string{`{"help":5}`: "/try/help", `{"asks":1}`: "/try/asks", `{"ask":"all"}`: "/try"} {
		_, err := problem.Parse([]byte(summary("t-one-sample", `{"n":16,"mean":41.6,"sd":2.4}`, `,"options":{"mean":40},"try":`+try)))
		assert.ErrorContains(t, err, says)
	}
}
