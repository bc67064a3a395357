package working

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/problem"
)

// A PlacedNote is a person's note where it stands in the working.
type PlacedNote struct {
	problem.Note
	Step StepID `json:"step"` // the first that shows what it is about, the last where none does
	// About names what it is about, where that is not the step.
	About string `json:"about,omitzero"`
	// Changed says what has changed since the note was written: a number, or that what it is about is gone. "" where
	// nothing has.
	Changed string `json:"changed,omitzero"`
}

// NotesAt returns the person's notes that stand with a step.
func (s *Solution) NotesAt(step StepID) []PlacedNote {
	var notes []PlacedNote
	for _, note := range s.OwnNotes {
		if note.Step == step {
			notes = append(notes, note)
		}
	}
	return notes
}

// placeNotes finds where notes stand: with the first step that shows what they are about.
func (s *Solution) placeNotes(notes []problem.Note) {
	if len(s.Steps) == 0 {
		return
	}
	for _, note := range notes {
		s.OwnNotes = append(s.OwnNotes, s.placeNote(note))
	}
}

func (s *Solution) placeNote(note problem.Note) PlacedNote {
	kind, of, _ := strings.Cut(note.At, "/")
	placed := PlacedNote{Note: note, Step: s.Steps[len(s.Steps)-1].ID}
	at := slices.IndexFunc(s.Steps, func(step *Step) bool { return kind == "step" && step.ID == StepID(of) || s.showsIn(step, kind, of) })
	if at >= 0 {
		placed.Step = s.Steps[at].ID
	}
	placed.About, placed.Changed = s.about(kind, of, note.Was)
	if at < 0 && placed.About == "" {
		placed.Changed = "What this is about is not in the working now."
	}
	return placed
}

// about names what a note is about, "" for a step and for what is not there, and says whether a number was another one.
func (s *Solution) about(kind, of, was string) (about, changed string) {
	switch kind {
	case "number":
		return s.aboutNumber(Ref(of), was)
	case "table":
		if t := s.Table(of); t != nil {
			about = t.Title
		}
	case "figure":
		if f := s.Figure(of); f != nil {
			about = f.Title
		}
	case "condition":
		if s.Condition(of) != nil {
			about = "Condition: " + strings.ReplaceAll(of, "-", " ")
		}
	}
	return about, ""
}

// aboutNumber names a number with what it is, and says whether it was another one.
func (s *Solution) aboutNumber(ref Ref, was string) (about, changed string) {
	now := s.ShownCell(ref)
	about = "the number " + now
	if q := s.Quantity(ref); q != nil {
		now = q.Display
		about = q.Label + " (" + q.WithUnit() + ")"
	}
	if now == "" {
		return "", ""
	}
	if was != "" && was != now {
		changed = fmt.Sprintf("It was %s when this was written.", was)
	}
	return about, changed
}

// showsIn reports whether a step shows something.
func (s *Solution) showsIn(step *Step, kind, id string) bool {
	var n Names
	n.Text(step.Result)
	for _, block := range step.Blocks {
		n.Block(block)
	}
	switch kind {
	case "number":
		table, _, isCell := strings.Cut(id, "/")
		return slices.Contains(n.Quantities, Ref(id)) || isCell && slices.Contains(n.Tables, table)
	case "table":
		return slices.Contains(n.Tables, id)
	case "figure":
		return slices.Contains(n.Figures, id) || id == "curve" && step.ID == PValue
	case "condition":
		return slices.Contains(n.Conditions, id)
	}
	return false
}
