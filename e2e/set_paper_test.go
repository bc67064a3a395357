package e2e

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A set is printed to be worked by hand: copies with codes and room to write, nothing cut off, and behind them the keys under the
// same codes.
func TestASetOnPaper(t *testing.T) {
	a := newAppWithPeople(t)
	p := a.open("/sign-in")
	p.click("Ines Maro instructor")
	p.click("Classes")
	p.click("Harbour statistics")
	p.clickOn("the set of week 3",
		`() => [...document.querySelectorAll("main li")].find((e) => e.innerText.includes("Week 3"))?.querySelector('a[href$="/edit"]')`)
	p.click("On paper")
	p.shows("dialog", "The keys come behind")
	p.typeInto("Copies", "99")
	p.shows("dialog", "from 1 to 60")
	p.typeInto("Copies", "2")
	p.choose("Sheets", "A4")
	p.accessible("a set to be printed")
	p.click("The right answers of everybody on the roster")
	p.shows(`[aria-label="Does the overhauled engine keep its maker’s promise?"]`, "Alda Brook")
	p.shows("main", "Degrees of freedom")
	p.accessible("the right answers of everybody")
	p.resize(390, 800)
	p.fitsTheWidth("the right answers of everybody")
	p.resize(1280, 800)
	p.click("Alda Brook")
	p.shows("main", "One-sample t test")
	require.NoError(t, p.NavigateBack())
	p.click("Back to the set")
	p.click("On paper")
	p.typeInto("Copies", "2")
	at, err := p.find(`dialog a[href*="/paper"]`).Attribute("href")
	require.NoError(t, err)
	require.NotNil(t, at)
	require.NoError(t, p.Navigate(a.url+*at))
	require.NoError(t, p.WaitLoad())
	printed := p.print()
	printed.fontsEmbedded("a set")
	printed.withinMargins("a set", unprintable)
	pages := printed.pages()
	first := -1
	for i, page := range pages {
		if strings.Contains(page, ": keys") {
			first = i
		}
	}
	require.Positive(t, first, "a page of keys")
	codes := map[string]int{}
	for _, page := range pages[first:] {
		for _, code := range regexp.MustCompile(`Sheet (\d-[A-Z]{3})`).FindAllStringSubmatch(page, -1) {
			codes[code[1]]++
		}
	}
	require.Len(t, codes, 2)
	worked := strings.Join(pages[:first], "\n")
	for code := range codes {
		assert.Equal(t, 5, strings.Count(worked, code), "at the head of %s, and at each of its problems", code)
	}
	assert.Equal(t, 2, strings.Count(worked, "After the overhaul of the Dunlin"))
	assert.Contains(t, worked, "The cases used")
	for _, page := range pages[:first] {
		assert.NotContains(t, page, "At α = 0.05 the data (16 cases)", "the sentence that answers it is a key")
	}
	assert.Contains(t, strings.Join(pages[first:], "\n"), "Degrees of freedom")
}
