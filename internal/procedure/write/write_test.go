package write

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// begun returns a sheet of a problem with alpha 0.05 on which nothing stands yet.
func begun(tail problem.Tail, claim *problem.Claim) *Sheet {
	s := &Sheet{P: &problem.Problem{Grund: problem.Format, Alpha: 0.05, Tail: tail, Claim: claim}}
	s.Direction = Direction{
		Tail:        tail,
		Null:        problem.Sides[string]{Both: "they are alike", Less: "the first is not less", Greater: "the first is not greater"},
		Alternative: problem.Sides[string]{Both: "they differ", Less: "the first is less", Greater: "the first is greater"},
		TeX:         Compared{`\mu_{M}`, `\mu_{Q}`}, Plain: Compared{"μ_M", "μ_Q"},
	}
	s.Start(&describe.Description{Title: "A test"}, "test of tests", 10, 10)
	return s
}

// condition returns the one condition on a sheet.
func condition(t *testing.T, s *Sheet) *working.Condition {
	t.Helper()
	solution, err := s.Finish()
	require.NoError(t, err)
	require.Len(t, solution.Conditions, 1)
	return solution.Conditions[0]
}

// The sign of H₀ is what that of H₁ leaves, in symbols as in words, and what is said of the tail is
// said of the same one.
func TestDirection(t *testing.T) {
	for tail, want := range map[problem.Tail]struct {
		null, alternative, than, tails, h0, h1 string
		area                                   float64
		below, above                           bool
	}{
		problem.Both:  {"=", "≠", "different from", "two-tailed", "they are alike", "they differ", 0.025, true, true},
		problem.Left:  {"≥", "<", "lower than", "one-tailed", "the first is not less", "the first is less", 0.05, true, false},
		problem.Right: {"≤", ">", "higher than", "one-tailed", "the first is not greater", "the first is greater", 0.05, false, true},
	} {
		d := &begun(tail, nil).Direction
		assert.Equal(t, want.null, d.nullSign(), tail)
		assert.Equal(t, want.alternative, d.sign(), tail)
		assert.Equal(t, []string{want.than, want.tails, want.h0, want.h1}, []string{d.Than(), d.Tails(), d.H0(), d.H1()}, tail)
		assert.InDelta(t, want.area, d.TailArea(0.05), 0, tail)
		assert.Equal(t, []bool{want.below, want.above, want.below != want.above}, []bool{d.Below(), d.Above(), d.Directed()}, tail)
	}
}

func TestTheStepOnTheHypotheses(t *testing.T) {
	for tail, want := range map[problem.Tail]working.HypothesesBlock{
		problem.Both: {
			Null:        working.Hypothesis{Says: problem.Equal, Symbols: `H_0:\; \mu_{M} = \mu_{Q}`, Words: "they are alike"},
			Alternative: working.Hypothesis{Says: problem.Different, Symbols: `H_1:\; \mu_{M} \ne \mu_{Q}`, Words: "they differ"},
		},
		problem.Left: {
			Null:        working.Hypothesis{Says: problem.AtLeast, Symbols: `H_0:\; \mu_{M} \ge \mu_{Q}`, Words: "the first is not less"},
			Alternative: working.Hypothesis{Says: problem.Smaller, Symbols: `H_1:\; \mu_{M} < \mu_{Q}`, Words: "the first is less"},
		},
		problem.Right: {
			Null:        working.Hypothesis{Says: problem.AtMost, Symbols: `H_0:\; \mu_{M} \le \mu_{Q}`, Words: "the first is not greater"},
			Alternative: working.Hypothesis{Says: problem.Larger, Symbols: `H_1:\; \mu_{M} > \mu_{Q}`, Words: "the first is greater"},
		},
	} {
		s := begun(tail, nil)
		s.HypothesesStep()
		solution, err := s.Finish()
		require.NoError(t, err)
		require.Len(t, solution.Steps, 1)
		require.Len(t, solution.Steps[0].Blocks, 1)
		got := solution.Steps[0].Blocks[0].(working.HypothesesBlock)
		assert.Len(t, got.Directions, 3)
		own := got.Directions[tail]
		got.Directions = nil
		assert.Equal(t, want, got, tail)
		assert.Equal(t, want, own, "that of its own tail is among those it could take")
	}
}

