package formula

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Each root is drawn once less, and nothing else changes.
func TestChanged(t *testing.T) {
	a, b := Ref("a"), Ref("b")
	x := Quotient{Subtract(a, b), Root{Sum{Quotient{Square(a), Root{b}}, Product{a, b}}}}
	unrooted := Changed(x, func(part Expr) Expr {
		if root, is := part.(Root); is {
			return root.X
		}
		return nil
	})
	var printed []string
	for _, form := range unrooted {
		printed = append(printed, Print(form).Symbolic)
	}
	assert.Equal(t, []string{
		Print(Quotient{Subtract(a, b), Sum{Quotient{Square(a), Root{b}}, Product{a, b}}}).Symbolic,
		Print(Quotient{Subtract(a, b), Root{Sum{Quotient{Square(a), b}, Product{a, b}}}}).Symbolic,
	}, printed)
	assert.Empty(t, Changed(x, func(Expr) Expr { return nil }))
}
