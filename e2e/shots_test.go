//go:build shots

package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// shots is where the pictures of the documentation are.
const shots = "../docs/screenshots"

// to scrolls until what a selector names stands so far from the top.
func (p *tab) to(selector string, top int) {
	p.t.Helper()
	p.find(selector)
	p.MustEval(`(selector, top) => scrollBy(0, document.querySelector(selector).getBoundingClientRect().top - top)`, selector, top)
}

// shot takes the picture, when nothing moves any more.
func (p *tab) shot(name string) {
	p.t.Helper()
	p.MustEval(`() => document.fonts.ready`)
	time.Sleep(700 * time.Millisecond)
	require.NoError(p.t, os.WriteFile(filepath.Join(shots, name+".png"), p.MustScreenshot(), 0o600))
}

// TestScreenshots takes the pictures of the documentation from the demo: go test -tags shots -run TestScreenshots ./e2e
func TestScreenshots(t *testing.T) {
	a := newApp(t)
	berths := "/problems/" + a.demoID()
	problem := func(title string) *tab { return a.open("/problems/" + a.problemID(title)) }

	p := a.open("/")
	p.shows("main", "None is your own yet")
	p.shot("home")

	p = a.open(berths)
	p.keyIs("statistic", "t = −2.064")
	p.shot("problem")
	p.theme("night")
	p.shot("night")
	p.theme("day")
	p.to(`[data-step="critical-value"]`, 130)
	p.clickOn("the degrees of freedom", `() => [...document.querySelectorAll('[data-step="critical-value"] button.number')]
		.find((b) => b.textContent === "16.33")`)
	p.shows(`[data-testid="opened"]`, "Degrees of freedom")
	p.shot("number")
	p.key(input.Escape)
	p.to(`[data-step="p-value"]`, 80)
	p.key('f')
	p.eventually("the samples to be drawn", func() bool {
		return strings.Contains(p.text(`[data-step="p-value"]`), "5 000") ||
			strings.Contains(p.text(`[data-step="p-value"]`), "5000")
	})
	p.shot("simulation")

	p = a.open(berths + "/edit")
	p.shows("main", "Ready to be worked")
	p.MustEval(`() => scrollTo(0, 360)`)
	p.shot("edit")

	p = problem("Do all piers board equally fast?")
	p.keyIs("statistic", "F = 21.590")
	p.to(`[data-step="statistic"]`, 90)
	p.shot("several")
	p = problem("What does a longer crossing cost in fuel?")
	p.keyIs("statistic", "t = 13.363")
	p.MustEval(`() => {
		const figure = [...document.querySelectorAll("figure")].find((each) =>
			each.querySelectorAll("circle").length > 100 && /place|Predict/.test(each.parentElement.textContent));
		scrollBy(0, figure.getBoundingClientRect().top - 110);
		const seventh = [...figure.querySelectorAll("circle")].find((each) => /^case 7:/.test(each.textContent));
		seventh.dispatchEvent(new MouseEvent("click", { bubbles: true }));
	}`)
	p.shot("line")
	p = a.open("/data/" + a.dataID("crossings"))
	p.click("ferry")
	p.shows(`[aria-label="Look"] table`, "Pufin")
	p.shot("data")
	p = a.open("/data/" + a.dataID("two-berths"))
	p.click("minutes min")
	p.find(`[aria-label="Look"] svg`)
	p.choose("together with", "Berth")
	p.shows(`[aria-label="Work a problem with these"]`, "Two means")
	p.shot("guide")

	p = a.open(berths + "?mode=try")
	p.shows(says("t"), "follows from your own")
	p.to(says("se"), 260)
	p.shot("try")

	// A pen over the projector.
	p = a.open(berths + "?mode=reveal")
	p.shows("main", "Step 1 of 12")
	p.key('p')
	for range 7 {
		p.key(input.ArrowRight)
	}
	p.shows("main", "Step 8 of 12")
	p.key('i')
	p.stroke(42, 148, 262, 146)
	p.stroke(900, 596, 770, 566)
	p.stroke(1090, 596, 1200, 566)
	p.key('j')
	p.MustEval(`() => document.querySelector('[aria-label="Green ink"]').click()`) // a click of the mouse would scroll
	p.stroke(60, 410, 560, 410)
	p.find(`[data-strokes="4"]`)
	p.shot("projector")

	// A report, and the sheet that it is printed on.
	p = a.open(berths)
	p.keyIs("statistic", "t = −2.064")
	for _, at := range []string{"step/hypotheses", "table/groups", "formula/t", "figure/curve", "sentence/conclusion"} {
		p.clickAt(`[data-keep="` + at + `"]`)
		p.find(`[data-keep="` + at + `"][aria-pressed="true"]`)
	}
	p.click("The report: 5 things kept of this problem")
	p.click("Open the report")
	p.shows(`[data-part]:nth-child(5)`, "do not show")
	p.click("Write below part 1")
	p.fill("[data-part] textarea", "# What was measured\n\nThe harbour office timed 33 loadings; *t* = @{t} with @{df} degrees of freedom.")
	p.key(input.Escape)
	p.shows(`[data-part]:nth-child(2)`, "16.33")
	p.fill(`[aria-label="Title of the report"]`, "Two berths, one claim")
	p.key(input.Tab)
	p.shows(`[data-testid="saving"]`, "All of it is kept")
	p.clickAt(`[aria-label="Close"]`) // what was said last
	p.MustEval(`() => scrollTo(0, 0)`)
	p.shot("report")

	document := a.open("/api" + berths + "/paper?name=Maren+Holt&course=Statistics+I")
	document.find("figure svg")
	printed := document.print()
	page := strings.TrimSuffix(filepath.Join(t.TempDir(), "page.png"), ".png")
	out, err := exec.Command("pdftoppm", "-r", "80", "-f", "2", "-l", "2", "-singlefile", "-png", printed.file, page).CombinedOutput()
	require.NoError(t, err, string(out))
	picture, err := os.ReadFile(page + ".png")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(shots, "printed.png"), picture, 0o600))
}

