package data

import (
	"slices"
	"sync"
)

// A Prepared data set has been derived and read once: what is in it is what its Set held when it
// was prepared, and nothing changes it afterwards, so that many requests may share it.
type Prepared struct {
	// Set must not be changed. The cells of its derived columns are there.
	Set *Set

	cases  func() readCases
	groups func() readGroups
	counts func() readCounts

	where struct {
		sync.Mutex
		found map[string]whereFound
	}
}

type readCases struct {
	variables []*Variable
	places    []int
	mistakes  []Mistake
}

type readGroups struct {
	group, response *Variable
	mistakes        []Mistake
}

type readCounts struct {
	rows, columns []string
	counts        [][]float64
	mistakes      []Mistake
}

type whereFound struct {
	cases []int
	err   error
}

// mostConditions bounds how many conditions are remembered.
const mostConditions = 32

// Prepare derives the columns of a data set and makes it ready to be read; s belongs to the
// prepared set from then on.
func Prepare(s *Set) *Prepared {
	underived := s.Derive()
	p := &Prepared{Set: s}
	p.where.found = map[string]whereFound{}
	p.cases = sync.OnceValue(func() (r readCases) {
		r.variables, r.places, r.mistakes = s.read(underived)
		return r
	})
	p.groups = sync.OnceValue(func() (r readGroups) {
		r.group, r.response, r.mistakes = s.Grouped()
		return r
	})
	p.counts = sync.OnceValue(func() (r readCounts) {
		r.rows, r.columns, r.counts, r.mistakes = s.Table()
		return r
	})
	return p
}

// Variables is Set.Variables.
func (p *Prepared) Variables() (variables []*Variable, places []int, mistakes []Mistake) {
	r := p.cases()
	return slices.Clone(r.variables), r.places, slices.Clone(r.mistakes)
}

// Grouped is Set.Grouped.
func (p *Prepared) Grouped() (group, response *Variable, mistakes []Mistake) {
	r := p.groups()
	return r.group, r.response, slices.Clone(r.mistakes)
}

// Table is Set.Table.
func (p *Prepared) Table() (rows, columns []string, counts [][]float64, mistakes []Mistake) {
	r := p.counts()
	counts = make([][]float64, len(r.counts))
	for i, row := range r.counts {
		counts[i] = slices.Clone(row)
	}
	return slices.Clone(r.rows), slices.Clone(r.columns), counts, slices.Clone(r.mistakes)
}

// Where is Set.Where.
func (p *Prepared) Where(condition string) ([]int, error) {
	p.where.Lock()
	defer p.where.Unlock()
	found, known := p.where.found[condition]
	if !known {
		found.cases, found.err = p.Set.Where(condition)
		if len(p.where.found) >= mostConditions {
			clear(p.where.found)
		}
		p.where.found[condition] = found
	}
	return found.cases, found.err
}
