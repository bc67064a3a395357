// Package words writes what sentences are made of: counted nouns, lists and labels.
package words

import (
	"strconv"
	"strings"
	"unicode"
)

// Count returns a number with its noun: "1 case", "3 cases", "2 categories", "4 classes".
func Count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	switch {
	case strings.HasSuffix(noun, "y"):
		noun = strings.TrimSuffix(noun, "y") + "ies"
	case strings.HasSuffix(noun, "s"):
		noun += "es"
	default:
		noun += "s"
	}
	return strconv.Itoa(n) + " " + noun
}

// Listed joins names, one at least, to a phrase: "a", "a and b", "a, b and c".
func Listed(names []string) string {
	last := len(names) - 1
	if last == 0 {
		return names[0]
	}
	return strings.Join(names[:last], ", ") + " and " + names[last]
}

// InSentence writes a label as it stands inside a sentence: "Loading time" becomes "loading
// time", and "CO₂" stays.
func InSentence(label string) string {
	runes := []rune(label)
	if len(runes) > 1 && unicode.IsUpper(runes[0]) && unicode.IsLower(runes[1]) {
		runes[0] = unicode.ToLower(runes[0])
	}
	return string(runes)
}

// UpperFirst writes a phrase as a sentence begins.
func UpperFirst(phrase string) string {
	runes := []rune(phrase)
	if len(runes) > 0 {
		runes[0] = unicode.ToUpper(runes[0])
	}
	return string(runes)
}

// WithUnit writes a number with its unit, if it has one.
func WithUnit(number, unit string) string {
	if unit == "" {
		return number
	}
	return number + "\u00a0" + unit
}

// A returns a noun with its article: "a number", "an identifier".
func A(noun string) string {
	if noun != "" && strings.ContainsRune("aeiou", rune(noun[0])) {
		return "an " + noun
	}
	return "a " + noun
}

// Shorten cuts a text that is too long for a sentence, and puts it on one line.
func Shorten(text string) string {
	const most = 60
	text = strings.Join(strings.Fields(text), " ")
	if runes := []rune(text); len(runes) > most {
		return string(runes[:most]) + "…"
	}
	return text
}

// Quoted returns the first of the items, in quotation marks, as a phrase: “a”, “b” or “c”.
func Quoted(items []string, conjunction string) string {
	const most = 8
	quoted := make([]string, 0, len(items))
	for i, item := range items {
		if i == most {
			quoted = append(quoted, strconv.Itoa(len(items)-most)+" others")
			break
		}
		quoted = append(quoted, "“"+Shorten(item)+"”")
	}
	if len(quoted) < 2 {
		return strings.Join(quoted, "")
	}
	last := len(quoted) - 1
	return strings.Join(quoted[:last], ", ") + " " + conjunction + " " + quoted[last]
}
