package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"os"
	"syscall"

	"github.com/go-json-experiment/json"
	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/store"
	"grund/internal/words"
)

// handleError turns an error into a response. What a person can mend is 422, a
// stale write 409; only what we did not expect is logged, and not shown. Where an answer in lines
// has begun, its last line is the error.
func handleError(c *echo.Context, err error) {
	f := loggedFailure(c, err)
	header := c.Response().Header()
	switch r, _ := echo.UnwrapResponse(c.Response()); {
	case r == nil || !r.Committed:
		header.Set(echo.HeaderContentType, exchange.FailureType)
		header.Del("ETag")
		c.Response().WriteHeader(f.Status)
	case header.Get(echo.HeaderContentType) != jsonLines:
		return // the answer breaks off
	}
	text, err := json.Marshal(&f)
	if err == nil {
		_, err = c.Response().Write(append(text, '\n'))
	}
	if err != nil && c.Request().Context().Err() == nil {
		c.Logger().Error("sending an error failed", "error", err)
	}
}

// loggedFailure returns what is sent of an error, and logs one that was not to be expected.
func loggedFailure(c *echo.Context, err error) exchange.Failure {
	f, expected := failureOf(c, err)
	if !expected {
		c.Logger().Error("request failed", "method", c.Request().Method, "path", c.Request().URL.Path, "error", err)
	}
	return f
}

// failureOf returns what is sent of an error, and whether it is one that was to be expected.
func failureOf(c *echo.Context, err error) (f exchange.Failure, expected bool) {
	f = exchange.Failure{Status: http.StatusInternalServerError, Detail: "Something went wrong inside Grund. Nothing that was saved is lost."}
	var mistakes problem.Errors
	var stale *store.StaleError
	var full *store.FullError
	var cut *bodyError
	var coder echo.HTTPStatusCoder
	var httpError *echo.HTTPError
	expected = true
	switch {
	case errors.As(err, &mistakes):
		f = exchange.Failure{Status: http.StatusUnprocessableEntity, Detail: mistakes.Error(), Errors: mistakes}
	case errors.As(err, &stale):
		f = exchange.Failure{Status: http.StatusConflict, Detail: stale.Error(), Version: stale.Current}
	case errors.As(err, &full):
		f = exchange.Failure{Status: http.StatusInsufficientStorage, Detail: words.UpperFirst(full.Error()) + "."}
	case errors.Is(err, store.ErrNotFound):
		f = exchange.Failure{Status: http.StatusNotFound, Detail: "There is nothing under this address. It may have been deleted."}
	case errors.Is(err, errBusy) || errors.Is(err, store.ErrUnavailable):
		f = exchange.Failure{Status: http.StatusServiceUnavailable, Detail: "One moment: there is more to do at once than there is room for. " +
			"Nothing that was saved is lost."}
		if errors.Is(err, store.ErrUnavailable) {
			f.Detail = "One moment: the database does not answer yet. Nothing that was saved is lost."
		}
		c.Response().Header().Set("Retry-After", "2")
	case errors.Is(err, context.DeadlineExceeded):
		f = exchange.Failure{
			Status: http.StatusServiceUnavailable, Detail: "This takes longer than a request may. Nothing that was saved is lost.",
		}
	case errors.As(err, &coder):
		f = exchange.Failure{Status: coder.StatusCode()}
		if errors.As(err, &httpError) {
			f.Detail = httpError.Message
		}
		if limit, ok := c.Get(limitKey).(int64); ok && f.Status == http.StatusRequestEntityTooLarge {
			f.Detail = "This is larger than " + sizeWords(limit) + ", the most that can be sent at once."
		}
	case errors.As(err, &cut) && errors.Is(err, os.ErrDeadlineExceeded):
		f = exchange.Failure{Status: http.StatusRequestTimeout, Detail: "The request did not arrive in time. Nothing that was saved is lost."}
	case errors.As(err, &cut):
		f = exchange.Failure{Status: http.StatusBadRequest, Detail: "The connection ended before the request did."}
	case errors.Is(err, syscall.EPIPE) || errors.Is(err, syscall.ECONNRESET):
		// nobody waits for the answer any more
	default:
		expected = c.Request().Context().Err() != nil // nobody waits for the answer any more
	}
	f.Title = http.StatusText(f.Status)
	if f.Detail == "" {
		f.Detail = f.Title
	}
	return f, expected
}

// sizeWords writes a whole number of MiB or GiB.
func sizeWords(bytes int64) string {
	if bytes >= 1<<30 {
		return fmt.Sprintf("%d GiB", bytes>>30)
	}
	return fmt.Sprintf("%d MiB", bytes>>20)
}
