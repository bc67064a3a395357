package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A class from its first day to its marks: an instructor makes it and a set of two problems with other numbers; two students join,
// one with a list from the roster and one by the code without an account; they work, and the instructor sees it as it happens,
// writes a word, sets a mark, and takes the marks along.
func TestAClassFromEndToEnd(t *testing.T) {
	a := newAppWithPeople(t)
	ines := a.open("/sign-in")
	ines.click("Ines Maro instructor")
	ines.click("Classes")
	ines.shows("main", "Harbour statistics")
	ines.accessible("the classes")
	ines.typeInto("Its name", "Evening class")
	ines.click("Make it")
	ines.shows("main", "Nothing is handed out yet.")
	code := ines.text(`[data-testid="class-code"]`)
	require.Len(t, code, 8)

	// The roster from a list, with what is wrong in it.
	ines.click("Add people")
	ines.fill(ines.label("Names and user names"), "Maren Holt, maren.holt\nEdda Quill, maren.holt\n")
	ines.click("See how it is read")
	ines.shows("dialog", "stands there twice")
	ines.accessible("a list of people with a mistake")
	ines.fill(ines.label("Names and user names"), "Maren Holt, maren.holt\n")
	ines.click("See how it is read")
	ines.click("Add 1 person")
	ines.shows(`[data-testid="links"]`, "/link/")
	link := ines.text(`[data-testid="links"]`)
	link = link[strings.Index(link, "/link/"):]
	ines.click("Close")

	// The set.
	ines.click("New set")
	ines.fill(ines.label("Title of the set"), "First evening")
	ines.click("Add problems")
	for _, problem := range []string{"Does the overhauled engine keep its maker’s promise?", "Do the two berths load at the same speed?"} {
		ines.clickOn(problem,
			`(title) => [...document.querySelectorAll("dialog label")].find((e) => e.innerText.includes(title))?.querySelector("input")`,
			problem)
	}
	ines.click("Add 2 problems")
	ines.shows("main", "2 problems")
	ines.clickOn("other numbers",
		`() => [...document.querySelectorAll("label")].find((e) => e.innerText.includes("Other numbers"))?.querySelector("input")`)
	ines.choose("Tries at each answer", "2")
	ines.shows(`[data-testid="saving"]`, "All of it is kept")
	ines.accessible("a set that is made")
	ines.theme("night")
	ines.contrasts("a set by night")
	ines.theme("day")
	ines.movesUp("Move problem 2", "It would be problem 2.", "It would be problem 1.")
	ines.eventually("the berths to come first", func() bool {
		return strings.HasPrefix(ines.text(`[aria-label="Problems in their order"]`), "1 Do the two berths")
	})
	ines.shows(`[data-testid="saving"]`, "All of it is kept")
	ines.click("Check everybody’s numbers")
	ines.shows("dialog", "Maren Holt")
	ines.accessible("everybody's numbers")
	ines.click("Close")
	set := strings.TrimSuffix(strings.TrimPrefix(ines.MustInfo().URL, a.url), "/edit")

	// One sets a password by the link, the other joins by the code on a phone, without an account.
	maren := a.open(link)
	maren.typeInto("New password", password)
	maren.key(input.Enter)
	maren.shows("header", "Maren Holt")
	maren.click("Classes")
	maren.click("First evening")
	maren.shows("main", "not begun")
	guest := a.open("/classes?join=" + strings.ToLower(code))
	guest.resize(390, 800)
	guest.typeInto("Your name, as the instructor knows you", "Sam Field")
	guest.click("Join")
	guest.click("First evening")
	guest.fitsTheWidth("a set on a phone")
	guest.accessible("a set")
	guest.click("Do the two berths load at the same speed?")
	guest.click("It is H₀.")
	guest.shows(`[aria-label="Your work"]`, "Right.")
	guest.fitsTheWidth("a problem of a set on a phone")

	// The instructor watches.
	ines.click("The class")
	ines.shows("main", "0 of 2 handed in")
	cell := func(name, step string) func() bool {
		return func() bool {
			found, err := ines.Eval(`(name, step) => {
				const heads = [...document.querySelectorAll('[role="columnheader"]')].map((e) => e.innerText);
				const row = [...document.querySelectorAll('[role="row"]')].find((e) => e.querySelector('[role="rowheader"]')?.innerText.includes(name));
				return row?.querySelectorAll('[role="cell"]')[heads.findIndex((each) => each.startsWith(step)) - 1]?.dataset.mark ?? "";
			}`, name, step)
			return err == nil && found.Value.Str() == "right"
		}
	}
	ines.eventually("the guest's first step", cell("Sam Field", "Question"))
	ines.accessible("the page of the class")
	ines.theme("night")
	ines.contrasts("the page of the class by night")
	ines.theme("day")
	maren.click("Do the two berths load at the same speed?")
	maren.click("It is H₀.")
	maren.shows(`[aria-label="Your work"]`, "Right.")
	ines.eventually("Maren's first step, without a reload", cell("Maren Holt", "Question"))
	maren.answers("n_1", "7", "Not it")
	maren.shows("main", "1 try left.")
	maren.answers("n_1", "18", "Right")
	maren.accessible("a problem of a set that is worked")

	// A word and a mark.
	ines.click("Maren Holt")
	ines.shows("main", "Do the two berths")
	ines.clickAt(`[data-remark="n_1"] button`)
	ines.typeInto("A word for the student", "Count the rows again.")
	ines.typeInto("Points by hand", "0.5")
	ines.click("Keep it")
	ines.shows(`[data-remark="n_1"]`, "0.5 of 1, set by hand")
	ines.click("Answer by answer")
	ines.shows("dialog", "not it")
	ines.accessible("an attempt, answer by answer")
	ines.click("Close")
	require.NoError(t, maren.Reload())
	maren.shows(`[data-remark="n_1"]`, "Count the rows again.")

	// Handing in, and the marks.
	maren.click("First evening")
	maren.shows("main", "1 word from your instructor")
	maren.click("Hand in")
	maren.shows(`[data-testid="handed-in"]`, "Handed in")
	maren.click("Take it back")
	maren.click("Hand in")
	maren.shows(`[data-testid="handed-in"]`, "Handed in")
	require.NoError(t, ines.Navigate(a.url+set+"/class?view=marks"))
	ines.shows(`[aria-label="Marks"]`, "Maren Holt")
	ines.shows(`[aria-label="Marks"]`, "1.5*")
	ines.accessible("marks")
	csv := ines.MustEval(`async (at) => (await fetch(at)).text()`, "/api"+set+"/marks?format=csv").Str()
	assert.Regexp(t, `(?m)^Maren Holt,.*,1\.5,`, csv)
	assert.Equal(t, csv, a.grund("set", "marks", set, "--as", "ines.maro"), "the same on the command line")

	// Nobody else sees any of it.
	odo := a.open("/sign-in")
	odo.click("Odo Lind student")
	odo.shows("header", "Odo Lind")
	require.NoError(t, odo.Navigate(a.url+set+"/class"))
	odo.shows("main", "There is nothing under this address.")
	require.NoError(t, odo.Navigate(a.url+"/classes"))
	odo.shows("main", "Week 3: means, pairs and counts")
	assert.NotContains(t, odo.text("main"), "Evening class")
}

