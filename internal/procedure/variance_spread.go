package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// varianceSpread compares the spreads of groups by their absolute deviations from the
// centre of each group (H. Levene, in Contributions to Probability and Statistics,
// 1960; with the median, M. B. Brown and A. B. Forsythe, J. Amer. Statist. Assoc. 69,
// 1974).
var varianceSpread = &Procedure{
	Description: Description{
		ID:         "variance-spread",
		Title:      "Spreads by deviations",
		Asks:       "Do groups spread alike, whatever their shape?",
		AlsoCalled: []string{"Levene's test", "Brown–Forsythe test", "test for equal variances", "homogeneity of variance"},
		Takes:      []Takes{TakesVariables},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "group", Label: "Group", Says: "the category that tells the groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1},
		},
		Options: []Option{{ID: "deviations_from", Label: "Deviations from", Type: ChoiceOption, Default: "median", Live: true, Key: "m",
			Says: "The centre of each group that its cases are compared with. The median stands lopsided groups and outliers better.",
			Choices: []Choice{
				{Value: "median", Label: "the median", Says: "safe with lopsided groups (Brown and Forsythe)"},
				{Value: "mean", Label: "the mean", Says: "as Levene first proposed"},
			}}},
	},
	Work: workVarianceSpread,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		return fmt.Sprintf("%s is a number, and %s parts the cases into %s: how far the groups spread is compared by their deviations.", response.Title(), inSentence(factor.Title()), count(used(factor), "group")), true
	},
}

// deviations is the problem while it is worked.
type deviations struct {
	location
	data      *grouped
	median    bool
	distances [][]float64     // from the centre, of each group
	moments   []stats.Moments // of the deviations of each group
	stats     stats.OneWay
	decimals  int
}

func workVarianceSpread(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	g, err := readGroups(p, nil)
	if err != nil {
		return nil, err
	}
	s := &deviations{location: location{p: p, unit: g.response.Unit, family: fFamily}, data: g, median: options["deviations_from"] == "median"}
	if len(g.groups) < 2 {
		return nil, problem.Errors{{Pointer: "/roles/group", Says: fmt.Sprintf("“%s” has %s with usable cases, and spreads are compared", problem.Shorten(g.factor), count(len(g.groups), "level")), Instead: "choose a group variable with two levels or more"}}
	}
	for _, one := range g.groups {
		from := stats.MeanDeviations
		if s.median {
			from = stats.MedianDeviations
		}
		distances := from(one.values)
		s.distances = append(s.distances, distances)
		s.moments = append(s.moments, stats.NewMoments(distances))
		s.decimals = max(s.decimals, working.DecimalsOf(one.values, maxDecimals))
	}
	s.stats = stats.NewOneWay(s.moments)
	switch {
	case s.stats.DFWithin < 1:
		return nil, problem.Errors{{Pointer: "/roles/group", Says: "there is one case only in each group, and a spread needs more", Instead: "give more cases"}}
	case !(s.stats.Within > 0):
		return nil, problem.Errors{{Pointer: "/roles/response", Says: "in no group do the deviations differ, so there is nothing to compare them by", Instead: "check the data"}}
	case math.IsInf(s.stats.F, 0) || math.IsNaN(s.stats.F):
		return nil, tooFarApart()
	}
	used := g.used()
	s.Working = working.New(p, d.Title, working.Cases{Given: g.given, Used: used, LeftOut: g.given - used})
	s.SetScale(math.Sqrt(s.stats.Within/s.stats.DFWithin) / 10)
	s.Control(working.AlphaControl(p.Alpha))
	s.Control(d.Options[0].control(fmt.Sprint(options["deviations_from"])))
	s.Brief(working.Textf("Compare the spread of **%s** between the levels of **%s**", inSentence(g.response.Label), inSentence(g.factor)))
	s.DefineAlpha()
	s.question()
	s.groups()
	s.look()
	s.hypotheses()
	s.test()
	s.steps()
	return s.Working, nil
}

// centre returns the median or the mean of a group.
func (s *deviations) centre(g *group) float64 {
	if s.median {
		return g.five.Median
	}
	return g.moments.Mean
}

// centreWord names it.
func (s *deviations) centreWord() string {
	if s.median {
		return "median"
	}
	return "mean"
}

