package data

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"sort"

	"grund/internal/words"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// readJSON reads a list of objects, a case each, whose fields are the variables,
// or a list of lists, a row each.
func readJSON(text []byte, sheet *Sheet) ([][]string, error) {
	none := func(err error) error { return fmt.Errorf("this looks like JSON and is none: %w", err) }
	decoder := jsontext.NewDecoder(bytes.NewBuffer(text))
	if _, err := decoder.ReadToken(); err != nil {
		return nil, none(err)
	}
	out := jsonRows{place: map[string]int{}}
	for decoder.PeekKind() != ']' {
		raw, err := decoder.ReadValue()
		if err != nil {
			return nil, none(err)
		}
		if err := out.add(raw); err != nil {
			return nil, err
		}
	}
	if _, err := decoder.ReadToken(); err != nil {
		return nil, none(err)
	}
	if _, err := decoder.ReadToken(); err != io.EOF {
		return nil, none(errors.New("something follows the list"))
	}
	if out.names == nil {
		return out.rows, nil
	}
	sheet.Header = true // the fields' names are the header, whatever they look like
	return append([][]string{out.names}, out.rows...), nil
}

// jsonRows are the rows of a JSON list so far.
type jsonRows struct {
	rows  [][]string
	names []string       // of the fields of objects, in the order in which they first stood
	place map[string]int // of each name
}

// add adds a row.
func (r *jsonRows) add(raw jsontext.Value) error {
	number := len(r.rows) + 1
	if err := checkSize(number, 0); err != nil {
		return err
	}
	var row []string
	var err error
	switch raw.Kind() {
	case '{':
		row, err = r.object(raw, number)
	case '[':
		row, err = listRow(raw, number)
	default:
		err = fmt.Errorf("row %d is neither an object nor a list", number)
	}
	if err != nil {
		return err
	}
	r.rows = append(r.rows, row)
	return checkCells(number, row)
}

// object returns the fields of an object, each in its place.
func (r *jsonRows) object(raw jsontext.Value, number int) ([]string, error) {
	var fields map[string]any
	if err := json.Unmarshal(raw, &fields); err != nil {
		return nil, fmt.Errorf("row %d: %w", number, err)
	}
	fresh := []string{}
	for name := range fields {
		if _, known := r.place[name]; !known {
			fresh = append(fresh, name)
		}
	}
	if err := checkSize(number, len(r.names)+len(fresh)); err != nil {
		return nil, err
	}
	sort.Slice(fresh, func(a, b int) bool {
		return bytes.Index(raw, quoted(fresh[a])) < bytes.Index(raw, quoted(fresh[b]))
	})
	for _, name := range fresh {
		r.place[name] = len(r.names)
		r.names = append(r.names, name)
	}
	row := make([]string, len(r.names))
	for name, value := range fields {
		cell, err := jsonCell(value)
		if err != nil {
			return nil, fmt.Errorf("row %d, “%s”: %w", number, words.Shorten(name), err)
		}
		row[r.place[name]] = cell
	}
	return row, nil
}

// listRow returns the cells of a list.
func listRow(raw jsontext.Value, number int) ([]string, error) {
	var values []any
	if err := json.Unmarshal(raw, &values); err != nil {
		return nil, fmt.Errorf("row %d: %w", number, err)
	}
	if err := checkSize(number, len(values)); err != nil {
		return nil, err
	}
	row := make([]string, len(values))
	for j, value := range values {
		cell, err := jsonCell(value)
		if err != nil {
			return nil, fmt.Errorf("row %d, column %d: %w", number, j+1, err)
		}
		row[j] = cell
	}
	return row, nil
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
