package answer

import (
	"fmt"
	"os"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/working"
)

// check judges answers to a problem and returns the verdicts by ask, as "slip one_tail" or "right".
func check(t *testing.T, file string, answers map[string]string) map[string]string {
	t.Helper()
	p, err := problem.Parse([]byte(file))
	require.NoError(t, err)
	body, err := json.Marshal(answers)
	require.NoError(t, err)
	list, err := ParseAnswers(body)
	require.NoError(t, err)
	verdicts, err := Check(t.Context(), p, list)
	require.NoError(t, err)
	found := map[string]string{}
	for _, v := range verdicts.Verdicts {
		found[v.Ask] = strings.TrimSpace(v.Verdict + " " + v.Slip + v.Rule)
		assert.NotEmpty(t, v.Says)
	}
	return found
}

func summary(procedure, groups, more string) string {
	return fmt.Sprintf(`{"grund":1,"procedure":%q,"data":{"summary":{"groups":[%s]}}%s}`, procedure, groups, more)
}

// The numbers were worked out with mpmath from n, mean and sd.
func TestVerdicts(t *testing.T) {
	const two = `{"label":"Mole","n":18,"mean":12.4,"sd":0.67},{"label":"Quarry","n":15,"mean":13.57,"sd":2.13}`
	apart := summary("t-two-sample", two, "")
	pooled := summary("t-two-sample", two, `,"options":{"variances":"equal"}`)
	left := summary("t-two-sample", two, `,"tail":"left"`)
	one := summary("t-one-sample", `{"n":16,"mean":41.6,"sd":2.4}`, `,"options":{"mean":40}`)
	several := summary("anova-one-way", `{"label":"a","n":10,"mean":8.1,"sd":1.4},{"label":"b","n":12,"mean":9.5,"sd":1.1},`+
		`{"label":"c","n":11,"mean":10.2,"sd":1.3}`, "")
	for _, test := range []struct{ file, ask, typed, verdict string }{
		{apart, "se", "0.572", "right"}, {apart, "se", "0,5722", "right"}, {apart, "se", "0.57", "coarse"}, {apart, "se", "0.573", "near"},
		{apart, "t", "-2.04", "right"}, {apart, "t", "t = −2.045", "right"}, {apart, "t", "-2.0", "coarse"}, {apart, "t", "2.04", "slip sign"},
		{apart, "t", "2.0", "slip sign"}, {apart, "t", "2", "wrong"}, {apart, "t", "-3.1", "wrong"}, {apart, "t", "two", "unreadable"},
		{apart, "n_1", "18", "right"}, {apart, "n_1", "17", "wrong"}, {apart, "df", "16.3", "right"},
		{apart, "df", "16", "accepted printed_table"},
		{apart, "df", "14", "accepted smaller_group"}, {apart, "df", "31", "slip pooled"}, {apart, "critical_high", "2.117", "right"},
		{apart, "critical_high", "2.120", "accepted printed_table"}, {apart, "critical_high", "2.145", "accepted smaller_group"},
		{apart, "critical_high", "1.744", "slip one_tail"}, {apart, "critical_high", "1.96", "slip z_for_t"},
		{apart, "p", "0.0574", "right"}, {apart, "p", "0.06", "coarse"}, {apart, "p", "5.74 %", "right"}, {apart, "p", "0.0287", "slip one_tail"},
		{apart, "p", "0.0409", "slip z_for_t"}, {apart, "p", "0.0347", "slip pooled"}, {apart, "p", "5.74", "slip percent"},
		{apart, "p", "between 0.05 and 0.10", "right"}, {apart, "p", "> 0.05", "right"}, {apart, "p", "0.01 < p < 0.10", "wrong"},
		{apart, "p", "< 0.05", "wrong"}, {apart, "p", "0.0602", "accepted smaller_group"},
		{apart, "se", "0.327", "slip root_forgotten"}, {apart, "se", "0.708", "slip spreads_added"}, {apart, "se", "0.530", "slip pooled"},
		{apart, "se", "5.72", "slip decimal_point"}, {apart, "se", "0.752", "slip digits_swapped"},
		{apart, "decision", "do_not_reject", "right"}, {apart, "decision", "reject", "wrong"}, {apart, "hypotheses", "both", "right"},
		{apart, "hypotheses", "swapped", "wrong"}, {apart, "region", "both", "right"}, {apart, "conclusion", "accepts", "wrong"},
		{apart, "condition:equal-variances", "not_needed", "right"},
		{pooled, "se", "0.530", "right"}, {pooled, "se", "0.572", "slip kept_apart"}, {pooled, "t", "-2.045", "slip kept_apart"},
		{pooled, "df", "31", "right"}, {pooled, "df", "33", "slip df_n"}, {pooled, "df", "32", "slip df_n_minus_1"},
		{left, "p", "0.0287", "right"}, {left, "p", "0.0574", "slip two_tails"}, {left, "p", "0.971", "slip other_tail"},
		{left, "region", "left", "right"},
		{one, "se", "0.6", "right"}, {one, "se", "2.4", "slip root_n_forgotten"}, {one, "t", "2.67", "right"}, {one, "t", "8/3", "right"},
		{one, "t", "69.3", "slip h0_value_forgotten"}, {one, "t", "0.667", "slip root_n_forgotten"}, {one, "df", "16", "slip df_n"},
		{one, "df", "14", "slip df_n_minus_2"}, {one, "p", "0.0176", "right"}, {one, "p", "0.00880", "slip one_tail"},
		{several, "f", "7.46", "right"}, {several, "f", "0.134", "slip inverted"}, {several, "f", "0.497", "slip sums_for_means"},
		{several, "df_between", "30", "slip df_other"}, {several, "critical_high", "3.32", "right"},
		{several, "critical_high", "0.0514", "slip area_below"}, {several, "ms_within", "47.85", "slip sums_for_means"},
		{several, "hypotheses", "h0", "right"},
	} {
		assert.Equal(t, test.verdict, check(t, test.file, map[string]string{test.ask: test.typed})[test.ask], "%s = %s", test.ask, test.typed)
	}
}

