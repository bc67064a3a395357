package working

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/problem"
)

// A Figure is a picture as data: marks with roles, on one axis of values.
type Figure struct {
	ID      string   `json:"id"`
	Form    Form     `json:"form"`
	Title   string   `json:"title"`
	Reads   string   `json:"reads,omitzero"` // what is read off it, in short
	Says    string   `json:"says"`           // the text alternative
	Axis    Axis     `json:"axis"`
	Up      *Axis    `json:"up,omitzero"`      // the vertical axis, of a form that has values on it
	Series  []string `json:"series,omitempty"` // names of the parts of grouped or stacked bars, and of the squares of a split
	Marks   []Mark   `json:"marks"`
	Handles []Handle `json:"handles"`
	// Seen is from where to where along the axis cases were observed; beyond it a line goes on
	// unsupported.
	Seen Numbers `json:"seen,omitempty"`
	// Thin says that only some of the cases are drawn, where there are too many to draw all.
	Thin  string `json:"thin,omitzero"`
	Small bool   `json:"small,omitzero"` // takes half the width, beside another small one where there is one

	From  StepID   `json:"-"` // with which it is shown, where it stands in none
	Parts []Saying `json:"-"` // of Says, where a part of the figure is shown before the rest
	Curve *OfCurve `json:"-"` // of the curve of the test
}

// OfCurve is what the curve of a test rests on.
type OfCurve struct {
	Degrees   []Ref // its degrees of freedom
	Statistic Ref
	Bare      Axis // as it is without regard to the statistic
}

// A Saying is words about what a step finds.
type Saying struct {
	From  StepID
	Refs  []Ref // the numbers in them
	Words string
}

// say adds to the text alternative what a step finds, with the numbers that it holds.
func (f *Figure) say(from StepID, refs []Ref, format string, args ...any) {
	words := fmt.Sprintf(format, args...)
	f.Parts = append(f.Parts, Saying{from, refs, words})
	f.Says = strings.TrimSpace(f.Says + " " + words)
}

// Form says how the marks are laid out.
type Form string

const (
	Curve     Form = "curve"     // a density over the axis
	Boxes     Form = "boxes"     // a row of box and points for each group
	Intervals Form = "intervals" // a row of point and interval for each group
	Histogram Form = "histogram" // bars of counts over classes of the axis; a row for each group
	Bars      Form = "bars"      // a row of bars for each category, from the left
	Scatter   Form = "scatter"   // a point for each case, over both axes

	// Mosaic has a strip for each category, as thick as its share of all cases, parted by the
	// levels of another one: areas are shares of all.
	Mosaic Form = "mosaic"

	// Split has a row for each group, in which each case lies as far from its group's mean as
	// it does and each mean from that of all; under them squares whose areas are the sums of
	// squares.
	Split Form = "split"

	PowerCurve Form = "power" // power over the number of cases
)

// Axis is the axis of values.
type Axis struct {
	Label string `json:"label"` // X_M means a subscript
	Unit  string `json:"unit,omitzero"`
	Min   Number `json:"min"`
	Max   Number `json:"max"`
}

// A Mark is a thing drawn. Which fields hold depends on the shape.
type Mark struct {
	Shape Shape       `json:"shape"`
	Role  Role        `json:"role"`
	Label string      `json:"label,omitzero"`
	Row   int         `json:"row,omitzero"`  // from 0, of forms that have rows
	Part  int         `json:"part,omitzero"` // of the figure's series, from 0
	X     Numbers     `json:"x,omitempty"`   // positions
	Y     Numbers     `json:"y,omitempty"`   // heights of a line or area
	Case  CaseNumbers `json:"case,omitempty"`
	Refs  []Ref       `json:"refs,omitempty"` // what a click opens
	// Lean is how many standard deviations a part of a mosaic lies above what is expected.
	Lean Number `json:"lean,omitzero"`
	// Beyond says that the mark lies outside the axis and is drawn at its end.
	Beyond bool `json:"beyond,omitzero"`

	From StepID `json:"-"` // whose finding it shows, where that is not the one of the figure
}

// Shape of a mark.
type Shape string

const (
	Line     Shape = "line"
	Area     Shape = "area"
	Points   Shape = "points"
	Box      Shape = "box"      // x holds the ends of the whiskers, the quartiles and the median
	Interval Shape = "interval" // x holds the lower end, the point and the upper end; an open end is null
	RuleMark Shape = "rule"     // a line across, at x
	Bar      Shape = "bar"      // x holds its two ends, y the height of an upright one
)

// Role is what a mark stands for in the one grammar of marks.
type Role string

const (
	Observed      Role = "observed"  // solid, in ink
	Expected      Role = "expected"  // outlined, in ochre: what H₀ says
	Region        Role = "region"    // hatched, in madder: the rejection region
	StatisticMark Role = "statistic" // solid, in ink
	PArea         Role = "p-area"
	MeanMark      Role = "mean"
	Outlier       Role = "outlier" // a case beyond the whiskers
)

// A Handle is a mark that can be moved: on release its position becomes the value
// at Pointer in the problem file.
type Handle struct {
	ID      string `json:"id"`
	Label   string `json:"label"`
	Pointer string `json:"pointer"`
	At      Number `json:"at"`
	Min     Number `json:"min"`
	Max     Number `json:"max"`
	Step    Number `json:"step"`
	// Among is the list at Pointer of which At is number Index, from 0; none where At alone
	// stands there.
	Among Numbers `json:"among,omitempty"`
	Index int     `json:"index,omitzero"`
}

// Set returns what moving the handle to a position sets in the problem file.
func (h *Handle) Set(at float64) problem.Set {
	if h.Among == nil {
		return problem.Set{Pointer: h.Pointer, Value: at}
	}
	list := make([]any, len(h.Among))
	for i, x := range h.Among {
		list[i] = float64(x)
	}
	list[h.Index] = at
	return problem.Set{Pointer: h.Pointer, Value: list}
}

// Positions converts values for a mark.
func Positions(xs ...float64) Numbers {
	out := make(Numbers, len(xs))
	for i, x := range xs {
		out[i] = Number(x)
	}
	return out
}

// Padded returns an axis range that holds the finite values with some room, and
// is never empty.
func Padded(share float64, values ...float64) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, x := range values {
		if !math.IsNaN(x) && !math.IsInf(x, 0) {
			low, high = math.Min(low, x), math.Max(high, x)
		}
	}
	if low > high {
		return 0, 1
	}
	room := share * (high - low)
	if room == 0 {
		room = math.Max(1, math.Abs(low)/10)
	}
	return low - room, high + room
}
