package describe_test

import (
	"context"
	"errors"
	"testing"

	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/working"
)

// every has an option of each type.
type every struct {
	mean        float64
	sigma       float64
	method      string
	exact       bool
	level       *string
	levels      []string
	proportions []float64
	boundaries  []float64
	parameters  map[string]float64
	references  map[string]string
	places      [][]string
	fits        [][]string
	join        describe.Sides
	omit        describe.Sides
	order       describe.Sides
	contrast    *describe.Contrast
}

func (o *every) fields() []describe.Option {
	return []describe.Option{
		describe.Number(&o.mean, 3, describe.Option{ID: "mean"}),
		describe.RequiredNumber(&o.sigma, describe.Option{ID: "sigma", Label: "Standard deviation of the population"}),
		describe.OneOf(&o.method, "values", describe.Option{ID: "method", Choices: []describe.Choice{{Value: "values"}, {Value: "ranks"}}}),
		describe.Boolean(&o.exact, true, describe.Option{ID: "exact"}),
		describe.Level(&o.level, describe.Option{ID: "success"}),
		describe.Levels(&o.levels, describe.Option{ID: "groups", Length: 2}),
		describe.Proportions(&o.proportions, describe.Option{ID: "proportions"}),
		describe.Numbers(&o.boundaries, describe.Option{ID: "boundaries"}),
		describe.Parameters(&o.parameters, describe.Option{ID: "parameters"}),
		describe.References(&o.references, describe.Option{ID: "references"}),
		describe.Places(&o.places, describe.Option{ID: "predict_at"}),
		describe.Lists(&o.fits, describe.Option{ID: "compare"}),
		describe.Join(&o.join, describe.Option{ID: "join"}),
		describe.Omit(&o.omit, describe.Option{ID: "omit"}),
		describe.Order(&o.order, describe.Option{ID: "order"}),
		describe.ContrastOf(&o.contrast, describe.Option{ID: "contrast"}),
	}
}

type task struct{ options *every }

func (task) Work(context.Context) (*working.Working, error) {
	return nil, errors.New("nothing to work")
}

// described reads problems with every type of option.
var described = describe.New(describe.Description{
	ID: "every", Title: "Every option", Takes: []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles: []describe.Role{
		{ID: "response", Label: "Response", Says: "the number", Kinds: []data.Kind{data.Number}, Min: 1, Max: 1},
		{ID: "predictors", Label: "Predictors", Says: "the predictors", Kinds: []data.Kind{data.Number, data.Category}, Max: 2},
	},
}, (*every).fields, func(_ *problem.Problem, _ *describe.Description, o *every) (describe.Task, error) {
	return task{o}, nil
}, nil)

// given returns a problem with the options, beside the one that is required.
func given(options map[string]string) *problem.Problem {
	variable := func(name string, kind data.Kind, cells ...string) *data.Variable {
		v, _ := data.NewVariable(name, kind, cells)
		return v
	}
	p := &problem.Problem{
		Procedure: "every", Tail: problem.Both, Roles: problem.Roles{"response": {"minutes"}},
		Options: map[string]jsontext.Value{"sigma": jsontext.Value("2")},
	}
	p.Data.Variables = problem.Variables{
		variable("minutes", data.Number, "1", "2"), variable("wind", data.Number, "3", "4"), variable("ferry", data.Category, "Gull", "Tern"),
		variable("crossing", data.Identifier, "K1", "K2"),
	}
	for id, raw := range options {
		p.Options[id] = jsontext.Value(raw)
	}
	return p
}

