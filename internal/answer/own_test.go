package answer

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a grader would underline, by the demo's problem, the ids in their order.
//
//	two-berths       no rejection, two tails: mean loading time at Mole and Quarry
//	overhaul         rejection, right tail: mean fuel per crossing is higher than 41 L
//	riders.by-reason rejection, left tail: “single” is rarer for work than for leisure
//	riders.ticket    rejection, no direction: reason and ticket
//	crossings        rejection, two tails: fuel rises with crossing time
var ownSentences = []struct{ problem, sentence, finds string }{
	{"two-berths", "At α = 0.05 the data do not show that mean loading time differs between Mole and Quarry.", ""},
	{"two-berths", "At the 5% level there is not enough evidence that loading takes longer at one of the berths, Mole or Quarry.", ""},
	{"two-berths", "We do not reject H0 at the 5 % level: loading times may be the same at both berths.", ""},
	{"two-berths", "We fail to reject the null hypothesis that the loading times at Mole and Quarry are equal (p = 0.055).", ""},
	{"two-berths", "There is no significant difference in loading time between Mole and Quarry.", ""},
	{"two-berths", "H₀ can’t be rejected: p = 0.0553, so a difference in loading time is not shown.", ""},
	{"two-berths", "The loading times do not differ significantly (p = 0.055).", ""},
	{"two-berths", "The evidence is not sufficient to say that loading time depends on the berth.", ""},
	{"two-berths", "If H0 were true such loading times would not be rare (p = 0.055), so there is no evidence against it.", ""},
	{"two-berths", "The difference in loading time is not significant at the 5 % level; this does not mean that there is no difference.", ""},
	{"two-berths", "p = 0.055 is the probability of such a difference in loading times if H0 is true, so H0 is not rejected.", ""},
	{"two-berths", "We accept H0: mean loading time is not shown to differ at α = 0.05.", "accepts"},
	{"two-berths", "At α = 0.05 we accept the null hypothesis about loading time.", "accepts"},
	{"two-berths", "At the 5% level, H0 is true: loading takes the same time at Mole and Quarry.", "accepts"},
	{"two-berths", "There is no difference in loading time between Mole and Quarry (p = 0.055).", "accepts"},
	{"two-berths", "At the 5 % level mean loading time is the same at Mole and Quarry.", "accepts"},
	{"two-berths", "No difference exists in loading time at the 5% level.", "accepts"},
	{"two-berths", "At α = 0.05 we reject H0: loading time differs between Mole and Quarry.", "contradicts_decision"},
	{"two-berths", "There is evidence at the 5% level that loading time differs between the berths.", "contradicts_decision"},
	{"two-berths", "The loading times differ significantly (p = 0.055).", "contradicts_decision"},
	{"two-berths", "Loading takes longer at Quarry than at Mole (p = 0.055).", "contradicts_decision"},
	{"two-berths", "This proves at the 5% level that loading time differs between Mole and Quarry.", "contradicts_decision proves"},
	{"two-berths", "It does not prove at the 5% level that loading time differs between Mole and Quarry.", ""},
	{"two-berths", "The probability that H0 is true is 5.5 %, so we do not reject it; loading time.", "chance"},
	{"two-berths", "We do not reject H0, as there is a 5.5% chance that the loading times are the same.", "chance"},
	{"two-berths", "The difference in loading time is due to chance: not significant at 5%.", "chance"},
	{"two-berths", "We do not reject H0 at the 5% level.", "no_context"},
	{"two-berths", "There is not enough evidence for a difference (p = 0.055).", "no_context"},
	{"two-berths", "It cannot be said that loading time differs between Mole and Quarry.", "no_uncertainty"},
	{"two-berths", "We do not reject the null hypothesis.", "no_context no_uncertainty"},
	{"two-berths", "The loading times were 12.4 and 13.6 minutes, p = 0.055.", "no_direction_of_decision"},
	{"two-berths", "Loading time was measured at Mole and Quarry.", "no_direction_of_decision no_uncertainty"},
	{"two-berths", "We cannot be sure at the 5% level that loading time differs between Mole and Quarry.", ""},
	{"two-berths", "We have no reason to reject H0 for the loading times (p = 0.055).", ""},
	{"two-berths", "accept h0", "unreadable"},
	{"two-berths", "???", "unreadable"},

	{"overhaul", "At α = 0.05 there is evidence that mean fuel per crossing is higher than 41 L.", ""},
	{"overhaul", "We reject H0 at the 5% level: a crossing takes more fuel than 41 L on average.", ""},
	{"overhaul", "The data show (p = 0.003) that mean fuel is above 41 L.", ""},
	{"overhaul", "Mean fuel per crossing is significantly greater than 41 L.", ""},
	{"overhaul", "Mean fuel per crossing is significantly lower than 41 L.", "wrong_direction"},
	{"overhaul", "There is evidence at the 5% level that crossings take less fuel than 41 L.", "wrong_direction"},
	{"overhaul", "At α = 0.05 we do not reject H0: fuel may be 41 L.", "contradicts_decision"},
	{"overhaul", "There is no evidence at α = 0.05 that fuel is higher than 41 L.", "contradicts_decision"},
	{"overhaul", "We accept H0 at the 5% level: fuel is 41 L.", "contradicts_decision accepts"},
	{"overhaul", "It is proved at α = 0.05 that mean fuel is higher than 41 L.", "proves"},
	{"overhaul", "Mean fuel is certainly higher than 41 L, at the 5% level.", "proves"},
	{"overhaul", "H1 is true at the 5% level: fuel is higher than 41 L, the data show it.", "proves"},
	{"overhaul", "The null hypothesis is false (p = 0.003): mean fuel is higher than 41 L.", "proves"},
	{"overhaul", "The probability that mean fuel is 41 L is 0.003, so it is significantly higher.", "chance"},
	{"overhaul", "We reject H0; it is 99.7 % sure that fuel is higher than 41 L.", "chance"},
	{"overhaul", "We reject H0: mean fuel is higher than 41 L.", "no_uncertainty"},
	{"overhaul", "We reject H0 at the 5% level.", "no_context"},
	{"overhaul", "We accept H1 at the 5% level: mean fuel is higher than 41 L.", ""},

	{"riders.by-reason", "At α = 0.05 there is evidence that single tickets are rarer for work than for leisure.", ""},
	{"riders.by-reason", "There is evidence (p < 0.001) that single tickets are bought more often for leisure than for work.", ""},
	{
		"riders.by-reason",
		"There is evidence (p < 0.001) that the share of single tickets is higher for work than for leisure.", "wrong_direction",
	},
	{
		"riders.by-reason",
		"At the 5% level, leisure riders buy fewer single tickets than those who ride to work, we reject H0.", "wrong_direction",
	},
	{"riders.by-reason", "At the 5% level, those who ride to work buy fewer single tickets than leisure riders, we reject H0.", ""},
	{"riders.by-reason", "The share of single tickets is significantly lower among work riders.", ""},
	{"riders.by-reason", "The share of single tickets is significantly lower among leisure riders.", "wrong_direction"},

	{"riders.ticket", "At α = 0.05 the data are evidence that reason and ticket have to do with each other.", ""},
	{"riders.ticket", "The ticket depends on the reason for travelling (p < 0.001).", ""},
	{"riders.ticket", "Reason and ticket are independent (p < 0.001).", "contradicts_decision accepts"},
	{"riders.ticket", "There is no association between reason and ticket at the 5 % level.", "contradicts_decision accepts"},
	{"riders.ticket", "Reason and ticket are not independent (p < 0.001).", ""},
	{"riders.ticket", "We reject H0 (p < 0.001): reason and ticket are not independent.", ""},

	{"crossings", "Mean fuel rises with crossing time; that is significant at the 5% level.", ""},
	{"crossings", "The data are evidence (p < 0.001) that fuel falls with longer crossing time.", ""},
	{"crossings", "The data are evidence (p < 0.001) that fuel decreases with crossing time.", "wrong_direction"},
	{"crossings", "Fuel goes with crossing time (p < 0.001).", ""},
}

func TestOwnConclusion(t *testing.T) {
	problems := demoProblems(t)
	for _, test := range ownSentences {
		p := problems[test.problem+".json"]
		require.NotNil(t, p, test.problem)
		verdicts, err := Check(t.Context(), p, []Answer{{askOwn, test.sentence}})
		require.NoError(t, err)
		require.Len(t, verdicts.Verdicts, 1)
		v := verdicts.Verdicts[0]
		var ids []string
		for _, f := range v.Found {
			ids = append(ids, f.ID)
			assert.NotEmpty(t, f.Instead)
			there := strings.Contains(strings.ToLower(test.sentence), strings.ToLower(f.Words)) || strings.Contains(f.Words, "not")
			assert.True(t, there, "%q in %q", f.Words, test.sentence)
		}
		if v.Verdict == Unreadable {
			ids = []string{Unreadable}
		}
		assert.Equal(t, test.finds, strings.Join(ids, " "), "%s: %s (%v)", test.problem, test.sentence, v.Found)
		assert.Zero(t, verdicts.Of, "a sentence is given no mark")
	}
}
