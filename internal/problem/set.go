package problem

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"grund/internal/words"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// Set puts a value at a place in the problem file; a nil value removes what is
// there, and the last step "-" appends to a list (RFC 6902's rule).
type Set struct {
	Pointer string `json:"pointer"`
	Value   any    `json:"value"`
}

// Apply returns a copy of p with the values set, checked like a file. The data
// are shared with p and cannot be set.
func Apply(p *Problem, sets []Set) (*Problem, error) {
	if len(sets) == 0 {
		return p, nil
	}
	settings := *p
	settings.Data = Data{Summary: &Summary{Groups: []SummaryGroup{{N: 1}}}} // stands in for the data
	settings.LeaveOut = nil
	file, err := json.Marshal(&settings)
	if err != nil {
		return nil, fmt.Errorf("encoding the settings: %w", err)
	}
	var tree map[string]any
	if err := json.Unmarshal(file, &tree); err != nil {
		return nil, fmt.Errorf("decoding the settings: %w", err)
	}
	leaveOut := make([]any, len(p.LeaveOut))
	for i, left := range p.LeaveOut {
		leaveOut[i] = map[string]any{"case": left.Case, "reason": left.Reason}
	}
	tree["leave_out"] = leaveOut
	for _, set := range sets {
		steps := strings.Split(set.Pointer, "/")
		if len(steps) < 2 || steps[0] != "" {
			return nil, Errors{{set.Pointer, "this is no place in a problem file", `a place is written like "/options/variances"`}}
		}
		if steps[1] == "data" {
			return nil, Errors{{set.Pointer, "the data cannot be set here", "change them in the data set"}}
		}
		for i, step := range steps {
			steps[i] = strings.NewReplacer("~1", "/", "~0", "~").Replace(step)
		}
		changed, err := setIn(tree, steps[1:], set.Value)
		if err != nil {
			return nil, Errors{{set.Pointer, err.Error(), ""}}
		}
		tree = changed.(map[string]any)
	}
	leaveOutText, err := json.Marshal(tree["leave_out"])
	if err != nil {
		return nil, fmt.Errorf("encoding the cases left out: %w", err)
	}
	delete(tree, "leave_out")
	file, err = json.Marshal(tree)
	if err != nil {
		return nil, fmt.Errorf("encoding the settings: %w", err)
	}
	changed, err := Parse(file)
	if err != nil {
		return nil, err
	}
	changed.Data = p.Data
	if err := json.Unmarshal(leaveOutText, &changed.LeaveOut, decoding); err != nil {
		return nil, Errors{explain(leaveOutText, err)}
	}
	var errs Errors
	changed.checkLeaveOut(&errs)
	return changed, errs.Err()
}

// setIn returns node with the value at the steps. A place that is missing on the
// way is made.
func setIn(node any, steps []string, value any) (any, error) {
	if len(steps) == 0 {
		return value, nil
	}
	switch node := node.(type) {
	case nil:
		return setIn(map[string]any{}, steps, value)
	case map[string]any:
		changed := maps.Clone(node)
		if len(steps) == 1 && value == nil {
			delete(changed, steps[0])
			return changed, nil
		}
		child, err := setIn(node[steps[0]], steps[1:], value)
		changed[steps[0]] = child
		return changed, err
	case []any:
		i := len(node)
		if steps[0] != "-" {
			var err error
			if i, err = strconv.Atoi(steps[0]); err != nil || i < 0 || i > len(node) {
				return nil, fmt.Errorf("there is no item %s in the list of %d", steps[0], len(node))
			}
		}
		changed := slices.Clone(node)
		if len(steps) == 1 && value == nil {
			if i == len(node) {
				return nil, fmt.Errorf("there is no item %s to remove", steps[0])
			}
			return slices.Delete(changed, i, i+1), nil
		}
		if i == len(node) {
			changed = append(changed, nil)
		}
		child, err := setIn(changed[i], steps[1:], value)
		changed[i] = child
		return changed, err
	}
	return nil, fmt.Errorf("there is a single value, which has no part “%s”", words.Shorten(steps[0]))
}

// UnmarshalJSONFrom reads a Set and keeps numbers exact.
func (s *Set) UnmarshalJSONFrom(d *jsontext.Decoder) error {
	var wire struct {
		Pointer string         `json:"pointer"`
		Value   jsontext.Value `json:"value"`
	}
	if err := json.UnmarshalDecode(d, &wire, decoding); err != nil {
		return err
	}
	s.Pointer, s.Value = wire.Pointer, nil
	if len(wire.Value) > 0 {
		return json.Unmarshal(wire.Value, &s.Value)
	}
	return nil
}
