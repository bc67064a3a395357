package paper

import (
	"archive/zip"
	"bytes"
	_ "embed"
	"fmt"
	"io"
	"math"
	"regexp"
	"strings"

	"grund/internal/draw"
	"grund/internal/mathml"
	"grund/internal/working"
)

// The parts of an OpenDocument text that are the same in all (OASIS OpenDocument 1.3).
const (
	odtType   = "application/vnd.oasis.opendocument.text"
	odfType   = "application/vnd.oasis.opendocument.formula"
	xmlHead   = `<?xml version="1.0" encoding="UTF-8"?>` + "\n"
	odtSpaces = `xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" ` +
		`xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" ` +
		`xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" ` +
		`xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" ` +
		`xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0" xmlns:xlink="http://www.w3.org/1999/xlink" ` +
		`xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:meta="urn:oasis:names:tc:opendocument:xmlns:meta:1.0" office:version="1.3"`
)

// odtTables are the styles of tables, which word processors read where they are used only.
const odtTables = `<style:style style:name="Table" style:family="table">` +
	`<style:table-properties style:may-break-between-rows="true" table:border-model="collapsing" fo:margin-bottom="0.3cm"/></style:style>` +
	`<style:style style:name="Cell" style:family="table-cell">` +
	`<style:table-cell-properties fo:border-bottom="0.3pt solid #c9c4b8" fo:padding-left="0.15cm" ` +
	`fo:padding-right="0.15cm" fo:padding-top="0.03cm" fo:padding-bottom="0.03cm"/></style:style>`

//go:embed odt_styles.xml
var odtStyles string

// ODT writes the document of a worked problem as an OpenDocument text, to go on writing in: headings, tables, formulas that
// can be changed, pictures as SVG with one in pixels beside.
func ODT(out io.Writer, s *Sheet) error {
	if err := s.Check(); err != nil {
		return err
	}
	head := s.Head
	head.Title = s.title()
	return writeODT(out, &head, func(w *odtWriter) {
		w.solution, w.answers, w.rows = s.Solution, s.What == Report, s.rows()
		for _, paragraph := range paragraphsOf(s.Question) {
			w.paragraph("Question", spans.Replace(emphasized(esc(paragraph))))
		}
		if s.Claim != "" {
			w.paragraph("Claim", "“"+esc(s.Claim)+"”")
		}
		for i, step := range s.steps() {
			w.step(s, i+1, step)
		}
		for _, note := range s.Solution.Notes {
			w.paragraph("Aside", esc(note))
		}
	})
}

// ReportODT writes a report as an OpenDocument text.
func ReportODT(out io.Writer, r *LabReport) error {
	if err := r.Check(); err != nil {
		return err
	}
	return writeODT(out, &r.Head, func(w *odtWriter) {
		for _, piece := range r.Pieces {
			w.solution = piece.Solution
			if piece.Heading != "" {
				w.heading(1, esc(piece.Heading))
			}
			if piece.Gone != "" {
				w.paragraph("Aside", esc(piece.Gone))
			}
			for _, paragraph := range paragraphsOf(piece.Text) {
				if heading, level := headingIn(paragraph); level > 0 {
					w.heading(min(level, 3), w.noted(heading))
					continue
				}
				w.paragraph("Text_20_body", w.noted(paragraph))
			}
			for _, block := range needed(piece.Blocks) {
				w.block(block)
			}
		}
	})
}

// writeODT writes an OpenDocument text with what body writes into it.
func writeODT(out io.Writer, head *Head, body func(w *odtWriter)) error {
	w := &odtWriter{rows: working.PaperRows}
	var block []string
	for _, line := range head.block() {
		block = append(block, line.label+": "+esc(line.text))
	}
	if len(block) > 0 {
		w.paragraph("Block", strings.Join(block, "<text:s text:c=\"4\"/>"))
	}
	w.paragraph("Title", esc(head.Title))
	body(w)
	if w.err != nil {
		return w.err
	}
	return w.pack(out, head)
}

// An odtFile is a part of the package.
type odtFile struct {
	name, kind string
	data       []byte
}

// An odtWriter writes the text, and notes the objects and pictures that it holds.
type odtWriter struct {
	bytes.Buffer
	solution  *working.Solution // that the blocks are of
	answers   bool              // as of a writer, like rows
	rows      int
	footNotes int
	files     []odtFile
	err       error // the first
}

func (w *odtWriter) printf(format string, args ...any) { fmt.Fprintf(w, format, args...) }

