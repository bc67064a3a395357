package stats

import (
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// rational solves least squares of the doubles as they are, by normal equations in exact
// fractions: the coefficients, their variances over the residual variance, and the sum of
// squared residuals.
func rational(predictors [][]float64, response []float64) (coefficients, factors []*big.Rat, residual *big.Rat) {
	p := len(predictors) + 1
	at := func(i, j int) *big.Rat {
		if j == 0 {
			return big.NewRat(1, 1)
		}
		return new(big.Rat).SetFloat64(predictors[j-1][i])
	}
	// The matrix with the right side and the unit matrix beside it is brought to unit form.
	m := make([][]*big.Rat, p)
	for j := range m {
		m[j] = make([]*big.Rat, 2*p+1)
		for k := range m[j] {
			m[j][k] = new(big.Rat)
		}
		for i := range response {
			for k := range p {
				m[j][k].Add(m[j][k], new(big.Rat).Mul(at(i, j), at(i, k)))
			}
			m[j][p].Add(m[j][p], new(big.Rat).Mul(at(i, j), new(big.Rat).SetFloat64(response[i])))
		}
		m[j][p+1+j].SetInt64(1)
	}
	for j := range p {
		for k := j; k < p; k++ {
			if m[k][j].Sign() != 0 {
				m[j], m[k] = m[k], m[j]
				break
			}
		}
		pivot := new(big.Rat).Inv(m[j][j])
		for c := range m[j] {
			m[j][c].Mul(m[j][c], pivot)
		}
		for k := range p {
			if k == j {
				continue
			}
			by := new(big.Rat).Set(m[k][j])
			for c := range m[k] {
				m[k][c].Sub(m[k][c], new(big.Rat).Mul(by, m[j][c]))
			}
		}
	}
	for j := range p {
		coefficients, factors = append(coefficients, m[j][p]), append(factors, m[j][p+1+j])
	}
	residual = new(big.Rat)
	for i := range response {
		e := new(big.Rat).SetFloat64(response[i])
		for j := range p {
			e.Sub(e, new(big.Rat).Mul(coefficients[j], at(i, j)))
		}
		residual.Add(residual, e.Mul(e, e))
	}
	return coefficients, factors, residual
}

// powersOf returns the powers of x from the first up to the one given.
func powersOf(x []float64, highest int) [][]float64 {
	powers := make([][]float64, highest)
	for j := range powers {
		for _, v := range x {
			powers[j] = append(powers[j], math.Pow(v, float64(j+1)))
		}
	}
	return powers
}

func toFloat(r *big.Rat) float64 {
	x, _ := r.Float64()
	return x
}

// The fit agrees with exact fractions, for ordinary predictors, for such with a large offset
// and for the powers of one.
func TestLeastSquaresAgainstExactFractions(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	for name, make1 := range map[string]func(i, j int) float64{
		"plain":         func(int, int) float64 { return math.Round(1000*rng.NormFloat64()) / 1000 },
		"large offsets": func(_, j int) float64 { return 1e8*float64(j+1) + math.Round(64*rng.NormFloat64())/64 },
		"powers":        func(i, j int) float64 { return math.Pow(float64(i), float64(j+1)) },
	} {
		for p := 1; p <= 4; p++ {
			t.Run(fmt.Sprintf("%s, %d", name, p), func(t *testing.T) {
				const n = 14
				predictors, response := make([][]float64, p), make([]float64, n)
				for j := range predictors {
					predictors[j] = make([]float64, n)
					for i := range n {
						predictors[j][i] = make1(i, j)
					}
				}
				for i := range response {
					response[i] = math.Round(1000*(5+rng.NormFloat64()+predictors[0][i]/10)) / 1000
				}
				want, factors, residual := rational(predictors, response)
				f, dependent, _ := FitLeastSquares(t.Context(), predictors, response)
				require.Equal(t, -1, dependent)
				s := math.Sqrt(toFloat(residual) / f.DF)
				assert.InEpsilon(t, toFloat(residual), f.Residual, 1e-12)
				for j, c := range want {
					assert.InEpsilon(t, toFloat(c), f.Coefficients[j], 1e-12, "coefficient %d", j)
					assert.InEpsilon(t, s*math.Sqrt(toFloat(factors[j])), f.SE[j], 1e-12, "standard error %d", j)
				}
				sum, leverage := 0.0, 0.0
				row := make([]float64, p)
				for i := range response {
					for j := range row {
						row[j] = predictors[j][i]
					}
					c := f.Case(row, response[i])
					sum += c.Residual
					leverage += c.Leverage
				}
				assert.InDelta(t, 0, sum, 1e-9*s, "residuals sum to zero")
				assert.InEpsilon(t, float64(p+1), leverage, 1e-11, "leverages sum to the number of coefficients")
				if p == 1 {
					l := FitLine(predictors[0], response)
					assert.InEpsilon(t, f.Coefficients[1], l.Slope, 1e-12)
					assert.InEpsilon(t, f.Coefficients[0], l.Intercept, 1e-12)
					assert.InEpsilon(t, f.Residual, l.Residual, 1e-12)
					assert.InEpsilon(t, f.SE[0], l.SEIntercept, 1e-12)
					assert.InEpsilon(t, f.SE[1], l.SESlope, 1e-12)
					one, other := f.Case([]float64{predictors[0][3]}, response[3]), l.Case(predictors[0][3], response[3])
					assert.InEpsilon(t, one.Cook, other.Cook, 1e-10)
					assert.InEpsilon(t, one.Leverage, other.Leverage, 1e-12)
				}
			})
		}
	}
}

// Adding a predictor never lowers r², and one that is a sum of multiples of others is told.
func TestLeastSquaresProperties(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 9))
	for range 50 {
		n := 12 + rng.IntN(300)
		var predictors [][]float64
		response := make([]float64, n)
		for i := range response {
			response[i] = rng.NormFloat64()
		}
		before := &LeastSquares{}
		for p := range 5 {
			column := make([]float64, n)
			for i := range column {
				column[i] = 100 + rng.NormFloat64()
			}
			predictors = append(predictors, column)
			f, dependent, _ := FitLeastSquares(t.Context(), predictors, response)
			require.Equal(t, -1, dependent)
			assert.GreaterOrEqual(t, f.R2, before.R2)
			assert.InEpsilon(t, f.Total, f.Regression+f.Residual, 1e-13)
			if p > 0 {
				partial, df1, _ := f.Partial(p)
				assert.Equal(t, 1.0, df1)
				single := f.Coefficients[p+1] / f.SE[p+1]
				assert.InEpsilon(t, single*single, partial, 1e-12, "the partial F of one predictor is its t squared")
				assert.InEpsilon(t, f.F, FOfResponses(predictors, n)(response), 1e-10, "what only drawn responses need")
				all, _, _ := f.Partial(0)
				assert.InEpsilon(t, f.F, all, 1e-13)
				assert.InDelta(t, before.Residual-f.Residual, partial*f.Residual/f.DF, 1e-9)
			}
			before = f
		}
		sum := make([]float64, n)
		for i := range sum {
			sum[i] = predictors[0][i]/3 - 2*predictors[3][i] + 7
		}
		_, dependent, _ := FitLeastSquares(t.Context(), append(predictors, sum), response)
		assert.Equal(t, 5, dependent)
		constant := make([]float64, n)
		for i := range constant {
			constant[i] = 0.1
		}
		_, dependent, _ = FitLeastSquares(t.Context(), [][]float64{predictors[1], constant}, response)
		assert.Equal(t, 1, dependent)
	}
}

