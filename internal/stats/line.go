package stats

import "math"

// Line is a simple linear regression: the response on one predictor.
type Line struct {
	N                    int
	MeanX, MeanY         float64
	SXX, SYY, SXY        float64 // sums of squares and of products about the means
	Slope, Intercept     float64
	Regression, Residual float64 // sums of squares; SYY is that in all
	ResidualSD           float64
	SESlope, SEIntercept float64
	DF                   float64
	R                    float64
	F                    float64
	Perfect              bool // whether no case lies off the line
	meanX, meanY         wide
	slope                wide
}

const (
	// closeCases is up to how many cases all sums are taken in twice the precision.
	closeCases = 20_000
	// chunkCases is how many of more cases are summed in plain arithmetic before their sum goes
	// to one of twice the precision.
	chunkCases = 1024
)

// FitLine fits the response y by a line in x, of two cases at least with different x. Sums go
// once through the cases, less their first values; where those lie far from the means,
// measured by the spread, a second time less the means.
func FitLine(x, y []float64) Line {
	sums := sumPairs(x, y, x[0], y[0])
	if sums.far() {
		sums = sumPairs(x, y, sums.meanX().float(), sums.meanY().float())
	}
	n := float64(len(x))
	l := Line{N: len(x), meanX: sums.meanX(), meanY: sums.meanY(), DF: n - 2}
	l.MeanX, l.MeanY = l.meanX.float(), l.meanY.float()
	sxx, syy, sxy := sums.about()
	l.SXX, l.SYY, l.SXY = sxx.float(), syy.float(), sxy.float()
	l.slope = sxy.div(sxx)
	l.Slope = l.slope.float()
	l.Intercept = l.meanY.sub(l.slope.mul(l.meanX)).float()
	l.Regression = sxy.mul(l.slope).float()
	residual := syy.sub(sxy.mul(l.slope))
	l.Residual = math.Max(0, residual.float())
	// Near a perfect fit the difference of the sums has no digits left: residuals are summed.
	if l.Residual < 0.01*l.SYY {
		l.Residual = l.sumResiduals(x, y)
	}
	l.Perfect = perfect(l.Residual, l.SYY, l.MeanY, n)
	l.ResidualSD = math.Sqrt(l.Residual / l.DF)
	l.SESlope = l.ResidualSD / math.Sqrt(l.SXX)
	l.SEIntercept = l.ResidualSD * math.Sqrt(1/n+l.MeanX*l.MeanX/l.SXX)
	l.F = l.Regression / (l.Residual / l.DF)
	l.R = l.SXY / math.Sqrt(l.SXX) / math.Sqrt(l.SYY)
	return l
}

// perfect reports whether a sum of squared residuals is no more than the rounding of n values
// about the given size leaves.
func perfect(residual, total, size, n float64) bool {
	return residual <= math.Max(1e-28*total, 1e-31*n*size*size)
}

// sumResiduals returns the sum of the squared residuals.
func (l *Line) sumResiduals(x, y []float64) float64 {
	sum, low := 0.0, 0.0
	for i := range x {
		e := l.residual(x[i], y[i])
		high, rest := twoSum(sum, e*e)
		sum, low = high, low+rest
	}
	return sum + low
}

func (l *Line) residual(x, y float64) float64 {
	return widen(y).sub(l.meanY).sub(l.slope.mul(widen(x).sub(l.meanX))).float()
}

// At returns what the line gives at x, and the leverage that a case there has.
func (l *Line) At(x float64) (fitted, leverage float64) {
	d := widen(x).sub(l.meanX)
	return l.meanY.add(l.slope.mul(d)).float(), 1/float64(l.N) + d.float()/l.SXX*d.float()
}

// Case returns what the line makes of a case.
func (l *Line) Case(x, y float64) Fitted {
	fitted, h := l.At(x)
	c := Fitted{Value: fitted, Residual: l.residual(x, y), Leverage: h}
	if l.Perfect {
		c.Residual = 0
	}
	c.Standardized = c.Residual / (l.ResidualSD * math.Sqrt(1-h))
	c.Cook = c.Standardized * c.Standardized * h / (1 - h) / 2
	return c
}

// pairSums are sums over pairs less a shift.
type pairSums struct {
	n                float64
	shiftX, shiftY   float64
	x, y, xx, yy, xy wide
}

func sumPairs(x, y []float64, shiftX, shiftY float64) pairSums {
	s := pairSums{n: float64(len(x)), shiftX: shiftX, shiftY: shiftY}
	if len(x) <= closeCases {
		for i := range x {
			dx, dy := apart(x[i], shiftX), apart(y[i], shiftY)
			s.x, s.y = s.x.add(dx), s.y.add(dy)
			s.xx, s.yy, s.xy = s.xx.add(dx.mul(dx)), s.yy.add(dy.mul(dy)), s.xy.add(dx.mul(dy))
		}
		return s
	}
	for from := 0; from < len(x); from += chunkCases {
		to := min(from+chunkCases, len(x))
		// Two sums of each side by side: a case need not wait for the one before it.
		var sx, sy, sxx, syy, sxy, tx, ty, txx, tyy, txy float64
		a, b := x[from:to], y[from:to]
		i := 0
		for ; i+1 < len(a) && i+1 < len(b); i += 2 {
			dx, dy := a[i]-shiftX, b[i]-shiftY
			ex, ey := a[i+1]-shiftX, b[i+1]-shiftY
			sx, sy, tx, ty = sx+dx, sy+dy, tx+ex, ty+ey
			sxx, syy, sxy = sxx+dx*dx, syy+dy*dy, sxy+dx*dy
			txx, tyy, txy = txx+ex*ex, tyy+ey*ey, txy+ex*ey
		}
		for ; i < len(a); i++ {
			dx, dy := a[i]-shiftX, b[i]-shiftY
			sx, sy, sxx, syy, sxy = sx+dx, sy+dy, sxx+dx*dx, syy+dy*dy, sxy+dx*dy
		}
		s.x, s.y = s.x.add(widen(sx)).add(widen(tx)), s.y.add(widen(sy)).add(widen(ty))
		s.xx, s.yy, s.xy = s.xx.add(widen(sxx)).add(widen(txx)), s.yy.add(widen(syy)).add(widen(tyy)), s.xy.add(widen(sxy)).add(widen(txy))
	}
	return s
}

func (s *pairSums) meanX() wide { return s.x.div(widen(s.n)).add(widen(s.shiftX)) }

func (s *pairSums) meanY() wide { return s.y.div(widen(s.n)).add(widen(s.shiftY)) }

// about returns the sums of squares and of products about the means.
func (s *pairSums) about() (xx, yy, xy wide) {
	less := func(sum, a, b wide) wide { return sum.sub(a.mul(b).div(widen(s.n))) }
	return less(s.xx, s.x, s.x), less(s.yy, s.y, s.y), less(s.xy, s.x, s.y)
}

// far reports whether the means lie so far from the shifts that the sums about them have lost
// digits.
func (s *pairSums) far() bool {
	xx, yy, _ := s.about()
	return xx.high < 0.01*s.xx.high || yy.high < 0.01*s.yy.high
}
