package data

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func cellsOf(s *Set) map[string][]string {
	out := map[string][]string{}
	for _, c := range s.Columns {
		out[c.Name] = c.Cells
	}
	return out
}

func read(t *testing.T, text string) *Sheet {
	t.Helper()
	sheet, err := Read(t.Context(), []byte(text), Options{})
	require.NoError(t, err)
	return sheet
}

func TestStackAndUnstack(t *testing.T) {
	wide := read(t, "Mole\tQuarry\n12.1\t13.4\n11.8\n").SetOf("loading")
	wide.Response = Heading{Label: "Loading time", Unit: "min"}
	long, err := wide.Stack([]int{0, 1}, "minutes", "berth")
	require.NoError(t, err)
	assert.Equal(t, map[string][]string{"berth": {"Mole", "Mole", "Quarry"}, "minutes": {"12.1", "11.8", "13.4"}}, cellsOf(long))
	assert.Equal(t, "min", long.Find("minutes").Unit)
	assert.Equal(t, []string{"Mole", "Quarry"}, long.Find("berth").Levels)

	again, err := long.Unstack("minutes", "berth")
	require.NoError(t, err)
	assert.Equal(t, FormGroups, again.Form)
	assert.Equal(t, map[string][]string{"Mole": {"12.1", "11.8"}, "Quarry": {"13.4"}}, cellsOf(again))
	group, response, mistakes := again.Grouped()
	require.Empty(t, mistakes)
	assert.Equal(t, []float64{12.1, 11.8, 13.4}[0], response.Numbers[0])
	assert.ElementsMatch(t, []int{0, 0, 1}, group.Codes)

	_, err = wide.Stack([]int{0}, "a", "b")
	assert.ErrorContains(t, err, "at least two")
	_, err = long.Unstack("minutes", "minutes")
	assert.ErrorContains(t, err, "another of groups")
}

func TestCountAndOpenOut(t *testing.T) {
	cases := read(t, "reason,ticket\nwork,single\nwork,monthly\nschool,single\nwork,single\n,single\n").SetOf("riders")
	table, err := cases.Count("reason", "ticket")
	require.NoError(t, err)
	assert.Equal(t, map[string][]string{"reason": {"work", "school"}, "single": {"2", "1"}, "monthly": {"1", "0"}}, cellsOf(table))
	assert.Equal(t, "ticket", table.Group.Label)
	opened, err := table.OpenOut()
	require.NoError(t, err)
	assert.Equal(t, map[string][]string{"reason": {"work", "work", "work", "school"}, "ticket": {"single", "single", "monthly", "single"}},
		cellsOf(opened))
	back, err := opened.Count("reason", "ticket")
	require.NoError(t, err)
	assert.Equal(t, cellsOf(table), cellsOf(back))

	one, err := cases.Count("ticket", "")
	require.NoError(t, err)
	assert.Equal(t, map[string][]string{"ticket": {"single", "monthly"}, "count": {"4", "1"}}, cellsOf(one))
	one.Columns[1].Cells[0] = "4.5"
	_, err = one.OpenOut()
	assert.ErrorContains(t, err, "no count")
}

func TestTake(t *testing.T) {
	s := read(t, "n\n1\n2\n3\n4\n5\n6\n7\n8\n9\n").SetOf("")
	first, err := s.Take(3, nil)
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "2", "3"}, first.Columns[0].Cells)
	seed := uint64(8420)
	a, err := s.Take(4, &seed)
	require.NoError(t, err)
	b, err := s.Take(4, &seed)
	require.NoError(t, err)
	assert.Equal(t, a, b, "the seed fixes what is drawn")
	assert.IsIncreasing(t, a.Columns[0].Cells)
	_, err = s.Take(10, nil)
	assert.ErrorContains(t, err, "from 1 to 9")
}

func TestWhatASheetLooksLike(t *testing.T) {
	for name, c := range map[string]struct {
		text           string
		counts, turned bool
	}{
		"crossed, blank corner":        {"\tsingle\treturn\nwork\t12\t30\nschool\t8\t4\n", true, false},
		"crossed, named corner":        {"reason,single,return\nwork,12,30\nschool,8,4\n", true, false},
		"one variable":                 {"day,count\nMon,18\nTue,22\n", true, false},
		"cases with whole numbers":     {"ferry,crossings\nDunlin,18\nPuffin,22\n", false, false},
		"a group twice":                {"pier,a,b\nMole,1,2\nMole,3,4\n", false, false},
		"fractions":                    {"pier,a,b\nMole,1.5,2\nQuarry,3,4\n", false, false},
		"cases":                        {"pier,minutes\nMole,12.1\nQuarry,11\n", false, false},
		"groups as rows":               {"Mole\t12.1\t11.8\t12.5\nQuarry\t13.4\t14\t12\t15\n", false, true},
		"a row a case, all of numbers": {"1,2,3,4\n5,6,7,8\n", false, false},
	} {
		t.Run(name, func(t *testing.T) {
			sheet := read(t, c.text)
			assert.Equal(t, c.counts, sheet.LooksLikeCounts(), "counts")
			assert.Equal(t, c.turned, sheet.LooksTurned(), "turned")
		})
	}
}

