package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// correlation asks how closely numbers go together, every two of them.
var correlation = &Procedure{
	Description: Description{
		ID:         "correlation",
		Title:      "Correlation",
		Asks:       "How closely do numbers go together?",
		AlsoCalled: []string{"Pearson's correlation", "Spearman's rank correlation", "correlation matrix"},
		Takes:      []Takes{TakesVariables},
		Roles:      []Role{{ID: "variables", Label: "Variables", Says: "the numbers that are correlated", Kinds: []data.Kind{data.Number}, Min: 2}},
		Options: []Option{{ID: "method", Label: "Method", Type: ChoiceOption, Default: "pearson", Live: true, Key: "m",
			Says: "Whether the values themselves are correlated or their ranks, which a far case moves less and which see any rise or fall, straight or not.",
			Choices: []Choice{
				{Value: "pearson", Label: "values", Says: "how closely the cases follow a straight line (Pearson)"},
				{Value: "spearman", Label: "ranks", Says: "how closely the order of the one follows that of the other (Spearman)"},
			}}},
		Tails:    true,
		Compared: "the correlation",
	},
	Work: workCorrelation,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		var names []string
		for _, v := range assigned["variables"] {
			names = append(names, v.Title())
		}
		return strings.Join(names, ", ") + " are numbers: how closely every two of them go together.", true
	},
}

// correlated is the problem while it is worked.
type correlated struct {
	location
	variables []*data.Variable
	columns   [][]float64
	rows      []int // of the cases, from 1
	ranks     bool
}

func workCorrelation(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &correlated{location: location{p: p, family: tFamily, parameter: "correlation", estimate: "r"}, ranks: options["method"] == "spearman"}
	for _, name := range p.Roles["variables"] {
		s.variables = append(s.variables, p.Data.Variables.Find(name))
	}
	if len(s.variables) > 2 {
		if err := refuseDirection(p, fmt.Sprintf("%d variables are correlated, and only two have a direction", len(s.variables))); err != nil {
			return nil, err
		}
	}
	complete := data.Complete(p.LeftOutCases(), s.variables...)
	if len(complete) < 3 {
		return nil, problem.Errors{{Pointer: "/roles/variables", Says: fmt.Sprintf("%s with all values, and a correlation needs three", upperFirst(count(len(complete), "case"))), Instead: "give more cases"}}
	}
	for _, v := range s.variables {
		var column []float64
		for _, i := range complete {
			column = append(column, v.Numbers[i])
		}
		s.columns = append(s.columns, column)
		if m := stats.NewMoments(column); m.SD == 0 {
			return nil, problem.Errors{{Pointer: "/roles/variables", Says: fmt.Sprintf("all values of “%s” are equal, so nothing goes with it", problem.Shorten(v.Name)), Instead: "choose another variable"}}
		} else if !ordinary(m.SD * m.SD * float64(m.N-1)) {
			return nil, problem.Errors{{Pointer: "/data", Says: fmt.Sprintf("the numbers of “%s” are too large or too small to calculate with", problem.Shorten(v.Name)), Instead: "write them in another unit"}}
		}
	}
	for _, i := range complete {
		s.rows = append(s.rows, i+1)
	}
	given := s.variables[0].Len()
	s.Working = working.New(p, d.Title, working.Cases{Given: given, Used: len(s.rows), LeftOut: given - len(s.rows)})
	s.Control(working.AlphaControl(p.Alpha))
	if len(s.variables) == 2 {
		s.Control(working.TailControl(p.Tail, "ρ", "0", s.alternativeWords))
	}
	s.Control(d.Options[0].control(fmt.Sprint(options["method"])))
	s.Brief(working.Textf("See how closely **%s** go together", s.list()))
	s.DefineAlpha()
	s.question()
	s.data(given)
	s.look()
	if len(s.variables) > 2 {
		s.pairsTable()
		s.several()
		return s.Working, nil
	}
	return s.Working, s.two()
}

func (s *correlated) name(i int) string { return inSentence(s.variables[i].Title()) }

func (s *correlated) list() string {
	var names []string
	for i := range s.variables {
		names = append(names, s.name(i))
	}
	return listed(names)
}

