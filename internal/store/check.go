package store

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/words"
)

// checkSet looks for what keeps a data set from being kept. at points to the set.
func checkSet(set *data.Set, at string) error {
	var errs problem.Errors
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
	errs.CheckText(at+"/about", set.About, problem.MaxText)
	errs.CheckHeading(at+"/response", &set.Response)
	errs.CheckHeading(at+"/group", &set.Group)
	taken := map[int]bool{}
	derived := 0
	for i, c := range set.Columns {
		at := at + problem.Pointer("columns", i)
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
		checkColumn(c, at, &errs)
		if c.Derived() {
			derived++
		}
	}
	if derived > data.MaxDerived {
		errs.Add(at+"/columns", fmt.Sprintf("%d columns are derived", derived), fmt.Sprintf("keep to %d", data.MaxDerived))
	}
	if len(errs) == 0 {
		checkArea(set.Rows(), len(set.Columns), at+"/columns", &errs)
	}
	return errs.Err()
}

func checkColumn(c *data.Column, at string, errs *problem.Errors) {
	errs.CheckText(at+"/name", c.Name, data.MaxName)
	errs.CheckHeading(at, &data.Heading{Label: c.Label, Unit: c.Unit})
	errs.CheckText(at+"/formula", c.Formula, data.MaxFormula)
	if len(c.Cells) > data.MaxRows {
		errs.Add(at+"/cells", fmt.Sprintf("there are %d cells", len(c.Cells)), fmt.Sprintf("keep to %d", data.MaxRows))
		return
	}
	checkCells(c.Cells, at, errs)
}

// checkArea notes a data set of too many cells, blank ones counted.
func checkArea(rows, columns int, at string, errs *problem.Errors) {
	if rows*columns > data.MaxCells {
		errs.Add(at, fmt.Sprintf("%d rows of %d columns are %d cells", rows, columns, rows*columns), fmt.Sprintf("keep to %d", data.MaxCells))
	}
}

// checkCells notes the first cell that cannot be kept.
func checkCells(cells []string, at string, errs *problem.Errors) {
	for row, cell := range cells {
		n := len(*errs)
		if strings.IndexByte(cell, 0) >= 0 {
			errs.Add(at+problem.Pointer("cells", row), "the cell holds a NUL character", "remove it")
		}
		errs.CheckText(at+problem.Pointer("cells", row), cell, data.MaxCell)
		if len(*errs) > n {
			return
		}
	}
}

// check looks for what keeps the change from being kept: it is checked before anything is stored,
// as cells that stand where no row is, or in no column, would be read as something else later.
func (c *DataChange) check() error {
	if err := checkSet(c.Set, "/set"); err != nil {
		return err
	}
	var errs problem.Errors
	if c.Rows < 0 || c.Rows > data.MaxRows {
		errs.Add("/rows", fmt.Sprintf("the number of rows is %d", c.Rows), fmt.Sprintf("it must be from 0 to %d", data.MaxRows))
		return errs
	}
	if checkArea(c.Rows, len(c.Set.Columns), "/rows", &errs); len(errs) > 0 {
		return errs
	}
	entered := map[int]bool{}
	for _, column := range c.Set.Columns {
		entered[column.Key] = !column.Derived()
	}
	blocks := (c.Rows + BlockRows - 1) / BlockRows
	taken := map[[2]int]bool{}
	for i, b := range c.Blocks {
		at := problem.Pointer("blocks", i)
		isEntered, known := entered[b.Column]
		switch {
		case !known:
			errs.Add(at+"/column", fmt.Sprintf("no column has the key %d", b.Column), "name a column by its key")
		case !isEntered:
			errs.Add(at+"/column", fmt.Sprintf("the column with the key %d is derived", b.Column), "send no cells of it")
		case b.Block < 0 || b.Block >= blocks:
			errs.Add(at+"/block", fmt.Sprintf("%d rows have no block %d", c.Rows, b.Block), "count blocks from 0, within the rows")
		case taken[[2]int{b.Column, b.Block}]:
			errs.Add(at, "the block is given twice", "give it once")
		case len(b.Cells) != min(BlockRows, c.Rows-b.Block*BlockRows):
			errs.Add(at+"/cells", fmt.Sprintf("the block has %d cells", len(b.Cells)),
				fmt.Sprintf("give %d, blank ones as empty text", min(BlockRows, c.Rows-b.Block*BlockRows)))
		}
		taken[[2]int{b.Column, b.Block}] = true
		checkCells(b.Cells, at, &errs)
		if len(errs) > 0 {
			return errs // the first is enough: the others may come of it
		}
	}
	return nil
}
