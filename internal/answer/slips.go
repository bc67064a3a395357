package answer

import (
	"math"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure"
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
	{"inverted", "That is one over it: look at what is divided by what.", func(j *judge, n askedNumber) []float64 {
		if _, quotient := j.working.Expr(n.id).(formula.Quotient); !quotient || n.id == "se" {
			return nil
		}
		return []float64{1 / n.value}
	}},
	{"one_tail", "That is for one tail; H₁ looks to both sides here.", func(j *judge, n askedNumber) []float64 {
		if !j.directed() || j.problem.Tail != problem.Both || !ofTails(n.id) {
			return nil
		}
		return append(append(j.worked(n.id, "left", withTail(problem.Left)), j.worked(n.id, "right", withTail(problem.Right))...), halfOf(n))
	}},
	{"two_tails", "That is for two tails; H₁ looks to one side here.", func(j *judge, n askedNumber) []float64 {
		switch {
		case !ofTails(n.id):
			return nil
		case j.directed() && j.problem.Tail != problem.Both:
			return j.worked(n.id, "both", withTail(problem.Both))
		case isP(n.id) && !j.directed():
			return []float64{2 * n.value}
		}
		return nil
	}},
	{"other_tail", "That is the tail on the other side: look at the direction of H₁.", func(j *judge, n askedNumber) []float64 {
		switch {
		case !isP(n.id) || j.directed() && j.problem.Tail == problem.Both:
			return nil
		}
		return []float64{1 - n.value}
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
		return j.changed(n.id, func(part formula.Expr) formula.Expr {
			if q, is := part.(formula.Quantile); is && (q.Of.Symbol == "F" || q.Of.Symbol == write.ChiSquare.Symbol) && !q.Lower {
				q.Lower = true
				return q
			}
			return nil
		})
	}},
	{"pooled", "The variances are pooled there; they are kept apart here.", func(j *judge, n askedNumber) []float64 {
		return j.withVariances(n, "equal")
	}},
	{"kept_apart", "The variances are kept apart there; they are pooled here.", func(j *judge, n askedNumber) []float64 {
		return j.withVariances(n, "unequal")
	}},
	{"n_for_n_minus_1", "That is divided by n; a sample’s spread is divided by n − 1.", func(j *judge, n askedNumber) []float64 {
		return j.carried(n, isSpread, func(part formula.Expr) formula.Expr {
			if sum, is := part.(formula.Sum); is && len(sum) == 2 && sum[1] == formula.Expr(formula.Minus{X: formula.Num(1)}) {
				return sum[0]
			}
			return nil
		})
	}},
	{"root_forgotten", "That is the square of it: the root is still to be drawn.", func(j *judge, n askedNumber) []float64 {
		if _, root := j.working.Expr(n.id).(formula.Root); !root && !strings.HasPrefix(string(n.id), "sd") && n.id != "se" {
			return nil
		}
		return []float64{n.value * n.value}
	}},
	{"root_n_forgotten", "That is divided by s; a mean varies by s/√n.", func(j *judge, n askedNumber) []float64 {
		return j.carried(n, isStandardError, func(part formula.Expr) formula.Expr {
			if q, is := part.(formula.Quotient); is {
				if _, root := q.Under.(formula.Root); root {
					return q.Over
				}
			}
			return nil
		})
	}},
	{"spreads_added", "Standard errors are added there; it is their squares that add up.", func(j *judge, n askedNumber) []float64 {
		return j.carried(n, isStandardError, func(part formula.Expr) formula.Expr {
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
	{"df_other", "Those are the degrees of freedom of another line of the variance table.", func(j *judge, n askedNumber) []float64 {
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
		return []float64{j.cases() / j.cells()}
	}},
	{"continuity", "That is with the continuity correction, which is not asked for.", func(j *judge, n askedNumber) []float64 {
		return j.withContinuity(n, true)
	}},
	{"no_continuity", "The continuity correction is asked for, and missing there.", func(j *judge, n askedNumber) []float64 {
		return j.withContinuity(n, false)
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
	{"percent", "Share and percent are mixed up: it is a hundred times away.", func(j *judge, n askedNumber) []float64 {
		if n.whole || n.unit != "" || n.value < 0 || n.value > 1 {
			return nil
		}
		return []float64{100 * n.value, n.value / 100}
	}},
}

// slip finds the slip that gives the answer. It is claimed only where the answer has two digits at least.
func (j *judge) slip(n askedNumber, t Typed) (Verdict, bool) {
	if !n.whole && !t.Exact && t.Digits < 2 {
		return Verdict{}, false
	}
	for _, s := range slips {
		for _, x := range s.gives(j, n) {
			if n.agrees(t, x) {
				return Verdict{Verdict: Slip, Slip: s.id, Says: s.says, Opens: n.id}, true
			}
		}
	}
	switch {
	case swapped(n, t):
		return Verdict{Verdict: Slip, Slip: "digits_swapped", Says: "Two digits next to each other are exchanged.", Opens: n.id}, true
	case moved(n, t):
		return Verdict{Verdict: Slip, Slip: "decimal_point", Says: "The decimal point stands elsewhere.", Opens: n.id}, true
	}
	return Verdict{}, false
}

// degrees is a slip whose degrees of freedom are a number of the problem.
func degrees(of func(*judge) float64) func(*judge, askedNumber) []float64 {
	return func(j *judge, n askedNumber) []float64 {
		if !isDegrees(n.id) {
			return nil
		}
		return []float64{of(j)}
	}
}

// ofCounts is a slip in what each count adds to χ².
func ofCounts(part func(observed, expected float64) float64) func(*judge, askedNumber) []float64 {
	return func(j *judge, n askedNumber) []float64 {
		if n.id != "chi_square" {
			return nil
		}
		for _, t := range j.solution.Tables {
			sum, counts := 0.0, 0
			for _, row := range t.Rows() {
				o, _, observed := j.solution.Cell(refTo(t, row, "observed"))
				e, _, expected := j.solution.Cell(refTo(t, row, "expected"))
				if observed && expected && t.Total <= mostCells {
					sum += part(float64(o), float64(e))
					counts++
				}
			}
			if counts > 0 {
				return []float64{sum}
			}
		}
		return nil
	}
}

// refTo names the cell of a row in a column, nothing where there is no such column.
func refTo(t *working.Table, row working.Row, column string) working.Ref {
	for at, c := range t.Columns {
		if c.ID == column {
			return t.Ref(row, at)
		}
	}
	return ""
}

// cases is how many cases there are in all, NaN where the problem has no such number.
func (j *judge) cases() float64 {
	switch {
	case j.working.Has("n"):
		return j.working.Value("n")
	case j.working.Has("n_1") && j.working.Has("n_2"):
		return j.working.Value("n_1") + j.working.Value("n_2")
	}
	return math.NaN()
}

// cells is how many cells the table of counts has, NaN without one.
func (j *judge) cells() float64 {
	if t := j.solution.Table("cells"); t != nil {
		return float64(t.Total)
	}
	return math.NaN()
}

// otherCurve returns what another curve gives in place of one: for a p-value or a critical value, and for what rests on
// the critical values.
func (j *judge) otherCurve(n askedNumber, symbol string, other formula.Family) []float64 {
	swap := func(part formula.Expr) formula.Expr {
		switch x := part.(type) {
		case formula.Tail:
			if x.Of.Symbol == symbol {
				x.Of = other
				return x
			}
		case formula.Quantile:
			if x.Of.Symbol == symbol {
				x.Of = other
				return x
			}
		}
		return nil
	}
	if !ofTails(n.id) {
		return nil
	}
	return append(j.changed(n.id, swap), j.carried(n, func(id working.Ref) bool { return strings.HasPrefix(string(id), "critical_") },
		swap)...)
}

// formulaOf returns the quantity's formula, its value where it has none.
func (j *judge) formulaOf(id working.Ref) formula.Expr {
	if expr := j.working.Expr(id); expr != nil {
		return expr
	}
	return formula.Num(j.working.Value(id))
}

// isSpread reports whether a quantity is a standard deviation or a variance.
func isSpread(id working.Ref) bool {
	return id == "sd" || strings.HasPrefix(string(id), "sd_") || id == "variance" || strings.HasPrefix(string(id), "variance_")
}

// isStandardError reports whether a quantity is a standard error.
func isStandardError(id working.Ref) bool { return id == "se" || strings.HasPrefix(string(id), "se_") }

// changed returns what the quantity's formula gives with one part changed.
func (j *judge) changed(id working.Ref, change func(formula.Expr) formula.Expr) []float64 {
	expr := j.working.Expr(id)
	if expr == nil {
		return nil
	}
	var values []float64
	for _, earlier := range []map[working.Ref]float64{nil, j.all()} {
		env := j.working.With(earlier)
		for _, form := range formula.Changed(expr, change) {
			values = append(values, form.Eval(env))
		}
	}
	return values
}

// carried returns what a slip in the formulas of some quantities gives: for one of them, and for what rests on them
// when all are made so.
func (j *judge) carried(n askedNumber, of func(working.Ref) bool, change func(formula.Expr) formula.Expr) []float64 {
	if of(n.id) {
		return j.changed(n.id, change)
	}
	other := map[working.Ref]float64{}
	for _, q := range j.solution.Quantities {
		if values := j.changed(q.ID, change); of(q.ID) && len(values) > 0 {
			other[q.ID] = values[0]
		}
	}
	made, ok := j.working.With(other).Made(n.id)
	if !ok {
		return nil
	}
	return []float64{made}
}

// swapped reports whether two neighbouring digits of the rounded number are exchanged in the answer.
func swapped(n askedNumber, t Typed) bool {
	if t.Exact || t.Decimals < 0 {
		return false
	}
	digits := []byte(strconv.FormatFloat(n.value, 'f', t.Decimals, 64))
	typed := strconv.FormatFloat(t.Value, 'f', t.Decimals, 64)
	for i := range digits {
		k := i + 1
		if k < len(digits) && digits[k] == '.' {
			k++
		}
		if digits[i] == '-' || digits[i] == '.' || k >= len(digits) || digits[i] == digits[k] {
			continue
		}
		digits[i], digits[k] = digits[k], digits[i]
		if string(digits) == typed {
			return true
		}
		digits[i], digits[k] = digits[k], digits[i]
	}
	return false
}

// moved reports whether the answer is a power of ten away.
func moved(n askedNumber, t Typed) bool {
	for power := -6; power <= 6; power++ {
		shift := math.Pow10(power)
		shifted := t
		shifted.Value, shifted.Decimals = t.Value*shift, t.Decimals-power
		if power != 0 && shifted.Agrees(n.value) {
			return true
		}
	}
	return false
}

// isP reports whether a quantity is a p-value.
func isP(id working.Ref) bool { return id == "p" || strings.HasPrefix(string(id), "p_") }

// ofTails reports whether a quantity depends on how many tails there are.
func ofTails(id working.Ref) bool {
	return isP(id) || strings.HasPrefix(string(id), "critical_") || id == "ci_low" || id == "ci_high"
}

// halfOf is what one tail gives of a p-value of two.
func halfOf(n askedNumber) float64 {
	if isP(n.id) {
		return n.value / 2
	}
	return math.NaN()
}

// worked works the problem with one choice altered and returns what a quantity comes to there, also from the student's
// own earlier numbers; nothing where it cannot be worked so. The name tells alterations apart, for each is worked once.
func (j *judge) worked(id working.Ref, name string, alter func(*problem.Problem)) []float64 {
	w, known := j.others[name]
	if !known {
		altered := *j.problem
		altered.Options = make(map[string]jsontext.Value, len(j.problem.Options))
		for option, value := range j.problem.Options {
			altered.Options[option] = value
		}
		alter(&altered)
		w, _ = procedure.WorkOut(j.ctx, &altered) // nil where it cannot be worked so
		j.others[name] = w
	}
	if w == nil {
		return nil
	}
	values := []float64{w.Value(id)}
	if made, ok := w.With(j.all()).Made(id); ok {
		values = append(values, made)
	}
	return values
}

func withTail(tail problem.Tail) func(*problem.Problem) {
	return func(p *problem.Problem) { p.Tail = tail }
}

func withOption(id, value string) func(*problem.Problem) {
	return func(p *problem.Problem) { p.Options[id] = jsontext.Value(value) }
}

// hasOption reports whether the procedure has an option.
func (j *judge) hasOption(id string) bool {
	d := procedure.Find(j.problem.Procedure)
	return d != nil && d.Option(id) != nil
}

// withVariances works the problem with variances pooled or kept apart.
func (j *judge) withVariances(n askedNumber, value string) []float64 {
	if !j.hasOption("variances") {
		return nil
	}
	return j.worked(n.id, "variances "+value, withOption("variances", strconv.Quote(value)))
}

// withContinuity works the problem with or without the correction.
func (j *judge) withContinuity(n askedNumber, on bool) []float64 {
	if !j.hasOption("continuity") || (j.option("continuity") == "true") == on {
		return nil
	}
	return j.worked(n.id, "continuity "+strconv.FormatBool(on), withOption("continuity", strconv.FormatBool(on)))
}
