package procedure_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// What must hold for any two groups, checked on random ones: no number here is
// expected in advance.
func TestIdentities(t *testing.T) {
	rng := rand.New(rand.NewPCG(8420, 3))
	sample := func(n int, centre, spread float64) []float64 {
		xs := make([]float64, n)
		for i := range xs {
			xs[i] = math.Round(64*(centre+spread*rng.NormFloat64())) / 64 // exact in binary
		}
		return xs
	}
	for round := range 60 {
		a := sample(2+rng.IntN(30), 10, 1+rng.Float64())
		b := sample(2+rng.IntN(30), 10+rng.Float64(), 1+3*rng.Float64())
		variances := []string{"unequal", "equal"}[round%2]
		work := func(tail, groups string, a, b []float64) map[string]float64 {
			return proctest.Quantities(proctest.Work(t,
				proctest.TwoGroups(fmt.Sprintf(`"tail":%q,"options":{"variances":%q,"groups":%s},`, tail, variances, groups), a,
					b)))
		}
		const straight, turned = `["Mole","Quarry"]`, `["Quarry","Mole"]`
		q := work("both", straight, a, b)

		other := work("both", turned, a, b)
		assert.InEpsilon(t, q["p"], other["p"], 1e-12, "turning the direction keeps p")
		assert.InDelta(t, -q["t"], other["t"], 1e-12, "and turns t")
		assert.InDelta(t, -q["ci_low"], other["ci_high"], 1e-10, "and the interval")

		left, right := work("left", straight, a, b), work("right", straight, a, b)
		assert.InEpsilon(t, 1.0, left["p"]+right["p"], 1e-12, "the two tails make the whole")
		assert.InEpsilon(t, q["p"], 2*math.Min(left["p"], right["p"]), 1e-12, "two-sided is twice the smaller tail")

		shifted := func(xs []float64, by, times float64) []float64 {
			out := make([]float64, len(xs))
			for i, x := range xs {
				out[i] = times*x + by
			}
			return out
		}
		moved := work("both", straight, shifted(a, 4096, 1), shifted(b, 4096, 1))
		assert.InEpsilon(t, q["t"], moved["t"], 1e-12, "a common offset changes nothing")
		scaled := work("both", straight, shifted(a, 0, 8), shifted(b, 0, 8))
		assert.InEpsilon(t, q["t"], scaled["t"], 1e-12, "nor does another unit")
		assert.InEpsilon(t, 8*q["se"], scaled["se"], 1e-12)
		assert.InEpsilon(t, q["cohen_d"], scaled["cohen_d"], 1e-12)

		smaller := math.Min(float64(len(a)), float64(len(b))) - 1
		assert.GreaterOrEqual(t, q["df"], smaller*(1-1e-12), "Welch's degrees of freedom have these bounds")
		assert.LessOrEqual(t, q["df"], float64(len(a)+len(b)-2)*(1+1e-12))

		// The interval holds exactly the differences that would not be rejected.
		for _, end := range []string{"ci_low", "ci_high"} {
			width := q["ci_high"] - q["ci_low"]
			for _, inside := range []bool{true, false} {
				step := 1e-6 * width
				if (end == "ci_high") == inside {
					step = -step
				}
				s := proctest.Work(t, proctest.TwoGroups(fmt.Sprintf(`"options":{"variances":%q,"difference":%v},`, variances, q[end]+step), a, b))
				assert.Equal(t, !inside, s.Decision.Reject, "%s, a little inside: %v", end, inside)
			}
		}

		// With two groups of one size both forms have the same t.
		if n := min(len(a), len(b)); n > 1 {
			same := proctest.TwoGroups(`"options":{"variances":"equal"},`, a[:n], b[:n])
			apart := strings.Replace(same, `"equal"`, `"unequal"`, 1)
			if q := proctest.Quantities(proctest.Work(t, same)); q["t"] != 0 {
				assert.InEpsilon(t, q["t"], proctest.Quantities(proctest.Work(t, apart))["t"], 1e-12)
			}
		}
	}
}

// Cases and their summary give the same test.
func TestCasesAndSummaryAgree(t *testing.T) {
	a, b := []float64{1, 2, 4, 8}, []float64{3, 9, 27}
	q := proctest.Quantities(proctest.Work(t, proctest.TwoGroups("", a, b)))
	s := proctest.Quantities(proctest.Work(t, fmt.Sprintf(`{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[
		{"label":"Mole","n":4,"mean":%v,"sd":%v},{"label":"Quarry","n":3,"mean":%v,"sd":%v}]}}}`, q["mean_1"], q["sd_1"], q["mean_2"],
		q["sd_2"])))
	for _, id := range []string{"t", "df", "p", "se", "ci_low", "ci_high", "cohen_d"} {
		assert.InEpsilon(t, q[id], s[id], 1e-13, id)
	}
}

// Welch's degrees of freedom may be whole, and their formula then gives 38 but
// for a rounding: no table is said to lack that row.
func TestWholeDegreesOfFreedom(t *testing.T) {
	s := proctest.Work(t, `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[{"label":"a","n":20,"mean":1,"sd":1},`+
		`{"label":"b","n":20,"mean":2,"sd":1}]}}}`)
	text := working.Markdown(s, "")
	assert.Contains(t, text, "in the row of 38 degrees of freedom")
	assert.NotContains(t, text, "has no row for")
}
