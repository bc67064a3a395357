package problem

// Tail is the direction that H₁ takes.
type Tail string

const (
	Both  Tail = "both"
	Left  Tail = "left"  // H₁ says "less"
	Right Tail = "right" // H₁ says "greater"
)

// Tails are all of them, from left to right.
var Tails = []Tail{Left, Both, Right}

// Sides holds what belongs to each way in which H₁ can look.
type Sides[T any] struct{ Both, Less, Greater T }

// Of returns what belongs to a tail.
func (s Sides[T]) Of(tail Tail) T {
	switch tail {
	case Left:
		return s.Less
	case Right:
		return s.Greater
	}
	return s.Both
}

// Null returns what H₀ states where H₁ takes the tail.
func (t Tail) Null() Statement {
	return Sides[Statement]{Both: Equal, Less: AtLeast, Greater: AtMost}.Of(t)
}

// Alternative returns what H₁ states where it takes the tail.
func (t Tail) Alternative() Statement {
	return Sides[Statement]{Both: Different, Less: Smaller, Greater: Larger}.Of(t)
}
