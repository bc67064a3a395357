package e2e

import (
	"testing"
)

// From z to t and back again: what t does not know comes back with z.
func TestFromZToTAndBack(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.choose("Data set", "overhaul")
	p.ask("Is a mean what it is said to be, with σ known? (One mean, standard deviation known)")
	p.choose("Response: the variable that was measured", "fuel (number)")
	p.fill(p.label("Mean under H₀"), "41")
	p.shows(`[aria-label="State of the problem"]`, "“Standard deviation of the population, σ” is missing")
	p.fill(p.label("Standard deviation of the population, σ"), "2")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	// (42.225 − 41)/(2/√16)
	p.keyIs("statistic", "z = 2.450")
	p.keyIs("critical-value", "±1.960")

	p.click("Estimate it and compare")
	p.shows(`[data-testid="comparison"]`, "t = 2.534")
	p.shows("dialog", "One mean, standard deviation known")
	p.click("Take the other one")
	p.keyIs("statistic", "t = 2.534")
	p.keyIs("critical-value", "±2.131")
	p.chord("z", "")
	p.keyIs("statistic", "z = 2.450")
	p.shows(`[data-step="data"]`, "Standard deviation of the population")
}

// Two columns that were measured on the same cases lead to the test for pairs.
func TestPairsFromTheirData(t *testing.T) {
	a := newApp(t)
	p := a.open("/data/" + a.dataID("out-and-back") + "?look=fuel+outbound&look=fuel+homebound")
	p.click("Do two measurements of the same cases differ?")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.keyIs("hypotheses", "μd = 0")
	p.keyIs("statistic", "t = 4.266")
	p.shows(`[data-step="follow-up"]`, "The dots are the cases")

	demo := a.open("/problems/" + a.problemID("Does the way out take more fuel than the way back?"))
	demo.keyIs("statistic", "t = 4.266")
	demo.keyIs("decision", "reject H₀")
}
