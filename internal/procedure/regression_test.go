package procedure

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/stats"
	"grund/internal/working"
)

// The expected numbers were made by testdata/regression.py.
func TestLinesAgainstReferences(t *testing.T) { checkReferences(t, "regression.json") }

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
	return `{"grund":1,"procedure":"` + procedure + `","roles":` + roles + `,"data":{"variables":[` + strings.Join(variables, ",") + `]}` + more + `}`
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
		line := quantities(mustWork(t, lineFile("regression-simple", xy, columns, "")))
		turned := quantities(mustWork(t, lineFile("regression-simple", `{"response":"x","predictor":"y"}`, columns, "")))
		pair := quantities(mustWork(t, lineFile("correlation", `{"variables":["x","y"]}`, columns, "")))
		several := quantities(mustWork(t, lineFile("regression-multiple", `{"response":"y","predictors":["x"]}`, columns, "")))
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
		lineFile("regression-multiple", `{"response":"y","predictors":["x","w"]}`, columns, `,"options":{"predict_at":[[6,3]],"compare":[["x"]]}`),
		lineFile("correlation", `{"variables":["x","y"]}`, columns, ""),
		lineFile("correlation", `{"variables":["x","y"]}`, columns, `,"options":{"method":"spearman"}`),
	} {
		s := mustWork(t, file)
		assert.Nil(t, s.Decision)
		got := quantities(s)
		assert.True(t, math.IsNaN(got["p"]))
		assert.Len(t, s.Notes, 1)
		if fitted, there := cells(s)["predictions/6/fitted"]; there {
			assert.InEpsilon(t, 13, fitted, 1e-14)
		}
		if b, there := cells(s)["coefficients/x/coefficient"]; there {
			assert.InEpsilon(t, 2, b, 1e-13)
		}
	}
	flat := quantities(mustWork(t, lineFile("regression-simple", xy, map[string][]float64{"x": {1, 2, 3}, "y": {4, 4, 4}}, "")))
	assert.Zero(t, flat["slope"])
	assert.True(t, math.IsNaN(flat["r"]))
}

