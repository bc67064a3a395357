package problem

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/words"
)

const whole = `{
  "grund": 1, "title": "Two berths", "question": "Is it so?",
  "claim": {"text": "No difference.", "population": "all loadings", "is": "h0"},
  "procedure": "t-two-sample", "alpha": 0.01, "confidence": 0.9, "tail": "left",
  "data": {"variables": [
    {"name": "berth", "label": "Berth", "kind": "category", "levels": [2, "1", 3],
     "level_names": {"1": "Mole", "2": "Quarry"}, "values": [1, "2", 2.0, null]},
    {"kind": "number", "values": [12.1, null, -1e3, 0.5], "name": "minutes", "unit": "min"}]},
  "leave_out": [{"case": 3, "reason": "clock stopped"}],
  "roles": {"response": "minutes", "group": ["berth"]},
  "options": {"variances": "equal"}, "decimals": 2
}`

func TestParse(t *testing.T) {
	p, err := Parse([]byte(whole))
	require.NoError(t, err)
	assert.Equal(t, Left, p.Tail)
	assert.Equal(t, 0.9, p.ConfidenceLevel())
	assert.Equal(t, Roles{"response": {"minutes"}, "group": {"berth"}}, p.Roles)
	assert.Equal(t, map[int]bool{2: true}, p.LeftOutCases())

	berth, minutes := p.Data.Variables[0], p.Data.Variables[1]
	assert.Equal(t, []data.Level{{Code: "2", Name: "Quarry"}, {Code: "1", Name: "Mole"}, {Code: "3", Name: "3"}}, berth.Levels)
	assert.Equal(t, []int{1, 0, 0, -1}, berth.Codes, `1 and "1" are one code, and 2 and 2.0`)
	assert.Equal(t, []float64{12.1, -1000, 0.5}, []float64{minutes.Numbers[0], minutes.Numbers[2], minutes.Numbers[3]})
	assert.True(t, minutes.Missing(1) && math.IsNaN(minutes.Numbers[1]))
}

func TestDefaults(t *testing.T) {
	p, err := Parse([]byte(`{"grund":1,"procedure":"x","data":{"summary":{"groups":[{"n":3}]}}}`))
	require.NoError(t, err)
	assert.Equal(t, []any{0.05, Both, 0.95}, []any{p.Alpha, p.Tail, p.ConfidenceLevel()})
}

func TestEncodeAndParseAgain(t *testing.T) {
	p, err := Parse([]byte(whole))
	require.NoError(t, err)
	file, err := Encode(p)
	require.NoError(t, err)
	again, err := Parse(file)
	require.NoError(t, err)
	assert.Equal(t, strings.ReplaceAll(stringOf(t, p), " ", ""), strings.ReplaceAll(stringOf(t, again), " ", ""))
	assert.Equal(t, p.Data.Variables[0], again.Data.Variables[0])
}

func stringOf(t *testing.T, p *Problem) string {
	t.Helper()
	file, err := Encode(p)
	require.NoError(t, err)
	return string(file)
}

