package e2e

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// field names the field of an ask.
func field(ask string) string { return fmt.Sprintf(`[id="ask-%s"]`, ask) }

// says names what is said of an answer.
func says(ask string) string { return fmt.Sprintf(`[data-testid="says-%s"]`, ask) }

// answers types an answer and gives it; what is said of it holds the words.
func (p *tab) answers(ask, text, words string) {
	p.t.Helper()
	p.fill(field(ask), text)
	p.key(input.Enter)
	p.shows(says(ask), words)
}

// takes chooses for an ask.
func (p *tab) takes(ask, value string) {
	p.t.Helper()
	p.clickAt(fmt.Sprintf(`[data-ask="%s"][data-choice="%s"]`, ask, value))
	p.eventually(ask+" to be taken", func() bool {
		return p.text(fmt.Sprintf(`[data-ask="%s"][aria-pressed="true"]`, ask)) != "" || p.text(says(ask)) != ""
	})
}

// has reports whether the field of an ask has the focus.
func (p *tab) has(ask string) bool {
	result, err := p.Eval(`() => document.activeElement?.dataset.ask ?? ""`)
	return err == nil && result.Value.Str() == ask
}

// Two means: the demo's attempt is taken up with its slip and what follows from it, mended, and worked to the end.
func TestTryTwoMeans(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	p.key('x')
	p.shows(says("se"), "the root is still to be drawn")
	p.shows(says("t"), "follows from your own")
	assert.NotContains(t, p.text("main"), "2.064", "which was not earned")
	p.shows("main", "15 of 25")

	p.click("More help (2 of 4)")
	p.click("More help (3 of 4)")
	p.shows(`[aria-label="Help: Standard error of the difference"]`, "2.134")
	p.answers("se", "0.573", "Right")
	p.eventually("the next answer to be in hand", func() bool { return p.has("t") })
	p.shows(says("t"), "Not it")
	p.answers("t", "-2.0655", "rounded")
	p.answers("t", "-2.064", "Right")

	p.clickAt(`[data-ask="region"]`) // the left tail
	p.click("This is the region")
	p.shows(says("region"), "which side, or both")
	p.click("right tail")
	p.click("This is the region")
	p.shows(says("region"), "Right")
	p.answers("df", "16", "row of a printed table")
	p.answers("critical_high", "1.746", "one tail")
	p.shows(`[data-testid="last-verdict"]`, "A slip")
	assert.False(t, p.has("p"), "a wrong answer stays in hand")
	p.answers("critical_high", "2,120", "printed table")
	p.answers("p", "between 0.05 and 0.10", "p lies there")
	p.takes("decision", "do_not_reject")
	p.takes("conclusion", "accepts")
	p.shows(says("conclusion"), "does not show that it is true")
	p.takes("conclusion", "right")
	p.shows(`[aria-label="The curve so far"]`, "If H₀ were true")
	p.fill(field("own_conclusion"), "We accept H0: the loading times are the same (p = 0.055).")
	p.key(input.Enter)
	p.find(`[data-found="accepts"]`)
	p.fill(field("own_conclusion"), "At the 5% level the data do not show that mean loading time differs between Mole and Quarry.")
	p.key(input.Enter)
	p.shows(says("own_conclusion"), "Nothing in it")

	require.NoError(t, p.Reload())
	p.shows(says("own_conclusion"), "Nothing in it")
	p.answers("ci_low", "-2.397", "Right")
	p.answers("ci_high", "0.03", "as far as it goes")
	p.answers("cohen_d", "-0.748", "Right")
	p.shows("[data-ending]", "right at first go")
	p.find(`[data-slip="root_forgotten"]`)
	p.find(`[data-slip="one_tail"]`)
	p.shows("[data-ending]", "Help was taken for Standard error of the difference")
	p.accessible("the end of an attempt")
	p.click("Try again with other numbers")
	p.shows("header", "other numbers")
	p.shows("main", "0 of 25")
}

