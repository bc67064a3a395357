package working

import (
	"fmt"
	"slices"
	"strings"
)

// Text is a run of pieces: words, numbers that open, symbols.
type Text []Piece

// A Piece is words in a style, or the number that Ref names. A Piece with both
// opens the number and shows the words, as where only its size is of interest.
type Piece struct {
	Words string `json:"words,omitzero"`
	Style Style  `json:"style,omitzero"`
	Ref   Ref    `json:"ref,omitzero"`
}

// Style is how words are set.
type Style string

const (
	Roman    Style = ""
	Emphasis Style = "emphasis"
	Strong   Style = "strong"
	Symbol   Style = "symbol" // a variable of mathematics: italic, X_M with a subscript
)

// Textf returns the text that format describes. In the format @{id} is a number,
// *…* emphasis, **…** strong and $…$ a symbol. The arguments replace %s, %d and the
// like as fmt does and are taken as they are, whatever characters they hold; in
// @{%s} an argument is the number's id, in @{id|%s} the words shown for it.
func Textf(format string, args ...any) Text {
	var text Text
	next := 0
	style := Roman
	toggle := func(s Style) {
		if style == s {
			style = Roman
		} else {
			style = s
		}
	}
	words := func(s string) {
		if s == "" {
			return
		}
		if n := len(text); n > 0 && text[n-1].Ref == "" && text[n-1].Style == style {
			text[n-1].Words += s
			return
		}
		text = append(text, Piece{Words: s, Style: style})
	}
	for rest := format; rest != ""; {
		i := strings.IndexAny(rest, "@*$%")
		if i < 0 {
			words(rest)
			break
		}
		words(rest[:i])
		rest = rest[i:]
		switch {
		case strings.HasPrefix(rest, "@{"):
			id, after, _ := strings.Cut(rest[2:], "}")
			if id == "%s" {
				id = fmt.Sprint(args[next])
				next++
			}
			piece := Piece{Ref: Ref(id)}
			if name, shown := strings.CutSuffix(id, "|%s"); shown {
				if name == "%s" {
					name = fmt.Sprint(args[next])
					next++
				}
				piece = Piece{Ref: Ref(name), Words: fmt.Sprint(args[next])}
				next++
			}
			text = append(text, piece)
			rest = after
		case strings.HasPrefix(rest, "**"):
			toggle(Strong)
			rest = rest[2:]
		case rest[0] == '*':
			toggle(Emphasis)
			rest = rest[1:]
		case rest[0] == '$':
			toggle(Symbol)
			rest = rest[1:]
		case strings.HasPrefix(rest, "%%"):
			words("%")
			rest = rest[2:]
		case rest[0] == '%':
			verb := 1 + strings.IndexAny(rest[1:], "sdgv") + 1
			words(fmt.Sprintf(rest[:verb], args[next]))
			next++
			rest = rest[verb:]
		default:
			words(rest[:1])
			rest = rest[1:]
		}
	}
	return text
}

// Say returns a paragraph.
func Say(format string, args ...any) Prose { return Prose{Text: Textf(format, args...)} }

// Warn returns a paragraph about a misreading.
func Warn(format string, args ...any) Prose {
	return Prose{Tone: Caution, Text: Textf(format, args...)}
}

// Note returns a paragraph that is true and not needed to go on.
func Note(format string, args ...any) Prose { return Prose{Tone: Aside, Text: Textf(format, args...)} }

// Join returns the texts one after the other, words in one style as one piece.
func Join(texts ...Text) Text {
	var out Text
	for _, piece := range slices.Concat(texts...) {
		if n := len(out); n > 0 && piece.Ref == "" && out[n-1].Ref == "" && out[n-1].Style == piece.Style {
			out[n-1].Words += piece.Words
			continue
		}
		out = append(out, piece)
	}
	return out
}
