// Package procedure holds the procedures: a registry, and one file for each with
// its description and its work. A procedure turns a problem into a worked
// solution and has no screen of its own.
package procedure

import (
	"context"
	"fmt"
	"slices"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// A Description is what a person, a form and the guide need to know of a procedure.
type Description struct {
	ID         string   `json:"id"`
	Title      string   `json:"title"`
	Asks       string   `json:"asks"` // the question that it answers
	AlsoCalled []string `json:"also_called"`
	Takes      []Takes  `json:"takes"` // sorts of data
	Roles      []Role   `json:"roles"`
	Options    []Option `json:"options"`
	Tails      bool     `json:"tails"` // whether H₁ can take one side
	// Compared says what H₁, and a claim, may call less or greater: “the first mean less the
	// second”; "" where the test has no direction.
	Compared string `json:"compared,omitzero"`
}

// Takes is a sort of data.
type Takes string

const (
	TakesVariables Takes = "variables"
	TakesSummary   Takes = "summary"
	TakesCounts    Takes = "counts"
)

// A Role is a part that variables play.
type Role struct {
	ID     string      `json:"id"`
	Label  string      `json:"label"`
	Says   string      `json:"says"`
	Kinds  []data.Kind `json:"kinds"`
	Min    int         `json:"min"`             // how many variables
	Max    int         `json:"max"`             // 0: any number
	Levels int         `json:"levels,omitzero"` // how many levels are compared; 0: any number
}

// OptionType is the type of an option's value.
type OptionType string

const (
	NumberOption      OptionType = "number"
	ChoiceOption      OptionType = "choice"
	LevelsOption      OptionType = "levels" // a list of codes or names of levels
	LevelOption       OptionType = "level"  // the code or name of one level
	BooleanOption     OptionType = "boolean"
	ProportionsOption OptionType = "proportions" // "equal", or a positive number for each category
	NumbersOption     OptionType = "numbers"     // a list of numbers
	ParametersOption  OptionType = "parameters"  // numbers by name
	JoinOption        OptionType = "join"        // lists of levels of the row and of the column variable that are taken as one
	OmitOption        OptionType = "omit"        // levels of the row and of the column variable that are left out
	OrderOption       OptionType = "order"       // levels of the row and of the column variable that come first
	ContrastOption    OptionType = "contrast"    // a weight for each level, and a tail
	ReferencesOption  OptionType = "references"  // a level by the name of its variable
	PlacesOption      OptionType = "places"      // lists of a value for each predictor
	VariableLists     OptionType = "lists"       // lists of names of variables
)

// An Option changes what a procedure computes.
type Option struct {
	ID      string     `json:"id"`
	Label   string     `json:"label"`
	Type    OptionType `json:"type"`
	Says    string     `json:"says"`
	Default any        `json:"default"` // nil where it depends on the data
	// Required options have no default: a person must give them.
	Required bool     `json:"required,omitzero"`
	Choices  []Choice `json:"choices,omitempty"`
	Length   int      `json:"length,omitzero"` // of a list
	Of       string   `json:"of,omitzero"`     // the role whose level it is
	Live     bool     `json:"live"`            // offered under the curve
	Key      string   `json:"key,omitzero"`    // of the keyboard, where it is live
}

// A Choice of an option.
type Choice struct {
	Value string `json:"value"`
	Label string `json:"label"`
	Says  string `json:"says,omitzero"`
}

// A Procedure describes itself and works a problem.
type Procedure struct {
	Description
	// Work writes the solution of a problem that was checked against the
	// description.
	Work func(p *problem.Problem, d *Description, options Options) (*working.Working, error)
	// Fits says why the procedure fits variables that play its roles, or that it
	// does not; nil where the roles say it all.
	Fits func(assigned map[string][]*data.Variable) (why string, ok bool)
}

// Options are an option's values by id, defaults filled in: float64 for a number,
// string for a choice or a level, []string for levels, bool for a boolean, levelGroups for
// levels to join, to omit or to order, []float64 for proportions and numbers, map[string]float64 for
// parameters, contrastWeights for a contrast, map[string]string for
// references, [][]string for places and lists of variables.
type Options map[string]any

// all are the procedures in the order of the contract.
var all = []*Procedure{zOneSample, tOneSample, tTwoSample, tPaired, varianceRatio, varianceSpread, normality, proportionOne, proportionTwo, rankSum, signedRank, rankKSample, chiSquareFit, chiSquareDistribution, chiSquareIndependence, exactIndependence, pairedProportions, anovaOneWay, regressionSimple, regressionMultiple, correlation}

// Descriptions returns the description of every procedure.
func Descriptions() []Description {
	out := make([]Description, len(all))
	for i, p := range all {
		out[i] = p.Description
	}
	return out
}

// Find returns the procedure of that id, or nil.
func Find(id string) *Procedure {
	i := slices.IndexFunc(all, func(p *Procedure) bool { return p.ID == id })
	if i < 0 {
		return nil
	}
	return all[i]
}

// Work checks the problem against its procedure's description and works it. An
// error of type problem.Errors is one that a person can mend.
func Work(p *problem.Problem) (*working.Solution, error) {
	w, err := work(p)
	if err != nil {
		return nil, err
	}
	return w.Finish()
}

// Simulate works the problem and draws samples as they could come up if H₀ were true.
// It reports from time to time how far it is, the last time when all are drawn.
func Simulate(ctx context.Context, p *problem.Problem, report func(*working.Simulation) error) error {
	w, err := work(p)
	if err != nil {
		return err
	}
	return w.Simulate(ctx, report)
}

// Power works the problem and says how its test does where something stated is true, and
// how large a sample it needs.
func Power(p *problem.Problem, question working.PowerQuestion) (*working.Power, error) {
	w, err := work(p)
	if err != nil {
		return nil, err
	}
	return w.Power(question)
}

func work(p *problem.Problem) (*working.Working, error) {
	procedure := Find(p.Procedure)
	if procedure == nil {
		var ids []string
		for _, known := range all {
			ids = append(ids, known.ID)
		}
		return nil, problem.Errors{problem.Unknown("/procedure", "procedure", p.Procedure, ids)}
	}
	options, err := check(p, &procedure.Description)
	if err != nil {
		return nil, err
	}
	w, err := procedure.Work(p, &procedure.Description, options)
	if err != nil {
		return nil, err
	}
	return w, addPictures(w, p)
}

// Carry returns the problem for another procedure: what the target declares
// (roles, options, tail) and everything general (question, claim, alpha, data) is
// kept, the rest dropped.
func Carry(p *problem.Problem, to string) (*problem.Problem, error) {
	target := Find(to)
	if target == nil {
		return nil, fmt.Errorf("carrying the problem over: there is no procedure %q", to)
	}
	carried := *p
	carried.Procedure = to
	if !target.Tails {
		carried.Tail = problem.Both
	}
	carried.Roles = problem.Roles{}
	for _, role := range target.Roles {
		if names, ok := p.Roles[role.ID]; ok {
			carried.Roles[role.ID] = names
		}
	}
	carried.Options = nil
	for _, option := range target.Options {
		if value, ok := p.Options[option.ID]; ok {
			if carried.Options == nil {
				carried.Options = map[string]rawValue{}
			}
			carried.Options[option.ID] = value
		}
	}
	return &carried, nil
}

// Act returns the problem that an action leads to.
func Act(p *problem.Problem, action working.Action) (*problem.Problem, error) {
	if action.Procedure != "" {
		var err error
		if p, err = Carry(p, action.Procedure); err != nil {
			return nil, err
		}
	}
	return problem.Apply(p, action.Set)
}

// control returns the option as a live control with its present value.
func (o *Option) control(value string) working.Control {
	c := working.Control{ID: o.ID, Label: o.Label, Key: o.Key, Pointer: problem.Pointer("options", o.ID), Beside: working.BesideCurve, Value: value}
	for _, choice := range o.Choices {
		c.Choices = append(c.Choices, working.Choice{Value: choice.Value, Label: choice.Label, Says: choice.Says})
	}
	return c
}

// tooFarApart refuses numbers whose differences or squares no double holds.
func tooFarApart() error {
	return problem.Errors{{Pointer: "/data", Says: "the numbers are too far apart in size to calculate with", Instead: "write them in another unit"}}
}
