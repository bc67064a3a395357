package answer

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRead(t *testing.T) {
	minutes, share, plain := Asked{Unit: "min"}, Asked{Share: true, Bounds: true}, Asked{}
	for _, test := range []struct {
		text             string
		asked            Asked
		value            float64
		decimals, digits int
	}{
		{"2.04", plain, 2.04, 2, 3}, {"2,04", plain, 2.04, 2, 3}, {"-2.04", plain, -2.04, 2, 3}, {"−2.04", plain, -2.04, 2, 3},
		{"–2.04", plain, -2.04, 2, 3}, {"- 2.04", plain, -2.04, 2, 3}, {"+2.04", plain, 2.04, 2, 3}, {" 2.04 ", plain, 2.04, 2, 3},
		{"18", plain, 18, 0, 2}, {"018", plain, 18, 0, 2}, {"0", plain, 0, 0, 1}, {"0.00", plain, 0, 2, 2}, {".5", plain, 0.5, 1, 1},
		{"-.5", plain, -0.5, 1, 1}, {"5.", plain, 5, 0, 1}, {"0.050", plain, 0.05, 3, 2}, {"1200", plain, 1200, 0, 4},
		{"1 234.5", plain, 1234.5, 1, 5}, {"1\u202f234,5", plain, 1234.5, 1, 5}, {"12\u2009345\u2009678", plain, 12345678, 0, 8},
		{"1\u00a0234", plain, 1234, 0, 4}, {"1,234.5", plain, 1234.5, 1, 5}, {"1.234,5", plain, 1234.5, 1, 5},
		{"1,234", plain, 1.234, 3, 4}, {"1,234,567", plain, 1234567, 0, 7}, {"1.234.567", plain, 1234567, 0, 7},
		{"2.1e-5", plain, 2.1e-5, 6, 2}, {"2.1E-5", plain, 2.1e-5, 6, 2}, {"2.1·10^-5", plain, 2.1e-5, 6, 2},
		{"2,1 · 10^-5", plain, 2.1e-5, 6, 2}, {"2.1 × 10⁻⁵", plain, 2.1e-5, 6, 2}, {"2.1*10^(-5)", plain, 2.1e-5, 6, 2},
		{"2.1x10^-5", plain, 2.1e-5, 6, 2}, {"1.21e3", plain, 1210, -1, 3}, {"1.21e+3", plain, 1210, -1, 3}, {"3e0", plain, 3, 0, 1},
		{"t = -2.04", plain, -2.04, 2, 3}, {"t=−2,04", plain, -2.04, 2, 3}, {"t(16) = -2.04", plain, -2.04, 2, 3},
		{"p ≈ 0.055", share, 0.055, 3, 2}, {"p~0.055", share, 0.055, 3, 2}, {"χ² = 52.9", plain, 52.9, 1, 3}, {"x̄ = 1", plain, 1, 0, 1},
		{"s_p = 1.53", plain, 1.53, 2, 3}, {"b₁ = 0.8", plain, 0.8, 1, 1}, {"μ0 = 12", plain, 12, 0, 2}, {"F(3, 42) = 21.59", plain, 21.59, 2, 4},
		{"degrees of freedom = 16", plain, 16, 0, 2}, {"= 3", plain, 3, 0, 1}, {"F_0.05;3;42 = 2.83", plain, 2.83, 2, 3},
		{"0.58 min", minutes, 0.58, 2, 2}, {"0,58min", minutes, 0.58, 2, 2},
		{"se = 0.58 min", minutes, 0.58, 2, 2}, {"0.58", minutes, 0.58, 2, 2}, {"0.58 Min", minutes, 0.58, 2, 2},
		{"4.55 min²", Asked{Unit: "min²"}, 4.55, 2, 3}, {"4.55 min^2", Asked{Unit: "min²"}, 4.55, 2, 3},
		{"4.55 min2", Asked{Unit: "min²"}, 4.55, 2, 3}, {"1.2 L/min", Asked{Unit: "L/min"}, 1.2, 1, 2}, {"12 €", Asked{Unit: "€"}, 12, 0, 2},
		{"5.5 %", share, 0.055, 3, 2}, {"5,5%", share, 0.055, 3, 2}, {"12 %", Asked{Percent: true}, 12, 0, 2},
		{"12", Asked{Percent: true}, 12, 0, 2}, {"5e-2", share, 0.05, 2, 1}, {"1e300", plain, 1e300, -300, 1},
	} {
		typed, err := Read(test.text, test.asked)
		if assert.NoError(t, err, test.text) {
			assert.InEpsilon(t, 1+test.value, 1+typed.Value, 1e-15, test.text)
			assert.Equal(t, []int{test.decimals, test.digits}, []int{typed.Decimals, typed.Digits}, test.text)
			assert.False(t, typed.Exact, test.text)
		}
	}
}

