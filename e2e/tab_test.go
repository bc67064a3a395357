package e2e

import (
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// tab is a page of the interface. Its methods wait for what they look for and
// fail the test where it does not come.
type tab struct {
	*rod.Page
	t *testing.T
}

// patience is long, for a machine that is busy with other things: only what fails waits for so long.
const patience = 30 * time.Second

// open opens a path in a browser session of its own, at 1280×800.
func (a *app) open(path string) *tab {
	a.t.Helper()
	session, err := browser.Incognito()
	require.NoError(a.t, err)
	return a.openIn(session, path)
}

func (a *app) openIn(session *rod.Browser, path string) *tab {
	a.t.Helper()
	page, err := session.Page(proto.TargetCreateTarget{})
	require.NoError(a.t, err)
	// Closing the target asks no page whether it may be left.
	a.t.Cleanup(func() { _, _ = proto.TargetCloseTarget{TargetID: page.TargetID}.Call(browser) })
	require.NoError(a.t, proto.BrowserGrantPermissions{
		Permissions: []proto.BrowserPermissionType{proto.BrowserPermissionTypeClipboardReadWrite,
			proto.BrowserPermissionTypeClipboardSanitizedWrite},
		BrowserContextID: session.BrowserContextID,
	}.Call(session))
	p := &tab{page.Timeout(5 * time.Minute), a.t} // nothing waits for longer than this
	p.resize(1280, 800)
	require.NoError(a.t, page.Navigate(a.url+path))
	require.NoError(a.t, page.WaitLoad())
	p.eventually("the page to have what it shows", func() bool {
		has, err := p.Eval(`() => document.querySelector("main > :not([data-fetching])") !== null ||
			document.querySelector("#root") === null`) // which a document has not
		return err == nil && has.Value.Bool()
	})
	return p
}

func (p *tab) resize(width, height int) {
	p.t.Helper()
	require.NoError(p.t, p.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1}))
}

// find returns the element that the selector names.
func (p *tab) find(selector string) *rod.Element {
	p.t.Helper()
	element, err := p.Timeout(patience).Element(selector)
	require.NoError(p.t, err, "no %s on the page: %s", selector, p.visible())
	return element.CancelTimeout()
}

// named is a function of the page that returns the button or link whose text or label is the given
// one, undefined where there is none.
const named = `(name) => {
	const close = (text) => text.replace(/\s+/g, "");
	const is = (e) => e.hasAttribute("aria-label") ? e.getAttribute("aria-label") === name
		: close(e.textContent).includes(close(name)) // the text that is seen costs a layout
			&& e.innerText.replace(/\s+/g, " ").trim() === name;
	return [...document.querySelectorAll("button, a, summary, label, option")].find((e) => is(e) && e.getClientRects().length > 0);
}`

// button returns the button or link whose text or label is the given one.
func (p *tab) button(name string) *rod.Element {
	p.t.Helper()
	var found *rod.Element
	p.eventually("a button “"+name+"”", func() bool {
		element, err := p.Page.Sleeper(rod.NotFoundSleeper).ElementByJS(rod.Eval(named, name))
		found = element
		return err == nil
	})
	return found.Sleeper(rod.DefaultSleeper)
}

// click clicks the button or link whose text or label is the given one.
func (p *tab) click(name string) {
	p.t.Helper()
	p.clickOn("“"+name+"”", named, name)
}

// clickAt clicks the first element of a selector.
func (p *tab) clickAt(selector string) {
	p.t.Helper()
	p.clickOn(selector, `(selector) => document.querySelector(selector)`, selector)
}

// aim brings the element that a function of the page returns into view, notes whether a click meets
// it, and returns its middle; null where it is not there, or something lies over it.
const aim = `(...args) => {
	const find = %s;
	const element = find(...args);
	if (!element || element.disabled) return null;
	const inView = (r) => r.top >= 80 && r.bottom <= innerHeight - 70; // the head and the foot of the page cover what lies at its edges
	if (!inView(element.getBoundingClientRect())) element.scrollIntoView({ block: "center", inline: "nearest", behavior: "instant" });
	const r = element.getClientRects()[0];
	if (!r) return null;
	const at = { x: r.left + r.width / 2, y: r.top + r.height / 2 };
	const top = document.elementFromPoint(at.x, at.y);
	if (!element.contains(top)) { // a card of its own scrolls it out of sight, or something lies over it
		element.scrollIntoView({ block: "center", inline: "nearest", behavior: "instant" });
		return null;
	}
	window.met = false;
	// It may have been drawn anew between being found and being clicked.
	const meets = (event) => [element, find(...args)].some((each) => each?.contains(event.target));
	addEventListener("click", (event) => { window.met ||= meets(event) }, { capture: true, once: true });
	return at;
}`

