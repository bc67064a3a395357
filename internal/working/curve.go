package working

import (
	"math"

	"grund/internal/problem"
	"grund/internal/stats/dist"
)

// curve draws the reference distribution with the rejection region, the
// statistic and the area that is p.
func (w *Working) curve(t *madeTest) {
	from, to := t.axis(t.value)
	bareFrom, bareTo := t.axis(math.NaN())
	axis := func(from, to float64) Axis { return Axis{Label: t.Symbol, Min: Number(from), Max: Number(to)} }
	f := &Figure{
		ID: "curve", Form: Curve, Title: "If H₀ were true", Axis: axis(from, to), From: Hypotheses,
		Curve: &OfCurve{t.Degrees, t.Statistic, axis(bareFrom, bareTo)},
	}
	finds := map[Role]StepID{Region: CriticalValue, StatisticMark: Statistic, PArea: PValue}
	start := from
	if start == 0 && math.IsInf(t.reference.Density(0), 1) {
		start = to / 1000
	}
	half := 0.0 // of a bar, by which an area reaches beyond its last value
	if stepped, ok := t.reference.(stepped); ok {
		half = stepped.Step() / 2
	}
	most := t.highest()
	x, y := curvePoints(t.reference, start, to, most)
	f.Marks = append(f.Marks, Mark{Shape: Line, Role: Expected, Label: t.Name, X: x, Y: y})
	area := func(role Role, low, high float64, refs ...Ref) {
		low, high = math.Max(low, start), math.Min(high, to)
		if low < high {
			x, y := curvePoints(t.reference, low, high, most)
			f.Marks = append(f.Marks, Mark{Shape: Area, Role: role, X: x, Y: y, Refs: refs, From: finds[role]})
		}
	}
	rule := func(role Role, at float64, label string, ref Ref) {
		within := math.Max(from, math.Min(to, at))
		f.Marks = append(f.Marks, Mark{
			Shape: RuleMark, Role: role, Label: label, X: Positions(within), Refs: []Ref{ref}, Beyond: within != at, From: finds[role],
		})
	}
	if t.low > from {
		area(Region, from, t.low+half, "critical_low")
	}
	if t.high < to {
		area(Region, t.high-half, to, "critical_high")
	}
	left, right := t.extremes()
	if t.tail != problem.Right {
		area(PArea, from, left+half, t.P)
	}
	if t.tail != problem.Left {
		area(PArea, right-half, to, t.P)
	}
	if !math.IsNaN(t.low) {
		rule(Region, t.low, w.Show("critical_low"), "critical_low")
	}
	if !math.IsNaN(t.high) {
		rule(Region, t.high, w.Show("critical_high"), "critical_high")
	}
	if !math.IsNaN(t.value) {
		rule(StatisticMark, t.value, t.Symbol+" = "+w.Show(t.Statistic), t.Statistic)
	}
	f.say(Hypotheses, t.Degrees, "Curve of %s.", t.Name)
	var critical []Ref
	for _, end := range []Ref{"critical_low", "critical_high"} {
		if w.Has(end) {
			critical = append(critical, end)
		}
	}
	f.say(CriticalValue, critical, "Rejection region: %s.", w.regionWords())
	f.say(CriticalValue, append(critical, t.Statistic), "The statistic %s = %s lies %s.", t.Symbol, w.Show(t.Statistic), t.place())
	f.say(PValue, []Ref{t.P}, "The area that is p: %s.", w.Show(w.test.P))
	w.Figure(f)
}

// highest returns the height up to which the curve is drawn: one that rises without bound
// towards 0 is cut, so that its tail can be seen.
func (t *madeTest) highest() float64 {
	if (t.Positive || t.UpperOnly) && math.IsInf(t.reference.Density(0), 1) {
		return 1.5 * t.reference.Density(t.reference.LowerQuantile(0.5))
	}
	return math.Inf(1)
}

