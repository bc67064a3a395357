package store

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
	"grund/internal/problemset"
)

// A ProblemSet as it is kept: what is handed out to a class.
type ProblemSet struct {
	ID        uuid.UUID
	Class     uuid.UUID
	ClassName string
	Version   int64
	UpdatedAt time.Time
	Settings  problemset.Settings
	Released  bool // whether the solution may be read by the instructor's word
	Problems  []SetProblem
	Attempts  int             // that were begun
	Earlier   int             // of these, with an earlier version of a problem than the one that is handed out
	In        access.Standing // what the person is in the class
}

// A SetProblem is a problem of a set.
type SetProblem struct {
	ID      uuid.UUID         `json:"id"`
	Version int               `json:"version"` // of its file
	Title   string            `json:"title"`
	Points  problemset.Points `json:"points"`
}

// setColumns count attempts for instructors only: whoever answers need not wait for it.
const setColumns = `s.id, s.class, c.name, s.version, s.updated_at, s.settings, s.released,
	case when m.role = 'instructor' then
		(select count(*)::int from attempt a join set_problem p on p.id = a.set_problem where p.set = s.id) else 0 end,
	case when m.role = 'instructor' then
		(select count(*)::int from attempt a join set_problem p on p.id = a.set_problem where p.set = s.id and p.removed_at is null
			and a.set_version <> p.version) else 0 end, coalesce(m.role, '')`

func scanSet(row pgx.Row) (*ProblemSet, error) {
	s := &ProblemSet{}
	var settings []byte
	err := row.Scan(&s.ID, &s.Class, &s.ClassName, &s.Version, &s.UpdatedAt, &settings, &s.Released, &s.Attempts, &s.Earlier, &s.In)
	if err == nil {
		err = json.Unmarshal(settings, &s.Settings)
	}
	return s, err
}

// setHead returns a set without its problems, as somebody sees it who may do that with it. A student sees it once it opens.
func setHead(ctx context.Context, q querier, who access.Person, id uuid.UUID, verb access.Verb) (*ProblemSet, error) {
	s, err := scanSet(q.QueryRow(ctx, "select "+setColumns+` from problem_set s join class c on c.id = s.class
		left join class_member m on m.class = c.id and m.person = $2 where s.id = $1 and s.deleted_at is null`, id, who.ID))
	if err == nil && (!access.May(who, verb, access.Thing{Kind: access.ProblemSet, In: s.In}) ||
		s.In == access.Student && !s.Settings.IsOpen(time.Now())) {
		err = pgx.ErrNoRows
	}
	return s, err
}

// setOf returns a set with its problems.
func setOf(ctx context.Context, q querier, who access.Person, id uuid.UUID, verb access.Verb) (*ProblemSet, error) {
	s, err := setHead(ctx, q, who, id, verb)
	if err != nil {
		return nil, err
	}
	rows, _ := q.Query(ctx, "select id, version, title, points from set_problem where set = $1 and removed_at is null order by place", id)
	s.Problems, err = pgx.CollectRows(rows, pgx.RowToStructByPos[SetProblem])
	return s, err
}

// CreateSet makes a set of a class with problem files in their order.
func (s *Store) CreateSet(
	ctx context.Context, who access.Person, class uuid.UUID, settings problemset.Settings, files []SetFile,
) (set *ProblemSet, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		c, err := classOf(ctx, tx, who, class, access.Change)
		if err != nil {
			return err
		}
		text, err := json.Marshal(settings)
		if err != nil {
			return err
		}
		id := uuid.New()
		if _, err := tx.Exec(ctx, "insert into problem_set (id, class, settings) values ($1, $2, $3)", id, c.ID, text); err != nil {
			return err
		}
		for i, file := range files {
			if err := insertSetProblem(ctx, tx, id, i, text, file); err != nil {
				return err
			}
		}
		set, err = setOf(ctx, tx, who, id, access.Change)
		return err
	})
	return set, changeError("set", err)
}

// A SetFile is a problem file as it comes into a set.
type SetFile struct {
	Title  string
	File   []byte
	Points problemset.Points
}

