package store

import (
	"context"
	"fmt"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/localpg/pgtest"
	"grund/internal/problem"
)

func TestMain(m *testing.M) { pgtest.Main(m) }

func open(t *testing.T) *Store {
	t.Helper()
	s, err := Open(context.Background(), pgtest.Database(t))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

func draft(rows int) *problem.Draft {
	d := problem.NewDraft()
	d.Title, d.Alpha = "Two berths", "0.0x"
	d.PutBy = map[problem.Entry][]problem.DraftColumn{problem.EnterSummary: {{Name: "n", Cells: []string{"18"}}}}
	d.Columns = []problem.DraftColumn{{Name: "berth", LevelNames: map[string]string{"1": "Mole"}}, {Name: "minutes", Unit: "min"}}
	for i := range rows {
		d.Columns[0].Cells = append(d.Columns[0].Cells, fmt.Sprint(1+i%2))
		d.Columns[1].Cells = append(d.Columns[1].Cells, fmt.Sprintf(" %d,5o", i))
	}
	return d
}

func TestADraftIsKeptAsItWasTyped(t *testing.T) {
	ctx, s := context.Background(), open(t)
	for _, rows := range []int{0, 3, blockRows, 2*blockRows + 5} {
		d := draft(rows)
		kept, err := s.CreateProblem(ctx, Local, d, "")
		require.NoError(t, err)
		got, err := s.Problem(ctx, Local, kept.ID)
		require.NoError(t, err)
		assert.Equal(t, d.Columns[1].Cells, append([]string(nil), got.Draft.Columns[1].Cells...), rows)
		got.Draft.Columns, d.Columns = nil, nil
		assert.Equal(t, d, got.Draft)
	}
}

func TestVersions(t *testing.T) {
	ctx, s := context.Background(), open(t)
	p, err := s.CreateProblem(ctx, Local, draft(3), "")
	require.NoError(t, err)
	changed := draft(5)
	next, err := s.UpdateProblem(ctx, Local, p.ID, p.Version, changed)
	require.NoError(t, err)
	assert.Equal(t, p.Version+1, next)

	_, err = s.UpdateProblem(ctx, Local, p.ID, p.Version, draft(1))
	var stale *StaleError
	require.ErrorAs(t, err, &stale)
	assert.Equal(t, next, stale.Current)
	got, err := s.Problem(ctx, Local, p.ID)
	require.NoError(t, err)
	assert.Len(t, got.Draft.Columns[0].Cells, 5, "the stale write changed nothing")

	settings := *got.Draft
	settings.Alpha, settings.Columns = "0.1", nil
	_, err = s.UpdateSettings(ctx, Local, p.ID, next, &settings)
	require.NoError(t, err)
	got, err = s.Problem(ctx, Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, "0.1", got.Draft.Alpha)
	assert.Len(t, got.Draft.Columns[0].Cells, 5, "the cells were left alone")
}

func TestOnlyChangedBlocksAreWritten(t *testing.T) {
	ctx, s := context.Background(), open(t)
	d := draft(3 * blockRows)
	p, err := s.CreateProblem(ctx, Local, d, "")
	require.NoError(t, err)
	written := func() map[string]string {
		rows, err := s.pool.Query(ctx, "select variable || '/' || block, xmin::text from data_block")
		require.NoError(t, err)
		out := map[string]string{}
		var place, by string
		_, err = pgx.ForEachRow(rows, []any{&place, &by}, func() error { out[place] = by; return nil })
		require.NoError(t, err)
		return out
	}
	before := written()
	d.Columns[1].Cells[blockRows+7] = "12.5"
	_, err = s.UpdateProblem(ctx, Local, p.ID, 1, d)
	require.NoError(t, err)
	after := written()
	require.Len(t, after, 6)
	for place, by := range after {
		assert.Equal(t, place == "1/1", by != before[place], place)
	}
}

func TestDeleteAndRestore(t *testing.T) {
	ctx, s := context.Background(), open(t)
	p, err := s.CreateProblem(ctx, Local, draft(3), "two-berths")
	require.NoError(t, err)
	require.NoError(t, s.DeleteProblem(ctx, Local, p.ID))
	list, err := s.Problems(ctx, Local)
	require.NoError(t, err)
	assert.Empty(t, list)
	_, err = s.Problem(ctx, Local, p.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.UpdateProblem(ctx, Local, p.ID, 1, draft(1))
	assert.ErrorIs(t, err, ErrNotFound)
	has, err := s.HasDemo(ctx, Local, "two-berths")
	require.NoError(t, err)
	assert.True(t, has, "a deleted demo problem does not come back at the next start")

	require.NoError(t, s.RestoreProblem(ctx, Local, p.ID))
	assert.ErrorIs(t, s.RestoreProblem(ctx, Local, p.ID), ErrNotFound)
	list, err = s.Problems(ctx, Local)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "Two berths", list[0].Title)
}

func TestAnotherPersonSeesNothing(t *testing.T) {
	ctx, s := context.Background(), open(t)
	p, err := s.CreateProblem(ctx, Local, draft(3), "")
	require.NoError(t, err)
	other := Person{uuid.New()}
	_, err = s.Problem(ctx, other, p.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.UpdateProblem(ctx, other, p.ID, 1, draft(1))
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.DeleteProblem(ctx, other, p.ID), ErrNotFound)
	list, err := s.Problems(ctx, other)
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestOpenTwiceOnOneDatabase(t *testing.T) {
	url := pgtest.Database(t)
	done := make(chan error, 4)
	for range 4 {
		go func() {
			s, err := Open(context.Background(), url)
			if err == nil {
				s.Close()
			}
			done <- err
		}()
	}
	for range 4 {
		require.NoError(t, <-done)
	}
}

// Of many writes that were based on one version exactly one is taken.
func TestOneOfManyWritesIsTaken(t *testing.T) {
	ctx, s := context.Background(), open(t)
	p, err := s.CreateProblem(ctx, Local, draft(3), "")
	require.NoError(t, err)
	const writers = 12
	errs := make(chan error, writers)
	for i := range writers {
		go func() {
			d := draft(4)
			d.Title = fmt.Sprintf("by writer %d", i)
			_, err := s.UpdateProblem(ctx, Local, p.ID, p.Version, d)
			errs <- err
		}()
	}
	taken := 0
	for range writers {
		err := <-errs
		if err == nil {
			taken++
			continue
		}
		var stale *StaleError
		assert.ErrorAs(t, err, &stale)
		assert.Equal(t, p.Version+1, stale.Current)
	}
	assert.Equal(t, 1, taken)
	got, err := s.Problem(ctx, Local, p.ID)
	require.NoError(t, err)
	assert.Equal(t, p.Version+1, got.Version)
}
