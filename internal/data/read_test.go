package data

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"math"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// written puts a sheet's variables on one line: "berth: Mole Quarry _; minutes
// (min): 12.1 13.4", categories as they are, numbers in their shortest form, "_"
// for missing.
func written(t *testing.T, s *Sheet) string {
	t.Helper()
	variables, err := s.Variables()
	if err != nil {
		return "ERROR " + err.Error()
	}
	var parts []string
	for _, v := range variables {
		name := v.Name
		if v.Unit != "" {
			name += " (" + v.Unit + ")"
		}
		cells := []string{}
		for i := range v.Len() {
			switch {
			case v.Missing(i):
				cells = append(cells, "_")
			case v.Kind == Number:
				cells = append(cells, FormatNumber(v.Numbers[i]))
			default:
				cells = append(cells, "‘"+v.Levels[v.Codes[i]].Code+"’")
			}
		}
		parts = append(parts, name+": "+strings.Join(cells, " "))
	}
	return strings.Join(parts, "; ")
}

// Blocks as they come from spreadsheets, mails and course pages, and what they
// must become.
func TestBlocks(t *testing.T) {
	for name, c := range map[string][2]string{
		"tabs, header":                     {"pier\tminutes\nMole\t12.1\nQuarry\t13.4", "pier: ‘Mole’ ‘Quarry’; minutes: 12.1 13.4"},
		"tabs, no header":                  {"Mole\t12.1\nQuarry\t13.4", "column 1: ‘Mole’ ‘Quarry’; column 2: 12.1 13.4"},
		"commas":                           {"pier,minutes\nMole,12.1\nQuarry,13.4", "pier: ‘Mole’ ‘Quarry’; minutes: 12.1 13.4"},
		"semicolons, decimal commas":       {"pier;minutes\nMole;12,1\nQuarry;13,4", "pier: ‘Mole’ ‘Quarry’; minutes: 12.1 13.4"},
		"tabs, decimal commas":             {"pier\tminutes\nMole\t12,1\nQuarry\t13,45", "pier: ‘Mole’ ‘Quarry’; minutes: 12.1 13.45"},
		"bars":                             {"pier|minutes\nMole|12.1\nQuarry|13.4", "pier: ‘Mole’ ‘Quarry’; minutes: 12.1 13.4"},
		"old line ends":                    {"pier,minutes\r\nMole,12.1\r\nQuarry,13.4\r\n", "pier: ‘Mole’ ‘Quarry’; minutes: 12.1 13.4"},
		"blank lines at both ends":         {"\n\npier,minutes\nMole,12.1\n\n\n", "pier: ‘Mole’; minutes: 12.1"},
		"one column":                       {"minutes\n12.1\n13.4", "minutes: 12.1 13.4"},
		"one column, decimal commas":       {"minutes\n12,1\n13,4", "minutes: 12.1 13.4"},
		"one column, commas, no header":    {"12,1\n13,4\n9,75", "column 1: 12.1 13.4 9.75"},
		"one number":                       {"12.1", "column 1: 12.1"},
		"one line of numbers":              {"12.1\t13.4\t11.8", "column 1: 12.1; column 2: 13.4; column 3: 11.8"},
		"spaces round cells":               {" pier , minutes \n Mole , 12.1 ", "pier: ‘Mole’; minutes: 12.1"},
		"quoted cells":                     {"pier,note\n\"Mole, north\",1\n\"say \"\"no\"\"\",2", "pier: ‘Mole, north’ ‘say \"no\"’; note: 1 2"},
		"a quoted line end":                {"pier,n\n\"Mole\nnorth\",1", "pier: ‘Mole\nnorth’; n: 1"},
		"quoted numbers":                   {"pier,n\n\"Mole\",\"12.5\"", "pier: ‘Mole’; n: 12.5"},
		"quoted decimal commas":            {"pier,n\nMole,\"12,5\"\nQuarry,\"7,25\"", "pier: ‘Mole’ ‘Quarry’; n: 12.5 7.25"},
		"a blank cell":                     {"pier,n\nMole,\nQuarry,3\nLantern,4", "pier: ‘Mole’ ‘Quarry’ ‘Lantern’; n: _ 3 4"},
		"a short row":                      {"pier,n\nMole,2\nQuarry\nLantern,4", "pier: ‘Mole’ ‘Quarry’ ‘Lantern’; n: 2 _ 4"},
		"a column of blanks at the end":    {"pier,n,\nMole,2,\nQuarry,3,", "pier: ‘Mole’ ‘Quarry’; n: 2 3"},
		"NA for missing":                   {"n\n1\nNA\n3\nn/a\n5", "n: 1 _ 3 _ 5"},
		"a dash for missing":               {"n\n1\n-\n3\n–\n5", "n: 1 _ 3 _ 5"},
		"a point for missing":              {"n\n1\n.\n3", "n: 1 _ 3"},
		"NA among words stays":             {"answer\nyes\nNA\nno", "answer: ‘yes’ ‘NA’ ‘no’"},
		"thousands with commas":            {"n\n1,234.5\n12,000\n7", "n: 1234.5 12000 7"},
		"thousands with points":            {"n\n1.234,5\n12.000,0\n7", "n: 1234.5 12000 7"},
		"thousands with spaces":            {"n\n1 234.5\n12 000\n7", "n: 1234.5 12000 7"},
		"thousands with thin spaces":       {"n\n1\u202f234\n12\u2009000\n1\u00a0000\u00a0000", "n: 1234 12000 1000000"},
		"thousands with apostrophes":       {"n\n1'234.5\n12’000", "n: 1234.5 12000"},
		"thousands that nothing tells":     {"n\n\"1,234\"\n\"5,678\"", "n: 1234 5678"},
		"decimals that another cell tells": {"n;m\n1,234;1\n5,6;2", "n: 1.234 5.6; m: 1 2"},
		"euros before":                     {"fare\n€ 12.50\n€7\n−€3", "fare (€): 12.5 7 -3"},
		"euros after, commas":              {"fare\n12,50 €\n7,00 €", "fare (€): 12.5 7"},
		"dollars and thousands":            {"fare\n\"$1,250.75\"\n$3", "fare ($): 1250.75 3"},
		"percent":                          {"share\n45%\n7.5 %", "share (%): 45 7.5"},
		"percent in some cells":            {"share\n45%\n7.5", "share: 45 7.5"},
		"real minus signs":                 {"change\n−3.5\n+2\n-1", "change: -3.5 2 -1"},
		"exponents":                        {"n\n1e3\n2.5E-2\n1e−2", "n: 1000 0.025 0.01"},
		"no leading zero":                  {"n\n.5\n-.25", "n: 0.5 -0.25"},
		"a point at the end":               {"n\n5.\n6.", "n: 5 6"},
		"codes with leading zeros":         {"code\n007\n012\n100", "code: ‘007’ ‘012’ ‘100’"},
		"decimals with leading zeros":      {"n\n0.5\n0\n0.25", "n: 0.5 0 0.25"},
		"dates are no numbers":             {"day\n2026-05-01\n2026-05-02", "day: ‘2026-05-01’ ‘2026-05-02’"},
		"times are no numbers":             {"time\n12:30\n9:05", "time: ‘12:30’ ‘9:05’"},
		"ranges are no numbers":            {"gap\n0-59\n60-119", "gap: ‘0-59’ ‘60-119’"},
		"versions are no numbers":          {"v\n1.2.3\n1.2.4", "v: ‘1.2.3’ ‘1.2.4’"},
		"yes and no":                       {"on time\nyes\nno\nyes", "on time: ‘yes’ ‘no’ ‘yes’"},
		"case and accents matter":          {"pier\nMôle\nmôle", "pier: ‘Môle’ ‘môle’"},
		"words under a header":             {"ferry\nDunlin\nPuffin\nDunlin", "ferry: ‘Dunlin’ ‘Puffin’ ‘Dunlin’"},
		"numbers as a header are data":     {"2024\t2025\n1\t2", "column 1: 2024 1; column 2: 2025 2"},
		"a half-blank first row is data":   {"pier\t\nMole\t1", "column 1: ‘pier’ ‘Mole’; column 2: _ 1"},
		"a unit in the header":             {"minutes (min)\n12\n13", "minutes (min): 12 13"},
		"most are numbers, one slip":       {"n\n1\n2\n3\n4o\n5", "ERROR row 5, column “n”: “4o” is not a number; the other cells are numbers"},
		"mostly words":                     {"n\none\n2\nthree\nfour", "n: ‘one’ ‘2’ ‘three’ ‘four’"},
		"a name twice":                     {"n,n\n1,2", "ERROR column 2 is called “n”, and so is another; give each a name of its own"},
		"too large a number": {"n\n1\n2\n3\n1e999", "ERROR row 5, column “n”: “1e999” is larger than any number that can be " +
			"calculated with (about 1.8 × 10³⁰⁸); the other cells are numbers"},
		"grouped wrongly": {"n\n12,34,5\n1\n2\n3", "ERROR row 2, column “n”: “12,34,5” is not a number; the other cells are " +
			"numbers"},
		"a sentence with commas": {"note\nfine, calm", "note: ‘fine, calm’"},
		"three columns, mixed": {"ferry;wind;late\nDunlin;4,5;no\nPuffin;11;yes",
			"ferry: ‘Dunlin’ ‘Puffin’; wind: 4.5 11; late: ‘no’ ‘yes’"},
		"decimal commas and tabs in one": {"a\tb\n1,5\t2,25\n3\t4", "a: 1.5 3; b: 2.25 4"},
	} {
		t.Run(name, func(t *testing.T) {
			sheet, err := Read(t.Context(), []byte(c[0]), Options{})
			require.NoError(t, err)
			assert.Equal(t, c[1], written(t, sheet))
		})
	}
}

