package procedure_test

import (
	"math"
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
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// Every quantity that has a formula recomputes from its inputs, and from p every
// path leads back to the data or to something the problem gives.
func TestTheGraphOfQuantities(t *testing.T) {
	for name, p := range proctest.DemoProblems(t) {
		t.Run(name, func(t *testing.T) {
			w, err := procedure.WorkOut(t.Context(), p)
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
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		for _, action := range actionsOf(s) {
			next, err := procedure.Act(p, action)
			require.NoError(t, err, "%s: %s", name, action.ID)
			_, err = procedure.Work(t.Context(), next)
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
	carried, err := procedure.Carry(p, "t-two-sample")
	require.NoError(t, err)
	assert.Equal(t, problem.Left, carried.Tail)
	assert.Equal(t, 0.01, carried.Alpha)
	assert.Equal(t, problem.Roles{"response": {"minutes"}}, carried.Roles)
	assert.Equal(t, map[string]jsontext.Value{"variances": jsontext.Value(`"equal"`)}, carried.Options)
	_, err = procedure.Carry(p, "nowhere")
	assert.Error(t, err)
}

// Every solution has the steps in their order and survives JSON without a
// number that JSON cannot hold.
func TestEverySolutionIsComplete(t *testing.T) {
	order := []working.StepID{"question", "data", "look", "hypotheses", "conditions", "statistic", "critical-value", "p-value", "decision",
		"conclusion", "report", "follow-up"}
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
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
		proctest.CheckWords(t, s)
		assert.False(t, strings.Contains(working.Markdown(s, ""), "NaN"))
	}
}

func TestDescriptions(t *testing.T) {
	for _, d := range procedure.Descriptions() {
		assert.NotEmpty(t, d.Title)
		assert.True(t, strings.HasSuffix(d.Asks, "?"), d.Asks)
		assert.Equal(t, d.Tails, d.Compared != "", "%s: what may be less or greater", d.ID)
		assert.NotEmpty(t, d.Family, d.ID)
		for _, role := range d.Roles {
			assert.NotEmpty(t, role.Says)
			assert.NotEmpty(t, role.Kinds)
		}
		for _, option := range d.Options {
			assert.NotEmpty(t, option.Says)
		}
	}
}

// The test has its name, where the question is put and in the line for a paper; it follows the options.
func TestNamesOfTests(t *testing.T) {
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		if s.Decision == nil {
			continue
		}
		require.NotEmpty(t, s.Test, name)
		assert.Contains(t, working.Markdown(s, name), "The test is the **"+s.Test+"**.", name)
		assert.True(t, strings.EqualFold(s.Test, s.Report[:len(s.Test)]), "%s: %s", name, s.Report)
	}
	berths := proctest.DemoProblems(t)["two-berths"]
	for variances, want := range map[string]string{
		"unequal": "two-sample t test, variances not assumed equal", "equal": "two-sample t test, variances assumed equal",
	} {
		p, err := problem.Apply(berths, []problem.Set{{Pointer: "/options/variances", Value: variances}})
		require.NoError(t, err)
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err)
		assert.Equal(t, want, s.Test)
	}
}

// What can be kept of a fit follows from the data by its formula: what the fit gives and what is left of a case
// add up to the response, and a case of a group that is not compared has neither.
func TestWhatCanBeKept(t *testing.T) {
	offered := map[string]bool{}
	check := func(name string, p *problem.Problem) (missing int) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		for _, step := range s.Steps {
			for _, block := range step.Blocks {
				b, ok := block.(working.DeriveBlock)
				if !ok || strings.Contains(b.Columns[1].Name, "log ") {
					continue
				}
				offered[s.Procedure] = true
				set := problem.NewSet()
				set.Columns = nil
				for i, v := range p.Data.Variables {
					c := &data.Column{Key: i + 1, Name: v.Name, Kind: v.Kind}
					for row := range v.Len() {
						cell := ""
						switch {
						case v.Kind == data.Number && !math.IsNaN(v.Numbers[row]):
							cell = data.FormatNumber(v.Numbers[row])
						case v.Kind == data.Category && v.Codes[row] >= 0:
							cell = v.Levels[v.Codes[row]].Code
						}
						c.Cells = append(c.Cells, cell)
					}
					set.Columns = append(set.Columns, c)
				}
				for i, d := range b.Columns {
					set.Columns = append(set.Columns, &data.Column{Key: 100 + i, Name: d.Name, Kind: data.Number, Formula: d.Formula})
				}
				require.Empty(t, set.Derive(), name)
				kept := set.Columns[len(set.Columns)-2:]
				response := p.Data.Variables.Find(p.Roles["response"][0])
				for row, y := range response.Numbers {
					fitted, err := strconv.ParseFloat(kept[0].Cells[row], 64)
					if err != nil {
						missing++
						continue
					}
					residual, err := strconv.ParseFloat(kept[1].Cells[row], 64)
					if err == nil {
						assert.InDelta(t, y, fitted+residual, 1e-6*(1+math.Abs(y)), "%s: row %d", name, row)
					}
				}
			}
		}
		return missing
	}
	problems := proctest.DemoProblems(t)
	for name, p := range problems {
		check(name, p)
	}
	for _, id := range []string{"t-two-sample", "anova-one-way", "regression-simple", "regression-multiple"} {
		assert.True(t, offered[id], id)
	}
	two, err := problem.Apply(problems["boarding"], []problem.Set{
		{Pointer: "/procedure", Value: "t-two-sample"}, {Pointer: "/options", Value: map[string]any{"groups": []string{"Mole", "Quarry"}}},
	})
	require.NoError(t, err)
	assert.Equal(t, 12+9, check("two of four groups", two))
}
