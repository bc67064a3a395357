package problem

import (
	"context"
	"fmt"
	"io"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
)

// A SetFile is a data set as JSON: its variables as they stand in a problem file.
type SetFile struct {
	Grund     int       `json:"grund"`
	Variables Variables `json:"variables"`
}

// WriteSet writes a data set as a SetFile. A data set with a cell that does not fit
// its column cannot be written so; the error names the cell.
func WriteSet(w io.Writer, given *data.Prepared) error {
	variables, _, mistakes := given.Variables() // a column stays a column, whatever it holds
	if len(mistakes) > 0 {
		return fmt.Errorf("%s; %s, or save it in another format, which keeps cells as they were typed", mistakes[0].Says, mistakes[0].Instead)
	}
	return json.MarshalWrite(w, SetFile{Format, variables}, json.Deterministic(true), jsontext.WithIndent("  "))
}

// ReadSet reads the data set that a SetFile, a problem file or any file of
// data.Read holds.
func ReadSet(ctx context.Context, file []byte, options data.Options) (*data.Set, *data.Sheet, error) {
	if !IsObject(file) {
		sheet, err := data.Read(ctx, file, options)
		if err != nil {
			return nil, nil, err
		}
		return sheet.SetOf(""), sheet, nil
	}
	variables, err := ParseVariables(file)
	if err == nil {
		return data.SetOf("", variables), &data.Sheet{Header: true}, nil
	}
	if p, problemErr := Parse(file); problemErr == nil && p.Data.Counts != nil {
		set, err := p.Data.Counts.set()
		return set, &data.Sheet{Header: true}, err
	}
	return nil, nil, err
}

// MistakesOf returns what is wrong in a data set, whatever problem uses it. Blank
// data are no mistake.
func MistakesOf(given *data.Prepared) Errors {
	errs := Errors{}
	if given.Set.Rows() == 0 {
		return errs
	}
	switch given.Set.Form {
	case data.FormGroups:
		_, _, mistakes := given.Grouped()
		errs.addMistakes(mistakes)
	case data.FormCounts:
		_, _, _, mistakes := given.Table()
		errs.addMistakes(mistakes)
	default:
		_, _, mistakes := given.Variables()
		errs.addMistakes(mistakes)
	}
	return errs
}
