package store

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
)

// A Class as a member of it sees it.
type Class struct {
	ID         uuid.UUID
	Name       string
	Code       string // with which students join
	Guests     bool   // whether somebody without a name may join
	FirstNames bool   // whether students see each other's first names
	Version    int64
	Archived   bool
	Students   int
	In         access.Standing // what the person is in it
}

const classColumns = `c.id, c.name, c.code, c.guests, c.first_names, c.version, c.archived_at is not null,
	(select count(*)::int from class_member s where s.class = c.id and s.role = 'student')`

// classOf returns a class as somebody sees it who may do that with it.
func classOf(ctx context.Context, q querier, who access.Person, id uuid.UUID, verb access.Verb) (*Class, error) {
	c := &Class{}
	err := q.QueryRow(ctx, "select "+classColumns+`, coalesce(m.role, '') from class c left join class_member m on m.class = c.id and
		m.person = $2 where c.id = $1`, id, who.ID).
		Scan(&c.ID, &c.Name, &c.Code, &c.Guests, &c.FirstNames, &c.Version, &c.Archived, &c.Students, &c.In)
	if err != nil {
		return nil, err
	}
	if !access.May(who, verb, access.Thing{Kind: access.Class, In: c.In}) {
		return nil, pgx.ErrNoRows
	}
	return c, nil
}

// newCode is a code to join by that is read out and typed: 8 of the 32 letters and digits that are not mixed up, 40 bits.
func newCode() string { return rand.Text()[:8] }

// CreateClass makes a class of which the person is an instructor, who is called so in it.
func (s *Store) CreateClass(ctx context.Context, who access.Person, name, called string) (c *Class, err error) {
	if !access.May(who, access.Make, access.Thing{Kind: access.Class}) {
		return nil, ErrNotFound
	}
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		id := uuid.New()
		if _, err := tx.Exec(ctx, "insert into class (id, name, code) values ($1, $2, $3)", id, name, newCode()); err != nil {
			return err
		}
		if err := insertMember(ctx, tx, id, who.ID, access.Teacher, called, "made"); err != nil {
			return err
		}
		c, err = classOf(ctx, tx, who, id, access.Change)
		return err
	})
	return c, changeError("class", err)
}

func insertMember(ctx context.Context, tx pgx.Tx, class, person uuid.UUID, role access.Standing, name, came string) error {
	_, err := tx.Exec(ctx, `insert into class_member (class, person, role, name, came) values ($1, $2, $3, $4, $5)
		on conflict (class, person) do nothing`, class, person, role, name, came)
	return err
}

// Classes lists those that the person is in, by name, those in use first.
func (s *Store) Classes(ctx context.Context, who access.Person) (list []Class, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, "select "+classColumns+`, m.role from class c join class_member m on m.class = c.id
			where m.person = $1 order by c.archived_at is not null, lower(c.name), c.id limit 500`, who.ID)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Class])
		return err
	})
	if err != nil {
		return nil, fmt.Errorf("listing classes: %w", err)
	}
	return list, nil
}

// Class returns a class.
func (s *Store) Class(ctx context.Context, who access.Person, id uuid.UUID) (c *Class, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		c, err = classOf(ctx, conn, who, id, access.Read)
		return err
	})
	return c, readError("class", err)
}

// ClassChange is what is said of a class by its instructors.
type ClassChange struct {
	Name               string
	Guests, FirstNames bool
	Archived           bool
	NewCode            bool // the code before is good no more
}

// changeClass runs f on a class that the person may change, which is locked.
func (s *Store) changeClass(ctx context.Context, who access.Person, id uuid.UUID, f func(tx pgx.Tx, c *Class) error) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select from class where id = $1 for update", id); err != nil {
			return err
		}
		c, err := classOf(ctx, tx, who, id, access.Change)
		if err != nil {
			return err
		}
		return f(tx, c)
	})
	return changeError("class", err)
}

