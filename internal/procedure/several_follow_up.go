package procedure

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// followUp says how large the effect is, which groups differ, and what was planned.
func (s *severalMeans) followUp() {
	blocks := []working.Block{
		working.Say("**How large is it?** @{eta_squared} of all the variation lies between the groups: %s, by the usual rule of thumb (0.01 small, 0.06 medium, 0.14 large). Freed of what chance adds, that is @{omega_squared}.", shareWords(s.stats.EtaSquared)),
		working.FormulaBlock{Quantity: "eta_squared"}, working.FormulaBlock{Quantity: "omega_squared"}}
	blocks = append(blocks, s.pairBlocks()...)
	blocks = append(blocks, s.effectBlocks()...)
	blocks = append(blocks, s.contrastBlocks()...)
	s.Step(working.FollowUp, "η² = "+s.Show("eta_squared"), blocks...).Opens = "eta_squared"
	if s.equal {
		s.plan()
	}
}

// shareWords reads eta squared (Cohen, Statistical Power Analysis, 2nd ed., 8.2: f of 0.1,
// 0.25 and 0.4).
func shareWords(share float64) string {
	switch {
	case share < 0.01:
		return "less than small"
	case share < 0.06:
		return "small"
	case share < 0.14:
		return "medium"
	}
	return "large"
}

// compared is a pair of means with its corrected p-value and interval.
type compared struct {
	stats.MeanPair
	p, low, high float64
}

// pairs compares every two groups as the option “comparisons” has it, the largest
// differences first.
func (s *severalMeans) pairs() []compared {
	k, area := len(s.moments), s.area()
	raw := s.stats.MeanPairs(s.moments, s.equal)
	m := float64(len(raw))
	pairs := make([]compared, len(raw))
	reach := math.NaN()
	if s.comparisons == "tukey" && s.equal {
		reach = stats.TukeyReach(s.stats.DFWithin, k, area)
	}
	ps := make([]float64, len(raw))
	stats.InParallel(len(raw), func(i int) {
		pair, times := raw[i], reach
		t := dist.T{DF: pair.DF}
		switch s.comparisons {
		case "tukey":
			ps[i] = stats.TukeyP(pair, k)
			if !s.equal {
				times = stats.TukeyReach(pair.DF, k, area)
			}
		case "bonferroni":
			ps[i] = math.Min(1, 2*m*t.Upper(math.Abs(pair.T)))
			times = t.UpperQuantile(area / m / 2)
		default:
			ps[i] = 2 * t.Upper(math.Abs(pair.T))
		}
		pairs[i] = compared{MeanPair: pair, low: pair.Difference - times*pair.SE, high: pair.Difference + times*pair.SE}
	})
	if s.comparisons == "holm" {
		ps = stats.Holm(ps)
	}
	for i := range pairs {
		pairs[i].p = ps[i]
	}
	slices.SortStableFunc(pairs, func(a, b compared) int {
		return cmp.Compare(math.Abs(b.Difference), math.Abs(a.Difference))
	})
	return pairs
}