func TestOptionsAreReadIntoTheirFields(t *testing.T) {
	text := func(s string) *string { return &s }
	for option, c := range map[string]struct {
		raw  string
		of   func(o *every) any
		want any
	}{
		"mean":                  {"4.5", func(o *every) any { return o.mean }, 4.5},
		"method":                {`"ranks"`, func(o *every) any { return o.method }, "ranks"},
		"exact":                 {"false", func(o *every) any { return o.exact }, false},
		"success":               {`"yes"`, func(o *every) any { return o.level }, text("yes")},
		"success by a number":   {"1.50", func(o *every) any { return o.level }, text("1.5")},
		"groups":                {`["Mole", 2]`, func(o *every) any { return o.levels }, []string{"Mole", "2"}},
		"proportions":           {"[2, 1, 1]", func(o *every) any { return o.proportions }, []float64{2, 1, 1}},
		"proportions all equal": {`"equal"`, func(o *every) any { return o.proportions }, []float64(nil)},
		"boundaries":            {"[-1, 0, 2.5]", func(o *every) any { return o.boundaries }, []float64{-1, 0, 2.5}},
		"boundaries, none":      {"[]", func(o *every) any { return o.boundaries }, []float64{}},
		"parameters":            {`{"mean": 12, "sd": 3}`, func(o *every) any { return o.parameters }, map[string]float64{"mean": 12, "sd": 3}},
		"references":            {`{"ferry": "Tern"}`, func(o *every) any { return o.references }, map[string]string{"ferry": "Tern"}},
		"predict_at":            {`[[36, "Tern"], [40, 1]]`, func(o *every) any { return o.places }, [][]string{{"36", "Tern"}, {"40", "1"}}},
		"compare":               {`[["wind"], []]`, func(o *every) any { return o.fits }, [][]string{{"wind"}, {}}},
		"join":                  {`{"rows": [["a", "b"]]}`, func(o *every) any { return o.join }, describe.Sides{Rows: [][]string{{"a", "b"}}}},
		"omit": {`{"rows": ["a"], "columns": []}`, func(o *every) any { return o.omit },
			describe.Sides{Rows: [][]string{{"a"}}}},
		"order": {`{"columns": [3, "b"]}`, func(o *every) any { return o.order },
			describe.Sides{Columns: [][]string{{"3"}, {"b"}}}},
		"contrast by names": {`{"Mole": 1, "Quarry": -1}`, func(o *every) any { return o.contrast.ByLevel },
			map[string]float64{"Mole": 1, "Quarry": -1}},
		"contrast in order":    {`[1, -1]`, func(o *every) any { return o.contrast.InOrder }, []float64{1, -1}},
		"contrast, weights":    {`{"weights": [1, -1]}`, func(o *every) any { return o.contrast.InOrder }, []float64{1, -1}},
		"contrast with a tail": {`{"weights": {"Mole": 1}, "tail": "left"}`, func(o *every) any { return o.contrast.Tail }, problem.Left},
		"contrast without one": {`{"Mole": 1}`, func(o *every) any { return o.contrast.Tail }, problem.Both},
		"contrast of one called": {`{"tail": 1, "other": -1}`, func(o *every) any { return o.contrast.ByLevel },
			map[string]float64{"tail": 1, "other": -1}},
	} {
		id := firstWord(option)
		read, err := described.Read(given(map[string]string{id: c.raw}))
		require.NoError(t, err, option)
		assert.Equal(t, c.want, c.of(read.(task).options), option)
	}
}

// firstWord is the id of the option in the name of a case.
func firstWord(name string) string {
	for i, r := range name {
		if r == ' ' || r == ',' {
			return name[:i]
		}
	}
	return name
}

func TestOptionsThatAreNotGivenHaveTheirDefaults(t *testing.T) {
	read, err := described.Read(given(nil))
	require.NoError(t, err)
	assert.Equal(t, &every{mean: 3, sigma: 2, method: "values", exact: true}, read.(task).options)
	defaults := map[string]any{}
	for _, o := range described.Options {
		if o.Default != nil {
			defaults[o.ID] = o.Default
		}
	}
	assert.Equal(t, map[string]any{"mean": 3.0, "method": "values", "exact": true, "proportions": "equal"}, defaults)
}

