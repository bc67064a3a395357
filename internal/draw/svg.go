package draw

import (
	"fmt"
	"html"
	"math"
	"strconv"
	"strings"
)

// SVG writes the picture. id must be another one for each picture of a page.
func (c *Picture) SVG(id string) string {
	hatch := "hatch-" + id
	var out strings.Builder
	width, height := number(c.Width), number(c.Height)
	fmt.Fprintf(&out, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" role="img" `+
		`font-family="sans-serif" font-size="12"><title>%s</title><defs><pattern id="%s" width="5" height="5" `+
		`patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" y1="0" x2="0" y2="5" stroke="%s" stroke-width="1.6"/>`+
		`</pattern></defs>`, width, height, width, height, html.EscapeString(c.Says), hatch, region)
	for _, s := range c.shapes {
		out.WriteString(s.svg(hatch))
	}
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

// svg writes a shape as an element.
func (s *shape) svg(hatch string) string {
	attributes := s.attributes(hatch)
	switch {
	case s.words != "":
		return fmt.Sprintf(`<text x="%s" y="%s" text-anchor="%s"%s>%s</text>`, number(s.xs[0]), number(s.ys[0]), s.anchor, attributes,
			html.EscapeString(s.words))
	case s.radius > 0:
		return fmt.Sprintf(`<circle cx="%s" cy="%s" r="%s"%s/>`, number(s.xs[0]), number(s.ys[0]), number(s.radius), attributes)
	}
	var d strings.Builder
	for i := range s.xs {
		d.WriteString(map[bool]string{true: "M", false: " L"}[i == 0] + number(s.xs[i]) + "," + number(s.ys[i]))
	}
	if s.closed {
		d.WriteString(" Z")
	}
	return fmt.Sprintf(`<path d="%s"%s/>`, d.String(), attributes)
}

// attributes are how the shape looks.
func (s *shape) attributes(hatch string) string {
	var out strings.Builder
	set := func(name, value string) { out.WriteString(" " + name + `="` + value + `"`) }
	switch s.fill {
	case none:
		set("fill", "none")
	case hatched:
		set("fill", "url(#"+hatch+")")
	default:
		set("fill", s.fill)
	}
	if s.opacity > 0 {
		set("fill-opacity", number(s.opacity))
	}
	if s.stroke != none {
		set("stroke", s.stroke)
		if s.width > 0 {
			set("stroke-width", number(s.width))
		}
	}
	if s.dashed {
		set("stroke-dasharray", "5 4")
	}
	if s.size > 0 {
		set("font-size", number(s.size))
	}
	if s.bold {
		set("font-weight", "600")
	}
	return out.String()
}
