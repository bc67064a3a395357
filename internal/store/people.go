package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// An Account is a person as they and administrators see them.
type Account struct {
	access.Person
	Name      string // by which others know the person
	UserName  string // under which they sign in; "" of a guest
	Demo      bool   // made up, for the demo
	CreatedAt time.Time
	SeenAt    time.Time
}

// ErrTaken refuses a user name that somebody else has.
var ErrTaken = errors.New("this user name is taken")

const accountColumns = "id, role, name, coalesce(user_name, ''), demo, created_at, seen_at"

func scanAccount(row pgx.Row, more ...any) (*Account, error) {
	a := &Account{}
	err := row.Scan(append([]any{&a.ID, &a.Role, &a.Name, &a.UserName, &a.Demo, &a.CreatedAt, &a.SeenAt}, more...)...)
	return a, err
}

// CreatePerson adds a person of that role who has nothing yet.
func (s *Store) CreatePerson(ctx context.Context, role access.Role) (*Account, error) {
	var a *Account
	err := s.with(ctx, func(conn *pgxpool.Conn) (err error) {
		a, err = scanAccount(conn.QueryRow(ctx, "insert into person (id, name, role) values ($1, '', $2) returning "+accountColumns,
			uuid.New(), role))
		return err
	})
	return a, changeError("person", err)
}

// Account returns an account, which who may read.
func (s *Store) Account(ctx context.Context, who access.Person, id uuid.UUID) (a *Account, err error) {
	if !access.May(who, access.Read, access.Thing{Kind: access.Account, Owner: id}) {
		return nil, ErrNotFound
	}
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		a, err = scanAccount(conn.QueryRow(ctx, "select "+accountColumns+" from person where id = $1", id))
		return err
	})
	return a, readError("person", err)
}

// Seen returns who has that id, and notes that they were here.
func (s *Store) Seen(ctx context.Context, id uuid.UUID) (a *Account, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if a, err = scanAccount(conn.QueryRow(ctx, "select "+accountColumns+" from person where id = $1", id)); err != nil {
			return err
		}
		if time.Since(a.SeenAt) > seenEvery {
			_, err = conn.Exec(ctx, "update person set seen_at = now() where id = $1", id)
		}
		return err
	})
	return a, readError("person", err)
}

// seenEvery is how often it is noted at most that somebody is there.
const seenEvery = time.Hour

// ByUserName returns the account that signs in under a name, whatever its case, with the hash of its password, "" where it
// has none.
func (s *Store) ByUserName(ctx context.Context, userName string) (a *Account, hash string, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		a, err = scanAccount(conn.QueryRow(ctx, "select "+accountColumns+`, coalesce(password, '') from person
			where lower(user_name) = lower($1)`, userName), &hash)
		return err
	})
	return a, hash, readError("person", err)
}

// Password returns the hash of a person's password, "" where there is none.
func (s *Store) Password(ctx context.Context, who access.Person) (hash string, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, "select coalesce(password, '') from person where id = $1", who.ID).Scan(&hash)
	})
	return hash, readError("person", err)
}

// KeepAccount gives a guest a name to sign in under: everything stays theirs. The error may be ErrTaken.
func (s *Store) KeepAccount(ctx context.Context, who access.Person, userName, name, hash string) error {
	return s.changePerson(ctx, `update person set user_name = $2, name = $3, password = $4, role = case role when 'guest' then 'member'
		else role end where id = $1 and user_name is null`, who.ID, userName, name, hash)
}

// SetName changes the name by which others know the person.
func (s *Store) SetName(ctx context.Context, who access.Person, name string) error {
	return s.changePerson(ctx, "update person set name = $2 where id = $1", who.ID, name)
}

// SetPassword changes a person's password and ends all of their sessions but the one of that token, "" for none.
func (s *Store) SetPassword(ctx context.Context, who access.Person, hash, but string) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error { return setPassword(ctx, tx, who.ID, hash, but) })
	return changeError("person", err)
}

func setPassword(ctx context.Context, tx pgx.Tx, id uuid.UUID, hash, but string) error {
	tag, err := tx.Exec(ctx, "update person set password = $2 where id = $1 and user_name is not null", id, hash)
	if err == nil && tag.RowsAffected() == 0 {
		err = pgx.ErrNoRows
	}
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, "delete from session where person = $1 and token <> $2", id, but)
	return err
}

// changePerson changes one person; the error may be ErrTaken or ErrNotFound.
func (s *Store) changePerson(ctx context.Context, sql string, args ...any) error {
	err := s.with(ctx, func(conn *pgxpool.Conn) error {
		tag, err := conn.Exec(ctx, sql, args...)
		if err == nil && tag.RowsAffected() == 0 {
			err = pgx.ErrNoRows
		}
		return err
	})
	if refused, is := errors.AsType[*pgconn.PgError](err); is && refused.Code == "23505" { // unique_violation
		return ErrTaken
	}
	return changeError("person", err)
}

