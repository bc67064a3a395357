package means

import (
	"fmt"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/words"
	"grund/internal/working"
)

// twoGroups is a test of a response in two independent groups.
type twoGroups struct {
	write.Estimate
	d             *describe.Description
	data          *cases.Groups
	first, second *cases.Group
	decimals      int  // with which the values were entered
	ofVariances   bool // whether the variances stand beside the standard deviations: the test is about them
}

// readTwoGroups returns the two groups of a problem, those that are picked or all there are.
func readTwoGroups(p *problem.Problem, d *describe.Description, picked []string) (twoGroups, error) {
	g, err := cases.ReadGroups(p, picked)
	if err != nil {
		return twoGroups{}, err
	}
	if err := g.NeedTwo(); err != nil {
		return twoGroups{}, err
	}
	s := twoGroups{d: d, data: g, first: &g.Each[0], second: &g.Each[1], decimals: g.Decimals()}
	s.P, s.Unit = p, g.Response.Unit
	s.first.Letter, s.second.Letter = cases.Letters(s.first.Name, s.second.Name)
	return s, nil
}

// begin starts the solution; test is what textbooks call the test, size is that of a number in the response's unit that shows three
// digits. between stands between the two groups where one of them comes first, and turning says
// what exchanging them does.
func (s *twoGroups) begin(test string, size float64, between, turning string) {
	s.Start(s.d, test, s.data.Given, s.data.Used())
	s.SetScale(size)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.Control(write.OrderControl(s.first, s.second, between, turning))
}

// minus names the difference: "Mole − Quarry".
func (s *twoGroups) minus() string { return s.first.Name + " − " + s.second.Name }

// response names the response inside a sentence.
func (s *twoGroups) response() string { return words.InSentence(s.data.Response.Label) }

// each defines a quantity for each group.
func (s *twoGroups) each(
	q working.Quantity, display working.Display, value func(*cases.Group) float64, expr func(i int, g *cases.Group) formula.Expr,
) {
	for i, g := range []*cases.Group{s.first, s.second} {
		var e formula.Expr
		if expr != nil {
			e = expr(i+1, g)
		}
		one := q
		one.ID, one.Symbol, one.Label = write.Indexed(string(q.ID), i+1), fmt.Sprintf("%s_{%s}", q.Symbol, g.Letter), q.Label+", "+g.Name
		s.Define(one, display, value(g), e)
	}
}

// series returns the values of a group as they stand in formulas.
func (s *twoGroups) series(g *cases.Group) formula.Column {
	return s.Series(seriesRef(g), "x_{i}", s.decimals)
}

func seriesRef(g *cases.Group) string { return "cases/" + working.EscapeRef(g.Name) + "|*/response" }

// indexed is a quantity of a group in a formula.
func indexed(id string, i int) formula.Ref { return formula.Ref(write.Indexed(id, i)) }

// measure defines size, mean and spread of both groups, and writes the step on the data.
func (s *twoGroups) measure() {
	var nExpr, meanExpr, sdExpr func(int, *cases.Group) formula.Expr
	if !s.data.Summary {
		s.GroupCasesTable(write.UsedTitle, write.GroupRows(s.data), write.GroupColumn(s.data), write.ResponseColumn(s.data, s.decimals))
		s.Column(seriesRef(s.first), s.first.Values)
		s.Column(seriesRef(s.second), s.second.Values)
		nExpr = func(_ int, g *cases.Group) formula.Expr { return formula.Count{Column: s.series(g)} }
		meanExpr = func(i int, g *cases.Group) formula.Expr {
			return formula.Quotient{Over: formula.Total{Column: s.series(g)}, Under: indexed("n", i)}
		}
		sdExpr = func(i int, g *cases.Group) formula.Expr {
			return formula.Root{X: formula.Quotient{
				Over:  formula.Deviations{Column: s.series(g), Centre: indexed("mean", i), Power: 2},
				Under: formula.Subtract(indexed("n", i), formula.Num(1)),
			}}
		}
	}
	unit, measured := s.data.Response.Unit, working.Measure
	saysMean, saysSD := "The centre of the group.", "How far the cases of the group typically lie from its mean. "+
		"The divisor is n − 1, because the mean was estimated from the same cases."
	if s.data.Summary && !s.AsksDecimals() {
		measured, saysMean, saysSD = working.Given, "Given in the problem.", "Given in the problem."
	}
	s.each(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many cases the group has."}, working.Whole,
		func(g *cases.Group) float64 { return float64(g.Moments.N) }, nExpr)
	s.each(working.Quantity{ID: "mean", Symbol: `\bar{x}`, Label: "Mean", Unit: unit, Says: saysMean}, measured,
		func(g *cases.Group) float64 { return g.Moments.Mean }, meanExpr)
	s.each(working.Quantity{ID: "sd", Symbol: "s", Label: "Standard deviation", Unit: unit, Says: saysSD}, measured,
		func(g *cases.Group) float64 { return g.Moments.SD }, sdExpr)
	s.groupsTable()
	s.dataStep()
}

