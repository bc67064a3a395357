package data

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
)

// The reshapings make a new data set and leave the one that they are made from
// as it is.

// Stack turns one column a group into one column of responses and one of groups,
// with those names. The columns may differ in length.
func (s *Set) Stack(columns []int, response, group string) (*Set, error) {
	if len(columns) < 2 {
		return nil, errors.New("choose at least two columns to put under each other")
	}
	values := &Column{Name: response, Label: s.Response.Label, Unit: s.Response.Unit, Kind: Number, Cells: []string{}}
	groups := &Column{Name: group, Label: s.Group.Label, Kind: Category, Cells: []string{}}
	for _, at := range columns {
		if at < 0 || at >= len(s.Columns) {
			return nil, fmt.Errorf("there is no column %d", at+1)
		}
		c := s.Columns[at]
		name := strings.TrimSpace(c.Name)
		if name == "" || slices.Contains(groups.Levels, name) {
			return nil, fmt.Errorf("column %d needs a name of its own: it becomes the name of a group", at+1)
		}
		groups.Levels = append(groups.Levels, name)
		if values.Unit == "" {
			values.Unit, values.Scale = c.Unit, c.Scale
		}
		for _, cell := range c.Cells {
			if strings.TrimSpace(cell) != "" {
				values.Cells = append(values.Cells, cell)
				groups.Cells = append(groups.Cells, name)
			}
		}
	}
	return s.like(FormCases, groups, values), nil
}

// Unstack turns a column of responses and one of groups into one column a group.
func (s *Set) Unstack(response, group string) (*Set, error) {
	values, factor := s.Find(response), s.Find(group)
	if values == nil || factor == nil || values == factor {
		return nil, errors.New("choose a column of responses and another of groups")
	}
	n := s.Rows()
	v, mistakes := factor.asCategory(n)
	if len(mistakes) > 0 {
		return nil, fmt.Errorf("row %d of “%s”: %s", mistakes[0].Case+1, group, mistakes[0].Says)
	}
	if len(v.Levels) > 200 {
		return nil, fmt.Errorf("“%s” has %d different values, too many for one column each", group, len(v.Levels))
	}
	columns := make([]*Column, len(v.Levels))
	for i, level := range v.Levels {
		columns[i] = &Column{Name: level.Name, Kind: Number, Unit: values.Unit, Scale: values.Scale, Cells: []string{}}
	}
	for i, cell := range values.padded(n) {
		if v.Codes[i] >= 0 && strings.TrimSpace(cell) != "" {
			columns[v.Codes[i]].Cells = append(columns[v.Codes[i]].Cells, cell)
		}
	}
	out := s.like(FormGroups, columns...)
	out.Response = Heading{Label: values.title(), Unit: values.UnitText()}
	out.Group = Heading{Label: factor.title()}
	return out, nil
}

// asCategory reads a column as a category, whatever its kind.
func (c *Column) asCategory(n int) (*Variable, []CellMistake) {
	as := *c
	as.Kind = Category
	return as.variable(n)
}

func (c *Column) title() string {
	if label := strings.TrimSpace(c.Label); label != "" {
		return label
	}
	return strings.TrimSpace(c.Name)
}

// like returns a data set of other columns that has the name of this one.
func (s *Set) like(form Form, columns ...*Column) *Set {
	out := &Set{Name: s.Name, About: s.About, Form: form, Columns: columns}
	out.AssignKeys()
	return out
}

// Take returns the data set with n of its cases, in their order: the first, or,
// with a seed, drawn at random without replacement. The same seed draws the same
// cases.
func (s *Set) Take(n int, seed *uint64) (*Set, error) {
	rows := s.Rows()
	if n < 1 || n > rows {
		return nil, fmt.Errorf("there are %d cases to take from; write a whole number from 1 to %d", rows, rows)
	}
	picked := make([]int, rows)
	for i := range picked {
		picked[i] = i
	}
	if seed != nil {
		rng := rand.New(rand.NewPCG(*seed, 0))
		rng.Shuffle(rows, func(i, j int) { picked[i], picked[j] = picked[j], picked[i] })
	}
	picked = picked[:n]
	slices.Sort(picked)
	return s.Rearranged(picked), nil
}

// Rearranged returns the data set with the given rows, in that order. Derived
// columns keep the values that they have, as a column of plain cells.
func (s *Set) Rearranged(rows []int) *Set {
	n := s.Rows()
	columns := make([]*Column, len(s.Columns))
	for i, c := range s.Columns {
		column := *c
		column.Formula, column.Recode = "", nil
		cells := c.padded(n)
		column.Cells = make([]string, len(rows))
		for j, row := range rows {
			column.Cells[j] = cells[row]
		}
		columns[i] = &column
	}
	out := s.like(s.Form, columns...)
	out.Response, out.Group = s.Response, s.Group
	return out
}

