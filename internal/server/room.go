package server

import (
	"context"
	"errors"
	"sync/atomic"
	"time"

	"golang.org/x/sync/semaphore"
)

// What requests may cost in memory, in bytes. The measures behind it are in docs/limits.md.
const (
	// DefaultMemory is what large requests may take together where nothing else is set.
	DefaultMemory = 3 << 30
	// small requests need no place: so many bytes of body, so many cells of a data set.
	smallBody, smallSet = 256 << 10, 100_000
	// costPerByte is how many bytes of memory a byte of a JSON body may come to.
	costPerByte = 24
	// costPerCell is how many a cell of a data set comes to, in the data set and in what is made of it.
	costPerCell = 120
	// costOfStream is what a file costs that is read or written block by block.
	costOfStream = 64 << 20
	// maxSpooled bounds the bodies on disk that are on their way in, together.
	maxSpooled = 8 << 30
)

// patience is how long a large request waits for memory.
const patience = 10 * time.Second

// errBusy says that there is no room for a request now.
var errBusy = errors.New("there is no room for this at the moment")

// A room is the memory and the disk that large requests share.
type room struct {
	memory  *semaphore.Weighted
	size    int64
	spooled atomic.Int64
}

func newRoom(size int64) *room { return &room{memory: semaphore.NewWeighted(size), size: size} }

// take waits a little until so many bytes are free for the request of the context, which gives them back
// when it ends. One that costs more than there is gets all of it.
func (r *room) take(ctx context.Context, bytes int64) error {
	bytes = min(bytes, r.size)
	waiting, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	if err := r.memory.Acquire(waiting, bytes); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return errBusy
	}
	taken := ctx.Value(takenKey{}).(*atomic.Int64)
	taken.Add(bytes)
	return nil
}

// takenKey is where the context of a request holds what it has taken.
type takenKey struct{}

// admit returns a context with which a request takes room, and what gives that back at its end.
func (r *room) admit(ctx context.Context) (admitted context.Context, leave func()) {
	var taken atomic.Int64
	return context.WithValue(ctx, takenKey{}, &taken), func() { r.memory.Release(taken.Load()) }
}

// spool counts more bytes on disk, or fewer.
func (r *room) spool(bytes int64) error {
	if r.spooled.Add(bytes) > maxSpooled && bytes > 0 {
		r.spooled.Add(-bytes)
		return errBusy
	}
	return nil
}