// axis returns the ends of the axis: all of the curve that can be seen, the critical
// values, and the statistic, where it is a number, as far as that leaves the curve its shape.
func (t *madeTest) axis(statistic float64) (from, to float64) {
	if stepped, ok := t.reference.(stepped); ok {
		least, greatest := stepped.Range()
		return least - stepped.Step()/2, greatest + stepped.Step()/2
	}
	if t.Positive || t.UpperOnly {
		to = t.reference.UpperQuantile(0.001)
		if c := 1.12 * t.high; c > to {
			to = math.Min(c, 3*to)
		}
		if v := 1.12 * statistic; v > to {
			to = math.Min(v, 2*to)
		}
		return 0, to
	}
	limit := 4.0
	for _, critical := range []float64{t.low, t.high} {
		if c := 1.12 * math.Abs(critical); c > limit {
			limit = math.Min(c, 60)
		}
	}
	if s := 1.12 * math.Abs(statistic); s > limit {
		limit = math.Max(limit, math.Min(s, 9))
	}
	return -limit, limit
}

// extremes returns up to where, and from where on, a statistic is as extreme as this.
func (t *madeTest) extremes() (left, right float64) {
	switch {
	case t.tail != problem.Both:
		return t.value, t.value
	case !t.Positive:
		return -math.Abs(t.value), math.Abs(t.value)
	}
	if t.p >= 1 {
		return t.value, t.value
	}
	if t.reference.Lower(t.value) < t.reference.Upper(t.value) {
		return t.value, t.reference.UpperQuantile(t.p / 2)
	}
	return t.reference.LowerQuantile(t.p / 2), t.value
}

func (t *madeTest) place() string {
	if t.byRegion {
		return "inside it"
	}
	return "outside it"
}

// stepped is a distribution on separate values, which is drawn as bars.
type stepped interface {
	Range() (least, greatest float64)
	Step() float64
	Bar() float64 // the width of a bar
	Outline(low, high float64) (x, y []float64)
}

// curvePoints samples a density from low to high, no higher than most: closer where it bends, so
// that straight lines between the points do not show. A picture needs no more than five digits.
func curvePoints(d dist.Distribution, low, high, most float64) (x, y Numbers) {
	if stepped, ok := d.(stepped); ok {
		xs, ys := stepped.Outline(low, high)
		for i := range xs {
			x, y = append(x, Number(xs[i])), append(y, Number(roundTo(math.Min(ys[i], most), 5)))
		}
		return x, y
	}
	height := func(at float64) float64 { return math.Min(d.Density(at), most) }
	add := func(at, of float64) {
		x, y = append(x, Number(roundTo(at, 5))), append(y, Number(roundTo(of, 5)))
	}
	const parts = 24
	heights := make([]float64, parts+1)
	top := 0.0
	at := func(i int) float64 { return low + (high-low)*float64(i)/parts }
	for i := range heights {
		heights[i] = height(at(i))
		top = math.Max(top, heights[i])
	}
	// between adds the points between two that are drawn, and the second of them.
	var between func(from, fromHeight, to, toHeight float64, depth int)
	between = func(from, fromHeight, to, toHeight float64, depth int) {
		middle := (from + to) / 2
		of := height(middle)
		top = math.Max(top, of)
		bent := math.Abs(of - (fromHeight+toHeight)/2)
		for _, share := range []float64{0.25, 0.75} { // a curve may cross the line in the middle
			bent = math.Max(bent, math.Abs(height(from+share*(to-from))-fromHeight-share*(toHeight-fromHeight)))
		}
		if depth > 0 && bent > top/600 {
			between(from, fromHeight, middle, of, depth-1)
			between(middle, of, to, toHeight, depth-1)
			return
		}
		add(to, toHeight)
	}
	add(low, heights[0])
	for i := 1; i <= parts; i++ {
		between(at(i-1), heights[i-1], at(i), heights[i], 10)
	}
	return x, y
}

// roundTo rounds x to the given number of digits.
func roundTo(x float64, digits int) float64 {
	if x == 0 || math.IsInf(x, 0) || math.IsNaN(x) {
		return x
	}
	unit := math.Pow10(digits - 1 - int(math.Floor(math.Log10(math.Abs(x)))))
	if math.IsInf(unit, 0) || unit == 0 {
		return 0
	}
	return math.Round(x*unit) / unit
}
