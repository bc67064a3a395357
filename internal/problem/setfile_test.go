package problem

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/data"
)

// A data set that is saved as JSON and opened again has the same columns and cells.
func TestSetFile(t *testing.T) {
	set, _, err := ReadSet(t.Context(), []byte("berth,minutes,note\nMole,12.5,calm\nQuarry,,\nMole,9,rain\n"), data.Options{})
	require.NoError(t, err)
	var file strings.Builder
	require.NoError(t, WriteSet(&file, data.Prepare(set)))
	assert.Contains(t, file.String(), `"grund": 1`)
	again, sheet, err := ReadSet(t.Context(), []byte(file.String()), data.Options{})
	require.NoError(t, err)
	assert.True(t, sheet.Header)
	require.Equal(t, set.Rows(), again.Rows())
	variables, _, mistakes := set.Variables()
	require.Empty(t, mistakes)
	others, _, mistakes := again.Variables()
	require.Empty(t, mistakes)
	require.Len(t, others, len(variables))
	for i, v := range variables {
		assert.Equal(t, v.Name, others[i].Name)
		assert.Equal(t, v.Kind, others[i].Kind)
		assert.Equal(t, fmt.Sprint(v.Numbers), fmt.Sprint(others[i].Numbers), "a missing cell is NaN")
		assert.Equal(t, v.Codes, others[i].Codes)
	}
}

// A problem file holds a data set too: its cases, or its counts as a table.
func TestReadSetOfAProblem(t *testing.T) {
	set, _, err := ReadSet(t.Context(), []byte(whole), data.Options{})
	require.NoError(t, err)
	assert.Equal(t, 4, set.Rows())

	set, _, err = ReadSet(t.Context(), []byte(`{"grund":1,"procedure":"chi-square-independence","data":{"counts":{"rows":["work","school"],`+
		`"columns":["single","month"],"cells":[[3,7],[5,2]]}}}`), data.Options{})
	require.NoError(t, err)
	assert.Equal(t, data.FormCounts, set.Form)
	_, _, cells, mistakes := set.Table()
	require.Empty(t, mistakes)
	assert.Equal(t, [][]float64{{3, 7}, {5, 2}}, cells)

	for file, says := range map[string]string{
		`{"grund":1,"variables":[{"name":"x","kind":"number","values":["a"]}]}`: "case 1 of “x” is the text “a”",
		`{"grund":1,"variables":7}`: "must be a list",
		`{"grund":1`:                "ends in the middle",
		"":                          "nothing in it",
	} {
		_, _, err := ReadSet(t.Context(), []byte(file), data.Options{})
		assert.ErrorContains(t, err, says, file)
	}
}

// A cell that does not fit its column stops the writing, which names it and a way out.
func TestWriteSetNamesTheCell(t *testing.T) {
	set, _, err := ReadSet(t.Context(), []byte("minutes\n12.5\n9\n7\n"), data.Options{})
	require.NoError(t, err)
	set.Columns[0].Kind, set.Columns[0].Cells[1] = data.Number, "nine"
	var file strings.Builder
	err = WriteSet(&file, data.Prepare(set))
	assert.ErrorContains(t, err, "nine")
	assert.ErrorContains(t, err, "save it in another format")
	require.NotEmpty(t, MistakesOf(data.Prepare(set)))
	assert.Contains(t, MistakesOf(data.Prepare(set))[0].Says, "nine")
	assert.Empty(t, MistakesOf(data.Prepare(&data.Set{})), "blank data are no mistake")
}
