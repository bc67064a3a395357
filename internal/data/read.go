package data

import (
	"bytes"
	"errors"
	"fmt"
	"sort"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// Read reads the cells that a file holds: delimited text in any of the encodings
// of DecodeText, an XLSX or ODS spreadsheet, or a JSON list of rows. table names
// one of several tables, "" the first that holds anything.
func Read(file []byte, table string) (*Sheet, error) {
	if isZip(file) {
		rows, err := readSpreadsheet(file, table)
		if err != nil {
			return nil, err
		}
		return newSheet(rows)
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
		return readJSON([]byte(text))
	}
	return ReadText(text)
}

// readJSON reads a list of objects, a case each, whose fields are the variables,
// or a list of lists, a row each.
func readJSON(text []byte) (*Sheet, error) {
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
	if names == nil {
		return newSheet(out)
	}
	sheet, err := newSheet(append([][]string{names}, out...))
	if err == nil && !sheet.Header { // the fields' names are the header, whatever they look like
		sheet.Header, sheet.Names = true, names
		for c := range sheet.Columns {
			sheet.Columns[c] = sheet.Columns[c][1:]
		}
	}
	return sheet, err
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
