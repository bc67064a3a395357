// Package mathml writes formulas in MathML Core, the form that browsers and word processors read. They come in the part of
// TeX in which the solution writes its formulas; anything else is an error, so that nothing is left out unseen.
package mathml

import (
	"fmt"
	"html"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Namespace is the one of MathML.
const Namespace = "http://www.w3.org/1998/Math/MathML"

// Convert returns a formula as the contents of a math element.
func Convert(teX string) (string, error) {
	r := &reader{rest: teX}
	nodes, err := []string(nil), error(nil)
	if strings.ContainsFunc(teX, isNoText) || !utf8.ValidString(teX) {
		err = fmt.Errorf("it holds a character that is none of a text")
	} else {
		nodes, err = r.nodes("")
	}
	if err != nil {
		return "", fmt.Errorf("setting %q in MathML: %w", teX, err)
	}
	return row(nodes), nil
}

// isNoText reports whether a character has no place in XML.
func isNoText(c rune) bool { return c < ' ' && c != '\t' && c != '\n' || c == 0xFFFE || c == 0xFFFF }

// Math returns a formula as a math element, its fractions in full size.
func Math(teX string) (string, error) {
	inner, err := Convert(teX)
	if err != nil {
		return "", err
	}
	return `<math xmlns="` + Namespace + `" displaystyle="true">` + inner + `</math>`, nil
}

// row puts elements into one.
func row(nodes []string) string {
	if len(nodes) == 1 {
		return nodes[0]
	}
	return "<mrow>" + strings.Join(nodes, "") + "</mrow>"
}

// grouped puts an element into a row of its own: some word processors take what follows a fraction into what is under it
// otherwise.
func grouped(node string) string {
	if strings.HasPrefix(node, "<mrow>") {
		return node
	}
	return "<mrow>" + node + "</mrow>"
}

// A reader reads TeX from left to right.
type reader struct {
	rest  string
	depth int
}

// maxDepth is how deep groups may lie in each other.
const maxDepth = 40

func (r *reader) skipSpace() { r.rest = strings.TrimLeft(r.rest, " \t\n") }

// nodes reads elements up to the closing token, which it takes; "" is the end.
func (r *reader) nodes(closing string) ([]string, error) {
	if r.depth++; r.depth > maxDepth {
		return nil, fmt.Errorf("groups lie more than %d deep", maxDepth)
	}
	defer func() { r.depth-- }()
	var nodes []string
	for {
		r.skipSpace()
		switch {
		case closing != "" && strings.HasPrefix(r.rest, closing):
			r.rest = r.rest[len(closing):]
			return nodes, nil
		case r.rest == "" && closing != "":
			return nil, fmt.Errorf("%s is missing", closing)
		case r.rest == "":
			return nodes, nil
		}
		node, err := r.scripted()
		if err != nil {
			return nil, err
		}
		if node == infixMinus && (len(nodes) == 0 || strings.HasPrefix(nodes[len(nodes)-1], "<mo>")) {
			node = prefixMinus // of a number, not between two
		}
		nodes = append(nodes, node)
	}
}

// The minus between two terms, and the one before a term alone.
const (
	infixMinus  = "<mo>−</mo>"
	prefixMinus = `<mo form="prefix">−</mo>`
)

// scripted reads an element with what stands below and above it.
func (r *reader) scripted() (string, error) {
	base := "<mrow></mrow>"
	if r.rest[0] != '_' && r.rest[0] != '^' {
		var err error
		if base, err = r.node(); err != nil {
			return "", err
		}
	}
	var below, above string
	for {
		r.skipSpace()
		switch {
		case strings.HasPrefix(r.rest, "_") && below == "":
			r.rest = r.rest[1:]
			node, err := r.argument()
			if err != nil {
				return "", err
			}
			below = node
			continue
		case strings.HasPrefix(r.rest, "^") && above == "":
			r.rest = r.rest[1:]
			node, err := r.argument()
			if err != nil {
				return "", err
			}
			above = node
			continue
		}
		break
	}
	switch {
	case below != "" && above != "":
		return "<msubsup>" + base + below + above + "</msubsup>", nil
	case below != "":
		return "<msub>" + base + below + "</msub>", nil
	case above != "":
		return "<msup>" + base + above + "</msup>", nil
	}
	return base, nil
}

// argument reads what a command is about: a group, or the next element.
func (r *reader) argument() (string, error) {
	r.skipSpace()
	if r.rest == "" {
		return "", fmt.Errorf("something is missing at the end")
	}
	if r.depth++; r.depth > maxDepth {
		return "", fmt.Errorf("commands lie more than %d deep", maxDepth)
	}
	defer func() { r.depth-- }()
	return r.node()
}

// node reads one element.
func (r *reader) node() (string, error) {
	first, size := utf8.DecodeRuneInString(r.rest)
	switch {
	case first == '{':
		r.rest = r.rest[1:]
		nodes, err := r.nodes("}")
		return row(nodes), err
	case first == '\\':
		return r.command()
	case unicode.IsDigit(first) || first == '.' && len(r.rest) > 1 && unicode.IsDigit(rune(r.rest[1])):
		end := 0
		for end < len(r.rest) && (r.rest[end] >= '0' && r.rest[end] <= '9' || r.rest[end] == '.' || r.rest[end] == ',' &&
			end+1 < len(r.rest) && r.rest[end+1] >= '0' && r.rest[end+1] <= '9') {
			end++
		}
		number := r.rest[:end]
		r.rest = r.rest[end:]
		return "<mn>" + number + "</mn>", nil
	case unicode.IsLetter(first):
		r.rest = r.rest[size:]
		return "<mi>" + string(first) + "</mi>", nil
	case strings.ContainsRune("}_^&$#%~", first):
		return "", fmt.Errorf("%q stands where nothing may", first)
	}
	r.rest = r.rest[size:]
	switch first {
	case '-':
		return infixMinus, nil
	case '/':
		return `<mo lspace="0.06em" rspace="0.06em">/</mo>`, nil
	}
	return operator(string(first)), nil
}

// upright is a name of several letters, which is no product of them.
func upright(name string) string {
	return `<mi mathvariant="normal">` + html.EscapeString(name) + "</mi>"
}

func operator(sign string) string { return "<mo>" + html.EscapeString(sign) + "</mo>" }

// Commands that stand for a sign, a letter or the name of a function.
var (
	signs = map[string]string{
		"cdot": "·", "times": "×", "le": "≤", "ge": "≥", "ne": "≠", "lt": "<", "gt": ">", "cdots": "⋯", "dots": "…", "ldots": "…", "sum": "∑",
		"lfloor": "⌊", "rfloor": "⌋", "top": "⊤", "#": "#", "{": "{", "}": "}", "%": "%", "pm": "±", "to": "→", "approx": "≈", "sim": "∼",
		"in": "∈", "mid": "∣",
	}
	letters = map[string]string{
		"alpha": "α", "beta": "β", "chi": "χ", "delta": "δ", "Delta": "Δ", "epsilon": "ϵ", "varepsilon": "ε", "eta": "η", "lambda": "λ",
		"Lambda": "Λ", "mu": "μ", "nu": "ν", "omega": "ω", "phi": "ϕ", "varphi": "φ", "Phi": "Φ", "pi": "π", "psi": "ψ", "rho": "ρ", "sigma": "σ",
		"tau": "τ", "theta": "θ", "infty": "∞", "ell": "ℓ", "gamma": "γ", "Gamma": "Γ",
	}
	functions = []string{"ln", "log", "tanh", "exp", "max", "min"}
	spaces    = map[string]string{",": "0.17em", ";": "0.28em", ":": "0.22em", " ": "0.33em", "quad": "1em", "qquad": "2em", "!": "-0.17em"}
	accents   = map[string]string{"bar": "¯", "overline": "¯", "hat": "^", "widehat": "^", "tilde": "~"}
)

// command reads a command and what it is about.
func (r *reader) command() (string, error) {
	name := r.name()
	if sign, is := signs[name]; is {
		return operator(sign), nil
	}
	if letter, is := letters[name]; is {
		return "<mi>" + letter + "</mi>", nil
	}
	if width, is := spaces[name]; is {
		return `<mspace width="` + width + `"></mspace>`, nil
	}
	if accent, is := accents[name]; is {
		over, err := r.argument()
		return `<mover accent="true">` + over + `<mo>` + accent + `</mo></mover>`, err
	}
	for _, function := range functions {
		if name == function {
			return upright(name), nil
		}
	}
	switch name {
	case "frac", "binom":
		over, err := r.argument()
		if err != nil {
			return "", err
		}
		under, err := r.argument()
		if name == "binom" {
			return `<mrow><mo>(</mo><mfrac linethickness="0">` + over + under + `</mfrac><mo>)</mo></mrow>`, err
		}
		return "<mfrac>" + grouped(over) + grouped(under) + "</mfrac>", err
	case "sqrt":
		of, err := r.argument()
		return "<msqrt>" + of + "</msqrt>", err
	case "text", "operatorname", "mathrm":
		words, err := r.words()
		if name == "text" {
			return "<mtext>" + html.EscapeString(words) + "</mtext>", err
		}
		return upright(words), err
	case "displaystyle":
		return `<mspace width="0"></mspace>`, nil
	case "left":
		return r.fenced()
	}
	return "", fmt.Errorf(`there is no \%s`, name)
}

// name reads the name of a command: letters, or one sign.
func (r *reader) name() string {
	r.rest = r.rest[1:] // the backslash
	end := 0
	for end < len(r.rest) && (r.rest[end] >= 'a' && r.rest[end] <= 'z' || r.rest[end] >= 'A' && r.rest[end] <= 'Z') {
		end++
	}
	if end == 0 && r.rest != "" {
		_, end = utf8.DecodeRuneInString(r.rest)
	}
	name := r.rest[:end]
	r.rest = r.rest[end:]
	return name
}

// words reads the text in braces as it stands.
func (r *reader) words() (string, error) {
	r.skipSpace()
	if !strings.HasPrefix(r.rest, "{") {
		return "", fmt.Errorf("a text stands without braces")
	}
	depth := 0
	for i := 0; i < len(r.rest); i++ {
		switch r.rest[i] {
		case '\\':
			i++ // what follows stands for itself
			continue
		case '{':
			depth++
		case '}':
			depth--
		}
		if depth == 0 {
			words := r.rest[1:i]
			r.rest = r.rest[i+1:]
			return unescaped(words), nil
		}
	}
	return "", fmt.Errorf("} is missing")
}

// unescaped is a text without the backslashes that TeX needs in it.
func unescaped(words string) string {
	return strings.NewReplacer(`\&`, "&", `\%`, "%", `\#`, "#", `\_`, "_", `\$`, "$", `\{`, "{", `\}`, "}", `\ `, " ",
		`\textbackslash `, `\`, `\textasciicircum `, "^", `\textasciitilde `, "~").Replace(words)
}

// fenced reads what stands between \left and \right, with its fences.
func (r *reader) fenced() (string, error) {
	open, err := r.fence("prefix")
	if err != nil {
		return "", err
	}
	nodes, err := r.nodes(`\right`)
	if err != nil {
		return "", err
	}
	end, err := r.fence("postfix")
	return "<mrow>" + open + strings.Join(nodes, "") + end + "</mrow>", err
}

// fence reads a fence that stands before or after what it holds.
func (r *reader) fence(form string) (string, error) {
	r.skipSpace()
	if r.rest == "" {
		return "", fmt.Errorf("a fence is missing at the end")
	}
	sign := ""
	if r.rest[0] == '\\' {
		name := r.name()
		known, is := signs[name]
		if !is {
			return "", fmt.Errorf(`\%s is no fence`, name)
		}
		sign = known
	} else {
		_, size := utf8.DecodeRuneInString(r.rest)
		sign, r.rest = r.rest[:size], r.rest[size:]
	}
	if sign == "." {
		return "", nil
	}
	return `<mo stretchy="true" fence="true" form="` + form + `">` + html.EscapeString(sign) + "</mo>", nil
}
