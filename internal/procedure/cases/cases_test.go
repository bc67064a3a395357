package cases

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
	"grund/internal/problem"
)

// parsed returns the problem of a file about a response in groups with these settings and cells.
func parsed(t *testing.T, file string) *problem.Problem {
	t.Helper()
	p, err := problem.Parse([]byte(file))
	require.NoError(t, err)
	return p
}

// grouped is a file with the values of y, the levels of g, and more settings.
func grouped(values, levels, more string) string {
	return `{"grund":1,"procedure":"t-two-sample","roles":{"response":"y","group":"g"},` + more + `"data":{"variables":[` +
		`{"name":"y","label":"Loading time","unit":"min","kind":"number","values":` + values + `},` +
		`{"name":"g","label":"Berth","kind":"category","values":` + levels + `}]}}`
}

// refused asserts that an error is of one mistake at a place that says something.
func refused(t *testing.T, err error, pointer, says string) {
	t.Helper()
	var mistakes problem.Errors
	if assert.ErrorAs(t, err, &mistakes, says) && assert.Len(t, mistakes, 1) {
		assert.Equal(t, pointer, mistakes[0].Pointer, says)
		assert.Contains(t, mistakes[0].Says+"; "+mistakes[0].Instead, says)
	}
}

func TestLeftOut(t *testing.T) {
	left := func(number int, reason string) problem.LeftOut { return problem.LeftOut{Case: number, Reason: reason} }
	for want, c := range map[string]struct {
		left  []problem.LeftOut
		total int
	}{
		"":                              {nil, 0},
		"1 case with no value":          {nil, 1},
		"case 4":                        {[]problem.LeftOut{left(4, "")}, 1},
		"case 4 (mistyped)":             {[]problem.LeftOut{left(4, "mistyped")}, 1},
		"2 cases (mistyped)":            {[]problem.LeftOut{left(4, "mistyped"), left(9, "mistyped")}, 2},
		"2 cases (late); case 2":        {[]problem.LeftOut{left(1, "late"), left(2, ""), left(3, "late")}, 3},
		"case 1; 3 cases with no value": {[]problem.LeftOut{left(1, "")}, 4},
		"case 1 (a); case 2 (b); case 3 (c); case 4 (d); case 5 (e); case 6 (f); case 7 (g); case 8 (h); case 9 (i); case 10 (j); " +
			"case 11 (k); case 12 (l); 2 cases for 2 other reasons; 1 case with no value": {lettered(14), 15},
	} {
		assert.Equal(t, want, LeftOut(c.left, c.total, "with no value"))
	}
}

func TestLetters(t *testing.T) {
	for names, want := range map[[2]string][2]string{
		{"Mole", "Quarry"}: {"M", "Q"}, {"mole", "quarry"}: {"M", "Q"}, {"Mole", "Meadow"}: {"1", "2"}, {"1", "2"}: {"1", "2"},
		{"Østre", "Vestre"}: {"Ø", "V"}, {"", "Quarry"}: {"1", "2"}, {"東", "西"}: {"1", "2"},
	} {
		first, second := Letters(names[0], names[1])
		assert.Equal(t, want, [2]string{first, second}, names)
	}
}

// Groups are those that have cases, in the order of the levels, without what is left out or missing;
// or those that are picked, by their codes or names, in the order of the picking.
func TestReadGroups(t *testing.T) {
	const values, levels = `[1,2,3,null,5,6]`, `["Mole","Quarry","Mole","Mole",null,"Lantern"]`
	for name, c := range map[string]struct {
		more   string
		picked []string
		want   map[string][]float64
		order  []string
	}{
		"all": {"", nil, map[string][]float64{"Mole": {1, 3}, "Quarry": {2}, "Lantern": {6}}, []string{"Mole", "Quarry", "Lantern"}},
		"without a level that is left out": {`"leave_out":[{"case":2}],`, nil, map[string][]float64{"Mole": {1, 3}, "Lantern": {6}},
			[]string{"Mole", "Lantern"}},
		"picked": {"", []string{"Lantern", "Mole"}, map[string][]float64{"Mole": {1, 3}, "Lantern": {6}}, []string{"Lantern", "Mole"}},
		"picked, though empty": {`"leave_out":[{"case":2}],`, []string{"Quarry", "Mole"},
			map[string][]float64{"Mole": {1, 3}, "Quarry": nil}, []string{"Quarry", "Mole"}},
	} {
		g, err := ReadGroups(parsed(t, grouped(values, levels, c.more)), c.picked)
		require.NoError(t, err, name)
		assert.Equal(t, c.order, g.Names(), name)
		for i, one := range g.Each {
			assert.Equal(t, c.want[one.Name], one.Values, name)
			assert.Equal(t, len(one.Values), g.Sizes()[i], name)
		}
		assert.Equal(t, data.Heading{Label: "Loading time", Unit: "min"}, g.Response, name)
		assert.Equal(t, []any{"Berth", 6}, []any{g.Factor, g.Given}, name)
	}
	p := parsed(t, grouped(values, levels, ""))
	_, err := ReadGroups(p, []string{"Mole", "Pier 9"})
	refused(t, err, "/options/groups/1", "its levels are “Mole”, “Quarry” and “Lantern”")
	_, err = ReadGroups(p, []string{"Mole", "Mole"})
	refused(t, err, "/options/groups/1", "“Mole” is named twice")
}

