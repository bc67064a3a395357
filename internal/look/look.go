// Package look describes one or two variables before anything is tested: the
// numbers that summarise them and the pictures that show them.
package look

import (
	"fmt"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/words"
	"grund/internal/working"
)

// A Look is the description of the variables.
type Look struct {
	Title   string           `json:"title"`
	Says    string           `json:"says"`  // how many cases, and how many are missing
	First   []First          `json:"first"` // the numbers to look at first
	Forms   []working.Form   `json:"forms"` // the pictures that fit, the first one the usual one
	Figure  *working.Figure  `json:"figure"`
	Reading []string         `json:"reading"` // how to read the picture
	Tables  []*working.Table `json:"tables"`
	Notes   []string         `json:"notes"`
	Classes *Classes         `json:"classes,omitzero"` // of a histogram
}

// First is a number to look at first.
type First struct {
	Label string `json:"label"`
	Shown string `json:"shown"`
}

// Classes are those of a histogram.
type Classes struct {
	Start float64 `json:"start"`
	Width float64 `json:"width"`
}

// New describes the variables that the picture names, over the cases that are not
// left out. leftOut counts from 0 and may be nil.
func New(variables problem.Variables, leftOut map[int]bool, r problem.Picture) (*Look, error) {
	if len(r.Variables) < 1 || len(r.Variables) > 2 {
		return nil, problem.Errors{{Pointer: "/variables", Says: fmt.Sprintf("%d variables are chosen", len(r.Variables)),
			Instead: "choose one or two"}}
	}
	chosen := make([]*data.Variable, len(r.Variables))
	for i, name := range r.Variables {
		v := variables.Find(name)
		switch {
		case v == nil:
			return nil, problem.Errors{problem.Unknown(problem.Pointer("variables", i), "variable", name, variables.Names())}
		case v.Kind == data.Identifier:
			return nil, problem.Errors{{Pointer: problem.Pointer("variables", i),
				Says:    fmt.Sprintf("“%s” is an identifier: it tells cases apart and has nothing to be summarised", words.Shorten(v.Title())),
				Instead: "choose a number or a category"}}
		}
		chosen[i] = v
	}
	cases := data.Complete(leftOut, chosen...)
	l := &Look{Says: saysCases(cases, chosen), First: []First{}, Reading: []string{}, Tables: []*working.Table{}, Notes: []string{}}
	if len(cases) == 0 {
		l.Title, l.Forms = chosen[0].Title(), []working.Form{}
		return l, nil
	}
	var err error
	switch first, last := chosen[0], chosen[len(chosen)-1]; {
	case len(chosen) == 1 && first.Kind == data.Number:
		err = l.number(&grouped{of: first, groups: []group{newGroup("", first, cases)}}, r)
	case len(chosen) == 1:
		err = l.category(first, cases, r)
	case first.Kind == data.Number && last.Kind == data.Number:
		err = l.numbers(first, last, cases, r)
	case first.Kind == data.Category && last.Kind == data.Category:
		err = l.crossed(first, last, cases, r)
	case first.Kind == data.Number:
		err = l.numberBy(first, last, cases, r)
	default:
		err = l.numberBy(last, first, cases, r)
	}
	if err != nil {
		return nil, err
	}
	return l, nil
}

func saysCases(cases []int, chosen []*data.Variable) string {
	says := fmt.Sprintf("%d cases", len(cases))
	if len(cases) == 1 {
		says = "1 case"
	}
	if missing := chosen[0].Len() - len(cases); missing > 0 {
		what := "without a value"
		if len(chosen) > 1 {
			what = "without a value of both"
		}
		says += fmt.Sprintf("; %d more %s", missing, what)
	}
	return says + "."
}

// choose checks the form that is asked for against those that fit.
func (l *Look) choose(r problem.Picture, fit ...working.Form) (working.Form, error) {
	l.Forms = fit
	if r.Form == "" {
		return fit[0], nil
	}
	for _, form := range fit {
		if string(form) == r.Form {
			return form, nil
		}
	}
	names := make([]string, len(fit))
	for i, form := range fit {
		names[i] = string(form)
	}
	return "", problem.Errors{{Pointer: "/form", Says: fmt.Sprintf("“%s” does not show these variables", words.Shorten(r.Form)),
		Instead: "take " + words.Quoted(names, "or")}}
}

// headed returns the title of a variable with its unit.
func headed(v *data.Variable) string {
	if v.Unit != "" {
		return v.Title() + " (" + v.Unit + ")"
	}
	return v.Title()
}
