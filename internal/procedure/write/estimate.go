package write

import (
	"grund/internal/formula"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// An Estimate is the solution of a problem about a number that is estimated with a standard
// error and compared with a value that H₀ states: a mean, a difference of means, a slope.
type Estimate struct {
	Sheet
	ID      working.Ref // of the estimate: "mean", "difference"; the value under H₀ is the same with _0
	Subject string      // what the interval is for: "Mole − Quarry"
	Named   string      // the same with its noun: "the difference Mole − Quarry"
	Option  string      // that sets the value under H₀; none where it is fixed
	Null    float64     // the value under H₀
	// Observed is the estimate itself.
	Observed float64
	SE       float64     // the standard error of the estimate
	SEID     working.Ref // its quantity: "se", "se_slope"
	// Least and Greatest are the bounds of what is estimated, both 0 where it has none.
	Least, Greatest float64
	// Apart says that the interval is not made of the values that the test would not reject, so
	// that the two may part.
	Apart bool
}

// NullID is the quantity that H₀ states.
func (e *Estimate) NullID() working.Ref { return e.ID + "_0" }

// Hypothesised returns the value under H₀ with its unit.
func (e *Estimate) Hypothesised() string { return e.InUnit(e.Null) }

// FromNull is the distance of the estimate from H₀ as a formula; where H₀ states 0, the estimate
// itself unless always is set.
func (e *Estimate) FromNull(always bool) formula.Expr {
	if e.Null == 0 && !always {
		return formula.Ref(e.ID)
	}
	return formula.Subtract(formula.Ref(e.ID), formula.Ref(e.NullID()))
}

// Distance says how far the estimate lies from H₀, by a statistic that carries the given
// correction.
func (e *Estimate) Distance(statistic working.Ref, continuity stats.Continuity) working.Block {
	value := e.Value(statistic)
	if continuity != stats.NoCorrection {
		return working.Say("With the correction that counts as @{%s} standard errors of @{%s} from the %s that H₀ states.", statistic, e.SEID,
			e.Hypothesised())
	}
	if value == 0 {
		return working.Say("The observed %s, @{%s}, is just what H₀ states.", e.Parameter, e.ID)
	}
	side := "above"
	if value < 0 {
		side = "below"
	}
	return working.Say("The observed %s of @{%s} lies @{%s|%s} standard errors of @{%s} %s the %s that H₀ states.",
		e.Parameter, e.ID, statistic, e.ShowSize(statistic), e.SEID, side, e.Hypothesised())
}

// TailReasons says why H₁ takes the tail that it takes. towards names what lies below or above:
// "a difference Mole − Quarry". both says it of two tails.
func (e *Estimate) TailReasons(both working.Block, towards string) []working.Block {
	return e.TailReasonsAbout(both, towards, e.Hypothesised())
}

// DefineNull defines the value that H₀ states.
func (e *Estimate) DefineNull(symbol, label, says string) {
	e.Define(working.Quantity{ID: e.NullID(), Symbol: symbol, Label: label, Unit: e.Unit, Says: says}, working.Given, e.Null, nil)
}

// FoundWords says what a rejection finds: with two tails the direction that the sample shows,
// where H₀ states 0.
func (e *Estimate) FoundWords() string {
	if e.Null != 0 {
		return e.Direction.H1()
	}
	return e.Direction.Alternative.Of(e.Found())
}

// SizeWords reads a standardized difference (J. Cohen, Statistical Power Analysis, 2nd ed.,
// 2.2.3).
func SizeWords(d float64) string {
	if d < 0 {
		d = -d
	}
	switch {
	case d < 0.2:
		return "less than small"
	case d < 0.5:
		return "small"
	case d < 0.8:
		return "medium"
	}
	return "large"
}

// Important warns that what is significant need not matter. of is what was estimated, as "a
// difference".
func (e *Estimate) Important(of, response string) working.Block {
	return working.Warn("Significant is not the same as important: whether %s of @{%s} matters is a question about %s, not about statistics.",
		of, e.ID, words.InSentence(response))
}
