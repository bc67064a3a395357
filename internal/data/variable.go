package data

import (
	"fmt"
	"math"
	"strings"
)

// Variables returns the columns as variables of the kinds that GuessKind sees.
// A column without a name is called after its place. An error names row and
// column of a cell that does not fit.
func (s *Sheet) Variables() ([]*Variable, error) {
	set := s.SetOf("")
	variables := make([]*Variable, len(set.Columns))
	taken := map[string]bool{}
	for i, c := range set.Columns {
		if c.Name == "" {
			c.Name = fmt.Sprintf("column %d", i+1)
		}
		if taken[c.Name] {
			return nil, fmt.Errorf("column %d is called “%s”, and so is another; give each a name of its own", i+1, c.Name)
		}
		taken[c.Name] = true
		v, mistakes := c.variable(len(c.Cells))
		if len(mistakes) > 0 {
			row := mistakes[0].Case + 1
			if s.Header {
				row++
			}
			return nil, fmt.Errorf("row %d, column “%s”: %s; the other cells are numbers", row, c.Name, mistakes[0].Says)
		}
		variables[i] = v
	}
	return variables, nil
}

// A CellMistake is a cell that does not fit its variable's kind.
type CellMistake struct {
	Case int // counted from 0
	Says string
}

// NewVariable reads cells as they were typed. A blank cell is missing, in a Number
// also one of the usual marks for that, and so is one that is returned as a
// mistake. A currency or percent sign that all numbers share becomes the unit.
func NewVariable(name string, kind Kind, cells []string) (*Variable, []CellMistake) {
	if kind == Number {
		return newNumber(name, cells)
	}
	v := &Variable{Name: name, Kind: kind}
	index := map[string]int{}
	for _, cell := range cells {
		cell = strings.TrimSpace(cell)
		if cell == "" {
			v.Codes = append(v.Codes, -1)
			continue
		}
		level, seen := index[cell]
		if !seen {
			level = len(v.Levels)
			index[cell] = level
			v.Levels = append(v.Levels, Level{cell, cell})
		}
		v.Codes = append(v.Codes, level)
	}
	return v, nil
}

func newNumber(name string, cells []string) (*Variable, []CellMistake) {
	v := &Variable{Name: name, Kind: Number, Numbers: make([]float64, len(cells))}
	style := DetectStyle(cells)
	var mistakes []CellMistake
	unit, mixed, first := "", false, true
	for i, cell := range cells {
		if IsMissing(cell) {
			v.Numbers[i] = math.NaN()
			continue
		}
		x, sign, err := style.Parse(cell)
		v.Numbers[i] = x
		if err != nil {
			mistakes = append(mistakes, CellMistake{i, err.Error()})
			continue
		}
		mixed = mixed || !first && sign != unit
		unit, first = sign, false
	}
	if !mixed {
		v.Unit = unit
	}
	return v, mistakes
}