// pairBlocks compares every two groups: a table, a picture of the intervals, and letters.
func (s *severalMeans) pairBlocks() []working.Block {
	blocks := []working.Block{working.Say("**Which groups differ?**"), working.ControlBlock{Control: "comparisons"}}
	if s.comparisons == "none" {
		return blocks
	}
	pairs := s.pairs()
	intervals := s.comparisons != "holm"
	t := &working.Table{ID: "comparisons", Title: "Every two groups", Key: []string{"first", "second"}, Columns: []working.Column{
		{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "difference", Label: "first − second", Unit: s.unit, Numeric: true},
		{ID: "se", Label: "se", Unit: s.unit, Numeric: true, Hidden: intervals},
		{ID: "ci_low", Label: "from", Unit: s.unit, Numeric: true, Hidden: !intervals}, {ID: "ci_high", Label: "to", Unit: s.unit, Numeric: true, Hidden: !intervals},
		{ID: "p", Label: "p (" + s.comparisonWord() + ")", Numeric: true}}}
	var rows []working.Row
	var differ []string
	k := len(s.moments)
	apart := make([]bool, k*k)
	for _, one := range pairs {
		first, second := s.data.groups[one.First].name, s.data.groups[one.Second].name
		rows = append(rows, working.Row{nameCell(first), nameCell(second), s.measure(one.Difference), s.measure(one.SE), s.measure(one.low), s.measure(one.high), s.pCell(one.p)})
		if one.p <= s.p.Alpha {
			apart[one.First*k+one.Second], apart[one.Second*k+one.First] = true, true
			differ = append(differ, first+" and "+second)
		}
	}
	t.SetRows(rows)
	s.Table(t)
	says := "no two groups can be told apart"
	const most = 6
	switch n := len(differ); {
	case n == 1:
		says = "one pair differs: " + differ[0]
	case n > most:
		says = fmt.Sprintf("%d of %d pairs differ, first of all %s", n, len(pairs), strings.Join(differ[:most], "; "))
	case n > 0:
		says = fmt.Sprintf("%d of %d pairs differ: %s", n, len(pairs), strings.Join(differ, "; "))
	}
	if !s.Rejected() {
		blocks = append(blocks, working.Warn("The test of all means together has not rejected. To go on and look for a pair that differs is to look for what the test has not found: what comes up is a hint for a new study, not a finding of this one."))
	}
	blocks = append(blocks, working.Say("At $α$ = @{alpha} for all comparisons together, %s.", says), working.TableBlock{Table: "comparisons"})
	if intervals {
		s.Figure(s.pairsFigure(pairs))
		blocks = append(blocks, working.FigureBlock{Figure: "pairs"})
	}
	blocks = append(blocks, working.Note("%s", s.comparisonSays()))
	return append(blocks, s.letterBlocks(func(i, j int) bool { return apart[i*k+j] })...)
}

func (s *severalMeans) comparisonWord() string {
	switch {
	case s.comparisons == "tukey" && !s.equal:
		return "Games and Howell"
	case s.comparisons == "tukey":
		return "Tukey"
	case s.comparisons == "holm":
		return "Holm"
	}
	return "Bonferroni"
}

// comparisonSays says how the p-values and intervals of the comparisons hold together.
func (s *severalMeans) comparisonSays() string {
	level := s.levelWords() + "\u00a0%"
	spread := "The standard error of a difference comes from the spread within all groups."
	if !s.equal {
		spread = "The standard error of a difference comes from the spreads of its two groups alone."
	}
	switch s.comparisons {
	case "tukey":
		return fmt.Sprintf("p is the probability that the largest of all differences would be as large as this one, in standard errors, if all means were the same. All intervals together hold the true differences with a confidence of %s. %s", level, spread)
	case "holm":
		return "The smallest p is multiplied by the number of pairs, the next by one less, and so on; a p never lies below the one before. There are no intervals that belong to it. " + spread
	}
	return fmt.Sprintf("Each p is multiplied by the number of pairs, and each interval is made so wide that all together hold the true differences with a confidence of at least %s. %s", level, spread)
}

func (s *severalMeans) pairsFigure(pairs []compared) *working.Figure {
	f := &working.Figure{ID: "pairs", Form: working.Intervals, Title: fmt.Sprintf("Differences with %s\u00a0%% intervals (%s)", s.levelWords(), s.comparisonWord()), Axis: working.Axis{Label: "difference", Unit: s.unit}}
	ends := []float64{0}
	var says []string
	for row, one := range pairs {
		label := s.data.groups[one.First].name + " − " + s.data.groups[one.Second].name
		f.Marks = append(f.Marks, working.Mark{Shape: working.Interval, Role: working.Observed, Label: label, Row: row, X: working.Positions(one.low, one.Difference, one.high)})
		ends = append(ends, one.low, one.high)
		says = append(says, fmt.Sprintf("%s: %s, from %s to %s", label, s.ShowMeasure(one.Difference), s.ShowMeasure(one.low), s.ShowMeasure(one.high)))
	}
	f.Marks = append(f.Marks, working.Mark{Shape: working.RuleMark, Role: working.Expected, Label: "no difference", X: working.Positions(0)})
	f.Axis.Min, f.Axis.Max = axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	return f
}

