package procedure

import (
	"fmt"
	"math"
	"strconv"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// normality asks whether a sample, or each of several groups, may come from a normal
// population, by W of Shapiro and Wilk.
var normality = &Procedure{
	Description: Description{
		ID:         "normality",
		Title:      "Normal shape",
		Asks:       "May the cases come from a normal population?",
		AlsoCalled: []string{"Shapiro–Wilk test", "normality test", "normal probability plot"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "group", Label: "Group", Says: "the category that tells the groups apart, if there are any", Kinds: []data.Kind{data.Category}, Max: 1},
		},
	},
	Work: workNormality,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response := assigned["response"][0]
		if factor := assigned["group"]; len(factor) > 0 {
			return fmt.Sprintf("%s is a number: whether it may be normal is looked at for each level of %s.", response.Title(), inSentence(factor[0].Title())), true
		}
		return fmt.Sprintf("%s is a number: whether it may come from a normal population is looked at by its normal scores.", response.Title()), true
	},
}

// shape is the problem while it is worked.
type shape struct {
	location
	data     *grouped
	tests    []stats.Normality // of each group
	worst    int               // the group with the smallest p
	decimals int
}

func workNormality(p *problem.Problem, d *Description, _ Options) (*working.Working, error) {
	s := &shape{}
	var err error
	if s.data, err = readShape(p); err != nil {
		return nil, err
	}
	for i := range s.data.groups {
		g := &s.data.groups[i]
		of := ""
		if s.data.factor != "" {
			of = " of “" + problem.Shorten(g.name) + "”"
		}
		switch n := len(g.values); {
		case n < stats.MinNormality:
			return nil, problem.Errors{{Pointer: "/roles/response", Says: fmt.Sprintf("%s%s can be used, and W needs %d or more", upperFirst(count(n, "case")), of, stats.MinNormality), Instead: "give more cases"}}
		case n > stats.MaxNormality:
			return nil, problem.Errors{{Pointer: "/roles/response", Says: fmt.Sprintf("there are %d cases%s, and W is known for up to 5,000 only", n, of), Instead: "take a random sample of the cases; with so many a picture says more than a test"}}
		case g.five.Min == g.five.Max:
			return nil, problem.Errors{{Pointer: "/roles/response", Says: fmt.Sprintf("all values%s are equal, so they have no shape", of), Instead: "check the data"}}
		case !(g.moments.SD > 0) || math.IsInf(g.moments.SD, 0):
			return nil, problem.Errors{{Pointer: "/roles/response", Says: "the numbers" + of + " are too close or too far apart in size to calculate with", Instead: "write them in another unit"}}
		}
		s.tests = append(s.tests, stats.NewNormality(stats.Sorted(g.values)))
		if s.tests[i].P < s.tests[s.worst].P {
			s.worst = i
		}
		s.decimals = max(s.decimals, working.DecimalsOf(g.values, maxDecimals))
	}
	s.location = location{p: p, unit: s.data.response.Unit, family: zFamily}
	used := s.data.used()
	s.Working = working.New(p, d.Title, working.Cases{Given: s.data.given, Used: used, LeftOut: s.data.given - used})
	s.SetDecimals(s.decimals + 1)
	s.Control(working.AlphaControl(p.Alpha))
	s.Brief(working.Textf("Look whether **%s** may be normal%s", inSentence(s.data.response.Label), s.inEach()))
	s.DefineAlpha()
	s.Step(working.Question, "α = "+s.Show("alpha"), append(append(s.claimBlocks(),
		working.Say("The question is about a shape: whether *%s* may come from a normal population%s. Many procedures take that for granted when samples are small.", inSentence(s.data.response.Label), s.inEach())), alphaBlocks()...)...).Opens = "alpha"
	s.counts()
	s.look()
	s.hypothesesStep("normal", working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \text{normal}`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \text{not normal}`, Words: s.alternativeWords()},
	}, working.Say("H₀ leaves the mean and the standard deviation open, and H₁ any other shape: the test has no direction."))
	s.test()
	s.steps()
	return s.Working, nil
}

