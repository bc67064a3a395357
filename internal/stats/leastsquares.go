package stats

import (
	"context"
	"math"
	"slices"

	"grund/internal/stats/dist"
)

// LeastSquares is the fit of a response by an intercept and predictors.
//
// The normal equations are never formed: the matrix of cases is reduced to a triangle, in arithmetic of
// about 32 digits. Each column is first taken less its first value.
type LeastSquares struct {
	N, P         int       // cases and predictors
	Coefficients []float64 // the intercept first
	SE           []float64 // their standard errors
	Inflation    []float64 // variance inflation of each predictor; 1 where it goes with no other
	Standardized []float64 // coefficient of each predictor in standard deviations

	Regression, Residual, Total float64 // sums of squares
	DF                          float64 // of the residuals, n − p − 1
	ResidualSD                  float64
	F                           float64
	R2, AdjustedR2              float64
	AIC                         float64 // n ln(SSE/n) + 2(p + 2)

	Perfect bool // whether the response is fitted without any residual

	shift    []float64 // of each predictor and of the response, which comes last
	reduced  *reduction
	triangle [][]wide // upper, over the intercept, the predictors and the response
	exact    []wide   // the coefficients, of shifted columns
}

// FitLeastSquares fits the response by the predictors, each a column of as many values.
// Where a predictor is a sum of multiples of those before it and a constant, dependent is
// its place and nothing is fitted; otherwise dependent is −1. There must be more cases than
// predictors and the intercept. It ends with the context's error when that is done.
func FitLeastSquares(ctx context.Context, predictors [][]float64, response []float64) (fit *LeastSquares, dependent int, err error) {
	return fitLeastSquares(ctx, predictors, response, longestCategory(predictors))
}

// fitLeastSquares is FitLeastSquares, the levels of a category being reduced as such.
func fitLeastSquares(ctx context.Context, predictors [][]float64, response []float64, levels span) (
	fit *LeastSquares, dependent int, err error,
) {
	n, p := len(response), len(predictors)
	f := &LeastSquares{N: n, P: p, DF: float64(n - p - 1), shift: make([]float64, p+1)}
	columns := append(slices.Clone(predictors), response)
	largest := make([]float64, p+1)
	for j, column := range columns {
		f.shift[j] = column[0]
		for _, x := range column {
			largest[j] = math.Max(largest[j], math.Abs(x))
		}
	}
	for j := levels.from; j < levels.to; j++ {
		f.shift[j] = 0
	}
	if f.reduced, err = reduceCases(ctx, columns, f.shift, levels); err != nil {
		return nil, -1, err
	}
	f.triangle = f.reduced.inOrder()
	spread := make([]float64, p+1) // root of the sum of squares about the mean
	for j := range spread {
		sum := 0.0
		for i := 1; i <= j+1; i++ {
			sum = math.Hypot(sum, f.triangle[i][j+1].float())
		}
		spread[j] = sum
	}
	// What a column has that those before it have not; the rounding of its values alone leaves
	// this much.
	for j := range p {
		rounding := 4e-16 * math.Sqrt(float64(n)) * largest[j]
		if own := math.Abs(f.triangle[j+1][j+1].float()); own <= rounding || own <= 1e-13*spread[j] {
			return nil, j, nil
		}
	}
	f.solve(spread)
	return f, -1, nil
}

// solve takes everything from the triangle.
func (f *LeastSquares) solve(spread []float64) {
	n, p := f.N, f.P
	r := f.triangle
	last := p + 1
	f.exact = make([]wide, p+1)
	for i := p; i >= 0; i-- {
		sum := r[i][last]
		for j := i + 1; j <= p; j++ {
			sum = sum.sub(r[i][j].mul(f.exact[j]))
		}
		f.exact[i] = sum.div(r[i][i])
	}
	f.Coefficients = make([]float64, p+1)
	intercept := f.exact[0].add(widen(f.shift[p]))
	for j := 1; j <= p; j++ {
		f.Coefficients[j] = f.exact[j].float()
		intercept = intercept.sub(f.exact[j].mul(widen(f.shift[j-1])))
	}
	f.Coefficients[0] = intercept.float()

	regression := wide{}
	for i := 1; i <= p; i++ {
		regression = regression.add(r[i][last].mul(r[i][last]))
	}
	residual := r[last][last].mul(r[last][last])
	f.Regression, f.Residual, f.Total = regression.float(), residual.float(), regression.add(residual).float()
	f.Perfect = perfect(f.Residual, f.Total, f.shift[p], float64(n))
	f.ResidualSD = math.Sqrt(f.Residual / f.DF)
	f.F = f.Regression / float64(p) / (f.Residual / f.DF)
	f.R2 = f.Regression / f.Total
	f.AdjustedR2 = 1 - f.Residual/f.DF/(f.Total/float64(n-1))
	f.AIC = float64(n)*math.Log(f.Residual/float64(n)) + 2*float64(p+2)

	own, norms := f.reduced.inverseNorms(f.shift)
	f.SE, f.Inflation, f.Standardized = make([]float64, p+1), make([]float64, p), make([]float64, p)
	f.SE[0] = f.ResidualSD * own
	for j := 1; j <= p; j++ {
		norm := norms[j-1]
		f.SE[j] = f.ResidualSD * norm
		f.Inflation[j-1] = math.Max(1, norm*spread[j-1]*norm*spread[j-1])
		f.Standardized[j-1] = f.Coefficients[j] * spread[j-1] / spread[p]
	}
}

