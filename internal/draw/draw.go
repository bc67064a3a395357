// Package draw draws the figures of a solution, as SVG and as PNG, with the one grammar of marks: what was observed is
// solid, what H₀ expects is outlined, the rejection region is hatched. A drawing stands by itself: it needs no style and no
// script.
package draw

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"grund/internal/problem"
	"grund/internal/working"
)

// Width is how many units the picture of a figure is wide; its height follows from what is in it.
const Width = 470

// The inks of the marks. On paper they are greys but for their strokes, so that a copy in black keeps the grammar.
const (
	ink      = "#1d2733"
	muted    = "#4b5663"
	expected = "#8a5a10"
	region   = "#9a302a"
	shade    = "#d9d6cf"
	rule     = "#c9c4b8"
)

// What stands in the place of a colour.
const (
	none    = ""
	white   = "#ffffff"
	hatched = "hatched" // as the rejection region
)

// A look is how a shape is filled and outlined.
type look struct {
	fill, stroke string
	width        float64 // of the outline, 1 where 0
	opacity      float64 // of what fills it, 1 where 0
}

// letters are how words are set.
type letters struct {
	size float64 // 12 where 0
	bold bool
}

// A Picture is what is drawn: its shapes, in the order in which they lie on each other.
type Picture struct {
	Width, Height float64 // in its units
	Says          string  // the text alternative
	shapes        []shape
}

// A shape is a line through points, closed or not, a circle about one, or words at one.
type shape struct {
	look
	xs, ys []float64
	closed bool
	dashed bool
	radius float64 // of a circle
	words  string
	anchor string // start, middle or end
	letters
}

// Figure draws a figure.
func Figure(f *working.Figure) *Picture {
	c := &Picture{Width: Width, Says: f.Says}
	f = f.Thinned()
	switch f.Form {
	case working.Curve:
		c.curve(f)
	case working.Boxes, working.Intervals, working.Split:
		c.rows(f)
	case working.Histogram:
		c.histogram(f)
	case working.Bars:
		c.bars(f)
	case working.Mosaic:
		c.mosaic(f)
	default: // over both axes
		c.scatter(f)
	}
	return c
}

// inks are those of a person's strokes, as they are on paper.
var inks = map[problem.Ink]string{problem.Black: ink, problem.Red: region, problem.Green: "#1f5a4e"}

// seenThrough is how much of a marker covers what is under it.
const seenThrough = 0.35

// Drawing draws a person's strokes.
func Drawing(d *problem.Drawing) *Picture {
	c := &Picture{Width: d.Width, Height: d.Height, Says: d.Says()}
	for _, stroke := range d.Strokes {
		s := shape{closed: true, look: look{fill: inks[stroke.Ink]}}
		if stroke.Marker {
			s.opacity = seenThrough
		}
		for i := 0; i+1 < len(stroke.Outline); i += 2 {
			s.xs, s.ys = append(s.xs, stroke.Outline[i]), append(s.ys, stroke.Outline[i+1])
		}
		c.shapes = append(c.shapes, s)
	}
	return c
}

func (c *Picture) line(x1, y1, x2, y2 float64, stroke string, width float64, dashed bool) {
	c.shapes = append(c.shapes, shape{xs: []float64{x1, x2}, ys: []float64{y1, y2}, look: look{stroke: stroke, width: width}, dashed: dashed})
}

func (c *Picture) box(x, y, width, height float64, l look) {
	right, bottom := x+math.Max(0, width), y+math.Max(0, height)
	c.shapes = append(c.shapes, shape{xs: []float64{x, right, right, x}, ys: []float64{y, y, bottom, bottom}, closed: true, look: l})
}

func (c *Picture) dot(x, y, radius float64, l look) {
	c.shapes = append(c.shapes, shape{xs: []float64{x}, ys: []float64{y}, radius: radius, look: l})
}

func (c *Picture) text(x, y float64, anchor, words string, l letters) {
	c.shapes = append(c.shapes, shape{xs: []float64{x}, ys: []float64{y}, anchor: anchor, words: words, letters: l, look: look{fill: ink}})
}

