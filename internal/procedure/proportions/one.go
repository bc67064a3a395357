package proportions

import (
	"context"
	"fmt"

	"grund/internal/data"
	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

type oneOptions struct {
	success    *string
	proportion float64
	continuity bool
}

// categoryResponse is the category one of whose levels is counted.
var categoryResponse = describe.Role{
	ID: "response", Label: "Response", Says: "the category, one of whose levels is the success", Kinds: []data.Kind{data.Category}, Min: 1,
	Max: 1,
}

// One compares one proportion with a value, by the normal approximation and exactly.
var One = describe.New(describe.Description{
	ID:         "proportion-one",
	Family:     describe.AboutProportions,
	Title:      "One proportion",
	Asks:       "Is a proportion what it is said to be?",
	AlsoCalled: []string{"one-proportion z-test", "binomial test", "test for a proportion"},
	Takes:      []describe.Takes{describe.TakesVariables, describe.TakesCounts},
	Roles:      []describe.Role{categoryResponse},
	Tails:      true,
	Compared:   "the proportion, beside its value under H₀",
}, func(o *oneOptions) []describe.Option {
	return []describe.Option{
		successOption(&o.success),
		describe.Number(&o.proportion, 0.5, describe.Option{
			ID: "proportion", Label: "Proportion under H₀", Says: "What the proportion of successes is said to be, between 0 and 1.",
		}),
		write.ContinuityOption(&o.continuity),
	}
}, readOne, func(assigned describe.Assigned) (why string, ok bool) {
	return assigned["response"][0].Title() + " is a category: how often one of its levels occurs is compared with a share that is claimed.",
		true
})

// oneProportion is a problem about one proportion.
type oneProportion struct {
	write.Estimate
	share
	d                 *describe.Description
	response, success string // their names
	given             int
	continuity        stats.Continuity
	stats             stats.OneProportion
}

func readOne(p *problem.Problem, d *describe.Description, o *oneOptions) (describe.Task, error) {
	s := &oneProportion{d: d}
	s.P = p
	if err := s.read(o.success); err != nil {
		return nil, err
	}
	if !(o.proportion > 0 && o.proportion < 1) {
		return nil, problem.Errors{{
			Pointer: "/options/proportion", Says: "proportion is " + data.FormatNumber(o.proportion),
			Instead: "it must lie between 0 and 1, both excluded",
		}}
	}
	s.ID, s.Parameter, s.Option, s.SEID, s.Family = "proportion", "proportion", "proportion", "se", write.Z
	s.Subject = "the proportion of “" + s.success + "”"
	s.Named, s.Null, s.Least, s.Greatest = s.Subject, o.proportion, 0, 1
	s.Direction = s.direction()
	s.continuity = s.Direction.Continuity(o.continuity)
	s.Apart = s.continuity != stats.NoCorrection
	s.stats = stats.CompareProportion(s.successes, s.n, s.Null, s.continuity)
	s.Observed, s.SE, s.Side = s.stats.Proportion, s.stats.SE, write.SideOf(s.stats.Proportion-s.Null)
	return s, nil
}

// read counts the successes.
func (s *oneProportion) read(success *string) error {
	if c := s.P.Data.Counts; c != nil {
		return s.readCounts(c, success)
	}
	v := s.P.Data.Variables.Find(s.P.Roles["response"][0])
	code, name, err := successOf(v, success)
	if err != nil {
		return err
	}
	s.response, s.success, s.given = v.Title(), name, v.Len()
	for _, i := range data.Complete(s.P.LeftOutCases(), v) {
		s.add(i+1, v.Levels[v.Codes[i]].Name, v.Codes[i] == code)
	}
	if s.n == 0 {
		return problem.Errors{{Pointer: "/roles/response", Says: "no case has a value", Instead: "check the role, and the cases left out"}}
	}
	return nil
}

func (s *oneProportion) readCounts(c *problem.Counts, success *string) error {
	if len(c.Categories) != 2 {
		return problem.Errors{{
			Pointer: "/data/counts/categories", Says: fmt.Sprintf("%d categories are counted, and one proportion is tested", len(c.Categories)),
			Instead: "give two, the success first",
		}}
	}
	if success != nil {
		return problem.Errors{{
			Pointer: "/options/success", Says: "with counts the first category is the success", Instead: "remove the option, or give the cases",
		}}
	}
	s.response, s.success = "response", c.Categories[0]
	if c.Variable != nil && c.Variable.Label != "" {
		s.response = c.Variable.Label
	}
	s.successes = int(c.Observed[0])
	s.n = s.successes + int(c.Observed[1])
	s.given = s.n
	if s.n == 0 {
		return problem.Errors{{Pointer: "/data/counts/observed", Says: "nothing was counted", Instead: "give counts above 0"}}
	}
	return nil
}

// direction returns what the hypotheses say.
func (s *oneProportion) direction() write.Direction {
	d := write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.Subject, s.Hypothesised()}, By: "proportion"},
		Null: write.Fill(problem.Sides[string]{Both: "%s is %s", Less: "%s is at least %s", Greater: "%s is at most %s"}, s.Subject,
			s.Hypothesised()),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "%s differs from %s", Less: "%s is lower than %s", Greater: "%s is higher than %s",
		}, s.Subject, s.Hypothesised()),
		Extreme: problem.Sides[string]{
			Both: "a proportion at least this far from the one of H₀, in either direction,", Less: "a proportion as low as this one or lower",
			Greater: "a proportion as high as this one or higher",
		},
	}
	d.TeX, d.Plain = write.Beside(`\pi`, "π", s.Null)
	return d
}