// Cells: expected counts are typed into the table, by arrows from one to the next; the statistic is recognised.
func TestTryCells(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Does the ticket go with the reason for riding?") + "?mode=try")
	p.shows("main", "Expected counts")
	cell := func(row, column string) string { return "cells/" + row + "|" + column + "/expected" }
	p.clickAt(field(cell("work", "single")))
	p.shows(says(cell("work", "single")), "parts all cases alike")
	p.fill(field(cell("work", "single")), "42.7")
	p.key(input.ArrowDown)
	p.eventually("the cell below", func() bool { return p.has(cell("school", "single")) })
	p.key(input.ArrowUp)
	p.shows(says(cell("work", "single")), "Right")
	for _, each := range [][3]string{{"school", "monthly", "2.18"}, {"leisure", "single", "38.8"}, {"leisure", "return", "35.5"}} {
		p.fill(field(cell(each[0], each[1])), each[2])
		p.key(input.Enter)
		p.find(`span:has(> [id="ask-` + cell(each[0], each[1]) + `"]) [aria-label="Right"]`)
	}
	p.fill(field(cell("leisure", "monthly")), "3,37e1")
	p.key(input.Enter)
	p.shows("main", "9 of 9 cells")
	p.accessible("cells")
	p.resize(390, 800)
	p.fitsTheWidth("cells on a telephone")
	p.resize(1280, 800)
	p.takes("condition:independence", "met")
	p.takes("condition:expected-counts", "met")
	p.shows(says("condition:expected-counts"), "Not it")
	p.takes("condition:expected-counts", "not_met")
	p.answers("chi_square", "26.4", "")
	p.fill(field("chi_square"), "0")
	p.key(input.Enter)
	p.shows(says("chi_square"), "Not it")
	p.click("Undo")
	p.eventually("the answer before", func() bool { return p.Page.MustElement(field("chi_square")).MustProperty("value").Str() == "26.4" })
}

// Several means: sums of squares in the place of mean squares, and F from them, which follows.
func TestTrySeveralMeans(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Do all piers board equally fast?") + "?mode=try")
	p.shows(says("ms_between"), "divided by its degrees of freedom")
	p.answers("f", "64.75", "follows from your own")
	p.answers("f", "1.542", "sums of squares")
	p.answers("ms_between", "29.5", "Right")
	p.answers("f", "21.59", "Right")
	p.shows(`[aria-label="The curve so far"]`, "rejection region")
	another := a.open("/problems/" + a.problemID("Do all piers board equally fast?") + "?mode=try")
	another.shows(says("f"), "Right")
	another.answers("pooled_sd", "1.17", "Right")
	p.answers("f", "22", "") // the tab has not seen what the other one did
	p.shows("main", "Another tab has answered")
	p.shows(says("pooled_sd"), "Right")
}

// A line, from its beginning, with the calculator; the key works without the mouse.
func TestTryALine(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("What does a longer crossing cost in fuel?") + "?mode=try")
	p.answers("n", "120", "Right")
	p.eventually("the next ask to be in hand", func() bool { return p.has("mean_predictor") })
	p.click("Calculator")
	p.shows(`[aria-label="Calculator"]`, "Σ")
	p.fill(`[aria-label="Expression"]`, "84 / 0")
	p.key(input.Enter)
	p.shows(`[aria-label="Calculator"]`, "That is no number")
	p.accessible("the calculator")
	for range 4 {
		p.clickOn("help", `() => document.querySelector('[id="ask-mean_predictor"]').closest(".group\\/row").querySelector(".act")`)
	}
	p.shows(`[aria-label^="Help"]`, "It is")
	for range 4 {
		p.clickOn("help", `() => document.querySelector('[id="ask-mean_response"]').closest(".group\\/row").querySelector(".act")`)
	}
	p.takes("hypotheses", "swapped")
	p.shows(says("hypotheses"), "equality stands in H₀")
	p.takes("hypotheses", "both")
	p.find(`[data-step="conditions"]`)
	assert.Equal(t, http.StatusOK, a.status("/tables/t"))
	p.shows("main", "Condition")
	p.answersConditions()
	p.answers("slope", "-0.9705", "opposite")
	p.answers("slope", "0.9705", "Right")
}

// answersConditions says of each condition that it is met, right or not.
func (p *tab) answersConditions() {
	p.t.Helper()
	result, err := p.Eval(`() => [...document.querySelectorAll('[data-ask^="condition:"][data-choice="met"]')].map((e) => e.dataset.ask)`)
	require.NoError(p.t, err)
	for _, ask := range result.Value.Arr() {
		p.takes(ask.Str(), "met")
	}
}

// status returns the status with which a page comes.
func (a *app) status(path string) int {
	a.t.Helper()
	response, err := http.Get(a.url + path)
	require.NoError(a.t, err)
	defer response.Body.Close()
	return response.StatusCode
}

// The printed tables light up what the pointer is at, and point nothing out by themselves.
func TestPrintedTables(t *testing.T) {
	a := newApp(t)
	p := a.open("/tables")
	p.shows("main", "The area of the normal curve beyond z")
	p.shows("table", "0.0250")
	p.click("F")
	p.shows("main", "degrees of freedom above")
	p.click("area 0.01")
	p.shows("h1", "0.01")
	require.NoError(t, p.MustElement("tbody td:nth-child(4)").Hover())
	p.eventually("a row to light up", func() bool { return len(p.MustElements("td.bg-base-300")) > 10 })
	p.accessible("a printed table")
}