// readShape returns the response by group, or as one group without a name.
func readShape(p *problem.Problem) (*grouped, error) {
	if len(p.Roles["group"]) > 0 {
		g, err := readGroups(p, nil)
		if err == nil && len(g.groups) == 0 {
			err = problem.Errors{{Pointer: "/roles/response", Says: "no case can be used", Instead: "give values for both variables"}}
		}
		return g, err
	}
	response := p.Data.Variables.Find(p.Roles["response"][0])
	one := group{}
	for _, i := range data.Complete(p.LeftOutCases(), response) {
		one.values, one.cases = append(one.values, response.Numbers[i]), append(one.cases, i+1)
	}
	if len(one.values) > 0 {
		one.moments, one.five = stats.NewMoments(one.values), stats.NewFiveNumbers(stats.Sorted(one.values))
	}
	return &grouped{groups: []group{one}, response: data.Heading{Label: response.Title(), Unit: response.Unit}, given: response.Len()}, nil
}

// inEach adds the groups to a sentence about the response.
func (s *shape) inEach() string {
	if s.data.factor == "" {
		return ""
	}
	return ", each level of " + inSentence(s.data.factor) + " for itself"
}

func (s *shape) nullWords() string {
	if s.data.factor == "" {
		return inSentence(s.data.response.Label) + " comes from a normal population"
	}
	return inSentence(s.data.response.Label) + " comes from a normal population in every group"
}

func (s *shape) alternativeWords() string {
	if s.data.factor == "" {
		return inSentence(s.data.response.Label) + " does not come from a normal population"
	}
	return inSentence(s.data.response.Label) + " does not come from a normal population in one group at least"
}

func (s *shape) counts() {
	used := s.data.used()
	says := working.Say("%s.", upperFirst(count(s.data.given, "case")))
	if left := s.data.given - used; left > 0 {
		says = working.Say("%s in all, of which %d used. Left out: %s.", upperFirst(count(s.data.given, "case")), used, leftOutWords(s.p.LeaveOut, left, "with a missing value"))
	}
	blocks := []working.Block{says}
	if s.data.factor != "" {
		t := &working.Table{ID: "groups", Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)), Key: []string{"group"}, Columns: []working.Column{
			{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Numeric: true}, {ID: "w", Label: "W", Numeric: true}, {ID: "p", Label: "p", Numeric: true}}}
		var rows []working.Row
		for i, g := range s.data.groups {
			one := s.tests[i]
			rows = append(rows, working.Row{nameCell(g.name), wholeCell(g.moments.N),
				s.number(one.W, 3), s.pCell(one.P)})
		}
		t.SetRows(rows)
		s.Table(t)
		blocks = append(blocks, working.TableBlock{Table: "groups"})
	}
	s.Table(s.ranked())
	blocks = append(blocks, working.TableBlock{Table: "cases"})
	s.Step(working.Data, fmt.Sprintf("n = %d", used), blocks...)
}

// ranked returns the cases of each group in ascending order, with what W is made of.
func (s *shape) ranked() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases in order", Key: []string{"case"}, Columns: []working.Column{{ID: "case", Label: "case", Numeric: true}}}
	if s.data.factor != "" {
		t.Key = []string{"group", "case"}
		t.Columns = append(t.Columns, working.Column{ID: "group", Label: s.data.factor})
	}
	t.Columns = append(t.Columns, working.Column{ID: "response", Label: s.data.response.Label, Unit: s.unit, Numeric: true},
		working.Column{ID: "score", Label: "normal score", Numeric: true}, working.Column{ID: "weight", Label: "weight", Numeric: true},
		working.Column{ID: "weighted", Label: "weight × distance from the mean", Unit: s.unit, Numeric: true})
	var rows []working.Row
	for i := range s.data.groups {
		g, one := &s.data.groups[i], s.tests[i]
		for rank, at := range stats.Ascending(g.values) {
			row := working.Row{{Value: g.cases[at], Shown: strconv.Itoa(g.cases[at])}}
			if s.data.factor != "" {
				row = append(row, nameCell(g.name))
			}
			x := g.values[at]
			rows = append(rows, append(row, entered(x, s.decimals), s.number(one.Scores[rank], 3), s.number(one.Weights[rank], 4), s.number(one.Weights[rank]*(x-g.moments.Mean), s.decimals+3)))
		}
	}
	t.SetRows(rows)
	return t
}

