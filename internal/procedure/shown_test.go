package procedure

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/working"
)

func quantityOf(t *testing.T, s *working.Solution, id working.Ref) *working.Quantity {
	t.Helper()
	for _, q := range s.Quantities {
		if q.ID == id {
			return q
		}
	}
	t.Fatalf("there is no quantity %q", id)
	return nil
}

// The decimals that a problem asks for are those of the cells in formulas too, and where the
// cells as shown add up to another last digit it is said. 5, 9 and 7 against 7 each: the
// contributions are 4/7, 4/7 and 0.
func TestDecimalsInFormulas(t *testing.T) {
	work := func(decimals string) *working.Quantity {
		return quantityOf(t, mustWork(t, `{"grund":1,"procedure":"chi-square-fit",`+decimals+`"data":{"counts":{"categories":["a","b","c"],"observed":[5,9,7]}}}`), "chi_square")
	}
	four := work(`"decimals":4,`)
	assert.Equal(t, "0.5714+0.5714+0.0000", four.Formula.Numeric)
	assert.Equal(t, "1.1429", four.Display)
	assert.Contains(t, four.Formula.Rounding, "gives 1.1428", "0.5714 + 0.5714")
	three := work("")
	assert.Equal(t, "0.571+0.571+0.000", three.Formula.Numeric)
	assert.Contains(t, three.Formula.Rounding, "gives 1.142")
	one := work(`"decimals":1,`)
	assert.Equal(t, "0.6+0.6+0.0", one.Formula.Numeric)
	assert.Contains(t, one.Formula.Rounding, "gives 1.2;", "1.1 is shown")
}

// A tie that is shown is the one that the note calculates with: t = (13.375 − 10.625)/1.75 is
// shown as 1.57, and (13.38 − 10.63)/1.75 gives it too; with 10.62 it would have been 1.58.
func TestTheNoteRoundsAsTheDisplayDoes(t *testing.T) {
	s := mustWork(t, `{"grund":1,"procedure":"t-two-sample","decimals":2,"options":{"variances":"equal"},"data":{"summary":{"groups":[
		{"label":"a","n":8,"mean":13.375,"sd":3.5},{"label":"b","n":8,"mean":10.625,"sd":3.5}]}}}`)
	for id, want := range map[working.Ref]string{"mean_1": "13.38", "mean_2": "10.63", "se": "1.75", "t": "1.57"} {
		assert.Equal(t, want, quantityOf(t, s, id).Display, id)
	}
	assert.Empty(t, quantityOf(t, s, "t").Formula.Rounding)
	assert.Empty(t, quantityOf(t, s, "difference").Formula.Rounding, "2.75 either way")

	// (9.625 − 8)/1.75 is 0.93; with 9.63 as shown, too. (9.875 − 8)/0.35 is 5.36, with 9.88 it is 5.37.
	s = mustWork(t, `{"grund":1,"procedure":"t-one-sample","decimals":2,"options":{"mean":8},"data":{"summary":{"groups":[{"n":4,"mean":9.875,"sd":0.7}]}}}`)
	assert.Equal(t, "5.36", quantityOf(t, s, "t").Display)
	assert.Contains(t, quantityOf(t, s, "t").Formula.Rounding, "gives 5.37")
}

// A share that is not 0 is not shown as 0, however few decimals are asked for.
func TestAShareIsNotShownAsNothing(t *testing.T) {
	s := mustWork(t, tickets("chi-square-independence", `,"decimals":0`))
	v := quantityOf(t, s, "cramers_v")
	assert.Equal(t, "0.3", v.Display)
	assert.Contains(t, s.Conclusion, "V = 0.3")
	assert.Contains(t, s.Report, "V = 0.3")
	assert.Equal(t, "0", quantityOf(t, mustWork(t, `{"grund":1,"procedure":"chi-square-independence","decimals":0,"data":{"counts":{"rows":["a","b"],"columns":["x","y"],"cells":[[5,5],[5,5]]}}}`), "cramers_v").Display)
}

// What a cell shows is said by the table itself, as it depends on the view; which levels were
// joined goes by what was joined, not by what a level is called.
func TestWhatIsSaidOfATable(t *testing.T) {
	text := func(file string) string { return working.Markdown(mustWork(t, file), "") }
	assert.NotContains(t, text(tickets("chi-square-independence", "")), "large number")
	assert.Contains(t, text(tickets("chi-square-independence", `,"options":{"join":{"rows":[["school","leisure"]]}}`)), "Of reason, school and leisure are taken as one.")
	named := strings.Replace(tickets("chi-square-independence", ""), `"school"`, `"school + more"`, 1)
	assert.NotContains(t, text(named), "taken as one")
	require.Contains(t, text(named), "school + more")
}
