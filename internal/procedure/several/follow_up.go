package several

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// followUp says how large the effect is, which groups differ, and what was planned.
func (s *severalMeans) followUp(ctx context.Context) error {
	blocks := []working.Block{
		working.Say("**How large is it?** @{eta_squared} of all the variation lies between the groups: %s, by the usual rule of thumb "+
			"(0.01 small, 0.06 medium, 0.14 large). Freed of what chance adds, that is @{omega_squared}.", shareWords(s.stats.EtaSquared)),
		working.FormulaBlock{Quantity: "eta_squared"}, working.FormulaBlock{Quantity: "omega_squared"},
	}
	pairs, err := s.pairBlocks(ctx)
	if err != nil {
		return err
	}
	blocks = append(blocks, pairs...)
	blocks = append(blocks, s.effectBlocks()...)
	blocks = append(blocks, s.contrastBlocks()...)
	s.Step(working.FollowUp, working.Textf("η² = @{eta_squared}"), append(blocks, s.KeepResiduals(s.data)...)...)
	if s.equal {
		s.plan()
	}
	return nil
}

// shareWords reads eta squared (Cohen, Statistical Power Analysis, 2nd ed., 8.2: f of 0.1, 0.25
// and 0.4).
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

// pairBlocks compares every two groups: a table, a picture of the intervals, and letters.
func (s *severalMeans) pairBlocks(ctx context.Context) ([]working.Block, error) {
	blocks := []working.Block{working.Say("**Which groups differ?**"), working.ControlBlock{Control: "comparisons"}}
	if s.o.comparisons == "none" {
		return blocks, nil
	}
	pairs, err := s.stats.Compare(ctx, s.moments, stats.Comparisons(s.o.comparisons), s.equal, s.Area())
	if err != nil {
		return nil, fmt.Errorf("comparing every two of %d groups: %w", len(s.moments), err)
	}
	intervals := s.o.comparisons != "holm"
	s.pairsTable(pairs, intervals)
	if !s.Rejected() {
		blocks = append(blocks, working.Warn("The test of all means together has not rejected. To go on and look for a pair that "+
			"differs is to look for what the test has not found: what comes up is a hint for a new study, not a finding of this "+
			"one."))
	}
	blocks = append(blocks, working.Say("At $α$ = @{alpha} for all comparisons together, %s.", s.differWords(pairs)),
		working.TableBlock{Table: "comparisons"})
	if intervals {
		s.Figure(s.pairsFigure(pairs))
		blocks = append(blocks, working.FigureBlock{Figure: "pairs"})
	}
	blocks = append(blocks, working.Note("%s", s.comparisonSays()))
	return append(blocks, s.letterBlocks(pairs)...), nil
}

// pairsTable lists every two groups.
func (s *severalMeans) pairsTable(pairs []stats.ComparedMeans, intervals bool) {
	t := &working.Table{ID: "comparisons", Title: "Every two groups", Key: []string{"first", "second"}, Columns: []working.Column{
		{ID: "first", Label: "first"}, {ID: "second", Label: "second"}, {ID: "difference", Label: "first − second", Unit: s.Unit, Numeric: true},
		{ID: "se", Label: "se", Unit: s.Unit, Numeric: true, Hidden: intervals},
		{ID: "ci_low", Label: "from", Unit: s.Unit, Numeric: true, Hidden: !intervals},
		{ID: "ci_high", Label: "to", Unit: s.Unit, Numeric: true, Hidden: !intervals},
		{ID: "p", Label: "p (" + s.comparisonWord() + ")", Numeric: true},
	}}
	var rows []working.Row
	for _, one := range pairs {
		rows = append(rows, working.Row{
			working.NameCell(s.data.Each[one.First].Name), working.NameCell(s.data.Each[one.Second].Name), s.MeasureCell(one.Difference),
			s.MeasureCell(one.SE), s.MeasureCell(one.Low), s.MeasureCell(one.High), s.PCell(one.P),
		})
	}
	t.SetRows(rows)
	s.Table(t)
}

