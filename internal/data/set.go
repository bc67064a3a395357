package data

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/words"
)

// A Set is a data set as a person keeps it: columns of cells exactly as they were
// typed, with what has been said of each. Variables makes numbers and categories
// of it.
type Set struct {
	Name     string    `json:"name"`
	About    string    `json:"about"`    // a line that says what it holds
	Form     Form      `json:"form"`     // what a row is
	Response Heading   `json:"response"` // what was measured, where a column is a group
	Group    Heading   `json:"group"`    // what the groups are, or the columns of a table of counts
	Columns  []*Column `json:"columns"`
}

// How large a data set may be.
const (
	MaxColumns = 2000
	MaxRows    = 5_000_000
	MaxCells   = 20_000_000 // rows times columns
	MaxName    = 500        // characters of a name, label, unit, title or level
	MaxCell    = 32_767     // characters of a cell, as many as spreadsheets hold
)

// Form says what the rows and columns of a data set are.
type Form string

const (
	FormCases  Form = "cases"  // a row a case, a column a variable
	FormGroups Form = "groups" // a column a group, its name the level
	FormCounts Form = "counts" // a row a category, its label in the first column, counts in the others
)

// A Heading names a variable that has no column of its own.
type Heading struct {
	Label string `json:"label,omitzero"`
	Unit  string `json:"unit,omitzero"`
}

// A Column is a column of cells as they were typed, or one that is derived from
// others by a formula or a recoding.
type Column struct {
	Key        int               `json:"key"` // names the column as long as it is there
	Name       string            `json:"name"`
	Label      string            `json:"label"`
	Unit       string            `json:"unit"`
	Scale      int               `json:"scale,omitzero"`    // the cells are in so many units: 100 for “hundreds of crowns”; 0 is 1
	Decimals   *int              `json:"decimals,omitzero"` // with which numbers are shown; as typed when nil
	Kind       Kind              `json:"kind"`
	Levels     []string          `json:"levels,omitempty"`
	LevelNames map[string]string `json:"level_names,omitempty"`
	Formula    string            `json:"formula,omitzero"`
	Recode     *Recode           `json:"recode,omitzero"`
	Cells      []string          `json:"cells"`
}

// Derived reports whether the column follows from others.
func (c *Column) Derived() bool { return c.Formula != "" || c.Recode != nil }

// Scales are the multiples of a unit in which values may be given, with their names.
var Scales = []struct {
	Value int
	Name  string
}{{10, "tens"}, {100, "hundreds"}, {1000, "thousands"}, {1_000_000, "millions"}}

// PlainUnit returns the unit that a unit in a sentence is a multiple of, and how many of it one is: crowns,
// and 100, of “hundreds of crowns”. Of other units that is the unit itself, and 1.
func PlainUnit(unit string) (plain string, scale int) {
	for _, s := range Scales {
		if rest, ok := strings.CutPrefix(unit, s.Name+" of "); ok && rest != "" {
			return rest, s.Value
		}
	}
	return unit, 1
}

// UnitText returns the unit as it stands in a sentence: “min”, “hundreds of crowns”.
func (c *Column) UnitText() string {
	unit := strings.TrimSpace(c.Unit)
	for _, scale := range Scales {
		if scale.Value == c.Scale && unit != "" {
			return scale.Name + " of " + unit
		}
	}
	return unit
}

// kind returns what the column is: as said, or else as guessed from its cells.
func (c *Column) kind() Kind {
	if c.Kind == Undecided {
		return GuessKind(c.Cells)
	}
	return c.Kind
}

// Kinds returns what each column is.
func (s *Set) Kinds() []Kind {
	kinds := make([]Kind, len(s.Columns))
	for i, c := range s.Columns {
		kinds[i] = c.kind()
	}
	return kinds
}

// Rows returns the number of rows up to the last that holds something.
func (s *Set) Rows() int {
	last := 0
	for _, c := range s.Columns {
		for i := len(c.Cells) - 1; i >= last; i-- {
			if !c.Derived() && strings.TrimSpace(c.Cells[i]) != "" {
				last = i + 1
			}
		}
	}
	return last
}

// used reports whether the column holds a name or a cell.
func (c *Column) used() bool {
	return c.Derived() || strings.TrimSpace(c.Name) != "" ||
		slices.ContainsFunc(c.Cells, func(cell string) bool { return strings.TrimSpace(cell) != "" })
}

// padded returns the first n cells, blank where there are fewer.
func (c *Column) padded(n int) []string {
	if len(c.Cells) >= n {
		return c.Cells[:n]
	}
	return append(slices.Clone(c.Cells), make([]string, n-len(c.Cells))...)
}

// mostMistakes is how many cells of a column are named as mistakes.
const mostMistakes = 100

// A Mistake is what a person has to mend in a data set before it can be used.
type Mistake struct {
	Column  int    // its place, from 0; −1 for the whole
	Case    int    // the row, from 0; −1 for the column's description
	Field   string // “name”, “formula”, … where Case is −1
	Says    string
	Instead string
}

