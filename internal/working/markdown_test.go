package working

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/formula"
)

// A solution with one block of each kind, printed.
func TestMarkdown(t *testing.T) {
	w := newWorking()
	w.DefineAlpha()
	w.Define(Quantity{ID: "a", Symbol: "a", Label: "First", Unit: "min"}, Measure, -2, nil)
	w.Define(Quantity{ID: "b", Symbol: "b", Label: "Second"}, Ratio, 4.0/3,
		formula.Quotient{Over: formula.Minus{X: formula.Product{formula.Num(2), formula.Ref("a")}}, Under: formula.Num(3)})
	w.Define(Quantity{ID: "p", Symbol: "p", Label: "p-value"}, P, 1e-9, formula.Square(formula.Ref("a")))
	table := &Table{ID: "t", Title: "T", Columns: []Column{{ID: "name", Label: "na|me"}, {ID: "n", Label: "n", Unit: "min", Numeric: true}}}
	table.SetRows([]Row{{{Value: "a|b*", Shown: "a|b*"}, {Value: 3, Shown: "3"}}})
	w.Table(table)
	w.Figure(&Figure{ID: "f", Says: "A curve."})
	w.Condition("c", NotMet, Textf("Too *little*: @{a}."))
	w.Step(Data, nil,
		Say("Plain *emphasis* **strong** $x$ %s @{a}.", "*not* <b>"), Warn("Careful here."), Prose{Tone: Answer, Text: Textf("So it is.")},
		FormulaBlock{Quantity: "a"}, FormulaBlock{Quantity: "b"}, FormulaBlock{Quantity: "p"}, Values{Quantities: []Ref{"a"}},
		TableBlock{Table: "t"}, FigureBlock{Figure: "f"}, Check{Condition: "c"},
		HypothesesBlock{Null: Hypothesis{Symbols: `H_0`, Words: "none"}, Alternative: Hypothesis{Symbols: `H_1`, Words: "some"}},
		Verdict{Rule: ByPValue, Compare: "0.01 < 0.05", Says: "p is smaller", Reject: true, Opens: "p", Against: "a"},
		ReportLine{Text: Textf("*t* = 2")})
	w.Note(Data, "Mind the gap.")
	s, err := w.Finish()
	require.NoError(t, err)
	assert.Equal(t, `# A \*title\*

## 1. Data

Plain *emphasis* **strong** *x* \*not\* &lt;b> −2.000`+"\u00a0"+`min.

> Careful: Careful here.

**So it is.**

$$a = -2.000\,\text{min}$$

$$b = \frac{-2\,a}{3} = \frac{-2\cdot (-2.000)}{3} = 1.333$$

$$p = a^{2} = (-2.000)^{2} \lt \,0.0001$$

With the numbers rounded as shown the arithmetic gives 4.0000; Grund keeps all digits until the end, which gives <`+"\u202f"+`0.0001.

- First: $a$ = −2.000`+"\u00a0"+`min

| na\|me | n (min) |
| --- | ---: |
| a\|b\* | 3 |

*Picture.* A curve.

- **not met**: Too little: −2.000`+"\u00a0"+`min.

- $H_0$: none
- $H_1$: some

- By the p-value: 0.01 < 0.05, p is smaller: **reject H₀**

> *t* = 2

Note: Mind the gap.
`, Markdown(s, "A *title*"))
}
