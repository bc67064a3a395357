package paper_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"html"
	"io"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/formula"
	"grund/internal/mathml"
	"grund/internal/paper"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// solutions works the problems of the demo and all reference problems.
func solutions(t *testing.T) map[string]*working.Solution {
	t.Helper()
	all := map[string]*working.Solution{}
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		all[name] = s
	}
	for _, each := range proctest.References(t) {
		p, err := problem.Parse(each.Problem)
		require.NoError(t, err, each.Name)
		s, err := procedure.Work(t.Context(), p)
		var mistakes problem.Errors
		if errors.As(err, &mistakes) {
			continue
		}
		require.NoError(t, err, each.Name)
		all[each.Name] = s
	}
	require.Greater(t, len(all), 250)
	return all
}

// page writes a document, which must be well-formed, and returns it.
func page(t *testing.T, s *paper.Sheet) string {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, paper.HTML(&out, s), s.Title)
	d := xml.NewDecoder(strings.NewReader(strings.TrimPrefix(out.String(), "<!doctype html>")))
	for {
		if _, err := d.Token(); err != nil {
			require.ErrorIs(t, err, io.EOF, s.Title)
			break
		}
	}
	return out.String()
}

// Every problem can be put on paper, in every extent; the document is well-formed, stands by itself and runs nothing.
func TestEveryProblemOnPaper(t *testing.T) {
	elsewhere := regexp.MustCompile(`(src|href)="|url\((?:"?https?:|//)|<script|<link|<iframe`)
	for name, s := range solutions(t) {
		lengths := map[paper.What]int{}
		for _, what := range []paper.What{paper.Full, paper.Short, paper.Report} {
			text := page(t, &paper.Sheet{Head: paper.Head{Title: name}, Question: "Is it *so*?", Solution: s, What: what})
			assert.NotRegexp(t, elsewhere, text, name)
			assert.NotContains(t, text, "@{", name)
			assert.NotContains(t, text, "NaN", name)
			lengths[what] = len(text)
			if what == paper.Full && s.Decision != nil {
				assert.Contains(t, text, "<figure", name)
			}
		}
		if s.Decision != nil {
			assert.Greater(t, lengths[paper.Full], lengths[paper.Short], name)
			assert.Greater(t, lengths[paper.Short], lengths[paper.Report], name)
		}
	}
}

// What a person wrote is shown as it was written, and is no markup.
func TestWordsOfAPerson(t *testing.T) {
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["two-berths"])
	require.NoError(t, err)
	const bad = `<script>alert("x")</script>`
	text := page(t, &paper.Sheet{
		Head:     paper.Head{Title: bad, Name: bad, Course: bad, Date: bad},
		Question: bad + " **bold** *it* and a * alone\n\nsecond", Claim: bad, Solution: s, What: paper.Full,
	})
	assert.NotContains(t, text, "<script")
	assert.Contains(t, text, "<p>second</p>")
	assert.Contains(t, text, "<strong>bold</strong>")
	for _, wrong := range []paper.Sheet{
		{What: "all"}, {What: paper.Full, Head: paper.Head{Name: strings.Repeat("x", 201)}},
		{What: paper.Full, Steps: []working.StepID{"nowhere"}},
	} {
		wrong.Solution = s
		var mistakes problem.Errors
		assert.ErrorAs(t, paper.HTML(io.Discard, &wrong), &mistakes)
	}
}

// A long list of cases is cut, and says so.
func TestManyCases(t *testing.T) {
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["crossings"])
	require.NoError(t, err)
	assert.Contains(t, page(t, &paper.Sheet{Solution: s, What: paper.Full}), "The first 60 of 120 rows.")
}

// Tables and pictures stay out one by one; all rows of a long table go in where they are asked for.
func TestWhatStaysOut(t *testing.T) {
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["crossings"])
	require.NoError(t, err)
	sheet := &paper.Sheet{Solution: s, What: paper.Full}
	whole := strings.Count(page(t, sheet), "<svg")
	sheet.AllRows = true
	text := page(t, sheet)
	assert.NotContains(t, text, "The first 60")
	for _, row := range []int{0, 59, 60, 119} {
		assert.Contains(t, text, ">"+s.Table("cases").Row(row)[0].Shown+"<", "case %d", row+1)
	}
	sheet.Without = []string{"figure/curve", "table/cases"}
	text = page(t, sheet)
	assert.Equal(t, whole-1, strings.Count(text, "<svg"))
	assert.NotContains(t, text, s.Table("cases").Title)
	all, _ := parts(t, sheet)
	assert.NotContains(t, all["content.xml"], s.Table("cases").Title)
	assert.NotContains(t, all["content.xml"], s.Figure("curve").Title)
	sheet.Without = []string{"table/nothing"}
	assert.ErrorContains(t, paper.HTML(io.Discard, sheet), "/without")
}

