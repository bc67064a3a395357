package e2e

import (
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const pasted = "berth\tminutes\nMole\t12.1\nQuarry\t13.4\nMole\t11.8\nQuarry\t12,9o\nMole\t12.6\nQuarry\t13.1\n"

func TestMakeAProblem(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.shows(`[aria-label="State of the problem"]`, "there are no data yet")
	p.fill(p.label("Name of the problem"), "Six loadings")
	p.fill(p.label("The question, as the textbook puts it"), "Is the *Mole* quicker?")
	p.pasteBlock("0/0", pasted)
	p.shows(`[aria-label="State of the problem"]`, "“12,9o” is not a number")
	p.shows(`[role="alert"]`, "Row 4 of “minutes”: “12,9o” is not a number")
	wrong, err := p.find(`[data-cell="3/1"]`).Attribute("aria-invalid")
	require.NoError(t, err)
	assert.Equal(t, "true", *wrong, "the cell itself is marked")
	p.cell("3/1", "12.9")
	p.shows(`[aria-label="State of the problem"]`, "no variable is given for “Response”")
	p.choose("Response: the variable that was measured", "minutes (number)")
	p.choose("Group: the category that tells the two groups apart", "berth (category)")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	// Undo and redo, by name.
	p.fill(p.label("Alpha, chosen before looking"), "0.05o")
	p.shows(`[aria-label="State of the problem"]`, "is not a number")
	p.click("Undo")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")

	p.click("Work the problem")
	// 36.5/3 − 39.4/3 = −2.9/3
	p.keyIs("look", "12.167, 13.133")
}

func TestAProblemOutlivesTheServer(t *testing.T) {
	a := newAppAlone(t)
	p := a.open("/")
	p.click("New problem")
	p.fill(p.label("Name of the problem"), "From a summary")
	p.click("Only n, mean and sd")
	p.fill(p.label("What was measured"), "Loading time")
	p.fill(p.label("Its unit"), "min")
	for cell, text := range map[string]string{
		"0/0": "Mole", "0/1": "18", "0/2": "12.38", "0/3": "0.67",
		"1/0": "Quarry", "1/1": "15", "1/2": "13.57", "1/3": "2.13",
	} {
		p.fill(`[data-summary="`+cell+`"]`, text)
	}
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	// While the server is away, what is typed stays, and is sent when it is back.
	a.stop()
	p.fill(p.label("Name of the problem"), "From a summary, and on")
	p.shows(`[data-testid="saving"]`, "What you typed stays here")
	a.start()
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	again := a.open("/")
	again.click("From a summary, and on")
	again.keyIs("look", "12.38, 13.57 min")
	again.keyIs("data", "n = 18, 15")
}

func TestOneColumnAGroup(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.click("A column a group")
	p.pasteBlock("0/0", "Mole\tQuarry\n12.1\t13.4\n11.8\t12.9\n12.6\t\n")
	p.fill(p.label("What was measured"), "Loading time")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.keyIs("data", "n = 3, 2")
}

func TestTwoTabsLoseNothing(t *testing.T) {
	a := newApp(t)
	path := "/problems/" + a.demoID() + "/edit"
	one, two := a.open(path), a.open(path)
	one.fill(one.label("Name of the problem"), "Changed in the first tab")
	one.shows(`[data-testid="saving"]`, "All of it is kept")
	two.fill(two.label("The question, as the textbook puts it"), "Changed in the second tab")
	two.shows(`[data-testid="saving"]`, "changed elsewhere")
	value := func(p *tab, label string) string {
		text, err := p.find(p.label(label)).Property("value")
		require.NoError(t, err)
		return text.Str()
	}
	assert.Equal(t, "Changed in the second tab", value(two, "The question, as the textbook puts it"), "what was typed is still there")
	two.click("Show the other version")
	two.eventually("the other version", func() bool { return value(two, "Name of the problem") == "Changed in the first tab" })
	two.click("Undo")
	two.eventually("one's own text by undo", func() bool {
		return value(two, "The question, as the textbook puts it") == "Changed in the second tab"
	})
	two.shows(`[data-testid="saving"]`, "All of it is kept")

	one.fill(one.label("Name of the problem"), "Kept against the other")
	one.shows(`[data-testid="saving"]`, "changed elsewhere")
	one.click("Keep what I typed here")
	one.shows(`[data-testid="saving"]`, "All of it is kept")
}

func TestTwoTabsOfOneSolution(t *testing.T) {
	a := newApp(t)
	path := "/problems/" + a.demoID()
	one, two := a.open(path), a.open(path)
	one.keyIs("statistic", "t = −2.064")
	two.keyIs("statistic", "t = −2.064")
	one.click("pooled")
	one.keyIs("statistic", "t = −2.230")
	a.keeps(one, `"variances":"equal"`)
	two.click("0.10")
	two.shows(`[role="alert"]`, "changed elsewhere")
	two.keyIs("critical-value", "±2.116") // no solution is shown of what is not kept
	two.click("Keep what I chose here")
	two.keyIs("statistic", "t = −2.230")
	two.keyIs("critical-value", "±1.696")
}

// keeps waits until the demo problem as it is kept holds the text.
func (a *app) keeps(p *tab, text string) {
	a.t.Helper()
	p.eventually(text+" to be kept", func() bool {
		response, err := http.Get(a.url + "/api/problems/" + a.demoID())
		if err != nil {
			return false
		}
		defer response.Body.Close()
		body, _ := io.ReadAll(response.Body)
		return strings.Contains(string(body), text)
	})
}

func TestExportAndImport(t *testing.T) {
	a := newApp(t)
	response, err := http.Get(a.url + "/api/problems/" + a.demoID() + "/file")
	require.NoError(t, err)
	defer response.Body.Close()
	assert.Contains(t, response.Header.Get("Content-Disposition"), `filename="Do the two berths load at the same speed.json"`)
	file := filepath.Join(t.TempDir(), "problem.json")
	body, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(file, body, 0o644))

	p := a.open("/")
	require.NoError(t, p.find(`input[type="file"]`).SetFiles([]string{file}))
	p.keyIs("statistic", "t = −2.064")
	p.keyIs("p-value", "p = 0.0553")

	broken := filepath.Join(t.TempDir(), "broken.json")
	require.NoError(t, os.WriteFile(broken, []byte(`{"grund": 1, "alhpa": 0.05}`), 0o644))
	p = a.open("/")
	require.NoError(t, p.find(`input[type="file"]`).SetFiles([]string{broken}))
	p.shows(`[role="alert"]`, "did you mean “alpha”?")
}

