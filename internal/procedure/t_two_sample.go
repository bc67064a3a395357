package procedure

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// tTwoSample compares the means of two independent groups by Student's t with
// pooled variances, or by Welch's form of it with variances kept apart.
var tTwoSample = &Procedure{
	Description: Description{
		ID:         "t-two-sample",
		Title:      "Two means, independent groups",
		Asks:       "Do two groups have the same mean?",
		AlsoCalled: []string{"independent-samples t-test", "two-sample t-test", "Student's t-test", "Welch's t-test", "unpaired t-test"},
		Takes:      []Takes{TakesVariables, TakesSummary},
		Roles: []Role{
			{ID: "response", Label: "Response", Says: "the variable that was measured", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
			{ID: "group", Label: "Group", Says: "the category that tells the two groups apart", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2},
		},
		Options: []Option{
			{ID: "variances", Label: "Variances", Type: ChoiceOption, Default: "unequal", Live: true, Key: "v",
				Says: "Whether the two groups are taken to spread alike. Kept apart is safe in either case; pooled gains a little when they do.",
				Choices: []Choice{
					{Value: "unequal", Label: "kept apart", Says: "each group's variance stands for itself (Welch)"},
					{Value: "equal", Label: "pooled", Says: "both groups estimate one common variance (Student)"},
				}},
			{ID: "difference", Label: "Difference under H₀", Type: NumberOption, Default: 0.0,
				Says: "The difference of the means, first − second, that H₀ states."},
			{ID: "groups", Label: "Order of the groups", Type: LevelsOption, Length: 2,
				Says: "Which two groups are compared, the first minus the second."},
		},
		Tails: true,
	},
	Work: workTTwoSample,
	Fits: fitsTwoSample,
}

// fitsTwoSample says what is compared, and that two of several groups can be picked.
func fitsTwoSample(assigned map[string][]*data.Variable) (why string, ok bool) {
	response, factor := assigned["response"][0], assigned["group"][0]
	levels := used(factor)
	if levels > 2 {
		return fmt.Sprintf("%s is a number, and %s has %d levels: two of them can be picked and their means compared.", response.Title(), inSentence(factor.Title()), levels), true
	}
	return fmt.Sprintf("%s is a number, and %s parts the cases into two independent groups: their means are compared.", response.Title(), inSentence(factor.Title())), true
}

// maxDecimals is the most with which single values are shown.
const maxDecimals = 6

// twoSample is the problem while it is worked.
type twoSample struct {
	*working.Working
	p             *problem.Problem
	data          *grouped
	first, second *group
	pooled        bool
	difference0   float64
	stats         stats.TwoMeans
	family        formula.Family
	decimals      int // with which the values were entered
}

func workTTwoSample(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	picked, _ := options["groups"].([]string)
	g, err := readGroups(p, picked)
	if err != nil {
		return nil, err
	}
	if err := g.needTwo(); err != nil {
		return nil, err
	}
	g.letters()
	s := &twoSample{
		p: p, data: g, first: &g.groups[0], second: &g.groups[1],
		pooled:      options["variances"] == "equal",
		difference0: options["difference"].(float64),
	}
	s.stats = stats.CompareMeans(s.first.moments, s.second.moments, s.difference0, s.pooled)
	if math.IsInf(s.stats.T, 0) || math.IsNaN(s.stats.T) || math.IsInf(s.stats.Difference, 0) {
		return nil, problem.Errors{{Pointer: "/data", Says: "the numbers are too far apart in size to calculate with", Instead: "write them in another unit"}}
	}
	used := g.used()
	s.Working = working.New(p, d.Title, working.Cases{Given: g.given, Used: used, LeftOut: g.given - used})
	s.SetScale(s.stats.SE)
	s.decimals = max(working.DecimalsOf(s.first.values, maxDecimals), working.DecimalsOf(s.second.values, maxDecimals))
	s.controls(d)
	s.DefineAlpha()
	s.question()
	s.cases()
	s.look()
	s.hypotheses()
	s.statistic() // before the conditions are written, so that they may name its numbers
	return s.Working, nil
}

func (s *twoSample) controls(d *Description) {
	a, b := s.first.letter, s.second.letter
	s.Control(working.AlphaControl(s.p.Alpha))
	s.Control(working.Control{
		ID: "tail", Label: "H₁ says", Key: "t", Pointer: "/tail", Beside: working.BesideCurve, Value: string(s.p.Tail),
		Choices: []working.Choice{
			{Value: "left", Label: a + " < " + b, Says: s.alternativeWords(problem.Left)},
			{Value: "both", Label: a + " ≠ " + b, Says: s.alternativeWords(problem.Both)},
			{Value: "right", Label: a + " > " + b, Says: s.alternativeWords(problem.Right)},
		},
	})
	order := []string{s.first.code, s.second.code}
	turned := []string{s.second.code, s.first.code}
	s.Control(working.Control{
		ID: "groups", Label: "Direction", Key: "g", Pointer: "/options/groups", Beside: working.BesideBrief, Value: order,
		Choices: []working.Choice{
			{Value: order, Label: s.minus()},
			{Value: turned, Label: s.second.name + " − " + s.first.name, Says: "Turns the direction of every difference round; one tail keeps its side."},
		},
	})
	s.Brief(working.Textf("Compare **%s** between **%s** and **%s**", inSentence(s.data.response.Label), s.first.name, s.second.name))
	value := "unequal"
	if s.pooled {
		value = "equal"
	}
	for i := range d.Options {
		if option := &d.Options[i]; option.Live {
			s.Control(option.control(value))
		}
	}
}

// mean names the mean of the response in a sentence: "mean loading time".
func (s *twoSample) mean() string { return "mean " + inSentence(s.data.response.Label) }

// minus names the difference: "Mole − Quarry".
func (s *twoSample) minus() string { return s.first.name + " − " + s.second.name }

func (s *twoSample) question() {
	var blocks []working.Block
	if c := s.p.Claim; c != nil {
		about := ""
		if c.Population != "" {
			about = " about " + c.Population
		}
		if c.Is == problem.H0 {
			blocks = append(blocks, working.Say("The claim%s, “%s”, holds the equality, so it is **H₀**: what is taken to be so until the data speak against it.", about, c.Quoted()))
		} else {
			blocks = append(blocks, working.Say("The claim%s, “%s”, holds no equality, so it is **H₁**: what the test looks for evidence for.", about, c.Quoted()))
		}
	}
	blocks = append(blocks,
		working.Say("The question is about two means of *%s*: that of **%s** and that of **%s**. Throughout, a difference is %s.", inSentence(s.data.response.Label), s.first.name, s.second.name, s.minus()),
		working.Say("$α$ = @{alpha} is chosen now, before the data have been looked at."),
		working.Warn("$α$ is not a level of confidence and says nothing about this one result: it is how often the test rejects a true H₀ in the long run."))
	s.Step(working.Question, "α = "+s.Show("alpha"), blocks...).Opens = "alpha"
}

// pair defines a quantity for each group.
func (s *twoSample) pair(id, symbol, label, says, unit string, display working.Display, value func(*group) float64, expr func(i int, g *group) formula.Expr) {
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
func (s *twoSample) series(g *group) formula.Column {
	return s.Series(seriesRef(g), "x_{i}", s.decimals)
}

func seriesRef(g *group) string { return "cases/" + working.EscapeRef(g.name) + "|*/response" }

func indexed(id string, i int) formula.Ref { return formula.Ref(fmt.Sprintf("%s_%d", id, i)) }

func (s *twoSample) cases() {
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
	s.Define(working.Quantity{ID: "difference", Symbol: fmt.Sprintf(`\bar{x}_{%s}-\bar{x}_{%s}`, s.first.letter, s.second.letter),
		Label: "Difference of the means, " + s.minus(), Unit: unit, Says: "What the samples say about the difference of the two population means."},
		working.Measure, s.stats.Difference, formula.Subtract(formula.Ref("mean_1"), formula.Ref("mean_2")))

	groups := &working.Table{ID: "groups", Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)), Key: []string{"group"},
		Columns: []working.Column{
			{ID: "group", Label: s.data.factor}, {ID: "n", Label: "n", Numeric: true},
			{ID: "mean", Label: "mean", Unit: unit, Numeric: true}, {ID: "sd", Label: "sd", Unit: unit, Numeric: true},
		}}
	var rows []working.Row
	for i, g := range []*group{s.first, s.second} {
		row := working.Row{{Value: g.name, Shown: g.name}}
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
		says = working.Say("%s in all, of which %d used: @{n_1} of **%s** and @{n_2} of **%s**. Left out: %s.",
			count(given, "case"), given-leftOut, s.first.name, s.second.name, leftOutWords(s.p.LeaveOut, leftOut, s.data.summary))
	}
	blocks := []working.Block{says, working.TableBlock{Table: "groups"}}
	if s.data.summary {
		blocks = append(blocks, working.Note("Only the summary is given, so nothing can be said about single cases or about the shape of the groups."))
	} else {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, fmt.Sprintf("n = %s, %s", s.Show("n_1"), s.Show("n_2")), blocks...)
}

