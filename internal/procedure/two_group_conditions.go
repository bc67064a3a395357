package procedure

import (
	"fmt"
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/working"
)

// conditions judges what the test takes for granted and writes the step.
func (s *twoSample) conditions() {
	s.Condition("independence", working.Met, working.Textf(
		"Taken as met: each case belongs to one group and tells nothing about another. The numbers cannot show this; if the same things were measured twice, the test for pairs belongs here."))
	s.equalVariances()
	s.shape()
	s.outliers()

	conditions := []string{"independence", "equal-variances", "normality"}
	if !s.data.summary {
		conditions = append(conditions, "outliers")
	}
	var blocks []working.Block
	for _, id := range conditions {
		blocks = append(blocks, working.Check{Condition: id})
	}
	s.Step(working.Conditions, s.conditionKey(), blocks...)
}

// conditionKey sums the conditions up: "1 doubtful".
func (s *twoSample) conditionKey() string {
	counts := s.StatusCounts()
	switch {
	case counts[working.NotMet] > 0:
		return fmt.Sprintf("%d not met", counts[working.NotMet])
	case counts[working.Doubtful] > 0:
		return fmt.Sprintf("%d doubtful", counts[working.Doubtful])
	}
	return "met"
}

// equalVariances compares the spreads. That the larger sd is at most twice the
// smaller is the usual rule for pooling (Moore and McCabe, Introduction to the
// Practice of Statistics, 12.1).
func (s *twoSample) equalVariances() {
	large, small := "sd_1", "sd_2"
	if s.second.moments.SD > s.first.moments.SD {
		large, small = small, large
	}
	ratio := s.Value(working.Ref(large)) / s.Value(working.Ref(small))
	spread := working.Textf("one group's sd is @{%s}, the other's @{%s}", large, small)
	if !math.IsInf(ratio, 0) {
		s.Define(working.Quantity{ID: "sd_ratio", Symbol: `s_{\text{large}}/s_{\text{small}}`, Label: "Ratio of the standard deviations", Says: "The larger standard deviation over the smaller one."},
			working.Ratio, ratio, formula.Quotient{Over: formula.Ref(large), Under: formula.Ref(small)})
		spread = working.Textf("sd @{%s} is @{sd_ratio|%s} times @{%s}", large, working.FormatNumber(ratio, 1), small)
	}
	if !s.pooled {
		reason := working.Join(working.Textf("Not needed: the variances are kept apart, so the spreads need not be alike ("), spread, working.Textf(")."))
		s.Condition("equal-variances", working.NotNeeded, reason, working.Action{
			ID: "pool-variances", Label: "Pool them and compare", Compare: true,
			Says: "Works the same problem with one common variance, beside this one.",
			Set:  []problem.Set{{Pointer: "/options/variances", Value: "equal"}},
		})
		return
	}
	status, before, after := working.Met, "Alike enough to pool: ", "; up to twice is usual."
	n1, n2 := float64(s.first.moments.N), float64(s.second.moments.N)
	switch {
	case ratio > 2:
		status, before = working.NotMet, "The spreads differ too much to pool: "
		after = ", and up to twice is usual. The pooled standard error is then wrong, most of all when the groups differ in size."
	case ratio > 1.5 && math.Max(n1, n2) > 1.5*math.Min(n1, n2):
		status, before = working.Doubtful, "Pooling may mislead: "
		after = ", and the groups differ much in size."
	}
	s.Condition("equal-variances", status, working.Join(working.Textf("%s", before), spread, working.Textf("%s", after)), working.Action{
		ID: "keep-variances-apart", Label: "Keep them apart and compare", Compare: true,
		Says: "Works the same problem with a variance for each group, beside this one.",
		Set:  []problem.Set{{Pointer: "/options/variances", Value: "unequal"}},
	})
}

