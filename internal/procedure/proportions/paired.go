package proportions

import (
	"context"
	"fmt"

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

type pairedOptions struct{ continuity bool }

// Paired compares two proportions of the same cases by the pairs in which they differ.
var Paired = describe.New(describe.Description{
	ID:         "paired-proportions",
	Family:     describe.AboutProportions,
	Title:      "Two proportions, pairs",
	Asks:       "Did the same cases answer differently the second time?",
	AlsoCalled: []string{"McNemar's test", "test of discordant pairs", "test for correlated proportions"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles: []describe.Role{
		{
			ID: "first", Label: "First answer", Says: "the category as it was the first time",
			Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2,
		},
		{
			ID: "second", Label: "Second answer", Says: "the same cases the second time, with the same two levels",
			Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2,
		},
	},
}, func(o *pairedOptions) []describe.Option {
	return []describe.Option{write.ContinuityOption(&o.continuity)}
}, readPaired, func(assigned describe.Assigned) (why string, ok bool) {
	first, second := assigned["first"][0], assigned["second"][0]
	if cases.Used(first) != 2 || cases.Used(second) != 2 || !sameLevels(first, second) {
		return "", false
	}
	return fmt.Sprintf("If %s and %s were asked of the same cases, the pairs in which they differ are compared.",
		words.InSentence(first.Title()), words.InSentence(second.Title())), true
})

// sameLevels reports whether the levels of the second variable are among those of the first.
func sameLevels(first, second *data.Variable) bool {
	for _, level := range second.Levels {
		if first.FindLevel(level.Code) < 0 {
			return false
		}
	}
	return true
}

// pairedAnswers is a problem about two answers of the same cases.
type pairedAnswers struct {
	write.Sheet
	d                       *describe.Description
	firstTitle, secondTitle string
	levels                  [2]string
	cells                   [2][2]int
	given                   int
	rows                    []int // of the cases, from 1; nil where only counts are given
	answers                 [][2]int
	continuity              bool
	stats                   stats.DiscordantPairs
}

func readPaired(p *problem.Problem, d *describe.Description, o *pairedOptions) (describe.Task, error) {
	s := &pairedAnswers{d: d, continuity: o.continuity}
	s.P, s.Family = p, write.ChiSquare
	at := "/roles/second"
	if c := p.Data.Counts; c != nil {
		at = "/data/counts/cells"
		if err := s.readCounts(c); err != nil {
			return nil, err
		}
	} else if err := s.readCases(); err != nil {
		return nil, err
	}
	if s.changed() == 0 {
		return nil, problem.Errors{{Pointer: at, Says: "no pair differs, so there is nothing to compare", Instead: "check the data"}}
	}
	s.stats = stats.CompareDiscordant(s.cells[0][1], s.cells[1][0], s.continuity)
	s.Direction = write.Undirected(working.Compared{Of: []string{s.firstTitle, s.secondTitle}, By: "difference"},
		fmt.Sprintf("“%s” is as frequent the first time as the second", s.levels[0]),
		fmt.Sprintf("“%s” is not as frequent the first time as the second", s.levels[0]))
	return s, nil
}

// n returns the number of cases, and changed how many changed their answer.
func (s *pairedAnswers) n() int {
	return s.cells[0][0] + s.cells[0][1] + s.cells[1][0] + s.cells[1][1]
}
func (s *pairedAnswers) changed() int { return s.cells[0][1] + s.cells[1][0] }

func (s *pairedAnswers) readCounts(c *problem.Counts) error {
	if len(c.Rows) != 2 || len(c.Columns) != 2 {
		return problem.Errors{{
			Pointer: "/data/counts", Says: "pairs of answers need a table of two rows and two columns",
			Instead: "give the first answer as rows, the second as columns",
		}}
	}
	s.firstTitle, s.secondTitle = "first answer", "second answer"
	if h := c.RowVariable; h != nil && h.Label != "" {
		s.firstTitle = h.Label
	}
	if h := c.ColumnVariable; h != nil && h.Label != "" {
		s.secondTitle = h.Label
	}
	// The columns may name the same two levels in the other order.
	turned := c.Columns[0] == c.Rows[1] && c.Columns[1] == c.Rows[0]
	for i, row := range c.Cells {
		s.levels[i] = c.Rows[i]
		for j, count := range row {
			if turned {
				j = 1 - j
			}
			s.cells[i][j] = int(count)
		}
	}
	s.given = s.n()
	return nil
}

func (s *pairedAnswers) readCases() error {
	first, second := s.P.Data.Variables.Find(s.P.Roles["first"][0]), s.P.Data.Variables.Find(s.P.Roles["second"][0])
	s.firstTitle, s.secondTitle, s.given = first.Title(), second.Title(), first.Len()
	complete := data.Complete(s.P.LeftOutCases(), first, second)
	codes := s.levelsOf([]*data.Variable{first, second}, complete)
	if len(codes) != 2 {
		return problem.Errors{{
			Pointer: "/roles/second", Instead: "choose variables with the same two levels, or recode them",
			Says: fmt.Sprintf("“%s” and “%s” have %s together, and two are compared",
				words.Shorten(s.firstTitle), words.Shorten(s.secondTitle), words.Count(len(codes), "level")),
		}}
	}
	at := func(v *data.Variable, i int) int {
		if v.Levels[v.Codes[i]].Code == codes[0] {
			return 0
		}
		return 1
	}
	s.rows = []int{}
	for _, i := range complete {
		pair := [2]int{at(first, i), at(second, i)}
		s.cells[pair[0]][pair[1]]++
		s.rows, s.answers = append(s.rows, i+1), append(s.answers, pair)
	}
	return nil
}

// levelsOf returns the codes of the levels that occur in any of the variables, and keeps the
// names of the first two.
func (s *pairedAnswers) levelsOf(variables []*data.Variable, rows []int) (codes []string) {
	seen := map[string]bool{}
	for _, v := range variables {
		occurs := map[int]bool{}
		for _, i := range rows {
			occurs[v.Codes[i]] = true
		}
		for code, level := range v.Levels {
			if !occurs[code] || seen[level.Code] {
				continue
			}
			seen[level.Code] = true
			if len(codes) < 2 {
				s.levels[len(codes)] = level.Name
			}
			codes = append(codes, level.Code)
		}
	}
	return codes
}

// Work writes the solution.
func (s *pairedAnswers) Work(context.Context) (*working.Working, error) {
	first, second := words.InSentence(s.firstTitle), words.InSentence(s.secondTitle)
	s.Start(s.d, withCorrection("McNemar test of discordant pairs", s.continuity), s.given, s.n())
	s.Control(working.AlphaControl(s.P.Alpha))
	s.ContinuityControl(s.d, s.continuity)
	s.Brief(working.Textf("Compare **%s** with **%s** on the same cases", first, second))
	s.QuestionStep(working.Say("The same cases were asked twice, *%s* and *%s*. The question is whether **%s** became more or less frequent. "+
		"Cases that gave the same answer twice say nothing about that; only those that changed do.", first, second, s.levels[0]))
	s.count()
	s.look()
	s.UndirectedHypotheses("b = c", `\pi_{b} = \pi_{c}`, `\pi_{b} \ne \pi_{c}`,
		working.Say("If the share did not change, as many cases change one way as the other but for chance."))
	s.test()
	s.conditions()
	s.Step(working.Statistic, working.Textf("χ² = @{chi_square}"), working.FormulaBlock{Quantity: "chi_square"},
		working.Say("@{b} against @{c}: if H₀ is true, each is half of the changes but for chance."))
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"}}, s.PrintedChiSquare()...)...)
	s.PValueStep()
	s.AddTo(working.PValue, working.Say("Exactly, by the binomial distribution of the changes: p %s@{p_exact}.", s.Relation("p_exact")))
	s.Decide()
	s.NoteExact("p_exact")
	s.conclude()
	return s.Working, nil
}

func (s *pairedAnswers) count() {
	refs := [2][2]working.Ref{{"a", "b"}, {"c", "d"}}
	for i := range refs {
		for j, ref := range refs[i] {
			s.Define(working.Quantity{
				ID: ref, Symbol: string(ref), Label: fmt.Sprintf("%s, then %s", s.levels[i], s.levels[j]),
				Says: fmt.Sprintf("First “%s”, then “%s”.", s.levels[i], s.levels[j]),
			}, working.Whole, float64(s.cells[i][j]), nil)
		}
	}
	s.cellsTable(refs)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "That have both answers."}, working.Whole, float64(s.n()),
		formula.Sum{formula.Ref("a"), formula.Ref("b"), formula.Ref("c"), formula.Ref("d")})
	left := s.given - s.n()
	says := working.Say("%s.", words.Count(s.given, "case"))
	if left > 0 {
		says = working.Say("%s in all, of which @{n} used.", words.Count(s.given, "case"))
	}
	blocks := []working.Block{
		says, working.TableBlock{Table: "cells"},
		working.Say("@{b} changed from “%s” to “%s” and @{c} the other way.", s.levels[0], s.levels[1]),
	}
	if left > 0 {
		blocks = append(blocks, working.Say("Left out: %s.", cases.LeftOut(s.P.LeaveOut, left, "with a missing answer")))
	}
	if s.rows != nil {
		s.CasesTable(write.UsedTitle, s.rows,
			write.Named("first", s.firstTitle, func(i int) string { return s.levels[s.answers[i][0]] }),
			write.Named("second", s.secondTitle, func(i int) string { return s.levels[s.answers[i][1]] }))
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("b = @{b}, c = @{c}"), blocks...)
}

