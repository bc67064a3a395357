package main

import (
	"math/rand/v2"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The populations have the mean 0, the standard deviation 1 and the skewness that is said of
// them, within five standard errors of so many draws.
func TestPopulations(t *testing.T) {
	const n = 200_000
	for _, p := range []population{normal, uniform, exponential, mirrored, gamma(16), gamma(4), gamma(0.25)} {
		r := rand.New(rand.NewPCG(13, 5))
		first, second, third := 0.0, 0.0, 0.0
		for range n {
			x := p.draw(r)
			first += x / n
			second += x * x / n
			third += x * x * x / n
		}
		assert.InDelta(t, 0, first, 0.012, p.name)
		assert.InDelta(t, 1, second, 0.09, p.name)
		assert.InDelta(t, p.skewness, third, 0.05+0.15*p.skewness*p.skewness, p.name)
	}
}

// A run with few samples has the rows of the table that is kept, which was made with many.
func TestTheTableIsOfThisProgram(t *testing.T) {
	kept, err := os.ReadFile("../../docs/shape.md")
	require.NoError(t, err)
	var made strings.Builder
	write(&made, 64)
	keys := func(text string) (out []string) {
		for line := range strings.Lines(text) {
			if strings.HasPrefix(line, "| ") {
				out = append(out, strings.Join(strings.Split(line, "|")[1:4], "|"))
			}
		}
		return out
	}
	strip := func(all []string) (out []string) {
		for _, key := range all {
			if !strings.Contains(key, "0, ") { // the last table has its figures among these
				out = append(out, key)
			}
		}
		return out
	}
	assert.Equal(t, strip(keys(string(kept))), strip(keys(made.String())))
}
