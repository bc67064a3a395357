package answer

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
)

// Where tries are counted, an ask that was answered as often as it may be is answered no more, and the person goes on; what
// could not be read costs nothing, and an answer that is given is given.
func TestTriesAreCounted(t *testing.T) {
	two := 2
	p, err := problem.Parse([]byte(`{"grund":1,"procedure":"t-one-sample","roles":{"response":"y"},"options":{"mean":3},` +
		`"try":{"tries":2,"help":0},"data":{"variables":[{"name":"y","kind":"number","values":[1,2,3,4,5,9]}]}}`))
	require.NoError(t, err)
	require.Equal(t, &two, p.Try.Tries)
	a, err := NewAttempt(t.Context(), p)
	require.NoError(t, err)
	sheet, err := a.After(t.Context(), nil)
	require.NoError(t, err)
	first := sheet.Items[0].ID
	var events []Event
	add := func(text string) error {
		events = append(events, Event{Kind: Answered, Ask: first, Text: text})
		next, err := a.Add(t.Context(), sheet, events)
		if err != nil {
			events = events[:len(events)-1]
			return err
		}
		sheet = next
		return nil
	}
	for _, step := range []struct {
		text, verdict string
		left          int
	}{{"many", Unreadable, 2}, {"8", Wrong, 1}, {"?", Unreadable, 1}, {"7", Wrong, 0}} {
		require.NoError(t, add(step.text))
		item := sheet.Item(first)
		assert.Equal(t, step.verdict, item.Verdict.Verdict, step.text)
		assert.Equal(t, step.left, *item.Left, step.text)
		assert.False(t, sheet.CanUndo)
		assert.False(t, item.Credited())
	}
	assert.ErrorContains(t, add("6"), "as often as it may be")
	assert.Equal(t, 1, sheet.Answered)
	assert.NotEqual(t, sheet.Items[len(sheet.Items)-1].ID, first, "the person goes on")
	_, err = a.Add(t.Context(), sheet, append(events, Event{Kind: Undone}))
	assert.ErrorContains(t, err, "no answer to take back")
	_, err = a.Add(t.Context(), sheet, append(events, Event{Kind: Helped, Ask: first}))
	assert.ErrorContains(t, err, "no more help")
}