func (w *odtWriter) paragraph(style, words string) {
	w.printf(`<text:p text:style-name="%s">%s</text:p>`, style, words)
}

func (w *odtWriter) heading(level int, words string) {
	w.printf(`<text:h text:style-name="Heading_20_%d" text:outline-level="%d">%s</text:h>`, level, level, words)
}

func (w *odtWriter) step(s *Sheet, number int, step *working.Step) {
	key := ""
	if step.Key != "" {
		key = "<text:tab/>"
		for _, part := range partsOf(step.Key) {
			key += esc(part.words)
			if part.index != "" {
				key += `<text:span text:style-name="Index">` + esc(part.index) + `</text:span>`
			}
		}
	}
	w.heading(1, fmt.Sprintf(`%d<text:s text:c="2"/>%s%s%s`, number, esc(step.Title), w.ownNotes(step.ID), key))
	if step.ID == s.curveStep() {
		w.figure("curve")
	}
	for _, block := range s.blocks(step) {
		w.block(block)
	}
}

// ownNotes returns the person's notes that stand with a step, as foot notes.
func (w *odtWriter) ownNotes(step working.StepID) string {
	from := w.Len()
	for _, note := range w.solution.NotesAt(step) {
		w.footNotes++
		w.printf(`<text:note text:id="note%d" text:note-class="footnote"><text:note-citation>%[1]d</text:note-citation><text:note-body>`,
			w.footNotes)
		head := ""
		if note.About != "" {
			head = `<text:span text:style-name="Strong">` + esc(note.About) + `.</text:span> `
		}
		for i, paragraph := range paragraphsOf(note.Text) {
			if i > 0 {
				head = ""
			}
			w.paragraph("Note", head+w.noted(paragraph))
		}
		if d := note.Drawing; d != nil {
			w.picture(draw.Drawing(d), "drawing", "Drawing", math.Min(12, d.Width/pointsInCM))
		}
		if note.Changed != "" {
			w.paragraph("Aside", esc(note.Changed))
		}
		w.printf(`</text:note-body></text:note>`)
	}
	notes := string(w.Bytes()[from:])
	w.Truncate(from)
	return notes
}

// noted writes the words of a note, with formulas between dollar signs as objects.
func (w *odtWriter) noted(text string) string {
	parts := strings.Split(text, "$")
	for i := 1; i < len(parts); i += 2 {
		if _, err := mathml.Convert(parts[i]); err != nil || len(parts)%2 == 0 {
			return spans.Replace(emphasized(esc(text)))
		}
	}
	var out strings.Builder
	for i, part := range parts {
		if i%2 == 1 {
			out.WriteString(w.formula(part))
			continue
		}
		out.WriteString(spans.Replace(emphasized(esc(part))))
	}
	return out.String()
}

// spans are the styles of what stands between asterisks.
var spans = strings.NewReplacer("<strong>", `<text:span text:style-name="Strong">`, "</strong>", "</text:span>", "<em>",
	`<text:span text:style-name="Emphasis">`, "</em>", "</text:span>")

// tones are the styles of paragraphs.
var tones = map[working.Tone]string{
	working.Plain: "Text_20_body", working.Answer: "Answer", working.Caution: "Caution", working.Aside: "Aside",
}

func (w *odtWriter) block(block working.Block) {
	solution := w.solution
	switch b := block.(type) {
	case working.Prose:
		w.paragraph(tones[b.Tone], w.text(b.Text))
	case working.FormulaBlock:
		q := solution.Quantity(b.Quantity)
		defined, numeric := solution.TeX(q)
		w.paragraph("Formula", w.formula(defined))
		if numeric != "" { // with the symbol again: an equation wants both its sides
			w.paragraph("Formula", w.formula(q.Symbol+" "+numeric))
		}
		if q.Formula != nil && q.Formula.Rounding != "" {
			w.paragraph("Aside", esc(q.Formula.Rounding))
		}
	case working.Values:
		for _, ref := range b.Quantities {
			q := solution.Quantity(ref)
			w.paragraph("Text_20_body", esc(q.Label)+": "+esc(q.WithUnit()))
		}
	case working.TableBlock:
		w.table(solution.Table(b.Table))
	case working.FigureBlock:
		w.figure(b.Figure)
	case working.HypothesesBlock:
		for _, h := range []working.Hypothesis{b.Null, b.Alternative} {
			w.paragraph("Formula", w.formula(h.Symbols)+`<text:s text:c="3"/>`+esc(h.Words))
		}
	case working.Check:
		c := solution.Condition(b.Condition)
		w.paragraph("Text_20_body", fmt.Sprintf(`<text:span text:style-name="Strong">%s.</text:span> %s`, checks[c.Status], w.text(c.Text)))
	case working.Verdict:
		w.paragraph("Text_20_body", fmt.Sprintf(`%s: <text:span text:style-name="Strong">%s</text:span>, %s.`,
			b.Rule.Words(), esc(b.Compare), esc(b.Says)))
	case working.ReportLine:
		w.paragraph("Report", w.text(b.Text))
		if w.answers {
			w.paragraph("Answer", esc(solution.Conclusion))
		}
	}
}

