package several

import (
	"fmt"
	"math"

	"grund/internal/formula"
	"grund/internal/procedure/write"
	"grund/internal/working"
)

// within returns the sum of squares within a group.
func (s *severalMeans) within(i int) float64 {
	if m := s.moments[i]; m.N > 1 {
		return float64(m.N-1) * m.SD * m.SD
	}
	return 0
}

// between returns the part of the sum of squares between that a group gives.
func (s *severalMeans) between(i int) float64 {
	return float64(s.moments[i].N) * s.stats.Distances[i] * s.stats.Distances[i]
}

// squares returns a column of the table of the split, made known to formulas.
func (s *severalMeans) squares(id, symbol string, of func(i int) float64) formula.Column {
	ref := "split/*/" + id
	column := make([]float64, len(s.moments))
	for i := range column {
		column[i] = of(i)
	}
	s.Column(ref, column)
	return s.Calculated(ref, symbol, working.DefaultDecimals)
}

func (s *severalMeans) withinColumn() formula.Column {
	return s.squares("within", `(n_{i}-1)s_{i}^{2}`, s.within)
}

// variation splits the distances of the cases from the mean of all, and draws the split.
func (s *severalMeans) variation() {
	squared := write.Squared(s.Unit)
	sum := func(id working.Ref, symbol, label, says string, value float64, expr formula.Expr) {
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: squared, Says: says}, working.Ratio, value, expr)
	}
	n, k := formula.Ref("n"), formula.Ref("groups")
	sum("ss_between", `SS_{B}`, "Sum of squares between",
		"How far the group means lie from the mean of all: squared, and each counted once for every case of its group.", s.stats.Between,
		formula.Total{Column: s.squares("between", `n_{i}(\bar{x}_{i}-\bar{x})^{2}`, s.between)})
	sum("ss_within", `SS_{W}`, "Sum of squares within", "How far the cases lie from the mean of their own group, squared and added up.",
		s.stats.Within,
		formula.Total{Column: s.withinColumn()})
	sum("ss_total", `SS_{T}`, "Sum of squares in all",
		"How far the cases lie from the mean of all, squared and added up. The other two sums are its parts.", s.stats.Total,
		formula.Sum{formula.Ref("ss_between"), formula.Ref("ss_within")})
	s.Define(working.Quantity{
		ID: "df_between", Symbol: `\nu_{B}`, Label: "Degrees of freedom between",
		Says: "The group means are free but for one: together they give the mean of all.",
	}, working.Degrees, s.stats.DFBetween, formula.Subtract(k, formula.Num(1)))
	pooled := formula.Expr(formula.Subtract(n, k))
	if s.equal {
		s.Define(working.Quantity{
			ID: "df_within", Symbol: `\nu_{W}`, Label: "Degrees of freedom within",
			Says: "Every case gives one, and each of the means that were estimated takes one away.",
		}, working.Degrees, s.stats.DFWithin, pooled)
		pooled = formula.Ref("df_within")
	}
	sum("ms_between", `MS_{B}`, "Mean square between", "The sum of squares between for each of its degrees of freedom.", s.stats.MSBetween,
		formula.Quotient{Over: formula.Ref("ss_between"), Under: formula.Ref("df_between")})
	sum("ms_within", `MS_{W}`, "Mean square within",
		"The sum of squares within for each of its degrees of freedom: the variance within the groups, pooled.", s.stats.MSWithin,
		formula.Quotient{Over: formula.Ref("ss_within"), Under: pooled})
	if s.equal {
		s.Define(working.Quantity{
			ID: "f", Symbol: "F", Label: "Test statistic", Says: "How many times as much the means differ as chance would make them, if H₀ is true.",
		}, working.Ratio, s.stats.F, formula.Quotient{Over: formula.Ref("ms_between"), Under: formula.Ref("ms_within")})
	} else {
		s.weighted()
	}
	s.typical()
	s.splitTable()
	s.Figure(s.splitFigure())
}

