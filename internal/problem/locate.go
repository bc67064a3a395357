package problem

import (
	"errors"
	"fmt"
	"strings"

	"grund/internal/data"
)

// Locate turns pointers into the problem file into pointers into the draft and
// the data set.
func (d *Draft) Locate(given *data.Prepared, errs Errors) Errors {
	var places []int
	if d.Entry == EnterData && given.Set.Form == data.FormCases {
		_, places, _ = given.Variables()
	}
	var filled []int
	for i, row := range d.Summary {
		if !row.blank() {
			filled = append(filled, i)
		}
	}
	located := make(Errors, len(errs))
	for i, e := range errs {
		steps := strings.Split(e.Pointer, "/")
		var item int
		switch {
		case strings.HasPrefix(e.Pointer, "/data/variables/") && places != nil:
			if _, err := fmt.Sscanf(steps[3], "%d", &item); err == nil && item < len(places) {
				e.Pointer = Pointer("columns", places[item]) + "/" + strings.Join(steps[4:], "/")
			}
		case strings.HasPrefix(e.Pointer, "/data/summary/groups/"):
			if _, err := fmt.Sscanf(steps[4], "%d", &item); err == nil && item < len(filled) {
				e.Pointer = Pointer("summary", filled[item]) + "/" + strings.Join(steps[5:], "/")
			}
		case d.Entry == EnterSummary && (strings.HasPrefix(e.Pointer, "/data") || strings.HasPrefix(e.Pointer, "/roles")):
			e.Pointer = "/summary"
		case strings.HasPrefix(e.Pointer, "/data"), places == nil && strings.HasPrefix(e.Pointer, "/roles"):
			e.Pointer = "/columns"
		}
		located[i] = e
	}
	return located
}

// Located is Locate for an error that may be anything; only Errors are changed.
func (d *Draft) Located(given *data.Prepared, err error) error {
	var errs Errors
	if errors.As(err, &errs) {
		return d.Locate(given, errs)
	}
	return err
}
