// Package working holds the worked solution: the document that a procedure
// writes and that the browser, the command line and the printed page show.
//
// A solution has steps, made of a closed family of blocks. Blocks refer to the
// solution's quantities, tables, figures and conditions by id and never carry a
// number of their own, so that a number stands in one place only.
package working

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/formula"
	"grund/internal/problem"
)

// A Solution is a problem worked from the question to the sentence that answers it.
type Solution struct {
	Grund     int    `json:"grund"`
	Procedure string `json:"procedure"`
	Title     string `json:"title"` // of the procedure
	Test      string `json:"test"`  // what textbooks call the test; "" where there is none
	// Question is the problem's question with the numbers that it quotes; "" where it quotes none.
	Question   string       `json:"question,omitzero"`
	Alpha      float64      `json:"alpha"`
	Confidence float64      `json:"confidence"`
	Tail       problem.Tail `json:"tail"`
	Brief      Text         `json:"brief"` // what is done, in a sentence
	Cases      Cases        `json:"cases"`
	Quantities []*Quantity  `json:"quantities"`
	Tables     []*Table     `json:"tables"`
	Figures    []*Figure    `json:"figures"`
	Conditions []*Condition `json:"conditions"`
	Decision   *Decision    `json:"decision"` // nil where nothing can be decided
	Finding    *Finding     `json:"finding"`  // nil as well
	Claim      *ClaimAnswer `json:"claim"`    // nil where there is none
	Conclusion string       `json:"conclusion"`
	Report     string       `json:"report"`
	Steps      []*Step      `json:"steps"`
	Controls   []Control    `json:"controls"`
	Notes      []string     `json:"notes"`
	// OwnNotes are the person's own, where they stand.
	OwnNotes []PlacedNote `json:"own_notes,omitempty"`
	// HeldBack is how many steps follow those that are there, where the solution is only a part.
	HeldBack int `json:"held_back,omitzero"`

	NotesFrom []StepID `json:"-"` // the step with which each note is shown
}

// Cases counts the cases that were given, used and left out.
type Cases struct {
	Given   int `json:"given"`
	Used    int `json:"used"`
	LeftOut int `json:"left_out"`
}

// Number is a double that is null in JSON where it does not exist or is infinite.
type Number float64

// MarshalJSONTo writes the shortest text that reads back as the number, or null.
func (n Number) MarshalJSONTo(e *jsontext.Encoder) error {
	x := float64(n)
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return e.WriteToken(jsontext.Null)
	}
	return e.WriteToken(jsontext.Float(x))
}

// Numbers are the positions of a mark, written in one go: figures hold thousands.
type Numbers []Number

// MarshalJSONTo writes a list.
func (ns Numbers) MarshalJSONTo(e *jsontext.Encoder) error {
	text := append(e.AvailableBuffer(), '[')
	for i, n := range ns {
		if i > 0 {
			text = append(text, ',')
		}
		if x := float64(n); math.IsNaN(x) || math.IsInf(x, 0) {
			text = append(text, "null"...)
		} else {
			text = strconv.AppendFloat(text, x, 'g', -1, 64)
		}
	}
	return e.WriteValue(append(text, ']'))
}

// CaseNumbers are the 1-based rows of a mark's cases, written in one go.
type CaseNumbers []int

// MarshalJSONTo writes a list.
func (ns CaseNumbers) MarshalJSONTo(e *jsontext.Encoder) error {
	text := append(e.AvailableBuffer(), '[')
	for i, n := range ns {
		if i > 0 {
			text = append(text, ',')
		}
		text = strconv.AppendInt(text, int64(n), 10)
	}
	return e.WriteValue(append(text, ']'))
}

// UnmarshalJSONFrom reads null as NaN.
func (n *Number) UnmarshalJSONFrom(d *jsontext.Decoder) error {
	token, err := d.ReadToken()
	if err != nil {
		return err
	}
	if token.Kind() == 'n' {
		*n = Number(math.NaN())
		return nil
	}
	x, err := token.Float()
	*n = Number(x)
	return err
}

// Ref names a quantity ("se"), a cell of a table ("cases/Mole|1/response") or a
// part of a column ("cases/Mole|*/response": table, row key, column). In a row
// key "|" parts the key columns; inside a part "/" is written ~1, "|" ~2, "~" ~0.
type Ref string

