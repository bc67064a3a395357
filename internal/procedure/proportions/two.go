package proportions

import (
	"context"
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

type twoOptions struct {
	success    *string
	continuity bool
}

// Two compares the proportions of two independent groups.
var Two = describe.New(describe.Description{
	ID:         "proportion-two",
	Family:     describe.AboutProportions,
	Title:      "Two proportions",
	Asks:       "Do two groups have the same proportion?",
	AlsoCalled: []string{"two-proportion z-test", "test for the difference of two proportions"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles:      []describe.Role{categoryResponse, cases.TwoGroupsRole},
	Tails:      true,
	Compared:   "the proportion of the first group less that of the second",
}, func(o *twoOptions) []describe.Option {
	return []describe.Option{successOption(&o.success), write.ContinuityOption(&o.continuity)}
}, readTwo, func(assigned describe.Assigned) (why string, ok bool) {
	response, factor := assigned["response"][0], assigned["group"][0]
	if cases.Used(factor) != 2 {
		return "", false
	}
	return fmt.Sprintf("%s is a category, and %s has two levels: how often one level of the first occurs is compared between them.",
		response.Title(), words.InSentence(factor.Title())), true
})

// twoProportions is a problem about two proportions.
type twoProportions struct {
	write.Estimate
	d                 *describe.Description
	first, second     share
	response, success string
	factor            string
	given             int
	continuity        stats.Continuity
	stats             stats.TwoProportions
}

func readTwo(p *problem.Problem, d *describe.Description, o *twoOptions) (describe.Task, error) {
	s := &twoProportions{d: d}
	s.P = p
	if err := s.read(o.success); err != nil {
		return nil, err
	}
	s.first.letter, s.second.letter = cases.Letters(s.first.name, s.second.name)
	s.ID, s.Parameter, s.SEID, s.Family, s.Apart = "difference", "difference", "se", write.Z, true
	s.Subject, s.Named = s.minus(), "the difference "+s.minus()
	s.Direction = s.direction()
	s.continuity = s.Direction.Continuity(o.continuity)
	s.stats = stats.CompareProportions(s.first.successes, s.first.n, s.second.successes, s.second.n, s.continuity)
	s.Observed, s.SE, s.Side = s.stats.Difference, s.stats.SE, write.SideOf(s.stats.Difference)
	return s, nil
}

// read counts the successes of both groups.
func (s *twoProportions) read(success *string) error {
	at, err := "/roles/group", error(nil)
	if c := s.P.Data.Counts; c != nil {
		at, err = "/data/counts/cells", s.readCounts(c, success)
	} else {
		err = s.readCases(success)
	}
	if err != nil {
		return err
	}
	wrong := func(says, instead string) error { return problem.Errors{{Pointer: at, Says: says, Instead: instead}} }
	const otherSuccess = "choose another success, or check the data"
	switch successes := s.first.successes + s.second.successes; {
	case s.first.n == 0 || s.second.n == 0:
		return wrong("one of the groups has no case", "give each some")
	case successes == 0:
		return wrong(fmt.Sprintf("no case is “%s”, so there is nothing to compare", words.Shorten(s.success)), otherSuccess)
	case successes == s.n():
		return wrong(fmt.Sprintf("all cases are “%s”, so there is nothing to compare", words.Shorten(s.success)), otherSuccess)
	}
	return nil
}

// n returns how many cases both groups have.
func (s *twoProportions) n() int { return s.first.n + s.second.n }

func (s *twoProportions) readCounts(c *problem.Counts, success *string) error {
	if len(c.Rows) != 2 || len(c.Columns) != 2 {
		return problem.Errors{{
			Pointer: "/data/counts", Says: "two proportions need a table of two rows and two columns",
			Instead: "give the groups as rows, the success as the first column",
		}}
	}
	if success != nil {
		return problem.Errors{{
			Pointer: "/options/success", Says: "with counts the first column is the success", Instead: "remove the option, or give the cases",
		}}
	}
	s.response, s.factor, s.success = "response", "group", c.Columns[0]
	if c.ColumnVariable != nil && c.ColumnVariable.Label != "" {
		s.response = c.ColumnVariable.Label
	}
	if c.RowVariable != nil && c.RowVariable.Label != "" {
		s.factor = c.RowVariable.Label
	}
	for i, to := range []*share{&s.first, &s.second} {
		*to = share{name: c.Rows[i], successes: int(c.Cells[i][0]), n: int(c.Cells[i][0]) + int(c.Cells[i][1])}
	}
	s.given = s.n()
	return nil
}

func (s *twoProportions) readCases(success *string) error {
	v, factor := s.P.Data.Variables.Find(s.P.Roles["response"][0]), s.P.Data.Variables.Find(s.P.Roles["group"][0])
	code, name, err := successOf(v, success)
	if err != nil {
		return err
	}
	s.response, s.factor, s.success, s.given = v.Title(), factor.Title(), name, v.Len()
	shares := make([]share, len(factor.Levels))
	for i, level := range factor.Levels {
		shares[i].name = level.Name
	}
	for _, i := range data.Complete(s.P.LeftOutCases(), v, factor) {
		shares[factor.Codes[i]].add(i+1, v.Levels[v.Codes[i]].Name, v.Codes[i] == code)
	}
	var there []share
	for _, one := range shares {
		if one.n > 0 {
			there = append(there, one)
		}
	}
	if len(there) != 2 {
		return problem.Errors{{
			Pointer: "/roles/group", Instead: "choose a group variable with two levels, or recode it",
			Says: fmt.Sprintf("“%s” has %s with usable cases, and two groups are compared", words.Shorten(s.factor),
				words.Count(len(there), "level")),
		}}
	}
	s.first, s.second = there[0], there[1]
	return nil
}

func (s *twoProportions) minus() string { return s.first.name + " − " + s.second.name }

// direction returns what the hypotheses say.
func (s *twoProportions) direction() write.Direction {
	first, second := s.first.letter, s.second.letter
	return write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.first.name, s.second.name}, By: "difference"},
		Null: write.Fill(problem.Sides[string]{
			Both: "the proportion of “%s” is the same for %s and %s", Less: "“%s” is not rarer for %s than for %s",
			Greater: "“%s” is not more frequent for %s than for %s",
		}, s.success, s.first.name, s.second.name),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "the proportion of “%s” differs between %s and %s", Less: "“%s” is rarer for %s than for %s",
			Greater: "“%s” is more frequent for %s than for %s",
		}, s.success, s.first.name, s.second.name),
		Extreme: problem.Sides[string]{
			Both: "a difference of proportions at least this far from 0, in either direction,",
			Less: "a difference of proportions as low as this one or lower", Greater: "a difference of proportions as high as this one or higher",
		},
		TeX:     write.Compared{Left: fmt.Sprintf(`\pi_{%s}-\pi_{%s}`, first, second), Right: "0"},
		Plain:   write.Compared{Left: "π_" + first, Right: "π_" + second},
		Control: write.Compared{Left: first, Right: second},
	}
}

