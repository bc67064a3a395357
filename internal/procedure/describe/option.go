package describe

import (
	"fmt"
	"maps"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/words"
)

// An Option changes what a procedure computes. Make one with the function for its type.
type Option struct {
	ID      string     `json:"id"`
	Label   string     `json:"label"`
	Type    OptionType `json:"type"`
	Says    string     `json:"says"`
	Default any        `json:"default"` // nil where it depends on the data
	// Required options have no default: a person must give them.
	Required bool     `json:"required,omitzero"`
	Choices  []Choice `json:"choices,omitempty"`
	Length   int      `json:"length,omitzero"` // of a list
	Of       string   `json:"of,omitzero"`     // the role whose level it is
	Live     bool     `json:"live"`            // offered under the curve
	Key      string   `json:"key,omitzero"`    // of the keyboard, where it is live

	// read puts a value into the field that the option is bound to; a mistake says what is wrong.
	read func(raw jsontext.Value) *mistake
}

// OptionType is the type of an option's value. Its reader is the function that makes such
// options; in the browser web/src/edit/options.tsx has the field for each.
type OptionType string

const (
	NumberOption      OptionType = "number"
	ChoiceOption      OptionType = "choice"
	LevelsOption      OptionType = "levels" // a list of codes or names of levels
	LevelOption       OptionType = "level"  // the code or name of one level
	BooleanOption     OptionType = "boolean"
	ProportionsOption OptionType = "proportions" // "equal", or a positive number for each category
	NumbersOption     OptionType = "numbers"     // a list of numbers
	ParametersOption  OptionType = "parameters"  // numbers by name
	JoinOption        OptionType = "join"        // lists of levels of the row and of the column variable that are taken as one
	OmitOption        OptionType = "omit"        // levels of the row and of the column variable that are left out
	OrderOption       OptionType = "order"       // levels of the row and of the column variable that come first
	ContrastOption    OptionType = "contrast"    // a weight for each level, and a tail
	ReferencesOption  OptionType = "references"  // a level by the name of its variable
	PlacesOption      OptionType = "places"      // lists of a value for each predictor
	VariableLists     OptionType = "lists"       // lists of names of variables
	TermOption        OptionType = "term"        // a predictor, or a level of one: “ferry: Dunlin”
)

// A Choice of an option.
type Choice struct {
	Value string `json:"value"`
	Label string `json:"label"`
	Says  string `json:"says,omitzero"`
}

// A mistake is what is wrong with an option's value, and what would be right.
type mistake struct{ says, instead string }

// isNot is the mistake of a value that is not what the option takes.
func (o *Option) isNot(raw jsontext.Value, instead string) *mistake {
	return &mistake{fmt.Sprintf("“%s” is %s", o.Label, words.Shorten(string(raw))), instead}
}

// Number binds a number.
func Number(to *float64, or float64, o Option) Option {
	o.Type, o.Default, *to = NumberOption, or, or
	o.read = func(raw jsontext.Value) *mistake { return o.number(raw, to) }
	return o
}

// RequiredNumber binds a number that must be given.
func RequiredNumber(to *float64, o Option) Option {
	o.Type, o.Required = NumberOption, true
	o.read = func(raw jsontext.Value) *mistake { return o.number(raw, to) }
	return o
}

func (o *Option) number(raw jsontext.Value, to *float64) *mistake {
	if raw.Kind() != '0' {
		return &mistake{fmt.Sprintf("“%s” must be a number, not %s", o.Label, words.Shorten(string(raw))), ""}
	}
	if json.Unmarshal(raw, to) != nil {
		return &mistake{"the number " + words.Shorten(string(raw)) + " is too large to calculate with", ""}
	}
	return nil
}

// OneOf binds one of the option's choices, by its value.
func OneOf(to *string, or string, o Option) Option {
	o.Type, o.Default, *to = ChoiceOption, or, or
	o.read = func(raw jsontext.Value) *mistake {
		var choices []string
		for _, c := range o.Choices {
			choices = append(choices, c.Value)
		}
		var text string
		if raw.Kind() != '"' || json.Unmarshal(raw, &text) != nil || !slices.Contains(choices, text) {
			return o.isNot(raw, "it must be "+words.Quoted(choices, "or"))
		}
		*to = text
		return nil
	}
	return o
}

// Boolean binds true or false.
func Boolean(to *bool, or bool, o Option) Option {
	o.Type, o.Default, *to = BooleanOption, or, or
	o.read = func(raw jsontext.Value) *mistake {
		if raw.Kind() != 't' && raw.Kind() != 'f' {
			return o.isNot(raw, "it must be true or false")
		}
		*to = raw.Kind() == 't'
		return nil
	}
	return o
}

// Level binds the code or name of one level; nil where none is given.
func Level(to **string, o Option) Option {
	o.Type = LevelOption
	o.read = func(raw jsontext.Value) *mistake {
		code, ok := readCode(raw)
		if !ok {
			return o.isNot(raw, "it must be the code or the name of a level")
		}
		*to = &code
		return nil
	}
	return o
}

