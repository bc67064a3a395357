package describe

import (
	"fmt"
	"maps"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/problem"
	"grund/internal/words"
)

// Sides are groups of levels of the row and of the column variable of a two-way table. Of
// levels that are left out or ordered each group is a single one.
type Sides struct{ Rows, Columns [][]string }

// Join binds lists of levels that are taken as one.
func Join(to *Sides, o Option) Option {
	o.Type = JoinOption
	return o.sides(to, 2, `it must be as {"rows": [["a", "b"]], "columns": []} is`)
}

// Omit binds levels that are left out.
func Omit(to *Sides, o Option) Option {
	o.Type = OmitOption
	return o.sides(to, 1, singleLevels)
}

// Order binds levels that come first.
func Order(to *Sides, o Option) Option {
	o.Type = OrderOption
	return o.sides(to, 1, singleLevels)
}

const singleLevels = `it must be as {"rows": ["a"], "columns": []} is`

// sides binds groups of at least so many levels; of 1 each is given by itself, and not as a list.
func (o Option) sides(to *Sides, least int, example string) Option {
	group := func(item jsontext.Value) ([]string, bool) {
		if least == 1 {
			item = jsontext.Value("[" + string(item) + "]")
		}
		codes, ok := readCodes(item)
		return codes, ok && len(codes) >= least
	}
	o.read = func(raw jsontext.Value) *mistake {
		var given map[string][]jsontext.Value
		if raw.Kind() != '{' || json.Unmarshal(raw, &given) != nil {
			return o.isNot(raw, example)
		}
		*to = Sides{}
		for _, side := range slices.Sorted(maps.Keys(given)) {
			var groups [][]string
			for _, item := range given[side] {
				codes, ok := group(item)
				if !ok {
					return o.isNot(raw, example)
				}
				groups = append(groups, codes)
			}
			switch side {
			case "rows":
				to.Rows = groups
			case "columns":
				to.Columns = groups
			default:
				return &mistake{fmt.Sprintf("“%s” has the field “%s”", o.Label, words.Shorten(side)), "its fields are “rows” and “columns”"}
			}
		}
		return nil
	}
	return o
}

// A Contrast is a weight for each level, by its code or name or in the order of the levels, and
// the tail that H₁ takes.
type Contrast struct {
	ByLevel map[string]float64
	InOrder []float64
	Tail    problem.Tail
}

// ContrastOf binds a contrast; nil where none is given. It is written as {"weights": {"Mole": 1,
// "Quarry": -1}, "tail": "right"}; the weights may be a list in the order of the levels, and may
// stand without the tail.
func ContrastOf(to **Contrast, o Option) Option {
	o.Type = ContrastOption
	o.read = func(raw jsontext.Value) *mistake {
		c, wrong := o.contrast(raw)
		if wrong == nil {
			*to = c
		}
		return wrong
	}
	return o
}

func (o *Option) contrast(raw jsontext.Value) (*Contrast, *mistake) {
	c := &Contrast{Tail: problem.Both}
	wrong := o.isNot(raw, `it must be as {"weights": {"Mole": 1, "Quarry": -1}, "tail": "right"} is`)
	var ok bool
	if raw.Kind() == '[' {
		if c.InOrder, ok = readNumbers(raw); !ok {
			return nil, wrong
		}
		return c, nil
	}
	var fields map[string]jsontext.Value
	if raw.Kind() != '{' || json.Unmarshal(raw, &fields) != nil {
		return nil, wrong
	}
	if given, ok := fields["tail"]; ok && given.Kind() == '"' {
		err := json.Unmarshal(given, &c.Tail)
		if err != nil || !slices.Contains([]problem.Tail{problem.Both, problem.Left, problem.Right}, c.Tail) {
			return nil, &mistake{fmt.Sprintf("the tail of “%s” is %s", o.Label, words.Shorten(string(given))),
				"it must be “both”, “left” or “right”"}
		}
		delete(fields, "tail")
	}
	weights, named := fields["weights"]
	switch {
	case named && len(fields) > 1:
		return nil, wrong
	case named && weights.Kind() == '[':
		if c.InOrder, ok = readNumbers(weights); !ok {
			return nil, wrong
		}
		return c, nil
	case !named:
		var err error
		if weights, err = json.Marshal(fields); err != nil {
			return nil, wrong
		}
	}
	if weights.Kind() != '{' || problem.Decode(weights, &c.ByLevel) != nil || len(c.ByLevel) == 0 {
		return nil, wrong
	}
	return c, nil
}
