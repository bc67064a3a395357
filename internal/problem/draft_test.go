package problem

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
)

func typed(names []string, columns ...[]string) *Draft {
	d := NewDraft()
	d.Columns = nil
	for i, name := range names {
		d.Columns = append(d.Columns, DraftColumn{Name: name, Cells: columns[i]})
	}
	return d
}

func TestDraftOfCases(t *testing.T) {
	d := typed([]string{"berth", "minutes", ""}, []string{"Mole", "Quarry", "", ""}, []string{"12,1", "", "13.4"}, []string{"", ""})
	d.Roles = Roles{"response": {"minutes"}, "group": {"berth"}}
	d.Claim.Text = "No difference."
	p, err := d.Problem()
	require.NoError(t, err)
	assert.Equal(t, []string{"berth", "minutes"}, p.Data.Variables.Names(), "an empty column is no variable")
	assert.Equal(t, 3, p.Data.Variables[0].Len(), "blank rows at the end are no cases")
	assert.True(t, p.Data.Variables[0].Missing(2) && p.Data.Variables[1].Missing(1))
	assert.Equal(t, 12.1, p.Data.Variables[1].Numbers[0])
	assert.Equal(t, &Claim{Text: "No difference.", Is: H0}, p.Claim)
}

func TestDraftOfColumns(t *testing.T) {
	d := typed([]string{"Mole", "Quarry"}, []string{"12.1", "11.8", "12.6"}, []string{"13.4", "", ""})
	d.Entry, d.Response = EnterColumns, Heading{Label: "Loading time", Unit: "min"}
	p, err := d.Problem()
	require.NoError(t, err)
	group, response := p.Data.Variables[0], p.Data.Variables[1]
	assert.Equal(t, []float64{12.1, 11.8, 12.6, 13.4}, response.Numbers)
	assert.Equal(t, []int{0, 0, 0, 1}, group.Codes)
	assert.Equal(t, Roles{"response": {"response"}, "group": {"group"}}, p.Roles)
	assert.Equal(t, "min", response.Unit)
}

func TestDraftOfASummary(t *testing.T) {
	d := typed(SummaryColumns, []string{"Mole", ""}, []string{"18", "15"}, []string{"12.38", "13.57"}, []string{"0.67", "2.13"})
	d.Entry = EnterSummary
	p, err := d.Problem()
	require.NoError(t, err)
	groups := p.Data.Summary.Groups
	assert.Equal(t, []string{"Mole", "group 2"}, []string{groups[0].Label, groups[1].Label})
	assert.Equal(t, []float64{15, 13.57, 2.13}, []float64{groups[1].N, *groups[1].Mean, *groups[1].SD})
}

func TestAlphaAsAPercentage(t *testing.T) {
	d := typed([]string{"minutes"}, []string{"1"})
	d.Alpha = "5 %"
	p, err := d.Problem()
	require.NoError(t, err)
	assert.Equal(t, 0.05, p.Alpha)
}

// What is wrong is said at the place where it was typed.
func TestMistakesLeadIntoTheDraft(t *testing.T) {
	cases := typed([]string{"", "berth", "minutes"}, []string{"", ""}, []string{"Mole", "Quarry", "Mole"}, []string{"12.1", "12.9o", "3"})
	unnamed := typed([]string{"", "minutes"}, []string{"Mole"}, []string{"12.1"})
	twice := typed([]string{"minutes", "minutes"}, []string{"1"}, []string{"2"})
	alpha := typed([]string{"minutes"}, []string{"1"})
	alpha.Alpha = "5o"
	levels := typed([]string{"berth"}, []string{"1", "3"})
	levels.Columns[0].Kind, levels.Columns[0].Levels = data.Category, []string{"1", "2"}
	summary := typed(SummaryColumns, []string{"Mole"}, []string{"2.5"}, []string{""}, []string{"-1"})
	summary.Entry = EnterSummary
	size := typed(SummaryColumns, []string{"Mole"}, []string{"2.5"}, []string{"1"}, []string{"1"})
	size.Entry = EnterSummary
	columns := typed([]string{"Mole", "Mole"}, []string{"1"}, []string{"x"})
	columns.Entry = EnterColumns
	for name, c := range map[string]struct {
		draft    *Draft
		pointers []string
	}{
		"no data":           {NewDraft(), []string{"/columns"}},
		"a cell":            {cases, []string{"/columns/2/cells/1"}},
		"a name":            {unnamed, []string{"/columns/0/name"}},
		"a name twice":      {twice, []string{"/columns/1/name"}},
		"alpha":             {alpha, []string{"/alpha"}},
		"a level":           {levels, []string{"/columns/0/cells/1"}},
		"a summary's blank": {summary, []string{"/columns/2/cells/0"}},
		"a summary's n":     {size, []string{"/columns/1/cells/0"}},
		"groups":            {columns, []string{"/columns/1/name", "/columns/1/cells/0"}},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := c.draft.Problem()
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
	p, err := Parse([]byte(whole))
	require.NoError(t, err)
	d, err := DraftOf(p)
	require.NoError(t, err)
	again, err := d.Problem()
	require.NoError(t, err)
	assert.Equal(t, stringOf(t, p), stringOf(t, again))

	summary := `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"response":{"label":"Loading time","unit":"min"},"groups":[{"label":"a","n":3,"mean":1.5,"sd":0.1},{"label":"b","n":4,"mean":2,"sd":0}]}}}`
	p, err = Parse([]byte(summary))
	require.NoError(t, err)
	d, err = DraftOf(p)
	require.NoError(t, err)
	again, err = d.Problem()
	require.NoError(t, err)
	assert.Equal(t, stringOf(t, p), stringOf(t, again))
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

// What was typed in another form of entry is kept beside, and changes no problem.
func TestColumnsPutBy(t *testing.T) {
	d := typed([]string{"minutes"}, []string{"1"})
	before, err := d.Problem()
	require.NoError(t, err)
	d.PutBy = map[Entry][]DraftColumn{EnterSummary: {{Name: "label", Cells: []string{"Mole"}}}}
	after, err := d.Problem()
	require.NoError(t, err)
	assert.Equal(t, stringOf(t, before), stringOf(t, after))
}
