package data

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// crossings is a small data set with spaces in names, codes with names, a missing
// cell and a decimal comma.
func crossings() *Set {
	s := &Set{Form: FormCases, Columns: []*Column{
		{Name: "fuel outbound", Cells: []string{"5.3", "2.3", "", "10"}},
		{Name: "fuel homebound", Cells: []string{"5.1", "2.1", "3", "8"}},
		{Name: "ferry", Kind: Category, LevelNames: map[string]string{"1": "Dunlin", "2": "Puffin"}, Cells: []string{"1", "2", "1", "2"}},
		{Name: "minutes", Cells: []string{"12,5", "9", "0", "-4"}},
		{Name: "fuel", Cells: []string{"1", "2", "2", "4"}},
	}}
	s.AssignKeys()
	return s
}

func TestFormulas(t *testing.T) {
	for formula, want := range map[string][]string{
		"fuel outbound - fuel homebound":       {"0.2", "0.2", "", "2"},
		"fuel outbound − fuel homebound":       {"0.2", "0.2", "", "2"},
		`minutes > 9 ? "late" : "on time"`:     {"late", "on time", "on time", "on time"},
		`minutes > 9 ? “late” : “on time”`:     {"late", "on time", "on time", "on time"},
		`ferry == "Dunlin"`:                    {"yes", "no", "yes", "no"},
		`ferry == "Dunlin" and minutes > 1`:    {"yes", "no", "no", "no"},
		"sqrt(minutes)":                        {"3.5355339059327378", "3", "0", ""},
		"log10(fuel) + 1":                      {"1", "1.3010299956639813", "1.3010299956639813", "1.6020599913279625"},
		"log(minutes - minutes)":               {"", "", "", ""},
		"abs(minutes)":                         {"12.5", "9", "0", "4"},
		"round(minutes)":                       {"13", "9", "0", "-4"},
		"rank(fuel)":                           {"1", "2.5", "2.5", "4"},
		"fuel - mean(fuel)":                    {"-1.25", "-0.25", "-0.25", "1.75"},
		"highest(fuel) - lowest(fuel)":         {"3", "3", "3", "3"},
		"median(fuel outbound)":                {"5.3", "5.3", "", "5.3"},
		"mean(fuel outbound - fuel homebound)": {"0.8", "0.8", "", "0.8"},
		"fuel / 4":                             {"0.25", "0.5", "0.5", "1"},
		"fuel ^ 2":                             {"1", "4", "4", "16"},
		"2 * 0.1 * fuel":                       {"0.2", "0.4", "0.4", "0.8"},
		"rank(rank(fuel))":                     {"1", "2.5", "2.5", "4"},
	} {
		t.Run(formula, func(t *testing.T) {
			s := crossings()
			f, err := s.Compile(formula)
			require.NoError(t, err)
			cells, err := f.Cells()
			require.NoError(t, err)
			assert.Equal(t, want, cells)
		})
	}
}

// Text in quotation marks stays as it is, whatever it holds.
func TestTextInFormulas(t *testing.T) {
	s := &Set{Columns: []*Column{{Name: "route", Cells: []string{"Mole–Lantern", "Mole-Lantern", "a × fuel"}},
		{Name: "fuel", Cells: []string{"1", "2", "3"}}}}
	for condition, want := range map[string][]int{`route == "Mole–Lantern"`: {0}, `route == “Mole–Lantern”`: {0}, `route == 'a × fuel'`: {2}} {
		cases, err := s.Where(condition)
		require.NoError(t, err, condition)
		assert.Equal(t, want, cases, condition)
	}
}

func TestRenameIn(t *testing.T) {
	names := []string{"fuel", "fuel outbound", "minutes"}
	renamed := map[string]string{"fuel": "oil", "fuel outbound": "out", "minutes": "late"}
	for formula, want := range map[string]string{
		`fuel outbound − fuel`:                 `out − oil`,
		`minutes > 9 ? "minutes" : “fuel”`:     `late > 9 ? "minutes" : “fuel”`,
		`mean(fuel) + refuel + fuel2`:          `mean(oil) + refuel + fuel2`,
		`filter == 'fuel" outbound' or fuel>1`: `filter == 'fuel" outbound' or oil>1`,
	} {
		assert.Equal(t, want, RenameIn(formula, names, renamed))
	}
}

func TestStandardised(t *testing.T) {
	f, err := (&Set{Columns: []*Column{{Name: "x", Cells: []string{"1", "2", "3"}}}}).Compile("standardise(x)")
	require.NoError(t, err)
	cells, err := f.Cells()
	require.NoError(t, err)
	assert.Equal(t, []string{"-1", "0", "1"}, cells)
}

