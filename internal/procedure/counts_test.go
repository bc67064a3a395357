package procedure_test

import (
	"math"
	"math/big"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
	"grund/internal/stats"
	"grund/internal/stats/exact"
	"grund/internal/working"
)

// The expected numbers were made by testdata/counts.py.
func TestCountsAgainstReferences(t *testing.T) { proctest.CheckReferences(t, "counts.json") }

// The classes that are left after merging, by the same references.
func TestBinsAgainstReferences(t *testing.T) {
	file, err := os.ReadFile("testdata/counts.json")
	require.NoError(t, err)
	var cases []struct {
		Name    string         `json:"name"`
		Problem jsontext.Value `json:"problem"`
		Bins    []struct {
			Observed int    `json:"observed"`
			Expected string `json:"expected"`
			Merged   int    `json:"merged"`
		} `json:"bins"`
	}
	require.NoError(t, json.Unmarshal(file, &cases))
	checked := 0
	for _, c := range cases {
		if c.Bins == nil {
			continue
		}
		table := proctest.Work(t, string(c.Problem)).Table("bins")
		require.Equal(t, len(c.Bins), table.Total, c.Name)
		at := map[string]int{}
		for i, column := range table.Columns {
			at[column.ID] = i
		}
		for i, bin := range c.Bins {
			row := table.Row(i)
			want, err := strconv.ParseFloat(bin.Expected, 64)
			require.NoError(t, err)
			assert.Equal(t, bin.Observed, row[at["observed"]].Value, c.Name)
			assert.Equal(t, bin.Merged, row[at["merged"]].Value, c.Name)
			assert.InEpsilon(t, want, float64(row[at["expected"]].Value.(working.Number)), 1e-11, c.Name)
			checked++
		}
	}
	assert.Greater(t, checked, 20)
}

func tickets(procedure, more string) string {
	return `{"grund":1,"procedure":"` + procedure + `","data":{"counts":{"row_variable":{"label":"Reason"},` +
		`"column_variable":{"label":"Ticket"},"rows":["work","school","leisure"],"columns":["single","return","monthly"],"cells":[[24,33,` +
		`62],[3,3,1],[57,41,10]]}}` + more + `}`
}

// Levels that are joined or left out give the table that could have been typed.
func TestJoinAndOmit(t *testing.T) {
	typed := func(rows, cells string) *working.Solution {
		return proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":`+rows+
			`,"columns":["single","return","monthly"],"cells":`+cells+`}}}`)
	}
	joined := proctest.Work(t, tickets("chi-square-independence", `,"options":{"join":{"rows":[["leisure","school"]],"columns":[]}}`))
	assert.InDelta(t, proctest.Quantities(typed(`["work","school + leisure"]`, `[[24,33,62],[60,44,11]]`))["chi_square"],
		proctest.Quantities(joined)["chi_square"], 1e-12)
	assert.Equal(t, "school + leisure", joined.Table("cells").Row(3)[0].Value)

	omitted := proctest.Work(t, tickets("chi-square-independence", `,"options":{"omit":{"rows":["school"]}}`))
	assert.InDelta(t, proctest.Quantities(typed(`["work","leisure"]`, `[[24,33,62],[57,41,10]]`))["chi_square"],
		proctest.Quantities(omitted)["chi_square"],
		1e-12)
	assert.Equal(t, working.Cases{Given: 234, Used: 227, LeftOut: 7}, omitted.Cases)

	empty := proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["a","b","c"],"columns":["x","y"],`+
		`"cells":[[5,6],[0,0],[7,2]]}}}`)
	require.Len(t, empty.Notes, 1)
	assert.Contains(t, empty.Notes[0], "“b”")
	assert.Equal(t, 1.0, proctest.Quantities(empty)["df"])
}

// The two answers of pairs are told by their labels, in whatever order the columns stand.
func TestPairsInTheOtherOrder(t *testing.T) {
	pairs := func(columns, cells string) map[string]float64 {
		return proctest.Quantities(proctest.Work(t, `{"grund":1,"procedure":"paired-proportions","data":{"counts":{"rows":["yes","no"],`+
			`"columns":`+columns+
			`,"cells":`+cells+`}}}`))
	}
	assert.Equal(t, pairs(`["yes","no"]`, `[[30,12],[5,13]]`), pairs(`["no","yes"]`, `[[12,30],[13,5]]`))
}

// Given the totals, an exact p and an interval of half of alpha on each side may part, and
// then it is said.
func TestExactIntervalAndPPart(t *testing.T) {
	exact := func(cells string) *working.Solution {
		return proctest.Work(t, `{"grund":1,"procedure":"exact-independence","data":{"counts":{"rows":["Mole","Quarry"],"columns":["yes","no"],`+
			`"cells":`+cells+`}}}`)
	}
	parts := func(s *working.Solution) bool {
		return strings.Contains(working.Markdown(s, ""), "the interval and the p-value part")
	}
	s := exact(`[[9,2],[4,8]]`)
	assert.True(t, s.Decision.Reject)
	assert.Less(t, proctest.Quantities(s)["ci_low"], 1.0)
	assert.True(t, parts(s))
	assert.False(t, parts(exact(`[[20,10],[15,25]]`)))
	assert.False(t, parts(exact(`[[3,1],[1,3]]`)))
}

// A row against the rest is the test of the table of these two.
func TestRowsAgainstTheRest(t *testing.T) {
	table := proctest.Work(t, tickets("chi-square-independence", "")).Table("rows")
	require.Equal(t, 3, table.Total)
	for i, rest := range []string{`[[24,33,62],[60,44,11]]`, `[[3,3,1],[81,74,72]]`, `[[57,41,10],[27,36,63]]`} {
		alone := proctest.Quantities(proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["a","rest"],`+
			`"columns":["single","return","monthly"],"cells":`+rest+`}}}`))
		assert.InEpsilon(t, alone["chi_square"], float64(table.Row(i)[1].Value.(working.Number)), 1e-12)
		assert.InEpsilon(t, alone["p"], float64(table.Row(i)[3].Value.(working.Number)), 1e-12)
	}
}

