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
	Step StepID `json:"step,omitzero"` // "" where what it is about is not there now
	// About names what it is about, where that is not the step.
	About string `json:"about,omitzero"`
	// Changed says that a number has changed since the note was written; "" where it has not.
	Changed string `json:"changed,omitzero"`
}

// placeNotes finds where notes stand: with the first step that shows what they are about.
func (s *Solution) placeNotes(notes []problem.Note) {
	for _, note := range notes {
		s.OwnNotes = append(s.OwnNotes, s.placeNote(note))
	}
}

func (s *Solution) placeNote(note problem.Note) PlacedNote {
	placed := PlacedNote{Note: note}
	kind, of, _ := strings.Cut(note.At, "/")
	for _, step := range s.Steps {
		if kind == "step" && step.ID == StepID(of) || s.showsIn(step, kind, of) {
			placed.Step = step.ID
			break
		}
	}
	switch kind {
	case "number":
		placed.About, placed.Changed = s.aboutNumber(Ref(of), note.Was)
	case "table":
		if t := s.Table(of); t != nil {
			placed.About = t.Title
		}
	case "figure":
		if i := slices.IndexFunc(s.Figures, func(f *Figure) bool { return f.ID == of }); i >= 0 {
			placed.About = s.Figures[i].Title
		}
	case "condition":
		placed.About = strings.ReplaceAll(of, "-", " ")
	}
	return placed
}

// aboutNumber names a number with what it is, and says whether it was another one.
func (s *Solution) aboutNumber(ref Ref, was string) (about, changed string) {
	now := s.ShownCell(ref)
	about = "the number " + now
	if q := s.Quantity(ref); q != nil {
		now = q.Display
		about = q.Label + " (" + strings.TrimSpace(q.Display+"\u00a0"+q.Unit) + ")"
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
