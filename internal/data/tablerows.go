package data

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"
)

// checkSize refuses a row, the given one from 1, that is too far down or too wide.
func checkSize(row, columns int) error {
	if columns > MaxColumns {
		return fmt.Errorf("row %d has %d columns, more than the %d that can be read; delete what stands far to the right, or name the part "+
			"to be read", row, columns, MaxColumns)
	}
	if row > MaxRows {
		return fmt.Errorf("there are more than the %d rows that can be read", MaxRows)
	}
	return nil
}

// checkArea refuses a table of too many cells, blank ones counted.
func checkArea(rows, columns int) error {
	if rows*columns > MaxCells {
		return fmt.Errorf("%d rows of %d columns are %d cells, more than the %d that can be kept; delete what stands far from the rest, or "+
			"name the part to be read", rows, columns, rows*columns, MaxCells)
	}
	return nil
}

// checkCells refuses a row, the given one from 1, with a cell that is too long.
func checkCells(row int, cells []string) error {
	for i, cell := range cells {
		if len(cell) > MaxCell && utf8.RuneCountInString(cell) > MaxCell {
			return fmt.Errorf("row %d, column %d holds a text of %d characters, more than the %d that a cell may have", row, i+1,
				utf8.RuneCountInString(cell), MaxCell)
		}
	}
	return nil
}

// tableRows collects the rows of a spreadsheet's table, and is bounded in rows, columns and cells
// before it takes the memory for them. Blank rows count only if something follows.
type tableRows struct {
	ctx    context.Context
	part   cellRange // outside of it nothing is kept
	rows   [][]string
	read   int // rows so far, blank ones at the end too
	widest int
}

// past reports whether the part to be read is over.
func (t *tableRows) past() bool { return t.part.toRow > 0 && t.read >= t.part.toRow }

// check refuses so many more rows of so many columns.
func (t *tableRows) check(times, columns int) error {
	if t.past() {
		return nil
	}
	if t.part.toColumn > 0 {
		columns = min(columns, t.part.toColumn)
	}
	if err := checkSize(t.read+times, columns); err != nil {
		return err
	}
	return checkArea(t.read+times, max(t.widest, columns))
}

// add adds a row that stands there so many times.
func (t *tableRows) add(row []string, times int) error {
	if t.read%1024 == 0 && t.ctx.Err() != nil {
		return t.ctx.Err()
	}
	if t.past() {
		return nil
	}
	if t.part.toRow > 0 {
		times = min(times, t.part.toRow-t.read)
	}
	if t.part.toColumn > 0 {
		row = row[:min(len(row), t.part.toColumn)]
	}
	for len(row) > 0 && strings.TrimSpace(row[len(row)-1]) == "" {
		row = row[:len(row)-1]
	}
	if len(row) == 0 || t.read+times < t.part.fromRow {
		t.read += times
		return nil
	}
	if err := t.check(times, len(row)); err != nil {
		return err
	}
	if err := checkCells(t.read+1, row); err != nil {
		return err
	}
	t.widest = max(t.widest, len(row))
	t.rows = append(t.rows, make([][]string, t.read-len(t.rows))...)
	for range times {
		t.rows = append(t.rows, row)
	}
	t.read += times
	return nil
}

// A cellRange is a part of a table, its corners counted from 1; 0 is any.
type cellRange struct {
	fromColumn, fromRow, toColumn, toRow int
}

// readRange reads a range such as B3:F40, or B:F; all of the table where it is empty.
func readRange(at string) (r cellRange, err error) {
	if at == "" {
		return r, nil
	}
	first, last, found := strings.Cut(strings.ToUpper(strings.TrimSpace(at)), ":")
	if !found {
		last = first
	}
	for i, corner := range []string{first, last} {
		letters := strings.TrimRight(corner, "0123456789")
		column, row := 0, 0
		for _, c := range letters {
			if c < 'A' || c > 'Z' || len(letters) > 3 {
				return r, fmt.Errorf("the range “%s” is not understood; write it as B3:F40", at)
			}
			column = 26*column + int(c-'A') + 1
		}
		if digits := corner[len(letters):]; digits != "" {
			if row, err = strconv.Atoi(digits); err != nil {
				return r, fmt.Errorf("the range “%s” is not understood; write it as B3:F40", at)
			}
		}
		if column == 0 {
			return r, fmt.Errorf("the range “%s” is not understood; write it as B3:F40", at)
		}
		if i == 0 {
			r.fromColumn, r.fromRow = column, row
		} else {
			r.toColumn, r.toRow = column, row
		}
	}
	if r.toColumn < r.fromColumn || r.toRow != 0 && r.toRow < r.fromRow {
		return r, fmt.Errorf("the range “%s” ends before it begins", at)
	}
	return r, nil
}

// of returns the rows and columns of the range.
func (r *cellRange) of(rows [][]string) [][]string {
	from, to := max(r.fromRow, 1)-1, len(rows)
	if r.toRow > 0 {
		to = min(to, r.toRow)
	}
	var out [][]string
	for _, row := range rows[min(from, to):to] {
		out = append(out, row[min(r.fromColumn-1, len(row)):min(r.toColumn, len(row))])
	}
	return out
}
