package store

import (
	"context"
	"database/sql"
	"io/fs"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/localpg/pgtest"
	"grund/internal/problem"
)

// migrateTo makes tables as they were at a version.
func migrateTo(t *testing.T, url string, version int64) {
	t.Helper()
	db, err := sql.Open("pgx", url)
	require.NoError(t, err)
	defer db.Close()
	folder, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	provider, err := goose.NewProvider(goose.DialectPostgres, db, folder)
	require.NoError(t, err)
	_, err = provider.UpTo(context.Background(), version)
	require.NoError(t, err)
}

// databaseAt makes a database with tables as they were at a version and the person of the machine in it, and returns its
// address and what changes it.
func databaseAt(t *testing.T, version int64) (url string, exec func(query string, args ...any)) {
	t.Helper()
	ctx, url := context.Background(), pgtest.Database(t)
	migrateTo(t, url, version)
	conn, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	t.Cleanup(func() { conn.Close(ctx) })
	exec = func(query string, args ...any) {
		t.Helper()
		_, err := conn.Exec(ctx, query, args...)
		require.NoError(t, err)
	}
	exec("insert into person (id, name) values ($1, 'local')", access.Local.ID)
	return url, exec
}

// At version 1 each problem had a data set of its own, and a draft said whether its
// columns were cases, groups, or a summary.
func TestProblemsWithDataOfTheirOwnAreMigrated(t *testing.T) {
	ctx := context.Background()
	url, exec := databaseAt(t, 1)
	old := func(settings, variables, demo string, columns ...[]string) (id uuid.UUID) {
		t.Helper()
		id, set := uuid.New(), uuid.New()
		exec("insert into data_set (id, owner, variables, rows) values ($1, $2, $3, $4)", set, access.Local.ID, variables, len(columns[0]))
		for i, cells := range columns {
			exec("insert into data_block values ($1, $2, 0, $3)", set, i, cells)
		}
		exec("insert into problem (id, owner, data_set, settings, demo) values ($1, $2, $3, $4, nullif($5, ''))",
			id, access.Local.ID, set, settings,
			demo)
		return id
	}
	const shared = `"claim": {"is": "h0", "text": ""}, "procedure": "t-two-sample", "alpha": "0.05", "tail": "both", "options": {},
		"leave_out": [], "columns": []`
	cases := old(`{"title": "Berths", "entry": "cases", "roles": {"response": ["minutes"], "group": ["berth"]}, `+shared+`}`,
		`[{"name": "berth", "label": "", "unit": "", "kind": "category", "level_names": {"M": "Mole"}, "cells": []}, {"name": "minutes",
			"label": "", "unit": "min", "kind": "", "cells": []}]`,
		"two-berths", []string{"M", "Q"}, []string{"12,1", "13.4?"})
	groups := old(`{"title": "Piers", "entry": "columns", "response": {"label": "minutes", "unit": "min"}, "group": {"label": "pier"},
		"roles": {}, `+shared+`}`,
		`[{"name": "Mole", "label": "", "unit": "", "kind": "", "cells": []}, {"name": "Quarry", "label": "", "unit": "", "kind": "",
			"cells": []}]`,
		"", []string{"1", "2", "3"}, []string{"4", "5", ""})
	summary := old(`{"title": "Table 3", "entry": "summary", "response": {"label": "minutes"}, "roles": {}, `+shared+`}`,
		`[{"name": "label", "label": "", "unit": "", "kind": "", "cells": []}, {"name": "n", "label": "", "unit": "", "kind": "", "cells":
			[]}, {"name": "mean", "label": "", "unit": "", "kind": "", "cells": []}, {"name": "sd", "label": "", "unit": "", "kind": "",
			"cells": []}]`,
		"", []string{"Mole", "Quarry"}, []string{"18", "15"}, []string{"12.4", "13,6"}, []string{"1.5", ""})

	s, err := Open(ctx, url, Options{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	read := func(id uuid.UUID) (*problem.Draft, *DataSet) {
		t.Helper()
		p, err := s.Problem(ctx, access.Local, id)
		require.NoError(t, err)
		set, err := s.DataSet(ctx, access.Local, p.DataSet)
		require.NoError(t, err)
		return p.Draft, set
	}

	draft, kept := read(cases)
	assert.Equal(t, problem.EnterData, draft.Entry)
	assert.Equal(t, problem.Roles{"response": {"minutes"}, "group": {"berth"}}, draft.Roles)
	assert.Equal(t, []*data.Column{
		{Key: 1, Name: "berth", Kind: data.Category, LevelNames: map[string]string{"M": "Mole"}, Cells: []string{"M", "Q"}},
		{Key: 2, Name: "minutes", Unit: "min", Cells: []string{"12,1", "13.4?"}},
	}, kept.Set.Columns)
	assert.Equal(t, []any{data.FormCases, "two-berths", "two-berths"}, []any{kept.Set.Form, kept.Set.Name, kept.Demo})

	draft, kept = read(groups)
	assert.Equal(t, problem.EnterData, draft.Entry)
	assert.Equal(t, data.FormGroups, kept.Set.Form)
	assert.Equal(t, []any{data.Heading{Label: "minutes", Unit: "min"}, data.Heading{Label: "pier"}}, []any{kept.Set.Response, kept.Set.Group})
	assert.Equal(t, []string{"4", "5", ""}, kept.Set.Columns[1].Cells)

	draft, kept = read(summary)
	assert.Equal(t, problem.EnterSummary, draft.Entry)
	assert.Equal(t, []problem.DraftGroup{{Label: "Mole", N: "18", Mean: "12.4", SD: "1.5"}, {Label: "Quarry", N: "15", Mean: "13,6"}},
		draft.Summary)
	assert.Equal(t, "minutes", draft.Response.Label)
	assert.Zero(t, kept.Set.Rows())
	assert.Len(t, kept.Set.Columns, 2)
}

// At version 2 a claim said which hypothesis it was.
func TestClaimsAreMigrated(t *testing.T) {
	ctx := context.Background()
	url, exec := databaseAt(t, 2)
	set := uuid.New()
	exec("insert into data_set (id, owner, columns, rows) values ($1, $2, '[]', 0)", set, access.Local.ID)
	kept := map[uuid.UUID]problem.Statement{}
	for _, c := range []struct {
		is, tail string
		says     problem.Statement
	}{
		{"h0", "both", problem.Equal}, {"h0", "left", problem.AtLeast}, {"h0", "right", problem.AtMost},
		{"h1", "both", problem.Open}, {"h1", "left", problem.Smaller}, {"h1", "right", problem.Larger},
	} {
		id := uuid.New()
		exec("insert into problem (id, owner, data_set, settings) values ($1, $2, $3, $4)", id, access.Local.ID, set,
			`{"claim": {"text": "So it is.", "is": "`+c.is+`"}, "tail": "`+c.tail+`"}`)
		kept[id] = c.says
	}
	s, err := Open(ctx, url, Options{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	for id, says := range kept {
		p, err := s.Problem(ctx, access.Local, id)
		require.NoError(t, err)
		assert.Equal(t, problem.Claim{Text: "So it is.", Says: says}, p.Draft.Claim)
	}
}

// A block could once be kept at any place, and reading it asked for all rows before it.
func TestBlocksBeyondTheRowsCostNothing(t *testing.T) {
	ctx, url := context.Background(), pgtest.Database(t)
	migrateTo(t, url, 3)
	conn, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	defer conn.Close(ctx)
	id := uuid.New()
	for _, statement := range []struct {
		sql  string
		args []any
	}{
		{"insert into person (id, name) values ($1, 'local')", []any{access.Local.ID}},
		{`insert into data_set (id, owner, columns, rows) values ($1, $2, '[{"key": 1, "name": "y"}, {"key": 2, "name": "z"}]', 2000000000)`,
			[]any{id, access.Local.ID}},
		{"insert into data_block values ($1, 1, 0, $2)", []any{id, []string{"1", "2"}}},
		{"insert into data_block values ($1, 2, 2000000000, $2)", []any{id, []string{"3"}}},
		{"insert into data_block values ($1, 2, -1, $2)", []any{id, []string{"4"}}},
		{"insert into data_block values ($1, 2, 0, $2)", []any{id, make([]string, BlockRows+1)}},
		{"insert into data_block values ($1, 2, 1, $2)", []any{id, []string{"5"}}},
	} {
		_, err := conn.Exec(ctx, statement.sql, statement.args...)
		require.NoError(t, err)
	}
	s, err := Open(ctx, url, Options{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	d, err := s.DataSet(ctx, access.Local, id)
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "2"}, d.Set.Columns[0].Cells)
	assert.Equal(t, append(make([]string, BlockRows), "5"), d.Set.Columns[1].Cells)

	_, err = s.pool.Exec(ctx, "insert into data_block values ($1, 1, 2000000000, $2)", id, []string{"1"})
	assert.ErrorContains(t, err, "data_block_place")
	_, err = s.pool.Exec(ctx, "update data_set set rows = 2000000000")
	assert.ErrorContains(t, err, "data_set_rows")
	// Should one be kept all the same, it is not read.
	_, err = s.pool.Exec(ctx, "update data_set set rows = 5000")
	require.NoError(t, err)
	_, err = s.pool.Exec(ctx, "insert into data_block values ($1, 1, 1220, $2)", id, []string{"1"})
	require.NoError(t, err)
	d, err = s.DataSet(ctx, access.Local, id)
	require.NoError(t, err)
	assert.Len(t, d.Set.Columns[0].Cells, 2)
}

// At version 7 nobody signed in: what the person of the machine made, all of it, is there for the first guest who comes.
func TestTheMachinesWorkIsMigrated(t *testing.T) {
	ctx := context.Background()
	url, exec := databaseAt(t, 7)
	const many = 40
	for i := range many {
		set, problem, attempt := uuid.New(), uuid.New(), uuid.New()
		exec(`insert into data_set (id, owner, name, columns, rows) values ($1, $2, 'set', '[{"key":1,"name":"minutes"}]', 2)`,
			set, access.Local.ID)
		exec("insert into data_block (data_set, variable, block, cells) values ($1, 1, 0, '{1,2}')", set)
		exec(`insert into problem (id, owner, data_set, settings) values ($1, $2, $3, '{"title":"T","question":"","procedure":""}')`,
			problem, access.Local.ID, set)
		exec("insert into attempt (id, person, problem, problem_version, data_version) values ($1, $2, $3, 1, 1)",
			attempt, access.Local.ID, problem)
		exec(`insert into attempt_event (attempt, seq, kind, ask, text, verdict, slip) values ($1, 1, 'answer', 't', '2', 'right', '')`, attempt)
		if i%2 == 0 {
			exec("insert into report (id, owner, problem, title, parts) values ($1, $2, $3, 'R', '[]')", uuid.New(), access.Local.ID, problem)
		}
	}
	s, err := Open(ctx, url, Options{})
	require.NoError(t, err)
	defer s.Close()
	unclaimed, err := s.Unclaimed(ctx)
	require.NoError(t, err)
	assert.True(t, unclaimed)
	a, err := s.Account(ctx, access.Local, access.Local.ID)
	require.NoError(t, err)
	assert.Equal(t, access.Guest, a.Role)
	require.NoError(t, s.KeepAccount(ctx, a.Person, "maren", "Maren Holt", "hash"))
	a, _, err = s.ByUserName(ctx, "maren")
	require.NoError(t, err)
	problems, _, err := s.Problems(ctx, a.Person, 0)
	require.NoError(t, err)
	assert.Len(t, problems, many)
	for _, p := range problems {
		d, err := s.DataSet(ctx, a.Person, p.DataSet)
		require.NoError(t, err)
		assert.Equal(t, []string{"1", "2"}, d.Set.Columns[0].Cells)
		attempt, err := s.Attempt(ctx, a.Person, p.ID, Versions{1, 1})
		require.NoError(t, err)
		require.NotNil(t, attempt)
		assert.Len(t, attempt.Events, 1)
	}
	reports, _, err := s.Reports(ctx, a.Person, 0)
	require.NoError(t, err)
	assert.Len(t, reports, many/2)
}