// A slip is paid for once: what is made from it follows, through several steps, and so does the decision.
func TestWhatFollows(t *testing.T) {
	file := summary("t-two-sample", `{"label":"a","n":18,"mean":12.4,"sd":0.67},{"label":"b","n":15,"mean":13.57,"sd":2.13}`, "")
	assert.Equal(t, map[string]string{"se": "wrong", "t": "follows", "decision": "follows", "p": "follows"},
		check(t, file, map[string]string{"se": "0.40", "t": "-2.925", "decision": "reject", "p": "0.0098"}))
	assert.Equal(t, map[string]string{"se": "wrong", "decision": "follows"},
		check(t, file, map[string]string{"se": "0.40", "decision": "reject"}))
	assert.Equal(t, map[string]string{"se": "right", "t": "right"}, check(t, file, map[string]string{"se": "0.572", "t": "-2.045"}))
	assert.Equal(t, map[string]string{"se": "coarse", "t": "follows"}, check(t, file, map[string]string{"se": "0.57", "t": "-2.053"}))
}

// What the right formula gives from an own rounded number is no slip, whatever else would give it: t with 16.3 degrees of
// freedom has 2.11674 at 0.025, with 16.3125 it has 2.11661.
func TestRoundedIsNoSlip(t *testing.T) {
	file := `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"groups":[{"label":"a","n":18,"mean":12.383,"sd":0.673},` +
		`{"label":"b","n":15,"mean":13.567,"sd":2.134}]}}}`
	for df, verdict := range map[string]string{"16.3": "right", "16": "accepted printed_table"} {
		critical := map[string]string{"16.3": "2.11674", "16": "2.11991"}[df]
		found := check(t, file, map[string]string{"df": df, "critical_high": critical})
		assert.Equal(t, verdict, found["df"])
		assert.Contains(t, []string{"accepted rounded", "accepted printed_table"}, found["critical_high"], df)
	}
}

