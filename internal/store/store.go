// Package store keeps people's problems and data sets in PostgreSQL.
//
// Every row has an owner and every method takes the acting person. Every write of
// a problem or data set names the version that it was based on, and a stale one is refused
// with a *StaleError, so that nobody's work is overwritten unseen.
package store

import (
	"cmp"
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	_ "github.com/jackc/pgx/v5/stdlib" // goose migrates through database/sql
	"github.com/pressly/goose/v3"

	"grund/internal/access"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound is returned for what does not exist or belongs to somebody else.
var ErrNotFound = errors.New("not found")

// StaleError refuses a write that was based on an older version.
type StaleError struct {
	What      string // “problem” or “data set”
	Current   int64
	UpdatedAt time.Time
}

func (e *StaleError) Error() string {
	return fmt.Sprintf("the %s was changed elsewhere at %s and is now version %d", e.What, e.UpdatedAt.Format(time.TimeOnly), e.Current)
}

// A Store is a pool of connections to a database that has the current tables.
type Store struct {
	pool  *pgxpool.Pool
	space int64 // bytes that a person's data sets may take
}

// Options of a store; what is 0 is the default.
type Options struct {
	Connections int   // that are used at most
	Space       int64 // bytes that a person's data sets may take
}

const (
	// DefaultConnections is how many connections a store uses at most, where nothing else is set.
	DefaultConnections = 12
	// patience is how long a request waits for a connection.
	patience = 4 * time.Second
	// pingAfter is after how long without a use a connection is tried before it is used.
	pingAfter = 50 * time.Millisecond
)

// Open connects, brings the tables up to date and returns the store. Close ends the connections.
func Open(ctx context.Context, url string, options Options) (*Store, error) {
	if err := Migrate(ctx, url); err != nil {
		return nil, err
	}
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("reading the address of PostgreSQL: %w", err)
	}
	config.MaxConns = int32(cmp.Or(options.Connections, DefaultConnections))
	config.ConnConfig.ConnectTimeout = patience
	// A connection whose server was restarted is found out before it is used.
	config.ShouldPing = func(_ context.Context, c pgxpool.ShouldPingParams) bool { return c.IdleDuration > pingAfter }
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, fmt.Errorf("connecting to PostgreSQL: %w", err)
	}
	s := &Store{pool, cmp.Or(options.Space, DefaultSpace)}
	_, err = pool.Exec(ctx, "insert into person (id, name) values ($1, 'local') on conflict do nothing", access.Local.ID)
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("adding the local person: %w", err)
	}
	return s, nil
}

// Migrate brings the tables up to date. Several servers may do so at once.
func Migrate(ctx context.Context, url string) error {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return fmt.Errorf("connecting to PostgreSQL: %w", err)
	}
	defer db.Close()
	folder, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	conn, err := db.Conn(ctx)
	if err != nil {
		return fmt.Errorf("the database does not answer; check its address and that it runs: %w", err)
	}
	defer conn.Close()
	const lock = 8420 // the same number for every server
	if _, err := conn.ExecContext(ctx, "select pg_advisory_lock($1)", lock); err != nil {
		return fmt.Errorf("waiting for another server's migration: %w", err)
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), "select pg_advisory_unlock($1)", lock)
	provider, err := goose.NewProvider(goose.DialectPostgres, db, folder)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrating the database: %w", err)
	}
	return nil
}

// Close ends the connections.
func (s *Store) Close() { s.pool.Close() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.pool.Ping(ctx) }

// ErrUnavailable says that no connection could be had, or that it broke: the database is not there, or
// everybody asks it at once. What was not answered may be asked again.
var ErrUnavailable = errors.New("the database does not answer")

// with calls f with a connection, for which it waits a little. What a query fails with comes with its rows too (pgx.Rows.Err), so where
// they are collected at once that is where it is looked for.
func (s *Store) with(ctx context.Context, f func(*pgxpool.Conn) error) error {
	waiting, cancel := context.WithTimeout(ctx, patience)
	conn, err := s.pool.Acquire(waiting)
	cancel()
	if err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return fmt.Errorf("%w: %w", ErrUnavailable, err)
	}
	defer conn.Release()
	if err = f(conn); err != nil && ctx.Err() == nil && conn.Conn().IsClosed() {
		return fmt.Errorf("%w: %w", ErrUnavailable, err)
	}
	return err
}

// inTx runs f in a transaction that is rolled back if f fails.
func (s *Store) inTx(ctx context.Context, f func(pgx.Tx) error) error {
	return s.with(ctx, func(conn *pgxpool.Conn) error { return pgx.BeginFunc(ctx, conn, f) })
}
