// Package proctest holds what the tests of procedures share: how a problem is written in a line,
// how what comes out is read, and how both are compared with references.
package proctest

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/working"
)

// Column writes a variable of a problem file. Numbers that are NaN are missing.
func Column[T any](name, kind string, values []T) string {
	shown := make([]string, len(values))
	for i, v := range values {
		switch v := any(v).(type) {
		case float64:
			shown[i] = fmt.Sprint(v)
			if math.IsNaN(v) {
				shown[i] = "null"
			}
		default:
			shown[i] = fmt.Sprintf("%q", v)
		}
	}
	return fmt.Sprintf(`{"name":%q,"kind":%q,"values":[%s]}`, name, kind, strings.Join(shown, ","))
}

// Problem writes a problem file on variables.
func Problem(procedure, roles, more string, variables ...string) string {
	return `{"grund":1,"procedure":"` + procedure + `","roles":` + roles + more + `,"data":{"variables":[` + strings.Join(variables, ",") +
		`]}}`
}

// Cell returns a number of a table by row and column.
func Cell(t *testing.T, s *working.Solution, table string, row int, id string) float64 {
	t.Helper()
	rows := s.Table(table)
	require.NotNil(t, rows, table)
	at := slices.IndexFunc(rows.Columns, func(c working.Column) bool { return c.ID == id })
	require.GreaterOrEqual(t, at, 0, "%s has no column %s", table, id)
	switch value := rows.Row(row)[at].Value.(type) {
	case working.Number:
		return float64(value)
	case int:
		return float64(value)
	}
	t.Fatalf("%s of row %d in %s is no number", id, row, table)
	return 0
}

// RandomCases draws a response that differs among groups.
func RandomCases(rng *rand.Rand, n, groups int) (response []float64, group []string) {
	for i := range n {
		g := i % groups
		response = append(response, math.Round(100*(rng.NormFloat64()+float64(g)/2))/100)
		group = append(group, string(rune('A'+g)))
	}
	return response, group
}

// Figure returns the figure of that id.
func Figure(t *testing.T, s *working.Solution, id string) *working.Figure {
	t.Helper()
	for _, f := range s.Figures {
		if f.ID == id {
			return f
		}
	}
	t.Fatalf("there is no figure %q", id)
	return nil
}

// Marks returns the marks of a shape and role.
func Marks(f *working.Figure, shape working.Shape, role working.Role) []working.Mark {
	var out []working.Mark
	for _, m := range f.Marks {
		if m.Shape == shape && m.Role == role {
			out = append(out, m)
		}
	}
	return out
}

// Power answers a question about a problem file.
func Power(t *testing.T, file string, q working.PowerQuestion) *working.Power {
	t.Helper()
	p, err := problem.Parse([]byte(file))
	require.NoError(t, err)
	out, err := procedure.Power(t.Context(), p, q)
	require.NoError(t, err)
	return out
}

// DemoProblems returns every demo problem, and each with every live choice taken.
func DemoProblems(t *testing.T) map[string]*problem.Problem {
	t.Helper()
	problems, err := demo.Problems()
	require.NoError(t, err)
	require.NotEmpty(t, problems)
	out := map[string]*problem.Problem{}
	for _, each := range problems {
		name := each.Name
		p, err := problem.Parse(each.File)
		require.NoError(t, err, name)
		out[name] = p
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		for _, control := range s.Controls {
			for _, choice := range control.Choices {
				changed, err := problem.Apply(p, []problem.Set{{Pointer: control.Pointer, Value: choice.Value}})
				require.NoError(t, err)
				out[name+" "+control.ID+" "+choice.Label] = changed
			}
		}
	}
	return out
}

