package lines_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/regression.py.
func TestLinesAgainstReferences(t *testing.T) { proctest.CheckReferences(t, "regression.json") }

// lineFile writes a problem on numbers x and y, with more columns where they are given.
func lineFile(procedure, roles string, columns map[string][]float64, more string) string {
	var variables []string
	for name, values := range columns {
		var shown []string
		for _, x := range values {
			shown = append(shown, fmt.Sprint(x))
		}
		variables = append(variables, fmt.Sprintf(`{"name":%q,"kind":"number","values":[%s]}`, name, strings.Join(shown, ",")))
	}
	return `{"grund":1,"procedure":"` + procedure + `","roles":` + roles + `,"data":{"variables":[` + strings.Join(variables, ",") + `]}` +
		more + `}`
}

const xy = `{"response":"y","predictor":"x"}`

// The test of a slope of 0, of the correlation, of one predictor among several and F of the
// variance table are one test; turning the line round keeps r.
func TestOneTestSaidInManyWays(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	for range 40 {
		n := 4 + rng.IntN(30)
		columns := map[string][]float64{}
		for i := range n {
			columns["x"] = append(columns["x"], math.Round(100*rng.NormFloat64())/100)
			columns["y"] = append(columns["y"], math.Round(100*(rng.NormFloat64()+columns["x"][i]/3))/100)
		}
		line := proctest.Quantities(proctest.Work(t, lineFile("regression-simple", xy, columns, "")))
		turned := proctest.Quantities(proctest.Work(t, lineFile("regression-simple", `{"response":"x","predictor":"y"}`, columns, "")))
		pair := proctest.Quantities(proctest.Work(t, lineFile("correlation", `{"variables":["x","y"]}`, columns, "")))
		several := proctest.Quantities(proctest.Work(t, lineFile("regression-multiple", `{"response":"y","predictors":["x"]}`, columns, "")))
		assert.InEpsilon(t, line["t"], pair["t"], 1e-10)
		assert.InEpsilon(t, line["t"], turned["t"], 1e-10)
		assert.InEpsilon(t, line["t"]*line["t"], line["f"], 1e-10)
		assert.InEpsilon(t, line["f"], several["f"], 1e-10)
		assert.InEpsilon(t, line["p"], several["p"], 1e-9)
		assert.InEpsilon(t, line["r_squared"], several["r_squared"], 1e-11)
		assert.InEpsilon(t, line["slope"]*turned["slope"], line["r_squared"], 1e-11, "the slopes multiply to r squared")
		assert.InEpsilon(t, line["ss_total"], line["ss_regression"]+line["ss_residual"], 1e-12)
	}
}

// Where every case lies on a line there are estimates, and no test.
func TestPerfectFits(t *testing.T) {
	columns := map[string][]float64{"x": {1, 2, 3, 4, 5.5}, "y": {3, 5, 7, 9, 12}, "w": {1, 4, 2, 8, 5}}
	for _, file := range []string{
		lineFile("regression-simple", xy, columns, `,"options":{"predict_at":[6]}`),
		lineFile("regression-multiple", `{"response":"y","predictors":["x","w"]}`, columns,
			`,"options":{"predict_at":[[6,3]],"compare":[["x"]]}`),
		lineFile("correlation", `{"variables":["x","y"]}`, columns, ""),
		lineFile("correlation", `{"variables":["x","y"]}`, columns, `,"options":{"method":"spearman"}`),
	} {
		s := proctest.Work(t, file)
		assert.Nil(t, s.Decision)
		got := proctest.Quantities(s)
		assert.True(t, math.IsNaN(got["p"]))
		assert.Len(t, s.Notes, 1)
		if fitted, there := proctest.Cells(s)["predictions/6/fitted"]; there {
			assert.InEpsilon(t, 13, fitted, 1e-14)
		}
		if b, there := proctest.Cells(s)["coefficients/x/coefficient"]; there {
			assert.InEpsilon(t, 2, b, 1e-13)
		}
	}
	flat := proctest.Quantities(proctest.Work(t, lineFile("regression-simple", xy, map[string][]float64{"x": {1, 2, 3}, "y": {4, 4, 4}}, "")))
	assert.Zero(t, flat["slope"])
	assert.True(t, math.IsNaN(flat["r"]))
}

