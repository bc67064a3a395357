package store

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// A Shared thing is what a link leads to.
type Shared struct {
	Kind  access.Kind // access.Problem or access.DataSet
	ID    uuid.UUID
	Owner uuid.UUID
	data  uuid.UUID // the data set that can be read: the thing itself, or that of the problem
}

// holds reports whether something can be read by the link.
func (l *Shared) holds(id uuid.UUID) bool { return l != nil && (id == l.ID || id == l.data) }

// tableOf is the table of what can be shared.
func tableOf(kind access.Kind) (string, error) {
	switch kind {
	case access.Problem:
		return problemTable, nil
	case access.DataSet:
		return dataSetTable, nil
	}
	return "", fmt.Errorf("a %s cannot be shared by a link", kind)
}

// Share returns the token of the link with which others may read and copy a thing of the person's; it is made where there is
// none yet.
func (s *Store) Share(ctx context.Context, who access.Person, kind access.Kind, id uuid.UUID) (token string, err error) {
	table, err := tableOf(kind)
	if err != nil {
		return "", err
	}
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, "select id from "+table+" where id = $1 and owner = $2 and deleted_at is null for update", id, who.ID).Scan(&id)
		if err != nil {
			return err
		}
		return tx.QueryRow(ctx, "insert into share (token, "+table+") values ($1, $2) on conflict ("+table+") do update set token = share.token"+
			" returning token", rand.Text(), id).Scan(&token)
	})
	return token, changeError("link", err)
}

// ShareOf returns the token of the link to a thing of the person's, "" where there is none.
func (s *Store) ShareOf(ctx context.Context, who access.Person, kind access.Kind, id uuid.UUID) (token string, err error) {
	table, err := tableOf(kind)
	if err != nil {
		return "", err
	}
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, "select coalesce(s.token, '') from "+table+" t left join share s on s."+table+" = t.id where t.id = $1 "+
			"and t.owner = $2 and t.deleted_at is null", id, who.ID).Scan(&token)
	})
	return token, readError("link", err)
}

// EndShare takes back the link to a thing of the person's, if there is one: it leads nowhere any more.
func (s *Store) EndShare(ctx context.Context, who access.Person, kind access.Kind, id uuid.UUID) error {
	table, err := tableOf(kind)
	if err != nil {
		return err
	}
	return changeError("link", s.inTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, "select id from "+table+" where id = $1 and owner = $2 for update", id, who.ID).Scan(&id)
		if err == nil {
			_, err = tx.Exec(ctx, "delete from share where "+table+" = $1", id)
		}
		return err
	}))
}

// ViewByLink is View for whoever has a link: beside what is their own they see what it leads to. One that leads nowhere, or to
// something deleted, is ErrNotFound.
func (s *Store) ViewByLink(ctx context.Context, who access.Person, token string, f func(v *View, shared Shared) error) error {
	return s.View(ctx, who, func(v *View) error {
		var problem, dataSet *uuid.UUID
		shared := Shared{}
		err := v.tx.QueryRow(ctx, `select p.id, d.id, coalesce(p.owner, d.owner), coalesce(p.data_set, d.id) from share s
			left join problem p on p.id = s.problem and p.deleted_at is null
			left join data_set d on d.id = s.data_set and d.deleted_at is null
			where s.token = $1 and (p.id is not null or d.id is not null)`, token).Scan(&problem, &dataSet, &shared.Owner, &shared.data)
		switch {
		case errors.Is(err, pgx.ErrNoRows):
			return ErrNotFound
		case err != nil:
			return readError("link", err)
		case problem != nil:
			shared.Kind, shared.ID = access.Problem, *problem
		default:
			shared.Kind, shared.ID = access.DataSet, *dataSet
		}
		v.shared = &shared
		return f(v, shared)
	})
}
