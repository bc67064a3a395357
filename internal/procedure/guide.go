package procedure

import (
	"fmt"
	"slices"
	"strings"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
)

// A Suggestion is a procedure that fits chosen variables, with the reason.
type Suggestion struct {
	Procedure string        `json:"procedure"`
	Title     string        `json:"title"`
	Asks      string        `json:"asks"`
	Why       string        `json:"why"`
	Roles     problem.Roles `json:"roles"`
}

// Guide returns the procedures that fit the chosen variables, in the order of the registry. It
// knows them by their roles alone: each chosen variable must find one whose kind it has, and each
// role the variables that it needs.
func Guide(chosen []*data.Variable) []Suggestion {
	out := []Suggestion{}
	for _, p := range all {
		if !slices.Contains(p.Takes, describe.TakesVariables) {
			continue
		}
		assigned := assign(p.Roles, chosen)
		if assigned == nil {
			continue
		}
		why := reasons(p.Roles, assigned)
		if p.Fits != nil {
			var ok bool
			if why, ok = p.Fits(assigned); !ok {
				continue
			}
		}
		roles := problem.Roles{}
		for id, variables := range assigned {
			for _, v := range variables {
				roles[id] = append(roles[id], v.Name)
			}
		}
		out = append(out, Suggestion{p.ID, p.Title, p.Asks, why, roles})
	}
	return out
}

// assign gives each variable a role of its kind, in the order chosen, so that every role has as
// many as it needs; nil where that cannot be done.
func assign(roles []describe.Role, chosen []*data.Variable) describe.Assigned {
	assigned := describe.Assigned{}
	var place func(i int) bool
	place = func(i int) bool {
		if i == len(chosen) {
			for _, role := range roles {
				if len(assigned[role.ID]) < role.Min {
					return false
				}
			}
			return true
		}
		for _, role := range roles {
			has := assigned[role.ID]
			if !slices.Contains(role.Kinds, chosen[i].Kind) || role.Max > 0 && len(has) == role.Max ||
				role.Levels > 0 && cases.Used(chosen[i]) < role.Levels {
				continue
			}
			assigned[role.ID] = append(slices.Clone(has), chosen[i])
			if place(i + 1) {
				return true
			}
			assigned[role.ID] = has
		}
		return false
	}
	if !place(0) {
		return nil
	}
	return assigned
}

// reasons says which variable plays which role, for a procedure that says no more.
func reasons(roles []describe.Role, assigned describe.Assigned) string {
	var parts []string
	for _, role := range roles {
		for _, v := range assigned[role.ID] {
			parts = append(parts, fmt.Sprintf("“%s” is %s", v.Title(), role.Says))
		}
	}
	return strings.Join(parts, ", ") + "."
}
