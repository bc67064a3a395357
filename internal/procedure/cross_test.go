package procedure_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// Several means compared, and a line on a category, are one fit said in two ways.
func TestMeansAsAFit(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 1))
	for range 20 {
		k := 2 + rng.IntN(4)
		y, g := proctest.RandomCases(rng, 3*k+rng.IntN(20), k)
		response, group := proctest.Column("y", "number", y), proctest.Column("g", "category", g)
		means := proctest.Work(t, proctest.Problem("anova-one-way", `{"response":"y","group":"g"}`, "", response, group))
		fit := proctest.Work(t, proctest.Problem("regression-multiple", `{"response":"y","predictors":["g"]}`, "", response, group))
		a, b := proctest.Quantities(means), proctest.Quantities(fit)
		assert.InEpsilon(t, a["f"], b["f"], 1e-10)
		assert.InEpsilon(t, a["p"], b["p"], 1e-9)
		assert.InEpsilon(t, a["eta_squared"], b["r_squared"], 1e-10)
		assert.InEpsilon(t, a["ss_within"], b["ss_residual"], 1e-10)
		assert.Equal(t, a["df_within"], b["df_2"])
		// The intercept is the mean of the reference, a coefficient how far a mean lies from it.
		assert.InDelta(t, proctest.Cell(t, means, "groups", 0, "mean"), proctest.Cell(t, fit, "coefficients", 0, "coefficient"), 1e-10)
		for i := 1; i < k; i++ {
			assert.InDelta(t, proctest.Cell(t, means, "effects", i-1, "difference"), proctest.Cell(t, fit, "coefficients", i, "coefficient"), 1e-10)
			assert.InEpsilon(t, proctest.Cell(t, means, "effects", i-1, "p"), proctest.Cell(t, fit, "coefficients", i, "p"), 1e-8)
		}
	}
}