// clickOn clicks the element that a function of the page returns, and does it again until it took: an
// element that is drawn anew or moves between being found and being clicked is found again.
func (p *tab) clickOn(what, find string, args ...any) {
	p.t.Helper()
	p.eventually("a click on "+what, func() bool {
		at, err := p.Eval(fmt.Sprintf(aim, find), args...)
		if err != nil || at.Value.Nil() {
			return false
		}
		require.NoError(p.t, p.Mouse.MoveTo(proto.NewPoint(at.Value.Get("x").Num(), at.Value.Get("y").Num())))
		require.NoError(p.t, p.Mouse.Click(proto.InputMouseButtonLeft, 1))
		met, err := p.Eval(`() => window.met`)
		return err != nil || met.Value.Nil() || met.Value.Bool() // another page has come where nothing is known of it
	})
}

// eventually waits until the condition holds.
func (p *tab) eventually(what string, condition func() bool) {
	p.t.Helper()
	for deadline := time.Now().Add(patience); time.Now().Before(deadline); time.Sleep(40 * time.Millisecond) {
		if condition() {
			return
		}
	}
	p.t.Fatalf("waited for %s; the page shows: %s", what, p.visible())
}

// text returns the visible text of the first element of the selector, "" if
// there is none.
func (p *tab) text(selector string) string {
	result, err := p.Eval(`(s) => document.querySelector(s)?.innerText ?? ""`, selector)
	if err != nil {
		return ""
	}
	return strings.Join(strings.Fields(result.Value.Str()), " ")
}

// shows waits until the element's text holds the words.
func (p *tab) shows(selector, words string) {
	p.t.Helper()
	p.eventually(fmt.Sprintf("“%s” in %s (now “%s”)", words, selector, p.text(selector)),
		func() bool { return strings.Contains(p.text(selector), words) })
}

func (p *tab) visible() string {
	text := p.text("body")
	if len(text) > 600 {
		text = text[:600] + "…"
	}
	return text
}

// key presses keys on whatever has the focus.
func (p *tab) key(keys ...input.Key) {
	p.t.Helper()
	require.NoError(p.t, p.Keyboard.Type(keys...))
}

// fill replaces what is in an input as a person would: by selecting and typing.
func (p *tab) fill(selector, text string) {
	p.t.Helper()
	p.eventually("typing into "+selector, func() bool {
		element, err := p.Page.Sleeper(rod.NotFoundSleeper).Element(selector)
		return err == nil && element.SelectAllText() == nil && element.Input(text) == nil
	})
}

// choose takes the option of a select that has a label.
func (p *tab) choose(label, option string) {
	p.t.Helper()
	field := p.label(label)
	p.eventually(fmt.Sprintf("%q among the choices of %q", option, label), func() bool {
		element, err := p.Page.Sleeper(rod.NotFoundSleeper).Element(field)
		if err != nil {
			return false
		}
		// To select what is not there would tell the page that something was selected.
		there, err := element.Eval(`(text) => [...this.options].some((o) => o.text.includes(text))`, option)
		return err == nil && there.Value.Bool() && element.Select([]string{option}, true, rod.SelectorTypeText) == nil
	})
}

