package fits

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

type distributionOptions struct {
	distribution string
	parameters   map[string]float64
	boundaries   []float64
	least        float64
}

// ChiSquareDistribution asks whether a variable may follow a distribution, by the counts of
// classes.
var ChiSquareDistribution = describe.New(describe.Description{
	ID:     "chi-square-distribution",
	Family: describe.AboutCounts,
	Title:  "A distribution fitted",
	Asks:   "May a variable follow a distribution?",
	AlsoCalled: []string{
		"chi-square goodness of fit", "test of a Poisson distribution", "test of an exponential distribution", "fit of a distribution",
	},
	Takes: []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles: []describe.Role{cases.ResponseRole},
}, func(o *distributionOptions) []describe.Option {
	return []describe.Option{
		familyOption(&o.distribution),
		describe.Parameters(&o.parameters, describe.Option{
			ID: "parameters", Label: "Parameters", Says: "Estimated from the cases unless they are given.",
		}),
		describe.Numbers(&o.boundaries, describe.Option{
			ID: "boundaries", Label: "Class boundaries",
			Says: "In ascending order; chosen from the cases unless they are given. A value on a boundary belongs to the class above it.",
		}),
		describe.Number(&o.least, 5, describe.Option{
			ID: "min_expected", Label: "Least expected count", Says: "Classes that expect fewer are merged with a neighbour.",
		}),
	}
}, readDistribution, func(assigned describe.Assigned) (why string, ok bool) {
	return assigned["response"][0].Title() + " is a number: the counts of its classes are compared with those that a distribution expects.",
		true
})

// fitted is a problem about a distribution.
type fitted struct {
	write.Sheet
	d        *describe.Description
	o        *distributionOptions
	response data.Heading
	given    int
	sample   sample
	by       classing
	classed  *classed
	others   []working.Choice // distributions that the cases could come from too
	decimals int
}

func readDistribution(p *problem.Problem, d *describe.Description, o *distributionOptions) (describe.Task, error) {
	if !(o.least >= 0) || math.IsInf(o.least, 0) {
		return nil, problem.Errors{{Pointer: "/options/min_expected", Says: "min_expected is " + data.FormatNumber(o.least),
			Instead: "it must be 0 or above"}}
	}
	s := &fitted{d: d, o: o}
	s.P, s.Family = p, write.ChiSquare
	s.by = classing{sample: &s.sample, boundaries: o.boundaries, least: o.least}
	read := s.readCases
	if p.Data.Counts != nil {
		read = s.readCounts
	}
	if err := read(); err != nil {
		return nil, err
	}
	m, err := newModel(familyOf(o.distribution), &s.sample, o.parameters)
	if err != nil {
		return nil, err
	}
	if s.classed, err = m.classify(s.by); err != nil {
		return nil, err
	}
	s.Unit = s.response.Unit
	s.Direction = write.Undirected(working.Compared{Of: []string{s.name(), m.article + " distribution"}, By: "chi_square"},
		s.name()+" follows "+m.article+" distribution", s.name()+" follows another distribution than "+m.article+
			" one")
	return s, nil
}

func (s *fitted) readCounts() error {
	c := s.P.Data.Counts
	if c.Boundaries == nil {
		return problem.Errors{{Pointer: "/data/counts", Says: "counts in classes are needed here", Instead: "give “boundaries” and “observed”"}}
	}
	if s.o.boundaries != nil {
		return problem.Errors{{Pointer: "/options/boundaries", Says: "the counts are in classes already", Instead: "remove the option"}}
	}
	s.response = data.Heading{Label: "value"}
	if h := c.Variable; h != nil {
		s.response.Unit = h.Unit
		if h.Label != "" {
			s.response.Label = h.Label
		}
	}
	s.by.boundaries = c.Boundaries
	for _, o := range c.Observed {
		s.by.counts = append(s.by.counts, int(o))
		s.given += int(o)
	}
	if s.given == 0 {
		return problem.Errors{{Pointer: "/data/counts/observed", Says: "nothing was counted", Instead: "give counts above 0"}}
	}
	return nil
}

