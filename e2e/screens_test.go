package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// screens are all the screens there are, each brought to its most telling state.
func screens(a *app) map[string]func(p *tab) {
	return map[string]func(*tab){
		"/":        func(p *tab) { p.shows("main", "None is your own yet") },
		"/reports": func(p *tab) { p.shows("main", "None yet.") },
		"/reports/00000000-0000-4000-8000-000000000009": func(p *tab) { p.shows("main", "There is no such report.") },
		"/nowhere": func(p *tab) { p.shows("main", "There is no such page") },
		"/problems/00000000-0000-4000-8000-000000000009": func(p *tab) { p.shows("main", "There is nothing under this address") },
		"/problems/" + a.demoID(): func(p *tab) {
			p.keyIs("statistic", "t = −2.064")
			p.find(`[data-step="statistic"] .katex`)
		},
		"/problems/" + a.demoID() + "?mode=reveal": func(p *tab) {
			p.shows("main", "Step 1 of 12")
			p.key(input.End)
			p.shows("main", "Step 12 of 12")
		},
		"/problems/" + a.problemID("Do all piers board equally fast?") + "?mode=try": func(p *tab) {
			p.shows(says("ms_between"), "divided by its degrees of freedom")
			p.find(`[data-step="statistic"] .katex`)
		},
		"/problems/" + a.problemID("Does the ticket go with the reason for riding?") + "?mode=try": func(p *tab) {
			p.shows("main", "4 of 9 cells")
		},
		"/tables/f":                         func(p *tab) { p.shows("table", "161.45") },
		"/problems/" + a.demoID() + "/edit": func(p *tab) { p.shows("main", "Ready to be worked") },
		"/problems/" + a.demoID() + "?number": func(p *tab) {
			p.find(`[data-step="statistic"] .katex`)
			p.click("16.33")
			p.shows(`[data-testid="opened"]`, "Degrees of freedom")
		},
		"/problems/" + a.demoID() + "?comparison": func(p *tab) {
			p.click("Pool them and compare")
			p.shows(`[data-testid="comparison"]`, "reject H₀")
		},
		"/problems/" + a.problemID("Does the overhauled engine keep its maker’s promise?"): func(p *tab) { p.keyIs("statistic", "t = 2.534") },
		"/problems/" + a.problemID("Does the ticket go with the reason for riding?"): func(p *tab) {
			p.shows(`[data-testid="crossed"]`, "37.1")
			p.click("% of reason")
			p.click("school")
		},
		"/problems/" + a.problemID("Do passengers come at random?"): func(p *tab) { p.keyIs("look", "8 classes") },
		"/problems/" + a.problemID("Do all piers board equally fast?"): func(p *tab) {
			p.keyIs("statistic", "F = 21.590")
			p.shows(`[data-step="follow-up"]`, "Lantern against the mean of")
		},
		"/data": func(p *tab) { p.shows("main", "Crossings") },
		"/data/00000000-0000-4000-8000-000000000009": func(p *tab) { p.shows("main", "There is nothing under this address") },
		"/data/" + a.dataID("crossings"): func(p *tab) {
			p.click("ferry")
			p.shows(`[aria-label="Look"] table`, "Pufin")
			p.shows(`[data-column="ferry"]`, "1 odd")
		},
		"/data/" + a.dataID("crossings") + "?panel": func(p *tab) { p.header("ferry") },
		"/data/" + a.dataID("crossings") + "?number": func(p *tab) {
			p.header("wind")
			p.click("Derive from it …")
			p.shows(`[data-testid="preview"]`, "120 cases")
		},
		"/data/" + a.dataID("crossings") + "?recode": func(p *tab) {
			p.header("wind")
			p.click("Recode …")
			p.shows(`[data-testid="preview"]`, "middle")
		},
		"/data/" + a.dataID("crossings") + "?reshape": func(p *tab) { p.click("Reshape"); p.shows("dialog", "and 35 more rows") },
		"/data/" + a.dataID("boarding"): func(p *tab) {
			p.click("minutes min")
			p.find(`[aria-label="Look"] svg`)
			p.choose("together with", "Pier")
			p.shows(`[aria-label="Work a problem with these"]`, "4 levels")
		},
		"/data/" + a.dataID("lost-property"): func(p *tab) { p.shows("main", "7 rows") },
		"/data/" + a.dataID("whales") + "?paste": func(p *tab) {
			p.goTo("0/0")
			p.paste(`[data-cell="0/0"]`, "Mole\t12.1\t11.8\t12.6\nQuarry\t13.4\t12.9\tx\n")
			p.shows("dialog", "Turn rows into columns")
		},
		"/data?sheet": func(p *tab) {
			p.chooseFile(a, "boarding")
			p.click("Choose a part by looking")
			p.find(`dialog [role="grid"]`)
		},
		"/data/" + a.dataID("two-berths") + "?look=minutes&look=berth": func(p *tab) {
			p.click("How to read this")
			p.button("Keep with “Do the two berths load at the same speed?”")
		},
		"/problems/" + a.demoID() + "/edit?keys": func(p *tab) {
			p.shows("main", "Ready to be worked")
			p.click("Keys")
			p.shows("dialog", "Undo")
		},
	}
}

// Every screen is accessible by day, has the contrast by night too, and fits every width.
func TestEveryScreen(t *testing.T) {
	a := newApp(t)
	for path, ready := range screens(a) {
		t.Run(path, func(t *testing.T) {
			t.Parallel()
			here := *a
			here.t = t // its pages are closed when this screen has been seen
			p := here.open(path)
			p.theme("day")
			ready(p)
			p.accessible(path + " by day")
			p.theme("night")
			p.contrasts(path + " by night")
			for _, width := range []int{390, 768, 1024, 1280, 1920} {
				p.resize(width, 800)
				p.fitsTheWidth(fmt.Sprintf("%s at %d", path, width))
			}
		})
	}
}

// At 1280×800 the question, the step in hand and the curve are in view together.
func TestTheFirstView(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("statistic", "t = −2.064")
	for _, selector := range []string{`[aria-label="The problem"] h1`, `[data-step="question"]`,
		`[aria-label="The curve and the decision"] svg`, `[data-testid="decision"]`} {
		shape, err := p.find(selector).Shape()
		require.NoError(t, err)
		box := shape.Box()
		assert.True(t, box.Y >= 0 && box.Y+box.Height <= 800, "%s lies at %v to %v", selector, box.Y, box.Y+box.Height)
	}
}

func TestThemeIsRemembered(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.shows("main", "None is your own yet")
	theme := func() string {
		result, err := p.Eval(`() => document.documentElement.dataset.theme`)
		require.NoError(t, err)
		return result.Value.Str()
	}
	first := theme()
	p.key('d')
	p.eventually("the other theme", func() bool { return theme() != first })
	require.NoError(t, p.Reload())
	require.NoError(t, p.WaitLoad())
	assert.NotEqual(t, first, theme())
}