func TestFormulaErrors(t *testing.T) {
	for formula, want := range map[string]FormulaError{
		"":                      {0, "empty"},
		"fuel +":                {6, "ends too early"},
		"fuel + distance":       {7, "there is no column “distance”"},
		"fuel + (minutes":       {15, "ends too early"},
		"fuel ) 2":              {5, "does not belong here"},
		"ferry + 1":             {6, "a number and a word"},
		"minutes == \"late\"":   {8, "a number and a word"},
		"filter(fuel, 1)":       {0, "there is no function “filter”"},
		"frobnicate(fuel)":      {0, "there is no function “frobnicate”"},
		"mean(ferry)":           {0, "needs a column of numbers"},
		"sqrt(ferry)":           {5, "takes one number"},
		"fuel > 1 ? 1 : \"no\"": {0, "a number for some cases and a word for others"},
	} {
		t.Run(formula, func(t *testing.T) {
			f, err := crossings().Compile(formula)
			if err == nil {
				_, err = f.Cells()
			}
			var got *FormulaError
			require.ErrorAs(t, err, &got)
			assert.Contains(t, got.Says, want.Says)
			assert.Equal(t, want.At, got.At, got.Says)
		})
	}
}

func TestConditions(t *testing.T) {
	s := crossings()
	f, err := s.Compile(`minutes <= 0 or ferry == "Puffin"`)
	require.NoError(t, err)
	cases, err := f.True()
	require.NoError(t, err)
	assert.Equal(t, []int{1, 2, 3}, cases)
	f, err = s.Compile("minutes + 1")
	require.NoError(t, err)
	_, err = f.True()
	assert.ErrorContains(t, err, "no condition")
}

func TestDerivedColumnsFollowTheirSources(t *testing.T) {
	s := crossings()
	below := 5.0
	s.Columns = append(s.Columns,
		&Column{Name: "class", Recode: &Recode{From: "double", Classes: []Class{{&below, "small"}, {nil, "large"}}}},
		&Column{Name: "double", Formula: "2 * fuel"},
		&Column{Name: "ship", Recode: &Recode{From: "ferry", Values: map[string]string{"1": "D"}}},
	)
	s.AssignKeys()
	require.Empty(t, s.Derive())
	assert.Equal(t, []string{"small", "small", "small", "large"}, s.Find("class").Cells)
	assert.Equal(t, []string{"D", "2", "D", "2"}, s.Find("ship").Cells)
	assert.Equal(t, []string{"small", "large"}, codes(t, s, "class"))
	s.Find("class").Levels = []string{"large", "vast"}
	assert.Equal(t, []string{"large", "small"}, codes(t, s, "class"),
		"what a derived column holds follows from its sources; only the order is its own")
	s.Find("class").Levels = nil
	s.Find("fuel").Cells[0] = "30"
	require.Empty(t, s.Derive())
	assert.Equal(t, []string{"60", "4", "4", "8"}, s.Find("double").Cells)
	assert.Equal(t, "large", s.Find("class").Cells[0])

	s.Find("double").Formula = "class"
	mistakes := s.Derive()
	require.Len(t, mistakes, 2)
	assert.Contains(t, mistakes[0].Says, "follows from itself")
	s.Find("double").Formula = "2 * nothing"
	mistakes = s.Derive()
	require.Len(t, mistakes, 1)
	assert.Contains(t, mistakes[0].Says, "no column “nothing”")
}

// codes returns the levels of a column in their order.
func codes(t *testing.T, s *Set, name string) []string {
	t.Helper()
	variables, _, mistakes := s.Variables()
	require.Empty(t, mistakes)
	for _, v := range variables {
		if v.Name == name {
			var codes []string
			for _, level := range v.Levels {
				codes = append(codes, level.Code)
			}
			return codes
		}
	}
	t.Fatalf("there is no variable %q", name)
	return nil
}

// Classes come in the order of their boundaries, not in that of the cases.
func TestClassesInOrder(t *testing.T) {
	below := 5.0
	s := &Set{Columns: []*Column{{Name: "x", Cells: []string{"9", "1"}},
		{Name: "class", Recode: &Recode{From: "x", Classes: []Class{{&below, "low"}, {nil, "high"}}}}}}
	require.Empty(t, s.Derive())
	assert.Equal(t, []string{"low", "high"}, codes(t, s, "class"))
}

func TestRecodeChecks(t *testing.T) {
	two, three := 2.0, 3.0
	for want, r := range map[string]Recode{
		"either names":     {From: "fuel"},
		"has no name":      {Classes: []Class{{nil, " "}}},
		"another class":    {Classes: []Class{{nil, "a"}, {nil, "b"}}},
		"must have no end": {Classes: []Class{{&two, "a"}, {&three, "b"}}},
		"not above":        {Classes: []Class{{&three, "a"}, {&two, "b"}, {nil, "c"}}},
	} {
		assert.ErrorContains(t, r.Check(), want)
	}
}