// The steps that are chosen go in, and no others.
func TestChosenSteps(t *testing.T) {
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["two-berths"])
	require.NoError(t, err)
	text := page(t, &paper.Sheet{Solution: s, What: paper.Full, Steps: []working.StepID{working.Hypotheses, working.Conclusion}})
	assert.Equal(t, 2, strings.Count(text, `class="step"`))
	assert.NotContains(t, text, "0.573")
}

// Every formula says the same in MathML as in TeX: both are brought into one line, by what stands in them, and compared.
func TestEveryFormula(t *testing.T) {
	compared := 0
	compare := func(name, teX string) {
		text, err := mathml.Math(teX)
		require.NoError(t, err, "%s: %s", name, teX)
		assert.Equal(t, lineOfTeX(teX), lineOfMathML(t, text), "%s: %s", name, teX)
		compared++
	}
	for name, s := range solutions(t) {
		symbol := func(id string) string {
			if q := s.Quantity(working.Ref(id)); q != nil {
				return q.Symbol
			}
			return `\text{` + id + `}`
		}
		for _, q := range s.Quantities {
			compare(name, q.Symbol)
			if q.Formula != nil {
				compare(name, formula.Resolve(q.Formula.Symbolic, symbol))
				compare(name, formula.Resolve(q.Formula.Numeric, symbol))
			}
		}
		for _, step := range s.Steps {
			for _, block := range step.Blocks {
				if h, is := block.(working.HypothesesBlock); is {
					compare(name, h.Null.Symbols)
					compare(name, h.Alternative.Symbols)
				}
			}
		}
	}
	assert.Greater(t, compared, 10000)
}

var (
	command = regexp.MustCompile(`\\[a-zA-Z]+|\\.`)
	above   = regexp.MustCompile(`\^(\{[^{}]*\}|\d)_(\{(?:[^{}]|\{[^{}]*\})*\}|\d)`)
	// meaning is what commands stand for; those of spaces and fences stand for nothing.
	meaning = map[string]string{
		`\cdots`: "⋯", `\cdot`: "·", `\times`: "×", `\le`: "≤", `\ge`: "≥", `\ne`: "≠", `\lt`: "<", `\dots`: "…", `\sum`: "∑", `\lfloor`: "⌊",
		`\rfloor`: "⌋", `\top`: "⊤", `\alpha`: "α", `\beta`: "β", `\chi`: "χ", `\Delta`: "Δ", `\varepsilon`: "ε", `\eta`: "η", `\lambda`: "λ",
		`\Lambda`: "Λ", `\mu`: "μ", `\nu`: "ν", `\omega`: "ω", `\varphi`: "φ", `\Phi`: "Φ", `\pi`: "π", `\psi`: "ψ", `\rho`: "ρ", `\sigma`: "σ",
		`\theta`: "θ", `\ln`: "ln", `\tanh`: "tanh", `\max`: "max", `\operatorname`: "", `\text`: "", `\#`: "#", `\%`: "%", `\,`: "", `\;`: "",
		`\quad`: "", `\left`: "", `\right`: "", `\ `: "", `\{`: "⦃", `\}`: "⦄", `\frac`: `\frac`, `\sqrt`: `\sqrt`, `\bar`: `\bar`,
		`\hat`:     `\hat`,
		`\widehat`: `\hat`, `\tilde`: `\tilde`, `\binom`: "",
	}
)

// lineOfTeX leaves out of TeX what only parts or sets it.
func lineOfTeX(teX string) string {
	teX = above.ReplaceAllString(teX, "_$2^$1") // as MathML has them
	line := command.ReplaceAllStringFunc(teX, func(name string) string {
		if sign, known := meaning[name]; known {
			return sign
		}
		return name
	})
	return strings.NewReplacer("{", "", "}", "", " ", "", "-", "−").Replace(line)
}

