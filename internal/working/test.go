package working

import (
	"cmp"
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats/dist"
)

// A Test is what a procedure says of its test; p, critical values, both rules,
// the decision and the curve with its regions are made from it.
type Test struct {
	Statistic Ref
	Symbol    string // of the statistic, as it stands in words: t
	Family    formula.Family
	Degrees   []Ref // the quantities that are shown as the degrees of freedom; none of a normal curve
	Name      string
	// Extreme says which samples count as being as extreme: "a difference
	// between the two sample means at least as far from 0 as this one".
	Extreme string
	// Positive says that the statistic is a positive number and its curve lopsided:
	// with two tails the critical values are found apart, and p is twice the smaller
	// tail.
	Positive bool
	// Follows says what the statistic follows if H₀ is true, where that is neither the
	// normal curve nor one with degrees of freedom.
	Follows string
	// P names the deciding p-value; "p" when empty.
	P Ref
	// UpperOnly says that only large values speak against H₀: H₁ has no direction.
	UpperOnly bool
}

// leastAlpha is the least significance level whose halves and quantiles have all their digits.
const leastAlpha = 1e-300

// madeTest is a Test with what was computed for it.
type madeTest struct {
	Test
	tail      problem.Tail // that is rejected in
	reference dist.Distribution
	value, p  float64
	low, high float64 // critical values; NaN where the tail has none
	reject    bool
	byRegion  bool

	resampling *Resampling // nil where none is offered
}

// AlphaControl is the choice of alpha that every test offers.
func AlphaControl(alpha float64) Control {
	return Control{
		ID: "alpha", Label: "Alpha", Key: "a", Pointer: "/alpha", Free: true, Beside: BesideCurve, Value: alpha,
		Choices: []Choice{{Value: 0.10, Label: "0.10"}, {Value: 0.05, Label: "0.05"}, {Value: 0.01, Label: "0.01"}},
	}
}

// TailControl is the choice of the tail that H₁ takes, of a test that has a direction:
// left < right, left ≠ right or left > right. says puts each into words.
func TailControl(tail problem.Tail, left, right string, says func(problem.Tail) string) Control {
	choice := func(tail problem.Tail, sign string) Choice {
		return Choice{Value: string(tail), Label: left + " " + sign + " " + right, Says: says(tail)}
	}
	return Control{
		ID: "tail", Label: "H₁ says", Key: "t", Pointer: "/tail", Beside: BesideCurve, Value: string(tail),
		Choices: []Choice{choice(problem.Left, "<"), choice(problem.Both, "≠"), choice(problem.Right, ">")},
	}
}

// DefineAlpha adds alpha, which comes before everything that was seen.
func (w *Working) DefineAlpha() {
	w.Define(Quantity{ID: "alpha", Symbol: `\alpha`, Label: "Significance level",
		Says: "Chosen before looking at the data: how often the test may reject H₀ when H₀ is true."}, Given, w.problem.Alpha, nil)
}

// Test makes the test: the quantities p and critical_low, critical_high, the
// decision, and the figure "curve". alpha and the statistic must be defined. A
// statistic or degrees of freedom that do not exist leave no decision.
func (w *Working) Test(t Test) {
	made := &madeTest{Test: t, tail: w.problem.Tail, value: w.Value(t.Statistic), low: math.NaN(), high: math.NaN()}
	if t.UpperOnly {
		made.tail = problem.Right
	}
	if made.P == "" {
		made.P = "p"
	}
	w.test = made
	degrees := make([]float64, len(t.Family.Degrees))
	for i, ref := range t.Family.Degrees {
		degrees[i] = w.Value(Ref(ref))
	}
	made.reference = t.Family.New(degrees)
	alpha := w.problem.Alpha

	w.critical(made)
	w.pValue(made)
	if made.p == 0 {
		w.byID[made.P].Full = "less than 5e-324"
		w.Note(PValue, "The p-value is smaller than 5 × 10⁻³²⁴, the smallest number that is calculated with, and stands as 0. It is not zero.")
	}
	if !math.IsNaN(made.p) {
		made.reject = made.p <= alpha
		made.byRegion = made.value <= made.low || made.value >= made.high
		if math.Abs(made.p-alpha) <= 1e-12*alpha || alpha < leastAlpha {
			// On the boundary, and where areas are hardly told from 0, the two rules may part by
			// a rounding; p decides.
			made.byRegion = made.reject
		}
		w.solution.Decision = &Decision{Reject: made.reject, P: made.P, ByCriticalValue: new(made.byRegion), ByPValue: made.reject}
	}
	w.curve(made)
}

