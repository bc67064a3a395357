package means

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

type spreadOptions struct{ from string }

// VarianceSpread compares the spreads of groups by their absolute deviations from the centre of
// each group (H. Levene, in Contributions to Probability and Statistics, 1960; with the median,
// M. B. Brown and A. B. Forsythe, J. Amer. Statist. Assoc. 69, 1974).
var VarianceSpread = describe.New(describe.Description{
	ID:         "variance-spread",
	Family:     describe.AboutSpread,
	Title:      "Spreads by deviations",
	Asks:       "Do groups spread alike, whatever their shape?",
	AlsoCalled: []string{"Levene's test", "Brown–Forsythe test", "test for equal variances", "homogeneity of variance"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles:      []describe.Role{cases.ResponseRole, cases.GroupRole},
}, func(o *spreadOptions) []describe.Option {
	return []describe.Option{describe.OneOf(&o.from, "median", describe.Option{
		ID: "deviations_from", Label: "Deviations from", Live: true, Key: "m",
		Says: "The centre of each group that its cases are compared with. The median stands lopsided groups and outliers better.",
		Choices: []describe.Choice{
			{Value: "median", Label: "the median", Says: "safe with lopsided groups (Brown and Forsythe)"},
			{Value: "mean", Label: "the mean", Says: "as Levene first proposed"},
		},
	})}
}, readVarianceSpread, cases.FitsSeveralGroups("how far the groups spread is compared by their deviations"))

// deviations is a problem about the spreads of several groups.
type deviations struct {
	write.Sheet
	d         *describe.Description
	data      *cases.Groups
	from      string          // "median" or "mean"
	distances [][]float64     // from the centre, of each group
	moments   []stats.Moments // of the distances of each group
	stats     stats.OneWay
	decimals  int
}

func readVarianceSpread(p *problem.Problem, d *describe.Description, o *spreadOptions) (describe.Task, error) {
	g, err := cases.ReadGroups(p, nil)
	if err != nil {
		return nil, err
	}
	if err := g.NeedSeveral("spreads"); err != nil {
		return nil, err
	}
	s := &deviations{d: d, data: g, from: o.from, decimals: g.Decimals()}
	s.P, s.Unit, s.Family = p, g.Response.Unit, write.F("df_1", "df_2")
	from := stats.MeanDeviations
	if s.from == "median" {
		from = stats.MedianDeviations
	}
	for _, one := range g.Each {
		distances := from(one.Values)
		s.distances = append(s.distances, distances)
		s.moments = append(s.moments, stats.NewMoments(distances))
	}
	s.stats = stats.NewOneWay(s.moments)
	switch {
	case s.stats.DFWithin < 1:
		return nil, problem.Errors{{
			Pointer: "/roles/group", Says: "there is one case only in each group, and a spread needs more", Instead: "give more cases",
		}}
	case !(s.stats.Within > 0):
		return nil, problem.Errors{{
			Pointer: "/roles/response", Says: "in no group do the deviations differ, so there is nothing to compare them by",
			Instead: "check the data",
		}}
	case math.IsInf(s.stats.F, 0) || math.IsNaN(s.stats.F):
		return nil, cases.TooFarApart()
	}
	s.Direction = write.Undirected(working.Compared{Of: s.data.Names(), By: "f"},
		s.response()+" spreads alike in all groups", s.response()+" does not spread alike in all groups")
	return s, nil
}

// response names the response inside a sentence.
func (s *deviations) response() string { return words.InSentence(s.data.Response.Label) }

// centre returns the median or the mean of a group.
func (s *deviations) centre(g *cases.Group) float64 {
	if s.from == "median" {
		return g.Five.Median
	}
	return g.Moments.Mean
}

// testName is what textbooks call the test.
func (s *deviations) testName() string {
	if s.from == "median" {
		return "Brown–Forsythe test of equal spreads"
	}
	return "Levene test of equal spreads"
}

// Work writes the solution.
func (s *deviations) Work(context.Context) (*working.Working, error) {
	s.Start(s.d, s.testName(), s.data.Given, s.data.Used())
	s.SetScale(math.Sqrt(s.stats.Within/s.stats.DFWithin) / 10)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.LiveOption(s.d, "deviations_from", s.from)
	s.Brief(working.Textf("Compare the spread of **%s** between the levels of **%s**", s.response(), words.InSentence(s.data.Factor)))
	s.QuestionStep(working.Say("The question is about the spread of *%s* in %s. Each case is turned into its distance from the %s "+
		"of its group; groups that spread more have larger distances on average.",
		s.response(), words.Count(len(s.data.Each), "group"), s.from))
	s.groups()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.statistic()
	s.PValueStep()
	s.Decide()
	s.conclude()
	return s.Working, nil
}

func (s *deviations) groups() {
	t := &working.Table{ID: "groups", Title: write.GroupsTitle(s.data), Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Numeric: true}, {ID: "sd", Label: "sd", Unit: s.Unit, Numeric: true},
		{ID: "centre", Label: s.from, Unit: s.Unit, Numeric: true},
		{ID: "mean_deviation", Label: "mean distance from it", Unit: s.Unit, Numeric: true},
	}}
	var rows []working.Row
	for i := range s.data.Each {
		g := &s.data.Each[i]
		rows = append(rows, working.Row{
			working.NameCell(g.Name), working.WholeCell(g.Moments.N), s.EstimateCell(g.Moments.SD, s.decimals+2),
			s.EstimateCell(s.centre(g), s.decimals+1), s.EstimateCell(s.moments[i].Mean, s.decimals+2),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	in := words.Count(len(s.data.Each), "group")
	s.Step(working.Data, working.Textf("n = %d", s.data.Used()), s.Counted(write.Counted{
		Given: s.data.Given, Used: s.data.Used(), Others: "with a missing value", All: working.Textf(" in %s", in),
		Some: working.Textf(", in %s", in),
	}), working.TableBlock{Table: "groups"})
}

func (s *deviations) look() {
	f := &working.Figure{
		ID: "look", Form: working.Boxes, Title: write.GroupsTitle(s.data), Axis: working.Axis{Label: s.data.Response.Label, Unit: s.Unit},
	}
	var ends []float64
	var says, distances []string
	for row := range s.data.Each {
		g := &s.data.Each[row]
		f.Marks = append(f.Marks, write.BoxMarks(row, g.Spread, g.Moments.Mean)...)
		ends = append(ends, g.Five.Min, g.Five.Max)
		says = append(says, fmt.Sprintf("%s: from %s to %s", g.Name, working.FormatNumber(g.Five.Min, s.decimals),
			working.FormatNumber(g.Five.Max, s.decimals)))
		distances = append(distances, working.FormatNumber(s.moments[row].Mean, s.decimals+1))
	}
	f.Axis.Min, f.Axis.Max = write.Axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	s.Figure(f)
	result := strings.Join(distances, ", ")
	if len(distances) > 3 {
		result = strings.Join(distances[:3], ", ") + " …"
	}
	s.Step(working.Look, working.Textf("%s", result), working.FigureBlock{Figure: "look"},
		working.Say("On average the cases lie %s from the %s of their group. Whether that differs by more than chance would bring is what "+
			"the test is for.",
			strings.Join(distances, ", "), s.from),
		working.Note("Each dot is a case. The box holds the middle half of a group, the thick line is its median, the ring its mean."))
}

// hypotheses has no direction to choose: spreads can differ in many ways.
func (s *deviations) hypotheses() {
	var symbols []string
	for _, g := range s.data.Each {
		symbols = append(symbols, `\sigma_{`+formula.TeXText(g.Name)+`}`)
	}
	if len(symbols) > 5 {
		symbols = slices.Concat(symbols[:2], []string{`\dots`}, symbols[len(symbols)-1:])
	}
	s.UndirectedHypotheses("all σ equal", strings.Join(symbols, " = "), `\text{not all equal}`,
		working.Say("H₁ names no group and no direction: it is enough that one group spreads otherwise than another."))
}

func (s *deviations) test() {
	squared := write.Squared(s.Unit)
	define := func(id working.Ref, symbol, label, says string, value float64) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: squared, Says: says}, working.Ratio, value, nil)
	}
	define("ss_between", `SS_{B}`, "Between the groups",
		"How far the groups' mean distances lie from the mean distance of all cases: squared, and each group counted by its cases.",
		s.stats.Between)
	define("ss_within", `SS_{W}`, "Within the groups",
		"How far the distances lie from the mean distance of their own group, squared and summed.", s.stats.Within)
	s.Define(working.Quantity{ID: "df_1", Symbol: `\nu_{1}`, Label: "Degrees of freedom between", Says: "The number of groups less one."},
		working.Degrees, s.stats.DFBetween, nil)
	s.Define(working.Quantity{ID: "df_2", Symbol: `\nu_{2}`, Label: "Degrees of freedom within",
		Says: "The number of cases less one for each group."},
		working.Degrees, s.stats.DFWithin, nil)
	mean := func(id working.Ref, symbol, label string, ss, df formula.Ref, value float64) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: squared, Says: "The sum of squares for each degree of freedom."},
			working.Ratio, value, formula.Quotient{Over: ss, Under: df})
	}
	mean("ms_between", `MS_{B}`, "Mean square between", "ss_between", "df_1", s.stats.Between/s.stats.DFBetween)
	mean("ms_within", `MS_{W}`, "Mean square within", "ss_within", "df_2", s.stats.Within/s.stats.DFWithin)
	s.Define(working.Quantity{
		ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times the distances differ more between the groups than within them.",
	}, working.Ratio, s.stats.F, formula.Quotient{Over: formula.Ref("ms_between"), Under: formula.Ref("ms_within")})
	s.Test(working.Test{
		Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_1", "df_2"}, Family: s.Family, UpperOnly: true,
		Name: "F, " + s.DegreesWords("df_1", "df_2"), Extreme: "groups whose distances differ at least as much, compared with the " +
			"distances within them,",
	})
	s.resample()
}