// look draws, for each group, its cases against their normal scores.
func (s *shape) look() {
	const most = 6
	var blocks []working.Block
	for i := range s.data.groups[:min(most, len(s.data.groups))] {
		id := "scores"
		if i > 0 {
			id += "_" + strconv.Itoa(i+1)
		}
		g := &s.data.groups[i]
		title := s.data.response.Label
		if g.name != "" {
			title += ", " + g.name
		}
		f := scores(id, title, s.unit, g.values, g.cases, s.tests[i])
		f.Small = len(s.data.groups) > 1
		s.Figure(f)
		blocks = append(blocks, working.FigureBlock{Figure: id})
	}
	if more := len(s.data.groups) - most; more > 0 {
		blocks = append(blocks, working.Say("The first %d groups are drawn; %s more.", most, count(more, "group")))
	}
	blocks = append(blocks,
		working.Say("Each dot is a case: upward its value, to the right where a case of its rank would lie in a normal sample, in standard deviations from the middle. A normal sample follows the line, but for chance."),
		working.Note("A bend to one side is a lopsided shape; ends that leave the line to both sides are long tails; a single dot far from the line is an outlier."))
	s.Step(working.Look, "", blocks...)
}

func (s *shape) test() {
	one, g := s.tests[s.worst], &s.data.groups[s.worst]
	of, rows := "", "*"
	if s.data.factor != "" {
		of, rows = ", "+g.name, working.EscapeRef(g.name)+"|*"
	}
	weighted := make([]float64, len(g.values))
	for rank, at := range stats.Ascending(g.values) {
		weighted[rank] = one.Weights[rank] * (g.values[at] - g.moments.Mean)
	}
	values, products := "cases/"+rows+"/response", "cases/"+rows+"/weighted"
	s.Column(values, stats.Sorted(g.values))
	s.Column(products, weighted)
	series := s.Series(values, "x_{i}", s.decimals)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases" + of, Says: "How many are used."}, working.Whole, float64(g.moments.N), formula.Count{Column: series})
	s.Define(working.Quantity{ID: "mean", Symbol: `\bar{x}`, Label: "Mean" + of, Unit: s.unit, Says: "The sum of the cases over their number."}, working.Measure, g.moments.Mean,
		formula.Quotient{Over: formula.Total{Column: series}, Under: formula.Ref("n")})
	s.Define(working.Quantity{ID: "w", Symbol: "W", Label: "Test statistic" + of, Says: "The squared correlation of the ordered cases with the weights that a normal sample would have; at most 1."}, working.Ratio, one.W,
		formula.Quotient{Over: formula.Power{Base: formula.Total{Column: s.Calculated(products, `a_{i}(x_{i} - \bar{x})`, s.decimals+3)}, Exponent: 2}, Under: formula.Deviations{Column: series, Centre: "mean", Power: 2}})
	var tail formula.Expr
	if !math.IsNaN(one.Z) {
		s.Define(working.Quantity{ID: "z", Symbol: "z", Label: "Normal score of W" + of, Says: "Royston's approximation: 1 − W, transformed so that it follows the standard normal curve if H₀ is true."}, working.Ratio, one.Z, nil)
		tail = formula.Tail{Of: zFamily, X: formula.Ref("z")}
	}
	s.Define(working.Quantity{ID: "p", Symbol: "p", Label: "p-value" + of, Says: "If H₀ is true: the probability of a W this small or smaller."}, working.P, one.P, tail)
	s.DecideByP("p", "w", "a sample that follows the line no better than this one")
	if tests := len(s.tests); tests > 1 && one.P <= s.p.Alpha {
		s.Note(fmt.Sprintf("Each of %d groups is tested at alpha; with so many tests one that rejects is more likely than alpha says, even if all are normal.", tests))
	}
}

