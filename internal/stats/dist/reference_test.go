package dist

import (
	"flag"
	"fmt"
	"math"
	"math/big"
	"os"
	"testing"
)

// The references in testdata are ratios of integrals of unnormalised densities,
// by double-exponential quadrature in 256-bit arithmetic: no gamma or beta
// function, no series and no code of this package takes part in them. The
// integral is taken with two step widths that must agree to 20 digits; halving the
// step doubles the digits, so the finer one has about 40.
//
// go test ./internal/stats/dist -run References -update writes them anew.
var update = flag.Bool("update", false, "write the reference tables anew")

const precision = 256

func num(x float64) *big.Float       { return new(big.Float).SetPrec(precision).SetFloat64(x) }
func add(a, b *big.Float) *big.Float { return new(big.Float).SetPrec(precision).Add(a, b) }
func sub(a, b *big.Float) *big.Float { return new(big.Float).SetPrec(precision).Sub(a, b) }
func mul(a, b *big.Float) *big.Float { return new(big.Float).SetPrec(precision).Mul(a, b) }
func div(a, b *big.Float) *big.Float { return new(big.Float).SetPrec(precision).Quo(a, b) }

// bigExp halves the argument until it is small, sums Taylor's series and squares back.
func bigExp(x *big.Float) *big.Float {
	halvings := max(0, x.MantExp(nil)+20)
	y := new(big.Float).SetPrec(precision+64).SetMantExp(x, -halvings)
	sum, term := num(1).SetPrec(precision+64), num(1).SetPrec(precision+64)
	for n := 1; n < 16; n++ {
		term.Mul(term, y)
		term.Quo(term, new(big.Float).SetInt64(int64(n)))
		sum.Add(sum, term)
	}
	for range halvings {
		sum.Mul(sum, sum)
	}
	return sum.SetPrec(precision)
}

// bigLog refines the double's logarithm by Halley's iteration on exp.
func bigLog(x *big.Float) *big.Float {
	mantissa := new(big.Float)
	exponent := x.MantExp(mantissa)
	m, _ := mantissa.Float64()
	y := num(math.Log(m) + float64(exponent)*math.Ln2)
	for range 3 {
		e := bigExp(y)
		y = add(y, mul(num(2), div(sub(x, e), add(x, e))))
	}
	return y
}

// tailIntegral returns ∫ f from t to infinity; f falls on a scale of width.
func tailIntegral(f func(*big.Float) *big.Float, t, width, step float64) *big.Float {
	sum := num(0)
	for s := -5.0; s <= 7.5; s += step { // to w = 1e617, where even t^(-1.1) has died out
		grow := bigExp(num(s))
		shrink := div(num(1), grow)
		halfPi := num(math.Pi / 2) // any constant near π/2 serves
		w := mul(num(width), bigExp(mul(halfPi, div(sub(grow, shrink), num(2)))))
		slope := mul(mul(halfPi, div(add(grow, shrink), num(2))), w)
		sum = add(sum, mul(slope, f(add(num(t), w))))
	}
	return mul(sum, num(step))
}

// upperReference returns P(X ≥ t) for a density proportional to f, symmetric about 0.
func upperReference(t *testing.T, f func(*big.Float) *big.Float, x, width float64) *big.Float {
	ratio := func(step float64) *big.Float {
		return div(tailIntegral(f, x, width, step), mul(num(2), tailIntegral(f, 0, 1, step)))
	}
	coarse, fine := ratio(1.0/32), ratio(1.0/64)
	gap, _ := div(sub(coarse, fine), fine).Float64()
	if math.Abs(gap) > 1e-20 {
		t.Fatalf("quadrature at %g is good to %g only", x, gap)
	}
	return fine
}

func TestWriteReferences(t *testing.T) {
	if !*update {
		t.Log("reference tables are read from testdata; -update writes them anew")
		return
	}
	points := []float64{1e-8, 0.1, 0.5, 0.75, 1, 1.7, 1.75, 2.0640769088161713, 3, 5, 8, 15, 26, 37, 100, 1e4, 1e20, 1e200}
	out, err := os.Create("testdata/t.tsv")
	if err != nil {
		t.Fatal(err)
	}
	defer out.Close()
	fmt.Fprintln(out, "# P(T >= t), 35 digits; made by reference_test.go\n# df\tt\tupper")
	for _, df := range []float64{0.1, 0.5, 1, 2, 3.7, 16.326883654571521, 31, 100.5, 1000, 50_000, 1e6} {
		f := func(u *big.Float) *big.Float {
			return bigExp(mul(num(-(df+1)/2), bigLog(add(num(1), div(mul(u, u), num(df))))))
		}
		for _, x := range points {
			rough := T{df}.Upper(x) // only to leave out what underflows
			if rough < 1e-305 {
				continue
			}
			width := 1.0
			if x > 1 {
				width = x / math.Min(x*x, df+1)
			}
			fmt.Fprintf(out, "%v\t%v\t%s\n", df, x, upperReference(t, f, x, width).Text('e', 34))
		}
	}
	normal, err := os.Create("testdata/normal.tsv")
	if err != nil {
		t.Fatal(err)
	}
	defer normal.Close()
	fmt.Fprintln(normal, "# P(Z >= z), 35 digits; made by reference_test.go\n# z\tupper")
	f := func(u *big.Float) *big.Float { return bigExp(mul(num(-0.5), mul(u, u))) }
	for _, z := range points {
		if z <= 37 {
			fmt.Fprintf(normal, "%v\t%s\n", z, upperReference(t, f, z, 1/math.Max(1, z)).Text('e', 34))
		}
	}
}