// UpdateClass changes a class that is still at the version; otherwise the error is a *StaleError.
func (s *Store) UpdateClass(ctx context.Context, who access.Person, id uuid.UUID, version int64, change ClassChange) (c *Class, err error) {
	err = s.changeClass(ctx, who, id, func(tx pgx.Tx, now *Class) error {
		if now.Version != version {
			return &StaleError{What: "class", Current: now.Version, UpdatedAt: time.Now()}
		}
		code := now.Code
		if change.NewCode {
			code = newCode()
		}
		_, err := tx.Exec(ctx, `update class set name = $2, guests = $3, first_names = $4, code = $5, version = version + 1,
			updated_at = now(), archived_at = case when $6 then coalesce(archived_at, now()) end where id = $1`,
			id, change.Name, change.Guests, change.FirstNames, code, change.Archived)
		if err != nil {
			return err
		}
		c, err = classOf(ctx, tx, who, id, access.Read)
		return err
	})
	return c, err
}

// ErrNoGuests refuses somebody without a name in a class that wants one.
var ErrNoGuests = errors.New("this class is for those who have a name")

// JoinClass makes the person a student of the class that has a code, called so on its roster. A code that leads to no class that
// is in use is ErrNotFound.
func (s *Store) JoinClass(ctx context.Context, who access.Person, code, called string) (c *Class, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		var id uuid.UUID
		var guests bool
		err := tx.QueryRow(ctx, "select id, guests from class where code = upper($1) and archived_at is null for share", code).Scan(&id, &guests)
		if err != nil {
			return err
		}
		if !guests && who.Role == access.Guest {
			return ErrNoGuests
		}
		var students int
		if err := tx.QueryRow(ctx, "select count(*) from class_member where class = $1", id).Scan(&students); err != nil {
			return err
		}
		if students >= MaxStudents {
			return ErrClassFull
		}
		if err := insertMember(ctx, tx, id, who.ID, access.Student, called, "code"); err != nil {
			return err
		}
		c, err = classOf(ctx, tx, who, id, access.Read)
		return err
	})
	return c, changeError("class", err)
}

// MaxStudents is how many a class may have.
const MaxStudents = 2000

// ErrClassFull refuses more.
var ErrClassFull = errors.New("this class is full")

// LeaveClass takes the person out of a class; the last instructor stays. Their attempts stay theirs.
func (s *Store) LeaveClass(ctx context.Context, who access.Person, id uuid.UUID) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select from class where id = $1 for update", id); err != nil {
			return err
		}
		c, err := classOf(ctx, tx, who, id, access.Read)
		if err != nil {
			return err
		}
		return removeMember(ctx, tx, c, who.ID)
	})
	return changeError("class", err)
}

func removeMember(ctx context.Context, tx pgx.Tx, c *Class, person uuid.UUID) error {
	var role access.Standing
	var teachers int
	err := tx.QueryRow(ctx, `select role, (select count(*) from class_member where class = $1 and role = 'instructor') from class_member
		where class = $1 and person = $2`, c.ID, person).Scan(&role, &teachers)
	if err != nil {
		return err
	}
	if role == access.Teacher && teachers == 1 {
		return ErrLast
	}
	_, err = tx.Exec(ctx, "delete from class_member where class = $1 and person = $2", c.ID, person)
	return err
}

// A Member of a class as an instructor sees them.
type Member struct {
	Person   uuid.UUID
	Name     string
	UserName string // "" of a guest
	In       access.Standing
	Came     string // how: made, code, roster or account, which the roster made
	Demo     bool
	SeenAt   time.Time
}

// Roster lists the members of a class, students by name, for its instructors.
func (s *Store) Roster(ctx context.Context, who access.Person, class uuid.UUID) (list []Member, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := classOf(ctx, conn, who, class, access.Change); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, `select m.person, m.name, coalesce(p.user_name, ''), m.role, m.came, p.demo, p.seen_at from class_member m
			join person p on p.id = m.person where m.class = $1 order by m.role = 'student', lower(m.name), m.person`, class)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Member])
		return err
	})
	return list, readError("class", err)
}

// FirstNames lists the first names of a class's students, where the class shows them or the person teaches it.
func (s *Store) FirstNames(ctx context.Context, who access.Person, class uuid.UUID) (names []string, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		c, err := classOf(ctx, conn, who, class, access.Read)
		if err != nil || !c.FirstNames && c.In != access.Teacher {
			return err
		}
		rows, _ := conn.Query(ctx, `select split_part(name, ' ', 1) from class_member where class = $1 and role = 'student' order by 1`, class)
		names, err = pgx.CollectRows(rows, pgx.RowTo[string])
		return err
	})
	return names, readError("class", err)
}

// A Newcomer is somebody whom an instructor puts on the roster.
type Newcomer struct {
	Name, UserName string
	Teaches        bool
}