func (s *fitted) readCases() error {
	v := s.P.Data.Variables.Find(s.P.Roles["response"][0])
	s.response, s.given = data.Heading{Label: v.Title(), Unit: v.Unit}, v.Len()
	for _, i := range data.Complete(s.P.LeftOutCases(), v) {
		s.sample.values, s.sample.rows = append(s.sample.values, v.Numbers[i]), append(s.sample.rows, i+1)
	}
	if len(s.sample.values) == 0 {
		return problem.Errors{{Pointer: "/roles/response", Says: "no case has a value", Instead: "check the role, and the cases left out"}}
	}
	s.sample.moments, s.sample.sorted = stats.NewMoments(s.sample.values), stats.Sorted(s.sample.values)
	s.decimals = data.MostDecimals(s.sample.values)
	return nil
}

// name names the response inside a sentence.
func (s *fitted) name() string { return words.InSentence(s.response.Label) }

// Work writes the solution.
func (s *fitted) Work(context.Context) (*working.Working, error) {
	s.Start(s.d, "chi-square test of goodness of fit to "+s.classed.article+" distribution", s.given, s.classed.stats.N)
	s.SetDecimals(s.decimals + 2)
	s.Control(working.AlphaControl(s.P.Alpha))
	if s.o.parameters == nil { // parameters belong to their distribution
		control := s.distributionControl()
		s.Control(control)
		s.others = control.Choices
	}
	s.Brief(working.Textf("Look whether **%s** may follow %s distribution", s.name(), s.classed.article))
	s.QuestionStep(working.Say("The question is about a distribution: whether *%s* may follow **%s** one. The cases are counted in classes, "+
		"and the counts compared with those that the distribution expects.", s.name(), s.classed.article))
	s.count()
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

// distributionControl offers the distributions that the cases could come from.
func (s *fitted) distributionControl() working.Control {
	control := write.OptionControl(s.d.Option("distribution"), s.o.distribution)
	control.Choices = slices.DeleteFunc(control.Choices, func(c working.Choice) bool {
		m, err := newModel(familyOf(c.Value.(string)), &s.sample, nil)
		if err == nil {
			_, err = m.classify(s.by)
		}
		return err != nil
	})
	return control
}

// tries are the ways to another distribution on the same classes, shown beside this one.
func (s *fitted) tries() []working.Action {
	same := make([]any, len(s.classed.boundaries))
	for i, b := range s.classed.boundaries {
		same[i] = b
	}
	var out []working.Action
	for _, c := range s.others {
		if c.Value == s.o.distribution {
			continue
		}
		out = append(out, working.Action{
			ID: "try-" + c.Value.(string), Label: "Try " + c.Label + " and compare", Compare: true,
			Says: "Works the same problem with this distribution on the same classes, beside this one.",
			Set:  []problem.Set{{Pointer: "/options/distribution", Value: c.Value}, {Pointer: "/options/boundaries", Value: same}},
		})
	}
	return out
}

func (s *fitted) count() {
	n := s.classed.stats.N
	shown := []working.Ref{"n"}
	if s.sample.values == nil {
		s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many there are."}, working.Whole, float64(n), nil)
	} else {
		shown = s.moments()
	}
	blocks := []working.Block{
		s.Counted(write.Counted{Given: s.given, Used: n, UsedRef: "n", Others: "with a missing value"}), working.Values{Quantities: shown},
	}
	if s.sample.values != nil {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("n = @{n}"), blocks...)
}

// moments defines the size, the mean and the spread of the cases.
func (s *fitted) moments() (shown []working.Ref) {
	s.CasesTable(write.UsedTitle, s.sample.rows, write.Entered("response", s.response, s.sample.values, s.decimals))
	s.Column("cases/*/response", s.sample.values)
	series := s.Series("cases/*/response", "x_{i}", s.decimals)
	n := formula.Ref("n")
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many there are."},
		working.Whole, float64(s.classed.stats.N), formula.Count{Column: series})
	s.Define(working.Quantity{ID: "sample_mean", Symbol: `\bar{x}`, Label: "Mean", Unit: s.Unit, Says: "Of the cases."},
		working.Measure, s.sample.moments.Mean, formula.Quotient{Over: formula.Total{Column: series}, Under: n})
	if math.IsNaN(s.sample.moments.SD) {
		return []working.Ref{"n", "sample_mean"}
	}
	s.Define(working.Quantity{
		ID: "sample_sd", Symbol: "s", Label: "Standard deviation", Unit: s.Unit, Says: "Of the cases, with the divisor n − 1.",
	}, working.Measure, s.sample.moments.SD, formula.Root{X: formula.Quotient{
		Over: formula.Deviations{Column: series, Centre: "sample_mean", Power: 2}, Under: formula.Subtract(n, formula.Num(1)),
	}})
	return []working.Ref{"n", "sample_mean", "sample_sd"}
}

