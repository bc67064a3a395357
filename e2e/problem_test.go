package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The numbers of two-berths were calculated by hand in exact fractions and with
// 40-digit areas: t = −2.06408 with 16.3269 degrees of freedom, p = 0.055277;
// pooled t = −2.22970 with 31, p = 0.033147.

func TestReadTheDemoProblem(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("Do the two berths load at the same speed?")
	p.keyIs("statistic", "t = −2.064")
	p.keyIs("critical-value", "±2.116")
	p.keyIs("p-value", "p = 0.0553")
	p.keyIs("decision", "do not reject")
	p.shows(`[data-step="critical-value"]`, "16.33 degrees of freedom")
	p.shows(`[data-testid="decision"]`, "Do not reject H₀")
	p.shows(`[data-testid="verdicts"]`, "2.064 < 2.116")
	p.shows(`[data-testid="verdicts"]`, "0.0553 > 0.05")
	for _, step := range []string{"question", "data", "look", "hypotheses", "conditions", "statistic", "critical-value", "p-value",
		"decision", "conclusion", "report", "follow-up"} {
		assert.NotEmpty(t, p.text(`[data-step="`+step+`"]`), step)
	}
	assert.Contains(t, p.text(`[data-step="conclusion"]`), "“It makes no difference where she ties up” is not contradicted, and not "+
		"confirmed.")
}

