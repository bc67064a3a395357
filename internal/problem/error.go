package problem

import (
	"errors"
	"fmt"
	"strings"
	"unicode"
)

// Error is one thing in a problem file that a person can mend.
type Error struct {
	Pointer string `json:"pointer"`          // RFC 6901, into the problem file
	Says    string `json:"says"`             // what is wrong
	Instead string `json:"instead,omitzero"` // what would be right
}

func (e Error) Error() string {
	text := e.Says
	if e.Pointer != "" {
		text = strings.Map(printable, e.Pointer) + ": " + text
	}
	if e.Instead != "" {
		text += "; " + e.Instead
	}
	return text
}

// printable keeps an error on one line, whatever a field is called.
func printable(r rune) rune {
	if unicode.IsPrint(r) {
		return r
	}
	return unicode.ReplacementChar
}

// Errors are all the mistakes that were found, the first one first. It is never
// empty where it is returned as an error.
type Errors []Error

func (e Errors) Error() string { return e[0].Error() }

// Add notes a mistake.
func (e *Errors) Add(pointer, says, instead string) {
	*e = append(*e, Error{pointer, says, instead})
}

// mostErrors is how many mistakes are told at once: who mended so many asks again.
const mostErrors = 100

// few returns the first mistakes.
func (e Errors) few() Errors { return e[:min(len(e), mostErrors)] }

// Err returns the mistakes as an error, nil if there are none.
func (e Errors) Err() error {
	if len(e) == 0 {
		return nil
	}
	return e
}

// Under returns the mistakes as they are told of a document in which the problem file is a field.
func (e Errors) Under(field string) Errors {
	out := make(Errors, len(e))
	for i, mistake := range e {
		mistake.Pointer = Pointer(field) + mistake.Pointer
		out[i] = mistake
	}
	return out
}

// Pointer returns the JSON pointer with the given steps.
func Pointer(steps ...any) string {
	var b strings.Builder
	for _, step := range steps {
		b.WriteString("/" + pointerEscaper.Replace(fmt.Sprint(step)))
	}
	return b.String()
}

var pointerEscaper = strings.NewReplacer("~", "~0", "/", "~1")

// Nearest returns the known name that a mistyped one most likely meant, or "".
func Nearest(name string, known []string) string {
	best, least := "", 1+min(2, len([]rune(name))/2) // two slips, or half of a short name
	for _, candidate := range known {
		if d := editDistance(strings.ToLower(name), strings.ToLower(candidate), least); d < least {
			best, least = candidate, d
		}
	}
	return best
}

// editDistance is Levenshtein's distance, cut off at limit.
func editDistance(a, b string, limit int) int {
	x, y := []rune(a), []rune(b)
	if max(len(x)-len(y), len(y)-len(x)) >= limit {
		return limit
	}
	row := make([]int, len(y)+1)
	for j := range row {
		row[j] = j
	}
	for i := range x {
		diagonal := row[0]
		row[0] = i + 1
		for j := range y {
			cost := 1
			if x[i] == y[j] {
				cost = 0
			}
			diagonal, row[j+1] = row[j+1], min(row[j+1]+1, row[j]+1, diagonal+cost)
		}
	}
	return row[len(y)]
}

// Under puts what is wrong under a place; another error is returned as it is.
func Under(err error, steps ...any) error {
	wrong, is := errors.AsType[Errors](err)
	if !is {
		return err
	}
	out := make(Errors, len(wrong))
	for i, mistake := range wrong {
		mistake.Pointer = Pointer(steps...) + mistake.Pointer
		out[i] = mistake
	}
	return out
}
