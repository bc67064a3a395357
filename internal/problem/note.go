package problem

import (
	"fmt"
	"math"
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
	// Drawing is what the person drew, where they did.
	Drawing *Drawing `json:"drawing,omitzero"`
}

// A Drawing is a picture of strokes. Its units are pixels of CSS, as it was drawn.
type Drawing struct {
	Width   float64  `json:"width"`
	Height  float64  `json:"height"`
	Strokes []Stroke `json:"strokes"`
}

// A Stroke is an area of one ink.
type Stroke struct {
	Ink    Ink  `json:"ink"`
	Marker bool `json:"marker,omitzero"` // what is under it is seen through
	// Outline are the corners of the area, x and y of each in turn.
	Outline []float64 `json:"outline"`
}

// Ink is what a stroke is drawn with.
type Ink string

const (
	Black Ink = "black"
	Red   Ink = "red"
	Green Ink = "green"
)

// Says is the text alternative of a drawing.
func (d *Drawing) Says() string {
	if len(d.Strokes) == 1 {
		return "A drawing by hand: 1 stroke."
	}
	return fmt.Sprintf("A drawing by hand: %d strokes.", len(d.Strokes))
}

// noteKinds are what a note can be about.
var noteKinds = []string{"step", "number", "table", "figure", "condition"}

// MaxNotes is how many notes a problem can have, and MaxNote how many characters one.
const (
	MaxNotes = 200
	MaxNote  = 5000
)

// The bounds of drawings: strokes of one, corners of all of them together, and how wide and high one may be.
const (
	MaxStrokes = 2000
	maxCorners = 200_000
	maxSide    = 4000
	// maxDrawings is how many there may be.
	maxDrawings = 40
)

// checkNotes notes what is wrong with the notes.
func (p *Problem) checkNotes(errs *Errors) {
	if len(p.Notes) > MaxNotes {
		*errs = append(*errs, TooMany("/notes", fmt.Sprintf("there are %d notes", len(p.Notes)), MaxNotes, "join some of them")...)
		return
	}
	drawings, corners := 0, 0
	for i, note := range p.Notes {
		if note.Drawing != nil {
			drawings++
			corners += note.Drawing.check(errs, Pointer("notes", i, "drawing"))
		}
		kind, of, found := strings.Cut(note.At, "/")
		if !found || of == "" || !slices.Contains(noteKinds, kind) {
			errs.Add(Pointer("notes", i, "at"), "the note is at “"+words.Shorten(note.At)+"”",
				"say what it is about, as step/statistic, number/se, table/cases, figure/look or condition/normality")
		}
		errs.CheckText(Pointer("notes", i, "at"), note.At, 4*data.MaxName)
		errs.CheckText(Pointer("notes", i, "text"), note.Text, MaxNote)
		errs.CheckText(Pointer("notes", i, "was"), note.Was, data.MaxName)
	}
	if drawings > maxDrawings {
		*errs = append(*errs, TooMany("/notes", fmt.Sprintf("there are %d drawings", drawings), maxDrawings, "throw some of them away")...)
	}
	if corners > maxCorners {
		*errs = append(*errs, TooMany("/notes", fmt.Sprintf("the drawings have %d corners together", corners), maxCorners,
			"throw some of them away")...)
	}
}

// check notes what is wrong with a drawing at that place, and returns how many corners it has.
func (d *Drawing) check(errs *Errors, at string) (corners int) {
	for _, side := range []struct {
		name string
		long float64
	}{{"width", d.Width}, {"height", d.Height}} {
		if !(side.long >= 1 && side.long <= maxSide) {
			errs.Add(at+"/"+side.name, fmt.Sprintf("the %s is %v", side.name, side.long), fmt.Sprintf("give one from 1 to %d", maxSide))
		}
	}
	if len(d.Strokes) > MaxStrokes {
		says := fmt.Sprintf("there are %d strokes", len(d.Strokes))
		*errs = append(*errs, TooMany(at+"/strokes", says, MaxStrokes, "leave some of them out")...)
		return 0
	}
	for i, s := range d.Strokes {
		here := at + Pointer("strokes", i)
		if !slices.Contains([]Ink{Black, Red, Green}, s.Ink) {
			*errs = append(*errs, Unknown(here+"/ink", "ink", string(s.Ink), []string{string(Black), string(Red), string(Green)}))
		}
		if len(s.Outline) < 6 || len(s.Outline)%2 == 1 {
			errs.Add(here+"/outline", fmt.Sprintf("the outline has %d numbers", len(s.Outline)), "give x and y of three corners at least")
		}
		if slices.ContainsFunc(s.Outline, func(x float64) bool { return !(math.Abs(x) <= 2*maxSide) }) {
			errs.Add(here+"/outline", "a corner is far from the drawing", fmt.Sprintf("keep between −%d and %d", 2*maxSide, 2*maxSide))
		}
		corners += len(s.Outline) / 2
	}
	return corners
}
