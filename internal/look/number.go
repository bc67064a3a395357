package look

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// A group is the numbers of the cases of one level.
type group struct {
	name    string
	values  []float64
	cases   []int // their rows, from 1
	missing int
	moments stats.Moments
	five    stats.FiveNumbers
}

// grouped is a number by the levels of a category, or as a whole.
type grouped struct {
	of       *data.Variable
	by       *data.Variable // nil as a whole
	groups   []group
	decimals int
}

func newGroup(name string, v *data.Variable, cases []int) group {
	g := group{name: name}
	for _, i := range cases {
		g.values = append(g.values, v.Numbers[i])
		g.cases = append(g.cases, i+1)
	}
	g.moments = stats.NewMoments(g.values)
	if len(g.values) > 0 {
		g.five = stats.NewFiveNumbers(stats.Sorted(g.values))
	}
	g.missing = v.Len() - len(cases)
	return g
}

const mostGroups = 40

func (l *Look) numberBy(v, by *data.Variable, cases []int, r problem.Picture) error {
	g := &grouped{of: v, by: by}
	rows := make([][]int, len(by.Levels))
	for _, i := range cases {
		rows[by.Codes[i]] = append(rows[by.Codes[i]], i)
	}
	missing := make([]int, len(by.Levels))
	for i, code := range by.Codes {
		if code >= 0 && v.Missing(i) {
			missing[code]++
		}
	}
	for level, in := range rows {
		if len(in) > 0 {
			one := newGroup(by.Levels[level].Name, v, in)
			one.missing = missing[level]
			g.groups = append(g.groups, one)
		}
	}
	if len(g.groups) > mostGroups {
		return problem.Errors{{Pointer: "/variables",
			Says:    fmt.Sprintf("“%s” has %d levels, too many to be shown side by side", words.Shorten(by.Title()), len(g.groups)),
			Instead: "recode it into fewer"}}
	}
	return l.number(g, r)
}

func (l *Look) number(g *grouped, r problem.Picture) error {
	fit := []working.Form{working.Histogram, working.Boxes, working.Intervals}
	l.Title = g.of.Title()
	if g.by != nil {
		fit = []working.Form{working.Boxes, working.Intervals, working.Histogram}
		l.Title += " by " + words.InSentence(g.by.Title())
	}
	form, err := l.choose(r, fit...)
	if err != nil {
		return err
	}
	for _, one := range g.groups {
		g.decimals = max(g.decimals, data.MostDecimals(one.values))
	}
	l.Tables = append(l.Tables, g.summary("summary", l.Title))
	l.Notes = append(l.Notes, "A quartile is the median of its half of the sorted cases; with an odd number of cases the middle one "+
		"belongs to neither half. Variance and standard deviation divide by n − 1; the standard error is the standard deviation over √n.")
	if len(g.groups) == 1 {
		for _, s := range statistics {
			if (s.id == "mean" || s.id == "median" || s.id == "sd") && (g.groups[0].moments.N > 1 || !needsTwo[s.id]) {
				l.First = append(l.First, First{s.label, working.FormatNumber(s.value(&g.groups[0]), g.shown(s))})
			}
		}
	}
	switch form {
	case working.Histogram:
		return l.histogram(g, r)
	case working.Boxes:
		l.boxes(g)
	case working.Intervals:
		l.means(g)
	}
	return nil
}

// A statistic is a row of the summary.
type statistic struct {
	id, label string
	more      int // decimals beyond those of the data; −1 for a count
	value     func(g *group) float64
}

