package working

import (
	"bytes"
	"math"
	"strconv"
	"strings"

	"grund/internal/data"
)

// DefaultDecimals is how many decimals a solution shows when the problem does not say.
const DefaultDecimals = 3

const (
	minus     = "−"
	thinSpace = "\u202f" // narrow and without a break
)

// decimalDigits returns the digits of the shortest decimal that reads back as x, which is
// finite and not negative, and the power of ten that the first of them counts.
func decimalDigits(x float64) (digits []byte, power int) {
	mantissa, exponent, _ := strings.Cut(strconv.FormatFloat(x, 'e', -1, 64), "e")
	power, _ = strconv.Atoi(exponent)
	return []byte(strings.Replace(mantissa, ".", "", 1)), power
}

// roundDigits keeps the first digits of a decimal and rounds the last of them by those that
// follow, a tie away from zero. raised says that a digit came before the first, as where 9.6
// becomes 10.
func roundDigits(digits []byte, keep int) (rounded []byte, raised bool) {
	if keep >= len(digits) {
		return append(digits, bytes.Repeat([]byte("0"), keep-len(digits))...), false
	}
	if keep < 0 || digits[keep] < '5' {
		return digits[:max(0, keep)], false
	}
	for i := keep - 1; i >= 0; i-- {
		if digits[i] < '9' {
			digits[i]++
			return digits[:keep], false
		}
		digits[i] = '0'
	}
	return append([]byte("1"), digits[:keep]...), true
}

// round writes the finite |x| with so many decimals. A tie is rounded away from zero, as in
// textbooks, and what is a tie is decided on the decimal that x is written with: 2.675 with
// two decimals is 2.68, although the double that stands for it lies a little below.
func round(x float64, decimals int) string {
	digits, power := decimalDigits(math.Abs(x))
	kept, raised := roundDigits(digits, power+1+decimals)
	if raised {
		power++
	}
	if lead := -power; lead > 0 { // 0.05 begins with zeros that are no digits of its own
		kept = append(bytes.Repeat([]byte("0"), min(lead, decimals+1)), kept...)
		power = 0
	}
	if decimals == 0 {
		return string(kept)
	}
	return string(kept[:power+1]) + "." + string(kept[power+1:])
}

// Rounded returns x as it is when written with so many decimals.
func Rounded(x float64, decimals int) float64 {
	if math.IsNaN(x) || math.IsInf(x, 0) || math.Abs(x) >= largestPlain {
		return x
	}
	rounded, err := strconv.ParseFloat(round(x, decimals), 64)
	if err != nil {
		return x
	}
	return math.Copysign(rounded, x)
}

// largestPlain is from where on numbers are written with a power of ten.
const largestPlain = 1e15

// FormatNumber returns x with the given decimals, a tie rounded away from zero, a real minus
// sign and thin spaces between thousands from 10 000 on. Numbers of 1e15 and more are written
// with a power of ten.
func FormatNumber(x float64, decimals int) string {
	switch {
	case math.IsNaN(x):
		return none
	case math.IsInf(x, 1):
		return "∞"
	case math.IsInf(x, -1):
		return minus + "∞"
	case math.Abs(x) >= largestPlain:
		return formatPower(x, max(decimals, 2))
	}
	text := round(x, decimals)
	whole, fraction, _ := strings.Cut(text, ".")
	if len(whole) > 4 {
		for i := len(whole) - 3; i > 0; i -= 3 {
			whole = whole[:i] + thinSpace + whole[i:]
		}
	}
	if fraction != "" {
		whole += "." + fraction
	}
	if x < 0 && strings.Trim(text, "0.") != "" { // a rounded zero has no sign
		return minus + whole
	}
	return whole
}

// formatPower returns x as a × 10ᵇ.
func formatPower(x float64, decimals int) string {
	digits, power := decimalDigits(math.Abs(x))
	kept, carried := roundDigits(digits, decimals+1)
	if carried {
		power++
	}
	mantissa := string(kept[:1])
	if decimals > 0 {
		mantissa += "." + string(kept[1:decimals+1])
	}
	if x < 0 {
		mantissa = minus + mantissa
	}
	raised := strings.Map(func(r rune) rune {
		if r == '-' {
			return '⁻'
		}
		return []rune("⁰¹²³⁴⁵⁶⁷⁸⁹")[r-'0']
	}, strconv.Itoa(power))
	return mantissa + " × 10" + raised
}

// FormatSmall is FormatNumber with more decimals where x would show fewer than so many
// digits, as 0.0004 with three decimals would of two.
func FormatSmall(x float64, decimals, digits int) string {
	needed, plain := decimalsForDigits(x, digits)
	if !plain {
		return formatPower(x, 2)
	}
	return FormatNumber(x, max(decimals, needed))
}

