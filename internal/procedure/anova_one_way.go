package procedure

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// anovaOneWay compares the means of several groups by their variation between and within,
// or in Welch's form with variances kept apart, and then every two of them.
var anovaOneWay = &Procedure{
	Description: Description{
		ID:         "anova-one-way",
		Title:      "Several means",
		Asks:       "Do several groups have the same mean, and which differ?",
		AlsoCalled: []string{"one-way analysis of variance", "ANOVA", "F test of means", "Welch's analysis of variance", "Tukey's comparisons", "planned contrast"},
		Takes:      []Takes{TakesVariables, TakesSummary},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "group", Label: "Group", Says: "the category that tells the groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1},
		},
		Options: []Option{
			{ID: "comparisons", Label: "Comparisons", Type: ChoiceOption, Default: "tukey",
				Says: "How every two groups are compared after the test, so that all comparisons together keep to alpha.",
				Choices: []Choice{
					{Value: "tukey", Label: "Tukey", Says: "made for all pairs: intervals and p-values that hold together; with variances kept apart in the form of Games and Howell"},
					{Value: "holm", Label: "Holm", Says: "p-values corrected step by step, for any number of comparisons; no intervals"},
					{Value: "bonferroni", Label: "Bonferroni", Says: "each p-value times the number of comparisons: simple, and careful"},
					{Value: "none", Label: "none", Says: "no comparisons of pairs"},
				}},
			{ID: "variances", Label: "Variances", Type: ChoiceOption, Default: "equal", Live: true, Key: "v",
				Says: "Whether all groups are taken to spread alike. Pooled is the usual form; kept apart is safe in either case.",
				Choices: []Choice{
					{Value: "equal", Label: "pooled", Says: "all groups estimate one common variance"},
					{Value: "unequal", Label: "kept apart", Says: "each group's variance stands for itself (Welch)"},
				}},
			{ID: "reference", Label: "Reference", Type: LevelOption, Of: "group", Says: "The group that each of the others is set against."},
			{ID: "contrast", Label: "Contrast", Type: ContrastOption, Says: "A weight for each group: what is asked of some groups against others, planned beforehand."},
		},
	},
	Work: workAnovaOneWay,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		response, factor := assigned["response"][0], assigned["group"][0]
		return fmt.Sprintf("%s is a number, and %s parts the cases into %s: their means are compared all at once, then pair by pair.", response.Title(), inSentence(factor.Title()), count(used(factor), "group")), true
	},
}

// severalMeans is the problem while it is worked.
type severalMeans struct {
	location
	data     *grouped
	moments  []stats.Moments
	equal    bool // whether variances are taken as equal
	stats    stats.OneWay
	welch    stats.Welch
	decimals int // with which the values were entered
	groups   *working.Table

	comparisons string
	reference   int
	weights     []float64 // of the contrast; nil where none is asked for
	tail        problem.Tail
}

func workAnovaOneWay(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	g, err := readGroups(p, nil)
	if err != nil {
		return nil, err
	}
	s := &severalMeans{location: location{p: p, unit: g.response.Unit, family: fFamily, parameter: "mean"}, data: g, equal: options["variances"] == "equal", comparisons: options["comparisons"].(string)}
	if err := g.needSeveral(); err != nil {
		return nil, err
	}
	for _, one := range g.groups {
		s.moments = append(s.moments, one.moments)
		s.decimals = max(s.decimals, working.DecimalsOf(one.values, maxDecimals))
	}
	s.stats = stats.NewOneWay(s.moments)
	if err := s.judge(); err != nil {
		return nil, err
	}
	if err := s.readReference(options["reference"]); err != nil {
		return nil, err
	}
	if err := s.readContrast(options["contrast"]); err != nil {
		return nil, err
	}
	used := g.used()
	s.Working = working.New(p, d.Title, working.Cases{Given: g.given, Used: used, LeftOut: g.given - used})
	s.SetScale(math.Sqrt(s.stats.MSWithin * float64(len(g.groups)) / float64(used)))
	s.controls(d, options)
	s.Brief(working.Textf("Compare **%s** between the **%d** groups of **%s**", inSentence(g.response.Label), len(g.groups), inSentence(g.factor)))
	s.DefineAlpha()
	s.question()
	s.table()
	s.look()
	s.hypotheses()
	s.variation()
	s.test()
	s.conditions()
	s.steps()
	return s.Working, nil
}

// needSeveral checks that there are two groups or more, with numbers to calculate with.
func (g *grouped) needSeveral() error {
	at, more := "/roles/group", "choose a group variable with two levels or more"
	if g.summary {
		at, more = "/data/summary/groups", "give two groups or more"
	}
	if len(g.groups) < 2 {
		return problem.Errors{{Pointer: at, Says: fmt.Sprintf("“%s” has %s with usable cases, and means are compared", problem.Shorten(g.factor), count(len(g.groups), "level")), Instead: more}}
	}
	for _, one := range g.groups {
		if math.IsInf(one.moments.SD, 0) || math.IsInf(one.moments.Mean, 0) {
			return problem.Errors{{Pointer: at, Says: fmt.Sprintf("the numbers of “%s” are too large to calculate with", problem.Shorten(one.name)), Instead: "write them in a larger unit"}}
		}
	}
	return nil
}

// judge checks that there is a spread to compare by, and compares.
func (s *severalMeans) judge() error {
	at := "/roles/response"
	if s.data.summary {
		at = "/data/summary/groups"
	}
	for _, g := range s.data.groups {
		if !s.equal && !(g.moments.SD > 0) {
			says := fmt.Sprintf("“%s” has one case only", problem.Shorten(g.name))
			if g.moments.N > 1 {
				says = fmt.Sprintf("all values of “%s” are equal", problem.Shorten(g.name))
			}
			return problem.Errors{{Pointer: "/options/variances", Says: says + ", and with variances kept apart each group needs a spread of its own", Instead: "take “equal”, or give it more cases"}}
		}
	}
	switch {
	case s.stats.DFWithin < 1:
		return problem.Errors{{Pointer: at, Says: "there is one case only in each group, so nothing shows how far cases spread", Instead: "give more cases"}}
	case s.stats.Within == 0:
		return problem.Errors{{Pointer: at, Says: "no group has any spread: all values in a group are equal, so there is nothing to measure the differences by", Instead: "check the data"}}
	}
	f := s.stats.F
	if !s.equal {
		s.welch = stats.NewWelch(s.moments)
		f = s.welch.F
	}
	if math.IsInf(f, 0) || math.IsNaN(f) || math.IsInf(s.stats.Total, 0) || s.stats.Within < 1e-290 {
		return tooFarApart()
	}
	return nil
}