// differWords says which pairs differ.
func (s *severalMeans) differWords(pairs []stats.ComparedMeans) string {
	var differ []string
	for _, one := range pairs {
		if one.P <= s.P.Alpha {
			differ = append(differ, s.data.Each[one.First].Name+" and "+s.data.Each[one.Second].Name)
		}
	}
	const most = 6
	switch n := len(differ); {
	case n == 0:
		return "no two groups can be told apart"
	case n == 1:
		return "one pair differs: " + differ[0]
	case n > most:
		return fmt.Sprintf("%d of %d pairs differ, first of all %s", n, len(pairs), strings.Join(differ[:most], "; "))
	default:
		return fmt.Sprintf("%d of %d pairs differ: %s", n, len(pairs), strings.Join(differ, "; "))
	}
}

func (s *severalMeans) comparisonWord() string {
	switch {
	case s.o.comparisons == "tukey" && !s.equal:
		return "Games and Howell"
	case s.o.comparisons == "tukey":
		return "Tukey"
	case s.o.comparisons == "holm":
		return "Holm"
	}
	return "Bonferroni"
}

// comparisonSays says how the p-values and intervals of the comparisons hold together.
func (s *severalMeans) comparisonSays() string {
	level := s.LevelWords() + "\u00a0%"
	spread := "The standard error of a difference comes from the spread within all groups."
	if !s.equal {
		spread = "The standard error of a difference comes from the spreads of its two groups alone."
	}
	switch s.o.comparisons {
	case "tukey":
		return fmt.Sprintf("p is the probability that the largest of all differences would be as large as this one, in standard errors, "+
			"if all means were the same. All intervals together hold the true differences with a confidence of %s. %s", level, spread)
	case "holm":
		return "The smallest p is multiplied by the number of pairs, the next by one less, and so on; a p never lies below the one before. " +
			"There are no intervals that belong to it. " + spread
	}
	return fmt.Sprintf("Each p is multiplied by the number of pairs, and each interval is made so wide that all together hold the "+
		"true differences with a confidence of at least %s. %s", level, spread)
}

func (s *severalMeans) pairsFigure(pairs []stats.ComparedMeans) *working.Figure {
	f := &working.Figure{
		ID: "pairs", Form: working.Intervals, Title: fmt.Sprintf("Differences with %s\u00a0%% intervals (%s)", s.LevelWords(),
			s.comparisonWord()),
		Axis: working.Axis{Label: "difference", Unit: s.Unit},
	}
	ends := []float64{0}
	var says []string
	for row, one := range pairs {
		label := s.data.Each[one.First].Name + " − " + s.data.Each[one.Second].Name
		f.Marks = append(f.Marks, working.Mark{
			Shape: working.Interval, Role: working.Observed, Label: label, Row: row, X: working.Positions(one.Low, one.Difference, one.High),
		})
		ends = append(ends, one.Low, one.High)
		says = append(says, fmt.Sprintf("%s: %s, from %s to %s", label, s.ShowMeasure(one.Difference), s.ShowMeasure(one.Low),
			s.ShowMeasure(one.High)))
	}
	f.Marks = append(f.Marks, working.Mark{Shape: working.RuleMark, Role: working.Expected, Label: "no difference", X: working.Positions(0)})
	f.Axis.Min, f.Axis.Max = write.Axis(ends...)
	f.Says = strings.Join(says, ". ") + "."
	return f
}

// letterBlocks marks the groups that cannot be told apart by common letters, the highest mean
// first.
func (s *severalMeans) letterBlocks(pairs []stats.ComparedMeans) []working.Block {
	means := make([]float64, len(s.moments))
	for i, m := range s.moments {
		means[i] = -m.Mean
	}
	apart := map[[2]int]bool{}
	for _, one := range pairs {
		if one.P <= s.P.Alpha {
			apart[[2]int{one.First, one.Second}], apart[[2]int{one.Second, one.First}] = true, true
		}
	}
	order := stats.Ascending(means)
	sets := stats.Letters(len(order), func(i, j int) bool { return apart[[2]int{order[i], order[j]}] })
	t := &working.Table{ID: "alike", Title: "Groups that cannot be told apart", Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "mean", Label: "mean", Unit: s.Unit, Numeric: true}, {ID: "letters", Label: "letters"},
	}}
	var rows []working.Row
	for i, at := range order {
		rows = append(rows, working.Row{working.NameCell(s.data.Each[at].Name), s.MeasureCell(s.moments[at].Mean), lettersCell(sets, i)})
	}
	t.SetRows(rows)
	s.Table(t)
	return []working.Block{working.TableBlock{Table: "alike"}, working.Note("Groups that share a letter cannot be told apart by " +
		"these comparisons. That does not show that their means are equal.")}
}