// letterBlocks marks the groups that cannot be told apart by common letters, the highest
// mean first.
func (s *severalMeans) letterBlocks(differ func(i, j int) bool) []working.Block {
	means := make([]float64, len(s.moments))
	for i, m := range s.moments {
		means[i] = -m.Mean
	}
	order := stats.Ascending(means)
	sets := stats.Letters(len(order), func(i, j int) bool { return differ(order[i], order[j]) })
	t := &working.Table{ID: "alike", Title: "Groups that cannot be told apart", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "mean", Label: "mean", Unit: s.unit, Numeric: true}, {ID: "letters", Label: "letters"}}}
	var rows []working.Row
	for i, at := range order {
		var letters []string
		for j, set := range sets {
			letter := "\u2007" // as wide as a letter, so that each letter has its own column
			if slices.Contains(set, i) {
				letter = letterOf(j)
			}
			letters = append(letters, letter)
		}
		text := strings.TrimRight(strings.Join(letters, " "), " \u2007")
		rows = append(rows, working.Row{nameCell(s.data.groups[at].name), s.measure(s.moments[at].Mean), {Value: strings.Join(strings.Fields(strings.ReplaceAll(text, "\u2007", " ")), " "), Shown: text}})
	}
	t.SetRows(rows)
	s.Table(t)
	return []working.Block{working.TableBlock{Table: "alike"}, working.Note("Groups that share a letter cannot be told apart by these comparisons. That does not show that their means are equal.")}
}

// letterOf returns the i-th letter: a, b, …, z, aa, ab, ….
func letterOf(i int) string {
	if i < 26 {
		return string(rune('a' + i))
	}
	return letterOf(i/26-1) + string(rune('a'+i%26))
}

// effectBlocks sets every group against the reference.
func (s *severalMeans) effectBlocks() []working.Block {
	reference := s.data.groups[s.reference].name
	t := &working.Table{ID: "effects", Title: "Each group against " + reference, Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "reference", Label: "reference", Hidden: true}, {ID: "difference", Label: "difference", Unit: s.unit, Numeric: true}, {ID: "se", Label: "se", Unit: s.unit, Numeric: true},
		{ID: "t", Label: "t", Numeric: true}, {ID: "p", Label: "p", Numeric: true}, {ID: "ci_low", Label: "from", Unit: s.unit, Numeric: true}, {ID: "ci_high", Label: "to", Unit: s.unit, Numeric: true}}}
	var rows []working.Row
	for i, g := range s.data.groups {
		if i == s.reference {
			continue
		}
		pair := s.stats.CompareMeanPair(s.moments, i, s.reference, s.equal)
		d := dist.T{DF: pair.DF}
		reach := d.UpperQuantile(s.area()/2) * pair.SE
		rows = append(rows, working.Row{nameCell(g.name), nameCell(reference), s.measure(pair.Difference), s.measure(pair.SE), s.number(pair.T, working.DefaultDecimals), s.pCell(2 * d.Upper(math.Abs(pair.T))), s.measure(pair.Difference - reach), s.measure(pair.Difference + reach)})
	}
	t.SetRows(rows)
	s.Table(t)
	return []working.Block{
		working.Say("**Effects.** The same means said in another way: **%s** has a mean of %s, and each other group lies so far above or below it.", reference, s.inMeasure(s.moments[s.reference].Mean)),
		working.ControlBlock{Control: "reference"}, working.TableBlock{Table: "effects"},
		working.Note("These p-values and intervals are each for themselves, not corrected for their number: they answer a question that was asked about one group beforehand.")}
}

