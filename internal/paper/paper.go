// Package paper writes a worked problem as a document that is read, printed and handed in: one file of HTML with its fonts,
// its pictures as SVG and its formulas as MathML, which needs no network and no script.
package paper

import (
	"cmp"
	"fmt"
	"slices"

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

// A Sheet is what a document is made from.
type Sheet struct {
	Title    string
	Question string // markdown
	Claim    string // "" where nobody claims anything
	Solution *working.Solution
	// Name, Course and Date stand in the title block, where they are given.
	Name, Course, Date string
	What               What
	Size               Size             // A4 where it is ""
	Steps              []working.StepID // those that go in; all where there are none
	Fonts              []Font
}

// A line of the title block.
type line struct{ label, text string }

// block are the lines of the title block that are given.
func (s *Sheet) block() []line {
	lines := []line{{"Name", s.Name}, {"Course", s.Course}, {"Date", s.Date}}
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
	if _, known := sizes[s.size()]; !known {
		errs = append(errs, problem.Unknown("/size", "size", string(s.Size), []string{string(A4), string(Letter)}))
	}
	for pointer, text := range map[string]string{"/name": s.Name, "/course": s.Course, "/date": s.Date} {
		errs.CheckText(pointer, text, maxLine)
	}
	for _, step := range s.Steps {
		if !slices.Contains(working.Steps, step) {
			errs.Add("/steps", fmt.Sprintf("there is no step “%s”", words.Shorten(string(step))), "take steps of the worked solution")
		}
	}
	if len(errs) > 0 {
		return errs
	}
	return nil
}

func (s *Sheet) size() Size { return cmp.Or(s.Size, A4) }

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
		for _, block := range step.Blocks {
			if prose, is := block.(working.Prose); !is || prose.Tone != working.Aside {
				blocks = append(blocks, block)
			}
		}
		return blocks
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

// curveStep is the step at which the curve stands: the one that finds the area, or the last before it that there is.
func (s *Sheet) curveStep() working.StepID {
	at := working.StepID("")
	for _, step := range s.steps() {
		if slices.Contains([]working.StepID{working.Statistic, working.CriticalValue, working.PValue}, step.ID) {
			at = step.ID
		}
	}
	return at
}
