package procedure

import (
	"fmt"
	"maps"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/problem"
)

type rawValue = jsontext.Value

// check compares the problem with the description, and returns the options with
// their defaults filled in.
func check(p *problem.Problem, d *Description) (Options, error) {
	var errs problem.Errors
	checkTakes(p, d, &errs)
	if !d.Tails {
		if wrong, ok := refuseDirection(p, fmt.Sprintf("%s has no direction", d.Title)).(problem.Errors); ok {
			errs = append(errs, wrong...)
		}
	}
	if p.Data.Variables != nil {
		checkRoles(p, d, &errs)
	} else if len(p.Roles) > 0 {
		errs.Add("/roles", "roles are for variables, and the data here have none", "remove the roles")
	}
	options := checkOptions(p, d, &errs)
	return options, errs.Err()
}

func checkTakes(p *problem.Problem, d *Description, errs *problem.Errors) {
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
			takes = append(takes, string(t))
		}
		errs.Add("/data/"+string(given), fmt.Sprintf("“%s” cannot be worked from %s", d.ID, given), "give "+problem.List(takes, "or"))
	}
}

func checkRoles(p *problem.Problem, d *Description, errs *problem.Errors) {
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
		at := problem.Pointer("roles", role.ID)
		names := p.Roles[role.ID]
		switch {
		case len(names) < role.Min:
			errs.Add(at, fmt.Sprintf("no variable is given for the role “%s”", role.ID), "name "+role.Says)
		case role.Max > 0 && len(names) > role.Max:
			errs.Add(at, fmt.Sprintf("%d variables are given for the role “%s”", len(names), role.ID), fmt.Sprintf("give %d", role.Max))
		}
		for _, name := range names {
			v := p.Data.Variables.Find(name)
			if v == nil {
				*errs = append(*errs, problem.Unknown(at, "variable", name, p.Data.Variables.Names()))
				continue
			}
			if other, taken := playedBy[name]; taken {
				errs.Add(at, fmt.Sprintf("“%s” has the role “%s” already", problem.Shorten(name), other), "give each role a variable of its own")
			}
			playedBy[name] = role.ID
			if !slices.Contains(role.Kinds, v.Kind) {
				errs.Add(at, fmt.Sprintf("“%s” is a %s and the role “%s” needs a %s", problem.Shorten(name), v.Kind, role.ID, role.Kinds[0]),
					"choose another variable, or change its kind")
			}
		}
	}
}

func checkOptions(p *problem.Problem, d *Description, errs *problem.Errors) Options {
	options := Options{}
	var known []string
	for _, option := range d.Options {
		known = append(known, option.ID)
		options[option.ID] = option.Default
		if _, given := p.Options[option.ID]; option.Required && !given {
			errs.Add(problem.Pointer("options", option.ID), option.ID+" is missing", "give it: "+inSentence(option.Label))
		}
	}
	for _, id := range slices.Sorted(maps.Keys(p.Options)) {
		i := slices.Index(known, id)
		if i < 0 {
			*errs = append(*errs, problem.Unknown(problem.Pointer("options", id), "option", id, known))
			continue
		}
		value, says, instead := d.Options[i].read(p.Options[id])
		if says != "" {
			errs.Add(problem.Pointer("options", id), says, instead)
			continue
		}
		options[id] = value
	}
	return options
}

// read returns the option's value, or what is wrong with it and what would be right.
func (o *Option) read(raw rawValue) (value any, says, instead string) {
	switch o.Type {
	case NumberOption:
		var x float64
		if raw.Kind() != '0' {
			return nil, fmt.Sprintf("%s must be a number, not %s", o.ID, problem.Shorten(string(raw))), ""
		}
		if err := json.Unmarshal(raw, &x); err != nil {
			return nil, "the number " + problem.Shorten(string(raw)) + " is too large to calculate with", ""
		}
		return x, "", ""
	case ChoiceOption:
		var choices []string
		for _, c := range o.Choices {
			choices = append(choices, c.Value)
		}
		var text string
		if raw.Kind() != '"' || json.Unmarshal(raw, &text) != nil || !slices.Contains(choices, text) {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), "it must be " + problem.List(choices, "or")
		}
		return text, "", ""
	case BooleanOption:
		if raw.Kind() != 't' && raw.Kind() != 'f' {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), "it must be true or false"
		}
		return raw.Kind() == 't', "", ""
	case LevelOption:
		codes, ok := readCodes(rawValue("[" + string(raw) + "]"))
		if !ok || len(codes) != 1 {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), "it must be the code or the name of a level"
		}
		return codes[0], "", ""
	case ProportionsOption:
		example := "it must be “equal” or a list of numbers above 0"
		if string(raw) == `"equal"` {
			return "equal", "", ""
		}
		numbers, ok := readNumbers(raw)
		if !ok || slices.ContainsFunc(numbers, func(x float64) bool { return !(x > 0) }) {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), example
		}
		return numbers, "", ""
	case NumbersOption:
		numbers, ok := readNumbers(raw)
		if !ok {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), "it must be a list of numbers"
		}
		return numbers, "", ""
	case ParametersOption:
		var parameters map[string]float64
		if raw.Kind() != '{' || json.Unmarshal(raw, &parameters) != nil {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), `it must be numbers by name, as {"mean": 12, "sd": 3} is`
		}
		return parameters, "", ""
	case ReferencesOption:
		var fields map[string]rawValue
		if raw.Kind() != '{' || json.Unmarshal(raw, &fields) != nil {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), `it must be levels by the names of their variables, as {"ferry": "Puffin"} is`
		}
		references := map[string]string{}
		for _, name := range slices.Sorted(maps.Keys(fields)) {
			level := fields[name]
			codes, ok := readCodes(rawValue("[" + string(level) + "]"))
			if !ok || len(codes) != 1 {
				return nil, fmt.Sprintf("the reference of “%s” is %s", problem.Shorten(name), problem.Shorten(string(level))), "it must be the code or the name of a level"
			}
			references[name] = codes[0]
		}
		return references, "", ""
	case PlacesOption, VariableLists:
		var items []rawValue
		example := `it must be a list of lists of names of variables, as [["minutes", "wind"], ["minutes"]] is`
		if o.Type == PlacesOption {
			example = `it must be a list of lists of values, one for each predictor, as [[36, 4.5]] is`
		}
		if raw.Kind() != '[' || json.Unmarshal(raw, &items) != nil {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), example
		}
		lists := [][]string{}
		for _, item := range items {
			codes, ok := readCodes(item)
			if !ok {
				return nil, fmt.Sprintf("%s holds %s", o.ID, problem.Shorten(string(item))), example
			}
			lists = append(lists, codes)
		}
		return lists, "", ""
	case ContrastOption:
		return o.readContrast(raw)
	case JoinOption, OmitOption, OrderOption:
		return o.readGroups(raw)
	default:
		codes, ok := readCodes(raw)
		if !ok || len(codes) != o.Length {
			return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), fmt.Sprintf("it must be a list of %d levels", o.Length)
		}
		return codes, "", ""
	}
}

