package means

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

// oneMean is a problem about one mean: of a response, by z or t, or of the differences within
// pairs.
type oneMean struct {
	write.Estimate
	d        *describe.Description
	sample   *cases.Sample
	of       subject
	known    bool // whether the population's standard deviation is
	sigma    float64
	stats    stats.OneMean
	decimals int // with which the values were entered
}

// newOneMean returns the problem for a sample. null is what H₀ states, set by option; sigma the
// population's standard deviation, NaN where it is not known.
func newOneMean(p *problem.Problem, d *describe.Description, sample *cases.Sample, null, sigma float64, option string) (*oneMean, error) {
	s := &oneMean{d: d, sample: sample, known: !math.IsNaN(sigma), sigma: sigma, stats: stats.CompareMean(sample.Moments, null, sigma)}
	if t := s.stats.Statistic; math.IsInf(t, 0) || math.IsNaN(t) {
		return nil, cases.TooFarApart()
	}
	s.P = p
	s.Null, s.Observed, s.SE, s.SEID, s.Option = null, sample.Moments.Mean, s.stats.SE, "se", option
	s.Unit, s.Side, s.Family = sample.Response.Unit, write.SideOf(s.stats.Statistic), write.T
	if s.known {
		s.Family = write.Z
	}
	s.decimals = data.MostDecimals(sample.Values)
	s.of = ofValues(sample, s.Hypothesised())
	if pair := sample.Pair; pair != nil {
		s.decimals = max(data.MostDecimals(pair.Firsts), data.MostDecimals(pair.Seconds))
		s.of = ofPairs(sample, null, s.Hypothesised())
	}
	s.ID, s.Parameter, s.Subject, s.Named = s.of.mean, s.of.parameter, s.of.named, s.of.named
	s.Direction = s.of.direction(p.Tail, null, s.Hypothesised())
	return s, nil
}

// Work writes the solution.
func (s *oneMean) Work(context.Context) (*working.Working, error) {
	s.Start(s.d, s.testName(), s.sample.Given, s.sample.Used())
	s.SetScale(s.SE)
	s.Control(working.AlphaControl(s.P.Alpha))
	s.TailControl()
	s.Brief(s.of.brief)
	s.QuestionStep(s.of.asks)
	s.measure()
	s.look()
	s.hypotheses()
	s.test()
	s.conditions()
	s.statistic()
	s.CriticalValueStep(s.degrees()...)
	s.PValueStep()
	s.Decide()
	s.conclude()
	s.followUp()
	return s.Working, nil
}

// testName is what textbooks call the test.
func (s *oneMean) testName() string {
	switch {
	case s.known:
		return "one-sample z test"
	case s.sample.Pair != nil:
		return "paired t test"
	}
	return "one-sample t test"
}

// statisticID is z or t.
func (s *oneMean) statisticID() working.Ref { return working.Ref(s.Family.Symbol) }

// series is the column of the values as it stands in formulas.
func (s *oneMean) series() formula.Column {
	return s.Series("cases/*/"+s.of.column, s.of.value, s.decimals)
}

// measure defines the size, mean and spread of the sample, and writes the step on the data.
func (s *oneMean) measure() {
	n := formula.Ref("n")
	var nExpr, meanExpr, sdExpr formula.Expr
	if !s.sample.Summary {
		s.casesTable()
		s.Column("cases/*/"+s.of.column, s.sample.Values)
		nExpr = formula.Count{Column: s.series()}
		meanExpr = formula.Quotient{Over: formula.Total{Column: s.series()}, Under: n}
		sdExpr = formula.Root{X: formula.Quotient{
			Over:  formula.Deviations{Column: s.series(), Centre: formula.Ref(s.ID), Power: 2},
			Under: formula.Subtract(n, formula.Num(1)),
		}}
	}
	measured, saysMean, saysSD := working.Measure, s.of.saysMean, s.of.saysSD
	if s.sample.Summary && !s.AsksDecimals() {
		measured, saysMean, saysSD = working.Given, "Given in the problem.", "Given in the problem."
	}
	shown := []working.Ref{"n", s.ID}
	s.Define(working.Quantity{ID: "n", Symbol: "n", Label: s.of.noun, Says: "How many there are."}, working.Whole, float64(s.sample.Used()),
		nExpr)
	s.Define(working.Quantity{
		ID: s.ID, Symbol: s.of.bar, Label: words.UpperFirst(s.Parameter), Unit: s.Unit, Says: saysMean,
	}, measured, s.Observed, meanExpr)
	if !math.IsNaN(s.sample.Moments.SD) {
		shown = append(shown, s.of.sd)
		s.Define(working.Quantity{
			ID: s.of.sd, Symbol: s.of.spread, Label: "Standard deviation", Unit: s.Unit, Says: saysSD,
		}, measured, s.sample.Moments.SD, sdExpr)
	}
	if s.known {
		shown = append(shown, "sigma")
		s.Define(working.Quantity{
			ID: "sigma", Symbol: `\sigma`, Label: "Standard deviation of the population", Unit: s.Unit,
			Says: "Given in the problem: it is known, not estimated from the sample.",
		}, working.Given, s.sigma, nil)
	}
	blocks := []working.Block{
		s.Counted(write.Counted{One: s.of.one, Given: s.sample.Given, Used: s.sample.Used(), UsedRef: "n", Others: "with a missing value"}),
		working.Values{Quantities: shown},
	}
	if s.sample.Pair != nil {
		s.measurementsTable()
		blocks = append(blocks, working.TableBlock{Table: "measurements"})
	}
	if s.sample.Summary {
		blocks = append(blocks, working.Note("Only the summary is given, so nothing can be said about single cases or about their shape."))
	} else {
		blocks = append(blocks, working.TableBlock{Table: "cases"})
	}
	s.Step(working.Data, working.Textf("n = @{n}"), blocks...)
}

