package data

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"
)

const (
	// maxUnpacked bounds what a spreadsheet file may grow to when it is unpacked.
	maxUnpacked = 256 << 20
)

// IsArchive reports whether a file is a zip archive, as XLSX and ODS files are.
func IsArchive(file []byte) bool { return bytes.HasPrefix(file, []byte("PK\x03\x04")) }

// readSpreadsheet returns the rows of a table in an XLSX or ODS file: of the named
// one, or of the first that holds anything.
func readSpreadsheet(ctx context.Context, file []byte, options Options, sheet *Sheet) ([][]string, error) {
	part, err := readRange(options.Range)
	if err != nil {
		return nil, err
	}
	archive, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		return nil, errors.New("the file is a damaged zip archive, no spreadsheet")
	}
	var unpacked uint64
	var content *zip.File
	xlsx := false
	for _, member := range archive.File {
		unpacked += member.UncompressedSize64
		switch member.Name {
		case "content.xml":
			content = member
		case "xl/workbook.xml":
			xlsx = true
		}
	}
	if unpacked > maxUnpacked {
		return nil, fmt.Errorf("the file unpacks to %d MiB, more than the %d that can be read", unpacked>>20, maxUnpacked>>20)
	}
	if err := checkSizes(archive); err != nil {
		return nil, err
	}
	switch {
	case xlsx:
		return readXLSX(ctx, archive, file, options.Table, part, sheet)
	case content != nil:
		return readODS(ctx, content, options.Table, part, sheet)
	}
	return nil, errors.New("the file is a zip archive, but no spreadsheet that is known here (XLSX, ODS)")
}

// checkSizes unpacks an archive to nowhere: its directory may say less than a member unpacks to.
func checkSizes(archive *zip.Reader) error {
	for _, member := range archive.File {
		reader, err := member.Open()
		if err != nil {
			return fmt.Errorf("“%s” cannot be unpacked: %w", member.Name, err)
		}
		n, err := io.Copy(io.Discard, io.LimitReader(reader, int64(member.UncompressedSize64)+1))
		reader.Close()
		if err != nil || uint64(n) != member.UncompressedSize64 {
			return fmt.Errorf("the file is damaged: “%s” does not unpack to what it should", member.Name)
		}
	}
	return nil
}

func readXLSX(
	ctx context.Context, archive *zip.Reader, file []byte, table string, part cellRange, sheet *Sheet,
) ([][]string, error) {
	book, err := excelize.OpenReader(bytes.NewReader(file),
		excelize.Options{RawCellValue: true, UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: 64 << 20})
	if err != nil {
		return nil, fmt.Errorf("the XLSX file cannot be read: %w", err)
	}
	defer book.Close()
	return pickTable(book.GetSheetList(), table, sheet, func(name string) ([][]string, error) {
		return xlsxTable(ctx, archive, book, name, part)
	})
}

func xlsxTable(ctx context.Context, archive *zip.Reader, book *excelize.File, name string, part cellRange) ([][]string, error) {
	rows, err := book.Rows(name)
	if err != nil {
		return nil, fmt.Errorf("sheet “%s” cannot be read: %w", name, err)
	}
	defer rows.Close()
	out := tableRows{ctx: ctx, part: part}
	for rows.Next() && !out.past() {
		cells, err := rows.Columns()
		if err != nil {
			return nil, fmt.Errorf("sheet “%s”, row %d: %w", name, out.read+1, err)
		}
		if err := out.add(cells, 1); err != nil {
			return nil, err
		}
	}
	return out.rows, writeDates(archive, book, name, out.rows)
}

// writeDates writes the days and times of a table, which XLSX keeps as numbers that
// only their style tells from others, as ISO 8601 has them. A column is one of dates
// where one of its first cells has such a style.
func writeDates(archive *zip.Reader, book *excelize.File, name string, rows [][]string) error {
	styles := dateStyles(book)
	if len(styles) == 0 {
		return nil
	}
	props, err := book.GetWorkbookProps()
	if err != nil {
		return fmt.Errorf("reading the properties of the workbook: %w", err)
	}
	from1904 := props.Date1904 != nil && *props.Date1904
	dates, err := dateColumns(archive, name, styles)
	if err != nil {
		return fmt.Errorf("sheet “%s”: %w", name, err)
	}
	for _, row := range rows {
		for c := range row {
			if x, err := strconv.ParseFloat(row[c], 64); err == nil && dates[c] {
				row[c] = dateText(x, from1904)
			}
		}
	}
	return nil
}