// cellsTable lists the cases by their two answers.
func (s *pairedAnswers) cellsTable(refs [2][2]working.Ref) {
	t := &working.Table{
		ID: "cells", Title: fmt.Sprintf("%s by %s", s.firstTitle, words.InSentence(s.secondTitle)), Key: []string{"first"},
		Columns: []working.Column{
			{ID: "first", Label: s.firstTitle + " ↓   " + s.secondTitle + " →"}, {ID: "second_1", Label: s.levels[0], Numeric: true},
			{ID: "second_2", Label: s.levels[1], Numeric: true},
		},
	}
	var rows []working.Row
	for i := range refs {
		row := working.Row{working.NameCell(s.levels[i])}
		for j, ref := range refs[i] {
			cell := working.WholeCell(s.cells[i][j])
			cell.Ref = ref
			row = append(row, cell)
		}
		rows = append(rows, row)
	}
	t.SetRows(rows)
	s.Table(t)
}

func (s *pairedAnswers) look() {
	first := share{name: s.firstTitle, n: s.n(), successes: s.cells[0][0] + s.cells[0][1]}
	second := share{name: s.secondTitle, n: s.n(), successes: s.cells[0][0] + s.cells[1][0]}
	for i, one := range []share{first, second} {
		other, time := []formula.Ref{"b", "c"}[i], []string{"first", "second"}[i]
		s.Define(working.Quantity{
			ID: write.Indexed("proportion", i+1), Symbol: fmt.Sprintf(`\hat{p}_{%d}`, i+1),
			Label: fmt.Sprintf("Share of “%s”, the %s time", s.levels[0], time), Says: "Of all cases.",
		}, working.Share, one.proportion(), formula.Quotient{Over: formula.Sum{formula.Ref("a"), other}, Under: formula.Ref("n")})
	}
	s.Figure(shareBars(s.levels[0], s.levels[0], []share{first, second}))
	s.Step(working.Look, working.Textf("@{proportion_1}, @{proportion_2}"), working.FigureBlock{Figure: "look"},
		working.Say("“%s” had a share of @{proportion_1} the first time and of @{proportion_2} the second. "+
			"Whether that is more than chance would bring is what the test is for.", s.levels[0]))
}

