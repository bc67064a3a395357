package several

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/write"
	"grund/internal/words"
	"grund/internal/working"
)

// groups writes the step on the data.
func (s *severalMeans) groups() {
	var ns, means, weighted []float64
	for _, m := range s.moments {
		n := float64(m.N)
		ns, means, weighted = append(ns, n), append(means, m.Mean), append(weighted, n*m.Mean)
	}
	s.Column("groups/*/n", ns)
	s.Column("groups/*/mean", means)
	s.Column("groups/*/weighted", weighted)
	sizes := s.Series("groups/*/n", "n_{i}", 0)
	s.Define(working.Quantity{ID: "groups", Symbol: "k", Label: "Groups", Says: "How many means are compared."},
		working.Whole, float64(len(s.moments)), formula.Count{Column: sizes})
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "In all groups together."},
		working.Whole, float64(s.data.Used()), formula.Total{Column: sizes})
	s.Define(working.Quantity{
		ID: "mean", Symbol: `\bar{x}`, Label: "Mean of all cases", Unit: s.Unit,
		Says: "Each case counts alike, so that a larger group counts for more.",
	}, working.Measure, s.stats.Mean(), formula.Quotient{
		Over: formula.Total{Column: s.Calculated("groups/*/weighted", `n_{i}\bar{x}_{i}`, s.decimals+1)}, Under: formula.Ref("n"),
	})
	s.Define(working.Quantity{
		ID: "pooled_sd", Symbol: "s_p", Label: "Spread within the groups", Unit: s.Unit,
		Says: "One standard deviation for all groups, pooled: the square root of the mean square within.",
	}, working.Measure, math.Sqrt(s.stats.MSWithin), formula.Root{X: formula.Quotient{
		Over: formula.Total{Column: s.withinColumn()}, Under: formula.Subtract(formula.Ref("n"), formula.Ref("groups")),
	}})
	s.groupTable()
	in := words.Count(len(s.moments), "group")
	blocks := []working.Block{s.Counted(write.Counted{
		Given: s.data.Given, Used: s.data.Used(), UsedRef: "n", Others: "with a missing value",
		All: working.Textf(" in %s", in), Some: working.Textf(", in %s", in),
	}), s.sizeWords(), working.TableBlock{Table: "groups"}}
	if s.data.Summary {
		blocks = append(blocks, working.Note("Only the summary is given, so nothing can be said about single cases or about the shape of "+
			"the groups."))
	} else {
		s.casesTable()
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("n = @{n}"), blocks...)
}

// sizeWords says what it means that the groups differ in size, or that they do not.
func (s *severalMeans) sizeWords() working.Block {
	smallest, largest := &s.data.Each[0], &s.data.Each[0]
	for i := range s.data.Each {
		g := &s.data.Each[i]
		if g.Moments.N < smallest.Moments.N {
			smallest = g
		}
		if g.Moments.N > largest.Moments.N {
			largest = g
		}
	}
	if smallest.Moments.N == largest.Moments.N {
		return working.Say("All groups have %s, which makes the test least sensitive to unequal spreads.",
			words.Count(smallest.Moments.N, "case"))
	}
	return working.Say("The groups differ in size, from %d (%s) to %d (%s). That is no obstacle: each mean counts by its cases. "+
		"Unequal spreads do more harm then.", smallest.Moments.N, smallest.Name, largest.Moments.N, largest.Name)
}

// groupTable lists n, mean and spread of each group, with an interval for its mean.
func (s *severalMeans) groupTable() {
	reach := `@{multiplier}\cdot\frac{@{pooled_sd}}{\sqrt{@{n}}}`
	if !s.equal {
		reach = `@{multiplier}\cdot @{se}`
	}
	t := &working.Table{ID: "groups", Title: write.GroupsTitle(s.data), Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Symbol: "n", Numeric: true},
		{ID: "mean", Label: "mean", Symbol: `\bar{x}_{i}`, Unit: s.Unit, Numeric: true},
		{ID: "sd", Label: "sd", Symbol: "s_{i}", Unit: s.Unit, Numeric: true},
		{ID: "se", Label: "standard error", Symbol: `s_{\bar{x}}`, Unit: s.Unit, Numeric: true, Formula: `\frac{@{sd}}{\sqrt{@{n}}}`},
		{ID: "variance", Label: "variance", Symbol: "s_{i}^{2}", Unit: write.Squared(s.Unit), Numeric: true, Formula: `@{sd}^{2}`},
		{ID: "multiplier", Label: "t", Symbol: "t", Numeric: true, Hidden: true},
		{ID: "ci_low", Label: "mean from", Unit: s.Unit, Numeric: true, Formula: `@{mean}-` + reach},
		{ID: "ci_high", Label: "to", Unit: s.Unit, Numeric: true, Formula: `@{mean}+` + reach},
	}}
	mean, sd := s.givenCells()
	var rows []working.Row
	for i, g := range s.data.Each {
		m := g.Moments
		rows = append(rows, working.Row{
			working.NameCell(g.Name), working.WholeCell(m.N), mean(m.Mean), sd(m.SD), s.MeasureCell(m.SD / math.Sqrt(float64(m.N))),
			s.EstimateCell(m.SD*m.SD, working.DefaultDecimals), s.StatisticCell(s.means[i].Times, working.DefaultDecimals),
			s.MeasureCell(s.means[i].Low), s.MeasureCell(s.means[i].High),
		})
	}
	t.SetRows(rows)
	s.Table(t)
}