// A claim whose direction is not that of H₁ is pointed out before there is a result, and no other.
func TestTheDirectionOfAClaim(t *testing.T) {
	says := map[problem.Tail]map[problem.Statement]string{
		problem.Both: {
			problem.Equal: "", problem.Different: "", problem.Open: "", problem.Larger: "with one tail, the right",
			problem.AtMost:  "with one tail, the right",
			problem.Smaller: "with one tail, the left", problem.AtLeast: "with one tail, the left",
		},
		problem.Left: {
			problem.Equal: "names no direction", problem.Different: "names no direction", problem.Open: "", problem.Larger: "with the right tail",
			problem.AtMost: "with the right tail", problem.Smaller: "", problem.AtLeast: "",
		},
		problem.Right: {
			problem.Equal: "names no direction", problem.Different: "names no direction", problem.Open: "", problem.Larger: "", problem.AtMost: "",
			problem.Smaller: "with the left tail", problem.AtLeast: "with the left tail",
		},
	}
	for tail, byStatement := range says {
		for statement, want := range byStatement {
			s := begun(tail, &problem.Claim{Text: "So it is.", Says: statement})
			blocks := s.claimDirection()
			if want == "" {
				assert.Empty(t, blocks, "%s beside %s", statement, tail)
				continue
			}
			if assert.Len(t, blocks, 1, "%s beside %s", statement, tail) {
				assert.Contains(t, s.Plain(blocks[0].(working.Prose).Text), want, "%s beside %s", statement, tail)
			}
		}
	}
}

// Whether a claim holds the equality, and whether H₁ takes its side, decides where it stands.
func TestTheQuestionSaysWhereAClaimStands(t *testing.T) {
	for says, c := range map[string]struct {
		tail      problem.Tail
		statement problem.Statement
	}{
		"holds the equality, so it is H₀":                        {problem.Both, problem.Equal},
		"holds no equality, so it is H₁":                         {problem.Right, problem.Larger},
		"holds the equality, so it stands on the side of H₀":     {problem.Both, problem.AtMost},
		"holds no equality and would be H₁, if H₁ took the side": {problem.Left, problem.Larger},
		"states more than this test can weigh":                   {problem.Both, problem.Open},
	} {
		s := begun(c.tail, &problem.Claim{Text: "So it is.", Population: "all loadings", Says: c.statement})
		blocks := s.claimBlocks()
		require.Len(t, blocks, 1, says)
		text := s.Plain(blocks[0].(working.Prose).Text)
		assert.Contains(t, text, "The claim about all loadings, “So it is”,")
		assert.Contains(t, text, says)
	}
	assert.Empty(t, begun(problem.Both, nil).claimBlocks())
}

// p by a curve that is even about 0 and p of a count are those tails that H₁ takes.
func TestPByDirection(t *testing.T) {
	normal, trials := dist.Normal{}, dist.Binomial{N: 10, P: 0.5}
	for tail, want := range map[problem.Tail]struct{ curve, count float64 }{
		// Φ(−1.96) = 0.024997895…; P(X ≤ 7) = 968/1024 and P(X ≥ 7) = 176/1024 of ten tosses.
		problem.Left:  {1 - 0.02499789514822, 968.0 / 1024},
		problem.Right: {0.02499789514822, 176.0 / 1024},
		problem.Both:  {2 * 0.02499789514822, 0.5},
	} {
		d := &Direction{Tail: tail}
		p, _ := d.CurveP(Z, normal, 1.96, "z")
		assert.InDelta(t, want.curve, p, 1e-13, tail)
		assert.InDelta(t, want.count, d.CountedP(trials, 7, func() float64 { return 0.5 }), 1e-14, tail)
	}
	both := &Direction{Tail: problem.Both}
	p, _ := both.CurveP(Z, normal, -1.96, "z")
	assert.InDelta(t, 2*0.02499789514822, p, 1e-13, "the other side speaks against H₀ as much")
}

