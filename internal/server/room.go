package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"golang.org/x/sync/semaphore"

	"grund/internal/data"
	"grund/internal/problem"
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
	// costOfArchive is what a spreadsheet costs beside its body: it is read whole, and may unpack to a
	// hundred times its size.
	costOfArchive = 1 << 30
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

// take waits a little until so many bytes more are free for the request of the context, which gives them
// back when it ends. One that costs more than there is gets all of it: it never waits for itself.
func (r *room) take(ctx context.Context, bytes int64) error {
	taken := ctx.Value(takenKey{}).(*atomic.Int64)
	if bytes = min(bytes, r.size-taken.Load()); bytes <= 0 {
		return nil
	}
	waiting, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	if err := r.memory.Acquire(waiting, bytes); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return errBusy
	}
	taken.Add(bytes)
	return nil
}

// raise is take of what the request lacks to have so many bytes.
func (r *room) raise(ctx context.Context, bytes int64) error {
	return r.take(ctx, bytes-ctx.Value(takenKey{}).(*atomic.Int64).Load())
}

// takeForFile takes what it costs to read a file of that size that begins so, where it is not read row by
// row; what was taken for its body counts. One that is too large for that is refused.
func (r *room) takeForFile(ctx context.Context, start []byte, size int64) error {
	begins := bytes.TrimLeft(start, " \t\r\n\ufeff")
	whole := data.IsArchive(start) || bytes.HasPrefix(begins, []byte("[")) || bytes.HasPrefix(begins, []byte("{"))
	switch {
	case !whole:
		return nil
	case size > maxBody:
		return problem.Errors{{
			Says:    fmt.Sprintf("a spreadsheet, or a file of JSON, of %d MiB cannot be read: it would have to be in memory as a whole", size>>20),
			Instead: fmt.Sprintf("keep to %d MiB, or save it as CSV, which may be longer", maxBody>>20),
		}}
	case data.IsArchive(start):
		return r.raise(ctx, wholeCost(size)+costOfArchive)
	case size > smallBody:
		return r.raise(ctx, wholeCost(size))
	}
	return nil
}

// takenKey is where the context of a request holds what it has taken.
type takenKey struct{}

// admit returns a context with which a request takes room, and what gives that back at its end.
func (r *room) admit(ctx context.Context) (admitted context.Context, leave func()) {
	var taken atomic.Int64
	return context.WithValue(ctx, takenKey{}, &taken), func() { r.memory.Release(taken.Load()) }
}

// spool counts more bytes on disk.
func (r *room) spool(bytes int64) error {
	if r.spooled.Add(bytes) > maxSpooled {
		r.spooled.Add(-bytes)
		return errBusy
	}
	return nil
}
