package main

import (
	"context"
	"errors"
	"fmt"
	"io"

	"grund/internal/answer"
)

type asksCommand struct {
	File string `arg:"" help:"The problem file, or - for standard input."`
}

func (c *asksCommand) Run(out io.Writer) error {
	p, err := readProblem(c.File)
	if err != nil {
		return err
	}
	asks, err := answer.Asks(context.Background(), p)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	return writeJSON(out, asks)
}

type checkCommand struct {
	File    string `arg:"" help:"The problem file, or - for standard input."`
	Answers string `arg:"" help:"The answer file, or - for standard input."`
}

func (c *checkCommand) Run(out io.Writer) error {
	if c.File == "-" && c.Answers == "-" {
		return inputError{errors.New("the problem and the answers cannot both come from standard input")}
	}
	p, err := readProblem(c.File)
	if err != nil {
		return err
	}
	file, err := readFile(c.Answers)
	if err != nil {
		return err
	}
	answers, err := answer.Parse(file)
	if err != nil {
		return fmt.Errorf("%s: %w", c.Answers, err)
	}
	verdicts, err := answer.Check(context.Background(), p, answers)
	if err != nil {
		return fmt.Errorf("%s, %s: %w", c.File, c.Answers, err)
	}
	return writeJSON(out, verdicts)
}
