package procedure_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// claimVerdicts is how a claim is answered, by what it says and by what comes out: not
// rejected, rejected with the estimate below what H₀ states, above it, or without a direction.
// It is typed from the contract of the problem file, not worked out by any code.
var claimVerdicts = map[problem.Statement]map[string]working.ClaimVerdict{
	problem.Equal:     {"not": "not_contradicted", "below": "contradicted", "above": "contradicted", "differs": "contradicted"},
	problem.AtMost:    {"not": "not_contradicted", "below": "supported", "above": "contradicted"},
	problem.AtLeast:   {"not": "not_contradicted", "below": "contradicted", "above": "supported"},
	problem.Different: {"not": "not_supported", "below": "supported", "above": "supported", "differs": "supported"},
	problem.Larger:    {"not": "not_supported", "below": "contradicted", "above": "supported"},
	problem.Smaller:   {"not": "not_supported", "below": "supported", "above": "contradicted"},
	problem.Open:      {"not": "open", "below": "open", "above": "open", "differs": "open"},
}

// claimWords is what the conclusion says with each verdict.
var claimWords = map[working.ClaimVerdict]string{
	"supported": "That supports the claim “So it is”.", "contradicted": "That speaks against the claim “So it is”.",
	"not_supported":    "The claim “So it is” is not supported, and not refuted.",
	"not_contradicted": "The claim “So it is” is not contradicted, and not confirmed.",
	"open":             "The claim “So it is” stays open: it states more than this test can weigh.",
}

// noise has the mean 0, no correlation with 1 to 8, and values that are all apart.
var noise = []float64{-1, 0.7, 0.5, -0.2, -0.3, 0.6, 0.8, -1.1}

// moved returns the noise times a factor, moved by so much and so much more for each case.
func moved(times, by, each float64) []float64 {
	out := make([]float64, len(noise))
	for i, x := range noise {
		out[i] = times*x + by + each*float64(i+1)
	}
	return out
}

// claimData writes, for each procedure with a direction, the data of a problem in which the
// estimate lies far below (−1), near (0) or far above (1) what H₀ states.
var claimData = map[string]func(side float64) string{
	"z-one-sample": func(side float64) string {
		return `,"options":{"sigma":1},"roles":{"response":"x"},"data":{"variables":[` + proctest.Column("x", "number", moved(1, 5*side, 0)) +
			`]}`
	},
	"t-one-sample": func(side float64) string {
		return `,"options":{"mean":40},"roles":{"response":"x"},"data":{"variables":[` +
			proctest.Column("x", "number", moved(1, 40+5*side, 0)) + `]}`
	},
	"t-paired":    pairsFile,
	"signed-rank": pairsFile,
	"t-two-sample": func(side float64) string {
		return twoGroupsFile(moved(1, 5*side, 0), moved(1, 0, 0))
	},
	"rank-sum": func(side float64) string {
		return twoGroupsFile(moved(1, 5*side, 0), moved(1, 0, 0))
	},
	"variance-ratio": func(side float64) string {
		return twoGroupsFile(moved(map[float64]float64{-1: 0.01, 0: 1.1, 1: 100}[side], 0, 0), moved(1, 0, 0))
	},
	"proportion-one": func(side float64) string {
		return fmt.Sprintf(`,"data":{"counts":{"categories":["yes","no"],"observed":[%v,%v]}}`, 20+18*side, 20-18*side)
	},
	"proportion-two":     crossedFile,
	"exact-independence": crossedFile,
	// The slope of one predictor, which goes with nothing else.
	"regression-multiple": func(side float64) string {
		return `,"options":{"slope":"x"},"roles":{"response":"y","predictors":["x"]},"data":{"variables":[` +
			proctest.Column("y", "number", moved(1, 0, 3*side)) + "," + proctest.Column("x", "number", moved(0, 0, 1)) + `]}`
	},
	"regression-simple": func(side float64) string {
		return `,"roles":{"response":"y","predictor":"x"},"data":{"variables":[` + proctest.Column("y", "number", moved(1, 0, 3*side)) + "," +
			proctest.Column("x", "number", moved(0, 0, 1)) + `]}`
	},
	"correlation": func(side float64) string {
		return `,"roles":{"variables":["y","x"]},"data":{"variables":[` + proctest.Column("y", "number", moved(1, 0, 3*side)) + "," +
			proctest.Column("x", "number", moved(0, 0, 1)) + `]}`
	},
}