// The demo's class has something to show: who is where, what goes wrong, and the marks.
func TestTheDemosClass(t *testing.T) {
	a := newAppWithPeople(t)
	p := a.open("/sign-in")
	p.click("Ines Maro instructor")
	p.click("Classes")
	p.click("Harbour statistics")
	p.shows("main", "Week 4: several means")
	p.accessible("a class")
	p.click("Week 3: means, pairs and counts")
	p.shows("main", "of 24 handed in")
	p.shows(`[aria-label="Who needs me"]`, "the same slip 3 times")
	p.click("What goes wrong")
	p.shows(`[aria-label="Slips"]`, " of 2")
	p.click("Who they are")
	p.accessible("what goes wrong")
	p.click("Marks")
	p.shows(`[aria-label="Marks"]`, "points of 87")
	p.click("1. Does the overhauled engine keep its maker’s promise?")
	p.shows(`[aria-label="Marks"] thead`, "Degrees of freedom")
	p.accessible("marks, ask by ask")
	pages, err := p.button("Odo Lind").Attribute("href")
	require.NoError(t, err)
	p.click("points of 87")
	p.eventually("the best first", func() bool {
		return p.find(`[aria-label="Marks"] th[aria-sort="descending"]`) != nil
	})
	p.resize(390, 800)
	p.fitsTheWidth("marks on a phone")

	// What is changed is for whoever begins after, until the instructor has all judged again.
	p.resize(1280, 800)
	require.NoError(t, p.Navigate(strings.Replace(p.MustInfo().URL, "/class?view=marks", "/edit", 1)))
	p.choose("Tries at each answer", "3")
	p.shows(`[data-testid="begun"]`, "72 attempts were begun before you changed something.")
	p.click("Judge all by what is handed out now")
	p.shows("body", "72 attempts are judged again: no answer has another verdict.")
	p.accessible("a set that was begun")

	// The page of marks that is given back.
	require.NoError(t, p.Navigate(a.url+*pages))
	require.NoError(t, p.WaitLoad())
	printed := p.print()
	printed.fontsEmbedded("marks")
	printed.withinMargins("marks", unprintable)
	assert.Contains(t, printed.pages()[0], "Odo Lind")
	assert.Contains(t, printed.pages()[0], "of 87 points")
}

