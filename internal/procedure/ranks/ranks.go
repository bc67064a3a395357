// Package ranks holds the procedures that replace values by their ranks: two groups, pairs or
// one sample, and several groups.
package ranks

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// ranked is a test by ranks: an exact distribution where that can be had in time, the normal
// approximation beside it, and a shift with its interval.
type ranked struct {
	write.Sheet
	continuity stats.Continuity
	statistic  working.Ref // "u", "w_plus"
	symbol     string      // U, W
	subject    string      // what the interval is for
	outcome    string      // what the exact distribution counts: "deal of the ranks"
	foundBy    string      // how a printed table is entered
	observed   float64
	mean, sd   float64 // of the statistic under H₀
	z          float64
	exact      *dist.Exact // nil where it would take too long
	pairs      stats.Pairs
	shift      float64
}

// approximation defines the mean and the standard deviation of the statistic under H₀, and z.
func (r *ranked) approximation(meanExpr, sdExpr formula.Expr) {
	r.Define(working.Quantity{
		ID: "mean_rank", Symbol: `\mu_{` + r.symbol + `}`, Label: "Mean of " + r.symbol + " under H₀",
		Says: "What the statistic is on average, if H₀ is true.",
	}, working.Given, r.mean, meanExpr)
	r.Define(working.Quantity{
		ID: "sd_rank", Symbol: `\sigma_{` + r.symbol + `}`, Label: "Standard deviation of " + r.symbol + " under H₀",
		Says: "How far it typically lies from that; ties make it smaller.",
	}, working.Ratio, r.sd, sdExpr)
	over := formula.Expr(formula.Subtract(formula.Ref(r.statistic), formula.Ref("mean_rank")))
	if r.continuity != stats.NoCorrection {
		over = r.Correct(write.Correction{
			Continuity: r.continuity, Distance: r.observed - r.mean, Half: 0.5,
			Expr: over, HalfExpr: formula.Quotient{Over: formula.Num(1), Under: formula.Num(2)}, Says: "Half a step",
		})
	}
	r.Define(working.Quantity{
		ID: "z", Symbol: "z", Label: "Standardized statistic", Says: "How many standard deviations the statistic lies from its mean under H₀.",
	}, working.Ratio, r.z, formula.Quotient{Over: over, Under: formula.Ref("sd_rank")})
}

// test makes the deciding test, and defines the p-value that stands beside its own.
func (r *ranked) test() {
	extreme := r.Direction.Extreme.Of(r.P.Tail)
	if r.exact == nil {
		r.Family = write.Z
		r.Test(working.Test{Statistic: "z", Symbol: "z", Family: r.Family, Name: "z, the standard normal curve", Extreme: extreme})
		r.Define(working.Quantity{
			ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value",
			Says: "With so many cases it takes too long to count; the approximation is as good.",
		}, working.P, math.NaN(), nil)
		return
	}
	r.Family = formula.Family{Symbol: strings.ToLower(r.symbol), New: func([]float64) dist.Distribution { return r.exact }}
	r.Test(working.Test{
		Statistic: r.statistic, Symbol: r.symbol, Family: r.Family, Positive: true, P: "p_exact",
		Name:    r.symbol + ", every " + r.outcome + " counted",
		Follows: "the count of every " + r.outcome + ", each as likely as another if H₀ is true", Extreme: extreme,
	})
	p, expr := r.Direction.CurveP(write.Z, dist.Normal{}, r.z, "z")
	r.Define(working.Quantity{
		ID: "p", Symbol: "p", Label: "p-value of the normal approximation", Says: "From z and the normal curve, beside the exact one.",
	}, working.P, p, expr)
}