// Term binds the name of a predictor, or of a level of one with the name of its variable; "" where
// none is given.
func Term(to *string, o Option) Option {
	o.Type = TermOption
	o.read = func(raw jsontext.Value) *mistake {
		if raw.Kind() != '"' || json.Unmarshal(raw, to) != nil || *to == "" {
			return o.isNot(raw, "it must be the name of a predictor")
		}
		return nil
	}
	return o
}

// Levels binds a list of codes or names of levels, as many as the option's Length says; nil
// where none are given.
func Levels(to *[]string, o Option) Option {
	o.Type = LevelsOption
	o.read = func(raw jsontext.Value) *mistake {
		codes, ok := readCodes(raw)
		if !ok || len(codes) != o.Length {
			return o.isNot(raw, fmt.Sprintf("it must be a list of %d levels", o.Length))
		}
		*to = codes
		return nil
	}
	return o
}

// Proportions binds a list of positive numbers; nil where they are equal.
func Proportions(to *[]float64, o Option) Option {
	o.Type, o.Default = ProportionsOption, "equal"
	o.read = func(raw jsontext.Value) *mistake {
		if string(raw) == `"equal"` {
			return nil
		}
		numbers, ok := readNumbers(raw)
		if !ok || slices.ContainsFunc(numbers, func(x float64) bool { return !(x > 0) }) {
			return o.isNot(raw, "it must be “equal” or a list of numbers above 0")
		}
		*to = numbers
		return nil
	}
	return o
}

// Numbers binds a list of numbers; nil where none is given.
func Numbers(to *[]float64, o Option) Option {
	o.Type = NumbersOption
	o.read = func(raw jsontext.Value) *mistake {
		numbers, ok := readNumbers(raw)
		if !ok {
			return o.isNot(raw, "it must be a list of numbers")
		}
		*to = numbers
		return nil
	}
	return o
}

// Parameters binds numbers by name; nil where none are given.
func Parameters(to *map[string]float64, o Option) Option {
	o.Type = ParametersOption
	o.read = func(raw jsontext.Value) *mistake {
		var parameters map[string]float64
		if raw.Kind() != '{' || problem.Decode(raw, &parameters) != nil {
			return o.isNot(raw, `it must be numbers by name, as {"mean": 12, "sd": 3} is`)
		}
		*to = parameters
		return nil
	}
	return o
}

// References binds the code or name of a level by the name of its variable.
func References(to *map[string]string, o Option) Option {
	o.Type = ReferencesOption
	o.read = func(raw jsontext.Value) *mistake {
		var fields map[string]jsontext.Value
		if raw.Kind() != '{' || json.Unmarshal(raw, &fields) != nil {
			return o.isNot(raw, `it must be levels by the names of their variables, as {"ferry": "Puffin"} is`)
		}
		references := map[string]string{}
		for _, name := range slices.Sorted(maps.Keys(fields)) {
			code, ok := readCode(fields[name])
			if !ok {
				return &mistake{fmt.Sprintf("the reference of “%s” is %s", words.Shorten(name), words.Shorten(string(fields[name]))),
					"it must be the code or the name of a level"}
			}
			references[name] = code
		}
		*to = references
		return nil
	}
	return o
}

// Places binds lists of a value for each predictor: numbers in their shortest form, or levels.
func Places(to *[][]string, o Option) Option {
	o.Type = PlacesOption
	o.read = func(raw jsontext.Value) *mistake {
		return o.lists(raw, to, `it must be a list of lists of values, one for each predictor, as [[36, 4.5]] is`)
	}
	return o
}

// Lists binds lists of names of variables.
func Lists(to *[][]string, o Option) Option {
	o.Type = VariableLists
	o.read = func(raw jsontext.Value) *mistake {
		return o.lists(raw, to, `it must be a list of lists of names of variables, as [["minutes", "wind"], ["minutes"]] is`)
	}
	return o
}

func (o *Option) lists(raw jsontext.Value, to *[][]string, example string) *mistake {
	var items []jsontext.Value
	if raw.Kind() != '[' || json.Unmarshal(raw, &items) != nil {
		return o.isNot(raw, example)
	}
	lists := [][]string{}
	for _, item := range items {
		codes, ok := readCodes(item)
		if !ok {
			return &mistake{fmt.Sprintf("“%s” holds %s", o.Label, words.Shorten(string(item))), example}
		}
		lists = append(lists, codes)
	}
	*to = lists
	return nil
}

// readNumbers reads a list of numbers; null is none.
func readNumbers(raw jsontext.Value) ([]float64, bool) {
	numbers := []float64{}
	if raw.Kind() != '[' || problem.Decode(raw, &numbers) != nil {
		return nil, false
	}
	return numbers, true
}

// readCodes reads a list of texts and numbers, numbers in their shortest form.
func readCodes(raw jsontext.Value) ([]string, bool) {
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

// readCode reads a text or a number.
func readCode(raw jsontext.Value) (string, bool) {
	codes, ok := readCodes(jsontext.Value("[" + string(raw) + "]"))
	if !ok || len(codes) != 1 {
		return "", false
	}
	return codes[0], true
}
