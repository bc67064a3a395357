package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"text/tabwriter"
	"time"

	"grund/internal/access"
	"grund/internal/localpg"
	"grund/internal/people"
	"grund/internal/store"
)

// peopleCommand looks after the people of a server, for whoever has the machine.
type peopleCommand struct {
	List     peopleListCommand     `cmd:"" help:"List who signs in."`
	Make     peopleMakeCommand     `cmd:"" help:"Make somebody a member, an instructor or an administrator."`
	Password peoplePasswordCommand `cmd:"" help:"Print a one-time link with which somebody sets a new password."`
}

// machine is who acts at the command line: whoever has the machine may do with it what an administrator may.
var machine = access.Person{ID: access.Local.ID, Role: access.Administrator}

// withStore runs f on the store, beside a server that is running on it.
func (d *database) withStore(f func(ctx context.Context, st *store.Store) error) error {
	ctx, stop := interruptible()
	defer stop()
	run := func(ctx context.Context, url string) error {
		st, err := store.Open(ctx, url, store.Options{})
		if err != nil {
			return err
		}
		defer st.Close()
		return f(ctx, st)
	}
	err := d.with(ctx, run)
	if _, inUse := errors.AsType[*localpg.InUseError](err); !inUse {
		return err
	}
	url, err := localpg.Running(d.Dir)
	if err != nil {
		return err
	}
	return run(ctx, url)
}

// named returns the account of a user name.
func named(ctx context.Context, st *store.Store, userName string) (*store.Account, error) {
	a, _, err := st.ByUserName(ctx, userName)
	if errors.Is(err, store.ErrNotFound) {
		return nil, inputError{fmt.Errorf("nobody signs in as %q; see grund people list", userName)}
	}
	return a, err
}

type peopleListCommand struct{ database }

func (c *peopleListCommand) Run(out io.Writer) error {
	return c.withStore(func(ctx context.Context, st *store.Store) error {
		table := tabwriter.NewWriter(out, 0, 0, 2, ' ', 0)
		fmt.Fprintln(table, "USER NAME\tROLE\tNAME\tSEEN")
		for from, more := 0, true; more; {
			var list []store.Account
			var err error
			if list, more, err = st.People(ctx, machine, from); err != nil {
				return err
			}
			for _, a := range list {
				fmt.Fprintf(table, "%s\t%s\t%s\t%s\n", a.UserName, a.Role, a.Name, a.SeenAt.Format(time.DateOnly))
			}
			from += len(list)
		}
		return table.Flush()
	})
}

type peopleMakeCommand struct {
	database
	UserName string      `arg:"" help:"Under which the person signs in."`
	Role     access.Role `arg:"" enum:"member,instructor,administrator" help:"member, instructor or administrator."`
}

func (c *peopleMakeCommand) Run(out io.Writer) error {
	return c.withStore(func(ctx context.Context, st *store.Store) error {
		a, err := named(ctx, st, c.UserName)
		if err != nil {
			return err
		}
		err = st.SetRole(ctx, machine, a.ID, c.Role)
		if errors.Is(err, store.ErrLast) {
			return inputError{fmt.Errorf("%s is the only administrator: make another one first", a.UserName)}
		}
		if err == nil {
			_, err = fmt.Fprintf(out, "%s is now: %s.\n", a.UserName, c.Role)
		}
		return err
	})
}

type peoplePasswordCommand struct {
	database
	UserName string `arg:"" help:"Under which the person signs in."`
}

func (c *peoplePasswordCommand) Run(out io.Writer) error {
	return c.withStore(func(ctx context.Context, st *store.Store) error {
		a, err := named(ctx, st, c.UserName)
		if err != nil {
			return err
		}
		token, err := st.PasswordLink(ctx, machine, a.ID)
		if err == nil {
			_, err = fmt.Fprintf(out, "%s\n%s sets a new password under this path of the server; it is good once, for three days.\n",
				people.LinkPath(token), a.UserName)
		}
		return err
	})
}
