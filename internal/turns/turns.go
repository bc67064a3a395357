// Package turns lets long calculations take turns, so that short ones and each other are not held up.
//
// A calculation asks its context from time to time whether it is still wanted. The context of a Queue
// takes that moment to make a calculation wait that has run longer than a short one does: so many at a
// time run, each for a slice, and then the one that has waited longest.
package turns

import (
	"context"
	"sync"
	"time"
)

const (
	// Free is how long a calculation runs before it takes turns.
	Free = 100 * time.Millisecond
	// Slice is how long a turn lasts.
	Slice = 50 * time.Millisecond
)

// A Queue lets long calculations run, so many at a time.
type Queue struct {
	mu      sync.Mutex
	places  int             // that are free
	waiting []chan struct{} // in the order in which they came
}

// NewQueue returns a queue that lets so many long calculations, one at least, run at a time.
func NewQueue(places int) *Queue { return &Queue{places: max(1, places)} }

// acquire waits for a place; false when the context is done first.
func (q *Queue) acquire(ctx context.Context) bool {
	q.mu.Lock()
	if q.places > 0 && len(q.waiting) == 0 {
		q.places--
		q.mu.Unlock()
		return true
	}
	turn := make(chan struct{})
	q.waiting = append(q.waiting, turn)
	q.mu.Unlock()
	select {
	case <-turn:
		return true
	case <-ctx.Done():
	}
	q.mu.Lock()
	defer q.mu.Unlock()
	for i, other := range q.waiting {
		if other == turn {
			q.waiting = append(q.waiting[:i], q.waiting[i+1:]...)
			return false
		}
	}
	q.pass() // it was our turn just then
	return false
}

func (q *Queue) release() {
	q.mu.Lock()
	defer q.mu.Unlock()
	q.pass()
}

// pass gives a place to the one that has waited longest.
func (q *Queue) pass() {
	if len(q.waiting) == 0 {
		q.places++
		return
	}
	close(q.waiting[0])
	q.waiting = q.waiting[1:]
}

// Context returns a context for one calculation, which may run for free before it takes turns. end
// must be called when the calculation has ended.
func (q *Queue) Context(ctx context.Context, free time.Duration) (turned context.Context, end func()) {
	t := &turn{Context: ctx, queue: q, until: time.Now().Add(free)}
	return t, t.end
}

// A turn is the context of one calculation.
type turn struct {
	context.Context
	queue *Queue

	mu      sync.Mutex
	until   time.Time // the present slice ends
	running bool      // whether it has a place in the queue
	ended   bool
}

// Err is the error of the context below. Once the present slice is over it waits for the next.
func (t *turn) Err() error {
	t.mu.Lock()
	defer t.mu.Unlock()
	if err := t.Context.Err(); err != nil || t.ended || time.Now().Before(t.until) {
		return err
	}
	if t.running {
		t.queue.release()
	}
	t.running = t.queue.acquire(t.Context)
	t.until = time.Now().Add(Slice)
	return t.Context.Err()
}

func (t *turn) end() {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.running {
		t.queue.release()
	}
	t.running, t.ended = false, true
}
