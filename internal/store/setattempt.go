package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
	"grund/internal/problemset"
)

// A SetAttempt is a student's work on a problem of a set.
type SetAttempt struct {
	ID         uuid.UUID
	Person     uuid.UUID
	SetProblem uuid.UUID
	Version    int // of the file with which it was begun
	Seed       uint64
	BegunAt    time.Time
	UpdatedAt  time.Time
	HandedIn   *time.Time // the set
	Events     []Event
}

// A Desk is where somebody works a problem of a set: the set, the file that they work, with which seed, and what they did.
type Desk struct {
	Set     *ProblemSet
	File    []byte
	Asked   problemset.Settings // by which the problem is asked: those of when they began
	Version int
	Seed    uint64
	Attempt *SetAttempt // nil before they begin
}

// Desk returns where somebody works a problem of a set; an instructor of the class looks at it as any person, a student at their
// own.
func (s *Store) Desk(ctx context.Context, who access.Person, setProblem, person uuid.UUID) (d *Desk, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if d, err = deskOf(ctx, conn, who, setProblem, person); err != nil {
			return err
		}
		var text string
		var settings []byte
		if err := conn.QueryRow(ctx, "select file, settings from set_problem_file where set_problem = $1 and version = $2", setProblem,
			d.Version).Scan(&text, &settings); err != nil {
			return err
		}
		d.File = []byte(text)
		return json.Unmarshal(settings, &d.Asked)
	})
	return d, readError("problem", err)
}

// deskOf is Desk without the file.
func deskOf(ctx context.Context, q querier, who access.Person, setProblem, person uuid.UUID) (*Desk, error) {
	d := &Desk{}
	var set uuid.UUID
	var draw int
	err := q.QueryRow(ctx, `select p.set, p.version, coalesce((select draw from set_draw where set = p.set and person = $2), 0)
		from set_problem p where p.id = $1`, setProblem, person).Scan(&set, &d.Version, &draw)
	if err != nil {
		return nil, err
	}
	if d.Set, err = setHead(ctx, q, who, set, access.Read); err != nil {
		return nil, err
	}
	if !access.May(who, access.Read, access.Thing{Kind: access.SetAttempt, Owner: person, In: d.Set.In}) {
		return nil, pgx.ErrNoRows
	}
	a := &SetAttempt{Person: person, SetProblem: setProblem}
	var seed int64
	err = q.QueryRow(ctx, `select a.id, a.set_version, a.seed, a.begun_at, a.updated_at,
		(select at from hand_in where set = $3 and person = $2) from attempt a where a.set_problem = $1 and
		a.person = $2`, setProblem, person, set).
		Scan(&a.ID, &a.Version, &seed, &a.BegunAt, &a.UpdatedAt, &a.HandedIn)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		d.Seed = problemset.Seed(set, person, draw)
	case err != nil:
		return nil, err
	default:
		a.Seed = uint64(seed)
		d.Attempt, d.Version, d.Seed = a, a.Version, a.Seed
		rows, _ := q.Query(ctx, "select kind, ask, text, verdict, slip, at from attempt_event where attempt = $1 order by seq", a.ID)
		if a.Events, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Event]); err != nil {
			return nil, err
		}
	}
	return d, nil
}

// ErrHandedIn refuses an answer after the set was handed in.
var ErrHandedIn = errors.New("this set is handed in")