// Of two groups the squares of t and z are F, H and chi-square.
func TestSquaresOfTwoGroups(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 2))
	const roles = `{"response":"y","group":"g"}`
	for range 20 {
		y, g := proctest.RandomCases(rng, 8+rng.IntN(20), 2)
		response, group := proctest.Column("y", "number", y), proctest.Column("g", "category", g)
		pooled := proctest.Quantities(proctest.Work(t,
			proctest.Problem("t-two-sample", roles, `,"options":{"variances":"equal"}`, response, group)))
		means := proctest.Quantities(proctest.Work(t, proctest.Problem("anova-one-way", roles, "", response, group)))
		assert.InEpsilon(t, pooled["t"]*pooled["t"], means["f"], 1e-10)
		assert.InEpsilon(t, pooled["p"], means["p"], 1e-9)
		apart := proctest.Quantities(proctest.Work(t, proctest.Problem("t-two-sample", roles, "", response, group)))
		welch := proctest.Quantities(proctest.Work(t,
			proctest.Problem("anova-one-way", roles, `,"options":{"variances":"unequal"}`, response, group)))
		assert.InEpsilon(t, apart["t"]*apart["t"], welch["f"], 1e-10)
		assert.InEpsilon(t, apart["df"], welch["df_within"], 1e-10)
		ranks := proctest.Quantities(proctest.Work(t, proctest.Problem("rank-sum", roles, "", response, group)))
		several := proctest.Quantities(proctest.Work(t, proctest.Problem("rank-k-sample", roles, "", response, group)))
		assert.InEpsilon(t, ranks["z"]*ranks["z"], several["h"], 1e-10)
		assert.InEpsilon(t, ranks["p"], several["p"], 1e-9)
	}
	for range 20 {
		cells := fmt.Sprintf(`[[%d,%d],[%d,%d]]`, 3+rng.IntN(40), 3+rng.IntN(40), 3+rng.IntN(40), 3+rng.IntN(40))
		table := `,"data":{"counts":{"rows":["Mole","Quarry"],"columns":["yes","no"],"cells":` + cells + `}}}`
		for _, continuity := range []string{"false", "true"} {
			options := `,"options":{"continuity":` + continuity + `}`
			two := proctest.Quantities(proctest.Work(t, `{"grund":1,"procedure":"proportion-two"`+options+table))
			square := proctest.Quantities(proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence"`+options+table))
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
		x, y, d := proctest.Column("x", "number", first), proctest.Column("y", "number", second), proctest.Column("d", "number", difference)
		pairs := proctest.Quantities(proctest.Work(t, proctest.Problem("t-paired", `{"first":"x","second":"y"}`, "", x, y)))
		one := proctest.Quantities(proctest.Work(t, proctest.Problem("t-one-sample", `{"response":"d"}`, "", d)))
		for _, id := range []string{"t", "p", "df", "se", "cohen_d", "ci_low", "ci_high"} {
			assert.InDelta(t, one[id], pairs[id], 1e-10*(1+math.Abs(one[id])), id)
		}
		ranked := proctest.Quantities(proctest.Work(t, proctest.Problem("signed-rank", `{"first":"x","second":"y"}`, "", x, y)))
		alone := proctest.Quantities(proctest.Work(t, proctest.Problem("signed-rank", `{"response":"d"}`, "", d)))
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
		y, g := proctest.RandomCases(rng, 24, 3)
		var x, b, c []float64
		for _, level := range g {
			x = append(x, float64(rng.IntN(50)))
			b = append(b, map[bool]float64{true: 1}[level == "B"])
			c = append(c, map[bool]float64{true: 1}[level == "C"])
		}
		response, number := proctest.Column("y", "number", y), proctest.Column("x", "number", x)
		group := proctest.Column("g", "category", g)
		const roles = `{"response":"y","predictors":["x","g"]}`
		fit := proctest.Work(t, proctest.Problem("regression-multiple", roles, `,"options":{"predict_at":[[20,"C"]]}`, response, number, group))
		typed := proctest.Work(t, proctest.Problem("regression-multiple", `{"response":"y","predictors":["x","b","c"]}`,
			`,"options":{"predict_at":[[20,0,1]]}`, response, number, proctest.Column("b", "number", b), proctest.Column("c", "number", c)))
		other := proctest.Work(t, proctest.Problem("regression-multiple", roles, `,"options":{"references":{"g":"B"},"predict_at":[[20,"C"]]}`,
			response,
			number, group))
		assert.Equal(t, "g: B", fit.Table("coefficients").Row(2)[0].Value)
		assert.Equal(t, "g: A", other.Table("coefficients").Row(2)[0].Value)
		for row := range 4 {
			for _, id := range []string{"coefficient", "se", "t", "p", "ci_low", "ci_high"} {
				want := proctest.Cell(t, typed, "coefficients", row, id)
				assert.InDelta(t, want, proctest.Cell(t, fit, "coefficients", row, id), 1e-10*(1+math.Abs(want)), id)
			}
		}
		a, d := proctest.Quantities(fit), proctest.Quantities(other)
		for _, id := range []string{"f", "p", "r_squared", "residual_sd", "ss_residual"} {
			assert.InEpsilon(t, a[id], d[id], 1e-9, id)
		}
		fromA, fromB := proctest.Cell(t, fit, "coefficients", 2, "coefficient"), proctest.Cell(t, other, "coefficients", 2, "coefficient")
		assert.InDelta(t, -fromA, fromB, 1e-10, "B from A is A from B, turned round")
		for _, id := range []string{"fitted", "mean_low", "mean_high", "new_low", "new_high"} {
			want := proctest.Cell(t, typed, "predictions", 0, id)
			assert.InDelta(t, want, proctest.Cell(t, fit, "predictions", 0, id), 1e-10*(1+math.Abs(want)), id)
			assert.InDelta(t, want, proctest.Cell(t, other, "predictions", 0, id), 1e-10*(1+math.Abs(want)), id)
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
		s := proctest.Work(t, proctest.Problem("regression-multiple", `{"response":"y","predictors":["x","w"]}`,
			`,"options":{"compare":[["x"],["w"]],"predict_at":[[30,40]]}`,
			proctest.Column("y", "number", y), proctest.Column("x", "number", x), proctest.Column("w", "number", w)))
		q := proctest.Quantities(s)
		for row := 1; row <= 2; row++ {
			smaller := proctest.Cell(t, s, "fits", row, "r_squared")
			want := (q["r_squared"] - smaller) / ((1 - q["r_squared"]) / float64(n-3))
			assert.InDelta(t, want, proctest.Cell(t, s, "fits", row, "f_change"), 1e-9*(1+want))
			// One predictor more: the partial F is the square of its t.
			single := proctest.Cell(t, s, "coefficients", 3-row, "t")
			assert.InDelta(t, single*single, want, 1e-9*(1+want))
			assert.InEpsilon(t, proctest.Cell(t, s, "coefficients", 3-row, "p"), proctest.Cell(t, s, "fits", row, "p_change"), 1e-8)
		}
		half := func(what string) float64 {
			return (proctest.Cell(t, s, "predictions", 0, what+"_high") - proctest.Cell(t, s, "predictions", 0, what+"_low")) / 2
		}
		quantile := (proctest.Cell(t, s, "coefficients", 1, "ci_high") - proctest.Cell(t, s, "coefficients", 1, "coefficient")) / proctest.Cell(
			t, s, "coefficients",
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
	variables := []string{proctest.Column("x", "number", x), proctest.Column("y", "number", y), proctest.Column("z", "number", z)}
	for _, method := range []string{"pearson", "spearman"} {
		options := `,"options":{"method":"` + method + `"}`
		all := proctest.Work(t, proctest.Problem("correlation", `{"variables":["x","y","z"]}`, options, variables...))
		assert.Nil(t, all.Decision)
		require.Equal(t, 3, all.Table("pairs").Total)
		for row, names := range []string{`["x","y"]`, `["x","z"]`, `["y","z"]`} {
			two := proctest.Quantities(proctest.Work(t, proctest.Problem("correlation", `{"variables":`+names+`}`, options, variables...)))
			for _, id := range []string{"r", "t", "p", "ci_low", "ci_high"} {
				assert.InDelta(t, two[id], proctest.Cell(t, all, "pairs", row, id), 1e-12, "%s of %s", id, names)
			}
		}
	}
	ranked := proctest.Quantities(proctest.Work(t,
		proctest.Problem("correlation", `{"variables":["x","y"]}`, `,"options":{"method":"spearman"}`, variables...)))
	ranks := proctest.Quantities(proctest.Work(t,
		proctest.Problem("correlation", `{"variables":["x","y"]}`, "", proctest.Column("x", "number", midranks["x"]),
			proctest.Column("y", "number", midranks["y"]))))
	assert.InDelta(t, ranks["r"], ranked["r"], 1e-13)
	assert.InDelta(t, ranks["p"], ranked["p"], 1e-12)
}

// Pairs of answers are the same from cases as from their counts, with codes, names, missing cells
// and a case that is left out.
func TestPairsOfAnswersFromCases(t *testing.T) {
	before := proctest.Column("before", "category", []string{"yes", "yes", "no", "no", "yes", "no", "no", "yes", "no"})
	after := strings.Replace(proctest.Column("after", "category", []string{"no", "yes", "yes", "no", "yes", "yes", "yes", "gone", "yes"}),
		`"gone"`,
		"null", 1)
	s := proctest.Work(t, proctest.Problem("paired-proportions", `{"first":"before","second":"after"}`, `,"leave_out":[{"case":9}]`, before,
		after))
	assert.Equal(t, working.Cases{Given: 9, Used: 7, LeftOut: 2}, s.Cases)
	counted := proctest.Work(t, `{"grund":1,"procedure":"paired-proportions","data":{"counts":{"rows":["yes","no"],"columns":["yes","no"],`+
		`"cells":[[2,1],[3,1]]}}}`)
	a, b := proctest.Quantities(s), proctest.Quantities(counted)
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
	c := proctest.Quantities(proctest.Work(t, proctest.Problem("paired-proportions", `{"first":"before","second":"after"}`,
		`,"leave_out":[{"case":9}]`, first,
		coded)))
	assert.Equal(t, a["p_exact"], c["p_exact"])

	proctest.CheckRefusals(t, proctest.Refusals{
		"three levels together": {proctest.Problem("paired-proportions", `{"first":"a","second":"b"}`, "",
			proctest.Column("a", "category", []string{"x", "y", "x"}), proctest.Column("b", "category", []string{"x", "z", "y"})), "/roles/second",
			"3 levels together"},
		"no change": {proctest.Problem("paired-proportions", `{"first":"a","second":"b"}`, "",
			proctest.Column("a", "category", []string{"x", "y", "x"}),
			proctest.Column("b", "category", []string{"x", "y", "x"})), "/roles/second", "no pair differs"},
	})
}

// Counts against proportions are the same from cases; a level that was never seen counts 0.
func TestProportionsFromCases(t *testing.T) {
	days := `{"name":"day","kind":"category","levels":["Mon","Tue","Wed"],"values":["Tue","Mon","Tue",null,"Tue","Mon"]}`
	s := proctest.Work(t, proctest.Problem("chi-square-fit", `{"response":"day"}`, `,"options":{"proportions":[2,2,1]}`, days))
	counted := proctest.Work(t, `{"grund":1,"procedure":"chi-square-fit","options":{"proportions":[2,2,1]},`+
		`"data":{"counts":{"categories":["Mon","Tue","Wed"],"observed":[2,3,0]}}}`)
	assert.Equal(t, working.Cases{Given: 6, Used: 5, LeftOut: 1}, s.Cases)
	assert.Equal(t, proctest.Quantities(counted)["chi_square"], proctest.Quantities(s)["chi_square"])
	assert.InDelta(t, 0+0.5+1, proctest.Quantities(s)["chi_square"], 1e-15) // (2 − 2)²/2 + (3 − 2)²/2 + (0 − 1)²/1
	assert.InDelta(t, 0, proctest.Cell(t, s, "categories", 2, "observed"), 0)
	assert.InDelta(t, 1, proctest.Cell(t, s, "categories", 2, "expected"), 1e-15)

	proctest.CheckRefusals(t, proctest.Refusals{
		"one level": {proctest.Problem("chi-square-fit", `{"response":"day"}`, "", proctest.Column("day", "category", []string{"Mon", "Mon"})),
			"/roles/response", "1 category"},
		"nothing counted": {`{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"categories":["a","b"],"observed":[0,0]}}}`,
			"/data/counts/observed", "nothing was counted"},
		"counts in a table": {`{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"rows":["a","b"],"columns":["x"],"cells":[[1],[2]]}}}`,
			"/data/counts", "counts of categories"},
	})
}
