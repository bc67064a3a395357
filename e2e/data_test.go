package e2e

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// newSet opens an empty data set.
func (a *app) newSet() *tab {
	a.t.Helper()
	p := a.open("/data")
	p.click("New data set")
	p.shows("main", "All of it is kept")
	return p
}

// header opens the panel of a column.
func (p *tab) header(name string) {
	p.t.Helper()
	p.click("About " + name)
	p.find(`[role="dialog"]`)
}

func (p *tab) kept() {
	p.t.Helper()
	p.shows(`[data-testid="saving"]`, "All of it is kept")
}

// saved returns the data set on the page as a file of that format.
func (p *tab) saved(a *app, format string) []byte {
	p.t.Helper()
	p.kept()
	url := p.MustInfo().URL
	response, err := http.Get(a.url + "/api/data-sets/" + url[strings.LastIndex(url, "/")+1:] + "/file?format=" + format)
	require.NoError(p.t, err)
	defer response.Body.Close()
	body, err := io.ReadAll(response.Body)
	require.NoError(p.t, err)
	require.Equal(p.t, http.StatusOK, response.StatusCode, string(body))
	return body
}

// chooseFile opens the demo data set as a spreadsheet file.
func (p *tab) chooseFile(a *app, name string) {
	p.t.Helper()
	response, err := http.Get(a.url + "/api/data-sets/" + a.dataID(name) + "/file?format=xlsx")
	require.NoError(p.t, err)
	defer response.Body.Close()
	body, err := io.ReadAll(response.Body)
	require.NoError(p.t, err)
	file := filepath.Join(p.t.TempDir(), name+".xlsx")
	require.NoError(p.t, os.WriteFile(file, body, 0o644))
	require.NoError(p.t, p.find(`input[aria-label="Data file"]`).SetFiles([]string{file}))
}

const log = "ferry\tminutes\toutbound\thomebound\nDunlin\t31,5\t41\t40.2\nPuffin\t36\t43.5\t43\ndunlin\t33\t39\t39.9\n" +
	"Puffin\t35o\t44\t42.1\nDunlin\t315\t40\t40\nPuffin\t34\t41.5\t41\nDunlin\t32\t42\t41\nPuffin\t35\t43\t42\nDunlin\t33.5\t41\t40\n"

// From a pasted block with slips to corrected, recoded and derived variables.
func TestADataSetIsPutRight(t *testing.T) {
	a := newApp(t)
	p := a.newSet()
	p.goTo("0/0")
	p.paste(`[data-cell="0/0"]`, log)
	p.shows("dialog", "9 rows of 4 columns, named by the first row")
	p.shows("dialog", "number")
	p.click("Put it in")
	p.cellIs("1/0", "Puffin")
	p.shows(`[data-column="minutes"]`, "2 odd")
	p.shows(`[data-column="ferry"]`, "1 odd")

	// Each odd cell is one click away.
	p.header("minutes")
	p.shows(`[role="dialog"]`, "“35o” is not a number")
	p.shows(`[role="dialog"]`, "315 lies far from the other values")
	p.click("Row 4")
	p.eventually("the odd cell in hand", func() bool {
		result, err := p.Eval(`() => document.activeElement?.closest("[data-cell]")?.dataset.cell ?? ""`)
		return err == nil && result.Value.Str() == "3/1"
	})
	p.click("Close")
	p.cell("3/1", "35")
	p.cell("4/1", "31.5")
	p.eventually("nothing odd among the minutes", func() bool { return !strings.Contains(p.text(`[data-column="minutes"]`), "odd") })

	// A name spelt two ways is corrected in the cells.
	p.header("ferry")
	p.click("Recode …")
	p.fill(p.label("dunlin becomes"), "Dunlin")
	p.click("Correct the cells themselves")
	p.click("Recode")
	p.cellIs("2/0", "Dunlin")
	p.click("Undo")
	p.cellIs("2/0", "dunlin")
	p.click("Redo")
	p.cellIs("2/0", "Dunlin")

	// Classes of a number, in a variable that follows it.
	p.header("minutes")
	p.click("Recode …")
	p.fill(p.label("Name of class 1"), "quick")
	p.fill(p.label("End of class 1"), "33")
	p.click("Remove class 2")
	p.fill(p.label("Name of class 2"), "slow")
	p.fill(p.label("Name of the new variable"), "pace")
	p.shows(`[data-testid="preview"]`, "quick (3), slow (6)")
	p.click("Recode")
	p.cellIs("0/2", "quick")

	// A difference by a formula, with what is wrong said at its place.
	p.click("Derive")
	p.fill(p.label("Its name"), "more")
	p.fill(p.label("How it follows from the others"), "outbound - homebond")
	p.shows("dialog", "There is no column “homebond”")
	p.fill(p.label("How it follows from the others"), "outbound - homebound")
	p.shows(`[data-testid="preview"]`, "1 0.8 2 0.5 3 -0.9")
	p.click("Add the variable")
	p.cellIs("0/5", "0.8")

	// Derived variables follow their sources.
	p.cell("0/3", "50")
	p.cellIs("0/5", "9.8")
	p.cell("0/1", "40")
	p.cellIs("0/2", "slow")
	p.header("outbound")
	p.fill(p.label("Name"), "way out")
	p.key(input.Escape)
	p.cell("0/3", "51")
	p.cellIs("0/5", "10.8")
	p.cell("0/3", "50")
	assert.Contains(t, string(p.saved(a, "csv")), "Dunlin,40,slow,50,40.2,9.8\n")
	fresh := a.open(strings.TrimPrefix(p.MustInfo().URL, a.url))
	fresh.cellIs("0/5", "9.8")
	fresh.cellIs("2/0", "Dunlin")
}

