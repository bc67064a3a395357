package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
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
	Version int
	Seed    uint64
	Attempt *SetAttempt // nil before they begin
}

// Desk returns where somebody works a problem of a set; an instructor of the class looks at it as any person, a student at their
// own.
func (s *Store) Desk(ctx context.Context, who access.Person, setProblem, person uuid.UUID) (d *Desk, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		d, err = deskOf(ctx, conn, who, setProblem, person)
		return err
	})
	return d, readError("problem", err)
}

func deskOf(ctx context.Context, q querier, who access.Person, setProblem, person uuid.UUID) (*Desk, error) {
	d := &Desk{}
	var set uuid.UUID
	var draw int
	err := q.QueryRow(ctx, `select p.set, p.version, coalesce((select draw from set_draw where set = p.set and person = $2), 0)
		from set_problem p where p.id = $1`, setProblem, person).Scan(&set, &d.Version, &draw)
	if err != nil {
		return nil, err
	}
	if d.Set, err = setOf(ctx, q, who, set, access.Read); err != nil {
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
		rows, err := q.Query(ctx, "select kind, ask, text, verdict, slip, at from attempt_event where attempt = $1 order by seq", a.ID)
		if err != nil {
			return nil, err
		}
		if a.Events, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Event]); err != nil {
			return nil, err
		}
	}
	var text string
	err = q.QueryRow(ctx, "select file from set_problem_file where set_problem = $1 and version = $2", setProblem, d.Version).Scan(&text)
	d.File = []byte(text)
	return d, err
}

// ErrHandedIn refuses an answer after the set was handed in.
var ErrHandedIn = errors.New("this set is handed in")

// ClassChannel is on which it is told that an attempt went on: the set and the attempt, with a space between.
const ClassChannel = "grund_class"

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
			err := tx.QueryRow(ctx, `insert into attempt (id, person, set_problem, set_version, seed, problem_version, data_version)
				values ($1, $2, $3, $4, $5, 0, 0) returning begun_at`, a.ID, who.ID, setProblem, version, int64(seed)).Scan(&a.BegunAt)
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
		_, err = tx.Exec(ctx, "select pg_notify($1, $2)", ClassChannel, d.Set.ID.String()+" "+a.ID.String())
		return err
	})
	if errors.Is(err, ErrHandedIn) {
		return nil, ErrHandedIn
	}
	return a, changeError("attempt", err)
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
		set, err := setOf(ctx, tx, who, id, access.Read)
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
		_, err = tx.Exec(ctx, "select pg_notify($1, $2)", ClassChannel, id.String()+" "+uuid.Nil.String())
		return err
	}))
}

// Progress is how far somebody has come with a problem of a set.
type Progress struct {
	SetProblem uuid.UUID
	Version    int
	Standing   *problemset.Standing // nil before they begin
	UpdatedAt  time.Time
	Remarks    int // of the instructor, that have words
}

// MyProgress returns how far the student has come with the problems of a set, and when they handed it in.
func (s *Store) MyProgress(ctx context.Context, who access.Person, set uuid.UUID) (list []Progress, handedIn *time.Time, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := setOf(ctx, conn, who, set, access.Read); err != nil {
			return err
		}
		rows, err := conn.Query(ctx, `select a.set_problem, a.set_version, a.standing, a.updated_at,
			(select count(*)::int from remark r where r.attempt = a.id and r.words <> '')
			from attempt a join set_problem p on p.id = a.set_problem where p.set = $1 and a.person = $2`, set, who.ID)
		if err != nil {
			return err
		}
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (p Progress, err error) {
			var text []byte
			if err = row.Scan(&p.SetProblem, &p.Version, &text, &p.UpdatedAt, &p.Remarks); err == nil && text != nil {
				err = json.Unmarshal(text, &p.Standing)
			}
			return p, err
		})
		if err != nil {
			return err
		}
		err = conn.QueryRow(ctx, "select at from hand_in where set = $1 and person = $2", set, who.ID).Scan(&handedIn)
		if errors.Is(err, pgx.ErrNoRows) {
			return nil
		}
		return err
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
		if _, err := setOf(ctx, conn, who, set, access.Change); err != nil {
			return err
		}
		rows, err := conn.Query(ctx, `select a.id, a.person, a.set_problem, a.set_version, a.seed, a.standing, a.updated_at
			from attempt a join set_problem p on p.id = a.set_problem where p.set = $1 and a.standing is not null and a.updated_at > $2
			order by a.updated_at`, set, since)
		if err != nil {
			return err
		}
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
		if _, err := setOf(ctx, conn, who, set, access.Change); err != nil {
			return err
		}
		rows, err := conn.Query(ctx, "select person, at from hand_in where set = $1", set)
		if err != nil {
			return err
		}
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[HandedIn])
		return err
	})
	return list, readError("set", err)
}

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
		of, err := setOf(ctx, conn, who, set, access.Read)
		if err != nil {
			return err
		}
		rows, err := conn.Query(ctx, `select r.attempt, r.ask, r.words, r.points, r.at from remark r join attempt a on a.id = r.attempt
			join set_problem p on p.id = a.set_problem where p.set = $1 and ($3 or a.person = $2) order by r.at`,
			set, who.ID, of.In == access.Teacher)
		if err != nil {
			return err
		}
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Remark])
		return err
	})
	return list, readError("set", err)
}

// SetRemark says something at an ask of an attempt, by an instructor of its class; nothing where there are neither words nor
// points. It is logged.
func (s *Store) SetRemark(ctx context.Context, who access.Person, attempt uuid.UUID, ask, words string, points *float64) error {
	return changeError("attempt", s.inTx(ctx, func(tx pgx.Tx) error {
		var set, person uuid.UUID
		var before Remark
		err := tx.QueryRow(ctx,
			`select p.set, a.person from attempt a join set_problem p on p.id = a.set_problem where a.id = $1 for update of a`,
			attempt).Scan(&set, &person)
		if err != nil {
			return err
		}
		of, err := setOf(ctx, tx, who, set, access.Change)
		if err != nil {
			return err
		}
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
		_, err = tx.Exec(ctx, "select pg_notify($1, $2)", ClassChannel, set.String()+" "+attempt.String())
		return err
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

// Redraw gives a person other numbers in a set, by an instructor's word: what they had begun with the numbers before ends and
// goes.
func (s *Store) Redraw(ctx context.Context, who access.Person, set, person uuid.UUID) error {
	return changeError("set", s.inTx(ctx, func(tx pgx.Tx) error {
		of, err := setOf(ctx, tx, who, set, access.Change)
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
		if _, err := setOf(ctx, conn, who, set, access.Change); err != nil {
			return err
		}
		rows, err := conn.Query(ctx, "select person, draw from set_draw where set = $1", set)
		if err != nil {
			return err
		}
		var person uuid.UUID
		var draw int
		_, err = pgx.ForEachRow(rows, []any{&person, &draw}, func() error {
			draws[person] = draw
			return nil
		})
		return err
	})
	return draws, readError("set", err)
}

// Listen calls told with each set whose attempts go on, until the context is done or the connection breaks, and begun once it
// listens. It holds a connection of its own.
func (s *Store) Listen(ctx context.Context, begun func(), told func(set uuid.UUID)) error {
	conn, err := pgx.ConnectConfig(ctx, s.pool.Config().ConnConfig)
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, "listen "+ClassChannel); err != nil {
		return err
	}
	begun()
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		text, _, _ := strings.Cut(n.Payload, " ")
		if set, err := uuid.Parse(text); err == nil {
			told(set)
		}
	}
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