// Work writes the solution.
func (s *oneProportion) Work(context.Context) (*working.Working, error) {
	s.Start(s.d, withCorrection("one-proportion z test", s.continuity != stats.NoCorrection), s.given, s.n)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.ContinuityControl(s.d, s.continuity != stats.NoCorrection)
	s.Brief(working.Textf("Compare the share of **%s** among **%s** with **%s**", s.success, words.InSentence(s.response), s.Hypothesised()))
	s.QuestionStep(working.Say("The question is about one proportion: how often *%s* is **%s**, compared with %s.",
		words.InSentence(s.response), s.success, s.Hypothesised()))
	s.count()
	s.look()
	s.DefineNull(`\pi_{0}`, "Proportion under H₀", "What H₀ states.")
	s.HypothesesStep(s.TailReasons(s.BothWays("on which side of %s the proportion should lie", s.Hypothesised()), "a proportion")...)
	s.test()
	s.conditions()
	s.statistic()
	s.CriticalValueStep(s.Printed()...)
	s.PValueStep()
	s.AddTo(working.PValue, working.Say("Exactly, by the binomial distribution of @{n} trials: p %s@{p_exact}.", s.Relation("p_exact")))
	s.Decide()
	s.NoteExact("p_exact")
	s.interval()
	s.conclude()
	s.followUp()
	return s.Working, nil
}

func (s *oneProportion) count() {
	var nExpr, successesExpr formula.Expr
	if s.rows != nil {
		s.CasesTable(write.UsedTitle, s.rows, successColumns(s.response, s.names, s.values)...)
		s.Column("cases/*/success", s.values)
		series := s.Series("cases/*/success", "x_{i}", 0)
		nExpr, successesExpr = formula.Count{Column: series}, formula.Total{Column: series}
	}
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: "Cases", Says: "How many there are."}, working.Whole, float64(s.n), nExpr)
	s.Define(working.Quantity{
		ID: "successes", Symbol: "x", Label: "Successes: " + s.success, Says: "How many of them are a success: each counts 1, all others 0.",
	}, working.Whole, float64(s.successes), successesExpr)
	s.Define(working.Quantity{ID: "proportion", Symbol: `\hat{p}`, Label: "Proportion", Says: "The share of successes in the sample."},
		working.Share, s.Observed, formula.Quotient{Over: formula.Ref("successes"), Under: formula.Ref("n")})
	blocks := []working.Block{working.Say("@{successes} of @{n} cases are **%s**.", s.success)}
	blocks = append(blocks, s.LeftOutBlocks(s.given, s.n, "with a missing value")...)
	blocks = append(blocks, working.FormulaBlock{Quantity: "proportion"})
	if s.rows != nil {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("@{successes} of @{n}"), blocks...)
}

