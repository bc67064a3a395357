package server

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/labstack/echo/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/exchange"
)

// answered sends v as the answer to a request.
func answered(t *testing.T, v any, tag string) *httptest.ResponseRecorder {
	t.Helper()
	e := echo.New()
	e.HTTPErrorHandler = handleError
	e.GET("/", func(c *echo.Context) error { return exchange.Write(c, http.StatusOK, v) })
	request := httptest.NewRequest("GET", "/", nil)
	request.Header.Set("If-None-Match", tag)
	recorder := httptest.NewRecorder()
	e.ServeHTTP(recorder, request)
	return recorder
}

func TestNoAnswerIsLargerThanTheMost(t *testing.T) {
	assert.Equal(t, http.StatusOK, answered(t, strings.Repeat("x", exchange.MaxAnswer-100), "").Code)
	answer := answered(t, []string{strings.Repeat("x", exchange.MaxAnswer/2), strings.Repeat("y", exchange.MaxAnswer/2)}, "")
	require.Equal(t, http.StatusUnprocessableEntity, answer.Code)
	assert.Contains(t, answer.Body.String(), "larger than 20 MB")
}

func TestAnAnswerThatIsKnownIsNotSentAgain(t *testing.T) {
	first := answered(t, "pier", "")
	tag := first.Header().Get("ETag")
	require.NotEmpty(t, tag)
	again := answered(t, "pier", tag)
	assert.Equal(t, http.StatusNotModified, again.Code)
	assert.Empty(t, again.Body.String())
	assert.Equal(t, http.StatusOK, answered(t, "quarry", tag).Code)
}