// interval defines the shift and its interval, from the order statistics of the pairs.
func (r *ranked) interval(says string) {
	r.Define(working.Quantity{ID: "shift", Symbol: `\hat{\Delta}`, Label: "Shift", Unit: r.Unit, Says: says}, working.Measure, r.shift, nil)
	_, area := r.Level("In the long run at least this share of such intervals holds the true shift.")
	// k is how many pairs may lie outside at an end: as many as the statistic may be, so that it
	// still lies in its tail.
	tail := math.Floor(r.mean - dist.Normal{}.UpperQuantile(area)*r.sd)
	if r.exact != nil {
		tail = r.exact.LowerQuantile(area)
	}
	low, high := math.Inf(-1), math.Inf(1)
	if k := int(math.Floor(tail)) + 1; !math.IsNaN(tail) && k >= 1 && k <= r.pairs.Count() {
		if r.Direction.Above() {
			low = r.pairs.Kth(k)
		}
		if r.Direction.Below() {
			high = r.pairs.Kth(r.pairs.Count() + 1 - k)
		}
	}
	r.end("ci_low", "Lower end of the interval", `\text{lower}`, low)
	r.end("ci_high", "Upper end of the interval", `\text{upper}`, high)
}

func (r *ranked) end(id working.Ref, label, symbol string, value float64) {
	says := "A shift that the data would not reject, at this level; found among the pairs in their order."
	if math.IsInf(value, 0) {
		says = "The interval is open on this side."
	}
	r.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: r.Unit, Says: says}, working.Measure, value, nil)
}

// steps writes the steps from the critical value to the decision. table is the part of a printed
// table that shows the critical value.
func (r *ranked) steps(table []working.Block) {
	if r.exact != nil {
		r.CriticalValueStep(append([]working.Block{working.Note("A printed table of $%s$ gives the lower critical value %s, for "+
			"data without ties; the upper one lies as far below the largest %s as the lower one above the smallest.",
			r.symbol, r.foundBy, r.symbol)}, table...)...)
	} else {
		r.CriticalValueStep(r.Printed()...)
	}
	r.PValueStep()
	if r.exact != nil {
		r.AddTo(working.PValue, working.Say("The exact p-value decides: every %s was counted. By the normal approximation, $z$ = @{z}, it "+
			"would be p %s@{p}.",
			r.outcome, r.Relation("p")), working.FormulaBlock{Quantity: "p"})
	} else {
		r.AddTo(working.PValue, working.Say("The normal approximation decides: with so many cases counting every %s would take too long, "+
			"and would change nothing that can be seen.", r.outcome))
	}
	r.Decide()
}

// deciding names the p-value that decides, and how it was found.
func (r *ranked) deciding() (p working.Ref, how string) {
	if r.exact != nil {
		return "p_exact", "exact"
	}
	return "p", "normal approximation"
}

// shiftFigure draws the shift with its interval and what H₀ states.
func (r *ranked) shiftFigure(null float64) {
	low, high := r.Value("ci_low"), r.Value("ci_high")
	axisLow, axisHigh := working.Padded(0.12, low, high, r.shift, null)
	r.Figure(&working.Figure{
		ID: "interval", Form: working.Intervals,
		Title: fmt.Sprintf("%s\u00a0%% interval for %s", r.LevelWords(), r.subject), Reads: r.IntervalWords(),
		Says: fmt.Sprintf("%s\u00a0%% interval for %s: %s; the estimate is %s, H₀ states %s.",
			r.LevelWords(), r.subject, r.IntervalWords(), r.WithUnit("shift"), working.FormatShortest(null)),
		Axis: working.Axis{Label: r.subject, Unit: r.Unit, Min: working.Number(axisLow), Max: working.Number(axisHigh)},
		Marks: []working.Mark{
			{Shape: working.Interval, Role: working.Observed, X: working.Positions(low, r.shift, high),
				Refs: []working.Ref{"ci_low", "shift", "ci_high"}},
			{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(null)},
		},
	})
}

// resample offers a simulation of a sum of ranks.
func (r *ranked) resample(resampling working.Resampling) {
	if r.exact == nil {
		resampling.Assumes = "Shuffling is exact but for chance; the normal curve is an approximation of it."
	}
	r.ResampleBy(resampling)
}

// scaled turns a rank statistic into the one that the test is made with.
func (r *ranked) scaled(statistic float64) float64 {
	if r.exact != nil {
		return statistic
	}
	return stats.RankZ(statistic, r.mean, r.sd, r.continuity)
}

// sum adds up.
func sum(xs []float64) float64 {
	total := 0.0
	for _, x := range xs {
		total += x
	}
	return total
}
