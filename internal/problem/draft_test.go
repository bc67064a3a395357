package problem

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
)

// typed returns a data set with these columns.
func typed(names []string, columns ...[]string) *data.Set {
	s := &data.Set{Form: data.FormCases}
	for i, name := range names {
		s.Columns = append(s.Columns, &data.Column{Name: name, Cells: columns[i]})
	}
	s.AssignKeys()
	return s
}

// summed returns a draft with a summary.
func summed(groups ...DraftGroup) *Draft {
	d := NewDraft()
	d.Entry, d.Summary = EnterSummary, groups
	return d
}

func TestDraftOfCases(t *testing.T) {
	set := typed([]string{"berth", "minutes", ""}, []string{"Mole", "Quarry", "", ""}, []string{"12,1", "", "13.4"}, []string{"", ""})
	d := NewDraft()
	d.Roles = Roles{"response": {"minutes"}, "group": {"berth"}}
	d.Claim.Text = "No difference."
	p, err := d.Problem(data.Prepare(set))
	require.NoError(t, err)
	assert.Equal(t, []string{"berth", "minutes"}, p.Data.Variables.Names(), "an empty column is no variable")
	assert.Equal(t, 3, p.Data.Variables[0].Len(), "blank rows at the end are no cases")
	assert.True(t, p.Data.Variables[0].Missing(2) && p.Data.Variables[1].Missing(1))
	assert.Equal(t, 12.1, p.Data.Variables[1].Numbers[0])
	assert.Equal(t, &Claim{Text: "No difference.", Says: Equal}, p.Claim)
}

func TestDraftOfGroups(t *testing.T) {
	set := typed([]string{"Mole", "Quarry"}, []string{"12.1", "11.8", "12.6"}, []string{"13.4", "", ""})
	set.Form, set.Response = data.FormGroups, data.Heading{Label: "Loading time", Unit: "min"}
	p, err := NewDraft().Problem(data.Prepare(set))
	require.NoError(t, err)
	group, response := p.Data.Variables[0], p.Data.Variables[1]
	assert.Equal(t, []float64{12.1, 11.8, 12.6, 13.4}, response.Numbers)
	assert.Equal(t, []int{0, 0, 0, 1}, group.Codes)
	assert.Equal(t, Roles{"response": {"response"}, "group": {"group"}}, p.Roles)
	assert.Equal(t, "min", response.Unit)
}

func TestDraftOfASummary(t *testing.T) {
	d := summed(DraftGroup{"Mole", "18", "12.38", "0.67"}, DraftGroup{}, DraftGroup{"", "15", "13.57", "2.13"})
	p, err := d.Problem(data.Prepare(NewSet()))
	require.NoError(t, err)
	groups := p.Data.Summary.Groups
	assert.Equal(t, []string{"Mole", "group 3"}, []string{groups[0].Label, groups[1].Label})
	assert.Equal(t, []float64{15, 13.57, 2.13}, []float64{groups[1].N, *groups[1].Mean, *groups[1].SD})
}

func TestDraftOfCounts(t *testing.T) {
	set := typed([]string{"Reason", "single", "return"}, []string{"work", "school"}, []string{"12", "8"}, []string{"30", "4"})
	set.Form, set.Group = data.FormCounts, data.Heading{Label: "Ticket"}
	p, err := NewDraft().Problem(data.Prepare(set))
	require.NoError(t, err)
	assert.Equal(t, [][]float64{{12, 30}, {8, 4}}, p.Data.Counts.Cells)
	assert.Equal(t, "Ticket", p.Data.Counts.ColumnVariable.Label)
	_, again, err := DraftOf(p)
	require.NoError(t, err)
	assert.Equal(t, set.Columns[1].Cells, again.Columns[1].Cells)

	p, err = NewDraft().Problem(data.Prepare(&data.Set{Form: data.FormCounts, Columns: set.Columns[:2]}))
	require.NoError(t, err)
	assert.Equal(t, []float64{12, 8}, p.Data.Counts.Observed)
	_, again, err = DraftOf(p)
	require.NoError(t, err)
	assert.Equal(t, data.FormCounts, again.Form)
	assert.Equal(t, []string{"12", "8"}, again.Columns[1].Cells)
}