// readContrast reads the weights of a contrast, which must add up to 0.
func (s *severalMeans) readContrast(option any) error {
	given, ok := option.(contrastWeights)
	if !ok {
		return nil
	}
	wrong := func(says, instead string) error {
		return problem.Errors{{Pointer: "/options/contrast", Says: says, Instead: instead}}
	}
	s.tail = given.tail
	s.weights = make([]float64, len(s.moments))
	if given.inOrder != nil {
		if len(given.inOrder) != len(s.moments) {
			return wrong(fmt.Sprintf("%s given for %s", count(len(given.inOrder), "weight"), count(len(s.moments), "group")), "give one for each of "+problem.List(s.names(), "and"))
		}
		copy(s.weights, given.inOrder)
	}
	named := make([]bool, len(s.moments))
	for _, level := range slices.Sorted(maps.Keys(given.byLevel)) {
		at, weight := s.find(level), given.byLevel[level]
		if at < 0 {
			return s.noSuchLevel("contrast", level)
		}
		if named[at] {
			return wrong(fmt.Sprintf("“%s” has two weights", problem.Shorten(s.data.groups[at].name)), "give each group one")
		}
		named[at], s.weights[at] = true, weight
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
		return wrong(fmt.Sprintf("the weights of the contrast add up to %s", working.FormatShortest(sum)), "they must add up to 0, as 1, −0.5 and −0.5 do")
	}
	return nil
}