// Count counts the cases of one category, or of two crossed, into a table of
// counts. column is "" for one.
func (s *Set) Count(row, column string) (*Set, error) {
	n := s.Rows()
	rows, err := s.category(row, n)
	if err != nil {
		return nil, err
	}
	labels := &Column{Name: row, Label: s.Find(row).Label, Kind: Category, Cells: []string{}}
	for _, level := range rows.Levels {
		labels.Cells = append(labels.Cells, level.Name)
	}
	columns := &Variable{Levels: []Level{{"count", "count"}}, Codes: make([]int, n)}
	heading := Heading{}
	if column != "" {
		if columns, err = s.category(column, n); err != nil {
			return nil, err
		}
		heading.Label = s.Find(column).title()
	}
	counts := make([][]int, len(columns.Levels))
	for i := range counts {
		counts[i] = make([]int, len(rows.Levels))
	}
	for i := range n {
		if !rows.Missing(i) && columns.Codes[i] >= 0 {
			counts[columns.Codes[i]][rows.Codes[i]]++
		}
	}
	out := s.like(FormCounts, labels)
	for i, level := range columns.Levels {
		c := &Column{Name: level.Name, Kind: Number, Cells: make([]string, len(rows.Levels))}
		for j, count := range counts[i] {
			c.Cells[j] = fmt.Sprint(count)
		}
		out.Columns = append(out.Columns, c)
	}
	out.Group = heading
	out.AssignKeys()
	return out, nil
}

// category returns the named column as a category of at most 200 levels.
func (s *Set) category(name string, n int) (*Variable, error) {
	c := s.Find(name)
	if c == nil {
		return nil, fmt.Errorf("there is no column “%s”", name)
	}
	v, mistakes := c.asCategory(n)
	if len(mistakes) > 0 {
		return nil, fmt.Errorf("row %d of “%s”: %s", mistakes[0].Case+1, name, mistakes[0].Says)
	}
	if len(v.Levels) > 200 {
		return nil, fmt.Errorf("“%s” has %d different values, too many for a table", name, len(v.Levels))
	}
	return v, nil
}

// OpenOut turns a table of counts into cases, a row for each that was counted.
func (s *Set) OpenOut() (*Set, error) {
	rows, columns, counts, mistakes := s.Table()
	if len(mistakes) > 0 {
		return nil, errors.New(mistakes[0].Says + "; " + mistakes[0].Instead)
	}
	total := 0.0
	for _, row := range counts {
		for _, count := range row {
			total += count
		}
	}
	if total > MaxRows {
		return nil, fmt.Errorf("that would be %.0f cases, more than the %d that can be kept", total, MaxRows)
	}
	first := &Column{Name: s.Columns[0].title(), Kind: Category, Levels: rows, Cells: make([]string, 0, int(total))}
	if first.Name == "" {
		first.Name = "row"
	}
	second := &Column{Name: s.Group.Label, Kind: Category, Levels: columns, Cells: make([]string, 0, int(total))}
	if second.Name == "" {
		second.Name = "column"
	}
	for i, row := range counts {
		for j, count := range row {
			for range int(count) {
				first.Cells = append(first.Cells, rows[i])
				second.Cells = append(second.Cells, columns[j])
			}
		}
	}
	if len(columns) == 1 {
		return s.like(FormCases, first), nil
	}
	return s.like(FormCases, first, second), nil
}

// LooksLikeCounts reports whether a sheet is a table of counts: distinct words in
// the first column, names over all others, and nothing but whole numbers from 0 up
// under them. A table of two columns is one where the second says that it counts.
func (s *Sheet) LooksLikeCounts() bool {
	if !s.Header || len(s.Columns) < 2 || len(s.Columns[0]) < 2 || len(s.Columns[0]) > 200 {
		return false
	}
	if len(s.Columns) == 2 && !slices.Contains([]string{"count", "counts", "number", "frequency", "observed", "items", "n"},
		strings.ToLower(s.Names[1])) {
		return false
	}
	seen := map[string]bool{}
	for _, label := range s.Columns[0] {
		if label == "" || seen[label] || (Style{}).reads(label) {
			return false
		}
		seen[label] = true
	}
	for _, column := range s.Columns[1:] {
		for _, cell := range column {
			if x, err := ParseNumber(cell); err != nil || x < 0 || x != float64(int64(x)) {
				return false
			}
		}
	}
	return true
}

// WithoutTotals returns a table of counts without a last row or column that is
// the sum of the others, and whether there was one.
func (s *Sheet) WithoutTotals() (*Sheet, bool) {
	number := func(c, r int) float64 { x, _ := ParseNumber(s.Columns[c][r]); return x }
	rows, columns := len(s.Columns[0]), len(s.Columns)
	lastColumn := columns > 3
	for r := range rows {
		sum := 0.0
		for c := 1; c < columns-1; c++ {
			sum += number(c, r)
		}
		lastColumn = lastColumn && sum == number(columns-1, r)
	}
	lastRow := rows > 2
	for c := 1; c < columns; c++ {
		sum := 0.0
		for r := range rows - 1 {
			sum += number(c, r)
		}
		lastRow = lastRow && sum == number(c, rows-1)
	}
	out := *s
	if lastColumn {
		out.Columns, out.Names = s.Columns[:columns-1], s.Names[:columns-1]
	}
	if lastRow {
		cut := make([][]string, len(out.Columns))
		for i, column := range out.Columns {
			cut[i] = column[:rows-1]
		}
		out.Columns = cut
	}
	return &out, lastColumn || lastRow
}

// LooksTurned reports whether each row of a sheet seems to be a group: a word, and
// then at least three numbers.
func (s *Sheet) LooksTurned() bool {
	if s.Header || len(s.Columns) < 4 || len(s.Columns[0]) > 50 {
		return false
	}
	seen := map[string]bool{}
	for r, label := range s.Columns[0] {
		if label == "" || seen[label] || (Style{}).reads(label) {
			return false
		}
		seen[label] = true
		for _, column := range s.Columns[1:] {
			if column[r] != "" && !(Style{}).reads(column[r]) {
				return false
			}
		}
	}
	return true
}