// weighted defines F of Welch's form and what it is made of.
func (s *severalMeans) weighted() {
	w := s.welch
	s.weightsTable()
	s.Define(working.Quantity{
		ID: "weight_sum", Symbol: "W", Label: "Sum of the weights",
		Says: "A group weighs the more the more cases it has and the less it spreads.",
	}, working.Ratio, w.Sum, formula.Total{Column: s.Calculated("weights/*/weight", "w_{i}", 3)})
	s.Define(working.Quantity{
		ID: "weighted_mean", Symbol: `\tilde{x}`, Label: "Weighted mean", Unit: s.Unit, Says: "Of the group means, by their weights.",
	}, working.Measure, w.Mean, formula.Quotient{
		Over: formula.Total{Column: s.Calculated("weights/*/product", `w_{i}\bar{x}_{i}`, 3)}, Under: formula.Ref("weight_sum"),
	})
	s.Define(working.Quantity{
		ID: "weighted_ms", Symbol: "A", Label: "Weighted mean square between",
		Says: "The squared distances of the group means from the weighted mean, by their weights, for each degree of freedom.",
	}, working.Ratio, w.Top, formula.Quotient{
		Over: formula.Total{Column: s.Calculated("weights/*/part", "q_{i}", 3)}, Under: formula.Ref("df_between"),
	})
	s.Define(working.Quantity{
		ID: "lambda", Symbol: `\Lambda`, Label: "Correction for the estimated spreads",
		Says: "The smaller the groups, the less sure their spreads are.",
	}, working.Ratio, w.Lambda, formula.Total{Column: s.Calculated("weights/*/rest", "r_{i}", 4)})
	k, one := formula.Ref("groups"), formula.Num(1)
	square := formula.Subtract(formula.Square(k), one)
	share := formula.Quotient{Over: formula.Product{formula.Num(2), formula.Subtract(k, formula.Num(2))}, Under: square}
	s.Define(working.Quantity{
		ID: "f", Symbol: "F", Label: "Test statistic",
		Says: "How many times as much the means differ as chance would make them, if H₀ is true; each group by its own spread (Welch).",
	}, working.Ratio, w.F, formula.Quotient{
		Over: formula.Ref("weighted_ms"), Under: formula.Sum{one, formula.Product{share, formula.Ref("lambda")}},
	})
	s.Define(working.Quantity{
		ID: "df_within", Symbol: `\nu_{W}`, Label: "Degrees of freedom within",
		Says: "An approximation (Welch), whole or not: the spreads were estimated too, each from its own cases.",
	}, working.Degrees, w.DF2, formula.Quotient{Over: square, Under: formula.Product{formula.Num(3), formula.Ref("lambda")}})
}