// critical finds the critical values: critical_low and critical_high.
func (w *Working) critical(made *madeTest) {
	alpha := w.problem.Alpha
	tailArea := formula.Expr(formula.Ref("alpha"))
	label := "Critical value"
	if made.tail == problem.Both {
		tailArea = formula.Quotient{Over: formula.Ref("alpha"), Under: formula.Num(2)}
		w.Define(Quantity{Aside: true, ID: "tail_area", Symbol: `\alpha/2`, Label: "Area in each tail",
			Says: "H₁ looks both ways, so each tail gets half of alpha."}, Given, alpha/2, tailArea)
	}
	critical := Ratio
	if made.Follows != "" {
		critical = Given // as the statistic's own values are written
	}
	symbol := func(index string) string { return made.Family.Symbol + `_{\text{` + index + `}}` }
	if made.tail != problem.Left {
		area := alpha
		if made.tail == problem.Both {
			area, label = alpha/2, "Upper critical value"
		}
		made.high = made.reference.UpperQuantile(area)
		w.Define(Quantity{ID: "critical_high", Symbol: symbol("high"), Label: label, Says: "Where the rejection region begins on the right."},
			critical, made.high, formula.Quantile{Of: made.Family, Area: tailArea})
	}
	switch {
	case made.tail == problem.Both && made.Positive:
		made.low = made.reference.LowerQuantile(alpha / 2)
		w.Define(Quantity{ID: "critical_low", Symbol: symbol("low"), Label: "Lower critical value",
			Says: "Where the rejection region ends on the left. The curve is lopsided, so it is found apart from the upper one."},
			critical, made.low, formula.Quantile{Of: made.Family, Area: tailArea, Lower: true})
	case made.tail == problem.Both:
		made.low = -made.high
		w.Define(Quantity{ID: "critical_low", Symbol: symbol("low"), Label: "Lower critical value",
			Says: "The curve is symmetric, so the lower critical value mirrors the upper one."},
			critical, made.low, formula.Minus{X: formula.Ref("critical_high")})
	case made.tail == problem.Left:
		made.low = made.reference.LowerQuantile(alpha)
		w.Define(Quantity{ID: "critical_low", Symbol: symbol("low"), Label: label, Says: "Where the rejection region ends on the left."},
			critical, made.low, formula.Quantile{Of: made.Family, Area: tailArea, Lower: true})
	}
}

// pValue finds the p-value.
func (w *Working) pValue(made *madeTest) {
	statistic := formula.Ref(made.Statistic)
	var expr formula.Expr
	switch {
	case made.tail == problem.Left:
		made.p = made.reference.Lower(made.value)
		expr = formula.Tail{Of: made.Family, X: statistic, Lower: true}
	case made.tail == problem.Right:
		made.p = made.reference.Upper(made.value)
		expr = formula.Tail{Of: made.Family, X: statistic}
	case made.Positive:
		lower, upper := made.reference.Lower(made.value), made.reference.Upper(made.value)
		made.p = math.Min(1, 2*math.Min(lower, upper))
		expr = formula.Product{formula.Num(2), formula.Tail{Of: made.Family, X: statistic, Lower: lower < upper}}
	default:
		made.p = 2 * made.reference.Upper(math.Abs(made.value))
		expr = formula.Product{formula.Num(2), formula.Tail{Of: made.Family, X: formula.Abs{X: statistic}}}
	}
	pSymbol, pLabel := "p", "p-value"
	if made.P != "p" {
		pSymbol, pLabel = `p_{\text{exact}}`, "Exact p-value"
	}
	w.Define(Quantity{ID: made.P, Symbol: pSymbol, Label: pLabel,
		Says: "If H₀ is true: the probability of a statistic at least as extreme as this one."}, P, made.p, expr)
}