// contrastBlocks builds a contrast, and tests the one that is there.
func (s *severalMeans) contrastBlocks() []working.Block {
	builder := working.ContrastBlock{Pointer: "/options/contrast", Tail: problem.Both}
	if s.weights != nil {
		builder.Tail = s.tail
	}
	for i, g := range s.data.groups {
		one := working.Weighted{Code: g.code, Label: g.name}
		if s.weights != nil {
			one.Weight = working.Number(s.weights[i])
		}
		builder.Groups = append(builder.Groups, one)
	}
	blocks := []working.Block{working.Say("**A planned contrast.** Was it asked beforehand whether certain groups differ from certain others, and in which direction? That question has a test of its own."), builder}
	if s.weights == nil {
		return blocks
	}
	c := s.stats.NewContrast(s.moments, s.weights, s.equal)
	s.contrastTable()
	s.Define(working.Quantity{ID: "contrast", Symbol: `\hat\psi`, Label: "Contrast", Unit: s.unit, Says: "The group means, each times its weight, added up."}, working.Measure, c.Estimate,
		formula.Total{Column: s.Calculated("contrast/*/product", `c_{i}\bar{x}_{i}`, s.decimals+2)})
	if s.equal {
		s.Define(working.Quantity{ID: "se_contrast", Symbol: `s_{\hat\psi}`, Label: "Standard error of the contrast", Unit: s.unit, Says: "From the spread within all groups."}, working.Measure, c.SE,
			formula.Root{X: formula.Product{formula.Ref("ms_within"), formula.Total{Column: s.Calculated("contrast/*/share", `\frac{c_{i}^{2}}{n_{i}}`, 4)}}})
		s.Define(working.Quantity{ID: "df_contrast", Symbol: `\nu_{\psi}`, Label: "Degrees of freedom of the contrast", Says: "Those within the groups."}, working.Degrees, c.DF, formula.Ref("df_within"))
	} else {
		s.Define(working.Quantity{ID: "se_contrast", Symbol: `s_{\hat\psi}`, Label: "Standard error of the contrast", Unit: s.unit, Says: "From the spreads of its groups."}, working.Measure, c.SE,
			formula.Root{X: formula.Total{Column: s.Calculated("contrast/*/share", `\frac{c_{i}^{2}s_{i}^{2}}{n_{i}}`, 4)}})
		s.Define(working.Quantity{ID: "df_contrast", Symbol: `\nu_{\psi}`, Label: "Degrees of freedom of the contrast", Says: "An approximation (Satterthwaite), whole or not."}, working.Degrees, c.DF,
			formula.Quotient{Over: formula.Power{Base: formula.Ref("se_contrast"), Exponent: 4}, Under: formula.Total{Column: s.Calculated("contrast/*/below", `\frac{(c_{i}^{2}s_{i}^{2}/n_{i})^{2}}{n_{i}-1}`, 6)}})
	}
	s.Define(working.Quantity{ID: "t_contrast", Symbol: "t", Label: "Statistic of the contrast", Says: "How many standard errors it lies from 0."}, working.Ratio, c.T, formula.Quotient{Over: formula.Ref("contrast"), Under: formula.Ref("se_contrast")})
	family := formula.Family{Symbol: "t", Degrees: []formula.Ref{"df_contrast"}, New: func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
	d := dist.T{DF: c.DF}
	s.level("In the long run this share of such intervals holds the true value.")
	area, outside := s.area(), formula.Expr(formula.Ref("alpha"))
	if s.p.Confidence != nil {
		outside = formula.Subtract(formula.Num(1), formula.Ref("confidence"))
	}
	if s.tail == problem.Both {
		area, outside = area/2, formula.Quotient{Over: outside, Under: formula.Num(2)}
	}
	times := d.UpperQuantile(area)
	s.Define(working.Quantity{ID: "t_interval", Symbol: "t^{*}", Label: "Multiplier of the interval", Says: "How many standard errors the interval reaches."}, working.Ratio, times, formula.Quantile{Of: family, Area: outside})
	reach := formula.Product{formula.Ref("t_interval"), formula.Ref("se_contrast")}
	var p float64
	var tail formula.Expr
	low, high := c.Estimate-times*c.SE, c.Estimate+times*c.SE
	switch t := formula.Ref("t_contrast"); s.tail {
	case problem.Left:
		p, tail, low = d.Lower(c.T), formula.Tail{Of: family, X: t, Lower: true}, math.Inf(-1)
	case problem.Right:
		p, tail, high = d.Upper(c.T), formula.Tail{Of: family, X: t}, math.Inf(1)
	default:
		p, tail = 2*d.Upper(math.Abs(c.T)), formula.Product{formula.Num(2), formula.Tail{Of: family, X: formula.Abs{X: t}}}
	}
	s.Define(working.Quantity{ID: "p_contrast", Symbol: `p_{\psi}`, Label: "p-value of the contrast", Says: "If the true contrast were 0: the probability of one at least as extreme."}, working.P, p, tail)
	end := func(id working.Ref, symbol, label string, value float64, expr formula.Expr) {
		says := "A contrast beyond this the data would reject, at this level."
		if math.IsInf(value, 0) {
			says, expr = "With one tail the interval is open on this side.", nil
		}
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Unit: s.unit, Says: says}, working.Measure, value, expr)
	}
	end("contrast_low", `\text{lower}`, "Lower end of its interval", low, formula.Subtract(formula.Ref("contrast"), reach))
	end("contrast_high", `\text{upper}`, "Upper end of its interval", high, formula.Sum{formula.Ref("contrast"), reach})
	against := s.contrastWords()
	says := working.Say("%s: @{contrast}, $t$ = @{t_contrast} with @{df_contrast} %s, p %s@{p_contrast}. At $α$ = @{alpha} the data do not show that it is %s.", against, s.DegreesNoun("df_contrast"), s.relation("p_contrast"), tailWords(s.tail))
	if p <= s.p.Alpha {
		says = working.Say("%s: @{contrast}, $t$ = @{t_contrast} with @{df_contrast} %s, p %s@{p_contrast}. At $α$ = @{alpha} the data are evidence that it is %s.", against, s.DegreesNoun("df_contrast"), s.relation("p_contrast"), tailWords(s.tail))
	}
	interval := ""
	switch {
	case math.IsInf(low, 0):
		interval = "at most " + s.withUnit("contrast_high")
	case math.IsInf(high, 0):
		interval = "at least " + s.withUnit("contrast_low")
	default:
		interval = s.Show("contrast_low") + " to " + s.withUnit("contrast_high")
	}
	return append(blocks, says, working.TableBlock{Table: "contrast"}, working.FormulaBlock{Quantity: "contrast"}, working.FormulaBlock{Quantity: "se_contrast"}, working.FormulaBlock{Quantity: "t_contrast"},
		working.Say("Its %s\u00a0%% interval: %s.", s.levelWords(), interval),
		working.Warn("A contrast that was chosen after a look at the means finds too much. It must come from the question."))
}

