package labreport_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/labreport"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// worked works a demo problem, changed.
func worked(t *testing.T, name string, change func(p *problem.Problem)) labreport.Worked {
	t.Helper()
	p := *proctest.DemoProblems(t)[name]
	if change != nil {
		change(&p)
	}
	s, err := procedure.Work(t.Context(), &p)
	require.NoError(t, err)
	return labreport.Worked{Title: p.Title, Solution: s}
}

func TestWhatIsKeptOfAProblemStandsTogether(t *testing.T) {
	r := &labreport.Report{Parts: []labreport.Part{{ID: "own", Text: "Before"}}}
	assert.True(t, r.Keep(labreport.Part{ID: "1", Problem: "a", At: "number/t"}))
	assert.True(t, r.Keep(labreport.Part{ID: "2", Problem: "b", At: "number/t"}))
	assert.True(t, r.Keep(labreport.Part{ID: "3", Problem: "a", At: "table/cases"}))
	assert.False(t, r.Keep(labreport.Part{ID: "4", Problem: "a", At: "number/t"}), "it is there already")
	var ids []string
	for _, p := range r.Parts {
		ids = append(ids, p.ID)
	}
	assert.Equal(t, []string{"own", "1", "3", "2"}, ids)
	assert.Equal(t, []string{"number/t", "table/cases"}, r.Kept("a"))
	assert.Equal(t, []string{"a", "b"}, r.Problems())
	r.Leave("a", "number/t")
	assert.Equal(t, []string{"table/cases"}, r.Kept("a"))
	assert.Equal(t, []string{"number/t"}, r.Kept("b"))
}

func TestCheck(t *testing.T) {
	part := func(change func(p *labreport.Part)) labreport.Part {
		p := labreport.Part{ID: "1", Problem: "a", At: "number/t"}
		change(&p)
		return p
	}
	many := make([]labreport.Part, labreport.MaxParts+1)
	of := make([]labreport.Part, labreport.MaxProblems+1)
	for i := range of {
		of[i] = labreport.Part{ID: strings.Repeat("x", i+1), Problem: strings.Repeat("p", i+1), At: "number/t"}
	}
	for name, c := range map[string]struct {
		report labreport.Report
		at     string
	}{
		"title":    {labreport.Report{Title: strings.Repeat("x", 501)}, "/title"},
		"parts":    {labreport.Report{Parts: many}, "/parts"},
		"problems": {labreport.Report{Parts: of}, "/parts"},
		"no id":    {labreport.Report{Parts: []labreport.Part{part(func(p *labreport.Part) { p.ID = "" })}}, "/parts/0/id"},
		"same id":  {labreport.Report{Parts: []labreport.Part{part(func(*labreport.Part) {}), part(func(*labreport.Part) {})}}, "/parts/1/id"},
		"kind":     {labreport.Report{Parts: []labreport.Part{part(func(p *labreport.Part) { p.At = "colour/red" })}}, "/parts/0/at"},
		"nothing":  {labreport.Report{Parts: []labreport.Part{part(func(p *labreport.Part) { p.At = "number/" })}}, "/parts/0/at"},
		"of none":  {labreport.Report{Parts: []labreport.Part{part(func(p *labreport.Part) { p.Problem = "" })}}, "/parts/0/problem"},
		"both":     {labreport.Report{Parts: []labreport.Part{part(func(p *labreport.Part) { p.Text = "so" })}}, "/parts/0/text"},
		"long":     {labreport.Report{Parts: []labreport.Part{{ID: "1", Text: strings.Repeat("x", labreport.MaxText+1)}}}, "/parts/0/text"},
	} {
		t.Run(name, func(t *testing.T) {
			var mistakes problem.Errors
			require.ErrorAs(t, c.report.Check(), &mistakes)
			assert.Equal(t, c.at, mistakes[0].Pointer)
		})
	}
	fine := labreport.Report{Title: "A week at the berths", Parts: []labreport.Part{part(func(*labreport.Part) {}), {ID: "2"}}}
	assert.NoError(t, fine.Check())
}

// Everything that can be kept of every demo problem is found again, says nothing while nothing changes, and is there in
// markdown.
func TestEverythingThatIsShownCanBeKept(t *testing.T) {
	for name := range proctest.DemoProblems(t) {
		now := worked(t, name, nil)
		s := now.Solution
		r := &labreport.Report{}
		keep := func(kind, id string) { r.Keep(labreport.Part{ID: kind + id, Problem: "p", At: kind + "/" + id}) }
		for _, q := range s.Quantities {
			keep("number", string(q.ID))
			if q.Formula != nil {
				keep("formula", string(q.ID))
			}
		}
		for _, each := range s.Tables {
			keep("table", each.ID)
		}
		for _, f := range s.Figures {
			keep("figure", f.ID)
		}
		for _, step := range s.Steps {
			keep("step", string(step.ID))
		}
		keep("sentence", "conclusion")
		keep("sentence", "report")
		all := map[string]labreport.Worked{"p": now}
		r.Seen(all)
		for i, piece := range r.Pieces(all) {
			assert.Empty(t, piece.Gone, "%s: %s", name, piece.ID)
			assert.Empty(t, piece.Changed, "%s: %s", name, piece.ID)
			assert.NotEmpty(t, r.Parts[i].Was, "%s: %s", name, piece.ID)
		}
		text := labreport.Markdown("Title", r.Pieces(all))
		assert.Contains(t, text, s.Conclusion, name)
	}
}

