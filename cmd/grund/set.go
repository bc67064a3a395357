package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"

	"grund/internal/classroom"
	"grund/internal/export"
	"grund/internal/people"
	"grund/internal/problemset"
	"grund/internal/store"
	"grund/internal/words"
)

// setCommand is about sets of problems that are handed out to a class.
type setCommand struct {
	Check setCheckCommand `cmd:"" help:"Say what is in a set that was taken along, or what is wrong with it."`
	Marks setMarksCommand `cmd:"" help:"Print the marks of a set as CSV: a row for each student."`
}

type setCheckCommand struct {
	File string `arg:"" help:"The ZIP of set.json and its problem files, or - for standard input."`
}

func (c *setCheckCommand) Run(out io.Writer) error {
	file, err := readFile(c.File)
	if err != nil {
		return err
	}
	bundle, err := problemset.ReadBundle(file)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	contents, err := bundle.Contents(context.Background())
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	fmt.Fprintf(out, "%s\n", bundle.Title)
	for i, p := range contents {
		fmt.Fprintf(out, "%d. %s (%s): %s, %g points\n", i+1, p.Title, p.Procedure, words.Count(p.Asks, "ask"), p.Points)
	}
	_, err = fmt.Fprintln(out, "The set can be handed out.")
	return err
}

type setMarksCommand struct {
	database
	Set string `arg:"" help:"The set's id: its address on the server ends with it, /sets/ID."`
	As  string `required:"" help:"The user name of an instructor of its class."`
}

func (c *setMarksCommand) Run(out io.Writer) error {
	id, err := uuid.Parse(c.Set[strings.LastIndex(c.Set, "/")+1:])
	if err != nil {
		return inputError{fmt.Errorf("%q is no id of a set: take it from the set's address, /sets/ID", c.Set)}
	}
	return c.withStore(func(ctx context.Context, st *store.Store) error {
		a, err := named(ctx, st, c.As)
		if err != nil {
			return err
		}
		marks, err := classroom.New(st, nil, nil, nil).MarksTable(people.With(ctx, a.Person), a.Person, id)
		if errors.Is(err, store.ErrNotFound) {
			return inputError{fmt.Errorf("%s teaches no set with the id %s", a.UserName, id)}
		}
		if err != nil {
			return err
		}
		return export.Write(out, marks, export.CSV)
	})
}