// What is no value of its type is refused, at its place, and says what would be right. A null is
// nothing that could be taken for 0.
func TestOptionsThatAreRefused(t *testing.T) {
	for option, c := range map[string]struct{ raw, says string }{
		"mean, a text":               {`"3"`, "must be a number"},
		"mean, null":                 {"null", "must be a number"},
		"mean, too large":            {"1e999", "too large to calculate with"},
		"method":                     {`"both"`, "“values” or “ranks”"},
		"method, a number":           {"1", "“values” or “ranks”"},
		"exact":                      {`"yes"`, "true or false"},
		"success, a list":            {`["yes"]`, "the code or the name of a level"},
		"success, null":              {"null", "the code or the name of a level"},
		"groups, one":                {`["Mole"]`, "a list of 2 levels"},
		"groups, null among them":    {`["Mole", null]`, "a list of 2 levels"},
		"proportions, 0":             {"[1, 0]", "numbers above 0"},
		"proportions, null":          {"[1, null]", "numbers above 0"},
		"proportions, a word":        {`"half"`, "“equal” or a list"},
		"boundaries, a number":       {"3", "a list of numbers"},
		"boundaries, null":           {"[0, null, 5]", "a list of numbers"},
		"boundaries, a text":         {`[0, "5"]`, "a list of numbers"},
		"parameters, a list":         {"[1]", "numbers by name"},
		"parameters, null":           {`{"mean": null}`, "numbers by name"},
		"references, a list":         {`{"ferry": ["Tern"]}`, "the reference of “ferry”"},
		"references, null":           {`{"ferry": null}`, "the reference of “ferry”"},
		"predict_at, one list":       {"[36, 4]", "a list of lists of values"},
		"predict_at, null":           {"[[36, null]]", "a list of lists of values"},
		"compare, a name":            {`["wind"]`, "a list of lists of names"},
		"join, a single level":       {`{"rows": [["a"]]}`, `it must be as {"rows"`},
		"join, another side":         {`{"up": [["a", "b"]]}`, "“rows” and “columns”"},
		"omit, a list in the list":   {`{"rows": [["a"]]}`, `it must be as {"rows"`},
		"order, a list":              {`["a"]`, `it must be as {"rows"`},
		"order, null":                {`{"rows": [null]}`, `it must be as {"rows"`},
		"contrast, no weight":        {`{}`, `it must be as {"weights"`},
		"contrast, another field":    {`{"weights": {"Mole": 1}, "side": 1}`, `it must be as {"weights"`},
		"contrast, a tail":           {`{"weights": {"Mole": 1}, "tail": "up"}`, "“both”, “left” or “right”"},
		"contrast, a text as weight": {`{"Mole": "1"}`, `it must be as {"weights"`},
		"contrast, null":             {`{"Mole": null, "Quarry": 1}`, `it must be as {"weights"`},
		"contrast, null in a list":   {`[1, null]`, `it must be as {"weights"`},
		"colour":                     {"1", "there is no option “colour”"},
	} {
		id := firstWord(option)
		_, err := described.Read(given(map[string]string{id: c.raw}))
		var mistakes problem.Errors
		if assert.ErrorAs(t, err, &mistakes, option) && assert.Len(t, mistakes, 1, option) {
			assert.Equal(t, "/options/"+id, mistakes[0].Pointer, option)
			assert.Contains(t, mistakes[0].Says+" "+mistakes[0].Instead, c.says, option)
		}
	}
}

// All that the description tells is said at once, before the procedure reads anything.
func TestAProblemIsCheckedAgainstTheDescription(t *testing.T) {
	for name, c := range map[string]struct {
		change func(p *problem.Problem)
		want   map[string]string // what is said, by its place
	}{
		"an option that is required": {func(p *problem.Problem) { delete(p.Options, "sigma") },
			map[string]string{"/options/sigma": "“Standard deviation of the population” is missing"}},
		"a role that nobody plays": {func(p *problem.Problem) { delete(p.Roles, "response") },
			map[string]string{"/roles/response": "no variable is given"}},
		"too many of a role": {func(p *problem.Problem) { p.Roles["response"] = problem.Names{"minutes", "wind"} },
			map[string]string{"/roles/response": "2 variables are given"}},
		"one variable in two roles": {func(p *problem.Problem) { p.Roles["predictors"] = problem.Names{"minutes"} },
			map[string]string{"/roles/predictors": "“minutes” is given for “Response” already"}},
		"a variable that is not there": {func(p *problem.Problem) { p.Roles["response"] = problem.Names{"minute"} },
			map[string]string{"/roles/response": "there is no variable “minute”"}},
		"another kind": {func(p *problem.Problem) { p.Roles["response"] = problem.Names{"ferry"} },
			map[string]string{"/roles/response": "“ferry” is a category"}},
		"an identifier among predictors": {func(p *problem.Problem) { p.Roles["predictors"] = problem.Names{"crossing"} },
			map[string]string{"/roles/predictors": "“crossing” is an identifier and “Predictors” needs a number"}},
		"a role that is not known": {func(p *problem.Problem) { p.Roles["group"] = problem.Names{"ferry"} },
			map[string]string{"/roles/group": "there is no role “group”"}},
		"a tail of a test without direction": {func(p *problem.Problem) { p.Tail = problem.Left },
			map[string]string{"/tail": "Every option has no direction"}},
		"two mistakes": {func(p *problem.Problem) { delete(p.Options, "sigma"); p.Tail = problem.Right },
			map[string]string{"/options/sigma": "“Standard deviation of the population” is missing", "/tail": "no direction"}},
	} {
		p := given(nil)
		c.change(p)
		_, err := described.Read(p)
		var mistakes problem.Errors
		if !assert.ErrorAs(t, err, &mistakes, name) {
			continue
		}
		assert.Len(t, mistakes, len(c.want), "%s: %v", name, mistakes)
		for _, m := range mistakes {
			assert.Contains(t, m.Says, c.want[m.Pointer], name)
		}
	}
}
