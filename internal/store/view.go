package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
	"grund/internal/data"
	"grund/internal/problem"
)

// A View sees one state of the database, whatever is written meanwhile: a problem and its data
// set read in one View belong together.
type View struct {
	tx     pgx.Tx
	who    access.Person
	shared *Shared // by the link that it is seen by, nil where there is none
}

// may refuses to show what the person may not read: it is as if it were not there.
func (v *View) may(kind access.Kind, id, owner uuid.UUID) error {
	if !access.May(v.who, access.Read, access.Thing{Kind: kind, Owner: owner, Linked: v.shared.holds(id)}) {
		return ErrNotFound
	}
	return nil
}

// View calls f with a view of the present state, which ends with f.
func (s *Store) View(ctx context.Context, who access.Person, f func(v *View) error) error {
	options := pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}
	return s.with(ctx, func(conn *pgxpool.Conn) error {
		return pgx.BeginTxFunc(ctx, conn, options, func(tx pgx.Tx) error { return f(&View{tx: tx, who: who}) })
	})
}

// Problem returns a problem with its draft.
func (v *View) Problem(ctx context.Context, id uuid.UUID) (*Problem, error) {
	p := &Problem{ID: id}
	var settings []byte
	var owner uuid.UUID
	err := v.tx.QueryRow(ctx, `select version, coalesce(demo, ''), updated_at, settings, data_set, owner from problem where id = $1 and
		deleted_at is null`, id).Scan(&p.Version, &p.Demo, &p.UpdatedAt, &settings, &p.DataSet, &owner)
	if err != nil {
		return nil, readError("problem", err)
	}
	if err := v.may(access.Problem, id, owner); err != nil {
		return nil, err
	}
	p.Draft = problem.NewDraft()
	if err := json.Unmarshal(settings, p.Draft); err != nil {
		return nil, fmt.Errorf("decoding the settings of a problem: %w", err)
	}
	return p, nil
}

// Described returns a data set without its cells, as Cells may not be needed of a version that is
// known. One that is deleted is there only for the problems that use it.
func (v *View) Described(ctx context.Context, id uuid.UUID) (*DataSet, error) {
	d := &DataSet{ID: id, Set: &data.Set{}}
	var columns, heads []byte
	var owner uuid.UUID
	err := v.tx.QueryRow(ctx, `select version, coalesce(demo, ''), updated_at, name, about, form, headings, columns, rows, owner from
		data_set where id = $1 and `+present, id).
		Scan(&d.Version, &d.Demo, &d.UpdatedAt, &d.Set.Name, &d.Set.About, &d.Set.Form, &heads, &columns, &d.Rows, &owner)
	if err != nil {
		return nil, readError("data set", err)
	}
	if err := v.may(access.DataSet, id, owner); err != nil {
		return nil, err
	}
	var named headings
	if err := json.Unmarshal(heads, &named); err != nil {
		return nil, fmt.Errorf("decoding the headings: %w", err)
	}
	d.Set.Response, d.Set.Group = named.Response, named.Group
	if err := json.Unmarshal(columns, &d.Set.Columns); err != nil {
		return nil, fmt.Errorf("decoding the columns: %w", err)
	}
	return d, nil
}

// Cells fills a data set that was described; the cells of derived columns are blank.
func (v *View) Cells(ctx context.Context, d *DataSet) error {
	return readBlocks(ctx, v.tx, d.ID, d.Set)
}

// readError makes an error of reading something of that name the caller's.
func readError(what string, err error) error {
	switch {
	case err == nil:
		return nil
	case errors.Is(err, pgx.ErrNoRows):
		return ErrNotFound
	}
	return fmt.Errorf("reading a %s: %w", what, err)
}
