package several_test

import (
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The expected numbers were made by testdata/anova.py.
func TestSeveralMeansAgainstReferences(t *testing.T) { proctest.CheckReferences(t, "anova.json") }

// anovaFile writes a problem on groups of values.
func anovaFile(procedure string, groups [][]float64, more string) string {
	var names, values []string
	for i, g := range groups {
		for _, x := range g {
			names, values = append(names, fmt.Sprintf(`"g%d"`, i)), append(values, fmt.Sprint(x))
		}
	}
	return `{"grund":1,"procedure":"` + procedure + `","roles":{"response":"x","group":"g"},"data":{"variables":[{"name":"g",` +
		`"kind":"category","values":[` +
		strings.Join(names, ",") + `]},{"name":"x","kind":"number","values":[` + strings.Join(values, ",") + `]}]}` + more + `}`
}

func randomGroups(rng *rand.Rand) [][]float64 {
	groups := make([][]float64, 2+rng.IntN(5))
	for i := range groups {
		groups[i] = make([]float64, 2+rng.IntN(9))
		for j := range groups[i] {
			groups[i][j] = math.Round(1e4*(rng.NormFloat64()+float64(i)/4)) / 1e4
		}
	}
	return groups
}

// What must hold for any data: the parts of the variation add up, a summary gives what its
// cases give, an offset changes nothing, and with two groups F is t squared.
func TestSeveralMeansIdentities(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 1))
	for range 60 {
		groups := randomGroups(rng)
		long := proctest.Quantities(proctest.Work(t, anovaFile("anova-one-way", groups, "")))
		mean, n := long["mean"], 0
		total := 0.0
		for _, g := range groups {
			for _, x := range g {
				total += (x - mean) * (x - mean)
				n++
			}
		}
		assert.InEpsilon(t, total, long["ss_total"], 1e-11)
		assert.InEpsilon(t, long["ss_between"]+long["ss_within"], long["ss_total"], 1e-14)
		assert.InEpsilon(t, float64(n-1), long["df_between"]+long["df_within"], 1e-14)

		var given []string
		for i, g := range groups {
			m, v := proctest.MeanVariance(g)
			given = append(given, fmt.Sprintf(`{"label":"g%d","n":%d,"mean":%v,"sd":%v}`, i, len(g), m, math.Sqrt(v)))
		}
		for _, form := range []string{"equal", "unequal"} {
			options := `,"options":{"variances":"` + form + `","comparisons":"holm"}`
			cases := proctest.Work(t, anovaFile("anova-one-way", groups, options))
			summary := proctest.Work(t, `{"grund":1,"procedure":"anova-one-way","data":{"summary":{"groups":[`+strings.Join(given, ",")+`]}}`+
				options+`}`)
			for _, id := range []string{"f", "p", "df_within", "eta_squared"} {
				assert.InEpsilon(t, proctest.Quantities(cases)[id], proctest.Quantities(summary)[id], 1e-10, id)
			}
			fromCases, fromSummary := proctest.Cells(cases), proctest.Cells(summary)
			for id, want := range fromCases {
				if strings.HasPrefix(id, "comparisons") && !math.IsNaN(want) {
					assert.InEpsilon(t, want, fromSummary[id], 1e-9, id)
				}
			}
			if len(groups) == 2 {
				test := proctest.Quantities(proctest.Work(t, anovaFile("t-two-sample", groups, `,"options":{"variances":"`+form+`"}`)))
				assert.InEpsilon(t, test["t"]*test["t"], proctest.Quantities(cases)["f"], 1e-11)
				assert.InEpsilon(t, test["p"], proctest.Quantities(cases)["p"], 1e-11)
			}
		}
	}
}

