package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const password = "four piers in the harbour fog"

// typeInto fills the field of that label.
func (p *tab) typeInto(label, text string) { p.fill(p.label(label), text) }

// A guest works at once, keeps the work under a name, and finds it from another browser, where what was made as a guest
// comes along; each signs out, and nobody sees another's work.
func TestAGuestBecomesAMember(t *testing.T) {
	a := newAppWithPeople(t)
	p := a.open("/")
	p.shows("main", "Do the two berths load at the same speed?")
	p.shows("body", "What you make lives in this browser alone.")
	p.click("New problem")
	p.typeInto("Name of the problem", "A guest’s problem")
	p.shows(`[data-testid="saving"]`, "All of it is kept")
	p.click("Grund")
	p.shows("main", "A guest’s problem")
	p.accessible("the problems of a guest")
	p.click("Keep it under a name")
	p.typeInto("User name", "maren")
	p.typeInto("Password", "password123")
	p.key(input.Enter)
	p.shows(`[role="alert"]`, "among the first that are guessed")
	p.accessible("a password that is refused")
	p.typeInto("Password", password)
	p.key(input.Enter)
	p.shows("main", "A guest’s problem")
	p.resize(390, 800)
	p.fitsTheWidth("the problems of a member on a phone")
	p.click("Do the two berths load at the same speed?")
	p.shows("main", "Question")
	p.fitsTheWidth("a problem of a member on a phone")
	p.resize(1280, 800)
	p.click("maren: account")
	p.click("Account")
	p.shows("main", "Signs in as maren, member.")
	p.shows("main", "Chrome on")
	p.accessible("an account")
	p.theme("night")
	p.contrasts("an account by night")
	p.resize(390, 800)
	p.fitsTheWidth("an account on a phone")

	q := a.open("/")
	q.shows("main", "Do the two berths load at the same speed?")
	q.eventually("another guest to have nothing of hers", func() bool { return !q.MustHas(`a[href^="/problems/"]`) || q.text("main") != "" })
	assert.NotContains(t, q.text("main"), "A guest’s problem")
	q.click("New problem")
	q.typeInto("Name of the problem", "Made elsewhere")
	q.shows(`[data-testid="saving"]`, "All of it is kept")
	q.click("Guest: account")
	q.click("Sign in")
	q.typeInto("User name", "maren")
	q.typeInto("Password", "not this one, surely")
	q.key(input.Enter)
	q.shows(`[role="alert"]`, "do not belong together")
	q.accessible("signing in")
	q.resize(390, 800)
	q.fitsTheWidth("signing in on a phone")
	q.resize(1280, 800)
	q.typeInto("Password", password)
	q.key(input.Enter)
	q.shows("main", "A guest’s problem")
	q.shows("main", "Made elsewhere")
	q.click("maren: account")
	q.click("Sign out")
	q.shows("main", "Work without a name")
	require.NoError(t, q.Reload())
	q.shows("main", "Work without a name") // nobody is let in unasked who has signed out
	q.click("Ines Maro instructor")
	q.shows("header", "Ines Maro")
	q.shows("main", "Do the two berths load at the same speed?")
	assert.NotContains(t, q.text("main"), "Made elsewhere")
}

// A session that ends while somebody types loses nothing: they sign in over the page, and it is kept. Where somebody else
// signs in in another tab, nothing is written in their name.
func TestASessionEndsWhileTyping(t *testing.T) {
	a := newAppWithPeople(t)
	p := a.open("/")
	p.shows("main", "Do the two berths load at the same speed?")
	p.click("Keep it under a name")
	p.typeInto("User name", "jory")
	p.typeInto("Password", password)
	p.key(input.Enter)
	p.shows("header", "jory")
	p.click("New problem")
	p.typeInto("Name of the problem", "Before")
	p.shows(`[data-testid="saving"]`, "All of it is kept")

	cookies, err := p.Cookies(nil)
	require.NoError(t, err)
	require.NotEmpty(t, cookies)
	require.NoError(t, p.SetCookies(nil)) // as when it has expired
	p.typeInto("Name of the problem", "Typed while signed out")
	p.shows(`[data-testid="signed-out"]`, "Nothing on this page is lost")
	p.shows(`[data-testid="saving"]`, "You are signed out")
	p.accessible("signed out while typing")
	p.click("Sign in again")
	p.fill(`dialog input[type="password"]`, password)
	p.key(input.Enter)
	p.shows(`[data-testid="saving"]`, "All of it is kept")
	require.NoError(t, p.Reload())
	p.eventually("what was typed to be kept", func() bool {
		return p.find(p.label("Name of the problem")).MustProperty("value").Str() == "Typed while signed out"
	})

	other := a.openIn(p.Browser(), "/sign-in") // a tab of the same browser
	other.click("Odo Lind student")
	other.shows("header", "Odo Lind")
	_, err = p.Activate()
	require.NoError(t, err)
	p.typeInto("Name of the problem", "In whose name?")
	p.shows(`[data-testid="signed-out"]`, "Nothing on this page is lost")
	_, err = other.Activate()
	require.NoError(t, err)
	require.NoError(t, other.Reload())
	other.shows("main", "Do the two berths load at the same speed?")
	assert.NotContains(t, other.text("main"), "In whose name?")
}

