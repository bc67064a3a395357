package labreport

import (
	"fmt"
	"hash/fnv"
	"strings"
	"unicode/utf8"

	"github.com/go-json-experiment/json"

	"grund/internal/working"
)

// A Worked is a problem of a report as it is worked now.
type Worked struct {
	Title    string
	Solution *working.Solution // nil where there is none
	Why      string            // why there is none
}

// A Piece is a part as it reads now.
type Piece struct {
	ID      string          `json:"id"`               // of the part
	Heading string          `json:"heading,omitzero"` // of what is kept with its heading
	Text    string          `json:"text,omitzero"`    // of a paragraph, with its numbers
	Blocks  []working.Block `json:"blocks,omitempty"` // what is kept
	// Now is how it reads, as Part.Was; of a table, a picture, a formula and a step only a mark that another one has not.
	Now string `json:"now,omitzero"`
	// Changed says what has changed since it was kept or written; "" where nothing has.
	Changed string `json:"changed,omitzero"`
	// Gone says why it cannot be shown.
	Gone string `json:"gone,omitzero"`

	Solution *working.Solution `json:"-"` // that the blocks are of
}

// Pieces returns the report's parts as they read now, by problems as they are worked now, by id.
func (r *Report) Pieces(worked map[string]Worked) []Piece {
	pieces := make([]Piece, len(r.Parts))
	for i := range r.Parts {
		pieces[i] = r.Parts[i].piece(worked)
	}
	return pieces
}

// Seen notes of the parts that do not say how they read how they do now.
func (r *Report) Seen(worked map[string]Worked) {
	for i, piece := range r.Pieces(worked) {
		if r.Parts[i].Was == "" && utf8.RuneCountInString(piece.Now) <= maxWas {
			r.Parts[i].Was = piece.Now
		}
	}
}

func (p *Part) piece(worked map[string]Worked) Piece {
	piece := Piece{ID: p.ID}
	of, found := worked[p.Problem]
	if found {
		piece.Solution = of.Solution
	}
	switch {
	case p.IsParagraph():
		piece.Text = p.Text
		if piece.Solution != nil {
			piece.Text = piece.Solution.WithNumbers(p.Text)
		}
		if piece.Text != p.Text { // it quotes numbers
			piece.Now = piece.Text
		}
	case !found:
		piece.Gone = "The problem that this was kept from is not there any more."
		return piece
	case of.Solution == nil:
		piece.Gone = fmt.Sprintf("“%s” cannot be worked now: %s", of.Title, of.Why)
		return piece
	default:
		piece.Heading, piece.Blocks = find(of.Solution, p.At)
		if len(piece.Blocks) == 0 {
			piece.Gone = fmt.Sprintf("This is not in the working of “%s” now.", of.Title)
			return piece
		}
		piece.Now = p.now(&piece)
	}
	piece.Changed = p.changed(piece.Now)
	return piece
}

// changed says what has changed since the part was kept or written.
func (p *Part) changed(now string) string {
	if p.Was == "" || p.Was == now {
		return ""
	}
	switch kind, _, _ := strings.Cut(p.At, "/"); {
	case p.IsParagraph():
		return "Its numbers have changed since. It read: “" + p.Was + "”"
	case kind == "number":
		return "It was " + p.Was + " when it was kept."
	case kind == "sentence":
		return "When it was kept it read: “" + p.Was + "”"
	default:
		return "It has changed since it was kept."
	}
}

// find returns the blocks that show something of a solution, with the heading of a step; none where it is not there.
func find(s *working.Solution, at string) (heading string, blocks []working.Block) {
	kind, of, _ := strings.Cut(at, "/")
	switch kind {
	case "number":
		if s.Quantity(working.Ref(of)) != nil {
			blocks = append(blocks, working.Values{Quantities: []working.Ref{working.Ref(of)}})
		}
	case "formula":
		if q := s.Quantity(working.Ref(of)); q != nil && q.Formula != nil {
			blocks = append(blocks, working.FormulaBlock{Quantity: q.ID})
		}
	case "table":
		if s.Table(of) != nil {
			blocks = append(blocks, working.TableBlock{Table: of})
		}
	case "figure":
		if s.Figure(of) != nil {
			blocks = append(blocks, working.FigureBlock{Figure: of})
		}
	case "sentence":
		return "", sentences(s, of)
	case "step":
		if step := s.Step(working.StepID(of)); step != nil {
			return step.Title, step.Blocks
		}
	}
	return "", blocks
}

// sentences returns a sentence that can be kept.
func sentences(s *working.Solution, which string) (blocks []working.Block) {
	for _, step := range s.Steps {
		for _, block := range step.Blocks {
			switch b := block.(type) {
			case working.Prose:
				if which == conclusion && step.ID == working.Conclusion && b.Tone == working.Answer {
					blocks = append(blocks, working.Prose{Text: b.Text})
				}
			case working.ReportLine:
				switch {
				case which == line:
					blocks = append(blocks, working.Prose{Text: b.Text})
				case which == sentence && len(b.Sentence) > 0:
					blocks = append(blocks, working.Prose{Text: b.Sentence})
				case which == numbers && len(b.Numbers) > 0:
					blocks = append(blocks, working.Values{Quantities: b.Numbers})
				}
			}
		}
	}
	return blocks
}

// now is how what is kept reads, or a mark of it.
func (p *Part) now(piece *Piece) string {
	kind, of, _ := strings.Cut(p.At, "/")
	s := piece.Solution
	switch block := piece.Blocks[0].(type) {
	case working.Values:
		if kind == "number" {
			return s.Quantity(working.Ref(of)).WithUnit()
		}
	case working.Prose:
		if kind == "sentence" {
			return s.Plain(block.Text)
		}
	}
	h := fnv.New64a()
	_, _ = h.Write([]byte(s.Markdown(piece.Blocks)))
	for _, block := range piece.Blocks {
		if f, is := block.(working.FigureBlock); is {
			_ = json.MarshalWrite(h, s.Figure(f.Figure)) // to which it can always be written
		}
	}
	return fmt.Sprintf("#%016x", h.Sum64())
}

// NowOf returns how something reads in a solution, "" where it is not there.
func NowOf(s *working.Solution, at string) string {
	part := Part{At: at, Problem: "it"}
	return part.piece(map[string]Worked{"it": {Solution: s}}).Now
}
