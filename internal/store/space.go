package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// DefaultSpace is how many bytes a person's data sets may take where nothing else is set, and guestSpace those of a guest,
// of whom there may be any number.
const (
	DefaultSpace = 10 << 30
	guestSpace   = 256 << 20
)

// Space is what a person's data sets take, those too that are deleted and not purged yet, and what they
// may take, in bytes.
type Space struct {
	Used, Limit int64
}

// FullError refuses a write for which a person has no space left.
type FullError struct {
	Space
}

func (e *FullError) Error() string {
	return fmt.Sprintf("with this the data sets would take %d of the %d MiB that there are; take away rows that are no longer needed, or "+
		"delete data sets, which makes room after 30 days", (e.Used+(1<<20-1))>>20, e.Limit>>20)
}

// Space returns what the person's data sets take.
func (s *Store) Space(ctx context.Context, who access.Person) (space Space, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		space, err = s.spaceIn(ctx, conn, who)
		return err
	})
	if err != nil {
		return space, fmt.Errorf("measuring the space: %w", err)
	}
	return space, nil
}

// querier is a connection or a transaction.
type querier interface {
	QueryRow(ctx context.Context, sql string, args ...any) pgx.Row
	Query(ctx context.Context, sql string, args ...any) (pgx.Rows, error)
}

func (s *Store) spaceIn(ctx context.Context, q querier, who access.Person) (Space, error) {
	space := Space{Limit: s.space}
	if who.Role == access.Guest {
		space.Limit = min(s.space, guestSpace)
	}
	err := q.QueryRow(ctx, "select coalesce(sum(bytes), 0) from data_set where owner = $1", who.ID).Scan(&space.Used)
	return space, err
}

// measure notes how much a data set takes after a write. Where it has grown, and the person has more
// than there may be, the error is a *FullError.
func (s *Store) measure(ctx context.Context, tx pgx.Tx, who access.Person, id uuid.UUID) error {
	var grown int64
	err := tx.QueryRow(ctx, `with now as (select coalesce(sum(pg_column_size(cells)), 0)::bigint as bytes from data_block where data_set = $1),
			before as (select bytes from data_set where id = $1)
		update data_set set bytes = now.bytes from now, before where id = $1 returning now.bytes - before.bytes`, id).Scan(&grown)
	if err != nil || grown <= 0 {
		return err
	}
	space, err := s.spaceIn(ctx, tx, who)
	if err == nil && space.Used > space.Limit {
		return &FullError{space}
	}
	return err
}

// Kept is how long something that was deleted can be restored.
const Kept = 30 * 24 * time.Hour

// purgeLock is the number of the lock under which one server at a time purges.
const purgeLock = 8421

// guestsKept is how long a guest is kept who is not seen: the cookie with which they would come back lasts a year.
const guestsKept = 400 * 24 * time.Hour

// Purge removes what was deleted longer than Kept ago, reports too, sessions that have ended, guests who do not come back,
// and data sets without a name that no problem
// uses any more. Demo problems and data sets stay, so that they are not loaded anew. Where another
// server does so just now it does nothing. It returns how many problems and data sets are gone.
func (s *Store) Purge(ctx context.Context) (problems, sets int64, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		var mine bool
		if err := tx.QueryRow(ctx, "select pg_try_advisory_xact_lock($1)", purgeLock).Scan(&mine); err != nil || !mine {
			return err
		}
		before := time.Now().Add(-Kept)
		tag, err := tx.Exec(ctx, "delete from problem where deleted_at < $1 and demo is null", before)
		if err != nil {
			return err
		}
		problems = tag.RowsAffected()
		tag, err = tx.Exec(ctx, `delete from data_set d where demo is null and not exists (select from problem where data_set = d.id)
			and (deleted_at < $1 or name = '' and updated_at < $1)`, before)
		if err != nil {
			return err
		}
		sets = tag.RowsAffected()
		if _, err = tx.Exec(ctx, "delete from report where deleted_at < $1", before); err != nil {
			return err
		}
		if _, err = tx.Exec(ctx, "delete from session where expires_at < now()"); err != nil {
			return err
		}
		return purgeGuests(ctx, tx)
	})
	if err != nil {
		return 0, 0, fmt.Errorf("purging what was deleted: %w", err)
	}
	return problems, sets, nil
}

// purgeGuests removes some guests who were not seen for long, with all that is theirs; the next time others.
func purgeGuests(ctx context.Context, tx pgx.Tx) error {
	rows, _ := tx.Query(ctx, `select id from person where role = 'guest' and user_name is null and id <> $1 and seen_at < $2 and not exists
		(select from session where person = person.id) limit 500`, access.Local.ID, time.Now().Add(-guestsKept))
	gone, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	if err != nil {
		return err
	}
	for _, id := range gone {
		if err := deleteAccount(ctx, tx, access.Person{ID: id}); err != nil {
			return err
		}
	}
	return nil
}