// Work writes the solution.
func (s *twoProportions) Work(context.Context) (*working.Working, error) {
	s.Start(s.d, withCorrection("two-proportion z test", s.continuity != stats.NoCorrection), s.given, s.n())
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.ContinuityControl(s.d, s.continuity != stats.NoCorrection)
	s.Brief(working.Textf("Compare the share of **%s** between **%s** and **%s**", s.success, s.first.name, s.second.name))
	s.QuestionStep(working.Say("The question is about two proportions: how often *%s* is **%s** for **%s** and for **%s**. Throughout, "+
		"a difference is %s.",
		words.InSentence(s.response), s.success, s.first.name, s.second.name, s.minus()))
	s.count()
	s.look()
	s.DefineNull(fmt.Sprintf(`(\pi_{%s}-\pi_{%s})_0`, s.first.letter, s.second.letter), "Difference under H₀", "H₀ states that there is none.")
	s.HypothesesStep(s.TailReasons(s.BothWays("which proportion should be the larger"), "a difference "+s.minus())...)
	s.test()
	s.conditions()
	s.statistic()
	s.CriticalValueStep(s.Printed()...)
	s.PValueStep()
	s.AddTo(working.PValue, working.Say("Exactly, by all tables with the same margins (Fisher): p %s@{p_exact}.", s.Relation("p_exact")))
	s.Decide()
	s.NoteExact("p_exact")
	s.interval()
	s.conclude()
	s.followUp()
	return s.Working, nil
}

