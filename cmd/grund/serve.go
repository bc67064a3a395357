package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"strconv"
	"syscall"
	"time"

	"github.com/google/uuid"

	"grund/demo"
	"grund/internal/access"
	"grund/internal/answer"
	"grund/internal/classroom"
	"grund/internal/localpg"
	"grund/internal/people"
	"grund/internal/problem"
	"grund/internal/server"
	"grund/internal/standin"
	"grund/internal/store"
	"grund/internal/words"
	"grund/web"
)

// database says where the data are.
type database struct {
	DatabaseURL string `name:"database-url" env:"GRUND_DATABASE_URL" help:"An outside PostgreSQL; without it a private one on loopback."`
	Dir         string `default:".grund" env:"GRUND_DIR" help:"Where the private PostgreSQL keeps its data."`
}

type serveCommand struct {
	database
	Host string `default:"127.0.0.1" help:"The address to listen on."`
	Port int    `default:"8420" help:"The port to listen on."`

	Connections int      `default:"12" env:"GRUND_CONNECTIONS" help:"How many connections to PostgreSQL are used at most."`
	Memory      int64    `default:"3072" env:"GRUND_MEMORY" help:"How many MiB large requests may take together."`
	Space       int64    `default:"10240" env:"GRUND_SPACE" help:"How many MiB a person's data sets may take."`
	AllowHost   []string `env:"GRUND_ALLOW_HOST" help:"Names that the server answers to, beside this machine's own."`

	People          bool `env:"GRUND_PEOPLE" help:"Many work here, as guests or under a name; otherwise all are the person of this machine."`
	EveryoneTeaches bool `env:"GRUND_EVERYONE_TEACHES" help:"Every member may make classes, and not only instructors."`
	NoGuests        bool `env:"GRUND_NO_GUESTS" help:"Nobody works without a name."`
	provider
	Proxy bool `env:"GRUND_PROXY" help:"Requests come through a proxy that names the address of who asks in X-Forwarded-For."`

	besides map[string]http.Handler `kong:"-"` // what else is served, by where
}

// provider is a school's own identity provider, by which people sign in.
type provider struct {
	Issuer       string `name:"oidc-issuer" env:"GRUND_OIDC_ISSUER" help:"The address of an OpenID Connect provider."`
	ClientID     string `name:"oidc-client-id" env:"GRUND_OIDC_CLIENT_ID" help:"What the provider calls this server."`
	ClientSecret string `name:"oidc-client-secret" env:"GRUND_OIDC_CLIENT_SECRET" help:"What the provider knows it by."`
	Name         string `name:"oidc-name" env:"GRUND_OIDC_NAME" default:"the school" help:"What the button calls the provider."`
	Home         string `name:"oidc-home" env:"GRUND_OIDC_HOME" help:"The address of this server, to which the provider sends people back."`
}

type demoCommand struct {
	serveCommand
	Alone bool `help:"Everybody is the one person of this machine; nobody signs in."`
}

type migrateCommand struct {
	database
}

func (c *serveCommand) Run(out io.Writer) error {
	if !c.People {
		return c.serve(out, nil, nil)
	}
	return c.serve(out, c.rules(nil), func(ctx context.Context, st *store.Store) error {
		token, err := st.FirstLink(ctx)
		if err == nil && token != "" {
			_, err = fmt.Fprintf(out, "Nobody looks after people yet. Who opens http://%s%s does; the link is good once, for three days.\n",
				net.JoinHostPort(c.Host, strconv.Itoa(c.Port)), people.LinkPath(token))
		}
		return err
	})
}

// rules say who may work here. Cookies are kept to encrypted connections unless the server is asked on loopback alone.
func (c *serveCommand) rules(demo *access.Person) *people.Rules {
	rules := &people.Rules{Guests: !c.NoGuests, Demo: demo, Secure: len(c.AllowHost) > 0, Proxy: c.Proxy, OnMachine: server.OnMachine,
		EveryoneTeaches: c.EveryoneTeaches || demo != nil,
		Version:         version}
	if c.Issuer != "" {
		rules.Provider = &people.Provider{
			Name: c.provider.Name, Issuer: c.Issuer, ClientID: c.ClientID, ClientSecret: c.ClientSecret, Home: c.Home,
		}
	}
	return rules
}