// The problem says how many digits are wanted.
func TestDigits(t *testing.T) {
	file := func(digits string) string {
		return summary("t-one-sample", `{"n":16,"mean":41.6,"sd":2.4}`, `,"options":{"mean":40}`+digits)
	}
	for digits, verdicts := range map[string][2]string{
		"": {"coarse", "right"}, `,"digits":2`: {"right", "right"}, `,"digits":4`: {"coarse", "coarse"},
	} {
		assert.Equal(t, verdicts, [2]string{
			check(t, file(digits), map[string]string{"t": "2.7"})["t"], check(t, file(digits), map[string]string{"t": "2.67"})["t"],
		}, digits)
	}
	for _, digits := range []string{"0", "16", "-1"} {
		_, err := problem.Parse([]byte(file(`,"digits":` + digits)))
		assert.ErrorContains(t, err, "/digits", digits)
	}
}

func TestAnswersRefused(t *testing.T) {
	p, err := problem.Parse([]byte(summary("t-one-sample", `{"n":16,"mean":41.6,"sd":2.4}`, `,"options":{"mean":40}`)))
	require.NoError(t, err)
	for file, says := range map[string]string{
		`{"grund":1,"answers":{"tee":"1"}}`:                                      "/answers/tee: the problem does not ask this",
		`{"grund":1,"answers":{"t":"1","t":"2"}}`:                                "t",
		`{"grund":1,"answers":{"t":true}}`:                                       "/answers/t: it must be a text or a number",
		`{"grund":1,"answers":{"t":["1"]}}`:                                      "/answers/t: it must be a text or a number",
		`{"grund":1,"answers":["t"]}`:                                            "/answers: it must be an object",
		`{"grund":1}`:                                                            "/answers: it must be an object",
		`{"grund":2,"answers":{}}`:                                               "/grund",
		`{"grund":1,"answer":{}}`:                                                "answer",
		`{"grund":1,"answers":{"decision":"accept"}}`:                            "/answers/decision",
		`{"grund":1,"answers":{"claim":"h0"}}`:                                   "/answers/claim: the problem does not ask this",
		`{"grund":1,"answers":{"cells/a|b/expected":"3"}}`:                       "does not ask this",
		`{"grund":1,"answers":{"t":"` + strings.Repeat("1", MaxAnswer+1) + `"}}`: "an answer has 4000 at most",
	} {
		answers, err := Parse([]byte(file))
		if err == nil {
			_, err = Check(t.Context(), p, answers)
		}
		var mistakes problem.Errors
		if assert.ErrorAs(t, err, &mistakes, "%.60s", file) {
			assert.Contains(t, err.Error(), says)
		}
	}
}

// Expected counts are asked for cell by cell; the table's numbers were worked out by hand: 60 · 50 / 100 = 30.
func TestCells(t *testing.T) {
	file := `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["work","leisure"],"columns":["single","return"],` +
		`"cells":[[35,25],[15,25]]}}}`
	p, err := problem.Parse([]byte(file))
	require.NoError(t, err)
	asks, err := Asks(t.Context(), p)
	require.NoError(t, err)
	var cells []string
	for _, a := range asks.Asks {
		if strings.HasPrefix(a.ID, "cells/") {
			cells = append(cells, a.ID+": "+a.Label)
		}
	}
	assert.Equal(t, []string{
		"cells/work|single/expected: expected, work, single", "cells/work|return/expected: expected, work, return",
		"cells/leisure|single/expected: expected, leisure, single", "cells/leisure|return/expected: expected, leisure, return",
	}, cells)
	// χ² = 25/30 + 25/30 + 25/20 + 25/20; by what was observed 25/35 + 25/25 + 25/15 + 25/25.
	for _, test := range []struct{ ask, typed, verdict string }{
		{"cells/work|single/expected", "30", "right"}, {"cells/work|single/expected", "25", "slip all_cells_alike"},
		{"cells/leisure|single/expected", "24", "wrong"}, {"chi_square", "4.17", "right"}, {"chi_square", "4.38", "slip divided_by_observed"},
		{"chi_square", "0.833", "slip not_squared"}, {"chi_square", "100", "slip not_divided"}, {"df", "3", "slip df_cells_minus_1"},
		{"df", "4", "slip df_cells"},
	} {
		assert.Equal(t, test.verdict, check(t, file, map[string]string{test.ask: test.typed})[test.ask], "%s = %s", test.ask, test.typed)
	}
}