// The correction goes by the tail that H₁ takes, wherever the statistic lies; with two tails it takes
// the distance nearer to 0, never across it.
func TestCorrectionForContinuity(t *testing.T) {
	for name, c := range map[string]struct {
		tail     problem.Tail
		distance float64
		want     float64 // the distance with the correction
	}{
		"left, below": {problem.Left, -3, -2.5}, "left, above": {problem.Left, 3, 3.5},
		"right, below": {problem.Right, -3, -3.5}, "right, above": {problem.Right, 3, 2.5},
		"both, below": {problem.Both, -3, -2.5}, "both, above": {problem.Both, 3, 2.5},
		"both, nearer than half a step": {problem.Both, 0.25, 0}, "both, at 0": {problem.Both, 0, 0},
	} {
		s := begun(c.tail, nil)
		s.Define(working.Quantity{ID: "distance", Symbol: "D"}, working.Ratio, c.distance, nil)
		corrected := s.Correct(Correction{
			Continuity: s.Direction.Continuity(true), Distance: c.distance, Half: 0.5, Expr: formula.Ref("distance"), HalfExpr: formula.Num(0.5),
			Says: "Half a step",
		})
		s.Define(working.Quantity{ID: "corrected", Symbol: "C"}, working.Ratio, c.want, corrected)
		assert.InDelta(t, c.want, s.Recompute()["corrected"], 1e-15, name)
		assert.Equal(t, stats.NoCorrection, s.Direction.Continuity(false), name)
	}
}

func TestExpectedCells(t *testing.T) {
	names := []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday"}
	for says, c := range map[string]struct {
		expected []float64
		status   working.Status
	}{
		"5 or more are expected everywhere, the least 5.0 (Tuesday)":       {[]float64{9, 5, 7, 8, 6}, working.Met},
		"1 of 5 expect fewer than 5, the least 1.0 (Friday). By the usual": {[]float64{9, 5, 7, 8, 1}, working.Doubtful},
		"1 of 5 expect fewer than 5, the least 0.9 (Friday): too few":      {[]float64{9, 5, 7, 8, 0.9}, working.NotMet},
		"2 of 5 expect fewer than 5, the least 4.0 (Monday): too few":      {[]float64{4, 4.5, 7, 8, 6}, working.NotMet},
	} {
		s := begun(problem.Both, nil)
		s.ExpectedCells(c.expected, names, "Join some.")
		got := condition(t, s)
		assert.Equal(t, c.status, got.Status, says)
		assert.Contains(t, got.Reason, says)
	}
}

// spread returns a group whose values are even from 1 to n, with more values after them.
func spread(name string, n int, more ...float64) cases.Spread {
	var values []float64
	var rows []int
	for i := range n {
		values = append(values, float64(i+1))
	}
	values = append(values, more...)
	for i := range values {
		rows = append(rows, i+1)
	}
	return cases.NewSpread(name, values, rows)
}

