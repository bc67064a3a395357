package data

import (
	"bufio"
	"encoding/csv"
	"fmt"
	"io"
	"regexp"
	"strings"
)

// A Format is a kind of file that a data set can be written to.
type Format string

const (
	CSV  Format = "csv"
	TSV  Format = "tsv"
	XLSX Format = "xlsx"
	ODS  Format = "ods"
)

// Write writes the data set: a row of names, then the cells as they were typed,
// derived ones included, row by row as they are taken. Spreadsheets also carry labels, units, kinds and
// levels in a second table, which Read takes up again. Numbers become numbers in a
// spreadsheet's cells; a cell that is none stays the text that it is.
func (s *Set) Write(w io.Writer, format Format) error {
	out := bufio.NewWriterSize(w, 256<<10)
	var err error
	switch format {
	case CSV:
		err = s.writeText(out, ',')
	case TSV:
		err = s.writeText(out, '\t')
	case XLSX:
		err = s.writeXLSX(out)
	case ODS:
		err = s.writeODS(out)
	default:
		return fmt.Errorf("there is no format “%s”", format)
	}
	if err == nil {
		err = out.Flush()
	}
	if err != nil {
		return fmt.Errorf("writing the data set: %w", err)
	}
	return nil
}

// writeText writes delimited text in which nothing is a formula.
func (s *Set) writeText(w io.Writer, comma rune) error {
	out := csv.NewWriter(w)
	out.Comma = comma
	harmless := make([]string, len(s.Columns))
	err := s.eachRow(func(row []string) error {
		for j, cell := range row {
			harmless[j] = disarmed(cell)
		}
		return out.Write(harmless)
	})
	out.Flush()
	if err == nil {
		err = out.Error()
	}
	return err
}

// armed reports whether a program that opens delimited text might run a cell as a formula, or would
// if an apostrophe less stood before it.
func armed(cell string) bool {
	cell = strings.TrimLeft(cell, "'")
	return len(cell) > 1 && strings.IndexByte("=+-@\t\r", cell[0]) >= 0
}

// plainDigits matches a number that every program takes for one.
var plainDigits = regexp.MustCompile(`^[+-][0-9]+([.,][0-9]+)?([eE][+-]?[0-9]+)?$`)

// disarmed returns a cell that no program runs: an apostrophe before it makes it a text. Numbers stay
// as they are.
func disarmed(cell string) string {
	if !armed(cell) || plainDigits.MatchString(cell) {
		return cell
	}
	return "'" + cell
}

// rearmed returns the cell that was disarmed.
func rearmed(cell string) string {
	if strings.HasPrefix(cell, "'") && armed(cell) {
		return cell[1:]
	}
	return cell
}

// writtenNames returns the columns' names. A column without one gets one, as a
// first row with a blank is no header.
func (s *Set) writtenNames() []string {
	names := make([]string, len(s.Columns))
	for j, c := range s.Columns {
		if names[j] = strings.TrimSpace(c.Name); names[j] == "" {
			names[j] = fmt.Sprintf("column %d", j+1)
		}
	}
	return names
}

// eachRow calls f with the names and then with the cells of each row, in a slice that is used again.
func (s *Set) eachRow(f func(row []string) error) error {
	if err := f(s.writtenNames()); err != nil {
		return err
	}
	row := make([]string, len(s.Columns))
	for i := range s.Rows() {
		for j, c := range s.Columns {
			if row[j] = ""; i < len(c.Cells) {
				row[j] = c.Cells[i]
			}
		}
		if err := f(row); err != nil {
			return err
		}
	}
	return nil
}

// eachOf calls f with each of the rows.
func eachOf(rows [][]string) func(f func(row []string) error) error {
	return func(f func(row []string) error) error {
		for _, row := range rows {
			if err := f(row); err != nil {
				return err
			}
		}
		return nil
	}
}

// numeric reports for each column whether it holds numbers.
func (s *Set) numeric() []bool {
	out := make([]bool, len(s.Columns))
	for i, kind := range s.Kinds() {
		out[i] = kind == Number
	}
	return out
}

// plainNumber reports whether a cell is a number that reads back as the same text when a spreadsheet
// keeps it as a number.
func plainNumber(cell string) bool {
	if cell == "" || cell[0] != '-' && (cell[0] < '0' || cell[0] > '9') {
		return false
	}
	x, err := ParseNumber(cell)
	return err == nil && FormatNumber(x) == cell
}
