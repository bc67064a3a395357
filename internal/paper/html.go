package paper

import (
	_ "embed"
	"encoding/base64"
	"fmt"
	"html"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"grund/internal/draw"
	"grund/internal/mathml"
	"grund/internal/working"
)

//go:embed paper.css
var style string

// HTML writes the document as one file of HTML.
func HTML(out io.Writer, s *Sheet) error {
	if err := s.Check(); err != nil {
		return err
	}
	w := &writer{sheet: s}
	w.printf(`<!doctype html><html lang="en"><head><meta charset="utf-8"/><title>%s</title>`, esc(s.title()))
	w.printf(`<meta name="viewport" content="width=device-width"/><style>`)
	for _, f := range s.Fonts {
		slant := "normal"
		if f.Italic {
			slant = "italic"
		}
		w.printf(`@font-face{font-family:"%s";font-style:%s;font-weight:200 900;unicode-range:%s;src:url(data:font/woff2;base64,%s)}`, f.Family,
			slant, f.Range, base64.StdEncoding.EncodeToString(f.Data))
	}
	sheet := sizes[s.size()]
	w.printf("%s@page{size:%s %s;margin:%s}@media print{html{%s}}</style></head><body>", style,
		sheet.width, sheet.height, sheet.margin, sheet.font)
	w.head()
	for i, step := range s.steps() {
		w.step(i+1, step)
	}
	w.notes()
	w.printf("</body></html>\n")
	if w.err != nil {
		return w.err
	}
	_, err := io.WriteString(out, w.String())
	return err
}

func (s *Sheet) title() string {
	if s.Title != "" {
		return s.Title
	}
	return s.Solution.Title
}

// A writer writes the parts of a document.
type writer struct {
	strings.Builder
	sheet   *Sheet
	figures int
	err     error // the first
}

func (w *writer) printf(format string, args ...any) { fmt.Fprintf(w, format, args...) }

func esc(text string) string { return html.EscapeString(text) }

// math writes a formula; one that cannot be set is the document's error.
func (w *writer) math(teX string) string {
	out, err := mathml.Math(teX)
	if err != nil && w.err == nil {
		w.err = err
	}
	return out
}

// head writes the title block and the question.
func (w *writer) head() {
	s := w.sheet
	var lines []string
	for _, line := range s.block() {
		lines = append(lines, fmt.Sprintf(`<span><b>%s</b> %s</span>`, line.label, esc(line.text)))
	}
	if len(lines) > 0 {
		w.printf(`<p class="block">%s</p>`, strings.Join(lines, ""))
	}
	w.printf(`<h1>%s</h1>`, esc(s.title()))
	if s.Question != "" {
		w.printf(`<div class="question">%s</div>`, paragraphs(s.Question))
	}
	if s.Claim != "" {
		w.printf(`<p class="claim">“%s”</p>`, esc(s.Claim))
	}
}

// paragraphs writes a text of a person's: its paragraphs, and what stands between single or double asterisks. Everything
// else is shown as it was typed.
func paragraphs(text string) string {
	var out strings.Builder
	for _, paragraph := range paragraphsOf(text) {
		out.WriteString("<p>" + emphasized(esc(paragraph)) + "</p>")
	}
	return out.String()
}

// paragraphsOf are what empty lines part a text into.
func paragraphsOf(text string) []string {
	parts := strings.Split(strings.ReplaceAll(text, "\r", ""), "\n\n")
	return slices.DeleteFunc(parts, func(part string) bool { return strings.TrimSpace(part) == "" })
}

// emphasized sets what stands between asterisks.
func emphasized(text string) string {
	for _, mark := range []struct{ sign, tag string }{{"**", "strong"}, {"*", "em"}} {
		parts := strings.Split(text, mark.sign)
		if len(parts)%2 == 0 { // one of them is alone
			continue
		}
		var out strings.Builder
		for i, part := range parts {
			if i%2 == 1 {
				part = "<" + mark.tag + ">" + part + "</" + mark.tag + ">"
			}
			out.WriteString(part)
		}
		text = out.String()
	}
	return text
}

