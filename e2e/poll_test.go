package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An instructor asks the class a step of the problem that is projected; students answer on their phones; the answers pile up without
// names, and what is right is told when the instructor says so, to everybody at once.
func TestAskTheClass(t *testing.T) {
	a := newAppWithPeople(t)
	phone := func(name string) *tab {
		p := a.open("/sign-in")
		p.resize(390, 800)
		p.click(name + " student")
		p.shows("main", "Work a statistics problem")
		require.NoError(t, p.Navigate(a.url+"/classes"))
		p.shows("main", "Harbour statistics")
		return p
	}
	odo, tamsin := phone("Odo Lind"), phone("Tamsin Reed")
	tamsin.click("Harbour statistics") // Odo stays where all classes are
	tamsin.shows("main", "Week 3: means")
	assert.NotContains(t, odo.text("main"), "Degrees of freedom")

	ines := a.open("/sign-in")
	ines.click("Ines Maro instructor")
	ines.click("Does the overhauled engine keep its maker’s promise?")
	ines.click("Ask the class")
	ines.choose("What is asked", "Degrees of freedom")
	ines.accessible("what the class is to be asked")
	ines.click("Ask Harbour statistics")
	ines.shows(`[data-testid="poll-count"]`, "0 answers")
	ines.accessible("the class is asked")

	for _, student := range []*tab{odo, tamsin} {
		student.shows(`[aria-label="What your instructor asks"]`, "Degrees of freedom")
	}
	odo.accessible("a question to the class on a phone")
	odo.fitsTheWidth("a question to the class on a phone")
	odo.typeInto("Degrees of freedom", "twelve hundred")
	odo.click("Answer")
	odo.shows(`[aria-label="What your instructor asks"] [role="alert"]`, "number")
	odo.typeInto("Degrees of freedom", "15")
	odo.click("Answer")
	odo.shows(`[aria-label="What your instructor asks"]`, "It is in.")
	ines.shows(`[data-testid="poll-count"]`, "1 answer")
	tamsin.typeInto("Degrees of freedom", "16")
	tamsin.click("Answer")
	ines.shows(`[data-testid="poll-count"]`, "2 answers")
	assert.Empty(t, ines.text(`dialog [aria-label="Answers"]`), "how they answered, before it is closed")

	ines.click("Close and see the answers")
	ines.shows(`dialog [aria-label="Answers"]`, "16")
	ines.shows(`dialog [aria-label="Answers"]`, "15")
	assert.NotContains(t, ines.text(`dialog [aria-label="Answers"]`), "right", "before it is told")
	ines.accessible("the answers of a class")
	ines.theme("night")
	ines.contrasts("the answers of a class by night")
	odo.shows(`[aria-label="What your instructor asks"]`, "what is right is told in a moment")
	assert.NotContains(t, odo.text(`[aria-label="What your instructor asks"]`), "Right is")

	ines.click("Tell what is right")
	ines.shows("dialog", "Right is 15")
	ines.shows(`dialog [aria-label="Answers"]`, "That is n: one or more are taken off.")
	for _, student := range []*tab{odo, tamsin} {
		student.shows(`[aria-label="What your instructor asks"]`, "Right is")
	}
	odo.shows(`[aria-label="What your instructor asks"]`, "You answered 15")
	odo.accessible("what is right, on a phone")
	odo.fitsTheWidth("what is right, on a phone")
}
