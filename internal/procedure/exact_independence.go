package procedure

import (
	"fmt"
	"math"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/working"
)

// exactIndependence asks whether two categories are independent, by counting all tables
// with the same totals.
var exactIndependence = &Procedure{
	Description: Description{
		ID:         "exact-independence",
		Title:      "Two categories, exactly",
		Asks:       "Do two categories have to do with each other, however few cases there are?",
		AlsoCalled: []string{"Fisher's exact test", "Freeman–Halton test", "exact test of independence"},
		Takes:      []Takes{TakesVariables, TakesCounts},
		Roles:      []Role{rowRole, columnRole},
		Options:    []Option{joinOption, omitOption, orderOption},
		Tails:      true,
		Compared:   "the odds of the first column in the first row, beside those in the second",
	},
	Work: workExactIndependence,
	Fits: func(assigned map[string][]*data.Variable) (why string, ok bool) {
		return fmt.Sprintf("%s and %s are categories: all tables with the same totals are counted, which needs no large counts.", assigned["row"][0].Title(), inSentence(assigned["column"][0].Title())), fitsCrossed(assigned)
	},
}

// exactAssociation is the problem while it is worked.
type exactAssociation struct {
	association
	exact exactP
	odds  *stats.ConditionalOdds // of a 2×2 table
}

// drawnTables is what is drawn where counting all tables takes too long.
const drawnTables = "tables with these totals"

func workExactIndependence(p *problem.Problem, d *Description, options Options) (*working.Working, error) {
	table, err := readCrossed(p, options)
	if err != nil {
		return nil, err
	}
	if !table.twoByTwo() {
		says := fmt.Sprintf("the table has %d rows and %d columns, and only a table of two and two has a direction", len(table.row.levels), len(table.column.levels))
		if err := refuseDirection(p, says); err != nil {
			return nil, err
		}
	}
	if table.used > stats.MostExactCases {
		return nil, problem.Errors{{Pointer: table.pointer(), Says: "the exact test goes through all tables with the same totals, and " + count(table.used, "case") + " are too many for that", Instead: "take chi-square-independence: with so many cases its curve is as good"}}
	}
	s := &exactAssociation{association: association{crossed: table}}
	s.begin(p, d)
	if table.twoByTwo() {
		s.leans(s.table.Phi)
		s.exact = exactP{p: s.fisher()}
		s.Control(working.TailControl(p.Tail, "OR", "1", s.directedWords))
	} else {
		s.exact = s.all()
	}
	s.question()
	s.data()
	s.look()
	s.hypotheses()
	s.test()
	s.steps()
	return s.Working, nil
}

// all returns the p-value from all tables with the same totals or, where they are too many,
// from some of them.
func (s *exactAssociation) all() exactP {
	return findExactP(fmt.Sprint("table", s.counts),
		func() (float64, bool) { return s.exactP(stats.MostSteps) },
		func() stats.Drawn {
			return stats.DrawP(stats.DrawTable(s.table.Rows, s.table.Columns, stats.LessLikely), stats.LessLikely(s.counts), draws(len(s.table.Rows)*len(s.table.Columns)), drawSeed)
		})
}

// fisher returns the exact p-value of a 2×2 table.
func (s *exactAssociation) fisher() float64 {
	d, observed := s.firstCell(), s.counts[0][0]
	s.odds = stats.NewConditionalOdds(d, observed)
	switch s.p.Tail {
	case problem.Left:
		return d.Lower(observed)
	case problem.Right:
		return d.Upper(observed)
	}
	p, _ := s.exactP(0)
	return p
}

// deciding names the p-value that decides.
func (s *exactAssociation) deciding() working.Ref {
	if s.exact.reached() {
		return "p"
	}
	return "p_simulated"
}