func TestLinesRefused(t *testing.T) {
	columns := map[string][]float64{"x": {1, 2, 3, 4, 6}, "y": {3, 1, 7, 4, 4}, "z": {3, 5, 7, 9, 13}, "c": {2, 2, 2, 2, 2}}
	several := func(predictors, more string) string {
		return lineFile("regression-multiple", `{"response":"y","predictors":[`+predictors+`]}`, columns, more)
	}
	category := `{"grund":1,"procedure":"regression-multiple","roles":{"response":"y","predictors":["x","g"]},` +
		`"data":{"variables":[{"name":"y","kind":"number","values":[1,3,2,5,4,7]},{"name":"x","kind":"number","values":[1,2,3,4,5,7]},` +
		`{"name":"g","kind":"category","values":["a","b","a","b","a","b"]}]},"options":`
	proctest.CheckRefusals(t, proctest.Refusals{
		"two cases": {lineFile("regression-simple", xy, map[string][]float64{"x": {1, 2}, "y": {3, 4}}, ""),
			"/roles/response", "there are 2 cases"},
		"a constant predictor": {lineFile("regression-simple", `{"response":"y","predictor":"c"}`, columns, ""), "/roles/predictor",
			"all values of “c” are equal"},
		"a role too many": {lineFile("regression-simple", `{"response":"y","predictor":["x","z"]}`, columns, ""),
			"/roles/predictor", "2 variables are given"},
		"no predictor": {lineFile("regression-simple", `{"response":"y"}`, columns, ""), "/roles/predictor",
			"no variable is given"},
		"a slope in words": {lineFile("regression-simple", xy, columns, `,"options":{"slope":"steep"}`), "/options/slope",
			"must be a number"},
		"predictions in words": {lineFile("regression-simple", xy, columns, `,"options":{"predict_at":["high"]}`), "/options/predict_at",
			"a list of numbers"},
		"a logarithm of 0": {lineFile("regression-simple", xy, map[string][]float64{"x": {1, 2, 3, 4}, "y": {3, 0, 7, 4}},
			`,"options":{"response_scale":"log"}`), "/options/response_scale", "“y” of case 2 is 0"},
		"a logarithm below 0": {lineFile("regression-multiple", `{"response":"y","predictors":["x"]}`,
			map[string][]float64{"x": {1, 2, 3, 4}, "y": {3, 5, 7, -4}}, `,"options":{"response_scale":"log"}`), "/options/response_scale",
			"“y” of case 4 is −4"},
		"another scale": {several(`"x"`, `,"options":{"response_scale":"root"}`), "/options/response_scale",
			"it must be “linear” or “log”"},
		"a dependent predictor":       {several(`"x","z"`, ""), "/roles/predictors", "“z” follows from the predictors before it"},
		"a constant among predictors": {several(`"x","c"`, ""), "/roles/predictors", "all values of “c” are equal"},
		"more coefficients than cases": {lineFile("regression-multiple", `{"response":"y","predictors":["x","w"]}`,
			map[string][]float64{"x": {1, 2, 3}, "y": {3, 1, 7}, "w": {1, 4, 2}}, ""),
			"/roles/predictors", "3 cases with all values for 3 coefficients"},
		"a direction": {several(`"x"`, `,"tail":"left"`), "/tail", "no direction"},
		"too few values": {several(`"x"`, `,"options":{"predict_at":[[1,2]]}`), "/options/predict_at/0",
			"2 values given for 1 predictor"},
		"a flat list":           {several(`"x"`, `,"options":{"predict_at":[1]}`), "/options/predict_at", "a list of lists of values"},
		"a fit of nobody":       {several(`"x"`, `,"options":{"compare":[["q"]]}`), "/options/compare/0", "q"},
		"a fit of the response": {several(`"x"`, `,"options":{"compare":[["y"]]}`), "/options/compare/0", "is the response"},
		"an empty fit":          {several(`"x"`, `,"options":{"compare":[[]]}`), "/options/compare/0", "names no predictor"},
		"a reference of a number": {several(`"x"`, `,"options":{"references":{"x":"1"}}`), "/options/references/x",
			"only a category has a reference"},
		"a reference that is not": {category + `{"references":{"g":"c"}}}`, "/options/references/g", "c"},
		"a level that is not":     {category + `{"predict_at":[[3,"c"]]}}`, "/options/predict_at/0", "c"},
		"a direction of three": {lineFile("correlation", `{"variables":["x","y","z"]}`, columns, `,"tail":"left"`), "/tail",
			"only two have a direction"},
		"a correlation of one": {lineFile("correlation", `{"variables":["x"]}`, columns, ""), "/roles/variables", "name"},
		"a correlation of nothing": {lineFile("correlation", `{"variables":["x","c"]}`, columns, ""), "/roles/variables",
			"all values of “c” are equal"},
		"another method": {lineFile("correlation", `{"variables":["x","y"]}`, columns, `,"options":{"method":"kendall"}`), "/options/method",
			"it must be “pearson” or “spearman”"},
	})
}