// shape judges whether the means can be taken as normal: small groups need a
// shape that is close to normal, from 15 cases on only strong skewness and far
// outliers matter, and from 40 on hardly anything does (Moore and McCabe, 7.1).
func (s *twoSample) shape() {
	smallest := min(s.first.moments.N, s.second.moments.N)
	if s.data.summary {
		if smallest >= 40 {
			s.Condition("normality", working.Met, working.Textf("With at least %d cases in each group the means are close to normal whatever the shape of the groups.", smallest))
		} else {
			s.Condition("normality", working.Doubtful, working.Textf("Cannot be seen from a summary. With %d cases in the smaller group the cases themselves should be close to normal, without far outliers.", smallest))
		}
		return
	}
	status := working.Met
	var says working.Text
	s.pair("skewness", `g`, "Skewness", "How lopsided the group is: 0 when even, positive with a long tail to the right.", "", working.Ratio,
		func(g *group) float64 { return g.moments.Skewness(g.values) },
		func(i int, g *group) formula.Expr {
			if !(g.moments.SD > 0) {
				return nil
			}
			return formula.Quotient{
				Over:  formula.Deviations{Column: s.series(g), Centre: indexed("mean", i), Power: 3},
				Under: formula.Product{indexed("n", i), formula.Power{Base: indexed("sd", i), Exponent: 3}},
			}
		})
	for i, g := range []*group{s.first, s.second} {
		skewness := s.Value(working.Ref(fmt.Sprintf("skewness_%d", i+1)))
		limit := 1.0
		switch {
		case g.moments.N >= 40:
			limit = 2.5
		case g.moments.N >= 15:
			limit = 1.5
		}
		judged := "is even enough"
		if math.Abs(skewness) > limit {
			status = working.Doubtful
			judged = "is strongly skewed"
		}
		separator := "; "
		if i == 0 {
			separator = ""
		}
		says = working.Join(says, working.Textf("%s%s ($n$ = @{%s}, skewness @{%s|%s}) %s", separator, g.name,
			fmt.Sprintf("n_%d", i+1), fmt.Sprintf("skewness_%d", i+1), working.FormatNumber(skewness, 2), judged))
	}
	reason := "Each group could be normal: "
	if status == working.Doubtful {
		reason = "The shape is doubtful for so few cases: "
	}
	s.Condition("normality", status, working.Join(working.Textf("%s", reason), says, working.Textf(".")))
}

// outliers names the cases that stand out (beyond 1.5 box lengths) or far out
// (beyond 3), with a way to see the solution without the farthest.
func (s *twoSample) outliers() {
	if s.data.summary {
		return
	}
	type outlier struct {
		text string
		row  int
		far  bool
	}
	var found []outlier
	for _, g := range []*group{s.first, s.second} {
		low, high := g.five.Fences(1.5)
		farLow, farHigh := g.five.Fences(3)
		for i, x := range g.values {
			if x < low || x > high {
				found = append(found, outlier{fmt.Sprintf("case %d (%s, %s)", g.cases[i], working.FormatNumber(x, s.decimals), g.name), g.cases[i], x < farLow || x > farHigh})
			}
		}
	}
	if len(found) == 0 {
		s.Condition("outliers", working.Met, working.Textf("No case stands out: all lie within one and a half box lengths of their group's box."))
		return
	}
	status, far := working.Met, 0
	var names []string
	var ways []working.Action
	const most = 5
	for _, o := range found {
		if o.far {
			far++
		}
		if len(names) < most {
			names = append(names, o.text)
			ways = append(ways, working.Action{
				ID: fmt.Sprintf("leave-out-%d", o.row), Label: fmt.Sprintf("Leave case %d out and compare", o.row), Compare: true,
				Says: "Works the problem without this case, beside this one. The case is not deleted.",
				Set:  []problem.Set{{Pointer: "/leave_out/-", Value: map[string]any{"case": o.row, "reason": "stands out from its group"}}},
			})
		}
	}
	list := strings.Join(names, ", ")
	if len(found) > most {
		list += fmt.Sprintf(" and %d more", len(found)-most)
	}
	smallest := min(s.first.moments.N, s.second.moments.N)
	reason := "Stands out a little: %s. With so many cases that does no harm, but look whether it was typed rightly."
	switch {
	case far > 0:
		status, reason = working.NotMet, "Stands far out: %s. One such case can move a mean and swell its spread; look first whether it was typed rightly."
	case smallest < 15:
		status, reason = working.Doubtful, "Stands out: %s. With so few cases that can matter; look first whether it was typed rightly."
	}
	s.Condition("outliers", status, working.Textf("%s", fmt.Sprintf(reason, list)), ways...)
}
