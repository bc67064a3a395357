package data

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"unicode/utf8"
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
// CSV file. The separator is the one among tab, semicolon and comma that splits
// the first line into most cells; a text with none is a single column. Cells may
// be quoted as in RFC 4180. The first row is a header when none of its cells is a
// number or blank and some cell below one of them is a number, or when no cell
// of the block is a number and the first row repeats in none below.
// A row that is shorter than the longest is filled with blank cells, and blank
// rows at the end are dropped.
func ReadText(text string) (*Sheet, error) {
	if !utf8.ValidString(text) {
		return nil, errors.New("the text is not valid UTF-8; save it as UTF-8")
	}
	if i := strings.IndexByte(text, 0); i >= 0 {
		return nil, fmt.Errorf("line %d holds a NUL character; this is no text file", 1+strings.Count(text[:i], "\n"))
	}
	text = strings.TrimPrefix(text, "\ufeff")
	if strings.TrimSpace(text) == "" {
		return nil, ErrEmpty
	}
	first, _, _ := strings.Cut(strings.TrimLeft(text, "\r\n"), "\n")
	separator, cells := '\t', 0
	for _, r := range "\t;," {
		if n := strings.Count(first, string(r)); n > cells {
			separator, cells = r, n
		}
	}
	reader := csv.NewReader(strings.NewReader(text))
	reader.Comma = separator
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
		rows = append(rows, row)
	}
	for len(rows) > 0 && blank(rows[len(rows)-1]) {
		rows = rows[:len(rows)-1]
	}
	width := 0
	for _, row := range rows {
		width = max(width, len(row))
	}
	sheet := &Sheet{Header: isHeader(rows), Names: make([]string, width), Columns: make([][]string, width)}
	if sheet.Header {
		copy(sheet.Names, trimmed(rows[0]))
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

func isHeader(rows [][]string) bool {
	if len(rows) < 2 {
		return false
	}
	for _, cell := range trimmed(rows[0]) {
		if _, err := ParseNumber(cell); err == nil || cell == "" {
			return false
		}
	}
	seen := map[string]bool{}
	for _, row := range rows[1:] {
		for _, cell := range row {
			if _, err := ParseNumber(strings.TrimSpace(cell)); err == nil {
				return true
			}
			seen[strings.TrimSpace(cell)] = true
		}
	}
	for _, cell := range trimmed(rows[0]) {
		if seen[cell] {
			return false
		}
	}
	return true
}

// ParseNumber reads a number as people write it: with a decimal point or a
// decimal comma, a sign (the real minus too), and thin or no-break spaces between
// thousands. The error says what is wrong with the text.
func ParseNumber(text string) (float64, error) {
	plain := numberSigns.Replace(strings.TrimSpace(text))
	if plain == "" {
		return math.NaN(), errors.New("there is no number")
	}
	if strings.Count(plain, ",") == 1 && !strings.Contains(plain, ".") {
		plain = strings.Replace(plain, ",", ".", 1)
	}
	for _, r := range plain {
		if !strings.ContainsRune("+-.0123456789eE", r) {
			return math.NaN(), fmt.Errorf("“%s” is not a number", text)
		}
	}
	x, err := strconv.ParseFloat(plain, 64)
	switch {
	case errors.Is(err, strconv.ErrRange):
		return math.NaN(), fmt.Errorf("“%s” is larger than any number that can be calculated with (about 1.8 × 10³⁰⁸)", text)
	case err != nil:
		return math.NaN(), fmt.Errorf("“%s” is not a number", text)
	}
	return x, nil
}

var numberSigns = strings.NewReplacer("−", "-", "\u2009", "", "\u202f", "", "\u00a0", "")

// GuessKind returns Number when at least three in five of the cells that are not
// blank are numbers, so that a few mistyped cells do not hide what the others are.
func GuessKind(cells []string) Kind {
	filled, numbers := 0, 0
	for _, cell := range cells {
		if strings.TrimSpace(cell) == "" {
			continue
		}
		filled++
		if _, err := ParseNumber(cell); err == nil {
			numbers++
		}
	}
	if numbers > 0 && 5*numbers >= 3*filled {
		return Number
	}
	return Category
}

// Variables returns the columns as variables of the kinds that GuessKind sees.
// A column without a name is called after its place. An error names row and
// column of a cell that does not fit.
func (s *Sheet) Variables() ([]*Variable, error) {
	variables := make([]*Variable, len(s.Columns))
	taken := map[string]bool{}
	for c, cells := range s.Columns {
		name := s.Names[c]
		if name == "" {
			name = fmt.Sprintf("column %d", c+1)
		}
		if taken[name] {
			return nil, fmt.Errorf("column %d is called “%s”, and so is another; give each a name of its own", c+1, name)
		}
		taken[name] = true
		v, mistakes := NewVariable(name, GuessKind(cells), cells)
		if len(mistakes) > 0 {
			row := mistakes[0].Case + 1
			if s.Header {
				row++
			}
			return nil, fmt.Errorf("row %d, column “%s”: %s; the other cells are numbers", row, name, mistakes[0].Says)
		}
		variables[c] = v
	}
	return variables, nil
}

// A CellMistake is a cell that does not fit its variable's kind.
type CellMistake struct {
	Case int // counted from 0
	Says string
}

// NewVariable reads cells as they were typed. A blank cell is missing, and so is
// one that is returned as a mistake.
func NewVariable(name string, kind Kind, cells []string) (*Variable, []CellMistake) {
	v := &Variable{Name: name, Kind: kind}
	var mistakes []CellMistake
	index := map[string]int{}
	for i, cell := range cells {
		cell = strings.TrimSpace(cell)
		switch {
		case kind == Number && cell == "":
			v.Numbers = append(v.Numbers, math.NaN())
		case kind == Number:
			x, err := ParseNumber(cell)
			if err != nil {
				mistakes = append(mistakes, CellMistake{i, err.Error()})
			}
			v.Numbers = append(v.Numbers, x)
		case cell == "":
			v.Codes = append(v.Codes, -1)
		default:
			level, seen := index[cell]
			if !seen {
				level = len(v.Levels)
				index[cell] = level
				v.Levels = append(v.Levels, Level{cell, cell})
			}
			v.Codes = append(v.Codes, level)
		}
	}
	return v, mistakes
}