// CheckWords finds slips in all that a solution says.
func CheckWords(t *testing.T, s *working.Solution) {
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

// CheckReferences works problems and compares with what must come out. The
// Quantities named by only must be there exactly where they are expected.
func CheckReferences(t *testing.T, name string, only ...string) {
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
			s := Work(t, string(c.Problem))
			CheckWords(t, s)
			got := Quantities(s)
			maps.Copy(got, Cells(s))
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

// Cells returns the numbers of the tables that the contract names as <table>/<key>/<column>.
func Cells(s *working.Solution) map[string]float64 {
	out := map[string]float64{}
	for _, table := range s.Tables {
		if !slices.Contains([]string{"groups", "categories", "cells", "comparisons", "effects", "coefficients", "predictions",
			"predictions_measured", "factors", "fits", "pairs", "cases", "measurements", "variance", "within"}, table.ID) {
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

// Refusals are wrong problem files under a name of what is wrong, each with the field that the first
// mistake names and what is said of it.
type Refusals map[string][3]string

// CheckRefusals reads and works each file and expects it to be refused.
func CheckRefusals(t *testing.T, refusals Refusals) {
	t.Helper()
	for name, c := range refusals {
		file, pointer, says := c[0], c[1], c[2]
		t.Run(name, func(t *testing.T) {
			p, err := problem.Parse([]byte(file))
			if err == nil {
				_, err = procedure.Work(t.Context(), p)
			}
			var errs problem.Errors
			require.ErrorAs(t, err, &errs)
			assert.Equal(t, pointer, errs[0].Pointer, errs[0].Says)
			assert.Contains(t, errs[0].Error(), says)
		})
	}
}

// Simulate returns the finished simulation of a problem file.
func Simulate(t *testing.T, file string) *working.Simulation {
	t.Helper()
	p, err := problem.Parse([]byte(file))
	require.NoError(t, err)
	var last *working.Simulation
	reports := 0
	require.NoError(t, procedure.Simulate(t.Context(), p, func(s *working.Simulation) error {
		reports++
		assert.LessOrEqual(t, s.Drawn, s.Repetitions)
		last = s
		return nil
	}))
	assert.Greater(t, reports, 10, "it tells how far it is")
	require.Equal(t, working.Repetitions, last.Drawn)
	all, extreme := 0, 0
	for i := range last.Counts {
		all += last.Counts[i]
		extreme += last.Extreme[i]
		assert.LessOrEqual(t, last.Extreme[i], last.Counts[i])
	}
	assert.Equal(t, working.Repetitions, all)
	assert.Equal(t, last.AsExtreme, extreme)
	return last
}

// Quantity returns the quantity of that id.
func Quantity(t *testing.T, s *working.Solution, id working.Ref) *working.Quantity {
	t.Helper()
	for _, q := range s.Quantities {
		if q.ID == id {
			return q
		}
	}
	t.Fatalf("there is no quantity %q", id)
	return nil
}

// Work works a problem file.
func Work(t *testing.T, file string) *working.Solution {
	t.Helper()
	p, err := problem.Parse([]byte(file))
	require.NoError(t, err)
	s, err := procedure.Work(t.Context(), p)
	require.NoError(t, err)
	return s
}

// Quantities returns the values by id.
func Quantities(s *working.Solution) map[string]float64 {
	out := map[string]float64{}
	for _, q := range s.Quantities {
		out[string(q.ID)] = float64(q.Value)
	}
	return out
}

// TwoGroups is a problem file of two groups of values.
func TwoGroups(settings string, first, second []float64) string {
	var groups, values []string
	for i, xs := range [][]float64{first, second} {
		for _, x := range xs {
			groups = append(groups, fmt.Sprintf("%q", []string{"Mole", "Quarry"}[i]))
			values = append(values, fmt.Sprint(x))
		}
	}
	return fmt.Sprintf(`{"grund":1,"procedure":"t-two-sample",%s"roles":{"response":"minutes","group":"berth"},"data":{"variables":[
		{"name":"berth","kind":"category","values":[%s]},{"name":"minutes","kind":"number","values":[%s]}]}}`,
		settings, strings.Join(groups, ","), strings.Join(values, ","))
}

// Repeat returns n values that go round the given ones.
func Repeat(n int, values ...float64) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = values[i%len(values)]
	}
	return out
}

// Condition returns the condition of that id.
func Condition(t *testing.T, s *working.Solution, id string) *working.Condition {
	t.Helper()
	for _, c := range s.Conditions {
		if c.ID == id {
			return c
		}
	}
	t.Fatalf("there is no condition %q", id)
	return nil
}

// slips are what no sentence holds: marks of style that were not read, arguments that are
// missing, a number that does not agree with its noun, and spaces before a stop.
var slips = regexp.MustCompile(`[*$]|@\{|%!| [,.;]|,,|\.\.`)

var oneOfMany = regexp.MustCompile(`(^|[^d] )1 (cases|groups|rows|levels|categories|degrees)\b`)

// MeanVariance returns the mean of xs and their variance, by the textbook's formula.
func MeanVariance(xs []float64) (mean, variance float64) {
	for _, x := range xs {
		mean += x / float64(len(xs))
	}
	for _, x := range xs {
		variance += (x - mean) * (x - mean) / float64(len(xs)-1)
	}
	return mean, variance
}