func (s *twoGroups) groupsTable() {
	unit := s.data.Response.Unit
	t := &working.Table{ID: "groups", Title: write.GroupsTitle(s.data), Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Numeric: true},
		{ID: "mean", Label: "mean", Unit: unit, Numeric: true}, {ID: "sd", Label: "sd", Unit: unit, Numeric: true},
	}}
	if s.ofVariances {
		t.Columns[3].Symbol = "s_{i}"
		t.Columns = append(t.Columns, working.Column{
			ID: "variance", Label: "variance", Symbol: "s_{i}^{2}", Unit: write.Squared(unit), Numeric: true, Formula: `@{sd}^{2}`,
		})
	}
	var rows []working.Row
	for i, g := range s.data.Each {
		row := working.Row{
			working.NameCell(g.Name), s.QuantityCell(write.Indexed("n", i+1)), s.QuantityCell(write.Indexed("mean", i+1)),
			s.QuantityCell(write.Indexed("sd", i+1)),
		}
		if s.ofVariances {
			row = append(row, s.EstimateCell(g.Moments.SD*g.Moments.SD, working.DefaultDecimals))
		}
		rows = append(rows, row)
	}
	t.SetRows(rows)
	s.Table(t)
}

func (s *twoGroups) dataStep() {
	shares := working.Textf("@{n_1} of **%s** and @{n_2} of **%s**", s.first.Name, s.second.Name)
	counted := write.Counted{
		Given: s.data.Given, Used: s.data.Used(), Others: "with a missing value or in another group",
		All: working.Join(working.Textf(" in all: "), shares), Some: working.Join(working.Textf(": "), shares),
	}
	last := working.Block(working.TableBlock{Table: "cases"})
	if s.data.Summary {
		counted.Others = "of other groups"
		last = working.Note("Only the summary is given, so nothing can be said about single cases or about the shape of the groups.")
	}
	s.Step(working.Data, working.Textf("n = @{n_1}, @{n_2}"), s.Counted(counted), working.TableBlock{Table: "groups"},
		last)
}

// skewness defines how lopsided each group is.
func (s *twoGroups) skewness() {
	s.each(working.Quantity{
		ID: "skewness", Symbol: "g", Label: "Skewness", Says: "How lopsided the group is: 0 when even, positive with a long tail to the right.",
	}, working.Ratio, func(g *cases.Group) float64 { return g.Moments.Skewness(g.Values) },
		func(i int, g *cases.Group) formula.Expr {
			if !(g.Moments.SD > 0) {
				return nil
			}
			return formula.Quotient{
				Over:  formula.Deviations{Column: s.series(g), Centre: indexed("mean", i), Power: 3},
				Under: formula.Product{indexed("n", i), formula.Power{Base: indexed("sd", i), Exponent: 3}},
			}
		})
}

// conditionsOf judges outliers and draws the cases, where there are cases to see, and writes the
// step with the conditions that were judged before.
func (s *twoGroups) conditionsOf(ids []string, more ...working.Block) {
	var blocks []working.Block
	if !s.data.Summary {
		ids = append(ids, "outliers")
		s.Outliers(s.data.Spreads(), s.decimals)
		blocks = s.ScoresBlocks(s.data.Response, s.data.Spreads())
	}
	s.ConditionsStep(ids, append(blocks, more...)...)
}