// path draws a line through points, closed to an area where base is a number.
func (c *Picture) path(xs, ys []float64, base float64, l look) {
	if len(xs) == 0 {
		return
	}
	s := shape{xs: slices.Clone(xs), ys: slices.Clone(ys), look: l, closed: l.stroke == none}
	if !math.IsNaN(base) {
		s.xs, s.ys = append(append([]float64{xs[0]}, xs...), xs[len(xs)-1]), append(append([]float64{base}, ys...), base)
	}
	c.shapes = append(c.shapes, s)
}

// A scale leads from values to positions.
type scale struct{ least, most, from, to float64 }

func scaleOf(axis working.Axis, from, to float64) scale {
	least, most := float64(axis.Min), float64(axis.Max)
	if !(most > least) {
		least, most = least-1, least+1
	}
	return scale{least, most, from, to}
}

func (s scale) at(x float64) float64 { return s.from + (x-s.least)/(s.most-s.least)*(s.to-s.from) }

// ticks are round values along the scale, about so many.
func (s scale) ticks(count int) []float64 {
	span := s.most - s.least
	if !(span > 0) || math.IsInf(span, 0) {
		return nil
	}
	step := math.Pow10(int(math.Floor(math.Log10(span / float64(count)))))
	for _, factor := range []float64{1, 2, 5, 10} {
		if span/(step*factor) <= float64(count)+0.5 {
			step *= factor
			break
		}
	}
	var ticks []float64
	for k := math.Ceil(s.least/step - 1e-9); k*step <= s.most+1e-9*span && len(ticks) < 40; k++ {
		ticks = append(ticks, k*step)
	}
	return ticks
}

// tickName writes a tick without what binary arithmetic adds.
func tickName(x float64) string {
	if x == 0 {
		return "0" // and not −0
	}
	text := strconv.FormatFloat(x, 'g', 6, 64)
	if rounded, err := strconv.ParseFloat(text, 64); err == nil && math.Abs(rounded) < 1e6 && (math.Abs(rounded) >= 1e-4 || rounded == 0) {
		text = strconv.FormatFloat(rounded, 'f', -1, 64)
	}
	return strings.Replace(text, "-", "−", 1)
}

// axis draws the axis along the bottom, with its name.
func (c *Picture) axis(s scale, y float64, axis working.Axis, count int) {
	c.line(s.from, y, s.to, y, ink, 1, false)
	for _, tick := range s.ticks(count) {
		c.line(s.at(tick), y, s.at(tick), y+4, ink, 1, false)
		c.text(s.at(tick), y+16, "middle", tickName(tick), letters{size: 11})
	}
	if name := nameOf(axis); name != "" {
		c.text(s.to, y+30, "end", name, letters{})
	}
}

// upAxis draws the axis that goes up, with lines across.
func (c *Picture) upAxis(s scale, x, right float64, axis *working.Axis) {
	for _, tick := range s.ticks(4) {
		c.line(x, s.at(tick), right, s.at(tick), rule, 0.7, false)
		c.text(x-6, s.at(tick)+4, "end", tickName(tick), letters{size: 11})
	}
	if axis != nil {
		c.text(x-34, s.to-8, "start", nameOf(*axis), letters{})
	}
}

// nameOf is the name of an axis with its unit; X_M is written as it stands.
func nameOf(axis working.Axis) string {
	if axis.Unit != "" && axis.Label != "" {
		return fmt.Sprintf("%s (%s)", axis.Label, axis.Unit)
	}
	return axis.Label
}

// strokeOf is the ink of a line of a role.
func strokeOf(role working.Role) string {
	switch role {
	case working.Expected:
		return expected
	case working.Region:
		return region
	}
	return ink
}

// plain are the finite positions of a mark.
func plain(ns working.Numbers) []float64 {
	out := make([]float64, 0, len(ns))
	for _, n := range ns {
		if x := float64(n); !math.IsNaN(x) && !math.IsInf(x, 0) {
			out = append(out, x)
		}
	}
	return out
}

// at returns position i of a mark, NaN where it has none.
func at(ns working.Numbers, i int) float64 {
	if i < len(ns) {
		return float64(ns[i])
	}
	return math.NaN()
}

// shortened cuts a name so that it fits beside its row.
func shortened(name string) string {
	const most = 26
	if letters := []rune(name); len(letters) > most {
		return string(letters[:most-1]) + "…"
	}
	return name
}
