package data

import (
	"bytes"
	"context"
	"errors"
	"math"
	"slices"
	"strings"

	"grund/internal/plaintext"
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
// of plaintext.Decode, an XLSX or ODS spreadsheet, or a JSON list of rows. It ends with the context's error
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
	if IsArchive(file) {
		return readSpreadsheet(ctx, file, options, sheet)
	}
	if bytes.HasPrefix(file, []byte("\xd0\xcf\x11\xe0")) {
		return nil, errors.New("the file is a spreadsheet in the old binary format; save it as XLSX, ODS or CSV")
	}
	if bytes.HasPrefix(file, []byte("%PDF")) || bytes.HasPrefix(file, []byte("\x89PNG")) {
		return nil, errors.New("the file is a document or picture, no table")
	}
	text, err := plaintext.Decode(file)
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
