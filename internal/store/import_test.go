package store

import (
	"context"
	"errors"
	"iter"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/problem"
)

// coming gives problems by title, each with a data set of so many rows, and an error at the end where there is one.
func coming(err error, rows int, titles ...string) iter.Seq2[Imported, error] {
	return func(yield func(Imported, error) bool) {
		for _, title := range titles {
			d := draft()
			d.Title = title
			if !yield(Imported{d, set(rows)}, nil) {
				return
			}
		}
		if err != nil {
			yield(Imported{}, err)
		}
	}
}

func TestProblemsAreImported(t *testing.T) {
	ctx, s := context.Background(), open(t)
	count := func() (problems, sets int) {
		t.Helper()
		require.NoError(t, s.pool.QueryRow(ctx, "select (select count(*) from problem), (select count(*) from data_set)").Scan(&problems, &sets))
		return problems, sets
	}
	kept, err := s.Import(ctx, access.Local, coming(nil, 3, "A", "B"))
	require.NoError(t, err)
	require.Len(t, kept, 2)
	for i, title := range []string{"A", "B"} {
		got, err := s.Problem(ctx, access.Local, kept[i].ID)
		require.NoError(t, err)
		assert.Equal(t, title, got.Draft.Title)
		d, err := s.DataSet(ctx, access.Local, got.DataSet)
		require.NoError(t, err)
		assert.Equal(t, set(3), d.Set)
	}
	assert.NotEqual(t, kept[0].DataSet, kept[1].DataSet, "each has data of its own")

	// An error among them leaves nothing of the others, and is told as it is.
	mistakes := problem.Errors{{Pointer: "/2/title", Says: "it is wrong"}}
	_, err = s.Import(ctx, access.Local, coming(mistakes, 3, "C", "D"))
	assert.Equal(t, mistakes, err)
	broken := errors.New("broken")
	_, err = s.Import(ctx, access.Local, coming(broken, 3, "C"))
	assert.ErrorIs(t, err, broken)
	problems, sets := count()
	assert.Equal(t, []int{2, 2}, []int{problems, sets})

	// Nor does a person who is not there keep any.
	_, err = s.Import(ctx, access.Person{ID: uuid.New()}, coming(nil, 3, "E"))
	assert.Error(t, err)
	problems, sets = count()
	assert.Equal(t, []int{2, 2}, []int{problems, sets})

	none, err := s.Import(ctx, access.Local, coming(nil, 3))
	require.NoError(t, err)
	assert.Empty(t, none)
}

// Where there is no room for all of them, none is kept.
func TestImportBeyondTheSpace(t *testing.T) {
	ctx, s := context.Background(), open(t)
	_, err := s.Import(ctx, access.Local, coming(nil, 2000, "A"))
	require.NoError(t, err)
	space, err := s.Space(ctx, access.Local)
	require.NoError(t, err)
	s.space = space.Used + space.Used/2 // room for half of another
	_, err = s.Import(ctx, access.Local, coming(nil, 300, "B", "C", "D", "E", "F", "G"))
	var full *FullError
	assert.ErrorAs(t, err, &full)
	after, err := s.Space(ctx, access.Local)
	require.NoError(t, err)
	assert.Equal(t, space.Used, after.Used)
}
