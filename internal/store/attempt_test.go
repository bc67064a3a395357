package store

import (
	"context"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
)

func TestAnAttemptIsKeptAsItGoes(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, p := keep(t, s)
	now := Versions{1, 1}
	none, err := s.Attempt(ctx, access.Local, p.ID, now)
	require.NoError(t, err)
	assert.Nil(t, none)

	for i, text := range []string{"0,57", "0.572", "−2.04"} {
		a, err := s.AddEvent(ctx, access.Local, p.ID, now, i, Event{Kind: "answer", Ask: "se", Text: text, Verdict: "right", Slip: "sign"})
		require.NoError(t, err)
		assert.Len(t, a.Events, i+1)
	}
	a, err := s.Attempt(ctx, access.Local, p.ID, now)
	require.NoError(t, err)
	require.Len(t, a.Events, 3)
	assert.Equal(t, "−2.04", a.Events[2].Text)
	assert.False(t, a.Events[2].At.Before(a.BegunAt))
	assert.False(t, a.Outdated)

	_, err = s.AddEvent(ctx, access.Local, p.ID, now, 2, Event{Kind: "answer", Ask: "t", Text: "1"})
	var stale *StaleError
	require.ErrorAs(t, err, &stale)
	assert.EqualValues(t, 3, stale.Current, "another tab has answered meanwhile")

	a, err = s.Attempt(ctx, access.Local, p.ID, Versions{2, 1})
	require.NoError(t, err)
	assert.True(t, a.Outdated)
	a, err = s.AddEvent(ctx, access.Local, p.ID, Versions{2, 1}, 0, Event{Kind: "answer", Ask: "t", Text: "1"})
	require.NoError(t, err)
	assert.Len(t, a.Events, 1, "another version is another attempt")

	require.NoError(t, s.EndAttempt(ctx, access.Local, p.ID))
	a, err = s.Attempt(ctx, access.Local, p.ID, Versions{2, 1})
	require.NoError(t, err)
	assert.Nil(t, a)
}

// Of two tabs that answer at once one is first, and the other is told.
func TestTwoTabsAnswerAtOnce(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, p := keep(t, s)
	var done sync.WaitGroup
	errs := make([]error, 8)
	for i := range errs {
		done.Go(func() {
			_, errs[i] = s.AddEvent(ctx, access.Local, p.ID, Versions{1, 1}, 0, Event{Kind: "answer", Ask: "t", Text: "1"})
		})
	}
	done.Wait()
	kept := 0
	for _, err := range errs {
		var stale *StaleError
		if err == nil {
			kept++
		} else {
			require.ErrorAs(t, err, &stale)
		}
	}
	assert.Equal(t, 1, kept)
}

// Attempts are nobody else's, and go with their problem.
func TestWhoseAttempts(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, p := keep(t, s)
	_, err := s.AddEvent(ctx, access.Local, p.ID, Versions{1, 1}, 0, Event{Kind: "answer", Ask: "t", Text: "1"})
	require.NoError(t, err)
	other := access.Person{ID: uuid.New()}
	a, err := s.Attempt(ctx, other, p.ID, Versions{1, 1})
	require.NoError(t, err)
	assert.Nil(t, a)
	_, err = s.AddEvent(ctx, other, p.ID, Versions{1, 1}, 0, Event{Kind: "answer", Ask: "t", Text: "1"})
	require.ErrorIs(t, err, ErrNotFound)
	require.NoError(t, s.DeleteProblem(ctx, access.Local, p.ID, 0))
	_, err = s.AddEvent(ctx, access.Local, p.ID, Versions{1, 1}, 1, Event{Kind: "answer", Ask: "t", Text: "1"})
	require.ErrorIs(t, err, ErrNotFound)
	_, err = s.pool.Exec(ctx, "delete from problem where id = $1", p.ID)
	require.NoError(t, err)
	var left int
	require.NoError(t, s.pool.QueryRow(ctx, "select count(*) from attempt_event").Scan(&left))
	assert.Zero(t, left)
}
