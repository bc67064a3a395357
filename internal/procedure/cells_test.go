package procedure_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// The decimals that a problem asks for are those of every table, but for what was counted, what
// was entered and what stands in a printed table.
func TestDecimalsOfTables(t *testing.T) {
	const asked = 5
	problems := proctest.DemoProblems(t)
	for name, columns := range map[string]map[string]string{
		"crossings": {"coefficients": "coefficient se t ci_low ci_high", "variance": "ss ms", "predictions": "fitted mean_low new_high",
			"cases": "fitted residual standardized leverage cooks_distance"},
		"crossings.several": {"correlations": "r", "coefficients": "coefficient se t", "standardized": "standardized_coefficient vif",
			"fits": "r_squared residual_sd aic", "predictions": "fitted new_low"},
		"crossings.takings": {"pairs": "r t ci_low ci_high"},
		"boarding":          {"groups": "mean sd se ci_low ci_high", "comparisons": "difference se ci_low", "effects": "difference se t"},
		"lost-property":     {"categories": "expected difference contribution residual ci_low ci_high"},
		"riders.ticket":     {"cells": "expected contribution residual adjusted_residual row_percent"},
		"gaps.exponential":  {"bins": "expected contribution"},
		"boarding-by-pier":  {"groups": "median mean_rank"},
		"two-berths":        {"groups": "mean sd"},
	} {
		p := problems[name]
		require.NotNil(t, p, name)
		with := *p
		with.Decimals = problem.EveryDecimals(asked)
		s, err := procedure.Work(t.Context(), &with)
		require.NoError(t, err, name)
		checked := 0
		for id, wanted := range columns {
			table := s.Table(id)
			require.NotNil(t, table, "%s: %s", name, id)
			for j, column := range table.Columns {
				if !strings.Contains(" "+wanted+" ", " "+column.ID+" ") {
					continue
				}
				checked++
				for i := range table.Total {
					cell := table.Row(i)[j]
					if value, ok := cell.Value.(working.Number); ok && cell.Shown != "–" && cell.Shown != "" {
						assert.Equal(t, working.FormatNumber(float64(value), asked), cell.Shown, "%s: row %d of %s in %s", name, i, column.ID, id)
					}
				}
			}
		}
		assert.NotZero(t, checked, name)
	}
}

// A table calls variables by their titles, but by their names where two titles are the same; the
// JSON has their names.
func TestVariablesInTables(t *testing.T) {
	variable := func(name, label, values string) string {
		return `{"name":"` + name + `","label":"` + label + `","kind":"number","values":` + values + `}`
	}
	work := func(labels ...string) *working.Table {
		return proctest.Work(t, proctest.Problem("regression-multiple", `{"response":"y","predictors":["x","w"]}`, "",
			variable("y", "Fuel", "[3,5,4,8,9,7,12,11]"), variable("x", labels[0], "[1,2,3,4,5,6,7,8]"),
			variable("w", labels[1], "[2,1,4,3,1,5,2,6]"))).Table("coefficients")
	}
	shown := func(table *working.Table) (values []any, words []string) {
		for i := range table.Total {
			values, words = append(values, table.Row(i)[0].Value), append(words, table.Row(i)[0].Shown)
		}
		return values, words
	}
	values, words := shown(work("Crossing time", "Wind"))
	assert.Equal(t, []any{"intercept", "x", "w"}, values)
	assert.Equal(t, []string{"intercept", "Crossing time", "Wind"}, words)
	values, words = shown(work("Wind", "Wind"))
	assert.Equal(t, []any{"intercept", "x", "w"}, values)
	assert.Equal(t, []string{"intercept", "x", "w"}, words)
}

// Each kind of number has decimals of its own; what is missing is shown as needed, and p never less than decides.
func TestDecimalsByKind(t *testing.T) {
	problems := proctest.DemoProblems(t)
	work := func(name string, decimals problem.Decimals) *working.Solution {
		p := *problems[name]
		p.Decimals = &decimals
		s, err := procedure.Work(t.Context(), &p)
		require.NoError(t, err)
		return s
	}
	shown := func(s *working.Solution, table, column string) string {
		found := s.Table(table)
		for j, c := range found.Columns {
			if c.ID == column {
				return found.Row(0)[j].Shown
			}
		}
		t.Fatalf("no column %s in %s", column, table)
		return ""
	}
	of := func(s *working.Solution, id working.Ref) string { return proctest.Quantity(t, s, id).Display }

	berths := work("two-berths", problem.Decimals{Statistic: new(1), P: new(2), Estimate: new(2)})
	assert.Equal(t, []string{"−2.1", "±2.1", "0.06", "−1.18", "0.57", "12.38"}, []string{of(berths, "t"), "±" + of(berths, "critical_high"),
		of(berths, "p"), of(berths, "difference"), of(berths, "se"), of(berths, "mean_1")})
	assert.Equal(t, "−0.75", of(berths, "cohen_d"), "a size is an estimate")

	ticket := work("riders.ticket", problem.Decimals{Expected: new(2), Percent: new(0)})
	counts := proctest.Cells(ticket)
	row := ticket.Table("cells").Row(0)
	key := "cells/" + row[0].Shown + "|" + row[1].Shown + "/"
	assert.Equal(t, working.FormatNumber(counts[key+"expected"], 2), shown(ticket, "cells", "expected"))
	assert.Equal(t, working.FormatNumber(counts[key+"row_percent"], 0), shown(ticket, "cells", "row_percent"))
	assert.Equal(t, working.FormatNumber(counts[key+"contribution"], 3), shown(ticket, "cells", "contribution"), "as needed")

	crossings := work("crossings.several", problem.Decimals{Estimate: new(1), P: new(5)})
	assert.Equal(t, "9.0", shown(crossings, "coefficients", "coefficient"))
	assert.Equal(t, "3.775", shown(crossings, "coefficients", "t"))
	assert.Equal(t, working.FormatNumber(proctest.Cells(crossings)["coefficients/intercept/p"], 5), shown(crossings, "coefficients", "p"))
}