// find returns the place of the group of that code or name, −1 where there is none or more
// than one.
func (s *severalMeans) find(wanted string) int {
	at := slices.IndexFunc(s.data.groups, func(g group) bool { return g.code == wanted })
	if at >= 0 {
		return at
	}
	for i, g := range s.data.groups {
		if g.name == wanted {
			if at >= 0 {
				return -1
			}
			at = i
		}
	}
	return at
}

func (s *severalMeans) names() []string {
	var names []string
	for _, g := range s.data.groups {
		names = append(names, g.name)
	}
	return names
}

// noSuchLevel says that an option names a group that is not there.
func (s *severalMeans) noSuchLevel(option, wanted string) error {
	return problem.Errors{problem.Unknown(problem.Pointer("options", option), "level of “"+problem.Shorten(s.data.factor)+"”", wanted, s.names())}
}

func (s *severalMeans) readReference(option any) error {
	wanted, given := option.(string)
	if !given {
		return nil
	}
	if s.reference = s.find(wanted); s.reference < 0 {
		return s.noSuchLevel("reference", wanted)
	}
	return nil
}

func (s *severalMeans) controls(d *Description, options Options) {
	s.Control(working.AlphaControl(s.p.Alpha))
	for i := range d.Options {
		switch option := &d.Options[i]; option.ID {
		case "variances":
			s.Control(option.control(fmt.Sprint(options["variances"])))
		case "comparisons":
			c := option.control(s.comparisons)
			c.Beside, c.Key = working.InStep, "c"
			s.Control(c)
		case "reference":
			c := option.control(s.data.groups[s.reference].code)
			c.Beside, c.Key = working.InStep, "l"
			for _, g := range s.data.groups {
				c.Choices = append(c.Choices, working.Choice{Value: g.code, Label: g.name})
			}
			s.Control(c)
		}
	}
}

// mean names the mean of the response in a sentence: "mean loading time".
func (s *severalMeans) mean() string { return "mean " + inSentence(s.data.response.Label) }

func (s *severalMeans) nullWords() string {
	return fmt.Sprintf("%s is the same in all groups", s.mean())
}

func (s *severalMeans) alternativeWords() string {
	return fmt.Sprintf("%s differs between the groups", s.mean())
}

func (s *severalMeans) question() {
	blocks := append(s.claimBlocks(), working.Say("The question is about the means of *%s* in **%s** of *%s*: whether they are all the same. One test answers it for all at once; comparing pair by pair without it would find differences by chance more often, the more pairs there are.", inSentence(s.data.response.Label), count(len(s.data.groups), "group"), inSentence(s.data.factor)))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

// table writes the step with the groups.
func (s *severalMeans) table() {
	groups := s.data.groups
	var ns, means, weighted []float64
	for _, g := range groups {
		n := float64(g.moments.N)
		ns, means, weighted = append(ns, n), append(means, g.moments.Mean), append(weighted, n*g.moments.Mean)
	}
	s.Column("groups/*/n", ns)
	s.Column("groups/*/mean", means)
	s.Column("groups/*/weighted", weighted)
	sizes := s.Series("groups/*/n", "n_{i}", 0)
	s.Define(working.Quantity{ID: "groups", Symbol: "k", Label: "Groups", Says: "How many means are compared."}, working.Whole, float64(len(groups)), formula.Count{Column: sizes})
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "In all groups together."}, working.Whole, float64(s.data.used()), formula.Total{Column: sizes})
	s.Define(working.Quantity{ID: "mean", Symbol: `\bar{x}`, Label: "Mean of all cases", Unit: s.unit, Says: "Each case counts alike, so that a larger group counts for more."},
		working.Measure, s.stats.Mean(), formula.Quotient{Over: formula.Total{Column: s.Calculated("groups/*/weighted", `n_{i}\bar{x}_{i}`, s.decimals+1)}, Under: formula.Ref("n")})
	s.groupTable()
	used, given := s.data.used(), s.data.given
	blocks := []working.Block{working.Say("%s in %s.", upperFirst(count(used, "case")), count(len(groups), "group"))}
	if left := given - used; left > 0 {
		blocks = []working.Block{working.Say("%s in all, of which @{n} used, in %s. Left out: %s.", upperFirst(count(given, "case")), count(len(groups), "group"), leftOutWords(s.p.LeaveOut, left, "with a missing value"))}
	}
	blocks = append(blocks, s.sizeWords(), working.TableBlock{Table: "groups"})
	if s.data.summary {
		blocks = append(blocks, working.Note("Only the summary is given, so nothing can be said about single cases or about the shape of the groups."))
	} else {
		s.Table(s.casesTable())
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, "n = "+s.Show("n"), blocks...)
}

// sizeWords says what it means that the groups differ in size, or that they do not.
func (s *severalMeans) sizeWords() working.Block {
	smallest, largest := &s.data.groups[0], &s.data.groups[0]
	for i := range s.data.groups {
		g := &s.data.groups[i]
		if g.moments.N < smallest.moments.N {
			smallest = g
		}
		if g.moments.N > largest.moments.N {
			largest = g
		}
	}
	if smallest.moments.N == largest.moments.N {
		return working.Say("All groups have %s, which makes the test least sensitive to unequal spreads.", count(smallest.moments.N, "case"))
	}
	return working.Say("The groups differ in size, from %d (%s) to %d (%s). That is no obstacle: each mean counts by its cases. Unequal spreads do more harm then.", smallest.moments.N, smallest.name, largest.moments.N, largest.name)
}