func (s *twoSample) casesTable() *working.Table {
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
			{Value: g.cases[i], Shown: strconv.Itoa(g.cases[i])}, {Value: g.name, Shown: g.name},
			{Value: working.Number(g.values[i]), Shown: working.FormatNumber(g.values[i], s.decimals)},
		}
	}
	return t
}

func (s *twoSample) look() {
	unit := s.data.response.Unit
	f := &working.Figure{ID: "look", Title: fmt.Sprintf("%s by %s", s.data.response.Label, inSentence(s.data.factor)),
		Axis: working.Axis{Label: s.data.response.Label, Unit: unit}}
	var ends []float64
	var says []string
	for row, g := range []*group{s.first, s.second} {
		ref := working.Ref(fmt.Sprintf("mean_%d", row+1))
		if s.data.summary {
			f.Form = working.Intervals
			low, high := g.moments.Mean-g.moments.SD, g.moments.Mean+g.moments.SD
			f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: g.name, Row: row,
				X: working.Positions(low, g.moments.Mean, high), Refs: []working.Ref{ref}})
			ends = append(ends, low, high)
			says = append(says, fmt.Sprintf("%s: mean %s, one standard deviation %s to either side", g.name, s.Show(ref), s.Show(working.Ref(fmt.Sprintf("sd_%d", row+1)))))
			continue
		}
		f.Form = working.Boxes
		five := g.five
		low, high := five.Whiskers(g.values)
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Box, Role: working.Observed, Label: g.name, Row: row, X: working.Positions(low, five.Q1, five.Median, five.Q3, high)},
			working.Mark{Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(g.values...), Case: g.cases},
			working.Mark{Shape: working.Points, Role: working.MeanMark, Row: row, X: working.Positions(g.moments.Mean), Refs: []working.Ref{ref}})
		ends = append(ends, five.Min, five.Max)
		decimals := s.decimals
		says = append(says, fmt.Sprintf("%s: from %s to %s, middle half %s to %s, median %s", g.name,
			working.FormatNumber(five.Min, decimals), working.FormatNumber(five.Max, decimals),
			working.FormatNumber(five.Q1, decimals+1), working.FormatNumber(five.Q3, decimals+1), working.FormatNumber(five.Median, decimals+1)))
	}
	low, high := working.Padded(0.05, ends...)
	f.Axis.Min, f.Axis.Max = working.Number(low), working.Number(high)
	f.Says = strings.Join(says, ". ") + "."
	s.Figure(f)

	reading := working.Note("Each dot is a case. The box holds the middle half of a group, the thick line is its median, the ring its mean; the whiskers end at the last case within one and a half box lengths. A quartile is the median of its half.")
	if s.data.summary {
		reading = working.Note("The dot is the mean of a group, the bar reaches one standard deviation to either side.")
	}
	s.Step(working.Look, fmt.Sprintf("%s, %s", s.Show("mean_1"), s.withUnit("mean_2")),
		working.FigureBlock{Figure: "look"},
		working.Say("The sample means are @{mean_1} (%s) and @{mean_2} (%s). Whether that is more than chance would bring is what the test is for.", s.first.name, s.second.name),
		reading)
}

