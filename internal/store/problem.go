package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"grund/internal/problem"
)

// A Problem as it is kept: a draft with its version.
type Problem struct {
	ID        uuid.UUID
	Version   int64
	Demo      string // the name of the demo problem, "" for a person's own
	UpdatedAt time.Time
	Draft     *problem.Draft
}

// A Listing is a problem as it stands in a list.
type Listing struct {
	ID        uuid.UUID
	Title     string
	Question  string
	Procedure string
	Demo      string
	UpdatedAt time.Time
}

// Problems lists the person's problems, newest change first.
func (s *Store) Problems(ctx context.Context, who Person) ([]Listing, error) {
	rows, err := s.pool.Query(ctx, `
		select id, settings->>'title', settings->>'question', settings->>'procedure', coalesce(demo, ''), updated_at
		from problem where owner = $1 and deleted_at is null order by updated_at desc, id`, who.ID)
	if err != nil {
		return nil, fmt.Errorf("listing problems: %w", err)
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[Listing])
	if err != nil {
		return nil, fmt.Errorf("listing problems: %w", err)
	}
	return list, nil
}

// CreateProblem keeps a new problem. demo is "" for a person's own.
func (s *Store) CreateProblem(ctx context.Context, who Person, draft *problem.Draft, demo string) (*Problem, error) {
	p := &Problem{ID: uuid.New(), Version: 1, Demo: demo, Draft: draft}
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		dataSet := uuid.New()
		if _, err := tx.Exec(ctx, "insert into data_set (id, owner, variables, rows) values ($1, $2, '[]', 0)", dataSet, who.ID); err != nil {
			return err
		}
		if err := writeDataSet(ctx, tx, dataSet, draft.Columns); err != nil {
			return err
		}
		settings, err := encodeSettings(draft)
		if err != nil {
			return err
		}
		return tx.QueryRow(ctx, `insert into problem (id, owner, data_set, settings, demo) values ($1, $2, $3, $4, nullif($5, '')) returning updated_at`,
			p.ID, who.ID, dataSet, settings, demo).Scan(&p.UpdatedAt)
	})
	if err != nil {
		return nil, fmt.Errorf("keeping a new problem: %w", err)
	}
	return p, nil
}

// Problem returns the person's problem, or ErrNotFound.
func (s *Store) Problem(ctx context.Context, who Person, id uuid.UUID) (*Problem, error) {
	p := &Problem{ID: id}
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		var settings []byte
		var dataSet uuid.UUID
		err := tx.QueryRow(ctx, `select version, coalesce(demo, ''), updated_at, settings, data_set from problem where id = $1 and owner = $2 and deleted_at is null`, id, who.ID).
			Scan(&p.Version, &p.Demo, &p.UpdatedAt, &settings, &dataSet)
		if err != nil {
			return err
		}
		p.Draft = problem.NewDraft()
		if err := json.Unmarshal(settings, p.Draft); err != nil {
			return fmt.Errorf("decoding its settings: %w", err)
		}
		p.Draft.Columns, err = readDataSet(ctx, tx, dataSet)
		return err
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading a problem: %w", err)
	}
	return p, nil
}

// UpdateProblem replaces the draft of a problem that is still at the given
// version, and returns the new version. Otherwise the error is a *StaleError.
func (s *Store) UpdateProblem(ctx context.Context, who Person, id uuid.UUID, version int64, draft *problem.Draft) (int64, error) {
	return s.update(ctx, who, id, version, draft, true)
}

// UpdateSettings is UpdateProblem for a draft whose cells have not changed.
func (s *Store) UpdateSettings(ctx context.Context, who Person, id uuid.UUID, version int64, draft *problem.Draft) (int64, error) {
	return s.update(ctx, who, id, version, draft, false)
}

func (s *Store) update(ctx context.Context, who Person, id uuid.UUID, version int64, draft *problem.Draft, cells bool) (next int64, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		var dataSet uuid.UUID
		stale := &StaleError{}
		err := tx.QueryRow(ctx, "select data_set, version, updated_at from problem where id = $1 and owner = $2 and deleted_at is null for update", id, who.ID).
			Scan(&dataSet, &stale.Current, &stale.UpdatedAt)
		if err != nil {
			return err
		}
		if stale.Current != version {
			return stale
		}
		if cells {
			if err := writeDataSet(ctx, tx, dataSet, draft.Columns); err != nil {
				return err
			}
		}
		settings, err := encodeSettings(draft)
		if err != nil {
			return err
		}
		return tx.QueryRow(ctx, "update problem set settings = $2, version = version + 1, updated_at = now() where id = $1 returning version", id, settings).Scan(&next)
	})
	var stale *StaleError
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return 0, ErrNotFound
	case errors.As(err, &stale):
		return 0, stale
	case err != nil:
		return 0, fmt.Errorf("changing a problem: %w", err)
	}
	return next, nil
}

// DeleteProblem takes a problem out of sight; RestoreProblem brings it back.
func (s *Store) DeleteProblem(ctx context.Context, who Person, id uuid.UUID) error {
	return s.setDeleted(ctx, who, id, "deleted_at is null", "now()")
}

// RestoreProblem undoes DeleteProblem.
func (s *Store) RestoreProblem(ctx context.Context, who Person, id uuid.UUID) error {
	return s.setDeleted(ctx, who, id, "deleted_at is not null", "null")
}

func (s *Store) setDeleted(ctx context.Context, who Person, id uuid.UUID, condition, value string) error {
	tag, err := s.pool.Exec(ctx, "update problem set deleted_at = "+value+" where id = $1 and owner = $2 and "+condition, id, who.ID)
	if err != nil {
		return fmt.Errorf("deleting or restoring a problem: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return nil
}

// HasDemo reports whether the person has, or had and deleted, the demo problem of
// that name.
func (s *Store) HasDemo(ctx context.Context, who Person, name string) (has bool, err error) {
	err = s.pool.QueryRow(ctx, "select exists (select from problem where owner = $1 and demo = $2)", who.ID, name).Scan(&has)
	if err != nil {
		return false, fmt.Errorf("looking for a demo problem: %w", err)
	}
	return has, nil
}

// encodeSettings returns the draft without its columns.
func encodeSettings(draft *problem.Draft) ([]byte, error) {
	settings := *draft
	settings.Columns = nil
	text, err := json.Marshal(&settings)
	if err != nil {
		return nil, fmt.Errorf("encoding the settings: %w", err)
	}
	return text, nil
}