func (s *correlated) correlate(i, j int) stats.Correlation {
	if s.ranks {
		return stats.CorrelateRanks(s.columns[i], s.columns[j])
	}
	return stats.Correlate(s.columns[i], s.columns[j])
}

func (s *correlated) alternativeWords(tail problem.Tail) string {
	switch tail {
	case problem.Left:
		return fmt.Sprintf("cases high in %s tend to be low in %s", s.name(0), s.name(1))
	case problem.Right:
		return fmt.Sprintf("cases high in %s tend to be high in %s", s.name(0), s.name(1))
	}
	return fmt.Sprintf("%s and %s are correlated", s.name(0), s.name(1))
}

func (s *correlated) nullWords() string {
	switch s.p.Tail {
	case problem.Left:
		return fmt.Sprintf("cases high in %s do not tend to be low in %s", s.name(0), s.name(1))
	case problem.Right:
		return fmt.Sprintf("cases high in %s do not tend to be high in %s", s.name(0), s.name(1))
	}
	return fmt.Sprintf("%s and %s are not correlated", s.name(0), s.name(1))
}

func (s *correlated) question() {
	how := "how closely the cases follow a straight line"
	if s.ranks {
		how = "how closely the order of the one follows that of the other"
	}
	blocks := append(s.claimBlocks(), working.Say("The question is how closely %s go together: %s, upward or downward. None is predicted from another.", s.list(), how))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *correlated) data(given int) {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: len(s.rows), Columns: []working.Column{{ID: "case", Label: "case", Numeric: true}}}
	decimals := make([]int, len(s.variables))
	for i, v := range s.variables {
		decimals[i] = working.DecimalsOf(s.columns[i], maxDecimals)
		t.Columns = append(t.Columns, working.Column{ID: fmt.Sprintf("variable_%d", i+1), Label: v.Title(), Unit: v.Unit, Numeric: true})
	}
	t.Row = func(k int) working.Row {
		row := working.Row{wholeCell(s.rows[k])}
		for i := range s.variables {
			row = append(row, entered(s.columns[i][k], decimals[i]))
		}
		return row
	}
	s.Table(t)
	s.Column("cases/*/variable_1", s.columns[0])
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "With a value of every variable."}, working.Whole, float64(len(s.rows)), formula.Count{Column: s.Series("cases/*/variable_1", "x_{i}", decimals[0])})
	blocks := []working.Block{working.Say("%s.", upperFirst(count(len(s.rows), "case")))}
	if left := given - len(s.rows); left > 0 {
		blocks[0] = working.Say("%s in all, of which @{n} used. Left out: %s.", upperFirst(count(given, "case")), leftOutWords(s.p.LeaveOut, left, "with a missing value"))
	}
	s.Step(working.Data, "n = "+s.Show("n"), append(blocks, working.TableBlock{Table: "cases"})...)
}

// look draws every two of the variables against each other.
func (s *correlated) look() {
	var blocks []working.Block
	const most = 10
	for i := range s.variables {
		for j := i + 1; j < len(s.variables) && len(blocks) < most; j++ {
			first, second := s.variables[i], s.variables[j]
			id := fmt.Sprintf("look_%d_%d", i+1, j+1)
			f := &working.Figure{ID: id, Form: working.Scatter, Title: second.Title() + " against " + inSentence(first.Title()), Small: len(s.variables) > 2, Axis: working.Axis{Label: first.Title(), Unit: first.Unit}, Up: &working.Axis{Label: second.Title(), Unit: second.Unit},
				Says: fmt.Sprintf("%s against %s, a dot for each case.", second.Title(), inSentence(first.Title()))}
			f.Axis.Min, f.Axis.Max = axis(s.columns[i]...)
			f.Up.Min, f.Up.Max = axis(s.columns[j]...)
			f.Marks = []working.Mark{{Shape: working.Points, Role: working.Observed, X: working.Positions(s.columns[i]...), Y: working.Positions(s.columns[j]...), Case: s.rows}}
			s.Figure(f)
			blocks = append(blocks, working.FigureBlock{Figure: id})
		}
	}
	s.Step(working.Look, count(len(s.variables), "variable"), append(blocks, working.Say("Do the dots follow a band, straight or bent? Does one lie far from the others? A single far case can make a correlation or hide one."))...)
}