func utf16Bytes(text string, big, mark bool) []byte {
	units := utf16.Encode([]rune(text))
	if mark {
		units = append([]uint16{0xfeff}, units...)
	}
	out := make([]byte, 0, 2*len(units))
	for _, u := range units {
		if big {
			out = append(out, byte(u>>8), byte(u))
		} else {
			out = append(out, byte(u), byte(u>>8))
		}
	}
	return out
}

// book writes an XLSX file of the given sheets.
func book(t *testing.T, sheets map[string][][]any, order ...string) []byte {
	t.Helper()
	f := excelize.NewFile()
	for i, name := range order {
		if i == 0 {
			require.NoError(t, f.SetSheetName("Sheet1", name))
		} else {
			_, err := f.NewSheet(name)
			require.NoError(t, err)
		}
		for r, row := range sheets[name] {
			cell, err := excelize.CoordinatesToCellName(1, r+1)
			require.NoError(t, err)
			require.NoError(t, f.SetSheetRow(name, cell, &row))
		}
	}
	var out bytes.Buffer
	require.NoError(t, f.Write(&out))
	return out.Bytes()
}

func TestXLSX(t *testing.T) {
	file := book(t, map[string][][]any{
		"notes":  {},
		"berths": {{"berth", "minutes"}, {"Mole", 12.1}, {"Quarry", 0.123456789012345}, {nil, 13}},
		"other":  {{"x"}, {1}},
	}, "notes", "berths", "other")
	sheet, err := Read(t.Context(), file, Options{})
	require.NoError(t, err)
	assert.Equal(t, "berth: ‘Mole’ ‘Quarry’ _; minutes: 12.1 0.123456789012345 13", written(t, sheet),
		"an empty sheet is passed over, and numbers keep all digits")
	sheet, err = Read(t.Context(), file, Options{Table: "other"})
	require.NoError(t, err)
	assert.Equal(t, "x: 1", written(t, sheet))
	_, err = Read(t.Context(), file, Options{Table: "another"})
	assert.ErrorContains(t, err, "the tables are “notes”, “berths”, “other”")
}

