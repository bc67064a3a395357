package ranks

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

type signedRankOptions struct {
	median     float64
	continuity bool
}

// SignedRank compares pairs, or one sample with a median, by signed ranks.
var SignedRank = describe.New(describe.Description{
	ID:         "signed-rank",
	Family:     describe.AboutRanks,
	Title:      "Pairs by ranks",
	Asks:       "Do differences tend to one side, whatever their shape?",
	AlsoCalled: []string{"Wilcoxon signed-rank test", "Wilcoxon matched-pairs test"},
	Takes:      []describe.Takes{describe.TakesVariables},
	Roles: []describe.Role{optional(cases.FirstRole), optional(cases.SecondRole), {
		ID: "response", Label: "Response", Says: "in place of a pair: the variable whose median is tested", Kinds: []data.Kind{data.Number},
		Max: 1,
	}},
	Tails:    true,
	Compared: "the middle of first − second, or of the response",
}, func(o *signedRankOptions) []describe.Option {
	return []describe.Option{describe.Number(&o.median, 0, describe.Option{
		ID: "median", Label: "Median under H₀",
		Says: "What the median of the response is said to be; with pairs the differences are compared with 0.",
	}), write.ContinuityOption(&o.continuity)}
}, readSignedRank, func(assigned describe.Assigned) (why string, ok bool) {
	first, second := assigned["first"], assigned["second"]
	if len(first) == 0 || len(second) == 0 || first[0].Unit != second[0].Unit {
		return "", false
	}
	return fmt.Sprintf("If %s and %s were measured on the same cases, their differences are ranked, whatever their shape.",
		words.InSentence(first[0].Title()), words.InSentence(second[0].Title())), true
})

// optional returns a role that need not be played.
func optional(role describe.Role) describe.Role {
	role.Min = 0
	return role
}

// signedRank is a problem about pairs, or one sample, by ranks.
type signedRank struct {
	ranked
	d           *describe.Description
	sample      *cases.Sample
	one         string    // a case: "case", "pair"
	median      float64   // under H₀
	differences []float64 // from it, without those that are 0
	places      []int     // theirs among the values of the sample
	zeros       int
	stats       stats.SignedRank
	decimals    int
}

func readSignedRank(p *problem.Problem, d *describe.Description, o *signedRankOptions) (describe.Task, error) {
	s := &signedRank{d: d, median: o.median, one: "case"}
	s.P, s.Parameter, s.subject = p, "shift", "the location"
	var err error
	if s.sample, err = s.read(); err != nil {
		return nil, err
	}
	s.Unit = s.sample.Response.Unit
	if pair := s.sample.Pair; pair != nil {
		s.one, s.subject = "pair", "the shift "+pair.Minus()
	}
	if err := s.subtract(); err != nil {
		return nil, err
	}
	s.decimals = data.MostDecimals(s.differences)
	s.Direction = s.direction()
	s.continuity = s.Direction.Continuity(o.continuity)
	s.stats = stats.CompareSigned(s.differences, s.continuity)
	s.statistic, s.symbol, s.observed, s.mean, s.sd, s.z = "w_plus", "W", s.stats.WPlus, s.stats.Mean, s.stats.SD, s.stats.Z
	s.outcome, s.foundBy, s.Side = "choice of signs", "for the number of differences that are not 0", write.SideOf(s.observed-s.mean)
	return s, nil
}

// read returns the pairs or the response.
func (s *signedRank) read() (*cases.Sample, error) {
	const instead = "give “first” and “second”, or “response” alone"
	first, second := len(s.P.Roles["first"]) > 0, len(s.P.Roles["second"]) > 0
	switch single := len(s.P.Roles["response"]) > 0; {
	case single && (first || second):
		return nil, problem.Errors{{Pointer: "/roles/response", Says: "both a pair and a response are given", Instead: instead}}
	case single:
		return cases.ReadSample(s.P, false)
	case !first:
		return nil, problem.Errors{{Pointer: "/roles/first", Says: "signed ranks need a pair of measurements, or a response", Instead: instead}}
	case !second:
		return nil, problem.Errors{{Pointer: "/roles/second", Says: "signed ranks need a pair of measurements, or a response", Instead: instead}}
	case s.median != 0:
		return nil, problem.Errors{{
			Pointer: "/options/median", Says: "with pairs the differences are compared with 0",
			Instead: "remove the option, or give the differences as the response",
		}}
	}
	return cases.ReadPairs(s.P)
}