// The likelihood ratio decides where it is asked for: here it rejects and Pearson's chi-square, corrected or not,
// does not. G is calculated once more from the logarithms of counts and totals: 2 (Σ O ln O − Σ R ln R − Σ C ln C + n ln n).
func TestLikelihoodRatio(t *testing.T) {
	work := func(options string) *working.Solution {
		return proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["a","b"],"columns":["x","y"],`+
			`"cells":[[0,6],[5,9]]}}`+options+`}`)
	}
	times := func(x float64) float64 { return x * math.Log(x) }
	g := 2 * (times(9) - times(14) - times(15) + times(20)) // 5 and 6 stand in cells and in totals
	pearson, ratio := work(""), work(`,"options":{"statistic":"likelihood_ratio"}`)
	of, with := proctest.Quantities(pearson), proctest.Quantities(ratio)
	for _, q := range []map[string]float64{of, with} {
		assert.InEpsilon(t, g, q["g"], 1e-12)
		assert.InEpsilon(t, 20*900/6300.0, q["chi_square"], 1e-12) // n (ad − bc)² over the product of the totals
		assert.InEpsilon(t, math.Erfc(math.Sqrt(g/2)), q["p_g"], 1e-12)
	}
	assert.Equal(t, []float64{with["p_g"], of["p"]}, []float64{with["p"], with["p_chi_square"]})
	assert.Equal(t, []bool{false, true}, []bool{pearson.Decision.Reject, ratio.Decision.Reject})
	assert.InEpsilon(t, 3.0, with["deviance_1"], 1e-12, "nothing observed in a, x adds twice what is expected, 2 · 6 · 5 / 20")
	assert.Contains(t, ratio.Report, "Likelihood ratio test of independence: Row and column, G(1, N = 20) = 4.244, p = 0.0394,")
	assert.NotContains(t, pearson.Report, "ikelihood")
	assert.Equal(t, "p_chi_square", string(ratio.Table("ways").Row(0)[3].Ref))

	both := work(`,"options":{"statistic":"likelihood_ratio","continuity":true}`)
	assert.InEpsilon(t, with["p"], proctest.Quantities(both)["p"], 1e-15, "G takes no correction")
	assert.Equal(t, "likelihood ratio test of independence", both.Test)

	large := proctest.Work(t, tickets("chi-square-independence", `,"options":{"statistic":"likelihood_ratio"}`))
	expected := 108 * 73 / 234.0 // of leisure, monthly, whose 10 give most
	assert.InEpsilon(t, 2*(10*math.Log(10/expected)-10+expected), proctest.Quantities(large)["deviance_1"], 1e-12)
}

// From cases: codes with names, missing cells, and the same numbers as from their table.
func TestIndependenceFromCases(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","roles":{"row":"reason","column":"ticket"},
		"options":{"omit":{"columns":["monthly"]}},"data":{"variables":[
		{"name":"reason","kind":"category","level_names":{"1":"work","2":"leisure"},"values":[1,1,2,2,2,1,null,2,1,2]},
		{"name":"ticket","kind":"category","values":["single","return","single","single","return","return","single","single","monthly",null]}]}}`)
	assert.Equal(t, working.Cases{Given: 10, Used: 7, LeftOut: 3}, s.Cases)
	assert.Equal(t, []any{"work", "single", 1}, []any{s.Table("cells").Row(0)[0].Value, s.Table("cells").Row(0)[1].Value,
		s.Table("cells").Row(0)[2].Value})
	assert.InDelta(t, 7.0*25/(3*4*4*3), proctest.Quantities(s)["chi_square"], 1e-12) // (1·1 − 2·3)² n / product of the totals
}