// FOfResponses returns what gives F for any response to the same predictors, none of which follows from
// the others. The columns, less their means, are made orthogonal once, by Gram and Schmidt's way, gone
// twice (Å. Björck, Numerical Methods for Least Squares Problems, 1996, 2.4.5), so that a response costs
// no more than a product with each. That is exact enough to set drawn responses against an observed one:
// where predictors are nearly dependent FitLeastSquares has more digits.
func FOfResponses(predictors [][]float64, n int) func(response []float64) float64 {
	project := func(x, on []float64) float64 {
		sum := 0.0
		for i := range x {
			sum += x[i] * on[i]
		}
		return sum
	}
	scaled := func(x []float64, by float64) {
		for i := range x {
			x[i] /= by
		}
	}
	axes := make([][]float64, len(predictors))
	for j, column := range predictors {
		mean := NewMoments(column).Mean
		axis := make([]float64, n)
		for i, x := range column {
			axis[i] = x - mean
		}
		scaled(axis, math.Sqrt(project(axis, axis)))
		for range 2 {
			for _, before := range axes[:j] {
				part := project(axis, before)
				for i := range axis {
					axis[i] -= part * before[i]
				}
			}
		}
		scaled(axis, math.Sqrt(project(axis, axis)))
		axes[j] = axis
	}
	p := float64(len(predictors))
	df := float64(n) - p - 1
	y := make([]float64, n)
	return func(response []float64) float64 {
		mean := NewMoments(response).Mean
		for i, x := range response {
			y[i] = x - mean
		}
		explained := 0.0
		for _, axis := range axes {
			along := project(y, axis)
			explained += along * along
		}
		return explained / p / (math.Max(0, project(y, y)-explained) / df)
	}
}

// Fitted is a case seen from the fit.
type Fitted struct {
	Value        float64 // what the fit gives
	Residual     float64 // observed less fitted
	Leverage     float64 // h: how much the case draws the fit to itself, from 1/n to 1
	Standardized float64 // residual over its own standard error, s√(1 − h)
	Cook         float64 // how far all fitted values move without the case (R. D. Cook, Technometrics 19, 1977)
}

// At returns what the fit gives for predictors, and the leverage that a case there has: the
// squared standard error of the mean over the residual variance.
func (f *LeastSquares) At(predictors []float64) (fitted, leverage float64) {
	value, h := f.at(predictors)
	return value.add(widen(f.shift[f.P])).float(), h
}

// at returns the fitted value less the shift of the response.
func (f *LeastSquares) at(predictors []float64) (fitted wide, leverage float64) {
	row := make([]wide, f.P+1)
	row[0] = widen(1)
	fitted = f.exact[0]
	for j, x := range predictors {
		if x == f.shift[j] { // most levels of a category
			continue
		}
		row[j+1] = apart(x, f.shift[j])
		fitted = fitted.add(f.exact[j+1].mul(row[j+1]))
	}
	return fitted, f.reduced.leverage(row)
}

// Case returns what the fit makes of a case with these predictors and this response.
func (f *LeastSquares) Case(predictors []float64, observed float64) Fitted {
	value, h := f.at(predictors)
	h = math.Min(1, h)
	c := Fitted{Value: value.add(widen(f.shift[f.P])).float(), Residual: apart(observed, f.shift[f.P]).sub(value).float(), Leverage: h}
	if f.Perfect {
		c.Residual = 0
	}
	c.Standardized = c.Residual / (f.ResidualSD * math.Sqrt(1-h))
	c.Cook = c.Standardized * c.Standardized * h / (1 - h) / float64(f.P+1)
	return c
}

// Partial tests the predictors from place first on, given those before them: the partial F
// test, with its degrees of freedom above the line and its p-value.
func (f *LeastSquares) Partial(first int) (partial, df1, p float64) {
	extra := wide{}
	for i := first + 1; i <= f.P; i++ {
		extra = extra.add(f.triangle[i][f.P+1].mul(f.triangle[i][f.P+1]))
	}
	df1 = float64(f.P - first)
	partial = extra.float() / df1 / (f.Residual / f.DF)
	return partial, df1, dist.F{DF1: df1, DF2: f.DF}.Upper(partial)
}
