package proportions

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestTimesWords(t *testing.T) {
	for ratio, want := range map[float64]string{
		1: "just as frequent", 1.9: "almost twice as frequent", 2.01: "twice as frequent", 2.1: "a little more than twice as frequent",
		2.8: "almost three times as frequent", 0.5: "half as frequent", 0.47: "not quite half as frequent", 0.84: "0.84 times as frequent",
		7.5: "7.50 times as frequent",
	} {
		assert.Equal(t, want, timesWords(ratio))
	}
}