func TestCountsRefuse(t *testing.T) {
	cells := func(procedure, cells, more string) string {
		return `{"grund":1,"procedure":"` + procedure + `","data":{"counts":{"rows":["a","b"],"columns":["x","y"],"cells":` + cells + `}}` +
			more + `}`
	}
	fit := func(more string) string {
		return `{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"categories":["a","b","c"],"observed":[3,4,5]}}` + more + `}`
	}
	values := func(list, options string) string {
		return `{"grund":1,"procedure":"chi-square-distribution","roles":{"response":"x"},"options":` + options +
			`,"data":{"variables":[{"name":"x","kind":"number","values":` + list + `}]}}`
	}
	proctest.CheckRefusals(t, proctest.Refusals{
		"a direction": {cells("chi-square-independence", "[[1,2],[3,4]]", `,"tail":"left"`), "/tail", "no direction"},
		"correction of a larger table": {tickets("chi-square-independence", `,"options":{"continuity":true}`), "/options/continuity",
			"3 rows and 3 columns"},
		"an unknown level": {tickets("chi-square-independence", `,"options":{"join":{"rows":[["work","wrok"]]}}`),
			"/options/join/rows", "wrok"},
		"a level joined twice": {tickets("chi-square-independence",
			`,"options":{"join":{"rows":[["work","school"],["school","leisure"]]}}`), "/options/join/rows", "joined twice"},
		"joined and left out": {tickets("chi-square-independence",
			`,"options":{"join":{"rows":[["work","school"]]},"omit":{"rows":["school"]}}`), "/options/join/rows", "joined and left out"},
		"one level left": {tickets("chi-square-independence", `,"options":{"join":{"rows":[["work","school","leisure"]]}}`),
			"/data/counts/rows", "1 level"},
		"join that is no list": {tickets("chi-square-independence", `,"options":{"join":["work","school"]}`), "/options/join",
			"it must be as"},
		"join of one": {tickets("chi-square-independence", `,"options":{"join":{"rows":[["work"]]}}`), "/options/join",
			"it must be as"},
		"join with another field": {tickets("chi-square-independence", `,"options":{"join":{"row":[["work","school"]]}}`),
			"/options/join", "its fields are"},
		"nothing counted": {cells("chi-square-independence", "[[0,0],[0,0]]", ""), "/data/counts/cells", "nothing is counted"},
		"counts of one variable": {`{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"categories":["a","b"],` +
			`"observed":[3,4]}}}`, "/data/counts", "a table of two is needed"},
		"an order that names one twice": {tickets("chi-square-independence", `,"options":{"order":{"rows":["work","work"]}}`),
			"/options/order/rows", "named twice"},
		"an order of unknown levels": {tickets("chi-square-independence", `,"options":{"order":{"columns":["weekly"]}}`),
			"/options/order/columns", "weekly"},
		"too few proportions in a row": {tickets("chi-square-independence", `,"options":{"within":[1,2]}`), "/options/within",
			"2 proportions are given for 3 columns"},
		"a direction of a larger table": {tickets("exact-independence", `,"tail":"right"`), "/tail", "only a table of two and two"},
		"too many for every table": {cells("exact-independence", "[[600000,1],[2,600000]]", ""), "/data/counts/cells",
			"1200003 cases are too many"},
		"no discordant pair":          {cells("paired-proportions", "[[5,0],[0,7]]", ""), "/data/counts/cells", "no pair differs"},
		"pairs of three":              {tickets("paired-proportions", ""), "/data/counts", "two rows and two columns"},
		"too few proportions":         {fit(`,"options":{"proportions":[1,2]}`), "/options/proportions", "2 proportions are given for 3"},
		"a proportion of 0":           {fit(`,"options":{"proportions":[1,0,2]}`), "/options/proportions", "above 0"},
		"proportions that are a word": {fit(`,"options":{"proportions":"alike"}`), "/options/proportions", "equal"},
		"an unknown parameter":        {values("[1,2,3,4]", `{"parameters":{"rat":1}}`), "/options/parameters/rat", "rate"},
		"trials are not given":        {values("[1,2,3,4]", `{"distribution":"binomial"}`), "/options/parameters/trials", "number of trials"},
		"a negative waiting time":     {values("[1,2,-3,40]", `{"parameters":{"rate":1}}`), "/roles/response", "case 3 is −3"},
		"half an event":               {values("[1,2,2.5,4]", `{"distribution":"poisson"}`), "/roles/response", "whole numbers only"},
		"beyond the trials": {values("[1,2,9,4]", `{"distribution":"binomial","parameters":{"trials":5}}`), "/roles/response",
			"no values above 5"},
		"boundaries that do not increase": {values("[1,2,3,4]", `{"boundaries":[0,2,2,4]}`), "/options/boundaries/2", "do not increase"},
		"two boundaries":                  {values("[1,2,3,4]", `{"boundaries":[0,2]}`), "/options/boundaries", "three boundaries"},
		"no degrees of freedom":           {values("[1,2,3,4]", `{"boundaries":[0,2,4]}`), "/options/boundaries", "no degrees of freedom"},
		"classes without parameters": {`{"grund":1,"procedure":"chi-square-distribution","data":{"counts":{"boundaries":[0,1,2],` +
			`"observed":[3,4]}}}`, "/options/parameters/rate", "give it"},
		"a rate of 0":            {values("[1,2,3,4]", `{"parameters":{"rate":0}}`), "/options/parameters/rate", "above 0"},
		"all equal and normal":   {values("[2,2,2,2]", `{"distribution":"normal"}`), "/roles/response", "above 0"},
		"a negative least count": {values("[1,2,3,4]", `{"min_expected":-1}`), "/options/min_expected", "0 or above"},
	})
}