// A number that is another one now says what it was, and one that is the same to the last digit that is shown says nothing;
// so with sentences, and with the numbers that a paragraph quotes.
func TestWhatChangesSaysSo(t *testing.T) {
	const file = "two-berths"
	r := &labreport.Report{Parts: []labreport.Part{
		{ID: "critical", Problem: "p", At: "number/critical_high"},
		{ID: "t", Problem: "p", At: "number/t"},
		{ID: "sentence", Problem: "p", At: "sentence/conclusion"},
		{ID: "formula", Problem: "p", At: "formula/t"},
		{ID: "table", Problem: "p", At: "table/groups"},
		{ID: "curve", Problem: "p", At: "figure/curve"},
		{ID: "quotes", Problem: "p", Text: "With alpha as chosen, the bound is @{critical_high}, and @{nothing} is no number."},
		{ID: "own", Text: "It rained on @{t} days."},
	}}
	first := map[string]labreport.Worked{"p": worked(t, file, nil)}
	r.Seen(first)
	before := first["p"].Solution.Quantity("critical_high").Display
	after := map[string]labreport.Worked{"p": worked(t, file, func(p *problem.Problem) { p.Alpha = 0.01 })}
	now := after["p"].Solution
	pieces := map[string]labreport.Piece{}
	for _, piece := range r.Pieces(after) {
		pieces[piece.ID] = piece
	}
	require.NotEqual(t, before, now.Quantity("critical_high").Display)
	assert.Equal(t, "It was "+before+" when it was kept.", pieces["critical"].Changed)
	assert.Equal(t, now.Quantity("critical_high").Display, pieces["critical"].Now)
	assert.Empty(t, pieces["t"].Changed, "t does not rest on alpha")
	assert.Empty(t, pieces["formula"].Changed)
	assert.Empty(t, pieces["table"].Changed)
	assert.NotEmpty(t, pieces["curve"].Changed, "its region is another")
	assert.Equal(t, "With alpha as chosen, the bound is "+now.Quantity("critical_high").Display+", and @{nothing} is no number.",
		pieces["quotes"].Text)
	assert.Contains(t, pieces["quotes"].Changed, "the bound is "+before)
	assert.Equal(t, "It rained on @{t} days.", pieces["own"].Text, "it is of no problem")
	assert.Empty(t, pieces["own"].Changed)
	if now.Conclusion == first["p"].Solution.Conclusion {
		assert.Empty(t, pieces["sentence"].Changed)
	} else {
		assert.Equal(t, "When it was kept it read: “"+first["p"].Solution.Conclusion+"”", pieces["sentence"].Changed)
	}
}

// What is not there any more says why, in every form.
func TestWhatIsGone(t *testing.T) {
	r := &labreport.Report{Parts: []labreport.Part{
		{ID: "1", Problem: "deleted", At: "number/t"},
		{ID: "2", Problem: "wrong", At: "number/t"},
		{ID: "3", Problem: "p", At: "number/chi_square"},
		{ID: "4", Problem: "p", At: "formula/df"},
		{ID: "5", Problem: "p", At: "step/data", Was: "#1"},
	}}
	p := worked(t, "two-berths", nil)
	p.Solution.Quantity("df").Formula = nil // as of one that is given
	pieces := r.Pieces(map[string]labreport.Worked{"wrong": {Title: "Fares", Why: "the alpha is missing"}, "p": p})
	assert.Equal(t, "The problem that this was kept from is not there any more.", pieces[0].Gone)
	assert.Equal(t, "“Fares” cannot be worked now: the alpha is missing", pieces[1].Gone)
	assert.Equal(t, "This is not in the working of “"+p.Title+"” now.", pieces[2].Gone)
	assert.NotEmpty(t, pieces[3].Gone, "it has no formula")
	assert.Empty(t, pieces[4].Gone)
	assert.Equal(t, "It has changed since it was kept.", pieces[4].Changed)
	assert.Contains(t, labreport.Markdown("R", pieces), "*"+pieces[1].Gone+"*")
	assert.Empty(t, labreport.NowOf(p.Solution, "number/chi_square"))
	assert.Equal(t, string(p.Solution.Quantity("t").Display), labreport.NowOf(p.Solution, "number/t"))
}

// The markdown of a report has its paragraphs as they were written, its tables cut as on paper.
func TestMarkdown(t *testing.T) {
	r := &labreport.Report{Parts: []labreport.Part{
		{ID: "1", Text: "# Method\n\nWe *counted*, $n = 120$."}, {ID: "2", Problem: "p", At: "table/cases"}, {ID: "3", Text: "  "},
		{ID: "4", Problem: "p", At: "step/hypotheses"},
	}}
	text := labreport.Markdown("Crossings", r.Pieces(map[string]labreport.Worked{"p": worked(t, "crossings", nil)}))
	assert.True(t, strings.HasPrefix(text, "# Crossings\n\n# Method\n\nWe *counted*, $n = 120$.\n\n| "), text[:80])
	assert.Contains(t, text, "*The first 60 of 120 rows.*")
	assert.Contains(t, text, "\n\n## Hypotheses\n\n")
	assert.Equal(t, working.PaperRows+2, strings.Count(text, "\n| "))
}
