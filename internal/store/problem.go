package store

import (
	"context"
	"errors"
	"fmt"
	"iter"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/problem"
)

// A Problem as it is kept: a draft with its version.
type Problem struct {
	ID        uuid.UUID
	Version   int64
	Demo      string // the name of the demo problem, "" for a person's own
	UpdatedAt time.Time
	Draft     *problem.Draft
	DataSet   uuid.UUID // that the draft is about
}

// CreateProblem keeps a new problem about a data set of the same person. demo is
// "" for a person's own.
func (s *Store) CreateProblem(
	ctx context.Context, who access.Person, draft *problem.Draft, dataSet uuid.UUID, demo string,
) (*Problem, error) {
	p := &Problem{ID: uuid.New(), Version: 1, Demo: demo, Draft: draft, DataSet: dataSet}
	err := s.with(ctx, func(conn *pgxpool.Conn) error { return insertProblem(ctx, conn, who, p) })
	return p, changeError("problem", err)
}

// insertProblem inserts a problem about a data set of the same person.
func insertProblem(ctx context.Context, q querier, who access.Person, p *Problem) error {
	settings, err := encodeSettings(p.Draft)
	if err != nil {
		return err
	}
	return q.QueryRow(ctx, `
		insert into problem (id, owner, data_set, settings, demo)
		select $1, $2, id, $4, nullif($5, '') from data_set where id = $3 and owner = $2 and `+present+` returning updated_at`,
		p.ID, who.ID, p.DataSet, settings, p.Demo).Scan(&p.UpdatedAt)
}

// Imported is a problem that is brought in, with a data set of its own.
type Imported struct {
	Draft *problem.Draft
	Set   *data.Set
}

// Import keeps the problems that come, all of them or none: an error among them ends it.
func (s *Store) Import(ctx context.Context, who access.Person, coming iter.Seq2[Imported, error]) (kept []*Problem, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		for each, err := range coming {
			if err != nil {
				return err
			}
			if err := problem.CheckSet(each.Set, ""); err != nil {
				return err
			}
			d, err := s.createDataSet(ctx, tx, who, each.Set, "")
			if err != nil {
				return err
			}
			p := &Problem{ID: uuid.New(), Version: 1, Draft: each.Draft, DataSet: d.ID}
			if err := insertProblem(ctx, tx, who, p); err != nil {
				return err
			}
			kept = append(kept, p)
		}
		return nil
	})
	return kept, changeError("problem", err)
}

// Problem is View.Problem by itself.
func (s *Store) Problem(ctx context.Context, who access.Person, id uuid.UUID) (p *Problem, err error) {
	err = s.View(ctx, who, func(v *View) error {
		p, err = v.Problem(ctx, id)
		return err
	})
	return p, err
}

// Written is what a write made of something: its version and the time.
type Written struct {
	Version   int64
	UpdatedAt time.Time
}

// UpdateProblem replaces the draft of a problem that is still at the given
// version, and returns the version that it wrote. Otherwise the error is a *StaleError.
// A dataSet that is not nil becomes the one that the problem is about.
func (s *Store) UpdateProblem(
	ctx context.Context, who access.Person, id uuid.UUID, version int64, draft *problem.Draft, dataSet *uuid.UUID,
) (next Written, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		next, err = updateProblem(ctx, tx, who, id, version, draft, dataSet)
		return err
	})
	return next, changeError("problem", err)
}

// ResetProblem replaces the draft of a problem that is still at the given version, and all of the
// data set that it is about from then on, whatever version that is at, deleted or not.
func (s *Store) ResetProblem(
	ctx context.Context, who access.Person, id uuid.UUID, version int64, draft *problem.Draft, dataSet uuid.UUID, set *data.Set,
) (next Written, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		// The data set first, as whoever renames its columns locks it before its problems.
		var dataVersion int64
		err := tx.QueryRow(ctx, "update data_set set deleted_at = null where id = $1 and owner = $2 returning version", dataSet, who.ID).
			Scan(&dataVersion)
		if err != nil {
			return err
		}
		if _, err = replaceDataSet(ctx, tx, who, dataSet, dataVersion, set); err != nil {
			return err
		}
		next, err = updateProblem(ctx, tx, who, id, version, draft, &dataSet)
		return err
	})
	return next, changeError("problem", err)
}

