package problem

import (
	"bytes"
	"fmt"
	"math"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/words"
)

// variableFields are a variable's fields in the file but for its cells, which are
// read in one go.
type variableFields struct {
	Name       string            `json:"name"`
	Label      string            `json:"label,omitzero"`
	Unit       string            `json:"unit,omitzero"`
	Kind       data.Kind         `json:"kind"`
	Levels     []codeText        `json:"levels,omitempty"`
	LevelNames map[string]string `json:"level_names,omitempty"`
	Values     jsontext.Value    `json:"values"`
}

// codeText is a category's code: text, or a number in its shortest form.
type codeText string

// UnmarshalJSONFrom reads text or a number.
func (c *codeText) UnmarshalJSONFrom(d *jsontext.Decoder) error {
	token, err := d.ReadToken()
	if err != nil {
		return err
	}
	code, ok := codeOf(token)
	if !ok {
		return Error{string(d.StackPointer()), "a code must be text or a number, not " + kindName(token.Kind()), ""}
	}
	*c = codeText(code)
	return nil
}

func codeOf(token jsontext.Token) (code string, ok bool) {
	switch token.Kind() {
	case '"':
		return token.String(), true
	case '0':
		x, err := token.Float()
		return data.FormatNumber(x), err == nil
	}
	return "", false
}

// UnmarshalJSONFrom reads the variables of a problem file.
func (vs *Variables) UnmarshalJSONFrom(d *jsontext.Decoder) error {
	if d.PeekKind() != '[' {
		at := string(d.StackPointer())
		kind := d.PeekKind()
		if err := d.SkipValue(); err != nil {
			return err
		}
		return Error{at, "this must be a list in [ ], not " + kindName(kind), ""}
	}
	if _, err := d.ReadToken(); err != nil {
		return err
	}
	*vs = Variables{}
	for d.PeekKind() != ']' {
		var fields variableFields
		if err := json.UnmarshalDecode(d, &fields, json.RejectUnknownMembers(true)); err != nil {
			return err
		}
		v, err := fields.variable(string(d.StackPointer()))
		if err != nil {
			return err
		}
		*vs = append(*vs, v)
	}
	_, err := d.ReadToken()
	return err
}

