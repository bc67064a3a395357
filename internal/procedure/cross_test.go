package procedure

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/working"
)

// column writes a variable of a problem file. Numbers that are NaN are missing.
func column[T any](name, kind string, values []T) string {
	shown := make([]string, len(values))
	for i, v := range values {
		switch v := any(v).(type) {
		case float64:
			shown[i] = fmt.Sprint(v)
			if math.IsNaN(v) {
				shown[i] = "null"
			}
		default:
			shown[i] = fmt.Sprintf("%q", v)
		}
	}
	return fmt.Sprintf(`{"name":%q,"kind":%q,"values":[%s]}`, name, kind, strings.Join(shown, ","))
}

// problemOf writes a problem file on variables.
func problemOf(procedure, roles, more string, variables ...string) string {
	return `{"grund":1,"procedure":"` + procedure + `","roles":` + roles + more + `,"data":{"variables":[` + strings.Join(variables, ",") +
		`]}}`
}

// cellOf returns a number of a table by row and column.
func cellOf(t *testing.T, s *working.Solution, table string, row int, id string) float64 {
	t.Helper()
	rows := s.Table(table)
	require.NotNil(t, rows, table)
	at := slices.IndexFunc(rows.Columns, func(c working.Column) bool { return c.ID == id })
	require.GreaterOrEqual(t, at, 0, "%s has no column %s", table, id)
	switch value := rows.Row(row)[at].Value.(type) {
	case working.Number:
		return float64(value)
	case int:
		return float64(value)
	}
	t.Fatalf("%s of row %d in %s is no number", id, row, table)
	return 0
}

// randomCases draws a response that differs among groups.
func randomCases(rng *rand.Rand, n, groups int) (response []float64, group []string) {
	for i := range n {
		g := i % groups
		response = append(response, math.Round(100*(rng.NormFloat64()+float64(g)/2))/100)
		group = append(group, string(rune('A'+g)))
	}
	return response, group
}

// Several means compared, and a line on a category, are one fit said in two ways.
func TestMeansAsAFit(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 1))
	for range 20 {
		k := 2 + rng.IntN(4)
		y, g := randomCases(rng, 3*k+rng.IntN(20), k)
		response, group := column("y", "number", y), column("g", "category", g)
		means := mustWork(t, problemOf("anova-one-way", `{"response":"y","group":"g"}`, "", response, group))
		fit := mustWork(t, problemOf("regression-multiple", `{"response":"y","predictors":["g"]}`, "", response, group))
		a, b := quantities(means), quantities(fit)
		assert.InEpsilon(t, a["f"], b["f"], 1e-10)
		assert.InEpsilon(t, a["p"], b["p"], 1e-9)
		assert.InEpsilon(t, a["eta_squared"], b["r_squared"], 1e-10)
		assert.InEpsilon(t, a["ss_within"], b["ss_residual"], 1e-10)
		assert.Equal(t, a["df_within"], b["df_2"])
		// The intercept is the mean of the reference, a coefficient how far a mean lies from it.
		assert.InDelta(t, cellOf(t, means, "groups", 0, "mean"), cellOf(t, fit, "coefficients", 0, "coefficient"), 1e-10)
		for i := 1; i < k; i++ {
			assert.InDelta(t, cellOf(t, means, "effects", i-1, "difference"), cellOf(t, fit, "coefficients", i, "coefficient"), 1e-10)
			assert.InEpsilon(t, cellOf(t, means, "effects", i-1, "p"), cellOf(t, fit, "coefficients", i, "p"), 1e-8)
		}
	}
}