func (s *oneMean) casesTable() {
	values := write.Entered(s.of.column, s.sample.Response, s.sample.Values, s.decimals)
	if pair := s.sample.Pair; pair != nil {
		values.Label = "difference"
		s.CasesTable(write.UsedTitle, s.sample.Rows, write.Entered("first", pair.First, pair.Firsts, s.decimals),
			write.Entered("second", pair.Second, pair.Seconds, s.decimals), values)
		return
	}
	s.CasesTable(write.UsedTitle, s.sample.Rows, values)
}

// measurementsTable sums up both measurements of the pairs, and their difference, which is tested.
func (s *oneMean) measurementsTable() {
	pair := s.sample.Pair
	t := &working.Table{ID: "measurements", Title: "The two measurements and their difference", Key: []string{"measurement"},
		Columns: []working.Column{
			{ID: "measurement", Label: "measurement"}, {ID: "n", Label: "n", Numeric: true},
			{ID: "mean", Label: "mean", Unit: s.Unit, Numeric: true},
			{ID: "sd", Label: "sd", Unit: s.Unit, Numeric: true}, {ID: "median", Label: "median", Unit: s.Unit, Numeric: true},
		}}
	row := func(id, name string, values []float64) working.Row {
		m := stats.NewMoments(values)
		return working.Row{
			{Value: id, Shown: name}, working.WholeCell(m.N), s.MeasureCell(m.Mean), s.MeasureCell(m.SD),
			s.EstimateCell(stats.NewFiveNumbers(stats.Sorted(values)).Median, s.decimals+1),
		}
	}
	difference := row("difference", "difference", s.sample.Values)
	difference[1], difference[2], difference[3] = s.QuantityCell("n"), s.QuantityCell(s.ID), s.QuantityCell(s.of.sd)
	t.SetRows([]working.Row{row("first", pair.First.Label, pair.Firsts), row("second", pair.Second.Label, pair.Seconds), difference})
	s.Table(t)
}

func (s *oneMean) look() {
	f := &working.Figure{
		ID: "look", Form: working.Boxes, Title: s.sample.Response.Label, Axis: working.Axis{Label: s.sample.Response.Label, Unit: s.Unit},
	}
	reading := "Each dot is a case. The box holds the middle half, the thick line is the median, the ring the mean; " +
		"the whiskers end at the last case within one and a half box lengths. A quartile is the median of its half."
	if s.sample.Summary {
		sd := s.sample.Moments.SD
		if math.IsNaN(sd) {
			sd = s.sigma
		}
		low, high := s.Observed-sd, s.Observed+sd
		f.Form = working.Intervals
		f.Marks = []working.Mark{{
			Shape: working.Interval, Role: working.Observed, X: working.Positions(low, s.Observed, high), Refs: []working.Ref{s.ID},
		}}
		f.Axis.Min, f.Axis.Max = write.Axis(low, high)
		f.Says = fmt.Sprintf("Mean %s, one standard deviation to either side.", s.WithUnit(s.ID))
		reading = "The dot is the mean, the bar reaches one standard deviation to either side."
	} else {
		five := s.sample.Five
		f.Marks = write.BoxMarks(0, s.sample.Spread, s.Observed, s.ID)
		f.Axis.Min, f.Axis.Max = write.Axis(five.Min, five.Max)
		number := func(x float64) string { return working.FormatNumber(x, s.decimals+1) }
		f.Says = fmt.Sprintf("From %s to %s, middle half %s to %s, median %s.",
			number(five.Min), number(five.Max), number(five.Q1), number(five.Q3), number(five.Median))
	}
	s.Figure(f)
	s.Step(working.Look, working.Textf("@{%s}%s", s.ID, words.WithUnit("", s.Unit)), s.views(reading),
		working.Say("%s @{%s}. Whether it lies farther from %s than chance would bring is what the test is for.", s.of.observed, s.ID,
			s.Hypothesised()))
}

