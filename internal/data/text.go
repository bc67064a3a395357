package data

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
)

// A Sheet is a block of text cells in columns of equal length.
type Sheet struct {
	Names   []string // from the first row where that is a header; empty strings otherwise
	Header  bool     // whether the first row was taken for a header
	Columns [][]string
}

// ErrEmpty is returned for a text that holds no cell.
var ErrEmpty = errors.New("there is nothing in it but white space")

// ReadText reads a block of delimited text, as it comes from a spreadsheet or a
// CSV file. The separator is found (see separator); a text with none is a single
// column. Cells may be quoted as in RFC 4180. The first row is a header when none
// of its cells is a number or blank and some cell below one of them is a number, or
// when no cell of the block is a number and the first row repeats in none below.
// A row that is shorter than the longest is filled with blank cells.
func ReadText(text string) (*Sheet, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	if strings.TrimSpace(text) == "" {
		return nil, ErrEmpty
	}
	reader := csv.NewReader(strings.NewReader(text))
	reader.Comma = separator(text)
	reader.FieldsPerRecord = -1
	var rows [][]string
	for {
		row, err := reader.Read()
		if err == io.EOF {
			break
		}
		var parse *csv.ParseError
		if errors.As(err, &parse) {
			return nil, fmt.Errorf("row %d: a quotation mark opens a cell and is never closed, or stands inside an unquoted cell", parse.StartLine)
		}
		if err != nil {
			return nil, fmt.Errorf("reading the text: %w", err)
		}
		if err := checkSize(len(rows)+1, len(row)); err != nil {
			return nil, err
		}
		rows = append(rows, row)
	}
	return newSheet(rows)
}

// separator returns the one among tab, semicolon, comma and bar that splits the
// first lines into the same number of cells, and into most of them. A comma that
// only parts decimals, as where each line is one number, separates nothing.
func separator(text string) rune {
	var lines []string
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line != "" && len(lines) < 20 {
			lines = append(lines, line)
		}
	}
	best, most := '\t', 0
	for _, r := range "\t;,|" {
		least := strings.Count(lines[0], string(r))
		for _, line := range lines {
			if strings.Count(line, `"`)%2 != 0 {
				continue // a quoted cell goes on in the next line
			}
			least = min(least, strings.Count(unquoted(line), string(r)))
		}
		if r == ',' && decimalCommas(lines) {
			continue
		}
		if least > most {
			best, most = r, least
		}
	}
	if most == 0 && strings.ContainsRune(lines[0], ',') && !decimalCommas(lines) {
		return ','
	}
	return best
}

// unquoted returns the line without what stands between quotation marks.
func unquoted(line string) string {
	parts := strings.Split(line, `"`)
	var out strings.Builder
	for i := 0; i < len(parts); i += 2 {
		out.WriteString(parts[i])
	}
	return out.String()
}

// decimalCommas reports whether every line but perhaps a header is one number
// with a decimal comma.
func decimalCommas(lines []string) bool {
	for i, line := range lines {
		_, _, comma := Style{Comma: true}.parse(line)
		_, _, point := Style{}.parse(line)
		if (comma != readable || point == readable) && (i > 0 || len(lines) == 1 || strings.Contains(line, ",")) {
			return false
		}
	}
	return true
}

// newSheet makes a sheet of rows: the header is recognised, rows that are blank at
// the end are dropped, short rows filled.
func newSheet(rows [][]string) (*Sheet, error) {
	for len(rows) > 0 && blank(rows[len(rows)-1]) {
		rows = rows[:len(rows)-1]
	}
	for len(rows) > 0 && blank(rows[0]) {
		rows = rows[1:]
	}
	if len(rows) == 0 {
		return nil, ErrEmpty
	}
	width := 0
	for _, row := range rows {
		for len(row) > width && strings.TrimSpace(row[len(row)-1]) == "" {
			row = row[:len(row)-1]
		}
		width = max(width, len(row))
	}
	head := rows[0][:min(width, len(rows[0]))]
	sheet := &Sheet{Header: isHeader(head, rows[1:]), Names: make([]string, width), Columns: make([][]string, width)}
	if sheet.Header {
		copy(sheet.Names, trimmed(head))
		rows = rows[1:]
	}
	for c := range width {
		column := make([]string, len(rows))
		for r, row := range rows {
			if c < len(row) {
				column[r] = strings.TrimSpace(row[c])
			}
		}
		sheet.Columns[c] = column
	}
	return sheet, nil
}

func blank(row []string) bool {
	return strings.TrimSpace(strings.Join(row, "")) == ""
}

func trimmed(row []string) []string {
	out := make([]string, len(row))
	for i, cell := range row {
		out[i] = strings.TrimSpace(cell)
	}
	return out
}

// isHeader reports whether the first row names the columns of those below it.
func isHeader(first []string, below [][]string) bool {
	if len(below) == 0 {
		return false
	}
	names := map[string]bool{}
	for _, cell := range trimmed(first) {
		if cell == "" || (Style{}).reads(cell) {
			return false
		}
		names[cell] = true
	}
	repeated := false
	for _, row := range below {
		for _, cell := range row {
			cell = strings.TrimSpace(cell)
			if (Style{}).reads(cell) {
				return true
			}
			repeated = repeated || names[cell]
		}
	}
	return !repeated
}
