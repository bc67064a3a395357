package server

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"grund/internal/exchange"
	"grund/internal/people"
)

// Space is what a person's data sets take, and what they may take, in bytes.
type Space struct {
	Used  int64 `json:"used"`
	Limit int64 `json:"limit"`
}

func (s *server) getSpace(c *echo.Context) error {
	space, err := s.store.Space(c.Request().Context(), people.Who(c))
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, Space{space.Used, space.Limit})
}
