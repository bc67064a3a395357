package e2e

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// share returns the share that the simulation shows.
func (p *tab) share() float64 {
	first, _, _ := strings.Cut(p.text(`[data-testid="simulated"]`), " ")
	x, err := strconv.ParseFloat(first, 64)
	require.NoError(p.t, err)
	return x
}

// bars counts the bars behind the curve.
func (p *tab) bars() int {
	bars, err := p.Elements(`[aria-label="The curve and the decision"] [data-testid="simulated-bars"] > g`)
	require.NoError(p.t, err)
	return len(bars)
}

// The p-value is seen: labels are shuffled, bars fill in behind the curve, and follow
// what is changed.
func TestThePValueSeen(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.keyIs("p-value", "p = 0.0553")
	assert.Zero(t, p.bars())
	p.click("Do it 5000 times")
	p.eventually("bars while it draws", func() bool { return p.bars() > 3 })
	p.shows(`[aria-label="The p-value seen"]`, "of 5000 as extreme as the sample or more")
	p.button("Take the bars off the curve")
	// 100,000 shuffles by another program gave 0.0491, and 0.0217 for the left tail; the
	// bounds are four standard deviations of 5,000.
	assert.InDelta(t, 0.0491, p.share(), 0.0123)
	assert.Greater(t, p.bars(), 30)
	p.accessible("the p-value seen")

	p.key('t') // M > Q
	p.keyIs("p-value", "p = 0.9724")
	p.eventually("the other tail", func() bool { return p.share() > 0.9 })
	p.chord("z", "")
	p.keyIs("p-value", "p = 0.0553")
	p.eventually("both tails again", func() bool { return p.share() < 0.1 })

	p.click("Take the bars off the curve")
	p.eventually("no bars", func() bool { return p.bars() == 0 })
	p.key('f')
	// It is over in two seconds, in which a click that looks for its place may come too late.
	p.eventually("a way to stop", func() bool {
		stopped, err := p.Eval(`() => { const stop = [...document.querySelectorAll("button")].find((b) => b.textContent === "Stop"); ` +
			`stop?.click(); return stop !== undefined }`)
		require.NoError(t, err)
		return stopped.Value.Bool()
	})
	p.button("Do it again from the start")
	assert.NotContains(t, p.text(`[data-testid="simulated"]`), "of 5000")
}

// The power of the test, and the sample that it needs, where something stated is true.
// The numbers were made by internal/procedure/testdata/power.py.
func TestHowLargeASample(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.click("Say what is true")
	p.shows(`[data-testid="power"]`, "Power with 33 cases")
	p.fill(p.label("True difference, Mole − Quarry"), "−1,2")
	p.fill(p.label("Standard deviation, Mole"), "0.7")
	p.fill(p.label("Standard deviation, Quarry"), "2")
	p.shows(`[data-testid="power"]`, "0.550")
	p.shows(`[data-testid="power"]`, "a true difference of −1.2 min")
	p.shows(`[data-testid="power"]`, "57")
	p.accessible("how large a sample")

	p.fill(p.label("Standard deviation, Quarry"), "abc")
	p.shows(`[aria-label="How large a sample?"]`, "A number is needed here.")
	p.fill(p.label("Standard deviation, Quarry"), "0")
	p.shows(`[aria-label="How large a sample?"]`, "it must be above 0")
	p.fill(p.label("Power that is wanted"), "1")
	p.shows(`[aria-label="How large a sample?"]`, "it must lie between 0 and 1")
	p.fill(p.label("Power that is wanted"), "0.8")
	p.fill(p.label("Standard deviation, Quarry"), "2")
	p.shows(`[data-testid="power"]`, "0.550")

	require.NoError(t, p.Reload())
	p.shows(`[data-testid="power"]`, "0.550")
	p.key('t') // M > Q: the other side
	p.shows(`[data-testid="power"]`, "on which H₁ does not look")
	p.click("Back to the first numbers")
	p.shows(`[data-testid="power"]`, "a true difference of 0.8 min")
	p.click("Close")
	p.button("Say what is true")
}