// MoveAlong gives what a guest made to somebody who signs in, and removes the guest: problems with the data sets that they
// are about, data sets, reports and attempts, but not what the guest had of the demo.
func (s *Store) MoveAlong(ctx context.Context, guest, to access.Person) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		var is bool
		err := tx.QueryRow(ctx, "select true from person where id = $1 and role = 'guest' and user_name is null for update", guest.ID).Scan(&is)
		if err != nil {
			return err
		}
		for _, sql := range []string{
			`update data_set d set owner = $2, demo = null where owner = $1 and
				(demo is null or exists (select from problem where data_set = d.id and demo is null))`,
			"update problem set owner = $2 where owner = $1 and demo is null",
			`update attempt set person = $2 where person = $1 and problem in (select id from problem where owner = $2)`,
			"update report set owner = $2 where owner = $1",
			// A demo problem about data that went along goes along too.
			`update problem set owner = $2, demo = null where owner = $1 and data_set in (select id from data_set where owner = $2)`,
			`update attempt set person = $2 where person = $1 and problem in (select id from problem where owner = $2)`,
			// Classes, with what was done for their sets.
			`insert into class_member (class, person, role, name, came, joined_at)
				select class, $2, role, name, came, joined_at from class_member where person = $1 on conflict do nothing`,
			`insert into set_draw (set, person, draw) select set, $2, draw from set_draw where person = $1 on conflict do nothing`,
			`update attempt a set person = $2 where person = $1 and set_problem is not null and not exists
				(select from attempt b where b.person = $2 and b.set_problem = a.set_problem)`,
			`insert into hand_in (set, person, at) select set, $2, at from hand_in where person = $1 on conflict do nothing`,
		} {
			if _, err := tx.Exec(ctx, sql, guest.ID, to.ID); err != nil {
				return err
			}
		}
		return deleteAccount(ctx, tx, guest)
	})
	return changeError("person", err)
}

// DeleteAccount removes a person with everything that is theirs, at once and wholly.
func (s *Store) DeleteAccount(ctx context.Context, who access.Person) error {
	return changeError("person", s.inTx(ctx, func(tx pgx.Tx) error { return deleteAccount(ctx, tx, who) }))
}

func deleteAccount(ctx context.Context, tx pgx.Tx, who access.Person) error {
	for _, sql := range []string{
		"delete from attempt where person = $1", "delete from report where owner = $1", "delete from problem where owner = $1",
		"delete from data_set where owner = $1", "delete from person where id = $1",
	} {
		if _, err := tx.Exec(ctx, sql, who.ID); err != nil {
			return err
		}
	}
	return nil
}

// People lists a page of those who sign in, by name, from the given one on, counted from 0; for an administrator.
func (s *Store) People(ctx context.Context, who access.Person, from int) (list []Account, more bool, err error) {
	if !access.May(who, access.List, access.Thing{Kind: access.Machine}) {
		return nil, false, ErrNotFound
	}
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, "select "+accountColumns+` from person where user_name is not null order by lower(user_name)
			offset $1 limit $2`, from, PageRows+1)
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Account, error) {
			a, err := scanAccount(row)
			return *a, err
		})
		return err
	})
	if err != nil {
		return nil, false, fmt.Errorf("listing people: %w", err)
	}
	return list[:min(len(list), PageRows)], len(list) > PageRows, nil
}

// SetRole makes somebody who signs in a member, an instructor or an administrator, by an administrator's word. The last
// administrator stays one.
func (s *Store) SetRole(ctx context.Context, who access.Person, id uuid.UUID, role access.Role) error {
	if !access.May(who, access.Change, access.Thing{Kind: access.Machine}) {
		return ErrNotFound
	}
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		// One at a time: two who lower each other leave none.
		if _, err := tx.Exec(ctx, "select pg_advisory_xact_lock($1)", roleLock); err != nil {
			return err
		}
		var last bool
		err := tx.QueryRow(ctx, `select role = 'administrator' and $2 <> 'administrator' and
			(select count(*) from person where role = 'administrator') = 1 from person where id = $1 and user_name is not null`, id, role).
			Scan(&last)
		if err != nil {
			return err
		}
		if last {
			return ErrLast
		}
		if _, err := tx.Exec(ctx, "update person set role = $2 where id = $1", id, role); err != nil {
			return err
		}
		return note(ctx, tx, who, id, "made "+string(role))
	})
	if errors.Is(err, ErrLast) {
		return err
	}
	return changeError("person", err)
}

// roleLock is the number of the lock under which roles are changed.
const roleLock = 8422

// ErrLast refuses to leave nobody who looks after people.
var ErrLast = errors.New("this is the only administrator")

// note logs what somebody did to another's account.
func note(ctx context.Context, tx pgx.Tx, who access.Person, about uuid.UUID, what string) error {
	const sql = "insert into deed (person, about, what) values ((select id from person where id = $1), $2, $3)"
	_, err := tx.Exec(ctx, sql, who.ID, about, what)
	return err
}

// AddDemoPerson adds one of the demo's people, who has no password.
func (s *Store) AddDemoPerson(ctx context.Context, userName, name string, role access.Role) (a *Account, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		a, err = scanAccount(conn.QueryRow(ctx, `insert into person (id, name, role, user_name, demo) values ($1, $2, $3, $4, true)
			returning `+accountColumns, uuid.New(), name, role, userName))
		return err
	})
	return a, changeError("person", err)
}

// Unclaimed reports whether the person of the machine has work from the time before people signed in, and nobody is signed
// in as them yet: whoever comes first on that machine goes on with it.
func (s *Store) Unclaimed(ctx context.Context) (is bool, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		return conn.QueryRow(ctx, `select not exists (select from session where person = $1) and exists
			(select from person where id = $1 and role = 'guest') and exists
			(select from problem where owner = $1 and (demo is null or version > 1) union all select from data_set where owner = $1 and
			(demo is null or version > 1))`, access.Local.ID).Scan(&is)
	})
	if err != nil {
		return false, fmt.Errorf("looking for the machine's work: %w", err)
	}
	return is, nil
}
