package look

import (
	"fmt"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/words"
	"grund/internal/working"
)

// present returns the levels that occur among the cases, and their places in that
// list by code.
func present(v *data.Variable, cases []int) (levels []data.Level, place map[int]int) {
	counts := make([]int, len(v.Levels))
	for _, i := range cases {
		counts[v.Codes[i]]++
	}
	place = map[int]int{}
	for code, count := range counts {
		if count > 0 || v.Listed {
			place[code] = len(levels)
			levels = append(levels, v.Levels[code])
		}
	}
	return levels, place
}

func tooMany(v *data.Variable, levels int) error {
	if levels <= mostGroups {
		return nil
	}
	return problem.Errors{{Pointer: "/variables",
		Says:    fmt.Sprintf("“%s” has %d levels, too many to be shown side by side", words.Shorten(v.Title()), levels),
		Instead: "recode it into fewer, or say that it is an identifier"}}
}

func percent(part, whole int) float64 {
	if whole == 0 {
		return 0
	}
	return 100 * float64(part) / float64(whole)
}

func share(x float64) working.Cell { return working.EnteredCell(x, 1) }

func (l *Look) category(v *data.Variable, cases []int, r problem.Picture) error {
	if _, err := l.choose(r, working.Bars); err != nil {
		return err
	}
	levels, place := present(v, cases)
	if err := tooMany(v, len(levels)); err != nil {
		return err
	}
	l.Title = v.Title()
	counts := make([]int, len(levels))
	for _, i := range cases {
		counts[place[v.Codes[i]]]++
	}
	t := &working.Table{ID: "frequencies", Title: "Frequencies of " + words.InSentence(v.Title()), Key: []string{"level"},
		Columns: []working.Column{
			{ID: "level", Label: v.Title()}, {ID: "count", Label: "count", Numeric: true},
			{ID: "percent", Label: "percent of all", Unit: "%", Numeric: true}}}
	var rows []working.Row
	for i, level := range levels {
		rows = append(rows, working.Row{working.NameCell(level.Name), working.WholeCell(counts[i]), share(percent(counts[i], len(cases)))})
	}
	rows = append(rows, working.Row{working.NameCell("all"), working.WholeCell(len(cases)), share(100)})
	t.SetRows(rows)
	l.Tables = append(l.Tables, t)
	if r.Share == problem.OfRow || r.Share == problem.OfCol {
		r.Share = problem.OfTotal
	}
	l.bars(nil, levels, []data.Level{{}}, [][]int{counts}, r)
	return nil
}

func (l *Look) crossed(row, column *data.Variable, cases []int, r problem.Picture) error {
	if _, err := l.choose(r, working.Bars); err != nil {
		return err
	}
	rows, rowPlace := present(row, cases)
	columns, columnPlace := present(column, cases)
	if err := tooMany(row, len(rows)); err != nil {
		return err
	}
	if err := tooMany(column, len(columns)); err != nil {
		return err
	}
	l.Title = row.Title() + " by " + words.InSentence(column.Title())
	counts := make([][]int, len(columns)) // by column, then row
	for j := range counts {
		counts[j] = make([]int, len(rows))
	}
	for _, i := range cases {
		counts[columnPlace[column.Codes[i]]][rowPlace[row.Codes[i]]]++
	}
	l.Tables = append(l.Tables, crossTable(row, column, rows, columns, counts, r.Share))
	l.bars(column, rows, columns, counts, r)
	return nil
}