// subtract takes the differences from the median under H₀, without those that are 0.
func (s *signedRank) subtract() error {
	at, pair := "/roles/response", s.sample.Pair
	for i, value := range s.sample.Values {
		difference := stats.DecimalDifference(value, s.median)
		if pair != nil {
			at, difference = "/roles/first", stats.DecimalDifference(pair.Firsts[i], pair.Seconds[i])
		}
		if math.Abs(difference) > math.MaxFloat64/4 { // sums of two of them are taken
			return cases.TooFarApart()
		}
		if difference == 0 {
			s.zeros++
			continue
		}
		s.differences, s.places = append(s.differences, difference), append(s.places, i)
	}
	if len(s.differences) == 0 {
		return problem.Errors{{Pointer: at, Says: "all differences are 0, so there is nothing to rank", Instead: "check the data"}}
	}
	return nil
}

// response names the response inside a sentence.
func (s *signedRank) response() string { return words.InSentence(s.sample.Response.Label) }

// zero is what the differences are taken from, as it stands in sentences.
func (s *signedRank) zero() string { return s.InUnit(s.median) }

// direction returns what the hypotheses say.
func (s *signedRank) direction() write.Direction {
	d := write.Direction{
		Tail: s.P.Tail, Compared: working.Compared{Of: []string{s.response(), s.zero()}, By: "w_plus"},
		Null: write.Fill(problem.Sides[string]{
			Both: "the middle of %s lies at %s", Less: "the middle of %s does not lie below %s", Greater: "the middle of %s does not lie above %s",
		}, s.response(), s.zero()),
		Alternative: write.Fill(problem.Sides[string]{
			Both: "the middle of %s lies elsewhere than at %s", Less: "the middle of %s lies below %s", Greater: "the middle of %s lies above %s",
		}, s.response(), s.zero()),
		Extreme: problem.Sides[string]{
			Both: "a sum of positive ranks at least this far from its mean, to either side,",
			Less: "a sum of positive ranks as small as this one or smaller", Greater: "a sum of positive ranks as large as this one or larger",
		},
	}
	d.TeX, d.Plain = write.Beside(`\theta`, "θ", s.median)
	if pair := s.sample.Pair; pair != nil {
		first, second := words.InSentence(pair.First.Label), words.InSentence(pair.Second.Label)
		d.Compared.Of = []string{first, second}
		d.Null = write.Fill(problem.Sides[string]{
			Both: "the differences between %s and %s lie evenly about 0", Less: "%s does not tend to be lower than %s",
			Greater: "%s does not tend to be higher than %s",
		}, first, second)
		d.Alternative = write.Fill(problem.Sides[string]{
			Both: "%s tends to be higher or lower than %s", Less: "%s tends to be lower than %s", Greater: "%s tends to be higher than %s",
		}, first, second)
	}
	return d
}

// Work writes the solution.
func (s *signedRank) Work(context.Context) (*working.Working, error) {
	s.exact = dist.NewSignedRank(s.stats.Ranks)
	located := make([]float64, len(s.differences))
	for i, x := range s.differences {
		located[i] = x
		if s.sample.Pair == nil {
			located[i] = s.sample.Values[s.places[i]]
		}
	}
	s.pairs = stats.NewPairAverages(located)
	s.shift = stats.MedianOfPairs(s.pairs)
	s.Start(s.d, "Wilcoxon signed-rank test", s.sample.Given, s.sample.Used())
	s.SetDecimals(s.decimals + 2)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.ContinuityControl(s.d, s.continuity != stats.NoCorrection)
	s.question()
	s.rank()
	s.look()
	s.hypotheses()
	s.compare()
	s.conditions()
	s.Step(working.Statistic, working.Textf("W = @{w_plus}"), working.FormulaBlock{Quantity: "w_plus"},
		working.Say("If H₀ is true every rank is as likely to be positive as negative, and the sum is @{mean_rank} on average."),
		working.FormulaBlock{Quantity: "z"})
	s.steps(s.PrintedW(len(s.differences)))
	s.interval("The median of the averages of all pairs of values, each with itself too (Hodges and Lehmann).")
	s.conclude()
	s.followUp()
	return s.Working, nil
}

