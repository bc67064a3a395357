package data

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grund/internal/words"
)

// How much may be derived in a data set.
const (
	MaxDerived = 200         // columns
	mostWork   = 500_000_000 // steps of formulas, over all rows: a few seconds
	mostMade   = 200_000_000 // bytes of text in derived cells, all together
)

// Derive fills the cells of derived columns from those that they follow from, in
// an order in which every source comes first. What cannot be derived is blank,
// with a mistake that says why.
func (s *Set) Derive() []Mistake {
	d := newDerivation(s)
	for {
		waiting, progress := []int{}, false
		for i, c := range s.Columns {
			if !c.Derived() || d.done[c] {
				continue
			}
			if !d.ready(c) {
				waiting = append(waiting, i)
				continue
			}
			d.fill(i)
			progress = true
		}
		if len(waiting) == 0 {
			return d.mistakes
		}
		if !progress {
			for _, i := range waiting {
				d.leaveBlank(i, fmt.Sprintf("“%s” follows from itself", s.Columns[i].Name), "derive it from other columns")
			}
			return d.mistakes
		}
	}
}

// A derivation is how far the columns of a data set are derived.
type derivation struct {
	set      *Set
	rows     int
	sources  map[*Column][]*Column // that there are
	done     map[*Column]bool
	work     int // steps of formulas so far
	made     int // bytes so far
	mistakes []Mistake
}

func newDerivation(s *Set) *derivation {
	d := &derivation{set: s, rows: s.Rows(), sources: map[*Column][]*Column{}, done: map[*Column]bool{}}
	byName := map[string]*Column{}
	for _, c := range slices.Backward(s.Columns) {
		byName[strings.TrimSpace(c.Name)] = c
	}
	for _, c := range s.Columns {
		for _, name := range s.sources(c) {
			if source := byName[name]; source != nil {
				d.sources[c] = append(d.sources[c], source)
			}
		}
	}
	return d
}

// ready reports whether the cells of all columns that c follows from are there.
func (d *derivation) ready(c *Column) bool {
	return !slices.ContainsFunc(d.sources[c], func(source *Column) bool { return source.Derived() && !d.done[source] })
}

// fill fills a column whose sources are there.
func (d *derivation) fill(i int) {
	c := d.set.Columns[i]
	d.done[c] = true
	if len(d.done) > MaxDerived {
		d.leaveBlank(i, fmt.Sprintf("more than %d columns are derived", MaxDerived), "keep the values of some as plain cells")
		return
	}
	cells, work, err := d.set.derive(c, d.rows, mostWork-d.work)
	if err != nil {
		d.leaveBlank(i, err.Error(), "")
		return
	}
	d.work += work
	for _, cell := range cells {
		d.made += len(cell)
	}
	if d.made > mostMade {
		d.leaveBlank(i, fmt.Sprintf("the derived columns together hold more than %d MB of text", mostMade/1_000_000),
			"derive shorter texts")
		return
	}
	c.Cells = cells
}

func (d *derivation) leaveBlank(i int, says, instead string) {
	c := d.set.Columns[i]
	c.Cells = make([]string, d.rows)
	d.mistakes = append(d.mistakes, Mistake{i, -1, c.recipe(), says, instead})
}

// recipe names the field that says how the column is derived.
func (c *Column) recipe() string {
	if c.Recode != nil {
		return "recode"
	}
	return "formula"
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
func (s *Set) Preview(c *Column) ([]string, error) {
	cells, _, err := s.derive(c, s.Rows(), mostWork)
	return cells, err
}

// derive returns the first n cells of a column, and how many steps they took; more than the most
// are refused before they are taken.
func (s *Set) derive(c *Column, n, most int) (cells []string, work int, err error) {
	if c.Recode != nil {
		source := s.Find(c.Recode.From)
		if source == nil {
			return nil, 0, fmt.Errorf("there is no column “%s” to recode", words.Shorten(c.Recode.From))
		}
		cells, err = c.Recode.Cells(source, n)
		return cells, n, err
	}
	f, err := s.Compile(c.Formula)
	if err != nil {
		return nil, 0, err
	}
	if work = f.nodes * n; work > most {
		return nil, 0, fmt.Errorf("the formulas take too long for %d rows; keep the values of some derived columns as plain cells", n)
	}
	cells, err = f.Cells()
	return cells, work, err
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

// mostRecoded is how many values or classes a recoding may name.
const mostRecoded = 2_000

// Check returns an error that says what is wrong with the recoding.
func (r *Recode) Check() error {
	if n := len(r.Values) + len(r.Classes); n > mostRecoded {
		return fmt.Errorf("a recoding of %d values or classes is too much; keep to %d", n, mostRecoded)
	}
	if (len(r.Values) == 0) == (len(r.Classes) == 0) {
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
