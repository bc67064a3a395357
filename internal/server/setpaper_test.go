package server

import (
	"encoding/csv"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/answer"
	"grund/internal/classroom"
	"grund/internal/people"
)

var sheetCode = regexp.MustCompile(`\d-[A-Z]{3}`)

// On paper every copy has numbers and a code of its own, and no answer before the keys; the same codes stand at these. The table of
// keys has what a student's answer is judged by.
func TestASetOnPaper(t *testing.T) {
	sc := newSchool(t)
	teacher, student := sc.browsers["instructor"], sc.browsers["member"]
	at := "/api/sets/" + sc.set.ID
	status, text := teacher.ask("GET", at+"/paper?sheets=3", "", nil)
	require.Equal(t, http.StatusOK, status, text)
	assert.Equal(t, 1, strings.Count(text, `class="sheet"`), "all have the same numbers")
	sc.change(func(r *classroom.SetRequest) { r.Settings.OtherNumbers = true })
	status, text = teacher.ask("GET", at+"/paper?sheets=3&size=letter", "", nil)
	require.Equal(t, http.StatusOK, status, text)
	sheets, keys, _ := strings.Cut(text, `<section class="keys">`)
	assert.Equal(t, 3, strings.Count(sheets, `class="sheet"`))
	codes := sheetCode.FindAllString(keys, -1)
	require.Len(t, codes, 3)
	copies := strings.Split(sheets, `<section class="sheet">`)[1:]
	for i, code := range codes {
		assert.Equal(t, 3, strings.Count(copies[i], code), "at the head and at each of two problems")
		assert.NotContains(t, copies[i], "Reject H₀</dd>")
	}
	assert.NotEqual(t, copies[0], strings.ReplaceAll(copies[1], codes[1], codes[0]), "other numbers")
	_, again := teacher.ask("GET", at+"/paper?sheets=3&size=letter", "", nil)
	assert.Equal(t, text, again, "the same sheets whenever they are printed")

	status, text = teacher.ask("GET", at+"/keys?format=csv", "", nil)
	require.Equal(t, http.StatusOK, status, text)
	assert.Equal(t, 3, strings.Count(text, "\n"), "a head and two students: %s", text)
	table, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	require.NoError(t, err)
	var me people.Me
	student.needs("GET", "/api/me", "", &me)
	row := slices.IndexFunc(table, func(row []string) bool { return row[0] == me.Person.Name })
	require.Positive(t, row)
	var asks answer.AskList
	teacher.needs("GET", "/api/set-problems/"+sc.set.Problems[0].ID+"/asks", "", &asks)
	column := slices.Index(table[0], "Berths: "+asks.Asks[0].Label)
	require.Positive(t, column)
	now := student.answer(sc.set.Problems[0].ID, asks.Asks[0].ID, table[row][column])
	assert.Equal(t, answer.Right, now.Items[0].Verdict.Verdict)

	for query, says := range map[string]string{
		"/paper?sheets=0": "from 1 to 60", "/paper?sheets=61": "from 1 to 60", "/paper?sheets=x": "from 1 to 60",
		"/paper?sheets=1&size=a0": "size", "/keys?format=pdf": "csv",
	} {
		status, text = teacher.ask("GET", at+query, "", nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, query)
		assert.Contains(t, text, says)
	}
}