func TestDuplicateAndDelete(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	const title = "Do the two berths load at the same speed?"
	p.click("Duplicate “" + title + "”")
	p.shows("main", title+" (copy)")
	p.click("Delete “" + title + " (copy)”")
	p.shows("main", "None is your own yet")
	p.click("Undo")
	p.shows("main", title+" (copy)")
	p.click(title + " (copy)")
	p.keyIs("statistic", "t = −2.064")
}

func TestTheGridByKeyboard(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.goTo("0/0")
	require.NoError(t, p.Keyboard.Type('a', input.Enter, 'b', input.ArrowRight, '5', input.ArrowUp, '4'))
	for cell, want := range map[string]string{"0/0": "a", "1/0": "b", "1/1": "5", "0/1": "4"} {
		p.cellIs(cell, want)
	}
}

// A case that stands out is left out beside the present solution, and put back.
func TestLeaveACaseOut(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.click("A column a group")
	p.pasteBlock("0/0", "Mole\tQuarry\n1\t1\n2\t2\n3\t3\n4\t4\n5\t5\n6\t6\n7\t30\n")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.shows(`[data-step="conditions"]`, "Stands far out: case 14 (30, Quarry)")
	p.click("Leave case 14 out and compare")
	p.shows(`[data-testid="comparison"]`, "n = 7, 7 n = 7, 6")
	p.click("Take the other one")
	p.keyIs("data", "n = 7, 6")
	p.shows(`[aria-label="The problem"]`, "1 left out")
	p.shows(`[data-step="data"]`, "case 14 (stands out from its group)")
	p.click("Put them back in")
	p.keyIs("data", "n = 7, 7")
}