func TestTotalsAreDropped(t *testing.T) {
	sheet, dropped := read(t, "reason,single,return,all\nwork,12,30,42\nschool,8,4,12\nall,20,34,54\n").WithoutTotals()
	assert.True(t, dropped)
	assert.Equal(t, []string{"reason", "single", "return"}, sheet.Names)
	assert.Equal(t, [][]string{{"work", "school"}, {"12", "8"}, {"30", "4"}}, sheet.Columns)
	_, dropped = read(t, "reason,single,return\nwork,12,30\nschool,8,4\n").WithoutTotals()
	assert.False(t, dropped)
}

func TestTurned(t *testing.T) {
	sheet, err := Read(t.Context(), []byte("Mole\t12.1\t11.8\nQuarry\t13.4\n"), Options{Turned: true})
	require.NoError(t, err)
	assert.Equal(t, []string{"Mole", "Quarry"}, sheet.Names)
	assert.Equal(t, [][]string{{"12.1", "11.8"}, {"13.4", ""}}, sheet.Columns)
}

func TestRanges(t *testing.T) {
	text := []byte("note,,\n,berth,minutes\n,Mole,12.1\n,Quarry,13.4\nmade in March,,\n")
	sheet, err := Read(t.Context(), text, Options{Range: "B2:C4"})
	require.NoError(t, err)
	assert.Equal(t, []string{"berth", "minutes"}, sheet.Names)
	assert.Equal(t, [][]string{{"Mole", "Quarry"}, {"12.1", "13.4"}}, sheet.Columns)
	for at, want := range map[string]string{"C4:B2": "ends before", "hello": "not understood", "4": "not understood",
		"B2:C4x": "not understood"} {
		_, err := Read(t.Context(), text, Options{Range: at})
		assert.ErrorContains(t, err, want, at)
	}
	header := true
	sheet, err = Read(t.Context(), []byte("1;2\n3;4\n"), Options{Header: &header})
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "2"}, sheet.Names)
}

func TestProfiles(t *testing.T) {
	s := &Set{Form: FormCases, Columns: []*Column{
		{Name: "minutes", Cells: []string{"12", "13", "11.5", "12.5", "125", "13.1", "oops", "12.2", "", "12.8", "11.9", "13.3"}},
		{Name: "ferry", Cells: []string{"Dunlin", "Dunlin", "dunlin", "Dunlin", "Puffin", "Dunlin", "Puffin", "Pufin", "Puffin", "Dunlin", "7",
			"Puffin"}},
		{Name: "case", Kind: Identifier, Cells: []string{"a", "b", "c", "a", "d", "e", "f", "g", "h", "i", "j", "k"}},
	}}
	p := s.Profiles()
	assert.Equal(t, []any{Number, 10, 1}, []any{p[0].Kind, p[0].N, p[0].Missing})
	require.Len(t, p[0].Odd, 2)
	assert.Equal(t, 4, p[0].Odd[0].Case)
	assert.Contains(t, p[0].Odd[0].Says, "12.5 would fit")
	assert.Equal(t, 6, p[0].Odd[1].Case)
	sum := 0
	for _, count := range p[0].Bars {
		sum += count
	}
	assert.Equal(t, 10, sum)

	var odd []string
	for _, o := range p[1].Odd {
		odd = append(odd, o.Cell)
	}
	assert.Equal(t, []string{"dunlin", "Pufin", "7"}, odd)
	require.Len(t, p[2].Odd, 1)
	assert.Equal(t, 3, p[2].Odd[0].Case)
	assert.Contains(t, p[2].Odd[0].Says, "2 rows, first in row 1")
}

func TestSuggestedKinds(t *testing.T) {
	codes, names := &Column{Name: "satisfied"}, &Column{Name: "rider"}
	for i := range 24 {
		codes.Cells = append(codes.Cells, []string{"1", "2", "3"}[i%3])
		names.Cells = append(names.Cells, "rider "+string(rune('a'+i)))
	}
	p := (&Set{Columns: []*Column{codes, names}}).Profiles()
	assert.Equal(t, Category, p[0].Suggest)
	assert.Equal(t, Identifier, p[1].Suggest)
	codes.Kind = Number
	assert.Empty(t, (&Set{Columns: []*Column{codes}}).Profiles()[0].Suggest, "a kind that was said is not asked about again")
}
