package procedure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/data"
	"grund/internal/procedure"
)

func TestGuide(t *testing.T) {
	minutes := &data.Variable{Name: "minutes", Label: "Loading time", Kind: data.Number}
	berth, _ := data.NewVariable("berth", data.Category, []string{"Mole", "Quarry"})
	pier, _ := data.NewVariable("pier", data.Category, []string{"Mole", "Quarry", "Lantern"})
	one, _ := data.NewVariable("one", data.Category, []string{"Mole", "Mole"})
	id, _ := data.NewVariable("id", data.Identifier, []string{"a", "b"})
	for name, c := range map[string]struct {
		chosen []*data.Variable
		why    string // "" where two means do not fit
	}{
		"a number and two groups":   {[]*data.Variable{minutes, berth}, "two independent groups"},
		"in the other order":        {[]*data.Variable{berth, minutes}, "two independent groups"},
		"three groups":              {[]*data.Variable{minutes, pier}, "3 levels: two of them"},
		"one group":                 {[]*data.Variable{minutes, one}, ""},
		"a number alone":            {[]*data.Variable{minutes}, ""},
		"an identifier for a group": {[]*data.Variable{minutes, id}, ""},
		"nothing":                   {nil, ""},
	} {
		t.Run(name, func(t *testing.T) {
			why := ""
			for _, s := range procedure.Guide(c.chosen) {
				if s.Procedure == "t-two-sample" {
					why = s.Why
					assert.Equal(t, "minutes", s.Roles["response"][0])
				}
			}
			if c.why == "" {
				assert.Empty(t, why)
			}
			assert.Contains(t, why, c.why)
		})
	}
}

// Every procedure can be suggested, and says which roles the variables play.
func TestEveryProcedureSaysWhyItFits(t *testing.T) {
	for _, p := range procedure.Descriptions() {
		assert.NotEmpty(t, p.AlsoCalled, p.ID)
		for _, role := range p.Roles {
			assert.NotEmpty(t, role.Kinds, "%s: %s", p.ID, role.ID)
		}
	}
}

// What is offered for what is chosen, whatever its order among the suggestions.
func TestWhatFits(t *testing.T) {
	number := func(name string) *data.Variable { return &data.Variable{Name: name, Label: name, Kind: data.Number} }
	category := func(name string, levels ...string) *data.Variable {
		v, mistakes := data.NewVariable(name, data.Category, levels)
		assert.Empty(t, mistakes)
		return v
	}
	berth, answer := category("berth", "Mole", "Quarry"), category("answer", "yes", "no")
	before, after := category("before", "yes", "no"), category("after", "no", "yes")
	pier, one := category("pier", "Mole", "Quarry", "Lantern"), category("one", "Mole", "Mole")
	for name, c := range map[string]struct {
		chosen      []*data.Variable
		fits, never []string
	}{
		"a number": {[]*data.Variable{number("minutes")}, []string{"t-one-sample", "normality", "chi-square-distribution"},
			[]string{"t-two-sample", "chi-square-fit"}},
		"two numbers": {[]*data.Variable{number("minutes"), number("fuel")},
			[]string{"regression-simple", "correlation", "t-paired", "signed-rank"}, []string{"t-two-sample"}},
		"three numbers": {[]*data.Variable{number("minutes"), number("fuel"), number("wind")},
			[]string{"regression-multiple", "correlation"}, []string{"regression-simple", "t-paired"}},
		"a number and two groups": {[]*data.Variable{number("minutes"), berth}, []string{"t-two-sample", "rank-sum", "variance-ratio"},
			[]string{"t-paired"}},
		"a number and three": {[]*data.Variable{number("minutes"), pier}, []string{"anova-one-way", "rank-k-sample"}, nil},
		"a category":         {[]*data.Variable{pier}, []string{"chi-square-fit"}, []string{"t-one-sample"}},
		"a category of two":  {[]*data.Variable{answer}, []string{"proportion-one", "chi-square-fit"}, nil},
		"two categories": {[]*data.Variable{berth, answer}, []string{"chi-square-independence", "exact-independence", "proportion-two"},
			[]string{"paired-proportions"}},
		"the same answers": {[]*data.Variable{before, after}, []string{"paired-proportions", "chi-square-independence"}, nil},
		"one level only":   {[]*data.Variable{pier, one}, nil, []string{"chi-square-independence", "exact-independence", "paired-proportions"}},
	} {
		var offered []string
		for _, s := range procedure.Guide(c.chosen) {
			offered = append(offered, s.Procedure)
			assert.NotEmpty(t, s.Why, "%s: %s", name, s.Procedure)
		}
		assert.Subset(t, offered, c.fits, name)
		for _, id := range c.never {
			assert.NotContains(t, offered, id, name)
		}
	}
}
