package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// location is a test of where something lies: a mean, or a difference of means. It
// has an estimate with its standard error, the value that H₀ states, and z or t
// between the two.
type location struct {
	*working.Working
	p               *problem.Problem
	unit            string
	estimate        working.Ref // "mean", "difference"; the value under H₀ is the same with _0
	parameter       string      // what is estimated: "mean", "difference"
	subject         string      // what the interval is for: "Mole − Quarry"
	named           string      // the same with its noun: "the difference Mole − Quarry"
	option          string      // that sets the value under H₀; none where it is fixed
	null            float64     // the value under H₀
	least, greatest float64     // bounds of the parameter, both 0 where it has none
	value           float64     // of the estimate
	se              float64
	family          formula.Family

	// apart says that the interval is not made of the values that the test would not
	// reject, so that the two may part.
	apart bool

	instead []working.Action // the procedures to take where the shape is doubtful

	conclusion working.Text // once it is written
}

var (
	tFamily = formula.Family{Symbol: "t", Degrees: []formula.Ref{"df"}, New: func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
	zFamily = formula.Family{Symbol: "z", New: func([]float64) dist.Distribution { return dist.Normal{} }}
)

// reference returns the distribution of the statistic under H₀.
func (l *location) reference() dist.Distribution {
	degrees := make([]float64, len(l.family.Degrees))
	for i, ref := range l.family.Degrees {
		degrees[i] = l.Value(working.Ref(ref))
	}
	return l.family.New(degrees)
}

// withUnit returns a quantity as shown, with its unit.
func (l *location) withUnit(id working.Ref) string { return l.Plain(working.Text{{Ref: id}}) }

// hypothesised returns the value under H₀ with its unit.
func (l *location) hypothesised() string {
	text := working.FormatShortest(l.null)
	if l.unit != "" {
		text += "\u00a0" + l.unit
	}
	return text
}

// signs returns the signs of H₀ and H₁.
func (l *location) signs() (null, alternative string) {
	signs := map[problem.Tail][2]string{problem.Both: {"=", "≠"}, problem.Left: {"≥", "<"}, problem.Right: {"≤", ">"}}[l.p.Tail]
	return signs[0], signs[1]
}

// teXSign writes a sign in TeX.
func teXSign(sign string) string {
	return strings.NewReplacer("≠", `\ne`, "≥", `\ge`, "≤", `\le`).Replace(sign)
}

// claimBlocks says which hypothesis the claim is, if there is one.
func (l *location) claimBlocks() []working.Block {
	c := l.p.Claim
	if c == nil {
		return nil
	}
	about := ""
	if c.Population != "" {
		about = " about " + c.Population
	}
	if c.Is == problem.H0 {
		return []working.Block{working.Say("The claim%s, “%s”, holds the equality, so it is **H₀**: what is taken to be so until the data speak against it.", about, c.Quoted())}
	}
	return []working.Block{working.Say("The claim%s, “%s”, holds no equality, so it is **H₁**: what the test looks for evidence for.", about, c.Quoted())}
}

// alphaBlocks says what alpha is.
func alphaBlocks() []working.Block {
	return []working.Block{
		working.Say("$α$ = @{alpha} is chosen now, before the data have been looked at."),
		working.Warn("$α$ is not a level of confidence and says nothing about this one result: it is how often the test rejects a true H₀ in the long run."),
	}
}

// claimAnswer answers the claim in its own terms, nil where there is none.
func (l *location) claimAnswer() working.Text {
	c := l.p.Claim
	if c == nil {
		return nil
	}
	switch {
	case c.Is == problem.H0 && l.Rejected():
		return working.Textf("That speaks against the claim “%s”.", c.Quoted())
	case c.Is == problem.H0:
		return working.Textf("The claim “%s” is not contradicted, and not confirmed.", c.Quoted())
	case l.Rejected():
		return working.Textf("That supports the claim “%s”.", c.Quoted())
	}
	return working.Textf("The claim “%s” is not supported, and not refuted.", c.Quoted())
}

// distance says how far the estimate lies from H₀.
func (l *location) distance(statistic working.Ref) working.Block {
	value := l.Value(statistic)
	if value == 0 {
		return working.Say("The observed %s, @{%s}, is just what H₀ states.", l.parameter, l.estimate)
	}
	side := "above"
	if value < 0 {
		side = "below"
	}
	return working.Say("The observed %s of @{%s} lies @{%s|%s} standard errors of @{se} %s the %s that H₀ states.",
		l.parameter, l.estimate, statistic, strings.TrimPrefix(l.Show(statistic), "−"), side, l.hypothesised())
}

// tailReasons says why H₁ takes the tail that it takes. towards names what lies
// below or above: "a difference Mole − Quarry". both says it of two tails.
func (l *location) tailReasons(both working.Block, towards string) []working.Block {
	switch l.p.Tail {
	case problem.Left:
		both = working.Say("H₁ says “less”: only %s well *below* %s speaks for it, so the test has **one tail, the left**.", towards, l.hypothesised())
	case problem.Right:
		both = working.Say("H₁ says “greater”: only %s well *above* %s speaks for it, so the test has **one tail, the right**.", towards, l.hypothesised())
	}
	if l.p.Tail == problem.Both {
		return []working.Block{both}
	}
	return []working.Block{both,
		working.Note("The calculation uses the boundary of H₀, a %s of exactly %s: whatever speaks against the boundary speaks even more against the rest of H₀.", l.parameter, l.hypothesised()),
		working.Warn("The direction has to come from the question. Choosing it after a look at the data doubles the true chance of a Type I error."),
	}
}

// printed says where a printed table shows the critical value.
func (l *location) printed() []working.Block {
	area := l.tailArea()
	column := working.FormatShortest(area)
	if len(l.family.Degrees) == 0 {
		return append([]working.Block{working.Note("A printed table of the normal distribution shows it where the area beyond $z$ is nearest to %s, the first decimal of $z$ in its row and the second in its column; a t table shows it in its last row, ∞ degrees of freedom.", column)}, l.printedNormal()...)
	}
	df := l.Value("df")
	if working.IsWhole(df) {
		return append([]working.Block{working.Note("A printed t table shows it in the row of @{df} degrees of freedom, in the column of area %s in one tail. If the table skips that row, take the next smaller one.", column)}, l.printedT(df)...)
	}
	row := math.Floor(df)
	if row < 1 {
		return nil
	}
	areaExpr := formula.Expr(formula.Ref("alpha"))
	if l.p.Tail == problem.Both {
		areaExpr = formula.Quotient{Over: areaExpr, Under: formula.Num(2)}
	}
	rounded := l.family
	rounded.Degrees = []formula.Ref{"df_printed"}
	l.Define(working.Quantity{ID: "df_printed", Symbol: `\nu_{\text{table}}`, Label: "Degrees of freedom, rounded down", Says: "Printed tables have whole rows; rounding down errs on the careful side."},
		working.Whole, row, formula.Floor{X: formula.Ref("df")})
	l.Define(working.Quantity{ID: "critical_printed", Symbol: `t_{\text{table}}`, Label: "Critical value in a printed table", Says: "A little farther out than the exact one, because the degrees of freedom were rounded down."},
		working.Ratio, dist.T{DF: row}.UpperQuantile(area), formula.Quantile{Of: rounded, Area: areaExpr})
	return append([]working.Block{working.Note("A printed t table has no row for @{df} degrees of freedom. Take the next smaller row, @{df_printed}, and the column of area %s in one tail: @{critical_printed} in size, a little farther out than the exact value.", column)}, l.printedT(row)...)
}

// interval defines the confidence interval.
func (l *location) interval() {
	level := l.p.ConfidenceLevel()
	var levelExpr formula.Expr
	if l.p.Confidence == nil {
		levelExpr = formula.Subtract(formula.Num(1), formula.Ref("alpha"))
	}
	l.Define(working.Quantity{ID: "confidence", Symbol: "C", Label: "Confidence level", Says: "In the long run this share of such intervals holds the true " + l.parameter + "."},
		working.Given, level, levelExpr)
	multiplier := formula.Ref("critical_high")
	if l.p.Confidence != nil || l.p.Tail == problem.Left {
		outside := formula.Expr(formula.Subtract(formula.Num(1), formula.Ref("confidence")))
		area := 1 - level
		if l.p.Confidence == nil {
			outside, area = formula.Ref("alpha"), l.p.Alpha
		}
		if l.p.Tail == problem.Both {
			outside, area = formula.Quotient{Over: outside, Under: formula.Num(2)}, area/2
		}
		multiplier = formula.Ref(l.family.Symbol + "_interval")
		l.Define(working.Quantity{ID: working.Ref(multiplier), Symbol: l.family.Symbol + "^{*}", Label: "Multiplier of the interval", Says: "How many standard errors the interval reaches."},
			working.Ratio, l.reference().UpperQuantile(area), formula.Quantile{Of: l.family, Area: outside})
	}
	reach := formula.Product{multiplier, formula.Ref("se")}
	end := func(id, label string, open bool, direction float64, expr formula.Expr) {
		value := l.value + direction*l.Value(working.Ref(multiplier))*l.se
		says := "From here on the data speak against a true " + l.parameter + ", at this level."
		if open {
			value, expr, says = math.Inf(int(direction)), nil, "With one tail the interval is open on this side."
		}
		symbol := `\text{` + strings.ToLower(strings.Fields(label)[0]) + `}`
		l.Define(working.Quantity{ID: working.Ref(id), Symbol: symbol, Label: label, Unit: l.unit, Says: says}, working.Measure, value, expr)
	}
	end("ci_low", "Lower end of the interval", l.p.Tail == problem.Left, -1, formula.Subtract(formula.Ref(l.estimate), reach))
	end("ci_high", "Upper end of the interval", l.p.Tail == problem.Right, 1, formula.Sum{formula.Ref(l.estimate), reach})
}

// levelWords returns the confidence level as a percentage.
func (l *location) levelWords() string { return working.FormatPercent(l.p.ConfidenceLevel()) }

// intervalWords returns the interval in words, with the unit once.
func (l *location) intervalWords() string {
	unit := ""
	if l.unit != "" {
		unit = "\u00a0" + l.unit
	}
	switch l.p.Tail {
	case problem.Left:
		return "at most " + l.Show("ci_high") + unit
	case problem.Right:
		return "at least " + l.Show("ci_low") + unit
	}
	return l.Show("ci_low") + " to " + l.Show("ci_high") + unit
}

// intervalFigure draws the interval with the value under H₀, which can be moved;
// more are further marks on the same axis, which holds their values too.
func (l *location) intervalFigure(more []working.Mark, values ...float64) {
	low, high := l.Value("ci_low"), l.Value("ci_high")
	axisLow, axisHigh := working.Padded(0.12, append(values, low, high, l.value, l.null)...)
	if l.least == l.greatest { // the parameter has no bounds
		l.least, l.greatest = math.Inf(-1), math.Inf(1)
	}
	step := math.Pow10(int(math.Floor(math.Log10(l.se))) - 1)
	null := l.estimate + "_0"
	f := &working.Figure{ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for %s", l.levelWords(), l.subject),
		Reads: l.intervalWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for %s: %s; the observed %s is %s, H₀ states %s.",
			l.levelWords(), l.named, l.intervalWords(), l.parameter, l.withUnit(l.estimate), l.hypothesised()),
		Axis: working.Axis{Label: l.subject, Unit: l.unit, Min: working.Number(axisLow), Max: working.Number(axisHigh)},
		Marks: append([]working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, l.value, high), Refs: []working.Ref{"ci_low", l.estimate, "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(l.null), Refs: []working.Ref{null}},
		}, more...),
	}
	if l.option != "" {
		f.Handles = []working.Handle{{
			ID: l.option, Label: upperFirst(l.parameter) + " under H₀", Pointer: problem.Pointer("options", l.option),
			At: working.Number(l.null), Min: working.Number(math.Max(axisLow, l.least+step)), Max: working.Number(math.Min(axisHigh, l.greatest-step)), Step: working.Number(step),
		}}
	}
	l.Figure(f)
}