// groupTable lists n, mean and spread of each group, with an interval for its mean.
func (s *severalMeans) groupTable() {
	level, area := s.p.ConfidenceLevel(), s.p.Alpha
	if s.p.Confidence != nil {
		area = stats.DecimalDifference(1, level)
	}
	s.Define(working.Quantity{ID: "pooled_sd", Symbol: "s_p", Label: "Spread within the groups", Unit: s.unit, Says: "One standard deviation for all groups, pooled: the square root of the mean square within."}, working.Measure, math.Sqrt(s.stats.MSWithin),
		formula.Root{X: formula.Quotient{Over: formula.Total{Column: s.squares("within", `(n_{i}-1)s_{i}^{2}`, func(i int) float64 { return s.within(i) })}, Under: formula.Subtract(formula.Ref("n"), formula.Ref("groups"))}})
	reach := `t\cdot\frac{@{pooled_sd}}{\sqrt{@{n}}}`
	if !s.equal {
		reach = `t\cdot @{se}`
	}
	t := &working.Table{ID: "groups", Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)), Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Symbol: "n", Numeric: true},
		{ID: "mean", Label: "mean", Symbol: `\bar{x}_{i}`, Unit: s.unit, Numeric: true}, {ID: "sd", Label: "sd", Symbol: "s_{i}", Unit: s.unit, Numeric: true},
		{ID: "se", Label: "standard error", Symbol: `s_{\bar{x}}`, Unit: s.unit, Numeric: true, Formula: `\frac{@{sd}}{\sqrt{@{n}}}`},
		{ID: "variance", Label: "variance", Symbol: "s_{i}^{2}", Numeric: true, Hidden: true, Formula: `@{sd}^{2}`},
		{ID: "multiplier", Label: "t", Symbol: "t", Numeric: true, Hidden: true},
		{ID: "ci_low", Label: "mean from", Unit: s.unit, Numeric: true, Formula: strings.Replace(`@{mean}-`+reach, "t\\", `@{multiplier}\`, 1)},
		{ID: "ci_high", Label: "to", Unit: s.unit, Numeric: true, Formula: strings.Replace(`@{mean}+`+reach, "t\\", `@{multiplier}\`, 1)},
	}}
	var rows []working.Row
	mean, sd := s.measure, s.measure
	if s.data.summary && s.p.Decimals == nil { // as they were given
		var means, sds []float64
		for _, m := range s.moments {
			if means = append(means, m.Mean); m.N > 1 {
				sds = append(sds, m.SD)
			}
		}
		mean = func(x float64) working.Cell { return entered(x, working.DecimalsOf(means, maxDecimals)) }
		sd = func(x float64) working.Cell {
			if math.IsNaN(x) {
				return s.measure(x)
			}
			return entered(x, working.DecimalsOf(sds, maxDecimals))
		}
	}
	for _, g := range s.data.groups {
		m := g.moments
		se := m.SD / math.Sqrt(float64(m.N))
		df, spread := s.stats.DFWithin, math.Sqrt(s.stats.MSWithin)/math.Sqrt(float64(m.N))
		if !s.equal {
			df, spread = float64(m.N-1), se
		}
		times := dist.T{DF: df}.UpperQuantile(area / 2)
		rows = append(rows, working.Row{nameCell(g.name), wholeCell(m.N), mean(m.Mean), sd(m.SD), s.measure(se), s.number(m.SD*m.SD, working.DefaultDecimals), s.number(times, working.DefaultDecimals), s.measure(m.Mean - times*spread), s.measure(m.Mean + times*spread)})
	}
	t.SetRows(rows)
	s.Table(t)
	s.groups = t
}

// measure returns a number in the response's unit as a cell, empty where there is none.
func (s *severalMeans) measure(x float64) working.Cell {
	if math.IsNaN(x) {
		return working.Cell{Value: working.Number(x), Shown: "–"}
	}
	return working.Cell{Value: working.Number(x), Shown: s.ShowMeasure(x)}
}

// within returns the sum of squares within a group.
func (s *severalMeans) within(i int) float64 {
	if m := s.moments[i]; m.N > 1 {
		return float64(m.N-1) * m.SD * m.SD
	}
	return 0
}

// between returns the part of the sum of squares between that a group gives.
func (s *severalMeans) between(i int) float64 {
	return float64(s.moments[i].N) * s.stats.Distances[i] * s.stats.Distances[i]
}

// squares returns a column of the table of the split, made known to formulas.
func (s *severalMeans) squares(id, symbol string, of func(i int) float64) formula.Column {
	ref := "split/*/" + id
	column := make([]float64, len(s.moments))
	for i := range column {
		column[i] = of(i)
	}
	s.Column(ref, column)
	return s.Calculated(ref, symbol, working.DefaultDecimals)
}

func (s *severalMeans) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"group", "case"}, Total: s.data.used(), Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "group", Label: s.data.factor},
		{ID: "response", Label: s.data.response.Label, Unit: s.unit, Numeric: true},
		{ID: "within", Label: "from its group’s mean", Unit: s.unit, Numeric: true}, {ID: "between", Label: "that mean from the mean of all", Unit: s.unit, Numeric: true},
	}}
	t.Row = func(i int) working.Row {
		place := 0
		for i >= len(s.data.groups[place].values) {
			i -= len(s.data.groups[place].values)
			place++
		}
		g := &s.data.groups[place]
		return working.Row{{Value: g.cases[i], Shown: strconv.Itoa(g.cases[i])}, nameCell(g.name),
			entered(g.values[i], s.decimals),
			s.measure(g.moments.Deviation(g.values[i])), s.measure(s.stats.Distances[place])}
	}
	return t
}

// look draws the groups beside each other, in views of the same cases.
func (s *severalMeans) look() {
	views := []working.View{{Figure: "look", Label: "Boxes", Says: s.groupsFigure(s.data, s.decimals)}}
	if s.data.summary {
		views[0].Label = "Mean ± sd"
	} else {
		s.Figure(s.spreadFigure())
		views = append(views, working.View{Figure: "spread", Label: "Mean ± sd", Says: "The large dot is the mean of a group, the bar reaches one standard deviation to either side; the small dots are the cases."})
	}
	s.Figure(s.meansFigure())
	views = append(views, working.View{Figure: "means", Label: "Means with intervals", Says: fmt.Sprintf("Each mean with its %s\u00a0%% interval. Two intervals may overlap although the means differ significantly: the comparisons at the end tell.", s.levelWords())})
	low, high := s.extremes()
	s.Step(working.Look, fmt.Sprintf("%s to %s", s.ShowMeasure(s.moments[low].Mean), s.inMeasure(s.moments[high].Mean)),
		working.FigureBlock{Figure: "look", Views: views},
		working.Say("The sample means go from %s (%s) to %s (%s). Whether that is more than chance would bring is what the test is for.",
			s.ShowMeasure(s.moments[low].Mean), s.data.groups[low].name, s.inMeasure(s.moments[high].Mean), s.data.groups[high].name))
}

// inMeasure writes a number as ShowMeasure does, with the unit.
func (s *severalMeans) inMeasure(x float64) string {
	if s.unit == "" {
		return s.ShowMeasure(x)
	}
	return s.ShowMeasure(x) + "\u00a0" + s.unit
}

// extremes returns the places of the lowest and of the highest mean.
func (s *severalMeans) extremes() (low, high int) {
	for i, m := range s.moments {
		if m.Mean < s.moments[low].Mean {
			low = i
		}
		if m.Mean > s.moments[high].Mean {
			high = i
		}
	}
	return low, high
}

// spreadFigure draws each mean with one standard deviation to either side, and its cases.
func (s *severalMeans) spreadFigure() *working.Figure {
	f := &working.Figure{ID: "spread", Form: working.Intervals, Title: s.data.response.Label + ": mean ± one standard deviation", Axis: working.Axis{Label: s.data.response.Label, Unit: s.unit}}
	var ends []float64
	var says []string
	for row, g := range s.data.groups {
		low, high := g.moments.Mean-g.moments.SD, g.moments.Mean+g.moments.SD
		if g.moments.N == 1 {
			low, high = g.moments.Mean, g.moments.Mean
		}
		f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: g.name, Row: row, X: working.Positions(low, g.moments.Mean, high)},
			working.Mark{Shape: working.Points, Role: working.Observed, Label: g.name, Row: row, X: working.Positions(g.values...), Case: g.cases})
		ends = append(ends, low, high, g.five.Min, g.five.Max)
		says = append(says, fmt.Sprintf("%s: mean %s, one standard deviation %s to either side", g.name, s.ShowMeasure(g.moments.Mean), s.ShowMeasure(g.moments.SD)))
	}
	f.Axis.Min, f.Axis.Max = axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	return f
}

// meansFigure draws each mean with its interval.
func (s *severalMeans) meansFigure() *working.Figure {
	f := &working.Figure{ID: "means", Form: working.Intervals, Title: fmt.Sprintf("Means with %s\u00a0%% intervals", s.levelWords()), Axis: working.Axis{Label: s.data.response.Label, Unit: s.unit}}
	var ends []float64
	var says []string
	for row, g := range s.data.groups {
		cells := s.groups.Row(row)
		low, high := cells[len(cells)-2], cells[len(cells)-1]
		from, to := float64(low.Value.(working.Number)), float64(high.Value.(working.Number))
		f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: g.name, Row: row, X: working.Positions(from, g.moments.Mean, to)})
		ends = append(ends, from, to)
		says = append(says, fmt.Sprintf("%s: mean %s, interval %s to %s", g.name, s.ShowMeasure(g.moments.Mean), low.Shown, high.Shown))
	}
	f.Axis.Min, f.Axis.Max = axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	return f
}

// hypotheses has no direction to choose: means can differ in many ways.
func (s *severalMeans) hypotheses() {
	symbols := `\mu_{1} = \mu_{2}`
	switch k := len(s.data.groups); {
	case k == 3:
		symbols += ` = \mu_{3}`
	case k > 3:
		symbols += fmt.Sprintf(` = \dots = \mu_{%d}`, k)
	}
	blocks := []working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \text{not all } \mu_{i} \text{ equal}`, Words: s.alternativeWords()},
	}, working.Say("H₁ names no group and no direction: it is enough that one mean differs. A question about certain groups and a direction, asked beforehand, is a **contrast**, at the end.")}
	s.hypothesesStep("all μ equal", blocks...)
}

