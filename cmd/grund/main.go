// Command grund works introductory statistics problems: as a web application
// (serve, demo; migrate, people and set look after it) and from the command line (work, simulate, power, asks, check, vary, read,
// procedures).
//
// Exit status: 0 done; 2 the input is wrong, with one line on standard error
// that names the field and says what would be right; 1 the program failed.
package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/alecthomas/kong"

	"grund/internal/problem"
)

// version names the state of the program that it was built from; make sets it.
var version = "unknown"

var cli struct {
	Version kong.VersionFlag `help:"Print the version, and stop."`

	Demo       demoCommand       `cmd:"" help:"Serve the web application with the Kelpwick demo data."`
	Serve      serveCommand      `cmd:"" help:"Serve the web application."`
	Migrate    migrateCommand    `cmd:"" help:"Bring the database's tables up to date, and stop."`
	People     peopleCommand     `cmd:"" help:"Look after the people of a server: list, make, password."`
	Set        setCommand        `cmd:"" help:"Look at a problem set: check, marks."`
	Work       workCommand       `cmd:"" help:"Work a problem file and print the worked solution."`
	Simulate   simulateCommand   `cmd:"" help:"Draw samples as if H₀ were true, and print how many were as extreme as the one observed."`
	Power      powerCommand      `cmd:"" help:"Print the power of the test where something stated is true, and the sample that a power needs."`
	Asks       asksCommand       `cmd:"" help:"Print what a problem asks of the person who works it."`
	Check      checkCommand      `cmd:"" help:"Judge the answers to a problem, and print a verdict for each."`
	Vary       varyCommand       `cmd:"" help:"Print the problem with other numbers: data drawn anew, in the same shape."`
	Read       readCommand       `cmd:"" help:"Print the data set that a file holds."`
	Procedures proceduresCommand `cmd:"" help:"Print the description of every procedure as JSON."`
}

// inputError is a mistake of the person at the command line.
type inputError struct{ error }

func main() {
	os.Exit(run(os.Args[1:], os.Stdout, os.Stderr))
}

func run(args []string, stdout, stderr io.Writer) int {
	exited := -1
	parser, err := kong.New(&cli, kong.Name("grund"),
		kong.Description("Works introductory statistics problems step by step."),
		kong.Writers(stdout, stderr), kong.Exit(func(code int) { exited = code }),
		kong.Vars{"version": version}, kong.BindTo(stdout, (*io.Writer)(nil)))
	if err != nil {
		fmt.Fprintln(stderr, "grund:", err)
		return 1
	}
	context, err := parser.Parse(args)
	if exited >= 0 { // help or the version was asked for and printed
		return exited
	}
	if err != nil {
		fmt.Fprintf(stderr, "grund: %v; see grund --help\n", err)
		return 2
	}
	err = context.Run()
	oneLine := func() string { return strings.Join(strings.Fields(err.Error()), " ") }
	var mistakes problem.Errors
	var input inputError
	switch {
	case err == nil:
		return 0
	case errors.As(err, &mistakes), errors.As(err, &input):
		fmt.Fprintln(stderr, "grund:", oneLine())
		return 2
	default:
		fmt.Fprintln(stderr, "grund:", oneLine())
		return 1
	}
}
