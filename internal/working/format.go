package working

import (
	"math"
	"strconv"
	"strings"
)

// DefaultDecimals is how many decimals a solution shows when the problem does not say.
const DefaultDecimals = 3

const (
	minus     = "−"
	thinSpace = "\u202f" // narrow and without a break
)

// FormatNumber returns x with the given decimals, a real minus sign and thin
// spaces between thousands from 10 000 on. Numbers of 1e15 and more are written
// with a power of ten.
func FormatNumber(x float64, decimals int) string {
	switch {
	case math.IsNaN(x):
		return "–"
	case math.IsInf(x, 1):
		return "∞"
	case math.IsInf(x, -1):
		return minus + "∞"
	case math.Abs(x) >= 1e15:
		return formatPower(x, max(decimals, 2))
	}
	text := strconv.FormatFloat(math.Abs(x), 'f', decimals, 64)
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
	mantissa, exponent, _ := strings.Cut(strconv.FormatFloat(x, 'e', decimals, 64), "e")
	power, _ := strconv.Atoi(exponent)
	raised := strings.Map(func(r rune) rune {
		if r == '-' {
			return '⁻'
		}
		return []rune("⁰¹²³⁴⁵⁶⁷⁸⁹")[r-'0']
	}, strconv.Itoa(power))
	return strings.Replace(mantissa, "-", minus, 1) + " × 10" + raised
}

// FormatSmall is FormatNumber with more decimals where x would show fewer than
// two digits, as 0.0004 with three decimals would.
func FormatSmall(x float64, decimals int) string {
	if x == 0 || math.IsNaN(x) || math.IsInf(x, 0) {
		return FormatNumber(x, decimals)
	}
	needed := 1 - int(math.Floor(math.Log10(math.Abs(x))))
	if needed > 8 {
		return formatPower(x, 2)
	}
	return FormatNumber(x, max(decimals, needed))
}

// FormatShortest returns x with the fewest digits that tell it from its
// neighbours, for what a person has entered.
func FormatShortest(x float64) string {
	if a := math.Abs(x); a != 0 && (a >= 1e15 || a < 1e-6) {
		return FormatNumberFull(x)
	}
	return FormatNumber(x, decimalsOf(x))
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

// decimalsOf returns how many decimals x was most likely written with.
func decimalsOf(x float64) int {
	// Few decimals are the rule, and found without writing the number out.
	for d, power := 0, 1.0; d <= 6 && math.Abs(x) < 1e9; d, power = d+1, power*10 {
		if math.Round(x*power)/power == x {
			return d
		}
	}
	_, fraction, _ := strings.Cut(strconv.FormatFloat(x, 'f', -1, 64), ".")
	return len(fraction)
}

// DecimalsOf returns the most decimals that any of the values was written with,
// at most limit.
func DecimalsOf(values []float64, limit int) int {
	most := 0
	for _, x := range values {
		if most >= limit {
			return limit
		}
		if !math.IsNaN(x) {
			most = max(most, decimalsOf(x))
		}
	}
	return min(most, limit)
}

// FormatP returns a p-value with at least four decimals: "< 0.0001" below that, or
// with a power of ten where alpha is as small, and as many digits more as it takes
// to see on which side of alpha it lies. It is never shown as zero.
func FormatP(p, alpha float64, decimals int) string {
	decimals = max(decimals, 4)
	if math.IsNaN(p) {
		return FormatNumber(p, decimals)
	}
	least := math.Pow10(-decimals)
	switch {
	case p < least && alpha >= least:
		return "<" + thinSpace + FormatNumber(least, decimals)
	case p == 0:
		return "<" + thinSpace + "10⁻³⁰⁰"
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

// FormatApart returns a and b with as many decimals, at least the given number,
// as it takes to see which is larger. Only equal numbers look equal.
func FormatApart(a, b float64, decimals int) (string, string) {
	for d := decimals; d < 17; d++ {
		x, y := FormatNumber(a, d), FormatNumber(b, d)
		if x != y || a == b {
			return x, FormatNumber(b, max(decimals, min(d, decimalsOf(b))))
		}
	}
	return formatPower(a, 16), formatPower(b, 16)
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