// Each row changes one thing in the whole file and says what must be found.
func TestRefusals(t *testing.T) {
	for name, c := range map[string]struct{ old, new, pointer, says string }{
		"an unknown field":               {`"alpha"`, `"alhpa"`, "/alhpa", "did you mean “alpha”?"},
		"a name in the wrong case":       {`"alpha"`, `"Alpha"`, "/Alpha", "did you mean “alpha”?"},
		"an unknown field in a claim":    {`"population"`, `"people"`, "/claim/people", "known here: “text”, “population”, “says” and “is”"},
		"an unknown field of variable":   {`"unit"`, `"units"`, "/data/variables/1/units", "did you mean “unit”?"},
		"a field given twice":            {`"title": "Two berths"`, `"title": "a", "title": "b"`, "/title", "given twice"},
		"alpha as text":                  {`0.01`, `"0.01"`, "/alpha", "must be a number, not text"},
		"alpha 0":                        {`0.01`, `0`, "/alpha", "alpha is 0"},
		"alpha 1":                        {`0.01`, `1`, "/alpha", "alpha is 1"},
		"alpha null":                     {`0.01`, `null`, "/alpha", "null stands where"},
		"alpha too large for a double":   {`0.01`, `1e999`, "/alpha", "too large"},
		"confidence 95":                  {`0.9,`, `95,`, "/confidence", "confidence is 95"},
		"a tail that is none":            {`"left"`, `"less"`, "/tail", "“both”, “left” or “right”"},
		"no version":                     {`"grund": 1, `, ``, "/grund", "version"},
		"another version":                {`"grund": 1`, `"grund": 2`, "/grund", "version"},
		"no procedure":                   {`"procedure": "t-two-sample", `, ``, "/procedure", "missing"},
		"decimals with a fraction":       {`"decimals": 2`, `"decimals": 2.5`, "/decimals", "whole number"},
		"decimals below zero":            {`"decimals": 2`, `"decimals": -1`, "/decimals", "0 to 15"},
		"decimals of an unknown kind":    {`"decimals": 2`, `"decimals": {"mean": 2}`, "/decimals/mean", "known here: “statistic”"},
		"decimals of a kind in text":     {`"decimals": 2`, `"decimals": {"p": "2"}`, "/decimals/p", "whole number"},
		"decimals of a kind too many":    {`"decimals": 2`, `"decimals": {"p": 3, "estimate": 16}`, "/decimals/estimate", "0 to 15"},
		"decimals that are a list":       {`"decimals": 2`, `"decimals": [2]`, "/decimals", "a whole number"},
		"a claim on no side":             {`"is": "h0"`, `"is": "H0"`, "/claim/is", "“h0” or “h1”"},
		"a claim that says nothing":      {`, "is": "h0"`, ``, "/claim/says", "not said what the claim states"},
		"a claim that says it twice":     {`"is": "h0"`, `"is": "h0", "says": "equal"`, "/claim/is", "keep “says”"},
		"a claim that says another word": {`"is": "h0"`, `"says": "more"`, "/claim/says", "“larger”"},
		"text in a number":               {`12.1`, `"12,1"`, "/data/variables/1/values/0", "case 1 of “minutes” is the text “12,1”"},
		"true in a number":               {`12.1`, `true`, "/data/variables/1/values/0", "true or false"},
		"a number that is none":          {`12.1`, `1e999`, "/data/variables/1/values/0", "too large"},
		"a list in a number":             {`12.1`, `[12.1]`, "/data/variables/1/values/0", "a list"},
		"true in a category":             {`"2", 2.0`, `true, 2.0`, "/data/variables/0/values/1", "true or false"},
		"a level not listed":             {`"2", 2.0`, `"4", 2.0`, "/data/variables/0/values/1", "not among its levels"},
		"a level listed twice":           {`[2, "1", 3]`, `[2, "1", 1]`, "/data/variables/0/levels/2", "listed twice"},
		"levels of a number":             {`"unit": "min"`, `"levels": [1]`, "/data/variables/1/levels", "is a number"},
		"an unknown kind": {`"kind": "number"`, `"kind": "numeric"`, "/data/variables/1/kind",
			"“number”, “category” or “identifier”"},
		"no kind":                       {`"kind": "number", `, ``, "/data/variables/1/kind", "“number”, “category” or “identifier”"},
		"a name twice":                  {`"name": "minutes"`, `"name": "berth"`, "/data/variables/1/name", "variable 1 too"},
		"a name with NUL":               {`"name": "minutes"`, `"name": "min\u0000utes"`, "/data/variables/1/name", "NUL"},
		"no name":                       {`, "name": "minutes"`, ``, "/data/variables/1/name", "no name"},
		"columns of unequal length":     {`, 0.5]`, `]`, "/data/variables/1/values", "3 cells"},
		"values that are no list":       {`[12.1, null, -1e3, 0.5]`, `12.1`, "/data/variables/1/values", "must be a list"},
		"two sorts of data":             {`"data": {`, `"data": {"summary": {"groups": [{"n": 2}]}, `, "/data", "given at once"},
		"variables that are no list":    {`"data": {"variables": [`, `"data": {"variables": 3, "x": [`, "/data/variables", "must be a list"},
		"a case that is not there":      {`"case": 3`, `"case": 5`, "/leave_out/0/case", "1 to 4"},
		"a case left out twice":         {`[{"case": 3`, `[{"case": 3}, {"case": 3`, "/leave_out/1/case", "twice"},
		"a role that is a number":       {`"response": "minutes"`, `"response": 2`, "/roles/response", "must be a list"},
		"options that are a list":       {`{"variances": "equal"}`, `[]`, "/options", "an object"},
		"broken UTF-8":                  {`Two berths`, "Two \xff berths", "/title", "UTF-8"},
		"a missing bracket":             {`"decimals": 2`, `"decimals": 2]`, "", "not JSON"},
		"an end too early":              {`"decimals": 2` + "\n}", ``, "", "ends in the middle"},
		"more after the end":            {`"decimals": 2` + "\n}", `"decimals": 2}{}`, "", "not JSON"},
		"a list in place of the object": {whole, `[1]`, "", "one JSON object, not a list"},
		"nothing":                       {whole, ` `, "", "empty"},
		"deep nesting":                  {`"equal"`, strings.Repeat("[", 20_000), "", "too deeply"},
	} {
		t.Run(name, func(t *testing.T) {
			require.Equal(t, 1, strings.Count(whole, c.old), "the row must change one place")
			_, err := Parse([]byte(strings.Replace(whole, c.old, c.new, 1)))
			var errs Errors
			require.ErrorAs(t, err, &errs)
			assert.Equal(t, c.pointer, errs[0].Pointer, errs[0].Error())
			assert.Contains(t, errs[0].Error(), c.says)
			assert.NotContains(t, errs[0].Error(), "\n")
		})
	}
}

