package e2e

import (
	"bytes"
	"io"
	"regexp"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pages prints a page as a PDF of A4, and returns how many sheets it takes.
func (p *tab) pages() int {
	p.t.Helper()
	stream, err := p.PDF(&proto.PagePrintToPDF{PreferCSSPageSize: true, PrintBackground: true})
	require.NoError(p.t, err)
	pdf, err := io.ReadAll(stream)
	require.NoError(p.t, err)
	require.True(p.t, bytes.HasPrefix(pdf, []byte("%PDF-")))
	return len(regexp.MustCompile(`/Type\s*/Page\b[^s]`).FindAll(pdf, -1))
}

// What is printed is one document without controls, on few sheets; what goes in is remembered.
func TestOnPaper(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	p.click("Print, or save to hand in")
	p.shows("dialog", "The full working")
	p.accessible("what goes onto paper")
	p.fill(`dialog input:not([type])`, "Maren Holt")
	p.click("A short working: hypotheses, statistic, critical value, p, decision, conclusion, the curve")
	link, err := p.button("Look at it").Attribute("href")
	require.NoError(t, err)
	assert.Contains(t, *link, "what=short")

	document := a.open(*link)
	document.shows("body", "Maren Holt")
	document.shows("body", "do not show that mean loading time differs")
	document.find("math msqrt")
	document.find("figure svg")
	document.accessible("a document")
	assert.Equal(t, 1, document.pages())

	require.NoError(t, p.Reload())
	p.keyIs("statistic", "t = −2.064")
	p.click("Print, or save to hand in")
	p.eventually("the name to be remembered", func() bool {
		return p.MustElement(`dialog input:not([type])`).MustProperty("value").Str() == "Maren Holt"
	})
	p.click("Print")
	p.find("iframe#paper")

	for path, most := range map[string]int{a.demoID(): 2, a.problemID("Do all piers board equally fast?"): 4} {
		for _, size := range []string{"a4", "letter"} {
			full := a.open("/api/problems/" + path + "/paper?size=" + size)
			full.find("figure svg")
			assert.LessOrEqual(t, full.pages(), most, "%s on %s", path, size)
			full.fitsTheWidth("a document")
		}
	}
}

// A note stays with its number when alpha changes, and says that the number was another one; it is undone and kept like
// everything else.
func TestNotes(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("critical-value", "±2.116")
	p.clickOn("the critical value", `() => [...document.querySelectorAll('[data-step="critical-value"] button.number')]
		.find((b) => b.textContent === "2.116")`)
	p.shows(`[data-testid="opened"]`, "Upper critical value")
	write := func() {
		p.clickOn("the way to a note", `() => [...document.querySelectorAll('[data-testid="opened"] .act')]
			.find((b) => b.textContent === "Add a note")`)
	}
	write()
	p.fill(`[data-testid="opened"] textarea`, `Look at $\alpha/2$, *not* alpha.`)
	p.key(input.Escape) // leaves it, and writes nothing
	write()
	p.fill(`[data-testid="opened"] textarea`, `Look at $\alpha/2$, *not* alpha.`)
	p.key(input.Tab)
	p.shows(`[data-step="critical-value"] [data-note]`, "not alpha")
	p.find(`[data-step="critical-value"] [data-note] .katex`)
	p.accessible("a note in a card")
	p.key(input.Escape)
	p.click("0.10")
	p.keyIs("critical-value", "±1.744")
	p.shows(`[data-step="critical-value"] [data-note]`, "It was 2.116 when this was written")

	require.NoError(t, p.Reload())
	p.shows(`[data-step="critical-value"] [data-note]`, "not alpha")
	document := a.open("/api/problems/" + a.demoID() + "/paper")
	document.shows(".own", "It was 2.116")
	p.click("Change the note")
	p.fill(`[data-step="critical-value"] textarea`, "")
	p.key(input.Tab)
	p.eventually("the note to be gone", func() bool { return p.text("[data-note]") == "" })
	p.chord("z", "undo")
	p.shows(`[data-step="critical-value"] [data-note]`, "not alpha")

	// At a table, a picture and a condition a note is written in its place, and stands with the step.
	for _, at := range [][2]string{
		{"data", "table “Loading time by berth”"}, {"look", "picture “Loading time by berth”"}, {"conditions", "this condition"},
	} {
		step := `[data-step="` + at[0] + `"] `
		p.clickAt(step + `[aria-label^="Add a note to"][aria-label$="` + at[1] + `"]`)
		p.fill(step+`textarea`, "Of "+at[1])
		p.key(input.Tab)
		p.shows(step+`[data-note]`, "Of "+at[1])
	}
}