func updateProblem(
	ctx context.Context, tx pgx.Tx, who access.Person, id uuid.UUID, version int64, draft *problem.Draft, dataSet *uuid.UUID,
) (next Written, err error) {
	settings, err := encodeSettings(draft)
	if err != nil {
		return next, err
	}
	stale := &StaleError{What: "problem"}
	err = tx.QueryRow(ctx, "select version, updated_at from problem where id = $1 and owner = $2 and deleted_at is null for update", id,
		who.ID).
		Scan(&stale.Current, &stale.UpdatedAt)
	if err != nil {
		return next, err
	}
	if stale.Current != version {
		return next, stale
	}
	if dataSet != nil {
		tag, err := tx.Exec(ctx, "update problem set data_set = $2 where id = $1 and exists (select from data_set where id = $2 and owner "+
			"= $3 and "+present+")", id, *dataSet, who.ID)
		if err != nil {
			return next, err
		}
		if tag.RowsAffected() == 0 {
			return next, pgx.ErrNoRows
		}
	}
	err = tx.QueryRow(ctx, "update problem set settings = $2, version = version + 1, updated_at = now() where id = $1 "+
		"returning version, updated_at", id, settings).Scan(&next.Version, &next.UpdatedAt)
	return next, err
}

// changeError makes an error of changing something of that name the caller's.
func changeError(what string, err error) error {
	var stale *StaleError
	switch {
	case err == nil:
		return nil
	case errors.Is(err, pgx.ErrNoRows):
		return ErrNotFound
	case errors.As(err, &stale):
		return stale
	case errors.Is(err, ErrUnavailable):
		return err
	}
	if mistakes, is := errors.AsType[problem.Errors](err); is {
		return mistakes
	}
	return fmt.Errorf("changing a %s: %w", what, err)
}

// DeleteProblem takes a problem out of sight, at that version or, where it is 0, at any;
// RestoreProblem brings it back, until it is purged. The error may be a *StaleError.
func (s *Store) DeleteProblem(ctx context.Context, who access.Person, id uuid.UUID, version int64) error {
	return s.setDeleted(ctx, who, problemTable, id, version, true)
}

// RestoreProblem undoes DeleteProblem.
func (s *Store) RestoreProblem(ctx context.Context, who access.Person, id uuid.UUID, version int64) error {
	return s.setDeleted(ctx, who, problemTable, id, version, false)
}

// The tables of what can be deleted and restored.
const (
	problemTable = "problem"
	dataSetTable = "data_set"
)

func (s *Store) setDeleted(ctx context.Context, who access.Person, table string, id uuid.UUID, version int64, deleted bool) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error { return setDeleted(ctx, tx, who, table, id, version, deleted) })
	return changeError(wordsOf(table), err)
}

func setDeleted(ctx context.Context, tx pgx.Tx, who access.Person, table string, id uuid.UUID, version int64, deleted bool) error {
	stale := &StaleError{What: wordsOf(table)}
	err := tx.QueryRow(ctx, "select version, updated_at from "+table+" where id = $1 and owner = $2 and (deleted_at is null) = $3 for update",
		id, who.ID, deleted).Scan(&stale.Current, &stale.UpdatedAt)
	if err != nil {
		return err
	}
	if version != 0 && version != stale.Current {
		return stale
	}
	_, err = tx.Exec(ctx, "update "+table+" set deleted_at = case when $2 then now() end where id = $1", id, deleted)
	return err
}

// wordsOf is what a row of the table is called.
func wordsOf(table string) string { return strings.ReplaceAll(table, "_", " ") }

// HasDemo reports whether the person has, or had and deleted, the demo problem of
// that name.
func (s *Store) HasDemo(ctx context.Context, who access.Person, name string) (has bool, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, "select exists (select from problem where owner = $1 and demo = $2)", who.ID, name).Scan(&has)
	})
	if err != nil {
		return false, fmt.Errorf("looking for a demo problem: %w", err)
	}
	return has, nil
}

// maxSettings is how many bytes a draft may take.
const maxSettings = 8 << 20

// encodeSettings returns a draft as it is kept. What is in it may be wrong: it is only bounded.
func encodeSettings(draft *problem.Draft) ([]byte, error) {
	text, err := json.Marshal(draft)
	if err != nil {
		return nil, fmt.Errorf("encoding the settings of a problem: %w", err)
	}
	if len(text) > maxSettings {
		return nil, problem.TooMany("/draft", fmt.Sprintf("the problem without its data takes %d bytes", len(text)), maxSettings,
			"shorten its texts, and leave cases out by a condition")
	}
	return text, nil
}