// insertSetProblem adds a problem to a set, which is asked as the settings say.
func insertSetProblem(ctx context.Context, tx pgx.Tx, set uuid.UUID, place int, settings []byte, file SetFile) error {
	points, err := encodePoints(file.Points)
	if err != nil {
		return err
	}
	id := uuid.New()
	_, err = tx.Exec(ctx, "insert into set_problem (id, set, place, title, points) values ($1, $2, $3, $4, $5)", id, set, place,
		file.Title, points)
	if err == nil {
		_, err = tx.Exec(ctx, "insert into set_problem_file (set_problem, version, file, settings) values ($1, 1, $2, $3)", id,
			string(file.File), settings)
	}
	return err
}

func encodePoints(points problemset.Points) ([]byte, error) {
	if points == nil {
		points = problemset.Points{}
	}
	return json.Marshal(points)
}

// Set returns a set with its problems.
func (s *Store) Set(ctx context.Context, who access.Person, id uuid.UUID) (set *ProblemSet, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		set, err = setOf(ctx, conn, who, id, access.Read)
		return err
	})
	return set, readError("set", err)
}

// TaughtSet is Set for an instructor of its class.
func (s *Store) TaughtSet(ctx context.Context, who access.Person, id uuid.UUID) (set *ProblemSet, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		set, err = setOf(ctx, conn, who, id, access.Change)
		return err
	})
	return set, readError("set", err)
}

// Sets lists the sets of a class, or, where class is uuid.Nil, those of all classes in use that the person is in; those that are
// due soonest first. A student sees those that are open, without their problems.
func (s *Store) Sets(ctx context.Context, who access.Person, class uuid.UUID) (list []ProblemSet, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, "select "+setColumns+` from problem_set s join class c on c.id = s.class
			join class_member m on m.class = c.id and m.person = $1
			where s.deleted_at is null and (s.class = $2 or $2 = $3 and c.archived_at is null)
			order by (s.settings->>'due')::timestamptz nulls last, s.created_at, s.id limit 1000`, who.ID, class, uuid.Nil)
		all, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (ProblemSet, error) {
			set, err := scanSet(row)
			return *set, err
		})
		list = slices.DeleteFunc(all, func(set ProblemSet) bool { return set.In == access.Student && !set.Settings.IsOpen(time.Now()) })
		return err
	})
	if err != nil {
		return nil, fmt.Errorf("listing sets: %w", err)
	}
	return list, nil
}

// A SetChange is what an instructor makes of a set: its settings, and its problems in their order, those that are new with their
// files.
type SetChange struct {
	Settings problemset.Settings
	Released bool
	Problems []ProblemChange
}

// A ProblemChange is what becomes of a problem of a set. A file takes the place of the one before for those who have not begun.
type ProblemChange struct {
	ID uuid.UUID // uuid.Nil of a new one
	SetFile
}

// changeSet runs f on a set that the person may change, which is locked and still at the version.
func (s *Store) changeSet(
	ctx context.Context, who access.Person, id uuid.UUID, version int64, f func(tx pgx.Tx, set *ProblemSet) error,
) (set *ProblemSet, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select from problem_set where id = $1 for update", id); err != nil {
			return err
		}
		now, err := setOf(ctx, tx, who, id, access.Change)
		if err != nil {
			return err
		}
		if version != 0 && now.Version != version {
			return &StaleError{What: "set", Current: now.Version, UpdatedAt: now.UpdatedAt}
		}
		if err := f(tx, now); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "update problem_set set version = version + 1, updated_at = now() where id = $1", id); err != nil {
			return err
		}
		set, err = setOf(ctx, tx, who, id, access.Change)
		return err
	})
	return set, changeError("set", err)
}

// UpdateSet changes a set that is still at the version; otherwise the error is a *StaleError. Attempts that were begun stay what
// they are, also at a problem that is taken out.
func (s *Store) UpdateSet(ctx context.Context, who access.Person, id uuid.UUID, version int64, change SetChange) (*ProblemSet, error) {
	return s.changeSet(ctx, who, id, version, func(tx pgx.Tx, now *ProblemSet) error {
		text, err := json.Marshal(change.Settings)
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "update problem_set set settings = $2, released = $3 where id = $1", id, text, change.Released); err != nil {
			return err
		}
		kept := map[uuid.UUID]bool{}
		for i, p := range change.Problems {
			if p.ID == uuid.Nil {
				if err := insertSetProblem(ctx, tx, id, i, text, p.SetFile); err != nil {
					return err
				}
				continue
			}
			if kept[p.ID] || !slices.ContainsFunc(now.Problems, func(was SetProblem) bool { return was.ID == p.ID }) {
				return pgx.ErrNoRows
			}
			kept[p.ID] = true
			if err := updateSetProblem(ctx, tx, i, text, !now.Settings.AskAlike(&change.Settings), p); err != nil {
				return err
			}
		}
		for _, was := range now.Problems {
			if kept[was.ID] {
				continue
			}
			// One at which nobody has begun goes wholly.
			if _, err := tx.Exec(ctx, `update set_problem set removed_at = now() where id = $1`, was.ID); err != nil {
				return err
			}
			if _, err := tx.Exec(ctx, `delete from set_problem p where id = $1 and not exists (select from attempt where set_problem = p.id)`,
				was.ID); err != nil {
				return err
			}
		}
		return nil
	})
}