// weightsTable lists the weight of each group, and what it gives to Welch's F.
func (s *severalMeans) weightsTable() {
	w := s.welch
	t := &working.Table{ID: "weights", Title: "Weights of the groups", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Symbol: "n_{i}", Numeric: true},
		{ID: "sd", Label: "sd", Symbol: "s_{i}", Unit: s.Unit, Numeric: true},
		{ID: "weight", Label: "weight", Symbol: "w_{i}", Numeric: true, Formula: `\frac{@{n}}{@{sd}^{2}}`},
		{ID: "mean", Label: "mean", Symbol: `\bar{x}_{i}`, Unit: s.Unit, Numeric: true},
		{
			ID: "part", Label: "weight · squared distance", Symbol: "q_{i}", Numeric: true,
			Formula: `@{weight}\cdot(@{mean}-@{weighted_mean})^{2}`,
		},
		{ID: "rest", Label: "r", Symbol: "r_{i}", Numeric: true, Formula: `\frac{(1-@{weight}/@{weight_sum})^{2}}{@{n}-1}`},
	}}
	var rows []working.Row
	var products, parts, rests []float64
	for i, g := range s.data.Each {
		d, rest := g.Moments.Mean-w.Mean, 1-w.Weights[i]/w.Sum
		products, parts = append(products, w.Weights[i]*g.Moments.Mean), append(parts, w.Weights[i]*d*d)
		rests = append(rests, rest*rest/float64(g.Moments.N-1))
		rows = append(rows, working.Row{
			working.NameCell(g.Name), working.WholeCell(g.Moments.N), s.MeasureCell(g.Moments.SD), s.StatisticCell(w.Weights[i], 3),
			s.MeasureCell(g.Moments.Mean), s.StatisticCell(parts[i], 3), s.StatisticCell(rests[i], 4),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	s.Column("weights/*/weight", w.Weights)
	s.Column("weights/*/product", products)
	s.Column("weights/*/part", parts)
	s.Column("weights/*/rest", rests)
}

// typical defines how far means lie from each other, and how far chance alone puts them, in the
// unit of the response. F is the square of their quotient.
func (s *severalMeans) typical() {
	total, squares := 0.0, 0.0
	for _, m := range s.moments {
		total += float64(m.N)
		squares += float64(m.N) * float64(m.N)
	}
	size := (total - squares/total) / s.stats.DFBetween
	squared := s.squares("n_squared", "n_{i}^{2}", func(i int) float64 { return float64(s.moments[i].N) * float64(s.moments[i].N) })
	s.Define(working.Quantity{
		Aside: true, ID: "typical_size", Symbol: "n_{0}", Label: "Typical size of a group",
		Says: "The number of cases by which the groups count on average; their common size where all are equal.",
	}, working.Ratio, size, formula.Quotient{
		Over:  formula.Subtract(formula.Ref("n"), formula.Quotient{Over: formula.Total{Column: squared}, Under: formula.Ref("n")}),
		Under: formula.Ref("df_between"),
	})
	root := func(ref formula.Ref) formula.Expr {
		return formula.Root{X: formula.Quotient{Over: ref, Under: formula.Ref("typical_size")}}
	}
	s.Define(working.Quantity{
		Aside: true, ID: "spread_of_means", Symbol: `s_{\bar{x}}`, Label: "Spread of the group means", Unit: s.Unit,
		Says: "How far they typically lie from the mean of all.",
	}, working.Measure, math.Sqrt(s.stats.MSBetween/size), root("ms_between"))
	s.Define(working.Quantity{
		Aside: true, ID: "chance_spread", Symbol: `s_{0}`, Label: "Spread by chance alone", Unit: s.Unit,
		Says: "How far means of groups of this size would typically lie from each other if H₀ were true: the spread within, over the root " +
			"of the size.",
	}, working.Measure, math.Sqrt(s.stats.MSWithin/size), root("ms_within"))
}

// splitTable lists what each group gives to the sums of squares.
func (s *severalMeans) splitTable() {
	t := &working.Table{ID: "split", Title: "What each group gives to the sums of squares", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "n", Label: "n", Symbol: "n_{i}", Numeric: true},
		{ID: "distance", Label: "mean − mean of all", Symbol: `\bar{x}_{i}-\bar{x}`, Unit: s.Unit, Numeric: true},
		{ID: "between", Label: "between", Numeric: true, Formula: `@{n}\cdot(@{distance})^{2}`},
		{ID: "sd", Label: "sd", Symbol: "s_{i}", Unit: s.Unit, Numeric: true},
		{ID: "within", Label: "within", Numeric: true, Formula: `(@{n}-1)\cdot @{sd}^{2}`},
	}}
	var rows []working.Row
	for i, g := range s.data.Each {
		rows = append(rows, working.Row{
			working.NameCell(g.Name), working.WholeCell(g.Moments.N), s.MeasureCell(s.stats.Distances[i]), s.StatisticCell(s.between(i), 3),
			s.MeasureCell(g.Moments.SD), s.StatisticCell(s.within(i), 3),
		})
	}
	t.SetRows(rows)
	s.Table(t)
}

// varianceTable sums up how the variation splits. Where each group has a spread of its own F is no
// quotient of mean squares and does not stand in it.
func (s *severalMeans) varianceTable() {
	between := write.Source{
		ID: "between", Name: "between groups", SS: s.QuantityCell("ss_between"), DF: s.QuantityCell("df_between"),
		MS: s.QuantityCell("ms_between"),
	}
	within := write.Source{
		ID: "within", Name: "within groups", SS: s.QuantityCell("ss_within"), DF: working.WholeCell(int(s.stats.DFWithin)),
		MS: s.QuantityCell("ms_within"),
	}
	if s.equal {
		between.F, between.P, within.DF = s.QuantityCell("f"), s.QuantityCell("p"), s.QuantityCell("df_within")
	}
	s.VarianceTable(between, within,
		write.Source{ID: "in all", Name: "in all", SS: s.QuantityCell("ss_total"), DF: working.WholeCell(s.data.Used() - 1)})
}

