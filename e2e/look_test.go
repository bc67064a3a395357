package e2e

import (
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Pictures and numbers of one variable and of two.
func TestLook(t *testing.T) {
	a := newApp(t)
	p := a.open("/data/" + a.dataID("riders"))
	p.click("age years")
	p.shows(`[aria-label="Look"]`, "cases; ")
	p.shows(`[data-testid="first"]`, "standard deviation")
	p.fill(p.label("width"), "10")
	p.key(input.Enter)
	p.eventually("the new classes", func() bool { return strings.Contains(p.says(`[aria-label="Look"] svg`), "classes of width 10") })
	p.click("normal curve")
	p.find(`[aria-label="Look"] svg path`)
	p.click("Boxes")
	p.eventually("boxes", func() bool { return strings.Contains(p.says(`[aria-label="Look"] svg`), "middle half") })
	p.click("How to read this")
	p.shows(`[aria-label="Look"]`, "The box holds the middle half")
	p.click("Means")
	p.eventually("means", func() bool { return strings.Contains(p.says(`[aria-label="Look"] svg`), "interval from") })

	p.choose("together with", "Ticket")
	p.shows(`[aria-label="Look"] h2`, "Age by ticket")
	p.choose("Look at", "Reason")
	p.shows(`[aria-label="Look"] h2`, "Reason by ticket")
	p.choose("What the bars show", "% of each row")
	p.shows(`[aria-label="Look"] table`, "100.0")
	p.click("on each other")
	require.NoError(t, p.find(p.label("Find a procedure by a textbook’s name")).Input("welch"))
	p.shows(`[aria-label="Work a problem with these"]`, "Two means, independent groups")
	p.clickAt(`[aria-label="Look"] [aria-label^="Copy the picture"]`)
	p.click("SVG")
	p.eventually("a picture on the clipboard", func() bool { return strings.HasPrefix(p.clipboard("text/plain"), "<svg") })
}

// Pictures are kept with a problem, in the step where its data are looked at.
func TestKeepAPicture(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.click("More pictures and numbers")
	p.shows(`[aria-label="Look"] h2`, "Loading time by berth")
	p.click("Histogram")
	p.find(`[aria-label="Look"] svg rect`)
	p.click("Keep with “Do the two berths load at the same speed?”")
	p.click("Show")
	p.shows(`[data-step="look"]`, "Loading time by berth")
	p.keyIs("statistic", "t = −2.064")
	p.click("Remove the picture")
	p.eventually("the picture gone", func() bool { return !strings.Contains(p.text(`[data-step="look"]`), "Remove the picture") })
	p.shows("body", "Done: remove the picture.")
	p.click("Undo")
	p.shows(`[data-step="look"]`, "Remove the picture")
	response, err := http.Get(a.url + "/api/problems/" + a.demoID() + "/file")
	require.NoError(t, err)
	defer response.Body.Close()
	file, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	assert.Contains(t, string(file), `"pictures"`)
}

// says returns the text alternative of a picture.
func (p *tab) says(selector string) string {
	result, err := p.Eval(`(s) => document.querySelector(s)?.getAttribute("aria-label") ?? ""`, selector)
	if err != nil {
		return ""
	}
	return result.Value.Str()
}