func (s *oneProportion) look() {
	successes := share{name: s.success, n: s.n, successes: s.successes}
	others := share{name: "all others", n: s.n, successes: s.n - s.successes}
	s.Figure(shareBars(s.response, s.success, []share{successes, others}))
	s.Step(working.Look, working.Textf("p̂ = @{proportion}"), working.FigureBlock{Figure: "look"},
		working.Say("The proportion in the sample is @{proportion}. Whether it lies farther from %s than chance would bring is what the "+
			"test is for.",
			s.Hypothesised()))
}

func (s *oneProportion) test() {
	one, null := formula.Num(1), formula.Ref("proportion_0")
	s.Define(working.Quantity{
		ID: "se", Symbol: `\sigma_{\hat{p}}`, Label: "Standard error under H₀",
		Says: "How far the proportion of such a sample typically lies from the true one, if H₀ is true. " +
			"It comes from the proportion that H₀ states, not from the observed one.",
	}, working.Share, s.SE, formula.Root{X: formula.Quotient{Over: formula.Product{null, formula.Subtract(one, null)},
		Under: formula.Ref("n")}})
	over := s.FromNull(true)
	if s.continuity != stats.NoCorrection {
		over = s.Correct(write.Correction{
			Continuity: s.continuity, Distance: s.Observed - s.Null, Half: 1 / (2 * float64(s.n)), Expr: over,
			HalfExpr: formula.Quotient{Over: one, Under: formula.Product{formula.Num(2), formula.Ref("n")}}, Says: "Half a case, as a proportion",
		})
	}
	s.Define(working.Quantity{
		ID: "z", Symbol: "z", Label: "Test statistic", Says: "How many standard errors the observed proportion lies from the one that H₀ states.",
	}, working.Ratio, s.stats.Z, formula.Quotient{Over: over, Under: formula.Ref("se")})
	s.Test(working.Test{
		Statistic: "z", Symbol: "z", Family: s.Family, Name: "z, the standard normal curve", Extreme: s.Direction.Extreme.Of(s.P.Tail),
	})
	s.resample()
	binomial := dist.Binomial{N: s.n, P: s.Null}
	exact := s.Direction.CountedP(binomial, s.successes, func() float64 { return stats.BinomialExact(s.successes, s.n, s.Null) })
	s.Define(working.Quantity{
		ID: "p_exact", Symbol: `p_{\text{exact}}`, Label: "Exact p-value",
		Says: "From the binomial distribution itself, without the normal approximation.",
	}, working.P, exact, nil)
}

// resample offers a simulation of z: counts are drawn under H₀.
func (s *oneProportion) resample() {
	z := func(successes int) float64 { return stats.CompareProportion(successes, s.n, s.Null, s.continuity).Z }
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true each of %d cases is a success with probability %s. So as many are drawn, the successes "+
			"among them counted, and z is calculated for that count.", s.n, s.Hypothesised()),
		Assumes: "Drawing counts is exact but for chance; the normal curve is an approximation of it.",
		Sampler: func() stats.Sampler { return stats.DrawCount(dist.Binomial{N: s.n, P: s.Null}, z) },
		At:      stats.CompareProportion(s.successes, s.n, s.Null, stats.NoCorrection).Z,
		Step:    1 / (float64(s.n) * s.SE),
	})
}

// conditions judges whether the normal approximation holds.
func (s *oneProportion) conditions() {
	s.TakenAsMet(write.Alone)
	expected := float64(s.n) * s.Null
	expectedCounts(&s.Sheet, expected, float64(s.n)-expected)
	s.ConditionsStep([]string{"independence", "sample-size"})
}