// AddToSet adds an event to the student's attempt at a problem of a set, and notes where they stand then; the attempt begins
// with the version and the seed. after is how many events the student had seen: where there are others by now the error is a
// *StaleError.
func (s *Store) AddToSet(
	ctx context.Context, who access.Person, setProblem uuid.UUID, version int, seed uint64, after int, event Event,
	standing problemset.Standing,
) (a *SetAttempt, err error) {
	text, err := json.Marshal(standing)
	if err != nil {
		return nil, err
	}
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		// Two tabs of one student take turns.
		if _, err := tx.Exec(ctx, "select pg_advisory_xact_lock(hashtextextended($1::text || $2::text, 0))", who.ID, setProblem); err != nil {
			return err
		}
		d, err := deskOf(ctx, tx, who, setProblem, who.ID)
		if err != nil {
			return err
		}
		if d.Set.In != access.Student {
			return pgx.ErrNoRows
		}
		if a = d.Attempt; a == nil {
			a = &SetAttempt{ID: uuid.New(), Person: who.ID, SetProblem: setProblem, Version: version, Seed: seed}
			// What nobody has begun with goes when the set is changed, which waits for this.
			err := tx.QueryRow(ctx, `insert into attempt (id, person, set_problem, set_version, seed, problem_version, data_version)
				select $1, $2, id, version, $5, 0, 0 from set_problem where id = $3 and version = $4 for share returning begun_at`,
				a.ID, who.ID, setProblem, version, int64(seed)).Scan(&a.BegunAt)
			if errors.Is(err, pgx.ErrNoRows) {
				return &StaleError{What: "attempt", UpdatedAt: time.Now()}
			}
			if err != nil {
				return err
			}
		}
		switch {
		case a.HandedIn != nil:
			return ErrHandedIn
		case len(a.Events) != after || a.Version != version || a.Seed != seed:
			return &StaleError{What: "attempt", Current: int64(len(a.Events)), UpdatedAt: a.UpdatedAt}
		}
		err = tx.QueryRow(ctx, `insert into attempt_event (attempt, seq, kind, ask, text, verdict, slip) values ($1, $2, $3, $4, $5, $6, $7)
			returning at`, a.ID, after+1, event.Kind, event.Ask, event.Text, event.Verdict, event.Slip).Scan(&event.At)
		if err != nil {
			return err
		}
		a.Events = append(a.Events, event)
		err = tx.QueryRow(ctx, "update attempt set standing = $2, updated_at = now() where id = $1 returning updated_at", a.ID,
			text).Scan(&a.UpdatedAt)
		if err != nil {
			return err
		}
		return tell(ctx, tx, d.Set.ID)
	})
	if errors.Is(err, ErrHandedIn) {
		return nil, ErrHandedIn
	}
	return a, changeError("attempt", err)
}

// JudgeAgain puts the verdicts of another version of the problem in the place of an attempt's, by an instructor of its class.
// events are all that the student did; where there are others by now the error is a *StaleError. It is logged.
func (s *Store) JudgeAgain(ctx context.Context, who access.Person, attempt uuid.UUID, version int, events []Event,
	standing problemset.Standing,
) error {
	text, err := json.Marshal(standing)
	if err != nil {
		return err
	}
	return changeError("attempt", s.inTx(ctx, func(tx pgx.Tx) error {
		of, person, title, err := taughtAttempt(ctx, tx, who, attempt)
		if err != nil {
			return err
		}
		var now int
		if err := tx.QueryRow(ctx, "select count(*)::int from attempt_event where attempt = $1", attempt).Scan(&now); err != nil {
			return err
		}
		if now != len(events) {
			return &StaleError{What: "attempt", Current: int64(now), UpdatedAt: time.Now()}
		}
		for i, e := range events {
			if _, err := tx.Exec(ctx, "update attempt_event set verdict = $3, slip = $4 where attempt = $1 and seq = $2", attempt, i+1,
				e.Verdict, e.Slip); err != nil {
				return err
			}
		}
		if _, err := tx.Exec(ctx, "update attempt set set_version = $2, standing = $3, updated_at = now() where id = $1", attempt, version,
			text); err != nil {
			return err
		}
		if err := noteInClass(ctx, tx, who, of.Class, person, fmt.Sprintf("had “%s” of “%s” judged again, as it is handed out now", title,
			of.Settings.Title)); err != nil {
			return err
		}
		return tell(ctx, tx, of.ID)
	}))
}

