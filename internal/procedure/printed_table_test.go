package procedure_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The marked cell is the entry that statistical tables have there (D. V. Lindley and
// W. F. Scott, New Cambridge Statistical Tables, 1984: normal curve, t, F, signed ranks
// and the statistic of Mann and Whitney).
func TestPrintedTables(t *testing.T) {
	numbers := func(n int) string {
		text := "1"
		for i := 1; i < n; i++ {
			text += fmt.Sprintf(",%d.5", i*i%17+i)
		}
		return text
	}
	groups := func(n1, n2 int) string {
		text := `"a"`
		for i := 1; i < n1+n2; i++ {
			text += map[bool]string{true: `,"a"`, false: `,"b"`}[i < n1]
		}
		return text
	}
	one := func(procedure, options string, n int) string {
		return fmt.Sprintf(`{"grund":1,"procedure":%q,"roles":{"response":"x"},%s"data":{"variables":[{"name":"x","kind":"number",`+
			`"values":[%s]}]}}`, procedure, options, numbers(n))
	}
	two := func(procedure, options string, n1, n2 int) string {
		return fmt.Sprintf(`{"grund":1,"procedure":%q,"roles":{"response":"x","group":"g"},%s"data":{"variables":[{"name":"x",`+
			`"kind":"number","values":[%s]},{"name":"g","kind":"category","values":[%s]}]}}`,
			procedure, options, numbers(n1+n2), groups(n1, n2))
	}
	for name, c := range map[string]struct{ file, row, column, cell string }{
		"t, 16 degrees":    {one("t-one-sample", "", 17), "16", "0.025", "2.120"},
		"t, a skipped row": {one("t-one-sample", `"tail":"right",`, 36), "30", "0.05", "1.697"},
		"z":                {one("z-one-sample", `"options":{"sigma":2,"mean":0},`, 9), "1.9", "0.06", "0.0250"},
		"z, one tail": {one("z-one-sample", `"alpha":0.01,"tail":"left","options":{"sigma":2,"mean":0},`, 9), "2.3", "0.03",
			"0.0099"},
		"F":                       {two("variance-ratio", `"tail":"right",`, 5, 21), "20", "4", "2.87"},
		"F, the lower tail":       {two("variance-ratio", `"tail":"left",`, 21, 5), "20", "4", "2.87"},
		"F of deviations":         {two("variance-spread", "", 8, 8), "14", "1", "4.60"},
		"U, 5 and 7 in two tails": {two("rank-sum", "", 5, 7), "5", "7", "5"},
		"U, 1 and 4":              {two("rank-sum", "", 1, 4), "1", "4", "–"},
		"W, 10 in two tails":      {one("signed-rank", "", 10), "10", "0.025", "8"},
		"W, 14 in one tail":       {one("signed-rank", `"tail":"right",`, 14), "14", "0.05", "25"},
	} {
		t.Run(name, func(t *testing.T) {
			s := proctest.Work(t, c.file)
			table := s.Table("printed")
			require.NotNil(t, table)
			row, column := table.Rows()[table.Marked[0]], table.Marked[1]
			assert.Equal(t, c.row, row[0].Shown)
			assert.Equal(t, c.column, table.Columns[column].Label)
			assert.Equal(t, c.cell, row[column].Shown)
			assert.LessOrEqual(t, len(table.Rows()), 5)
			var blocks []working.Block
			for _, step := range s.Steps {
				if step.ID == working.CriticalValue {
					blocks = step.Blocks
				}
			}
			assert.Contains(t, blocks, working.Block(working.TableBlock{Table: "printed"}))
		})
	}
}

// No textbook prints a column for an area of 0.03.
func TestNoPrintedTableForAnOddAlpha(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"t-one-sample","alpha":0.06,"roles":{"response":"x"},"data":{"variables":[{"name":"x",`+
		`"kind":"number","values":[1,2,4]}]}}`)
	assert.Nil(t, s.Table("printed"))
}
