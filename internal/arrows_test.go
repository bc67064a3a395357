// Package internal's only test holds the direction of imports.
package internal

import (
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// may lists, for each package of ours, the packages of ours that it may import.
var may = map[string][]string{
	"stats/dist": {},
	"stats":      {"stats/dist"},
	"data":       {"stats"},
	"formula":    {"stats/dist"},
	"problem":    {"data"},
	"working":    {"problem", "data", "formula", "stats", "stats/dist"},
	"look":       {"working", "problem", "data", "stats", "stats/dist"},
	"procedure":  {"look", "working", "problem", "data", "formula", "stats", "stats/dist"},
	"localpg":    {},
	"store":      {"problem", "data"},
}

// forbidden are packages that nothing below the server imports. (What packages of
// others import, as the one for spreadsheets does, is theirs.)
var forbidden = []string{"net/http", "database/sql", "html/template", "github.com/jackc/pgx/v5", "github.com/labstack/echo/v5"}

func TestImportsPointOneWay(t *testing.T) {
	for name, allowed := range may {
		out, err := exec.Command("go", "list", "-f", `{{join .Imports "\n"}}`, "grund/internal/"+name).Output()
		require.NoError(t, err, name)
		for _, imported := range strings.Fields(string(out)) {
			if ours, ok := strings.CutPrefix(imported, "grund/"); ok {
				ours = strings.TrimPrefix(ours, "internal/")
				assert.True(t, slices.Contains(allowed, ours), "%s imports %s", name, ours)
			}
			if name != "store" && name != "localpg" {
				assert.False(t, slices.Contains(forbidden, imported), "%s imports %s", name, imported)
			}
		}
	}
}

// Every package of ours below the server is in the list.
func TestTheListIsComplete(t *testing.T) {
	out, err := exec.Command("go", "list", "./...").Output()
	require.NoError(t, err)
	for _, path := range strings.Fields(string(out)) {
		name := strings.TrimPrefix(path, "grund/internal/")
		if path == "grund/internal" || name == "server" || name == "localpg/pgtest" {
			continue
		}
		assert.Contains(t, may, name)
	}
}