// Of two groups the squares of t and z are F, H and chi-square.
func TestSquaresOfTwoGroups(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 2))
	const roles = `{"response":"y","group":"g"}`
	for range 20 {
		y, g := randomCases(rng, 8+rng.IntN(20), 2)
		response, group := column("y", "number", y), column("g", "category", g)
		pooled := quantities(mustWork(t, problemOf("t-two-sample", roles, `,"options":{"variances":"equal"}`, response, group)))
		means := quantities(mustWork(t, problemOf("anova-one-way", roles, "", response, group)))
		assert.InEpsilon(t, pooled["t"]*pooled["t"], means["f"], 1e-10)
		assert.InEpsilon(t, pooled["p"], means["p"], 1e-9)
		apart := quantities(mustWork(t, problemOf("t-two-sample", roles, "", response, group)))
		welch := quantities(mustWork(t, problemOf("anova-one-way", roles, `,"options":{"variances":"unequal"}`, response, group)))
		assert.InEpsilon(t, apart["t"]*apart["t"], welch["f"], 1e-10)
		assert.InEpsilon(t, apart["df"], welch["df_within"], 1e-10)
		ranks := quantities(mustWork(t, problemOf("rank-sum", roles, "", response, group)))
		several := quantities(mustWork(t, problemOf("rank-k-sample", roles, "", response, group)))
		assert.InEpsilon(t, ranks["z"]*ranks["z"], several["h"], 1e-10)
		assert.InEpsilon(t, ranks["p"], several["p"], 1e-9)
	}
	for range 20 {
		cells := fmt.Sprintf(`[[%d,%d],[%d,%d]]`, 3+rng.IntN(40), 3+rng.IntN(40), 3+rng.IntN(40), 3+rng.IntN(40))
		table := `,"data":{"counts":{"rows":["Mole","Quarry"],"columns":["yes","no"],"cells":` + cells + `}}}`
		for _, continuity := range []string{"false", "true"} {
			options := `,"options":{"continuity":` + continuity + `}`
			two := quantities(mustWork(t, `{"grund":1,"procedure":"proportion-two"`+options+table))
			square := quantities(mustWork(t, `{"grund":1,"procedure":"chi-square-independence"`+options+table))
			assert.InDelta(t, two["z"]*two["z"], square["chi_square"], 1e-10*(1+square["chi_square"]), "%s %s", cells, continuity)
			assert.InEpsilon(t, two["p"], square["p"], 1e-9)
			assert.InEpsilon(t, two["ratio"], square["ratio"], 1e-12)
		}
	}
}

// Pairs are one sample of differences.
func TestPairsAsOneSample(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 3))
	for range 20 {
		var first, second, difference []float64
		for range 6 + rng.IntN(20) {
			a, b := float64(rng.IntN(400)), float64(rng.IntN(400))
			first, second, difference = append(first, a), append(second, b), append(difference, a-b)
		}
		x, y, d := column("x", "number", first), column("y", "number", second), column("d", "number", difference)
		pairs := quantities(mustWork(t, problemOf("t-paired", `{"first":"x","second":"y"}`, "", x, y)))
		one := quantities(mustWork(t, problemOf("t-one-sample", `{"response":"d"}`, "", d)))
		for _, id := range []string{"t", "p", "df", "se", "cohen_d", "ci_low", "ci_high"} {
			assert.InDelta(t, one[id], pairs[id], 1e-10*(1+math.Abs(one[id])), id)
		}
		ranked := quantities(mustWork(t, problemOf("signed-rank", `{"first":"x","second":"y"}`, "", x, y)))
		alone := quantities(mustWork(t, problemOf("signed-rank", `{"response":"d"}`, "", d)))
		for _, id := range []string{"w_plus", "z", "p", "p_exact", "shift", "ci_low", "ci_high"} {
			assert.InDelta(t, alone[id], ranked[id], 1e-10*(1+math.Abs(alone[id])), id)
		}
	}
}

// A category enters a fit as its levels: the same numbers as with columns of 0 and 1, and
// another reference moves the coefficients but nothing that is fitted.
func TestCategoriesAsPredictors(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 4))
	for range 10 {
		y, g := randomCases(rng, 24, 3)
		var x, b, c []float64
		for _, level := range g {
			x = append(x, float64(rng.IntN(50)))
			b = append(b, map[bool]float64{true: 1}[level == "B"])
			c = append(c, map[bool]float64{true: 1}[level == "C"])
		}
		response, number := column("y", "number", y), column("x", "number", x)
		group := column("g", "category", g)
		const roles = `{"response":"y","predictors":["x","g"]}`
		fit := mustWork(t, problemOf("regression-multiple", roles, `,"options":{"predict_at":[[20,"C"]]}`, response, number, group))
		typed := mustWork(t, problemOf("regression-multiple", `{"response":"y","predictors":["x","b","c"]}`,
			`,"options":{"predict_at":[[20,0,1]]}`, response, number, column("b", "number", b), column("c", "number", c)))
		other := mustWork(t, problemOf("regression-multiple", roles, `,"options":{"references":{"g":"B"},"predict_at":[[20,"C"]]}`, response,
			number, group))
		assert.Equal(t, "g: B", fit.Table("coefficients").Row(2)[0].Value)
		assert.Equal(t, "g: A", other.Table("coefficients").Row(2)[0].Value)
		for row := range 4 {
			for _, id := range []string{"coefficient", "se", "t", "p", "ci_low", "ci_high"} {
				want := cellOf(t, typed, "coefficients", row, id)
				assert.InDelta(t, want, cellOf(t, fit, "coefficients", row, id), 1e-10*(1+math.Abs(want)), id)
			}
		}
		a, d := quantities(fit), quantities(other)
		for _, id := range []string{"f", "p", "r_squared", "residual_sd", "ss_residual"} {
			assert.InEpsilon(t, a[id], d[id], 1e-9, id)
		}
		fromA, fromB := cellOf(t, fit, "coefficients", 2, "coefficient"), cellOf(t, other, "coefficients", 2, "coefficient")
		assert.InDelta(t, -fromA, fromB, 1e-10, "B from A is A from B, turned round")
		for _, id := range []string{"fitted", "mean_low", "mean_high", "new_low", "new_high"} {
			want := cellOf(t, typed, "predictions", 0, id)
			assert.InDelta(t, want, cellOf(t, fit, "predictions", 0, id), 1e-10*(1+math.Abs(want)), id)
			assert.InDelta(t, want, cellOf(t, other, "predictions", 0, id), 1e-10*(1+math.Abs(want)), id)
		}
	}
}

