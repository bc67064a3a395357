package working

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/stats/dist"
)

// planned offers the power of the test of a mean whose sd is known: for a difference d and an
// sd s it is Φ(√n d/s − z), to the right; to both sides the other tail adds to it.
func planned(tail problem.Tail, n int) *Working {
	w := New(&problem.Problem{Procedure: "x", Alpha: 0.05, Tail: tail}, "", "", Cases{})
	w.Step(FollowUp, nil)
	w.PlanBy(Planning{
		Inputs: []PowerInput{{ID: "d", Label: "True difference", Unit: "min", Value: 1},
			{ID: "s", Label: "Standard deviation", Value: 2, Above: new(0.0), Below: new(100.0)}},
		N: n, Least: 2, Basis: "The normal curve.",
		Truth: func(truth []float64) string { return "a true difference of " + FormatShortest(truth[0]) + " min" },
		Side: func(truth []float64) int {
			switch {
			case truth[0] > 0:
				return 1
			case truth[0] < 0:
				return -1
			}
			return 0
		},
		Power: func(truth []float64, n int) float64 {
			away := math.Sqrt(float64(n)) * truth[0] / truth[1]
			switch z := (dist.Normal{}); tail {
			case problem.Right:
				return z.Upper(z.UpperQuantile(0.05) - away)
			case problem.Left:
				return z.Lower(z.LowerQuantile(0.05) - away)
			default:
				return z.Upper(z.UpperQuantile(0.025)-away) + z.Lower(z.LowerQuantile(0.025)-away)
			}
		},
	})
	return w
}

// Half a standard deviation needs 32 cases with two tails and 25 with one, at a power of 0.8:
// ((1.959964 + 0.841621) / 0.5)² = 31.40 and ((1.644854 + 0.841621) / 0.5)² = 24.73.
func TestNeededCases(t *testing.T) {
	for tail, want := range map[problem.Tail]int{problem.Both: 32, problem.Right: 25} {
		p, err := planned(tail, 9).Power(t.Context(), PowerQuestion{})
		require.NoError(t, err)
		require.NotNil(t, p.Needed)
		assert.Equal(t, want, p.Needed.N)
		assert.GreaterOrEqual(t, float64(p.Needed.Power), 0.8)
		assert.Equal(t, 9, p.Present.N)
	}
	p, err := planned(problem.Right, 9).Power(t.Context(), PowerQuestion{})
	require.NoError(t, err)
	assert.InDelta(t, 0.442413, float64(p.Present.Power), 1e-6, "Φ(1.5 − 1.644854)")
	assert.Equal(t, "With the 9 cases of this problem the test finds a true difference of 1 min with probability 0.442: of 100 such "+
		"samples about 44 reject H₀, and in the others a Type II error is made.", p.Says)
	assert.Equal(t, "For a power of 0.8 it takes 25 cases.", p.Needs)
}

func TestPowerOfWhatIsStated(t *testing.T) {
	ask := func(w *Working, inputs map[string]float64, target float64) *Power {
		p, err := w.Power(t.Context(), PowerQuestion{Inputs: inputs, Target: &target})
		require.NoError(t, err)
		return p
	}
	h0 := ask(planned(problem.Both, 9), map[string]float64{"d": 0}, 0.8)
	assert.Nil(t, h0.Needed)
	assert.InDelta(t, 0.05, float64(h0.Present.Power), 1e-12, "what H₀ states is rejected as often as α says")
	assert.Contains(t, h0.Says, "near α = 0.05")
	assert.Contains(t, h0.Needs, "differs from H₀")

	against := ask(planned(problem.Right, 9), map[string]float64{"d": -1}, 0.8)
	assert.Nil(t, against.Needed)
	assert.Contains(t, against.Needs, "H₁ does not look")
	along := ask(planned(problem.Left, 9), map[string]float64{"d": -1}, 0.8)
	require.NotNil(t, along.Needed)
	assert.Equal(t, 25, along.Needed.N)

	small := ask(planned(problem.Both, 9), map[string]float64{"d": 0.001, "s": 2}, 0.9)
	assert.Nil(t, small.Needed)
	assert.Equal(t, "For a power of 0.9 more than 200\u202f000 cases would be needed.", small.Needs)
	assert.Equal(t, []float64{0.001, 2}, []float64{small.Inputs[0].Value, small.Inputs[1].Value})
}

// What cannot be true is said by the name of its field, all of it at once.
func TestPowerOfWhatCannotBe(t *testing.T) {
	w := planned(problem.Both, 9)
	for name, c := range map[string]struct {
		q        PowerQuestion
		pointers []string
		says     string
	}{
		"too small": {PowerQuestion{Inputs: map[string]float64{"s": 0}}, []string{"/inputs/s"}, "Standard deviation is 0; it must be above 0"},
		"too large": {PowerQuestion{Inputs: map[string]float64{"s": 100}}, []string{"/inputs/s"},
			"Standard deviation is 100; it must be below 100"},
		"no number": {PowerQuestion{Inputs: map[string]float64{"s": math.NaN()}}, []string{"/inputs/s", "/inputs/s"}, "must be above 0"},
		"unknown":   {PowerQuestion{Inputs: map[string]float64{"sd": 1}}, []string{"/inputs/sd"}, "there is no input “sd”"},
		"sure":      {PowerQuestion{Target: new(1.0)}, []string{"/target"}, "between 0 and 1"},
		"several":   {PowerQuestion{Inputs: map[string]float64{"s": -1}, Target: new(0.0)}, []string{"/inputs/s", "/target"}, "must be above 0"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := w.Power(t.Context(), c.q)
			var mistakes problem.Errors
			require.ErrorAs(t, err, &mistakes)
			var pointers []string
			for _, m := range mistakes {
				pointers = append(pointers, m.Pointer)
			}
			assert.Subset(t, c.pointers, pointers)
			assert.Contains(t, err.Error(), c.says)
		})
	}
	assert.InDelta(t, 2, w.planning.Inputs[1].Value, 0, "the question changes nothing for the next one")
	_, err := newWorking().Power(t.Context(), PowerQuestion{})
	assert.ErrorContains(t, err, "/procedure: the power of this test is not calculated")
}

func TestPowerFigure(t *testing.T) {
	p, err := planned(problem.Both, 9).Power(t.Context(), PowerQuestion{})
	require.NoError(t, err)
	line := p.Figure.Marks[0]
	require.Equal(t, Expected, line.Role)
	assert.InDelta(t, 2, float64(line.X[0]), 0, "the fewest cases that can be tested")
	for i := 1; i < len(line.Y); i++ {
		assert.Greater(t, float64(line.Y[i]), float64(line.Y[i-1]))
	}
	assert.Equal(t, "Power rises with the number of cases; with 9 cases it is 0.323. It reaches 0.8 with 32 cases.", p.Figure.Says)
	assert.LessOrEqual(t, 32.0, float64(p.Figure.Axis.Max), "what is needed is in the picture")
}

func TestFormatProbability(t *testing.T) {
	for p, want := range map[float64]string{0: "0.000", 1: "1.000", 0.5: "0.500", 0.9996: "0.9996", 0.0004: "0.0004",
		0.999996: ">\u202f0.99999", 0.000004: "<\u202f0.00001", 0.99996: "0.99996"} {
		assert.Equal(t, want, FormatProbability(p), "%v", p)
	}
}
