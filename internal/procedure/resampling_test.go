package procedure_test

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/bits"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// assertShare checks a share of a simulation against the probability that it estimates,
// which it misses by four and a half standard deviations once in 150,000 times.
func assertShare(t *testing.T, want float64, s *working.Simulation) {
	t.Helper()
	sd := math.Sqrt(want * (1 - want) / working.Repetitions)
	assert.InDelta(t, want, float64(s.Share), 4.5*sd)
	assert.NotEmpty(t, s.Says)
}

// deals returns the share of all ways to deal the values to a first group of n1 whose
// statistic is extreme.
func deals(values []float64, n1 int, extreme func(first, second []float64) bool) float64 {
	hits, all := 0, 0
	for set := range uint(1) << len(values) {
		if bits.OnesCount(set) != n1 {
			continue
		}
		var first, second []float64
		for i, x := range values {
			if set>>i&1 == 1 {
				first = append(first, x)
			} else {
				second = append(second, x)
			}
		}
		all++
		if extreme(first, second) {
			hits++
		}
	}
	return float64(hits) / float64(all)
}

var (
	mole   = []float64{12.1, 11.8, 13.0, 12.4, 11.5, 12.7}
	quarry = []float64{13.4, 12.9, 14.6, 12.2, 13.9}
)

// berthsFile is a problem about the two berths by a procedure.
func berthsFile(procedure, more string) string {
	group, minutes := "", ""
	for i, values := range [][]float64{mole, quarry} {
		for _, x := range values {
			group += fmt.Sprintf(`%q,`, []string{"Mole", "Quarry"}[i])
			minutes += fmt.Sprintf("%v,", x)
		}
	}
	return fmt.Sprintf(`{"grund":1,"procedure":%q,"data":{"variables":[{"name":"berth","kind":"category","values":[%s]},`+
		`{"name":"minutes","kind":"number","values":[%s]}]},"roles":{"response":"minutes","group":"berth"}%s}`,
		procedure, group[:len(group)-1], minutes[:len(minutes)-1], more)
}

func TestSimulationShufflesLabels(t *testing.T) {
	all := append(append([]float64(nil), mole...), quarry...)
	welch := func(first, second []float64) float64 {
		m1, v1 := proctest.MeanVariance(first)
		m2, v2 := proctest.MeanVariance(second)
		return (m1 - m2) / math.Sqrt(v1/float64(len(first))+v2/float64(len(second)))
	}
	pooled := func(first, second []float64) float64 {
		m1, v1 := proctest.MeanVariance(first)
		m2, v2 := proctest.MeanVariance(second)
		n1, n2 := float64(len(first)), float64(len(second))
		return (m1 - m2) / math.Sqrt(((n1-1)*v1+(n2-1)*v2)/(n1+n2-2)*(1/n1+1/n2))
	}
	observed, observedPooled := welch(mole, quarry), pooled(mole, quarry)
	t.Run("both tails", func(t *testing.T) {
		want := deals(all, len(mole), func(a, b []float64) bool { return math.Abs(welch(a, b)) >= math.Abs(observed)-1e-9 })
		assertShare(t, want, proctest.Simulate(t, berthsFile("t-two-sample", "")))
	})
	t.Run("left tail, pooled", func(t *testing.T) {
		want := deals(all, len(mole), func(a, b []float64) bool { return pooled(a, b) <= observedPooled+1e-9 })
		assertShare(t, want, proctest.Simulate(t, berthsFile("t-two-sample", `,"tail":"left","options":{"variances":"equal"}`)))
	})
	t.Run("a difference under H0", func(t *testing.T) {
		moved := append([]float64(nil), quarry...)
		for i := range mole {
			moved = append(moved, mole[i]+0.5)
		}
		shifted := make([]float64, len(mole))
		for i := range mole {
			shifted[i] = mole[i] + 0.5
		}
		at := welch(shifted, quarry)
		want := deals(moved, len(mole), func(a, b []float64) bool { return welch(a, b) >= at-1e-9 })
		assertShare(t, want, proctest.Simulate(t, berthsFile("t-two-sample", `,"tail":"right","options":{"difference":-0.5}`)))
	})
	t.Run("ratio of variances", func(t *testing.T) {
		var distances []float64
		for _, group := range [][]float64{mole, quarry} {
			mean, _ := proctest.MeanVariance(group)
			for _, x := range group {
				distances = append(distances, x-mean)
			}
		}
		f := func(a, b []float64) float64 {
			_, va := proctest.MeanVariance(a)
			_, vb := proctest.MeanVariance(b)
			return va / vb
		}
		at := f(mole, quarry)
		want := deals(distances, len(mole), func(a, b []float64) bool { return f(a, b) <= at+1e-9 })
		assertShare(t, want, proctest.Simulate(t, berthsFile("variance-ratio", `,"tail":"left"`)))
	})
}