// Where the spread grows with the response the logarithm is offered, and what was made of the
// logarithm can be kept in the unit of the response.
func TestLogarithmOfTheResponse(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	columns := map[string][]float64{}
	for i := range 60 {
		columns["x"] = append(columns["x"], float64(i))
		columns["y"] = append(columns["y"], math.Exp(1+float64(i)/20+0.4*rng.NormFloat64()))
	}
	s := proctest.Work(t, lineFile("regression-simple", xy, columns, ""))
	c := proctest.Condition(t, s, "equal-spread")
	assert.Equal(t, "doubtful", string(c.Status))
	assert.Equal(t, "log-response", c.Actions[0].ID)
	for _, procedure := range []string{"regression-simple", "regression-multiple"} {
		roles := map[string]string{"regression-simple": xy, "regression-multiple": `{"response":"y","predictors":["x"]}`}[procedure]
		logged := proctest.Work(t, lineFile(procedure, roles, columns, `,"options":{"response_scale":"log"}`))
		assert.Equal(t, "met", string(proctest.Condition(t, logged, "equal-spread").Status))
		var kept []working.Derived
		for _, block := range logged.Steps[len(logged.Steps)-1].Blocks {
			if b, ok := block.(working.DeriveBlock); ok {
				kept = b.Columns
			}
		}
		require.Len(t, kept, 2)
		assert.True(t, strings.HasPrefix(kept[0].Formula, "exp("), kept[0].Formula)
		assert.True(t, strings.HasPrefix(kept[1].Formula, "log(y) - ("), kept[1].Formula)
	}
	columns["y"][3] = 0
	assert.Empty(t, proctest.Condition(t, proctest.Work(t, lineFile("regression-simple", xy, columns, "")), "equal-spread").Actions,
		"0 has no logarithm")
}

// An unusual case is named, with a way to see the fit without it.
func TestUnusualCases(t *testing.T) {
	columns := map[string][]float64{"x": {1, 2, 3, 4, 5, 6, 7, 8, 30}, "y": {2.1, 3.9, 6.2, 7.8, 10.1, 12.2, 13.8, 16.1, 20}}
	s := proctest.Work(t, lineFile("regression-simple", xy, columns, ""))
	c := proctest.Condition(t, s, "leverage")
	assert.Equal(t, "not_met", string(c.Status))
	assert.Contains(t, c.Reason, "case 9")
	assert.Equal(t, "leave-out-9", c.Actions[0].ID)
	assert.Equal(t, "doubtful", string(proctest.Condition(t, s, "straightness").Status))
	clean := proctest.Work(t, lineFile("regression-simple", xy, columns, `,"leave_out":[{"case":9,"reason":"unusual"}]`))
	assert.Equal(t, "met", string(proctest.Condition(t, clean, "leverage").Status))
}

