package server

import (
	"errors"
	"net/http"

	"github.com/go-json-experiment/json/jsontext"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/answer"
	"grund/internal/exchange"
	"grund/internal/problem"
	"grund/internal/turns"
)

// CheckRequest asks for the verdicts on answers to a problem.
type CheckRequest struct {
	Problem jsontext.Value `json:"problem"` // a problem file, or the id of a problem that is stored
	Answers jsontext.Value `json:"answers"`
}

// checkAnswers judges answers; nothing is kept.
func (s *server) checkAnswers(c *echo.Context) error {
	var request CheckRequest
	if err := exchange.Read(c, &request); err != nil {
		return err
	}
	p, err := s.problemOf(c, request.Problem)
	if err != nil {
		return err
	}
	answers, err := answer.ParseAnswers(request.Answers)
	if err != nil {
		return err
	}
	ctx, end := s.turns.Context(c.Request().Context(), turns.Free)
	defer end()
	verdicts, err := answer.Check(ctx, p, answers)
	if err != nil {
		return err
	}
	return exchange.Write(c, http.StatusOK, verdicts)
}

// problemOf reads a problem file, or fetches the problem whose id it is.
func (s *server) problemOf(c *echo.Context, of jsontext.Value) (*problem.Problem, error) {
	if of.Kind() != '"' {
		p, err := problem.Parse(of)
		var mistakes problem.Errors
		if errors.As(err, &mistakes) {
			return nil, mistakes.Under("problem")
		}
		return p, err
	}
	text, err := jsontext.AppendUnquote(nil, of)
	if err != nil {
		return nil, err
	}
	id, err := uuid.Parse(string(text))
	if err != nil || s.store == nil {
		return nil, problem.Errors{{Pointer: "/problem", Says: "it is no id of a problem",
			Instead: "give a problem file or the id of a stored problem"}}
	}
	st, err := s.state(c.Request().Context(), id)
	if err != nil {
		return nil, err
	}
	return st.problem.Draft.Problem(st.given)
}