// A Quantity is one number of the solution.
type Quantity struct {
	ID      Ref      `json:"id"`
	Symbol  string   `json:"symbol"` // TeX
	Label   string   `json:"label"`
	Unit    string   `json:"unit,omitzero"`
	Value   Number   `json:"value"`
	Display string   `json:"display"`          // as shown, without the unit
	Full    string   `json:"full"`             // all digits, for copying
	Formula *Formula `json:"formula,omitzero"` // nil for what the problem gives
	Says    string   `json:"says,omitzero"`    // what the number is, in words
	// Aside is of what explains, but is not on the way to the answer: nobody is asked to work it out.
	Aside bool `json:"-"`

	bound bool // whether Display is a bound that the value lies below
}

// Formula says where a quantity comes from. In the two forms an input stands as
// @{id}, or as @({id}) where a negative number needs brackets.
type Formula struct {
	Symbolic string   `json:"symbolic"`         // TeX
	Numeric  string   `json:"numeric,omitzero"` // TeX; the symbolic form where empty
	Inputs   []string `json:"inputs"`
	// Rounding says what the arithmetic on the shown numbers would give, where
	// that differs in the last digit.
	Rounding string `json:"rounding,omitzero"`
}

// A Step is one of the twelve in which a problem is worked.
type Step struct {
	ID     StepID  `json:"id"`
	Result Text    `json:"-"`              // what the step comes to
	Key    string  `json:"key"`            // the result as it stands in the margin; X_M means a subscript
	Opens  Ref     `json:"opens,omitzero"` // the quantity in it, where it is one
	Title  string  `json:"title"`
	Blocks []Block `json:"blocks"`
}

// StepID names a step; the constants stand in the order of the work.
type StepID string

const (
	Question      StepID = "question"
	Data          StepID = "data"
	Look          StepID = "look"
	Hypotheses    StepID = "hypotheses"
	Conditions    StepID = "conditions"
	Statistic     StepID = "statistic"
	CriticalValue StepID = "critical-value"
	PValue        StepID = "p-value"
	DecisionStep  StepID = "decision"
	Conclusion    StepID = "conclusion"
	Report        StepID = "report"
	FollowUp      StepID = "follow-up"
)

// Title is what a step is called.
func (id StepID) Title() string { return stepTitles[id] }

var stepTitles = map[StepID]string{
	Question: "Question", Data: "Data", Look: "Look", Hypotheses: "Hypotheses", Conditions: "Conditions",
	Statistic: "Test statistic", CriticalValue: "Critical value", PValue: "p-value", DecisionStep: "Decision",
	Conclusion: "Conclusion", Report: "Report", FollowUp: "Follow-up",
}

// A Condition is something the procedure takes for granted.
type Condition struct {
	ID      string   `json:"id"`
	Status  Status   `json:"status"`
	Reason  string   `json:"reason"`
	Text    Text     `json:"text"`    // the reason, with numbers that open
	Actions []Action `json:"actions"` // ways out
}

// Status says whether a condition holds.
type Status string

const (
	Met       Status = "met"
	Doubtful  Status = "doubtful"
	NotMet    Status = "not_met"
	NotNeeded Status = "not_needed"
)

// An Action is the only way in which a picture, sentence or control changes a
// problem: the values that it sets in the problem file.
type Action struct {
	ID        string        `json:"id"`
	Label     string        `json:"label"`
	Says      string        `json:"says,omitzero"`
	Procedure string        `json:"procedure,omitzero"` // another procedure to carry the problem to
	Set       []problem.Set `json:"set,omitempty"`
	Compare   bool          `json:"compare"` // beside the present solution, not in its place
}

// A Control is a live choice under the curve.
type Control struct {
	ID      string   `json:"id"`
	Label   string   `json:"label"`
	Key     string   `json:"key"`     // of the keyboard: takes the next choice
	Pointer string   `json:"pointer"` // into the problem file
	Choices []Choice `json:"choices"`
	Free    bool     `json:"free"` // whether a number other than the choices may be typed
	Beside  Place    `json:"beside"`
	Value   any      `json:"value"` // the present one
}

// Place says beside what a control is offered.
type Place string

const (
	BesideCurve Place = "curve" // it moves the curve, the region or the statistic
	BesideBrief Place = "brief" // it turns the question round
	InStep      Place = "step"  // a block of a step shows it
)

