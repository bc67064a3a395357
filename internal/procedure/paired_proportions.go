package procedure

import (
	"fmt"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// pairedProportions compares two proportions of the same cases by the pairs in which they
// differ.
var pairedProportions = &Procedure{
	Description: Description{
		ID:         "paired-proportions",
		Title:      "Two proportions, pairs",
		Asks:       "Did the same cases answer differently the second time?",
		AlsoCalled: []string{"McNemar's test", "test of discordant pairs", "test for correlated proportions"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles: []Role{
			{ID: "first", Label: "First answer", Says: "the category as it was the first time", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2},
			{ID: "second", Label: "Second answer", Says: "the same cases the second time, with the same two levels", Kinds: []data.Kind{data.Category}, Min: 1, Max: 1, Levels: 2},
		},
		Options: []Option{continuityOption},
	},
	Work: workPairedProportions,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		first, second := assigned["first"][0], assigned["second"][0]
		if used(first) != 2 || used(second) != 2 || !sameLevels(first, second) {
			return "", false
		}
		return fmt.Sprintf("If %s and %s were asked of the same cases, the pairs in which they differ are compared.", inSentence(first.Title()), inSentence(second.Title())), true
	},
}

// sameLevels reports whether the levels that occur in the second variable occur in the
// first.
func sameLevels(first, second *data.Variable) bool {
	for _, level := range second.Levels {
		if first.FindLevel(level.Code) < 0 {
			return false
		}
	}
	return true
}

// pairedAnswers is the problem while it is worked.
type pairedAnswers struct {
	location
	firstTitle, secondTitle string
	levels                  [2]string
	cells                   [2][2]int
	given                   int
	cases                   []int // rows, from 1; nil where only counts are given
	answers                 [][2]int
	continuity              bool
	stats                   stats.DiscordantPairs
}

func workPairedProportions(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	s := &pairedAnswers{continuity: options["continuity"].(bool)}
	if err := s.read(p); err != nil {
		return nil, err
	}
	b, c := s.cells[0][1], s.cells[1][0]
	if b+c == 0 {
		at := "/data/counts/cells"
		if s.cases != nil {
			at = "/roles/second"
		}
		return nil, problem.Errors{{Pointer: at, Says: "no pair differs, so there is nothing to compare", Instead: "check the data"}}
	}
	s.stats = stats.CompareDiscordant(b, c, s.continuity)
	s.location = location{p: p, family: chiSquareFamily}
	used := s.n()
	s.Working = working.New(p, d.Title, working.Cases{Given: s.given, Used: used, LeftOut: s.given - used})
	s.Control(working.AlphaControl(p.Alpha))
	s.continuityControl(d, s.continuity)
	s.Brief(working.Textf("Compare **%s** with **%s** on the same cases", inSentence(s.firstTitle), inSentence(s.secondTitle)))
	s.question()
	s.data()
	s.test()
	s.steps()
	return s.Working, nil
}

func (s *pairedAnswers) n() int {
	return s.cells[0][0] + s.cells[0][1] + s.cells[1][0] + s.cells[1][1]
}

func (s *pairedAnswers) read(p *problem.Problem) error {
	if c := p.Data.Counts; c != nil {
		if len(c.Rows) != 2 || len(c.Columns) != 2 {
			return problem.Errors{{Pointer: "/data/counts", Says: "pairs of answers need a table of two rows and two columns", Instead: "give the first answer as rows, the second as columns"}}
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
	first, second := p.Data.Variables.Find(p.Roles["first"][0]), p.Data.Variables.Find(p.Roles["second"][0])
	s.firstTitle, s.secondTitle, s.given = first.Title(), second.Title(), first.Len()
	complete := data.Complete(p.LeftOutCases(), first, second)
	var order []string // codes of the two levels
	seen := map[string]bool{}
	for _, v := range []*data.Variable{first, second} {
		occurs := map[int]bool{}
		for _, i := range complete {
			occurs[v.Codes[i]] = true
		}
		for code, level := range v.Levels {
			if occurs[code] && !seen[level.Code] {
				seen[level.Code] = true
				if len(order) < 2 {
					s.levels[len(order)] = level.Name
				}
				order = append(order, level.Code)
			}
		}
	}
	if len(order) != 2 {
		return problem.Errors{{Pointer: "/roles/second", Says: fmt.Sprintf("“%s” and “%s” have %s together, and two are compared", problem.Shorten(s.firstTitle), problem.Shorten(s.secondTitle), count(len(order), "level")), Instead: "choose variables with the same two levels, or recode them"}}
	}
	at := func(v *data.Variable, i int) int {
		if v.Levels[v.Codes[i]].Code == order[0] {
			return 0
		}
		return 1
	}
	s.cases = []int{}
	for _, i := range complete {
		pair := [2]int{at(first, i), at(second, i)}
		s.cells[pair[0]][pair[1]]++
		s.cases, s.answers = append(s.cases, i+1), append(s.answers, pair)
	}
	return nil
}

func (s *pairedAnswers) alternativeWords() string {
	return fmt.Sprintf("“%s” is not as frequent the first time as the second", s.levels[0])
}

func (s *pairedAnswers) nullWords() string {
	return fmt.Sprintf("“%s” is as frequent the first time as the second", s.levels[0])
}

func (s *pairedAnswers) question() {
	s.DefineAlpha()
	blocks := append(s.claimBlocks(), working.Say("The same cases were asked twice, *%s* and *%s*. The question is whether **%s** became more or less frequent. Cases that gave the same answer twice say nothing about that; only those that changed do.", inSentence(s.firstTitle), inSentence(s.secondTitle), s.levels[0]))
	s.Step(working.Question, "α = "+s.Show("alpha"), append(blocks, alphaBlocks()...)...).Opens = "alpha"
}

func (s *pairedAnswers) data() {
	for _, q := range []struct {
		id, symbol string
		from, to   int
	}{{"a", "a", 0, 0}, {"b", "b", 0, 1}, {"c", "c", 1, 0}, {"d", "d", 1, 1}} {
		says := fmt.Sprintf("First “%s”, then “%s”.", s.levels[q.from], s.levels[q.to])
		label := fmt.Sprintf("%s, then %s", s.levels[q.from], s.levels[q.to])
		s.Define(working.Quantity{ID: working.Ref(q.id), Symbol: q.symbol, Label: label, Says: says}, working.Whole, float64(s.cells[q.from][q.to]), nil)
	}
	t := &working.Table{ID: "cells", Title: fmt.Sprintf("%s by %s", s.firstTitle, inSentence(s.secondTitle)), Key: []string{"first"}, Columns: []working.Column{
		{ID: "first", Label: s.firstTitle + " ↓   " + s.secondTitle + " →"}, {ID: "second_1", Label: s.levels[0], Numeric: true}, {ID: "second_2", Label: s.levels[1], Numeric: true}}}
	var rows []working.Row
	for i, refs := range [][2]working.Ref{{"a", "b"}, {"c", "d"}} {
		row := working.Row{nameCell(s.levels[i])}
		for j, ref := range refs {
			cell := wholeCell(s.cells[i][j])
			cell.Ref = ref
			row = append(row, cell)
		}
		rows = append(rows, row)
	}
	t.SetRows(rows)
	s.Table(t)
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "That have both answers."}, working.Whole, float64(s.n()), formula.Sum{formula.Ref("a"), formula.Ref("b"), formula.Ref("c"), formula.Ref("d")})
	says := working.Say("%s.", upperFirst(count(s.given, "case")))
	if s.given > s.n() {
		says = working.Say("%s in all, of which @{n} used.", upperFirst(count(s.given, "case")))
	}
	blocks := []working.Block{says, working.TableBlock{Table: "cells"},
		working.Say("@{b} changed from “%s” to “%s” and @{c} the other way.", s.levels[0], s.levels[1])}
	if left := s.given - s.n(); left > 0 {
		blocks = append(blocks, working.Say("Left out: %s.", leftOutWords(s.p.LeaveOut, left, "with a missing answer")))
	}
	if s.cases != nil {
		s.Table(s.casesTable())
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, fmt.Sprintf("b = %s, c = %s", s.Show("b"), s.Show("c")), blocks...)

	first := share{name: "first", n: s.n(), successes: s.cells[0][0] + s.cells[0][1]}
	second := share{name: "second", n: s.n(), successes: s.cells[0][0] + s.cells[1][0]}
	for i, one := range []share{first, second} {
		other := []formula.Ref{"b", "c"}[i]
		s.Define(working.Quantity{ID: working.Ref(indexed("proportion", i+1)), Symbol: fmt.Sprintf(`\hat{p}_{%d}`, i+1), Label: fmt.Sprintf("Share of “%s”, the %s time", s.levels[0], one.name), Says: "Of all cases."},
			working.Ratio, float64(one.successes)/float64(one.n), formula.Quotient{Over: formula.Sum{formula.Ref("a"), other}, Under: formula.Ref("n")})
	}
	first.name, second.name = s.firstTitle, s.secondTitle
	s.Figure(shareBars(s.levels[0], s.levels[0], []share{first, second}))
	s.Step(working.Look, fmt.Sprintf("%s, %s", s.Show("proportion_1"), s.Show("proportion_2")), working.FigureBlock{Figure: "look"},
		working.Say("“%s” had a share of @{proportion_1} the first time and of @{proportion_2} the second. Whether that is more than chance would bring is what the test is for.", s.levels[0]))
	s.hypothesesStep("b = c", working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; \pi_{b} = \pi_{c}`, Words: s.nullWords()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; \pi_{b} \ne \pi_{c}`, Words: s.alternativeWords()},
	}, working.Say("If the share did not change, as many cases change one way as the other but for chance."))
}

