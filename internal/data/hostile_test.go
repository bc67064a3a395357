package data

import (
	"archive/zip"
	"bytes"
	"compress/flate"
	"context"
	"fmt"
	"io"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// within runs f, and fails if it takes longer or more memory than it should.
func within(t *testing.T, limit time.Duration, megabytes uint64, f func()) {
	t.Helper()
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	began := time.Now()
	f()
	took := time.Since(began)
	runtime.ReadMemStats(&after)
	assert.Less(t, took, limit)
	assert.Less(t, (after.TotalAlloc-before.TotalAlloc)>>20, megabytes, "MiB")
}

const odsCell = `<table:table-cell office:value="1"%s/>`

// strayODS has a small table, and a cell far down and to the right.
func strayODS() string {
	row := "<table:table-row>" + fmt.Sprintf(odsCell, "") + fmt.Sprintf(odsCell, "") + "</table:table-row>"
	return "<table:table>" + row + row + row + `<table:table-row table:number-rows-repeated="1048000"/>` +
		`<table:table-row><table:table-cell table:number-columns-repeated="1990"/>` + fmt.Sprintf(odsCell, "") +
		"</table:table-row></table:table>"
}

func TestTablesOfTooMuchAreRefusedBeforeTheyAreRead(t *testing.T) {
	ctx := t.Context()
	repeated := func(rows, columns int) []byte {
		return archive(t, ods(fmt.Sprintf(`<table:table><table:table-row table:number-rows-repeated="%d">`+odsCell+
			`</table:table-row></table:table>`, rows, fmt.Sprintf(` table:number-columns-repeated="%d"`, columns))))
	}
	for name, c := range map[string]struct {
		file    []byte
		options Options
		says    string
	}{
		"rows times columns":         {repeated(4_900_000, 2000), Options{}, "9800000000 cells"},
		"more rows than can be kept": {repeated(2_000_000_000, 1), Options{}, "more than the 5000000 rows"},
		"repeats that overflow":      {repeated(1, 1<<62), Options{}, "row 1 has"},
		"a cell far out":             {archive(t, ods(strayODS())), Options{}, "2086575964 cells"},
		"lists without end":          {[]byte("[" + strings.Repeat("[],", MaxRows) + "[]]"), Options{}, "more than the 5000000 rows"},
		"a list that goes on":        {[]byte(`[[1,2],[3,4]] 5`), Options{}, "something follows"},
		"a long cell": {[]byte("note,minutes\nfog,12\n" + strings.Repeat("ø", MaxCell+1) + ",9\n"), Options{},
			"row 3, column 1 holds a text of 32768"},
		"a long cell in JSON":  {[]byte(`[["` + strings.Repeat("x", MaxCell+1) + `"]]`), Options{}, "row 1, column 1 holds a text of 32768"},
		"turned too wide":      {[]byte(strings.Repeat("1,2\n", 3000)), Options{Turned: true}, "3000 columns"},
		"a range that is none": {[]byte("1,2"), Options{Range: "B99999999999999999999"}, "not understood"},
	} {
		within(t, 20*time.Second, 1000, func() {
			_, err := Read(ctx, c.file, c.options)
			assert.ErrorContains(t, err, c.says, name)
		})
	}
}

func TestOnlyTheTableThatIsReadTakesMemory(t *testing.T) {
	long := `<table:table table:name="long"><table:table-row table:number-rows-repeated="4900000">` + fmt.Sprintf(odsCell, "") +
		fmt.Sprintf(odsCell, "") + `</table:table-row></table:table>`
	short := `<table:table table:name="short"><table:table-row>` + fmt.Sprintf(odsCell, "") + `</table:table-row></table:table>`
	file := archive(t, ods(short+strings.Repeat(long, 50)))
	within(t, 20*time.Second, 50, func() {
		sheet, err := Read(t.Context(), file, Options{})
		require.NoError(t, err)
		assert.Equal(t, []any{"short", 51}, []any{sheet.Table, len(sheet.Tables)})
	})
}

func TestAPartOfAnEndlessTableCanBeRead(t *testing.T) {
	within(t, 20*time.Second, 100, func() {
		sheet, err := Read(t.Context(), archive(t, ods(strayODS())), Options{Range: "A1:B3"})
		require.NoError(t, err)
		assert.Equal(t, [][]string{{"1", "1", "1"}, {"1", "1", "1"}}, sheet.Columns)
	})
}

// workbook is an XLSX file with one sheet of that XML.
func workbook(t *testing.T, sheet string) []byte {
	const types = "application/vnd.openxmlformats-officedocument.spreadsheetml."
	const relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
	return archive(t, map[string]string{
		"[Content_Types].xml": `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Override ` +
			`PartName="/xl/workbook.xml" ` +
			`ContentType="` + types + `sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="` + types +
			`worksheet+xml"/></Types>`,
		"_rels/.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="` +
			relations + `/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
		"xl/_rels/workbook.xml.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship ` +
			`Id="rId1" ` +
			`Type="` + relations + `/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
		"xl/workbook.xml": `<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="` + relations +
			`"><sheets><sheet name="log" sheetId="1" r:id="rId1"/></sheets></workbook>`,
		"xl/worksheets/sheet1.xml": `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>` + sheet +
			`</sheetData></worksheet>`,
	})
}

func TestASheetWithAStrayCell(t *testing.T) {
	const small = `<row r="1"><c r="A1" t="str"><v>berth</v></c><c r="B1" t="str"><v>minutes</v></c></row>` +
		`<row r="2"><c r="A2" t="str"><v>Mole</v></c><c r="B2"><v>12.5</v></c><c r="XFD2" s="0"/></row>` +
		`<row r="3"><c r="A3" t="str"><v>Quarry</v></c><c r="B3"><v>13</v></c></row><row r="1048576"><c r="XFD1048576" s="0"/></row>`
	const read = "berth: ‘Mole’ ‘Quarry’; minutes: 12.5 13"
	within(t, 20*time.Second, 50, func() {
		sheet, err := Read(t.Context(), workbook(t, small), Options{})
		require.NoError(t, err)
		assert.Equal(t, read, written(t, sheet), "what is far out is blank")
	})
	within(t, 20*time.Second, 100, func() {
		stray := workbook(t, small+`<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>`)
		_, err := Read(t.Context(), stray, Options{})
		assert.ErrorContains(t, err, "row 1048576 has 16384 columns")
		sheet, err := Read(t.Context(), stray, Options{Range: "A1:B3"})
		require.NoError(t, err)
		assert.Equal(t, read, written(t, sheet))
	})
}

// The directory of an archive may say that a member is small when it is not.
func TestAnArchiveThatLiesAboutItsSize(t *testing.T) {
	var packed bytes.Buffer
	deflate, err := flate.NewWriter(&packed, flate.BestCompression)
	require.NoError(t, err)
	_, err = io.CopyN(deflate, zeros{}, 600<<20)
	require.NoError(t, err)
	require.NoError(t, deflate.Close())
	var file bytes.Buffer
	out := zip.NewWriter(&file)
	for _, name := range []string{"xl/workbook.xml", "content.xml"} {
		member, err := out.CreateRaw(&zip.FileHeader{
			Name: name, Method: zip.Deflate, CompressedSize64: uint64(packed.Len()), UncompressedSize64: 1000,
		})
		require.NoError(t, err)
		_, err = member.Write(packed.Bytes())
		require.NoError(t, err)
	}
	require.NoError(t, out.Close())
	within(t, 20*time.Second, 50, func() {
		_, err = Read(t.Context(), file.Bytes(), Options{})
		assert.ErrorContains(t, err, "damaged")
	})
}

// zeros reads as blanks without an end.
type zeros struct{}

func (zeros) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = ' '
	}
	return len(p), nil
}