func TestSimulationOfRanksEstimatesTheExactP(t *testing.T) {
	for _, tail := range []string{"both", "left", "right"} {
		file := berthsFile("rank-sum", `,"tail":"`+tail+`"`)
		assertShare(t, proctest.Quantities(proctest.Work(t, file))["p_exact"], proctest.Simulate(t, file))
	}
}

func TestSimulationFlipsSigns(t *testing.T) {
	const file = `{"grund":1,"procedure":"t-one-sample","tail":"right","options":{"mean":41},"data":{"variables":[{"name":"fuel",` +
		`"kind":"number","values":[41.9,42.4,40.2,43.1,41.2,40.7,42.8,41.6]}]},"roles":{"response":"fuel"}}`
	distances := []float64{0.9, 1.4, -0.8, 2.1, 0.2, -0.3, 1.8, 0.6}
	statistic := func(xs []float64) float64 {
		mean, v := proctest.MeanVariance(xs)
		return mean / math.Sqrt(v)
	}
	observed, hits := statistic(distances), 0
	for signs := range 1 << len(distances) {
		flipped := make([]float64, len(distances))
		for i, d := range distances {
			flipped[i] = d * float64(1-2*(signs>>i&1))
		}
		if statistic(flipped) >= observed-1e-9 {
			hits++
		}
	}
	assertShare(t, float64(hits)/256, proctest.Simulate(t, file))
}

func TestSimulationDrawsCounts(t *testing.T) {
	// 14 or more of 20, or 6 or fewer, with probability one half: (Σ C(20, k), k ≥ 14) / 2^19.
	assertShare(t, 2*(38760+15504+4845+1140+190+20+1)/math.Pow(2, 20),
		proctest.Simulate(t, `{"grund":1,"procedure":"proportion-one","data":{"counts":{"categories":["yes","no"],"observed":[14,6]}}}`))
	// 7 of 9 and 2 of 9, 9 successes in all: C(9,k)C(9,9−k)/C(18,9) for k = 7, 8, 9.
	assertShare(t, (36*36+9*9+1)/48620.0,
		proctest.Simulate(t, `{"grund":1,"procedure":"proportion-two","tail":"right","data":{"counts":{"rows":["a","b"],"columns":["yes","no"],`+
			`"cells":[[7,2],[2,7]]}}}`))
}

func TestSimulationDrawsFromNormalPopulations(t *testing.T) {
	for _, file := range []string{
		`{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[{"label":"Mole","n":18,"mean":12.38,"sd":0.67},` +
			`{"label":"Quarry","n":15,"mean":13.57,"sd":2.1}]}}}`,
		`{"grund":1,"procedure":"t-two-sample","tail":"left","options":{"variances":"equal"},"data":{"summary":{"groups":[{"label":"Mole",` +
			`"n":18,"mean":12.38,"sd":0.67},{"label":"Quarry","n":15,"mean":12.7,"sd":0.8}]}}}`,
		`{"grund":1,"procedure":"t-one-sample","options":{"mean":41},"data":{"summary":{"groups":[{"n":9,"mean":41.8,"sd":1.4}]}}}`,
		`{"grund":1,"procedure":"z-one-sample","tail":"right","options":{"mean":41,"sigma":1.5},"data":{"summary":{"groups":[{"n":9,` +
			`"mean":41.8}]}}}`,
		`{"grund":1,"procedure":"variance-ratio","data":{"summary":{"groups":[{"label":"Mole","n":18,"mean":12.38,"sd":0.67},` +
			`{"label":"Quarry","n":15,"mean":13.57,"sd":1.0}]}}}`,
	} {
		s := proctest.Simulate(t, file)
		// Of Welch's t the curve is an approximation, good to a few thousandths here.
		want := proctest.Quantities(proctest.Work(t, file))["p"]
		assert.InDelta(t, want, float64(s.Share), 4.5*math.Sqrt(want*(1-want)/working.Repetitions)+0.003)
	}
}

func TestSimulationIsTheSameEachTime(t *testing.T) {
	file := berthsFile("variance-spread", "")
	assert.Equal(t, proctest.Simulate(t, file), proctest.Simulate(t, file))
}

func TestSimulationStops(t *testing.T) {
	p, err := problem.Parse([]byte(berthsFile("t-two-sample", "")))
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	seen := 0
	err = procedure.Simulate(ctx, p, func(s *working.Simulation) error {
		seen = s.Drawn
		cancel()
		return nil
	})
	require.ErrorIs(t, err, context.Canceled)
	assert.Less(t, seen, working.Repetitions)

	gone := errors.New("nobody listens")
	require.ErrorIs(t, procedure.Simulate(context.Background(), p, func(*working.Simulation) error { return gone }), gone)

	p, err = problem.Parse([]byte(berthsFile("normality", "")))
	require.NoError(t, err)
	var mistakes problem.Errors
	require.ErrorAs(t, procedure.Simulate(context.Background(), p, nil), &mistakes)
	assert.Equal(t, "/procedure", mistakes[0].Pointer)
}
