package store

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// An Attempt is a person's work on a problem as it is answered.
type Attempt struct {
	ID       uuid.UUID
	Of       Versions
	BegunAt  time.Time
	Events   []Event
	Outdated bool // it answers another version of the problem or its data, and goes on no more
}

// Versions are those of a problem and of its data set.
type Versions struct{ Problem, Data int64 }

// An Event is one thing that was done in an attempt: an answer, a help that was taken, an answer taken back.
type Event struct {
	Kind, Ask, Text, Verdict, Slip string
	At                             time.Time
}

// Attempt returns the person's open attempt at a problem, nil where there is none. The problem must be the person's.
func (s *Store) Attempt(ctx context.Context, who access.Person, problem uuid.UUID, now Versions) (attempt *Attempt, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		attempt, err = openAttempt(ctx, conn, who, problem, now)
		return err
	})
	return attempt, changeError("attempt", err)
}

func openAttempt(ctx context.Context, q querier, who access.Person, problem uuid.UUID, now Versions) (*Attempt, error) {
	a := &Attempt{}
	err := q.QueryRow(ctx, `select a.id, a.problem_version, a.data_version, a.begun_at from attempt a join problem p on p.id = a.problem
		where a.problem = $1 and a.person = $2 and p.owner = $2 and p.deleted_at is null and a.ended_at is null`, problem, who.ID).
		Scan(&a.ID, &a.Of.Problem, &a.Of.Data, &a.BegunAt)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	a.Outdated = a.Of != now
	rows, _ := q.Query(ctx, "select kind, ask, text, verdict, slip, at from attempt_event where attempt = $1 order by seq", a.ID)
	a.Events, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Event])
	return a, err
}

// AddEvent adds an event to the person's open attempt at a problem, and returns the attempt with it. Where there is none
// that answers these versions one is begun, and one that answers others ends. after is how many events the person had
// seen: where there are others by now the error is a *StaleError.
func (s *Store) AddEvent(
	ctx context.Context, who access.Person, problem uuid.UUID, now Versions, after int, event Event,
) (attempt *Attempt, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		if err := lockProblem(ctx, tx, who, problem); err != nil {
			return err
		}
		attempt, err = openAttempt(ctx, tx, who, problem, now)
		if err != nil {
			return err
		}
		if attempt != nil && attempt.Outdated {
			if err := endAttempt(ctx, tx, who, problem); err != nil {
				return err
			}
			attempt = nil
		}
		if attempt == nil {
			attempt = &Attempt{ID: uuid.New(), Of: now}
			err := tx.QueryRow(ctx, `insert into attempt (id, person, problem, problem_version, data_version) values ($1, $2, $3, $4, $5)
				returning begun_at`, attempt.ID, who.ID, problem, now.Problem, now.Data).Scan(&attempt.BegunAt)
			if err != nil {
				return err
			}
		}
		if len(attempt.Events) != after {
			last := attempt.BegunAt
			if len(attempt.Events) > 0 {
				last = attempt.Events[len(attempt.Events)-1].At
			}
			return &StaleError{What: "attempt", Current: int64(len(attempt.Events)), UpdatedAt: last}
		}
		err = tx.QueryRow(ctx, `insert into attempt_event (attempt, seq, kind, ask, text, verdict, slip) values ($1, $2, $3, $4, $5, $6, $7)
			returning at`, attempt.ID, after+1, event.Kind, event.Ask, event.Text, event.Verdict, event.Slip).Scan(&event.At)
		attempt.Events = append(attempt.Events, event)
		return err
	})
	return attempt, changeError("attempt", err)
}

// EndAttempt ends the person's open attempt at a problem of theirs, if there is one.
func (s *Store) EndAttempt(ctx context.Context, who access.Person, problem uuid.UUID) error {
	return changeError("attempt", s.inTx(ctx, func(tx pgx.Tx) error {
		if err := lockProblem(ctx, tx, who, problem); err != nil {
			return err
		}
		return endAttempt(ctx, tx, who, problem)
	}))
}

// lockProblem keeps two tabs apart that change what belongs to a problem of the person's.
func lockProblem(ctx context.Context, tx pgx.Tx, who access.Person, problem uuid.UUID) error {
	var id uuid.UUID
	return tx.QueryRow(ctx, "select id from problem where id = $1 and owner = $2 and deleted_at is null for update", problem, who.ID).Scan(&id)
}

func endAttempt(ctx context.Context, tx pgx.Tx, who access.Person, problem uuid.UUID) error {
	_, err := tx.Exec(ctx, "update attempt set ended_at = now() where problem = $1 and person = $2 and ended_at is null", problem, who.ID)
	return err
}