func TestReadFractions(t *testing.T) {
	for text, value := range map[string]float64{
		"3/7": 3.0 / 7, "-3/7": -3.0 / 7, "3 / 7": 3.0 / 7, "p = 3/7": 3.0 / 7, "1,5/2": 0.75, "1 234/2": 617, "6/3 min": 2,
	} {
		typed, err := Read(text, Asked{Unit: "min"})
		if assert.NoError(t, err, text) {
			assert.Equal(t, Typed{Value: value, Exact: true}, typed, text)
		}
	}
}

func TestReadBounds(t *testing.T) {
	no, up := math.Inf(-1), math.Inf(1)
	for text, bounds := range map[string]Bounds{
		"< 0.05": {no, 0.05, false, false}, "<0,05": {no, 0.05, false, false}, "p < .05": {no, 0.05, false, false},
		"p<=0.05": {no, 0.05, false, true}, "p ≤ 0.05": {no, 0.05, false, true}, "> 0.2": {0.2, up, false, false},
		"p ≥ 0.2": {0.2, up, true, false}, "0.2 < p": {0.2, up, false, false}, "0.05 > p": {no, 0.05, false, false},
		"0.05 < p < 0.10": {0.05, 0.1, false, false}, "0,05<P<0,10": {0.05, 0.1, false, false}, "0.05 ≤ p < 0.10": {0.05, 0.1, true, false},
		"0.10 > p > 0.05": {0.05, 0.1, false, false}, "between 0.05 and 0.10": {0.05, 0.1, true, true},
		"p between 0,05 and 0,10": {0.05, 0.1, true, true}, "p is between 0.05 and 0.10": {0.05, 0.1, true, true},
		"less than 0.001": {no, 0.001, false, false}, "p below 5 %": {no, 0.05, false, false}, "above 1/20": {0.05, up, false, false},
		"< 1e-4": {no, 1e-4, false, false}, "5 % < p < 10 %": {0.05, 0.1, false, false},
	} {
		typed, err := Read(text, Asked{Share: true, Bounds: true})
		if assert.NoError(t, err, text) && assert.NotNil(t, typed.Bounds, text) {
			assert.Equal(t, bounds, *typed.Bounds, text)
		}
	}
}

