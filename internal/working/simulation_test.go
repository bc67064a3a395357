package working

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/stats"
)

// simulated draws samples of a normal statistic where x was observed.
func simulated(t *testing.T, tail problem.Tail, x float64, more Resampling) (reports []Simulation) {
	t.Helper()
	w, _ := tested(t, tail, 0.05, Test{Symbol: "z", Family: normalCurve}, x)
	if more.Sampler == nil {
		more.Sampler = func() stats.Sampler { return func(rng *rand.Rand) float64 { return rng.NormFloat64() } }
	}
	w.ResampleBy(more)
	require.NoError(t, w.Simulate(context.Background(), func(s *Simulation) error {
		reports = append(reports, *s)
		return nil
	}))
	return reports
}

// What is drawn from the curve comes out as extreme as p says, within what chance allows, and
// every sample stands in a bar.
func TestSimulate(t *testing.T) {
	for tail, p := range map[problem.Tail]float64{problem.Both: 0.2301393, problem.Right: 0.1150697, problem.Left: 0.8849303} {
		reports := simulated(t, tail, 1.2, Resampling{})
		require.Len(t, reports, 50)
		last := reports[49]
		assert.Equal(t, 5000, last.Drawn)
		assert.InDelta(t, p, float64(last.Share), 4*math.Sqrt(p*(1-p)/5000))
		assert.InDelta(t, float64(last.AsExtreme)/5000, float64(last.Share), 1e-15)
		all, extreme := 0, 0
		for i := range last.Counts {
			all, extreme = all+last.Counts[i], extreme+last.Extreme[i]
			assert.LessOrEqual(t, last.Extreme[i], last.Counts[i])
		}
		assert.Equal(t, 5000, all)
		assert.Equal(t, last.AsExtreme, extreme)
		assert.Contains(t, last.Says, "the two ways agree")
		assert.Empty(t, reports[48].Says, "said at the end")
		assert.Equal(t, last, simulated(t, tail, 1.2, Resampling{})[49], "the same at every run")
	}
}

func TestSimulateSaysWhereTheWaysPart(t *testing.T) {
	wide := func() stats.Sampler { return func(rng *rand.Rand) float64 { return 2 * rng.NormFloat64() } }
	last := simulated(t, problem.Both, 2, Resampling{Sampler: wide})[49]
	assert.Contains(t, last.Says, "It lies outside")
	never := func() stats.Sampler { return func(*rand.Rand) float64 { return 0 } }
	last = simulated(t, problem.Both, 2, Resampling{Sampler: never})[49]
	assert.Zero(t, last.AsExtreme)
	assert.Contains(t, last.Says, "None came out as extreme as the sample")
	nothing := func() stats.Sampler { return func(*rand.Rand) float64 { return math.NaN() } }
	last = simulated(t, problem.Both, 2, Resampling{Sampler: nothing})[49]
	assert.Equal(t, 5000, last.Drawn, "samples without a statistic count as drawn, and as not extreme")
	assert.Zero(t, last.AsExtreme)
}

// A statistic in steps fills bars that hold equally many of its values, and one that differs
// from the observed one by its last digits counts as equal.
func TestSimulateInSteps(t *testing.T) {
	const step = 0.4
	dice := func() stats.Sampler {
		return func(rng *rand.Rand) float64 { return step*float64(rng.IntN(6)-3)*(1+1e-14) + step/2 }
	}
	last := simulated(t, problem.Right, step/2, Resampling{Sampler: dice, At: step / 2, Step: step})[49]
	assert.InDelta(t, 0, math.Mod(float64(last.Width)/step+1e-9, 1), 1e-6, "whole steps wide")
	assert.InDelta(t, 0.5, float64(last.Share), 4*math.Sqrt(0.25/5000), "three of six sides")
	filled := 0
	for _, n := range last.Counts {
		if n > 0 {
			filled++
			assert.InDelta(t, 5000.0/6, float64(n), 4*math.Sqrt(5000*5.0/36))
		}
	}
	assert.Equal(t, 6, filled)
}

func TestSimulateStops(t *testing.T) {
	w, _ := tested(t, problem.Both, 0.05, Test{Symbol: "z", Family: normalCurve}, 1)
	w.ResampleBy(Resampling{Sampler: func() stats.Sampler { return func(rng *rand.Rand) float64 { return rng.NormFloat64() } }})
	full := errors.New("the line is cut")
	reported := 0
	assert.ErrorIs(t, w.Simulate(context.Background(), func(*Simulation) error { reported++; return full }), full)
	assert.Equal(t, 1, reported)
	ctx, stop := context.WithCancel(context.Background())
	stop()
	assert.ErrorIs(t, w.Simulate(ctx, func(*Simulation) error { return nil }), context.Canceled)

	without, _ := tested(t, problem.Both, 0.05, Test{Symbol: "z", Family: normalCurve}, 1)
	assert.ErrorContains(t, without.Simulate(context.Background(), nil), "this test has no simulation")
}