func (s *twoProportions) count() {
	shares := []share{s.first, s.second}
	if s.first.rows != nil {
		s.casesTable(shares)
	}
	for i, one := range shares {
		s.defineShare(i+1, one)
	}
	t := &working.Table{
		ID: "groups", Title: fmt.Sprintf("%s by %s", s.response, words.InSentence(s.factor)), Key: []string{"group"},
		Columns: []working.Column{
			{ID: "group", Label: s.factor}, {ID: "n", Label: "cases", Numeric: true}, {ID: "successes", Label: s.success, Numeric: true},
			{ID: "proportion", Label: "proportion", Numeric: true},
		},
	}
	var rows []working.Row
	for i, one := range shares {
		rows = append(rows, working.Row{
			working.NameCell(one.name), s.QuantityCell(write.Indexed("n", i+1)), s.QuantityCell(write.Indexed("successes", i+1)),
			s.QuantityCell(write.Indexed("proportion", i+1)),
		})
	}
	t.SetRows(rows)
	s.Table(t)
	blocks := []working.Block{working.Say("@{successes_1} of @{n_1} for **%s** and @{successes_2} of @{n_2} for **%s** are **%s**.",
		s.first.name, s.second.name, s.success)}
	blocks = append(blocks, s.LeftOutBlocks(s.given, s.n(), "with a missing value")...)
	blocks = append(blocks, working.TableBlock{Table: "groups"})
	if s.first.rows != nil {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("n = @{n_1}, @{n_2}"), blocks...)
}

// defineShare defines the size, the successes and the proportion of a group.
func (s *twoProportions) defineShare(i int, one share) {
	var nExpr, successesExpr formula.Expr
	if one.rows != nil {
		ref := "cases/" + working.EscapeRef(one.name) + "|*/success"
		s.Column(ref, one.values)
		series := s.Series(ref, "x_{i}", 0)
		nExpr, successesExpr = formula.Count{Column: series}, formula.Total{Column: series}
	}
	index := "_{" + one.letter + "}"
	s.Define(working.Quantity{
		ID: write.Indexed("n", i), Symbol: "n" + index, Label: "Cases, " + one.name, Says: "How many the group has.",
	}, working.Whole, float64(one.n), nExpr)
	s.Define(working.Quantity{
		ID: write.Indexed("successes", i), Symbol: "x" + index, Label: "Successes, " + one.name,
		Says: "How many of them are a success: each counts 1, all others 0.",
	}, working.Whole, float64(one.successes), successesExpr)
	s.Define(working.Quantity{
		ID: write.Indexed("proportion", i), Symbol: `\hat{p}` + index, Label: "Proportion, " + one.name,
		Says: "The share of successes in the group.",
	}, working.Share, one.proportion(), formula.Quotient{Over: indexed("successes", i), Under: indexed("n", i)})
}

// indexed is a quantity of a group in a formula.
func indexed(id string, i int) formula.Ref { return formula.Ref(write.Indexed(id, i)) }

