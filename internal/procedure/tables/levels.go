package tables

import (
	"fmt"
	"slices"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/words"
)

// level is a level of a margin as it is given: its names and the place that it has after levels
// were joined and left out, −1 where it was left out.
type level struct {
	names []string // its code and its name
	place int
}

// name is what the level is called.
func (l *level) name() string { return l.names[len(l.names)-1] }

// labelled returns levels that are known by their label alone.
func labelled(labels []string) []level {
	out := make([]level, len(labels))
	for i, label := range labels {
		out[i].names = []string{label}
	}
	return out
}

// levelsOf returns the levels of a variable, known by their code and their name.
func levelsOf(v *data.Variable) []level {
	out := make([]level, len(v.Levels))
	for i, l := range v.Levels {
		out[i].names = []string{l.Code, l.Name}
	}
	return out
}

// place gives each level its place after levels were joined and left out, and the margin the
// names of what is left. A joined level stands where its first one stood, unless order names one
// of its levels.
func (m *margin) place(levels []level, side string, join, omit, order [][]string) error {
	out := make([]bool, len(levels))
	for _, single := range omit {
		at, err := m.find(levels, "omit", side, single[0])
		if err != nil {
			return err
		}
		out[at] = true
	}
	first, err := m.join(levels, side, join, out)
	if err != nil {
		return err
	}
	for i := range levels {
		levels[i].place = -1
		switch {
		case out[i]:
		case first[i] < i:
			at := levels[first[i]].place
			levels[i].place = at
			m.levels[at] += " + " + levels[i].name()
			m.parts[at] = append(m.parts[at], levels[i].name())
		default:
			levels[i].place = len(m.levels)
			m.levels, m.parts = append(m.levels, levels[i].name()), append(m.parts, []string{levels[i].name()})
		}
	}
	return m.order(levels, side, order)
}

// find returns the place of the level that an option names by its code or else its name.
func (m *margin) find(levels []level, option, side, wanted string) (int, error) {
	at := slices.IndexFunc(levels, func(l level) bool { return l.names[0] == wanted })
	if at < 0 {
		at = slices.IndexFunc(levels, func(l level) bool { return slices.Contains(l.names, wanted) })
	}
	if at >= 0 {
		return at, nil
	}
	known := make([]string, len(levels))
	for i := range levels {
		known[i] = levels[i].name()
	}
	return 0, problem.Errors{
		problem.Unknown(problem.Pointer("options", option, side), "level of “"+words.Shorten(m.title)+"”", wanted, known),
	}
}

// join returns for each level the first of those that it is joined with; out are those left out.
func (m *margin) join(levels []level, side string, join [][]string, out []bool) (first []int, err error) {
	first = make([]int, len(levels))
	for i := range first {
		first[i] = i
	}
	wrong := func(says, instead string) error {
		return problem.Errors{{Pointer: problem.Pointer("options", "join", side), Says: says, Instead: instead}}
	}
	joined := map[int]bool{}
	for _, group := range join {
		var places []int
		for _, name := range group {
			at, err := m.find(levels, "join", side, name)
			switch {
			case err != nil:
				return nil, err
			case joined[at]:
				return nil, wrong(fmt.Sprintf("“%s” is joined twice", words.Shorten(name)), "name each level once")
			case out[at]:
				return nil, wrong(fmt.Sprintf("“%s” is joined and left out", words.Shorten(name)), "do one of the two")
			}
			joined[at] = true
			places = append(places, at)
		}
		for _, at := range places {
			first[at] = slices.Min(places)
		}
	}
	return first, nil
}

// order puts the levels that are named before the others.
func (m *margin) order(levels []level, side string, order [][]string) error {
	var places []int // before, in the order of those after
	named := make([]bool, len(levels))
	for _, single := range order {
		at, err := m.find(levels, "order", side, single[0])
		if err != nil {
			return err
		}
		if named[at] {
			return problem.Errors{{
				Pointer: problem.Pointer("options", "order", side), Says: fmt.Sprintf("“%s” is named twice", words.Shorten(single[0])),
				Instead: "name each level once",
			}}
		}
		named[at] = true
		if place := levels[at].place; place >= 0 && !slices.Contains(places, place) {
			places = append(places, place)
		}
	}
	for place := range m.levels {
		if !slices.Contains(places, place) {
			places = append(places, place)
		}
	}
	m.keep(places)
	for i := range levels {
		levels[i].place = slices.Index(places, levels[i].place)
	}
	return nil
}

// keep keeps the levels at the given places, in that order.
func (m *margin) keep(places []int) {
	levels, parts := make([]string, len(places)), make([][]string, len(places))
	for after, before := range places {
		levels[after], parts[after] = m.levels[before], m.parts[before]
	}
	m.levels, m.parts = levels, parts
}
