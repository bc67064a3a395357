package data

import (
	"archive/zip"
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"io"
	"sort"
	"strings"

	"github.com/xuri/excelize/v2"
)

// A Format is a kind of file that a data set can be written to.
type Format string

const (
	CSV  Format = "csv"
	TSV  Format = "tsv"
	XLSX Format = "xlsx"
	ODS  Format = "ods"
)

// describing names the table of a spreadsheet that holds what is known of the
// columns, and describers are its columns.
const describing = "variables"

var describers = []string{"name", "label", "unit", "kind", "levels", "level names"}

// Write writes the data set: a row of names, then the cells as they were typed,
// derived ones included. Spreadsheets also carry labels, units, kinds and levels
// in a second table, which Read takes up again. Numbers become numbers in a
// spreadsheet's cells; a cell that is none stays the text that it is.
func (s *Set) Write(w io.Writer, format Format) error {
	rows := s.table()
	switch format {
	case CSV, TSV:
		out := csv.NewWriter(w)
		if format == TSV {
			out.Comma = '\t'
		}
		if err := out.WriteAll(rows); err != nil {
			return fmt.Errorf("writing the data set: %w", err)
		}
		return nil
	case XLSX:
		return s.writeXLSX(w, rows)
	case ODS:
		return s.writeODS(w, rows)
	}
	return fmt.Errorf("there is no format “%s”", format)
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

// table returns the names and the cells, row by row.
func (s *Set) table() [][]string {
	n := s.Rows()
	rows := make([][]string, n+1)
	rows[0] = s.writtenNames()
	for i := range n {
		rows[i+1] = make([]string, len(s.Columns))
	}
	for j, c := range s.Columns {
		for i, cell := range c.padded(n) {
			rows[i+1][j] = cell
		}
	}
	return rows
}

// described returns the second table of a spreadsheet.
func (s *Set) described() [][]string {
	rows := [][]string{describers}
	for j, name := range s.writtenNames() {
		c := s.Columns[j]
		var names []string
		for code, name := range c.LevelNames {
			names = append(names, quoteItem(code)+" = "+quoteItem(name))
		}
		sort.Strings(names)
		levels := make([]string, len(c.Levels))
		for i, level := range c.Levels {
			levels[i] = quoteItem(level)
		}
		rows = append(rows, []string{name, c.Label, c.UnitText(), string(c.kind()), strings.Join(levels, "; "), strings.Join(names, "; ")})
	}
	return rows
}

// quoteItem writes an item of a list so that the list can be taken apart again.
func quoteItem(item string) string {
	if strings.ContainsAny(item, `;="`) || strings.TrimSpace(item) != item || item == "" {
		return `"` + strings.ReplaceAll(item, `"`, `""`) + `"`
	}
	return item
}

// items takes a list of items, or of pairs of items, apart.
func items(list string) [][]string {
	var out [][]string
	var pair []string
	var item strings.Builder
	quoted, wasQuoted := false, false
	finish := func() {
		text := item.String()
		if !wasQuoted {
			text = strings.TrimSpace(text)
		}
		pair = append(pair, text)
		item.Reset()
		wasQuoted = false
	}
	runes := []rune(list)
	for i := 0; i < len(runes); i++ {
		r := runes[i]
		switch {
		case quoted && r == '"' && i+1 < len(runes) && runes[i+1] == '"':
			item.WriteRune('"')
			i++
		case r == '"':
			if !quoted {
				item.Reset()
			}
			quoted, wasQuoted = !quoted, true
		case quoted:
			item.WriteRune(r)
		case r == '=':
			finish()
		case r == ';':
			finish()
			out = append(out, pair)
			pair = nil
		case !wasQuoted:
			item.WriteRune(r)
		}
	}
	if finish(); strings.TrimSpace(list) != "" {
		out = append(out, pair)
	}
	return out
}

// describe takes up what a spreadsheet's second table says of the columns.
func (s *Set) describe(rows [][]string) {
	for _, row := range rows[1:] {
		if len(row) == 0 {
			continue
		}
		row = append(append([]string{}, row...), make([]string, len(describers))...)
		c := s.Find(row[0])
		if c == nil {
			continue
		}
		c.Label, c.Unit = row[1], row[2]
		switch kind := Kind(row[3]); kind {
		case Number, Category, Identifier:
			c.Kind = kind
		}
		for _, level := range items(row[4]) {
			c.Levels = append(c.Levels, level[0])
		}
		for _, pair := range items(row[5]) {
			if len(pair) == 2 {
				if c.LevelNames == nil {
					c.LevelNames = map[string]string{}
				}
				c.LevelNames[pair[0]] = pair[1]
			}
		}
	}
}

// isDescription reports whether a table is one that describes columns.
func isDescription(rows [][]string) bool {
	if len(rows) == 0 || len(rows[0]) < len(describers) {
		return false
	}
	for i, name := range describers {
		if rows[0][i] != name {
			return false
		}
	}
	return true
}

func (s *Set) writeXLSX(w io.Writer, rows [][]string) error {
	book := excelize.NewFile()
	defer book.Close()
	if err := book.SetSheetName("Sheet1", "data"); err != nil {
		return err
	}
	if _, err := book.NewSheet(describing); err != nil {
		return err
	}
	numeric := s.numeric()
	for table, rows := range map[string][][]string{"data": rows, describing: s.described()} {
		out, err := book.NewStreamWriter(table)
		if err != nil {
			return err
		}
		for i, row := range rows {
			cells := make([]any, len(row))
			for j, cell := range row {
				if cells[j] = cell; table == "data" && i > 0 && numeric[j] {
					if x, ok := plainNumber(cell); ok {
						cells[j] = x
					}
				}
			}
			corner, err := excelize.CoordinatesToCellName(1, i+1)
			if err != nil {
				return err
			}
			if err := out.SetRow(corner, cells); err != nil {
				return fmt.Errorf("writing row %d: %w", i+1, err)
			}
		}
		if err := out.Flush(); err != nil {
			return err
		}
	}
	return book.Write(w)
}

// numeric reports for each column whether it holds numbers.
func (s *Set) numeric() []bool {
	out := make([]bool, len(s.Columns))
	for i, kind := range s.Kinds() {
		out[i] = kind == Number
	}
	return out
}

// plainNumber returns the number that a cell holds, if a spreadsheet's number is
// read back as the same text.
func plainNumber(cell string) (float64, bool) {
	x, err := ParseNumber(cell)
	return x, err == nil && FormatNumber(x) == cell
}

// writeODS writes an OpenDocument spreadsheet (ODF 1.3, parts 2 and 3): an archive
// whose first member says what it is, a manifest, and the content.
func (s *Set) writeODS(w io.Writer, rows [][]string) error {
	const kind = "application/vnd.oasis.opendocument.spreadsheet"
	archive := zip.NewWriter(w)
	first, err := archive.CreateHeader(&zip.FileHeader{Name: "mimetype", Method: zip.Store})
	if err != nil {
		return err
	}
	if _, err := io.WriteString(first, kind); err != nil {
		return err
	}
	manifest, err := archive.Create("META-INF/manifest.xml")
	if err != nil {
		return err
	}
	_, err = io.WriteString(manifest, xml.Header+`<manifest:manifest `+
		`xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">`+
		`<manifest:file-entry manifest:full-path="/" manifest:media-type="`+kind+
		`"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`)
	if err != nil {
		return err
	}
	content, err := archive.Create("content.xml")
	if err != nil {
		return err
	}
	var out strings.Builder
	out.WriteString(xml.Header + `<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" ` +
		`xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" ` +
		`office:version="1.3"><office:body><office:spreadsheet>`)
	odsWrite(&out, "data", rows, s.numeric())
	odsWrite(&out, describing, s.described(), make([]bool, len(describers)))
	out.WriteString(`</office:spreadsheet></office:body></office:document-content>`)
	if _, err := io.WriteString(content, out.String()); err != nil {
		return err
	}
	return archive.Close()
}

func odsWrite(out *strings.Builder, name string, rows [][]string, numeric []bool) {
	fmt.Fprintf(out, `<table:table table:name="%s">`, name)
	for i, row := range rows {
		out.WriteString("<table:table-row>")
		for j, cell := range row {
			x, ok := plainNumber(cell)
			switch {
			case cell == "":
				out.WriteString("<table:table-cell/>")
				continue
			case ok && i > 0 && numeric[j]:
				fmt.Fprintf(out, `<table:table-cell office:value-type="float" office:value="%s"><text:p>`, FormatNumber(x))
			default:
				out.WriteString(`<table:table-cell office:value-type="string"><text:p>`)
			}
			_ = xml.EscapeText(out, []byte(cell))
			out.WriteString("</text:p></table:table-cell>")
		}
		out.WriteString("</table:table-row>")
	}
	out.WriteString("</table:table>")
}
