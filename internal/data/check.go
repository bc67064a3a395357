package data

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"grund/internal/stats"
	"grund/internal/words"
)

// A Profile is a column at a glance: what it holds, in a picture small enough for
// its header, and what looks odd in it.
type Profile struct {
	Kind    Kind    `json:"kind"`
	N       int     `json:"n"`       // cells that hold something readable
	Missing int     `json:"missing"` // up to the last row of the data set
	Low     float64 `json:"low"`     // of a number
	High    float64 `json:"high"`
	// Bars are the counts of a number's classes of equal width from Low to High, or
	// of a category's levels.
	Bars   []int       `json:"bars"`
	Levels []Frequency `json:"levels,omitempty"` // of a category, its first ones
	Odd    []Oddity    `json:"odd"`
	// Suggest is a kind that would fit better, with the reason in Because.
	Suggest Kind   `json:"suggest,omitzero"`
	Because string `json:"because,omitzero"`
}

// A Frequency is how often a level occurs.
type Frequency struct {
	Code  string `json:"code"`
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// An Oddity is a cell that is worth a look.
type Oddity struct {
	Case int    `json:"case"` // the row, from 0
	Cell string `json:"cell"`
	Says string `json:"says"`
}

const (
	mostBars   = 14 // in a header's picture
	mostLevels = 50 // that a profile lists
	mostOdd    = 30 // that a profile lists
	// mostCellShown is how many characters of an odd cell are shown.
	mostCellShown = 200
)

// Profiles returns the profile of each column. Derived columns must have their
// cells.
func (s *Set) Profiles() []Profile {
	n := s.Rows()
	out := make([]Profile, len(s.Columns))
	room := mostProfiled / max(1, len(s.Columns))
	for i, c := range s.Columns {
		if s.Form == FormGroups && c.Kind == Undecided {
			number := *c
			number.Kind = Number
			c = &number
		}
		out[i] = c.Profile(n)
		out[i].shorten(room)
	}
	return out
}

// mostProfiled is about how many characters the profiles of a data set may have together.
const mostProfiled = 5_000_000

// shorten drops the last levels and oddities, so that the profile has no more than that many
// characters.
func (p *Profile) shorten(room int) {
	for i, level := range p.Levels {
		if room -= len(level.Code) + len(level.Name); room < 0 {
			p.Levels = p.Levels[:i]
			break
		}
	}
	for i, odd := range p.Odd {
		if room -= len(odd.Cell) + len(odd.Says); room < 0 {
			p.Odd = p.Odd[:i]
			break
		}
	}
}

// Profile describes the first n cells of a column.
func (c *Column) Profile(n int) Profile {
	p := Profile{Kind: c.kind(), Bars: []int{}, Odd: []Oddity{}}
	v, mistakes := c.variable(n)
	for _, m := range mistakes {
		p.odd(m.Case, c.Cells[m.Case], m.Says)
	}
	for i := range n {
		if v.Missing(i) {
			p.Missing++
		}
	}
	p.N = n - p.Missing
	p.Missing -= len(mistakes)
	if p.Kind == Number {
		p.number(c, v)
	} else {
		p.category(c, v)
	}
	slices.SortStableFunc(p.Odd, func(a, b Oddity) int { return a.Case - b.Case })
	return p
}

func (p *Profile) odd(row int, cell, says string) {
	if len(p.Odd) < mostOdd {
		p.Odd = append(p.Odd, Oddity{row, cutText(cell, mostCellShown), says})
	}
}

// number looks for values far out: beyond the outer fences, which are three times
// the distance of the quartiles from them (Tukey, Exploratory Data Analysis, 2D).
func (p *Profile) number(c *Column, v *Variable) {
	present := make([]float64, 0, len(v.Numbers))
	for _, x := range v.Numbers {
		if !math.IsNaN(x) {
			present = append(present, x)
		}
	}
	if len(present) == 0 {
		return
	}
	slices.Sort(present)
	five := stats.NewFiveNumbers(present)
	p.Low, p.High = five.Min, five.Max
	p.Bars = bars(present)
	if len(present) >= 8 && five.Q3 > five.Q1 {
		low, high := five.Fences(3)
		for i, x := range v.Numbers {
			if x >= low && x <= high || math.IsNaN(x) {
				continue
			}
			says := fmt.Sprintf("%s lies far from the other values, half of which are between %s and %s", c.Cells[i], FormatNumber(five.Q1),
				FormatNumber(five.Q3))
			for _, factor := range []float64{10, 100, 0.1} {
				if y := x / factor; y >= five.Q1 && y <= five.Q3 {
					says += fmt.Sprintf("; %s would fit: a slip of the decimal point?", FormatNumber(y))
					break
				}
			}
			p.odd(i, c.Cells[i], says)
		}
	}
	distinct := slices.Compact(slices.Clone(present))
	whole := !slices.ContainsFunc(distinct, func(x float64) bool { return x != math.Trunc(x) || x < 0 || x > 20 })
	if whole && len(distinct) <= 5 && len(present) >= 20 && c.Kind == Undecided {
		p.Suggest, p.Because = Category, fmt.Sprintf("only %d different whole numbers: codes for a category?", len(distinct))
	}
}

// bars counts sorted numbers in classes of equal width.
func bars(sorted []float64) []int {
	low, high := sorted[0], sorted[len(sorted)-1]
	if low == high || math.IsInf(high-low, 0) {
		return []int{len(sorted)}
	}
	classes := min(mostBars, max(4, 1+int(math.Ceil(math.Log2(float64(len(sorted)))))))
	counts := make([]int, classes)
	for _, x := range sorted {
		counts[min(classes-1, int(float64(classes)*(x-low)/(high-low)))]++
	}
	return counts
}

// category looks for numbers among words, names spelt two ways and identifiers
// that stand twice.
func (p *Profile) category(c *Column, v *Variable) {
	counts := make([]int, len(v.Levels))
	first := make([]int, len(v.Levels))
	for i := len(v.Codes) - 1; i >= 0; i-- {
		if code := v.Codes[i]; code >= 0 {
			counts[code]++
			first[code] = i
		}
	}
	if p.Kind == Identifier {
		for level, count := range counts {
			if count > 1 {
				again := slices.Index(v.Codes[first[level]+1:], level) + first[level] + 1
				p.odd(again, v.Levels[level].Code, fmt.Sprintf("“%s” stands in %d rows, first in row %d; an identifier names one case",
					words.Shorten(v.Levels[level].Code), count, first[level]+1))
			}
		}
		return
	}
	for level, count := range counts {
		if level < mostLevels {
			p.Levels = append(p.Levels, Frequency{v.Levels[level].Code, v.Levels[level].Name, count})
		}
		if level < mostBars {
			p.Bars = append(p.Bars, count)
		}
	}
	if p.N >= 10 && len(v.Levels) == p.N && c.Kind == Undecided {
		p.Suggest, p.Because = Identifier, "every value is another: an identifier of the cases?"
		return
	}
	numbers := 0
	for level := range v.Levels {
		if (Style{}).reads(v.Levels[level].Code) {
			numbers += counts[level]
		}
	}
	if numbers > 0 && 5*numbers < p.N {
		for level := range v.Levels {
			if code := v.Levels[level].Code; (Style{}).reads(code) && c.Levels == nil {
				p.odd(first[level], code, fmt.Sprintf("“%s” is a number among words", code))
			}
		}
	}
	if len(v.Levels) > 500 || slices.ContainsFunc(v.Levels, func(l Level) bool { return len(l.Code) > MaxName }) {
		return // too many, or too long, to be categories that somebody typed
	}
	for a := range v.Levels {
		for b := range v.Levels {
			if counts[a] > counts[b] || a == b || counts[b] == 0 || counts[a] == 0 || counts[a] == counts[b] && a < b {
				continue
			}
			if spelt(v.Levels[a].Code) == spelt(v.Levels[b].Code) {
				p.odd(first[a], v.Levels[a].Code, fmt.Sprintf("“%s” and “%s” may be one name spelt two ways", words.Shorten(v.Levels[a].Code),
					words.Shorten(v.Levels[b].Code)))
			} else if counts[a] <= 2 && counts[b] >= 4*counts[a] && oneSlip(v.Levels[a].Code, v.Levels[b].Code) {
				p.odd(first[a], v.Levels[a].Code, fmt.Sprintf("“%s” differs by one letter from “%s”: a slip?", words.Shorten(v.Levels[a].Code),
					words.Shorten(v.Levels[b].Code)))
			}
		}
	}
}

// spelt returns a name without what does not tell names apart.
func spelt(name string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, name)
}

// oneSlip reports whether one letter put in, left out, mistyped or changed with its
// neighbour turns one word of four letters or more into the other.
func oneSlip(a, b string) bool {
	x, y := []rune(a), []rune(b)
	if len(x) > len(y) {
		x, y = y, x
	}
	if len(x) < 4 || len(y)-len(x) > 1 || strings.ContainsAny(a+b, "0123456789") {
		return false
	}
	i := 0
	for i < len(x) && x[i] == y[i] {
		i++
	}
	if len(x) < len(y) {
		return slices.Equal(x[i:], y[i+1:])
	}
	if i+1 < len(x) && x[i] == y[i+1] && x[i+1] == y[i] && slices.Equal(x[i+2:], y[i+2:]) {
		return true
	}
	return i < len(x) && slices.Equal(x[i+1:], y[i+1:])
}
