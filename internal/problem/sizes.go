package problem

import (
	"fmt"
	"maps"
	"slices"
	"unicode/utf8"

	"grund/internal/data"
	"grund/internal/words"
)

// How large a problem may be. A course comes nowhere near these; they keep a slip, as an identifier
// taken for a group, from asking for memory and time that others need.
const (
	MaxText       = 20_000  // characters of the question and of the claim
	MaxOptions    = 100_000 // bytes of an option's value
	MaxGroups     = 200     // that are compared with each other
	MaxLevels     = 1_000   // of a category that is counted, or that predicts
	MaxClasses    = 500     // of a distribution
	MaxCells      = 2_500   // of a table of two categories
	MaxPredictors = 100     // of a response, and variables that are correlated
	MaxPredicted  = 100     // places at which is predicted, and fits that are set side by side
)

// CheckText notes a text of more than most characters.
func (e *Errors) CheckText(at, text string, most int) {
	if len(text) <= most {
		return
	}
	if n := utf8.RuneCountInString(text); n > most {
		e.Add(at, fmt.Sprintf("the text has %d characters", n), fmt.Sprintf("keep to %d", most))
	}
}

// CheckHeading notes what is too long in a heading.
func (e *Errors) CheckHeading(at string, h *data.Heading) {
	if h != nil {
		e.CheckText(at+"/label", h.Label, data.MaxName)
		e.CheckText(at+"/unit", h.Unit, data.MaxName)
	}
}

// TooMany is the mistake of more things than can be worked with.
func TooMany(at, says string, most int, instead string) Errors {
	return Errors{{Pointer: at, Says: says, Instead: fmt.Sprintf("keep to %d: %s", most, instead)}}
}

// checkSizes notes what is too large to be worked with, whatever the procedure.
func (p *Problem) checkSizes(errs *Errors) {
	errs.CheckText("/title", p.Title, data.MaxName)
	errs.CheckText("/question", p.Question, MaxText)
	if p.Claim != nil {
		errs.CheckText("/claim/text", p.Claim.Text, MaxText)
	}
	for _, id := range slices.Sorted(maps.Keys(p.Options)) {
		if n := len(p.Options[id]); n > MaxOptions {
			errs.Add(Pointer("options", words.Shorten(id)), fmt.Sprintf("the option takes %d bytes", n), fmt.Sprintf("keep to %d", MaxOptions))
		}
	}
	for i, left := range p.LeaveOut {
		errs.CheckText(Pointer("leave_out", i, "reason"), left.Reason, data.MaxName)
	}
	p.Data.checkSizes(p.Roles, errs)
}

func (d *Data) checkSizes(roles Roles, errs *Errors) {
	if n := len(d.Variables); n > data.MaxColumns {
		errs.Add("/data/variables", fmt.Sprintf("there are %d variables", n), fmt.Sprintf("keep to %d", data.MaxColumns))
		return
	}
	for i, v := range d.Variables {
		at := Pointer("data", "variables", i)
		errs.CheckText(at+"/name", v.Name, data.MaxName)
		errs.CheckHeading(at, &data.Heading{Label: v.Label, Unit: v.Unit})
	}
	for _, id := range slices.Sorted(maps.Keys(roles)) {
		if n := len(roles[id]); n > MaxPredictors {
			errs.Add(Pointer("roles", words.Shorten(id)), fmt.Sprintf("%d variables are given", n), fmt.Sprintf("keep to %d", MaxPredictors))
			continue
		}
		for _, name := range roles[id] {
			if v := d.Variables.Find(name); v != nil {
				checkLevelNames(v, Pointer("roles", id), errs)
			}
		}
	}
	if s := d.Summary; s != nil {
		errs.CheckHeading("/data/summary/response", s.Response)
		errs.CheckHeading("/data/summary/group", s.Group)
		for i, g := range s.Groups[:min(len(s.Groups), MaxGroups)] { // more are refused by whoever compares them
			errs.CheckText(Pointer("data", "summary", "groups", i, "label"), g.Label, data.MaxName)
		}
	}
	if c := d.Counts; c != nil {
		errs.CheckHeading("/data/counts/variable", c.Variable)
		errs.CheckHeading("/data/counts/row_variable", c.RowVariable)
		errs.CheckHeading("/data/counts/column_variable", c.ColumnVariable)
		for field, labels := range map[string][]string{"categories": c.Categories, "rows": c.Rows, "columns": c.Columns} {
			for i, label := range labels[:min(len(labels), MaxCells)] {
				errs.CheckText(Pointer("data", "counts", field, i), label, data.MaxName)
			}
		}
	}
}

// checkLevelNames notes the first level whose name is too long for a table: that of a variable of texts.
func checkLevelNames(v *data.Variable, at string, errs *Errors) {
	if v.Kind != data.Category {
		return
	}
	for _, level := range v.Levels {
		for _, name := range []string{level.Code, level.Name} {
			if len(name) > data.MaxName && utf8.RuneCountInString(name) > data.MaxName {
				errs.Add(at, fmt.Sprintf("“%s” has the level “%s”, of %d characters", words.Shorten(v.Name), words.Shorten(name),
					utf8.RuneCountInString(name)),
					fmt.Sprintf("keep names of levels to %d characters, or say that the variable is an identifier", data.MaxName))
				return
			}
		}
	}
}
