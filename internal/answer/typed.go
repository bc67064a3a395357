// Package answer judges what a student answers to a problem that is worked step by step: it reads what
// was typed, and says of each answer what became of it.
package answer

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf8"
)

// MaxTyped is how many characters a typed number may have.
const MaxTyped = 200

// An Asked is what is known of the number that is asked for when an answer is read.
type Asked struct {
	Unit    string // "min", "" without
	Percent bool   // the number is one in percent, so that a percent sign is its unit
	Share   bool   // the number is a share, so that a percent sign is a hundredth
	Bounds  bool   // it may be bounded as printed tables bound a p-value
}

// A Typed is a number as a person typed it, or bounds for one.
type Typed struct {
	Value    float64
	Decimals int  // so that the last digit stands for 10^−Decimals; below 0 for 1.21e3
	Digits   int  // significant ones; of 0, its decimals
	Exact    bool // a fraction, which has no last digit
	Bounds   *Bounds
}

// Bounds are two numbers that another lies between.
type Bounds struct {
	Low, High           float64 // infinite where there is none
	LowHolds, HighHolds bool    // whether the bound itself is meant too
}

// Hold reports whether x lies in the bounds.
func (b Bounds) Hold(x float64) bool {
	return (x > b.Low || b.LowHolds && x == b.Low) && (x < b.High || b.HighHolds && x == b.High)
}

// Inside reports whether x lies strictly inside the bounds, so that they leave open on which side of it a number lies.
func (b Bounds) Inside(x float64) bool { return b.Low < x && x < b.High }

// An UnreadableError says why a typed text is no number, and what would be one.
type UnreadableError struct{ Says string }

func (e *UnreadableError) Error() string { return e.Says }

func unreadable(format string, args ...any) error {
	return &UnreadableError{fmt.Sprintf(format, args...)}
}

// errNumber is of a text that is no number; Read says what would be one.
var errNumber = errors.New("no number")

// Read reads what was typed where a number is asked for: with a decimal point or comma, any minus sign, spaces
// between thousands, a percent sign, as a fraction, with a power of ten, after a name ("t = "), before a unit; for
// a p-value also bounds. It returns an *UnreadableError for anything else.
func Read(text string, asked Asked) (Typed, error) {
	if utf8.RuneCountInString(text) > MaxTyped {
		return Typed{}, unreadable("An answer has %d characters at most.", MaxTyped)
	}
	plain := strings.TrimSpace(plainSigns.Replace(text))
	if plain == "" {
		return Typed{}, unreadable("Nothing was typed.")
	}
	if bounds, err := readBounds(plain); err != nil || bounds != nil {
		switch {
		case err != nil:
			return Typed{}, err
		case !asked.Bounds:
			return Typed{}, unreadable("A number is wanted here, not bounds for one.")
		}
		return Typed{Bounds: bounds}, nil
	}
	number, unit := withoutUnit(withoutName(plain))
	typed, err := readNumber(number)
	if err != nil {
		return Typed{}, unreadable("“%s” is no number that can be read. Type it as 2.35, 2,35, −0.5, 3/7 or 2.1e-5.", strings.TrimSpace(text))
	}
	return typed.inUnit(unit, asked)
}

// inUnit returns the number as the unit means it.
func (t Typed) inUnit(unit string, asked Asked) (Typed, error) {
	switch {
	case unit == "" || sameUnit(unit, asked.Unit), unit == "%" && asked.Percent:
		return t, nil
	case unit == "%" && asked.Share:
		t.Value /= 100
		t.Decimals += 2
		return t, nil
	case asked.Unit == "":
		return Typed{}, unreadable("The number stands here without a unit: leave “%s” out.", unit)
	}
	return Typed{}, unreadable("It is wanted in %s, not in “%s”.", asked.Unit, unit)
}

// sameUnit compares units as they are typed: m/s2 for m/s².
func sameUnit(typed, unit string) bool {
	plain := func(u string) string { return strings.ToLower(unitSigns.Replace(u)) }
	return unit != "" && plain(typed) == plain(unit)
}