// variable checks the fields and reads the cells. at points to the variable.
func (f *variableFields) variable(at string) (*data.Variable, error) {
	mistake := func(field, says, instead string) error {
		return Error{at + field, says, instead}
	}
	switch {
	case strings.TrimSpace(f.Name) == "":
		return nil, mistake("/name", "the variable has no name", "give it one")
	case strings.ContainsRune(f.Name, 0):
		return nil, mistake("/name", "the name holds a NUL character", "remove it")
	case f.Kind != data.Number && f.Kind != data.Category && f.Kind != data.Identifier:
		return nil, mistake("/kind", fmt.Sprintf("the kind of “%s” is “%s”", words.Shorten(f.Name), words.Shorten(string(f.Kind))),
			"it must be “number”, “category” or “identifier”")
	case f.Values == nil:
		return nil, mistake("/values", fmt.Sprintf("the variable “%s” has no values", words.Shorten(f.Name)), "give a list of cells")
	case f.Kind == data.Number && (f.Levels != nil || f.LevelNames != nil):
		return nil, mistake("/levels", fmt.Sprintf("“%s” is a number and has no levels", words.Shorten(f.Name)),
			"make it a category or remove the levels")
	}
	v := &data.Variable{Name: f.Name, Label: f.Label, Unit: f.Unit, Kind: f.Kind}
	index := map[string]int{}
	addLevel := func(code string) int {
		name := code
		if given, ok := f.LevelNames[code]; ok {
			name = given
		}
		index[code] = len(v.Levels)
		v.Levels = append(v.Levels, data.Level{Code: code, Name: name})
		return index[code]
	}
	for i, code := range f.Levels {
		if _, twice := index[string(code)]; twice {
			return nil, mistake(Pointer("levels", i), fmt.Sprintf("the level “%s” is listed twice", words.Shorten(string(code))), "list it once")
		}
		addLevel(string(code))
	}
	v.Listed = f.Levels != nil

	cells := jsontext.NewDecoder(bytes.NewBuffer(f.Values))
	if cells.PeekKind() != '[' {
		return nil, mistake("/values", "this must be a list in [ ], not "+kindName(cells.PeekKind()), "")
	}
	if _, err := cells.ReadToken(); err != nil {
		return nil, err
	}
	for i := 0; cells.PeekKind() != ']'; i++ {
		token, err := cells.ReadToken()
		if err != nil {
			return nil, err
		}
		field := func() string { return Pointer("values", i) }
		if f.Kind == data.Number {
			x, problem := numberOf(token)
			if problem != "" {
				return nil, mistake(field(), fmt.Sprintf("case %d of “%s” is %s", i+1, words.Shorten(f.Name), problem),
					"write a number, or null where it is missing")
			}
			v.Numbers = append(v.Numbers, x)
			continue
		}
		if token.Kind() == 'n' {
			v.Codes = append(v.Codes, -1)
			continue
		}
		code, ok := codeOf(token)
		if !ok {
			return nil, mistake(field(), fmt.Sprintf("case %d of “%s” is %s", i+1, words.Shorten(f.Name), kindName(token.Kind())),
				"write text or a number, or null where it is missing")
		}
		level, known := index[code]
		if !known {
			if v.Listed {
				return nil, mistake(field(), fmt.Sprintf("case %d of “%s” is “%s”, which is not among its levels", i+1, words.Shorten(f.Name),
					words.Shorten(code)), "correct the cell or add the level to “levels”")
			}
			level = addLevel(code)
		}
		v.Codes = append(v.Codes, level)
	}
	return v, nil
}

func numberOf(token jsontext.Token) (x float64, problem string) {
	switch token.Kind() {
	case 'n':
		return math.NaN(), ""
	case '0':
		x, err := token.Float()
		if err != nil {
			return 0, "the number " + words.Shorten(token.String()) + ", too large to calculate with"
		}
		return x, ""
	case '"':
		return 0, "the text “" + words.Shorten(token.String()) + "”, not a number"
	}
	return 0, kindName(token.Kind()) + ", not a number"
}

// MarshalJSONTo writes the variables of a problem file.
func (vs Variables) MarshalJSONTo(e *jsontext.Encoder) error {
	if err := e.WriteToken(jsontext.BeginArray); err != nil {
		return err
	}
	for _, v := range vs {
		fields := variableFields{Name: v.Name, Label: v.Label, Unit: v.Unit, Kind: v.Kind}
		for _, level := range v.Levels {
			if v.Listed {
				fields.Levels = append(fields.Levels, codeText(level.Code))
			}
			if level.Name != level.Code {
				if fields.LevelNames == nil {
					fields.LevelNames = map[string]string{}
				}
				fields.LevelNames[level.Code] = level.Name
			}
		}
		var err error
		if fields.Values, err = encodeCells(v); err != nil {
			return err
		}
		if err := json.MarshalEncode(e, fields); err != nil {
			return err
		}
	}
	return e.WriteToken(jsontext.EndArray)
}

func encodeCells(v *data.Variable) (jsontext.Value, error) {
	out := []byte{'['}
	for i := range v.Len() {
		if i > 0 {
			out = append(out, ',')
		}
		switch {
		case v.Missing(i):
			out = append(out, "null"...)
		case v.Kind == data.Number:
			out = append(out, data.FormatNumber(v.Numbers[i])...)
		default:
			var err error
			if out, err = jsontext.AppendQuote(out, v.Levels[v.Codes[i]].Code); err != nil {
				return nil, fmt.Errorf("encoding a level of %q: %w", v.Name, err)
			}
		}
	}
	return append(out, ']'), nil
}