// The demo's boarding times give the same from a row a case and from a column a pier.
func TestSeveralMeansFromAColumnAGroup(t *testing.T) {
	problems := proctest.DemoProblems(t)
	long, err := procedure.Work(t.Context(), problems["boarding"])
	require.NoError(t, err)
	wide, err := procedure.Carry(problems["boarding-by-pier"], "anova-one-way")
	require.NoError(t, err)
	byPier, err := procedure.Work(t.Context(), wide)
	require.NoError(t, err)
	for _, id := range []string{"n", "mean", "ss_between", "ss_within", "f", "p", "omega_squared"} {
		assert.InEpsilon(t, proctest.Quantities(long)[id], proctest.Quantities(byPier)[id], 1e-13, id)
	}
	want, got := proctest.Cells(long), proctest.Cells(byPier)
	for id := range want {
		if !math.IsNaN(want[id]) && !strings.HasPrefix(id, "cases/") { // cases have other numbers
			assert.InEpsilon(t, want[id], got[id], 1e-11, id)
		}
	}
}

// With two groups Tukey's comparison is the test itself: the range of two is a t.
func TestTukeyOfTwoGroups(t *testing.T) {
	groups := [][]float64{{3, 5, 4, 7, 6}, {6, 8, 9, 7}}
	s := proctest.Work(t, anovaFile("anova-one-way", groups, ""))
	got := proctest.Cells(s)
	test := proctest.Quantities(proctest.Work(t, anovaFile("t-two-sample", groups, `,"options":{"variances":"equal"}`)))
	assert.InEpsilon(t, test["p"], got["comparisons/g0|g1/p"], 1e-11)
	assert.InEpsilon(t, test["ci_low"], got["comparisons/g0|g1/ci_low"], 1e-11)
	assert.InEpsilon(t, test["ci_high"], got["comparisons/g0|g1/ci_high"], 1e-11)
}

// simonLesage are groups of the public reference data SmLs01 to SmLs09 (J. Simon and J. P.
// Lesage, 1989, in the Statistical Reference Datasets of NIST): nine groups about 1.4, 1.3 or
// 1.5 above an offset, each its centre once and then 0.1 below and above in turn.
func simonLesage(offset string, n int) [][]float64 {
	groups := make([][]float64, 9)
	for i := range groups {
		centre := 4
		if i > 0 {
			centre += 2*((i+1)%2) - 1
		}
		at := func(tenths int) float64 {
			x, _ := new(big.Rat).SetString(offset)
			x.Add(x, big.NewRat(int64(10+tenths), 10))
			out, _ := x.Float64()
			return out
		}
		groups[i] = append(groups[i], at(centre))
		for j := range n - 1 {
			groups[i] = append(groups[i], at(centre+2*(j%2)-1))
		}
	}
	return groups
}

// exactF returns F of the doubles as they are, in exact fractions.
func exactF(groups [][]float64) float64 {
	n, all := 0, new(big.Rat)
	var means []*big.Rat
	for _, g := range groups {
		sum := new(big.Rat)
		for _, x := range g {
			sum.Add(sum, new(big.Rat).SetFloat64(x))
		}
		all.Add(all, sum)
		n += len(g)
		means = append(means, sum.Quo(sum, big.NewRat(int64(len(g)), 1)))
	}
	all.Quo(all, big.NewRat(int64(n), 1))
	between, within := new(big.Rat), new(big.Rat)
	for i, g := range groups {
		d := new(big.Rat).Sub(means[i], all)
		between.Add(between, d.Mul(d, d).Mul(d, big.NewRat(int64(len(g)), 1)))
		for _, x := range g {
			d := new(big.Rat).SetFloat64(x)
			d.Sub(d, means[i])
			within.Add(within, d.Mul(d, d))
		}
	}
	k := int64(len(groups))
	between.Quo(between, big.NewRat(k-1, 1))
	within.Quo(within, big.NewRat(int64(n)-k, 1))
	f, _ := between.Quo(between, within).Float64()
	return f
}

