// Package describe says what a procedure is to those who choose one: its question, the parts
// that variables play, its options, and which sorts of data it takes. The guide and the form
// in the browser are drawn from the description alone, and a problem is checked against it
// before the procedure reads it.
//
// A procedure's options are the fields of a struct of its own. Each field is bound to an
// Option by a function for its type, as flags are bound in package flag:
//
//	type options struct {
//		mean  float64
//		exact bool
//	}
//
//	func (o *options) fields() []describe.Option {
//		return []describe.Option{
//			describe.Number(&o.mean, 0, describe.Option{ID: "mean", Label: "Mean under H₀", Says: "…"}),
//			describe.Boolean(&o.exact, false, describe.Option{ID: "exact", Label: "Exact", Says: "…"}),
//		}
//	}
package describe

import (
	"context"
	"slices"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// A Description is what a person, a form and the guide need to know of a procedure.
type Description struct {
	ID         string   `json:"id"`
	Family     Family   `json:"family"`
	Title      string   `json:"title"`
	Asks       string   `json:"asks"` // the question that it answers
	AlsoCalled []string `json:"also_called"`
	Takes      []Takes  `json:"takes"` // sorts of data
	Roles      []Role   `json:"roles"`
	Options    []Option `json:"options"`
	Tails      bool     `json:"tails"` // whether H₁ can take one side
	// DirectedBy is the option without which the test has no direction, "" where there is none such.
	DirectedBy string `json:"directed_by,omitzero"`
	// Compared says what H₁, and a claim, may call less or greater: “the first mean less the
	// second”; "" where the test has no direction.
	Compared string `json:"compared,omitzero"`
}

// HasDirection reports whether H₁ can take one side with these options.
func (d *Description) HasDirection(options map[string]jsontext.Value) bool {
	_, given := options[d.DirectedBy]
	return d.Tails && (d.DirectedBy == "" || given)
}

// Option returns the option of that id, or nil.
func (d *Description) Option(id string) *Option {
	i := slices.IndexFunc(d.Options, func(o Option) bool { return o.ID == id })
	if i < 0 {
		return nil
	}
	return &d.Options[i]
}

// A Family is what a procedure is about, as those who choose one look for it.
type Family string

const (
	AboutMeans       Family = "Means"
	AboutSpread      Family = "Spread and shape"
	AboutRanks       Family = "Ranks: whatever the shape"
	AboutProportions Family = "Proportions"
	AboutCounts      Family = "Counts in categories"
	AboutLines       Family = "Lines and correlations"
)

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

// Assigned are the variables that play each role.
type Assigned map[string][]*data.Variable

// A Task is a problem that was read and found right, ready to be worked. Work ends with the
// context's error when that is done.
type Task interface {
	Work(ctx context.Context) (*working.Working, error)
}

// A Procedure describes itself and reads problems.
type Procedure struct {
	Description
	// Fits says why the procedure fits variables that play its roles, or that it does not; nil
	// where the roles say it all.
	Fits func(assigned Assigned) (why string, ok bool)

	read func(p *problem.Problem, d *Description, errs problem.Errors) (Task, error)
}

// New returns a procedure. fields binds the fields of the procedure's options; read finds what
// is wrong with a problem that agrees with the description, without working it, and returns
// what is to be worked.
func New[O any](d Description, fields func(*O) []Option, read func(p *problem.Problem, d *Description, o *O) (Task, error),
	fits func(Assigned) (string, bool)) *Procedure {
	d.Options = fields(new(O))
	return &Procedure{Description: d, Fits: fits, read: func(p *problem.Problem, d *Description, errs problem.Errors) (Task, error) {
		options := new(O)
		readOptions(p, fields(options), &errs)
		if err := errs.Err(); err != nil {
			return nil, err
		}
		return read(p, d, options)
	}}
}

// NoOptions are the options of a procedure that has none.
type NoOptions struct{}

// None binds them.
func None(*NoOptions) []Option { return nil }

// Read finds what is wrong with a problem, all that the description tells at once, and returns
// what is to be worked. Errors are of type problem.Errors.
func (pr *Procedure) Read(p *problem.Problem) (Task, error) {
	return pr.read(p, &pr.Description, pr.check(p))
}