// Days and times are numbers in XLSX; 25569 is 1 January 1970 (ECMA-376, part 1, 18.17.4.1).
func TestDatesInXLSX(t *testing.T) {
	f := excelize.NewFile()
	style := func(s excelize.Style) int {
		id, err := f.NewStyle(&s)
		require.NoError(t, err)
		return id
	}
	own, minutes := `dd/mm/yyyy\ hh:mm`, `0.0 "days, mostly" [$s-1]`
	day, moment, clock, number := style(excelize.Style{NumFmt: 14}), style(excelize.Style{CustomNumFmt: &own}),
		style(excelize.Style{NumFmt: 20}), style(excelize.Style{CustomNumFmt: &minutes})
	for column, of := range map[string]struct {
		style int
		value float64
	}{"A": {day, 25569}, "B": {moment, 25569.75}, "C": {clock, 0.3125}, "D": {number, 25569.5}} {
		require.NoError(t, f.SetCellValue("Sheet1", column+"1", "sailed"+column))
		require.NoError(t, f.SetCellFloat("Sheet1", column+"2", of.value, -1, 64))
		require.NoError(t, f.SetCellStyle("Sheet1", column+"2", column+"2", of.style))
	}
	var out bytes.Buffer
	require.NoError(t, f.Write(&out))
	sheet, err := Read(t.Context(), out.Bytes(), Options{})
	require.NoError(t, err)
	assert.Equal(t, "sailedA: ‘1970-01-01’; sailedB: ‘1970-01-01 18:00:00’; sailedC: ‘07:30:00’; sailedD: 25569.5", written(t, sheet))
}

