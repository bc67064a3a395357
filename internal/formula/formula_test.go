package formula

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/stats/dist"
)

type env map[string][]float64

func (e env) Value(id string) float64     { return e[id][0] }
func (e env) Column(ref string) []float64 { return e[ref] }

var (
	numbers = env{"a": {-3}, "b": {4}, "n": {16}, "df": {1}, "x": {2, -1, 5, 6}, "alpha": {0.05}}
	symbols = map[string]string{"a": "a", "b": "b", "n": "n", "df": `\nu`, "alpha": `\alpha`}
	shown   = map[string]string{"a": "−3", "b": "4", "n": "16", "df": "1", "alpha": "0.05"}

	cauchy = Family{"t", []Ref{"df"}, func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
	column = Column{Ref: "x", Symbol: "x_i", First: []string{"2", "−1"}, Last: "6"}
)

func TestExpressions(t *testing.T) {
	for name, c := range map[string]struct {
		expr              Expr
		symbolic, numeric string
		value             float64
		inputs            []string
	}{
		"a negative after minus is bracketed": {Subtract(Ref("b"), Ref("a")), "b-a", "4-(−3)", 7, []string{"b", "a"}},
		"a leading negative is not":           {Subtract(Ref("a"), Ref("b")), "a-b", "−3-4", -7, []string{"a", "b"}},
		"three terms":                         {Sum{Ref("b"), Ref("a"), Minus{Num(2)}}, "b+a-2", "4+(−3)-2", -1, []string{"b", "a"}},
		"a sum as a factor": {Product{Subtract(Ref("n"), Num(1)), Square(Ref("a"))}, `\left(n-1\right)\,a^{2}`,
			`\left(16-1\right)\cdot (−3)^{2}`, 135, []string{"n", "a"}},
		"a fraction": {Quotient{Subtract(Ref("a"), Ref("b")), Ref("n")}, `\frac{a-b}{n}`, `\frac{−3-4}{16}`, -7.0 / 16, []string{"a", "b", "n"}},
		"a fraction in a fraction": {Quotient{Ref("b"), Root{Sum{Quotient{Square(Ref("b")), Ref("n")}, Num(3)}}},
			`\frac{b}{\sqrt{b^{2}/n+3}}`, `\frac{4}{\sqrt{4^{2}/16+3}}`, 2, []string{"b", "n"}},
		"the square of a fraction": {Square(Quotient{Ref("b"), Ref("n")}), `\left(\frac{b}{n}\right)^{2}`, `\left(\frac{4}{16}\right)^{2}`,
			1.0 / 16, []string{"b", "n"}},
		"a mean": {Quotient{Total{column}, Ref("b")}, `\frac{\sum x_i}{b}`, `\frac{2+(-1)+\cdots+6}{4}`, 3,
			[]string{"x", "b"}},
		"a sum written out as a factor": {Product{Ref("b"), Total{column}}, `b\,\sum x_i`, `4\cdot \left(2+(-1)+\cdots+6\right)`, 48,
			[]string{"b", "x"}},
		"e to a power": {Square(Exp{Minus{Ref("b")}}), `\left(e^{-b}\right)^{2}`, `\left(e^{-4}\right)^{2}`, math.Exp(-8), []string{"b"}},
		"a logarithm": {Product{Num(2), Log{Quotient{Ref("b"), Num(2)}}}, `2\,\ln\left(\frac{b}{2}\right)`,
			`2\cdot \ln\left(\frac{4}{2}\right)`, 2 * math.Ln2, []string{"b"}},
		"hyperbolic functions": {Tanh{Subtract(Artanh{Quotient{Num(1), Ref("b")}}, Num(0))},
			`\tanh\left(\operatorname{artanh}\left(\frac{1}{b}\right)-0\right)`,
			`\tanh\left(\operatorname{artanh}\left(\frac{1}{4}\right)-0\right)`, 0.25, []string{"b"}},
		"not below 2": {NotBelow{Ref("a"), 2}, `\max\left(2,\, a\right)`, `\max\left(2,\, −3\right)`, 2, []string{"a"}},
		"squared deviations": {Deviations{column, "a", 2}, `\sum \left(x_i-a\right)^{2}`, `(2-(−3))^{2}+(-1-(−3))^{2}+\cdots+(6-(−3))^{2}`, 25 +
			4 + 64 + 81, []string{"x", "a"}},
		"cubed deviations": {Deviations{column, "a", 3}, `\sum \left(x_i-a\right)^{3}`, `(2-(−3))^{3}+(-1-(−3))^{3}+\cdots+(6-(−3))^{3}`,
			125 + 8 + 512 + 729, []string{"x", "a"}},
		"a count": {Count{column}, `\#\{x_i\}`, `\#\{x_i\}`, 4, []string{"x"}},
		"two tails": {Product{Num(2), Tail{Of: cauchy, X: Abs{Ref("a")}}}, `2\,P(T_{\nu} \ge \left|a\right|)`,
			`2\cdot P(T_{1} \ge \left|−3\right|)`, 2 * math.Atan2(1, 3) / math.Pi, []string{"df", "a"}},
		"a lower tail": {Tail{Of: cauchy, X: Ref("a"), Lower: true}, `P(T_{\nu} \le a)`, `P(T_{1} \le −3)`, math.Atan2(1, 3) / math.Pi,
			[]string{"df", "a"}},
		"an upper quantile": {Quantile{Of: cauchy, Area: Quotient{Ref("alpha"), Num(2)}}, `t_{\alpha/2;\,\nu}`, `t_{0.05/2;\,1}`,
			math.Tan(math.Pi * 0.475), []string{"alpha", "df"}},
		"a lower quantile": {Quantile{Of: cauchy, Area: Ref("alpha"), Lower: true}, `t_{1-\alpha;\,\nu}`, `t_{1-0.05;\,1}`,
			-math.Tan(math.Pi * 0.45), []string{"alpha", "df"}},
		"rounded down": {Floor{Quotient{Ref("a"), Ref("b")}}, `\left\lfloor \frac{a}{b}\right\rfloor`,
			`\left\lfloor \frac{−3}{4}\right\rfloor`, -1, []string{"a", "b"}},
		"a negative product": {Minus{Product{Ref("a"), Ref("b")}}, `-a\,b`, `-(−3)\cdot 4`, 12, []string{"a", "b"}},
	} {
		t.Run(name, func(t *testing.T) {
			printed := Print(c.expr)
			assert.Equal(t, c.symbolic, Resolve(printed.Symbolic, func(id string) string { return symbols[id] }))
			assert.Equal(t, c.numeric, Resolve(printed.Numeric, func(id string) string { return shown[id] }))
			assert.Equal(t, c.inputs, printed.Inputs)
			assert.InEpsilon(t, c.value, c.expr.Eval(numbers), 1e-13)
		})
	}
}

func TestTeXNumber(t *testing.T) {
	assert.Equal(t, `-12\,345.6`, TeXNumber("−12\u202f345.6"))
	assert.Equal(t, `\lt 0.0001`, TeXNumber("<0.0001"))
}

func TestTeXText(t *testing.T) {
	assert.Equal(t, `\text{min}`, TeXText("min"))
	assert.Equal(t, `\text{5 \% of \{a\_b\} \& \$1 \#2}`, TeXText("5 % of {a_b} & $1 #2"))
	assert.Equal(t, `\text{\textbackslash frac\textasciicircum 2\textasciitilde }`, TeXText(`\frac^2~`))
	assert.Equal(t, `\text{ab}`, TeXText("a\x00b\n\xff\ufffe"))
}
