package turns

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// calculate asks its context again and again until it has worked for so long, and returns the error
// that stopped it.
func calculate(ctx context.Context, work time.Duration, running func(by int64)) error {
	for worked := time.Duration(0); worked < work; worked += time.Millisecond {
		if err := ctx.Err(); err != nil {
			return err
		}
		running(1)
		time.Sleep(time.Millisecond)
		running(-1)
	}
	return nil
}

func TestAsManyRunAsThereArePlaces(t *testing.T) {
	q := NewQueue(2)
	var now, most atomic.Int64
	var wait sync.WaitGroup
	for range 12 {
		wait.Go(func() {
			ctx, end := q.Context(t.Context(), 0)
			defer end()
			assert.NoError(t, calculate(ctx, 100*time.Millisecond, func(by int64) {
				if n := now.Add(by); n > most.Load() {
					most.Store(n)
				}
			}))
		})
	}
	wait.Wait()
	assert.Equal(t, int64(2), most.Load())
	assert.Equal(t, 2, q.places, "all places are given back")
	assert.Empty(t, q.waiting)
}

// The one that came last does not wait until the others have ended.
func TestTurnsAreFair(t *testing.T) {
	q := NewQueue(1)
	var wait sync.WaitGroup
	var steps [3]atomic.Int64
	for i := range steps {
		wait.Go(func() {
			ctx, end := q.Context(t.Context(), 0)
			defer end()
			_ = calculate(ctx, 400*time.Millisecond, func(by int64) {
				if by > 0 {
					steps[i].Add(1)
				}
			})
		})
	}
	time.Sleep(7 * Slice)
	for i := range steps {
		assert.Positive(t, steps[i].Load(), "each has had a turn")
	}
	wait.Wait()
}

// A short calculation does not wait, whatever is in the queue.
func TestAShortCalculationIsFree(t *testing.T) {
	q := NewQueue(1)
	long, end := q.Context(t.Context(), 0)
	defer end()
	require.NoError(t, long.Err()) // takes the place and keeps it
	short, endShort := q.Context(t.Context(), time.Minute)
	defer endShort()
	began := time.Now()
	require.NoError(t, calculate(short, 10*time.Millisecond, func(int64) {}))
	assert.Less(t, time.Since(began), time.Second)
}

func TestWhoIsNoLongerWantedLeavesTheQueue(t *testing.T) {
	q := NewQueue(1)
	long, end := q.Context(t.Context(), 0)
	require.NoError(t, long.Err())
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Millisecond)
	defer cancel()
	other, endOther := q.Context(ctx, 0)
	assert.ErrorIs(t, other.Err(), context.DeadlineExceeded)
	endOther()
	assert.Empty(t, q.waiting)
	end()
	end() // a second time changes nothing
	assert.Equal(t, 1, q.places)
	assert.NoError(t, long.Err(), "what has ended takes no place any more")
	assert.Equal(t, 1, q.places)
}
