package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/demo"
	"grund/internal/answer"
	"grund/internal/problem"
	"grund/internal/problemset"
)

// students are the made-up students of the demo's class; the first four sign in by a click.
var students = []string{
	"Odo Lind", "Tamsin Reed", "Jory Vane", "Wen Halloway", "Alda Brook", "Bram Osten", "Cora Felling", "Dirk Maple", "Elin Storr",
	"Finn Garrow", "Greta Holm", "Hugo Penrose", "Ida Tarn", "Jens Coulter", "Kira Wolde", "Lars Quay", "Mina Dory", "Nils Aldous",
	"Ottilie Bay", "Piet Arlen", "Runa Shore", "Sten Marrow", "Tove Hatch", "Ulf Candle",
}

// handedOut are the problems of the set that the class is at.
var handedOut = []string{"overhaul", "two-berths", "out-and-back", "riders.ticket"}

// classSettings are those of the set that the class is at.
func classSettings() problemset.Settings {
	s := problemset.New("Week 3: means, pairs and counts")
	s.About = "Work each problem to its sentence. Everyone has other numbers, so compare how you came there, not what came out."
	s.OtherNumbers, s.Keep = true, "nothing"
	three := 3
	s.Help = &three
	return s
}

// writeClass writes the class of the demo, and what its students have done of its set: each has numbers of their own, answers
// well or less well, makes the slips that students make, takes help, and has come more or less far.
func writeClass(rng *rand.Rand) error {
	class := demo.Class{Problems: handedOut}
	class.Students = students
	settings := classSettings()
	text, err := json.Marshal(settings)
	if err != nil {
		return err
	}
	class.Settings = text
	for s := range students {
		skill := 0.62 + 0.36*rng.Float64()
		far := 0.35 + 1.1*rng.Float64() // of the set that the student works
		if s%11 == 10 {
			continue // who has not begun
		}
		for p, name := range handedOut {
			share := min(1, max(0, far*float64(len(handedOut))-float64(p)))
			if share == 0 {
				break
			}
			attempt, err := worked(settings, name, rng, skill, share)
			if err != nil {
				return fmt.Errorf("the attempt of %s at %s: %w", students[s], name, err)
			}
			attempt.Student, attempt.Problem = s, p
			class.Attempts = append(class.Attempts, *attempt)
		}
		if far >= 1 && rng.Float64() < 0.7 {
			class.HandedIn = append(class.HandedIn, s)
		}
	}
	text, err = json.Marshal(class, json.Deterministic(true), jsontext.WithIndent(" "))
	if err != nil {
		return err
	}
	return os.WriteFile("class.json", append(text, '\n'), 0o644)
}

// worked lets a student of some skill work a share of a problem.
func worked(settings problemset.Settings, name string, rng *rand.Rand, skill, share float64) (*demo.ClassAttempt, error) {
	ctx := context.Background()
	file, err := os.ReadFile("problems/" + name + ".json")
	if err != nil {
		return nil, err
	}
	own, err := problem.Parse(file)
	if err != nil {
		return nil, err
	}
	own.Notes, own.Pictures = nil, nil
	made := &demo.ClassAttempt{Seed: rng.Uint64() >> 11}
	p, err := settings.Variant(ctx, own, made.Seed)
	if err != nil {
		return nil, err
	}
	a, err := answer.NewAttempt(ctx, p)
	if err != nil {
		return nil, err
	}
	sheet, err := a.After(ctx, nil)
	if err != nil {
		return nil, err
	}
	var events []answer.Event
	do := func(kind, ask, text string) error {
		events = append(events, answer.Event{Kind: kind, Ask: ask, Text: text})
		next, err := a.Add(ctx, sheet, events)
		if err == nil {
			sheet = next
		}
		return err
	}
	for sheet.Summary == nil && float64(sheet.Answered) < share*float64(sheet.Of) {
		item := openItem(sheet)
		likely := typical(a, item.ID)
		switch try := rng.Float64(); {
		case try > skill && len(likely) > 0:
			wrong := likely[rng.IntN(len(likely))]
			for range 1 + rng.IntN(3)/2 {
				if err := do(answer.Answered, item.ID, wrong); err != nil {
					return nil, err
				}
			}
			if rng.Float64() < 0.45 { // the student goes on with it
				continue
			}
			if now := sheet.Item(item.ID); rng.Float64() < 0.4 && len(now.Help) < now.Helps {
				if err := do(answer.Helped, item.ID, ""); err != nil {
					return nil, err
				}
			}
			fallthrough
		default:
			if sheet.Item(item.ID).Shown {
				continue
			}
			if err := do(answer.Answered, item.ID, a.Right(item.ID)); err != nil {
				return nil, err
			}
		}
	}
	if item := openItem(sheet); sheet.Summary == nil && rng.Float64() < 0.35 { // who is stuck at the same slip
		if likely := typical(a, item.ID); len(likely) > 0 {
			for range 3 {
				if err := do(answer.Answered, item.ID, likely[0]); err != nil {
					return nil, err
				}
			}
		}
	}
	for _, e := range events {
		made.Events = append(made.Events, demo.Event{Kind: e.Kind, Ask: e.Ask, Text: e.Text, Verdict: e.Verdict, Slip: e.Slip})
	}
	made.Standing, err = json.Marshal(problemset.StandingOf(sheet, events), json.Deterministic(true))
	return made, err
}

// typical are the wrong answers that students give. The opposite sign of what has none is seldom typed.
func typical(a *answer.Attempt, ask string) []string {
	right := a.Right(ask)
	return slices.DeleteFunc(a.Likely(ask), func(typed string) bool { return typed == "-"+right })
}

// openItem is the first ask that is not answered.
func openItem(sheet *answer.Sheet) *answer.Item {
	for i := range sheet.Items {
		if item := &sheet.Items[i]; item.Verdict == nil && !item.Shown {
			return item
		}
	}
	return &sheet.Items[len(sheet.Items)-1]
}