// variation splits the distances of the cases from the mean of all, and draws the split.
func (s *severalMeans) variation() {
	squared := s.unit
	if squared != "" {
		squared += "²"
	}
	sum := func(id, symbol, label, says string, value float64, expr formula.Expr) {
		s.Define(working.Quantity{ID: working.Ref(id), Symbol: symbol, Label: label, Unit: squared, Says: says}, working.Ratio, value, expr)
	}
	less := formula.Subtract
	one := formula.Num(1)
	sum("ss_between", `SS_{B}`, "Sum of squares between", "How far the group means lie from the mean of all: squared, and each counted once for every case of its group.", s.stats.Between,
		formula.Total{Column: s.squares("between", `n_{i}(\bar{x}_{i}-\bar{x})^{2}`, s.between)})
	sum("ss_within", `SS_{W}`, "Sum of squares within", "How far the cases lie from the mean of their own group, squared and added up.", s.stats.Within,
		formula.Total{Column: s.squares("within", `(n_{i}-1)s_{i}^{2}`, s.within)})
	sum("ss_total", `SS_{T}`, "Sum of squares in all", "How far the cases lie from the mean of all, squared and added up. The other two sums are its parts.", s.stats.Total, formula.Sum{formula.Ref("ss_between"), formula.Ref("ss_within")})
	pooled := formula.Expr(less(formula.Ref("n"), formula.Ref("groups")))
	if s.equal {
		s.Define(working.Quantity{ID: "df_between", Symbol: `\nu_{B}`, Label: "Degrees of freedom between", Says: "The group means are free but for one: together they give the mean of all."}, working.Degrees, s.stats.DFBetween, less(formula.Ref("groups"), one))
		s.Define(working.Quantity{ID: "df_within", Symbol: `\nu_{W}`, Label: "Degrees of freedom within", Says: "Every case gives one, and each of the means that were estimated takes one away."}, working.Degrees, s.stats.DFWithin, less(formula.Ref("n"), formula.Ref("groups")))
		pooled = formula.Ref("df_within")
	} else {
		s.Define(working.Quantity{ID: "df_between", Symbol: `\nu_{B}`, Label: "Degrees of freedom between", Says: "The group means are free but for one: together they give the mean of all."}, working.Degrees, s.stats.DFBetween, less(formula.Ref("groups"), one))
	}
	sum("ms_between", `MS_{B}`, "Mean square between", "The sum of squares between for each of its degrees of freedom.", s.stats.MSBetween, formula.Quotient{Over: formula.Ref("ss_between"), Under: formula.Ref("df_between")})
	sum("ms_within", `MS_{W}`, "Mean square within", "The sum of squares within for each of its degrees of freedom: the variance within the groups, pooled.", s.stats.MSWithin, formula.Quotient{Over: formula.Ref("ss_within"), Under: pooled})
	if !s.equal {
		s.weighted()
	} else {
		s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times as much the means differ as chance would make them, if H₀ is true."}, working.Ratio, s.stats.F, formula.Quotient{Over: formula.Ref("ms_between"), Under: formula.Ref("ms_within")})
	}
	s.typical()
	s.splitTable()
	s.Figure(s.splitFigure())
}