// Public reference data with certified values: Longley (J. Amer. Statist. Assoc. 62, 1967),
// Wampler (J. Amer. Statist. Assoc. 65, 1970), Norris, Pontius and Filippelli, as certified in the Statistical
// Reference Datasets of NIST.
func TestCertifiedRegressions(t *testing.T) {
	longley := [][]float64{
		{83.0, 88.5, 88.2, 89.5, 96.2, 98.1, 99.0, 100.0, 101.2, 104.6, 108.4, 110.8, 112.6, 114.2, 115.7, 116.9},
		{234289, 259426, 258054, 284599, 328975, 346999, 365385, 363112, 397469, 419180, 442769, 444546, 482704, 502601, 518173, 554894},
		{2356, 2325, 3682, 3351, 2099, 1932, 1870, 3578, 2904, 2822, 2936, 4681, 3813, 3931, 4806, 4007},
		{1590, 1456, 1616, 1650, 3099, 3594, 3547, 3350, 3048, 2857, 2798, 2637, 2552, 2514, 2572, 2827},
		{107608, 108632, 109773, 110929, 112075, 113270, 115094, 116219, 117388, 118734, 120445, 121950, 123366, 125368, 127852, 130081},
		{1947, 1948, 1949, 1950, 1951, 1952, 1953, 1954, 1955, 1956, 1957, 1958, 1959, 1960, 1961, 1962},
	}
	employed := []float64{60323, 61122, 60171, 61187, 63221, 63639, 64989, 63761, 66019, 67857, 68169, 66513, 68655, 69564, 69331, 70551}
	norrisX := []float64{0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0, 447.5,
		11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1, 118.3, 229.2, 669.1, 448.9, 0.5}
	norrisY := []float64{0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3, 448.9, 10.8,
		557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2, 117.6, 228.9, 668.4, 449.2, 0.2}
	wampler := func(noise float64) []float64 {
		lumps := []float64{759, -2048, 2048, -2048, 2523, -2048, 2048, -2048, 1838, -2048, 2048, -2048, 1838, -2048, 2048, -2048, 2523, -2048,
			2048, -2048, 759}
		y := make([]float64, 21)
		for x := range y {
			y[x] = 1 + noise*lumps[x]
			for j := 1; j <= 5; j++ {
				y[x] += math.Pow(float64(x), float64(j))
			}
		}
		return y
	}
	upTo20 := make([]float64, 21)
	for x := range upTo20 {
		upTo20[x] = float64(x)
	}
	powers := powersOf(upTo20, 5)
	lumpy := []float64{2152.32624678170, 2363.55173469681, 779.343524331583, 101.475507550350, 5.64566512170752, 0.112324854679312}
	times := func(by float64) []float64 {
		out := make([]float64, len(lumpy))
		for i, x := range lumpy {
			out[i] = by * x
		}
		return out
	}
	ones := []float64{1, 1, 1, 1, 1, 1}
	filipX := []float64{-6.860120914, -4.324130045, -4.358625055, -4.358426747, -6.955852379, -6.661145254, -6.355462942, -6.118102026,
		-7.115148017, -6.815308569, -6.519993057, -6.204119983, -5.853871964, -6.109523091, -5.79832982, -5.482672118, -5.171791386,
		-4.851705903, -4.517126416, -4.143573228, -3.709075441, -3.499489089, -6.300769497, -5.953504836, -5.642065153, -5.031376979,
		-4.680685696, -4.329846955, -3.928486195, -8.56735134, -8.363211311, -8.107682739, -7.823908741, -7.522878745, -7.218819279,
		-6.920818754, -6.628932138, -6.323946875, -5.991399828, -8.781464495, -8.663140179, -8.473531488, -8.247337057, -7.971428747,
		-7.676129393, -7.352812702, -7.072065318, -6.774174009, -6.478861916, -6.159517513, -6.835647144, -6.53165267, -6.224098421,
		-5.910094889, -5.598599459, -5.290645224, -4.974284616, -4.64454848, -4.290560426, -3.885055584, -3.408378962, -3.13200249,
		-8.726767166, -8.66695597, -8.511026475, -8.165388579, -7.886056648, -7.588043762, -7.283412422, -6.995678626, -6.691862621,
		-6.392544977, -6.067374056, -6.684029655, -6.378719832, -6.065855188, -5.752272167, -5.132414673, -4.811352704, -4.098269308,
		-3.66174277, -3.2644011}
	filipY := []float64{0.8116, 0.9072, 0.9052, 0.9039, 0.8053, 0.8377, 0.8667, 0.8809, 0.7975, 0.8162, 0.8515, 0.8766, 0.8885, 0.8859,
		0.8959, 0.8913, 0.8959, 0.8971, 0.9021, 0.909, 0.9139, 0.9199, 0.8692, 0.8872, 0.89, 0.891, 0.8977, 0.9035, 0.9078, 0.7675, 0.7705,
		0.7713, 0.7736, 0.7775, 0.7841, 0.7971, 0.8329, 0.8641, 0.8804, 0.7668, 0.7633, 0.7678, 0.7697, 0.77, 0.7749, 0.7796, 0.7897, 0.8131,
		0.8498, 0.8741, 0.8061, 0.846, 0.8751, 0.8856, 0.8919, 0.8934, 0.894, 0.8957, 0.9047, 0.9129, 0.9209, 0.9219, 0.7739, 0.7681, 0.7665,
		0.7703, 0.7702, 0.7761, 0.7809, 0.7961, 0.8253, 0.8602, 0.8809, 0.8301, 0.8664, 0.8834, 0.8898, 0.8964, 0.8963, 0.9074, 0.9119, 0.9228}
	pontiusX := make([]float64, 40)
	for i := range pontiusX {
		pontiusX[i] = 150_000 * float64(i%20+1)
	}
	pontiusY := []float64{0.11019, 0.21956, 0.32949, 0.43899, 0.54803, 0.65694, 0.76562, 0.87487, 0.98292, 1.09146, 1.20001, 1.30822,
		1.41599, 1.52399, 1.63194, 1.73947, 1.84646, 1.95392, 2.06128, 2.16844, 0.11052, 0.22018, 0.32939, 0.43886, 0.54798, 0.65739, 0.76596,
		0.87474, 0.98300, 1.09150, 1.20004, 1.30818, 1.41613, 1.52408, 1.63159, 1.73965, 1.84696, 1.95445, 2.06177, 2.16829}
	for name, c := range map[string]struct {
		predictors       [][]float64
		response         []float64
		coefficients, se []float64
		sd, r2           float64
		// within is how far the certified values lie from those of the powers as doubles.
		within float64
	}{
		"Longley": {longley, employed, []float64{-3482258.63459582, 15.0618722713733, -0.0358191792925910, -2.02022980381683, -1.03322686717359,
			-0.0511041056535807, 1829.15146461355},
			[]float64{890420.383607373, 84.9149257747669, 0.0334910077722432, 0.488399681651699, 0.214274163161675, 0.226073200069370,
				455.478499142212}, 304.854073561965, 0.995479004577296, 1e-13},
		"Norris": {[][]float64{norrisX}, norrisY, []float64{-0.262323073774029, 1.00211681802045},
			[]float64{0.232818234301152, 0.000429796848199937}, 0.884796396144373, 0.999993745883712, 1e-13},
		"Wampler3": {powers, wampler(1), ones, times(1), 2360.14502379268, 0.999995559025820, 1e-13},
		"Wampler4": {powers, wampler(100), ones, times(100), 236014.502379268, 0.957478440825662, 1e-13},
		"Wampler5": {powers, wampler(10_000), ones, times(10_000), 23601450.2379268, 0.00224668921574940, 1e-13},
		"Pontius": {powersOf(pontiusX, 2), pontiusY, []float64{0.673565789473684e-03, 0.732059160401003e-06, -0.316081871345029e-14},
			[]float64{0.107938612033077e-03, 0.157817399981659e-09, 0.486652849992036e-16}, 0.205177424076185e-03, 0.999999900178537, 1e-13},
		"Filip": {powersOf(filipX, 10), filipY, []float64{-1467.48961422980, -2772.17959193342, -2316.37108160893, -1127.97394098372,
			-354.478233703349, -75.1242017393757, -10.8753180355343, -1.06221498588947, -0.670191154593408e-01, -0.246781078275479e-02,
			-0.402962525080404e-04},
			[]float64{298.084530995537, 559.779865474950, 466.477572127796, 227.204274477751, 71.6478660875927, 15.2897178747400, 2.23691159816033,
				0.221624321934227, 0.142363763154724e-01, 0.535617408889821e-03, 0.896632837373868e-05}, 0.334801051324544e-02, 0.996727416185620,
			3e-8},
	} {
		t.Run(name, func(t *testing.T) {
			f, dependent, _ := FitLeastSquares(t.Context(), c.predictors, c.response)
			require.Equal(t, -1, dependent)
			for j, want := range c.coefficients {
				assert.InEpsilon(t, want, f.Coefficients[j], c.within, "coefficient %d", j)
				assert.InEpsilon(t, c.se[j], f.SE[j], c.within, "standard error %d", j)
			}
			assert.InEpsilon(t, c.sd, f.ResidualSD, c.within)
			assert.InEpsilon(t, c.r2, f.R2, c.within)
			exact, factors, residual := rational(c.predictors, c.response)
			s := math.Sqrt(toFloat(residual) / f.DF)
			for j := range exact {
				assert.InEpsilon(t, toFloat(exact[j]), f.Coefficients[j], 1e-12, "coefficient %d of the doubles as they are", j)
				assert.InEpsilon(t, s*math.Sqrt(toFloat(factors[j])), f.SE[j], 1e-12, "standard error %d of the doubles as they are", j)
			}
		})
	}
	l := FitLine(norrisX, norrisY)
	assert.InEpsilon(t, 1.00211681802045, l.Slope, 1e-13)
	assert.InEpsilon(t, -0.262323073774029, l.Intercept, 1e-13)
	assert.InEpsilon(t, 0.884796396144373, l.ResidualSD, 1e-13)
	f, _, _ := FitLeastSquares(t.Context(), powers, wampler(0))
	assert.True(t, f.Perfect, "Wampler1 fits without residuals")
	for _, b := range f.Coefficients {
		assert.InEpsilon(t, 1, b, 1e-13)
	}
}

