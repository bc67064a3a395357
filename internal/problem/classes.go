package problem

import (
	"fmt"
	"math"
	"regexp"
	"strings"

	"grund/internal/data"
)

// classRange is a class as people write it: "0–60", "0 to 60".
var classRange = regexp.MustCompile(`^\s*(.+?)\s*(?:–|—|\bto\b)\s*(.+?)\s*$`)

// className writes a class as it is read back.
func className(low, high float64) string {
	return data.FormatNumber(low) + " to " + data.FormatNumber(high)
}

// readRange reads a class.
func readRange(text string) (low, high float64, ok bool) {
	// A hyphen between two numbers parts them; one before a number is its sign.
	for i, r := range text {
		if r == '-' && strings.TrimSpace(text[:i]) != "" && !strings.HasSuffix(strings.TrimSpace(text[:i]), "-") {
			text = text[:i] + "–" + text[i+1:]
			break
		}
	}
	parts := classRange.FindStringSubmatch(text)
	if parts == nil {
		return 0, 0, false
	}
	low, _, errLow := data.Style{}.Parse(parts[1])
	high, _, errHigh := data.Style{}.Parse(parts[2])
	return low, high, errLow == nil && errHigh == nil && high >= low
}

// classBoundaries returns the boundaries of classes that are written as ranges; ok is false
// where the labels are no ranges. Ranges that leave a gap or overlap are a mistake that
// says what would be right.
func classBoundaries(labels []string) (boundaries []float64, ok bool, mistake *data.Mistake) {
	if len(labels) < 2 {
		return nil, false, nil
	}
	for i, label := range labels {
		low, high, isRange := readRange(label)
		if !isRange {
			return nil, false, nil
		}
		if i == 0 {
			boundaries = append(boundaries, low)
		}
		if last := boundaries[len(boundaries)-1]; low != last && mistake == nil {
			says, instead := fmt.Sprintf("“%s” begins below the end of “%s”", label, labels[i-1]), "let each class begin where the one before ends"
			if low > last {
				says = fmt.Sprintf("between “%s” and “%s” lies a gap from %s to %s", labels[i-1], label, data.FormatNumber(last),
					data.FormatNumber(low))
				instead = fmt.Sprintf("write where one class ends and the next begins, as %s and %s", className(boundaries[len(boundaries)-2], low),
					className(low, math.Max(high, low)))
			}
			mistake = &data.Mistake{Column: 0, Case: i, Says: says, Instead: instead}
		}
		boundaries = append(boundaries, high)
	}
	return boundaries, true, mistake
}