var statistics = []statistic{
	{"n", "n", -1, func(g *group) float64 { return float64(g.moments.N) }},
	{"missing", "missing", -1, func(g *group) float64 { return float64(g.missing) }},
	{"mean", "mean", 2, func(g *group) float64 { return g.moments.Mean }},
	{"median", "median", 1, func(g *group) float64 { return g.five.Median }},
	{"sd", "standard deviation", 2, func(g *group) float64 { return g.moments.SD }},
	{"variance", "variance", 3, func(g *group) float64 { return g.moments.SD * g.moments.SD }},
	{"minimum", "minimum", 0, func(g *group) float64 { return g.five.Min }},
	{"q1", "lower quartile", 1, func(g *group) float64 { return g.five.Q1 }},
	{"q3", "upper quartile", 1, func(g *group) float64 { return g.five.Q3 }},
	{"maximum", "maximum", 0, func(g *group) float64 { return g.five.Max }},
	{"range", "range", 0, func(g *group) float64 { return g.five.Max - g.five.Min }},
	{"sum", "sum", 0, func(g *group) float64 { return g.moments.Mean * float64(g.moments.N) }},
	{"se", "standard error", 3, func(g *group) float64 { return g.moments.SD / math.Sqrt(float64(g.moments.N)) }},
	{"skewness", "skewness", 3, func(g *group) float64 { return g.moments.Skewness(g.values) }},
}

// needsTwo are the statistics that a single case has not.
var needsTwo = map[string]bool{"sd": true, "variance": true, "se": true, "skewness": true}

// summary is a table of a row for each statistic and a column for each group.
func (g *grouped) summary(id, title string) *working.Table {
	t := &working.Table{ID: id, Title: "Summary: " + words.InSentence(title), Key: []string{"statistic"},
		Columns: []working.Column{{ID: "statistic", Label: headed(g.of)}}}
	for i, one := range g.groups {
		label := one.name
		if g.by == nil {
			label = "all"
		}
		t.Columns = append(t.Columns, working.Column{ID: fmt.Sprintf("group_%d", i+1), Label: label, Numeric: true})
	}
	var rows []working.Row
	for _, s := range statistics {
		row := working.Row{{Value: s.label, Shown: s.label}}
		for i := range g.groups {
			x := s.value(&g.groups[i])
			if needsTwo[s.id] && g.groups[i].moments.N < 2 {
				x = math.NaN()
			}
			row = append(row, working.EnteredCell(x, g.shown(s)))
		}
		rows = append(rows, row)
	}
	t.SetRows(rows)
	return t
}

// shown returns the decimals with which a statistic is shown.
func (g *grouped) shown(s statistic) int {
	switch {
	case s.more < 0:
		return 0
	case g.of.Decimals != nil && s.id != "skewness":
		return *g.of.Decimals
	case s.id == "skewness":
		return 2
	}
	return min(g.decimals+s.more, 8)
}

// frame returns a figure over the axis of the numbers.
func (g *grouped) frame(form working.Form, title string, low, high float64) *working.Figure {
	return &working.Figure{ID: "look", Form: form, Title: title, Marks: []working.Mark{}, Handles: []working.Handle{},
		Axis: working.Axis{Label: g.of.Title(), Unit: g.of.Unit, Min: working.Number(low), Max: working.Number(high)}}
}

func (g *grouped) ends() (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, one := range g.groups {
		low, high = math.Min(low, one.five.Min), math.Max(high, one.five.Max)
	}
	return low, high
}

const mostClasses = 200