func (s *twoProportions) casesTable(shares []share) {
	var rows []int
	var groups, names []string
	var values []float64
	for _, one := range shares {
		rows, names, values = append(rows, one.rows...), append(names, one.names...), append(values, one.values...)
		for range one.rows {
			groups = append(groups, one.name)
		}
	}
	s.GroupCasesTable(write.UsedTitle, rows, append([]write.CaseColumn{
		write.Named("group", s.factor, func(i int) string { return groups[i] }),
	}, successColumns(s.response, names, values)...)...)
}

func (s *twoProportions) look() {
	s.Figure(shareBars(s.response, s.success, []share{s.first, s.second}))
	s.Define(working.Quantity{
		ID: "difference", Symbol: fmt.Sprintf(`\hat{p}_{%s}-\hat{p}_{%s}`, s.first.letter, s.second.letter),
		Label: "Difference of the proportions, " + s.minus(), Says: "What the samples say about the difference of the two true proportions.",
	}, working.Share, s.stats.Difference, formula.Subtract(formula.Ref("proportion_1"), formula.Ref("proportion_2")))
	s.Step(working.Look, working.Textf("@{proportion_1}, @{proportion_2}"),
		working.FigureBlock{Figure: "look"},
		working.Say("The proportions in the samples are @{proportion_1} (%s) and @{proportion_2} (%s). "+
			"Whether they differ by more than chance would bring is what the test is for.", s.first.name, s.second.name))
}

// inverses is 1/n₁ + 1/n₂.
func inverses() formula.Sum {
	one := formula.Num(1)
	return formula.Sum{formula.Quotient{Over: one, Under: formula.Ref("n_1")}, formula.Quotient{Over: one, Under: formula.Ref("n_2")}}
}

func (s *twoProportions) test() {
	pooled := formula.Ref("pooled_proportion")
	s.Define(working.Quantity{
		ID: "pooled_proportion", Symbol: `\hat{p}`, Label: "Pooled proportion",
		Says: "If H₀ is true both groups have one common proportion, and all cases together estimate it best.",
	}, working.Share, s.stats.Pooled, formula.Quotient{
		Over: formula.Sum{formula.Ref("successes_1"), formula.Ref("successes_2")}, Under: formula.Sum{formula.Ref("n_1"), formula.Ref("n_2")},
	})
	s.Define(working.Quantity{
		ID: "se", Symbol: `s_{0}`, Label: "Standard error under H₀",
		Says: "How far the difference of two such proportions typically lies from 0, if H₀ is true.",
	}, working.Share, s.SE, formula.Root{X: formula.Product{pooled, formula.Subtract(formula.Num(1), pooled), inverses()}})
	over, square := s.FromNull(false), formula.Expr(formula.Square(formula.Ref("z")))
	if s.continuity != stats.NoCorrection {
		half := formula.Quotient{Over: inverses(), Under: formula.Num(2)}
		over = s.Correct(write.Correction{
			Continuity: s.continuity, Distance: s.Observed, Half: s.stats.Correction, Expr: over, HalfExpr: half,
			Says: "Half a case in each group, as a proportion",
		})
		square = formula.Square(formula.Quotient{
			Over: formula.NotBelow{X: formula.Subtract(formula.Abs{X: formula.Ref("difference")}, half)}, Under: formula.Ref("se"),
		})
	}
	s.Define(working.Quantity{ID: "z", Symbol: "z", Label: "Test statistic",
		Says: "How many standard errors the observed difference lies from 0."},
		working.Ratio, s.stats.Z, formula.Quotient{Over: over, Under: formula.Ref("se")})
	s.Define(working.Quantity{
		ID: "chi_square", Symbol: `\chi^{2}`, Label: "Chi-square", Says: "The statistic of the test of independence for the same table.",
	}, working.Ratio, s.stats.ChiSquare, square)
	ratio := formula.Expr(formula.Quotient{Over: formula.Ref("proportion_1"), Under: formula.Ref("proportion_2")})
	if s.second.successes == 0 {
		ratio = nil
	}
	s.Define(working.Quantity{
		ID: "ratio", Symbol: fmt.Sprintf(`\hat{p}_{%s}/\hat{p}_{%s}`, s.first.letter, s.second.letter), Label: "Ratio of the proportions",
		Says: "How many times as frequent the success is in the first group.",
	}, working.Share, s.stats.Ratio, ratio)
	s.Test(working.Test{
		Statistic: "z", Symbol: "z", Family: s.Family, Name: "z, the standard normal curve", Extreme: s.Direction.Extreme.Of(s.P.Tail),
	})
	s.resample()
	s.Define(working.Quantity{
		ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value",
		Says: "Fisher’s: from all tables with the same margins, without the normal approximation.",
	}, working.P, s.exact(), nil)
}

