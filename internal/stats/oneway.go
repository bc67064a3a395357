package stats

import "math"

// OneWay is a one-way analysis of variance.
type OneWay struct {
	Between, Within, Total float64 // sums of squares
	DFBetween, DFWithin    float64
	MSBetween, MSWithin    float64 // mean squares
	F                      float64
	EtaSquared             float64 // share of the total sum of squares that lies between the groups
	OmegaSquared           float64 // the same of the populations, estimated; not below 0

	Distances []float64 // mean of each group less the mean of all cases
	all       Moments   // of which only the mean is held
}

// NewOneWay compares the means of groups that have cases, by the sums of squares
// between and within them (R. A. Fisher, Statistical Methods for Research Workers,
// 1925, VII; ω² by W. L. Hays, Statistics for Psychologists, 1963). Means are held to about
// 32 digits, and differences of them taken without loss.
func NewOneWay(groups []Moments) OneWay {
	total, all := 0.0, Moments{}
	for _, g := range groups {
		n := float64(g.N)
		total += n
		high, low := twoSum(all.Mean, n*g.Mean)
		all.Mean, all.meanLow = high, all.meanLow+low+math.FMA(n, g.Mean, -(n*g.Mean))+n*g.meanLow
	}
	all.N = int(total)
	all.Mean, all.meanLow = divide(all.Mean, all.meanLow, total)
	a := OneWay{DFBetween: float64(len(groups) - 1), DFWithin: total - float64(len(groups)), Distances: make([]float64, len(groups)), all: all}
	for i, g := range groups {
		d := 4 * quarterDifference(g, all, 0)
		a.Distances[i] = d
		a.Between += float64(g.N) * d * d
		if g.N > 1 {
			a.Within += float64(g.N-1) * g.SD * g.SD
		}
	}
	a.Total = a.Between + a.Within
	a.MSBetween, a.MSWithin = a.Between/a.DFBetween, a.Within/a.DFWithin
	a.F = a.MSBetween / a.MSWithin
	a.EtaSquared = a.Between / a.Total
	a.OmegaSquared = math.Max(0, (a.Between-a.DFBetween*a.MSWithin)/(a.Total+a.MSWithin))
	return a
}

// Mean returns the mean of all cases.
func (a *OneWay) Mean() float64 { return a.all.Mean }

// Welch is the comparison of means whose groups spread unequally.
type Welch struct {
	Weights []float64 // n/s² of each group
	Sum     float64   // of the weights
	Mean    float64   // of all, by the weights
	Top     float64   // the weighted mean square between
	Lambda  float64   // Σ (1 − w/Σw)²/(n − 1)
	F       float64
	DF1     float64
	DF2     float64
}

// NewWelch compares the means of groups of two cases or more, each with some spread, without
// taking their variances as equal (B. L. Welch, Biometrika 38, 1951).
func NewWelch(groups []Moments) Welch {
	k := float64(len(groups))
	a := NewOneWay(groups)
	w := Welch{Weights: make([]float64, len(groups)), DF1: k - 1}
	distance := 0.0 // of the weighted mean from that of all cases
	for i, g := range groups {
		w.Weights[i] = float64(g.N) / g.SD / g.SD
		w.Sum += w.Weights[i]
		distance += w.Weights[i] * a.Distances[i]
	}
	distance /= w.Sum
	w.Mean = a.all.Mean + (a.all.meanLow + distance)
	for i, g := range groups {
		d := a.Distances[i] - distance
		w.Top += w.Weights[i] * d * d / (k - 1)
		rest := 1 - w.Weights[i]/w.Sum
		w.Lambda += rest * rest / float64(g.N-1)
	}
	w.F = w.Top / (1 + 2*(k-2)/(k*k-1)*w.Lambda)
	w.DF2 = (k*k - 1) / (3 * w.Lambda)
	return w
}

// MeanPair is the comparison of two of several means.
type MeanPair struct {
	First, Second int     // places of the groups
	Difference    float64 // mean of the first less that of the second
	SE            float64 // its standard error
	DF            float64
	T             float64 // Difference/SE
}

// CompareMeanPair compares two of several means: by the mean square within all groups, or
// with pooled false by the variances of the two alone (Welch, Biometrika 34, 1947).
func (a *OneWay) CompareMeanPair(groups []Moments, first, second int, pooled bool) MeanPair {
	p := MeanPair{First: first, Second: second}
	f, s := groups[first], groups[second]
	if !pooled {
		c := CompareMeans(f, s, 0, false)
		p.Difference, p.SE, p.DF, p.T = c.Difference, c.SE, c.DF, c.T
		return p
	}
	p.Difference = 4 * quarterDifference(f, s, 0)
	p.SE = math.Sqrt(a.MSWithin * (1/float64(f.N) + 1/float64(s.N)))
	p.DF, p.T = a.DFWithin, p.Difference/p.SE
	return p
}

// MeanPairs compares every two of the groups, the earlier with the later one.
func (a *OneWay) MeanPairs(groups []Moments, pooled bool) []MeanPair {
	var pairs []MeanPair
	for i := range groups {
		for j := i + 1; j < len(groups); j++ {
			pairs = append(pairs, a.CompareMeanPair(groups, i, j, pooled))
		}
	}
	return pairs
}

// Contrast is a weighted sum of means.
type Contrast struct {
	Estimate float64
	SE       float64
	DF       float64
	T        float64
}

// NewContrast returns Σ cᵢ·meanᵢ with its standard error √(MS within · Σ cᵢ²/nᵢ). With pooled
// false that is √(Σ cᵢ² sᵢ²/nᵢ), with the degrees of freedom of F. E. Satterthwaite (Biometrics
// Bulletin 2, 1946); groups of weight 0 are then not needed.
func (a *OneWay) NewContrast(groups []Moments, weights []float64, pooled bool) Contrast {
	c := Contrast{DF: a.DFWithin}
	sum, inverse, own := 0.0, 0.0, 0.0 // own is √(Σ cᵢ² sᵢ²/nᵢ)
	for i, w := range weights {
		if w == 0 {
			continue
		}
		c.Estimate += w * a.Distances[i]
		sum += w
		inverse += w * w / float64(groups[i].N)
		own = math.Hypot(own, w*groups[i].SD/math.Sqrt(float64(groups[i].N)))
	}
	c.Estimate += sum * a.all.Mean
	c.SE = math.Sqrt(a.MSWithin) * math.Sqrt(inverse)
	if !pooled {
		below := 0.0
		for i, w := range weights {
			if w != 0 { // the shares of the squared standard error keep the powers from overflow
				share := w * groups[i].SD / math.Sqrt(float64(groups[i].N)) / own
				below += share * share * share * share / float64(groups[i].N-1)
			}
		}
		c.SE, c.DF = own, 1/below
	}
	c.T = c.Estimate / c.SE
	return c
}
