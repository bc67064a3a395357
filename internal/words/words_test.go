package words

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestCount(t *testing.T) {
	for want, c := range map[string]struct {
		n    int
		noun string
	}{
		"1 case": {1, "case"}, "0 cases": {0, "case"}, "12 cases": {12, "case"}, "1 category": {1, "category"},
		"2 categories": {2, "category"}, "4 classes": {4, "class"}, "1 class": {1, "class"}, "3 levels": {3, "level"},
	} {
		assert.Equal(t, want, Count(c.n, c.noun))
	}
}

func TestListed(t *testing.T) {
	assert.Equal(t, "Mole", Listed([]string{"Mole"}))
	assert.Equal(t, "Mole and Quarry", Listed([]string{"Mole", "Quarry"}))
	assert.Equal(t, "Mole, Quarry and Lantern", Listed([]string{"Mole", "Quarry", "Lantern"}))
}

// A label that is a symbol, an abbreviation or a single letter keeps its capitals.
func TestInSentence(t *testing.T) {
	for label, want := range map[string]string{
		"Loading time": "loading time", "loading time": "loading time", "CO₂": "CO₂", "X": "X", "": "", "pH": "pH", "Ölstand": "ölstand",
		"F statistic": "F statistic",
	} {
		assert.Equal(t, want, InSentence(label))
	}
}

func TestUpperFirst(t *testing.T) {
	for phrase, want := range map[string]string{"": "", "mean takings": "Mean takings", "ölstand": "Ölstand", "σ is known": "Σ is known",
		"3 cases": "3 cases"} {
		assert.Equal(t, want, UpperFirst(phrase))
	}
}

func TestWithUnit(t *testing.T) {
	assert.Equal(t, "12.4\u00a0min", WithUnit("12.4", "min"))
	assert.Equal(t, "12.4", WithUnit("12.4", ""))
}

func TestA(t *testing.T) {
	for noun, want := range map[string]string{"number": "a number", "identifier": "an identifier", "category": "a category", "": "a "} {
		assert.Equal(t, want, A(noun))
	}
}