// Two at one set, in browsers of their own: who is second is shown both versions, and nothing of either is lost.
func TestTwoAtOneSet(t *testing.T) {
	a := newAppWithPeople(t)
	first := a.open("/sign-in")
	first.click("Ines Maro instructor")
	first.click("Classes")
	first.click("Harbour statistics")
	first.click("New set")
	first.fill(first.label("Title of the set"), "Week 5")
	first.shows(`[data-testid="saving"]`, "All of it is kept")
	second := a.open("/sign-in")
	second.click("Ines Maro instructor")
	second.shows("main", "Work a statistics problem")
	require.NoError(t, second.Navigate(first.MustInfo().URL))
	second.shows(`[data-testid="saving"]`, "All of it is kept")
	first.choose("Tries at each answer", "2")
	first.shows(`[data-testid="saving"]`, "All of it is kept")
	second.fill(second.label("Title of the set"), "Week 5: spreads")
	second.shows(`[data-testid="saving"]`, "This set was changed elsewhere.")
	second.accessible("a set that was changed elsewhere")
	second.click("Show the other version")
	second.shows(`[data-testid="saving"]`, "All of it is kept")
	title := func() string {
		text, err := second.find(second.label("Title of the set")).Property("value")
		require.NoError(t, err)
		return text.Str()
	}
	second.eventually("the other version", func() bool { return title() == "Week 5" })
	second.click("Undo")
	second.eventually("what was typed to come back", func() bool { return title() == "Week 5: spreads" })

	// A copy goes into any class that one teaches.
	require.NoError(t, first.Navigate(a.url+"/classes"))
	first.typeInto("Its name", "Evening class")
	first.click("Make it")
	first.shows("main", "Nothing is handed out yet.")
	require.NoError(t, first.Navigate(second.MustInfo().URL))
	first.click("Make a copy")
	first.choose("Into which class", "Evening class")
	first.accessible("a set to be copied")
	first.click("Copy")
	first.shows("main", "Evening class")
	first.shows(`[data-testid="saving"]`, "All of it is kept")
}