func (l *Look) histogram(g *grouped, r problem.Picture) error {
	low, high := g.ends()
	n := 0
	for _, one := range g.groups {
		n = max(n, len(one.values))
	}
	classes := stats.ChooseClasses(low, high, n)
	if r.Width != nil || r.Start != nil {
		start, width := classes.Start, classes.Width
		if r.Width != nil {
			width = *r.Width
			start = math.Floor(low/width) * width
		}
		if r.Start != nil {
			start = *r.Start
		}
		switch {
		case !(width > 0):
			return problem.Errors{{Pointer: "/width", Says: "the width of a class must be above 0", Instead: "write " +
				data.FormatNumber(classes.Width) + ", say"}}
		case start > low:
			return problem.Errors{{Pointer: "/start", Says: fmt.Sprintf("the first class starts at %s, above the smallest value, %s",
				data.FormatNumber(start), data.FormatNumber(low)), Instead: "start at or below it"}}
		case (high-start)/width > mostClasses:
			return problem.Errors{{Pointer: "/width", Says: fmt.Sprintf("classes of width %s would be more than %d", data.FormatNumber(width),
				mostClasses), Instead: "take wider ones"}}
		}
		classes = stats.SetClasses(start, width, high)
	}
	l.Classes = &Classes{classes.Start, classes.Width}
	f := g.frame(working.Histogram, "Histogram of "+words.InSentence(l.Title), classes.Start, classes.Boundary(classes.Count))
	most := 0.0
	var says []string
	for row, one := range g.groups {
		counts := classes.Counts(one.values)
		tallest := 0
		for i, count := range counts {
			most = math.Max(most, float64(count))
			if count > counts[tallest] {
				tallest = i
			}
			f.Marks = append(f.Marks, working.Mark{Shape: working.Bar, Role: working.Observed, Row: row, Label: one.name,
				X: working.Positions(classes.Boundary(i), classes.Boundary(i+1)), Y: working.Positions(float64(count))})
		}
		says = append(says, strings.TrimSpace(fmt.Sprintf("%s most cases, %d, lie from %s to %s", colon(one.name), counts[tallest],
			data.FormatNumber(classes.Boundary(tallest)), data.FormatNumber(classes.Boundary(tallest+1)))))
		if r.Normal && one.moments.SD > 0 {
			curve := working.Mark{Shape: working.Line, Role: working.Expected, Row: row,
				Label: "normal curve of the same mean and standard deviation"}
			for i := range 81 {
				x := classes.Start + (classes.Boundary(classes.Count)-classes.Start)*float64(i)/80
				y := float64(one.moments.N) * classes.Width * dist.Normal{}.Density((x-one.moments.Mean)/one.moments.SD) / one.moments.SD
				most = math.Max(most, y)
				curve.X, curve.Y = append(curve.X, working.Number(x)), append(curve.Y, working.Number(y))
			}
			f.Marks = append(f.Marks, curve)
		}
	}
	f.Up = &working.Axis{Label: "cases", Min: 0, Max: working.Number(most)}
	f.Says = fmt.Sprintf("A histogram in %d classes of width %s. %s.", classes.Count, data.FormatNumber(classes.Width),
		strings.Join(says, "; "))
	l.Figure = f
	l.Reading = []string{"The height of a bar is the number of cases in its class.", "A value on a boundary belongs to the class above it."}
	if r.Normal {
		l.Reading = append(l.Reading, "The outlined curve is how the cases would lie if they came from a normal distribution of the same "+
			"mean and standard deviation.")
	}
	return nil
}

func colon(name string) string {
	if name == "" {
		return ""
	}
	return name + ":"
}

func (l *Look) boxes(g *grouped) {
	low, high := working.Padded(0.05, firstLast(g.ends())...)
	f := g.frame(working.Boxes, "Boxes of "+words.InSentence(l.Title), low, high)
	var says []string
	for row, one := range g.groups {
		from, to := one.five.Whiskers(one.values)
		name := one.name
		if g.by == nil {
			name = g.of.Title()
		}
		f.Marks = append(f.Marks,
			working.Mark{Shape: working.Box, Role: working.Observed, Label: name, Row: row,
				X: working.Positions(from, one.five.Q1, one.five.Median, one.five.Q3, to)},
			working.Mark{Shape: working.Points, Role: working.MeanMark, Row: row, X: working.Positions(one.moments.Mean)},
			working.Mark{Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(one.values...), Case: one.cases})
		out := working.Mark{Shape: working.Points, Role: working.Outlier, Row: row}
		for i, x := range one.values {
			if (x < from || x > to) && len(out.X) < 30 {
				out.X, out.Case = append(out.X, working.Number(x)), append(out.Case, one.cases[i])
			}
		}
		if len(out.X) > 0 {
			f.Marks = append(f.Marks, out)
		}
		says = append(says, fmt.Sprintf("%s: from %s to %s, middle half %s to %s, median %s", name, data.FormatNumber(one.five.Min),
			data.FormatNumber(one.five.Max), data.FormatNumber(one.five.Q1), data.FormatNumber(one.five.Q3), data.FormatNumber(one.five.Median)))
	}
	f.Says = strings.Join(says, ". ") + "."
	l.Figure = f.Thinned()
	l.Reading = []string{
		"The box holds the middle half of the cases: a quarter lie below it and a quarter above.",
		"The thick line is the median, the ring the mean.",
		"The whiskers end at the last case within one and a half box lengths; a case beyond stands out and carries its number.",
		"Each dot under a box is a case.",
	}
}