// Variables reads the columns that hold something as variables, derived ones
// included, and returns their places among the columns.
func (s *Set) Variables() (variables []*Variable, places []int, mistakes []Mistake) {
	return s.read(s.Derive())
}

// read reads the columns as variables, once all are derived but for those that are named by the
// mistakes.
func (s *Set) read(underived []Mistake) (variables []*Variable, places []int, mistakes []Mistake) {
	mistakes = slices.Clone(underived)
	n := s.Rows()
	if n == 0 {
		return nil, nil, []Mistake{{-1, -1, "", "there are no data yet", "type them in, or paste them from a spreadsheet"}}
	}
	taken := map[string]bool{}
	for i, c := range s.Columns {
		if !c.used() {
			continue
		}
		name := strings.TrimSpace(c.Name)
		switch {
		case name == "":
			mistakes = append(mistakes, Mistake{i, -1, "name", fmt.Sprintf("column %d has no name", i+1), "say what it is"})
		case taken[name]:
			mistakes = append(mistakes, Mistake{i, -1, "name", "“" + name + "” is the name of another column too",
				"give each column a name of its own"})
		}
		taken[name] = true
		v, wrong := c.variable(n)
		for _, m := range wrong[:min(len(wrong), mostMistakes)] {
			mistakes = append(mistakes, Mistake{i, m.Case, "", fmt.Sprintf("row %d of “%s”: %s", m.Case+1, name, m.Says),
				"correct it, or clear it if it is missing"})
		}
		variables = append(variables, v)
		places = append(places, i)
	}
	return variables, places, mistakes
}

// variable reads the first n cells as a variable.
func (c *Column) variable(n int) (*Variable, []CellMistake) {
	cells := c.padded(n)
	kind := c.kind()
	v, mistakes := NewVariable(strings.TrimSpace(c.Name), kind, cells)
	v.Label, v.Decimals = strings.TrimSpace(c.Label), c.Decimals
	if unit := c.UnitText(); unit != "" {
		v.Unit = unit
	}
	if kind != Number {
		mistakes = append(mistakes, c.orderLevels(v)...)
	}
	return v, mistakes
}

// levels returns the levels of v in the order that the column gives them, nil where
// it gives none. Those of a derived column follow from its sources: the column
// says only which comes first.
func (c *Column) levels(v *Variable) []string {
	if !c.Derived() {
		return c.Levels
	}
	order := c.Levels
	if order == nil && c.Recode != nil {
		for _, class := range c.Recode.Classes {
			order = append(order, class.Name)
		}
	}
	if order == nil {
		return nil
	}
	var levels []string
	has := func(code string) bool {
		return slices.ContainsFunc(v.Levels, func(l Level) bool { return l.Code == code })
	}
	for _, code := range order {
		if has(code) && !slices.Contains(levels, code) {
			levels = append(levels, code)
		}
	}
	for _, level := range v.Levels {
		if !slices.Contains(levels, level.Code) {
			levels = append(levels, level.Code)
		}
	}
	return levels
}

// orderLevels gives a category the order and the names of its levels.
func (c *Column) orderLevels(v *Variable) (mistakes []CellMistake) {
	if levels := c.levels(v); levels != nil {
		place, those := map[string]int{}, words.Quoted(levels, "and")
		ordered := make([]Level, len(levels))
		for i, code := range levels {
			place[code] = i
			ordered[i] = Level{Code: code, Name: code}
		}
		for i, code := range v.Codes {
			if code < 0 {
				continue
			}
			at, known := place[v.Levels[code].Code]
			if !known {
				mistakes = append(mistakes, CellMistake{i, "“" + words.Shorten(v.Levels[code].Code) + "” is not among its levels, " + those})
				at = -1
			}
			v.Codes[i] = at
		}
		v.Levels, v.Listed = ordered, true
	}
	for i := range v.Levels {
		if name, ok := c.LevelNames[v.Levels[i].Code]; ok {
			v.Levels[i].Name = name
		}
	}
	return mistakes
}

// ColumnOf returns the column that gives v, for a data set that comes from a file.
func ColumnOf(v *Variable) *Column {
	c := &Column{Name: v.Name, Label: v.Label, Unit: v.Unit, Kind: v.Kind, Cells: make([]string, v.Len())}
	for i := range c.Cells {
		switch {
		case v.Missing(i):
		case v.Kind == Number:
			c.Cells[i] = FormatNumber(v.Numbers[i])
		default:
			c.Cells[i] = v.Levels[v.Codes[i]].Code
		}
	}
	for _, level := range v.Levels {
		if v.Listed {
			c.Levels = append(c.Levels, level.Code)
		}
		if level.Name != level.Code {
			if c.LevelNames == nil {
				c.LevelNames = map[string]string{}
			}
			c.LevelNames[level.Code] = level.Name
		}
	}
	return c
}