// pairsTable lists every two variables; of two alone, the one pair.
func (s *correlated) pairsTable() {
	t := &working.Table{ID: "pairs", Title: "Every two variables", Key: []string{"first", "second"}, Columns: []working.Column{
		{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "n", Label: "n", Numeric: true}, {ID: "r", Label: "r", Numeric: true}, {ID: "t", Label: "t", Numeric: true}, {ID: "p", Label: "p", Numeric: true}, {ID: "ci_low", Label: "from", Numeric: true}, {ID: "ci_high", Label: "to", Numeric: true}}}
	var rows []working.Row
	for i := range s.variables {
		for j := i + 1; j < len(s.variables); j++ {
			c := s.correlate(i, j)
			low, high := c.Interval(s.area() / 2)
			rows = append(rows, working.Row{s.variableCell(s.variables[i]), s.variableCell(s.variables[j]), wholeCell(c.N), s.number(c.R, 3), s.numberOrNone(c.T, 3), s.pCellOrNone(c.P()), s.numberOrNone(low, 3), s.numberOrNone(high, 3)})
		}
	}
	t.SetRows(rows)
	s.Table(t)
}

// several ends a problem of more than two variables, which has no single decision.
func (s *correlated) several() {
	var strongest, significant []string
	best := 0.0
	for i := range s.variables {
		for j := i + 1; j < len(s.variables); j++ {
			c := s.correlate(i, j)
			if math.Abs(c.R) > best {
				best = math.Abs(c.R)
				strongest = []string{fmt.Sprintf("%s and %s (r = %s)", s.name(i), s.name(j), working.FormatNumber(c.R, 3))}
			}
			if c.P() <= s.p.Alpha || c.Perfect {
				significant = append(significant, s.name(i)+" and "+s.name(j))
			}
		}
	}
	pairs := len(s.variables) * (len(s.variables) - 1) / 2
	s.Step(working.Statistic, "", working.Say("r goes from −1, all on a falling line, over 0 to 1, all on a rising one. $t$ = r√((n − 2)/(1 − r²)) with n − 2 degrees of freedom tests each for itself."), working.TableBlock{Table: "pairs"},
		working.Warn("With %s, some come out significant by chance: at α = @{alpha} about one of %s.", count(pairs, "pair"), working.FormatNumber(1/s.p.Alpha, 0)))
	found := "None of the pairs is"
	if significant != nil {
		found = fmt.Sprintf("%d of %s are", len(significant), count(pairs, "pair"))
		if len(significant) == 1 {
			found = fmt.Sprintf("1 of %s is", count(pairs, "pair"))
		}
	}
	conclusion := working.Textf("%s significantly correlated at α = @{alpha}, each taken for itself. The strongest correlation is that of %s.", found, strongest[0])
	conclusion = s.withClaim(conclusion)
	s.Step(working.Conclusion, "", working.Prose{Tone: working.Answer, Text: conclusion}, working.Warn("A correlation does not say that one brings the other about."))
	report := working.Textf("Correlations of %s, *N* = @{n}: the strongest that of %s.", s.list(), strongest[0])
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("A table of correlations goes into the paper, with the number of cases under it."))
	s.Conclude(conclusion, report)
}

