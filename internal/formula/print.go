package formula

import (
	"regexp"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Printed is a formula in its two forms, with the inputs in order of appearance.
type Printed struct {
	Symbolic string
	Numeric  string
	Inputs   []string
}

// Print returns both forms of x.
func Print(x Expr) Printed {
	symbolic := &printer{seen: map[string]bool{}}
	x.print(symbolic)
	numeric := &printer{numeric: true, seen: map[string]bool{}}
	x.print(numeric)
	return Printed{symbolic.String(), numeric.String(), symbolic.inputs}
}

type printer struct {
	strings.Builder
	numeric  bool
	fraction int  // how many fractions and roots deep: the second is written with a slash
	bracket  bool // the next input is bracketed if it is negative
	inputs   []string
	seen     map[string]bool
}

func (p *printer) input(id string) {
	if !p.seen[id] {
		p.seen[id] = true
		p.inputs = append(p.inputs, id)
	}
}

// within prints x, in brackets if it binds less tightly than needed.
func (p *printer) within(x Expr, needed int) {
	binding := x.binding()
	switch x.(type) {
	case Total, Deviations:
		if p.numeric { // written out, they are sums
			binding = sumBinding
		}
	}
	if binding < needed {
		p.WriteString(`\left(`)
		x.print(p)
		p.WriteString(`\right)`)
		return
	}
	p.bracket = needed > sumBinding
	x.print(p)
	p.bracket = false
}

func (r Ref) print(p *printer) {
	p.input(string(r))
	if p.bracket {
		p.WriteString("@({" + string(r) + "})")
	} else {
		p.WriteString("@{" + string(r) + "}")
	}
}

func (n Num) print(p *printer) { p.WriteString(strconv.FormatFloat(float64(n), 'g', -1, 64)) }

func (s Sum) print(p *printer) {
	for i, term := range s {
		if minus, ok := term.(Minus); ok {
			p.WriteString("-")
			p.within(minus.X, productBinding)
			continue
		}
		if i == 0 {
			p.within(term, sumBinding)
			continue
		}
		p.WriteString("+")
		p.within(term, productBinding)
	}
}

func (m Minus) print(p *printer) {
	p.WriteString("-")
	p.within(m.X, productBinding)
}

func (x Product) print(p *printer) {
	for i, factor := range x {
		if i > 0 {
			if p.numeric {
				p.WriteString(`\cdot `)
			} else {
				p.WriteString(`\,`)
			}
		}
		p.within(factor, productBinding)
	}
}

func (q Quotient) print(p *printer) {
	if p.fraction > 0 {
		p.within(q.Over, productBinding)
		p.WriteString("/")
		p.within(q.Under, powerBinding)
		return
	}
	p.fraction++
	p.WriteString(`\frac{`)
	p.within(q.Over, sumBinding)
	p.WriteString("}{")
	p.within(q.Under, sumBinding)
	p.WriteString("}")
	p.fraction--
}

func (x Power) print(p *printer) {
	p.within(x.Base, atomBinding)
	p.WriteString("^{" + strconv.Itoa(x.Exponent) + "}")
}

func (r Root) print(p *printer) {
	p.WriteString(`\sqrt{`)
	p.within(r.X, sumBinding)
	p.WriteString("}")
}

func (a Abs) print(p *printer) {
	p.WriteString(`\left|`)
	p.within(a.X, sumBinding)
	p.WriteString(`\right|`)
}

func (f Floor) print(p *printer) {
	p.WriteString(`\left\lfloor `)
	p.within(f.X, sumBinding)
	p.WriteString(`\right\rfloor`)
}

func (e Exp) print(p *printer) {
	p.WriteString("e^{")
	p.within(e.X, sumBinding)
	p.WriteString("}")
}

func (l Log) print(p *printer)    { p.function(`\ln`, l.X) }
func (t Tanh) print(p *printer)   { p.function(`\tanh`, t.X) }
func (a Artanh) print(p *printer) { p.function(`\operatorname{artanh}`, a.X) }

// function prints a function of x.
func (p *printer) function(name string, x Expr) {
	p.WriteString(name + `\left(`)
	p.within(x, sumBinding)
	p.WriteString(`\right)`)
}

func (n NotBelow) print(p *printer) {
	p.WriteString(`\max\left(` + strconv.FormatFloat(n.Least, 'g', -1, 64) + `,\, `)
	p.within(n.X, sumBinding)
	p.WriteString(`\right)`)
}

func (t Total) print(p *printer) {
	p.input(t.Column.Ref)
	if !p.numeric {
		p.WriteString(`\sum ` + t.Column.Symbol)
		return
	}
	t.Column.each(p, func(cell string) { p.WriteString(cell) })
}

func (s Deviations) print(p *printer) {
	p.input(s.Column.Ref)
	if !p.numeric {
		p.WriteString(`\sum \left(` + s.Column.Symbol + "-")
		p.within(s.Centre, productBinding)
		p.WriteString(`\right)` + s.exponent())
		return
	}
	s.Column.each(p, func(cell string) {
		p.WriteString("(" + strings.Trim(cell, "()") + "-")
		p.within(s.Centre, productBinding)
		p.WriteString(")" + s.exponent())
	})
}

func (s Deviations) exponent() string { return "^{" + strconv.Itoa(s.Power) + "}" }

// each prints the column's first cells and its last, with dots for the others.
func (c Column) each(p *printer, cell func(string)) {
	for i, text := range c.First {
		if i > 0 {
			p.WriteString("+")
			text = bracketed(text)
		}
		cell(TeXNumber(text))
	}
	if c.Last != "" {
		p.WriteString(`+\cdots+`)
		cell(TeXNumber(bracketed(c.Last)))
	}
}

func (c Count) print(p *printer) {
	p.input(c.Column.Ref)
	p.WriteString(`\#\{` + c.Column.Symbol + `\}`)
}

func (t Tail) print(p *printer) {
	p.WriteString("P(")
	letter := t.Of.Symbol
	if !strings.HasPrefix(letter, `\`) { // a command, as \chi is
		letter = strings.ToUpper(letter)
	}
	t.Of.print(p, letter, "")
	if t.Lower {
		p.WriteString(` \le `)
	} else {
		p.WriteString(` \ge `)
	}
	p.within(t.X, sumBinding)
	p.WriteString(")")
}

// print writes the letter with the area, if there is one, and the degrees of
// freedom as its index.
func (f Family) print(p *printer, letter, area string) {
	p.WriteString(letter)
	if area == "" && len(f.Degrees) == 0 {
		return
	}
	p.WriteString("_{" + area)
	for i, ref := range f.Degrees {
		if i > 0 || area != "" {
			p.WriteString(`;\,`)
		}
		ref.print(p)
	}
	p.WriteString("}")
}

func (q Quantile) print(p *printer) {
	inner := &printer{numeric: p.numeric, fraction: 1, seen: map[string]bool{}}
	if q.Lower {
		// The letter's index is the area above it, as textbooks print it.
		inner.WriteString("1-")
	}
	inner.within(q.Area, productBinding)
	for _, id := range inner.inputs {
		p.input(id)
	}
	q.Of.print(p, q.Of.Symbol, inner.String())
}

// Column references may hold any character but braces, which Resolve would mistake.
var placeholder = regexp.MustCompile(`@\{([^{}]*)\}|@\(\{([^{}]*)\}\)`)

// Resolve replaces each @{id} by show(id). A number that show gives with a
// leading minus sign is bracketed where the formula needs it.
func Resolve(printed string, show func(id string) string) string {
	return placeholder.ReplaceAllStringFunc(printed, func(match string) string {
		parts := placeholder.FindStringSubmatch(match)
		if parts[1] != "" {
			return show(parts[1])
		}
		return bracketed(show(parts[2]))
	})
}

func bracketed(text string) string {
	if strings.HasPrefix(text, "−") || strings.HasPrefix(text, "-") {
		return "(" + text + ")"
	}
	return text
}

// TeXNumber returns a displayed number as TeX: a plain minus, a thin space that
// does not break, "<" and powers of ten as operators.
var TeXNumber = strings.NewReplacer("−", "-", "\u202f", `\,`, "<", `\lt `, "×", `\times `).Replace

// TeXText sets words in a formula, such as a unit or the name of a group: what TeX would read in them is escaped, and what
// is no character of a text is left out.
func TeXText(words string) string {
	words = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || r == utf8.RuneError || r == 0xFFFE || r == 0xFFFF {
			return -1
		}
		return r
	}, words)
	return `\text{` + escapes.Replace(words) + `}`
}

var escapes = strings.NewReplacer(`\`, `\textbackslash `, `{`, `\{`, `}`, `\}`, `$`, `\$`, `%`, `\%`, `&`, `\&`, `#`, `\#`, `_`, `\_`,
	`^`, `\textasciicircum `, `~`, `\textasciitilde `)
