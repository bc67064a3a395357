package answer

import (
	"bytes"
	"fmt"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/problem"
)

// MaxAnswers is how many answers a file may have.
const MaxAnswers = 5000

// MaxAnswer is how many bytes an answer may have, a sentence of the student's own included.
const MaxAnswer = 4000

// A File is an answer file: what was typed or chosen for each ask.
type File struct {
	Grund   int            `json:"grund"`
	Answers jsontext.Value `json:"answers"`
}

// An Answer is what was typed or chosen for an ask.
type Answer struct{ Ask, Text string }

// Parse reads an answer file; the answers keep their order. Every error is of type problem.Errors.
func Parse(file []byte) ([]Answer, error) {
	var f File
	if err := problem.Decode(file, &f); err != nil {
		return nil, err
	}
	if f.Grund != problem.Format {
		return nil, problem.Errors{{Pointer: "/grund", Says: "it is the version of the format", Instead: "1"}}
	}
	return ParseAnswers(f.Answers)
}

// ParseAnswers reads the answers of a file, in its order.
func ParseAnswers(file jsontext.Value) ([]Answer, error) {
	d := jsontext.NewDecoder(bytes.NewReader(file))
	wrong := problem.Errors{{Pointer: "/answers", Says: "it must be an object", Instead: `{"t": "-2.04", "decision": "reject"}`}}
	if file.Kind() != '{' {
		return nil, wrong
	}
	if _, err := d.ReadToken(); err != nil {
		return nil, wrong
	}
	var answers []Answer
	for d.PeekKind() == '"' {
		name, err := d.ReadToken()
		if err != nil {
			return nil, wrong
		}
		ask := name.String()
		value, err := d.ReadValue()
		if err != nil {
			return nil, wrong
		}
		pointer := problem.Pointer("answers", ask)
		var text string
		switch value.Kind() {
		case '"':
			unquoted, err := jsontext.AppendUnquote(nil, value)
			if err != nil {
				return nil, wrong
			}
			text = string(unquoted)
		case '0':
			text = string(value)
		default:
			return nil, problem.Errors{{Pointer: pointer, Says: "it must be a text or a number", Instead: "write it as it was typed"}}
		}
		if len(text) > MaxAnswer {
			return nil, problem.Errors{{
				Pointer: pointer, Says: fmt.Sprintf("it has %d bytes", len(text)), Instead: fmt.Sprintf("an answer has %d at most", MaxAnswer),
			}}
		}
		if len(answers) == MaxAnswers {
			return nil, problem.TooMany("/answers", "there are more answers", MaxAnswers, "leave some out")
		}
		answers = append(answers, Answer{ask, text})
	}
	return answers, nil
}