// two works a problem of two variables, which has a test.
func (s *correlated) two() error {
	c := s.correlate(0, 1)
	s.value = c.R
	s.leans(c.R)
	equal, other := s.signs()
	both := s.bothWays("whether the two should rise together or against each other")
	s.hypothesesStep(fmt.Sprintf("ρ %s 0", equal), append([]working.Block{working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \rho ` + teXSign(equal) + ` 0`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \rho ` + teXSign(other) + ` 0`, Words: s.alternativeWords(s.p.Tail)},
	}, working.Say("ρ is the correlation that all cases of the population would give.")}, s.tailReasons(both, "a correlation")...)...)
	s.sums(c)
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Two less than there are cases."}, working.Degrees, c.DF, formula.Subtract(formula.Ref("n"), formula.Num(2)))
	if c.Perfect {
		s.perfectPair(c)
		return nil
	}
	r := formula.Ref("r")
	s.Define(working.Quantity{ID: "t", Symbol: "t", Label: "Test statistic", Says: "How far the correlation lies from 0, measured by what chance would do."}, working.Ratio, c.T,
		formula.Product{r, formula.Root{X: formula.Quotient{Over: formula.Ref("df"), Under: formula.Subtract(formula.Num(1), formula.Square(r))}}})
	extreme := map[problem.Tail]string{problem.Both: "a correlation at least as far from 0, in either direction,", problem.Left: "a correlation as low as this one or lower", problem.Right: "a correlation as high as this one or higher"}[s.p.Tail]
	s.Test(working.Test{Statistic: "t", Symbol: "t", Degrees: []working.Ref{"df"}, Family: s.family, Name: "t, " + s.DegreesWords("df"), Extreme: extreme})
	first, second := s.columns[0], s.columns[1]
	if s.ranks {
		first, _ = stats.Midranks(first)
		second, _ = stats.Midranks(second)
	}
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true, any %s may as well go with any %s. So the values of the one are shuffled among the %d cases, and t is calculated anew.", s.name(1), s.name(0), c.N),
		Assumes: "Shuffling needs no normal shape.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(second, []int{c.N}, func(groups [][]float64) float64 { return stats.Correlate(first, groups[0]).T })
		}})
	s.pairConditions(c)
	s.Step(working.Statistic, "t = "+s.Show("t"), append(s.sumBlocks(), working.FormulaBlock{Quantity: "t"},
		working.Note("r itself has a lopsided curve that depends on n; t has one that printed tables show."))...).Opens = "t"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"}}, s.printed()...)...)
	s.PValueStep()
	s.decide(s.alternativeWords(s.p.Tail), s.nullWords())
	s.pairInterval(c)
	used := count(c.N, "case")
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s. The correlation is @{r} (%s\u00a0%% interval: %s).", used, s.alternativeWords(s.found()), s.levelWords(), s.correlationInterval()),
			working.Warn("A correlation does not say that one brings the other about: a third thing may move both."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that they have nothing to do with each other: a bend would not show in r.", used, s.alternativeWords(s.p.Tail)))
	}
	symbol := "r"
	if s.ranks {
		symbol = "rₛ"
	}
	report := working.Textf("%s and %s: *%s*(@{df}) = @{r}, *p* %s@{p}, %s, %s\u00a0%% CI [%s].", upperFirst(s.name(0)), s.name(1), symbol, s.relation("p"), s.tails(), s.levelWords(), s.reported(-1, 1))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("r with its degrees of freedom, p and the interval."))
	s.Conclude(s.conclusion, report)
	share := c.R * c.R
	s.Define(working.Quantity{ID: "r_squared", Symbol: "r^{2}", Label: "Share in common", Says: "Which share of the variation of the one goes with the other."}, working.Ratio, share, formula.Square(r))
	blocks := []working.Block{working.Say("**How close is it?** r = @{r}: %s, by the usual rule of thumb (0.1 small, 0.3 medium, 0.5 large). Its square, @{r_squared}, is the share of variation that the two have in common.", correlationWords(c.R)),
		working.Say("The %s\u00a0%% interval for the correlation is %s, by Fisher’s transformation, an approximation.", s.levelWords(), s.correlationInterval())}
	for _, id := range []working.Ref{"ci_low", "ci_high"} {
		if x := s.Value(id); !math.IsInf(x, 0) && !math.IsNaN(x) {
			blocks = append(blocks, working.FormulaBlock{Quantity: id})
		}
	}
	s.pairsTable()
	s.Step(working.FollowUp, "r = "+s.Show("r"), append(blocks, working.TableBlock{Table: "pairs"})...).Opens = "r"
	return nil
}

