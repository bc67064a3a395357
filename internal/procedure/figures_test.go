package procedure_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

const two = `{"grund":1,"procedure":"t-two-sample",%s"data":{"summary":{"groups":[{"label":"a","n":10,"mean":%v,"sd":2},{"label":"b",` +
	`"n":12,"mean":5,"sd":2}]}}}`

// The rejection region lies where H₁ says, begins at the critical value, and p is
// the area from the statistic on.
func TestCurve(t *testing.T) {
	for tail, want := range map[string]struct{ regions, areas int }{"both": {2, 2}, "left": {1, 1}, "right": {1, 1}} {
		s := proctest.Work(t, fmt.Sprintf(two, `"tail":"`+tail+`",`, 4))
		f := proctest.Figure(t, s, "curve")
		regions := proctest.Marks(f, working.Area, working.Region)
		assert.Len(t, regions, want.regions, tail)
		assert.Len(t, proctest.Marks(f, working.Area, working.PArea), want.areas, tail)
		q := proctest.Quantities(s)
		if tail != "right" {
			last := regions[0].X[len(regions[0].X)-1]
			assert.InDelta(t, q["critical_low"], float64(last), 1e-4)
		}
		if tail != "left" {
			first := regions[len(regions)-1].X[0]
			assert.InDelta(t, q["critical_high"], float64(first), 1e-4)
		}
		statistic := proctest.Marks(f, working.RuleMark, working.StatisticMark)
		require.Len(t, statistic, 1)
		assert.InDelta(t, q["t"], float64(statistic[0].X[0]), 1e-12)
		assert.False(t, statistic[0].Beyond)
	}
}

func TestAStatisticBeyondTheCurveIsDrawnAtItsEnd(t *testing.T) {
	f := proctest.Figure(t, proctest.Work(t, fmt.Sprintf(two, "", 80)), "curve")
	statistic := proctest.Marks(f, working.RuleMark, working.StatisticMark)[0]
	assert.True(t, statistic.Beyond)
	assert.Equal(t, f.Axis.Max, statistic.X[0])
	assert.Contains(t, f.Says, "lies inside it")
}

// The interval figure has H₀ as a handle; an end that is open is null.
func TestInterval(t *testing.T) {
	for tail, open := range map[string][2]bool{"both": {false, false}, "left": {true, false}, "right": {false, true}} {
		s := proctest.Work(t, fmt.Sprintf(two, `"tail":"`+tail+`","options":{"difference":0.5},`, 4))
		f := proctest.Figure(t, s, "interval")
		bar := proctest.Marks(f, working.Interval, working.Observed)[0]
		assert.Equal(t, open, [2]bool{math.IsInf(float64(bar.X[0]), 0), math.IsInf(float64(bar.X[2]), 0)}, tail)
		require.Len(t, f.Handles, 1)
		assert.Equal(t, "/options/difference", f.Handles[0].Pointer)
		assert.Equal(t, working.Number(0.5), f.Handles[0].At)
		assert.True(t, f.Axis.Min < f.Handles[0].At && f.Handles[0].At < f.Axis.Max)
	}
}

// Boxes from cases, bars from a summary; a whisker ends at a case.
func TestLook(t *testing.T) {
	s := proctest.Work(t, proctest.TwoGroups("", []float64{1, 2, 3, 4, 5, 6, 7, 30}, []float64{1, 2, 3}))
	f := proctest.Figure(t, s, "look")
	assert.Equal(t, working.Boxes, f.Form)
	box := proctest.Marks(f, working.Box, working.Observed)[0]
	assert.Equal(t, working.Positions(1, 2.5, 4.5, 6.5, 7), box.X)
	points := proctest.Marks(f, working.Points, working.Observed)
	assert.Equal(t, working.CaseNumbers{1, 2, 3, 4, 5, 6, 7, 8}, points[0].Case)
	assert.Contains(t, f.Says, "Mole: from 1 to 30, middle half 2.5 to 6.5, median 4.5")

	f = proctest.Figure(t, proctest.Work(t, fmt.Sprintf(two, "", 4)), "look")
	assert.Equal(t, working.Intervals, f.Form)
	assert.Equal(t, working.Positions(2, 4, 6), proctest.Marks(f, working.Interval, working.Observed)[0].X)
}

// Every control stands at the value that the problem has, among its choices or
// free.
func TestControls(t *testing.T) {
	s := proctest.Work(t, fmt.Sprintf(two, `"alpha":0.07,"tail":"right","options":{"variances":"equal","groups":["b","a"]},`, 4))
	values := map[string]any{}
	keys := map[string]bool{}
	for _, c := range s.Controls {
		assert.False(t, c.Key == "" || keys[c.Key], "%s needs a key of its own", c.ID)
		keys[c.Key] = true
		values[c.ID] = c.Value
		among := false
		for _, choice := range c.Choices {
			among = among || assert.ObjectsAreEqual(choice.Value, c.Value)
		}
		assert.True(t, among || c.Free, c.ID)
	}
	assert.Equal(t, map[string]any{"alpha": 0.07, "tail": "right", "variances": "equal", "groups": []string{"b", "a"}}, values)
}
