package working

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/formula"
)

// PageRows is how many rows of a table go to the browser at a time.
const PageRows = 50

// A Table is rows of cells under typed columns. In JSON a row is an object keyed
// by the columns' ids; what is shown and what opens stand beside, in the order of
// the columns.
type Table struct {
	ID      string   `json:"id"`
	Title   string   `json:"title"`
	Key     []string `json:"key"` // the columns that name a row
	Columns []Column `json:"columns"`
	Total   int      `json:"total"` // rows in all
	From    int      `json:"from"`  // the first row that is written, from 0
	// Marked is the row and the column, from 0, that meet in what is looked up.
	Marked []int `json:"marked,omitempty"`
	// Dimmed says that the table is not to be relied on, for a reason that stands before it.
	Dimmed bool `json:"dimmed,omitzero"`
	// Crossed names the columns whose values are the rows and the columns of a table that is
	// drawn crossed.
	Crossed *Crossed `json:"crossed,omitzero"`
	// Row makes row i, from 0. Rows are made when they are written, as a page of
	// a table is often all that is.
	Row func(i int) Row `json:"-"`

	count int // rows from From on that are written; all when 0
}

// Crossed says how a table is drawn with the values of one column down and of another
// across.
type Crossed struct {
	Down    string `json:"down"`
	Across  string `json:"across"`
	Totals  Totals `json:"totals"`
	Join    string `json:"join,omitzero"`  // pointer of the option that joins levels
	Omit    string `json:"omit,omitzero"`  // pointer of the option that leaves levels out
	Order   string `json:"order,omitzero"` // pointer of the option that orders levels
	Leaning string `json:"leaning"`        // the column by which a cell leans; from 2 on it shows
}

// Totals name the tables that hold the totals of a crossed one.
type Totals struct {
	Down   string `json:"down"`
	Across string `json:"across"`
}

// SetRows gives a table rows that are there already.
func (t *Table) SetRows(rows []Row) {
	t.Total = len(rows)
	t.Row = func(i int) Row { return rows[i] }
}

// Rows returns the rows that are written.
func (t *Table) Rows() []Row {
	last := t.Total
	if t.count > 0 {
		last = min(t.Total, t.From+t.count)
	}
	rows := make([]Row, 0, last-t.From)
	for i := t.From; i < last; i++ {
		rows = append(rows, t.Row(i))
	}
	return rows
}

// PaperRows is how many rows of a table are put on paper.
const PaperRows = 60

// Unshown says that only the first rows of a table stand there, "" where all do.
func (t *Table) Unshown(rows int) string {
	if t.Total <= rows {
		return ""
	}
	return fmt.Sprintf("The first %d of %s rows.", rows, FormatNumber(float64(t.Total), 0))
}

// A Column of a table.
type Column struct {
	ID      string `json:"id"`
	Label   string `json:"label"`
	Unit    string `json:"unit,omitzero"`
	Numeric bool   `json:"numeric"`
	// Formula is how a cell comes about, in TeX in which @{id} is another cell of the row or
	// a quantity; Symbol stands for the column in it. Cells of such a column open.
	Formula string `json:"formula,omitzero"`
	Symbol  string `json:"symbol,omitzero"`
	// View names the switch under which a crossed table shows the column; always where empty.
	View string `json:"view,omitzero"`
	// Bar draws a bar from 0 beside each number of the column, to its side.
	Bar bool `json:"bar,omitzero"`
	// Hidden columns stand in formulas only.
	Hidden bool `json:"hidden,omitzero"`
	// From is the step that finds what stands in the column, where that comes after the one in
	// which the table stands.
	From StepID `json:"-"`
}

// Heading is the column's label with its unit.
func (c Column) Heading() string {
	if c.Unit == "" {
		return c.Label
	}
	return c.Label + " (" + c.Unit + ")"
}

// A Row has a cell for each column.
type Row []Cell

// fields are the table's fields without its way of writing itself.
type fields Table

// wireTable is a table in JSON.
type wireTable struct {
	*fields
	Rows  []wireRow  `json:"rows"`
	Shown [][]string `json:"shown"`
	Refs  [][]Ref    `json:"refs,omitempty"`
}

// wireRow is a row as an object keyed by the columns' ids.
type wireRow struct {
	columns []Column
	row     Row
}

func (r wireRow) MarshalJSONTo(e *jsontext.Encoder) error {
	if err := e.WriteToken(jsontext.BeginObject); err != nil {
		return err
	}
	for j, cell := range r.row {
		if err := e.WriteToken(jsontext.String(r.columns[j].ID)); err != nil {
			return err
		}
		if err := json.MarshalEncode(e, cell.Value); err != nil {
			return err
		}
	}
	return e.WriteToken(jsontext.EndObject)
}

