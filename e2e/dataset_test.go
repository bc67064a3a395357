package e2e

import (
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"strconv"
	"strings"
	"testing"

	"grund/internal/localpg/pgtest"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestPasteOnTheListMakesADataSet(t *testing.T) {
	a := newApp(t)
	p := a.open("/data")
	p.shows("main", "From the Kelpwick harbour office")
	for _, name := range []string{"boarding", "crossings", "gaps", "lost-property", "out-and-back", "overhaul", "riders", "two-berths",
		"whales"} {
		p.button(dataTitle(t, name))
	}
	p.paste("h1", "pier;minutes\nMole;12,5\nQuarry;9\n")
	p.shows("dialog", "2 rows of 2 columns")
	p.click("Make it a data set")
	p.cellIs("0/1", "12,5")

	// The kind that a column is taken for is changed with a click before it lands.
	p = a.newSet()
	p.goTo("0/0")
	p.paste(`[data-cell="0/0"]`, "berth\tminutes\n1\t12.1\n2\t13.4\n")
	p.click("berth is taken for a number: take it for a category")
	p.click("Put it in")
	p.kept()
	assert.Contains(t, string(p.saved(a, "json")), `"kind": "category"`)
}

// A person's copy of a demo data set can be changed, and set back.
func TestSetADemoDataSetBack(t *testing.T) {
	a := newApp(t)
	p := a.open("/data/" + a.dataID("overhaul"))
	p.cell("0/0", "99")
	p.kept()
	p.click("Set back as it was at first")
	p.eventually("the first value", func() bool { return strings.HasPrefix(string(p.saved(a, "csv")), "fuel\n45.9\n") })
	p.cellIs("0/0", "45.9") // what is undone before the page has it is what was typed
	p.click("Undo")
	p.cellIs("0/0", "99")
	p.kept()
	p.click("Make a copy")
	p.shows("body", "This is the copy")
	p.click("Delete the data set")
	p.shows("body", "Problems that use it keep it")
	p.shows("main", "Crossings") // the list, whose page has no other Undo
	p.click("Undo")
	p.shows("main", "After the overhaul (copy)")
}

func TestTwoTabsOfOneDataSet(t *testing.T) {
	a := newApp(t)
	path := "/data/" + a.dataID("gaps")
	one, two := a.open(path), a.open(path)
	one.cell("0/0", "1001")
	one.kept()
	two.cell("1/0", "1002")
	two.shows(`[data-testid="saving"]`, "changed elsewhere")
	two.cellIs("1/0", "1002")
	two.click("Show the other version")
	two.cellIs("0/0", "1001")
	two.cellIs("1/0", "3")
	two.click("Undo")
	two.cellIs("1/0", "1002")
	two.kept()
	one.cell("2/0", "1003")
	one.shows(`[data-testid="saving"]`, "changed elsewhere")
	one.click("Keep what I typed here")
	one.kept()
	assert.True(t, strings.HasPrefix(string(one.saved(a, "csv")), "gap\n1001\n3\n1003\n"))
}

// What is typed while the server is away stays, and is sent when it is back.
func TestADataSetWithoutAConnection(t *testing.T) {
	a := newApp(t)
	p := a.newSet()
	p.pasteBlock("0/0", "pier\tminutes\nMole\t3\nQuarry\t1\n")
	p.kept()
	a.stop()
	p.cell("0/1", "33")
	p.shows(`[data-testid="saving"]`, "What you typed stays here")
	p.cell("1/1", "11")
	p.click("Undo")
	a.start()
	p.kept()
	assert.Equal(t, "pier,minutes\nMole,33\nQuarry,1\n", string(p.saved(a, "csv")))
}

// Cases are left out by a condition and by hand; the solution says how many and why.
func TestLeaveCasesOut(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID() + "/edit")
	p.click("Leave cases out by a condition")
	p.fill(p.label("Condition 1"), "minutes > 16 and berth == \"Quarry\"")
	p.fill(p.label("Reason 1"), "the crane was slow")
	p.shows("main", "2 cases")
	p.fill(p.label("Condition 1"), "minute > 16")
	p.shows("main", "There is no column “minute”")
	p.fill(p.label("Condition 1"), "minutes > 16")
	p.goTo("0/0")
	p.key(input.ArrowDown, input.ArrowUp)
	p.click("Leave case 1 out")
	p.fill(p.label("Why it is left out"), "clock stopped")
	p.key(input.Enter)
	p.shows("main", "Left out by hand: case 1 (clock stopped)")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.shows(`[data-step="data"]`, "case 1 (clock stopped); 2 cases (the crane was slow)")
	p.keyIs("data", "n = 17, 13")
}

// A kind that does not fit the role is asked about, and changed with one click.
func TestANumberUsedAsACategory(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.pasteBlock("0/0", "berth\tminutes\n1\t12.1\n2\t13.4\n1\t11.8\n2\t12.9\n")
	p.choose("Response: the variable that was measured", "minutes (number)")
	p.choose("Group: the category that tells the two groups apart", "berth (number)")
	p.shows("main", "“berth” is a number, and a category is needed here")
	p.click("Use it as a category")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")

	// The roles follow a column that is named anew.
	p.header("minutes")
	p.fill(p.label("Name"), "loading time")
	p.key(input.Escape)
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.shows("main", "Compare loading time between")
}

// One data set serves several problems, and a problem can take another.
func TestAProblemTakesAnotherDataSet(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.click("New problem")
	p.choose("Data set", dataTitle(t, "boarding"))
	p.cellIs("0/0", "Quarry")
	p.choose("Response: the variable that was measured", "minutes (number)")
	p.choose("Group: the category that tells the two groups apart", "pier (category)")
	p.shows(`[aria-label="State of the problem"]`, "has 4 levels and two groups are compared")
	p.choose("First group", "Lantern")
	p.shows(`[aria-label="State of the problem"]`, "Ready to be worked")
	p.click("Work the problem")
	p.shows(`[data-step="look"]`, "Lantern")
	p.click("Data")
	p.shows("main", "1 problem")
}

// Who has little space left is told before it is all taken, and what no longer fits is refused, with what
// can be done.
func TestLittleSpaceIsLeft(t *testing.T) {
	t.Parallel()
	a := startApp(t, []string{"GRUND_DATABASE_URL=" + pgtest.Copy(t, demoDatabase)}, "--space", "1")
	chance := rand.New(rand.NewPCG(1, 1))
	var file strings.Builder // numbers that no packing makes much smaller
	file.WriteString("reading\n")
	for range 62_000 {
		fmt.Fprintln(&file, strconv.FormatUint(chance.Uint64(), 36))
	}
	keep := func() *http.Response {
		response, err := http.Post(a.url+"/api/data-sets/import?name=readings", "text/csv", strings.NewReader(file.String()))
		require.NoError(t, err)
		t.Cleanup(func() { response.Body.Close() })
		return response
	}
	p := a.open("/data")
	p.shows("main, body", "From the Kelpwick harbour office")
	assert.NotContains(t, p.visible(), "of the space")
	require.Equal(t, http.StatusCreated, keep().StatusCode)
	p = a.open("/data")
	p.shows("body", "% of the space that there is. Delete what you no longer need")
	p.accessible("little space")
	full := keep()
	assert.Equal(t, http.StatusInsufficientStorage, full.StatusCode)
	text, err := io.ReadAll(full.Body)
	require.NoError(t, err)
	assert.Contains(t, string(text), "which makes room after 30 days")
}
