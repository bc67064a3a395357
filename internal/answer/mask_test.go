package answer

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/mask"
	"grund/internal/problem"
	"grund/internal/working"
)

// longNumber is a number that does not come up by chance.
var longNumber = regexp.MustCompile(`\d\.\d{8,}`)

// shortNumber is one whose shown digits hardly come up by chance.
var shortNumber = regexp.MustCompile(`[1-9]\d*\.\d{2,}|0\.0*[1-9]\d{2,}`)

// earningAt is what a person has earned who answered all asks before one rightly, but for one that may have been skipped
// or answered wrongly.
func earningAt(asks []Ask, at, wrong int) mask.Earning {
	e := mask.Earning{Open: asks[at].Step, Asked: map[working.Ref]mask.Asked{}}
	for i, a := range asks {
		e.Asked[working.Ref(a.ID)] = mask.Asked{Step: a.Step, Earned: i < at && i != wrong}
	}
	return e
}

// Nothing that leaves tells what was not earned, in any problem and at any stage: not the number, nor its shown digits,
// in JSON or in markdown. Every number that a part of it names is there.
func TestMask(t *testing.T) {
	seen := map[string]int{}
	for _, r := range references(t) {
		seen[r.problem.Procedure]++
		if seen[r.problem.Procedure]%3 != 1 { // a third of them, of each procedure
			continue
		}
		j, err := newJudge(t.Context(), r.problem)
		var mistakes problem.Errors
		if errors.As(err, &mistakes) {
			continue
		}
		require.NoError(t, err, r.name)
		asks := j.asks()
		given, err := json.Marshal(r.problem)
		require.NoError(t, err)
		for at := range asks {
			for _, wrong := range []int{-1, at / 2} {
				e := earningAt(asks, at, wrong)
				checkMask(t, fmt.Sprintf("%s (%s) at %s without %d", r.name, r.problem.Procedure, asks[at].ID, wrong), j, e, string(given))
			}
		}
	}
}

func checkMask(t *testing.T, name string, j *judge, e mask.Earning, given string) {
	t.Helper()
	part := mask.Earned(j.solution, e)
	for _, f := range part.Figures { // the cases themselves are given, and what is left of them is looked at to judge conditions
		f.Marks = slices.DeleteFunc(slices.Clone(f.Marks), func(m working.Mark) bool { return m.Shape == working.Points && len(m.Case) > 0 })
	}
	text, err := json.Marshal(part)
	require.NoError(t, err)
	leaves := string(text) + working.Markdown(part, "")
	known, words := given, wordsIn(t, text)
	sizes := map[float64]bool{}
	for _, q := range part.Quantities {
		known += " " + q.Display + " " + q.Full
		sizes[math.Abs(float64(q.Value))] = true
		if asked, is := e.Asked[q.ID]; is {
			assert.True(t, asked.Earned, "%s: %s is there", name, q.ID)
		}
	}
	for _, step := range part.Steps {
		for _, piece := range step.Result {
			assert.True(t, piece.Ref == "" || part.Quantity(piece.Ref) != nil, "%s: %s is named by %s", name, piece.Ref, step.ID)
		}
	}
	for ref, asked := range e.Asked {
		if x, _, ok := j.solution.Cell(ref); ok && asked.Earned {
			known += " " + j.solution.ShownCell(ref)
			sizes[math.Abs(float64(x))] = true
		}
	}
	for ref, asked := range e.Asked {
		n, is := j.number(ref)
		if asked.Earned || !is || sizes[math.Abs(n.value)] {
			continue
		}
		written, err := json.Marshal(working.Number(math.Abs(n.value)))
		require.NoError(t, err)
		if longNumber.Match(written) {
			assert.False(t, strings.Contains(leaves, string(written)), "%s: the value of %s is told: %s", name, ref, around(leaves, string(written)))
		}
		shown := j.solution.ShownCell(ref)
		if q := j.solution.Quantity(ref); q != nil {
			shown = q.Display
		}
		if shown = strings.TrimLeft(shown, "−"); shortNumber.MatchString(shown) && !strings.Contains(known, shown) {
			told := regexp.MustCompile(`(^|[^\d.\x{202f}])` + regexp.QuoteMeta(shown) + `($|\D)`).MatchString(words)
			assert.False(t, told, "%s: %s = %s is told: %s", name, ref, shown, around(words, shown))
		}
	}
}

// What is given to who has worked nothing yet is there for every problem, and tells nothing that a step after the question asks.
func TestGiven(t *testing.T) {
	for _, r := range references(t) {
		a, err := NewAttempt(t.Context(), r.problem)
		var mistakes problem.Errors
		if errors.As(err, &mistakes) {
			continue
		}
		require.NoError(t, err, r.name)
		given, step := a.Given()
		require.NotNil(t, step, "%s: no step of the data", r.name)
		tables := 0
		for _, block := range step.Blocks {
			switch b := block.(type) {
			case working.TableBlock:
				tables++
				require.NotNil(t, given.Table(b.Table), "%s: table %s", r.name, b.Table)
			case working.FormulaBlock:
				assert.Fail(t, "a formula is given", "%s: %s", r.name, b.Quantity)
			}
		}
		if len(r.problem.Data.Variables) > 0 {
			assert.Positive(t, tables, "%s: its cases are not given", r.name)
		}
		for _, ask := range a.Asks() {
			if q := given.Quantity(working.Ref(ask.ID)); ask.Step != working.Question {
				assert.Nil(t, q, "%s: %s is told", r.name, ask.ID)
			}
		}
	}
}

// around returns a text about a place in it, for a message.
func around(text, what string) string {
	i := max(0, strings.Index(text, what))
	return strings.ReplaceAll(text[max(0, i-110):min(len(text), i+len(what)+30)], "\n", " ")
}

// wordsIn returns the texts of a solution, without the numbers that cells show: those stand beside as they are.
func wordsIn(t *testing.T, solution []byte) string {
	t.Helper()
	var tree any
	require.NoError(t, json.Unmarshal(solution, &tree))
	var b strings.Builder
	var walk func(value any)
	walk = func(value any) {
		switch v := value.(type) {
		case string:
			b.WriteString(v + "\n")
		case []any:
			for _, each := range v {
				walk(each)
			}
		case map[string]any:
			for key, each := range v {
				if key != "shown" {
					walk(each)
				}
			}
		}
	}
	walk(tree)
	return b.String()
}