func pairsFile(side float64) string {
	return `,"roles":{"first":"x","second":"y"},"data":{"variables":[` + proctest.Column("x", "number", moved(1, 50+5*side, 2)) + "," +
		proctest.Column("y", "number", moved(0, 50, 2)) + `]}`
}

func twoGroupsFile(first, second []float64) string {
	groups := strings.Split(strings.Repeat("a ", len(first))+strings.TrimSpace(strings.Repeat("b ", len(second))), " ")
	return `,"roles":{"response":"x","group":"g"},"data":{"variables":[` + proctest.Column("x", "number", append(first, second...)) + "," +
		proctest.Column("g", "category", groups) + `]}`
}

func crossedFile(side float64) string {
	return fmt.Sprintf(`,"data":{"counts":{"rows":["a","b"],"columns":["yes","no"],"cells":[[%v,%v],[20,20]]}}`, 20+18*side, 20-18*side)
}

// undirectedData writes the same for the procedures that have no direction: 0 where all is as
// H₀ states, 1 where it is not.
var undirectedData = map[string]func(side float64) string{
	"variance-spread": func(side float64) string { return twoGroupsFile(moved(1+20*side, 0, 0), moved(1, 0, 0)) },
	"normality": func(side float64) string {
		return `,"roles":{"response":"x"},"data":{"variables":[` + proctest.Column("x", "number", append(moved(1, 0, 0), 90*side)) + `]}`
	},
	"rank-k-sample": func(side float64) string { return twoGroupsFile(moved(1, 5*side, 0), moved(1, 0, 0)) },
	"anova-one-way": func(side float64) string { return twoGroupsFile(moved(1, 5*side, 0), moved(1, 0, 0)) },
	"chi-square-fit": func(side float64) string {
		return fmt.Sprintf(`,"data":{"counts":{"categories":["a","b","c"],"observed":[%v,20,20]}}`, 20+60*side)
	},
	"chi-square-distribution": func(side float64) string {
		return fmt.Sprintf(`,"options":{"distribution":"uniform","parameters":{"min":0,"max":3}},"data":{"counts":{"boundaries":[0,1,2,3],`+
			`"observed":[%v,20,20]}}`, 20+60*side)
	},
	"chi-square-independence": crossedFile,
	"paired-proportions": func(side float64) string {
		return fmt.Sprintf(`,"data":{"counts":{"rows":["yes","no"],"columns":["yes","no"],"cells":[[20,%v],[15,20]]}}`, 15+40*side)
	},
	"regression-multiple": func(side float64) string {
		return `,"roles":{"response":"y","predictors":["x","w"]},"data":{"variables":[` +
			proctest.Column("y", "number", moved(1, 0, 3*side)) + "," + proctest.Column("x", "number", moved(0, 0, 1)) +
			"," + proctest.Column("w", "number", []float64{2, 2, 2, 2, 1, 1, 1, 1}) + `]}`
	},
}

// claimFile writes a problem with a claim, given as it stands in the file.
func claimFile(procedure, tail, claim, rest string) string {
	return fmt.Sprintf(`{"grund":1,"procedure":%q,"tail":%q,"claim":{"text":"So it is.",%s}%s}`, procedure, tail, claim, rest)
}

