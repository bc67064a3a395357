package paper

import (
	"cmp"
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

// HTML writes the document of a worked problem as one file of HTML.
func HTML(out io.Writer, s *Sheet) error {
	if err := s.Check(); err != nil {
		return err
	}
	head := s.Head
	head.Title = s.title()
	return writeHTML(out, &head, "", func(w *writer) {
		w.head(&head)
		w.solution, w.answers, w.rows = s.Solution, s.What == Report, s.rows()
		if s.Question != "" {
			w.printf(`<div class="question">%s</div>`, paragraphs(s.Question))
		}
		if s.Claim != "" {
			w.printf(`<p class="claim">“%s”</p>`, esc(s.Claim))
		}
		for i, step := range s.steps() {
			w.step(s, i+1, step)
		}
		for _, note := range s.Solution.Notes {
			w.printf(`<p class="note">%s</p>`, esc(note))
		}
	})
}

// ReportHTML writes a report as one file of HTML.
func ReportHTML(out io.Writer, r *LabReport) error {
	if err := r.Check(); err != nil {
		return err
	}
	return writeHTML(out, &r.Head, "lab", func(w *writer) {
		w.head(&r.Head)
		for _, piece := range r.Pieces {
			w.solution = piece.Solution
			if piece.Heading != "" {
				w.printf(`<h2>%s</h2>`, esc(piece.Heading))
			}
			if piece.Gone != "" {
				w.printf(`<p class="aside">%s</p>`, esc(piece.Gone))
			}
			w.printf(`%s`, w.noted(piece.Text))
			w.blocks(needed(piece.Blocks))
		}
	})
}

// writeHTML writes a file of HTML of that class of styles, with what body writes into it.
func writeHTML(out io.Writer, head *Head, class string, body func(w *writer)) error {
	w := &writer{rows: working.PaperRows}
	w.printf(`<!doctype html><html lang="en"><head><meta charset="utf-8"/><title>%s</title>`, esc(head.Title))
	w.printf(`<meta name="viewport" content="width=device-width"/><style>`)
	for _, f := range head.Fonts {
		slant := "normal"
		if f.Italic {
			slant = "italic"
		}
		w.printf(`@font-face{font-family:"%s";font-style:%s;font-weight:200 900;unicode-range:%s;src:url(data:font/woff2;base64,%s)}`, f.Family,
			slant, f.Range, base64.StdEncoding.EncodeToString(f.Data))
	}
	sheet := sizes[head.size()]
	w.printf("%s@page{size:%s %s;margin:%s}@media print{html{%s}}</style></head><body class=\"%s\">", style,
		sheet.width, sheet.height, sheet.margin, sheet.font, class)
	body(w)
	w.printf("</body></html>\n")
	if w.err != nil {
		return w.err
	}
	_, err := io.WriteString(out, w.String())
	return err
}

// head writes the title block and the title.
func (w *writer) head(head *Head) {
	var lines []string
	for _, line := range head.block() {
		lines = append(lines, fmt.Sprintf(`<span><b>%s</b> %s</span>`, line.label, esc(line.text)))
	}
	if len(lines) > 0 {
		w.printf(`<p class="block">%s</p>`, strings.Join(lines, ""))
	}
	w.printf(`<h1>%s</h1>`, esc(head.Title))
}

func (s *Sheet) title() string { return cmp.Or(s.Title, s.Solution.Title) }

// A writer writes the parts of a document.
type writer struct {
	strings.Builder
	solution *working.Solution // that the blocks are of
	answers  bool              // whether the line for a paper comes with the sentence that answers the problem
	rows     int               // of a table, at most
	figures  int
	err      error // the first
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

// paragraphs writes a text of a person's: its paragraphs, and what stands between single or double asterisks. Everything
// else is shown as it was typed.
func paragraphs(text string) string {
	var out strings.Builder
	for _, paragraph := range paragraphsOf(text) {
		tag := "p"
		if heading, level := headingIn(paragraph); level > 0 {
			paragraph, tag = heading, fmt.Sprintf("h%d", min(level+1, 4)) // under the title
		}
		out.WriteString("<" + tag + ">" + emphasized(esc(paragraph)) + "</" + tag + ">")
	}
	return out.String()
}

// headingIn returns the words and the level of a heading, level 0 of what is none (CommonMark 0.31, 4.2).
func headingIn(paragraph string) (words string, level int) {
	words = strings.TrimLeft(paragraph, "#")
	level = len(paragraph) - len(words)
	if level > 6 || !strings.HasPrefix(words, " ") || strings.Contains(words, "\n") {
		return paragraph, 0
	}
	return strings.TrimSpace(words), level
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

func (w *writer) step(s *Sheet, number int, step *working.Step) {
	w.printf(`<section class="step"><h2><span class="number">%d</span> %s`, number, esc(step.Title))
	if step.Key != "" {
		w.printf(` <span class="key">%s</span>`, symbols(step.Key))
	}
	w.printf(`</h2>`)
	w.ownNotes(step.ID)
	if step.ID == s.curveStep() { // beside what is said of it
		w.figure("curve")
	}
	w.blocks(s.blocks(step))
	w.printf(`</section>`)
}

// blocks writes blocks one below the other, but the two rules of the decision beside each other.
func (w *writer) blocks(blocks []working.Block) {
	for i := 0; i < len(blocks); i++ {
		if _, is := blocks[i].(working.Verdict); is {
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
}

// ownNotes writes the person's notes that stand with a step: in the margin, beside what they are about.
func (w *writer) ownNotes(step working.StepID) {
	for _, note := range w.solution.NotesAt(step) {
		head := ""
		if note.About != "" {
			head = "<b>" + esc(note.About) + ".</b> "
		}
		class := "own"
		if note.Drawing != nil {
			class = "own drawn"
		}
		w.printf(`<aside class="%s">%s`, class, strings.Replace(w.noted(note.Text), "<p>", "<p>"+head, 1))
		if note.Drawing != nil {
			w.figures++
			w.printf(`<figure class="strokes">%s</figure>`, draw.Drawing(note.Drawing).SVG(fmt.Sprint(w.figures)))
		}
		if note.Changed != "" {
			w.printf(`<p class="rounding">%s</p>`, esc(note.Changed))
		}
		w.printf(`</aside>`)
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
		w.formula(w.solution.Quantity(b.Quantity))
	case working.Values:
		w.printf(`<dl>`)
		for _, ref := range b.Quantities {
			q := w.solution.Quantity(ref)
			w.printf(`<dt>%s</dt><dd>%s</dd>`, esc(q.Label), esc(q.WithUnit()))
		}
		w.printf(`</dl>`)
	case working.TableBlock:
		w.table(w.solution.Table(b.Table))
	case working.FigureBlock:
		w.figure(b.Figure)
	case working.HypothesesBlock:
		w.printf(`<dl class="hypotheses">`)
		for _, h := range []working.Hypothesis{b.Null, b.Alternative} {
			w.printf(`<dt>%s</dt><dd>%s</dd>`, w.math(h.Symbols), esc(h.Words))
		}
		w.printf(`</dl>`)
	case working.Check:
		c := w.solution.Condition(b.Condition)
		w.printf(`<p class="check"><b>%s.</b> %s</p>`, checks[c.Status], w.text(c.Text))
	case working.ReportLine:
		w.printf(`<p class="report">%s</p>`, w.text(b.Text))
		if w.answers {
			w.printf(`<p class="answer">%s</p>`, esc(w.solution.Conclusion))
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
		words := esc(w.solution.Shown(piece))
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
	defined, numeric := w.solution.TeX(q)
	w.printf(`<div class="formula">%s`, w.math(defined))
	if numeric != "" {
		w.printf(` <span class="numbers">%s</span>`, w.math(numeric))
	}
	w.printf(`</div>`)
	if q.Formula != nil && q.Formula.Rounding != "" {
		w.printf(`<p class="rounding">%s</p>`, esc(q.Formula.Rounding))
	}
}

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
	rows := min(t.Total, w.rows)
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
	if says := t.Unshown(rows); says != "" {
		w.printf(`<p class="aside">%s</p>`, says)
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
	f := w.solution.Figure(id)
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
	w.printf(`<figure%s><figcaption>%s</figcaption>%s</figure>`, class, esc(f.Title), draw.Figure(f).SVG(fmt.Sprint(w.figures)))
}
