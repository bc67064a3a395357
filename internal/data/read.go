package data

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// Options say how a file is read where it should not be left to guessing.
type Options struct {
	Table     string // one of several tables; the first that holds anything when empty
	Range     string // a part of a table, as B3:F40; all of it when empty
	Separator rune   // between cells of delimited text; found when 0
	Header    *bool  // whether the first row holds names; found when nil
	Turned    bool   // whether rows and columns change places
}

// Read reads the cells that a file holds: delimited text in any of the encodings
// of DecodeText, an XLSX or ODS spreadsheet, or a JSON list of rows.
func Read(file []byte, options Options) (*Sheet, error) {
	sheet := &Sheet{}
	rows, err := readRows(file, options, sheet)
	if err != nil {
		return nil, err
	}
	if sheet.Tables != nil {
		sheet.Top = top(rows)
		if options.Range == "" {
			rows = withoutMargins(withoutTitle(rows))
		}
	}
	if options.Range != "" {
		if rows, err = cut(rows, options.Range); err != nil {
			return nil, err
		}
	}
	rows = trimRows(rows)
	if len(rows) == 0 {
		return nil, ErrEmpty
	}
	if options.Turned {
		rows = turned(rows)
	}
	if options.Header == nil && onlyNames(rows) {
		return nil, ErrNoCase
	}
	sheet.fill(rows, options.Header)
	return sheet, nil
}

// readRows returns the rows of a file and notes in the sheet where they came from.
func readRows(file []byte, options Options, sheet *Sheet) ([][]string, error) {
	if isZip(file) {
		return readSpreadsheet(file, options.Table, sheet)
	}
	if bytes.HasPrefix(file, []byte("\xd0\xcf\x11\xe0")) {
		return nil, errors.New("the file is a spreadsheet in the old binary format; save it as XLSX, ODS or CSV")
	}
	if bytes.HasPrefix(file, []byte("%PDF")) || bytes.HasPrefix(file, []byte("\x89PNG")) {
		return nil, errors.New("the file is a document or picture, no table")
	}
	text, err := DecodeText(file)
	if err != nil {
		return nil, err
	}
	if strings.HasPrefix(strings.TrimLeft(text, " \t\r\n"), "[") {
		return readJSON([]byte(text), sheet)
	}
	return readText(text, options.Separator, sheet)
}

// withoutTitle returns the rows of a spreadsheet's table from the first one on that
// belongs to its cases: lines of a single cell that stand above it, apart from it by
// a blank row, say what the table is about.
func withoutTitle(rows [][]string) [][]string {
	for i, row := range rows {
		filled := 0
		for _, cell := range row {
			if strings.TrimSpace(cell) != "" {
				filled++
			}
		}
		switch {
		case filled > 1 && i > 0 && blank(rows[i-1]):
			return rows[i:]
		case filled > 1:
			return rows
		}
	}
	return rows
}

// withoutMargins drops the blank columns at the left.
func withoutMargins(rows [][]string) [][]string {
	margin := math.MaxInt
	for _, row := range rows {
		first := slices.IndexFunc(row, func(cell string) bool { return strings.TrimSpace(cell) != "" })
		if first >= 0 {
			margin = min(margin, first)
		}
	}
	out := make([][]string, len(rows))
	for i, row := range rows {
		out[i] = row[min(margin, len(row)):]
	}
	return out
}

// top returns the first cells of the rows.
func top(rows [][]string) [][]string {
	const down, across = 200, 30
	out := make([][]string, min(len(rows), down))
	for i := range out {
		out[i] = slices.Clone(rows[i][:min(len(rows[i]), across)])
	}
	return out
}