// intervalBlocks reads the interval and shows how its ends come about.
func (l *location) intervalBlocks() []working.Block {
	low, high := l.Value("ci_low"), l.Value("ci_high")
	contains := low <= l.null && l.null <= high
	same := l.p.Confidence == nil && !l.apart
	if same {
		contains = !l.Rejected() // the same statement; on the very boundary the test has the word
	}
	holds := "does not contain"
	if contains {
		holds = "contains"
	}
	reading := working.Say("The %s\u00a0%% interval for %s, %s, %s the %s of H₀, %s.", l.levelWords(), l.subject, l.intervalWords(), holds, l.parameter, l.hypothesised())
	if same {
		must := "as it must when H₀ is not rejected"
		if l.Rejected() {
			must = "as it must when H₀ is rejected"
		}
		reading = working.Say("The %s\u00a0%% interval for %s, %s, %s the %s of H₀, %s, %s at $α$ = @{alpha}. It holds exactly those %ss that this test would not reject.",
			l.levelWords(), l.subject, l.intervalWords(), holds, l.parameter, l.hypothesised(), must, l.parameter)
	}
	blocks := []working.Block{working.FigureBlock{Figure: "interval"}, reading}
	for _, id := range []working.Ref{"ci_low", "ci_high"} {
		if !math.IsInf(l.Value(id), 0) {
			blocks = append(blocks, working.FormulaBlock{Quantity: id})
		}
	}
	return append(blocks, working.Warn("%s\u00a0%% is the share of such intervals that hold the true %s in the long run. It is not the probability that this one does.", l.levelWords(), l.parameter))
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
