package server

import (
	"errors"
	"net/http"

	"github.com/go-json-experiment/json"
	"github.com/labstack/echo/v5"

	"grund/internal/problem"
	"grund/internal/store"
)

// Failure is the body of every error response (RFC 9457).
type Failure struct {
	Title  string         `json:"title"`
	Status int            `json:"status"`
	Detail string         `json:"detail"`
	Errors problem.Errors `json:"errors,omitempty"` // what a person can mend, at its place
	// Version is the current one where a write was stale.
	Version int64 `json:"version,omitzero"`
}

// handleError turns an error into a response. What a person can mend is 422, a
// stale write 409; only what we did not expect is logged, and not shown.
func handleError(c *echo.Context, err error) {
	if r, _ := echo.UnwrapResponse(c.Response()); r != nil && r.Committed {
		return
	}
	f := Failure{Status: http.StatusInternalServerError, Detail: "Something went wrong inside Grund. Nothing that was saved is lost."}
	var mistakes problem.Errors
	var stale *store.StaleError
	var coder echo.HTTPStatusCoder
	var httpError *echo.HTTPError
	switch {
	case errors.As(err, &mistakes):
		f = Failure{Status: http.StatusUnprocessableEntity, Detail: mistakes.Error(), Errors: mistakes}
	case errors.As(err, &stale):
		f = Failure{Status: http.StatusConflict, Detail: stale.Error(), Version: stale.Current}
	case errors.Is(err, store.ErrNotFound):
		f = Failure{Status: http.StatusNotFound, Detail: "There is nothing under this address. It may have been deleted."}
	case errors.As(err, &coder):
		f = Failure{Status: coder.StatusCode()}
		if errors.As(err, &httpError) {
			f.Detail = httpError.Message
		}
		if f.Status == http.StatusRequestEntityTooLarge {
			f.Detail = "This is larger than 64 MiB, the most that can be sent at once."
		}
	default:
		c.Logger().Error("request failed", "method", c.Request().Method, "path", c.Request().URL.Path, "error", err)
	}
	f.Title = http.StatusText(f.Status)
	if f.Detail == "" {
		f.Detail = f.Title
	}
	c.Response().Header().Set(echo.HeaderContentType, "application/problem+json")
	c.Response().WriteHeader(f.Status)
	if err := json.MarshalWrite(c.Response(), &f); err != nil {
		c.Logger().Error("sending an error failed", "error", err)
	}
}