// tables is the distribution of the successes of the first group, given the margins.
func (s *twoProportions) tables() dist.Hypergeometric {
	return dist.Hypergeometric{Population: s.n(), Successes: s.first.successes + s.second.successes, Draws: s.first.n}
}

// exact returns the exact p-value, given the margins of the table.
func (s *twoProportions) exact() float64 {
	d := s.tables()
	return s.Direction.CountedP(d, s.first.successes, func() float64 { return stats.FisherExact(d, s.first.successes) })
}

// resample offers a simulation of z: the labels are shuffled, which deals the successes anew to
// the two groups.
func (s *twoProportions) resample() {
	successes := s.first.successes + s.second.successes
	z := func(first int) float64 {
		return stats.CompareProportions(first, s.first.n, successes-first, s.second.n, s.continuity).Z
	}
	uncorrected := stats.CompareProportions(s.first.successes, s.first.n, s.second.successes, s.second.n, stats.NoCorrection)
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true it makes no difference which case bears which label. So the labels “%s” and “%s” are "+
			"shuffled among all %d cases, the %d successes fall to the groups as they will, and z is calculated anew.",
			s.first.name, s.second.name, s.n(), successes),
		Assumes: "Shuffling keeps the number of successes as it is, as Fisher’s exact p-value does; the normal curve is an approximation.",
		Sampler: func() stats.Sampler { return stats.DrawCount(s.tables(), z) },
		At:      uncorrected.Z,
		Step:    (1/float64(s.first.n) + 1/float64(s.second.n)) / uncorrected.SE,
	})
}

func (s *twoProportions) conditions() {
	s.TakenAsMet("each case belongs to one group and tells nothing about another. The numbers cannot show this; " +
		"if the same things were asked twice, a test for pairs belongs here.")
	yes, n1, n2 := s.stats.Pooled, float64(s.first.n), float64(s.second.n)
	expectedCounts(&s.Sheet, yes*n1, (1-yes)*n1, yes*n2, (1-yes)*n2)
	s.ConditionsStep([]string{"independence", "sample-size"})
}

func (s *twoProportions) statistic() {
	blocks := []working.Block{
		working.Say("If H₀ is true there is one common proportion, so the cases of both groups are **pooled** to estimate it."),
		working.FormulaBlock{Quantity: "pooled_proportion"}, working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "z"},
	}
	same := working.Note("Squared, $z$ is the chi-square statistic of the same table: @{chi_square}.")
	if s.continuity != stats.NoCorrection {
		blocks = append(blocks, write.CorrectionSays(s.continuity, "half a case in each group"))
		if s.continuity != stats.TwoTails {
			same = working.Note("The chi-square statistic of the same table is @{chi_square}; it has no direction, " +
				"and its correction always goes toward independence.")
		}
	}
	s.Step(working.Statistic, working.Textf("z = @{z}"), append(blocks, s.Distance("z", s.continuity), same)...)
}