// Values with all the digits of a double are shown with six decimals, those that a person wrote as they are.
func TestTheRangeOfThePredictorIsReadable(t *testing.T) {
	file := `{"grund":1,"procedure":"regression-simple","roles":{"response":"y","predictor":"x"},"data":{"variables":[` +
		`{"name":"x","kind":"number","unit":"min","values":%s},{"name":"y","kind":"number","values":[1,2,4,3,5]}]}}`
	for values, want := range map[string]string{
		"[-3.4621055119812318,1,2,3,4.029568913485992]": "−3.462106 to 4.029569\u00a0min",
		"[0.5,1,2,3,4.25]":             "0.5 to 4.25\u00a0min",
		"[0.00000125,1,2,3,4.1234567]": "0.00000125 to 4.123457\u00a0min",
	} {
		s := proctest.Work(t, fmt.Sprintf(file, values))
		at := slices.IndexFunc(s.Steps, func(step *working.Step) bool { return step.ID == working.Look })
		assert.Equal(t, want, s.Steps[at].Key)
	}
}

// The test of one slope agrees with its row among the coefficients, which is calculated another way: by the
// triangle of all columns, not by what is left of one. The square of t is the partial F of the fit without it.
func TestOneSlope(t *testing.T) {
	rng := rand.New(rand.NewPCG(15, 4))
	for range 25 {
		n := 8 + rng.IntN(30)
		columns := map[string][]float64{}
		for i := range n {
			columns["x"] = append(columns["x"], 50+rng.NormFloat64())
			columns["w"] = append(columns["w"], columns["x"][i]/2+rng.NormFloat64())
			columns["y"] = append(columns["y"], rng.NormFloat64()+columns["x"][i]/3-columns["w"][i]/5)
		}
		const roles = `{"response":"y","predictors":["x","w"]}`
		work := func(more string) (map[string]float64, *working.Solution) {
			s := proctest.Work(t, lineFile("regression-multiple", roles, columns, more))
			return proctest.Quantities(s), s
		}
		all, _ := work("")
		both, s := work(`,"options":{"slope":"w","compare":[["x"]]}`)
		cells := proctest.Cells(s)
		row := func(id string) float64 { return cells["coefficients/w/"+id] }
		assert.InEpsilon(t, row("coefficient"), both["slope"], 1e-10)
		assert.InEpsilon(t, row("se"), both["se_slope"], 1e-10)
		assert.InEpsilon(t, row("t"), both["t_slope"], 1e-10)
		assert.InEpsilon(t, row("p"), both["p"], 1e-9)
		assert.Equal(t, both["p"], both["p_slope"])
		assert.InEpsilon(t, row("ci_low"), both["ci_low"], 1e-9)
		assert.InEpsilon(t, row("ci_high"), both["ci_high"], 1e-9)
		assert.InEpsilon(t, both["t_slope"]*both["t_slope"], cells["fits/x/f_change"], 1e-9)
		assert.Equal(t, []float64{all["f"], all["p"], all["df_2"]}, []float64{both["f"], both["p_f"], both["df_slope"]})
		assert.Equal(t, []float64{both["critical_low"], both["critical_high"]},
			[]float64{both["slope_critical_low"], both["slope_critical_high"]})
		assert.Equal(t, both["p"] <= 0.05, s.Decision.Reject)

		left, s := work(`,"options":{"slope":"w"},"tail":"left"`)
		right, _ := work(`,"options":{"slope":"w"},"tail":"right"`)
		assert.InEpsilon(t, 1, left["p"]+right["p"], 1e-12)
		assert.InEpsilon(t, both["p"], 2*min(left["p"], right["p"]), 1e-12)
		assert.NotContains(t, left, working.Ref("critical_high"))
		assert.True(t, math.IsInf(left["ci_low"], -1), "with one tail the interval has one end")
		assert.Equal(t, left["p"] <= 0.05, s.Decision.Reject)
	}
}

