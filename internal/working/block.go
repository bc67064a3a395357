package working

import (
	"grund/internal/problem"
)

// Block is a piece of a step. The types below are the only ones; a new one is drawn in the
// browser by the switch over their kinds, and here it cannot be made without both methods.
type Block interface {
	// names adds what the block refers to.
	names(n *Names)
	// markdown writes the block for reading. What only offers something to a person at a screen
	// writes nothing.
	markdown(m *markdown)
}

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
		Compared    Compared       `json:"compared"`
		Null        Hypothesis     `json:"null"`
		Alternative Hypothesis     `json:"alternative"`
		// Directions are the hypotheses of each tail that H₁ could take, these among them; none where H₁ has no direction.
		Directions map[problem.Tail]HypothesesBlock `json:"-"`
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
		Opens   Ref         `json:"opens"`   // the number that is compared
		Against Ref         `json:"against"` // what it is compared with
		Sign    string      `json:"sign"`    // how it stands to that: <, = or >
		Reject  bool        `json:"reject"`
		Compare string      `json:"compare"` // the comparison as it is read: "2.064 < 2.116"
		Says    string      `json:"says"`    // "outside the rejection region"
	}
	// ReportLine is what to copy into a paper: a line in the style of journals, the sentence that
	// answers the problem with the numbers that decide, or the numbers alone.
	ReportLine struct {
		Kind     reportKind `json:"kind"`
		Text     Text       `json:"text"`
		Sentence Text       `json:"sentence,omitempty"`
		Numbers  []Ref      `json:"numbers,omitempty"`
	}
	// SimulationBlock offers to draw samples as if H₀ were true and to count those that are
	// as extreme as the one observed.
	SimulationBlock struct {
		Kind        simulationKind `json:"kind"`
		How         string         `json:"how"`
		Assumes     string         `json:"assumes"`
		Repetitions int            `json:"repetitions"`
	}
	// PowerBlock offers to find how large a sample the test needs.
	PowerBlock struct {
		Kind   powerKind    `json:"kind"`
		Inputs []PowerInput `json:"inputs"`
		Target float64      `json:"target"`
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

// Words name the rule at the head of its verdict.
func (r Rule) Words() string {
	if r == ByPValue {
		return "By the p-value"
	}
	return "By the critical value"
}

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
	simulationKind struct{}
	powerKind      struct{}
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
func (simulationKind) MarshalText() ([]byte, error) { return []byte("simulation"), nil }
func (powerKind) MarshalText() ([]byte, error)      { return []byte("power"), nil }

// Blocks lists one value of each kind of block, for those who need them all.
var Blocks = []Block{Prose{}, FormulaBlock{}, Values{}, TableBlock{}, FigureBlock{}, HypothesesBlock{}, Check{}, Verdict{}, ReportLine{},
	ControlBlock{}, ContrastBlock{}, ChoiceBlock{}, PlaceBlock{}, DeriveBlock{}, SimulationBlock{}, PowerBlock{}}

// Names are what a part of a solution refers to.
type Names struct {
	Quantities                            []Ref
	Tables, Figures, Conditions, Controls []string
}

// Text adds the numbers in a text.
func (n *Names) Text(text Text) {
	for _, piece := range text {
		if piece.Ref != "" {
			n.Quantities = append(n.Quantities, piece.Ref)
		}
	}
}

// Block adds what a block refers to.
func (n *Names) Block(b Block) { b.names(n) }

func (b Prose) names(n *Names) { n.Text(b.Text) }
func (b ReportLine) names(n *Names) {
	n.Text(b.Text)
	n.Text(b.Sentence)
	n.Quantities = append(n.Quantities, b.Numbers...)
}
func (b FormulaBlock) names(n *Names) { n.Quantities = append(n.Quantities, b.Quantity) }
func (b Values) names(n *Names)       { n.Quantities = append(n.Quantities, b.Quantities...) }
func (b TableBlock) names(n *Names)   { n.Tables = append(n.Tables, b.Table) }
func (b ControlBlock) names(n *Names) { n.Controls = append(n.Controls, b.Control) }
func (b Check) names(n *Names)        { n.Conditions = append(n.Conditions, b.Condition) }
func (b Verdict) names(n *Names)      { n.Quantities = append(n.Quantities, b.Opens, b.Against) }

func (b FigureBlock) names(n *Names) {
	n.Figures = append(n.Figures, b.Figure)
	for _, view := range b.Views {
		n.Figures = append(n.Figures, view.Figure)
	}
}

// The quantity by which is compared is earned later, and shown by no block of hypotheses.
func (HypothesesBlock) names(*Names) {}

func (ChoiceBlock) names(*Names)     {}
func (DeriveBlock) names(*Names)     {}
func (PlaceBlock) names(*Names)      {}
func (ContrastBlock) names(*Names)   {}
func (SimulationBlock) names(*Names) {}
func (PowerBlock) names(*Names)      {}
