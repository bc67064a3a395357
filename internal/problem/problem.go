// Package problem holds the problem file: its types, its parsing and the checks
// that do not depend on the procedure. Every error names the field, says what is
// wrong with it and what would be right.
package problem

import (
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
)

// Format is the version of the problem file, the value of its field "grund".
const Format = 1

// DefaultAlpha is the significance level of a problem that states none.
const DefaultAlpha = 0.05

// A Problem is a question about data, with everything that decides its answer.
type Problem struct {
	Grund      int                       `json:"grund"`
	Title      string                    `json:"title,omitzero"`
	Question   string                    `json:"question,omitzero"` // markdown
	Claim      *Claim                    `json:"claim,omitzero"`
	Procedure  string                    `json:"procedure"`
	Alpha      float64                   `json:"alpha"`
	Confidence *float64                  `json:"confidence,omitzero"` // 1 − Alpha when nil
	Tail       Tail                      `json:"tail"`
	Data       Data                      `json:"data"`
	LeaveOut   []LeftOut                 `json:"leave_out,omitempty"`
	Roles      Roles                     `json:"roles,omitempty"`
	Options    map[string]jsontext.Value `json:"options,omitempty"` // checked against the procedure's description
	Decimals   *Decimals                 `json:"decimals,omitzero"`
	Digits     *int                      `json:"digits,omitzero"` // significant ones that an answer is to have
	Try        *Try                      `json:"try,omitzero"`
	Notes      []Note                    `json:"notes,omitempty"`    // the person's own
	Pictures   []Picture                 `json:"pictures,omitempty"` // shown when the data are looked at
}

// LeftOut is a case that the person leaves out.
type LeftOut struct {
	Case   int    `json:"case"` // the 1-based row in the data
	Reason string `json:"reason,omitzero"`
}

// Roles say which variables play which role. In JSON a lone name is a list of one.
type Roles map[string]Names

// Names are names of variables.
type Names []string

// Data is exactly one of cases, a summary or counts.
type Data struct {
	Variables Variables `json:"variables,omitempty"`
	Summary   *Summary  `json:"summary,omitzero"`
	Counts    *Counts   `json:"counts,omitzero"`
}

// Variables are columns of cells.
type Variables []*data.Variable

// Find returns the variable of that name, or nil.
func (vs Variables) Find(name string) *data.Variable {
	for _, v := range vs {
		if v.Name == name {
			return v
		}
	}
	return nil
}

// Names returns the variables' names in order.
func (vs Variables) Names() []string {
	names := make([]string, len(vs))
	for i, v := range vs {
		names[i] = v.Name
	}
	return names
}

// A Summary is what a textbook gives in place of the cases.
type Summary struct {
	Response *data.Heading  `json:"response,omitzero"`
	Group    *data.Heading  `json:"group,omitzero"`
	Groups   []SummaryGroup `json:"groups"`
}

// SummaryGroup is the size, mean and standard deviation of one group.
type SummaryGroup struct {
	Label string   `json:"label,omitzero"`
	N     float64  `json:"n"` // a whole number
	Mean  *float64 `json:"mean,omitzero"`
	SD    *float64 `json:"sd,omitzero"` // nil where it is not used
}

// Counts are how often each category, class or pair of categories was seen.
type Counts struct {
	Variable   *data.Heading `json:"variable,omitzero"`
	Categories []string      `json:"categories,omitempty"`
	Boundaries []float64     `json:"boundaries,omitempty"`
	Observed   []float64     `json:"observed,omitempty"`

	RowVariable    *data.Heading `json:"row_variable,omitzero"`
	ColumnVariable *data.Heading `json:"column_variable,omitzero"`
	Rows           []string      `json:"rows,omitempty"`
	Columns        []string      `json:"columns,omitempty"`
	Cells          [][]float64   `json:"cells,omitempty"`
}

// ConfidenceLevel returns the level of the intervals.
func (p *Problem) ConfidenceLevel() float64 {
	if p.Confidence != nil {
		return *p.Confidence
	}
	return 1 - p.Alpha
}

// LeftOutCases returns the cases left out, counted from 0.
func (p *Problem) LeftOutCases() map[int]bool {
	out := make(map[int]bool, len(p.LeaveOut))
	for _, left := range p.LeaveOut {
		out[left.Case-1] = true
	}
	return out
}
