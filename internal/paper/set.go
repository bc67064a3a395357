package paper

import (
	"fmt"
	"io"
	"strings"

	"grund/internal/working"
)

// A Set is what a problem set on paper is made from: sheets to be worked by hand, each with its own code, and behind them the
// keys, under the same codes.
type Set struct {
	Head
	About  string // Markdown
	Sheets []SetSheet
}

// A SetSheet is what one person works.
type SetSheet struct {
	Code      string
	Exercises []Exercise
}

// An Exercise is a problem as it is worked on paper.
type Exercise struct {
	Title    string
	Question string // Markdown
	Claim    string // "" where nobody claims anything
	// Given has what the problem gives, in tables and values of Solution.
	Given    []working.Block
	Solution *working.Solution
	Asks     []PaperAsk
}

// A PaperAsk is something that is to be found, with room to find it.
type PaperAsk struct {
	Step    string // the title of its step
	Label   string
	Symbol  string // TeX, "" where it has none
	Unit    string
	Choices []PaperChoice // one of which is to be marked; none where something is to be written
	Long    bool          // whether a sentence is to be written
	Right   string        // what is right, as words; "" where the key has none
}

// A PaperChoice may be marked.
type PaperChoice struct{ Symbols, Words string } // TeX

// Check refuses what cannot be put on paper.
func (s *Set) Check() error { return (&LabReport{Head: s.Head}).Check() }

// SetHTML writes a set on paper as one file of HTML.
func SetHTML(out io.Writer, s *Set) error {
	if err := s.Check(); err != nil {
		return err
	}
	return writeHTML(out, &s.Head, "set", func(w *writer) {
		w.rows = mostRows
		for i := range s.Sheets {
			w.sheet(s, &s.Sheets[i])
		}
		w.printf(`<section class="keys"><h1>%s: keys</h1>`, esc(s.Title))
		for i := range s.Sheets {
			w.key(&s.Sheets[i])
		}
		w.printf(`</section>`)
	})
}

func (w *writer) sheet(s *Set, sheet *SetSheet) {
	w.printf(`<section class="sheet"><p class="block"><span class="blank"><b>Name</b></span>`)
	for _, line := range s.block() {
		w.printf(`<span><b>%s</b> %s</span>`, line.label, esc(line.text))
	}
	w.printf(`<span><b>Sheet</b> %s</span></p><h1>%s</h1>`, esc(sheet.Code), esc(s.Title))
	w.printf(`%s`, w.noted(s.About))
	for i := range sheet.Exercises {
		w.exercise(i+1, sheet.Code, &sheet.Exercises[i])
	}
	w.printf(`</section>`)
}

func (w *writer) exercise(number int, code string, e *Exercise) {
	w.printf(`<section class="exercise"><h2><span class="number">%d</span> %s <span class="key">%s</span></h2>`, number, esc(e.Title),
		esc(code))
	if e.Question != "" {
		w.printf(`<div class="question">%s</div>`, paragraphs(e.Question))
	}
	if e.Claim != "" {
		w.printf(`<p class="claim">“%s”</p>`, esc(e.Claim))
	}
	w.solution = e.Solution
	w.blocks(e.Given)
	step := ""
	for _, ask := range e.Asks {
		if ask.Step != step {
			step = ask.Step
			w.printf(`<h3>%s</h3>`, esc(step))
		}
		w.room(ask)
	}
	w.printf(`</section>`)
}

// room writes what is to be found, and leaves room for it.
func (w *writer) room(ask PaperAsk) {
	label := w.label(ask)
	switch {
	case len(ask.Choices) > 0:
		w.printf(`<div class="room marks">`)
		if ask.Label != ask.Step { // which stands over it
			w.printf(`<p>%s</p>`, label)
		}
		w.printf(`<ul>`)
		for _, choice := range ask.Choices {
			w.printf(`<li>%s</li>`, w.choice(choice))
		}
		w.printf(`</ul></div>`)
	case ask.Long:
		w.printf(`<div class="room lines"><p>%s</p><i></i><i></i><i></i></div>`, label)
	default:
		w.printf(`<div class="room"><p>%s</p><i></i><span>%s</span></div>`, label, esc(ask.Unit))
	}
}

// label writes what an ask is called.
func (w *writer) label(ask PaperAsk) string {
	if ask.Symbol == "" {
		return esc(ask.Label)
	}
	return esc(ask.Label) + " " + w.math(ask.Symbol)
}

func (w *writer) choice(c PaperChoice) string {
	if c.Symbols == "" {
		return esc(c.Words)
	}
	return w.math(c.Symbols) + "&emsp;" + esc(c.Words)
}

// key writes what is right on a sheet.
func (w *writer) key(sheet *SetSheet) {
	w.printf(`<section class="answers"><h2>Sheet %s</h2>`, esc(sheet.Code))
	for i, e := range sheet.Exercises {
		w.printf(`<div><h3>%d %s</h3><dl>`, i+1, esc(e.Title))
		for _, ask := range e.Asks {
			if ask.Right == "" {
				continue
			}
			w.printf(`<dt>%s</dt><dd>%s</dd>`, w.label(ask), esc(strings.TrimSpace(fmt.Sprintf("%s %s", ask.Right, ask.Unit))))
		}
		w.printf(`</dl></div>`)
	}
	w.printf(`</section>`)
}