// splitFigure draws each case with its distance from its group's mean, each mean with its
// distance from the mean of all, and the sums of squares as squares.
func (s *severalMeans) splitFigure() *working.Figure {
	f := &working.Figure{
		ID: "split", Form: working.Split, Title: "Between and within",
		Series: []string{"between: " + s.Show("ss_between"), "within: " + s.Show("ss_within"), "in all: " + s.Show("ss_total")},
		Axis:   working.Axis{Label: s.data.Response.Label, Unit: s.Unit},
		Says: fmt.Sprintf("Cases about their group means, and the group means about the mean of all. "+
			"The sum of squares in all, %s, is %s between the groups and %s within them.", s.Show("ss_total"), s.Show("ss_between"),
			s.Show("ss_within")),
	}
	all := s.stats.Mean()
	ends := []float64{all}
	for row := range s.data.Each {
		g := &s.data.Each[row]
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Line, Role: working.MeanMark, Row: row, Label: g.Name, X: working.Positions(all, g.Moments.Mean),
		})
		ends = append(ends, g.Moments.Mean)
		if !s.data.Summary {
			f.Marks = append(f.Marks, working.Mark{
				Shape: working.Points, Role: working.Observed, Row: row, X: working.Positions(g.Values...), Case: g.Rows,
			})
			ends = append(ends, g.Five.Min, g.Five.Max)
		} else if g.Moments.N > 1 {
			mark, low, high := write.SpreadMark(row, g)
			mark.Label = ""
			f.Marks = append(f.Marks, mark)
			ends = append(ends, low, high)
		}
		for part, square := range []float64{s.between(row), s.within(row)} {
			f.Marks = append(f.Marks, working.Mark{
				Shape: working.Bar, Role: working.Observed, Row: row, Part: part, Label: g.Name, X: working.Positions(square),
				Refs: []working.Ref{[]working.Ref{"ss_between", "ss_within"}[part]},
			})
		}
	}
	f.Marks = append(f.Marks, working.Mark{
		Shape: working.RuleMark, Role: working.Expected, Label: "mean of all", X: working.Positions(all), Refs: []working.Ref{"mean"},
	})
	f.Axis.Min, f.Axis.Max = write.Axis(ends...)
	return f
}

func (s *severalMeans) test() {
	s.Test(working.Test{
		Statistic: "f", Symbol: "F", Degrees: []working.Ref{"df_between", "df_within"}, Family: s.Family, UpperOnly: true,
		Name:    "F, " + s.DegreesWords("df_between", "df_within"),
		Extreme: "group means that differ at least as much, compared with the spread within the groups,",
	})
	s.varianceTable()
	s.resample()
	s.Define(working.Quantity{
		ID: "eta_squared", Symbol: `\eta^{2}`, Label: "Share between the groups (eta squared)",
		Says: "Which share of all the variation lies between the groups. In a sample it comes out too large.",
	}, working.Share, s.stats.EtaSquared, formula.Quotient{Over: formula.Ref("ss_between"), Under: formula.Ref("ss_total")})
	omega := formula.Expr(formula.Quotient{
		Over:  formula.Subtract(formula.Ref("ss_between"), formula.Product{formula.Ref("df_between"), formula.Ref("ms_within")}),
		Under: formula.Sum{formula.Ref("ss_total"), formula.Ref("ms_within")},
	})
	if s.stats.OmegaSquared == 0 {
		omega = formula.NotBelow{X: omega}
	}
	s.Define(working.Quantity{
		ID: "omega_squared", Symbol: `\omega^{2}`, Label: "Share in the population (omega squared)",
		Says: "The same share, freed of what chance adds; 0 where chance alone would give as much.",
	}, working.Share, s.stats.OmegaSquared, omega)
}
