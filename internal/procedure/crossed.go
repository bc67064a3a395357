package procedure

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
)

// crossed is a two-way table of counts, from cases or as it was given.
type crossed struct {
	row, column margin
	counts      [][]int
	given, used int
	cases       []crossedCase // nil where only counts are given
	notes       []string      // rows and columns that were dropped
}

// margin is a variable of the table with its levels.
type margin struct {
	title  string
	levels []string   // names, in order
	parts  [][]string // the names of the levels that each was joined from, or its own alone
}

// crossedCase is a case that is counted.
type crossedCase struct {
	row          int // in the data, from 1
	down, across int // places of its levels
}

// What tests of two-way tables have in common.
var (
	rowRole     = Role{ID: "row", Label: "Rows", Says: "the category whose levels are the rows", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1}
	columnRole  = Role{ID: "column", Label: "Columns", Says: "the category whose levels are the columns", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1}
	joinOption  = Option{ID: "join", Label: "Joined levels", Type: JoinOption, Says: "Levels of a variable that are taken as one."}
	omitOption  = Option{ID: "omit", Label: "Levels left out", Type: OmitOption, Says: "Levels of a variable whose cases are left out."}
	orderOption = Option{ID: "order", Label: "Order of levels", Type: OrderOption, Says: "Levels of a variable that come first, in this order; the others follow as they are."}
)

// fitsCrossed reports whether both variables of a table have two levels or more.
func fitsCrossed(assigned map[string][]*data.Variable) bool {
	return used(assigned["row"][0]) >= 2 && used(assigned["column"][0]) >= 2
}

// level is a level of a margin as it is given: its names and the place that it has after
// levels were joined and left out, −1 where it was left out.
type level struct {
	names []string // its code and its name
	place int
}

// readCrossed returns the table with levels joined, left out and in order.
func readCrossed(p *problem.Problem, options Options) (*crossed, error) {
	join, _ := options["join"].(levelGroups)
	omit, _ := options["omit"].(levelGroups)
	order, _ := options["order"].(levelGroups)
	t := &crossed{}
	var down, across []level
	var err error
	if c := p.Data.Counts; c != nil {
		if c.Rows == nil {
			return nil, problem.Errors{{Pointer: "/data/counts", Says: "counts of one variable are given, and a table of two is needed", Instead: "give “rows”, “columns” and “cells”"}}
		}
		t.row.title, t.column.title = "row", "column"
		if h := c.RowVariable; h != nil && h.Label != "" {
			t.row.title = h.Label
		}
		if h := c.ColumnVariable; h != nil && h.Label != "" {
			t.column.title = h.Label
		}
		if down, err = t.row.place(namesOf(c.Rows), "rows", join.rows, omit.rows, order.rows); err != nil {
			return nil, err
		}
		if across, err = t.column.place(namesOf(c.Columns), "columns", join.columns, omit.columns, order.columns); err != nil {
			return nil, err
		}
		t.makeCounts()
		for i, row := range c.Cells {
			for j, count := range row {
				t.given += int(count)
				if down[i].place >= 0 && across[j].place >= 0 {
					t.counts[down[i].place][across[j].place] += int(count)
					t.used += int(count)
				}
			}
		}
		return t, t.dropEmpty()
	}
	row, column := p.Data.Variables.Find(p.Roles["row"][0]), p.Data.Variables.Find(p.Roles["column"][0])
	t.row.title, t.column.title, t.given = row.Title(), column.Title(), row.Len()
	if down, err = t.row.place(levelsOf(row), "rows", join.rows, omit.rows, order.rows); err != nil {
		return nil, err
	}
	if across, err = t.column.place(levelsOf(column), "columns", join.columns, omit.columns, order.columns); err != nil {
		return nil, err
	}
	t.makeCounts()
	t.cases = []crossedCase{}
	for _, i := range data.Complete(p.LeftOutCases(), row, column) {
		one := crossedCase{i + 1, down[row.Codes[i]].place, across[column.Codes[i]].place}
		if one.down < 0 || one.across < 0 {
			continue
		}
		t.counts[one.down][one.across]++
		t.used++
		t.cases = append(t.cases, one)
	}
	return t, t.dropEmpty()
}

func (t *crossed) makeCounts() {
	t.counts = make([][]int, len(t.row.levels))
	for i := range t.counts {
		t.counts[i] = make([]int, len(t.column.levels))
	}
}

// namesOf returns levels that are known by their label alone.
func namesOf(labels []string) []level {
	out := make([]level, len(labels))
	for i, label := range labels {
		out[i].names = []string{label}
	}
	return out
}

// levelsOf returns the levels of a variable, known by their code and their name.
func levelsOf(v *data.Variable) []level {
	out := make([]level, len(v.Levels))
	for i, l := range v.Levels {
		out[i].names = []string{l.Code, l.Name}
	}
	return out
}