// sums defines r and what it is made of.
func (s *correlated) sums(c stats.Correlation) {
	first, second := s.columns[0], s.columns[1]
	letter := "x"
	if s.ranks {
		first, _ = stats.Midranks(first)
		second, _ = stats.Midranks(second)
		letter = "R"
	}
	line := stats.FitLine(first, second)
	products, squaresX, squaresY := make([]float64, c.N), make([]float64, c.N), make([]float64, c.N)
	for i := range first {
		dx, dy := first[i]-line.MeanX, second[i]-line.MeanY
		products[i], squaresX[i], squaresY[i] = dx*dy, dx*dx, dy*dy
	}
	s.Column("cases/*/products", products)
	s.Column("cases/*/squares_1", squaresX)
	s.Column("cases/*/squares_2", squaresY)
	other := map[string]string{"x": "y", "R": "S"}[letter]
	of := "values"
	if s.ranks {
		of = "ranks"
	}
	define := func(id working.Ref, symbol, label string, value float64, ref, each string) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: "About the means of the " + of + "."}, working.Ratio, value, formula.Total{Column: s.Calculated(ref, each, 3)})
	}
	define("ss_1", `S_{11}`, "Sum of squares of "+s.name(0), line.SXX, "cases/*/squares_1", fmt.Sprintf(`(%s_{i}-\bar{%s})^{2}`, letter, letter))
	define("ss_2", `S_{22}`, "Sum of squares of "+s.name(1), line.SYY, "cases/*/squares_2", fmt.Sprintf(`(%s_{i}-\bar{%s})^{2}`, other, other))
	define("ss_12", `S_{12}`, "Sum of products", line.SXY, "cases/*/products", fmt.Sprintf(`(%s_{i}-\bar{%s})(%s_{i}-\bar{%s})`, letter, letter, other, other))
	s.Define(working.Quantity{ID: "r", Symbol: "r", Label: "Correlation", Says: "From −1, all on a falling line, to 1, all on a rising one."}, working.Ratio, c.R,
		formula.Quotient{Over: formula.Ref("ss_12"), Under: formula.Root{X: formula.Product{formula.Ref("ss_1"), formula.Ref("ss_2")}}})
}

func (s *correlated) sumBlocks() []working.Block {
	says := working.Say("Cases that lie on the same side of both means add to the sum of products, others take from it; the two sums of squares bring it onto a scale from −1 to 1:")
	if s.ranks {
		says = working.Say("Each value is replaced by its rank among all, equal ones sharing the mean of theirs; the ranks are correlated like values:")
	}
	return []working.Block{says, working.FormulaBlock{Quantity: "ss_12"}, working.FormulaBlock{Quantity: "ss_1"}, working.FormulaBlock{Quantity: "ss_2"}, working.FormulaBlock{Quantity: "r"}}
}

func (s *correlated) pairConditions(c stats.Correlation) {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case tells nothing about another. The numbers cannot show this."))
	if s.ranks {
		s.Condition("straightness", working.NotNeeded, working.Textf("Not needed: of ranks, any rise or fall counts, straight or not."), working.Action{ID: "values", Label: "Correlate the values and compare", Compare: true, Says: "Works the same problem with the values themselves, beside this one.", Set: []problem.Set{{Pointer: "/options/method", Value: "pearson"}}})
	} else {
		ranks := working.Action{ID: "ranks", Label: "Correlate the ranks and compare", Compare: true, Says: "Works the same problem with ranks, beside this one.", Set: []problem.Set{{Pointer: "/options/method", Value: "spearman"}}}
		names, ways := s.farOut()
		ways = append(ways, ranks)
		if names != nil {
			s.Condition("straightness", working.Doubtful, working.Textf("Lies far out: %s. Such a case can make a correlation, or hide one; look first whether it was typed rightly.", strings.Join(names, ", ")), ways...)
		} else {
			s.Condition("straightness", working.Met, working.Textf("No value lies far out. That the cases follow a straight band is for the eye: look at the picture."), ways...)
		}
	}
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "straightness"})
}

// farOut names the cases with a value beyond three box lengths, with ways to see the
// correlation without them.
func (s *correlated) farOut() (names []string, ways []working.Action) {
	const most = 4
	for i, column := range s.columns {
		low, high := stats.NewFiveNumbers(stats.Sorted(column)).Fences(3)
		for k, x := range column {
			if x >= low && x <= high || len(names) == most {
				continue
			}
			names = append(names, fmt.Sprintf("case %d (%s %s)", s.rows[k], s.name(i), withUnitOf(working.FormatShortest(x), s.variables[i].Unit)))
			ways = append(ways, working.Action{ID: fmt.Sprintf("leave-out-%d-%d", s.rows[k], i+1), Label: fmt.Sprintf("Leave case %d out and compare", s.rows[k]), Compare: true,
				Says: "Correlates without this case, beside this correlation. The case is not deleted.",
				Set:  []problem.Set{{Pointer: "/leave_out/-", Value: map[string]any{"case": s.rows[k], "reason": "lies far out"}}}})
		}
	}
	return names, ways
}