// Every slip in every problem for which it was worked out apart from this package: see testdata/slips.py.
func TestSlips(t *testing.T) {
	file, err := os.ReadFile("testdata/slips.json")
	require.NoError(t, err)
	var answers []struct {
		Problem jsontext.Value `json:"problem"`
		Ask     string         `json:"ask"`
		Typed   string         `json:"typed"`
		Verdict string         `json:"verdict"`
	}
	require.NoError(t, json.Unmarshal(file, &answers))
	require.NotEmpty(t, answers)
	for _, a := range answers {
		found := check(t, string(a.Problem), map[string]string{a.Ask: a.Typed})[a.Ask]
		assert.Equal(t, a.Verdict, found, "%s = %s in %s", a.Ask, a.Typed, a.Problem)
	}
}

// The degrees of freedom of a fit to a distribution: m classes less one, less one for each estimated parameter.
func TestParametersForgotten(t *testing.T) {
	problems := demoProblems(t)
	for name, classes := range map[string]int{"whales.json": 5, "gaps.exponential.json": 5} { // each estimates one
		for less, verdict := range []string{"slip df_categories", "slip df_parameters_forgotten", "right"} {
			verdicts, err := Check(t.Context(), problems[name], []Answer{{"df", strconv.Itoa(classes - less)}})
			require.NoError(t, err)
			v := verdicts.Verdicts[0]
			assert.Equal(t, verdict, strings.TrimSpace(v.Verdict+" "+v.Slip), "%s: %d less than the classes", name, less)
		}
	}
}

// What follows from other hypotheses is judged by them: the region, what is looked up for it, the decision and what is
// concluded from that.
func TestWhatFollowsFromChoices(t *testing.T) {
	file := summary("t-two-sample", `{"label":"a","n":18,"mean":12.4,"sd":0.67},{"label":"b","n":15,"mean":13.57,"sd":2.13}`, "")
	assert.Equal(t, map[string]string{
		"hypotheses": "wrong", "region": "follows", "critical_low": "follows", "p": "follows", "decision": "follows", "conclusion": "follows",
	}, check(t, file, map[string]string{
		"hypotheses": "left", "region": "left", "critical_low": "-1.744", "p": "0.0287", "decision": "reject", "conclusion": "reversed",
	}))
	assert.Equal(t, map[string]string{"hypotheses": "right", "p": "slip one_tail", "decision": "follows"},
		check(t, file, map[string]string{"hypotheses": "both", "p": "0.0287", "decision": "reject"}))
	assert.Equal(t, map[string]string{"hypotheses": "wrong", "conclusion": "wrong"},
		check(t, file, map[string]string{"hypotheses": "h0", "conclusion": "proves"}), "known, and not offered here")
	assert.Equal(t, map[string]string{"p": "wrong", "decision": "follows"},
		check(t, file, map[string]string{"p": "< 0.01", "decision": "reject"}))
}

