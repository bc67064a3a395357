package several

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// readContrast reads the weights of the contrast, which must add up to 0.
func (s *severalMeans) readContrast() error {
	given := s.o.contrast
	if given == nil {
		return nil
	}
	wrong := func(says, instead string) error {
		return problem.Errors{{Pointer: "/options/contrast", Says: says, Instead: instead}}
	}
	s.weights = make([]float64, len(s.moments))
	if given.InOrder != nil {
		if len(given.InOrder) != len(s.moments) {
			return wrong(fmt.Sprintf("%s given for %s", words.Count(len(given.InOrder), "weight"), words.Count(len(s.moments), "group")),
				"give one for each of "+words.Quoted(s.data.Names(), "and"))
		}
		copy(s.weights, given.InOrder)
	}
	named := make([]bool, len(s.moments))
	for _, level := range slices.Sorted(maps.Keys(given.ByLevel)) {
		at := s.data.Find(level)
		if at < 0 {
			return s.noSuchLevel("contrast", level)
		}
		if named[at] {
			return wrong(fmt.Sprintf("“%s” has two weights", words.Shorten(s.data.Each[at].Name)), "give each group one")
		}
		named[at], s.weights[at] = true, given.ByLevel[level]
	}
	sum, size := 0.0, 0.0
	for _, w := range s.weights {
		sum += w
		size += math.Abs(w)
	}
	switch {
	case size == 0:
		return wrong("all weights of the contrast are 0", "give some groups positive weights and others negative ones")
	case math.IsInf(size, 0):
		return wrong("the weights of the contrast are too large to calculate with", "give smaller ones")
	case math.Abs(sum) > 1e-6*size:
		return wrong(fmt.Sprintf("the weights of the contrast add up to %s", working.FormatShortest(sum)),
			"they must add up to 0, as 1, −0.5 and −0.5 do")
	}
	return nil
}

// contrastBlocks builds a contrast, and tests the one that is there.
func (s *severalMeans) contrastBlocks() []working.Block {
	builder := working.ContrastBlock{Pointer: "/options/contrast", Tail: problem.Both}
	if s.weights != nil {
		builder.Tail = s.o.contrast.Tail
	}
	for i, g := range s.data.Each {
		one := working.Weighted{Code: g.Code, Label: g.Name}
		if s.weights != nil {
			one.Weight = working.Number(s.weights[i])
		}
		builder.Groups = append(builder.Groups, one)
	}
	blocks := []working.Block{working.Say("**A planned contrast.** Was it asked beforehand whether certain groups differ from " +
		"certain others, and in which direction? That question has a test of its own."), builder}
	if s.weights == nil {
		return blocks
	}
	c := s.stats.NewContrast(s.moments, s.weights, s.equal)
	s.contrastTable()
	s.contrastError(c)
	p := s.contrastTest(c)
	finds := "do not show that it is"
	if p <= s.P.Alpha {
		finds = "are evidence that it is"
	}
	tail := s.o.contrast.Tail
	return append(blocks,
		working.Say("%s: @{contrast}, $t$ = @{t_contrast} with @{df_contrast} %s, p %s@{p_contrast}. At $α$ = @{alpha} the data %s %s.",
			s.contrastWords(), s.DegreesNoun("df_contrast"), s.Relation("p_contrast"), finds,
			problem.Sides[string]{Both: "not 0", Less: "below 0", Greater: "above 0"}.Of(tail)),
		working.TableBlock{Table: "contrast"}, working.FormulaBlock{Quantity: "contrast"}, working.FormulaBlock{Quantity: "se_contrast"},
		working.FormulaBlock{Quantity: "t_contrast"},
		working.Say("Its %s\u00a0%% interval: %s.", s.LevelWords(), s.Between("contrast_low", "contrast_high", "none")),
		working.Warn("A contrast that was chosen after a look at the means finds too much. It must come from the question."))
}

// contrastError defines the contrast with its standard error and degrees of freedom.
func (s *severalMeans) contrastError(c stats.Contrast) {
	s.Define(working.Quantity{
		ID: "contrast", Symbol: `\hat\psi`, Label: "Contrast", Unit: s.Unit, Says: "The group means, each times its weight, added up.",
	}, working.Measure, c.Estimate, formula.Total{Column: s.Calculated("contrast/*/product", `c_{i}\bar{x}_{i}`, s.decimals+2)})
	se := working.Quantity{ID: "se_contrast", Symbol: `s_{\hat\psi}`, Label: "Standard error of the contrast", Unit: s.Unit}
	df := working.Quantity{ID: "df_contrast", Symbol: `\nu_{\psi}`, Label: "Degrees of freedom of the contrast"}
	if s.equal {
		se.Says, df.Says = "From the spread within all groups.", "Those within the groups."
		shares := formula.Total{Column: s.Calculated("contrast/*/share", `\frac{c_{i}^{2}}{n_{i}}`, 4)}
		s.Define(se, working.Measure, c.SE, formula.Root{X: formula.Product{formula.Ref("ms_within"), shares}})
		s.Define(df, working.Degrees, c.DF, formula.Ref("df_within"))
	} else {
		se.Says, df.Says = "From the spreads of its groups.", "An approximation (Satterthwaite), whole or not."
		s.Define(se, working.Measure, c.SE, formula.Root{
			X: formula.Total{Column: s.Calculated("contrast/*/share", `\frac{c_{i}^{2}s_{i}^{2}}{n_{i}}`, 4)}})
		s.Define(df, working.Degrees, c.DF, formula.Quotient{
			Over:  formula.Power{Base: formula.Ref("se_contrast"), Exponent: 4},
			Under: formula.Total{Column: s.Calculated("contrast/*/below", `\frac{(c_{i}^{2}s_{i}^{2}/n_{i})^{2}}{n_{i}-1}`, 6)},
		})
	}
	s.Define(working.Quantity{ID: "t_contrast", Symbol: "t", Label: "Statistic of the contrast",
		Says: "How many standard errors it lies from 0."},
		working.Ratio, c.T, formula.Quotient{Over: formula.Ref("contrast"), Under: formula.Ref("se_contrast")})
}

