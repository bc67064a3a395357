package localpg_test

import (
	"context"
	"os"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/localpg"
	"grund/internal/localpg/pgtest"
)

func dataDir(t *testing.T) string {
	t.Helper()
	dir, err := pgtest.Dir()
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	return dir
}

func start(t *testing.T, dir string) *localpg.Server {
	t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	s, err := localpg.Start(ctx, localpg.Options{Dir: dir})
	require.NoError(t, err)
	return s
}

// remember writes a name that recall must find again.
func remember(t *testing.T, s *localpg.Server, name string) {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), s.URL)
	require.NoError(t, err)
	defer conn.Close(context.Background())
	_, err = conn.Exec(context.Background(), "create table ferry as select '"+name+"' as name")
	require.NoError(t, err)
}

func recall(t *testing.T, s *localpg.Server) string {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), s.URL)
	require.NoError(t, err)
	defer conn.Close(context.Background())
	var name string
	require.NoError(t, conn.QueryRow(context.Background(), "select name from ferry").Scan(&name))
	return name
}

func TestDataOutliveTheServer(t *testing.T) {
	dir := dataDir(t)
	_, err := localpg.Running(dir)
	assert.Error(t, err)
	s := start(t, dir)
	remember(t, s, "Dunlin")
	url, err := localpg.Running(dir)
	require.NoError(t, err)
	assert.Equal(t, s.URL, url, "whoever has the machine finds it")
	s.Stop()
	_, err = localpg.Running(dir)
	assert.Error(t, err)
	assert.ErrorIs(t, syscall.Kill(s.Pid(), 0), syscall.ESRCH)

	s = start(t, dir)
	defer s.Stop()
	assert.Equal(t, "Dunlin", recall(t, s))
}

// After a kill -9 of our process its PostgreSQL lives on; after one of
// PostgreSQL's its lock stays behind. Either way the next start has the data.
func TestStartAfterKill(t *testing.T) {
	dir := dataDir(t)
	left := start(t, dir)
	remember(t, left, "Puffin")

	_, err := localpg.Start(context.Background(), localpg.Options{Dir: dir})
	var inUse *localpg.InUseError
	require.ErrorAs(t, err, &inUse, "a folder in use is left alone")
	left.Abandon()

	next := start(t, dir)
	assert.ErrorIs(t, syscall.Kill(left.Pid(), 0), syscall.ESRCH, "the server that was left behind is gone")
	assert.Equal(t, "Puffin", recall(t, next))

	require.NoError(t, syscall.Kill(next.Pid(), syscall.SIGKILL))
	next.Abandon()
	last := start(t, dir)
	defer last.Stop()
	assert.Equal(t, "Puffin", recall(t, last))
}

// A server that is killed comes back by itself under the same address with what was kept, again and
// again, until it is stopped.
func TestWatch(t *testing.T) {
	s := start(t, dataDir(t))
	remember(t, s, "Turnstone")
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	said := make(chan string, 100)
	watched := make(chan struct{})
	go func() {
		s.Watch(ctx, func(says string, err error) {
			if err == nil { // one that is killed as it starts is told of otherwise
				said <- says
			}
		})
		close(watched)
	}()
	for range 3 {
		killed := s.Pid()
		require.NoError(t, syscall.Kill(killed, syscall.SIGKILL))
		require.Eventually(t, func() bool {
			conn, err := pgx.Connect(ctx, s.URL)
			if err != nil {
				return false
			}
			return conn.Close(ctx) == nil
		}, 30*time.Second, 50*time.Millisecond)
		assert.NotEqual(t, killed, s.Pid())
		assert.Equal(t, "Turnstone", recall(t, s))
	}
	assert.Contains(t, <-said, "started again")
	cancel()
	<-watched
	s.Stop()
	assert.ErrorIs(t, syscall.Kill(s.Pid(), 0), syscall.ESRCH)
}
