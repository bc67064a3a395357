// Package internal's tests hold the direction of imports and the sizes of packages, files and functions.
package internal

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// may lists, for each package of ours, the packages of ours that it may import.
var may = map[string][]string{
	"access":      {},
	"application": {"exchange"},
	"account":     {"problem"},
	"words":       {},
	"stats/dist":  {},
	"stats":       {"stats/dist"},
	"stats/exact": {"stats", "stats/dist"},
	"plaintext":   {},
	"data":        {"stats", "words", "plaintext"},
	"export":      {"data", "plaintext"},
	"formula":     {"stats/dist"},
	"problem":     {"data", "words"},
	"working":     {"problem", "data", "formula", "stats", "stats/dist"},
	"look":        {"working", "problem", "data", "words", "stats", "stats/dist"},
	"mask":        {"working", "formula"},
	"mathml":      {},
	"draw":        {"working", "problem"},
	"labreport":   {"working", "problem", "data", "words"},
	"paper":       {"draw", "mathml", "labreport", "working", "problem", "words"},
	"printed":     {"working", "stats/dist"},
	"bundle":      {"problem"},
	"answer":      {"procedure", "mask", "printed", "procedure/write", "working", "problem", "formula", "stats/dist"},
	"vary":        {"procedure", "working", "problem", "data"},
	"localpg":     {},
	"store":       {"access", "labreport", "problem", "problemset", "data", "words"},
	"standin":     {},
	"turns":       {},
	"exchange":    {"problem", "store", "words"},
	"problemset":  {"answer", "vary", "problem", "working"},
	"classroom": {
		"demo",
		"access", "account", "answer", "data", "exchange", "export", "paper", "people", "problem",
		"problemset", "procedure", "store", "turns", "working",
	},
	"people": {"access", "account", "exchange", "problem", "store", "words"},

	// From what a procedure is, over what procedures share, to the families and the list of them
	// all. A family knows no other.
	"procedure/describe":    {"working", "problem", "data", "words"},
	"procedure/cases":       {"procedure/describe", "working", "problem", "data", "words", "stats"},
	"procedure/write":       append(shared, "printed", "procedure/describe", "procedure/cases"),
	"procedure/means":       family,
	"procedure/ranks":       family,
	"procedure/proportions": family,
	"procedure/fits":        family,
	"procedure/tables":      family,
	"procedure/several":     family,
	"procedure/lines":       family,
	"procedure": {
		"procedure/describe", "procedure/cases", "procedure/means", "procedure/ranks", "procedure/proportions", "procedure/fits",
		"procedure/tables", "procedure/several", "procedure/lines", "look", "working", "problem", "data",
	},
}

// shared are the packages that all who write solutions need, and family those that a family of
// procedures may import.
var (
	shared = []string{"working", "problem", "data", "formula", "words", "stats", "stats/dist", "stats/exact"}
	family = append([]string{"procedure/describe", "procedure/cases", "procedure/write"}, shared...)
)

// forbidden are packages that nothing below the server imports. (What packages of
// others import, as the one for spreadsheets does, is theirs.)
var forbidden = []string{"net/http", "database/sql", "html/template", "github.com/jackc/pgx/v5", "github.com/labstack/echo/v5"}

// outside are the packages that deal with the database or with requests.
var outside = []string{"application", "standin", "store", "localpg", "exchange", "people", "classroom"}

func TestImportsPointOneWay(t *testing.T) {
	for name, allowed := range may {
		out, err := exec.Command("go", "list", "-f", `{{join .Imports "\n"}}`, "grund/internal/"+name).Output()
		require.NoError(t, err, name)
		for _, imported := range strings.Fields(string(out)) {
			if ours, ok := strings.CutPrefix(imported, "grund/"); ok {
				ours = strings.TrimPrefix(ours, "internal/")
				assert.True(t, slices.Contains(allowed, ours), "%s imports %s", name, ours)
			}
			if !slices.Contains(outside, name) {
				assert.False(t, slices.Contains(forbidden, imported), "%s imports %s", name, imported)
			}
		}
	}
}

// mayInBrowser lists, for each folder of the interface, the folders that it may import.
var mayInBrowser = map[string][]string{
	"api":      {},
	"lib":      {"api"},
	"solution": {"api"},
	"app":      {"api", "lib"},
	"notes":    {"api", "lib", "solution"},
	"kept":     {"api", "app", "lib"},
	"figures":  {"api", "app", "lib", "solution", "notes", "kept"},
	"blocks":   {"api", "app", "lib", "solution", "notes", "kept", "figures"},
	"pen":      {"api", "app", "lib", "solution", "notes"},
	"data":     {"api", "app", "lib", "solution", "figures", "blocks"},
	"edit":     {"api", "app", "lib", "data"},
	"who":      {"api", "app", "lib"},
	"home":     {"api", "app", "lib"},
	"problem":  {"api", "app", "lib", "solution", "notes", "kept", "pen", "figures", "blocks", "data"},
	"try":      {"api", "app", "lib", "solution", "figures", "blocks", "problem"},
	"tables":   {"api", "app", "lib"},
	"report":   {"api", "app", "lib", "solution", "blocks", "problem"},
	"page":     {"api", "app", "lib", "kept", "problem", "try", "data", "who", "classes"},
	"classes":  {"api", "app", "lib", "solution", "blocks", "problem", "try"},
}

func TestImportsOfTheBrowserPointOneWay(t *testing.T) {
	const root = "../web/src"
	folders, err := os.ReadDir(root)
	require.NoError(t, err)
	imported := regexp.MustCompile(`(?:from|import\() ?"\.\./(\w+)/`)
	for _, folder := range folders {
		if !folder.IsDir() {
			continue // the program itself, which knows all pages
		}
		allowed, known := mayInBrowser[folder.Name()]
		require.True(t, known, folder.Name())
		files, err := filepath.Glob(filepath.Join(root, folder.Name(), "*.ts*"))
		require.NoError(t, err)
		require.NotEmpty(t, files)
		for _, file := range files {
			text, err := os.ReadFile(file)
			require.NoError(t, err)
			for _, match := range imported.FindAllStringSubmatch(string(text), -1) {
				assert.Contains(t, allowed, match[1], "%s imports %s", file, match[1])
			}
		}
	}
}

// helpers are packages of tests.
var helpers = []string{"localpg/pgtest", "procedure/proctest", "bundle/bundletest"}

// Every package of ours below the server is in the list.
func TestTheListIsComplete(t *testing.T) {
	out, err := exec.Command("go", "list", "./...").Output()
	require.NoError(t, err)
	for _, path := range strings.Fields(string(out)) {
		name := strings.TrimPrefix(path, "grund/internal/")
		if path == "grund/internal" || name == "server" || slices.Contains(helpers, name) {
			continue
		}
		assert.Contains(t, may, name)
	}
}
