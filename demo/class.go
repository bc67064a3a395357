package demo

import (
	"fmt"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// A Class is the demo's class: its students, the problems of the set that it is at, and what was done of them. It is written by
// generate.
type Class struct {
	Students []string       `json:"students"` // their names
	Settings jsontext.Value `json:"settings"` // of the set, a problemset.Settings
	Problems []string       `json:"problems"` // of the demo
	HandedIn []int          `json:"handed_in"`
	Attempts []ClassAttempt `json:"attempts"`
}

// A ClassAttempt is what a student did of a problem with the numbers of a seed.
type ClassAttempt struct {
	Student  int            `json:"student"`
	Problem  int            `json:"problem"`
	Seed     uint64         `json:"seed"`
	Events   []Event        `json:"events"`
	Standing jsontext.Value `json:"standing"` // a problemset.Standing
}

// TheClass returns the demo's class.
func TheClass() (*Class, error) {
	file, err := files.ReadFile("class.json")
	if err != nil {
		return nil, err
	}
	class := &Class{}
	if err := json.Unmarshal(file, class); err != nil {
		return nil, fmt.Errorf("reading the demo's class: %w", err)
	}
	return class, nil
}
