package data

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"grund/internal/words"

	"github.com/expr-lang/expr/file"
)

// rewritten is a formula in which columns have names that a parser takes.
type rewritten struct {
	text    string
	signs   string         // what stands neither in quotation marks nor in the name of a column
	used    []string       // the columns that it names
	aliases map[string]int // place in used
	starts  []int          // for each character of text, its place in the formula
}

// wordPart reports whether a character may stand inside a name.
func wordPart(c rune) bool { return unicode.IsLetter(c) || unicode.IsDigit(c) || c == '_' }

// scan calls name for each column that a formula names, with its place,
// and other for each other character; quoted says that it stands in, or begins or
// ends, text in quotation marks, where no column is named. Where several names fit,
// the longest is meant.
func scan(formula string, names []string, name func(name string, at int), other func(c rune, at int, quoted bool)) {
	byFirst := map[rune][][]rune{} // the names by their first character, the longest first
	for _, name := range names {
		if runes := []rune(name); len(runes) > 0 {
			byFirst[runes[0]] = append(byFirst[runes[0]], runes)
		}
	}
	for _, names := range byFirst {
		slices.SortStableFunc(names, func(a, b []rune) int { return len(b) - len(a) })
	}
	runes := []rune(formula)
	closing := map[rune]rune{'"': '"', '\'': '\'', '`': '`', '“': '”'}
	var quote rune // that ends the text in hand
	for i := 0; i < len(runes); i++ {
		c := runes[i]
		switch {
		case quote != 0:
			other(c, i, true)
			if c == quote {
				quote = 0
			}
			continue
		case closing[c] != 0:
			quote = closing[c]
			other(c, i, true)
			continue
		case i == 0 || !wordPart(runes[i-1]):
			if found := longestName(runes[i:], byFirst[c]); found != nil {
				name(string(found), i)
				i += len(found) - 1
				continue
			}
		}
		other(c, i, false)
	}
}

// rewrite gives each column that a formula names an alias.
func rewrite(formula string, names []string) rewritten {
	r := rewritten{aliases: map[string]int{}}
	var out, signs strings.Builder
	emit := func(text string, at int) {
		out.WriteString(text)
		for range []rune(text) {
			r.starts = append(r.starts, at)
		}
	}
	scan(formula, names, func(name string, at int) {
		place := slices.Index(r.used, name)
		if place < 0 {
			place = len(r.used)
			r.used = append(r.used, name)
		}
		alias := fmt.Sprintf("column_%d", place)
		r.aliases[alias] = place
		emit(alias, at)
	}, func(c rune, at int, quoted bool) {
		text := string(c)
		switch {
		case c == '“' || c == '”':
			text = `"`
		case quoted:
			emit(text, at)
			return
		case c == '−' || c == '–':
			text = "-"
		case c == '×':
			text = "*"
		case c == '÷':
			text = "/"
		}
		signs.WriteString(text)
		emit(text, at)
	})
	r.starts = append(r.starts, len([]rune(formula)))
	r.text, r.signs = out.String(), signs.String()
	return r
}

// RenameIn returns a formula about columns of the given names with some of the
// columns called by other names.
func RenameIn(formula string, names []string, renamed map[string]string) string {
	var out strings.Builder
	scan(formula, names, func(name string, _ int) {
		if to, ok := renamed[name]; ok {
			name = to
		}
		out.WriteString(name)
	}, func(c rune, _ int, _ bool) { out.WriteRune(c) })
	return out.String()
}

// longestName returns the longest of the names, which come in that order, with
// which the text begins as a whole word. A name before a bracket is a function's.
func longestName(text []rune, names [][]rune) []rune {
	for _, name := range names {
		n := len(name)
		if len(text) < n || !slices.Equal(text[:n], name) {
			continue
		}
		if n < len(text) && wordPart(text[n]) && wordPart(text[n-1]) {
			continue
		}
		called := string(name)
		if caseFunctions[called] != nil || columnFunctions[called] != nil {
			if rest := strings.TrimSpace(string(text[n:])); strings.HasPrefix(rest, "(") {
				continue
			}
		}
		return name
	}
	return nil
}

// place returns where a character of the rewritten text stands in the formula.
func (r *rewritten) place(at int) int {
	if at < 0 || at >= len(r.starts) {
		return r.starts[len(r.starts)-1]
	}
	return r.starts[at]
}

// explain says in our words what the parser or the checker found.
func (r *rewritten) explain(err error, names []string) error {
	var found *file.Error
	if !errors.As(err, &found) {
		return &FormulaError{0, "the formula cannot be read"}
	}
	at := r.place(found.From)
	says := found.Message
	for i, name := range r.used {
		says = strings.ReplaceAll(says, fmt.Sprintf("column_%d", i), "“"+name+"”")
	}
	switch {
	case strings.HasPrefix(says, "unknown name"):
		word := strings.TrimSpace(strings.TrimPrefix(says, "unknown name"))
		return &FormulaError{at, fmt.Sprintf("there is no column “%s”; the columns are %s", words.Shorten(word), words.Quoted(names, "and"))}
	case strings.Contains(says, "EOF"):
		return &FormulaError{r.starts[len(r.starts)-1], "the formula ends too early"}
	case strings.HasPrefix(says, "unexpected token"):
		return &FormulaError{at, fmt.Sprintf("this does not belong here: %s", tokenText(says))}
	case strings.Contains(says, "mismatched types"):
		return &FormulaError{at, "a number and a word cannot be put together or compared; write words in quotation marks and numbers without"}
	case strings.HasPrefix(says, "cannot use"), strings.Contains(says, "invalid number of arguments"),
		strings.Contains(says, "arguments in call"), strings.Contains(says, "arguments to call"):
		return &FormulaError{at, "this function takes one number"}
	}
	if errors.Is(err, strconv.ErrRange) || strings.Contains(says, "out of range") {
		return &FormulaError{at, "this number is too large to calculate with"}
	}
	return &FormulaError{at, "the formula cannot be read from here on"}
}

// tokenText takes the token out of the parser's message.
func tokenText(says string) string {
	if _, rest, ok := strings.Cut(says, `("`); ok {
		if token, _, ok := strings.Cut(rest, `")`); ok {
			return token
		}
	}
	return "a sign that has no meaning here"
}