func (s *deviations) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is about the spread of *%s* in %s. Each case is turned into its distance from the %s of its group; groups that spread more have larger distances on average.", inSentence(s.data.response.Label), count(len(s.data.groups), "group"), s.centreWord()))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *deviations) groups() {
	t := &working.Table{ID: "groups", Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)), Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Numeric: true}, {ID: "sd", Label: "sd", Unit: s.unit, Numeric: true},
		{ID: "centre", Label: s.centreWord(), Unit: s.unit, Numeric: true}, {ID: "mean_deviation", Label: "mean distance from it", Unit: s.unit, Numeric: true},
	}}
	var rows []working.Row
	for i := range s.data.groups {
		g := &s.data.groups[i]
		sd := g.moments.SD
		rows = append(rows, working.Row{nameCell(g.name), wholeCell(g.moments.N), s.number(sd, s.decimals+2), s.number(s.centre(g), s.decimals+1), s.number(s.moments[i].Mean, s.decimals+2)})
	}
	t.SetRows(rows)
	s.Table(t)
	used := s.data.used()
	says := working.Say("%s in %s.", upperFirst(count(s.data.given, "case")), count(len(s.data.groups), "group"))
	if left := s.data.given - used; left > 0 {
		says = working.Say("%s in all, of which %d used, in %s. Left out: %s.", upperFirst(count(s.data.given, "case")), used, count(len(s.data.groups), "group"), leftOutWords(s.p.LeaveOut, left, "with a missing value"))
	}
	s.Step(working.Data, fmt.Sprintf("n = %d", used), says, working.TableBlock{Table: "groups"})
}

func (s *deviations) look() {
	f := &working.Figure{ID: "look", Form: working.Boxes, Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)), Axis: working.Axis{Label: s.data.response.Label, Unit: s.unit}}
	var ends []float64
	var says, sds []string
	for row := range s.data.groups {
		g := &s.data.groups[row]
		low, high := g.five.Whiskers(g.values)
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Box, Role: working.Observed, Label: g.name, Row: row, X: working.Positions(low, g.five.Q1, g.five.Median, g.five.Q3, high)},
			working.Mark{Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(g.values...), Case: g.cases},
			working.Mark{Shape: working.Points, Role: working.MeanMark, Row: row, X: working.Positions(g.moments.Mean)})
		ends = append(ends, g.five.Min, g.five.Max)
		says = append(says, fmt.Sprintf("%s: from %s to %s", g.name, working.FormatNumber(g.five.Min, s.decimals), working.FormatNumber(g.five.Max, s.decimals)))
		sds = append(sds, working.FormatNumber(s.moments[row].Mean, s.decimals+1))
	}
	f.Axis.Min, f.Axis.Max = axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	s.Figure(f)
	key := strings.Join(sds, ", ")
	if len(sds) > 3 {
		key = strings.Join(sds[:3], ", ") + " …"
	}
	s.Step(working.Look, key, working.FigureBlock{Figure: "look"},
		working.Say("On average the cases lie %s from the %s of their group. Whether that differs by more than chance would bring is what the test is for.", strings.Join(sds, ", "), s.centreWord()),
		working.Note("Each dot is a case. The box holds the middle half of a group, the thick line is its median, the ring its mean."))
}

// hypotheses has no direction to choose: spreads can differ in many ways.
func (s *deviations) hypotheses() {
	var symbols []string
	for _, g := range s.data.groups {
		symbols = append(symbols, `\sigma_{\text{`+g.name+`}}`)
	}
	if len(symbols) > 5 {
		symbols = []string{symbols[0], symbols[1], `\dots`, symbols[len(symbols)-1]}
	}
	s.hypothesesStep("all σ equal",
		working.HypothesesBlock{
			Null:        working.Hypothesis{Symbols: `H_0:\; ` + strings.Join(symbols, " = "), Words: s.nullWords()},
			Alternative: working.Hypothesis{Symbols: `H_1:\; \text{not all equal}`, Words: s.alternativeWords()},
		},
		working.Say("H₁ names no group and no direction: it is enough that one group spreads otherwise than another."))
}

func (s *deviations) nullWords() string {
	return fmt.Sprintf("%s spreads alike in all groups", inSentence(s.data.response.Label))
}

func (s *deviations) alternativeWords() string {
	return fmt.Sprintf("%s does not spread alike in all groups", inSentence(s.data.response.Label))
}