// weighted defines F of Welch's form and what it is made of.
func (s *severalMeans) weighted() {
	w := s.welch
	k, one := formula.Ref("groups"), formula.Num(1)
	t := &working.Table{ID: "weights", Title: "Weights of the groups", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Symbol: "n_{i}", Numeric: true}, {ID: "sd", Label: "sd", Symbol: "s_{i}", Unit: s.unit, Numeric: true},
		{ID: "weight", Label: "weight", Symbol: "w_{i}", Numeric: true, Formula: `\frac{@{n}}{@{sd}^{2}}`},
		{ID: "mean", Label: "mean", Symbol: `\bar{x}_{i}`, Unit: s.unit, Numeric: true},
		{ID: "part", Label: "weight · squared distance", Symbol: "q_{i}", Numeric: true, Formula: `@{weight}\cdot(@{mean}-@{weighted_mean})^{2}`},
		{ID: "rest", Label: "r", Symbol: "r_{i}", Numeric: true, Formula: `\frac{(1-@{weight}/@{weight_sum})^{2}}{@{n}-1}`}}}
	var rows []working.Row
	var weights, products, parts, rests []float64
	for i, g := range s.data.groups {
		d := g.moments.Mean - w.Mean
		rest := 1 - w.Weights[i]/w.Sum
		weights, products = append(weights, w.Weights[i]), append(products, w.Weights[i]*g.moments.Mean)
		parts, rests = append(parts, w.Weights[i]*d*d), append(rests, rest*rest/float64(g.moments.N-1))
		rows = append(rows, working.Row{nameCell(g.name), wholeCell(g.moments.N), s.measure(g.moments.SD), s.number(w.Weights[i], 3), s.measure(g.moments.Mean), s.number(parts[i], 3), s.number(rests[i], 4)})
	}
	t.SetRows(rows)
	s.Table(t)
	s.Column("weights/*/weight", weights)
	s.Column("weights/*/product", products)
	s.Column("weights/*/part", parts)
	s.Column("weights/*/rest", rests)
	s.Define(working.Quantity{ID: "weight_sum", Symbol: "W", Label: "Sum of the weights", Says: "A group weighs the more the more cases it has and the less it spreads."}, working.Ratio, w.Sum, formula.Total{Column: s.Calculated("weights/*/weight", "w_{i}", 3)})
	s.Define(working.Quantity{ID: "weighted_mean", Symbol: `\tilde{x}`, Label: "Weighted mean", Unit: s.unit, Says: "Of the group means, by their weights."}, working.Measure, w.Mean,
		formula.Quotient{Over: formula.Total{Column: s.Calculated("weights/*/product", `w_{i}\bar{x}_{i}`, 3)}, Under: formula.Ref("weight_sum")})
	s.Define(working.Quantity{ID: "weighted_ms", Symbol: "A", Label: "Weighted mean square between", Says: "The squared distances of the group means from the weighted mean, by their weights, for each degree of freedom."}, working.Ratio, w.Top,
		formula.Quotient{Over: formula.Total{Column: s.Calculated("weights/*/part", "q_{i}", 3)}, Under: formula.Ref("df_between")})
	s.Define(working.Quantity{ID: "lambda", Symbol: `\Lambda`, Label: "Correction for the estimated spreads", Says: "The smaller the groups, the less sure their spreads are."}, working.Ratio, w.Lambda,
		formula.Total{Column: s.Calculated("weights/*/rest", "r_{i}", 4)})
	square := formula.Subtract(formula.Square(k), one)
	s.Define(working.Quantity{ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times as much the means differ as chance would make them, if H₀ is true; each group by its own spread (Welch)."}, working.Ratio, w.F,
		formula.Quotient{Over: formula.Ref("weighted_ms"), Under: formula.Sum{one, formula.Product{formula.Quotient{Over: formula.Product{formula.Num(2), formula.Subtract(k, formula.Num(2))}, Under: square}, formula.Ref("lambda")}}})
	s.Define(working.Quantity{ID: "df_within", Symbol: `\nu_{W}`, Label: "Degrees of freedom within", Says: "An approximation (Welch), whole or not: the spreads were estimated too, each from its own cases."}, working.Degrees, w.DF2,
		formula.Quotient{Over: square, Under: formula.Product{formula.Num(3), formula.Ref("lambda")}})
}

// typical defines how far means lie from each other, and how far chance alone puts them, in
// the unit of the response. F is the square of their quotient.
func (s *severalMeans) typical() {
	total, squares := 0.0, 0.0
	for _, m := range s.moments {
		total += float64(m.N)
		squares += float64(m.N) * float64(m.N)
	}
	size := (total - squares/total) / s.stats.DFBetween
	s.Define(working.Quantity{ID: "typical_size", Symbol: "n_{0}", Label: "Typical size of a group", Says: "The number of cases by which the groups count on average; their common size where all are equal."}, working.Ratio, size,
		formula.Quotient{Over: formula.Subtract(formula.Ref("n"), formula.Quotient{Over: formula.Total{Column: s.squares("n_squared", "n_{i}^{2}", func(i int) float64 { n := float64(s.moments[i].N); return n * n })}, Under: formula.Ref("n")}), Under: formula.Ref("df_between")})
	root := func(ref formula.Ref) formula.Expr {
		return formula.Root{X: formula.Quotient{Over: ref, Under: formula.Ref("typical_size")}}
	}
	s.Define(working.Quantity{ID: "spread_of_means", Symbol: `s_{\bar{x}}`, Label: "Spread of the group means", Unit: s.unit, Says: "How far they typically lie from the mean of all."}, working.Measure, math.Sqrt(s.stats.MSBetween/size), root("ms_between"))
	s.Define(working.Quantity{ID: "chance_spread", Symbol: `s_{0}`, Label: "Spread by chance alone", Unit: s.unit, Says: "How far means of groups of this size would typically lie from each other if H₀ were true: the spread within, over the root of the size."}, working.Measure, math.Sqrt(s.stats.MSWithin/size), root("ms_within"))
}