func TestRefusalsOfSummaries(t *testing.T) {
	for groups, want := range map[string]string{
		`[]`: "/data/summary/groups",
		`[{"n":2,"label":"a"},{"n":3,"label":"a"}]`: "/data/summary/groups/1/label",
		`[{"n":2.5}]`:              "/data/summary/groups/0/n",
		`[{"label":"a"}]`:          "/data/summary/groups/0/n",
		`[{"n":2,"sd":-1}]`:        "/data/summary/groups/0/sd",
		`[{"n":2,"mean":"12"}]`:    "/data/summary/groups/0/mean",
		`[{"n":2,"median":12}]`:    "/data/summary/groups/0/median",
		`[{"n":2,"mean":1e400}]`:   "/data/summary/groups/0/mean",
		`{"n":2}`:                  "/data/summary/groups",
		`[{"n":2,"label":"\u00"}]`: "/data/summary/groups/0/label",
	} {
		_, err := Parse([]byte(`{"grund":1,"procedure":"x","data":{"summary":{"groups":` + groups + `}}}`))
		var errs Errors
		require.ErrorAs(t, err, &errs, groups)
		assert.Equal(t, want, errs[0].Pointer, "%s: %v", groups, errs[0])
	}
}

func TestRefusalsOfCounts(t *testing.T) {
	for counts, want := range map[string]struct{ pointer, says string }{
		`{"observed":[1,2]}`:                                                 {"/data/counts/categories", "it is not said what was counted"},
		`{"categories":["a","b"]}`:                                           {"/data/counts/observed", "counts are missing"},
		`{"categories":["a","b"],"observed":[1]}`:                            {"/data/counts/observed", "1 counts and 2 categories"},
		`{"categories":["a","a"],"observed":[1,2]}`:                          {"/data/counts/categories/1", "listed twice"},
		`{"categories":["a"],"boundaries":[0,1],"observed":[1]}`:             {"/data/counts", "both categories and boundaries"},
		`{"boundaries":[0,1],"observed":[1,2]}`:                              {"/data/counts/observed", "2 counts and 2 boundaries"},
		`{"boundaries":[0,1,1],"observed":[1,2]}`:                            {"/data/counts/boundaries/2", "do not increase"},
		`{"categories":["a","b"],"observed":[1,-2]}`:                         {"/data/counts/observed/1", "at least 0"},
		`{"categories":["a","b"],"observed":[1,2.5]}`:                        {"/data/counts/observed/1", "a whole number"},
		`{"categories":["a","b"],"observed":[1,1e16]}`:                       {"/data/counts/observed/1", "at most 10 to the 15"},
		`{"categories":["a","b"],"observed":[1,null]}`:                       {"/data/counts/observed/1", "null"},
		`{"rows":["a"],"columns":["x"],"cells":[[1]],"observed":[1]}`:        {"/data/counts", "are mixed"},
		`{"rows":["a"],"columns":[],"cells":[[]]}`:                           {"/data/counts/cells", "no rows or no columns"},
		`{"rows":["a","b"],"columns":["x"],"cells":[[1]]}`:                   {"/data/counts/cells", "1 rows of cells and 2 row labels"},
		`{"rows":["a","b"],"columns":["x"],"cells":[[1],[1,2]]}`:             {"/data/counts/cells/1", "2 cells and 1 column labels"},
		`{"rows":["a","b"],"columns":["x"],"cells":[[1],[0.5]]}`:             {"/data/counts/cells/1/0", "0.5"},
		`{"rows":["a","b"],"columns":["x","x"],"cells":[[1,2],[3,4]]}`:       {"/data/counts/columns/1", "listed twice"},
		`{"rows":["a","b"],"columns":["x"],"cells":[[1],[2]],"names":["n"]}`: {"/data/counts/names", "there is no field “names”"},
	} {
		_, err := Parse([]byte(`{"grund":1,"procedure":"x","data":{"counts":` + counts + `}}`))
		var errs Errors
		require.ErrorAs(t, err, &errs, counts)
		assert.Equal(t, want.pointer, errs[0].Pointer, "%s: %v", counts, errs[0])
		assert.Contains(t, errs[0].Error(), want.says, counts)
	}
}

