package write

import (
	"fmt"
	"math"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// Outside returns what lies outside an interval with two ends, with its formula.
func (s *Sheet) Outside() (formula.Expr, float64) {
	if s.P.Confidence == nil {
		return formula.Ref("alpha"), s.P.Alpha
	}
	// As decimals: 1 − 0.9 is 0.1, which a count may just reach.
	return formula.Subtract(formula.Num(1), formula.Ref("confidence")), stats.DecimalDifference(1, *s.P.Confidence)
}

// Area returns what lies outside an interval with two ends.
func (s *Sheet) Area() float64 {
	_, area := s.Outside()
	return area
}

// Level defines the confidence level, which says says of the intervals, and returns the area
// outside an end of the interval with its formula.
func (s *Sheet) Level(says string) (outside formula.Expr, area float64) {
	outside, area = s.Outside()
	var level formula.Expr
	if s.P.Confidence == nil {
		level = formula.Subtract(formula.Num(1), formula.Ref("alpha"))
	}
	if !s.Direction.Directed() {
		outside, area = formula.Quotient{Over: outside, Under: formula.Num(2)}, area/2
	}
	s.Define(working.Quantity{ID: "confidence", Symbol: "C", Label: "Confidence level", Says: says}, working.Given, s.P.ConfidenceLevel(),
		level)
	return outside, area
}

// LevelSays is what the confidence level means for most intervals.
func (s *Sheet) LevelSays() string {
	return "In the long run this share of such intervals holds the true " + s.Parameter + "."
}

// LevelWords returns the confidence level as a percentage.
func (s *Sheet) LevelWords() string { return working.FormatPercent(s.P.ConfidenceLevel()) }

// An Interval is where its ends lie, with their formulas.
type Interval struct {
	Low, High         float64
	LowExpr, HighExpr formula.Expr
}

// Ends defines ci_low and ci_high; the end on the side of a single tail is open.
func (s *Sheet) Ends(display working.Display, i Interval) {
	s.LowerEnd("ci_low", "Lower end of the interval", `\text{lower}`, display, i.Low, i.LowExpr)
	s.UpperEnd("ci_high", "Upper end of the interval", `\text{upper}`, display, i.High, i.HighExpr)
}

// LowerEnd defines the lower end of an interval, which is open where H₁ says "less".
func (s *Sheet) LowerEnd(id working.Ref, label, symbol string, display working.Display, value float64, expr formula.Expr) {
	if !s.Direction.Above() {
		value = math.Inf(-1)
	}
	s.end(id, label, symbol, display, value, expr)
}

// UpperEnd defines the upper end of an interval, which is open where H₁ says "greater".
func (s *Sheet) UpperEnd(id working.Ref, label, symbol string, display working.Display, value float64, expr formula.Expr) {
	if !s.Direction.Below() {
		value = math.Inf(1)
	}
	s.end(id, label, symbol, display, value, expr)
}

func (s *Sheet) end(id working.Ref, label, symbol string, display working.Display, value float64, expr formula.Expr) {
	says := "From here on the data speak against a true " + s.Parameter + ", at this level."
	if math.IsInf(value, 0) {
		expr, says = nil, "With one tail the interval is open on this side."
	}
	s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: s.Unit, Says: says}, display, value, expr)
}

// Multiplier defines how many standard errors the interval reaches.
func (s *Sheet) Multiplier(symbol string, outside formula.Expr, area float64) (ref formula.Ref, value float64) {
	ref, value = formula.Ref(s.Family.Symbol+"_interval"), s.reference().UpperQuantile(area)
	s.Define(working.Quantity{
		ID: working.Ref(ref), Symbol: symbol, Label: "Multiplier of the interval", Says: "How many standard errors the interval reaches.",
	}, working.Ratio, value, formula.Quantile{Of: s.Family, Area: outside})
	return ref, value
}

// Between writes the interval between two quantities, with the unit once: "0.2 to 0.5 min". An
// end that is infinite is open, and none says what stands where both are or there is none.
func (s *Sheet) Between(low, high working.Ref, none string) string {
	from, to := s.Value(low), s.Value(high)
	switch {
	case math.IsInf(from, 0) && math.IsInf(to, 0) || math.IsNaN(from) || math.IsNaN(to):
		return none
	case math.IsInf(from, 0):
		return "at most " + s.WithUnit(high)
	case math.IsInf(to, 0):
		return "at least " + s.WithUnit(low)
	}
	return s.Show(low) + " to " + s.WithUnit(high)
}

// IntervalWords returns the interval from ci_low to ci_high in words.
func (s *Sheet) IntervalWords() string {
	return s.Between("ci_low", "ci_high", "too few cases for one")
}

