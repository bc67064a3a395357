package store

import (
	"fmt"

	"grund/internal/data"
	"grund/internal/problem"
)

// check looks for what keeps the change from being kept: it is checked before anything is stored,
// as cells that stand where no row is, or in no column, would be read as something else later.
func (c *DataChange) check() error {
	if err := problem.CheckSet(c.Set, "/set"); err != nil {
		return err
	}
	var errs problem.Errors
	if c.Rows < 0 || c.Rows > data.MaxRows {
		errs.Add("/rows", fmt.Sprintf("the number of rows is %d", c.Rows), fmt.Sprintf("it must be from 0 to %d", data.MaxRows))
		return errs
	}
	if errs.CheckArea(c.Rows, len(c.Set.Columns), "/rows"); len(errs) > 0 {
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
		errs.CheckCells(b.Cells, at)
		if len(errs) > 0 {
			return errs // the first is enough: the others may come of it
		}
	}
	return nil
}