// MarshalJSONTo writes the table with its rows as objects.
func (t *Table) MarshalJSONTo(e *jsontext.Encoder) error {
	rows := t.Rows()
	wire := wireTable{fields: (*fields)(t), Rows: make([]wireRow, len(rows)), Shown: make([][]string, len(rows))}
	opens := false
	refs := make([][]Ref, len(rows))
	for i, row := range rows {
		wire.Rows[i] = wireRow{t.Columns, row}
		wire.Shown[i] = make([]string, len(row))
		refs[i] = make([]Ref, len(row))
		for j, cell := range row {
			wire.Shown[i][j] = cell.Shown
			refs[i][j] = cell.Ref
			if cell.Ref == "" && t.Columns[j].Formula != "" {
				refs[i][j] = t.Ref(row, j)
			}
			opens = opens || refs[i][j] != ""
		}
	}
	if opens {
		wire.Refs = refs
	}
	return json.MarshalEncode(e, &wire)
}

// Ref names a cell by the key of its row.
func (t *Table) Ref(row Row, column int) Ref {
	return Ref(t.ID + "/" + t.keyOf(row) + "/" + t.Columns[column].ID)
}

// NameOf says what names a row, for reading.
func (t *Table) NameOf(row Row) string {
	var names []string
	for j, c := range t.Columns {
		if slices.Contains(t.Key, c.ID) {
			names = append(names, row[j].Shown)
		}
	}
	return strings.Join(names, ", ")
}

// keyOf writes what names a row.
func (t *Table) keyOf(row Row) string {
	var key []string
	for _, id := range t.Key {
		for j, c := range t.Columns {
			if c.ID == id {
				key = append(key, EscapeRef(row[j].Shown))
			}
		}
	}
	return strings.Join(key, "|")
}

// Cell returns the number that a reference "table/key/column" names.
func (s *Solution) Cell(ref Ref) (cell Number, column Column, ok bool) {
	t, row, at := s.cellAt(ref)
	if t == nil {
		return 0, Column{}, false
	}
	return Number(row[at].number()), t.Columns[at], true
}

// cellAt returns the table, the row and the column of a cell that holds a number; no table where there is none.
func (s *Solution) cellAt(ref Ref) (t *Table, row Row, column int) {
	parts := strings.Split(string(ref), "/")
	t = s.Table(parts[0])
	if t == nil {
		return nil, nil, 0
	}
	column = slices.IndexFunc(t.Columns, func(c Column) bool { return c.ID == parts[len(parts)-1] && c.Numeric })
	i := t.Place(ref)
	if column < 0 || i < 0 {
		return nil, nil, 0
	}
	return t, t.Row(i), column
}

// ShownCell returns how a cell is shown.
func (s *Solution) ShownCell(ref Ref) string {
	if t, row, at := s.cellAt(ref); t != nil {
		return row[at].Shown
	}
	return ""
}

// CellFormula returns how a cell comes about in TeX, in symbols and with the numbers of its row; "" without a formula.
// Quantities stand in it as @{id}, as in the formula of one.
func (s *Solution) CellFormula(ref Ref) (symbolic, numeric string) {
	t, row, at := s.cellAt(ref)
	if t == nil {
		return "", ""
	}
	fill := func(of func(j int) string) string {
		return formula.Resolve(t.Columns[at].Formula, func(id string) string {
			for j, c := range t.Columns {
				if c.ID == id {
					return of(j)
				}
			}
			return "@{" + id + "}"
		})
	}
	symbolic = fill(func(j int) string { return cmp.Or(t.Columns[j].Symbol, formula.TeXText(t.Columns[j].Label)) })
	return symbolic, fill(func(j int) string { return formula.TeXNumber(row[j].Shown) })
}

// Place returns the row, from 0, whose cell a reference names; −1 where there is none.
func (t *Table) Place(ref Ref) int {
	parts := strings.Split(string(ref), "/")
	if len(parts) != 3 {
		return -1
	}
	for i := range t.Total {
		if t.keyOf(t.Row(i)) == parts[1] {
			return i
		}
	}
	return -1
}

// Page returns the table with at most PageRows of its rows, from the given one on.
func (t *Table) Page(from int) *Table {
	page := *t
	page.From = min(max(0, from), t.Total)
	page.count = PageRows
	return &page
}

