package tables

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/words"
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

// name names the variable inside a sentence.
func (m *margin) name() string { return words.InSentence(m.title) }

// crossedCase is a case that is counted.
type crossedCase struct {
	row          int // in the data, from 1
	down, across int // places of its levels
}

// The roles and options of every procedure of this package.
var (
	rowRole = describe.Role{
		ID: "row", Label: "Rows", Says: "the category whose levels are the rows", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1,
	}
	columnRole = describe.Role{
		ID: "column", Label: "Columns", Says: "the category whose levels are the columns", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1,
	}
)

// levelOptions are how the levels of a table are joined, left out and ordered, and what each row is
// compared with for itself.
type levelOptions struct {
	join, omit, order describe.Sides
	within            []float64
}

func (o *levelOptions) fields() []describe.Option {
	return []describe.Option{
		describe.Join(&o.join, describe.Option{ID: "join", Label: "Joined levels", Says: "Levels of a variable that are taken as one."}),
		describe.Omit(&o.omit, describe.Option{ID: "omit", Label: "Levels left out", Says: "Levels of a variable whose cases are left out."}),
		describe.Order(&o.order, describe.Option{
			ID: "order", Label: "Order of levels", Says: "Levels of a variable that come first, in this order; the others follow as they are.",
		}),
	}
}

// fits reports whether both variables of a table have two levels or more.
func fits(assigned describe.Assigned) bool {
	return cases.Used(assigned["row"][0]) >= 2 && cases.Used(assigned["column"][0]) >= 2
}

// readCrossed returns the table with levels joined, left out and in order.
func readCrossed(p *problem.Problem, o *levelOptions) (*crossed, error) {
	t := &crossed{}
	var err error
	if p.Data.Counts != nil {
		err = t.readCounts(p.Data.Counts, o)
	} else {
		err = t.readCases(p, o)
	}
	if err != nil {
		return nil, err
	}
	return t, t.dropEmpty()
}

// mostGiven is how many levels a margin may have before some are joined and left out.
const mostGiven = 10_000

// place gives the levels of both margins their places, and makes room for the counts.
func (t *crossed) place(down, across []level, o *levelOptions) error {
	for _, margin := range []struct {
		side, title string
		levels      int
	}{{"row", t.row.title, len(down)}, {"column", t.column.title, len(across)}} {
		if margin.levels > mostGiven {
			return problem.TooMany(t.side(margin.side), fmt.Sprintf("“%s” has %d levels", words.Shorten(margin.title), margin.levels), mostGiven,
				"choose another variable, or recode it into fewer levels")
		}
	}
	if err := t.row.place(down, "rows", o.join.Rows, o.omit.Rows, o.order.Rows); err != nil {
		return err
	}
	if err := t.column.place(across, "columns", o.join.Columns, o.omit.Columns, o.order.Columns); err != nil {
		return err
	}
	if rows, columns := len(t.row.levels), len(t.column.levels); rows*columns > problem.MaxCells {
		return problem.TooMany(t.pointer(), fmt.Sprintf("the table has %d rows and %d columns, %d cells", rows, columns, rows*columns),
			problem.MaxCells, "join levels, leave some out, or choose another variable")
	}
	t.counts = make([][]int, len(t.row.levels))
	for i := range t.counts {
		t.counts[i] = make([]int, len(t.column.levels))
	}
	return nil
}

func (t *crossed) readCounts(c *problem.Counts, o *levelOptions) error {
	if c.Rows == nil {
		return problem.Errors{{
			Pointer: "/data/counts", Says: "counts of one variable are given, and a table of two is needed",
			Instead: "give “rows”, “columns” and “cells”",
		}}
	}
	t.row.title, t.column.title = "row", "column"
	if h := c.RowVariable; h != nil && h.Label != "" {
		t.row.title = h.Label
	}
	if h := c.ColumnVariable; h != nil && h.Label != "" {
		t.column.title = h.Label
	}
	down, across := labelled(c.Rows), labelled(c.Columns)
	if err := t.place(down, across, o); err != nil {
		return err
	}
	for i, row := range c.Cells {
		for j, count := range row {
			t.given += int(count)
			if down[i].place >= 0 && across[j].place >= 0 {
				t.counts[down[i].place][across[j].place] += int(count)
				t.used += int(count)
			}
		}
	}
	return nil
}

func (t *crossed) readCases(p *problem.Problem, o *levelOptions) error {
	row, column := p.Data.Variables.Find(p.Roles["row"][0]), p.Data.Variables.Find(p.Roles["column"][0])
	t.row.title, t.column.title, t.given, t.cases = row.Title(), column.Title(), row.Len(), []crossedCase{}
	down, across := levelsOf(row), levelsOf(column)
	if err := t.place(down, across, o); err != nil {
		return err
	}
	for _, i := range data.Complete(p.LeftOutCases(), row, column) {
		one := crossedCase{i + 1, down[row.Codes[i]].place, across[column.Codes[i]].place}
		if one.down < 0 || one.across < 0 {
			continue
		}
		t.counts[one.down][one.across]++
		t.used++
		t.cases = append(t.cases, one)
	}
	return nil
}

// pointer is where the counts stand in the problem, or where the cases come from.
func (t *crossed) pointer() string {
	if t.cases != nil {
		return "/roles/row"
	}
	return "/data/counts/cells"
}

// side is where the row or column variable stands in the problem, or its labels.
func (t *crossed) side(side string) string {
	if t.cases != nil {
		return "/roles/" + side
	}
	return "/data/counts/" + side + "s"
}

// dropEmpty drops rows and columns without a case, and refuses a table that is too small.
func (t *crossed) dropEmpty() error {
	if t.used == 0 {
		return problem.Errors{{Pointer: t.pointer(), Says: "nothing is counted in the table",
			Instead: "give counts above 0, or cases that have both values"}}
	}
	rows := t.keepFilled(&t.row, func(i int) int {
		sum := 0
		for _, count := range t.counts[i] {
			sum += count
		}
		return sum
	})
	columns := t.keepFilled(&t.column, func(j int) int {
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
	if err := t.needTwo(&t.row, "row"); err != nil {
		return err
	}
	return t.needTwo(&t.column, "column")
}

// keepFilled keeps the levels of a margin that have cases, and returns their places.
func (t *crossed) keepFilled(m *margin, total func(i int) int) (kept []int) {
	var dropped []string
	for i, name := range m.levels {
		if total(i) == 0 {
			dropped = append(dropped, "“"+words.Shorten(name)+"”")
			continue
		}
		kept = append(kept, i)
	}
	if dropped != nil {
		t.notes = append(t.notes, fmt.Sprintf("Of %s no case is %s: left away, as nothing can be expected there.", m.title,
			strings.Join(dropped, " or ")))
	}
	m.keep(kept)
	return kept
}

// needTwo refuses a margin of fewer than two levels.
func (t *crossed) needTwo(m *margin, side string) error {
	if len(m.levels) >= 2 {
		return nil
	}
	return problem.Errors{{
		Pointer: t.side(side), Instead: "choose another variable, or join and leave out fewer levels",
		Says: fmt.Sprintf("“%s” has %s with cases, and two or more are compared", words.Shorten(m.title), words.Count(len(m.levels), "level")),
	}}
}

// twoByTwo reports whether the table has two rows and two columns.
func (t *crossed) twoByTwo() bool { return len(t.row.levels) == 2 && len(t.column.levels) == 2 }
