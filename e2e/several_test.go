package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From one column a group, pasted, to the pairs that differ. By hand: the means are 2, 3 and
// 7, the sums of squares 42 and 6, F = 21.
func TestFromPasteToPairs(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.pasteBlock("0/0", "Mole\tQuarry\tLantern\n1\t2\t6\n2\t3\t7\n3\t4\t8\n")
	p.click("A column a group")
	p.ask("Do several groups have the same mean, and which differ? (Several means)")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.keyIs("statistic", "F = 21.000")
	p.keyIs("critical-value", "5.143") // 2 and 6 degrees of freedom, as printed tables have it
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-step="statistic"]`, "in all: 48.000")
	p.shows(`[data-step="follow-up"]`, "2 of 3 pairs differ: Mole and Lantern; Quarry and Lantern")
	p.accessible("several means")

	// Without pooling, with another correction and against another group.
	p.key('v')
	p.shows(`[data-step="follow-up"]`, "Games and Howell")
	p.key('v')
	p.click("Bonferroni")
	p.shows(`[data-step="follow-up"]`, "p (Bonferroni)")
	p.click("none")
	p.eventually("no pairs", func() bool { return !contains(p, `[data-step="follow-up"]`, "pairs differ") })
	p.click("Holm")
	p.shows(`[data-step="follow-up"]`, "p (Holm)")
	p.key('l')
	p.shows(`[data-step="follow-up"]`, "Quarry has a mean of 3.000")

	// A contrast is built, turned one-sided, and taken back.
	press := func(group, name string) {
		p.clickOn(name+" in “"+group+"”", `(group, name) => [...document.querySelectorAll(group)].find((e) => e.innerText === name)`,
			`[aria-label="Build a contrast"] [aria-label="`+group+`"] button`, name)
	}
	press("The mean of", "Lantern")
	p.shows(`[aria-label="Build a contrast"]`, "Put a group on the other side too.")
	press("against that of", "Mole")
	press("against that of", "Quarry")
	p.shows(`[data-step="follow-up"]`, "Lantern against the mean of Mole and Quarry: 4.500") // 7 − (2 + 3)/2
	p.shows(`[data-step="follow-up"]`, "= 6.364")                                            // 4.5/√(1·(1/3 + 1/12 + 1/12)), the root of 40.5
	press("H₁ says that the first is", ">")
	p.shows(`[data-step="follow-up"]`, "the data are evidence that it is above 0")
	p.click("No contrast")
	p.eventually("no contrast", func() bool { return !contains(p, `[data-step="follow-up"]`, "against the mean of") })
	p.chord("z", "")
	p.shows(`[data-step="follow-up"]`, "Lantern against the mean of Mole and Quarry")
}

func contains(p *tab, selector, words string) bool {
	result, err := p.Eval(`(selector, words) => document.querySelector(selector)?.innerText.includes(words) ?? false`, selector, words)
	return err == nil && result.Value.Bool()
}

// The boarding times: pictures of the same cases, the split, the simulation, ranks and back.
func TestBoarding(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Do all piers board equally fast?"))
	p.keyIs("data", "n = 46")
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-step="look"]`, "the whiskers end")
	p.click("Mean ± sd")
	p.shows(`[data-step="look"]`, "one standard deviation to either side")
	p.click("Means with intervals")
	p.shows(`[data-step="look"]`, "95 % interval")
	require.NoError(t, p.Reload())
	p.shows(`[data-step="look"]`, "95 % interval") // the view is remembered
	p.click("Boxes")

	// A case is chosen in the split and lit up in the boxes.
	circles, err := p.Elements(`[data-step="statistic"] circle`)
	require.NoError(t, err)
	require.Len(t, circles, 46)
	p.clickOn("the fourth case", `() => document.querySelectorAll('[data-step="statistic"] circle')[3]`)
	p.find(`[data-step="look"] circle[r="4"]`)
	p.key(input.Escape)

	p.shows(`[data-step="follow-up"]`, "4 of 6 pairs differ")
	p.shows(`[data-step="follow-up"]`, "Lantern against the mean of Mole, Quarry and Saltgate")
	intervals, err := p.Elements(`[data-step="follow-up"] [aria-label*="Mole − Lantern: −3.619"] circle`)
	require.NoError(t, err)
	assert.Len(t, intervals, 6)

	p.key('f')
	p.shows(`[data-testid="simulated"]`, "0 of 5")
	p.click("Compare by ranks")
	p.shows(`[data-testid="comparison"]`, "H = 26.538")
	p.click("Take the other one")
	p.keyIs("statistic", "H = 26.538")
	p.shows(`[data-step="follow-up"]`, "3 of 6 pairs differ")
	p.accessible("several groups by ranks")
}

// Means that look different and are not significantly so; and a summary.
func TestMeansThatDoNotDiffer(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Are riders of different age with different tickets?"))
	p.keyIs("decision", "do not reject")
	p.shows(`[data-step="statistic"]`, "What does that mean?")
	p.shows(`[data-step="follow-up"]`, "has not rejected")
	p.shows(`[data-step="follow-up"]`, "no two groups can be told apart")

	p = a.open("/problems/" + a.problemID("Do all piers board equally fast? From a summary"))
	p.keyIs("decision", "reject H₀")
	p.shows(`[data-step="data"]`, "Only the summary is given")
	p.click("Say what is true")
	p.shows(`[data-step="follow-up"] [aria-label="How large a sample?"]`, "182") // 46 find it with probability 0.239
	p.accessible("several means from a summary")
}