// look draws the histogram of the classes with what the distribution expects.
func (s *fitted) look() {
	c := s.classed
	f := &working.Figure{
		ID: "look", Form: working.Histogram, Title: s.response.Label, Axis: working.Axis{Label: s.response.Label, Unit: s.Unit},
		Up: &working.Axis{Label: "cases", Min: 0},
	}
	from, _ := c.ends(0)
	_, to := c.ends(len(c.classes) - 1)
	middle, end := c.ends(len(c.classes) / 2)
	unit := end - middle // bars of other classes are drawn as high as their share of it
	most := 0.0
	var says []string
	for i, class := range c.classes {
		low, high := c.ends(i)
		scale := unit / (high - low)
		o, e := float64(class.Observed), float64(c.stats.N)*class.Probability
		most = math.Max(most, scale*math.Max(o, e))
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Bar, Role: working.Observed, X: working.Positions(low, high), Y: working.Positions(o * scale)},
			working.Mark{Shape: working.Bar, Role: working.Expected, X: working.Positions(low, high), Y: working.Positions(e * scale)})
		says = append(says, fmt.Sprintf("%s: %d, expected %s", c.className(class), class.Observed, working.FormatNumber(e, 1)))
	}
	if d, ok := c.distribution.(dist.Distribution); ok {
		line, top := densityMark(d, from, to, float64(c.stats.N), unit)
		f.Marks, most = append(f.Marks, line), math.Max(most, top)
	}
	if s.sample.values != nil {
		f.Handles = c.handles(s.by, unit)
	}
	f.Axis.Min, f.Axis.Max, f.Up.Max = working.Number(from), working.Number(to), working.Number(most*1.05)
	f.Says = strings.Join(says, "; ") + "."
	s.Figure(f)
	rule := "The classes are those that were given."
	if s.by.boundaries == nil {
		rule = "The classes follow a rule: 1 + log₂ n of them, rounded up, with a round width."
	}
	s.Step(working.Look, working.Textf("%d classes", len(c.classes)), append([]working.Block{
		working.FigureBlock{Figure: "look", Actions: s.tries()}}, append(s.summary(),
		working.Say("Solid is what was counted; the outlines and the curve are what the fitted distribution expects. %s", rule))...)...)
}

// summary sums up the values, where there are any.
func (s *fitted) summary() []working.Block {
	if s.sample.values == nil {
		return nil
	}
	five := stats.NewFiveNumbers(s.sample.sorted)
	t := &working.Table{ID: "sample", Title: "The cases in short", Columns: []working.Column{
		{ID: "n", Label: "n", Numeric: true}, {ID: "mean", Label: "mean", Unit: s.Unit, Numeric: true},
		{ID: "sd", Label: "sd", Unit: s.Unit, Numeric: true}, {ID: "median", Label: "median", Unit: s.Unit, Numeric: true},
		{ID: "least", Label: "least", Unit: s.Unit, Numeric: true}, {ID: "greatest", Label: "greatest", Unit: s.Unit, Numeric: true},
	}}
	t.SetRows([]working.Row{{
		s.QuantityCell("n"), s.QuantityCell("sample_mean"), s.QuantityCell("sample_sd"), s.EstimateCell(five.Median, s.decimals+1),
		working.EnteredCell(five.Min, s.decimals), working.EnteredCell(five.Max, s.decimals),
	}})
	s.Table(t)
	return []working.Block{working.TableBlock{Table: "sample"}}
}

// densityMark draws how many of n cases a density expects in a class of some width, and returns
// how high it reaches.
func densityMark(d dist.Distribution, from, to, n, width float64) (line working.Mark, top float64) {
	const steps = 120
	line = working.Mark{Shape: working.Line, Role: working.Expected}
	for i := range steps + 1 {
		x := from + (to-from)*float64(i)/steps
		if y := d.Density(x) * n * width; !math.IsInf(y, 0) {
			line.X, line.Y = append(line.X, working.Number(x)), append(line.Y, working.Number(y))
			top = math.Max(top, y)
		}
	}
	return line, top
}

// A parameter is how a parameter is written and called.
type parameter struct {
	symbol, label, says, noun string
	ratio                     bool         // whether it has no unit of the response
	estimate                  formula.Expr // of it from the cases; nil where it is looked up
}