// withUnit returns a quantity as shown, with its unit.
func (s *twoSample) withUnit(id working.Ref) string {
	return s.Plain(working.Text{{Ref: id}})
}

// alternativeWords says what H₁ says with the given tail.
func (s *twoSample) alternativeWords(tail problem.Tail) string {
	if s.difference0 != 0 {
		is := map[problem.Tail]string{problem.Both: "is not", problem.Left: "is less than", problem.Right: "is greater than"}[tail]
		return fmt.Sprintf("the difference in %s, %s, %s %s", s.mean(), s.minus(), is, s.hypothesised())
	}
	switch tail {
	case problem.Left:
		return fmt.Sprintf("%s is lower for %s than for %s", s.mean(), s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s is higher for %s than for %s", s.mean(), s.first.name, s.second.name)
	}
	return fmt.Sprintf("%s differs between %s and %s", s.mean(), s.first.name, s.second.name)
}

// nullWords says what H₀ says.
func (s *twoSample) nullWords() string {
	if s.difference0 != 0 {
		is := map[problem.Tail]string{problem.Both: "is", problem.Left: "is at least", problem.Right: "is at most"}[s.p.Tail]
		return fmt.Sprintf("the difference in %s, %s, %s %s", s.mean(), s.minus(), is, s.hypothesised())
	}
	switch s.p.Tail {
	case problem.Left:
		return fmt.Sprintf("%s is not lower for %s than for %s", s.mean(), s.first.name, s.second.name)
	case problem.Right:
		return fmt.Sprintf("%s is not higher for %s than for %s", s.mean(), s.first.name, s.second.name)
	}
	return fmt.Sprintf("%s is the same for %s and %s", s.mean(), s.first.name, s.second.name)
}

// nullPredicate says what H₀ says, after "it".
func (s *twoSample) nullPredicate() string {
	if s.difference0 != 0 {
		return map[problem.Tail]string{problem.Both: "is ", problem.Left: "is at least ", problem.Right: "is at most "}[s.p.Tail] + s.hypothesised()
	}
	return map[problem.Tail]string{problem.Both: "is the same", problem.Left: "is not lower", problem.Right: "is not higher"}[s.p.Tail]
}

// hypothesised returns the hypothesised difference with its unit.
func (s *twoSample) hypothesised() string {
	text := working.FormatShortest(s.difference0)
	if s.data.response.Unit != "" {
		text += "\u00a0" + s.data.response.Unit
	}
	return text
}

func (s *twoSample) hypotheses() {
	s.Define(working.Quantity{ID: "difference_0", Symbol: fmt.Sprintf(`(\mu_{%s}-\mu_{%s})_0`, s.first.letter, s.second.letter),
		Label: "Difference under H₀", Unit: s.data.response.Unit, Says: "The difference of the population means that H₀ states."}, working.Given, s.difference0, nil)
	signs := map[problem.Tail][2]string{problem.Both: {"=", "≠"}, problem.Left: {"≥", "<"}, problem.Right: {"≤", ">"}}[s.p.Tail]
	teX := strings.NewReplacer("≠", `\ne`, "≥", `\ge`, "≤", `\le`).Replace
	symbols := func(sign string) string {
		return fmt.Sprintf(`\mu_{%s}-\mu_{%s} %s %s`, s.first.letter, s.second.letter, teX(sign), formula.TeXNumber(working.FormatShortest(s.difference0)))
	}
	key := fmt.Sprintf("μ_%s %s μ_%s", s.first.letter, signs[0], s.second.letter)
	if s.difference0 != 0 {
		key = fmt.Sprintf("μ_%s − μ_%s %s %s", s.first.letter, s.second.letter, signs[0], working.FormatShortest(s.difference0))
	}
	why := working.Say("Nothing in the question says beforehand which mean should be the larger, so H₁ looks both ways: **two tails**.")
	switch s.p.Tail {
	case problem.Left:
		why = working.Say("H₁ says “less”: only a difference %s well *below* %s speaks for it, so the test has **one tail, the left**.", s.minus(), s.hypothesised())
	case problem.Right:
		why = working.Say("H₁ says “greater”: only a difference %s well *above* %s speaks for it, so the test has **one tail, the right**.", s.minus(), s.hypothesised())
	}
	blocks := []working.Block{
		working.HypothesesBlock{
			Null:        working.Hypothesis{Symbols: `H_0:\; ` + symbols(signs[0]), Words: s.nullWords()},
			Alternative: working.Hypothesis{Symbols: `H_1:\; ` + symbols(signs[1]), Words: s.alternativeWords(s.p.Tail)},
		},
		why,
	}
	if s.p.Tail != problem.Both {
		blocks = append(blocks,
			working.Note("The calculation uses the boundary of H₀, a difference of exactly %s: whatever speaks against the boundary speaks even more against the rest of H₀.", s.hypothesised()),
			working.Warn("The direction has to come from the question. Choosing it after a look at the means doubles the true chance of a Type I error."))
	}
	s.Step(working.Hypotheses, key, blocks...)
}

// statistic defines the numbers of the test and writes the steps from the
// conditions on.
func (s *twoSample) statistic() {
	unit := s.data.response.Unit
	ref := func(id string) formula.Expr { return formula.Ref(id) }
	share := func(i int) formula.Expr {
		return formula.Quotient{Over: formula.Square(indexed("sd", i)), Under: indexed("n", i)}
	}
	oneLess := func(i int) formula.Expr { return formula.Subtract(indexed("n", i), formula.Num(1)) }
	inverse := func(i int) formula.Expr {
		return formula.Quotient{Over: formula.Num(1), Under: indexed("n", i)}
	}
	seSymbol := fmt.Sprintf(`s_{\bar{x}_{%s}-\bar{x}_{%s}}`, s.first.letter, s.second.letter)
	se := working.Quantity{ID: "se", Symbol: seSymbol, Label: "Standard error of the difference", Unit: unit,
		Says: "How far the difference of two such sample means typically lies from the difference of the population means."}
	df := working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom"}
	var steps []working.Block
	if s.pooled {
		s.Define(working.Quantity{ID: "pooled_sd", Symbol: "s_p", Label: "Pooled standard deviation", Unit: unit,
			Says: "One common standard deviation, estimated from both groups; each group counts by its n − 1."},
			working.Measure, s.stats.PooledSD, formula.Root{X: formula.Quotient{
				Over:  formula.Sum{formula.Product{oneLess(1), formula.Square(ref("sd_1"))}, formula.Product{oneLess(2), formula.Square(ref("sd_2"))}},
				Under: formula.Sum{ref("n_1"), ref("n_2"), formula.Minus{X: formula.Num(2)}},
			}})
		s.Define(se, working.Measure, s.stats.SE, formula.Product{ref("pooled_sd"), formula.Root{X: formula.Sum{inverse(1), inverse(2)}}})
		df.Says = "Every case gives one degree of freedom, and each of the two means that were estimated takes one away."
		s.Define(df, working.Degrees, s.stats.DF, formula.Sum{ref("n_1"), ref("n_2"), formula.Minus{X: formula.Num(2)}})
		steps = append(steps, working.Say("The variances are **pooled**: both groups together estimate one common standard deviation."), working.FormulaBlock{Quantity: "pooled_sd"})
	} else {
		s.Define(se, working.Measure, s.stats.SE, formula.Root{X: formula.Sum{share(1), share(2)}})
		df.Says = "An approximation (Welch): a number, whole or not, between the smaller group's n − 1 and n₁ + n₂ − 2. The more one group dominates the standard error, the closer it comes to that group's n − 1."
		squared := func(i int) formula.Expr {
			return formula.Quotient{Over: formula.Square(share(i)), Under: oneLess(i)}
		}
		s.Define(df, working.Degrees, s.stats.DF, formula.Quotient{
			Over:  formula.Square(formula.Sum{share(1), share(2)}),
			Under: formula.Sum{squared(1), squared(2)},
		})
		steps = append(steps, working.Say("The variances are **kept apart**: each mean brings its own uncertainty, $s$²/$n$, and the two add up."))
	}
	over := formula.Subtract(ref("mean_1"), ref("mean_2"))
	if s.difference0 != 0 {
		over = formula.Subtract(ref("mean_1"), ref("mean_2"), ref("difference_0"))
	}
	s.Define(working.Quantity{ID: "t", Symbol: "t", Label: "Test statistic", Says: "How many standard errors the observed difference lies from the difference that H₀ states."},
		working.Ratio, s.stats.T, formula.Quotient{Over: over, Under: ref("se")})
	steps = append(steps,
		working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "t"},
		s.distance(),
		working.Note("It is $t$ and not $z$, because the standard deviations were estimated from the samples; $z$ belongs where the population's are known."))

	extreme := fmt.Sprintf("a difference between the sample means at least this many standard errors from %s, in either direction,", s.hypothesised())
	switch s.p.Tail {
	case problem.Left:
		extreme = "a difference between the sample means as low as this one or lower, in standard errors,"
	case problem.Right:
		extreme = "a difference between the sample means as high as this one or higher, in standard errors,"
	}
	s.family = formula.Family{Symbol: "t", Degrees: []formula.Ref{"df"}, New: func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
	s.Test(working.Test{
		Statistic: "t", Symbol: "t", Degrees: "df", Family: s.family,
		Name:    fmt.Sprintf("t, %s degrees of freedom", s.Show("df")),
		Extreme: extreme,
	})

	s.conditions()
	s.Step(working.Statistic, "t = "+s.Show("t"), steps...).Opens = "t"
	s.CriticalValueStep(s.degrees()...)
	s.PValueStep()
	s.DecisionStep(working.Words{
		TypeI:    fmt.Sprintf("concluding that %s, when in truth %s", s.alternativeWords(s.p.Tail), s.nullWords()),
		TypeII:   fmt.Sprintf("not rejecting, although in truth %s", s.alternativeWords(s.p.Tail)),
		NotEqual: "that " + s.nullWords(),
	})
	s.conclude()
	s.followUp()
}

// distance says how far the observed difference lies from H₀.
func (s *twoSample) distance() working.Block {
	if s.stats.T == 0 {
		return working.Say("The observed difference, @{difference}, is just what H₀ states.")
	}
	side := "above"
	if s.stats.T < 0 {
		side = "below"
	}
	return working.Say("The observed difference of @{difference} lies @{t|%s} standard errors of @{se} %s the %s that H₀ states.",
		strings.TrimPrefix(s.Show("t"), "−"), side, s.hypothesised())
}

// degrees explains the degrees of freedom and where a printed table shows the
// critical value.
func (s *twoSample) degrees() []working.Block {
	blocks := []working.Block{working.FormulaBlock{Quantity: "df"}}
	if s.pooled {
		blocks = append(blocks, working.Say("Degrees of freedom: all @{n_1} + @{n_2} cases, less one for each of the two means estimated."))
	} else {
		blocks = append(blocks, working.Say("Degrees of freedom: with variances kept apart they are estimated too, and need not be whole."))
	}
	area := s.p.Alpha
	if s.p.Tail == problem.Both {
		area /= 2
	}
	column := working.FormatShortest(area)
	if working.IsWhole(s.stats.DF) {
		return append(blocks, working.Note("A printed t table shows it in the row of @{df} degrees of freedom, in the column of area %s in one tail. If the table skips that row, take the next smaller one.", column))
	}
	row := math.Floor(s.stats.DF)
	if row < 1 {
		return blocks
	}
	areaExpr := formula.Expr(formula.Ref("alpha"))
	if s.p.Tail == problem.Both {
		areaExpr = formula.Quotient{Over: areaExpr, Under: formula.Num(2)}
	}
	printed := s.family
	printed.Degrees = []formula.Ref{"df_printed"}
	s.Define(working.Quantity{ID: "df_printed", Symbol: `\nu_{\text{table}}`, Label: "Degrees of freedom, rounded down", Says: "Printed tables have whole rows; rounding down errs on the careful side."},
		working.Whole, row, formula.Floor{X: formula.Ref("df")})
	s.Define(working.Quantity{ID: "critical_printed", Symbol: `t_{\text{table}}`, Label: "Critical value in a printed table", Says: "A little farther out than the exact one, because the degrees of freedom were rounded down."},
		working.Ratio, dist.T{DF: row}.UpperQuantile(area), formula.Quantile{Of: printed, Area: areaExpr})
	return append(blocks, working.Note("A printed t table has no row for @{df} degrees of freedom. Take the next smaller row, @{df_printed}, and the column of area %s in one tail: @{critical_printed} in size, a little farther out than the exact value.", column))
}

// interval defines the confidence interval for the difference.
func (s *twoSample) interval() {
	level := s.p.ConfidenceLevel()
	unit := s.data.response.Unit
	s.Define(working.Quantity{ID: "confidence", Symbol: "C", Label: "Confidence level", Says: "In the long run this share of such intervals holds the true difference."},
		working.Given, level, s.confidenceExpr())
	multiplier := formula.Ref("critical_high")
	if s.p.Confidence != nil || s.p.Tail == problem.Left {
		outside := formula.Expr(formula.Subtract(formula.Num(1), formula.Ref("confidence")))
		area := 1 - level
		if s.p.Confidence == nil {
			outside, area = formula.Ref("alpha"), s.p.Alpha
		}
		if s.p.Tail == problem.Both {
			outside, area = formula.Quotient{Over: outside, Under: formula.Num(2)}, area/2
		}
		multiplier = "t_interval"
		s.Define(working.Quantity{ID: "t_interval", Symbol: "t^{*}", Label: "Multiplier of the interval", Says: "How many standard errors the interval reaches."},
			working.Ratio, s.reference().UpperQuantile(area), formula.Quantile{Of: s.family, Area: outside})
	}
	reach := formula.Product{multiplier, formula.Ref("se")}
	end := func(id, label string, open bool, direction float64, expr formula.Expr) {
		value := s.stats.Difference + direction*s.Value(working.Ref(multiplier))*s.stats.SE
		says := "From here on the data speak against a true difference, at this level."
		if open {
			value, expr, says = math.Inf(int(direction)), nil, "With one tail the interval is open on this side."
		}
		symbol := `\text{` + strings.ToLower(strings.Fields(label)[0]) + `}`
		s.Define(working.Quantity{ID: working.Ref(id), Symbol: symbol, Label: label, Unit: unit, Says: says}, working.Measure, value, expr)
	}
	end("ci_low", "Lower end of the interval", s.p.Tail == problem.Left, -1, formula.Subtract(formula.Ref("difference"), reach))
	end("ci_high", "Upper end of the interval", s.p.Tail == problem.Right, 1, formula.Sum{formula.Ref("difference"), reach})
}

func (s *twoSample) confidenceExpr() formula.Expr {
	if s.p.Confidence != nil {
		return nil
	}
	return formula.Subtract(formula.Num(1), formula.Ref("alpha"))
}

// reference returns the t distribution of the test.
func (s *twoSample) reference() dist.T { return dist.T{DF: s.stats.DF} }

// levelWords returns the confidence level as a percentage.
func (s *twoSample) levelWords() string { return working.FormatPercent(s.p.ConfidenceLevel()) }

// intervalWords returns the interval in words, with the unit once.
func (s *twoSample) intervalWords() string {
	unit := ""
	if s.data.response.Unit != "" {
		unit = "\u00a0" + s.data.response.Unit
	}
	switch s.p.Tail {
	case problem.Left:
		return "at most " + s.Show("ci_high") + unit
	case problem.Right:
		return "at least " + s.Show("ci_low") + unit
	}
	return s.Show("ci_low") + " to " + s.Show("ci_high") + unit
}

func (s *twoSample) conclude() {
	s.interval()
	d := s.stats
	standardizer := formula.Expr(formula.Ref("pooled_sd"))
	if !s.pooled {
		standardizer = formula.Root{X: formula.Quotient{
			Over:  formula.Sum{formula.Square(formula.Ref("sd_1")), formula.Square(formula.Ref("sd_2"))},
			Under: formula.Num(2),
		}}
	}
	s.Define(working.Quantity{ID: "cohen_d", Symbol: "d", Label: "Standardized difference (Cohen’s d)", Says: "The difference in standard deviations: a size that does not depend on the unit or on the number of cases."},
		working.Ratio, d.CohenD, formula.Quotient{Over: formula.Ref("difference"), Under: standardizer})

	var conclusion working.Text
	if s.Rejected() {
		conclusion = working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The estimated difference, %s, is @{difference} (%s\u00a0%% interval: %s).",
			count(s.data.used(), "case"), s.foundWords(), s.minus(), s.levelWords(), s.intervalWords())
	} else {
		conclusion = working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that it %s.",
			count(s.data.used(), "case"), s.alternativeWords(s.p.Tail), s.nullPredicate())
	}
	if claim := s.claimAnswer(); claim != nil {
		conclusion = append(conclusion, working.Piece{Words: " "})
		conclusion = append(conclusion, claim...)
	}
	blocks := []working.Block{working.Prose{Tone: working.Answer, Text: conclusion}}
	key := "not shown"
	if s.Rejected() {
		key = "shown"
		blocks = append(blocks, working.Warn("Significant is not the same as important: whether a difference of @{difference} matters is a question about %s, not about statistics.", inSentence(s.data.response.Label)))
	}
	s.Step(working.Conclusion, key, blocks...)

	report := s.report()
	s.Step(working.Report, "",
		working.ReportLine{Text: report},
		working.Note("Means and standard deviations first, then the statistic with its degrees of freedom, p, the interval and the size of the effect."))
	s.Conclude(conclusion, report)
}