// directedWords says what H₁ says with the given tail; only a 2×2 table has a direction.
func (s *exactAssociation) directedWords(tail problem.Tail) string {
	if !s.twoByTwo() {
		return s.alternativeWords()
	}
	if tail == problem.Both {
		return s.alternativeWords()
	}
	return rarerWords(tail, s.column.levels[0], s.row.levels[0], s.row.levels[1])
}

// directedNull says what H₀ says with the tail of the problem.
func (s *exactAssociation) directedNull() string {
	if s.p.Tail == problem.Both {
		return s.nullWords()
	}
	return notRarerWords(s.p.Tail, s.column.levels[0], s.row.levels[0], s.row.levels[1])
}

func (s *exactAssociation) hypotheses() {
	if !s.twoByTwo() {
		s.association.hypotheses()
		return
	}
	equal, other := s.signs()
	s.hypothesesStep("OR "+equal+" 1", working.HypothesesBlock{
		Null:        working.Hypothesis{Symbols: `H_0:\; OR ` + teXSign(equal) + ` 1`, Words: s.directedNull()},
		Alternative: working.Hypothesis{Symbols: `H_1:\; OR ` + teXSign(other) + ` 1`, Words: s.directedWords(s.p.Tail)},
	}, working.Say("The odds ratio, OR, is 1 where the two rows have the same shares."))
}

func (s *exactAssociation) test() {
	how := "The probabilities of all tables with the same totals that are not more likely than this one, added up."
	if s.p.Tail != problem.Both {
		how = "The probabilities of all tables with the same totals whose first cell is as extreme as this one or more, added up."
	}
	s.Define(working.Quantity{ID: "p", Symbol: "p", Label: "Exact p-value", Says: how}, working.P, s.exact.p, nil)
	if !s.exact.reached() {
		s.defineDrawn(s.exact, drawnTables)
	}
	s.Define(working.Quantity{ID: "probability", Symbol: "P", Label: "Probability of this very table", Says: "Given the totals, if H₀ is true: the factorials of all totals, over those of n and of all cells."}, working.P, stats.TableProbability(s.table), nil)
	extreme := "a table with these totals that is not more likely than this one"
	if s.p.Tail != problem.Both {
		extreme = "a table with these totals that leans as far to this side or farther"
	}
	s.DecideByP(s.deciding(), "probability", extreme)
	s.Define(working.Quantity{ID: "cramers_v", Symbol: "V", Label: "Strength of the association (Cramér’s V)", Says: "From 0, none, to 1."}, working.Ratio, s.table.CramersV, nil)
	if s.odds != nil {
		_, area := s.level("In the long run at least this share of such intervals holds the true odds ratio.")
		s.parameter = "odds ratio"
		s.Define(working.Quantity{ID: "odds_ratio_conditional", Symbol: `\widehat{OR}`, Label: "Odds ratio", Says: "Of maximum likelihood given the totals: under it the observed first cell is what is expected."}, working.Ratio, s.odds.Estimate(), nil)
		s.end("ci_low", "Lower end of the interval", `\text{lower}`, working.Ratio, s.odds.Low(area), nil)
		s.end("ci_high", "Upper end of the interval", `\text{upper}`, working.Ratio, s.odds.High(area), nil)
	}
}