var (
	plainSigns = strings.NewReplacer("−", "-", "–", "-", "—", "-", "‐", "-", "‑", "-", "﹣", "-", "－", "-",
		"\u00a0", " ", "\u2009", " ", "\u202f", " ", "\u2007", " ", "\u200a", " ", "\t", " ", "\n", " ", "\r", " ",
		"×", "·", "*", "·", "⋅", "·", "≤", "<=", "⩽", "<=", "≥", ">=", "⩾", ">=", "＝", "=", "∼", "~")
	unitSigns = strings.NewReplacer(" ", "", "²", "2", "³", "3", "^", "", "·", "")
	raised    = strings.NewReplacer("⁻", "-", "⁺", "+", "⁰", "0", "¹", "1", "²", "2", "³", "3", "⁴", "4", "⁵", "5", "⁶", "6",
		"⁷", "7", "⁸", "8", "⁹", "9")

	named       = regexp.MustCompile(`^(?:\pL[^=≈~<>]{0,60})?[=≈~]=? ?`)
	trailing    = regexp.MustCompile(`^(.*?[0-9⁰¹²³⁴-⁹.,]) ?([\pL%€$£°µ][^0-9=<>≈]*(?:[^\s0-9][²³0-9])?)$`)
	powered     = regexp.MustCompile(`^(.*?)(?:[eE]([+-]?[0-9]{1,4})| ?[·x] ?10(?:\^\(?([+-]?[0-9]{1,4})\)?|([⁻⁺]?[⁰¹²³⁴⁵⁶⁷⁸⁹]{1,4})))$`)
	plainNumber = regexp.MustCompile(`^[0-9]*(?:[.,][0-9]*)?$`)
	spaced      = regexp.MustCompile(`^[0-9]{1,3}(?: [0-9]{3})+(?:[.,][0-9]*)?$`)
	pointed     = regexp.MustCompile(`^[0-9]{1,3}(?:(?:,[0-9]{3})+\.[0-9]*|(?:,[0-9]{3}){2,})$`)
	commaed     = regexp.MustCompile(`^[0-9]{1,3}(?:(?:\.[0-9]{3})+,[0-9]*|(?:\.[0-9]{3}){2,})$`)
)

// withoutName leaves out what stands before the number: "t =", "p ≈", "t(16) =".
func withoutName(text string) string { return text[len(named.FindString(text)):] }

// withoutUnit parts a number from the unit after it.
func withoutUnit(text string) (number, unit string) {
	if powered.MatchString(text) { // the e of 2e5 is no unit
		return text, ""
	}
	if m := trailing.FindStringSubmatch(text); m != nil {
		return m[1], strings.TrimSpace(m[2])
	}
	return text, ""
}

// readNumber reads a number or a fraction of two.
func readNumber(text string) (Typed, error) {
	over, under, fraction := strings.Cut(text, "/")
	if !fraction {
		return readDecimal(text)
	}
	a, errA := readDecimal(strings.TrimSpace(over))
	b, errB := readDecimal(strings.TrimSpace(under))
	if errA != nil || errB != nil || b.Value == 0 {
		return Typed{}, errNumber
	}
	value := a.Value / b.Value
	if math.IsInf(value, 0) {
		return Typed{}, errNumber
	}
	return Typed{Value: value, Exact: true}, nil
}

// readDecimal reads a number with a decimal mark and a power of ten.
func readDecimal(text string) (Typed, error) {
	power := 0
	if m := powered.FindStringSubmatch(text); m != nil {
		text = m[1]
		n, err := strconv.Atoi(m[2] + m[3] + raised.Replace(m[4]))
		if err != nil {
			return Typed{}, errNumber
		}
		power = n
	}
	sign := ""
	if text != "" && (text[0] == '-' || text[0] == '+') {
		sign, text = strings.TrimPrefix(text[:1], "+"), strings.TrimLeft(text[1:], " ")
	}
	digits, ok := unseparated(text)
	if !ok {
		return Typed{}, errNumber
	}
	value, err := strconv.ParseFloat(fmt.Sprintf("%s%se%d", sign, digits, power), 64)
	if err != nil {
		return Typed{}, errNumber
	}
	_, fraction, _ := strings.Cut(digits, ".")
	typed := Typed{Value: value, Decimals: len(fraction) - power}
	typed.Digits = len(strings.TrimLeft(strings.Replace(digits, ".", "", 1), "0"))
	if typed.Digits == 0 {
		typed.Digits = max(1, len(fraction))
	}
	return typed, nil
}

