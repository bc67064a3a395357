package mask_test

import (
	"math"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/mask"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// longNumber is a number that does not come up by chance.
var longNumber = regexp.MustCompile(`\d\.\d{8,}`)

// Up to a step a solution holds the numbers that the steps show, and nowhere in its text a
// quantity that only later steps show.
func TestWhatIsHeldBack(t *testing.T) {
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err)
		assert.Same(t, s, mask.UpTo(s, len(s.Steps)))
		for n := range len(s.Steps) {
			part := mask.UpTo(s, n)
			last := part.Steps[len(part.Steps)-1].ID
			assert.Len(t, part.Steps, max(1, n))
			assert.Equal(t, len(s.Steps)-max(1, n), part.HeldBack)
			text, err := json.Marshal(part)
			require.NoError(t, err)
			shown := shownNumbers(part)
			for _, q := range s.Quantities {
				written, err := json.Marshal(q.Value)
				require.NoError(t, err)
				if !shown[math.Abs(float64(q.Value))] && longNumber.Match(written) {
					assert.False(t, strings.Contains(string(text), string(written)), "%s: %s is there up to %s", name, q.ID, last)
				}
			}
			at := slices.Index(working.Steps, last)
			for step, there := range map[working.StepID]bool{
				working.DecisionStep: part.Decision != nil, working.Conclusion: part.Conclusion != "" || part.Finding != nil || part.Claim != nil,
				working.Report: part.Report != "",
			} {
				if at < slices.Index(working.Steps, step) {
					assert.False(t, there, "%s: %s up to %s", name, step, last)
				}
			}
		}
	}
}

// shownNumbers returns the sizes of the numbers that a solution shows, as quantities and in cells.
func shownNumbers(s *working.Solution) map[float64]bool {
	shown := map[float64]bool{}
	for _, q := range s.Quantities {
		shown[math.Abs(float64(q.Value))] = true
	}
	for _, table := range s.Tables {
		for _, row := range table.Rows() {
			for _, cell := range row {
				if x, ok := cell.Value.(working.Number); ok {
					shown[math.Abs(float64(x))] = true
				}
			}
		}
	}
	return shown
}

// What the curve shows comes with the steps that find it, and the table of counts tells what is
// expected no sooner than the conditions ask for it.
func TestPartsThatComeLater(t *testing.T) {
	problems := proctest.DemoProblems(t)
	s, err := procedure.Work(t.Context(), problems["riders.ticket"])
	require.NoError(t, err)
	for n, want := range map[int]struct {
		roles   []working.Role
		columns string
		says    string
	}{
		3: {nil, "row column observed row_total column_total row_percent column_percent total_percent", ""},
		4: {[]working.Role{"expected"}, "row column observed row_total column_total row_percent column_percent total_percent",
			"Curve of χ², 4 degrees of freedom."},
		5: {[]working.Role{"expected"}, "row column observed row_total column_total expected row_percent column_percent total_percent",
			"Curve of χ², 4 degrees of freedom."},
		6: {[]working.Role{"expected", "statistic"}, "row column observed row_total column_total expected contribution residual " +
			"adjusted_residual row_percent column_percent total_percent", "Curve of χ², 4 degrees of freedom."},
	} {
		part := mask.UpTo(s, n)
		var ids []string
		for _, c := range part.Table("cells").Columns {
			ids = append(ids, c.ID)
		}
		assert.Equal(t, want.columns, strings.Join(ids, " "), n)
		assert.Len(t, part.Table("cells").Row(0), len(ids))
		assert.Equal(t, n == 6, part.Table("cells").Crossed.Leaning != "", "%d: how a cell leans is found with the statistic", n)
		var roles []working.Role
		for _, f := range part.Figures {
			if f.ID != "curve" {
				continue
			}
			assert.Equal(t, want.says, f.Says, n)
			for _, m := range f.Marks {
				roles = append(roles, m.Role)
			}
		}
		assert.Equal(t, want.roles, roles, n)
	}
	assert.NotEmpty(t, s.Table("cells").Crossed.Leaning, "the whole is as it was")
}
