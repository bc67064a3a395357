package working

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
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
}

// A Row has a cell for each column.
type Row []Cell

// A Cell of a table.
type Cell struct {
	Value any    // a Number, an int or a string
	Shown string // as displayed
	Ref   Ref    // the quantity that opens, if any
}

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
				refs[i][j] = t.ref(row, j)
			}
			opens = opens || refs[i][j] != ""
		}
	}
	if opens {
		wire.Refs = refs
	}
	return json.MarshalEncode(e, &wire)
}

// ref names a cell by the key of its row.
func (t *Table) ref(row Row, column int) Ref {
	var key []string
	for _, id := range t.Key {
		for j, c := range t.Columns {
			if c.ID == id {
				key = append(key, EscapeRef(row[j].Shown))
			}
		}
	}
	return Ref(t.ID + "/" + strings.Join(key, "|") + "/" + t.Columns[column].ID)
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
// the sign; cells without a number come last.
func (t *Table) Sorted(column string, descending bool) *Table {
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
		entries[i] = entry{place: i}
		switch value := t.Row(i)[at].Value.(type) {
		case Number:
			entries[i].number = float64(value)
		case int:
			entries[i].number = float64(value)
		case string:
			entries[i].text = value
		}
		if t.Columns[at].Bar {
			entries[i].number = math.Abs(entries[i].number)
		}
	}
	slices.SortStableFunc(entries, func(a, b entry) int {
		switch {
		case math.IsNaN(a.number) || math.IsNaN(b.number):
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

// EscapeRef writes a name so that it can stand in a Ref.
func EscapeRef(name string) string { return refEscaper.Replace(name) }

var refEscaper = strings.NewReplacer("~", "~0", "/", "~1", "|", "~2")

// FirstPage returns the solution as it goes to the browser: every table cut to
// its first page.
func (s *Solution) FirstPage() *Solution {
	page := *s
	page.Tables = make([]*Table, len(s.Tables))
	for i, t := range s.Tables {
		page.Tables[i] = t.Page(0)
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
