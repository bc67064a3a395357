package export

import (
	"archive/zip"
	"bufio"
	"encoding/xml"
	"io"

	"grund/internal/data"
)

const (
	odsKind     = "application/vnd.oasis.opendocument.spreadsheet"
	odsManifest = xml.Header + `<manifest:manifest ` +
		`xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">` +
		`<manifest:file-entry manifest:full-path="/" manifest:media-type="` + odsKind +
		`"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`
	odsBegin = xml.Header + `<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" ` +
		`xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" ` +
		`office:version="1.3"><office:body><office:spreadsheet>`
	odsEnd = `</office:spreadsheet></office:body></office:document-content>`
)

// writeODS writes an OpenDocument spreadsheet (ODF 1.3, parts 2 and 3): an archive
// whose first member says what it is, a manifest, and the content, which goes into it as it comes.
func writeODS(w io.Writer, s *data.Set) error {
	archive := quickArchive(w)
	first, err := archive.CreateHeader(&zip.FileHeader{Name: "mimetype", Method: zip.Store})
	if err != nil {
		return err
	}
	if _, err := io.WriteString(first, odsKind); err != nil {
		return err
	}
	if err := addPart(archive, "META-INF/manifest.xml", odsManifest); err != nil {
		return err
	}
	content, err := archive.Create("content.xml")
	if err != nil {
		return err
	}
	out := bufio.NewWriterSize(content, 64<<10)
	out.WriteString(odsBegin)
	if err := writeODSTable(out, "data", eachRow(s), numeric(s)); err != nil {
		return err
	}
	if err := writeODSTable(out, data.Describing, eachOf(described(s)), make([]bool, len(data.Describers))); err != nil {
		return err
	}
	out.WriteString(odsEnd)
	if err := out.Flush(); err != nil {
		return err
	}
	return archive.Close()
}

func writeODSTable(out *bufio.Writer, name string, each rows, numeric []bool) error {
	out.WriteString(`<table:table table:name="` + name + `">`)
	first := true
	err := each(func(row []string) error {
		out.WriteString("<table:table-row>")
		for j, cell := range row {
			switch {
			case cell == "":
				out.WriteString("<table:table-cell/>")
				continue
			case !first && numeric[j] && plainNumber(cell):
				out.WriteString(`<table:table-cell office:value-type="float" office:value="`)
				out.WriteString(cell)
				out.WriteString(`"><text:p>`)
				out.WriteString(cell)
			default:
				out.WriteString(`<table:table-cell office:value-type="string"><text:p>`)
				if err := xml.EscapeText(out, []byte(cell)); err != nil {
					return err
				}
			}
			out.WriteString("</text:p></table:table-cell>")
		}
		first = false
		_, err := out.WriteString("</table:table-row>")
		return err
	})
	if err != nil {
		return err
	}
	_, err = out.WriteString("</table:table>")
	return err
}