func TestAlphaAsAPercentage(t *testing.T) {
	d := NewDraft()
	d.Alpha = "5 %"
	p, err := d.Problem(data.Prepare(typed([]string{"minutes"}, []string{"1"})))
	require.NoError(t, err)
	assert.Equal(t, 0.05, p.Alpha)
}

func TestCasesLeftOutByACondition(t *testing.T) {
	set := typed([]string{"minutes"}, []string{"12", "90", "75", "11"})
	d := NewDraft()
	d.LeaveOut = []LeftOut{{2, "clock stopped"}}
	d.LeaveOutWhere = []LeftOutWhere{{Where: "minutes > 60", Reason: ""}, {Where: " "}}
	p, err := d.Problem(data.Prepare(set))
	require.NoError(t, err)
	assert.Equal(t, []LeftOut{{2, "clock stopped"}, {3, "minutes > 60"}}, p.LeaveOut)

	p.Alpha = 0.1
	d.Take(p, data.Prepare(set))
	assert.Equal(t, []LeftOut{{2, "clock stopped"}}, d.LeaveOut, "the condition stays a condition")
	assert.Equal(t, "0.1", d.Alpha)

	d.LeaveOutWhere[0].Where = "hours > 1"
	_, err = d.Problem(data.Prepare(set))
	assert.ErrorContains(t, err, "/leave_out_where/0/where: there is no column “hours”")
}

// What is wrong is said at the place where it was typed.
// A mistake in a column that the problem does not use stands in nobody's way; one in a
// column that a derived variable or a condition follows from does.
func TestMistakesOfColumnsNotUsed(t *testing.T) {
	set := func() *data.Set {
		s := typed([]string{"minutes", "delay", "wind"}, []string{"12.1", "11.8", "13.4"}, []string{"1o", "2", "4"}, []string{"3", "x", "5"})
		for _, c := range s.Columns {
			c.Kind = data.Number
		}
		s.Columns = append(s.Columns, &data.Column{Name: "late", Formula: "delay * 2", Kind: data.Number})
		return s
	}
	pointers := func(change func(d *Draft)) []string {
		d := NewDraft()
		d.Procedure = "t-one-sample"
		change(d)
		_, err := d.Problem(data.Prepare(set()))
		var errs Errors
		errors.As(err, &errs)
		var out []string
		for _, e := range errs {
			out = append(out, e.Pointer)
		}
		return out
	}
	assert.Empty(t, pointers(func(d *Draft) { d.Roles = Roles{"response": {"minutes"}} }))
	assert.Contains(t, pointers(func(d *Draft) { d.Roles = Roles{"response": {"delay"}} }), "/columns/1/cells/0")
	assert.NotContains(t, pointers(func(d *Draft) { d.Roles = Roles{"response": {"delay"}} }), "/columns/2/cells/1")
	assert.Contains(t, pointers(func(d *Draft) { d.Roles = Roles{"response": {"late"}} }), "/columns/1/cells/0", "derived from it")
	assert.Contains(t, pointers(func(d *Draft) {
		d.Roles = Roles{"response": {"minutes"}}
		d.LeaveOutWhere = []LeftOutWhere{{Where: "wind > 4"}}
	}), "/columns/2/cells/1", "a condition names it")
	assert.Len(t, pointers(func(d *Draft) {}), 2, "before roles are given all are shown")
}

