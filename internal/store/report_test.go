package store

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/labreport"
	"grund/internal/problem"
)

func kept(id, problem string) labreport.Part {
	return labreport.Part{ID: id, Problem: problem, At: "number/" + id, Was: "1"}
}

func TestReports(t *testing.T) {
	ctx, s := context.Background(), open(t)
	want := labreport.Report{Title: "A week", Parts: []labreport.Part{kept("t", "a"), {ID: "own", Text: "So much for that."}}}
	made, err := s.CreateReport(ctx, access.Local, want)
	require.NoError(t, err)
	got, err := s.Report(ctx, access.Local, made.ID)
	require.NoError(t, err)
	assert.Equal(t, want, got.Report)
	assert.Equal(t, uuid.Nil, got.Of)

	want.Title = "Two weeks"
	next, err := s.UpdateReport(ctx, access.Local, made.ID, 1, want)
	require.NoError(t, err)
	assert.Equal(t, int64(2), next.Version)
	var stale *StaleError
	_, err = s.UpdateReport(ctx, access.Local, made.ID, 1, want)
	require.ErrorAs(t, err, &stale)
	assert.Equal(t, int64(2), stale.Current)
	want.Title = strings.Repeat("x", 501)
	var mistakes problem.Errors
	_, err = s.UpdateReport(ctx, access.Local, made.ID, 2, want)
	assert.ErrorAs(t, err, &mistakes)

	list, more, err := s.Reports(ctx, access.Local, 0)
	require.NoError(t, err)
	assert.False(t, more)
	require.Len(t, list, 1)
	assert.Equal(t, "Two weeks", list[0].Title)
	assert.Equal(t, 2, list[0].Parts)

	require.NoError(t, s.DeleteReport(ctx, access.Local, made.ID, 2))
	_, err = s.Report(ctx, access.Local, made.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	require.NoError(t, s.RestoreReport(ctx, access.Local, made.ID, 0))
	other := access.Person{ID: uuid.New()}
	for _, err := range []error{
		s.DeleteReport(ctx, other, made.ID, 0), s.RestoreReport(ctx, other, made.ID, 0),
		func() error { _, err := s.Report(ctx, other, made.ID); return err }(),
		func() error { _, err := s.UpdateReport(ctx, other, made.ID, 2, labreport.Report{}); return err }(),
	} {
		assert.ErrorIs(t, err, ErrNotFound)
	}
	_, err = s.pool.Exec(ctx, "update report set deleted_at = now() - interval '31 days'")
	require.NoError(t, err)
	_, _, err = s.Purge(ctx)
	require.NoError(t, err)
	assert.ErrorIs(t, s.RestoreReport(ctx, access.Local, made.ID, 0), ErrNotFound)
}

// The report of a problem begins with the first that is kept of it; many at once keep all.
func TestTheReportOfAProblem(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, p := keep(t, s)
	none, err := s.ReportFor(ctx, access.Local, p.ID, uuid.Nil)
	require.NoError(t, err)
	assert.Nil(t, none)
	var wait sync.WaitGroup
	for i := range 12 {
		wait.Go(func() {
			_, err := s.ChangeReportOf(ctx, access.Local, p.ID, uuid.Nil, "Two berths", func(r *labreport.Report) {
				r.Keep(kept(fmt.Sprint(i), p.ID.String()))
			})
			assert.NoError(t, err)
		})
	}
	wait.Wait()
	first, err := s.ReportFor(ctx, access.Local, p.ID, uuid.Nil)
	require.NoError(t, err)
	assert.Equal(t, "Two berths", first.Title)
	assert.Equal(t, p.ID, first.Of)
	assert.Len(t, first.Parts, 12)
	assert.Equal(t, int64(12), first.Version)

	several, err := s.CreateReport(ctx, access.Local, labreport.Report{Title: "Both"})
	require.NoError(t, err)
	changed, err := s.ChangeReportOf(ctx, access.Local, p.ID, several.ID, "", func(r *labreport.Report) { r.Keep(kept("t", p.ID.String())) })
	require.NoError(t, err)
	assert.Equal(t, "Both", changed.Title)
	nothing := func(*labreport.Report) {}
	_, err = s.ChangeReportOf(ctx, access.Local, p.ID, uuid.New(), "", nothing)
	assert.ErrorIs(t, err, ErrNotFound, "no such report")
	_, err = s.ChangeReportOf(ctx, access.Local, uuid.New(), uuid.Nil, "", nothing)
	assert.ErrorIs(t, err, ErrNotFound, "no such problem")
	_, err = s.ChangeReportOf(ctx, access.Person{ID: uuid.New()}, p.ID, uuid.Nil, "", nothing)
	assert.ErrorIs(t, err, ErrNotFound, "nobody else's")

	// One that was deleted comes back beside the one that was begun since.
	require.NoError(t, s.DeleteReport(ctx, access.Local, first.ID, 0))
	again := func(r *labreport.Report) { r.Keep(kept("t", p.ID.String())) }
	second, err := s.ChangeReportOf(ctx, access.Local, p.ID, uuid.Nil, "Two berths", again)
	require.NoError(t, err)
	assert.NotEqual(t, first.ID, second.ID)
	require.NoError(t, s.RestoreReport(ctx, access.Local, first.ID, 0))
	back, err := s.Report(ctx, access.Local, first.ID)
	require.NoError(t, err)
	assert.Len(t, back.Parts, 12)
	assert.Equal(t, uuid.Nil, back.Of)
	now, err := s.ReportFor(ctx, access.Local, p.ID, uuid.Nil)
	require.NoError(t, err)
	assert.Equal(t, second.ID, now.ID)

	// It outlives its problem.
	_, err = s.pool.Exec(ctx, "delete from problem where id = $1", p.ID)
	require.NoError(t, err)
	_, err = s.Report(ctx, access.Local, second.ID)
	assert.NoError(t, err)
}
