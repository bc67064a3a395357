package data

import (
	"math"
	"strconv"
	"strings"
)

// MaxDecimals is the most with which single values are shown.
const MaxDecimals = 6

// Decimals returns how many decimals x was most likely written with.
func Decimals(x float64) int {
	// Few decimals are the rule, and found without writing the number out.
	for d, power := 0, 1.0; d <= MaxDecimals && math.Abs(x) < 1e9; d, power = d+1, power*10 {
		if math.Round(x*power)/power == x {
			return d
		}
	}
	_, fraction, _ := strings.Cut(strconv.FormatFloat(x, 'f', -1, 64), ".")
	return len(fraction)
}

// MostDecimals returns the most decimals that any of the values was written with, at most
// MaxDecimals.
func MostDecimals(values []float64) int {
	most := 0
	for _, x := range values {
		if most >= MaxDecimals {
			return MaxDecimals
		}
		if !math.IsNaN(x) {
			most = max(most, Decimals(x))
		}
	}
	return min(most, MaxDecimals)
}