// What is asked of groups is found in the order that the cases are counted through.
func TestPlacesInGroups(t *testing.T) {
	g, err := ReadGroups(parsed(t, grouped(`[1,2.5,3,4]`, `["a","b","a","b"]`, "")), nil)
	require.NoError(t, err)
	assert.Equal(t, [][]float64{{1, 3}, {2.5, 4}}, g.Values())
	assert.Equal(t, []int{4, 1, 2, 2}, []int{g.Used(), g.Decimals(), g.Smallest(), g.Largest()})
	for i, want := range []float64{1, 3, 2.5, 4} {
		group, at := g.At(i)
		assert.InDelta(t, want, group.Values[at], 0)
	}
	group, _ := g.At(4)
	assert.Nil(t, group)
	assert.Equal(t, []int{0, 1, -1}, []int{g.Find("a"), g.Find("b"), g.Find("c")})
	for i, spread := range g.Spreads() {
		assert.Equal(t, g.Each[i].Values, spread.Values)
		assert.Equal(t, [][]int{{1, 3}, {2, 4}}[i], spread.Rows)
		assert.False(t, spread.HasShape(), "W needs three cases")
	}
}

// Levels of one name are told apart by their codes, and found by those alone.
func TestLevelsOfOneName(t *testing.T) {
	file := `{"grund":1,"procedure":"t-two-sample","roles":{"response":"y","group":"g"},"data":{"variables":[` +
		`{"name":"y","kind":"number","values":[1,2,3,4]},{"name":"g","kind":"category","values":["1","2","1","2"],` +
		`"level_names":{"1":"Pier","2":"Pier"}}]}}`
	g, err := ReadGroups(parsed(t, file), nil)
	require.NoError(t, err)
	assert.Equal(t, []string{"Pier (1)", "Pier (2)"}, g.Names())
	assert.Equal(t, []int{1, -1}, []int{g.Find("2"), g.Find("Pier")})
}

func TestGroupsOfASummary(t *testing.T) {
	summary := func(groups string) *problem.Problem {
		return parsed(t, `{"grund":1,"procedure":"t-two-sample","data":{"summary":{"response":{"label":"Loading time","unit":"min"},`+
			`"groups":`+groups+`}}}`)
	}
	g, err := ReadGroups(summary(`[{"label":"Mole","n":18,"mean":12.4,"sd":0.7},{"n":1,"mean":13}]`), nil)
	require.NoError(t, err)
	assert.Equal(t, []string{"Mole", "group 2"}, g.Names())
	assert.Equal(t, []any{19, true, "group"}, []any{g.Given, g.Summary, g.Factor})
	assert.Equal(t, "/data/summary/groups/1/sd", g.Pointer(&g.Each[1]))

	g, err = ReadGroups(summary(`[{"label":"Mole","n":18,"mean":12.4,"sd":0.7},{"label":"Quarry","n":15,"mean":13,"sd":2}]`),
		[]string{"Quarry", "Mole"})
	require.NoError(t, err)
	assert.Equal(t, []string{"Quarry", "Mole"}, g.Names())

	for groups, want := range map[string][2]string{
		`[{"label":"Mole","n":18,"sd":0.7}]`:  {"/data/summary/groups/0/mean", "the mean of “Mole” is missing"},
		`[{"label":"Mole","n":18,"mean":12}]`: {"/data/summary/groups/0/sd", "the standard deviation of “Mole” is missing"},
	} {
		_, err := ReadGroups(summary(groups), nil)
		refused(t, err, want[0], want[1])
	}
	_, err = ReadGroups(summary(`[{"label":"Mole","n":18,"mean":12.4,"sd":0.7}]`), []string{"Quarry"})
	refused(t, err, "/options/groups/0", "no level of “group” is “Quarry”")
}

