package procedure_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The decimals that a problem asks for are those of the cells in formulas too, and where the
// cells as shown add up to another last digit it is said. 5, 9 and 7 against 7 each: the
// contributions are 4/7, 4/7 and 0.
func TestDecimalsInFormulas(t *testing.T) {
	work := func(decimals string) *working.Quantity {
		return proctest.Quantity(t, proctest.Work(t, `{"grund":1,"procedure":"chi-square-fit",`+decimals+
			`"data":{"counts":{"categories":["a","b","c"],"observed":[5,9,7]}}}`), "chi_square")
	}
	four := work(`"decimals":4,`)
	assert.Equal(t, "0.5714+0.5714+0.0000", four.Formula.Numeric)
	assert.Equal(t, "1.1429", four.Display)
	assert.Contains(t, four.Formula.Rounding, "gives 1.1428", "0.5714 + 0.5714")
	three := work("")
	assert.Equal(t, "0.571+0.571+0.000", three.Formula.Numeric)
	assert.Contains(t, three.Formula.Rounding, "gives 1.142")
	one := work(`"decimals":1,`)
	assert.Equal(t, "0.6+0.6+0.0", one.Formula.Numeric)
	assert.Contains(t, one.Formula.Rounding, "gives 1.2;", "1.1 is shown")
}

// A tie that is shown is the one that the note calculates with: t = (13.375 − 10.625)/1.75 is
// shown as 1.57, and (13.38 − 10.63)/1.75 gives it too; with 10.62 it would have been 1.58.
func TestTheNoteRoundsAsTheDisplayDoes(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"t-two-sample","decimals":2,"options":{"variances":"equal"},"data":{"summary":{"groups":[
		{"label":"a","n":8,"mean":13.375,"sd":3.5},{"label":"b","n":8,"mean":10.625,"sd":3.5}]}}}`)
	for id, want := range map[working.Ref]string{"mean_1": "13.38", "mean_2": "10.63", "se": "1.75", "t": "1.57"} {
		assert.Equal(t, want, proctest.Quantity(t, s, id).Display, id)
	}
	assert.Empty(t, proctest.Quantity(t, s, "t").Formula.Rounding)
	assert.Empty(t, proctest.Quantity(t, s, "difference").Formula.Rounding, "2.75 either way")

	// (9.625 − 8)/1.75 is 0.93; with 9.63 as shown, too. (9.875 − 8)/0.35 is 5.36, with 9.88 it is 5.37.
	s = proctest.Work(t, `{"grund":1,"procedure":"t-one-sample","decimals":2,"options":{"mean":8},"data":{"summary":{"groups":[{"n":4,`+
		`"mean":9.875,"sd":0.7}]}}}`)
	assert.Equal(t, "5.36", proctest.Quantity(t, s, "t").Display)
	assert.Contains(t, proctest.Quantity(t, s, "t").Formula.Rounding, "gives 5.37")
}

// A share that is not 0 is not shown as 0, however few decimals are asked for.
func TestAShareIsNotShownAsNothing(t *testing.T) {
	s := proctest.Work(t, tickets("chi-square-independence", `,"decimals":0`))
	v := proctest.Quantity(t, s, "cramers_v")
	assert.Equal(t, "0.3", v.Display)
	assert.Contains(t, s.Conclusion, "V = 0.3")
	assert.Contains(t, s.Report, "V = 0.3")
	assert.Equal(t, "0", proctest.Quantity(t, proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","decimals":0,`+
		`"data":{"counts":{"rows":["a","b"],"columns":["x","y"],"cells":[[5,5],[5,5]]}}}`), "cramers_v").Display)
}

// What a cell shows is said by the table itself, as it depends on the view; which levels were
// joined goes by what was joined, not by what a level is called.
func TestWhatIsSaidOfATable(t *testing.T) {
	text := func(file string) string { return working.Markdown(proctest.Work(t, file), "") }
	assert.NotContains(t, text(tickets("chi-square-independence", "")), "large number")
	assert.Contains(t, text(tickets("chi-square-independence", `,"options":{"join":{"rows":[["school","leisure"]]}}`)),
		"Of reason, school and leisure are taken as one.")
	named := strings.Replace(tickets("chi-square-independence", ""), `"school"`, `"school + more"`, 1)
	assert.NotContains(t, text(named), "taken as one")
	require.Contains(t, text(named), "school + more")
}