func TestPerfectLine(t *testing.T) {
	x, y := []float64{0.1, 0.2, 0.3, 0.7, 1.1}, make([]float64, 5)
	for i := range x {
		y[i] = 3 - 0.7*x[i]
	}
	l := FitLine(x, y)
	assert.True(t, l.Perfect)
	assert.InEpsilon(t, -0.7, l.Slope, 1e-14)
	f, _, _ := FitLeastSquares(t.Context(), [][]float64{x}, y)
	assert.True(t, f.Perfect)
	y[2] += 1e-6
	assert.False(t, FitLine(x, y).Perfect)
}

// BenchmarkLine sets a line through a million cases beside one pass that sums both columns,
// and fits ten predictors.
func BenchmarkLine(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 1))
	const n = 1_000_000
	predictors := make([][]float64, 10)
	for j := range predictors {
		predictors[j] = make([]float64, n)
		for i := range n {
			predictors[j][i] = 100 + rng.NormFloat64()
		}
	}
	y := make([]float64, n)
	for i := range y {
		y[i] = predictors[0][i] + 3*rng.NormFloat64()
	}
	sink := 0.0
	b.Run("summing both", func(b *testing.B) {
		for b.Loop() {
			sum, other := 0.0, 0.0
			for i, x := range predictors[0] {
				sum += x
				other += y[i]
			}
			sink += sum + other
		}
	})
	b.Run("a line", func(b *testing.B) {
		for b.Loop() {
			sink += FitLine(predictors[0], y).Slope
		}
	})
	b.Run("ten predictors", func(b *testing.B) {
		for b.Loop() {
			f, _, _ := FitLeastSquares(b.Context(), predictors, y)
			sink += f.R2
		}
	})
	_ = sink
}
