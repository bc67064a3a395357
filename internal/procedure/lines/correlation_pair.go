package lines

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/words"
	"grund/internal/working"
)

// correlatedPair is a problem about the correlation of two variables, which has a test.
type correlatedPair struct {
	*correlated
	stats stats.Correlation
}

// work writes the steps from the hypotheses on.
func (s *correlatedPair) work() {
	s.Side = write.SideOf(s.stats.R)
	s.hypotheses()
	s.sums()
	s.Define(working.Quantity{ID: "df", Symbol: `\nu`, Label: "Degrees of freedom", Says: "Two less than there are cases."},
		working.Degrees, s.stats.DF, formula.Subtract(formula.Ref("n"), formula.Num(2)))
	if s.stats.Perfect {
		s.perfect()
		return
	}
	s.test()
	s.conditions()
	s.Step(working.Statistic, working.Textf("t = @{t}"), append(s.sumBlocks(), working.FormulaBlock{Quantity: "t"},
		working.Note("r itself has a lopsided curve that depends on n; t has one that printed tables show."))...)
	s.CriticalValueStep(append([]working.Block{working.FormulaBlock{Quantity: "df"}}, s.Printed()...)...)
	s.PValueStep()
	s.Decide()
	s.interval()
	s.conclude()
	s.followUp()
}

func (s *correlatedPair) hypotheses() {
	s.HypothesesStep(append([]working.Block{working.Say("ρ is the correlation that all cases of the population would give.")},
		s.TailReasonsAbout(s.BothWays("whether the two should rise together or against each other"), "a correlation", "0")...)...)
}

// sampled returns what is correlated: the values, or their ranks.
func (s *correlatedPair) sampled() (first, second []float64) {
	first, second = s.columns[0], s.columns[1]
	if s.ranks() {
		first, _ = stats.Midranks(first)
		second, _ = stats.Midranks(second)
	}
	return first, second
}

// sums defines r and what it is made of.
func (s *correlatedPair) sums() {
	first, second := s.sampled()
	x, y, of := "x", "y", "values"
	if s.ranks() {
		x, y, of = "R", "S", "ranks"
	}
	line := stats.FitLine(first, second)
	n := len(first)
	products, squaresX, squaresY := make([]float64, n), make([]float64, n), make([]float64, n)
	for i := range first {
		dx, dy := first[i]-line.MeanX, second[i]-line.MeanY
		products[i], squaresX[i], squaresY[i] = dx*dy, dx*dx, dy*dy
	}
	define := func(id working.Ref, symbol, label string, value float64, column string, cells []float64, each string) {
		s.Column(column, cells)
		s.Define(working.Quantity{ID: id, Symbol: symbol, Label: label, Says: "About the means of the " + of + "."},
			working.Ratio, value, formula.Total{Column: s.Calculated(column, each, 3)})
	}
	distance := func(v string) string { return fmt.Sprintf(`(%s_{i}-\bar{%s})`, v, v) }
	define("ss_1", `S_{11}`, "Sum of squares of "+s.name(0), line.SXX, "cases/*/squares_1", squaresX, distance(x)+"^{2}")
	define("ss_2", `S_{22}`, "Sum of squares of "+s.name(1), line.SYY, "cases/*/squares_2", squaresY, distance(y)+"^{2}")
	define("ss_12", `S_{12}`, "Sum of products", line.SXY, "cases/*/products", products, distance(x)+distance(y))
	s.Define(working.Quantity{ID: "r", Symbol: "r", Label: "Correlation", Says: "From −1, all on a falling line, to 1, all on a rising one."},
		working.Share, s.stats.R, formula.Quotient{
			Over: formula.Ref("ss_12"), Under: formula.Root{X: formula.Product{formula.Ref("ss_1"), formula.Ref("ss_2")}},
		})
}

func (s *correlatedPair) sumBlocks() []working.Block {
	says := working.Say("Cases that lie on the same side of both means add to the sum of products, others take from it; " +
		"the two sums of squares bring it onto a scale from −1 to 1:")
	if s.ranks() {
		says = working.Say("Each value is replaced by its rank among all, equal ones sharing the mean of theirs; the ranks are correlated " +
			"like values:")
	}
	return []working.Block{
		says, working.FormulaBlock{Quantity: "ss_12"}, working.FormulaBlock{Quantity: "ss_1"}, working.FormulaBlock{Quantity: "ss_2"},
		working.FormulaBlock{Quantity: "r"},
	}
}

