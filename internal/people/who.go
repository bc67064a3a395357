package people

import (
	"context"

	"github.com/labstack/echo/v5"

	"grund/internal/access"
)

// personKey is under which the context of a request holds who asks.
type personKey struct{}

// With returns a context in which somebody asks.
func With(ctx context.Context, who access.Person) context.Context {
	return context.WithValue(ctx, personKey{}, who)
}

// Of returns who asks; nobody, who may nothing, where that is not known.
func Of(ctx context.Context) access.Person {
	who, _ := ctx.Value(personKey{}).(access.Person)
	return who
}

// Who returns who asks.
func Who(c *echo.Context) access.Person { return Of(c.Request().Context()) }
