package answer

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
)

// thousand is a comparison of two groups of 500 cases each.
func thousand(b *testing.B) *problem.Problem {
	rng := rand.New(rand.NewPCG(1, 2))
	var x, g []string
	for i := range 1000 {
		x = append(x, fmt.Sprintf("%.2f", 12+rng.NormFloat64()+0.1*float64(i%2)))
		g = append(g, fmt.Sprintf("%q", []string{"a", "b"}[i%2]))
	}
	p, err := problem.Parse([]byte(`{"grund":1,"procedure":"t-two-sample","roles":{"response":"x","group":"g"},"data":{"variables":[` +
		`{"name":"x","kind":"number","values":[` + strings.Join(x, ",") + `]},{"name":"g","kind":"category","values":[` + strings.Join(g, ",") +
		`]}]}}`))
	require.NoError(b, err)
	return p
}

// What working takes, against what it takes to work and to judge an answer to every ask, all right and all wrong.
func BenchmarkWorking(b *testing.B) {
	p := thousand(b)
	for b.Loop() {
		_, err := procedure.Work(b.Context(), p)
		require.NoError(b, err)
	}
}

func BenchmarkCheck(b *testing.B) {
	p := thousand(b)
	asks, err := Asks(b.Context(), p)
	require.NoError(b, err)
	s, err := procedure.Work(b.Context(), p)
	require.NoError(b, err)
	var right, wrong []Answer
	for _, q := range s.Quantities {
		for _, a := range asks.Asks {
			if a.ID == string(q.ID) {
				right, wrong = append(right, Answer{a.ID, q.Full}), append(wrong, Answer{a.ID, "7.77"})
			}
		}
	}
	for name, answers := range map[string][]Answer{"right": right, "wrong": wrong} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				_, err := Check(b.Context(), p, answers)
				require.NoError(b, err)
			}
		})
	}
}