// With very many cases the curve is as good, and nothing stands beside it.
func TestFitOfVeryManyCases(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"categories":["a","b","c"],"observed":[500000000000000,`+
		`500000020000000,499999980000000]}}}`)
	q := proctest.Quantities(s)
	assert.InEpsilon(t, 1.6, q["chi_square"], 1e-12) // 2 · (2·10⁷)² / (5·10¹⁴)
	assert.InEpsilon(t, math.Exp(-0.8), q["p"], 1e-12)
	assert.True(t, math.IsNaN(q["p_exact"]))
	assert.NotContains(t, q, "p_simulated")
}

// A table too large to count gets a p-value from simulation, which says how sure it is.
// With large counts it lies near that of the chi-square curve.
func TestExactTestOfALargeTable(t *testing.T) {
	counts := `"data":{"counts":{"rows":["a","b","c","d","e"],"columns":["u","v","w","x","y","z"],"cells":[[50,60,55,52,61,48],[49,52,` +
		`53,61,50,60],[61,55,48,50,52,58],[52,58,60,47,51,49],[60,50,49,58,47,55]]}}}`
	s := proctest.Work(t, `{"grund":1,"procedure":"exact-independence",`+counts)
	assert.True(t, math.IsNaN(proctest.Quantities(s)["p"]))
	p, se := proctest.Quantities(s)["p_simulated"], proctest.Quantities(s)["se_simulated"]
	assert.InDelta(t, math.Sqrt(p*(1-p)/20_000), se, 1e-12)
	curve := proctest.Quantities(proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence",`+counts))["p"]
	assert.InDelta(t, curve, p, 0.02, "the curve is near with such counts")
	assert.Equal(t, working.Ref("p_simulated"), s.Decision.P)
	assert.False(t, s.Decision.Reject)
	assert.Nil(t, s.Decision.ByCriticalValue)
}

