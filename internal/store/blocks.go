package store

import (
	"io"

	"github.com/google/uuid"
)

// blockRows feeds COPY from a source of blocks.
type blockRows struct {
	id      uuid.UUID
	source  BlockSource
	cells   [][]string // of the block in hand
	block   int        // its place
	column  int        // in hand
	started bool
	err     error
}

// Next makes the next column's block ready.
func (b *blockRows) Next() bool {
	if b.column++; b.column < len(b.cells) {
		return true
	}
	if b.started {
		b.block++
	}
	b.started, b.column = true, 0
	b.cells, b.err = b.source.Next()
	if b.err == io.EOF {
		b.err = nil
		return false
	}
	return b.err == nil && len(b.cells) > 0
}

// Values returns the row for COPY.
func (b *blockRows) Values() ([]any, error) {
	return []any{b.id, b.source.Set().Columns[b.column].Key, b.block, b.cells[b.column]}, nil
}

// Err returns what went wrong while reading.
func (b *blockRows) Err() error { return b.err }
