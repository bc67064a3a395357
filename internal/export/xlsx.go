package export

import (
	"archive/zip"
	"bufio"
	"compress/flate"
	"encoding/xml"
	"fmt"
	"io"
	"strconv"

	"grund/internal/data"
)

// The parts of a workbook of two sheets but for their cells (ECMA-376, part 1, 18, and part 2).
const (
	xlsxTypes = xml.Header + `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">` +
		`<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>` +
		`<Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/>` +
		`<Override PartName="/xl/worksheets/sheet1.xml" ` +
		`ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/>` +
		`<Override PartName="/xl/worksheets/sheet2.xml" ` +
		`ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/>` +
		`</Types>`
	xlsxRelations = xml.Header + `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship ` +
		`Id="rId1" ` +
		`Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>`
	xlsxSheets = xml.Header + `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" ` +
		`Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/><Relationship ` +
		`Id="rId2" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet2.xml"/>` +
		`</Relationships>`
	xlsxBook = xml.Header + `<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r=` +
		`"http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="data" sheetId="1" r:id="rId1"/>` +
		`<sheet name="` + data.Describing + `" sheetId="2" r:id="rId2"/></sheets></workbook>`
	xlsxBegin = xml.Header + `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`
	xlsxEnd   = `</sheetData></worksheet>`
)

// xlsxRows is how many rows a sheet has at most.
const xlsxRows = 1_048_576

// writeXLSX writes a workbook. Its cells go into the archive as they come, so that a long data set takes
// no more memory than a short one.
func writeXLSX(w io.Writer, s *data.Set) error {
	if s.Rows() >= xlsxRows {
		return fmt.Errorf("a sheet of XLSX has no more than %d rows; save it as CSV, or as ODS", xlsxRows)
	}
	archive := quickArchive(w)
	for _, part := range []struct{ name, text string }{
		{"[Content_Types].xml", xlsxTypes}, {"_rels/.rels", xlsxRelations}, {"xl/workbook.xml", xlsxBook},
		{"xl/_rels/workbook.xml.rels", xlsxSheets},
	} {
		if err := addPart(archive, part.name, part.text); err != nil {
			return err
		}
	}
	if err := xlsxSheet(archive, "xl/worksheets/sheet1.xml", eachRow(s), numeric(s)); err != nil {
		return err
	}
	if err := xlsxSheet(archive, "xl/worksheets/sheet2.xml", eachOf(described(s)), make([]bool, len(data.Describers))); err != nil {
		return err
	}
	return archive.Close()
}

// quickArchive returns an archive that is packed quickly rather than as small as can be.
func quickArchive(w io.Writer) *zip.Writer {
	archive := zip.NewWriter(w)
	archive.RegisterCompressor(zip.Deflate, func(w io.Writer) (io.WriteCloser, error) { return flate.NewWriter(w, flate.BestSpeed) })
	return archive
}

func addPart(archive *zip.Writer, name, text string) error {
	part, err := archive.Create(name)
	if err != nil {
		return err
	}
	_, err = io.WriteString(part, text)
	return err
}

func xlsxSheet(archive *zip.Writer, name string, each rows, numeric []bool) error {
	part, err := archive.Create(name)
	if err != nil {
		return err
	}
	out := bufio.NewWriterSize(part, 64<<10)
	out.WriteString(xlsxBegin)
	number := 0
	err = each(func(row []string) error {
		number++
		out.WriteString(`<row r="`)
		out.WriteString(strconv.Itoa(number))
		out.WriteString(`">`)
		for j, cell := range row {
			switch {
			case cell == "": // keeps the place of those that follow
				out.WriteString(`<c/>`)
			case number > 1 && numeric[j] && plainNumber(cell):
				out.WriteString(`<c><v>`)
				out.WriteString(cell)
				out.WriteString(`</v></c>`)
			default:
				out.WriteString(`<c t="inlineStr"><is><t xml:space="preserve">`)
				if err := xml.EscapeText(out, []byte(cell)); err != nil {
					return err
				}
				out.WriteString(`</t></is></c>`)
			}
		}
		_, err := out.WriteString(`</row>`)
		return err
	})
	if err != nil {
		return err
	}
	out.WriteString(xlsxEnd)
	return out.Flush()
}
