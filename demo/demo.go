// Package demo holds the Kelpwick harbour's data and problems, as a new user
// meets them.
package demo

import (
	"embed"
	"fmt"
	"io/fs"
	"path"
	"strings"
)

//go:generate go run ./generate

//go:embed data problems
var files embed.FS

// A Problem is a demo problem's file and the data set that it is about.
type Problem struct {
	Name string // "two-berths"
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

// File returns the problem file of the demo problem of that name, or nil.
func File(name string) []byte {
	file, err := files.ReadFile("problems/" + name + ".json")
	if err != nil {
		return nil
	}
	return file
}
