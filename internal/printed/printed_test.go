package printed

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/working"
)

// Entries of D. V. Lindley and W. F. Scott, New Cambridge Statistical Tables (1984), tables 4, 10, 8 and 12.
func TestEntries(t *testing.T) {
	for _, test := range []struct {
		table             *Table
		row, column, cell string
	}{
		{Normal(), "0", "0.00", "0.5000"}, {Normal(), "1.6", "0.04", "0.0505"}, {Normal(), "1.9", "0.06", "0.0250"},
		{Normal(), "3", "0.00", "0.0013"},
		{T(), "1", "0.025", "12.706"}, {T(), "10", "0.05", "1.812"}, {T(), "30", "0.005", "2.750"}, {T(), "∞", "0.025", "1.960"},
		{ChiSquare(), "1", "0.05", "3.841"}, {ChiSquare(), "4", "0.01", "13.277"}, {ChiSquare(), "100", "0.05", "124.342"},
		{F(0.05), "10", "3", "3.71"}, {F(0.05), "∞", "1", "3.84"}, {F(0.01), "20", "5", "4.10"}, {F(0.025), "5", "∞", "6.02"},
	} {
		row := slices.IndexFunc(test.table.Rows, func(x float64) bool { return nameOf(x) == test.row })
		column := -1
		for j := range test.table.Columns {
			if test.table.ColumnName(j) == test.column {
				column = j
			}
		}
		require.False(t, row < 0 || column < 0, "%s: %s, %s", test.table.Title, test.row, test.column)
		assert.Equal(t, test.cell, working.FormatNumber(test.table.Cell(row, column), test.table.Decimals), "%s: %s, %s", test.table.Title,
			test.row, test.column)
	}
}

// Every table is monotone in its rows and columns, whatever it skips.
func TestTablesAreMonotone(t *testing.T) {
	for _, table := range []*Table{Normal(), T(), ChiSquare(), F(0.05), F(0.005)} {
		for i := range table.Rows {
			for j := range table.Columns {
				if j > 0 && table.Over != "degrees of freedom above" {
					assert.NotEqual(t, table.Cell(i, j-1), table.Cell(i, j), table.Title)
				}
				if i > 0 && table.Corner == "z" {
					assert.Less(t, table.Cell(i, j), table.Cell(i-1, j))
				}
			}
		}
	}
}