func firstLast(low, high float64) []float64 { return []float64{low, high} }

// means draws each mean with its interval at 0.95.
func (l *Look) means(g *grouped) {
	const confidence = 0.95
	var ends []float64
	var marks []working.Mark
	var says []string
	for row, one := range g.groups {
		m := one.moments
		name := one.name
		if g.by == nil {
			name = g.of.Title()
		}
		half := math.NaN()
		if m.N > 1 {
			half = dist.T{DF: float64(m.N - 1)}.UpperQuantile((1-confidence)/2) * m.SD / math.Sqrt(float64(m.N))
		}
		low, high := m.Mean-half, m.Mean+half
		ends = append(ends, low, high, m.Mean)
		marks = append(marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: name, Row: row,
			X: working.Positions(low, m.Mean, high)})
		if m.N > 1 {
			says = append(says, fmt.Sprintf("%s: mean %s, interval from %s to %s", name, working.FormatNumber(m.Mean, g.decimals+2),
				working.FormatNumber(low, g.decimals+2), working.FormatNumber(high, g.decimals+2)))
		} else {
			says = append(says, fmt.Sprintf("%s: a single case, %s, and no interval", name, data.FormatNumber(m.Mean)))
		}
	}
	low, high := working.Padded(0.08, ends...)
	f := g.frame(working.Intervals, "Means of "+words.InSentence(l.Title), low, high)
	f.Marks, f.Says = marks, strings.Join(says, ". ")+"."
	l.Figure = f
	l.Reading = []string{
		"The dot is the mean, the bar its interval at 0.95 confidence, from each group's own standard deviation.",
		"Whether two means differ is a question for a test: intervals that overlap a little do not settle it.",
	}
}

func (l *Look) numbers(x, y *data.Variable, cases []int, r problem.Picture) error {
	if _, err := l.choose(r, working.Scatter); err != nil {
		return err
	}
	l.Title = y.Title() + " against " + words.InSentence(x.Title())
	g := &grouped{of: x}
	for _, v := range []*data.Variable{x, y} {
		one := newGroup("", v, cases)
		g := &grouped{of: v, groups: []group{one}, decimals: data.MostDecimals(one.values)}
		l.Tables = append(l.Tables, g.summary("summary_"+fmt.Sprint(len(l.Tables)+1), v.Title()))
	}
	across, up := newGroup("", x, cases), newGroup("", y, cases)
	low, high := working.Padded(0.04, across.five.Min, across.five.Max)
	f := g.frame(working.Scatter, l.Title, low, high)
	low, high = working.Padded(0.06, up.five.Min, up.five.Max)
	f.Up = &working.Axis{Label: y.Title(), Unit: y.Unit, Min: working.Number(low), Max: working.Number(high)}
	f.Marks = append(f.Marks, working.Mark{
		Shape: working.Points, Role: working.Observed, X: working.Positions(across.values...), Y: working.Positions(up.values...),
		Case: across.cases,
	})
	f.Says = fmt.Sprintf("%d cases: %s from %s to %s, %s from %s to %s.", len(cases), words.InSentence(x.Title()),
		data.FormatNumber(across.five.Min), data.FormatNumber(across.five.Max), words.InSentence(y.Title()), data.FormatNumber(up.five.Min),
		data.FormatNumber(up.five.Max))
	l.Figure = f.Thinned()
	l.Reading = []string{"Each dot is a case."}
	return nil
}
