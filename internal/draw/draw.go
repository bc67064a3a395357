// Package draw draws the figures of a solution as SVG, with the one grammar of marks: what was observed is solid, what H₀
// expects is outlined, the rejection region is hatched. A drawing stands by itself: it needs no style and no script.
package draw

import (
	"fmt"
	"html"
	"math"
	"strconv"
	"strings"

	"grund/internal/working"
)

// Width is how many units a drawing is wide; its height follows from what is in it.
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

// A canvas is a drawing that is being made.
type canvas struct {
	strings.Builder
	height float64
	hatch  string // id of the pattern of the region
}

// SVG draws a figure. id must be another one for each drawing of a page.
func SVG(f *working.Figure, id string) string {
	c := &canvas{hatch: "hatch-" + id}
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
	var out strings.Builder
	fmt.Fprintf(&out, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %s" width="%d" height="%s" role="img" `+
		`font-family="sans-serif" font-size="12"><title>%s</title><defs><pattern id="%s" width="5" height="5" `+
		`patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" y1="0" x2="0" y2="5" stroke="%s" stroke-width="1.6"/>`+
		`</pattern></defs>`, Width, number(c.height), Width, number(c.height), html.EscapeString(f.Says), c.hatch, region)
	out.WriteString(c.String())
	out.WriteString("</svg>")
	return out.String()
}

// number writes a position, to a hundredth.
func number(x float64) string {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return "0"
	}
	return strconv.FormatFloat(math.Round(100*x)/100, 'f', -1, 64)
}

func (c *canvas) line(x1, y1, x2, y2 float64, stroke string, width float64, more string) {
	fmt.Fprintf(c, `<line x1="%s" y1="%s" x2="%s" y2="%s" stroke="%s" stroke-width="%s"%s/>`, number(x1), number(y1), number(x2), number(y2),
		stroke, number(width), more)
}

func (c *canvas) box(x, y, width, height float64, fill, stroke string, more string) {
	fmt.Fprintf(c, `<rect x="%s" y="%s" width="%s" height="%s" fill="%s" stroke="%s"%s/>`, number(x), number(y), number(math.Max(0, width)),
		number(math.Max(0, height)), fill, stroke, more)
}

func (c *canvas) dot(x, y, radius float64, fill, stroke string, more string) {
	fmt.Fprintf(c, `<circle cx="%s" cy="%s" r="%s" fill="%s" stroke="%s"%s/>`, number(x), number(y), number(radius), fill, stroke, more)
}

func (c *canvas) text(x, y float64, anchor, words string, more string) {
	fmt.Fprintf(c, `<text x="%s" y="%s" text-anchor="%s" fill="%s"%s>%s</text>`, number(x), number(y), anchor, ink, more,
		html.EscapeString(words))
}

// path draws a line through points, closed to an area where base is a number.
func (c *canvas) path(xs, ys []float64, base float64, fill, stroke string, width float64) {
	if len(xs) == 0 {
		return
	}
	var d strings.Builder
	isArea := !math.IsNaN(base)
	if isArea {
		fmt.Fprintf(&d, "M%s,%s L", number(xs[0]), number(base))
	} else {
		d.WriteString("M")
	}
	for i, x := range xs {
		if i > 0 {
			d.WriteString(" L")
		}
		fmt.Fprintf(&d, "%s,%s", number(x), number(ys[i]))
	}
	if isArea {
		fmt.Fprintf(&d, " L%s,%s Z", number(xs[len(xs)-1]), number(base))
	}
	fmt.Fprintf(c, `<path d="%s" fill="%s" stroke="%s" stroke-width="%s"/>`, d.String(), fill, stroke, number(width))
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
	text := strconv.FormatFloat(x, 'g', 6, 64)
	if rounded, err := strconv.ParseFloat(text, 64); err == nil && math.Abs(rounded) < 1e6 && (math.Abs(rounded) >= 1e-4 || rounded == 0) {
		text = strconv.FormatFloat(rounded, 'f', -1, 64)
	}
	return strings.Replace(text, "-", "−", 1)
}

// axis draws the axis along the bottom, with its name.
func (c *canvas) axis(s scale, y float64, axis working.Axis, count int) {
	c.line(s.from, y, s.to, y, ink, 1, "")
	for _, tick := range s.ticks(count) {
		c.line(s.at(tick), y, s.at(tick), y+4, ink, 1, "")
		c.text(s.at(tick), y+16, "middle", tickName(tick), ` font-size="11"`)
	}
	if name := nameOf(axis); name != "" {
		c.text(s.to, y+30, "end", name, "")
	}
}

// upAxis draws the axis that goes up, with lines across.
func (c *canvas) upAxis(s scale, x, right float64, axis *working.Axis) {
	for _, tick := range s.ticks(4) {
		c.line(x, s.at(tick), right, s.at(tick), rule, 0.7, "")
		c.text(x-6, s.at(tick)+4, "end", tickName(tick), ` font-size="11"`)
	}
	if axis != nil {
		c.text(x-34, s.to-8, "start", nameOf(*axis), "")
	}
}

// nameOf is the name of an axis with its unit; X_M is written as it stands.
func nameOf(axis working.Axis) string {
	if axis.Unit != "" && axis.Label != "" {
		return fmt.Sprintf("%s (%s)", axis.Label, axis.Unit)
	}
	return axis.Label
}

// inkOf is how a mark of a role is filled and outlined.
func inkOf(role working.Role) (fill, stroke string) {
	switch role {
	case working.Expected:
		return "none", expected
	case working.Region:
		return "none", region
	}
	return ink, ink
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
