package means

import (
	"context"
	"fmt"
	"math"
	"strconv"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// Normality asks whether a sample, or each of several groups, may come from a normal population,
// by W of Shapiro and Wilk.
var Normality = describe.New(describe.Description{
	ID:         "normality",
	Family:     describe.AboutSpread,
	Title:      "Normal shape",
	Asks:       "May the cases come from a normal population?",
	AlsoCalled: []string{"Shapiro–Wilk test", "normality test", "normal probability plot"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles: []describe.Role{cases.ResponseRole, {
		ID: "group", Label: "Group", Says: "the category that tells the groups apart, if there are any", Kinds: []data.Kind{data.Category},
		Max: 1,
	}},
}, describe.None, readNormality, func(assigned describe.Assigned) (why string, ok bool) {
	response := assigned["response"][0]
	if factor := assigned["group"]; len(factor) > 0 {
		return fmt.Sprintf("%s is a number: whether it may be normal is looked at for each level of %s.",
			response.Title(), words.InSentence(factor[0].Title())), true
	}
	return fmt.Sprintf("%s is a number: whether it may come from a normal population is looked at by its normal scores.", response.Title()),
		true
})

// shape is a problem about the shape of one sample or of several groups.
type shape struct {
	write.Sheet
	d        *describe.Description
	data     *cases.Groups
	tests    []stats.Normality // of each group
	worst    int               // the group with the smallest p
	decimals int
}

func readNormality(p *problem.Problem, d *describe.Description, _ *describe.NoOptions) (describe.Task, error) {
	g, err := readShape(p)
	if err != nil {
		return nil, err
	}
	s := &shape{d: d, data: g, decimals: g.Decimals()}
	s.P, s.Unit, s.Family = p, g.Response.Unit, write.Z
	for i := range g.Each {
		if err := s.check(&g.Each[i]); err != nil {
			return nil, err
		}
	}
	normal := s.response() + " comes from a normal population"
	other := s.response() + " does not come from a normal population"
	if s.grouped() {
		normal, other = normal+" in every group", other+" in one group at least"
	}
	s.Direction = write.Undirected(working.Compared{Of: s.data.Names(), By: "w"}, normal, other)
	return s, nil
}

// readShape returns the response by group, or as one group without a name.
func readShape(p *problem.Problem) (*cases.Groups, error) {
	if len(p.Roles["group"]) > 0 {
		g, err := cases.ReadGroups(p, nil)
		if err == nil && len(g.Each) == 0 {
			err = problem.Errors{{Pointer: "/roles/response", Says: "no case can be used", Instead: "give values for both variables"}}
		}
		return g, err
	}
	response := p.Data.Variables.Find(p.Roles["response"][0])
	var values []float64
	var rows []int
	for _, i := range data.Complete(p.LeftOutCases(), response) {
		values, rows = append(values, response.Numbers[i]), append(rows, i+1)
	}
	one := cases.Group{Spread: cases.NewSpread("", values, rows)}
	if len(values) > 0 {
		one.Moments = stats.NewMoments(values)
	}
	return &cases.Groups{
		Each: []cases.Group{one}, Response: data.Heading{Label: response.Title(), Unit: response.Unit}, Given: response.Len(),
	}, nil
}

// check refuses a group for which W does not exist.
func (s *shape) check(g *cases.Group) error {
	of := ""
	if s.grouped() {
		of = " of “" + words.Shorten(g.Name) + "”"
	}
	wrong := func(says, instead string) error {
		return problem.Errors{{Pointer: "/roles/response", Says: says, Instead: instead}}
	}
	switch n := len(g.Values); {
	case n < stats.MinNormality:
		return wrong(fmt.Sprintf("%s%s can be used, and W needs %d or more", words.Count(n, "case"), of, stats.MinNormality), "give more cases")
	case n > stats.MaxNormality:
		return wrong(fmt.Sprintf("there are %d cases%s, and W is known for up to 5,000 only", n, of),
			"take a random sample of the cases; with so many a picture says more than a test")
	case g.Five.Min == g.Five.Max:
		return wrong(fmt.Sprintf("all values%s are equal, so they have no shape", of), "check the data")
	case !(g.Moments.SD > 0) || math.IsInf(g.Moments.SD, 0):
		return wrong("the numbers"+of+" are too close or too far apart in size to calculate with", "write them in another unit")
	}
	return nil
}

// grouped reports whether there are groups.
func (s *shape) grouped() bool { return s.data.Factor != "" }

// response names the response inside a sentence.
func (s *shape) response() string { return words.InSentence(s.data.Response.Label) }

// inEach adds the groups to a sentence about the response.
func (s *shape) inEach() string {
	if !s.grouped() {
		return ""
	}
	return ", each level of " + words.InSentence(s.data.Factor) + " for itself"
}

// Work writes the solution.
func (s *shape) Work(context.Context) (*working.Working, error) {
	for i := range s.data.Each {
		s.tests = append(s.tests, s.data.Each[i].Normality())
		if s.tests[i].P < s.tests[s.worst].P {
			s.worst = i
		}
	}
	s.Start(s.d, "Shapiro–Wilk test", s.data.Given, s.data.Used())
	s.SetDecimals(s.decimals + 1)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.Brief(working.Textf("Look whether **%s** may be normal%s", s.response(), s.inEach()))
	s.QuestionStep(working.Say("The question is about a shape: whether *%s* may come from a normal population%s. "+
		"Many procedures take that for granted when samples are small.", s.response(), s.inEach()))
	s.counts()
	s.look()
	s.UndirectedHypotheses("normal", `\text{normal}`, `\text{not normal}`,
		working.Say("H₀ leaves the mean and the standard deviation open, and H₁ any other shape: the test has no direction."))
	s.test()
	s.conditions()
	s.statistic()
	s.Decide()
	s.conclude()
	return s.Working, nil
}

func (s *shape) counts() {
	blocks := []working.Block{s.Counted(write.Counted{Given: s.data.Given, Used: s.data.Used(), Others: "with a missing value"})}
	if s.grouped() {
		t := &working.Table{ID: "groups", Title: write.GroupsTitle(s.data), Key: []string{"group"}, Columns: []working.Column{
			{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Numeric: true}, {ID: "w", Label: "W", Numeric: true, From: working.Statistic},
			{ID: "p", Label: "p", Numeric: true, From: working.PValue},
		}}
		var rows []working.Row
		for i, g := range s.data.Each {
			rows = append(rows, working.Row{
				working.NameCell(g.Name), working.WholeCell(g.Moments.N), s.StatisticCell(s.tests[i].W, 3), s.PCell(s.tests[i].P),
			})
		}
		t.SetRows(rows)
		s.Table(t)
		blocks = append(blocks, working.TableBlock{Table: "groups"})
	}
	s.ordered()
	s.Step(working.Data, working.Textf("n = %d", s.data.Used()), append(blocks, working.TableBlock{Table: "cases"})...)
}

// ordered adds the cases of each group in ascending order, with what W is made of.
func (s *shape) ordered() {
	var rows []int
	var values, scores, weights, weighted []float64
	for i := range s.data.Each {
		g, one := &s.data.Each[i], s.tests[i]
		for rank, at := range stats.Ascending(g.Values) {
			rows, values, scores = append(rows, g.Rows[at]), append(values, g.Values[at]), append(scores, one.Scores[rank])
			weights, weighted = append(weights, one.Weights[rank]), append(weighted, one.Weights[rank]*(g.Values[at]-g.Moments.Mean))
		}
	}
	calculated := func(id, label, unit string, values []float64, decimals int) write.CaseColumn {
		return write.CaseColumn{
			Column: working.Column{ID: id, Label: label, Unit: unit, Numeric: true},
			Cell:   func(i int) working.Cell { return s.StatisticCell(values[i], decimals) },
		}
	}
	columns := []write.CaseColumn{
		write.Entered("response", s.data.Response, values, s.decimals),
		calculated("score", "normal score", "", scores, 3), calculated("weight", "weight", "", weights, 4),
		calculated("weighted", "weight × distance from the mean", s.Unit, weighted, s.decimals+3),
	}
	const title = "The cases in order"
	if !s.grouped() {
		s.CasesTable(title, rows, columns...)
		return
	}
	s.GroupCasesTable(title, rows, append([]write.CaseColumn{write.GroupColumn(s.data)}, columns...)...)
}

// look draws, for each group, its cases against their normal scores.
func (s *shape) look() {
	const most = 6
	var blocks []working.Block
	for i := range s.data.Each[:min(most, len(s.data.Each))] {
		id := "scores"
		if i > 0 {
			id += "_" + strconv.Itoa(i+1)
		}
		g := &s.data.Each[i]
		title := s.data.Response.Label
		if g.Name != "" {
			title += ", " + g.Name
		}
		f := write.ScoresFigure(id, title, s.Unit, g.Spread)
		f.Small = len(s.data.Each) > 1
		s.Figure(f)
		blocks = append(blocks, working.FigureBlock{Figure: id})
	}
	if more := len(s.data.Each) - most; more > 0 {
		blocks = append(blocks, working.Say("The first %d groups are drawn; %s more.", most, words.Count(more, "group")))
	}
	blocks = append(blocks,
		working.Say("Each dot is a case: upward its value, to the right where a case of its rank would lie in a normal sample, "+
			"in standard deviations from the middle. A normal sample follows the line, but for chance."),
		working.Note("A bend to one side is a lopsided shape; ends that leave the line to both sides are long tails; "+
			"a single dot far from the line is an outlier."))
	s.Step(working.Look, nil, blocks...)
}

func (s *shape) test() {
	one, g := s.tests[s.worst], &s.data.Each[s.worst]
	of, rows := "", "*"
	if s.grouped() {
		of, rows = ", "+g.Name, working.EscapeRef(g.Name)+"|*"
	}
	weighted := make([]float64, len(g.Values))
	for rank, at := range stats.Ascending(g.Values) {
		weighted[rank] = one.Weights[rank] * (g.Values[at] - g.Moments.Mean)
	}
	values, products := "cases/"+rows+"/response", "cases/"+rows+"/weighted"
	s.Column(values, stats.Sorted(g.Values))
	s.Column(products, weighted)
	series := s.Series(values, "x_{i}", s.decimals)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases" + of, Says: "How many are used."},
		working.Whole, float64(g.Moments.N), formula.Count{Column: series})
	s.Define(working.Quantity{ID: "mean", Symbol: `\bar{x}`, Label: "Mean" + of, Unit: s.Unit,
		Says: "The sum of the cases over their number."},
		working.Measure, g.Moments.Mean, formula.Quotient{Over: formula.Total{Column: series}, Under: formula.Ref("n")})
	s.Define(working.Quantity{
		ID: "w", Symbol: "W", Label: "Test statistic" + of,
		Says: "The squared correlation of the ordered cases with the weights that a normal sample would have; at most 1.",
	}, working.Ratio, one.W, formula.Quotient{
		Over:  formula.Power{Base: formula.Total{Column: s.Calculated(products, `a_{i}(x_{i} - \bar{x})`, s.decimals+3)}, Exponent: 2},
		Under: formula.Deviations{Column: series, Centre: "mean", Power: 2},
	})
	var tail formula.Expr
	if !math.IsNaN(one.Z) {
		s.Define(working.Quantity{
			ID: "z", Symbol: "z", Label: "Normal score of W" + of,
			Says: "Royston's approximation: 1 − W, transformed so that it follows the standard normal curve if H₀ is true.",
		}, working.Ratio, one.Z, nil)
		tail = formula.Tail{Of: s.Family, X: formula.Ref("z")}
	}
	s.Define(working.Quantity{ID: "p", Symbol: "p", Label: "p-value" + of,
		Says: "If H₀ is true: the probability of a W this small or smaller."},
		working.P, one.P, tail)
	s.DecideByP("p", "w", "a sample that follows the line no better than this one")
	if tests := len(s.tests); tests > 1 && one.P <= s.P.Alpha {
		s.Note(working.DecisionStep, fmt.Sprintf("Each of %d groups is tested at alpha; with so many tests one that rejects is "+
			"more likely than alpha says, even if all are normal.", tests))
	}
}

// tailWords says to which side the group that decides has its long tail, if to one.
func (s *shape) tailWords() string {
	g := &s.data.Each[s.worst]
	of := ""
	if s.grouped() {
		of = " of " + g.Name
	}
	switch skewness := g.Moments.Skewness(g.Values); {
	case skewness > 0.5:
		return " The picture" + of + " shows why: a long tail of large values."
	case skewness < -0.5:
		return " The picture" + of + " shows why: a long tail of small values."
	}
	return ""
}

func (s *shape) conditions() {
	s.TakenAsMet(write.Alone)
	smallest, largest := s.data.Smallest(), s.data.Largest()
	switch {
	case smallest < 10:
		s.Condition("sample-size", working.Doubtful, working.Textf("With %s the test finds only gross departures: not rejecting says very "+
			"little.",
			words.Count(smallest, "case")))
	case largest > 300:
		s.Condition("sample-size", working.Met, working.Textf("With %s the test also finds departures that do no harm to a mean. "+
			"Look at the picture before the p-value.", words.Count(largest, "case")))
	default:
		s.Condition("sample-size", working.Met, working.Textf("There are enough cases for a marked departure to be seen."))
	}
	s.ConditionsStep([]string{"independence", "sample-size"})
}

// statistic writes the steps on W and its p-value.
func (s *shape) statistic() {
	var blocks []working.Block
	if s.grouped() {
		blocks = append(blocks, working.Say("The smallest p-value belongs to **%s**, and decides.", s.data.Each[s.worst].Name))
	}
	s.Step(working.Statistic, working.Textf("W = @{w}"), append(blocks, working.Values{Quantities: []working.Ref{"w"}},
		working.Say("W compares the picture with its line: it is the squared correlation of the ordered cases with what a normal "+
			"sample of this size would give. On the line it is 1; the more the dots bend away, the smaller."),
		working.Note("Nobody computes W by hand: its weights come from a table or an approximation (Royston 1995)."))...)
	s.PValueStep()
	if s.Has("z") {
		s.AddTo(working.PValue, working.Note("W is turned into a normal score, z = @{z}, and p is the area above it. "+
			"The table of critical values that some books print gives the same decision, but for rounding."))
	}
}

func (s *shape) conclude() {
	used := words.Count(s.data.Used(), "case")
	if s.Rejected() {
		s.ConclusionStep(write.Conclusion{Used: s.data.Used(), More: working.Textf("%s", s.tailWords())})
	} else {
		s.ConcludeOtherwise("not shown", working.Textf("At α = @{alpha} the data (%s) do not speak against a normal shape. This is not "+
			"evidence that %s.",
			used, s.Direction.H0()))
	}
	report := working.Textf("The shape of %s was compared with a normal one, *W* = @{w}, *p* %s@{p}.", s.response(), s.Relation("p"))
	if s.grouped() {
		report = working.Textf("The shape of %s was compared with a normal one in %s; the farthest from it was %s, *W* = @{w}, *p* %s@{p}.",
			s.response(), words.Count(len(s.data.Each), "group"), s.data.Each[s.worst].Name, s.Relation("p"))
	}
	s.ReportStep(report, "W first, then p; with few cases the number of cases too.")
	s.Step(working.FollowUp, nil,
		working.Warn("A test of shape is no gate before a test of means: with few cases it finds little, with many it finds what does no harm. "+
			"What matters for a mean is whether the shape is strongly lopsided or has outliers, and how many cases there are."),
		working.Say("If the shape is doubtful and the cases are few, a procedure by ranks does without it."))
}