var parameters = map[string]parameter{
	"rate": {`\lambda`, "Rate", "How many events come in a unit of the variable: 1 over the mean.", "rate", true,
		formula.Quotient{Over: formula.Num(1), Under: formula.Ref("sample_mean")}},
	"mean": {`\mu`, "Mean of the distribution", "About which its values lie.", "mean", false, formula.Ref("sample_mean")},
	"sd": {`\sigma`, "Standard deviation of the distribution", "How far its values typically lie from the mean.", "standard deviation", false,
		formula.Ref("sample_sd")},
	"min":    {"a", "Smallest value", "Where the distribution begins.", "smallest value", false, nil},
	"max":    {"b", "Largest value", "Where it ends.", "largest value", false, nil},
	"trials": {"m", "Trials", "Of each case.", "number of trials", true, nil},
	"probability": {`\pi`, "Probability of a success", "In each trial.", "probability of a success", true,
		formula.Quotient{Over: formula.Ref("sample_mean"), Under: formula.Ref("trials")}},
}

// defineParameter defines a parameter, and says where it comes from.
func (s *fitted) defineParameter(name string) string {
	w := parameters[name]
	q := working.Quantity{ID: working.Ref(name), Symbol: w.symbol, Label: w.label, Unit: s.Unit, Says: w.says + " Given in the problem."}
	if w.ratio {
		q.Unit = ""
	}
	display, expr, origin := working.Given, formula.Expr(nil), "given"
	if slices.Contains(s.classed.estimated, name) {
		display, expr, origin = working.Measure, w.estimate, "estimated"
		q.Says = w.says + " Estimated from the cases."
		if w.ratio {
			display = working.Parameter
		}
	}
	s.Define(q, display, s.classed.values[name], expr)
	return fmt.Sprintf("the %s of @{%s} (%s)", w.noun, name, origin)
}

func (s *fitted) hypotheses() {
	var has []string
	for _, name := range s.classed.family.parameters {
		has = append(has, s.defineParameter(name))
	}
	s.Define(working.Quantity{
		ID: "parameters_estimated", Symbol: "k", Label: "Parameters estimated",
		Says: "Each one takes a degree of freedom: the fitted distribution has come nearer to the cases by it.",
	}, working.Whole, float64(len(s.classed.estimated)), nil)
	count := "It has one parameter, "
	if len(has) > 1 {
		count = "It has two parameters, "
	}
	title := s.classed.title
	s.UndirectedHypotheses(title, s.classed.family.symbolic(), `\text{not `+title+`}`,
		working.Prose{Text: working.Textf(count + words.Listed(has) + ".")},
		working.Say("H₁ leaves open what distribution it is instead: the test has no direction."))
}

// binsTable lists the classes after merging.
func (s *fitted) binsTable() {
	c := s.classed
	t := &working.Table{ID: "bins", Title: "Classes of " + s.name(), Key: []string{"class"}, Columns: []working.Column{
		{ID: "class", Label: "class"}, {ID: "low", Label: "from", Numeric: true, Hidden: true},
		{ID: "high", Label: "to", Numeric: true, Hidden: true},
		{ID: "observed", Label: "observed", Symbol: "O", Numeric: true},
		{ID: "cdf_low", Label: "F(from)", Symbol: `F(\text{from})`, Numeric: true, Formula: c.family.belowColumn("low")},
		{ID: "cdf_high", Label: "F(to)", Symbol: `F(\text{to})`, Numeric: true, Formula: c.family.belowColumn("high")},
		{ID: "expected", Label: "expected", Symbol: "E", Numeric: true, Formula: `@{n}\cdot(@{cdf_high}-@{cdf_low})`},
		{
			ID: "contribution", Label: "contribution", Symbol: `\frac{(O-E)^2}{E}`, Numeric: true,
			Formula: `\frac{(@{observed}-@{expected})^{2}}{@{expected}}`,
		},
		{ID: "merged", Label: "classes merged", Numeric: true},
	}}
	end := func(x float64) working.Cell {
		if math.IsInf(x, 0) {
			return working.Cell{Value: working.Number(x), Shown: working.FormatNumber(x, 0)}
		}
		return working.ShortestCell(x)
	}
	var rows []working.Row
	for i, b := range c.bins {
		below, _ := stats.Tails(c.distribution, b.Low)
		upTo, _ := stats.Tails(c.distribution, b.High)
		if i == 0 {
			below = 0
		}
		if i == len(c.bins)-1 {
			upTo = 1
		}
		rows = append(rows, working.Row{
			working.NameCell(c.className(b)), end(b.Low), end(b.High), working.WholeCell(b.Observed), s.EstimateCell(below, 4),
			s.EstimateCell(upTo, 4),
			s.ExpectedCell(c.stats.Expected[i], 2), s.StatisticCell(c.stats.Contribution[i], 3), working.WholeCell(b.Merged),
		})
	}
	t.SetRows(rows)
	s.Table(t)
}

