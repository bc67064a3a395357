package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// parts returns what the parts of a report are of, in their order: the first words of each.
func (p *tab) parts() []string {
	p.t.Helper()
	found, err := p.Eval(`() => [...document.querySelectorAll('[data-part]')].map((part) => part.textContent.trim().slice(0, 40))`)
	require.NoError(p.t, err)
	var parts []string
	for _, each := range found.Value.Arr() {
		parts = append(parts, each.Str())
	}
	return parts
}

// What is kept of two problems makes a report with the person's words between, in an order that is dragged; a number in it
// follows its problem and says what it was; all of it comes back, is undone, and goes onto paper.
func TestReportOfTwoProblems(t *testing.T) {
	a := newApp(t)
	berths := a.demoID()
	p := a.open("/problems/" + berths)
	p.keyIs("critical-value", "±2.116")
	p.clickAt(`[data-keep="table/groups"]`)
	p.shows("body", "is kept for “Do the two berths load at the same speed?”")
	p.find(`[data-keep="table/groups"][aria-pressed="true"]`)
	p.clickOn("the critical value", `() => [...document.querySelectorAll('[data-step="critical-value"] button.number')]
		.find((b) => b.textContent === "2.116")`)
	p.clickAt(`[data-testid="opened"] [data-keep="number/critical_high"]`)
	p.find(`[data-keep="number/critical_high"][aria-pressed="true"]`)
	p.key(input.Escape)
	p.clickAt(`[data-keep="step/hypotheses"]`)
	p.find(`[data-keep="step/hypotheses"][aria-pressed="true"]`)
	p.clickAt(`[data-keep="step/hypotheses"]`) // and taken out again
	p.find(`[data-keep="step/hypotheses"][aria-pressed="false"]`)
	p.accessible("a problem of which is kept")
	p.click("The report: 2 things kept of this problem")
	p.click("Open the report")
	p.shows(`[data-part]:nth-child(1)`, "Quarry")
	p.shows(`[data-part]:nth-child(2)`, "Upper critical value")
	p.find(`[data-part]:nth-child(2) .number`)

	// A second problem goes into the same report.
	p.click("Keep something of another problem")
	p.click("Do all piers board equally fast?")
	p.keyIs("question", "α = 0.05")
	p.clickAt(`[data-keep="sentence/conclusion"]`)
	p.find(`[data-keep="sentence/conclusion"][aria-pressed="true"]`)
	p.click("The report: 1 thing kept of this problem")
	p.click("Open the report")
	p.shows(`[data-part]:nth-child(3)`, "mean")
	assert.Len(t, p.parts(), 3)

	// A paragraph quotes a number of the problem before it.
	p.click("Write below part 1")
	p.fill("[data-part] textarea", "# Found\n\nThe bound is *exactly* ")
	p.choose("Quote a number", "Upper critical value: 2.116")
	p.eventually("the quote to be typed", func() bool {
		return strings.HasSuffix(p.find("[data-part] textarea").MustProperty("value").Str(), "@{critical_high}")
	})
	p.key(input.Escape)
	p.shows(`[data-part]:nth-child(2) h2`, "Found")
	p.shows(`[data-part]:nth-child(2)`, "The bound is exactly 2.116")
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	// The last comes first, by key.
	p.movesUp("Move part 4", "It would be part 4.", "It would be part 1.")
	p.eventually("the sentence to come first", func() bool { return strings.HasPrefix(p.parts()[0], "At α") })
	p.shows(`[data-testid="saving"]`, "All of it is kept")
	p.accessible("a report")
	p.theme("night")
	p.contrasts("a report by night")
	p.theme("day")
	p.fill(`[aria-label="Title of the report"]`, "A week at the harbour")
	p.key(input.Tab)
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	// Alpha is another one: number and paragraph follow, and say so until they have been seen.
	q := a.open("/problems/" + berths)
	q.keyIs("critical-value", "±2.116")
	q.click("0.10")
	q.keyIs("critical-value", "±1.744")
	require.NoError(t, p.Reload())
	p.shows("[data-part]:nth-child(4)", "1.744")
	p.shows("[data-part]:nth-child(4)", "It was 2.116 when it was kept.")
	p.shows("[data-part]:nth-child(3)", "The bound is exactly 1.744")
	p.shows("[data-part]:nth-child(3)", "It read:")
	p.clickAt(`[data-part]:nth-child(4) .act`)
	p.eventually("what was seen to say nothing more", func() bool { return !strings.Contains(p.parts()[3], "It was") })
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	p.click("Take part 2 out")
	p.eventually("the table to be out", func() bool { return len(p.parts()) == 3 })
	p.click("Undo")
	p.eventually("the table to be back", func() bool { return len(p.parts()) == 4 })
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	link, err := p.button("HTML").Attribute("href")
	require.NoError(t, err)
	document := a.open(strings.Replace(*link, "save=1", "save=", 1))
	document.shows("h1", "A week at the harbour")
	document.shows("h2", "Found")
	document.shows("body", "The bound is exactly 1.744")
	document.accessible("a report as a document")
	assert.Len(t, document.print().pages(), 1)
	p.resize(390, 800)
	p.fitsTheWidth("a report on a phone")
	p.resize(1280, 800)

	// In the list it is deleted, and comes back.
	p.click("Reports")
	p.shows("main", "A week at the harbour")
	p.accessible("the list of reports")
	p.click("Delete “A week at the harbour”")
	p.shows("main", "None yet.")
	p.clickOn("the way back", `() => [...document.querySelectorAll('[role="status"] > div')]
		.find((each) => each.textContent.includes("is deleted")).querySelector("button")`)
	p.shows("main", "A week at the harbour")
}

// A report that nothing is in yet says how something gets into it.
func TestAnEmptyReport(t *testing.T) {
	a := newApp(t)
	p := a.open("/reports")
	p.shows("main", "None yet.")
	p.click("New report")
	p.shows("main", "Nothing is kept here yet.")
	p.accessible("an empty report")
	p.click("Write a paragraph")
	p.key(input.Escape) // nothing was written: nothing stays
	p.shows("main", "Nothing is kept here yet.")
	p.resize(390, 800)
	p.fitsTheWidth("an empty report on a phone")
	missing := a.open("/reports/00000000-0000-4000-8000-000000000009")
	missing.shows("main", "There is no such report.")
}
