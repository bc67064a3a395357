package tables

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// withinOption binds the proportions that the counts of each row are compared with.
func withinOption(to *[]float64) describe.Option {
	return describe.Proportions(to, describe.Option{
		ID: "within", Label: "Proportions within a row",
		Says: "What each row is compared with for itself, after the test: equal, or one number for each column; they are divided by their sum.",
	})
}

// readWithin takes the proportions that each row is compared with.
func (s *association) readWithin(given []float64) (err error) {
	s.within, err = cases.NewWeights(given, s.column.levels, "column", "within")
	return err
}

// withinBlocks asks of each row for itself whether its levels are as frequent as stated, and which are not:
// where the test rejects, or the problem asks for it.
func (s *association) withinBlocks(ctx context.Context) ([]working.Block, error) {
	if _, asked := s.P.Options["within"]; !asked && !s.Rejected() {
		return nil, nil
	}
	cells, err := s.withinCells(ctx)
	return append(s.withinRows(), cells...), err
}

// withinRows compares the counts of each row with the same proportions, with p-values corrected
// for the number of rows.
func (s *association) withinRows() []working.Block {
	tests, least := make([]aTest, len(s.row.levels)), make([]float64, len(s.row.levels))
	var small []string
	for i, row := range s.counts {
		f := stats.CompareFit(row, s.within.Each)
		tests[i], least[i] = aTest{chiSquare: f.ChiSquare, df: f.DF}, slices.Min(f.Expected)
		if least[i] < 5 {
			small = append(small, s.row.levels[i])
		}
	}
	differ := s.testsTable("within_rows", "Within each row", corrected(tests),
		[]working.Column{{ID: "least_expected", Label: "least expected", Numeric: true}},
		func(i int) []working.Cell { return []working.Cell{s.ExpectedCell(least[i], 1)} })
	says := "no row by itself departs from that"
	if differ != nil {
		says = words.Quoted(differ, "and") + " " + verb("depart", differ) + " from that"
	}
	blocks := []working.Block{
		working.Say("**Within each row**: are the levels of *%s* %s? At α = @{alpha}, corrected for the number of rows, %s.",
			s.column.name(), s.within.As("equally frequent"), says),
		working.TableBlock{Table: "within_rows"},
	}
	if small != nil {
		blocks = append(blocks, working.Note("Fewer than 5 are expected in a cell of %s: there p is rough.", words.Quoted(small, "and")))
	}
	return blocks
}

// withinCells tests each cell against its stated share of its row by the binomial distribution, with
// p-values corrected for the number of tests. Of two columns the one is what the other leaves, and a row
// is one test.
func (s *association) withinCells(ctx context.Context) ([]working.Block, error) {
	total := 0.0
	for _, w := range s.within.Each {
		total += w
	}
	columns := len(s.column.levels)
	var ps []float64
	for i := range s.counts {
		for j, o := range s.counts[i] {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			if columns != 2 || j == 0 {
				ps = append(ps, stats.BinomialExact(o, s.table.Rows[i], s.within.Each[j]/total))
			}
		}
	}
	corrected := stats.Holm(ps)
	t := &working.Table{ID: "within", Title: "Each level within its row", Key: []string{"row", "column"}, Columns: []working.Column{
		{ID: "row", Label: s.row.title}, {ID: "column", Label: s.column.title}, {ID: "observed", Label: "observed", Numeric: true},
		{ID: "share", Label: "share of the row", Numeric: true}, {ID: "expected", Label: "expected", Numeric: true},
		{ID: "p", Label: "p", Numeric: true}, {ID: "p_holm", Label: "p (Holm)", Numeric: true},
	}}
	var rows []working.Row
	var departs []string
	for i, row := range s.counts {
		n := float64(s.table.Rows[i])
		for j, o := range row {
			at := i*columns + j
			if columns == 2 {
				at = i
			}
			share := s.within.Each[j] / total
			expected := n * share
			rows = append(rows, working.Row{
				working.NameCell(s.row.levels[i]), working.NameCell(s.column.levels[j]), working.WholeCell(o), s.EstimateCell(float64(o)/n, 3),
				s.ExpectedCell(expected, 1), s.PCell(ps[at]), s.PCell(corrected[at]),
			})
			if corrected[at] <= s.P.Alpha && float64(o) != expected {
				departs = append(departs, fmt.Sprintf("%s “%s” among “%s”: %d against %s", moreOrFewer(float64(o)-expected), s.column.levels[j],
					s.row.levels[i], o, s.ExpectedCell(expected, 1).Shown))
			}
		}
	}
	t.SetRows(rows)
	s.Table(t)
	said := working.Say("**Which levels make the difference within a row?** None by itself, at α = @{alpha} corrected for their number.")
	const most = 6
	if departs != nil {
		more := ""
		if n := len(departs) - most; n > 0 {
			departs, more = departs[:most], fmt.Sprintf("; and %d more", n)
		}
		said = working.Say("**Which levels make the difference within a row?** There are %s%s.", strings.Join(departs, "; "), more)
	}
	note := "p is exact: what the binomial distribution of a cell in its row gives to counts that are not more likely than the one observed. "
	if columns == 2 {
		note += "Of two levels the one is what the other leaves, so that a row is one test; the p-values are corrected for the number of " +
			"rows (Holm)."
	} else {
		note += "The p-values are corrected for looking at all cells (Holm)."
	}
	return []working.Block{said, working.TableBlock{Table: "within"}, working.Note("%s", note)}, nil
}
