package store

import (
	"context"
	"math/rand/v2"
	"strconv"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/localpg/pgtest"
)

// What was deleted can be restored for 30 days; then it is gone, with its cells. Several servers may
// purge at once.
func TestPurge(t *testing.T) {
	ctx, s := context.Background(), open(t)
	exec := func(sql string, args ...any) {
		t.Helper()
		_, err := s.pool.Exec(ctx, sql, args...)
		require.NoError(t, err)
	}
	made := func(name, demo string) *DataSet {
		t.Helper()
		one := set(3)
		one.Name = name
		d, err := s.CreateDataSet(ctx, access.Local, one, demo)
		require.NoError(t, err)
		return d
	}
	about := func(d *DataSet, demo string) *Problem {
		t.Helper()
		p, err := s.CreateProblem(ctx, access.Local, draft(), d.ID, demo)
		require.NoError(t, err)
		return p
	}
	const long, short = "now() - interval '31 days'", "now() - interval '29 days'"
	fresh, old, used, unnamed, demo := made("fresh", ""), made("old", ""), made("used", ""), made("", ""), made("demo", "demo")
	kept, gone := about(used, ""), about(unnamed, "")
	demoProblem := about(demo, "demo")
	exec("update data_set set deleted_at = "+short+" where id = $1", fresh.ID)
	exec("update data_set set deleted_at = "+long+" where id = any($1)", []uuid.UUID{old.ID, used.ID, demo.ID})
	exec("update data_set set updated_at = "+long+" where id = $1", unnamed.ID)
	exec("update problem set deleted_at = "+long+" where id = any($1)", []uuid.UUID{gone.ID, demoProblem.ID})

	var wait sync.WaitGroup
	var problems, sets atomic.Int64
	for range 5 {
		wait.Go(func() {
			p, d, err := s.Purge(ctx)
			assert.NoError(t, err)
			problems.Add(p)
			sets.Add(d)
		})
	}
	wait.Wait()
	assert.Equal(t, []int64{1, 2}, []int64{problems.Load(), sets.Load()})
	require.NoError(t, s.RestoreDataSet(ctx, access.Local, fresh.ID, 0))
	for _, id := range []uuid.UUID{old.ID, unnamed.ID} {
		assert.ErrorIs(t, s.RestoreDataSet(ctx, access.Local, id, 0), ErrNotFound)
	}
	assert.ErrorIs(t, s.RestoreProblem(ctx, access.Local, gone.ID, 0), ErrNotFound)
	_, err := s.DataSet(ctx, access.Local, used.ID)
	assert.NoError(t, err, "a problem uses it")
	_, err = s.Problem(ctx, access.Local, kept.ID)
	assert.NoError(t, err)
	has, err := s.HasDemo(ctx, access.Local, "demo")
	require.NoError(t, err)
	assert.True(t, has, "a demo problem that was deleted is not loaded again")
	var cells int
	require.NoError(t, s.pool.QueryRow(ctx, "select count(*) from data_block where data_set = any($1)", []uuid.UUID{old.ID, unnamed.ID}).
		Scan(&cells))
	assert.Zero(t, cells)
}

func TestSpaceIsLimited(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, pgtest.Database(t), Options{Space: 100_000})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	large := func() *data.Set { // numbers that no packing makes smaller than half
		one := set(0)
		rng := rand.New(rand.NewPCG(1, 1))
		for range BlockRows {
			one.Columns[0].Cells = append(one.Columns[0].Cells, strconv.FormatUint(rng.Uint64(), 36))
		}
		return one
	}
	d, err := s.CreateDataSet(ctx, access.Local, large(), "")
	require.NoError(t, err)
	space, err := s.Space(ctx, access.Local)
	require.NoError(t, err)
	assert.Equal(t, int64(100_000), space.Limit)
	assert.Greater(t, space.Used, int64(30_000))

	var full *FullError
	_, err = s.CreateDataSet(ctx, access.Local, large(), "")
	require.ErrorAs(t, err, &full)
	_, err = s.CopyDataSet(ctx, access.Local, d.ID, "twin")
	require.ErrorAs(t, err, &full)
	cells := large().Columns[0].Cells
	blocks := []Block{{1, 0, cells}, {2, 0, cells}}
	_, err = s.UpdateDataSet(ctx, access.Local, d.ID, d.Version, DataChange{Set: set(0), Rows: BlockRows, Blocks: blocks})
	require.ErrorAs(t, err, &full)
	written, err := s.UpdateDataSet(ctx, access.Local, d.ID, d.Version, DataChange{Set: set(0), Rows: 1, Blocks: []Block{{1, 0, []string{"1"}},
		{2, 0, []string{"2"}}}})
	require.NoError(t, err, "what takes less can be kept")
	space, err = s.Space(ctx, access.Local)
	require.NoError(t, err)
	assert.Less(t, space.Used, int64(1000))
	_, err = s.DataSet(ctx, access.Local, d.ID)
	require.NoError(t, err)
	assert.Equal(t, int64(2), written.Version)
}

// Who finds no connection is told so in seconds.
func TestNoConnectionInSeconds(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, pgtest.Database(t), Options{Connections: 1})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	require.NoError(t, s.View(ctx, access.Local, func(*View) error {
		began := time.Now()
		_, _, err := s.Problems(ctx, access.Local, 0)
		assert.ErrorIs(t, err, ErrUnavailable)
		assert.Less(t, time.Since(began), 2*patience)
		return nil
	}))
	_, _, err = s.Problems(ctx, access.Local, 0)
	assert.NoError(t, err)
}
