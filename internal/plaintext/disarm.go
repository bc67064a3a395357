package plaintext

import (
	"regexp"
	"strings"
)

// armed reports whether a program that opens delimited text might run a cell as a formula, or would
// if an apostrophe less stood before it.
func armed(cell string) bool {
	cell = strings.TrimLeft(cell, "'")
	return len(cell) > 1 && strings.IndexByte("=+-@\t\r", cell[0]) >= 0
}

// plainDigits matches a number that every program takes for one.
var plainDigits = regexp.MustCompile(`^[+-][0-9]+([.,][0-9]+)?([eE][+-]?[0-9]+)?$`)

// Disarmed returns a cell that no program runs: an apostrophe before it makes it a text. Numbers stay
// as they are.
func Disarmed(cell string) string {
	if !armed(cell) || plainDigits.MatchString(cell) {
		return cell
	}
	return "'" + cell
}

// Rearmed returns the cell that was disarmed.
func Rearmed(cell string) string {
	if strings.HasPrefix(cell, "'") && armed(cell) {
		return cell[1:]
	}
	return cell
}
