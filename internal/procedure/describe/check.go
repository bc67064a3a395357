package describe

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"grund/internal/problem"
	"grund/internal/words"
)

// check compares a problem with the description.
func (d *Description) check(p *problem.Problem) (errs problem.Errors) {
	d.checkTakes(p, &errs)
	if !d.HasDirection(p.Options) {
		says := d.Title + " has no direction"
		if d.DirectedBy != "" {
			says += " without “" + words.InSentence(d.Option(d.DirectedBy).Label) + "”"
		}
		errs = append(errs, Directed(p, says)...)
	}
	if p.Data.Variables != nil {
		d.checkRoles(p, &errs)
	} else if len(p.Roles) > 0 {
		errs.Add("/roles", "roles are for variables, and the data here have none", "remove the roles")
	}
	return errs
}

// Directed returns what is wrong with a problem that takes one tail, or whose claim names a side,
// where the test has no direction. says is why.
func Directed(p *problem.Problem, says string) (errs problem.Errors) {
	if p.Tail != problem.Both {
		errs.Add("/tail", says, "tail must be “both”")
	}
	if c := p.Claim; c != nil && c.Says.Directed() {
		errs.Add("/claim/says", says+", so that a claim about a side cannot be weighed", "say “equal”, “different” or “open”")
	}
	return errs
}

func (d *Description) checkTakes(p *problem.Problem, errs *problem.Errors) {
	given := TakesVariables
	switch {
	case p.Data.Summary != nil:
		given = TakesSummary
	case p.Data.Counts != nil:
		given = TakesCounts
	}
	if !slices.Contains(d.Takes, given) {
		var takes []string
		for _, t := range d.Takes {
			takes = append(takes, sorts[t])
		}
		errs.Add("/data/"+string(given), fmt.Sprintf("“%s” cannot be worked from %s", d.Title, sorts[given]),
			"give "+strings.Join(takes, " or ")+", or ask another question")
	}
}

// sorts are what sorts of data are called.
var sorts = map[Takes]string{TakesVariables: "the cases themselves", TakesSummary: "a summary", TakesCounts: "counts"}

func (d *Description) checkRoles(p *problem.Problem, errs *problem.Errors) {
	var known []string
	for _, role := range d.Roles {
		known = append(known, role.ID)
	}
	for _, id := range slices.Sorted(maps.Keys(p.Roles)) {
		if !slices.Contains(known, id) {
			*errs = append(*errs, problem.Unknown(problem.Pointer("roles", id), "role", id, known))
		}
	}
	playedBy := map[string]string{}
	for _, role := range d.Roles {
		role.check(p, playedBy, errs)
	}
}

// check checks the variables of a role; playedBy holds the roles of those that have one already.
func (r *Role) check(p *problem.Problem, playedBy map[string]string, errs *problem.Errors) {
	at := problem.Pointer("roles", r.ID)
	names := p.Roles[r.ID]
	switch {
	case len(names) < r.Min:
		errs.Add(at, fmt.Sprintf("no variable is given for “%s”", r.Label), "name "+r.Says)
	case r.Max > 0 && len(names) > r.Max:
		errs.Add(at, fmt.Sprintf("%d variables are given for “%s”", len(names), r.Label), fmt.Sprintf("give %d", r.Max))
	}
	for _, name := range names {
		v := p.Data.Variables.Find(name)
		if v == nil {
			*errs = append(*errs, problem.Unknown(at, "variable", name, p.Data.Variables.Names()))
			continue
		}
		if other, taken := playedBy[name]; taken {
			errs.Add(at, fmt.Sprintf("“%s” is given for “%s” already", words.Shorten(name), other), "take a variable of its own for each")
		}
		playedBy[name] = r.Label
		if !slices.Contains(r.Kinds, v.Kind) {
			errs.Add(at, fmt.Sprintf("“%s” is %s and “%s” needs %s", words.Shorten(name), words.A(string(v.Kind)), r.Label,
				words.A(string(r.Kinds[0]))),
				"choose another variable, or change its kind")
		}
	}
}

// readOptions reads the options of a problem into the fields that they are bound to.
func readOptions(p *problem.Problem, options []Option, errs *problem.Errors) {
	var known []string
	for _, option := range options {
		known = append(known, option.ID)
		if _, given := p.Options[option.ID]; option.Required && !given {
			errs.Add(problem.Pointer("options", option.ID), "“"+option.Label+"” is missing", "give it")
		}
	}
	for _, id := range slices.Sorted(maps.Keys(p.Options)) {
		i := slices.Index(known, id)
		if i < 0 {
			*errs = append(*errs, problem.Unknown(problem.Pointer("options", id), "option", id, known))
			continue
		}
		if wrong := options[i].read(p.Options[id]); wrong != nil {
			errs.Add(problem.Pointer("options", id), wrong.says, wrong.instead)
		}
	}
}