func (w *writer) step(number int, step *working.Step) {
	w.printf(`<section class="step"><h2><span class="number">%d</span> %s`, number, esc(step.Title))
	if step.Key != "" {
		w.printf(` <span class="key">%s</span>`, symbols(step.Key))
	}
	w.printf(`</h2>`)
	if step.ID == w.sheet.curveStep() { // beside what is said of it
		w.figure("curve")
	}
	blocks := w.sheet.blocks(step)
	for i := 0; i < len(blocks); i++ {
		if _, is := blocks[i].(working.Verdict); is { // the two rules beside each other
			w.printf(`<div class="verdicts">`)
			for ; i < len(blocks); i++ {
				verdict, is := blocks[i].(working.Verdict)
				if !is {
					i--
					break
				}
				w.verdict(verdict)
			}
			w.printf(`</div>`)
			continue
		}
		w.block(blocks[i])
	}
	w.ownNotes(step.ID)
	w.printf(`</section>`)
}

// ownNotes writes the person's notes that stand with a step.
func (w *writer) ownNotes(step working.StepID) {
	for _, note := range w.sheet.Solution.NotesAt(step) {
		head := ""
		if note.About != "" {
			head = "<b>" + esc(note.About) + ".</b> "
		}
		w.printf(`<div class="own">%s`, strings.Replace(w.noted(note.Text), "<p>", "<p>"+head, 1))
		if note.Changed != "" {
			w.printf(`<p class="rounding">%s</p>`, esc(note.Changed))
		}
		w.printf(`</div>`)
	}
}

// noted writes a note: its paragraphs, what stands between asterisks, and formulas between dollar signs. What is no formula
// that can be set stands as it was typed.
func (w *writer) noted(text string) string {
	parts := strings.Split(text, "$")
	if len(parts)%2 == 0 { // one dollar sign is alone
		return paragraphs(text)
	}
	formulas := map[string]string{}
	for i := 1; i < len(parts); i += 2 {
		set, err := mathml.Math(parts[i])
		if err != nil {
			return paragraphs(text)
		}
		key := fmt.Sprintf("\x00%d\x00", i)
		formulas[key], parts[i] = set, key
	}
	out := paragraphs(strings.Join(parts, ""))
	for key, set := range formulas {
		out = strings.ReplaceAll(out, key, set)
	}
	return out
}

// block writes a block; what only offers something to a person at a screen writes nothing.
func (w *writer) block(block working.Block) {
	switch b := block.(type) {
	case working.Prose:
		tone := string(b.Tone)
		if tone == "" {
			tone = "plain"
		}
		w.printf(`<p class="%s">%s</p>`, tone, w.text(b.Text))
	case working.FormulaBlock:
		w.formula(w.sheet.Solution.Quantity(b.Quantity))
	case working.Values:
		w.printf(`<dl>`)
		for _, ref := range b.Quantities {
			q := w.sheet.Solution.Quantity(ref)
			w.printf(`<dt>%s</dt><dd>%s</dd>`, esc(q.Label), esc(q.WithUnit()))
		}
		w.printf(`</dl>`)
	case working.TableBlock:
		w.table(w.sheet.Solution.Table(b.Table))
	case working.FigureBlock:
		w.figure(b.Figure)
	case working.HypothesesBlock:
		w.printf(`<dl class="hypotheses">`)
		for _, h := range []working.Hypothesis{b.Null, b.Alternative} {
			w.printf(`<dt>%s</dt><dd>%s</dd>`, w.math(h.Symbols), esc(h.Words))
		}
		w.printf(`</dl>`)
	case working.Check:
		c := w.sheet.Solution.Condition(b.Condition)
		w.printf(`<p class="check"><b>%s.</b> %s</p>`, checks[c.Status], w.text(c.Text))
	case working.ReportLine:
		w.printf(`<p class="report">%s</p>`, w.text(b.Text))
		if w.sheet.What == Report {
			w.printf(`<p class="answer">%s</p>`, esc(w.sheet.Solution.Conclusion))
		}
	}
}

var checks = map[working.Status]string{
	working.Met: "Met", working.Doubtful: "Doubtful", working.NotMet: "Not met", working.NotNeeded: "Not needed",
}

func (w *writer) verdict(b working.Verdict) {
	w.printf(`<div><small>%s</small><b>%s</b><small>%s</small></div>`, b.Rule.Words(), esc(b.Compare), esc(b.Says))
}

// text writes words with their numbers.
func (w *writer) text(text working.Text) string {
	var out strings.Builder
	for _, piece := range text {
		words := esc(w.sheet.Solution.Shown(piece))
		switch piece.Style {
		case working.Strong:
			words = "<strong>" + words + "</strong>"
		case working.Emphasis:
			words = "<em>" + words + "</em>"
		case working.Symbol:
			words = "<i>" + words + "</i>"
		}
		out.WriteString(words)
	}
	return out.String()
}

// A part of short mathematics: words, or a variable with its index.
type symbolPart struct{ words, index string }