func TestWhatGroupsNeed(t *testing.T) {
	two, needTwo := (*Groups).Two, (*Groups).NeedTwo
	several := func(g *Groups) error { return g.NeedSeveral("ranks") }
	for name, c := range map[string]struct {
		values, levels string
		need           func(*Groups) error
		says           string // "" where nothing is missing
	}{
		"two":                     {"[1,2]", `["a","b"]`, two, ""},
		"none":                    {"[1,2]", `[null,null]`, two, "no case has both a value of the response and a group"},
		"one":                     {"[1,2]", `["a","a"]`, two, "“Berth” has one level only with usable cases, “a”"},
		"three":                   {"[1,2,3]", `["a","b","c"]`, two, `“Berth” has 3 levels and two groups are compared; pick two`},
		"two with spread":         {"[1,2,3,3]", `["a","a","b","b"]`, needTwo, ""},
		"a single case":           {"[1,2,3]", `["a","b","b"]`, needTwo, "“a” has 1 usable case, and a spread needs two"},
		"no spread":               {"[1,1,3,3]", `["a","a","b","b"]`, needTwo, "neither group has any spread"},
		"too large":               {"[1.7e308,-1.7e308,3,4]", `["a","a","b","b"]`, needTwo, "the numbers of “a” are too large"},
		"several, one":            {"[1,2]", `["a","a"]`, several, "“Berth” has 1 level with usable cases, and ranks are compared"},
		"several":                 {"[1,2,3]", `["a","b","c"]`, several, ""},
		"several, numbers beyond": {"[1.7e308,-1.7e308,3,4]", `["a","a","b","b"]`, several, "the numbers of “a” are too large"},
	} {
		g, err := ReadGroups(parsed(t, grouped(c.values, c.levels, "")), nil)
		require.NoError(t, err, name)
		if err := c.need(g); c.says == "" {
			assert.NoError(t, err, name)
		} else {
			refused(t, err, "/roles/group", c.says)
		}
	}
}

func TestReadSample(t *testing.T) {
	file := func(values string) string {
		return `{"grund":1,"procedure":"t-one-sample","roles":{"response":"y"},"leave_out":[{"case":2}],"data":{"variables":[` +
			`{"name":"y","label":"Fuel","unit":"L","kind":"number","values":` + values + `}]}}`
	}
	s, err := ReadSample(parsed(t, file("[1,2,null,5]")), true)
	require.NoError(t, err)
	assert.Equal(t, []float64{1, 5}, s.Values)
	assert.Equal(t, []int{1, 4}, s.Rows)
	assert.Equal(t, []any{4, 2, data.Heading{Label: "Fuel", Unit: "L"}}, []any{s.Given, s.Used(), s.Response})
	require.NoError(t, s.NeedSpread())

	_, err = ReadSample(parsed(t, file("[null,2,null]")), true)
	refused(t, err, "/roles/response", "no case has a value")
	_, err = ReadSample(parsed(t, file("[1.7e308,2,-1.7e308]")), true)
	refused(t, err, "/roles/response", "too large to calculate with")
	for values, says := range map[string]string{"[1,2]": "there is 1 usable case only", "[3,2,3]": "all values are equal"} {
		s, err := ReadSample(parsed(t, file(values)), true)
		require.NoError(t, err)
		refused(t, s.NeedSpread(), "/roles/response", says)
	}
}

