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
	}
	taken := map[int]bool{}
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
		if len(c.Cells) > data.MaxRows {
			errs.Add(at+"/cells", fmt.Sprintf("there are %d cells", len(c.Cells)), fmt.Sprintf("keep to %d", data.MaxRows))
		}
	}
	return errs.Err()
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
		for row, cell := range b.Cells {
			if strings.ContainsRune(cell, 0) {
				errs.Add(at+problem.Pointer("cells", row), "the cell holds a NUL character", "remove it")
			}
		}
		if len(errs) > 0 {
			return errs // the first is enough: the others may come of it
		}
	}
	return nil
}