// Whoever has the machine makes an administrator, who gives roles and makes a link for a forgotten password, which is good
// once.
func TestPeopleAreLookedAfter(t *testing.T) {
	a := newAppWithPeople(t)
	assert.Contains(t, a.grund("people", "make", "jory.vane", "administrator"), "jory.vane is now: administrator.")
	assert.Regexp(t, `jory.vane +administrator +Jory Vane`, a.grund("people", "list"))
	assert.Contains(t, a.grund("people", "password", "jory.vane"), "/link/")

	p := a.open("/sign-in")
	p.click("Jory Vane student")
	p.click("Jory Vane: account")
	p.click("People")
	p.shows("main", "25 accounts")
	p.click("How the tables became what they are")
	p.shows("main", "11. classes, ")
	p.accessible("people")
	p.choose("Role of odo.lind", "instructor")
	p.choose("Role of jory.vane", "member")
	p.shows("body", "make another one first")
	p.eventually("the last administrator to stay one", func() bool {
		return p.find(`[aria-label="Role of jory.vane"]`).MustProperty("value").Str() == "administrator"
	})
	p.fill(`input[aria-label="Look through the people"]`, "tamsin")
	p.click("Link for a new password")
	p.shows("main", "good once, for three days")
	address := p.MustEval(`() => [...document.querySelectorAll("main span")]
		.find((each) => each.textContent.includes("/link/")).textContent`).Str()
	p.resize(390, 800)
	p.fitsTheWidth("people on a phone")

	path := strings.TrimPrefix(address, a.url)
	q := a.open(path)
	q.shows("main", "For “tamsin.reed”")
	q.accessible("a one-time link")
	q.typeInto("New password", "short")
	q.key(input.Enter)
	q.shows(`[role="alert"]`, "password has 5 characters")
	q.typeInto("New password", password)
	q.key(input.Enter)
	q.shows("header", "Tamsin Reed")
	again := a.open(path)
	again.shows("main", "This link is good no more")
}

// Through a school's own provider somebody signs in with one click and their name there; what they made as a guest comes along.
// Where the provider does not know them, or the person turns back, the other ways in stay open.
func TestSigningInThroughTheSchool(t *testing.T) {
	a := newAppWithPeople(t)
	p := a.open("/")
	p.click("New problem")
	p.typeInto("Name of the problem", "Made before")
	p.shows(`[data-testid="saving"]`, "All of it is kept")
	p.click("Guest: account")
	p.click("Sign in")
	p.click("Sign in through the Kelpwick harbour school")
	p.shows("body", "This stands in for a school’s own sign-in.")
	p.accessible("the stand-in for a school's sign-in")
	p.click("Maren Holt")
	p.shows("header", "Maren Holt")
	p.shows("main", "Made before")
	p.shows("main", "Do the two berths load at the same speed?")
	p.click("Maren Holt: account")
	p.click("Account")
	p.shows("main", "Signs in as maren.holt, member.")

	q := a.open("/api/provider/return?error=access_denied")
	q.shows(`[role="alert"]`, "Signing in through the Kelpwick harbour school did not go well.")
	q.accessible("a sign-in that did not go well")
	q.click("Work without a name")
	q.shows("header", "Guest")
}