func (s *pairedAnswers) casesTable() *working.Table {
	t := &working.Table{ID: "cases", Title: "The cases used", Key: []string{"case"}, Total: len(s.cases), Columns: []working.Column{
		{ID: "case", Label: "case", Numeric: true}, {ID: "first", Label: s.firstTitle}, {ID: "second", Label: s.secondTitle}}}
	t.Row = func(i int) working.Row {
		return working.Row{wholeCell(s.cases[i]), nameCell(s.levels[s.answers[i][0]]), nameCell(s.levels[s.answers[i][1]])}
	}
	return t
}

func (s *pairedAnswers) test() {
	b, c := formula.Ref("b"), formula.Ref("c")
	over := formula.Expr(formula.Subtract(b, c))
	if s.continuity {
		step, stepExpr := 1.0, formula.Expr(formula.Num(1))
		if s.cells[0][1] == s.cells[1][0] {
			step, stepExpr = 0, formula.Abs{X: over}
		}
		s.Define(working.Quantity{ID: "correction", Symbol: "k", Label: "Continuity correction", Says: "Half a case for each of the two counts, but never more than their difference."}, working.Ratio, step, stepExpr)
		over = formula.Subtract(formula.Abs{X: over}, formula.Ref("correction"))
	}
	s.Define(working.Quantity{ID: "chi_square", Symbol: `\chi^{2}`, Label: "Test statistic", Says: "How unequal the two kinds of change are."}, working.Ratio, s.stats.ChiSquare,
		formula.Quotient{Over: formula.Square(over), Under: formula.Sum{b, c}})
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "With the number of changes given, one of the two counts is free."}, working.Degrees, 1, formula.Subtract(formula.Num(2), formula.Num(1)))
	s.Test(working.Test{Statistic: "chi_square", Symbol: "χ²", Degrees: []working.Ref{"df"}, Family: chiSquareFamily, UpperOnly: true,
		Name: "χ², 1 degree of freedom", Extreme: "changes at least this unequal"})
	n := s.cells[0][1] + s.cells[1][0]
	s.ResampleBy(working.Resampling{
		How:     fmt.Sprintf("If H₀ is true a case that changes may as well change the other way. So a coin is tossed for each of the %d that changed, and χ² is calculated anew.", n),
		Assumes: "Tossing is exact but for chance; the curve is an approximation of it.",
		Sampler: func() stats.Sampler {
			return stats.DrawCount(dist.Binomial{N: n, P: 0.5}, func(b int) float64 { return stats.CompareDiscordant(b, n-b, s.continuity).ChiSquare })
		},
	})
	s.Define(working.Quantity{ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value", Says: "From the binomial distribution of the changes with probability one half."}, working.P, s.stats.Exact, nil)
}

func (s *pairedAnswers) steps() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: no case tells anything about another; the two answers of one case belong together. The numbers cannot show this."))
	switch n := s.cells[0][1] + s.cells[1][0]; {
	case n >= 20:
		s.Condition("sample-size", working.Met, working.Textf("Enough for the chi-square curve: %s changed.", count(n, "case")))
	case n >= 10:
		s.Condition("sample-size", working.Doubtful, working.Textf("Few for the chi-square curve: only %s changed, and 20 are usual. The exact p-value, @{p_exact}, stands beside.", count(n, "case")))
	default:
		s.Condition("sample-size", working.NotMet, working.Textf("Too few for the chi-square curve: only %s changed, and 20 are usual. Go by the exact p-value, @{p_exact}.", count(n, "case")))
	}
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "sample-size"})
	s.Step(working.Statistic, "χ² = "+s.Show("chi_square"), working.FormulaBlock{Quantity: "chi_square"},
		working.Say("@{b} against @{c}: if H₀ is true, each is half of the changes but for chance.")).Opens = "chi_square"
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"}}, s.printedChiSquare()...)...)
	s.PValueStep()
	s.AddTo(working.PValue, working.Say("Exactly, by the binomial distribution of the changes: p %s@{p_exact}.", s.relation("p_exact")))
	s.decide(s.alternativeWords(), s.nullWords())
	s.noteExact("p_exact")
	used := count(s.n(), "case")
	direction := "more"
	if s.cells[0][1] > s.cells[1][0] {
		direction = "less"
	}
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that “%s” became %s frequent: from @{proportion_1} to @{proportion_2}.", used, s.levels[0], direction))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that “%s” became more or less frequent. This is not evidence that %s.", used, s.levels[0], s.nullWords()))
	}
	report := working.Textf("%s changed from @{proportion_1} to @{proportion_2} (@{b} and @{c} changed one way and the other), *χ*²(1, *N* = @{n}) = @{chi_square}, *p* %s@{p} (exact *p* %s@{p_exact}).", upperFirst(s.levels[0]), s.relation("p"), s.relation("p_exact"))
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The two shares and the changes first, then the statistic and both p-values."))
	s.Conclude(s.conclusion, report)
	s.Define(working.Quantity{ID: "difference", Symbol: `\hat{p}_{1}-\hat{p}_{2}`, Label: "Difference of the shares", Says: "First less second."}, working.Ratio,
		float64(s.cells[0][1]-s.cells[1][0])/float64(s.n()), formula.Quotient{Over: formula.Subtract(formula.Ref("b"), formula.Ref("c")), Under: formula.Ref("n")})
	s.Step(working.FollowUp, "p̂₁ − p̂₂ = "+s.Show("difference"), working.FormulaBlock{Quantity: "difference"},
		working.Warn("Do not compare the two shares as those of two groups: they belong to the same cases, and the cases that did not change would then count as if they said something.")).Opens = "difference"
}