// A Welcome is what became of a newcomer: the token of a one-time link to set a password, where an account was made.
type Welcome struct {
	Newcomer
	Token string
}

// AddToRoster puts newcomers on the roster, all or none: an account is made where nobody signs in under the name.
func (s *Store) AddToRoster(ctx context.Context, who access.Person, class uuid.UUID, newcomers []Newcomer) (welcomes []Welcome, err error) {
	err = s.changeClass(ctx, who, class, func(tx pgx.Tx, c *Class) error {
		if c.Students+len(newcomers) > MaxStudents {
			return ErrClassFull
		}
		for _, n := range newcomers {
			w := Welcome{Newcomer: n}
			role, came := access.Student, "roster"
			if n.Teaches {
				role = access.Teacher
			}
			var id uuid.UUID
			err := tx.QueryRow(ctx, "select id from person where lower(user_name) = lower($1)", n.UserName).Scan(&id)
			if errors.Is(err, pgx.ErrNoRows) {
				id, came = uuid.New(), "account"
				if _, err = tx.Exec(ctx, "insert into person (id, name, role, user_name) values ($1, $2, 'member', $3)", id, n.Name,
					n.UserName); err == nil {
					w.Token, err = insertLink(ctx, tx, id)
				}
			}
			if err != nil {
				return err
			}
			if err := insertMember(ctx, tx, class, id, role, n.Name, came); err != nil {
				return err
			}
			if err := noteInClass(ctx, tx, who, class, id, "put on the roster"); err != nil {
				return err
			}
			welcomes = append(welcomes, w)
		}
		return nil
	})
	if refused, is := errors.AsType[*pgconn.PgError](err); is && refused.Code == "23505" { // unique_violation: made elsewhere meanwhile
		return nil, ErrTaken
	}
	return welcomes, err
}

// noteInClass logs what somebody did in a class that concerns another.
func noteInClass(ctx context.Context, tx pgx.Tx, who access.Person, class, about uuid.UUID, what string) error {
	_, err := tx.Exec(ctx, "insert into deed (person, about, what, class) values ($1, $2, $3, $4)", who.ID, about, what, class)
	return err
}

// RemoveFromRoster takes somebody out of a class; their attempts stay theirs.
func (s *Store) RemoveFromRoster(ctx context.Context, who access.Person, class, person uuid.UUID) error {
	return s.changeClass(ctx, who, class, func(tx pgx.Tx, c *Class) error {
		if err := removeMember(ctx, tx, c, person); err != nil {
			return err
		}
		return noteInClass(ctx, tx, who, class, person, "taken off the roster")
	})
}

// RosterLink returns the token of a one-time link with which a student sets a new password. An account that was there before the
// roster named it is not the class's to open: its person must have joined by the code.
func (s *Store) RosterLink(ctx context.Context, who access.Person, class, person uuid.UUID) (token string, err error) {
	err = s.changeClass(ctx, who, class, func(tx pgx.Tx, _ *Class) error {
		err := tx.QueryRow(ctx, `select p.id from person p join class_member m on m.person = p.id where m.class = $1 and p.id = $2 and
			m.role = 'student' and m.came in ('code', 'account') and p.role = 'member' and p.user_name is not null and not p.demo for update of p`,
			class, person).Scan(&person)
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "delete from one_time_link where person = $1", person); err != nil {
			return err
		}
		if token, err = insertLink(ctx, tx, person); err != nil {
			return err
		}
		return noteInClass(ctx, tx, who, class, person, "made a link to set a password")
	})
	return token, err
}

// A Deed is what somebody did in a class that concerns another's work.
type Deed struct {
	By, About, What string // names and words
	At              time.Time
}

// Deeds lists what was done in a class, the last first, for its instructors.
func (s *Store) Deeds(ctx context.Context, who access.Person, class uuid.UUID) (list []Deed, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		if _, err := classOf(ctx, conn, who, class, access.Change); err != nil {
			return err
		}
		rows, _ := conn.Query(ctx, `select coalesce(b.name, ''), coalesce(m.name, a.name, ''), d.what, d.at from deed d
			left join person b on b.id = d.person left join person a on a.id = d.about
			left join class_member m on m.class = d.class and m.person = d.about
			where d.class = $1 order by d.at desc, d.id desc limit $2`, class, PageRows)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Deed])
		return err
	})
	return list, readError("class", err)
}