// pairInterval defines the interval of the correlation.
func (s *correlated) pairInterval(c stats.Correlation) {
	outside, area := s.level(s.levelSays())
	low, high := c.Interval(area)
	if math.IsNaN(low) {
		s.end("ci_low", "Lower end of the interval", `\text{lower}`, working.Ratio, math.NaN(), nil)
		s.end("ci_high", "Upper end of the interval", `\text{upper}`, working.Ratio, math.NaN(), nil)
		return
	}
	reach := dist.Normal{}.UpperQuantile(area) / math.Sqrt(float64(c.N-3))
	s.Define(working.Quantity{ID: "z_interval", Symbol: "z^{*}", Label: "Multiplier of the interval", Says: "How many standard errors it reaches, on Fisher’s scale."}, working.Ratio, dist.Normal{}.UpperQuantile(area), formula.Quantile{Of: zFamily, Area: outside})
	s.Define(working.Quantity{ID: "fisher_z", Symbol: "z_{r}", Label: "Fisher’s z of the correlation", Says: "On this scale a correlation has a nearly normal curve of one width."}, working.Ratio, math.Atanh(c.R), formula.Artanh{X: formula.Ref("r")})
	s.Define(working.Quantity{ID: "reach", Symbol: "d", Label: "Reach on Fisher’s scale", Says: "The multiplier over the root of n − 3."}, working.Ratio, reach, formula.Quotient{Over: formula.Ref("z_interval"), Under: formula.Root{X: formula.Subtract(formula.Ref("n"), formula.Num(3))}})
	tanh := func(x formula.Expr) formula.Expr { return formula.Tanh{X: x} }
	s.end("ci_low", "Lower end of the interval", `\text{lower}`, working.Ratio, low, tanh(formula.Subtract(formula.Ref("fisher_z"), formula.Ref("reach"))))
	s.end("ci_high", "Upper end of the interval", `\text{upper}`, working.Ratio, high, tanh(formula.Sum{formula.Ref("fisher_z"), formula.Ref("reach")}))
}

func (s *correlated) correlationInterval() string {
	low, high := s.Value("ci_low"), s.Value("ci_high")
	switch {
	case math.IsNaN(low) || math.IsNaN(high):
		return "too few cases for one"
	case math.IsInf(low, 0):
		return "at most " + s.Show("ci_high")
	case math.IsInf(high, 0):
		return "at least " + s.Show("ci_low")
	}
	return s.Show("ci_low") + " to " + s.Show("ci_high")
}

// correlationWords reads a correlation (J. Cohen, Statistical Power Analysis, 2nd ed., 3.2).
func correlationWords(r float64) string {
	switch r = math.Abs(r); {
	case r < 0.1:
		return "less than small"
	case r < 0.3:
		return "small"
	case r < 0.5:
		return "medium"
	}
	return "large"
}

// perfectPair writes what can be said where all cases lie on a line.
func (s *correlated) perfectPair(c stats.Correlation) {
	for _, id := range []working.Ref{"t", "p", "ci_low", "ci_high"} {
		s.Define(working.Quantity{ID: id, Symbol: string(id[:1]), Label: "None", Says: "There is none where all cases lie on a line."}, working.Ratio, math.NaN(), nil)
	}
	s.Note("All cases lie on a line: there is nothing to measure the correlation by, so there is no test.")
	s.Step(working.Statistic, "r = "+s.Show("r"), append(s.sumBlocks(), working.Warn("All cases lie on a line. That is seldom so with things that were measured: look whether one was calculated from the other."))...).Opens = "r"
	conclusion := working.Textf("All %d cases lie on a line: the correlation is @{r}. Without any distance from it there is nothing to test.", c.N)
	conclusion = s.withClaim(conclusion)
	s.Step(working.Conclusion, "no test", working.Prose{Tone: working.Answer, Text: conclusion})
	report := working.Textf("%s and %s: *r* = @{r}, *N* = @{n}, all cases on a line.", upperFirst(s.name(0)), s.name(1))
	s.Step(working.Report, "", working.ReportLine{Text: report})
	s.Conclude(conclusion, report)
	s.pairsTable()
	s.Step(working.FollowUp, "", working.TableBlock{Table: "pairs"})
}
