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
	"data":       {},
	"formula":    {"stats/dist"},
	"problem":    {"data"},
	"working":    {"problem", "data", "formula", "stats", "stats/dist"},
	"procedure":  {"working", "problem", "data", "formula", "stats", "stats/dist"},
	"localpg":    {},
	"store":      {"problem", "data"},
}

// forbidden are packages that nothing below the server may know.
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
		}
		if name == "store" || name == "localpg" {
			continue
		}
		out, err = exec.Command("go", "list", "-deps", "grund/internal/"+name).Output()
		require.NoError(t, err, name)
		for _, dependency := range strings.Fields(string(out)) {
			assert.False(t, slices.Contains(forbidden, dependency), "%s depends on %s", name, dependency)
		}
	}
}