// unseparated returns the digits with a decimal point and without what parts the thousands. One comma or point is
// the decimal mark; where there are both, or several of one, those before three digits each part thousands.
func unseparated(text string) (digits string, ok bool) {
	switch {
	case !strings.ContainsAny(text, "0123456789"):
		return "", false
	case plainNumber.MatchString(text):
	case spaced.MatchString(text):
		text = strings.ReplaceAll(text, " ", "")
	case pointed.MatchString(text):
		text = strings.ReplaceAll(text, ",", "")
	case commaed.MatchString(text):
		text = strings.ReplaceAll(text, ".", "")
	default:
		return "", false
	}
	return strings.Replace(text, ",", ".", 1), true
}

var (
	twoBounds = regexp.MustCompile(`^(.+?) ?(<=?) ?[pP] ?(<=?) ?(.+)$`)
	twoFalls  = regexp.MustCompile(`^(.+?) ?(>=?) ?[pP] ?(>=?) ?(.+)$`)
	inWords   = regexp.MustCompile(`^(?:[pP] ?(?:is|=)? ?)?(?:between|from) (.+?) (?:and|to) (.+)$`)
	oneBound  = regexp.MustCompile(`^(?:[pP] ?(?:is ?)?)?(<=?|>=?|less than|smaller than|below|under|greater than|larger than|more ` +
		`than|above|over) ?(.+)$`)
	oneBefore = regexp.MustCompile(`^(.+?) ?(<=?|>=?) ?[pP]$`)
)

// readBounds reads bounds for a p-value; nil where the text has none.
func readBounds(text string) (*Bounds, error) {
	if m := twoBounds.FindStringSubmatch(text); m != nil {
		return bounded(m[1], m[4], m[2] == "<=", m[3] == "<=")
	}
	if m := twoFalls.FindStringSubmatch(text); m != nil {
		return bounded(m[4], m[1], m[3] == ">=", m[2] == ">=")
	}
	if m := inWords.FindStringSubmatch(text); m != nil {
		return bounded(m[1], m[2], true, true)
	}
	if m := oneBound.FindStringSubmatch(text); m != nil {
		return boundedBy(m[1], m[2])
	}
	if m := oneBefore.FindStringSubmatch(text); m != nil { // 0.05 < p is p > 0.05
		turned := map[string]string{"<": ">", "<=": ">=", ">": "<", ">=": "<="}
		return boundedBy(turned[m[2]], m[1])
	}
	return nil, nil
}

// boundedBy returns the bounds of what lies so to a number.
func boundedBy(relation, text string) (*Bounds, error) {
	x, err := boundOf(text)
	if err != nil {
		return nil, err
	}
	switch relation {
	case ">", ">=", "greater than", "larger than", "more than", "above", "over":
		return &Bounds{Low: x, High: math.Inf(1), LowHolds: relation == ">="}, nil
	}
	return &Bounds{Low: math.Inf(-1), High: x, HighHolds: relation == "<="}, nil
}

func bounded(low, high string, lowHolds, highHolds bool) (*Bounds, error) {
	a, err := boundOf(low)
	if err != nil {
		return nil, err
	}
	b, err := boundOf(high)
	if err != nil {
		return nil, err
	}
	if a >= b {
		return nil, unreadable("The smaller bound comes first: between 0.01 and 0.05.")
	}
	return &Bounds{Low: a, High: b, LowHolds: lowHolds, HighHolds: highHolds}, nil
}

// boundOf reads a bound, which may be in percent.
func boundOf(text string) (float64, error) {
	number, unit := withoutUnit(strings.TrimSpace(text))
	typed, err := readNumber(number)
	if err == nil {
		typed, err = typed.inUnit(unit, Asked{Share: true})
	}
	if err != nil {
		return 0, unreadable("“%s” is no bound that can be read. Type bounds as < 0.05, 0.05 < p < 0.10 or between 0.05 and 0.10.", text)
	}
	return typed.Value, nil
}

// Agrees reports whether v, rounded as the number was typed, is the number: whether they differ by half of what its
// last digit stands for at most. A tie agrees both ways.
func (t Typed) Agrees(v float64) bool {
	difference := math.Abs(t.Value - v)
	if t.Exact {
		return difference <= binary*math.Abs(v)
	}
	return difference <= 0.5*math.Pow(10, float64(-t.Decimals))*(1+1e-9)+binary*math.Abs(v)
}

// binary is how far, relatively, a number that was calculated may lie from what it is in decimals.
const binary = 1e-12