// lineOfMathML reads MathML back into the same line.
func lineOfMathML(t *testing.T, text string) string {
	t.Helper()
	type element struct {
		XMLName  xml.Name
		Attrs    []xml.Attr `xml:",any,attr"`
		Children []element  `xml:",any"`
		Text     string     `xml:",chardata"`
	}
	var root element
	require.NoError(t, xml.Unmarshal([]byte(text), &root))
	var line func(e element) string
	all := func(es []element) string {
		var b strings.Builder
		for _, e := range es {
			b.WriteString(line(e))
		}
		return b.String()
	}
	line = func(e element) string {
		c := e.Children
		switch e.XMLName.Local {
		case "mspace":
			return ""
		case "mi", "mn", "mtext":
			return strings.Join(strings.Fields(e.Text), "")
		case "mo":
			return strings.NewReplacer("{", "⦃", "}", "⦄").Replace(e.Text)
		case "mfrac":
			return `\frac` + all(c)
		case "mrow":
			if len(c) == 3 && c[1].XMLName.Local == "mfrac" && len(c[1].Attrs) > 0 { // without a line: a binomial coefficient
				return all(c[1].Children)
			}
		case "msqrt":
			return `\sqrt` + all(c)
		case "msub":
			return line(c[0]) + "_" + line(c[1])
		case "msup":
			return line(c[0]) + "^" + line(c[1])
		case "msubsup":
			return line(c[0]) + "_" + line(c[1]) + "^" + line(c[2])
		case "mover":
			return map[string]string{"¯": `\bar`, "^": `\hat`, "~": `\tilde`}[c[1].Text] + line(c[0])
		}
		return all(c)
	}
	return line(root)
}

// Whatever a person calls a unit, a group or a problem, the document is written, well-formed, and says it.
func TestNamesThatTeXAndXMLWouldRead(t *testing.T) {
	for _, name := range []string{"a}b", "{", "%", `\frac`, "$^{", "m_2^2~", "<b>&", "m²", "a\u0001b\ufffe"} {
		for _, file := range []string{"two-berths", "boarding"} {
			p := *proctest.DemoProblems(t)[file]
			p.Title, p.Data.Variables = name, slices.Clone(p.Data.Variables)
			for i := range p.Data.Variables {
				if p.Data.Variables[i].Unit != "" {
					p.Data.Variables[i].Unit = name
				}
			}
			s, err := procedure.Work(t.Context(), &p)
			require.NoError(t, err)
			sheet := &paper.Sheet{Head: paper.Head{Title: name}, Solution: s, What: paper.Full}
			var out bytes.Buffer
			require.NoError(t, paper.HTML(&out, sheet), name)
			written := html.EscapeString(strings.NewReplacer("\u0001", "", "\ufffe", "").Replace(name))
			assert.Contains(t, out.String(), "<mtext>"+written+"</mtext>")
			all, _ := parts(t, sheet)
			for part, text := range all {
				if strings.HasSuffix(part, ".xml") || strings.HasSuffix(part, ".svg") {
					assert.NoError(t, xml.Unmarshal([]byte(text), new(struct{})), "%q in %s", name, part)
				}
			}
			assert.Contains(t, all["content.xml"], ">"+written+"<")
		}
	}
}

// The sheets are as large as it is asked for, in print and in the word processor; A4 where nothing is said.
func TestSizes(t *testing.T) {
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["two-berths"])
	require.NoError(t, err)
	for size, want := range map[paper.Size][2]string{
		"":           {"@page{size:210mm 297mm;", `fo:page-width="210mm" fo:page-height="297mm"`},
		paper.A4:     {"@page{size:210mm 297mm;", `fo:page-width="210mm" fo:page-height="297mm"`},
		paper.Letter: {"@page{size:8.5in 11in;", `fo:page-width="8.5in" fo:page-height="11in"`},
	} {
		sheet := &paper.Sheet{Head: paper.Head{Size: size}, Solution: s, What: paper.Short}
		assert.Contains(t, page(t, sheet), want[0])
		all, _ := parts(t, sheet)
		assert.Contains(t, all["styles.xml"], want[1])
	}
	assert.ErrorContains(t, paper.HTML(io.Discard, &paper.Sheet{Head: paper.Head{Size: "a5"}, Solution: s, What: paper.Short}), "/size")
}
