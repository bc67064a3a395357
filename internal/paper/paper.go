// Package paper writes a worked problem, or a report, as a document that is read, printed and handed in: one file of HTML
// with its fonts, its pictures as SVG and its formulas as MathML, which needs no network and no script, or an OpenDocument
// text to go on writing in.
package paper

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"grund/internal/labreport"
	"grund/internal/problem"
	"grund/internal/words"
	"grund/internal/working"
)

// What says how much of the working goes into a document.
type What string

const (
	Full   What = "full"
	Short  What = "short"  // hypotheses, statistic, critical value, p, decision, conclusion and the curve
	Report What = "report" // the line for a paper and the sentence that answers the problem
)

var whats = []string{string(Full), string(Short), string(Report)}

// Size is how large the sheets are.
type Size string

const (
	A4     Size = "a4"
	Letter Size = "letter"
)

// sizes are the width and the height of a sheet (ISO 216, ANSI/ASME Y14.1), its margins and its type in print, as styles
// write them. The lower sheet has less of a margin and smaller type: what takes two sheets of the one takes two of the other.
var sizes = map[Size]struct{ width, height, margin, font string }{
	A4:     {"210mm", "297mm", "12mm 15mm 14mm", "font-size:8.4pt;line-height:1.22"},
	Letter: {"8.5in", "11in", "9mm 13mm 10mm", "font-size:8pt;line-height:1.2"},
}

// A Head is what every document has: its title, what stands in the block over it where it is given, and its sheets.
type Head struct {
	Title              string
	Name, Course, Date string
	Size               Size // A4 where it is ""
	Fonts              []Font
}

// A Sheet is what the document of a worked problem is made from.
type Sheet struct {
	Head
	Question string // markdown
	Claim    string // "" where nobody claims anything
	Solution *working.Solution
	What     What
	Steps    []working.StepID // those that go in; all where there are none
	// Without are tables and figures that do not go in: table/cases, figure/curve.
	Without []string
	// AllRows puts all rows of long tables in, as far as sheets can take them.
	AllRows bool
}

// mostRows is how many rows of a table go in where all are asked for: some forty sheets.
const mostRows = 10_000

// rows is how many rows of a table go in at most.
func (s *Sheet) rows() int {
	if s.AllRows {
		return mostRows
	}
	return working.PaperRows
}

// Has reports whether there is such a table or figure, as table/cases.
func (s *Sheet) Has(name string) bool {
	kind, id, _ := strings.Cut(name, "/")
	return kind == "table" && s.Solution.Table(id) != nil || kind == "figure" && s.Solution.Figure(id) != nil
}

// isOut reports whether something is not to go in.
func (s *Sheet) isOut(kind, id string) bool { return slices.Contains(s.Without, kind+"/"+id) }

// A LabReport is what the document of a report is made from.
type LabReport struct {
	Head
	Pieces []labreport.Piece
}

// A line of the title block.
type line struct{ label, text string }

// block are the lines of the title block that are given.
func (h *Head) block() []line {
	lines := []line{{"Name", h.Name}, {"Course", h.Course}, {"Date", h.Date}}
	return slices.DeleteFunc(lines, func(l line) bool { return l.text == "" })
}

// A Font is embedded into a document.
type Font struct {
	Family string
	Italic bool
	Range  string // of the letters that it has, as in CSS
	Data   []byte // WOFF2
}

// maxLine is how many characters a line of the title block may have.
const maxLine = 200

// Check refuses what cannot be put on paper.
func (s *Sheet) Check() error {
	var errs problem.Errors
	if !slices.Contains(whats, string(s.What)) {
		errs = append(errs, problem.Unknown("/what", "choice", string(s.What), whats))
	}
	s.Head.check(&errs)
	for _, step := range s.Steps {
		if !slices.Contains(working.Steps, step) {
			errs.Add("/steps", fmt.Sprintf("there is no step “%s”", words.Shorten(string(step))), "take steps of the worked solution")
		}
	}
	for _, out := range s.Without {
		if !s.Has(out) {
			errs.Add("/without", fmt.Sprintf("there is no “%s”", words.Shorten(out)), "name tables and figures of the working, as table/cases")
		}
	}
	if len(errs) > 0 {
		return errs
	}
	return nil
}

// Check refuses what cannot be put on paper.
func (r *LabReport) Check() error {
	var errs problem.Errors
	r.Head.check(&errs)
	if len(errs) > 0 {
		return errs
	}
	return nil
}

func (h *Head) check(errs *problem.Errors) {
	if _, known := sizes[h.size()]; !known {
		*errs = append(*errs, problem.Unknown("/size", "size", string(h.Size), []string{string(A4), string(Letter)}))
	}
	errs.CheckText("/name", h.Name, maxLine)
	errs.CheckText("/course", h.Course, maxLine)
	errs.CheckText("/date", h.Date, maxLine)
}

func (h *Head) size() Size { return cmp.Or(h.Size, A4) }

// shortSteps are the steps of a short working.
var shortSteps = []working.StepID{working.Hypotheses, working.Statistic, working.CriticalValue, working.PValue, working.DecisionStep,
	working.Conclusion}

// steps returns the steps that go in.
func (s *Sheet) steps() []*working.Step {
	var steps []*working.Step
	for _, step := range s.Solution.Steps {
		isIn := true
		switch s.What {
		case Short:
			isIn = slices.Contains(shortSteps, step.ID)
		case Report:
			isIn = step.ID == working.Report
		}
		if len(s.Steps) > 0 {
			isIn = isIn && slices.Contains(s.Steps, step.ID)
		}
		if isIn {
			steps = append(steps, step)
		}
	}
	return steps
}

// blocks returns the blocks of a step that go in: of a full working all but asides, which nobody needs to go on, of a
// short one what decides, without what explains.
func (s *Sheet) blocks(step *working.Step) []working.Block {
	var blocks []working.Block
	if s.What == Full {
		return slices.DeleteFunc(needed(step.Blocks), func(block working.Block) bool {
			switch b := block.(type) {
			case working.TableBlock:
				return s.isOut("table", b.Table)
			case working.FigureBlock:
				return s.isOut("figure", b.Figure)
			}
			return false
		})
	}
	for _, block := range step.Blocks {
		switch b := block.(type) {
		case working.FormulaBlock, working.HypothesesBlock, working.Verdict, working.ReportLine:
			blocks = append(blocks, block)
		case working.Prose:
			if b.Tone == working.Answer || s.What == Short && step.ID == working.Conclusion && b.Tone == working.Plain {
				blocks = append(blocks, block)
			}
		}
	}
	return blocks
}

// needed leaves out asides.
func needed(blocks []working.Block) []working.Block {
	return slices.DeleteFunc(slices.Clone(blocks), func(block working.Block) bool {
		prose, is := block.(working.Prose)
		return is && prose.Tone == working.Aside
	})
}

// curveStep is the step at which the curve stands: the one that finds the area, or the last before it that there is.
func (s *Sheet) curveStep() working.StepID {
	at := working.StepID("")
	if s.isOut("figure", "curve") {
		return at
	}
	for _, step := range s.steps() {
		if slices.Contains([]working.StepID{working.Statistic, working.CriticalValue, working.PValue}, step.ID) {
			at = step.ID
		}
	}
	return at
}