func TestTheSolutionFollowsTheControls(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("decision", "do not reject")
	region := func() string { return p.text(`[aria-label="The curve and the decision"] figure`) }

	p.click("0.10")
	p.keyIs("decision", "reject H₀")
	p.keyIs("critical-value", "±1.744")
	p.eventually("the region to move", func() bool { return strings.Contains(region(), "−1.744") })
	p.shows(`[data-testid="decision"]`, "mean loading time is lower for Mole than for Quarry")
	p.key(input.KeyU)
	p.keyIs("decision", "do not reject")

	p.click("M < Q")
	p.keyIs("hypotheses", "μM ≥ μQ")
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-step="hypotheses"]`, "The direction has to come from the question")
	p.click("M ≠ Q")

	p.click("pooled")
	p.keyIs("statistic", "t = −2.230")
	p.keyIs("p-value", "p = 0.0331")
	p.shows(`[data-step="conditions"]`, "The spreads differ too much to pool")

	p.click("Quarry − Mole")
	p.keyIs("statistic", "t = 2.230")
	p.shows(`[data-step="data"]`, "15 of Quarry and 18 of Mole")

	// By key: v takes the next way with the variances, g turns the direction.
	p.key('v')
	p.keyIs("statistic", "t = 2.064")
	p.key('v', 'g')
	p.keyIs("statistic", "t = −2.230")
	p.key('g')
	p.keyIs("statistic", "t = 2.230")

	// What was chosen is remembered.
	p.eventually("the choices to be kept", func() bool {
		again := a.open("/problems/" + a.demoID())
		again.find(`[data-testid="key-statistic"]`)
		return again.margin("statistic") == "t = 2.230" && again.margin("p-value") == "p = 0.0331"
	})
}

func TestAlphaByHand(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("decision", "do not reject")
	p.click("other")
	field := p.label("Alpha, a number between 0 and 1")
	p.fill(field, "5")
	p.key(input.Enter)
	p.shows(`[role="alert"]`, "A number between 0 and 1")
	p.fill(field, "0.0553")
	p.key(input.Enter)
	p.keyIs("decision", "reject H₀")
	// p = 0.055277 would round onto alpha.
	p.keyIs("p-value", "p = 0.05528")
	p.shows(`[data-testid="verdicts"]`, "0.05528 < 0.0553")
}

func TestDecimals(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	p.choose("Decimals in the whole solution", "2")
	p.keyIs("statistic", "t = −2.06")
	p.keyIs("data", "n = 18, 15")
	p.shows(`[data-step="data"]`, "12.38")
	p.keyIs("p-value", "p = 0.06")
	p.click("pooled")
	p.shows(`[data-step="critical-value"]`, "31 degrees of freedom")
}

func TestRevealByKeyboard(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	p.key('s')
	p.shows("main", "Step 1 of 12")
	assert.Empty(t, p.margin("statistic"), "a covered step shows nothing")
	assert.Empty(t, p.text(`[data-testid="decision"]`), "nor does the panel")
	left, right := p.text(`aside[aria-label="The problem"]`), p.text(`aside[aria-label="The curve and the decision"]`)
	assert.NotContains(t, left, "12.383", "the groups belong to the data")
	assert.Contains(t, right, "Alpha", "which is chosen with the question")
	assert.NotContains(t, right, "H₁ says")
	p.key(input.ArrowRight)
	p.shows(`aside[aria-label="The problem"]`, "12.383")
	p.key('t') // nothing yet: H₁ has not been put
	for range 2 {
		p.key(input.ArrowRight)
	}
	p.shows(`aside[aria-label="The curve and the decision"]`, "H₁ says")
	for range 2 {
		p.key(input.ArrowRight)
	}
	p.keyIs("statistic", "t = −2.064")
	p.shows("main", "Step 6 of 12")
	p.key(input.ArrowLeft)
	p.eventually("step 6 to be covered again", func() bool { return p.margin("statistic") == "" })
	p.key(input.End)
	p.shows(`[data-testid="decision"]`, "Do not reject H₀")
	p.key('p')
	p.eventually("projector size", func() bool {
		size, err := p.Eval(`() => getComputedStyle(document.documentElement).fontSize`)
		return err == nil && size.Value.Str() == "27.2px"
	})
	p.find(`[data-step="follow-up"]`)
	p.fitsTheWidth("the projector")
	p.key('b') // as a remote blanks the page; the next key does nothing but bring it back
	p.find(`button.bg-black:focus`)
	p.key(input.PageUp)
	p.eventually("the page to be back", func() bool { return !p.MustHas(`button.bg-black`) })
	p.shows("main", "Step 12 of 12")
	p.key(input.PageUp)
	p.shows("main", "Step 11 of 12")
	p.click("3 min")
	p.shows(`[role="timer"]`, "2:5")
	p.click("Put the timer away")
	p.key('r')
	p.keyIs("decision", "do not reject")
	p.key(input.Key('?'))
	p.shows("dialog", "Reveal: step by step")
	p.key(input.Escape)
}

// What is projected is read from the last row: one step at a time, no letter smaller than 1/30 of the height but in what a
// formula sets smaller, on wide screens and on the old ones.
func TestProjector(t *testing.T) {
	a := newApp(t)
	for _, title := range []string{"Do the two berths load at the same speed?", "Do all piers board equally fast?"} {
		p := a.open("/problems/" + a.problemID(title) + "?mode=reveal")
		p.shows("main", "Step 1 of 12")
		p.key('p')
		for _, size := range [][2]int{{1280, 800}, {1024, 768}} {
			p.resize(size[0], size[1])
			p.key(input.Home)
			for step := 1; step <= 12; step++ {
				p.shows("main", fmt.Sprintf("Step %d of 12", step))
				p.eventually("the step to be alone", func() bool { return len(p.MustElements(`[data-step]`)) == 1 })
				small := p.MustEval(`() => {
					const small = [], least = innerHeight / 30 - 0.05;
					const texts = document.createTreeWalker(document.querySelector("main"), NodeFilter.SHOW_TEXT);
					for (let text = texts.nextNode(); text; text = texts.nextNode()) {
						const element = text.parentElement;
						if (!text.textContent.trim() || !element.checkVisibility({ opacityProperty: true, contentVisibilityAuto: true })) continue;
						if (element.closest(".tools, .katex, sub, sup, .sr-only, .screen-only, pre")) continue;
						const scale = element.getScreenCTM ? Math.hypot(element.getScreenCTM().a, element.getScreenCTM().b) : 1;
						const size = parseFloat(getComputedStyle(element).fontSize) * scale;
						if (size < least) small.push(text.textContent.trim().slice(0, 30) + ": " + size.toFixed(1));
					}
					return small.join("; ");
				}`).Str()
				assert.Empty(t, small, "%s at %d×%d, step %d", title, size[0], size[1], step)
				p.fitsTheWidth("the projector")
				p.key(input.ArrowRight)
			}
		}
	}
}

func TestNumbersOpenDownToTheData(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("p-value", "p = 0.0553")
	// By key alone: focus the result of the p-value's formula and press Enter.
	_, err := p.Eval(`() => document.querySelector('[data-step="p-value"] .number.font-serif').focus()`)
	require.NoError(t, err)
	p.key(input.Enter)
	const card = `[data-testid="opened"]`
	p.shows(card, "0.05527733049070")
	p.click("Test statistic −2.064")
	p.shows(card, "standard errors the observed difference lies")
	p.click("Mean, Mole 12.383 min")
	p.shows(card, "12.3833333333333")
	p.click("The cells, Mole Loading time")
	p.shows(card, "The 18 cells used")
	p.shows(card, "10.8")
	p.click("Back")
	p.shows(card, "12.3833333333333")
	p.key(input.Escape)
	p.eventually("the card to close", func() bool { return p.text(card) == "" })
	focused, err := p.Eval(`() => document.activeElement.textContent`)
	require.NoError(t, err)
	assert.Equal(t, "0.0553", focused.Value.Str(), "the focus is back on the number")
}

func TestPoolAndCompare(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.click("Pool them and compare")
	p.shows(`[data-testid="comparison"]`, "t = −2.064 t = −2.230")
	p.shows(`[data-testid="comparison"]`, "do not reject reject H₀")
	p.click("Stay with the present one")
	p.keyIs("statistic", "t = −2.064")
	p.click("Pool them and compare")
	p.click("Take the other one")
	p.keyIs("statistic", "t = −2.230")
	p.click("Keep them apart and compare")
	p.shows("dialog", "Variances kept apart")
	p.key(input.Escape)
}

func TestMoveWhatTheNullHypothesisStates(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("decision", "do not reject")
	slider := p.find(`[role="slider"]`)
	require.NoError(t, slider.Focus())
	p.key(input.PageUp) // a difference of 0.1 lies outside the interval up to 0.030
	p.keyIs("hypotheses", "μM − μQ = 0.1")
	p.keyIs("decision", "reject H₀")

	// By pointer, to the left into the interval.
	shape, err := slider.Shape()
	require.NoError(t, err)
	box := shape.Box()
	require.NoError(t, p.Mouse.MoveTo(proto.NewPoint(box.X+box.Width/2, box.Y+8)))
	require.NoError(t, p.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, p.Mouse.MoveLinear(proto.NewPoint(box.X-100, box.Y+8), 5))
	require.NoError(t, p.Mouse.Up(proto.InputMouseButtonLeft, 1))
	p.keyIs("decision", "do not reject")
	assert.NotContains(t, p.margin("hypotheses"), "0.1")
}

func TestCopying(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	p.holdClipboard()

	p.click("Copy")
	p.eventually("the report line", func() bool { return strings.Contains(p.clipboard("text/plain"), "t(16.33) = −2.064, p = 0.0553") })
	assert.Contains(t, p.clipboard("text/html"), "<i>t</i>(16.33)")
	p.click("Sentence")
	p.click("Copy Markdown")
	p.eventually("the sentence", func() bool {
		return strings.Contains(p.clipboard("text/plain"), "(*t* = −2.064 with 16.33 degrees of freedom, *p* = 0.0553.)")
	})
	p.click("Row of a table")
	p.click("Copy text")
	p.eventually("the row", func() bool { return strings.Contains(p.clipboard("text/plain"), "\t−2.064\t16.33\t0.0553\t") })
	p.click("Line for a journal")

	p.click("Copy the table “Loading time by berth”")
	p.click("Table, with all digits")
	p.eventually("the table", func() bool {
		return strings.Contains(p.clipboard("text/plain"), "Berth\tn\tmean (min)\tsd (min)\nMole\t18\t12.383333333333")
	})
	// By key: the button has the focus again, the arrow opens the menu, Enter takes the first.
	p.key(input.ArrowDown)
	p.find(`[popover]:popover-open button:focus`)
	p.accessible("a menu of ways to copy")
	p.key(input.Enter)
	p.eventually("the table as it is shown", func() bool {
		return strings.Contains(p.clipboard("text/html"), `<td>Mole</td><td align="right">18</td><td align="right">12.383</td>`)
	})
	require.NoError(t, p.find(`[data-step="statistic"] .group\/corner`).Hover())
	p.clickAt(`[data-step="statistic"] [aria-label^="Copy the formula"]`)
	p.click("TeX")
	p.eventually("the formula", func() bool { return strings.Contains(p.clipboard("text/plain"), `\sqrt`) })

	p.clickAt(`[data-step="statistic"] .number.font-serif`)
	p.click("Copy all digits")
	p.eventually("the number", func() bool { return strings.HasPrefix(p.clipboard("text/plain"), "0.5732") })
	p.key(input.Escape)
	require.NoError(t, p.Keyboard.Press(input.ControlLeft))
	p.clickAt(`[data-step="statistic"] .number.font-serif`)
	require.NoError(t, p.Keyboard.Release(input.ControlLeft))
	p.shows("body", "Copied 0.5732")

	require.NoError(t, p.find(`[data-step="look"] figure`).Hover())
	picture := func(way string) {
		p.clickAt(`[data-step="look"] figure [aria-label^="Copy the picture"]`)
		p.click(way)
	}
	picture("SVG")
	p.eventually("the picture", func() bool { return strings.Contains(p.clipboard("text/plain"), `xmlns="http://www.w3.org/2000/svg"`) })
	picture("With its caption")
	p.eventually("the caption", func() bool { return strings.Contains(p.clipboard("text/html"), `width="302"`) })
	picture("PNG, 8 cm wide, a column")
	p.eventually("the picture", func() bool { return len(p.clipboard("image/png")) > 3 })
}

func TestChooseACase(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	p.click("The cases used: 33 rows")
	p.clickAt(`[data-step="data"] details tbody tr`)
	p.eventually("the case to light up in the picture", func() bool {
		lit, err := p.Eval(`() => document.querySelectorAll('[data-step="look"] circle[r="4"]').length`)
		return err == nil && lit.Value.Int() == 1
	})
	// By key: Enter on the number of another case lights it up, and again puts it out.
	_, err := p.Eval(`() => document.querySelector('[data-step="data"] [aria-label="Case 5"]').focus()`)
	require.NoError(t, err)
	p.key(input.Enter)
	p.shows(`[aria-label="The cases chosen"]`, "Case 5 chosen")
	p.key(input.Enter)
	p.eventually("no case chosen", func() bool { return p.text(`[aria-label="The cases chosen"]`) == "" })
}

// The key results in the margin and the numbers of the conditions open too.
func TestEveryNumberOpens(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	for name, says := range map[string]string{
		"t = −2.064": "Test statistic", "±2.116": "Upper critical value", "2.064 < 2.116": "Test statistic", "0.0553 > 0.05": "p-value",
		"3.2": "Ratio of the standard deviations", "0.025": "Area in each tail",
	} {
		p.click(name)
		p.shows(`[data-testid="opened"]`, says)
		p.key(input.Escape)
		p.eventually("the card to close", func() bool { return p.text(`[data-testid="opened"]`) == "" })
	}
}

func TestTypeWhatTheNullHypothesisStates(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	field := p.label("Difference under H₀")
	p.fill(field, "−2,5")
	p.key(input.Enter)
	p.keyIs("hypotheses", "μM − μQ = −2.5")
	p.keyIs("decision", "reject H₀")
	p.fill(p.label("Difference under H₀"), "none")
	p.key(input.Enter)
	p.keyIs("hypotheses", "μM − μQ = −2.5")
}

// From the click on another alpha to the changed numbers and picture it is one request, and takes
// no longer than a few such requests take by themselves, with a frame to draw in.
func TestAChangeOfAlphaIsQuick(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("decision", "do not reject")
	quickest := func(times int, script string, args ...any) float64 {
		least := 1e9
		for i := range times {
			result, err := p.Eval(script, append(args, i)...)
			require.NoError(t, err)
			least = min(least, result.Value.Num())
		}
		return least
	}
	click := quickest(6, `(i) => new Promise((done) => {
		const key = document.querySelector('[data-testid="key-critical-value"]');
		const start = performance.now();
		performance.clearResourceTimings();
		new MutationObserver(() => requestAnimationFrame(() => done(performance.now() - start)))
			.observe(key, { subtree: true, childList: true, characterData: true });
		[...document.querySelectorAll("button[aria-pressed]")].find((b) => b.textContent === ["0.10", "0.05"][i % 2]).click();
	})`)
	p.eventually("one request", func() bool {
		result, err := p.Eval(`() => performance.getEntriesByType("resource").map((e) => e.name.replace(/.*\//, "")).join()`)
		return err == nil && result.Value.Str() == "settings"
	})
	request := quickest(6, `async (id) => {
		const start = performance.now();
		await (await fetch("/api/problems/" + id + "/work", { method: "POST", headers: { "Content-Type": "application/json" },
			body: '{"set":[]}' })).json();
		return new Promise((done) => requestAnimationFrame(() => done(performance.now() - start)));
	}`, a.demoID())
	t.Logf("%.0f ms, the request alone %.0f ms", click, request)
	assert.Less(t, click, 20*request, "the quickest of six")
}