func TestSampleOfASummary(t *testing.T) {
	summary := func(groups string) *problem.Problem {
		return parsed(t, `{"grund":1,"procedure":"z-one-sample","data":{"summary":{"response":{"unit":"L"},"groups":`+groups+`}}}`)
	}
	s, err := ReadSample(summary(`[{"n":9,"mean":4}]`), false)
	require.NoError(t, err)
	assert.Equal(t, []any{9, true, data.Heading{Label: "response", Unit: "L"}}, []any{s.Given, s.Summary, s.Response})
	for groups, c := range map[string]struct {
		sd            bool
		pointer, says string
	}{
		`[{"n":9,"mean":4}]`:                         {true, "/data/summary/groups/0/sd", "the standard deviation is missing"},
		`[{"n":9,"sd":4}]`:                           {true, "/data/summary/groups/0/mean", "the mean is missing"},
		`[{"n":9,"mean":4},{"n":9,"mean":4,"sd":1}]`: {false, "/data/summary/groups", "2 groups are given, and one mean is tested"},
	} {
		_, err := ReadSample(summary(groups), c.sd)
		refused(t, err, c.pointer, c.says)
	}
	s, err = ReadSample(summary(`[{"n":1,"mean":4,"sd":2}]`), true)
	require.NoError(t, err)
	refused(t, s.NeedSpread(), "/data/summary/groups/0/n", "a spread needs two")
	s, err = ReadSample(summary(`[{"n":9,"mean":4,"sd":0}]`), true)
	require.NoError(t, err)
	refused(t, s.NeedSpread(), "/data/summary/groups/0/sd", "all values are equal")
}

func TestReadPairs(t *testing.T) {
	file := func(first, second, unit string) *problem.Problem {
		return parsed(t, fmt.Sprintf(`{"grund":1,"procedure":"t-paired","roles":{"first":"out","second":"back"},"data":{"variables":[`+
			`{"name":"out","label":"Outbound","unit":"L","kind":"number","values":%s},`+
			`{"name":"back","label":"Homebound","unit":%q,"kind":"number","values":%s}]}}`, first, unit, second))
	}
	s, err := ReadPairs(file("[5,4,null,3]", "[1,2,2,null]", "L"))
	require.NoError(t, err)
	assert.Equal(t, []float64{4, 2}, s.Values)
	assert.Equal(t, "outbound − homebound", s.Pair.Minus())
	assert.Equal(t, data.Heading{Label: "Outbound − homebound", Unit: "L"}, s.Response)
	require.NoError(t, s.NeedSpread())

	_, err = ReadPairs(file("[5,4]", "[1,2]", "min"))
	refused(t, err, "/roles/second", "“Outbound” is in L and “Homebound” in min")
	_, err = ReadPairs(file("[5,4]", "[1,2]", ""))
	refused(t, err, "/roles/second", "“Homebound” in no unit")

	// 0.3 − 0.1 and 0.4 − 0.2 are one decimal, and two doubles.
	s, err = ReadPairs(file("[0.3,0.4]", "[0.1,0.2]", "L"))
	require.NoError(t, err)
	assert.NotEqual(t, s.Values[0], s.Values[1])
	refused(t, s.NeedSpread(), "/roles/first", "all pairs have the same difference")
}

func TestWeights(t *testing.T) {
	names := []string{"Monday", "Tuesday", "Sunday"}
	equal, err := NewWeights(nil, names, "category", "proportions")
	require.NoError(t, err)
	assert.Equal(t, []float64{1, 1, 1}, equal.Each)
	assert.Equal(t, []string{"equal proportions", "alike"}, []string{equal.Words(), equal.As("alike")})
	given, err := NewWeights([]float64{2, 1, 0.5}, names, "category", "proportions")
	require.NoError(t, err)
	assert.Equal(t, []string{"2 : 1 : 0.5", "as 2 : 1 : 0.5"}, []string{given.Words(), given.As("alike")})
	_, err = NewWeights([]float64{2, 1}, names, "category", "proportions")
	refused(t, err, "/options/proportions", "2 proportions are given for 3 categories; give one for each of “Monday”, “Tuesday” and “Sunday”")
}

func TestWhyANumberInGroupsFits(t *testing.T) {
	number, _ := data.NewVariable("minutes", data.Number, []string{"1", "2", "3"})
	factor, _ := data.NewVariable("Berth", data.Category, []string{"a", "b", "a"})
	assigned := map[string][]*data.Variable{"response": {number}, "group": {factor}}
	why, ok := FitsGroups("two are compared")(assigned)
	assert.True(t, ok)
	assert.Equal(t, "minutes is a number, and berth parts the cases into groups: two are compared.", why)
	why, _ = FitsSeveralGroups("all are compared")(assigned)
	assert.Equal(t, "minutes is a number, and berth parts the cases into 2 groups: all are compared.", why)
}

// lettered leaves out n cases, each for a reason of its own.
func lettered(n int) (left []problem.LeftOut) {
	for i := range n {
		left = append(left, problem.LeftOut{Case: i + 1, Reason: string(rune('a' + i))})
	}
	return left
}
