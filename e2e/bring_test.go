package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/bundle/bundletest"
)

// packedDemo is a ZIP of two problems, one of which has a wrong field, and of one that is no JSON.
func packedDemo(t *testing.T) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "week 2.zip")
	berths := string(demo.File("two-berths"))
	require.NoError(t, os.WriteFile(path, bundletest.ZIP(t,
		[2]string{"a berths.json", berths},
		[2]string{"b mended.json", strings.Replace(berths, `"Do the two berths`, `"Do the same two berths`, 1)},
		[2]string{"c wrong.json", strings.Replace(berths, `"procedure"`, `"procedur"`, 1)},
		[2]string{"read me.txt", "none of these"},
	), 0o600))
	return path
}

// Many problems are looked at before anything lands, land as they were chosen, and are taken back again.
func TestBringInMany(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.shows("main", "To look around")
	require.NoError(t, p.find(`input[aria-label="Problem file"]`).SetFiles([]string{packedDemo(t)}))
	p.shows("dialog", "2 of 3 problems can be brought in")
	p.shows("dialog", "/procedur")
	p.shows("dialog", "week 2.zip, b mended.json")
	assert.NotContains(t, p.text("dialog"), "read me")
	p.accessible("what may be brought in")
	p.clickAt(`dialog li:first-child input`)
	p.click("Bring in 1 problem")
	p.shows("main", "Do the same two berths")
	p.shows("main", "Yours")
	p.click("Undo")
	p.eventually("the problem to be taken back", func() bool { return !strings.Contains(p.text("main"), "Do the same two berths") })
}