// How numbers are written is chosen once, for all that is read and copied; what is set stays as it is.
func TestNumeralsAndDecimalsByKind(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("p-value", "p = 0.0553")
	p.choose("Decimal mark", "comma: 0,5")
	p.keyIs("p-value", "p = 0,0553")
	p.choose("Zero before p, r and shares", "dropped")
	p.keyIs("p-value", "p = ,0553")
	p.keyIs("statistic", "t = −2,064")
	p.choose("Decimals in the whole solution", "by kind")
	p.choose("p", "2")
	p.keyIs("p-value", "p = ,06")
	p.choose("statistics", "1")
	p.keyIs("statistic", "t = −2,1")
	p.keyIs("decision", "do not reject")

	p.click("Use for all my new problems")
	p.shows("body", "New problems begin with these decimals")
	p.eventually("the decimals to be kept", func() bool {
		again := a.open("/problems/" + a.demoID())
		again.find(`[data-testid="key-statistic"]`)
		return strings.Contains(again.margin("p-value"), "06") && strings.HasSuffix(again.margin("statistic"), "1")
	})
	require.NoError(t, p.Reload())
	p.keyIs("p-value", "p = ,06")
	p.choose("Decimal mark", "point: 0.5")
	p.choose("Zero before p, r and shares", "kept")
	p.keyIs("p-value", "p = 0.06")
}

// With many problems they are looked through, put by what is asked, and those used last come first.
func TestManyProblems(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.shows("main", "To look around")
	first := func() string {
		result, err := p.Eval(`() => document.querySelector("main section li a")?.textContent ?? ""`)
		require.NoError(t, err)
		return result.Value.Str()
	}
	p.fill(p.label("Look through the problems"), "whales bread")
	p.shows("main", "No problem has “whales bread”")
	p.fill(p.label("Look through the problems"), "WHALE random")
	p.eventually("the whales alone", func() bool { return first() == "Do whale sightings come at random?" })
	p.fill(p.label("Look through the problems"), "")
	p.choose("Order", "by what is asked")
	p.shows("main", "Two means, independent groups")
	p.choose("Order", "used last first")
	p.click("What does a longer crossing cost in fuel?")
	p.keyIs("statistic", "t = 13.363")
	p.click("Problems")
	p.eventually("it to come first", func() bool { return first() == "What does a longer crossing cost in fuel?" })
}
