package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The line of the crossings: predicted by typing and by moving along it, a case chosen in the
// table and lit up in the pictures, the table sorted, and the line turned round.
func TestTheLineOfTheCrossings(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("What does a longer crossing cost in fuel?"))
	p.keyIs("statistic", "t = 13.363")
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-step="statistic"]`, "has no meaning of its own")
	p.shows(`[data-step="follow-up"]`, "45.952") // 7.1327 + 0.97049·40
	p.shows(`[aria-label="The problem"] [aria-pressed="true"]`, "predict fuel from crossing time")
	p.accessible("a line")

	p.fill(`[data-step="statistic"] figcaption input`, "60")
	p.key(input.Enter)
	p.shows(`[data-step="follow-up"]`, "lies outside what was observed")
	p.fill(`[data-step="statistic"] figcaption input`, "40")
	p.key(input.Enter)
	p.shows(`[data-step="follow-up"]`, "45.952")
	_, err := p.Eval(`() => document.querySelector('[data-step="statistic"] [role="slider"]').focus()`)
	require.NoError(t, err)
	p.key(input.ArrowRight)
	p.shows(`[data-step="follow-up"]`, "46.049") // a tenth of a minute on
	p.drag(`[data-step="statistic"] [role="slider"]`, 200)
	p.shows(`[data-step="statistic"] figure`, "outside what was observed")
	p.shows(`[data-step="follow-up"]`, "nothing shows that the line goes on there")
	p.drag(`[data-step="statistic"] [role="slider"]`, -90)
	p.eventually("a prediction within what was observed",
		func() bool { return !contains(p, `[data-step="statistic"] figure`, "outside what was observed") })

	p.click("The cases about the line: 120 rows")
	p.click("standardized")
	first := `[data-step="follow-up"] section[aria-label="The cases about the line"] tbody tr:first-child`
	p.shows(first, "2.2")
	rows, err := p.Elements(`[data-step="follow-up"] section[aria-label="The cases about the line"] tbody tr`)
	require.NoError(t, err)
	assert.Len(t, rows, 50, "a page of the rows")
	p.clickAt(first + " td:first-child")
	lit, err := p.Elements(`[data-step] circle[r="4.5"]`)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(lit), 4, "in the scatter, on the line and among the residuals")
	p.shows(`[data-step="statistic"] figure`, "more than expected")
	p.accessible("a chosen case")
	number := p.text(first + " td:first-child")
	p.click("Leave case " + number + " out and compare")
	p.shows(`[data-testid="comparison"]`, "n = 119")
	p.click("Stay with the present one")
	p.click("Choose none")
	p.click("standardized ↓")
	p.shows(first, "−2.")
	p.fill(p.label("Value"), "5")
	p.shows(`[data-step="follow-up"]`, "8 of 120") // residuals of 5 L and more, to either side
	p.click("Choose them")
	p.shows("body", "8 cases chosen")
	p.click("Leave them out and compare")
	p.shows(`[data-testid="comparison"]`, "n = 112")
	p.click("Stay with the present one")
	p.click("Show all")
	p.click("Choose none")
	p.click("Show more of the 120 rows")
	last := `[data-step="follow-up"] section[aria-label="The cases about the line"] tbody tr:nth-child(100)`
	p.shows(last, ".")
	p.clickAt(last + " .number") // a cell of a further page opens too
	p.shows(`[role="dialog"]`, "All digits")
	p.key(input.Escape)

	p.click("Keep fitted values and residuals as variables")
	p.shows("body", "Kept with the data: fitted fuel and residual fuel.")

	p.click("logarithm")
	p.shows(`[data-step="follow-up"]`, "fuel is multiplied by 1.023")
	p.shows(`[data-step="follow-up"] table[aria-label="Predictions in L"]`, "median")
	p.shows(`[data-testid="key-statistic"]`, "t = 13.219")
	p.accessible("a logarithm")
	p.click("as measured")
	p.keyIs("statistic", "t = 13.363")
	p.click("Say what is true")
	p.fill(p.label("True slope"), "0.3")
	p.shows(`[data-step="follow-up"]`, "a true slope of 0.3")

	p.click("predict crossing time from fuel")
	p.keyIs("statistic", "t = 13.363") // the same test of the same correlation
	p.shows(`[data-step="statistic"]`, "crossing time = ")
	p.chord("z", "")
	p.shows(`[data-step="statistic"]`, "fuel = ")
}

// Fitted values and residuals are columns of the data set from then on, and can be taken back.
func TestFittedValuesAreKept(t *testing.T) {
	a := newAppAlone(t)
	p := a.open("/problems/" + a.problemID("What makes a crossing take fuel?"))
	p.click("Keep fitted values and residuals as variables")
	p.shows("body", "Kept with the data: fitted fuel and residual fuel.")
	data := a.open("/data/" + a.dataID("crossings"))
	data.shows("main", "residual fuel")
	data.shows("main", "40.7") // of the first case, as the solution has it
	p.click("Undo")
	p.eventually("the columns gone", func() bool {
		require.NoError(t, data.Reload())
		require.NoError(t, data.WaitLoad())
		return !contains(data, "main", "residual fuel")
	})
}

// One case that changes the story, left out and compared, and ranks that it cannot change.
func TestTakingsWithAnOutlier(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Do more vehicles bring more takings?"))
	p.keyIs("statistic", "t = 6.020")
	p.keyIs("conditions", "1 doubtful")
	p.accessible("a correlation")
	p.key('m')
	p.keyIs("conditions", "met")
	p.key('m')
	p.keyIs("conditions", "1 doubtful")
	_, err := p.Eval(`() => [...document.querySelectorAll('[data-step="conditions"] button')].find((b) => b.innerText.startsWith("Leave ` +
		`case")).click()`)
	require.NoError(t, err)
	p.shows(`[data-testid="comparison"]`, "r = 0.9")
	p.click("Take the other one")
	p.keyIs("conditions", "met")
}