// The partial F is what two values of R² give; a new case varies as the mean does and as cases do.
func TestFitsAndPredictions(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	for range 10 {
		n := 12 + rng.IntN(20)
		var y, x, w []float64
		for range n {
			x, w = append(x, float64(rng.IntN(90))), append(w, float64(rng.IntN(90)))
			y = append(y, math.Round(x[len(x)-1]/2+10*rng.NormFloat64()))
		}
		s := mustWork(t, problemOf("regression-multiple", `{"response":"y","predictors":["x","w"]}`,
			`,"options":{"compare":[["x"],["w"]],"predict_at":[[30,40]]}`,
			column("y", "number", y), column("x", "number", x), column("w", "number", w)))
		q := quantities(s)
		for row := 1; row <= 2; row++ {
			smaller := cellOf(t, s, "fits", row, "r_squared")
			want := (q["r_squared"] - smaller) / ((1 - q["r_squared"]) / float64(n-3))
			assert.InDelta(t, want, cellOf(t, s, "fits", row, "f_change"), 1e-9*(1+want))
			// One predictor more: the partial F is the square of its t.
			single := cellOf(t, s, "coefficients", 3-row, "t")
			assert.InDelta(t, single*single, want, 1e-9*(1+want))
			assert.InEpsilon(t, cellOf(t, s, "coefficients", 3-row, "p"), cellOf(t, s, "fits", row, "p_change"), 1e-8)
		}
		half := func(what string) float64 {
			return (cellOf(t, s, "predictions", 0, what+"_high") - cellOf(t, s, "predictions", 0, what+"_low")) / 2
		}
		quantile := (cellOf(t, s, "coefficients", 1, "ci_high") - cellOf(t, s, "coefficients", 1, "coefficient")) / cellOf(t, s, "coefficients",
			1, "se")
		assert.InEpsilon(t, math.Hypot(half("mean"), quantile*q["residual_sd"]), half("new"), 1e-9)
	}
}

// The table of pairs holds what the procedure gives of each two, and the correlation of ranks is
// that of the ranks.
func TestCorrelationsOfPairs(t *testing.T) {
	x := []float64{3, 1, 4, 1, 5, 9, 2, 6, 5, 3}
	y := []float64{2, 7, 1, 8, 2, 8, 1, 8, 2, 8}
	z := []float64{1, 4, 1, 4, 2, 1, 3, 5, 6, 2}
	midranks := map[string][]float64{"x": {4.5, 1.5, 6, 1.5, 7.5, 10, 3, 9, 7.5, 4.5}, "y": {4, 6, 1.5, 8.5, 4, 8.5, 1.5, 8.5, 4, 8.5}}
	variables := []string{column("x", "number", x), column("y", "number", y), column("z", "number", z)}
	for _, method := range []string{"pearson", "spearman"} {
		options := `,"options":{"method":"` + method + `"}`
		all := mustWork(t, problemOf("correlation", `{"variables":["x","y","z"]}`, options, variables...))
		assert.Nil(t, all.Decision)
		require.Equal(t, 3, all.Table("pairs").Total)
		for row, names := range []string{`["x","y"]`, `["x","z"]`, `["y","z"]`} {
			two := quantities(mustWork(t, problemOf("correlation", `{"variables":`+names+`}`, options, variables...)))
			for _, id := range []string{"r", "t", "p", "ci_low", "ci_high"} {
				assert.InDelta(t, two[id], cellOf(t, all, "pairs", row, id), 1e-12, "%s of %s", id, names)
			}
		}
	}
	ranked := quantities(mustWork(t, problemOf("correlation", `{"variables":["x","y"]}`, `,"options":{"method":"spearman"}`, variables...)))
	ranks := quantities(mustWork(t, problemOf("correlation", `{"variables":["x","y"]}`, "", column("x", "number", midranks["x"]),
		column("y", "number", midranks["y"]))))
	assert.InDelta(t, ranks["r"], ranked["r"], 1e-13)
	assert.InDelta(t, ranks["p"], ranked["p"], 1e-12)
}