// A case stands out beyond one and a half box lengths, far out beyond three; one that moves the mean by
// half of its standard errors matters. The box goes from 5.5 to 15.5 or a little more.
func TestOutliers(t *testing.T) {
	for says, c := range map[string]struct {
		groups []cases.Spread
		status working.Status
		first  int // case that there is a way to leave out
		ways   int
	}{
		"No case stands out: all lie within one and a half box lengths of the box.": {[]cases.Spread{spread("", 20, 30)}, working.Met,
			0, 0},
		"No case stands out: all lie within one and a half box lengths of their group's box.": {
			[]cases.Spread{spread("a", 20), spread("b", 20)}, working.Met, 0, 0},
		"Stands out: case 21 (34.0). Without case 21 the mean of 21 cases": {[]cases.Spread{spread("", 20, 34)}, working.Doubtful, 21, 1},
		"Stands far out: case 21 (60.0, b)": {[]cases.Spread{spread("a", 20), spread("b", 20, 60)},
			working.NotMet, 21, 1},
		"case 65 (400.0) and 2 more": {[]cases.Spread{spread("", 60, 400, 400, 400, 400, 400, 400, 400)}, working.NotMet, 61, 5},
	} {
		s := begun(problem.Both, nil)
		s.Outliers(c.groups, 1)
		got := condition(t, s)
		assert.Equal(t, c.status, got.Status, says)
		assert.Contains(t, got.Reason, says)
		assert.Len(t, got.Actions, c.ways, says)
		for i, way := range got.Actions {
			assert.Equal(t, fmt.Sprintf("leave-out-%d", c.first+i), way.ID)
		}
	}
}

// How far the mean moves is the difference of the means with and without the case, over the standard
// error with it.
func TestShiftOf(t *testing.T) {
	values := []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 30}
	all, others := stats.NewMoments(values), stats.NewMoments(values[:9])
	assert.InDelta(t, (all.Mean-others.Mean)/(all.SD/math.Sqrt(10)), shiftOf(all, 30), 1e-14)
	assert.InDelta(t, 0, shiftOf(stats.NewMoments([]float64{4, 4, 4}), 4), 0)
	assert.InDelta(t, 0, shiftOf(stats.NewMoments([]float64{4}), 4), 0)
}

// What is said of how many cases there were is true of all, of some and of those left out by hand.
func TestCounted(t *testing.T) {
	for want, c := range map[string]struct {
		counted Counted
		left    []problem.LeftOut
	}{
		"10 cases.":             {Counted{Given: 10, Used: 10}, nil},
		"1 pair in two groups.": {Counted{One: "pair", Given: 1, Used: 1, All: working.Textf(" in two groups")}, nil},
		"10 cases in all, of which 8 used. Left out: 2 cases with a missing value.": {
			Counted{Given: 10, Used: 8, Others: "with a missing value"}, nil},
		"10 cases in all, of which 8 used. Left out: case 3 (late); 1 case with a missing value.": {
			Counted{Given: 10, Used: 8, Others: "with a missing value"}, []problem.LeftOut{{Case: 3, Reason: "late"}}},
	} {
		s := begun(problem.Both, nil)
		s.P.LeaveOut = c.left
		assert.Equal(t, want, s.Plain(s.Counted(c.counted).(working.Prose).Text))
	}
	assert.Empty(t, begun(problem.Both, nil).LeftOutBlocks(7, 7, "with a missing value"))
}

func TestConditionsAreSummedUpByTheWorst(t *testing.T) {
	for want, statuses := range map[string][]working.Status{
		"met": {working.Met, working.NotNeeded}, "1 doubtful": {working.Met, working.Doubtful},
		"2 not met": {working.NotMet, working.Doubtful, working.NotMet},
	} {
		s := begun(problem.Both, nil)
		for i, status := range statuses {
			s.Condition(fmt.Sprint(i), status, working.Textf("so"))
		}
		assert.Equal(t, want, s.Plain(s.conditionResult()))
	}
}

// Filling puts the same words into what is said each way.
func TestFill(t *testing.T) {
	filled := Fill(problem.Sides[string]{Both: "%s is %s", Less: "%s is below %s", Greater: "%s is above %s"}, "the mean", "12")
	assert.Equal(t, problem.Sides[string]{Both: "the mean is 12", Less: "the mean is below 12", Greater: "the mean is above 12"}, filled)
	assert.Equal(t, []string{"", "min²"}, []string{Squared(""), Squared("min")})
	assert.Equal(t, []int{-1, 0, 1}, []int{SideOf(-0.1), SideOf(0), SideOf(7)})
	assert.True(t, slices.Equal([]working.Ref{"mean_1", "sd_2"}, []working.Ref{Indexed("mean", 1), Indexed("sd", 2)}))
}
