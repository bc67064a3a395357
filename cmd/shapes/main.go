// Command shapes writes docs/shape.md: how often tests of means reject a true H₀ when the
// cases come from populations that are not normal. The limits in internal/stats/shape.go rest
// on it. It draws with a fixed seed, so that its output is always the same.
package main

import (
	"flag"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"sync"

	"grund/internal/stats"
	"grund/internal/stats/dist"
)

const level = 0.05

func main() {
	samples := flag.Int("samples", 100_000, "samples drawn for each row")
	flag.Parse()
	write(os.Stdout, *samples)
}

// A population is a distribution to draw from, with mean 0 and standard deviation 1.
type population struct {
	name     string
	skewness float64
	draw     func(*rand.Rand) float64
}

var (
	normal      = population{"normal", 0, (*rand.Rand).NormFloat64}
	uniform     = population{"uniform", 0, func(r *rand.Rand) float64 { return (r.Float64() - 0.5) * math.Sqrt(12) }}
	exponential = population{"exponential", 2, func(r *rand.Rand) float64 { return r.ExpFloat64() - 1 }}
	mirrored    = population{"exponential, mirrored", -2, func(r *rand.Rand) float64 { return 1 - r.ExpFloat64() }}
	logNormal   = population{"log-normal", (math.E + 2) * math.Sqrt(math.E-1), func(r *rand.Rand) float64 {
		return (math.Exp(r.NormFloat64()) - math.Exp(0.5)) / math.Sqrt(math.E*(math.E-1))
	}}
	populations = []population{normal, gamma(16), gamma(4), exponential, gamma(0.25), logNormal}
)

// gamma is the gamma distribution of that shape, standardized; its skewness is 2/√shape.
func gamma(shape float64) population {
	return population{fmt.Sprintf("gamma, shape %v", shape), 2 / math.Sqrt(shape), func(r *rand.Rand) float64 {
		return (drawGamma(r, shape) - shape) / math.Sqrt(shape)
	}}
}

// drawGamma draws from a gamma distribution with the scale 1 (G. Marsaglia and W. W. Tsang, ACM
// Trans. Math. Software 26, 2000).
func drawGamma(r *rand.Rand, shape float64) float64 {
	if shape < 1 {
		return drawGamma(r, shape+1) * math.Pow(r.Float64(), 1/shape)
	}
	d := shape - 1.0/3
	c := 1 / math.Sqrt(9*d)
	for {
		x := r.NormFloat64()
		v := 1 + c*x
		if v <= 0 {
			continue
		}
		v = v * v * v
		if math.Log(r.Float64()) < 0.5*x*x+d*(1-v+math.Log(v)) {
			return d * v
		}
	}
}

func (p population) sample(r *rand.Rand, n int) []float64 {
	xs := make([]float64, n)
	for i := range xs {
		xs[i] = p.draw(r)
	}
	return xs
}

// errors counts in which samples a test rejects, in all and in those whose shape serves.
type errors struct{ all, two, left, right, serve, twoServing int }

func (e *errors) add(o errors) {
	e.all += o.all
	e.two += o.two
	e.left += o.left
	e.right += o.right
	e.serve += o.serve
	e.twoServing += o.twoServing
}

// count counts a sample with that p-value below its statistic and above it.
func (e *errors) count(lower, upper float64, serves bool) {
	e.all++
	two := 2*math.Min(lower, upper) <= level
	if two {
		e.two++
	}
	if lower <= level {
		e.left++
	}
	if upper <= level {
		e.right++
	}
	if serves {
		e.serve++
		if two {
			e.twoServing++
		}
	}
}

// repeat draws samples on all processors, each part with a seed of its own, and adds up what
// one counts.
func repeat(samples int, seed uint64, one func(*rand.Rand, *errors)) errors {
	const parts = 16
	var found errors
	var lock sync.Mutex
	var wait sync.WaitGroup
	for part := range uint64(parts) {
		wait.Go(func() {
			r, e := rand.New(rand.NewPCG(seed, part)), errors{}
			for range samples / parts {
				one(r, &e)
			}
			lock.Lock()
			defer lock.Unlock()
			found.add(e)
		})
	}
	wait.Wait()
	return found
}

func (e errors) columns() []string {
	percent := func(part, of int) string {
		if of < 200 {
			return "–"
		}
		return fmt.Sprintf("%.1f", 100*float64(part)/float64(of))
	}
	return []string{percent(e.two, e.all), percent(e.left, e.all), percent(e.right, e.all), percent(e.serve, e.all),
		percent(e.twoServing, e.serve)}
}

// judged returns the shape of what is tested, of these samples, with the given weights.
func judged(weights []float64, samples ...[]float64) stats.ShapeVerdict {
	var shape stats.Shape
	var means []stats.WeighedMean
	for i, xs := range samples {
		m := stats.NewMoments(xs)
		means = append(means, stats.WeighedMean{Weight: weights[i], N: m.N, SD: m.SD, Skewness: m.Skewness(xs)})
		if m.N < stats.FewCases && stats.NewNormality(stats.Sorted(xs)).P <= stats.ShapeLevel {
			shape.Rejected, shape.Few = true, true
		}
	}
	shape.Skewness = stats.SkewnessOfMeans(means...)
	return shape.Judge()
}