// splitTable lists what each group gives to the sums of squares.
func (s *severalMeans) splitTable() {
	t := &working.Table{ID: "split", Title: "What each group gives to the sums of squares", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Symbol: "n_{i}", Numeric: true},
		{ID: "distance", Label: "mean − mean of all", Symbol: `\bar{x}_{i}-\bar{x}`, Unit: s.unit, Numeric: true},
		{ID: "between", Label: "between", Numeric: true, Formula: `@{n}\cdot(@{distance})^{2}`},
		{ID: "sd", Label: "sd", Symbol: "s_{i}", Unit: s.unit, Numeric: true},
		{ID: "within", Label: "within", Numeric: true, Formula: `(@{n}-1)\cdot @{sd}^{2}`}}}
	var rows []working.Row
	for i, g := range s.data.groups {
		rows = append(rows, working.Row{nameCell(g.name), wholeCell(g.moments.N), s.measure(s.stats.Distances[i]), s.number(s.between(i), 3), s.measure(g.moments.SD), s.number(s.within(i), 3)})
	}
	t.SetRows(rows)
	s.Table(t)
	variance := &working.Table{ID: "variance", Title: "Variance table", Key: []string{"source"}, Columns: []working.Column{
		{ID: "source", Label: "source"}, {ID: "ss", Label: "sum of squares", Numeric: true}, {ID: "df", Label: "df", Numeric: true}, {ID: "ms", Label: "mean square", Numeric: true}}}
	if s.equal {
		variance.Columns = append(variance.Columns, working.Column{ID: "f", Label: "F", Numeric: true})
	}
	cell := func(ref working.Ref) working.Cell {
		return working.Cell{Value: working.Number(s.Value(ref)), Shown: s.Show(ref), Ref: ref}
	}
	between := working.Row{nameCell("between groups"), cell("ss_between"), cell("df_between"), cell("ms_between")}
	within := working.Row{nameCell("within groups"), cell("ss_within"), wholeCell(int(s.stats.DFWithin)), cell("ms_within")}
	all := working.Row{nameCell("in all"), cell("ss_total"), wholeCell(s.data.used() - 1), {Value: working.Number(math.NaN())}}
	if s.equal {
		within[2] = cell("df_within")
		between = append(between, cell("f"))
		within = append(within, working.Cell{Value: working.Number(math.NaN())})
		all = append(all, working.Cell{Value: working.Number(math.NaN())})
	}
	variance.SetRows([]working.Row{between, within, all})
	s.Table(variance)
}

// splitFigure draws each case with its distance from its group's mean, each mean with its
// distance from the mean of all, and the sums of squares as squares.
func (s *severalMeans) splitFigure() *working.Figure {
	f := &working.Figure{ID: "split", Form: working.Split, Title: "Between and within", Series: []string{"between: " + s.Show("ss_between"), "within: " + s.Show("ss_within"), "in all: " + s.Show("ss_total")},
		Axis: working.Axis{Label: s.data.response.Label, Unit: s.unit}}
	ends := []float64{s.stats.Mean()}
	for row, g := range s.data.groups {
		mean := working.Mark{Shape: working.Line, Role: working.MeanMark, Row: row, Label: g.name, X: working.Positions(s.stats.Mean(), g.moments.Mean)}
		f.Marks = append(f.Marks, mean)
		ends = append(ends, g.moments.Mean)
		if !s.data.summary {
			f.Marks = append(f.Marks, working.Mark{Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(g.values...), Case: g.cases})
			ends = append(ends, g.five.Min, g.five.Max)
		} else if g.moments.N > 1 {
			low, high := g.moments.Mean-g.moments.SD, g.moments.Mean+g.moments.SD
			f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Row: row, X: working.Positions(low, g.moments.Mean, high)})
			ends = append(ends, low, high)
		}
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Bar, Role: working.Observed, Row: row, Part: 0, Label: g.name, X: working.Positions(s.between(row)), Refs: []working.Ref{"ss_between"}},
			working.Mark{Shape: working.Bar, Role: working.Observed, Row: row, Part: 1, Label: g.name, X: working.Positions(s.within(row)), Refs: []working.Ref{"ss_within"}})
	}
	f.Marks = append(f.Marks, working.Mark{Shape: working.RuleMark, Role: working.Expected, Label: "mean of all", X: working.Positions(s.stats.Mean()), Refs: []working.Ref{"mean"}})
	f.Axis.Min, f.Axis.Max = axis(ends...)
	f.Says = fmt.Sprintf("Cases about their group means, and the group means about the mean of all. The sum of squares in all, %s, is %s between the groups and %s within them.", s.Show("ss_total"), s.Show("ss_between"), s.Show("ss_within"))
	return f
}

func (s *severalMeans) test() {
	name := "F, " + s.DegreesWords("df_between", "df_within")
	s.Test(working.Test{Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_between", "df_within"}, Family: meansFamily, UpperOnly: true, Name: name,
		Extreme: "group means that differ at least as much, compared with the spread within the groups,"})
	s.resample()
	s.Define(working.Quantity{ID: "eta_squared", Symbol: `\eta^{2}`, Label: "Share between the groups (eta squared)", Says: "Which share of all the variation lies between the groups. In a sample it comes out too large."}, working.Ratio, s.stats.EtaSquared,
		formula.Quotient{Over: formula.Ref("ss_between"), Under: formula.Ref("ss_total")})
	omega := formula.Expr(formula.Quotient{
		Over:  formula.Subtract(formula.Ref("ss_between"), formula.Product{formula.Ref("df_between"), formula.Ref("ms_within")}),
		Under: formula.Sum{formula.Ref("ss_total"), formula.Ref("ms_within")}})
	if s.stats.OmegaSquared == 0 {
		omega = formula.NotBelow{X: omega}
	}
	s.Define(working.Quantity{ID: "omega_squared", Symbol: `\omega^{2}`, Label: "Share in the population (omega squared)", Says: "The same share, freed of what chance adds; 0 where chance alone would give as much."}, working.Ratio, s.stats.OmegaSquared, omega)
}

