// Package means holds the procedures about means and spreads of one sample, of pairs and of two
// groups, with the test of a normal shape: z and t, the ratio of two variances, and the spreads
// by deviations.
package means

import "grund/internal/procedure/describe"

// meanUnderH0 binds the value that H₀ states of a mean.
func meanUnderH0(to *float64) describe.Option {
	return describe.Number(to, 0, describe.Option{ID: "mean", Label: "Mean under H₀", Says: "What the mean is said to be."})
}
