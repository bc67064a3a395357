package data

import (
	"strings"
)

// Describing names the table of a spreadsheet that holds what is known of the
// columns.
const Describing = "variables"

// Describers are the columns of that table.
var Describers = []string{"name", "label", "unit", "kind", "levels", "level names"}

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
		row = append(append([]string{}, row...), make([]string, len(Describers))...)
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
	if len(rows) == 0 || len(rows[0]) < len(Describers) {
		return false
	}
	for i, name := range Describers {
		if rows[0][i] != name {
			return false
		}
	}
	return true
}