// SetOf returns the data set that the variables make.
func SetOf(name string, variables []*Variable) *Set {
	s := &Set{Name: name, Form: FormCases, Columns: []*Column{}}
	for _, v := range variables {
		s.Columns = append(s.Columns, ColumnOf(v))
	}
	s.AssignKeys()
	return s
}

// SetOf returns a data set with the cells of the sheet.
func (s *Sheet) SetOf(name string) *Set {
	set := &Set{Name: name, Form: FormCases, Columns: []*Column{}}
	for i, cells := range s.Columns {
		set.Columns = append(set.Columns, &Column{Name: cutText(s.Names[i], MaxName), Cells: cells})
	}
	if s.description != nil {
		set.describe(s.description)
	}
	set.AssignKeys()
	return set
}

// cutText returns the first n characters of a text that has more.
func cutText(text string, n int) string {
	if len(text) <= n {
		return text
	}
	if runes := []rune(text); len(runes) > n {
		return string(runes[:n-1]) + "…"
	}
	return text
}

// AssignKeys gives a key to each column that has none, or one that another has.
func (s *Set) AssignKeys() {
	taken := map[int]bool{}
	next := 1
	for _, c := range s.Columns {
		next = max(next, c.Key+1)
	}
	for _, c := range s.Columns {
		if c.Key <= 0 || taken[c.Key] {
			c.Key = next
			next++
		}
		taken[c.Key] = true
	}
}

// Grouped turns one column a group into a response and a group variable. The
// columns may differ in length: a blank is no case.
func (s *Set) Grouped() (group, response *Variable, mistakes []Mistake) {
	n := s.Rows()
	if n == 0 {
		return nil, nil, []Mistake{{-1, -1, "", "there are no data yet", "type them in, or paste them from a spreadsheet"}}
	}
	response = &Variable{Name: "response", Label: strings.TrimSpace(s.Response.Label), Unit: strings.TrimSpace(s.Response.Unit), Kind: Number}
	group = &Variable{Name: "group", Label: strings.TrimSpace(s.Group.Label), Kind: Category, Listed: true}
	seen := map[string]bool{}
	for i, c := range s.Columns {
		if !c.used() || c.Kind == Identifier {
			continue
		}
		name := strings.TrimSpace(c.Name)
		switch {
		case name == "":
			mistakes = append(mistakes, Mistake{i, -1, "name", fmt.Sprintf("column %d has no name", i+1), "name the group that it holds"})
		case seen[name]:
			mistakes = append(mistakes, Mistake{i, -1, "name", "“" + name + "” is the name of another column too",
				"give each group a name of its own"})
		}
		seen[name] = true
		group.Levels = append(group.Levels, Level{Code: name, Name: name})
		v, wrong := NewVariable(name, Number, c.padded(n))
		for _, m := range wrong[:min(len(wrong), mostMistakes)] {
			mistakes = append(mistakes, Mistake{i, m.Case, "", fmt.Sprintf("row %d of “%s”: %s", m.Case+1, name, m.Says), "correct it, or clear it"})
		}
		for _, x := range v.Numbers {
			if !math.IsNaN(x) {
				response.Numbers = append(response.Numbers, x)
				group.Codes = append(group.Codes, len(group.Levels)-1)
			}
		}
	}
	return group, response, mistakes
}

// Table returns the labels and counts of a data set that is a table of counts.
func (s *Set) Table() (rows, columns []string, counts [][]float64, mistakes []Mistake) {
	n := s.Rows()
	if n == 0 || len(s.Columns) < 2 {
		return nil, nil, nil, []Mistake{{-1, -1, "", "there are no counts yet", "write a label and a count in each row"}}
	}
	for _, label := range s.Columns[0].padded(n) {
		rows = append(rows, strings.TrimSpace(label))
	}
	counts = make([][]float64, n)
	for i, c := range s.Columns[1:] {
		if !c.used() {
			continue
		}
		columns = append(columns, strings.TrimSpace(c.Name))
		style := DetectStyle(c.Cells)
		for row, cell := range c.padded(n) {
			x, _, err := style.Parse(cell)
			switch {
			case IsMissing(cell):
				mistakes = append(mistakes, Mistake{i + 1, row, "", fmt.Sprintf("row %d of “%s” is blank", row+1, c.Name),
					"write 0 where nothing was counted"})
			case err != nil:
				mistakes = append(mistakes, Mistake{i + 1, row, "", fmt.Sprintf("row %d of “%s”: %s", row+1, c.Name, err), "write a count"})
			case x < 0 || x != math.Trunc(x):
				mistakes = append(mistakes, Mistake{i + 1, row, "", fmt.Sprintf("row %d of “%s” is %s, which is no count", row+1, c.Name, cell),
					"write a whole number from 0 up"})
			}
			counts[row] = append(counts[row], x)
		}
	}
	return rows, columns, counts, mistakes
}
