package classroom

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/go-json-experiment/json"

	"grund/demo"
	"grund/internal/access"
	"grund/internal/problem"
	"grund/internal/problemset"
	"grund/internal/store"
)

// demoClass is what the demo's class is called, and demoTeacher who teaches it.
const (
	demoClass   = "Harbour statistics"
	demoTeacher = "ines.maro"
)

// LoadDemo makes the demo's class where its instructor has none yet: 24 students, a set that they are at, and one that is due
// next week.
func LoadDemo(ctx context.Context, st *store.Store, now time.Time) error {
	teacher, _, err := st.ByUserName(ctx, demoTeacher)
	if err != nil {
		return fmt.Errorf("looking for the demo's instructor: %w", err)
	}
	classes, err := st.Classes(ctx, teacher.Person)
	if err != nil || len(classes) > 0 {
		return err
	}
	made, err := demo.TheClass()
	if err != nil {
		return err
	}
	class, err := st.CreateClass(ctx, teacher.Person, demoClass, teacher.Name)
	if err != nil {
		return err
	}
	var students []access.Person
	for _, name := range made.Students {
		student, err := demoStudent(ctx, st, name)
		if err != nil {
			return err
		}
		if _, err := st.JoinClass(ctx, student, class.Code, name); err != nil {
			return err
		}
		students = append(students, student)
	}
	tomorrow, nextWeek := now.Add(30*time.Hour).Truncate(time.Hour), now.Add(7*24*time.Hour).Truncate(time.Hour)
	var settings problemset.Settings
	if err := json.Unmarshal(made.Settings, &settings); err != nil {
		return fmt.Errorf("reading the set of the demo's class: %w", err)
	}
	settings.Due = &tomorrow
	set, err := demoSet(ctx, st, teacher.Person, class, settings, made.Problems)
	if err != nil {
		return err
	}
	var attempts []store.LoadedAttempt
	for _, a := range made.Attempts {
		loaded := store.LoadedAttempt{Person: students[a.Student].ID, SetProblem: set.Problems[a.Problem].ID, Seed: a.Seed}
		if err := json.Unmarshal(a.Standing, &loaded.Standing); err != nil {
			return fmt.Errorf("reading a standing of the demo's class: %w", err)
		}
		for i, e := range a.Events {
			ago := time.Duration(len(a.Events)-i)*40*time.Second + time.Duration(a.Student%7)*time.Minute
			loaded.Events = append(loaded.Events, store.Event{Kind: e.Kind, Ask: e.Ask, Text: e.Text, Verdict: e.Verdict, Slip: e.Slip,
				At: now.Add(-ago)})
		}
		attempts = append(attempts, loaded)
	}
	if err := st.LoadAttempts(ctx, attempts); err != nil {
		return err
	}
	for _, s := range made.HandedIn {
		if err := st.HandIn(ctx, students[s], set.ID); err != nil {
			return err
		}
	}
	later := problemset.New("Week 4: several means")
	later.Due = &nextWeek
	_, err = demoSet(ctx, st, teacher.Person, class, later, []string{"boarding", "riders.age"})
	return err
}

// demoStudent returns one of the demo's people, or adds them.
func demoStudent(ctx context.Context, st *store.Store, name string) (access.Person, error) {
	userName := strings.ReplaceAll(strings.ToLower(name), " ", ".")
	a, _, err := st.ByUserName(ctx, userName)
	if errors.Is(err, store.ErrNotFound) {
		a, err = st.AddDemoPerson(ctx, userName, name, access.Member)
	}
	if err != nil {
		return access.Person{}, fmt.Errorf("adding %s: %w", name, err)
	}
	return a.Person, nil
}

// demoSet makes a set of problems of the demo.
func demoSet(
	ctx context.Context, st *store.Store, teacher access.Person, class *store.Class, settings problemset.Settings, names []string,
) (*store.ProblemSet, error) {
	var files []store.SetFile
	for _, name := range names {
		p, err := problem.Parse(demo.File(name))
		if err != nil {
			return nil, fmt.Errorf("the demo problem %s: %w", name, err)
		}
		file, err := setFile("", p)
		if err != nil {
			return nil, err
		}
		files = append(files, file)
	}
	return st.CreateSet(ctx, teacher, class.ID, settings, files)
}