func (s *pairedAnswers) test() {
	b, c := formula.Ref("b"), formula.Ref("c")
	over := formula.Expr(formula.Subtract(b, c))
	if s.continuity {
		step, stepExpr := 1.0, formula.Expr(formula.Num(1))
		if s.cells[0][1] == s.cells[1][0] {
			step, stepExpr = 0, formula.Abs{X: over}
		}
		s.Define(working.Quantity{
			ID: "correction", Symbol: "k", Label: "Continuity correction",
			Says: "Half a case for each of the two counts, but never more than their difference.",
		}, working.Ratio, step, stepExpr)
		over = formula.Subtract(formula.Abs{X: over}, formula.Ref("correction"))
	}
	s.Define(working.Quantity{ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic", Says: "How unequal the two kinds of change are."},
		working.Ratio, s.stats.ChiSquare, formula.Quotient{Over: formula.Square(over), Under: formula.Sum{b, c}})
	s.Define(working.Quantity{
		ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "With the number of changes given, one of the two counts is free.",
	}, working.Degrees, 1, formula.Subtract(formula.Num(2), formula.Num(1)))
	s.Test(working.Test{
		Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: s.Family, UpperOnly: true,
		Name: "χ², 1 degree of freedom", Extreme: "changes at least this unequal",
	})
	n := s.changed()
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true a case that changes may as well change the other way. So a coin is tossed for each of the "+
			"%d that changed, and χ² is calculated anew.", n),
		Assumes: "Tossing is exact but for chance; the curve is an approximation of it.",
		Sampler: func() stats.Sampler {
			return stats.DrawCount(dist.Binomial{N: n, P: 0.5},
				func(b int) float64 { return stats.CompareDiscordant(b, n-b, s.continuity).ChiSquare })
		},
	})
	s.Define(working.Quantity{
		ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value",
		Says: "From the binomial distribution of the changes with probability one half.",
	}, working.P, s.stats.Exact, nil)
}

