package draw

import (
	"maps"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"grund/internal/working"
)

// curve draws a density with the region, the statistic and the area that is p.
func (c *Picture) curve(f *working.Figure) {
	const base, top = 168.0, 34.0
	c.Height = base + 34
	x := scaleOf(f.Axis, 12, Width-12)
	highest := 0.0
	for _, m := range f.Marks {
		if m.Shape == working.Line {
			for _, y := range plain(m.Y) {
				highest = math.Max(highest, y)
			}
		}
	}
	y := scale{0, math.Max(highest, 1e-300), base, top}
	points := func(m working.Mark) (xs, ys []float64) {
		for i := range m.X {
			xs, ys = append(xs, x.at(float64(m.X[i]))), append(ys, y.at(math.Min(at(m.Y, i), highest)))
		}
		return xs, ys
	}
	for _, m := range f.Marks {
		if m.Shape == working.Area {
			fill := shade
			if m.Role == working.Region {
				fill = hatched
			}
			xs, ys := points(m)
			c.path(xs, ys, base, look{fill: fill, stroke: none})
		}
	}
	var lineXs, lineYs []float64
	for _, m := range f.Marks {
		if m.Shape == working.Line {
			lineXs, lineYs = points(m)
			c.path(lineXs, lineYs, math.NaN(), look{fill: none, stroke: expected, width: 2})
		}
	}
	c.axis(x, base, working.Axis{}, 8)
	statistic := math.Inf(1)
	for _, m := range f.Marks {
		if m.Shape == working.RuleMark && m.Role == working.StatisticMark {
			statistic = x.at(at(m.X, 0))
		}
	}
	for _, m := range f.Marks {
		if m.Shape != working.RuleMark {
			continue
		}
		position := x.at(at(m.X, 0))
		if m.Role == working.Region {
			c.line(position, base, position, base-44, region, 1.6, false)
			long := 6.2 * float64(utf8.RuneCountInString(m.Label)) // at 12 units
			c.text(labelOfRule(position, statistic, base-50, long, lineXs, lineYs), base-50, "start", m.Label, letters{})
			continue
		}
		c.line(position, base, position, base-88, ink, 2.4, false)
		c.dot(position, base-90, 4.5, look{fill: ink, stroke: ink})
		anchor, beside := "start", 9.0
		if position > Width-110 || position > 110 && position < Width/2 { // outwards, unless the edge is near
			anchor, beside = "end", -9
		}
		label := m.Label
		if m.Beyond { // it lies farther out than the picture goes
			label += map[bool]string{true: " →", false: " ←"}[position > Width/2]
		}
		c.text(position+beside, base-94, anchor, label, letters{size: 14, bold: true})
	}
}

// labelOfRule returns where the label of a rule begins that is so long, at that height: over the rule, or as near to it as
// there is room beside the curve and the statistic's line.
func labelOfRule(rule, statistic, height, long float64, xs, ys []float64) float64 {
	const gap, reach, letter = 4.0, 120.0, 10.0
	free := func(left float64) bool {
		right := left + long
		if left < 2 || right > Width-2 || statistic > left-gap && statistic < right+gap {
			return false
		}
		for i := range xs {
			if xs[i] > left-2 && xs[i] < right+2 && ys[i] > height-letter-2 && ys[i] < height+2 {
				return false
			}
		}
		return true
	}
	over := math.Max(2, math.Min(Width-2-long, rule-long/2))
	if free(over) {
		return over
	}
	for away := gap; away < reach; away += 2 {
		sides := [2]float64{rule - away - long, rule + away}
		if rule > Width/2 { // outwards first
			sides[0], sides[1] = sides[1], sides[0]
		}
		for _, left := range sides {
			if free(left) {
				return left
			}
		}
	}
	return over
}

// rows draws boxes, intervals and points, a row for each group.
func (c *Picture) rows(f *working.Figure) {
	const height, top = 40.0, 12.0
	names, last, longest := map[int]string{}, 0, 6
	for _, m := range f.Marks {
		last = max(last, m.Row)
		if m.Label != "" && names[m.Row] == "" && m.Shape != working.RuleMark {
			names[m.Row] = m.Label
			longest = max(longest, len([]rune(shortened(m.Label))))
		}
	}
	bottom := top + float64(last+1)*height
	c.Height = bottom + 36
	x := scaleOf(f.Axis, 16+6.6*float64(longest), Width-14)
	for _, row := range slices.Sorted(maps.Keys(names)) {
		c.text(x.from-10, top+float64(row)*height+height/2+4, "end", shortened(names[row]), letters{bold: true})
	}
	for _, m := range f.Marks {
		middle := top + float64(m.Row)*height + height/2
		switch m.Shape {
		case working.RuleMark:
			c.line(x.at(at(m.X, 0)), top, x.at(at(m.X, 0)), bottom, expected, 1.8, true)
		case working.Box:
			c.wholeBox(m, x, middle)
		case working.Interval:
			c.interval(m, x, middle, f.Form == working.Intervals)
		case working.Points:
			c.points(m, x, middle)
		case working.Line: // from a group's mean to that of all
			c.line(x.at(at(m.X, 0)), middle, x.at(at(m.X, 1)), middle, ink, 2, false)
		}
	}
	c.axis(x, bottom, f.Axis, 6)
}

