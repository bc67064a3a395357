package paper_test

import (
	"image/color"
	"image/png"
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

// drawn is a list of one note with a drawing.
func drawn(drawing string) string {
	return `[{"at":"step/data","text":"","drawing":{` + drawing + `}}]`
}

// A drawing stands with its note in every form: its strokes as areas of their ink, a marker's seen through.
func TestDrawings(t *testing.T) {
	p := *proctest.DemoProblems(t)["two-berths"]
	p.Notes = []problem.Note{{At: "step/look", Drawing: &problem.Drawing{Width: 200, Height: 100, Strokes: []problem.Stroke{
		{Ink: problem.Red, Outline: []float64{10, 10, 90, 10, 90, 40, 10, 40}},
		{Ink: problem.Green, Marker: true, Outline: []float64{0, 50, 200, 50, 200, 90, 0, 90}},
	}}}}
	file, err := problem.Encode(&p)
	require.NoError(t, err)
	again, err := problem.Parse(file)
	require.NoError(t, err)
	assert.Equal(t, p.Notes, again.Notes)
	s, err := procedure.Work(t.Context(), again)
	require.NoError(t, err)
	sheet := &paper.Sheet{Solution: s, What: paper.Full}
	text := page(t, sheet)
	assert.Contains(t, text, "A drawing by hand: 2 strokes.")
	assert.Contains(t, text, `viewBox="0 0 200 100"`)
	all, _ := parts(t, sheet)
	var found bool
	for name, part := range all {
		if strings.HasSuffix(name, ".svg") && strings.Contains(part, "by hand") {
			found = true
			picture, err := png.Decode(strings.NewReader(all[strings.TrimSuffix(name, "svg")+"png"]))
			require.NoError(t, err)
			assert.Equal(t, 400, picture.Bounds().Dx())
			red, green, white := picture.At(100, 50), picture.At(200, 140), picture.At(300, 20)
			assert.Equal(t, color.NRGBAModel.Convert(color.RGBA{0x9a, 0x30, 0x2a, 0xff}), color.NRGBAModel.Convert(red))
			_, g, _, _ := green.RGBA()
			assert.Greater(t, g>>8, uint32(0x5a), "what is under the marker is seen")
			assert.Equal(t, color.NRGBA{255, 255, 255, 255}, color.NRGBAModel.Convert(white))
		}
	}
	assert.True(t, found)
	assert.Contains(t, working.Markdown(s, ""), "> *A drawing by hand: 2 strokes.*")
}

func TestNotesRefused(t *testing.T) {
	const file = `{"grund":1,"procedure":"t-one-sample","data":{"summary":{"groups":[{"n":16,"mean":41.6,"sd":2.4}]}},"notes":`
	const note, stroke = `{"at":"step/data","text":"x"}`, `{"ink":"red","outline":[0,0,1,1,2,0]}`
	const drawing = `{"at":"step/data","text":"","drawing":{"width":9,"height":9,"strokes":[]}}`
	many := func(n int, each string) string {
		return "[" + strings.TrimSuffix(strings.Repeat(each+",", n), ",") + "]"
	}
	strokes := func(each string) string { return drawn(`"width":9,"height":9,"strokes":` + each) }
	for notes, says := range map[string]string{
		`[{"at":"se","text":"x"}]`:                                                     "/notes/0/at",
		`[{"at":"page/se","text":"x"}]`:                                                "/notes/0/at",
		`[{"at":"step/data"},{"at":"step/","text":""}]`:                                "/notes/1/at",
		`[{"at":"step/data","text":"` + strings.Repeat("x", problem.MaxNote+1) + `"}]`: "/notes/0/text",
		`[{"at":"step/data","text":1}]`:                                                "/notes/0/text",
		`["step/data"]`:                                                                "/notes/0",
		many(problem.MaxNotes+1, note):                                                 "/notes",
		many(41, drawing):                                                              "/notes",
		drawn(`"width":0,"height":10,"strokes":[]`):                                    "/notes/0/drawing/width",
		drawn(`"width":9,"height":1e9,"strokes":[]`):                                   "/notes/0/drawing/height",
		strokes(`[{"ink":"blue","outline":[0,0,1,1,2,0]}]`):                            "/notes/0/drawing/strokes/0/ink",
		strokes(`[{"ink":"red","outline":[0,0,1,1]}]`):                                 "/notes/0/drawing/strokes/0/outline",
		strokes(`[{"ink":"red","outline":[0,0,1,1,2e9,0]}]`):                           "/notes/0/drawing/strokes/0/outline",
		strokes(many(problem.MaxStrokes+1, stroke)):                                    "/notes/0/drawing/strokes",
		strokes(`[{"ink":"red","outline":[0` + strings.Repeat(",1", 400_003) + `]}]`):  "/notes",
	} {
		_, err := problem.Parse([]byte(file + notes + "}"))
		assert.ErrorContains(t, err, says)
	}
}
