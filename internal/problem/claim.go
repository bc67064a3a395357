package problem

import (
	"slices"
	"strings"

	"grund/internal/words"
)

// A Claim is what somebody holds to be so. In a file Is may stand in the place of Says, as
// older files have it; a problem that was checked has Says.
type Claim struct {
	Text       string    `json:"text"`
	Population string    `json:"population,omitzero"`
	Says       Statement `json:"says,omitzero"`
	Is         Side      `json:"is,omitzero"`
}

// Quoted returns the claim as it stands between quotation marks in a sentence.
func (c *Claim) Quoted() string { return strings.TrimSuffix(strings.TrimSpace(c.Text), ".") }

// Statement is what a claim states of the thing that is tested: of first − second, of a mean
// beside its hypothesised value, of a slope.
type Statement string

const (
	Equal     Statement = "equal"
	AtMost    Statement = "at_most"
	AtLeast   Statement = "at_least"
	Different Statement = "different"
	Larger    Statement = "larger"
	Smaller   Statement = "smaller"
	Open      Statement = "open" // more than the test can weigh
)

var statements = []Statement{Equal, AtMost, AtLeast, Different, Larger, Smaller, Open}

// HoldsEquality reports whether the statement is one that H₀ could make.
func (s Statement) HoldsEquality() bool { return s == Equal || s == AtMost || s == AtLeast }

// Directed reports whether the statement names a side.
func (s Statement) Directed() bool { return s != Equal && s != Different && s != Open }

// Tail returns the tail of the H₁ that belongs to the statement: the statement itself, or its
// opposite where it holds the equality.
func (s Statement) Tail() Tail {
	switch s {
	case Larger, AtMost:
		return Right
	case Smaller, AtLeast:
		return Left
	}
	return Both
}

// Side says which hypothesis a claim is.
type Side string

const (
	H0 Side = "h0"
	H1 Side = "h1"
)

// statement returns what a claim that is one of the hypotheses states. That H₁ of two tails is a
// claim of its own is more than “different” says: such a claim may name a direction in its words.
func (s Side) statement(tail Tail) Statement {
	switch {
	case s == H0:
		return tail.Null()
	case tail == Both:
		return Open
	}
	return tail.Alternative()
}

// check notes what is wrong with the claim, and turns Is into Says.
func (c *Claim) check(tail Tail, errs *Errors) {
	if strings.TrimSpace(c.Text) == "" {
		errs.Add("/claim/text", "the claim has no words", "write what is claimed, or leave the claim out")
	}
	const choices = "write “equal”, “at_most”, “at_least”, “different”, “larger”, “smaller” or “open”"
	switch {
	case c.Says != "" && c.Is != "":
		errs.Add("/claim/is", "both “says” and “is” are given", "keep “says”")
	case c.Says == "" && c.Is == "":
		errs.Add("/claim/says", "it is not said what the claim states", choices)
	case c.Says != "" && !slices.Contains(statements, c.Says):
		errs.Add("/claim/says", "says is “"+words.Shorten(string(c.Says))+"”", choices)
	case c.Is != "" && c.Is != H0 && c.Is != H1:
		errs.Add("/claim/is", "is is “"+words.Shorten(string(c.Is))+"”", "it must be “h0” or “h1”")
	case c.Is != "":
		c.Says, c.Is = c.Is.statement(tail), ""
	}
}
