package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// A Remark is what an instructor said at an ask of an attempt: words for the student, and points where they were set by hand.
type Remark struct {
	Attempt uuid.UUID
	Ask     string
	Words   string
	Points  *float64
	At      time.Time
}

// Remarks lists what was said at the attempts at a set: for its instructors at all, for a student at their own.
func (s *Store) Remarks(ctx context.Context, who access.Person, set uuid.UUID) (list []Remark, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		of, err := setHead(ctx, conn, who, set, access.Read)
		if err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, `select r.attempt, r.ask, r.words, r.points, r.at from remark r join attempt a on a.id = r.attempt
			join set_problem p on p.id = a.set_problem where p.set = $1 and ($3 or a.person = $2) order by r.at`,
			set, who.ID, of.In == access.Teacher)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Remark])
		return err
	})
	return list, readError("set", err)
}

// SetRemark says something at an ask of an attempt, by an instructor of its class; nothing where there are neither words nor
// points. It is logged.
func (s *Store) SetRemark(ctx context.Context, who access.Person, attempt uuid.UUID, ask, words string, points *float64) error {
	return changeError("attempt", s.inTx(ctx, func(tx pgx.Tx) error {
		of, person, _, err := taughtAttempt(ctx, tx, who, attempt)
		if err != nil {
			return err
		}
		var before Remark
		err = tx.QueryRow(ctx, "select words, points from remark where attempt = $1 and ask = $2", attempt, ask).Scan(&before.Words,
			&before.Points)
		if err != nil && !errors.Is(err, pgx.ErrNoRows) {
			return err
		}
		if words == "" && points == nil {
			_, err = tx.Exec(ctx, "delete from remark where attempt = $1 and ask = $2", attempt, ask)
		} else {
			_, err = tx.Exec(ctx, `insert into remark (attempt, ask, words, points, person) values ($1, $2, $3, $4, $5) on conflict (attempt, ask)
				do update set words = $3, points = $4, person = $5, at = now()`, attempt, ask, words, points, who.ID)
		}
		if err != nil {
			return err
		}
		for _, done := range remarkDeeds(of.Settings.Title, ask, before, Remark{Words: words, Points: points}) {
			if err := noteInClass(ctx, tx, who, of.Class, person, done); err != nil {
				return err
			}
		}
		return tell(ctx, tx, of.ID)
	}))
}

// remarkDeeds says what a remark changed.
func remarkDeeds(title, ask string, before, after Remark) (done []string) {
	if before.Words != after.Words {
		done = append(done, fmt.Sprintf("wrote at “%s” of “%s”", ask, title))
	}
	switch {
	case before.Points == nil && after.Points == nil, before.Points != nil && after.Points != nil && *before.Points == *after.Points:
	case after.Points == nil:
		done = append(done, fmt.Sprintf("let the mark for “%s” of “%s” follow the answer again", ask, title))
	default:
		done = append(done, fmt.Sprintf("set the mark for “%s” of “%s” to %g", ask, title, *after.Points))
	}
	return done
}
