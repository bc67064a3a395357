// Package export writes data sets as files: delimited text and spreadsheets.
package export

import (
	"bufio"
	"encoding/csv"
	"fmt"
	"io"
	"strings"

	"grund/internal/data"
	"grund/internal/plaintext"
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
func Write(w io.Writer, s *data.Set, format Format) error {
	out := bufio.NewWriterSize(w, 256<<10)
	var err error
	switch format {
	case CSV:
		err = writeText(out, s, ',')
	case TSV:
		err = writeText(out, s, '\t')
	case XLSX:
		err = writeXLSX(out, s)
	case ODS:
		err = writeODS(out, s)
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
func writeText(w io.Writer, s *data.Set, comma rune) error {
	out := csv.NewWriter(w)
	out.Comma = comma
	harmless := make([]string, len(s.Columns))
	err := eachRow(s)(func(row []string) error {
		for j, cell := range row {
			harmless[j] = plaintext.Disarmed(cell)
		}
		return out.Write(harmless)
	})
	out.Flush()
	if err == nil {
		err = out.Error()
	}
	return err
}

// writtenNames returns the columns' names. A column without one gets one, as a
// first row with a blank is no header.
func writtenNames(s *data.Set) []string {
	names := make([]string, len(s.Columns))
	for j, c := range s.Columns {
		if names[j] = strings.TrimSpace(c.Name); names[j] == "" {
			names[j] = fmt.Sprintf("column %d", j+1)
		}
	}
	return names
}

// rows calls f with each of some rows.
type rows func(f func(row []string) error) error

// eachRow returns the names and then the cells of each row, in a slice that is used again.
func eachRow(s *data.Set) rows {
	return func(f func(row []string) error) error {
		if err := f(writtenNames(s)); err != nil {
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
}

// eachOf returns rows that are there.
func eachOf(all [][]string) rows {
	return func(f func(row []string) error) error {
		for _, row := range all {
			if err := f(row); err != nil {
				return err
			}
		}
		return nil
	}
}

// numeric reports for each column whether it holds numbers.
func numeric(s *data.Set) []bool {
	out := make([]bool, len(s.Columns))
	for i, kind := range s.Kinds() {
		out[i] = kind == data.Number
	}
	return out
}

// plainNumber reports whether a cell is a number that reads back as the same text when a spreadsheet
// keeps it as a number.
func plainNumber(cell string) bool {
	if cell == "" || cell[0] != '-' && (cell[0] < '0' || cell[0] > '9') {
		return false
	}
	x, err := data.ParseNumber(cell)
	return err == nil && data.FormatNumber(x) == cell
}