func TestTheVariablePanel(t *testing.T) {
	a := newApp(t)
	p := a.newSet()
	p.pasteBlock("0/0", "pier\ttakings\n1\t12.345\n2\t11\n1\t13.5\n2\t10\n")
	p.header("pier")
	p.shows(`[role="dialog"]`, "guessed from its cells")
	p.click("category")
	p.fill(p.label("Name of 1"), "Mole")
	p.fill(p.label("Name of 2"), "Quarry")
	p.click("2 up")
	p.fill(p.label("Name"), "berth")
	p.key(input.Escape)
	p.cellIs("2/0", "1 · Mole")
	p.header("takings")
	p.fill(p.label("Unit"), "crowns")
	p.choose("Given", "in hundreds of it")
	p.choose("Decimals", "1")
	p.click("Close")
	p.cellIs("0/1", "12.3")
	body := string(p.saved(a, "json"))
	for _, want := range []string{`"unit": "hundreds of crowns"`, `"1": "Mole"`, `"name": "berth"`, "12.345"} {
		assert.Contains(t, body, want)
	}
	assert.Less(t, strings.Index(body, `"2"`), strings.Index(body, `"1"`), "the order of the levels")
	p.click("Undo")
	p.cellIs("0/1", "12.345")

	// The scale is carried into the solution.
	p.click("Redo")
	p.kept()
	p.click("berth")
	p.choose("together with", "takings")
	p.shows(`[aria-label="Work a problem with these"]`, "parts the cases into two independent groups")
	p.click("Do two groups have the same mean?")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.shows(`[data-step="follow-up"]`, "hundreds of crowns")
	p.shows(`[data-step="look"]`, "Quarry")
}

func TestTheGrid(t *testing.T) {
	a := newApp(t)
	p := a.newSet()
	p.pasteBlock("0/0", "pier\tminutes\nMole\t3\nQuarry\t1\nMole\t2\nLantern\t10\n")
	hold := func(key input.Key, times int, modifiers ...input.Key) {
		actions := p.KeyActions().Press(modifiers...)
		for range times {
			actions = actions.Type(key)
		}
		require.NoError(t, actions.Do())
	}

	// Copied by a range, pasted over another without questions.
	p.goTo("0/0")
	hold(input.ArrowDown, 1, input.ShiftLeft)
	hold(input.ArrowRight, 1, input.ShiftLeft)
	release := p.holdClipboard()
	p.chord("c", "copy")
	p.eventually("the range on the clipboard", func() bool { return p.clipboard("text/plain") == "Mole\t3\nQuarry\t1" })
	p.goTo("4/0")
	p.chord("v", "paste")
	p.cellIs("5/1", "1")
	p.cellIs("4/0", "Mole")

	// Cut, clear, fill down.
	p.chord("x", "cut")
	p.cellIs("4/0", "")
	release()
	p.chord("z", "")
	p.cellIs("4/0", "Mole")
	p.goTo("0/1")
	hold(input.ArrowDown, 2, input.ShiftLeft)
	p.chord("d", "")
	p.cellIs("2/1", "3")
	p.chord("z", "")
	p.cellIs("2/1", "2")
	hold(input.Delete, 1)
	p.cellIs("0/1", "")
	p.chord("z", "")
	p.cellIs("0/1", "3")

	// Keys: to the ends, Tab and Enter, Escape takes back what was typed.
	p.goTo("0/0")
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(input.End).Do())
	p.key('9')
	p.cellIs("5/1", "9")
	p.key(input.Escape)
	p.cellIs("5/1", "1")
	p.goTo("0/0")
	p.key(input.Tab, '7', input.Tab)
	p.cellIs("0/1", "7")
	p.key('Q')
	p.cellIs("1/0", "Q")
	p.key(input.Escape)
	p.cellIs("1/0", "Quarry")

	// Rows come and go.
	p.goTo("1/0")
	p.click("Insert rows")
	p.cellIs("1/0", "")
	p.cellIs("2/0", "Quarry")
	p.click("Delete rows")
	p.cellIs("1/0", "Quarry")

	// A sorted view leaves the data as they are.
	p.header("minutes")
	p.click("View sorted down")
	p.key(input.Escape)
	p.eventually("the largest first", func() bool {
		result, err := p.Eval(`() => document.querySelector("[data-cell]").dataset.cell`)
		return err == nil && result.Value.Str() == "3/0"
	})
	assert.True(t, strings.HasPrefix(string(p.saved(a, "csv")), "pier,minutes\nMole,7\nQuarry,1\n"))
	p.click("View as entered")

	// Find goes from one to the next.
	p.click("Find")
	p.fill(p.label("Find in the table"), "mole")
	p.shows("search", "1 of 3")
	p.key(input.Enter)
	p.shows("search", "2 of 3")
	p.key(input.Enter)
	p.shows("search", "3 of 3")
	p.click("End the search")
}

