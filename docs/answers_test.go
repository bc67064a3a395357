package docs

import (
	"maps"
	"slices"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/answer"
	"grund/internal/problem"
)

// typings are answered to every number: right as it stands, off by a little and by a lot, and what cannot be read.
var typings = []string{"1", "0.5", "−2.04", "0,05", "1.96", "12", "3/7", "?", "0.05 < p < 0.10", "100"}

// What every example asks, an answer file to all of it and the verdicts satisfy the schemas; so does what is refused not.
func TestAnswersSatisfyTheSchemas(t *testing.T) {
	asksOf, answersOf, verdictsOf := compile(t, "asks.schema.json"), compile(t, "answers.schema.json"), compile(t, "verdicts.schema.json")
	all := examples(t)
	kinds := map[string]bool{}
	for at, name := range slices.Sorted(maps.Keys(all)) {
		if at%5 != 0 { // a fifth of them, of all procedures
			continue
		}
		p, err := problem.Parse(all[name])
		require.NoError(t, err, name)
		asks, err := answer.Asks(t.Context(), p)
		if err != nil {
			continue // it cannot be worked
		}
		text, err := json.Marshal(asks)
		require.NoError(t, err)
		require.NoError(t, validate(t, asksOf, text), name)
		typed := map[string]string{}
		for i, a := range asks.Asks {
			switch a.Kind {
			case "choice":
				typed[a.ID] = a.Choices[i%len(a.Choices)].Value
			case "sentence":
				typed[a.ID] = "We accept H0, it is proved at the 5% level."
			default:
				typed[a.ID] = typings[i%len(typings)]
			}
		}
		file, err := json.Marshal(map[string]any{"grund": 1, "answers": typed})
		require.NoError(t, err)
		require.NoError(t, validate(t, answersOf, file), name)
		answers, err := answer.Parse(file)
		require.NoError(t, err)
		verdicts, err := answer.Check(t.Context(), p, answers)
		require.NoError(t, err, name)
		for _, v := range verdicts.Verdicts {
			kinds[v.Verdict] = true
		}
		text, err = json.Marshal(verdicts)
		require.NoError(t, err)
		require.NoError(t, validate(t, verdictsOf, text), "%s: %s", name, text)
	}
	for _, kind := range []string{"right", "wrong", "slip", "unreadable", "read"} {
		assert.True(t, kinds[kind], kind)
	}
	for _, refused := range []string{
		`{"grund":2,"answers":{}}`, `{"grund":1}`, `{"grund":1,"answers":[]}`, `{"grund":1,"answers":{"t":true}}`,
		`{"grund":1,"answers":{"t":["1"]}}`,
	} {
		assert.Error(t, validate(t, answersOf, []byte(refused)), refused)
		_, err := answer.Parse([]byte(refused))
		assert.Error(t, err, refused)
	}
}
