package working

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats/dist"
)

// families of tests, whose degrees of freedom are the quantities a and b.
var (
	normalCurve = formula.Family{Symbol: "z", New: func([]float64) dist.Distribution { return dist.Normal{} }}
	tCurve      = formula.Family{Symbol: "t", Degrees: []formula.Ref{"a"},
		New: func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
	squareCurve = formula.Family{Symbol: `\chi^2`, Degrees: []formula.Ref{"a"},
		New: func(d []float64) dist.Distribution { return dist.ChiSquare{DF: d[0]} }}
	fCurve = formula.Family{Symbol: "F", Degrees: []formula.Ref{"a", "b"},
		New: func(d []float64) dist.Distribution { return dist.F{DF1: d[0], DF2: d[1]} }}
)

// tested makes a test of a statistic x with its degrees of freedom.
func tested(t *testing.T, tail problem.Tail, alpha float64, test Test, x float64, degrees ...float64) (*Working, *Solution) {
	t.Helper()
	w := New(&problem.Problem{Procedure: "x", Alpha: alpha, Tail: tail}, "", "", Cases{})
	w.DefineAlpha()
	for i, d := range degrees {
		ref := Ref([]string{"a", "b"}[i])
		w.Define(Quantity{ID: ref, Symbol: `\nu`}, Degrees, d, nil)
		test.Degrees = append(test.Degrees, ref)
	}
	w.Define(Quantity{ID: "x", Symbol: "x"}, Ratio, x, nil)
	test.Statistic, test.Extreme = "x", "a statistic at least as far off"
	w.Test(test)
	w.CriticalValueStep()
	w.PValueStep()
	w.DecisionStep(Words{TypeI: "to see what is not there", TypeII: "to miss what is there", NotEqual: "that nothing is there"})
	s, err := w.Finish()
	require.NoError(t, err)
	return w, s
}

// The areas are of closed forms: of t with two degrees of freedom, of chi-square with two, and
// of F with two above the line.
func TestTailsInClosedForm(t *testing.T) {
	tUpper := func(x float64) float64 { return 0.5 - x/(2*math.Sqrt(2+x*x)) }
	tQuantile := func(p float64) float64 { return (2*p - 1) * math.Sqrt(2/(1-(2*p-1)*(2*p-1))) }
	fUpper := func(f, m float64) float64 { return math.Pow(1+2*f/m, -m/2) }
	for name, c := range map[string]struct {
		tail    problem.Tail
		test    Test
		x       float64
		degrees []float64
		p       float64
		low     float64 // NaN where there is none
		high    float64
	}{
		"t, both": {problem.Both, Test{Symbol: "t", Family: tCurve}, -3, []float64{2}, 2 * tUpper(3), -tQuantile(0.975),
			tQuantile(0.975)},
		"t, left":  {problem.Left, Test{Symbol: "t", Family: tCurve}, -3, []float64{2}, tUpper(3), -tQuantile(0.95), math.NaN()},
		"t, right": {problem.Right, Test{Symbol: "t", Family: tCurve}, -3, []float64{2}, tUpper(-3), math.NaN(), tQuantile(0.95)},
		"chi-square": {problem.Both, Test{Symbol: "χ²", Family: squareCurve, UpperOnly: true}, 7, []float64{2}, math.Exp(-3.5),
			math.NaN(), -2 * math.Log(0.05)},
		"chi-square, twice": {problem.Both, Test{Symbol: "χ²", Family: squareCurve, Positive: true}, 7, []float64{2}, 2 * math.Exp(-3.5),
			-2 * math.Log(0.975), -2 * math.Log(0.025)},
		"F": {problem.Both, Test{Symbol: "F", Family: fCurve, UpperOnly: true}, 5, []float64{2, 9}, fUpper(5, 9), math.NaN(),
			4.5 * (math.Pow(0.05, -2.0/9) - 1)},
	} {
		t.Run(name, func(t *testing.T) {
			w, s := tested(t, c.tail, 0.05, c.test, c.x, c.degrees...)
			assert.InEpsilon(t, c.p, w.Value("p"), 1e-13)
			for id, want := range map[Ref]float64{"critical_low": c.low, "critical_high": c.high} {
				assert.Equal(t, !math.IsNaN(want), w.Has(id), id)
				if w.Has(id) {
					assert.InEpsilon(t, want, w.Value(id), 1e-12, id)
				}
			}
			assert.Equal(t, c.p <= 0.05, s.Decision.Reject)
			assert.Equal(t, s.Decision.Reject, *s.Decision.ByCriticalValue)
		})
	}
}

// At p = α the test rejects, and right beside it both rules still say the same.
func TestTheBoundaryIsRejected(t *testing.T) {
	for _, alpha := range []float64{0.1, 0.05, 0.01, 0.001} {
		at := -2 * math.Log(alpha)
		for i := -40; i <= 40; i++ {
			x := at * (1 + float64(i)*1e-15)
			w, s := tested(t, problem.Both, alpha, Test{Symbol: "χ²", Family: squareCurve, UpperOnly: true}, x, 2)
			assert.Equal(t, w.Value("p") <= alpha, s.Decision.Reject)
			assert.Equal(t, s.Decision.Reject, *s.Decision.ByCriticalValue, "χ² = %v, α = %v", x, alpha)
		}
	}
	_, s := tested(t, problem.Right, 0.5, Test{Symbol: "z", Family: normalCurve}, 0)
	assert.True(t, s.Decision.Reject, "half of the curve lies from 0 on")
	assert.Contains(t, stepText(t, s, DecisionStep), "0.5000 = 0.5")
}

// stepText is all that is written in a step.
func stepText(t *testing.T, s *Solution, id StepID) string {
	t.Helper()
	text := ""
	for _, step := range s.Steps {
		if step.ID != id {
			continue
		}
		for _, block := range step.Blocks {
			switch b := block.(type) {
			case Prose:
				text += plain(b.Text, quantitiesOf(s), func(format string, args ...any) { t.Errorf(format, args...) }) + "\n"
			case Verdict:
				text += b.Compare + ": " + b.Says + "\n"
			}
		}
	}
	return text
}

func quantitiesOf(s *Solution) map[Ref]*Quantity {
	byID := map[Ref]*Quantity{}
	for _, q := range s.Quantities {
		byID[q.ID] = q
	}
	return byID
}

func TestWordsOfATest(t *testing.T) {
	for name, c := range map[string]struct {
		tail    problem.Tail
		test    Test
		x       float64
		degrees []float64
		step    StepID
		want    []string
	}{
		"two tails": {problem.Both, Test{Symbol: "z", Family: normalCurve}, 1.2, nil, CriticalValue,
			[]string{"standard normal", "0.025 in each tail", "z ≤ −1.960 or z ≥ 1.960"}},
		"less": {problem.Left, Test{Symbol: "z", Family: normalCurve}, 1.2, nil, CriticalValue,
			[]string{"H₁ says “less”", "0.05 lies in the left tail", "z ≤ −1.645"}},
		"greater": {problem.Right, Test{Symbol: "t", Family: tCurve}, 1.2, []float64{1}, CriticalValue,
			[]string{"1 degree of freedom.", "H₁ says “greater”", "t ≥ 6.314"}},
		"no direction": {problem.Both, Test{Symbol: "F", Family: fCurve, UpperOnly: true}, 1.2, []float64{2, 9}, CriticalValue,
			[]string{"2 and 9 degrees of freedom", "Only a large value speaks against H₀", "F ≥ 4.256"}},
		"lopsided": {problem.Both, Test{Symbol: "χ²", Family: squareCurve, Positive: true}, 1.2, []float64{4}, CriticalValue,
			[]string{"lopsided", "χ² ≤ 0.484 or χ² ≥ 11.143"}},
		"p of two tails": {problem.Both, Test{Symbol: "z", Family: normalCurve}, -1.2, nil, PValue,
			[]string{"beyond ±1.200", "about 23 of 100 samples", "not the probability that H₀ is true"}},
		"p of less": {problem.Left, Test{Symbol: "z", Family: normalCurve}, -1.2, nil, PValue,
			[]string{"to the left of −1.200", "about 12 of 100"}},
		// 2(1 − e⁻⁰·¹·1.1) = 0.0094
		"p of the near side": {problem.Both, Test{Symbol: "χ²", Family: squareCurve, Positive: true}, 0.2, []float64{4}, PValue,
			[]string{"to the left of 0.200, doubled", "about 94 of 10\u202f000"}},
		"p of the far side": {problem.Both, Test{Symbol: "χ²", Family: squareCurve, Positive: true}, 20, []float64{4}, PValue,
			[]string{"to the right of 20.000, doubled", "about 10 of 10"}},
		"rarely": {problem.Both, Test{Symbol: "z", Family: normalCurve}, 7, nil, PValue, []string{"about one in 4 × 10¹¹ samples"}},
		"rejected": {problem.Both, Test{Symbol: "z", Family: normalCurve}, -3, nil, DecisionStep,
			[]string{"3.000 > 1.960: inside the region", "0.0027 < 0.05: p is smaller than α", "to see what is not there",
				"in 5\u00a0% of samples", "Rejecting proves nothing"}},
		"far off": {problem.Both, Test{Symbol: "z", Family: normalCurve}, 9, nil, DecisionStep,
			[]string{"p <\u202f0.0001: p is smaller than α = 0.05"}},
		"kept": {problem.Left, Test{Symbol: "z", Family: normalCurve}, -1, nil, DecisionStep,
			[]string{"−1.000 > −1.645: outside the region", "0.1587 > 0.05: p is larger than α", "to miss what is there", "that nothing is there"}},
	} {
		t.Run(name, func(t *testing.T) {
			_, s := tested(t, c.tail, 0.05, c.test, c.x, c.degrees...)
			for _, words := range c.want {
				assert.Contains(t, stepText(t, s, c.step), words)
			}
		})
	}
}

// The curve marks the region, the statistic and p where they lie, and says so.
func TestCurve(t *testing.T) {
	marks := func(s *Solution, shape Shape, role Role) (found []Mark) {
		for _, m := range s.Figures[0].Marks {
			if m.Shape == shape && m.Role == role {
				found = append(found, m)
			}
		}
		return found
	}
	_, s := tested(t, problem.Both, 0.05, Test{Symbol: "z", Name: "the normal curve", Family: normalCurve}, 1.5)
	assert.Len(t, marks(s, Area, Region), 2)
	assert.Len(t, marks(s, Area, PArea), 2)
	left := marks(s, Area, PArea)[0]
	assert.InDelta(t, -1.5, float64(left.X[len(left.X)-1]), 1e-5)
	assert.InDelta(t, math.Exp(-1.125)/math.Sqrt(2*math.Pi), float64(left.Y[len(left.Y)-1]), 1e-5)
	assert.False(t, marks(s, RuleMark, StatisticMark)[0].Beyond)
	assert.Contains(t, s.Figures[0].Says, "Rejection region: z ≤ −1.960 or z ≥ 1.960. The statistic z = 1.500 lies outside it. The area "+
		"that is p: 0.1336.")

	_, s = tested(t, problem.Left, 0.05, Test{Symbol: "z", Family: normalCurve}, -40)
	region := marks(s, Area, Region)
	require.Len(t, region, 1)
	assert.InDelta(t, -1.644854, float64(region[0].X[len(region[0].X)-1]), 5e-5)
	far := marks(s, RuleMark, StatisticMark)[0]
	assert.True(t, far.Beyond)
	assert.InDelta(t, float64(s.Figures[0].Axis.Min), float64(far.X[0]), 1e-12, "drawn at the end of the axis")
	assert.Contains(t, s.Figures[0].Says, "inside it")

	_, s = tested(t, problem.Both, 0.05, Test{Symbol: "F", Family: fCurve, UpperOnly: true}, 2, 1, 12) // rises without bound towards 0
	for _, y := range marks(s, Line, Expected)[0].Y {
		assert.False(t, math.IsInf(float64(y), 0))
	}
	assert.Zero(t, float64(s.Figures[0].Axis.Min))
	assert.Len(t, marks(s, Area, Region), 1)
}

// A statistic that does not exist leaves no decision.
func TestNoStatistic(t *testing.T) {
	w := New(&problem.Problem{Procedure: "x", Alpha: 0.05, Tail: problem.Both}, "", "", Cases{})
	w.DefineAlpha()
	w.Define(Quantity{ID: "x", Symbol: "x"}, Ratio, math.NaN(), nil)
	w.Test(Test{Statistic: "x", Symbol: "z", Family: normalCurve})
	s, err := w.Finish()
	require.NoError(t, err)
	assert.Nil(t, s.Decision)
	assert.InEpsilon(t, 1.959963984540054, w.Value("critical_high"), 1e-14)
}

func TestDecideByP(t *testing.T) {
	for p, reject := range map[float64]bool{0.05: true, 0.0500001: false, 0: true} {
		w := New(&problem.Problem{Procedure: "x", Alpha: 0.05, Tail: problem.Both}, "", "", Cases{})
		w.Define(Quantity{ID: "x"}, Ratio, 3, nil)
		w.Define(Quantity{ID: "p_exact", Label: "Exact p-value"}, P, p, nil)
		w.DecideByP("p_exact", "x", "a table as rare")
		assert.Equal(t, reject, w.Rejected())
		w.PValueStep(Say("It is counted."))
		s, err := w.Finish()
		require.NoError(t, err)
		assert.Nil(t, s.Decision.ByCriticalValue)
		assert.Equal(t, Ref("p_exact"), s.Decision.P)
		assert.Contains(t, stepText(t, s, PValue), "It is counted.\nIn words: if H₀ were true, a table as rare would come up in")
	}
}

func TestFrequency(t *testing.T) {
	for p, want := range map[float64]string{
		0.5: "about 50 of 100 samples", 0.0951: "about 10 of 100 samples", 0.0123: "about 12 of 1000 samples",
		0.00098: "about 10 of 10\u202f000 samples", 0.00094: "about 94 of 100\u202f000 samples",
		0.0000098: "about 10 of 1\u202f000\u202f000 samples", 2.2e-6: "about 2 of 1\u202f000\u202f000 samples",
		1e-9: "about one in 10⁹ samples", 3.1e-35: "about one in 3 × 10³⁴ samples", 0: "less than one in 10³²³ samples",
	} {
		assert.Equal(t, want, frequency(p), "%v", p)
	}
}
