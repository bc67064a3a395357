package working

import (
	"fmt"
	"math/rand/v2"
	"slices"
)

// MostDots is up to how many cases a figure draws one by one.
const MostDots = 2000

// Thinned returns the figure with no more than about MostDots dots for cases: of more a part,
// chosen at random and always the same, in which the least and the greatest of each mark stay.
// What is left out is said in Thin. Other marks stay as they are.
func (f *Figure) Thinned() *Figure {
	all := 0
	for _, m := range f.Marks {
		if m.IsCases() {
			all += len(m.X)
		}
	}
	if all <= MostDots {
		return f
	}
	thin := *f
	thin.Marks = make([]Mark, len(f.Marks))
	for i, m := range f.Marks {
		if m.IsCases() {
			m = m.sample(len(m.X)*MostDots/all + 1)
		}
		thin.Marks[i] = m
	}
	thin.Thin = fmt.Sprintf("%s of %s cases are drawn, chosen at random; the least and the greatest are among them.",
		FormatNumber(float64(thin.cases()), 0), FormatNumber(float64(f.cases()), 0))
	thin.Says += " " + thin.Thin
	return &thin
}

// cases returns how many cases have a dot; one that stands out has two.
func (f *Figure) cases() int {
	last := 0
	for _, m := range f.Marks {
		if m.IsCases() && len(m.Case) > 0 {
			last = max(last, slices.Max(m.Case))
		}
	}
	drawn, n := make([]bool, last+1), 0
	for _, m := range f.Marks {
		if m.IsCases() {
			for _, number := range m.Case {
				if !drawn[number] {
					drawn[number] = true
					n++
				}
			}
		}
	}
	return n
}

// IsCases reports whether the mark is dots that are cases.
func (m *Mark) IsCases() bool { return m.Shape == Points && (m.Role == Observed || m.Role == Outlier) }

// sample returns the mark with n of its points, in their order (D. E. Knuth, The Art of Computer
// Programming, 3.4.2, algorithm S), and those that lie outermost.
func (m Mark) sample(n int) Mark {
	keep := map[int]bool{}
	for _, positions := range []Numbers{m.X, m.Y} {
		if len(positions) == 0 {
			continue
		}
		least, greatest := 0, 0
		for i, x := range positions {
			if x < positions[least] {
				least = i
			}
			if x > positions[greatest] {
				greatest = i
			}
		}
		keep[least], keep[greatest] = true, true
	}
	rng := rand.New(rand.NewPCG(uint64(len(m.X)), 1))
	out := m
	out.X, out.Y, out.Case = nil, nil, nil
	wanted := n
	for i := range m.X {
		drawn := rng.Float64()*float64(len(m.X)-i) < float64(wanted)
		if drawn {
			wanted--
		}
		if !drawn && !keep[i] {
			continue
		}
		out.X = append(out.X, m.X[i])
		if m.Y != nil {
			out.Y = append(out.Y, m.Y[i])
		}
		if m.Case != nil {
			out.Case = append(out.Case, m.Case[i])
		}
	}
	return out
}