func assertClaim(t *testing.T, file, outcome string, says problem.Statement) {
	t.Helper()
	s := proctest.Work(t, file)
	require.Equal(t, outcome != "not", s.Decision.Reject, "the data are meant to come out as %s", outcome)
	want := claimVerdicts[says][outcome]
	assert.Equal(t, &working.ClaimAnswer{Says: says, Verdict: want}, s.Claim)
	assert.Contains(t, s.Conclusion, claimWords[want])
	for other, words := range claimWords {
		if other != want {
			assert.NotContains(t, s.Conclusion, words)
		}
	}
}

// Every procedure with a direction answers every claim, whatever tail H₁ takes.
func TestClaims(t *testing.T) {
	for procedure, data := range claimData {
		for _, tail := range []string{"both", "left", "right"} {
			for side, place := range map[float64]string{-1: "below", 0: "near", 1: "above"} {
				outcome := "not"
				if place == "below" && tail != "right" || place == "above" && tail != "left" {
					outcome = place
				}
				for says := range claimVerdicts {
					t.Run(fmt.Sprintf("%s/%s/%s/%s", procedure, tail, place, says), func(t *testing.T) {
						assertClaim(t, claimFile(procedure, tail, fmt.Sprintf(`"says":%q`, says), data(side)), outcome, says)
					})
				}
			}
		}
	}
}

// A procedure without a direction weighs claims that have none, and refuses the others.
func TestClaimsWithoutADirection(t *testing.T) {
	for _, d := range procedure.Descriptions() {
		data := undirectedData[d.ID]
		if d.Tails {
			assert.Contains(t, claimData, d.ID)
			continue
		}
		require.NotNil(t, data, "%s needs data here", d.ID)
		for says := range claimVerdicts {
			for side, outcome := range map[float64]string{0: "not", 1: "differs"} {
				file := claimFile(d.ID, "both", fmt.Sprintf(`"says":%q`, says), data(side))
				t.Run(fmt.Sprintf("%s/%s/%s", d.ID, outcome, says), func(t *testing.T) {
					if !says.Directed() {
						assertClaim(t, file, outcome, says)
						return
					}
					proctest.CheckRefusals(t, proctest.Refusals{"refused": {file, "/claim/says", "no direction"}})
				})
			}
		}
	}
	proctest.CheckRefusals(t, proctest.Refusals{
		"a table of three": {tickets("exact-independence", `,"claim":{"text":"More.","says":"larger"}`), "/claim/says",
			"only a table of two and two has a direction"},
		"all predictors together": {proctest.Problem("regression-multiple", `{"response":"a","predictors":["b"]}`,
			`,"claim":{"text":"More.","says":"larger"}`, proctest.Column("a", "number", moved(2, 0, 1)),
			proctest.Column("b", "number", moved(1, 0, 2))),
			"/claim/says", "without “slope to test”"},
		"three variables": {proctest.Problem("correlation", `{"variables":["a","b","c"]}`, `,"claim":{"text":"More.","says":"at_most"}`,
			proctest.Column("a", "number", noise), proctest.Column("b", "number", moved(2, 0, 1)), proctest.Column("c", "number", moved(1, 0, 2))),
			"/claim/says",
			"only two have a direction"},
	})
}

// Older files say which hypothesis the claim is.
func TestClaimsOfOlderFiles(t *testing.T) {
	for _, c := range []struct {
		is, tail string
		says     problem.Statement
	}{
		{"h0", "both", "equal"}, {"h0", "right", "at_most"}, {"h0", "left", "at_least"},
		{"h1", "both", "open"}, {"h1", "right", "larger"}, {"h1", "left", "smaller"},
	} {
		s := proctest.Work(t, claimFile("t-one-sample", c.tail, fmt.Sprintf(`"is":%q`, c.is), claimData["t-one-sample"](0)))
		assert.Equal(t, c.says, s.Claim.Says, "%s with tail %s", c.is, c.tail)
	}
}

