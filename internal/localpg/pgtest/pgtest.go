// Package pgtest gives tests a PostgreSQL of their own.
package pgtest

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"grund/internal/localpg"
)

var (
	server *localpg.Server
	count  atomic.Int64
)

// Main starts a server, runs the tests, stops the server and exits. It is the
// body of a package's TestMain.
func Main(m *testing.M) {
	stop, err := Start()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	status := m.Run()
	stop()
	os.Exit(status)
}

// Start starts the server that Database makes databases in, for a TestMain that
// has more to do. stop ends it and removes its data.
func Start() (stop func(), err error) {
	dir, err := Dir()
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	server, err = localpg.Start(ctx, localpg.Options{Dir: dir, Scratch: true})
	if err != nil {
		os.RemoveAll(dir)
		return nil, err
	}
	return func() {
		server.Stop()
		os.RemoveAll(dir)
	}, nil
}

// Dir makes an empty folder that the server's user can enter.
func Dir() (string, error) {
	dir, err := os.MkdirTemp("", "grund-test-")
	if err != nil {
		return "", err
	}
	return dir, os.Chmod(dir, 0o755)
}

// Database makes an empty database and returns its URL.
func Database(tb testing.TB) string {
	tb.Helper()
	created, err := NewDatabase(tb.Context())
	if err != nil {
		tb.Fatal(err)
	}
	return created
}

// NewDatabase makes an empty database for all tests and returns its URL.
func NewDatabase(ctx context.Context) (string, error) { return create(ctx, "") }

// Copy makes a database like the one of a URL, which nobody may use meanwhile, and returns its
// URL.
func Copy(tb testing.TB, of string) string {
	tb.Helper()
	u, err := url.Parse(of)
	if err != nil {
		tb.Fatal(err)
	}
	created, err := create(tb.Context(), " template "+strings.TrimPrefix(u.Path, "/"))
	if err != nil {
		tb.Fatal(err)
	}
	return created
}

func create(ctx context.Context, like string) (string, error) {
	conn, err := pgx.Connect(ctx, server.URL)
	if err != nil {
		return "", err
	}
	defer conn.Close(ctx)
	name := fmt.Sprintf("test_%d", count.Add(1))
	if _, err := conn.Exec(ctx, "create database "+name+like); err != nil {
		return "", fmt.Errorf("making a database: %w", err)
	}
	u, err := url.Parse(server.URL)
	if err != nil {
		return "", err
	}
	u.Path = "/" + name
	return u.String(), nil
}
