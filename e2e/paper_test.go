package e2e

import (
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A pdf is what a page is printed as.
type pdf struct {
	t    *testing.T
	file string
}

// print prints a page on the sheets that it asks for.
func (p *tab) print() *pdf {
	p.t.Helper()
	stream, err := p.PDF(&proto.PagePrintToPDF{PreferCSSPageSize: true, PrintBackground: true})
	require.NoError(p.t, err)
	printed, err := io.ReadAll(stream)
	require.NoError(p.t, err)
	file := filepath.Join(p.t.TempDir(), "printed.pdf")
	require.NoError(p.t, os.WriteFile(file, printed, 0o600))
	return &pdf{p.t, file}
}

// read returns what a program of poppler-utils says of it.
func (d *pdf) read(program string, args ...string) string {
	d.t.Helper()
	args = append(args, d.file)
	if program == "pdftotext" {
		args = append(args, "-")
	}
	out, err := exec.Command(program, args...).Output()
	require.NoError(d.t, err, program)
	return string(out)
}

// pages returns the words of each sheet.
func (d *pdf) pages() []string {
	d.t.Helper()
	return strings.Split(strings.TrimSuffix(d.read("pdftotext", "-layout"), "\f"), "\f")
}

// unprintable is how near to the edge of a sheet, in points, common printers cannot print: a sixth of an inch.
const unprintable = 12

// word is where a word stands on a sheet, in points.
var word = regexp.MustCompile(`<(page|word) (?:xMin="([\d.-]+)" yMin="([\d.-]+)" xMax="([\d.-]+)" yMax="([\d.-]+)"|` +
	`width="([\d.]+)" height="([\d.]+)")>`)

// withinMargins fails where a word stands nearer to an edge of its sheet than that many points.
func (d *pdf) withinMargins(screen string, margin float64) {
	d.t.Helper()
	var width, height float64
	number := func(text string) float64 {
		x, err := strconv.ParseFloat(text, 64)
		require.NoError(d.t, err)
		return x
	}
	words := 0
	for _, match := range word.FindAllStringSubmatch(d.read("pdftotext", "-bbox"), -1) {
		if match[1] == "page" {
			width, height = number(match[6]), number(match[7])
			continue
		}
		words++
		left, top, right, bottom := number(match[2]), number(match[3]), number(match[4]), number(match[5])
		inside := left >= margin && top >= margin && right <= width-margin && bottom <= height-margin
		assert.True(d.t, inside, "%s: a word at %v", screen, match[2:6])
	}
	assert.Greater(d.t, words, 50, screen)
}

// fontsEmbedded fails where a font is not in the document.
func (d *pdf) fontsEmbedded(screen string) {
	d.t.Helper()
	fonts := strings.Split(strings.TrimSpace(d.read("pdffonts")), "\n")[2:]
	assert.NotEmpty(d.t, fonts, screen)
	for _, font := range fonts {
		fields := strings.Fields(font)
		assert.Equal(d.t, "yes", fields[len(fields)-5], "%s: %s", screen, font)
	}
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
	assert.Len(t, document.print().pages(), 1)

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
			printed := full.print()
			pages := printed.pages()
			assert.LessOrEqual(t, len(pages), most, "%s on %s", path, size)
			assert.Contains(t, pages[0], "Question")
			assert.Contains(t, strings.Join(pages, ""), "Follow-up")
			for i, words := range pages {
				assert.Regexp(t, fmt.Sprintf(`\b%d ?/ ?%d\b`, i+1, len(pages)), words, "the number of the page")
				assert.NotContains(t, words, "Copy", "a control")
			}
			printed.withinMargins(path+" on "+size, unprintable)
			printed.fontsEmbedded(path + " on " + size)
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
