package write

import "grund/internal/working"

// A Source is a row of the variance table: where a part of the variation comes from.
type Source struct {
	ID, Name         string // as scripts and as people call it
	SS, DF, MS, F, P working.Cell
}

// VarianceTable adds the table "variance". p is found in its own step.
func (s *Sheet) VarianceTable(sources ...Source) {
	t := &working.Table{ID: "variance", Title: "Variance table", Key: []string{"source"}, Columns: []working.Column{
		{ID: "source", Label: "source"}, {ID: "ss", Label: "sum of squares", Numeric: true}, {ID: "df", Label: "df", Numeric: true},
		{ID: "ms", Label: "mean square", Numeric: true}, {ID: "f", Label: "F", Numeric: true},
		{ID: "p", Label: "p", Numeric: true, From: working.PValue},
	}}
	rows := make([]working.Row, len(sources))
	for i, one := range sources {
		rows[i] = working.Row{{Value: one.ID, Shown: one.Name}, one.SS, one.DF, orBlank(one.MS), orBlank(one.F), orBlank(one.P)}
	}
	t.SetRows(rows)
	s.Table(t)
}

// orBlank leaves blank what a row of the variance table has not.
func orBlank(c working.Cell) working.Cell {
	if c.Value == nil {
		return working.BlankCell()
	}
	return c
}