// contrastTest defines the p-value of the contrast, which it returns, and its interval.
func (s *severalMeans) contrastTest(c stats.Contrast) (p float64) {
	direction := write.Direction{Tail: s.o.contrast.Tail}
	family, d := write.T, dist.T{DF: c.DF}
	family.Degrees = []formula.Ref{"df_contrast"}
	s.Level("In the long run this share of such intervals holds the true value.")
	outside, area := s.Outside()
	if !direction.Directed() {
		area, outside = area/2, formula.Quotient{Over: outside, Under: formula.Num(2)}
	}
	times := d.UpperQuantile(area)
	s.Define(working.Quantity{
		ID: "t_interval", Symbol: "t^{*}", Label: "Multiplier of the interval", Says: "How many standard errors the interval reaches.",
	}, working.Ratio, times, formula.Quantile{Of: family, Area: outside})
	p, expr := direction.CurveP(family, d, c.T, "t_contrast")
	s.Define(working.Quantity{
		ID: "p_contrast", Symbol: `p_{\psi}`, Label: "p-value of the contrast",
		Says: "If the true contrast were 0: the probability of one at least as extreme.",
	}, working.P, p, expr)
	reach := formula.Product{formula.Ref("t_interval"), formula.Ref("se_contrast")}
	low, high := c.Estimate-times*c.SE, c.Estimate+times*c.SE
	if !direction.Above() {
		low = math.Inf(-1)
	}
	if !direction.Below() {
		high = math.Inf(1)
	}
	s.contrastEnd("contrast_low", `\text{lower}`, "Lower end of its interval", low, formula.Subtract(formula.Ref("contrast"), reach))
	s.contrastEnd("contrast_high", `\text{upper}`, "Upper end of its interval", high, formula.Sum{formula.Ref("contrast"), reach})
	return p
}

func (s *severalMeans) contrastEnd(id working.Ref, symbol, label string, value float64, expr formula.Expr) {
	says := "A contrast beyond this the data would reject, at this level."
	if math.IsInf(value, 0) {
		says, expr = "With one tail the interval is open on this side.", nil
	}
	s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: s.Unit, Says: says}, working.Measure, value, expr)
}

// contrastWords names a contrast: "Lantern against the mean of Mole and Quarry".
func (s *severalMeans) contrastWords() string {
	plus, evenPlus := s.contrastSide(1)
	minus, evenMinus := s.contrastSide(-1)
	if !evenPlus || !evenMinus {
		return "The weighted sum of the means"
	}
	total := 0.0
	for _, w := range s.weights {
		total += math.Abs(w) / 2
	}
	named := words.UpperFirst(plus) + " against " + minus
	if math.Abs(total-1) > 1e-6 {
		named += " (" + working.FormatShortest(total) + " times their difference)"
	}
	return named
}

// contrastSide names the groups whose weights have a sign; even says that the weights are equal.
func (s *severalMeans) contrastSide(sign float64) (named string, even bool) {
	var names []string
	weight := 0.0
	even = true
	for i, w := range s.weights {
		if w*sign > 0 {
			even = even && (weight == 0 || math.Abs(w-weight) <= 1e-6*math.Abs(w))
			weight = w
			names = append(names, s.data.Each[i].Name)
		}
	}
	if len(names) == 1 {
		return names[0], even
	}
	return "the mean of " + words.Listed(names), even
}

// contrastTable lists the weights and what they make of the means.
func (s *severalMeans) contrastTable() {
	t := &working.Table{ID: "contrast", Title: "The contrast", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "weight", Label: "weight", Symbol: "c_{i}", Numeric: true},
		{ID: "mean", Label: "mean", Symbol: `\bar{x}_{i}`, Unit: s.Unit, Numeric: true},
		{ID: "product", Label: "weight · mean", Unit: s.Unit, Numeric: true, Formula: `@{weight}\cdot @{mean}`},
	}}
	var rows []working.Row
	var products, shares, below []float64
	for i, g := range s.data.Each {
		w, n := s.weights[i], float64(g.Moments.N)
		if w == 0 {
			continue
		}
		product, share := w*g.Moments.Mean, w*w/n
		if !s.equal {
			share *= g.Moments.SD * g.Moments.SD
			below = append(below, share*share/(n-1))
		}
		products, shares = append(products, product), append(shares, share)
		rows = append(rows, working.Row{
			working.NameCell(g.Name), s.StatisticCell(w, working.DefaultDecimals), s.MeasureCell(g.Moments.Mean), s.MeasureCell(product),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	s.Column("contrast/*/product", products)
	s.Column("contrast/*/share", shares)
	s.Column("contrast/*/below", below)
}
