package write

import (
	"slices"
	"strconv"

	"grund/internal/data"
	"grund/internal/procedure/cases"
	"grund/internal/words"
	"grund/internal/working"
)

// Counted says how many cases there were and how many of them were used.
type Counted struct {
	One         string // "case", "pair"; "case" where empty
	Given, Used int
	UsedRef     working.Ref // the quantity that is the number used; the plain number where empty
	// All and Some go on, where all cases are used and where some are left out: " in 3 groups".
	All, Some working.Text
	Others    string // why those are not used that nobody left out: "with a missing value"
}

// Counted writes how many cases there were and why others are not used.
func (s *Sheet) Counted(c Counted) working.Block {
	if c.One == "" {
		c.One = "case"
	}
	given := words.Count(c.Given, c.One)
	left := c.Given - c.Used
	if left == 0 {
		return working.Prose{Text: working.Join(working.Textf("%s", given), c.All, working.Textf("."))}
	}
	used := working.Textf("%d", c.Used)
	if c.UsedRef != "" {
		used = working.Text{{Ref: c.UsedRef}}
	}
	return working.Prose{Text: working.Join(working.Textf("%s in all, of which ", given), used, working.Textf(" used"), c.Some,
		working.Textf(". Left out: %s.", cases.LeftOut(s.P.LeaveOut, left, c.Others)))}
}

// LeftOutBlocks says in a sentence of its own how many cases there were in all, where some of
// them are left out.
func (s *Sheet) LeftOutBlocks(given, used int, others string) []working.Block {
	if given == used {
		return nil
	}
	return []working.Block{working.Say("%s in all. Left out: %s.", words.Count(given, "case"),
		cases.LeftOut(s.P.LeaveOut, given-used, others))}
}

// A CaseColumn is a column of the table of cases, with what stands in it.
type CaseColumn struct {
	working.Column
	Cell func(i int) working.Cell
}

// CasesTable adds the table "cases": a row for each case, which its number names.
func (s *Sheet) CasesTable(title string, rows []int, columns ...CaseColumn) {
	s.casesTable(title, []string{"case"}, rows, columns)
}

// GroupCasesTable adds the table "cases" of cases in groups; a column must be named "group".
func (s *Sheet) GroupCasesTable(title string, rows []int, columns ...CaseColumn) {
	s.casesTable(title, []string{"group", "case"}, rows, columns)
}

func (s *Sheet) casesTable(title string, key []string, rows []int, columns []CaseColumn) {
	t := &working.Table{ID: "cases", Title: title, Key: key, Total: len(rows),
		Columns: []working.Column{{ID: "case", Label: "case", Numeric: true}}}
	if v := s.identifier(); v != nil {
		columns = append([]CaseColumn{Named("identifier", v.Title(), func(i int) string { return nameOf(v, rows[i]) })}, columns...)
	}
	for _, c := range columns {
		t.Columns = append(t.Columns, c.Column)
	}
	t.Row = func(i int) working.Row {
		row := make(working.Row, 0, len(columns)+1)
		row = append(row, working.CaseCell(rows[i]))
		for _, c := range columns {
			row = append(row, c.Cell(i))
		}
		return row
	}
	s.Table(t)
}

// identifier returns the variable that names the cases, nil where there is none.
func (s *Sheet) identifier() *data.Variable {
	i := slices.IndexFunc(s.P.Data.Variables, func(v *data.Variable) bool { return v.Kind == data.Identifier })
	if i < 0 {
		return nil
	}
	return s.P.Data.Variables[i]
}

// nameOf returns what an identifier calls a case, "" where it is missing.
func nameOf(v *data.Variable, row int) string {
	if code := v.Codes[row-1]; code >= 0 {
		return v.Levels[code].Name
	}
	return ""
}

// UsedTitle is the title of a table of the cases that are used, as they are.
const UsedTitle = "The cases used"

// Entered is a column of numbers of the data.
func Entered(id string, heading data.Heading, values []float64, decimals int) CaseColumn {
	return CaseColumn{
		working.Column{ID: id, Label: heading.Label, Unit: heading.Unit, Numeric: true},
		func(i int) working.Cell { return working.EnteredCell(values[i], decimals) },
	}
}

// Named is a column of names.
func Named(id, label string, name func(i int) string) CaseColumn {
	return CaseColumn{working.Column{ID: id, Label: label}, func(i int) working.Cell { return working.NameCell(name(i)) }}
}

// GroupColumn is the column of the group of each case, the cases of the groups one after the
// other; GroupRows are the cases.
func GroupColumn(g *cases.Groups) CaseColumn {
	return Named("group", g.Factor, func(i int) string {
		group, _ := g.At(i)
		return group.Name
	})
}

// GroupRows returns the cases of the groups one after the other.
func GroupRows(g *cases.Groups) []int {
	var rows []int
	for i := range g.Each {
		rows = append(rows, g.Each[i].Rows...)
	}
	return rows
}

// ResponseColumn is the column of the response of each case, as GroupColumn has them.
func ResponseColumn(g *cases.Groups, decimals int) CaseColumn {
	return CaseColumn{
		working.Column{ID: "response", Label: g.Response.Label, Unit: g.Response.Unit, Numeric: true},
		func(i int) working.Cell {
			group, at := g.At(i)
			return working.EnteredCell(group.Values[at], decimals)
		},
	}
}

// Indexed returns a quantity that each group has its own of: mean_1.
func Indexed(id string, i int) working.Ref { return working.Ref(id + "_" + strconv.Itoa(i)) }