// DecideByP makes the decision of a test that has no critical values: by the quantity p.
// extreme is as in Test.
func (w *Working) DecideByP(p, statistic Ref, extreme string) {
	value := w.Value(p)
	w.test = &madeTest{Test: Test{Statistic: statistic, P: p, Extreme: extreme}, value: w.Value(statistic), p: value,
		reject: value <= w.problem.Alpha}
	w.solution.Decision = &Decision{Reject: w.test.reject, P: p, ByPValue: w.test.reject}
}

// byPAlone reports whether the test has no critical values.
func (t *madeTest) byPAlone() bool { return t.reference == nil }

// Statistic is the quantity by which the test was made, "" where there is none.
func (w *Working) Statistic() Ref {
	if w.test == nil {
		return ""
	}
	return w.test.Statistic
}

// Decided reports whether there is a test that decided.
func (w *Working) Decided() bool { return w.solution.Decision != nil }

// Rejected reports whether the test rejects.
func (w *Working) Rejected() bool { return w.test.reject }

// DegreesWords names degrees of freedom: "4 degrees of freedom", "2 and 9 degrees of freedom".
func (w *Working) DegreesWords(refs ...Ref) string {
	shown := make([]string, len(refs))
	for i, ref := range refs {
		shown[i] = w.Show(ref)
	}
	return strings.Join(shown, " and ") + " " + w.DegreesNoun(refs...)
}

// DegreesNoun is the noun of degrees of freedom, in the singular for a single one.
func (w *Working) DegreesNoun(refs ...Ref) string {
	if len(refs) == 1 && w.Value(refs[0]) == 1 {
		return "degree of freedom"
	}
	return "degrees of freedom"
}

// Deciding returns the quantities that decide: the statistic, where there is one, its degrees of freedom and
// p; nil where there is no test.
func (w *Working) Deciding() []Ref {
	switch {
	case w.test == nil:
		return nil
	case w.test.byPAlone():
		return []Ref{w.test.P}
	}
	return append(append([]Ref{w.test.Statistic}, w.test.Degrees...), w.test.P)
}

// DecidingText writes them as a textbook does: “t = −2.06 with 29 degrees of freedom, p = 0.05”.
func (w *Working) DecidingText() Text {
	t := w.test
	p := Textf("$p$ %s@{%s}", w.Relation(t.P), t.P)
	if t.byPAlone() {
		return p
	}
	statistic := Textf("$%s$ = @{%s}", t.Symbol, t.Statistic)
	switch len(t.Degrees) {
	case 1:
		statistic = Join(statistic, Textf(" with @{%s} %s", t.Degrees[0], w.DegreesNoun(t.Degrees...)))
	case 2:
		statistic = Join(statistic, Textf(" with @{%s} and @{%s} degrees of freedom", t.Degrees[0], t.Degrees[1]))
	}
	return Join(statistic, Textf(", "), p)
}

// regionWords says where the rejection region is: t ≤ −2.116 or t ≥ 2.116.
func (w *Working) regionWords() string {
	var parts []string
	if !math.IsNaN(w.test.low) {
		parts = append(parts, w.test.Symbol+" ≤ "+w.Show("critical_low"))
	}
	if !math.IsNaN(w.test.high) {
		parts = append(parts, w.test.Symbol+" ≥ "+w.Show("critical_high"))
	}
	if len(parts) == 0 {
		return "none, because with so few cases no outcome is rare enough"
	}
	return strings.Join(parts, " or ")
}