// meansFamily is F with the degrees of freedom between and within groups.
var meansFamily = formula.Family{Symbol: "F", Degrees: []formula.Ref{"df_between", "df_within"}, New: func(d []float64) dist.Distribution { return dist.F{DF1: d[0], DF2: d[1]} }}

// conditions judges what the test takes for granted and writes the step.
func (s *severalMeans) conditions() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this."))
	s.spreads()
	shown := []string{"independence", "equal-variances", "normality"}
	if !s.data.summary {
		s.instead = []working.Action{by("rank-k-sample", "Compare by ranks", "Works the same problem with the ranks of the cases, which need no shape, beside this one.")}
	}
	s.shape()
	var blocks []working.Block
	if !s.data.summary {
		var samples []spread
		for i := range s.data.groups {
			samples = append(samples, s.data.groups[i].spread())
		}
		s.outliers(samples, s.decimals)
		shown = append(shown, "outliers")
	}
	for _, id := range shown {
		blocks = append(blocks, working.Check{Condition: id})
	}
	if !s.data.summary {
		blocks = append(blocks, s.scoresBlocks(data.Heading{Label: "Distances from the group means", Unit: s.unit}, []spread{s.residuals()})...)
	}
	s.Step(working.Conditions, s.conditionKey(), blocks...)
}

// residuals returns the distances of the cases from the means of their groups, as one
// sample.
func (s *severalMeans) residuals() spread {
	var r spread
	for _, g := range s.data.groups {
		for i, x := range g.values {
			r.values, r.cases = append(r.values, g.moments.Deviation(x)), append(r.cases, g.cases[i])
		}
	}
	r.five = stats.NewFiveNumbers(stats.Sorted(r.values))
	return r
}

// spreads compares the spreads of the groups: up to twice the smallest sd is the usual rule
// for pooling (Moore and McCabe, Introduction to the Practice of Statistics, 12.1).
func (s *severalMeans) spreads() {
	small, large := -1, -1
	for i, m := range s.moments {
		if m.N < 2 {
			continue
		}
		if small < 0 || m.SD < s.moments[small].SD {
			small = i
		}
		if large < 0 || m.SD > s.moments[large].SD {
			large = i
		}
	}
	ratio := s.moments[large].SD / s.moments[small].SD
	spread := fmt.Sprintf("the largest sd, %s (%s), is %s times the smallest, %s (%s)", s.ShowMeasure(s.moments[large].SD), s.data.groups[large].name, working.FormatNumber(ratio, 1), s.ShowMeasure(s.moments[small].SD), s.data.groups[small].name)
	if math.IsInf(ratio, 0) {
		spread = fmt.Sprintf("the largest sd is %s (%s), and %s has none", s.ShowMeasure(s.moments[large].SD), s.data.groups[large].name, s.data.groups[small].name)
	}
	choose := func(id, label, value, says string) working.Action {
		return working.Action{ID: id, Label: label, Compare: true, Says: says, Set: []problem.Set{{Pointer: "/options/variances", Value: value}}}
	}
	more := s.byDeviations()
	if !s.equal {
		s.Condition("equal-variances", working.NotNeeded, working.Textf("Not needed: each group keeps its own variance (%s).%s", spread, more),
			choose("pool-variances", "Pool them and compare", "equal", "Works the same problem with one common variance, beside this one."))
		return
	}
	status, before, after := working.Met, "Alike enough to pool: ", "; up to twice is usual."
	if ratio > 2 {
		status, before, after = working.NotMet, "The spreads differ too much to pool: ", ", and up to twice is usual. With groups of different sizes the test then errs one way or the other."
	}
	ways := []working.Action{choose("keep-variances-apart", "Keep them apart and compare", "unequal", "Works the same problem with a variance for each group (Welch), beside this one.")}
	if !(s.moments[small].SD > 0) || slices.ContainsFunc(s.moments, func(m stats.Moments) bool { return m.N < 2 }) {
		ways = nil // kept apart, a group needs a spread of its own
	}
	s.Condition("equal-variances", status, working.Textf("%s%s%s%s", before, spread, after, more), ways...)
}

// byDeviations adds the comparison of the spreads by the distances from the medians; ""
// where there is none.
func (s *severalMeans) byDeviations() string {
	var samples [][]float64
	for _, g := range s.data.groups {
		samples = append(samples, g.values)
	}
	return s.spreadsByDeviations(samples)
}

// shape judges whether the means can be taken as normal, by W of the distances of all cases
// from their group means and by the difference of two means that is the most lopsided.
func (s *severalMeans) shape() {
	smallest := math.MaxInt
	for _, m := range s.moments {
		smallest = min(smallest, m.N)
	}
	if s.data.summary {
		if smallest >= stats.FewCases {
			s.unseenShape(working.Met, "With at least %d cases in each group the means are close to normal, unless the cases are strongly skewed, which a summary does not show.", smallest)
		} else {
			s.unseenShape(working.Doubtful, "Cannot be seen from a summary. With %s in the smallest group the cases themselves should be close to normal, without far outliers.", count(smallest, "case"))
		}
		return
	}
	r := s.residuals()
	skewness := s.mostLopsided(stats.NewMoments(r.values).Skewness(r.values))
	s.shapeCondition(shapeJudged{samples: []spread{r}, cases: "the distances of the cases from their group means", estimate: "the most lopsided difference of two means", symbol: "F", skewness: skewness})
}

// ownSkewness is from how many cases on a group's own skewness says more of it than that of all
// cases about their means.
const ownSkewness = 10

// mostLopsided returns the largest skewness that a difference of two of the means has, without
// its sign. common is the skewness of all cases about their means.
func (s *severalMeans) mostLopsided(common float64) float64 {
	means := make([]stats.WeighedMean, len(s.moments))
	for i, m := range s.moments {
		means[i] = stats.WeighedMean{Weight: 1, N: m.N, Skewness: common}
		if m.N > 1 {
			means[i].SD = m.SD
		}
		if m.N >= ownSkewness {
			means[i].Skewness = m.Skewness(s.data.groups[i].values)
		}
	}
	most := 0.0
	for i, first := range means {
		for _, second := range means[i+1:] {
			second.Weight = -1
			most = math.Max(most, math.Abs(stats.SkewnessOfMeans(first, second)))
		}
	}
	return most
}

