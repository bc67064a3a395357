package server

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"net/http"
	"sync"

	"github.com/go-json-experiment/json"
	"github.com/labstack/echo/v5"

	"grund/internal/problem"
)

// maxAnswer bounds the answer to any request but that for a file. What is of any size comes in pages
// and parts, which are far smaller; this is the last resort.
const maxAnswer = 20_000_000

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
	if b.Len()+len(p) > maxAnswer {
		return 0, errAnswerTooLarge
	}
	return b.Buffer.Write(p)
}

// writeJSON sends v, the keys of maps in order: the browser tells by its text whether a choice is the
// one chosen. An answer to a question that changes nothing carries a tag, so that it is sent again only
// when it is another.
func writeJSON(c *echo.Context, status int, v any) error {
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
		if known(c, out.Bytes()) {
			return c.NoContent(http.StatusNotModified)
		}
	}
	return c.Blob(status, echo.MIMEApplicationJSON, out.Bytes())
}

// known gives an answer a tag, made of what tells it from others, and reports whether the client has
// the answer of that tag already.
func known(c *echo.Context, text []byte) bool {
	sum := sha256.Sum256(text)
	tag := `W/"` + base64.RawURLEncoding.EncodeToString(sum[:12]) + `"`
	c.Response().Header().Set("ETag", tag)
	return c.Request().Header.Get("If-None-Match") == tag
}