func (s *deviations) test() {
	squared := s.unit
	if squared != "" {
		squared += "²"
	}
	between, within := s.stats.Between, s.stats.Within
	s.Define(working.Quantity{ID: "ss_between", Symbol: `SS_{B}`, Label: "Between the groups", Unit: squared, Says: "How far the groups' mean distances lie from the mean distance of all cases: squared, and each group counted by its cases."}, working.Ratio, between, nil)
	s.Define(working.Quantity{ID: "ss_within", Symbol: `SS_{W}`, Label: "Within the groups", Unit: squared, Says: "How far the distances lie from the mean distance of their own group, squared and summed."}, working.Ratio, within, nil)
	s.Define(working.Quantity{ID: "df_1", Symbol: `\nu_{1}`, Label: "Degrees of freedom between", Says: "The number of groups less one."}, working.Degrees, s.stats.DFBetween, nil)
	s.Define(working.Quantity{ID: "df_2", Symbol: `\nu_{2}`, Label: "Degrees of freedom within", Says: "The number of cases less one for each group."}, working.Degrees, s.stats.DFWithin, nil)
	mean := func(id, symbol, label, ss, df string, value float64) {
		s.Define(working.Quantity{ID: working.Ref(id), Symbol: symbol, Label: label, Unit: squared, Says: "The sum of squares for each degree of freedom."},
			working.Ratio, value, formula.Quotient{Over: formula.Ref(ss), Under: formula.Ref(df)})
	}
	mean("ms_between", `MS_{B}`, "Mean square between", "ss_between", "df_1", between/s.stats.DFBetween)
	mean("ms_within", `MS_{W}`, "Mean square within", "ss_within", "df_2", within/s.stats.DFWithin)
	s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times the distances differ more between the groups than within them."},
		working.Ratio, s.stats.F, formula.Quotient{Over: formula.Ref("ms_between"), Under: formula.Ref("ms_within")})
	s.Test(working.Test{
		Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_1", "df_2"}, Family: fFamily, UpperOnly: true,
		Name:    "F, " + s.DegreesWords("df_1", "df_2"),
		Extreme: "groups whose distances differ at least as much, compared with the distances within them,",
	})
	s.resample()
}

func (s *deviations) steps() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this."))
	smallest := math.MaxInt
	for _, g := range s.data.groups {
		smallest = min(smallest, g.moments.N)
	}
	if smallest >= 5 {
		s.Condition("sample-size", working.Met, working.Textf("The smallest group has %s. The shape of the groups matters little for distances from the %s.", count(smallest, "case"), s.centreWord()))
	} else {
		s.Condition("sample-size", working.Doubtful, working.Textf("The smallest group has %s only: with so few the test seldom finds a difference of spreads, and means little where it does not.", count(smallest, "case")))
	}
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "sample-size"})
	s.Step(working.Statistic, "F = "+s.Show("f"),
		working.Say("The distances of the cases from their group’s %s are compared as means are: how much they differ *between* the groups, @{ss_between}, against how much they differ *within* them, @{ss_within}.", s.centreWord()),
		working.FormulaBlock{Quantity: "ms_between"}, working.FormulaBlock{Quantity: "ms_within"}, working.FormulaBlock{Quantity: "f"},
		working.Say("If the groups spread alike, F lies near 1.")).Opens = "f"
	s.CriticalValueStep(append([]working.Block{working.Say("Degrees of freedom: @{df_1} between, a group less than there are; @{df_2} within, one case less in each group."),
		working.Note("A printed F table has the degrees of freedom between the groups in its columns and those within in its rows.")}, s.printedF(s.p.Alpha, s.stats.DFBetween, s.stats.DFWithin)...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(), s.nullWords())
	used := count(s.data.used(), "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s.", used, s.alternativeWords()))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.alternativeWords(), s.nullWords()))
	}
	differed := "did not differ"
	if s.Rejected() {
		differed = "differed"
	}
	report := working.Textf("The spread of %s %s significantly between the groups (distances from the %s), *F*(@{df_1}, @{df_2}) = @{f}, *p* %s@{p}.", inSentence(s.data.response.Label), differed, s.centreWord(), s.relation("p"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("What was compared first, then F with its degrees of freedom and p."))
	s.Conclude(s.conclusion, report)
	s.Step(working.FollowUp, "", working.TableBlock{Table: "groups"},
		working.Say("Which group spreads more is read off the table: by its standard deviation, and by the mean distance from its %s.", s.centreWord()),
		working.Warn("A test of spreads is no gate before a test of means: where it finds nothing with few cases, the spreads may still differ. Keeping the variances apart is safe in either case."))
}