// interval defines the interval for the difference, with each proportion's own standard error.
func (s *twoProportions) interval() {
	outside, area := s.Level(s.LevelSays())
	zRef, z := s.Multiplier("z_{*}", outside, area)
	own := func(i int) formula.Expr {
		p := indexed("proportion", i)
		return formula.Quotient{Over: formula.Product{p, formula.Subtract(formula.Num(1), p)}, Under: indexed("n", i)}
	}
	s.Define(working.Quantity{
		ID: "se_interval", Symbol: "s", Label: "Standard error of the interval",
		Says: "Not pooled: an interval does not take H₀ for granted, so each proportion brings its own uncertainty.",
	}, working.Share, s.stats.Unpooled, formula.Root{X: formula.Sum{own(1), own(2)}})
	reach := z*s.stats.Unpooled + s.stats.Correction
	reachExpr := formula.Expr(formula.Product{zRef, formula.Ref("se_interval")})
	if s.continuity != stats.NoCorrection {
		reachExpr = formula.Sum{reachExpr, formula.Quotient{Over: inverses(), Under: formula.Num(2)}}
	}
	s.Ends(working.Share, write.Interval{
		Low: s.Observed - reach, High: s.Observed + reach,
		LowExpr: formula.Sum{formula.Ref("difference"), formula.Minus{X: reachExpr}}, HighExpr: formula.Sum{formula.Ref("difference"), reachExpr},
	})
}

func (s *twoProportions) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.n(),
		More: working.Textf(" The estimated difference, %s, is @{difference} (%s\u00a0%% interval: %s).", s.minus(), s.LevelWords(),
			s.IntervalWords()),
	})
	s.ReportStep(working.Textf("%s was found in %d of %d for %s (%s) and in %d of %d for %s (%s), *z* = @{z}, *p* %s@{p}, %s "+
		"(exact *p* %s@{p_exact}); difference @{difference}, %s\u00a0%% CI [%s].",
		words.UpperFirst(s.success), s.first.successes, s.first.n, s.first.name, percentWords(100*s.stats.First),
		s.second.successes, s.second.n, s.second.name, percentWords(100*s.stats.Second),
		s.Relation("p"), s.Direction.Tails(), s.Relation("p_exact"), s.LevelWords(), s.Reported(-1, 1)),
		"The counts first, then the statistic, both p-values, the difference and its interval.")
}

func (s *twoProportions) followUp() {
	s.IntervalFigure(nil)
	blocks := append(s.IntervalBlocks(), working.FormulaBlock{Quantity: "se_interval"})
	if s.second.successes > 0 && s.first.successes > 0 {
		blocks = append(blocks, working.Say("**As a ratio**: “%s” is %s for %s as for %s.", s.success, timesWords(s.stats.Ratio), s.first.name,
			s.second.name),
			working.FormulaBlock{Quantity: "ratio"})
	}
	s.Step(working.FollowUp, nil, blocks...)
	s.plan()
}

// plan offers the power of the test.
func (s *twoProportions) plan() {
	low, high := s.Region(dist.Normal{})
	second := math.Min(0.95, math.Max(0.05, math.Round(100*s.stats.Second)/100))
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{
			proportionInput("truth_1", "True proportion, "+s.first.name, beside(s.P.Tail, second)),
			proportionInput("truth_2", "True proportion, "+s.second.name, second),
		},
		N: s.n(), Least: 2, Stepped: true, Sizes: write.SharedWords(s.first.n, s.second.n, 1),
		Truth: func(truth []float64) string {
			return fmt.Sprintf("true proportions of %s and %s", working.FormatShortest(truth[0]), working.FormatShortest(truth[1]))
		},
		Side: func(truth []float64) int { return write.SideOf(truth[0] - truth[1]) },
		Basis: "Calculated exactly, from the binomial probabilities of all pairs of counts whose z lies in the rejection region. " +
			"Counts go in steps, and so the curve is a saw; the number of cases named is that from which it stays above. The " +
			"groups keep their shares of the cases.",
		Power: func(truth []float64, n int) float64 {
			first, second := write.Shared(n, s.first.n, s.second.n, 1)
			return stats.PowerOfProportions(first, second, truth[0], truth[1], s.continuity, low, high)
		},
	})
}
