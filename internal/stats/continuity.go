package stats

import "math"

// Continuity is the correction of a statistic that goes in steps, before a continuous curve
// is set in place of its own distribution: a value stands for all from half a step below it
// to half a step above.
type Continuity int

const (
	// NoCorrection takes the statistic as it is.
	NoCorrection Continuity = iota
	// TwoTails takes it half a step nearer to its centre, but not beyond it (F. Yates, J. Roy.
	// Statist. Soc. Suppl. 1, 1934).
	TwoTails
	// LeftTail takes it half a step up, wherever it lies: P(X ≤ x) is the area up to x + ½.
	LeftTail
	// RightTail takes it half a step down, wherever it lies: P(X ≥ x) is the area from x − ½ on.
	RightTail
)

// Correct returns the distance of a statistic from its centre after the correction. half is
// half a step.
func (c Continuity) Correct(distance, half float64) float64 {
	switch c {
	case TwoTails:
		return nearer(distance, half)
	case LeftTail:
		return distance + half
	case RightTail:
		return distance - half
	}
	return distance
}

// nearer takes x nearer to 0 by step, but not beyond it.
func nearer(x, step float64) float64 {
	return math.Copysign(math.Max(0, math.Abs(x)-step), x)
}