// tailWords says to which side the group that decides has its long tail, if to one.
func (s *shape) tailWords() string {
	g := &s.data.groups[s.worst]
	of := ""
	if s.data.factor != "" {
		of = " of " + g.name
	}
	switch skewness := g.moments.Skewness(g.values); {
	case skewness > 0.5:
		return " The picture" + of + " shows why: a long tail of large values."
	case skewness < -0.5:
		return " The picture" + of + " shows why: a long tail of small values."
	}
	return ""
}

func (s *shape) steps() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: no case tells anything about another. The numbers cannot show this."))
	smallest, largest := math.MaxInt, 0
	for _, g := range s.data.groups {
		smallest, largest = min(smallest, g.moments.N), max(largest, g.moments.N)
	}
	switch {
	case smallest < 10:
		s.Condition("sample-size", working.Doubtful, working.Textf("With %s the test finds only gross departures: not rejecting says very little.", count(smallest, "case")))
	case largest > 300:
		s.Condition("sample-size", working.Met, working.Textf("With %s the test also finds departures that do no harm to a mean. Look at the picture before the p-value.", count(largest, "case")))
	default:
		s.Condition("sample-size", working.Met, working.Textf("There are enough cases for a marked departure to be seen."))
	}
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "sample-size"})
	statistic := []working.Block{}
	if s.data.factor != "" {
		statistic = append(statistic, working.Say("The smallest p-value belongs to **%s**, and decides.", s.data.groups[s.worst].name))
	}
	statistic = append(statistic, working.Values{Quantities: []working.Ref{"w"}},
		working.Say("W compares the picture with its line: it is the squared correlation of the ordered cases with what a normal sample of this size would give. On the line it is 1; the more the dots bend away, the smaller."),
		working.Note("Nobody computes W by hand: its weights come from a table or an approximation (Royston 1995)."))
	s.Step(working.Statistic, "W = "+s.Show("w"), statistic...).Opens = "w"
	s.PValueStep()
	if s.Has("z") {
		s.AddTo(working.PValue, working.Note("W is turned into a normal score, z = @{z}, and p is the area above it. The table of critical values that some books print gives the same decision, but for rounding."))
	}
	s.decide(s.alternativeWords(), s.nullWords())
	used := count(s.data.used(), "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s.%s", used, s.alternativeWords(), s.tailWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not speak against a normal shape. This is not evidence that %s.", used, s.nullWords()))
	}
	report := working.Textf("The shape of %s was compared with a normal one, *W* = @{w}, *p* %s@{p}.", inSentence(s.data.response.Label), s.relation("p"))
	if s.data.factor != "" {
		report = working.Textf("The shape of %s was compared with a normal one in %s; the farthest from it was %s, *W* = @{w}, *p* %s@{p}.", inSentence(s.data.response.Label), count(len(s.data.groups), "group"), s.data.groups[s.worst].name, s.relation("p"))
	}
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("W first, then p; with few cases the number of cases too."))
	s.Conclude(s.conclusion, report)
	s.Step(working.FollowUp, "", working.Warn("A test of shape is no gate before a test of means: with few cases it finds little, with many it finds what does no harm. What matters for a mean is whether the shape is strongly lopsided or has outliers, and how many cases there are."),
		working.Say("If the shape is doubtful and the cases are few, a procedure by ranks does without it."))
}