// Predictors are ticked, and one is dropped beside the present fit.
func TestSeveralPredictors(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("What makes a crossing take fuel?"))
	p.keyIs("statistic", "F = 118.582")
	p.shows(`[data-step="follow-up"]`, "Fits side by side")
	p.accessible("several predictors")
	p.fill(p.label("Crossing time (min)"), "36")
	p.click("Predict it")
	p.shows(`[data-step="follow-up"] table[aria-label="Predictions"]`, "36, 10, 15")
	p.click("Without vehicles")
	p.shows(`[data-testid="comparison"]`, "R² = 0.682")
	p.click("Stay with the present one")
	p.click("Ferry")
	p.shows(`[data-step="data"]`, "Dunlin is its reference")
	p.click("Turnstone")
	p.shows(`[data-step="data"]`, "Turnstone is its reference")
	p.click("Ferry")
	p.keyIs("statistic", "F = 118.582")
	p.click("Keep this fit to compare")
	p.click("Vehicles")
	p.keyIs("follow-up", "R² = 0.682")
	// the one kept, with its F against the present one
	p.shows(`[data-step="follow-up"] table[aria-label="Fits side by side"]`, "Crossing time, wind, vehicles")

	p.click("logarithm")
	p.shows(`[data-step="follow-up"] table[aria-label="What fuel is multiplied by for one more"]`, "% more")
	p.chord("z", "")
	p.key('e')
	tick := func(name string) {
		p.clickOn("the tick at "+name,
			`(name) => [...document.querySelectorAll("fieldset label")].find((e) => e.innerText.trim() === name)`, name)
	}
	tick("vehicles")
	tick("wind")
	p.eventually("the ticks kept", func() bool { return !contains(p, `[aria-label="State of the problem"]`, "Keeping") })
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	tick("ferry")
	p.fill(p.label("Predict at"), "36; Puffin")
	p.shows("main", "2 values given for 3 predictors: give one for each of")
	p.fill(p.label("Predict at"), "36; 10; Puffin")
	p.choose("Reference of ferry", "Turnstone")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.keyIs("look", "3 predictors")
	p.shows(`[data-step="follow-up"] table[aria-label="Predictions"]`, "36, 10, Puffin")
	p.shows(`[data-step="data"]`, "Turnstone is its reference")
}