func (s *correlatedPair) test() {
	r := formula.Ref("r")
	s.Define(working.Quantity{
		ID: "t", Symbol: "t", Label: "Test statistic", Says: "How far the correlation lies from 0, measured by what chance would do.",
	}, working.Ratio, s.stats.T, formula.Product{r, formula.Root{X: formula.Quotient{
		Over: formula.Ref("df"), Under: formula.Subtract(formula.Num(1), formula.Square(r)),
	}}})
	s.Test(working.Test{
		Statistic: "t", Symbol: "t", Degrees: []working.Ref{"df"}, Family: s.Family, Name: "t, " + s.DegreesWords("df"),
		Extreme: s.Direction.Extreme.Of(s.P.Tail),
	})
	first, second := s.sampled()
	s.ResampleBy(working.Resampling{
		How: fmt.Sprintf("If H₀ is true, any %s may as well go with any %s. So the values of the one are shuffled among the %d cases, "+
			"and t is calculated anew.", s.name(1), s.name(0), s.stats.N),
		Assumes: "Shuffling needs no normal shape.",
		Sampler: func() stats.Sampler {
			return stats.ShuffleLabels(second, []int{s.stats.N}, func(groups [][]float64) float64 { return stats.Correlate(first, groups[0]).T })
		},
	})
}

func (s *correlatedPair) conditions() {
	s.TakenAsMet("each case tells nothing about another. The numbers cannot show this.")
	if s.ranks() {
		s.Condition("straightness", working.NotNeeded, working.Textf("Not needed: of ranks, any rise or fall counts, straight or not."),
			write.Setting("method", "pearson", "values", "Correlate the values and compare",
				"Works the same problem with the values themselves, beside this one."))
	} else {
		names, ways := s.farOut()
		ways = append(ways, write.Setting("method", "spearman", "ranks", "Correlate the ranks and compare",
			"Works the same problem with ranks, beside this one."))
		if names != nil {
			s.Condition("straightness", working.Doubtful, working.Textf("Lies far out: %s. Such a case can make a correlation, or hide one; "+
				"look first whether it was typed rightly.", strings.Join(names, ", ")), ways...)
		} else {
			s.Condition("straightness", working.Met, working.Textf("No value lies far out. That the cases follow a straight band is for the eye: "+
				"look at the picture."), ways...)
		}
	}
	s.ConditionsStep([]string{"independence", "straightness"})
}

// farOut names the cases with a value beyond three box lengths, with ways to see the correlation
// without them.
func (s *correlatedPair) farOut() (names []string, ways []working.Action) {
	const most = 4
	for i, column := range s.columns {
		low, high := stats.NewFiveNumbers(stats.Sorted(column)).Fences(3)
		for k, x := range column {
			if x >= low && x <= high || len(names) == most {
				continue
			}
			names = append(names, fmt.Sprintf("case %d (%s %s)", s.rows[k], s.name(i), shortest(x, s.variables[i].Unit)))
			ways = append(ways, write.Without(s.rows[k], fmt.Sprintf("leave-out-%d-%d", s.rows[k], i+1),
				"Correlates without this case, beside this correlation. The case is not deleted.", "lies far out"))
		}
	}
	return names, ways
}