// lettersCell returns the letters of a group as a cell, each letter in a column of its own.
func lettersCell(sets [][]int, group int) working.Cell {
	const asWide = "\u2007" // as a letter
	var letters, places []string
	for j, set := range sets {
		if slices.Contains(set, group) {
			letters, places = append(letters, letterOf(j)), append(places, letterOf(j))
		} else {
			places = append(places, asWide)
		}
	}
	return working.Cell{Value: strings.Join(letters, " "), Shown: strings.TrimRight(strings.Join(places, " "), " "+asWide)}
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
	reference := s.data.Each[s.reference].Name
	t := &working.Table{ID: "effects", Title: "Each group against " + reference, Key: []string{"group"}, Columns: []working.Column{
		{ID: "group", Label: s.data.Factor}, {ID: "reference", Label: "reference", Hidden: true},
		{ID: "difference", Label: "difference", Unit: s.Unit, Numeric: true}, {ID: "se", Label: "se", Unit: s.Unit, Numeric: true},
		{ID: "t", Label: "t", Numeric: true}, {ID: "p", Label: "p", Numeric: true},
		{ID: "ci_low", Label: "from", Unit: s.Unit, Numeric: true}, {ID: "ci_high", Label: "to", Unit: s.Unit, Numeric: true},
	}}
	var rows []working.Row
	for i, g := range s.data.Each {
		if i == s.reference {
			continue
		}
		pair := s.stats.CompareMeanPair(s.moments, i, s.reference, s.equal)
		d := dist.T{DF: pair.DF}
		reach := d.UpperQuantile(s.Area()/2) * pair.SE
		rows = append(rows, working.Row{
			working.NameCell(g.Name), working.NameCell(reference), s.MeasureCell(pair.Difference), s.MeasureCell(pair.SE),
			s.StatisticCell(pair.T, working.DefaultDecimals), s.PCell(2 * d.Upper(math.Abs(pair.T))),
			s.MeasureCell(pair.Difference - reach), s.MeasureCell(pair.Difference + reach),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	return []working.Block{
		working.Say("**Effects.** The same means said in another way: **%s** has a mean of %s, and each other group lies so far above or "+
			"below it.",
			reference, s.InMeasure(s.moments[s.reference].Mean)),
		working.ControlBlock{Control: "reference"}, working.TableBlock{Table: "effects"},
		working.Note("These p-values and intervals are each for themselves, not corrected for their number: " +
			"they answer a question that was asked about one group beforehand."),
	}
}

// plan offers the power of the test: true means that typically lie so far from the mean of all.
func (s *severalMeans) plan() {
	k := len(s.moments)
	spread := math.Sqrt(s.stats.MSWithin)
	medium := 0.25 * spread // a medium effect (Cohen, 8.2)
	unit := math.Pow10(1 - int(math.Floor(math.Log10(medium))))
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{
			{
				ID: "truth", Label: "How far true means typically lie from the mean of all", Unit: s.Unit,
				Value: math.Round(medium*unit) / unit, Above: new(0.0),
			},
			write.SpreadInput("sd", "Standard deviation in all groups", s.Unit, spread),
		},
		N: s.data.Used(), Least: 2 * k,
		Truth: func(truth []float64) string {
			return "true means that typically lie " + s.InUnit(truth[0]) + " from the mean of all"
		},
		Side: func([]float64) int { return 1 },
		Basis: "Calculated by the noncentral F distribution, for normal cases with one standard deviation in all groups, at first " +
			"the pooled one. The groups keep their shares of the cases; how far the true means lie is meant as a standard " +
			"deviation.",
		Power: func(truth []float64, n int) float64 {
			df1, df2 := float64(k-1), float64(n-k)
			return stats.PowerOfF(df1, df2, float64(n)*math.Pow(truth[0]/truth[1], 2), dist.F{DF1: df1, DF2: df2}.UpperQuantile(s.P.Alpha))
		},
	})
}