// The first rows come along as they stand, for choosing a part of them.
func TestTopOfASpreadsheet(t *testing.T) {
	rows := [][]any{{"Loadings of the Dunlin"}, {}, {nil, "berth", "minutes", "note"}}
	for range 300 {
		rows = append(rows, []any{nil, "Mole", 12.5, "calm"})
	}
	sheet, err := Read(t.Context(), book(t, map[string][][]any{"log": rows}, "log"), Options{Range: "B3:C"})
	require.NoError(t, err)
	assert.Equal(t, []string{"berth", "minutes"}, sheet.Names)
	assert.Len(t, sheet.Columns[0], 300)
	sheet, err = Read(t.Context(), book(t, map[string][][]any{"log": rows}, "log"), Options{})
	require.NoError(t, err)
	assert.Equal(t, []string{"berth", "minutes", "note"}, sheet.Names,
		"a title that stands apart is no row of the table, and a margin no column")
	require.Len(t, sheet.Top, 200)
	assert.Equal(t, []string{"Loadings of the Dunlin"}, sheet.Top[0])
	assert.Equal(t, []string{"", "Mole", "12.5", "calm"}, sheet.Top[199])
}

// archive writes a zip file.
func archive(t *testing.T, members map[string]string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for name, content := range members {
		member, err := w.Create(name)
		require.NoError(t, err)
		_, err = member.Write([]byte(content))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

func ods(tables string) map[string]string {
	return map[string]string{
		"mimetype": "application/vnd.oasis.opendocument.spreadsheet",
		"content.xml": `<?xml version="1.0"?><office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
			xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"
			xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:spreadsheet>` +
			tables + `</office:spreadsheet></office:body></office:document-content>`,
	}
}

func TestODS(t *testing.T) {
	file := archive(t, ods(`<table:table table:name="empty">
		<table:table-row table:number-rows-repeated="1048576"><table:table-cell table:number-columns-repeated="1024"/></table:table-row>
		</table:table>
		<table:table table:name="berths">
		<table:table-row><table:table-cell office:value-type="string"><text:p>berth</text:p></table:table-cell>
			<table:table-cell><text:p>minutes</text:p></table:table-cell><table:table-cell table:number-columns-repeated="1022"/></table:table-row>
		<table:table-row table:number-rows-repeated="2">
			<table:table-cell><text:p>Mole <text:span>north</text:span></text:p></table:table-cell>
			<table:table-cell office:value-type="float" office:value="12.125"><text:p>12,1</text:p></table:table-cell></table:table-row>
		<table:table-row><table:table-cell/><table:table-cell office:value="13"><text:p>13</text:p></table:table-cell></table:table-row>
		<table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="1024"/></table:table-row>
		</table:table>`))
	sheet, err := Read(t.Context(), file, Options{})
	require.NoError(t, err)
	assert.Equal(t, "berth: ‘Mole north’ ‘Mole north’ _; minutes: 12.125 12.125 13", written(t, sheet), "the value, not what is displayed")
}

func TestJSON(t *testing.T) {
	for text, want := range map[string]string{
		`[{"pier":"Mole","minutes":12.5},{"pier":"Quarry","minutes":null,"late":true}]`: "pier: ‘Mole’ ‘Quarry’; minutes: 12.5 _; late: _ ‘yes’",
		`[["pier","minutes"],["Mole",12.5],["Quarry",13]]`:                              "pier: ‘Mole’ ‘Quarry’; minutes: 12.5 13",
		`[{"1":2},{"1":3}]`: "1: 2 3",
	} {
		sheet, err := Read(t.Context(), []byte(text), Options{})
		require.NoError(t, err, text)
		assert.Equal(t, want, written(t, sheet))
	}
}

func TestFilesThatAreNotWhatTheySay(t *testing.T) {
	bomb := archive(t, map[string]string{"xl/workbook.xml": "", "xl/worksheets/sheet1.xml": strings.Repeat("0", maxUnpacked+1)})
	wide := strings.Repeat("1,", 10_000)
	for name, c := range map[string]struct {
		file []byte
		says string
	}{
		"nothing":         {nil, "nothing in it"},
		"white space":     {[]byte(" \n\t\n"), "nothing in it"},
		"a NUL":           {[]byte("a,b\n1,2\n3,\x004\n"), "line 3 holds a NUL"},
		"an odd UTF-16":   {append(utf16Bytes("abc", false, true), 'x'), "ends in the middle of a character"},
		"an open quote":   {[]byte("a,b\n\"1,2\n3,4"), "row 2: a quotation mark"},
		"10,000 columns":  {[]byte(wide + "\n"), "row 1 has 10001 columns"},
		"another archive": {archive(t, map[string]string{"readme.txt": "hello"}), "no spreadsheet that is known here"},
		"half an archive": {book(t, map[string][][]any{"a": {{1}}}, "a")[:400], "damaged zip archive"},
		"a zip bomb":      {bomb, "unpacks to 256 MiB"},
		"an ODS cut short": {archive(t, map[string]string{
			"content.xml": strings.TrimSuffix(ods("<table:table/>")["content.xml"], "</office:document-content>")}), "ODS file is damaged"},
		"ODS, a million wide": {archive(t, ods(`<table:table><table:table-row><table:table-cell office:value="1" `+
			`table:number-columns-repeated="1000000"/></table:table-row></table:table>`)), "row 1 has 1000000 columns"},
		"ODS, endless rows": {archive(t, ods(`<table:table><table:table-row table:number-rows-repeated="999999999"><table:table-cell `+
			`office:value="1"/></table:table-row></table:table>`)), "more than the 5000000 rows"},
		"an old spreadsheet": {[]byte("\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"), "old binary format"},
		"a PDF":              {[]byte("%PDF-1.7"), "no table"},
		"JSON of lists":      {[]byte(`[{"a":[1]}]`), "row 1, “a”: a cell must be"},
		"JSON of numbers":    {[]byte(`[1,2]`), "row 1 is neither"},
		"JSON that is none":  {[]byte(`[{"a":1},`), "looks like JSON"},
	} {
		_, err := Read(t.Context(), c.file, Options{})
		assert.ErrorContains(t, err, c.says, name)
	}
}

func TestStyle(t *testing.T) {
	assert.False(t, DetectStyle([]string{"1,234", "5"}).Comma, "nothing tells")
	assert.True(t, DetectStyle([]string{"1,234", "5,5"}).Comma)
	assert.False(t, DetectStyle([]string{"1.234", "1,234.5"}).Comma)
	x, sign, err := Style{Comma: true}.Parse("1.234,5 €")
	require.NoError(t, err)
	assert.Equal(t, []any{1234.5, "€"}, []any{x, sign})
	x, _, err = Style{}.Parse("")
	assert.Error(t, err)
	assert.True(t, math.IsNaN(x))
}

func BenchmarkRead(b *testing.B) {
	var text strings.Builder
	text.WriteString("case,ferry,wind,minutes,late\n")
	for i := range 100_000 {
		fmt.Fprintf(&text, "%d,%s,%.1f,%.2f,%s\n", i+1, []string{"Dunlin", "Puffin", "Turnstone"}[i%3], float64(i%170)/10, 30+
			float64(i%997)/100, []string{"no", "yes"}[i%2])
	}
	file := []byte(text.String())
	b.SetBytes(int64(len(file)))
	for b.Loop() {
		sheet, err := Read(b.Context(), file, Options{})
		if err != nil {
			b.Fatal(err)
		}
		if _, err := sheet.Variables(); err != nil {
			b.Fatal(err)
		}
	}
}

// Lines may end in a carriage return alone, in a short file and in one that is read as it comes.
func TestLinesThatEndInABareReturn(t *testing.T) {
	sheet, err := Read(t.Context(), []byte("berth,minutes\rMole,12.1\rQuarry,13.4\r"), Options{})
	require.NoError(t, err)
	assert.Equal(t, []string{"berth", "minutes"}, sheet.Names)
	assert.Equal(t, [][]string{{"Mole", "Quarry"}, {"12.1", "13.4"}}, sheet.Columns)

	long := "berth;minutes\r" + strings.Repeat("Mole;12,1\r", 200_000)
	stream, err := NewStream(t.Context(), "berths", strings.NewReader(long), 4096)
	require.NoError(t, err)
	rows := 0
	for {
		block, err := stream.Next()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		require.Len(t, block, 2)
		assert.Equal(t, []string{"Mole", "12,1"}, []string{block[0][0], block[1][len(block[1])-1]})
		rows += len(block[0])
	}
	assert.Equal(t, 200_000, rows)
}

// A row of names with nothing below it is no case.
func TestNamesWithoutACase(t *testing.T) {
	for _, text := range []string{"berth,minutes\n", "minutes", "berth\tminutes\n\n", "berth;minutes"} {
		_, err := Read(t.Context(), []byte(text), Options{})
		assert.ErrorIs(t, err, ErrNoCase, text)
		_, err = NewStream(t.Context(), "", strings.NewReader(text), 4096)
		assert.ErrorIs(t, err, ErrNoCase, text)
	}
	for _, text := range []string{"12.1,13.4", "Mole,12.1", "Mole\nQuarry"} {
		_, err := Read(t.Context(), []byte(text), Options{})
		assert.NoError(t, err, text)
	}
	no := false
	sheet, err := Read(t.Context(), []byte("Mole,Quarry"), Options{Header: &no})
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Mole"}, {"Quarry"}}, sheet.Columns, "what a person says is so")
}
