package data

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestReadText(t *testing.T) {
	for name, c := range map[string]struct {
		text string
		want Sheet
	}{
		"tabs with a header": {"berth\tminutes\nMole\t12.1\nQuarry\t13.4\n",
			Sheet{Names: []string{"berth", "minutes"}, Header: true, Columns: [][]string{{"Mole", "Quarry"}, {"12.1", "13.4"}}}},
		"commas without a header": {"Mole,12.1\nQuarry,13.4",
			Sheet{Names: []string{"", ""}, Header: false, Columns: [][]string{{"Mole", "Quarry"}, {"12.1", "13.4"}}}},
		"semicolons, decimal commas": {"berth;minutes\r\nMole;12,1\r\n",
			Sheet{Names: []string{"berth", "minutes"}, Header: true, Columns: [][]string{{"Mole"}, {"12,1"}}}},
		"one column of numbers": {"12.1\n11.8\n", Sheet{Names: []string{""}, Header: false, Columns: [][]string{{"12.1", "11.8"}}}},
		"a quoted separator": {"pier,note\n\"Mole, north\",1\n",
			Sheet{Names: []string{"pier", "note"}, Header: true, Columns: [][]string{{"Mole, north"}, {"1"}}}},
		"unequal rows and blank ends": {"Mole\tQuarry\n12.1\t13.4\n11.8\n\t\n\n",
			Sheet{Names: []string{"Mole", "Quarry"}, Header: true, Columns: [][]string{{"12.1", "11.8"}, {"13.4", ""}}}},
		"words under a header": {"ferry\nDunlin\nPuffin\nDunlin",
			Sheet{Names: []string{"ferry"}, Header: true, Columns: [][]string{{"Dunlin", "Puffin", "Dunlin"}}}},
		"words only": {"Dunlin\nPuffin\nDunlin",
			Sheet{Names: []string{""}, Header: false, Columns: [][]string{{"Dunlin", "Puffin", "Dunlin"}}}},
		"a byte order mark": {"\ufeffn\n1", Sheet{Names: []string{"n"}, Header: true, Columns: [][]string{{"1"}}}},
	} {
		t.Run(name, func(t *testing.T) {
			sheet, err := Read(t.Context(), []byte(c.text), Options{})
			require.NoError(t, err)
			sheet.Separator = ""
			assert.Equal(t, &c.want, sheet)
		})
	}
}

func TestReadTextRefuses(t *testing.T) {
	for text, want := range map[string]string{
		"  \n ":                    "nothing in it",
		"a,b\n\"1,2\n3,4":          "row 2",
		strings.Repeat("a,", 2500): "2501 columns",
	} {
		_, err := Read(t.Context(), []byte(text), Options{})
		assert.ErrorContains(t, err, want)
	}
}

func TestParseNumber(t *testing.T) {
	for text, want := range map[string]float64{
		"12.1": 12.1, " 12,5 ": 12.5, "−3": -3, "+4": 4, "1e3": 1000, "12\u202f345.5": 12345.5, ".5": 0.5,
	} {
		got, err := ParseNumber(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for text, want := range map[string]string{
		"": "no number", "12.1o": "“12.1o” is not a number", "0x10": "not a number", "Inf": "not a number",
		"NaN": "not a number", "1,2,3": "not a number", "1e999": "larger than any number", "1_000": "not a number",
	} {
		_, err := ParseNumber(text)
		assert.ErrorContains(t, err, want, text)
	}
}

func TestGuessKind(t *testing.T) {
	assert.Equal(t, Number, GuessKind([]string{"1", "", "2", "3", "oops"}))
	assert.Equal(t, Category, GuessKind([]string{"Mole", "1", "Quarry"}))
	assert.Equal(t, Category, GuessKind([]string{"", ""}))
}

func TestFindLevel(t *testing.T) {
	v := Variable{Kind: Category, Levels: []Level{{"1", "Mole"}, {"2", "Quarry"}, {"3", "Quarry"}, {"Mole", "4"}}}
	assert.Equal(t, 0, v.FindLevel("1"))
	assert.Equal(t, 3, v.FindLevel("Mole"), "a code goes before a name")
	assert.Equal(t, -1, v.FindLevel("Quarry"), "two levels have this name")
	assert.Equal(t, 2, v.FindLevel("3"))
	assert.Equal(t, -1, v.FindLevel("Lantern"))
}

func TestComplete(t *testing.T) {
	minutes := &Variable{Kind: Number, Numbers: []float64{1, math.NaN(), 3, 4}}
	berth := &Variable{Kind: Category, Codes: []int{0, 1, -1, 1}, Levels: []Level{{"M", "M"}, {"Q", "Q"}}}
	assert.Equal(t, []int{0, 3}, Complete(nil, minutes, berth))
	assert.Equal(t, []int{3}, Complete(map[int]bool{0: true}, minutes, berth))
}

func TestFormatNumber(t *testing.T) {
	for want, x := range map[string]float64{"1": 1, "12.1": 12.1, "-0.5": -0.5, "100000": 1e5, "1e-07": 1e-7, "1e+21": 1e21, "0": 0} {
		assert.Equal(t, want, FormatNumber(x))
	}
}
