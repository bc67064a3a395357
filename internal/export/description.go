package export

import (
	"sort"
	"strings"

	"grund/internal/data"
)

// described returns the second table of a spreadsheet.
func described(s *data.Set) [][]string {
	rows := [][]string{data.Describers}
	kinds := s.Kinds()
	for j, name := range writtenNames(s) {
		c := s.Columns[j]
		var names []string
		for code, name := range c.LevelNames {
			names = append(names, quoteItem(code)+" = "+quoteItem(name))
		}
		sort.Strings(names)
		levels := make([]string, len(c.Levels))
		for i, level := range c.Levels {
			levels[i] = quoteItem(level)
		}
		rows = append(rows, []string{name, c.Label, c.UnitText(), string(kinds[j]), strings.Join(levels, "; "), strings.Join(names, "; ")})
	}
	return rows
}

// quoteItem writes an item of a list so that the list can be taken apart again.
func quoteItem(item string) string {
	if strings.ContainsAny(item, `;="`) || strings.TrimSpace(item) != item || item == "" {
		return `"` + strings.ReplaceAll(item, `"`, `""`) + `"`
	}
	return item
}