// updateSetProblem gives a problem of a set its place and its points. Another file, and with anew other settings by which it is asked,
// are for whoever begins after: what others have begun with stays, and what nobody has begun with goes.
func updateSetProblem(ctx context.Context, tx pgx.Tx, place int, settings []byte, anew bool, p ProblemChange) error {
	points, err := encodePoints(p.Points)
	if err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, "update set_problem set place = $2, points = $3 where id = $1", p.ID, place, points); err != nil {
		return err
	}
	switch {
	case p.File != nil:
		_, err = tx.Exec(ctx, `with next as (update set_problem set version = version + 1, title = $2 where id = $1 returning version)
			insert into set_problem_file (set_problem, version, file, settings) select $1, version, $3, $4 from next`, p.ID, p.Title,
			string(p.File), settings)
	case anew:
		_, err = tx.Exec(ctx, `with next as (update set_problem set version = version + 1 where id = $1 returning version)
			insert into set_problem_file (set_problem, version, file, settings) select $1, next.version, f.file, $2
			from next join set_problem_file f on f.set_problem = $1 and f.version = next.version - 1`, p.ID, settings)
	default:
		return nil
	}
	if err == nil {
		_, err = tx.Exec(ctx, `delete from set_problem_file f using set_problem p where p.id = $1 and f.set_problem = p.id
			and f.version < p.version and not exists (select from attempt where set_problem = p.id and set_version = f.version)`, p.ID)
	}
	return err
}

// DeleteSet takes a set out of sight; RestoreSet brings it back, with all attempts.
func (s *Store) DeleteSet(ctx context.Context, who access.Person, id uuid.UUID) error {
	return s.showSet(ctx, who, id, false)
}

// RestoreSet undoes DeleteSet.
func (s *Store) RestoreSet(ctx context.Context, who access.Person, id uuid.UUID) error {
	return s.showSet(ctx, who, id, true)
}

func (s *Store) showSet(ctx context.Context, who access.Person, id uuid.UUID, shown bool) error {
	return changeError("set", s.inTx(ctx, func(tx pgx.Tx) error {
		var class uuid.UUID
		var title string
		err := tx.QueryRow(ctx, `select class, settings->>'title' from problem_set where id = $1 and (deleted_at is null) <> $2 for update`,
			id, shown).Scan(&class, &title)
		if err != nil {
			return err
		}
		if _, err := classOf(ctx, tx, who, class, access.Change); err != nil {
			return err
		}
		what := "deleted the set"
		if shown {
			what = "brought back the set"
		}
		if err := noteInClass(ctx, tx, who, class, uuid.Nil, what+" “"+title+"”"); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, "update problem_set set deleted_at = case when $2 then null else now() end where id = $1", id, shown)
		return err
	}))
}

// HandedOut returns the file of a problem of a set that is handed out, its version and the settings by which it is asked, for its
// instructors and for students who may read the set.
func (s *Store) HandedOut(ctx context.Context, who access.Person, setProblem uuid.UUID) (
	file []byte, asked problemset.Settings, version int, err error,
) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		var set uuid.UUID
		var text string
		var settings []byte
		err := conn.QueryRow(ctx, `select p.set, p.version, f.file, f.settings from set_problem p join set_problem_file f on
			f.set_problem = p.id and f.version = p.version where p.id = $1`, setProblem).Scan(&set, &version, &text, &settings)
		if err != nil {
			return err
		}
		file = []byte(text)
		if err := json.Unmarshal(settings, &asked); err != nil {
			return err
		}
		_, err = setHead(ctx, conn, who, set, access.Read)
		return err
	})
	return file, asked, version, readError("set", err)
}