// interval defines the interval of the correlation, by Fisher's transformation.
func (s *correlatedPair) interval() {
	outside, area := s.Level(s.LevelSays())
	low, high := s.stats.Interval(area)
	if math.IsNaN(low) {
		s.LowerEnd("ci_low", "Lower end of the interval", `\text{lower}`, working.Share, low, nil)
		s.UpperEnd("ci_high", "Upper end of the interval", `\text{upper}`, working.Share, low, nil)
		return
	}
	times := dist.Normal{}.UpperQuantile(area)
	s.Define(working.Quantity{
		ID: "z_interval", Symbol: "z^{*}", Label: "Multiplier of the interval", Says: "How many standard errors it reaches, on Fisher’s scale.",
	}, working.Ratio, times, formula.Quantile{Of: write.Z, Area: outside})
	s.Define(working.Quantity{
		ID: "fisher_z", Symbol: "z_{r}", Label: "Fisher’s z of the correlation",
		Says: "On this scale a correlation has a nearly normal curve of one width.",
	}, working.Ratio, math.Atanh(s.stats.R), formula.Artanh{X: formula.Ref("r")})
	s.Define(working.Quantity{ID: "reach", Symbol: "d", Label: "Reach on Fisher’s scale", Says: "The multiplier over the root of n − 3."},
		working.Ratio, times/math.Sqrt(float64(s.stats.N-3)),
		formula.Quotient{Over: formula.Ref("z_interval"), Under: formula.Root{X: formula.Subtract(formula.Ref("n"), formula.Num(3))}})
	z, reach := formula.Ref("fisher_z"), formula.Ref("reach")
	s.Ends(working.Share, write.Interval{
		Low: low, High: high, LowExpr: formula.Tanh{X: formula.Subtract(z, reach)}, HighExpr: formula.Tanh{X: formula.Sum{z, reach}},
	})
}

func (s *correlatedPair) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.stats.N, More: working.Textf(" The correlation is @{r} (%s\u00a0%% interval: %s).", s.LevelWords(), s.IntervalWords()),
		NotEvidence: "that they have nothing to do with each other: a bend would not show in r",
		Warnings:    []working.Block{working.Warn("A correlation does not say that one brings the other about: a third thing may move both.")},
	})
	symbol := "r"
	if s.ranks() {
		symbol = "rₛ"
	}
	s.ReportStep(working.Textf("%s and %s: *%s*(@{df}) = @{r}, *p* %s@{p}, %s, %s\u00a0%% CI [%s].", words.UpperFirst(s.name(0)), s.name(1),
		symbol,
		s.Relation("p"), s.Direction.Tails(), s.LevelWords(), s.Reported(-1, 1)), "r with its degrees of freedom, p and the interval.")
}

func (s *correlatedPair) followUp() {
	s.Define(working.Quantity{
		ID: "r_squared", Symbol: "r^{2}", Label: "Share in common", Says: "Which share of the variation of the one goes with the other.",
	}, working.Share, s.stats.R*s.stats.R, formula.Square(formula.Ref("r")))
	blocks := append([]working.Block{
		working.Say("**How close is it?** r = @{r}: %s, by the usual rule of thumb (0.1 small, 0.3 medium, 0.5 large). Its square, "+
			"@{r_squared}, is the share of variation that the two have in common.", correlationWords(s.stats.R)),
		working.Say("The %s\u00a0%% interval for the correlation is %s, by Fisher’s transformation, an approximation.", s.LevelWords(),
			s.IntervalWords()),
	}, s.EndFormulas()...)
	s.pairsTable()
	s.Step(working.FollowUp, working.Textf("r = @{r}"), append(blocks, working.TableBlock{Table: "pairs"})...)
}

// perfect writes what can be said where all cases lie on a line.
func (s *correlatedPair) perfect() {
	for _, id := range []working.Ref{"t", "p", "ci_low", "ci_high"} {
		s.Define(working.Quantity{ID: id, Symbol: string(id[:1]), Label: "None", Says: "There is none where all cases lie on a line."},
			working.Ratio, math.NaN(), nil)
	}
	s.Note(working.Statistic, "All cases lie on a line: there is nothing to measure the correlation by, so there is no test.")
	s.Step(working.Statistic, working.Textf("r = @{r}"), append(s.sumBlocks(), working.Warn("All cases lie on a line. "+
		"That is seldom so with things that were measured: look whether one was calculated from the other."))...)
	s.ConcludeOtherwise("no test", working.Textf("All %d cases lie on a line: the correlation is @{r}. "+
		"Without any distance from it there is nothing to test.", s.stats.N))
	s.ReportStep(working.Textf("%s and %s: *r* = @{r}, *N* = @{n}, all cases on a line.", words.UpperFirst(s.name(0)), s.name(1)), "")
	s.pairsTable()
	s.Step(working.FollowUp, nil, working.TableBlock{Table: "pairs"})
}
