package problem

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/words"
)

// CheckSet looks for what keeps a data set from being kept. at points to the set; the error is of type Errors.
func CheckSet(set *data.Set, at string) error {
	var errs Errors
	if set.Form != data.FormCases && set.Form != data.FormGroups && set.Form != data.FormCounts {
		errs.Add(at+"/form", "the form is “"+words.Shorten(string(set.Form))+"”", "it must be “cases”, “groups” or “counts”")
	}
	if set.Columns == nil {
		errs.Add(at+"/columns", "the columns are missing", "give a list of them")
	}
	if len(set.Columns) > data.MaxColumns {
		errs.Add(at+"/columns", fmt.Sprintf("there are %d columns", len(set.Columns)), fmt.Sprintf("keep to %d", data.MaxColumns))
		return errs
	}
	errs.CheckText(at+"/name", set.Name, data.MaxName)
	errs.CheckText(at+"/about", set.About, MaxText)
	errs.CheckHeading(at+"/response", &set.Response)
	errs.CheckHeading(at+"/group", &set.Group)
	taken := map[int]bool{}
	derived := 0
	for i, c := range set.Columns {
		at := at + Pointer("columns", i)
		switch {
		case c == nil:
			errs.Add(at, "the column is null", "describe it, or leave it out")
			continue
		case c.Key < 1 || c.Key > math.MaxInt32:
			errs.Add(at+"/key", fmt.Sprintf("the key is %d", c.Key), "give each column a whole number from 1 up")
		case taken[c.Key]:
			errs.Add(at+"/key", fmt.Sprintf("another column has the key %d too", c.Key), "give each column a key of its own")
		}
		taken[c.Key] = true
		errs.checkColumn(c, at)
		if c.Derived() {
			derived++
		}
	}
	if derived > data.MaxDerived {
		errs.Add(at+"/columns", fmt.Sprintf("%d columns are derived", derived), fmt.Sprintf("keep to %d", data.MaxDerived))
	}
	if len(errs) == 0 {
		errs.CheckArea(set.Rows(), len(set.Columns), at+"/columns")
	}
	return errs.Err()
}

func (e *Errors) checkColumn(c *data.Column, at string) {
	e.CheckText(at+"/name", c.Name, data.MaxName)
	e.CheckHeading(at, &data.Heading{Label: c.Label, Unit: c.Unit})
	e.CheckText(at+"/formula", c.Formula, data.MaxFormula)
	if len(c.Cells) > data.MaxRows {
		e.Add(at+"/cells", fmt.Sprintf("there are %d cells", len(c.Cells)), fmt.Sprintf("keep to %d", data.MaxRows))
		return
	}
	e.CheckCells(c.Cells, at)
}

// CheckArea notes a data set of too many cells, blank ones counted.
func (e *Errors) CheckArea(rows, columns int, at string) {
	if rows*columns > data.MaxCells {
		e.Add(at, fmt.Sprintf("%d rows of %d columns are %d cells", rows, columns, rows*columns), fmt.Sprintf("keep to %d", data.MaxCells))
	}
}

// CheckCells notes the first cell that cannot be kept.
func (e *Errors) CheckCells(cells []string, at string) {
	for row, cell := range cells {
		n := len(*e)
		if strings.IndexByte(cell, 0) >= 0 {
			e.Add(at+Pointer("cells", row), "the cell holds a NUL character", "remove it")
		}
		e.CheckText(at+Pointer("cells", row), cell, data.MaxCell)
		if len(*e) > n {
			return
		}
	}
}