func (c *demoCommand) Run(out io.Writer) error {
	if c.Alone {
		return c.serve(out, nil, func(ctx context.Context, st *store.Store) error { return loadDemo(ctx, st, access.Local) })
	}
	// Whom guests and the demo's people have their demo from, who never works on it.
	shelf := access.Person{ID: uuid.MustParse("00000000-0000-4000-8000-000000000002"), Role: access.Member}
	rules := c.rules(&shelf)
	if rules.Provider == nil && !rules.Secure {
		if err := c.standIn(rules); err != nil {
			return err
		}
	}
	return c.serve(out, rules, func(ctx context.Context, st *store.Store) error {
		if err := st.Add(ctx, shelf, "demo"); err != nil {
			return err
		}
		if err := loadDemo(ctx, st, shelf); err != nil {
			return err
		}
		if err := people.LoadDemo(ctx, st, shelf); err != nil {
			return err
		}
		return classroom.LoadDemo(ctx, st, time.Now())
	})
}

// standInPath is where the demo's identity provider is.
const standInPath = "/stand-in"

// standIn adds a made-up school's identity provider to the demo, which is asked on loopback alone.
func (c *demoCommand) standIn(rules *people.Rules) error {
	issuer := "http://" + net.JoinHostPort("127.0.0.1", strconv.Itoa(c.Port)) + standInPath
	const name, client = "the Kelpwick harbour school", "grund"
	p, err := standin.New(standin.Options{Issuer: issuer, Name: words.UpperFirst(name), Client: client, People: []standin.Person{
		{Subject: "1", UserName: "maren.holt", Name: "Maren Holt"}, {Subject: "2", UserName: "edda.quill", Name: "Edda Quill"},
	}})
	c.besides = map[string]http.Handler{standInPath: p}
	rules.Provider = &people.Provider{Name: name, Issuer: issuer, ClientID: client, ClientSecret: "made up"}
	return err
}

func (c *migrateCommand) Run(out io.Writer) error {
	ctx, stop := interruptible()
	defer stop()
	return c.with(ctx, func(ctx context.Context, url string) error {
		if err := store.Migrate(ctx, url); err != nil {
			return err
		}
		_, err := fmt.Fprintln(out, "The database is up to date.")
		return err
	})
}

func interruptible() (context.Context, context.CancelFunc) {
	return signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
}

// with runs f on the database's URL, starting and stopping a private PostgreSQL
// around it where none is given. Where that ends by itself, it is started again.
func (d *database) with(ctx context.Context, f func(ctx context.Context, url string) error) error {
	if d.DatabaseURL != "" {
		return f(ctx, d.DatabaseURL)
	}
	starting, cancel := context.WithTimeout(ctx, time.Minute)
	defer cancel()
	pg, err := localpg.Start(starting, localpg.Options{Dir: d.Dir})
	if err != nil {
		return err
	}
	defer pg.Stop()
	watching, stop := context.WithCancel(context.Background())
	defer stop()
	go pg.Watch(watching, func(says string, err error) {
		if err != nil {
			slog.Error(says, "error", err)
			return
		}
		slog.Warn(says)
	})
	return f(ctx, pg.URL)
}

// serve listens until it is interrupted. prepare, if not nil, runs on the store first.
func (c *serveCommand) serve(out io.Writer, rules *people.Rules, prepare func(context.Context, *store.Store) error) error {
	ctx, stop := interruptible()
	defer stop()
	// The port comes first: where it is taken, nothing else needs to start.
	listener, err := net.Listen("tcp", net.JoinHostPort(c.Host, strconv.Itoa(c.Port)))
	if errors.Is(err, syscall.EADDRINUSE) {
		return inputError{fmt.Errorf("port %d is in use: another Grund may be running; stop it, or choose another port with --port", c.Port)}
	}
	if err != nil {
		return inputError{fmt.Errorf("cannot listen on %s, port %d: %w", c.Host, c.Port, err)}
	}
	defer listener.Close()
	err = c.with(ctx, func(ctx context.Context, url string) error {
		st, err := store.Open(ctx, url, store.Options{Connections: c.Connections, Space: c.Space << 20})
		if err != nil {
			return err
		}
		defer st.Close()
		if prepare != nil {
			if err := prepare(ctx, st); err != nil {
				return err
			}
		}
		go purgeDaily(ctx, st)
		log := slog.New(slog.NewTextHandler(os.Stderr, nil))
		if os.Getenv("GOMEMLIMIT") == "" { // the heap is collected before it takes more than the large requests may
			debug.SetMemoryLimit(c.Memory<<20 + otherMemory)
		}
		handler, err := server.New(server.Config{
			Store: st, Dist: web.Dist(), Log: log, Hosts: c.AllowHost, People: rules, Memory: c.Memory << 20, Watch: ctx,
		})
		if err != nil {
			return err
		}
		all := http.NewServeMux()
		all.Handle("/", handler)
		for path, other := range c.besides {
			all.Handle(path+"/", http.StripPrefix(path, other))
		}
		s := &http.Server{
			Handler:           all,
			ReadHeaderTimeout: 10 * time.Second,
			ReadTimeout:       2 * time.Minute,
			IdleTimeout:       2 * time.Minute,
		}
		fmt.Fprintf(out, "Grund is ready at http://%s (stop it with Ctrl-C)\n", listener.Addr())
		finished := make(chan struct{})
		go func() {
			defer close(finished)
			<-ctx.Done()
			closing, cancel := context.WithTimeout(context.Background(), 10*time.Second)
			defer cancel()
			_ = s.Shutdown(closing)
		}()
		if err := s.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			return err
		}
		<-finished // the requests in hand still need the database
		return nil
	})
	if ctx.Err() != nil && (err == nil || errors.Is(err, context.Canceled)) {
		fmt.Fprintln(out, "Grund has stopped.")
		return nil
	}
	return err
}