func TestReadingEndsWithItsContext(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	row := "<table:table-row>" + fmt.Sprintf(odsCell, "") + "</table:table-row>"
	for name, file := range map[string][]byte{
		"ODS":  archive(t, ods("<table:table>"+strings.Repeat(row, 3000)+"</table:table>")),
		"XLSX": book(t, map[string][][]any{"log": {{"berth", "minutes"}, {"Mole", 12}}}, "log"),
	} {
		_, err := Read(ctx, file, Options{})
		assert.ErrorIs(t, err, context.Canceled, name)
	}
}

// A quotation mark that is never closed makes one cell of the rest of a file, however long.
func TestARowWithoutAnEnd(t *testing.T) {
	text := io.MultiReader(strings.NewReader("berth,minutes\nMole,12\n"), strings.NewReader(strings.Repeat("Mole,12\n", 200_000)),
		strings.NewReader(`"`), zeros{})
	within(t, 20*time.Second, 1000, func() {
		stream, err := NewStream(t.Context(), "berths", text, 4096)
		require.NoError(t, err)
		for err == nil {
			_, err = stream.Next()
		}
		assert.ErrorContains(t, err, "row 200003 is longer than 64 MiB")
	})
}

func TestAStreamOfTooManyCells(t *testing.T) {
	row := strings.TrimSuffix(strings.Repeat("1,", 1000), ",") + "\n"
	var source repeated = []byte(row)
	stream, err := NewStream(t.Context(), "wide", &source, 4096)
	require.NoError(t, err)
	rows := 0
	for err == nil {
		_, err = stream.Next()
		rows = stream.Rows()
	}
	assert.ErrorContains(t, err, "more than the 20000000")
	assert.LessOrEqual(t, rows, MaxCells/1000)
}

// repeated reads as the same text again and again.
type repeated []byte

func (r *repeated) Read(p []byte) (int, error) {
	n := copy(p, *r)
	*r = append((*r)[n:], (*r)[:n]...)
	return n, nil
}
