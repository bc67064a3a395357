package data

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"

	"grund/internal/words"
)

// A Style is how the numbers of a sheet are written.
type Style struct {
	// Comma says that the comma parts the decimals, and the point, if any, the
	// thousands.
	Comma bool
}

// DetectStyle returns the style in which most of the cells make sense. One that
// tells (12,5 or 1.234,5 or 1,234.5) outweighs any number of those that do not
// (1,234); where nothing tells, the point parts the decimals.
func DetectStyle(columns ...[]string) Style {
	const enough = 1000 // cells that tell
	comma, point := 0, 0
	for _, cells := range columns {
		for _, cell := range cells {
			if comma+point == enough {
				break
			}
			if !strings.ContainsAny(cell, ",.") {
				continue
			}
			_, _, asComma := Style{Comma: true}.parse(cell)
			_, _, asPoint := Style{}.parse(cell)
			switch {
			case asComma == readable && asPoint != readable:
				comma++
			case asPoint == readable && asComma != readable:
				point++
			}
		}
	}
	return Style{Comma: comma > point}
}

// Parse reads a number as people write it: a sign (the real minus too), spaces,
// thin spaces or apostrophes between thousands, or the mark that does not part the
// decimals; a currency or percent sign before or after, which is returned; an
// exponent. A number that makes sense only in the other style is read in that.
// The error says what is wrong with the text.
func (s Style) Parse(text string) (x float64, sign string, err error) {
	x, sign, wrong := s.parse(text)
	if wrong == unreadable {
		if y, otherSign, otherWrong := (Style{Comma: !s.Comma}).parse(text); otherWrong == readable {
			return y, otherSign, nil
		}
	}
	switch wrong {
	case blankText:
		return math.NaN(), "", errors.New("there is no number")
	case tooLarge:
		return math.NaN(), "", fmt.Errorf("“%s” is larger than any number that can be calculated with (about 1.8 × 10³⁰⁸)", words.Shorten(text))
	case unreadable:
		return math.NaN(), "", fmt.Errorf("“%s” is not a number", words.Shorten(text))
	}
	return x, sign, nil
}

// reads reports whether the text is a number in either style; it spares the error.
func (s Style) reads(text string) bool {
	if _, _, wrong := s.parse(text); wrong == readable {
		return true
	}
	_, _, wrong := Style{Comma: !s.Comma}.parse(text)
	return wrong == readable
}

// fault is what is wrong with a number's text.
type fault int

const (
	readable fault = iota
	blankText
	unreadable
	tooLarge
)

func (s Style) parse(text string) (x float64, sign string, wrong fault) {
	plain := strings.TrimFunc(text, unicode.IsSpace)
	switch {
	case plain == "":
		return math.NaN(), "", blankText
	case !strings.ContainsAny(plain, "0123456789"):
		return math.NaN(), "", unreadable
	case !s.Comma && isPlain(plain):
		if x, err := strconv.ParseFloat(plain, 64); err == nil {
			return x, "", readable
		}
	}
	body, sign := takeSign(plain)
	digits, ok := s.plainDigits(body)
	if !ok {
		return math.NaN(), "", unreadable
	}
	x, err := strconv.ParseFloat(digits, 64)
	switch {
	case errors.Is(err, strconv.ErrRange):
		return math.NaN(), "", tooLarge
	case err != nil:
		return math.NaN(), "", unreadable
	}
	return x, sign, readable
}

func isPlain(text string) bool {
	for i := range len(text) {
		if c := text[i]; (c < '0' || c > '9') && c != '.' && c != '-' && c != '+' && c != 'e' && c != 'E' {
			return false
		}
	}
	return true
}

// takeSign takes a currency or percent sign off either end; a sign of the number
// may stand before it ("−€5").
func takeSign(text string) (body, sign string) {
	runes := []rune(text)
	first := 0
	if runes[0] == '-' || runes[0] == '−' || runes[0] == '+' {
		first = 1
	}
	isSign := func(r rune) bool { return r == '%' || r == '‰' || unicode.Is(unicode.Sc, r) }
	if first < len(runes) && isSign(runes[first]) {
		sign = string(runes[first])
		runes = append(runes[:first:first], []rune(strings.TrimLeftFunc(string(runes[first+1:]), unicode.IsSpace))...)
	} else if last := len(runes) - 1; isSign(runes[last]) {
		sign = string(runes[last])
		runes = []rune(strings.TrimRightFunc(string(runes[:last]), unicode.IsSpace))
	}
	return string(runes), sign
}

// plainDigits returns the number in the form that programs read: no marks between
// thousands, a point before the decimals. Groups must have three digits.
func (s Style) plainDigits(text string) (string, bool) {
	decimal, thousands := '.', ','
	if s.Comma {
		decimal, thousands = ',', '.'
	}
	var out strings.Builder
	group, grouped, seenDecimal, seenDigit := 0, false, false, false
	runes := []rune(text)
	for i, r := range runes {
		switch {
		case r >= '0' && r <= '9':
			out.WriteRune(r)
			group++
			seenDigit = true
		case (r == '-' || r == '−' || r == '+') && i == 0:
			if r != '+' {
				out.WriteByte('-')
			}
		case r == decimal && !seenDecimal:
			if grouped && group != 3 {
				return "", false
			}
			seenDecimal = true
			out.WriteByte('.')
		case (r == thousands || r == ' ' || r == '\u00a0' || r == '\u2009' || r == '\u202f' || r == '\'' || r == '’') && !seenDecimal:
			if !seenDigit || group > 3 || grouped && group != 3 {
				return "", false
			}
			grouped, group = true, 0
		case (r == 'e' || r == 'E') && seenDigit && !grouped:
			rest := strings.Replace(string(runes[i+1:]), "−", "-", 1)
			if _, err := strconv.Atoi(rest); err != nil {
				return "", false
			}
			return out.String() + "e" + rest, true
		default:
			return "", false
		}
	}
	if !seenDigit || grouped && !seenDecimal && group != 3 {
		return "", false
	}
	return out.String(), true
}

// ParseNumber reads a single number, the point before the decimals where both
// styles make sense.
func ParseNumber(text string) (float64, error) {
	x, _, err := Style{}.Parse(text)
	return x, err
}

// missing are the marks that stand for a missing number.
var missing = map[string]bool{"": true, "NA": true, "N/A": true, "n/a": true, "#N/A": true, "-": true, "–": true, ".": true}

// IsMissing reports whether a cell of numbers is missing: blank, or one of the
// usual marks for it.
func IsMissing(cell string) bool { return missing[strings.TrimSpace(cell)] }

// GuessKind returns Number when at least three in five of the cells that are not
// missing are numbers, so that a few mistyped cells do not hide what the others
// are. Whole numbers with a leading zero are codes.
func GuessKind(cells []string) Kind {
	style := DetectStyle(cells)
	filled, numbers := 0, 0
	for _, cell := range cells {
		cell = strings.TrimSpace(cell)
		if IsMissing(cell) {
			continue
		}
		filled++
		if len(cell) > 1 && cell[0] == '0' && strings.Trim(cell, "0123456789") == "" {
			return Category
		}
		if style.reads(cell) {
			numbers++
		}
	}
	if numbers > 0 && 5*numbers >= 3*filled {
		return Number
	}
	return Category
}
