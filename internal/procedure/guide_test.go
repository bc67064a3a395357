package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"grund/internal/data"
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
			for _, s := range Guide(c.chosen) {
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
	for _, p := range all {
		assert.NotEmpty(t, p.AlsoCalled, p.ID)
		for _, role := range p.Roles {
			assert.NotEmpty(t, role.Kinds, "%s: %s", p.ID, role.ID)
		}
	}
}