// partsOf reads short mathematics: X_M is X with the index M.
func partsOf(text string) []symbolPart {
	var parts []symbolPart
	for i, word := range strings.Split(text, " ") {
		if i > 0 {
			parts = append(parts, symbolPart{words: " "})
		}
		base, index, found := strings.Cut(word, "_")
		if !found || utf8.RuneCountInString(base) != 1 || index == "" {
			base, index = word, ""
		}
		parts = append(parts, symbolPart{base, index})
	}
	return parts
}

// symbols writes short mathematics.
func symbols(text string) string {
	var out strings.Builder
	for _, part := range partsOf(text) {
		if part.index == "" {
			out.WriteString(esc(part.words))
			continue
		}
		out.WriteString("<i>" + esc(part.words) + "</i><sub>" + esc(part.index) + "</sub>")
	}
	return out.String()
}

// formula writes a quantity's formula in symbols and with numbers, and what it comes to.
func (w *writer) formula(q *working.Quantity) {
	defined, numeric := w.sheet.Solution.TeX(q)
	w.printf(`<div class="formula">%s`, w.math(defined))
	if numeric != "" {
		w.printf(` <span class="numbers">%s</span>`, w.math(numeric))
	}
	w.printf(`</div>`)
	if q.Formula != nil && q.Formula.Rounding != "" {
		w.printf(`<p class="rounding">%s</p>`, esc(q.Formula.Rounding))
	}
}

// mostRows is how many rows of a table are put on paper.
const mostRows = 60

// shownColumns are the places of those columns of a table that go onto paper: of the cases as they were given. There are
// none of a printed table: who has the working needs no table to look it up in.
func shownColumns(t *working.Table) []int {
	if t == nil || t.Marked != nil {
		return nil
	}
	var shown []int
	for j, c := range t.Columns {
		if !c.Hidden && c.View == "" && (t.ID != "cases" || c.Formula == "" && !c.Bar) {
			shown = append(shown, j)
		}
	}
	return shown
}

func (w *writer) table(t *working.Table) {
	shown := shownColumns(t)
	if len(shown) == 0 {
		return
	}
	rows := min(t.Total, mostRows)
	beside := 1 // parts that stand beside each other
	if len(shown) <= 4 && rows > 12 {
		beside = min(5, 15/len(shown))
	}
	tall := (rows + beside - 1) / beside
	w.printf(`<div class="cases">`)
	for from := 0; from < rows; from += tall {
		title := t.Title
		if from > 0 {
			title = "\u00a0" // in line with the first
		}
		w.part(t, title, shown, from, min(rows, from+tall))
	}
	w.printf(`</div>`)
	if t.Total > rows {
		w.printf(`<p class="aside">The first %d of %s rows.</p>`, rows, working.FormatNumber(float64(t.Total), 0))
	}
}

// part writes some rows of a table.
func (w *writer) part(t *working.Table, title string, shown []int, from, to int) {
	class := ""
	switch {
	case len(shown) > 8:
		class = ` class="wide"`
	case to-from < t.Total:
		class = ` class="beside"`
	}
	w.printf(`<table%s><caption>%s</caption><thead><tr>`, class, esc(title))
	for _, j := range shown {
		c := t.Columns[j]
		w.printf(`<th scope="col"%s>%s</th>`, right(c), esc(c.Heading()))
	}
	w.printf(`</tr></thead><tbody>`)
	for i := from; i < to; i++ {
		w.printf(`<tr>`)
		row := t.Row(i)
		for _, j := range shown {
			w.printf(`<td%s>%s</td>`, right(t.Columns[j]), esc(row[j].Shown))
		}
		w.printf(`</tr>`)
	}
	w.printf(`</tbody></table>`)
}

func right(c working.Column) string {
	if c.Numeric {
		return ` class="n"`
	}
	return ""
}

// figure writes a picture under its title.
func (w *writer) figure(id string) {
	f := w.sheet.Solution.Figure(id)
	if f == nil {
		return
	}
	w.figures++
	class := ""
	switch {
	case f.Small:
		class = ` class="small"`
	case f.Form == working.Scatter || f.Form == working.Split || f.Form == working.Mosaic:
		class = ` class="wide"`
	}
	w.printf(`<figure%s><figcaption>%s</figcaption>%s</figure>`, class, esc(f.Title), draw.SVG(f, fmt.Sprint(w.figures)))
}

func (w *writer) notes() {
	for _, note := range w.sheet.Solution.Notes {
		w.printf(`<p class="note">%s</p>`, esc(note))
	}
}