// text writes words with their numbers.
func (w *odtWriter) text(text working.Text) string {
	var out strings.Builder
	for _, piece := range text {
		words := esc(w.solution.Shown(piece))
		style := map[working.Style]string{working.Strong: "Strong", working.Emphasis: "Emphasis", working.Symbol: "Emphasis"}[piece.Style]
		if style != "" {
			words = `<text:span text:style-name="` + style + `">` + words + `</text:span>`
		}
		out.WriteString(words)
	}
	return out.String()
}

// formula writes an object that holds a formula, in the line of the text.
func (w *odtWriter) formula(teX string) string {
	inner, err := mathml.Convert(teX)
	if err != nil {
		if w.err == nil {
			w.err = err
		}
		return ""
	}
	name := fmt.Sprintf("Object %d", len(w.files)/2+1) // each has two files
	object := xmlHead + `<math xmlns="` + mathml.Namespace + `" display="block"><semantics>` + forOffice(inner) +
		`<annotation encoding="application/x-tex">` + esc(teX) + `</annotation></semantics></math>`
	w.files = append(w.files, odtFile{name + "/", odfType, nil}, odtFile{name + "/content.xml", "text/xml", []byte(object)})
	return fmt.Sprintf(`<draw:frame draw:style-name="Inline" text:anchor-type="as-char" draw:name="%s"><draw:object xlink:href="./%s" `+
		`xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/></draw:frame>`, name, name)
}

// A word processor that was tried takes the sum after a fraction into what is under it, unless the fraction stands in a row
// with something else, and leaves out what stands over a letter, unless it is a part of the letter.
var (
	fractions  = strings.NewReplacer("<mfrac>", `<mrow><mspace width="0.01em"/><mfrac>`, "</mfrac>", `</mfrac><mspace width="0.01em"/></mrow>`)
	overLetter = regexp.MustCompile(`<mover accent="true"><mi>(.)</mi><mo>([¯^~])</mo></mover>`)
	combining  = map[string]string{"¯": "\u0304", "^": "\u0302", "~": "\u0303"}
)

// forOffice writes MathML so that word processors set it as browsers do.
func forOffice(inner string) string {
	inner = overLetter.ReplaceAllStringFunc(inner, func(match string) string {
		parts := overLetter.FindStringSubmatch(match)
		return "<mi>" + parts[1] + combining[parts[2]] + "</mi>"
	})
	return fractions.Replace(inner)
}

func (w *odtWriter) table(t *working.Table) {
	shown := shownColumns(t)
	if len(shown) == 0 {
		return
	}
	rows := min(t.Total, w.rows)
	w.paragraph("Caption", esc(t.Title))
	w.printf(`<table:table table:name="%s" table:style-name="Table">`, esc(t.ID))
	w.printf(`<table:table-column table:number-columns-repeated="%d"/><table:table-header-rows><table:table-row>`, len(shown))
	cell := func(c working.Column, style, words string) {
		if c.Numeric {
			style += "_20_number"
		}
		w.printf(`<table:table-cell table:style-name="Cell" office:value-type="string"><text:p text:style-name="%s">%s</text:p>`+
			`</table:table-cell>`, style, esc(words))
	}
	for _, j := range shown {
		cell(t.Columns[j], "Table_20_heading", t.Columns[j].Heading())
	}
	w.printf(`</table:table-row></table:table-header-rows>`)
	for i := range rows {
		w.printf(`<table:table-row>`)
		row := t.Row(i)
		for _, j := range shown {
			cell(t.Columns[j], "Table_20_contents", row[j].Shown)
		}
		w.printf(`</table:table-row>`)
	}
	w.printf(`</table:table>`)
	if says := t.Unshown(rows); says != "" {
		w.paragraph("Aside", says)
	}
}