// Before there is a result it is said that H₁ does not go with the claim, where it does not.
func TestClaimBesideAnotherDirection(t *testing.T) {
	for _, c := range []struct {
		says, tail     string
		question, warn string // warn is "" where nothing is pointed out
	}{
		{"equal", "both", "holds the equality, so it is H₀", ""},
		{"different", "both", "holds no equality, so it is H₁", ""},
		{"larger", "right", "holds no equality, so it is H₁", ""},
		{"at_most", "right", "holds the equality, so it is H₀", ""},
		{"smaller", "left", "holds no equality, so it is H₁", ""},
		{"at_least", "left", "holds the equality, so it is H₀", ""},
		{"open", "left", "states more than this test can weigh", ""},
		{"larger", "both", "stands on the side of H₁", "The claim names a direction: H₁ should have been chosen by it before looking, with " +
			"one tail, the right."},
		{"at_least", "both", "stands on the side of H₀", "The claim names a direction: H₁ should have been chosen by it before looking, " +
			"with one tail, the left."},
		{"smaller", "right", "It takes the other one", "it should have been chosen by the claim before looking, with the left tail."},
		{"at_most", "left", "It takes the other one", "it should have been chosen by the claim before looking, with the right tail."},
		{"equal", "left", "stands on the side of H₀", "The claim names no direction, and H₁ takes one"},
		{"different", "right", "stands on the side of H₁", "The claim names no direction, and H₁ takes one"},
	} {
		for procedure, data := range claimData {
			s := proctest.Work(t, claimFile(procedure, c.tail, fmt.Sprintf(`"says":%q`, c.says), data(0)))
			words := map[working.StepID]string{}
			for _, step := range s.Steps {
				for _, block := range step.Blocks {
					if prose, ok := block.(working.Prose); ok {
						for _, piece := range prose.Text {
							words[step.ID] += piece.Words
						}
						words[step.ID] += "\n"
					}
				}
			}
			name := fmt.Sprintf("%s, %s with tail %s", procedure, c.says, c.tail)
			assert.Contains(t, words[working.Question], c.question, name)
			if c.warn == "" {
				assert.NotContains(t, words[working.Hypotheses], "claim", name)
			} else {
				assert.Contains(t, words[working.Hypotheses], c.warn, name)
			}
			if problem.Statement(c.says).Directed() {
				assert.NotContains(t, words[working.Hypotheses], "Nothing in the question says beforehand", name)
			}
		}
	}
}

// Where there is no test a claim stays open, and it is said why.
func TestClaimWithoutATest(t *testing.T) {
	x := moved(0, 0, 1)
	for name, file := range map[string]string{
		"a perfect line": proctest.Problem("regression-simple", `{"response":"y","predictor":"x"}`,
			`,"claim":{"text":"So it is.","says":"larger"}`, proctest.Column("y", "number", moved(0, 3, 2)), proctest.Column("x", "number", x)),
		"a perfect correlation": proctest.Problem("correlation", `{"variables":["x","y"]}`, `,"claim":{"text":"So it is.","says":"larger"}`,
			proctest.Column("y", "number", moved(0, 3, 2)), proctest.Column("x", "number", x)),
		"a perfect fit": proctest.Problem("regression-multiple", `{"response":"y","predictors":["x"]}`,
			`,"claim":{"text":"So it is.","says":"different"}`, proctest.Column("y", "number", moved(0, 3, 2)), proctest.Column("x", "number", x)),
		"three variables": proctest.Problem("correlation", `{"variables":["x","y","z"]}`, `,"claim":{"text":"So it is.","says":"different"}`,
			proctest.Column("y", "number", moved(1, 3, 2)), proctest.Column("x", "number", x), proctest.Column("z", "number", moved(-1, 3, 1))),
	} {
		s := proctest.Work(t, file)
		require.NotNil(t, s.Claim, name)
		assert.Equal(t, working.LeftOpen, s.Claim.Verdict, name)
		assert.Contains(t, s.Conclusion, "The claim “So it is” stays open: there is no test that could answer it.", name)
	}
}