// CriticalValueStep writes the step on the critical value.
func (w *Working) CriticalValueStep(more ...Block) {
	t := w.test
	var blocks []Block
	var result Text
	says := func(more string) Block {
		switch len(t.Degrees) {
		case 0:
			if t.Follows != "" {
				return Say("$%s$ follows %s."+more, t.Symbol, t.Follows)
			}
			return Say("$%s$ follows the standard normal curve."+more, t.Symbol)
		case 1:
			return Say("$%s$ with @{%s} %s."+more, t.Symbol, t.Degrees[0], w.DegreesNoun(t.Degrees...))
		}
		return Say("$%s$ with @{%s} and @{%s} degrees of freedom."+more, t.Symbol, t.Degrees[0], t.Degrees[1])
	}
	switch w.test.tail {
	case problem.Both:
		result = Textf("±@{critical_high}")
		if t.Positive {
			result = Textf("@{critical_low}, @{critical_high}")
			apart := "The curve is lopsided, and each critical value is found for itself."
			if t.Follows != "" {
				apart = "The statistic goes in steps: a critical value is the last one whose tail is not larger than that."
			}
			blocks = []Block{says(" H₁ has two tails, so $α$ is split: @{tail_area} in each tail. " + apart),
				FormulaBlock{Quantity: "critical_low"}, FormulaBlock{Quantity: "critical_high"}}
			break
		}
		blocks = []Block{says(" H₁ has two tails, so $α$ is split: @{tail_area} in each tail."), FormulaBlock{Quantity: "critical_high"}}
	case problem.Left:
		result = Textf("@{critical_low}")
		blocks = []Block{says(" H₁ says “less”, so all of $α$ = @{alpha} lies in the left tail."), FormulaBlock{Quantity: "critical_low"}}
	default:
		result = Textf("@{critical_high}")
		why := " H₁ says “greater”, so all of $α$ = @{alpha} lies in the right tail."
		if t.UpperOnly {
			why = " Only a large value speaks against H₀, so all of $α$ = @{alpha} lies in the right tail."
		}
		blocks = []Block{says(why), FormulaBlock{Quantity: "critical_high"}}
	}
	blocks = append(blocks, Say("Rejection region: **%s**, the boundary included.", w.regionWords()))
	w.Step(CriticalValue, result, append(blocks, more...)...)
}

// PValueStep writes the step on the p-value; before says where it comes from, of a test
// that has no curve.
func (w *Working) PValueStep(before ...Block) {
	t := w.test
	often := "In words: if H₀ were true, " + t.Extreme + " would come up in " + frequency(t.p) + "."
	found := append(before, Say("%s", often))
	if !t.byPAlone() {
		found = []Block{
			Say("The p-value is the area of the curve %s: where a statistic would lie that speaks against H₀ at least as strongly as @{%s}.",
				w.areaWords(), t.Statistic),
			FormulaBlock{Quantity: t.P}, found[0]}
	}
	if r := t.resampling; r != nil {
		found = append(found, SimulationBlock{How: r.How, Assumes: r.Assumes, Repetitions: Repetitions})
	}
	w.Step(PValue, Textf("p %s@{%s}", w.Relation(t.P), t.P), append(found,
		Warn("It is not the probability that H₀ is true, nor the probability of being wrong, nor that of exactly these data. It is "+
			"calculated *as if* H₀ were true."))...)
}

// pWords writes the deciding p-value with its sign: "p = 0.0553", "p < 0.0001".
func (w *Working) pWords() string { return "p " + w.Relation(w.test.P) + w.Show(w.test.P) }

func (w *Working) areaWords() string {
	switch w.test.tail {
	case problem.Left:
		return "to the left of " + w.Show(w.test.Statistic)
	case problem.Right:
		return "to the right of " + w.Show(w.test.Statistic)
	}
	if t := w.test; t.Positive {
		side := "right"
		if t.reference.Lower(t.value) < t.reference.Upper(t.value) {
			side = "left"
		}
		return "to the " + side + " of " + w.Show(t.Statistic) + ", doubled for the other tail"
	}
	return "beyond ±" + FormatNumber(math.Abs(w.test.value), w.decimals[w.test.Statistic])
}