// taughtAttempt locks an attempt at a set that the person teaches, and returns the set, whose it is and what its problem is called.
func taughtAttempt(ctx context.Context, tx pgx.Tx, who access.Person, attempt uuid.UUID) (of *ProblemSet, person uuid.UUID, title string,
	err error) {
	var set uuid.UUID
	err = tx.QueryRow(ctx, `select p.set, a.person, p.title from attempt a join set_problem p on p.id = a.set_problem where a.id = $1
		for update of a`, attempt).Scan(&set, &person, &title)
	if err == nil {
		of, err = setHead(ctx, tx, who, set, access.Change)
	}
	return of, person, title, err
}

// HandIn hands the student's work on a set in; TakeBack takes it back, until the set is due.
func (s *Store) HandIn(ctx context.Context, who access.Person, set uuid.UUID) error {
	return s.handIn(ctx, who, set, `insert into hand_in (set, person) values ($1, $2) on conflict do nothing`)
}

// ErrLate refuses to take back what was handed in once the set is due.
var ErrLate = errors.New("the set is due: what was handed in stays")

// TakeBack undoes HandIn.
func (s *Store) TakeBack(ctx context.Context, who access.Person, set uuid.UUID) error {
	return s.handIn(ctx, who, set, `delete from hand_in where set = $1 and person = $2`)
}

func (s *Store) handIn(ctx context.Context, who access.Person, id uuid.UUID, sql string) error {
	return changeError("set", s.inTx(ctx, func(tx pgx.Tx) error {
		set, err := setHead(ctx, tx, who, id, access.Read)
		if err != nil {
			return err
		}
		if set.In != access.Student {
			return pgx.ErrNoRows
		}
		if sql[0] == 'd' && set.Settings.IsLate(time.Now()) {
			return ErrLate
		}
		if _, err := tx.Exec(ctx, sql, id, who.ID); err != nil {
			return err
		}
		return tell(ctx, tx, id)
	}))
}

// Progress is how far somebody has come with a problem of a set.
type Progress struct {
	ID         uuid.UUID // of the attempt
	SetProblem uuid.UUID
	Version    int
	Standing   *problemset.Standing // nil before they begin
	UpdatedAt  time.Time
	Remarks    int // of the instructor, that have words
}

// MyProgress returns how far the student has come with the problems of a set, and when they handed it in.
func (s *Store) MyProgress(ctx context.Context, who access.Person, set uuid.UUID) (list []Progress, handedIn *time.Time, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := setHead(ctx, conn, who, set, access.Read); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, `select a.id, a.set_problem, a.set_version, a.standing, a.updated_at,
			(select count(*)::int from remark r where r.attempt = a.id and r.words <> '')
			from attempt a join set_problem p on p.id = a.set_problem where p.set = $1 and a.person = $2`, set, who.ID)
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (p Progress, err error) {
			var text []byte
			if err = row.Scan(&p.ID, &p.SetProblem, &p.Version, &text, &p.UpdatedAt, &p.Remarks); err == nil && text != nil {
				err = json.Unmarshal(text, &p.Standing)
			}
			return p, err
		})
		if err != nil {
			return err
		}
		return conn.QueryRow(ctx, "select (select at from hand_in where set = $1 and person = $2)", set, who.ID).Scan(&handedIn)
	})
	return list, handedIn, readError("set", err)
}

// A ClassAttempt is an attempt as the class page has it.
type ClassAttempt struct {
	ID         uuid.UUID
	Person     uuid.UUID
	SetProblem uuid.UUID
	Version    int
	Seed       uint64
	Standing   problemset.Standing
	UpdatedAt  time.Time
}

// ClassAttempts returns the attempts at a set that went on since a time, for its instructors: who is on the roster, or was.
func (s *Store) ClassAttempts(ctx context.Context, who access.Person, set uuid.UUID, since time.Time) (list []ClassAttempt, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := setHead(ctx, conn, who, set, access.Change); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, `select a.id, a.person, a.set_problem, a.set_version, a.seed, a.standing, a.updated_at
			from attempt a join set_problem p on p.id = a.set_problem where p.set = $1 and a.standing is not null and a.updated_at > $2
			order by a.updated_at`, set, since)
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (a ClassAttempt, err error) {
			var text []byte
			var seed int64
			if err = row.Scan(&a.ID, &a.Person, &a.SetProblem, &a.Version, &seed, &text, &a.UpdatedAt); err == nil {
				a.Seed = uint64(seed)
				err = json.Unmarshal(text, &a.Standing)
			}
			return a, err
		})
		return err
	})
	return list, readError("set", err)
}