// place gives each level its place after levels were joined and left out, and the margin
// the names of what is left. A joined level stands where its first one stood, unless order
// names one of its levels.
func (m *margin) place(levels []level, side string, join, omit, order [][]string) ([]level, error) {
	find := func(option, wanted string) (int, error) {
		at := slices.IndexFunc(levels, func(l level) bool { return l.names[0] == wanted })
		if at < 0 {
			at = slices.IndexFunc(levels, func(l level) bool { return slices.Contains(l.names, wanted) })
		}
		if at < 0 {
			var known []string
			for _, l := range levels {
				known = append(known, l.names[len(l.names)-1])
			}
			return 0, problem.Errors{problem.Unknown(problem.Pointer("options", option, side), "level of “"+problem.Shorten(m.title)+"”", wanted, known)}
		}
		return at, nil
	}
	out := make([]bool, len(levels))
	for _, single := range omit {
		at, err := find("omit", single[0])
		if err != nil {
			return nil, err
		}
		out[at] = true
	}
	first := make([]int, len(levels)) // of those that it is joined with
	for i := range first {
		first[i] = i
	}
	joined := map[int]bool{}
	for _, group := range join {
		var places []int
		for _, name := range group {
			at, err := find("join", name)
			if err != nil {
				return nil, err
			}
			pointer := problem.Pointer("options", "join", side)
			switch {
			case joined[at]:
				return nil, problem.Errors{{Pointer: pointer, Says: fmt.Sprintf("“%s” is joined twice", problem.Shorten(name)), Instead: "name each level once"}}
			case out[at]:
				return nil, problem.Errors{{Pointer: pointer, Says: fmt.Sprintf("“%s” is joined and left out", problem.Shorten(name)), Instead: "do one of the two"}}
			}
			joined[at] = true
			places = append(places, at)
		}
		for _, at := range places {
			first[at] = slices.Min(places)
		}
	}
	for i := range levels {
		levels[i].place = -1
		name := levels[i].names[len(levels[i].names)-1]
		switch {
		case out[i]:
		case first[i] < i:
			levels[i].place = levels[first[i]].place
			at := levels[i].place
			m.levels[at] += " + " + name
			m.parts[at] = append(m.parts[at], name)
		default:
			levels[i].place = len(m.levels)
			m.levels, m.parts = append(m.levels, name), append(m.parts, []string{name})
		}
	}
	var places []int // before, in the order of those after
	named := make([]bool, len(levels))
	for _, single := range order {
		at, err := find("order", single[0])
		if err != nil {
			return nil, err
		}
		if named[at] {
			return nil, problem.Errors{{Pointer: problem.Pointer("options", "order", side), Says: fmt.Sprintf("“%s” is named twice", problem.Shorten(single[0])), Instead: "name each level once"}}
		}
		named[at] = true
		if place := levels[at].place; place >= 0 && !slices.Contains(places, place) {
			places = append(places, place)
		}
	}
	for place := range m.levels {
		if !slices.Contains(places, place) {
			places = append(places, place)
		}
	}
	m.keep(places)
	for i := range levels {
		levels[i].place = slices.Index(places, levels[i].place)
	}
	return levels, nil
}

// keep keeps the levels at the given places, in that order.
func (m *margin) keep(places []int) {
	levels, parts := make([]string, len(places)), make([][]string, len(places))
	for after, before := range places {
		levels[after], parts[after] = m.levels[before], m.parts[before]
	}
	m.levels, m.parts = levels, parts
}

// pointer is where the counts stand in the problem, or where the cases come from.
func (t *crossed) pointer() string {
	if t.cases != nil {
		return "/roles/row"
	}
	return "/data/counts/cells"
}

// dropEmpty drops rows and columns without a case, and refuses a table that is too small.
func (t *crossed) dropEmpty() error {
	if t.used == 0 {
		return problem.Errors{{Pointer: t.pointer(), Says: "nothing is counted in the table", Instead: "give counts above 0, or cases that have both values"}}
	}
	empty := func(m *margin, total func(i int) int) (kept []int) {
		var dropped []string
		for i, name := range m.levels {
			if total(i) == 0 {
				dropped = append(dropped, "“"+problem.Shorten(name)+"”")
				continue
			}
			kept = append(kept, i)
		}
		if dropped != nil {
			t.notes = append(t.notes, fmt.Sprintf("Of %s no case is %s: left away, as nothing can be expected there.", m.title, strings.Join(dropped, " or ")))
		}
		m.keep(kept)
		return kept
	}
	rows := empty(&t.row, func(i int) int {
		sum := 0
		for _, count := range t.counts[i] {
			sum += count
		}
		return sum
	})
	columns := empty(&t.column, func(j int) int {
		sum := 0
		for _, row := range t.counts {
			sum += row[j]
		}
		return sum
	})
	counts := make([][]int, len(rows))
	for i, from := range rows {
		for _, j := range columns {
			counts[i] = append(counts[i], t.counts[from][j])
		}
	}
	t.counts = counts
	for i := range t.cases {
		t.cases[i].down, t.cases[i].across = slices.Index(rows, t.cases[i].down), slices.Index(columns, t.cases[i].across)
	}
	for i, m := range []*margin{&t.row, &t.column} {
		if len(m.levels) < 2 {
			side := []string{"row", "column"}[i]
			at := "/data/counts/" + side + "s"
			if t.cases != nil {
				at = "/roles/" + side
			}
			return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” has %s with cases, and two or more are compared", problem.Shorten(m.title), count(len(m.levels), "level")), Instead: "choose another variable, or join and leave out fewer levels"}}
		}
	}
	return nil
}

// twoByTwo reports whether the table has two rows and two columns.
func (t *crossed) twoByTwo() bool { return len(t.row.levels) == 2 && len(t.column.levels) == 2 }