// dateColumns returns the columns of a sheet, from 0, with a cell of one of the styles in the first
// rows. The library tells a cell's style only once it holds all of the sheet.
func dateColumns(archive *zip.Reader, name string, styles map[int]bool) (map[int]bool, error) {
	dates := map[int]bool{}
	path, err := sheetPath(archive, name)
	if err != nil || path == "" {
		return dates, err
	}
	const first = 50
	rows := 0
	err = eachElement(archive, path, func(element xml.StartElement) (more bool) {
		switch element.Name.Local {
		case "row":
			rows++
		case "c":
			style, err := strconv.Atoi(attribute(element, "s"))
			column, _, place := excelize.CellNameToCoordinates(attribute(element, "r"))
			if err == nil && place == nil && styles[style] {
				dates[column-1] = true
			}
		}
		return rows <= first
	})
	return dates, err
}

// sheetPath returns the member of an archive that holds a sheet, "" where there is none (ECMA-376,
// part 1, 18.2.19, and part 2, 9.3).
func sheetPath(archive *zip.Reader, name string) (path string, err error) {
	id := ""
	err = eachElement(archive, "xl/workbook.xml", func(element xml.StartElement) (more bool) {
		if element.Name.Local == "sheet" && attribute(element, "name") == name {
			id = attribute(element, "id")
		}
		return id == ""
	})
	if err != nil || id == "" {
		return "", err
	}
	err = eachElement(archive, "xl/_rels/workbook.xml.rels", func(element xml.StartElement) (more bool) {
		if element.Name.Local == "Relationship" && attribute(element, "Id") == id {
			path = attribute(element, "Target")
		}
		return path == ""
	})
	if absolute, ok := strings.CutPrefix(path, "/"); ok {
		return absolute, err
	}
	return "xl/" + path, err
}

// eachElement calls visit for each element of an XML member, as long as it wants more.
func eachElement(archive *zip.Reader, member string, visit func(xml.StartElement) (more bool)) error {
	file, err := archive.Open(member)
	if err != nil {
		return nil // nothing is said there
	}
	defer file.Close()
	decoder := xml.NewDecoder(file)
	for {
		token, err := decoder.Token()
		switch {
		case err == io.EOF:
			return nil
		case err != nil:
			return fmt.Errorf("“%s” is damaged: %w", member, err)
		}
		if start, ok := token.(xml.StartElement); ok && !visit(start) {
			return nil
		}
	}
}

// dateStyles returns the styles of a workbook that show numbers as days or times
// (ECMA-376, part 1, 18.8.30).
func dateStyles(book *excelize.File) map[int]bool {
	styles := map[int]bool{}
	for i := 0; ; i++ {
		style, err := book.GetStyle(i)
		if err != nil {
			return styles
		}
		format := style.NumFmt
		own := style.CustomNumFmt != nil && strings.ContainsAny(strings.ToLower(quotedOrColour.ReplaceAllString(*style.CustomNumFmt, "")),
			"ymdhs")
		if own || 14 <= format && format <= 22 || 45 <= format && format <= 47 {
			styles[i] = true
		}
	}
}

// quotedOrColour matches what a number format shows as it stands, and its colours
// and conditions.
var quotedOrColour = regexp.MustCompile(`"[^"]*"|\\.|\[[^\]]*\]`)

// dateText returns a day, a time of day, or both.
func dateText(x float64, from1904 bool) string {
	at, err := excelize.ExcelDateToTime(x, from1904)
	switch {
	case err != nil:
		return FormatNumber(x)
	case x < 1:
		return at.Format("15:04:05")
	case x == math.Trunc(x):
		return at.Format(time.DateOnly)
	}
	return at.Format("2006-01-02 15:04:05")
}