// Hard reference data give as many digits as the inputs hold as doubles, and what the doubles
// give exactly to the last digits.
func TestSeveralMeansOfHardData(t *testing.T) {
	for _, c := range []struct {
		offset    string
		n         int
		certified float64 // F
		digits    float64 // relative error that the inputs allow
	}{
		{"0", 21, 21, 1e-13}, {"0", 201, 201, 1e-13}, {"0", 2001, 2001, 1e-13},
		{"1000000", 21, 21, 1e-8}, {"1000000", 201, 201, 1e-8}, {"1000000", 2001, 2001, 1e-8},
		{"1000000000000", 21, 21, 5e-3}, {"1000000000000", 201, 201, 5e-3}, {"1000000000000", 2001, 2001, 5e-3},
	} {
		groups := simonLesage(c.offset, c.n)
		f := proctest.Quantities(proctest.Work(t, anovaFile("anova-one-way", groups, `,"options":{"comparisons":"none"}`)))["f"]
		assert.InEpsilon(t, c.certified, f, c.digits, "offset %s, %d cases a group", c.offset, c.n)
		assert.InEpsilon(t, exactF(groups), f, 1e-12, "offset %s, %d cases a group", c.offset, c.n)
	}
}

// A contrast may be given in the order of the levels or by name, with its tail or without.
func TestFormsOfAContrast(t *testing.T) {
	groups := [][]float64{{3, 5, 4}, {6, 8, 9}, {2, 4, 4}}
	want := proctest.Quantities(proctest.Work(t, anovaFile("anova-one-way", groups,
		`,"options":{"contrast":{"weights":{"g0":-0.5,"g1":1,"g2":-0.5},"tail":"right"}}`)))
	for _, form := range []string{`{"weights":[-0.5,1,-0.5],"tail":"right"}`, `{"g0":-0.5,"g1":1,"g2":-0.5,"tail":"right"}`} {
		got := proctest.Quantities(proctest.Work(t, anovaFile("anova-one-way", groups, `,"options":{"contrast":`+form+`}`)))
		for _, id := range []string{"contrast", "se_contrast", "t_contrast", "p_contrast", "contrast_low"} {
			assert.Equal(t, want[id], got[id], id)
		}
		assert.True(t, math.IsInf(got["contrast_high"], 1))
	}
	both := proctest.Quantities(proctest.Work(t, anovaFile("anova-one-way", groups, `,"options":{"contrast":[-0.5,1,-0.5]}`)))
	assert.InEpsilon(t, 2*want["p_contrast"], both["p_contrast"], 1e-12)
	partial := proctest.Quantities(proctest.Work(t, anovaFile("anova-one-way", groups, `,"options":{"contrast":{"weights":{"g1":1,`+
		`"g2":-1}}}`)))
	assert.InEpsilon(t, 23.0/3-10.0/3, partial["contrast"], 1e-14)
}

// Groups share a letter just where no comparison tells them apart.
func TestLettersOfGroups(t *testing.T) {
	s := proctest.Work(t, anovaFile("anova-one-way", [][]float64{{1, 2, 3}, {2, 3, 4}, {11, 12, 13}, {3, 4, 5}}, ""))
	letters := map[string]string{}
	table := s.Table("alike")
	for i := range table.Total {
		row := table.Row(i)
		letters[row[0].Value.(string)] = row[2].Value.(string)
	}
	assert.Equal(t, "g2", table.Row(0)[0].Value, "the highest mean first")
	assert.Equal(t, map[string]string{"g0": "b", "g1": "b", "g2": "a", "g3": "b"}, letters)
}

// The simulation of F agrees with its curve where the populations are alike and normal.
func TestSimulationOfSeveralMeans(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 2))
	groups := make([][]float64, 4)
	for i := range groups {
		for range 8 {
			groups[i] = append(groups[i], math.Round(100*rng.NormFloat64())/100)
		}
	}
	for _, procedure := range []string{"anova-one-way", "rank-k-sample"} {
		file := anovaFile(procedure, groups, "")
		p := proctest.Quantities(proctest.Work(t, file))["p"]
		assert.InDelta(t, p, float64(proctest.Simulate(t, file).Share), 0.03, procedure)
	}
}

// The power of four groups of 45 each to find a medium effect, f = 0.25, is 0.8 (J. Cohen,
// Statistical Power Analysis, 2nd ed., table 8.4.4).
func TestPowerOfSeveralMeans(t *testing.T) {
	var given []string
	for i := range 4 {
		given = append(given, fmt.Sprintf(`{"label":"g%d","n":45,"mean":%d,"sd":2}`, i, i))
	}
	file := `{"grund":1,"procedure":"anova-one-way","data":{"summary":{"groups":[` + strings.Join(given, ",") + `]}}}`
	got := proctest.Power(t, file, working.PowerQuestion{Inputs: map[string]float64{"truth": 0.5, "sd": 2}})
	assert.InDelta(t, 0.80, float64(got.Present.Power), 0.01)
	require.NotNil(t, got.Needed)
	assert.InDelta(t, 180, got.Needed.N, 4)
}