func (s *pairedAnswers) conditions() {
	s.TakenAsMet("no case tells anything about another; the two answers of one case belong together. The numbers cannot show this.")
	changed := words.Count(s.changed(), "case")
	switch n := s.changed(); {
	case n >= 20:
		s.Condition("sample-size", working.Met, working.Textf("Enough for the chi-square curve: %s changed.", changed))
	case n >= 10:
		s.Condition("sample-size", working.Doubtful, working.Textf("Few for the chi-square curve: only %s changed, and 20 are usual. "+
			"The exact p-value, @{p_exact}, stands beside.", changed))
	default:
		s.Condition("sample-size", working.NotMet, working.Textf("Too few for the chi-square curve: only %s changed, and 20 are usual. "+
			"Go by the exact p-value, @{p_exact}.", changed))
	}
	s.ConditionsStep([]string{"independence", "sample-size"})
}

func (s *pairedAnswers) conclude() {
	direction := "more"
	if s.cells[0][1] > s.cells[1][0] {
		direction = "less"
	}
	s.ConclusionStep(write.Conclusion{
		Used: s.n(), Shows: fmt.Sprintf("“%s” became %s frequent", s.levels[0], direction),
		Detail: working.Textf(": from @{proportion_1} to @{proportion_2}"), Misses: fmt.Sprintf("“%s” became more or less frequent", s.levels[0]),
	})
	s.ReportStep(working.Textf("%s changed from @{proportion_1} to @{proportion_2} (@{b} and @{c} changed one way and the other), "+
		"*χ*²(1, *N* = @{n}) = @{chi_square}, *p* %s@{p} (exact *p* %s@{p_exact}).", words.UpperFirst(s.levels[0]), s.Relation("p"),
		s.Relation("p_exact")),
		"The two shares and the changes first, then the statistic and both p-values.")
	s.Define(working.Quantity{ID: "difference", Symbol: `\hat{p}_{1}-\hat{p}_{2}`, Label: "Difference of the shares",
		Says: "First less second."},
		working.Share, float64(s.cells[0][1]-s.cells[1][0])/float64(s.n()),
		formula.Quotient{Over: formula.Subtract(formula.Ref("b"), formula.Ref("c")), Under: formula.Ref("n")})
	s.Step(working.FollowUp, working.Textf("p̂₁ − p̂₂ = @{difference}"), working.FormulaBlock{Quantity: "difference"},
		working.Warn("Do not compare the two shares as those of two groups: they belong to the same cases, "+
			"and the cases that did not change would then count as if they said something."))
}