// resample offers a simulation of F: the deviations are shuffled.
func (s *deviations) resample() {
	sizes, all := s.data.Sizes(), slices.Concat(s.distances...)
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true a deviation may as well come from any group. So the labels of the groups are shuffled "+
			"among the %d deviations, and F is calculated anew.", len(all)),
		Assumes: "Shuffling needs no normal shape of the deviations, and they have none: the curve is an approximation.",
		Sampler: func() stats.Sampler {
			moments := make([]stats.Moments, len(sizes))
			return stats.ShuffleLabels(all, sizes, func(groups [][]float64) float64 {
				for i, group := range groups {
					moments[i] = stats.NewMoments(group)
				}
				return stats.NewOneWay(moments).F
			})
		},
	})
}

func (s *deviations) conditions() {
	s.TakenAsMet(write.InGroup)
	smallest := s.data.Smallest()
	if smallest >= 5 {
		s.Condition("sample-size", working.Met, working.Textf("The smallest group has %s. The shape of the groups matters little for "+
			"distances from the %s.",
			words.Count(smallest, "case"), s.from))
	} else {
		s.Condition("sample-size", working.Doubtful, working.Textf("The smallest group has %s only: with so few the test seldom "+
			"finds a difference of spreads, and means little where it does not.", words.Count(smallest, "case")))
	}
	s.ConditionsStep([]string{"independence", "sample-size"})
}