// drag takes a mark of a picture by its grip and moves it so far to the right, in steps as a hand
// does.
func (p *tab) drag(selector string, right float64) {
	p.t.Helper()
	element := p.find(selector + " rect")
	_, err := element.Eval(`() => this.ownerSVGElement.scrollIntoView({ block: "center" })`)
	require.NoError(p.t, err)
	shape, err := element.Shape()
	require.NoError(p.t, err)
	box := shape.Box()
	x, y := box.X+box.Width/2, box.Y+box.Height/3
	require.NoError(p.t, p.Mouse.MoveTo(proto.NewPoint(x, y)))
	require.NoError(p.t, p.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(p.t, p.Mouse.MoveLinear(proto.NewPoint(x+right, y), 6))
	require.NoError(p.t, p.Mouse.Up(proto.InputMouseButtonLeft, 1))
}

// label returns a selector for the input with the given aria-label, or the one
// whose label has this text.
func (p *tab) label(text string) string {
	p.t.Helper()
	var id string
	p.eventually("a field “"+text+"”", func() bool {
		result, err := p.Eval(`(text) => {
			const named = [...document.querySelectorAll("input, select, textarea")].find((e) => e.getAttribute("aria-label") === text);
			if (named) { named.id ||= "found-" + Math.random().toString(36).slice(2); return named.id; }
			const words = (l) => {
				const own = l.cloneNode(true);
				own.querySelectorAll("input, select, textarea").forEach((e) => e.remove());
				return own.textContent.trim();
			};
			const label = [...document.querySelectorAll("label")].find((l) => words(l) === text);
			const field = label?.control; // by its id, or as what stands in it
			if (field) field.id ||= "found-" + Math.random().toString(36).slice(2);
			return field?.id ?? "";
		}`, text)
		if err != nil {
			return false
		}
		id = result.Value.Str()
		return id != ""
	})
	return `[id="` + id + `"]`
}

// movesUp takes a row of a list by its grip, by key, and moves it up; first and last are what is said at its place and at the
// new one.
func (p *tab) movesUp(grip, first, last string) {
	p.t.Helper()
	require.NoError(p.t, p.button(grip).Focus())
	said := func() string {
		return p.MustEval(`() => document.querySelector('[id^="DndLiveRegion"]').textContent`).Str()
	}
	p.key(input.Space)
	p.eventually("the row to be lifted", func() bool { return said() == first })
	p.eventually("the row to be at its new place", func() bool {
		p.key(input.ArrowUp)
		return said() == last
	})
	p.key(input.Space)
}

// ask chooses what is asked: “Do two groups spread alike? (Two variances)”, of which the first part is enough.
func (p *tab) ask(question string) {
	p.t.Helper()
	asks, _, _ := strings.Cut(question, " (")
	p.clickAt(p.label("What is asked"))
	p.clickOn("“"+asks+"”",
		`(asks) => [...document.querySelectorAll("dialog button")].find((each) => each.textContent.startsWith(asks))`, asks)
	p.eventually("the question to be taken", func() bool { return strings.HasPrefix(p.text(p.label("What is asked")), asks) })
}

var clipboardInUse sync.Mutex

// holdClipboard keeps the clipboard, of which the browser has one for all its pages, to this test
// until it is released, or the test ends.
func (p *tab) holdClipboard() (release func()) {
	clipboardInUse.Lock()
	release = sync.OnceFunc(clipboardInUse.Unlock)
	p.t.Cleanup(release)
	return release
}

// paste puts text on the clipboard and pastes it into the element.
func (p *tab) paste(selector, text string) {
	p.t.Helper()
	p.clickAt(selector)
	defer p.holdClipboard()()
	_, err := p.Eval(`(text) => navigator.clipboard.writeText(text)`, text)
	require.NoError(p.t, err)
	p.chord("v", "paste")
}

// cell types into a cell of the table in place of what is there.
func (p *tab) cell(place, text string) {
	p.t.Helper()
	p.goTo(place)
	p.fill(`[data-cell="`+place+`"] input`, text)
}

// goTo clicks a cell of the table and waits until it is in hand.
func (p *tab) goTo(place string) {
	p.t.Helper()
	p.clickAt(`[data-cell="` + place + `"]`)
	p.eventually("cell "+place+" to be in hand", func() bool {
		result, err := p.Eval(`() => document.activeElement?.closest("[data-cell]")?.dataset.cell ?? ""`)
		return err == nil && result.Value.Str() == place
	})
}

// cellIs waits until a cell of the table shows a text.
func (p *tab) cellIs(place, want string) {
	p.t.Helper()
	got := ""
	p.eventually(fmt.Sprintf("%q in cell %s", want, place), func() bool {
		result, err := p.Eval(`(s) => { const e = document.querySelector(s); return e?.querySelector("input")?.value ?? e?.textContent ?? "" }`,
			`[data-cell="`+place+`"]`)
		if err == nil {
			got = result.Value.Str()
		}
		return got == want
	})
}

// pasteBlock pastes a block into the table and takes it as the preview shows it.
func (p *tab) pasteBlock(place, text string) {
	p.t.Helper()
	p.goTo(place)
	p.paste(`[data-cell="`+place+`"]`, text)
	p.click("Put it in")
}

// chord presses a key with Ctrl; command is what the browser does with it.
func (p *tab) chord(key, command string) {
	p.t.Helper()
	code := "Key" + strings.ToUpper(key)
	down := proto.InputDispatchKeyEvent{Type: proto.InputDispatchKeyEventTypeKeyDown, Modifiers: 2, Key: key, Code: code,
		WindowsVirtualKeyCode: int(strings.ToUpper(key)[0])}
	if command != "" {
		down.Commands = []string{command}
	}
	require.NoError(p.t, down.Call(p))
	require.NoError(p.t, proto.InputDispatchKeyEvent{Type: proto.InputDispatchKeyEventTypeKeyUp, Modifiers: 2, Key: key, Code: code}.Call(p))
}

// clipboard returns what was copied, as the given type; "" while it changes.
func (p *tab) clipboard(mime string) string {
	p.t.Helper()
	result, err := p.Eval(`async (mime) => {
		const [item] = await navigator.clipboard.read();
		if (!item.types.includes(mime)) return "";
		const blob = await item.getType(mime);
		return mime.startsWith("image/png") ? String(blob.size) : blob.text();
	}`, mime)
	if err != nil {
		return ""
	}
	return result.Value.Str()
}

// accessible runs axe-core and fails on what is serious or critical.
func (p *tab) accessible(screen string) {
	p.t.Helper()
	p.axe(screen, "tag", "wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice")
}

// contrasts is the part of accessible that another theme can change.
func (p *tab) contrasts(screen string) {
	p.t.Helper()
	p.axe(screen, "rule", "color-contrast", "link-in-text-block")
}

// axe runs the rules of axe-core that have one of the names, as tags or as rules.
func (p *tab) axe(screen, kind string, names ...string) {
	p.t.Helper()
	script, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(p.t, err)
	_, err = p.Eval("() => { if (!window.axe) { " + string(script) + " } }")
	require.NoError(p.t, err)
	result, err := p.Eval(`async (type, values) => {
		await document.fonts.ready; // what is measured is laid out in them
		const run = (type, values) => axe.run(document, { resultTypes: ["violations"], runOnly: { type, values } });
		const report = await run(type, values);
		// What the head or the foot of the page covers where it is scrolled to is measured in the middle.
		const at = scrollY;
		for (const rule of report.violations.filter((v) => v.id === "target-size")) {
			const large = new Set();
			for (const node of rule.nodes.filter((n) => n.failureSummary.includes("obscured"))) {
				document.querySelector(node.target[0]).scrollIntoView({ block: "center", behavior: "instant" });
				const again = await run("rule", ["target-size"]);
				if (!again.violations.some((v) => v.nodes.some((n) => n.target[0] === node.target[0]))) large.add(node);
			}
			rule.nodes = rule.nodes.filter((n) => !large.has(n));
		}
		scrollTo({ top: at, behavior: "instant" });
		return report.violations.filter((v) => v.nodes.length > 0 && (v.impact === "serious" || v.impact === "critical"))
			.map((v) => v.id + ": " + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160) + " " + n.failureSummary).join(" | ")).join("\n");
	}`, kind, names)
	require.NoError(p.t, err)
	require.Empty(p.t, result.Value.Str(), "axe on %s", screen)
}

// theme shows the page by day or by night, at once.
func (p *tab) theme(name string) {
	p.t.Helper()
	_, err := p.Eval(`(name) => {
		const still = document.createElement("style");
		still.textContent = "* { transition: none !important }";
		document.head.append(still);
		localStorage.setItem("grund.theme", name);
		document.documentElement.dataset.theme = name;
	}`, name)
	require.NoError(p.t, err)
}

// fitsTheWidth fails where the page scrolls sideways.
func (p *tab) fitsTheWidth(screen string) {
	p.t.Helper()
	result, err := p.Eval(`() => document.documentElement.scrollWidth - document.documentElement.clientWidth`)
	require.NoError(p.t, err)
	require.LessOrEqual(p.t, result.Value.Int(), 0, "%s scrolls sideways", screen)
}

// margin returns the key result of a step.
func (p *tab) margin(step string) string { return p.text(`[data-testid="key-` + step + `"]`) }

// keyIs waits for a key result.
func (p *tab) keyIs(step, key string) {
	p.t.Helper()
	p.eventually(fmt.Sprintf("the key %q at %s (now %q)", key, step, p.margin(step)), func() bool { return p.margin(step) == key })
}
