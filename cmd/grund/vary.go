package main

import (
	"context"
	"fmt"
	"io"

	"grund/internal/vary"
)

type varyCommand struct {
	File string    `arg:"" help:"The problem file, or - for standard input."`
	Seed uint64    `required:"" help:"A whole number: the same one draws the same data on every machine."`
	Keep vary.Keep `default:"decision" help:"What stays: decision, or nothing."`
}

func (c *varyCommand) Run(out io.Writer) error {
	p, err := readProblem(c.File)
	if err != nil {
		return err
	}
	varied, err := vary.Problem(context.Background(), p, c.Seed, c.Keep)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	return writeJSON(out, varied)
}