func TestSeveralMeansRefused(t *testing.T) {
	groups := [][]float64{{3, 5, 4}, {6, 8, 9}, {2, 4, 4}}
	options := func(text string) string { return anovaFile("anova-one-way", groups, `,"options":`+text) }
	proctest.CheckRefusals(t, proctest.Refusals{
		"one group": {anovaFile("anova-one-way", [][]float64{{1, 2, 3}}, ""), "/roles/group", "has 1 level with usable cases"},
		"no spread": {anovaFile("anova-one-way", [][]float64{{1, 1}, {2, 2}}, ""), "/roles/response",
			"no group has any spread"},
		"one case a group": {anovaFile("anova-one-way", [][]float64{{1}, {2}, {4}}, ""), "/roles/response",
			"one case only in each group"},
		"a constant group, kept apart": {anovaFile("anova-one-way", [][]float64{{1, 1}, {2, 3}}, `,"options":{"variances":"unequal"}`),
			"/options/variances", "all values of “g0” are equal"},
		"a group of one, kept apart": {anovaFile("anova-one-way", [][]float64{{1}, {2, 3}}, `,"options":{"variances":"unequal"}`),
			"/options/variances", "“g0” has one case only"},
		"a direction": {anovaFile("anova-one-way", groups, `,"tail":"right"`), "/tail", "no direction"},
		"another correction": {options(`{"comparisons":"scheffe"}`), "/options/comparisons",
			"it must be “tukey”, “holm”, “bonferroni” or “none”"},
		"an unknown reference":       {options(`{"reference":"g7"}`), "/options/reference", "g7"},
		"weights that do not add up": {options(`{"contrast":{"weights":[1,1,-1]}}`), "/options/contrast", "add up to 1"},
		"no weight at all":           {options(`{"contrast":[0,0,0]}`), "/options/contrast", "all weights of the contrast are 0"},
		"too few weights":            {options(`{"contrast":[1,-1]}`), "/options/contrast", "2 weights given for 3 groups"},
		"a weight for nobody":        {options(`{"contrast":{"weights":{"g0":1,"g9":-1}}}`), "/options/contrast", "g9"},
		"a contrast without weights": {options(`{"contrast":{"tail":"left"}}`), "/options/contrast", "it must be as"},
		"a contrast to nowhere": {options(`{"contrast":{"weights":[1,-1,0],"tail":"up"}}`), "/options/contrast",
			"“both”, “left” or “right”"},
		"a contrast of words": {options(`{"contrast":"g0 against g1"}`), "/options/contrast", "it must be as"},
		"a summary without a mean": {`{"grund":1,"procedure":"anova-one-way","data":{"summary":{"groups":[{"label":"a","n":3,"sd":1},` +
			`{"label":"b","n":3,"mean":1,"sd":1}]}}}`, "/data/summary/groups/0/mean", "is missing"},
		"a summary without an sd": {`{"grund":1,"procedure":"anova-one-way","data":{"summary":{"groups":[{"label":"a","n":3,"mean":2},` +
			`{"label":"b","n":3,"mean":1,"sd":1}]}}}`, "/data/summary/groups/0/sd", "is missing"},
		"ranks of one group":    {anovaFile("rank-k-sample", [][]float64{{1, 2, 3}}, ""), "/roles/group", "has 1 level"},
		"ranks of equal values": {anovaFile("rank-k-sample", [][]float64{{1, 1}, {1, 1, 1}}, ""), "/roles/response", "all values are equal"},
		"ranks with an option":  {anovaFile("rank-k-sample", groups, `,"options":{"comparisons":"holm"}`), "/options/comparisons", "no option"},
	})
	_, err := problem.Parse([]byte(options(`{"contrast":[1,-1,0]}`)))
	require.NoError(t, err)
}