func (s *oneProportion) statistic() {
	blocks := []working.Block{working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: "z"}}
	if s.continuity != stats.NoCorrection {
		blocks = append(blocks, write.CorrectionSays(s.continuity, "half a case"))
	}
	blocks = append(blocks, s.Distance("z", s.continuity),
		working.Note("The statistic is $z$: the standard error follows from the proportion of H₀, and nothing has to be estimated."))
	s.Step(working.Statistic, working.Textf("z = @{z}"), blocks...)
}

// interval defines Wilson's interval and, beside it, the exact one.
func (s *oneProportion) interval() {
	outside, area := s.Level(s.LevelSays())
	zRef, z := s.Multiplier("z_{*}", outside, area)
	low, high := stats.Wilson(s.successes, s.n, z)
	n, x, z2 := formula.Ref("n"), formula.Ref("successes"), formula.Square(zRef)
	centre := formula.Sum{x, formula.Quotient{Over: z2, Under: formula.Num(2)}}
	reach := formula.Product{zRef, formula.Root{X: formula.Sum{
		formula.Quotient{Over: formula.Product{x, formula.Subtract(n, x)}, Under: n}, formula.Quotient{Over: z2, Under: formula.Num(4)},
	}}}
	under := formula.Sum{n, z2}
	s.Ends(working.Share, write.Interval{
		Low: low, High: high,
		LowExpr:  formula.Quotient{Over: formula.Sum{centre, formula.Minus{X: reach}}, Under: under},
		HighExpr: formula.Quotient{Over: formula.Sum{centre, reach}, Under: under},
	})
	exactLow, exactHigh := stats.ClopperPearson(s.successes, s.n, area)
	s.LowerEnd("exact_low", "Lower end of the exact interval", `\text{lower}_{\text{exact}}`, working.Share, exactLow, nil)
	s.UpperEnd("exact_high", "Upper end of the exact interval", `\text{upper}_{\text{exact}}`, working.Share, exactHigh, nil)
}

func (s *oneProportion) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.n, More: working.Textf(" The estimated proportion is @{proportion} (%s\u00a0%% interval: %s).", s.LevelWords(),
			s.IntervalWords()),
	})
	s.ReportStep(working.Textf("%d of %d (%s) were %s, *z* = @{z}, *p* %s@{p}, %s (exact *p* %s@{p_exact}); %s\u00a0%% CI [%s].",
		s.successes, s.n, percentWords(100*s.Observed), s.success, s.Relation("p"), s.Direction.Tails(), s.Relation("p_exact"), s.LevelWords(),
		s.Reported(0, 1)), "The counts first, then the statistic, both p-values and the interval.")
}

func (s *oneProportion) followUp() {
	s.IntervalFigure(nil)
	s.Step(working.FollowUp, nil, append(s.IntervalBlocks(),
		working.Say("The interval is Wilson's: it holds those proportions from which the observed one lies at most @{z_interval} "+
			"standard errors. The exact one (Clopper and Pearson), %s, is a little wider: it never holds the true proportion less "+
			"often than it says.",
			s.Between("exact_low", "exact_high", "none")))...)
	low, high := s.Region(dist.Normal{})
	s.PlanBy(working.Planning{
		Inputs: []working.PowerInput{proportionInput("truth", "True proportion", beside(s.P.Tail, s.Null))},
		N:      s.n, Least: 1, Stepped: true,
		Truth: func(truth []float64) string { return "a true proportion of " + working.FormatShortest(truth[0]) },
		Side:  func(truth []float64) int { return write.SideOf(truth[0] - s.Null) },
		Basis: "Calculated exactly, from the binomial probabilities of all counts whose z lies in the rejection region. Counts go in steps, " +
			"and so the curve is a saw; the number of cases named is that from which it stays above.",
		Power: func(truth []float64, n int) float64 {
			return stats.PowerOfProportion(n, s.Null, truth[0], s.continuity, low, high)
		},
	})
}
