package server

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"
)

// bodyLimit refuses larger bodies; the error names the limit.
func bodyLimit(bytes int64) echo.MiddlewareFunc {
	limit := middleware.BodyLimit(bytes)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		limited := limit(next)
		return func(c *echo.Context) error {
			c.Set(limitKey, bytes)
			return limited(c)
		}
	}
}

// limitKey is where a request's context holds the limit of its body, in bytes.
const limitKey = "body limit"

// arrived waits until all of a body is there, a long one on disk, before anything else is taken for the
// request: who sends slowly holds up nobody. Then the request waits for the memory that a body of its
// size costs.
func (s *server) arrived(cost func(size int64) int64) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			body, err := s.receive(c.Request().Body)
			if err != nil {
				return err
			}
			defer body.Close()
			ctx, leave := s.room.admit(c.Request().Context())
			defer leave()
			if body.size > smallBody {
				if err := s.room.take(ctx, cost(body.size)); err != nil {
					return err
				}
			}
			request := c.Request().WithContext(ctx)
			request.Body, request.ContentLength = body, body.size
			c.SetRequest(request)
			return next(c)
		}
	}
}

// wholeCost is the cost of a body that is read into memory, and streamCost of one that is not.
func wholeCost(size int64) int64 { return costPerByte * size }

func streamCost(int64) int64 { return costOfStream }

// A body of a request that is all there.
type body struct {
	io.Reader
	size int64
	file *os.File // nil where it is in memory
	room *room
}

// Close forgets the body.
func (b *body) Close() error {
	if b.file == nil {
		return nil
	}
	b.room.spooled.Add(-b.size)
	return b.file.Close()
}

// A bodyError is why a body did not arrive.
type bodyError struct {
	err error
}

func (e *bodyError) Error() string { return "receiving the body: " + e.err.Error() }

func (e *bodyError) Unwrap() error { return e.err }

// receive reads a body to its end.
func (s *server) receive(from io.Reader) (*body, error) {
	start, err := io.ReadAll(io.LimitReader(from, smallBody+1))
	if err != nil {
		return nil, &bodyError{err}
	}
	if len(start) <= smallBody {
		return &body{Reader: bytes.NewReader(start), size: int64(len(start))}, nil
	}
	file, err := os.CreateTemp("", "grund-body-")
	if err != nil {
		return nil, fmt.Errorf("making room on disk for a body: %w", err)
	}
	b := &body{Reader: file, file: file, room: s.room}
	if err := errors.Join(os.Remove(file.Name()), b.fill(io.MultiReader(bytes.NewReader(start), from))); err != nil {
		b.Close()
		return nil, err
	}
	return b, nil
}

func (b *body) fill(from io.Reader) error {
	chunk := make([]byte, 256<<10)
	for {
		n, err := from.Read(chunk)
		if n > 0 {
			if err := b.room.spool(int64(n)); err != nil {
				return err
			}
			b.size += int64(n)
			if _, err := b.file.Write(chunk[:n]); err != nil {
				return fmt.Errorf("keeping a body on disk: %w", err)
			}
		}
		switch err {
		case nil:
			continue
		case io.EOF:
			if _, err := b.file.Seek(0, io.SeekStart); err != nil {
				return fmt.Errorf("reading a body from disk: %w", err)
			}
			return nil
		}
		return &bodyError{err}
	}
}