// crossTable is a table of counts, or of percentages of the margin that share names.
func crossTable(row, column *data.Variable, rows, columns []data.Level, counts [][]int, by problem.Share) *working.Table {
	title := map[problem.Share]string{problem.NoShare: "Counts", problem.OfTotal: "Percent of all cases",
		problem.OfRow: "Percent of each level of " + words.InSentence(row.Title()), problem.OfCol: "Percent of each level of " +
			words.InSentence(column.Title())}[by]
	t := &working.Table{ID: "crossed", Title: title + ": " + words.InSentence(row.Title()) + " by " + words.InSentence(column.Title()),
		Key: []string{"level"}, Columns: []working.Column{{ID: "level", Label: row.Title()}}}
	for j, level := range columns {
		t.Columns = append(t.Columns, working.Column{ID: fmt.Sprintf("column_%d", j+1), Label: level.Name, Numeric: true})
	}
	t.Columns = append(t.Columns, working.Column{ID: "all", Label: "all", Numeric: true})
	rowSums, columnSums, total := margins(counts, len(rows))
	cell := func(n, inRow, inColumn int) working.Cell {
		switch by {
		case problem.OfTotal:
			return share(percent(n, total))
		case problem.OfRow:
			return share(percent(n, inRow))
		case problem.OfCol:
			return share(percent(n, inColumn))
		}
		return working.WholeCell(n)
	}
	var out []working.Row
	for i, level := range rows {
		line := working.Row{working.NameCell(level.Name)}
		for j := range columns {
			line = append(line, cell(counts[j][i], rowSums[i], columnSums[j]))
		}
		out = append(out, append(line, cell(rowSums[i], rowSums[i], total)))
	}
	last := working.Row{working.NameCell("all")}
	for j := range columns {
		last = append(last, cell(columnSums[j], total, columnSums[j]))
	}
	t.SetRows(append(out, append(last, cell(total, total, total))))
	return t
}

func margins(counts [][]int, rows int) (rowSums, columnSums []int, total int) {
	rowSums, columnSums = make([]int, rows), make([]int, len(counts))
	for j, column := range counts {
		for i, n := range column {
			rowSums[i] += n
			columnSums[j] += n
			total += n
		}
	}
	return rowSums, columnSums, total
}

// bars draws a row for each level of the first variable, with a bar for each level
// of the second, side by side or on each other.
func (l *Look) bars(column *data.Variable, rows, columns []data.Level, counts [][]int, r problem.Picture) {
	rowSums, columnSums, total := margins(counts, len(rows))
	f := &working.Figure{ID: "look", Form: working.Bars, Title: "Bars of " + words.InSentence(l.Title), Marks: []working.Mark{},
		Handles: []working.Handle{}, Axis: working.Axis{Label: "cases", Min: 0}}
	if column != nil {
		for _, level := range columns {
			f.Series = append(f.Series, level.Name)
		}
	}
	if r.Share != problem.NoShare {
		f.Axis.Label, f.Axis.Unit = "percent", "%"
	}
	most := 0.0
	var says []string
	for i, level := range rows {
		from := 0.0
		var parts []string
		for j := range columns {
			length := float64(counts[j][i])
			switch r.Share {
			case problem.OfTotal:
				length = percent(counts[j][i], total)
			case problem.OfRow:
				length = percent(counts[j][i], rowSums[i])
			case problem.OfCol:
				length = percent(counts[j][i], columnSums[j])
			}
			start := 0.0
			if r.Stack {
				start = from
			}
			f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Label: level.Name, Row: i, Part: j,
				X: working.Positions(start, start+length)})
			from += length
			most = max(most, start+length)
			shown := working.FormatNumber(length, map[bool]int{true: 0, false: 1}[r.Share == problem.NoShare]) + f.Axis.Unit
			if column != nil {
				shown = columns[j].Name + " " + shown
			}
			parts = append(parts, shown)
		}
		says = append(says, level.Name+": "+strings.Join(parts, ", "))
	}
	f.Axis.Max = working.Number(most)
	f.Says = strings.Join(says, ". ") + "."
	l.Figure = f
	reading := map[problem.Share]string{
		problem.NoShare: "The length of a bar is the number of cases.",
		problem.OfTotal: "The length of a bar is its share of all cases.",
		problem.OfRow:   "The bars of one row add up to 100 %.",
	}[r.Share]
	if r.Share == problem.OfCol && column != nil {
		reading = fmt.Sprintf("The bars of one level of %s, across all rows, add up to 100 %%.", words.InSentence(column.Title()))
	}
	l.Reading = []string{reading}
}
