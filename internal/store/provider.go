package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"grund/internal/access"
)

// A Subject is who somebody is at an identity provider.
type Subject struct {
	Issuer, Subject string
	UserName        string // that they would like here
	Name            string
}

// BySubject returns the account of who signs in through a provider; a first sign-in, which is told, makes it, under the user
// name that they have there, or one like it where that is taken.
func (s *Store) BySubject(ctx context.Context, of Subject) (a *Account, first bool, err error) {
	for range 3 { // where the same person, or the same name, comes twice at once
		err = s.inTx(ctx, func(tx pgx.Tx) error {
			a, err = scanAccount(tx.QueryRow(ctx, "select "+accountColumns+" from person where issuer = $1 and subject = $2", of.Issuer, of.Subject))
			if first = errors.Is(err, pgx.ErrNoRows); !first {
				return err
			}
			name, err := freeName(ctx, tx, of.UserName)
			if err != nil {
				return err
			}
			a, err = scanAccount(tx.QueryRow(ctx, `insert into person (id, name, role, user_name, issuer, subject)
				values ($1, $2, $3, $4, $5, $6) returning `+accountColumns, uuid.New(), of.Name, access.Member, name, of.Issuer, of.Subject))
			return err
		})
		if refused, is := errors.AsType[*pgconn.PgError](err); !is || refused.Code != "23505" { // unique_violation
			break
		}
	}
	return a, first, changeError("person", err)
}

// freeName returns a user name that nobody has: the given one, or with a number behind it.
func freeName(ctx context.Context, tx pgx.Tx, name string) (string, error) {
	for i := 1; i < 1000; i++ {
		tried := name
		if i > 1 {
			tried = fmt.Sprintf("%s%d", name, i)
		}
		var taken bool
		if err := tx.QueryRow(ctx, "select exists (select from person where lower(user_name) = lower($1))", tried).Scan(&taken); err != nil {
			return "", err
		}
		if !taken {
			return tried, nil
		}
	}
	return "", ErrTaken
}
