package problemset

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/binary"
	"strconv"

	"github.com/google/uuid"

	"grund/internal/problem"
	"grund/internal/vary"
)

// Seed is that of a person's numbers in a set: the same whenever it is asked for, and another one where another is drawn, which
// draw counts. It is a whole number that JSON keeps exactly.
func Seed(set, person uuid.UUID, draw int) uint64 {
	h := sha256.New()
	h.Write(set[:])
	h.Write(person[:])
	_ = binary.Write(h, binary.BigEndian, int64(draw))
	return binary.BigEndian.Uint64(h.Sum(nil)) >> 11
}

// codeLetters are those that nobody takes for another, on paper.
const codeLetters = "ABCDEFGHJKLMNPQRSTUVWXYZ"

// Code names a numbered sheet by its number and its numbers: sheet and key that have the same code belong together.
func Code(number int, seed uint64) string {
	letters := make([]byte, 3)
	for i := range letters {
		letters[i] = codeLetters[seed%uint64(len(codeLetters))]
		seed /= uint64(len(codeLetters))
	}
	return strconv.Itoa(number) + "-" + string(letters)
}

// Variant returns a problem as a person with a seed gets it: as the set asks it, with other numbers where the set gives them.
func (s *Settings) Variant(ctx context.Context, p *problem.Problem, seed uint64) (*problem.Problem, error) {
	if s.OtherNumbers {
		var err error
		if p, err = vary.Problem(ctx, p, seed, vary.Keep(cmp.Or(s.Keep, string(vary.KeepDecision)))); err != nil {
			return nil, err
		}
	}
	return s.Asked(p), nil
}