// statistic writes the steps on the statistic and on its critical value.
func (s *deviations) statistic() {
	s.Step(working.Statistic, working.Textf("F = @{f}"),
		working.Say("The distances of the cases from their group’s %s are compared as means are: how much they differ *between* "+
			"the groups, @{ss_between}, against how much they differ *within* them, @{ss_within}.", s.from),
		working.FormulaBlock{Quantity: "ms_between"}, working.FormulaBlock{Quantity: "ms_within"}, working.FormulaBlock{Quantity: "f"},
		working.Say("If the groups spread alike, F lies near 1."))
	s.CriticalValueStep(append([]working.Block{
		working.Say("Degrees of freedom: @{df_1} between, a group less than there are; @{df_2} within, one case less in each group."),
		working.Note("A printed F table has the degrees of freedom between the groups in its columns and those within in its rows."),
	}, s.PrintedF(s.P.Alpha, s.stats.DFBetween, s.stats.DFWithin)...)...)
}

func (s *deviations) conclude() {
	s.ConclusionStep(write.Conclusion{Used: s.data.Used()})
	differed := "did not differ"
	if s.Rejected() {
		differed = "differed"
	}
	s.ReportStep(working.Textf("The spread of %s %s significantly between the groups (distances from the %s), *F*(@{df_1}, @{df_2}) = "+
		"@{f}, *p* %s@{p}.",
		s.response(), differed, s.from, s.Relation("p")), "What was compared first, then F with its degrees of freedom and p.")
	s.Step(working.FollowUp, nil, working.TableBlock{Table: "groups"},
		working.Say("Which group spreads more is read off the table: by its standard deviation, and by the mean distance from its %s.", s.from),
		working.Warn("A test of spreads is no gate before a test of means: where it finds nothing with few cases, the spreads may still differ. "+
			"Keeping the variances apart is safe in either case."))
}