// pointsInCM is how many units of a drawing make a centimetre: they are pixels of CSS, of which an inch has 96.
const pointsInCM = 96 / 2.54

// pixels is how many of them a picture has for each unit of its drawing, and mostPixels how many in all.
const (
	pixels     = 2
	mostPixels = 4e6
)

func (w *odtWriter) figure(id string) {
	f := w.solution.Figure(id)
	if f == nil {
		return
	}
	const width = 12.0 // cm
	w.paragraph("Caption", esc(f.Title))
	w.picture(draw.Figure(f), f.ID, f.Title, width)
}

// picture writes a picture that is so many cm wide: as SVG, with one in pixels beside.
func (w *odtWriter) picture(p *draw.Picture, called, title string, width float64) {
	var inPixels bytes.Buffer
	scale := math.Min(pixels, math.Sqrt(mostPixels/(p.Width*p.Height)))
	if err := p.PNG(&inPixels, scale); err != nil {
		if w.err == nil {
			w.err = err
		}
		return
	}
	name := fmt.Sprintf("Pictures/figure-%d", len(w.files)/2+1)
	w.files = append(w.files,
		odtFile{name + ".svg", "image/svg+xml", []byte(xmlHead + p.SVG("1"))}, odtFile{name + ".png", "image/png", inPixels.Bytes()})
	w.printf(`<text:p text:style-name="Picture"><draw:frame draw:style-name="Inline" draw:name="%s" text:anchor-type="as-char" `+
		`svg:width="%.2fcm" svg:height="%.2fcm">`, esc(called), width, width*p.Height/p.Width)
	for _, kind := range []string{"svg", "png"} {
		w.printf(`<draw:image xlink:href="%s.%s" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/>`, name, kind)
	}
	w.printf(`<svg:title>%s</svg:title><svg:desc>%s</svg:desc></draw:frame></text:p>`, esc(title), esc(p.Says))
}

// inXML returns the contents of a part without the characters that XML has no place for (XML 1.0, 2.2), which a person's
// text may hold.
func inXML(f odtFile) []byte {
	if f.kind == "image/png" {
		return f.data
	}
	return bytes.Map(func(r rune) rune {
		switch {
		case r == '\t', r == '\n', r == '\r', r >= ' ' && r <= 0xD7FF, r >= 0xE000 && r <= 0xFFFD, r >= 0x10000:
			return r
		}
		return -1
	}, f.data)
}

// pack writes the package: its type first and as it is, then its parts, and the list of them.
func (w *odtWriter) pack(out io.Writer, head *Head) error {
	content := xmlHead + `<office:document-content ` + odtSpaces + `><office:automatic-styles>` + odtTables +
		`</office:automatic-styles><office:body><office:text>` + w.String() + `</office:text></office:body></office:document-content>`
	size := sizes[head.size()]
	styles := strings.NewReplacer("SPACES", odtSpaces, "WIDTH", size.width, "HEIGHT", size.height).Replace(odtStyles)
	meta := xmlHead + `<office:document-meta ` + odtSpaces + `><office:meta><dc:title>` + esc(head.Title) + `</dc:title>` +
		`<meta:generator>Grund</meta:generator></office:meta></office:document-meta>`
	files := append([]odtFile{
		{"content.xml", "text/xml", []byte(content)},
		{"styles.xml", "text/xml", []byte(xmlHead + styles)},
		{"meta.xml", "text/xml", []byte(meta)},
	}, w.files...)
	manifest := xmlHead + `<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">` +
		`<manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="` + odtType + `"/>`
	for _, f := range files {
		manifest += fmt.Sprintf(`<manifest:file-entry manifest:full-path="%s" manifest:media-type="%s"/>`, f.name, f.kind)
	}
	files = append(files, odtFile{"META-INF/manifest.xml", "text/xml", []byte(manifest + `</manifest:manifest>`)})
	z := zip.NewWriter(out)
	first, err := z.CreateHeader(&zip.FileHeader{Name: "mimetype", Method: zip.Store})
	if err == nil {
		_, err = io.WriteString(first, odtType)
	}
	for _, f := range files {
		if err != nil || f.data == nil { // a folder is in the list only
			continue
		}
		var part io.Writer
		if part, err = z.Create(f.name); err == nil {
			_, err = part.Write(inXML(f))
		}
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		return fmt.Errorf("writing an OpenDocument text: %w", err)
	}
	return nil
}
