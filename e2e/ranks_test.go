package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// From ranks to means: the same groups, both statistics and both decisions beside
// each other.
func TestFromRanksToMeans(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.choose("Data set", "Two berths")
	p.ask("Does one group tend to larger values than another? (Two groups by ranks)")
	p.choose("Response: the variable that was measured", "minutes (number)")
	p.choose("Group: the category that tells the two groups apart", "berth (category)")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	// Counted from the deals of the 33 ranks, as in internal/procedure/testdata/ranks.py.
	p.keyIs("statistic", "U = 82")
	p.keyIs("critical-value", "80.5, 189.5")
	p.keyIs("p-value", "p = 0.0553")
	p.keyIs("decision", "do not reject")
	p.accessible("two groups by ranks")

	p.click("Compare the means")
	p.shows(`[data-testid="comparison"]`, "t = −2.064")
	p.shows(`[data-testid="comparison"]`, "U = 82")
	p.click("Take the other one")
	p.keyIs("statistic", "t = −2.064")
	p.chord("z", "")
	p.keyIs("statistic", "U = 82")
}

// The shape of the gaps: cases against their normal scores, and a decision by p alone.
func TestShapeOfTheGaps(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Do the gaps between passengers follow a normal curve?"))
	p.keyIs("statistic", "W = 0.804")
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-testid="verdicts"]`, "by p-value")
	require.NotContains(t, p.text(`[data-testid="verdicts"]`), "critical")
	p.shows(`[data-step="data"]`, "The cases in order: 80 rows")
	circles, err := p.Elements(`[data-step="look"] circle`)
	require.NoError(t, err)
	require.Len(t, circles, 80)
	p.accessible("normal shape")
}

// The critical value stands where a printed table has it, row and column tinted.
func TestPrintedTable(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Does the overhauled engine keep its maker’s promise?"))
	p.shows(`[data-step="critical-value"] table`, "degrees of freedom")
	marked := p.find(`[data-step="critical-value"] td.font-semibold`)
	text, err := marked.Text()
	require.NoError(t, err)
	require.Equal(t, "1.753", text)
}
