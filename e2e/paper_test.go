package e2e

import (
	"bytes"
	"io"
	"regexp"
	"testing"

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
		full := a.open("/api/problems/" + path + "/paper")
		full.find("figure svg")
		assert.LessOrEqual(t, full.pages(), most, path)
		full.fitsTheWidth("a document")
	}
}