// readNumbers reads a list of numbers.
func readNumbers(raw rawValue) ([]float64, bool) {
	numbers := []float64{}
	if raw.Kind() != '[' || json.Unmarshal(raw, &numbers) != nil {
		return nil, false
	}
	return numbers, true
}

// levelGroups are groups of levels of the row and of the column variable.
type levelGroups struct{ rows, columns [][]string }

// readGroups reads {"rows": […], "columns": […]}: of levels to join lists of them, of levels
// to omit or to order single ones.
func (o *Option) readGroups(raw rawValue) (value any, says, instead string) {
	example := `it must be as {"rows": ["a"], "columns": []} is`
	if o.Type == JoinOption {
		example = `it must be as {"rows": [["a", "b"]], "columns": []} is`
	}
	wrong := func() (any, string, string) {
		return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), example
	}
	var sides map[string][]rawValue
	if raw.Kind() != '{' || json.Unmarshal(raw, &sides) != nil {
		return wrong()
	}
	read := func(items []rawValue) (groups [][]string, ok bool) {
		for _, item := range items {
			if o.Type != JoinOption {
				item = rawValue("[" + string(item) + "]")
			}
			codes, ok := readCodes(item)
			if !ok || o.Type == JoinOption && len(codes) < 2 {
				return nil, false
			}
			groups = append(groups, codes)
		}
		return groups, true
	}
	var groups levelGroups
	for _, side := range slices.Sorted(maps.Keys(sides)) {
		list, ok := read(sides[side])
		switch {
		case !ok:
			return wrong()
		case side == "rows":
			groups.rows = list
		case side == "columns":
			groups.columns = list
		default:
			return nil, fmt.Sprintf("%s has the field “%s”", o.ID, problem.Shorten(side)), "its fields are “rows” and “columns”"
		}
	}
	return groups, "", ""
}

// readCodes reads a list of texts and numbers, numbers in their shortest form.
func readCodes(raw rawValue) ([]string, bool) {
	var items []any
	if raw.Kind() != '[' || json.Unmarshal(raw, &items) != nil {
		return nil, false
	}
	codes := make([]string, len(items))
	for i, item := range items {
		switch item := item.(type) {
		case string:
			codes[i] = item
		case float64:
			codes[i] = data.FormatNumber(item)
		default:
			return nil, false
		}
	}
	return codes, true
}

// contrastWeights are the weights of a contrast as they were given: by the code or name of
// each level, or in the order of the levels.
type contrastWeights struct {
	byLevel map[string]float64
	inOrder []float64
	tail    problem.Tail
}

// readContrast reads {"weights": {"Mole": 1, "Quarry": -1}, "tail": "right"}. The weights may
// be a list in the order of the levels, and may stand without the tail.
func (o *Option) readContrast(raw rawValue) (value any, says, instead string) {
	c := contrastWeights{tail: problem.Both}
	wrong := func() (any, string, string) {
		return nil, fmt.Sprintf("%s is %s", o.ID, problem.Shorten(string(raw))), `it must be as {"weights": {"Mole": 1, "Quarry": -1}, "tail": "right"} is`
	}
	if raw.Kind() == '[' {
		list, ok := readNumbers(raw)
		if !ok {
			return wrong()
		}
		c.inOrder = list
		return c, "", ""
	}
	var fields map[string]rawValue
	if raw.Kind() != '{' || json.Unmarshal(raw, &fields) != nil {
		return wrong()
	}
	if given, ok := fields["tail"]; ok && given.Kind() == '"' {
		if err := json.Unmarshal(given, &c.tail); err != nil || !slices.Contains([]problem.Tail{problem.Both, problem.Left, problem.Right}, c.tail) {
			return nil, fmt.Sprintf("the tail of %s is %s", o.ID, problem.Shorten(string(given))), "it must be “both”, “left” or “right”"
		}
		delete(fields, "tail")
	}
	weights, named := fields["weights"]
	switch {
	case named && len(fields) > 1:
		return wrong()
	case named && weights.Kind() == '[':
		list, ok := readNumbers(weights)
		if !ok {
			return wrong()
		}
		c.inOrder = list
		return c, "", ""
	case !named:
		var err error
		if weights, err = json.Marshal(fields); err != nil {
			return wrong()
		}
	}
	if weights.Kind() != '{' || json.Unmarshal(weights, &c.byLevel) != nil || len(c.byLevel) == 0 {
		return wrong()
	}
	return c, "", ""
}
