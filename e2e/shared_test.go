package e2e

import (
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// sharesHere makes the link to what the page shows, and returns where it leads.
func (p *tab) sharesHere(a *app, what string) (path string) {
	p.t.Helper()
	p.click("Share the " + what)
	p.click("Make a link")
	address := p.find(p.label("The link")).MustProperty("value").Str()
	require.True(p.t, strings.HasPrefix(address, a.url+"/shared/"), address)
	return strings.TrimPrefix(address, a.url)
}

// switches takes a choice of a control beside the curve.
func (p *tab) switches(choice string) {
	p.t.Helper()
	p.clickOn("the choice “"+choice+"”",
		`(choice) => [...document.querySelectorAll("button.moves")].find((e) => e.innerText.trim() === choice)`, choice)
}

// A problem is shared by a link: somebody who has no name reads it, changes what is only theirs to see, works it, and takes a
// copy. What the owner changes is seen; once the link is taken back it leads nowhere, and the copy stays.
func TestAProblemIsShared(t *testing.T) {
	a := newAppWithPeople(t)
	ines := a.open("/sign-in")
	ines.click("Ines Maro instructor")
	ines.click("Do the two berths load at the same speed?")
	ines.keyIs("statistic", "t = −2.064")
	path := ines.sharesHere(a, "problem")
	ines.accessible("sharing a problem")
	ines.click("Close")

	p := a.open(path)
	p.keyIs("statistic", "t = −2.064")
	p.shows("body", "Shared with you by a link.")
	assert.NotContains(t, p.text("body"), "Ines Maro")
	assert.NotContains(t, p.text("header"), "Guest", "nobody is made somebody by reading")
	p.accessible("a shared problem")
	p.theme("night")
	p.contrasts("a shared problem by night")
	p.resize(390, 800)
	p.fitsTheWidth("a shared problem on a phone")
	p.resize(1280, 800)
	p.click("pooled")
	p.keyIs("statistic", "t = −2.230")
	p.switches("0.10")
	p.keyIs("critical-value", "±1.696")
	p.key('u')
	p.keyIs("critical-value", "±2.040")
	assert.NotContains(t, p.text("main"), "Add a note")
	ines.keyIs("statistic", "t = −2.064")

	// The owner changes the problem while somebody looks at it in another way.
	ines.switches("0.10")
	ines.keyIs("critical-value", "±1.744")
	p.switches("Quarry − Mole")
	p.shows(`[role="alert"]`, "changed by its owner")
	p.click("Show the other version")
	p.keyIs("statistic", "t = −2.064")
	p.keyIs("critical-value", "±1.744")

	p.click("Try")
	p.click("It is H₀.")
	p.answers("n_1", "18", "Right")
	p.answers("n_2", "33", "Not")
	require.NoError(t, p.Reload())
	p.shows(says("n_1"), "Right")
	p.click("Undo")
	p.eventually("the last answer to be taken back", func() bool {
		return p.find(field("n_2")).MustProperty("value").Str() == ""
	})
	p.accessible("a shared problem that is worked")

	p.click("Copy to mine")
	p.shows("body", "This copy is yours.")
	p.keyIs("statistic", "t = −2.064")
	p.shows("header", "Guest")
	copied := p.MustInfo().URL
	assert.NotContains(t, copied, "/shared/")

	ines.click("Share the problem")
	ines.click("Take the link back")
	ines.shows("body", "The link is taken back")
	q := a.open(path)
	q.shows("main", "This link leads nowhere.")
	q.accessible("a link that was taken back")
	require.NoError(t, p.Reload())
	p.keyIs("statistic", "t = −2.064")
}

// A data set is read and looked at by a link, and changed by nobody there.
func TestADataSetIsShared(t *testing.T) {
	a := newAppWithPeople(t)
	ines := a.open("/sign-in")
	ines.click("Ines Maro instructor")
	ines.click("Data")
	ines.click("Gaps between passengers")
	ines.cellIs("0/0", "5")
	path := ines.sharesHere(a, "data set")

	p := a.open(path)
	p.cellIs("0/0", "5")
	p.goTo("0/0")
	p.key('9')
	p.cellIs("0/0", "5")
	p.clickAt(`[data-column="gap"] button`)
	p.shows(`[data-testid="first"]`, "39.55")
	p.accessible("a shared data set")
	p.theme("night")
	p.contrasts("a shared data set by night")
	p.resize(390, 800)
	p.fitsTheWidth("a shared data set on a phone")
	p.resize(1280, 800)
	p.click("Copy to mine")
	p.shows("body", "This copy is yours.")
	p.cell("0/0", "9")
	p.kept()
	ines.click("Close")
	ines.click("Data")
	ines.shows("main", "shared by a link")
	ines.click("Gaps between passengers")
	ines.cellIs("0/0", "5")
}

// badText is what must never be more than text, wherever others read it.
const badText = `<img src=x onerror="window.ran=1"><script>window.ran=2</script> [a](javascript:window.ran=3) ` +
	`![b](https://elsewhere.example/c.png) $\href{javascript:window.ran=4}{d}\htmlStyle{color:red}{e}` +
	`\includegraphics{https://elsewhere.example/f.png}$ <svg onload="window.ran=5"/>`

// Nothing that somebody wrote does anything on the page of another: no text of a problem or of its data, in whatever mode it is
// read, and no name.
func TestWhatOthersWroteIsText(t *testing.T) {
	a := newAppWithPeople(t)
	ines := a.open("/sign-in")
	ines.click("Ines Maro instructor")
	ines.shows("header", "Ines Maro")
	file := map[string]any{
		"grund": 1, "procedure": "t-two-sample", "title": badText, "question": badText,
		"claim": map[string]any{"text": badText, "population": badText, "says": "different"},
		"roles": map[string]any{"response": badText[:40], "group": "g"}, "notes": []any{
			map[string]any{"at": "step/question", "text": badText}, map[string]any{"at": "number/t", "text": badText}},
		"data": map[string]any{"variables": []any{
			map[string]any{"name": "g", "label": badText, "kind": "category", "values": []any{badText, badText, badText, "b", "b", "b"}},
			map[string]any{"name": badText[:40], "label": badText, "unit": badText[:30], "kind": "number", "values": []any{1, 2, 4, 3, 5, 9}},
		}},
	}
	text, err := json.Marshal(file)
	require.NoError(t, err)
	share := func(kind, body string) string {
		t.Helper()
		result, err := ines.Eval(`async (kind, body) => {
			const send = async (path, body) => {
				const answer = await fetch(path, { method: "POST", body, headers: { "Content-Type": "application/octet-stream" } });
				if (!answer.ok) throw new Error(await answer.text());
				return answer.json();
			};
			window.made ??= await send("/api/problems/import", body);
			return (await send("/api/" + kind + "/" + (kind === "problems" ? made.id : made.data_set) + "/share")).path;
		}`, kind, body)
		require.NoError(t, err)
		return result.Value.Str()
	}
	harmless := func(p *tab, where string) {
		t.Helper()
		found, err := p.Eval(`() => JSON.stringify([
			window.ran ?? null,
			[...document.querySelectorAll("main a[href], main img, main iframe, main object, main script, main [onerror], main [onload]")]
				.map((e) => e.getAttribute("href") ?? e.outerHTML).filter((e) => !/^(\/|#|blob:|https:)/.test(e)),
			performance.getEntriesByType("resource").map((e) => e.name).filter((e) => !e.startsWith(location.origin) && !/^(data|blob):/.test(e)),
		])`)
		require.NoError(t, err)
		assert.Equal(t, `[null,[],[]]`, found.Value.Str(), where)
	}
	p := a.open(share("problems", string(text)))
	p.shows(`[aria-label="The problem"]`, "<img src=x onerror=")
	p.shows(`[data-note="step/question"]`, "<img src=x onerror=")
	harmless(p, "a shared problem that is read")
	p.clickAt(`[data-step="statistic"] .number.font-serif`)
	p.shows(`[role="dialog"]`, "<script>")
	harmless(p, "a card")
	p.click("Close")
	p.click("Reveal")
	harmless(p, "a shared problem that is revealed")
	p.click("Try")
	p.shows(`[aria-label="Your work"]`, "Question")
	harmless(p, "a shared problem that is worked")
	set := a.open(share("data-sets", string(text)))
	set.clickAt(`[data-column="g"] button`)
	set.shows(`[aria-label="Look"]`, "<img src=x onerror=")
	harmless(set, "a shared data set")

	// Names, as whoever looks after people reads them.
	_, err = p.Eval(`async (name) => {
		const send = (path, body) => fetch(path, { method: "POST", body: JSON.stringify(body), headers: { "Content-Type": "application/json" } });
		await send("/api/guests", {});
		const answer = await send("/api/account/keep", { user_name: "bad", name, password: "four piers in the harbour fog" });
		if (!answer.ok) throw new Error(await answer.text());
	}`, badText[:60])
	require.NoError(t, err)
	a.grund("people", "make", "ines.maro", "administrator")
	require.NoError(t, ines.Navigate(a.url+"/people"))
	ines.shows("main", "<img src=x onerror=")
	harmless(ines, "the list of people")
}