// Pairs of answers are the same from cases as from their counts, with codes, names, missing cells
// and a case that is left out.
func TestPairsOfAnswersFromCases(t *testing.T) {
	before := column("before", "category", []string{"yes", "yes", "no", "no", "yes", "no", "no", "yes", "no"})
	after := strings.Replace(column("after", "category", []string{"no", "yes", "yes", "no", "yes", "yes", "yes", "gone", "yes"}), `"gone"`,
		"null", 1)
	s := mustWork(t, problemOf("paired-proportions", `{"first":"before","second":"after"}`, `,"leave_out":[{"case":9}]`, before, after))
	assert.Equal(t, working.Cases{Given: 9, Used: 7, LeftOut: 2}, s.Cases)
	counted := mustWork(t, `{"grund":1,"procedure":"paired-proportions","data":{"counts":{"rows":["yes","no"],"columns":["yes","no"],`+
		`"cells":[[2,1],[3,1]]}}}`)
	a, b := quantities(s), quantities(counted)
	for _, id := range []string{"chi_square", "df", "p", "p_exact"} {
		assert.Equal(t, b[id], a[id], id)
	}
	assert.InDelta(t, 1, a["chi_square"], 1e-15, "(1 − 3)² / 4")
	assert.InDelta(t, 2*5.0/16, a["p_exact"], 1e-15, "twice the probability of at most one of four")
	cases := s.Table("cases")
	require.Equal(t, 7, cases.Total)
	assert.Equal(t, []any{3, "no", "yes"}, []any{cases.Row(2)[0].Value, cases.Row(2)[1].Value, cases.Row(2)[2].Value})

	// The second answer may list its levels in another order, and as codes.
	coded := `{"name":"after","kind":"category","levels":["1","0"],"level_names":{"0":"no","1":"yes"},"values":[0,1,1,0,1,1,1,null,1]}`
	first := `{"name":"before","kind":"category","level_names":{"0":"no","1":"yes"},"values":[1,1,0,0,1,0,0,1,0]}`
	c := quantities(mustWork(t, problemOf("paired-proportions", `{"first":"before","second":"after"}`, `,"leave_out":[{"case":9}]`, first,
		coded)))
	assert.Equal(t, a["p_exact"], c["p_exact"])

	checkRefusals(t, map[string]refusal{
		"three levels together": {problemOf("paired-proportions", `{"first":"a","second":"b"}`, "",
			column("a", "category", []string{"x", "y", "x"}), column("b", "category", []string{"x", "z", "y"})), "/roles/second",
			"3 levels together"},
		"no change": {problemOf("paired-proportions", `{"first":"a","second":"b"}`, "", column("a", "category", []string{"x", "y", "x"}),
			column("b", "category", []string{"x", "y", "x"})), "/roles/second", "no pair differs"},
	})
}

// Counts against proportions are the same from cases; a level that was never seen counts 0.
func TestProportionsFromCases(t *testing.T) {
	days := `{"name":"day","kind":"category","levels":["Mon","Tue","Wed"],"values":["Tue","Mon","Tue",null,"Tue","Mon"]}`
	s := mustWork(t, problemOf("chi-square-fit", `{"response":"day"}`, `,"options":{"proportions":[2,2,1]}`, days))
	counted := mustWork(t, `{"grund":1,"procedure":"chi-square-fit","options":{"proportions":[2,2,1]},`+
		`"data":{"counts":{"categories":["Mon","Tue","Wed"],"observed":[2,3,0]}}}`)
	assert.Equal(t, working.Cases{Given: 6, Used: 5, LeftOut: 1}, s.Cases)
	assert.Equal(t, quantities(counted)["chi_square"], quantities(s)["chi_square"])
	assert.InDelta(t, 0+0.5+1, quantities(s)["chi_square"], 1e-15) // (2 − 2)²/2 + (3 − 2)²/2 + (0 − 1)²/1
	assert.InDelta(t, 0, cellOf(t, s, "categories", 2, "observed"), 0)
	assert.InDelta(t, 1, cellOf(t, s, "categories", 2, "expected"), 1e-15)

	checkRefusals(t, map[string]refusal{
		"one level": {problemOf("chi-square-fit", `{"response":"day"}`, "", column("day", "category", []string{"Mon", "Mon"})),
			"/roles/response", "1 category"},
		"nothing counted": {`{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"categories":["a","b"],"observed":[0,0]}}}`,
			"/data/counts/observed", "nothing was counted"},
		"counts in a table": {`{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"rows":["a","b"],"columns":["x"],"cells":[[1],[2]]}}}`,
			"/data/counts", "counts of categories"},
	})
}
