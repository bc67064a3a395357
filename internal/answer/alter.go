package answer

import (
	"maps"
	"math"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/working"
)

// slip finds the slip that gives the answer. It is claimed only where the answer has two digits at least.
func (j *judge) slip(n askedNumber, t Typed) (Verdict, bool) {
	if !n.whole && !t.Exact && t.Digits < 2 {
		return Verdict{}, false
	}
	if made, ok := j.working.With(j.all()).Made(n.id); ok && n.agrees(t, made) {
		return Verdict{}, false // it is what the right formula gives from the student's own rounded numbers
	}
	for _, s := range slips {
		for _, x := range s.gives(j, n) {
			if n.agrees(t, x) {
				return Verdict{Verdict: Slip, Slip: s.id, Says: s.says, Opens: n.id}, true
			}
		}
	}
	for _, s := range digitSlips {
		if s.shows(n, t) {
			return Verdict{Verdict: Slip, Slip: s.id, Says: s.says, Opens: n.id}, true
		}
	}
	return Verdict{}, false
}

// SlipSays returns the sentence of a slip.
func SlipSays(id string) string {
	for _, s := range slips {
		if s.id == id {
			return s.says
		}
	}
	for _, s := range digitSlips {
		if s.id == id {
			return s.says
		}
	}
	return ""
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

// chiSquare and gStatistic are the statistics of counts, which are sums over cells.
const (
	chiSquare  working.Ref = "chi_square"
	gStatistic working.Ref = "g"
)

// ofCounts is a slip in what each count adds to χ²: of one of them, or of all.
func ofCounts(part func(observed, expected float64) float64) func(*judge, askedNumber) []float64 {
	return func(j *judge, n askedNumber) []float64 {
		if n.id != chiSquare && !strings.HasSuffix(string(n.id), "/contribution") {
			return nil
		}
		if x, counts := j.overCells(n.id, func(_ string, o, e float64) float64 { return part(o, e) }); counts > 0 {
			return []float64{x}
		}
		return nil
	}
}

// overCells adds up what each count brings, or takes the one cell of a contribution; counts is how many there were.
func (j *judge) overCells(of working.Ref, part func(row string, observed, expected float64) float64) (sum float64, counts int) {
	add := func(row string) {
		o, _, observed := j.solution.Cell(working.Ref(row + "/observed"))
		e, _, expected := j.solution.Cell(working.Ref(row + "/expected"))
		if observed && expected {
			sum += part(row, float64(o), float64(e))
			counts++
		}
	}
	if row, is := strings.CutSuffix(string(of), "/contribution"); is {
		add(row)
		return sum, counts
	}
	for _, t := range j.solution.Tables {
		if t.Total > mostCells {
			continue
		}
		for _, row := range t.Rows() {
			add(strings.TrimSuffix(string(t.Ref(row, 0)), "/"+t.Columns[0].ID))
		}
		if counts > 0 {
			break
		}
	}
	return sum, counts
}

// fromCells returns what a statistic of counts, or a contribution to it, comes to with the student's own expected counts,
// NaN where there are none, and whether one of them is wrong.
func (j *judge) fromCells(of working.Ref) (x float64, wrong bool) {
	parts := map[working.Ref]func(o, e float64) float64{
		chiSquare: func(o, e float64) float64 { return (o - e) * (o - e) / e },
		gStatistic: func(o, e float64) float64 {
			if o == 0 {
				return 0
			}
			return 2 * o * math.Log(o/e)
		},
	}
	part := parts[of]
	if strings.HasSuffix(string(of), "/contribution") {
		part = parts[chiSquare]
	}
	if part == nil || len(j.typedCells) == 0 {
		return math.NaN(), false
	}
	typed := false
	x, counts := j.overCells(of, func(row string, o, e float64) float64 {
		if own, is := j.typedCells[working.Ref(row+"/expected")]; is {
			typed, wrong = true, wrong || math.Abs(own-e) > 0.02*math.Abs(e)
			e = own
		}
		return part(o, e)
	})
	if counts == 0 || !typed {
		return math.NaN(), false
	}
	return x, wrong
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

// categories is how many categories or classes are counted one by one, NaN where they are not.
func (j *judge) categories() float64 {
	for _, id := range []string{"categories", "bins"} {
		if t := j.solution.Table(id); t != nil {
			return float64(t.Total)
		}
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
	if !j.ofTails(n.id) {
		return nil
	}
	return append(j.changed(n.id, swap), j.carried("curve of "+other.Symbol, n, j.isQuantile, swap)...)
}

// withAreas returns what comes of other areas in the quantiles: for one, and for what rests on them.
func (j *judge) withAreas(name string, n askedNumber, other func(area formula.Expr) formula.Expr) []float64 {
	swap := func(part formula.Expr) formula.Expr {
		if q, is := part.(formula.Quantile); is {
			if area := other(q.Area); area != nil {
				q.Area = area
				return q
			}
		}
		return nil
	}
	return append(j.changed(n.id, swap), j.carried(name, n, j.isQuantile, swap)...)
}

// tailWorked works the problem with other tails for a p-value that no formula gives: of a distribution of steps what both
// tails come to is not twice the one.
func (j *judge) tailWorked(n askedNumber, tails ...problem.Tail) []float64 {
	if !j.directed() || j.working.Expr(n.id) != nil {
		return nil
	}
	var values []float64
	for _, tail := range tails {
		values = append(values, j.worked(n.id, string(tail), withTail(tail))...)
	}
	return values
}

// isQuantile reports whether a quantity is looked up in a curve for an area.
func (j *judge) isQuantile(id working.Ref) bool {
	_, is := j.working.Expr(id).(formula.Quantile)
	return is
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
	forms := formula.Changed(expr, change)
	if len(forms) == 0 {
		return nil
	}
	for _, earlier := range []map[working.Ref]float64{nil, j.all()} {
		env := j.working.With(earlier)
		for _, form := range forms {
			values = append(values, form.Eval(env))
		}
		if len(j.own)+len(j.rounded) == 0 {
			break
		}
	}
	return values
}

// carried returns what a slip in the formulas of some quantities gives: for one of them, and for what rests on them
// when all are made so. The name tells slips apart, for what they make of the quantities is worked once.
func (j *judge) carried(name string, n askedNumber, of func(working.Ref) bool, change func(formula.Expr) formula.Expr) []float64 {
	if of(n.id) {
		return j.changed(n.id, change)
	}
	other, known := j.slipped[name]
	if !known {
		other = map[working.Ref]float64{}
		for _, q := range j.solution.Quantities {
			if expr := j.working.Expr(q.ID); expr != nil && of(q.ID) {
				if forms := formula.Changed(expr, change); len(forms) > 0 {
					other[q.ID] = forms[0].Eval(j.working.With(nil))
				}
			}
		}
		j.slipped[name] = other
	}
	made, ok := j.working.With(other).Made(n.id)
	if !ok {
		return nil
	}
	return []float64{made}
}

// resting returns what a quantity's formula gives with other numbers in it: for the quantity, and for what rests on it.
func (j *judge) resting(n askedNumber, id working.Ref, other *working.Again) []float64 {
	if made, ok := other.Made(id); ok {
		return j.restingOn(n, id, made)
	}
	return nil
}

// restingOn returns what comes of another value of a quantity.
func (j *judge) restingOn(n askedNumber, id working.Ref, value float64) []float64 {
	if n.id == id {
		return []float64{value}
	}
	if made, ok := j.working.With(map[working.Ref]float64{id: value}).Made(n.id); ok {
		return []float64{made}
	}
	return nil
}

// digitsSwapped reports whether two neighbouring digits of the rounded number are exchanged in the answer.
func digitsSwapped(n askedNumber, t Typed) bool {
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

// pointMoved reports whether the answer is a power of ten away.
func pointMoved(n askedNumber, t Typed) bool {
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

// isShare reports whether a quantity is a share of all, or a probability.
func (j *judge) isShare(id working.Ref) bool {
	name := string(id)
	if strings.HasPrefix(j.problem.Procedure, "proportion") && (name == "difference" || strings.HasPrefix(name, "ci_")) {
		return true
	}
	return isP(id) || strings.Contains(name, "proportion") || strings.Contains(name, "share") || strings.HasSuffix(name, "_squared")
}

// isP reports whether a quantity is a p-value.
func isP(id working.Ref) bool { return id == "p" || strings.HasPrefix(string(id), "p_") }

// ofTails reports whether a quantity depends on how many tails there are.
func (j *judge) ofTails(id working.Ref) bool {
	return isP(id) || strings.HasPrefix(string(id), "critical_") || id == "ci_low" || id == "ci_high" || j.isQuantile(id)
}

// worked works the problem with one choice altered and returns what a quantity comes to there, also from the student's
// own earlier numbers; nothing where it cannot be worked so. The name tells alterations apart, for each is worked once.
func (j *judge) worked(id working.Ref, name string, alter func(*problem.Problem)) []float64 {
	w, known := j.others[name]
	if !known {
		altered := *j.problem
		altered.Options = maps.Clone(j.problem.Options)
		if altered.Options == nil {
			altered.Options = map[string]jsontext.Value{}
		}
		alter(&altered)
		w = j.rework(&altered)
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

// exchangeRoles makes the response the predictor; where the line is to predict is of no use then.
func exchangeRoles(p *problem.Problem) {
	roles := maps.Clone(p.Roles)
	roles["response"], roles["predictor"] = roles["predictor"], roles["response"]
	p.Roles = roles
	delete(p.Options, "predict_at")
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