func (s *signedRank) question() {
	if pair := s.sample.Pair; pair != nil {
		s.Brief(working.Textf("Compare **%s** with **%s** on the same cases, by ranks", words.InSentence(pair.First.Label),
			words.InSentence(pair.Second.Label)))
		s.QuestionStep(working.Say("Each case was measured twice. The question is whether the differences, %s, tend to one side: "+
			"their sizes are ranked, and the ranks of the positive ones are added up.", pair.Minus()))
		return
	}
	s.Brief(working.Textf("Compare the location of **%s** with **%s**, by ranks", s.response(), s.zero()))
	s.QuestionStep(working.Say("The question is whether *%s* lies on both sides of %s alike. Each case is turned into its "+
		"difference from it; the sizes are ranked, and the ranks of those above are added up.", s.response(), s.zero()))
}

// rank writes the ranked list and its sum.
func (s *signedRank) rank() {
	rows, plus := make([]int, len(s.differences)), make([]float64, len(s.differences))
	for i, x := range s.differences {
		rows[i] = s.sample.Rows[s.places[i]]
		if x > 0 {
			plus[i] = s.stats.Ranks[i]
		}
	}
	s.CasesTable("The differences and their ranks", rows,
		write.Entered("difference", data.Heading{Label: "difference", Unit: s.Unit}, s.differences, s.decimals),
		rankColumn("rank", "rank of its size", func(i int) float64 { return s.stats.Ranks[i] }),
		rankColumn("plus", "rank if positive", func(i int) float64 { return plus[i] }))
	s.Column("cases/*/plus", plus)
	series := s.Series("cases/*/plus", "r_{i}^{+}", 1)
	s.Define(working.Quantity{
		ID: "n", Symbol: "n", Label: "Differences that are not 0", Says: "A difference of 0 speaks for neither side and is dropped.",
	}, working.Whole, float64(len(s.differences)), formula.Count{Column: series})
	s.Define(working.Quantity{ID: "zeros", Symbol: "n_{0}", Label: "Differences of 0", Says: "Dropped before the ranks are given."},
		working.Whole, float64(s.zeros), nil)
	s.Define(working.Quantity{ID: "w_plus", Symbol: "w", Label: "Test statistic", Says: "The sum of the ranks of the positive differences."},
		working.Given, s.stats.WPlus, formula.Total{Column: series})
	blocks := []working.Block{s.Counted(write.Counted{
		One: s.one, Given: s.sample.Given, Used: s.sample.Used(), Others: "with a missing value",
	})}
	if s.zeros > 0 {
		blocks = append(blocks, working.Say("%s of 0 are dropped before ranking.", words.Count(s.zeros, "difference")))
	}
	s.Step(working.Data, working.Textf("n = @{n}"), append(blocks, working.TableBlock{Table: "cases"})...)
}

func (s *signedRank) look() {
	label := s.sample.Response.Label
	f := &working.Figure{ID: "look", Form: working.Boxes, Title: label, Axis: working.Axis{Label: label, Unit: s.Unit}}
	f.Marks = append(write.BoxMarks(0, s.sample.Spread, s.sample.Moments.Mean),
		working.Mark{Shape: working.RuleMark, Role: working.Expected, Label: "H₀", X: working.Positions(s.median)})
	f.Axis.Min, f.Axis.Max = write.Axis(s.sample.Five.Min, s.sample.Five.Max, s.median)
	above, below := 0, 0
	for _, x := range s.differences {
		if x > 0 {
			above++
		} else {
			below++
		}
	}
	f.Says = fmt.Sprintf("%d above %s, %d below.", above, s.zero(), below)
	s.Figure(f)
	s.Step(working.Look, working.Textf("%d +, %d −", above, below), working.FigureBlock{Figure: "look"},
		working.Say("%d lie above %s and %d below. Whether those on one side are more, and larger, than chance would bring is what the "+
			"test is for.",
			above, s.zero(), below))
}

func (s *signedRank) hypotheses() {
	s.HypothesesStep(problem.Sides[working.Block]{
		Both:    s.BothWays("to which side they should tend"),
		Less:    working.Say("H₁ says “lower”: only a small sum of positive ranks speaks for it, so the test has **one tail, the left**."),
		Greater: working.Say("H₁ says “higher”: only a large sum of positive ranks speaks for it, so the test has **one tail, the right**."),
	}.Of(s.P.Tail), working.Note("%s is the middle about which they lie evenly: their median, and where they are even also their mean.", "θ"))
}