// A HandedIn is when somebody handed a set in.
type HandedIn struct {
	Person uuid.UUID
	At     time.Time
}

// HandedIn lists who handed a set in, for its instructors.
func (s *Store) HandedIn(ctx context.Context, who access.Person, set uuid.UUID) (list []HandedIn, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := setHead(ctx, conn, who, set, access.Change); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, "select person, at from hand_in where set = $1", set)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[HandedIn])
		return err
	})
	return list, readError("set", err)
}

// Redraw gives a person other numbers in a set, by an instructor's word: what they had begun with the numbers before ends and
// goes.
func (s *Store) Redraw(ctx context.Context, who access.Person, set, person uuid.UUID) error {
	return changeError("set", s.inTx(ctx, func(tx pgx.Tx) error {
		of, err := setHead(ctx, tx, who, set, access.Change)
		if err != nil {
			return err
		}
		var is bool
		if err := tx.QueryRow(ctx, "select true from class_member where class = $1 and person = $2", of.Class, person).Scan(&is); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `insert into set_draw (set, person, draw) values ($1, $2, 1) on conflict (set, person) do update
			set draw = set_draw.draw + 1`, set, person)
		if err == nil {
			_, err = tx.Exec(ctx, `delete from attempt a using set_problem p where p.id = a.set_problem and p.set = $1 and a.person = $2`, set,
				person)
		}
		if err != nil {
			return err
		}
		return noteInClass(ctx, tx, who, of.Class, person, "drew other numbers in “"+of.Settings.Title+"”")
	}))
}

// Draws are how often other numbers were drawn in a set, by person, for its instructors.
func (s *Store) Draws(ctx context.Context, who access.Person, set uuid.UUID) (draws map[uuid.UUID]int, err error) {
	draws = map[uuid.UUID]int{}
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := setHead(ctx, conn, who, set, access.Change); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, "select person, draw from set_draw where set = $1", set)
		var person uuid.UUID
		var draw int
		_, err = pgx.ForEachRow(rows, []any{&person, &draw}, func() error { draws[person] = draw; return nil })
		return err
	})
	return draws, readError("set", err)
}

// A LoadedAttempt is an attempt that was made elsewhere, as those of the demo were.
type LoadedAttempt struct {
	Person, SetProblem uuid.UUID
	Seed               uint64
	Standing           problemset.Standing
	Events             []Event // with their times
}

// LoadAttempts adds attempts that were made elsewhere, at the files that are handed out.
func (s *Store) LoadAttempts(ctx context.Context, attempts []LoadedAttempt) error {
	return changeError("attempt", s.inTx(ctx, func(tx pgx.Tx) error {
		var rows, events [][]any
		for _, a := range attempts {
			standing, err := json.Marshal(a.Standing)
			if err != nil || len(a.Events) == 0 {
				return err
			}
			id := uuid.New()
			rows = append(rows, []any{id, a.Person, a.SetProblem, 1, int64(a.Seed), 0, 0, standing, a.Events[0].At, a.Events[len(a.Events)-1].At})
			for i, e := range a.Events {
				events = append(events, []any{id, i + 1, e.Kind, e.Ask, e.Text, e.Verdict, e.Slip, e.At})
			}
		}
		_, err := tx.CopyFrom(ctx, pgx.Identifier{"attempt"}, []string{
			"id", "person", "set_problem", "set_version", "seed", "problem_version", "data_version", "standing", "begun_at", "updated_at",
		}, pgx.CopyFromRows(rows))
		if err != nil {
			return err
		}
		_, err = tx.CopyFrom(ctx, pgx.Identifier{"attempt_event"}, []string{
			"attempt", "seq", "kind", "ask", "text", "verdict", "slip", "at",
		}, pgx.CopyFromRows(events))
		return err
	}))
}
