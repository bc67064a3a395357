package mathml

import (
	"encoding/xml"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestConvert(t *testing.T) {
	for teX, want := range map[string]string{
		`t`:           `<mi>t</mi>`,
		`-2.064`:      `<mrow><mo form="prefix">−</mo><mn>2.064</mn></mrow>`,
		`\frac{a}{b}`: `<mfrac><mrow><mi>a</mi></mrow><mrow><mi>b</mi></mrow></mfrac>`,
		`s_{1}^{2}`:   `<msubsup><mi>s</mi><mn>1</mn><mn>2</mn></msubsup>`,
		`\sqrt{x+1}`:  `<msqrt><mrow><mi>x</mi><mo>+</mo><mn>1</mn></mrow></msqrt>`,
		`\bar{x}_{M}`: `<msub><mover accent="true"><mi>x</mi><mo>¯</mo></mover><mi>M</mi></msub>`,
		`\left(a\right)^{2}`: `<msup><mrow><mo stretchy="true" fence="true" form="prefix">(</mo>` +
			`<mi>a</mi><mo stretchy="true" fence="true" form="postfix">)</mo></mrow><mn>2</mn></msup>`,
		`p \lt 0.0001`:                `<mrow><mi>p</mi><mo>&lt;</mo><mn>0.0001</mn></mrow>`,
		`t_{\text{high & a}}`:         `<msub><mi>t</mi><mtext>high &amp; a</mtext></msub>`,
		`\sum x_{i}`:                  `<mrow><mo>∑</mo><msub><mi>x</mi><mi>i</mi></msub></mrow>`,
		`\text{a\}b\textbackslash c}`: `<mtext>a}b\c</mtext>`,
		`\#\{x\}`:                     `<mrow><mo>#</mo><mo>{</mo><mi>x</mi><mo>}</mo></mrow>`,
		`a\,b`:                        `<mrow><mi>a</mi><mspace width="0.17em"></mspace><mi>b</mi></mrow>`,
		`\mu_{i} = \mu`:               `<mrow><msub><mi>μ</mi><mi>i</mi></msub><mo>=</mo><mi>μ</mi></mrow>`,
	} {
		got, err := Convert(teX)
		require.NoError(t, err, teX)
		assert.Equal(t, want, got, teX)
	}
	for _, wrong := range []string{
		`\frac{a}`, `\sqrt`, `{a`, `a}`, `\left(a`, `\unknown`, `a_`, `\text a`, `\left\alpha a\right)`, `x^`, `$x$`, `a & b`,
	} {
		_, err := Convert(wrong)
		assert.Error(t, err, wrong)
	}
}

// Whatever is typed, what comes out is one well-formed element, or nothing does.
func FuzzConvert(f *testing.F) {
	for _, seed := range []string{`\frac{a}{b}`, `s_{1}^{2}`, `\left(a\right)`, `\text{<&>}`, `{{{`, `\`, `_^_`, "\xff"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, teX string) {
		out, err := Math(teX)
		if err != nil {
			return
		}
		d := xml.NewDecoder(strings.NewReader(out))
		for {
			if _, err := d.Token(); err != nil {
				assert.Equal(t, "EOF", err.Error(), "%q gives %q", teX, out)
				return
			}
		}
	})
}