// views are the ways to look at the values; reading says how the first is read.
func (s *oneMean) views(reading string) working.FigureBlock {
	first := working.View{Figure: "look", Label: "Boxes", Says: reading}
	if s.sample.Summary {
		first.Label = "Mean ± sd"
	}
	b := working.FigureBlock{Figure: "look", Views: []working.View{first}}
	if histogram := write.HistogramFigure("histogram", s.sample.Response, &s.sample.Spread); histogram != nil {
		s.Figure(histogram)
		b.Views = append(b.Views, working.View{Figure: "histogram", Label: "Histogram", Says: "Each bar is the number of cases in its class; " +
			"a case on a boundary belongs to the class above it."})
	}
	return b
}

func (s *oneMean) hypotheses() {
	s.DefineNull(s.of.null, words.UpperFirst(s.Parameter)+" under H₀", "What H₀ states.")
	both := s.BothWays("on which side of %s the %s should lie", s.Hypothesised(), s.Parameter)
	s.HypothesesStep(s.TailReasons(both, "a "+s.Parameter)...)
}

// test defines the standard error, the statistic and everything that follows from it.
func (s *oneMean) test() {
	sd, symbol := s.of.sdRef(), s.of.se
	if s.known {
		sd, symbol = "sigma", `\sigma_{\bar{x}}`
	}
	s.Define(working.Quantity{
		ID: "se", Symbol: symbol, Label: "Standard error of the " + s.Parameter, Unit: s.Unit,
		Says: "How far the mean of such a sample typically lies from the mean of the population.",
	}, working.Measure, s.SE, formula.Quotient{Over: sd, Under: formula.Root{X: formula.Ref("n")}})
	id := s.statisticID()
	test := working.Test{
		Statistic: id, Symbol: string(id), Family: s.Family, Name: "z, the standard normal curve", Extreme: s.Direction.Extreme.Of(s.P.Tail),
	}
	if !s.known {
		s.Define(working.Quantity{
			ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Every case gives one, and the mean that was estimated takes one away.",
		}, working.Degrees, s.stats.DF, formula.Subtract(formula.Ref("n"), formula.Num(1)))
		test.Degrees, test.Name = []working.Ref{"df"}, "t, "+s.DegreesWords("df")
	}
	s.Define(working.Quantity{
		ID: id, Symbol: string(id), Label: "Test statistic",
		Says: fmt.Sprintf("How many standard errors the observed %s lies from what H₀ states.", s.Parameter),
	}, working.Ratio, s.stats.Statistic, formula.Quotient{Over: s.FromNull(s.of.alwaysTakesOff), Under: formula.Ref("se")})
	s.Test(test)
	s.resample()
}

func (s *oneMean) statistic() {
	id := s.statisticID()
	why := working.Note("It is $t$ and not $z$, because the standard deviation was estimated from the sample; " +
		"$z$ belongs where the population's is known.")
	if s.known {
		why = working.Note("It is $z$ and not $t$, because the standard deviation of the population is known; " +
			"$t$ belongs where it is estimated from the sample.")
	}
	s.Step(working.Statistic, working.Textf("%s = @{%s}", id, id), working.FormulaBlock{Quantity: "se"}, working.FormulaBlock{Quantity: id},
		s.Distance(id, stats.NoCorrection), why)
}

func (s *oneMean) degrees() []working.Block {
	if s.known {
		return s.Printed()
	}
	return append([]working.Block{
		working.FormulaBlock{Quantity: "df"},
		working.Say("Degrees of freedom: one for each of @{n} %ss, less one for the mean that was estimated.", s.of.one),
	}, s.Printed()...)
}

func (s *oneMean) conclude() {
	s.Interval()
	if s.sample.Moments.SD > 0 {
		s.Define(working.Quantity{
			ID: "cohen_d", Symbol: "d", Label: "Distance from H₀ in standard deviations (Cohen’s d)",
			Says: "A size that does not depend on the unit or on the number of cases.",
		}, working.Share, s.stats.CohenD, formula.Quotient{Over: s.FromNull(s.of.alwaysTakesOff), Under: s.of.sdRef()})
	}
	s.ConclusionStep(write.Conclusion{
		Used: s.sample.Used(), One: s.of.one,
		More:     working.Textf(" The estimated %s is @{%s} (%s\u00a0%% interval: %s).", s.Subject, s.ID, s.LevelWords(), s.IntervalWords()),
		Warnings: []working.Block{s.Important("a "+s.Parameter, s.sample.Response.Label)},
	})
	s.ReportStep(s.report(), "Mean and standard deviation first, then the statistic, p and the interval.")
}

