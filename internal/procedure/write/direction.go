package write

import (
	"fmt"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/working"
)

// A Direction is what the hypotheses of a problem say and how H₁ looks. It is made once, and
// everything that is said of the direction is taken from it.
type Direction struct {
	Tail     problem.Tail
	Compared working.Compared
	// Null and Alternative are H₀ and H₁ in words. A test without a direction has those of both
	// sides only.
	Null, Alternative problem.Sides[string]
	// Extreme says which samples are as extreme as the one observed.
	Extreme problem.Sides[string]
	TeX     Compared // in TeX
	Plain   Compared // in a step's margin: μ and 12
	Control Compared // on the control that takes another tail; as Plain where empty
}

// Compared are the two things between which the sign of a hypothesis stands.
type Compared struct{ Left, Right string }

// with writes the two with a sign between them.
func (c Compared) with(sign string) string { return c.Left + " " + sign + " " + c.Right }

// Undirected is the direction of a test that has none.
func Undirected(compared working.Compared, null, alternative string) Direction {
	return Direction{
		Tail: problem.Both, Compared: compared,
		Null: problem.Sides[string]{Both: null}, Alternative: problem.Sides[string]{Both: alternative},
	}
}

// Fill fills what is said each way with the same words, as fmt.Sprintf does.
func Fill(formats problem.Sides[string], args ...any) problem.Sides[string] {
	return problem.Sides[string]{
		Both: fmt.Sprintf(formats.Both, args...), Less: fmt.Sprintf(formats.Less, args...), Greater: fmt.Sprintf(formats.Greater, args...),
	}
}

// H0 returns H₀ in words.
func (d *Direction) H0() string { return d.Null.Of(d.Tail) }

// H1 returns H₁ in words.
func (d *Direction) H1() string { return d.Alternative.Of(d.Tail) }

// Directed reports whether H₁ takes one side.
func (d *Direction) Directed() bool { return d.Tail != problem.Both }

// Below and Above report whether H₁ looks there.
func (d *Direction) Below() bool { return d.Tail != problem.Right }
func (d *Direction) Above() bool { return d.Tail != problem.Left }

// sign returns the sign of H₁; that of H₀ is what it leaves.
func (d *Direction) sign() string {
	return problem.Sides[string]{Both: "≠", Less: "<", Greater: ">"}.Of(d.Tail)
}

func (d *Direction) nullSign() string {
	return problem.Sides[string]{Both: "=", Less: "≥", Greater: "≤"}.Of(d.Tail)
}

// Tails says in a report how many tails the test has.
func (d *Direction) Tails() string {
	if d.Directed() {
		return "one-tailed"
	}
	return "two-tailed"
}

// Than says in a report how the first stands to the second where H₀ is rejected.
func (d *Direction) Than() string {
	return problem.Sides[string]{Both: "different from", Less: "lower than", Greater: "higher than"}.Of(d.Tail)
}

// TailArea returns the area in one tail of the rejection region.
func (d *Direction) TailArea(alpha float64) float64 {
	if d.Directed() {
		return alpha
	}
	return alpha / 2
}

// inSymbols returns both hypotheses of a test that has a direction.
func (d *Direction) inSymbols() working.HypothesesBlock {
	teX := strings.NewReplacer("≠", `\ne`, "≥", `\ge`, "≤", `\le`).Replace
	return d.hypotheses(d.TeX.with(teX(d.nullSign())), d.TeX.with(teX(d.sign())))
}

// hypotheses returns both, with what stands in their symbols after H₀ and H₁.
func (d *Direction) hypotheses(h0, h1 string) working.HypothesesBlock {
	return working.HypothesesBlock{
		Compared:    d.Compared,
		Null:        working.Hypothesis{Says: d.Tail.Null(), Symbols: `H_0:\; ` + h0, Words: d.H0()},
		Alternative: working.Hypothesis{Says: d.Tail.Alternative(), Symbols: `H_1:\; ` + h1, Words: d.H1()},
	}
}

// TailControl offers the tails that H₁ can take.
func (s *Sheet) TailControl() {
	between := s.Direction.Control
	if between == (Compared{}) {
		between = s.Direction.Plain
	}
	s.Control(working.TailControl(s.Direction.Tail, between.Left, between.Right, s.Direction.Alternative.Of))
}

// Found returns the tail in whose words a conclusion speaks: with two tails and a rejection the
// side on which the sample lies.
func (s *Sheet) Found() problem.Tail {
	switch {
	case s.Direction.Directed() || !s.Rejected():
		return s.Direction.Tail
	case s.Side > 0:
		return problem.Right
	case s.Side < 0:
		return problem.Left
	}
	return problem.Both
}

// Beside returns what is tested beside its value under H₀, in TeX and in plain text.
func Beside(teX, plain string, null float64) (inTeX, inPlain Compared) {
	shown := working.FormatShortest(null)
	return Compared{teX, formula.TeXNumber(shown)}, Compared{plain, shown}
}

// A Stepped distribution has separate values, on which a test counts.
type Stepped interface {
	Lower(k int) float64
	Upper(k int) float64
}

// CountedP returns the p-value of a count: the tail that H₁ takes, or what both returns where it
// takes both.
func (d *Direction) CountedP(of Stepped, count int, both func() float64) float64 {
	switch {
	case !d.Directed():
		return both()
	case d.Below():
		return of.Lower(count)
	}
	return of.Upper(count)
}

// CurveP returns the p-value of a statistic by a curve that is even about 0, with its formula.
func (d *Direction) CurveP(family formula.Family, of interface {
	Lower(x float64) float64
	Upper(x float64) float64
}, x float64, statistic formula.Ref) (float64, formula.Expr) {
	switch {
	case !d.Directed():
		if x < 0 {
			x = -x
		}
		return 2 * of.Upper(x), formula.Product{formula.Num(2), formula.Tail{Of: family, X: formula.Abs{X: statistic}}}
	case d.Below():
		return of.Lower(x), formula.Tail{Of: family, X: statistic, Lower: true}
	}
	return of.Upper(x), formula.Tail{Of: family, X: statistic}
}