// Reported writes the interval as a report does: "0.12, 0.48". Where it is open it goes to the
// end of what the parameter can be.
func (s *Sheet) Reported(least, greatest float64) string {
	low, high := s.Show("ci_low"), s.Show("ci_high")
	if math.IsInf(s.Value("ci_low"), -1) {
		low = working.FormatNumber(least, 0)
	}
	if math.IsInf(s.Value("ci_high"), 1) {
		high = working.FormatNumber(greatest, 0)
	}
	return low + ", " + high
}

// Interval defines the confidence interval: as many standard errors to either side as the
// multiplier says.
func (e *Estimate) Interval() {
	outside, area := e.Level(e.LevelSays())
	multiplier, value := formula.Ref("critical_high"), 0.0
	if e.P.Confidence != nil || !e.Direction.Above() {
		multiplier, value = e.Multiplier(e.Family.Symbol+"^{*}", outside, area)
	} else {
		value = e.Value("critical_high")
	}
	reach := formula.Product{multiplier, formula.Ref(e.SEID)}
	e.Ends(working.Measure, Interval{
		e.Observed - value*e.SE, e.Observed + value*e.SE,
		formula.Subtract(formula.Ref(e.ID), reach), formula.Sum{formula.Ref(e.ID), reach},
	})
}

// IntervalFigure draws the interval with the value under H₀, which can be moved; more are further
// marks on the same axis, which holds their values too.
func (e *Estimate) IntervalFigure(more []working.Mark, values ...float64) {
	low, high := e.Value("ci_low"), e.Value("ci_high")
	axisLow, axisHigh := working.Padded(0.12, append(values, low, high, e.Observed, e.Null)...)
	f := &working.Figure{
		ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for %s", e.LevelWords(), e.Subject),
		Reads: e.IntervalWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for %s: %s; the observed %s is %s, H₀ states %s.",
			e.LevelWords(), e.Named, e.IntervalWords(), e.Parameter, e.WithUnit(e.ID), e.Hypothesised()),
		Axis: working.Axis{Label: e.Subject, Unit: e.Unit, Min: working.Number(axisLow), Max: working.Number(axisHigh)},
		Marks: append([]working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, e.Observed, high),
				Refs: []working.Ref{"ci_low", e.ID, "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(e.Null), Refs: []working.Ref{e.NullID()}},
		}, more...),
	}
	if e.Option != "" {
		f.Handles = []working.Handle{e.nullHandle(axisLow, axisHigh)}
	}
	e.Figure(f)
}

// nullHandle lets the value under H₀ be moved along an axis, within its bounds.
func (e *Estimate) nullHandle(axisLow, axisHigh float64) working.Handle {
	least, greatest := e.Least, e.Greatest
	if least == greatest { // it has no bounds
		least, greatest = math.Inf(-1), math.Inf(1)
	}
	step := math.Pow10(int(math.Floor(math.Log10(e.SE))) - 1)
	return working.Handle{
		ID: e.Option, Label: words.UpperFirst(e.Parameter) + " under H₀", Pointer: problem.Pointer("options", e.Option),
		At: working.Number(e.Null), Step: working.Number(step),
		Min: working.Number(math.Max(axisLow, least+step)), Max: working.Number(math.Min(axisHigh, greatest-step)),
	}
}

// IntervalBlocks reads the interval and shows how its ends come about.
func (e *Estimate) IntervalBlocks() []working.Block {
	low, high := e.Value("ci_low"), e.Value("ci_high")
	contains := low <= e.Null && e.Null <= high
	same := e.P.Confidence == nil && !e.Apart
	if same {
		contains = !e.Rejected() // the same statement; on the very boundary the test has the word
	}
	holds := "does not contain"
	if contains {
		holds = "contains"
	}
	reading := working.Textf("The %s\u00a0%% interval for %s, %s, %s the %s of H₀, %s",
		e.LevelWords(), e.Subject, e.IntervalWords(), holds, e.Parameter, e.Hypothesised())
	end := working.Textf(".")
	if same {
		must := "as it must when H₀ is not rejected"
		if e.Rejected() {
			must = "as it must when H₀ is rejected"
		}
		end = working.Textf(", %s at $α$ = @{alpha}. It holds exactly those %ss that this test would not reject.", must, e.Parameter)
	}
	blocks := []working.Block{working.FigureBlock{Figure: "interval"}, working.Prose{Text: working.Join(reading, end)}}
	blocks = append(blocks, e.EndFormulas()...)
	return append(blocks, working.Warn("%s\u00a0%% is the share of such intervals that hold the true %s in the long run. "+
		"It is not the probability that this one does.", e.LevelWords(), e.Parameter))
}

// EndFormulas shows how the ends of the interval come about, those that there are.
func (s *Sheet) EndFormulas() []working.Block {
	var blocks []working.Block
	for _, id := range []working.Ref{"ci_low", "ci_high"} {
		if x := s.Value(id); !math.IsInf(x, 0) && !math.IsNaN(x) {
			blocks = append(blocks, working.FormulaBlock{Quantity: id})
		}
	}
	return blocks
}