// pickTable returns the rows of the named table, or of the first that holds
// anything, and notes in the sheet which it is and what another says of its columns.
func pickTable(names []string, wanted string, sheet *Sheet, read func(name string) ([][]string, error)) ([][]string, error) {
	sheet.Tables = names
	if wanted != "" && !slices.Contains(names, wanted) {
		return nil, fmt.Errorf("there is no table “%s”; the tables are “%s”", wanted, strings.Join(names, "”, “"))
	}
	var picked [][]string
	for _, name := range names {
		if wanted != "" && name != wanted && name != Describing {
			continue
		}
		rows, err := read(name)
		if err != nil {
			return nil, err
		}
		switch {
		case name == Describing && wanted != name && isDescription(rows):
			sheet.description = rows
		case picked == nil && (name == wanted || len(trimRows(slices.Clone(rows))) > 0):
			picked, sheet.Table = rows, name
		}
		if picked != nil && !slices.Contains(names, Describing) {
			break
		}
	}
	if picked == nil {
		return nil, ErrEmpty
	}
	return picked, nil
}

// readODS reads the tables of an OpenDocument spreadsheet (ODF 1.3, part 3, 9):
// rows and cells may be repeated, and a cell's value stands in an attribute.
func readODS(ctx context.Context, content *zip.File, table string, part cellRange, sheet *Sheet) ([][]string, error) {
	reader, err := content.Open()
	if err != nil {
		return nil, fmt.Errorf("the ODS file cannot be unpacked: %w", err)
	}
	defer reader.Close()
	tables := map[string][][]string{} // those that may be picked
	var names []string
	found := false
	decoder := xml.NewDecoder(io.LimitReader(reader, maxUnpacked))
	for {
		token, err := decoder.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("the ODS file is damaged: %w", err)
		}
		if start, ok := token.(xml.StartElement); ok && start.Name.Local == "table" {
			name := attribute(start, "name")
			names = append(names, name)
			if wanted := name == table || name == Describing || table == "" && !found; !wanted {
				if err := decoder.Skip(); err != nil {
					return nil, fmt.Errorf("the ODS file is damaged: %w", err)
				}
				continue
			}
			rows, err := odsTable(ctx, decoder, part)
			if err != nil {
				return nil, fmt.Errorf("table “%s”: %w", name, err)
			}
			tables[name] = rows
			found = found || name != Describing && len(trimRows(slices.Clone(rows))) > 0
		}
	}
	return pickTable(names, table, sheet, func(name string) ([][]string, error) { return tables[name], nil })
}

// odsTable reads rows until the table ends. Blank rows and cells at an end, which
// are repeated by the thousand, are not kept.
func odsTable(ctx context.Context, decoder *xml.Decoder, part cellRange) ([][]string, error) {
	out := tableRows{ctx: ctx, part: part}
	var row []string
	pending := 0 // blank cells that count only if something follows
	var text strings.Builder
	value, repeatCells, repeatRows, inCell := "", 1, 1, false
	for depth := 1; depth > 0; {
		token, err := decoder.Token()
		if err != nil {
			return nil, fmt.Errorf("the file ends in the middle: %w", err)
		}
		switch token := token.(type) {
		case xml.StartElement:
			switch token.Name.Local {
			case "table":
				depth++
			case "table-row":
				row, pending = nil, 0
				repeatRows = repeats(token, "number-rows-repeated")
			case "table-cell", "covered-table-cell":
				inCell, value = true, attribute(token, "value")
				repeatCells = repeats(token, "number-columns-repeated")
				text.Reset()
			case "p":
				if inCell && text.Len() > 0 {
					text.WriteByte('\n')
				}
			}
		case xml.CharData:
			if inCell {
				text.Write(token)
			}
		case xml.EndElement:
			switch token.Name.Local {
			case "table":
				depth--
			case "table-cell", "covered-table-cell":
				inCell = false
				if value == "" {
					value = strings.TrimSpace(text.String())
				}
				if value == "" {
					pending += repeatCells
					continue
				}
				if err := out.check(1, len(row)+pending+repeatCells); err != nil {
					return nil, err
				}
				row = append(row, make([]string, pending)...)
				pending = 0
				for range repeatCells {
					row = append(row, value)
				}
			case "table-row":
				if err := out.add(row, repeatRows); err != nil {
					return nil, err
				}
			}
		}
	}
	return out.rows, nil
}

func attribute(element xml.StartElement, name string) string {
	for _, a := range element.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// mostRepeats is more than there can be rows, and adds up to no overflow.
const mostRepeats = 1 << 30

func repeats(element xml.StartElement, name string) int {
	n, err := strconv.Atoi(attribute(element, name))
	if err != nil || n < 1 {
		return 1
	}
	return min(n, mostRepeats)
}
