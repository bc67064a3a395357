// Package data holds variables and their cells, and reads them from text.
package data

import (
	"math"
	"strconv"
)

// Kind says what a variable's cells are.
type Kind string

const (
	Undecided  Kind = ""           // not said yet; GuessKind decides
	Number     Kind = "number"     // a measurement or count; Numbers holds the cells
	Category   Kind = "category"   // a name or code; Codes holds the cells
	Identifier Kind = "identifier" // tells cases apart and is never analysed; cells as of a Category
)

// A Variable is a named column of cells, one a case.
type Variable struct {
	Name  string
	Label string // for reading, "Loading time"; the name when empty
	Unit  string // "min"
	Kind  Kind

	Decimals *int // with which numbers are shown; as many as they have when nil

	Numbers []float64 // cells of a Number; NaN where missing
	Codes   []int     // cells of a Category: an index into Levels, −1 where missing
	Levels  []Level   // of a Category: in the order listed or of first appearance
	Listed  bool      // whether the order of the levels was given
}

// A Level is one value of a category.
type Level struct {
	Code string // as it stands in the cells, in its shortest form
	Name string // for reading; the code where no name was given
}

// Len returns the number of cases.
func (v *Variable) Len() int {
	if v.Kind == Number {
		return len(v.Numbers)
	}
	return len(v.Codes)
}

// Missing reports whether cell i is missing.
func (v *Variable) Missing(i int) bool {
	if v.Kind == Number {
		return math.IsNaN(v.Numbers[i])
	}
	return v.Codes[i] < 0
}

// Title returns the label, or the name where there is none.
func (v *Variable) Title() string {
	if v.Label != "" {
		return v.Label
	}
	return v.Name
}

// FindLevel returns the index of the level with the given code or, where no
// code matches, with the given name if only one level has it; otherwise −1.
func (v *Variable) FindLevel(codeOrName string) int {
	named, count := -1, 0
	for i, level := range v.Levels {
		if level.Code == codeOrName {
			return i
		}
		if level.Name == codeOrName {
			named = i
			count++
		}
	}
	if count == 1 {
		return named
	}
	return -1
}

// FormatNumber returns the shortest text that reads back as x.
func FormatNumber(x float64) string {
	if a := math.Abs(x); a != 0 && (a < 1e-6 || a >= 1e21) {
		return strconv.FormatFloat(x, 'e', -1, 64)
	}
	return strconv.FormatFloat(x, 'f', -1, 64)
}

// Complete returns the cases, counted from 0, in which none of the variables is
// missing and which are not left out. leftOut may be nil.
func Complete(leftOut map[int]bool, variables ...*Variable) []int {
	var cases []int
	for i := range variables[0].Len() {
		missing := leftOut[i]
		for _, v := range variables {
			missing = missing || v.Missing(i)
		}
		if !missing {
			cases = append(cases, i)
		}
	}
	return cases
}
