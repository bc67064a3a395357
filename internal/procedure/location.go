package procedure

import (
	"math"
	"strings"

	"grund/internal/formula"
	"grund/internal/problem"
	"grund/internal/stats"
	"grund/internal/stats/dist"
	"grund/internal/working"
)

// location is a test of where something lies: a mean, or a difference of means. It
// has an estimate with its standard error, the value that H₀ states, and z or t
// between the two.
type location struct {
	*working.Working
	p               *problem.Problem
	unit            string
	estimate        working.Ref // "mean", "difference"; the value under H₀ is the same with _0
	parameter       string      // what is estimated: "mean", "difference"
	subject         string      // what the interval is for: "Mole − Quarry"
	named           string      // the same with its noun: "the difference Mole − Quarry"
	option          string      // that sets the value under H₀; none where it is fixed
	null            float64     // the value under H₀
	least, greatest float64     // bounds of the parameter, both 0 where it has none
	value           float64     // of the estimate
	side            int         // of H₀ on which the estimate lies; 0 where the test has no direction
	se              float64
	seID            working.Ref // "se" when empty
	family          formula.Family

	// apart says that the interval is not made of the values that the test would not
	// reject, so that the two may part.
	apart bool

	instead []working.Action // the procedures to take where the shape is doubtful

	conclusion working.Text // once it is written
}

var (
	tFamily = formula.Family{Symbol: "t", Degrees: []formula.Ref{"df"}, New: func(d []float64) dist.Distribution { return dist.T{DF: d[0]} }}
	zFamily = formula.Family{Symbol: "z", New: func([]float64) dist.Distribution { return dist.Normal{} }}
)

// standardError names the standard error of the estimate.
func (l *location) standardError() working.Ref {
	if l.seID == "" {
		return "se"
	}
	return l.seID
}

// reference returns the distribution of the statistic under H₀.
func (l *location) reference() dist.Distribution {
	degrees := make([]float64, len(l.family.Degrees))
	for i, ref := range l.family.Degrees {
		degrees[i] = l.Value(working.Ref(ref))
	}
	return l.family.New(degrees)
}

// withUnit returns a quantity as shown, with its unit.
func (l *location) withUnit(id working.Ref) string { return l.Plain(working.Text{{Ref: id}}) }

// hypothesised returns the value under H₀ with its unit.
func (l *location) hypothesised() string {
	text := working.FormatShortest(l.null)
	if l.unit != "" {
		text += "\u00a0" + l.unit
	}
	return text
}

// signs returns the signs of H₀ and H₁.
func (l *location) signs() (null, alternative string) {
	signs := map[problem.Tail][2]string{problem.Both: {"=", "≠"}, problem.Left: {"≥", "<"}, problem.Right: {"≤", ">"}}[l.p.Tail]
	return signs[0], signs[1]
}

// teXSign writes a sign in TeX.
func teXSign(sign string) string {
	return strings.NewReplacer("≠", `\ne`, "≥", `\ge`, "≤", `\le`).Replace(sign)
}

// alphaBlocks says what alpha is.
func alphaBlocks() []working.Block {
	return []working.Block{
		working.Say("$α$ = @{alpha} is chosen now, before the data have been looked at."),
		working.Warn("$α$ is not a level of confidence and says nothing about this one result: it is how often the test rejects a true H₀ in the long run."),
	}
}

// distance says how far the estimate lies from H₀, by a statistic that carries the given
// correction.
func (l *location) distance(statistic working.Ref, continuity stats.Continuity) working.Block {
	value := l.Value(statistic)
	if continuity != stats.NoCorrection {
		return working.Say("With the correction that counts as @{%s} standard errors of @{%s} from the %s that H₀ states.", statistic, l.standardError(), l.hypothesised())
	}
	if value == 0 {
		return working.Say("The observed %s, @{%s}, is just what H₀ states.", l.parameter, l.estimate)
	}
	side := "above"
	if value < 0 {
		side = "below"
	}
	return working.Say("The observed %s of @{%s} lies @{%s|%s} standard errors of @{%s} %s the %s that H₀ states.",
		l.parameter, l.estimate, statistic, strings.TrimPrefix(l.Show(statistic), "−"), l.standardError(), side, l.hypothesised())
}

// tailReasons says why H₁ takes the tail that it takes. towards names what lies
// below or above: "a difference Mole − Quarry". both says it of two tails.
func (l *location) tailReasons(both working.Block, towards string) []working.Block {
	switch l.p.Tail {
	case problem.Left:
		both = working.Say("H₁ says “less”: only %s well *below* %s speaks for it, so the test has **one tail, the left**.", towards, l.hypothesised())
	case problem.Right:
		both = working.Say("H₁ says “greater”: only %s well *above* %s speaks for it, so the test has **one tail, the right**.", towards, l.hypothesised())
	}
	if l.p.Tail == problem.Both {
		return []working.Block{both}
	}
	return []working.Block{both,
		working.Note("The calculation uses the boundary of H₀, a %s of exactly %s: whatever speaks against the boundary speaks even more against the rest of H₀.", l.parameter, l.hypothesised()),
		working.Warn("The direction has to come from the question. Choosing it after a look at the data doubles the true chance of a Type I error."),
	}
}

// sizeWords reads a standardized difference (Cohen, Statistical Power Analysis,
// 2nd ed., 2.2.3).
func sizeWords(d float64) string {
	switch d = math.Abs(d); {
	case d < 0.2:
		return "less than small"
	case d < 0.5:
		return "small"
	case d < 0.8:
		return "medium"
	}
	return "large"
}
