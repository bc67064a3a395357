package data

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"

	"grund/internal/plaintext"
)

// A Sheet is a block of text cells in columns of equal length.
type Sheet struct {
	Names   []string // from the first row where that is a header; empty strings otherwise
	Header  bool     // whether the first row was taken for a header
	Columns [][]string

	Separator string   // of delimited text
	Tables    []string // of a spreadsheet
	Table     string   // the one of them that was read
	// Top holds the first rows of a spreadsheet's table as they stand there, for
	// choosing a part of it.
	Top [][]string

	description [][]string // what another table says of the columns
}

// ErrEmpty is returned for a text that holds no cell.
var ErrEmpty = errors.New("there is nothing in it but white space")

// ErrNoCase is returned for a single row of names.
var ErrNoCase = errors.New("the first row holds names, and there is no case below it; write each case in a row of its own")

// readText reads a block of delimited text, as it comes from a spreadsheet or a
// CSV file. The separator is found where it is 0 (see separator); a text with none
// is a single column. Cells may be quoted as in RFC 4180.
func readText(text string, comma rune, sheet *Sheet) ([][]string, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	if strings.TrimSpace(text) == "" {
		return nil, ErrEmpty
	}
	if bareReturns(text) {
		text = strings.ReplaceAll(text, "\r", "\n")
	}
	if comma == 0 {
		comma = separator(text)
	}
	sheet.Separator = string(comma)
	reader := newRowReader(strings.NewReader(text), comma)
	var rows [][]string
	for {
		row, err := reader.next()
		if err == io.EOF {
			return rows, nil
		}
		if err != nil {
			return nil, err
		}
		rows = append(rows, row)
	}
}

// bareReturns reports whether the lines of a text end in a carriage return alone.
func bareReturns(text string) bool {
	return strings.ContainsRune(text, '\r') && !strings.ContainsRune(text, '\n')
}

// returnReader gives the lines of such a text as they end elsewhere.
type returnReader struct{ source io.Reader }

func (r returnReader) Read(p []byte) (int, error) {
	n, err := r.source.Read(p)
	for i, b := range p[:n] {
		if b == '\r' {
			p[i] = '\n'
		}
	}
	return n, err
}

// maxRow is how many bytes of text a row may take. A quotation mark that is never closed would make
// the rest of the file one row.
const maxRow = 64 << 20

// rowReader reads delimited text row by row.
type rowReader struct {
	csv   *csv.Reader
	limit *rowLimit
	read  int // rows so far
}

// rowLimit gives up where a row goes on and on.
type rowLimit struct {
	source io.Reader
	left   int
}

var errEndlessRow = errors.New("a row without an end")

func (l *rowLimit) Read(p []byte) (int, error) {
	if l.left <= 0 {
		return 0, errEndlessRow
	}
	n, err := l.source.Read(p)
	l.left -= n
	return n, err
}

func newRowReader(source io.Reader, comma rune) *rowReader {
	limit := &rowLimit{source, maxRow}
	reader := csv.NewReader(limit)
	reader.Comma = comma
	reader.FieldsPerRecord = -1
	return &rowReader{csv: reader, limit: limit}
}

// next reads the next row. An error names the row; at the end it is io.EOF.
func (r *rowReader) next() ([]string, error) {
	row, err := r.csv.Read()
	var parse *csv.ParseError
	switch {
	case err == io.EOF:
		return nil, err
	case errors.Is(err, errEndlessRow):
		return nil, fmt.Errorf("row %d is longer than %d MiB: a quotation mark may open a cell there and is never closed", r.read+1, maxRow>>20)
	case errors.As(err, &parse):
		return nil, fmt.Errorf("row %d: a quotation mark opens a cell and is never closed, or stands inside an unquoted cell", parse.StartLine)
	case err != nil:
		return nil, fmt.Errorf("reading the text: %w", err)
	}
	r.read++
	r.limit.left = maxRow
	if err := checkSize(r.read, len(row)); err != nil {
		return nil, err
	}
	for i, cell := range row {
		row[i] = plaintext.Rearmed(cell)
	}
	return row, checkCells(r.read, row)
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

// trimRows drops blank rows at both ends and blank cells at the ends of rows.
func trimRows(rows [][]string) [][]string {
	for len(rows) > 0 && blank(rows[len(rows)-1]) {
		rows = rows[:len(rows)-1]
	}
	for len(rows) > 0 && blank(rows[0]) {
		rows = rows[1:]
	}
	width := 0
	for _, row := range rows {
		for len(row) > width && strings.TrimSpace(row[len(row)-1]) == "" {
			row = row[:len(row)-1]
		}
		width = max(width, len(row))
	}
	for i, row := range rows {
		rows[i] = row[:min(width, len(row))]
	}
	return rows
}

// fill makes columns of rows: the header is found where header is nil and none is
// known of, short rows are filled with blank cells. The first row is a header when
// none of its cells, but perhaps the first, is a number or blank and some cell
// below one of them is a number, or when no cell of the block is a number and the
// first row repeats in none below.
func (s *Sheet) fill(rows [][]string, header *bool) error {
	width := widest(rows)
	if err := checkArea(len(rows), width); err != nil {
		return err
	}
	switch {
	case header != nil:
		s.Header = *header
	case !s.Header:
		s.Header = isHeader(rows[0], rows[1:])
	}
	s.Names = make([]string, width)
	s.Columns = make([][]string, width)
	if s.Header {
		copy(s.Names, trimmed(rows[0]))
		rows = rows[1:]
	}
	for c := range width {
		column := make([]string, len(rows))
		for r, row := range rows {
			if c < len(row) {
				column[r] = strings.TrimSpace(row[c])
			}
		}
		s.Columns[c] = column
	}
	return nil
}

// onlyNames reports whether the rows are a single one that can only be a header.
func onlyNames(rows [][]string) bool {
	if len(rows) != 1 {
		return false
	}
	for _, cell := range trimmed(rows[0]) {
		if cell == "" || (Style{}).reads(cell) {
			return false
		}
	}
	return true
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
	for i, cell := range trimmed(first) {
		if cell == "" && i == 0 && len(first) > 1 && labels(below) {
			continue // the corner of a table with labels at both edges
		}
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

// labels reports whether each row begins with a word.
func labels(rows [][]string) bool {
	for _, row := range rows {
		if len(row) == 0 || strings.TrimSpace(row[0]) == "" || (Style{}).reads(row[0]) {
			return false
		}
	}
	return true
}