// Whatever numbers a person gives, what is made from them is found at once or not at all.
func TestAnswersBeyondReason(t *testing.T) {
	beyond := []string{"-2", "0", "1e-300", "1e-9", "0.5", "1e9", "1e15", "1e300", "-1e300", "99999999999999999999"}
	seen := map[string]bool{}
	for _, r := range references(t) {
		if seen[r.problem.Procedure] {
			continue
		}
		seen[r.problem.Procedure] = true
		attempt, err := NewAttempt(t.Context(), r.problem)
		if err != nil {
			continue
		}
		for _, text := range beyond {
			var answers []Answer
			for _, a := range attempt.judge.asks() {
				if a.Kind == askNumber && (isDegrees(working.Ref(a.ID)) || strings.HasPrefix(a.ID, "n") || strings.HasPrefix(a.ID, "sd")) {
					answers = append(answers, Answer{a.ID, text})
				} else if a.Kind == askNumber {
					answers = append(answers, Answer{a.ID, "7.77"})
				}
			}
			begun := time.Now()
			_, err := attempt.judge.check(t.Context(), answers)
			require.NoError(t, err)
			assert.Less(t, time.Since(begun), 2*time.Second, "%s: %s", r.name, text)
		}
	}
}

// χ² follows from the student's own expected counts, and p from that; rounded ones are no fault. The numbers by hand: of 60
// and 40 by 50 and 50 expected are 30, 30, 20, 20; with 35 in the place of the first χ² is 0/35 + 25/30 + 25/20 + 25/20.
func TestWhatFollowsFromCells(t *testing.T) {
	file := `{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["work","leisure"],"columns":["single","return"],` +
		`"cells":[[35,25],[15,25]]}}}`
	first := "cells/work|single/expected"
	assert.Equal(t, map[string]string{first: "wrong", "chi_square": "follows", "p": "follows"},
		check(t, file, map[string]string{first: "35", "chi_square": "3.33", "p": "0.0679"}))
	assert.Equal(t, map[string]string{first: "wrong", "p": "follows"}, check(t, file, map[string]string{first: "35", "p": "0.0679"}))
	assert.Equal(t, map[string]string{first: "wrong", "cells/work|single/contribution": "follows"},
		check(t, file, map[string]string{first: "40", "cells/work|single/contribution": "0.625"}))
	assert.Equal(t, map[string]string{first: "right", "chi_square": "right"},
		check(t, file, map[string]string{first: "30", "chi_square": "4.17"}))
}

// Bounds follow too, and a whole number that is off by little is near.
func TestMoreVerdicts(t *testing.T) {
	file := summary("t-two-sample", `{"label":"a","n":118,"mean":12.4,"sd":0.67},{"label":"b","n":15,"mean":13.57,"sd":2.13}`, "")
	assert.Equal(t, map[string]string{"t": "wrong", "p": "follows"}, check(t, file, map[string]string{"t": "-1.35", "p": "> 0.1"}))
	assert.Equal(t, map[string]string{"n_1": "near"}, check(t, file, map[string]string{"n_1": "117"}))
	one := summary("t-one-sample", `{"n":16,"mean":41.6,"sd":2.4}`, `,"options":{"mean":40}`)
	assert.Equal(t, map[string]string{"se": "slip decimal_point"}, check(t, one, map[string]string{"se": "60"}), "it is no share")
}

// The other side of a one-tailed variance ratio: the upper 5 % of F with 9 and 11 is 2.896, the lower 0.322.
func TestOtherSideOfF(t *testing.T) {
	groups := `{"label":"a","n":10,"mean":8.1,"sd":1.9},{"label":"b","n":12,"mean":9.5,"sd":1.1}`
	for tail, answers := range map[string][2]string{"right": {"critical_high", "0.322"}, "left": {"critical_low", "2.896"}} {
		file := summary("variance-ratio", groups, `,"tail":"`+tail+`"`)
		assert.Equal(t, "slip other_tail", check(t, file, map[string]string{answers[0]: answers[1]})[answers[0]], tail)
	}
}
