package e2e

import (
	"strings"
	"testing"
)

// Every procedure that no other test drives is reached from a new problem and worked.
// The numbers were calculated by hand from the data sets: ratios of variances, and the
// sums of squares of the distances from the medians.
func TestProceduresFromANewProblem(t *testing.T) {
	a := newApp(t)
	for name, c := range map[string]struct {
		set, asks, statistic, decision string
		roles                          [][2]string
	}{
		"two variances": {
			"two-berths", "Do two groups spread alike? (Two variances)", "F = 0.100", "reject H₀",
			[][2]string{{"Response: the variable that was measured", "minutes (number)"},
				{"Group: the category that tells the two groups apart", "berth (category)"}},
		},
		"spreads by deviations": {
			"two-berths", "Do groups spread alike, whatever their shape? (Spreads by deviations)", "F = 17.005", "reject H₀",
			[][2]string{{"Response: the variable that was measured", "minutes (number)"},
				{"Group: the category that tells the groups apart", "berth (category)"}},
		},
		"pairs by ranks": {
			"out-and-back", "Do differences tend to one side, whatever their shape? (Pairs by ranks)", "W = 100.5", "reject H₀",
			[][2]string{{"First measurement: the one that the other is taken from", "fuel outbound (number)"},
				{"Second measurement: of the same cases, in the same unit", "fuel homebound (number)"}},
		},
	} {
		t.Run(name, func(t *testing.T) {
			here := *a
			here.t = t
			p := here.open("/")
			p.click("New problem")
			p.choose("Data set", dataTitle(t, c.set))
			p.ask(c.asks)
			for _, role := range c.roles {
				p.choose(role[0], role[1])
			}
			p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
			p.click("Work the problem")
			p.keyIs("statistic", c.statistic)
			p.keyIs("decision", c.decision)
			p.accessible(name)
		})
	}
}

// Two proportions of a data set, the success named among its levels.
func TestTwoProportionsFromANewProblem(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	row := func(berth, onTime string, times int) string { return strings.Repeat(berth+"\t"+onTime+"\n", times) }
	p.pasteBlock("0/0", "berth\ton time\n"+row("Mole", "yes", 5)+row("Mole", "no", 1)+row("Quarry", "yes", 2)+row("Quarry", "no", 4))
	p.ask("Do two groups have the same proportion? (Two proportions)")
	p.choose("Response: the category, one of whose levels is the success", "on time (category)")
	p.choose("Group: the category that tells the two groups apart", "berth (category)")
	p.shows(`[aria-label="State of the problem"]`, "which level is the success")
	p.choose("Success", "yes")
	p.click("Work the problem")
	// 5/6 − 2/6 over √(7/12 · 5/12 · (1/6 + 1/6))
	p.keyIs("statistic", "z = 1.757")
	p.keyIs("decision", "do not reject")
	p.accessible("two proportions")
}

// The demo problem on riders: the approximate p decides, and the exact one stands beside.
func TestProportionOfRiders(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Are four of five riders satisfied?"))
	// (173/238 − 0.8)/√(0.8·0.2/238)
	p.keyIs("statistic", "z = −2.820")
	p.keyIs("data", "173 of 238")
	p.keyIs("decision", "reject H₀")
	p.click("on")
	// nearer by half a rider: (173.5/238 − 0.8)/√(0.8·0.2/238)
	p.keyIs("statistic", "z = −2.739")
	p.accessible("one proportion")
}

// Two proportions of the riders, those who ride to school left out. By hand: 24 of 119 and
// 57 of 108, pooled 81/227.
func TestTicketsOfRiders(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.problemID("Do people who ride to work buy fewer single tickets?"))
	p.keyIs("data", "n = 119, 108")
	p.keyIs("statistic", "z = −5.122")
	p.keyIs("decision", "reject H₀")
	p.click("24")
	p.shows(`[data-testid="opened"]`, "Successes, work")
	p.shows(`[data-testid="opened"]`, "each counts 1")
	p.accessible("two proportions")
}