// decimalsForDigits returns how many decimals show so many digits of x that are not leading
// zeros; plain is false where it takes a power of ten.
func decimalsForDigits(x float64, digits int) (decimals int, plain bool) {
	if x == 0 || math.IsNaN(x) || math.IsInf(x, 0) {
		return 0, true
	}
	needed := digits - 1 - int(math.Floor(math.Log10(math.Abs(x))))
	return max(0, needed), needed <= 8
}

// FormatShortest returns x with the fewest digits that tell it from its
// neighbours, for what a person has entered.
func FormatShortest(x float64) string {
	if a := math.Abs(x); a != 0 && (a >= 1e15 || a < 1e-6) {
		return FormatNumberFull(x)
	}
	return FormatNumber(x, data.Decimals(x))
}

// FormatNumberFull returns all digits of x as programs read them, and "" for what
// does not exist.
func FormatNumberFull(x float64) string {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return ""
	}
	if a := math.Abs(x); a != 0 && (a >= 1e17 || a < 1e-5) {
		return strconv.FormatFloat(x, 'e', -1, 64)
	}
	return strconv.FormatFloat(x, 'f', -1, 64)
}

// FormatP returns a p-value with so many decimals, and as many more as it takes to see on
// which side of alpha it lies and that it is not zero: "< 0.0001" below that, or with a power
// of ten where alpha is as small.
func FormatP(p, alpha float64, decimals int) string {
	if math.IsNaN(p) {
		return FormatNumber(p, decimals)
	}
	decimals = pDecimals(p, decimals)
	least := math.Pow10(-max(decimals, DefaultPDecimals))
	switch {
	case p == 0 && alpha < least:
		return "<" + thinSpace + "10⁻³⁰⁰"
	case isBound(p, alpha, decimals):
		return "<" + thinSpace + FormatNumber(least, max(decimals, DefaultPDecimals))
	case p < least:
		digits := 2
		for formatPower(p, digits) == formatPower(alpha, digits) && p != alpha && digits < 16 {
			digits++
		}
		return formatPower(p, digits)
	}
	shown, _ := FormatApart(p, alpha, decimals)
	return shown
}

// isBound reports whether a p-value is shown as less than a bound, and not as itself.
func isBound(p, alpha float64, decimals int) bool {
	least := math.Pow10(-max(decimals, DefaultPDecimals))
	return p == 0 || p < least && alpha >= least
}

// PWords writes a p-value with its sign and four decimals: "p = 0.0514", "p < 0.0001".
func PWords(p, alpha float64) string {
	if isBound(p, alpha, DefaultPDecimals) {
		return "p " + FormatP(p, alpha, DefaultPDecimals)
	}
	return "p = " + FormatP(p, alpha, DefaultPDecimals)
}

// DefaultPDecimals is with how many decimals a p-value is shown when the problem does not say,
// and the most that it takes to see that it is not zero.
const DefaultPDecimals = 4

// pDecimals returns so many decimals, or as many more as it takes to see that a p-value is not
// zero.
func pDecimals(p float64, decimals int) int {
	for decimals < DefaultPDecimals && p < 0.5*math.Pow10(-decimals) {
		decimals++
	}
	return decimals
}

// FormatApart returns a and b with as many decimals, at least the given number,
// as it takes to see which is larger. Only equal numbers look equal.
func FormatApart(a, b float64, decimals int) (string, string) {
	d, apart := decimalsApart(a, b, decimals)
	if !apart {
		return formatPower(a, 16), formatPower(b, 16)
	}
	return FormatNumber(a, d), FormatNumber(b, max(decimals, min(d, data.Decimals(b))))
}

// decimalsApart returns with how many decimals, at least the given number, two numbers look
// as unequal as they are; false where none does.
func decimalsApart(a, b float64, decimals int) (int, bool) {
	for d := decimals; d < 17; d++ {
		if a == b || FormatNumber(a, d) != FormatNumber(b, d) {
			return d, true
		}
	}
	return 17, false
}

// SmallestDecimals returns how many decimals show a quantity of the given size,
// a standard error as a rule, with three digits: the default or more for small
// ones, fewer for thousands.
func SmallestDecimals(size float64) int {
	switch {
	case !(size > 0) || math.IsInf(size, 0):
		return DefaultDecimals
	case size >= 1e5:
		return 0
	case size >= 1e3:
		return 1
	}
	return min(12, max(DefaultDecimals, 2-int(math.Floor(math.Log10(size)))))
}

// FormatPercent returns a share as a percentage without the sign: 95 for 0.95.
func FormatPercent(share float64) string { return FormatShortest(roundTo(100*share, 12)) }