// A row is typed with Tabs, and Enter begins the next one below its first cell.
func TestTypingRows(t *testing.T) {
	a := newApp(t)
	p := a.open("/data/" + a.dataID("out-and-back"))
	p.goTo("1/1")
	p.key(input.ArrowDown, '1', input.Tab, '9', '8', input.Enter, '3', input.Tab, '5', input.Enter, '7')
	for cell, want := range map[string]string{"2/1": "1", "2/2": "98", "3/1": "3", "3/2": "5", "4/1": "7"} {
		p.cellIs(cell, want)
	}
	p.goTo("5/2")
	p.key(input.ArrowDown, '4', input.Enter, '6')
	p.cellIs("7/2", "6")
}

// A table of counts is recognised, kept, and opened out; cases are counted.
func TestTablesOfCounts(t *testing.T) {
	a := newApp(t)
	p := a.newSet()
	p.goTo("0/0")
	p.paste(`[data-cell="0/0"]`, "reason\tsingle\treturn\tall\nwork\t2\t3\t5\nschool\t1\t0\t1\nall\t3\t3\t6\n")
	p.shows("dialog", "Keep it as a table of counts")
	p.shows("dialog", "A row or column of totals was left away")
	p.click("Put it in")
	p.cellIs("1/2", "0")
	p.fill(p.label("What the columns are"), "ticket")
	p.kept()
	p.click("Reshape")
	p.shows("dialog", "A row for each case that was counted")
	p.shows("dialog", "work")
	p.click("Make the data set")
	p.shows("main", "6 rows")
	p.cellIs("5/1", "single")

	p.click("Reshape")
	p.click("Count the cases")
	p.choose("Columns", "ticket")
	p.shows("dialog", "return")
	p.click("Make the data set")
	p.shows(`[aria-label="Form of the data"] [aria-pressed="true"]`, "A table of counts")
	p.cellIs("0/2", "3")
	p.cellIs("1/2", "0")
}

func TestReshape(t *testing.T) {
	a := newApp(t)
	p := a.open("/data/" + a.dataID("boarding-by-pier"))
	p.click("Reshape")
	p.click("Make the data set")
	p.shows("main", "46 rows")
	p.shows(`[aria-label="Form of the data"] [aria-pressed="true"]`, "A row a case")
	p.click("Reshape")
	p.click("One column a group")
	p.click("Make the data set")
	p.shows(`[aria-label="Form of the data"] [aria-pressed="true"]`, "A column a group")
	p.cellIs("0/0", "10.1")

	p = a.open("/data/" + a.dataID("crossings"))
	p.click("Reshape")
	p.click("Take some of the cases")
	p.fill(p.label("How many"), "500")
	p.shows(`dialog [role="alert"]`, "There are 120 cases to take from")
	p.fill(p.label("How many"), "20")
	p.fill(p.label("Seed: the same one draws the same cases"), "7")
	p.click("Make the data set")
	p.eventually("the data set that was made", func() bool {
		name, err := p.Eval(`() => document.querySelector("[aria-label='Name of the data set']")?.value`)
		return err == nil && name.Value.Str() == "Crossings: 20 at random, seed 7"
	})
	p.shows("main", "20 rows")
}

// Groups that come as rows are turned before they land.
func TestGroupsAsRows(t *testing.T) {
	a := newApp(t)
	p := a.newSet()
	p.goTo("0/0")
	p.paste(`[data-cell="0/0"]`, "Mole\t12.1\t11.8\t12.6\nQuarry\t13.4\t12.9\t\n")
	p.shows("dialog", "Each row seems to hold a group")
	p.click("Turn rows into columns")
	p.shows("dialog", "3 rows of 2 columns, named by the first row")
	p.click("Put it in")
	p.cellIs("2/0", "12.6")
	p.shows(`[data-column="Quarry"]`, "1 missing")
}

