package procedure

import (
	"fmt"
	"strconv"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/working"
)

// twoGroups is a test of a response in two independent groups.
type twoGroups struct {
	location
	data          *grouped
	first, second *group
	decimals      int // with which the values were entered
}

// readTwoGroups returns the two groups of a problem, those that the option “groups”
// picks or all there are.
func readTwoGroups(p *problem.Problem, options Options) (twoGroups, error) {
	picked, _ := options["groups"].([]string)
	g, err := readGroups(p, picked)
	if err != nil {
		return twoGroups{}, err
	}
	if err := g.needTwo(); err != nil {
		return twoGroups{}, err
	}
	g.letters()
	s := twoGroups{location: location{p: p, unit: g.response.Unit}, data: g, first: &g.groups[0], second: &g.groups[1]}
	s.decimals = max(working.DecimalsOf(s.first.values, maxDecimals), working.DecimalsOf(s.second.values, maxDecimals))
	return s, nil
}

// begin starts the solution; size is that of a number in the response's unit that
// shows three digits.
func (s *twoGroups) begin(d *Description, size float64) {
	used := s.data.used()
	s.Working = working.New(s.p, d.Title, working.Cases{Given: s.data.given, Used: used, LeftOut: s.data.given - used})
	s.SetScale(size)
}

// minus names the difference: "Mole − Quarry".
func (s *twoGroups) minus() string { return s.first.name + " − " + s.second.name }

// samples returns the values of both groups as what conditions are judged by.
func (s *twoGroups) samples() []spread { return []spread{s.first.spread(), s.second.spread()} }

// pair defines a quantity for each group.
func (s *twoGroups) pair(id, symbol, label, says, unit string, display working.Display, value func(*group) float64, expr func(i int, g *group) formula.Expr) {
	for i, g := range []*group{s.first, s.second} {
		var e formula.Expr
		if expr != nil {
			e = expr(i+1, g)
		}
		s.Define(working.Quantity{
			ID: working.Ref(fmt.Sprintf("%s_%d", id, i+1)), Symbol: fmt.Sprintf("%s_{%s}", symbol, g.letter),
			Label: label + ", " + g.name, Unit: unit, Says: says,
		}, display, value(g), e)
	}
}

// series returns the values of a group as they stand in formulas.
func (s *twoGroups) series(g *group) formula.Column {
	return s.Series(seriesRef(g), "x_{i}", s.decimals)
}

func seriesRef(g *group) string { return "cases/" + working.EscapeRef(g.name) + "|*/response" }

func indexed(id string, i int) formula.Ref { return formula.Ref(fmt.Sprintf("%s_%d", id, i)) }

func (s *twoGroups) cases() {
	unit := s.data.response.Unit
	var nExpr, meanExpr, sdExpr func(int, *group) formula.Expr
	if !s.data.summary {
		s.Table(s.casesTable())
		s.Column(seriesRef(s.first), s.first.values)
		s.Column(seriesRef(s.second), s.second.values)
		nExpr = func(_ int, g *group) formula.Expr { return formula.Count{Column: s.series(g)} }
		meanExpr = func(i int, g *group) formula.Expr {
			return formula.Quotient{Over: formula.Total{Column: s.series(g)}, Under: indexed("n", i)}
		}
		sdExpr = func(i int, g *group) formula.Expr {
			return formula.Root{X: formula.Quotient{
				Over:  formula.Deviations{Column: s.series(g), Centre: indexed("mean", i), Power: 2},
				Under: formula.Subtract(indexed("n", i), formula.Num(1)),
			}}
		}
	}
	measured, saysMean, saysSD := working.Measure, "The centre of the group.", "How far the cases of the group typically lie from its mean. The divisor is n − 1, because the mean was estimated from the same cases."
	if s.data.summary && s.p.Decimals == nil {
		measured = working.Given
		saysMean, saysSD = "Given in the problem.", "Given in the problem."
	}
	s.pair("n", "n", "Cases", "How many cases the group has.", "", working.Whole, func(g *group) float64 { return float64(g.moments.N) }, nExpr)
	s.pair("mean", `\bar{x}`, "Mean", saysMean, unit, measured, func(g *group) float64 { return g.moments.Mean }, meanExpr)
	s.pair("sd", "s", "Standard deviation", saysSD, unit, measured, func(g *group) float64 { return g.moments.SD }, sdExpr)
	groups := &working.Table{ID: "groups", Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)), Key: []string{"group"},
		Columns: []working.Column{
			{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Numeric: true},
			{ID: "mean", Label: "mean", Unit: unit, Numeric: true}, {ID: "sd", Label: "sd", Unit: unit, Numeric: true},
		}}
	var rows []working.Row
	for i, g := range []*group{s.first, s.second} {
		row := working.Row{nameCell(g.name)}
		for _, id := range []string{"n", "mean", "sd"} {
			ref := working.Ref(fmt.Sprintf("%s_%d", id, i+1))
			row = append(row, working.Cell{Value: working.Number(s.Value(ref)), Shown: s.Show(ref), Ref: ref})
		}
		rows = append(rows, row)
	}
	groups.SetRows(rows)
	s.Table(groups)

	given, leftOut := s.data.given, s.data.given-s.data.used()
	says := working.Say("%s in all: @{n_1} of **%s** and @{n_2} of **%s**.", count(given, "case"), s.first.name, s.second.name)
	if leftOut > 0 {
		others := "with a missing value or in another group"
		if s.data.summary {
			others = "of other groups"
		}
		says = working.Say("%s in all, of which %d used: @{n_1} of **%s** and @{n_2} of **%s**. Left out: %s.",
			count(given, "case"), given-leftOut, s.first.name, s.second.name, leftOutWords(s.p.LeaveOut, leftOut, others))
	}
	blocks := []working.Block{says, working.TableBlock{Table: "groups"}}
	if s.data.summary {
		blocks = append(blocks, working.Note("Only the summary is given, so nothing can be said about single cases or about the shape of the groups."))
	} else {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, fmt.Sprintf("n = %s, %s", s.Show("n_1"), s.Show("n_2")), blocks...)
}

func (s *twoGroups) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"group", "case"},
		Columns: []working.Column{
			{ID: "case", Label: "case", Numeric: true}, {ID: "group", Label: s.data.factor},
			{ID: "response", Label: s.data.response.Label, Unit: s.data.response.Unit, Numeric: true},
		}}
	t.Total = len(s.first.values) + len(s.second.values)
	t.Row = func(i int) working.Row {
		g := s.first
		if i >= len(g.values) {
			i -= len(g.values)
			g = s.second
		}
		return working.Row{
			{Value: g.cases[i], Shown: strconv.Itoa(g.cases[i])}, nameCell(g.name),
			entered(g.values[i], s.decimals),
		}
	}
	return t
}