// frequency puts a probability as a natural frequency.
func frequency(p float64) string {
	const most = 1_000_000
	for _, of := range []float64{100, 1000, 10_000, 100_000, most} {
		if p*of >= 9.5 || of == most && p*of >= 0.95 {
			return fmt.Sprintf("about %s of %s samples", FormatNumber(p*of, 0), FormatNumber(of, 0))
		}
	}
	if p == 0 {
		return "less than one in 10³²³ samples"
	}
	return "about one in " + strings.TrimPrefix(formatPower(1/p, 0), "1 × ") + " samples"
}

// Words are a procedure's words for the decision.
type Words struct {
	TypeI    string // "to say that … when in truth …"
	TypeII   string
	NotEqual string // what not rejecting does not mean: "that the two means are equal"
}

// DecisionStep writes the step on the decision.
func (w *Working) DecisionStep(words Words) {
	t := w.test
	alpha := w.problem.Alpha
	byP := w.verdictByP()
	blocks := []Block{byP}
	if !t.byPAlone() {
		blocks = []Block{w.verdictByRegion(), byP,
			Say("The two rules always agree: the statistic lies in the rejection region exactly when p is at most $α$.")}
	}
	result := "do not reject"
	if t.reject {
		result = "reject H₀"
		blocks = append(blocks,
			Note("A Type I error here would be %s. With $α$ = @{alpha} the test makes that error in %s in the long run, if H₀ is true.",
				words.TypeI, percent(alpha)),
			Warn("Rejecting proves nothing: it says that such data would be rare if H₀ were true."))
	} else {
		blocks = append(blocks,
			Note("A Type I error, %s, has not been made: it can happen only where H₀ is rejected.", words.TypeI),
			Note("A Type II error here would be %s. How likely that is depends on the true difference and on the number of cases.", words.TypeII),
			Warn("Not rejecting does not show %s. It says that these data are not rare enough under H₀ to speak against it.", words.NotEqual))
	}
	w.Step(DecisionStep, Textf("%s", result), blocks...)
}

// sign returns how a number stands to another; what does not exist stands above all.
func sign(a, b float64) string {
	if math.IsNaN(b) {
		return "<"
	}
	return [...]string{"<", "=", ">"}[1+cmp.Compare(a, b)]
}

// verdictByP sets p against alpha.
func (w *Working) verdictByP() Verdict {
	t := w.test
	shown, alpha := w.Show(t.P), FormatShortest(w.problem.Alpha)
	v := Verdict{Rule: ByPValue, Opens: t.P, Against: "alpha", Sign: sign(t.p, w.problem.Alpha), Reject: t.reject}
	v.Compare = shown + " " + v.Sign + " " + alpha
	v.Says = map[string]string{"<": "p is smaller than α", "=": "p equals α", ">": "p is larger than α"}[v.Sign]
	if t.reject && w.byID[t.P].bound {
		v.Compare, v.Says = "p "+shown, "p is smaller than α = "+alpha
	}
	return v
}

// verdictByRegion sets the statistic against the critical value: its size where the region is on
// both sides alike.
func (w *Working) verdictByRegion() Verdict {
	t := w.test
	value, critical, against := t.value, t.high, Ref("critical_high")
	switch {
	case t.tail == problem.Both && t.Positive:
		if t.reference.Lower(value) < t.reference.Upper(value) {
			critical, against = t.low, "critical_low"
		}
	case t.tail == problem.Both:
		value = math.Abs(value)
	case t.tail == problem.Left:
		critical, against = t.low, "critical_low"
	}
	decimals := w.decimals[t.Statistic]
	if t.Follows != "" {
		decimals = max(decimals, data.Decimals(critical))
	}
	v := Verdict{
		Rule: ByCriticalValue, Opens: t.Statistic, Against: against, Sign: sign(value, critical), Reject: t.byRegion, Says: "outside the region",
	}
	if t.byRegion {
		v.Says = "inside the region"
	}
	shown, border := FormatApart(value, critical, decimals)
	v.Compare = shown + " " + v.Sign + " " + border
	return v
}

func percent(share float64) string {
	return FormatPercent(share) + "\u00a0% of samples"
}
