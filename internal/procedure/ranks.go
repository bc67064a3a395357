package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// ranked is a test by ranks: an exact distribution where that can be had in time, the
// normal approximation beside it, and a shift with its interval.
type ranked struct {
	location
	continuity stats.Continuity
	statistic  working.Ref // "u", "w_plus"
	symbol     string      // U, W
	foundBy    string      // how a printed table is entered
	table      []working.Block
	outcome    string // what the exact distribution counts: "deal of the ranks"
	observed   float64
	mean, sd   float64 // of the statistic under H₀
	z          float64
	exact      *dist.Exact // nil where it would take too long
	pairs      stats.Pairs
}

// test defines the statistic, its approximation and the deciding test.
func (r *ranked) test(meanExpr, sdExpr formula.Expr, extreme string) {
	r.Define(working.Quantity{ID: "mean_rank", Symbol: `\mu_{` + r.symbol + `}`, Label: "Mean of " + r.symbol + " under H₀", Says: "What the statistic is on average, if H₀ is true."}, working.Given, r.mean, meanExpr)
	r.Define(working.Quantity{ID: "sd_rank", Symbol: `\sigma_{` + r.symbol + `}`, Label: "Standard deviation of " + r.symbol + " under H₀", Says: "How far it typically lies from that; ties make it smaller."}, working.Ratio, r.sd, sdExpr)
	distance := r.observed - r.mean
	over := formula.Expr(formula.Subtract(formula.Ref(r.statistic), formula.Ref("mean_rank")))
	if r.continuity != stats.NoCorrection {
		over = r.correct(r.continuity, distance, 0.5, over, formula.Quotient{Over: formula.Num(1), Under: formula.Num(2)}, "Half a step")
	}
	r.Define(working.Quantity{ID: "z", Symbol: "z", Label: "Standardized statistic", Says: "How many standard deviations the statistic lies from its mean under H₀."},
		working.Ratio, r.z, formula.Quotient{Over: over, Under: formula.Ref("sd_rank")})
	if r.exact == nil {
		r.family = zFamily
		r.Test(working.Test{Statistic: "z", Symbol: "z", Family: zFamily, Name: "z, the standard normal curve", Extreme: extreme})
		r.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: "With so many cases it takes too long to count; the approximation is as good."}, working.P, math.NaN(), nil)
		return
	}
	r.family = formula.Family{Symbol: strings.ToLower(r.symbol), New: func([]float64) dist.Distribution { return r.exact }}
	r.Test(working.Test{
		Statistic: r.statistic, Symbol: r.symbol, Family: r.family, Positive: true, P: "p_exact",
		Name: r.symbol + ", every " + r.outcome + " counted", Follows: "the count of every " + r.outcome + ", each as likely as another if H₀ is true", Extreme: extreme,
	})
	var p float64
	var expr formula.Expr
	z := formula.Ref("z")
	switch normal := (dist.Normal{}); r.p.Tail {
	case problem.Left:
		p, expr = normal.Lower(r.z), formula.Tail{Of: zFamily, X: z, Lower: true}
	case problem.Right:
		p, expr = normal.Upper(r.z), formula.Tail{Of: zFamily, X: z}
	default:
		p, expr = 2*normal.Upper(math.Abs(r.z)), formula.Product{formula.Num(2), formula.Tail{Of: zFamily, X: formula.Abs{X: z}}}
	}
	r.Define(working.Quantity{ID: "p", Symbol: "p", Label: "p-value of the normal approximation", Says: "From z and the normal curve, beside the exact one."}, working.P, p, expr)
}

// interval defines the shift and its interval, from the order statistics of the pairs.
func (r *ranked) interval(says string) {
	r.Define(working.Quantity{ID: "shift", Symbol: `\hat{\Delta}`, Label: "Shift", Unit: r.unit, Says: says}, working.Measure, r.value, nil)
	_, area := r.level("In the long run at least this share of such intervals holds the true shift.")
	// k is how many pairs may lie outside at an end: as many as the statistic may be, so
	// that it still lies in its tail.
	tail := math.Floor(r.mean - dist.Normal{}.UpperQuantile(area)*r.sd)
	if r.exact != nil {
		tail = r.exact.LowerQuantile(area)
	}
	low, high := math.Inf(-1), math.Inf(1)
	if k := int(math.Floor(tail)) + 1; !math.IsNaN(tail) && k >= 1 && k <= r.pairs.Count() {
		if r.p.Tail != problem.Left {
			low = r.pairs.Kth(k)
		}
		if r.p.Tail != problem.Right {
			high = r.pairs.Kth(r.pairs.Count() + 1 - k)
		}
	}
	end := func(id, label, symbol string, value float64) {
		says := "A shift that the data would not reject, at this level; found among the pairs in their order."
		if math.IsInf(value, 0) {
			says = "The interval is open on this side."
		}
		r.Define(working.Quantity{ID: working.Ref(id), Symbol: symbol, Label: label, Unit: r.unit, Says: says}, working.Measure, value, nil)
	}
	end("ci_low", "Lower end of the interval", `\text{lower}`, low)
	end("ci_high", "Upper end of the interval", `\text{upper}`, high)
}

// steps writes the steps from the critical value to the decision.
func (r *ranked) steps(alternative, null string) {
	if r.exact != nil {
		r.CriticalValueStep(append([]working.Block{working.Note("A printed table of $%s$ gives the lower critical value %s, for data without ties; the upper one lies as far below the largest %s as the lower one above the smallest.", r.symbol, r.foundBy, r.symbol)}, r.table...)...)
	} else {
		r.CriticalValueStep(r.printed()...)
	}
	r.PValueStep()
	if r.exact != nil {
		r.AddTo(working.PValue, working.Say("The exact p-value decides: every %s was counted. By the normal approximation, $z$ = @{z}, it would be p %s@{p}.", r.outcome, r.relation("p")), working.FormulaBlock{Quantity: "p"})
	} else {
		r.AddTo(working.PValue, working.Say("The normal approximation decides: with so many cases counting every %s would take too long, and would change nothing that can be seen.", r.outcome))
	}
	r.decide(alternative, null)
}

// deciding names the p-value that decides.
func (r *ranked) deciding() working.Ref {
	if r.exact != nil {
		return "p_exact"
	}
	return "p"
}

// shiftFigure draws the shift with its interval and 0.
func (r *ranked) shiftFigure(null float64) {
	low, high := r.Value("ci_low"), r.Value("ci_high")
	axisLow, axisHigh := working.Padded(0.12, low, high, r.value, null)
	r.Figure(&working.Figure{ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for %s", r.levelWords(), r.subject), Reads: r.shiftWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for %s: %s; the estimate is %s, H₀ states %s.", r.levelWords(), r.subject, r.shiftWords(), r.withUnit("shift"), working.FormatShortest(null)),
		Axis: working.Axis{Label: r.subject, Unit: r.unit, Min: working.Number(axisLow), Max: working.Number(axisHigh)},
		Marks: []working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, r.value, high), Refs: []working.Ref{"ci_low", "shift", "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(null)},
		}})
}

// shiftWords returns the interval in words, which may be open at both ends.
func (r *ranked) shiftWords() string {
	low, high := r.Value("ci_low"), r.Value("ci_high")
	switch {
	case math.IsInf(low, 0) && math.IsInf(high, 0):
		return "too few cases for one"
	case math.IsInf(low, 0):
		return "at most " + r.withUnit("ci_high")
	case math.IsInf(high, 0):
		return "at least " + r.withUnit("ci_low")
	}
	return r.Show("ci_low") + " to " + r.withUnit("ci_high")
}