// otherMemory is what the server takes, in bytes, beside what large requests take: data sets that were read
// lately and all that is small.
const otherMemory = 1 << 30

// purgeDaily removes from time to time what was deleted long ago. Many servers may do so at once.
func purgeDaily(ctx context.Context, st *store.Store) {
	for {
		if _, _, err := st.Purge(ctx); err != nil && ctx.Err() == nil {
			slog.Error("what was deleted is not purged yet", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(6 * time.Hour):
		}
	}
}

// loadDemo keeps each demo problem that the person never had before.
func loadDemo(ctx context.Context, st *store.Store, who access.Person) error {
	if err := loadDemoData(ctx, st, who); err != nil {
		return err
	}
	problems, err := demo.Problems()
	if err != nil {
		return err
	}
	for _, d := range problems {
		has, err := st.HasDemo(ctx, who, d.Name)
		if err != nil {
			return err
		}
		if has {
			continue
		}
		p, err := problem.Parse(d.File)
		if err != nil {
			return fmt.Errorf("demo problem %s: %w", d.Name, err)
		}
		draft, _, err := problem.DraftOf(p)
		if err != nil {
			return fmt.Errorf("demo problem %s: %w", d.Name, err)
		}
		set, err := st.DemoDataSet(ctx, who, demo.SetOf(d.Name))
		if err != nil {
			return fmt.Errorf("the data of demo problem %s: %w", d.Name, err)
		}
		kept, err := st.CreateProblem(ctx, who, draft, set, d.Name)
		if err != nil {
			return err
		}
		if err := loadDemoAttempt(ctx, st, who, d.Name, kept, p); err != nil {
			return fmt.Errorf("the attempt of demo problem %s: %w", d.Name, err)
		}
	}
	return nil
}

// loadDemoAttempt keeps the attempt with which a demo problem begins, judged as if it were made now.
func loadDemoAttempt(
	ctx context.Context, st *store.Store, who access.Person, name string, kept *store.Problem, p *problem.Problem,
) error {
	done, err := demo.Attempt(name)
	if err != nil || len(done) == 0 {
		return err
	}
	set, err := st.DataSet(ctx, who, kept.DataSet)
	if err != nil {
		return err
	}
	attempt, err := answer.NewAttempt(ctx, p)
	if err != nil {
		return err
	}
	var events []answer.Event
	for i, d := range done {
		event := answer.Event{Kind: d.Kind, Ask: d.Ask, Text: d.Text}
		sheet, err := attempt.After(ctx, append(events, event))
		if err != nil {
			return err
		}
		item := sheet.Item(d.Ask)
		if item == nil {
			return fmt.Errorf("%s is not asked after %d events", d.Ask, i)
		}
		if d.Kind == answer.Answered {
			event.Verdict, event.Slip = item.Verdict.Verdict, item.Verdict.Slip
		}
		events = append(events, event)
		_, err = st.AddEvent(ctx, who, kept.ID, store.Versions{Problem: kept.Version, Data: set.Version}, i, store.Event{
			Kind: event.Kind, Ask: event.Ask, Text: event.Text, Verdict: event.Verdict, Slip: event.Slip,
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// loadDemoData keeps the demo data sets that the person has never had.
func loadDemoData(ctx context.Context, st *store.Store, who access.Person) error {
	names, err := demo.DataSets()
	if err != nil {
		return err
	}
	for _, name := range names {
		switch _, err := st.DemoDataSet(ctx, who, name); {
		case err == nil:
			continue
		case !errors.Is(err, store.ErrNotFound):
			return err
		}
		set, err := demo.DataSet(name)
		if err != nil {
			return err
		}
		if _, err := st.CreateDataSet(ctx, who, set, name); err != nil {
			return err
		}
	}
	return nil
}
