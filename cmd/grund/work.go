package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/data"
	"grund/internal/paper"
	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/working"
	"grund/web"
)

type workCommand struct {
	File   string `arg:"" help:"The problem file, or - for standard input."`
	Format string `enum:"json,markdown,html,odt" default:"json" help:"json, markdown, html or odt."`
	// What goes into a document.
	What    paper.What       `default:"full" help:"Of html and odt: full, short or report."`
	Steps   []working.StepID `help:"Of html and odt: the steps that go in, parted by commas; all if left out."`
	Without []string         `help:"Of html and odt: tables and figures that stay out, parted by commas, as table/cases,figure/curve."`
	AllRows bool             `help:"Of html and odt: all rows of long tables, up to 10000, in the place of the first 60."`
	Name    string           `help:"Of html and odt: who hands it in."`
	Course  string           `help:"Of html and odt: for which course."`
	Date    string           `help:"Of html and odt: when."`
	Size    paper.Size       `default:"a4" help:"Of html and odt: sheets of a4 or letter."`
}

func (c *workCommand) Run(out io.Writer) error {
	p, err := readProblem(c.File)
	if err != nil {
		return err
	}
	solution, err := procedure.Work(context.Background(), p)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	switch c.Format {
	case "markdown":
		_, err = io.WriteString(out, working.Markdown(solution, p.Title))
		return err
	case "html", "odt":
		fonts, err := paper.FontsIn(web.Dist())
		if err != nil {
			return err
		}
		write := map[string]func(io.Writer, *paper.Sheet) error{"html": paper.HTML, "odt": paper.ODT}[c.Format]
		return write(out, &paper.Sheet{
			Head:     paper.Head{Title: p.Title, Name: c.Name, Course: c.Course, Date: c.Date, Size: c.Size, Fonts: fonts},
			Question: cmp.Or(solution.Question, p.Question), Claim: claimOf(p), Solution: solution, What: c.What, Steps: c.Steps,
			Without: c.Without, AllRows: c.AllRows,
		})
	}
	return writeJSON(out, solution)
}

func claimOf(p *problem.Problem) string {
	if p.Claim == nil {
		return ""
	}
	return p.Claim.Text
}

type simulateCommand struct {
	File string `arg:"" help:"The problem file, or - for standard input."`
}

func (c *simulateCommand) Run(out io.Writer) error {
	p, err := readProblem(c.File)
	if err != nil {
		return err
	}
	var last *working.Simulation
	err = procedure.Simulate(context.Background(), p, func(s *working.Simulation) error {
		last = s
		return nil
	})
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	return writeJSON(out, last)
}

type powerCommand struct {
	File   string             `arg:"" help:"The problem file, or - for standard input."`
	True   map[string]float64 `help:"What is true, as truth=12.5;sd=2; printed as inputs when not given."`
	Target *float64           `help:"The power that the needed sample is to have; 0.8 when not given."`
}

func (c *powerCommand) Run(out io.Writer) error {
	p, err := readProblem(c.File)
	if err != nil {
		return err
	}
	power, err := procedure.Power(context.Background(), p, working.PowerQuestion{Inputs: c.True, Target: c.Target})
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	return writeJSON(out, power)
}

// readProblem reads a problem file, or standard input for "-".
func readProblem(name string) (*problem.Problem, error) {
	file, err := readFile(name)
	if err != nil {
		return nil, err
	}
	p, err := problem.Parse(file)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	return p, nil
}

type readCommand struct {
	File  string `arg:"" help:"A file of delimited text (CSV, TSV, semicolons), XLSX, ODS or JSON, or - for standard input."`
	Table string `help:"The table in a file that holds several; the first that holds anything when not given."`
}

func (c *readCommand) Run(out io.Writer) error {
	file, err := readFile(c.File)
	if err != nil {
		return err
	}
	variables, err := c.read(file)
	if err != nil {
		return inputError{fmt.Errorf("%s: %w", c.File, err)}
	}
	return writeJSON(out, problem.SetFile{Grund: problem.Format, Variables: variables})
}

func (c *readCommand) read(file []byte) (problem.Variables, error) {
	if problem.IsObject(file) {
		return problem.ParseVariables(file)
	}
	sheet, err := data.Read(context.Background(), file, data.Options{Table: c.Table})
	if err != nil {
		return nil, err
	}
	return sheet.Variables()
}

type proceduresCommand struct{}

func (proceduresCommand) Run(out io.Writer) error {
	return writeJSON(out, procedure.Descriptions())
}

// readFile reads a file, or standard input for "-".
func readFile(name string) ([]byte, error) {
	if name == "-" {
		return io.ReadAll(os.Stdin)
	}
	file, err := os.ReadFile(name)
	if err != nil {
		var path *os.PathError
		if errors.As(err, &path) {
			err = path.Err
		}
		return nil, inputError{fmt.Errorf("%s: cannot be read: %w; give the name of a file, or - for standard input", strings.TrimSpace(name),
			err)}
	}
	return file, nil
}

func writeJSON(out io.Writer, value any) error {
	if err := json.MarshalWrite(out, value, json.Deterministic(true), jsontext.WithIndent("  ")); err != nil {
		return fmt.Errorf("writing JSON: %w", err)
	}
	_, err := io.WriteString(out, "\n")
	return err
}