// wholeBox draws a box: ends of the whiskers, quartiles, median.
func (c *Picture) wholeBox(m working.Mark, x scale, middle float64) {
	low, first, median, third, high := x.at(at(m.X, 0)), x.at(at(m.X, 1)), x.at(at(m.X, 2)), x.at(at(m.X, 3)), x.at(at(m.X, 4))
	c.line(low, middle, first, middle, ink, 1.3, false)
	c.line(third, middle, high, middle, ink, 1.3, false)
	c.line(low, middle-5, low, middle+5, ink, 1.3, false)
	c.line(high, middle-5, high, middle+5, ink, 1.3, false)
	c.box(first, middle-9, third-first, 18, look{fill: none, stroke: ink, width: 1.3})
	c.line(median, middle-9, median, middle+9, ink, 2.6, false)
}

// interval draws an interval with its point; an open end goes to the end of the axis.
func (c *Picture) interval(m working.Mark, x scale, middle float64, withEnds bool) {
	end := func(i int, open float64) float64 {
		if v := at(m.X, i); !math.IsNaN(v) && !math.IsInf(v, 0) {
			return x.at(v)
		}
		return open
	}
	low, point, high := end(0, x.from), end(1, math.NaN()), end(2, x.to)
	c.line(low, middle, high, middle, ink, 2, false)
	if withEnds {
		c.line(low, middle-5, low, middle+5, ink, 1.6, false)
		c.line(high, middle-5, high, middle+5, ink, 1.6, false)
	}
	if !math.IsNaN(point) {
		c.dot(point, middle, 4.5, look{fill: ink, stroke: ink})
	}
}

// points draws the dots of cases, or the ring of a mean.
func (c *Picture) points(m working.Mark, x scale, middle float64) {
	for i, v := range plain(m.X) {
		switch m.Role {
		case working.MeanMark:
			c.dot(x.at(v), middle, 4.5, look{fill: white, stroke: ink, width: 2})
		case working.Outlier:
			c.dot(x.at(v), middle, 4, look{fill: none, stroke: ink, width: 1.4})
		default: // apart from each other, by their order
			c.dot(x.at(v), middle+13+float64(i%3-1)*3, 1.8, look{fill: ink, stroke: none, opacity: 0.6})
		}
	}
}

// histogram draws bars over classes; a row for each group.
func (c *Picture) histogram(f *working.Figure) {
	const height, top = 150.0, 20.0
	last, highest := 0, 0.0
	for _, m := range f.Marks {
		last = max(last, m.Row)
		for _, y := range plain(m.Y) {
			highest = math.Max(highest, y)
		}
	}
	x := scaleOf(f.Axis, 44, Width-12)
	c.Height = top + float64(last+1)*(height+20) + 24
	for row := range last + 1 {
		base := top + float64(row)*(height+20) + height
		y := scale{0, math.Max(highest, 1e-300), base, base - height + 14}
		c.upAxis(y, 44, Width-12, nil)
		for _, m := range f.Marks {
			if m.Row != row {
				continue
			}
			switch m.Shape {
			case working.Bar:
				low, high, tall := x.at(at(m.X, 0)), x.at(at(m.X, 1)), at(m.Y, 0)
				if m.Role == working.Expected {
					c.box(low, y.at(tall), high-low, base-y.at(tall), look{fill: none, stroke: expected, width: 1.8})
				} else {
					c.box(low, y.at(tall), high-low, base-y.at(tall), look{fill: muted, stroke: white, width: 1})
				}
			case working.Line:
				xs, ys := make([]float64, len(m.X)), make([]float64, len(m.X))
				for i := range m.X {
					xs[i], ys[i] = x.at(float64(m.X[i])), y.at(at(m.Y, i))
				}
				c.path(xs, ys, math.NaN(), look{fill: none, stroke: expected, width: 2})
			}
		}
		axis := working.Axis{}
		if row == last {
			axis = f.Axis
		}
		c.axis(x, base, axis, 7)
	}
}

// greys are the inks of the parts of a bar, from solid to pale.
var greys = []float64{0.85, 0.42, 0.2, 0.62, 0.3, 0.12}