// What the package that reads formulas knows beyond them is no part of the language, and what fails is
// said in our words.
func TestTheFormulaLanguageIsWhatIsDocumented(t *testing.T) {
	for formula, says := range map[string]string{
		"let x = fuel; x":                  "no meaning",
		"[fuel, 2]":                        "no meaning",
		"{a: fuel}":                        "no meaning",
		"fuel in [1, 2]":                   "no meaning",
		"1..1000000":                       "“..” has no meaning",
		`ferry matches "D.*"`:              "“matches” has no meaning",
		"fuel ?? 2":                        "“??” has no meaning",
		"fuel | abs()":                     "“|” has no meaning",
		"nil":                              "no meaning",
		"fuel[0]":                          "no meaning",
		"if fuel > 1 {1} else {2}":         "",
		"map(fuel, # + 1)":                 "no function “map”",
		"repeat(ferry, 1000000)":           "no function “repeat”",
		"fuel; fuel":                       "",
		"99999999999999999999999":          "too large",
		"0xFFFFFFFFFFFFFFFFFFFFF":          "too large",
		"1e999 * fuel":                     "",
		"fuel + 'unclosed":                 "",
		"fuel \x01 2":                      "",
		"mean(mean)":                       "no column “mean”",
		"rank(fuel, 2)":                    "takes one column",
		"sqrt()":                           "takes one number",
		"fuel.name":                        "no meaning",
		"(fuel)(2)":                        "",
		"$env":                             "",
		"fuel + #":                         "",
		"true and fuel":                    "a number and a word",
		"-ferry":                           "",
		strings.Repeat("fuel+", 401) + "1": "the formula has 2006 characters; keep to 2000",
		strings.Repeat("1+", 900) + "1":    "more than 500",
		strings.Repeat("(1+", 60) + "fuel" + strings.Repeat(")", 60): "-",
		strings.Repeat("(", 900) + "fuel" + strings.Repeat(")", 900): "-",
		strings.Repeat("not ", 400) + "fuel":                         "",
		strings.Repeat("fuel > 1 ? 1 : ", 100) + "1":                 "more than 500",
	} {
		f, err := crossings().Compile(formula)
		if err == nil {
			_, err = f.Cells()
		}
		if says == "-" {
			assert.NoError(t, err, formula)
			continue
		}
		var wrong *FormulaError
		if assert.ErrorAs(t, err, &wrong, formula) {
			assert.Contains(t, wrong.Says, says, formula)
			assert.NotRegexp(t, "strconv|EOF|token|interface|float64|int\\b|nil|unexpected|unknown|invalid", wrong.Says, formula)
		}
	}
}

func TestWhatIsDerivedIsBounded(t *testing.T) {
	long := &Set{Columns: []*Column{{Name: "note", Cells: []string{strings.Repeat("x", MaxCell/2)}}}}
	_, err := long.Preview(&Column{Formula: "note + note + note"})
	assert.ErrorContains(t, err, "row 1 would hold a text of 49149 characters")

	doubling := &Set{Columns: []*Column{{Name: "a", Cells: slices.Repeat([]string{"xxxxxxxxxxxxxxxx"}, 40_000)}}}
	for i := range 24 {
		name := string(rune('a' + i))
		doubling.Columns = append(doubling.Columns, &Column{Name: string(rune('b' + i)), Formula: name + " + " + name})
	}
	within(t, 20*time.Second, 1000, func() {
		mistakes := doubling.Derive()
		require.NotEmpty(t, mistakes)
		assert.Contains(t, mistakes[0].Says, "MB of text")
	})

	many := &Set{Columns: []*Column{{Name: "x", Cells: []string{"1"}}}}
	for i := range MaxDerived + 3 {
		many.Columns = append(many.Columns, &Column{Name: fmt.Sprintf("d%d", i), Formula: "x + 1"})
	}
	assert.Len(t, many.Derive(), 3)
	assert.Equal(t, "2", many.Columns[MaxDerived].Cells[0])

	_, err = (&Set{Columns: []*Column{{Name: "x", Cells: slices.Repeat([]string{"1"}, 2_000_000)}}}).
		Preview(&Column{Formula: strings.Repeat("x+", 200) + "x"})
	assert.ErrorContains(t, err, "take too long for 2000000 rows")
}

// A formula is read in the same time whatever the columns are called.
func TestManyColumnsInALongFormula(t *testing.T) {
	s := &Set{}
	for i := range MaxColumns {
		s.Columns = append(s.Columns, &Column{Name: fmt.Sprintf("%s%d", strings.Repeat("x", 250), i), Cells: []string{"1"}})
	}
	within(t, 10*time.Second, 200, func() {
		_, err := s.Compile(strings.Repeat("x", 1000) + "+" + strings.Repeat("x ", 400))
		assert.Error(t, err)
	})
}
