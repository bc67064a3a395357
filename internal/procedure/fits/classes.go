package fits

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// classed are counts in classes with what a distribution expects.
type classed struct {
	*model
	boundaries []float64
	classes    []stats.Bin // before merging
	bins       []stats.Bin
	stats      stats.Fit
}

// A classing says how cases are put into classes.
type classing struct {
	sample     *sample
	boundaries []float64 // nil where they are chosen from the cases
	counts     []int     // in the classes; nil where there are cases
	least      float64   // expected count of a class
}

// pointer is where the boundaries stand in the problem.
func (c *classing) pointer() string {
	if c.counts != nil {
		return "/data/counts/boundaries"
	}
	return "/options/boundaries"
}

// chosen returns boundaries that follow a rule.
func (s *sample) chosen() []float64 {
	classes := stats.ChooseClasses(s.sorted[0], s.sorted[len(s.sorted)-1], len(s.sorted))
	boundaries := make([]float64, classes.Count+1)
	for i := range boundaries {
		boundaries[i] = classes.Boundary(i)
	}
	return boundaries
}

// classify puts the cases into classes, and merges those that expect too few.
func (m *model) classify(c classing) (*classed, error) {
	at := c.pointer()
	if c.boundaries == nil {
		c.boundaries = c.sample.chosen()
	}
	if n := len(c.boundaries); n < 3 {
		return nil, problem.Errors{{
			Pointer: at, Says: fmt.Sprintf("%s make %s", words.Count(n, "boundary"), words.Count(max(0, n-1), "class")),
			Instead: "give three boundaries or more",
		}}
	}
	if n := len(c.boundaries); n > problem.MaxClasses+1 {
		return nil, problem.TooMany(at, fmt.Sprintf("%d boundaries make %d classes", n, n-1), problem.MaxClasses, "give wider classes")
	}
	for i := 1; i < len(c.boundaries); i++ {
		if !(c.boundaries[i] > c.boundaries[i-1]) {
			return nil, problem.Errors{{
				Pointer: problem.Pointer("options", "boundaries", i), Says: "the boundaries do not increase", Instead: "give each above the one before",
			}}
		}
	}
	out := &classed{model: m, boundaries: c.boundaries, classes: m.classesOf(&c)}
	n := 0
	for _, class := range out.classes {
		n += class.Observed
	}
	out.bins = stats.MergeBins(out.classes, n, c.least)
	if df := len(out.bins) - 1 - len(m.estimated); df < 1 {
		return nil, problem.Errors{{
			Pointer: at, Instead: "give narrower classes, or a smaller min_expected, or the parameters",
			Says: fmt.Sprintf("%s left after merging and %s estimated leave no degrees of freedom",
				words.Count(len(out.bins), "class"), words.Count(len(m.estimated), "parameter")),
		}}
	}
	var observed []int
	var probabilities []float64
	for _, b := range out.bins {
		observed, probabilities = append(observed, b.Observed), append(probabilities, b.Probability)
		if b.Probability == 0 {
			return nil, problem.Errors{{
				Pointer: at, Instead: "give other boundaries, or a min_expected above 0",
				Says: fmt.Sprintf("nothing can be expected between %s and %s", working.FormatShortest(b.Low), working.FormatShortest(b.High)),
			}}
		}
	}
	out.stats = stats.CompareClasses(observed, probabilities, len(m.estimated))
	return out, nil
}

// classesOf returns the classes with what was counted in each and its probability. The first and
// the last run to the ends of what the distribution can give.
func (m *model) classesOf(c *classing) []stats.Bin {
	last := len(c.boundaries) - 2
	classes := make([]stats.Bin, last+1)
	below := 0 // the cases of the classes so far
	for i := range classes {
		bin := stats.Bin{Low: c.boundaries[i], High: c.boundaries[i+1], Merged: 1}
		upTo := len(c.sample.sorted)
		if i < last { // a value on a boundary belongs to the class above it
			upTo, _ = slices.BinarySearch(c.sample.sorted, bin.High)
		}
		if i == 0 {
			bin.Low = m.low
		}
		inclusive := bin.High
		if i == last {
			bin.High, inclusive = m.high, math.Inf(1) // the last class holds the end of the support too
		}
		bin.Probability = stats.ClassProbability(m.distribution, bin.Low, inclusive)
		bin.Observed, below = upTo-below, upTo
		if c.counts != nil {
			bin.Observed = c.counts[i]
		}
		classes[i] = bin
	}
	return classes
}

// ends returns the ends of a class where they can be drawn: the outer boundaries in place of
// infinite ends.
func (c *classed) ends(i int) (low, high float64) {
	low, high = c.classes[i].Low, c.classes[i].High
	if math.IsInf(low, -1) {
		low = c.boundaries[i]
	}
	if math.IsInf(high, 1) {
		high = c.boundaries[i+1]
	}
	return low, high
}

// className names a class: "0 to 60", "300 or more".
func (c *classed) className(b stats.Bin) string {
	if c.whole && !math.IsInf(b.High, 1) {
		first, last := math.Ceil(b.Low), math.Ceil(b.High)-1
		if b.High == c.high { // the last class holds the end of the support too
			last = b.High
		}
		if last <= first {
			return working.FormatShortest(first)
		}
		return working.FormatShortest(first) + " to " + working.FormatShortest(last)
	}
	switch {
	case math.IsInf(b.Low, -1):
		return "below " + working.FormatShortest(b.High)
	case math.IsInf(b.High, 1):
		return working.FormatShortest(b.Low) + " or more"
	}
	return working.FormatShortest(b.Low) + " to " + working.FormatShortest(b.High)
}

// handles let the boundaries between classes be moved, each between its neighbours. width is
// that of a class.
func (c *classed) handles(by classing, width float64) []working.Handle {
	among := working.Positions(c.boundaries...)
	step := math.Pow10(int(math.Floor(math.Log10(width / 10))))
	if c.whole {
		step = 1
	}
	var handles []working.Handle
	for i := 1; i < len(among)-1; i++ {
		low, high := c.boundaries[i-1]+step, c.boundaries[i+1]-step
		handles = append(handles, working.Handle{
			ID: fmt.Sprintf("boundary_%d", i), Label: fmt.Sprintf("Boundary %d of the classes", i),
			Pointer: problem.Pointer("options", "boundaries"),
			At:      among[i], Min: working.Number(c.farthest(by, i, low, step)), Max: working.Number(c.farthest(by, i, high, step)),
			Step: working.Number(step), Among: among, Index: i,
		})
	}
	return handles
}

// farthest returns how far a boundary may be moved toward a place, in steps, so that the classes
// still leave degrees of freedom.
func (c *classed) farthest(by classing, boundary int, toward, step float64) float64 {
	serves := func(at float64) bool {
		moved := by
		moved.boundaries = slices.Clone(c.boundaries)
		moved.boundaries[boundary] = at
		_, err := c.classify(moved)
		return err == nil
	}
	if serves(toward) {
		return toward
	}
	at := c.boundaries[boundary]
	if toward < at {
		step = -step
	}
	steps := sort.Search(int((toward-at)/step), func(n int) bool { return !serves(at + float64(n+1)*step) })
	return at + float64(steps)*step
}
