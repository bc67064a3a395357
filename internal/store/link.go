package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// linkLasts is how long a one-time link is good.
const linkLasts = 3 * 24 * time.Hour

// hashed is how a token is kept: who reads the database cannot use it.
func hashed(token string) string {
	sum := sha256.Sum256([]byte(token))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}

// PasswordLink returns the token of a one-time link with which a person sets a new password, by an administrator's word.
// Earlier links of the person are good no more.
func (s *Store) PasswordLink(ctx context.Context, who access.Person, id uuid.UUID) (token string, err error) {
	if !access.May(who, access.Change, access.Thing{Kind: access.Machine}) {
		return "", ErrNotFound
	}
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx, "select true from person where id = $1 and user_name is not null for update", id).Scan(&there); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "delete from one_time_link where person = $1", id); err != nil {
			return err
		}
		if token, err = insertLink(ctx, tx, id); err != nil {
			return err
		}
		return note(ctx, tx, who, id, "made a link to set a password")
	})
	return token, changeError("link", err)
}

// FirstLink returns the token of a one-time link that makes an administrator, "" where there is one already.
func (s *Store) FirstLink(ctx context.Context) (token string, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select pg_advisory_xact_lock($1)", roleLock); err != nil {
			return err
		}
		var has bool
		if err := tx.QueryRow(ctx, "select exists (select from person where role = 'administrator')").Scan(&has); err != nil || has {
			return err
		}
		if _, err := tx.Exec(ctx, "delete from one_time_link where person is null"); err != nil {
			return err
		}
		token, err = insertLink(ctx, tx, nil)
		return err
	})
	return token, changeError("link", err)
}

func insertLink(ctx context.Context, tx pgx.Tx, person any) (string, error) {
	token := rand.Text()
	_, err := tx.Exec(ctx, "insert into one_time_link (token, person, expires_at) values ($1, $2, $3)", hashed(token), person,
		time.Now().Add(linkLasts))
	return token, err
}

// LinkOf returns the account whose password a link sets; nil where it makes an administrator. One that is not good is
// ErrNotFound.
func (s *Store) LinkOf(ctx context.Context, token string) (a *Account, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		a, err = linkOf(ctx, conn, token)
		return err
	})
	return a, readError("link", err)
}

func linkOf(ctx context.Context, q querier, token string) (*Account, error) {
	var id *uuid.UUID
	err := q.QueryRow(ctx, "select person from one_time_link where token = $1 and expires_at > now()", hashed(token)).Scan(&id)
	if err != nil || id == nil {
		return nil, err
	}
	return scanAccount(q.QueryRow(ctx, "select "+accountColumns+" from person where id = $1", *id))
}

// UseLink sets the password of the person that a link is of, and ends their sessions; where it makes an administrator it
// adds one under that name. The link is good no more. The error may be ErrTaken.
func (s *Store) UseLink(ctx context.Context, token, userName, hash string) (a *Account, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, "update one_time_link set expires_at = now() where token = $1 and expires_at > now()", hashed(token))
		if err != nil {
			return err
		}
		if tag.RowsAffected() == 0 { // used by another one meanwhile
			return pgx.ErrNoRows
		}
		var id *uuid.UUID
		err = tx.QueryRow(ctx, "delete from one_time_link where token = $1 returning person", hashed(token)).Scan(&id)
		if err != nil {
			return err
		}
		if id == nil {
			a, err = scanAccount(tx.QueryRow(ctx, `insert into person (id, name, role, user_name, password)
				values ($1, $2, 'administrator', $2, $3) on conflict do nothing returning `+accountColumns, uuid.New(), userName, hash))
			if errors.Is(err, pgx.ErrNoRows) {
				return ErrTaken
			}
			return err
		}
		if err := setPassword(ctx, tx, *id, hash, ""); err != nil {
			return err
		}
		a, err = scanAccount(tx.QueryRow(ctx, "select "+accountColumns+" from person where id = $1", *id))
		return err
	})
	if errors.Is(err, ErrTaken) {
		return nil, err
	}
	return a, changeError("link", err)
}

// The bounds of sign-ins that fail: more of one name, or from one address, wait until earlier ones are longer ago. Those of a
// name are few from one address, and more from everywhere, so that nobody easily keeps another one out.
const (
	mostFailures        = 100
	mostFailuresFrom    = 60
	mostGuestsFrom      = 300 // several classes may come from one address
	failuresCount       = 15 * time.Minute
	failuresKept        = 24 * time.Hour
	longestName         = 100
	failuresOfOneMinute = 5
)

// MayTry reports whether somebody may try to sign in under a name from an address, and how long to wait where not. Nobody
// waits for good: a minute after some failures of the name, a quarter of an hour after many from the address.
func (s *Store) MayTry(ctx context.Context, name, address string) (wait time.Duration, err error) {
	var ofName, lastMinute, from int
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, `select
			(select count(*) from sign_in_failure where name = lower(left($1, $5)) and at > now() - $3::interval),
			(select count(*) from sign_in_failure where name = lower(left($1, $5)) and address = $2 and at > now() - $4::interval),
			(select count(*) from sign_in_failure where address = $2 and name <> $6 and at > now() - $3::interval)`,
			name, address, failuresCount, time.Minute, longestName, newGuest).Scan(&ofName, &lastMinute, &from)
	})
	switch {
	case err != nil:
		return 0, fmt.Errorf("counting sign-ins: %w", err)
	case from >= mostFailuresFrom:
		return failuresCount, nil
	case lastMinute >= failuresOfOneMinute, ofName >= mostFailures:
		return time.Minute, nil
	}
	return 0, nil
}

// newGuest stands for the name where a guest begins: no user name has a space.
const newGuest = "a guest"

// MayBegin reports whether another guest may begin at an address, and counts them; how long to wait where not.
func (s *Store) MayBegin(ctx context.Context, address string) (wait time.Duration, err error) {
	var begun int
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, `select count(*) from sign_in_failure where address = $1 and name = $2 and at > now() - $3::interval`,
			address, newGuest, failuresCount).Scan(&begun)
	})
	if err != nil {
		return 0, fmt.Errorf("counting guests: %w", err)
	}
	if begun >= mostGuestsFrom {
		return failuresCount, nil
	}
	return 0, s.NoteFailure(ctx, newGuest, address)
}

// NoteFailure counts a sign-in that failed, and forgets those of long ago.
func (s *Store) NoteFailure(ctx context.Context, name, address string) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, "insert into sign_in_failure (name, address) values (lower(left($1, $3)), $2)", name, address, longestName)
		if err == nil {
			_, err = tx.Exec(ctx, "delete from sign_in_failure where at < now() - $1::interval", failuresKept)
		}
		return err
	})
	return changeError("sign-in", err)
}

// ForgetFailures forgets the failures of a name, whose person has signed in.
func (s *Store) ForgetFailures(ctx context.Context, name string) error {
	err := s.with(ctx, func(conn *pgxpool.Conn) error {
		_, err := conn.Exec(ctx, "delete from sign_in_failure where name = lower(left($1, $2))", name, longestName)
		return err
	})
	return changeError("sign-in", err)
}
