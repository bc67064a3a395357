package problem

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/words"
)

// A Note is a person's own words about a part of the working.
type Note struct {
	// At is what it is about: step/statistic, number/se, table/cases, figure/look, condition/normality.
	At   string `json:"at"`
	Text string `json:"text"` // markdown, with TeX between dollar signs
	// Was is how the number was shown when the note was written, so that it can be said when that has changed.
	Was string `json:"was,omitzero"`
}

// noteKinds are what a note can be about.
var noteKinds = []string{"step", "number", "table", "figure", "condition"}

// MaxNotes is how many notes a problem can have, and MaxNote how many characters one.
const (
	MaxNotes = 200
	MaxNote  = 5000
)

// checkNotes notes what is wrong with the notes.
func (p *Problem) checkNotes(errs *Errors) {
	if len(p.Notes) > MaxNotes {
		*errs = append(*errs, TooMany("/notes", fmt.Sprintf("there are %d notes", len(p.Notes)), MaxNotes, "join some of them")...)
		return
	}
	for i, note := range p.Notes {
		kind, of, found := strings.Cut(note.At, "/")
		if !found || of == "" || !slices.Contains(noteKinds, kind) {
			errs.Add(Pointer("notes", i, "at"), "the note is at “"+words.Shorten(note.At)+"”",
				"say what it is about, as step/statistic, number/se, table/cases, figure/look or condition/normality")
		}
		errs.CheckText(Pointer("notes", i, "at"), note.At, 4*data.MaxName)
		errs.CheckText(Pointer("notes", i, "text"), note.Text, MaxNote)
		errs.CheckText(Pointer("notes", i, "was"), note.Was, data.MaxName)
	}
}