// bars draws a row of bars for each category, from the left.
func (c *Picture) bars(f *working.Figure) {
	const thickness, gap = 15.0, 12.0
	isStacked, last, longest := false, 0, 6
	names := map[int]string{}
	for _, m := range f.Marks {
		isStacked = isStacked || at(m.X, 0) > 0
		last = max(last, m.Row)
		names[m.Row] = m.Label
		longest = max(longest, len([]rune(shortened(m.Label))))
	}
	parts := max(1, len(f.Series))
	if isStacked {
		parts = 1
	}
	top := 6.0
	left := 16 + 6.6*float64(longest)
	if len(f.Series) > 0 {
		top = 28
		position := left
		for i, name := range f.Series {
			c.box(position, 6, 12, 12, look{fill: ink, stroke: ink, opacity: greys[i%len(greys)]})
			c.text(position+17, 16, "start", shortened(name), letters{})
			position += 30 + 6.6*float64(len([]rune(shortened(name))))
		}
	}
	height := float64(parts)*thickness + gap
	least := math.Min(0, float64(f.Axis.Min))
	x := scaleOf(working.Axis{Min: working.Number(least), Max: f.Axis.Max}, left, Width-40)
	c.Height = top + float64(last+1)*height + 36
	for _, row := range slices.Sorted(maps.Keys(names)) {
		c.text(left-10, top+float64(row)*height+(height-gap)/2+4, "end", shortened(names[row]), letters{bold: true})
	}
	for _, m := range f.Marks {
		low, high := x.at(at(m.X, 0)), x.at(at(m.X, 1))
		y := top + float64(m.Row)*height
		if !isStacked {
			y += float64(m.Part) * thickness
		}
		if m.Role == working.Expected {
			c.box(low, y, high-low, thickness-1.5, look{fill: none, stroke: expected, width: 2})
			continue
		}
		c.box(low, y, high-low, thickness-1.5, look{fill: ink, stroke: ink, opacity: greys[m.Part%len(greys)]})
	}
	c.axis(x, top+float64(last+1)*height-gap/2, f.Axis, 6)
}

// mosaic draws strips as thick as their share, parted by the levels of another category.
func (c *Picture) mosaic(f *working.Figure) {
	const top, tall = 30.0, 250.0
	c.Height = top + tall + 40
	x, y := scale{0, 100, 110, Width - 14}, scale{0, 100, top, top + tall}
	for i, name := range f.Series {
		c.text(110+float64(i)*(Width-124)/float64(max(1, len(f.Series))), 18, "start", shortened(name), letters{bold: true})
	}
	for _, m := range f.Marks {
		if m.Shape == working.RuleMark {
			c.line(x.at(at(m.X, 0)), top, x.at(at(m.X, 0)), top+tall, expected, 2, true)
			continue
		}
		left, right, above, below := x.at(at(m.X, 0)), x.at(at(m.X, 1)), y.at(at(m.Y, 0)), y.at(at(m.Y, 1))
		c.box(left, above, right-left, below-above, look{fill: ink, stroke: white, width: 2, opacity: greys[m.Part%len(greys)]})
		if m.Part == 0 {
			c.text(102, (above+below)/2+4, "end", shortened(strings.Split(m.Label, ",")[0]), letters{})
		}
	}
	c.axis(x, top+tall, f.Axis, 5)
}

// scatter draws points, lines and areas over both axes.
func (c *Picture) scatter(f *working.Figure) {
	top, base := 30.0, 290.0
	if f.Small {
		base = 230
	}
	c.Height = base + 38
	up := working.Axis{Max: 1}
	if f.Up != nil {
		up = *f.Up
	}
	x, y := scaleOf(f.Axis, 56, Width-14), scaleOf(up, base, top)
	c.upAxis(y, 56, Width-14, f.Up)
	points := func(m working.Mark) (xs, ys []float64) {
		for i := range m.X {
			xs, ys = append(xs, x.at(float64(m.X[i]))), append(ys, y.at(at(m.Y, i)))
		}
		return xs, ys
	}
	for _, m := range f.Marks {
		if m.Shape == working.Area {
			xs, ys := points(m)
			c.path(xs, ys, math.NaN(), look{fill: shade, stroke: none, opacity: 0.5})
		}
	}
	for _, m := range f.Marks {
		stroke := strokeOf(m.Role)
		xs, ys := points(m)
		switch m.Shape {
		case working.Line:
			c.path(xs, ys, math.NaN(), look{fill: none, stroke: stroke, width: 2})
		case working.Points:
			for i := range xs {
				if m.Role == working.Outlier {
					c.dot(xs[i], ys[i], 4.5, look{fill: none, stroke: ink, width: 1.4})
				} else {
					c.dot(xs[i], ys[i], 2.4, look{fill: ink, stroke: none, opacity: 0.65})
				}
			}
		case working.Interval:
			position := x.at(at(m.X, 0))
			c.line(position, y.at(at(m.Y, 0)), position, y.at(at(m.Y, 2)), ink, 2, false)
			c.dot(position, y.at(at(m.Y, 1)), 4.5, look{fill: ink, stroke: ink})
		case working.RuleMark:
			c.line(position(x, m), top, position(x, m), base, stroke, 1.6, true)
		}
	}
	c.axis(x, base, f.Axis, 6)
}

func position(x scale, m working.Mark) float64 { return x.at(at(m.X, 0)) }
