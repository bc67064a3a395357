package server

import (
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/exchange"
)

// together collects the parts of columns, and returns how many there were.
func together(t *testing.T, columns []*data.Column) (cells map[int][]string, parts int) {
	t.Helper()
	cells = map[int][]string{}
	for from := (&CellPlace{0, columns[0].Key}); from != nil; parts++ {
		part, next := partFrom(columns, *from)
		bytes := 0
		for _, column := range part {
			for _, cell := range column.Cells {
				bytes += cellBytes(cell)
			}
			cells[column.Column] = append(cells[column.Column], column.Cells...)
		}
		require.Less(t, bytes, maxPart+2000*cellBytes("short")+cellBytes(strings.Repeat("x", data.MaxCell)), "part %d", parts)
		require.NotEqual(t, from, next, "each part brings something")
		from = next
	}
	return cells, parts
}

func TestPartsAreTheWhole(t *testing.T) {
	long := strings.Repeat("x", data.MaxCell)
	for name, c := range map[string]struct {
		columns []*data.Column
		parts   int
	}{
		"no cells":        {[]*data.Column{{Key: 3, Cells: []string{}}}, 1},
		"short":           {[]*data.Column{{Key: 3, Cells: []string{"a", "b"}}, {Key: 1, Cells: []string{"c"}}}, 1},
		"long":            {[]*data.Column{{Key: 1, Cells: slices.Repeat([]string{"1234567"}, 3_000_000)}}, 3},
		"of two lengths":  {[]*data.Column{{Key: 1, Cells: []string{"a"}}, {Key: 2, Cells: slices.Repeat([]string{"1234567"}, 2_000_000)}}, 2},
		"rows of a novel": {slices.Collect(wide(2000, long, 2)), 12},
	} {
		cells, parts := together(t, c.columns)
		assert.Equal(t, c.parts, parts, name)
		for _, column := range c.columns {
			assert.True(t, slices.Equal(column.Cells, cells[column.Key]), "%s, column %d", name, column.Key)
		}
	}
}

// wide yields so many columns of the same cell in each row.
func wide(columns int, cell string, rows int) func(yield func(*data.Column) bool) {
	return func(yield func(*data.Column) bool) {
		for i := range columns {
			if !yield(&data.Column{Key: i + 1, Cells: slices.Repeat([]string{cell}, rows)}) {
				return
			}
		}
	}
}

func TestALongDataSetComesInParts(t *testing.T) {
	h := newServer(t)
	file := "minutes,hours\n" + strings.Repeat("1234567890,\n", 1_000_000)
	var listing DataListing
	post(t, h, "/api/data-sets/import?name=loading", file, &listing)
	at := "/api/data-sets/" + listing.ID
	var d KeptSet
	answer := call(t, h, "GET", at, nil, &d)
	require.NotNil(t, d.Next)
	assert.Less(t, answer.Body.Len(), exchange.MaxAnswer)
	cells := d.Set.Columns[0].Cells
	for next := d.Next; next != nil; {
		var part CellsPart
		path := fmt.Sprintf("%s/cells?row=%d&column=%d&version=%d", at, next.Row, next.Column, d.Version)
		answer := call(t, h, "GET", path, nil, &part)
		require.Equal(t, http.StatusOK, answer.Code)
		assert.Less(t, answer.Body.Len(), exchange.MaxAnswer)
		cells = append(cells, part.Columns[0].Cells...)
		next = part.Next
	}
	assert.Len(t, cells, 1_000_000)

	var one CellsPart
	call(t, h, "GET", at+"/cells?key=2&row=999999", nil, &one)
	assert.Equal(t, CellsPart{d.Version, []ColumnCells{{2, []string{""}}}, nil}, one)
	assert.Equal(t, http.StatusConflict, call(t, h, "GET", at+"/cells?version=1", nil, nil).Code, "the import ended with version 2")
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, h, "GET", at+"/cells?row=-1", nil, nil).Code)
	call(t, h, "GET", at+"/cells?key=77", nil, &one)
	assert.Empty(t, one.Columns)
}