// Of several mistakes the same one is named each time.
func TestTheFirstMistakeIsAlwaysTheSame(t *testing.T) {
	several := func(options string) string {
		return proctest.Problem("regression-multiple", `{"response":"y","predictors":["x","g"]}`, `,"options":`+options,
			proctest.Column("y", "number", moved(1, 0, 3)), proctest.Column("x", "number", moved(0, 0, 1)),
			proctest.Column("g", "category", strings.Split("abababab", "")))
	}
	groups := func(options string) string {
		return strings.Replace(claimFile("anova-one-way", "both", `"says":"equal"`, twoGroupsFile(noise, moved(1, 3, 0))), `,"roles"`,
			`,"options":`+options+`,"roles"`, 1)
	}
	for name, file := range map[string]string{
		"references of no predictors": several(`{"references":{"p":"a","q":"a","r":"a","s":"a"}}`),
		"references of no levels":     several(`{"references":{"p":[],"q":[],"r":[],"s":[]}}`),
		"a contrast of no groups":     groups(`{"contrast":{"p":1,"q":-1,"r":1,"s":-1}}`),
		"fields of a table":           tickets("chi-square-independence", `,"options":{"omit":{"p":[],"q":[],"r":[],"s":[]}}`),
	} {
		first := ""
		for range 40 {
			p, err := problem.Parse([]byte(file))
			require.NoError(t, err, name)
			_, err = procedure.Work(t.Context(), p)
			require.Error(t, err, name)
			if first == "" {
				first = err.Error()
			}
			assert.Equal(t, first, err.Error(), name)
		}
	}
}

// A group that was picked and has no case is named.
func TestAnEmptyPickedGroup(t *testing.T) {
	proctest.CheckRefusals(t, proctest.Refusals{"no case": {
		`{"grund":1,"procedure":"rank-sum","roles":{"response":"x","group":"g"},"options":{"groups":["a","c"]},"data":{"variables":[
		{"name":"x","kind":"number","values":[1,2,3,4]},{"name":"g","kind":"category","levels":["a","b","c"],"values":["a","a","b","b"]}]}}`,
		"/options/groups", "“c” has no usable case"}})
}

// The interval of a ratio begins at 0 where it is open to that side.
func TestOpenIntervalOfARatio(t *testing.T) {
	s := proctest.Work(t, claimFile("variance-ratio", "left", `"says":"smaller"`, claimData["variance-ratio"](0)))
	assert.Contains(t, s.Report, "CI of the ratio [0, ")
	assert.NotContains(t, s.Report, "∞")
}

// A line of a logarithm is not turned round where the predictor would have none.
func TestTurningALineOfALogarithm(t *testing.T) {
	turns := func(scale string, by float64) bool {
		s := proctest.Work(t, proctest.Problem("regression-simple", `{"response":"y","predictor":"x"}`, `,"options":{"response_scale":"`+scale+
			`"}`,
			proctest.Column("y", "number", moved(1, 5, 2)), proctest.Column("x", "number", moved(0, by, 1))))
		for _, c := range s.Controls {
			if c.ID == "roles" {
				return true
			}
		}
		return false
	}
	assert.True(t, turns("log", 0))
	assert.False(t, turns("log", -3))
	assert.True(t, turns("linear", -3))
}

// How many parameters a distribution has is said in words that fit.
func TestWordsOfParameters(t *testing.T) {
	fitTo := func(options string) string {
		var values []float64
		for i := range 60 {
			values = append(values, float64(i%6))
		}
		return working.Markdown(proctest.Work(t, proctest.Problem("chi-square-distribution", `{"response":"x"}`, `,"options":`+options,
			proctest.Column("x", "number", values))), "")
	}
	assert.Contains(t, fitTo(`{"distribution":"poisson","boundaries":[0,1,2,3,4,5,6]}`), "It has one parameter, the mean of 2.50 (estimated).")
	assert.Contains(t, fitTo(`{"distribution":"normal","parameters":{"mean":2.5,"sd":2}}`),
		"It has two parameters, the mean of 2.5 (given) and the standard deviation of 2 (given).")
}
