package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// level defines the confidence level, which says holds for the intervals named in says,
// and returns the area outside an end of the interval with its formula.
func (l *location) level(says string) (outside formula.Expr, area float64) {
	level := l.p.ConfidenceLevel()
	var levelExpr formula.Expr
	outside = formula.Subtract(formula.Num(1), formula.Ref("confidence"))
	area = stats.DecimalDifference(1, level) // 1 − 0.9 is 0.1, which a count may just reach
	if l.p.Confidence == nil {
		levelExpr = formula.Subtract(formula.Num(1), formula.Ref("alpha"))
		outside, area = formula.Ref("alpha"), l.p.Alpha
	}
	if l.p.Tail == problem.Both {
		outside, area = formula.Quotient{Over: outside, Under: formula.Num(2)}, area/2
	}
	l.Define(working.Quantity{ID: "confidence", Symbol: "C", Label: "Confidence level", Says: says}, working.Given, level, levelExpr)
	return outside, area
}

// area returns what lies outside an interval with two ends.
func (l *location) area() float64 {
	if l.p.Confidence == nil {
		return l.p.Alpha
	}
	return stats.DecimalDifference(1, *l.p.Confidence)
}

// levelSays is what the confidence level means for most intervals.
func (l *location) levelSays() string {
	return "In the long run this share of such intervals holds the true " + l.parameter + "."
}

// ends defines ci_low and ci_high; the end on the side of a single tail is open.
func (l *location) ends(display working.Display, low, high float64, lowExpr, highExpr formula.Expr) {
	l.end("ci_low", "Lower end of the interval", `\text{lower}`, display, low, lowExpr)
	l.end("ci_high", "Upper end of the interval", `\text{upper}`, display, high, highExpr)
}

// end defines an end of an interval, which is open where H₁ takes the other tail.
func (l *location) end(id working.Ref, label, symbol string, display working.Display, value float64, expr formula.Expr) {
	says := "From here on the data speak against a true " + l.parameter + ", at this level."
	switch lower := strings.HasSuffix(string(id), "_low"); {
	case lower && l.p.Tail == problem.Left:
		value = math.Inf(-1)
	case !lower && l.p.Tail == problem.Right:
		value = math.Inf(1)
	}
	if math.IsInf(value, 0) {
		expr, says = nil, "With one tail the interval is open on this side."
	}
	l.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: l.unit, Says: says}, display, value, expr)
}

// multiplier defines how many standard errors the interval reaches.
func (l *location) multiplier(symbol string, outside formula.Expr, area float64) (ref formula.Ref, value float64) {
	ref, value = formula.Ref(l.family.Symbol+"_interval"), l.reference().UpperQuantile(area)
	l.Define(working.Quantity{ID: working.Ref(ref), Symbol: symbol, Label: "Multiplier of the interval", Says: "How many standard errors the interval reaches."},
		working.Ratio, value, formula.Quantile{Of: l.family, Area: outside})
	return ref, value
}

// interval defines the confidence interval of an estimate with a standard error.
func (l *location) interval() {
	outside, area := l.level(l.levelSays())
	multiplier, value := formula.Ref("critical_high"), 0.0
	if l.p.Confidence != nil || l.p.Tail == problem.Left {
		multiplier, value = l.multiplier(l.family.Symbol+"^{*}", outside, area)
	} else {
		value = l.Value("critical_high")
	}
	reach := formula.Product{multiplier, formula.Ref(l.standardError())}
	l.ends(working.Measure, l.value-value*l.se, l.value+value*l.se, formula.Subtract(formula.Ref(l.estimate), reach), formula.Sum{formula.Ref(l.estimate), reach})
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

// reported writes the interval as a report does, "0.12, 0.48". Where it is open it goes to the end of
// what the parameter can be.
func (l *location) reported(least, greatest float64) string {
	low, high := l.Show("ci_low"), l.Show("ci_high")
	if math.IsInf(l.Value("ci_low"), -1) {
		low = working.FormatNumber(least, 0)
	}
	if math.IsInf(l.Value("ci_high"), 1) {
		high = working.FormatNumber(greatest, 0)
	}
	return low + ", " + high
}
