package e2e

import (
	"archive/zip"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
)

// packedDemo is a ZIP of two problems, one of which has a wrong field, and of one that is no JSON.
func packedDemo(t *testing.T) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "week 2.zip")
	out, err := os.Create(path)
	require.NoError(t, err)
	w := zip.NewWriter(out)
	berths := string(demo.File("two-berths"))
	for name, text := range map[string]string{
		"a berths.json": berths,
		"b mended.json": strings.Replace(berths, `"Do the two berths`, `"Do the same two berths`, 1),
		"c wrong.json":  strings.Replace(berths, `"procedure"`, `"procedur"`, 1),
		"read me.txt":   "none of these",
	} {
		entry, err := w.Create(name)
		require.NoError(t, err)
		_, err = entry.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	require.NoError(t, out.Close())
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