func (s *oneMean) report() working.Text {
	was := "was not"
	if s.Rejected() {
		was = "was"
	}
	var spread working.Text
	if s.Has(s.of.sd) {
		spread = working.Textf(", *SD* = @{%s}", s.of.sd)
	}
	statistic := working.Textf("*z* = @{z}")
	if !s.known {
		statistic = working.Textf("*t*(@{df}) = @{t}")
	}
	return working.Join(s.measurementsReport(),
		working.Textf("%s (*M* = @{%s}", words.UpperFirst(s.Subject), s.ID), spread,
		working.Textf(", *n* = @{n}) %s significantly %s %s, ", was, s.Direction.Than(), s.Hypothesised()), statistic,
		working.Textf(", *p* %s@{p}, %s; %s\u00a0%% CI [%s].", s.Relation("p"), s.Direction.Tails(), s.LevelWords(),
			s.Reported(math.Inf(-1), math.Inf(1))))
}

// measurementsReport says of pairs what both measurements were.
func (s *oneMean) measurementsReport() working.Text {
	pair := s.sample.Pair
	if pair == nil {
		return nil
	}
	first, second := stats.NewMoments(pair.Firsts), stats.NewMoments(pair.Seconds)
	return working.Textf("%s *M* = %s, *SD* = %s; %s *M* = %s, *SD* = %s. ",
		words.UpperFirst(pair.First.Label), s.InMeasure(first.Mean), s.InMeasure(first.SD),
		words.InSentence(pair.Second.Label), s.InMeasure(second.Mean), s.InMeasure(second.SD))
}

func (s *oneMean) followUp() {
	var more []working.Mark
	var ends []float64
	if !s.sample.Summary {
		more = []working.Mark{{
			Shape: working.Points, Role: working.Observed, X: working.Positions(s.sample.Values...), Case: s.sample.Rows,
		}}
		ends = []float64{s.sample.Five.Min, s.sample.Five.Max}
	}
	s.IntervalFigure(more, ends...)
	blocks := s.IntervalBlocks()
	if !s.sample.Summary {
		blocks = append(blocks, working.Note("The dots are the cases. The interval is about their mean, not about where single cases lie: "+
			"with more cases it shrinks, and they do not."))
	}
	var result working.Text
	if s.Has("cohen_d") {
		result = working.Textf("d = @{cohen_d}")
		blocks = append(blocks,
			working.Say("**How large is it?** The %s lies @{cohen_d} standard deviations from what H₀ states: "+
				"%s by the usual rule of thumb (0.2 small, 0.5 medium, 0.8 large).", s.Parameter, write.SizeWords(s.stats.CohenD)),
			working.FormulaBlock{Quantity: "cohen_d"})
	}
	s.Step(working.FollowUp, result, blocks...)
	s.plan()
}

// plan offers the power of the test.
func (s *oneMean) plan() {
	spread, label := s.sample.Moments.SD, s.of.spreadLabel
	if s.known {
		spread, label = s.sigma, "Standard deviation, σ"
	}
	plan := working.Planning{
		Inputs: []working.PowerInput{
			{ID: "truth", Label: "True " + s.Parameter, Unit: s.Unit, Value: s.Stated(spread)}, write.SpreadInput("sd", label, s.Unit, spread),
		},
		N: s.sample.Used(), Least: 2,
		Truth: func(truth []float64) string { return fmt.Sprintf("a true %s of %s", s.Parameter, s.InUnit(truth[0])) },
		Side:  func(truth []float64) int { return write.SideOf(truth[0] - s.Null) },
		Basis: "Calculated by the noncentral t distribution, for normal cases with the standard deviation that is stated; " +
			"at first that of the sample.",
		Power: func(truth []float64, n int) float64 {
			df := float64(n - 1)
			low, high := s.Region(dist.T{DF: df})
			return stats.PowerOfT(df, (truth[0]-s.Null)/truth[1]*math.Sqrt(float64(n)), low, high)
		},
	}
	if s.known {
		plan.Least = 1
		plan.Basis = "Calculated by the normal distribution, with the standard deviation that is known."
		plan.Power = func(truth []float64, n int) float64 {
			low, high := s.Region(dist.Normal{})
			return stats.PowerOfZ((truth[0]-s.Null)/truth[1]*math.Sqrt(float64(n)), low, high)
		}
	}
	s.PlanBy(plan)
}