// cut returns the rows and columns of a range such as B3:F40, or B:F.
func cut(rows [][]string, at string) ([][]string, error) {
	var from, to [2]int // column and row, from 1; row 0 is any
	first, last, found := strings.Cut(strings.ToUpper(strings.TrimSpace(at)), ":")
	if !found {
		last = first
	}
	for i, corner := range []string{first, last} {
		letters := strings.TrimRight(corner, "0123456789")
		place := &from
		if i == 1 {
			place = &to
		}
		for _, r := range letters {
			if r < 'A' || r > 'Z' || len(letters) > 3 {
				return nil, fmt.Errorf("the range “%s” is not understood; write it as B3:F40", at)
			}
			place[0] = 26*place[0] + int(r-'A') + 1
		}
		if digits := corner[len(letters):]; digits != "" {
			place[1], _ = strconv.Atoi(digits)
		}
		if place[0] == 0 {
			return nil, fmt.Errorf("the range “%s” is not understood; write it as B3:F40", at)
		}
	}
	if to[1] == 0 {
		to[1] = len(rows)
	}
	from[1] = max(from[1], 1)
	if to[0] < from[0] || to[1] < from[1] {
		return nil, fmt.Errorf("the range “%s” ends before it begins", at)
	}
	var out [][]string
	for _, row := range rows[min(from[1]-1, len(rows)):min(to[1], len(rows))] {
		out = append(out, row[min(from[0]-1, len(row)):min(to[0], len(row))])
	}
	return out, nil
}

// turned returns the rows as columns.
func turned(rows [][]string) [][]string {
	width := 0
	for _, row := range rows {
		width = max(width, len(row))
	}
	out := make([][]string, width)
	for c := range out {
		out[c] = make([]string, len(rows))
		for r, row := range rows {
			if c < len(row) {
				out[c][r] = row[c]
			}
		}
	}
	return out
}

// readJSON reads a list of objects, a case each, whose fields are the variables,
// or a list of lists, a row each.
func readJSON(text []byte, sheet *Sheet) ([][]string, error) {
	var rows []jsontext.Value
	if err := json.Unmarshal(text, &rows); err != nil {
		return nil, fmt.Errorf("this looks like JSON and is none: %w", err)
	}
	var out [][]string
	place := map[string]int{}
	var names []string
	for i, raw := range rows {
		switch raw.Kind() {
		case '{':
			var fields map[string]any
			if err := json.Unmarshal(raw, &fields); err != nil {
				return nil, fmt.Errorf("row %d: %w", i+1, err)
			}
			fresh := []string{}
			for name := range fields {
				if _, known := place[name]; !known {
					fresh = append(fresh, name)
				}
			}
			sort.Slice(fresh, func(a, b int) bool {
				return bytes.Index(raw, quoted(fresh[a])) < bytes.Index(raw, quoted(fresh[b]))
			})
			for _, name := range fresh {
				place[name] = len(names)
				names = append(names, name)
			}
			if err := checkSize(i+1, len(names)); err != nil {
				return nil, err
			}
			row := make([]string, len(names))
			for name, value := range fields {
				cell, err := jsonCell(value)
				if err != nil {
					return nil, fmt.Errorf("row %d, “%s”: %w", i+1, name, err)
				}
				row[place[name]] = cell
			}
			out = append(out, row)
		case '[':
			var values []any
			if err := json.Unmarshal(raw, &values); err != nil {
				return nil, fmt.Errorf("row %d: %w", i+1, err)
			}
			if err := checkSize(i+1, len(values)); err != nil {
				return nil, err
			}
			row := make([]string, len(values))
			for j, value := range values {
				cell, err := jsonCell(value)
				if err != nil {
					return nil, fmt.Errorf("row %d, column %d: %w", i+1, j+1, err)
				}
				row[j] = cell
			}
			out = append(out, row)
		default:
			return nil, fmt.Errorf("row %d is neither an object nor a list", i+1)
		}
	}
	if names != nil { // the fields' names are the header, whatever they look like
		sheet.Header = true
		out = append([][]string{names}, out...)
	}
	return out, nil
}

func quoted(name string) []byte {
	text, _ := jsontext.AppendQuote(nil, name)
	return text
}

func jsonCell(value any) (string, error) {
	switch value := value.(type) {
	case nil:
		return "", nil
	case string:
		return value, nil
	case float64:
		return FormatNumber(value), nil
	case bool:
		if value {
			return "yes", nil
		}
		return "no", nil
	}
	return "", errors.New("a cell must be a text, a number, true, false or null")
}
