package answer

import (
	"regexp"
	"slices"
	"strings"
	"unicode"

	"grund/internal/problem"
)

// askOwn is the conclusion in the student's own words.
const askOwn = "own_conclusion"

// An Underlined is what a grader would underline in a sentence.
type Underlined struct {
	ID      string `json:"id"`
	Words   string `json:"words"`   // as they stand in the sentence; "" where something is missing
	Instead string `json:"instead"` // what to write
}

// A sentence is one of the student's own about the conclusion, with what it must go with.
type sentence struct {
	text    string // in small letters, with plain apostrophes and without contractions
	rejects bool   // the decision
	// says is how the first of what is compared stands to the second where that is known, Open elsewhere.
	says  problem.Statement
	of    []string // what is compared
	names []string // of variables, groups and categories
}

// A reading is a rule by which sentences are read.
type reading struct {
	id      string
	instead string
	// finds returns the words to be underlined; ok with none where something is missing.
	finds func(s *sentence) (words string, ok bool)
}

// readings are all the rules, in the order in which what they find is named.
var readings = []reading{
	{"no_direction_of_decision", "Say whether the data are evidence for H₁ or not.", func(s *sentence) (string, bool) {
		decided, _ := s.decides()
		return "", decided == ""
	}},
	{"contradicts_decision", "Say the same as the decision: look at it again.", func(s *sentence) (string, bool) {
		stated, words := s.decides()
		return words, stated != "" && stated != decided(s.rejects)
	}},
	{"wrong_direction", "Look again at which of them is the larger one, and which H₁ says is.", (*sentence).wrongDirection},
	{"accepts", "Say that the data are no evidence against H₀; that does not make it true.", func(s *sentence) (string, bool) {
		return s.first(acceptsH0, hedged)
	}},
	{"proves", "Say “the data are evidence that”: a sample proves nothing.", func(s *sentence) (string, bool) {
		return s.first(proves, hedged)
	}},
	{"chance", "p is worked out as if H₀ were true, so it is not how probable H₀ or H₁ is: leave it at “p = …”.",
		func(s *sentence) (string, bool) { return s.first(chance, conditional) }},
	{"no_context", "Name what was measured and the groups it is about.", func(s *sentence) (string, bool) { return "", !s.named() }},
	{"no_uncertainty", "Say at which level: “at α = …”, or give p.", func(s *sentence) (string, bool) {
		return "", !uncertain.MatchString(s.text)
	}},
}

// plain makes a typed sentence one for the rules.
var plain = strings.NewReplacer("’", "'", "‘", "'", "\u00a0", " ", "\u202f", " ", "₀", "0", "₁", "1", "ₐ", "a")

// contractions are written out, so that each rule is written once.
var contractions = strings.NewReplacer("can't", "cannot", "can not", "cannot", "won't", "will not", "n't", " not", "there's", "there is",
	"it's", "it is")

// readThrough reads the student's own conclusion.
func (j *judge) readThrough(a Answer) Verdict {
	s := j.sentence(a.Text)
	if len(strings.FieldsFunc(s.text, func(r rune) bool { return !unicode.IsLetter(r) })) < 3 {
		return Verdict{Verdict: Unreadable, Says: "Write a sentence: what the data show about the question, and at which level."}
	}
	verdict := Verdict{Verdict: ReadThrough, Says: "Nothing in it would be underlined."}
	for _, rule := range readings {
		if words, ok := rule.finds(s); ok {
			verdict.Found = append(verdict.Found, Underlined{ID: rule.id, Words: asTyped(a.Text, words), Instead: rule.instead})
		}
	}
	if len(verdict.Found) > 0 {
		verdict.Says = "A grader would underline something in it."
	}
	return verdict
}

// sentence prepares what was typed, and what it must go with.
func (j *judge) sentence(typed string) *sentence {
	s := &sentence{
		text: contractions.Replace(strings.ToLower(strings.Join(strings.Fields(plain.Replace(typed)), " "))), rejects: j.solution.Decision.Reject,
		says: problem.Open,
	}
	if f := j.solution.Finding; f != nil {
		s.says, s.of = f.Says, f.Compared.Of
	}
	s.names = append(s.names, s.of...)
	d := j.problem.Data
	for _, names := range j.problem.Roles {
		for _, name := range names {
			s.names = append(s.names, name)
			if v := d.Variables.Find(name); v != nil {
				s.names = append(s.names, v.Title())
				for _, level := range v.Levels {
					s.names = append(s.names, level.Name)
				}
			}
		}
	}
	if c := d.Counts; c != nil {
		s.names = append(append(append(s.names, c.Rows...), c.Columns...), c.Categories...)
	}
	if d.Summary != nil {
		for _, g := range d.Summary.Groups {
			s.names = append(s.names, g.Label)
		}
	}
	return s
}

