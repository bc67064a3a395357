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

// A Poll is one ask of a problem that a class is asked while it is on the screen.
type Poll struct {
	ID       uuid.UUID
	Class    uuid.UUID
	Title    string // of the problem
	File     []byte // of the problem
	Ask      []byte // what is asked, as JSON
	OpenedAt time.Time
	Closed   bool
	Revealed bool
	Answers  int
	Mine     string // the person's own answer, "" where there is none
	Verdict  string // on it
	Slip     string
	In       access.Standing
}

const pollColumns = `p.id, p.class, p.title, p.file, p.ask, p.opened_at, p.closed_at is not null, p.revealed_at is not null,
	(select count(*)::int from poll_answer a where a.poll = p.id), coalesce(o.text, ''), coalesce(o.verdict, ''), coalesce(o.slip, ''),
	coalesce(m.role, '')`

const pollTables = ` from poll p left join class_member m on m.class = p.class and m.person = $2
	left join poll_answer o on o.poll = p.id and o.person = $2`

func scanPoll(row pgx.Row) (*Poll, error) {
	p := &Poll{}
	var file string
	err := row.Scan(&p.ID, &p.Class, &p.Title, &file, &p.Ask, &p.OpenedAt, &p.Closed, &p.Revealed, &p.Answers, &p.Mine, &p.Verdict,
		&p.Slip, &p.In)
	p.File = []byte(file)
	return p, err
}

func pollOf(ctx context.Context, q querier, who access.Person, id uuid.UUID, verb access.Verb) (*Poll, error) {
	p, err := scanPoll(q.QueryRow(ctx, "select "+pollColumns+pollTables+" where p.id = $1", id, who.ID))
	if err != nil {
		return nil, err
	}
	if !access.May(who, verb, access.Thing{Kind: access.ProblemSet, In: p.In}) {
		return nil, pgx.ErrNoRows
	}
	return p, nil
}

// OpenPoll asks a class something, by an instructor; what it was asked before is closed.
func (s *Store) OpenPoll(ctx context.Context, who access.Person, class uuid.UUID, title string, file, ask []byte) (p *Poll, err error) {
	err = s.changeClass(ctx, who, class, func(tx pgx.Tx, _ *Class) error {
		if _, err := tx.Exec(ctx, "update poll set closed_at = now() where class = $1 and closed_at is null", class); err != nil {
			return err
		}
		id := uuid.New()
		_, err := tx.Exec(ctx, "insert into poll (id, class, title, file, ask) values ($1, $2, $3, $4, $5)", id, class, title, string(file), ask)
		if err != nil {
			return err
		}
		if p, err = pollOf(ctx, tx, who, id, access.Change); err != nil {
			return err
		}
		return tell(ctx, tx, class)
	})
	return p, err
}

// Poll returns what a class is asked.
func (s *Store) Poll(ctx context.Context, who access.Person, id uuid.UUID) (p *Poll, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		p, err = pollOf(ctx, conn, who, id, access.Read)
		return err
	})
	return p, readError("question", err)
}

// pollLasts is how long what a class was asked last is shown to its students.
const pollLasts = 3 * time.Hour

// LastPoll returns what a class is asked now, or was last, nil where that is long ago.
func (s *Store) LastPoll(ctx context.Context, who access.Person, class uuid.UUID) (p *Poll, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := classOf(ctx, conn, who, class, access.Read); err != nil {
			return err
		}
		p, err = scanPoll(conn.QueryRow(ctx, "select "+pollColumns+pollTables+` where p.class = $1 and p.opened_at > now() - $3::interval
			order by p.opened_at desc limit 1`, class, who.ID, pollLasts))
		if errors.Is(err, pgx.ErrNoRows) {
			p = nil
			return nil
		}
		return err
	})
	return p, readError("class", err)
}

// Polls lists what a class was asked, the last first, for its instructors.
func (s *Store) Polls(ctx context.Context, who access.Person, class uuid.UUID) (list []Poll, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := classOf(ctx, conn, who, class, access.Change); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, "select "+pollColumns+pollTables+" where p.class = $1 order by p.opened_at desc limit $3", class, who.ID,
			PageRows)
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Poll, error) {
			p, err := scanPoll(row)
			return *p, err
		})
		return err
	})
	return list, readError("class", err)
}

// ClosePoll lets nobody answer any more, or again; reveal tells the students what is right.
func (s *Store) ClosePoll(ctx context.Context, who access.Person, id uuid.UUID, closed, revealed bool) (p *Poll, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		now, err := pollOf(ctx, tx, who, id, access.Change)
		if err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update poll set closed_at = case when $2 then coalesce(closed_at, now()) end,
			revealed_at = case when $3 then coalesce(revealed_at, now()) end where id = $1`, id, closed || revealed, revealed)
		if err != nil {
			return err
		}
		if p, err = pollOf(ctx, tx, who, id, access.Change); err != nil {
			return err
		}
		if err := tell(ctx, tx, now.Class); err != nil {
			return err
		}
		return tell(ctx, tx, id)
	})
	return p, changeError("question", err)
}

// ErrClosed refuses an answer to what is asked no more.
var ErrClosed = errors.New("nobody answers this any more")

// AnswerPoll gives a student's answer, in place of the one before.
func (s *Store) AnswerPoll(ctx context.Context, who access.Person, id uuid.UUID, text, verdict, slip string) error {
	return changeError("question", s.inTx(ctx, func(tx pgx.Tx) error {
		p, err := pollOf(ctx, tx, who, id, access.Read)
		switch {
		case err != nil:
			return err
		case p.In != access.Student:
			return pgx.ErrNoRows
		case p.Closed:
			return ErrClosed
		}
		_, err = tx.Exec(ctx, `insert into poll_answer (poll, person, text, verdict, slip) values ($1, $2, $3, $4, $5)
			on conflict (poll, person) do update set text = $3, verdict = $4, slip = $5, at = now()`, id, who.ID, text, verdict, slip)
		if err != nil {
			return err
		}
		return tell(ctx, tx, id)
	}))
}

// A PollAnswer is what some gave: how many, not who.
type PollAnswer struct {
	Text, Verdict, Slip string
	Count               int
}

// PollAnswers counts the answers that are alike: for instructors, and for students once it is revealed.
func (s *Store) PollAnswers(ctx context.Context, who access.Person, id uuid.UUID) (list []PollAnswer, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		p, err := pollOf(ctx, conn, who, id, access.Read)
		if err != nil || p.In != access.Teacher && !p.Revealed {
			return err
		}
		rows, _ := conn.Query(ctx, `select text, verdict, slip, count(*)::int from poll_answer where poll = $1
			group by text, verdict, slip order by 4 desc, 1 limit 1000`, id)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[PollAnswer])
		return err
	})
	return list, readError("question", err)
}
