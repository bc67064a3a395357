package data

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Derive fills the cells of derived columns from those that they follow from, in
// an order in which every source comes first. What cannot be derived is blank,
// with a mistake that says why.
func (s *Set) Derive() []Mistake {
	var mistakes []Mistake
	n := s.Rows()
	done := map[*Column]bool{}
	for {
		var waiting []int
		progress := false
		for i, c := range s.Columns {
			if !c.Derived() || done[c] {
				continue
			}
			if ready, missing := s.sourcesReady(c, done); missing == "" && !ready {
				waiting = append(waiting, i)
				continue
			}
			cells, err := s.derive(c, n)
			if err != nil {
				cells = make([]string, n)
				mistakes = append(mistakes, Mistake{i, -1, c.recipe(), err.Error(), ""})
			}
			c.Cells = cells
			done[c] = true
			progress = true
		}
		if len(waiting) == 0 {
			return mistakes
		}
		if !progress {
			for _, i := range waiting {
				s.Columns[i].Cells = make([]string, n)
				mistakes = append(mistakes, Mistake{i, -1, s.Columns[i].recipe(), fmt.Sprintf("“%s” follows from itself", s.Columns[i].Name),
					"derive it from other columns"})
			}
			return mistakes
		}
	}
}

// recipe names the field that says how the column is derived.
func (c *Column) recipe() string {
	if c.Recode != nil {
		return "recode"
	}
	return "formula"
}

// sourcesReady reports whether the cells of all columns that c follows from are
// there. missing names one that does not exist.
func (s *Set) sourcesReady(c *Column, done map[*Column]bool) (ready bool, missing string) {
	for _, name := range s.sources(c) {
		source := s.Find(name)
		if source == nil {
			return false, name
		}
		if source.Derived() && !done[source] {
			return false, ""
		}
	}
	return true, ""
}

// sources returns the names of the columns that c follows from; none where it was
// entered.
func (s *Set) sources(c *Column) []string {
	switch {
	case c.Recode != nil:
		return []string{c.Recode.From}
	case c.Formula != "":
		return rewrite(c.Formula, s.names(nil)).used
	}
	return nil
}

// Behind returns the columns that these follow from, and themselves: by name, or as
// conditions name them.
func (s *Set) Behind(names, conditions []string) map[*Column]bool {
	for _, condition := range conditions {
		names = append(names, rewrite(condition, s.names(nil)).used...)
	}
	behind := map[*Column]bool{}
	for len(names) > 0 {
		c := s.Find(names[0])
		names = names[1:]
		if c != nil && !behind[c] {
			behind[c] = true
			names = append(names, s.sources(c)...)
		}
	}
	return behind
}

// Find returns the column of that name, or nil.
func (s *Set) Find(name string) *Column {
	for _, c := range s.Columns {
		if strings.TrimSpace(c.Name) == name {
			return c
		}
	}
	return nil
}

// names returns the names of the columns but for one.
func (s *Set) names(but *Column) []string {
	var names []string
	for _, c := range s.Columns {
		if name := strings.TrimSpace(c.Name); name != "" && c != but {
			names = append(names, name)
		}
	}
	return names
}

// Preview returns the cells that a derived column would have, which need not be
// among the columns. The others must have theirs.
func (s *Set) Preview(c *Column) ([]string, error) { return s.derive(c, s.Rows()) }

func (s *Set) derive(c *Column, n int) ([]string, error) {
	if c.Recode != nil {
		source := s.Find(c.Recode.From)
		if source == nil {
			return nil, fmt.Errorf("there is no column “%s” to recode", c.Recode.From)
		}
		return c.Recode.Cells(source, n)
	}
	f, err := s.Compile(c.Formula)
	if err != nil {
		return nil, err
	}
	return f.Cells()
}

// Where returns the cases, from 0, for which a condition holds.
func (s *Set) Where(condition string) ([]int, error) {
	f, err := s.Compile(condition)
	if err != nil {
		return nil, err
	}
	return f.True()
}

// A Recode makes a category of another column: values are given names, or a
// number's range is cut into classes. Exactly one of Values and Classes is set.
type Recode struct {
	From    string            `json:"from"`
	Values  map[string]string `json:"values,omitempty"` // by the cell as typed; what is not listed stays
	Classes []Class           `json:"classes,omitempty"`
}

// A Class is a range of numbers: from the end of the class before it up to, but
// not including, Below; the last class has no end.
type Class struct {
	Below *float64 `json:"below,omitzero"`
	Name  string   `json:"name"`
}

// Check returns an error that says what is wrong with the recoding.
func (r *Recode) Check() error {
	if (r.Values == nil) == (r.Classes == nil) {
		return fmt.Errorf("a recoding gives either names for values or classes of numbers")
	}
	last := math.Inf(-1)
	for i, class := range r.Classes {
		switch {
		case strings.TrimSpace(class.Name) == "":
			return fmt.Errorf("class %d has no name", i+1)
		case class.Below == nil && i < len(r.Classes)-1:
			return fmt.Errorf("class “%s” has no end, and another class follows", class.Name)
		case class.Below != nil && i == len(r.Classes)-1:
			return fmt.Errorf("the last class, “%s”, must have no end, so that every number has a class", class.Name)
		case class.Below != nil && !(*class.Below > last):
			return fmt.Errorf("class “%s” ends at %s, not above the class before it", class.Name, FormatNumber(*class.Below))
		}
		if class.Below != nil {
			last = *class.Below
		}
	}
	return nil
}

// Cells returns the recoded first n cells of the column.
func (r *Recode) Cells(from *Column, n int) ([]string, error) {
	if err := r.Check(); err != nil {
		return nil, err
	}
	cells := from.padded(n)
	out := make([]string, n)
	if r.Values != nil {
		for i, cell := range cells {
			cell = strings.TrimSpace(cell)
			if name, ok := r.Values[cell]; ok {
				cell = name
			}
			out[i] = cell
		}
		return out, nil
	}
	v, _ := NewVariable("", Number, cells)
	for i, x := range v.Numbers {
		if math.IsNaN(x) {
			continue
		}
		at := slices.IndexFunc(r.Classes, func(c Class) bool { return c.Below == nil || x < *c.Below })
		out[i] = r.Classes[at].Name
	}
	return out, nil
}
