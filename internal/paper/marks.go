package paper

import (
	"fmt"
	"io"
	"strconv"
)

// Marks are what the document of a set's marks is made from: a page for each student, to be given back.
type Marks struct {
	Head
	Students []MarkedStudent
}

// A MarkedStudent is what somebody's work on a set brought.
type MarkedStudent struct {
	Name       string
	HandedIn   string // when; "" where it was not
	Points, Of float64
	Problems   []MarkedProblem
}

// A MarkedProblem is what somebody's work on a problem brought.
type MarkedProblem struct {
	Title      string
	Points, Of float64
	Begun      bool
	Asks       []MarkedAsk
}

// A MarkedAsk is what an answer brought.
type MarkedAsk struct {
	Label      string
	Symbol     string // TeX, "" where it has none
	Answer     string // "" where there is none
	Points, Of float64
	Words      string // of the instructor
}

// Check refuses what cannot be put on paper.
func (m *Marks) Check() error { return (&LabReport{Head: m.Head}).Check() }

// MarksHTML writes the marks of a set as one file of HTML.
func MarksHTML(out io.Writer, m *Marks) error {
	if err := m.Check(); err != nil {
		return err
	}
	return writeHTML(out, &m.Head, "set marks", func(w *writer) {
		for i := range m.Students {
			w.marked(m, &m.Students[i])
		}
	})
}

func (w *writer) marked(m *Marks, s *MarkedStudent) {
	w.printf(`<section class="sheet"><p class="block"><span><b>%s</b></span>`, esc(s.Name))
	for _, line := range m.block() {
		w.printf(`<span><b>%s</b> %s</span>`, line.label, esc(line.text))
	}
	handedIn := "not handed in"
	if s.HandedIn != "" {
		handedIn = "handed in " + s.HandedIn
	}
	w.printf(`<span>%s</span></p><h1>%s</h1><p class="sum"><b>%s</b> of %s points</p>`, esc(handedIn), esc(m.Title), shownPoints(s.Points),
		shownPoints(s.Of))
	for i, p := range s.Problems {
		w.printf(`<section><h2><span class="number">%d</span> %s <span class="key">%s of %s</span></h2>`, i+1, esc(p.Title),
			shownPoints(p.Points), shownPoints(p.Of))
		if !p.Begun {
			w.printf(`<p class="aside">Not begun.</p></section>`)
			continue
		}
		w.printf(`<table><thead><tr><th scope="col">asked</th><th scope="col">answer</th><th scope="col" class="n">points</th></tr></thead>`)
		w.printf(`<tbody>`)
		for _, ask := range p.Asks {
			w.printf(`<tr><td>%s</td><td>%s`, w.label(PaperAsk{Label: ask.Label, Symbol: ask.Symbol}), esc(ask.Answer))
			if ask.Words != "" {
				w.printf(`<div class="own">%s</div>`, w.noted(ask.Words))
			}
			w.printf(`</td><td class="n">%s</td></tr>`, esc(fmt.Sprintf("%s of %s", shownPoints(ask.Points), shownPoints(ask.Of))))
		}
		w.printf(`</tbody></table></section>`)
	}
	w.printf(`</section>`)
}

// shownPoints writes points: to two decimal places, without noughts at their end.
func shownPoints(x float64) string {
	shown, _ := strconv.ParseFloat(strconv.FormatFloat(x, 'f', 2, 64), 64)
	return strconv.FormatFloat(shown, 'f', -1, 64)
}