// A Choice is one value of a control.
type Choice struct {
	Value any    `json:"value"`
	Label string `json:"label"` // X_M means a subscript
	Says  string `json:"says,omitzero"`
}

// Decision is what the test decides.
type Decision struct {
	Reject          bool  `json:"reject"`
	P               Ref   `json:"p"`                 // the deciding quantity
	ByCriticalValue *bool `json:"by_critical_value"` // nil where the test has no critical values
	ByPValue        bool  `json:"by_p_value"`
}

// ClaimAnswer says how the problem's claim is answered.
type ClaimAnswer struct {
	Says    problem.Statement `json:"says"`
	Verdict ClaimVerdict      `json:"verdict"`
}

// ClaimVerdict is what a test makes of a claim.
type ClaimVerdict string

const (
	Supported       ClaimVerdict = "supported"
	Contradicted    ClaimVerdict = "contradicted"
	NotSupported    ClaimVerdict = "not_supported"
	NotContradicted ClaimVerdict = "not_contradicted"
	LeftOpen        ClaimVerdict = "open"
)

// WithUnit is the number as it is shown, with its unit.
func (q *Quantity) WithUnit() string {
	if q.Unit == "" {
		return q.Display
	}
	return q.Display + "\u00a0" + q.Unit
}

// TeX writes how a quantity comes about: defined, in symbols, and numeric, with numbers and what it comes to. Of one that
// is given there is one line only.
func (s *Solution) TeX(q *Quantity) (defined, numeric string) {
	result := formula.TeXNumber(q.Display)
	if !q.bound {
		result = "= " + result
	}
	if q.Unit != "" {
		result += `\,` + formula.TeXText(q.Unit)
	}
	if q.Formula == nil {
		return q.Symbol + " " + result, ""
	}
	of := func(id string) *Quantity { return s.Quantity(Ref(id)) }
	symbolic := formula.Resolve(q.Formula.Symbolic, func(id string) string { return of(id).Symbol })
	numeric = cmp.Or(q.Formula.Numeric, q.Formula.Symbolic)
	numeric = formula.Resolve(numeric, func(id string) string { return formula.TeXNumber(of(id).Display) })
	defined = q.Symbol + " = " + symbolic
	if q.Symbol == symbolic {
		defined = symbolic
	}
	return defined, "= " + numeric + " " + result
}

// Shown is a piece of a text as it is read: its words, or the number that it names.
func (s *Solution) Shown(piece Piece) string {
	if piece.Words == "" && piece.Ref != "" {
		return s.Quantity(piece.Ref).WithUnit()
	}
	return piece.Words
}

// Plain is a text as it is read.
func (s *Solution) Plain(text Text) string {
	var b strings.Builder
	for _, piece := range text {
		b.WriteString(s.Shown(piece))
	}
	return b.String()
}

// WithNumbers returns a person's text with the numbers that it quotes as @{n_1}, each as it is shown, without its unit.
func (s *Solution) WithNumbers(text string) string {
	return problem.QuestionWith(text, func(id string) (string, bool) {
		q := s.Quantity(Ref(id))
		if q == nil {
			return "", false
		}
		return q.Display, true
	})
}

// Step returns the step of that id, nil where there is none.
func (s *Solution) Step(id StepID) *Step {
	i := slices.IndexFunc(s.Steps, func(step *Step) bool { return step.ID == id })
	if i < 0 {
		return nil
	}
	return s.Steps[i]
}

// Figure returns the figure of that id, nil where there is none.
func (s *Solution) Figure(id string) *Figure {
	i := slices.IndexFunc(s.Figures, func(f *Figure) bool { return f.ID == id })
	if i < 0 {
		return nil
	}
	return s.Figures[i]
}

// Condition returns the condition of that id, nil where there is none.
func (s *Solution) Condition(id string) *Condition {
	i := slices.IndexFunc(s.Conditions, func(c *Condition) bool { return c.ID == id })
	if i < 0 {
		return nil
	}
	return s.Conditions[i]
}

// Quantity returns the quantity of that id, nil where there is none.
func (s *Solution) Quantity(id Ref) *Quantity {
	for _, q := range s.Quantities {
		if q.ID == id {
			return q
		}
	}
	return nil
}