// TestScreenshotsWithPeople takes those of where people sign in.
func TestScreenshotsWithPeople(t *testing.T) {
	a := newAppWithPeople(t)
	p := a.open("/sign-in")
	p.shows("main", "People of the demo")
	p.shot("sign-in")
	p.click("Ines Maro instructor")
	p.click("Do the two berths load at the same speed?")
	p.keyIs("statistic", "t = −2.064")
	q := a.open(p.sharesHere(a, "problem"))
	q.click("pooled")
	q.keyIs("statistic", "t = −2.230")
	q.shot("shared")

	// A class: the page of its set, the set, and what it was asked.
	require.NoError(t, p.Navigate(a.url+"/classes"))
	p.click("Harbour statistics")
	p.click("Week 3: means, pairs and counts")
	p.shows(`[aria-label="Who needs me"]`, "the same slip")
	set := strings.TrimSuffix(p.MustInfo().URL, "/class")
	p.shot("class")
	require.NoError(t, p.Navigate(set+"/edit"))
	p.shows(`[aria-label="Problems in their order"]`, "Does the ticket go")
	p.shot("set")
	require.NoError(t, p.Navigate(a.url))
	p.click("Do the two berths load at the same speed?")
	p.click("Ask the class")
	p.choose("What is asked", "Degrees of freedom")
	p.click("Ask Harbour statistics")
	for student, text := range map[string]string{"Odo Lind": "16.33", "Tamsin Reed": "31", "Jory Vane": "16.33", "Wen Halloway": "32"} {
		q := a.open("/sign-in")
		q.click(student + " student")
		q.shows("main", "Work a statistics problem")
		require.NoError(t, q.Navigate(a.url+"/classes"))
		q.typeInto("Degrees of freedom", text)
		q.click("Answer")
		q.shows(`[aria-label="What your instructor asks"]`, "It is in.")
	}
	p.shows(`[data-testid="poll-count"]`, "4 answers")
	p.click("Close and see the answers")
	p.click("Tell what is right")
	p.shows("dialog", "Right is")
	p.shot("ask")
}
