package data

import (
	"sort"
	"strings"
)

// describing names the table of a spreadsheet that holds what is known of the
// columns, and describers are its columns.
const describing = "variables"

var describers = []string{"name", "label", "unit", "kind", "levels", "level names"}

// described returns the second table of a spreadsheet.
func (s *Set) described() [][]string {
	rows := [][]string{describers}
	for j, name := range s.writtenNames() {
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
		rows = append(rows, []string{name, c.Label, c.UnitText(), string(c.kind()), strings.Join(levels, "; "), strings.Join(names, "; ")})
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

// items takes a list of items, or of pairs of items, apart.
func items(list string) [][]string {
	var out [][]string
	var pair []string
	var item strings.Builder
	quoted, wasQuoted := false, false
	finish := func() {
		text := item.String()
		if !wasQuoted {
			text = strings.TrimSpace(text)
		}
		pair = append(pair, text)
		item.Reset()
		wasQuoted = false
	}
	runes := []rune(list)
	for i := 0; i < len(runes); i++ {
		r := runes[i]
		switch {
		case quoted && r == '"' && i+1 < len(runes) && runes[i+1] == '"':
			item.WriteRune('"')
			i++
		case r == '"':
			if !quoted {
				item.Reset()
			}
			quoted, wasQuoted = !quoted, true
		case quoted:
			item.WriteRune(r)
		case r == '=':
			finish()
		case r == ';':
			finish()
			out = append(out, pair)
			pair = nil
		case !wasQuoted:
			item.WriteRune(r)
		}
	}
	if finish(); strings.TrimSpace(list) != "" {
		out = append(out, pair)
	}
	return out
}

// describe takes up what a spreadsheet's second table says of the columns.
func (s *Set) describe(rows [][]string) {
	for _, row := range rows[1:] {
		if len(row) == 0 {
			continue
		}
		row = append(append([]string{}, row...), make([]string, len(describers))...)
		c := s.Find(row[0])
		if c == nil {
			continue
		}
		c.Label, c.Unit = row[1], row[2]
		switch kind := Kind(row[3]); kind {
		case Number, Category, Identifier:
			c.Kind = kind
		}
		for _, level := range items(row[4]) {
			c.Levels = append(c.Levels, level[0])
		}
		for _, pair := range items(row[5]) {
			if len(pair) == 2 {
				if c.LevelNames == nil {
					c.LevelNames = map[string]string{}
				}
				c.LevelNames[pair[0]] = pair[1]
			}
		}
	}
}

// isDescription reports whether a table is one that describes columns.
func isDescription(rows [][]string) bool {
	if len(rows) == 0 || len(rows[0]) < len(describers) {
		return false
	}
	for i, name := range describers {
		if rows[0][i] != name {
			return false
		}
	}
	return true
}