// foundWords says what a rejection finds: with two tails the direction that the
// samples show.
func (s *twoSample) foundWords() string {
	words := s.alternativeWords(s.p.Tail)
	if s.p.Tail != problem.Both || s.difference0 != 0 {
		return words
	}
	direction := problem.Left
	if s.stats.Difference > 0 {
		direction = problem.Right
	}
	return s.alternativeWords(direction)
}

// claimAnswer answers the claim in its own terms, nil where there is none.
func (s *twoSample) claimAnswer() working.Text {
	c := s.p.Claim
	if c == nil {
		return nil
	}
	switch {
	case c.Is == problem.H0 && s.Rejected():
		return working.Textf("That speaks against the claim “%s”.", c.Quoted())
	case c.Is == problem.H0:
		return working.Textf("The claim “%s” is not contradicted, and not confirmed.", c.Quoted())
	case s.Rejected():
		return working.Textf("That supports the claim “%s”.", c.Quoted())
	}
	return working.Textf("The claim “%s” is not supported, and not refuted.", c.Quoted())
}

func (s *twoSample) report() working.Text {
	tails := "two-tailed"
	if s.p.Tail != problem.Both {
		tails = "one-tailed"
	}
	than := map[problem.Tail]string{problem.Both: "different from", problem.Left: "lower than", problem.Right: "higher than"}[s.p.Tail]
	var significant string
	switch {
	case s.difference0 != 0 && s.Rejected():
		significant = fmt.Sprintf("had a difference significantly %s %s", than, s.hypothesised())
	case s.difference0 != 0:
		significant = fmt.Sprintf("did not have a difference significantly %s %s", than, s.hypothesised())
	case s.Rejected() && s.p.Tail == problem.Both:
		significant = "differed significantly"
	case s.p.Tail == problem.Both:
		significant = "did not differ significantly"
	case s.Rejected():
		significant = fmt.Sprintf("differed, the first being significantly %s the second", than)
	default:
		significant = fmt.Sprintf("were compared, the first not being significantly %s the second", than)
	}
	form := "variances not assumed equal"
	if s.pooled {
		form = "variances assumed equal"
	}
	relation := "= "
	if strings.HasPrefix(s.Show("p"), "<") {
		relation = ""
	}
	return working.Textf("%s for %s (*M* = @{mean_1}, *SD* = @{sd_1}, *n* = @{n_1}) and %s (*M* = @{mean_2}, *SD* = @{sd_2}, *n* = @{n_2}) %s, *t*(@{df}) = @{t}, *p* %s@{p}, %s, %s; difference @{difference}, %s\u00a0%% CI [%s, %s], *d* = @{cohen_d}.",
		upperFirst(s.mean()), s.first.name, s.second.name, significant, relation, tails, form, s.levelWords(), s.Show("ci_low"), s.Show("ci_high"))
}

