package problem

import (
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// One number is read as the same for all kinds, and the same for all kinds is written as one number.
func TestDecimals(t *testing.T) {
	for text, want := range map[string]struct {
		written       string
		p, percent    int
		hasP, hasRate bool
	}{
		`3`:                           {`3`, 3, 3, true, true},
		`{"p":2}`:                     {`{"p":2}`, 2, 0, true, false},
		`{"percent":0,"statistic":1}`: {`{"statistic":1,"percent":0}`, 0, 0, false, true},
		`{}`:                          {`{}`, 0, 0, false, false},
		`{"statistic":2,"p":2,"estimate":2,"expected":2,"percent":2}`: {`2`, 2, 2, true, true},
	} {
		var d Decimals
		require.NoError(t, json.Unmarshal([]byte(text), &d), text)
		p, hasP := d.Of(PNumber)
		rate, hasRate := d.Of(PercentNumber)
		assert.Equal(t, []any{want.p, want.hasP, want.percent, want.hasRate}, []any{p, hasP, rate, hasRate}, text)
		written, err := json.Marshal(&d)
		require.NoError(t, err)
		assert.Equal(t, want.written, string(written))
	}
	_, asked := (*Decimals)(nil).Of(PNumber)
	assert.False(t, asked, "where nothing is said each number is shown as needed")
}
