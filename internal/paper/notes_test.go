package paper_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/paper"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// Notes stand with the step that shows what they are about, in every form; a number that has changed is told; what is no
// formula and what is markup stand as they were typed.
func TestNotes(t *testing.T) {
	p := *proctest.DemoProblems(t)["two-berths"]
	p.Notes = []problem.Note{
		{At: "step/hypotheses", Text: "Why *two* tails?\n\nAsk."},
		{At: "number/se", Text: `From $\sqrt{a+b}$, not $a+b$.`, Was: "0.572"},
		{At: "number/t", Text: "It costs 5 $ here.", Was: "−2.064"},
		{At: "table/cases", Text: `Broken: $\frac{a$ stays.`},
		{At: "condition/normality", Text: "<script>alert(1)</script>"},
		{At: "number/gone", Text: "of nothing that is there"},
	}
	s, err := procedure.Work(t.Context(), &p)
	require.NoError(t, err)
	var steps []working.StepID
	for _, placed := range s.OwnNotes {
		steps = append(steps, placed.Step)
	}
	assert.Equal(t, []working.StepID{
		working.Hypotheses, working.Statistic, working.Statistic, working.Data, working.Conditions, working.FollowUp,
	}, steps)

	sheet := &paper.Sheet{Head: paper.Head{Title: "Berths"}, Solution: s, What: paper.Full}
	html := page(t, sheet)
	all, _ := parts(t, sheet)
	markdown := working.Markdown(s, "Berths")
	for name, text := range map[string]string{"HTML": html, "ODT": all["content.xml"], "markdown": markdown} {
		assert.Contains(t, text, "It was 0.572 when this was written.", name)
		assert.Equal(t, 1, strings.Count(text, "when this was written"), "%s: t is what it was", name)
		assert.Contains(t, text, "It costs 5 $ here.", name)
		assert.Contains(t, text, `Broken: $\frac{a$ stays.`, name)
		assert.Contains(t, text, "Standard error of the difference", name)
		assert.Contains(t, text, "of nothing that is there", name)
		assert.Equal(t, 1, strings.Count(text, "What this is about is not in the working now."), name)
		assert.Contains(t, text, "Condition: normality", name)
	}
	assert.NotContains(t, html, "<script")
	assert.Contains(t, html, "Why <em>two</em> tails?")
	assert.Contains(t, all["content.xml"], "&lt;script&gt;")
	before, _, found := strings.Cut(html, "Why <em>two</em> tails?")
	require.True(t, found)
	assert.Equal(t, 4, strings.Count(before, `class="step"`), "it stands with the fourth step")
}

func TestNotesRefused(t *testing.T) {
	const file = `{"grund":1,"procedure":"t-one-sample","data":{"summary":{"groups":[{"n":16,"mean":41.6,"sd":2.4}]}},"notes":`
	for notes, says := range map[string]string{
		`[{"at":"se","text":"x"}]`:                                                     "/notes/0/at",
		`[{"at":"page/se","text":"x"}]`:                                                "/notes/0/at",
		`[{"at":"step/data"},{"at":"step/","text":""}]`:                                "/notes/1/at",
		`[{"at":"step/data","text":"` + strings.Repeat("x", problem.MaxNote+1) + `"}]`: "/notes/0/text",
		`[{"at":"step/data","text":1}]`:                                                "/notes/0/text",
		`["step/data"]`:                                                                "/notes/0",
		`[` + strings.TrimSuffix(strings.Repeat(`{"at":"step/data","text":"x"},`, problem.MaxNotes+1), ",") + `]`: "/notes",
	} {
		_, err := problem.Parse([]byte(file + notes + "}"))
		assert.ErrorContains(t, err, says)
	}
}
