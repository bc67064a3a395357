// Load puts a server under load, kills it and its database, and sends slowly; it prints what came of it and
// fails where something was lost. It starts a server of its own on loopback, with data of its own.
package main

import (
	"flag"
	"fmt"
	"log"
	"os"
	"text/tabwriter"
	"time"
)

func main() {
	log.SetFlags(0)
	binary := flag.String("grund", "bin/grund", "the program that is put under load")
	seconds := flag.Int("seconds", 10, "how long many ask at once")
	kills := flag.Int("kills", 10, "how often the server, and its database, are killed")
	flag.Parse()
	if err := run(*binary, time.Duration(*seconds)*time.Second, *kills); err != nil {
		log.Fatal("load: ", err)
	}
}

// A result is a line of the table.
type result struct {
	what, came string
	bad        bool
}

func run(binary string, long time.Duration, kills int) error {
	dir, err := os.MkdirTemp("", "grund-load-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil { // PostgreSQL must get in
		return err
	}
	s := &server{binary: binary, dir: dir}
	if err := s.start(); err != nil {
		return err
	}
	defer s.stop()
	l := &load{server: s}
	if err := l.prepare(); err != nil {
		return err
	}
	var results []result
	for _, phase := range []func() ([]result, error){
		l.quiet,
		func() ([]result, error) { return l.many(500, long) },
		func() ([]result, error) { return l.simulations(50) },
		func() ([]result, error) { return l.slowBodies(40) },
		func() ([]result, error) { return l.largeBodies(6) },
		func() ([]result, error) { return l.kills("server", kills, s.kill, s.start) },
		func() ([]result, error) { return l.kills("database", kills, s.killDatabase, s.ready) },
	} {
		more, err := phase()
		results = append(results, more...)
		if err != nil {
			return err
		}
	}
	return show(results)
}

// show prints the table, and returns an error where a line is bad.
func show(results []result) error {
	table := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	bad := 0
	for _, r := range results {
		mark := ""
		if r.bad {
			mark, bad = "← not as it should be", bad+1
		}
		fmt.Fprintf(table, "%s\t%s\t%s\n", r.what, r.came, mark)
	}
	if err := table.Flush(); err != nil {
		return err
	}
	if bad > 0 {
		return fmt.Errorf("%d lines are not as they should be", bad)
	}
	return nil
}
