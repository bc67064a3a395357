// Package exchange is how requests are read and answered: JSON in and out, pages of lists, failures.
package exchange

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strconv"
	"sync"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/problem"
	"grund/internal/store"
	"grund/internal/words"
)

// Read decodes the body into v. What is wrong with it is a person's to mend.
func Read(c *echo.Context, v any) error {
	body, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	if err := problem.RefuseNUL(body); err != nil {
		return err
	}
	return problem.Decode(body, v)
}

// PageFrom returns with which of a list its page begins, from 0.
func PageFrom(c *echo.Context) (int, error) {
	text := c.QueryParam("from")
	if text == "" {
		return 0, nil
	}
	from, err := strconv.ParseUint(text, 10, 31)
	if err != nil {
		return 0, problem.Errors{{Pointer: "/from", Says: "the page begins at “" + words.Shorten(text) + "”",
			Instead: "give a whole number from 0 up"}}
	}
	return int(from), nil
}

// LinkNext says where the next page of a list is (RFC 8288).
func LinkNext(c *echo.Context, from int) {
	c.Response().Header().Set("Link", fmt.Sprintf(`<%s?from=%d>; rel="next"`, c.Request().URL.Path, from))
}

// WithID hands the problem's id in the path to a handler.
func WithID(handle func(c *echo.Context, id uuid.UUID) error) echo.HandlerFunc {
	return func(c *echo.Context) error {
		id, err := uuid.Parse(c.Param("id"))
		if err != nil {
			return store.ErrNotFound
		}
		return handle(c, id)
	}
}

// Failure is the body of every error response (RFC 9457).
type Failure struct {
	Title  string         `json:"title"`
	Status int            `json:"status"`
	Detail string         `json:"detail"`
	Errors problem.Errors `json:"errors,omitempty"` // what a person can mend, at its place
	// Version is the current one where a write was stale.
	Version int64 `json:"version,omitzero"`
}

// FailureType is the media type of a Failure.
const FailureType = "application/problem+json"

// Refuse answers with a Failure, outside of any route.
func Refuse(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", FailureType)
	w.WriteHeader(status)
	_ = json.MarshalWrite(w, Failure{Title: http.StatusText(status), Status: status, Detail: detail})
}

// MaxAnswer bounds the answer to any request but that for a file. What is of any size comes in pages
// and parts, which are far smaller; this is the last resort.
const MaxAnswer = 20_000_000

var errAnswerTooLarge = errors.New("the answer would be larger than 20 MB")

// answerBuffer collects an answer up to the most that is sent.
type answerBuffer struct {
	bytes.Buffer
}

// answerBuffers are kept for the next answer, as one grows in many steps.
var answerBuffers = sync.Pool{New: func() any { return new(answerBuffer) }}

// keptAnswer is how large a buffer may be that is kept.
const keptAnswer = 1_000_000

// Write fails once the answer is too large.
func (b *answerBuffer) Write(p []byte) (int, error) {
	if b.Len()+len(p) > MaxAnswer {
		return 0, errAnswerTooLarge
	}
	return b.Buffer.Write(p)
}

// Write sends v, the keys of maps in order: the browser tells by its text whether a choice is the
// one chosen. An answer to a question that changes nothing carries a tag, so that it is sent again only
// when it is another.
func Write(c *echo.Context, status int, v any) error {
	out := answerBuffers.Get().(*answerBuffer)
	out.Reset()
	defer func() {
		if out.Cap() <= keptAnswer {
			answerBuffers.Put(out)
		}
	}()
	if err := json.MarshalWrite(out, v, json.Deterministic(true)); err != nil {
		if errors.Is(err, errAnswerTooLarge) {
			return problem.Errors{{
				Says: errAnswerTooLarge.Error(), Instead: "shorten the texts in the data, or use fewer variables, levels or cases",
			}}
		}
		return fmt.Errorf("encoding an answer: %w", err)
	}
	if method := c.Request().Method; method == http.MethodGet || method == http.MethodHead {
		if Known(c, out.Bytes()) {
			return c.NoContent(http.StatusNotModified)
		}
	}
	return c.Blob(status, echo.MIMEApplicationJSON, out.Bytes())
}

// Known gives an answer a tag, made of what tells it from others, and reports whether the client has
// the answer of that tag already.
func Known(c *echo.Context, text []byte) bool {
	sum := sha256.Sum256(text)
	tag := `W/"` + base64.RawURLEncoding.EncodeToString(sum[:12]) + `"`
	c.Response().Header().Set("ETag", tag)
	return c.Request().Header.Get("If-None-Match") == tag
}
