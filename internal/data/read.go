package data

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"sort"
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
// of DecodeText, an XLSX or ODS spreadsheet, or a JSON list of rows. It ends with the context's error
// when that is done.
func Read(ctx context.Context, file []byte, options Options) (*Sheet, error) {
	sheet := &Sheet{}
	rows, err := readRows(ctx, file, options, sheet)
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
		part, err := readRange(options.Range)
		if err != nil {
			return nil, err
		}
		rows = part.of(rows)
	}
	rows = trimRows(rows)
	if len(rows) == 0 {
		return nil, ErrEmpty
	}
	if options.Turned {
		if rows, err = turned(rows); err != nil {
			return nil, err
		}
	}
	if options.Header == nil && onlyNames(rows) {
		return nil, ErrNoCase
	}
	if err := sheet.fill(rows, options.Header); err != nil {
		return nil, err
	}
	return sheet, nil
}

// readRows returns the rows of a file and notes in the sheet where they came from.
func readRows(ctx context.Context, file []byte, options Options, sheet *Sheet) ([][]string, error) {
	if isZip(file) {
		return readSpreadsheet(ctx, file, options, sheet)
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

// turned returns the rows as columns.
func turned(rows [][]string) ([][]string, error) {
	width := widest(rows)
	if err := checkSize(width, len(rows)); err != nil {
		return nil, err
	}
	if err := checkArea(len(rows), width); err != nil {
		return nil, err
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
	return out, nil
}

func widest(rows [][]string) int {
	width := 0
	for _, row := range rows {
		width = max(width, len(row))
	}
	return width
}

// readJSON reads a list of objects, a case each, whose fields are the variables,
// or a list of lists, a row each.
func readJSON(text []byte, sheet *Sheet) ([][]string, error) {
	var out [][]string
	place := map[string]int{}
	var names []string
	none := func(err error) error { return fmt.Errorf("this looks like JSON and is none: %w", err) }
	decoder := jsontext.NewDecoder(bytes.NewBuffer(text))
	if _, err := decoder.ReadToken(); err != nil {
		return nil, none(err)
	}
	for i := 0; decoder.PeekKind() != ']'; i++ {
		raw, err := decoder.ReadValue()
		if err != nil {
			return nil, none(err)
		}
		if err := checkSize(i+1, 0); err != nil {
			return nil, err
		}
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
		if err := checkCells(i+1, out[i]); err != nil {
			return nil, err
		}
	}
	if _, err := decoder.ReadToken(); err != nil {
		return nil, none(err)
	}
	if _, err := decoder.ReadToken(); err != io.EOF {
		return nil, none(errors.New("something follows the list"))
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