func (s *twoSample) followUp() {
	low, high := s.Value("ci_low"), s.Value("ci_high")
	axisLow, axisHigh := working.Padded(0.12, low, high, s.stats.Difference, s.difference0)
	step := math.Pow10(int(math.Floor(math.Log10(s.stats.SE))) - 1)
	f := &working.Figure{ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for %s", s.levelWords(), s.minus()),
		Reads: s.intervalWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for the difference %s: %s; the observed difference is %s, H₀ states %s.",
			s.levelWords(), s.minus(), s.intervalWords(), s.withUnit("difference"), s.hypothesised()),
		Axis: working.Axis{Label: s.minus(), Unit: s.data.response.Unit, Min: working.Number(axisLow), Max: working.Number(axisHigh)},
		Marks: []working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, s.stats.Difference, high), Refs: []working.Ref{"ci_low", "difference", "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(s.difference0), Refs: []working.Ref{"difference_0"}},
		},
		Handles: []working.Handle{{
			ID: "difference", Label: "Difference under H₀", Pointer: "/options/difference",
			At: working.Number(s.difference0), Min: working.Number(axisLow), Max: working.Number(axisHigh), Step: working.Number(step),
		}},
	}
	s.Figure(f)
	contains := low <= s.difference0 && s.difference0 <= high
	if s.p.Confidence == nil {
		contains = !s.Rejected() // the same statement; on the very boundary the test has the word
	}
	holds := "does not contain"
	if contains {
		holds = "contains"
	}
	reading := working.Say("The %s\u00a0%% interval for %s, %s, %s the difference of H₀, %s.", s.levelWords(), s.minus(), s.intervalWords(), holds, s.hypothesised())
	if s.p.Confidence == nil {
		must := "as it must when H₀ is not rejected"
		if s.Rejected() {
			must = "as it must when H₀ is rejected"
		}
		reading = working.Say("The %s\u00a0%% interval for %s, %s, %s the difference of H₀, %s, %s at $α$ = @{alpha}. It holds exactly those differences that this test would not reject.",
			s.levelWords(), s.minus(), s.intervalWords(), holds, s.hypothesised(), must)
	}
	var ends []working.Block
	for _, id := range []working.Ref{"ci_low", "ci_high"} {
		if !math.IsInf(s.Value(id), 0) {
			ends = append(ends, working.FormulaBlock{Quantity: id})
		}
	}
	blocks := append([]working.Block{working.FigureBlock{Figure: "interval"}, reading}, ends...)
	blocks = append(blocks,
		working.Warn("%s\u00a0%% is the share of such intervals that hold the true difference in the long run. It is not the probability that this one does.", s.levelWords()),
		working.Say("**How large is it?** The difference is @{cohen_d} standard deviations: %s by the usual rule of thumb (0.2 small, 0.5 medium, 0.8 large).", sizeWords(s.stats.CohenD)),
		working.FormulaBlock{Quantity: "cohen_d"},
		working.Note("Two intervals, one for each mean, may overlap although the means differ significantly. Compare the difference with its own interval, as here."))
	s.Step(working.FollowUp, "d = "+s.Show("cohen_d"), blocks...).Opens = "cohen_d"
}

// sizeWords reads a standardized difference (Cohen, Statistical Power Analysis,
// 2nd ed., 2.2.3).
func sizeWords(d float64) string {
	switch d = math.Abs(d); {
	case d < 0.2:
		return "less than small"
	case d < 0.5:
		return "small"
	case d < 0.8:
		return "medium"
	}
	return "large"
}
