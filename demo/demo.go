// Package demo holds the Kelpwick harbour's data and problems, as a new user
// meets them.
package demo

import (
	"context"
	"embed"
	"fmt"
	"io/fs"
	"path"
	"strings"

	"github.com/go-json-experiment/json"

	"grund/internal/data"
)

//go:generate go run ./generate

//go:embed data problems attempts class.json
var files embed.FS

// A Problem is a demo problem's file and the data set that it is about.
type Problem struct {
	Name string // "two-berths", or "riders.by-reason" where a data set has several
	File []byte
}

// Problems returns the demo problems in the order of their names.
func Problems() ([]Problem, error) {
	names, err := fs.Glob(files, "problems/*.json")
	if err != nil {
		return nil, err
	}
	var out []Problem
	for _, name := range names {
		file, err := files.ReadFile(name)
		if err != nil {
			return nil, fmt.Errorf("reading a demo problem: %w", err)
		}
		out = append(out, Problem{strings.TrimSuffix(path.Base(name), ".json"), file})
	}
	return out, nil
}

// SetOf returns the name of the data set that the demo problem is about: the part of its
// own name before a dot.
func SetOf(problem string) string {
	set, _, _ := strings.Cut(problem, ".")
	return set
}

// File returns the problem file of the demo problem of that name, or nil.
func File(name string) []byte {
	file, err := files.ReadFile("problems/" + name + ".json")
	if err != nil {
		return nil
	}
	return file
}

// An Event is one thing that was done in the attempt with which a demo problem begins, or in a class.
type Event struct {
	Kind string `json:"kind"`
	Ask  string `json:"ask"`
	Text string `json:"text,omitzero"`
	// Verdict and Slip are known of what was done in a class.
	Verdict string `json:"verdict,omitzero"`
	Slip    string `json:"slip,omitzero"`
}

// Attempt returns what was done in the attempt with which a demo problem begins; nothing where there is none.
func Attempt(problem string) ([]Event, error) {
	file, err := files.ReadFile("attempts/" + problem + ".json")
	if err != nil {
		return nil, nil
	}
	var events []Event
	if err := json.Unmarshal(file, &events); err != nil {
		return nil, fmt.Errorf("reading the demo attempt %s: %w", problem, err)
	}
	return events, nil
}

// DataSets returns the names of the demo data sets in alphabetical order.
func DataSets() ([]string, error) {
	files, err := fs.Glob(files, "data/*.json")
	if err != nil {
		return nil, err
	}
	names := make([]string, len(files))
	for i, file := range files {
		names[i] = strings.TrimSuffix(path.Base(file), ".json")
	}
	return names, nil
}

// DataSet returns the demo data set of that name, or nil: what is said of its
// columns stands in a JSON file, their cells in a CSV file beside it.
func DataSet(name string) (*data.Set, error) {
	description, err := files.ReadFile("data/" + name + ".json")
	if err != nil {
		return nil, nil
	}
	set := &data.Set{}
	if err := json.Unmarshal(description, set); err != nil {
		return nil, fmt.Errorf("reading the demo data set %s: %w", name, err)
	}
	text, err := files.ReadFile("data/" + name + ".csv")
	if err != nil {
		return nil, fmt.Errorf("reading the demo data set %s: %w", name, err)
	}
	header := true
	sheet, err := data.Read(context.Background(), text, data.Options{Separator: ',', Header: &header})
	if err != nil {
		return nil, fmt.Errorf("reading the demo data set %s: %w", name, err)
	}
	if len(sheet.Columns) != len(set.Columns) {
		return nil, fmt.Errorf("the demo data set %s has %d columns and describes %d", name, len(sheet.Columns), len(set.Columns))
	}
	for i, c := range set.Columns {
		c.Cells = sheet.Columns[i]
	}
	return set, nil
}