func TestSetADemoProblemBack(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID())
	p.click("pooled")
	p.keyIs("statistic", "t = −2.230")
	p.key('h') // at once: what was chosen is kept all the same
	a.keeps(p, `"variances":"equal"`)
	p.click("Set “Do the two berths load at the same speed?” back")
	p.shows("body", "is as it was at first")
	p.click("Do the two berths load at the same speed?")
	p.keyIs("statistic", "t = −2.064")
}

func TestOpenADataFile(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.cell("0/0", "typed before")
	file := filepath.Join(t.TempDir(), "berths.csv")
	require.NoError(t, os.WriteFile(file, []byte("berth;minutes\nM\xf4le;12,1\nQuarry;13,4\nM\xf4le;11,8\nQuarry;12,9\n"), 0o644))
	require.NoError(t, p.find(`input[aria-label="Data file"]`).SetFiles([]string{file}))
	p.shows("dialog", "4 rows of 2 columns, named by the first row")
	p.click("Put it in place of the table")
	p.cellIs("0/0", "Môle")
	p.cellIs("3/1", "12,9")
	p.click("Undo")
	p.cellIs("0/0", "typed before")

	wrong := filepath.Join(t.TempDir(), "wrong.xlsx")
	require.NoError(t, os.WriteFile(wrong, []byte("PK\x03\x04 nothing"), 0o644))
	require.NoError(t, p.find(`input[aria-label="Data file"]`).SetFiles([]string{wrong}))
	p.shows(`dialog [role="alert"]`, "The file is a damaged zip archive")
	p.click("Cancel")
	p.cellIs("0/0", "typed before")
}

// What was typed in one form of entry is there when that form is chosen again, in
// another visit too.
func TestAnotherFormOfEntryLosesNothing(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID() + "/edit")
	p.click("Only n, mean and sd")
	p.fill(`[data-summary="0/1"]`, "18")
	p.shows(`[data-testid="saving"]`, "All of it is kept")
	p = a.open("/problems/" + a.demoID() + "/edit")
	p.click("From a table")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Only n, mean and sd")
	text, err := p.find(`[data-summary="0/1"]`).Property("value")
	require.NoError(t, err)
	assert.Equal(t, "18", text.Str())
}

// What is asked is found by the names that textbooks have; what does not fit the data says why.
func TestWhatIsAsked(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.choose("Data set", dataTitle(t, "whales"))
	p.clickAt(p.label("What is asked"))
	p.shows("dialog", "Ranks: whatever the shape")
	p.shows("dialog", "It needs two numbers, and the data have one number.")
	p.fill(p.label("Find what is asked"), "welch")
	p.shows("dialog", "Several means")
	assert.NotContains(t, p.text("dialog"), "A straight line")
	p.fill(p.label("Find what is asked"), "no such test")
	p.shows("dialog", "Nothing is called “no such test” here")
	p.fill(p.label("Find what is asked"), "goodness of fit")
	p.accessible("what is asked")
	p.clickOn("the fit", `() => [...document.querySelectorAll("dialog button")].find((each) => each.textContent.startsWith("May a variable"))`)
	p.shows("form", "A distribution fitted")
}

// The numbers of a textbook's question are put where they belong with a click each, and marked; nothing is taken
// by itself.
func TestNumbersOfAQuestion(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.ask("Do two groups have the same mean?")
	p.fill(p.label("The question, as the textbook puts it"), "At the Mole 18 loadings took 12,38 min on average (sd 0.67), at the Quarry "+
		"15 took 13.57 min (sd 2.13). Is there a difference at α = 1 %?")
	p.click("The 7 numbers in it")
	for _, one := range [][2]string{
		{"18", "n of group 1"}, {"12,38", "mean of group 1"}, {"0.67", "sd of group 1"},
		{"15", "n of group 2"}, {"13.57", "mean of group 2"}, {"2.13", "sd of group 2"},
	} {
		p.click(one[0])
		p.choose(strings.ReplaceAll(one[0], "−", "-")+" is", one[1])
		p.shows("form", one[0]+one[1])
	}
	p.click("1 %")
	p.choose("1 % is", "α (now 0.05)")
	p.shows("form", "1 %α")
	p.accessible("numbers of a question")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.keyIs("statistic", "t = −2.080")
	p.keyIs("question", "α = 0.01")
}