// compare makes the test.
func (s *signedRank) compare() {
	n := formula.Ref("n")
	oneMore := formula.Sum{n, formula.Num(1)}
	var sdExpr formula.Expr
	if !s.stats.Tied {
		sdExpr = formula.Root{X: formula.Quotient{
			Over: formula.Product{n, oneMore, formula.Sum{formula.Product{formula.Num(2), n}, formula.Num(1)}}, Under: formula.Num(24),
		}}
	}
	s.approximation(formula.Quotient{Over: formula.Product{n, oneMore}, Under: formula.Num(4)}, sdExpr)
	s.test()
	s.resample(working.Resampling{
		How: fmt.Sprintf("If H₀ is true each difference is as likely to lie on one side as on the other. So a coin is tossed for "+
			"each of the %d ranks, and W is the sum of those that fall on heads.", len(s.stats.Ranks)),
		Assumes: "The exact p-value counts every such choice of signs; this draws some of them.",
		Sampler: func() stats.Sampler {
			return stats.FlipSigns(s.stats.Ranks, func(ranks []float64) float64 {
				w := 0.0
				for _, r := range ranks {
					w += math.Max(r, 0)
				}
				return s.scaled(w)
			})
		},
	})
}

func (s *signedRank) conditions() {
	s.TakenAsMet(write.Alone)
	s.evenness()
	s.ConditionsStep([]string{"independence", "symmetry"})
}

// evenness judges whether the differences lie evenly about their middle, which the ranks take
// for granted however many there are: a skewness of 0.5 at least, and more than twice its
// standard error in normal samples, is taken as uneven (R. A. Fisher, Statistical Methods for
// Research Workers, 4th ed., appendix to chapter III).
func (s *signedRank) evenness() {
	n := float64(len(s.differences))
	skewness := stats.NewMoments(s.differences).Skewness(s.differences)
	shown := working.FormatNumber(skewness, 2)
	chance := 2 * math.Sqrt(6*n*(n-1)/((n-2)*(n+1)*(n+3)))
	ways := s.byMeans()
	switch {
	case n < stats.MinNormality:
		s.Condition("symmetry", working.Doubtful, working.Textf("%s cannot show whether they would lie evenly about their middle, "+
			"as signed ranks take for granted.", words.Count(len(s.differences), "difference")), ways...)
	case math.Abs(skewness) >= 0.5 && math.Abs(skewness) > chance:
		s.Condition("symmetry", working.Doubtful, working.Textf("The differences are skewed (%s; chance alone seldom brings more than ±%s): "+
			"signed ranks take for granted that they lie evenly about their middle.", shown, working.FormatNumber(chance, 2)), ways...)
	default:
		s.Condition("symmetry", working.Met, working.Textf("The differences lie evenly enough about their middle (skewness %s). "+
			"They need not be normal.", shown), ways...)
	}
}

// byMeans is the way back to the mean, where it can be tested.
func (s *signedRank) byMeans() []working.Action {
	const says = "Works the same problem with the mean, beside this one."
	switch {
	case s.sample.Used() < 2 || s.sample.Five.Min == s.sample.Five.Max:
		return nil
	case s.sample.Pair != nil:
		return []working.Action{write.By("t-paired", "Compare the means", says)}
	case s.median == 0:
		return []working.Action{write.By("t-one-sample", "Test the mean", says)}
	}
	return []working.Action{write.By("t-one-sample", "Test the mean", says, problem.Set{Pointer: "/options/mean", Value: s.median})}
}

func (s *signedRank) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.sample.Used(), One: s.one,
		More: working.Textf(" The estimate of %s is @{shift} (%s\u00a0%% interval: %s).", s.subject, s.LevelWords(), s.IntervalWords()),
	})
	p, how := s.deciding()
	s.ReportStep(working.Textf("%s was compared with %s by signed ranks (*n* = @{n}), *W* = @{w_plus}, *p* %s@{%s}, %s, %s; "+
		"estimate @{shift}, %s\u00a0%% CI [%s].",
		s.sample.Response.Label, s.zero(), s.Relation(p), p, how, s.Direction.Tails(), s.LevelWords(),
		s.Reported(math.Inf(-1), math.Inf(1))), "The number of differences first, then W, p and how it was found, and the estimate with "+
		"its interval.")
}

func (s *signedRank) followUp() {
	s.shiftFigure(s.median)
	s.Step(working.FollowUp, working.Textf("θ̂ = @{shift}"), working.FigureBlock{Figure: "interval"},
		working.Say("**The location**: the median of the averages of all %d pairs is @{shift}; the %s\u00a0%% interval, "+
			"found among the same averages in their order, is %s.", s.pairs.Count(), s.LevelWords(), s.IntervalWords()))
}
