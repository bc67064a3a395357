package main

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheTypesAreFresh(t *testing.T) {
	var out strings.Builder
	require.NoError(t, generate(&out, "../.."))
	kept, err := os.ReadFile("../../web/src/api/types.ts")
	require.NoError(t, err)
	assert.Equal(t, string(kept), out.String(), "run make types")
}

func TestWhatIsWritten(t *testing.T) {
	var out strings.Builder
	require.NoError(t, generate(&out, "../.."))
	for _, line := range []string{
		`export type Tail = "both" | "left" | "right";`,
		`  value: number | null;`,
		`  decision: Decision | null;`,
		`  kind: "prose";`,
		"export type Block =\n  | Prose\n  | FormulaBlock",
	} {
		assert.Contains(t, out.String(), line)
	}
}