func TestSeveralMistakesAtOnce(t *testing.T) {
	_, err := Parse([]byte(`{"grund":1,"procedure":"x","alpha":2,"tail":"up","data":{}}`))
	var errs Errors
	require.ErrorAs(t, err, &errs)
	assert.Len(t, errs, 3)
}

func TestNearest(t *testing.T) {
	known := []string{"variances", "difference", "groups"}
	assert.Equal(t, "variances", Nearest("variance", known))
	assert.Equal(t, "difference", Nearest("Difference", known))
	assert.Equal(t, "", Nearest("alpha", known))
}

func TestList(t *testing.T) {
	assert.Equal(t, "“a”", words.Quoted([]string{"a"}, "and"))
	assert.Equal(t, "“a”, “b” or “c”", words.Quoted([]string{"a", "b", "c"}, "or"))
	assert.Contains(t, words.Quoted(strings.Split("abcdefghijklm", ""), "and"), "“h” and 5 others")
}

// Whatever the bytes are, Parse returns a problem or a sentence, and a problem
// that it accepts survives being written and read.
func FuzzParse(f *testing.F) {
	f.Add([]byte(whole))
	f.Add([]byte(`{"grund":1,"procedure":"x","data":{"summary":{"groups":[{"label":"a","n":3,"mean":1e308,"sd":0}]}}}`))
	f.Add([]byte(`{"\n":1}`))
	f.Add([]byte(`{"grund":1,"procedure":"x","data":{"counts":{"rows":["a"],"columns":["x"],"cells":[[1]]}}}`))
	f.Fuzz(func(t *testing.T, file []byte) {
		p, err := Parse(file)
		if err != nil {
			var errs Errors
			require.ErrorAs(t, err, &errs)
			require.NotEmpty(t, errs[0].Says)
			require.NotContains(t, errs.Error(), "\n")
			return
		}
		again, err := Encode(p)
		require.NoError(t, err)
		_, err = Parse(again)
		require.NoError(t, err, "%s", again)
	})
}