// givenCells returns how means and standard deviations are written: those of a summary as they
// were given, unless the problem says with how many decimals.
func (s *severalMeans) givenCells() (mean, sd func(float64) working.Cell) {
	if !s.data.Summary || s.AsksDecimals() {
		return s.MeasureCell, s.MeasureCell
	}
	var means, sds []float64
	for _, m := range s.moments {
		if means = append(means, m.Mean); m.N > 1 {
			sds = append(sds, m.SD)
		}
	}
	return func(x float64) working.Cell { return working.EnteredCell(x, data.MostDecimals(means)) },
		func(x float64) working.Cell { return working.EnteredCell(x, data.MostDecimals(sds)) }
}

func (s *severalMeans) casesTable() {
	distance := func(id, label string, of func(place int, x float64) float64) write.CaseColumn {
		return write.CaseColumn{
			Column: working.Column{ID: id, Label: label, Unit: s.Unit, Numeric: true},
			Cell: func(i int) working.Cell {
				for place := range s.data.Each {
					values := s.data.Each[place].Values
					if i < len(values) {
						return s.MeasureCell(of(place, values[i]))
					}
					i -= len(values)
				}
				return working.NoCell()
			},
		}
	}
	s.GroupCasesTable(write.UsedTitle, write.GroupRows(s.data), write.GroupColumn(s.data), write.ResponseColumn(s.data, s.decimals),
		distance("within", "from its group’s mean", func(place int, x float64) float64 { return s.moments[place].Deviation(x) }),
		distance("between", "that mean from the mean of all", func(place int, _ float64) float64 { return s.stats.Distances[place] }))
}

// look draws the groups beside each other, in views of the same cases.
func (s *severalMeans) look() {
	views := []working.View{{Figure: "look", Label: "Boxes", Says: s.GroupsFigure(s.data, s.decimals)}}
	if s.data.Summary {
		views[0].Label = "Mean ± sd"
	} else {
		s.Figure(s.spreadFigure())
		views = append(views, working.View{
			Figure: "spread", Label: "Mean ± sd",
			Says: "The large dot is the mean of a group, the bar reaches one standard deviation to either side; the small dots are the cases.",
		})
	}
	s.Figure(s.meansFigure())
	views = append(views, working.View{
		Figure: "means", Label: "Means with intervals",
		Says: fmt.Sprintf("Each mean with its %s\u00a0%% interval. Two intervals may overlap although the means differ significantly: "+
			"the comparisons at the end tell.", s.LevelWords()),
	})
	low, high := s.extremes()
	s.Step(working.Look, working.Textf("%s to %s", s.ShowMeasure(s.moments[low].Mean), s.InMeasure(s.moments[high].Mean)),
		working.FigureBlock{Figure: "look", Views: views},
		working.Say("The sample means go %s. Whether that is more than chance would bring is what the test is for.", s.rangeWords()))
}

// intervalsOf starts a figure of a row for each group.
func (s *severalMeans) intervalsOf(id, title string) *working.Figure {
	return &working.Figure{ID: id, Form: working.Intervals, Title: title, Axis: working.Axis{Label: s.data.Response.Label, Unit: s.Unit}}
}

// spreadFigure draws each mean with one standard deviation to either side, and its cases.
func (s *severalMeans) spreadFigure() *working.Figure {
	f := s.intervalsOf("spread", s.data.Response.Label+": mean ± one standard deviation")
	var ends []float64
	var says []string
	for row := range s.data.Each {
		g := &s.data.Each[row]
		mark, low, high := write.SpreadMark(row, g)
		f.Marks = append(f.Marks, mark, working.Mark{
			Shape: working.Points, Role: working.Observed, Label: g.Name, Row: row, X: working.Positions(g.Values...), Case: g.Rows,
		})
		ends = append(ends, low, high, g.Five.Min, g.Five.Max)
		says = append(says, fmt.Sprintf("%s: mean %s, one standard deviation %s to either side", g.Name,
			s.ShowMeasure(g.Moments.Mean), s.ShowMeasure(g.Moments.SD)))
	}
	f.Axis.Min, f.Axis.Max = write.Axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	return f
}

// meansFigure draws each mean with its interval.
func (s *severalMeans) meansFigure() *working.Figure {
	f := s.intervalsOf("means", fmt.Sprintf("Means with %s\u00a0%% intervals", s.LevelWords()))
	var ends []float64
	var says []string
	for row, g := range s.data.Each {
		i := s.means[row]
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Interval, Role: working.Observed, Label: g.Name, Row: row, X: working.Positions(i.Low, g.Moments.Mean, i.High),
		})
		ends = append(ends, i.Low, i.High)
		says = append(says, fmt.Sprintf("%s: mean %s, interval %s to %s", g.Name, s.ShowMeasure(g.Moments.Mean),
			s.MeasureCell(i.Low).Shown, s.MeasureCell(i.High).Shown))
	}
	f.Axis.Min, f.Axis.Max = write.Axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	return f
}

// residuals returns the distances of the cases from the means of their groups, as one sample.
func (s *severalMeans) residuals() cases.Spread {
	var values []float64
	for i := range s.data.Each {
		for _, x := range s.data.Each[i].Values {
			values = append(values, s.moments[i].Deviation(x))
		}
	}
	return cases.NewSpread("", values, write.GroupRows(s.data))
}