// resample offers a simulation of F: the labels are shuffled or, where only a summary is
// given, samples are drawn from normal populations.
func (s *severalMeans) resample() {
	sizes := make([]int, len(s.moments))
	for i, m := range s.moments {
		sizes[i] = m.N
	}
	statistic := func() func(groups [][]float64) float64 {
		moments := make([]stats.Moments, len(sizes))
		return func(groups [][]float64) float64 {
			for i, g := range groups {
				moments[i] = stats.NewMoments(g)
			}
			if s.equal {
				return stats.NewOneWay(moments).F
			}
			return stats.NewWelch(moments).F
		}
	}
	if s.data.summary {
		sds := make([]float64, len(sizes))
		for i, m := range s.moments {
			sds[i] = m.SD
			if s.equal {
				sds[i] = math.Sqrt(s.stats.MSWithin)
			}
		}
		with := "with the standard deviations that were given"
		if s.equal {
			with = "with the pooled standard deviation"
		}
		s.ResampleBy(working.Resampling{
			How:     fmt.Sprintf("%s are drawn from normal populations with the same mean, %s, and F is calculated for them.", upperFirst(count(len(sizes), "sample")), with),
			Assumes: "The curve takes the same for granted: normal populations.",
			Sampler: func() stats.Sampler { return stats.DrawNormal(sizes, sds, statistic()) },
		})
		return
	}
	var values []float64
	for _, g := range s.data.groups {
		values = append(values, g.values...)
	}
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels of the %d groups are shuffled among the %d cases, and F is calculated anew.", len(sizes), len(values)),
		Assumes: "Shuffling needs no normal shape, but takes for granted that without a difference in means the groups would be alike, in spread too.",
		Sampler: func() stats.Sampler { return stats.ShuffleLabels(values, sizes, statistic()) },
	})
}

func (s *severalMeans) steps() {
	blocks := []working.Block{
		working.Say("Every case lies at some distance from the mean of all. That distance has two parts: how far its group’s mean lies from the mean of all, **between** the groups, and how far the case lies from its group’s mean, **within** it. Squared and added up over all cases, the two parts make up the whole."),
		working.FigureBlock{Figure: "split"},
		working.Note("A dot is a case, the thin line its distance from its group’s mean; the thick bar is that mean’s distance from the mean of all. Each square below has the sum of squares as its area, with a strip for each group."),
		working.FormulaBlock{Quantity: "ss_between"}, working.FormulaBlock{Quantity: "ss_within"}, working.FormulaBlock{Quantity: "ss_total"},
		working.TableBlock{Table: "split"},
		working.Note("*Between* is also called factor, treatment or model; *within* is also called error or residual."),
	}
	if s.equal {
		blocks = append(blocks,
			working.Say("For each degree of freedom that makes the mean squares, and F sets one against the other:"),
			working.FormulaBlock{Quantity: "ms_between"}, working.FormulaBlock{Quantity: "ms_within"}, working.FormulaBlock{Quantity: "f"}, working.TableBlock{Table: "variance"})
	} else {
		blocks = append(blocks, working.TableBlock{Table: "variance"},
			working.Say("The variances are **kept apart**: each group weighs by its cases and its own spread."),
			working.TableBlock{Table: "weights"}, working.FormulaBlock{Quantity: "weighted_mean"}, working.FormulaBlock{Quantity: "weighted_ms"}, working.FormulaBlock{Quantity: "lambda"}, working.FormulaBlock{Quantity: "f"})
	}
	blocks = append(blocks, s.meaning())
	s.Step(working.Statistic, "F = "+s.Show("f"), blocks...).Opens = "f"
	degrees := working.Say("Degrees of freedom: @{df_between} between, as @{groups} means are free but for one; @{df_within} within, as of @{n} cases each group’s mean takes one away.")
	if !s.equal {
		degrees = working.Say("Degrees of freedom: @{df_between} between, as @{groups} means are free but for one; @{df_within} within, estimated along with the spreads.")
	}
	s.CriticalValueStep(append([]working.Block{degrees, working.FormulaBlock{Quantity: "df_within"},
		working.Note("A printed F table has the degrees of freedom between the groups in its columns and those within in its rows.")}, s.printedF(s.p.Alpha, s.Value("df_between"), math.Floor(s.Value("df_within")))...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(), s.nullWords())
	s.conclude()
	s.followUp()
}

// meaning reads F in the unit of the response: why means that look different may not be, and
// the other way round.
func (s *severalMeans) meaning() working.Block {
	low, high := s.extremes()
	compared := "about as much as"
	switch q := math.Sqrt(s.stats.F); {
	case q >= 1.3:
		compared = working.FormatNumber(q, 1) + " times"
	case q <= 0.75:
		compared = "less than"
	}
	return working.Say("**What does that mean?** The means of %s and %s lie %s apart. But within a group, cases typically lie @{pooled_sd} from their mean, so that chance alone would make means of groups of this size spread by about @{chance_spread}. They spread by @{spread_of_means}: %s what chance would do. F is the square of that quotient%s, and near 1 if H₀ is true.",
		s.data.groups[low].name, s.data.groups[high].name, s.inMeasure(s.moments[high].Mean-s.moments[low].Mean), compared, map[bool]string{true: "", false: " but for the weights"}[s.equal])
}

func (s *severalMeans) conclude() {
	used := count(s.data.used(), "case")
	low, high := s.extremes()
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The sample means go from %s (%s) to %s (%s).", used, s.alternativeWords(),
			s.ShowMeasure(s.moments[low].Mean), s.data.groups[low].name, s.inMeasure(s.moments[high].Mean), s.data.groups[high].name),
			working.Warn("It says that not all means are equal. Which differ, and by how much, is for the comparisons."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that all means are the same.", used, s.alternativeWords()))
	}
	differed := "did not differ significantly"
	if s.Rejected() {
		differed = "differed significantly"
	}
	form := ""
	if !s.equal {
		form = ", variances not assumed equal"
	}
	report := working.Textf("%s %s between the %d groups, *F*(@{df_between}, @{df_within}) = @{f}, *p* %s@{p}%s, *η*² = @{eta_squared}, *ω*² = @{omega_squared}.", upperFirst(s.mean()), differed, len(s.moments), s.relation("p"), form)
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("F with its two degrees of freedom, p, and the size of the effect; means and standard deviations go into a table."))
	s.Conclude(s.conclusion, report)
}
