package server

import (
	"context"

	"github.com/labstack/echo/v5"

	"grund/internal/access"
)

// personKey is under which the context of a request holds who asks.
type personKey struct{}

// withPerson returns a context in which somebody asks.
func withPerson(ctx context.Context, who access.Person) context.Context {
	return context.WithValue(ctx, personKey{}, who)
}

// personOf returns who asks; nobody, who may nothing, where that is not known.
func personOf(ctx context.Context) access.Person {
	who, _ := ctx.Value(personKey{}).(access.Person)
	return who
}

// who returns who asks.
func who(c *echo.Context) access.Person { return personOf(c.Request().Context()) }

// identified lets everybody be the person of the machine.
func identified(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		c.SetRequest(r.WithContext(withPerson(r.Context(), access.Local)))
		return next(c)
	}
}