func TestMistakesLeadIntoTheDraft(t *testing.T) {
	levels := typed([]string{"berth"}, []string{"1", "3"})
	levels.Columns[0].Kind, levels.Columns[0].Levels = data.Category, []string{"1", "2"}
	groups := typed([]string{"Mole", "Mole"}, []string{"1"}, []string{"x"})
	groups.Form = data.FormGroups
	counts := typed([]string{"day", "count"}, []string{"Mon", "Tue"}, []string{"1.5", ""})
	counts.Form = data.FormCounts
	derived := typed([]string{"minutes"}, []string{"1"})
	derived.Columns = append(derived.Columns, &data.Column{Name: "late", Formula: "minute > 3"})
	alpha := NewDraft()
	alpha.Alpha = "5o"
	for name, c := range map[string]struct {
		draft    *Draft
		set      *data.Set
		pointers []string
	}{
		"no data": {NewDraft(), NewSet(), []string{"/columns"}},
		"a cell": {NewDraft(), typed([]string{"", "berth", "minutes"}, []string{"", ""}, []string{"Mole", "Quarry", "Mole"},
			[]string{"12.1", "12.9o", "3"}), []string{"/columns/2/cells/1"}},
		"a name":            {NewDraft(), typed([]string{"", "minutes"}, []string{"Mole"}, []string{"12.1"}), []string{"/columns/0/name"}},
		"a name twice":      {NewDraft(), typed([]string{"minutes", "minutes"}, []string{"1"}, []string{"2"}), []string{"/columns/1/name"}},
		"alpha":             {alpha, typed([]string{"minutes"}, []string{"1"}), []string{"/alpha"}},
		"a level":           {NewDraft(), levels, []string{"/columns/0/cells/1"}},
		"a formula":         {NewDraft(), derived, []string{"/columns/1/formula"}},
		"groups":            {NewDraft(), groups, []string{"/columns/1/name", "/columns/1/cells/0"}},
		"counts":            {NewDraft(), counts, []string{"/columns/1/cells/0", "/columns/1/cells/1"}},
		"no summary":        {summed(), NewSet(), []string{"/summary"}},
		"a summary's blank": {summed(DraftGroup{"Mole", "2", "", "1"}), NewSet(), []string{"/summary/0/mean"}},
		"a summary's n":     {summed(DraftGroup{}, DraftGroup{"Mole", "2.5", "1", "1"}), NewSet(), []string{"/summary/1/n"}},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := c.draft.Problem(data.Prepare(c.set))
			var errs Errors
			require.ErrorAs(t, err, &errs)
			var pointers []string
			for _, e := range errs {
				pointers = append(pointers, e.Pointer)
			}
			assert.Equal(t, c.pointers, pointers)
		})
	}
}

// A problem file that is opened, edited nowhere and exported is the same problem.
func TestDraftOfAFileGivesTheSameProblem(t *testing.T) {
	for _, file := range []string{whole,
		`{"grund":1,"procedure":"t-two-sample","data":{"summary":{"response":{"label":"Loading time","unit":"min"},"groups":[{"label":"a",` +
			`"n":3,"mean":1.5,"sd":0.1},{"label":"b","n":4,"mean":2,"sd":0}]}}}`,
		`{"grund":1,"procedure":"t-two-sample","data":{"counts":{"row_variable":{"label":"Reason"},"column_variable":{"label":"Ticket"},` +
			`"rows":["a","b"],"columns":["x","y"],"cells":[[1,2],[3,4]]}}}`,
		`{"grund":1,"procedure":"t-two-sample","data":{"counts":{"variable":{"label":"Day"},"categories":["Mon","Tue"],"observed":[18,22]}}}`,
		`{"grund":1,"procedure":"t-two-sample","data":{"variables":[{"name":"id","kind":"identifier","values":["001","002"]},` +
			`{"name":"minutes","kind":"number","values":[1,2]}]}}`,
	} {
		p, err := Parse([]byte(file))
		require.NoError(t, err)
		d, set, err := DraftOf(p)
		require.NoError(t, err)
		again, err := d.Problem(data.Prepare(set))
		require.NoError(t, err)
		assert.Equal(t, stringOf(t, p), stringOf(t, again))
	}
}