// Sorted returns the table with its rows in the order of a column, equal ones as they were;
// nil where there is no such column. Numbers that are drawn as bars go by their size without
// the sign, unless signed is set; cells without a number come last.
func (t *Table) Sorted(column string, descending, signed bool) *Table {
	at := slices.IndexFunc(t.Columns, func(c Column) bool { return c.ID == column })
	if at < 0 {
		return nil
	}
	type entry struct {
		place  int
		number float64
		text   string
	}
	entries := make([]entry, t.Total)
	for i := range entries {
		cell := t.Row(i)[at]
		entries[i] = entry{place: i, number: cell.number()}
		entries[i].text, _ = cell.Value.(string)
		if t.Columns[at].Bar && !signed {
			entries[i].number = math.Abs(entries[i].number)
		}
	}
	slices.SortStableFunc(entries, func(a, b entry) int {
		switch {
		case math.IsNaN(a.number) != math.IsNaN(b.number):
			return cmp.Compare(b.number, a.number) // NaN counts as the least
		case descending:
			a, b = b, a
		}
		return cmp.Or(cmp.Compare(a.number, b.number), strings.Compare(a.text, b.text))
	})
	sorted := *t
	sorted.Row = func(i int) Row { return t.Row(entries[i].place) }
	return &sorted
}

// A Relation says how a cell stands to the value of a filter.
type Relation string

// Of a number: at least the value, at most, at least as far from 0, or the same; of a text:
// the same.
const (
	AtLeast Relation = "at-least"
	AtMost  Relation = "at-most"
	Beyond  Relation = "beyond"
	Same    Relation = "same"
)

// A Filter keeps the rows whose cell in a column stands so to a value.
type Filter struct {
	Column string   `json:"column"`
	Is     Relation `json:"is"`
	Value  string   `json:"value"` // a number is written with a decimal point
}

// keeps reports whether a cell passes the filter; one without a number passes none of numbers.
func (f *Filter) keeps(cell Cell) bool {
	if text, ok := cell.Value.(string); ok {
		return f.Is == Same && text == f.Value
	}
	bound, err := strconv.ParseFloat(f.Value, 64)
	x := cell.number()
	switch {
	case err != nil:
		return false
	case f.Is == AtLeast:
		return x >= bound
	case f.Is == AtMost:
		return x <= bound
	case f.Is == Same:
		return x == bound
	}
	return f.Is == Beyond && math.Abs(x) >= math.Abs(bound)
}

// Where returns the table with the rows that pass a filter; nil where there is no such column.
func (t *Table) Where(filter Filter) *Table {
	at := slices.IndexFunc(t.Columns, func(c Column) bool { return c.ID == filter.Column })
	if at < 0 {
		return nil
	}
	var places []int
	for i := range t.Total {
		if filter.keeps(t.Row(i)[at]) {
			places = append(places, i)
		}
	}
	kept := *t
	kept.Total = len(places)
	kept.Row = func(i int) Row { return t.Row(places[i]) }
	return &kept
}

// Only returns the table with those of its columns that pass.
func (t *Table) Only(pass func(Column) bool) *Table {
	part := *t
	part.Columns = nil
	var places []int
	for j, c := range t.Columns {
		if pass(c) {
			part.Columns = append(part.Columns, c)
			places = append(places, j)
		}
	}
	if len(places) == len(t.Columns) {
		return t
	}
	part.Row = func(i int) Row {
		whole := t.Row(i)
		row := make(Row, len(places))
		for k, j := range places {
			row[k] = whole[j]
		}
		return row
	}
	if c := t.Crossed; c != nil && !slices.ContainsFunc(part.Columns, func(column Column) bool { return column.ID == c.Leaning }) {
		crossed := *c
		crossed.Leaning = ""
		part.Crossed = &crossed
	}
	return &part
}

// EscapeRef writes a name so that it can stand in a Ref.
func EscapeRef(name string) string { return refEscaper.Replace(name) }

var refEscaper = strings.NewReplacer("~", "~0", "/", "~1", "|", "~2")

// FirstPage returns the solution as it goes to the browser: every table cut to its first
// page, but for those that are drawn crossed, which are seen whole, and figures of very many cases
// thinned.
func (s *Solution) FirstPage() *Solution {
	whole := map[string]bool{}
	for _, t := range s.Tables {
		if t.Crossed != nil {
			whole[t.ID], whole[t.Crossed.Totals.Down], whole[t.Crossed.Totals.Across] = true, true, true
		}
	}
	page := *s
	page.Figures = make([]*Figure, len(s.Figures))
	for i, f := range s.Figures {
		page.Figures[i] = f.Thinned()
	}
	page.Tables = make([]*Table, len(s.Tables))
	for i, t := range s.Tables {
		page.Tables[i] = t
		if !whole[t.ID] {
			page.Tables[i] = t.Page(0)
		}
	}
	return &page
}

// Table returns the table of that id, or nil.
func (s *Solution) Table(id string) *Table {
	for _, t := range s.Tables {
		if t.ID == id {
			return t
		}
	}
	return nil
}