// tailWords says what H₁ says of a contrast.
func tailWords(tail problem.Tail) string {
	return map[problem.Tail]string{problem.Both: "not 0", problem.Left: "below 0", problem.Right: "above 0"}[tail]
}

// contrastWords names a contrast: "Lantern against the mean of Mole and Quarry".
func (s *severalMeans) contrastWords() string {
	side := func(sign float64) (words string, even bool) {
		var names []string
		weight := 0.0
		even = true
		for i, w := range s.weights {
			if w*sign > 0 {
				even = even && (weight == 0 || math.Abs(w-weight) <= 1e-6*math.Abs(w))
				weight = w
				names = append(names, s.data.groups[i].name)
			}
		}
		if len(names) == 1 {
			return names[0], even
		}
		return "the mean of " + listed(names), even
	}
	plus, evenPlus := side(1)
	minus, evenMinus := side(-1)
	total := 0.0
	for _, w := range s.weights {
		total += math.Abs(w) / 2
	}
	if !evenPlus || !evenMinus {
		return "The weighted sum of the means"
	}
	words := upperFirst(plus) + " against " + minus
	if math.Abs(total-1) > 1e-6 {
		words += " (" + working.FormatShortest(total) + " times their difference)"
	}
	return words
}

// contrastTable lists the weights and what they make of the means.
func (s *severalMeans) contrastTable() {
	t := &working.Table{ID: "contrast", Title: "The contrast", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.factor}, {ID: "weight", Label: "weight", Symbol: "c_{i}", Numeric: true}, {ID: "mean", Label: "mean", Symbol: `\bar{x}_{i}`, Unit: s.unit, Numeric: true},
		{ID: "product", Label: "weight · mean", Unit: s.unit, Numeric: true, Formula: `@{weight}\cdot @{mean}`}}}
	var rows []working.Row
	var products, shares, below []float64
	for i, g := range s.data.groups {
		w, n := s.weights[i], float64(g.moments.N)
		if w == 0 {
			continue
		}
		product, share := w*g.moments.Mean, w*w/n
		if !s.equal {
			share *= g.moments.SD * g.moments.SD
			below = append(below, share*share/(n-1))
		}
		products, shares = append(products, product), append(shares, share)
		rows = append(rows, working.Row{nameCell(g.name), s.number(w, working.DefaultDecimals), s.measure(g.moments.Mean), s.measure(product)})
	}
	t.SetRows(rows)
	s.Table(t)
	s.Column("contrast/*/product", products)
	s.Column("contrast/*/share", shares)
	s.Column("contrast/*/below", below)
}

// plan offers the power of the test: true means that typically lie so far from the mean of
// all.
func (s *severalMeans) plan() {
	k, n := len(s.moments), s.data.used()
	spread := math.Sqrt(s.stats.MSWithin)
	medium := 0.25 * spread // a medium effect (Cohen, 8.2)
	unit := math.Pow10(1 - int(math.Floor(math.Log10(medium))))
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{{ID: "truth", Label: "How far true means typically lie from the mean of all", Unit: s.unit, Value: math.Round(medium*unit) / unit, Above: new(0.0)}, s.spreadInput("sd", "Standard deviation in all groups", spread)},
		N:      n, Least: 2 * k,
		Truth: func(truth []float64) string {
			return "true means that typically lie " + s.inUnit(truth[0]) + " from the mean of all"
		},
		Side:  func([]float64) int { return 1 },
		Basis: "Calculated by the noncentral F distribution, for normal cases with one standard deviation in all groups, at first the pooled one. The groups keep their shares of the cases; how far the true means lie is meant as a standard deviation.",
		Power: func(truth []float64, n int) float64 {
			df1, df2 := float64(k-1), float64(n-k)
			return stats.PowerOfF(df1, df2, float64(n)*math.Pow(truth[0]/truth[1], 2), dist.F{DF1: df1, DF2: df2}.UpperQuantile(s.p.Alpha))
		},
	})
}