// Where all counts are too many to look at, drawn ones stand in; where both can be had they
// agree within what chance leaves.
func TestSimulatedExactP(t *testing.T) {
	observed, shares := []int{3, 9, 4, 8}, []float64{0.25, 0.25, 0.25, 0.25}
	want, ok := exact.Multinomial(t.Context(), observed, shares)
	require.True(t, ok)
	unlikely := func(counts []int) float64 { return exact.LessLikelyCounts(counts, shares) }
	drawn := stats.DrawP(t.Context(), stats.DrawCounts(24, shares, unlikely), unlikely(observed), 40_000, 1)
	assert.InDelta(t, want, drawn.P, 4*drawn.SE)

	table := [][]int{{3, 0, 2}, {1, 6, 1}, {0, 2, 5}}
	want, ok = exact.FreemanHalton(t.Context(), table, exact.MostSteps)
	require.True(t, ok)
	drawn = stats.DrawP(t.Context(), stats.DrawTable([]int{5, 8, 7}, []int{4, 8, 8}, exact.LessLikely), exact.LessLikely(table), 40_000, 1)
	assert.InDelta(t, want, drawn.P, 4*drawn.SE)

	s := proctest.Work(t, `{"grund":1,"procedure":"chi-square-fit","data":{"counts":{"categories":["a","b","c","d","e","f"],"observed":[30,`+
		`21,44,26,38,41]}}}`)
	assert.True(t, math.IsNaN(proctest.Quantities(s)["p_exact"]))
	assert.InDelta(t, proctest.Quantities(s)["p"], proctest.Quantities(s)["p_simulated"], 0.01, "the curve is near with such counts")
}