func TestLinesRefused(t *testing.T) {
	columns := map[string][]float64{"x": {1, 2, 3, 4, 6}, "y": {3, 1, 7, 4, 4}, "z": {3, 5, 7, 9, 13}, "c": {2, 2, 2, 2, 2}}
	several := func(predictors, more string) string {
		return lineFile("regression-multiple", `{"response":"y","predictors":[`+predictors+`]}`, columns, more)
	}
	category := `{"grund":1,"procedure":"regression-multiple","roles":{"response":"y","predictors":["x","g"]},"data":{"variables":[{"name":"y","kind":"number","values":[1,3,2,5,4,7]},{"name":"x","kind":"number","values":[1,2,3,4,5,7]},{"name":"g","kind":"category","values":["a","b","a","b","a","b"]}]},"options":`
	checkRefusals(t, map[string]refusal{
		"two cases":                   {lineFile("regression-simple", xy, map[string][]float64{"x": {1, 2}, "y": {3, 4}}, ""), "/roles/response", "there are 2 cases"},
		"a constant predictor":        {lineFile("regression-simple", `{"response":"y","predictor":"c"}`, columns, ""), "/roles/predictor", "all values of “c” are equal"},
		"a role too many":             {lineFile("regression-simple", `{"response":"y","predictor":["x","z"]}`, columns, ""), "/roles/predictor", "2 variables are given"},
		"no predictor":                {lineFile("regression-simple", `{"response":"y"}`, columns, ""), "/roles/predictor", "no variable is given"},
		"a slope in words":            {lineFile("regression-simple", xy, columns, `,"options":{"slope":"steep"}`), "/options/slope", "must be a number"},
		"predictions in words":        {lineFile("regression-simple", xy, columns, `,"options":{"predict_at":["high"]}`), "/options/predict_at", "a list of numbers"},
		"a logarithm of 0":            {lineFile("regression-simple", xy, map[string][]float64{"x": {1, 2, 3, 4}, "y": {3, 0, 7, 4}}, `,"options":{"response_scale":"log"}`), "/options/response_scale", "“y” of case 2 is 0"},
		"a logarithm below 0":         {lineFile("regression-multiple", `{"response":"y","predictors":["x"]}`, map[string][]float64{"x": {1, 2, 3, 4}, "y": {3, 5, 7, -4}}, `,"options":{"response_scale":"log"}`), "/options/response_scale", "“y” of case 4 is −4"},
		"another scale":               {several(`"x"`, `,"options":{"response_scale":"root"}`), "/options/response_scale", "it must be “linear” or “log”"},
		"a dependent predictor":       {several(`"x","z"`, ""), "/roles/predictors", "“z” follows from the predictors before it"},
		"a constant among predictors": {several(`"x","c"`, ""), "/roles/predictors", "all values of “c” are equal"},
		"more coefficients than cases": {lineFile("regression-multiple", `{"response":"y","predictors":["x","w"]}`, map[string][]float64{"x": {1, 2, 3}, "y": {3, 1, 7}, "w": {1, 4, 2}}, ""),
			"/roles/predictors", "3 cases with all values for 3 coefficients"},
		"a direction":              {several(`"x"`, `,"tail":"left"`), "/tail", "no direction"},
		"too few values":           {several(`"x"`, `,"options":{"predict_at":[[1,2]]}`), "/options/predict_at/0", "2 values given for 1 predictor"},
		"a flat list":              {several(`"x"`, `,"options":{"predict_at":[1]}`), "/options/predict_at", "a list of lists of values"},
		"a fit of nobody":          {several(`"x"`, `,"options":{"compare":[["q"]]}`), "/options/compare/0", "q"},
		"a fit of the response":    {several(`"x"`, `,"options":{"compare":[["y"]]}`), "/options/compare/0", "is the response"},
		"an empty fit":             {several(`"x"`, `,"options":{"compare":[[]]}`), "/options/compare/0", "names no predictor"},
		"a reference of a number":  {several(`"x"`, `,"options":{"references":{"x":"1"}}`), "/options/references/x", "only a category has a reference"},
		"a reference that is not":  {category + `{"references":{"g":"c"}}}`, "/options/references/g", "c"},
		"a level that is not":      {category + `{"predict_at":[[3,"c"]]}}`, "/options/predict_at/0", "c"},
		"a direction of three":     {lineFile("correlation", `{"variables":["x","y","z"]}`, columns, `,"tail":"left"`), "/tail", "only two have a direction"},
		"a correlation of one":     {lineFile("correlation", `{"variables":["x"]}`, columns, ""), "/roles/variables", "name"},
		"a correlation of nothing": {lineFile("correlation", `{"variables":["x","c"]}`, columns, ""), "/roles/variables", "all values of “c” are equal"},
		"another method":           {lineFile("correlation", `{"variables":["x","y"]}`, columns, `,"options":{"method":"kendall"}`), "/options/method", "it must be “pearson” or “spearman”"},
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
	s := mustWork(t, lineFile("regression-simple", xy, columns, ""))
	c := conditionOf(t, s, "equal-spread")
	assert.Equal(t, "doubtful", string(c.Status))
	assert.Equal(t, "log-response", c.Actions[0].ID)
	for _, procedure := range []string{"regression-simple", "regression-multiple"} {
		roles := map[string]string{"regression-simple": xy, "regression-multiple": `{"response":"y","predictors":["x"]}`}[procedure]
		logged := mustWork(t, lineFile(procedure, roles, columns, `,"options":{"response_scale":"log"}`))
		assert.Equal(t, "met", string(conditionOf(t, logged, "equal-spread").Status))
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
	assert.Empty(t, conditionOf(t, mustWork(t, lineFile("regression-simple", xy, columns, "")), "equal-spread").Actions, "0 has no logarithm")
}

// An unusual case is named, with a way to see the fit without it.
func TestUnusualCases(t *testing.T) {
	columns := map[string][]float64{"x": {1, 2, 3, 4, 5, 6, 7, 8, 30}, "y": {2.1, 3.9, 6.2, 7.8, 10.1, 12.2, 13.8, 16.1, 20}}
	s := mustWork(t, lineFile("regression-simple", xy, columns, ""))
	c := conditionOf(t, s, "leverage")
	assert.Equal(t, "not_met", string(c.Status))
	assert.Contains(t, c.Reason, "case 9")
	assert.Equal(t, "leave-out-9", c.Actions[0].ID)
	assert.Equal(t, "doubtful", string(conditionOf(t, s, "straightness").Status))
	clean := mustWork(t, lineFile("regression-simple", xy, columns, `,"leave_out":[{"case":9,"reason":"unusual"}]`))
	assert.Equal(t, "met", string(conditionOf(t, clean, "leverage").Status))
}

// The p-values are of exact sums of squares, their areas taken at 40 digits.
func TestBend(t *testing.T) {
	x, w := []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10}, []float64{3, 1, 4, 1, 5, 9, 2, 6, 5, 3}
	fitted := func(columns [][]float64, y []float64) []float64 {
		f, _ := stats.FitLeastSquares(columns, y)
		var values []float64
		row := make([]float64, len(columns))
		for i := range y {
			for j, c := range columns {
				row[j] = c[i]
			}
			value, _ := f.At(row)
			values = append(values, value)
		}
		return values
	}
	for _, c := range []struct {
		y             []float64
		line, several float64
	}{
		{[]float64{4, 5, 9, 10, 14, 22, 23, 31, 36, 42}, 0.00257438056778788363701, 0.0000313085373005998393871},
		{[]float64{2, 3, 1, 4, 6, 5, 8, 7, 9, 12}, 0.1958448003263103273770605, 0.3071949637414292970507843},
	} {
		line, several := [][]float64{x}, [][]float64{x, w}
		assert.InEpsilon(t, c.line, bend(line, x, c.y), 1e-11)
		assert.InEpsilon(t, c.line, bend(line, fitted(line, c.y), c.y), 1e-11, "the fitted values are a line of x")
		assert.InEpsilon(t, c.several, bend(several, fitted(several, c.y), c.y), 1e-11)
	}
	assert.True(t, math.IsNaN(bend([][]float64{x}, make([]float64, 10), x)), "nothing runs along")
	assert.True(t, math.IsNaN(bend([][]float64{x[:4]}, x[:4], w[:4])), "no degree of freedom left")
	two := []float64{0, 1, 0, 1, 0, 1, 0, 1, 0, 1}
	assert.True(t, math.IsNaN(bend([][]float64{two}, two, w)), "a square of two values is a line")
}