// decides returns the decision that the sentence states, with the words that do; "" where there is none.
func (s *sentence) decides() (decision, words string) {
	if words := notRejected.FindString(s.text); words != "" {
		return doNotReject, words
	}
	if words, ok := s.first(acceptsH0, hedged); ok {
		return doNotReject, words
	}
	for _, states := range []*regexp.Regexp{rejected, differs, greater, smaller} {
		at := states.FindStringIndex(s.text)
		if at == nil {
			continue
		}
		if denied.MatchString(s.text[clauseStart(s.text, at[0]):at[0]]) {
			return doNotReject, s.text[at[0]:at[1]]
		}
		return reject, s.text[at[0]:at[1]]
	}
	return "", ""
}

// first returns the first words that a pattern matches and that nothing near takes back: before a statement in its own
// clause, or, of a probability, in the words themselves.
func (s *sentence) first(patterns []*regexp.Regexp, unless *regexp.Regexp) (words string, ok bool) {
	for _, pattern := range patterns {
		for _, at := range pattern.FindAllStringIndex(s.text, -1) {
			words := s.text[at[0]:at[1]]
			near := s.text[clauseStart(s.text, at[0]):at[0]]
			if unless == conditional {
				near = words
			}
			if !unless.MatchString(near) {
				return words, true
			}
		}
	}
	return "", false
}

// clauseStart returns where the clause that holds a place begins.
func clauseStart(text string, at int) int {
	return strings.LastIndexAny(text[:at], ".;:,") + 1
}

// wrongDirection finds a word for the opposite of what was found.
func (s *sentence) wrongDirection() (words string, ok bool) {
	larger := s.says == problem.Larger
	if !larger && s.says != problem.Smaller {
		return "", false
	}
	up, down := greater.FindStringIndex(s.text), smaller.FindStringIndex(s.text)
	if (up == nil) == (down == nil) { // both ways, or none
		return "", false
	}
	at, rises := up, true
	if up == nil {
		at, rises = down, false
	}
	if len(s.of) == 2 && s.secondIsSubject(at) {
		rises = !rises
	}
	return s.text[at[0]:at[1]], rises != larger
}

// secondIsSubject reports whether it is the second of what is compared of which the word at a place is said.
func (s *sentence) secondIsSubject(at []int) bool {
	first, second := nearest(s.text, s.of[0], at), nearest(s.text, s.of[1], at)
	switch {
	case second < 0:
		return first > 0 && strings.Contains(s.text[at[1]:max(at[1], first)], "than") // “lower than at the first”
	case first < 0:
		return !strings.Contains(s.text[at[1]:max(at[1], second)], "than")
	}
	return second < first
}

// nearest returns where a name stands, −1 where it does not: in the clause of the word if it can.
func nearest(text, name string, at []int) int {
	from := clauseStart(text, at[0])
	for _, word := range wordsOf(name) {
		if i := indexWord(text[from:], word); i >= 0 {
			return from + i
		}
		if i := indexWord(text, word); i >= 0 {
			return i
		}
	}
	return -1
}

// named reports whether the sentence names a variable, a group or a category.
func (s *sentence) named() bool {
	return slices.ContainsFunc(s.names, func(name string) bool {
		return slices.ContainsFunc(wordsOf(name), func(word string) bool { return indexWord(s.text, word) >= 0 })
	})
}

// wordsOf returns the words of a name that say something, without their endings.
func wordsOf(name string) []string {
	var words []string
	for _, word := range strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
		if slices.Contains(emptyWords, word) {
			continue
		}
		if letters := []rune(word); len(letters) > 5 {
			word = string(letters[:len(letters)-2]) // loading, loaded; crossings, crossing
		}
		words = append(words, word)
	}
	return words
}

// indexWord returns where a word begins with the given letters, −1 where none does. A name of one or two letters is the
// whole word.
func indexWord(text, word string) int {
	for from := 0; ; {
		i := strings.Index(text[from:], word)
		if i < 0 {
			return -1
		}
		i += from
		before, after := lastRune(text[:i]), firstRune(text[i+len(word):])
		if !unicode.IsLetter(before) && (len(word) > 2 || !unicode.IsLetter(after)) {
			return i
		}
		from = i + len(word)
	}
}

func firstRune(text string) rune {
	for _, r := range text {
		return r
	}
	return ' '
}

func lastRune(text string) rune {
	last := ' '
	for _, r := range text {
		last = r
	}
	return last
}

// asTyped returns the words in the letters in which they were typed, where they can be found again.
func asTyped(typed, words string) string {
	typed = strings.Join(strings.Fields(plain.Replace(typed)), " ")
	if i := strings.Index(strings.ToLower(typed), words); i >= 0 && words != "" && i+len(words) <= len(typed) {
		return typed[i : i+len(words)]
	}
	return words
}