// A level of a category is named with its variable; its slope is a difference from the reference.
func TestOneSlopeOfALevel(t *testing.T) {
	file := proctest.Problem("regression-multiple", `{"response":"y","predictors":["pier"]}`,
		`,"options":{"slope":"pier: Quarry"},"tail":"right"`,
		proctest.Column("y", "number", []float64{3, 4, 5, 7, 9, 8}),
		proctest.Column("pier", "category", []string{"Mole", "Mole", "Mole", "Quarry", "Quarry", "Quarry"}))
	s := proctest.Work(t, file)
	q := proctest.Quantities(s)
	// The pooled two-sample t: means 4 and 8, variances 1 and 1, n 3 and 3.
	assert.InEpsilon(t, 4, q["slope"], 1e-13)
	assert.InEpsilon(t, 4/math.Sqrt(2.0/3), q["t_slope"], 1e-13)
	assert.Equal(t, 4.0, q["df_slope"])
	assert.Contains(t, s.Conclusion, "mean y is higher for Quarry than for Mole")
	proctest.CheckRefusals(t, proctest.Refusals{
		"the reference": {strings.Replace(file, "pier: Quarry", "pier: Mole", 1), "/options/slope", "“pier: Quarry”"},
		"the variable":  {strings.Replace(file, `"pier: Quarry"`, `"pier"`, 1), "/options/slope", "“pier: Quarry”"},
		"a number":      {strings.Replace(file, `"pier: Quarry"`, `3`, 1), "/options/slope", "name of a predictor"},
		"no slope":      {strings.Replace(file, `"slope":"pier: Quarry"`, ``, 1), "/tail", "without “slope to test”"},
	})
}

// What belongs to the fit as a whole is warned of where one slope rejects and all together do not.
func TestOneSlopeWhereAllTogetherDoNotReject(t *testing.T) {
	warned := map[bool]int{}
	rng := rand.New(rand.NewPCG(1, 7))
	for range 150 {
		columns := map[string][]float64{}
		for i := range 12 {
			for _, name := range []string{"x", "w", "v", "u"} {
				columns[name] = append(columns[name], rng.NormFloat64())
			}
			columns["y"] = append(columns["y"], 0.7*columns["x"][i]+rng.NormFloat64())
		}
		s := proctest.Work(t, lineFile("regression-multiple", `{"response":"y","predictors":["x","w","v","u"]}`, columns,
			`,"options":{"slope":"x"}`))
		q := proctest.Quantities(s)
		if !s.Decision.Reject {
			continue
		}
		warns := strings.Contains(working.Markdown(s, "x"), "The test of all predictors together does not reject")
		assert.Equal(t, q["p_f"] > 0.05, warns)
		warned[warns]++
	}
	assert.Len(t, warned, 2, "both were met")
}

// A slope is also said in the unit that people use, and cases are called by their identifier.
func TestPlainUnitsAndIdentifiers(t *testing.T) {
	file := `{"grund":1,"procedure":"regression-simple","roles":{"response":"takings","predictor":"vehicles"},"data":{"variables":[` +
		`{"name":"takings","kind":"number","unit":"%s","values":[1.1,1.6,2.3,2.7,3.3]},` +
		`{"name":"vehicles","kind":"number","values":[1,2,3,4,5]},` +
		`{"name":"crossing","kind":"identifier","values":["D1","D2",null,"P1","P2"]}]}}`
	s := proctest.Work(t, fmt.Sprintf(file, "hundreds of crowns"))
	assert.Contains(t, working.Markdown(s, ""), "mean takings is 0.5500\u00a0hundreds of crowns (55.0\u00a0crowns) more.")
	assert.Contains(t, working.Markdown(proctest.Work(t, fmt.Sprintf(file, "crowns")), ""), "mean takings is 0.5500\u00a0crowns more.")
	cases := s.Table("cases")
	assert.Equal(t, []string{"case", "identifier"}, []string{cases.Columns[0].ID, cases.Columns[1].ID})
	assert.Equal(t, []any{"D1", "", "P2"}, []any{cases.Row(0)[1].Value, cases.Row(2)[1].Value, cases.Row(4)[1].Value})
}
