// Package working holds the worked solution: the document that a procedure
// writes and that the browser, the command line and the printed page show.
//
// A solution has steps, made of a closed family of blocks. Blocks refer to the
// solution's quantities, tables, figures and conditions by id and never carry a
// number of their own, so that a number stands in one place only.
package working

import (
	"math"
	"strconv"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/problem"
)

// A Solution is a problem worked from the question to the sentence that answers it.
type Solution struct {
	Grund      int          `json:"grund"`
	Procedure  string       `json:"procedure"`
	Title      string       `json:"title"` // of the procedure
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
	Claim      *ClaimAnswer `json:"claim"`    // nil where there is none
	Conclusion string       `json:"conclusion"`
	Report     string       `json:"report"`
	Steps      []*Step      `json:"steps"`
	Controls   []Control    `json:"controls"`
	Notes      []string     `json:"notes"`
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
	text := make([]byte, 0, 12*len(ns)+2)
	text = append(text, '[')
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
	text := make([]byte, 0, 5*len(ns)+2)
	text = append(text, '[')
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
	Key    string  `json:"key"`            // the key result for the margin; X_M means a subscript
	Opens  Ref     `json:"opens,omitzero"` // the quantity that the key shows, if it is one
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

var stepTitles = map[StepID]string{
	Question: "Question", Data: "Data", Look: "Look", Hypotheses: "Hypotheses", Conditions: "Conditions",
	Statistic: "Test statistic", CriticalValue: "Critical value", PValue: "p-value", DecisionStep: "Decision",
	Conclusion: "Conclusion", Report: "Report", FollowUp: "Follow-up",
}

// Block is a piece of a step. The types below are the only ones.
type Block interface{ block() }

type (
	// Prose is a paragraph.
	Prose struct {
		Kind proseKind `json:"kind"`
		Tone Tone      `json:"tone,omitzero"`
		Text Text      `json:"text"`
	}
	// FormulaBlock shows a quantity's formula, in symbols and with numbers.
	FormulaBlock struct {
		Kind     formulaKind `json:"kind"`
		Quantity Ref         `json:"quantity"`
	}
	// Values shows quantities with their labels.
	Values struct {
		Kind       valuesKind `json:"kind"`
		Quantities []Ref      `json:"quantities"`
	}
	// TableBlock shows a table.
	TableBlock struct {
		Kind  tableKind `json:"kind"`
		Table string    `json:"table"`
	}
	// FigureBlock shows a figure, or one of several views of the same thing.
	FigureBlock struct {
		Kind    figureKind `json:"kind"`
		Figure  string     `json:"figure"`
		Views   []View     `json:"views,omitempty"` // figure among them
		Actions []Action   `json:"actions,omitempty"`
	}
	// ControlBlock offers a live control in a step.
	ControlBlock struct {
		Kind    controlKind `json:"kind"`
		Control string      `json:"control"`
	}
	// ChoiceBlock offers values to be ticked: those chosen are a list at Pointer.
	ChoiceBlock struct {
		Kind    choiceKind `json:"kind"`
		Pointer string     `json:"pointer"`
		Label   string     `json:"label"`
		Choices []Ticked   `json:"choices"`
		Drops   []string   `json:"drops,omitempty"` // pointers to what no longer fits another choice
		Keep    *Action    `json:"keep,omitzero"`   // keeps the present choice to compare others with
	}
	// DeriveBlock offers to keep variables that follow from the data by a formula.
	DeriveBlock struct {
		Kind    deriveKind `json:"kind"`
		Label   string     `json:"label"`
		Columns []Derived  `json:"columns"`
	}
	// PlaceBlock asks for a value of each predictor: a list of them is the only one in the list
	// at Pointer.
	PlaceBlock struct {
		Kind    placeKind    `json:"kind"`
		Pointer string       `json:"pointer"`
		Fields  []PlaceField `json:"fields"`
	}
	// ContrastBlock builds a weighted sum of groups: some against others.
	ContrastBlock struct {
		Kind    contrastKind `json:"kind"`
		Pointer string       `json:"pointer"` // into the problem file
		Groups  []Weighted   `json:"groups"`
		Tail    problem.Tail `json:"tail"`
	}
	// HypothesesBlock shows H₀ and H₁.
	HypothesesBlock struct {
		Kind        hypothesesKind `json:"kind"`
		Null        Hypothesis     `json:"null"`
		Alternative Hypothesis     `json:"alternative"`
	}
	// Check shows a condition.
	Check struct {
		Kind      checkKind `json:"kind"`
		Condition string    `json:"condition"`
	}
	// Verdict shows one of the two decision rules with this problem's numbers.
	Verdict struct {
		Kind    verdictKind `json:"kind"`
		Rule    Rule        `json:"rule"`
		Compare string      `json:"compare"` // "2.064 < 2.116"
		Says    string      `json:"says"`    // "outside the rejection region"
		Reject  bool        `json:"reject"`
		Opens   Ref         `json:"opens"` // the number that is compared
	}
	// ReportLine is a line to copy into a paper.
	ReportLine struct {
		Kind reportKind `json:"kind"`
		Text Text       `json:"text"`
	}
)

// A View is a figure under a name for the switch that shows it, and how it is read.
type View struct {
	Figure string `json:"figure"`
	Label  string `json:"label"`
	Says   string `json:"says"`
}

// Ticked is a value that may be chosen with others.
type Ticked struct {
	Value  string `json:"value"`
	Label  string `json:"label"`
	Chosen bool   `json:"chosen"`
}

// Derived is a variable by its formula.
type Derived struct {
	Name    string `json:"name"`
	Unit    string `json:"unit,omitzero"`
	Formula string `json:"formula"`
}

// PlaceField is a value of a predictor: a number, or one of its levels.
type PlaceField struct {
	Label  string   `json:"label"`
	Unit   string   `json:"unit,omitzero"`
	Value  string   `json:"value"`
	Levels []string `json:"levels,omitempty"`
}

// Weighted is a group of a contrast with its weight, 0 where it takes no part.
type Weighted struct {
	Code   string `json:"code"`
	Label  string `json:"label"`
	Weight Number `json:"weight"`
}

// Tone says how a paragraph is meant.
type Tone string

const (
	Plain   Tone = ""
	Answer  Tone = "answer"  // the sentence that answers the problem
	Caution Tone = "caution" // a misreading that happens at this step
	Aside   Tone = "aside"   // true, and not needed to go on
)

// Rule is one of the two ways to decide.
type Rule string

const (
	ByCriticalValue Rule = "critical-value"
	ByPValue        Rule = "p-value"
)

// A Hypothesis in symbols and in words.
type Hypothesis struct {
	Symbols string `json:"symbols"` // TeX
	Words   string `json:"words"`
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

// The kinds are types of one value each, so that a block can be made in no other
// way than with its own kind.
type (
	proseKind      struct{}
	formulaKind    struct{}
	valuesKind     struct{}
	tableKind      struct{}
	figureKind     struct{}
	hypothesesKind struct{}
	checkKind      struct{}
	verdictKind    struct{}
	reportKind     struct{}
	controlKind    struct{}
	contrastKind   struct{}
	choiceKind     struct{}
	placeKind      struct{}
	deriveKind     struct{}
)

func (proseKind) MarshalText() ([]byte, error)      { return []byte("prose"), nil }
func (formulaKind) MarshalText() ([]byte, error)    { return []byte("formula"), nil }
func (valuesKind) MarshalText() ([]byte, error)     { return []byte("values"), nil }
func (tableKind) MarshalText() ([]byte, error)      { return []byte("table"), nil }
func (figureKind) MarshalText() ([]byte, error)     { return []byte("figure"), nil }
func (hypothesesKind) MarshalText() ([]byte, error) { return []byte("hypotheses"), nil }
func (checkKind) MarshalText() ([]byte, error)      { return []byte("check"), nil }
func (verdictKind) MarshalText() ([]byte, error)    { return []byte("verdict"), nil }
func (reportKind) MarshalText() ([]byte, error)     { return []byte("report"), nil }
func (controlKind) MarshalText() ([]byte, error)    { return []byte("control"), nil }
func (choiceKind) MarshalText() ([]byte, error)     { return []byte("choice"), nil }
func (deriveKind) MarshalText() ([]byte, error)     { return []byte("derive"), nil }
func (placeKind) MarshalText() ([]byte, error)      { return []byte("place"), nil }
func (contrastKind) MarshalText() ([]byte, error)   { return []byte("contrast"), nil }

func (Prose) block()           {}
func (FormulaBlock) block()    {}
func (Values) block()          {}
func (TableBlock) block()      {}
func (FigureBlock) block()     {}
func (HypothesesBlock) block() {}
func (Check) block()           {}
func (Verdict) block()         {}
func (ReportLine) block()      {}
func (ControlBlock) block()    {}
func (ContrastBlock) block()   {}
func (ChoiceBlock) block()     {}
func (PlaceBlock) block()      {}
func (DeriveBlock) block()     {}

// Blocks lists one value of each kind of block, for those who need them all.
var Blocks = []Block{Prose{}, FormulaBlock{}, Values{}, TableBlock{}, FigureBlock{}, HypothesesBlock{}, Check{}, Verdict{}, ReportLine{},
	ControlBlock{}, ContrastBlock{}, ChoiceBlock{}, PlaceBlock{}, DeriveBlock{}, SimulationBlock{}, PowerBlock{}}