// What is saved can be opened again, labels included where the format carries them.
func TestSaveAndOpenAgain(t *testing.T) {
	a := newApp(t)
	p := a.open("/data/" + a.dataID("riders"))
	for _, format := range []string{"csv", "tsv", "xlsx", "ods", "json"} {
		file := filepath.Join(t.TempDir(), "riders."+format)
		require.NoError(t, os.WriteFile(file, p.saved(a, format), 0o644))
		again := a.open("/data")
		require.NoError(t, again.find(`input[aria-label="Data file"]`).SetFiles([]string{file}))
		again.shows("dialog", "240 rows of 5 columns, named by the first row")
		again.click("Make it a data set")
		again.shows("main", "240 rows")
		if format == "csv" || format == "tsv" {
			again.cellIs("0/1", "3")
		} else {
			again.cellIs("0/1", "3 · monthly")
		}
		csv := again.saved(a, "csv")
		assert.True(t, bytes.Equal(p.saved(a, "csv"), csv), format)
	}
}

// A sheet and a part of it are chosen by looking.
func TestChooseAPartOfASpreadsheet(t *testing.T) {
	a := newApp(t)
	p := a.open("/data")
	p.chooseFile(a, "boarding")
	p.shows("dialog", "46 rows of 2 columns")
	p.fill(p.label("Part of the sheet"), "A1:B11")
	p.key(input.Enter)
	p.shows("dialog", "10 rows of 2 columns")
	p.fill(p.label("Part of the sheet"), "B9:A1")
	p.key(input.Enter)
	p.shows(`dialog [role="alert"]`, "ends before it begins")
	p.fill(p.label("Part of the sheet"), "")
	p.key(input.Enter)
	p.shows("dialog", "46 rows of 2 columns")

	// By dragging from corner to corner, and by key to the end of the sheet.
	p.click("Choose a part by looking")
	p.shows("dialog", "and 43 more rows")
	_, err := p.find(`dialog [role="grid"]`).Eval(`() => this.parentElement.scrollIntoView({ block: "nearest" })`)
	require.NoError(t, err)
	corner := func(row, column int) proto.Point {
		shape, err := p.find(fmt.Sprintf(`dialog [role="grid"] tbody tr:nth-child(%d) [role="gridcell"]:nth-of-type(%d)`, row, column)).Shape()
		require.NoError(t, err)
		return *shape.OnePointInside()
	}
	require.NoError(t, p.Mouse.MoveTo(corner(1, 2)))
	require.NoError(t, p.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, p.Mouse.MoveLinear(corner(6, 2), 5))
	require.NoError(t, p.Mouse.Up(proto.InputMouseButtonLeft, 1))
	p.shows("dialog", "5 rows of 1 column, named by the first row")
	require.NoError(t, p.find(`dialog [role="gridcell"][tabindex="0"]`).Focus())
	p.key(input.ArrowUp, input.ArrowLeft)
	hold := p.KeyActions().Press(input.ShiftLeft).Type(input.ArrowRight)
	for range 60 {
		hold = hold.Type(input.ArrowDown)
	}
	require.NoError(t, hold.Release(input.ShiftLeft).Type(input.Enter).Do())
	p.shows("dialog", "43 rows of 2 columns, without names")
	p.choose("Sheet", "variables")
	p.shows("dialog", "level names")
}

// A long file is read as it comes, with progress, and can be stopped.
func TestALongFile(t *testing.T) {
	a := newApp(t)
	var text strings.Builder
	text.WriteString("case,ferry,minutes\n")
	for i := range 400_000 {
		fmt.Fprintf(&text, "%d,Dunlin,%d.5\n", i+1, i%60)
	}
	file := filepath.Join(t.TempDir(), "season.csv")
	require.NoError(t, os.WriteFile(file, []byte(text.String()), 0o644))
	p := a.open("/data")
	require.NoError(t, p.find(`input[aria-label="Data file"]`).SetFiles([]string{file}))
	p.shows("main", "400 000 rows")
	p.cellIs("0/2", "0.5")
	p.goTo("0/1")
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(input.End).Do())
	p.cellIs("399999/2", "39.5")
	p.key('8')
	p.kept()

	broken := filepath.Join(t.TempDir(), "broken.csv")
	require.NoError(t, os.WriteFile(broken, []byte(text.String()+"7,\"Dunlin\n"), 0o644))
	p = a.open("/data")
	require.NoError(t, p.find(`input[aria-label="Data file"]`).SetFiles([]string{broken}))
	p.shows(`[role="alert"]`, "broken.csv was not opened, and nothing of it is kept. row 400002")
}
