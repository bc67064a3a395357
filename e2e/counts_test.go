package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The table is the picture: one measure at a time, levels joined and left out by their
// headers, cells that open. The statistics were calculated by hand from the counts.
func TestTheTableOfTickets(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Does the ticket go with the reason for riding?"))
	const table = `[data-testid="crossed"]`
	p.keyIs("statistic", "χ² = 52.858")
	p.keyIs("conditions", "1 not met")
	p.shows(table, "37.1")
	p.shows(table, "more than expected")
	p.accessible("a table of counts")

	p.click("37.1")
	p.shows(`[data-testid="opened"]`, "Expected, work, monthly")
	p.shows(`[data-testid="opened"]`, "37.1239316239316")
	p.click("Close")
	p.click("% of reason")
	p.shows(table, "52.1")
	p.shows(`[data-step="data"]`, "Each reason adds up to 100 %.")
	p.click("Turn")
	p.shows(table+" thead", "work")
	p.click("Turn")

	p.click("school")
	p.click("Move up")
	p.shows(table+" tbody tr:first-child", "school")
	assert.True(t, p.button("Move up").MustEval(`() => this.disabled`).Bool(), "it cannot go higher")
	p.click("Pick none")
	p.click("All levels as they were")
	p.shows(table+" tbody tr:first-child", "work")
	p.shows(`[data-step="follow-up"] figure:has([aria-label*="more “monthly” among “work” than expected"])`, "monthly 52 %")
	p.shows(`[data-step="follow-up"]`, "“work” and “leisure” depart from that")

	p.click("school")
	p.click("leisure")
	p.click("Join school and leisure")
	p.keyIs("statistic", "χ² = 52.577")
	p.keyIs("critical-value", "5.991")
	p.keyIs("conditions", "met")
	p.shows(table, "school + leisure")
	p.chord("z", "")
	p.keyIs("statistic", "χ² = 52.858")
	p.click("school")
	p.click("Leave school out")
	p.keyIs("statistic", "χ² = 51.453")
	p.click("All levels as they were")
	p.keyIs("statistic", "χ² = 52.858")

	p.click("G")
	p.keyIs("statistic", "G = 57.082")
	p.shows(`[data-testid="test-name"]`, "Likelihood ratio test of independence")
	p.shows(`[data-step="p-value"]`, "By Pearson’s chi-square, χ² = 52.858, it would be p")
	p.shows(`[data-step="report"]`, "G(4, N = 234) = 57.082")
	p.click("χ²")
	p.keyIs("statistic", "χ² = 52.858")

	p.click("Count all tables")
	p.shows(`[data-testid="comparison"]`, "P < 0.0001")
	p.click("Take the other one")
	p.keyIs("decision", "reject H₀")
	p.click("Take the chi-square curve")
	p.shows(`[data-testid="comparison"]`, "χ² = 52.858")
	p.click("Take the other one")
	p.keyIs("statistic", "χ² = 52.858")
}

// A table that is pasted with its labels is worked as it is.
func TestATableIsPasted(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.pasteBlock("0/0", "Berth\ton time\tlate\nMole\t20\t10\nQuarry\t15\t25\n")
	p.ask("Do two categories have to do with each other? (Two categories)")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.keyIs("statistic", "χ² = 5.833") // 35/6
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-step="follow-up"]`, "3.333") // 20·25/(10·15)
	p.key('c')
	p.keyIs("statistic", "χ² = 4.725") // 4.5² (2/15 + 2/20)
}

// Counts against equal and against given proportions.
func TestLostPropertyByDay(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Is as much lost on every day of the week?"))
	p.keyIs("statistic", "χ² = 15.291")
	p.keyIs("critical-value", "12.592") // six degrees of freedom, as printed tables have it
	p.accessible("counts against proportions")
	p.key('e')
	p.fill(p.label("Proportions under H₀"), "1 : 1")
	p.shows(`[aria-label="State of the problem"]`, "2 proportions are given for 7")
	p.fill(p.label("Proportions under H₀"), "2 : 2 : 2 : 2 : 2 : 3 : 3")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.shows(`[data-step="hypotheses"]`, "as 2 : 2 : 2 : 2 : 2 : 3 : 3")
}

// A distribution is fitted in classes, and another tried under the curve.
func TestDistributionsOfTheGaps(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Do passengers come at random?"))
	p.keyIs("look", "8 classes")
	p.shows(`[data-step="statistic"]`, "100 or more")
	p.keyIs("critical-value", "7.815") // three degrees of freedom
	p.keyIs("decision", "do not reject")
	bars, err := p.Elements(`[data-step="look"] figure > svg rect[fill="none"]`)
	require.NoError(t, err)
	assert.Len(t, bars, 8, "what is expected in each class")
	p.accessible("a fitted distribution")

	// A boundary is moved by key, and one is taken away by typing: two classes are one.
	_, err = p.Eval(`() => document.querySelector('[aria-label="Boundary 1 of the classes"]').focus()`)
	require.NoError(t, err)
	p.key(input.ArrowLeft)
	p.shows(`[data-step="statistic"]`, "0 to 24")
	p.drag(`[aria-label="Boundary 3 of the classes"]`, 60) // so far that the classes above are merged
	p.keyIs("critical-value", "5.991")                     // two degrees of freedom
	boundaries := p.label("Boundaries of the classes: drag them, or type them")
	p.fill(boundaries, "0; 50; 40; 100")
	p.shows(`[data-step="look"]`, "each above the one before")
	p.fill(boundaries, "0; 50; 75; 100; 200")
	p.key(input.Enter)
	p.keyIs("look", "4 classes")
	p.keyIs("critical-value", "5.991") // two degrees of freedom
	p.fill(p.label("Classes of width"), "0,5")
	p.shows(`[data-step="look"]`, "100 are the most")
	p.fill(p.label("Classes of width"), "40")
	p.click("Make these 5 classes")
	p.keyIs("look", "5 classes")
	p.shows(`[data-step="statistic"]`, "0 to 40")
	_, err = p.Eval(`() => document.activeElement.blur()`)
	require.NoError(t, err)
	p.chord("z", "")
	p.keyIs("look", "4 classes")
	_, err = p.Eval(`() => document.activeElement.blur()`) // in the field Ctrl+z takes back what was typed
	require.NoError(t, err)
	p.chord("z", "")
	p.keyIs("look", "8 classes")
	p.click("Try normal and compare")
	p.shows(`[data-testid="comparison"]`, "exponential")
	p.shows(`[data-testid="comparison"]`, "normal")
	p.click("Stay with the present one")
	p.key('y')
	p.keyIs("hypotheses", "normal")
	p.keyIs("decision", "reject H₀")
	p.chord("z", "")
	p.keyIs("hypotheses", "exponential")
}

// What fits counts is offered where what is asked does not; a cell shows all that makes the statistic when asked.
func TestCountsOfferWhatFits(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.ask("Do two groups have the same mean?")
	p.pasteBlock("0/0", "reason\tsingle\treturn\nwork\t24\t33\nschool\t13\t31\nleisure\t57\t41\n")
	p.shows("main", "It works from the cases themselves, and counts are given.")
	p.click("Two categories")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.find(`[data-testid="crossed"]`)
	p.click("Together")
	p.shows("main", "what the cell contributes to χ²")
	p.accessible("a table with all of its cells")
}