func (s *exactAssociation) steps() {
	s.Condition("independence", working.Met, working.Textf("Taken as met: each case is counted once and tells nothing about another. The numbers cannot show this."))
	how := "every table is counted"
	if !s.exact.reached() {
		how = "tables are drawn as if H₀ were true"
	}
	s.Condition("expected-counts", working.NotNeeded, working.Textf("Not needed: %s, and no count has to be large.", how), by("chi-square-independence", "Take the chi-square curve", "Works the same problem by chi-square, beside this one."))
	s.Step(working.Conditions, s.conditionKey(), working.Check{Condition: "independence"}, working.Check{Condition: "expected-counts"})
	s.Step(working.Statistic, "P "+s.relation("probability")+s.Show("probability"),
		working.Say("There is no formula for a statistic: the totals are taken as given, and every table that has them is looked at. If H₀ is true, this very table has the probability @{probability}."),
		working.Note("The totals themselves say nothing about whether the two have to do with each other, and that is why they may be taken as given (Fisher).")).Opens = "probability"
	var source []working.Block
	if !s.exact.reached() {
		source = []working.Block{s.drawnWords(drawnTables), working.Note("To count them all, join levels that belong together: the number of tables falls fast. With large counts the chi-square curve serves as well.")}
	}
	s.PValueStep(source...)
	s.decide(s.directedWords(s.p.Tail), s.directedNull())
	s.noteDrawn(s.exact)
	used := count(s.used, "case")
	interval := ""
	if s.odds != nil {
		interval = fmt.Sprintf(" The estimated odds ratio is %s (%s\u00a0%% interval: %s).", s.Show("odds_ratio_conditional"), s.levelWords(), s.oddsWords())
	}
	if s.Rejected() {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) are evidence that %s.%s", used, s.directedWords(s.found()), interval),
			working.Warn("That the two have to do with each other does not say that one brings the other about."))
	} else {
		s.concludeWith(working.Textf("At α = @{alpha} the data (%s) do not show that %s. This is not evidence that %s.", used, s.directedWords(s.p.Tail), s.directedNull()))
	}
	simulated := ""
	if !s.exact.reached() {
		simulated = ", p from " + s.Show("draws") + " simulated tables"
	}
	report := working.Textf("%s and %s (*N* = @{n}), exact test%s, *p* %s@{%s}, Cramér’s *V* = @{cramers_v}.", upperFirst(inSentence(s.row.title)), inSentence(s.column.title), simulated, s.relation(s.deciding()), s.deciding())
	if s.odds != nil {
		report = working.Textf("%s and %s (*N* = @{n}), exact test, *p* %s@{p}, %s; odds ratio @{odds_ratio_conditional}, %s\u00a0%% CI [%s].",
			upperFirst(inSentence(s.row.title)), inSentence(s.column.title), s.relation("p"), s.tails(), s.levelWords(), s.reported(0, math.Inf(1)))
	}
	s.Step(working.Report, "", working.ReportLine{Text: report}, working.Note("The number of cases, the kind of test and p, and how large the association is."))
	s.Conclude(s.conclusion, report)
	blocks := []working.Block{working.Say("**How strong is it?** Cramér’s V is @{cramers_v}: %s, by the usual rule of thumb for a table of this size.", s.associationSize())}
	if s.odds != nil {
		blocks = append(blocks, working.Say("**The odds ratio** is @{odds_ratio_conditional}, given the totals; the %s\u00a0%% interval, from two one-sided exact tests, is %s.", s.levelWords(), s.oddsWords()))
		if low, high := s.Value("ci_low"), s.Value("ci_high"); s.p.Tail == problem.Both && s.p.Confidence == nil && s.Rejected() == (low <= 1 && 1 <= high) {
			blocks = append(blocks, working.Note("Here the interval and the p-value part: p adds up all tables that are no likelier than this one, on both sides, and the interval gives each side its own half of α. The decision goes by p."))
		}
	}
	blocks = append(blocks, s.mosaic()...)
	if s.Rejected() {
		blocks = append(blocks, s.leaning()...)
	}
	s.Step(working.FollowUp, "V = "+s.Show("cramers_v"), blocks...).Opens = "cramers_v"
}

// oddsWords returns the interval of the odds ratio in words.
func (s *exactAssociation) oddsWords() string {
	low, high := s.Value("ci_low"), s.Value("ci_high")
	switch {
	case math.IsInf(high, 0):
		return "at least " + s.Show("ci_low")
	case math.IsInf(low, 0):
		return "at most " + s.Show("ci_high")
	}
	return s.Show("ci_low") + " to " + s.Show("ci_high")
}