// Another order of levels moves rows and columns and changes no number of a larger table.
func TestOrderOfLevels(t *testing.T) {
	plain := proctest.Work(t, tickets("chi-square-independence", ""))
	s := proctest.Work(t, tickets("chi-square-independence", `,"options":{"order":{"rows":["leisure","work"],"columns":["monthly"]}}`))
	first := s.Table("cells").Row(0)
	assert.Equal(t, "leisure", first[0].Value)
	assert.Equal(t, "monthly", first[1].Value)
	assert.Equal(t, 10, first[2].Value)
	assert.InEpsilon(t, proctest.Quantities(plain)["chi_square"], proctest.Quantities(s)["chi_square"], 1e-14)
	assert.Equal(t, "school", s.Table("row_totals").Row(2)[0].Value, "the others follow")

	joined := proctest.Work(t, tickets("chi-square-independence", `,"options":{"join":{"rows":[["school","leisure"]]},`+
		`"order":{"rows":["leisure"]}}`))
	assert.Equal(t, "school + leisure", joined.Table("row_totals").Row(0)[0].Value, "a joined level stands where one of its levels is put")

	odds := func(order string) float64 {
		return proctest.Quantities(proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["Mole",`+
			`"Quarry"],`+
			`"columns":["yes","no"],"cells":[[20,10],[15,25]]}}`+order+`}`))["odds_ratio"]
	}
	assert.InEpsilon(t, 10.0/3, odds(""), 1e-14)
	assert.InEpsilon(t, 0.3, odds(`,"options":{"order":{"rows":["Quarry"]}}`), 1e-14)
}

// Each row is compared with equal proportions, or given ones, here in exact fractions.
func TestWithinRows(t *testing.T) {
	within := func(options string) *working.Table {
		return proctest.Work(t, tickets("chi-square-independence", options)).Table("within_rows")
	}
	table := within("")
	sum := func(weights []int, counts ...int) float64 { // Σ O²/(n w/Σw) − n
		n, all := 0, 0
		for i, o := range counts {
			n += o
			all += weights[i]
		}
		x := new(big.Rat)
		for i, o := range counts {
			x.Add(x, big.NewRat(int64(o*o*all), int64(n*weights[i])))
		}
		out, _ := x.Sub(x, big.NewRat(int64(n), 1)).Float64()
		return out
	}
	for i, counts := range [][]int{{24, 33, 62}, {3, 3, 1}, {57, 41, 10}} {
		row := table.Row(i)
		assert.InEpsilon(t, sum([]int{1, 1, 1}, counts...), float64(row[2].Value.(working.Number)), 1e-12)
		assert.InEpsilon(t, math.Exp(-float64(row[2].Value.(working.Number))/2), float64(row[4].Value.(working.Number)), 1e-12,
			"two degrees of freedom")
		given := within(`,"options":{"within":[2,1,1]}`).Row(i)
		assert.InEpsilon(t, sum([]int{2, 1, 1}, counts...), float64(given[2].Value.(working.Number)), 1e-12)
	}
	// Holm: the smallest p times 3, the next times 2.
	smallest := float64(table.Row(2)[4].Value.(working.Number))
	assert.InEpsilon(t, 3*smallest, float64(table.Row(2)[5].Value.(working.Number)), 1e-12)
}

// Each cell is tested within its row by the binomial distribution, here in exact fractions; Holm over all of
// them, over the rows where there are two columns. It is there after both tests of a table.
func TestWithinCells(t *testing.T) {
	exactP := func(k, n int, share *big.Rat) float64 {
		mass := func(i int) *big.Rat {
			m := new(big.Rat).SetInt(new(big.Int).Binomial(int64(n), int64(i)))
			for range i {
				m.Mul(m, share)
			}
			for range n - i {
				m.Mul(m, new(big.Rat).Sub(big.NewRat(1, 1), share))
			}
			return m
		}
		observed, sum := mass(k), new(big.Rat)
		for i := range n + 1 {
			if m := mass(i); m.Cmp(observed) <= 0 {
				sum.Add(sum, m)
			}
		}
		p, _ := sum.Float64()
		return p
	}
	for _, procedure := range []string{"chi-square-independence", "exact-independence"} {
		cells := proctest.Cells(proctest.Work(t, `{"grund":1,"procedure":"`+procedure+`","options":{"within":[2,1,1]},"data":{"counts":{
			"rows":["a","b"],"columns":["x","y","z"],"cells":[[9,2,1],[4,6,8]]}}}`))
		var ps []float64
		for row, counts := range map[string][]int{"a": {9, 2, 1}, "b": {4, 6, 8}} {
			n := counts[0] + counts[1] + counts[2]
			for j, column := range []string{"x", "y", "z"} {
				share := []*big.Rat{big.NewRat(1, 2), big.NewRat(1, 4), big.NewRat(1, 4)}[j]
				value, _ := share.Float64()
				at := "within/" + row + "|" + column + "/"
				assert.InEpsilon(t, exactP(counts[j], n, share), cells[at+"p"], 1e-12, at)
				assert.InEpsilon(t, float64(counts[j])/float64(n), cells[at+"share"], 1e-14)
				assert.InEpsilon(t, value*float64(n), cells[at+"expected"], 1e-14)
				ps = append(ps, cells[at+"p"])
			}
		}
		slices.Sort(ps)
		least := math.Inf(1)
		for at, p := range cells {
			if strings.HasPrefix(at, "within/") && strings.HasSuffix(at, "/p") && p == ps[0] {
				least = min(least, cells[at+"_holm"])
			}
		}
		assert.InEpsilon(t, 6*ps[0], least, 1e-12, "the smallest of six p-values times six")
	}
	s := proctest.Work(t, `{"grund":1,"procedure":"chi-square-independence","options":{"within":"equal"},"data":{"counts":{
		"rows":["a","b","c"],"columns":["x","y"],"cells":[[9,2],[4,6],[5,5]]}}}`)
	cells := proctest.Cells(s)
	assert.InEpsilon(t, exactP(9, 11, big.NewRat(1, 2)), cells["within/a|x/p"], 1e-12)
	assert.Equal(t, cells["within/a|x/p"], cells["within/a|y/p"], "of two columns a row is one test")
	assert.InEpsilon(t, 3*cells["within/a|x/p"], cells["within/a|x/p_holm"], 1e-12, "Holm over the rows")
}
