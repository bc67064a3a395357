package server

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/data"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
	"grund/internal/words"
)

// maxPart is how many bytes of cells an answer carries: the cells of a larger data set come in
// parts.
const maxPart = 12 << 20

// CellsPart are cells of a data set from a place on.
type CellsPart struct {
	Version int64         `json:"version"`
	Columns []ColumnCells `json:"columns"`
	Next    *CellPlace    `json:"next"` // where the next part begins; null after the last
}

// ColumnCells are cells of a column.
type ColumnCells struct {
	Column int      `json:"column"` // its key
	Cells  []string `json:"cells"`
}

// A CellPlace is where a part begins: with the cell of a column in a row, counted from 0. The columns
// before that one have come as far as the row after.
type CellPlace struct {
	Row    int `json:"row"`
	Column int `json:"column"` // its key
}

// partFrom returns the columns with their cells from a place on, as many as make a part. The
// columns, one at least, have their cells; their rows are those of the longest.
func partFrom(columns []*data.Column, from CellPlace) (part []ColumnCells, next *CellPlace) {
	rows := 0
	for _, c := range columns {
		rows = max(rows, len(c.Cells))
	}
	// A row of very long texts comes in pieces.
	first := max(0, slices.IndexFunc(columns, func(c *data.Column) bool { return c.Key == from.Column }))
	bytes, to, last := 0, from.Row, len(columns)
	for ; to < rows && bytes < maxPart; to++ {
		for i, c := range columns[first:] {
			if to < len(c.Cells) {
				bytes += cellBytes(c.Cells[to])
			}
			if bytes >= maxPart && to == from.Row && first+i+1 < len(columns) {
				last = first + i + 1
				break
			}
		}
		if first > 0 || last < len(columns) {
			to++
			break
		}
	}
	part = []ColumnCells{}
	for _, c := range columns[first:last] {
		part = append(part, ColumnCells{c.Key, c.Cells[min(from.Row, len(c.Cells)):min(to, len(c.Cells))]})
	}
	switch {
	case last < len(columns):
		next = &CellPlace{from.Row, columns[last].Key}
	case to < rows:
		next = &CellPlace{to, columns[0].Key}
	}
	return part, next
}

// cellBytes is about how many bytes of JSON a cell takes.
func cellBytes(cell string) int {
	n := len(cell) + 3
	for i := range len(cell) {
		switch c := cell[i]; {
		case c == '"' || c == '\\':
			n++
		case c < ' ':
			n += 5
		}
	}
	return n
}

// firstPart returns a data set with as many of its cells as make a part.
func firstPart(set *data.Set) (*data.Set, *CellPlace) {
	if len(set.Columns) == 0 {
		return set, nil
	}
	part, next := partFrom(set.Columns, CellPlace{0, set.Columns[0].Key})
	first := *set
	first.Columns = make([]*data.Column, len(set.Columns))
	for i, c := range set.Columns {
		column := *c
		column.Cells = []string{}
		if i < len(part) {
			column.Cells = part[i].Cells
		}
		first.Columns[i] = &column
	}
	return &first, next
}

// getCells sends a part of the cells of a data set: of the columns whose keys the query names, of all
// where it names none, from the place that it names.
func (s *server) getCells(c *echo.Context, id uuid.UUID) error {
	version, err := versionGiven(c)
	if err != nil {
		return err
	}
	from := CellPlace{}
	for field, to := range map[string]*int{"row": &from.Row, "column": &from.Column} {
		if text := c.QueryParam(field); text != "" {
			if *to, err = strconv.Atoi(text); err != nil || *to < 0 {
				return problem.Errors{{Pointer: "/" + field, Says: "the place is “" + words.Shorten(text) + "”",
					Instead: "give a whole number from 0 up"}}
			}
		}
	}
	d, _, err := s.dataSet(c.Request().Context(), id)
	if err != nil {
		return err
	}
	if version != 0 && version != d.Version {
		return &store.StaleError{What: "data set", Current: d.Version, UpdatedAt: d.UpdatedAt}
	}
	columns := d.Set.Columns
	if keys := c.QueryParams()["key"]; keys != nil {
		columns = nil
		for _, column := range d.Set.Columns {
			if slices.Contains(keys, strconv.Itoa(column.Key)) {
				columns = append(columns, column)
			}
		}
	}
	part := CellsPart{Version: d.Version, Columns: []ColumnCells{}}
	if len(columns) > 0 {
		part.Columns, part.Next = partFrom(columns, from)
	}
	return exchange.Write(c, http.StatusOK, part)
}