func TestApply(t *testing.T) {
	p, err := Parse([]byte(whole))
	require.NoError(t, err)
	changed, err := Apply(p, []Set{
		{"/alpha", 0.1}, {"/options/difference", 2.5}, {"/options/variances", nil}, {"/decimals", nil},
		{"/leave_out/-", map[string]any{"case": 1.0, "reason": "typed wrongly"}},
	})
	require.NoError(t, err)
	assert.Equal(t, 0.1, changed.Alpha)
	assert.Equal(t, map[int]bool{0: true, 2: true}, changed.LeftOutCases())
	assert.Nil(t, changed.Decimals)
	assert.Len(t, changed.Options, 1)
	assert.Same(t, p.Data.Variables[0], changed.Data.Variables[0], "the data are shared")
	assert.Equal(t, 0.01, p.Alpha, "the problem itself is left alone")

	for _, set := range []Set{
		{"/alpha", 2.0}, {"/alpha", "0.1"}, {"/nonsense", 1.0}, {"/data/variables/0/name", "x"}, {"alpha", 0.1},
		{"/leave_out/-", map[string]any{"case": 9.0}}, {"/leave_out/7", nil}, {"/leave_out/x", 1.0}, {"/alpha/x", 1.0}, {"/leave_out", "none"},
	} {
		_, err := Apply(p, []Set{set})
		var errs Errors
		assert.ErrorAs(t, err, &errs, set.Pointer)
	}
}

func TestConditionsFollowRenamedColumns(t *testing.T) {
	d := NewDraft()
	d.LeaveOutWhere = []LeftOutWhere{{Where: `minutes > 3 and berth == "minutes"`}}
	d.Rename([]string{"minutes", "berth"}, map[string]string{"minutes": "loading time"})
	assert.Equal(t, `loading time > 3 and berth == "minutes"`, d.LeaveOutWhere[0].Where)
}

// Counts in classes come into the form and out again; ranges with gaps are asked about.
func TestCountsInClasses(t *testing.T) {
	file := `{"grund":1,"procedure":"chi-square-distribution","options":{"parameters":{"rate":0.02}},` +
		`"data":{"counts":{"variable":{"label":"Gap","unit":"s"},"boundaries":[-5,0,60,120.5],"observed":[1,31,14]}}}`
	p, err := Parse([]byte(file))
	require.NoError(t, err)
	d, set, err := DraftOf(p)
	require.NoError(t, err)
	assert.Equal(t, []string{"-5 to 0", "0 to 60", "60 to 120.5"}, set.Columns[0].Cells)
	again, err := d.Problem(data.Prepare(set))
	require.NoError(t, err)
	assert.Equal(t, p.Data.Counts.Boundaries, again.Data.Counts.Boundaries)
	assert.Equal(t, p.Data.Counts.Observed, again.Data.Counts.Observed)
	assert.Equal(t, "s", again.Data.Counts.Variable.Unit)

	for name, c := range map[string]struct {
		labels     []string
		boundaries []float64
		says       string
	}{
		"hyphens":        {[]string{"0-60", "60-120", "120 - 180"}, []float64{0, 60, 120, 180}, ""},
		"dashes":         {[]string{"0–1,5", "1,5–3"}, []float64{0, 1.5, 3}, ""},
		"below 0":        {[]string{"-3--1", "-1-2"}, []float64{-3, -1, 2}, ""},
		"a gap":          {[]string{"0–59", "60–119"}, []float64{0, 59, 119}, "as 0 to 60 and 60 to 119"},
		"an overlap":     {[]string{"0–60", "50–100"}, []float64{0, 60, 100}, "begins below the end"},
		"names":          {[]string{"Mon", "Tue"}, nil, ""},
		"names with a –": {[]string{"Mole–Lantern", "Quarry–Saltgate"}, nil, ""},
	} {
		boundaries, ok, mistake := classBoundaries(c.labels)
		assert.Equal(t, c.boundaries != nil, ok, name)
		assert.Equal(t, c.boundaries, boundaries, name)
		if c.says == "" {
			assert.Nil(t, mistake, name)
		} else if assert.NotNil(t, mistake, name) {
			assert.Contains(t, mistake.Says+"; "+mistake.Instead, c.says, name)
		}
	}
}
