// Package labreport puts a report together from what a person keeps of worked problems, one or several, and paragraphs of
// their own between. What is kept follows the problem: it is named here, not copied.
package labreport

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/words"
)

// A Report is what a person keeps, in their order.
type Report struct {
	Title string `json:"title"`
	Parts []Part `json:"parts"`
}

// A Part is something kept of a problem's working, or a paragraph of the person's own.
type Part struct {
	ID string `json:"id"` // names the part within its report
	// Problem is the id of the problem that it is of; of a paragraph that whose numbers it quotes, "" where it quotes none.
	Problem string `json:"problem,omitzero"`
	At      string `json:"at,omitzero"`   // what is kept: number/t, table/cases; "" of a paragraph
	Text    string `json:"text,omitzero"` // of a paragraph: markdown, TeX between dollar signs, numbers quoted as @{n_1}
	// Was is how it read when it was kept or written, as Piece.Now, so that it can be said when that has changed.
	Was string `json:"was,omitzero"`
}

// IsParagraph reports whether the part is the person's own words.
func (p *Part) IsParagraph() bool { return p.At == "" }

// kinds are what can be kept.
var kinds = []string{"number", "formula", "table", "figure", "sentence", "step"}

// The sentences that can be kept, as sentence/conclusion.
const (
	conclusion = "conclusion" // that answers the problem
	line       = "report"     // for a journal
	sentence   = "report-sentence"
	numbers    = "report-numbers"
)

// The bounds of a report. Each problem of it is worked when it is shown.
const (
	MaxParts    = 300
	MaxText     = 20_000 // characters of a paragraph
	MaxProblems = 12
	maxTitle    = 500
	maxWas      = 2 * MaxText // the numbers that are quoted take more than their names, perhaps
	maxID       = 64
	maxTexts    = 400_000 // characters of all paragraphs together
)

// Check refuses a report that cannot be kept.
func (r *Report) Check() error {
	var errs problem.Errors
	errs.CheckText("/title", r.Title, maxTitle)
	if len(r.Parts) > MaxParts {
		return append(errs, problem.TooMany("/parts", fmt.Sprintf("there are %d parts", len(r.Parts)), MaxParts, "begin another report")...)
	}
	if n := len(r.Problems()); n > MaxProblems {
		errs = append(errs, problem.TooMany("/parts", fmt.Sprintf("they are of %d problems", n), MaxProblems, "begin another report")...)
	}
	seen := map[string]bool{}
	total := 0
	for i, p := range r.Parts {
		at := func(field string) string { return problem.Pointer("parts", i, field) }
		if p.ID == "" || seen[p.ID] {
			errs.Add(at("id"), "each part needs a name of its own", "give another id")
		}
		seen[p.ID] = true
		errs.CheckText(at("id"), p.ID, maxID)
		errs.CheckText(at("problem"), p.Problem, maxID)
		errs.CheckText(at("at"), p.At, 4*data.MaxName)
		errs.CheckText(at("text"), p.Text, MaxText)
		errs.CheckText(at("was"), p.Was, maxWas)
		total += len(p.Text)
		kind, of, _ := strings.Cut(p.At, "/")
		switch {
		case p.IsParagraph():
		case !slices.Contains(kinds, kind) || of == "":
			errs.Add(at("at"), "“"+words.Shorten(p.At)+"” is kept",
				"say what it is, as number/t, formula/se, table/cases, figure/look, sentence/conclusion or step/hypotheses")
		case p.Problem == "":
			errs.Add(at("problem"), "it is not said of which problem it is kept", "give the problem's id")
		case p.Text != "":
			errs.Add(at("text"), "what is kept has no words of its own", "write them as a paragraph")
		}
	}
	if total > maxTexts {
		errs = append(errs, problem.TooMany("/parts", fmt.Sprintf("the paragraphs take %d bytes together", total), maxTexts, "shorten them")...)
	}
	if len(errs) > 0 {
		return errs
	}
	return nil
}

// Problems returns the ids of the problems that the parts are of, each once, in their order.
func (r *Report) Problems() []string {
	var ids []string
	for _, p := range r.Parts {
		if p.Problem != "" && !slices.Contains(ids, p.Problem) {
			ids = append(ids, p.Problem)
		}
	}
	return ids
}

// Kept returns what is kept of a problem.
func (r *Report) Kept(problem string) []string {
	kept := []string{}
	for _, p := range r.Parts {
		if p.Problem == problem && !p.IsParagraph() {
			kept = append(kept, p.At)
		}
	}
	return kept
}

// Keep adds what is kept of a problem after what is kept of it already, at the end where nothing is; what is there stays
// once. It reports whether anything was added.
func (r *Report) Keep(part Part) bool {
	if slices.Contains(r.Kept(part.Problem), part.At) {
		return false
	}
	at := len(r.Parts)
	for i, p := range r.Parts {
		if p.Problem == part.Problem {
			at = i + 1
		}
	}
	r.Parts = slices.Insert(r.Parts, at, part)
	return true
}

// Leave takes what was kept of a problem away again.
func (r *Report) Leave(problem, at string) {
	r.Parts = slices.DeleteFunc(r.Parts, func(p Part) bool { return p.Problem == problem && p.At == at })
}