func TestUnreadable(t *testing.T) {
	p := Asked{Share: true, Bounds: true}
	for _, test := range []struct {
		text, says string
		asked      Asked
	}{
		{"", "Nothing was typed", p}, {"   ", "Nothing was typed", p}, {"about two", "no number", Asked{}}, {"NaN", "no number", p},
		{"inf", "no number", p}, {"∞", "no number", p}, {"-∞", "no number", Asked{}}, {"3/0", "no number", p}, {"0/0", "no number", p},
		{"3/", "no number", p}, {"1/2/3", "no number", p}, {"1.2.3", "no number", p}, {"1,2,3", "no number", p}, {"--2", "no number", p},
		{"2-", "no number", p}, {"1 23", "no number", p}, {"12 34", "no number", p}, {"1e", "without a unit", p}, {"1e999", "no number", p},
		{"2.1·10^", "no number", p}, {".", "no number", p}, {",", "no number", p}, {"-", "no number", p}, {"3 =", "no number", p},
		{"t =", "no number", Asked{}}, {"0x10", "no number", p}, {"1_000", "no number", p}, {"2 or 3", "no number", p},
		{"0.58 s", "wanted in min, not in “s”", Asked{Unit: "min"}}, {"0.58 min", "leave “min” out", Asked{}},
		{"12 %", "leave “%” out", Asked{}}, {"< 0.05", "not bounds", Asked{}}, {"between 1 and 2", "not bounds", Asked{}},
		{"0.10 < p < 0.05", "smaller bound comes first", p}, {"between 0.1 and 0.1", "smaller bound comes first", p},
		{"< x", "no bound", p}, {"0.05 < p < big", "no bound", p}, {"between and", "no number", p},
		{strings.Repeat("1", MaxTyped+1), "200 characters at most", p},
	} {
		_, err := Read(test.text, test.asked)
		var unreadable *UnreadableError
		if assert.ErrorAs(t, err, &unreadable, test.text) {
			assert.Contains(t, unreadable.Says, test.says, test.text)
		}
	}
}

// What is typed is right as far as its digits go; on a tie both neighbours are.
func TestAgrees(t *testing.T) {
	for _, test := range []struct {
		text   string
		v      float64
		agrees bool
	}{
		{"2.06", 2.064, true}, {"2.07", 2.064, false}, {"2.1", 2.064, true}, {"2.0640", 2.064, true}, {"2.675", 2.675, true},
		{"2.67", 2.675, true}, {"2.68", 2.675, true}, {"2.66", 2.675, false}, {"1.21e3", 1214.9, true}, {"1.21e3", 1215.1, false},
		{"1210", 1214.9, false}, {"-2.06", 2.064, false}, {"3/7", 3.0 / 7, true}, {"3/7", 0.4286, false}, {"0.1", 0.1 + 0.2 - 0.2, true},
		{"0.06", 0.0553, true}, {"0", 0.3, true}, {"0.0", 0.3, false},
	} {
		typed, err := Read(test.text, Asked{})
		require.NoError(t, err, test.text)
		assert.Equal(t, test.agrees, typed.Agrees(test.v), "%s for %v", test.text, test.v)
	}
}

func TestBounds(t *testing.T) {
	between := Bounds{Low: 0.05, High: 0.1}
	assert.Equal(t, []bool{false, true, false}, []bool{between.Hold(0.05), between.Hold(0.07), between.Hold(0.1)})
	between.LowHolds, between.HighHolds = true, true
	assert.Equal(t, []bool{true, true, false}, []bool{between.Hold(0.05), between.Hold(0.1), between.Hold(0.2)})
	assert.Equal(t, []bool{false, true, false}, []bool{between.Inside(0.05), between.Inside(0.07), between.Inside(0.1)})
}

// Whatever is typed is read or refused in words; what is read is a number, and reads the same once more.
func FuzzRead(f *testing.F) {
	for _, seed := range []string{"2,04", "t = −2.04 min", "3/7", "between 0.05 and 0.10", "2.1·10^-5", "0.05 < p < 0.1", "1 234 %", "e"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		typed, err := Read(text, Asked{Unit: "min", Share: true, Bounds: true})
		switch {
		case err != nil:
			var unreadable *UnreadableError
			require.ErrorAs(t, err, &unreadable)
		case typed.Bounds != nil:
			require.Less(t, typed.Bounds.Low, typed.Bounds.High)
		default:
			require.False(t, math.IsNaN(typed.Value) || math.IsInf(typed.Value, 0), text)
			require.True(t, typed.Exact || typed.Digits > 0, text)
			require.True(t, typed.Agrees(typed.Value))
		}
	})
}
