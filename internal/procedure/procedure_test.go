package procedure

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/working"
)

// demoProblems returns every demo problem, and each with every live choice taken.
func demoProblems(t *testing.T) map[string]*problem.Problem {
	t.Helper()
	names, err := filepath.Glob("../../demo/problems/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, names)
	out := map[string]*problem.Problem{}
	for _, name := range names {
		file, err := os.ReadFile(name)
		require.NoError(t, err)
		p, err := problem.Parse(file)
		require.NoError(t, err, name)
		out[filepath.Base(name)] = p
		s, err := Work(t.Context(), p)
		require.NoError(t, err, name)
		for _, control := range s.Controls {
			for _, choice := range control.Choices {
				changed, err := problem.Apply(p, []problem.Set{{Pointer: control.Pointer, Value: choice.Value}})
				require.NoError(t, err)
				out[filepath.Base(name)+" "+control.ID+" "+choice.Label] = changed
			}
		}
	}
	return out
}

// Every quantity that has a formula recomputes from its inputs, and from p every
// path leads back to the data or to something the problem gives.
func TestTheGraphOfQuantities(t *testing.T) {
	for name, p := range demoProblems(t) {
		t.Run(name, func(t *testing.T) {
			w, err := work(t.Context(), p)
			require.NoError(t, err)
			s, err := w.Finish()
			require.NoError(t, err)
			byID := map[string]*working.Quantity{}
			for _, q := range s.Quantities {
				byID[string(q.ID)] = q
			}
			recomputed := w.Recompute()
			require.NotEmpty(t, recomputed)
			for id, value := range recomputed {
				if value == 0 {
					assert.Zero(t, float64(byID[string(id)].Value), id)
					continue
				}
				assert.InEpsilon(t, float64(byID[string(id)].Value), value, 1e-11, id)
			}
			given := map[string]bool{"alpha": true, "difference_0": true, "mean_0": true, "mean_difference_0": true, "sigma": true,
				"proportion_0": true,
				// Sums of many probabilities, and what solves for one: no formula that anybody writes out.
				// Nor has the normal score of W, through polynomials of the size of the sample.
				"z": s.Procedure == "normality",
				// Counts of cells, and how many parameters were estimated, are counted; extremes are looked up.
				"a": true, "b": true, "c": true, "d": true, "row_total_1": true, "column_total_1": true, "observed_1": true,
				"parameters_estimated": true, "min": true, "max": true,
				"ties":  true,
				"draws": true, "as_extreme": true, "terms": true, "aic": true, "slope_0": true,
				"p_exact": true, "exact_low": true, "exact_high": true,
				"confidence": p.Confidence != nil}
			var follow func(id string)
			seen := map[string]bool{}
			reachesData := false
			follow = func(id string) {
				if strings.Contains(id, "/") {
					reachesData = true
					return
				}
				q := byID[id]
				require.NotNil(t, q, id)
				if seen[id] {
					return
				}
				seen[id] = true
				if q.Formula == nil {
					assert.True(t, given[id] || math.IsInf(float64(q.Value), 0), "%s has no formula and is not given", id)
					return
				}
				for _, input := range q.Formula.Inputs {
					follow(input)
				}
			}
			for id := range byID {
				follow(id)
			}
			assert.True(t, reachesData)
		})
	}
}

// actionsOf returns whatever a solution offers to change its problem by: the actions of
// conditions and blocks, handles at both their ends, choices ticked and taken back, places and
// contrasts.
func actionsOf(s *working.Solution) (actions []working.Action) {
	add := func(id string, set ...problem.Set) {
		actions = append(actions, working.Action{ID: id, Set: set})
	}
	for _, condition := range s.Conditions {
		actions = append(actions, condition.Actions...)
	}
	for _, figure := range s.Figures {
		for _, handle := range figure.Handles {
			for _, at := range []working.Number{handle.Min, handle.Max} {
				add(handle.ID, handle.Set(float64(at)))
			}
		}
	}
	for _, control := range s.Controls {
		for _, choice := range control.Choices {
			add(control.ID, problem.Set{Pointer: control.Pointer, Value: choice.Value})
		}
	}
	for _, step := range s.Steps {
		for _, block := range step.Blocks {
			switch b := block.(type) {
			case working.FigureBlock:
				actions = append(actions, b.Actions...)
			case working.ChoiceBlock:
				if b.Keep != nil {
					actions = append(actions, *b.Keep)
				}
				for i := range b.Choices {
					var chosen []string
					for j, choice := range b.Choices {
						if choice.Chosen != (i == j) {
							chosen = append(chosen, choice.Value)
						}
					}
					if chosen == nil {
						continue // the last one cannot be taken back
					}
					set := []problem.Set{{Pointer: b.Pointer, Value: chosen}}
					for _, drop := range b.Drops {
						set = append(set, problem.Set{Pointer: drop})
					}
					add("choose "+b.Choices[i].Value, set...)
				}
			case working.PlaceBlock:
				var place []any
				for _, field := range b.Fields {
					if field.Levels != nil {
						place = append(place, field.Levels[len(field.Levels)-1])
						continue
					}
					x, _ := data.ParseNumber(field.Value)
					place = append(place, x)
				}
				add("place", problem.Set{Pointer: b.Pointer, Value: []any{place}})
			case working.ContrastBlock:
				first, last := b.Groups[0], b.Groups[len(b.Groups)-1]
				add("contrast", problem.Set{Pointer: b.Pointer,
					Value: map[string]any{"weights": map[string]any{first.Code: 1, last.Code: -1}, "tail": "left"}})
			}
		}
	}
	return actions
}

// Whatever is offered from every demo problem leads to a solution.
func TestEveryAction(t *testing.T) {
	taken := map[string]int{}
	for name, p := range demoProblems(t) {
		s, err := Work(t.Context(), p)
		require.NoError(t, err, name)
		for _, action := range actionsOf(s) {
			next, err := Act(p, action)
			require.NoError(t, err, "%s: %s", name, action.ID)
			_, err = Work(t.Context(), next)
			require.NoError(t, err, "%s: %s", name, action.ID)
			taken[action.ID]++
		}
	}
	for _, id := range []string{"alpha", "without-1", "without-2", "keep-fit", "place", "contrast", "choose ferry", "predict", "boundary_1",
		"response_scale", "try-normal"} {
		assert.NotZero(t, taken[id], id)
	}
}

func TestCarryKeepsWhatTheTargetDeclares(t *testing.T) {
	p := &problem.Problem{
		Procedure: "another", Alpha: 0.01, Tail: problem.Left,
		Roles:   problem.Roles{"response": {"minutes"}, "block": {"day"}},
		Options: map[string]jsontext.Value{"variances": jsontext.Value(`"equal"`), "sigma": jsontext.Value(`3`)},
	}
	carried, err := Carry(p, "t-two-sample")
	require.NoError(t, err)
	assert.Equal(t, problem.Left, carried.Tail)
	assert.Equal(t, 0.01, carried.Alpha)
	assert.Equal(t, problem.Roles{"response": {"minutes"}}, carried.Roles)
	assert.Equal(t, map[string]jsontext.Value{"variances": jsontext.Value(`"equal"`)}, carried.Options)
	_, err = Carry(p, "nowhere")
	assert.Error(t, err)
}

// Every solution has the steps in their order and survives JSON without a
// number that JSON cannot hold.
func TestEverySolutionIsComplete(t *testing.T) {
	order := []working.StepID{"question", "data", "look", "hypotheses", "conditions", "statistic", "critical-value", "p-value", "decision",
		"conclusion", "report", "follow-up"}
	for name, p := range demoProblems(t) {
		s, err := Work(t.Context(), p)
		require.NoError(t, err, name)
		var steps []working.StepID
		for _, step := range s.Steps {
			steps = append(steps, step.ID)
			assert.NotEmpty(t, step.Blocks, step.ID)
		}
		want := order
		if p.Procedure == "normality" { // W has no critical values
			want = slices.DeleteFunc(slices.Clone(order), func(id working.StepID) bool { return id == working.CriticalValue })
		}
		assert.Equal(t, want, steps)
		assert.NotEmpty(t, s.Conclusion)
		assert.NotEmpty(t, s.Report)
		file, err := json.Marshal(s)
		require.NoError(t, err, name)
		assert.NotContains(t, string(file), "NaN")
		checkWords(t, s)
		assert.False(t, strings.Contains(working.Markdown(s, ""), "NaN"))
	}
}

func TestDescriptions(t *testing.T) {
	for _, d := range Descriptions() {
		assert.NotEmpty(t, d.Title)
		assert.True(t, strings.HasSuffix(d.Asks, "?"), d.Asks)
		assert.Equal(t, d.Tails, d.Compared != "", "%s: what may be less or greater", d.ID)
		for _, role := range d.Roles {
			assert.NotEmpty(t, role.Says)
			assert.NotEmpty(t, role.Kinds)
		}
		for _, option := range d.Options {
			assert.NotEmpty(t, option.Says)
		}
	}
}

// slips are what no sentence holds: marks of style that were not read, arguments that are
// missing, a number that does not agree with its noun, and spaces before a stop.
var slips = regexp.MustCompile(`[*$]|@\{|%!| [,.;]|,,|\.\.`)

var oneOfMany = regexp.MustCompile(`(^|[^d] )1 (cases|groups|rows|levels|categories|degrees)\b`)

// checkWords finds slips in all that a solution says.
func checkWords(t *testing.T, s *working.Solution) {
	t.Helper()
	file, err := json.Marshal(s)
	require.NoError(t, err)
	var solution any
	require.NoError(t, json.Unmarshal(file, &solution))
	var walk func(at string, x any)
	walk = func(at string, x any) {
		switch x := x.(type) {
		case map[string]any:
			for key, value := range x {
				text, isText := value.(string)
				if isText && slices.Contains([]string{"words", "says", "title", "label", "reason", "conclusion", "report", "key"}, key) {
					assert.NotRegexp(t, slips, text, "%s/%s", at, key)
				}
				walk(at+"/"+key, value)
			}
		case []any:
			for _, value := range x {
				walk(at, value)
			}
		}
	}
	walk("", solution)
	// A number may stand apart from its noun, so that only the whole sentence shows it.
	for line := range strings.Lines(working.Markdown(s, "")) {
		assert.NotRegexp(t, oneOfMany, line)
	}
}

// checkReferences works problems and compares with what must come out. The
// quantities named by only must be there exactly where they are expected.
func checkReferences(t *testing.T, name string, only ...string) {
	t.Helper()
	file, err := os.ReadFile("testdata/" + name)
	require.NoError(t, err)
	var cases []struct {
		Name     string             `json:"name"`
		Problem  jsontext.Value     `json:"problem"`
		Expected map[string]*string `json:"expected"`
		Reject   bool               `json:"reject"`
		Deciding working.Ref        `json:"deciding"` // "p" when empty; "none" where nothing is decided
	}
	require.NoError(t, json.Unmarshal(file, &cases))
	for _, c := range cases {
		t.Run(c.Name, func(t *testing.T) {
			s := mustWork(t, string(c.Problem))
			checkWords(t, s)
			got := quantities(s)
			maps.Copy(got, cells(s))
			for id, text := range c.Expected {
				value, there := got[id]
				require.True(t, there, "%s is missing", id)
				if text == nil {
					assert.True(t, math.IsInf(value, 0) || math.IsNaN(value), "%s must be open", id)
					continue
				}
				want, err := strconv.ParseFloat(*text, 64)
				require.NoError(t, err)
				if want == 0 {
					assert.Zero(t, value, id)
					continue
				}
				assert.InEpsilon(t, want, value, 2e-12, id)
			}
			for _, id := range only {
				_, wanted := c.Expected[id]
				_, there := got[id]
				assert.Equal(t, wanted, there, id)
			}
			if c.Deciding == "none" {
				assert.Nil(t, s.Decision)
				return
			}
			decision := &working.Decision{Reject: c.Reject, P: cmp.Or(c.Deciding, "p"), ByPValue: c.Reject}
			if !slices.Contains([]string{"normality", "exact-independence"}, s.Procedure) {
				decision.ByCriticalValue = new(c.Reject)
			}
			assert.Equal(t, decision, s.Decision)
		})
	}
}

// cells returns the numbers of the tables that the contract names as <table>/<key>/<column>.
func cells(s *working.Solution) map[string]float64 {
	out := map[string]float64{}
	for _, table := range s.Tables {
		if !slices.Contains([]string{"groups", "categories", "cells", "comparisons", "effects", "coefficients", "predictions",
			"predictions_measured", "factors", "fits", "pairs", "cases"}, table.ID) {
			continue
		}
		for i := range table.Total {
			row := table.Row(i)
			var key []string
			for at, column := range table.Columns {
				if slices.Contains(table.Key, column.ID) {
					key = append(key, fmt.Sprint(row[at].Value))
				}
			}
			for at, column := range table.Columns {
				name := fmt.Sprintf("%s/%s/%s", table.ID, strings.Join(key, "|"), column.ID)
				switch value := row[at].Value.(type) {
				case working.Number:
					out[name] = float64(value)
				case int:
					out[name] = float64(value)
				}
			}
		}
	}
	return out
}

// A refusal is a wrong problem file, the field that the first mistake names, and what
// is said of it.
type refusal struct{ file, pointer, says string }

// checkRefusals reads and works each file and expects it to be refused.
func checkRefusals(t *testing.T, refusals map[string]refusal) {
	t.Helper()
	for name, c := range refusals {
		t.Run(name, func(t *testing.T) {
			p, err := problem.Parse([]byte(c.file))
			if err == nil {
				_, err = Work(t.Context(), p)
			}
			var errs problem.Errors
			require.ErrorAs(t, err, &errs)
			assert.Equal(t, c.pointer, errs[0].Pointer, errs[0].Says)
			assert.Contains(t, errs[0].Error(), c.says)
		})
	}
}