func row(w io.Writer, cells ...string) { fmt.Fprintln(w, "| "+strings.Join(cells, " | ")+" |") }

func head(w io.Writer, cells ...string) {
	row(w, cells...)
	row(w, slices.Repeat([]string{"---"}, len(cells))...)
}

func write(w io.Writer, samples int) {
	fmt.Fprintf(w, `# The shape that a test of means needs

Written by `+"`go run ./cmd/shapes`"+`: do not edit. Each row is of %d samples for which H₀ is true; the errors are the
percentage of them that a test at α = 0.05 rejects (5 where the shape does no harm; the standard error of such a figure is
about 0.1).

What matters for a test of means is the shape *of what is estimated*: the skewness of a mean is that of its cases over √n,
and in a difference of means two that lean the same way take from each other. The rule (`+"`internal/stats/shape.go`"+`):
up to a skewness of 0.25 with two tails, and 0.2 with one, the shape serves; up to twice that it is doubtful; beyond, it
does not serve. And where fewer than %d cases are not normal by W, at 0.05, it is doubtful too: so few cases often hide how
lopsided their population is. The last two columns say how many samples the rule calls serving (two tails), and how often
the test errs in these.

## One mean, by t

`, samples, stats.FewCases)
	head(w, "population", "skewness", "n", "of the mean", "two tails", "left", "right", "serves, % of samples", "two tails, of these")
	for k, p := range populations {
		for _, n := range []int{5, 10, 15, 20, 30, 40, 54, 80, 120, 200, 400} {
			t := dist.T{DF: float64(n - 1)}
			low, high := t.LowerQuantile(level/2), t.UpperQuantile(level)
			e := repeat(samples, uint64(1000*k+n), func(r *rand.Rand, e *errors) {
				xs := p.sample(r, n)
				x := stats.CompareMean(stats.NewMoments(xs), 0, math.NaN()).Statistic
				lower, upper := tails(x, low, high)
				e.count(lower, upper, judged([]float64{1}, xs) == stats.ShapeServes)
			})
			row(w, append([]string{p.name, number(p.skewness), fmt.Sprint(n), number(p.skewness / math.Sqrt(float64(n)))}, e.columns()...)...)
		}
	}
	writeTwo(w, samples)
	writeVariances(w, samples)
}

// tails returns p-values of a symmetric statistic that are right to which side of the level,
// and of half of it, they lie: the curve itself would take most of the time.
func tails(x, lowHalf, high float64) (lower, upper float64) {
	side := func(x float64) float64 {
		switch {
		case x >= -lowHalf:
			return level / 2
		case x >= high:
			return level
		}
		return 1
	}
	return side(-x), side(x)
}

func writeTwo(w io.Writer, samples int) {
	fmt.Fprint(w, "\n## Two means, by t with the variances kept apart\n\n")
	head(w, "first", "second", "sizes", "of the difference", "two tails", "left", "right", "serves, % of samples", "two tails, of these")
	seed := uint64(1_000_000)
	for _, pair := range [][2]population{{exponential, exponential}, {exponential, normal}, {exponential, mirrored}, {logNormal, logNormal}} {
		for _, sizes := range [][2]int{{10, 10}, {20, 20}, {40, 40}, {100, 100}, {10, 40}, {20, 80}} {
			seed++
			e := repeat(samples, seed, func(r *rand.Rand, e *errors) {
				first, second := pair[0].sample(r, sizes[0]), pair[1].sample(r, sizes[1])
				c := stats.CompareMeans(stats.NewMoments(first), stats.NewMoments(second), 0, false)
				t := dist.T{DF: c.DF}
				e.count(t.Lower(c.T), t.Upper(c.T), judged([]float64{1, -1}, first, second) == stats.ShapeServes)
			})
			skewness := stats.SkewnessOfMeans(stats.WeighedMean{Weight: 1, N: sizes[0], SD: 1, Skewness: pair[0].skewness},
				stats.WeighedMean{Weight: -1, N: sizes[1], SD: 1, Skewness: pair[1].skewness})
			row(w, append([]string{pair[0].name, pair[1].name, fmt.Sprintf("%d, %d", sizes[0], sizes[1]), number(skewness)}, e.columns()...)...)
		}
	}
}

func writeVariances(w io.Writer, samples int) {
	fmt.Fprint(w, "\n## Two variances, by their ratio\n\nThe F test of two variances takes the normal shape itself for granted, and "+
		"more cases do not help.\n\n")
	head(w, "population", "sizes", "two tails", "left", "right")
	for k, p := range []population{normal, uniform, gamma(4), exponential} {
		for _, n := range []int{10, 40, 200} {
			f := dist.F{DF1: float64(n - 1), DF2: float64(n - 1)}
			e := repeat(samples/4, uint64(2_000_000+1000*k+n), func(r *rand.Rand, e *errors) {
				x := stats.CompareVariances(stats.NewMoments(p.sample(r, n)), stats.NewMoments(p.sample(r, n))).F
				e.count(f.Lower(x), f.Upper(x), false)
			})
			row(w, append([]string{p.name, fmt.Sprintf("%d, %d", n, n)}, e.columns()[:3]...)...)
		}
	}
}

func number(x float64) string { return strings.Replace(fmt.Sprintf("%.2f", x), "-", "−", 1) }