func (s *fitted) test() {
	c := s.classed
	s.binsTable()
	var observed []float64
	for _, b := range c.bins {
		observed = append(observed, float64(b.Observed))
	}
	s.Column("bins/*/observed", observed)
	s.Column("bins/*/contribution", c.stats.Contribution)
	s.Define(working.Quantity{
		ID: "bins_used", Symbol: "m", Label: "Classes after merging", Says: "Each expects at least as many as is asked for.",
	}, working.Whole, float64(len(c.bins)), formula.Count{Column: s.Series("bins/*/observed", "O", 0)})
	s.Define(working.Quantity{
		ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic",
		Says: "How far all classes together lie from what the distribution expects.",
	}, working.Ratio, c.stats.ChiSquare, formula.Total{Column: s.Calculated("bins/*/contribution", `\frac{(O-E)^{2}}{E}`, 3)})
	s.Define(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom",
		Says: "Classes less one, as the counts add up to n, less one for each parameter that was estimated.",
	}, working.Degrees, c.stats.DF, formula.Subtract(formula.Ref("bins_used"), formula.Num(1), formula.Ref("parameters_estimated")))
	s.Test(working.Test{
		Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: s.Family, UpperOnly: true,
		Name: "χ², " + s.DegreesWords("df"), Extreme: "counts at least this far from the expected ones",
	})
}

func (s *fitted) conditions() {
	s.TakenAsMet(write.Alone)
	var names []string
	for _, b := range s.classed.bins {
		names = append(names, s.classed.className(b))
	}
	s.ExpectedCells(s.classed.stats.Expected, names, "Merge more classes.")
	s.ConditionsStep([]string{"independence", "expected-counts"})
}

// mergedWords says which classes were merged.
func (s *fitted) mergedWords() working.Block {
	var parts []string
	for _, b := range s.classed.bins {
		if b.Merged > 1 {
			parts = append(parts, fmt.Sprintf("%s (of %d classes)", s.classed.className(b), b.Merged))
		}
	}
	if parts == nil {
		return working.Say("No class had to be merged: each *expects* at least %s.", working.FormatShortest(s.o.least))
	}
	return working.Say("Classes that *expect* fewer than %s were merged with a neighbour: %s. It is the expected count that decides, "+
		"not the observed one.",
		working.FormatShortest(s.o.least), strings.Join(parts, "; "))
}

// statistic writes the steps on the statistic and on its critical value.
func (s *fitted) statistic() {
	s.Step(working.Statistic, working.Textf("χ² = @{chi_square}"),
		working.Say("The expected count of a class is n times its probability: the distribution function at its end less that at its beginning. "+
			"The first and the last class run to the ends of what is possible, so that the expected counts add up to n."),
		s.mergedWords(), working.TableBlock{Table: "bins"}, working.FormulaBlock{Quantity: "chi_square"})
	s.CriticalValueStep(append([]working.Block{
		working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: @{bins_used} classes, less one because the counts add up to n, less " +
			"@{parameters_estimated} for the parameters that were estimated. They come from the classes, not from the cases."),
	}, s.PrintedChiSquare()...)...)
}

func (s *fitted) conclude() {
	s.ConclusionStep(write.Conclusion{Used: s.classed.stats.N, Instead: "They go with it, and may go with other distributions too."})
	s.ReportStep(working.Textf("%s against %s distribution, *χ*²(@{df}, *N* = @{n}) = @{chi_square}, *p* %s@{p}.",
		words.UpperFirst(s.name()), s.classed.article, s.Relation("p")),
		"The degrees of freedom and the number of cases in brackets, then the statistic and p.")
	s.Step(working.FollowUp, nil, working.Say("**Another distribution?** Not rejecting one does not single it out. "+
		"Another can be tried on the same classes, beside the picture or under the curve."))
}
