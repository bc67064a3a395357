package tables

import (
	"context"
	"fmt"
	"math"

	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/exact"
	"grund/internal/words"
	"grund/internal/working"
)

// ExactIndependence asks whether two categories are independent, by counting all tables with the
// same totals.
var ExactIndependence = describe.New(describe.Description{
	ID:         "exact-independence",
	Family:     describe.AboutCounts,
	Title:      "Two categories, exactly",
	Asks:       "Do two categories have to do with each other, however few cases there are?",
	AlsoCalled: []string{"Fisher's exact test", "Freeman–Halton test", "exact test of independence"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles:      []describe.Role{rowRole, columnRole},
	Tails:      true,
	Compared:   "the odds of the first column in the first row, beside those in the second",
}, func(o *levelOptions) []describe.Option { return append(o.fields(), withinOption(&o.within)) }, readExact,
	func(assigned describe.Assigned) (why string, ok bool) {
		return fmt.Sprintf("%s and %s are categories: all tables with the same totals are counted, which needs no large counts.",
			assigned["row"][0].Title(), words.InSentence(assigned["column"][0].Title())), fits(assigned)
	})

// exactAssociation is a problem about all tables with the same totals.
type exactAssociation struct {
	association
	counted write.ExactP
	odds    *stats.ConditionalOdds // of a 2×2 table
}

// drawnTables is what is drawn where counting all tables takes too long.
const drawnTables = "tables with these totals"

func readExact(p *problem.Problem, d *describe.Description, o *levelOptions) (describe.Task, error) {
	table, err := readCrossed(p, o)
	if err != nil {
		return nil, err
	}
	if !table.twoByTwo() {
		says := fmt.Sprintf("the table has %d rows and %d columns, and only a table of two and two has a direction", len(table.row.levels),
			len(table.column.levels))
		if err := describe.Directed(p, says).Err(); err != nil {
			return nil, err
		}
	}
	if table.used > exact.MostCases {
		return nil, problem.Errors{{
			Pointer: table.pointer(), Instead: "take the chi-square test: with so many cases its curve is as good",
			Says: "the exact test goes through all tables with the same totals, and " + words.Count(table.used, "case") + " are too many for that",
		}}
	}
	s := &exactAssociation{association: newAssociation(p, d, table, false)}
	s.Direction.Tail, s.Direction.Compared.By = p.Tail, "p"
	if table.twoByTwo() {
		s.Side = write.SideOf(s.table.Phi)
		s.direct()
	}
	return s, s.readWithin(o.within)
}

// direct adds to the hypotheses what a 2×2 table can say of a direction.
func (s *exactAssociation) direct() {
	said := []any{s.column.levels[0], s.row.levels[0], s.row.levels[1]}
	d := &s.Direction
	d.Compared = working.Compared{Of: s.row.levels, By: "odds_ratio_conditional"}
	d.Null.Less = fmt.Sprintf("“%s” is not rarer for %s than for %s", said...)
	d.Null.Greater = fmt.Sprintf("“%s” is not more frequent for %s than for %s", said...)
	d.Alternative.Less = fmt.Sprintf("“%s” is rarer for %s than for %s", said...)
	d.Alternative.Greater = fmt.Sprintf("“%s” is more frequent for %s than for %s", said...)
	d.TeX, d.Plain = write.Compared{Left: "OR", Right: "1"}, write.Compared{Left: "OR", Right: "1"}
}

// find finds the exact p-value: of all tables with the same totals or, where they are too many,
// of some of them.
func (s *exactAssociation) find(ctx context.Context) (err error) {
	if s.twoByTwo() {
		d, observed := s.firstCell(), s.counts[0][0]
		s.odds = stats.NewConditionalOdds(d, observed)
		s.counted.P = s.Direction.CountedP(d, observed, func() float64 { return stats.FisherExact(d, observed) })
		return nil
	}
	s.counted, err = write.FindExactP(ctx, fmt.Sprint("table", s.counts),
		func(ctx context.Context) (float64, bool) { return s.countedAll(ctx, exact.MostSteps) },
		func(ctx context.Context) stats.Drawn {
			return stats.DrawP(ctx, stats.DrawTable(s.table.Rows, s.table.Columns, exact.LessLikely), exact.LessLikely(s.counts),
				write.Draws(len(s.table.Rows)*len(s.table.Columns)), write.DrawSeed)
		})
	return err
}

// deciding names the p-value that decides.
func (s *exactAssociation) deciding() working.Ref {
	if s.counted.Reached() {
		return "p"
	}
	return "p_simulated"
}

// Work writes the solution.
func (s *exactAssociation) Work(ctx context.Context) (*working.Working, error) {
	if err := s.find(ctx); err != nil {
		return nil, err
	}
	test := "Freeman–Halton exact test"
	if s.twoByTwo() {
		test = "Fisher exact test"
	}
	s.begin(test)
	if s.twoByTwo() {
		s.TailControl()
	}
	s.question()
	s.count()
	s.look()
	if s.twoByTwo() {
		s.HypothesesStep(working.Say("The odds ratio, OR, is 1 where the two rows have the same shares."))
	} else {
		s.hypotheses()
	}
	s.test()
	s.conditions()
	s.statistic()
	s.Decide()
	s.NoteDrawn(s.counted)
	s.conclude()
	return s.Working, s.followUp(ctx)
}

func (s *exactAssociation) test() {
	how, extreme := "The probabilities of all tables with the same totals that are not more likely than this one, added up.",
		"a table with these totals that is not more likely than this one"
	if s.Direction.Directed() {
		how = "The probabilities of all tables with the same totals whose first cell is as extreme as this one or more, added up."
		extreme = "a table with these totals that leans as far to this side or farther"
	}
	s.Define(working.Quantity{ID: "p", Symbol: "p", Label: "Exact p-value", Says: how}, working.P, s.counted.P, nil)
	if !s.counted.Reached() {
		s.DefineDrawn(s.counted, drawnTables)
	}
	s.Define(working.Quantity{
		ID: "probability", Symbol: "P", Label: "Probability of this very table",
		Says: "Given the totals, if H₀ is true: the factorials of all totals, over those of n and of all cells.",
	}, working.P, exact.TableProbability(s.table), nil)
	s.DecideByP(s.deciding(), "probability", extreme)
	s.Define(working.Quantity{ID: "cramers_v", Symbol: "V", Label: "Strength of the association (Cramér’s V)", Says: "From 0, none, to 1."},
		working.Share, s.table.CramersV, nil)
	if s.odds != nil {
		_, area := s.Level("In the long run at least this share of such intervals holds the true odds ratio.")
		s.Parameter = "odds ratio"
		s.Define(working.Quantity{
			ID: "odds_ratio_conditional", Symbol: `\widehat{OR}`, Label: "Odds ratio",
			Says: "Of maximum likelihood given the totals: under it the observed first cell is what is expected.",
		}, working.Share, s.odds.Estimate(), nil)
		s.Ends(working.Share, write.Interval{Low: s.odds.Low(area), High: s.odds.High(area)})
	}
}

func (s *exactAssociation) conditions() {
	s.TakenAsMet("each case is counted once and tells nothing about another. The numbers cannot show this.")
	how := "every table is counted"
	if !s.counted.Reached() {
		how = "tables are drawn as if H₀ were true"
	}
	s.Condition("expected-counts", working.NotNeeded, working.Textf("Not needed: %s, and no count has to be large.", how),
		write.By("chi-square-independence", "Take the chi-square curve", "Works the same problem by chi-square, beside this one."))
	s.ConditionsStep([]string{"independence", "expected-counts"})
}

// statistic writes the steps on the table and on its p-value.
func (s *exactAssociation) statistic() {
	s.Step(working.Statistic, working.Textf("P %s@{probability}", s.Relation("probability")),
		working.Say("There is no formula for a statistic: the totals are taken as given, and every table that has them is looked at. "+
			"If H₀ is true, this very table has the probability @{probability}."),
		working.Note("The totals themselves say nothing about whether the two have to do with each other, and that is why they may be "+
			"taken as given (Fisher)."))
	var source []working.Block
	if !s.counted.Reached() {
		source = []working.Block{s.DrawnWords(drawnTables), working.Note("To count them all, join levels that belong together: " +
			"the number of tables falls fast. With large counts the chi-square curve serves as well.")}
	}
	s.PValueStep(source...)
}

func (s *exactAssociation) conclude() {
	c := write.Conclusion{Used: s.used, Warnings: []working.Block{causes()}}
	row, column := words.UpperFirst(s.row.name()), s.column.name()
	p, simulated := s.deciding(), ""
	if !s.counted.Reached() {
		simulated = ", p from " + s.Show("draws") + " simulated tables"
	}
	report := working.Textf("%s and %s (*N* = @{n}), exact test%s, *p* %s@{%s}, Cramér’s *V* = @{cramers_v}.", row, column, simulated,
		s.Relation(p), p)
	if s.odds != nil {
		c.More = working.Textf(" The estimated odds ratio is %s (%s\u00a0%% interval: %s).", s.Show("odds_ratio_conditional"), s.LevelWords(),
			s.oddsInterval())
		report = working.Textf("%s and %s (*N* = @{n}), exact test, *p* %s@{p}, %s; odds ratio @{odds_ratio_conditional}, %s\u00a0%% CI [%s].",
			row, column, s.Relation("p"), s.Direction.Tails(), s.LevelWords(), s.Reported(0, math.Inf(1)))
	}
	s.ConclusionStep(c)
	s.ReportStep(report, "The number of cases, the kind of test and p, and how large the association is.")
}

// oddsInterval writes the interval of the odds ratio, which is open to both sides where a cell is
// empty and H₁ takes the side that it speaks against.
func (s *exactAssociation) oddsInterval() string {
	return s.Between("ci_low", "ci_high", "open at both ends")
}

func (s *exactAssociation) followUp(ctx context.Context) error {
	blocks := []working.Block{s.strength()}
	if s.odds != nil {
		blocks = append(blocks, working.Say("**The odds ratio** is @{odds_ratio_conditional}, given the totals; the %s\u00a0%% interval, "+
			"from two one-sided exact tests, is %s.", s.LevelWords(), s.oddsInterval()))
		holdsOne := s.Value("ci_low") <= 1 && 1 <= s.Value("ci_high")
		if !s.Direction.Directed() && s.P.Confidence == nil && s.Rejected() == holdsOne {
			blocks = append(blocks, working.Note("Here the interval and the p-value part: p adds up all tables that are no "+
				"likelier than this one, on both sides, and the interval gives each side its own half of α. The decision goes by p."))
		}
	}
	blocks = append(blocks, s.mosaic()...)
	if s.Rejected() {
		blocks = append(blocks, s.leaning()...)
	}
	within, err := s.withinBlocks(ctx)
	if err != nil {
		return err
	}
	s.Step(working.FollowUp, working.Textf("V = @{cramers_v}"), append(blocks, within...)...)
	return nil
}
