package answer

import (
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/write"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// A slip is one that is known: how it is worked, and what is said of it. What could be meant by two slips goes to the
// earlier in the table.
type slip struct {
	id   string
	says string
	// gives are the values that the slip gives for a number; none where it does not apply.
	gives func(j *judge, n askedNumber) []float64
}

var slips = []slip{
	{"sign", "The sign is the opposite one: look at what is taken from what.", func(_ *judge, n askedNumber) []float64 {
		return []float64{-n.value}
	}},
	{"inverted", "That is one over it: look at what is divided by what.", func(_ *judge, n askedNumber) []float64 {
		if n.id != "f" && !strings.Contains(string(n.id), "ratio") && !strings.Contains(string(n.id), "odds") {
			return nil
		}
		return []float64{1 / n.value}
	}},
	{"one_tail", "That is for one tail; H₁ looks to both sides here.", func(j *judge, n askedNumber) []float64 {
		if !j.directed() || j.problem.Tail != problem.Both || !j.ofTails(n.id) {
			return nil
		}
		if isP(n.id) {
			return append(j.tailWorked(n, problem.Left, problem.Right), n.value/2, 1-n.value/2)
		}
		return j.withAreas("one tail", n, func(area formula.Expr) formula.Expr {
			if half, is := area.(formula.Quotient); is && half.Under == formula.Expr(formula.Num(2)) {
				return half.Over
			}
			return nil
		})
	}},
	{"two_tails", "That is for two tails; the region lies in one tail here.", func(j *judge, n askedNumber) []float64 {
		switch {
		case !j.ofTails(n.id):
			return nil
		case j.directed() && j.problem.Tail == problem.Both:
			return nil
		case isP(n.id):
			return append(j.tailWorked(n, problem.Both), 2*n.value, 2*(1-n.value))
		}
		return j.withAreas("two tails", n, func(area formula.Expr) formula.Expr { return formula.Quotient{Over: area, Under: formula.Num(2)} })
	}},
	{"other_tail", "That is the tail on the other side: look at the direction of H₁.", func(j *judge, n askedNumber) []float64 {
		switch {
		case j.directed() && j.problem.Tail == problem.Both:
			return nil
		case isP(n.id):
			return []float64{1 - n.value}
		case !j.directed(): // that of χ² and of F is an area below
			return nil
		}
		return j.changed(n.id, otherSide)
	}},
	{"z_for_t", "That is the curve of z; the standard deviation was estimated, so it is t.", func(j *judge, n askedNumber) []float64 {
		return j.otherCurve(n, "t", write.Z)
	}},
	{"t_for_z", "That is the curve of t; here it is z.", func(j *judge, n askedNumber) []float64 {
		cases := j.cases()
		if math.IsNaN(cases) {
			return nil
		}
		t := formula.Family{Symbol: "t", New: func([]float64) dist.Distribution { return dist.T{DF: cases - 1} }}
		return j.otherCurve(n, "z", t)
	}},
	{"area_below", "That has the area α below it; the region is above.", func(j *judge, n askedNumber) []float64 {
		if j.directed() {
			return nil
		}
		return j.changed(n.id, otherSide)
	}},
	{"pooled", "The variances are pooled there; they are kept apart here.", func(j *judge, n askedNumber) []float64 {
		return j.withVariances(n, "equal")
	}},
	{"kept_apart", "The variances are kept apart there; they are pooled here.", func(j *judge, n askedNumber) []float64 {
		return j.withVariances(n, "unequal")
	}},
	{"n_for_n_minus_1", "That is divided by n; a sample’s spread is divided by n − 1.", func(j *judge, n askedNumber) []float64 {
		return j.carried("n for n − 1", n, isSpread, func(part formula.Expr) formula.Expr {
			if sum, is := part.(formula.Sum); is && len(sum) == 2 && sum[1] == formula.Expr(formula.Minus{X: formula.Num(1)}) {
				return sum[0]
			}
			return nil
		})
	}},
	{"root_forgotten", "That is the square of it: the root is still to be drawn.", func(j *judge, n askedNumber) []float64 {
		if _, root := j.working.Expr(n.id).(formula.Root); !root && !isSpread(n.id) && !isStandardError(n.id) {
			return nil
		}
		return []float64{n.value * n.value}
	}},
	{"root_n_forgotten", "That is divided by s; a mean varies by s/√n.", func(j *judge, n askedNumber) []float64 {
		return j.carried("root n", n, isStandardError, withoutSizes)
	}},
	{"spreads_added", "Standard errors are added there; it is their squares that add up.", func(j *judge, n askedNumber) []float64 {
		return j.carried("added", n, isStandardError, func(part formula.Expr) formula.Expr {
			root, is := part.(formula.Root)
			if sum, of := root.X.(formula.Sum); is && of {
				added := make(formula.Sum, len(sum))
				for i, term := range sum {
					added[i] = formula.Root{X: term}
				}
				return added
			}
			return nil
		})
	}},
	{"h0_value_forgotten", "The value under H₀ is not taken off there.", func(j *judge, n askedNumber) []float64 {
		return j.changed(n.id, func(part formula.Expr) formula.Expr {
			if ref, is := part.(formula.Ref); is && strings.HasSuffix(string(ref), "_0") {
				return formula.Num(0)
			}
			return nil
		})
	}},
	{"df_n", "That is n: one or more are taken off.", degrees(func(j *judge) float64 { return j.cases() })},
	{"df_n_minus_1", "That is n − 1, which is right for one mean.", degrees(func(j *judge) float64 { return j.cases() - 1 })},
	{"df_n_minus_2", "That is n − 2, which is right for a line and for two groups that are pooled.", degrees(func(j *judge) float64 {
		return j.cases() - 2
	})},
	{"df_cells_minus_1", "That is the number of cells less one; the totals hold more of them fast.", degrees(func(j *judge) float64 {
		return j.cells() - 1
	})},
	{"df_cells", "That is the number of cells; the totals hold some of them fast.", degrees(func(j *judge) float64 { return j.cells() })},
	{"df_categories", "That is the number of categories; the total holds one of them fast.", degrees(func(j *judge) float64 {
		return j.categories()
	})},
	{"df_parameters_forgotten", "The estimated parameters are not taken off there: each takes one degree of freedom.",
		func(j *judge, n askedNumber) []float64 {
			return j.resting(n, "df", j.working.With(map[working.Ref]float64{"parameters_estimated": 0}))
		}},
	{"df_other", "The test has these degrees of freedom too, but in another place.", func(j *judge, n askedNumber) []float64 {
		if !isDegrees(n.id) {
			return nil
		}
		var others []float64
		for _, q := range j.solution.Quantities {
			if isDegrees(q.ID) && !q.Aside && q.ID != n.id {
				others = append(others, float64(q.Value))
			}
		}
		return others
	}},
	{"sums_for_means", "That is made of sums of squares; each is first divided by its degrees of freedom.",
		func(j *judge, n askedNumber) []float64 {
			sums := func(part formula.Expr) formula.Expr {
				if ref, is := part.(formula.Ref); is && strings.HasPrefix(string(ref), "ms_") {
					return formula.Ref("ss_" + strings.TrimPrefix(string(ref), "ms_"))
				}
				return nil
			}
			values := []float64{}
			for _, once := range formula.Changed(j.formulaOf(n.id), sums) {
				for _, twice := range formula.Changed(once, sums) {
					values = append(values, twice.Eval(j.working.With(nil)))
				}
			}
			if rest, is := strings.CutPrefix(string(n.id), "ms_"); is {
				values = append(values, j.working.Value(working.Ref("ss_"+rest)))
			}
			return values
		}},
	{"divided_by_observed", "That is divided by what was observed; each square is divided by what is expected.", ofCounts(
		func(o, e float64) float64 { return (o - e) * (o - e) / o })},
	{"not_squared", "The differences are not squared there.", ofCounts(func(o, e float64) float64 { return math.Abs(o-e) / e })},
	{"not_divided", "The squares are added there without being divided by what is expected.", ofCounts(
		func(o, e float64) float64 { return (o - e) * (o - e) })},
	{"all_cells_alike", "That parts all cases alike among the cells; look at the totals of the row and the column.", func(
		j *judge, n askedNumber) []float64 {
		if !n.cell || !strings.HasSuffix(string(n.id), "/expected") {
			return nil
		}
		return []float64{j.cases() / j.cells(), j.cases() / j.categories()}
	}},
	{"continuity", "That is with the continuity correction, which is not asked for.", func(j *judge, n askedNumber) []float64 {
		return j.withContinuity(n, true)
	}},
	{"no_continuity", "The continuity correction is asked for, and missing there.", func(j *judge, n askedNumber) []float64 {
		return j.withContinuity(n, false)
	}},
	{"sample_proportion", "The sample’s proportion stands in the standard error there; H₀ states the one that belongs in it.",
		func(j *judge, n askedNumber) []float64 {
			if !j.working.Has("proportion") {
				return nil
			}
			return j.resting(n, "se", j.working.With(map[working.Ref]float64{"proportion_0": j.working.Value("proportion")}))
		}},
	{"unpooled", "The two proportions are kept apart there; H₀ makes them one, so they are pooled.", func(j *judge, n askedNumber) []float64 {
		if !j.working.Has("pooled_proportion") || !j.working.Has("se_interval") {
			return nil
		}
		return j.restingOn(n, "se", j.working.Value("se_interval"))
	}},
	{"regressed_other_way", "Response and predictor are exchanged there: look at which of them is predicted.",
		func(j *judge, n askedNumber) []float64 {
			if n.id != "slope" && n.id != "intercept" {
				return nil
			}
			return j.worked(n.id, "roles exchanged", exchangeRoles)
		}},
	{"intercept_forgotten", "That is the slope times the predictor alone: the line does not start at nothing.",
		func(j *judge, n askedNumber) []float64 {
			intercept, _, ok := j.solution.Cell("coefficients/intercept/coefficient")
			if !n.cell || !ok || !strings.HasSuffix(string(n.id), "/fitted") {
				return nil
			}
			return []float64{n.value - float64(intercept)}
		}},
	{"squared_r", "That is the square of r.", func(_ *judge, n askedNumber) []float64 {
		if n.id != "r" {
			return nil
		}
		return []float64{n.value * n.value}
	}},
	{"not_squared_r", "That is r; its square is asked for.", func(_ *judge, n askedNumber) []float64 {
		if n.id != "r_squared" {
			return nil
		}
		return []float64{math.Sqrt(n.value), -math.Sqrt(n.value)}
	}},
	{"mean_for_new", "That is the interval of the mean; a new case varies about it.", func(j *judge, n askedNumber) []float64 {
		row, end, is := strings.Cut(string(n.id), "/new_")
		mean, _, ok := j.solution.Cell(working.Ref(row + "/mean_" + end))
		if !is || !ok {
			return nil
		}
		return []float64{float64(mean)}
	}},
	{"percent", "Share and percent are mixed up: it is a hundred times away.", func(j *judge, n askedNumber) []float64 {
		if n.whole || !j.isShare(n.id) {
			return nil
		}
		return []float64{100 * n.value, n.value / 100}
	}},
}

// otherSide takes the area of a quantile from the other side of χ² or F; that of a symmetric curve has the opposite sign.
func otherSide(part formula.Expr) formula.Expr {
	if q, is := part.(formula.Quantile); is && (q.Of.Symbol == "F" || q.Of.Symbol == write.ChiSquare.Symbol) {
		q.Lower = !q.Lower
		return q
	}
	return nil
}

// digitSlips are seen by the digits alone, and judged after all others.
var digitSlips = []struct {
	id, says string
	shows    func(n askedNumber, t Typed) bool
}{
	{"digits_swapped", "Two digits next to each other are exchanged.", digitsSwapped},
	{"decimal_point", "The decimal point stands elsewhere.", pointMoved},
}

// withoutSizes leaves the sizes of samples out of a standard error: s for s/√n, √(s₁² + s₂²) for √(s₁²/n₁ + s₂²/n₂).
func withoutSizes(part formula.Expr) formula.Expr {
	isSize := func(x formula.Expr) bool {
		ref, is := x.(formula.Ref)
		return is && (ref == "n" || strings.HasPrefix(string(ref), "n_"))
	}
	switch x := part.(type) {
	case formula.Quotient:
		if root, is := x.Under.(formula.Root); is && isSize(root.X) {
			return x.Over
		}
	case formula.Root:
		terms, is := x.X.(formula.Sum)
		if !is {
			return nil
		}
		without := make(formula.Sum, len(terms))
		for i, term := range terms {
			q, is := term.(formula.Quotient)
			if !is || !isSize(q.Under) {
				return nil
			}
			without[i] = q.Over
		}
		return formula.Root{X: without}
	}
	return nil
}
